"""What a file means that says nothing, and what lies exactly at a limit: each with its neighbour beside it."""

from __future__ import annotations

from dataclasses import asdict, replace
from typing import Any

import pytest

from homepath.core.contracts.checks import survey_json
from homepath.core.dns.answers import Question, Server
from homepath.core.dns.names import parent
from homepath.core.dns.records import RecordSet, Zone
from homepath.core.dns.soa import holds_zone
from homepath.core.dns.values import BadValue, check_host_target
from homepath.core.dns.walk import MOST_QUESTIONS, Budget, Cut, LostWay, find_cut
from homepath.core.files.brief_file import read_brief
from homepath.core.files.calendar_file import Appointment, merged, uid
from homepath.core.files.site_file import read_notation, read_site
from homepath.core.findings.registry import findings as all_findings
from homepath.core.forecast.orders import situations
from homepath.core.model.acts import BuilderStep, Wait
from homepath.core.model.brief import Notation
from homepath.core.model.evidence import Content, Evidence
from homepath.core.model.forecast import Busy, Caches, Phase
from homepath.core.model.problems import BadInput
from homepath.core.model.survey import Delegation, Reading, Registration, Seen
from homepath.core.observe.merging import without_synthesised
from homepath.core.observe.names import NamesChecked, names_known
from homepath.core.observe.zone_questions import listed_before
from homepath.core.page_reader.brief_text import brief_text
from homepath.core.page_reader.judge import read_page
from homepath.core.plan.plan import make_plan
from homepath.core.propagation.habits import habits
from homepath.core.propagation.readings import read, to_watch
from homepath.core.propagation.verdicts import Past, judge, next_look
from homepath.core.web.hops import REDIRECTS, judge_pages
from homepath.core.web.markup import read_markup
from homepath.core.web.ways import CHALLENGE
from homepath.core.web.whole import Walked, judge_visit
from homepath.core.wording.say import say
from homepath.report.letter import as_csv, as_markdown, as_zone
from homepath.report.sheet_html import as_page
from tests.core.cases import BASE, BRIEF, DOMAIN, RIGHT, SITE, START, TARGET, case, sheet_jobs, stands, survey, zone
from tests.core.fake_network import NS1, said
from tests.core.test_assess import PARKED, TOLD, H, later, visit
from tests.core.test_calendar import entries
from tests.core.test_propagation import ALIAS, MEANT, OLD, WATCHED, a, answer, r, seen
from tests.core.test_walk import ROOT, drive, world
from tests.core.test_web import WWW
from tests.core.test_web_findings import DEFAULT, FINE, HOME, WANTED, U, hop
from tests.core.test_web_findings import RIGHT as KNOWN

BARE_BRIEF = 'format = "homepath.brief/1"\nbuilder = "Bricklark"\n[routes.records]\napex = []\nwww = []\n'


def not_empty(value: object) -> dict[str, Any]:
    return {key: each for key, each in asdict(value).items() if each}  # type: ignore[call-overload]


def test_a_file_that_says_nothing_claims_nothing() -> None:
    notation = read_notation('format = "homepath.notation/1"\nhost = "Mossgate"\n', "n")
    usual: dict[str, object] = {"host": "Mossgate", "apex": "@", "names": "relative"}
    usual |= {"final_dot": "tolerated", "quotes": "tolerated"}
    zone = {"existing": (), "loads_within": 3600}
    usual |= {"known": True, "complete": True, "new_zone": zone}
    assert not_empty(notation) == usual
    assert not_empty(Notation()) == {**usual, "host": "your DNS host"}
    site = read_site('format = "homepath.site/1"\ndomain = "a.example"\nprimary = "www"\nbrief = "b"\n', "s")
    wish = {"domain": "a.example", "primary": "www", "brief": "b", "route": "advise"}
    assert not_empty(site) == wish
    text = BARE_BRIEF.replace("apex = []", 'apex = [{ type = "A", values = ["192.0.2.1"] }]')
    brief = not_empty(replace(read_brief(text, "b"), apex=()))
    https = {"issuers": (), "usual_wait": 1800, "longest_wait": 172800, "wildcard": False, "issuing_days": ()}
    assert brief == {
        "builder": "Bricklark",
        "file": "b",
        "redirects_by": "unknown",
        "https": {**https, "waits_said": False},
        "new_zone": zone,
    }
    assert not_empty(Caches()) == {
        "floor": 3600,
        "stale_for": 86400,
        "busy": tuple(asdict(each) for each in (Busy(0.5, 600.0), Busy(0.3, 20.0), Busy(0.2, 1.0))),
    }
    assert Phase(0.0, {}, 60).servers_ttl == 0  # type: ignore[arg-type]


