from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from homepath.core.dns.records import Zone
from homepath.core.model.brief import Notation
from homepath.core.plan.difference import changes
from homepath.core.plan.plan import applied, make_plan, make_update
from homepath.core.site.case import Case
from homepath.core.site.wanted import work_out
from homepath.core.wording.say import say
from tests.core.cases import (
    ADDRESSES,
    BASE,
    BRIEF,
    DOMAIN,
    PARKING,
    RIGHT,
    SITE,
    TARGET,
    case,
    for_primary,
    sheet_jobs,
    zone,
)

WWW = f"www.{DOMAIN}"


def moves(text: str, **more: object) -> dict[tuple[str, str], str]:
    return {(c.name, c.type): c.move for c in changes(case(text, **more)) if c.move != "keep"}  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        (RIGHT, {}),
        (BASE, {(DOMAIN, "A"): "add", (WWW, "CNAME"): "add", (DOMAIN, "TXT"): "add"}),
        (RIGHT.replace("192.0.2.44", "198.51.100.7"), {(DOMAIN, "A"): "replace"}),
        (RIGHT + "@ AAAA 2001:db8::1", {(DOMAIN, "AAAA"): "remove"}),
        (RIGHT.replace(f"www CNAME {TARGET}", "www A 198.51.100.7\nwww AAAA 2001:db8::1"),
         {(WWW, "CNAME"): "add", (WWW, "A"): "remove", (WWW, "AAAA"): "remove"}),
        (RIGHT + f"www.{DOMAIN}{DOMAIN} CNAME {TARGET}", {(f"{WWW}{DOMAIN}", "CNAME"): "remove"}),
        (RIGHT + f"other.{DOMAIN}{DOMAIN} CNAME {TARGET}", {}),
        (RIGHT + '@ CAA 0 issue "x.example"', {(DOMAIN, "CAA"): "add"}),
        (RIGHT + "www HTTPS 1 old.example.", {(WWW, "HTTPS"): "remove"}),
    ],
)  # fmt: skip
def test_moves(text: str, expected: dict[tuple[str, str], str]) -> None:
    assert moves(text) == expected


def test_a_joined_set_keeps_its_other_values_and_loses_only_the_slip() -> None:
    (change,) = [c for c in changes(case(RIGHT.replace("tk-4471", "tk-4417"))) if c.move != "keep"]
    assert change.deleted == ('"bricklark-owner=tk-4417"',)
    assert change.entered == ('"bricklark-owner=tk-4471"',)
    assert '"v=spf1 mx -all"' in change.values


def test_mail_and_unknown_names_are_kept_and_said_to_be_kept() -> None:
    text = (
        RIGHT + "mail CNAME mx1.mossgate.example.\nselector._domainkey CNAME dkim.mossgate.example.\nwiki A 192.0.2.77"
    )
    kept = {(c.name, c.type): c for c in changes(case(text)) if c.move == "keep"}
    assert {key for key in zone(text).sets if key[1] != "SOA"} == set(kept)
    assert kept[f"selector._domainkey.{DOMAIN}", "CNAME"].purpose == "mail authentication"
    assert kept[DOMAIN, "MX"].purpose == "mail"
    assert all(change.reason for change in kept.values())


def test_nothing_is_deleted_where_a_person_must_decide() -> None:
    text = RIGHT.replace(f"www CNAME {TARGET}", "www A 198.51.100.7\nwww MX 10 mx1.mossgate.example.")
    plan = make_plan(case(text))
    assert [f.code for f in plan.blockers] == ["mail-at-cname-name"]
    assert (WWW, "A") not in {(c.name, c.type) for c in plan.work if c.move == "remove"}


def test_a_label_touches_only_itself() -> None:
    assert moves(BASE + "@ A 198.51.100.99", site=for_primary("shop")) == {
        (f"shop.{DOMAIN}", "CNAME"): "add",
        (DOMAIN, "TXT"): "add",
    }


