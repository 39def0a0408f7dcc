"""What the verbs of a sentence say is to happen with each of its values."""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import cache
from itertools import pairwise

from homepath.core.page_reader.moods import VERB_LAST, Event, Mood, events
from homepath.core.page_reader.prose.atoms import VALUES, Atom, atoms_of
from homepath.core.page_reader.prose.replacing import IS, replaced
from homepath.core.page_reader.words import any_word, bare, field_words, fold, phrases_of, stems

_MOOD_OF: dict[str, Mood] = {
    "DELETE": "delete", "KEEP": "keep", "NOT": "keep", "CURRENT": "current", "OPTIONAL": "optional", "REPLACE": "",
}  # fmt: skip
MOST_VALUES = 40
"""Values in one sentence, at most. No person writes a longer one."""
_DATED = re.compile(
    r"\W*([^\W\d_]+(?:\s+[^\W\d_]+){0,2})\s+"
    r"(?:[0-9]{1,2}\.?\s+[^\W\d_]{3,}|[0-9]{4}-[0-9]{2}-[0-9]{2}|[0-9]{1,2}[./][0-9]{1,2}[./][0-9]{2,4}(?![.0-9]))"
)
"""`Until 1 March 2026`, at the begin of a sentence."""


def only_mood(text: str, events: Sequence[Event]) -> Mood:
    """Questions that ask for nothing, and examples: what they name is only spoken of."""
    if text.rstrip()[-1:] in "?？؟" and not any(event.kind in ("ADD", "REPLACE") for event in events):
        return "current"
    folded = bare(text)
    changes = any(event.kind == "REPLACE" for event in events)
    if not changes and (dated := _DATED.match(folded)) and dated[1].split()[0] in phrases_of("UNTIL"):
        return "unsure"
    label = re.match(r"\W*([^\W\d_]+)\s*[0-9]{0,2}\s*[:：]", folded)
    if label and label[1] in phrases_of("EXAMPLE"):
        return "example"
    kinds = {event.kind for event in events}
    if _by_me().search(folded) and "ADD" in kinds:
        return "unsure" if "REQUIRED" in kinds else "current"
    if _mine().match(folded) and not kinds:
        return "unsure"  # what someone has may be what is to go
    if any(word in folded for word in phrases_of("DID_NOT_WORK")):
        return "current"
    return "example" if any(word in folded for word in phrases_of("FOR_EXAMPLE")) else ""


@cache
def _by_me() -> re.Pattern[str]:
    return any_word(phrases_of("DONE_BY_ME"))


@cache
def _mine() -> re.Pattern[str]:
    return re.compile(rf"\W*(?:[^\W\d_]+\s*[:：]\s*)?{any_word(phrases_of('MINE')).pattern}")


def value_told(text: str) -> tuple[str, Mood]:
    """The only address or full name in a remark, and what it says of it: `change to 192.0.2.10`, `replaces
    198.51.100.7`, `was 198.51.100.7`. Empty where there is none, or several, or nothing is said."""
    atoms = atoms_of(text)
    found = [
        (atom.value, mood)
        for atom, mood in zip(atoms, moods_of(text, atoms, events_in(text)), strict=True)
        if atom.kind in ("address", "fqdn")
    ]
    value, mood = found[0] if len(found) == 1 else ("", "")
    if mood in ("", "keep", "optional"):
        return "", ""
    return value, "want" if mood == "want" else "current"


def ors(text: str, start: int) -> list[int]:
    """Where a sentence says `or`; the shortest of such words mean too much else in other languages."""
    folded = fold(text)
    found = stems("OR").find(folded) if len(folded) == len(text) else []
    return [at + start for at, end in found if end - at > 2 or folded[at:end] in ("or", "ou", "أو", "או", "或", "ya")]


def events_in(text: str) -> tuple[Event, ...]:
    """The events of a text at their places in it; where folding changes the number of letters, their places are found
    by their share of it."""
    folded = fold(text)
    if len(folded) == len(text):
        return events(text)
    kept = [at for at, char in enumerate(text) if not char.isspace() or (at and not text[at - 1].isspace())]
    kept = kept if len(kept) >= len(folded) else []
    scale = len(text) / max(1, len(folded))

    def place(at: int) -> int:
        return kept[at] if at < len(kept) == len(folded) else int(at * scale)

    return tuple(Event(place(e.at), place(e.end - 1) + 1, e.kind) for e in events(text))


