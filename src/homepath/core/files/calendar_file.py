"""Moments to keep in mind as a calendar file (RFC 5545), brought up to date without doubling."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from homepath.core.dns.names import Name, shown
from homepath.core.message import msg, reason
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.times import bounded
from homepath.core.model.visible import visible

PRODUCT = "-//Home Path//homepath next//EN"
OWN = "X-HOMEPATH-DOMAIN"
"""Marks the records that are ours to change, with the domain they are about."""


@dataclass(frozen=True, slots=True)
class Appointment:
    """One moment, `at` in Unix seconds. `kind` makes its UID, so that the same thing keeps the same entry."""

    kind: str
    at: float
    title: str
    words: str


def uid(kind: str, domain: Name) -> str:
    """Stable for one thing of one domain (RFC 7986 section 5.3 asks for no more than uniqueness)."""
    return f"{kind}.{shown(domain)}@homepath.invalid"


def merged(text: str | None, domain: Name, wanted: Sequence[Appointment], now: float, source: str = "") -> str:
    """The calendar `text` with the appointments of `domain` brought up to date. Everything else stays letter by letter,
    whatever it is: only the lines of our own records are replaced.

    One that is no longer wanted is cancelled if it lies ahead, and kept as history if not. Raises BadInput when
    `text` is no calendar.
    """
    words = text or f"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:{PRODUCT}\r\nEND:VCALENDAR\r\n"
    lines = re.findall(r"[^\n]*\n|[^\n]+", words)
    end = _end_of_calendar(lines, source)
    newline = "\r\n" if lines[0].endswith("\r\n") else "\n"
    ours = {uid(each.kind, domain): each for each in wanted}
    changed: dict[int, tuple[int, str]] = {}
    known = set()
    for begin, stop in _entries(lines[:end]):
        lines_of_event = _unfolded(lines[begin:stop])
        if _value(lines_of_event, OWN) != shown(domain):
            continue
        key = _value(lines_of_event, "UID")
        known.add(key)
        event = _read("".join(lines[begin:stop]))
        if event is None:  # it is damaged: write it again if it is still needed
            if key in ours:
                changed[begin] = stop, _written(_new(ours[key], key, domain, now), newline)
        elif key not in ours:
            if _ahead(event, now) and str(event.get("status")) != "CANCELLED":
                _change(event, now, {"status": "CANCELLED"})
                changed[begin] = stop, _written(event, newline)
        elif any(_differs(event, name, value) for name, value in _content(ours[key]).items()):
            _change(event, now, _content(ours[key]))
            changed[begin] = stop, _written(event, newline)
    fresh = [_written(_new(each, key, domain, now), newline) for key, each in ours.items() if key not in known]
    return "".join(_replaced(lines, changed, end, fresh))


def _replaced(
    lines: Sequence[str], changed: Mapping[int, tuple[int, str]], end: int, fresh: Sequence[str]
) -> Iterator[str]:
    at = 0
    while at < len(lines):
        if at == end:
            yield from fresh
        if at in changed:
            at, words = changed[at]
            yield words
        else:
            yield lines[at]
            at += 1


def _end_of_calendar(lines: Sequence[str], source: str) -> int:
    """The line that ends the first calendar. Raises BadInput where there is none."""
    first = next((line for line in lines if line.strip("\ufeff \t\r\n")), "")
    if _word(first.lstrip("\ufeff")) != "BEGIN:VCALENDAR":
        raise _no_calendar(ValueError(msg("calendar-file.end-of-calendar")), source)
    end = next((at for at, line in enumerate(lines) if _word(line) == "END:VCALENDAR"), None)
    if end is None:
        raise _no_calendar(ValueError(msg("calendar-file.end-of-calendar-2")), source)
    return end


def _word(line: str) -> str:
    return line.strip().upper() if not line[:1].isspace() else ""


def _entries(lines: Sequence[str]) -> Iterator[tuple[int, int]]:
    """Where each entry begins, and the line after its end."""
    begin: int | None = None
    for at, line in enumerate(lines):
        word = _word(line)
        if word == "BEGIN:VEVENT":
            begin = at
        elif word == "END:VEVENT" and begin is not None:
            yield begin, at + 1
            begin = None


def _unfolded(lines: Sequence[str]) -> list[str]:
    """Logical lines (RFC 5545 section 3.1)."""
    found: list[str] = []
    for line in lines:
        bare = line.rstrip("\r\n")
        if bare[:1] in (" ", "\t") and found:
            found[-1] += bare[1:]
        else:
            found.append(bare)
    return found


def _value(lines: Sequence[str], name: str) -> str:
    for line in lines:
        head, _, value = line.partition(":")
        if head.split(";")[0].upper() == name.upper():
            return value
    return ""


def _content(each: Appointment) -> dict[str, object]:
    moment = _moment(each.at)
    return {"dtstart": moment, "summary": each.title, "description": each.words, "status": "CONFIRMED"}


def _new(each: Appointment, key: str, domain: Name, now: float):  # type: ignore[no-untyped-def]
    from icalendar import Event

    event = Event()
    event.add("uid", key)
    event.add("dtstamp", _moment(now))
    event.add("sequence", 0)
    event.add("duration", timedelta(minutes=15))
    event.add("transp", "TRANSPARENT")
    event.add(OWN, shown(domain))
    for name, value in _content(each).items():
        event.add(name, value)
    return event


def _written(event, newline: str) -> str:  # type: ignore[no-untyped-def]
    text: str = event.to_ical().decode()
    return text.replace("\r\n", newline)


def _no_calendar(error: Exception, source: str) -> BadInput:
    error_text = reason(error)
    words = visible(error_text)[:160] if isinstance(error_text, str) else error_text
    return BadInput(
        Problem(msg("calendar-file.no-calendar", error=words), source, hint=msg("calendar-file.no-calendar.hint"))
    )


def _read(entry: str):  # type: ignore[no-untyped-def]  # the library's own class
    """One entry; None for what the library cannot read."""
    from icalendar import Event

    try:
        event = Event.from_ical(entry)
        return event if event.name == "VEVENT" else None
    except Exception:  # the library has many ways to fail at what someone has edited
        return None


def _ahead(event, now: float) -> bool:  # type: ignore[no-untyped-def]
    """Whether an entry lies ahead; one whose beginning cannot be read does not."""
    try:
        return bool(event.decoded("dtstart") > _moment(now))
    except Exception:  # someone has edited it: a day without a time, none at all, anything
        return False


def _differs(event, name: str, value: object) -> bool:  # type: ignore[no-untyped-def]
    try:
        there = event.decoded(name) if name == "dtstart" else str(event.get(name, ""))
    except Exception:
        return True
    return bool(there != value)


def _sequence(event) -> int:  # type: ignore[no-untyped-def]
    try:
        return int(event.get("sequence", 0))
    except (TypeError, ValueError):
        return 0


def _change(event, now: float, content: dict[str, object]) -> None:  # type: ignore[no-untyped-def]
    """New values with the next sequence number, as those who subscribe expect (RFC 5545 section 3.8.7.4)."""
    content = {**content, "dtstamp": _moment(now), "sequence": _sequence(event) + 1}
    for name, value in content.items():
        event.pop(name, None)
        event.add(name, value)


def _moment(at: float) -> datetime:
    return datetime.fromtimestamp(round(bounded(at)), UTC)
