"""What a builder may be waiting for: the order follows from what was seen."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from homepath.core.message import Message
from homepath.core.model.brief import BriefStep, HttpsFacts
from homepath.core.model.evidence import EdgeSeen, Evidence, builder_waited_since
from homepath.core.model.findings import Finding
from homepath.core.model.visits import Certificate, Hop, Way
from homepath.core.site.wanted import work_out
from homepath.core.web.whole import Known, possibilities
from homepath.core.wording.say import say
from tests.core.cases import BRIEF, SITE

WANTED = replace(
    work_out(SITE, BRIEF),
    https=HttpsFacts(usual_wait=1800, longest_wait=172800, issuing_days=("Tuesday",)),
    steps=(BriefStep("after-records", "Publish the site again", "Press publish."),),
)
URL = "https://www.tidewick-kiln.example/"
PENDING = Certificate("name-missing", False, (), "x", None)
UNAWARE = Way(URL, None, "waiting", (Hop(URL, 404, None, "192.0.2.10", "", PENDING),), PENDING)
SERVED = replace(UNAWARE, hops=(Hop(URL, 200, None, "192.0.2.10", "", PENDING),))
CERTIFIED = replace(SERVED, hops=(Hop(URL, 200, None, "192.0.2.10", "", replace(PENDING, state="good")),))
STRAY = Finding("ipv6-elsewhere", "blocker", "a.", "AAAA", "a stray address", "Remove it.", "")
DONE = {"claim": 1.0, "builder-step:publish-the-site-again": 1.0}


def codes(**more: Any) -> list[str]:
    known = Known(WANTED, (UNAWARE,), (), {}, 0.0, None, 60.0)
    found = (each.what for each in possibilities(replace(known, **more)))
    return [what.code.removeprefix("pending.") for what in found if isinstance(what, Message)]


@pytest.mark.parametrize(
    ("seen", "expected"),
    [
        ({}, ["not-told", "step-left-out", "own-rhythm", "certificate"]),
        ({"findings": (STRAY,)}, ["hindered", "not-told", "step-left-out", "own-rhythm", "certificate"]),
        ({"confirmed": DONE}, ["own-rhythm", "certificate"]),
        ({"confirmed": DONE, "settled_by": 600.0}, ["own-cache", "own-rhythm", "certificate"]),
        ({"confirmed": DONE, "now": 7200.0}, ["certificate", "too-long"]),
        ({"confirmed": DONE, "now": 200000.0}, ["too-long-4"]),
        ({"confirmed": DONE, "now": 172800.0}, ["too-long-4"]),
        ({"confirmed": DONE, "now": 172799.0}, ["certificate", "too-long"]),
        ({"confirmed": DONE, "now": 1800.0}, ["certificate", "too-long"]),
        ({"confirmed": DONE, "now": 1799.0}, ["own-rhythm", "certificate"]),
        ({"confirmed": DONE, "since": None, "now": 9e5}, ["own-rhythm", "certificate"]),
        ({"confirmed": DONE, "ways": (CERTIFIED,)}, []),
        ({"confirmed": DONE, "ways": (SERVED,)}, ["certificate"]),
        ({"ways": (replace(SERVED, state="arrived"),)}, []),
    ],
)
def test_the_order_follows_from_what_was_seen(seen: dict[str, Any], expected: list[str]) -> None:
    assert codes(**seen) == expected


def test_waits_have_ends_and_fixed_days_are_said() -> None:
    known = Known(WANTED, (UNAWARE,), (), DONE, 0.0, 600.0, 60.0)
    assert [each.until for each in possibilities(known)] == [None, 1800, 1800]
    assert "Tuesday only" in say(possibilities(known)[2].what)


@pytest.mark.parametrize(
    ("right", "confirmed", "edge", "since"),
    [
        (None, {"claim": 5.0}, None, None),  # DNS is not right yet
        (10.0, {}, None, 10.0),
        (10.0, {"claim": 5.0, "check-again": 7.0}, None, 10.0),
        (10.0, {"claim": 50.0}, None, 50.0),  # added again
        (10.0, {"check-again": 30.0}, EdgeSeen(40.0, False), 30.0),
        (10.0, {"check-again": 30.0}, EdgeSeen(90.0, True, since=60.0), 60.0),
    ],
)
def test_each_act_at_the_builder_starts_its_wait_anew(
    right: float | None, confirmed: dict[str, float], edge: EdgeSeen | None, since: float | None
) -> None:
    assert builder_waited_since(Evidence(confirmed=confirmed, edge=edge), right) == since
