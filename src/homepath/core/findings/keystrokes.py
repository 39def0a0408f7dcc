"""Findings about how entries were typed: which keystroke went wrong, and what to type instead."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.dns.names import relative, shown
from homepath.core.dns.records import ADDRESS_TYPES, RecordSet
from homepath.core.dns.values import strings
from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.site.case import Case
from homepath.core.site.slips import slip_among
from homepath.core.site.wanted import Want
from homepath.core.site.zone_facts import (
    alias_wants,
    came_later,
    doubled_entries,
    text_contents,
    undoubled,
    unfinished_targets,
    unquoted,
)

KINDS = (
    Kind(
        "alias-by-address",
        "risk",
        "RFC 1034 section 3.6.2",
        "The builder's addresses were entered at a name where it asks for an alias (CNAME).",
        "The name breaks on the day the builder changes an address, and a CNAME cannot be entered beside them.",
        "Delete the addresses and enter the alias.",
        typed=True,
        fixed_by="enter",
    ),
    Kind(
        "form-limit",
        "risk",
        "the DNS host's notation",
        "The DNS host's form takes fewer entries of a type at one name than are wanted.",
        "The last entries replace the first, or are refused.",
        "Ask the DNS host to enter them.",
        who="dns-host",
    ),
    Kind(
        "near-miss",
        "risk",
        "RFC 1035 section 5.1",
        "A value differs from the wanted one by a single keystroke.",
        "Waiting does not help: the record is wrong at its source.",
        "Correct the character named.",
        typed=True,
        fixed_by="enter",
    ),
    Kind(
        "name-doubled",
        "risk",
        "RFC 1035 section 5.1",
        "The domain stands twice at the end of a record's name.",
        "The record answers at a name that nobody asks for, and the wanted name stays as it was.",
        "Delete the entry and type the name without the domain.",
        typed=True,
        fixed_by="enter",
        misplaced=True,
    ),
    Kind(
        "target-unfinished",
        "risk",
        "RFC 1035 section 5.1",
        "A target was typed without its final dot, and the DNS host appended the domain to it.",
        "The alias points to a name that does not exist.",
        "Type the target with its final dot.",
        typed=True,
        fixed_by="enter",
    ),
    Kind(
        "pasted-quote",
        "risk",
        "RFC 1035 section 5.1",
        "Quote characters became part of a text.",
        "The builder compares the text as it is, and does not find its code.",
        "Type the text without quotes.",
        typed=True,
        fixed_by="enter",
    ),
    Kind(
        "wrong-name",
        "risk",
        "RFC 1035 section 5.1",
        "A wanted value was entered at another name.",
        "The wanted name stays as it was, however long one waits.",
        "Enter it at the name that is meant.",
        typed=True,
        fixed_by="enter",
        misplaced=True,
    ),
    Kind(
        "text-too-long",
        "risk",
        "RFC 1035 section 3.3, RFC 7208 section 3.3",
        "A text is longer than the DNS host's form takes.",
        "The form cuts it, and the rest is missing.",
        "Let the DNS host enter it as several strings of one record.",
    ),
)


def _near_miss(case: Case) -> Iterator[Sighting]:
    for want in case.wanted.wants:
        record = case.zone.get(*want.record.key)
        if record is None:
            continue
        missing = set(want.record.values) - set(record.values)
        alone = len(missing) == len(want.record.values)
        before = not came_later(case, record) and (record.type in ADDRESS_TYPES or bool(case.history))
        if record.type != "TXT" and alone and before:
            continue  # what stood there before may differ by a digit without having been typed for it
        for value in sorted(set(record.values) - set(want.record.values)):
            if slip := slip_among(missing, value):
                meant, words = slip
                yield Sighting(
                    record.name,
                    record.type,
                    f"{shown(record.name)} has {value} where {meant} was meant: {words}.",
                    f"Change {value} to {meant}",
                )


def _alias_by_address(case: Case) -> Iterator[Sighting]:
    """Addresses of the builder's own at a name that is to be an alias."""
    own = {value for want in case.wanted.wants if want.record.type in ADDRESS_TYPES for value in want.record.values}
    own |= {value for rrtype in ADDRESS_TYPES for value in case.surroundings.values(case.wanted.edge, rrtype)}
    for want in alias_wants(case):
        for rrtype in ADDRESS_TYPES:
            record = case.zone.get(want.record.name, rrtype)
            if record is not None and set(record.values) & own:
                yield Sighting(
                    record.name,
                    rrtype,
                    f"{shown(record.name)} has the builder's addresses for an alias: {', '.join(record.values)}.",
                    f"Delete them (type {rrtype}) and enter as type CNAME: {want.record.values[0]}",
                )


