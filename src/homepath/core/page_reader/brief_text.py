"""What was read from a page, as the text of a brief file; and a brief that a page renews."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

from homepath.core.files.brief_file import FORMAT, PLACE
from homepath.core.message import Text, msg
from homepath.core.page_reader.page import Page, PastedRecord
from homepath.core.page_reader.parts import Part, Parts, Placed, parts_of
from homepath.core.wording.say import say

PAGE_MARK = "# Read from a builder's page."
"""How a brief begins that was read from a page, so that reading the page again may replace it."""
Values = Literal["stay", "ask"]


@dataclass(frozen=True, slots=True)
class BriefText:
    """The file, what each record became, `doubts`: between which ways a person must choose; what was assumed.

    `values`: what the brief asks for, with the page's own value where the page has one. `options`: the marks of
    alternatives of which only one can be taken. `primary`: the primary address that the page names, if it does.
    """

    text: str
    rows: tuple[Placed, ...]
    doubts: tuple[Text, ...]
    notes: tuple[Text, ...]
    values: dict[str, str]
    options: tuple[str, ...] = ()
    primary: str = ""


def brief_text(page: Page, builder: str, *, label: str = "", option: str = "", values: Values = "stay") -> BriefText:
    """A brief that says what was read. `values`: what belongs to one site stays, or is asked for. `option`: which of
    the page's alternatives. What the page does not say is not in it."""
    parts = parts_of(page, label, option)
    asked: dict[str, str] = {}
    if values == "ask":
        asked = _of_one_site(parts.placed)
        parts = replace(parts, placed=tuple(_with_places(each, asked) for each in parts.placed))
    for each in parts.placed:
        for name in PLACE.findall(f"{each.record.host} {each.record.value}"):
            if name != "domain":
                asked.setdefault(name, "")
    deletes = [each for each in page.away if each.mood == "delete" and each.type != "ALIAS"]
    text = _write(builder, parts, asked, deletes)
    return BriefText(text, parts.placed, parts.doubts, (*page.notes, *parts.notes), asked, parts.options, page.primary)


_SHARED = ("www", "sites", "edge", "host", "hosting", "proxy", "custom", "connect", "cname", "domains", "web", "dns")
"""First labels of targets that all customers of a builder share."""
_OWN_LABEL = re.compile(r"(?:[a-z][a-z0-9-]*-)?(?P<number>[0-9]{3,})|[a-z0-9-]+")
"""A first label of one site's own: a number, perhaps behind a word that all sites share, or any other word."""


def _of_one_site(placed: Sequence[Placed]) -> dict[str, str]:
    """The values that belong to one site: its name or number in a target, the code of a verification record."""
    found: dict[str, str] = {}
    for each in placed:
        record = each.record
        if each.part in ("www", "label", "apex_alias") and record.type in ("CNAME", "ALIAS"):
            first, _, rest = record.value.partition(".")
            own = _OWN_LABEL.fullmatch(first)
            if rest.count(".") >= 2 and own and first not in _SHARED:
                found.setdefault("site", own["number"] or first)
        elif each.part == "ownership" or each.purpose == "proof of ownership":
            if record.type == "TXT":
                found.setdefault("code", re.split(r"[=:]", record.value, maxsplit=1)[-1].strip())
            elif re.search(r"[0-9]", record.host):
                found.setdefault("code", record.host.removeprefix("_"))
    return found


def _with_places(placed: Placed, asked: Mapping[str, str]) -> Placed:
    """The record with a placeholder for such a value."""

    def filled(text: str) -> str:
        site, code = asked.get("site"), asked.get("code")
        if site and placed.part != "ownership" and text.partition(".")[0].endswith(site):
            text = text.replace(site, "{site}", 1)
        return text.replace(code, "{code}") if code and placed.part in ("ownership", "further") else text

    record = placed.record
    return replace(placed, record=replace(record, host=filled(record.host), value=filled(record.value)))


