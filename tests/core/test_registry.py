"""What a registry answers may be anything: dates of all years, nesting without end, texts made to harm a terminal."""

from __future__ import annotations

import json

import pytest

from homepath.core.files.rdap import BadRegistration, read_domain_object, service_for
from homepath.core.model.times import bounded, from_rfc3339, moment, rfc3339

D = "tidewick-kiln.example."


def with_date(text: object) -> float | None:
    events = [{"eventAction": "expiration", "eventDate": text}]
    return read_domain_object(json.dumps({"objectClassName": "domain", "events": events}), "s").expires


@pytest.mark.parametrize(
    ("text", "known"),
    [
        ("2027-01-01T00:00:00Z", True),
        ("2027-01-01", True),
        ("2027-01-01T00:00:00+14:00", True),
        ("0001-01-01T00:00:00Z", False),
        ("0001-01-01T00:00:00+14:00", False),
        ("9999-12-31T23:59:59Z", False),
        ("1969-12-31T23:59:59Z", False),
        ("soon", False),
        (None, False),
        (5, False),
    ],
)
def test_dates_are_bounded_where_they_enter(text: object, known: bool) -> None:
    assert (with_date(text) is not None) == known


@pytest.mark.parametrize("at", [-1e30, -62135596800.0, 0.0, 1772442000.0, 253402300799.0, 1e30, float("nan")])
def test_any_moment_can_be_shown_and_read_again(at: float) -> None:
    text = rfc3339(at)
    assert len(text) == len("2026-03-02T09:00:00Z")
    assert abs(from_rfc3339(text) - bounded(at)) <= 1
    assert moment(None) is None


@pytest.mark.parametrize("text", ["[" * 100_000, '{"services":' * 50_000, "null", "[]", '{"services": 5}', "\ud800"])
def test_nesting_without_end_and_other_nonsense_are_refused_in_words(text: str) -> None:
    with pytest.raises(BadRegistration):
        read_domain_object(text, "s")
    with pytest.raises(BadRegistration):
        service_for(text, D)


def test_texts_of_a_registry_are_harmless_wherever_they_are_shown() -> None:
    odd = "Moss\x1b[2Jgate\ud800\u202e"
    card = ["vcard", [["fn", {}, "text", odd]]]
    data = {"objectClassName": "domain", "status": [odd], "entities": [{"roles": ["registrar"], "vcardArray": card}]}
    found = read_domain_object(json.dumps(data), "s")
    for text in (found.registrar, *found.statuses):
        assert text.isprintable()
        text.encode("utf-8")


def test_a_bootstrap_cannot_name_a_file() -> None:
    """What comes over the network never makes Home Path read something of this machine."""
    places = [["file:///etc/passwd"], ["file:///x", "http://192.0.2.80/r/"]]
    found = [service_for(json.dumps({"services": [[["example"], urls]]}), D) for urls in places]
    assert found == [None, "http://192.0.2.80/r/"]
