"""Names that are plain words, such as `shop`: what announces them in a heading or a sentence."""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import cache, lru_cache

from homepath.core.page_reader.hosts import stands_for_own
from homepath.core.page_reader.kinds import field_roles, type_of
from homepath.core.page_reader.moods import events
from homepath.core.page_reader.prose.atoms import VALUES, Atom, atoms_of
from homepath.core.page_reader.wordlists.moods import LABELS, PLACES, SUBDOMAIN
from homepath.core.page_reader.words import any_word, bare, phrases_of

_LATIN = r"A-Za-z0-9_\u00c0-\u024f\u1e00-\u1eff"
_EDGES = rf"(?<![{_LATIN}.@/-])(?:{{}})(?![{_LATIN}@/-]|\.[A-Za-z0-9_])"
_KNOWN = re.compile(_EDGES.format(LABELS))
_PLACE = re.compile(_EDGES.format(PLACES))
_WORD = re.compile(r"\s?([a-z][a-z0-9-]*)(?![\w@/-]|\.\w)")
_POSTPOSITION = re.compile(r"の|에|에서|için|के|的|に|を|은|는")
_SUBDOMAIN = re.compile(rf"[\"”“»’'\s]*(?:{SUBDOMAIN})", re.I)
_BEHIND_SUBDOMAIN = re.compile(rf"(?:{SUBDOMAIN})\w*[\"“„«‘'\s]*$", re.I)
_FREE = ("number", "ttl", "and", "token", "stop")
"""Atoms that a label may overlap."""


@lru_cache(maxsize=4096)
def named_atoms(text: str, own: tuple[str, ...] = ()) -> tuple[Atom, ...]:
    """The atoms of a line, with a plain label for each record of which it says no other name: `a CNAME record for
    shop`, `@ and shop`. `own`: names of the reader's own domain."""
    atoms = atoms_of(text)
    types = [atom for atom in atoms if atom.kind == "type"]
    ends = [atom.end for atom in atoms if atom.kind in VALUES]
    found: list[Atom] = []
    for number, each in enumerate(types):
        low = max((end for end in ends if types[number - 1].at < end <= each.at), default=each.at) if number else 0
        behind = [atom.end for atom in atoms if low <= atom.at < each.at and atom.kind in ("host", "apex")]
        if (
            number
            and low < each.at
            and not any(types[number - 1].at < atom.at < low and atom.kind in ("host", "apex") for atom in atoms)
        ):
            low = max(behind, default=low)  # `A 192.0.2.10 for @ and www, CNAME ...`: names of the one before
        high = types[number + 1].at if number + 1 < len(types) else len(text)
        mine = [atom for atom in (*atoms, *found) if low <= atom.at < high]
        named = any(atom.kind in ("host", "apex") or _is_own(atom, own) for atom in mine)
        if not named and (label := label_in(text, low, high, mine)):
            found.append(label)
    found += _joined(text, atoms, own)
    rest = [atom for atom in atoms if atom.kind != "token" or all(atom.at != each.at for each in found)]
    return tuple(sorted([*rest, *found], key=lambda atom: atom.at))


def _is_own(atom: Atom, own: tuple[str, ...]) -> bool:
    return atom.kind == "fqdn" and stands_for_own(atom.value, own)


def name_told(text: str) -> str | None:
    """The only name that a heading is about: `For shop:`, `CNAME record (shop)`."""
    atoms = named_atoms(text)
    names = {atom.value for atom in atoms if atom.kind == "host"}
    if len(names) == 1 and all(atom.kind in ("host", "type", "field", *_FREE) for atom in atoms):
        return names.pop()
    if atoms:
        return None
    match = _PLACE.search(text)
    before = bare(text[: match.start()]).split()[-1:] if match else []
    return match[0] if match and before and before[0] in phrases_of("HOST_BEFORE") else None


def label_in(text: str, low: int, high: int, atoms: Sequence[Atom]) -> Atom | None:
    """The label between two places. `atoms`: what else is there."""
    for match in _KNOWN.finditer(text, low, high):
        called = field_roles(match[0])  # `pour le sous-domaine shop`
        if not called and not _taken(match.start(), match.end(), atoms) and _leads(text, match, atoms):
            return Atom("host", match[0], match.start(), match.end())
    return _announced(text, low, high, atoms)


