"""The table of mistakes: what people do wrong at a form, at the builder, or at the registrar, as deeds in the world."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from typing import Any

from homepath.core.dns.values import strings
from homepath.core.model.problems import BadInput
from homepath.core.site.wanted import Wanted
from homepath.practice.scene_file import SceneTable
from tests.practice.robot import DOMAIN, Json, Robot

Deed = Callable[[Robot, Wanted, Json], str | None]
"""Does it; gives the step that the person says is done, if any. The last value is the act that was due."""
Fits = Callable[[Wanted, SceneTable], bool]


@dataclass(frozen=True)
class Mistake:
    """`at`: after the `first` answer, or in place of the first act of a kind. `early`: it also fits before the first
    check, when no one has seen what was there."""

    deed: Deed
    fits: Fits
    at: str = "first"
    early: bool = False
    unlisted: bool = False
    """It may lose names that no one had listed; nothing can bring them back."""

    @property
    def name(self) -> str:
        return self.deed.__name__


def _form(robot: Robot, deed: str, name: str, rrtype: str, value: str | None = None) -> None:
    asked: dict[str, Any] = {"domain": DOMAIN, "name": name, "type": rrtype, "value": value}
    getattr(robot.world.control, deed)(asked)


def _clear(robot: Robot, name: str, *types: str) -> None:
    for rrtype in types:
        with suppress(BadInput):
            _form(robot, "delete", name, rrtype)


def _alias(wanted: Wanted) -> tuple[str, str] | None:
    found = [want.record for want in wanted.wants if want.record.type == "CNAME" and want.record.name in wanted.names]
    return (found[0].name.removesuffix(f".{DOMAIN}."), found[0].values[0]) if found else None


def _apex_addresses(wanted: Wanted) -> list[str]:
    want = wanted.get(f"{DOMAIN}.", "A")
    return list(want.record.values) if want else []


def _proof(wanted: Wanted) -> str:
    """The text at the apex that proves the ownership; empty where it is proved otherwise."""
    found = wanted.get(f"{DOMAIN}.", "TXT")
    return "".join(strings(found.record.values[0])) if found and wanted.choice.by_records else ""


def has_alias(wanted: Wanted, scene: SceneTable) -> bool:
    return _alias(wanted) is not None and wanted.choice.route == "records"


def has_addresses(wanted: Wanted, scene: SceneTable) -> bool:
    return bool(_apex_addresses(wanted)) and wanted.choice.route == "records"


def has_proof(wanted: Wanted, scene: SceneTable) -> bool:
    return bool(_proof(wanted)) and wanted.choice.route == "records"


def by_records(wanted: Wanted, scene: SceneTable) -> bool:
    return wanted.choice.route == "records"


def by_nameservers(wanted: Wanted, scene: SceneTable) -> bool:
    return wanted.choice.route == "nameservers"


def has_mail_host(wanted: Wanted, scene: SceneTable) -> bool:
    return any(line.startswith("mail ") for line in scene.zones[f"{DOMAIN}."].splitlines())


def checks_at_the_builder(wanted: Wanted, scene: SceneTable) -> bool:
    """Where the builder does not know the domain yet, and shows nothing to the outside before its check."""
    return not scene.builder.connected and scene.builder.answers == "verified"


def doubled_name(robot: Robot, wanted: Wanted, act: Json) -> None:
    alias = _alias(wanted)
    assert alias is not None
    with suppress(BadInput):  # where it stands already
        _form(robot, "enter", f"{alias[0]}.{DOMAIN}", "CNAME", alias[1])


def address_for_alias(robot: Robot, wanted: Wanted, act: Json) -> None:
    alias = _alias(wanted)
    assert alias is not None
    _clear(robot, alias[0], "CNAME", "AAAA", "A")
    _form(robot, "enter", alias[0], "A", robot.world.scene.builder.addresses[0])


def target_without_dot(robot: Robot, wanted: Wanted, act: Json) -> None:
    alias = _alias(wanted)
    assert alias is not None
    _clear(robot, alias[0], "CNAME", "A", "AAAA")
    _form(robot, "enter", alias[0], "CNAME", alias[1].removesuffix("."))


def quoted_text(robot: Robot, wanted: Wanted, act: Json) -> None:
    _form(robot, "enter", "@", "TXT", f'"{_proof(wanted)}"')


def another_code(robot: Robot, wanted: Wanted, act: Json) -> None:
    _form(robot, "enter", "@", "TXT", f"{_proof(wanted)[:-4]}9999")


def wrong_digit(robot: Robot, wanted: Wanted, act: Json) -> None:
    *others, last = _apex_addresses(wanted)
    _clear(robot, "@", "A")
    for address in [*others, f"{last[:-1]}{(int(last[-1]) + 3) % 10}"]:
        _form(robot, "enter", "@", "A", address)


def new_beside_old(robot: Robot, wanted: Wanted, act: Json) -> None:
    for address in _apex_addresses(wanted):
        _form(robot, "enter", "@", "A", address)


def half_entered(robot: Robot, wanted: Wanted, act: Json) -> None:
    addresses = _apex_addresses(wanted)
    _clear(robot, "@", "A")
    _form(robot, "enter", "@", "A", addresses[0])


def star_for_apex(robot: Robot, wanted: Wanted, act: Json) -> None:
    for address in _apex_addresses(wanted):
        _form(robot, "enter", "*", "A", address)


def old_deleted_first(robot: Robot, wanted: Wanted, act: Json) -> None:
    _clear(robot, "@", "A", "AAAA")
    _clear(robot, "www", "CNAME", "A", "AAAA")


def mail_deleted(robot: Robot, wanted: Wanted, act: Json) -> None:
    _clear(robot, "@", "MX")


def texts_deleted(robot: Robot, wanted: Wanted, act: Json) -> None:
    _clear(robot, "@", "TXT")
    _clear(robot, "_dmarc", "TXT")


def mail_host_overwritten(robot: Robot, wanted: Wanted, act: Json) -> None:
    _clear(robot, "mail", "A", "CNAME")
    _form(robot, "enter", "mail", "A", robot.world.scene.builder.addresses[0])


def wrong_domain_at_the_builder(robot: Robot, wanted: Wanted, act: Json) -> str:
    """The wrong row of the builder's list of domains; the person believes that it is done."""
    robot.world.control.connect({"domain": "tidewick-clay.example", "primary": "www", "code": robot.code})
    return "claim"


