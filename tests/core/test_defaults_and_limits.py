"""What a file means that says nothing, and what lies exactly at a limit: each with its neighbour beside it."""

from __future__ import annotations

from dataclasses import replace

import pytest

from homepath.core.contracts.checks import survey_json
from homepath.core.dns.answers import Server
from homepath.core.dns.names import parent
from homepath.core.dns.records import Zone
from homepath.core.dns.walk import MOST_QUESTIONS, Budget, Cut, LostWay, find_cut
from homepath.core.files.brief_file import read_brief
from homepath.core.findings.registry import findings as all_findings
from homepath.core.model.problems import BadInput
from homepath.core.model.survey import Registration
from homepath.core.page_reader.judge import read_page
from tests.core.cases import BASE, DOMAIN, RIGHT, START, case, survey, zone
from tests.core.test_walk import ROOT, drive, world

BARE_BRIEF = 'format = "homepath.brief/1"\nbuilder = "Bricklark"\n[routes.records]\napex = []\nwww = []\n'


@pytest.mark.parametrize(("ttl", "good"), [(0, True), (2147483647, True), (2147483648, False), (-1, False)])
def test_a_ttl_has_31_bits(ttl: int, good: bool) -> None:
    """RFC 2181 section 8."""
    text = BARE_BRIEF.replace("apex = []", f'apex = [{{ type = "A", values = ["192.0.2.1"], ttl = {ttl} }}]')
    if good:
        assert read_brief(text, "b").apex[0].ttl == ttl
        assert (read_brief(text, "b").apex[0].optional, read_brief(text, "b").apex[0].purpose) == (False, "website")
    else:
        with pytest.raises(BadInput):
            read_brief(text, "b")


def test_a_walk_begins_where_it_knows_its_way_and_ends_after_so_many_questions() -> None:
    right = world()
    whole, asked = drive(find_cut(DOMAIN, [ROOT], Budget()), right)
    budget = Budget(known={DOMAIN: whole})
    again, none = drive(find_cut(f"www.{DOMAIN}", [ROOT], budget), right)
    assert again.zone == DOMAIN
    assert len(none) < len(asked)
    above = Budget(known={parent(DOMAIN): Cut("example.", (), whole.parents)})
    found, fewer = drive(find_cut(DOMAIN, [Server("203.0.113.99")], above), right)
    assert (found.zone, len(fewer)) == (DOMAIN, len(asked) - 1)
    budget = Budget()
    for _ in range(MOST_QUESTIONS):
        budget.deeper.take(DOMAIN)
    with pytest.raises(LostWay):
        budget.take(DOMAIN)


def test_a_registration_in_the_contract_and_near_its_end() -> None:
    made = case(BASE)
    found = survey(made, START)
    assert survey_json(found, lambda record: "other")["registration"] is None
    known = replace(found, registration=Registration("Mossgate", ("active",), None, ("ns1.x.example.",), "rdap"))
    said = survey_json(known, lambda record: "other")["registration"]
    assert said == {
        "registrar": "Mossgate",
        "statuses": ["active"],
        "expires": None,
        "name_servers": ["ns1.x.example."],
        "source": "rdap",
    }

    def codes(days: float) -> set[str]:
        ends = replace(known, registration=Registration("Mossgate", (), START + days * 86400, (), "rdap"))
        return {f.code for f in all_findings(case(BASE, survey=ends)) if f.code.startswith("registration")}

    assert codes(-0.001) == codes(0) == {"registration-expired"}
    assert codes(1) == codes(44.9) == {"registration-ending"}
    assert codes(45.1) == codes(4500) == set()


def test_zones_compare_by_what_they_hold() -> None:
    assert zone(RIGHT) == zone(RIGHT)
    assert zone(RIGHT) != zone(BASE)
    assert Zone(DOMAIN) == Zone.of(DOMAIN, [])
    assert zone(RIGHT).mail_hosts == {"mx1.mossgate.example."}


def test_a_sentence_names_its_host_or_says_nothing() -> None:
    def read_all(text: str) -> list[tuple[str, str, str]]:
        return [(each.type, each.host, each.value) for each in read_page(text).records]

    assert read_all("Add an A record for the host shop pointing to 192.0.2.10") == [("A", "shop", "192.0.2.10")]
    assert read_all("Create a CNAME record named www that points to x.bricklark.example") == [
        ("CNAME", "www", "x.bricklark.example.")
    ]
    assert read_all("Add a TXT record with the host \u201c@\u201d and the value \u201cbricklark-owner=tk\u201d.") == [
        ("TXT", "@", "bricklark-owner=tk")
    ]
    page = read_page("Add an A record that points to 192.0.2.10")
    assert [(each.value, each.why) for each in page.others] == [("192.0.2.10", "no-name")]
