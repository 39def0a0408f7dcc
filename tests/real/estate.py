"""Many domains at one host and one builder: BIND for root and top level, BIND for the host, nginx as the edge.

For tests and benchmarks; needs a network namespace of its own. All domains have arrived unless a test says otherwise.
"""

from __future__ import annotations

import re
import subprocess
import sys
import time
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from contextlib import ExitStack, contextmanager
from dataclasses import dataclass
from functools import partial
from pathlib import Path

from homepath.practice.web_server import Authority
from tests.real.servers import _await, _end, _holds, _listens

ROOT, TOP, HOSTS, EDGE = "127.1.0.1", "127.1.0.2", ("127.1.1.1", "127.1.1.2"), "127.1.2.1"
SERVER = "sites.bricklark.example."
CODE = "tk-4471"

BRIEF = """format = "homepath.brief/1"
builder = "Bricklark"
[values.code]
ask = "The code of the proof"
[[ownership]]
type = "TXT"
host = "@"
value = "bricklark-owner={code}"
[routes.records]
apex = [{ type = "A", values = ["192.0.2.10"] }]
www = [{ type = "CNAME", values = ["sites.bricklark.example."] }]
[redirects]
done_by = "builder"
"""

ZONE = f"""$TTL 3600
@ SOA ns1.mossgate.example. dns.mossgate.example. 1 7200 3600 86400 3600
@ NS ns1.mossgate.example.
@ NS ns2.mossgate.example.
@ A 192.0.2.10
www CNAME {SERVER}
@ TXT "bricklark-owner={CODE}"
@ TXT "v=spf1 mx -all"
@ MX 10 mx1.mossgate.example.
_dmarc TXT "v=DMARC1; p=none"
mail A 198.51.100.25
"""
PARKED = ZONE.replace("@ A 192.0.2.10", "@ A 198.51.100.7").replace(f"www CNAME {SERVER}", "www A 198.51.100.7")


@dataclass(frozen=True)
class Estate:
    """A folder with `domains.csv`, the brief and the network file; `names`: the domains."""

    folder: Path
    names: tuple[str, ...]

    def questions(self) -> Counter[str]:
        """How many questions each server was asked, by its address, as BIND itself logged them."""
        return Counter(address for _, address, _ in self.asked())

    def asked(self) -> list[tuple[float, str, str]]:
        """Second of the day, server and question, as BIND logged them, in order."""
        found = []
        for name in ("above", "hosts"):
            log = self.folder / f"{name}.queries"
            for line in log.read_text().splitlines() if log.exists() else ():
                match = _QUERY.search(line)
                if match:
                    hour, minute, second, question, server = match.groups()
                    found.append((int(hour) * 3600 + int(minute) * 60 + float(second), server, question.lower()))
        return sorted(found)

    def forget_questions(self) -> None:
        for name in ("above", "hosts"):
            log = self.folder / f"{name}.queries"
            if log.exists():
                log.write_text("")


_QUERY = re.compile(r"(\d\d):(\d\d):(\d\d\.\d+) .*query: (\S+ IN \S+) .*\((127[\d.]+)\)")


