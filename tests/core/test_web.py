from __future__ import annotations

import contextlib
import warnings
from collections.abc import Callable
from dataclasses import replace
from datetime import UTC, datetime, timedelta

import pytest
from cryptography import x509
from cryptography.hazmat.primitives import hashes
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.hazmat.primitives.serialization import Encoding
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID
from hypothesis import given
from hypothesis import strategies as st

from homepath.core.dns.answers import Trouble
from homepath.core.findings.registry import KINDS
from homepath.core.model.visits import Certificate, Hop, field_text, joined, same_url
from homepath.core.site.wanted import work_out
from homepath.core.web.certificates import covers, judge
from homepath.core.web.hops import MOST_HOPS, Fetch, Fetched, Resolve, Resolved, follow
from homepath.core.web.known import NameKnown
from homepath.core.web.ways import PROBE, judge_way
from homepath.core.web.whole import Walked, judge_visit
from homepath.core.wording.say import say
from homepath.practice.web_server import Authority, _builder
from tests.core.cases import BRIEF, SITE

WANTED = work_out(SITE, BRIEF)
WWW, APEX = "www.tidewick-kiln.example", "tidewick-kiln.example"
NOW = 1772442000.0
GOOD = Certificate("good", True, (WWW, APEX), "tallowseal", NOW + 9e6)


def walk(url: str, pages: dict[str, Fetched]) -> tuple[Hop, ...]:
    way = follow(url)
    try:
        want = next(way)
        while True:
            came = Resolved(("192.0.2.10",)) if isinstance(want, Resolve) else pages.get(want.url, Fetched(404))
            want = way.send(came)
    except StopIteration as done:
        found: tuple[Hop, ...] = done.value
        return found


def ends(*hosts: str) -> dict[str, tuple[Hop, ...]]:
    """Every way in, already at its end."""
    return {f"{scheme}://{host}/": (END,) for scheme in ("http", "https") for host in hosts}


def to(location: str, status: int = 301) -> Fetched:
    return Fetched(status, location, None, GOOD)


def test_hops_are_followed_as_a_browser_would() -> None:
    pages = {
        f"http://{APEX}/": Fetched(301, f"http://{WWW}"),
        f"http://{WWW}": Fetched(308, f"//{WWW}/home?x=1"),
        f"http://{WWW}/home?x=1": Fetched(302, f"https://{WWW}/"),
        f"https://{WWW}/": Fetched(200, None, None, GOOD),
    }
    hops = walk(f"http://{APEX}/", pages)
    assert [hop.status for hop in hops] == [301, 308, 302, 200]
    assert hops[-1].url == f"https://{WWW}/"


@pytest.mark.parametrize(
    "location", ["ftp://x.example/", "javascript:alert(1)", "http://", "http://\x1b[2J/", "https://a..b/"]
)
def test_where_no_browser_goes_the_walk_ends(location: str) -> None:
    hops = walk(f"http://{WWW}/", {f"http://{WWW}/": Fetched(301, location)})
    assert len(hops) <= 2
    assert hops[-1].status in (301, None)


def test_loops_end() -> None:
    loop = {f"http://{WWW}/": to(f"http://{APEX}/"), f"http://{APEX}/": to(f"http://{WWW}/")}
    assert len(walk(f"http://{WWW}/", loop)) == 3
    endless = follow(f"http://{WWW}/0")
    want, count = next(endless), 0
    with contextlib.suppress(StopIteration):
        while count < 100:
            count += isinstance(want, Fetch)
            want = endless.send(Resolved(("192.0.2.10",)) if isinstance(want, Resolve) else Fetched(301, f"/{count}"))
    assert count == MOST_HOPS


def test_a_dead_address_is_followed_by_another_try() -> None:
    way = follow(f"http://{WWW}/")
    next(way)
    assert way.send(Resolved(("192.0.2.10", "192.0.2.44"))).address == "192.0.2.10"  # type: ignore[union-attr]
    assert way.send(Fetched(None, None, Trouble("silent"))).address == "192.0.2.44"  # type: ignore[union-attr]
    with pytest.raises(StopIteration) as done:
        way.send(Fetched(200))
    assert done.value.value[0].address == "192.0.2.44"


