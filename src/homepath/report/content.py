"""What a page about one domain says: for the owner in plain words, for support each record exactly."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from markupsafe import Markup

from homepath.core.dns.names import shown
from homepath.core.files.sheet import Job
from homepath.core.findings.registry import kind_of
from homepath.core.model.findings import Finding
from homepath.core.model.steps import Assessment, Step
from homepath.core.model.survey import ServerSeen, State
from homepath.core.model.times import rfc3339
from homepath.core.wording.overview import Noticed, Overview, StepLine, noticed, overview
from homepath.core.wording.say import say
from homepath.core.wording.times import anded, lasting, sentence_start, utc_words
from homepath.core.wording.visit_words import certificate_words, certificates_of, verdict_words, visitor_gets
from homepath.core.wording.words import TITLES
from homepath.report.figures import Drawn, forecast_drawn, spread_drawn
from homepath.report.pictures import certificate_picture, way_picture
from homepath.report.records import Facts, Row, keep_words, record_rows, to_keep


@dataclass(frozen=True, slots=True)
class ForSupport:
    """What the template for support speaks of beside the owner's page."""

    facts: tuple[tuple[str, str], ...]
    exact: tuple[Row, ...]
    servers: tuple[ServerSeen, ...]
    resolvers: tuple[str, ...]
    resolvers_at: float | None
    hops: tuple[str, ...]


def for_support(facts: Facts) -> ForSupport:
    survey, spread, visit = facts.evidence.survey, facts.evidence.spread, facts.evidence.visit
    return ForSupport(
        tuple(_facts(facts)),
        tuple(record_rows(facts, exactly=True)),
        survey.servers if survey else (),
        tuple(_resolvers(facts)),
        spread.at if spread else None,
        tuple(
            f"{hop.url}: {hop.status or say(hop.detail) or 'no answer'}"
            + (f" to {hop.location}" if hop.location else "")
            + (f" ({hop.address})" if hop.address else "")
            for hop in {hop.url: hop for way in (visit.ways if visit else ()) for hop in way.hops}.values()
        ),
    )


def _facts(facts: Facts) -> Iterator[tuple[str, str]]:
    wanted, survey = facts.case.wanted, facts.evidence.survey
    yield "domain", shown(facts.case.domain)
    yield "addresses that should reach the site", anded(shown(name) for name in wanted.names)
    yield "primary address", wanted.primary_url
    yield "builder", facts.builder
    if wanted.free_address:
        yield "the site's own name at the builder", shown(wanted.free_address)
    if survey is None:
        return
    if survey.delegation is not None:
        signed = {"none": "not signed", "good": "signed, valid", "broken": "signed, not valid"}
        delegation = survey.delegation
        yield (
            "delegation",
            f"{' and '.join(shown(each) for each in delegation.servers)}; TTL {delegation.ttl} s; "
            + signed.get(
                delegation.signatures,
                "signed, not checked" if delegation.signed else "whether it is signed is not known",
            ),
        )
    if survey.registration is not None:
        registration = survey.registration
        ends = f", ends {rfc3339(registration.expires)}" if registration.expires is not None else ""
        yield "registration", f"{registration.registrar}{ends}; {', '.join(registration.statuses)}"
    edge = facts.evidence.edge
    if edge is not None and not facts.assessment.arrived:
        knows = {True: "serves the primary address", False: "does not know the primary address", None: "did not say"}
        yield "the builder's servers", f"{knows[edge.knows]} ({rfc3339(edge.at)})"


_RESOLVERS: dict[State, str] = {
    "new": "new record",
    "old": "still the old record",
    "mixed": "old and new values together",
    "absent": "no record",
    "other": "another value",
    "silent": "no answer",
    "broken": "an answer that cannot be used",
}


