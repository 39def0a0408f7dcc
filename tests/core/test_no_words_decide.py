"""No decision depends on English: what is compared is a value, never a sentence or a part of one."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from pathlib import Path
from string import Formatter
from typing import get_args

import pytest

import homepath
from homepath.app.decide import WORDS
from homepath.core.findings.registry import KINDS
from homepath.core.message import Message, msg
from homepath.core.model.plan import PURPOSES, Place
from homepath.core.wording.catalogue import MODULES, SENTENCES
from homepath.core.wording.say import fields, say

SOURCE = Path(homepath.__file__).parent
VALUES = {*PURPOSES, *get_args(Place), *(kind.standard for kind in KINDS.values()), WORDS}
"""Values of contracts that are written with a space."""
THEIRS = {"newline in quoted string", "validation failed: ", "(encountered processing", "certificate verify"}
"""What libraries say, in the tables that make values of it."""
SEARCHES = ("startswith", "endswith", "removeprefix", "removesuffix", "partition", "find", "index")


def files(*without: str) -> Iterator[Path]:
    for path in sorted(SOURCE.rglob("*.py")):
        if not any(part in path.relative_to(SOURCE).parts for part in without):
            yield path


def constants(node: ast.AST) -> Iterator[str]:
    for each in [node, *getattr(node, "elts", [])]:
        if isinstance(each, ast.Constant) and isinstance(each.value, str):
            yield each.value


def compared(tree: ast.AST) -> Iterator[tuple[int, str]]:
    """Every text that something is compared with or searched for, with its line."""
    for node in ast.walk(tree):
        if isinstance(node, ast.Compare):
            for side in (node.left, *node.comparators):
                yield from ((node.lineno, text) for text in constants(side))
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute) and node.func.attr in SEARCHES:
            yield from ((node.lineno, text) for each in node.args for text in constants(each))


def test_nothing_is_compared_with_a_sentence() -> None:
    # a pasted page is English, or one of thirty other languages, and is read by its words; practice has its own states
    found = [
        f"{path.relative_to(SOURCE)}:{line}: {text!r}"
        for path in files("page_reader", "practice")
        for line, text in compared(ast.parse(path.read_text()))
        if " " in text.strip() and sum(map(str.isalpha, text)) > 5 and text not in VALUES | THEIRS
    ]
    assert found == []


def test_no_list_of_codes_is_kept_outside_the_registry() -> None:
    """Two codes beside each other in one tuple, list or set are a policy, and a policy is an attribute of the kind."""
    found = []
    for path in files("findings", "practice"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Tuple | ast.List | ast.Set):
                codes = [each.value for each in node.elts if isinstance(each, ast.Constant) and each.value in KINDS]
                if len(codes) > 1 and path.name != "visits.py":  # the states of an address have words of their own
                    found.append(f"{path.relative_to(SOURCE)}:{node.lineno}: {', '.join(map(str, codes))}")
    assert found == []


WORDS_LIVE_IN = ("wording", "cli", "report")
NOT_OURS = {
    "page_reader": "it reads other people's words, and its doubts quote them",
    "practice": "what a builder's and a DNS host's pages say in the practice world",
}
IN_CODE = {
    "core/files/exports.py": "columns of other people's exports",
    "net/network_file.py": "names of address ranges, as their RFCs have them",
    "net/fingerprints.py": "why a response is read the long way; for the trace",
    "net/octets.py": "the same",
    "net/sharing.py": "the trace",
    "app/driving.py": "the trace",
    "bulk/state.py": "SQL",
    "journal/journal.py": "SQL",
    "core/message.py": "for whoever forgets to say() a message",
}
SQL = re.compile(
    r"(?i)\s*(select|insert|update|delete|create|alter|pragma|begin|attach|replace|with|drop)\b|.*\bwhere\b.*="
)


def sentences(tree: ast.AST) -> Iterator[tuple[int, str]]:
    """Every text in a module that reads like English: three words in lower case, and no docstring, SQL or standard."""
    docs = {id(each.value) for each in ast.walk(tree) if isinstance(each, ast.Expr)}
    for node in ast.walk(tree):
        text = ""
        if isinstance(node, ast.JoinedStr):
            text = "".join(str(part.value) if isinstance(part, ast.Constant) else "0" for part in node.values)
        elif isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in docs:
            text = node.value
        if len(re.findall(r"(?<![\w-])[a-z']{2,}(?![\w-])", text)) >= 3 and text.count(" ") > 1 and not SQL.match(text):
            yield getattr(node, "lineno", 0), text


def test_every_sentence_is_in_wording() -> None:
    found = [
        f"{path.relative_to(SOURCE)}:{line}: {text!r}"
        for path in files(*WORDS_LIVE_IN, *NOT_OURS)
        if str(path.relative_to(SOURCE)) not in IN_CODE
        for line, text in sentences(ast.parse(path.read_text()))
        if text not in VALUES
    ]
    assert found == []


@pytest.mark.parametrize("file", IN_CODE)
def test_every_exemption_is_still_needed(file: str) -> None:
    assert list(sentences(ast.parse((SOURCE / file).read_text())))


def used() -> Iterator[tuple[str, str, set[str]]]:
    """Each message that the code makes: where, its code (`*` for what is filled in), and the names of its arguments."""
    for path in files("wording"):
        for node in ast.walk(ast.parse(path.read_text())):
            if not (isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "msg"):
                continue
            first = node.args[0]
            if isinstance(first, ast.IfExp | ast.Name):
                continue
            if isinstance(first, ast.JoinedStr):
                code = "".join(str(part.value) if isinstance(part, ast.Constant) else "*" for part in first.values)
            else:
                code = ast.literal_eval(first)
            yield f"{path.relative_to(SOURCE)}:{node.lineno}", code, {str(each.arg) for each in node.keywords}


def test_every_message_has_a_sentence_with_just_its_arguments() -> None:
    wrong = []
    for where, code, given in used():
        pattern = re.compile(re.escape(code).replace(r"\*", "[a-z-]+"))
        mine = [each for each in SENTENCES if pattern.fullmatch(each)]
        if not mine or ("*" not in code and fields(mine[0]) != given) or any(fields(each) - given for each in mine):
            wrong.append(f"{where}: {code} {sorted(given)} {[sorted(fields(each)) for each in mine[:2]]}")
    assert wrong == []


def test_every_sentence_is_used() -> None:
    text = "\n".join(path.read_text() for path in files())
    patterns = [re.escape(code).replace(r"\*", "[a-z-]+") for _, code, _ in used() if "*" in code]
    dynamic = re.compile("|".join(patterns))
    literal = set(re.findall(r'"([a-z0-9.-]+)"', text))
    assert [code for code in SENTENCES if code not in literal and not dynamic.fullmatch(code)] == []
    assert sum(len(each.SENTENCES) for each in MODULES) == len(SENTENCES), "a code is there twice"


EXAMPLES = {"lasting": 60, "clock": 0.0, "utc": 0.0, "day": 0.0, "weekday": 0.0, "ten": 1.5, "more": 2, "many": 2}
"""What an argument is, by the word that says how it is shown; everything else is a text."""


def test_every_sentence_can_be_said() -> None:
    wrong = []
    for code, template in SENTENCES.items():
        args = []
        for _, field, spec, _ in Formatter().parse(template):
            how = (spec or "").split(" ")
            how = how[1:] if how[0] == "start" else how
            example = EXAMPLES.get(how[0] if how else "", "a.example.")
            args.append((str(field), ("a.example.",) if how[:1] == ["name"] and how[1:] else example))
        found = say(Message(code, tuple(args)))
        if found == code or found.startswith(f"{code} ("):
            wrong.append(f"{code}: {found}")
    assert wrong == []


def test_a_message_of_another_version_is_shown_with_what_it_holds(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("homepath.core.wording.say.FORGIVING", True)
    assert (
        say(Message("never-heard-of", (("name", "a.example."), ("more", msg("who.it")))))
        == "never-heard-of (a.example., it)"
    )
    assert say(Message("record-at", (("type", "A"),))) == "record-at (A)"
    assert say(Message("trouble.silent", (("who", 5),))) == "5 does not answer"