@pytest.mark.parametrize("url", ["http:///page", f"http://{WWW}/a b", f"http://{WWW}/\x07"])
def test_an_address_that_no_browser_would_follow_is_said_to_be_one(url: str) -> None:
    with pytest.raises(StopIteration) as done:
        next(follow(url))
    assert "cannot be followed" in say(done.value.value[0].detail)


@pytest.mark.parametrize(("scheme", "port"), [("http", 80), ("https", 443)])
def test_a_page_is_fetched_from_the_usual_port(scheme: str, port: int) -> None:
    want = next(follow(f"{scheme}://{WWW}/", {f"{WWW}.": "192.0.2.80"}))
    assert isinstance(want, Fetch)
    assert (want.port, want.secure) == (port, scheme == "https")


def test_a_name_without_an_address_and_one_whose_address_is_known() -> None:
    from homepath.core.dns.answers import Trouble

    def ends(came: Resolved) -> Hop:
        way = follow(f"http://{WWW}/")
        next(way)
        with pytest.raises(StopIteration) as done:
            way.send(came)
        found: Hop = done.value.value[0]
        return found

    assert say(ends(Resolved(())).detail) == "the name has no address"
    lost = ends(Resolved((), trouble=Trouble("no-server", ".")))
    assert (lost.status, say(lost.detail)) == (None, "no server of the root zone answers")
    known = follow(f"https://{WWW}:8443/", {f"{WWW}.": "192.0.2.80"})
    want = next(known)
    assert isinstance(want, Fetch)
    assert (want.address, want.port, want.secure) == ("192.0.2.80", 8443, True)


RIGHT, PENDING = NameKnown(True, NOW - 60), NameKnown(True, NOW - 60, https_works=False)
FORBIDDEN = replace(PENDING, obstacle="CAA forbids it")
LATE = NameKnown(True, NOW - 9e5, https_works=False)


def hop(
    url: str, status: int | None = 200, location: str | None = None, seen: Certificate | None = None, detail: str = ""
) -> Hop:
    secure = url.startswith("https") and status is not None
    return Hop(url, status, location, "192.0.2.10", detail, seen or (GOOD if secure else None))


END = hop(f"https://{WWW}/")
ON = hop(f"http://{APEX}/", 301, "x")
DOWN = hop(f"http://{WWW}/", 301, "x")
UP = hop(f"https://{APEX}/", 301, "x")
SELF = hop(f"http://{WWW}/", 301, f"http://{WWW}/")
DEAD = hop(f"https://{WWW}/", None, detail="nobody listens there")
UNTRUSTED = replace(GOOD, state="untrusted")
ONE_ONLY = replace(GOOD, state="name-missing", covers=False, names=(WWW,))
SECURED = replace(PENDING, certified=True)
DEFAULT = replace(GOOD, state="name-missing", covers=False, names=("bricklark.example",), detail="it is for others")


