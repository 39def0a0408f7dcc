"""Reads pasted text line by line. What is read keeps its lines; what is not is named, line by line."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from homepath.core.formats.pasted.sentences import read_sentence
from homepath.core.formats.pasted.words import (
    field_of,
    is_address,
    is_host,
    looks_like_ttl,
    plain,
    ttl_seconds,
    type_of,
    unquoted,
)

LONGEST_LINE = 5000


@dataclass(frozen=True, slots=True)
class PastedRecord:
    """One record as the page gave it; `host` and `value` still in the page's own words. TTL in seconds."""

    type: str
    host: str
    value: str
    ttl: int | None
    lines: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Line:
    """A line and its number, from 1."""

    number: int
    text: str


@dataclass(frozen=True, slots=True)
class Pasted:
    """`unread`: lines in which no record was seen. `doubts`: what was taken in one way and may be meant in another."""

    records: tuple[PastedRecord, ...]
    nameservers: tuple[str, ...]
    unread: tuple[Line, ...]
    doubts: tuple[str, ...]


@dataclass(slots=True)
class _State:
    records: list[PastedRecord] = field(default_factory=list)
    nameservers: list[str] = field(default_factory=list)
    unread: list[Line] = field(default_factory=list)
    doubts: list[str] = field(default_factory=list)
    columns: list[str] | None = None
    form: dict[str, str] = field(default_factory=dict)
    form_lines: list[int] = field(default_factory=list)
    waiting: str | None = None
    servers_follow: bool = False


def read_pasted(text: str) -> Pasted:
    """Every record in the text, and every line that holds none."""
    state = _State()
    for number, raw in enumerate(text.removeprefix("\ufeff").splitlines(), 1):
        if len(raw) > LONGEST_LINE:
            state.unread.append(Line(number, plain(raw[:80])))
            state.doubts.append(f"line {number} has {len(raw)} characters and was not read")
            continue
        line = Line(number, plain(raw))
        if not line.text.strip(" |+-=_\t"):
            state.columns = state.columns if line.text.strip() else None
            continue
        _read_line(state, line)
    _close_form(state)
    return Pasted(
        tuple(state.records), tuple(dict.fromkeys(state.nameservers)), tuple(state.unread), tuple(state.doubts)
    )


def _read_line(state: _State, line: Line) -> None:
    cells = _cells(line.text)
    for attempt in (_header, _form_line, _table_row, _zone_line, _loose_row, _server, _more_values, _sentence):
        if attempt(state, line, cells):
            return
    state.unread.append(line)


def _cells(text: str) -> list[str]:
    if text.count("|") >= 2:
        parts = text.strip().strip("|").split("|")
    elif "\t" in text:
        parts = text.split("\t")
    elif mark := next((m for m in ",;" if text.count(m) >= 2 and not re.search(rf"{m}\s", text)), None):
        parts = text.split(mark)
    else:
        parts = re.split(r"\s{2,}", text.strip())
    return [part.strip() for part in parts]


def _header(state: _State, line: Line, cells: Sequence[str]) -> bool:
    fields = [field_of(cell) for cell in cells]
    named = [each for each in fields if each and each != "-"]
    if len(named) < 2 or len(named) != len(set(named)) or not {"type", "value"} & set(named) or len(cells) < 2:
        return False
    _close_form(state)
    state.columns = [each or "-" for each in fields]
    return True


def _table_row(state: _State, line: Line, cells: Sequence[str]) -> bool:
    if state.columns is None or len(cells) < 2:
        return False
    row = {name: cell for name, cell in zip(state.columns, cells, strict=False) if name != "-"}
    rrtype = type_of(row.get("type", "")) or _guessed_type(row.get("value", ""))
    if not rrtype or not row.get("value"):
        return False
    _add(state, rrtype, row.get("host", ""), row["value"], row.get("ttl"), row.get("priority"), (line.number,))
    return True


def _guessed_type(value: str) -> str | None:
    if is_address(value):
        return "AAAA" if ":" in value else "A"
    return None


def _form_line(state: _State, line: Line, cells: Sequence[str]) -> bool:
    """`Host: www`, `Host www`, or the word alone with its value on the next line."""
    text = line.text.strip()
    if state.waiting:
        _fill(state, state.waiting, text, line.number)
        state.waiting = None
        return True
    name, mark, value = text.partition(":")
    if not mark and len(cells) == 2 and state.columns is None:
        name, mark, value = cells[0], ":", cells[1]
    found = field_of(name)
    if found is None or found == "-" or (mark and not value.strip() and found == "type" and len(text) > 20):
        return False
    if value.strip():
        _fill(state, found, value.strip(), line.number)
        return True
    if mark or (state.form_lines or found == "type"):
        if not mark and type_of(text):
            return False
        if found in state.form:
            _close_form(state)
        state.waiting = found
        state.form_lines.append(line.number)
        return True
    return False


def _fill(state: _State, name: str, value: str, number: int) -> None:
    if name in state.form:
        again = state.form.get("type") if name == "value" else None
        _close_form(state, keep=again is not None)
    state.form[name] = value
    state.form_lines.append(number)
    if {"type", "host", "value"} <= set(state.form) and "ttl" in state.form:
        _close_form(state)


def _close_form(state: _State, keep: bool = False) -> None:
    """A form is whole when another begins; one that lacks its value or type is named as doubtful."""
    form, lines = state.form, state.form_lines
    state.form, state.form_lines = ({"type": form["type"], "host": form.get("host", "")} if keep else {}), []
    if not form:
        return
    rrtype = type_of(form.get("type", "")) or _guessed_type(form.get("value", ""))
    if rrtype and form.get("value"):
        _add(state, rrtype, form.get("host", ""), form["value"], form.get("ttl"), form.get("priority"), tuple(lines))
    elif lines and not keep:
        missing = "type" if form.get("value") else "value"
        state.doubts.append(
            f"lines {lines[0]} to {lines[-1]} look like a record without its {missing}; they were left out"
        )


