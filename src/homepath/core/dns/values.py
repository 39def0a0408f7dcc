"""Record values in master-file presentation form, brought to one spelling so that equal values are equal text."""

from __future__ import annotations

import re
from collections.abc import Callable
from functools import lru_cache
from ipaddress import AddressValueError, IPv4Address, IPv6Address

from homepath.core.dns.names import BadName, Name, absolute, is_host, labels
from homepath.core.message import msg, reason

_STRING = re.compile(r'"((?:[^"\\]|\\.)*)"|((?:[^"\\\s]|\\.)+)', re.S)
_NUMBER = re.compile(r"[0-9]{1,10}")


class BadValue(ValueError):
    """A text that is no value of its record type; the message says why."""


def _ipv4(text: str, origin: Name) -> str:
    try:
        return str(IPv4Address(text.strip()))
    except AddressValueError as error:
        raise BadValue(msg("values.ipv4", strip=text.strip(), error=reason(error))) from error


def _ipv6(text: str, origin: Name) -> str:
    try:
        return str(IPv6Address(text.strip()))
    except AddressValueError as error:
        raise BadValue(msg("values.ipv6", strip=text.strip(), error=reason(error))) from error


def _name(text: str, origin: Name) -> str:
    try:
        return absolute(text, origin)
    except BadName as error:
        raise BadValue(reason(error)) from error


def strings(text: str) -> list[str]:
    """The character-strings of a TXT value, unescaped to one character per octet (RFC 1035 section 3.3.14)."""
    found, rest = [], text.strip()
    while rest:
        match = _STRING.match(rest)
        if match is None:
            raise BadValue(msg("values.strings", strip=text.strip()))
        found.append(_unescape(match[1] if match[1] is not None else match[2]))
        rest = rest[match.end() :].lstrip()
    return found


def _unescape(text: str) -> str:
    def octet(match: re.Match[str]) -> str:
        code = match[1]
        if len(code) != 3:
            return code
        if int(code) > 255:
            raise BadValue(msg("values.unescape", code_=code))
        return chr(int(code))

    raw = re.sub(r"\\([0-9]{3}|.)", octet, text, flags=re.S)
    return raw if all(ord(char) < 256 for char in raw) else raw.encode("utf-8", "replace").decode("latin-1")


def quoted(text: str) -> str:
    """One character-string in quotes, with everything outside printable ASCII as `\\DDD`."""
    shown = (f"\\{char}" if char in '"\\' else char if " " <= char <= "~" else f"\\{ord(char):03d}" for char in text)
    return '"' + "".join(shown) + '"'


def text_value(content: str) -> str:
    """`content` as a TXT value, cut into character-strings of at most 255 octets."""
    octets = (
        content if all(ord(char) < 256 for char in content) else content.encode("utf-8", "replace").decode("latin-1")
    )
    pieces = [octets[at : at + 255] for at in range(0, len(octets), 255)] or [""]
    return " ".join(quoted(piece) for piece in pieces)


def _text(text: str, origin: Name) -> str:
    found = strings(text)
    if not found:
        return '""'
    if any(len(piece) > 255 for piece in found):
        raise BadValue(msg("values.text"))
    return " ".join(quoted(piece) for piece in found)


def _numbers_then_name(count: int) -> Callable[[str, Name], str]:
    def read(text: str, origin: Name) -> str:
        parts = text.split()
        if len(parts) != count + 1 or not all(_NUMBER.fullmatch(part) for part in parts[:count]):
            raise BadValue(msg("values.numbers-then-name", text=text, count=count, value="s" * (count > 1)))
        if any(int(part) > 65535 for part in parts[:count]):
            raise BadValue(msg("values.numbers-then-name-2", text=text))
        return " ".join([*(str(int(part)) for part in parts[:count]), _name(parts[count], origin)])

    return read


def _caa(text: str, origin: Name) -> str:
    match = re.fullmatch(r"\s*([0-9]{1,3})\s+([A-Za-z0-9]+)\s+(.+?)\s*", text, re.S)
    if match is None or int(match[1]) > 255:
        raise BadValue(msg("values.caa", text=text))
    return f"{int(match[1])} {match[2].lower()} {quoted(''.join(strings(match[3])))}"


def _soa(text: str, origin: Name) -> str:
    parts = text.split()
    if len(parts) != 7 or not all(_NUMBER.fullmatch(part) for part in parts[2:]):
        raise BadValue(msg("values.soa"))
    return " ".join([_name(parts[0], origin), _name(parts[1], origin), *(str(int(part)) for part in parts[2:])])


def _other(text: str, origin: Name) -> str:
    return " ".join(text.split())


_READERS: dict[str, Callable[[str, Name], str]] = {
    "A": _ipv4,
    "AAAA": _ipv6,
    "CNAME": _name,
    "DNAME": _name,
    "NS": _name,
    "PTR": _name,
    "MX": _numbers_then_name(1),
    "SRV": _numbers_then_name(3),
    "TXT": _text,
    "SPF": _text,
    "CAA": _caa,
    "SOA": _soa,
}


def canonical(rrtype: str, text: str, origin: Name = ".") -> str:
    """`text` as the one spelling of a value of `rrtype`; relative names are completed with `origin`.

    Raises BadValue with a sentence for the person who typed it.
    """
    return _READERS.get(rrtype, _other)(text, origin)


def meaning(rrtype: str, value: str) -> str:
    """What makes two canonical values the same to those who read them.

    A TXT value means its strings joined (RFC 7208 section 3.3 and common use for ownership records).
    """
    return _joined(value) if rrtype in ("TXT", "SPF") else value


@lru_cache(maxsize=4096)
def _joined(value: str) -> str:
    """Every comparison of a text needs it; one check compares each some fifty times."""
    return "".join(strings(value))


def target(rrtype: str, value: str) -> Name | None:
    """The host name that a value points to, if its type has one."""
    return value.split()[-1] if rrtype in ("CNAME", "DNAME", "NS", "MX", "SRV", "PTR") else None


def check_host_target(value: Name) -> None:
    """Refuse a CNAME target that no browser could follow. Raises BadValue."""
    if len(labels(value)) < 2 or not is_host(
        re.sub(r"(?:^|(?<=\.))_", "x", value)
    ):  # verification records are at names with a _
        raise BadValue(msg("values.check-host-target", value=value))
    if re.fullmatch(r"[0-9.]+", value):
        raise BadValue(msg("values.check-host-target-2", value=value))
