"""Findings about how records were typed: which keystroke went wrong, and what to type instead."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.dns.names import Name, relative, shown
from homepath.core.dns.records import ADDRESS_TYPES, Key, RecordSet
from homepath.core.dns.values import strings
from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.message import msg
from homepath.core.site.case import Case
from homepath.core.site.slips import doubled_entries, slip_among, undoubled, unfinished_targets, unquoted
from homepath.core.site.wanted import Want
from homepath.core.site.zone_facts import alias_wants, appeared_later, builders_addresses, text_contents

KINDS = (
    Kind("alias-by-address", "risk", "RFC 1034 section 3.6.2", typed=True, fixed_by="enter"),
    Kind("form-limit", "risk", "the DNS host's notation", who="dns-host"),
    Kind("near-miss", "risk", "RFC 1035 section 5.1", typed=True, fixed_by="enter"),
    Kind("name-doubled", "risk", "RFC 1035 section 5.1", typed=True, fixed_by="enter", misplaced=True),
    Kind("target-unfinished", "risk", "RFC 1035 section 5.1", typed=True, fixed_by="enter"),
    Kind("pasted-quote", "risk", "RFC 1035 section 5.1", typed=True, fixed_by="enter"),
    Kind("wrong-name", "risk", "RFC 1035 section 5.1", typed=True, fixed_by="enter", misplaced=True),
    Kind("text-too-long", "risk", "RFC 1035 section 3.3, RFC 7208 section 3.3"),
)


def _near_miss(case: Case) -> Iterator[Sighting]:
    for want in case.wanted.wants:
        record = case.zone.get(*want.record.key)
        if record is None:
            continue
        missing = set(want.record.values) - set(record.values)
        alone = len(missing) == len(want.record.values)
        before = not appeared_later(case, record) and (record.type in ADDRESS_TYPES or bool(case.history))
        if record.type != "TXT" and alone and before:
            continue  # an old value may differ by one digit without being a typing mistake
        for value in sorted(set(record.values) - set(want.record.values)):
            if slip := slip_among(missing, value):
                meant, words = slip
                yield Sighting(
                    record.name,
                    record.type,
                    msg("near-miss", name=record.name, value=value, meant=meant, words=words),
                    msg("near-miss.cure", value=value, meant=meant),
                )


def _alias_by_address(case: Case) -> Iterator[Sighting]:
    """Addresses of the builder's own at a name that is to be an alias."""
    own = builders_addresses(case)
    for want in alias_wants(case):
        for rrtype in ADDRESS_TYPES:
            record = case.zone.get(want.record.name, rrtype)
            if record is not None and set(record.values) & own:
                yield Sighting(
                    record.name,
                    rrtype,
                    msg("alias-by-address", name=record.name, values=tuple(record.values)),
                    msg("alias-by-address.cure", rrtype=rrtype, values=want.record.values[0]),
                )


def _name_doubled(case: Case) -> Iterator[Sighting]:
    for record, meant in doubled_entries(case):
        yield doubled(record.key, meant, case.domain)


def doubled(key: Key, meant: Name, domain: Name) -> Sighting:
    """A record set at a name that has the domain twice; `meant`: the name without."""
    name, rrtype = key
    message = msg("name-doubled", type=rrtype, name=name, typed=shown(meant))
    return Sighting(
        name, rrtype, message, msg("name-doubled.cure", relative=relative(meant, domain), typed=shown(meant))
    )


def _target_unfinished(case: Case) -> Iterator[Sighting]:
    for record, value, meant in unfinished_targets(case):
        yield Sighting(
            record.name,
            record.type,
            msg("target-unfinished", name=record.name, split=value.split()[-1]),
            msg("target-unfinished.cure", meant=meant),
        )


def _pasted_quote(case: Case) -> Iterator[Sighting]:
    for want, record, value in _typed_texts(case):
        content = "".join(strings(value))
        bare = unquoted(content)
        if bare != content and bare in text_contents(want):
            there = any("".join(strings(other)) == bare for other in record.values)
            cure = msg("pasted-quote.cure-2" if there else "pasted-quote.cure", bare=bare)
            message = msg("pasted-quote-2" if content.strip() == bare else "pasted-quote", name=record.name)
            yield Sighting(record.name, "TXT", message, cure)


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
                    msg("wrong-name", name=want.record.name, type=want.record.type, name2=record.name),
                    msg("wrong-name.cure", meant=meant, typed=typed),
                )


def _text_too_long(case: Case) -> Iterator[Sighting]:
    limit = case.notation.text_limit
    for want in case.wanted.wants if limit else ():
        longest = max((len(text) for text in text_contents(want)), default=0) if want.record.type == "TXT" else 0
        if limit and longest > limit:
            yield Sighting(
                want.record.name,
                "TXT",
                msg("text-too-long", name=want.record.name, longest=longest, host=case.notation.host, limit=limit),
                msg("text-too-long.cure"),
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
                msg(
                    "form-limit",
                    name=want.record.name,
                    count_values=len(values),
                    type=want.record.type,
                    host=case.notation.host,
                    most=most,
                ),
                msg("form-limit.cure"),
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
