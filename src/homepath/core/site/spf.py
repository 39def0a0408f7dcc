"""SPF texts that name the website: whoever sends mail today must be named when its addresses change (RFC 7208)."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from homepath.core.dns.names import BadName, Name, absolute
from homepath.core.dns.values import strings

_TERM = re.compile(r"([+?~-]?)(a|mx)(?::([^/\s]+))?(/[0-9]{1,2})?(//[0-9]{1,3})?", re.I)
AddressesOf = Callable[[Name], Sequence[str]]


@dataclass(frozen=True, slots=True)
class Term:
    """A mechanism that stands for the addresses of a host (sections 5.3, 5.4). `text`: as it stands there."""

    text: str
    qualifier: str
    mechanism: str
    host: Name
    ip4_length: str
    ip6_length: str


def is_spf(content: str) -> bool:
    return content.lower().split(" ")[0] == "v=spf1"


def host_terms(content: str, name: Name) -> Iterator[Term]:
    """The `a` and `mx` mechanisms of the SPF text `content` at `name`; those with macros are left to whoever wrote
    them (section 7)."""
    for word in content.split():
        found = _TERM.fullmatch(word)
        if found is None:
            continue
        try:
            host = absolute(found[3]) if found[3] else name
        except BadName:
            continue
        yield Term(word, found[1], found[2].lower(), host, found[4] or "", (found[5] or "")[1:])


def without_website(value: str, name: Name, changed: AddressesOf) -> str | None:
    """The SPF text with the addresses of today in place of each host whose addresses change; None where none is named.

    `changed`: the addresses that a host has today, if the website takes them away, else none. `value`: as in a record.
    """
    content = "".join(strings(value))
    if not is_spf(content):
        return None
    instead: dict[str, str] = {}
    for term in host_terms(content, name):
        addresses = changed(term.host) if term.mechanism == "a" else ()
        if addresses:
            instead[term.text] = " ".join(_plain(term, address) for address in addresses)
    if not instead:
        return None
    words: list[str] = []
    for word in content.split():
        words += [each for each in instead.get(word, word).split() if each not in words[1:]]
    return " ".join(words)


def _plain(term: Term, address: str) -> str:
    if ":" in address:
        return f"{term.qualifier}ip6:{address}{term.ip6_length}"
    return f"{term.qualifier}ip4:{address}{term.ip4_length}"
