"""Questions to octets and ordinary answers back, without an object for every part of a message.

Most answers hold a handful of well-known types at plain names; those are read here. Everything else is `Unusual` and
goes the long way through the DNS library (`net/wire.py`). Both ways give equal values; a test holds them together.
"""

from __future__ import annotations

import socket
import struct
from functools import lru_cache

import dns.name
import dns.rcode
import dns.rdatatype

from homepath.core.dns.answers import Answer, Question, Server
from homepath.core.dns.names import ROOT, Name
from homepath.core.dns.records import RecordSet
from homepath.core.dns.values import quoted

PAYLOAD = 1232
"""Octets offered with EDNS: what passes nearly everywhere without fragments."""
MOST_TTL = 2147483647
QR, AA, TC, RD, CD = 0x8000, 0x0400, 0x0200, 0x0100, 0x0010

_HEADER = struct.Struct("!HHHHHH")
_ONE_QUESTION, _WITH_EDNS = struct.pack("!HHHH", 1, 0, 0, 0), struct.pack("!HHHH", 1, 0, 0, 1)
_TWO = struct.Struct("!HH")
_RECORD = struct.Struct("!HHIH")
_FIVE = struct.Struct("!IIIII")
_PLAIN = b"abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-_"
_TYPES = {1: "A", 2: "NS", 5: "CNAME", 6: "SOA", 12: "PTR", 15: "MX", 16: "TXT", 28: "AAAA"}
_OPT = 41
_OPTION, _OPTION_DO = (b"\x00" + _RECORD.pack(_OPT, PAYLOAD, flags, 0) for flags in (0, 0x8000))
MOST_RECORDS = 400
MOST_JUMPS = 30
RCODES = {int(code): dns.rcode.to_text(code) for code in dns.rcode.Rcode if code < 16}


class Unusual(ValueError):
    """Octets that are not read here: no well-formed answer, or one with rare parts."""


@lru_cache(maxsize=4096)
def _name_octets(name: Name) -> bytes:
    if "\\" in name or name == ROOT:
        return dns.name.from_text(name).to_wire() or b""
    return b"".join([bytes((len(label),)) + label.encode("ascii") for label in name[:-1].split(".")]) + b"\x00"


@lru_cache(maxsize=256)
def _type_octets(rrtype: str) -> bytes:
    return struct.pack("!HH", int(dns.rdatatype.from_text(rrtype)), 1)


def question_octets(question: Question) -> bytes:
    """The question section (RFC 1035 section 4.1.2)."""
    return _name_octets(question.name) + _type_octets(question.type)


def in_mixed_case(asked: bytes, chance: bytes) -> bytes:
    """The question section with each letter of its name in a random case: more bits for a forger to guess.

    `chance`: random octets, as many as `asked` has.
    """
    mask, size = _letters(asked), len(asked)
    return (int.from_bytes(asked) ^ (int.from_bytes(chance[:size]) & mask)).to_bytes(size)


def _letters(asked: bytes) -> int:
    """The bits that tell small letters from capitals, of every letter of the name; a length is no letter, being below
    64. Of the octets of a plain name the small letters alone have both 0x40 and 0x20 set, so they need no table."""
    name = asked[:-4]
    if name.translate(None, _PLAIN_OR_LENGTH):
        return int.from_bytes(name.translate(_CASE)) << 32
    bits = int.from_bytes(name)
    return (bits & bits >> 1 & _case_bits(len(name))) << 32


@lru_cache(maxsize=256)
def _case_bits(size: int) -> int:
    return int.from_bytes(b"\x20" * size)


_PLAIN_OR_LENGTH = bytes(range(0x60)) + bytes(range(0x61, 0x7B))
_CASE = bytes(0x20 if bytes((octet,)).isalpha() else 0 for octet in range(256))


def query_octets(asked: bytes, number: int, recurse: bool, edns: bool, dnssec: bool, unchecked: bool) -> bytes:
    """A whole query around the question section `asked`, with the id `number`.

    `dnssec` sets DO (RFC 3225), `unchecked` sets CD: answer even if the signatures are broken (RFC 4035 section 3.2.2).
    """
    flags = (RD if recurse else 0) | (CD if unchecked else 0)
    if not edns:
        return _TWO.pack(number, flags) + _ONE_QUESTION + asked
    return _TWO.pack(number, flags) + _WITH_EDNS + asked + (_OPTION_DO if dnssec else _OPTION)


def answers(octets: bytes, asked: bytes, exactly: bool) -> bool:
    """Whether `octets` are a response to the question section `asked` (RFC 5452 section 9.1).

    `exactly`: the letters of the name must come back as they were sent, capitals included. A response without any
    question is taken only where it says that the query could not be read or is not served.
    """
    if len(octets) < 12 or not octets[2] & 0x80 or octets[2] & 0x78:
        return False
    count = octets[4] << 8 | octets[5]
    if count == 0:
        return octets[3] & 0x0F in (dns.rcode.FORMERR, dns.rcode.NOTIMP, dns.rcode.REFUSED)
    echoed = octets[12 : 12 + len(asked)]
    return count == 1 and (echoed == asked or (not exactly and echoed.lower() == asked.lower()))


def rcode(octets: bytes) -> int:
    return octets[3] & 0x0F


