"""The forecast: closed form against simulation, bounds that hold, and what the practice world's resolvers give."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from homepath.core.forecast import simulate as closed
from homepath.core.forecast.simulate import simulate
from homepath.core.model.forecast import Busy, Caches, Phase
from homepath.core.model.visits import Certificate, Hop, Visit, Way
from homepath.core.propagation.readings import CheckShares, spans_of
from tests.core.cases import DOMAIN
from tests.practice.forecast_seen import compare, practice_visits

RATES = st.sampled_from((0.5, 3.0, 20.0, 600.0, 50_000.0))


@settings(max_examples=25, deadline=None)
@given(
    st.sampled_from((1, 60, 300, 3600, 86400)),
    st.lists(RATES, min_size=1, max_size=3, unique=True),
    st.sampled_from((0.0, 0.1, 0.5)),
    st.sampled_from((0.0, 0.2, 0.5)),
)
def test_both_ways_agree_within_half_a_point(ttl: int, rates: list[float], clamped: float, stale: float) -> None:
    caches = Caches(tuple(Busy(1 / len(rates), rate) for rate in rates), clamped, 3600, stale)
    before = Phase(0, "old", ttl)
    course = simulate([before, Phase(0, "new", 300)], caches, 6 * 3600, 150_000, 600)
    assert max(abs(m.old - closed.before_share(m.at, before, caches)) for m in course.minutes) < 0.005
    exact = closed.moved(before, caches)
    assert course.moved.all == exact.all == ttl
    if clamped + stale == 1:
        return
    for one, other in ((course.moved.half, exact.half), (course.moved.most, exact.most)):
        assert one == pytest.approx(other, abs=0.02 * ttl + 1)


@settings(max_examples=25, deadline=None)
@given(st.data())
def test_whatever_the_order_shares_sum_to_one_and_nobody_is_left_behind_the_bound(data: st.DataObject) -> None:
    """Only caches that keep the rules: after the last change plus every TTL before it everybody meets the new site."""
    at, phases = 0.0, [Phase(0, "old", data.draw(st.sampled_from((60, 300, 7200))))]
    for _ in range(data.draw(st.integers(1, 4))):
        at += data.draw(st.sampled_from((0.0, 30.0, 600.0, 9000.0)))
        phases.append(
            Phase(at, data.draw(st.sampled_from(("old", "nothing", "new"))), data.draw(st.sampled_from((60, 900))))
        )
    phases.append(Phase(at + 60, "new", 300))
    caches = Caches((Busy(1.0, data.draw(RATES)),))
    course = simulate(phases, caches, at + 9000, 20_000)
    assert all(
        m.new + m.old + m.nothing == pytest.approx(1) and min(m.new, m.old, m.nothing) >= 0 for m in course.minutes
    )
    assert all(m.new == 1 for m in course.minutes if m.at >= course.moved.all)
    moved = course.moved
    assert phases[-1].at <= moved.half <= moved.most <= moved.nearly_all <= moved.all


def test_renewal_over_many_rounds_keeps_the_steady_state() -> None:
    """A change that changes nothing, a day later, finds as many caches with a copy as before."""
    for rate in (1.0, 20.0, 600.0):
        caches = Caches((Busy(1.0, rate),))
        course = simulate(
            [Phase(0, "old", 300), Phase(0, "old", 300), Phase(86400, "new", 300)], caches, 87000, 100_000
        )
        first = next(m for m in course.minutes if m.at == 86400)
        assert first.old == pytest.approx(closed.held(300, rate / 3600), abs=0.006)


@pytest.mark.parametrize(
    ("habit", "limit", "caches"),
    [
        ("plain", 0, Caches((Busy(1.0, 12.0),))),
        ("clamping", 5400, Caches((Busy(1.0, 12.0),), clamped=1.0, floor=5400)),
        ("stale-serving", 0, Caches((Busy(1.0, 12.0),), stale=1.0)),
    ],
)
@pytest.mark.parametrize(
    "phases",
    [
        [Phase(0, "old", 1800), Phase(0, "new", 300)],
        [Phase(0, "old", 1800), Phase(0, "nothing", 900), Phase(600, "new", 300)],
        [Phase(0, "old", 1800), Phase(0, "old", 300), Phase(900, "new", 300)],
    ],
)
def test_practice_resolvers_do_what_is_forecast(phases: list[Phase], habit: str, limit: int, caches: Caches) -> None:
    visits = practice_visits(phases, 12.0, habit, limit, 2000, 4800)
    for bucket in compare(visits, phases, caches, range(0, 4801, 600)):
        assert bucket.seen == pytest.approx(bucket.predicted, abs=0.035), bucket


SECURE = Certificate("good", True, ("www.tidewick-kiln.example",), "Tallowseal", 2e9)


def seen(*hops: Hop) -> Visit:
    ways = tuple(Way(hop.url, hop.url, "wrong-destination", (hop,), hop.certificate) for hop in hops)
    return Visit(DOMAIN, 1000.0, "https://www.tidewick-kiln.example/", "broken", ways, ())


PAGE = Hop("http://www.tidewick-kiln.example/", 200, None, "198.51.100.9")


def look(at: float, new: float, old: float, nothing: float = 0.0, by: float | None = None) -> CheckShares:
    return CheckShares(at, (new, old, nothing, 1 - new - old - nothing), by)


def test_no_earlier_answer_is_drawn_after_its_deadline() -> None:
    looks = [look(0, 0.0, 1.0, by=300.0), look(900, 1.0, 0.0, by=300.0)]
    before, after = spans_of(looks, 900)
    assert (before.begin, before.end, before.held[1], before.moving) == (0, 300, 0.0, 1.0)
    assert (after.begin, after.end, after.held) == (300, 900, (1.0, 0.0, 0.0, 0.0))
    (open_end,) = spans_of(looks[:1], 10_000)
    assert (open_end.begin, open_end.end, open_end.held[1]) == (0, 300, 0.0)
    assert spans_of([look(0, 1.0, 0.0, by=0.0)], 10.0) == []
