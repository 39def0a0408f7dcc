"""A text as rows of cells: what mail, chat, lists and Markdown put around the words is taken off, nothing is lost."""

from __future__ import annotations

import html
import re
import unicodedata
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Literal

from homepath.core.message import msg
from homepath.core.model.problems import BadInput, Problem
from homepath.core.page_reader.kinds import without_button
from homepath.core.page_reader.mail_and_chat import QUOTED, mail_heads, without_stamp
from homepath.core.page_reader.wordlists.moods import SUBDOMAIN

RowKind = Literal["text", "heading", "table", "card", "rule", "blank"]
LONGEST_LINE = 2500
"""Characters; a longer line is named and not read."""
MOST_CELLS = 60
MOST_LINES = 2000
"""Lines with something in them; a text with more is no page."""


MOST_TEXT = 100_000
"""Characters that a page shows, at most."""


def too_long() -> BadInput:
    """Why a text is no page any more."""
    message = msg("page.too-long", lines=MOST_LINES, size=MOST_TEXT)
    return BadInput(Problem(message, hint=msg("page.copy-the-part")))


@dataclass(frozen=True, slots=True)
class Cell:
    """A piece between two separators. `at`: where it begins in its line. `label`: the field that the source names."""

    text: str
    at: int = 0
    label: str = ""


@dataclass(frozen=True, slots=True)
class Row:
    """One line, or one row of a table, with the number of its line.

    `mark`: `+` or `-` before it, `item` for a bullet or number, `struck` where it is crossed out, `comment` behind a
    master file's `;`, `torn` where it was cut at a hyphen that may be its own, `head` for a table's own heading cells.
    `group`: rows of one table or list of the source.
    """

    line: int
    text: str
    cells: tuple[Cell, ...]
    kind: RowKind = "text"
    mark: str = ""
    group: int = 0
    more: tuple[int, ...] = ()
    """Further lines that this one goes on in."""


@dataclass(slots=True)
class Hidden:
    """Characters that cannot be seen, and where: by line."""

    inside: dict[int, str] = field(default_factory=dict)


