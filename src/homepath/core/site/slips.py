"""Slips of the keyboard, as the zone shows them: a wrong character, quotes that were pasted along, a domain added
twice, a final dot left out; and what they tell of the form."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

from homepath.core.dns.names import Name, is_within
from homepath.core.dns.policies import one_edit
from homepath.core.dns.records import RecordSet
from homepath.core.dns.values import strings, target
from homepath.core.message import Text, msg
from homepath.core.model.brief import Notation
from homepath.core.site.case import Case
from homepath.core.site.wanted import Want
from homepath.core.site.zone_facts import alias_wants, builders_addresses, text_contents

_QUOTES = "\"'\u201c\u201d\u201e\u2018\u2019\u00ab\u00bb`"


def one_slip(meant: str, typed: str) -> Text | None:
    """Words for the single wrong, missing, extra or swapped character, or None when it is not just one."""
    if not one_edit(meant, typed) or min(len(meant), len(typed)) < 4:
        return None
    at = next((i for i, (a, b) in enumerate(zip(meant, typed, strict=False)) if a != b), min(len(meant), len(typed)))
    if len(meant) == len(typed):
        if meant[at + 1 :] == typed[at + 1 :]:
            return _wrong_character(meant, typed, at)
        return msg("slips.one-slip", typed=typed[at : at + 2], meant=meant[at : at + 2])
    if len(meant) > len(typed):
        return msg("slips.one-slip-2", meant=meant[at], where=_where(meant, at))
    return msg("slips.one-slip-3", typed=typed[at], where=_where(typed, at))


def _torn(meant: str, typed: str) -> Text | None:
    """Words for a text of the form name=code that was entered without its name, or with something around it."""
    if not meant.startswith('"') or not typed.startswith('"'):
        return None
    whole, part = "".join(strings(meant)), "".join(strings(typed))
    if "=" not in whole or unquoted(part) == whole:  # quotes and spaces around it are a slip of their own
        return None
    if len(part) >= 4 and whole.endswith(f"={part}"):
        return msg("slips.torn", missing=whole.removesuffix(part))
    return msg("slips.torn-2") if len(whole) >= 8 and whole in part else None


def _wrong_character(meant: str, typed: str, at: int) -> Text:
    if re.fullmatch(r"[0-9.]+", meant):
        part = meant.count(".", 0, at)
        which = "last" if part == 3 else ("first", "second", "third")[part]
        return msg("slips.wrong-character", which=which, split=typed.split(".")[part], split2=meant.split(".")[part])
    return msg("slips.wrong-character-2", where=_where(meant, at), typed=typed[at], meant=meant[at])


def _where(text: str, at: int) -> Text:
    if re.fullmatch(r"[0-9.]+", text):
        part = text.count(".", 0, at) + 1
        return msg("slips.where", part=part, at=at - text.rfind(".", 0, at))
    return msg("slips.where-2", at=at + 1)


def slip_among(meant: set[str], typed: str) -> tuple[Text, Text] | None:
    """The value among `meant` that `typed` misses by one keystroke, or by being a part of it, and the words for it."""
    for value in sorted(meant):
        if words := one_slip(value, typed) or _torn(value, typed):
            return value, words
    return None


def doubled_entries(case: Case) -> Iterator[tuple[RecordSet, Name]]:
    """Sets at a name with the domain twice, with values that are wanted: they were meant for the name without it.

    What holds anything else there may serve someone, and is left alone.
    """
    values = {value for want in case.wanted.wants for value in want.record.meanings}
    values |= builders_addresses(case)
    # the same form added the domain to the target, too
    values |= {value + case.domain for want in alias_wants(case) for value in want.record.values}
    for record in case.zone:
        meant = undoubled(record.name, case.domain)
        if meant and record.values and case.wanted.at(meant) and record.meanings <= values:
            yield record, meant


def undoubled(name: Name, domain: Name) -> Name | None:
    """The name that was meant when `name` ends with the domain twice, else None."""
    return name[: -len(domain)] if is_within(name, domain + domain) else None


def unfinished_targets(case: Case) -> Iterator[tuple[RecordSet, str, Name]]:
    """Sets with a value that is a target, wanted or former, with the domain appended: (set, value, meant)."""
    meant = {want.record.values[0] for want in alias_wants(case)}
    for record in case.zone:
        for value in record.values:
            points = target(record.type, value)
            if points is None or not points.endswith("." + case.domain):
                continue
            head = points[: -len(case.domain)]
            former = {target(record.type, each) for each in case.past.values(*record.key)}
            if head in meant or head in former or is_within(head, case.domain):
                yield record, value, head


def unquoted(content: str) -> str:
    octets = content.encode("latin-1", "replace")
    try:
        readable = octets.decode()
    except UnicodeDecodeError:
        readable = content
    return readable.strip().strip(_QUOTES).strip()


def quoted_slips(want: Want, present: RecordSet) -> set[str]:
    """The values of `present` that are a wanted text with quote characters around it."""
    found = set()
    for value in present.values if want.record.type == "TXT" else ():
        content = "".join(strings(value))
        if content not in text_contents(want) and unquoted(content) in text_contents(want):
            found.add(value)
    return found


def learned_notation(case: Case, notation: Notation) -> Notation:
    """A form that was not written down, with what typing mistakes showed of it: it adds the domain to names, or to
    targets without a dot at their end. Also once the mistake is corrected."""
    if notation.known:
        return notation
    ever = replace(case, zone=case.past)
    adds_to_names = "names" in notation.learned or next(doubled_entries(ever), None) is not None
    adds_to_targets = "final_dot" in notation.learned or next(unfinished_targets(ever), None) is not None
    return replace(
        notation,
        names="relative" if adds_to_names else notation.names,
        final_dot="required" if adds_to_targets else notation.final_dot,
        learned=(*(("names",) if adds_to_names else ()), *(("final_dot",) if adds_to_targets else ())),
    )
