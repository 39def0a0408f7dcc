"""Pasted pages. Each case of the corpus: the text, then what must be read from it, in tests/core/corpus.

`TYPE host value` for a record (` ?optional` behind one that is), `NS name` for a nameserver, `! words` for a doubt. A
case without such a line must be read without any doubt.
"""

from __future__ import annotations

import contextlib
import re
import textwrap
from collections.abc import Callable
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from homepath.core.files.brief_file import read_brief
from homepath.core.model.problems import BadInput
from homepath.core.page_reader.brief_text import brief_text
from homepath.core.page_reader.judge import read_page
from homepath.core.page_reader.page import Page, Picks, picked, reason_of
from homepath.core.wording.say import say
from tests.core.rendering import LAYOUTS, TONGUES, Wanted, chat, quoted_mail
from tests.refusals import refused

CORPUS = Path(__file__).parent / "corpus"
CASES = [
    (f"{file.stem}: {name}", block)
    for file in sorted(CORPUS.glob("*.txt"))
    for name, block in (each.split("\n", 1) for each in file.read_text().split("=== ")[1:])
]


def told(page: Page) -> list[str]:
    """What a page asks for, as the corpus writes it."""
    read = [f"{r.type} {r.host} {r.value}{' ?optional' if r.mood == 'optional' else ''}" for r in page.records]
    return sorted(read + [f"NS {server.name}" for server in page.nameservers if server.mood in ("", "want")])


def asked_about(page: Page) -> list[str]:
    """What is not taken without a person's word, and why."""
    return [f"{each.type} {each.host} {each.value}: {say(reason_of(each))}" for each in page.others]


def test_the_corpus_is_large() -> None:
    assert len(CASES) >= 300
    assert len({name for name, _ in CASES}) == len(CASES)


@pytest.mark.parametrize(("name", "block"), CASES, ids=[name for name, _ in CASES])
def test_corpus(name: str, block: str) -> None:
    text, _, expected = ("\n" + block).rpartition("\n---\n")
    text = text[1:]
    wanted = [line for line in expected.splitlines() if line.strip()]
    doubts = [line[2:] for line in wanted if line[0] == "!"]
    page = read_page(text)
    assert told(page) == sorted(line for line in wanted if line[0] != "!")
    said = asked_about(page)
    assert bool(said) == bool(doubts), said
    for doubt in doubts:
        assert any(doubt in each for each in said), said
    accounted = {line.number for line in page.lines}
    if not text.lstrip().startswith(("<", "{", "[")):
        every = {number for number, line in enumerate(text.splitlines(), 1) if any(c.isalnum() for c in line)}
        held = {line for record in (*page.records, *page.away) for line in record.lines}
        inside = {n for n in every if any(low <= n <= low + 2 for low in held)}  # a record in brackets over lines
        assert every <= accounted | inside | {n for n in every if text.splitlines()[n - 1].startswith("$")}
    if page.records or page.nameservers:
        with contextlib.suppress(BadInput):
            assert read_brief(brief_text(page, "Bricklark").text, "b").builder == "Bricklark"


USUAL = [
    Wanted("A", "@", "192.0.2.10"),
    Wanted("CNAME", "www", "site-20817.edge.bricklark.example", 300),
    Wanted("TXT", "_bricklark", "bricklark-owner=tk-4471", None),
    Wanted("MX", "@", "10 mx1.mossgate.example.", 86400),
]
FURTHER = [
    Wanted("TXT", "_dmarc", "v=DMARC1; p=none; rua=mailto:d@post.example"),
    Wanted("TXT", "k1._domainkey", "v=DKIM1; k=ed25519; p=11qYAYKxCrfVS/7TyWQHOg7hcvPapiMlrwIaaPcHURo="),
    Wanted("SRV", "_sip._tls", "10 5 5061 sip.post.example."),
    Wanted("MX", "@", "10 mx1.post.example."),
    Wanted("MX", "@", "20 mx2.post.example."),
    Wanted("CAA", "@", '0 issue "oakcert.example"'),
]


