"""A hand-over in lists: both sides compared, what is due at the new one, the order of the steps, undo and leave."""

from __future__ import annotations

import base64
from dataclasses import replace
from typing import Any

import dns.dnssec
import dns.rdata
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from homepath.core.assess.checking import LOOK_AGAIN
from homepath.core.dns.answers import Answer, Question, Server, Trouble, Unanswered
from homepath.core.dns.ds import ds_of, ds_to_set, fits
from homepath.core.dns.records import RecordSet, Zone
from homepath.core.dns.walk import Cut
from homepath.core.files.exports import read_master_file
from homepath.core.forecast.orders import horizon, left_behind, together, too_early
from homepath.core.forecast.simulate import simulate
from homepath.core.model.acts import BuilderStep, Decide, Enter, NameServers, RemoveDs, Wait
from homepath.core.model.brief import MoveTo, NewZone, Notation
from homepath.core.model.evidence import Content
from homepath.core.model.forecast import Caches
from homepath.core.model.problems import BadInput
from homepath.core.model.steps import Assessment
from homepath.core.model.survey import Compared, Delegation, Reading, RecordSpread, Spread, Survey
from homepath.core.observe.compare import Sides, compare_check
from homepath.core.observe.zone_questions import keys_to_ask, usual_keys
from homepath.core.plan.new_zone import due, glue_names, left_out_of_new_zone, zone_file
from homepath.core.plan.plan import make_plan
from homepath.core.site.case import Case
from homepath.core.site.purposes import mentioned
from homepath.core.site.wanted import late_values, work_out
from homepath.core.wording.say import say
from homepath.report.letter import as_zone, letter_to_support
from tests.core.cases import BRIEF, DOMAIN, SITE, START, case, contents, contents_of_zone, stands, survey, zone
from tests.core.fake_network import NS1, NS2, PARENT, Lists, said, silence
from tests.refusals import refused

H = 3600.0
NEW = tuple(f"{name}.thornlea.example." for name in ("ns-k7", "ns-m3"))
ADA, BO = Server("203.0.113.90", 53, NEW[0]), Server("203.0.113.91", 53, NEW[1])
OUTSIDE = {(each.name, "A"): RecordSet(each.name, "A", 60, (each.address,)) for each in (ADA, BO)}
OLD = """
@ SOA ns1.mossgate.example. dns.mossgate.example. 1 7200 900 1209600 900
@ NS ns1.mossgate.example.
@ NS ns2.mossgate.example.
@ MX 10 mx1.mossgate.example.
@ TXT "v=spf1 mx -all"
@ A 198.51.100.7
www CNAME parking.mossgate.example.
mail CNAME mx1.mossgate.example.
shop A 198.51.100.80
shop A 198.51.100.81
"""
SOA = "@ SOA ns-k7.thornlea.example. dns.thornlea.example. 9 7200 900 1209600 900\n" + "".join(
    f"@ NS {name}\n" for name in NEW
)
CARRIED = SOA + '@ MX 10 mx1.mossgate.example.\n@ TXT "v=spf1 mx -all"\nmail CNAME mx1.mossgate.example.\n'
CARRIED += "shop A 198.51.100.80\nshop A 198.51.100.81\n"
LED = "@ A 192.0.2.10\nwww A 192.0.2.10\n"
BUILDERS = replace(BRIEF, nameservers=NEW, apex=(), www=())
MOVED = replace(SITE, move=MoveTo("t", NEW))
THORNLEA = Notation("Thornlea")
TOLD = {"claim": START, "inventory": START, "new-zone": START}


def by_builder(text: str = OLD, parent: tuple[str, ...] = (NS1.name, NS2.name), signed: bool = False) -> Case:
    return delegated(case(text, site=replace(SITE, route="nameservers"), brief=BUILDERS), parent, signed)


def by_move(text: str = OLD, parent: tuple[str, ...] = (NS1.name, NS2.name)) -> Case:
    return delegated(case(text, site=MOVED, notation=THORNLEA), parent)


def delegated(made: Case, parent: tuple[str, ...], signed: bool = False) -> Case:
    seen = Delegation("example.", parent, 21600, signed, "good" if signed else "none")
    return replace(made, survey=Survey(DOMAIN, START, (), seen, survey(made, START).records))


