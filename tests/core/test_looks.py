"""Looks as generators, played with lists: what is asked, what is made of the answers, what is kept."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import pytest

from homepath.core.dns.answers import Answer, Question, Server, Trouble
from homepath.core.dns.records import RecordSet, Zone
from homepath.core.dns.walk import Cut, Found
from homepath.core.message import msg
from homepath.core.model.brief import Notation
from homepath.core.model.evidence import Content, Evidence, Observation, VerdictChange, noted
from homepath.core.model.problems import CouldNotCheck
from homepath.core.model.survey import Delegation
from homepath.core.model.visits import Certificate, Hop, Visit
from homepath.core.observe.merging import Export
from homepath.core.observe.requests import LookUp, Questions, Transfer
from homepath.core.observe.survey import Asked, SurveyResult, survey_check
from homepath.core.observe.visit import ahead_check, builder_check, together, visit_check
from homepath.core.observe.watch import Memory, WatchResult, watch_check
from homepath.core.observe.zone_questions import keys_to_ask, usual_keys
from homepath.core.site.case import Case
from homepath.core.site.wanted import work_out
from homepath.core.wording.say import say
from tests.core.cases import (
    ADDRESSES,
    BASE,
    BRIEF,
    DOMAIN,
    RIGHT,
    SITE,
    START,
    TARGET,
    case,
    contents,
    contents_of_zone,
    survey,
    zone,
)
from tests.core.fake_network import GOOD, NS1, NS2, Lists, from_zone, said, silence
from tests.refusals import refused

WWW = f"www.{DOMAIN}"
WANTED = work_out(SITE, BRIEF)
EDGE = {(TARGET, "A"): RecordSet(TARGET, "A", 300, ADDRESSES[:1])}
H = 3600.0
PARKED = BASE + "@ A 198.51.100.7\nwww CNAME parking.mossgate.example."


def surveyed(lists: Lists, history: tuple[Content, ...] = (), **more: Any) -> SurveyResult:
    return lists.play(survey_check(WANTED, history, Asked(("hp-one", "hp-two"), **more)))


def both(text: str) -> dict[Server, Zone | None]:
    return {NS1: zone(text), NS2: zone(text)}


def test_servers_that_are_silent_lame_or_behind_are_told_apart() -> None:
    newer = PARKED.replace(" 1 7200", " 2 7200") + '\n@ TXT "new"'
    third, fourth = (replace(NS1, address=f"203.0.113.{n}", name=f"ns{n}.mossgate.example.") for n in (55, 56))
    zones = {NS1: zone(PARKED), NS2: zone(newer), third: None, fourth: Zone("other.example.")}
    found = surveyed(Lists(zones, EDGE))
    states = {server.name: (server.state, server.serial) for server in found.survey.servers}
    assert states[NS1.name] == ("differs", 1)
    assert states[NS2.name] == ("agrees", 2)
    assert states[third.name][0] == "silent"
    assert states[fourth.name][0] == "refusing"
    assert [s.detail for s in found.survey.servers if s.name == NS1.name] == [f"{DOMAIN[:-1]} TXT"]
    assert "does not answer" in say(next(s.detail for s in found.survey.servers if s.name == third.name))
    sources = next(seen.sources for seen in found.survey.records if seen.record.key == (DOMAIN, "A"))
    assert sources == ("ns1.mossgate.example", "ns2.mossgate.example")
    with refused(CouldNotCheck, "none of the nameservers"):
        surveyed(Lists({NS1: None, NS2: Zone("other.example.")}))
    with refused(CouldNotCheck, "no server of example answers"):
        surveyed(Lists({}, cut=Trouble("no-server", "example.")))
    with refused(CouldNotCheck, "the root zone does not delegate"):
        surveyed(Lists({}, cut=Cut(".", (), ())))


def test_exports_are_merged_and_what_the_servers_contradict_is_said() -> None:
    sets = (
        RecordSet(DOMAIN, "A", 60, ("192.0.2.200",)),
        RecordSet(f"mail.{DOMAIN}", "A", 60, ("192.0.2.201",)),
        RecordSet(f"kiln-7.{DOMAIN}", "A", 60, ("192.0.2.202",)),
        RecordSet(DOMAIN, "MX", 60, ("10 mx1.mossgate.example.",)),
        RecordSet(DOMAIN, "SOA", 60, ("other. dns. 9 1 1 1 1",)),
        RecordSet("kiln-7.other.example.", "A", 60, ("192.0.2.203",)),
    )
    found = surveyed(Lists(both(PARKED), EDGE), exports=(Export("file z", sets),))
    seen = {each.record.key: each for each in found.survey.records}
    assert seen[f"kiln-7.{DOMAIN}", "A"].sources == ("file z",)
    assert seen[DOMAIN, "MX"].sources[-1] == "file z"
    assert "kiln-7.other.example." not in {name for name, _ in seen}
    contradicted = {each.record.key for each in found.survey.contradicted}
    assert contradicted == {(DOMAIN, "A"), (f"mail.{DOMAIN}", "A")}
    words = " ".join(map(say, found.survey.blind_spots))
    assert "has other values for tidewick-kiln.example A" in words
    assert "has mail.tidewick-kiln.example A, but the nameservers do not" in words
    assert "neither in the export" in words


def test_a_transfer_is_taken_from_the_first_server_that_gives_it() -> None:
    whole = [RecordSet(f"kiln-7.{DOMAIN}", "A", 60, ("192.0.2.202",))]
    lists = Lists(both(PARKED), EDGE, transfers={NS2: whole})
    found = surveyed(lists, transfer=True)
    assert [each.server for each in lists.asked if isinstance(each, Transfer)] == [NS1, NS2]
    seen = {each.record.key: each for each in found.survey.records}
    assert seen[f"kiln-7.{DOMAIN}", "A"].sources == (msg("source.transfer", name="ns2.mossgate.example."),)
    assert any("ns1.mossgate.example refused a zone transfer" in say(spot) for spot in found.survey.blind_spots)


KEY = f"kiln1._domainkey.{DOMAIN}"
SELECTOR = f"default._domainkey.{DOMAIN}"


def guessed(lists: Lists, history: tuple[Content, ...] = ()) -> dict[str, set[Server]]:
    """The usual names that one survey asks for, and whom."""
    surveyed(lists, history)
    usual = {name for name, _ in usual_keys(DOMAIN)} - {name for name, _ in keys_to_ask(WANTED, history)}
    found: dict[str, set[Server]] = {}
    for request in lists.asked:
        for question, server in request.asks if isinstance(request, Questions) else ():
            if question.name in usual:
                found.setdefault(question.name, set()).add(server)
    return found


def test_a_server_that_denies_names_above_others_is_asked_for_all_and_a_silent_one_replaced() -> None:
    def denies(question: Question) -> Answer | None:
        return said(question, NS2, rcode="NXDOMAIN") if question.name == f"_domainkey.{DOMAIN}" else None

    known = (Content(RecordSet(KEY, "TXT", 60, ('"key"',)), START - 60, START - 60, "survey"),)
    lists = Lists(both(PARKED + f"\n{KEY} TXT key"), EDGE, moody={NS1: denies, NS2: denies})
    assert SELECTOR in guessed(lists, known)
    deaf = Lists(both(PARKED), EDGE, moody={NS2: lambda q: silence(q, NS2) if q.name == f"shop.{DOMAIN}" else None})
    assert guessed(deaf)[f"shop.{DOMAIN}"] == {NS1, NS2}
    assert (f"shop.{DOMAIN}", "A") not in {each.key for each in surveyed(deaf).survey.unknown}


# watch


def seen_before(text: str, at: float = START) -> Case:
    made = case(text)
    return replace(made, history=tuple(contents_of_zone(made, at)), survey=survey(made, at))


def watched(made: Case, lists: Lists, memory: Memory | None = None) -> WatchResult:
    resolvers = {f"cache {number}": server for number, server in enumerate(lists.resolvers)}
    return lists.play(watch_check(made, memory or Memory(), resolvers, "hp-nobody"))


CACHE = Server("127.0.53.1")


def holding(text: str, left: int, at: float) -> Any:
    """A resolver that keeps what a zone said, with so many seconds left."""
    held = zone(text, ttl=left)

    def speak(question: Question) -> Answer:
        given = from_zone(held, question, CACHE, at)
        return replace(given, authoritative=False)

    return speak


def test_a_settled_verdict_can_be_taken_back_and_a_clock_set_back_is_said() -> None:
    now = START + H
    history = (*contents_of_zone(case(PARKED), START), *contents(RIGHT, now - 60, now))
    made = replace(seen_before(RIGHT), history=tuple(history))
    key = (DOMAIN, "A")
    answer = from_zone(zone(RIGHT), Question(*key), NS1, now - 30)
    memory = Memory(
        (Observation(key, "ns1", "authoritative", answer),), (VerdictChange(now - 30, key, "settled", None),)
    )
    lists = Lists(both(RIGHT), EDGE, resolvers={CACHE: holding(PARKED, 60, now)}, now=now)
    record = next(r for r in watched(made, lists, memory).spread.records if (r.name, r.type) == key)
    assert (record.verdict, record.taken_back) == ("spreading", now - 30)
    ahead = Memory((Observation(key, "ns1", "authoritative", replace(answer, at=now + 900)),))
    codes = {finding.code for finding in watched(made, lists, ahead).spread.findings}
    assert "clock-set-back" in codes
    assert "clock-set-back" not in {f.code for f in watched(made, lists, memory).spread.findings}


@pytest.mark.parametrize("alias_first", [False, True])
def test_an_alias_and_the_addresses_before_or_after_it_are_one_thing(alias_first: bool) -> None:
    """What a cache keeps of the one is old for the other, as long as its TTL says, and no longer."""
    addressed, aliased = RIGHT.replace(f"www CNAME {TARGET}", "www A 192.0.2.10"), RIGHT
    brief = replace(BRIEF, www=(replace(BRIEF.apex[0], values=("192.0.2.10",)),)) if alias_first else BRIEF
    before = BASE + ("www CNAME parking.mossgate.example." if alias_first else "www A 198.51.100.99")
    after, rrtype = (addressed, "A") if alias_first else (aliased, "CNAME")

    def spread(text: str, held: str, left: int, now: float, history: tuple[Content, ...]) -> Any:
        made = replace(case(text, brief=brief), history=history)
        made = replace(made, survey=survey(made, START))
        lists = Lists(both(text), EDGE, resolvers={CACHE: holding(held, left, now)}, now=now)
        right = from_zone(zone(after), Question(WWW, rrtype), NS1, START + H)
        memory = Memory((Observation((WWW, rrtype), NS1.name, "authoritative", right),) if now > START + H else ())
        found = watched(made, lists, memory).spread
        codes = {finding.code for finding in found.findings}
        return next(r for r in found.records if (r.name, r.type) == (WWW, rrtype)), codes

    begin = tuple(contents_of_zone(case(before), START))
    untouched, _ = spread(before, before, 3000, START + 60, begin)
    assert untouched.verdict == "not-entered"
    changed = noted(
        begin, START + H, [*zone(after), RecordSet(WWW, "A" if rrtype == "CNAME" else "CNAME", 900, ())], "zone"
    )
    late, codes = spread(after, before, 600, START + 1.8 * H, changed)
    assert (late.verdict, late.settled_by) == ("spreading", START + 2 * H)
    assert [reading.state for reading in late.readings if reading.role == "resolver"] == ["old"]
    assert "ttl-clamped" not in codes
    over, codes = spread(after, before, 600, START + 2.2 * H, changed)
    assert over.verdict == "settled"
    assert "ttl-clamped" in codes


def test_resolvers_that_lie_refuse_or_serve_what_has_expired_hold_nothing_up() -> None:
    portal, filtering, late = (Server(f"127.0.53.{n}") for n in (2, 3, 4))
    now = START + 100 * H
    history = (*contents_of_zone(case(PARKED), START), *contents(RIGHT, START + H, START + 90 * H))
    made = replace(seen_before(RIGHT), history=tuple(history))

    def captive(question: Question) -> Answer:
        return said(
            question, portal, RecordSet(question.name, "A", 60, ("198.51.100.254",)), authoritative=False, at=now
        )

    def filters(question: Question) -> Answer:
        if question.name == WWW:
            return said(question, filtering, RecordSet(WWW, "A", 60, ("198.51.100.253",)), at=now)
        return from_zone(zone(RIGHT), question, filtering, now)

    lists = Lists(
        both(RIGHT), EDGE, resolvers={portal: captive, filtering: filters, late: holding(PARKED, 30, now)}, now=now
    )
    earlier = [
        Observation(key, who, "authoritative", from_zone(zone(RIGHT), Question(*key), NS1, START + 2 * H))
        for key in ((DOMAIN, "A"), (WWW, "CNAME"), (DOMAIN, "TXT"))
        for who in ("ns1.mossgate.example",)
    ]
    found = watched(made, lists, Memory(tuple(earlier))).spread
    assert (found.verdict, found.settled_by) == ("settled", None)
    codes = [finding.code for finding in found.findings]
    assert codes.count("resolver-answers-for-itself") == 2
    assert "ttl-clamped" in codes
    assert all("cache 0" not in {r.vantage for r in record.readings} for record in found.records if record.type != "NS")

    def bogus(question: Question) -> Answer:
        return said(question, CACHE, rcode="SERVFAIL", authoritative=False, at=now)

    found = watched(made, Lists(both(RIGHT), EDGE, resolvers={CACHE: bogus}, now=now)).spread
    assert [(f.code, f.level) for f in found.findings] == [("signature-broken", "blocker")]
    ds = Content(RecordSet(DOMAIN, "DS", 3600, ("1 13 2 abcd",)), START - 9 * H, now - 600, "parent")
    well = {replace(CACHE, address="127.0.53.2"): holding(RIGHT, 60, now)}
    lists = Lists(both(RIGHT), EDGE, resolvers={CACHE: bogus, **well}, now=now)
    held = watched(replace(made, history=(*made.history, ds)), lists).spread
    assert [(f.code, f.level) for f in held.findings] == [("signature-broken", "note")]  # its copy of the DS record
    assert (held.verdict, held.settled_by) == ("spreading", now + 3600)
    detail = next(r.detail for record in found.records for r in record.readings if r.role == "resolver")
    assert "the signatures are not valid" in say(detail)

    def dead(question: Question) -> Answer:
        return silence(question, CACHE)

    found = watched(made, Lists(both(RIGHT), EDGE, resolvers={CACHE: dead}, now=now)).spread
    assert not [finding for finding in found.findings if finding.level == "blocker"]


# visit

URLS = [f"{scheme}://{name}/" for name in (WWW[:-1], DOMAIN[:-1]) for scheme in ("https", "http")]


def page(url: str, status: int = 200, to: str | None = None, text: str = "<title>Kiln</title>", **more: Any) -> Hop:
    certificate = GOOD if url.startswith("https:") else None
    return Hop(
        url,
        status,
        to,
        ADDRESSES[0],
        "",
        more.pop("certificate", certificate),
        page=text if status == 200 else "",
        **more,
    )


HOME = page(URLS[0])


def led(url: str) -> tuple[Hop, ...]:
    return (HOME,) if url == URLS[0] else (page(url, 301, URLS[0]), HOME)


class Site(dict[str, tuple[Hop, ...]]):
    """Every URL leads to the home page, with its path and query, unless it is said otherwise."""

    def get(self, url: str, default: Any = None) -> Any:
        if url in self:
            return self[url]
        path = url.partition("://")[2].partition("/")[2]
        goal = f"{URLS[0]}{path}"
        if url == goal:
            return (page(url) if not path else page(url, 404),)
        return (page(url, 301, goal), page(goal) if not path else page(goal, 404))


def visited(web: Mapping[str, tuple[Hop, ...]], **more: Any) -> Visit:
    made = seen_before(RIGHT)
    evidence = more.pop("evidence", Evidence(survey=made.survey, contents=made.history))
    through = bool(more.get("visitors"))
    return Lists(both(RIGHT), EDGE, web=Site(web), now=START + H, **more).play(visit_check(made, evidence, through))


def test_a_visit_arrives_and_says_what_the_free_address_does() -> None:
    free = "https://site-20817.bricklark.example/"
    found = visited({})
    assert (found.verdict, found.at, len(found.ways)) == ("arrived", START + H, 4)
    assert {way.final_url for way in found.ways} == {URLS[0]}
    assert all(len(way.addresses) == 2 for way in found.ways if DOMAIN[:-1] in way.url and "www" not in way.url)
    assert (found.free_address, found.may_wait_for) == ("redirecting", ())
    assert found.findings == ()
    serving = visited({free: (page(free),)})
    assert serving.free_address == "serving"
    assert "free-address-serves" in {finding.code for finding in serving.findings}
    nowhere = {free: (page(free, 404),), f"http{free[5:]}": (page(f"http{free[5:]}", 404),)}
    assert "free-address-silent" not in {finding.code for finding in visited(nowhere).findings}
    early = visited({**nowhere, URLS[0]: (page(URLS[0], 404),)})
    assert (early.free_address, "free-address-silent" in {f.code for f in early.findings}) == ("gone", True)
    plain = HOME.page.replace("</title>", '</title><img src="http://x.example/a.png">')
    mixed = visited({URLS[0]: (replace(HOME, page=plain),)})
    assert "mixed-content" in {finding.code for finding in mixed.findings}
    linked = replace(HOME, page=f'<a href="{URLS[0]}shop">Shop</a>')
    shop = (page(f"{URLS[0]}shop", text='<img src="http://x.example/a.png">'),)
    assert "mixed-content" in {f.code for f in visited({URLS[0]: (linked,), f"{URLS[0]}shop": shop}).findings}


def test_ahead_and_the_edge_are_asked_wherever_dns_leads() -> None:
    made = seen_before(PARKED)
    lists = Lists(both(PARKED), EDGE, edge={url: (page(url),) if url == URLS[0] else led(url) for url in URLS})
    ahead = lists.play(ahead_check(made))
    assert (ahead.ahead, ahead.verdict) == (True, "arrived")
    edge = lists.play(builder_check(made))
    assert (edge.knows, edge.secure) == (True, True)
    unknown = Lists(both(PARKED), EDGE, edge={url: (page(url, 404),) for url in URLS}).play(builder_check(made))
    assert (unknown.knows, unknown.secure) == (False, False)
    assert Lists(both(PARKED), EDGE).play(builder_check(made)).knows is None
    assert Lists(both(PARKED), {}).play(builder_check(made)).knows is None
    bare = replace(made, wanted=replace(made.wanted, wants=()))
    with refused(CouldNotCheck, "no address of Bricklark's servers"):
        lists.play(ahead_check(bare))


def test_the_visits_of_several_domains_become_one() -> None:
    one, other = visited({}), visited({url: (page(url, 404),) for url in URLS})
    whole = together([one, other])
    assert (whole.verdict, len(whole.ways)) == ("waiting", 8)
    assert whole.wait_until == other.wait_until
    assert whole.may_wait_for == other.may_wait_for
    assert together([one]) == one


def test_what_stands_in_the_way_of_a_certificate_is_known_of_each_name() -> None:
    pending = Certificate("default", False, (), "x", None, "the builder's own")
    web = {url: (page(url, certificate=pending),) for url in URLS if url.startswith("https:")}
    text = RIGHT + '@ CAA 0 issue "x.example"'
    made = seen_before(text)
    evidence = Evidence(survey=made.survey, contents=made.history)
    found = Lists(both(text), EDGE, web=Site(web), now=START + H).play(visit_check(made, evidence))
    assert "certificate-blocked" in {finding.code for finding in found.findings}
    broken = Delegation("example.", (), 60, True, "broken", "x")
    made = seen_before(RIGHT)
    made = replace(made, survey=replace(survey(made, START), delegation=broken))
    found = Lists(both(RIGHT), EDGE, web=Site(web), now=START + H).play(visit_check(made, evidence))
    assert any("signatures are broken" in say(finding.message) for finding in found.findings)
    stray = RIGHT + "@ A 198.51.100.80"
    made = seen_before(stray)
    found = Lists(both(stray), EDGE, web=Site(web), now=START + H).play(visit_check(made, Evidence()))
    assert any("next to the builder's addresses" in say(finding.message) for finding in found.findings)
    assert "certificate-pending" in {f.code for f in visited(web).findings}


def test_addresses_at_the_apex_by_an_alias_are_asked_for_at_its_target() -> None:
    site, brief = replace(SITE, primary="apex"), replace(BRIEF, apex=(), apex_alias=TARGET)
    wanted = work_out(site, brief, Notation("Mossgate", apex_alias="ALIAS"))
    lists = Lists(both(BASE), {(TARGET, "A"): RecordSet(TARGET, "A", 60, ("192.0.2.10",))})
    found = lists.play(survey_check(wanted, (), Asked(("a", "b"))))
    assert {seen.record.key for seen in found.survey.outside} == {(TARGET, "A")}
    assert (DOMAIN, "ALIAS") not in keys_to_ask(wanted, ())
    asked = {(each.name, each.types) for each in lists.asked if isinstance(each, LookUp)}
    assert (TARGET, ("CAA",)) in asked
    assert ("example.", ("CAA",)) in asked
    dark = replace(lists, cut=None)
    dark.look_up = lambda name, types: Trouble("no-server", name)  # type: ignore[method-assign]
    spots = dark.play(survey_check(wanted, (), Asked(("a", "b")))).survey.blind_spots
    assert any("could not query the CAA records at example: no server of example" in say(spot) for spot in spots)


def test_a_resolver_that_still_holds_the_old_answer_is_waited_for_and_a_dead_one_tells_nothing() -> None:
    """`visit --through`: the first is a wait with an end, the second is no look at all."""
    old = RecordSet(DOMAIN, "A", 900, ("198.51.100.7",)), RecordSet(WWW, "CNAME", 600, ("parking.mossgate.example.",))
    there = RecordSet("parking.mossgate.example.", "A", 60, ("198.51.100.7",))
    stale = {
        DOMAIN: (old[0].values, Found((), (old[0],), DOMAIN, "NOERROR"), None),
        WWW: (there.values, Found((old[1],), (there,), there.name, "NOERROR"), None),
    }
    parked = {url: (page(url, text="<title>Parked</title>"),) for url in URLS}
    found = visited(parked, visitors=stale)
    assert (found.verdict, {finding.code for finding in found.findings}) == ("waiting", {"old-answer"})
    assert found.wait_until == START + H + 900
    dead = Trouble("silent", "a cache", "127.0.53.1")
    with refused(CouldNotCheck, "could not be queried"):
        visited({}, visitors=dict.fromkeys((DOMAIN, WWW), ((), None, dead)))
    gone = Trouble("no-such-name", WWW)
    lost = visited({url: (Hop(url, None, None, None, "no"),) for url in URLS}, visitors={WWW: ((), None, gone)})
    states = {way.url: way.state for way in lost.ways if WWW[:-1] in way.url}
    assert set(states.values()) == {"waiting"}  # a cache may remember that nothing was there
