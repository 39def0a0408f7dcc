"""Hard cases of plans and words: the owner's word, inherited CAA, delegated labels, SPF, odd exports."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from homepath.core.dns.records import RecordSet, Zone
from homepath.core.dns.values import meaning, strings
from homepath.core.files.exports import read_export
from homepath.core.findings.registry import findings
from homepath.core.model.acts import Decide, Enter
from homepath.core.model.brief import BriefRecord
from homepath.core.model.evidence import Content
from homepath.core.model.plan import Change
from homepath.core.model.problems import BadInput
from homepath.core.plan.going_back import undo_changes
from homepath.core.plan.guard import losses, restoring_changes
from homepath.core.plan.job import job
from homepath.core.plan.plan import applied, make_plan, make_update
from homepath.core.site.case import Case
from homepath.core.site.zone_facts import without_website
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
    for_primary,
    stands,
    survey,
)

WWW, SHOP = f"www.{DOMAIN}", f"shop.{DOMAIN}"
WEB = "\n".join(f"@ A {a}" for a in ADDRESSES) + "\n"


def said(made: Case) -> dict[str, list[str]]:
    found: dict[str, list[str]] = {}
    for each in findings(made):
        found.setdefault(each.code, []).append(f"{say(each.message)} {say(each.cure)}")
    return found


def changes(made: Case) -> dict[tuple[str, str], Change]:
    return {(change.name, change.type): change for change in make_plan(made).work}


@pytest.mark.parametrize("text", ['www TXT "note"', "www MX 10 mx1.mossgate.example."])
def test_what_the_plan_takes_away_on_the_owners_word_is_no_blocker(text: str) -> None:
    rrtype = text.split()[1]
    before = case(BASE + text)
    assert {f.code for f in make_plan(before).blockers} <= {"cname-not-alone", "mail-at-cname-name"}
    assert all("[purposes]" in say(f.cure) for f in make_plan(before).blockers)
    assert isinstance(stands(before).act, Decide)
    site = replace(SITE, purposes={f"www {rrtype}": "website"})
    after = case(BASE + text, site=site)
    assert make_plan(after).blockers == ()
    assert changes(after)[WWW, rrtype].move == "remove"
    assert isinstance(stands(replace(after), confirmed={"claim": START}).act, Enter)


def test_another_record_at_the_name_still_blocks() -> None:
    site = replace(SITE, purposes={"www TXT": "website"})
    made = case(BASE + 'www TXT "note"\nwww MX 10 mx1.mossgate.example.', site=site)
    assert {f.code for f in make_plan(made).blockers} == {"mail-at-cname-name"}


def test_a_delegated_label_is_taken_back_on_the_owners_word() -> None:
    text = BASE + WEB + "shop NS ns1.else.example."
    made = case(text, site=for_primary("shop"))
    (finding,) = [f for f in make_plan(made).blockers if f.code == "delegated-away"]
    assert "CNAME is not possible where their zone begins" in say(finding.cure)
    assessment = stands(made)
    assert isinstance(assessment.act, Decide)
    (choice, *_) = assessment.act.choices
    assert choice.then == ("next", "--decide", "drop:shop NS")
    assert [(each.name, each.value) for each in choice.loses] == [(SHOP, "ns1.else.example.")]
    taken = case(text, site=replace(for_primary("shop"), purposes={"shop NS": "website"}))
    assert make_plan(taken).blockers == ()
    assert {key: change.move for key, change in changes(taken).items() if key[0] == SHOP} == {
        (SHOP, "NS"): "remove",
        (SHOP, "CNAME"): "add",
    }


def test_below_a_dname_nothing_is_planned_before_what_it_hides_can_be_seen() -> None:
    """RFC 6672 section 2.4: what the zone holds below it is not answered, and an update would meet it."""
    site = replace(SITE, purposes={"@ DNAME": "website"})
    hiding = case(BASE + "@ DNAME moved.example.\n", site=site)
    assert {key: change.move for key, change in changes(hiding).items() if key[1] != "TXT" and key[0] != DOMAIN} == {}
    assert changes(hiding)[DOMAIN, "DNAME"].move == "remove"
    shown = case(BASE + "www A 198.51.100.5\n", site=site)
    assert changes(shown)[f"www.{DOMAIN}", "A"].move == "remove"
    assert make_update(shown.zone, changes(shown).values()).unused == ()


def test_an_inherited_caa_set_gets_an_own_one_beside_it() -> None:
    outside = 'example. CAA 0 issue "other.example"\nexample. CAA 0 iodef "mailto:a@b.example"'
    made = case(RIGHT, outside=outside)
    change = changes(made)[DOMAIN, "CAA"]
    assert (change.move, change.before) == ("add", ())
    assert set(change.values) == {
        '0 issue "other.example"',
        '0 issue "tallowseal.example"',
        '0 iodef "mailto:a@b.example"',
    }
    allowed = case(RIGHT, outside='example. CAA 0 issue "tallowseal.example"')
    assert (DOMAIN, "CAA") not in changes(allowed)
    done = case(RIGHT + "\n".join(f"@ CAA {value}" for value in change.values), outside=outside)
    assert (DOMAIN, "CAA") not in changes(done)
    assert "issuer-not-allowed" not in said(done)
    first = Content(RecordSet(DOMAIN, "CAA", 900, ()), 0, 50)
    entered = replace(done, history=(first, *contents(BASE, 0), *contents_of_zone(done, 60)), job_since=10.0)
    meant = next(each for each in job(entered) if each.type == "CAA")
    assert set(meant.values) == set(change.values)  # it still belongs to the job, for watch and undo
    back = replace(entered, wanted=replace(entered.wanted, going="back"))
    undone = next(each for each in undo_changes(back, job(entered)) if each.type == "CAA")
    assert (undone.move, undone.values) == ("remove", ())


@pytest.mark.parametrize(
    ("text", "instead"),
    [
        ("v=spf1 a mx -all", "v=spf1 ip4:198.51.100.7 ip6:2001:db8::7 mx -all"),
        ("v=spf1 a:WWW.tidewick-kiln.example/28 ~all", "v=spf1 ip4:198.51.100.8/28 ~all"),
        ("v=spf1 ?a//64 -all", "v=spf1 ?ip4:198.51.100.7 ?ip6:2001:db8::7/64 -all"),
        ("v=spf1 ip4:198.51.100.7 a -all", "v=spf1 ip4:198.51.100.7 ip6:2001:db8::7 -all"),
        ("v=spf1 a:mail.tidewick-kiln.example -all", None),
        ("v=spf1 include:spf.mossgate.example all", None),
        ("v=spf1 a:%{d} -all", None),
        ("an a text", None),
    ],
)
def test_spf_that_names_the_website(text: str, instead: str | None) -> None:
    """RFC 7208 section 5.3: `a` stands for the addresses of a host."""
    hosts = {DOMAIN: ("198.51.100.7", "2001:db8::7"), WWW: ("198.51.100.8",)}
    assert without_website(f'"{text}"', DOMAIN, lambda host: hosts.get(host, ())) == instead


def test_the_new_spf_text_is_no_loss_and_the_old_one_gone_is() -> None:
    """Somebody who follows the advice is not told to put the old text back; also once the website has changed."""
    old = BASE.replace("mx -all", "a mx -all") + "@ A 198.51.100.7\n"
    cure = said(case(old))["spf-follows-website"][0]
    text = cure.rpartition("replace that text with: ")[2]
    assert text == "v=spf1 ip4:198.51.100.7 mx -all"
    past = [*contents(old, START), *contents(old, START, source="survey")]

    def lost(now: str) -> list[str]:
        history = [*past, *contents(now, START + 60)]
        made = case(now, history=history)
        return [loss.before.type for loss in losses(made, job(made))]

    assert lost(BASE.replace("mx -all", "ip4:198.51.100.7 mx -all") + WEB) == []
    assert lost(BASE.replace('"v=spf1 mx -all"', '"something else"') + WEB) == ["TXT"]
    late = said(case(BASE.replace("mx -all", "a mx -all") + WEB, history=contents(old, 0)))
    assert late["spf-follows-website"][0].endswith(text)  # who changed the website first is told still


FORMER = "10 mx1.mossgate.example."
DMARC = '_dmarc TXT "v=DMARC1; p=none"\n'


@pytest.mark.parametrize(
    ("change", "goes", "comes"),
    [
        ((DMARC, '_dmarc TXT "v=DMARC1; p=reject"\n'), ["v=DMARC1; p=reject"], ["v=DMARC1; p=none"]),
        ((DMARC, DMARC + '_dmarc TXT "v=DMARC1; p=reject"\n'), ["v=DMARC1; p=reject"], []),
        ((DMARC, DMARC + '_dmarc TXT "of someone"\n'), [], []),
        ((DMARC, '_dmarc TXT "of someone"\n'), [], ["v=DMARC1; p=none"]),
        ((FORMER, "10 post.elsewhere.example."), [], [FORMER]),
        *(
            ((FORMER, typed), [typed], [FORMER])
            for typed in ("10 mx9.mossgate.example.", "5 mx1.mossgate.example.", f"{FORMER}{DOMAIN}")
        ),
        ((FORMER, "0 ."), ["0 ."], [FORMER]),
        ((FORMER, f"{FORMER}\n@ MX 0 ."), ["0 ."], []),
        ((FORMER, f"10 {WWW}"), [f"10 {WWW}"], [FORMER]),
        (("v=spf1 mx -all", "v=spf1 a:x.example -all"), ["v=spf1 a:x.example -all"], ["v=spf1 mx -all"]),
        (("v=spf1 mx -all", "v=spf1 mx a:x.example ~all"), [], []),
        (('"v=spf1 mx -all"', '"v=spf1 mx -all"\n@ TXT "v=spf1 -all"'), [], []),  # the plan joins the two
    ],
)
def test_what_is_restored_takes_the_place_of_what_excludes_it(
    change: tuple[str, str], goes: list[str], comes: list[str]
) -> None:
    """What came since and cannot be beside what was to stay goes, and only that."""
    before = RIGHT + DMARC
    now = before.replace(*change)
    assert now != before
    history = [*contents(before, START), *contents(before, START, source="survey"), *contents(now, START + 60)]
    made = case(now, history=history)
    changes = [each for loss in losses(made, job(made)) for each in restoring_changes(loss)]
    texts = [({meaning(c.type, v) for v in c.before}, {meaning(c.type, v) for v in c.values}) for c in changes]
    assert sorted(v for was, will in texts for v in was - will) == goes
    assert sorted(v for was, will in texts for v in will - was) == comes


def test_what_only_one_of_two_servers_had_is_not_asked_back() -> None:
    """At the first check one server had a record that the other one did not have, or a value more of it."""
    there = BASE + WEB + '@ CAA 0 issue "tallowseal.example"\n@ TXT "extra"\n'
    agreed = BASE + WEB
    lagging = [Content(RecordSet(DOMAIN, "CAA", 60, ()), START, START, "behind")]
    lagging += [each for each in contents(agreed, START, source="behind") if each.record.key == (DOMAIN, "TXT")]
    first = [*contents(there, START), *contents(there, START, source="survey")]

    def lost(now: str, *disputed: Content) -> list[str]:
        gone = Content(RecordSet(DOMAIN, "CAA", 60, ()), START + 60, START + 60, "zone")
        made = case(now, history=[*first, *disputed, *contents(now, START + 60), gone])
        return sorted({loss.before.type for loss in losses(made, job(made))})

    assert lost(agreed) == ["CAA", "TXT"], "both servers had it"
    assert lost(agreed, *lagging) == []
    assert lost(agreed.replace('"v=spf1 mx -all"', '"x"'), *lagging) == ["TXT"], "the value that both had"


def spf_at(made: Case) -> list[str]:
    after = applied(made.zone, make_plan(made).work)
    texts = ["".join(strings(value)) for value in after.values(DOMAIN, "TXT")]
    assert "spf-twice" not in said(replace(made, zone=after))
    return [text for text in texts if text.startswith("v=spf1")]


MAILS = BriefRecord("TXT", ("v=spf1 include:send.bricklark.example -all",), "@", purpose="mail authentication")
POLICY = BriefRecord("TXT", ("v=DMARC1; p=none",), "_dmarc", purpose="mail authentication")


@pytest.mark.parametrize(
    ("text", "further", "expected"),
    [
        (BASE.replace("mx -all", "a mx -all") + "@ A 198.51.100.7", (), "v=spf1 ip4:198.51.100.7 mx -all"),
        (BASE, (MAILS,), "v=spf1 mx include:send.bricklark.example -all"),
        (BASE + '@ TXT "v=spf1 include:post.example ~all"', (), "v=spf1 include:post.example mx ~all"),
        (BASE.replace('@ TXT "v=spf1 mx -all"', ""), (MAILS,), "v=spf1 include:send.bricklark.example -all"),
        (BASE + "@ A 198.51.100.7", (), "v=spf1 mx -all"),
    ],
    ids=["names the website", "the brief has one too", "two of them", "none yet", "well as it is"],
)
def test_one_spf_text_is_among_the_records_to_enter(text: str, further: tuple[BriefRecord, ...], expected: str) -> None:
    made = case(text, brief=replace(BRIEF, further=further))
    assert spf_at(made) == [expected]
    act = stands(made, confirmed={"claim": START}).act_of("enter")
    assert isinstance(act, Enter)
    changes = {each.value for each in (*act.delete, *act.enter) if "v=spf1" in each.value}
    assert bool(changes) == (f'"{expected}"' not in made.zone.values(DOMAIN, "TXT"))
    done = replace(made, zone=applied(made.zone, make_plan(made).work))
    assert not [change for change in make_plan(done).work if change.type == "TXT"]


def test_the_owners_own_policy_is_never_doubled() -> None:
    own = case(
        BASE + '_dmarc TXT "v=DMARC1; p=reject; rua=mailto:a@b.example"', brief=replace(BRIEF, further=(POLICY,))
    )
    assert not [change for change in make_plan(own).work if change.name.startswith("_dmarc")]
    slip = case(BASE + '_dmarc TXT "v=DMARC1; p=nome"', brief=replace(BRIEF, further=(POLICY,)))
    (change,) = [change for change in make_plan(slip).work if change.name.startswith("_dmarc")]
    assert change.values == ('"v=DMARC1; p=none"',)


def test_mail_at_an_apex_that_is_to_be_forwarded_stops_the_plan() -> None:
    """RFC 5321 section 5.1: it would go to the forwarding service."""
    made = case(BASE.replace("mx1.mossgate.example.", f"{DOMAIN}") + "@ A 198.51.100.25")
    made = replace(made, wanted=replace(made.wanted, forwarded=(DOMAIN,), wants=made.wanted.wants[1:]))
    assert "mail-left-behind" in {finding.code for finding in make_plan(made).blockers}
    assert stands(made).step is not None
    assert stands(made).exit == 3


@pytest.mark.parametrize(
    ("text", "code", "words", "absent"),
    [
        (RIGHT + "@ HTTPS 1 . alpn=h2", "service-binding-elsewhere", "browsers use https before", "go where it says"),
        (RIGHT + "@ HTTPS 1 old.example.", "service-binding-elsewhere", "go where it says", "use https before"),
        (BASE + "a CNAME gone." + DOMAIN, "dangling-target", "a name of your own", "anyone who registers"),
        (BASE + "a CNAME gone.example.", "dangling-target", "anyone who registers", "of your own"),
        (BASE, "proof-missing", "keep the other TXT values there", "other CNAME"),
    ],
)
def test_words_say_what_is_true_of_this_entry(text: str, code: str, words: str, absent: str) -> None:
    made = case(text)
    (message,) = said(replace(made, survey=with_dangling(made)))[code]
    assert words in message
    assert absent not in message


def with_dangling(made: Case) -> Any:
    return replace(survey(made, START), dangling=("gone.example.", f"gone.{DOMAIN}"))


def test_an_unfinished_target_is_not_also_said_to_dangle() -> None:
    made = case(BASE + f"www CNAME {TARGET}{DOMAIN}")
    seen = replace(survey(made, START), dangling=(f"{TARGET}{DOMAIN}",))
    assert "dangling-target" not in said(replace(made, survey=seen))


def test_www_by_way_of_the_apex_leads_nobody_astray() -> None:
    assert "address-elsewhere" not in said(case(BASE + WEB + f"www CNAME {DOMAIN}"))
    assert "address-elsewhere" in said(case(BASE + f"@ A 198.51.100.99\nwww CNAME {DOMAIN}"))
    assert "address-elsewhere" in said(case(BASE + WEB + "www CNAME old.example."))


def test_what_stood_there_before_is_elsewhere_and_no_near_miss() -> None:
    """An old alias one letter from the wanted one was not typed for it."""
    text = BASE + "www CNAME site-20871.edge.bricklark.example."
    first = case(text, history=contents(text, START))
    assert {"near-miss", "address-elsewhere"} & set(said(first)) == {"address-elsewhere"}
    typed = case(text, history=[*contents(BASE, START), *contents(text, START + 60)])
    assert {"near-miss", "address-elsewhere"} & set(said(typed)) == {"near-miss"}


def test_an_address_that_the_brief_itself_asks_for_is_not_private() -> None:
    brief = replace(BRIEF, apex=(replace(BRIEF.apex[0], values=("10.0.0.5",)),))
    assert "private-address" not in said(case(BASE + "@ A 10.0.0.5", brief=brief))
    assert "private-address" in said(case(BASE + "@ A 10.0.0.6", brief=brief))


def test_an_export_that_no_zone_may_hold_is_read_with_its_findings() -> None:
    text = (
        f"$ORIGIN {DOMAIN}\n$TTL 60\n@ SOA a. b. 1 2 3 4 5\nb CNAME x.example.\nb CNAME y.example.\n"
        'c CNAME x.example.\nc TXT "two  spaces   stay"\n'
    )
    read = read_export(text, DOMAIN, "zone.txt")
    assert read.values(f"b.{DOMAIN}", "CNAME") == ("x.example.", "y.example.")
    assert read.values(f"c.{DOMAIN}", "TXT") == ('"two  spaces   stay"',)
    codes = {f.code for f in findings(Case(case(BASE).wanted, read))}
    assert {"cname-twice", "cname-not-alone"} <= codes


@pytest.mark.parametrize(
    "line", ["$GENERATE 1-4000000000 h$ A 192.0.2.1", " $generate 1-2 h$ A 192.0.2.1", "$INCLUDE x"]
)
def test_directives_that_could_stand_for_anything_are_refused(line: str) -> None:
    with pytest.raises(BadInput) as refused:
        read_export(f"$ORIGIN {DOMAIN}\n$TTL 60\n{line}\n", DOMAIN, "zone.txt")
    assert refused.value.problems[0].line == 3


def test_many_rows_of_one_name_take_linear_time() -> None:
    """No value is compared with all the others; counted, because a busy machine says nothing by its clock."""
    compared = 0

    class Counted(str):
        __slots__ = ()
        __hash__ = str.__hash__

        def __eq__(self, other: object) -> bool:
            nonlocal compared
            compared += 1
            return str.__eq__(self, other)

    rows = [RecordSet(DOMAIN, "TXT", 60, (Counted(f'"{at % 900}"'),)) for at in range(1800)]
    assert len(Zone.of(DOMAIN, rows).values(DOMAIN, "TXT")) == 900
    assert compared <= 4 * len(rows)
