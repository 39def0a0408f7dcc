#!/usr/bin/env python3
"""Feeds every reader with texts and octets that nobody would send on purpose, for so many seconds.

A reader may refuse what it is given, in its own words; whatever else it throws, and whatever it does for longer than
its bound, is a fault. `python scripts/fuzz.py --seconds 60` is part of every check; the seed is printed, so that what
it finds can be found again with `--seed`.
"""

from __future__ import annotations

import argparse
import random
import sys
import time
import traceback
import warnings
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from typing import Any

import dns.message
import dns.rrset
from cryptography import x509
from cryptography.hazmat.primitives.serialization import Encoding

from homepath.app.page_files import page_text
from homepath.bulk.short_check import Fingerprints, fingerprints_from
from homepath.core.dns.answers import Question, Server
from homepath.core.files.brief_file import read_brief
from homepath.core.files.calendar_file import Appointment, merged
from homepath.core.files.exports import read_export, read_master_file
from homepath.core.files.key_file import read_key_file
from homepath.core.files.rdap import BadRegistration, read_domain_object, service_for
from homepath.core.files.site_file import read_notation, read_site
from homepath.core.files.site_rows import Row, read_list, read_table, site_of
from homepath.core.findings.registry import KINDS
from homepath.core.model.problems import HomePathError
from homepath.core.model.survey import Survey
from homepath.core.model.visits import Visit, joined, read_hsts
from homepath.core.page_reader.brief_text import brief_text
from homepath.core.page_reader.judge import read_page
from homepath.core.web.certificates import judge
from homepath.core.web.hops import Fetch, Fetched, Resolved, follow
from homepath.core.web.markup import read_markup
from homepath.core.wording.say import say
from homepath.journal.evidence import read_evidence
from homepath.journal.packed import Packed
from homepath.journal.storage import NewerShape, content, restored
from homepath.net import octets as wire
from homepath.net.fingerprints import fingerprint
from homepath.net.wire import NotDns, read_rare_answer
from homepath.practice.scene_file import load_scene
from homepath.practice.web_server import Authority

LONGEST = 5.0
"""Seconds that one reading may take; inputs are small."""
NOW = 1772442000.0
DOMAIN = "tidewick-kiln.example."
QUESTION, SERVER = Question(f"www.{DOMAIN}", "A"), Server("192.0.2.1")
REFUSALS = (HomePathError, BadRegistration, NotDns, wire.Unusual, NewerShape)


@dataclass(frozen=True)
class Target:
    """A reader with inputs that it takes, from which others are made. `also`: errors that refuse, of its own."""

    name: str
    read: Callable[[Any], object]
    seeds: tuple[str | bytes, ...]
    also: tuple[type[Exception], ...] = ()


def both_decoders(octets: bytes) -> None:
    """The quick decoder and the DNS library's must agree wherever the quick one answers; both are only given what
    was found to be an answer to the question."""
    asked = wire.question_octets(QUESTION)
    if not wire.answers(octets, asked, False):
        octets = octets[:2].ljust(2, b"\0") + b"\x84\x00\x00\x01" + octets[6:12].ljust(6, b"\0") + asked + octets[12:]
    try:
        quick = wire.read_answer(octets, len(wire.question_octets(QUESTION)), QUESTION, SERVER, 0.0)
    except wire.Unusual:
        quick = None
    try:
        slow = read_rare_answer(octets, QUESTION, SERVER, 0.0)
    except NotDns:
        assert quick is None, "read by the quick decoder, and no message to the library"
        return
    assert quick is None or slow.outcome != "answered" or quick == slow, f"{quick} is not {slow}"
    if fingerprint(octets, len(asked)) in ("NOERROR", "NXDOMAIN") and slow.outcome == "answered":
        assert (slow.answer, slow.authoritative) == ((), True), f"marked as nothing there: {slow}"


def read_rows(text: str) -> None:
    """A table, and each of its rows as a site."""
    for row in read_table(text.splitlines(keepends=True), "l"):
        if isinstance(row, Row):
            with suppress(HomePathError):
                site_of(row.data)


DOCUMENTS = (
    b"From: a@b.example\nMIME-Version: 1.0\nContent-Type: multipart/alternative; boundary=x\n\n"
    b"--x\n\nA @ 192.0.2.1\n--x--\n",
    rb"{\rtf1\ansi A @ 192.0.2.1\par {\fonttbl} \'fc \u8364? \trowd A\cell @\cell\row}",
    b"%PDF-1.4\n1 0 obj\n<</Type/Catalog/Pages 2 0 R>>\nendobj\n2 0 obj\n<</Type/Pages/Kids[]/Count 0>>\nendobj\n"
    b"trailer<</Root 1 0 R>>\n%%EOF",
    "A\t@\t192.0.2.1\n".encode("utf-16"),
)
"""Pages in the files that people have."""