def test_a_protected_record_is_never_changed() -> None:
    site = replace(SITE, keep=("@ AAAA", "www CNAME"))
    text = RIGHT.replace(TARGET, "old.example.") + "@ AAAA 2001:db8::1"
    assert moves(text, site=site) == {}


_NAMES = st.sampled_from(["@", "www", "shop", "mail", "_dmarc", "blog", f"www.{DOMAIN}{DOMAIN}", f"{DOMAIN}{DOMAIN}"])
_LINES = st.one_of(
    st.builds("{} A {}".format, _NAMES, st.sampled_from([*ADDRESSES, "198.51.100.7", "192.0.2.24", "192.0.2.1"])),
    st.builds("{} AAAA 2001:db8::{}".format, _NAMES, st.integers(1, 9)),
    st.builds(
        "{} CNAME {}".format, _NAMES, st.sampled_from([TARGET, TARGET + DOMAIN, "old.example.", f"mail.{DOMAIN}"])
    ),
    st.builds("{} MX 10 {}".format, _NAMES, st.sampled_from(["mx1.mossgate.example.", f"www.{DOMAIN}"])),
    st.builds(
        '{} TXT "{}"'.format,
        _NAMES,
        st.sampled_from(["v=spf1 -all", "bricklark-owner=tk-4471", "bricklark-owner=tk-447", "x"]),
    ),
    st.builds(r'{} TXT "\"{}\""'.format, _NAMES, st.sampled_from(["bricklark-owner=tk-4471", "y"])),
    st.builds("{} HTTPS 1 {}".format, _NAMES, st.sampled_from([".", "old.example."])),
    st.builds("{} NS ns1.else.example.".format, st.sampled_from(["www", "sub"])),
    st.builds("* A {}".format, st.sampled_from([*ADDRESSES, "198.51.100.9"])),
    st.builds('{} CAA 0 issue "{}"'.format, _NAMES, st.sampled_from([";", "other.example", "tallowseal.example"])),
)


@settings(max_examples=300)
@given(st.lists(_LINES, max_size=14), st.sampled_from(["www", "apex", "shop"]))
def test_applying_a_plan_satisfies_the_brief_and_touches_nothing_else(lines: list[str], primary: str) -> None:
    """Unless a blocker stands in the way: every want is met, CNAMEs stand alone, and a second plan is empty."""
    before = zone(BASE + "\n".join(lines))
    wanted = work_out(for_primary(primary), BRIEF)
    first = make_plan(Case(wanted, before, notation=PARKING))
    after = applied(before, first.work)
    touched = {(change.name, change.type) for change in first.work}
    assert {k: v for k, v in before.sets.items() if k not in touched} == {
        k: v for k, v in after.sets.items() if k not in touched
    }
    for record in before:  # mail, proofs and unknown texts survive whatever is planned
        if record.type in ("MX", "NS", "SOA"):
            assert after.get(*record.key) == record
    if first.blockers:
        return
    assert all(want.met_by(after.get(*want.record.key)) for want in wanted.wants)
    for name in wanted.web_names:
        types = {each.type for each in after.at(name)}
        assert "CNAME" not in types or types == {"CNAME"}
    second = make_plan(Case(wanted, after, notation=PARKING))
    assert second.work == ()
    assert not any(finding.code == "issuer-not-allowed" for finding in second.findings)


def test_the_owners_word_on_what_a_record_is_for_counts() -> None:
    text = RIGHT.replace(f"www CNAME {TARGET}", 'www TXT "left over"')
    assert [f.code for f in make_plan(case(text)).blockers] == ["cname-not-alone"]
    told = make_plan(case(text, site=replace(SITE, purposes={"www TXT": "website"})))
    assert told.blockers == ()
    assert {(c.move, c.name, c.type) for c in told.work} == {("remove", WWW, "TXT"), ("add", WWW, "CNAME")}


