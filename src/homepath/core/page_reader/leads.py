"""Headings and lead-ins: rows that hold no record themselves and say something of those around them."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache

from homepath.core.page_reader.atoms import atoms_of
from homepath.core.page_reader.kinds import is_button, is_status, type_of
from homepath.core.page_reader.moods import NOT_WANTED, Mood, events, mood_of_lead
from homepath.core.page_reader.rows import Row
from homepath.core.page_reader.wordlists import fields
from homepath.core.page_reader.words import UNSPACED, bare, fold, is_phrase, phrases_of, stems


@dataclass(frozen=True, slots=True)
class Lead:
    """What a row says of its neighbours. `firm`: it speaks of what follows, not in passing. `option`: it begins an
    alternative: its mark, `or` where it has none."""

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
    """It ends with a colon, so that something else begins below it."""

    @property
    def says(self) -> bool:
        """It says something of records."""
        return bool(self.types or self.hosts or self.mood or self.servers or self.option)

    @property
    def speaks(self) -> bool:
        """It says something of records, or is a heading and ends what the one before said."""
        return self.says or self.heading


@lru_cache(maxsize=1)
def _server_words() -> re.Pattern[str]:
    words = [bare(word) for word in re.split(r"\s*[|\n]\s*", fields.NAMESERVER.strip()) if len(word) > 2]
    spaced = "|".join(sorted((re.escape(w) for w in words if w.isascii() or not _unspaced(w)), key=len, reverse=True))
    free = "|".join(re.escape(w) for w in words if not w.isascii() and _unspaced(w))
    return re.compile(
        rf"(?<!\w)(?:{spaced})(?:s|n|e|er|ów|y|ů|u|i|a|en|ne|na|ene|et|jen|ia|imiin|eket|ele|ere|lerini|leri)?(?!\w)|{free}"
    )


def _unspaced(word: str) -> bool:
    return bool(re.search(r"[\u0900-\u097f\u0e00-\u0e7f\u3040-\u30ff\u3400-\u9fff\uac00-\ud7af\u0590-\u07ff]", word))


def names_servers(text: str) -> bool:
    """Whether a text speaks of nameservers."""
    return bool(_server_words().search(bare(text)))


_OPTION = re.compile(
    r"^(?P<word>\D+?)\s*[#:]?\s*(?P<mark>[0-9]{1,2}|[A-Ha-h]|[IVX]{1,4}|[一二三甲乙ㄱㄴ①②③])(?=[\s:.)、：\-–—]|$)"
)


def option_of(text: str) -> str:
    """The mark of an alternative that a heading begins: `Option A`, `方法 2`; `or` for a row that is only that word."""
    plain = bare(text).strip(" .:—–-_=*()[]、")
    if plain in _or_words():
        return "or"
    match = _OPTION.match(text.strip(" *#"))
    if match and bare(match["word"]).strip() in phrases_of("OPTION"):
        return match["mark"].upper()
    joined = re.match(
        r"^(?P<word>方案|方法|方式|选项|選項|オプション|옵션|방법)\s*(?P<mark>[0-9A-Ha-h一二三①②③])", text.strip()
    )
    if joined:
        return joined["mark"].upper()
    front = re.match(r"^(?P<mark>[0-9]{1,2}|[A-H])[.)]?\s+(?P<word>[^\W\d_]+)", text.strip())
    if front and bare(front["word"]) in phrases_of("OPTION"):
        return front["mark"].upper()
    return ""


@lru_cache(maxsize=1)
def _or_words() -> frozenset[str]:
    from homepath.core.page_reader.wordlists import moods

    words = re.split(r"\s*[|\n]\s*", moods.OR.strip())
    return frozenset(bare(word.rstrip(".")) for word in words if word)


@lru_cache(maxsize=8192)
def _starts_with_or(text: str) -> bool:
    found = stems("OR").find(fold(text))
    return (
        bool(found)
        and found[0][0] == 0
        and len(bare(text).split()[0].strip(",:")) > 1
        and bare(text).split()[0].strip(",:") not in ("of", "ou", "si", "eve")
    )


def lead_of(row: Row, over: bool = False) -> Lead | None:
    """What a row says of its neighbours; None where it holds a value, a button, or nothing. `over`: a record stands
    right below it."""
    text = row.text
    if not text or len(text) > 400:
        return None
    if not (row.kind == "heading" or text.endswith(":")) and (is_button(text) or is_status(text)):
        return None
    atoms = atoms_of(text)
    if any(atom.kind in ("address", "special", "text", "part") for atom in atoms):
        return None
    if any(atom.kind == "token" for atom in atoms) and any(atom.kind == "type" for atom in atoms):
        return None
    lone = len(text.split()) == 1
    if any(atom.kind == "fqdn" for atom in atoms) and not (lone or text.rstrip().endswith(":")):
        return None
    if len(text.split()) == 1 and atoms and atoms[0].kind == "fqdn":
        return Lead((), (atoms[0].value,), firm=True)
    ends = text.rstrip()[-1:]
    words = len(text.split())
    short = ends not in ".。!?！？" and words <= 7 and len(text) <= 70
    following = bool(stems("FOLLOWING").find(fold(text)))
    heading = row.kind == "heading" or ends == ":"
    types = tuple(dict.fromkeys(atom.value for atom in atoms if atom.kind == "type"))
    whole = type_of(text.rstrip(" :"))
    if whole and whole not in types:
        types = (whole,)
    hosts = tuple(dict.fromkeys(atom.value for atom in atoms if atom.kind in ("host", "apex")))
    if not hosts and ends == ":" and is_phrase("APEX", text):
        hosts = ("@",)
    hosts += tuple(atom.value for atom in atoms if atom.kind == "fqdn" and not hosts)
    conditional = bool(stems("IF").find(fold(text)))
    option = option_of(text)
    if not option and (_starts_with_or(text) or (conditional and _instead(text))):
        option = "or"
    both = any(_has_word(text, phrase) for phrase in phrases_of("BOTH"))
    servers = names_servers(text)
    mood = mood_of_lead(text)
    if short and not (heading or mood not in NOT_WANTED or about_records(text)):
        short, mood = False, ""
    if over and mood == "keep" and not conditional and any(_has_word(text, word) for word in phrases_of("THEM")):
        following = True  # `Leave them as they are.` over those records
    return Lead(
        types, hosts, mood, heading or following or short, servers, both, option, conditional,
        row.kind == "heading", ends in ":：",
    )  # fmt: skip


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
    words = [bare(word).strip(".,:;!?()-") for word in rest.split()]
    known = phrases_of("RECORD") | phrases_of("STOP_WORDS")
    return all(word in known or word.isdecimal() or not word for word in words) or any(
        word in phrases_of("RECORD") for word in words
    )


def _instead(text: str) -> bool:
    return any(len(fold(text)[at:end]) > 4 for at, end in stems("OR").find(fold(text)))


def _has_word(text: str, phrase: str) -> bool:
    plain = bare(text)
    if phrase not in plain:
        return False
    return _unspaced(phrase) or bool(re.search(rf"(?<!\w){re.escape(phrase)}(?!\w)", plain))
