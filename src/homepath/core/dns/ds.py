"""DS records and their keys (RFC 4034 section 5, RFC 4509, RFC 6605)."""

from __future__ import annotations

import base64
import hashlib
import struct

from homepath.core.dns.names import Name, labels
from homepath.core.dns.records import RecordSet

_DIGESTS = {1: hashlib.sha1, 2: hashlib.sha256, 4: hashlib.sha384}
SECURE_ENTRY = 0x0001
ZONE_KEY = 0x0100
REVOKED = 0x0080


def ds_of(name: Name, key: str, digest: int = 2) -> str | None:
    """The DS value of a DNSKEY value; None for a key that cannot be read or a digest that is not known."""
    octets = _rdata(key)
    if octets is None or digest not in _DIGESTS:
        return None
    owner = b"".join(bytes([len(label)]) + label.encode("latin-1", "replace") for label in labels(name)) + b"\0"
    digest_hex = _DIGESTS[digest](owner + octets).hexdigest()
    return f"{_tag(octets)} {octets[3]} {digest} {digest_hex}"


def _rdata(key: str) -> bytes | None:
    parts = key.split()
    try:
        flags, protocol, algorithm = (int(part) for part in parts[:3])
        return struct.pack("!HBB", flags, protocol, algorithm) + base64.b64decode("".join(parts[3:]), validate=True)
    except (ValueError, struct.error):
        return None


def _tag(octets: bytes) -> int:
    """The key tag (RFC 4034 appendix B)."""
    total = sum(octet << 8 if at % 2 == 0 else octet for at, octet in enumerate(octets))
    return (total + (total >> 16 & 0xFFFF)) & 0xFFFF


def fits(name: Name, links: RecordSet, keys: RecordSet | None) -> bool:
    """Whether one of the keys is one that the DS set at the parent means."""
    return any(
        _same(ds, ds_of(name, key, digest)) for ds, digest in _split(links) for key in (keys.values if keys else ())
    )


def _split(links: RecordSet) -> list[tuple[str, int]]:
    """Each DS value with its kind of digest; what cannot be read is passed over."""
    found = []
    for value in links.values:
        parts = value.split()
        if len(parts) >= 4 and parts[2].isdigit():
            found.append((f"{parts[0]} {parts[1]} {parts[2]} {''.join(parts[3:])}", int(parts[2])))
    return found


def _same(one: str, other: str | None) -> bool:
    return other is not None and one.lower() == other.lower()


def ds_to_set(name: Name, keys: RecordSet | None) -> tuple[str, ...]:
    """The DS values that a parent needs so that these keys count: of each key that is a secure entry point."""
    return tuple(
        made
        for key in (keys.values if keys else ())
        if _flags(key) & (SECURE_ENTRY | ZONE_KEY) == SECURE_ENTRY | ZONE_KEY and not _flags(key) & REVOKED
        if (made := ds_of(name, key)) is not None
    )


def _flags(key: str) -> int:
    first = key.split()[0] if key.split() else ""
    return int(first) if first.isdigit() else 0
