"""What the verbs of a sentence say is to happen with each of its values."""

from __future__ import annotations

import re
from collections.abc import Sequence

from homepath.core.page_reader.atoms import Atom
from homepath.core.page_reader.moods import Event, Mood, events
from homepath.core.page_reader.words import bare, fold, phrases_of, stems

VALUES = ("address", "special", "text", "fqdn")


def only_said(text: str, said: Sequence[Event]) -> Mood:
    """Questions that ask for nothing, and examples: what they name is only spoken of."""
    if text.rstrip()[-1:] in "?？؟" and not any(event.kind == "ADD" for event in said):
        return "current"
    folded = bare(text)
    return "example" if any(word in folded for word in phrases_of("FOR_EXAMPLE")) else ""


def ors(text: str, start: int) -> list[int]:
    """Where a sentence says `or`; the shortest of such words mean too much else in other languages."""
    folded = fold(text)
    if len(folded) != len(text):
        return []
    found = stems("OR").find(folded)
    return [at + start for at, end in found if end - at > 2 or folded[at:end] in ("or", "ou", "أو", "או", "或", "ya")]


def events_in(text: str) -> tuple[Event, ...]:
    return events(text) if len(fold(text)) == len(text) else _by_words(text)


def _by_words(text: str) -> tuple[Event, ...]:
    """Where folding changes the length, places are found again by their share of the text."""
    scale = len(text) / max(1, len(fold(text)))
    return tuple(Event(int(e.at * scale), int(e.end * scale), e.kind) for e in events(text))


def moods_of(text: str, atoms: Sequence[Atom], said: Sequence[Event]) -> list[Mood]:
    """What the words around each atom say is to happen with it."""
    verbs = [
        event
        for event in said
        if event.kind in ("DELETE", "ADD", "KEEP", "REPLACE", "CURRENT", "REQUIRED", "OPTIONAL", "NOT")
    ]
    moods: list[Mood] = ["" for _ in atoms]
    loud = [event for event in verbs if event.kind not in ("ADD", "REQUIRED")]
    values = [at for at, atom in enumerate(atoms) if atom.kind in VALUES]
    for at in values:
        if _denied(text[: atoms[at].at]):
            moods[at] = "current"
    if not loud and values:  # whatever a heading says of others, this sentence asks for its own
        adds = [event.at for event in verbs if event.kind == "ADD"]
        return [mood or ("want" if adds and adds[0] < atom.at else "") for mood, atom in zip(moods, atoms, strict=True)]
    if not values:
        return moods
    first = atoms[values[0]]
    last_verb_after = [event for event in verbs if event.at >= first.end]
    final = bool(last_verb_after) and (not [event for event in verbs if event.at < first.at] or _unspaced_final(text))
    olds = _replaced(text, atoms, values, said)
    for at, atom in enumerate(atoms):
        if moods[at]:
            continue
        if at in olds:
            moods[at] = olds[at]
            continue
        event = _governing(atom, verbs, final)
        moods[at] = _mood(event) if event else ""
    return moods


def _denied(before: str) -> bool:
    """`192.0.2.10, not 198.51.100.7`: a `not` right before a value."""
    folded = fold(before)
    found = stems("NOT").find(folded)
    return bool(found) and not folded[found[-1][1] :].strip(" ,:(\"'“")


def _unspaced_final(text: str) -> bool:
    return bool(re.search(r"[\u3040-\u30ff\uac00-\ud7af\u0900-\u097f]", text))


def _governing(atom: Atom, verbs: Sequence[Event], final: bool) -> Event | None:
    """The verb or adjective that an atom belongs to: the last one before it, or the next where verbs come last."""
    before = [event for event in verbs if event.end <= atom.at]
    after = [event for event in verbs if event.at >= atom.end]
    if final:
        near = [
            event for event in before if event.kind in ("CURRENT", "REQUIRED", "OPTIONAL") and atom.at - event.end <= 12
        ]
        if near and not any(event.kind in ("DELETE", "ADD", "KEEP") for event in after[:1]):
            return near[-1]
        return after[0] if after else (before[-1] if before else None)
    return before[-1] if before else None


def _mood(event: Event) -> Mood:
    table: dict[str, Mood] = {
        "DELETE": "delete",
        "KEEP": "keep",
        "CURRENT": "current",
        "OPTIONAL": "optional",
        "NOT": "keep",
        "REPLACE": "",
    }
    return table.get(event.kind, "want")


def _replaced(text: str, atoms: Sequence[Atom], values: Sequence[int], said: Sequence[Event]) -> dict[int, Mood]:
    """`Change 198.51.100.7 to 192.0.2.10`: of two values beside a word for replacing, the first is the old one."""
    changes = [event for event in said if event.kind == "REPLACE"]
    if not changes or any(event.kind in ("DELETE", "KEEP", "NOT") for event in said):
        return {}
    adds = [event.at for event in said if event.kind == "ADD" and event.at > changes[0].end]
    if adds and (later := [at for at in values if atoms[at].at > adds[0]]):  # `change a to b, and add c`
        first = [at for at in values if at not in later]
        rest = [event for event in said if event.at < adds[0]]
        wanted: dict[int, Mood] = dict.fromkeys(later, "want")
        return {**(_replaced(text, atoms, first, rest) if first else {}), **wanted}
    addresses = [at for at in values if atoms[at].kind == "address"]
    if len(addresses) == 2:  # a name beside them is the one that they are for
        values = addresses
    kinds = {("name" if atoms[at].kind == "fqdn" else atoms[at].kind) for at in values}
    if len(values) > 1 and len(kinds) == 1:
        turn = _turn(text, atoms, values, changes[0])
        if turn is None and len(values) == 2:
            turn = 1
        if turn is not None:
            return {at: "current" if number < turn else "want" for number, at in enumerate(values)}
    if len(values) == 1:
        atom = atoms[values[0]]
        word = re.search(r"([^\W\d_]+)\W*$", text[: atom.at])
        if word and bare(word[1]) in phrases_of("VALUE_BEFORE"):
            return {values[0]: "want"}
        if re.search(r"[为為成到]\s*$", text[: atom.at]) or re.match(r"\s*(?:に|へ|로|으로)", text[atom.end :]):
            return {values[0]: "want"}
        return {values[0]: "unsure"}
    return dict.fromkeys(values, "unsure")


def _turn(text: str, atoms: Sequence[Atom], values: Sequence[int], change: Event) -> int | None:
    """How many of the values stand before the `with`, `to` or `by` that leads to the new ones."""
    found = None
    for number, at in enumerate(values):
        begin = atoms[values[number - 1]].end if number else min(change.end, atoms[at].at)
        between = re.findall(r"[^\W\d_]+", text[begin : atoms[at].at])
        leads = any(bare(word) in phrases_of("VALUE_BEFORE") and bare(word) not in _HOST_ONLY for word in between[-2:])
        if leads and found is None:
            found = number
    return found


_HOST_ONLY = frozenset(("is", "da", "de", "od", "von", "value", "valor", "valeur", "valore", "wert", "a", "na", "do"))
"""Words before a value that say nothing of whether it is the new one."""
