from __future__ import annotations

import contextlib

import pytest
from hypothesis import given
from hypothesis import strategies as st
from icalendar import Calendar

from homepath.core.files.calendar_file import Appointment, merged, uid
from homepath.core.model.problems import BadInput
from tests.refusals import refused

D = "tidewick-kiln.example."
NOW = 1_772_442_000.0
WORDS = 'Run: homepath next; then, \\ and "so" on\nnext line'
SPREAD = Appointment("spread", NOW + 3600, "caches have let go", WORDS)
ENDS = Appointment("registration", NOW + 9e6, "the registration ends", "Renew it.")


def entries(text: str) -> dict[str, tuple[str, int, str]]:
    found = Calendar.from_ical(text).walk("VEVENT")
    assert len({str(each["uid"]) for each in found}) == len(found)
    return {str(e["uid"]): (str(e["summary"]), int(str(e["sequence"])), str(e["status"])) for e in found}


def test_run_again_it_is_brought_up_to_date_and_not_doubled() -> None:
    first = merged(None, D, [SPREAD, ENDS], NOW)
    assert merged(first, D, [SPREAD, ENDS], NOW + 60) == first
    later = merged(first, D, [Appointment("spread", NOW + 7200, SPREAD.title, SPREAD.words), ENDS], NOW + 60)
    assert entries(later)[uid("spread", D)] == ("caches have let go", 1, "CONFIRMED")
    assert entries(later)[uid("registration", D)][1] == 0
    gone = merged(later, D, [ENDS], NOW + 120)
    assert entries(gone)[uid("spread", D)] == ("caches have let go", 2, "CANCELLED")
    assert merged(gone, D, [ENDS], NOW + 180) == gone
    history = merged(later, D, [ENDS], NOW + 9000)
    assert entries(history)[uid("spread", D)][2] == "CONFIRMED"


def test_other_entries_and_other_domains_stay() -> None:
    head = ("BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:x", "BEGIN:VEVENT", "UID:lunch", "DTSTAMP:20260101T000000Z")
    lines = (*head, "DTSTART:20270101T120000Z", "SEQUENCE:4", "STATUS:CONFIRMED", "SUMMARY:lunch", "END:VEVENT")
    foreign = "\r\n".join((*lines, "END:VCALENDAR", ""))
    both = merged(merged(foreign, D, [SPREAD], NOW), "tidewick-pots.example.", [SPREAD], NOW)
    found = entries(merged(both, D, [], NOW))
    assert found["lunch"] == ("lunch", 4, "CONFIRMED")
    assert found[uid("spread", "tidewick-pots.example.")][2] == "CONFIRMED"
    assert found[uid("spread", D)][2] == "CANCELLED"
    assert all(len(line.encode()) <= 75 for line in both.split("\r\n"))
    assert str(Calendar.from_ical(both).walk("VEVENT")[1]["description"]) == WORDS


@pytest.mark.parametrize(
    "text", ["hello", "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\n", "BEGIN:VCARD\r\nEND:VCARD\r\n", "\x00"]
)
def test_what_is_no_calendar_is_left_alone(text: str) -> None:
    with refused(BadInput, "not a calendar"):
        merged(text, D, [SPREAD], NOW, "c.ics")


@pytest.mark.parametrize(
    "line",
    [
        "DTSTART;VALUE=DATE:20270101",
        "DTSTART:soon",
        "SEQUENCE:many",
        "DTSTART:00010101T000000Z",
        "STATUS:\xff",
        "RRULE:x",
    ],
)
def test_entries_that_somebody_edited_stop_nothing(line: str) -> None:
    first = merged(None, D, [SPREAD, ENDS], NOW)
    key = line.partition(":")[0].partition(";")[0]
    edited = "\r\n".join(line if each.startswith(key) else each for each in first.split("\r\n"))
    for wanted in ([SPREAD, ENDS], [ENDS], []):
        with contextlib.suppress(BadInput):  # refused in words, and the file is left alone
            assert "BEGIN:VCALENDAR" in merged(edited, D, wanted, NOW + 60)


def test_a_moment_out_of_all_bounds_is_no_traceback() -> None:
    for at in (-1e18, 1e18, float("nan"), float("inf")):
        assert "BEGIN:VEVENT" in merged(None, D, [Appointment("x", at, "t", "w")], NOW)


LINE = st.one_of(
    st.sampled_from(
        [
            "BEGIN:VTODO",
            "END:VTODO",
            "BEGIN:VEVENT",
            "END:VEVENT",
            "UID:x",
            "SUMMARY:a;b,c\\n",
            " folded",
            "X-OWN;P=1:v",
        ]
    ),
    st.text(st.characters(codec="utf-8", exclude_characters="\n"), max_size=30),
    st.binary(max_size=20).map(lambda octets: octets.replace(b"\n", b"").decode("utf-8", "surrogateescape")),
).filter(lambda line: "VCALENDAR" not in line.upper())


@given(st.lists(LINE, max_size=12), st.sampled_from(["\n", "\r\n"]), st.text("\n \t", max_size=3))
def test_what_others_wrote_stays_letter_by_letter(foreign: list[str], newline: str, after: str) -> None:
    text = newline.join(["BEGIN:VCALENDAR", *foreign, "END:VCALENDAR", ""]) + after
    with_ours = merged(text, D, [SPREAD, ENDS], NOW)
    begin = with_ours.rindex(f"BEGIN:VEVENT{newline}SUMMARY:caches have let go")
    end = with_ours.rindex(f"END:VEVENT{newline}") + len(f"END:VEVENT{newline}")
    assert with_ours[:begin] + with_ours[end:] == text
    assert merged(text, D, [], NOW) == text
