"""The owner's decisions, kept in the site file: answers to questions, steps done, going back and leaving."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Literal, cast

from homepath.app.project import Project
from homepath.core.assess.assess import joined
from homepath.core.dns.names import BadName, absolute, child, is_host, is_within, labels
from homepath.core.dns.records import Key, RecordSet
from homepath.core.message import msg, reason
from homepath.core.model.brief import Site, WayBack
from homepath.core.model.evidence import BUILDER_SAYS, Content
from homepath.core.model.problems import BadInput, CouldNotCheck, Problem
from homepath.core.model.steps import Assessment
from homepath.core.model.times import from_rfc3339, rfc3339
from homepath.core.plan.going_back import first_seen
from homepath.core.wording.say import say


def assess_site(project: Project, now: float, own: Assessment | None = None) -> Assessment:
    """The assessment from what the journal holds, without a new check; covers all domains of the site.

    `own`: that of the project alone, if it is at hand. A further domain that was not surveyed yet is left out. Raises
    CouldNotCheck where the main one was not.
    """
    main, *more = project.all_domains(now)
    return joined([own or main.assess(now), *(each.assess(now) for each in more if each.evidence.survey is not None)])


def assess_after(project: Project, now: float) -> Assessment:
    """The assessment after a check that is in the journal by now. The state of each step is stored there too."""
    main, *more = project.fresh(now).all_domains(now)
    return remembered([main, *(each for each in more if each.evidence.survey is not None)], now)


def remembered(projects: Sequence[Project], now: float) -> Assessment:
    """The assessment of a site's domains. The state of each step is stored in the journal."""
    assessments = [each.assess(now) for each in projects]
    with projects[0].journal() as journal:
        for project, each in zip(projects, assessments, strict=True):
            journal.record_steps(each.domain, each.steps)
            if each.arrived and each.going == "there" and project.evidence.arrived_at is None:
                journal.record_check(now, "arrived", each.domain, "", {})
    return joined(assessments)


def say_done(project: Project, step_id: str, now: float) -> None:
    """Keep the person's word that a step is done. Raises BadInput when there is none such."""
    project = project.fresh(now)
    for each in project.all_domains(now):
        known = {step.id for step in each.evidence.remembered}
        if each.evidence.survey is not None:
            known |= {step.id for step in each.assess(now).steps}
        plain = step_id.removesuffix(f"@{each.site.domain}")
        if plain in known and (step_id == plain or each.domain != project.domain):
            with each.journal() as journal:
                journal.record_told(now, each.domain, plain)
            return
    steps = [step.id for step in assess_site(project, now).steps]
    raise BadInput(
        Problem(
            msg("standing.say-done"), key="--done", seen=step_id, hint=msg("standing.say-done.hint", steps=tuple(steps))
        )
    )


WORDS = (
    "none:NAME TYPE, drop:NAME TYPE, accept:NAME TYPE, leave-behind:NAME TYPE, trust:NAME TYPE, route:records, "
    "ownership:TXT, apex:alias, servers:NAME NAME, value:NAME=TEXT, sign:yes, builder:missing NAME TYPE"
)


def decided(project: Project, word: str, now: float) -> Project:
    """The project with the answer noted in its site file. Raises BadInput for a word that answers nothing."""
    kind, _, what = word.partition(":")
    if kind.strip() == "none":
        with project.journal() as journal:
            journal.record_contents(now, [RecordSet(*_key(project, what.strip(), word), 0, ())], "told")
        return project.fresh(now)
    if kind.strip() == "builder":
        with project.journal() as journal:
            journal.record_told(now, project.domain, f"{BUILDER_SAYS}{_shown(project, what.strip(), word)}")
        return project.fresh(now)
    site = _with(project, kind.strip(), what.strip(), word, now)
    project.keep_site(site)
    return replace(project, site=site).fresh(now)


def _with(project: Project, kind: str, what: str, word: str, now: float) -> Site:
    site = project.site
    if kind == "route" and what in ("records", "nameservers"):
        return replace(site, route="records" if what == "records" else "nameservers", undo=None)
    if kind == "servers":
        return _servers(project, site, what, word)
    if kind == "value" and "=" in what:
        return _value(project, site, what, word)
    if kind == "sign" and what in ("yes", "no"):
        return replace(site, sign=what == "yes")
    if kind == "apex" and what in ("alias", "forwarding", "none"):
        return replace(site, apex=cast(Literal["alias", "forwarding", "none"], what))
    if kind == "ownership" and what in {proof.type for proof in project.brief.ownership}:
        return replace(site, ownership=what)
    if kind in ("drop", "unprotect", "accept", "leave-behind", "trust"):
        key = _key(project, what, word)
        of = next((each for each in project.all_domains(now) if is_within(key[0], each.domain)), project)
        name = of.case.word_for(*key)
        if kind == "leave-behind":
            return replace(site, leave_behind=tuple(dict.fromkeys((*site.leave_behind, name))))
        if kind == "trust":
            return replace(site, trusted=tuple(dict.fromkeys((*site.trusted, name))))
        if kind == "drop":
            return replace(site, purposes={**site.purposes, name: "website"})
        if kind == "unprotect":
            return replace(site, keep=tuple(each for each in site.keep if _key(project, each, word) != key))
        return replace(site, accepted={**site.accepted, name: _values_now(of, key)})
    raise BadInput(Problem(msg("decide.with"), key="--decide", seen=word, hint=msg("decide.with.hint", WORDS=WORDS)))