def compared(made: Case, *new: str | None, ds: RecordSet | None = None, **more: Any) -> Compared:
    """Both sides compared; the new servers hold these zones in their order, None keeps silent."""
    texts = (new * 2)[:2] if len(new) == 1 else new
    held = {server: zone(text) if text is not None else None for server, text in zip((ADA, BO), texts, strict=True)}
    cut = Cut(DOMAIN, (NS1.name, NS2.name), (NS1, NS2), "example.", 21600, (PARENT,))
    outside = more.pop("outside", OUTSIDE)
    lists = Lists({NS1: made.zone, NS2: made.zone, **held}, outside, cut=cut, ds=ds, **more)
    return lists.play(compare_check(made, due(made), Sides(NEW), "hp-none")).compared


def states(found: Compared) -> dict[str, str]:
    return {f"{each.name.removesuffix(DOMAIN).rstrip('.') or '@'} {each.type}": each.state for each in found.records}


def codes(found: Compared) -> set[str]:
    return {each.code for each in found.findings}


def kind(found: Assessment) -> str:
    return found.step.kind if found.step else "none"


def test_both_sides_alike_but_for_the_website_are_ready() -> None:
    found = compared(by_builder(), CARRIED + LED)
    assert found.verdict == "ready"
    assert found.records_ready
    assert states(found) == {
        "@ A": "as-planned",
        "www A": "as-planned",
        "@ MX": "same",
        "@ TXT": "same",
        "mail CNAME": "same",
        "shop A": "same",
        "@ SOA": "as-planned",
        "@ NS": "as-planned",
    }
    wanted = 'www CNAME site-20817.edge.bricklark.example.\n@ TXT "bricklark-owner=tk-4471"\n' + "".join(
        f"@ A 192.0.2.{last}\n" for last in (10, 44)
    )
    moved = compared(by_move(), CARRIED + wanted)
    assert moved.verdict == "ready"
    assert states(moved)["www CNAME"] == states(moved)["@ TXT"] == "as-planned"


@pytest.mark.parametrize(("address", "late"), [("198.51.100.99", True), ("198.51.100.7", False)])
def test_a_page_in_use_comes_along_until_it_can_be_forwarded(address: str, late: bool) -> None:
    there = replace(THORNLEA, forwarding=True, forwarding_https=True, parking_addresses=("198.51.100.7",))
    no_apex = replace(BRIEF, apex=())
    text = OLD.replace("@ A 198.51.100.7", f"@ A {address}")
    made = delegated(case(text, site=MOVED, brief=no_apex, notation=there), (NS1.name, NS2.name))
    (apex,) = [each for each in due(made) if each.key == (DOMAIN, "A")]
    assert (apex.kind, apex.record.values) == (("carried", (address,)) if late else ("theirs", ()))
    kinds = [step.kind for step in stands(made, confirmed=TOLD).steps]
    assert (kinds.index("forward") > kinds.index("certificate")) == late
    found = compared(made, f"{CARRIED}@ A {address}\n@ AAAA 2001:db8::66\n")
    assert ((DOMAIN, "AAAA") in {each.key for each in found.hindering}) == late


@pytest.mark.parametrize(
    ("new", "key", "state"),
    [
        (CARRIED.replace("shop A 198.51.100.81\n", "") + LED, "shop A", "differs"),
        (CARRIED.replace("mail CNAME mx1.mossgate.example.\n", "") + LED, "mail CNAME", "missing"),
        (CARRIED.replace("mail CNAME mx1.mossgate.example.", "mail A 198.51.100.25") + LED, "mail CNAME", "differs"),
        (CARRIED + "@ MX 5 mx.thornlea.example.\n" + LED, "@ MX", "differs"),
        (CARRIED + '@ TXT "v=spf1 include:thornlea.example ~all"\n' + LED, "@ TXT", "differs"),
        (CARRIED + "www A 192.0.2.10\n", "@ A", "missing"),
    ],
)
def test_what_would_be_lost_is_named(new: str, key: str, state: str) -> None:
    found = compared(by_builder(), new)
    assert (found.verdict, states(found)[key]) == ("not-ready", state)
    assert "left-at-the-old" in codes(found)
    lagging = compared(by_builder(), CARRIED + LED, new)
    assert (lagging.verdict, states(lagging)[key]) == ("not-ready", state)
    assert next(each for each in lagging.records if each.hinders).at == (BO.name,)
    assert "new-servers-disagree" in codes(lagging)


