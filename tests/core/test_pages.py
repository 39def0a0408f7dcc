"""Pages after the move, sheets in every form, and words: small things, each with the case beside it."""

from __future__ import annotations

import csv
import io

import pytest

from homepath.core.contracts.changes import forecast_json
from homepath.core.dns.answers import Trouble
from homepath.core.model.brief import Notation
from homepath.core.model.forecast import Busy, Caches, Course, Forecast, Minute, Moved, Order, Outlook, Situation
from homepath.core.model.problems import Problem
from homepath.core.model.times import seconds_in
from homepath.core.model.visits import Hop
from homepath.core.propagation.readings import Watched
from homepath.core.propagation.verdicts import LONGEST, Past, judge, next_look
from homepath.core.web.hops import free_address_state, judge_pages, pages_to_read
from homepath.core.web.markup import read_markup
from homepath.core.wording.say import say, trouble_words
from homepath.core.wording.times import lasting, many, sentence_start, ttl_words
from homepath.core.wording.words import to_enter
from homepath.report.letter import as_csv, as_markdown
from homepath.report.sheet_html import as_page
from tests.core.cases import BASE, DOMAIN, case, sheet_jobs
from tests.core.test_propagation import MEANT, NEW, OLD, r

HOME = "https://www.tidewick-kiln.example/"
FREE = "site-20817.edge.bricklark.example."


def codes(text: str, free: str | None = FREE, twins: dict[str, Hop] | None = None) -> set[str]:
    found = judge_pages({HOME: read_markup(text, HOME)}, HOME, free, twins or {}, text)
    return {finding.code for finding in found}


def test_links_back_to_the_free_address_are_seen_where_there_is_one() -> None:
    link = f'<a href="https://{FREE[:-1]}/shop">'
    assert codes(link) == {"links-to-free-address"}
    assert codes(link, None) == set()
    assert codes('<a href="/shop">') == set()
    two = judge_pages({HOME: read_markup(link * 2, HOME)}, HOME, FREE, {}, "")
    assert "and 1 more" in say(two[0].message)
    one = judge_pages({HOME: read_markup(link, HOME)}, HOME, FREE, {}, "")
    assert "more" not in say(one[0].message)


def test_a_second_home_page_is_one_with_the_same_text_or_title() -> None:
    text = "<title>Kiln</title>bowls"

    def twin(page: str, status: int = 200) -> dict[str, Hop]:
        return {f"{HOME}home": Hop(f"{HOME}home", status, None, None, page=page)}

    assert codes(text, FREE, twin(text)) == {"two-home-pages"}
    assert codes(text, FREE, twin("<title>Kiln</title>cups")) == {"two-home-pages"}
    assert codes(text, FREE, twin("<title>Shop</title>cups")) == set()
    assert codes("bowls", FREE, twin("cups")) == set()
    assert codes(text, FREE, twin(text, 404)) == set()
    assert codes(text, FREE, twin(f'{text}<link rel="canonical" href="{HOME}">')) == set()
    other = '<link rel="canonical" href="https://x.example/">'
    assert codes(other) == {"canonical-elsewhere"}
    links = "".join(f'<a href="/{at}">' for at in range(40)) + '<a href="https://x.example/"><a href="/">'
    assert len(pages_to_read(read_markup(links, HOME), HOME)) == 11


def free_way(*hops: tuple[str, int | None, str | None]) -> tuple[Hop, ...]:
    return tuple(Hop(url, status, to, None) for url, status, to in hops)


@pytest.mark.parametrize(
    ("ways", "state"),
    [
        ([free_way(("https://f.example/", 200, None)), free_way(("http://f.example/", 301, "x"))], "serving"),
        ([free_way(("https://f.example/", 301, HOME), (HOME, 200, None))] * 2, "redirecting"),
        ([free_way(("http://f.example/", 301, "https://f.example/"), ("https://f.example/", 200, None))], "serving"),
        ([free_way(("https://f.example/", 404, None)), free_way(("http://f.example/", None, None))], "gone"),
        ([free_way(("https://f.example/", 399, None)), free_way(("http://f.example/", None, None))], "unknown"),
    ],
)
def test_what_the_free_address_does(ways: list[tuple[Hop, ...]], state: str) -> None:
    assert free_address_state(ways) == state


