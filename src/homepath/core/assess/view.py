"""What the evidence says, once for all steps: caches, the site, the builder, and every open finding at its level."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from homepath.core.assess.both_sides import Seen
from homepath.core.dns.names import Name, is_within, shown
from homepath.core.dns.records import JOINED_TYPES, LED_TO
from homepath.core.findings import mail
from homepath.core.findings.registry import RULES, finding, kind_of
from homepath.core.message import msg
from homepath.core.model.acts import Wait
from homepath.core.model.evidence import BuilderSays, BuilderWait, builder_says, builder_waited_since, check_pressed
from homepath.core.model.findings import Finding, Level, worst_first
from homepath.core.model.plan import Change, DesiredSet
from homepath.core.model.visits import Visit
from homepath.core.plan.guard import Loss, loss_findings, losses
from homepath.core.propagation.verdicts import last_copy
from homepath.core.site.wanted import ALIAS
from homepath.core.site.zone_facts import appeared_later, builders_addresses, leads_by_another_name
from homepath.core.web.known import host_of

RULED = frozenset(rule.code for rule in RULES) | {kind.code for kind in mail.KINDS}
"""What the rules and the guard find again from the journal, so that what an earlier check said of it is over."""
LOOKED_AT = ("signature-broken",)
"""Of these, what a propagation check tries again."""
HARD_TYPES = ("A", "AAAA", "CNAME", "HTTPS", "SVCB", "NS", "DS")
"""Types whose old answers lead visitors astray; the end is not reached while a cache may hold one."""


@dataclass(frozen=True)
class View(Seen):
    """All of it, with what the web shows and what is open."""

    @cached_property
    def caches(self) -> Wait | None:
        """The wait until caches have dropped what was replaced; None where it is over.

        Once visitors arrive, what only a builder or a mail server asks for no longer holds anything up.
        """
        desired = self.desired
        if self.over is not None:
            domain = self.case.domain
            names = [DesiredSet(name, rrtype) for name in self.case.wanted.names for rrtype in LED_TO]
            names = names if self.over.by_builder else []
            desired = (*desired, DesiredSet(domain, "NS", self.over.servers), DesiredSet(domain, "DS"), *names)
        if self.arrived_web:
            desired = tuple(each for each in desired if each.type in HARD_TYPES)
        found = last_copy(self.evidence.contents, desired, self.now)
        spread = self.evidence.spread
        if spread is None or spread.verdict != "spreading":
            return found
        seen = spread.settled_by
        fresh = spread.at >= self.right_since or not self._any_copies(desired)
        if fresh and seen is not None and seen > max(self.now, found.until + 5 if found else 0.0):
            return Wait(float(-(-seen // 1)), found.cause if found else "caches")
        return found

    def _any_copies(self, desired: Sequence[DesiredSet]) -> bool:
        """Whether the journal knows of any earlier content; then no cache's own countdown is needed."""
        return last_copy(self.evidence.contents, desired, float("-inf")) is not None

    @cached_property
    def visit(self) -> Visit | None:
        """The last visit, as far as it tells of the new site: one from before the change does not."""
        seen = self.evidence.visit
        return seen if seen and self.source_right and seen.at >= self.right_since - 1 else None

    @cached_property
    def arrived_web(self) -> bool:
        return self.visit is not None and self.visit.verdict == "arrived"

    @cached_property
    def had_arrived(self) -> bool:
        """Whether the site had arrived before this check: what harms it now is a fault, not a step ahead."""
        before = self.was("visit")
        visited = before is not None and before.state in ("done", "undone")
        return self.case.wanted.going == "there" and (visited or self.evidence.arrived_at is not None)

    @cached_property
    def entered_once(self) -> bool:
        """Whether an earlier check found every record of the brief, or the builder's own nameservers run the domain:
        what is wrong with the records now came later."""
        wants = [want for want in self.case.wanted.wants if want.record.type != ALIAS and not want.optional]
        seen = [each.record for each in self.evidence.contents if each.source == "zone"]
        there = (any(each.key == want.record.key and want.met_by(each) for each in seen) for want in wants)
        theirs = self.over is not None and self.over.by_builder and self.handed_over
        return self.had_arrived or theirs or (bool(wants) and all(there))

    def served_once(self, name: Name) -> bool:
        """Whether an earlier check found that the builder serves the site under a name, and you have not added the
        domain again since. Before the site has arrived, Home Path asks the builder only for the primary address."""
        edge = self.evidence.edge
        seen = edge.knew_at if edge is not None and not edge.knows and name == self.case.wanted.primary else None
        return self.had_arrived or (seen is not None and seen > (self.confirmed("claim") or 0.0))

    def still_done(self, step_id: str) -> float | None:
        """Since when a step at the builder is done, once all that is wanted now had arrived; None where the builder was
        seen to drop it."""
        before, edge = self.was(step_id), self.evidence.edge
        dropped = self.unaware or (edge is not None and edge.knows is False)
        arrived = self.case.wanted.going == "there" and self.evidence.arrived_at is not None
        return before.since if arrived and not dropped and before and before.state == "done" else None

    @cached_property
    def visit_of_now(self) -> Visit | None:
        """The last visit, if no record that visitors of the primary address depend on changed since."""
        names, seen = {self.case.domain, self.case.wanted.primary}, self.evidence.visit
        led = [each for each in self.evidence.contents if each.record.name in names and each.record.type in HARD_TYPES]
        first = {(each.record.key, each.source): each.first_at for each in reversed(led)}
        changes = (each.first_at for each in led if each.first_at > first[each.record.key, each.source])
        changed = max(changes, default=0.0)
        return seen if seen is not None and seen.at >= changed - 1 else None

    @cached_property
    def site_up(self) -> bool | None:
        """Whether visitors reach the site at its primary address: a visit tells, if nothing has changed since; else
        only wrong records tell, that it cannot be."""
        wanted, seen = self.case.wanted, self.visit_of_now
        if wanted.going != "there":
            return None
        if self.gone:
            return False
        way = next((way for way in seen.ways if way.url == wanted.primary_url), None) if seen else None
        if way is not None:
            return None if way.state == "unknown" else way.state == "arrived"
        if self.evidence.survey is None or any(each.name == wanted.primary for each in self.case.unknown.values()):
            return None
        there = self.handed_over if self.over is not None else not self.work_at(wanted.primary)
        return None if there or leads_by_another_name(self.case, wanted.primary) else False

    def work_at(self, name: Name) -> tuple[Change, ...]:
        """The changes left at a name that visitors depend on."""
        return tuple(each for each in self.work if each.name == name and each.type in HARD_TYPES)

    @cached_property
    def unchecked(self) -> bool:
        """Whether no server of the domain answered at the last check, or it is not known where DNS sends visitors.
        Servers that were seen not to hold the domain any more have answered if they refuse."""
        spread, survey, visit = self.evidence.spread, self.evidence.survey, self.evidence.visit
        if survey is not None and not survey.held and not survey.gone:
            return True
        if self.visit_of_now is not None and self.visit_of_now.verdict == "unknown" and not self.gone:
            return True
        if (
            spread is None
            or spread.verdict != "unknown"
            or spread.at <= max(survey.at if survey else 0.0, visit.at if visit else 0.0)
        ):
            return False
        source = [each for record in spread.records for each in record.readings if each.role == "authoritative"]
        return all(each.state == "silent" or (each.state == "broken" and not self.gone) for each in source)

    @cached_property
    def unaware(self) -> bool:
        """Whether the builder's servers do not serve a name, though DNS points there."""
        return self.visit is not None and any(finding.code == "builder-unaware" for finding in self.visit.findings)

    @cached_property
    def served(self) -> bool:
        """Whether the builder was seen to serve the site under its name."""
        edge = self.evidence.edge
        if self.visit is not None:
            ends = [way.hops[-1].status for way in self.visit.ways if way.hops]
            return not self.unaware and any(status is not None and status < 400 for status in ends)
        return edge is not None and edge.knows is True

    def findings(self, *codes: str) -> tuple[Finding, ...]:
        return tuple(each for each in self.open if each.code in codes)

    @cached_property
    def open(self) -> tuple[Finding, ...]:
        """Whatever any check found and still holds, each once and at its final level, worst first."""
        spread, compared = self.evidence.spread, self.compared
        found = [*loss_findings(self.case, self.losses), *self.plan.findings]
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
        found += [*self._site_records_gone(), *self._served_by_another()]
        first: dict[tuple[str, Name, str], Finding] = {}
        for each in found:
            first.setdefault((each.code, each.name, each.type), replace(each, level=self.level_of(each)))
        return tuple(worst_first(list(first.values())))

    def level_of(self, each: Finding) -> Level:
        """The one place where a level is decided, from the usual one and from what is known of the domain.

        A typing mistake is in the way while anything is left to enter: waiting does not help; after that it is only a
        leftover. What the plan's own records fix, and what goes by itself in its usual time, is only worth knowing.
        """
        kind = kind_of(each)
        in_records = kind.holds_up_builder and not kind.about_domain
        if each.level == "risk" and (self._harms(each) or (self.had_arrived and in_records)):
            return "blocker"
        left = self.work or (self.compared is not None and not self.handed_over)
        if (kind.typed and left) or (kind.explains and each.name in self.typed_wrong):
            return "blocker"
        if kind.typed:
            return "note"
        wait = self.builder_wait
        if kind.waited_for and (not self.had_arrived if wait is None else not wait.over(self.now)):
            return "note"
        if kind.by_records and each.level == "risk" and self._is_fixed(each):
            return "note"
        return each.level

    def _is_fixed(self, each: Finding) -> bool:
        """Whether the records that are left to enter or to delete fix it. Leaving a builder enters none."""
        leaving = self.case.wanted.going == "away" and kind_of(each).fixed_by == "enter"
        return not leaving and any(_fixes(change, each) for change in self.work)

    def _harms(self, each: Finding) -> bool:
        """Whether a risk keeps visitors or mail of a site that had arrived from where they should end up, or came into
        the records since all of them were right."""
        kind = kind_of(each)
        fixed = kind.by_records and self._is_fixed(each)
        if kind.harms_by_loss:
            return self.gone or bool(self.losses or (self.work and self.entered_once))
        if not self.had_arrived:
            about = (self.case.zone.get(change.name, each.type) for change in self.work if _fixes(change, each))
            came = (record is not None and appeared_later(self.case, record) for record in about)
            return fixed and self.entered_once and any(came)
        if shown(each.name) in self.astray and not kind.unseen and self.visit is not None:
            return each.code in {other.code for other in self.visit.findings}
        return fixed

    @cached_property
    def astray(self) -> frozenset[str]:
        """The hosts of the addresses that the last visit found broken: visitors of them do not end at the site."""
        ways = self.visit.ways if self.visit is not None and self.visit.verdict == "broken" else ()
        return frozenset(shown(host_of(way.url)) for way in ways if way.state not in ("arrived", "unknown"))

    @cached_property
    def losses(self) -> tuple[Loss, ...]:
        """What was to stay and is missing or changed."""
        return losses(self.case, self.desired)

    @property
    def gone(self) -> bool:
        """Whether the nameservers answered that they do not hold the domain any more."""
        return self.evidence.survey is not None and self.evidence.survey.gone

    def _site_records_gone(self) -> Iterator[Finding]:
        """Records of the website that were deleted after it had arrived."""
        for change in self.work if self.had_arrived else ():
            if change.type in HARD_TYPES and self.case.zone.get(change.name, change.type) is None and change.values:
                message = msg("site-record-gone", type=change.type, name=change.name, values=tuple(change.values))
                cure = msg("site-record-gone.cure", values=tuple(change.values))
                yield finding("site-record-gone", change.name, change.type, message, cure)

    def _served_by_another(self) -> Iterator[Finding]:
        """Names that the change would take from a server which hands on the builder's pages, and does so well."""
        seen = self.visit_of_now
        moves = self.over is not None and not self.handed_over
        if seen is None or self.case.wanted.going != "there":
            return
        own = builders_addresses(self.case)
        ends = [url.hops[-1] for url in seen.ways if url.state == "arrived" and url.hops]
        for name in (host_of(end.url) for end in ends if end.address not in own):
            if name in self.case.wanted.names and name not in seen.led and (moves or self.work_at(name)):
                yield finding("proxy-serves", name, "", msg("proxy-serves", name=name))

    @cached_property
    def typed_wrong(self) -> frozenset[Name]:
        """Names at which a record came after the first check and is not what was meant; what explains it better, a
        typing mistake at the name, is left to that."""
        slips = {each.name for each in self.plan.findings if kind_of(each).typed}
        desired = {each.key: each for each in self.desired}
        found = set()
        for change in self.work:
            record, desired_set = self.case.zone.get(change.name, change.type), desired.get((change.name, change.type))
            if record is None or record.type in JOINED_TYPES or record.name in slips or desired_set is None:
                continue
            if desired_set.unwanted(record) and appeared_later(self.case, record):
                found.add(record.name)
        return frozenset(found)

    @cached_property
    def builder_says(self) -> BuilderSays | None:
        """What the person last read in the builder's settings, since its check was last asked for."""
        since = max(self.evidence.confirmed.get("claim", 0.0), self.evidence.confirmed.get("check-again", 0.0))
        return builder_says(self.evidence.confirmed, since)

    @property
    def checked(self) -> bool:
        """Whether the person pressed the builder's check since DNS is right; before that, nothing of it is late."""
        return check_pressed(self.evidence.confirmed, self.right_since)

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
