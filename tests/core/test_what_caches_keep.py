"""Deadlines hold for every content that a cache may keep: of slow servers, removed cuts, TTLs that nobody saw."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from homepath.core.assess.view import View
from homepath.core.dns.answers import Answer, Question, Server
from homepath.core.dns.records import RecordSet
from homepath.core.dns.zone_answers import behind_others
from homepath.core.model.evidence import Content, Evidence, noted
from homepath.core.model.plan import DesiredSet
from homepath.core.model.survey import Signatures
from homepath.core.observe.requests import CheckKeys, Questions
from homepath.core.observe.survey import Asked, survey_check
from homepath.core.observe.watch import Memory, watch_check
from homepath.core.plan.plan import make_plan
from homepath.core.propagation.habits import habits
from homepath.core.propagation.verdicts import last_copy, longer_held_copies
from homepath.core.site.case import Case
from tests.core.cases import BASE, DOMAIN, RIGHT, SITE, START, TARGET, case, contents, for_primary, survey, zone
from tests.core.fake_network import NS1, NS2, Lists, from_zone, said, silence
from tests.core.test_looks import CACHE, EDGE, holding
from tests.core.test_propagation import r

WWW, SHOP = f"www.{DOMAIN}", f"shop.{DOMAIN}"
H = 3600.0


def watched(made: Case, lists: Lists) -> Any:
    resolvers = {f"cache {number}": server for number, server in enumerate(lists.resolvers)}
    return lists.play(watch_check(made, Memory(), resolvers, "hp-one"))


def seen_before(text: str, at: float = START) -> Case:
    made = case(text, history=[*contents(text, at), *contents(text, at, source="survey")])
    return replace(made, survey=survey(made, at))


def test_of_servers_with_different_ttls_the_longest_counts() -> None:
    """The zone's newest server says 10 min, another one 1 h: a cache may have asked that one."""
    short, long = BASE + "@ 600 A 198.51.100.7", BASE + "@ 3600 A 198.51.100.7"
    found = Lists({NS1: zone(short), NS2: zone(long)}, EDGE).play(
        survey_check(case(BASE).wanted, (), Asked(("hp-one", "hp-two")))
    )
    assert [(record.key, record.ttl) for record in found.behind] == [((DOMAIN, "A"), 3600)]
    past = [Content(each, START, START, "zone") for each in found.contents]
    past += [Content(each, START, START, "behind") for each in found.behind]
    made = replace(case(RIGHT), history=tuple(past), survey=found.survey)
    now = START + 60
    looked = watched(made, Lists({NS1: zone(RIGHT), NS2: zone(RIGHT)}, EDGE, now=now))
    history = noted(noted(past, now, looked.contents, "zone"), now, looked.behind, "behind")
    wait = last_copy(history, [DesiredSet(DOMAIN, "A", ("192.0.2.10", "192.0.2.44"))], now)
    assert wait is not None
    assert wait.until == now + 3600


def test_what_a_removed_cut_led_to_is_held_as_long_as_both_say() -> None:
    """A cache holds the names of the cut's servers for 20 min, and what it fetches there at the last moment for 1 h."""
    site = for_primary("shop")
    cut = BASE + "shop 1200 NS ns.elsewhere.example."
    outside = {**EDGE, (SHOP, "A"): RecordSet(SHOP, "A", 3600, ("198.51.100.9",))}

    def handed(question: Question) -> Answer | None:
        if question.name != SHOP:
            return None
        servers = RecordSet(SHOP, "NS", 1200, ("ns.elsewhere.example.",))
        return said(question, NS1, authority=(servers,), authoritative=False)

    found = Lists({NS1: zone(cut)}, outside, moody={NS1: handed}).play(
        survey_check(case(BASE, site=site).wanted, (), Asked(("hp-one", "hp-two")))
    )
    assert (SHOP, "A") not in {record.key for record in found.contents}  # who has been handed it says what is there
    assert [record.key for record in found.behind] == [(SHOP, "A")]
    past = [Content(each, START, START, "zone") for each in found.contents]
    past += [Content(each, START, START, "behind") for each in found.behind]
    past += [Content(each, START, START, "survey") for each in found.listed]
    now = START + 60
    after = BASE + f"shop CNAME {TARGET}\n"
    looked = watched(
        replace(case(after, site=site), history=tuple(past), survey=found.survey),
        Lists({NS1: zone(after)}, EDGE, now=now),
    )
    history = noted(noted(past, now, looked.contents, "zone"), now, looked.behind, "behind")
    wait = last_copy(
        history, [DesiredSet(SHOP, "CNAME", (TARGET,)), DesiredSet(SHOP, "A"), DesiredSet(SHOP, "NS")], now
    )
    assert wait is not None
    assert wait.until == now + 1200 + 3600


