"""Every address that a visitor may type, and the builder's servers ahead of the change."""

from __future__ import annotations

import asyncio
from dataclasses import replace

from homepath.app.driving import Driver, chosen_resolver
from homepath.app.project import Project
from homepath.app.survey import is_now, up_to_date
from homepath.core.dns.records import WEB_TYPES
from homepath.core.findings.registry import kind_of
from homepath.core.message import msg
from homepath.core.model.evidence import EdgeSeen
from homepath.core.model.findings import Finding, worst_first
from homepath.core.model.visits import Visit
from homepath.core.observe.visit import ahead_check, builder_check, together, visit_check
from homepath.core.plan.guard import loss_findings, losses
from homepath.core.plan.job import job
from homepath.core.site.zone_facts import handed_over
from homepath.core.web.known import hsts_seen
from homepath.core.wording.say import say
from homepath.net.network_file import Network
from homepath.net.session import Session, session


async def visit(
    project: Project, network: Network, through: str | None = None, within: Session | None = None, alone: bool = False
) -> Visit:
    """Visit http and https at every name of the site and of its further domains.

    `alone`: only this domain. `through`: label or address of a resolver to look names up with, instead of the
    authoritative servers. `within`: the session of a larger check, which made a survey. Raises CouldNotCheck when no
    nameserver could be asked, BadInput for an unknown resolver.
    """
    server = chosen_resolver(network, through) if through else None
    projects = [project] if alone else project.all_domains(network.clock.now())
    mine = within or session(network)
    if within is None and through is None:
        projects = [await up_to_date(each, network, mine) for each in projects]

    async def one(each: Project) -> Visit:
        driver = Driver(network, mine, server, builders(each))
        findings = each.plan().findings if each.evidence.survey is not None else ()
        return await driver.drive(visit_check(each.case, each.evidence, server is not None, findings))

    now = network.clock.now()
    seen = await asyncio.gather(*(one(each) for each in projects))
    found = [_as_expected(each, visit, now) for each, visit in zip(projects, seen, strict=True)]
    if through is None:
        for each, visit in zip(projects, found, strict=True):
            keep(each, visit)
    whole = together(found)
    lost = [each for project in projects for each in _lost(project)]
    return replace(whole, findings=tuple(worst_first([*lost, *whole.findings])))


def _as_expected(project: Project, seen: Visit, now: float) -> Visit:
    """The visit, judged by where the domain is on its way: before the change, the old site is no one's fault. Where DNS
    already points a name to the new one, something has been entered, and all of it counts."""
    there = project.wanted.going == "there"
    if any(each.level == "blocker" for each in seen.findings) or (there and (seen.verdict != "broken" or seen.led)):
        return seen
    if not (expected := _expected(project, now)):
        return seen
    known_before = tuple(each for each in seen.findings if kind_of(each).matters_before)
    return replace(seen, verdict="waiting", expected=expected, findings=known_before)


_TURNED = {
    ("back", False): msg("visit.turned"),
    ("away", False): msg("visit.turned-2"),
    ("back", True): msg("visit.over"),
    ("away", True): msg("visit.over-2"),
}


def _expected(project: Project, now: float) -> str:
    """Before anything is entered, addresses that still reach the old site are as expected; says which step changes
    that."""
    if project.wanted.going != "there":
        arrived = project.evidence.survey is not None and project.assess(now).arrived
        return say(_TURNED[project.wanted.going, arrived])
    if project.evidence.survey is None:
        return say(msg("visit.unknown"))
    case = project.case
    web = [want for want in case.wanted.wants if want.record.type in WEB_TYPES]
    switches = case.wanted.hand_over is not None and not handed_over(case)
    if not switches and any(want.met_by(case.zone.get(*want.record.key)) for want in web):
        return ""
    assessment = project.assess(now)
    entry = assessment.find("enter") or assessment.find("name-servers")
    blockers = map(kind_of, assessment.blockers)
    wrong = any(kind.in_record or kind.by_records or (kind.about_domain and not kind.fixed_by) for kind in blockers)
    if wrong or entry is None or entry.state not in ("now", "ahead"):
        return ""
    first = None if assessment.step == entry or assessment.step is None else assessment.step.title
    return say(msg("visit.expected", entry=entry.title, first=first))


def _lost(project: Project) -> tuple[Finding, ...]:
    """What was to stay and is missing, as far as the journal knows."""
    case = project.case
    return loss_findings(case, losses(case, job(case)))


async def revisit(project: Project, network: Network, within: Session) -> None:
    """After a check on its own of a site that had arrived: visit it as well, and where that fails ask the builder's
    servers, so that the order of commands makes no difference. Not where the last visit is one of now."""
    now = network.clock.now()
    project = project.fresh(now)
    seen, survey = project.evidence.visit, project.evidence.survey
    if seen is None or is_now(seen.at, now) or survey is None or not survey.held:
        return
    if project.evidence.arrived_at is None or project.wanted.going != "there" or project.work:
        return
    if seen.verdict != "arrived":  # before the visit, which is judged by what the builder's servers say now
        await ask_edge(project, network, within)
    found = await visit(project.fresh(now), network, within=within, alone=True)
    if seen.verdict == "arrived" and found.verdict != "arrived":
        await ask_edge(project, network, within)


async def ahead(project: Project, network: Network) -> Visit:
    """Ask the builder's servers for the site under its new names, wherever DNS points today.

    Raises CouldNotCheck when the brief names no address of the builder that can be asked.
    """
    found = await Driver(network, session(network), builders=builders(project)).drive(ahead_check(project.case))
    keep(project, found)
    return found


async def ask_edge(project: Project, network: Network, within: Session | None = None) -> EdgeSeen:
    """Ask the builder's servers whether they serve the primary address yet, and keep the answer."""
    driver = Driver(network, within or session(network), builders=builders(project))
    found = await driver.drive(builder_check(project.case))
    before = project.evidence.edge
    if before is not None and before.at < (project.evidence.job_since or 0.0):
        before = None  # perhaps of another builder
    since = before.since if before and before.since is not None else found.at
    knew_at = found.at if found.knows else before.knew_at if before else None
    found = replace(found, since=since if found.knows else None, knew_at=knew_at)
    state = {True: "serves", False: "unaware", None: "silent"}[found.knows]
    with project.journal() as journal:
        journal.record_check(found.at, "edge", project.domain, say(msg(f"edge.{state}")), found)
    return found


def builders(project: Project) -> str | None:
    """A name of the builder's own, by which its default certificate is known."""
    free = project.wanted.free_address
    return free.removesuffix(".") if free else None


def keep(project: Project, found: Visit) -> None:
    """Into the journal, without the text of pages."""
    plain = tuple(replace(way, hops=tuple(replace(hop, page="") for hop in way.hops)) for way in found.ways)
    with project.journal() as journal:
        kind = "visit-ahead" if found.ahead else "visit"
        journal.record_check(found.at, kind, project.domain, found.verdict, replace(found, ways=plain))
        if (seen := hsts_seen(found)) is not None and not found.ahead:
            journal.record_check(found.at, "hsts", project.domain, f"{len(seen.fields)} seen", seen)