def moods_of(text: str, atoms: Sequence[Atom], events: Sequence[Event]) -> list[Mood]:
    """What the words around each atom say is to happen with it."""
    values = [at for at, atom in enumerate(atoms) if atom.kind in VALUES]
    if not values:
        return ["" for _ in atoms]
    if len(values) > MOST_VALUES:
        return ["unsure" if atom.kind in VALUES else "" for atom in atoms]
    for number, old in enumerate(values):
        if (aside := _aside(text, atoms[old], atoms[values[number - 1]] if number else None)) is not None:
            rest = [event for event in events if not aside[0] <= event.at < aside[1]]
            others = moods_of(text, [atom for at, atom in enumerate(atoms) if at != old], rest)
            return [*others[:old], "current", *others[old:]]
    adds = [event.at for event in events if event.kind == "ADD"]
    loud = any(event.kind not in ("ADD", "REQUIRED") for event in events)
    first = atoms[values[0]]
    behind = any(event.at >= first.end for event in events)
    final = behind and (bool(VERB_LAST.search(text)) or not any(event.at < first.at for event in events))
    settled = replaced(text, atoms, values, events) if loud else {}
    settled |= {at: "current" for at in values if _denied(text[: atoms[at].at])}
    instead = _instead_of(text, atoms, values, events)
    asks = any(event.kind in ("ADD", "REQUIRED", "REPLACE") for event in events)
    if instead and not asks and _points().search(bare(text[: atoms[min(instead)].at])):
        settled |= dict.fromkeys(values, "unsure")  # `It points to a instead of b`: b may be the right one
    settled |= dict.fromkeys(set(instead) - set(settled), "current")
    events = [event for event in events if event not in instead.values()]
    settled |= _contrasted(text, atoms, values, events)
    moods: list[Mood] = []
    for at, atom in enumerate(atoms):
        if at in settled:
            moods.append(settled[at])
        elif loud:
            event = _governing(at, atoms, events, final)
            moods.append(_MOOD_OF.get(event.kind, "want") if event else "")
        else:  # whatever a heading says of others, this sentence asks for its own
            label = any(event.kind == "REQUIRED" and event.at <= atom.end + 1 for event in events)
            moods.append("want" if label or (adds and adds[0] < atom.at) else "")
    if "delete" in moods and _except().search(bare(text)):
        moods = ["unsure" if mood == "delete" else mood for mood in moods]  # `Delete every A record but 192.0.2.10`
    for one, other in pairwise(at for at in values if atoms[at].kind == "address"):
        if not _says_more_between(text, atoms, one, other):
            continue
        if not {moods[one], moods[other]} - {"", "want"}:
            moods[one] = moods[other] = "unsure"
        elif moods[one] == moods[other] == "current":
            moods[other] = "unsure"  # a word for what it should be may not be known
    return moods


@cache
def _except() -> re.Pattern[str]:
    return any_word(phrases_of("EXCEPT"))


def _aside(text: str, old: Atom, before: Atom | None) -> tuple[int, int] | None:
    """Where the brackets of `(now 198.51.100.7)` or `192.0.2.10 (it is 198.51.100.7)` begin and end; None where they do
    not say so. `before`: the value before it."""
    inner = re.search(r"[(（]([^()]{0,30})$", text[: old.at])
    rest, mark, _ = text[old.end :].partition(")")
    if inner is None or not mark or len(rest) >= 30:
        return None
    said = f"{inner[1]} {rest}"
    if any(atom.kind in VALUES for atom in atoms_of(said)):
        return None
    kinds = {event.kind for event in events_in(said)}
    beside = before is not None and before.kind == old.kind and not text[before.end : inner.start()].strip()
    is_now = "CURRENT" in kinds or (beside and IS.search(bare(said)) is not None)
    return (inner.start(), old.end + len(rest)) if is_now and not kinds & {"ADD", "REQUIRED", "DELETE"} else None


def _says_more_between(text: str, atoms: Sequence[Atom], one: int, other: int) -> bool:
    """Whether more than a list stands between two addresses of one name: `198.51.100.7 there, 192.0.2.10 is right`."""
    inside, named = atoms[one + 1 : other], ("host", "apex", "fqdn", "type")
    counts = [atom.kind == "type" for atom in atoms if atom.kind in named]
    if any(atom.kind in named for atom in inside) and (counts.count(True) > 1 or counts.count(False) > 1):
        return False  # a record of its own begins between them
    if (":" in atoms[one].value) != (":" in atoms[other].value):
        return False
    between = text[atoms[one].end : atoms[other].at]
    spans = [(atom.at - atoms[one].end, atom.end - atoms[one].end) for atom in inside]
    for begin, end in reversed(spans):
        between = between[:begin] + " " + between[end:]
    words = set(re.findall(r"[^\W\d_]{2,}", bare(between)))
    listing = phrases_of("VALUE_BEFORE") | phrases_of("RECORD") | phrases_of("COUNTING") | phrases_of("JOINTS")
    return bool(words - listing - field_words().keys())


def _denied(before: str) -> bool:
    """`192.0.2.10, not 198.51.100.7`, `it should not be 198.51.100.7`: a `not` right before a value."""
    folded = fold(before)
    found = stems("NOT").find(folded)
    if not found:
        return False
    begin, end = found[-1]
    said = folded[end:].strip(" ,:(\"'“")
    should = stems("REQUIRED").find(folded[max(0, begin - 12) :])  # `must not be`, `no debe ser`
    behind = next((each for at, each in stems("REQUIRED").find(said) if at == 0), 0)
    return not said or (bool(should) and bare(said[behind:]) in phrases_of("TO_BE"))


