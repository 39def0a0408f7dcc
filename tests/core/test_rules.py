"""Each rule: a case where it must speak, and one near it where it must be silent."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from homepath.core.dns.answers import Trouble, Unanswered
from homepath.core.dns.policies import allows, has_wild, relevant_set
from homepath.core.dns.records import RecordSet
from homepath.core.files.brief_file import read_brief
from homepath.core.findings.registry import KINDS, RULES, findings
from homepath.core.model.brief import NO_NOTATION, BriefRecord, HttpsFacts
from homepath.core.model.evidence import Content
from homepath.core.model.problems import BadInput
from homepath.core.model.survey import Delegation, Registration, Seen, ServerSeen, Survey
from homepath.core.model.visits import Hsts
from homepath.core.site.case import Neighbour
from homepath.core.site.slips import learned_notation, one_slip
from homepath.core.wording.say import say
from homepath.practice.scene_file import load_scene
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
    contents,
    for_primary,
    zone,
)

HALF = "@ A 192.0.2.10"


def codes(text: str, **more: Any) -> set[str]:
    return {finding.code for finding in findings(case(text, **more))}


SPEAKS_AND_IS_SILENT = [
    # code, zone where it speaks, zone near it where it is silent
    ("cname-not-alone", BASE + 'www TXT "note"', BASE + 'shop TXT "note"'),
    ("cname-not-alone", BASE + "b CNAME x.example.\nb A 192.0.2.1", BASE + "b CNAME x.example.\nc A 192.0.2.1"),
    ("cname-at-apex", BASE + f"@ CNAME {TARGET}", BASE + f"blog CNAME {TARGET}"),
    ("parked", BASE + "@ A 198.51.100.7", BASE + "@ A 198.51.100.8"),
    ("parked", BASE + "www CNAME x.parking.mossgate.example.", BASE + "shop CNAME x.parking.mossgate.example."),
    ("parked", BASE + "www CNAME parked.host.example.", BASE + "www CNAME sparked.host.example."),
    ("address-elsewhere", RIGHT + "@ A 198.51.100.99", RIGHT),
    ("address-elsewhere", BASE + "www CNAME old.host.example.", BASE + f"www CNAME {TARGET}"),
    ("address-elsewhere", BASE + "www A 198.51.100.99", BASE + "@ A 198.51.100.7"),
    ("ipv6-elsewhere", RIGHT + "@ AAAA 2001:db8::1", RIGHT + "mail AAAA 2001:db8::1"),
    ("address-set-incomplete", BASE + HALF, RIGHT),
    ("address-set-incomplete", BASE + HALF, BASE + "@ A 198.51.100.7"),
    ("near-miss", BASE + "@ A 192.0.2.10\n@ A 192.0.2.24", BASE + "@ A 192.0.2.1"),  # one that stood there before
    ("alias-by-address", BASE + "www A 192.0.2.10", BASE + "www A 198.51.100.9"),
    ("near-miss", BASE + "www CNAME site-20871.edge.bricklark.example.", BASE + f"www CNAME {TARGET}"),
    ("near-miss", BASE + '@ TXT "bricklark-owner=tk-4417"', RIGHT),
    ("name-doubled", BASE + f"www.{DOMAIN}{DOMAIN} CNAME {TARGET}", RIGHT),
    ("name-doubled", BASE + f"www.{DOMAIN}{DOMAIN} CNAME {TARGET}{DOMAIN}", RIGHT),
    ("name-doubled", BASE + f"{DOMAIN}{DOMAIN} A 192.0.2.10", BASE + "example A 192.0.2.10"),
    ("target-unfinished", BASE + f"www CNAME {TARGET}{DOMAIN}", BASE + f"www CNAME host.{DOMAIN}"),
    ("target-unfinished", BASE + f"shop CNAME www.{DOMAIN}{DOMAIN}", BASE + f"shop CNAME www.{DOMAIN}"),
    ("proof-missing", BASE, RIGHT),
    ("mail-at-cname-name", BASE + "www MX 10 mx1.mossgate.example.", BASE + "shop MX 10 mx1.mossgate.example."),
    ("mail-at-cname-name", BASE + f"@ MX 20 www.{DOMAIN}", BASE + f"@ MX 20 mail.{DOMAIN}"),
    ("issuer-not-allowed", RIGHT + '@ CAA 0 issue "other.example"', RIGHT + '@ CAA 0 issue "tallowseal.example; x=1"'),
    ("issuer-not-allowed", RIGHT + '@ CAA 0 issue ";"', RIGHT + '@ CAA 0 iodef "mailto:a@b.example"'),
    ("issuer-not-allowed", RIGHT + '@ CAA 128 future "x"', RIGHT + '@ CAA 0 future "x"'),
    ("ttl-long", BASE + "@ 86400 A 198.51.100.99", BASE + "@ 3600 A 198.51.100.99"),
    ("ttl-long", BASE + "@ 86400 A 198.51.100.99", RIGHT.replace("@ A", "@ 86400 A")),
]  # fmt: skip


@pytest.mark.parametrize(("code", "speaks", "silent"), SPEAKS_AND_IS_SILENT)
def test_rule_speaks_and_is_silent(code: str, speaks: str, silent: str) -> None:
    assert code in codes(speaks)
    assert code not in codes(silent)


def look(**more: Any) -> Survey:
    """A survey of a right zone in which all is well, but for what is given."""
    servers = (ServerSeen("ns1.mossgate.example.", "203.0.113.53", "agrees", 1),)
    delegation = Delegation("example.", ("ns1.mossgate.example.",), 3600)
    return replace(Survey(DOMAIN, NOW, servers, delegation, ()), **more)


def bad_server(state: str) -> Survey:
    return look(servers=(ServerSeen("ns2.mossgate.example.", "203.0.113.54", state, 1, "why"),))  # type: ignore[arg-type]


def unseen(word: str) -> Survey:
    """A survey in which nobody answered one question."""
    host, rrtype = word.split()
    name = DOMAIN if host == "@" else f"{host}.{DOMAIN}"
    return look(unknown=(Unanswered(name, rrtype, Trouble("failed", "ns1.mossgate.example.")),))


def registered(**more: Any) -> Survey:
    return look(registration=replace(Registration("Mossgate", ("active",), NOW + 1e8, (), "rdap"), **more))


NOW = 1772442000.0
TXT = BASE + '@ TXT "bricklark-owner=other-code"'
LONG_SOA = BASE.replace("1209600 900", "1209600 7200").replace("@ SOA", "@ 7200 SOA")
OLD_KEY = read_brief(
    load_scene("first-site").files["bricklark.brief.toml"].replace("[reserved_names]", "[refuses_redirect_from]"), "b"
)
NO_APEX = replace(BRIEF, apex=(), apex_alias="site-{site}.edge.bricklark.example.")
HANDED = replace(SITE, route="nameservers")
SERVERS = replace(BRIEF, nameservers=("ns1.bricklark.example.", "ns2.bricklark.example."))
LABELLED = replace(BRIEF, ownership=(replace(BRIEF.ownership[0], host="_bricklark"),))
BELOW = replace(BRIEF, ownership=(replace(BRIEF.ownership[0], host="_v.shop"),))
WILD = replace(BRIEF, https=replace(BRIEF.https, wildcard=True))
TOLD = replace(PARKING, servers=("*.mossgate.example",))
ELSEWHERE = Seen(zone(RIGHT).sets[DOMAIN, "A"], ("file form.txt",))
NOWHERE = Delegation("example.", (), 900)
OTHERS = Content(RecordSet(DOMAIN, "NS", 3600, ("ns1.elsewhere.example.",)), NOW - 9, NOW - 9, "parent")
MEANT_SO = replace(SITE, accepted={"@ NS": ("ns1.mossgate.example.",)})
LISTED = Content(RecordSet(DOMAIN, "A", 3600, ("198.51.100.7",)), NOW - 9, NOW, "survey")
LATER = Content(RecordSet(f"*.{DOMAIN}", "A", 3600, ("192.0.2.1",)), NOW, NOW, "survey")
STICKY = {"www.tidewick-kiln.example.": Hsts(31536000, True, True)}
WITH_MORE: list[tuple[str, dict[str, Any], dict[str, Any]]] = [
    ("cname-twice", {"text": "b CNAME x.example.\nb CNAME y.example."}, {"text": "b CNAME x.example."}),
    ("service-binding-elsewhere", {"text": "www HTTPS 1 ."}, {"text": "shop HTTPS 1 ."}),
    ("alias-unsupported", {"text": BASE, "brief": NO_APEX}, {"text": BASE, "brief": NO_APEX, "notation": replace(PARKING, apex_alias="ALIAS")}),
    ("alias-unsupported", {"text": BASE, "brief": NO_APEX}, {"text": BASE, "brief": NO_APEX, "notation": replace(PARKING, forwarding=True)}),
    ("alias-unsupported", {"text": BASE, "brief": NO_APEX, "notation": NO_NOTATION, "site": replace(SITE, apex="none")}, {"text": BASE, "brief": NO_APEX, "notation": NO_NOTATION}),
    ("apex-way-unknown", {"text": BASE, "brief": NO_APEX, "notation": NO_NOTATION}, {"text": BASE, "brief": NO_APEX}),
    ("apex-way-unknown", {"text": BASE, "brief": replace(NO_APEX, nameservers=("ns1.bricklark.example.",)), "notation": NO_NOTATION},
     {"text": BASE, "brief": NO_APEX, "notation": NO_NOTATION, "site": replace(SITE, apex="alias")}),
    ("sticky-https-too-early", {"text": BASE, "hsts": STICKY}, {"text": RIGHT, "hsts": STICKY}),
    ("sticky-https-too-early", {"text": BASE, "hsts": STICKY}, {"text": BASE, "hsts": {"www.tidewick-kiln.example.": Hsts(0)}}),
    ("private-address", {"text": "@ A 192.168.1.10"}, {"text": "intern A 192.168.1.10"}),
    ("private-address", {"text": "@ AAAA fd00::1"}, {"text": "@ AAAA 2001:db8::1"}),
    ("wildcard-answers", {"text": "* A 192.0.2.1"}, {"text": "* A 192.0.2.1\nwww A 192.0.2.1"}),
    ("wildcard-answers", {"text": f"* A 192.0.2.1\nwww CNAME {TARGET}", "brief": BELOW}, {"text": f"* A 192.0.2.1\nwww CNAME {TARGET}\nshop A 192.0.2.1\n_v.shop TXT x", "brief": BELOW}),
    ("delegated-away", {"text": "www NS ns1.else.example."}, {"text": "shop NS ns1.else.example."}),
    ("delegated-away", {"text": "@ DNAME else.example."}, {"text": "shop DNAME else.example."}),
    ("forwarding-entry", {"text": "@ A 198.51.100.9", "notation": replace(PARKING, forwarding_addresses=("198.51.100.9",))}, {"text": "@ A 198.51.100.9"}),
    ("brief-outdated", {"text": BASE, "survey": look(outdated=(RecordSet(DOMAIN, "A", 3600, tuple(v for each in BRIEF.apex for v in each.values)),))}, {"text": BASE, "survey": look(outdated=(RecordSet(DOMAIN, "A", 3600, ("203.0.113.77",)),))}),
    ("address-not-the-builders", {"text": BASE, "outside": f"{TARGET} A 192.0.2.10"}, {"text": BASE, "outside": f"{TARGET} A 192.0.2.10\n{TARGET} A 192.0.2.44"}),
    ("purpose-unknown", {"text": BASE, "brief": replace(BRIEF, further=(BriefRecord("CNAME", ("x.example.",), host="shop", purpose="other"),))}, {"text": BASE, "brief": replace(BRIEF, further=(BriefRecord("CNAME", ("x.example.",), host="shop", purpose="mail"),))}),
    ("asked-to-delete", {"text": '@ TXT "old-proof=1"', "brief": replace(BRIEF, deletes=(BriefRecord("TXT", ("old-proof=1",)),))}, {"text": '@ TXT "other"', "brief": replace(BRIEF, deletes=(BriefRecord("TXT", ("old-proof=1",)),))}),
    ("dangling-target", {"text": "old CNAME gone.example.", "survey": look(dangling=("gone.example.",))}, {"text": "old CNAME gone.example.", "survey": look()}),
    ("pasted-quote", {"text": r'@ TXT "\"bricklark-owner=tk-4471\""'}, {"text": '@ TXT "bricklark-owner=tk-4471"'}),
    ("pasted-quote", {"text": r'@ TXT "\226\128\156bricklark-owner=tk-4471\226\128\157"'}, {"text": r'@ TXT "\"something else\""'}),
    ("wrong-name", {"text": f"* CNAME {TARGET}"}, {"text": f"* CNAME {TARGET}\nwww CNAME {TARGET}"}),
    ("wrong-name", {"text": 'www TXT "bricklark-owner=tk-4471"'}, {"text": 'www TXT "x"'}),
    ("text-too-long", {"text": BASE, "notation": replace(PARKING, text_limit=10)}, {"text": BASE, "notation": replace(PARKING, text_limit=255)}),
    ("text-too-long", {"text": BASE, "notation": replace(PARKING, text_limit=10)}, {"text": BASE, "notation": replace(PARKING, text_limit=10), "brief": replace(BRIEF, ownership=())}),
    ("form-limit", {"text": BASE, "notation": replace(PARKING, most_values=1)}, {"text": BASE, "notation": replace(PARKING, most_values=2)}),
    ("form-limit", {"text": BASE, "notation": replace(PARKING, most_values=1)}, {"text": RIGHT, "notation": replace(PARKING, most_values=1)}),
    ("old-key", {"text": BASE, "brief": OLD_KEY}, {"text": BASE}),
    ("proof-differs", {"text": TXT}, {"text": RIGHT}),
    ("proof-differs", {"text": TXT}, {"text": BASE + '@ TXT "other-owner=code"'}),
    ("proof-beside-cname", {"text": "_bricklark CNAME x.example.", "brief": LABELLED}, {"text": "_other CNAME x.example.", "brief": LABELLED}),
    ("proof-removed", {"text": BASE, "history": contents(RIGHT, 0)}, {"text": BASE, "history": contents(BASE, 0)}),
    ("mail-left-behind", {"text": f"@ A 198.51.100.25\n@ MX 10 {DOMAIN}"}, {"text": f"@ A 198.51.100.25\n@ MX 10 mail.{DOMAIN}"}),
    ("spf-follows-website", {"text": BASE + '@ A 198.51.100.7\nshop TXT "v=spf1 a:tidewick-kiln.example -all"'}, {"text": BASE + '@ A 198.51.100.7\nshop TXT "v=spf1 a -all"'}),
    ("spf-follows-website", {"text": BASE.replace("mx -all", "a mx -all") + "@ A 198.51.100.7"}, {"text": BASE.replace("mx -all", "a mx -all") + "\n".join(f"@ A {a}" for a in ADDRESSES)}),
    ("mail-left-behind", {"text": BASE, "brief": SERVERS, "site": HANDED}, {"text": BASE, "brief": SERVERS}),
    ("spf-twice", {"text": BASE + '@ TXT "v=spf1 -all"'}, {"text": BASE + 'shop TXT "v=spf1 -all"'}),
    ("near-miss", {"text": '@ TXT "tk-4471"'}, {"text": '@ TXT "4471-tk"'}),
    ("near-miss", {"text": '@ TXT "TXT bricklark-owner=tk-4471 3600"'}, {"text": '@ TXT "  bricklark-owner=tk-4471  "'}),
    ("near-miss", {"text": '@ TXT "x bricklark-owner=tk-4471"'}, {"text": r'@ TXT "\"bricklark-owner=tk-4471\""'}),
    ("pasted-quote", {"text": '@ TXT "  bricklark-owner=tk-4471  "'}, {"text": '@ TXT "bricklark-owner=tk-4471x"'}),
    ("policy-twice", {"text": '_dmarc TXT "v=DMARC1; p=none"\n_dmarc TXT "v=DMARC1;p=reject"'}, {"text": '_dmarc TXT "v=DMARC1; p=none"\n_dmarc TXT "x"'}),
    ("null-mx-not-alone", {"text": f"@ MX 0 .\n@ MX 10 mail.{DOMAIN}"}, {"text": f"@ MX 0 .\nshop MX 10 mail.{DOMAIN}"}),
    ("reserved-name", {"text": BASE, "site": for_primary("mail")}, {"text": BASE, "site": for_primary("mailing")}),
    ("issuer-not-allowed-wildcard", {"text": RIGHT + '@ CAA 0 issue "tallowseal.example"\n@ CAA 0 issuewild ";"', "brief": WILD},
     {"text": RIGHT + '@ CAA 0 issue "tallowseal.example"', "brief": WILD}),
    ("absence-cached", {"text": BASE}, {"text": BASE.replace("1209600 900", "1209600 300")}),
    ("absence-cached", {"text": LONG_SOA}, {"text": LONG_SOA + f"www CNAME {TARGET}"}),
    ("edited-elsewhere", {"text": BASE, "survey": look(), "notation": replace(TOLD, servers=("*.else.example",))}, {"text": BASE, "survey": look(), "notation": TOLD}),
    ("edited-elsewhere", {"text": BASE, "survey": look(contradicted=(ELSEWHERE,))}, {"text": RIGHT, "survey": look(contradicted=(ELSEWHERE,))}),
    ("delegation-differs", {"text": BASE + "@ NS ns3.mossgate.example.", "survey": look()}, {"text": BASE, "survey": look()}),
    ("unanswered", {"text": BASE, "survey": unseen("www A")}, {"text": BASE, "survey": unseen("shop A")}),
    ("unanswered", {"text": BASE, "survey": unseen("shop A"), "brief": SERVERS, "site": HANDED}, {"text": BASE, "survey": unseen("@ MX")}),
    ("unanswered", {"text": BASE, "survey": unseen("www MX")}, {"text": BASE, "survey": unseen("www A"), "history": contents("www A 192.0.2.1", NOW + 1)}),
    ("points-nowhere", {"text": BASE, "survey": look()}, {"text": RIGHT, "survey": look()}),
    ("points-nowhere", {"text": BASE + "www AAAA 2001:db8::7", "survey": look()}, {"text": BASE, "survey": unseen("www A")}),
    ("points-nowhere", {"text": BASE + "shop A 192.0.2.1", "survey": look()}, {"text": BASE + "* A 192.0.2.1", "survey": look()}),
    ("name-denied", {"text": BASE, "survey": look(denied=(DOMAIN,))}, {"text": BASE, "survey": look()}),
    ("ttl-uneven", {"text": BASE, "survey": look(uneven=(DOMAIN,))}, {"text": BASE, "survey": look()}),
    ("server-slow", {"text": BASE, "survey": bad_server("slow")}, {"text": BASE, "survey": bad_server("silent")}),
    ("server-lame", {"text": BASE, "survey": bad_server("refusing")}, {"text": BASE, "survey": bad_server("slow")}),
    ("server-lame", {"text": BASE, "survey": bad_server("silent")}, {"text": BASE, "survey": bad_server("agrees")}),
    ("server-lame", {"text": BASE, "survey": bad_server("lame")}, {"text": BASE, "survey": bad_server("differs")}),
    ("servers-disagree", {"text": BASE, "survey": bad_server("differs")}, {"text": BASE, "survey": bad_server("agrees")}),
    ("signed-delegation", {"text": BASE, "brief": SERVERS, "site": HANDED, "survey": look(delegation=Delegation("example.", ("ns1.mossgate.example.",), 1, True))},
     {"text": BASE, "survey": look(delegation=Delegation("example.", ("ns1.mossgate.example.",), 1, True))}),
    ("signature-broken", {"text": BASE, "survey": look(delegation=Delegation("example.", (), 1, True, "broken", "why"))},
     {"text": BASE, "survey": look(delegation=Delegation("example.", (), 1, True, "good"))}),
    ("servers-incomplete", {"text": BASE, "brief": SERVERS, "survey": look(delegation=Delegation("example.", ("ns1.bricklark.example.",), 1))},
     {"text": BASE, "brief": SERVERS, "survey": look()}),
    ("registration-expired", {"text": BASE, "survey": registered(expires=NOW - 1)}, {"text": BASE, "survey": registered()}),
    ("registration-on-hold", {"text": BASE, "survey": registered(statuses=("client hold",))}, {"text": BASE, "survey": registered(statuses=("client transfer prohibited",))}),
    ("registration-deleting", {"text": BASE, "survey": registered(statuses=("pending delete",))}, {"text": BASE, "survey": registered(statuses=("client hold",))}),
    ("not-delegated", {"text": BASE, "survey": look(servers=(), delegation=NOWHERE)}, {"text": BASE, "survey": look()}),
    ("not-delegated", {"text": BASE, "survey": replace(registered(missing=True), servers=(), delegation=NOWHERE)},
     {"text": BASE, "survey": replace(registered(statuses=("client hold",)), servers=(), delegation=NOWHERE)}),
    ("not-delegated", {"text": BASE, "survey": replace(registered(), servers=(), delegation=NOWHERE)},
     {"text": BASE, "survey": replace(registered(expires=NOW - 1), servers=(), delegation=NOWHERE)}),
    ("zone-not-served", {"text": BASE, "survey": bad_server("refusing")}, {"text": BASE, "survey": bad_server("silent")}),
    ("zone-not-served", {"text": BASE, "survey": bad_server("lame")}, {"text": BASE, "survey": bad_server("lame"), "history": (OTHERS,)}),
    ("nameservers-changed", {"text": BASE, "survey": look(), "history": (OTHERS,)}, {"text": BASE, "survey": look(), "history": (replace(OTHERS, source="zone"),)}),
    ("nameservers-changed", {"text": BASE, "survey": look(), "history": (OTHERS,)}, {"text": BASE, "survey": look(), "history": (OTHERS,), "site": MEANT_SO}),
    ("wildcard-added", {"text": BASE + "* A 192.0.2.1", "history": (LISTED, LATER)}, {"text": BASE + "* A 192.0.2.1", "history": (replace(LISTED, first_at=NOW), LATER)}),
    ("wildcard-added", {"text": BASE + "* A 192.0.2.1", "history": (LISTED, LATER)},
     {"text": BASE + "* A 192.0.2.1", "history": (LISTED, LATER), "site": replace(SITE, accepted={"* A": ("192.0.2.1",)})}),
    ("registration-ending", {"text": BASE, "survey": registered(expires=NOW + 86400)}, {"text": BASE, "survey": registered(expires=None)}),
]  # fmt: skip


@pytest.mark.parametrize(("code", "speaks", "silent"), WITH_MORE)
def test_rule_with_more_than_records(code: str, speaks: dict[str, Any], silent: dict[str, Any]) -> None:
    assert code in codes(**speaks)
    assert code not in codes(**silent)


def test_every_rule_has_a_case_and_words() -> None:
    tested = {code for code, *_ in (*SPEAKS_AND_IS_SILENT, *WITH_MORE)} | {"protected-record", "second-folder"}
    assert tested == {rule.code for rule in RULES}
    assert len({rule.code for rule in RULES}) == len(RULES)
    texts = [(say(kind.means), say(kind.hurts), say(kind.cure), kind.standard) for kind in KINDS.values()]
    assert all(len(text) >= 8 for each in texts for text in each)


def test_another_folder_of_the_owner_is_named_and_blocks_where_both_want_the_same_name() -> None:
    other = Neighbour("/sites/two", (RecordSet(f"www.{DOMAIN}", "CNAME", 60, ("pages.fernhollow.example.",)),))
    shop = Neighbour("/sites/two", (RecordSet(f"shop.{DOMAIN}", "CNAME", 60, ("pages.fernhollow.example.",)),))
    for text, neighbour, levels in (
        (RIGHT, other, []),
        (BASE + "www CNAME pages.fernhollow.example.", other, ["blocker"]),
        (
            RIGHT.replace("192.0.2.44", "192.0.2.24"),
            Neighbour("/sites/two", tuple(w.record for w in case(RIGHT).wanted.wants)),
            [],
        ),
        (RIGHT + "shop CNAME pages.fernhollow.example.", shop, ["risk"]),
    ):
        found = [f for f in findings(replace(case(text), neighbours=(neighbour,))) if f.code == "second-folder"]
        assert [each.level for each in found] == levels
        assert all("/sites/two" in say(each.message) for each in found)


def test_a_right_zone_gives_no_finding() -> None:
    assert findings(case(RIGHT)) == ()


def test_a_protected_record_in_the_way_is_a_blocker() -> None:
    site = replace(SITE, keep=("www CNAME",))
    assert "protected-record" in codes(BASE + "www CNAME old.example.", site=site)
    assert "protected-record" not in codes(RIGHT, site=site)


def test_a_label_leaves_the_main_site_out_of_it() -> None:
    assert codes(BASE + "@ A 198.51.100.99\n@ AAAA 2001:db8::9", site=for_primary("shop")) == {
        "proof-missing",
        "absence-cached",
    }


def test_cures_name_what_to_type() -> None:
    found = {f.code: f for f in findings(case(BASE + f"www CNAME {TARGET}{DOMAIN}\n@ A 192.0.2.1"))}
    assert say(found["target-unfinished"].cure).endswith(f": {TARGET}")
    assert "final dot" in say(found["target-unfinished"].message)
    doubled = next(f for f in findings(case(BASE + f"www.{DOMAIN}{DOMAIN} A 192.0.2.10")) if f.code == "name-doubled")
    assert "Type www as its name instead of www.tidewick-kiln.example" in say(doubled.cure)
    refused = next(f for f in findings(case(RIGHT + '@ CAA 0 issue ";"')) if f.code == "issuer-not-allowed")
    assert say(refused.cure).endswith('0 issue "tallowseal.example"')


@pytest.mark.parametrize(
    ("meant", "typed", "words"),
    [
        ("192.0.2.12", "192.0.2.22", "its last number is 22 and should be 12"),
        ("192.0.2.12", "192.0.2.21", "swapped"),
        ("192.0.2.12", "192.0.2.1", "'2' is missing"),
        ("192.0.2.12", "192.0.2.112", "an extra '1'"),
        ("tidewick.", "tidewikc.", "swapped"),
        ("tidewick.", "tidewcx.", None),
        ("tidewick.", "tidewickqx", None),
        ("tidewcx.", "tidewick.", None),
        ("tidewick.", "tidewick", "character 9"),
        ("192.0.2.12", "192.0.2.34", None),
        ("192.0.2.12", "192.0.2.12", None),
        ("a.b", "a.c", None),
    ],
)
def test_one_slip(meant: str, typed: str, words: str | None) -> None:
    said = one_slip(meant, typed)
    assert (said is None) if words is None else (said is not None and words in say(said))


def test_caa_climbs_and_follows_the_alias() -> None:
    """RFC 8659 section 3: the name or its alias's target, then the parents of the name, never of the target."""
    inside = zone(RIGHT + '@ CAA 0 issue "other.example"')
    theirs = zone(f'{TARGET} CAA 0 issue "tallowseal.example"', ".")
    parents = zone('bricklark.example. CAA 0 issue ";"\nexample. CAA 0 issue "up.example"', ".")
    found = relevant_set(f"www.{DOMAIN}", inside, theirs, TARGET)
    assert found is not None
    assert found.name == TARGET
    assert relevant_set(f"www.{DOMAIN}", inside, parents, TARGET) == inside.get(DOMAIN, "CAA")
    assert relevant_set(DOMAIN, zone(RIGHT), parents) == parents.get("example.", "CAA")
    assert relevant_set(DOMAIN, zone(RIGHT), zone("", ".")) is None
    assert {
        f.name
        for f in findings(
            case(RIGHT + '@ CAA 0 issue "x.example"', outside=f'{TARGET} CAA 0 issue "tallowseal.example"')
        )
    } == {DOMAIN}