def test_a_label_that_holds_a_value_and_a_choice_of_proof() -> None:
    proof = replace(BRIEF.ownership[0], type="CNAME", host="v-{code}", values=("verify.bricklark.example.",))
    brief = replace(BRIEF, ownership=(BRIEF.ownership[0], proof))
    lacking = make_plan(case(BASE, brief=brief, notation=replace(PARKING, lacks=("TXT",))))
    assert (f"v-tk-4471.{DOMAIN}", "CNAME") in {(c.name, c.type) for c in lacking.work}
    assert any("does not offer TXT" in say(reason) for reason in lacking.reasons)
    chosen = make_plan(case(BASE, brief=brief, site=replace(SITE, ownership="CNAME")))
    assert not any(c.type == "TXT" for c in chosen.work)


def test_an_optional_set_is_right_there_and_right_missing() -> None:
    six = replace(BRIEF.apex[0], type="AAAA", values=("2001:db8::10",), optional=True)
    brief = replace(BRIEF, apex=(*BRIEF.apex, six))
    assert moves(RIGHT, brief=brief) == {}
    assert moves(RIGHT + "@ AAAA 2001:db8::10", brief=brief) == {}
    assert moves(RIGHT + "@ AAAA 2001:db8::99", brief=brief) == {(DOMAIN, "AAAA"): "replace"}


def test_addresses_stand_in_for_an_alias_where_other_records_are() -> None:
    brief = replace(BRIEF, www_by_address=(replace(BRIEF.apex[0]),))
    plan = make_plan(case(RIGHT.replace(f"www CNAME {TARGET}", 'www TXT "note"'), brief=brief))
    assert plan.blockers == ()
    assert {(c.move, c.name, c.type) for c in plan.work} == {("add", WWW, "A")}


def test_the_update_asks_for_exactly_what_the_plan_was_made_from() -> None:
    plan = make_plan(case(BASE + "@ A 198.51.100.7"))
    update = make_update(zone(BASE + "@ A 198.51.100.7"), plan.changes)
    assert {record.key for record in update.exact} == {(DOMAIN, t) for t in ("A", "MX", "TXT", "NS")}
    assert update.unused == (WWW,)
    assert {record.key for record in update.deleted} == {(DOMAIN, "A"), (DOMAIN, "TXT")}
    assert applied(Zone(DOMAIN), plan.changes).values(DOMAIN, "A") == ADDRESSES
    gone = make_update(zone("@ A 198.51.100.7"), [replace(plan.work[0], values=(), before=("198.51.100.7",))])
    assert [record.key for record in gone.deleted] == [(DOMAIN, "A")]
    assert gone.added == ()


def test_a_sheet_goes_set_by_set_in_the_notation_of_the_form() -> None:
    made = case(BASE + "@ A 198.51.100.7\nwww A 198.51.100.7")
    first, second, third = sheet_jobs(made, Notation())
    lines = [(line.deed, line.type, line.name, line.value) for line in first.lines]
    assert lines[0] == ("delete", "A", "@", "198.51.100.7")
    assert [line[0] for line in lines] == ["delete", *["enter"] * 2]
    assert [(line.deed, line.type) for line in second.lines] == [("delete", "A"), ("enter", "CNAME")]
    assert [(line.deed, line.value) for line in third.lines] == [("enter", "bricklark-owner=tk-4471")]
    assert third.stays == ("v=spf1 mx -all",)
    other = Notation("x", apex="full", names="full", final_dot="forbidden", ttl_choices=(300, 1800))
    typed = {(each.type, each.name, each.value) for job in sheet_jobs(made, other) for each in job.lines}
    assert ("CNAME", "www.tidewick-kiln.example", TARGET[:-1]) in typed
    assert {each.name for each in sheet_jobs(made, Notation("x", apex="blank"))[0].lines} == {""}
    dotted = sheet_jobs(made, Notation("x", final_dot="required"))[1].lines
    assert [line.dotted for line in dotted] == [False, True]