@pytest.mark.parametrize("wanted", [USUAL, FURTHER], ids=["usual", "further"])
def test_records_are_read_in_every_language_and_layout(wanted: list[Wanted]) -> None:
    read = sorted(f"{each.type} {each.host} {each.value}{'.' * (each.type == 'CNAME')}" for each in wanted)
    for tongue in TONGUES.values():
        for lay in LAYOUTS.values():
            page = read_page(lay(wanted, tongue))
            assert (told(page), asked_about(page)) == (read, []), lay(wanted, tongue)


NEAR_MISSES = [
    ("Add these records:\nA @ 192.0.2.10", "Delete these records:\nA @ 192.0.2.10"),
    ("Diese Einträge anlegen:\nA @ 192.0.2.10", "Diese Einträge löschen:\nA @ 192.0.2.10"),
    ("Ajoutez ces enregistrements :\nA @ 192.0.2.10", "Supprimez ces enregistrements :\nA @ 192.0.2.10"),
    ("次のレコードを追加：\nA\t@\t192.0.2.10", "次のレコードを削除：\nA\t@\t192.0.2.10"),
    ("Добавьте эти записи:\nA\t@\t192.0.2.10", "Удалите эти записи:\nA\t@\t192.0.2.10"),
    ("Type\tHost\tRequired value\nA\t@\t192.0.2.10", "Type\tHost\tCurrent value\nA\t@\t192.0.2.10"),
    ("Typ\tName\tSoll\nA\t@\t192.0.2.10", "Typ\tName\tIst\nA\t@\t192.0.2.10"),
    ("Type\tHost\tValue\tAction\nA\t@\t192.0.2.10\tAdd", "Type\tHost\tValue\tAction\nA\t@\t192.0.2.10\tDelete"),
    ("Set the A record for @ to 192.0.2.10.", "Delete the A record for @ with 192.0.2.10."),
    ('[{"action":"add","type":"A","name":"@","value":"192.0.2.10"}]',
     '[{"action":"delete","type":"A","name":"@","value":"192.0.2.10"}]'),
    ('{"required":[{"type":"A","name":"@","value":"192.0.2.10"}]}',
     '{"current":[{"type":"A","name":"@","value":"192.0.2.10"}]}'),
    ("<h3>Records to add</h3><table><tr><th>Type</th><th>Host</th><th>Value</th></tr><tr><td>A</td><td>@</td>"
     "<td>192.0.2.10</td></tr></table>",
     "<h3>Records to remove</h3><table><tr><th>Type</th><th>Host</th><th>Value</th></tr><tr><td>A</td><td>@</td>"
     "<td>192.0.2.10</td></tr></table>"),
    ("@ 3600 IN A 192.0.2.10 ; new", "@ 3600 IN A 192.0.2.10 ; old, delete"),
    ("A @ 192.0.2.10", "~~A @ 192.0.2.10~~"),
    ("Type: A\nHost: @\nNew value: 192.0.2.10", "Type: A\nHost: @\nOld value: 192.0.2.10"),
    ("Please enter:\nA @ 192.0.2.10", "Please do not enter:\nA @ 192.0.2.10"),
]  # fmt: skip


@pytest.mark.parametrize(("added", "gone"), NEAR_MISSES)
def test_one_word_turns_what_is_wanted_into_what_is_not(added: str, gone: str) -> None:
    assert (told(read_page(added)), read_page(added).others) == (["A @ 192.0.2.10"], ())
    other = read_page(gone)
    assert told(other) == []
    assert [(each.type, each.value) for each in other.away] == [("A", "192.0.2.10")]


PASSING = [
    "Last login from 203.0.113.99", "Build 3.1.4.2", "Invoice INV-2026-00431 was paid.", "Updated 2026-03-02 09:00",
    "Call us at 030 555 0100 if you get stuck.", "My A record says 203.0.113.29, is that right?",
    "Leave the MX records alone.", "Your old provider (203.0.113.80) may show its page for a while.",
    "See help.bricklark.example/docs for more.", "Do not delete anything else.", "Current plan: Basic",
    "Delete your account", "You can remove the old records later.", "Price: \u20ac 12.50 a month",
    "Ne supprimez rien d'autre.", "Bitte \u00e4ndern Sie sonst nichts.", "Ticket #20817-4471",
]  # fmt: skip
"""Sentences that hold no record to enter."""


