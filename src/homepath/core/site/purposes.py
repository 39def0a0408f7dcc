"""What each record is for: decides what a plan may replace and what it must never touch."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator

from homepath.core.dns.names import BadName, Name, absolute, is_within, labels
from homepath.core.dns.records import LED_TO, SIGNING, Key, RecordSet, Zone
from homepath.core.dns.values import strings, target
from homepath.core.message import Text, msg
from homepath.core.model.brief import Notation
from homepath.core.model.plan import Purpose

_SPF = re.compile(r"(?i)[+?~-]?(?:(a|mx|ptr|include|exists):|(redirect)=)([^/\s]+)")


def mentioned(sets: Iterable[RecordSet], domain: Name) -> list[Key]:
    """What else to ask for: the hosts that records of the domain point to within it, and what proves them (TLSA of
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


_PROOF = re.compile(r"(?i)^[a-z0-9_.-]*(verif|owner|proof|confirm|challenge|domain-?key-?code)[a-z0-9_.-]*\s*[=:]")
_OF_THE_SERVER = ("SOA", *SIGNING, "NSEC3PARAM", "CDNSKEY", "CDS", "DLV", "ZONEMD")
_PRIVATE = re.compile(r"TYPE(6528[0-9]|6529[0-9]|65[3-4][0-9]{2}|655[0-3][0-9])")
"""Types for private use, such as those in which servers keep notes of their own (RFC 6895 section 3.1)."""
_MAIL_LABELS = {"mail", "smtp", "imap", "pop", "pop3", "webmail", "autodiscover", "autoconfig", "mx"}
_PARK_LABELS = {"park", "parking", "parked"}


def purpose(record: RecordSet, domain: Name, zone: Zone) -> tuple[Purpose, Text]:
    """The purpose of a record set and the reason for thinking so."""
    first = labels(record.name)[0] if record.name != domain and labels(record.name) else "@"
    match record.type:
        case "NS" | "SOA" | "DS" | "DNSKEY" | "CDS" | "CDNSKEY" | "NSEC3PARAM":
            return "delegation", msg("purposes.purpose", type=record.type)
        case "MX":
            return "mail", msg("purposes.purpose-2")
        case "CAA":
            return "certificates", msg("purposes.purpose-3")
        case "TXT" | "SPF":
            return _of_text(record, first)
        case "SRV":
            return "other", msg("purposes.purpose-4")
    if "_domainkey" in labels(record.name) or first in ("_dmarc", "_mta-sts", "_smtp"):
        return "mail authentication", msg("purposes.purpose-5", first=first)
    if first.startswith("_"):
        return "proof of ownership", msg("purposes.purpose-6", first=first)
    if first in _MAIL_LABELS:
        return "mail", msg("purposes.purpose-7", first=first)
    if record.type in LED_TO and record.name in zone.mail_hosts and first not in ("@", "www"):
        return "mail", msg("purposes.purpose-8")
    if record.type in ("A", "AAAA", "CNAME", "HTTPS", "SVCB"):
        return "website", msg("purposes.purpose-9", type=record.type)
    return "other", msg("purposes.purpose-10")


def _of_text(record: RecordSet, first: str) -> tuple[Purpose, Text]:
    texts = ["".join(strings(value)) for value in record.values]
    if "_domainkey" in labels(record.name) or first in ("_dmarc", "_mta-sts", "_smtp"):
        return "mail authentication", msg("purposes.purpose-5", first=first)
    if any(text.lower().startswith(("v=spf1", "v=dkim1", "v=dmarc1")) for text in texts):
        return "mail authentication", msg("purposes.of-text")
    if first == "_acme-challenge":
        return "certificates", msg("purposes.of-text-2")
    if first.startswith("_") or any(_PROOF.match(text) for text in texts):
        return "proof of ownership", msg("purposes.of-text-3")
    return "other", msg("purposes.of-text-4")


def is_of_server(rrtype: str) -> bool:
    """Whether such a set is never typed into a form: the server keeps it by itself, signatures and notes included."""
    return rrtype in _OF_THE_SERVER or _PRIVATE.fullmatch(rrtype) is not None


def written_by_server(name: Name, rrtype: str, domain: Name) -> bool:
    """Whether only the nameserver itself, or the parent zone, may write such a set: it does not move to another."""
    if is_of_server(rrtype):
        return True
    return name == domain and rrtype in ("NS", "DS")


def is_parking(record: RecordSet, notation: Notation) -> Text | None:
    """Why this record points to a parking page, or None: the notation's lists, or a target that says so."""
    if record.type in ("A", "AAAA") and set(record.values) <= set(notation.parking_addresses):
        return msg("purposes.is-parking", parking_host=notation.parking_host or notation.host)
    if record.type != "CNAME":
        return None
    value = record.values[0]
    if any(is_within(value, parked) for parked in notation.parking_targets):
        return msg("purposes.is-parking-2", parking_host=notation.parking_host or notation.host)
    if word := next((part for part in labels(value) if part in _PARK_LABELS), None):
        return msg("purposes.is-parking-3", word=word)
    return None
