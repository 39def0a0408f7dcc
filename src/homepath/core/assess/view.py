"""What the evidence says, once for all steps."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from homepath.core.dns.names import Name, is_within
from homepath.core.dns.records import JOINED_TYPES, LED_TO, Key, RecordSet, Zone
from homepath.core.findings import kept
from homepath.core.findings.registry import RULES, kind_of
from homepath.core.model.acts import Wait, Where
from homepath.core.model.compared import Compared, RecordCompared
from homepath.core.model.evidence import (
    BuilderSays,
    BuilderWait,
    Evidence,
    builder_says,
    builder_waited_since,
    new_side_zone,
)
from homepath.core.model.findings import Finding, Level, worst_first
from homepath.core.model.history import Content, right_since_seen
from homepath.core.model.meant import Meant
from homepath.core.model.plan import PURPOSES, Change, Plan
from homepath.core.model.steps import Step
from homepath.core.model.visits import Visit
from homepath.core.plan.difference import in_use
from homepath.core.plan.guard import loss_findings, losses
from homepath.core.plan.job import job, right_since
from homepath.core.plan.new_zone import Due, due, to_enter
from homepath.core.propagation.verdicts import last_copy
from homepath.core.site.case import Case
from homepath.core.site.wanted import HandOver
from homepath.core.site.zone_facts import came_later, handed_over

RULED = frozenset(rule.code for rule in RULES) | {kind.code for kind in kept.KINDS}
"""What the rules and the guard find again from the journal, so that what an earlier check said of it is over."""
LOOKED_AT = ("signature-broken",)
"""Of these, what a propagation check tries anew."""
HARD_TYPES = ("A", "AAAA", "CNAME", "HTTPS", "SVCB", "NS", "DS")
"""Types whose old answers lead visitors astray; the end is not reached while a cache may hold one."""


@dataclass(frozen=True)
class View:
    """One domain at one moment; `now` in Unix seconds."""

    case: Case
    plan: Plan
    evidence: Evidence
    now: float

    @property
    def over(self) -> HandOver | None:
        """The hand-over that this way is, if it is one."""
        return self.case.wanted.hand_over

    @property
    def by_servers(self) -> bool:
        return self.over is not None

    @property
    def new_side(self) -> Where:
        """How the side that takes over is called. Going back, that is the DNS host of before."""
        return "DNS host" if self.case.wanted.going == "back" else "new DNS host"

    @property
    def host_side(self) -> Where:
        """Where the zone that counts now is edited."""
        if self.over is not None and self.handed_over:
            return self.new_side
        return "new DNS host" if self.over is not None and self.case.wanted.going == "back" else "DNS host"

    @property
    def former_host(self) -> str:
        """Who ran the domain before."""
        return self.case.former or "the former DNS host"

    @cached_property
    def compared(self) -> Compared | None:
        """The last look at both sides, as far as it is about the servers that are to take over now."""
        found, over = self.evidence.compared, self.over
        if found is None or over is None or set(found.target) != set(over.servers):
            return None
        return found

    @cached_property
    def dues(self) -> tuple[Due, ...]:
        """Everything that the new name servers are to give."""
        return due(self.case) if self.over is not None else ()

    @cached_property
    def new_zone(self) -> Zone:
        """What the new name servers were last seen to hold; nothing where they do not hold the domain."""
        if self.compared is None or not self.compared.held:
            return Zone(self.case.domain)
        return new_side_zone(self.case.domain, self.evidence.contents)

    @cached_property
    def to_enter(self) -> tuple[Change, ...]:
        """What is left to type at the new host before the switch."""
        if self.over is None or self.handed_over:
            return ()
        every = [change for each in self.dues for change in to_enter(each, self.new_zone.get(*each.key))]
        found = list({(change.name, change.type): change for change in every}.values())
        keys = {(change.name, change.type) for change in found}
        for each in self.compared.hindering if self.compared is not None else ():
            # what only another server lacks is not typed again: that server has to follow
            there = self.new_zone.get(*each.key)
            stray = each.state == "extra" and not each.wanted and not each.theirs
            if stray and there is not None and each.key not in keys:
                found.append(_taken_out(each, there))
        return tuple(sorted(found, key=lambda c: (PURPOSES.index(c.purpose), c.name, bool(c.values), c.type)))

    @property
    def new_side_changed(self) -> float:
        """When the new side was last seen to change, or the person said to have done something there."""
        seen = [each.first_at for each in self.evidence.contents if each.source == "new"]
        told = [at for step in ("claim", "new-zone", "carry") if (at := self.told(step)) is not None]
        return max([*seen, *told], default=self.now)

    @cached_property
    def parents_behind(self) -> tuple[str, ...]:
        """Servers of the zone above that do not name the new servers yet, by the last look at them."""
        spread, survey = self.evidence.spread, self.evidence.survey
        if spread is None or survey is None or spread.at < survey.at - 60:
            return ()
        readings = (r for each in spread.records if each.type == "NS" for r in each.readings if r.role == "parent")
        return tuple(dict.fromkeys(r.vantage for r in readings if r.state not in ("new", "silent", "broken")))

    @property
    def builder(self) -> str:
        return self.case.wanted.builder

    @cached_property
    def work(self) -> tuple[Change, ...]:
        """What is left to enter at the DNS host that counts now."""
        if self.over is not None and not self.handed_over:
            return ()
        return tuple(change for change in self.plan.work if change.type != "NS" or change.name != self.case.domain)

    @cached_property
    def meant(self) -> tuple[Meant, ...]:
        """Everything that the whole job sets or removes."""
        return job(self.case, self.plan.changes)

    @cached_property
    def used(self) -> dict[Key, int]:
        return in_use(self.case)

    @property
    def handed_over(self) -> bool:
        """Whether the parent names the wanted name servers and no others."""
        return handed_over(self.case)

    @cached_property
    def source_right(self) -> bool:
        """Whether the domain's own servers, or the parent, say everything that is wanted."""
        if self.over is not None:
            return self.handed_over and not self.work
        return not self.work

    @cached_property
    def right_since(self) -> float:
        """From when on the source was seen to be right; now where that moment is not known. Unix seconds."""
        known = right_since(self.case, self.evidence.contents, self.meant)
        return known if known is not None else self.evidence.survey.at if self.evidence.survey else self.now

    @cached_property
    def switched_at(self) -> float | None:
        """From when on the parent was seen to name the new name servers; None where it does not. Unix seconds."""
        if self.over is None or not self.handed_over:
            return None
        seen = right_since_seen(self.said_at_source, Meant(self.case.domain, "NS", self.over.servers))
        return self.now if seen is None else seen

    @property
    def said_at_source(self) -> Sequence[Content]:
        """Whose word decides: the zone's own servers, or the parent's where the name servers change."""
        if not self.by_servers:
            return self.evidence.contents
        return [replace(each, source="zone") for each in self.evidence.contents if each.source == "parent"]

    @cached_property
    def caches(self) -> Wait | None:
        """The wait for caches to let go of what was replaced; None where it is over.

        Once visitors arrive, what only a builder or a mail server asks for no longer holds anything up.
        """
        meants = self.meant
        if self.over is not None:
            domain = self.case.domain
            names = [Meant(name, rrtype) for name in self.case.wanted.names for rrtype in LED_TO]
            names = names if self.over.by_builder else []
            meants = (*meants, Meant(domain, "NS", self.over.servers), Meant(domain, "DS"), *names)
        if self.arrived_web:
            meants = tuple(each for each in meants if each.type in HARD_TYPES)
        found = last_copy(self.evidence.contents, meants, self.now)
        spread = self.evidence.spread
        if spread is None or spread.verdict != "spreading":
            return found
        seen = spread.settled_by
        fresh = spread.at >= self.right_since or not self._any_copies(meants)
        if fresh and seen is not None and seen > max(self.now, found.until + 5 if found else 0.0):
            return Wait(float(-(-seen // 1)), found.cause if found else "caches")
        return found

    def _any_copies(self, meants: Sequence[Meant]) -> bool:
        """Whether the journal knows of any earlier content; then no cache's own countdown is needed."""
        return last_copy(self.evidence.contents, meants, float("-inf")) is not None

    @cached_property
    def visit(self) -> Visit | None:
        """The last visit, as far as it tells of the new site: one from before the change does not."""
        seen = self.evidence.visit
        return seen if seen and self.source_right and seen.at >= self.right_since - 1 else None

    @cached_property
    def arrived_web(self) -> bool:
        return self.visit is not None and self.visit.verdict == "arrived"

    @cached_property
    def visit_of_now(self) -> Visit | None:
        """The last visit, if nothing that leads visitors to the primary address has changed since."""
        names, seen = {self.case.domain, self.case.wanted.primary}, self.evidence.visit
        led = [each for each in self.evidence.contents if each.record.name in names and each.record.type in HARD_TYPES]
        changed = max((each.first_at for each in led), default=0.0)
        return seen if seen is not None and seen.at >= changed - 1 else None

    @cached_property
    def site_up(self) -> bool | None:
        """Whether visitors reach the site at its primary address: a visit tells, if nothing has changed since; else
        only wrong records tell, that it cannot be."""
        wanted, seen = self.case.wanted, self.visit_of_now
        if wanted.going != "there":
            return None
        way = next((way for way in seen.ways if way.url == wanted.primary_url), None) if seen else None
        if way is not None:
            return way.state == "arrived"
        if self.evidence.survey is None or any(each.name == wanted.primary for each in self.case.unknown.values()):
            return None
        there = self.handed_over if self.over is not None else not self.work_at(wanted.primary)
        return None if there else False

    def work_at(self, name: Name) -> tuple[Change, ...]:
        """What is left to enter of what leads visitors at a name."""
        return tuple(each for each in self.work if each.name == name and each.type in HARD_TYPES)

    @cached_property
    def unchecked(self) -> bool:
        """Whether no server of the domain answered at the last check."""
        spread, survey, visit = self.evidence.spread, self.evidence.survey, self.evidence.visit
        if (
            spread is None
            or spread.verdict != "unknown"
            or spread.at <= max(survey.at if survey else 0.0, visit.at if visit else 0.0)
        ):
            return False
        source = [each for record in spread.records for each in record.readings if each.role == "authoritative"]
        return all(each.state in ("silent", "broken") for each in source)

    @cached_property
    def unaware(self) -> bool:
        """Whether the builder's edge was seen not to serve a name, though DNS leads there."""
        return self.visit is not None and any(finding.code == "builder-unaware" for finding in self.visit.findings)

    @cached_property
    def served(self) -> bool:
        """Whether the builder was seen to serve the site under its name."""
        edge = self.evidence.edge
        if self.visit is not None:
            ends = [way.hops[-1].status for way in self.visit.ways if way.hops]
            return not self.unaware and any(status is not None and status < 400 for status in ends)
        return edge is not None and edge.knows is True

    def told(self, step_id: str) -> float | None:
        """When the person said that a step is done."""
        return self.evidence.told.get(step_id)

    def was(self, step_id: str) -> Step | None:
        """The step as it stood before."""
        return next((step for step in self.evidence.remembered if step.id == step_id), None)

    def findings(self, *codes: str) -> tuple[Finding, ...]:
        return tuple(each for each in self.open if each.code in codes)

    @cached_property
    def open(self) -> tuple[Finding, ...]:
        """Whatever any check found and still holds, each once and at its final level, worst first."""
        spread, compared = self.evidence.spread, self.compared
        found = [*loss_findings(self.case, losses(self.case, self.meant)), *self.plan.findings]
        if spread is not None:
            later = self.evidence.survey is None or spread.at > self.evidence.survey.at
            found += [each for each in spread.findings if each.code not in RULED or (later and each.code in LOOKED_AT)]
        if self.visit is not None:
            found += self.visit.findings
        elif self.evidence.visit is not None and self.case.wanted.going == "there":
            found += [each for each in self.evidence.visit.findings if kind_of(each).matters_before]
            now = self.visit_of_now
            found += [each for each in (now.findings if now else ()) if each.level == "blocker"]
        if compared is not None and not self.handed_over:
            found += compared.findings
        first: dict[tuple[str, Name, str], Finding] = {}
        for each in found:
            first.setdefault((each.code, each.name, each.type), replace(each, level=self.level_of(each)))
        return tuple(worst_first(list(first.values())))

    def level_of(self, each: Finding) -> Level:
        """The one place where a level is decided, from the usual one and from what is known of the domain.

        A typing mistake is always in the way: waiting does not help. What the plan's own records fix, and what goes by
        itself in its usual time, is only worth knowing.
        """
        kind = kind_of(each)
        if kind.typed or (kind.explains and each.name in self.typed_wrong):
            return "blocker"
        if kind.waited_for and self.builder_wait is not None and not self.builder_wait.over(self.now):
            return "note"
        if kind.by_records and each.level == "risk" and any(_fixes(change, each) for change in self.work):
            return "note"
        return each.level

    @cached_property
    def typed_wrong(self) -> frozenset[Name]:
        """Names at which a record came after the first check and is not what was meant; what explains it better, a
        typing mistake at the name, is left to that."""
        slips = {each.name for each in self.plan.findings if kind_of(each).typed}
        meants = {each.key: each for each in self.meant}
        found = set()
        for change in self.work:
            record, meant = self.case.zone.get(change.name, change.type), meants.get((change.name, change.type))
            if record is None or record.type in JOINED_TYPES or record.name in slips or meant is None:
                continue
            if meant.unwanted(record) and came_later(self.case, record):
                found.add(record.name)
        return frozenset(found)

    @cached_property
    def builder_says(self) -> BuilderSays | None:
        """What the person last read in the builder's settings, since its check was last asked for."""
        since = max(self.evidence.told.get("claim", 0.0), self.evidence.told.get("check-again", 0.0))
        return builder_says(self.evidence.told, since)

    @cached_property
    def builder_wait(self) -> BuilderWait | None:
        """The wait for the builder's check and its certificate; None while DNS is not right."""
        if not self.source_right:
            return None
        began = builder_waited_since(self.evidence, self.right_since)
        https = self.case.wanted.https
        return None if began is None else BuilderWait(began, https.usual_wait, https.longest_wait)


def _fixes(change: Change, each: Finding) -> bool:
    """Whether a change is about what was found: at its name, or, where a name inherits it, at one above."""
    return change.name == each.name or (change.type == each.type and is_within(each.name, change.name))


def _taken_out(each: RecordCompared, there: RecordSet) -> Change:
    why = "it would lead elsewhere what must come along"
    return Change("remove", each.name, each.type, there.ttl, (), there.values, each.purpose, why, there.ttl)