TWO_SERVERS = ["NS ns1.bricklark.example", "NS ns2.bricklark.example"]
OWN = [
    ("own.test. IN NS ns1.bricklark.example.\nown.test. IN NS ns2.bricklark.example.", TWO_SERVERS, []),
    ("Set the nameservers of own.test to ns1.bricklark.example and ns2.bricklark.example.", TWO_SERVERS, []),
    (
        "Change the A record of own.test from 203.0.113.9 to 192.0.2.10 and add a CNAME www with value a.b.example.",
        ["A @ 192.0.2.10", "CNAME www a.b.example."],
        [],
    ),
    ("CNAME www own.test", ["CNAME www {domain}."], []),
    ("Zone\tType\tName\tValue\nown.test\tA\t@\t192.0.2.10\nother.test\tA\t@\t203.0.113.7", ["A @ 192.0.2.10"], []),
    ("own.test\nA @ 192.0.2.10\nother.test\nA @ 203.0.113.7", ["A @ 192.0.2.10"], []),
    ("Last login from 203.0.113.99\nA @ 192.0.2.10", ["A @ 192.0.2.10"], [("203.0.113.99", "no-name")]),
    ("CNAME  www  site-20817.edge.brick-\nlark.example", [], [("site-20817.edge.bricklark.example.", "two-readings")]),
    ("bricklark.example\nCNAME  www  site.edge.brick-\nlark.example", ["CNAME www site.edge.bricklark.example."], []),
    ("A @ 198.51.1OO.2O4", [], [("198.51.100.204", "misread")]),
    ("Delete the MX records.\nA 192.0.2.10", [], [("192.0.2.10", "no-name")]),
]  # fmt: skip


@pytest.mark.parametrize(("text", "wanted", "others"), OWN)
def test_what_the_page_does_not_say_outright_is_left_to_a_person(
    text: str, wanted: list[str], others: list[tuple[str, str]]
) -> None:
    page = read_page(text, "own.test")
    assert (told(page), [(each.value, each.why) for each in page.others]) == (wanted, others)


@pytest.mark.parametrize(
    ("said", "primary"),
    [
        ("Primary domain: www.own.test", "www"),
        ("Hauptadresse: own.test", "@"),
        ("www.own.test will redirect to own.test", "@"),
        ("own.test redirige vers www.own.test", "www"),
        ("own.test は www.own.test にリダイレクトされます", "www"),
        ("Your primary domain will be www.own.test.", "www"),
        ("Set own.test as the main address of your site.", "@"),
        ("Ihre Hauptdomain ist www.own.test.", "www"),
        ("サイトのプライマリドメインは www.own.test です", "www"),
        ("Is own.test your primary domain?", ""),
        ("Your primary domain must not be own.test.", ""),
        ("Your primary domain is www.own.test or own.test.", ""),
        ("Primary domain: other.test", ""),
        ("See own.test and www.own.test", ""),
    ],
)
def test_the_page_names_the_primary_address(said: str, primary: str) -> None:
    page = read_page(f"{said}\n\nA @ 192.0.2.10", "own.test")
    assert (page.primary, told(page)) == (primary, ["A @ 192.0.2.10"])


def test_what_a_row_says_of_its_use_reaches_the_brief() -> None:
    page = read_page(
        "Type\tHost\tValue\tFor\nCNAME\tkiln1\ta.bricklark.example\tbounces\nCNAME\tshop\tb.bricklark.example\tshop"
    )
    brief = read_brief(brief_text(page, "B").text, "b")
    assert {each.host: each.purpose for each in brief.further} == {"kiln1": "mail authentication", "shop": "other"}
    cut = read_page("TXT kiln1._domainkey v=DKIM1; k=rsa; p=MIGfMA0GCSqGSIb3DQEBAQUAA")
    assert [each.why for each in cut.others] == ["bad-key"]


