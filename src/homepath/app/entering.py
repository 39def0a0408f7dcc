"""Which step has records to type or send now, what comes before it, and which names a forwarder is for."""

from __future__ import annotations

from dataclasses import dataclass, replace

from homepath.app.project import Project
from homepath.core.dns.names import shown
from homepath.core.dns.records import Key, RecordSet
from homepath.core.files.sheet import Job, jobs
from homepath.core.findings.registry import kind_of
from homepath.core.message import msg
from homepath.core.model.acts import Enter, Wait
from homepath.core.model.findings import Finding
from homepath.core.model.plan import Purpose
from homepath.core.model.problems import BadInput, CouldNotCheck, Problem, Refused
from homepath.core.model.steps import Assessment, Step
from homepath.core.wording.say import say


def names_to_forward(project: Project) -> tuple[str, ...]:
    """The site's other names, and both names of each further domain."""
    own = [shown(name) for name in project.wanted.names if name != project.wanted.primary]
    further = [name for domain in project.site.also for name in (domain, f"www.{domain}")]
    return tuple(dict.fromkeys([*own, *further]))


@dataclass(frozen=True, slots=True)
class Entering:
    """A step with its records. `wait`: what has to be over before it; `before`: other steps that come first; `risks`:
    what was seen that matters before anything is changed."""

    step: Step
    act: Enter
    wait: Wait | None = None
    before: tuple[Step, ...] = ()
    risks: tuple[Finding, ...] = ()


def entering(assessment: Assessment, step_id: str | None = None, whatever_is_first: bool = False) -> Entering | None:
    """The step that is typed next, or the one asked for; None where nothing is to be typed any more, or something else
    is in the way first, which may change what is to be typed (unless `whatever_is_first`).

    Raises BadInput for a step that does not exist or has no records.
    """
    acts = {key: act for key, act in assessment.open_acts if isinstance(act, Enter) and (act.delete or act.enter)}
    if step_id is not None and step_id not in acts:
        known = ", ".join(acts) or msg("entering.entering.known")
        message = msg("entering.entering.said") if assessment.find(step_id) else msg("standing.say-done")
        raise BadInput(Problem(message, key="--step", seen=step_id, hint=msg("entering.entering.hint", known=known)))
    held = assessment.held and not whatever_is_first
    chosen = step_id or (None if held else _first(assessment, acts))
    if chosen is None:
        return None
    step = assessment.find(chosen)
    assert step is not None
    before: list[Step] = []
    is_now = assessment.step is not None and chosen == assessment.step.id
    risks = tuple(each for each in assessment.findings if each.level == "risk" and kind_of(each).matters_before)
    for key, act in () if is_now else assessment.open_acts:
        if key == chosen:
            break
        earlier = assessment.find(key)
        if isinstance(act, Wait) and earlier is not None and earlier.kind in ("wait-ttl", "wait-ds"):
            return Entering(step, acts[chosen], act, tuple(before), risks)
        if earlier is not None:
            before.append(earlier)
    return Entering(step, acts[chosen], None, tuple(before), risks)


def _first(assessment: Assessment, acts: dict[str, Enter]) -> str | None:
    """The step that is now, else the first one with records."""
    if assessment.step is not None and assessment.step.id in acts:
        return assessment.step.id
    return next(iter(acts), None)


def jobs_of(project: Project, found: Entering) -> list[Job]:
    """The records of a step as jobs at the DNS host's form."""
    case = project.case
    purposes = {(change.name, change.type): change.purpose for change in project.plan().changes}
    if found.step.kind == "put-back":  # of a set that the plan changes too, what comes back has a purpose of its own
        purposes = {}

    def purpose_of(key: Key) -> Purpose:
        if key in purposes:
            return purposes[key]
        values = (each.value for each in (*found.act.delete, *found.act.enter) if (each.name, each.type) == key)
        return case.purpose(RecordSet(*key, 0, tuple(values)))[0]

    zone = project.zone_at(found.act.where)
    made = jobs(found.act, case.domain, project.form_at(found.act.where), zone, purpose_of)
    return [replace(job, risks=tuple(each for each in found.risks if each.name == job.at)) for job in made]


def to_send(project: Project, assessment: Assessment, early: bool) -> Entering | None:
    """The records to send now. Raises Refused with the reason where they must not be sent yet."""
    if project.evidence.survey is None:
        raise CouldNotCheck(msg("entering.to-send"), msg("entering.to-send-2"))
    if assessment.step is not None and assessment.step.kind == "decide":
        raise Refused(msg("entering.to-send-3", say=say(assessment.step.title)), assessment.step.instruction)
    found = entering(assessment, whatever_is_first=True)
    if found is None:
        return None
    now = assessment.step
    if now is not None and now.id != found.step.id and found.wait is None and not early:
        raise Refused(msg("entering.to-send-10", title=now.title), msg("entering.to-send-11"))
    zone = project.zone_at(found.act.where)
    if zone.get(project.domain, "SOA") is None:
        raise Refused(msg("entering.to-send-4"), msg("entering.to-send-5"))
    if any(entry.type == "ALIAS" for entry in (*found.act.delete, *found.act.enter)):
        raise Refused(msg("entering.to-send-6"), msg("entering.to-send-7"))
    if found.wait is not None and not early:
        raise Refused(msg("entering.to-send-8", until=found.wait.until), msg("entering.to-send-9"))
    return found
