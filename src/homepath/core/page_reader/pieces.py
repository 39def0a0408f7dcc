"""Parts of records, and what a cell must be like to be one."""

from __future__ import annotations

import re
from dataclasses import dataclass

from homepath.core.message import Text, msg
from homepath.core.page_reader.kinds import (
    SPECIAL,
    STRINGS,
    addresses,
    clean,
    glued_button,
    is_button,
    is_fqdn,
    is_status,
    is_sure_host,
    is_textlike,
    special_type,
    type_of,
    without_button,
)
from homepath.core.page_reader.moods import Mood, events, mood_of_words
from homepath.core.page_reader.prose.atoms import atoms_of
from homepath.core.page_reader.titles import Title
from homepath.core.page_reader.words import answer_of, any_word, bare, fold, is_phrase, is_ttl, phrases_of, stems

NUMBERS = ("priority", "weight", "port", "flag")


@dataclass(frozen=True, slots=True)
class Piece:
    """A part of a record. `named`: a field's name says what it is. `joined`: an `and` binds it to the one before."""

    role: str
    text: str
    line: int
    mood: Mood = ""
    named: bool = False
    joined: bool = False


@dataclass(frozen=True, slots=True)
class Reading:
    """A row read in one way. `closes`: a record ends with it. `lost`: how much of it fits nowhere. `unsaid`: what in it
    could be meant otherwise; `waiting`: the field named at its end whose value is still to come."""

    layout: str
    pieces: tuple[Piece, ...]
    closes: bool
    lost: float = 0.0
    mood: Mood = ""
    unsaid: Text = ""
    waiting: Title | None = None


_WITH_ASIDE = re.compile(r"(\S+)\s*[(（]([^()（）]*)[)）]")


def value_text(text: str) -> str:
    """A value without its quotes and without a button's word behind it."""
    text = text.strip().removesuffix(".") if text.rstrip().endswith('".') else text
    shown = without_button(text.strip()) if not is_textlike(text) else text.strip()
    shorter = glued_button(shown)
    if shorter and (addresses(shorter) or is_fqdn(shorter)):
        shown = shorter
    aside = _WITH_ASIDE.fullmatch(shown)
    told = aside and (any(atom.kind != "and" for atom in atoms_of(aside[2])) or mood_of_words(aside[2]))
    if aside and not told and (addresses(aside[1]) or is_fqdn(aside[1])):
        shown = aside[1]  # `192.0.2.10 (our server)`
    if shown.endswith((")", ").")) and "(" not in shown:
        shown = shown.rstrip(".").removesuffix(")")
    return clean(shown)


def says_nothing(text: str) -> bool:
    """A button, a state or a word for nothing in the place of a value."""
    return is_phrase("BUTTONS", text) or is_phrase("BLANK", text) or is_status(text)


def evidence(text: str) -> float:
    """How much a text looks like a part of a record, 0 where it does not."""
    plain = clean(text)
    if addresses(plain) or special_type(plain):
        return 3.0
    if type_of(plain):
        return 2.0
    if is_fqdn(without_button(plain)) or is_textlike(plain):
        return 2.0
    return 1.5 if is_sure_host(plain) else 0.0


def mood_of_action(text: str) -> Mood:
    """What a cell for actions says; the buttons `Edit Delete` beside every row say nothing."""
    if not text or len(text) > 60:
        return ""
    words = re.split(r"[\s,/|·]+", text)
    if len(words) > 1 and all(is_button(word) for word in words):
        return ""
    if is_status(text) and not any(event.kind in ("DELETE", "ADD", "KEEP") for event in events(text)):
        return ""
    mood = mood_of_words(text)
    if mood == "want" and not any(event.kind == "ADD" for event in events(text)):
        return ""
    return mood


def mood_of_answer(title: Title, text: str) -> Mood:
    """What yes or no says of its record in a field `Needed?`, `Required` or `Optional`; nothing for any other text."""
    asks = (title.guessed or "other" in title.roles) and title.mood in ("want", "optional")
    answer = answer_of(text) if asks else ""
    if not answer or answer == ("no" if title.mood == "optional" else "yes"):
        return "want" if answer else ""
    return "keep" if title.guessed and title.mood == "want" else "optional"


_LATER = re.compile(
    r"\b(?:after|later|afterwards|once|nach|danach|spater|apres|plus tard|despues|dopo|depois|daarna|later)\b"
)


def is_later(text: str) -> bool:
    """Whether a text speaks of something that comes afterwards: `can be deleted after 7 days`."""
    return bool(_LATER.search(bare(text)))


