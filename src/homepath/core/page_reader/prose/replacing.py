"""Of the values beside a word for replacing: which is the old one, and which the new one."""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import cache
from itertools import pairwise

from homepath.core.page_reader.moods import VERB_LAST, Event, Mood
from homepath.core.page_reader.prose.atoms import Atom
from homepath.core.page_reader.words import bare, field_words, fold, phrases_of, stems

_HOST_ONLY = frozenset(("is", "da", "de", "od", "von", "value", "valor", "valeur", "valore", "wert", "a", "na", "do"))
"""Words before a value that say nothing of whether it is the new one."""
IS = re.compile(r"(?<!\w)(?:is|ist|est|es|e|ar|er|on|jest|je)(?!\w)")
_EQUALS = re.compile(rf"[:=]|{IS.pattern}")


def replaced(text: str, atoms: Sequence[Atom], values: Sequence[int], events: Sequence[Event]) -> dict[int, Mood]:
    """`Change 198.51.100.7 to 192.0.2.10`: of two values beside a word for replacing, the first is the old one."""
    nouns = [at for at, _ in stems("CHANGES").find(fold(text))]  # `two changes: ...`
    changes = [event for event in events if event.kind == "REPLACE" and event.at not in nouns]
    if not changes or any(event.kind in ("DELETE", "KEEP", "NOT") for event in events):
        return {}
    adds = [event.at for event in events if event.kind == "ADD" and event.at > changes[0].end]
    later = [at for at in values if adds and atoms[at].at > adds[0]]  # `change a to b, and add c`
    before = [at for at in values if atoms[at].end <= changes[0].at]
    if adds and not later and before and VERB_LAST.search(text) and NEW_BEHIND.match(text, atoms[before[-1]].end):
        later = [at for at in values if at not in before]
    if later:
        first = [at for at in values if at not in later]
        rest = [event for event in events if event.at < adds[0]]
        wanted: dict[int, Mood] = dict.fromkeys(later, "want")
        return {**(replaced(text, atoms, first, rest) if first else {}), **wanted}
    # the name that the record is for is none of its values
    values = [at for at in values if atoms[at].kind != "fqdn" or not _is_for(text, atoms[at]) or at == values[-1]]
    types = {atom.value for atom in atoms[: max(values)] if atom.kind == "type"}
    if types and types <= {"A", "AAAA"} and any(atoms[at].kind == "address" for at in values):
        values = [at for at in values if atoms[at].kind != "fqdn"]  # no name can be their value
    if (of_each := _of_each(text, atoms, values)) is not None:
        return of_each
    addresses = [at for at in values if atoms[at].kind == "address"]
    names = [at for at in values if at not in addresses]
    if len(addresses) == len(names) == 2 and all(atoms[at].kind == "fqdn" for at in names):
        return replaced(text, atoms, addresses, events) | replaced(text, atoms, names, events)
    if len(addresses) == 2:  # a name beside them is the one that they are for
        values = addresses
    if len(values) == 1:
        only = atoms[values[0]]
        named = values[0] > 0 and atoms[values[0] - 1].kind == "field" and atoms[values[0] - 1].value == "value"
        equals = named and _EQUALS.search(bare(text[atoms[values[0] - 1].end : only.at]))
        if leads_to_new(text, only) or equals:
            return {values[0]: "want"}
        old = any(event.kind == "CURRENT" and changes[0].end <= event.at < only.at for event in events)
        return {values[0]: "current" if old else "unsure"}
    if len({atoms[at].kind for at in values}) > 1:
        name, new = values[0], values[-1]  # `repoint own.test to 192.0.2.10`
        named = len(values) == 2 and atoms[new].kind == "address" and leads_to_new(text, atoms[new])
        return {name: "", new: "want"} if named else dict.fromkeys(values, "unsure")
    behind = text[atoms[values[-1]].end :]
    if stems("FOLLOWING").find(fold(behind)) and {bare(word) for word in behind.split()} & phrases_of("VALUE_BEFORE"):
        return dict.fromkeys(values, "current")  # `change them from a and b to these:`
    ahead = text[changes[0].end : max(changes[0].end, atoms[values[0]].at)]
    if stems("FOLLOWING").find(fold(ahead)) and {bare(word) for word in ahead.split()} & phrases_of("VALUE_BEFORE"):
        return dict.fromkeys(values, "want")  # `replace it by these two: a and b`
    if len(values) == 2 and _by_its_subject(text, atoms[values[0]], atoms[values[1]], changes[0]):
        return {values[0]: "want", values[1]: "current"}
    lists = _lists(text, atoms, values)
    if len(lists) == 1:
        return dict.fromkeys(values, _mood_of_list(text, atoms[values[0]], atoms[values[-1]]))
    turn = _turn(text, atoms, values, changes[0]) if len(lists) != 2 else len(lists[0])
    return {at: "current" if number < turn else "want" for number, at in enumerate(values)}


def _lists(text: str, atoms: Sequence[Atom], values: Sequence[int]) -> list[list[int]]:
    """The values, those together between which is nothing but an `and` or a comma."""
    lists = [[values[0]]]
    for one, other in pairwise(values):
        between = fold(text[atoms[one].end : atoms[other].at])
        if _is_behind_from(text, atoms[one]) and bare(between) in phrases_of("VALUE_BEFORE"):
            between = "to"  # `de 198.51.100.7 a 192.0.2.10`; `a` is an `and` in other languages
        for at, end in reversed(stems("AND").find(between)):
            between = between[:at] + between[end:]
        if between.strip(" ,、，;&ו"):
            lists.append([])
        lists[-1].append(other)
    return lists


