"""A record that is being told: its type, by what is said and by its value; its value with the numbers beside it."""

from __future__ import annotations

from collections.abc import Mapping

from homepath.core.page_reader.hosts import plain_host
from homepath.core.page_reader.kinds import SPECIAL, addresses, is_fqdn, is_textlike, special_type


def strength(value: str) -> float:
    """How much a text looks like a value at all."""
    if addresses(value) or special_type(value):
        return 2.0
    return 1.5 if is_fqdn(value) or is_textlike(value) or SPECIAL["MX"].fullmatch(value) else -1.0


def types_said(
    types: tuple[str, ...], fresh: bool, around: tuple[str, ...], value: str
) -> tuple[tuple[str, ...], float]:
    """The types that can be meant, and how well that is said. `fresh`: said with this record, not with one before."""
    if fresh:
        return types, 1.0
    own = type_by_value(value)
    if types:
        fits = own is None or own in types
        return (types, 0.4) if fits else ((own,) if own else (), -0.5)
    if around:
        return around, 0.6
    return (), 0.3 if own else -2.5


def type_by_value(value: str) -> str | None:
    """The type of which alone this can be a value; None where several can have it."""
    found = addresses(value)
    if found:
        return "AAAA" if ":" in found[0] else "A"
    return special_type(value)


def settled_type(types: tuple[str, ...], value: str) -> tuple[str | None, tuple[str, ...]]:
    """The type of a value, and what is wrong between them."""
    own = type_by_value(value)
    if own in ("A", "AAAA"):
        if not types or own in types:
            return own, ()
        if types == ("TXT",):
            return "TXT", ()
        return own, (f"{value} is no value of a record of type {'/'.join(types)}",)
    if not types:
        return own, ()
    if own and own in types:
        return own, ()
    if len(types) > 1:
        fitting = [each for each in types if each not in ("A", "AAAA") and (each != "CNAME" or is_fqdn(value))]
        fitting = [each for each in fitting if each != "TXT" or not is_fqdn(value)]
        if len(fitting) == 1:
            return fitting[0], ()
        return None, (f"the type of {value} cannot be told: {' or '.join(types)}",)
    rrtype = types[0]
    if rrtype in ("A", "AAAA"):
        return rrtype, (f"{value} is not an address",)
    if own and own != rrtype and own != "TXT":
        return own, (f"{value} is no value of a record of type {rrtype}",)
    if rrtype in ("CNAME", "NS", "ALIAS") and not is_fqdn(value) and plain_host(value) != "@":
        return rrtype, (f"{value} is not a full host name",)
    if rrtype == "TXT" and is_fqdn(value) and not is_textlike(value):
        return rrtype, ()
    return rrtype, ()


def whole_value(rrtype: str | None, value: str, extras: Mapping[str, str]) -> str:
    """The value with the numbers that a form keeps in fields of their own."""
    parts = value.split()
    if rrtype == "MX" and "priority" in extras and len(parts) == 1:
        return f"{int(extras['priority'])} {value}"
    if rrtype == "SRV" and len(parts) < 4:
        front = [extras[name] for name in ("priority", "weight", "port") if name in extras]
        return " ".join([*front[: 4 - len(parts)], value])
    if rrtype == "CAA" and len(parts) == 1 and "tag" in extras:
        return f'{extras.get("flag", "0")} {extras["tag"]} "{value}"'
    if rrtype == "HTTPS" and "priority" in extras and parts and not parts[0].isdecimal():
        return f"{extras['priority']} {value}"
    return value


def service_name(service: str, protocol: str, host: str | None) -> str:
    """The owner of an SRV record from a form that keeps service and protocol in fields of their own (RFC 2782)."""
    front = ".".join(f"_{part.strip().strip('._').lower()}" for part in (service, protocol))
    return front if host is None or plain_host(host) == "@" else f"{front}.{host}"