def servers(robot: Robot, names: list[str]) -> None:
    robot.world.control.servers({"domain": DOMAIN, "servers": names})


def only_two_nameservers(robot: Robot, wanted: Wanted, act: Json) -> None:
    servers(robot, act["servers"][:2])


def nameservers_beside_the_old(robot: Robot, wanted: Wanted, act: Json) -> None:
    servers(robot, [*act["servers"], "ns1.mossgate.example."])


def nameserver_mistyped(robot: Robot, wanted: Wanted, act: Json) -> None:
    first, *others = act["servers"]
    servers(robot, [first.replace("ns", "nss", 1), *others])


def old_zone_deleted(robot: Robot, wanted: Wanted, act: Json) -> None:
    servers(robot, act["servers"])
    robot.world.control.close_zone({"domain": DOMAIN})


def switched_too_early(robot: Robot, wanted: Wanted, act: Json) -> str:
    """Mail was not carried over, and the DS record left in place."""
    robot.do(robot.said[-1])
    if robot.new_host != robot.world.scene.builder.name:
        robot.world.control.open_zone({"domain": DOMAIN, "at": robot.new_host})
    robot.world.skip(9 * 3600)
    servers(robot, list(robot.world.hosts.find(robot.new_host).servers))
    return "claim"


def more_than_two(wanted: Wanted, scene: SceneTable) -> bool:
    return by_nameservers(wanted, scene) and len(wanted.nameservers) > 2


MISTAKES = (
    Mistake(doubled_name, has_alias, early=True),
    Mistake(address_for_alias, has_alias, early=True),
    Mistake(target_without_dot, has_alias, early=True),
    Mistake(quoted_text, has_proof, early=True),
    Mistake(another_code, has_proof, early=True),
    Mistake(wrong_digit, has_addresses, early=True),
    Mistake(new_beside_old, has_addresses, early=True),
    Mistake(half_entered, has_addresses, early=True),
    Mistake(star_for_apex, has_addresses, early=True),
    Mistake(old_deleted_first, by_records, early=True),
    Mistake(mail_deleted, lambda wanted, scene: True),
    Mistake(texts_deleted, lambda wanted, scene: True),
    Mistake(mail_host_overwritten, has_mail_host),
    Mistake(wrong_domain_at_the_builder, checks_at_the_builder),
    Mistake(switched_too_early, by_nameservers, unlisted=True),
    Mistake(only_two_nameservers, more_than_two, at="name-servers"),
    Mistake(nameservers_beside_the_old, by_nameservers, at="name-servers"),
    Mistake(nameserver_mistyped, by_nameservers, at="name-servers"),
    Mistake(old_zone_deleted, by_nameservers, at="name-servers"),
)