def _is_behind_from(text: str, atom: Atom) -> bool:
    word = (re.findall(r"[^\W\d_]+", bare(text[: atom.at])) or [""])[-1]
    return word in phrases_of("FROM") - phrases_of("VALUE_BEFORE")


def _mood_of_list(text: str, first: Atom, last: Atom) -> Mood:
    """What a list beside a word for replacing is: what comes behind `to`, what goes behind `from`."""
    if _is_behind_from(text, first):
        return "current"
    return "want" if leads_to_new(text, first) or NEW_BEHIND.match(text, last.end) else "unsure"


def _by_its_subject(text: str, new: Atom, old: Atom, change: Event) -> bool:
    """`192.0.2.10 replaces 198.51.100.7`: the verb is between the two, and no `with` or `to` follows it."""
    if not new.end <= change.at < change.end <= old.at or leads_to_new(text, old):
        return False
    if FROM_BEHIND.match(text, new.end) or re.search(r"[为為成到向]", text[change.at : old.at]):
        return False
    between = {bare(word) for word in re.findall(r"[^\W\d_]+", text[change.end : old.at])}
    return not between & (phrases_of("VALUE_BEFORE") - _HOST_ONLY)


def _of_each(text: str, atoms: Sequence[Atom], values: Sequence[int]) -> dict[int, Mood] | None:
    """`Change the A record of own.test to 192.0.2.10 and the CNAME record of www.own.test to x.example`: each type has
    a name and a value behind it."""
    types = [at for at, atom in enumerate(atoms) if atom.kind == "type"]
    found: dict[int, Mood] = {}
    for begin, end in pairwise([*types, len(atoms)]):
        mine = [at for at in values if begin < at < end]
        *name, new = mine or [begin]
        if len(name) > 1 or any(atoms[at].kind != "fqdn" for at in name) or not leads_to_new(text, atoms[new]):
            return None
        for at in mine:
            found[at] = "want" if at == new else ""
    return found if len(types) > 1 and set(found) == set(values) else None


FROM_BEHIND = re.compile(r"\s*(?:से|から|에서)|['’-]?(?:[dt][ae]n|r[óő]l)\b")
"""Words for `from` that follow their value."""


def _is_for(text: str, atom: Atom) -> bool:
    word = re.search(r"([^\W\d_]+)\W*$", text[: atom.at])
    return word is not None and bare(word[1]) in phrases_of("HOST_BEFORE") - phrases_of("VALUE_BEFORE") - phrases_of(
        "FROM"
    )


def leads_to_new(text: str, atom: Atom) -> bool:
    """A word for `to` or `with` precedes the value."""
    words = re.findall(r"[^\W\d_]+", bare(text[max(0, atom.at - 60) : atom.at]))
    if words and words[-1] in phrases_of("VALUE_BEFORE"):
        return True
    if len(words) > 1 and words[-1] in phrases_of("JOINTS") and words[-2] in phrases_of("VALUE_BEFORE") - _HOST_ONLY:
        return True  # `auf die 192.0.2.10`
    if len(words) > 2 and "value" in field_words().get(words[-1], ()) and words[-2] in phrases_of("JOINTS"):
        words = words[:-2]  # `to the address 192.0.2.10`
    elif (
        len(words) > 3
        and {" ".join(words[-2:]), "-".join(words[-2:])} & field_words().keys()
        and words[-3] in phrases_of("JOINTS")
    ):
        words = words[:-3]  # `auf die IP-Adresse 192.0.2.10`
    elif typed := [at for at, word in enumerate(words) if word in ("cname", "alias")]:
        last = [*words[: typed[-1]], *(word for word in words[typed[-1] + 1 :] if word not in _beside_type())]
        words = last if len(last) == typed[-1] else []  # `to a CNAME for x.example`
        while words and words[-1] in phrases_of("JOINTS"):
            words.pop()
    else:
        words = []
    if words and words[-1] in phrases_of("VALUE_BEFORE") - _HOST_ONLY:
        return True
    if atom.kind == "address" and _names_the_new(text[: atom.at]):
        return True
    return bool(re.search(r"(?:[为為成到]|เป็น|ไปที่|ไปยัง)\s*$", text[: atom.at]) or NEW_BEHIND.match(text, atom.end))


@cache
def _beside_type() -> frozenset[str]:
    return phrases_of("RECORD") | phrases_of("HOST_BEFORE") | phrases_of("VALUE_BEFORE")


NEW_BEHIND = re.compile(
    r"[\"'”’»」]?\s*(?:に|へ|로|으로|\(으\)로|पर|में|करें|कर दें|olarak|értékre|címre|(?:['’:-](?:r[ae]|y?[ae]|ksi)\b))"
)
"""Words and endings for `to` that follow their value."""


def _names_the_new(before: str) -> bool:
    """`Change the A record: 192.0.2.10`, `modificare in 192.0.2.10`: no word for exchanging, and a sign or word for
    what it is to be right before the address."""
    return re.search(r"[:：=]\s*$|\bin\s+$", before) is not None and not stems("EXCHANGE").find(fold(before))


def _turn(text: str, atoms: Sequence[Atom], values: Sequence[int], change: Event) -> int:
    """How many of the values precede the `with`, `to` or `by` that introduces the new ones; one where none does."""
    for number, at in [*[*enumerate(values)][1:], (0, values[0])]:  # `the value a to the value b`
        begin = atoms[values[number - 1]].end if number else min(change.end, atoms[at].at)
        between = {bare(word) for word in re.findall(r"[^\W\d_]+", text[begin : atoms[at].at])[-2:]}
        if between & (phrases_of("VALUE_BEFORE") - _HOST_ONLY):
            return number
    return 1
