"""The source of a page, or what a browser puts into the clipboard as HTML: tables as tables, the rest as its lines."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from html import unescape
from typing import Any

from homepath.core.page_reader.rows import LONGEST_LINE, MOST_LINES, Cell, Hidden, Row, cells_of, plain, row_of

_NAMES = (
    "html|body|table|tbody|tr|td|th|div|span|p|ul|ol|li|dl|dt|dd|h[1-6]|code|pre|section|article|strong|b|em|a"
    "|button|label|form"
)
_TAG = re.compile(rf"<(?:!doctype|br|input|{_NAMES})\b[^<>]{{0,2000}}/?>", re.I)
_END = re.compile(rf"</(?:{_NAMES})\s*>", re.I)
_SKIP = frozenset((
    "script", "style", "svg", "button", "select", "noscript", "template", "head", "title", "nav", "footer", "iframe",
    "object",
))  # fmt: skip
_INLINE = frozenset((
    "a", "b", "i", "em", "strong", "span", "small", "abbr", "mark", "u", "sub", "sup", "font", "bdi", "bdo", "time",
    "wbr", "label",
))  # fmt: skip
_CODE = frozenset(("code", "kbd", "samp", "tt", "var"))
_STRUCK = frozenset(["del", "s", "strike"])
_FIELDS = frozenset(["input", "textarea"])
_IN_LINE = _INLINE | _CODE | _STRUCK | _FIELDS
_HEADING = re.compile(r"h[1-6]|legend|caption|summary")


def looks_like_html(text: str) -> bool:
    """Whether a text is the source of a page: it has tags, and they are closed."""
    return len(_TAG.findall(text[:200_000])) >= 2 and bool(_END.search(text[:200_000]))


def html_rows(text: str, hidden: Hidden) -> list[Row]:
    """The rows of a page's source; what a browser would not show is left out."""
    import lxml.etree
    import lxml.html

    parser = lxml.html.HTMLParser(encoding="utf-8", remove_comments=True, remove_pis=True)
    try:
        tree = lxml.html.document_fromstring(text.encode("utf-8", "replace"), parser=parser)
    except (lxml.etree.LxmlError, ValueError):
        return [row_of(line, number, hidden) for number, line in enumerate(text.split("\n"), 1)]
    page = _Page(hidden)
    page.walk(tree)
    page.flush()
    return page.rows


_ELEMENT = re.compile(
    r"\s*<[\w:-]{1,40}((?:\s+[\w:-]{1,40}\s*=\s*\"[^\"<]{0,2000}\"){2,20})\s*/?>(?:\s*</[\w:-]{1,40}>)?\s*"
)
_ATTRIBUTE = re.compile(r"([\w:-]+)\s*=\s*\"([^\"]*)\"")


def element_rows(lines: Sequence[str], hidden: Hidden) -> Iterator[tuple[int, int, list[Row]]]:
    """`<record type="A" name="@" value="192.0.2.10"/>`, one on a line, as cards: the first line, the line after it,
    and its row. Lines count from 0."""
    for at, line in enumerate(lines):
        match = _ELEMENT.fullmatch(line) if len(line) <= LONGEST_LINE and line.lstrip()[:1] == "<" else None
        if match:
            fields = [(name, plain(unescape(value), at + 1, hidden)) for name, value in _ATTRIBUTE.findall(match[1])]
            cells = tuple(Cell(value, 0, name) for name, value in fields)
            yield (
                at,
                at + 1,
                [Row(at + 1, "; ".join(f"{name}: {value}" for name, value in fields), cells, "card", "item")],
            )


