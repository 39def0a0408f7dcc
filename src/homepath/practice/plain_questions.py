"""Plain questions read by hand: nearly all that a practice world is asked; the DNS library takes its time with each.

Whatever is not just one question, with or without EDNS, is left to the library.
"""

from __future__ import annotations

import struct
from dataclasses import dataclass
from functools import lru_cache

import dns.rdatatype

_KNOWN = frozenset(b"abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-_*")
OPT = 41
DO = 0x8000
"""In the flags of EDNS: signatures are wanted (RFC 3225)."""
RD, CD = 0x0100, 0x0010


@dataclass(frozen=True, slots=True)
class Plain:
    """`end`: where the question's name ends. `flags`: those that an answer repeats. `payload`: what EDNS allows."""

    name: str
    rrtype: str
    end: int
    flags: int
    edns: bool = False
    payload: int = 0
    dnssec: bool = False


def read_plain(octets: bytes) -> Plain | None:
    """The question, or None where it is not plain (RFC 1035 section 4.1)."""
    if len(octets) < 17:
        return None
    _, flags, questions, answers, authorities, more = struct.unpack("!6H", octets[:12])
    if flags & ~(RD | CD | 0x0020) or (questions, answers, authorities) != (1, 0, 0) or more > 1:
        return None
    labels, at = [], 12
    while octets[at]:
        label = octets[at + 1 : at + 1 + octets[at]]
        if (
            octets[at] > 63
            or len(label) < octets[at]
            or not _KNOWN.issuperset(label)
            or len(octets) < at + octets[at] + 6
        ):
            return None
        labels.append(label.decode("ascii").lower())
        at += 1 + octets[at]
    rrtype, rrclass = struct.unpack("!2H", octets[at + 1 : at + 5])
    name, end, rest = ".".join(labels) + ".", at + 1, octets[at + 5 :]
    if rrclass != 1:
        return None
    if not more:
        return None if rest else Plain(name, _type_name(rrtype), end, flags)
    if len(rest) != 11 or rest[0] or struct.unpack("!H", rest[1:3])[0] != OPT or rest[9:11] != b"\0\0":
        return None
    payload, _, version, signs = struct.unpack("!HBBH", rest[3:9])
    if version:
        return None
    return Plain(name, _type_name(rrtype), end, flags, True, payload, bool(signs & DO))


@lru_cache
def _type_name(number: int) -> str:
    return dns.rdatatype.to_text(dns.rdatatype.RdataType.make(number))