def test_what_only_the_new_side_has_hinders_only_where_it_leads_astray() -> None:
    harmless = compared(by_builder(), CARRIED + LED + '@ TXT "thornlea-check=1"\nblog A 192.0.2.99\n')
    assert (harmless.verdict, states(harmless)["blog A"], states(harmless)["@ TXT"]) == ("ready", "extra", "as-planned")
    scanned = compared(by_move(), CARRIED + "www A 198.51.100.7\n@ A 198.51.100.7\n")
    assert scanned.verdict == "not-ready"
    assert {"www CNAME": "differs", "www A": "extra", "@ A": "differs"}.items() <= states(scanned).items()
    for issuer, verdict in (("other.example", "not-ready"), ("tallowseal.example", "ready")):
        found = compared(by_builder(), CARRIED + LED + f'@ CAA 0 issue "{issuer}"\n')
        assert (found.verdict, states(found)["@ CAA"]) == (verdict, "extra")
    beside = compared(by_builder(), CARRIED + LED + "shop AAAA 2001:db8::66\n")
    assert (beside.verdict, [each.key for each in beside.hindering]) == ("not-ready", [(f"shop.{DOMAIN}", "AAAA")])
    wild = compared(by_builder(), CARRIED + LED + "* A 192.0.2.66\n")
    assert "wildcard-at-the-new" in codes(wild)
    assert "wildcard-at-the-new" not in codes(compared(by_builder(OLD + "* A 1.2.3.4"), CARRIED + LED + "* A 1.2.3.4"))


def test_a_name_typed_with_the_domain_at_the_new_host_is_named_before_the_switch() -> None:
    made, typed = by_move(), f"mail.{DOMAIN}".rstrip(".")
    there = CARRIED.replace("mail CNAME", f"{typed} CNAME") + LED
    found = compared(made, there)
    assert [each.name for each in found.findings if each.code == "name-doubled"] == [f"mail.{DOMAIN}{DOMAIN}"]
    act = after(made, found, history=contents(there, START, source="new"))
    assert (kind(act), act.exit) == ("carry", 3)
    assert "name-doubled" in {each.code for each in act.because}
    assert "name-doubled" not in codes(compared(made, CARRIED + LED))


def refuses(question: Question) -> Answer | None:
    return said(question, ADA, rcode="REFUSED", authoritative=False)


def recursive(question: Question) -> Answer | None:
    return said(question, ADA, RecordSet(question.name, question.type, 60, ("x. y. 1 2 3 4 5",)), authoritative=False)


@pytest.mark.parametrize(
    ("more", "verdict", "code", "state"),
    [
        ({"moody": {ADA: refuses}}, "not-ready", "new-server-not-ready", "refusing"),
        ({"moody": {ADA: recursive}}, "not-ready", "new-server-not-ready", "recursive"),
        ({"moody": {ADA: lambda q: silence(q, ADA)}}, "unknown", "new-server-not-ready", "silent"),
        ({"moody": {ADA: lambda q: said(q, ADA)}}, "not-ready", "new-server-not-ready", "lame"),
        ({"outside": {(BO.name, "A"): OUTSIDE[BO.name, "A"]}}, "not-ready", "new-server-unknown", "no-such-server"),
    ],
)
def test_a_new_server_that_is_none_is_never_ready(more: dict[str, Any], verdict: str, code: str, state: str) -> None:
    found = compared(by_builder(), CARRIED + LED, **more)
    assert (found.verdict, code in codes(found)) == (verdict, True)
    assert next(each.state for each in found.new if each.name == ADA.name) == state


