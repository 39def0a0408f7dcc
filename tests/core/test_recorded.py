"""Recorded checks and the corpus's pages give what they gave when they were last looked at, in every part that a person
or a program is shown. What differs is meant, or a fault: `python scripts/record_walks.py --expect` writes today's
results, and the diff of expected.txt says where to look.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import pytest

from homepath.app.entering import entering, jobs_of
from homepath.app.forecast import forecast
from homepath.app.next import appointments
from homepath.app.project import Project
from homepath.core.contracts.assessment import next_json, plan_json, with_assessment
from homepath.core.contracts.changes import forecast_json, sheet_json
from homepath.core.contracts.checks import compare_json, survey_json, visit_json, watch_json
from homepath.core.contracts.page import page_json
from homepath.core.files.brief_file import read_brief
from homepath.core.model.acts import Enter
from homepath.core.model.forecast import Caches
from homepath.core.model.problems import BadInput, CouldNotCheck
from homepath.core.page_reader.brief_text import brief_text
from homepath.core.page_reader.form_hints import form_hints, notation_text, read_table
from homepath.core.page_reader.judge import read_page
from homepath.core.plan.new_zone import left_out_of_new_zone
from homepath.core.wording import say
from homepath.core.wording.overview import noticed, overview
from tests.core.recorded.replay import EXPECTED, Recorded, digest, load, replayed
from tests.core.rendering import LAYOUTS, TONGUES
from tests.core.test_pasted import CASES as CORPUS
from tests.core.test_pasted import USUAL

DOMAIN, OWN = "tidewick-kiln.example", "quillfern.example"
CASES = {case.name: case for case in load()}


def views(case: Recorded, folder: Path) -> dict[str, Any]:
    """What each command would show, with a code and its arguments in the place of each sentence."""
    project, seen, questions = replayed(case, folder)
    found, evidence = seen.assessment, project.evidence
    own = project.assess(case.at)
    shown: dict[str, Any] = {
        "questions": sorted(questions),
        "next": with_assessment(next_json(found), found),
        "overview": [overview(found, project.brief.builder, project.host_of(found)), noticed(found.findings)],
        "acts": [found.open_acts, found.steps, found.because],
        "calendar": list(appointments(seen)),
    }
    if evidence.survey is not None:
        purpose_of = lambda record: project.case.purpose(record)[0]  # noqa: E731
        shown["survey"] = survey_json(evidence.survey, purpose_of, own.findings)
        shown["plan"] = plan_json(project.plan(), own)
        shown["sheet"] = _sheet(project)
        shown["behind"] = list(left_out_of_new_zone(project.case))
    if evidence.spread is not None:
        shown["watch"] = watch_json(evidence.spread)
    if evidence.visit is not None:
        shown["visit"] = visit_json(evidence.visit)
    if evidence.compared is not None:
        shown["compare"] = compare_json(evidence.compared)
    if found.act is not None and isinstance(found.act, Enter):
        try:
            made = forecast_json(forecast(project, Caches(), case.at, sample=500))
            shown["forecast"] = [made[key] for key in ("recommended", "because", "names")]
        except (BadInput, CouldNotCheck) as error:
            shown["forecast"] = repr(error)
    return shown


def _sheet(project: Project) -> Any:
    own = project.assess(project.evidence.survey.at if project.evidence.survey else 0.0)
    ids = [key for key, act in own.open_acts if isinstance(act, Enter) and (act.delete or act.enter)]
    steps = [each for key in ids if (each := entering(own, key)) is not None]
    jobs = [(each.step.id, job) for each in steps for job in jobs_of(project, each)]
    return sheet_json(project.domain, project.host_of(own), "", jobs, None)


def line_of(case: Recorded, folder: Path) -> str:
    found = views(case, folder)
    step = (found["next"]["step"] or {"id": "-"})["id"]
    return " ".join([f"{case.name}:", step, *(f"{key}={digest(value)}" for key, value in found.items())])


def of_a_page(text: str) -> list[Any]:
    """All that is made of a page; then, in turn, without every third line for the domain that most of them are about,
    or what a form's notation and table are made of it."""
    fewer = "\n".join(each for at, each in enumerate(text.splitlines()) if at % 3 != 1)
    found: list[Any] = []
    halved = len(text) % 2
    for variant, own in ((text, None), (fewer, OWN))[: 1 + halved]:
        try:
            page = read_page(variant, own)
        except BadInput as error:
            found.append(repr(error.problems))
        else:
            made = brief_text(page, "Bricklark")
            found.append([page_json(page, made), *(_as_files(made.text) if variant is text else ())])
    if halved:
        return found
    hints = form_hints(text, DOMAIN)
    try:
        table: Any = list(read_table(text, f"{DOMAIN}.", "f"))
    except BadInput as error:
        table = repr(error.problems)
    return [*found, notation_text("Mossgate", hints, ["*.mossgate.example"], hints.types[:1], ["1 h"]), table]


def _as_files(brief: str) -> Iterator[str]:
    """What is read of the brief, and of what is left without some of its lines."""
    lines = brief.splitlines(keepends=True)
    for step in (len(lines) + 1, 2, 3, 5):
        try:
            yield repr(read_brief("".join(line for at, line in enumerate(lines) if at % step != step - 1), "b"))
        except BadInput as error:
            yield repr(error.problems)


PAGES = {f"page {name}": block.rpartition("\n---\n")[0] for name, block in CORPUS}
PAGES |= {f"page {tongue}, {name}": lay(USUAL, TONGUES[tongue]) for tongue in TONGUES for name, lay in LAYOUTS.items()}


@cache
def expected() -> dict[str, str]:
    return {each.split(": ")[0]: each for each in EXPECTED.read_text().splitlines()}


def today() -> Iterator[str]:
    """What is expected of today's code."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(say, "SENTENCES", {})
        for case in CASES.values():
            with TemporaryDirectory(ignore_cleanup_errors=True) as folder:
                yield line_of(case, Path(folder))
        yield from (f"{name.replace(': ', ' ')}: {digest(of_a_page(text))}" for name, text in PAGES.items())


@pytest.mark.parametrize("name", CASES)
def test_a_recorded_check_gives_what_it_gave(name: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(say, "SENTENCES", {})
    assert line_of(CASES[name], tmp_path) == expected()[name]


def test_pages_are_read_as_they_were(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(say, "SENTENCES", {})
    lines = {name.replace(": ", " "): digest(of_a_page(text)) for name, text in PAGES.items()}
    assert {name: f"{name}: {word}" for name, word in lines.items() if expected()[name] != f"{name}: {word}"} == {}
