"""The order of things to do, each with its place, what to see, the longest wait and the way back."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.facts.purposes import is_parking
from homepath.core.model.brief import When
from homepath.core.model.names import shown
from homepath.core.model.plan import Change, Step
from homepath.core.model.times import lasting
from homepath.core.planning.draft import Draft
from homepath.core.planning.web_steps import forward, https_only, redirect, take_back_hsts
from homepath.core.rules.timing import LONG_TTL
from homepath.core.wanted.case import Case

LOWERED = 300
"""Seconds; the TTL to set before a change of a site in use."""


def steps(case: Case, changes: tuple[Change, ...], absent_ttl: int) -> tuple[Step, ...]:
    """Numbered steps for these changes; `absent_ttl` is how long caches remember that a name is missing (seconds)."""
    work = [change for change in changes if change.move != "keep"]
    drafts = [*_claim(case), *_of_the_builder(case, "first")]
    if case.wanted.choice.route == "nameservers":
        drafts += [*_hand_over(case, work), *_of_the_builder(case, "after-nameservers")]
    else:
        drafts += [
            *take_back_hsts(case),
            *_lower(case, work),
            *_enter(case, work),
            *forward(case),
            *redirect(case),
            *_await(case, work, absent_ttl),
        ]
        drafts += _of_the_builder(case, "after-records")
    drafts += [*_builder_looks(case), *_certificate(case), *_of_the_builder(case, "after-certificate"), *_visit(case)]
    drafts += [*https_only(case), *_raise_again(case, work)]
    return tuple(
        Step(number, d.kind, d.place, d.title, d.instruction, d.expect, d.longest_wait, d.way_back)
        for number, d in enumerate(drafts, 1)
    )


def _claim(case: Case) -> Iterator[Draft]:
    names = " and ".join(shown(name) for name in case.wanted.names)
    limits = "".join(f" {limit}" for limit in case.wanted.limits)
    yield Draft(
        "claim",
        "builder",
        f"Tell {case.wanted.builder} about the domain",
        f"In the site's settings at {case.wanted.builder}, connect {names}; "
        f"make {shown(case.wanted.primary)} the main address.{limits}",
        'The first check fails or stays at "pending". That is normal: the records are not there yet.',
        0,
        f"Remove the domain again in {case.wanted.builder}'s settings.",
    )


def _of_the_builder(case: Case, when: When) -> Iterator[Draft]:
    for step in case.wanted.steps:
        if step.when == when:
            expect = step.expect or "The builder shows it as done."
            yield Draft(f"builder-{when}", "builder", step.title, step.instruction or step.title, expect, 0, "")


def _in_use(case: Case, work: list[Change]) -> list[tuple[Change, int]]:
    """Changes of what visitors use now, with the old TTL, where it is long; a parked domain has no visitors."""
    found = []
    for change in work:
        record = case.zone.get(change.name, change.type)
        if change.purpose == "website" and record and record.ttl > LONG_TTL and not is_parking(record, case.notation):
            found.append((change, record.ttl))
    return found


def _lower(case: Case, work: list[Change]) -> Iterator[Draft]:
    in_use = _in_use(case, work)
    if not in_use:
        return
    longest = max(ttl for _, ttl in in_use)
    what = ", ".join(sorted({f"{shown(change.name)} {change.type}" for change, _ in in_use}))
    yield Draft(
        "lower-ttl",
        "DNS host",
        "Shorten the memory of caches first",
        f"Set the TTL of {what} to {LOWERED} (5 min) without changing the values, then wait the old TTL out "
        f"({lasting(longest)}).",
        "The site works as before; caches forget the old answer within 5 min from then on.",
        longest,
        f"Set the TTL back to {longest}.",
    )


def _raise_again(case: Case, work: list[Change]) -> Iterator[Draft]:
    in_use = _in_use(case, work)
    if in_use:
        longest = max(ttl for _, ttl in in_use)
        yield Draft(
            "raise-ttl",
            "DNS host",
            "Lengthen the memory of caches again",
            f"Once all is well, the TTL of the new records may go back to {longest} or to one hour.",
            "Nothing changes for visitors.",
            0,
            "",
        )


def _enter(case: Case, work: list[Change]) -> Iterator[Draft]:
    if not work:
        return
    counts = {move: sum(change.move == move for change in work) for move in ("remove", "replace", "add")}
    said = ", ".join(f"{count} to {move}" for move, count in counts.items() if count)
    yield Draft(
        "enter",
        "DNS host",
        f"Enter the records ({said})",
        f"Type them from `homepath sheet` into the form of {case.notation.host}, "
        "or let `homepath send` enter them if the host takes signed updates.",
        "`homepath watch --once` says that every authoritative server gives the new records.",
        0,
        "`homepath log` shows what stood there before; enter that again.",
    )


def _await(case: Case, work: list[Change], absent_ttl: int) -> Iterator[Draft]:
    waits = [record.ttl if (record := case.zone.get(change.name, change.type)) else absent_ttl for change in work]
    if not waits:
        return
    lowered = LOWERED if _in_use(case, work) else None
    yield Draft(
        "spread",
        "here",
        "Wait until caches have let go of the old answers",
        "Nothing needs to be done. `homepath watch` shows what is waited for, and until when at the latest.",
        "`homepath watch` ends by itself and says: settled.",
        max(waits) if lowered is None else max(lowered, absent_ttl),
        "",
    )


def _hand_over(case: Case, work: list[Change]) -> Iterator[Draft]:
    survey = case.survey
    ttl = survey.delegation.ttl if survey and survey.delegation else 172800
    kept = sorted({f"{shown(c.name)} {c.type}" for c in _to_carry(case)})
    if kept:
        yield Draft(
            "carry",
            "builder",
            "Enter everything that must come along at the new name servers",
            f"Before the switch, the new zone needs: {', '.join(kept)}.",
            "Each of these answers the same at the new servers as at the old ones.",
            0,
            "",
        )
    if survey and survey.delegation and survey.delegation.signed:
        yield Draft(
            "unsign",
            "registrar",
            "Take the DS record away",
            f"Switch DNSSEC off for {shown(case.domain)} at the registrar, and wait.",
            "The parent no longer gives a DS record.",
            max(ttl, 86400),
            "Switch DNSSEC on again.",
        )
    servers = ", ".join(map(shown, case.wanted.nameservers))
    done = not [change for change in work if change.type == "NS"]
    if not done:
        yield Draft(
            "name-servers",
            "registrar",
            f"Enter the {len(case.wanted.nameservers)} new name servers",
            f"Replace all present name servers of {shown(case.domain)} by exactly these: {servers}. "
            "Do not delete the old zone for now: caches still ask it.",
            "`homepath survey` names these servers, and no others.",
            0,
            "Enter the old name servers again.",
        )
        own = case.zone.get(case.domain, "NS")
        yield Draft(
            "spread",
            "here",
            "Wait until caches have let go of the old name servers",
            "Nothing needs to be done; keep the old zone alive until then.",
            "`homepath watch` says: settled.",
            max(ttl, own.ttl if own else 0),
            "",
        )


def _to_carry(case: Case) -> list[Change]:
    """What the website does not replace: mail, mail authentication, proofs, other names."""
    found = []
    for record in case.zone:
        kind = case.purpose(record)[0]
        web = kind == "website" and record.name in case.wanted.names
        if kind != "delegation" and not web:
            found.append(Change("keep", record.name, record.type, record.ttl, record.values, record.values, kind, ""))
    return found


def _builder_looks(case: Case) -> Iterator[Draft]:
    yield Draft(
        "verify",
        "builder",
        f"Let {case.wanted.builder} check again",
        f"Press the check button in {case.wanted.builder}'s settings, or wait for its own next look.",
        "The domain is shown as connected.",
        case.wanted.https.longest_wait,
        "",
    )


def _certificate(case: Case) -> Iterator[Draft]:
    days = case.wanted.https.issuing_days
    when = f" It is issued only on {', '.join(days)}." if days else ""
    yield Draft(
        "certificate",
        "certificate authority",
        "Wait for the certificate",
        f'{case.wanted.builder} orders it by itself once it sees the records. "Not secure" until then is normal.{when}',
        "The browser shows the padlock on every address.",
        case.wanted.https.longest_wait,
        "",
    )


def _visit(case: Case) -> Iterator[Draft]:
    yield Draft(
        "visit",
        "here",
        "Try every way in",
        "Run `homepath visit`.",
        f"All ways end at {case.wanted.primary_url}",
        0,
        "",
    )
