"""Pasted text, in the styles that occur. Each case of the corpus: the text, then what must be read from it.

`TYPE host value` for a record, `NS name` for a name server, `? n` for a line that must be named as unread,
`! words` for a doubt.
"""

from __future__ import annotations

import contextlib
from pathlib import Path

import pytest
from homepath.core.formats.pasted.reader import read_pasted
from hypothesis import given
from hypothesis import strategies as st

from homepath.core.formats.brief_file import read_brief
from homepath.core.formats.pasted.brief_text import brief_text
from homepath.core.model.problems import BadInput

CORPUS = Path(__file__).parent / "corpus" / "pasted.txt"
CASES = [block.split("\n", 1) for block in CORPUS.read_text().split("=== ")[1:]]


def test_the_corpus_is_large() -> None:
    assert len(CASES) >= 40
    assert len({name for name, _ in CASES}) == len(CASES)


def records(text: str) -> list[tuple[str, str, str, int | None]]:
    return [(each.type, each.host, each.value, each.ttl) for each in read_pasted(text).records]


def test_rows_without_a_header() -> None:
    assert records("A\t@\t192.0.2.10\t1 hour") == [("A", "@", "192.0.2.10", 3600)]
    assert records("CNAME\twww\ttidewick.bricklark.example\t3600") == [
        ("CNAME", "www", "tidewick.bricklark.example", 3600)
    ]
    assert records("A  192.0.2.10")[0][2] == "192.0.2.10"
    assert records("TXT\t@\t3600") == []
    assert records("TXT\t@\tabc") == []
    assert records("A\t@\t192.0.2.10\textra words") == []


def test_rows_below_a_header_need_a_type_and_a_value() -> None:
    head = "Type\tHost\tValue\n"
    assert records(head + "A\t@\t192.0.2.10") == [("A", "@", "192.0.2.10", None)]
    assert records(head + "\t@\t192.0.2.10") == [("A", "@", "192.0.2.10", None)]
    assert records(head + "\t@\t2001:db8::1") == [("AAAA", "@", "2001:db8::1", None)]
    for lost in ("A\t@\t", "\t@\tword"):
        pasted = read_pasted(head + lost)
        assert (list(pasted.records), [line.number for line in pasted.unread]) == ([], [2])


def test_what_follows_a_value_line_by_line() -> None:
    more = records("A @ 192.0.2.10\n192.0.2.11\n2001:db8::1\nword")
    assert [each[:3] for each in more] == [
        ("A", "@", "192.0.2.10"),
        ("A", "@", "192.0.2.11"),
        ("AAAA", "@", "2001:db8::1"),
    ]
    broken = read_pasted('TXT\t@\t"bricklark-owner="\ntk-4471')
    assert [each.value for each in broken.records] == ["bricklark-owner=tk-4471"]
    assert any("taken as the rest" in doubt for doubt in broken.doubts)
    alias = read_pasted("CNAME\twww\ttidewick.bricklark.\nexample")
    assert [each.value for each in alias.records] == ["tidewick.bricklark.example"]
    far = read_pasted('TXT\t@\t"bricklark-owner=a"\n\nSome words\ntk-4471')
    assert [each.value for each in far.records] == ["bricklark-owner=a"]


@pytest.mark.parametrize(
    ("row", "part"),
    [
        ("A\t@\t192.0.2.10", "apex"),
        ("AAAA\t@\t2001:db8::1", "apex"),
        ("CNAME\twww\tx.bricklark.example", "www"),
        ("A\twww\t192.0.2.10", "www"),
        ("TXT\t@\tbricklark-owner=tk", "ownership"),
        ("TXT\t_verify\tabcdef", "ownership"),
        ("CNAME\tverify\tproof.bricklark.example", "ownership"),
        ("TXT\t@\tv=spf1 include:mail.example -all", "further"),
        ("MX\t@\t10 mx.example", "further"),
        ("A\tshop\t192.0.2.10", "further"),
    ],
)
def test_what_a_row_is_for(row: str, part: str) -> None:
    found = brief_text(read_pasted(row), "Bricklark")
    assert [each[3] for each in found.rows] == [part]


@pytest.mark.parametrize(("name", "block"), CASES, ids=[name for name, _ in CASES])
def test_corpus(name: str, block: str) -> None:
    text, _, expected = block.rpartition("\n---\n")
    wanted = [line for line in expected.splitlines() if line.strip()]
    pasted = read_pasted(text)
    found = brief_text(pasted, "Bricklark")
    read = [f"{rrtype} {host} {value}" for host, rrtype, value, _, _ in found.rows]
    read += [f"NS {server}" for server in pasted.nameservers]
    assert sorted(read) == sorted(line for line in wanted if line[0] not in "?!")
    assert {f"? {line.number}" for line in pasted.unread} >= {line for line in wanted if line[0] == "?"}
    for doubt in (line[2:] for line in wanted if line[0] == "!"):
        assert any(doubt in each for each in found.doubts), found.doubts
    _no_line_is_lost(text, pasted)
    assert read_brief(found.text, "b").builder == "Bricklark"


def _no_line_is_lost(text: str, pasted: object) -> None:
    """Every line with words is in a record, a name server, a doubt, a header or field, or named as unread."""
    from homepath.core.formats.pasted.reader import Pasted, _cells

    from homepath.core.formats.pasted.words import field_of, plain

    assert isinstance(pasted, Pasted)
    spoken = {n for record in pasted.records for n in record.lines} | {line.number for line in pasted.unread}
    for number, raw in enumerate(text.splitlines(), 1):
        words = plain(raw)
        known = not words.strip(" |+-=_\t") or number in spoken
        known = known or any(server in words.lower() for server in pasted.nameservers)
        known = known or any(field_of(cell.partition(":")[0]) for cell in _cells(words))
        known = known or any(f"line {number}:" in doubt or f"lines {number} " in doubt for doubt in pasted.doubts)
        assert known, f"line {number} was lost: {raw!r}"


@given(st.text(alphabet=st.sampled_from("A CNAME TXT @ www.:\t|,\n192.0.2.1-=\"'<>{}xyé "), max_size=300))
def test_any_text_is_read_without_harm(text: str) -> None:
    pasted = read_pasted(text)
    found = brief_text(pasted, "b")
    with contextlib.suppress(BadInput):
        read_brief(found.text, "b")
