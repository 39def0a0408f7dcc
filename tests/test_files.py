"""The one writer: whole or not at all, links followed, devices written to, modes kept, left-overs swept."""

from __future__ import annotations

import os
import stat
import threading
from pathlib import Path

import pytest

from homepath import files
from homepath.bulk.lists import listed_in
from homepath.core.files.key_file import read_key_file
from homepath.core.files.site_file import read_site
from homepath.core.files.strict import DEEPEST
from homepath.core.message import reason
from homepath.core.model.problems import BadInput
from homepath.core.wording.say import say
from homepath.files import write_octets, write_text
from homepath.net.network_file import load_network
from tests.refusals import refused


def test_a_link_stays_a_link_and_its_file_is_replaced(tmp_path: Path) -> None:
    there = tmp_path / "deep" / "real.txt"
    there.parent.mkdir()
    there.write_text("before")
    there.chmod(0o600)
    link = tmp_path / "link.txt"
    link.symlink_to(there)
    write_text(link, "after")
    assert link.is_symlink()
    assert there.read_text() == "after"
    assert stat.S_IMODE(there.stat().st_mode) == 0o600
    dangling = tmp_path / "dangling.txt"
    dangling.symlink_to(tmp_path / "new.txt")
    write_text(dangling, "made")
    assert (tmp_path / "new.txt").read_text() == "made"


def test_a_new_file_has_the_mode_that_the_user_wants(tmp_path: Path) -> None:
    before = os.umask(0o027)
    try:
        write_text(tmp_path / "a.txt", "x")
    finally:
        os.umask(before)
    assert stat.S_IMODE((tmp_path / "a.txt").stat().st_mode) == 0o640


def test_a_pipe_is_written_to_and_stays_a_pipe(tmp_path: Path) -> None:
    pipe = tmp_path / "pipe"
    os.mkfifo(pipe)
    seen: list[bytes] = []
    reader = threading.Thread(target=lambda: seen.append(pipe.read_bytes()))
    reader.start()
    write_octets(pipe, b"through")
    reader.join(10)
    assert seen == [b"through"]
    assert stat.S_ISFIFO(pipe.stat().st_mode)
    write_octets(Path("/dev/null"), b"gone")
    assert stat.S_ISCHR(Path("/dev/null").stat().st_mode)


def test_what_a_killed_run_left_is_swept_and_nothing_else(tmp_path: Path) -> None:
    old, fresh, other = (tmp_path / name for name in (".a.txt.x1.homepath-part", ".a.txt.x2.homepath-part", ".b.txt.x"))
    for each in (old, fresh, other):
        each.write_text("half")
    os.utime(old, (1, 1))
    os.utime(other, (1, 1))
    write_text(tmp_path / "a.txt", "whole")
    assert sorted(each.name for each in tmp_path.iterdir()) == sorted([fresh.name, other.name, "a.txt"])


def test_what_cannot_be_written_is_said_and_nothing_is_left(tmp_path: Path) -> None:
    (tmp_path / "folder").mkdir()
    (tmp_path / "file").write_text("x")
    for path in (tmp_path / "folder", tmp_path / "file" / "below", tmp_path / ("x" * 300)):
        with refused(BadInput, "cannot be written"):
            write_text(path, "text")
    assert sorted(each.name for each in tmp_path.iterdir()) == ["file", "folder"]


@pytest.mark.parametrize(
    "text",
    [
        "x = 1\n" * 200_000,
        ".".join(["a"] * (DEEPEST + 2)) + " = 1\n",
        "[" + ".".join(["a"] * 40_000) + "]\n",
        "a = " + "[" * 50_000,
        "a = {" + "b = {" * 5_000,
        "a = " + "9" * 50_000 + "\n",
        "a = { " + ".".join(["b"] * 40_000) + " = 1 }\n",
        "a = " + "9" * 9_000 + "\n",
        "a = { " + ".".join(["b"] * 4_000) + " = 1 }\n",
        "[" + ".".join(["a"] * 4_000) + "]\n",
        "".join("a = " + "[" * 7 + "\n" for _ in range(100)),
    ],
)
def test_files_made_to_cost_are_refused(text: str, tmp_path: Path) -> None:
    path = tmp_path / "network.toml"
    path.write_text('format = "homepath.network/1"\n' + text)
    with pytest.raises(BadInput):
        load_network(path)


def test_a_value_with_many_dots_is_no_deep_key(tmp_path: Path) -> None:
    path = tmp_path / "network.toml"
    path.write_text(
        'format = "homepath.network/1"\nroots = ["127.0.0.1"]\n[registration]\n'
        'bootstrap = "http://a.b.c.d.e.f.g.h.i.j.k.example/x=1"  # a.b.c.d.e.f.g.h.i.j = 1\n'
    )
    assert load_network(path).bootstrap is not None


@pytest.mark.parametrize("text", ['primary = ""', 'primary = "."', 'primary = "a.b"', "primary = 5"])
def test_a_primary_that_is_none_is_said(text: str) -> None:
    with pytest.raises(BadInput) as refused:
        read_site(f'format = "homepath.site/1"\ndomain = "a.example"\nbrief = "b"\n{text}\n', "homepath.toml")
    assert [problem.key for problem in refused.value.problems] == ["primary"]


@pytest.mark.parametrize("secret", ["sécrèt", "\u0661\u0662", "a", "="])
def test_a_secret_that_is_no_base64_is_said_without_showing_it(secret: str) -> None:
    with pytest.raises(BadInput) as refused:
        read_key_file(f'key "k" {{ algorithm hmac-sha256; secret "{secret}"; }};', "k.key")
    words = say(reason(refused.value))
    assert "base64" in words
    assert secret not in words or len(secret) == 1


@pytest.mark.parametrize("size", [0, 10, 70_000])
def test_a_pipe_is_read_to_its_end_and_one_that_is_silent_is_given_up(
    size: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(files, "SILENCE", 0.5)
    pipe = tmp_path / "pipe"
    os.mkfifo(pipe)
    with refused(BadInput, "nothing comes"):
        files.read_octets(pipe, "the brief")
    writer = threading.Thread(target=lambda: pipe.write_bytes(b"x" * size), daemon=True)
    writer.start()
    if size:
        assert files.read_octets(pipe, "the brief") == b"x" * size
    else:
        with refused(BadInput, "nothing comes"):
            files.read_octets(pipe, "the brief")
    writer.join()


def test_a_device_without_end_is_refused_before_it_fills_the_memory(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(files, "BIGGEST", 1_000_000)
    with refused(BadInput, "larger than 1 MB"):
        files.read_octets(Path("/dev/zero"), "the brief")
    assert files.read_octets(Path("/dev/null"), "the brief") == b""
    with refused(BadInput, "cannot be read"):
        files.read_octets(Path("x" * 300), "the brief")
    with refused(BadInput, "cannot be read"):
        files.read_octets(Path("a\0b"), "the brief")


def test_a_pipe_among_the_site_files_of_a_folder_is_named_and_holds_nothing_up(tmp_path: Path) -> None:
    os.mkfifo(tmp_path / "odd.toml")
    (tmp_path / "a").mkdir()
    os.mkfifo(tmp_path / "a/homepath.toml")
    (problems,) = list(listed_in(tmp_path))
    assert isinstance(problems, list)
    assert [say(each.message) for each in problems] == ["this is not a file, so it cannot be a list or a site file"]
    with refused(BadInput, "not a file"):
        list(listed_in(Path("/dev/zero")))
