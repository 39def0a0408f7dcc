"""Help pages at 80 columns, words that complete in a shell, and a start that loads next to nothing."""

from __future__ import annotations

import os
import re
import subprocess
import sys
from pathlib import Path

import pytest

from homepath.cli.app import COMMANDS
from homepath.practice.scene_file import names
from homepath.practice.world import World
from tests.conftest import COMMAND, START, run_in

GROUPS = ("", "practice", "brief", "notation", "practice builder", "practice form", "practice registrar")


@pytest.mark.parametrize("group", GROUPS)
def test_help_fits_80_columns_with_whole_first_sentences(group: str, tmp_path: Path) -> None:
    said = run_in(tmp_path, *group.split(), "--help", COLUMNS="80", TERMINAL_WIDTH="80").out
    lines = [line for line in re.split(r"(?:Commands|Every day):\n", said)[1].splitlines() if line[:1] == " "]
    assert lines
    for line in lines:
        assert len(line) <= 80
        assert line.endswith("."), line
        assert not line.endswith("..."), line


def test_every_commands_own_help_fits_too(tmp_path: Path) -> None:
    for name in COMMANDS:
        said = run_in(tmp_path, name, "--help", COLUMNS="80", TERMINAL_WIDTH="80").out
        assert max(len(line) for line in said.splitlines()) <= 80, name


def complete(folder: Path, words: str, shell: str = "bash") -> list[str]:
    """What a shell is told of how the last of `words` may go on."""
    env = {k: v for k, v in os.environ.items() if not k.startswith("HOMEPATH")}
    env |= {"_HOMEPATH_COMPLETE": f"complete_{shell}"}
    if shell == "bash":
        env |= {"COMP_WORDS": words, "COMP_CWORD": str(len(words.split(" ")) - 1)}
    else:
        action = {"_TYPER_COMPLETE_FISH_ACTION": "get-args"} if shell == "fish" else {}
        env |= {"_TYPER_COMPLETE_ARGS": words, **action}
    done = subprocess.run([COMMAND], cwd=folder, env=env, capture_output=True, text=True, check=False)
    assert "Traceback" not in done.stderr
    return done.stdout.split()


def test_words_complete(world: World, tmp_path: Path) -> None:
    assert complete(tmp_path, "homepath expl") == ["explain"]
    assert "certificate-pending" in complete(tmp_path, "homepath explain cert")
    assert complete(tmp_path, "homepath practice open --scene ") == list(names())
    assert complete(tmp_path, "homepath start --brief brick") == ["bricklark.brief.toml"]
    assert complete(tmp_path, "homepath report --for ") == ["owner", "support"]
    assert complete(tmp_path, "homepath many --worst b") == ["blocker"]
    assert complete(tmp_path, "homepath next --done ") == [], "before there is a site, no step"
    run_in(tmp_path, *START)
    run_in(tmp_path, "next")
    assert "claim" in complete(tmp_path, "homepath next --done ")
    assert complete(tmp_path, "homepath sheet --step ent") == ["enter"]
    (tmp_path / "list.csv").write_text("domain,primary,brief,site,code\ntidewick-kiln.example,www,nix.toml,a,b\n")
    run_in(tmp_path, "many", "list.csv")
    assert complete(tmp_path, "homepath next --from list.csv tide") == ["tidewick-kiln.example"]


@pytest.mark.parametrize("shell", ["zsh", "fish"])
def test_other_shells_too(shell: str, tmp_path: Path) -> None:
    assert "certificate-pending" in " ".join(complete(tmp_path, "homepath explain certificate-p", shell))


MODULES = "import sys\ntry:\n    {run}\nexcept SystemExit:\n    pass\nsys.stderr.write(' '.join(sys.modules))\n"
BARE = """import typer
    app = typer.Typer()
    @app.command()
    def main() -> None:
        print("word")
    sys.argv = ["word"]
    app()"""
OURS = """sys.argv = ["homepath", "--version"]
    from homepath.cli.app import main
    main()"""


def test_a_start_loads_hardly_more_than_a_bare_program_of_the_same_library(tmp_path: Path) -> None:
    """Whatever that library loads, in whichever version: what we add to it is counted."""

    def loaded(run: str) -> set[str]:
        words = [sys.executable, "-c", MODULES.format(run=run)]
        return set(subprocess.run(words, cwd=tmp_path, capture_output=True, text=True, check=True).stderr.split())

    added = loaded(OURS) - loaded(BARE)
    assert {each.split(".")[0] for each in added} <= {"homepath", "shellingham", "__future__"}
    assert len(added) <= 12, sorted(added)
