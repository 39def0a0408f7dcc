"""The order of things to do, each with its place, what to see, the longest wait and the way back (N13)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from homepath.core.model.names import shown
from homepath.core.model.plan import Change, Place, Step
from homepath.core.rules.purposes import is_parking
from homepath.core.rules.rule import Case
from homepath.core.rules.timing import LONG_TTL


@dataclass(frozen=True, slots=True)
class _Draft:
    kind: str
    place: Place
    title: str
    instruction: str
    expect: str
    longest_wait: int
    way_back: str


def steps(case: Case, changes: tuple[Change, ...], absent_ttl: int) -> tuple[Step, ...]:
    """Numbered steps for these changes; `absent_ttl` is how long caches remember that a name is missing (seconds)."""
    work = [change for change in changes if change.move != "keep"]
    drafts = [*_claim(case), *_lower(case, work), *_enter(case, work), *_await(case, work, absent_ttl)]
    drafts += [*_builder_looks(case), *_certificate(case), *_visit(case)]
    return tuple(
        Step(number, d.kind, d.place, d.title, d.instruction, d.expect, d.longest_wait, d.way_back)
        for number, d in enumerate(drafts, 1)
    )


def _claim(case: Case) -> Iterator[_Draft]:
    names = " and ".join(shown(name) for name in case.wanted.names)
    yield _Draft(
        "claim",
        "builder",
        f"Tell {case.wanted.builder} about the domain",
        f"In the site's settings at {case.wanted.builder}, connect {names}; "
        f"make {shown(case.wanted.primary)} the main address.",
        'The first check fails or stays at "pending". That is normal: the records are not there yet.',
        0,
        f"Remove the domain again in {case.wanted.builder}'s settings.",
    )


def _lower(case: Case, work: list[Change]) -> Iterator[_Draft]:
    in_use = [
        record
        for change in work
        if change.purpose == "website"
        and (record := case.zone.get(change.name, change.type))
        and record.ttl > LONG_TTL
        and not is_parking(record, case.notation)
    ]
    if not in_use:
        return
    longest = max(record.ttl for record in in_use)
    what = ", ".join(sorted({f"{shown(record.name)} {record.type}" for record in in_use}))
    yield _Draft(
        "lower-ttl",
        "DNS host",
        "Shorten the memory of caches first",
        f"Set the TTL of {what} to 300 (5 min) without changing the values, then wait for the old TTL to run out.",
        "The site works as before; caches forget the old answer within 5 min from then on.",
        longest,
        f"Set the TTL back to {longest}.",
    )


def _enter(case: Case, work: list[Change]) -> Iterator[_Draft]:
    if not work:
        return
    counts = {move: sum(change.move == move for change in work) for move in ("remove", "replace", "add")}
    said = ", ".join(f"{count} to {move}" for move, count in counts.items() if count)
    yield _Draft(
        "enter",
        "DNS host",
        f"Enter the records ({said})",
        f"Type them from `homepath sheet` into the form of {case.notation.host}, "
        "or let `homepath send` enter them if the host takes signed updates.",
        "`homepath watch --once` says that every authoritative server gives the new records.",
        0,
        "`homepath log` shows what stood there before; enter that again.",
    )


def _await(case: Case, work: list[Change], absent_ttl: int) -> Iterator[_Draft]:
    waits = [record.ttl if (record := case.zone.get(change.name, change.type)) else absent_ttl for change in work]
    if not waits:
        return
    yield _Draft(
        "spread",
        "here",
        "Wait until caches have let go of the old answers",
        "Nothing needs to be done. `homepath watch` shows what is waited for, and until when at the latest.",
        "`homepath watch` ends by itself and says: settled.",
        max(waits),
        "",
    )


def _builder_looks(case: Case) -> Iterator[_Draft]:
    yield _Draft(
        "verify",
        "builder",
        f"Let {case.wanted.builder} check again",
        f"Press the check button in {case.wanted.builder}'s settings, or wait for its own next look.",
        "The domain is shown as connected.",
        case.wanted.https.longest_wait,
        "",
    )


def _certificate(case: Case) -> Iterator[_Draft]:
    yield _Draft(
        "certificate",
        "certificate authority",
        "Wait for the certificate",
        f'{case.wanted.builder} orders it by itself once it sees the records. "Not secure" until then is normal.',
        "The browser shows the padlock on every address.",
        case.wanted.https.longest_wait,
        "",
    )


def _visit(case: Case) -> Iterator[_Draft]:
    yield _Draft(
        "visit",
        "here",
        "Try every way in",
        "Run `homepath visit`.",
        f"All ways end at {case.wanted.primary_url}",
        0,
        "",
    )