def _instead_of(text: str, atoms: Sequence[Atom], values: Sequence[int], events: Sequence[Event]) -> dict[int, Event]:
    """`Enter 192.0.2.10 instead of 198.51.100.7`: the value right behind such words is the old one; the words say
    nothing of the others."""
    folded, found = fold(text), dict[int, Event]()
    for table in ("INSTEAD", "INSTEAD_BEHIND"):  # in some languages they follow the value
        for at, end in stems(table).find(folded):
            event = next((each for each in events if each.at < end and at < each.end), None)
            if table == "INSTEAD":
                old = next((each for each in values if atoms[each].at >= end), None)
            else:
                old = next((each for each in reversed(values) if atoms[each].end <= at), None)
            if event is None or old is None:
                continue
            between = text[end : atoms[old].at] if table == "INSTEAD" else text[atoms[old].end : at]
            if len(between.split()) <= 3:
                found[old] = event
    return found


@cache
def _points() -> re.Pattern[str]:
    """The verbs by which someone tells where a name leads now."""
    return any_word(phrases_of("POINTS_NOW"))


@cache
def _but() -> re.Pattern[str]:
    return any_word(phrases_of("BUT"))


def _contrasted(text: str, atoms: Sequence[Atom], values: Sequence[int], events: Sequence[Event]) -> dict[int, Mood]:
    """`It points to 198.51.100.7, but should point to 192.0.2.10`: what comes before the only `should` is there now."""
    for first, then in pairwise(values):
        now, new = atoms[first], atoms[then]
        named = now.kind == "address" or any(atom.kind in ("host", "apex", "fqdn") for atom in atoms[:first])
        early = {event.kind for event in events if event.at < now.at}
        if now.kind != new.kind or not named or early - {"CURRENT"}:
            continue
        should = any(event.kind == "REQUIRED" and now.end <= event.at < new.at for event in events)
        then_is = bare(text[now.end : new.at]).strip(" ,.;:(|/–-")
        was = now.kind == "address" and then_is in phrases_of("BECOMES")
        typed = any(atom.kind == "type" for atom in atoms[:first])
        others = ("host", "apex", "type") if typed else ("host", "apex")
        alone = not any(atom.kind in others for atom in atoms[first + 1 : then])
        turned = _but().search(bare(text[now.end : new.at])) is not None
        later = any(event.kind == "REQUIRED" and event.at >= new.end for event in events)
        told = now.kind == "address" and re.search(r"[^\W\d_]{4,}", text[now.end : new.at]) is not None
        if alone and (
            should or was or (later and (turned or told))
        ):  # `198.51.100.7ですが、192.0.2.10である必要があります`
            return {first: "current", then: "want"}
        if alone and now.kind == "address" and turned and not early and not stems("NOT").find(fold(text)):
            return {first: "unsure", then: "unsure"}
    return {}


def _governing(number: int, atoms: Sequence[Atom], verbs: Sequence[Event], final: bool) -> Event | None:
    """The verb or adjective that an atom belongs to: the last one before it, or the next where verbs come last. Not an
    adjective of what follows: `www x.example, old one 198.51.100.7`."""
    atom = atoms[number]
    before = [event for event in verbs if event.end <= atom.at]
    after = [event for event in verbs if event.at >= atom.end]
    if len(after) > 1 and after[0].kind == "REQUIRED" and after[1].kind == "DELETE" and after[1].at - after[0].end <= 2:
        after = after[1:]  # `198.51.100.7需要删除`
    near = [event for event in before if event.kind in ("CURRENT", "REQUIRED", "OPTIONAL") and atom.at < event.end + 13]
    if final and after and after[0].kind in ("CURRENT", "REQUIRED") and after[0].at - atom.end <= 1:
        return after[0]  # `198.51.100.7 trouvé, 192.0.2.10 attendu`
    if final and after and before and before[-1].kind == "CURRENT" and after[0].kind == "REQUIRED":
        same = [each for each in atoms if each.kind == atom.kind and before[-1].end <= each.at < after[0].at]
        if len(same) > 1 and same[0] is atom:
            return before[-1]  # the clause of `now` is not that of `should`
    if final and after and after[0].kind == "CURRENT":
        later = [each for each in atoms[number + 1 :] if each.kind in VALUES and each.at >= after[0].end]
        parted = any(each.kind == "and" and each.end <= after[0].at for each in atoms[number + 1 :])
        if parted and later and all(event.at > later[0].at for event in after[1:2]):
            return before[-1] if before else None
    if final and after and (not near or after[0].kind in ("DELETE", "ADD", "KEEP")):
        return after[0]
    return before[-1] if before else None
