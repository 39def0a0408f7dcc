"""What the search found becomes records, and what remains doubtful is said."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass, replace

from homepath.core.dns.values import BadValue, canonical, strings
from homepath.core.message import reason
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.visible import visible
from homepath.core.page_reader.frames import Told
from homepath.core.page_reader.hosts import Registrable, last_two, own_domains, plain_host, relative_host
from homepath.core.page_reader.kinds import (
    OTHER_TYPES,
    RECORD_TYPES,
    clean,
    glued_button,
    is_fqdn,
    is_host_label,
    type_of,
)
from homepath.core.page_reader.moods import NOT_WANTED
from homepath.core.page_reader.page import Line, LineUse, Page, PastedRecord, Server
from homepath.core.page_reader.rows import MOST_LINES, MOST_TEXT, Hidden, Row, too_long
from homepath.core.page_reader.search import Found, search
from homepath.core.page_reader.sources import rows_in
from homepath.core.page_reader.words import is_phrase, ttl_seconds
from homepath.core.wording.say import say

NARROW = 1.0
"""Another way of reading that explains only so much less leaves a doubt."""


@dataclass(slots=True)
class Judge:
    """Turns what the search found into records, and says what remains doubtful."""

    found: Found
    rows: Sequence[Row]
    hidden: Hidden
    domain: str | None
    registrable: Registrable

    def page(self) -> Page:
        doubts: list[str] = []
        notes: list[str] = []
        wanted = [told for told in self.found.told if told.mood not in NOT_WANTED]
        hosts = [host for told in self.found.told if told.host and (host := plain_host(told.host))]
        own, likely = own_domains(hosts, self.domain, self.registrable)
        if likely and not own:
            own = likely[:1]
            doubts.append(f"{likely[0]} in a name was taken to stand for your own domain")
        elif likely:
            doubts += [f"{each} in a name is neither your own domain nor the page's example for it" for each in likely]
        elif own and not self.domain:
            notes.append(f"{own[0]} stands for your own domain")
        kept: list[PastedRecord] = []
        away: list[PastedRecord] = []
        for told in self.found.told:
            record = self._record(told, own, doubts)
            if record is None:
                continue
            (away if told.mood in NOT_WANTED else kept).append(record)
        if any(told.mood == "unsure" for told in wanted):
            kept = [record for record in kept if record.mood != "unsure"]
        servers = self._servers(doubts)
        kept = _once(kept)
        doubts += self._losses(kept, own)
        doubts += self._rivalry()
        doubts += _lookalikes(kept, servers)
        doubts += self._unseen(kept)
        lines = tuple(self._lines())
        return Page(tuple(kept), tuple(away), servers, lines, tuple(dict.fromkeys(doubts)), tuple(notes), tuple(own))

    def _record(self, told: Told, own: Sequence[str], doubts: list[str]) -> PastedRecord | None:
        where = _where(told.lines)
        gone = told.mood in NOT_WANTED

        def say(text: str) -> None:
            if not gone:
                doubts.append(f"{where}: {text}")

        if told.why:
            say(f"{visible(told.why[0])}; the record was left out")
            return None
        if told.mood == "unsure":
            say(f"it cannot be told whether {visible(told.value)} is to be entered or to go; it was left out")
            return None
        host = plain_host(told.host) if told.host is not None else "@"
        if told.host is None:
            say(f"no name is said for {visible(told.value)}; it was taken for the domain itself")
        elif host is None:
            say(f"the name {visible(told.host)} cannot be read; the record was left out")
            return None
        assert host is not None
        host = relative_host(host, own)
        rrtype = told.type
        if rrtype is None:
            rrtype = "CNAME" if is_fqdn(told.value) else "TXT"
            say(f"no type is said for {visible(told.value)}; it was taken as {rrtype}")
        if rrtype in OTHER_TYPES or rrtype not in RECORD_TYPES:
            say(f"records of type {rrtype} cannot be planned; it was left out")
            return None
        value = self._value(rrtype, told.value, own)
        trouble = trouble_of(rrtype, value)
        if trouble and (shorter := glued_button(told.value)) and not trouble_of(rrtype, shorter):
            value, trouble = self._value(rrtype, shorter, own), None
        elif rrtype == "TXT" and not gone and glued_button(value):
            say(f"{visible(value)} ends like a button's word; if that was pasted along, take it away")
        if trouble:
            say(f"{visible(trouble)}; the record was left out")
            return None
        ttl = ttl_seconds(told.ttl) if told.ttl else None
        return PastedRecord(rrtype, host, value, ttl, told.lines, told.mood, told.option)

    def _value(self, rrtype: str, text: str, own: Sequence[str]) -> str:
        value = clean(text)
        if rrtype == "TXT":
            return _joined(text)
        if rrtype in ("CNAME", "ALIAS", "NS"):
            plain = value.lower().rstrip(".")
            if plain == "@" or plain in own or plain_host(value) == "@":
                return "{domain}."
            return f"{plain}."
        if rrtype in ("MX", "SRV") and value.split() and is_fqdn(value.split()[-1]):
            return f"{value.rstrip('.').lower()}."
        return value

    def _servers(self, doubts: list[str]) -> tuple[Server, ...]:
        found = [Server(name.lower().strip("."), line, mood, option) for name, mood, line, option in self.found.servers]
        doubts += [
            f"line {each.line}: it cannot be told whether {each.name} is a new or an old name server"
            for each in found
            if each.mood == "unsure"
        ]
        unique = {each.name: each for each in reversed(found) if each.mood not in (*NOT_WANTED, "unsure")}
        gone = {each.name: each for each in found if each.mood in NOT_WANTED}
        return (*reversed(unique.values()), *(each for name, each in gone.items() if name not in unique))

    def _losses(self, kept: Sequence[PastedRecord], own: Sequence[str]) -> list[str]:
        said = [f"line {line} looks like a part of a record: {visible(what)}" for line, what in self.found.losses]
        used = {line for record in kept for line in record.lines}
        passed = {"not understood": lambda row: self._matters(row, kept, own), "words": _broken_row}
        open_rows = [row for row in self.rows if row.line not in used and self.found.trail.get(row.line) in passed]
        said += [
            f"line {row.line} holds something like a record that was not understood: {visible(_spaced(row.text)[:80])}"
            for row in open_rows
            if passed[self.found.trail[row.line]](row)
        ]
        told = {line for each in self.found.told for line in each.lines} | {each[2] for each in self.found.servers}
        said += [
            f"line {row.line} has a type and no value that fits it: {visible(_spaced(row.text)[:80])}"
            for row in self.rows
            if row.line not in told and self.found.trail.get(row.line) != "heading of a table" and _typed_row(row)
        ]
        said += [
            f"line {row.line} asks for a redirect, which a brief cannot hold: {visible(_spaced(row.text)[:80])}"
            for row in self.rows
            if "://" in row.text and any(is_phrase("FORWARDS", cell.text) for cell in row.cells)
        ]
        return said

    def _matters(self, row: Row, kept: Sequence[PastedRecord], own: Sequence[str]) -> bool:
        """A line that only repeats what other lines say needs no question."""
        from homepath.core.page_reader.atoms import atoms_of

        known = {
            word.rstrip(".")
            for record in kept
            for word in (record.value.lower(), record.host, *record.value.lower().split())
        }
        strong = [atom for atom in atoms_of(row.text) if atom.kind in ("address", "special", "text", "part", "type")]
        if row.mark == "long":
            return True
        kinds = {atom.kind for atom in atoms_of(row.text)}
        if "type" in kinds and kinds & {"fqdn", "token", "quoted"}:
            return True
        words = row.text.split()
        if len(words) <= 4 and any(word.isupper() and type_of(word) for word in words):
            return True
        parts = [atom for atom in strong if atom.kind != "type"]
        if parts:
            return any(atom.value.lower().rstrip(".") not in known for atom in parts)
        texts = [cell.text for cell in row.cells if cell.text]
        if len(texts) == 2 and is_fqdn(texts[1]) and is_host_label(texts[0]):
            return True
        alone = len(row.text.split()) == 1 and is_fqdn(row.text)
        plain = row.text.strip().lower().rstrip(".")
        return alone and plain not in known and plain not in own and not any(plain.endswith(f".{each}") for each in own)

    def _rivalry(self) -> list[str]:
        rival = self.found.rival
        if rival is None or self.found.margin >= NARROW:
            return []
        mine = {(each.type, each.host, each.value, each.mood in NOT_WANTED): each for each in self.found.told}
        other = {(each.type, each.host, each.value, each.mood in NOT_WANTED): each for each in rival}
        ours = [told for key, told in mine.items() if key not in other and told.mood not in NOT_WANTED]
        theirs = [told for key, told in other.items() if key not in mine and told.mood not in NOT_WANTED]
        if not ours and not theirs:
            return []
        words = "; ".join(visible(f"{t.type or '?'} {t.host or '@'} {t.value}") for t in (ours or theirs)[:3])
        against = "; ".join(visible(f"{t.type or '?'} {t.host or '@'} {t.value}") for t in theirs[:3])
        lines = _where(tuple(sorted({line for told in (*ours, *theirs) for line in told.lines})))
        how = (
            f"read as {words}, but it could also be {against}"
            if ours and theirs
            else f"{words} may or may not be meant"
        )
        return [f"{lines}: {how}"]

    def _unseen(self, kept: Sequence[PastedRecord]) -> list[str]:
        used = {line for record in kept for line in record.lines}
        return [
            f"line {line} holds characters that cannot be seen ({visible(chars)}); they were left out"
            for line, chars in self.hidden.inside.items()
            if line in used
        ]

    def _lines(self) -> list[Line]:
        uses: dict[str, LineUse] = {
            "table": "record", "row": "record", "sentence": "record", "labels": "record",
            "value below its name": "record", "heading of a table": "heading", "label": "name of a field",
            "not understood": "not understood",
        }  # fmt: skip
        told = {line for each in self.found.told for line in each.lines} | {each[2] for each in self.found.servers}
        found = []
        for row in self.rows:
            if row.kind == "blank" or (row.kind == "rule" and not any(char.isalnum() for char in row.text)):
                continue
            use = uses.get(self.found.trail.get(row.line, ""), "words")
            if use == "record" and row.line not in told:
                use = "words"
            found.append(Line(row.line, _spaced(row.text), use))
        return found


def _typed_row(row: Row) -> bool:
    """A row of several cells of which one is a type."""
    texts = [cell.text for cell in row.cells if cell.text]
    return len(texts) > 1 and any(text.isupper() and type_of(text) for text in texts)


def _broken_row(row: Row) -> bool:
    """`shop A 1`: a row like that of a table, whose value is none."""
    words = row.text.split()
    if not 3 <= len(words) <= 5 or not any(word.isupper() and type_of(word) for word in words[:2]):
        return False
    return bool(re.search(r"[0-9]", words[-1])) and all(re.fullmatch(r"[A-Za-z0-9_.*@-]+", word) for word in words)


def _spaced(text: str) -> str:
    """The words of a row for people: a tab is only a gap."""
    return text.replace("\t", "  ")


def _joined(text: str) -> str:
    """A text in several strings as one (RFC 7208 section 3.3); outer quotes belong to the page."""
    text = text.strip()
    if text.count('"') >= 4 and text[0] == '"' == text[-1]:
        try:
            return "".join(strings(text))
        except BadValue:
            return clean(text)
    return clean(text)


_PLACE = re.compile(r"\{[a-z_0-9]+\}")


def trouble_of(rrtype: str, value: str) -> str | None:
    """Why a text is no value of its type; None where it is one."""
    from homepath.core.dns.values import check_host_target, text_value

    example = _PLACE.sub("x1", value)
    try:
        if rrtype == "TXT":
            canonical(rrtype, text_value(example))
        else:
            read = canonical("CNAME" if rrtype == "ALIAS" else rrtype, example, "x.")
            if rrtype in ("CNAME", "ALIAS") and value != "{domain}.":
                check_host_target(read)
    except BadValue as error:
        return say(reason(error))
    return None


def _where(lines: tuple[int, ...]) -> str:
    unique = sorted(set(lines))
    if len(unique) == 1:
        return f"line {unique[0]}"
    return f"lines {unique[0]} to {unique[-1]}"


def _once(records: Sequence[PastedRecord]) -> list[PastedRecord]:
    """A record that the page says twice is one; its lines come together."""
    found: dict[tuple[str, str, str], PastedRecord] = {}
    for each in records:
        key = (each.type, each.host, each.value.lower() if each.type != "TXT" else each.value)
        before = found.get(key)
        if before is None:
            found[key] = each
            continue
        option = before.option if before.option == each.option else ""
        lines = tuple(dict.fromkeys((*before.lines, *each.lines)))
        mood = before.mood if before.mood == each.mood else ""
        found[key] = replace(
            before, lines=lines, option=option, mood=mood, ttl=before.ttl if before.ttl is not None else each.ttl
        )
    return list(found.values())


def _lookalikes(records: Sequence[PastedRecord], servers: Sequence[Server]) -> list[str]:
    """Names that mix alphabets inside one label: such letters look alike and lead elsewhere."""
    names = [(record.host, record.lines[0]) for record in records]
    names += [(word, record.lines[0]) for record in records if record.type != "TXT" for word in record.value.split()]
    names += [(server.name, server.line) for server in servers]
    said = []
    for name, line in names:
        for label in name.split("."):
            scripts = {unicodedata.name(char, "?").split()[0] for char in label if char.isalpha()}
            if len(scripts & {"LATIN", "CYRILLIC", "GREEK", "ARMENIAN", "CHEROKEE"}) > 1:
                said.append(
                    f"line {line}: {visible(name)} mixes letters of two alphabets that look alike: do not enter it "
                    "before you know why"
                )
    return said


BIGGEST = 4_000_000
"""Characters; more is no page."""


def read_page(text: str, domain: str | None = None, registrable: Registrable = last_two) -> Page:
    """Read a text. `domain`: the reader's own, where it is known. Raises BadInput for what is no page at all."""
    text = text.removeprefix("\ufeff")
    _check(text)
    hidden = Hidden()
    rows = rows_in(text, hidden)
    filled = [row for row in rows if row.kind not in ("blank", "rule")]
    if len(filled) > MOST_LINES or sum(len(row.text) for row in filled) > MOST_TEXT:
        raise too_long()
    own = (domain.lower().strip("."),) if domain else ()
    return Judge(search(rows, own), rows, hidden, domain, registrable).page()


def _check(text: str) -> None:
    if len(text) > BIGGEST:
        hint = "copy only the part with the records"
        raise BadInput(Problem(f"this text has {len(text)} characters, which is no page", hint=hint))
    if "\0" in text:
        raise BadInput(Problem("this is not text: it holds NUL characters", hint="copy the words of the page"))
    if not any(char.isalnum() for char in text):
        raise BadInput(Problem("there is nothing to read: the text is empty", hint="copy the page's list of records"))
    odd = sum(
        1 for char in text[:20000] if unicodedata.category(char) in ("Cc", "Co", "Cn") and char not in "\t\n\r\f\v"
    )
    if odd * 10 > min(len(text), 20000):
        raise BadInput(Problem("this is not text: most of it cannot be shown", hint="copy the words of the page"))