def test_an_old_server_among_the_new_ones_is_said() -> None:
    twin = Server(NS1.address, 53, ADA.name)
    made = by_builder()
    cut = Cut(DOMAIN, (NS1.name, NS2.name), (NS1, NS2), "example.", 21600, (PARENT,))
    outside = {**OUTSIDE, (ADA.name, "A"): RecordSet(ADA.name, "A", 60, (NS1.address,))}
    lists = Lists({NS1: made.zone, NS2: made.zone, twin: made.zone, BO: zone(CARRIED + LED)}, outside, cut=cut)
    found = lists.play(compare_check(made, due(made), Sides(NEW), "hp-none")).compared
    assert {"new-server-is-present", "new-servers-disagree"} <= codes(found)
    assert found.verdict == "not-ready"


def test_new_servers_below_the_domain_need_their_addresses_above() -> None:
    own = f"ns1.{DOMAIN}"
    site = replace(SITE, move=MoveTo("t", (own,)))
    text = OLD + "ns1 A 203.0.113.90\n"
    made = delegated(case(text, site=site, notation=THORNLEA), (NS1.name, NS2.name))
    assert glue_names(made) == (own,)
    new = SOA + text.partition("@ MX")[1] + text.partition("@ MX")[2]
    server = Server("203.0.113.90", 53, own)
    cut = Cut(DOMAIN, (NS1.name, NS2.name), (NS1, NS2), "example.", 21600, (PARENT,))
    lists = Lists({NS1: made.zone, NS2: made.zone, server: zone(new)}, {}, cut=cut)
    sides = Sides((own,), {own: ("203.0.113.90",)})
    found = lists.play(compare_check(made, due(made), sides, "hp-none")).compared
    assert "glue-needed" in codes(found)
    assert [each.state for each in found.new] == ["holds"]
    assert zone_file(made).values(own, "A") == ("203.0.113.90",)
    nowhere = lists.play(compare_check(made, due(made), Sides((own,), {own: ()}), "hp-none")).compared
    assert nowhere.verdict == "not-ready"


def test_a_switch_made_too_early_is_forecast_with_what_it_loses() -> None:
    made = by_builder()
    lost = left_behind(compared(made, SOA + LED), 21600, 900)
    assert {each.name for each in lost} == {DOMAIN, f"mail.{DOMAIN}", f"shop.{DOMAIN}"}
    order = too_early(lost)
    course = together([simulate(phases, Caches(), horizon([order]), 20_000) for _, phases in order.phases])
    assert course.outage > 10
    assert course.minutes[-1].new > 0.9
    assert left_behind(compared(made, CARRIED + LED), 21600, 900) == []


def test_the_signature_key_at_the_parent_is_held_against_the_new_keys() -> None:
    key = "257 3 13 mdsswUyr3DPW132mOi8V9xESWE8jTo0dxCjjnopKl+GqJxpVXckHAeF+KkxLbxILfDLUT0rAK9iUzy1L53eKGQ=="
    right = ds_of(DOMAIN, key)
    assert right is not None
    ds = RecordSet(DOMAIN, "DS", 3600, (right,))
    assert fits(DOMAIN, ds, RecordSet(DOMAIN, "DNSKEY", 60, (key,)))
    other = compared(by_builder(signed=True), CARRIED + LED, ds=ds)
    assert (other.verdict, other.signed, other.records_ready) == ("not-ready", True, True)
    assert "ds-does-not-fit" in codes(other)

    def keys(question: Question) -> Answer | None:
        return said(question, ADA, RecordSet(DOMAIN, "DNSKEY", 60, (key,))) if question.type == "DNSKEY" else None

    same = compared(by_builder(signed=True), CARRIED + LED, ds=ds, moody={ADA: keys})
    assert (same.verdict, same.signed) == ("ready", False)
    assert ds_of(DOMAIN, "no key") is None
    assert not fits(DOMAIN, RecordSet(DOMAIN, "DS", 60, ("1 13 2",)), None)


