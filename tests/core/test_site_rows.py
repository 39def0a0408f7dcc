"""Lists of many sites: each row is a site file, and a bad one spoils no other."""

from __future__ import annotations

import json
from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from homepath.core.contracts.many import differs, unknown_json
from homepath.core.files.site_file import read_site, write_site
from homepath.core.files.site_rows import Row, read_list, read_table, site_of
from homepath.core.model.problems import BadInput, Problem
from homepath.core.wording.say import say
from tests.refusals import refused

HEAD = "domain,primary,brief,site"


def rows(text: str, defaults: dict[str, object] | None = None) -> list[Row | list[Problem]]:
    return list(read_table(text.splitlines(keepends=True), "list.csv", defaults))


def test_a_row_is_what_the_site_file_would_be() -> None:
    text = (
        "domain;primary;brief;also;site;values.code;keep.records;sign;ownership\n"
        'Tidewick-Kiln.example;www;b.brief.toml;"tidewick-pots.example, two.example";20817;"a;b";'
        "_sip._tcp SRV;yes;TXT\n"
    )
    (row,) = rows(text)
    assert isinstance(row, Row)
    site = site_of(row.data)
    assert (site.domain, site.primary, site.also) == (
        "tidewick-kiln.example",
        "www",
        ("tidewick-pots.example", "two.example"),
    )
    assert dict(site.values) == {"site": "20817", "code": "a;b"}
    assert (site.keep, site.sign, site.ownership) == (("_sip._tcp SRV",), True, "TXT")
    assert read_site(write_site(site), "x") == site


def test_defaults_fill_what_a_row_does_not_say() -> None:
    defaults: dict[str, object] = {"primary": "www", "brief": "b.brief.toml", "values": {"site": "all", "code": "c"}}
    one, two = rows("domain,primary,site\na.example,,own\nb.example,apex,\n", defaults)
    assert isinstance(one, Row)
    assert isinstance(two, Row)
    assert site_of(one.data).values == {"site": "own", "code": "c"}
    assert (site_of(one.data).primary, site_of(two.data).primary) == ("www", "apex")
    assert site_of(two.data).values == {"site": "all", "code": "c"}


@pytest.mark.parametrize(
    ("line", "said", "key"),
    [
        ("a.example,www", "this row has 2 cells, and there are 4 columns", None),
        ('a.example,"www,b,c', "a quotation mark is not closed", None),
        ('a.example,w"w"w,"b"x,c', "a quotation mark is not closed, or is inside a cell", None),
        (f"{'x' * 20_001},www,b,c", "more than 20000", None),
    ],
)
def test_a_bad_row_is_named_and_the_next_one_read(line: str, said: str, key: str | None) -> None:
    found = rows(f"{HEAD}\n{line}\nb.example,www,b.toml,x\n")
    assert isinstance(found[0], list)
    assert said in say(found[0][0].message)
    assert (found[0][0].line, found[0][0].key) == (2, key)
    assert isinstance(found[1], Row)
    assert found[1].line == 3


@pytest.mark.parametrize(
    ("head", "said"),
    [
        ("domian,primary,brief", "column domain is missing"),
        ("domain,domain,brief", "there twice"),
        ("domain,values,brief", "a table cannot be a column"),
        ("domain," * 201 + "x", "at most 200 columns"),
    ],
)
def test_a_bad_header_is_said_once(head: str, said: str) -> None:
    with pytest.raises(BadInput) as caught:
        rows(f"{head}\na.example,www,b\n")
    assert any(said in say(problem.message) for problem in caught.value.problems)


def test_an_empty_list_is_said() -> None:
    with refused(BadInput, "empty"):
        rows("\n \n")


def test_every_problem_of_a_row_comes_with_its_column() -> None:
    (row,) = rows("domain,primary,brief,route,ownership\nx,w.w,b.toml,away,MX\n")
    assert isinstance(row, Row)
    with pytest.raises(BadInput) as caught:
        site_of(row.data)
    assert [problem.key for problem in caught.value.problems] == ["domain", "primary", "route", "ownership"]


def test_a_toml_list() -> None:
    text = (
        'format = "homepath.list/1"\n[defaults]\nprimary = "www"\nbrief = "b.toml"\n'
        '[[domains]]\ndomain = "a.example"\n[[domains]]\ndomain = "b.example"\nprimary = "apex"\n'
        'values = { site = "x" }\n'
    )
    found = read_list(text, "list.toml")
    assert [site_of(row.data).primary for row in found.rows] == ["www", "apex"]
    assert [row.line for row in found.rows] == [5, 7]
    named = read_list('format = "homepath.list/1"\ntable = "t.csv"\n', "list.toml")
    assert named.csv_file == "t.csv"
    for bad, said in (
        ('format = "homepath.list/1"\n', "neither"),
        ('format = "homepath.list/1"\ndomains = ["a.example"]\n', "should be a table"),
        ('format = "homepath.list/1"\n[default]\nx = 1\n', "not a key"),
        ('format = "homepath.site/1"\n', "not a file of the kind"),
    ):
        with refused(BadInput, said):
            read_list(bad, "list.toml")


@given(st.lists(st.text(max_size=40), max_size=6), st.sampled_from([HEAD, "domain", "domain;also;sign;keep.records"]))
def test_whatever_stands_in_a_row_is_a_site_or_named_problems(lines: list[str], head: str) -> None:
    for found in read_table([f"{head}\n", *(f"{line}\n" for line in lines)], "list.csv"):
        if isinstance(found, Row):
            json.dumps(found.data)
            with suppress(BadInput):
                site_of(found.data)
        else:
            assert found
            assert all(problem.message and problem.line for problem in found)


def test_what_counts_as_a_change() -> None:
    line = unknown_json("a.example.", "no answer", "unknown", 1.0, 2.0)
    assert differs(None, line)
    assert not differs(line, {**line, "looked_at": "2026-01-01T00:00:00Z", "next_look": "x", "trouble": "silent"})
    wait = {"kind": "wait", "until": "2026-03-02T10:00:00Z", "for": "caches"}
    assert not differs({**line, "act": wait}, {**line, "act": {**wait, "until": "2026-03-02T11:00:00Z"}})
    assert differs({**line, "act": wait}, {**line, "act": {**wait, "for": "parent"}})
    worst = {"code": "no-answer", "level": "risk", "name": "a.example.", "type": "", "message": "x"}
    assert not differs({**line, "worst": worst}, {**line, "worst": {**worst, "message": "other words"}})
    assert differs({**line, "worst": worst}, {**line, "worst": {**worst, "code": "parked"}})