@contextmanager
def estate(
    folder: Path,
    count: int,
    parked: Sequence[int] = (),
    web: bool = True,
    log: bool = False,
    pause_ms: int = 0,
    certificates: int | None = None,
    far_ms: int = 0,
) -> Iterator[Estate]:
    """All servers up. `parked`: domains that are not at the builder yet; `web`: with the edge, and certificates for so
    many domains; `far_ms`: every nameserver answers so much later, as one far away (by dnsdist before it)."""
    names = tuple(f"d{number}.example" for number in range(count))
    behind = {address: f"127.2.{address[6:]}" if far_ms else address for address in (ROOT, TOP, *HOSTS)}
    for address in (ROOT, TOP, *HOSTS, EDGE, *behind.values()):
        subprocess.run(["ip", "addr", "replace", f"{address}/32", "dev", "lo"], check=True)
    _named_files(folder, names)
    with ExitStack() as stack:
        out = stack.enter_context((folder / "log.txt").open("ab"))
        commands = [_above(folder, names, log, behind), _hosts(folder, names, set(parked), log, behind)]
        if far_ms:
            commands.append(_far(folder, behind, far_ms))
        if pause_ms:
            commands.append([sys.executable, "-c", _SLOW, str(pause_ms)])
        if web:
            commands.append(_edge(folder, names[:certificates], bool(pause_ms)))
        for words in commands:
            process = subprocess.Popen(words, stdout=subprocess.DEVNULL, stderr=out)
            stack.callback(_end, process)
        for origin, address in ((".", ROOT), ("example.", TOP), (f"{names[-1]}.", HOSTS[0])):
            for _ in range(max(1, count // 2000)):  # a hundred thousand zones take their time to load
                try:
                    _await(partial(_holds, origin, address), folder)
                    break
                except AssertionError:
                    continue
        if web:
            _await(lambda: _listens(EDGE, 443), folder)
        yield Estate(folder, names)


def _named_files(folder: Path, names: Sequence[str]) -> None:
    (folder / "bricklark.brief.toml").write_text(BRIEF)
    rows = "".join(f"{name},www,bricklark.brief.toml,{CODE}\n" for name in names)
    (folder / "domains.csv").write_text("domain,primary,brief,code\n" + rows)
    authority = Authority("test root", time.time())
    (folder / "root.pem").write_text(authority.bundle)
    reach = "".join(f'"192.0.2.10:{port}" = "{EDGE}:{port}"\n' for port in (80, 443))
    (folder / "network.toml").write_text(
        f'format = "homepath.network/1"\nroots = ["{ROOT}"]\n[trust]\ncertificates = "root.pem"\n'
        f"[pace]\nserver = 1000000\nresolver = 1000000\n[reach]\n{reach}"
    )
    folder.joinpath("certificates").mkdir(exist_ok=True)
    _AUTHORITIES[folder] = authority


_AUTHORITIES: dict[Path, Authority] = {}


def _options(folder: Path, name: str, addresses: str, log: bool) -> str:
    logging = (
        f'logging {{ channel asked {{ file "{folder}/{name}.queries"; print-time yes; }};'
        " category queries { asked; }; };"
        if log
        else ""
    )
    return (
        f'options {{ directory "{folder}"; listen-on {{ {addresses} }}; listen-on-v6 {{ none; }}; pid-file none;'
        f' session-keyfile "{folder}/{name}.session"; dnssec-validation no; notify no; recursion no;'
        f" querylog {'yes' if log else 'no'}; }};\ncontrols {{ }};\n{logging}\n"
    )


def _far(folder: Path, behind: Mapping[str, str], far_ms: int) -> list[str]:
    """All nameservers behind one that hands every answer on later."""
    lines = ['setSecurityPollSuffix("")', f"addAction(AllRule(), DelayAction({far_ms}))"]
    for number, (before, address) in enumerate(behind.items()):
        lines += [
            f'{"addLocal" if number else "setLocal"}("{before}:53")',
            f'newServer({{address="{address}:53", pool="{number}", checkInterval=60}})',
            f'to{number} = newNMG(); to{number}:addMask("{before}/32")',
            f'addAction(NetmaskGroupRule(to{number}, false), PoolAction("{number}"))',
        ]
    (folder / "far.conf").write_text("\n".join(lines) + "\n")
    return ["dnsdist", "--supervised", "--disable-syslog", "-C", str(folder / "far.conf")]


def _above(folder: Path, names: Sequence[str], log: bool, at: Mapping[str, str]) -> list[str]:
    """Root and top level."""
    (folder / "root.zone").write_text(
        f"$TTL 86400\n. SOA a.roots.example. k.roots.example. 1 60 60 60 60\n. NS a.roots.example.\n"
        f"a.roots.example. A {ROOT}\nexample. NS a.registry.example.\na.registry.example. A {TOP}\n"
    )
    delegated = "".join(
        f"{name}. NS ns1.mossgate.example.\n{name}. NS ns2.mossgate.example.\n"
        for name in (*names, "mossgate.example", "bricklark.example")
    )
    (folder / "top.zone").write_text(
        f"$TTL 86400\n$ORIGIN example.\n@ SOA a.registry k.registry 1 60 60 60 60\n@ NS a.registry\n"
        f"a.registry A {TOP}\n"
        f"a.roots A {ROOT}\nns1.mossgate A {HOSTS[0]}\nns2.mossgate A {HOSTS[1]}\n{delegated}"
    )
    views = "".join(
        f'view "{name}" {{ match-destinations {{ {at[address]}; }}; zone "{origin}" {{ type primary;'
        f' file "{folder}/{name}.zone"; }}; }};\n'
        for name, address, origin in (("root", ROOT, "."), ("top", TOP, "example"))
    )
    (folder / "above.conf").write_text(_options(folder, "above", f"{at[ROOT]}; {at[TOP]};", log) + views)
    return ["named", "-f", "-n", "1", "-c", str(folder / "above.conf")]


def _hosts(folder: Path, names: Sequence[str], parked: set[int], log: bool, at: Mapping[str, str]) -> list[str]:
    """One host with two addresses; all domains of a kind are the same file."""
    (folder / "arrived.zone").write_text(ZONE)
    (folder / "parked.zone").write_text(PARKED)
    (folder / "host.zone").write_text(
        f"$TTL 86400\n@ SOA ns1 dns 1 60 60 60 60\n@ NS ns1\n@ NS ns2\nns1 A {HOSTS[0]}\nns2 A {HOSTS[1]}\n"
        "mx1 A 198.51.100.25\n"
    )
    (folder / "builder.zone").write_text(
        "$TTL 3600\n@ SOA ns1.mossgate.example. dns 1 60 60 60 60\n@ NS ns1.mossgate.example.\n* A 192.0.2.10\n"
    )
    zones = [("mossgate.example", "host"), ("bricklark.example", "builder")]
    zones += [(name, "parked" if number in parked else "arrived") for number, name in enumerate(names)]
    text = "".join(f'zone "{name}" {{ type primary; file "{folder}/{file}.zone"; }};\n' for name, file in zones)
    (folder / "hosts.conf").write_text(_options(folder, "hosts", "".join(f"{at[h]}; " for h in HOSTS), log) + text)
    return ["named", "-f", "-n", "1", "-c", str(folder / "hosts.conf")]


def _edge(folder: Path, names: Sequence[str], slow: bool) -> list[str]:
    """The builder: plain http leads to https, the bare name to www, and each name has its certificate."""
    authority, now = _AUTHORITIES[folder], time.time()
    for name in names:
        issued = authority.issue([name, f"www.{name}"], now)
        for host in (name, f"www.{name}"):
            (folder / "certificates" / f"{host}.pem").write_bytes(issued.chain)
            (folder / "certificates" / f"{host}.key").write_bytes(issued.key)
    temporary = " ".join(
        f"{kind}_temp_path {folder}/{kind};" for kind in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi")
    )
    page = (
        "proxy_pass http://127.1.2.2:8100;" if slow else 'default_type text/html; return 200 "<title>the site</title>";'
    )
    first = "location / { proxy_pass http://127.1.2.2:8100/to-www/; proxy_set_header Host $host; }"
    plain = first if slow else "return 301 https://www.$bare$request_uri;"
    secure = (
        f"listen {EDGE}:443 ssl; ssl_certificate {folder}/certificates/$ssl_server_name.pem;"
        f" ssl_certificate_key {folder}/certificates/$ssl_server_name.key;"
    )
    (folder / "nginx.conf").write_text(
        f"""user root; daemon off; pid {folder}/nginx.pid; error_log stderr; worker_processes 1;
events {{ worker_connections 4096; }}
http {{ access_log off; {temporary} map $host $bare {{ default $host; ~^www\\.(?<rest>.*)$ $rest; }}
  server {{ listen {EDGE}:80 default_server; {plain} }}
  server {{ {secure} server_name ~^www\\.; location / {{ {page} }} }}
  server {{ {secure.replace(":443 ssl", ":443 ssl default_server")} server_name _; {plain} }} }}
"""
    )
    return ["nginx", "-c", str(folder / "nginx.conf"), "-e", "stderr"]


_SLOW = """
import asyncio, sys
PAUSE = int(sys.argv[1]) / 1000
async def serve(reader, writer):
    try:
        while True:
            head = (await reader.readuntil(b"\\r\\n\\r\\n")).decode("latin-1")
            await asyncio.sleep(PAUSE)
            host = next((l.split(":", 1)[1].strip() for l in head.split("\\r\\n") if l.lower().startswith("host:")), "")
            path = head.split(" ", 2)[1]
            if path.startswith("/to-www/"):
                bare = host.removeprefix("www.")
                to = f"https://www.{bare}/{path.removeprefix('/to-www/').lstrip('/')}"
                writer.write(f"HTTP/1.1 301 Moved\\r\\nLocation: {to}\\r\\nContent-Length: 0\\r\\n\\r\\n".encode())
            else:
                body = b"<title>the site</title>"
                head = b"HTTP/1.1 200 OK\\r\\nContent-Type: text/html\\r\\nContent-Length: %d\\r\\n\\r\\n"
                writer.write(head % len(body) + body)
            await writer.drain()
    except (asyncio.IncompleteReadError, ConnectionError):
        writer.close()
async def main():
    async with await asyncio.start_server(serve, "127.1.2.2", 8100) as server:
        await server.serve_forever()
asyncio.run(main())
"""
