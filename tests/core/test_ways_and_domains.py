"""Which way is taken and why; steps outside the DNS host's form; several domains of one site as one assessment."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from homepath.core.dns.records import RecordSet
from homepath.core.model.acts import BuilderStep, Decide, Enter, Forward
from homepath.core.model.brief import Brief, BriefRecord, Notation
from homepath.core.model.evidence import EdgeSeen, Evidence
from homepath.core.model.steps import Assessment
from homepath.core.model.visits import Certificate, Hop, Hsts, Visit, Way, read_hsts
from homepath.core.site.choices import Present, choose
from homepath.core.web.known import HstsSeen, hsts_in_force, hsts_of, hsts_seen
from homepath.core.wording.say import say
from tests.core.cases import (
    ADDRESSES,
    BASE,
    BRIEF,
    DOMAIN,
    PARKING,
    RIGHT,
    SITE,
    START,
    TARGET,
    case,
    for_primary,
    stands,
    survey,
    zone,
)

H = 3600.0
WWW = f"www.{DOMAIN}"
URL = "https://www.tidewick-kiln.example/"
NO_APEX = replace(BRIEF, apex=())
ALIAS_ONLY = replace(NO_APEX, apex_alias=TARGET)
FORWARDS = replace(PARKING, forwarding=True, forwarding_addresses=("198.51.100.9",))
SECURE = replace(FORWARDS, forwarding_https=True)
PROXY = replace(PARKING, proxy=True)


@pytest.mark.parametrize(
    ("brief", "notation", "site", "way"),
    [
        (BRIEF, PARKING, SITE, "records"),
        (NO_APEX, FORWARDS, SITE, "forwarding"),
        (NO_APEX, SECURE, SITE, "forwarding"),
        (NO_APEX, PROXY, SITE, "proxy"),
        (NO_APEX, replace(SECURE, proxy=True), SITE, "forwarding"),  # forwarding with https is less work
        (NO_APEX, replace(FORWARDS, proxy=True), SITE, "proxy"),
        (NO_APEX, replace(SECURE, proxy=True), replace(SITE, redirect="proxy"), "proxy"),
        (NO_APEX, SECURE, replace(SITE, own_server=("203.0.113.7",)), "forwarding"),
        (NO_APEX, FORWARDS, replace(SITE, own_server=("203.0.113.7",)), "own-server"),
        (NO_APEX, PROXY, replace(SITE, own_server=("203.0.113.7",)), "own-server"),
        (NO_APEX, PROXY, replace(SITE, own_server=("203.0.113.7",), redirect="proxy"), "proxy"),
        (NO_APEX, PARKING, SITE, "none"),
        (NO_APEX, SECURE, for_primary("apex"), "none"),
        (NO_APEX, PARKING, for_primary("shop"), "records"),
        (ALIAS_ONLY, replace(PARKING, apex_alias="ALIAS"), for_primary("apex"), "alias"),
        (ALIAS_ONLY, PARKING, for_primary("apex"), "none"),
        (replace(NO_APEX, redirect_records=(BriefRecord("A", ("192.0.2.44",)),)), PARKING, SITE, "records"),
    ],
)
def test_where_the_apex_gets_its_answer(brief: Brief, notation: Notation, site: Any, way: str) -> None:
    found = choose(site, brief, notation, None)
    assert found.apex == way
    if way == "forwarding":
        assert ("only http" in " ".join(map(say, found.reasons))) == (not notation.forwarding_https)


def test_the_route_is_advised_with_reasons_and_can_be_overruled() -> None:
    both = replace(BRIEF, nameservers=("ns1.bricklark.example.",))
    full = zone(BASE + "a A 192.0.2.1\nb A 192.0.2.1\nc A 192.0.2.1")
    found = choose(SITE, both, PARKING, Present(full, True))
    words = " ".join(map(say, found.reasons))
    assert (found.route, found.open) == ("records", ("nameservers",))
    assert all(part in words for part in ("Mail is in use", "is signed", "3 more names", "undo it at any time"))
    bare = choose(SITE, both, PARKING, Present(zone("@ A 192.0.2.1\na A 192.0.2.1\nb A 192.0.2.1")))
    assert not any(part in " ".join(map(say, bare.reasons)) for part in ("Mail", "signed", "more names"))
    assert choose(replace(SITE, route="nameservers"), both, PARKING, None).open == ("records",)
    only = choose(SITE, replace(NO_APEX, nameservers=both.nameservers), PARKING, None)
    assert (only.route, only.open) == ("nameservers", ())
    assert choose(SITE, BRIEF, PARKING, Present(full)).open == ()


def test_addresses_instead_of_an_alias_and_the_other_proof() -> None:
    by_address = replace(BRIEF, www_by_address=BRIEF.apex)
    assert not choose(SITE, by_address, PARKING, None).by_address
    assert choose(SITE, by_address, replace(PARKING, lacks=("CNAME",)), None).by_address
    assert choose(SITE, by_address, PARKING, Present(zone(BASE + 'www TXT "x"'))).by_address
    assert not choose(SITE, by_address, PARKING, Present(zone(BASE + "www A 192.0.2.1"))).by_address
    assert not choose(SITE, BRIEF, replace(PARKING, lacks=("CNAME",)), None).by_address
    two = replace(BRIEF, ownership=(*BRIEF.ownership, BriefRecord("CNAME", ("v.bricklark.example.",), "verify")))
    assert choose(SITE, two, PARKING, None).ownership == BRIEF.ownership[0]
    other = choose(SITE, two, replace(PARKING, lacks=("TXT",)), None)
    assert (other.ownership, bool(other.reasons)) == (two.ownership[1], True)
    assert choose(replace(SITE, ownership="CNAME"), two, PARKING, None).ownership == two.ownership[1]
    assert choose(SITE, replace(two, ownership=()), PARKING, None).ownership is None


def forwarded(text: str, notation: Notation = FORWARDS, **more: Any) -> Assessment:
    return stands(case(text, brief=NO_APEX, notation=notation), confirmed={"claim": START}, **more)


def way(url: str, state: str = "arrived", status: int = 200) -> Way:
    good = Certificate("good", True, (), "x", None)
    return Way(url, URL, state, (Hop(url, status, None, ADDRESSES[0], "", good),), good)  # type: ignore[arg-type]


def a_visit(*ways: Way, at: float = START + H, verdict: str = "arrived") -> Visit:
    return Visit(DOMAIN, at, URL, verdict, ways, ())  # type: ignore[arg-type]


def test_a_name_that_the_host_forwards_has_a_step_of_its_own() -> None:
    done = RIGHT.replace("\n".join(f"@ A {a}" for a in ADDRESSES), "@ A 198.51.100.7")
    found = forwarded(done)
    step = f"forward:{DOMAIN[:-1]}"
    assert found.act == Forward(DOMAIN, URL)
    assert found.step is not None
    assert found.step.id == step
    entered = forwarded(done.replace("@ A 198.51.100.7", "@ A 198.51.100.9"))
    state = entered.find(step)
    assert state is not None
    assert (state.state, state.by) == ("done", "seen")
    unknown = replace(FORWARDS, forwarding_addresses=())
    told = stands(case(done, brief=NO_APEX, notation=unknown), confirmed={"claim": START, step: START})
    assert [s.state for s in told.steps if s.id == step] == ["done"]
    arrived = forwarded(done, now=START + 2 * H, visit=a_visit(way(f"https://{DOMAIN[:-1]}/"), way(URL)))
    assert [s.state for s in arrived.steps if s.id == step] == ["done"]
    broken = a_visit(way(f"https://{DOMAIN[:-1]}/", "no-answer"), way(URL), verdict="broken")
    assert forwarded(done, now=START + 2 * H, visit=broken).act == Forward(DOMAIN, URL)


def test_a_redirect_at_a_server_of_ones_own_is_seen_or_told() -> None:
    site = replace(SITE, own_server=("203.0.113.7",))
    text = RIGHT.replace("\n".join(f"@ A {a}" for a in ADDRESSES), "@ A 203.0.113.7")
    made = case(text, site=site, brief=NO_APEX)
    found = stands(made, confirmed={"claim": START})
    assert (found.step and found.step.kind, type(found.act)) == ("redirect", BuilderStep)
    told = stands(made, confirmed={"claim": START, "redirect": START})
    assert [s.state for s in told.steps if s.kind == "redirect"] == ["done"]
    leads = a_visit(way(f"http://{DOMAIN[:-1]}/"), way(f"https://{DOMAIN[:-1]}/"), way(URL))
    seen = stands(made, START + 2 * H, visit=leads)
    assert [(s.state, s.by) for s in seen.steps if s.kind == "redirect"] == [("done", "seen")]
    fails = a_visit(way(f"http://{DOMAIN[:-1]}/", "no-answer"), way(URL), verdict="broken")
    assert [s.state for s in stands(made, START + 2 * H, visit=fails).steps if s.kind == "redirect"] != ["done"]


def test_questions_name_what_is_lost_and_how_a_program_answers() -> None:
    site = replace(SITE, keep=("www CNAME",))
    found = stands(case(RIGHT.replace(TARGET, "old.example."), site=site), confirmed={"claim": START})
    assert isinstance(found.act, Decide)
    assert found.act.choices[0].then == ("next", "--decide", "unprotect:www CNAME")
    assert [entry.value for entry in found.act.choices[0].loses] == ["old.example."]
    two = replace(BRIEF, ownership=(replace(BRIEF.ownership[0], host="old"), BriefRecord("CNAME", ("v.x.",), "verify")))
    proof = stands(case(RIGHT + "old CNAME x.example.", brief=two), confirmed={"claim": START})
    assert isinstance(proof.act, Decide)
    assert proof.act.choices[0].then == ("next", "--decide", "ownership:CNAME")
    nowhere = stands(case(BASE, site=for_primary("apex"), brief=NO_APEX), confirmed={"claim": START})
    assert isinstance(nowhere.act, BuilderStep)
    servers = replace(SITE, primary="apex", route="records")
    handed = case(BASE, site=servers, brief=replace(NO_APEX, nameservers=("ns1.bricklark.example.",)))
    question = stands(handed, confirmed={"claim": START}).act
    assert isinstance(question, Decide)
    assert ("next", "--decide", "route:nameservers") in [choice.then for choice in question.choices]


# several domains

POTS = "tidewick-pots.example."


def further(text: str, **more: Any) -> Assessment:
    site = replace(SITE, domain=POTS[:-1], leads_to=WWW)
    made = case("", site=site)
    here = zone(text.replace(DOMAIN, POTS), POTS)
    return stands(replace(made, zone=here, survey=survey(replace(made, zone=here), START)), **more)


# what is known


def test_hsts_binds_its_own_name_and_those_below_only_if_it_says_so() -> None:
    seen = [
        HstsSeen(
            0.0, ((DOMAIN[:-1], "max-age=100; includeSubDomains"), ("bad..name", "max-age=9"), ("x.example", "no"))
        ),
        HstsSeen(10.0, ((WWW[:-1], "max-age=50"),)),
    ]
    assert set(hsts_in_force(seen, 50.0)) == {DOMAIN, WWW}
    assert set(hsts_in_force(seen, 60.0)) == {DOMAIN}
    assert hsts_in_force(seen, 100.0) == {}
    below, plain = Hsts(100, True), Hsts(50)
    assert hsts_of([WWW], {DOMAIN: below}) == {WWW: below}
    assert hsts_of([WWW], {DOMAIN: plain}) == {}
    assert hsts_of([WWW, DOMAIN], {DOMAIN: plain, WWW: below}) == {WWW: below, DOMAIN: plain}
    sent = replace(way(URL), hops=(replace(way(URL).hops[0], hsts="max-age=9"),))
    assert hsts_seen(a_visit(sent)) == HstsSeen(START + H, ((WWW[:-1], "max-age=9"),))
    assert hsts_seen(a_visit(way(URL))) is None
    assert read_hsts("max-age=9") == Hsts(9)


def test_an_alias_at_the_apex_shows_as_its_targets_addresses() -> None:
    site, notation = for_primary("apex"), replace(PARKING, apex_alias="ALIAS")
    outside = f"{TARGET} A 192.0.2.10\n{TARGET} A 192.0.2.44"
    made = case(BASE + "@ A 198.51.100.7", site=site, brief=ALIAS_ONLY, notation=notation, outside=outside)
    act = stands(made, confirmed={"claim": START}).act
    assert isinstance(act, Enter)
    assert [(e.type, e.value) for e in act.enter if e.name == DOMAIN and e.type != "TXT"] == [("ALIAS", TARGET)]
    flat = RIGHT.replace("\n".join(f"@ A {a}" for a in ADDRESSES), "@ A 192.0.2.10\n@ A 192.0.2.44")
    right = case(flat, site=site, brief=ALIAS_ONLY, notation=notation, outside=outside)
    assert stands(right, confirmed={"claim": START}).act_of("enter") is None
    half = case(flat.replace("@ A 192.0.2.44", ""), site=site, brief=ALIAS_ONLY, notation=notation, outside=outside)
    assert isinstance(stands(half, confirmed={"claim": START}).act_of("enter"), Enter)
    assert Evidence(edge=EdgeSeen(0, None)).edge == EdgeSeen(0, None)
    assert RecordSet(DOMAIN, "A", 0, ("b", "a", "a")).values == ("a", "b")