def test_a_person_ticks_what_the_page_left_open() -> None:
    page = read_page("A @ 192.0.2.10\n\nOur new server has 192.0.2.44\n\nDelete:\nA @ 198.51.100.7", "own.test")
    assert [(item.number, item.bin) for item in page.items] == [(1, "enter"), (2, "other"), (3, "not")]
    other = next(item for item in page.items if item.record.value == "192.0.2.44")
    with refused(BadInput, "has no host"):
        picked(page, Picks(enter=frozenset({other.number})))
    with refused(BadInput, "no such number"):
        picked(page, Picks(leave=frozenset({99})))
    made = picked(page, Picks(leave=frozenset({1}), hosts={other.number: "www.own.test"}))
    assert (told(made), made.others) == (["A www 192.0.2.44"], ())
    assert [item.bin for item in made.items if item.number == 1] == ["not"]
    retyped = picked(page, Picks(hosts={other.number: "www"}, types={other.number: "txt"}))
    assert "TXT www 192.0.2.44" in told(retyped)


HOSTS = st.sampled_from(["@", "www", "shop", "_bricklark", "mail-2", "kiln1._domainkey"])
LABEL = st.from_regex(r"[a-z]{4,9}", fullmatch=True)
RECORDS = st.one_of(
    st.builds(lambda host, n: Wanted("A", host, f"192.0.2.{n}"), HOSTS, st.integers(1, 254)),
    st.builds(lambda host, n: Wanted("AAAA", host, f"2001:db8::{n:x}"), HOSTS, st.integers(1, 65000)),
    st.builds(
        lambda host, label: Wanted("CNAME", host, f"{label}.bricklark.example"), HOSTS.filter(lambda h: h != "@"), LABEL
    ),
    st.builds(lambda host, code: Wanted("TXT", host, f"bricklark-owner=tk-{code}"), HOSTS, st.integers(1000, 99999)),
)
OLD = [Wanted("A", "@", "198.51.100.7"), Wanted("CNAME", "www", "parking.mossgate.example")]


@settings(max_examples=400, deadline=None, derandomize=True)
@given(
    st.lists(RECORDS, min_size=1, max_size=5, unique_by=lambda r: (r.type, r.host) if r.type == "CNAME" else r),
    st.sampled_from(sorted(TONGUES)),
    st.sampled_from(sorted(LAYOUTS)),
    st.sampled_from(["", "mail", "chat", "lead", "delete first", "delete last"]),
)
def test_what_is_written_down_is_read_back(records: list[Wanted], tongue: str, layout: str, around: str) -> None:
    words, write = TONGUES[tongue], LAYOUTS[layout]
    text = write(records, words)
    wrap = (lambda said: f"<p>{said}</p>") if layout == "html" else (lambda said: said)
    if layout != "as_json":
        if around == "lead":
            text = f"{wrap(words.add)}\n{text}"
        if around.startswith("delete") and layout != "prose":
            old, new = f"{wrap(words.delete)}\n{write(OLD, words)}", f"{wrap(words.add)}\n{text}"
            text = f"{old}\n\n{new}" if around == "delete first" else f"{new}\n\n{old}"
        if around in ("mail", "chat") and layout != "html":
            text = quoted_mail(text) if around == "mail" else chat(text)
    page = read_page(text)
    wanted = sorted({(r.type, r.host, f"{r.value}." if r.type == "CNAME" else r.value) for r in records})
    read = sorted((each.type, each.host, each.value) for each in page.records)
    exact = read == wanted and not page.others
    assert exact or page.others, f"wrong without a doubt: {text}"
    if layout != "prose":
        assert exact, (text, read, page.others)


