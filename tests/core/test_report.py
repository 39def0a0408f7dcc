"""Pages to keep or send: what they say, and that nothing from outside is more than text on them."""

from __future__ import annotations

import json
from dataclasses import replace

import pytest
from lxml import html

from homepath.core.contracts.many import unknown_json
from homepath.core.propagation.readings import CheckShares
from homepath.report import page as pages_made
from homepath.report.page import AT_ONCE, many_page
from tests.core.cases import BASE, RIGHT, START, case, contents_of_zone, survey
from tests.core.report_cases import CODE, PATH, facts_of, hostile, pages
from tests.core.test_assess import PARKED, visit


def words(page: str) -> str:
    return " ".join(html.fromstring(page).text_content().split())


def settled(text: str, **more: object) -> dict[str, str]:
    made = case(text)
    made = replace(made, survey=survey(made, START), history=tuple(contents_of_zone(made, START)))
    return pages(facts_of(made, **more))  # type: ignore[arg-type]


def test_a_page_that_has_arrived_says_so_and_shows_ways_and_padlock() -> None:
    page = settled(RIGHT, visit=visit(START + 1, "arrived"))["owner"]
    said = words(page)
    assert "https://www.tidewick-kiln.example/" in said
    assert "The certificate is valid until" in said
    assert page.count('class="picture way"') == 1
    assert pages(hostile())["owner"].count('class="picture way"') == 2, "one for each address"
    assert page.count('class="picture life"') == 1


def test_the_spread_is_drawn_with_what_nobody_saw_and_said_in_words() -> None:
    looks = (CheckShares(START, (0.0, 1.0, 0.0, 0.0), START + 3600), CheckShares(START + 600, (0.5, 0.5, 0, 0), None))
    page = settled(RIGHT, looks=looks, now=START + 900)["owner"]
    assert 'class="moving"' in page
    assert "Of the answers in the last one, 50 % were new records, 50 % were old records." in words(page)
    before = (CheckShares(START, (0.0, 1.0, 0.0, 0.0), None),)
    assert "How the change spreads" not in settled(PARKED, looks=before)["owner"], "nothing was entered yet"


def test_what_comes_from_outside_is_text_and_no_path_of_this_machine_is_told() -> None:
    for page in pages(hostile()).values():
        tree = html.fromstring(page)
        assert not tree.xpath("//img | //iframe | //link | //object | //a[@href]")
        assert [each.text or "" for each in tree.xpath("//script")] == []
        assert not [each for each in tree.iter() for name in each.attrib if name.startswith("on")]
        assert "\x1b" not in page
        assert "\u202e" not in page
        assert "\\u202e" in page
        assert PATH not in page
        assert "<script>document" not in page
        assert "style=" not in page
    assert CODE[:30] not in pages(hostile(BASE))["owner"]


def test_of_many_domains_those_that_need_a_person_come_first(monkeypatch: pytest.MonkeyPatch) -> None:
    trouble = unknown_json("a.example.", f"no answer {CODE}", "unknown", START, START)
    fine = {**trouble, "verdict": "as-wanted", "stage": "arrived", "act": {"kind": "none"}, "trouble": "", "do": ""}
    monkeypatch.setattr(pages_made, "MOST_ROWS", 300)
    lines = [{**fine, "domain": f"d{number}.example."} for number in range(305)] + [trouble]
    page = many_page("list.csv", lines, START)
    tree = html.fromstring(page)
    first = tree.xpath("//section[@aria-labelledby='first']//li")
    assert [each.xpath("strong")[0].text for each in first] == ["a.example"]
    assert len(tree.xpath("//tbody/tr")) == AT_ONCE
    assert len(json.loads(tree.xpath("//script[@id='data']")[0].text)["rows"]) == 300
    assert "6 more are not on this page" in words(page)
    assert "<script>document" not in page
