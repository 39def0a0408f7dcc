#!/usr/bin/env python3
"""Plants single faults in core/ and says which of them the core tests do not notice.

    scripts/mutate.py [--count 200] [--seed 1] [--jobs 2] [--report docs/reference/mutation.md]

Each fault is one change of one expression (a comparison, a condition, a number, `and` for `or`, ...) in a copy of the
package; only tests that run the changed line are run against it. Needs the package `coverage`.
"""

from __future__ import annotations

import argparse
import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
CORE = ROOT / "src" / "homepath" / "core"
LEFT_OUT = ("wording/",)
"""Words for people: a change of a sentence is no fault that a test should hold."""
SLOW = ("tests/core/test_pasted.py", "tests/core/test_recorded.py")
"""Tests that take minutes: run last, since most faults are noticed before."""
COMPARISONS = {
    ast.Eq: ast.NotEq, ast.NotEq: ast.Eq, ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt,
    ast.In: ast.NotIn, ast.NotIn: ast.In, ast.Is: ast.IsNot, ast.IsNot: ast.Is,
}  # fmt: skip
ARITHMETIC = {ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Add, ast.BitAnd: ast.BitOr, ast.BitOr: ast.BitAnd}


@dataclass(frozen=True)
class Fault:
    file: Path
    line: int
    what: str
    text: str
    """The whole module with the fault."""


def faults_of(path: Path) -> Iterator[Fault]:
    """Every single fault of a module."""
    source = path.read_text()
    tree = ast.parse(source)
    places = [node for node in ast.walk(tree) if _kinds(node)]
    typed = {id(inner) for node in ast.walk(tree) for hint in _unseen(node) for inner in ast.walk(hint)}
    for node in places:
        if id(node) in typed:
            continue
        for kind in _kinds(node):
            before = ast.unparse(node)
            undo = _plant(node, kind)
            after = ast.unparse(node) if not isinstance(node, ast.If | ast.IfExp) else ast.unparse(node.test)
            text = ast.unparse(tree)
            undo()
            short = before if not isinstance(node, ast.If | ast.IfExp) else ast.unparse(node.test)
            yield Fault(path, getattr(node, "lineno", 0), f"{short[:70]} -> {after[:70]}".replace("\n", " "), text)


def _unseen(node: ast.AST) -> list[ast.AST]:
    """Type hints, and the flags of dataclasses: what a fault there changes no run can see."""
    found = [getattr(node, "annotation", None), getattr(node, "returns", None)]
    found += getattr(node, "decorator_list", [])
    if isinstance(node, ast.AnnAssign) and "TypeAlias" in ast.unparse(node.annotation):
        found.append(node.value)
    if isinstance(node, ast.Call) and ast.unparse(node.func) in ("isinstance", "zip"):
        found += [*node.args[1:], *(keyword.value for keyword in node.keywords)]
    if isinstance(node, ast.Assign) and isinstance(node.value, ast.Subscript | ast.BinOp):
        names = [target.id for target in node.targets if isinstance(target, ast.Name)]
        if any(name[:1].isupper() and not name.isupper() for name in names):
            found.append(node.value)
    return [each for each in found if each is not None]


def _kinds(node: ast.AST) -> list[str]:
    if isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in COMPARISONS:
        return ["compare"]
    if isinstance(node, ast.BoolOp):
        return ["bool"]
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
        return ["not"]
    if isinstance(node, ast.If | ast.IfExp):
        return ["if"]
    if isinstance(node, ast.BinOp) and type(node.op) in ARITHMETIC:
        return ["arithmetic"]
    if isinstance(node, ast.Constant) and isinstance(node.value, int | float) and not isinstance(node.value, bool):
        return ["number"]
    if isinstance(node, ast.Constant) and isinstance(node.value, bool):
        return ["truth"]
    return []


def _plant(node: ast.AST, kind: str):  # type: ignore[no-untyped-def]
    """Change the node in place; gives the way back."""
    match kind:
        case "compare":
            assert isinstance(node, ast.Compare)
            old = node.ops[0]
            node.ops[0] = COMPARISONS[type(old)]()
            return lambda: node.ops.__setitem__(0, old)
        case "bool":
            assert isinstance(node, ast.BoolOp)
            before = node.op
            node.op = ast.Or() if isinstance(before, ast.And) else ast.And()
            return lambda: setattr(node, "op", before)
        case "not":
            assert isinstance(node, ast.UnaryOp)
            inner, node.op = node.operand, ast.UAdd()
            node.operand = ast.Call(ast.Name("bool", ast.Load()), [inner], [])

            def as_it_was() -> None:
                node.op, node.operand = ast.Not(), inner

            return as_it_was
        case "if":
            assert isinstance(node, ast.If | ast.IfExp)
            test = node.test
            node.test = ast.UnaryOp(ast.Not(), test)
            return lambda: setattr(node, "test", test)
        case "arithmetic":
            assert isinstance(node, ast.BinOp)
            op = node.op
            node.op = ARITHMETIC[type(op)]()
            return lambda: setattr(node, "op", op)
        case _:
            assert isinstance(node, ast.Constant)
            value = node.value
            node.value = (not value) if isinstance(value, bool) else value + 1  # type: ignore[operator]
            return lambda: setattr(node, "value", value)