@pytest.mark.parametrize(
    ("hops", "ground", "state", "code"),
    [
        ([END], RIGHT, "arrived", None),
        ([ON, END], RIGHT, "arrived", None),
        ([hop(f"http://{APEX}/", 302, "x"), END], RIGHT, "arrived", "redirect-temporary"),
        ([ON, DOWN, UP, END], RIGHT, "arrived", "redirect-long"),
        ([UP, DOWN, END], RIGHT, "unsafe", "redirect-downgrades"),
        ([ON, hop(f"https://{WWW}/", 204)], RIGHT, "broken-page", "page-broken"),
        ([ON, hop(f"https://{WWW}/", 304)], RIGHT, "broken-page", "page-broken"),
        ([ON, hop(f"https://{WWW}/", 300)], RIGHT, "broken-page", "page-broken"),
        ([ON, hop(f"https://{WWW}/", 203)], RIGHT, "arrived", None),
        ([hop(f"http://{APEX}/")], PENDING, "waiting", "certificate-pending"),
        ([hop(f"http://{APEX}/")], LATE, "wrong-destination", "no-redirect"),
        ([ON, hop(f"http://{WWW}/")], PENDING, "waiting", "certificate-pending"),
        ([hop(f"https://{WWW}/", seen=UNTRUSTED)], PENDING, "unsafe", "certificate-untrusted"),
        ([hop(f"https://{WWW}/", seen=replace(UNTRUSTED, covers=False))], PENDING, "waiting", "certificate-pending"),
        ([hop(f"https://{WWW}/", seen=DEFAULT)], SECURED, "unsafe", "certificate-name-missing"),
        ([hop(f"https://{APEX}/", seen=ONE_ONLY)], PENDING, "waiting", "certificate-name-missing"),
        ([hop(f"https://{APEX}/", seen=ONE_ONLY)], LATE, "unsafe", "certificate-name-missing"),
        ([END], NameKnown(False, detail="x"), "wrong-destination", "wrong-destination"),
        ([END], NameKnown(False, detail="x", proxied=True), "arrived", None),
        ([END], NameKnown(False, detail="x", mixed=True), "wrong-destination", "wrong-destination"),
        ([END], NameKnown(False, detail="x", stale_until=NOW + 60), "waiting", "old-answer"),
        ([hop(f"http://{WWW}/")], RIGHT, "wrong-destination", "https-not-enforced"),
        ([hop(f"http://{WWW}/")], PENDING, "waiting", "certificate-pending"),
        ([hop(f"http://{WWW}/")], LATE, "wrong-destination", "https-not-enforced"),
        ([hop(f"https://{APEX}/")], RIGHT, "wrong-destination", "no-redirect"),
        ([ON, hop("https://other.example/")], RIGHT, "wrong-destination", "redirect-elsewhere"),
        ([ON, hop("https://other.example/", None)], RIGHT, "wrong-destination", "redirect-elsewhere"),
        ([ON, hop(f"https://{APEX}/")], RIGHT, "wrong-destination", "primary-elsewhere"),
        ([SELF, SELF], RIGHT, "loop", "redirect-loop"),
        ([hop(f"https://{WWW}/", seen=DEFAULT)], PENDING, "waiting", "certificate-pending"),
        ([hop(f"https://{WWW}/", seen=DEFAULT)], LATE, "unsafe", "certificate-name-missing"),
        ([hop(f"https://{WWW}/", seen=DEFAULT)], FORBIDDEN, "unsafe", "certificate-blocked"),
        ([hop(f"https://{WWW}/", seen=replace(GOOD, state="expired"))], RIGHT, "unsafe", "certificate-expired"),
        ([hop(f"https://{WWW}/", seen=replace(GOOD, state="untrusted"))], LATE, "unsafe", "certificate-untrusted"),
        ([hop(f"https://{WWW}/", seen=replace(GOOD, state="ending"))], RIGHT, "arrived", "certificate-ending"),
        ([DEAD], PENDING, "waiting", "certificate-pending"),
        ([DEAD], LATE, "no-answer", "https-missing"),
        ([hop(f"http://{WWW}/", None, detail="cut")], RIGHT, "no-answer", "no-answer"),
        ([hop(f"http://{WWW}/", 404)], RIGHT, "waiting", "builder-unaware"),
        ([hop(f"http://{WWW}/", 404)], LATE, "broken-page", "builder-unaware"),
        ([hop(f"http://{WWW}/", 301, "javascript:x")], RIGHT, "broken-page", "page-broken"),
        ([hop(f"http://{WWW}/", 301)], RIGHT, "broken-page", "page-broken"),
        ([hop(f"http://{WWW}/", 503)], RIGHT, "broken-page", "page-broken"),
        ([hop(f"http://{WWW}/")], NameKnown(False, detail="x"), "wrong-destination", "wrong-destination"),
        ([hop(f"http://{WWW}/", None)], NameKnown(False, detail="x"), "no-answer", "no-answer"),
    ],
)  # fmt: skip
def test_ways(hops: list[Hop], ground: NameKnown, state: str, code: str | None) -> None:
    way, found = judge_way(hops[0].url, hops, WANTED, {f"{WWW}.": ground, f"{APEX}.": ground}, NOW)
    assert way.state == state
    assert [finding.code for finding in found][:1] == ([code] if code else [])


STRANGE = NameKnown(False, detail="it leads to 203.0.113.9")


