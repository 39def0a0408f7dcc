"""One wrong keystroke between a value that was meant and the one that was typed."""

from __future__ import annotations

import re


def one_slip(meant: str, typed: str) -> str | None:
    """Words for the single wrong, missing, extra or swapped character, or None when it is not just one."""
    if meant == typed or abs(len(meant) - len(typed)) > 1 or min(len(meant), len(typed)) < 4:
        return None
    at = next((i for i, (a, b) in enumerate(zip(meant, typed, strict=False)) if a != b), min(len(meant), len(typed)))
    if len(meant) == len(typed):
        if meant[at + 1 :] == typed[at + 1 :]:
            return _wrong_character(meant, typed, at)
        if meant[at : at + 2] == typed[at : at + 2][::-1] and meant[at + 2 :] == typed[at + 2 :]:
            return f"{typed[at : at + 2]!r} is swapped, it should be {meant[at : at + 2]!r}"
        return None
    if len(meant) > len(typed) and meant[at + 1 :] == typed[at:]:
        return f"{meant[at]!r} is missing at {_where(meant, at)}"
    if len(meant) < len(typed) and meant[at:] == typed[at + 1 :]:
        return f"there is one {typed[at]!r} too many at {_where(typed, at)}"
    return None


def _wrong_character(meant: str, typed: str, at: int) -> str:
    if re.fullmatch(r"[0-9.]+", meant):
        part = meant.count(".", 0, at)
        which = "last" if part == 3 else ("first", "second", "third")[part]
        return f"its {which} number is {typed.split('.')[part]} and must be {meant.split('.')[part]}"
    return f"{_where(meant, at)} is {typed[at]!r} and must be {meant[at]!r}"


def _where(text: str, at: int) -> str:
    if re.fullmatch(r"[0-9.]+", text):
        part = text.count(".", 0, at) + 1
        return f"number {part} of the address, place {at - text.rfind('.', 0, at)}"
    return f"character {at + 1}"


def slip_among(meant: set[str], typed: str) -> tuple[str, str] | None:
    """The value among `meant` that `typed` misses by one keystroke, and the words for it."""
    for value in sorted(meant):
        if words := one_slip(value, typed):
            return value, words
    return None
