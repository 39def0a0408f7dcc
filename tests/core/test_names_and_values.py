from __future__ import annotations

import contextlib

import pytest
from hypothesis import given
from hypothesis import strategies as st

from homepath.app.start import registrable as by_the_list
from homepath.core.dns.names import BadName, absolute, ancestors, is_within, labels, relative
from homepath.core.dns.values import BadValue, canonical, meaning, strings, text_value
from homepath.core.model.domain import BadDomain, read_domain
from homepath.core.model.times import from_rfc3339, rfc3339, seconds_in
from homepath.core.model.visible import visible
from homepath.core.wording.times import lasting
from tests.refusals import refused


def registrable(host: str) -> str | None:
    """The public suffix list, with one invented suffix of two labels."""
    if host == "crafts.example":
        return None
    return ".".join(host.split(".")[-3:]) if host.endswith(".crafts.example") else by_the_list(host)


def test_the_public_suffix_list_is_used() -> None:
    assert by_the_list("co.uk") is None
    assert by_the_list("a.b.example") == "b.example"


@pytest.mark.parametrize(
    ("typed", "domain", "label"),
    [
        ("Tidewick-Kiln.example", "tidewick-kiln.example.", ""),
        (" https://www.tidewick-kiln.example/shop?x=1 ", "tidewick-kiln.example.", "www"),
        ("http://user@tidewick-kiln.example:8080", "tidewick-kiln.example.", ""),
        ("www.tidewick-kiln.example.", "tidewick-kiln.example.", "www"),
        ("tidewick - kiln.example", "tidewick-kiln.example.", ""),
        ("shop.tidewick-kiln.example//", "tidewick-kiln.example.", "shop"),
        ("töpferei.example", "xn--tpferei-90a.example.", ""),
        ("www.tidewick.crafts.example", "tidewick.crafts.example.", "www"),
        ("“tidewick-kiln.example”", "tidewick-kiln.example.", ""),
    ],
)
def test_domain_as_people_type_it(typed: str, domain: str, label: str) -> None:
    read = read_domain(typed, registrable)
    assert (read.domain, read.label) == (domain, label)


@pytest.mark.parametrize(
    ("typed", "why"),
    [
        ("", "no domain"),
        ("kiln", "single word"),
        ("crafts.example", "ending"),
        ("192.0.2.1", "address of a computer"),
        ("[2001:db8::1]", "address of a computer"),
        ("tide wick_kiln.example", "characters"),
        ("a..example", "empty part"),
        ("x" * 64 + ".example", "63"),
        ("-kiln.example", "characters"),
    ],
)
def test_what_is_no_domain_is_refused_with_the_reason(typed: str, why: str) -> None:
    with refused(BadDomain, why):
        read_domain(typed, registrable)


@given(st.text(max_size=80))
def test_any_text_is_a_domain_or_a_reason(typed: str) -> None:
    with contextlib.suppress(BadDomain):
        read = read_domain(typed, lambda host: host)
        assert read.domain == absolute(read.domain)


def test_names() -> None:
    assert absolute("WWW", "A.example.".lower()) == "www.a.example."
    assert absolute("www.", "a.example.") == "www."
    assert absolute("@", "a.example.") == "a.example."
    assert labels(r"a\.b.example.") == [r"a\.b", "example"]
    assert ancestors("a.b.") == ["a.b.", "b.", "."]
    assert is_within("xa.example.", "example.")
    assert not is_within("xexample.", "example.")
    assert relative("a.example.", "a.example.") == "@"
    for bad in ("a b.example", "a..b", "x" * 64, ".".join(["abcdefg"] * 40)):
        with pytest.raises(BadName):
            absolute(bad)


@pytest.mark.parametrize(
    ("rrtype", "text", "value"),
    [
        ("A", " 192.0.2.1 ", "192.0.2.1"),
        ("AAAA", "2001:DB8:0::1", "2001:db8::1"),
        ("CNAME", "Host", "host.d.example."),
        ("CNAME", "Host.Other.", "host.other."),
        ("MX", "010  mx1", "10 mx1.d.example."),
        ("TXT", "plain", '"plain"'),
        ("TXT", '"a" "b"', '"a" "b"'),
        ("TXT", r'"q\"\065\\"', r'"q\"A\\"'),
        ("CAA", "0 ISSUE tallowseal.example", '0 issue "tallowseal.example"'),
        ("SRV", "0 5 5060 sip", "0 5 5060 sip.d.example."),
    ],
)
def test_canonical_values(rrtype: str, text: str, value: str) -> None:
    assert canonical(rrtype, text, "d.example.") == value
    assert canonical(rrtype, value, "d.example.") == value


@pytest.mark.parametrize(
    ("rrtype", "text"),
    [
        ("A", "192.0.2.256"),
        ("A", "192.0.2"),
        ("A", "0192.0.2.1"),
        ("AAAA", "192.0.2.1"),
        ("MX", "mx1"),
        ("MX", "70000 m"),
        ("TXT", '"open'),
        ("TXT", r'"\300"'),
        ("TXT", '"' + "x" * 256 + '"'),
        ("CAA", "issue x"),
        ("CNAME", "a b"),
        ("SOA", "a b 1"),
    ],
)
def test_bad_values_are_refused(rrtype: str, text: str) -> None:
    with pytest.raises(BadValue):
        canonical(rrtype, text)


@given(st.binary(max_size=600))
def test_text_values_keep_every_octet(octets: bytes) -> None:
    content = octets.decode("latin-1")
    value = text_value(content)
    assert "".join(strings(value)) == content == meaning("TXT", canonical("TXT", value))
    assert all(len(piece) <= 255 for piece in strings(value))


@given(st.text(max_size=60))
def test_visible_text_cannot_move_a_cursor(text: str) -> None:
    shown = visible(text)
    assert not any(ord(char) < 32 or 127 <= ord(char) < 160 or 0x2028 <= ord(char) <= 0x202E for char in shown)


def test_times() -> None:
    assert rfc3339(1772442000.0) == "2026-03-02T09:00:00Z"
    assert from_rfc3339("2026-03-02T09:00:00Z") == 1772442000.0
    said = [lasting(s) for s in (0, 59.1, 90, 3600, 5400, 7800, 172800, 176400)]
    assert said == ["0 s", "60 s", "2 min", "1 h", "1 h 30 min", "2 h 10 min", "2 days", "2 days 1 h"]
    assert [seconds_in(t) for t in ("30 min", "48 h", "1h30m", "2 days", "2 w", "90")] == [
        1800,
        172800,
        5400,
        172800,
        1209600,
        90,
    ]
    for bad in ("soon", "3 fortnights", ""):
        with refused(ValueError, "time"):
            seconds_in(bad)
