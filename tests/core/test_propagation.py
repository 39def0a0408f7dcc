from __future__ import annotations

from dataclasses import replace

import pytest

from homepath.core.model.questions import Answer, Question, Server, negative_ttl
from homepath.core.model.readings import Reading, Role
from homepath.core.model.records import RecordSet
from homepath.core.propagation.clamping import clamped
from homepath.core.propagation.readings import Watched, read, to_watch
from homepath.core.propagation.verdicts import CEILING, FLOOR, judge, next_look, whole
from homepath.journal.journal import Content, changed_at

NAME = "www.tidewick-kiln.example."
HERE = Server("203.0.113.53")
SOA = RecordSet("tidewick-kiln.example.", "SOA", 3600, ("ns. dns. 1 2 3 4 900",))


def a(*values: str, ttl: int = 3600, name: str = NAME, rrtype: str = "A") -> RecordSet:
    return RecordSet(name, rrtype, ttl, values)


OLD, NEW = a("198.51.100.7"), a("192.0.2.10", "192.0.2.11")
ALIAS = Watched(NAME, "CNAME", ("x.example.",), (OLD,))
WATCHED = Watched(NAME, "A", NEW.values, (OLD,), OLD)


def answer(*sets: RecordSet, at: float = 0.0, rcode: str = "NOERROR") -> Answer:
    return Answer(Question(NAME, "A"), HERE, "answered", at, rcode, True, sets, () if sets else (SOA,))


@pytest.mark.parametrize(
    ("watched", "given", "state"),
    [
        (WATCHED, answer(NEW), "new"),
        (WATCHED, answer(a("192.0.2.11", "192.0.2.10", ttl=5)), "new"),
        (WATCHED, answer(OLD), "old"),
        (WATCHED, answer(a("192.0.2.10")), "mixed"),
        (WATCHED, answer(a("192.0.2.10", "192.0.2.11", "198.51.100.7")), "mixed"),
        (WATCHED, answer(a("192.0.2.77")), "other"),
        (WATCHED, answer(), "absent"),
        (WATCHED, answer(rcode="NXDOMAIN"), "absent"),
        (WATCHED, answer(rcode="SERVFAIL"), "broken"),
        (WATCHED, answer(a("x.example.", rrtype="CNAME")), "other"),
        (WATCHED, replace(answer(), outcome="silent"), "silent"),
        (replace(WATCHED, wanted=()), answer(), "new"),
        (replace(WATCHED, wanted=()), answer(OLD), "old"),
        (replace(WATCHED, wanted=()), answer(a("x.example.", rrtype="CNAME")), "new"),
        (ALIAS, answer(a("x.example.", rrtype="CNAME"), a("192.0.2.1", name="x.example.")), "new"),
        (ALIAS, answer(OLD), "old"),
        (replace(ALIAS, old=()), answer(OLD), "other"),
        (Watched(NAME, "TXT", ('"k=1"',)), answer(a('"k=1"', '"v=spf1"', rrtype="TXT")), "new"),
        (Watched(NAME, "TXT", ('"k=12"',)), answer(a('"k=1" "2"', rrtype="TXT")), "new"),
        (Watched(NAME, "TXT", ('"k=1"',)), answer(a('"v=spf1"', rrtype="TXT")), "absent"),
        (Watched(NAME, "TXT", ('"k=1"',)), answer(a('"k=2"', rrtype="TXT")), "other"),
    ],
)  # fmt: skip
def test_readings(watched: Watched, given: Answer, state: str) -> None:
    assert read(watched, given, "here", "authoritative").state == state


def test_what_was_typed_since_is_old_in_a_cache_but_wrong_at_the_source() -> None:
    slip = a("192.0.2.22")
    watched = replace(WATCHED, old=(OLD, slip))
    assert read(watched, answer(slip), "cache", "resolver").state == "old"
    assert read(watched, answer(slip), "server", "authoritative").state == "other"
    assert read(watched, answer(OLD), "server", "authoritative").state == "old"


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
    assert judge(WATCHED, readings, 1000.0, None, 900).verdict == verdict


def test_deadlines() -> None:
    """Counted down by who was asked; bounded by old TTL or negative caching for all others (RFC 2308)."""
    spreading = [r("authoritative", "new"), r("resolver", "old", 600), r("resolver", "old", 1200)]
    assert judge(WATCHED, spreading, 1000.0, None, 900).settled_by == 2200.0
    assert judge(WATCHED, spreading, 1000.0, 900.0, 900).settled_by == 4500.0
    nothing_before = replace(WATCHED, old=())
    assert judge(nothing_before, [*spreading[:1], r("resolver", "new")], 1000.0, 900.0, 700).settled_by == 1600.0
    assert judge(nothing_before, [r("authoritative", "new")], 2000.0, 900.0, 700).settled_by is None
    assert judge(WATCHED, [r("authoritative", "old")], 1000.0, 900.0, 900).settled_by is None
    assert negative_ttl(SOA) == 900
    assert negative_ttl(replace(SOA, ttl=60)) == 60


def test_the_worst_record_decides_and_the_last_deadline_counts() -> None:
    good = judge(WATCHED, [r("authoritative", "new"), r("resolver", "new")], 1000.0, None, 0)
    slow = judge(WATCHED, [r("authoritative", "new"), r("resolver", "old", 600)], 1000.0, None, 0)
    wrong = judge(WATCHED, [r("authoritative", "mixed")], 1000.0, None, 0)
    assert whole([good, slow]) == ("spreading", 1600.0)
    assert whole([good, slow, wrong])[0] == "entered-wrong"
    assert whole([]) == ("unknown", None)
    assert next_look([slow], 1000.0) == 1000.0 + 600 + 1
    assert next_look([good], 1000.0) == 1000.0 + CEILING + 1
    assert (
        next_look([judge(WATCHED, [r("authoritative", "new"), r("resolver", "old", 3)], 1000.0, None, 0)], 1000.0)
        == 1000.0 + FLOOR
    )


def test_a_resolver_that_keeps_answers_longer_is_named() -> None:
    spread = judge(
        WATCHED, [r("authoritative", "new"), r("resolver", "old", 5400), r("resolver", "old", 60)], 1000.0, None, 0
    )
    (finding,) = clamped([spread], {(NAME, "A"): 3600})
    assert (finding.code, "1 h 30 min" in finding.message) == ("ttl-clamped", True)
    assert not list(clamped([spread], {(NAME, "A"): 5400}))
    assert not list(clamped([spread], {}))


def test_what_is_watched_and_since_when() -> None:
    cname = a("x.example.", rrtype="CNAME")
    found = {each.key: each for each in to_watch([cname], [(NAME, "A")], [OLD, replace(OLD, ttl=7200), cname])}
    assert found[NAME, "CNAME"].old[0].ttl == 7200
    assert found[NAME, "A"].wanted == ()
    past = [Content(OLD, 0, 50), Content(replace(OLD, values=()), 60, 70), Content(NEW, 80, 90)]
    assert changed_at(past, NEW.key, NEW) == 80
    assert changed_at(past[:2], NEW.key, None) == 60
    assert changed_at(past[2:], NEW.key, NEW) is None
    assert changed_at([*past, Content(OLD, 100, 110)], NEW.key, NEW) is None