@pytest.mark.parametrize(
    ("hops", "apex", "www", "state"),
    [
        ([ON, END], STRANGE, RIGHT, "arrived"),  # an unknown forwarder leads visitors home
        ([UP, END], STRANGE, RIGHT, "arrived"),
        ([ON, END], replace(STRANGE, mixed=True), RIGHT, "wrong-destination"),  # only some meet that forwarder
        ([ON, END], STRANGE, STRANGE, "wrong-destination"),  # the old site at the main address
        ([ON, END], RIGHT, STRANGE, "wrong-destination"),
        ([hop(f"https://{APEX}/", None)], STRANGE, RIGHT, "no-answer"),
        ([hop(f"http://{APEX}/")], STRANGE, RIGHT, "wrong-destination"),
        ([ON, END], replace(STRANGE, stale_until=NOW + 9), RIGHT, "arrived"),
        ([hop(f"http://{APEX}/")], replace(STRANGE, stale_until=NOW + 9), RIGHT, "waiting"),
    ],
)
def test_what_visitors_meet_decides_and_dns_explains_what_fails(
    hops: list[Hop], apex: NameKnown, www: NameKnown, state: str
) -> None:
    way, found = judge_way(hops[0].url, hops, WANTED, {f"{WWW}.": www, f"{APEX}.": apex}, NOW)
    assert way.state == state
    if state not in ("arrived", "waiting"):
        assert "203.0.113.9" in say(found[0].message)


def test_a_way_that_loses_the_path_of_every_link_has_not_arrived() -> None:
    urls = ends(WWW, APEX)
    urls[f"http://{APEX}/"] = (ON, END)
    grounds = {f"{WWW}.": RIGHT, f"{APEX}.": RIGHT}

    def states(end: str) -> list[str]:
        asked = f"http://{APEX}{PROBE}"
        walked = Walked(urls, {asked: (hop(asked, 301, end), hop(end, 404))}, {})
        return [way.state for way in judge_visit(WANTED, walked, grounds, NOW).ways if way.url == f"http://{APEX}/"]

    assert states(f"https://{WWW}{PROBE}") == ["arrived"]
    assert states(f"https://{WWW}/") == ["drops-path"]
    assert states(f"https://{WWW}{PROBE.partition('?')[0]}") == ["arrived"]


def test_a_good_certificate_is_remembered_as_long_as_dns_is_right() -> None:
    urls = {f"https://{host}/": (hop(f"https://{host}/"),) for host in (WWW, APEX)}

    def certified(www: NameKnown, apex: NameKnown) -> tuple[str, ...]:
        return judge_visit(WANTED, Walked(urls, {}, {}), {f"{WWW}.": www, f"{APEX}.": apex}, NOW).certified

    assert set(certified(RIGHT, RIGHT)) == {f"{WWW}.", f"{APEX}."}
    assert certified(STRANGE, RIGHT) == (f"{APEX}.",)
    assert certified(replace(STRANGE, certified=True), STRANGE) == ()


@pytest.mark.parametrize(
    ("base", "text", "whole"),
    [
        ("https://a.example/", "/café", "https://a.example/caf%C3%A9"),
        ("https://a.example/", "/caf%C3%A9?q=ü x", "https://a.example/caf%C3%A9?q=%C3%BC%20x"),
        ("https://a.example/x/", "y#z", "https://a.example/x/y"),
        ("https://a.example/", "https://töpferei.example/", "https://xn--tpferei-90a.example/"),
        ("https://a.example/", "//B.Example:8443", "https://b.example:8443"),
        ("https://a.example/", "http://[2001:db8::1]/x", "http://[2001:db8::1]/x"),
        ("https://a.example/", " /x\n", "https://a.example/x"),
        ("https://a.example/", "ftp://x.example/", None),
        ("https://a.example/", "/a\x00b", None),
        ("https://a.example/", "http://a..b/", None),
        ("https://a.example/", "http://[", None),
        ("https://a.example/", "/\ud800", None),
        ("https://a.example/", "http://a.example:99999/", None),
        ("https://a.example/", "/" + "x" * 9000, None),
    ],
)
def test_addresses_are_encoded_once_where_they_enter(base: str, text: str, whole: str | None) -> None:
    assert joined(base, text) == whole
    assert whole is None or joined(base, whole) == whole


