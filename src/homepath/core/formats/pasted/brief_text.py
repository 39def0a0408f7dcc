"""What was read from a page, as the text of a brief file."""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import dataclass
from typing import Any

from homepath.core.formats.brief_file import FORMAT
from homepath.core.formats.pasted.reader import Pasted, PastedRecord
from homepath.core.formats.pasted.words import places_in
from homepath.core.model.names import BadName, absolute, labels
from homepath.core.model.records import LED_TO
from homepath.core.model.values import BadValue, canonical

_PROOF = re.compile(r"verif|owner|proof|confirm|challenge|site-?code|claim", re.I)
_SPF = re.compile(r"^v=(spf1|dkim1|dmarc1)", re.I)


@dataclass(frozen=True, slots=True)
class BriefText:
    """The file, what each record became (host, type, value, part of the brief, its lines), and the doubts."""

    text: str
    rows: tuple[tuple[str, str, str, str, str], ...]
    doubts: tuple[str, ...]


def brief_text(pasted: Pasted, builder: str, domain: str | None = None) -> BriefText:
    """A brief that says what was read; names under a stand-in domain become relative to one's own."""
    doubts = list(pasted.doubts)
    stand_ins = _stand_ins(pasted.records, domain, doubts)
    parts: dict[str, list[dict[str, Any]]] = {}
    rows, asked = [], []
    for record in pasted.records:
        host = _host(record.host, stand_ins)
        value, names = places_in(record.value)
        host, more = places_in(host)
        value = _absolute_target(record.type, value)
        if trouble := _trouble(record.type, value):
            doubts.append(f"line {record.lines[-1]}: {trouble}; the record was left out")
            continue
        part = _part(record.type, host, value)
        asked += [*names, *more]
        _put(parts.setdefault(part, []), record, host, value)
        where = ", ".join(map(str, sorted(set(record.lines))))
        rows.append((host, record.type, value, part, where))
        if part == "further" and record.type == "CNAME":
            doubts.append(
                f"line {where}: it is not known what the CNAME at {host} is for; it was taken as a further record"
            )
    return BriefText(_write(builder, parts, pasted.nameservers, asked), tuple(rows), tuple(doubts))


def _stand_ins(records: tuple[PastedRecord, ...], domain: str | None, doubts: list[str]) -> list[str]:
    """The domains that stand for one's own in host fields: the given one, and whatever most full hosts end with."""
    found = [domain.lower().strip(".")] if domain else []
    tails: Counter[str] = Counter()
    for record in records:
        try:
            parts = labels(absolute(record.host)) if record.host not in ("@", "*") else []
        except BadName:
            continue
        if len(parts) > 1 and not any(part.startswith("_") for part in parts[-2:]) and parts[-1].isalpha():
            tails[".".join(parts[-2:])] += 1
    for tail, _ in tails.most_common():
        if tail not in found and not any(tail in known for known in found):
            found.append(tail)
            doubts.append(f"{tail} in the host column was taken to stand for your own domain")
    return found


def _host(host: str, stand_ins: list[str]) -> str:
    plain = host.lower().strip().rstrip(".")
    for own in stand_ins:
        if plain == own:
            return "@"
        if plain.endswith("." + own):
            return plain[: -len(own) - 1]
    return "@" if plain in ("", "@", "root", "(blank)", "(empty)", "blank", "none") else plain


def _absolute_target(rrtype: str, value: str) -> str:
    return f"{value.rstrip('.').lower()}." if rrtype == "CNAME" else value


def _trouble(rrtype: str, value: str) -> str | None:
    example = re.sub(r"\{[a-z_0-9]+\}", "x1", value)
    try:
        canonical(rrtype, f'"{example}"' if rrtype == "TXT" and not example.startswith('"') else example, "x.")
    except BadValue as error:
        return str(error)
    return None


def _part(rrtype: str, host: str, value: str) -> str:
    if host == "@" and rrtype in ("A", "AAAA"):
        return "apex"
    if host == "www" and rrtype in LED_TO:
        return "www"
    if rrtype in ("TXT", "CNAME") and not _SPF.match(value) and (_PROOF.search(host) or _PROOF.search(value)):
        return "ownership" if host != "@" or rrtype == "TXT" else "further"
    if rrtype == "TXT" and not _SPF.match(value) and (host == "@" or host.startswith("_")):
        return "ownership"
    return "further"


def _put(sets: list[dict[str, Any]], record: PastedRecord, host: str, value: str) -> None:
    same = next((each for each in sets if (each["type"], each["host"]) == (record.type, host)), None)
    if same and record.type != "CNAME":
        if value not in same["values"]:
            same["values"].append(value)
        return
    if same is None or value not in same["values"]:
        sets.append({"type": record.type, "host": host, "values": [value], "ttl": record.ttl})


def _write(builder: str, parts: dict[str, list[dict[str, Any]]], nameservers: tuple[str, ...], asked: list[str]) -> str:
    import tomlkit

    document = tomlkit.document()
    document.add(tomlkit.comment("Read from a builder's page. Check it before you use it."))
    document["format"] = FORMAT
    document["builder"] = builder
    if asked:
        values = tomlkit.table(is_super_table=True)
        for name in dict.fromkeys(asked):
            one = tomlkit.table()
            one["ask"] = f"Your {name.replace('_', ' ')}, as the builder shows it"
            values[name] = one
        document["values"] = values
    if "ownership" in parts:
        proofs = tomlkit.aot()
        for each in parts["ownership"]:
            for value in each["values"]:
                proofs.append(_table({"type": each["type"], "host": each["host"], "value": value, "ttl": each["ttl"]}))
        document["ownership"] = proofs
    if "further" in parts:
        more = tomlkit.aot()
        for each in parts["further"]:
            more.append(_table({**each, "purpose": _purpose(each)}))
        document["further"] = more
    routes = tomlkit.table(is_super_table=True)
    records = tomlkit.table()
    for part in ("apex", "www"):
        if part in parts:
            records[part] = _inline(parts[part])
    if "www" in parts and all(each["type"] == "CNAME" for each in parts["www"]):
        records["label"] = _inline(parts["www"])
    routes["records"] = records
    if nameservers:
        servers = tomlkit.table()
        servers["servers"] = [f"{name}." for name in nameservers]
        routes["nameservers"] = servers
    document["routes"] = routes
    return tomlkit.dumps(document)


def _purpose(each: dict[str, Any]) -> str:
    if each["type"] == "MX":
        return "mail"
    text = " ".join([each["host"], *each["values"]]).lower()
    return "mail authentication" if "_domainkey" in text or "v=spf1" in text or "_dmarc" in text else "other"


def _table(values: dict[str, Any]) -> Any:
    import tomlkit

    table = tomlkit.table()
    for key, value in values.items():
        if value is not None:
            table[key] = value
    return table


def _inline(sets: list[dict[str, Any]]) -> Any:
    import tomlkit

    rows = tomlkit.array()
    for each in sets:
        row = tomlkit.inline_table()
        for key in ("type", "values", "ttl"):
            if each[key] is not None:
                row[key] = each[key]
        rows.append(row)
    rows.multiline(True)
    return rows
