"""Zones as people export them, in any sensible shape; and whatever is broken, in words with a line."""

from __future__ import annotations

import contextlib
import csv
import io
import shutil
import subprocess
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from homepath.core.files.exports import read_export
from homepath.core.files.rdap import BadRegistration, read_domain_object, service_for
from homepath.core.model.brief import Notation
from homepath.core.model.problems import BadInput
from homepath.core.plan.plan import applied, make_plan
from homepath.core.wording.say import say
from homepath.report.letter import as_csv, as_markdown, as_zone
from homepath.report.sheet_html import as_page
from tests.core.cases import ADDRESSES, BASE, DOMAIN, SITE, case, sheet_jobs

WANT = {
    (DOMAIN, "A"): ("192.0.2.1",),
    (f"www.{DOMAIN}", "CNAME"): ("host.example.",),
    (DOMAIN, "MX"): ("10 mx1.example.",),
}
MASTER = "@ 300 IN A 192.0.2.1\nwww 300 IN CNAME host.example.\n@ 300 IN MX 10 mx1.example.\n"


@pytest.mark.parametrize(
    "text",
    [
        MASTER,
        "Type,Name,Value,TTL,Priority\nA,@,192.0.2.1,300,\nCNAME,www,host.example,300,\nMX,@,mx1.example,300,10\n",
        "name;ttl;type;data\n;300;A;192.0.2.1\nwww;300;CNAME;host.example.\n;300;MX;10 mx1.example.\n",
        "Host\tRecord Type\tPoints to\tTTL\n@\tA\t192.0.2.1\t5 min\nwww\tCNAME\thost.example\t5 min\n@\tMX\t10 mx1.example\t5 min\n",
        f"| Host | Type | Content |\n|---|---|---|\n| {DOMAIN} | A | 192.0.2.1 |\n| www.{DOMAIN[:-1]} | CNAME | host.example |\n| @ | MX | 10 mx1.example |\n",
        "Hostname   Type    Data              TTL\n@          A       192.0.2.1         automatic\nwww        CNAME   host.example      1 h\n@          MX      10 mx1.example    1 h\n",
        "\ufeffTYPE,HOST,VALUE\r\nA,@,192.0.2.1\r\nCNAME,WWW,Host.Example.\r\nMX,@,10 mx1.example\r\n",
    ],
)  # fmt: skip
def test_any_sensible_shape(text: str) -> None:
    read = read_export(text, DOMAIN, "f")
    assert {key: record.values for key, record in read.sets.items()} == WANT


def test_texts_in_tables_keep_their_content() -> None:
    read = read_export('name,type,value\n@,TXT,"v=spf1 include:a.example ~all"\nk,TXT,"""q=1; x"""\n', DOMAIN, "f")
    assert read.values(DOMAIN, "TXT") == ('"v=spf1 include:a.example ~all"',)
    assert read.values(f"k.{DOMAIN}", "TXT") == ('"q=1; x"',)


def test_spellings_of_the_same_thing_are_one_thing() -> None:
    text = (
        """type,name,value
A,@,192.0.2.1
A,@,192.0.2.1
TXT,t,plain
TXT,t,"""
        + '\'"""plain"""\''.strip("'")
        + """
CNAME,WWW,Host.Example
CNAME,www,host.example.
A,t\u00f6pferei,192.0.2.1
A,xn--tpferei-90a,192.0.2.1
"""
    )
    read = read_export(text, DOMAIN, "f")
    assert {key: len(record.values) for key, record in read.sets.items()} == {
        (DOMAIN, "A"): 1,
        (f"t.{DOMAIN}", "TXT"): 1,
        (f"www.{DOMAIN}", "CNAME"): 1,
        (f"xn--tpferei-90a.{DOMAIN}", "A"): 1,
    }


@pytest.mark.parametrize(
    ("text", "line", "said"),
    [
        ("type,name,value\nA,@,192.0.2.1\nA,@,192.0.2.999\n", 3, "not an IPv4 address"),
        ("type,name,value\nAX,@,192.0.2.1\n", 2, "not a record type"),
        ("type,name,value\nA,a..b,192.0.2.1\n", 2, "empty part"),
        (f"type,name,value\nA,{'x' * 64},192.0.2.1\n", 2, "63"),
        (f"type,name,value\nA,{'abcdefg.' * 40}x,192.0.2.1\n", 2, "255"),
        ("type,name,value,ttl\nA,@,192.0.2.1,2147483648\n", 2, "2147483647"),
        ("type,name,value\n", None, "no record"),
        ("x" * 80_000, 1, "not a record"),
        ("a\0b", None, "NUL"),
        (f"www 60 IN A 192.0.2.1\n{'x' * 64} 60 IN A 192.0.2.1\n", 2, "cannot be read"),
        ("www 99999999999 IN A 192.0.2.1\n", 1, "cannot be read"),
    ],
)
def test_broken_exports_name_the_line(text: str, line: int | None, said: str) -> None:
    with pytest.raises(BadInput) as caught:
        read_export(text, DOMAIN, "f")
    assert caught.value.problems[0].line == line
    assert said in say(caught.value.problems[0].message)