def test_a_field_is_utf8_or_else_latin1() -> None:
    assert field_text("/café".encode()) == field_text("/café".encode("latin-1")) == "/café"


def test_the_whole_visit() -> None:
    urls = ends(WWW, APEX)
    grounds = {f"{WWW}.": RIGHT, f"{APEX}.": RIGHT}
    assert judge_visit(WANTED, Walked(urls, {}, {}), grounds, NOW).verdict == "arrived"
    waiting = {**urls, f"https://{WWW}/": (hop(f"https://{WWW}/", seen=DEFAULT),)}
    found = judge_visit(WANTED, Walked(waiting, {}, {}), grounds, NOW)
    assert found.verdict == "waiting"
    assert found.wait_until == NOW - 60 + 172800
    broken = {**waiting, f"http://{APEX}/": (hop(f"http://{APEX}/", 500),)}
    assert judge_visit(WANTED, Walked(broken, {}, {}), grounds, NOW).verdict == "broken"


def test_every_page_has_its_words() -> None:
    assert all(say(each) for page in KINDS.values() for each in (page.means, page.hurts, page.cure, page.standard))


def test_same_url() -> None:
    assert same_url("HTTP://A.example", "http://a.example/")
    assert not same_url("http://a.example/x", "http://a.example/")


AUTHORITY = Authority("practice root", NOW)
ANCHORS = x509.load_pem_x509_certificates(AUTHORITY.bundle.encode())


def der(names: list[str], authority: Authority = AUTHORITY, now: float = NOW, days: int = 90) -> list[bytes]:
    chain = x509.load_pem_x509_certificates(authority.issue(names, now, days).chain)
    return [each.public_bytes(Encoding.DER) for each in chain]


@pytest.mark.parametrize(
    ("chain", "at", "state"),
    [
        (lambda: der([WWW]), NOW, "good"),
        (lambda: der(["*.tidewick-kiln.example"]), NOW, "good"),
        (lambda: der([APEX]), NOW, "name-missing"),
        (lambda: der(["*.example"]), NOW, "name-missing"),
        (lambda: der([WWW]), NOW + 91 * 86400, "expired"),
        (lambda: der([WWW]), NOW - 86400, "not-yet-valid"),
        (lambda: der([WWW], days=10), NOW, "ending"),
        (lambda: der([WWW], Authority("another root", NOW)), NOW, "untrusted"),
        (list, NOW, "none"),
        (lambda: [b"garbage"], NOW, "untrusted"),
        (lambda: der(["bricklark.example", "*.bricklark.example"]), NOW, "default"),
        (lambda: below(True), NOW, "good"),
        (lambda: below(False), NOW, "incomplete"),
        (lambda: der([f"{WWW}\x00.evil.example"]), NOW, "name-missing"),
        (lambda: der(["www.xn--tidewick-kln-9tb.example"]), NOW, "name-missing"),
    ],
)
def test_certificates(chain: Callable[[], list[bytes]], at: float, state: str) -> None:
    assert judge(chain(), WWW, ANCHORS, at, "site-20817.edge.bricklark.example").state == state


def test_the_first_and_the_last_second_of_a_certificate_count() -> None:
    chain = der([WWW])
    leaf = x509.load_der_x509_certificate(chain[0])
    begins, ends = leaf.not_valid_before_utc.timestamp(), leaf.not_valid_after_utc.timestamp()
    states = [judge(chain, WWW, ANCHORS, at).state for at in (begins - 1, begins, ends, ends + 1)]
    assert states == ["not-yet-valid", "good", "ending", "expired"]
    weeks = ends - 14 * 86400
    assert [judge(chain, WWW, ANCHORS, at).state for at in (weeks - 1, weeks, weeks + 1)] == ["good", "good", "ending"]


def below(sent: bool) -> list[bytes]:
    chain = x509.load_pem_x509_certificates(AUTHORITY.issue_below([WWW], NOW, sent).chain)
    return [each.public_bytes(Encoding.DER) for each in chain]