def _zone_line(state: _State, line: Line, cells: Sequence[str]) -> bool:
    match = re.match(
        r"^(?P<host>\S+)?\s+(?:(?P<ttl>[0-9]+)\s+)?(?:IN\s+)?(?:[0-9]+\s+)?(?P<type>A|AAAA|CNAME|TXT|MX|CAA|SRV|NS)\s+(?P<value>\S.*)$",
        line.text.split(" ;")[0] if not line.text.lstrip().startswith(";") else "",
    )
    if not match or not match["host"] or ("IN" not in line.text.split() and not match["ttl"]):
        return False
    _add(state, match["type"], match["host"], match["value"], match["ttl"], None, (line.number,))
    return True


def _loose_row(state: _State, line: Line, cells: Sequence[str]) -> bool:
    """A row without header: one cell is a type, one a value of it, one a host, one perhaps a TTL."""
    parts = [cell for cell in cells if cell]
    if len(parts) < 2:
        parts = line.text.split()
        if not (2 <= len(parts) <= 6) or not any(part in ("A", "AAAA", "CNAME", "TXT", "MX", "NS") for part in parts):
            return False
    at = next((i for i, cell in enumerate(parts) if type_of(cell) and (cell.isupper() or len(cells) > 1)), None)
    if at is None:
        return False
    rrtype = type_of(parts[at]) or ""
    rest = [cell for i, cell in enumerate(parts) if i != at]
    ttl = next((cell for cell in reversed(rest) if looks_like_ttl(cell)), None) if len(rest) > 1 else None
    rest = [cell for cell in rest if cell is not ttl]
    fits = [cell for cell in rest if _fits(rrtype, unquoted(cell))]
    if not fits:
        return False
    value = fits[-1]
    hosts = [cell for cell in rest if cell is not value]
    if len(hosts) > 1:
        return False
    _add(state, rrtype, hosts[0] if hosts else "", value, ttl, None, (line.number,))
    return True


def _fits(rrtype: str, value: str) -> bool:
    if rrtype in ("A", "AAAA"):
        return is_address(value) and (":" in value) == (rrtype == "AAAA")
    if rrtype in ("CNAME", "NS"):
        return is_host(value.replace("<", "{").replace(">", "}").replace("[", "{").replace("]", "}"))
    return len(value) > 3 if rrtype == "TXT" else bool(value)


def _server(state: _State, line: Line, cells: Sequence[str]) -> bool:
    """Name servers, one a line, under words that announce them or named like them."""
    text = line.text.strip()
    if re.search(r"name\s*servers?", text, re.I) and not re.search(r"\bns\d", text, re.I):
        state.servers_follow = True
        return False
    found = re.findall(r"\b(?:ns|dns)[a-z0-9-]*\.(?:[a-z0-9-]+\.)+[a-z]+\.?", text, re.I)
    if found and (state.servers_follow or len(" ".join(found)) > len(text) * 0.5):
        state.nameservers += [each.lower().rstrip(".") for each in found]
        return True
    return False


def _more_values(state: _State, line: Line, cells: Sequence[str]) -> bool:
    """A line that is only a value: one more address of the set above, or the rest of a broken text."""
    text = unquoted(line.text)
    if " " in text.strip():
        return False
    if state.form.get("value"):
        _close_form(state)
    last = state.records[-1] if state.records else None
    if last is None:
        return False
    if is_address(text) and last.type in ("A", "AAAA"):
        rrtype = "AAAA" if ":" in text else "A"
        state.records.append(replace(last, type=rrtype, value=text, lines=(line.number,)))
        return True
    near = last.lines[-1] == line.number - 1
    broken = last.type in ("TXT", "CNAME") and not is_host(text) and not last.value.endswith(".")
    if near and ((broken and last.type == "TXT") or last.value.endswith(("-", ".", "="))):
        state.doubts.append(f"line {line.number} was taken as the rest of the value in line {last.lines[-1]}")
        state.records[-1] = replace(last, value=last.value + text, lines=(*last.lines, line.number))
        return True
    return False


def _sentence(state: _State, line: Line, cells: Sequence[str]) -> bool:
    found = read_sentence(line.text)
    for each in found:
        _add(state, each.type, each.host, each.value, None, None, (line.number,))
    return bool(found)


def _add(
    state: _State, rrtype: str, host: str, value: str, ttl: str | None, priority: str | None, lines: tuple[int, ...]
) -> None:
    clean = unquoted(value)
    if rrtype in ("A", "AAAA"):
        several = [part for part in re.split(r"[\s,;]+(?:and\s+)?", clean) if is_address(part)]
        if not several:
            state.doubts.append(f"line {lines[-1]}: {clean!r} is not an address; the {rrtype} record was left out")
            return
        wrong = [part for part in several if (":" in part) != (rrtype == "AAAA")]
        if wrong:
            state.doubts.append(
                f"line {lines[-1]}: {wrong[0]} is no value of a record of type {rrtype}; it was left out"
            )
        values = [part for part in several if part not in wrong]
    elif rrtype == "NS":
        state.nameservers.append(clean.lower().rstrip("."))
        return
    else:
        values = [f"{priority} {clean}" if rrtype == "MX" and priority and not clean[:1].isdigit() else clean]
    seconds = ttl_seconds(ttl) if ttl else None
    state.records += [PastedRecord(rrtype, unquoted(host) or "@", each, seconds, lines) for each in values]