@given(
    st.binary(min_size=1, max_size=80),
    st.sampled_from(((1, "SHA1"), (2, "SHA256"), (4, "SHA384"))),
    st.sampled_from((256, 257)),
)
def test_a_ds_value_is_what_the_library_makes_of_the_key(key: bytes, digest: tuple[int, str], flags: int) -> None:
    text = f"{flags} 3 13 {base64.b64encode(key).decode()}"
    known = dns.rdata.from_text("IN", "DNSKEY", text)
    made = dns.dnssec.make_ds(DOMAIN, known, digest[1], policy=dns.dnssec.allow_all_policy)
    assert ds_of(DOMAIN, text, digest[0]) == str(made).lower()
    counts = (ds_of(DOMAIN, text),) if flags == 257 else ()  # only a secure entry point needs a DS record
    assert ds_to_set(DOMAIN, RecordSet(DOMAIN, "DNSKEY", 60, (text,))) == counts


_SETS = st.lists(
    st.sampled_from(
        [
            *('@ TXT "a=b"', '@ TXT "c"', "shop A 192.0.2.1", "shop A 192.0.2.2", "x CNAME y.test.", "* A 192.0.2.7"),
            *(
                "_sip._tcp SRV 1 2 3 sip.test.",
                "sub NS ns.test.",
                '@ CAA 0 issue "tallowseal.example"',
                "mail AAAA 2001:db8::1",
            ),
        ]
    ),
    max_size=6,
    unique=True,
)


@given(_SETS, _SETS)
@settings(max_examples=80, deadline=None)
def test_ready_only_when_nothing_is_lost(here: list[str], there: list[str]) -> None:
    base = OLD.replace("mail CNAME mx1.mossgate.example.\n", "")
    made = by_builder(base + "\n".join(here))
    found = compared(
        made,
        SOA
        + LED
        + base.partition("@ MX")[2]
        .join(("@ MX", ""))
        .replace("@ A 198.51.100.7\nwww CNAME parking.mossgate.example.\n", "")
        + "\n".join(there),
    )
    lost = set(here) - set(there)
    assert (found.verdict == "ready") <= (not lost)
    if set(here) == set(there):
        assert found.verdict == "ready", [each for each in found.records if each.hinders]


def test_a_permission_that_the_builder_needs_is_due_before_the_switch() -> None:
    forbidding = '@ CAA 0 issue "other.example"\n'
    found = next(each for each in due(by_builder(OLD + forbidding)) if each.key == (DOMAIN, "CAA"))
    assert set(found.record.values) == {'0 issue "other.example"', '0 issue "tallowseal.example"'}
    assert not found.met_by(found.before)
    left = by_builder(OLD + forbidding)
    left = replace(left, wanted=replace(left.wanted, left_behind=frozenset({(DOMAIN, "CAA")})))
    assert (DOMAIN, "CAA") not in {each.key for each in due(left)}  # whatever it would need there


def test_the_inventory_leaves_behind_only_what_a_server_writes_and_says_so() -> None:
    text = OLD + "sub NS ns1.other.example.\n@ TYPE65534 abcd\n@ DNSKEY 257 3 13 AAAA\n@ RRSIG x\n"
    made = by_builder(text)
    carried = {each.key for each in due(made) if each.kind == "carried"}
    assert ("sub." + DOMAIN, "NS") in carried
    behind = {record.type for record, _ in left_out_of_new_zone(made)}
    assert behind == {"SOA", "NS", "TYPE65534", "DNSKEY", "RRSIG", "A", "CNAME"}
    left = by_builder(OLD)
    left = replace(left, wanted=replace(left.wanted, left_behind=frozenset({(f"shop.{DOMAIN}", "A")})))
    assert (f"shop.{DOMAIN}", "A") not in {each.key for each in due(left)}


def test_names_that_records_mention_and_the_usual_ones_are_asked_for() -> None:
    sets = zone(
        f'@ MX 10 post\n@ TXT "v=spf1 a:sender.{DOMAIN[:-1]} include:_own.{DOMAIN[:-1]} -all"\nx CNAME far.test.'
    )
    asked = mentioned(sets, DOMAIN)
    assert {(f"post.{DOMAIN}", "A"), (f"_25._tcp.post.{DOMAIN}", "TLSA"), (f"_own.{DOMAIN}", "TXT")} <= set(asked)
    assert (f"sender.{DOMAIN}", "A") in asked
    assert not [key for key in asked if "far" in key[0]]
    usual = [*keys_to_ask(by_builder().wanted, (), (f"kiln-9.{DOMAIN}",)), *usual_keys(DOMAIN)]
    for label in ("default._domainkey", "selector1._domainkey", "k1._domainkey", "_acme-challenge", "_domainkey"):
        assert (f"{label}.{DOMAIN}", "TXT") in usual
    assert (f"kiln-9.{DOMAIN}", "SRV") in usual