def _servers(project: Project, site: Site, what: str, word: str) -> Site:
    """The nameservers that another DNS host assigned, for its part of the site file. Raises BadInput."""
    if site.move is None:
        hint = msg("decide.servers.hint")
        raise BadInput(Problem(msg("decide.servers"), key="--decide", seen=word, hint=hint))
    try:
        names = tuple(absolute(each) for each in what.replace(",", " ").split())
    except BadName as error:
        raise BadInput(Problem(reason(error), key="--decide", seen=word)) from error
    if not names or not all(is_host(name) and len(labels(name)) > 1 for name in names):
        hint = msg("decide.servers-2.hint")
        raise BadInput(Problem(msg("decide.servers-2"), key="--decide", seen=word, hint=hint))
    return replace(site, move=replace(site.move, servers=names))


def _shown(project: Project, what: str, word: str) -> str:
    """What the builder's settings show, as the journal keeps it. Raises BadInput."""
    if what in ("connected", "checking"):
        return what
    verb, _, key = what.partition(" ")
    if verb != "missing":
        raise BadInput(Problem(msg("decide.shown"), key="--decide", seen=word, hint=msg("decide.shown.hint")))
    return "missing {} {}".format(*_key(project, key.strip(), word))


def _value(project: Project, site: Site, what: str, word: str) -> Site:
    name, _, text = what.partition("=")
    known = [asked.name for asked in project.brief.asked]
    if name.strip() not in known or not text.strip():
        hint = msg("decide.value.hint", known=tuple(known)) if known else msg("decide.value.hint-2")
        raise BadInput(Problem(msg("decide.value"), key="--decide", seen=word, hint=hint))
    return replace(site, values={**site.values, name.strip(): text.strip()})


def _key(project: Project, what: str, word: str) -> Key:
    host, _, rrtype = what.rpartition(" ")
    if not host.strip() or not rrtype.isascii() or not rrtype.isalnum():
        raise BadInput(Problem(msg("decide.key"), key="--decide", seen=word[:120], hint=msg("decide.key.hint")))
    try:
        return absolute(child(host.strip().lower(), project.domain)), rrtype.upper()
    except BadName as error:
        raise BadInput(Problem(reason(error), key="--decide", seen=word[:120])) from error


def _values_now(project: Project, key: Key) -> tuple[str, ...]:
    survey = project.evidence.survey
    if key == (project.domain, "NS") and survey is not None and survey.delegation is not None:
        return survey.delegation.servers
    sources = ("zone", "survey")  # what only a whole check asks for, such as a wildcard, is known from surveys alone
    seen: list[Content] = [c for c in project.evidence.contents if c.record.key == key and c.source in sources]
    return max(seen, key=lambda each: each.last_at).record.values if seen else ()


def moment_of(text: str, now: float) -> float:
    """The moment that was typed. Raises BadInput."""
    try:
        moment = from_rfc3339(text)
    except ValueError as error:
        hint = msg("returning.moment-of.hint")
        raise BadInput(Problem(msg("returning.moment-of"), key="--to", seen=text[:60], hint=hint)) from error
    if moment > now:
        raise BadInput(Problem(msg("returning.moment-of-2"), key="--to", seen=text[:60]))
    return moment


def back(project: Project, moment: float | None, now: float) -> Project:
    """The project with the last change to be undone. Raises CouldNotCheck before the first
    check, BadInput for a moment before it."""
    _looked(project)
    begin = first_seen(project.evidence.contents)
    if moment is not None and (begin is None or moment < begin):
        since = rfc3339(begin) if begin is not None else "never"
        raise BadInput(
            Problem(
                msg("returning.back"), key="--to", seen=rfc3339(moment), hint=msg("returning.back.hint", since=since)
            )
        )
    site = project.site
    of = site.undo.of if site.route == "undo" and site.undo else _now_gone(project)
    return replace(project, site=replace(site, route="undo", undo=WayBack(of, moment))).fresh(now)


def _now_gone(project: Project) -> Literal["records", "nameservers"]:
    return "nameservers" if project.wanted.hand_over is not None else "records"


def away(project: Project, now: float) -> Project:
    """The project on the way out of the builder. Raises CouldNotCheck before the first check."""
    _looked(project)
    return replace(project, site=replace(project.site, route="leave", undo=None)).fresh(now)


def keep(project: Project) -> None:
    """Write the way into the site file; its comments stay."""
    project.keep_site(project.site)


def stopped(project: Project) -> str:
    """Go on as before; what that means, in words."""
    site = project.site
    if site.route not in ("undo", "leave"):
        return say(msg("returning.stopped", domain=project.domain, builder=project.brief.builder))
    route = site.undo.of if site.undo else "advise"
    keep(replace(project, site=replace(site, route=route, undo=None)))
    return say(msg("returning.stopped-2", domain=project.domain, builder=project.brief.builder))


def _looked(project: Project) -> None:
    if project.evidence.survey is None:
        raise CouldNotCheck(msg("returning.looked", domain=project.domain), msg("project.plan-2"))