_SPACES = re.compile("[\u00a0\u2000-\u200a\u202f\u205f\u3000]")
_PREFIX = re.compile("([\u05d0-\u05ea])[-\u05be](?=[A-Za-z0-9@*])")
"""A Hebrew prefix such as `to` before a name in Latin letters."""
_WIDE = {code: code - 0xFEE0 for code in range(0xFF01, 0xFF5F)}
_STEP = re.compile(
    r"^\s*(?:step|schritt|étape|etape|paso|passo|stap|steg|trin|vaihe|krok|lépés|pas(?:ul)?|шаг|крок|стъпка|βήμα|adım|الخطوة"
    r"|שלב|ステップ|手順|步骤|第|단계|चरण|langkah|bước|ขั้นตอนที่)\s*[0-9一二三四五]{1,2}\s*(?:步|단계)?\s*[:.)\-–：、]?\s*",
    re.I,
)
_BULLET = re.compile(
    r"^\s*(?:[-*+\u2022\u2023\u25e6\u2043\u2219\u25aa\u25ab\u25cf\u25cb\u2713\u2714\u2610\u2611\u2794\u00b7\u30fb\u2013\u2014"
    r"\u2705\u274c\u274e\u26a0\u2717\u2718\U0001f534\U0001f7e0-\U0001f7e2]"
    r"|\(?[0-9]{1,2}[.)\uff09]|\(?[a-hA-H][)]|[\u2460-\u2473]|[0-9]\ufe0f?\u20e3)\s+"
)
_CIRCLED = re.compile(r"^\s*(?:[\u2460-\u2473]|[0-9]\ufe0f?\u20e3|[0-9]{1,2}\u3001)\s*")
ARROW = re.compile(r"\s*(?:\u2192|\u21d2|\u27a1\ufe0f?|\u2794|\u279c|\u27f6|\u21a6|\u25b6|-{1,2}>|={1,2}>|>>>?)\s*")
_PLACE = re.compile(
    r"(?:<|\[|\{\{?)\s*((?:your|my|the|ihr|dein|votre|ton|tu|su|uw|din|ditt|twój|váš)?[ _-]?[^\W\d_][\w _-]{0,40}?)"
    r"\s*(?:>|\]|\}\}?)|(?<![^\s.])\((domain|your domain|domain name)\)"
)
_LINKED = re.compile(r"<((?:[\w-]+\.)+[\w-]+\.?)>")
"""A name as a mark-up language makes a link of it."""
_TIMES = re.compile(
    r"\b[0-9]{4}-[0-9]{2}-[0-9]{2}[T ][0-9]{2}:[0-9]{2}(?::[0-9]{2})?(?:\.[0-9]+)?(?:\s?Z|[+-][0-9]{2}:?[0-9]{2})?"
)
_ENDS = r"\w*(?![\w-]*\.\w)"
_HYPHENED = re.compile(
    rf"(?<![\w.@-])(?:(?!your|my)(?:@|[a-z][a-z0-9]{{1,30}})-(?=(?:{SUBDOMAIN}){_ENDS})"
    rf"|(?:www|@)-(?=(?:nime|nimi|tietue|osoit|host|name|eintrag|adress|post|record|rekord|namn|navn|z[aá]znam){_ENDS}))",
    re.I,
)
"""`www-Subdomain`"""
_INFLECTED = re.compile(
    r"(?<![\w.-])(www|@|(?:[a-z0-9-]+\.)+[a-z]{2,}):(?:n|lle|ksi|st[aä]|ss[aä]|ll[aä]|een|iin|t[aä])(?!\w)"
)
"""Finnish endings: `www:n`"""
_NUMBERED = re.compile(
    r"(?:\bv|\b(?:version|versi[oó]n|vers[aã]o|versione|wersja|verze|verzi[oóa]|versjon|versio|sürüm|build|release|rev"
    r"|revision|firmware)|верси[яи]|версія|έκδοση|バージョン|版本|버전|الإصدار|גרסה)[ .:]{0,2}[0-9]+(?:\.[0-9]+)+\b"
    r"|\b(?:invoice|rechnung|facture|factura|fattura|fatura|order|bestellung|ticket|case|reference|customer|kunden\w*"
    r"|receipt|contract)\b ?(?:no\.?|nr\.?|number|nummer|id|#)?[ :#]{0,2}[A-Z]{0,6}[-#]?[0-9][A-Z0-9-]*[0-9]\b"
    r"(?![.:]\w)"
    r"|\b(?:call|phone|tel|telephone|telefon\w*|tel[eé]fono|fax|hotline)\b[^\d\n@]{0,20}\+?[0-9(][0-9 ()/-]{5,}[0-9]"
    r"|[€$£¥]\s?[0-9]+(?:[.,][0-9]+)*|\b[0-9]+(?:[.,][0-9]+)*\s?[€£¥]",
    re.I,
)
"""Numbers that are no part of a record: versions, document and phone numbers, prices."""
_TYPED = re.compile(r"(?<![\w.-])(?:A|AAAA|CNAME|TXT|MX|SRV|CAA|NS|HTTPS)(?![\w.-])")
"""A row with a type may well be about a host called `build` or `order`."""
_ALIGNED = re.compile(r"^(\s*[\"']?[A-Za-z][\w .-]{0,30}?[\"']?)\s{2,}([=:])\s")
_DOTTED = re.compile(r"^(\s*[^\W\d_][\w -]{0,30}?)\s*(?:\.{4,}|(?:\. ){3,}\.?)\s*[:=]?\s*(?=\S)")
"""`Host ..... www`"""
_WIDE_GAP = re.compile(r"[ \t]{100,}")
_LAMP = re.compile(r"^\s*[\U0001f300-\U0001faff]+\s+(?=(?:A|AAAA|CNAME|TXT|MX|SRV|CAA|NS|HTTPS)\s*$)")
"""A coloured sign before a type that is alone on its line."""
_MD_LINK = re.compile(r"\[([^\[\]()]{1,300})\]\((?:https?:|mailto:|/)[^()\s]{0,300}\)")
_TAG = re.compile(r"</?(?:br|b|i|u|p|strong|em|span|div|font|code|li|ul|ol|td|tr)(?:\s[^<>]{0,80})?/?>", re.I)
"""Tags in a text that is no page of HTML."""
_ENTITY = re.compile(r"&(?:nbsp|amp|lt|gt|quot|#[0-9]{1,7}|#x[0-9a-f]{1,6});", re.I)
_PLACE_WORD = re.compile(r"your|my|ihr|dein|votre|[_-]|code|id|account|token|domain", re.I)
_SECTION = re.compile(r"\s*\[([^\[\]]{2,40})\]\s*")
"""`[Website]`"""
_FRAMED = re.compile(r"\s*([=*~#+-]{2,}|—+|─+)\s+(\S.*?\S)\s+\1\s*")
"""`== Website ==`"""
_RULE = re.compile(r"^[\s|+\-=_:*~.·─━│┃┌┐└┘├┤┬┴┼═║╔╗╚╝╠╣╦╩╬{}]*$")
_BLOCK = re.compile(r'\s*[A-Za-z_][\w-]*(?:\s+"[^"]*")*\s*=?\s*\{')
"""`record "www" {`: a block of a configuration begins, with a name of its own."""


