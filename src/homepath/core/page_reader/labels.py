"""Rows that say what their parts are: `Type: CNAME`, several on a line, or the name alone with its value below."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

from homepath.core.page_reader.kinds import (
    address_of,
    clean,
    field_roles,
    is_fqdn,
    is_host_label,
    is_sure_host,
    is_tags,
    is_value,
    misread_field,
    special_type,
    type_of,
    without_button,
)
from homepath.core.page_reader.loose import loose_words
from homepath.core.page_reader.moods import NOT_WANTED, Mood, events, has_verb, mood_of_lead
from homepath.core.page_reader.pieces import (
    NUMBERS,
    Piece,
    Reading,
    evidence,
    fits,
    mood_of_action,
    mood_of_answer,
    role_of,
    says_nothing,
    value_text,
)
from homepath.core.page_reader.prose.announced import named_atoms
from homepath.core.page_reader.prose.atoms import VALUES, atoms_of
from homepath.core.page_reader.prose.sentences import sentence
from homepath.core.page_reader.rows import Cell, Row
from homepath.core.page_reader.titles import Title, mood_of_title, title_of
from homepath.core.page_reader.words import answer_of, fold, is_phrase, is_ttl, stems

_MARK = re.compile(r"[:=](?!//)(?!\S*::)\s*|\t+")
_QUOTED = re.compile(r'"[^"\n]*"')
_WORD = re.compile(r"(?:^|(?<=[\s,;|(\[•·、，；]))[^\W\d_]")
_KEY_BEFORE = re.compile(r"[A-Za-z0-9_][A-Za-z0-9_.-]*$")
_BROKEN = re.compile(r"[.!?,;]\s|(?<!\S)(?:@|www)(?!\S)")
"""What no name of a field holds."""
_OTHER_FIELD = re.compile(r"\t(?=[^\W\d_][\w /-]{0,30}:\s)")
"""A field of an unknown name in a cell of its own."""
_TRIM = " \t,;|·•–—-(、，；"


def labelled(row: Row) -> Reading | None:
    """The row's parts, where at least one has a name in front."""
    if any(cell.label for cell in row.cells):
        return _card(row)
    text = "\t".join(cell.text for cell in row.cells if cell.text)
    spans = list(_spans(text))
    if not spans:
        return _spaced(row) if len(row.cells) == 1 else None
    lead = text[: spans[0][0]].strip(_TRIM)
    if is_sure_host(lead) and "host" in spans[0][2].roles:
        return None  # `www subdomain: CNAME ...`
    atoms = named_atoms(lead)
    if any(atom.kind in ("address", "fqdn", "text", "special") for atom in atoms):
        return None
    front = [(atom.kind.replace("apex", "host"), atom.value) for atom in atoms if atom.kind in ("type", "host", "apex")]
    front = [("type", whole)] if (whole := type_of(lead)) else front
    front = [] if lead == "A" and spans[0][2].guessed and spans[0][2].mood else front  # `A eliminar:`, Spanish for `to`
    pieces = [Piece(role, word, row.line) for role, word in front]
    ends = [*(begin for begin, _, _ in spans[1:]), len(text)]
    told = [text[after:end].rstrip() for (_, after, _), end in zip(spans, ends, strict=True)]
    sentences = len(told) > 1 and all(each.endswith(".") for each in told if each)  # `Name: www. Value: x.example.`
    lost = 0.7 if lead and not pieces else 0.0
    waiting = None
    for number, (begin, after, title) in enumerate(spans, 1):
        end = spans[number][0] if number < len(spans) else len(text)
        value = _OTHER_FIELD.split(text[after:end].strip(), maxsplit=1)[0]
        value = _GOES_ON.sub("", value.removesuffix(".") if sentences else value)
        value = value if is_tags(value) else value.rstrip(" \t,;|·•–—(、，；")
        inside, mark, behind = value.partition(")")
        value, behind = (inside.rstrip(), behind) if mark and "(" not in inside else (value, "")
        if value or number < len(spans):
            found, trouble = _filled(title, value, row.line)
            if title.guessed and (found or not value) and not any(piece.role == "type" for piece in found):
                asked = [atom.value for atom in atoms_of(text[begin:after]) if atom.kind == "type"]
                pieces += [Piece("type", rrtype, row.line) for rrtype in asked[:1]]  # `Add a CNAME record: www = ...`
            pieces += found
            lost += trouble
        else:
            waiting = title
        # `A (host: @, value: 192.0.2.10) and CNAME (host: ...)`
        pieces += [Piece("type", atom.value, row.line) for atom in atoms_of(behind) if atom.kind == "type"]
    numbers = not pieces and not lead and spans[0][2].roles[0] in ("ttl", *NUMBERS)
    return Reading("field" if numbers else "labels", tuple(pieces), False, lost, mood_of_lead(lead), waiting=waiting)


