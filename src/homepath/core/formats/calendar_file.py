"""Moments to keep in mind as a calendar file (RFC 5545), brought up to date without doubling."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from homepath.core.model.names import Name, shown
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.times import bounded
from homepath.core.model.visible import visible

PRODUCT = "-//Home Path//homepath next//EN"
OWN = "X-HOMEPATH-DOMAIN"
"""Marks the entries that are ours to change, with the domain they are about."""


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
    """The calendar `text` with the appointments of `domain` brought up to date; other entries stay as they are.

    One that is no longer wanted is cancelled if it lies ahead, and kept as history if not. Raises BadInput when
    `text` is no calendar.
    """
    try:
        return _merged(text, domain, wanted, now, source)
    except BadInput:
        raise
    except Exception as error:  # somebody's own entries may hold anything, and the library has many ways to fail
        raise _no_calendar(error, source) from error


def _merged(text: str | None, domain: Name, wanted: Sequence[Appointment], now: float, source: str) -> str:
    from icalendar import Calendar, Event

    calendar = _read(text, source) if text else Calendar()
    if not text:
        calendar.add("version", "2.0")
        calendar.add("prodid", PRODUCT)
    known = {str(each.get("uid")): each for each in calendar.walk("VEVENT") if str(each.get(OWN, "")) == shown(domain)}
    ours = {uid(each.kind, domain): each for each in wanted}
    for key, event in known.items():
        if key not in ours and _ahead(event, now) and str(event.get("status")) != "CANCELLED":
            _change(event, now, {"status": "CANCELLED"})
    for key, each in ours.items():
        said = {"dtstart": _moment(each.at), "summary": each.title, "description": each.words, "status": "CONFIRMED"}
        if key not in known:
            event = Event()
            event.add("uid", key)
            event.add("dtstamp", _moment(now))
            event.add("sequence", 0)
            event.add("duration", timedelta(minutes=15))
            event.add("transp", "TRANSPARENT")
            event.add(OWN, shown(domain))
            for name, value in said.items():
                event.add(name, value)
            calendar.add_component(event)
        elif any(_differs(known[key], name, value) for name, value in said.items()):
            _change(known[key], now, said)
    octets: bytes = calendar.to_ical()
    return octets.decode()


def _no_calendar(error: Exception, source: str) -> BadInput:
    hint = "name another file; this one was not touched"
    return BadInput(Problem(f"this is no calendar file: {visible(str(error))[:160]}", source, hint=hint))


def _read(text: str, source: str):  # type: ignore[no-untyped-def]  # the library's own class
    from icalendar import Calendar

    try:
        calendar = Calendar.from_ical(text)
        if calendar.name != "VCALENDAR":
            raise ValueError("it does not begin with VCALENDAR")
    except Exception as error:  # the library has many ways to fail at what is no calendar
        raise _no_calendar(error, source) from error
    return calendar


def _ahead(event, now: float) -> bool:  # type: ignore[no-untyped-def]
    """Whether an entry lies ahead; one whose beginning cannot be read does not."""
    try:
        return bool(event.decoded("dtstart") > _moment(now))
    except Exception:  # somebody has edited it: a day without a time, none at all, anything
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


def _change(event, now: float, said: dict[str, object]) -> None:  # type: ignore[no-untyped-def]
    """New values with the next sequence number, as those who subscribe expect (RFC 5545 section 3.8.7.4)."""
    said = {**said, "dtstamp": _moment(now), "sequence": _sequence(event) + 1}
    for name, value in said.items():
        event.pop(name, None)
        event.add(name, value)


def _moment(at: float) -> datetime:
    return datetime.fromtimestamp(round(bounded(at)), UTC)
