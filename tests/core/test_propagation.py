from __future__ import annotations

from dataclasses import replace

import pytest

from homepath.core.dns.answers import Answer, Question, Server
from homepath.core.dns.records import RecordSet
from homepath.core.model.plan import DesiredSet
from homepath.core.model.survey import Reading, Role
from homepath.core.propagation.habits import Habit, habit_findings, habits
from homepath.core.propagation.readings import Watched, read
from homepath.core.propagation.verdicts import CEILING, FLOOR, Past, judge, next_look, whole

NAME = "www.tidewick-kiln.example."
HERE = Server("203.0.113.53")
SOA = RecordSet("tidewick-kiln.example.", "SOA", 3600, ("ns. dns. 1 2 3 4 900",))


def a(*values: str, ttl: int = 3600, name: str = NAME, rrtype: str = "A") -> RecordSet:
    return RecordSet(name, rrtype, ttl, values)


OLD, NEW = a("198.51.100.7"), a("192.0.2.10", "192.0.2.44")
ALIAS = Watched(DesiredSet(NAME, "CNAME", ("x.example.",)), (OLD,))
MEANT = DesiredSet(NAME, "A", NEW.values)
GONE = Watched(DesiredSet(NAME, "A"), (OLD,), OLD)
WATCHED = Watched(DesiredSet(NAME, "A", NEW.values), (OLD,), OLD)


def answer(*sets: RecordSet, at: float = 0.0, rcode: str = "NOERROR") -> Answer:
    return Answer(Question(NAME, "A"), HERE, "answered", at, rcode, True, sets, () if sets else (SOA,))


@pytest.mark.parametrize(
    ("watched", "given", "state"),
    [
        (WATCHED, answer(NEW), "new"),
        (WATCHED, answer(a("192.0.2.44", "192.0.2.10", ttl=5)), "new"),
        (WATCHED, answer(OLD), "old"),
        (WATCHED, answer(a("192.0.2.10")), "mixed"),
        (WATCHED, answer(a("192.0.2.10", "192.0.2.44", "198.51.100.7")), "mixed"),
        (WATCHED, answer(a("192.0.2.77")), "other"),
        (WATCHED, answer(), "absent"),
        (WATCHED, answer(rcode="NXDOMAIN"), "absent"),
        (WATCHED, answer(rcode="SERVFAIL"), "broken"),
        (WATCHED, answer(a("x.example.", rrtype="CNAME")), "other"),
        (WATCHED, replace(answer(), outcome="silent"), "silent"),
        (GONE, answer(), "new"),
        (GONE, answer(OLD), "old"),
        (GONE, answer(a("x.example.", rrtype="CNAME")), "new"),
        (ALIAS, answer(a("x.example.", rrtype="CNAME"), a("192.0.2.1", name="x.example.")), "new"),
        (ALIAS, answer(OLD), "old"),
        (replace(ALIAS, old=()), answer(OLD), "other"),
        (Watched(DesiredSet(NAME, "TXT", ('"k=1"',))), answer(a('"k=1"', '"v=spf1"', rrtype="TXT")), "new"),
        (Watched(DesiredSet(NAME, "TXT", ('"k=12"',))), answer(a('"k=1" "2"', rrtype="TXT")), "new"),
        (Watched(DesiredSet(NAME, "TXT", ('"k=1"',))), answer(a('"v=spf1"', rrtype="TXT")), "absent"),
        (Watched(DesiredSet(NAME, "TXT", ('"k=1"',))), answer(a('"k=2"', rrtype="TXT")), "other"),
    ],
)  # fmt: skip
def test_readings(watched: Watched, given: Answer, state: str) -> None:
    assert read(watched, given, "here", "authoritative").state == state


def r(role: Role, state: str, ttl: int | None = None, at: float = 1000.0, vantage: str = "v") -> Reading:
    values = {"new": NEW.values, "old": OLD.values}.get(state, ())
    return Reading(vantage, role, state, values, ttl, at)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("readings", "verdict"),
    [
        ([r("authoritative", "new"), r("resolver", "new")], "settled"),
        ([r("authoritative", "new"), r("resolver", "new"), r("resolver", "silent")], "settled"),
        ([r("authoritative", "new"), r("resolver", "silent")], "unknown"),
        ([r("authoritative", "new"), r("authoritative", "silent"), r("resolver", "new")], "settled"),
        ([r("authoritative", "new"), r("resolver", "old", 60)], "spreading"),
        ([r("authoritative", "new"), r("resolver", "absent", 60)], "spreading"),
        ([r("authoritative", "old"), r("resolver", "old", 60)], "not-entered"),
        ([r("authoritative", "absent"), r("resolver", "new")], "not-entered"),
        ([r("authoritative", "new"), r("authoritative", "old", vantage="w")], "split"),
        ([r("authoritative", "mixed")], "entered-wrong"),
        ([r("authoritative", "other"), r("resolver", "new")], "entered-wrong"),
        ([r("authoritative", "silent"), r("resolver", "new")], "unknown"),
        ([], "unknown"),
    ],
)
def test_verdicts(readings: list[Reading], verdict: str) -> None:
    assert judge(WATCHED, readings, 1000.0).verdict == verdict