def _resolvers(facts: Facts) -> Iterator[str]:
    """Which resolvers return what. A record that was not entered yet is omitted: no resolver can have it."""
    spread = facts.evidence.spread
    for record in spread.records if spread else ():
        states: dict[State, list[str]] = {}
        for reading in record.readings:
            if reading.role == "resolver":
                states.setdefault(reading.state, []).append(reading.vantage)
        line = "; ".join(f"{_RESOLVERS[state]}: {', '.join(who)}" for state, who in states.items())
        if line and record.verdict != "not-entered":
            yield f"{record.type} at {shown(record.name)}: {say(line)}"


@dataclass(frozen=True, slots=True)
class WayLine:
    url: str
    words: str
    picture: Markup


@dataclass(frozen=True, slots=True)
class Lock:
    hosts: str
    words: str
    picture: Markup


@dataclass(frozen=True, slots=True, kw_only=True)
class Page:
    """What the templates for one domain speak of."""

    top: Overview
    head: str
    now: float
    seen_at: float | None
    visited_at: float | None
    act_title: str
    jobs: tuple[Job, ...]
    findings: tuple[tuple[str, tuple[Noticed, ...]], ...]
    steps: tuple[tuple[StepLine, str], ...]
    records: tuple[Row, ...]
    stays: str
    ways_words: str
    ways: tuple[WayLine, ...]
    certificates: tuple[Lock, ...]
    spread: Drawn | None
    forecast: Drawn | None
    keep: tuple[str, ...]


def for_owner(facts: Facts) -> Page:
    """Everything of a page, in words."""
    assessment, evidence = facts.assessment, facts.evidence
    top, visit = overview(assessment, facts.builder, facts.host), evidence.visit
    odd = [each for each in assessment.notes if kind_of(each).who == "resolver"]  # changes nothing for the owner
    rest = [each for each in (*assessment.because, *assessment.notes) if each.level != "blocker" and each not in odd]
    return Page(
        top=top,
        head=sentence_start(f"It {top.arrived}") if top.arrived else _head(top, assessment),
        now=facts.now,
        seen_at=evidence.survey.at if evidence.survey else None,
        visited_at=visit.at if visit else None,
        act_title=_act_title(top),
        jobs=facts.jobs,
        findings=_groups(rest),
        steps=tuple((line, _time(line.step)) for line in top.steps),
        records=tuple(record_rows(facts)),
        stays=keep_words(facts),
        ways_words=verdict_words(visit) if visit else "",
        ways=tuple(
            WayLine(entry.url, visitor_gets(entry, assessment.undoing), way_picture(entry))
            for entry in (visit.ways if visit else ())
        ),
        certificates=tuple(_locks(facts)),
        spread=spread_drawn(facts),
        forecast=forecast_drawn(facts),
        keep=tuple(to_keep(facts)),
    )


def _head(top: Overview, assessment: Assessment) -> str:
    title = say(assessment.step.title) if assessment.step else ""
    return f"Step {top.number} of {top.count}: {title}."


def _act_title(top: Overview) -> str:
    if top.until is not None:
        return "Nothing to do"
    return f"The one next thing, {top.place}" if top.place else "Nothing to do"


def _time(step: Step) -> str:
    if step.state == "done" and step.since is not None:
        return utc_words(step.since)
    if step.state == "waiting" and step.until is not None:
        return f"until {utc_words(step.until)}"
    if step.state in ("now", "ahead") and step.longest_wait:
        return f"at most {lasting(step.longest_wait)}"
    return ""


def _groups(findings: Sequence[Finding]) -> tuple[tuple[str, tuple[Noticed, ...]], ...]:
    found = ((title, noticed([each for each in findings if each.level == level])) for level, title in TITLES.items())
    return tuple((title, some) for title, some in found if some)


def _locks(facts: Facts) -> Iterator[Lock]:
    visit = facts.evidence.visit
    if visit is None:
        return
    groups: dict[str, list[str]] = {}
    seen = certificates_of(visit)
    for host, certificate in seen.items():
        groups.setdefault(certificate_words(certificate), []).append(host)
    for words, hosts in groups.items():
        yield Lock(anded(hosts), words, certificate_picture(seen[hosts[0]], facts.now))