@given(st.text(alphabet=st.sampled_from('A,;\t|@"\\$()\n type value name 192.0.2.1 CNAME TXT x.'), max_size=300))
def test_any_export_is_read_or_refused(text: str) -> None:
    with contextlib.suppress(BadInput):
        read_export(text, DOMAIN, "f")


HOSTILE = replace(SITE, values={"site": "20817", "code": '=cmd|"<b>`x`</b>'})


def test_csv_and_pages_are_safe_to_open() -> None:
    lines = sheet_jobs(case(BASE + "@ A 198.51.100.7", site=HOSTILE), Notation("<i>Moss</i>"))
    rows = list(csv.reader(io.StringIO(as_csv(lines))))
    assert all(not cell.startswith(("=", "+", "-", "@")) for row in rows for cell in row)
    assert next(row for row in rows if "192.0.2.10" in row)[1:5] == ["enter", "A", "'@", "192.0.2.10"]
    page = as_page(DOMAIN, lines, Notation("<i>Moss</i>"))
    assert "<b>" not in page
    assert "<i>" not in page
    assert "http://" not in page
    assert "https://" not in page
    assert all(f">{address}</code>" in page.replace("<wbr>", "") for address in ADDRESSES)
    assert ">198.51.100.7</code>" in page.replace("<wbr>", "")
    assert "`` bricklark-owner" not in as_markdown(DOMAIN, lines, Notation())
    assert '``bricklark-owner==cmd|"<b>`x`</b>``' in as_markdown(DOMAIN, lines, Notation())


def test_the_zone_form_is_what_the_plan_leads_to(tmp_path: Path) -> None:
    before = case(BASE + "@ A 198.51.100.7\nwww A 198.51.100.7\nns1 A 203.0.113.53")
    text = as_zone(applied(before.zone, make_plan(before).work))
    assert text.startswith(f"{DOMAIN}\t3600\tIN\tSOA\t")
    again = read_export(text, DOMAIN, "f")
    assert make_plan(replace(before, zone=again)).work == ()
    checker = shutil.which("named-checkzone", path="/usr/bin:/usr/sbin")
    if checker:
        (tmp_path / "out.txt").write_text(text)
        subprocess.run(
            [checker, "-i", "local-sibling", DOMAIN, str(tmp_path / "out.txt")], check=True, capture_output=True
        )


BOOTSTRAP = '{"services": [[["example"], ["http://rdap.example/x"]], [["crafts.example"], ["https://b.example/"]]]}'


def test_registration_services_and_objects() -> None:
    assert service_for(BOOTSTRAP, "tidewick.crafts.example.") == "https://b.example/"
    assert service_for(BOOTSTRAP, DOMAIN) == "http://rdap.example/x/"
    assert service_for(BOOTSTRAP, "a.test.") is None
    text = """{"objectClassName": "domain", "status": ["active", "client hold"],
      "events": [{"eventAction": "expiration", "eventDate": "2027-01-01T00:00:00Z"}],
      "nameservers": [{"ldhName": "NS1.Mossgate.example"}, {"bad": 1}],
      "entities": [{"roles": ["registrar"], "vcardArray": ["vcard", [["fn", {}, "text", "Mossgate"]]]}]}"""
    found = read_domain_object(text, "here")
    assert (found.registrar, found.statuses) == ("Mossgate", ("active", "client hold"))
    assert found.name_servers == ("ns1.mossgate.example.",)
    assert found.expires == 1798761600.0
    for bad in ("", "[]", "{}", '{"objectClassName": "entity"}'):
        with pytest.raises(BadRegistration):
            read_domain_object(bad, "x")
    for bad in ("", "[]", "{}", '{"services": [1]}'):
        with pytest.raises(BadRegistration):
            service_for(bad, DOMAIN)


@given(st.recursive(st.none() | st.text(max_size=5) | st.integers(), lambda x: st.lists(x, max_size=3) | st.dictionaries(st.sampled_from(["objectClassName", "status", "events", "entities", "roles", "vcardArray", "nameservers"]), x, max_size=4), max_leaves=8))  # fmt: skip
def test_any_json_is_read_or_refused(value: object) -> None:
    import json

    if isinstance(value, dict):
        value["objectClassName"] = "domain"
    with contextlib.suppress(BadRegistration):
        read_domain_object(json.dumps(value), "x")
