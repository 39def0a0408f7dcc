"""Names of the domain that its own records mention: what they lead to must be known, and come along in a hand-over."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator

from homepath.core.dns.names import BadName, Name, absolute, is_within
from homepath.core.dns.records import LED_TO, Key, RecordSet
from homepath.core.dns.values import strings, target

_SPF = re.compile(r"(?i)[+?~-]?(?:(a|mx|ptr|include|exists):|(redirect)=)([^/\s]+)")


def mentioned(sets: Iterable[RecordSet], domain: Name) -> list[Key]:
    """What to ask for besides: the hosts that records of the domain lead to within it, and what proves them (TLSA of
    mail servers, RFC 7672), and the policies that SPF texts name (RFC 7208)."""
    found: dict[Key, None] = {}
    for record in sets:
        for value in record.values:
            found |= dict.fromkeys(_of_value(record, value))
    return [key for key in found if is_within(key[0], domain) and "*" not in key[0]]


def _of_value(record: RecordSet, value: str) -> Iterator[Key]:
    host = target(record.type, value)
    if host is not None:
        yield from ((host, rrtype) for rrtype in LED_TO)
        if record.type == "MX":
            yield f"_25._tcp.{host}", "TLSA"
    if record.type in ("CNAME", "NS"):
        return
    for match in _SPF.finditer("".join(strings(value)) if record.type == "TXT" else ""):
        try:
            name = absolute(match[3])
        except BadName:
            continue
        if (match[1] or match[2]).lower() in ("include", "redirect"):
            yield name, "TXT"
        else:
            yield from ((name, rrtype) for rrtype in LED_TO)
