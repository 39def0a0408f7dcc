"""Site files, `homepath.site/1`, and notation files, `homepath.notation/1`."""

from __future__ import annotations

from collections.abc import Mapping
from ipaddress import ip_address
from typing import Any, get_args

from homepath.core.dns.names import absolute, is_host, labels
from homepath.core.files.brief_file import NEW_ZONE
from homepath.core.files.strict import Field, Report, list_of, map_of, number, one_of, read_file, table, text, yes_no
from homepath.core.message import msg
from homepath.core.model.brief import MoveTo, NewZone, Notation, Site, WayBack
from homepath.core.model.plan import Purpose
from homepath.core.model.times import from_rfc3339, rfc3339, seconds_in

SITE_FILE = "homepath.toml"
SITE_FORMAT = "homepath.site/1"
NOTATION_FORMAT = "homepath.notation/1"


def _domain(words: str) -> str:
    name = absolute(words)
    if len(labels(name)) < 2 or not is_host(name):
        raise ValueError(msg("site-file.domain"))
    return name.removesuffix(".")


def _primary(words: str) -> str:
    label = words.strip().lower()
    if label in ("apex", "@"):
        return "apex"
    if not label or not is_host(f"{label}.") or "." in label:
        raise ValueError(msg("site-file.primary"))
    return label


def _server(words: str) -> str:
    name = absolute(words)
    if len(labels(name)) < 2 or not is_host(name):
        raise ValueError(msg("site-file.server"))
    return name


_MOVE = {"to": Field(text()), "servers": Field(list_of(text(_server)), ())}
_SHOWN = {"names": Field(one_of("relative"), None), "final_dot": Field(one_of("required"), None)}
_UNDO = {"of": Field(one_of("records", "nameservers")), "to": Field(text(from_rfc3339), None)}


_KEYS = {
    "domain": Field(text(_domain)),
    "primary": Field(text(_primary)),
    "also": Field(list_of(text(_domain)), ()),
    "brief": Field(text()),
    "notation": Field(text(), None),
    "route": Field(one_of("records", "nameservers", "advise", "undo", "leave"), "advise"),
    "values": Field(map_of(text()), {}),
    "values_of": Field(map_of(map_of(text())), {}),
    "ownership": Field(one_of("TXT", "CNAME"), None),
    "redirect": Field(one_of("builder", "forwarding", "proxy", "own-server"), None),
    "apex": Field(one_of("alias", "forwarding", "none"), None),
    "own_server": Field(list_of(text(lambda words: str(ip_address(words.strip())))), ()),
    "purposes": Field(map_of(one_of(*get_args(Purpose))), {}),
    "accepted": Field(map_of(list_of(text())), {}),
    "move": Field(table(MoveTo, _MOVE), None),
    "undo": Field(table(WayBack, _UNDO), None),
    "leave_behind": Field(list_of(text()), ()),
    "sign": Field(yes_no, False),
    "trusted": Field(list_of(text()), ()),
    "form": Field(table(lambda **shown: {key: how for key, how in shown.items() if how}, _SHOWN), {}),
    "keep": Field(table(lambda records: records, {"records": Field(list_of(text()), ())}), ()),
}
SITE_KEYS = tuple(_KEYS)
"""The keys of a site file."""
_SITE = table(Site, _KEYS)


def read_site(words: str, file: str) -> Site:
    """Read a site file. Raises BadInput with every problem."""
    site: Site = read_file(words, file, _SITE, SITE_FORMAT)
    return site


def site_from(data: dict[str, Any], report: Report) -> Site | None:
    """The site that a table of its keys says; what is wrong with it goes into the report."""
    data.pop("format", None)
    site: Site | None = _SITE(data, (), report)
    return site


