"""The source of a page, or what a browser puts into the clipboard as HTML: tables as tables, the rest as its lines."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

from homepath.core.page_reader.rows import MOST_LINES, Cell, Hidden, Row, cells_of, plain, row_of

_NAMES = (
    "html|body|table|tbody|tr|td|th|div|span|p|ul|ol|li|dl|dt|dd|h[1-6]|code|pre|section|article|strong|b|em|a"
    "|button|label|form"
)
_TAG = re.compile(rf"<(?:!doctype|br|input|{_NAMES})\b[^<>]{{0,2000}}/?>", re.I)
_END = re.compile(rf"</(?:{_NAMES})\s*>", re.I)
_SKIP = frozenset(
    [
        "script",
        "style",
        "svg",
        "button",
        "select",
        "noscript",
        "template",
        "head",
        "title",
        "nav",
        "footer",
        "iframe",
        "object",
    ]
)
_INLINE = frozenset(
    [
        "a",
        "b",
        "i",
        "em",
        "strong",
        "span",
        "code",
        "kbd",
        "samp",
        "tt",
        "var",
        "small",
        "abbr",
        "mark",
        "u",
        "sub",
        "sup",
        "font",
        "bdi",
        "bdo",
        "time",
        "wbr",
        "label",
    ]
)
_STRUCK = frozenset(("del", "s", "strike"))
_FIELDS = frozenset(("input", "textarea"))
_CODE = frozenset(("code", "kbd", "samp", "tt", "var"))


def looks_like_html(text: str) -> bool:
    """Whether a text is the source of a page: it has tags, and they are closed."""
    return len(_TAG.findall(text[:200_000])) >= 2 and bool(_END.search(text[:200_000]))


def html_rows(text: str, hidden: Hidden) -> list[Row]:
    """The rows of a page's source; what a browser would not show is left out."""
    import lxml.etree
    import lxml.html

    try:
        parser = lxml.html.HTMLParser(encoding="utf-8", remove_comments=True, remove_pis=True)
        tree = lxml.html.document_fromstring(text.encode("utf-8", "replace"), parser=parser)
    except (lxml.etree.ParserError, lxml.etree.XMLSyntaxError, ValueError):
        return [row_of(line, number, hidden) for number, line in enumerate(text.split("\n"), 1)]
    page = _Page(hidden)
    page.walk(tree)
    page.flush()
    return page.rows


