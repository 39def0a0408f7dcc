"""Silence is never "no": whatever answer of a look is lost, no verdict gets better and nothing is called absent."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace

import pytest

from homepath.core.dns.answers import Answer, Question, Server, Trouble
from homepath.core.dns.names import Name
from homepath.core.dns.records import Key, RecordSet
from homepath.core.model.acts import Decide, NameServers, Wait
from homepath.core.model.evidence import Content, Evidence
from homepath.core.model.problems import CouldNotCheck
from homepath.core.model.survey import WORST_FIRST, Spread
from homepath.core.observe.names import NOT_ASKED
from homepath.core.observe.requests import Questions
from homepath.core.observe.survey import Asked, SurveyResult, survey_check
from homepath.core.observe.visit import visit_check
from homepath.core.plan.guard import losses
from homepath.core.plan.job import job
from homepath.core.plan.plan import make_plan
from homepath.core.site.case import Case
from tests.core.cases import DOMAIN, RIGHT, START, TARGET, contents, stands
from tests.core.fake_network import NS1, NS2, PARENT, Lists, said, silence
from tests.core.test_hand_over import ADA, BO, CARRIED, LED, OLD, TOLD, after, by_builder, compared
from tests.core.test_looks import CACHE, EDGE, PARKED, URLS, WWW, Site, both, holding, seen_before, watched

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
        found = stands(made, START, told=TOLD)
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


def visit_with(silent: dict[Name, Trouble]) -> set[str]:
    made = seen_before(RIGHT)
    dead = {url: Site().get(url) for url in URLS}
    visitors = {name: ((), None, trouble) for name, trouble in silent.items()}
    lists = Lists(both(RIGHT), EDGE, web=Site(dead), now=START + H, visitors=visitors)
    evidence = Evidence(survey=made.survey, contents=made.history)
    found = lists.play(visit_check(made, evidence))
    assessment = stands(made, START + H, visit=found)
    if found.verdict != "arrived":
        assert found.verdict == "unknown"
        assert assessment.exit == 4
        assert isinstance(assessment.act, Wait)
    return {each.code for each in found.findings}


@pytest.mark.parametrize("cause", NOT_ASKED)
def test_a_silent_server_of_the_builder_is_not_a_fault_of_the_domains_dns(cause: str) -> None:
    who = Trouble(cause, "ns1.edge.bricklark.example.", "192.0.2.53")  # type: ignore[arg-type]
    for silent in ({TARGET: who}, {WWW: who, TARGET: who}, {DOMAIN: who}):
        assert not visit_with(silent) & {"wrong-destination", "no-answer"}