def read_answer(
    octets: bytes, skip: int, question: Question, server: Server, at: float, late: bool = False, fingerprint: str = ""
) -> Answer:
    """The answer value of a response whose question section, `skip` octets long, was checked. Raises Unusual."""
    _, flags, count, *counts = _HEADER.unpack_from(octets)
    if count != 1 or sum(counts) > MOST_RECORDS:
        raise Unusual("not one question, or very many records")
    names: dict[int, Name] = {12: question.name}  # nearly every answer points back to it
    here = 12 + skip
    try:
        answer, here = _section(octets, here, counts[0], names)
        authority, here = _section(octets, here, counts[1], names)
        additional, here = _section(octets, here, counts[2], names)
    except (IndexError, struct.error, OSError, ValueError) as error:
        raise error if isinstance(error, Unusual) else Unusual("cut off") from error
    code = RCODES.get(flags & 0x0F)
    if code is None:
        raise Unusual("a response code without a name")
    authoritative = bool(flags & AA)
    return Answer(
        question,
        server,
        "answered",
        at,
        code,
        authoritative,
        answer,
        authority,
        additional,
        late=late,
        fingerprint=fingerprint,
    )


def _section(octets: bytes, here: int, count: int, names: dict[int, Name]) -> tuple[tuple[RecordSet, ...], int]:
    if not count:
        return (), here
    sets: dict[tuple[Name, int], tuple[int, list[str]]] = {}
    for _ in range(count):
        name, here = _name(octets, here, names)
        kind, rrclass, ttl, length = _RECORD.unpack_from(octets, here)
        here += 10
        end = here + length
        if end > len(octets):
            raise Unusual("cut off")
        if kind == _OPT and name == ROOT and not ttl >> 24 and not length:
            here = end
            continue
        if rrclass != 1 or ttl > MOST_TTL or kind not in _TYPES:
            raise Unusual("a rare record")
        value = _value(octets, kind, here, end, names)
        before = sets.get((name, kind))
        if before and before[0] != ttl:
            raise Unusual("a set with two TTLs")
        sets[name, kind] = (min(ttl, before[0]), [*before[1], value]) if before else (ttl, [value])
        here = end
    return tuple(RecordSet(name, _TYPES[kind], ttl, tuple(v)) for (name, kind), (ttl, v) in sets.items()), here


def _value(octets: bytes, kind: int, here: int, end: int, names: dict[int, Name]) -> str:
    """One value in presentation form."""
    if kind == 1:
        text, after = socket.inet_ntop(socket.AF_INET, octets[here:end]), end
    elif kind == 28:
        text, after = _ipv6(octets[here:end]), end
    elif kind == 16:
        text, after = _strings(octets, here, end)
    elif kind == 15:
        name, after = _name(octets, here + 2, names)
        text = f"{octets[here] << 8 | octets[here + 1]} {name}"
    elif kind == 6:
        first, after = _name(octets, here, names)
        second, after = _name(octets, after, names)
        text = " ".join([first, second, *map(str, _FIVE.unpack_from(octets, after))])
        after += 20
    else:
        text, after = _name(octets, here, names)
    if after != end:
        raise Unusual("a value that is longer or shorter than it says")
    return text


def _ipv6(octets: bytes) -> str:
    if len(octets) != 16 or octets[:12] in (bytes(12), bytes(10) + b"\xff\xff"):
        raise Unusual("an address whose spelling differs between libraries")
    return socket.inet_ntop(socket.AF_INET6, octets)


def _strings(octets: bytes, here: int, end: int) -> tuple[str, int]:
    pieces = []
    while here < end:
        length = octets[here]
        here += 1
        pieces.append(quoted(octets[here : here + length].decode("latin-1")))
        here += length
    if not pieces:
        raise Unusual("a text without a string")
    return " ".join(pieces), here


def _name(octets: bytes, here: int, names: dict[int, Name], jumps: int = 0) -> tuple[Name, int]:
    """The name at `here` and where it ends; pointers only lead backwards (RFC 1035 section 4.1.4)."""
    begin = here
    if octets[here] >= 0xC0:  # the usual case: nothing but a pointer
        known = names.get((octets[here] & 0x3F) << 8 | octets[here + 1])
        if known is not None:
            return known, here + 2
    labels: list[str] = []
    while True:
        length = octets[here]
        if length >= 0xC0:
            target = (length & 0x3F) << 8 | octets[here + 1]
            if target >= begin or jumps > MOST_JUMPS:
                raise Unusual("a pointer forwards, or one too many")
            known = names.get(target)
            if known is None:
                known = names[target] = _name(octets, target, names, jumps + 1)[0]
            rest = known if known != ROOT else ""
            name = ".".join(labels) + "." + rest if labels else known
            break
        if length == 0:
            name = ".".join(labels) + "." if labels else ROOT
            here -= 1
            break
        if length > 63:
            raise Unusual("a label of an unknown kind")
        label = octets[here + 1 : here + 1 + length]
        if len(label) != length or label.translate(None, _PLAIN):
            raise Unusual("a label with rare characters")
        labels.append(label.decode("ascii").lower())
        here += 1 + length
    if len(name) > 254:
        raise Unusual("a name that is too long")
    names[begin] = name
    return name, here + 2