def test_a_sheet_gives_ttls_for_what_is_entered_and_says_what_stays() -> None:
    notation = Notation("Mossgate", ttl_choices=(300, 3600), final_dot="required", delete="press the bin")
    jobs = sheet_jobs(case(BASE + "@ A 198.51.100.7"), notation)
    text = as_markdown(DOMAIN, jobs, notation)
    assert text.count("TTL 1 h") == 4
    assert "Delete: type A\n" in text
    assert "Keep unchanged: `v=spf1 mx -all`" in text
    assert "press the bin" in text
    page = as_page(DOMAIN, jobs, notation)
    assert page.count("<dt>TTL</dt><dd>1 h</dd>") >= 4
    assert page.count("with the dot at its end") == 1
    rows = list(csv.DictReader(io.StringIO(as_csv(jobs))))
    assert {row["ttl"] for row in rows if row["do"] == "enter"} == {"3600"}
    assert [row["job"] for row in rows] == ["1"] * 3 + ["2", "3"]
    assert ttl_words(300, notation) == "5 min"
    assert ttl_words(300, Notation()) == "300 seconds (5 min)"
    assert ttl_words(60, Notation()) == "60 seconds"


def test_words_count_as_people_do() -> None:
    said = [to_enter(*each) for each in ((2, 4), (1, 0), (0, 1), (0, 9))]
    assert said == ["delete 2 records and add 4", "delete 1 record", "add 1 record", "add 9 records"]
    assert many(1, "way", "ways") == "one way"
    inner = Trouble("no-connection", "", "127.0.0.1:1")
    assert trouble_words(Trouble("no-server", ".", because=(inner,))) == (
        "no server of the root zone answers: no server listens at 127.0.0.1:1"
    )
    assert trouble_words(Trouble("refused", "ns1.x.example.", "192.0.2.1", "REFUSED")) == (
        "ns1.x.example (192.0.2.1) refuses to answer (REFUSED)"
    )
    assert trouble_words(Trouble("silent")) == "it does not answer"


def test_names_commands_and_options_keep_their_spelling_at_the_start_of_a_sentence() -> None:
    starts = {"it is": "It is", "clay-and-co.example has": "", "--step is": "", "two-way street": "Two-way street"}
    starts |= {"@ is": "", "élan": "Élan", "ns1.x.example: no": "", "": ""}
    assert {text: sentence_start(text) for text in starts} == {text: said or text for text, said in starts.items()}


def test_lengths_of_time() -> None:
    lengths = {
        0: "0 s",
        89: "89 s",
        90: "2 min",
        3600: "1 h",
        5400: "1 h 30 min",
        172799: "2 days",
        200000: "2 days 8 h",
    }
    assert {seconds: lasting(seconds) for seconds in lengths} == lengths
    assert [seconds_in(text) for text in ("1 h", "90", "1h30m", "2 days")] == [3600, 90, 5400, 172800]


def test_problems_say_their_place() -> None:
    assert Problem("x", "f.toml", 3, "a.b").place == "f.toml, line 3: a.b"
    assert Problem("x", "f.toml").place == "f.toml"
    assert Problem("x", None, 3, "a.b").place == "a.b"
    assert Problem("x", None, 3).place == ""


def test_the_ends_of_waits_are_over_at_the_moment_itself() -> None:
    from homepath.core.model.evidence import Copy
    from homepath.core.propagation.habits import Habit

    watched = Watched(MEANT, (OLD,), OLD)
    past = Past((Copy(900.0, 100),))
    right = [r("authoritative", "new"), r("resolver", "new")]
    assert judge(watched, right, 999.9, past).settled_by == 1000.0
    assert judge(watched, right, 1000.0, past).settled_by is None
    floor = Past((Copy(900.0, 100),), habits=(Habit("v", "floor"),))
    held = [r("authoritative", "new"), r("resolver", "old", 60)]
    assert judge(watched, held, 1000.0, floor).verdict == "spreading"
    assert judge(watched, held, 1000.1, floor).verdict == "settled"
    spreading = judge(watched, held, 950.0, past)
    assert next_look([spreading], 1000.0) == 1000.0 + 60 + 1
    assert next_look([judge(watched, right, 950.0, Past((Copy(900.0, 10**6),)))], 950.0) == 950.0 + LONGEST + 1
    assert LONGEST == 21600.0
    assert NEW.values == MEANT.values


def test_a_forecast_in_json_rounds_shares_and_names_its_model() -> None:
    course = Course((Minute(0.0, 0.123456, 0.876544, 0.0),), Moved(1.0, 2.0, 3.0, 4.0), 0.5)
    order = Order("at-once", "replace at once", 0.0, ())
    caches = Caches()
    assert caches.busy == (Busy(0.5, 600.0), Busy(0.3, 20.0), Busy(0.2, 1.0))
    assert (caches.floor, caches.stale_for) == (3600, 86400)
    made = Forecast(
        DOMAIN, caches, (Situation(DOMAIN, 60, 60, 900),), "nothing", (Outlook(order, course),), "at-once", "so", 0.001
    )
    found = forecast_json(made)
    assert found["recommended"] == "at-once"
    assert "0.1235" in str(found)
