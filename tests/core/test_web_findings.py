"""Every finding about ways in: a visit in which it must speak, and one near it in which it must be silent."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from urllib.parse import urlsplit

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from homepath.core.findings.web import KINDS
from homepath.core.model.brief import HttpsFacts
from homepath.core.model.visits import AddressTried, Certificate, Hop, Hsts, read_hsts
from homepath.core.site.wanted import work_out
from homepath.core.web.certificates import next_issuing_day
from homepath.core.web.hops import Fetched, Resolve, Resolved, follow, free_address_state, judge_pages, pages_to_read
from homepath.core.web.known import NameKnown
from homepath.core.web.markup import read_markup
from homepath.core.web.ways import CHALLENGE, PAGES, PROBE
from homepath.core.web.whole import Walked, judge_visit
from homepath.core.wording.say import say
from tests.core.cases import BRIEF, SITE

WANTED = work_out(SITE, BRIEF)
WWW, APEX, FREE = "www.tidewick-kiln.example", "tidewick-kiln.example", "site-20817.edge.bricklark.example."
HOME = f"https://{WWW}/"
NOW = 1772442000.0
GOOD = Certificate("good", True, (WWW, APEX), "tallowseal", NOW + 9e6)
DEFAULT = replace(GOOD, state="default", covers=False)
RIGHT = NameKnown(True, NOW - 60)
LATE = NameKnown(True, NOW - 9e5)
Ways = Mapping[str, tuple[Hop, ...]]


def hop(url: str, status: int | None = 200, to: str | None = None, **more: object) -> Hop:
    secure = url.startswith("https:") and status is not None
    return Hop(url, status, to, "192.0.2.10", certificate=more.pop("certificate", GOOD if secure else None), **more)  # type: ignore[arg-type]


def way(url: str, *hops: Hop) -> Ways:
    return {url: hops or (hop(url, 301, HOME), hop(HOME))}


FINE: Ways = {**way(HOME, hop(HOME)), **way(f"http://{WWW}/"), **way(f"https://{APEX}/"), **way(f"http://{APEX}/")}


def codes(
    ways: Ways,
    probes: Ways | None = None,
    ground: NameKnown = RIGHT,
    addresses: Mapping[str, list[AddressTried]] | None = None,
) -> set[str]:
    grounds = {f"{WWW}.": ground, f"{APEX}.": ground}
    seen = judge_visit(WANTED, Walked({**FINE, **ways}, probes or {}, addresses or {}), grounds, NOW)
    return {finding.code for finding in seen.findings}


def probe(end: str, asked: str = f"http://{APEX}{PROBE}") -> Ways:
    return {asked: (hop(asked, 301, end), hop(end, 404))}


U, S = f"http://{APEX}/", f"https://{APEX}/"
PING = (hop(U, 301, S), hop(S, 301, U), hop(U, 301, S))
SELF = (hop(S, 301, S), hop(S, 301, S))
TWO = (hop(U, 301, f"http://{WWW}/"), hop(f"http://{WWW}/", 301, U), hop(U, 301, f"http://{WWW}/"))
HEALTHY = replace(RIGHT, edge_healthy=True)
DEAD = (hop(S, None, detail="nobody listens there"),)
NO_PADLOCK = {S: (hop(S, 200, certificate=DEFAULT),)}
FORWARDED = replace(RIGHT, forwarded=True)
STICKY = replace(RIGHT, hsts=Hsts(31536000))
V6 = "2001:db8::7"

SPEAKS_AND_IS_SILENT: dict[str, tuple[set[str], set[str]]] = {
    "proxy-loop": (codes({S: SELF}, ground=HEALTHY), codes({S: SELF}, ground=replace(RIGHT, edge_healthy=False))),
    "redirect-loop": (codes({U: TWO}, ground=HEALTHY), codes({U: PING}, ground=HEALTHY)),
    "redirect-by-page": (
        codes({U: (hop(U, 200, HOME, by_page=True), hop(HOME))}),
        codes({U: (hop(U, 301, HOME), hop(HOME))}),
    ),
    "redirect-temporary": (codes({U: (hop(U, 302, HOME), hop(HOME))}), codes({U: (hop(U, 308, HOME), hop(HOME))})),
    "redirect-loses-path": (codes({}, probe(HOME)), codes({}, probe(f"https://{WWW}{PROBE}"))),
    "redirect-loses-query": (
        codes({}, probe(f"https://{WWW}{PROBE.partition('?')[0]}")),
        codes({}, probe(f"https://{WWW}{PROBE}")),
    ),
    "redirect-downgrades": (
        codes({S: (hop(S, 301, f"http://{WWW}/"), hop(f"http://{WWW}/", 301, HOME), hop(HOME))}),
        codes({U: (hop(U, 301, f"http://{WWW}/"), hop(f"http://{WWW}/", 301, HOME), hop(HOME))}),
    ),
    "redirect-long": (
        codes({U: (hop(U, 301, S), hop(S, 301, f"http://{WWW}/"), hop(f"http://{WWW}/", 301, HOME), hop(HOME))}),
        codes({U: (hop(U, 301, S), hop(S, 301, HOME), hop(HOME))}),
    ),
    "no-redirect": (codes({S: (hop(S),)}), codes({})),
    "wrong-destination": (
        codes({U: (hop(U, 301, "https://x.example/"), hop("https://x.example/"))}, ground=FORWARDED),
        codes({U: (hop(U, 301, "https://x.example/"), hop("https://x.example/"))}),
    ),
    "redirect-elsewhere": (
        codes({U: (hop(U, 301, "https://x.example/"), hop("https://x.example/", None))}),
        codes({U: (hop(U, 301, S), hop(S))}),
    ),
    "primary-elsewhere": (
        codes({HOME: (hop(HOME, 301, S), hop(S))}),
        codes({HOME: (hop(HOME, 301, "https://x.example/"), hop("https://x.example/"))}),
    ),
    "destination-unknown": (
        codes({U: (hop(U, None, detail="cut"),)}, ground=NameKnown(False, unseen="ns1 is silent")),
        codes({U: (hop(U, None, detail="cut"),)}, ground=NameKnown(False)),
    ),
    "no-answer": (codes({U: (hop(U, None, detail="cut"),)}), codes({})),
    "https-missing": (codes({S: DEAD}, ground=LATE), codes({S: DEAD})),
    "https-not-enforced": (codes({f"http://{WWW}/": (hop(f"http://{WWW}/"),)}), codes({})),
    "forwarder-without-https": (codes({S: DEAD}, ground=FORWARDED), codes({S: DEAD})),
    "builder-unaware": (codes({HOME: (hop(HOME, 404),)}), codes({})),
    "page-broken": (codes({HOME: (hop(HOME, 503),)}), codes({HOME: (hop(HOME, 404),)})),
    "certificate-pending": (
        codes({HOME: (hop(HOME, certificate=DEFAULT),)}),
        codes({HOME: (hop(HOME, certificate=DEFAULT),)}, ground=LATE),
    ),
    "certificate-name-missing": (
        codes({HOME: (hop(HOME, certificate=DEFAULT),)}, ground=LATE),
        codes({HOME: (hop(HOME, certificate=DEFAULT),)}),
    ),
    "certificate-blocked": (
        codes({HOME: (hop(HOME, certificate=DEFAULT),)}, ground=replace(RIGHT, obstacle="CAA forbids it")),
        codes({}, ground=replace(RIGHT, obstacle="CAA forbids it")),
    ),
    "certificate-expired": (codes({HOME: (hop(HOME, certificate=replace(GOOD, state="expired")),)}), codes({})),
    "certificate-ending": (codes({HOME: (hop(HOME, certificate=replace(GOOD, state="ending")),)}), codes({})),
    "certificate-untrusted": (
        codes({HOME: (hop(HOME, certificate=replace(GOOD, state="incomplete")),)}),
        codes({HOME: (hop(HOME, certificate=replace(GOOD, state="untrusted", covers=False)),)}),
    ),
    "sticky-https-too-early": (
        codes({HOME: (hop(HOME, certificate=DEFAULT),)}, ground=STICKY),
        codes({HOME: (hop(HOME, certificate=DEFAULT),)}, ground=replace(STICKY, hsts=Hsts(0))),
    ),
    "challenge-astray": (
        codes(NO_PADLOCK, probe(f"http://elsewhere.example{CHALLENGE}", f"http://{APEX}{CHALLENGE}")),
        codes({}, probe(f"http://elsewhere.example{CHALLENGE}", f"http://{APEX}{CHALLENGE}")),
    ),
    "old-answer": (
        codes({S: (hop(S),)}, ground=NameKnown(False, stale_until=NOW + 60)),
        codes({S: (hop(S),)}, ground=RIGHT),
    ),
    "address-dead": (
        codes({}, addresses={HOME: [AddressTried("192.0.2.10", 200, "", GOOD), AddressTried(V6, None, "nobody")]}),
        codes({}, addresses={HOME: [AddressTried("192.0.2.10", 200, "", GOOD), AddressTried(V6, 301, "", GOOD)]}),
    ),
}  # fmt: skip

TITLE = "<title>Tidewick pottery</title>"


def page_codes(home: str, other: str = "", twin: Hop | None = None) -> set[str]:
    pages = {HOME: read_markup(home, HOME), f"{HOME}shop": read_markup(other, f"{HOME}shop")}
    twins = {twin.url: twin} if twin else {}
    return {finding.code for finding in judge_pages(pages, HOME, FREE, twins, home)}


def twin(page: str, status: int = 200) -> Hop:
    return Hop(f"{HOME}home", status, None, "192.0.2.10", page=page)


def test_what_the_primary_does_with_an_unknown_path_is_not_the_redirects_fault() -> None:
    kept = f"https://{WWW}{PROBE}"
    asked = f"http://{APEX}{PROBE}"
    assert codes({}, {asked: (hop(asked, 301, kept), hop(kept, 302, HOME), hop(HOME))}) == set()


PAGES_SPEAK_AND_ARE_SILENT: dict[str, tuple[set[str], set[str]]] = {
    "mixed-content": (
        page_codes(TITLE, '<img src="http://pictures.example/a.png">'),
        page_codes(TITLE, '<img src="//pictures.example/a.png"><a href="http://other.example/">x</a>'),
    ),
    "links-to-free-address": (
        page_codes(f'<a href="https://{FREE[:-1]}/shop">Shop</a>'),
        page_codes('<a href="/shop">Shop</a><a href="https://other.bricklark.example/">x</a>'),
    ),
    "canonical-elsewhere": (
        page_codes(f'<link rel="canonical" href="https://{FREE[:-1]}/">'),
        page_codes(f'<link rel="canonical" href="{HOME}">'),
    ),
    "two-home-pages": (
        page_codes(TITLE, twin=twin(f'{TITLE}<link rel="canonical" href="/other"><p>again')),
        page_codes(TITLE, twin=twin(f'{TITLE}<link rel="canonical" href="/">')),
    ),
}
BY_STATION = {"free-address-silent", "free-address-serves"}
"""Said by the station from `free_address_state`; the visits in tests/practice hold it."""


@pytest.mark.parametrize("code", sorted({**SPEAKS_AND_IS_SILENT, **PAGES_SPEAK_AND_ARE_SILENT}))
def test_it_speaks_and_is_silent(code: str) -> None:
    speaks, silent = {**SPEAKS_AND_IS_SILENT, **PAGES_SPEAK_AND_ARE_SILENT}[code]
    assert code in speaks
    assert code not in silent


def test_every_web_finding_has_its_cases() -> None:
    known = {page.code for page in KINDS} | {"sticky-https-too-early"}
    assert known - BY_STATION == set(SPEAKS_AND_IS_SILENT) | set(PAGES_SPEAK_AND_ARE_SILENT)
    assert codes({}) == set()
    assert "certificate-untrusted" not in codes({})
    assert page_codes(TITLE) == set()


def test_before_anything_arrives_an_address_is_dead_where_another_one_answers() -> None:
    for first, dead in ((404, True), (None, False)):
        tried = {U: [AddressTried("192.0.2.10", first), AddressTried(V6, None, "nobody")]}
        assert ("address-dead" in codes({U: (hop(U, first),)}, addresses=tried)) == dead


def test_a_page_that_is_missing_under_anothers_certificate_is_the_certificate_that_is_missing() -> None:
    """What serves the name over http knows it; over https a server without its certificate shows another host."""
    secure = {HOME: (hop(HOME, 404, certificate=DEFAULT),)}
    plain = f"http://{WWW}/"
    assert codes({**secure, plain: (hop(plain),)}) >= {"certificate-pending"}
    assert "builder-unaware" not in codes({**secure, plain: (hop(plain),)})
    assert "builder-unaware" in codes({**secure, plain: (hop(plain, 404),)})
    assert "builder-unaware" in codes({HOME: (hop(HOME, 404),), plain: (hop(plain),)})


def test_one_fault_of_a_redirect_hides_no_other() -> None:
    down = {S: (hop(S, 301, f"http://{WWW}/"), hop(f"http://{WWW}/", 301, HOME), hop(HOME))}
    lost = probe(f"https://{WWW}{PROBE.partition('?')[0]}", f"https://{APEX}{PROBE}")
    assert {"redirect-downgrades", "redirect-loses-query"} <= codes(down, lost)


def test_what_a_page_says() -> None:
    text = """<HTML><base href="/b/"><title> A
      pottery </title><meta HTTP-EQUIV=refresh CONTENT="3; URL='../next?a=1&amp;b=2#x'"><a href=c>c
      <a href="mailto:x@y">m<script src='s.js'></script><link rel="Stylesheet" href="s.css">
      <form action="http://x.example/send"><img srcset=x>
      <a href="http://[broken">x</a><a href="//h.example">h"""
    found = read_markup(text, HOME)
    assert found.title == "A pottery"
    assert found.refresh == (3, f"https://{WWW}/next?a=1&b=2")
    assert found.links == [f"https://{WWW}/b/c", "https://h.example"]
    assert found.parts == [f"https://{WWW}/b/s.js", f"https://{WWW}/b/s.css", "http://x.example/send"]
    links = [f"{HOME}{at}" for at in range(30)]
    many = read_markup("".join(f'<a href="{link}">' for link in [HOME, *links, *links, "https://x.example/"]), HOME)
    assert pages_to_read(many, HOME) == links[:11]


def test_a_page_that_sends_on_is_followed_and_marked() -> None:
    def walked(page: str) -> list[tuple[str, bool]]:
        going = follow(f"http://{WWW}/")
        want = next(going)
        try:
            while True:
                last = getattr(want, "url", "") == HOME
                came = (
                    Resolved(("192.0.2.10",)) if isinstance(want, Resolve) else Fetched(200, page="" if last else page)
                )
                want = going.send(came)
        except StopIteration as done:
            return [(hop.url, hop.by_page) for hop in done.value]

    assert walked(f'<meta http-equiv="refresh" content="0;{HOME}">') == [(f"http://{WWW}/", True), (HOME, False)]
    assert len(walked(f'<meta http-equiv="refresh" content="300;{HOME}">')) == 1
    assert len(walked('<meta http-equiv="refresh" content="5">')) == 1
    assert len(walked('<meta http-equiv="refresh" content="0;/">')) == 1


@pytest.mark.parametrize(
    ("field", "hsts"),
    [
        ("max-age=31536000", Hsts(31536000)),
        ('Max-Age="300" ; includeSubDomains; preload', Hsts(300, True, True)),
        ("max-age=0", Hsts(0)),
        ("includeSubDomains", None),
        ("max-age=1; max-age=2", None),
        ("max-age=x", None),
        ("", None),
    ],
)
def test_promises(field: str, hsts: Hsts | None) -> None:
    assert read_hsts(field) == hsts


def test_fixed_issuing_days() -> None:
    monday = NOW - (NOW % 86400)  # 2 March 2026 is a Monday
    assert say(next_issuing_day((), NOW)) == ""
    assert (
        say(next_issuing_day(("Tuesday", "fri"), monday))
        == "; certificates are issued on Tuesday and Friday, next on Tue 3 Mar"
    )
    assert say(next_issuing_day(("monday",), monday)).endswith("next today")
    assert say(next_issuing_day(("Sunday",), monday)).endswith("next on Sun 8 Mar")
    assert say(next_issuing_day(("Monday",), monday + 86400)).endswith("next on Mon 9 Mar")
    assert say(next_issuing_day(("someday",), monday)) == ""
    wanted = replace(WANTED, https=HttpsFacts(issuing_days=("Tuesday",)))
    ways = Walked({**FINE, HOME: (hop(HOME, certificate=DEFAULT),)}, {}, {})
    seen = judge_visit(wanted, ways, {f"{WWW}.": RIGHT, f"{APEX}.": RIGHT}, NOW)
    assert "Tue 3 Mar" in say(seen.ways[0].words)


def test_the_free_address() -> None:
    free = f"https://{FREE[:-1]}/"
    assert free_address_state([(hop(free),), (hop(free, 301, free), hop(free))]) == "serving"
    assert free_address_state([(hop(free, 301, HOME), hop(HOME)), (hop(free, 301, HOME), hop(HOME))]) == "redirecting"
    assert free_address_state([(hop(free, None),), (hop(free, 404),)]) == "gone"


ODD = ["http://\u2603/", "//", "http://["]
URLS = st.sampled_from([HOME, U, S, f"http://{WWW}/", f"http://{WWW}/a?b", "https://x.example/", *ODD])
BAD = st.sampled_from(["none", "default", "expired", "untrusted", "incomplete"])
HOPS = st.builds(
    Hop,
    st.sampled_from([HOME, U, S, f"http://{WWW}/", "https://x.example/"]),
    st.sampled_from([None, 200, 204, 301, 302, 307, 404, 421, 500, 999]),
    st.one_of(st.none(), URLS, st.text(max_size=20)),
    st.sampled_from([None, "192.0.2.10", V6]),
    st.text(max_size=10),
    st.one_of(st.none(), st.just(GOOD), st.builds(replace, st.just(GOOD), state=BAD)),
    by_page=st.booleans(),
)
GROUNDS = st.builds(
    NameKnown,
    st.booleans(),
    st.one_of(st.none(), st.floats(0, NOW)),
    st.sampled_from(["", "CAA"]),
    st.text(max_size=5),
    edge_healthy=st.sampled_from([None, True, False]),
    forwarded=st.booleans(),
    hsts=st.sampled_from([None, Hsts(9)]),
)


@settings(max_examples=400, deadline=None)
@given(st.lists(st.lists(HOPS, min_size=1, max_size=8), min_size=4, max_size=4), GROUNDS)
def test_whatever_was_walked_is_judged(walks: list[list[Hop]], ground: NameKnown) -> None:
    """Never a crash; arrived only where every way ends well on the primary address over https."""
    ways = {url: tuple(hops) for url, hops in zip(FINE, walks, strict=True)}
    seen = judge_visit(
        WANTED, Walked(ways, {f"http://{APEX}{PROBE}": ways[U]}, {}), {f"{WWW}.": ground, f"{APEX}.": ground}, NOW
    )
    for each in seen.ways:
        if each.state == "arrived":
            last = each.hops[-1]
            assert last.url.startswith("https:")
            assert urlsplit(last.url).hostname == WWW
            assert last.status in PAGES
            assert all(h.certificate is None or h.certificate.state in ("good", "ending") for h in each.hops)
    assert (seen.verdict == "arrived") == all(each.state == "arrived" for each in seen.ways)


@settings(deadline=None)
@given(st.text(max_size=300) | st.binary(max_size=300).map(lambda octets: octets.decode("latin-1")))
def test_any_markup_is_read(text: str) -> None:
    found = read_markup(text, HOME)
    assert all(url.startswith(("http://", "https://")) for url in (*found.parts, *found.links))


@pytest.mark.parametrize("piece", ["<a ", "<a href='", "<", "<div>", "<!--", '<a "', "<![CDATA[", "&#"])
def test_markup_made_to_break_parsers_takes_no_longer_than_a_page(piece: str) -> None:
    """300 kB of it, with a link at the front that is still found."""
    found = read_markup(f'<a href="/first">x</a>{piece * (300_000 // len(piece))}', HOME)
    assert f"https://{WWW}/first" in found.links
