"""What people do wrong at forms, each as a deed in the practice world."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from typing import Any

from homepath.core.model.problems import BadInput
from homepath.core.wanted.wanted import Wanted
from homepath.practice.world import World

DOMAIN = "tidewick-kiln.example"
Mistake = Callable[[World, Wanted], None]


def _form(world: World, deed: str, name: str, rrtype: str, value: str | None = None) -> None:
    asked: dict[str, Any] = {"domain": DOMAIN, "name": name, "type": rrtype, "value": value}
    getattr(world.control, deed)(asked)


def _clear(world: World, name: str, *types: str) -> None:
    for rrtype in types:
        with suppress(BadInput):
            _form(world, "delete", name, rrtype)


def _alias(wanted: Wanted) -> tuple[str, str] | None:
    found = [want.record for want in wanted.wants if want.record.type == "CNAME" and want.record.name in wanted.names]
    return (found[0].name.removesuffix(f".{DOMAIN}."), found[0].values[0]) if found else None


def _apex_addresses(wanted: Wanted) -> list[str]:
    want = wanted.get(f"{DOMAIN}.", "A")
    return list(want.record.values) if want else []


def fits(mistake: Mistake, wanted: Wanted, names: set[str]) -> bool:
    """Whether a scene has a place for the mistake. `names`: what its zone holds at first."""
    if mistake in (doubled_name, address_for_alias, target_without_dot):
        return _alias(wanted) is not None
    if mistake in (quoted_text, another_code):
        return wanted.get(f"{DOMAIN}.", "TXT") is not None
    if mistake in (wrong_digit, new_beside_old, half_entered):
        return bool(_apex_addresses(wanted))
    return mistake is not mail_host_overwritten or f"mail.{DOMAIN}." in names


def doubled_name(world: World, wanted: Wanted) -> None:
    alias = _alias(wanted)
    assert alias is not None
    _form(world, "enter", f"{alias[0]}.{DOMAIN}", "CNAME", alias[1])


def address_for_alias(world: World, wanted: Wanted) -> None:
    alias = _alias(wanted)
    assert alias is not None
    _clear(world, alias[0], "CNAME", "AAAA", "A")
    _form(world, "enter", alias[0], "A", "192.0.2.10")


def target_without_dot(world: World, wanted: Wanted) -> None:
    alias = _alias(wanted)
    assert alias is not None
    _clear(world, alias[0], "CNAME", "A", "AAAA")
    _form(world, "enter", alias[0], "CNAME", alias[1].removesuffix("."))


def quoted_text(world: World, wanted: Wanted) -> None:
    _form(world, "enter", "@", "TXT", '"bricklark-owner=tk-4471"')


def another_code(world: World, wanted: Wanted) -> None:
    _form(world, "enter", "@", "TXT", "bricklark-owner=tk-9999")


def wrong_digit(world: World, wanted: Wanted) -> None:
    addresses = _apex_addresses(wanted)
    _clear(world, "@", "A")
    for address in [*addresses[:-1], "192.0.2.77" if addresses[-1] != "192.0.2.77" else "192.0.2.78"]:
        _form(world, "enter", "@", "A", address)


def new_beside_old(world: World, wanted: Wanted) -> None:
    addresses = _apex_addresses(wanted)
    for address in addresses:
        _form(world, "enter", "@", "A", address)


def half_entered(world: World, wanted: Wanted) -> None:
    addresses = _apex_addresses(wanted)
    _clear(world, "@", "A")
    _form(world, "enter", "@", "A", addresses[0])


def old_deleted_first(world: World, wanted: Wanted) -> None:
    _clear(world, "@", "A", "AAAA")
    _clear(world, "www", "CNAME", "A", "AAAA")


def mail_deleted(world: World, wanted: Wanted) -> None:
    _clear(world, "@", "MX")


def texts_deleted(world: World, wanted: Wanted) -> None:
    _clear(world, "@", "TXT")
    _clear(world, "_dmarc", "TXT")


def mail_host_overwritten(world: World, wanted: Wanted) -> None:
    _clear(world, "mail", "A", "CNAME")
    _form(world, "enter", "mail", "A", "192.0.2.10")


TYPED: tuple[Mistake, ...] = (
    doubled_name,
    address_for_alias,
    target_without_dot,
    quoted_text,
    another_code,
    wrong_digit,
    new_beside_old,
    half_entered,
    old_deleted_first,
)
"""Can be made before the first look as well."""
LOST: tuple[Mistake, ...] = (mail_deleted, texts_deleted, mail_host_overwritten)
"""Can be seen only by who looked before."""