class _Page:
    """Collects rows while going through the elements in their order, without recursion into their depth."""

    def __init__(self, hidden: Hidden) -> None:
        self.hidden = hidden
        self.rows: list[Row] = []
        self.words: list[str] = []
        self.line = 1
        self.item = False
        self.struck = False
        self.heading = False
        self.tables = 0
        self.closed = False
        """An element has just ended, and nothing stands behind it yet."""

    def walk(self, root: Any) -> None:
        """Each element on entering and on leaving."""
        stack: list[tuple[Any, bool]] = [(root, False)]
        while stack and len(self.rows) <= MOST_LINES + 1:
            element, leaving = stack.pop()
            if leaving:
                self._leave(element)
                self._text(element.tail)
                continue
            if not isinstance(element.tag, str) or _unseen(element):
                self._text(element.tail)
                continue
            tag = element.tag.lower()
            if tag == "table" and not element.xpath("boolean(.//table)"):
                self.flush()
                self._table(element)
                self._text(element.tail)
                continue
            self._enter(element, tag)
            stack.append((element, True))
            stack += [(child, False) for child in reversed(element)]

    def _enter(self, element: Any, tag: str) -> None:
        if tag in ("span", "a", "label", "bdi") and self.words and self.closed and not self.words[-1][-1:].isspace():
            self.words.append("\t")
        self.closed = False
        if tag not in _INLINE and tag not in _STRUCK and tag not in _FIELDS:
            self.flush()
            self.line = element.sourceline or self.line
            self.item = tag == "li"
            self.heading = bool(re.fullmatch(r"h[1-6]|legend|caption|summary", tag))
        if tag in _STRUCK:
            self.struck = True
        if tag in _FIELDS and (element.get("value") or "").strip():
            before = "".join(self.words).strip()
            self.words = [f"{before}: " if before and not before.endswith(":") else f"{before} ", element.get("value")]
        if tag in _CODE and element.text and len(element) == 0 and element.text.strip():
            self.words.append(f" “{' '.join(element.text.split())}” ")
            return
        self._text(element.text)

    def _leave(self, element: Any) -> None:
        tag = element.tag.lower()
        if tag == "dt":
            if self.words and not "".join(self.words).rstrip().endswith(":"):
                self.words.append(":")
            text = "".join(self.words)
            self.words = [f"{text} "]
            return
        self.closed = True
        if tag not in _INLINE and tag not in _STRUCK and tag not in _FIELDS:
            if tag == "label" and self.words:
                return
            self.flush()

    def _text(self, text: str | None) -> None:
        if text:
            self.words.append(re.sub(r"\s+", " ", text))
            self.closed = False

    def flush(self) -> None:
        """What was collected is a line."""
        text = "".join(self.words).strip()
        self.words = []
        if not text:
            self.struck = False
            return
        alone = re.fullmatch(r"“([^“”]*)”", text)
        row = row_of(alone[1] if alone else text, self.line, self.hidden)
        mark = "struck" if self.struck else "item" if self.item else row.mark
        kind = "heading" if self.heading else row.kind
        self.rows.append(Row(row.line, row.text, row.cells, kind, mark))
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
            struck = False
            for td in tr:
                if not isinstance(td.tag, str) or td.tag.lower() not in ("td", "th") or _unseen(td):
                    continue
                self._filled(texts, spans)
                text = plain(_cell(td), line, self.hidden)
                struck = struck or any(isinstance(e.tag, str) and e.tag.lower() in _STRUCK for e in td.iter())
                texts.append(text)
                rows = td.get("rowspan", "1")
                if rows.isdecimal() and 1 < int(rows) <= 1000:
                    spans[len(texts) - 1] = (int(rows) - 1, text)
                columns = td.get("colspan", "1")
                if columns.isdecimal() and 1 < int(columns) <= 20:
                    texts += [""] * (int(columns) - 1)
            self._filled(texts, spans)
            if not any(texts):
                continue
            filled = [text for text in texts if text]
            if len(filled) == 1 and len(texts) > 1 and len(filled[0].split()) > 1:
                self.rows.append(row_of(filled[0], line, self.hidden))
                continue
            cells = tuple(Cell(text, at) for at, text in enumerate(texts))
            self.rows.append(Row(line, "\t".join(texts), cells, "table", "struck" if struck else "", self.tables))

    @staticmethod
    def _filled(texts: list[str], spans: dict[int, tuple[int, str]]) -> None:
        """Cells that reach down from rows above."""
        while len(texts) in spans:
            at = len(texts)
            left, text = spans.pop(at)
            texts.append(text)
            if left > 1:
                spans[at] = (left - 1, text)


def _cell(cell: Any) -> str:
    """What a cell shows: its text and the values of its fields, several lines with commas between."""
    return " ".join(
        ", ".join(part for part in (" ".join(p.split()) for p in "".join(_shown(cell)).split("\n")) if part).split()
    )


def _shown(element: Any) -> Iterator[str]:
    stack: list[Any] = [element]
    first = True
    while stack:
        node = stack.pop()
        if isinstance(node, str):
            yield node
            continue
        if not isinstance(node.tag, str) or (_unseen(node) and not first):
            if node.tail and not first:
                yield node.tail
            continue
        tail = None if first else node.tail
        first = False
        tag = node.tag.lower()
        rest: list[Any] = []
        if tag in ("input", "textarea"):
            rest.append(f" {node.get('value') or node.text or ''} ")
        elif tag == "br" or tag in ("div", "p", "li"):
            rest.append("\n")
        if node.text and tag != "textarea":
            rest.append(node.text)
        rest += list(node)
        if tag in ("div", "p", "li"):
            rest.append("\n")
        if tail:
            rest.append(tail)
        stack += reversed(rest)


def _unseen(element: Any) -> bool:
    if element.tag.lower() in _SKIP or element.get("hidden") is not None or element.get("aria-hidden") == "true":
        return True
    style = (element.get("style") or "").replace(" ", "").lower()
    names = (element.get("class") or "").lower().split()
    return (
        "display:none" in style
        or "visibility:hidden" in style
        or any(n in ("sr-only", "visually-hidden", "screen-reader-text") for n in names)
    )