def mood_of_note(text: str) -> tuple[Mood, Text]:
    """What a cell for actions or notes says of its row, and what in it could be meant so; a note may well speak of
    other records: `Delete any other www record first`."""
    mood = mood_of_action(text)
    kept = re.search(r"\bkeep (?:(?:it|this)\b(?! as (?:it|is|they))|until\b|till\b|while\b)", bare(text))
    if mood == "keep" and (kept or stems("NOT").find(fold(text))):
        return "", ""  # `do not remove`, `keep it`: it is to stay once it is entered
    if mood == "delete" and is_later(text):
        return "", ""  # `can be deleted after 7 days`
    kinds = [event.kind for event in events(text)]
    if {"REPLACE", "CURRENT"} <= {*kinds} and not re.search(r"[,;:.]\s", text):
        of_record = any_word(phrases_of("RECORD")).search(bare(text))  # `bestehenden Eintrag ersetzen`
        if of_record or kinds.index("REPLACE") < kinds.index("CURRENT"):
            return "", ""  # `replace the existing one`
    if len(text.split()) <= 4 or mood in ("", "want", "optional"):
        return mood, ""
    if stems("FOLLOWING").find(fold(text)):
        return mood, ""
    others = any(event.kind == "CURRENT" for event in events(text)) or bool(OTHERS.search(bare(text)))
    return "", "" if others else msg("page.part.note", what=text[:60])


def mood_of_condition(text: str) -> Mood:
    """A note that begins with a condition of the reader's own, `only if you use our mail`; not one about records, `if
    there is one already, edit it`."""
    words = re.findall(r"\w+", bare(text))
    if words[:1] == ["se"] or not stems("IF").find(" ".join(words[:3])):  # Spanish: `se usa para ...`
        return ""
    about = set(words) & (phrases_of("RECORD") | phrases_of("ALREADY")) or OTHERS.search(bare(text))
    loud = any(event.kind in ("DELETE", "KEEP", "NOT", "CURRENT", "REPLACE") for event in events(text))
    return "" if about or loud else "optional"


OTHERS = re.compile(
    r"\b(?:any|other|others|all|andere|anderen|weitere|autre|autres|otro|otros|altri|altre|outros|andre|andra|inne|jine)\b|他|其他|다른|друг"
)


def role_of(title: Title, text: str) -> str:
    """Which of the roles of a name a text has: the first that it fits; what only may be a value must look like one."""
    if "other" in title.roles:
        return "value" if "value" in title.roles and evidence(text) >= 2 else "other"
    return next((role for role in title.roles if fits(role, text)), title.roles[0])


def fits(role: str, text: str) -> bool:
    """Whether a cell can be this part of a record."""
    plain = clean(text)
    if role == "type":
        return type_of(plain) is not None
    if role == "ttl":
        return is_ttl(plain)
    if role in NUMBERS:
        return plain.isdecimal() and int(plain) <= 65535
    if role == "host":
        return len(plain) <= 254 and not addresses(plain)
    if role in ("nameserver", "zone"):
        return is_fqdn(plain)
    return any(char.isalnum() or char in "@*" for char in plain)


_TOKEN = re.compile(r"\"[^\"]*\"|“[^”]*”|\S+")


def tokens(text: str) -> list[str]:
    """The words of a row; values of several words stay together."""
    held: list[str] = []

    def hold(match: re.Match[str]) -> str:
        held.append(match[0])
        return f" \x00{len(held) - 1}\x00 "

    text = STRINGS.sub(hold, text)
    rrtype = re.search(r"(?:^|\s)(CAA|SRV|HTTPS|MX)(?:\s|$)", text)
    patterns = [SPECIAL["TXT"], *([SPECIAL[rrtype[1]]] if rrtype else [])]
    for pattern in patterns:
        text = pattern.sub(hold, text)
    found = [re.sub(r"\x00([0-9]+)\x00", lambda m: held[int(m[1])], word) for word in _TOKEN.findall(text)]
    joined: list[str] = []
    for word in found:  # a time keeps its unit, several strings of one text stay together
        if (joined and joined[-1].isdecimal() and is_ttl(f"{joined[-1]} {word}") and not word[:1].isdecimal()) or (
            joined and joined[-1][:1] == word[:1] == '"'
        ):
            joined[-1] = f"{joined[-1]} {word}"
        else:
            joined.append(word[:-1] if len(word) > 1 and word.endswith(":") and not word.endswith("::") else word)
    return joined
