"""What is taken off a row before it is read: conditions, options, remarks, and the value that is there now."""

from __future__ import annotations

import re
from dataclasses import replace
from itertools import pairwise

from homepath.core.page_reader.kinds import (
    FQDN,
    field_roles,
    is_button,
    is_fqdn,
    is_status,
    is_sure_host,
    type_by_value,
    type_of,
)
from homepath.core.page_reader.labels import labelled
from homepath.core.page_reader.leads import is_alternative, option_of
from homepath.core.page_reader.moods import events, has_verb
from homepath.core.page_reader.pieces import mood_of_condition, mood_of_note
from homepath.core.page_reader.prose.atoms import VALUES, Atom, atoms_of
from homepath.core.page_reader.prose.clauses import value_told
from homepath.core.page_reader.prose.replacing import FROM_BEHIND, NEW_BEHIND
from homepath.core.page_reader.rows import ARROW, Row, cells_of
from homepath.core.page_reader.words import UNSPACED, bare, fold, is_phrase, phrases_of, stems

_ASIDE = re.compile(r"\s*[(（]([^()（）]{8,})[)）]\s*\.?$")
NAME_ASIDE = re.compile(r"\s*[(（]([^()（）]{1,30})[)）]$")


def without_aside(row: Row) -> tuple[Row, str]:
    """A row without a remark in brackets at its end that is about other records, `(delete any other www record)`, or
    about what is there now, `(was 198.51.100.7)`; and that value."""
    named = NAME_ASIDE.search(row.text) if len(row.cells) > 1 and row.kind == "text" else None
    if named and is_phrase("APEX", named[1]):  # `A → 192.0.2.10 (root)`
        rest = replace(row.cells[-1], text=row.cells[-1].text.removesuffix(named[0]))
        return replace(row, cells=(*row.cells[:-1], rest, replace(rest, text="@"))), ""
    match = _ASIDE.search(row.text)
    if match is None or not holds(replace(row, text=row.text[: match.start()])):
        return row, ""
    old, mood = value_told(match[1])
    own = mood_of_condition(match[1])
    if not old and (own or conditional(match[1])):  # the other kind: `if there is one, edit it`
        text = row.text[: match.start()] + (" (optional)" if own else "")
        return replace(row, text=text, cells=cells_of(text)), ""
    same = [a for a in atoms_of(row.text[: match.start()]) if old and type_by_value(a.value) == type_by_value(old)]
    if mood == "want" and len(same) == 1 and same[0].kind in ("address", "fqdn"):
        text = row.text[: same[0].at] + old + row.text[same[0].end : match.start()]
        return replace(row, text=text, cells=cells_of(text)), same[0].value
    old = old if mood == "current" else ""
    new = _is_new(match[1])
    if not (old or new) and (not has_verb(match[1]) or mood_of_note(match[1])[0]):
        return row, ""
    aside = _ASIDE.search(row.cells[-1].text) if row.cells else None
    if aside is None or not (aside.start() or old or new):
        return row, ""
    rest = replace(row.cells[-1], text=row.cells[-1].text[: aside.start()])
    cells = (*row.cells[:-1], *([rest] if rest.text else []))
    return replace(row, text=row.text[: match.start()], cells=cells), old


def _is_new(remark: str) -> bool:
    """`So far no record`, `currently: none`: the row is about a record that is not there yet."""
    kinds = {event.kind for event in events(remark)}
    words = set(re.findall(r"[^\W\d_]{2,}", bare(remark)))
    return "CURRENT" in kinds <= {"CURRENT", "NOT"} and bool(
        stems("NOT").find(fold(remark)) or words & phrases_of("BLANK")
    )


