"""What is on a page besides whole records: parts of records, values that no record took, and the primary address."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator, Sequence
from functools import cache

from homepath.core.page_reader.hosts import plain_host, relative_host
from homepath.core.page_reader.kinds import (
    OTHER_TYPES,
    addresses,
    is_fqdn,
    is_host_label,
    is_sure_host,
    type_by_value,
    type_of,
)
from homepath.core.page_reader.page import PastedRecord, Server
from homepath.core.page_reader.prose.atoms import Atom, atoms_of
from homepath.core.page_reader.prose.clauses import events_in, moods_of
from homepath.core.page_reader.reader import Found
from homepath.core.page_reader.record_values import value_of
from homepath.core.page_reader.rows import Row
from homepath.core.page_reader.titles import title_of
from homepath.core.page_reader.words import any_word, bare, fold, is_phrase, phrases_of, stems


def told_lines(found: Found) -> set[int]:
    """The lines that a record or a nameserver came from."""
    raw = {line for each in found.records for line in each.lines}
    return raw | {line for _, _, line, _ in found.servers}


def parts(found: Found, rows: Sequence[Row], read: Sequence[PastedRecord]) -> list[PastedRecord]:
    """What looks like a part of a record."""
    held = {line for record in read for line in record.lines} | told_lines(found)
    lost = [PastedRecord("", "", "", None, (line,), "", "", "part", what) for line, what in found.losses]
    lost += [
        PastedRecord("", "", "", None, (row.line,), "", "", "no-value", spaced(row.text)[:80])
        for row in rows
        if row.line not in held
        and found.uses.get(row.line) != "heading of a table"
        and (_typed_row(row) or (found.uses.get(row.line) in ("words", "row") and _broken_row(row)))
    ]
    for row in rows:
        words = row.text.split()
        other = next((word for word in words[:5] if word in OTHER_TYPES), "") if len(words) > 2 else ""
        if other and row.line not in held and any(map(is_sure_host, words)) and row.kind != "card":
            value = " ".join(words[words.index(other) + 1 :])
            lost.append(PastedRecord(other, "", value, None, (row.line,), "", "", "unplannable"))
    return lost


def strays(
    found: Found, rows: Sequence[Row], read: Sequence[PastedRecord], servers: Sequence[Server], own: Sequence[str]
) -> Iterator[PastedRecord]:
    """Values on lines that no record came from; a line that only repeats what others say needs no question."""
    used = {line for record in read for line in record.lines} | {each.line for each in servers}
    used |= {line for _, _, line, _ in found.servers}
    used |= {each.line for each in servers}
    known = {
        word.rstrip(".")
        for record in read
        for word in (record.value.lower(), record.host, *record.value.lower().split())
    }
    for row in rows:
        use = found.uses.get(row.line)
        if row.line in used or use is None:
            continue
        atoms = atoms_of(row.text)
        if use != "not understood" and all(
            (atom.kind not in ("address", "special", "params") and not _SERVER.match(atom.value)) or atom.value in known
            for atom in atoms
        ):
            continue
        moods = dict(zip(atoms, moods_of(row.text, atoms, events_in(row.text)), strict=True))
        values = [each for each in atoms if each.kind in _STRAY]
        strange = [each for each in values if moods[each] != "current" and not is_within_own(each.value, own)]
        mine = bool(values) and all(is_within_own(each.value, own) for each in values)
        if mine or not (row.mark == "long" or _is_stray(row, atoms, known)):
            continue
        types = [each.value for each in atoms if each.kind == "type"]
        types += [type_by_value(each.value) or "" for each in strange[:1]]
        rrtype = next((each for each in types if each), "")
        value = value_of(rrtype, strange[0].value, own) if strange else ""
        yield PastedRecord(rrtype, "", value, None, (row.line,), "", "", "stray")


_SERVER = re.compile(r"(?:ns|dns)[0-9]*\.", re.I)
"""How names of nameservers mostly begin."""


def left_over(
    found: Found, rows: Sequence[Row], read: Sequence[PastedRecord], servers: Sequence[Server], own: Sequence[str]
) -> Iterator[PastedRecord]:
    """Values of a line with records that are in none of them: a sentence may be understood in part."""
    told = {word.strip('."').lower() for each in read for word in (each.host, each.value, *each.value.split())}
    told |= {each.name for each in servers} | {each.zone.lower().strip(".") for each in found.records} | set(own)
    lines = {line for each in read for line in each.lines}
    aliases = {line for each in read for line in each.lines if each.type == "CNAME"}
    for row in rows:
        for cell in row.cells if row.kind == "card" and row.line in lines else ():
            value = cell.text.strip().lower().rstrip(".")  # a field of an unknown name may hold what is wanted
            target = (
                is_fqdn(value) and row.line in aliases and not is_within_own(value, own) and not title_of(cell.label)
            )
            if (addresses(value) or target) and value not in told:
                yield PastedRecord(
                    "CNAME" if target else type_by_value(value) or "", "", value, None, (row.line,), "", "", "stray"
                )
        atoms = atoms_of(row.text) if row.line in lines and found.uses.get(row.line) == "sentence" else ()
        typed = any(atom.kind == "type" for atom in atoms)
        for atom in atoms:
            name = atom.value.lower().strip(".")
            torn = atom.kind in ("part", "quoted") and re.match(r"[-~?+]?(?:include|ip4|ip6|redirect)[:=]", name)
            strange = torn or atom.kind == "address" or (atom.kind == "fqdn" and typed and not is_within_own(name, own))
            inside = any(name in each or (each and name.startswith(f"{each}.")) for each in told)
            if strange and name not in told and not inside:
                yield PastedRecord(type_by_value(name) or "", "", name, None, (row.line,), "", "", "stray")


def is_within_own(name: str, own: Sequence[str]) -> bool:
    """Whether a name is one of the reader's own."""
    return any(f".{name.lower().rstrip('.')}".endswith(f".{each}") for each in own)