def seen(*pairs: tuple[float, str, int]) -> list[Reading]:
    return [r("resolver", state, ttl, at) for at, state, ttl in pairs]


@pytest.mark.parametrize(
    ("readings", "kind"),
    [
        (seen((1000, "old", 3000), (1600, "old", 2400), (4100, "new", 3600)), None),  # counts down as it should
        (seen((1000, "old", 3000), (1600, "old", 2399)), None),  # rounding
        (seen((1000, "old", 3000), (1600, "old", 1200)), "several"),
        (seen((1000, "old", 600), (1300, "old", 1800)), "several"),
        (seen((1000, "new", 600), (1300, "old", 1800)), "several"),
        (seen((1000, "old", 600), (1700, "old", 30)), "stale"),  # outlived its own countdown
        (seen((5000, "old", 30)), "stale"),  # outlived every TTL
        (seen((1000, "new", 9000)), "floor"),
        (seen((1000, "old", 9000)), None),  # fetched before the first look, when the TTL may have been longer
        (seen((800, "old", 600), (850, "old", 3000)), None),  # before the change everything may be fetched anew
        (seen((1000, "silent", 0), (1300, "broken", 0)), None),
    ],
)
def test_what_looks_tell_about_a_resolver(readings: list[Reading], kind: str | None) -> None:
    found = habits(readings, 900.0, 4500.0, 3600, 3.0, 900.0)
    assert [each.kind for each in found] == ([kind] if kind else [])
    if found:
        (finding,) = habit_findings(WATCHED, found, 3600)
        assert (finding.code, finding.level) == ("several-caches" if kind == "several" else "ttl-clamped", "note")
    # where no earlier content is known, any content may be an old copy for as long as the longest TTL
    early, late = r("resolver", "other", at=950.0), r("resolver", "other", at=4600.0)
    assert [len(habits([each], 900.0, None, 3600, 3.0)) for each in (early, late)] == [0, 1]
    # a copy fetched again just when it ran out, clocks being what they are, is one served stale
    again = [r("resolver", "old", 100, 1000.0), r("resolver", "old", 500, 1098.0)]
    assert [each.kind for each in habits(again, 900.0, None, 3600, 3.0)] == ["stale"]
    # only what a resolver answers tells of its habits
    others = [r("authoritative", "old", 5000, 4600.0), r("resolver", "silent", 5000, 4600.0)]
    assert habits(others, 900.0, 950.0, 3600, 3.0) == []
    assert habits(readings, None, None, 0, 3.0) == []


def test_settled_is_taken_back_and_a_pool_is_not_believed_too_soon() -> None:
    right = [r("authoritative", "new"), r("resolver", "new")]
    old_copy = (r("resolver", "old", 3000, 900.0),)
    assert judge(WATCHED, right, 1000.0, Past(readings=old_copy)).verdict == "settled"
    pool = Past(readings=old_copy, habits=(Habit("v", "several"),))
    assert judge(WATCHED, right, 1000.0, pool).verdict == "spreading"
    assert judge(WATCHED, right, 4000.0, pool).verdict == "settled"
    back = judge(WATCHED, [right[0], r("resolver", "old", 60)], 1000.0, Past(settled_at=950.0))
    assert (back.verdict, back.taken_back) == ("spreading", 950.0)
    assert judge(WATCHED, right, 1000.0, Past(settled_at=950.0)).taken_back is None
    assert judge(WATCHED, [r("authoritative", "silent")], 1000.0, Past(settled_at=950.0)).taken_back is None


def test_the_worst_record_decides_and_the_last_deadline_counts() -> None:
    good = judge(WATCHED, [r("authoritative", "new"), r("resolver", "new")], 1000.0)
    slow = judge(WATCHED, [r("authoritative", "new"), r("resolver", "old", 600)], 1000.0)
    wrong = judge(WATCHED, [r("authoritative", "mixed")], 1000.0)
    assert whole([good, slow]) == ("spreading", 1600.0)
    assert whole([good, slow, wrong])[0] == "entered-wrong"
    assert whole([]) == ("unknown", None)
    assert next_look([slow], 1000.0) == 1000.0 + 600 + 1
    assert next_look([good], 1000.0) == 1000.0 + CEILING + 1
    assert (
        next_look([judge(WATCHED, [r("authoritative", "new"), r("resolver", "old", 3)], 1000.0)], 1000.0)
        == 1000.0 + FLOOR
    )