@settings(max_examples=150, deadline=None, derandomize=True)
@given(
    st.lists(RECORDS, min_size=1, max_size=4, unique_by=lambda r: (r.type, r.host) if r.type == "CNAME" else r),
    st.sampled_from(sorted(TONGUES)),
    st.sampled_from(sorted(set(LAYOUTS) - {"as_json", "html", "prose"})),
    st.sampled_from(PASSING),
    st.booleans(),
)
def test_a_sentence_without_a_record_changes_nothing_that_is_entered(
    records: list[Wanted], tongue: str, layout: str, passing: str, above: bool
) -> None:
    text = LAYOUTS[layout](records, TONGUES[tongue])
    around = f"{passing}\n\n{text}" if above else f"{text}\n\n{passing}"
    assert told(read_page(around)) == told(read_page(text)), around


def _wrapped(text: str) -> str:
    """As mail, print and telephones break long sentences: some pages at this width, others at that one."""
    width = (44, 58, 66, 72)[len(text) % 4]
    prose = [len(line) > width and not re.search(r"\t|\||{|\S {2,}", line) for line in text.split("\n")]
    lines = zip(text.split("\n"), prose, strict=True)
    return "\n".join(
        textwrap.fill(line, width, break_long_words=False, break_on_hyphens=False) if long else line
        for line, long in lines
    )


def _renamed(text: str) -> str:
    """The page of someone whose second name is another word than `www`."""
    return re.sub(r"(?<![\w.-])www(?![\w-])", "kasse", text)


def _in_full(text: str) -> str:
    """With all names in full."""
    text = re.sub(r"(?<![\w.\"'-])@(?![\w.])", DOMAIN, text)
    return re.sub(r"(?<![\w.-])www(?![\w.-])", f"www.{DOMAIN}", text)


ASIDE = (
    "Please leave all other records as they are.",
    "Ändern Sie keine MX-Einträge.",
    "Ne touchez pas aux enregistrements MX.",
    "No modifique los registros MX.",
    "Non modificare i record MX.",
    "Wijzig de MX-records niet.",
    "Älä muuta MX-tietueita.",
    "Не меняйте записи MX.",
    "MXレコードは変更しないでください。",
    "请勿修改MX记录。",
    "Changes are live within 4 h.",
    "Supprimez les anciens enregistrements A.",
    "Löschen Sie alte A-Einträge.",
    "Save your changes, then press Verify.",
)


def _with_sentences(text: str) -> str:
    """With sentences right above and below that are about other records, or none."""
    at = len(text) % len(ASIDE)
    return f"{ASIDE[at]}\n{text}\n{ASIDE[at - 5]}"


DOMAIN = "quillfern.example"
CHANGED: dict[str, Callable[[str], str]] = {
    "in full": _in_full,
    "moved": lambda text: textwrap.indent(text, "   "),
    "answered": lambda text: textwrap.indent(text, "> ", lambda line: True),
    "wrapped": _wrapped,
    "with sentences": _with_sentences,
    "renamed": _renamed,
    "in a letter": lambda text: f"Hello Ada,\n\nhere is what to enter.\n\n{text}\n\nKind regards\nThe Bricklark team",
}


def test_a_page_in_another_form_is_never_misread_without_a_question() -> None:
    """The other form asks for the same records, or something in it is asked about. Each page takes every fourth form,
    the next one others."""
    misread = []
    for number, (name, block) in enumerate(CASES):
        text = ("\n" + block).rpartition("\n---\n")[0][1:]
        if "\n! " in block or text.lstrip()[:1] in "{[<":
            continue
        read = set(told(read_page(text, DOMAIN)))
        for form, change in [*CHANGED.items()][number % 4 :: 4]:
            page, wanted = read_page(change(text), DOMAIN), read
            if form == "renamed" and change(text) != text:
                wanted = {_renamed(each) for each in read}
            if set(told(page)) != wanted and not page.others:
                misread.append((form, name, told(page), wanted))
    assert not misread, misread[:3]


OLD_AND_NEW = [line for line in (CORPUS / "old_and_new.lines").read_text().splitlines() if not line.startswith("#")]
VALUES = {
    "A @": ("198.51.100.14", "192.0.2.61"),
    "CNAME www": ("alt.mossgate.example", "own-3391.fernpress.example"),
    "TXT @": ("fern-check=old111", "fern-check=8h2k1"),
}


