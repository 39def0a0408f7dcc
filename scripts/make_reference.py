"""Writes docs/reference/ from the commands' own help and the bounds in the code, docs/findings/ from the rules:
`make docs`."""

from __future__ import annotations

import os
import runpy
import subprocess
import sys
from pathlib import Path

from homepath.cli.app import COMMANDS
from homepath.core.findings.kind import Kind
from homepath.core.findings.registry import KINDS
from homepath.core.wording.say import say

DOCS = Path(__file__).parents[1] / "docs"
PRACTICE = (
    *("practice open", "practice scenes", "practice clock", "practice close", "practice builder", "practice form"),
    "practice registrar",
)


def pages() -> dict[Path, str]:
    """Every generated page with its text."""
    found = {DOCS / "findings" / f"{page.code}.md": _finding(page) for page in KINDS.values()}
    found[DOCS / "findings" / "README.md"] = _index()
    found[DOCS / "reference" / "commands.md"] = _commands()
    found[DOCS / "reference" / "scenes.md"] = runpy.run_path(str(Path(__file__).with_name("scene_needs.py")))["page"]()
    found[DOCS / "reference" / "hardening.md"] = runpy.run_path(str(Path(__file__).with_name("hardening.py")))["page"]()
    return found


def _finding(page: Kind) -> str:
    return (
        f"# {page.code}\n\nLevel: {page.level}. Standard: {page.standard}.\n\n## What it means\n\n{say(page.means)}\n\n"
        f"## Why it hurts\n\n{say(page.hurts)}\n\n## How to fix it\n\n{say(page.cure)}\n"
    )


def _index() -> str:
    rows = "".join(f"| [{p.code}]({p.code}.md) | {p.level} | {say(p.means)} |\n" for p in KINDS.values())
    head = "# Findings\n\nGenerated from the rules; `homepath explain CODE` prints the same.\n\n"
    return f"{head}| code | level | meaning |\n| --- | --- | --- |\n{rows}"


def _commands() -> str:
    text = "# Commands\n\nGenerated from the commands' own help.\n\n"
    text += (
        "Exit status, the same everywhere: 0 everything is correct; 1 not yet, work or waiting is left; "
        "2 bad input or usage; 3 something is wrong and must be fixed; 4 could not check.\n"
    )
    for name in (*COMMANDS, *PRACTICE):
        text += f"\n## homepath {name}\n\n```text\n{_help(name)}```\n"
    return text


def _help(name: str) -> str:
    environment = {**os.environ, "COLUMNS": "100", "TERMINAL_WIDTH": "100", "NO_COLOR": "1"}
    words = [sys.executable, "-m", "homepath", *name.split(), "--help"]
    done = subprocess.run(words, env=environment, capture_output=True, text=True, check=True)
    return (
        "\n".join(line.rstrip() for line in done.stdout.replace("python -m homepath", "homepath").splitlines()) + "\n"
    )


def main() -> None:
    for path, text in pages().items():
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text, encoding="utf-8")
    known = set(pages())
    for path in (DOCS / "findings").glob("*.md"):
        if path not in known:
            path.unlink()


if __name__ == "__main__":
    main()
