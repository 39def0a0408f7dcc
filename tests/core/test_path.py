"""Where a domain stands: one case for each line of the table, and the order among them."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from homepath.core.model.findings import Finding
from homepath.core.model.readings import Spread
from homepath.core.model.visits import Visit
from homepath.core.path.stage import TABLE, View, place_on_path
from homepath.core.planning.plan import make_plan
from tests.core.cases import BASE, BRIEF, DOMAIN, RIGHT, SITE, case

NOW = 1772442000.0
DONE, WORK = make_plan(case(RIGHT)), make_plan(case(BASE))
BLOCKED = make_plan(case(BASE + "www MX 10 mx1.mossgate.example."))
HANDED = make_plan(
    case(BASE, site=replace(SITE, route="nameservers"), brief=replace(BRIEF, nameservers=("ns1.bricklark.example.",)))
)
SLIP = Finding("near-miss", "risk", DOMAIN, "A", "seen", "Change it", "x")


def spread(verdict: str, until: float | None = None, *findings: Finding) -> Spread:
    return Spread(DOMAIN, NOW, verdict, until, (), findings)  # type: ignore[arg-type]


def visit(verdict: str, until: float | None = None) -> Visit:
    return Visit(DOMAIN, NOW, "https://www.tidewick-kiln.example/", verdict, (), (), until)  # type: ignore[arg-type]


def view(**more: Any) -> View:
    usual: dict[str, Any] = {"plan": DONE, "builder": "Bricklark", "spread": spread("settled"), "builder_knows": True}
    return View(**{**usual, "visit": None, **more})


CASES: list[tuple[dict[str, Any], str, str]] = [
    ({"plan": BLOCKED, "spread": spread("entered-wrong")}, "decide", "DNS host"),
    ({"plan": WORK, "spread": spread("entered-wrong", None, SLIP)}, "mend", "DNS host"),
    ({"plan": WORK, "spread": spread("split")}, "mend", "DNS host"),
    ({"plan": WORK, "spread": spread("not-entered"), "builder_knows": False}, "claim", "builder"),
    ({"plan": WORK, "spread": spread("not-entered")}, "enter", "DNS host"),
    ({"plan": WORK, "spread": spread("not-entered"), "builder_knows": None}, "enter", "DNS host"),
    ({"plan": HANDED, "spread": spread("settled"), "builder_knows": None}, "enter", "registrar"),
    ({"spread": spread("split")}, "mend", "DNS host"),
    ({"spread": spread("unknown")}, "look", "here"),
    ({"spread": spread("spreading", NOW + 60)}, "spread", "here"),
    ({"spread": spread("spreading", NOW + 60), "visit": visit("broken")}, "web", "builder"),
    ({"spread": spread("spreading", NOW + 60), "visit": visit("arrived")}, "spread", "here"),
    ({"visit": visit("waiting", NOW + 90)}, "secure", "here"),
    ({"visit": visit("arrived")}, "arrived", "here"),
    ({}, "look", "here"),
]


@pytest.mark.parametrize(("seen", "stage", "where"), CASES)
def test_each_stage(seen: dict[str, Any], stage: str, where: str) -> None:
    found = place_on_path(view(**seen))
    assert (found.stage, found.where) == (stage, where)
    assert found.do.endswith((".", "!")) or found.stage in ("decide", "mend")
    assert (found.wait_until is not None) == (stage in ("spread", "secure"))


def test_every_line_of_the_table_is_reached() -> None:
    reached = {next(number for number, line in enumerate(TABLE) if line.holds(view(**seen))) for seen, _, _ in CASES}
    assert reached == set(range(len(TABLE)))


def test_the_cure_of_a_slip_is_what_is_to_be_done() -> None:
    found = place_on_path(view(plan=WORK, spread=spread("entered-wrong", None, SLIP)))
    assert found.do == "Change it"
    assert found.because == (SLIP,)
