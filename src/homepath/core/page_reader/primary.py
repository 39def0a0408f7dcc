"""Which of the site's addresses a page calls the primary one, where it says so."""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import cache

from homepath.core.page_reader.hosts import plain_host, relative_host
from homepath.core.page_reader.rows import Row
from homepath.core.page_reader.words import any_word, bare, fold, is_phrase, phrases_of, stems

_NAMED = re.compile(r"^(?P<label>[^:：]{3,40})[:：]\s*(?:https?://)?(?P<host>[\w.@-]+)/?\s*$")
_TYPE = re.compile(r"\b(?:A|AAAA|ALIAS|CAA|CNAME|HTTPS|MX|NS|SRV|TXT)\b")
_NAME = re.compile(r"(?:https?://)?(?P<host>(?:[\w-]+\.)+[\w-]+|(?<![\w.])www(?![\w.]))")


def primary_of_page(rows: Sequence[Row], own: Sequence[str]) -> tuple[str, frozenset[int]]:
    """`@` for the domain itself, else a label, and the lines that say so: `Primary domain: www.own.test`, `own.test
    redirects to www.own.test`. Empty where the page does not say, or says two things."""
    found = {row.line: host for row in rows if (host := _primary(row.text, own))}
    addresses = set(found.values())
    return addresses.pop() if len(addresses) == 1 else "", frozenset(found)


def _primary(text: str, own: Sequence[str]) -> str:
    return _named(text, own) or _led_to(text, own) or _called(text, own)


def _named(text: str, own: Sequence[str]) -> str:
    match = _NAMED.match(text)
    return _own(match["host"], own) if match and is_phrase("PRIMARY", match["label"]) else ""


def _led_to(text: str, own: Sequence[str]) -> str:
    """Of two of the reader's own names beside a word for redirecting, the one that is pointed to: in most languages the
    last; where the verb comes last, too."""
    if len(text) > 300 or not stems("REDIRECTS").find(fold(text)):
        return ""
    names = [host for match in _NAME.finditer(text) if (host := _own(match["host"], own))]
    return names[1] if len(names) == 2 and names[0] != names[1] else ""


def _called(text: str, own: Sequence[str]) -> str:
    """The only one of the reader's own names in a sentence about the primary one: `Your primary domain will be
    www.own.test`. Not where the sentence is about a record, says no, or asks."""
    if len(text) > 300 or text.rstrip()[-1:] in "?？؟" or _TYPE.search(text) or not _calls().search(bare(text)):
        return ""
    names = {host for match in _NAME.finditer(text) if (host := _own(match["host"], own))}
    denied = stems("NOT").find(fold(text))
    return names.pop() if len(names) == 1 and not denied else ""


@cache
def _calls() -> re.Pattern[str]:
    return any_word(each for each in phrases_of("PRIMARY") if each != "primary")


def _own(text: str, own: Sequence[str]) -> str:
    """The label of one of the reader's own names; empty for every other."""
    host = plain_host(text.rstrip("."))
    if host in ("@", "www"):
        return host
    inside = host is not None and any(f".{host}".endswith(f".{each}") for each in own)
    return relative_host(host, own) if host is not None and inside else ""
