"""Silence is never "no": whatever answer of a look is lost, no verdict gets better and nothing is called absent."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, replace
from typing import Any, get_args

import pytest

from homepath.core.dns.answers import Answer, Question, Server, Trouble, TroubleCause
from homepath.core.dns.records import Key, RecordSet
from homepath.core.model.acts import Decide, NameServers, Nothing, Wait
from homepath.core.model.evidence import Content, Evidence
from homepath.core.model.problems import CouldNotCheck
from homepath.core.model.survey import WORST_FIRST, Spread
from homepath.core.model.visits import Certificate, Hop, VisitVerdict
from homepath.core.observe.names import NOT_ASKED
from homepath.core.observe.requests import Addresses, FetchOnce, FindZone, Follow, Questions, Request
from homepath.core.observe.survey import Asked, SurveyResult, survey_check
from homepath.core.observe.visit import visit_check
from homepath.core.plan.guard import losses
from homepath.core.plan.job import job
from homepath.core.plan.plan import make_plan
from homepath.core.site.case import Case
from homepath.core.web.hops import Fetched
from homepath.core.wording.say import say
from tests.core.cases import ADDRESSES, DOMAIN, RIGHT, START, TARGET, contents, stands
from tests.core.fake_network import NS1, NS2, PARENT, Lists, said, silence
from tests.core.test_hand_over import ADA, BO, CARRIED, LED, OLD, TOLD, after, by_builder, compared
from tests.core.test_looks import CACHE, EDGE, PARKED, URLS, WWW, Site, both, holding, led, page, seen_before, watched

H = 3600.0
OF_NOBODY = (f"hp-none.{DOMAIN}", f"*.{DOMAIN}")
Mood = Callable[[Question, Server], Answer]


def _truncated(question: Question, server: Server) -> Answer:
    return Answer(question, server, "broken", START, trouble=Trouble("connection-lost", server.name, server.place))


MOODS: dict[str, Mood] = {
    "silent": silence,
    "SERVFAIL": lambda question, server: said(question, server, rcode="SERVFAIL", authoritative=False),
    "REFUSED": lambda question, server: said(question, server, rcode="REFUSED", authoritative=False),
    "truncated": _truncated,
}


def lost(key: Key, mood: str, at: Iterable[Server]) -> dict[Server, Callable[[Question], Answer | None]]:
    """Servers that answer everything but one question."""
    return {
        server: (lambda question, server=server: MOODS[mood](question, server) if question.key == key else None)  # type: ignore[misc]
        for server in at
    }


def asked_in(lists: Lists) -> list[tuple[Question, Server]]:
    every = [ask for each in lists.asked if isinstance(each, Questions) for ask in each.asks]
    return list(dict.fromkeys(every))


def some_of(keys: list[Key], mood: str) -> list[Key]:
    """All of them for silence; the other ways to say nothing are treated alike."""
    return keys if mood == "silent" else keys[::9]


def ready_case() -> Case:
    return by_builder()


def questions_of_compare() -> list[Key]:
    """Every question of a comparison, from one that finds all ready."""
    asked: set[Key] = set()

    def listen(question: Question) -> None:
        asked.add(question.key)

    assert compared(ready_case(), CARRIED + LED, moody={NS1: listen, PARENT: listen}).verdict == "ready"
    return sorted(key for key in asked if key[0] not in OF_NOBODY)


ALIASES = {f"mail.{DOMAIN}", WWW}
"""An alias is the answer to every type at its name."""


@pytest.mark.parametrize("mood", MOODS)
def test_no_lost_answer_makes_a_switch_look_safe(mood: str) -> None:
    keys = questions_of_compare()
    assert {(DOMAIN, "MX"), (DOMAIN, "DS"), (f"_sip._tls.{DOMAIN}", "SRV"), (f"_dmarc.{DOMAIN}", "TXT")} <= set(keys)
    for key in some_of([key for key in keys if key[0] not in ALIASES], mood):
        at_parent = key == (DOMAIN, "DS")
        for side in ((PARENT,),) if at_parent else ((NS1, NS2), (ADA, BO), (BO,)):
            found = compared(ready_case(), CARRIED + LED, moody=lost(key, mood, side))
            assert found.verdict != "ready", (key, side)
            assert not found.records_ready, (key, side)
            if key[1] != "SOA":
                assert key in {each.key for each in found.unanswered}, (key, side)
                assert found.verdict == "unknown", (key, side)
                assert not [each for each in found.records if each.state == "missing"], (key, side)
                mine = {each.state for each in found.records if each.key == key and not each.theirs}
                assert mine <= ({"unknown"} if side != (BO,) else {"same", "as-planned"}), (key, side)
        act = after(ready_case(), found, history=contents(CARRIED + LED, START, source="new")).act
        assert not isinstance(act, NameServers), key
        assert at_parent or compared(ready_case(), CARRIED + LED, moody=lost(key, mood, (NS1,))).verdict == "ready"


def test_what_the_person_said_of_a_silent_question_counts() -> None:
    key = (f"_sip._tls.{DOMAIN}", "SRV")
    told = Content(RecordSet(*key, 0, ()), START, START, "told")
    made = replace(ready_case(), history=(told,))
    assert compared(made, CARRIED + LED, moody=lost(key, "silent", (NS1, NS2))).verdict == "ready"


def surveyed_with(
    moody: dict[Server, Callable[[Question], Answer | None]], history: tuple[Content, ...]
) -> SurveyResult:
    """A survey before a hand-over, when everything counts."""
    made = by_builder()
    return Lists(both(OLD), EDGE, moody=moody).play(survey_check(made.wanted, history, Asked(("hp-none", "hp-two"))))


def seen(look: SurveyResult, history: tuple[Content, ...] = ()) -> Case:
    noted = tuple(Content(each, START, START, "zone") for each in look.contents)
    return replace(by_builder(), zone=look.survey.zone, survey=look.survey, history=(*history, *noted))


@pytest.mark.parametrize("mood", MOODS)
def test_no_lost_answer_makes_a_survey_forget_anything(mood: str) -> None:
    base = surveyed_with({}, ())
    before = tuple(Content(each, START - H, START - H, "survey") for each in base.listed)
    lists = Lists(both(OLD), EDGE)
    lists.play(survey_check(by_builder().wanted, before, Asked(("hp-none", "hp-two"))))
    keys = {question.key for question, _ in asked_in(lists)} | {(DOMAIN, "DS")}
    keys = {key for key in keys if "hp-" not in key[0] and key[1] not in ("SOA", "NS")}
    for key in [(DOMAIN, "DS"), *some_of(sorted(keys), mood)]:
        side = (PARENT,) if key == (DOMAIN, "DS") else (NS1, NS2)
        look = surveyed_with(lost(key, mood, side), before)
        unknown = {each.key for each in look.survey.unknown}
        there = {each.record.key for each in base.survey.records}
        assert there <= {each.record.key for each in look.survey.records} | unknown, key
        made = seen(look, before)
        assert not losses(made, job(made)), key
        found = stands(made, START, confirmed=TOLD)
        if key[0] not in ALIASES:
            assert key in unknown, key
            assert "unanswered" in {each.code for each in make_plan(made).blockers}, key
            assert isinstance(found.act, Decide), key
            assert all(not choice.loses for choice in found.act.choices), key
        if key == (DOMAIN, "DS"):
            assert look.survey.delegation is not None
            assert look.survey.delegation.signed is None
            assert {choice.then[-1] for choice in found.act.choices} == {"survey", "none:@ DS"}  # type: ignore[union-attr]


def test_a_registrar_that_shows_no_ds_record_settles_a_silent_registry() -> None:
    told = Content(RecordSet(DOMAIN, "DS", 0, ()), START, START, "told")
    look = surveyed_with(lost((DOMAIN, "DS"), "silent", (PARENT,)), (told,))
    assert look.survey.delegation is not None
    assert (look.survey.delegation.signed, look.survey.unknown) == (False, ())


def absent_in(spread: Spread) -> set[tuple[str, str, str]]:
    """Who says of what that nothing stands there."""
    return {(e.name, e.type, r.vantage) for e in spread.records for r in e.readings if r.state == "absent"}


@pytest.mark.parametrize("mood", MOODS)
def test_no_lost_answer_makes_a_watch_better_or_a_record_absent(mood: str) -> None:
    for text, resolver in ((RIGHT, RIGHT), (PARKED, PARKED), (RIGHT, PARKED)):
        made = seen_before(text)
        cache = {CACHE: holding(resolver, 600, START)}
        base = Lists(both(text), EDGE, resolvers=cache)
        usual = watched(made, base).spread
        verdict, was = usual.verdict, absent_in(usual)
        for question, server in asked_in(base):
            if server == CACHE:
                continue
            for side in ((server,), (NS1, NS2)):
                turned = Lists(both(text), EDGE, resolvers=cache, moody=lost(question.key, mood, side))
                try:
                    spread = watched(made, turned).spread
                except CouldNotCheck:
                    continue
                if spread.verdict != verdict:
                    assert spread.verdict == "unknown" or WORST_FIRST.index(spread.verdict) < WORST_FIRST.index(
                        verdict
                    ), (question, spread.verdict)
                assert absent_in(spread) <= was, question


PENDING = Certificate("default", False, (), "x", None, "the builder's own")
STRANGE = RIGHT.replace("\n".join(f"@ A {a}" for a in ADDRESSES), "@ A 198.51.100.80")
SECURE = [url for url in URLS if url.startswith("https:")]
VISITED: dict[str, tuple[str, dict[str, tuple[Hop, ...]]]] = {
    "arrived": (RIGHT, {}),
    "the builder knows no name": (RIGHT, {url: (page(url, 404),) for url in URLS}),
    "the certificate is not there yet": (RIGHT, {url: (page(url, certificate=PENDING),) for url in SECURE}),
    "the apex leads elsewhere": (STRANGE, {}),
    "nothing was changed": (PARKED, {url: (page(url, text="<title>Parked</title>"),) for url in URLS}),
    "round and round": (RIGHT, {URLS[0]: (page(URLS[0], 301, URLS[0]), page(URLS[0], 301, URLS[0]))}),
}
"""Zone and web of the states a visit may find."""


SEEN_ON_THE_WAY = {
    "no-answer",
    "https-missing",
    "certificate-pending",
    "challenge-astray",
    "address-dead",
    "redirect-loop",
}
"""What a connection that was opened and gave nothing may be called. Nothing that blames a record."""


@dataclass
class OneLost(Lists):
    """Loses one reply: a name looked up, the zone cut, or one request on the way of a URL."""

    lost: tuple[str, str, int] = ("", "", 0)
    cause: TroubleCause = "silent"
    seen: dict[tuple[str, str, int], None] = field(default_factory=dict)

    def is_lost(self, kind: str, what: str, number: int = 0) -> bool:
        self.seen[kind, what, number] = None
        return self.lost == (kind, what, number)

    def reply(self, request: Request) -> Any:
        trouble = Trouble(self.cause, "ns1.edge.bricklark.example.", "192.0.2.53")
        match request:
            case FindZone() if self.is_lost("cut", "zone"):
                return trouble
            case Addresses(name, at_source) if self.is_lost("name", name, int(at_source)):
                return (), None, trouble
            case Follow(url):
                hops: list[Hop] = []
                for number, hop in enumerate(super().reply(request)):
                    if self.is_lost("page", url, number):
                        return (*hops, Hop(hop.url, None, None, hop.address, "nothing came"))
                    hops.append(hop)
                return tuple(hops)
            case FetchOnce(want) if self.is_lost("address", want.url, int(want.address == ADDRESSES[0])):
                return Fetched(None, trouble=trouble)
        return super().reply(request)


def visit_with(state: str, lost: tuple[str, str, int], cause: TroubleCause, through: bool) -> tuple[OneLost, Any]:
    text, web = VISITED[state]
    made = seen_before(text)
    edge = {url: (page(url),) if url == URLS[0] else led(url) for url in URLS}
    lists = OneLost(both(text), EDGE, web=Site(web), edge=edge, now=START + H, lost=lost, cause=cause)
    try:
        found = lists.play(visit_check(made, Evidence(survey=made.survey, contents=made.history), through))
    except CouldNotCheck:
        return lists, None
    return lists, (found, stands(made, START + H, visit=found))


@pytest.mark.parametrize("state", VISITED)
def test_no_lost_reply_makes_a_visit_better_or_blames_the_domains_dns(state: str) -> None:
    ranks = get_args(VisitVerdict)
    for through in (False, True):
        usual, (base, stood) = visit_with(state, ("", "", 0), "silent", through)
        codes = {each.code for each in base.findings}
        assert len(usual.seen) > 15
        for lost in usual.seen:
            for cause in NOT_ASKED if lost[0] == "name" else NOT_ASKED[1:2]:
                _, turned = visit_with(state, lost, cause, through)
                if turned is None:
                    continue
                found, assessment = turned
                assert ranks.index(found.verdict) >= ranks.index(base.verdict) or found.verdict == "unknown", lost
                new = {each.code for each in found.findings} - codes
                assert new <= SEEN_ON_THE_WAY | ({"destination-unknown"} if lost[0] == "name" else set()), (lost, new)
                assert isinstance(assessment.act, Nothing) <= isinstance(stood.act, Nothing), lost
                if lost[0] != "page" and "address-dead" not in new:
                    assert type(assessment.act) in (type(stood.act), Wait, Nothing), (lost, assessment.act)


def test_a_silent_address_is_named_with_what_it_did() -> None:
    _, turned = visit_with("arrived", ("address", URLS[0].replace("www.", ""), 0), "connection-lost", False)
    said = next(say(each.message) for each in turned[0].findings if each.code == "address-dead")
    assert any(f"not at IPv4 {address} (" in said for address in ADDRESSES), said


def test_a_silent_builder_is_not_a_fault_of_the_domains_dns() -> None:
    for silent in ((WWW, TARGET), (WWW,), (DOMAIN,)):
        _, turned = visit_with("arrived", ("name", silent[-1], 0), "silent", False)
        assert turned is not None
        assert (turned[0].verdict, turned[1].exit) in (("unknown", 4), ("arrived", 0)), silent
        assert not {"wrong-destination", "no-answer"} & {each.code for each in turned[0].findings}