def rows_of(text: str, hidden: Hidden, first: int = 1) -> Iterator[Row]:
    """The rows of a text; the first line has the number `first`."""
    lines = text.replace("\r\n", "\n").replace("\r", "\n").split("\n")
    diff, header = is_diff(lines), {at + first for at in mail_heads(lines)}
    if any(re.match(r"\s*update\s+(?:add|delete)\s", line) for line in lines):
        header |= {number for number, line in enumerate(lines, first) if _ABOUT_UPDATE.match(line)}
    for number, raw in enumerate(lines, first):
        yield Row(number, raw.strip(), (), "rule") if number in header else row_of(raw, number, hidden, diff)


_ABOUT_UPDATE = re.compile(r"\s*(?:server|zone|send|show|answer|ttl|key|class|prereq|debug|local)\b")
"""Lines of an update script that name no record of their own."""


def visible_start(raw: str) -> str:
    return "".join(char if char.isprintable() else " " for char in raw[:80])


def is_diff(lines: list[str]) -> bool:
    """Lines led by plus and minus signs that are a comparison, not two kinds of bullets."""
    marks = {line[:1] for line in lines if re.match(r"^[+-]\s*\S", line)}
    return marks == {"+", "-"}


def row_of(raw: str, number: int, hidden: Hidden, diff: bool = False) -> Row:
    """One line as a row."""
    if len(raw) > LONGEST_LINE:
        return Row(number, visible_start(raw), (), "text", "long") if raw.strip() else Row(number, "", (), "blank")
    if "&" in raw or "<" in raw:
        raw = _ENTITY.sub(lambda entity: html.unescape(entity[0]), _TAG.sub(" ", raw))
    line = _MD_LINK.sub(r"\1", plain(raw, number, hidden))
    if _WIDE_GAP.search(line):
        line = _WIDE_GAP.sub(" " * 100, line)
    if not line.strip():
        return Row(number, "", (), "blank")
    line = _INFLECTED.sub(r"\1", line) if ":" in line else line
    line = _HYPHENED.sub(lambda match: f"{match[0][:-1]} ", line) if "-" in line else line
    line = _without_braces(line) if "{" in line else line
    line = _ALIGNED.sub(r"\1 \2 ", _TIMES.sub("…", _DOTTED.sub(r"\1: ", line)))
    if not _TYPED.search(line) and any(char.isdecimal() for char in line):
        line = _NUMBERED.sub(_passed, line)
    whole = line
    line = QUOTED.sub("", line, count=1)
    line = without_stamp(line)
    if not line.strip():
        return Row(number, whole.strip(), (), "rule")
    mark = ""
    if diff and line[:1] in "+-" and line[1:].strip(" +-"):
        mark, line = line[0], line[1:]
    if (_RULE.fullmatch(line) and line.strip() not in ("*", "-", ".")) or _BLOCK.fullmatch(line):
        return Row(number, line.strip(), (), "rule" if line.strip() else "blank")
    if comment := re.match(r"^\s*;+\s*(?=\S)", line):
        mark, line = "comment", line[comment.end() :]
    kind: RowKind = "text"
    if heading := re.match(r"^\s{0,3}#{1,6} +", line):
        kind, line = "heading", line[heading.end() :].rstrip("# ")
    if framed := _FRAMED.fullmatch(line):
        kind, line = "heading", framed[2]
    if (section := _SECTION.fullmatch(line)) and not _PLACE_WORD.search(section[1]):
        kind, line = "heading", section[1]
    bold = re.fullmatch(r"\s*(?:\*\*|__)(.+?)(?:\*\*|__)\s*:?\s*", line)
    if bold and "*" not in bold[1] and (" " in bold[1].strip() or "." not in bold[1].rstrip(".")):
        kind, line = "heading", bold[1] + (":" if line.rstrip().endswith(":") else "")
    line = _LAMP.sub("", line.replace("**", ""))
    if struck := re.search(r"~~(.+?)~~", line):
        mark, line = "struck", line.replace(struck[0], struck[1])
    stripped = line if re.match(r"^\s*\*\s{2,}\S", line) else _BULLET.sub("", line, count=1)
    stripped = _CIRCLED.sub("", stripped, count=1)
    if stripped != line and stripped.strip() and not mark:
        mark, line = "item", stripped
    step = _STEP.match(line)
    if step and step.end() < len(line):
        mark, line = mark or "item", line[step.end() :]
    line = re.sub(r"`+([^`]+)`+", "“\\1”", line).rstrip()
    line = _LINKED.sub(r"\1", _PLACE.sub(_place, line))
    if not line.strip():
        return Row(number, "", (), "blank")
    line = without_button(line, least=2)
    cells = cells_of(line)
    if len(cells) > MOST_CELLS:
        return Row(number, line.strip()[:80], (), "text", "long")
    return Row(number, line.strip(), cells, kind, mark)


