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
from homepath.core.observe import zone_questions
from homepath.core.observe.merging import Export
from homepath.core.observe.requests import LookUp, Questions, Transfer, asked
from homepath.core.observe.survey import Asked, SurveyResult, survey_check
from homepath.core.observe.visit import ahead_check, builder_check, together, visit_check
from homepath.core.observe.watch import Memory, WatchResult, watch_check
from homepath.core.observe.zone_questions import GUESSES_AT_ONCE, branches_of, keys_to_ask, keys_to_guess, usual_keys
from homepath.core.site.case import Case
from homepath.core.site.wanted import HandOver, work_out
from homepath.core.site.zone_facts import appeared_later
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


def test_a_survey_lists_what_was_entered_and_notes_what_is_missing() -> None:
    found = surveyed(Lists(both(PARKED), EDGE))
    listed = {record.key: record for record in found.listed}
    assert listed[DOMAIN, "A"].values == ("198.51.100.7",)
    assert {key[1] for key in listed if key[0] == DOMAIN} == {"SOA", "NS", "A", "MX", "TXT"}
    noted = {record.key: record for record in found.contents}
    assert (noted[f"mail.{DOMAIN}", "A"].values, noted[f"mail.{DOMAIN}", "A"].ttl) == ((), 900)
    no_ds = RecordSet(DOMAIN, "DS", 0, ())  # caches that had one forget it from now on
    assert found.handed == (RecordSet(DOMAIN, "NS", 21600, (NS1.name, NS2.name)), no_ds)
    assert [server.state for server in found.survey.servers] == ["agrees", "agrees"]
    assert found.survey.at == START
    assert found.survey.delegation is not None
    assert (found.survey.delegation.signed, found.survey.delegation.signatures) == (False, "none")
    assert any("nobody was asked." in say(spot) for spot in found.survey.blind_spots)
    assert any("cannot be listed" in say(spot) for spot in found.survey.blind_spots)
    assert {seen.record.key for seen in found.survey.outside} == {(TARGET, "A")}


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


def test_a_server_that_only_the_zone_names_is_asked_too() -> None:
    hidden = replace(NS1, address="203.0.113.99", name="ns9.mossgate.example.")
    text = PARKED + f"\n@ NS {hidden.name}"
    outside = {**EDGE, (hidden.name, "A"): RecordSet(hidden.name, "A", 60, (hidden.address,))}
    lists = Lists({NS1: zone(text), NS2: zone(text)}, outside)
    lists.zones = {**lists.zones}
    found = surveyed(lists)
    assert [server.name for server in found.survey.servers] == [NS1.name, NS2.name, hidden.name]


def test_what_a_wildcard_makes_up_is_no_entry_unless_it_is_wanted() -> None:
    found = surveyed(Lists(both(BASE + "* A 192.0.2.99"), EDGE))
    names = {record.name for record in found.listed}
    assert f"*.{DOMAIN}" in names
    assert WWW not in names
    assert not [record for record in found.contents if record.name == WWW and record.values]
    assert f"mail.{DOMAIN}" not in names


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


def test_usual_names_cost_one_question_and_none_below_a_name_that_does_not_exist() -> None:
    asked_of = guessed(Lists(both(PARKED), EDGE))
    assert {len(servers) for servers in asked_of.values()} == {1}
    assert SELECTOR not in asked_of
    assert f"shop.{DOMAIN}" in asked_of
    below = guessed(Lists(both(PARKED + f"\n{KEY} TXT key"), EDGE))
    assert SELECTOR in below
    newer = zone(PARKED.replace("example. 1 7200", "example. 2 7200"))
    apart = guessed(Lists({NS1: newer, NS2: zone(PARKED)}, EDGE))
    assert {len(servers) for servers in apart.values()} == {2}


def test_a_server_that_denies_names_above_others_is_asked_for_all_and_a_silent_one_replaced() -> None:
    def denies(question: Question) -> Answer | None:
        return said(question, NS2, rcode="NXDOMAIN") if question.name == f"_domainkey.{DOMAIN}" else None

    known = (Content(RecordSet(KEY, "TXT", 60, ('"key"',)), START - 60, START - 60, "survey"),)
    lists = Lists(both(PARKED + f"\n{KEY} TXT key"), EDGE, moody={NS1: denies, NS2: denies})
    assert SELECTOR in guessed(lists, known)
    deaf = Lists(both(PARKED), EDGE, moody={NS2: lambda q: silence(q, NS2) if q.name == f"shop.{DOMAIN}" else None})
    assert guessed(deaf)[f"shop.{DOMAIN}"] == {NS1, NS2}
    assert (f"shop.{DOMAIN}", "A") not in {each.key for each in surveyed(deaf).survey.unknown}


