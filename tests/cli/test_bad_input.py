"""Bad input: one clear message each, the right exit status, no traceback, nothing half-written."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest

from homepath.practice.scene_file import load_scene
from homepath.practice.world import World
from tests.conftest import START, Run

LIST_MODULES = """
import sys
from homepath.cli.app import main
try:
    main()
except SystemExit:
    sys.stderr.write(" ".join(sys.modules))
"""
NETWORK = 'format = "homepath.network/1"'
FILES = load_scene("first-site").files


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    for name, text in FILES.items():
        (tmp_path / name).write_text(text)
    return tmp_path


def changed(folder: Path, name: str, before: str, after: str) -> None:
    text = (folder / name).read_text()
    assert before in text
    (folder / name).write_text(text.replace(before, after))


@pytest.mark.parametrize(
    ("words", "said"),
    [
        ("start co.uk --brief bricklark.brief.toml", "ending under which domains are registered"),
        ("start 192.0.2.1 --brief bricklark.brief.toml", "address of a computer"),
        ("start tidewick-kiln.example", "--brief"),
        ("start", "No domain"),
        ("start tidewick-kiln.example --brief nothing.toml", "nothing.toml"),
        ("start tidewick-kiln.example --brief bricklark.brief.toml", "values.site"),
        ("start tidewick-kiln.example --brief bricklark.brief.toml --value account", "name=value"),
        ("start tidewick-kiln.example --brief bricklark.brief.toml --value sit=x", "site"),
        ("start tidewick-kiln.example --brief bricklark.brief.toml --primary a.b", "one label"),
        ("start tidewick-kiln.example --brief mossgate.notation.toml", "homepath.brief/1"),
        ("plan", "homepath start"),
        ("plan --site nowhere/homepath.toml", "nowhere"),
        ("explain near-mis", "near-miss"),
        ("practice builder state", "practice open"),
        ("survey --network nothing.toml", "nothing.toml"),
    ],
)  # fmt: skip
def test_one_clear_message(folder: Path, homepath: Run, words: str, said: str) -> None:
    before = sorted(path.name for path in folder.iterdir())
    done = homepath(*words.split())
    assert done.status == (4 if "practice" in words else 2)
    assert said in done.err
    assert done.out == ""
    assert sorted(path.name for path in folder.iterdir()) == before


def test_a_brief_with_a_cname_for_the_apex(folder: Path, homepath: Run) -> None:
    changed(folder, "bricklark.brief.toml", 'apex  = [{ type = "A",', 'apex = [{ type = "CNAME",')
    done = homepath(*START)
    assert done.status == 2
    assert "bricklark.brief.toml, line 24" in done.err
    assert "RFC 1034" in done.err
    assert not (folder / "homepath.toml").exists()


def test_all_problems_come_at_once(folder: Path, homepath: Run) -> None:
    homepath(*START)
    changed(folder, "bricklark.brief.toml", "192.0.2.44", "192.0.2.1l")
    changed(folder, "bricklark.brief.toml", "longest_wait", "longestwait")
    changed(folder, "mossgate.notation.toml", '"required"', '"needed"')
    done = homepath("plan")
    assert done.status == 2
    assert done.err.startswith("3 things need fixing first:")
    assert "did you mean longest_wait?" in done.err


def test_start_keeps_comments_and_another_domain_is_not_overwritten(folder: Path, homepath: Run) -> None:
    assert homepath(*START).status == 0
    path = folder / "homepath.toml"
    path.write_text(path.read_text() + "# my own note\n")
    again = homepath(*[word.replace("www", "apex") for word in START])
    assert again.status == 0
    assert "# my own note" in path.read_text()
    assert 'primary = "apex"' in path.read_text()
    before = path.read_text()
    other = homepath(*[word.replace("tidewick-kiln", "other-kiln") for word in START])
    assert (other.status, path.read_text()) == (2, before)
    assert "already belongs to tidewick-kiln.example" in other.err


@pytest.mark.parametrize(
    ("text", "said"), [("", "kind"), (f"{NETWORK}\n", "roots"), (f'{NETWORK}\nroots = ["127.0.0.1:1"]\n', "")]
)
def test_a_network_file_pointing_at_nothing(folder: Path, homepath: Run, text: str, said: str) -> None:
    homepath(*START)
    (folder / "network.toml").write_text(text)
    for command in ("survey", "next", "visit"):
        done = homepath(command)
        assert done.status == (2 if said else 4), done.err
        assert (said or "o server listens at 127.0.0.1:1") in done.err


@pytest.mark.parametrize(
    ("text", "said"), [("", "no record"), ("www A 192.0.2.1\nx A 1\n", "line 2"), ("\xff", "UTF-8")]
)
def test_an_empty_or_broken_master_file(world: World, homepath: Run, tmp_path: Path, text: str, said: str) -> None:
    homepath(*START)
    (tmp_path / "zone.txt").write_bytes(text.encode("latin-1"))
    done = homepath("survey", "--zone", "zone.txt")
    assert (done.status, said.lower() in done.err.lower()) == (2, True), done.err
    assert homepath("plan").status == 4  # nothing was kept of it


def test_a_folder_that_cannot_be_written(folder: Path, homepath: Run) -> None:
    done = homepath(*START, "--folder", "bricklark.brief.toml")
    assert done.status == 2
    assert "cannot be written" in done.err or "cannot be read" in done.err
    full = homepath(*START, "--folder", "/proc/nothing")
    assert full.status == 2
    assert "nothing was changed" in full.err


def test_a_journal_that_is_none(folder: Path, homepath: Run) -> None:
    homepath(*START)
    (folder / "homepath.journal").write_text("this is no database at all, it is only a text" * 50)
    done = homepath("plan")
    assert (done.status, "journal cannot be used" in done.err) == (2, True)
    (folder / "homepath.journal").unlink()
    (folder / "homepath.journal").mkdir()
    assert homepath("plan").status == 2


def test_hostile_text_is_shown_harmlessly(world: World, homepath: Run) -> None:
    homepath(*START)
    homepath("practice", "form", "enter", "tidewick-kiln.example", "@", "TXT", "\x1b[2J\x1b]0;owned\x07")
    for command in ("survey", "plan", "sheet", "watch --once", "log", "survey --json"):
        assert "\x1b" not in homepath(*command.split()).out
    assert r"\027[2J" in homepath("survey").out


def test_quick_commands_import_nothing_heavy(world: World, homepath: Run, tmp_path: Path) -> None:
    homepath(*START)
    homepath("survey")
    light = {"asyncio", "dns", "httpcore", "cryptography", "tomlkit", "publicsuffixlist", "rich"}

    def loaded(command: str) -> set[str]:
        words = [sys.executable, "-c", LIST_MODULES, *command.split()]
        done = subprocess.run(words, cwd=tmp_path, capture_output=True, text=True, check=True, env=dict(os.environ))
        return set(done.stderr.split())

    assert not loaded("--version") & (light | {"sqlite3", "tomllib", "homepath.core.model.brief"})
    assert not loaded("plan") & light
    assert not loaded("sheet") & light
    assert "dns" in loaded("survey --network network.toml")


def test_explain_has_a_page_for_every_code(homepath: Run) -> None:
    listed = homepath("explain")
    assert listed.status == 0
    assert "redirect-loop" in listed.out
    assert "reserved-name (blocker)" in homepath("explain", "mail-name-as-redirect").out  # its code until lately
    page = homepath("explain", "target-unfinished").out
    assert "RFC 1035" in page
    assert "final dot" in page


READERS = {
    "zone": ("survey", "--zone", "odd"),
    "brief": ("brief", "check", "odd"),
    "pasted": ("brief", "read", "odd"),
    "key": ("send", "--key", "odd", "--yes"),
    "notation": ("start", "tidewick-kiln.example", "--brief", "bricklark.brief.toml", "--notation", "odd"),
}
ODD = {
    "UTF-16": "A\t@\t192.0.2.1\n".encode("utf-16"),
    "Latin-1": "# T\xf6pferei\n".encode("latin-1"),
    "NUL": b"a\0b = 1\n",
    "nothing": b"",
    "a long line": b"x" * 10_000 + b"\n",
    "a truncated file": b'format = "homepath.brief/1"\n[values.acc',
    "too large": b"#\n" * 50_000_001,
}


@pytest.mark.parametrize("reader", READERS)
def test_odd_files_are_refused_by_every_reader(folder: Path, homepath: Run, reader: str) -> None:
    homepath(*START)
    for name, octets in ODD.items():
        (folder / "odd").write_bytes(octets)
        done = homepath(*READERS[reader])
        refused = (1, 2) if reader == "pasted" else (2,)  # a page may be anything; what is odd in it is a doubt
        refused = (0,) if (reader, name) == ("pasted", "UTF-16") else refused
        assert done.status in refused, (name, done.out, done.err)
        assert done.err.strip(), name
        assert len(done.err) < 2000, name
    (folder / "odd").unlink()
    (folder / "odd").symlink_to("/dev/zero")
    done = homepath(*READERS[reader])
    assert done.status == 2
    assert "larger than 100 MB" in done.err


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (("next", "--decide", "none:a..b TXT"), "empty part"),
        (("next", "--decide", f"drop:{'a' * 70} TXT"), "longer than 63"),
        (("next", "--decide", "accept:@ \u2603"), "name and type"),
        (("watch", "--once", "--then", " "), "program does not exist"),
        (("many", "list.csv", "--then", ""), "program does not exist"),
        (("many", "list.csv", "--cluster", ""), "not the address of a scheduler"),
        (("many", "list.csv", "--cluster", "not an address"), "not the address of a scheduler"),
        (("many", "/dev/zero"), "not a file"),
        (("many", "x" * 300), "the list is not there"),
    ],
)
def test_words_that_are_none_are_said(
    world: World, homepath: Run, tmp_path: Path, words: tuple[str, ...], said: str
) -> None:
    homepath(*START)
    homepath("survey")
    (tmp_path / "list.csv").write_text("domain,primary,brief\ntidewick-kiln.example,www,bricklark.brief.toml\n")
    done = homepath(*words)
    assert (done.status, said in " ".join(done.err.lower().split())) == (2, True), done.err


def test_a_network_file_as_people_save_it(world: World, homepath: Run, tmp_path: Path) -> None:
    homepath(*START)
    network = tmp_path / "network.toml"
    plain = network.read_text()
    network.write_bytes(b"\xef\xbb\xbf" + plain.encode())
    assert homepath("visit").status == 1
    network.write_text(plain.replace('certificates = "', f'certificates = "{"c" * 300}', 1))
    assert "certificates" in (done := homepath("visit")).err
    assert done.status == 2


def test_a_command_need_not_read_what_it_is_told_and_a_link_to_a_list_is_that_list(
    world: World, homepath: Run, tmp_path: Path
) -> None:
    rows = "".join(f"n{number}.example,www,bricklark.brief.toml,1,c\n" for number in range(60))
    (tmp_path / "list.csv").write_text("domain,primary,brief,site,code\n" + rows)
    assert homepath("many", "list.csv", "--then", "true", "--worst", "none").status in (2, 4)
    (tmp_path / "link.csv").symlink_to("list.csv")
    homepath("many", "link.csv")
    assert not list(tmp_path.glob("link.csv?*"))
