"""Where a domain stands: tables of what is seen, told and awaited, and properties that hold of every assessment."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from homepath.core.dns.records import RecordSet
from homepath.core.findings.registry import kind_of
from homepath.core.model.acts import BuilderStep, CheckAgain, Decide, Enter, HttpsOnly, Nothing, TellBuilder, Wait
from homepath.core.model.evidence import BUILDER_SAYS, Content, EdgeSeen, noted
from homepath.core.model.findings import Finding
from homepath.core.model.steps import Assessment
from homepath.core.model.survey import Reading, RecordSpread, Spread
from homepath.core.model.visits import Certificate, Hop, Hsts, Visit, Way
from homepath.core.plan.plan import applied, changes_of
from homepath.core.site.case import Case, Neighbour
from homepath.core.wording.say import say
from homepath.core.wording.words import sentence, stage
from tests.core.cases import ADDRESSES, BASE, DOMAIN, RIGHT, START, TARGET, case, contents_of_zone, stands, survey, zone

H = 3600.0
WWW = f"www.{DOMAIN}"
PARKED = BASE + "@ A 198.51.100.7"
IN_USE = BASE + "@ 43200 A 198.51.100.99\nwww 43200 A 198.51.100.99"
TOLD = {"claim": START}
URL = f"https://{WWW}/".replace("./", "/")
GOOD = Certificate("good", True, (WWW,), "x", START + 90 * 86400)


def visit(at: float, verdict: str, *codes: str, state: str = "arrived") -> Visit:
    certificate = GOOD if "certificate-pending" not in codes else replace(GOOD, state="default")
    way = Way(URL, URL, state, (Hop(URL, 200, None, ADDRESSES[0], "", certificate),), certificate)  # type: ignore[arg-type]
    findings = tuple(Finding(code, "risk", WWW, "", f"seen {code}", f"cure {code}", "x") for code in codes)
    return Visit(DOMAIN, at, URL, verdict, (way,), findings)  # type: ignore[arg-type]


def later(before: str, after: str, at: float) -> Case:
    """A zone that was seen as `before` at the start and as `after` from `at` on."""
    made = case(after)
    history = [*contents_of_zone(case(before), START)]
    gone = [RecordSet(*key, 900, ()) for key in zone(before).sets if key not in zone(after).sets]
    new = [RecordSet(*key, 900, ()) for key in zone(after).sets if key not in zone(before).sets]
    history += [Content(record, START, START) for record in new]
    seen = noted(noted(history, at, [*made.zone, *gone], "zone"), at, made.zone, "survey")
    return replace(made, history=seen, survey=survey(made, at))


def kind(found: Assessment) -> str:
    return found.step.kind if found.step else "none"


ARRIVED = visit(START + 2 * H, "arrived")
STEPS: list[tuple[str, Case, float, dict[str, Any], str, type]] = [
    ("nobody told", case(PARKED), 0, {}, "claim", TellBuilder),
    ("told", case(PARKED), 0, {"confirmed": TOLD}, "enter", Enter),
    ("the edge knows", case(PARKED), 0, {"edge": EdgeSeen(START, True, False, START)}, "enter", Enter),
    ("the edge does not", case(PARKED), 0, {"edge": EdgeSeen(START, False)}, "claim", TellBuilder),
    ("site in use", case(IN_USE), 0, {"confirmed": TOLD}, "lower-ttl", Enter),
    ("lowered", later(IN_USE, IN_USE.replace("43200", "300"), START + H), H, {"confirmed": TOLD}, "wait-ttl", Wait),
    ("waited", later(IN_USE, IN_USE.replace("43200", "300"), START + H), 14 * H, {"confirmed": TOLD}, "enter", Enter),
    ("entered", later(PARKED, RIGHT, START + H), H + 1, {"confirmed": TOLD}, "spread", Wait),
    ("forgotten", later(PARKED, RIGHT, START + H), 3 * H, {"confirmed": TOLD}, "check-again", CheckAgain),
    (
        "unaware",
        later(PARKED, RIGHT, START + H),
        3 * H,
        {"confirmed": TOLD, "visit": visit(START + 2 * H, "waiting", "builder-unaware", state="waiting")},
        "check-again",
        CheckAgain,
    ),
    (
        "pressed",
        later(PARKED, RIGHT, START + H),
        3 * H,
        {
            "confirmed": {**TOLD, "check-again": START + 3 * H},
            "visit": visit(START + 3 * H, "waiting", "builder-unaware", state="waiting"),
        },
        "check-again",
        Wait,
    ),
    (
        "no padlock",
        later(PARKED, RIGHT, START + H),
        3 * H,
        {"visit": visit(START + 2 * H, "waiting", "certificate-pending", state="waiting")},
        "certificate",
        Wait,
    ),
    (
        "http stays",
        later(PARKED, RIGHT, START + H),
        3 * H,
        {"visit": visit(START + 2 * H, "broken", "https-not-enforced", state="wrong-destination")},
        "https-only",
        HttpsOnly,
    ),
    (
        "goes round",
        later(PARKED, RIGHT, START + H),
        H + 60,
        {"visit": visit(START + H + 30, "broken", "redirect-loop", state="loop")},
        "visit",
        BuilderStep,
    ),
    ("arrived", later(PARKED, RIGHT, START + H), 3 * H, {"visit": ARRIVED}, "none", Nothing),
    ("in caches yet", later(PARKED, RIGHT, START + H), 1.5 * H, {"visit": ARRIVED}, "spread", Wait),
]


def test_a_finished_certificate_stays_so_when_another_way_is_chosen() -> None:
    """Nothing was seen to go: only what is wanted changed."""
    arrived = replace(ARRIVED, certified=(WWW,))
    made = later(PARKED, RIGHT, START + H)
    before = stands(made, START + 3 * H, visit=arrived)
    other = replace(
        made,
        wanted=replace(
            made.wanted,
            wants=(
                *made.wanted.wants,
                replace(made.wanted.wants[0], record=RecordSet(f"new.{DOMAIN}", "A", 60, ADDRESSES)),
            ),
        ),
    )
    found = stands(other, START + 3 * H, visit=arrived, remembered=before.steps)
    step = found.find("certificate")
    assert step is not None
    assert step.state == "done"


@pytest.mark.parametrize(
    ("made", "after", "more", "expected", "act"), [row[1:] for row in STEPS], ids=[row[0] for row in STEPS]
)
def test_the_step_that_is_now(made: Case, after: float, more: dict[str, Any], expected: str, act: type) -> None:
    found = stands(made, START + after, **more)
    assert (kind(found), type(found.act)) == (expected, act), found.steps
    assert sentence(found)
    assert (stage(found) == "arrived") == (act is Nothing)


def test_a_site_in_use_is_lowered_waited_for_entered_low_and_raised_again() -> None:
    """The time already served counts: from when the journal saw the TTL lowered."""
    first = stands(case(IN_USE), confirmed=TOLD)
    assert isinstance(first.act, Enter)
    assert {(e.name, e.ttl) for e in first.act.enter} == {(DOMAIN, 300), (WWW, 300)}
    assert {e.value for e in first.act.delete} == {e.value for e in first.act.enter} == {"198.51.100.99"}
    lowered = later(IN_USE, IN_USE.replace("43200", "300"), START + H)
    wait = stands(lowered, START + 2 * H, confirmed=TOLD).act
    assert wait == Wait(START + H + 43200, "caches")
    enter = stands(lowered, START + H + 43200, confirmed=TOLD).act
    assert isinstance(enter, Enter)
    assert {e.ttl for e in enter.enter if e.type in ("A", "CNAME")} == {300}
    low = "\n".join(f"@ 300 A {a}" for a in ADDRESSES) + f'\nwww 300 CNAME {TARGET}\n@ TXT "bricklark-owner=tk-4471"'
    done = later(IN_USE, BASE + low, START + H)
    raised = stands(done, START + 20 * H, visit=visit(START + 19 * H, "arrived"))
    assert kind(raised) == "raise-ttl"
    assert isinstance(raised.act, Enter)
    assert {e.ttl for e in raised.act.enter} == {3600}
    assert {e.value for e in raised.act.delete} == {e.value for e in raised.act.enter} == {*ADDRESSES, TARGET}
    early = stands(done, START + 2 * H, confirmed=TOLD)
    assert [s.state for s in early.steps if s.kind in ("lower-ttl", "wait-ttl")] == ["left-out", "left-out"]


def test_a_change_that_was_meant_is_told_once() -> None:
    made = later(RIGHT, RIGHT.replace("mx1.mossgate", "mx9.fernhollow"), START + H)
    assert kind(stands(made, START + 5 * H)) == "put-back"
    accepted = replace(made.wanted, accepted={(DOMAIN, "MX"): ("10 mx9.fernhollow.example.",)})
    assert kind(stands(replace(made, wanted=accepted), START + 5 * H)) != "put-back"


TWO_POLICIES = RIGHT + '\n@ TXT "v=spf1 include:post.fernhollow.example ~all"'
ONE_POLICY = RIGHT.replace('"v=spf1 mx -all"', '"v=spf1 mx include:post.fernhollow.example -all"')
DOTLESS = RIGHT.replace("10 mx1.mossgate.example.", "10 mx1.mossgate.example.tidewick-kiln.example.")
NOTE = "\n@ TYPE65534 \\# 5 0d00010000"


@pytest.mark.parametrize(
    ("before", "after"),
    [
        (TWO_POLICIES, ONE_POLICY),
        (TWO_POLICIES, RIGHT),
        (DOTLESS, RIGHT),
        (RIGHT + "\nshop DNAME old.fernhollow.example.", RIGHT),
        (RIGHT + NOTE + "\n@ CDS 1 13 2 abcd\n@ DNSKEY 257 3 13 abcd\n@ NSEC3PARAM 1 0 0 -", RIGHT),
    ],
    ids=["joined", "deleted", "final dot", "dname", "written by the server"],
)
def test_what_was_cured_is_not_wanted_back(before: str, after: str) -> None:
    made = later(before, after, START + H)
    made = replace(made, wanted=replace(made.wanted, purposes={(f"shop.{DOMAIN}", "DNAME"): "website"}))
    assert "put-back" not in [step.kind for step in stands(made, START + 5 * H).steps]


def test_what_another_folder_wants_is_never_wanted_back() -> None:
    proof = RecordSet(DOMAIN, "TXT", 60, ('"fernhollow-garden=x"',))
    shop = RecordSet(f"shop.{DOMAIN}", "CNAME", 60, ("pages.fernhollow.example.",))
    before = RIGHT + '\n@ TXT "fernhollow-garden=x"\nshop CNAME pages.fernhollow.example.'
    made = later(before, RIGHT, START + H)
    assert kind(stands(made, START + 5 * H)) == "put-back"
    made = replace(made, neighbours=(Neighbour("/sites/two", (proof, shop)),))
    assert "put-back" not in [step.kind for step in stands(made, START + 5 * H).steps]
    gone = later(before, RIGHT.replace("@ MX 10 mx1.mossgate.example.\n", ""), START + H)
    found = stands(replace(gone, neighbours=made.neighbours), START + 5 * H)
    assert isinstance(found.act, Enter)
    assert [each.type for each in found.act.enter] == ["MX"]


def test_of_two_faulty_texts_that_are_both_gone_one_is_wanted_back() -> None:
    gone = RIGHT.replace('@ TXT "v=spf1 mx -all"\n', "")
    found = stands(later(TWO_POLICIES, gone, START + H), START + 5 * H)
    assert kind(found) == "put-back"
    assert isinstance(found.act, Enter)
    assert len(found.act.enter) == 1


def test_what_comes_and_goes_by_itself_is_not_guarded() -> None:
    noise = '\n_acme-challenge TXT "abc"\nwww.tidewick-kiln.example.tidewick-kiln.example. A 192.0.2.10\n* A 192.0.2.9'
    assert "put-back" not in [s.kind for s in stands(later(RIGHT + noise, RIGHT, START + H), START + 2 * H).steps]
    more = later(RIGHT, RIGHT + '\n@ TXT "another-service=1"\nwiki A 192.0.2.77', START + H)
    assert "put-back" not in [s.kind for s in stands(more, START + 2 * H).steps]


def test_a_record_that_is_lost_again_is_undone_and_mended() -> None:
    made = later(PARKED, RIGHT, START + H)
    before = stands(made, START + 3 * H, visit=ARRIVED)
    assert before.arrived
    broken = case(RIGHT.replace("@ A 192.0.2.44\n", ""))
    history = noted(made.history, START + 5 * H, broken.zone, "zone")
    broken = replace(broken, history=history, survey=survey(broken, START + 5 * H))
    found = stands(broken, START + 5 * H, remembered=before.steps)
    assert kind(found) == "mend"
    enter = found.find("enter")
    assert enter is not None
    assert (enter.state, enter.since) == ("undone", START + 5 * H)
    assert isinstance(found.act, Enter)
    assert [e.value for e in found.act.enter] == ["192.0.2.44"]
    right = case(RIGHT)
    right = replace(
        right, history=noted(history, START + 6 * H, right.zone, "zone"), survey=survey(right, START + 6 * H)
    )
    mended = stands(right, START + 6 * H, remembered=found.steps)
    states = {step.kind: step.state for step in mended.steps}
    assert (states["enter"], states["mend"]) == ("done", "done")
    since = mended.find("enter")
    assert since is not None
    assert since.since == START + 6 * H


def test_a_word_counts_only_where_nothing_can_be_seen() -> None:
    found = stands(case(PARKED), confirmed={**TOLD, "enter": START})
    assert kind(found) == "enter"
    assert found.step is not None
    assert "do not show it yet" in say(found.step.why)


def test_hsts_of_the_old_site_is_asked_about_before_the_change() -> None:
    made = case(IN_USE, hsts={WWW: Hsts(31536000)})
    found = stands(made, confirmed=TOLD)
    assert (kind(found), type(found.act)) == ("take-back-hsts", Decide)
    assert kind(stands(made, confirmed={**TOLD, "take-back-hsts": START})) == "lower-ttl"
    assert kind(stands(made, confirmed=TOLD, edge=EdgeSeen(START, True, True, START))) == "lower-ttl"


def test_a_spread_that_splits_is_waited_for_and_then_told() -> None:
    made = later(PARKED, RIGHT, START + H)
    split = Spread(DOMAIN, START + H, "split", None, ())
    assert stands(made, START + H, confirmed=TOLD, spread=split).act == Wait(START + H + 600, "caches")
    assert stands(made, START + H + 700, confirmed=TOLD, spread=split).act == Wait(START + H + 7200, "caches")
    assert isinstance(stands(made, START + 4 * H, confirmed=TOLD, spread=split).act, BuilderStep)


_LINES = st.sampled_from(
    [
        *(f"@ A {address}" for address in (*ADDRESSES, "198.51.100.7", "192.0.2.24")),
        *(f"www CNAME {target}" for target in (TARGET, TARGET + DOMAIN, "parking.mossgate.example.")),
        *('@ TXT "bricklark-owner=tk-4471"', "www A 192.0.2.10", "@ AAAA 2001:db8::9", "mail A 192.0.2.99"),
        *("@ 86400 A 198.51.100.99", '@ CAA 0 issue "x.example"', "www HTTPS 1 old.example."),
    ]
)


@given(st.lists(_LINES, max_size=6), st.lists(_LINES, max_size=6), st.booleans(), st.floats(0, 40 * H))
@settings(max_examples=150, deadline=None)
def test_every_assessment_has_one_step_now_and_its_entries_lead_to_what_is_wanted(
    before: list[str], after: list[str], told: bool, passed: float
) -> None:
    made = later(BASE + "\n".join(before), BASE + "\n".join(after), START + H)
    more: dict[str, Any] = {"confirmed": TOLD if told else {}}
    found = stands(made, START + H + passed, **more)
    states = [step.state for step in found.steps]
    assert states.count("now") + states.count("waiting") == (0 if found.arrived else 1)
    assert len({step.id for step in found.steps}) == len(states)
    assert all((step.number is None) == (step.state == "left-out") for step in found.steps)
    assert all((step.since is not None) == (step.state in ("done", "undone")) for step in found.steps)
    if isinstance(found.act, Wait):
        assert found.act.until > START + H + passed - 1
    again = stands(made, START + H + passed, remembered=found.steps, **more)
    assert {step.id for step in found.steps} <= {step.id for step in again.steps}
    assert found.act == again.act
    enter = found.act_of("enter")
    if isinstance(enter, Enter) and not made.wanted.protected:
        led = replace(made, zone=applied(made.zone, changes_of(made.zone, enter)))
        left = stands(led, confirmed=TOLD).act_of("enter")
        again_typed = {e.value for e in left.enter} if isinstance(left, Enter) else set()
        assert not {e.value for e in enter.enter if e.type != "CNAME"} & again_typed, left


PRESSED = START + 3 * H
UNAWARE = {"visit": visit(PRESSED, "waiting", "builder-unaware", state="waiting")}
SPREAD_OUT = later(PARKED, RIGHT, START + H)
TXT_GONE = RIGHT.replace('@ TXT "bricklark-owner=tk-4471"\n', "")
SAYS: list[tuple[str, Case, float, str, type, str]] = [
    ("the usual wait runs", SPREAD_OUT, PRESSED + H, "", Wait, ""),
    ("the usual wait is over: the owner is asked", SPREAD_OUT, PRESSED + 5 * H, "", Decide, ""),
    ("still checking", SPREAD_OUT, PRESSED + 5 * H, "checking", Wait, ""),
    ("still checking after the longest wait", SPREAD_OUT, PRESSED + 60 * H, "checking", TellBuilder, "still checking"),
    ("connected, but not served", SPREAD_OUT, PRESSED + 60 * H, "connected", TellBuilder, "shows the domain as"),
    ("its page is wrong", SPREAD_OUT, PRESSED + 5 * H, f"missing {DOMAIN} TXT", BuilderStep, "Change no record"),
    ("it asks for another record", SPREAD_OUT, PRESSED + H, f"missing {DOMAIN} MX", BuilderStep, "page"),
    (
        "its cache may hold the old answer",
        later(PARKED, RIGHT.replace(" CNAME", " 60 CNAME"), PRESSED - 60),
        PRESSED + 60,
        f"missing {DOMAIN} A",
        Wait,
        "",
    ),
]


@pytest.mark.parametrize(("made", "now", "says", "act", "words"), [row[1:] for row in SAYS], ids=[r[0] for r in SAYS])
def test_what_the_builder_shows_is_asked_and_compared(made: Case, now: float, says: str, act: type, words: str) -> None:
    told = {**TOLD, "check-again": PRESSED, **({f"{BUILDER_SAYS}{says}": now - 1} if says else {})}
    found = stands(made, now, confirmed=told, **UNAWARE)
    assert isinstance(found.act, act), (found.step, found.act)
    text = f"{say(found.step.why) if found.step else ''} {say(getattr(found.act, 'instruction', ''))}"
    assert words in text
    if isinstance(found.act, Decide):
        assert all(choice.then[:2] == ("next", "--decide") and not choice.loses for choice in found.act.choices)
        missing = [choice.then[2] for choice in found.act.choices if "missing" in choice.then[2]]
        assert "builder:missing @ TXT" in missing
    pressed = stands(made, now, confirmed={**told, "check-again": now}, **UNAWARE)  # a new check: the old word is over
    assert isinstance(pressed.act, Wait)


def test_what_the_owner_read_counts_without_a_check_pressed_and_is_the_one_cure() -> None:
    late, missing = later(PARKED, RIGHT, PRESSED - 60), f"missing {DOMAIN} A"
    for made, now, says, act, words in (
        (SPREAD_OUT, PRESSED + H, missing, BuilderStep, "Change no record"),
        (SPREAD_OUT, PRESSED + H, "connected", Wait, "shows the domain as connected"),
        (late, PRESSED + 60, missing, Wait, ""),
        (late, PRESSED + 9 * H, missing, CheckAgain, "none can any more"),
    ):
        found = stands(made, now, confirmed={**TOLD, f"{BUILDER_SAYS}{says}": PRESSED}, **UNAWARE)
        assert isinstance(found.act, act), found.act
        assert found.step is not None
        assert words in say(found.step.why)
        if found.step.kind == "check-again":
            cures = {say(each.cure) for each in found.findings if kind_of(each).builder_shows}
            instruction = say(getattr(found.act, "instruction", found.step.instruction))
            assert cures == {"Nothing to do: the builder does this automatically." if act is Wait else instruction}


def test_a_record_that_really_is_missing_is_entered() -> None:
    made = later(RIGHT, TXT_GONE, PRESSED - H)
    found = stands(made, PRESSED, confirmed={**TOLD, f"{BUILDER_SAYS}missing {DOMAIN} TXT": PRESSED - 1}, **UNAWARE)
    assert isinstance(found.act, Enter)
    assert [(each.name, each.type) for each in found.act.enter] == [(DOMAIN, "TXT")]


SITE_UP: list[tuple[str, Case, float, dict[str, Any], bool | None]] = [
    ("parked", case(PARKED), START, {}, False),
    ("entered, not visited", SPREAD_OUT, START + H + 60, {}, None),
    ("arrived", SPREAD_OUT, START + 3 * H, {"visit": ARRIVED}, True),
    ("no certificate yet", SPREAD_OUT, PRESSED, UNAWARE, False),
    ("changed since the visit", later(RIGHT, PARKED, PRESSED), PRESSED + H, {"visit": ARRIVED}, False),
]


@pytest.mark.parametrize(("made", "now", "more", "up"), [row[1:] for row in SITE_UP], ids=[row[0] for row in SITE_UP])
def test_whether_the_site_is_up(made: Case, now: float, more: dict[str, Any], up: bool | None) -> None:
    assert stands(made, now, **more).site_up is up


def test_levels_and_exit_status_come_from_the_assessment() -> None:
    slip = stands(later(PARKED, PARKED.replace("198.51.100.7", "192.0.2.45"), START + H), START + H, confirmed=TOLD)
    assert {each.code: each.level for each in slip.findings}["near-miss"] == "blocker"
    assert slip.exit == 3
    plain = stands(case(PARKED))
    assert {each.level for each in plain.findings if kind_of(each).fixed_by == "enter"} <= {"note"}
    assert (plain.exit, stands(SPREAD_OUT, START + 3 * H, visit=ARRIVED).exit) == (1, 0)
    waiting = stands(SPREAD_OUT, PRESSED + H, confirmed={**TOLD, "check-again": PRESSED}, **UNAWARE)
    assert {each.level for each in waiting.findings if each.code == "builder-unaware"} == {"note"}
    late = stands(SPREAD_OUT, PRESSED + 60 * H, confirmed={**TOLD, "check-again": PRESSED}, **UNAWARE)
    assert {each.level for each in late.findings if each.code == "builder-unaware"} == {"risk"}
    silent = RecordSpread(DOMAIN, "A", (), "unknown", None, (Reading("ns1", "authoritative", "silent", (), None, 0.0),))
    unknown = Spread(DOMAIN, PRESSED, "unknown", None, (silent,), ())
    assert stands(SPREAD_OUT, PRESSED, spread=unknown).exit == 4
    cache = Reading("cache", "resolver", "silent", (), None, 0.0)  # its silence says nothing of the domain's servers
    heard = replace(silent, readings=(replace(silent.readings[0], state="new"), cache))
    assert not stands(SPREAD_OUT, PRESSED, spread=replace(unknown, records=(heard,))).unchecked
    assert waiting.levelled(late.findings)[-1].level == "note"