def test_a_usual_name_that_was_missing_is_asked_for_again_after_a_day() -> None:
    missing = tuple(
        Content(RecordSet(*key, 900, ()), START - 2 * H, START - 2 * H, "zone") for key in usual_keys(DOMAIN)
    )
    assert set(guessed(Lists(both(PARKED), EDGE), missing)) == branches_of(DOMAIN)
    alias = Content(RecordSet(f"mail.{DOMAIN}", "CNAME", 60, ("mx1.mossgate.example.",)), START - H, START - H, "zone")
    assert f"mail.{DOMAIN}" in guessed(Lists(both(PARKED), EDGE), (*missing, alias))  # an address may replace it
    later = Lists(both(PARKED), EDGE, now=START + 23 * H)
    assert f"shop.{DOMAIN}" in guessed(later, missing)
    moving = replace(WANTED, hand_over=HandOver(servers=(NS1.name,), host="Thornlea", by_builder=True))
    assert len(keys_to_guess(moving, missing, START)) == len(usual_keys(DOMAIN))


def test_a_check_of_many_asks_for_the_usual_names_in_turn_those_of_mail_first() -> None:
    history: tuple[Content, ...] = ()
    seen: set[str] = set()
    for turn in range(8):
        lists = Lists(both(PARKED + "\nblog A 198.51.100.9\n_dmarc TXT v=DMARC1"), EDGE)
        found = surveyed(lists, history, whole=False)
        mine = {q.name for each in lists.asked if isinstance(each, Questions) for q, _ in each.asks}
        new = (mine - seen) & {name for name, _ in usual_keys(DOMAIN)}
        assert len(new) <= GUESSES_AT_ONCE
        assert turn or {f"_dmarc.{DOMAIN}", f"mail.{DOMAIN}", f"autodiscover.{DOMAIN}"} <= new
        seen |= mine
        history += tuple(Content(each, START, START, "zone") for each in found.contents)
        history += tuple(Content(each, START, START, "survey") for each in found.listed)
    assert {name for name, _ in usual_keys(DOMAIN, above_branches=True)} <= seen
    blog = RecordSet(f"blog.{DOMAIN}", "A", 3600, ("198.51.100.9",))
    assert blog.key in {each.record.key for each in history}
    assert not appeared_later(case(PARKED, history=history), blog), "it was asked for late, and was there already"