def test_a_forwarding_page_and_a_proxy_are_there_once_they_are_mentioned() -> None:
    text = 'format = "homepath.notation/1"\nhost = "Mossgate"\n'
    said = not_empty(read_notation(f"{text}[forwarding]\n", "n"))
    assert (said.get("forwarding"), said.get("forwarding_https")) == (True, None)
    assert "forwarding" not in not_empty(read_notation(f"{text}[forwarding]\navailable = false\n", "n"))
    assert not_empty(read_notation(f"{text}[forwarding]\nhttps = true\n", "n"))["forwarding_https"] is True


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


def test_what_begins_this_second_has_happened() -> None:
    gone = Appointment("spread", START, "caches have let go", "x")
    assert entries(merged(merged(None, DOMAIN, [gone], START - 60), DOMAIN, [], START))[uid("spread", DOMAIN)][2] == (
        "CONFIRMED"
    )
    first = merged(None, DOMAIN, [gone], START - 60)
    assert "DURATION:PT15M" in first
    assert entries(merged(first, DOMAIN, [], START - 1))[uid("spread", DOMAIN)][1:] == (1, "CANCELLED")
    said = merged(first, DOMAIN, [replace(gone, words="y")], START - 30)
    assert entries(said)[uid("spread", DOMAIN)][1] == 1


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


def test_a_server_holds_the_zone_only_with_authority() -> None:
    soa = RecordSet(DOMAIN, "SOA", 60, ("a. b. 1 2 3 4 5",))
    asked = Question(DOMAIN, "SOA")
    assert holds_zone([said(asked, NS1, soa)], asked.name)
    assert not holds_zone([said(asked, NS1, soa, authoritative=False)], asked.name)
    assert not holds_zone([said(asked, NS1, rcode="REFUSED")], asked.name)


def test_addresses_of_other_names_say_nothing_of_an_alias() -> None:
    other = a("192.0.2.1", name="other.example.")
    assert read(ALIAS, answer(other), "x", "authoritative").state == "absent"
    text = a('"x"', rrtype="TXT")
    assert read(ALIAS, answer(text), "x", "authoritative").state == "absent"
    six = a("2001:db8::1", rrtype="AAAA")
    assert read(ALIAS, answer(six), "x", "authoritative").state == "other"
    both = read(replace(ALIAS, old=(OLD,)), answer(replace(OLD, ttl=90), replace(six, ttl=30)), "x", "authoritative")
    assert (both.state, both.ttl) == ("old", 30)


def test_of_the_same_content_seen_twice_the_longer_time_counts() -> None:
    found = to_watch([MEANT], [OLD, replace(OLD, ttl=60), replace(OLD, ttl=9000)])
    assert [old.ttl for old in found[0].old] == [9000]
    assert found[0].first == OLD


def test_a_cache_that_forgets_early_or_late_by_the_slack_is_one_cache() -> None:
    kinds = []
    for ttl in (2397, 2396, 2403, 2404):
        found = habits(seen((1000, "old", 3000), (1600, "old", ttl)), 900.0, 4500.0, 3600, 3.0)
        kinds.append([each.kind for each in found])
    assert kinds == [[], ["several"], [], ["several"]]


def test_what_a_resolver_makes_up_is_no_old_answer() -> None:
    readings = [r("authoritative", "new"), Reading("v", "resolver", "other", ("198.51.100.9",), 60, 9000.0)]
    kind = habits([readings[1]], 900.0, 4500.0, 3600, 3.0)
    assert [each.kind for each in kind] == ["foreign"]
    named = [replace(each, vantage="v") for each in kind]
    spread = judge(WATCHED, readings, 9000.0, Past(habits=tuple(named)))
    marked = next(each for each in spread.readings if each.role == "resolver")
    assert (marked.expired, say(marked.detail)) == (True, "made up by the resolver")
    assert spread.verdict == "settled"
    stale = judge(
        WATCHED,
        [r("authoritative", "new"), replace(readings[1], state="old")],
        9000.0,
        Past(habits=(replace(named[0], kind="stale"),)),
    )
    assert next(say(e.detail) for e in stale.readings if e.expired) == "expired, but still served"


def test_one_part_without_https_is_one_and_two_are_one_and_one_more() -> None:
    part = '<img src="http://x.example/a.png">'

    def words(text: str) -> str:
        return say(judge_pages({HOME: read_markup(text, HOME)}, HOME, None, {}, text)[0].message)

    assert "more" not in words(part)
    assert "and 1 more" in words(part + part.replace("a.png", "b.png"))