def _card(row: Row) -> Reading | None:
    """A card from JSON or a list of definitions: every cell brings its name along."""
    pieces: list[Piece] = []
    lost = 0.0
    mood: Mood = ""
    for cell in row.cells:
        title = title_of(cell.label) or title_of(cell.label.replace(" ", ""))  # `r Data`
        if own_mood := _mood_of_cell(cell, title):
            mood = own_mood
        elif title is None and cell.text.isupper() and (rrtype := type_of(cell.text)):
            pieces.append(Piece("type", rrtype, row.line))  # whatever the key is called
        elif title is not None:
            found, trouble = _filled(title, cell.text, row.line, whole=True)
            pieces += found
            lost += trouble
    return Reading("labels", tuple(pieces), False, lost, mood) if pieces else None


def _mood_of_cell(cell: Cell, title: Title | None) -> Mood:
    """What a field for actions, or one such as `"delete": true`, says of its record."""
    if title is not None and role_of(title, cell.text) != "other":
        return ""
    answer = answer_of(cell.text)
    if not answer:
        return mood_of_action(cell.text)
    if title is not None and (mood := mood_of_answer(title, cell.text)):
        return mood
    mood = mood_of_title(cell.label)
    return mood if answer == "yes" and mood in ("delete", "keep", "optional") else ""


def _spaced(row: Row) -> Reading | None:
    """`Host www`: the name of a field, a space, and one word that fits."""
    words = row.text.split()
    if (whole := title_of(row.text)) and not whole.guessed:
        return None  # `Host name` is the name of a field, not the host `name`
    for size in (3, 2, 1):
        name, rest = " ".join(words[:size]), " ".join(words[size:])
        title = title_of(name)
        if not rest or not title or title.roles[0] == "other" or type_of(name):
            continue
        if " " in rest and not special_type(rest) and not is_ttl(rest):
            continue
        role = next((each for each in title.roles if fits(each, rest)), "")
        if role == "value" and (type_of(rest) or (title.guessed and not is_value(value_text(rest)))):
            continue
        if role and (role not in ("host", "value") or evidence(rest) or (role == "host" and is_host_label(rest))):
            return Reading("labels", (Piece(role, value_text(rest), row.line, title.mood, True),), False)
    return None


def _spans(text: str) -> Iterator[tuple[int, int, Title]]:
    """Where each name begins, where its value begins, and what it names."""
    begin, first = 0, True
    quoted = [match.span() for match in _QUOTED.finditer(text)]
    for mark in _MARK.finditer(text):
        if any(at < mark.start() < end for at, end in quoted):
            continue
        begin = max(begin, mark.start() - 100)
        key = _KEY_BEFORE.search(text[begin : mark.start()]) if mark[0] == "=" else None
        if key and not ((title := title_of(key[0])) and (not title.guessed or address_of(text[mark.end() :]))):
            continue  # `fern-check=8h2k1` is a value, and so is `keep=8h2k1`
        before = text[begin : mark.start()].rstrip(" *")
        tab = mark[0][0] == "\t"
        hit = None if type_of(before.strip(_TRIM)) and tab else _name_at_end(before, whole=first and tab)
        if hit is not None and not (tab and (type_of(words := before[hit[0] :]) or _asks_for_type(words))):
            yield begin + hit[0], mark.end(), hit[1]
            begin, first = mark.end(), False


def _asks_for_type(text: str) -> bool:
    """`Add a CNAME record`: an order, and no name of a field."""
    return has_verb(text) and any(atom.kind == "type" for atom in atoms_of(text))


def _name_at_end(text: str, whole: bool) -> tuple[int, Title] | None:
    """The longest name of a field that the text ends with. `whole`: nothing else may precede it."""
    for at in [match.start() for match in _WORD.finditer(text)][-6:]:
        words, front = text[at:], text[:at].strip(_TRIM)
        first, *others = words.split()
        if (whole and front) or ("(" in words and ")" not in words) or _BROKEN.search(words):
            continue
        if others and first.isupper() and type_of(first):
            continue  # `A host=@`: what is before the name is the value of the one before
        title = title_of(words.strip(_TRIM))
        if title is None and not front and (roles := misread_field(words)):
            title = Title(roles)
        if title is None and not front and is_phrase("ZONE", words.strip(_TRIM)):
            title = Title(("zone",))
        if title is not None and (title.roles[0] != "other" or not front):
            return at, title
    return None


