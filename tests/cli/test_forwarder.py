from __future__ import annotations

from pathlib import Path

from homepath.practice.world import World
from tests.conftest import START, Run


def test_the_site_decides_what_is_forwarded(world: World, homepath: Run, tmp_path: Path) -> None:
    assert homepath(*START).status == 0
    site = (tmp_path / "homepath.toml").read_text()
    (tmp_path / "homepath.toml").write_text(f'also = ["tidewick-pots.example"]\n{site}')
    out = homepath("forwarder", "--for", "caddy").out
    assert "https://tidewick-kiln.example, https://tidewick-pots.example, https://www.tidewick-pots.example {" in out
    assert "redir https://www.tidewick-kiln.example{uri} 301" in out
    done = homepath("forwarder", "--for", "nginx", "--to", "own.conf")
    assert (done.status, "own.conf redirects" in done.out) == (0, True)
    assert "return 301 https://www.tidewick-kiln.example$request_uri;" in (tmp_path / "own.conf").read_text()
    assert "Keep the query:         yes" in homepath("forwarder", "--for", "proxy").out
    for words, said in (
        (("--from", "x;y"), "not a host name"),
        (("--hsts", "soon"), "not a length of time"),
        (("--certificate", "/a.pem"), "belong together"),
        (("--listen", "here"), "not an address"),
    ):
        done = homepath("forwarder", *words)
        assert (done.status, said in done.err) == (2, True)
    (tmp_path / "homepath.toml").write_text(site.replace('primary = "www"', 'primary = "shop"'))
    assert "no other name" in homepath("forwarder").err
