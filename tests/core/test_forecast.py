"""The forecast: closed form against simulation, bounds that hold, and what the practice world's resolvers give."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from homepath.core.forecast import simulate as closed
from homepath.core.forecast.orders import gap_of, horizon, orders, recommend, together, use_of, warned
from homepath.core.forecast.simulate import simulate
from homepath.core.model.evidence import EdgeSeen
from homepath.core.model.forecast import Busy, Caches, Order, Outlook, Phase, Situation, Use
from homepath.core.model.visits import Certificate, Hop, Visit, Way
from homepath.core.propagation.readings import CheckShares, spans_of
from homepath.core.wording.say import say
from tests.core.cases import DOMAIN, case
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


def test_name_servers_hold_longer_than_records() -> None:
    caches = Caches((Busy(1.0, 60.0),))
    records = simulate([Phase(0, "old", 3600), Phase(0, "new", 300)], caches, 90000, 50_000)
    servers = simulate([Phase(0, "old", 3600, 21600), Phase(0, "new", 300)], caches, 90000, 50_000)
    assert (records.moved.all, servers.moved.all) == (3600, 25200)
    assert servers.moved.half > 3 * records.moved.half


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


def outlook(key: str, change: float, phases: list[Phase]) -> Outlook:
    course = simulate(phases, Caches(), 20_000, 20_000)
    return Outlook(Order(key, key, change, (("www.tidewick-kiln.example.", tuple(phases)),)), course)


def test_orders_and_what_is_recommended() -> None:
    used = [Situation("www.a.example.", 14400, 3600, 900), Situation("a.example.", None, 3600, 900)]
    made = orders(used, True, [1800], 600)
    assert [each.key for each in made] == ["lower-first", "at-once", "wait-1800", "remove-first"]
    assert [each.change_at for each in made] == [14400, 0, 1800, 600]
    assert horizon(made) == 14400 + 900 + 1800
    assert [each.key for each in orders(used[1:], False, [], 600)] == ["at-once"]
    assert [each.key for each in orders([Situation("a.example.", 60, 60, 900, 86400)], False, [600])] == ["at-once"]
    outlooks = [outlook(each.key, each.change_at, list(each.phases[0][1])) for each in made]
    assert recommend(outlooks, True, "in-use")[0] == "lower-first"
    key, because = recommend(outlooks, False, "nothing")
    assert key == "at-once"
    assert "remove" in say(because)
    assert "mixture of old and new" in say(recommend(outlooks, True, "in-use")[1])
    assert "does not have to be lowered first" in say(because)
    assert [phase.at for phase in made[0].phases[0][1]] == [0, 0, 14400]
    both = together([each.course for each in outlooks[:2]])
    assert both.moved.all == max(each.course.moved.all for each in outlooks[:2])


WWW_SITE = "@ 300 A 198.51.100.9\nwww 300 A 198.51.100.9"
SECURE = Certificate("good", True, ("www.tidewick-kiln.example",), "Tallowseal", 2e9)
NOTHING = Hop("http://www.tidewick-kiln.example/", None, None, "198.51.100.9", "silent")


def seen(*hops: Hop) -> Visit:
    ways = tuple(Way(hop.url, hop.url, "wrong-destination", (hop,), hop.certificate) for hop in hops)
    return Visit(DOMAIN, 1000.0, "https://www.tidewick-kiln.example/", "broken", ways, ())


PAGE = Hop("http://www.tidewick-kiln.example/", 200, None, "198.51.100.9")
PADLOCK = Hop("https://www.tidewick-kiln.example/", 200, None, "198.51.100.9", "", SECURE)


@pytest.mark.parametrize(
    ("zone", "visit", "use", "gap"),
    [
        ("@ 300 MX 10 mail", None, "nothing", False),
        (WWW_SITE, None, "unknown", False),
        (WWW_SITE, seen(NOTHING), "nothing", False),
        (WWW_SITE, seen(PAGE), "in-use", False),
        (WWW_SITE, seen(PAGE, PADLOCK), "in-use", True),
        ("@ 300 A 198.51.100.7", seen(PAGE), "parked", False),
    ],
)
def test_that_nothing_is_in_use_is_said_only_where_nothing_answered(
    zone: str, visit: Visit | None, use: Use, gap: bool
) -> None:
    made = case(zone)
    assert use_of(made, visit) == use
    assert (gap_of(made, visit, None) is not None) == gap
    assert gap_of(made, visit, EdgeSeen(1.0, True, secure=True)) is None
    found = [Situation("www.", 300, 3600, 900)]
    outlooks = [
        Outlook(order, together([simulate(phases, Caches(), horizon([order]), 2_000) for _, phases in order.phases]))
        for order in orders(found, False, [])
    ]
    said = recommend(outlooks, False, use)[1]
    assert ("no site is in use" in say(said)) == (use == "nothing")


def test_whoever_comes_over_https_is_warned_until_the_builders_certificate_comes() -> None:
    (order,) = (each for each in orders([Situation("www.", 300, 300, 900)], False, []) if each.key == "at-once")
    gap = gap_of(case(WWW_SITE), seen(PADLOCK), None)
    assert gap is not None
    seconds = horizon([order], gap.usual)
    course = together([simulate(phases, Caches(), seconds, 20_000) for _, phases in order.phases])
    found = replace(Outlook(order, course), warned=warned(Outlook(order, course), gap))
    minutes = course.minutes
    assert all(share == (m.new if m.at < gap.usual else 0.0) for m, share in zip(minutes, found.warned, strict=True))
    assert 0.8 * gap.usual / 60 < found.warned_minutes <= gap.usual / 60


def look(at: float, new: float, old: float, nothing: float = 0.0, by: float | None = None) -> CheckShares:
    return CheckShares(at, (new, old, nothing, 1 - new - old - nothing), by)


def test_between_two_looks_only_what_both_saw_is_known() -> None:
    (first,) = spans_of([look(0, 0.25, 0.75), look(600, 0.75, 0.25)], 600)
    assert (first.held, first.moving) == ((0.25, 0.25, 0.0, 0.0), 0.5)


def test_no_earlier_answer_is_drawn_after_its_deadline() -> None:
    looks = [look(0, 0.0, 1.0, by=300.0), look(900, 1.0, 0.0, by=300.0)]
    before, after = spans_of(looks, 900)
    assert (before.begin, before.end, before.held[1], before.moving) == (0, 300, 0.0, 1.0)
    assert (after.begin, after.end, after.held) == (300, 900, (1.0, 0.0, 0.0, 0.0))
    (open_end,) = spans_of(looks[:1], 10_000)
    assert (open_end.begin, open_end.end, open_end.held[1]) == (0, 300, 0.0)
    assert spans_of([look(0, 1.0, 0.0, by=0.0)], 10.0) == []
