"""What nobody answered stays unknown: it is never "not there", never "differs", and nothing is planned on it."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from homepath.core.dns.answers import Answer, Question, Server
from homepath.core.dns.names import Name
from homepath.core.dns.records import RecordSet, Zone
from homepath.core.dns.zone_answers import denied, filled
from homepath.core.model.acts import Decide
from homepath.core.model.evidence import Content
from homepath.core.observe.merging import Export
from homepath.core.observe.survey import Asked, SurveyResult, survey_check
from homepath.core.plan.plan import make_plan
from homepath.core.site.case import Case
from homepath.core.site.wanted import work_out
from tests.core.cases import BASE, BRIEF, DOMAIN, RIGHT, SITE, START, TARGET, case, contents_of_zone, stands, zone
from tests.core.fake_network import NS1, NS2, Lists, said, silence

WWW = f"www.{DOMAIN}"
WANTED = work_out(SITE, BRIEF)
OLD = BASE + "@ A 198.51.100.7\n@ AAAA 2001:db8::7\nwww A 198.51.100.7\n"


def failing(*keys: tuple[Name, str], rcode: str = "SERVFAIL") -> Any:
    """Servers that fail for some questions; "silent" drops them."""

    def speak(server: Server) -> Any:
        def one(question: Question) -> Answer | None:
            if (question.name, question.type) not in keys:
                return None
            if rcode == "silent":
                return silence(question, server)
            return said(question, server, rcode=rcode, authoritative=False)

        return one

    return speak


def surveyed(lists: Lists, history: tuple[Content, ...] = (), **more: Any) -> SurveyResult:
    return lists.play(survey_check(WANTED, history, Asked(("hp-one", "hp-two"), **more)))


def case_of(found: SurveyResult) -> Case:
    history = tuple(Content(record, START, START, "zone") for record in found.contents)
    made = Case(WANTED, found.survey.zone, survey=found.survey, history=history)
    return replace(made, notation=case(BASE).notation)


@pytest.mark.parametrize("rcode", ["SERVFAIL", "REFUSED", "NOTIMP", "silent", "NOERROR"])
@pytest.mark.parametrize("key", [(DOMAIN, "A"), (DOMAIN, "AAAA"), (WWW, "A"), (DOMAIN, "TXT"), (DOMAIN, "CNAME")])
def test_a_question_that_no_server_answers_stops_the_plan_at_its_name(key: tuple[Name, str], rcode: str) -> None:
    """NOERROR: an empty answer without authority says nothing either."""
    speak = failing(key, rcode=rcode)
    found = surveyed(Lists(dict.fromkeys((NS1, NS2), zone(OLD)), moody={ns: speak(ns) for ns in (NS1, NS2)}))
    assert [each.key for each in found.survey.unknown] == [key]
    assert {server.state for server in found.survey.servers} == {"agrees"}
    assert key not in {record.key for record in found.contents}
    made = case_of(found)
    plan = make_plan(made)
    assert [f.level for f in plan.findings if f.code == "unanswered"] == ["blocker"]
    assert not [change for change in plan.work if change.name == key[0]]
    assert [change for change in plan.work if change.name != key[0]]
    assessment = stands(made)
    assert assessment.step is not None
    assert assessment.step.id == "decide:unanswered"
    assert isinstance(assessment.act, Decide)
    assert all(not choice.loses for choice in assessment.act.choices)


@pytest.mark.parametrize(
    ("rcode", "unknown"), [("NOTIMP", False), ("FORMERR", False), ("SERVFAIL", True), ("silent", True)]
)
def test_an_old_server_that_does_not_know_a_young_type_has_none(rcode: str, unknown: bool) -> None:
    """And what nobody can have typed for the website, such as SVCB, stops nothing even where it is not known."""
    speak = failing((WWW, "HTTPS"), (WWW, "SVCB"), (WWW, "CAA"), rcode=rcode)
    found = surveyed(Lists({NS1: zone(OLD)}, moody={NS1: speak(NS1)}))
    assert {each.type for each in found.survey.unknown} == ({"HTTPS", "SVCB", "CAA"} if unknown else set())
    assert [each.type for each in case_of(found).unseen_at(WWW)] == (["HTTPS"] if unknown else [])
    blockers = {f.code for f in make_plan(case_of(found)).blockers}
    assert blockers == ({"unanswered"} if unknown else set())


def test_another_servers_answer_fills_the_gap_and_silence_is_never_a_difference() -> None:
    speak = failing((WWW, "A"), (DOMAIN, "AAAA"), rcode="silent")
    for deaf in (NS1, NS2):
        found = surveyed(Lists(dict.fromkeys((NS1, NS2), zone(OLD)), moody={deaf: speak(deaf)}))
        assert found.survey.unknown == ()
        assert {server.state for server in found.survey.servers} == {"agrees"}
        assert found.survey.zone.values(DOMAIN, "AAAA") == ("2001:db8::7",)
        changes = {(c.name, c.type): c.move for c in make_plan(case_of(found)).work}
        assert (changes[DOMAIN, "AAAA"], changes[WWW, "A"]) == ("remove", "remove")


def test_an_alias_settles_the_other_types_at_its_name() -> None:
    speak = failing((WWW, "AAAA"), (WWW, "HTTPS"))
    lists = Lists({NS1: zone(BASE + "www CNAME old.example.")}, moody={NS1: speak(NS1)})
    assert surveyed(lists).survey.unknown == ()


def test_what_an_export_or_the_person_told_holds_at_later_looks() -> None:
    lists = Lists({NS1: zone(OLD)}, moody={NS1: failing((WWW, "A"), (WWW, "AAAA"))(NS1)})
    export = Export("file zone.txt", (RecordSet(WWW, "A", 600, ("198.51.100.7",)),))
    first = surveyed(lists, exports=(export,))
    assert first.survey.unknown == ()
    assert {record.key: record.values for record in first.confirmed} == {
        (WWW, "A"): ("198.51.100.7",),
        (WWW, "AAAA"): (),
    }
    history = tuple(Content(record, START, START, "told") for record in first.confirmed)
    later = surveyed(lists, history)
    assert later.survey.unknown == ()
    assert later.survey.zone.values(WWW, "A") == ("198.51.100.7",)
    assert [each.type for each in surveyed(lists, history[:1]).survey.unknown] == ["AAAA"]


def test_a_later_answer_of_the_zone_ends_the_doubt() -> None:
    found = surveyed(Lists({NS1: zone(OLD)}, moody={NS1: failing((WWW, "A"))(NS1)}))
    made = case_of(found)
    assert list(made.unknown) == [(WWW, "A")]
    seen = Content(RecordSet(WWW, "A", 60, ()), START, START + 60, "zone")
    assert not replace(made, history=(*made.history, seen)).unknown


def test_what_a_dname_makes_up_is_no_entry() -> None:
    """RFC 6672 section 3.1: the answer holds the DNAME and a CNAME made of it, for every name below."""
    dname = RecordSet(DOMAIN, "DNAME", 3600, ("moved.example.",))

    def speak(question: Question) -> Answer | None:
        if question.name == DOMAIN or not question.name.endswith(f".{DOMAIN}"):
            return None
        made_up = RecordSet(question.name, "CNAME", 0, (question.name.replace(DOMAIN, "moved.example."),))
        return said(question, NS1, dname, made_up)

    found = surveyed(Lists({NS1: zone(BASE)}, moody={NS1: speak}))
    assert {record.key[1] for record in found.listed} == {"SOA", "NS", "MX", "TXT", "DNAME"}
    assert {record.type for record in found.contents if record.values} == {"SOA", "NS", "MX", "TXT", "DNAME"}
    assert found.survey.dangling == ()
    plan = make_plan(case_of(found))
    assert {f.code for f in plan.findings} >= {"delegated-away"}
    assert not {f.code for f in plan.findings} & {"dangling-target", "wildcard-answers", "address-elsewhere"}
    assert {c.move for c in plan.work} == {"add"}


def test_a_name_that_is_denied_and_has_data() -> None:
    there = said(Question(WWW, "A"), NS1, RecordSet(WWW, "A", 60, ("192.0.2.1",)))
    gone = said(Question(WWW, "MX"), NS1, rcode="NXDOMAIN")
    other = said(Question(f"shop.{DOMAIN}", "A"), NS1, rcode="NXDOMAIN")
    above = said(Question(DOMAIN, "CAA"), NS1, rcode="NXDOMAIN")
    assert list(denied([there, gone, other])) == [WWW]
    assert list(denied([there, above])) == [DOMAIN]
    assert list(denied([gone, other])) == []


def test_the_first_server_that_tells_something_counts() -> None:
    question = Question(WWW, "A")
    one, two = (
        said(question, ns, RecordSet(WWW, "A", 60, (value,))) for ns, value in ((NS1, "192.0.2.1"), (NS2, "192.0.2.2"))
    )
    rounds = {NS1: [silence(question, NS1)], NS2: [two]}
    assert filled(rounds, [NS1, NS2], DOMAIN)[0] == [two]
    assert filled({**rounds, NS1: [one]}, [NS1, NS2], DOMAIN)[0] == [one]
    (dark,) = filled({NS1: [silence(question, NS1)]}, [NS1], DOMAIN)[1]
    assert (dark.key, dark.trouble.cause) == ((WWW, "A"), "silent")


def test_a_right_zone_seen_whole_has_no_doubt() -> None:
    found = surveyed(Lists({NS1: zone(RIGHT)}, {(TARGET, "A"): RecordSet(TARGET, "A", 300, ("192.0.2.10",))}))
    assert (found.survey.unknown, found.confirmed) == ((), ())
    assert contents_of_zone(case_of(found), START)
    assert Zone.of(DOMAIN, found.contents).get(WWW, "CNAME")
