"""Lines of a master file (RFC 1035 section 5.1), alone or among words, cut by the DNS library's own tokenizer."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from homepath.core.page_reader.kinds import OTHER_TYPES, RECORD_TYPES
from homepath.core.page_reader.rows import LONGEST_LINE, Cell, Hidden, Row, cells_of, plain

_TYPES = "|".join((*RECORD_TYPES, *OTHER_TYPES, "SPF"))
_LINE = re.compile(
    rf"^(?:(?P<owner>[^\s;$>|]+)\s+|\s+)(?:(?P<ttl>[0-9]+[smhdwSMHDW]?)\s+)?(?P<class>IN\s+)?(?:[0-9]+[smhdwSMHDW]?\s+)?(?:{_TYPES})\s+\S"
)
_DIRECTIVE = re.compile(r"^\$(?:ORIGIN|TTL)\s+\S", re.I)


def zone_rows(lines: Sequence[str], hidden: Hidden) -> Iterator[tuple[int, int, list[Row]]]:
    """Each block of such lines: its first line, the line after its last, and its rows. Lines count from 0."""
    at = 0
    while at < len(lines):
        if not _begins(lines[at]):
            at += 1
            continue
        end = at
        depth = 0
        while end < len(lines) and (depth > 0 or _belongs(lines[end]) or _gap(lines[end : end + 2])):
            depth = max(0, depth + _depth(lines[end]))
            end += 1
            if depth and end - at > 400:
                break
        rows = _block(lines[at:end], at + 1, hidden)
        if rows:
            yield at, end, rows
        at = max(end, at + 1)


def _begins(line: str) -> bool:
    if len(line) > LONGEST_LINE:
        return False
    if _DIRECTIVE.match(line):
        return True
    match = _LINE.match(line)
    return bool(match and match["owner"] and match["class"]) and not line.lstrip().startswith(("-", "*  ", ";"))


def _belongs(line: str) -> bool:
    if len(line) > LONGEST_LINE or not line.strip():
        return False
    match = _LINE.match(line)
    return (
        bool(match and (match["class"] or (match["ttl"] and match["owner"]) or not match["owner"]))
        or bool(_DIRECTIVE.match(line))
        or line.lstrip().startswith(";")
    )


def _gap(lines: Sequence[str]) -> bool:
    """A blank line before one without an owner of its own."""
    return len(lines) == 2 and not lines[0].strip() and lines[1][:1] in (" ", "\t") and _belongs(lines[1])


def _depth(line: str) -> int:
    bare = re.sub(r'"[^"]*"', "", line).split(";")[0]
    return bare.count("(") - bare.count(")")


def _block(lines: Sequence[str], first: int, hidden: Hidden) -> list[Row]:
    """The rows of a block: owner, TTL, type and value each a cell; a comment behind them is one more."""
    import dns.exception
    import dns.tokenizer

    rows: list[Row] = []
    owner, origin, top = "@", "", ""
    at = 0
    while at < len(lines):
        held = [lines[at]]
        depth = _depth(lines[at])
        while depth > 0 and at + len(held) < len(lines):
            depth += _depth(lines[at + len(held)])
            held.append(lines[at + len(held)])
        number = first + at
        at += len(held)
        text = plain("\n".join(held), number, hidden) if not "\n".join(held).isascii() else "\n".join(held)
        if text.lstrip().startswith(";"):
            rows.append(Row(number, text.strip(), cells_of(text.strip(" ;")), "text", "comment"))
            continue
        try:
            words, comment = _words(text)
        except (dns.exception.DNSException, ValueError):
            return []
        if words and words[0][0].upper() == "$ORIGIN" and len(words) > 1:
            origin = words[1][0].lower().strip(".")
            top = top or origin
            rows.append(Row(number, text.strip(), (), "rule"))
            continue
        if words and words[0][0].upper() == "$TTL":
            rows.append(Row(number, text.strip(), (), "rule"))
            continue
        if text[:1] not in " \t":
            owner = words.pop(0)[0]
        made = _record(words)
        if made is None:
            return []
        rrtype, ttl, value = made
        name = owner if not origin or origin == top or owner.endswith(".") else f"{owner}.{origin}".removeprefix("@.")
        cells = [Cell(name, 0, "name"), Cell(rrtype, 1, "type"), Cell(value, 2, "value")]
        cells += [Cell(ttl, 3, "ttl")] if ttl else []
        cells += [Cell(comment, 4, "action")] if comment else []
        rows.append(Row(number, text.strip(), tuple(cells), "card", "item"))
    return rows


def _words(text: str) -> tuple[list[tuple[str, bool]], str]:
    """The words of a line with whether they were quoted, and its comment."""
    import dns.tokenizer

    tokens = dns.tokenizer.Tokenizer(text)
    words: list[tuple[str, bool]] = []
    comment = ""
    while True:
        token = tokens.get(want_comment=True)
        if token.is_eof():
            return words, comment
        if token.is_comment():
            comment = token.value.strip()
        elif token.is_identifier() or token.is_quoted_string():
            words.append((token.value, token.is_quoted_string()))


def _record(words: list[tuple[str, bool]]) -> tuple[str, str, str] | None:
    ttl = ""
    at = 0
    while (
        at < len(words)
        and not words[at][1]
        and (words[at][0].upper() == "IN" or re.fullmatch(r"[0-9]+[smhdw]?", words[at][0], re.I))
    ):
        ttl = words[at][0] if words[at][0].upper() != "IN" else ttl
        at += 1
    if at >= len(words) - 1:
        return None
    rrtype = words[at][0].upper()
    parts = [f'"{word}"' if quoted else word for word, quoted in words[at + 1 :]]
    return rrtype, ttl, " ".join(parts)
