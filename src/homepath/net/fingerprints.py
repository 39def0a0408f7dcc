"""A short fingerprint of what a response says, without reading it into values: most queries only confirm that nothing
changed."""

from __future__ import annotations

import hashlib

from homepath.net.octets import MOST_JUMPS, MOST_RECORDS, RCODES

_NAME_AFTER = {2: 0, 5: 0, 6: 0, 12: 0, 15: 2, 39: 0}
"""Types whose data holds a name that may be shortened (RFC 3597 section 4): so many octets come before it."""
_SOA = 6


def fingerprint(octets: bytes, skip: int) -> str:
    """The fingerprint of the response code and the first record set of the answer, TTL included; `skip`: the octets of
    the question section.

    The same for all responses to one question that say the same, however they order and shorten it; where nothing is
    there it is the response code. "" where it cannot be told: anyone who asked must read the response.
    """
    count = octets[6] << 8 | octets[7]
    authoritative, code = octets[2] & 0x04, octets[3] & 0x0F
    if not _is_plain_end(octets) or count > MOST_RECORDS:
        return ""
    if not count:
        return RCODES.get(code, "") + ("" if authoritative else ", not by itself")
    first: tuple[bytes, bytes] | None = None
    values: list[bytes] = []
    here = 12 + skip
    asked = octets[12 : here - 4].lower()
    try:
        for _ in range(count):
            if octets[here : here + 2] == b"\xc0\x0c":
                owner, here = b"", here + 2
            else:
                owner, here = _name(octets, here)
                owner = b"" if owner == asked else owner
            kind = octets[here : here + 2]
            end = here + 10 + (octets[here + 8] << 8 | octets[here + 9])
            if first is None:
                first = owner, kind
            if first == (owner, kind):
                values.append(octets[here : here + 8] + _data(octets, kind[1] if not kind[0] else 0, here + 10, end))
            here = end
    except IndexError:
        return ""
    if here > len(octets) or first is None:
        return ""
    values.sort()
    parts = [bytes((authoritative, code)), *first, *(len(each).to_bytes(2) + each for each in values)]
    return hashlib.blake2b(b"".join(parts), digest_size=8).hexdigest()


def _is_plain_end(octets: bytes) -> bool:
    """Whether nothing comes last that could change the response code (RFC 6891 section 6.1.3)."""
    return octets[10:12] == b"\x00\x00" or (octets[-11:-8] == b"\x00\x00\x29" and not octets[-6])


def _data(octets: bytes, kind: int, here: int, end: int) -> bytes:
    before = _NAME_AFTER.get(kind)
    if before is None:
        return octets[here:end]
    name, after = _name(octets, here + before)
    if kind == _SOA:
        second, after = _name(octets, after)
        name += second
    return octets[here : here + before] + name + octets[after:end]


def _name(octets: bytes, here: int) -> tuple[bytes, int]:
    """The name at `here`, whole and in small letters, and where it ends. Raises IndexError for what is no name.

    A length is below 64, so it is no letter.
    """
    labels: list[bytes] = []
    after = jumps = 0
    while length := octets[here]:
        if length >= 0xC0:
            after = after or here + 2
            target = (length & 0x3F) << 8 | octets[here + 1]
            jumps += 1
            if target >= here or jumps > MOST_JUMPS:
                raise IndexError(here)
            here = target
        else:
            labels.append(octets[here : here + 1 + length])
            here += 1 + length
    return b"".join(labels).lower() + b"\x00", after or here + 1