def _sets(records: Iterable[PastedRecord]) -> list[dict[str, Any]]:
    """Records of one type and name as one set, in the page's order."""
    found: dict[tuple[str, str, bool], dict[str, Any]] = {}
    for each in records:
        one = found.setdefault(
            (each.type, each.host, each.mood == "optional"), {"type": each.type, "host": each.host, "values": []}
        )
        if each.type != "CNAME" or not one["values"]:
            one["values"].append(each.value)
        if each.ttl is not None:
            one.setdefault("ttl", each.ttl)
        if each.mood == "optional":
            one["optional"] = True
    return list(found.values())


def _write(builder: str, parts: Parts, asked: Mapping[str, str], deletes: Sequence[PastedRecord]) -> str:
    import tomlkit

    document = tomlkit.document()
    document.add(tomlkit.comment(f"{PAGE_MARK.removeprefix('# ')} What the page does not say is not here."))
    document["format"] = FORMAT
    document["builder"] = builder
    for name, example in asked.items():
        code = f"page.ask.{name}" if name in ("site", "code") else "page.ask"
        ask = {"ask": say(msg(code, name=name.replace("_", " ")))} | ({"example": example} if example else {})
        document.setdefault("values", tomlkit.table(is_super_table=True))[name] = ask
    proofs = [
        {"type": each.type, "host": each.host, "value": each.value} | ({} if each.ttl is None else {"ttl": each.ttl})
        for each in parts.of("ownership")
    ]
    purposes = dict.fromkeys(each.purpose for each in parts.placed if each.part == "further")
    further = [
        one | {"purpose": purpose}
        for purpose in purposes
        for one in _sets(each.record for each in parts.placed if (each.part, each.purpose) == ("further", purpose))
    ]
    gone = [{key: one[key] for key in ("type", "host", "values")} for one in _sets(deletes)]
    routes = _routes(parts)
    for key, tables in (("ownership", proofs), ("further", further), ("deletes", gone), ("routes", routes)):
        if tables:
            document[key] = tables
    return tomlkit.dumps(document)


_ROUTE_PARTS: tuple[Part, ...] = ("apex", "www", "label", "www_by_address", "label_by_address")


def _routes(parts: Parts) -> Any:
    import tomlkit

    routes = tomlkit.table(is_super_table=True)
    records = tomlkit.table()
    for part in _ROUTE_PARTS:
        if found := parts.of(part):
            records[part] = _inline(_sets(found))
    if alias := parts.of("apex_alias"):
        records["apex_alias"] = alias[0].value
    if "www" in records and "label" not in records and all(each.type == "CNAME" for each in parts.of("www")):
        records["label"] = _inline(_sets(parts.of("www")))
    if records:
        routes["records"] = records
    if parts.nameservers:
        routes["nameservers"] = {"servers": [f"{server.name}." for server in parts.nameservers]}
    return routes


def _inline(sets: Sequence[dict[str, Any]]) -> Any:
    import tomlkit

    rows = tomlkit.array()
    for each in sets:
        row = tomlkit.inline_table()
        row.update({key: value for key, value in each.items() if key != "host"})
        rows.append(row)
    return rows.multiline(True)


_FROM_PAGE = ("format", "builder", "ownership", "further", "deletes", "routes", "values")


def renewed(text: str, before: str) -> str:
    """The new brief's text with everything of the old one that a page does not say: waits, steps, limits, redirects; a
    verification record and nameservers too, where the page shows none."""
    import tomlkit

    new: Any = tomlkit.parse(text)
    old: Any = tomlkit.parse(before)
    for key, value in old.items():
        if key not in new and (key not in _FROM_PAGE or key == "ownership"):
            new[key] = value
    servers = old.get("routes", {}).get("nameservers")
    if servers is not None and "nameservers" not in new.get("routes", {}):
        new.setdefault("routes", tomlkit.table(is_super_table=True))["nameservers"] = servers
    for name, asked in old.get("values", {}).items():
        if name not in new.get("values", {}):
            new.setdefault("values", tomlkit.table(is_super_table=True))[name] = asked
    return tomlkit.dumps(new)
