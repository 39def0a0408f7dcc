"""The documentation is what the program says: generated pages are fresh, snippets run, links lead somewhere."""

from __future__ import annotations

import re
import runpy
import shlex
from pathlib import Path

import pytest

from homepath.cli import status
from homepath.core.files.brief_file import read_brief
from homepath.net.network_file import load_network
from homepath.practice.world import World
from tests.conftest import START, Run

REPOSITORY = Path(__file__).parents[1]
DOCS = REPOSITORY / "docs"


def blocks(path: Path, kind: str) -> list[str]:
    return re.findall(rf"```{kind}\n(.*?)```", path.read_text(), re.S)


def test_generated_pages_are_fresh() -> None:
    pages = runpy.run_path(str(REPOSITORY / "scripts" / "make_reference.py"))["pages"]()
    stale = [path.name for path, text in pages.items() if not path.exists() or path.read_text() != text]
    assert not stale, f"run `make docs`: {stale}"
    assert set((DOCS / "findings").glob("*.md")) <= set(pages)


def test_each_promise_has_its_test() -> None:
    rows = runpy.run_path(str(REPOSITORY / "scripts" / "hardening.py"))["ROWS"]
    for promise, test in [each for table in rows.values() for each in table]:
        file, _, name = test.partition("::")
        assert re.search(rf"^(async )?def {name}\(", (REPOSITORY / file).read_text(), re.M), f"{promise} {test}"


def test_the_tutorial_runs(world: World, homepath: Run) -> None:
    """Every command of the tutorial after the world is open, in its order; the last one says that it has arrived."""
    lines = [line for block in blocks(DOCS / "tutorial.md", "sh") for line in block.splitlines()]
    ran = []
    for line in lines:
        words = shlex.split(line)
        if words[:1] != ["homepath"] or words[1:3] == ["practice", "open"]:
            continue
        if words[1:] == ["watch"]:
            homepath("practice", "clock", "--skip", "2 h")  # the reader waits here; the test does not
            words.append("--once")
        ran.append(homepath(*words[1:]))
        assert ran[-1].status in (0, 1, 3), ran[-1].err
    assert len(ran) > 15
    assert "has arrived" in ran[-1].out


def test_the_readme_runs(world: World, homepath: Run, tmp_path: Path) -> None:
    """The lines for a domain of one's own, with the page of the demo's builder; the one that stays is left out."""
    page = re.findall(r"^    (Type .*?)\n\n", (DOCS / "own-domain.md").read_text(), re.M | re.S)[0]
    (tmp_path / "page.txt").write_text(page)
    (own,) = [block for block in blocks(REPOSITORY / "README.md", "sh") if "YOURDOMAIN" in block]
    for line in own.splitlines():
        words = shlex.split(line.replace("YOURDOMAIN", "tidewick-kiln.example"))
        assert words[0] == "homepath"
        if "--follow" not in words:
            done = homepath(*words[1:])
            assert done.status in (0, 1), done.err
    assert "192.0.2.44" in done.out
    for block in blocks(REPOSITORY / "README.md", "sh"):
        assert all(line.split()[0] in ("homepath", "pipx", "uv", "git", "make") for line in block.splitlines())


def test_the_python_page_runs(world: World, homepath: Run, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Its script, as it stands on the page, in a folder that `start` made."""
    assert homepath(*START).status == 0
    row = "tidewick-kiln.example,www,bricklark.brief.toml,20817,tk-4471,ada"
    (tmp_path / "domains.csv").write_text(f"domain,primary,brief,site,code,x-owner\n{row}\n")
    monkeypatch.chdir(tmp_path)
    for script in blocks(DOCS / "how-to" / "python.md", "python"):
        exec(compile(script, "python.md", "exec"), {})


def test_the_timers_recipes_fit_the_exit_statuses() -> None:
    page = (DOCS / "how-to" / "many.md").read_text()
    fine = {int(each) for line in re.findall(r"SuccessExitStatus=(.*)", page) for each in line.split()}
    assert fine == {*status.OF_LINE.values(), status.BAD_INPUT} - {status.AS_WANTED}, "only unforeseen ends fail"
    options = set(re.findall(r"(--[a-z]+)", (DOCS / "reference" / "commands.md").read_text()))
    for line in re.findall(r"homepath many (.*)", page):
        assert {word for word in shlex.split(line) if word.startswith("--")} <= options, line


def test_examples_in_the_how_to_pages_are_valid(tmp_path: Path) -> None:
    (brief,) = blocks(DOCS / "how-to" / "write-a-brief.md", "toml")
    assert read_brief(brief, "brief").builder == "Bricklark"
    (network,) = blocks(DOCS / "how-to" / "real-servers.md", "toml")
    (tmp_path / "root.pem").touch()
    (tmp_path / "network.toml").write_text(network)
    assert load_network(tmp_path / "network.toml").closed
    (registration,) = blocks(DOCS / "how-to" / "survey-everything.md", "toml")
    (tmp_path / "network.toml").write_text(registration)
    assert load_network(tmp_path / "network.toml").bootstrap == str(tmp_path / "dns.json")


def test_links_lead_somewhere() -> None:
    for page in (REPOSITORY / "README.md", REPOSITORY / "CONTRIBUTING.md", *DOCS.rglob("*.md")):
        for target in re.findall(r"\]\(([^)#]+)\)", re.sub(r"`[^`\n]*`", "", page.read_text())):
            assert (page.parent / target).exists(), f"{page.name} links to {target}"