def covering(python: str) -> dict[tuple[str, int], set[str]]:
    """Which tests run which line: `file::function` by file and line."""
    import coverage

    properties = set(_properties())
    with tempfile.TemporaryDirectory() as folder:
        config = Path(folder) / "rc"
        config.write_text(f"[run]\nsource = {CORE}\ndynamic_context = test_function\ndata_file = {folder}/data\n")
        words = [python, "-m", "coverage", "run", f"--rcfile={config}", "-m", "pytest", "-q", "tests/core"]
        subprocess.run(words, cwd=ROOT, check=True, capture_output=True)
        data = coverage.CoverageData(basename=f"{folder}/data")
        data.read()
        found: dict[tuple[str, int], set[str]] = {}
        for file in data.measured_files():
            for line, contexts in data.contexts_by_lineno(file).items():
                tests = {_node(context) for context in contexts if context.startswith("tests.")}
                if any(context.startswith("hypothesis.") for context in contexts):
                    tests |= properties  # which of them ran the line is not known
                found[file, line] = tests
        return found


def _node(context: str) -> str:
    *module, function = context.split(".")
    return f"{'/'.join(module)}.py::{function}"


def _properties() -> Iterator[str]:
    """The tests that are given their values: coverage sees their runner, not them."""
    for path in sorted((ROOT / "tests" / "core").glob("test_*.py")):
        for node in ast.parse(path.read_text()).body:
            if isinstance(node, ast.FunctionDef) and any("given(" in ast.unparse(each) for each in node.decorator_list):
                yield f"{path.relative_to(ROOT)}::{node.name}"


def survives(fault: Fault, tests: set[str], python: str) -> bool:
    """Whether the tests pass although the fault is there."""
    if not tests:
        return True
    with tempfile.TemporaryDirectory(dir="/dev/shm" if Path("/dev/shm").is_dir() else None) as folder:
        copy = Path(folder) / "homepath"
        shutil.copytree(ROOT / "src" / "homepath", copy, ignore=shutil.ignore_patterns("__pycache__"))
        (copy / fault.file.relative_to(ROOT / "src" / "homepath")).write_text(fault.text)
        env = {**os.environ, "PYTHONPATH": f"{folder}:{ROOT}", "PYTHONDONTWRITEBYTECODE": "1"}
        quick_first = sorted(tests, key=lambda test: (test.startswith(SLOW), test))
        words = [python, "-m", "pytest", "-x", "-q", "--no-header", "-p", "no:xdist", *quick_first]
        try:
            done = subprocess.run(words, cwd=ROOT, env=env, capture_output=True, timeout=400, check=False)
        except subprocess.TimeoutExpired:
            return False
        if done.returncode not in (0, 1):  # no test ran: a fault is noticed if the module cannot even be imported
            module = ".".join(fault.file.relative_to(ROOT / "src").with_suffix("").parts)
            if subprocess.run([python, "-c", f"import {module}"], cwd=ROOT, env=env, check=False).returncode == 0:
                raise RuntimeError(done.stdout.decode() + done.stderr.decode())
        return done.returncode == 0


def main() -> int:
    options = argparse.ArgumentParser()
    options.add_argument("--count", type=int, default=200)
    options.add_argument("--seed", type=int, default=1)
    options.add_argument("--jobs", type=int, default=2)
    options.add_argument("--report", type=Path)
    options.add_argument("--least", type=float, default=0.85)
    asked = options.parse_args()
    files = [path for path in sorted(CORE.rglob("*.py")) if not path.relative_to(CORE).as_posix().startswith(LEFT_OUT)]
    every = [fault for path in files for fault in faults_of(path)]
    chosen = random.Random(asked.seed).sample(every, min(asked.count, len(every)))
    lines = covering(sys.executable)

    def tried(fault: Fault) -> bool:
        return survives(fault, lines.get((str(fault.file), fault.line), set()), sys.executable)

    with ThreadPoolExecutor(asked.jobs) as pool:
        alive = [fault for fault, lives in zip(chosen, pool.map(tried, chosen), strict=True) if lives]
    caught = 1 - len(alive) / len(chosen)
    rows = [f"| {fault.file.relative_to(CORE)}:{fault.line} | `{fault.what.replace('|', '/')}` |" for fault in alive]
    text = (
        "# Faults that the core tests notice\n\n"
        f"`scripts/mutate.py` planted {len(chosen)} single faults of {len(every):,} possible ones in `core/` "
        f"(seed {asked.seed}) and ran the core tests that run the changed line. Caught: {len(chosen) - len(alive)} of "
        f"{len(chosen)} ({caught:.0%}). These were not:\n\n| where | what |\n| --- | --- |\n"
        + "\n".join(sorted(rows))
        + "\n"
    )
    if asked.report:
        asked.report.write_text(text)
    print(text)
    return 0 if caught >= asked.least else 1


if __name__ == "__main__":
    sys.exit(main())
