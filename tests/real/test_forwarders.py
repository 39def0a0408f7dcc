"""Configurations that `forwarder` writes, on the real servers, visited by `visit`; and a proxy that goes round."""

from __future__ import annotations

import subprocess
import time
from pathlib import Path

import pytest

from homepath.practice.web_server import Authority
from tests.conftest import START, run_in
from tests.real import servers
from tests.real.test_real_servers import DOMAIN, folder, read, send, update

__all__ = ["folder"]
pytestmark = pytest.mark.real


def started(folder: Path) -> None:
    assert run_in(folder, *START).status == 0
    run_in(folder, "survey")
    assert send(folder).status == 1


def certificate_for(folder: Path, *names: str) -> tuple[str, ...]:
    """A certificate of a further trusted authority, as options of `forwarder`."""
    authority = Authority("forwarder root", time.time())
    issued = authority.issue(list(names), time.time())
    (folder / "root.pem").write_text((folder / "root.pem").read_text() + authority.bundle)
    (folder / "fw.pem").write_bytes(issued.chain)
    (folder / "fw.key").write_bytes(issued.key)
    return "--certificate", str(folder / "fw.pem"), "--key", str(folder / "fw.key")


@pytest.mark.parametrize("kind", ["nginx", "apache", "caddy"])
def test_visitors_arrive_through_the_forwarder(folder: Path, kind: str) -> None:
    """The apex leads to the own server, which redirects over http and https with path and query kept."""
    site = folder / "homepath.toml"
    started(folder)
    brief = (folder / "bricklark.brief.toml").read_text()
    (folder / "bricklark.brief.toml").write_text("\n".join(x for x in brief.splitlines() if not x.startswith("apex")))
    site.write_text(f'own_server = ["198.51.100.9"]\n{site.read_text()}')
    options = certificate_for(folder, DOMAIN)
    words = ["forwarder", "--for", kind, *options, "--listen", servers.FORWARDER, "--hsts", "5 min"]
    config = run_in(folder, *words)
    assert config.status == 0, config.err
    with servers.forwarding(folder, kind, config.out):
        run_in(folder, "survey")
        _, plan = read(folder, "plan")
        assert plan["redirects"]["place"] == "own-server"
        assert "redirect" in [step["kind"] for step in plan["steps"]]
        assert send(folder).status == 1
        status, found = read(folder, "visit")
        codes = {finding["code"] for finding in found["findings"]}
        assert found["verdict"] == "arrived", found["ways"]
        assert status == found["assessment"]["exit"]  # caches may hold an old answer for a while yet
        assert not codes & {"redirect-loses-path", "redirect-loses-query", "redirect-temporary", "redirect-long"}
        (apex,) = [way for way in found["ways"] if way["url"] == f"https://{DOMAIN}/"]
        assert apex["hops"][0]["hsts"] == "max-age=300"
        assert apex["hops"][0]["protocol"] in ("h2", "http/1.1")
        assert {hop["protocol"] for way in found["ways"] for hop in way["hops"]} & {"h2"} or kind == "apache"


@pytest.mark.parametrize(
    ("kind", "check"),
    [
        ("apache", ["apache2", "-t", "-f", "own.conf"]),
        ("caddy", ["caddy", "adapt", "--config", "Caddyfile", "--adapter", "caddyfile"]),
    ],
)
def test_without_a_certificate_of_ones_own_acme_is_configured(folder: Path, kind: str, check: list[str]) -> None:
    """The authority is out of reach here, so the servers only read these configurations, and find them right."""
    assert run_in(folder, *START).status == 0
    config = run_in(folder, "forwarder", "--for", kind, "--from", DOMAIN, "--from", "tidewick-pots.example").out
    assert "tidewick-pots.example" in config
    (folder / "state").mkdir()
    {"apache": servers._own_apache, "caddy": servers._own_caddy}[kind](folder, config)
    words = [word if word not in ("own.conf", "Caddyfile") else str(folder / word) for word in check]
    done = subprocess.run(words, capture_output=True, text=True, cwd=folder, check=False)
    assert done.returncode == 0, done.stderr


def test_a_real_proxy_that_fetches_plain_http_goes_round(folder: Path) -> None:
    """nginx in front of an edge that redirects http to https: recognised from outside, with the cure."""
    started(folder)
    chain, key = certificate_for(folder, DOMAIN, f"www.{DOMAIN}")[1::2]
    config = f"""server {{ listen {servers.FORWARDER}:80; listen {servers.FORWARDER}:443 ssl;
      server_name {DOMAIN} www.{DOMAIN}; ssl_certificate {chain}; ssl_certificate_key {key};
      location / {{ proxy_pass http://{servers.EDGE}:80; proxy_set_header Host $host; proxy_redirect off; }} }}"""
    with servers.forwarding(folder, "nginx", config):
        update(
            folder,
            f"update delete {DOMAIN} A\nupdate add {DOMAIN} 10 A 198.51.100.9\n"
            f"update delete www.{DOMAIN} CNAME\nupdate add www.{DOMAIN} 10 A 198.51.100.9",
        )
        status, found = read(folder, "visit")
        assert (status, found["verdict"]) == (3, "broken")
        assert {finding["code"] for finding in found["findings"]} == {"proxy-loop"}
        assert "over https" in found["findings"][0]["cure"]
