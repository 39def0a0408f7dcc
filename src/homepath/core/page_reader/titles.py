"""What a column or a field is called, and what that says of the values in it."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache

from homepath.core.page_reader.kinds import field_roles
from homepath.core.page_reader.moods import Mood, _kinds, events
from homepath.core.page_reader.words import bare, field_words, fold, is_phrase, phrases_of, stems


@dataclass(frozen=True, slots=True)
class Title:
    """What a column or a field is called: the roles it can have, the likeliest first, and what it speaks of."""

    roles: tuple[str, ...]
    mood: Mood = ""
    rrtype: str = ""
    """The type of all values of a column, where its name is a type."""
    guessed: bool = False
    """No field is named, only what is to happen; or by a word that is common in sentences, too."""


_BEING = re.compile(
    r"(?<!\w)(?:be|sein|werden|être|ser|estar|essere|zijn|worden|vara|være|olla|być|být|byť|lenni|fi|быть|бути"
    r"|да бъде|είναι|zu|to|de|da)(?!\w)"
)
"""`Should be`, `soll sein`: the verb that is next to what a column says of its values."""


@lru_cache(maxsize=8192)
def title_of(text: str) -> Title | None:
    """What a whole cell is the name of, if it is one: `Value`, `Current value`, `Soll-Wert`, `現在の値`."""
    if not text or len(text) > 60 or not any(char.isalpha() or char == "#" for char in text):
        return None
    if roles := field_roles(text):
        mood = mood_of_title(re.sub(r".*?([(（\[].*?[)）\]]).*", r"\1", text)) if "(" in text or "（" in text else ""
        also: Mood = "want" if is_phrase("NEEDED", text) else mood_of_title(text)
        if roles == ("other",) and also:
            return Title(("other", "value"), also)
        return Title(roles, mood)
    words = fold(text).strip(" *:：?!.()[]")
    if bare(words) in phrases_of("BEFORE"):
        return Title(("value",), "current")
    if bare(words) in phrases_of("AFTER"):
        return Title(("value",), "want")
    mood = mood_of_title(text)
    if len(words.split()) > 6:
        return None
    rest = words
    for event in reversed(events(text)):
        rest = rest[: event.at] + " " + rest[event.end :]
    rest = re.sub(r"^(?:[\s:/の的지를을,–-]|する|した|すべき)+|[\s:/の的の,–-]+$", "", rest)
    rest = _BEING.sub("", rest).strip()
    rest = re.sub(
        r"^(?:(?:your|the|dns|in|of|is|de|del|der|die|das|la|le|il|o|a|som|at|here|we|what|must|to|be|for)(?:\s+|$))+",
        "",
        rest,
    )
    if mood and not rest:
        return Title(("value",) if mood != "optional" else ("other",), mood, guessed=True)
    if roles := field_roles(rest) if rest else ():
        return Title(roles, mood, guessed=bare(rest) in phrases_of("LOOSE_FIELDS"))
    if mood and not stems("FOLLOWING").find(words) and (inner := _inner_field(rest)):
        return Title(field_words()[inner], mood, guessed=inner in phrases_of("LOOSE_FIELDS"))
    return None


def _inner_field(text: str) -> str:
    """The field that is named by some of the words: `value we found`."""
    words = bare(text).split()
    for size in range(min(4, len(words)), 0, -1):
        for at in range(len(words) - size + 1):
            inner = " ".join(words[at : at + size])
            if field_words().get(inner, ("",))[0] in ("value", "type", "host"):
                return inner
    return ""


def mood_of_title(text: str) -> Mood:
    """What the name of a column says of what is in it."""
    kinds = set(_kinds(text))
    if not kinds or kinds == {"REPLACE"}:
        return "unsure" if kinds and len(text.split()) > 1 and not text.isascii() else ""
    wanted = kinds & {"REQUIRED", "ADD"}
    gone = kinds & {"CURRENT", "DELETE"}
    if wanted and gone:
        return "unsure"
    if gone:
        return "delete" if "DELETE" in gone else "current"
    if "KEEP" in kinds:
        return "keep"
    return "optional" if "OPTIONAL" in kinds and not wanted else "want"
