"""The files people write and export: read strictly, every mistake at once, each with its place."""

from __future__ import annotations

import contextlib
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from homepath.core.files.brief_file import read_brief
from homepath.core.files.exports import read_master_file, write_master_lines
from homepath.core.files.key_file import read_key_file
from homepath.core.files.site_file import read_notation, read_site, write_site
from homepath.core.files.strict import key_lines
from homepath.core.model.problems import BadInput
from homepath.core.wording.say import say
from homepath.net.network_file import OffLimits, load_network
from homepath.net.vantages import read_place
from homepath.practice.scene_file import load_scene
from tests.core.cases import DOMAIN, RIGHT, SITE, zone

BRIEF_TEXT = load_scene("first-site").files["bricklark.brief.toml"]
SITE_TEXT = (
    'format = "homepath.site/1"\n# mine\ndomain = "tidewick-kiln.example" # kept\nprimary = "www"\nbrief = "b.toml"\n'
)


def problems(read: object, text: str) -> list[tuple[int | None, str | None, str, str | None]]:
    with pytest.raises(BadInput) as caught:
        read(text, "f.toml")  # type: ignore[operator]
    assert all(problem.file == "f.toml" for problem in caught.value.problems)
    return [(p.line, p.key, say(p.message), say(p.hint) if p.hint else None) for p in caught.value.problems]


def test_all_problems_of_a_brief_at_once_with_line_key_and_nearest_key() -> None:
    text = (
        BRIEF_TEXT.replace("usual_wait", "usual_wayt")
        .replace("192.0.2.44", "192.0.2.999")
        .replace('done_by = "builder"', 'done_by = "magic"')
    )
    lines = text.splitlines()
    found = problems(read_brief, text)
    assert [lines[(line or 0) - 1].split(" ")[0] for line, *_ in found] == ["apex", "done_by", "usual_wayt"]
    assert [key for _, key, *_ in found] == ["routes.records.apex[1]", "redirects.done_by", "https.usual_wayt"]
    assert found[2][3] == "did you mean usual_wait?"
    assert "192.0.2.999" in found[0][2]


@pytest.mark.parametrize(
    ("before", "after", "said"),
    [
        ('apex  = [{ type = "A", values = ["192.0.2.10", "192.0.2.44"] }]',
         'apex = [{ type = "CNAME", values = ["x.bricklark.example."] }]', "cname-at-apex"),
        ("[values.code]", "[values.kode]", "no [values.code]"),
        ('"30 min"\n', '"a while"\n', "length of time"),
        ('type = "TXT"\nhost', 'type = "CNAME"\nhost', "apex"),
        ('format = "homepath.brief/1"', 'format = "homepath.brief/9"', "kind"),
        ('builder = "Bricklark"', 'builder = "Bricklark', "TOML"),
        ('builder = "Bricklark"', "", "missing"),
        ('"site-{site}.edge.bricklark.example."', '"192.0.2.1"', "address"),
    ],
)  # fmt: skip
def test_bad_briefs(before: str, after: str, said: str) -> None:
    text = BRIEF_TEXT.replace('"4 h"\n', '"30 min"\n').replace(before, after)
    assert any(said in message for _, _, message, _ in problems(read_brief, text))


@pytest.mark.parametrize(
    ("written", "names", "old"),
    [
        ('[reserved_names]\n"mail" = "mail pages"\n', [("mail", "mail pages")], False),
        ('reserved_names = ["mail", "in.*"]\n', [("mail", ""), ("in.*", "")], False),
        ('refuses_redirect_from = ["mail"]\n', [("mail", "")], True),
    ],
)
def test_reserved_names_in_each_form(written: str, names: list[tuple[str, str]], old: bool) -> None:
    head = 'format = "homepath.brief/1"\nbuilder = "Bricklark"\n'
    routes = '[routes.records]\nwww = [{ type = "A", values = ["192.0.2.10"] }]\n'
    brief = read_brief(f"{head}{written}{routes}", "b.toml")
    assert [(each.pattern, each.reason) for each in brief.reserved_names] == names
    assert bool(brief.old_keys) == old
    both = f'{head}reserved_names = ["a"]\nrefuses_redirect_from = ["b"]\n{routes}'
    assert any("old name of reserved_names" in message for _, _, message, _ in problems(read_brief, both))