def test_the_zone_file_can_be_read_back_and_holds_just_what_is_due() -> None:
    made = by_move()
    read = read_master_file(as_zone(zone_file(made)), DOMAIN, "new.zone")
    assert read.values(DOMAIN, "NS") == tuple(sorted(NEW))
    assert read.values(DOMAIN, "SOA")[0].startswith("ns-k7.thornlea.example. dns.mossgate.example. 1 ")
    assert {each.key for each in read} == {each.key for each in due(made)} | {(DOMAIN, "SOA"), (DOMAIN, "NS")}
    letter = letter_to_support(DOMAIN, "Thornlea", NEW, due(made), left_out_of_new_zone(made), THORNLEA)
    for each in due(made):
        assert all(value.strip('"') in letter for value in each.record.values)
    assert "Left out on purpose" in letter


def after(made: Case, found: Compared | None, now: float = START, **more: Any) -> Assessment:
    history = (*contents_of_zone(made, START), *more.pop("history", ()))
    told = {**TOLD, **more.pop("confirmed", {})}
    return stands(replace(made, history=history), now, confirmed=told, compared=found, **more)


def test_the_order_and_never_a_switch_before_ready() -> None:
    made = by_move()
    assert kind(stands(made, confirmed={"claim": START})) == "inventory"
    assert isinstance(stands(made, confirmed={"claim": START, "inventory": START}).act, BuilderStep)  # add it there
    waiting = after(made, compared(made, None))
    assert (kind(waiting), waiting.act) == ("new-zone", Wait(START + LOOK_AGAIN, "builder"))
    late = after(made, compared(made, None), START + 10 * H)
    assert isinstance(late.act, Decide)
    assert [bool(choice.loses) for choice in late.act.choices] == [False, False, True]
    scanned = compared(made, CARRIED + "@ A 198.51.100.7\n")
    entering = after(made, scanned, history=contents(CARRIED + "@ A 198.51.100.7\n", START, source="new"))
    assert kind(entering) == "carry"
    assert isinstance(entering.act, Enter)
    assert entering.act.where == "new DNS host"
    assert [(e.type, e.value) for e in entering.act.delete] == [("A", "198.51.100.7")]
    assert {e.type for e in entering.act.enter} == {"A", "CNAME", "TXT"}
    wanted = (
        CARRIED
        + 'www CNAME site-20817.edge.bricklark.example.\n@ TXT "bricklark-owner=tk-4471"\n'
        + "".join(f"@ A 192.0.2.{last}\n" for last in (10, 44))
    )
    ready = compared(made, wanted)
    done = after(made, ready, history=contents(wanted, START, source="new"))
    assert done.act == NameServers(NEW)
    behind = after(made, compared(made, wanted, CARRIED), history=contents(wanted, START, source="new"))
    assert (kind(behind), behind.act) == ("compare", Wait(START + LOOK_AGAIN, "builder"))


def test_a_website_that_comes_only_after_the_switch_is_the_owners_word() -> None:
    """The new servers hold the domain and lead the website nowhere: a parking page is no loss, a site is one."""
    for text, loses in ((OLD, False), (OLD.replace("@ A 198.51.100.7", "@ A 198.51.100.99"), True)):
        made = by_builder(text)
        found = after(made, compared(made, CARRIED), START + 5 * H, history=contents(CARRIED, START, source="new"))
        assert isinstance(found.act, Decide)
        on = next(each for each in found.act.choices if "--done" in each.then)
        assert (found.act.choices[0] == on, bool(on.loses)) == (not loses, loses)
        told = {"compare": START + 5 * H}
        gone = after(
            made, compared(made, CARRIED), START + 5 * H, history=contents(CARRIED, START, source="new"), confirmed=told
        )
        assert gone.act == NameServers(NEW)