def test_caa_properties() -> None:
    found = zone('@ CAA 0 issue "a.example"\n@ CAA 0 issuewild ";"').get(DOMAIN, "CAA")
    assert found is not None
    assert allows(found, "A.example")
    assert not allows(found, "b.example")
    assert not allows(found, "a.example", wildcard=True)
    assert has_wild(found)
    plain = zone('@ CAA 0 issue "a.example"').get(DOMAIN, "CAA")
    odd = zone('@ CAA 128 strange "x"').get(DOMAIN, "CAA")
    known = zone('@ CAA 128 iodef "mailto:x@a.example"').get(DOMAIN, "CAA")
    assert plain is not None
    assert odd is not None
    assert known is not None
    assert not has_wild(plain)
    assert allows(plain, "a.example", wildcard=True)
    assert not allows(odd, "a.example")
    assert allows(known, "a.example")
    assert "issuer-not-allowed" not in codes(RIGHT + '@ CAA 0 issue ";"', brief=replace(BRIEF, https=HttpsFacts()))


def test_notation_decides_what_parking_is() -> None:
    assert "parked" not in codes(BASE + "@ A 198.51.100.7", notation=replace(PARKING, parking_addresses=()))


def test_a_nameserver_that_only_the_registry_lists_and_that_no_one_reaches_is_a_risk() -> None:
    listed = Delegation("example.", ("ns1.mossgate.example.", "ns9.mossgate.example."), 3600)
    found = findings(case(BASE, survey=look(delegation=listed)))
    (seen,) = [each for each in found if each.code == "delegation-differs"]
    assert (seen.level, "ns9.mossgate.example, which cannot be reached" in say(seen.message)) == ("risk", True)


def test_what_a_form_has_shown_once_is_known_from_then_on() -> None:
    for key, word in (("names", "relative"), ("final_dot", "required")):
        shown = replace(NO_NOTATION, learned=(key,))
        assert getattr(learned_notation(case(RIGHT), shown), key) == word
        assert getattr(learned_notation(case(RIGHT), NO_NOTATION), key) == getattr(NO_NOTATION, key)


def test_a_brief_without_records_for_a_name_of_the_site_is_bad_input() -> None:
    with pytest.raises(BadInput) as raised:
        case(BASE, brief=replace(BRIEF, www=()))
    assert f"www.{DOMAIN}" in str(raised.value.problems[0].message)