def test_the_challenge_must_be_answered_where_it_is_led() -> None:
    asked = f"http://{U.split('/')[2]}{CHALLENGE}"
    no_padlock = hop(f"https://{U.split('/')[2]}/", 200, certificate=DEFAULT)

    def codes(*hops: Any) -> set[str]:
        walked = Walked({**FINE, no_padlock.url: (no_padlock,)}, {asked: hops}, {})
        return {f.code for f in judge_visit(WANTED, walked, {f"{WWW}.": KNOWN, DOMAIN: KNOWN}, START).findings}

    end = f"{HOME[:-1]}{CHALLENGE}"
    assert "challenge-astray" not in codes(hop(asked, 301, end), hop(end, 404))
    assert "challenge-astray" in codes(hop(asked, 301, end), hop(end, None))
    assert "challenge-astray" not in codes(hop(asked, None))
    assert REDIRECTS == (301, 302, 303, 307, 308)


def test_what_moves_and_what_does_not() -> None:
    assert situations(case(RIGHT), 0) == []
    moved = {each.name: each for each in situations(case(PARKED), 0)}
    assert {name: (each.old_ttl, each.new_ttl) for name, each in moved.items()} == {
        DOMAIN: (3600, 3600),
        f"www.{DOMAIN}": (None, 3600),
    }
    assert {each.servers_ttl for each in moved.values()} == {0}
    held = {each.name: each.old_ttl for each in situations(case(PARKED), 0, held=9000)}
    assert held == {DOMAIN: 9000, f"www.{DOMAIN}": None}


def test_a_padlock_that_is_overdue_is_an_act_and_no_wait() -> None:
    made = later(PARKED, RIGHT, START + H)
    pending = visit(START + 3 * H, "waiting", "certificate-pending", state="waiting")
    told = {**TOLD, "check-again": START + 3 * H}
    waits = stands(made, START + 4 * H, confirmed=told, visit=pending)
    assert isinstance(waits.act, Wait)
    late = stands(made, START + 3 * H + 172801, confirmed=told, visit=pending)
    assert isinstance(late.act, BuilderStep)
    assert late.step is not None
    assert "has been missing for 2 days" in say(late.act.instruction)
    assert "remove the domain there and add it again" in say(late.act.instruction)


def test_jobs_are_numbered_as_they_are_done() -> None:
    made = case(PARKED)
    jobs = sheet_jobs(made, Notation())
    text = as_markdown(DOMAIN, jobs, Notation())
    assert [line for line in text.splitlines() if line.startswith("## ")] == [
        f"## Change {number} of 3: {say(job.title)}" for number, job in enumerate(jobs, 1)
    ]
    page = as_page(DOMAIN, jobs, Notation())
    assert [f"Change {number} of 3" in page for number in range(5)] == [False, True, True, True, False]
    assert [row.split(",")[0] for row in as_csv(jobs).splitlines()[1:]] == ["1"] * 3 + ["2", "3"]


def test_a_page_that_sends_on_is_understood_in_any_letters() -> None:
    for content in ("0; url=/x", "0; URL=/x", "0;\nUrl = '/x'"):
        assert read_markup(f'<meta http-equiv="REFRESH" content="{content}">', HOME).refresh == (0, f"{HOME}x")
    assert read_markup('<meta http-equiv="refresh" content="0; URL=/x">', HOME).refresh == (0, f"{HOME}x")
    assert read_markup('<meta http-equiv="refresh" content="5">', HOME).refresh is None


def test_a_look_comes_within_six_hours_whatever_the_caches_hold() -> None:
    far = judge(WATCHED, [r("authoritative", "new"), r("resolver", "old", 2 * 86400)], 1000.0)
    assert next_look([far], 1000.0) == 1000.0 + 6 * 3600 + 1
    assert next_look([far], 1000.0 + 2 * 86400 - 60) == 1000.0 + 2 * 86400 + 1


@pytest.mark.parametrize("target", ["example.", "a_b.x y.example.", ".", "-a.example."])
def test_an_alias_needs_a_full_host_name(target: str) -> None:
    with pytest.raises(BadValue):
        check_host_target(target)


def test_addresses_beside_other_records_are_explained_and_only_there() -> None:
    brief = replace(BRIEF, www_by_address=(BRIEF.apex[0],))

    def reasons(text: str) -> str:
        return " ".join(map(say, case(text, brief=brief).wanted.choice.reasons))

    assert "also holds TXT" in reasons(RIGHT.replace(f"www CNAME {TARGET}", 'www TXT "note"'))
    assert "also holds" not in reasons(RIGHT.replace(f"www CNAME {TARGET}", "www A 192.0.2.1"))


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


