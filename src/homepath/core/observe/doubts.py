"""What a look finds besides its verdicts: slips of typing, resolvers that lie or refuse, a clock that was set back."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

from homepath.core.dns.names import Name
from homepath.core.dns.records import WEB_TYPES, RecordSet
from homepath.core.dns.walk import Cut
from homepath.core.findings.registry import finding, kind_of
from homepath.core.findings.registry import findings as all_findings
from homepath.core.message import msg
from homepath.core.model.evidence import Heard
from homepath.core.model.findings import Finding
from homepath.core.model.readings import RecordSpread
from homepath.core.observe.requests import CheckKeys, Look
from homepath.core.propagation.habits import Habit
from homepath.core.site.case import Case


def broken_signatures(cut: Cut, handed: Sequence[RecordSet]) -> Look[list[Finding]]:
    """Where the parent says that the zone is signed, its signatures are checked at each look."""
    if not any(record.type == "DS" and record.values for record in handed):
        return []
    ((state, trouble),) = yield [CheckKeys(cut)]
    if state != "broken":
        return []
    message = msg("doubts.broken-signatures", zone=cut.zone, trouble=trouble)
    return [finding("signature-broken", cut.zone, "DNSKEY", message)]


def typed_wrong(case: Case) -> tuple[Finding, ...]:
    """What the authoritative servers give, held against what was meant, in the words of the rules."""
    found = all_findings(replace(case, survey=None))
    return tuple(each for each in found if kind_of(each).typed or kind_of(each).explains)


def with_slips(spread: RecordSpread, wrong: Sequence[Finding], case: Case) -> RecordSpread:
    """A set that is not there yet because it was typed at another place, or as something else, was entered wrongly."""
    if spread.verdict != "not-entered":
        return spread
    slips = [each for each in wrong if kind_of(each).typed and _concerns(each, spread, case)]
    return replace(spread, verdict="entered-wrong", because=slips[0].message) if slips else spread


def _concerns(slip: Finding, spread: RecordSpread, case: Case) -> bool:
    if slip.name == spread.name:
        return slip.type == spread.type or {slip.type, spread.type} <= set(WEB_TYPES)
    if not kind_of(slip).misplaced:
        return False
    record = case.zone.get(slip.name, slip.type)
    want = case.wanted.get(spread.name, spread.type)
    return bool(record and want and record.meanings & want.record.meanings)


def one_each(notes: Sequence[tuple[Habit, Finding]]) -> list[Finding]:
    """One finding of a kind for each resolver: it does the same with every name."""
    first: dict[tuple[str, str], Finding] = {}
    for habit, each in notes:
        first.setdefault((habit.vantage, habit.kind), each)
    return list(first.values())


def lying(domain: Name, liars: Iterable[str]) -> list[Finding]:
    return [
        finding(
            "resolver-answers-for-itself",
            domain,
            "",
            msg("resolver-answers-for-itself", who=who, domain=domain),
        )
        for who in sorted(liars)
    ]


def refusing(domain: Name, caches: Sequence[Heard]) -> list[Finding]:
    """Resolvers that check signatures refuse the domain: their visitors reach nothing, and waiting may not help."""
    bogus = (each for each in caches if each.answer.trouble and each.answer.trouble.cause == "bogus")
    who = list(dict.fromkeys(each.vantage for each in bogus))
    if not who:
        return []
    return [
        finding(
            "signature-broken",
            domain,
            "DS",
            msg("signature-broken-2", domain=domain, who=tuple(who)),
            msg("signature-broken.cure-2"),
        )
    ]


def jump(domain: Name, jumped: bool) -> list[Finding]:
    if not jumped:
        return []
    return [
        finding(
            "clock-set-back",
            domain,
            "",
            msg("clock-set-back"),
            msg("clock-set-back.cure"),
        )
    ]
