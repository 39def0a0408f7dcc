"""What one row can mean by itself: its readings, its option, and what it says of the rows below."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from homepath.core.page_reader.assembling import Around
from homepath.core.page_reader.hosts import plain_host, stands_for_own
from homepath.core.page_reader.kinds import is_button, is_fqdn, is_value, special_type
from homepath.core.page_reader.labels import named_rest
from homepath.core.page_reader.leads import Lead
from homepath.core.page_reader.loose import loose, loose_words
from homepath.core.page_reader.moods import NOT_WANTED, Mood
from homepath.core.page_reader.pieces import Piece, Reading, fits, value_text
from homepath.core.page_reader.prose.sentences import sentence
from homepath.core.page_reader.row_parts import _about_itself
from homepath.core.page_reader.rows import Row
from homepath.core.page_reader.titles import title_of
from homepath.core.page_reader.words import bare, phrases_of


def can_stand_below(role: str, text: str) -> bool:
    """Whether a line can be the value of a field named above it."""
    if role == "other":
        return True
    if not fits(role, text) or title_of(text) or is_button(text):
        return False
    if role == "host":
        return len(text.split()) <= 3 or plain_host(text) is not None
    return role != "value" or len(text.split()) == 1 or is_value(value_text(text))


def possible_readings(row: Row, single: bool, own: Sequence[str]) -> list[Reading]:
    """The readings of a row that names none of its parts, the surest first."""
    if _about_itself(row):
        return []
    cells = [cell.text for cell in row.cells if cell.text]
    if special_type(row.text) in ("CAA", "SRV", "HTTPS"):
        return [Reading("row", (Piece("value", value_text(row.text), row.line),), False)]  # all of it is one value
    found = [loose(cells, row.line)]
    if rest := named_rest(row):
        found.append(loose(rest, row.line))
    if single or (found[0] and found[0].lost):
        found.append(loose_words(row.text, row.line))
    found.append(_by_commas(row))
    if (single or row.kind != "table") and (reading := sentence(row.text, row.line, own)):
        found.append(replace(reading, lost=reading.lost + (1.5 if len(cells) > 2 else 0.0)))
    return [each for each in found if each is not None]


def parts_in(reading: Reading) -> int:
    return sum(1 for piece in reading.pieces if piece.role in ("type", "host", "value", "nameserver"))


def fullest(readings: Sequence[Reading]) -> Reading:
    """The one that leaves the least unexplained."""
    return max(readings, key=lambda reading: parts_in(reading) - reading.lost)


def _by_commas(row: Row) -> Reading | None:
    for mark in (",", ";", " - ", " – ", " — ", " / "):
        parts = [part.strip() for part in row.text.split(mark)]
        if 3 <= len(parts) <= 9 and all(len(part.split()) <= 3 for part in parts):
            found = loose(parts, row.line)
            if found and found.lost == 0 and found.closes:
                return found
    return None


def led_to(text: str, value: str) -> bool:
    """Whether a colon, a sign or a word such as `is` comes right before a value: `quillfern.example is 192.0.2.10`."""
    before = text[: max(0, text.find(value))].rstrip(" \"'“”„«»(")
    word = re.search(r"[^\W\d_]+$", before)
    return before.endswith((":", "：", "=", ">", "→")) or (
        word is not None and bare(word[0]) in phrases_of("VALUE_BEFORE")
    )


def mood_of_mark(row: Row) -> Mood:
    return {"+": "want", "-": "delete", "struck": "delete", "comment": "example"}.get(row.mark, "")  # type: ignore[return-value]


def as_servers(pieces: tuple[Piece, ...], around: Around) -> tuple[Piece, ...]:
    """Full names under a heading about nameservers, and names that can only be such."""
    parts = [piece for piece in pieces if piece.role != "end"]
    names = [piece for piece in parts if piece.role in ("value", "host") and is_fqdn(piece.text)]
    if not names:
        return pieces
    typed = [piece.text for piece in parts if piece.role == "type"]
    hosts = [piece.text for piece in parts if piece.role == "host"]
    if typed == ["NS"] and all(plain_host(host) == "@" or stands_for_own(host) for host in hosts):
        return tuple(replace(piece, role="nameserver") for piece in names if piece.role == "value")
    if len(names) != len(parts) or typed:
        return pieces
    if around.servers or all(like_server(piece.text) for piece in names):
        return tuple(replace(piece, role="nameserver") for piece in names)
    return pieces


def like_server(text: str) -> bool:
    return bool(re.fullmatch(r"(?:ns|dns(?=[0-9-])|n(?=[0-9-]))[0-9a-d-]*\.[^.]+\.[^.]+(?:\.[^.]+)*\.?", text.lower()))


def around_after(around: Around, lead: Lead) -> Around:
    """What holds for the records below a heading or lead-in."""
    section, mood, option, about = around.section + 1, around.mood, around.option, around.about
    if lead.firm and lead.mood:
        mood, about = lead.mood, lead.types
    elif mood in NOT_WANTED and lead.mood == "want":
        mood = "unsure"  # a sentence below those to delete that asks for something
    elif mood in NOT_WANTED and (lead.servers or lead.option or (lead.heading and not (lead.types or lead.hosts))):
        mood = "unsure"
    elif mood in NOT_WANTED and about and lead.types and not set(lead.types) & set(about):
        mood, about = "" if mood == "keep" else "unsure", ()  # the heading meant another type
    if lead.option:
        count = option.removeprefix("or") if option.startswith("or") else ""
        option = lead.option if lead.option != "or" else f"or{int(count) + 1 if count.isdecimal() else 2}"
    elif lead.conditional and lead.firm and lead.mood != "optional" and (lead.types or lead.mood == "want"):
        option = "if"
    elif option == "if" and (lead.heading or lead.mood):
        option = ""
    if not lead.speaks:
        if lead.opens:
            around = replace(around, types=(), hosts=())
        if (lead.opens or lead.firm) and around.mood == "want":
            around = replace(around, section=section, mood="")
        doubtful = (lead.opens or lead.firm) and mood in NOT_WANTED  # something else begins, and no one said what
        return replace(around, option=option, mood="unsure" if doubtful else around.mood)
    if around.firm and around.types and not lead.firm and set(around.types) <= set(lead.types):
        return replace(around, hosts=around.hosts or lead.hosts)  # a sentence that explains the record of the heading
    types = lead.types or (around.types if lead.hosts and not lead.mood else ())
    servers = lead.servers or (around.servers and not lead.types and not lead.hosts and not lead.heading)
    whole = bool(lead.types and lead.hosts)
    return Around(types, lead.hosts, mood, option, servers, section, lead.firm, whole=whole, about=about)
