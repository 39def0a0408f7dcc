"""A builder that has moved: told from one that is slow, silent, or not told of the domain yet."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from homepath.core.model.visits import Hop, Visit, Way
from homepath.core.observe.moved import moved_visit
from homepath.core.site.wanted import work_out
from homepath.core.web.hops import Fetched
from tests.core.cases import BRIEF, DOMAIN, SITE

WANTED = work_out(SITE, BRIEF)
EDGE = WANTED.edge


def served(status: int) -> Fetched:
    return Fetched(status)


def driven(look: Any, replies: list[list[Any]]) -> tuple[Any, list[Any]]:
    """The value of a look that is sent these replies, one list for each of its requests."""
    sent = iter(replies)
    asked: list[Any] = []
    try:
        want = next(look)
        while True:
            asked.append(want)
            want = look.send(next(sent))
    except StopIteration as done:
        return done.value, asked


def test_a_visit_does_not_wait_for_a_certificate_that_nobody_will_issue() -> None:
    name = DOMAIN.rstrip(".")

    def visited(visit: Visit, there: Hop, right: bool = True, overdue: bool = False) -> Visit:
        look = moved_visit(
            WANTED, visit, lambda t: ["203.0.113.200"] if t == "A" else [], lambda n: right, lambda n: overdue
        )
        found: Visit = driven(look, [[(there,)]])[0]
        return found

    here = Hop(f"http://{name}/", None, None, "192.0.2.10")
    way = Way(f"http://{name}/", f"http://{name}/", "waiting", (here,), None)
    visit = Visit(DOMAIN, 0.0, f"https://www.{name}/", "waiting", (way,), (), 99.0)
    there = Hop(f"http://{name}/", 200, None, "203.0.113.200")
    found = visited(visit, there)
    assert (found.verdict, found.wait_until) == ("broken", None)
    assert [(each.code, each.level) for each in found.findings] == [("brief-outdated", "blocker")]
    assert visited(visit, there, right=False) == visit
    # both answer alike: two addresses of one builder, or an old edge that is still up
    alive = replace(visit, ways=(replace(way, hops=(replace(here, status=301, location=f"https://{name}/"),)),))
    same = replace(there, status=301, location=f"https://{name}/")
    assert visited(alive, same) == alive
    late = visited(alive, same, overdue=True)
    assert (late.verdict, late.wait_until) == ("waiting", 99.0)
    assert [(each.code, each.level) for each in late.findings] == [("brief-outdated", "risk")]
    # so do two that serve one page, or pages with one title
    titled = "<title>Kiln</title>"
    for mine, theirs, moved in (("bowls", "bowls", False), (f"{titled}a", f"{titled}b", False), ("a", "b", True)):
        page = replace(visit, ways=(replace(way, hops=(replace(here, status=200, page=mine),)),))
        assert (visited(page, replace(there, page=theirs)) != page) is moved
