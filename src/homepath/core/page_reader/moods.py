"""What a heading, a column, a clause says is to happen with the records that it speaks of."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cache, lru_cache
from typing import Literal

from homepath.core.page_reader.words import PREFIXED, UNSPACED, any_word, bare, fold, is_phrase, phrases_of, stems

Mood = Literal["", "want", "delete", "current", "keep", "example", "optional", "unsure", "change"]
"""`""`: nothing is said. `current`: what is there now, as the page knows it. `example`: spoken of in passing. `unsure`:
it could be meant either way. `change`: below `Change these:`, either what is there now or what is to be."""

NOT_WANTED = ("delete", "current", "keep", "example")


@dataclass(frozen=True, slots=True)
class Event:
    """A word that says what to do, and its place."""

    at: int
    end: int
    kind: str


_TABLES = ("DELETE", "ADD", "KEEP", "CURRENT", "REQUIRED", "OPTIONAL", "REPLACE")
VERB_LAST = re.compile(r"[\u3040-\u30ff\uac00-\ud7af\u0900-\u097f]")
"""Scripts of languages whose verb follows its object."""
_DOES_NOT = re.compile(r"(?:does not|doesn[’']t|did not|didn[’']t)(?: yet| currently| correctly| properly)? $")
_SCOPE = 28
"""Characters within which a `not` belongs to a verb."""


@lru_cache(maxsize=8192)
def events(text: str) -> tuple[Event, ...]:
    """The words of a text that say what is to happen, in their order; negated ones turned round."""
    folded = fold(text)
    found = [Event(at, end, table) for table in _TABLES for at, end in stems(table).find(folded)]
    # `del` is short for delete where a sentence begins, and an article elsewhere
    found = [
        each for each in found if folded[each.at : each.end] != "del" or folded[: each.at].rstrip()[-1:] in ",;.:+-"
    ]
    found = [each for each in found if not _NAKED.search(folded[: each.at])]
    found = [each for each in found if each.kind != "KEEP" or not _leaves_blank(folded, each)]
    if not found:
        return ()
    found.sort(key=lambda event: (event.at, -event.end))
    kept: list[Event] = []
    for event in found:
        inside = any(k.at <= event.at and event.end <= k.end and (k.at, k.end) != (event.at, event.end) for k in kept)
        if kept and (kept[-1].at, kept[-1].end) == (event.at, event.end) and PREFIXED.match(folded, event.at):
            continue  # two ways to read the letters in front of a word; the first is the likelier
        noun = kept and kept[-1].kind == "CURRENT" and event.kind == "ADD" and event.at - kept[-1].end <= 1
        if not inside and not (noun and UNSPACED.match(folded, event.at)):  # `現在の設定`: the present settings
            kept.append(event)
    nots = [
        (at, folded[at:end] in _BEHIND or not folded[at:end].isascii())
        for at, end in stems("NOT").find(folded)
        if not _NAKED.search(folded[:at])
    ]
    return tuple(_turned(event, nots, kept, folded) for event in kept)


@cache
def _blank() -> re.Pattern[str]:
    return any_word(word for word in phrases_of("BLANK") if len(word) > (2 if word.isascii() else 0))


def _leaves_blank(folded: str, event: Event) -> bool:
    """`leave the host blank`: a field is kept empty, no record is kept."""
    clause = re.split(r"[,;.:、。，]", bare(folded[event.end : event.end + 60]))[0]
    return _blank().search(clause) is not None


_NAKED = re.compile(r"\b(?:domaine|dom[ií]nio)s?\s$")
"""`le domaine nu`: the bare domain; `nu` alone is `not` or `now` in other languages."""
_NEVER = ("not", "nicht", "non", "pas", "no", "não", "niet", "inte", "ikke", "ei", "nie", "ne", "nem", "не", "δεν")
"""Words for `not` right before a word for what is there: `not found` is what is to come."""

_BEHIND = ("nicht", "kein", "keine", "keinen", "pas", "jamais", "niet", "geen", "inte", "aldrig", "ikke", "aldri")
"""Words for `not` that follow their verb; the others precede it."""


def _turned(event: Event, nots: list[tuple[int, bool]], all_events: list[Event], folded: str) -> Event:
    if event.kind == "CURRENT" and any(folded[at : event.at].strip() in _NEVER for at, _ in nots if at < event.at):
        return Event(event.at, event.end, "REQUIRED")  # `not found`
    if event.kind not in ("DELETE", "KEEP", "REPLACE", "ADD"):
        return event
    if event.kind == "ADD" and _DOES_NOT.search(folded[: event.at]):
        return Event(event.at, event.end, "REQUIRED")  # `The A record does not point to 192.0.2.10`
    others = [other.at for other in all_events if other is not event and other.kind in ("DELETE", "ADD", "REPLACE")]

    def mine(at: int) -> bool:
        low, high = min(at, event.at), max(at, event.at)
        return (
            high - low <= _SCOPE
            and not any(low < other < high for other in others)
            and not re.search(r"[.!?;,、。，]\s", folded[low:high])
        )

    if any(mine(at) for at, behind in nots if not event.at < at < event.end and (behind or at <= event.at)):
        return Event(event.at, event.end, {"DELETE": "KEEP", "REPLACE": "KEEP", "KEEP": "KEEP"}.get(event.kind, "NOT"))
    return event


def has_verb(text: str) -> bool:
    """Whether it says what to do, not only what something is."""
    return any(event.kind in ("DELETE", "ADD", "REPLACE", "KEEP") for event in events(text))


def _kinds(text: str) -> list[str]:
    return [event.kind for event in events(text)]


_MOOD: dict[str, Mood] = {
    "DELETE": "delete",
    "ADD": "want",
    "REQUIRED": "want",
    "CURRENT": "current",
    "KEEP": "keep",
    "OPTIONAL": "optional",
}


_BY = "with|by|durch|mit|par|por|con|com|door|met|mot|med|przez|za|cu|на|με"
_WITH = re.compile(rf"(?:…|\.\.\.)?\s*(?:{_BY})\s")
"""How the second half of `replace these … with those` begins."""

_INTO = re.compile(rf"(?:{_BY}|to|into|in|auf|zu|vers|en|a|em|naar|til|till|v|w|в|σε)\s")


def half_of_replacing(text: str) -> Literal["", "old", "new"]:
    """Which half of `Replace ... with ...` a line of its own begins: what goes, or what comes."""
    folded = fold(text).strip(" :：…")
    found = events(text) if len(text) <= 60 else ()
    if not found and len(folded.split()) <= 3 and _INTO.match(f"{folded} "):
        bare_word = " " not in folded or text.rstrip().endswith((":", "：", "…"))  # not `Mit freundlichen Grüßen`
        return "new" if bare_word or stems("FOLLOWING").find(folded) else ""
    old = bool(found) and all(event.kind == "REPLACE" for event in found) and not stems("CHANGES").find(folded)
    return "old" if old else ""


_COUNT = re.compile(r"(?<![0-9.])[0-9]{1,2}\s?(?:/|[^\W\d_]{1,4})\s?(?:[^\W\d_]{1,4}\s)?[0-9]{1,2}(?![0-9.])")
"""How many of how many, in any language."""


@lru_cache(maxsize=8192)
def mood_of_lead(text: str) -> Mood:
    """What a heading or a lead-in says of the records below it."""
    if _WITH.match(fold(text)) and stems("FOLLOWING").find(fold(text)):
        return "want"
    if is_phrase("EXAMPLE", re.sub(r"\s*[(（][^()（）]*[)）]", "", text)):
        return "example"
    *before, last = re.split(r"[.!?]\s+", text)
    if before and last.endswith((":", "：")) and (mood := mood_of_lead(last)):
        return mood  # `Do not use a forward. Create these instead:`
    if is_phrase("BEFORE", text):
        return "current"
    found = events(text)
    if not found and is_phrase("AFTER", text):
        return "want"
    verbs = [event for event in found if event.kind in ("DELETE", "ADD", "KEEP", "REPLACE", "NOT")]
    kinds = {event.kind for event in verbs}
    if kinds & {"DELETE", "ADD", "REPLACE"} and len(kinds - {"NOT"}) > 1:
        return _of_several(text, verbs)
    if "REPLACE" in kinds:
        return _of_replacing(text, [event.kind for event in found])
    for kind in ("DELETE", "KEEP"):
        if kind in kinds:
            return _MOOD[kind]
    if "NOT" in kinds:
        return "keep"
    if "ADD" in kinds:
        return "optional" if any(event.kind == "OPTIONAL" for event in found) else "want"
    adjectives = [event.kind for event in found]
    if "OPTIONAL" in adjectives:
        return "optional"
    if "CURRENT" in adjectives and stems("CHECKS").find(fold(text)):
        return "want"  # `Check whether both are there:`
    if "CURRENT" in adjectives and (_COUNT.search(text) or stems("ERRORS").find(fold(text))):
        return ""  # `2 of 3 records found`, `2 problems found`
    if "CURRENT" in adjectives:
        return "unsure" if "REQUIRED" in adjectives else "current"
    return "want" if "REQUIRED" in adjectives else ""


def _of_replacing(text: str, kinds: list[str]) -> Mood:
    """`Change your records` speaks of the new ones, `Replace your old ones` of the old, `Replace these` of either."""
    if _speaks_of_what_follows_last(text):
        return "want"
    if "CURRENT" in kinds and "REQUIRED" not in kinds:
        return "current"
    folded = fold(text)
    if not stems("FOLLOWING").find(folded) or stems("CHANGES").find(folded):
        return "want"
    return "unsure" if stems("EXCHANGE").find(folded) else "change"


def _of_several(text: str, verbs: list[Event]) -> Mood:
    """Two verbs in one lead-in: the one nearest to `these` or `the following` speaks of what comes."""
    following = stems("FOLLOWING").find(fold(text))
    last = verbs[-1]
    if following:
        at = following[-1][0]
        before = [event for event in verbs if event.at < at]
        near = before[-1] if before else verbs[0]
        if VERB_LAST.search(text):
            near = next((event for event in verbs if event.at > at), verbs[-1])
        last = near
    if last.kind == "REPLACE":
        return "want" if _speaks_of_what_follows_last(text) else "unsure"
    return _MOOD.get(last.kind, "unsure")


def _speaks_of_what_follows_last(text: str) -> bool:
    """`Replace the old ones with these:`, `Change your records as follows:` against `Replace these:`."""
    folded = fold(text)
    if stems("AS_FOLLOWS").find(folded):
        return True
    following = stems("FOLLOWING").find(folded)
    verbs = [event for event in events(text) if event.kind == "REPLACE"]
    if verbs and re.search(r"(?:に|へ|로|으로|为|為|成)\s*$", folded[: verbs[0].at]):
        return True
    if verbs and re.search(
        r"\b(?:with|by|to|durch|mit|in|auf|par|por|con|com|door|met|med|till|til|na|za|cu|на|σε|με)\s*:?$", folded
    ):
        return True
    if not following or not verbs:
        return False
    return bool(
        re.search(
            r"\b(?:with|by|to|durch|mit|in|auf|par|por|con|com|door|met|med|till|til|na|za|przez|cu|на|σε|με|ile|بـ|ב)\b|を|로|으로|以|为|成",
            folded[verbs[0].end : following[-1][1]],
        )
    )


@lru_cache(maxsize=4096)
def mood_of_words(text: str) -> Mood:
    """Words beside a record in its own row: `(delete)`, `old`, `keep this one`, `example`."""
    if is_phrase("EXAMPLE", text) or is_phrase("FOR_EXAMPLE", text):
        return "example"
    kinds = _kinds(text)
    found: list[Mood] = [_MOOD[kind] for kind in kinds if kind in _MOOD]
    if not found or all(each == "want" for each in found):
        return "want" if found else ""
    worse = [each for each in found if each != "want"]
    if len(set(worse)) > 1 and "current" in worse and set(worse) <= {"delete", "keep", "current"}:
        return "delete" if "delete" in worse else "current"
    return worse[0] if len(set(found)) == 1 or (len(set(worse)) == 1 and "want" not in found) else "unsure"
