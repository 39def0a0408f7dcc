"""The words that Home Path does not use on screens, in help, on pages and in docs; and how long its sentences are."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from pathlib import Path

from homepath.core.wording.catalogue import SENTENCES

REPOSITORY = Path(__file__).parents[1]
SOURCE = REPOSITORY / "src" / "homepath"

BANNED = """
is told | are told | is said | are said | is seen | are seen | is asked for | was told | held against
whoever | who asks | nobody | somebody
stands | stand | stood | lies
leads | led to | led on | lead to | sent on
entry | entries
name server | name servers
keeping time | keeping times
die | dies | let go | forgotten
zone above | the parent
edge
gives | given by | gave
keeps the rules | as it likes
way in | every way | the way back | way back | ways
look | looks | looked | looking
mend | mended | mends | rightly
take out | take away | leave away | taken away | took away
put back | puts back
proof | proofs
besides | anew | so long | as it was
papers | desk | marks | wish | traces | doors
there is no | there are no | it is no
is gone | are gone | has come | have come
meets | heard
"""
"""Each has a plainer word; whole words, in any capitals."""

EXCEPTIONS = {
    "docs/reference/mutation.md": "*",  # quotes code
    "docs/architecture.md": "ways looking marks",  # names of modules
    "docs/reference/files.md": "nobody",  # a word of the file format
    "docs/reference/commands.md": "entries",  # the name of a command
    "CHANGELOG.md": "doors",  # an older name
    "core/wording/catalogue/errors.py": "ways",
    "core/wording/catalogue/findings.py": "edge",
    "core/wording/catalogue/observations.py": "edge entry",
    "core/wording/catalogue/notices.py": "ways",
    "core/wording/words.py": "proof",  # the word of a purpose in files
    "report/records.py": "proof",
}
"""By place: what is left, because it quotes something or is the name of an argument."""

_WORDS = sorted(re.split(r"\s*[|\n]\s*", BANNED.strip()), key=len, reverse=True)
_PATTERN = re.compile(rf"(?<![\w-])(?:{'|'.join(_WORDS)})(?![\w-])", re.I)
_QUOTED = re.compile(r"`[^`]*`|\{[^{}]*\}|\]\([^)]*\)|\"[^\"\n]*\"")


def strings() -> Iterator[tuple[str, str]]:
    """Every string that people may read, with its file; docstrings only of commands, whose help they are."""
    for path in [
        *(SOURCE / "cli").rglob("*.py"),
        *(SOURCE / "report").rglob("*"),
        *(SOURCE / "core/wording").rglob("*.py"),
    ]:
        place = str(path.relative_to(SOURCE))
        if path.suffix in (".j2", ".html"):
            yield place, re.sub(r"<[^>]*>|\{[{%].*?[%}]\}", " ", path.read_text())
        if path.suffix != ".py":
            continue
        tree = ast.parse(path.read_text())
        inner = {
            id(first.value)
            for node in ast.walk(tree)
            if isinstance(node, ast.Module | ast.FunctionDef | ast.AsyncFunctionDef | ast.ClassDef)
            for first in node.body[:1]
            if isinstance(first, ast.Expr)
        }
        statements = {id(n.value) for n in ast.walk(tree) if isinstance(n, ast.Expr)}
        for node in ast.walk(tree):
            text = node.value if isinstance(node, ast.Constant) else None
            if isinstance(text, str) and " " in text and id(node) not in inner | statements:
                yield place, text


def pages() -> Iterator[tuple[str, str]]:
    """The prose of the documentation, without its blocks of code."""
    for path in [*(REPOSITORY / "docs").rglob("*.md"), *REPOSITORY.glob("*.md")]:
        text = re.sub(r"```.*?```", "", path.read_text(), flags=re.S)
        yield str(path.relative_to(REPOSITORY)), re.sub(r"^(?: {4}|\t).*$", "", text, flags=re.M)


def test_no_word_of_the_list_is_used() -> None:
    found = [
        f"{place}: {match[0]}: {text[max(0, match.start() - 40) : match.end() + 40]!r}"
        for place, text in (*strings(), *pages())
        for match in _PATTERN.finditer(_QUOTED.sub(" ", text))
        if EXCEPTIONS.get(place) != "*" and match[0].lower() not in EXCEPTIONS.get(place, "").split()
    ]
    assert found == []


def _average(texts: Iterator[str]) -> float:
    lengths = [
        len(words)
        for text in texts
        for sentence in re.split(r"[.!?:;](?:\s|$)|\n\s*\n|\n[-|*#]", text)
        if len(words := sentence.split()) > 2
    ]
    return sum(lengths) / len(lengths)


def test_sentences_are_short() -> None:
    assert _average(iter(SENTENCES.values())) <= 16
    for place, text in pages():
        if not place.startswith(("docs/findings", "docs/reference")):
            assert _average(iter([text])) <= 20, place
