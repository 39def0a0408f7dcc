"""`homepath sheet`: what to type now."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from homepath.cli.common import Common, about_a_site
from homepath.core.wording.say import say

if TYPE_CHECKING:
    from homepath.app.entering import Entering
    from homepath.app.project import Project
    from homepath.core.model.steps import Assessment

FORMS = ("text", "markdown", "html", "csv", "zone", "letter")


@about_a_site("verbose")
def sheet(
    common: Common,
    form: Annotated[str, typer.Option("--as", help="text, markdown, html, csv, zone, or letter.")] = "text",
    to: Annotated[
        Path | None, typer.Option("--to", help="Write to this file instead of the terminal.", show_default=False)
    ] = None,
    step: Annotated[
        str | None, typer.Option("--step", metavar="ID", help="The records of this step.", show_default=False)
    ] = None,
    every: Annotated[bool, typer.Option("--all", help="The records of all remaining steps.")] = False,
    question: Annotated[
        bool, typer.Option("--question", help="Write the question to the DNS host's support instead.")
    ] = False,
) -> None:
    """Show the records to copy into your DNS host's form.

    Those of the current step, as this form wants them: copy, never retype."""
    import sys

    from homepath.app.decide import assess_site
    from homepath.app.entering import entering
    from homepath.core.model.problems import BadInput, Problem
    from homepath.files import write_text

    if form not in FORMS:
        raise BadInput(Problem("this form does not exist", key="--as", seen=form, hint=f"one of {', '.join(FORMS)}"))
    if step and every:
        raise BadInput(Problem("--step names one step, --all takes all", key="--step", seen=step))
    if common.json and (question or form != "text"):
        raise BadInput(Problem("--json is a format of its own", key="--json", hint="without --as and --question"))
    project, clock = common.offline()
    assessment = assess_site(project, clock.now())
    if not common.domain and (domain := _further(project, assessment, step, every, form)):
        project, step = project.further(domain, clock.now()), step and step.partition("@")[0]
    own = project.assess(clock.now())
    if question:
        text = _question(project)
    elif (form == "letter" and project.wanted.hand_over) or (form == "zone" and project.new_side_due):
        text = _for_new_side(project, form)
    else:
        found = entering(own, step)
        steps = [found] if found else []
        if every:
            steps = _with_entries(own)
        text = (
            _json(project, steps, assessment) if common.json else _text(project, steps, form, common.plain, assessment)
        )
    if to:
        write_text(to, text)
    else:
        sys.stdout.write(text)
    raise typer.Exit(assessment.exit)


def _further(project: Project, assessment: Assessment, step: str | None, every: bool, form: str) -> str:
    """The further domain that the sheet is about: that of the named step, else of what is to be entered now."""
    from homepath.core.dns.names import shown
    from homepath.core.model.acts import Enter

    whole = every or (form in ("zone", "letter") and project.wanted.hand_over)
    if step or whole or assessment.further is None or not isinstance(assessment.act, Enter):
        return (step or "").partition("@")[2]
    return shown(assessment.further)


def _question(project: Project) -> str:
    """The question for the support of the DNS host where records are entered now."""
    from homepath.core.site.wanted import ALIAS
    from homepath.report.letter import question_to_host

    wanted = project.wanted
    types = [want.record.type for want in wanted.wants if want.record.type != ALIAS] or ["A", "CNAME", "TXT"]
    alias = wanted.choice.apex in ("alias", "unknown", "none")
    forwards = wanted.forwarded or wanted.names[1:]
    return question_to_host(project.domain, types, alias, forwards, project.form_at(project.side_now))


def _with_entries(assessment: Assessment) -> list[Entering]:
    from homepath.app.entering import entering
    from homepath.core.model.acts import Enter

    ids = [key for key, act in assessment.open_acts if isinstance(act, Enter) and (act.delete or act.enter)]
    return [each for key in ids if (each := entering(assessment, key)) is not None]


def _for_new_side(project: Project, form: str) -> str:
    """The whole zone for the new nameservers, as a file or as a letter to their support."""
    from homepath.core.dns.names import shown
    from homepath.core.model.problems import BadInput, Problem
    from homepath.core.plan.new_zone import due, left_out_of_new_zone, zone_file
    from homepath.report.letter import as_zone, letter_to_support

    over = project.wanted.hand_over
    if over is None:
        message = f"the nameservers of {shown(project.domain)} are not to change, so a letter is not needed"
        raise BadInput(Problem(message, key="--as", seen=form, hint="homepath sheet --as html makes a page to send"))
    if form == "zone":
        return as_zone(zone_file(project.case))
    dues = [each for each in due(project.case) if each.kind != "theirs"]
    notation = project.notation_at("new DNS host")
    return letter_to_support(
        project.domain, over.host, over.servers, dues, left_out_of_new_zone(project.case), notation
    )


def _json(project: Project, steps: list[Entering], assessment: Assessment) -> str:
    """The sheet for a program, as every form of it says."""
    import json

    from homepath.app.entering import jobs_of
    from homepath.core.contracts.assessment import with_assessment
    from homepath.core.contracts.changes import sheet_json

    where = steps[0].act.where if steps else project.side_now
    wait = steps[0].wait.until if steps and steps[0].wait else None
    jobs = [(each.step.id, job) for each in steps for job in jobs_of(project, each)]
    value = sheet_json(project.domain, project.notation_at(where).host, where, jobs, wait)
    return json.dumps(with_assessment(value, assessment), indent=2) + "\n"


def _text(project: Project, steps: list[Entering], form: str, plain: bool, assessment: Assessment) -> str:
    import io

    from homepath.app.entering import jobs_of
    from homepath.cli.show.paper import paper, show_noticed, show_site
    from homepath.cli.show.sheet import show_other_act, show_sheet
    from homepath.core.plan.new_zone import left_out_of_new_zone
    from homepath.core.plan.plan import applied, changes_of
    from homepath.core.wording.overview import noticed
    from homepath.report.letter import as_csv, as_markdown, as_zone, letter_of_jobs
    from homepath.report.sheet_html import as_page

    where = steps[0].act.where if steps else project.side_now
    notation, domain = project.form_at(where), project.domain
    out = io.StringIO()
    if form == "zone":
        zone = project.zone_at(where)
        for each in steps:
            zone = applied(zone, changes_of(zone, each.act))
        return as_zone(zone)
    jobs = [job for each in steps for job in jobs_of(project, each)]
    if form == "markdown":
        return as_markdown(domain, jobs, notation)
    if form == "html":
        return as_page(domain, jobs, notation)
    if form == "csv":
        return as_csv(jobs)
    if form == "letter":
        return letter_of_jobs(domain, jobs, notation)
    sheet = paper(plain, out)
    show_site(sheet, assessment)
    if assessment.blocked:
        show_noticed(sheet, noticed(assessment.blockers), "This is in the way")
        sheet.blank()
    if not jobs:
        show_other_act(sheet, assessment, project.brief.builder, notation.host)
    elif len(steps) == 1:
        new = where != project.side_now
        behind = list(left_out_of_new_zone(project.case)) if new else []
        show_sheet(sheet, domain, jobs, notation, steps[0].before, steps[0].wait, behind, new)
    else:
        for each in steps:
            sheet.heading(f"Step: {say(each.step.title)}")
            show_sheet(sheet, domain, jobs_of(project, each), notation, (), each.wait)
    return out.getvalue()