def test_a_website_that_does_not_come_after_the_switch_is_waited_for_then_asked_about() -> None:
    """Nobody but the builder can enter it there; a name that did not answer may have it."""
    made = by_builder(CARRIED, NEW)
    switched = [Content(RecordSet(DOMAIN, "NS", 21600, NEW), START, START, "parent")]
    waiting = after(made, None, history=switched)
    assert (kind(waiting), waiting.act) == ("visit", Wait(START + LOOK_AGAIN, "builder"))
    late = after(made, None, START + 7 * H, history=switched)
    assert late.step is not None
    assert late.step.place == "builder"
    assert isinstance(late.act, BuilderStep)
    assert f"www.{DOMAIN.rstrip('.')}" in say(late.act.title)
    silent = tuple(Unanswered(each, "A", Trouble("failed", ADA.name)) for each in made.wanted.names)
    assert made.survey is not None
    led, unknown = by_builder(CARRIED + LED, NEW), replace(made, survey=replace(made.survey, unknown=silent))
    assert {kind(after(each, None, START + 7 * H, history=switched)) for each in (led, unknown)} & {"visit"} == set()


def test_the_ds_record_goes_first_and_its_keeping_time_is_waited_for() -> None:
    made, ready = by_builder(signed=True), CARRIED + LED
    ds = RecordSet(DOMAIN, "DS", 86400, ("1 13 2 AA",))
    new = contents(ready, START, source="new")
    found = after(made, compared(made, ready, ds=ds), history=new)
    assert isinstance(found.act, RemoveDs)
    gone = [Content(ds, START, START, "parent"), Content(replace(ds, values=(), ttl=0), START + H, START + H, "parent")]
    made = by_builder()
    waits = after(made, compared(made, ready), START + 2 * H, history=[*new, *gone])
    assert waits.act == Wait(START + H + 86400, "parent")
    assert isinstance(after(made, compared(made, ready), START + 30 * H, history=[*new, *gone]).act, NameServers)


def test_a_new_host_with_no_place_or_only_a_desk() -> None:
    desk = replace(BUILDERS, new_zone=NewZone(("support",)))
    made = delegated(case(OLD, site=replace(SITE, route="nameservers"), brief=desk), (NS1.name,))
    bare = SOA + LED
    found = after(made, compared(made, bare), history=contents(bare, START, source="new"))
    assert isinstance(found.act, BuilderStep)
    assert "sheet --as letter" in say(found.act.instruction)
    again = after(made, compared(made, bare), history=contents(bare, START, source="new"), confirmed={"carry": START})
    assert isinstance(again.act, BuilderStep)
    assert "something is still missing" in say(again.act.title)
    nowhere = replace(BUILDERS, new_zone=NewZone(("none",)))
    made = delegated(case(OLD, site=replace(SITE, route="nameservers"), brief=nowhere), (NS1.name,))
    found = after(made, compared(made, bare), history=contents(bare, START, source="new"))
    assert isinstance(found.act, Decide)
    assert ("next", "--decide", "leave-behind:@ MX") in [choice.then for choice in found.act.choices]
    assert all(choice.loses for choice in found.act.choices)


def test_servers_that_are_assigned_are_asked_for_once_the_builder_knows_the_domain() -> None:
    brief = replace(
        BUILDERS,
        nameservers=("{ns1}.thornlea.example.", "{ns2}.thornlea.example."),
        asked=(*BRIEF.asked, *(replace(BRIEF.asked[0], name=name) for name in ("ns1", "ns2"))),
    )
    assert late_values(brief) == ("ns1", "ns2")
    site = replace(SITE, route="nameservers")
    made = delegated(case(OLD, site=site, brief=brief), (NS1.name,))
    found = stands(made, confirmed=TOLD)
    assert isinstance(found.act, Decide)
    assert found.act.choices[0].then == ("next", "--decide", "value:ns1=NAME")
    filled = replace(site, values={**SITE.values, "ns1": "ns-k7", "ns2": "ns-m3"})
    assert work_out(filled, brief).nameservers == NEW
    with pytest.raises(BadInput):
        work_out(replace(filled, values={**filled.values, "ns1": "a b"}), brief)
    unknown = delegated(case(OLD, site=replace(SITE, move=MoveTo("t")), notation=THORNLEA), (NS1.name,))
    asked = stands(unknown, confirmed=TOLD).act
    assert isinstance(asked, Decide)
    assert asked.choices[0].then == ("next", "--decide", "servers:NAME NAME")


