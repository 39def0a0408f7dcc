"""No decision depends on English: what is compared is a value, never a sentence or a part of one."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from pathlib import Path
from typing import get_args

import homepath
from homepath.core.findings.registry import KINDS
from homepath.core.model.plan import PURPOSES, Place

SOURCE = Path(homepath.__file__).parent
VALUES = {*PURPOSES, *get_args(Place)}
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