def test_a_forwarded_name_is_one_that_is_to_be_or_that_leads_to_the_forwarding_page() -> None:
    made = case(RIGHT)
    www = f"www.{DOMAIN}"

    def forwarded(**more: Any) -> set[str]:
        here = replace(made, **more)
        looked: Any = dict.fromkeys(here.wanted.names, (("192.0.2.200",), None, None))
        return {
            n
            for n, known in names_known(here, Evidence(), NamesChecked(looked, False), START).items()
            if known.forwarded
        }

    assert forwarded() == set()
    assert forwarded(wanted=replace(made.wanted, forwarded=(DOMAIN,))) == {DOMAIN}
    page = replace(made.notation, forwarding_addresses=("192.0.2.200",))
    assert forwarded(notation=page) == {DOMAIN, www}
    assert forwarded(notation=replace(page, forwarding_addresses=("192.0.2.201",))) == set()


def test_the_delegation_is_held_against_the_parents_word() -> None:
    site, servers = replace(SITE, route="nameservers"), ("ns2.b.example.", "ns1.b.example.")
    made = case(BASE, site=site, brief=replace(BRIEF, nameservers=servers))

    def handed(*there: str, ttl: int = 21600) -> Any:
        seen = survey(made, START)
        known = replace(seen, delegation=Delegation("example.", there, ttl, False)) if there else seen
        changes = make_plan(replace(made, survey=known)).changes
        return next(change for change in changes if change.type == "NS")

    unseen, old, done = handed(), handed("ns9.old.example."), handed(*servers)
    assert (unseen.before, unseen.ttl, unseen.move) == (("ns1.mossgate.example.",), 86400, "replace")
    assert (old.before, old.ttl, old.move) == (("ns9.old.example.",), 21600, "replace")
    assert (done.values, done.move) == (("ns1.b.example.", "ns2.b.example."), "keep")
    half = replace(survey(made, START), delegation=Delegation("example.", (*servers, "ns9.old.example."), 60, False))
    every = [say(f.message) for f in all_findings(replace(made, survey=half))]
    said = [each for each in every if "are missing at the registrar" in each]
    assert said == [
        "Of Bricklark's nameservers, none are missing at the registrar. "
        "Listed there, but not Bricklark's: ns9.old.example."
    ]


def test_names_that_a_wildcard_made_up_and_names_that_only_an_export_has() -> None:
    wild = RecordSet(f"*.{DOMAIN}", "A", 60, ("192.0.2.99",))
    made_up = Seen(RecordSet(f"a.{DOMAIN}", "A", 60, ("192.0.2.99",)), ("ns1",))
    entered = Seen(RecordSet(f"b.{DOMAIN}", "A", 60, ("192.0.2.1",)), ("ns1",))
    other = Seen(RecordSet(f"c.{DOMAIN}", "TXT", 60, ('"x"',)), ("ns1",))
    exported = Seen(RecordSet(f"d.{DOMAIN}", "A", 60, ("192.0.2.99",)), ("file z",))
    right = Seen(RecordSet(f"e.{DOMAIN}", "A", 60, ("192.0.2.99",)), ("ns1",))
    seen = (made_up, entered, other, exported, right)
    found = without_synthesised(seen, [wild], DOMAIN, {f"e.{DOMAIN}"})
    assert found == (entered, other, exported, right)
    assert without_synthesised(seen, [], DOMAIN, set()) == seen


def test_servers_that_disagree_are_named_by_who_is_wrong() -> None:
    spread = judge(WATCHED, [r("authoritative", "new", vantage="fine"), r("authoritative", "old", vantage="late")], 0.0)
    assert say(spread.because).endswith("different at late")


def test_a_zone_is_written_with_its_own_name_first() -> None:
    names = [line.split()[0] for line in as_zone(zone(RIGHT + "a A 192.0.2.1")).splitlines() if line.strip()]
    assert names[0] == DOMAIN
    assert names == sorted(names, key=lambda name: (name != DOMAIN, name))
    assert "SOA" in as_zone(zone(RIGHT)).splitlines()[0]


def test_what_further_rows_of_a_page_are_for() -> None:
    text = "MX\t@\t10 mx.example\nTXT\t@\tv=spf1 include:mail.example -all\nA\tshop\t192.0.2.10\n"
    brief = read_brief(brief_text(read_page(text + "A\t@\t192.0.2.10"), "Bricklark").text, "b")
    assert {(each.type, each.host): each.purpose for each in brief.further} == {
        ("MX", "@"): "mail",
        ("TXT", "@"): "mail authentication",
        ("A", "shop"): "other",
    }


def test_surveys_ask_again_for_what_earlier_ones_listed() -> None:
    def content(name: str, rrtype: str, source: str) -> Content:
        return Content(RecordSet(name, rrtype, 60, ("x",)), 0, 0, source)  # type: ignore[arg-type]

    history = [
        content(f"wiki.{DOMAIN}", "A", "survey"),
        content(f"only.{DOMAIN}", "A", "zone"),
        content(DOMAIN, "SOA", "survey"),
        content(f"*.{DOMAIN}", "A", "survey"),
    ]
    assert listed_before(history) == [(f"wiki.{DOMAIN}", "A")]
