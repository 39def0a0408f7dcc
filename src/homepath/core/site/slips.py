"""One wrong keystroke between a value that was meant and the one that was typed."""

from __future__ import annotations

import re

from homepath.core.message import Text, msg


def one_slip(meant: str, typed: str) -> Text | None:
    """Words for the single wrong, missing, extra or swapped character, or None when it is not just one."""
    if meant == typed or abs(len(meant) - len(typed)) > 1 or min(len(meant), len(typed)) < 4:
        return None
    at = next((i for i, (a, b) in enumerate(zip(meant, typed, strict=False)) if a != b), min(len(meant), len(typed)))
    if len(meant) == len(typed):
        if meant[at + 1 :] == typed[at + 1 :]:
            return _wrong_character(meant, typed, at)
        if meant[at : at + 2] == typed[at : at + 2][::-1] and meant[at + 2 :] == typed[at + 2 :]:
            return msg("slips.one-slip", typed=typed[at : at + 2], meant=meant[at : at + 2])
        return None
    if len(meant) > len(typed) and meant[at + 1 :] == typed[at:]:
        return msg("slips.one-slip-2", meant=meant[at], where=_where(meant, at))
    if len(meant) < len(typed) and meant[at:] == typed[at + 1 :]:
        return msg("slips.one-slip-3", typed=typed[at], where=_where(typed, at))
    return None


def _wrong_character(meant: str, typed: str, at: int) -> Text:
    if re.fullmatch(r"[0-9.]+", meant):
        part = meant.count(".", 0, at)
        which = "last" if part == 3 else ("first", "second", "third")[part]
        return msg("slips.wrong-character", which=which, split=typed.split(".")[part], split2=meant.split(".")[part])
    return msg("slips.wrong-character-2", where=_where(meant, at), typed=typed[at], meant=meant[at])


def _where(text: str, at: int) -> Text:
    if re.fullmatch(r"[0-9.]+", text):
        part = text.count(".", 0, at) + 1
        return msg("slips.where", part=part, at=at - text.rfind(".", 0, at))
    return msg("slips.where-2", at=at + 1)


def slip_among(meant: set[str], typed: str) -> tuple[Text, Text] | None:
    """The value among `meant` that `typed` misses by one keystroke, and the words for it."""
    for value in sorted(meant):
        if words := one_slip(value, typed):
            return value, words
    return None
