"""Values that go on in the next line: long keys, and names that were cut at a dot or a hyphen."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from homepath.core.page_reader.atoms import atoms_of
from homepath.core.page_reader.clauses import VALUES
from homepath.core.page_reader.kinds import (
    SERVICE_PARAMS,
    addresses,
    field_roles,
    is_button,
    is_fqdn,
    is_usual_label,
    type_of,
)
from homepath.core.page_reader.moods import events, title_of
from homepath.core.page_reader.rows import ARROW, Cell, Row, cells_of
from homepath.core.page_reader.sentences import IT
from homepath.core.page_reader.words import UNSPACED, bare, fold, phrases_of, stems

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
_CUT_AT_DOT = re.compile(r"(?:^|[\s:])([A-Za-z0-9_.-]+\.)$")
_CUT_AT_HYPHEN = re.compile(r"(?:[A-Za-z0-9_-]+\.)+[A-Za-z0-9-]*-$")
_CUT_IN_TEXT = re.compile(r"\w[-=_]$")
_NAME_REST = re.compile(r"[A-Za-z0-9][A-Za-z0-9.-]*")


def continued(rows: Sequence[Row], lengths: Sequence[int]) -> list[Row]:
    """The rows, with each line that goes on put behind the one before. `lengths`: of the lines, in characters."""
    prose = [lengths[row.line - 1] for row in rows if _is_prose(row) and row.line <= len(lengths)]
    width = max((each for each in prose if each <= WIDEST), default=0)
    words = {word.lower().strip(".,;:") for row in rows for word in row.text.split()}
    tails = {_tail(word) for word in words if is_fqdn(word)}
    found: list[Row] = []
    for row in rows:
        if not found:
            found.append(row)
            continue
        end = (found[-1].line, *found[-1].more)[-1]
        length = lengths[end - 1] if end <= len(lengths) else 0
        filled = NARROWEST <= width < length + 1 + len((row.text.split() or [""])[0]) and length <= width
        if whole := _whole(found[-1], row, tails) or _flowing(found[-1], row, filled):
            found[-1] = whole
        else:
            found.append(row)
    return found


NARROWEST, WIDEST = 24, 110
"""Characters of the lines that mail, chat and print break a text into."""


def _is_prose(row: Row) -> bool:
    return row.kind == "text" and len(row.cells) == 1 and len(row.text.split()) > 1


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
        cut = _CUT_AT_DOT.search(before)
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


_LEADING = ("VALUE_BEFORE", "HOST_BEFORE", "JOINTS")
"""Words that no sentence ends with."""
_ENDS_WITH_ARROW = re.compile(rf"(?:{ARROW.pattern})$")
ENDED = re.compile(r"[.!?:;。！？：；।][\"”)]?$")


def _flowing(last: Row, row: Row, filled: bool) -> Row | None:
    """Two lines of one sentence, as mail and print break them; None for any others. `filled`: the first word of the
    second had no room in the first."""
    below = row.kind == "text" and not row.mark and len(row.cells) == 1
    arrow = _ENDS_WITH_ARROW.search(last.text)
    last_words = {event.kind for event in events(last.text) if event.end == len(fold(last.text))}  # `expected`
    word = bool(last_words) and len(last.text) > 45
    torn_at_arrow = len(row.text.split()) == 1 and (word or (arrow is not None and arrow.start() > 0))
    in_brackets = re.search(r"\([^()]*$", last.text) is not None and re.match(r"[^()]*\)", row.text) is not None
    if below and last.kind == "text" and len(last.text) <= 1000 and (torn_at_arrow or in_brackets):
        text = f"{last.text} {row.text}"
        return replace(last, text=text, cells=cells_of(text), more=(*last.more, row.line))
    plain = below and last.kind == "text" and len(last.cells) == 1
    if not plain or row.line != (last.line, *last.more)[-1] + 1 or not (12 if filled else 25) <= len(last.text) <= 1000:
        return None
    if ":" not in last.text + row.text and _asks_for_another(last.text, row.text):
        text = last.text + (" " if ENDED.search(last.text) else ". ") + row.text
        return replace(last, text=text, cells=(Cell(text, last.cells[0].at),), more=(*last.more, row.line))
    cut = _CUT_AT_DOT.search(last.text)
    torn = bool(cut and "." in cut[1][:-1] and is_fqdn(row.text.split()[0]))
    again = IT.match(fold(row.text)) is not None and any(atom.kind in VALUES for atom in atoms_of(last.text))
    goes_on = row.text[:1].islower() and any(bare(row.text.split()[0]) in phrases_of(table) for table in _LEADING[:2])
    labelled = ":" in row.text.rstrip(":")[:25] and not goes_on  # `de www: ...` is no field's name
    first, words = row.text.split()[0].strip(".,;()"), [bare(word) for word in last.text.split()[-2:]]
    # `..., found 198.51.100.7. Wanted: / 192.0.2.10`
    valued = bool(addresses(first) or is_fqdn(first)) and title_of(words[-1]) is not None
    waits = filled and last.text.endswith(":") and len(last.text.split()) > 3 and valued
    if labelled or not (torn or again or waits or not ENDED.search(last.text)):
        return None
    words = words[:1] if words[-1] in phrases_of("RECORD") else words  # `and a record / CNAME for www`
    # what begins a record may begin a line of its own
    typed = first.isupper() and type_of(first) is not None
    alone = " " not in row.text
    mail = re.search(r"\b(?:MX|CNAME)(?: @| www)?(?: [0-9]+)?$", last.text) is not None  # `MX @ 10 / mx1.x.example`
    leads = any(words[-1] in phrases_of(table) for table in _LEADING) or last.text.endswith((",", "(")) or mail
    boxed = words[-1] in phrases_of("BESIDE_FIELD") and bool(field_roles(first.strip("«»„“”\"'")))
    leads = leads or boxed  # `enter www in the / Name box`
    ordered = not typed and ("ADD" in last_words or bool(stems("CHOOSE").find(words[-1])))
    leads = leads or ordered or "REQUIRED" in last_words
    leads = leads or bool({*field_roles(words[-1])} - {"nameserver"}) or _waits_for(last.text, first)
    joint = any(bare(first) in phrases_of(table) for table in (*_LEADING, "PARTICLES")) or row.text.startswith("(")
    joint = joint or (first.islower() and any(event.kind in ("CURRENT", "REQUIRED") for event in events(first)))
    whole = any(atom.kind in VALUES and atom.end == len(last.text) for atom in atoms_of(last.text))
    filled = filled and not again and (leads or not alone) and (joint or leads or not whole)
    named = (
        first[:1].isdecimal()
        or (is_usual_label(first) and not (filled and not alone and is_fqdn(first)))
        or typed
        or boxed
    )
    named = named and first.partition("=")[0] not in SERVICE_PARAMS
    enough = (3, 12) if filled else (5, 25) if leads else (7, 45)
    count = enough[0] if UNSPACED.search(last.text) else len(last.text.split())
    if count < enough[0] or len(last.text) < enough[1]:
        return None
    title = None if any(atom.kind in VALUES for atom in atoms_of(row.text)) else title_of(row.text)
    if title is not None and not (title.guessed and first[:1].islower()):
        return None
    goes = filled and any(words[-1] in phrases_of(table) for table in _LEADING)  # `der / Domain` in German
    if not (first[:1].islower() or named or again or goes) or (named and not (leads or torn)):
        return None
    text = last.text + ("" if torn else " ") + row.text
    return replace(
        last, text=text, cells=(Cell(text, last.cells[0].at),), mark="torn" if torn else last.mark,
        more=(*last.more, row.line),
    )  # fmt: skip


def _asks_for_another(before: str, text: str) -> bool:
    """`Your A record points to 198.51.100.7` over `It should point to 192.0.2.10`."""
    above, here = atoms_of(before), atoms_of(text)
    now, new = ([atom.kind for atom in atoms if atom.kind in VALUES] for atoms in (above, here))
    named = any(atom.kind in ("type", "host", "apex") for atom in here)
    told, asked = ({event.kind for event in events(each)} for each in (before, text))
    typed = any(atom.kind == "type" for atom in above)
    return (
        len(now) == 1 and now == new and typed and not named and "REQUIRED" in asked and not told & {"ADD", "REQUIRED"}
    )


def _waits_for(text: str, first: str) -> bool:
    """Whether a line names a type whose value it has not, and this may be it."""
    atoms = atoms_of(text)
    types = {atom.value for atom in atoms if atom.kind == "type"}
    if addresses(first):
        return bool(types & {"A", "AAAA"}) and all(atom.kind != "address" for atom in atoms)
    return "CNAME" in types and is_fqdn(first) and all(atom.kind != "fqdn" for atom in atoms)


def _tail(name: str) -> str:
    return ".".join(name.lower().strip(".").split(".")[-2:])
