"""What was read from a page, as the text of a brief file."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

from homepath.core.files.brief_file import FORMAT, PLACE
from homepath.core.page_reader.page import Page, PastedRecord
from homepath.core.page_reader.parts import Part, Parts, Placed, parts_of, where

PAGE_MARK = "# Read from a builder's page."
"""How a brief begins that was read from a page, so that reading the page again may replace it."""
Values = Literal["stay", "ask"]


@dataclass(frozen=True, slots=True)
class Row:
    """A record as it was taken: its lines, and the part of the brief that it became."""

    record: PastedRecord
    part: Part
    lines: str


@dataclass(frozen=True, slots=True)
class BriefText:
    """The file, what each record became, `doubts`: between which ways a person must choose; what was assumed.

    `values`: what the brief asks for, with the page's own value where the page has one. `options`: the marks of
    alternatives of which only one can be taken. `primary`: the primary address that the page names, if it does.
    """

    text: str
    rows: tuple[Row, ...]
    doubts: tuple[str, ...]
    notes: tuple[str, ...]
    values: dict[str, str]
    options: tuple[str, ...] = ()
    primary: str = ""


def brief_text(page: Page, builder: str, *, label: str = "", option: str = "", values: Values = "stay") -> BriefText:
    """A brief that says what was read. `values`: what belongs to one site stays, or is asked for. `option`: which of
    the page's alternatives. What the page does not say is not in it."""
    parts = parts_of(page, label, option)
    asked: dict[str, str] = {}
    if values == "ask":
        parts = _with_places(parts, asked)
    for each in parts.placed:
        for name in PLACE.findall(f"{each.record.host} {each.record.value}"):
            if name != "domain":
                asked.setdefault(name, "")
    rows = tuple(Row(each.record, each.part, where(each.record)) for each in parts.placed)
    deletes = [each for each in page.away if each.mood == "delete" and each.type != "ALIAS"]
    text = _write(builder, parts, asked, deletes)
    return BriefText(text, rows, parts.doubts, (*page.notes, *parts.notes), asked, parts.options, page.primary)


_SHARED = ("www", "sites", "edge", "host", "hosting", "proxy", "custom", "connect", "cname", "domains", "web", "dns")
"""First labels of targets that all customers of a builder share."""


_OWN_LABEL = re.compile(r"(?:[a-z][a-z0-9-]*-)?(?P<number>[0-9]{3,})|[a-z0-9-]+")
"""A first label of one site's own: a number, perhaps behind a word that all sites share, or any other word."""


def _with_places(parts: Parts, asked: dict[str, str]) -> Parts:
    """The values that belong to one site as places to fill: its name or number in a target, the code of a proof."""
    found: dict[str, str] = {}
    for each in parts.placed:
        value = each.record.value
        if each.part in ("www", "label", "apex_alias") and each.record.type in ("CNAME", "ALIAS"):
            first, _, rest = value.partition(".")
            own = _OWN_LABEL.fullmatch(first)
            if rest.count(".") >= 2 and own and first not in _SHARED:
                found.setdefault("site", own["number"] or first)
        if each.part == "ownership" or each.purpose == "proof of ownership":
            if each.record.type == "TXT":
                code = re.split(r"[=:]", value, maxsplit=1)[-1].strip()
                found.setdefault("code", code)
            elif re.search(r"[0-9]", each.record.host):
                found.setdefault("code", each.record.host.removeprefix("_"))
    asked |= found

    def filled(text: str, part: Part) -> str:
        for name, value in found.items():
            if name == "code" and part in ("ownership", "further") and value:
                text = text.replace(value, "{code}")
            elif name == "site" and part != "ownership" and text.partition(".")[0].endswith(value):
                text = text.replace(value, "{site}", 1)
        return text

    placed = tuple(
        Placed(
            replace(each.record, host=filled(each.record.host, each.part), value=filled(each.record.value, each.part)),
            each.part,
            each.purpose,
        )
        for each in parts.placed
    )
    return replace(parts, placed=placed)