def test_a_longer_ttl_from_before_the_first_look_is_taken_from_most_of_the_caches() -> None:
    """The owner lowered the TTL before the tool was first run: caches still hold copies of the long one."""
    since, lets_go = 1000.0, 1300.0
    long = [r("resolver", "old", 3000, 1010.0, vantage=who) for who in ("a", "b")]
    (copy,) = longer_held_copies(long, lets_go, since)
    assert copy.dies == 4010.0
    one = [long[0], r("resolver", "old", 200, 1010.0, vantage="b"), r("resolver", "old", 100, 1010.0, vantage="c")]
    assert longer_held_copies(one, lets_go, since) == ()  # one of several keeps copies by a rule of its own
    assert longer_held_copies(long, None, since) == longer_held_copies(long, lets_go, None) == ()
    for state in ("mixed", "other"):  # what was deleted before anyone looked
        unseen = [r("resolver", state, ttl, 1010.0, vantage=who) for who, ttl in (("a", 2000), ("b", 3000))]
        assert [each.dies for each in longer_held_copies(unseen, lets_go, since)] == [4010.0]
    late = [r("resolver", "old", 3000, 1400.0, vantage="a")]
    assert longer_held_copies(late, lets_go, since) == ()
    assert [each.kind for each in habits(long, since, copy.dies, 300, 3.0)] == []


def test_the_assessment_waits_as_long() -> None:
    old = BASE + "@ 300 A 198.51.100.7"
    made = seen_before(old)
    now = START + 120
    lists = Lists(dict.fromkeys((NS1, NS2), zone(RIGHT)), EDGE, now=now)
    lists.resolvers = {CACHE: holding(old, 5000, now), Server("127.0.53.2"): holding(old, 4000, now)}
    looked = watched(made, lists)
    assert looked.spread.verdict == "spreading"
    history = noted(made.history, now, looked.contents, "zone")
    here = replace(case(RIGHT), history=history, survey=survey(case(RIGHT), now))
    spread = replace(looked.spread, at=now + 1)
    view = View(here, make_plan(here), Evidence(survey=here.survey, contents=history, spread=spread), now + 1)
    assert view.caches is not None
    assert view.caches.until == now + 5000


def test_what_lags_is_what_differs_or_lives_longer() -> None:
    question, key = Question(WWW, "A"), (WWW, "A")
    counted = {key: RecordSet(WWW, "A", 600, ("192.0.2.1",))}

    def behind(*sets: RecordSet, **more: Any) -> dict[Any, RecordSet]:
        return behind_others([said(question, NS2, *sets, **more)], counted)

    assert behind(RecordSet(WWW, "A", 600, ("192.0.2.1",))) == {}
    assert behind(RecordSet(WWW, "A", 60, ("192.0.2.1",))) == {}
    assert behind(RecordSet(WWW, "A", 900, ("192.0.2.1",)))[key].ttl == 900
    assert behind(RecordSet(WWW, "A", 60, ("192.0.2.9",)))[key].values == ("192.0.2.9",)
    assert behind()[key].values == ()
    assert behind(rcode="SERVFAIL", authoritative=False) == {}


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


def test_a_wildcards_answers_are_no_entries_when_watching() -> None:
    """`*` has the builder's own address, so it answers at every slip and at names where nothing may stand."""
    text = BASE + "* A 192.0.2.10\n* AAAA 2001:db8::7\n"
    lists = Lists(dict.fromkeys((NS1, NS2), zone(text)), EDGE)
    made = replace(case(BASE, site=SITE), history=(), survey=survey(case(BASE), START))
    found = watched(made, lists)
    assert not {f.code for f in found.spread.findings} & {"name-doubled", "wrong-name", "alias-by-address"}
    assert {record.key for record in found.contents if record.values and WWW in record.name} == set()
    assert found.spread.verdict == "not-entered"
    assert not [record for record in found.spread.records if (record.name, record.type) == (WWW, "A")]
    entered = from_zone(zone(text + f"www CNAME {TARGET}"), Question(WWW, "CNAME"), NS1)
    assert entered.answer


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
