"""What the evidence says, once for all steps."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from homepath.core.model.acts import Wait
from homepath.core.model.evidence import Evidence
from homepath.core.model.findings import Finding
from homepath.core.model.history import Content, right_since_seen
from homepath.core.model.meant import Meant
from homepath.core.model.names import Name
from homepath.core.model.plan import Change, Plan
from homepath.core.model.records import Key
from homepath.core.model.steps import Step
from homepath.core.model.visits import Visit
from homepath.core.planning.job import job
from homepath.core.planning.lowering import in_use
from homepath.core.propagation.deadlines import last_copy
from homepath.core.wanted.case import Case

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
    def by_servers(self) -> bool:
        return self.plan.route == "nameservers"

    @property
    def builder(self) -> str:
        return self.case.wanted.builder

    @cached_property
    def work(self) -> tuple[Change, ...]:
        """What is left to enter at the DNS host."""
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
        survey = self.evidence.survey
        return bool(
            survey and survey.delegation and set(survey.delegation.servers) == set(self.case.wanted.nameservers)
        )

    @cached_property
    def source_right(self) -> bool:
        """Whether the domain's own servers, or the parent, say everything that is wanted."""
        return self.handed_over if self.by_servers else not self.work

    @cached_property
    def right_since(self) -> float:
        """From when on the source was seen to be right; now where that moment is not known. Unix seconds."""
        meants: Sequence[Meant] = self.meant
        if self.by_servers:
            meants = [Meant(self.case.domain, "NS", self.case.wanted.nameservers)]
        found = [right_since_seen(self.said_at_source, each) for each in meants]
        known = [at for at in found if at is not None]
        return max(known, default=self.evidence.survey.at if self.evidence.survey else self.now)

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
        if self.by_servers:
            domain = self.case.domain
            names = [Meant(name, rrtype) for name in self.case.wanted.names for rrtype in ("A", "AAAA", "CNAME")]
            meants = (Meant(domain, "NS", self.case.wanted.nameservers), Meant(domain, "DS"), *names)
        if self.arrived_web:
            meants = tuple(each for each in meants if each.type in HARD_TYPES)
        found = last_copy(self.evidence.contents, meants, self.now)
        spread = self.evidence.spread
        if spread is None or spread.verdict != "spreading" or self.arrived_web:
            return found
        seen = spread.settled_by
        fresh = spread.at > self.right_since or not self._any_copies(meants)
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

    def findings(self, *codes: str, at: Name | None = None) -> tuple[Finding, ...]:
        return tuple(f for f in self.plan.findings if f.code in codes and at in (None, f.name))
