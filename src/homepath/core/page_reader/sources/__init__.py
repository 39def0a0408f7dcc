"""Which real format a text is written in: JSON, HTML, TOML, CSV, a master file, or plain words; each becomes rows."""

from __future__ import annotations

import re

from homepath.core.page_reader.rows import MOST_LINES, Hidden, Row, is_diff, rows_of, too_long, unwrapped
from homepath.core.page_reader.sources.continued import continued
from homepath.core.page_reader.sources.data import data_rows, whole_data
from homepath.core.page_reader.sources.html import element_rows, html_rows, looks_like_html
from homepath.core.page_reader.sources.separated import separated_rows, turned
from homepath.core.page_reader.sources.zone_lines import zone_rows


def rows_in(text: str, hidden: Hidden) -> list[Row]:
    """The rows of a text, by a real parser where the text, or a part of it, has a real format."""
    lengths = [len(line.rstrip()) for line in text.replace("\r\n", "\n").replace("\r", "\n").split("\n")]
    return turned(continued(_rows_in(text, hidden), lengths))


def _moved_left(lines: list[str]) -> list[str]:
    """Without the spaces that all lines begin with: in a master file, a space means the owner of the line above."""
    begins = min((line[: len(line) - len(line.lstrip(" \t"))] for line in lines if line.strip()), key=len, default="")
    moved = bool(begins) and all(line.startswith(begins) for line in lines if line.strip())
    return [line.removeprefix(begins) for line in lines] if moved else lines


_NUMBER = re.compile(r"\s*([0-9]{1,3})\s{2,}(?=\S)")


def _unnumbered(lines: list[str]) -> list[str]:
    """Without the numbers of the lines, where a letter or a listing has them."""
    found = [_NUMBER.match(line) for line in lines if line.strip()]
    first = int(found[0][1]) if found and found[0] else 0
    numbered = len(found) > 2 and all(each and int(each[1]) == first + at for at, each in enumerate(found))
    return [_NUMBER.sub("", line, count=1) for line in lines] if numbered else lines


def _rows_in(text: str, hidden: Hidden) -> list[Row]:
    if looks_like_html(text):
        return html_rows(text, hidden)
    text = (
        text.replace("\r\n", "\n").replace("\r", "\n").replace("\u2028", "\n").replace("\x0b", "\n").replace("\f", "\n")
    )
    lines = text.split("\n")
    if sum(1 for line in lines if line.strip()) > MOST_LINES:
        if (found := whole_data(text, hidden)) is not None:
            return found
        raise too_long()
    lines = [unwrapped(line) or line for line in _unnumbered(lines)]
    diff = is_diff(lines)
    lines = lines if diff else _moved_left(lines)
    text = "\n".join(lines)
    if (found := data_rows(text, hidden)) is not None:
        return found
    taken: dict[int, list[Row]] = {}
    skipped: set[int] = set()
    readers = (separated_rows, element_rows) if diff else (zone_rows, separated_rows, element_rows)
    for reader in readers:
        for first, last, rows in reader(lines, hidden):
            if not skipped & set(range(first, last)):
                taken[first] = rows
                skipped |= set(range(first, last))
    if not taken:
        return list(rows_of(text, hidden))
    plain = rows_of("\n".join("" if at in skipped else line for at, line in enumerate(lines)), hidden)
    found = []
    for at, row in enumerate(plain):
        if at in taken:
            found += taken[at]
        elif at not in skipped:
            found.append(row)
    return found