def read_packed(octets: bytes) -> None:
    """A packed journal, and everything that is asked of it."""
    packed = Packed(octets)
    with packed.open() as journal:
        read_evidence(journal, DOMAIN, NOW)
        journal.entries(DOMAIN)
    packed.close()


_MARKS = Fingerprints(
    ("192.0.2.1",), "7", "s", {(DOMAIN, "A"): "x"}, ("a.\tA\tz",), "y", "k", "none", {"http://a.example/": "h"}, NOW
).packed()


def walk_hops(text: str) -> None:
    """A way on which every answer leads where a hostile server says."""
    way = follow("http://a.example/")
    came: Any = None
    for line in [*text.splitlines()[:40], ""]:
        try:
            want = next(way) if came is None else way.send(came)
        except StopIteration:
            return
        status = 200 if line.startswith("<") else 301
        page = Fetched(status, line, page=line if status == 200 else "")
        came = page if isinstance(want, Fetch) else Resolved(("192.0.2.1",))


def targets() -> tuple[Target, ...]:
    scene = load_scene("first-site")
    files = scene.files
    zone = "\n".join(str(text) for text in scene.zones.values())
    answer = dns.message.make_response(dns.message.make_query(QUESTION.name, "A"))
    answer.answer = [
        dns.rrset.from_text(QUESTION.name, 60, "IN", "A", "192.0.2.1", "192.0.2.2"),
        dns.rrset.from_text(QUESTION.name, 60, "IN", "TXT", '"a" "b"'),
    ]
    answer.authority = [dns.rrset.from_text(DOMAIN, 60, "IN", "SOA", "a. b. 1 2 3 4 5")]
    authority = Authority("a root", NOW)
    anchors = x509.load_pem_x509_certificates(authority.bundle.encode())
    (leaf,) = x509.load_pem_x509_certificates(authority.issue(["a.example"], NOW).chain)
    pages = tuple(f"{say(kind.means)}\n{say(kind.cure)}" for kind in list(KINDS.values())[:5])
    calendar = merged(None, DOMAIN, [Appointment("spread", NOW, "t", "w")], NOW)
    rdap = '{"objectClassName": "domain", "status": ["active"], "entities": [{"roles": ["registrar"], "vcardArray":'
    rdap += ' ["vcard", [["fn", {}, "text", "M"]]]}], "events": [{"eventAction": "expiration", "eventDate":'
    rdap += ' "2027-01-01T00:00:00Z"}], "nameservers": [{"ldhName": "a.b"}]}'
    table = "Type | Name | Value\nA | @ | 192.0.2.10\nCNAME | www | a.bricklark.example\nTXT | @ | x=1"
    stored = '{"shape":1,"value":{"domain":"a.","at":1.0,"servers":[],"delegation":null,"records":[]}}'
    return (
        Target("wire", both_decoders, (answer.to_wire(),), ()),
        Target("export", lambda text: read_export(text, DOMAIN, "f"), (zone, table, "name,type,value\nw,A,192.0.2.1")),
        Target("master file", lambda text: read_master_file(text, DOMAIN, "f"), (zone, "@ 60 IN A 192.0.2.1")),
        Target("brief", lambda text: read_brief(text, "f"), (files["bricklark.brief.toml"],)),
        Target("site", lambda text: read_site(text, "f"), ('format = "homepath.site/1"\ndomain = "a.example"\n',)),
        Target("notation", lambda text: read_notation(text, "f"), (files["mossgate.notation.toml"],)),
        Target("pasted", lambda text: brief_text(read_page(text, DOMAIN[:-1]), "B"), (table, zone, *pages)),
        Target("document", lambda octets: page_text(octets, "f"), DOCUMENTS),
        Target("registry", lambda text: read_domain_object(text, "s"), (rdap,)),
        Target("bootstrap", lambda text: service_for(text, DOMAIN), ('{"services": [[["example"], ["http://x/"]]]}',)),
        Target(
            "page", lambda text: read_markup(text, "http://a.example/"), ("<a href=/x>é</a><meta http-equiv=refresh>",)
        ),
        Target("url", lambda text: joined("http://a.example/b", text), ("/café?q=ü", "//b:1", "http://[::1]/")),
        Target("hops", walk_hops, ("/a\nhttp://b.example/é\n<meta http-equiv=refresh content='0;url=/x'>\n",)),
        Target("hsts", read_hsts, ("max-age=31536000; includeSubDomains; preload",)),
        Target(
            "key", lambda text: read_key_file(text, "f"), ('key "k" { algorithm hmac-sha256; secret "c2VjcmV0"; };',)
        ),
        Target("calendar", lambda text: merged(text, DOMAIN, [Appointment("x", NOW, "t", "w")], NOW), (calendar,)),
        Target(
            "certificate", lambda octets: judge([octets], "a.example", anchors, NOW), (leaf.public_bytes(Encoding.DER),)
        ),
        Target("journal look", lambda text: restored(Survey, text), (stored,), (ValueError,)),
        Target("journal visit", lambda text: restored(Visit, text), (stored,), (ValueError,)),
        Target(
            "list",
            read_rows,
            ("domain,primary,brief,also,sign,keep.records\na.example,www,b.toml,c.example,yes,_sip._tcp SRV\n",),
        ),
        Target(
            "toml list",
            lambda text: read_list(text, "l"),
            ('format = "homepath.list/1"\n[defaults]\nprimary = "www"\n[[domains]]\ndomain = "a.example"\n',),
        ),
        Target("packed journal", read_packed, (Packed().packed(),)),
        Target("marks", lambda octets: fingerprints_from(octets), (_MARKS,)),
        Target(
            "journal content",
            lambda text: content("a.", "A", 1, text, 1.0, 2.0, "zone"),
            ('["192.0.2.1"]',),
            (ValueError, TypeError, LookupError),
        ),
    )


