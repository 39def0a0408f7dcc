"""Deadlines hold for every content that a cache may keep: of slow servers, removed cuts, TTLs that nobody saw."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from homepath.core.dns.answers import Answer, Question
from homepath.core.dns.records import RecordSet
from homepath.core.model.survey import Signatures
from homepath.core.observe.requests import CheckKeys, Questions
from homepath.core.observe.watch import Memory, watch_check
from homepath.core.site.case import Case
from tests.core.cases import DOMAIN, RIGHT, START, case, contents, survey, zone
from tests.core.fake_network import NS1, NS2, Lists, silence
from tests.core.test_looks import EDGE

WWW, SHOP = f"www.{DOMAIN}", f"shop.{DOMAIN}"
H = 3600.0


def watched(made: Case, lists: Lists) -> Any:
    resolvers = {f"cache {number}": server for number, server in enumerate(lists.resolvers)}
    return lists.play(watch_check(made, Memory(), resolvers, "hp-one"))


def seen_before(text: str, at: float = START) -> Case:
    made = case(text, history=[*contents(text, at), *contents(text, at, source="survey")])
    return replace(made, survey=survey(made, at))


@pytest.mark.parametrize(
    ("state", "verdict"), [("broken", "entered-wrong"), ("good", "settled"), ("unknown", "unknown")]
)
def test_a_domain_whose_signatures_do_not_hold_is_never_settled(state: Signatures, verdict: str) -> None:
    ds = RecordSet(DOMAIN, "DS", 3600, ("1 13 2 " + "ab" * 32,))
    lists = Lists(dict.fromkeys((NS1, NS2), zone(RIGHT)), EDGE, ds=ds, signatures=(state, "why"))
    found = watched(seen_before(RIGHT), lists).spread
    assert (found.verdict, "signature-broken" in {f.code for f in found.findings}) == (verdict, state == "broken")
    unsigned = Lists(dict.fromkeys((NS1, NS2), zone(RIGHT)), EDGE, signatures=("broken", "why"))
    assert watched(seen_before(RIGHT), unsigned).spread.verdict == "settled"
    assert not any(isinstance(each, CheckKeys) for each in unsigned.asked)


def test_where_one_server_is_deaf_the_next_ones_word_is_noted() -> None:
    """And several names for one machine are asked once."""
    twin = replace(NS2, address=NS1.address)

    def deaf(question: Question) -> Answer | None:
        return silence(question, NS1) if (question.name, question.type) == (DOMAIN, "A") else None

    lists = Lists({NS1: zone(RIGHT), twin: zone(RIGHT), NS2: zone(RIGHT)}, EDGE, moody={NS1: deaf, twin: deaf})
    found = watched(seen_before(RIGHT), lists)
    noted_sets = {record.key: record.values for record in found.contents}
    assert noted_sets[DOMAIN, "A"] == ("192.0.2.10", "192.0.2.44")
    assert found.spread.verdict == "settled"
    asked = [server for each in lists.asked if isinstance(each, Questions) for _, server in each.asks]
    assert twin not in asked
