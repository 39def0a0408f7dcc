"""Texts of which a name may have one only: SPF (RFC 7208 section 3.2), DMARC (RFC 7489 section 6.6.3), MTA-STS
(RFC 8461 section 3.1), TLS-RPT (RFC 8460 section 3) and BIMI. A second one means that none counts."""

from __future__ import annotations

from collections.abc import Sequence

_BEGINS = ("v=spf1", "v=dmarc1", "v=stsv1", "v=tlsrptv1", "v=bimi1")


def policy(text: str) -> str | None:
    """Which policy a text is, by its version; None for any other text."""
    first = text.strip().lower().replace(";", " ").split(" ")[0]
    return first if first in _BEGINS else None


def is_spf(text: str) -> bool:
    return policy(text) == "v=spf1"


def stands_for(there: str, wanted: str) -> bool:
    """Whether a text that is there does what another is wanted for: it allows the same senders, or is a policy of the
    same kind by the owner's own choice, which is never doubled. One that differs by a single keystroke is a slip."""
    kind = policy(wanted)
    if kind is None or policy(there) != kind or one_edit(there, wanted):
        return False
    return kind != "v=spf1" or set(_mechanisms(wanted)) <= set(_mechanisms(there))


def join_spf(texts: Sequence[str]) -> str:
    """One SPF text that allows every sender of several; of different ends (`all`, `redirect`) the mildest counts."""
    mechanisms = dict.fromkeys(word for text in texts for word in _mechanisms(text))
    ends = [word for text in texts for word in text.split()[1:] if _is_end(word)]
    order = ("+all", "all", "?all", "~all", "-all")
    plain = [word for word in ends if word.lower() in order]
    end = min(plain, key=lambda word: order.index(word.lower()), default=ends[0] if ends else "")
    return " ".join(["v=spf1", *mechanisms, *([end] if end else [])])


def _mechanisms(text: str) -> list[str]:
    return [word for word in text.split()[1:] if not _is_end(word)]


def _is_end(word: str) -> bool:
    return word.lower().lstrip("+?~-") == "all" or word.lower().startswith("redirect=")


def one_edit(one: str, two: str) -> bool:
    """Whether two texts differ by one character that is wrong, missing, extra or swapped with its neighbour."""
    if one == two or abs(len(one) - len(two)) > 1:
        return False
    at = next((i for i, (a, b) in enumerate(zip(one, two, strict=False)) if a != b), min(len(one), len(two)))
    if len(one) == len(two):
        swapped = one[at : at + 2] == two[at : at + 2][::-1] and one[at + 2 :] == two[at + 2 :]
        return swapped or one[at + 1 :] == two[at + 1 :]
    longer, shorter = (one, two) if len(one) > len(two) else (two, one)
    return longer[at + 1 :] == shorter[at:]