def signing_itself() -> bytes:
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, WWW)])
    begins = datetime.fromtimestamp(NOW - 60, UTC)
    made = x509.CertificateBuilder().subject_name(name).issuer_name(name).public_key(key.public_key())
    made = made.serial_number(7).not_valid_before(begins).not_valid_after(begins + timedelta(days=90))
    made = made.add_extension(x509.SubjectAlternativeName([x509.DNSName(WWW)]), critical=False)
    return made.sign(key, hashes.SHA256()).public_bytes(Encoding.DER)


def test_certificate_facts() -> None:
    itself = judge([signing_itself()], WWW, ANCHORS, NOW)
    assert (itself.state, say(itself.detail)) == ("untrusted", "it is self-signed")
    stranger = judge(der([WWW], Authority("another root", NOW)), WWW, ANCHORS, NOW)
    assert "no trusted authority issued it" in say(stranger.detail)
    seen = judge(der([WWW, APEX]), APEX, ANCHORS, NOW)
    assert (seen.covers, seen.names, seen.issuer) == (True, (WWW, APEX), "practice root")
    assert seen.not_after is not None
    assert datetime.fromtimestamp(seen.not_after, UTC).year == 2026
    assert "is missing" in say(judge(der([WWW]), WWW, [], NOW).detail)


@given(st.lists(st.text(max_size=12), max_size=4), st.text(min_size=1, max_size=12))
def test_a_star_covers_exactly_one_label(names: list[str], host: str) -> None:
    if covers(names, host):
        plain = host.lower().removesuffix(".")
        lower = [name.lower().removesuffix(".") for name in names]
        assert plain in lower or "*." + plain.partition(".")[2] in lower


@given(st.binary(max_size=300))
def test_any_octets_are_judged(octets: bytes) -> None:
    assert judge([octets], WWW, ANCHORS, NOW).state == "untrusted"


def leaf(*extensions: tuple[x509.ExtensionType, bool], authority: Authority = AUTHORITY) -> list[bytes]:
    """A certificate for a.example as an authority may issue it, with just these extensions (and which is critical)."""
    key = ec.generate_private_key(ec.SECP256R1())
    begins = datetime.fromtimestamp(NOW, UTC) - timedelta(days=1)
    subject = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "a.example")])
    made = _builder(subject, authority._name, key.public_key(), begins, begins + timedelta(days=90))
    for extension, critical in extensions:
        made = made.add_extension(extension, critical=critical)
    return [made.sign(authority._key, hashes.SHA256()).public_bytes(Encoding.DER)]


NAMES = x509.SubjectAlternativeName([x509.DNSName("a.example")])
FOR_SERVERS, FOR_PEOPLE = (
    x509.ExtendedKeyUsage([use]) for use in (ExtendedKeyUsageOID.SERVER_AUTH, ExtendedKeyUsageOID.CLIENT_AUTH)
)


@pytest.mark.parametrize(
    ("chain", "state", "words"),
    [
        (leaf((NAMES, True)), "good", ""),  # critical beside a subject: browsers take it
        (leaf((NAMES, False)), "good", ""),
        (leaf((NAMES, False), (FOR_SERVERS, True)), "good", ""),
        (leaf((NAMES, False), (FOR_PEOPLE, False)), "untrusted", "not made for web servers"),
        (leaf((NAMES, False), authority=Authority("another", NOW)), "untrusted", "no trusted authority"),
        (leaf(), "name-missing", "no name at all"),
        ([b"\x30\x03\x02\x01\x07"], "untrusted", "cannot be read"),
        ([leaf((NAMES, False))[0], b"garbage"], "good", ""),
    ],
)
def test_certificates_are_judged_as_browsers_do_and_named_rightly(chain: list[bytes], state: str, words: str) -> None:
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        seen = judge(chain, "a.example", ANCHORS, NOW)
    assert (seen.state, words in say(seen.detail)) == (state, True)
    assert "no trusted authority" not in say(seen.detail) or words == "no trusted authority"
    assert "Error" not in say(seen.detail)


def test_a_certificate_of_a_version_that_nobody_knows_is_unreadable() -> None:
    octets = bytearray(leaf((NAMES, False))[0])
    at = octets.find(b"\xa0\x03\x02\x01\x02")
    octets[at + 4] = 6
    assert judge([bytes(octets)], "a.example", ANCHORS, NOW).state == "untrusted"