@pytest.mark.parametrize(
    "more",
    [
        "www CNAME site.edge.bricklark.example.",
        "www CNAME site.edge.bricklark.example.\nwww TXT beside\nwww MX 10 mx1.mossgate.example.",
        "www DNAME elsewhere.example.",
        "* A 198.51.100.88",
        "deep.www A 198.51.100.9",
        "www NS ns1.elsewhere.example.",
    ],
)
def test_what_an_address_settles_is_what_the_other_questions_would_have_shown(
    more: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    text = f"{BASE}\n@ A 198.51.100.7\n{more}"
    few, all_of_them = Lists(both(text), EDGE), Lists(both(text), EDGE)
    found = surveyed(few)
    monkeypatch.setattr(zone_questions, "asked_by_name", lambda asks, zone: asked(asks))
    assert surveyed(all_of_them) == found
    count = [sum(len(e.asks) for e in lists.asked if isinstance(e, Questions)) for lists in (few, all_of_them)]
    assert count[0] < count[1] or more.startswith("*")


def test_targets_that_do_not_exist_and_names_that_could_not_be_asked() -> None:
    text = PARKED + "\nold CNAME gone.fernhollow.example."
    before = (Content(RecordSet(f"old.{DOMAIN}", "CNAME", 60, ("gone.fernhollow.example.",)), 0, 0, "survey"),)
    assert (f"old.{DOMAIN}", "CNAME") in keys_to_ask(WANTED, before)
    assert (f"www.{DOMAIN}{DOMAIN}", "CNAME") in keys_to_ask(WANTED, ())
    outside = {
        **EDGE,
        ("parking.mossgate.example.", "A"): RecordSet("parking.mossgate.example.", "A", 60, ("192.0.2.9",)),
    }
    found = surveyed(Lists(both(text), outside), before)
    assert found.survey.dangling == ("gone.fernhollow.example.",)


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


def test_before_anything_is_typed_nothing_is_asked_of_caches_that_never_existed() -> None:
    lists = Lists(both(BASE), EDGE, resolvers={CACHE: holding(BASE, 60, START)})
    found = watched(seen_before(BASE), lists)
    assert found.spread.verdict == "not-entered"
    assert found.spread.settled_by is None
    asks = [ask for each in lists.asked if isinstance(each, Questions) and each.recurse for ask in each.asks]
    assert WWW not in {question.name for question, _ in asks}
    assert {r.type for r in found.spread.records} >= {"A", "CNAME", "TXT"}


def test_old_answers_are_waited_for_until_the_last_copy_dies() -> None:
    made = seen_before(PARKED)
    now = START + 10 * H
    lists = Lists(both(RIGHT), EDGE, resolvers={CACHE: holding(PARKED, 600, now)}, now=now)
    found = watched(made, lists)
    assert (found.spread.verdict, found.spread.settled_by) == ("spreading", now + H)
    states = {(r.role, r.state) for record in found.spread.records if record.type == "A" for r in record.readings}
    assert states == {("authoritative", "new"), ("resolver", "old")}
    assert {record.key for record in found.contents} >= {(DOMAIN, "A"), (WWW, "CNAME"), (DOMAIN, "MX")}
    assert (DOMAIN, "NS") in {record.key for record in found.handed}
    assert {(change.key, change.verdict) for change in found.verdicts} >= {((DOMAIN, "A"), "spreading")}
    assert {each.role for each in found.observed} == {"parent", "authoritative", "resolver"}


@pytest.mark.parametrize(("moving", "verdict"), [(0.0, "spreading"), (1.0, "settled")])
def test_what_the_source_never_returned_is_an_old_copy_where_it_counts_down(moving: float, verdict: str) -> None:
    """All web records were gone before the first check; one resolver of three holds what nobody else ever saw. One
    whose answer does not count down makes it up."""
    gone = case(BASE)
    history = (*contents_of_zone(gone, START), *(Content(RecordSet(n, t, 900, ()), START, START) for n, t in ADDRESSED))
    made = replace(seen_before(RIGHT, START + H), history=history)
    others = [replace(CACHE, address=f"127.0.53.{n}") for n in (2, 3)]

    def looked(at: float, observed: tuple[Observation, ...] = ()) -> WatchResult:
        left = 86400 - int((at - START) * (1 - moving))
        caches = {CACHE: holding(PARKED + "\nwww A 198.51.100.8", left, at)}
        caches |= {each: holding(RIGHT, 300, at) for each in others}
        seen = noted(made.history, START + 2 * H, zone(RIGHT), "zone")
        known = replace(made, history=seen if observed else made.history)
        return watched(known, Lists(both(RIGHT), EDGE, resolvers=caches, now=at), Memory(observed))

    first = looked(START + 2 * H)
    assert (first.spread.verdict, first.spread.settled_by) == ("spreading", START + 86400 + 2 * H * moving)
    later = looked(START + 6 * H, first.observed)
    assert later.spread.verdict == verdict
    assert ("resolver-answers-for-itself" in {f.code for f in later.spread.findings}) == (verdict == "settled")


ADDRESSED = ((DOMAIN, "A"), (WWW, "CNAME"), (WWW, "A"))


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


@pytest.mark.parametrize(
    ("typed", "code", "where"),
    [
        (f"www.{DOMAIN}{DOMAIN} CNAME {TARGET}", "name-doubled", (WWW, "CNAME")),
        ("www A 192.0.2.10", "alias-by-address", (WWW, "CNAME")),
        (f"www CNAME {TARGET}{DOMAIN}", "target-unfinished", (WWW, "CNAME")),
        (r'@ TXT "\"bricklark-owner=tk-4471\""', "pasted-quote", (DOMAIN, "TXT")),
    ],
)
def test_what_was_typed_before_the_first_look_is_wrong_and_not_old(
    typed: str, code: str, where: tuple[str, str]
) -> None:
    text = BASE + "@ A 198.51.100.7\n" + typed
    found = watched(seen_before(text), Lists(both(text), EDGE)).spread
    assert found.verdict == "entered-wrong"
    assert code in {finding.code for finding in found.findings}
    verdicts = {(record.name, record.type): record.verdict for record in found.records}
    assert verdicts[where] == "entered-wrong"
    assert verdicts[DOMAIN, "A"] == "not-entered"


def test_everything_that_the_plan_changes_is_followed_caa_too() -> None:
    text = RIGHT + '@ CAA 0 issue "x.example"'
    found = watched(seen_before(text), Lists(both(text), EDGE)).spread
    assert {(r.type, r.verdict) for r in found.records if r.type == "CAA"} == {("CAA", "not-entered")}
    assert found.verdict == "not-entered"
    allowed = text + '\n@ CAA 0 issue "tallowseal.example"'
    after = watched(seen_before(text), Lists(both(allowed), EDGE, now=START + H)).spread
    assert after.verdict == "settled"
    assert after.settled_by == START + 2 * H


def test_what_was_to_stay_and_is_gone_is_a_blocker() -> None:
    lost = RIGHT.replace("@ MX 10 mx1.mossgate.example.\n", "")
    found = watched(seen_before(RIGHT), Lists(both(lost), EDGE, now=START + H)).spread
    assert [(f.code, f.level, f.type) for f in found.findings] == [("kept-record-gone", "blocker", "MX")]
    quiet = {NS1: None, NS2: None}
    assert not [f for f in watched(seen_before(RIGHT), Lists(quiet, EDGE)).spread.findings if f.level == "blocker"]


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


def test_a_resolver_that_tells_of_the_wildcard_does_not_lie() -> None:
    text = RIGHT + "* A 192.0.2.99"
    found = watched(seen_before(text), Lists(both(text), EDGE, resolvers={CACHE: holding(text, 60, START)})).spread
    assert "resolver-answers-for-itself" not in {finding.code for finding in found.findings}
    lying = Lists(both(RIGHT), EDGE, resolvers={CACHE: holding(text, 60, START)})
    codes = {finding.code for finding in watched(seen_before(RIGHT), lying).spread.findings}
    assert "resolver-answers-for-itself" in codes


def test_servers_that_disagree_split_and_the_parents_word_is_noted() -> None:
    made = seen_before(PARKED)
    ds = RecordSet(DOMAIN, "DS", 3600, ("1 13 2 AA",))
    lists = Lists({NS1: zone(RIGHT), NS2: zone(PARKED)}, EDGE, ds=ds, now=START + H)
    found = watched(made, lists)
    assert found.spread.verdict == "split"
    assert {record.type for record in found.handed} == {"NS", "DS"}
    without = watched(made, Lists(both(RIGHT), EDGE, now=START + H))
    assert {(record.type, record.values) for record in without.handed if record.type == "DS"} == {("DS", ())}


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


def test_a_builder_that_does_not_know_the_name_is_waited_for_with_the_reasons() -> None:
    unaware = {url: (page(url, 404),) for url in URLS}
    found = visited(unaware)
    assert found.verdict == "waiting"
    assert {finding.code for finding in found.findings} == {"builder-unaware"}
    assert "does not have every name" in say(found.may_wait_for[0].what)
    made = seen_before(RIGHT)
    told = Evidence(survey=made.survey, contents=made.history, confirmed={"claim": START})
    assert "was not told" not in say(visited(unaware, evidence=told).may_wait_for[0].what)
    pending = Certificate("default", False, (), "x", None, "the builder's own")
    waiting = visited({url: (page(url, certificate=pending),) for url in URLS if url.startswith("https:")})
    assert "certificate-pending" in {finding.code for finding in waiting.findings}


def test_a_circle_is_asked_about_at_the_builder_itself() -> None:
    round_and_round = (page(URLS[0], 301, URLS[0]), page(URLS[0], 301, URLS[0]))
    edge = {URLS[0]: (HOME,)}
    found = visited({URLS[0]: round_and_round}, edge=edge)
    assert "proxy-loop" in {finding.code for finding in found.findings}
    assert "redirect-loop" in {finding.code for finding in visited({URLS[0]: round_and_round}).findings}


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


def test_where_nobody_can_be_asked_nothing_is_judged() -> None:
    made = seen_before(RIGHT)
    lists = Lists({}, cut=Trouble("no-server", ".", because=(Trouble("no-connection", "", "127.0.0.1:1"),)))
    with refused(CouldNotCheck, "no server listens at"):
        lists.play(visit_check(made, Evidence()))


def test_the_visits_of_several_domains_become_one() -> None:
    one, other = visited({}), visited({url: (page(url, 404),) for url in URLS})
    whole = together([one, other])
    assert (whole.verdict, len(whole.ways)) == ("waiting", 8)
    assert whole.wait_until == other.wait_until
    assert whole.may_wait_for == other.may_wait_for
    assert together([one]) == one


def test_a_proxy_that_hands_on_the_builders_page_is_no_stranger() -> None:
    """DNS leads elsewhere, and what answers there is the builder's page all the same."""
    text = RIGHT.replace("\n".join(f"@ A {a}" for a in ADDRESSES), "@ A 198.51.100.80")
    text = text.replace(f"www CNAME {TARGET}", "www A 198.51.100.80")
    made = seen_before(text)
    evidence = Evidence(survey=made.survey, contents=made.history)
    edge = {url: (page(url),) if url == URLS[0] else led(url) for url in URLS}
    proxied = Lists(both(text), EDGE, web=Site(), edge=edge, now=START + H).play(visit_check(made, evidence))
    assert proxied.verdict == "arrived"
    other = {url: (page(url, text="<title>Another</title>"),) if url == URLS[0] else led(url) for url in URLS}
    stranger = Lists(both(text), EDGE, web=Site(), edge=other, now=START + H).play(visit_check(made, evidence))
    assert "wrong-destination" in {finding.code for finding in stranger.findings}
    blank = {url: (page(url, text=""),) for url in URLS if url.startswith("https:")}
    empty = Lists(both(text), EDGE, web=Site(blank), edge=blank, now=START + H).play(visit_check(made, evidence))
    assert "wrong-destination" in {finding.code for finding in empty.findings}
    dead = Lists(both(text), EDGE, web=Site(), now=START + H).play(visit_check(made, evidence))
    assert dead.verdict == "broken"


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


def test_on_the_way_by_name_servers_the_parents_word_decides() -> None:
    servers = (NS1.name, NS2.name)
    site = replace(SITE, route="nameservers")
    made = case(RIGHT, site=site, brief=replace(BRIEF, nameservers=servers))
    made = replace(made, history=tuple(contents_of_zone(made, START)), survey=survey(made, START))
    lists = Lists(both(RIGHT), EDGE, web=Site(), now=START + H)
    assert lists.play(visit_check(made, Evidence())).verdict == "arrived"
    elsewhere = replace(lists, parent_names=("ns1.other.example.",))
    found = elsewhere.play(visit_check(made, Evidence()))
    assert any("nameservers are not Bricklark's" in say(finding.message) for finding in found.findings)
    watch = watched(made, Lists(both(RIGHT), EDGE, now=START + H)).spread
    assert [(r.type, r.verdict) for r in watch.records] == [("NS", "settled")]
    before = Content(RecordSet(DOMAIN, "NS", 21600, ("ns.old.",)), 0, START, "parent")
    old = replace(made, history=(*made.history, before))
    moved = watched(old, Lists(both(RIGHT), EDGE, now=START + H)).spread
    assert moved.settled_by == START + H + 21600


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


def test_a_server_that_is_behind_binds_until_it_has_caught_up() -> None:
    made = seen_before(PARKED)
    first = watched(made, Lists({NS1: zone(RIGHT), NS2: zone(PARKED)}, EDGE, now=START + H))
    assert {record.key for record in first.behind} >= {(DOMAIN, "A"), (WWW, "CNAME")}
    history = noted(noted(made.history, START + H, first.contents, "zone"), START + H, first.behind, "behind")
    caught_up = watched(replace(made, history=history), Lists(both(RIGHT), EDGE, now=START + 3 * H))
    assert caught_up.spread.settled_by == START + 4 * H
    assert {record.key for record in caught_up.behind} == {record.key for record in first.behind}
    assert watched(made, Lists(both(RIGHT), EDGE, now=START + H)).behind == ()


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