def write_site(site: Site, existing: str | None = None, heading: str = "") -> str:
    """The text of a site file; the comments and order of an `existing` text are kept. `heading`: the first line of a
    new one."""
    import tomlkit

    document = tomlkit.parse(existing) if existing else tomlkit.document()
    if heading and not existing:
        document.add(tomlkit.comment(heading))
    wanted: dict[str, Any] = {
        "format": SITE_FORMAT,
        "domain": site.domain,
        "primary": site.primary,
        "also": list(site.also),
        "brief": site.brief,
        "notation": site.notation,
        "route": site.route,
        "ownership": site.ownership,
        "redirect": site.redirect,
        "apex": site.apex,
        "own_server": list(site.own_server),
        "leave_behind": list(site.leave_behind),
        "trusted": list(site.trusted),
        "sign": site.sign or None,
    }
    for key, value in wanted.items():
        if value is None or value == []:
            document.pop(key, None)
        elif document.get(key) != value:
            document[key] = value
    _write_table(document, "values", site.values)
    _write_table(document, "values_of", {name: dict(values) for name, values in site.values_of.items()})
    _write_table(document, "form", site.form)
    _write_table(document, "purposes", site.purposes)
    _write_table(document, "accepted", {key: list(values) for key, values in site.accepted.items()})
    _write_table(document, "keep", {"records": list(site.keep)} if site.keep else {})
    move = {"to": site.move.to, "servers": list(site.move.servers)} if site.move else {}
    _write_table(document, "move", move)
    undo: dict[str, Any] = {"of": site.undo.of} if site.undo else {}
    if site.undo and site.undo.to is not None:
        undo["to"] = rfc3339(site.undo.to)
    _write_table(document, "undo", undo)
    return tomlkit.dumps(document)


def _write_table(document: Any, name: str, wanted: Mapping[str, Any]) -> None:
    import tomlkit

    if not wanted:
        document.pop(name, None)
        return
    table = document.setdefault(name, tomlkit.table())
    for key in [key for key in table if key not in wanted]:
        del table[key]
    for key, value in wanted.items():
        if table.get(key) != value:
            table[key] = value


_FORM = {
    "apex": Field(one_of("@", "blank", "full"), "@"),
    "names": Field(one_of("relative", "full"), "relative"),
    "final_dot": Field(one_of("required", "forbidden", "tolerated"), "tolerated"),
    "quotes": Field(one_of("required", "forbidden", "tolerated"), "tolerated"),
    "ttl_choices": Field(list_of(text(seconds_in)), ()),
    "lacks": Field(list_of(text(str.upper)), ()),
    "apex_alias": Field(text(), None),
    "text_limit": Field(number(1, 65535), None),
    "most_values": Field(number(1, 1000), None),
    "delete": Field(text(), ""),
}
_PARKING = {"addresses": Field(list_of(text()), ()), "targets": Field(list_of(text(absolute)), ())}


_FORWARDING = {"available": Field(yes_no, True), "https": Field(yes_no, False), "addresses": Field(list_of(text()), ())}


def _notation(
    host: str,
    servers: tuple[str, ...],
    form: Mapping[str, Any],
    parking: Mapping[str, Any],
    forwarding: Mapping[str, Any],
    proxy: Mapping[str, Any],
    new_zone: NewZone,
    complete: bool,
) -> Notation:
    return Notation(
        host,
        servers,
        **form,
        **{f"parking_{name}": value for name, value in parking.items()},
        forwarding=forwarding.get("available", False),
        forwarding_https=forwarding.get("https", False),
        forwarding_addresses=forwarding.get("addresses", ()),
        proxy=proxy.get("available", False),
        new_zone=new_zone,
        complete=complete,
    )


_NOTATION = table(
    _notation,
    {
        "host": Field(text()),
        "servers": Field(list_of(text(str.lower)), ()),
        "form": Field(table(dict, _FORM), {}),
        "parking": Field(table(dict, _PARKING), {}),
        "forwarding": Field(table(dict, _FORWARDING), {}),
        "proxy": Field(table(dict, {"available": Field(yes_no, True)}), {}),
        "new_zone": Field(table(NewZone, NEW_ZONE), NewZone()),
        "complete": Field(yes_no, True),
    },
)


def read_notation(words: str, file: str) -> Notation:
    """Read a notation file. Raises BadInput with every problem."""
    notation: Notation = read_file(words, file, _NOTATION, NOTATION_FORMAT)
    return notation