@pytest.mark.parametrize(
    ("what", "wrapped", "least"),
    [("A @", False, 54), ("CNAME www", False, 46), ("TXT @", False, 48), ("A @", True, 42), ("CNAME www", True, 24)],
)
def test_an_old_value_is_never_taken_for_the_new_one_without_a_question(what: str, wrapped: bool, least: int) -> None:
    """A sentence names both: the new one is read alone, or something is asked. Most are read."""
    read, (old, new) = 0, VALUES[what]
    for line in [each for each in OLD_AND_NEW if ("CNAME" in each) == (what == "CNAME www")]:
        text = line.format(old=old, new=new)
        text = re.sub(r"(?<!\w)[AА](?!\w)", "TXT", text) if what == "TXT @" else text
        page = read_page(textwrap.fill(text, 60, break_on_hyphens=False) if wrapped else text, DOMAIN)
        alone = told(page) in ([f"{what} {new}"], [f"{what} {new}."])
        assert alone or page.others or not (page.records or page.away), text
        read += alone and not page.others
    assert read >= least, read


FIELDS = [line for line in (CORPUS / "fields.lines").read_text().splitlines() if not line.startswith("#")]


@pytest.mark.parametrize("between", [" ", "\n", "\n\n"])
def test_what_is_put_into_which_field_is_read_or_asked_about(between: str) -> None:
    read = 0
    for line in FIELDS:
        for one in ([("A", "@", "192.0.2.61"), ("CNAME", "www", "a.bricklark.example")], [("A", "till", "192.0.2.62")]):
            page = read_page(between.join(line.format(t=t, h=h, v=v) for t, h, v in one), DOMAIN)
            exact = told(page) == [f"{t} {h} {v}{'.' * (t == 'CNAME')}" for t, h, v in one]
            assert exact or page.others, line.format(t="A", h="till", v="192.0.2.62")
            read += exact and not page.others
    assert read >= 78, read


@settings(max_examples=300, deadline=None)
@given(st.text(alphabet=st.sampled_from("A CNAME TXT @ www.:\t|,\n192.0.2.1-=\"'<>{}[]xyé追加 "), max_size=300))
def test_any_text_is_read_without_harm(text: str) -> None:
    with contextlib.suppress(BadInput):
        page = read_page(text)
        read_brief(brief_text(page, "b").text, "b")


@settings(max_examples=400, deadline=None)
@given(
    st.sampled_from(CASES),
    st.lists(
        st.tuples(st.integers(0, 900), st.sampled_from("\"'`”<>()[]{}:;,.|\t\n-=@*#\\/ 0A%\u200b\u202e。：")),
        min_size=1,
        max_size=5,
    ),
)
def test_a_page_with_signs_out_of_place_is_read_without_harm(
    case: tuple[str, str], signs: list[tuple[int, str]]
) -> None:
    text = ("\n" + case[1]).rpartition("\n---\n")[0][1:]
    for at, sign in signs:
        text = text[: at % (len(text) + 1)] + sign + text[at % (len(text) + 1) + at % 2 :]
    with contextlib.suppress(BadInput):
        read_brief(brief_text(read_page(text, DOMAIN), "b").text, "b")


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "empty"),
        (" \n\u200b\n", "empty"),
        ("PK\x03\x04\x00\x00", "NUL"),
        ("\x01\x02\x03\x04 A @", "cannot be shown"),
        ("A @ 192.0.2.1\n" * 5000, "longer than a page"),
        ("<table>" + "<tr><td>A</td><td>@</td><td>192.0.2.1</td></tr>" * 100_000 + "</table>", "too much for a page"),
        ("x " * 3_000_000, "too much for a page"),
    ],
)
def test_what_is_no_page_is_refused_with_the_reason(text: str, said: str) -> None:
    with refused(BadInput, said):
        read_page(text)