def _name_doubled(case: Case) -> Iterator[Sighting]:
    for record, meant in doubled_entries(case):
        typed = shown(meant)
        yield Sighting(
            record.name,
            record.type,
            f"There is a {record.type} record at {shown(record.name)}: the form adds the domain by itself, "
            f"and {typed} was typed with it.",
            f"Delete that entry; as its name type {relative(meant, case.domain)} instead of {typed}.",
        )


def _target_unfinished(case: Case) -> Iterator[Sighting]:
    for record, value, meant in unfinished_targets(case):
        yield Sighting(
            record.name,
            record.type,
            f"The target at {shown(record.name)} became {shown(value.split()[-1])}: "
            "its final dot is missing, so the domain was appended.",
            f"Type the target with a dot at its end: {meant}",
        )


def _pasted_quote(case: Case) -> Iterator[Sighting]:
    for want, record, value in _typed_texts(case):
        content = "".join(strings(value))
        bare = unquoted(content)
        if bare != content and bare in text_contents(want):
            yield Sighting(
                record.name,
                "TXT",
                f"The text at {shown(record.name)} has quote characters inside that were pasted along.",
                f"Type it without quotes: {bare}",
            )


def _typed_texts(case: Case) -> Iterator[tuple[Want, RecordSet, str]]:
    """Texts at a name where one is wanted, which are not the wanted one."""
    for want in case.wanted.wants:
        record = case.zone.get(*want.record.key) if want.record.type == "TXT" else None
        for value in record.values if record else ():
            if "".join(strings(value)) not in text_contents(want):
                assert record is not None
                yield want, record, value


def _wrong_name(case: Case) -> Iterator[Sighting]:
    """The right value at a name where it is not wanted, while the wanted name lacks it."""
    for want in case.wanted.wants:
        if want.record.type not in ("A", "AAAA", "CNAME", "TXT") or want.met_by(case.zone.get(*want.record.key)):
            continue
        for record in case.zone:
            if (
                record.type != want.record.type
                or record.name == want.record.name
                or undoubled(record.name, case.domain)
            ):
                continue
            if record.type in ADDRESS_TYPES and case.wanted.get(record.name, "CNAME"):
                continue  # alias-by-address says it better
            here = case.wanted.get(record.name, record.type)
            if record.meanings & want.record.meanings and not (here and here.record.meanings & record.meanings):
                typed, meant = relative(record.name, case.domain), relative(want.record.name, case.domain)
                yield Sighting(
                    record.name,
                    record.type,
                    f"What belongs to {shown(want.record.name)} ({want.record.type}) was entered at "
                    f"{shown(record.name)}.",
                    f"Enter it with the name {meant} instead of {typed}, and delete it at {typed} "
                    "if it serves nothing there.",
                )


def _text_too_long(case: Case) -> Iterator[Sighting]:
    limit = case.notation.text_limit
    for want in case.wanted.wants if limit else ():
        longest = max((len(text) for text in text_contents(want)), default=0) if want.record.type == "TXT" else 0
        if limit and longest > limit:
            yield Sighting(
                want.record.name,
                "TXT",
                f"The text for {shown(want.record.name)} has {longest} characters; {case.notation.host} takes {limit}.",
                "Ask the DNS host to enter it, cut into strings of 255 octets (one record, several strings).",
            )


def _form_limit(case: Case) -> Iterator[Sighting]:
    most = case.notation.most_values
    for want in case.wanted.wants:
        present = case.zone.get(*want.record.key)
        values = {*want.record.values, *(present.values if want.joined and present else ())}
        if most and len(values) > most and not want.met_by(present):
            yield Sighting(
                want.record.name,
                want.record.type,
                f"{shown(want.record.name)} needs {len(values)} {want.record.type} entries; "
                f"{case.notation.host}'s form takes {most}.",
                "Ask the DNS host to enter the rest, or use another of the builder's ways.",
            )


RULES = (
    Rule("alias-by-address", _alias_by_address),
    Rule("form-limit", _form_limit),
    Rule("near-miss", _near_miss),
    Rule("name-doubled", _name_doubled),
    Rule("target-unfinished", _target_unfinished),
    Rule("pasted-quote", _pasted_quote),
    Rule("wrong-name", _wrong_name),
    Rule("text-too-long", _text_too_long),
)