def _sets(records: Sequence[PastedRecord]) -> list[dict[str, Any]]:
    """Records of one type and name as one set, in the page's order."""
    found: dict[tuple[str, str, bool], dict[str, Any]] = {}
    for each in records:
        optional = each.mood == "optional"
        one = found.setdefault(
            (each.type, each.host, optional),
            {"type": each.type, "host": each.host, "values": [], "ttl": each.ttl, "optional": optional},
        )
        one["values"].append(each.value)
        one["ttl"] = each.ttl if one["ttl"] is None else one["ttl"]
    return list(found.values())


_ASK = {
    "site": "The name or number of your site, as the builder shows it in this record",
    "code": "The code that proves the domain is yours, as the builder shows it",
}


def _deletes(records: Sequence[PastedRecord]) -> Any:
    import tomlkit

    tables = tomlkit.aot()
    for one in _sets(records):
        tables.append(_table({"type": one["type"], "host": one["host"], "values": one["values"]}))
    return tables


def _write(builder: str, parts: Parts, asked: dict[str, str], deletes: Sequence[PastedRecord]) -> str:
    import tomlkit

    document = tomlkit.document()
    document.add(tomlkit.comment(f"{PAGE_MARK.removeprefix('# ')} What the page does not say is not here."))
    document["format"] = FORMAT
    document["builder"] = builder
    if asked:
        values = tomlkit.table(is_super_table=True)
        for name, example in asked.items():
            one = tomlkit.table()
            one["ask"] = _ASK.get(name, f"Your {name.replace('_', ' ')}, as the builder shows it")
            if example:
                one["example"] = example
            values[name] = one
        document["values"] = values
    if proofs := parts.of("ownership"):
        tables = tomlkit.aot()
        for each in proofs:
            tables.append(_table({"type": each.type, "host": each.host, "value": each.value, "ttl": each.ttl}))
        document["ownership"] = tables
    if further := [each for each in parts.placed if each.part == "further"]:
        document["further"] = _further(further)
    if deletes:
        document["deletes"] = _deletes(deletes)
    if routes := _routes(parts):
        document["routes"] = routes
    return tomlkit.dumps(document)


def _further(placed: Sequence[Placed]) -> Any:
    import tomlkit

    tables = tomlkit.aot()
    for purpose in dict.fromkeys(each.purpose for each in placed):
        for one in _sets([each.record for each in placed if each.purpose == purpose]):
            values = one["values"] if one["type"] != "CNAME" else one["values"][:1]
            shown = {"type": one["type"], "host": one["host"], "values": values, "ttl": one["ttl"], "purpose": purpose}
            tables.append(_table({**shown, "optional": True} if one["optional"] else shown))
    return tables


def _routes(parts: Parts) -> Any:
    import tomlkit

    routes = tomlkit.table(is_super_table=True)
    records = tomlkit.table()
    for part in ("apex", "www", "label", "www_by_address", "label_by_address"):
        if found := parts.of(part):
            records[part] = _inline(_sets(found))
    if alias := parts.of("apex_alias"):
        records["apex_alias"] = alias[0].value
    if "www" in records and "label" not in records and all(each.type == "CNAME" for each in parts.of("www")):
        records["label"] = _inline(_sets(parts.of("www")))
    if records:
        routes["records"] = records
    if parts.nameservers:
        servers = tomlkit.table()
        servers["servers"] = [f"{server.name}." for server in parts.nameservers]
        routes["nameservers"] = servers
    return routes if records or parts.nameservers else None


def _table(values: dict[str, Any]) -> Any:
    import tomlkit

    table = tomlkit.table()
    for key, value in values.items():
        if value is not None:
            table[key] = value
    return table


def _inline(sets: Sequence[dict[str, Any]]) -> Any:
    import tomlkit

    rows = tomlkit.array()
    for each in sets:
        row = tomlkit.inline_table()
        row["type"] = each["type"]
        row["values"] = each["values"][:1] if each["type"] == "CNAME" else each["values"]
        if each["ttl"] is not None:
            row["ttl"] = each["ttl"]
        if each["optional"]:
            row["optional"] = True
        rows.append(row)
    rows.multiline(True)
    return rows
