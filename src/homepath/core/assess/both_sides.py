"""What the evidence says of a domain's nameservers and records, on both sides of a hand-over."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from homepath.core.dns.records import Key, RecordSet, Zone
from homepath.core.message import Text, msg
from homepath.core.model.acts import Where
from homepath.core.model.evidence import Content, Evidence, new_side_zone, right_since_seen
from homepath.core.model.plan import PURPOSES, Change, DesiredSet, Plan
from homepath.core.model.steps import Step
from homepath.core.model.survey import Compared, RecordCompared
from homepath.core.plan.difference import in_use
from homepath.core.plan.job import job, right_since
from homepath.core.plan.new_zone import Due, due, to_enter
from homepath.core.site.case import Case
from homepath.core.site.wanted import HandOver
from homepath.core.site.zone_facts import handed_over


@dataclass(frozen=True)
class Seen:
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
    def former_host(self) -> Text:
        """Who ran the domain before."""
        return self.case.former or msg("former-host")

    @cached_property
    def compared(self) -> Compared | None:
        """The last check of both sides, as far as it is about the servers that are to take over now."""
        found, over = self.evidence.compared, self.over
        if found is None or over is None or set(found.target) != set(over.servers):
            return None
        return found

    @property
    def ready(self) -> bool:
        """Whether the servers that are to take over were last seen to give all that they must."""
        return self.compared is not None and self.compared.held and self.compared.verdict == "ready"

    @cached_property
    def dues(self) -> tuple[Due, ...]:
        """Everything that the new nameservers are to give."""
        return due(self.case) if self.over is not None else ()

    @cached_property
    def new_zone(self) -> Zone:
        """What the new nameservers were last seen to hold; nothing where they do not hold the domain."""
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
        confirmed = [at for step in ("claim", "new-zone", "carry") if (at := self.confirmed(step)) is not None]
        return max([*seen, *confirmed], default=self.now)

    @cached_property
    def parents_behind(self) -> tuple[str, ...]:
        """Servers of the parent zone that do not name the new servers yet, by the last check of them."""
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
    def desired(self) -> tuple[DesiredSet, ...]:
        """Everything that the whole job sets or removes."""
        return job(self.case)

    @cached_property
    def used(self) -> dict[Key, int]:
        return in_use(self.case)

    @property
    def handed_over(self) -> bool:
        """Whether the parent names the wanted nameservers and no others."""
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
        known = right_since(self.case, self.evidence.contents, self.desired)
        return known if known is not None else self.evidence.survey.at if self.evidence.survey else self.now

    @cached_property
    def switched_at(self) -> float | None:
        """From when on the parent was seen to name the new nameservers; None where it does not. Unix seconds."""
        if self.over is None or not self.handed_over:
            return None
        seen = right_since_seen(self.source_contents, DesiredSet(self.case.domain, "NS", self.over.servers))
        return self.now if seen is None else seen

    @property
    def source_contents(self) -> Sequence[Content]:
        """Whose word decides: the zone's own servers, or the parent's where the nameservers change."""
        if not self.by_servers:
            return self.evidence.contents
        return [replace(each, source="zone") for each in self.evidence.contents if each.source == "parent"]

    def confirmed(self, step_id: str) -> float | None:
        """When the person said that a step is done."""
        return self.evidence.confirmed.get(step_id)

    def was(self, step_id: str) -> Step | None:
        """The step as it was before."""
        return next((step for step in self.evidence.remembered if step.id == step_id), None)

    def done_since(self, step_id: str, seen: float) -> float:
        """Since when a step is done, that was seen to be done now: a later check does not move the time."""
        before = self.was(step_id)
        return before.since if before and before.state == "done" and before.since is not None else seen


def _taken_out(each: RecordCompared, there: RecordSet) -> Change:
    why = msg("taken-out.why")
    return Change("remove", each.name, each.type, there.ttl, (), there.values, each.purpose, why, there.ttl)