def _from_to(text: str, now: Atom, new: Atom) -> tuple[int, int] | None:
    """Where the `from 198.51.100.7` of `from 198.51.100.7 to 192.0.2.10` begins and ends; None where it is none."""
    before, between = text[: now.at].rstrip(), text[now.end : new.at]
    word = (re.findall(r"[^\W\d_]+$", before) or [""])[0]
    glued = (each for each in phrases_of("FROM") if UNSPACED.search(each) and word.endswith(each))
    begin = word if bare(word) in phrases_of("FROM") else next(glued, "")
    behind = FROM_BEHIND.match(between)
    between = between[behind.end() :] if behind else between
    is_to = bare(between) in phrases_of("VALUE_BEFORE") or re.search(r"[为為成到]\s*$", between)
    if not (begin or behind) or not (is_to or NEW_BEHIND.match(text, new.end)) or len(between) > 20:
        return None
    return len(before) - len(begin) if begin else now.at, now.end + (behind.end() if behind else 0)


def without_former(row: Row) -> tuple[Row, str]:
    """A row without the value that is there now: `from 198.51.100.7 to 192.0.2.10`, `198.51.100.7 → 192.0.2.10`; and
    that value."""
    atoms = [atom for atom in atoms_of(row.text) if atom.kind != "and"] if row.kind == "text" else []
    for number, (now, new) in enumerate(pairwise(atoms)):
        if now.kind != new.kind or now.kind not in ("address", "fqdn"):
            continue
        between = row.text[now.end : new.at].strip()
        kinds = {atom.kind for atom in atoms[:number]}
        led = _from_to(row.text, now, new)
        has_name = kinds & {"host", "apex", "fqdn"}
        turned = ARROW.fullmatch(between) and (now.kind == "address" or ("type" in kinds and has_name))
        of_type = now.kind == "fqdn" and number > 0 and atoms[number - 1].kind == "type"  # `o CNAME de own.test para x`
        named = now.kind == "address" or (has_name and not of_type)
        if led and named:
            text = row.text[: led[0]] + row.text[led[1] :].lstrip()
            return replace(row, text=text, cells=cells_of(text)), now.value
        if turned:
            text = row.text[: now.at] + row.text[new.at :]
            return replace(row, text=text, cells=cells_of(text)), now.value
    return row, ""


_CONDITION_ENDS = re.compile(r"[:,：、，]\s*")


def condition_apart(row: Row) -> Row | None:
    """`If your host has no ALIAS: A @ 192.0.2.10` without the condition; None for any other row."""
    if row.kind in ("table", "card") or not conditional(row.text):
        return None
    mark = _CONDITION_ENDS.search(row.text)
    named = mark and any(atom.kind in ("host", "apex") for atom in atoms_of(row.text[: mark.start()]))
    return None if named else _behind(row, mark)


_OPTION_ENDS = re.compile(r":\s+|\s[–—-]\s")
_ZONE = re.compile(rf"(?:[^\W\d_]+ ){{0,4}}\(?((?!www\.){FQDN})\)?:\s+")
_STATE = re.compile(r"\s+[—–-]\s+|\s*[:|]\s+")
_EXAMPLE = re.compile(r"([^\W\d_]+)\s*[(（][^()（）]*[)）]\s*(?=[:：])")


def without_remark(row: Row) -> Row:
    """`Example (do not copy): A @ 192.0.2.10` without the remark, `www.own.test - Not connected` without the state."""
    name, *behind = _STATE.split(row.text, maxsplit=1) if row.kind == "text" else [""]
    if behind and is_fqdn(name) and is_status(behind[0]):
        return replace(row, text=name, cells=cells_of(name))
    match = _EXAMPLE.match(row.text)
    if match is None or not is_phrase("EXAMPLE", match[1]):
        return row
    text = match[1] + row.text[match.end() :]
    return replace(row, text=text, cells=cells_of(text))