def test_a_move_on_the_way_by_records_is_an_error_and_not_ignored() -> None:
    with refused(BadInput, "cannot be records"):
        work_out(replace(MOVED, route="records"), BRIEF)
    assert work_out(replace(MOVED, route="advise"), BRIEF).hand_over is not None


def test_leaving_finds_every_name_that_leads_there() -> None:
    text = OLD.replace("www CNAME parking.mossgate.example.", "www CNAME site-20817.edge.bricklark.example.")
    text = text.replace("@ A 198.51.100.7", "@ A 192.0.2.10") + (
        "deep CNAME www.tidewick-kiln.example.\ndeeper CNAME deep.tidewick-kiln.example.\n"
        'star A 192.0.2.44\nnews MX 5 in.bricklark.example.\n@ TXT "bricklark-owner=tk-4471"\n'
        '_from TXT "v=spf1 include:send.bricklark.example -all"\n'
    )
    made = delegated(case(text, site=replace(SITE, route="leave")), (NS1.name, NS2.name))
    plan = make_plan(made)
    gone = {(change.name.removesuffix(f".{DOMAIN}"), change.type) for change in plan.work}
    assert gone == {
        ("www", "CNAME"),
        ("deep", "CNAME"),
        ("deeper", "CNAME"),
        ("star", "A"),
        (DOMAIN, "A"),
        (DOMAIN, "TXT"),
    }
    texts = next(change for change in plan.work if change.type == "TXT")
    assert (texts.values, texts.route if hasattr(texts, "route") else plan.route) == (('"v=spf1 mx -all"',), "leave")
    found = {(each.code, each.name, each.level) for each in plan.findings}
    assert ("points-to-the-builder", f"news.{DOMAIN}", "blocker") in found
    assert ("mentions-the-builder", f"_from.{DOMAIN}", "note") in found
    asked = stands(made).act
    assert isinstance(asked, Decide)
    assert ("next", "--decide", "accept:news MX") in [choice.then for choice in asked.choices]


def test_the_old_account_is_kept_while_mail_still_points_there() -> None:
    from types import SimpleNamespace

    from homepath.core.assess.assess import _still_used

    old = RecordSet(DOMAIN, "NS", 3600, ("ns1.mossgate.example.", "ns2.mossgate.example."))
    contents = (Content(old, 0.0, 1.0, "parent"),)
    for target, found in (("10 mx1.mossgate.example.", f"MX at {DOMAIN[:-1]}"), ("10 mx1.thornlea.example.", "")):
        zone = Zone.of(DOMAIN, [RecordSet(DOMAIN, "MX", 3600, (target,))])
        view = SimpleNamespace(
            over=SimpleNamespace(servers=("ns-k7.thornlea.example.",)),
            evidence=SimpleNamespace(contents=contents),
            case=SimpleNamespace(domain=DOMAIN, zone=zone),
        )
        assert _still_used(view) == found  # type: ignore[arg-type]


def test_servers_of_the_parent_zone_that_are_behind_are_waited_for_and_not_for_ever() -> None:
    over = by_builder().wanted.hand_over
    assert over is not None
    made = by_builder(parent=over.servers)
    named = Content(RecordSet(DOMAIN, "NS", 21600, over.servers), START, START + 60, "parent")
    made = replace(made, history=(*contents_of_zone(made, START), named))
    behind = Reading("a.registry.example.", "parent", "old", (), 21600, START + 60)
    nameservers = RecordSpread(DOMAIN, "NS", over.servers, "spreading", None, (behind,))
    spread = Spread(DOMAIN, START + 60, "spreading", None, (nameservers,))
    for now, end in ((START + 70, START + 600), (START + 700, START + 86400)):
        assert stands(made, now, spread=spread).act_of("name-servers") == Wait(end, "parent")
    assert stands(made, START + 90000, spread=spread).act_of("name-servers") is None
