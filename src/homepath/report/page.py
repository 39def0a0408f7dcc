"""Pages that stand alone: made from templates with escaping on, with a policy that lets nothing in and nothing out."""

from __future__ import annotations

import base64
import hashlib
from collections.abc import Mapping
from functools import cache
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
        when=utc_words, rfc=rfc3339, ttl=_ttl, capitalized=lambda words: sentence_start(say(words)), bare=shown
    )
    return made


def _capitalized(words: Text) -> str:
    return sentence_start(say(words))


def _harmless(value: Any) -> Any:
    """Everything that is shown goes through the same filter as on the terminal; what is markup already is ours."""
    if isinstance(value, Message):
        value = say(value)
    return visible(value) if isinstance(value, str) and not isinstance(value, Markup) else value


def _ttl(seconds: int | None) -> str:
    return "" if seconds is None else f"{seconds} s ({lasting(seconds)})" if seconds >= 90 else f"{seconds} s"
