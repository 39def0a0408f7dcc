"""Text from outside made harmless for a terminal: what would move the cursor or hide itself is spelled out."""

from __future__ import annotations

import re
import unicodedata

_SAFE = re.compile(r"[ -~]*")


def visible(text: str) -> str:
    """`text` with control, format and separator characters written as `\\xNN` or `\\uNNNN`.

    Covers C0 and C1 controls, escape sequences, bidirectional overrides and zero-width characters.
    """
    if _SAFE.fullmatch(text):
        return text
    return "".join(char if _harmless(char) else _spelled(char) for char in text)


def visible_in_table(text: str) -> str:
    """The same for a cell of a spreadsheet: what it would take for a formula is led by an apostrophe."""
    shown = visible(text)
    return f"'{shown}" if shown.startswith(("=", "+", "-", "@")) else shown


def _harmless(char: str) -> bool:
    return char == " " or unicodedata.category(char) not in ("Cc", "Cf", "Cs", "Co", "Cn", "Zl", "Zp", "Zs")


def _spelled(char: str) -> str:
    code = ord(char)
    return f"\\x{code:02x}" if code < 256 else f"\\u{code:04x}" if code < 65536 else f"\\U{code:08x}"
