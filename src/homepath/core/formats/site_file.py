"""Site files, `homepath.site/1`, and notation files, `homepath.notation/1`."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field

from homepath.core.formats.strict import Table, read_table
from homepath.core.model.brief import Notation, Site
from homepath.core.model.names import BadName, absolute, is_host, labels
from homepath.core.model.times import seconds_in

SITE_FORMAT = "homepath.site/1"
NOTATION_FORMAT = "homepath.notation/1"


def _domain(text: str) -> str:
    try:
        name = absolute(text)
    except BadName as error:
        raise ValueError(str(error)) from error
    if len(labels(name)) < 2 or not is_host(name):
        raise ValueError("should be a registered domain, such as tidewick-kiln.example")
    return name.removesuffix(".")


def _primary(text: str) -> str:
    label = text.strip().lower()
    if label in ("apex", "@"):
        return "apex"
    if not is_host(f"{label}.") or "." in label:
        raise ValueError('should be "www", "apex" or one label such as "shop"')
    return label


Domain = Annotated[str, AfterValidator(_domain)]


class KeepTable(Table):
    records: Annotated[tuple[str, ...], Field(strict=False)] = ()


class SiteTable(Table):
    format: str
    domain: Domain
    primary: Annotated[str, AfterValidator(_primary)]
    also: Annotated[tuple[Domain, ...], Field(strict=False)] = ()
    brief: str
    notation: str | None = None
    route: Literal["records", "nameservers", "advise"] = "advise"
    values: dict[str, str] = Field(default_factory=dict)
    keep: KeepTable = KeepTable()


def read_site(text: str, file: str) -> Site:
    """Read a site file. Raises BadInput with every problem."""
    table = read_table(text, file, SiteTable, SITE_FORMAT)
    return Site(
        table.domain,
        table.primary,
        table.brief,
        table.also,
        table.notation,
        table.route,
        table.values,
        table.keep.records,
    )


def write_site(site: Site, existing: str | None = None) -> str:
    """The text of a site file; the comments and order of an `existing` text are kept."""
    import tomlkit

    document = tomlkit.parse(existing) if existing else tomlkit.document()
    if not existing:
        document.add(tomlkit.comment("The wish of one site owner. Edit it by hand; comments are kept."))
    wanted: dict[str, Any] = {
        "format": SITE_FORMAT,
        "domain": site.domain,
        "primary": site.primary,
        "also": list(site.also),
        "brief": site.brief,
        "notation": site.notation,
        "route": site.route,
    }
    for key, value in wanted.items():
        if value is None or value == []:
            document.pop(key, None)
        elif document.get(key) != value:
            document[key] = value
    _write_table(document, "values", site.values)
    _write_table(document, "keep", {"records": list(site.keep)} if site.keep else {})
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


class FormTable(Table):
    apex: Literal["@", "blank", "full"] = "@"
    names: Literal["relative", "full"] = "relative"
    final_dot: Literal["required", "forbidden", "tolerated"] = "tolerated"
    ttl_choices: Annotated[tuple[str, ...], Field(strict=False)] = ()


class ParkingTable(Table):
    addresses: Annotated[tuple[str, ...], Field(strict=False)] = ()
    targets: Annotated[tuple[str, ...], Field(strict=False)] = ()


class NotationTable(Table):
    format: str
    host: str
    form: FormTable = FormTable()
    parking: ParkingTable = ParkingTable()


def read_notation(text: str, file: str) -> Notation:
    """Read a notation file. Raises BadInput with every problem."""
    table = read_table(text, file, NotationTable, NOTATION_FORMAT)
    return Notation(
        table.host,
        table.form.apex,
        table.form.names,
        table.form.final_dot,
        tuple(seconds_in(choice) for choice in table.form.ttl_choices),
        table.parking.addresses,
        tuple(absolute(target) for target in table.parking.targets),
    )