def option_apart(row: Row) -> tuple[Row, Row] | None:
    """`Option 2: A @ 192.0.2.10`, `own.test: A @ 192.0.2.10` as the heading and the row; None for any other row."""
    mark = _OPTION_ENDS.search(row.text[:60])
    if mark and option_of(row.text[: mark.start()]) not in ("", "or"):
        head, rest = row.text[: mark.start()] + ":", _behind(row, mark)
    elif zone := _ZONE.match(row.text):
        behind = row.text[zone.end() :]
        whole = {"type", "host"} <= {atom.kind for atom in atoms_of(behind)} and holds(replace(row, text=behind))
        head, rest = f"{zone[1]}:", replace(row, text=behind, cells=cells_of(behind)) if whole else None
    else:
        return None
    if rest is None:
        return None
    return replace(row, text=head, cells=cells_of(head)), rest


def sentence_apart(row: Row) -> tuple[Row, Row] | None:
    """`Add this: name @, value 192.0.2.10. Delete the old record.` as two rows, and `If there is an old record, delete
    it. Add www.`: the condition is not for what follows. None for any other row."""
    lone = row.kind == "text" and len(row.cells) == 1
    for match in _SENTENCE_ENDS.finditer(row.text) if lone else ():
        head, rest = (
            replace(row, text=text, cells=cells_of(text))
            for text in (row.text[: match.start()], row.text[match.end() :])
        )
        if conditional(head.text) and {event.kind for event in events(head.text)} & {"DELETE", "KEEP"}:
            return (head, rest) if not (conditional(rest.text) or is_alternative(rest.text, True)) else None
        atoms = atoms_of(head.text) if ":" in head.text else ()
        whole = atoms and atoms[-1].kind in (*VALUES, "token") and len(head.text) - atoms[-1].end <= 1
        if whole and rest.text[:1].isupper() and (named := labelled(head)) and len(named.pieces) > 1:
            return head, rest
    return None


_SENTENCE_ENDS = re.compile(r"[.!]\s+")


def _behind(row: Row, mark: re.Match[str] | None) -> Row | None:
    """What is behind a mark, where all of a record's values are there."""
    if mark is None or any(atom.kind in VALUES for atom in atoms_of(row.text[: mark.start()])):
        return None
    rest = row.text[mark.end() :]
    found = any(atom.kind in VALUES for atom in atoms_of(rest))
    return replace(row, text=rest, cells=cells_of(rest)) if found else None


def _about_itself(row: Row) -> bool:
    """`Domain: own.test`, a button, a state: nothing in it is for a record."""
    head, mark, rest = row.text.partition(":")
    if is_button(row.text) or is_status(row.text):
        return True
    return bool(mark) and is_phrase("OWN_LABEL", head) and is_fqdn(rest.strip())


def holds(row: Row) -> bool:
    """Whether something in the row can be a part of a record."""
    if not row.text or _about_itself(row):
        return False
    atoms = atoms_of(row.text)
    kinds = [atom.kind for atom in atoms]
    if "fqdn" in kinds and any(atom.kind == "field" and atom.value == "priority" for atom in atoms):
        return True
    if kinds == ["number", "fqdn"] and len(row.cells) == 2:
        return True  # `10   mx1.x.example`
    if any(kind in ("address", "special", "text", "part", "type") for kind in kinds):
        return True
    lone = len(row.text.split()) == 1 and (is_fqdn(row.text) or is_sure_host(row.text))
    return lone or sum(kind in ("token", "fqdn", "host") for kind in kinds) > 1


def conditional(text: str) -> bool:
    """Whether a text begins with a condition, also behind `CAA:`."""
    head, mark, rest = text.partition(": ")
    folded = fold(rest.lstrip() if mark and type_of(head) else text)
    found, only = stems("IF").find(folded), stems("ONLY").find(folded)
    first = only[0][1] + 1 if only and only[0][0] == 0 else 0  # `Only if you use our mail`
    if found and folded[found[0][0] : found[0][1]] == "als" and field_roles([*folded[found[0][1] :].split(), ""][0]):
        return False  # German: `Als Name www eintragen`
    return bool(found) and found[0][0] <= first + 3