def test_deep_nesting_is_named_and_harms_nothing() -> None:
    assert read_page('[{"a":' * 5000 + "1" + "}]" * 5000).others
    assert read_page("<div>" * 5000 + "A @ 192.0.2.1" + "</div>" * 5000).own == ()


def test_characters_that_hide_or_resemble_are_shown() -> None:
    turned = read_page("A\t@\t192.0.2.10\nTXT\t@\tbricklark-\u202eowner=tk-4471")
    assert any("cannot be seen (\\u202e)" in each for each in asked_about(turned))
    mixed = read_page("CNAME\twww\ttidewick.br\u0456cklark.example")
    assert any("two alphabets" in each for each in asked_about(mixed))
    assert read_page("A\t@\t192.0.2.10\u200b").others == ()


def test_where_the_domain_is_known_its_names_are_headings() -> None:
    blocks = "tidewick-kiln.example\nType: A\nValue: 192.0.2.10\nwww.tidewick-kiln.example\nType: CNAME\n"
    page = read_page(blocks + "Value: site-20817.edge.bricklark.example", "tidewick-kiln.example")
    assert (told(page), page.others) == (["A @ 192.0.2.10", "CNAME www site-20817.edge.bricklark.example."], ())


def test_alternatives_are_told_apart_from_what_is_wanted_together() -> None:
    one_of = brief_text(
        read_page("Option 1\nTXT @ bricklark-owner=tk-4471\nOption 2\nCNAME tk-4471 v.bricklark.example"), "B"
    )
    assert [row.part for row in one_of.rows] == ["ownership", "ownership"]
    both = brief_text(read_page("TXT @ bricklark-owner=tk-4471\nCNAME tk-4471 v.bricklark.example"), "B")
    assert [row.part for row in both.rows] == ["ownership", "further"]
    clash = brief_text(read_page("Option 1\nA @ 192.0.2.10\nOption 2\nA @ 192.0.2.44"), "B")
    assert clash.options == ("1", "2")
    assert any("only one is possible" in say(doubt) for doubt in clash.doubts)
    page = read_page("Option 1\nA @ 192.0.2.10\nOption 2\nA @ 192.0.2.44")
    assert [row.record.value for row in brief_text(page, "B", option="2").rows] == ["192.0.2.44"]
    page = read_page("Option 1: nameservers\nns1.bricklark.example\nns2.bricklark.example\n\nOption 2\nA @ 192.0.2.44")
    assert ["[routes.nameservers]" in brief_text(page, "B", option=each).text for each in ("", "1", "2")] == [1, 1, 0]
    beside = brief_text(read_page("CNAME www edge.bricklark.example\nA www 192.0.2.10"), "B")
    assert [(row.part, len(beside.notes)) for row in beside.rows] == [("www", 1), ("www_by_address", 1)]
    alias = read_brief(brief_text(read_page("ALIAS @ edge.bricklark.example\nor\nA @ 192.0.2.10"), "B").text, "b")
    assert (alias.apex_alias, alias.apex[0].values) == ("edge.bricklark.example.", ("192.0.2.10",))


def test_what_belongs_to_one_site_is_asked_for_on_wish() -> None:
    page = read_page("CNAME www site-20817.edge.bricklark.example\nTXT @ bricklark-owner=tk-4471")
    found = brief_text(page, "Bricklark", values="ask")
    brief = read_brief(found.text, "b")
    assert {asked.name: asked.example for asked in brief.asked} == {"site": "20817", "code": "tk-4471"}
    assert brief.www[0].values == ("site-{site}.edge.bricklark.example.",)
    assert brief.ownership[0].values == ("bricklark-owner={code}",)


def test_what_is_to_be_deleted_is_kept_apart() -> None:
    page = read_page("Delete:\nA @ 198.51.100.7\nTXT @ old-proof=1234\nAdd:\nA @ 192.0.2.10")
    brief = read_brief(brief_text(page, "B").text, "b")
    assert [(each.type, each.values) for each in brief.deletes] == [
        ("A", ("198.51.100.7",)),
        ("TXT", ("old-proof=1234",)),
    ]
    assert brief.apex[0].values == ("192.0.2.10",)
