"""What a page about one domain says: for the owner in plain words, for a support desk each entry exactly."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from markupsafe import Markup

from homepath.core.dns.names import shown
from homepath.core.files.sheet import Job
from homepath.core.message import Text
from homepath.core.model.acts import Nothing, Wait
from homepath.core.model.domain import shown_unicode
from homepath.core.model.findings import Finding
from homepath.core.model.steps import Assessment, Step
from homepath.core.model.survey import ServerSeen
from homepath.core.model.times import rfc3339
from homepath.core.wording.act_words import ENDS, Part, act_parts, place_words, wait_words
from homepath.core.wording.say import say
from homepath.core.wording.times import lasting, sentence_start, utc_words
from homepath.core.wording.visit_words import certificate_words, certificates_of, now_words, verdict_words
from homepath.core.wording.words import TITLES, by_cause, only_told, said, site_words
from homepath.report.figures import Drawn, forecast_drawn, spread_drawn
from homepath.report.pictures import certificate_picture, way_picture
from homepath.report.records import Facts, Row, kept_words, record_rows, to_keep


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
    yield "addresses that are to lead to the site", " and ".join(shown(name) for name in wanted.names)
    yield "primary address", wanted.primary_url
    yield "builder", facts.builder
    if wanted.free_address:
        yield "the site's own name at the builder", shown(wanted.free_address)
    if survey is None:
        return
    if survey.delegation is not None:
        signed = {"none": "not signed", "good": "signed, and the signatures hold", "broken": "signed, and broken"}
        delegation = survey.delegation
        yield (
            "delegation",
            f"{' and '.join(shown(each) for each in delegation.servers)}; TTL {delegation.ttl} s; "
            + signed.get(delegation.signatures, "whether it is signed is not known"),
        )
    if survey.registration is not None:
        registration = survey.registration
        ends = f", ends {rfc3339(registration.expires)}" if registration.expires is not None else ""
        yield "registration", f"{registration.registrar}{ends}; {', '.join(registration.statuses)}"
    edge = facts.evidence.edge
    if edge is not None and not facts.assessment.arrived:
        knows = {True: "serves the primary address", False: "does not know the primary address", None: "did not tell"}
        yield "the builder's edge", f"{knows[edge.knows]} ({rfc3339(edge.at)})"


def _resolvers(facts: Facts) -> Iterator[str]:
    """The verdict of each record set, and how many resolvers say what."""
    spread = facts.evidence.spread
    for record in spread.records if spread else ():
        states: dict[str, list[str]] = {}
        for reading in record.readings:
            if reading.role == "resolver":
                states.setdefault(reading.state, []).append(reading.vantage)
        said = "; ".join(f"{state}: {', '.join(who)}" for state, who in states.items())
        yield f"{record.type} at {shown(record.name)}: {record.verdict}{f' ({say(said)})' if said else ''}"


_WORDS = {"done": "done", "now": "now", "waiting": "wait", "ahead": "later", "undone": "undone"}


@dataclass(frozen=True, slots=True)
class StepLine:
    word: str
    number: int
    title: str
    time: str
    told: bool


@dataclass(frozen=True, slots=True)
class Noticed:
    words: str
    cure: str
    code: str


@dataclass(frozen=True, slots=True)
class Group:
    title: str
    found: tuple[Noticed, ...]


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

    name: str
    spelled: str
    site: str
    head: str
    now: float
    seen_at: float | None
    visited_at: float | None
    arrived: bool
    act_title: str
    act: tuple[Part, ...]
    act_note: str
    jobs: tuple[Job, ...]
    danger: tuple[Group, ...]
    findings: tuple[Group, ...]
    steps: tuple[StepLine, ...]
    records: tuple[Row, ...]
    stays: str
    ways_words: str
    ways: tuple[WayLine, ...]
    certificates: tuple[Lock, ...]
    spread: Drawn | None
    forecast: Drawn | None
    keep: tuple[str, ...]


def told(facts: Facts) -> Page:
    """Everything of a page, in words."""
    assessment, evidence = facts.assessment, facts.evidence
    name = shown_unicode(assessment.domain)
    visit = evidence.visit
    danger = [each for each in assessment.because if each.level == "blocker"]
    rest = [each for each in (*assessment.because, *assessment.notes) if each.level != "blocker"]
    return Page(
        name=name,
        spelled=shown(assessment.domain) if name != shown(assessment.domain) else "",
        site=site_words(assessment),
        head=_head(assessment),
        now=facts.now,
        seen_at=evidence.survey.at if evidence.survey else None,
        visited_at=visit.at if visit else None,
        arrived=assessment.arrived,
        act_title=_act_title(facts),
        act=tuple(_act(facts)),
        act_note=say(_act_note(assessment)),
        jobs=facts.jobs,
        danger=_groups(danger),
        findings=_groups(rest),
        steps=tuple(_step(step, facts.now) for step in assessment.steps if step.number is not None),
        records=tuple(record_rows(facts)),
        stays=kept_words(facts),
        ways_words=verdict_words(visit) if visit else "",
        ways=tuple(WayLine(way.url, now_words(way), way_picture(way)) for way in (visit.ways if visit else ())),
        certificates=tuple(_locks(facts)),
        spread=spread_drawn(facts),
        forecast=forecast_drawn(facts),
        keep=tuple(to_keep(facts)),
    )


def _head(assessment: Assessment) -> str:
    if assessment.step is None:
        return sentence_start(f"It {ENDS[assessment.going]}")
    count = sum(1 for step in assessment.steps if step.number is not None)
    return f"Step {assessment.step.number} of {count}: {say(assessment.step.title)}."


def _act_title(facts: Facts) -> str:
    step, act = facts.assessment.step, facts.assessment.act
    if step is None or isinstance(act, Nothing):
        return "Nothing has to be done"
    if isinstance(act, Wait):
        return "Nothing to do but wait"
    return f"The one next thing, {place_words(step, facts.builder, facts.host)}"


def _act(facts: Facts) -> Iterator[Part]:
    step, act = facts.assessment.step, facts.assessment.act
    if step is None or isinstance(act, Nothing):
        yield Part("Every address leads where it should, and nothing is missing of what was there before.")
        return
    if isinstance(act, Wait):
        yield Part(f"This wait lasts until {utc_words(act.until)} at the latest.")
        yield Part(wait_words(act, step, facts.builder))
        return
    yield from act_parts(act, step)


def _act_note(assessment: Assessment) -> Text:
    step = assessment.step
    if step is None or isinstance(assessment.act, Wait):
        return ""
    return step.why or (step.expect if only_told(assessment.act) else "")


def _step(step: Step, now: float) -> StepLine:
    time = ""
    if step.state == "done" and step.since is not None:
        time = utc_words(step.since)
    elif step.state == "waiting" and step.until is not None:
        time = f"until {utc_words(step.until)}"
    elif step.state in ("now", "ahead") and step.longest_wait:
        time = f"at most {lasting(step.longest_wait)}"
    return StepLine(_WORDS[step.state], step.number or 0, say(step.title), time, step.by == "told")


def _groups(findings: Sequence[Finding]) -> tuple[Group, ...]:
    found = []
    for level, title in TITLES.items():
        mine = [each for each in findings if each.level == level]
        if mine:
            noticed = tuple(Noticed(said(group), say(group[0].cure), code) for code, group in by_cause(mine))
            found.append(Group(title, noticed))
    return tuple(found)


def _locks(facts: Facts) -> Iterator[Lock]:
    visit = facts.evidence.visit
    if visit is None:
        return
    groups: dict[str, list[str]] = {}
    seen = certificates_of(visit)
    for host, certificate in seen.items():
        groups.setdefault(certificate_words(certificate), []).append(host)
    for words, hosts in groups.items():
        yield Lock(" and ".join(hosts), words, certificate_picture(seen[hosts[0]], facts.now))