class _Page:
    """Collects rows while going through the elements in their order, without recursion into their depth."""

    def __init__(self, hidden: Hidden) -> None:
        self.hidden = hidden
        self.rows: list[Row] = []
        self.words: list[str] = []
        self.line, self.tables = 1, 0
        self.item = self.struck = self.heading = False
        self.closed = False
        """An element has just ended, and nothing follows it yet."""

    def walk(self, root: Any) -> None:
        """Each element on entering and on leaving."""
        stack: list[tuple[Any, bool]] = [(root, False)]
        while stack and len(self.rows) <= MOST_LINES + 1:
            element, leaving = stack.pop()
            if leaving:
                self._leave(element.tag.lower())
                self._text(element.tail)
            elif not isinstance(element.tag, str) or _unseen(element):
                self._text(element.tail)
            elif element.tag.lower() == "table" and not element.xpath("boolean(.//table)"):
                self.flush()
                self._table(element)
                self._text(element.tail)
            else:
                self._enter(element, element.tag.lower())
                stack.append((element, True))
                stack += [(child, False) for child in reversed(element)]

    def _enter(self, element: Any, tag: str) -> None:
        if tag in ("span", "a", "label", "bdi") and self.words and self.closed and not self.words[-1][-1:].isspace():
            self.words.append("\t")
        self.closed = False
        if tag not in _IN_LINE:
            self.flush()
            self.line = element.sourceline or self.line
            self.item, self.heading = tag == "li", bool(_HEADING.fullmatch(tag))
        self.struck = self.struck or tag in _STRUCK
        if tag in _FIELDS and (value := (element.get("value") or "").strip()):
            before = "".join(self.words).strip()
            self.words = [f"{before}: " if before and not before.endswith(":") else f"{before} ", value]
        if tag in _CODE and len(element) == 0 and (code := " ".join((element.text or "").split())):
            self.words.append(f" “{code}” ")
        else:
            self._text(element.text)

    def _leave(self, tag: str) -> None:
        text = "".join(self.words)
        if tag == "dt":
            self.words = [f"{text}{'' if not text or text.rstrip().endswith(':') else ':'} "]
            return
        self.closed = True
        if tag not in _IN_LINE:
            self.flush()

    def _text(self, text: str | None) -> None:
        if text:
            self.words.append(re.sub(r"\s+", " ", text))
            self.closed = False

    def flush(self) -> None:
        """What was collected is a line."""
        text, self.words = "".join(self.words).strip(), []
        if text:
            alone = re.fullmatch(r"“([^“”]*)”", text)
            row = row_of(alone[1] if alone else text, self.line, self.hidden)
            mark = "struck" if self.struck else "item" if self.item else row.mark
            self.rows.append(Row(row.line, row.text, row.cells, "heading" if self.heading else row.kind, mark))
        self.struck = False

    def _table(self, table: Any) -> None:
        self.tables += 1
        spans: dict[int, tuple[int, str]] = {}
        caption = table.find("caption")
        if caption is not None and (text := " ".join(caption.text_content().split())):
            self.rows.append(Row(caption.sourceline or self.line, text, cells_of(text), "heading"))
        for tr in table.iter("tr"):
            if len(self.rows) > MOST_LINES + 1:
                return
            line = tr.sourceline or self.line
            texts: list[str] = []
            for td in tr:
                if isinstance(td.tag, str) and td.tag.lower() in ("td", "th") and not _unseen(td):
                    _reach_down(texts, spans)
                    texts.append(plain(_cell(td), line, self.hidden))
                    if (rows := _span(td, "rowspan", 1000)) > 1:
                        spans[len(texts) - 1] = (rows - 1, texts[-1])
                    texts += [""] * (_span(td, "colspan", 20) - 1)
            _reach_down(texts, spans)
            filled = [text for text in texts if text]
            if len(filled) == 1 and len(texts) > 1 and len(filled[0].split()) > 1:
                self.rows.append(row_of(filled[0], line, self.hidden))
            elif filled:
                struck = any(isinstance(each.tag, str) and each.tag.lower() in _STRUCK for each in tr.iter())
                cells = tuple(Cell(text, at) for at, text in enumerate(texts))
                self.rows.append(Row(line, "\t".join(texts), cells, "table", "struck" if struck else "", self.tables))


def _span(cell: Any, name: str, most: int) -> int:
    """The rows or columns that a cell reaches over; 1 for what is no sensible number."""
    text = cell.get(name, "1")
    return int(text) if text.isdecimal() and len(text) < 6 and 1 <= int(text) <= most else 1


def _reach_down(texts: list[str], spans: dict[int, tuple[int, str]]) -> None:
    """Cells that reach down from rows above."""
    while (at := len(texts)) in spans:
        left, text = spans.pop(at)
        texts.append(text)
        if left > 1:
            spans[at] = (left - 1, text)


def _cell(cell: Any) -> str:
    """What a cell shows: its text and the values of its fields, several lines with commas between."""
    lines = (" ".join(line.split()) for line in "".join(_shown(cell)).split("\n"))
    return ", ".join(line for line in lines if line)


def _shown(cell: Any) -> Iterator[str]:
    stack: list[Any] = [cell]
    while stack:
        node = stack.pop()
        if isinstance(node, str):
            yield node
            continue
        seen = node is cell or (isinstance(node.tag, str) and not _unseen(node))
        tag = node.tag.lower() if seen else ""
        rest: list[Any] = []
        if tag in _FIELDS:
            rest.append(f" {node.get('value') or node.text or ''} ")
        elif seen:
            edge = ["\n"] if tag in ("br", "div", "p", "li") else []
            rest += [*edge, node.text or "", *node, *(edge if tag != "br" else [])]
        if node is not cell and node.tail:
            rest.append(node.tail)
        stack += reversed(rest)


def _unseen(element: Any) -> bool:
    if element.tag.lower() in _SKIP or element.get("hidden") is not None or element.get("aria-hidden") == "true":
        return True
    style = (element.get("style") or "").replace(" ", "").lower()
    names = set((element.get("class") or "").lower().split())
    hides = "display:none" in style or "visibility:hidden" in style
    return hides or bool(names & {"sr-only", "visually-hidden", "screen-reader-text"})