ODD = [
    "\x00",
    "\x1b[2J",
    "\ud800",
    "\u202e",
    "é",
    "\ufeff",
    "'",
    '"',
    "\\",
    "\n",
    "[" * 60,
    "{" * 60,
    "9" * 60,
    "$GENERATE",
]


def changed(seed: str | bytes, dice: random.Random) -> str | bytes:
    """Some places cut, doubled, swapped, or with something odd in them."""
    for _ in range(dice.choice((1, 1, 2, 3, 8, 20))):
        at, to = sorted((dice.randrange(len(seed) + 1), dice.randrange(len(seed) + 1)))
        to = min(to, at + dice.choice((1, 2, 8, 200)))
        deed = dice.randrange(4)
        if isinstance(seed, bytes):
            piece = {
                0: b"",
                1: seed[at:to] * 2,
                2: dice.randbytes(to - at or 1),
                3: bytes([dice.choice((0, 192, 255))]),
            }
            seed = seed[:at] + piece[deed] + seed[to:]
        else:
            words = {0: "", 1: seed[at:to] * 2, 2: dice.choice(ODD), 3: chr(dice.randrange(1, 0x2FFF))}
            seed = seed[:at] + words[deed] + seed[to:]
        seed = seed[:20_000]
    return seed


def main() -> int:
    words = argparse.ArgumentParser(description=__doc__.splitlines()[0] if __doc__ else "")
    words.add_argument("--seconds", type=float, default=60.0)
    words.add_argument("--seed", type=int, default=None)
    given = words.parse_args()
    seed = given.seed if given.seed is not None else random.SystemRandom().randrange(1_000_000)
    print(f"fuzz: seed {seed}, {given.seconds:g} s")
    warnings.simplefilter("ignore")
    dice, every = random.Random(seed), targets()
    done: dict[str, int] = dict.fromkeys((each.name for each in every), 0)
    ends = time.monotonic() + given.seconds
    while time.monotonic() < ends:
        for target in every:
            given_to = changed(dice.choice(target.seeds), dice)
            begin = time.monotonic()
            refusals: tuple[type[Exception], ...] = (*REFUSALS, *target.also)
            try:
                target.read(given_to)
            except refusals:
                pass
            except Exception:
                traceback.print_exc()
                print(f"\n{target.name} threw this at: {given_to!r}\nseed {seed}")
                return 1
            if time.monotonic() - begin > LONGEST:
                print(f"{target.name} took {time.monotonic() - begin:.1f} s for: {given_to!r}\nseed {seed}")
                return 1
            done[target.name] += 1
    print("fuzz: nothing found in " + ", ".join(f"{count} of {name}" for name, count in done.items()))
    return 0


if __name__ == "__main__":
    sys.exit(main())
