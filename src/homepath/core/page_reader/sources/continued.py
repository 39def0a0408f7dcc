"""Values that go on in the next line: long keys, and names that were cut at a dot or a hyphen."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from homepath.core.page_reader.kinds import is_button, is_fqdn, type_of
from homepath.core.page_reader.rows import LONGEST_LINE, Row
from homepath.core.page_reader.sources.broken_lines import CUT_AT_DOT, flowing, is_filled, width_of
from homepath.core.page_reader.titles import title_of

_KEY = re.compile(r"(?:\bp=|^)[A-Za-z0-9+/]{20,}$")
_KEY_REST = re.compile(r"[A-Za-z0-9+/]{4,}={0,2};?")
_SPF = re.compile(r"\bv=spf1\b(?!.*\ball$)")
_SPF_REST = re.compile(r"[-~?+]?(?:all\b|(?:include|ip4|ip6|exists):|redirect=|(?:a|mx)(?=[\s:]))")
_TAGS = re.compile(r"\bv=D(?:KIM|MARC)1\b.*;$")
_TAG = re.compile(r"[a-z]{1,5}=")
_TORN_POLICIES = (
    (_SPF, _SPF_REST),
    (_TAGS, _TAG),
    (re.compile(r'"v=[A-Za-z0-9]+[^"]*"$'), re.compile(r'"[^"]+"(?:\s+"[^"]+")*$')),
)
"""How a policy ends where it was cut, and how its rest begins."""
_LONG_STRING = re.compile(r'"[^"]{100,}"$')
_STRING = re.compile(r'"(?![\w.-]{1,40}=[^"])[^"]+"')
_CUT_AT_HYPHEN = re.compile(r"(?:[A-Za-z0-9_-]+\.)+[A-Za-z0-9-]*-$")
_CUT_IN_TEXT = re.compile(r"\w[-=_]$")
_NAME_REST = re.compile(r"[A-Za-z0-9][A-Za-z0-9.-]*")


def continued(rows: Sequence[Row], lengths: Sequence[int]) -> list[Row]:
    """The rows, with each line that goes on put behind the one before. `lengths`: of the lines, in characters."""
    width = width_of(rows, lengths)
    words = {word.lower().strip(".,;:") for row in rows for word in row.text.split()}
    tails = {_tail(word) for word in words if is_fqdn(word)}
    found: list[Row] = []
    for row in rows:
        if not found or len(found[-1].text) + len(row.text) > LONGEST_LINE:
            found.append(row)
            continue
        filled = is_filled(found[-1], row, lengths, width)
        if whole := _whole(found[-1], row, tails) or flowing(found[-1], row, filled):
            found[-1] = whole
        else:
            found.append(row)
    return found


def _whole(last: Row, row: Row, tails: set[str]) -> Row | None:
    """Both lines as one; None where the second says something of its own."""
    lone = row.kind == "text" and not row.mark and len(row.cells) == 1 and row.line == (last.line, *last.more)[-1] + 1
    if not lone or not last.cells or title_of(row.text) or type_of(row.text) or is_button(row.text):
        return None
    before, mark = last.cells[-1].text, last.mark
    text = before + row.text
    in_cells = len(last.cells) > 1 or ":" in before or row.cells[0].at > 1
    if _CUT_AT_HYPHEN.search(before) and _NAME_REST.fullmatch(row.text):
        ways = [before[:-1] + row.text, text]  # the hyphen may be the page's or the paper's
        known = [way for way in ways if _tail(way.split()[-1]) in tails - {_tail(row.text)}]
        text, mark = (known or ways)[0], mark if len(known) == 1 else "torn"
    elif any(cut.search(before) and rest.match(row.text) for cut, rest in _TORN_POLICIES) or (
        before.count('"') % 2 and row.text.count('"') == 1 and '"' in row.text[1:]
    ):
        text = f"{before} {row.text}"
    elif _LONG_STRING.search(before) and _STRING.fullmatch(row.text):
        text = before[:-1] + row.text[1:]  # strings of one text (RFC 1035 section 3.3.14)
    elif _is_below(last, row) and _CUT_IN_TEXT.search(before):
        mark = "torn"
    elif not (_KEY.search(before) and _KEY_REST.fullmatch(row.text)):
        cut = CUT_AT_DOT.search(before)
        below = _is_below(last, row)
        rest = is_fqdn(row.text) or (below and _NAME_REST.fullmatch(row.text))
        if not cut or not rest or not (in_cells or "." in cut[1][:-1]):
            return None
        if is_fqdn(cut[1]) and not (below and is_fqdn(row.text)):
            labelled = before.endswith(f": {cut[1]}") and title_of(before[: -len(cut[1]) - 2].strip()) is not None
            if not labelled and len(last.cells) < 2:
                return None
            mark = "torn"
    at = last.text.rindex(before)
    cells = (*last.cells[:-1], replace(last.cells[-1], text=text))
    return replace(last, text=last.text[:at] + text, cells=cells, mark=mark, more=(*last.more, row.line))


def _is_below(last: Row, row: Row) -> bool:
    """Whether a lone cell stands exactly below the last one of the row before."""
    return len(last.cells) > 1 and row.cells[0].at > 1 and abs(row.cells[0].at - last.cells[-1].at) < 2


def _tail(name: str) -> str:
    return ".".join(name.lower().strip(".").split(".")[-2:])