def _filled(title: Title, value: str, line: int, whole: bool = False) -> tuple[list[Piece], float]:
    """The pieces of a named value: one, or several where a whole record follows the name."""
    role = role_of(title, value)
    value = without_button(value) if role in ("type", "host") else value
    if (mood := mood_of_answer(title, value)) and mood != "want":
        return [Piece("mood", value, line, mood)], 0.0
    if role == "other" or (role == "value" and says_nothing(value)):
        return [], 0.0
    if title.guessed and title.mood in NOT_WANTED and all(map(type_of, re.split(r"\s*[,;/&]\s*", value))):
        return [], 0.0  # `Do not change: MX, SPF`
    number, *behind = value.split() or [""]
    if role in NUMBERS and fits(role, number) and len(behind) == 1 and is_fqdn(behind[0]):
        return [
            Piece(role, number, line, "", True),
            Piece("value", behind[0], line),
        ], 0.0  # `Priority: 10  mx1.x.example`
    if put := _put_in(role, value):
        return [Piece(role, put, line, title.mood, True)], 0.0
    if len(value.split()) > 1 and role in ("type", "value", "host") and not whole and not special_type(value):
        inner = loose_words(value, line)
        roles = {piece.role for piece in inner.pieces} if inner else set()
        if inner and len(roles) > 1 and (role != "host" or "type" in roles):
            return [Piece(each.role, each.text, line, title.mood) for each in inner.pieces], 0.0
    several = sum(atom.kind in VALUES for atom in atoms_of(value)) > 1  # `it is 198.51.100.7 and must be 192.0.2.10`
    if (title.guessed or several) and role == "value" and not is_value(value) and (told := sentence(value, line)):
        return [
            replace(each, mood=(each.mood if several else "") or title.mood) for each in told.pieces
        ], 0.0  # `New: AAAA record for @: 2001:db8::1`
    if not fits(role, value) or (title.guessed and role == "value" and " " in value and not evidence(value)):
        return [], 1.5 if value else 0.0
    text = value_text(value) if role == "value" else value if role == "host" else clean(value)
    return [Piece(role, text, line, title.mood, True)], 0.0


_PUT_IN: dict[str, tuple[str, ...]] = {
    "type": ("type",), "host": ("host", "apex", "fqdn", "quoted"), "value": (*VALUES, "token", "quoted"),
}  # fmt: skip


def _put_in(role: str, text: str) -> str:
    """What is to be put into a field, where an order says so: `choose "CNAME" from the list`, `type www`."""
    verb, _, rest = text.partition(" ")
    if not rest or len(text) > 200 or not (stems("CHOOSE").find(fold(verb)) or events(verb) == events(text)[:1] != ()):
        return ""
    found = [atom for atom in atoms_of(rest) if atom.kind not in ("and", "stop", "number")]
    if len(found) == 1 and found[0].kind in _PUT_IN.get(role, ()):
        return found[0].value
    return rest if role == "host" and not found and is_host_label(rest) and not is_phrase("BLANK", rest) else ""


def named_rest(row: Row) -> list[str] | None:
    """`CNAME: www → x.example`, `@: 192.0.2.10`: a type or a host before a colon, then the rest, as cells."""
    cells: list[str] = []
    for cell in row.cells:
        match = _HEAD.match(cell.text)
        name = _SUBDOMAIN.fullmatch(match[1]) if match else None
        head = name[1] if name and "host" in field_roles(name[2]) else match[1] if match else ""
        cells += [head, match[2]] if match and _is_head(head) else [cell.text]
    found = [cell for cell in cells if cell]
    if len(row.cells) == 1 == len(found) and (match := _HEAD.match(found[0])) and 3 <= len(match[2].split()) <= 4:
        if len(match[1].split()) > 2 or mood_of_lead(match[1]) or ":" not in found[0][match.end(1) : match.start(2)]:
            return None
        found = match[2].split()  # `Bounces: CNAME bounce x.example`
        return found if type_of(found[0]) and found[0].isupper() else None
    return found if len(cells) > len(row.cells) else None


_GOES_ON = re.compile(r"(?<=\w),\s+(?:and|then|und|dann|et|puis|y|luego|e|poi|en|och|og|ja|oraz|a|pak)\s+[^\W\d_].*$")
"""`k2k2, and press Save`: the sentence goes on behind the value."""
_SUBDOMAIN = re.compile(r"(www|_?[a-z0-9-]+) ([^\W\d_]+)")
"""`www subdomain`"""
_HEAD = re.compile(r"^(.{1,80}?)\s*(?::(?=\s|$)|\s[–—-]\s)\s*(.*)$")


def _is_head(text: str) -> bool:
    return type_of(text) is not None or is_sure_host(text) or is_phrase("APEX", text) or is_fqdn(text)