def _without_braces(line: str) -> str:
    """`- {type: A, name: "@"}` as the fields inside; any other line as it is."""
    mark, _, inner = line.strip().removesuffix(",").partition("{")
    fields = inner.removesuffix("}")
    whole = mark.strip() in ("", "-") and inner != fields and not {"{", "}"} & {*fields}
    return f"{mark}{fields.strip()}" if whole and fields.count(": ") > 1 and ", " in fields else line


def _passed(match: re.Match[str]) -> str:
    """The words before such a number stay."""
    return re.sub(r"[0-9][0-9A-Za-z.,:+ ()/-]*$", "…", match[0])


def _place(match: re.Match[str]) -> str:
    """A stand-in as `{word}`, where it is one: marked as the reader's own, or in braces or angle brackets."""
    words = (match[1] or match[2]).strip()
    if match[0].startswith("[") and not _PLACE_WORD.search(words):
        return match[0]
    name = re.sub(r"^(?:your|my|the)[ _-]+", "", words.lower())
    name = re.sub(r"[^a-z0-9]+", "_", name).strip("_") or "value"
    return "{" + name + "}"


def plain(raw: str, number: int, hidden: Hidden) -> str:
    """A line without invisible characters; their places are noted."""
    if raw.isascii() and raw.isprintable():
        return raw
    line = re.sub(r"：[ \t]*(?=\S)", ": ", unicodedata.normalize("NFC", raw)).translate(_WIDE)
    found = [char for char in line if char != "\t" and unicodedata.category(char) in ("Cf", "Cc", "Co", "Cn", "Cs")]
    if found:
        gone = {char for char in found if char not in "\u200c\u200d\u200e\u200f\ufeff\u00ad\u2060\u200b\r"}
        if gone:
            hidden.inside[number] = "".join(sorted(gone))
        line = "".join(char for char in line if char not in found)
    line = _PREFIX.sub(r"\1 ", _SPACES.sub(" ", line))
    return line.replace("\ufe55", ":").replace("\u2215", "/").replace("\ufe0f", "")


def unwrapped(line: str) -> str:
    """A line without the `>` of quoted mail and the time and name that a chat puts before it."""
    if len(line) > LONGEST_LINE:
        return line
    quoted = QUOTED.sub("", line, count=1)
    said = without_stamp(quoted)
    return f"• {said}" if said != quoted and said[:1].islower() else said  # no message goes on with the one before


def cells_of(line: str) -> tuple[Cell, ...]:
    """The pieces of a line: between tabs, pipes, arrows, or two spaces and more."""
    if "\t" not in line and ARROW.search(line):
        return _cut(ARROW.sub("\t", line), re.compile(r"\t|\s{2,}"))
    line = ARROW.sub("\t", line)
    if "\t" in line:
        return _cut(line, re.compile(r"\t"), keep_empty=True)
    if "|" in line or "│" in line or "┃" in line or "║" in line:
        inner = re.sub(r"^\s*[|│┃║]|[|│┃║]\s*$", lambda m: " " * len(m[0]), line)
        return _cut(inner, re.compile(r"[|│┃║]"), keep_empty=True)
    if re.search(r"\S\s+[·•]\s+\S", line):
        return _cut(line, re.compile(r"\s+[·•]\s+"))
    return _cut(line, re.compile(r"\s{2,}"))


def _cut(line: str, mark: re.Pattern[str], keep_empty: bool = False) -> tuple[Cell, ...]:
    found, at = [], 0
    for match in [*mark.finditer(line), None]:
        end = match.start() if match else len(line)
        piece = line[at:end]
        if piece.strip() or keep_empty:
            found.append(Cell(piece.strip(), at + len(piece) - len(piece.lstrip())))
        at = match.end() if match else end
    while found and not found[-1].text:
        found.pop()
    return tuple(found)
