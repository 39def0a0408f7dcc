"""Records on a page: what was there before, what is wanted, what is there now, and what to hold on to."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime

from homepath.core.contracts.assessment import Json, step_json
from homepath.core.dns.names import Name, shown
from homepath.core.dns.records import Key
from homepath.core.files.sheet import Job, what_it_is_for
from homepath.core.model.evidence import Evidence, zone_before
from homepath.core.model.forecast import Forecast
from homepath.core.model.plan import Change, Plan
from homepath.core.model.steps import Assessment
from homepath.core.model.times import bounded
from homepath.core.plan.plan import applied
from homepath.core.propagation.readings import CheckShares
from homepath.core.site.case import Case
from homepath.core.wording.say import say
from homepath.core.wording.times import anded


@dataclass(frozen=True, slots=True, kw_only=True)
class Facts:
    """`host`: who runs the form of the step that is now. `jobs`: what is to be typed now. `looks`: what the resolvers
    said, check by check. `forecast`: None where nothing changes for visitors any more. `now`: Unix seconds."""

    assessment: Assessment
    plan: Plan
    case: Case
    evidence: Evidence
    builder: str
    host: str
    now: float
    jobs: tuple[Job, ...] = ()
    looks: tuple[CheckShares, ...] = ()
    forecast: Forecast | None = None


@dataclass(frozen=True, slots=True)
class Row:
    """One record set. `what` it is, and `state`, in words."""

    name: Name
    type: str
    what: str
    before: tuple[str, ...]
    wanted: tuple[str, ...]
    now: tuple[str, ...]
    state: str


def record_rows(facts: Facts, exactly: bool = False) -> Iterator[Row]:
    """Every set that the whole job touches, in the order of the plan. `exactly`: named by owner and type alone."""
    case, before = facts.case, zone_before(facts.case.domain, facts.evidence.contents)
    after = applied(case.zone, facts.plan.work)  # with the values of a set that stay
    wanted = {want.record.key: want for want in case.wanted.wants}
    changed = {(change.name, change.type): change for change in facts.plan.work}
    keys: dict[Key, None] = dict.fromkeys(changed) | dict.fromkeys(wanted)
    for each in before:
        if each.name in case.wanted.names and case.zone.get(*each.key) is None:
            keys.setdefault(each.key)
    for key in keys:
        name, rrtype = key
        now = case.zone.values(*key)
        change, want = changed.get(key), wanted.get(key)
        goal = after.values(*key) or (want.record.values if want else change.values if change else now)
        if not goal and not now and not before.values(*key):
            continue
        purpose = change.purpose if change else case.purpose(want.record)[0] if want else "website"
        what = f"{shown(name)} {rrtype}" if exactly else f"{say(what_it_is_for(purpose, name))} ({rrtype})"
        yield Row(name, rrtype, what, before.values(*key), goal, now, _state(change, bool(now or goal)))


def report_json(facts: Facts) -> Json:
    """`homepath.report/1`: what the page says, for a program."""
    rows = record_rows(facts)
    return {
        "format": "homepath.report/1",
        "domain": facts.case.domain,
        "records": [
            {
                "name": row.name,
                "type": row.type,
                "before": list(row.before),
                "wanted": list(row.wanted),
                "now": list(row.now),
                "state": row.state,
            }
            for row in rows
        ],
        "steps": [step_json(each) for each in facts.assessment.steps],
        "keep": list(to_keep(facts)),
    }


def _state(change: Change | None, anything: bool) -> str:
    if change is None:
        return "correct" if anything else "deleted, correct"
    return {"add": "to enter", "replace": "to change", "remove": "to delete"}.get(change.move, "correct")


def keep_words(facts: Facts) -> str:
    """What stays untouched, counted."""
    kept = [change for change in facts.plan.changes if change.move == "keep" and change.type not in ("SOA", "NS")]
    mail = [change for change in kept if "mail" in change.purpose]
    if not kept:
        return ""
    among = f", including your mail ({', '.join(f'{c.type} at {shown(c.name)}' for c in mail)})" if mail else ""
    return f"Everything else stays unchanged{among}."


def to_keep(facts: Facts) -> Iterator[str]:
    """What must not be deleted or left behind."""
    case, survey = facts.case, facts.evidence.survey
    proofs = [want.record for want in case.wanted.wants if case.purpose(want.record)[0] == "proof of ownership"]
    for record in proofs:
        values = anded(record.values)
        yield (
            f"Do not delete the verification record for {facts.builder} ("
            f"{record.type} at {shown(record.name)}: {values}): the builder may check it again at any time."
        )
    mail = [c for c in facts.plan.changes if c.move == "keep" and c.purpose == "mail"]
    if mail:
        yield "Leave the records for your mail unchanged."
    registration = survey.registration if survey else None
    if registration is not None and registration.expires is not None:
        yield (
            f"The registration of the domain ends on {_day(registration.expires)}: renew it at "
            f"{registration.registrar or 'the registrar'} well before. Without it, site and mail stop."
        )
    elif survey is not None:
        yield "When the domain's registration ends is not known here; the registrar knows."
    ends = facts.evidence.visit.certificate_end if facts.evidence.visit else None
    if ends is not None:
        yield (
            f"The certificate is valid until {_day(ends)}. {facts.builder} renews it automatically some weeks "
            "before; if that fails, browsers warn from that day on."
        )
    if survey is not None and survey.delegation is not None:
        servers = anded(shown(name) for name in survey.delegation.servers[:4])
        yield f"The DNS host that runs {servers} holds the records: keep that account as long as the domain is there."


def _day(at: float) -> str:
    return f"{datetime.fromtimestamp(bounded(at), UTC):%Y-%m-%d}"
