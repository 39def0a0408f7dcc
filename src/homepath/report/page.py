"""Pages that are complete in themselves, of one domain or a list: made from templates with escaping on, with a policy
that lets nothing in and nothing out."""

from __future__ import annotations

import base64
import hashlib
import json
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from heapq import nsmallest
from importlib.resources import files
from typing import Any

from jinja2 import Environment, PackageLoader, StrictUndefined
from markupsafe import Markup

from homepath.core.contracts.many import by_cause
from homepath.core.dns.names import shown
from homepath.core.message import Message, Text
from homepath.core.model.times import rfc3339
from homepath.core.model.visible import visible
from homepath.core.wording.say import say
from homepath.core.wording.times import lasting, sentence_start, utc_words
from homepath.core.wording.words import NEEDS_A_PERSON, STATE_ORDER, cause_words, state_word, what_next
from homepath.report.sheet_html import breakable

MOST_ROWS = 100_000
"""Rows of one page; of more domains those that need a person come first, and the rest is left out."""
AT_ONCE = 200
"""Rows that are shown at one time; the script turns the pages."""
MOST_FIRST = 20
COLUMNS = ("domain", "state", "next", "wait until", "worst", "since")
KEYS = ("domain", "state", "next", "until", "finding", "since", "host", "builder", "stage", "verdict", "level", "act")
"""What a row has, the columns first; the search takes `KEY=VALUE` for each, as `homepath many --where` does."""


@dataclass(frozen=True, slots=True)
class Cause:
    """What several domains have in common that need a person."""

    words: str
    domains: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class ManyPage:
    """What the template speaks of. `rows`: the first of them; `data`: all of them, as JSON for the script; `own`: the
    columns of the list's owner, behind those that every row has."""

    name: str
    count: int
    head: str
    causes: tuple[Cause, ...]
    first: tuple[tuple[str, str, str], ...]
    first_left: int
    columns: tuple[str, ...]
    own: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    data: Markup
    words: tuple[str, ...]
    left_out: int
    days: Markup
    now: float


_OF_CAUSE = ("domain", "verdict", "worst", "host", "builder", "act", "do", "trouble")


def many_page(
    name: str, lines: Iterable[dict[str, Any]], now: float, days: Sequence[tuple[str, dict[str, int]]] = ()
) -> str:
    """The page as HTML text, worst first. `lines`: as `homepath.many/1`; they are read once. `days`: counts by verdict,
    a day each."""
    count: Counter[str] = Counter()
    bad: list[dict[str, Any]] = []
    own: tuple[str, ...] = ()

    def each() -> Iterable[tuple[int, int, tuple[str, ...]]]:
        nonlocal own
        for number, line in enumerate(lines):
            own = own or tuple(line.get("columns", ()))
            word = state_word(line)
            count[word] += 1
            if word in NEEDS_A_PERSON:
                bad.append({key: line[key] for key in _OF_CAUSE})
                bad[-1]["next"] = what_next(line)
            yield STATE_ORDER.index(word), number, _row(line, word, own)

    found = [row for _, _, row in nsmallest(MOST_ROWS, each(), key=lambda row: row[:2])]
    causes, alone = by_cause(bad)
    total = sum(count.values())
    parts = [f"{count[word]} {word}" for word in STATE_ORDER if count[word]]
    page = ManyPage(
        name,
        total,
        f"{', '.join(parts)}." if parts else "Nothing was checked yet.",
        tuple(Cause(cause_words(each.code, each.at, each.answer), tuple(map(_shown, each.lines))) for each in causes),
        tuple((_shown(line), state_word(line), line["next"]) for line in alone[:MOST_FIRST]),
        max(0, len(alone) - MOST_FIRST),
        (*COLUMNS, *map(visible, own)),
        tuple(map(visible, own)),
        tuple(found[:AT_ONCE]),
        _data({"keys": [*KEYS, *own], "columns": len(COLUMNS), "own": len(own), "at_once": AT_ONCE, "rows": found}),
        tuple(word for word in STATE_ORDER if count[word]),
        total - len(found),
        days_picture(days),
        now,
    )
    return render("many", {"page": page}, "table.js")


def _shown(line: Mapping[str, Any]) -> str:
    return shown(line["domain"])


def _row(line: dict[str, Any], word: str, own: Sequence[str]) -> tuple[str, ...]:
    worst, act = line["worst"] or {}, line["act"] or {}
    until = str(line["wait_until"] or "").replace("T", " ").removesuffix(":00Z").removesuffix("Z")
    cells = (
        *(_shown(line), word, what_next(line), until, worst.get("code"), str(line["since"] or "")[:10]),
        *(line["host"], line["builder"], line["stage"], line["verdict"], worst.get("level"), act.get("kind")),
        *(line.get("columns", {}).get(each) for each in own),
    )
    return tuple(visible(str(cell or "")) for cell in cells)


def _data(value: object) -> Markup:
    """JSON that ends no script element (HTML section 4.12.1.3)."""
    return Markup(json.dumps(value, ensure_ascii=True, separators=(",", ":")).replace("<", "\\u003c"))  # noqa: S704


_TONES = (("as-wanted", "#2e7d4f"), ("not-yet", "#d9a21b"), ("unknown", "#8a8a8a"), ("wrong", "#b3261e"))
"""From below: what is counted, and its colour."""
TALL, WIDE = 120, 640


def days_picture(days: Sequence[tuple[str, dict[str, int]]]) -> Markup:
    """The counts of each day as SVG, one on the other; nothing for less than two days."""
    top = max((sum(counts.values()) for _, counts in days), default=0)
    if len(days) < 2 or not top:
        return Markup("")
    bars, width = [], WIDE / len(days)
    for at, (day, counts) in enumerate(days):
        low = float(TALL)
        for word, colour in _TONES:
            height = TALL * counts.get(word, 0) / top
            low -= height
            bars.append((at * width, low, width * 0.85, height, colour, f"{day}: {counts.get(word, 0)} {word}"))
    made = _environment().get_template("days.svg.j2")
    return Markup(made.render(bars=bars, first=days[0][0], last=days[-1][0]))  # noqa: S704 - escaped by its template


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
