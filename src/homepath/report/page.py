"""Pages that are complete in themselves, of one domain or a list: made from templates with escaping on, with a policy
that lets nothing in and nothing out."""

from __future__ import annotations

import base64
import hashlib
from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cache
from heapq import nsmallest
from importlib.resources import files
from typing import Any

from jinja2 import Environment, PackageLoader, StrictUndefined
from markupsafe import Markup

from homepath.core.dns.names import shown
from homepath.core.message import Message, Text
from homepath.core.model.times import rfc3339
from homepath.core.model.visible import visible
from homepath.core.wording.say import say
from homepath.core.wording.times import lasting, sentence_start, utc_words
from homepath.core.wording.words import NEEDS_A_PERSON, STANDS_ORDER, stands, what_next
from homepath.report.sheet_html import breakable

MOST_ROWS = 5_000
"""Rows of one page; of more domains those that need a person come first, and the rest is left out."""
MOST_FIRST = 20


@dataclass(frozen=True, slots=True)
class Line:
    """One row of the table."""

    domain: str
    stands: str
    next: str
    until: str
    worst: str
    since: str


@dataclass(frozen=True, slots=True)
class ManyPage:
    """What the template speaks of."""

    name: str
    count: int
    head: str
    first: tuple[Line, ...]
    first_left: int
    rows: tuple[Line, ...]
    words: tuple[str, ...]
    left_out: int
    now: float


def many_page(name: str, lines: Iterable[dict[str, Any]], now: float) -> str:
    """The page as HTML text. `lines`: as `homepath.many/1`; they are read once, and only the rows are kept."""
    count: Counter[str] = Counter()

    def each() -> Iterable[tuple[int, int, Line]]:
        for number, line in enumerate(lines):
            found = _line(line)
            count[found.stands] += 1
            yield STANDS_ORDER.index(found.stands), number, found

    rows = nsmallest(MOST_ROWS, each(), key=lambda row: row[:2])
    person = [row for order, _, row in rows if row.stands in NEEDS_A_PERSON]
    total = sum(count.values())
    parts = [f"{count[word]} {word}" for word in STANDS_ORDER if count[word]]
    page = ManyPage(
        name,
        total,
        f"{', '.join(parts)}." if parts else "Nothing was checked yet.",
        tuple(person[:MOST_FIRST]),
        max(0, sum(count[word] for word in NEEDS_A_PERSON) - MOST_FIRST),
        tuple(row for _, _, row in sorted(rows, key=lambda row: row[1])),
        tuple(word for word in STANDS_ORDER if count[word]),
        total - len(rows),
        now,
    )
    return render("many", {"page": page}, "table.js")


def _line(line: dict[str, Any]) -> Line:
    worst = line["worst"] or {}
    until = str(line["wait_until"] or "").replace("T", " ").removesuffix(":00Z").removesuffix("Z")
    return Line(
        line["domain"].removesuffix("."),
        stands(line),
        what_next(line),
        until,
        str(worst.get("code") or ""),
        str(line.get("since") or "")[:10],
    )


MARK = "Home Path report"
"""By which a page of ours is known, so that no other file is written over."""


def render(template: str, speaks_of: Mapping[str, object], script: str = "") -> str:
    """The whole page. `speaks_of`: what the template speaks of; `script`: the name of the one script that may run."""
    style, code = _text("report.css"), _text(script) if script else ""
    policy = f"default-src 'none'; style-src '{_hash(style)}'; script-src " + (f"'{_hash(code)}'" if code else "'none'")
    policy += "; base-uri 'none'; form-action 'none'"
    made = _environment().get_template(f"{template}.html.j2")
    # style and script are our own files: they go in as they are, because the policy allows exactly these octets
    return made.render(**speaks_of, policy=policy, mark=MARK, style=Markup(style), script=Markup(code))  # noqa: S704


def _hash(text: str) -> str:
    """What the page's own policy allows to apply or run: just this text (CSP level 3, section 2.3.1)."""
    return "sha256-" + base64.b64encode(hashlib.sha256(text.encode()).digest()).decode()


@cache
def _text(name: str) -> str:
    return files("homepath.report").joinpath("templates", name).read_text("utf-8")


@cache
def _environment() -> Environment:
    made = Environment(
        loader=PackageLoader("homepath.report"),
        autoescape=True,
        finalize=_harmless,
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
    )
    made.filters.update(
        when=utc_words, rfc=rfc3339, ttl=_ttl, capitalized=lambda words: sentence_start(say(words)), bare=shown,
        breakable=_breakable,
    )  # fmt: skip
    return made


def _breakable(text: str) -> Markup:
    return Markup(breakable(text))  # noqa: S704 - it escapes


def _capitalized(words: Text) -> str:
    return sentence_start(say(words))


def _harmless(value: Any) -> Any:
    """Everything that is shown goes through the same filter as on the terminal; what is markup already is ours."""
    if isinstance(value, Message):
        value = say(value)
    return visible(value) if isinstance(value, str) and not isinstance(value, Markup) else value


def _ttl(seconds: int | None) -> str:
    return "" if seconds is None else f"{seconds} s ({lasting(seconds)})" if seconds >= 90 else f"{seconds} s"