_STRAY = ("address", "special", "text", "part", "token", "fqdn", "quoted")
"""Kinds of words that can be a value."""


def _is_stray(row: Row, atoms: Sequence[Atom], known: Collection[str]) -> bool:
    """Whether something in the line may be a value or a type that no other line has."""
    words, kinds = row.text.split(), {atom.kind for atom in atoms}
    valued = any(atom.kind == "field" and atom.value == "value" for atom in atoms) and kinds & {"host", "apex"}
    if ("type" in kinds or valued) and kinds & {"fqdn", "token", "quoted"}:
        return True
    if len(words) <= 4 and any(word.isupper() and type_of(word) for word in words):
        return True
    texts = [cell.text for cell in row.cells if cell.text]
    numbered = any(atom.kind == "field" and atom.value == "priority" for atom in atoms)
    pair = numbered or (len(texts) == 2 and (is_host_label(texts[0]) or texts[0][-1].isdecimal()))
    mattering = ("address", "special", "text", "part", "params", *(["fqdn"] if len(words) == 1 or pair else []))
    names = [atom.value.lower().rstrip(".") for atom in atoms if atom.kind in mattering]
    return any(not any(f".{each}".endswith(f".{name}") for each in known) for name in names)


def _typed_row(row: Row) -> bool:
    """A row of several cells of which one is a type."""
    texts = [cell.text for cell in row.cells if cell.text]
    return len(texts) > 1 and any(text.isupper() and type_of(text) for text in texts)


def _broken_row(row: Row) -> bool:
    """`shop A 1`: a row like that of a table, whose value is none."""
    words = re.sub(r"^[^\W\d_]+:\s+", "", row.text).split()
    if not 3 <= len(words) <= 5 or not any(word.isupper() and type_of(word) for word in words[:2]):
        return False
    *front, last = words
    plain = all(re.fullmatch(r"[A-Za-z0-9_.*@-]+", word) for word in front)
    coded = "://" in last or re.fullmatch(r"[A-Za-z_.*@=-]*[0-9][A-Za-z0-9_.*@=-]*", last)
    spoilt = any(map(is_sure_host, front)) and "." in last.rstrip(".") and not is_fqdn(last)  # `MX @ 10 mx!.x.example`
    return plain and bool(coded or spoilt)


def spaced(text: str) -> str:
    """The words of a row for people: a tab is only a gap."""
    return text.replace("\t", "  ")


_NAMED = re.compile(r"^(?P<label>[^:：]{3,40})[:：]\s*(?:https?://)?(?P<host>[\w.@-]+)/?\s*$")
_TYPE = re.compile(r"\b(?:A|AAAA|ALIAS|CAA|CNAME|HTTPS|MX|NS|SRV|TXT)\b")
_NAME = re.compile(r"(?:https?://)?(?P<host>(?:[\w-]+\.)+[\w-]+|(?<![\w.])www(?![\w.]))")


def primary_of_page(rows: Sequence[Row], own: Sequence[str]) -> tuple[str, frozenset[int]]:
    """`@` for the domain itself, else a label, and the lines that say so: `Primary domain: www.own.test`, `own.test
    redirects to www.own.test`. Empty where the page does not say, or says two things."""
    found = {row.line: host for row in rows if (host := _primary(row.text, own))}
    addresses = set(found.values())
    return addresses.pop() if len(addresses) == 1 else "", frozenset(found)


def _primary(text: str, own: Sequence[str]) -> str:
    return _named(text, own) or _led_to(text, own) or _called(text, own)


def _named(text: str, own: Sequence[str]) -> str:
    match = _NAMED.match(text)
    return _own(match["host"], own) if match and is_phrase("PRIMARY", match["label"]) else ""


def _led_to(text: str, own: Sequence[str]) -> str:
    """Of two of the reader's own names beside a word for redirecting, the one that is pointed to: in most languages the
    last; where the verb comes last, too."""
    if len(text) > 300 or not stems("REDIRECTS").find(fold(text)):
        return ""
    names = [host for match in _NAME.finditer(text) if (host := _own(match["host"], own))]
    return names[1] if len(names) == 2 and names[0] != names[1] else ""


def _called(text: str, own: Sequence[str]) -> str:
    """The only one of the reader's own names in a sentence about the primary one: `Your primary domain will be
    www.own.test`. Not where the sentence is about a record, says no, or asks."""
    if len(text) > 300 or text.rstrip()[-1:] in "?？؟" or _TYPE.search(text) or not _calls().search(bare(text)):
        return ""
    names = {host for match in _NAME.finditer(text) if (host := _own(match["host"], own))}
    denied = stems("NOT").find(fold(text))
    return names.pop() if len(names) == 1 and not denied else ""


@cache
def _calls() -> re.Pattern[str]:
    return any_word(each for each in phrases_of("PRIMARY") if each != "primary")


def _own(text: str, own: Sequence[str]) -> str:
    """The label of one of the reader's own names; empty for every other."""
    host = plain_host(text.rstrip("."))
    if host in ("@", "www"):
        return host
    inside = host is not None and any(f".{host}".endswith(f".{each}") for each in own)
    return relative_host(host, own) if host is not None and inside else ""