def _leads(text: str, match: re.Match[str], atoms: Sequence[Atom]) -> bool:
    """Whether what is around a usual label says that it is a name."""
    before = text[: match.start()].rstrip()
    words = [bare(word) for word in re.findall(r"[^\W\d_]+", before)[-2:]]
    behind = text[match.end() : match.end() + 7].lstrip("\"”“»」' ")
    types = [atom for atom in atoms if atom.kind == "type"]
    gaps = [text[type.end : match.start()] for type in types if type.end <= match.start()]
    gaps += [text[match.end() : type.at] for type in types if type.at >= match.end()]
    beside = any(all(word in phrases_of("RECORD") for word in re.findall(r"[^\W\d_]+", bare(gap))) for gap in gaps)
    subdomain = (bool(words) and "host" in field_roles(words[-1])) or _BEHIND_SUBDOMAIN.search(before[-40:]) is not None
    leads = beside or subdomain or any(word in phrases_of("HOST_BEFORE") for word in words) or not before
    leads = leads or before.endswith(("为", "為", "给", "給", "对", "對", "将", "把"))
    return leads or bool(_POSTPOSITION.match(behind)) or bool(_SUBDOMAIN.match(text, match.end()))


def _joined(text: str, atoms: Sequence[Atom], own: tuple[str, ...]) -> list[Atom]:
    """`@ and shop`, `shop and @`."""
    found: list[Atom] = []
    ends = [atom.end for atom in atoms if atom.kind in ("host", "apex") or _is_own(atom, own)]
    ands = {at: atom.end for atom in atoms if atom.kind == "and" for at in (atom.at, atom.at - 1)}
    for end in ends:  # grows: what is joined may be joined to more
        match = _WORD.match(text, ands[end]) if end in ands else None
        if match is None or _taken(match.start(1), match.end(1), atoms):
            continue
        listed = match.end(1) in ands or _both().search(bare(text[:end])) is not None
        known = listed and not (bare(match[1]) in _no_names() or field_roles(match[1]) or events(match[1]))
        if not known and not _KNOWN.fullmatch(match[1]):
            continue
        if not any(atom.kind == "type" and 0 <= atom.at - match.end(1) < 3 for atom in atoms):
            found.append(Atom("host", match[1], match.start(1), match.end(1)))
            ends.append(match.end(1))
    return found


@cache
def _no_names() -> frozenset[str]:
    return phrases_of("STOP_WORDS") | phrases_of("RECORD") | phrases_of("JOINTS") | phrases_of("BOTH")


@cache
def _both() -> re.Pattern[str]:
    return any_word(phrases_of("BOTH"))


def _taken(at: int, end: int, atoms: Sequence[Atom]) -> bool:
    return any(atom.at < end and at < atom.end for atom in atoms if atom.kind not in _FREE)


@cache
def _announcing() -> re.Pattern[str]:
    label = r"[\"“„«‘']?([A-Za-z0-9][A-Za-z0-9-]{0,40})[\"”“»’']?"
    named, leads = any_word(phrases_of("NAMED")).pattern, any_word(phrases_of("HOST_BEFORE")).pattern
    return re.compile(rf"(?:{named})\s+{label}(?=[\s,;)]|$)|(?:{leads})\s+{label}(?=\s?[:：→])", re.I)


def _announced(text: str, low: int, high: int, atoms: Sequence[Atom]) -> Atom | None:
    """Any word that is announced as a name: `a record called till`, `CNAME record for till: ...`."""
    if not any(atom.kind in VALUES for atom in atoms):
        return None
    for match in _announcing().finditer(text, low, high):
        at, end = match.span(1 if match[1] else 2)
        word = bare(text[at:end])
        if word in _no_names() | phrases_of("VALUE_BEFORE") or field_roles(word) or type_of(text[at:end]):
            continue
        if not _taken(at, end, atoms):
            return Atom("host", text[at:end].lower(), at, end)
    return None