def test_lines_of_keys_in_every_shape() -> None:
    text = 'a = 1\n[t]\nb = [\n  { c = 1 },\n  { c = 2 },\n]\n[[u]]\nd = """\ne = 5\n"""\n[[u]]\n"x y".z = 3\n'
    found = key_lines(text)
    assert found["a",] == 1
    assert found["t", "b"] == 3
    assert found["t", "b", 1] == 5
    assert found["u", 1] == 11
    assert found["u", 1, "x y", "z"] == 12
    assert ("u", 0, "e") not in found
    deep = key_lines('b = [\n  [\n  { c = 1 },\n  ],\n  "x",\n  3,\n]\nc = [ { d = 1 } ]\ne = 2\n')
    assert deep["b", 0] == 5
    assert ("b", 1) not in deep
    assert (deep["c",], deep["e",]) == (8, 9)


def test_site_files_keep_comments_and_refuse_unknown_keys() -> None:
    site = read_site(SITE_TEXT, "f.toml")
    again = write_site(site, SITE_TEXT)
    assert "# mine" in again
    assert "# kept" in again
    assert read_site(write_site(SITE), "f.toml").values == SITE.values
    assert read_site(again, "f.toml") == site
    again = write_site(site, SITE_TEXT)
    assert write_site(site, again) == again
    valued = write_site(replace(site, values={"site": "one", "code": "x"}), again)
    other = write_site(replace(site, values={"site": "other"}), valued)
    assert read_site(other, "f.toml").values == {"site": "other"}
    assert "[values]" not in write_site(replace(site, values={}), SITE_TEXT)
    found = problems(read_site, SITE_TEXT.replace("primary", "primarry"))
    assert {key for _, key, *_ in found} == {"primary", "primarry"}
    assert any(hint == "did you mean primary?" for *_, hint in found)
    assert problems(read_site, SITE_TEXT.replace('"www"', '"a.b"'))[0][1] == "primary"
    assert problems(read_site, SITE_TEXT.replace("tidewick-kiln.example", "kiln"))[0][1] == "domain"


@given(st.text(max_size=200))
def test_any_text_is_read_or_refused(text: str) -> None:
    for read in (read_brief, read_site, read_notation, read_key_file):
        with pytest.raises(BadInput):
            read(text, "f")
    with contextlib.suppress(BadInput):
        read_master_file(text, DOMAIN, "f")


def test_master_files() -> None:
    text = """$TTL 1h
$ORIGIN tidewick-kiln.example.
@ IN SOA ns1.mossgate.example. dns.mossgate.example. ( 1 2 3 4 5 ) ; the start
  IN NS ns1.mossgate.example.
www 300 IN CNAME Site-20817.Edge.Bricklark.example.
txt TXT "a b" "c"
odd TYPE65280 \\# 2 abcd
"""
    read = read_master_file(text, DOMAIN, "zone.txt")
    assert read.values(f"www.{DOMAIN}", "CNAME") == ("site-20817.edge.bricklark.example.",)
    assert read.values(f"txt.{DOMAIN}", "TXT") == ('"a b" "c"',)
    found = read.get(f"odd.{DOMAIN}", "TYPE65280")
    assert found is not None
    assert found.ttl == 3600
    back = read_master_file(write_master_lines(list(zone(RIGHT))), DOMAIN, "x")
    assert back.sets == zone(RIGHT).sets


@pytest.mark.parametrize(
    ("text", "line", "said"),
    [
        ("", None, "no record"),
        ("www IN A 192.0.2.1\nwww IN A 192.0.2.999\n", 2, "cannot be read"),
        ("$INCLUDE other.txt\n", 1, "INCLUDE"),
        ('www TXT "open\n', 1, "cannot be read"),
        ("\0\0", None, "NUL"),
        ("other.example. 60 IN A 192.0.2.1\n", None, "no record"),
    ],
)
def test_bad_master_files_name_the_line(text: str, line: int | None, said: str) -> None:
    ((found_line, _, message, _),) = problems(lambda t, f: read_master_file(t, DOMAIN, f), text)
    assert found_line == line
    assert said in message


