"""Headings and lead-ins: rows that hold no record themselves and say something of those around them."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache, lru_cache

from homepath.core.page_reader.assembling import RawRecord
from homepath.core.page_reader.kinds import FQDN, field_roles, is_button, is_status, is_sure_host, type_of
from homepath.core.page_reader.moods import NOT_WANTED, Mood, events, mood_of_lead
from homepath.core.page_reader.pieces import OTHERS, mood_of_condition
from homepath.core.page_reader.prose.announced import name_told
from homepath.core.page_reader.prose.atoms import atoms_of
from homepath.core.page_reader.rows import Row
from homepath.core.page_reader.words import PARTICLES, UNSPACED, any_word, bare, fold, is_phrase, phrases_of, stems


@dataclass(frozen=True, slots=True)
class Lead:
    """What a row says of its neighbours. `firm`: it speaks of what follows, not in passing; `option`: it begins an
    alternative: its mark, `or` where it has none; `opens`: it ends with a colon, something else begins below."""

    types: tuple[str, ...] = ()
    hosts: tuple[str, ...] = ()
    mood: Mood = ""
    firm: bool = False
    servers: bool = False
    both: bool = False
    option: str = ""
    conditional: bool = False
    heading: bool = False
    opens: bool = False

    @property
    def says(self) -> bool:
        """It says something of records."""
        return bool(self.types or self.hosts or self.mood or self.servers or self.option)

    @property
    def speaks(self) -> bool:
        """It says something of records, or is a heading and ends what the one before said."""
        return self.says or self.heading


@cache
def _server_words() -> re.Pattern[str]:
    words = [word for word in phrases_of("NAMESERVER") if len(word) > 2]
    endings = "s|n|e|er|ów|y|ů|u|i|a|en|ne|na|ene|et|jen|ia|imiin|eket|ele|ere|lerini|leri"
    return any_word(words, f"(?:{endings})?")


def names_servers(text: str) -> bool:
    """Whether a text speaks of nameservers."""
    return bool(_server_words().search(bare(text)))


_OPTION = re.compile(
    r"^(?P<word>\D+?)\s*[#:]?\s*(?P<mark>[0-9]{1,2}|[A-Ha-h]|[IVX]{1,4}|[一二三甲乙ㄱㄴ①②③])(?=[\s:.)、：\-–—]|$)"
    r"|^(?P<before>[0-9]{1,2}|[A-H])[.)]?\s+(?P<behind>[^\W\d_]+)"
    r"|^(?P<joined>方案|方法|方式|选项|選項|オプション|옵션|방법)\s*(?P<at>[0-9A-Ha-h一二三①②③])"
)


@lru_cache(maxsize=8192)
def option_of(text: str) -> str:
    """The mark of an alternative that a heading begins: `Option A`, `方法 2`; `or` for a row that is only that word."""
    if bare(text).strip(" .:—–-_=*()[]、") in {word.rstrip(".") for word in phrases_of("OR")}:
        return "or"
    match = _OPTION.match(text.strip(" *#"))
    if match is None:
        return ""
    word = match["word"] or match["behind"] or match["joined"]
    mark = match["mark"] or match["before"] or match["at"]
    return mark.upper() if bare(word).strip() in phrases_of("OPTION") else ""


@lru_cache(maxsize=8192)
def is_alternative(text: str, conditional: bool) -> bool:
    """It begins with a word for `or`, or names a condition and an `instead`."""
    folded = fold(text)
    found = stems("OR").find(folded)
    if conditional and any(end - at > 4 for at, end in found):
        return True
    first = bare(text).split()[0].strip(",:")
    return bool(found) and found[0][0] == 0 and len(first) > 1 and first not in ("of", "ou", "si", "eve")


_IN_BRACKETS = re.compile(rf"(.{{1,40}}?)\s*[(（]({FQDN})[)）]:?")
"""`Root domain (quillfern.example)`"""


def _is_name(words: str) -> bool:
    return is_phrase("APEX", words) or is_sure_host(words) or "host" in field_roles(words)


def lead_of(row: Row, over: bool = False) -> Lead | None:
    """What a row says of its neighbours; None where it holds a value, a button, or nothing. `over`: a record is
    right below it."""
    text = row.text
    heading = row.kind == "heading" or text.endswith((":", "："))
    if not text or len(text) > 400 or (not heading and (is_button(text) or is_status(text))):
        return None
    if text.startswith("$ ") and not heading:
        return Lead(mood="current", firm=True)  # a command at a prompt: what it says is what is there now
    atoms, words = atoms_of(text), text.split()
    kinds = {atom.kind for atom in atoms}
    if kinds & {"address", "special", "text", "part"} or {"token", "type"} <= kinds:
        return None
    if "fqdn" in kinds and len(words) == 1:
        return Lead((), (atoms[0].value,), firm=True)
    if (again := _IN_BRACKETS.fullmatch(text)) and _is_name(again[1]):
        return Lead((), (again[2],), firm=True)
    if "fqdn" in kinds and not text.endswith(":"):
        return None
    types = tuple(dict.fromkeys(atom.value for atom in atoms if atom.kind == "type"))
    whole = type_of(text.rstrip(" :"))
    types = (whole,) if whole and whole not in types else types
    hosts = tuple(dict.fromkeys(atom.value for atom in atoms if atom.kind in ("host", "apex")))
    hosts = hosts or (("@",) if text.endswith(":") and is_phrase("APEX", text) else ())
    servers = names_servers(text)
    hosts = hosts or tuple(atom.value for atom in atoms if atom.kind == "fqdn" and not servers)
    if not hosts and (over or heading or types) and (name := name_told(text)):
        hosts = (name,)
    conditional = bool(stems("IF").find(fold(text)))
    option = option_of(text) or ("or" if is_alternative(text, conditional) else "")
    mood = mood_of_lead(text)
    own_condition = conditional and mood in ("", "want") and is_own_condition(text)
    mood = "optional" if own_condition else mood
    if mood == "want" and hosts and not types and any(atom.kind == "field" and atom.value == "host" for atom in atoms):
        mood = ""  # `Leave the host field empty, or enter @` is about the record above
    most = 16 if types and hosts else 10 if types and mood == "want" else 7
    short = text[-1] not in ".。!?！？" and len(words) <= most and len(text) <= 100
    if short and mood in NOT_WANTED and not heading and not about_records(text):
        state = over and mood == "current" and ":" not in text
        short, mood = state, "unsure" if state else ""
    following = bool(stems("FOLLOWING").find(fold(text)))
    if mood == "current" and following and not heading and _in_passing(text):
        mood = ""
    found = events(text)
    # `Leave them as they are.`, not `They are not changed.`
    orders = any(len(re.split(r"[.!?:]\s", fold(text)[: event.at])[-1]) <= 12 for event in found)
    others = not heading and bool(OTHERS.search(bare(text)))  # `Leave all other records as they are.`
    them = over and mood == "keep" and not (conditional or others) and orders and _has_word(text, "THEM")
    adds = over and mood == "want" and len(words) <= 5 and any(event.kind == "ADD" for event in found)
    firm = heading or following or short or them or adds or (over and own_condition)
    return Lead(
        types, hosts, mood, firm, servers, _has_word(text, "BOTH"), option,
        conditional, row.kind == "heading", text.endswith((":", "：")),
    )  # fmt: skip


def _in_passing(text: str) -> bool:
    """`Can you do this today? See below.`: the word for the present is not about a record."""
    sentences = re.split(r"(?<=[.!?。！？])\s+", text)
    return not any(events(each) and (about_records(each) or stems("FOLLOWING").find(fold(each))) for each in sentences)


@lru_cache(maxsize=8192)
def own_words(text: str) -> str:
    """The words of a heading by which it differs from others of its kind: `Record 2 (CNAME)` is like `Record 1 (A)`."""
    names = {word for atom in atoms_of(text) for word in re.findall(r"\w+", bare(text[atom.at : atom.end]))}
    words = [word for word in re.findall(r"[^\W\d_]{2,}", bare(text)) if word not in names | phrases_of("COUNTING")]
    return " ".join(words)


def settled(records: Sequence[RawRecord]) -> list[RawRecord]:
    """The records; those are doubted that a heading of unknown meaning is over, where another heading has other
    addresses for a name: one of them may list what is there now."""
    places: dict[str | None, list[RawRecord]] = {}
    for each in records:
        places.setdefault(each.type, []).append(each)
    records = [replace(each, mood=_changed(each, places)) if each.mood == "change" else each for each in records]
    headings: dict[tuple[str | None, str | None, str], set[str]] = {}
    open_ones = [each for each in records if each.type in ("A", "AAAA") and each.mood not in NOT_WANTED]
    for each in open_ones:
        headings.setdefault((each.type, each.host, each.option), set()).add(each.heading)
    several = {key for key, found in headings.items() if len(found) > 1}
    doubted = {each.section for each in open_ones if not each.mood and (each.type, each.host, each.option) in several}
    return [replace(each, mood="unsure") if each.section in doubted and not each.mood else each for each in records]


def _changed(record: RawRecord, places: Mapping[str | None, Sequence[RawRecord]]) -> Mood:
    """Below `Change these records:` are the new values, if there is no other value that could be the new one."""
    others = [each for each in places[record.type] if each.value != record.value and each.mood not in NOT_WANTED]
    same = any(each.section != record.section or each.host == record.host for each in others)
    return "unsure" if same else "want"


def is_own_condition(text: str) -> bool:
    """`Email (only if you use our mailboxes)`: what follows is for some readers, which is for them to know. Not a
    condition about records or about the DNS host, between which the page chooses."""
    folded = fold(text)
    begin = next((at for at, _ in stems("IF").find(folded)), None)
    if begin is None:
        return False
    near = [at for at, end in stems("ONLY").find(folded) if abs(begin - end) <= 20]
    if not near and not any(at < begin for at, _ in stems("MAIL").find(folded)):
        return False
    return mood_of_condition(text[min([begin, *near]) :]) == "optional"


def is_for_some(condition: str) -> bool:
    """`If you use our mailboxes`, in front of a record: it is for some readers, which is for them to know."""
    mail = bool(stems("MAIL").find(fold(condition)))
    return is_own_condition(condition) or (mail and mood_of_condition(condition) == "optional")


@lru_cache(maxsize=8192)
def about_records(text: str) -> bool:
    """Whether a short line without a verb of its own object speaks of records: `Delete`, `Old records`, not `Delete
    your account`."""
    found = events(text)
    if not found or UNSPACED.search(text) or names_servers(text) or stems("FOLLOWING").find(fold(text)):
        return True
    if any(atom.kind in ("type", "host", "apex", "field") for atom in atoms_of(text)):
        return True
    folded = fold(text)
    rest = "".join(char if not any(e.at <= at < e.end for e in found) else " " for at, char in enumerate(folded))
    words = {bare(word).strip(".,:;!?()-") for word in rest.split()} - {""}
    plain = {word for word in words if not word.isdecimal()} - phrases_of("STOP_WORDS")
    plain -= phrases_of("HAVING") if all(event.kind == "CURRENT" for event in found) else set()
    return bool(words & phrases_of("RECORD")) or not plain


def speaks_of_reader(text: str) -> bool:
    """Whether a heading calls what is below it the reader's own: `Your values`."""
    return _has_word(text, "YOURS")


@lru_cache(maxsize=8192)
def _has_word(text: str, table: str) -> bool:
    plain = bare(text)
    return any(
        phrase in plain and (PARTICLES.search(phrase) or re.search(rf"(?<!\w){re.escape(phrase)}(?!\w)", plain))
        for phrase in phrases_of(table)
    )
