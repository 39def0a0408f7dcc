"""What a page itself says: parts it loads, links, its canonical address, a redirect of its own.

Read by libxml2, which takes whatever it is given in linear time (the standard library's parser does not); what is
broken is read as far as it goes. Nothing is loaded, and no entity of the page's own is looked up.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field

from homepath.core.model.visits import joined

MOST_LINKS = 2000
_PARTS = {
    "img": ("src",),
    "script": ("src",),
    "iframe": ("src",),
    "audio": ("src",),
    "video": ("src", "poster"),
    "source": ("src",),
    "embed": ("src",),
    "object": ("data",),
    "input": ("src",),
    "form": ("action",),
}
_LOADED_LINKS = frozenset({"stylesheet", "icon", "preload", "modulepreload", "manifest", "apple-touch-icon"})
_REFRESH = re.compile(r"\s*([0-9]+)(?:\.[0-9]*)?\s*[;,]?\s*(?:url\s*=\s*)?(.*)", re.I | re.S)


@dataclass(slots=True)
class Markup:
    """All URLs absolute. `parts`: what is loaded or sent with the page; `links`: where it links to; `refresh`: where it
    sends the browser by itself, and after how many seconds."""

    title: str = ""
    parts: list[str] = field(default_factory=list)
    links: list[str] = field(default_factory=list)
    canonical: str | None = None
    refresh: tuple[int, str] | None = None


class _Reader:
    """Told of each tag by the parser."""

    def __init__(self, base: str) -> None:
        self.base, self.found = base, Markup()
        self._in_title = False

    def start(self, tag: str, given: Mapping[str, str]) -> None:
        if tag == "base" and given.get("href"):
            self.base = joined(self.base, given["href"]) or self.base
        elif tag == "a":
            self._add(self.found.links, given.get("href"))
        elif tag == "link":
            kinds = set(given.get("rel", "").lower().split())
            if "canonical" in kinds and self.found.canonical is None:
                self.found.canonical = joined(self.base, given.get("href", ""))
            elif kinds & _LOADED_LINKS:
                self._add(self.found.parts, given.get("href"))
        elif tag == "meta" and given.get("http-equiv", "").lower() == "refresh":
            self._refresh(given.get("content", ""))
        for name in _PARTS.get(tag, ()):
            self._add(self.found.parts, given.get(name))
        self._in_title = tag == "title"

    def end(self, tag: str) -> None:
        self._in_title = False

    def data(self, data: str) -> None:
        if self._in_title and len(self.found.title) < 200:
            self.found.title += data[:200]

    def close(self) -> Markup:
        return self.found

    def _add(self, where: list[str], url: str | None) -> None:
        whole = joined(self.base, url) if url else None
        if whole and len(where) < MOST_LINKS:
            where.append(whole)

    def _refresh(self, content: str) -> None:
        match = _REFRESH.fullmatch(content)
        if match is None or self.found.refresh is not None:
            return
        target = match[2].strip().strip("'\"")
        whole = joined(self.base, target) if target else None
        if whole:
            self.found.refresh = min(int(match[1][:9]), 10**6), whole


def read_markup(text: str, url: str) -> Markup:
    """What the page at `url` says. Never raises for what a page holds."""
    from lxml import etree

    reader = _Reader(url)
    parser = etree.HTMLParser(target=reader, recover=True, no_network=True, encoding="utf-8")
    try:
        parser.feed(text.replace("\x00", "").encode("utf-8", "replace") or b" ")
        parser.close()
    except etree.LxmlError:  # nothing that could be called a page; what was read counts
        pass
    reader.found.title = " ".join(reader.found.title.split())[:200]
    return reader.found