def test_key_files_never_show_the_secret() -> None:
    key = read_key_file('# c\nkey "k." {\n algorithm hmac-sha256;\n secret "c2VjcmV0LXNlY3JldA==";\n};', "k")
    assert (key.name, key.secret) == ("k.", b"secret-secret")
    assert "secret-secret" not in repr(key)
    slashes = read_key_file('key "k" { algorithm hmac-sha256; secret "//8//w=="; }; // end', "k")
    assert slashes.secret == b"\xff\xff\x3f\xff"
    for text in ('key "k" { secret "!!c2VjcmV0"; algorithm hmac-sha256; };', 'key "k" { secret "c2VjcmV0"; };'):
        with pytest.raises(BadInput) as caught:
            read_key_file(text, "k")
        assert "c2VjcmV0" not in str([caught.value.problems])


def test_network_files(tmp_path: Path) -> None:
    path = tmp_path / "n.toml"
    path.write_text(
        'format = "homepath.network/1"\nroots = ["127.0.0.1:5353"]\n[reach]\n"192.0.2.10:443" = "127.0.0.1:40443"\n'
    )
    network = load_network(path)
    assert network.closed
    assert network.place("192.0.2.10", 443) == ("127.0.0.1", 40443)
    assert network.place("127.0.0.9", 53) == ("127.0.0.9", 53)
    for address in ("192.0.2.10", "10.0.0.1", "2001:db8::1", "169.254.169.254"):
        with pytest.raises(OffLimits):
            network.place(address, 80)
    public = load_network(None)
    assert not public.closed
    for address in ("127.0.0.1", "10.0.0.1", "192.168.1.1", "169.254.169.254", "::1"):
        with pytest.raises(OffLimits):
            public.place(address, 53)
    assert read_place("[2001:db8::1]:5353", 53) == ("2001:db8::1", 5353)
    assert read_place("2001:db8::1", 53) == ("2001:db8::1", 53)
    path.write_text('format = "homepath.network/1"\nroots = ["nowhere"]\nresolver = []\n')
    with pytest.raises(BadInput) as caught:
        load_network(path)
    assert [problem.key for problem in caught.value.problems] == ["roots[1]", "resolver"]


def test_vantages_come_from_the_file_from_lists_and_from_this_machine(tmp_path: Path) -> None:
    from homepath.net.vantages import load_list, system_resolvers

    (tmp_path / "resolv.conf").write_text("nameserver 127.0.0.53\nnameserver ::1\nsearch example\n")
    found = system_resolvers(str(tmp_path / "resolv.conf"))
    assert [(each.server.address, each.label) for each in found] == [
        ("127.0.0.53", "this machine's, 127.0.0.53"),
        ("::1", "this machine's, ::1"),
    ]
    assert system_resolvers(str(tmp_path / "none")) == []
    entry = '[[resolvers]]\naddress = "127.0.0.9"\n'
    (tmp_path / "list.toml").write_text(
        f'format = "homepath.resolvers/1"\n{entry}{entry}transport = "tls"\nname = "dns.mossgate.example"\n'
        f'{entry}transport = "https"\nname = "dns.mossgate.example"\npath = "/ask"\n'
    )
    (tmp_path / "network.toml").write_text(
        'format = "homepath.network/1"\nroots = ["127.0.0.1"]\nresolver_lists = ["list.toml"]\n'
        '[[resolvers]]\naddress = "127.0.0.9"\nlabel = "first"\n'
    )
    made = load_network(tmp_path / "network.toml").resolvers
    assert [(r.server.port, r.server.transport, r.server.path) for r in made] == [
        *((53, "udp", ""), (853, "tls", ""), (443, "https", "/ask"))
    ]
    assert len({r.label for r in made}) == 3
    for text, said in (
        ("", "resolvers"),
        (f'{entry}transport = "carrier-pigeon"\n', "carrier-pigeon"),
        ('[[resolvers]]\naddress = "here"\n', "not an address"),
        (f'{entry}path = "no slash"\n', "not a path"),
    ):
        (tmp_path / "bad.toml").write_text(f'format = "homepath.resolvers/1"\n{text}')
        with pytest.raises(BadInput) as caught:
            load_list(tmp_path / "bad.toml")
        assert any(said in f"{say(p.message)} {p.key} {p.seen}" for p in caught.value.problems), caught.value.problems
