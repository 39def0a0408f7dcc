"""The SOA record: serials that wrap around (RFC 1982), and which server holds a zone."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from homepath.core.dns.answers import Answer, Question, Server
from homepath.core.dns.records import RecordSet
from homepath.core.dns.soa import holds_zone, negative_ttl, newer, newest_first, read_soa

ZONE = "tidewick-kiln.example."
SERIAL = st.integers(0, 2**32 - 1)


def soa(serial: int = 1, zone: str = ZONE, ttl: int = 3600) -> RecordSet:
    return RecordSet(zone, "SOA", ttl, (f"ns1.mossgate.example. dns.mossgate.example. {serial} 7200 900 1209600 900",))


def answered(*sets: RecordSet, server: str = "192.0.2.53", above: RecordSet | None = None, **more: object) -> Answer:
    words = {"rcode": "NOERROR", "authoritative": True, **more}
    authority = (above,) if above else ()
    return Answer(Question(ZONE, "SOA"), Server(server), "answered", 0.0, answer=sets, authority=authority, **words)  # type: ignore[arg-type]


def test_the_fields_and_the_time_that_absence_is_cached() -> None:
    found = read_soa(soa(7))
    assert found is not None
    assert (found.primary, found.serial, found.refresh, found.minimum) == ("ns1.mossgate.example.", 7, 7200, 900)
    assert found.timers == "7200 900 1209600 900"
    assert (negative_ttl(soa()), negative_ttl(soa(ttl=60))) == (900, 60)
    assert read_soa(None) is None


@given(SERIAL, st.integers(1, 2**31 - 1))
def test_a_serial_that_was_raised_is_newer_also_past_the_wrap_around(serial: int, more: int) -> None:
    raised = (serial + more) % 2**32
    assert newer(raised, serial)
    assert not newer(serial, raised)
    assert not newer(serial, serial)
    assert not newer((serial + 2**31) % 2**32, serial)


def test_the_newest_zone_comes_first() -> None:
    rounds = {
        Server("192.0.2.1"): [answered(soa(4294967290))],
        Server("192.0.2.2"): [answered(soa(5))],
        Server("192.0.2.3"): [answered(authoritative=False)],
        Server("192.0.2.4"): [answered()],
    }
    assert [each.address for each in newest_first(rounds, ZONE)] == ["192.0.2.2", "192.0.2.1"]


@pytest.mark.parametrize(
    ("answer", "holds"),
    [
        (answered(soa()), True),
        (answered(), False),
        (answered(soa(), authoritative=False), False),
        (answered(rcode="NXDOMAIN", above=soa(zone="example.")), False),
        (answered(above=soa(zone="example.")), False),
        (answered(rcode="REFUSED"), False),
    ],
)
def test_which_server_holds_the_zone(answer: Answer, holds: bool) -> None:
    assert holds_zone([answer], ZONE) is holds
