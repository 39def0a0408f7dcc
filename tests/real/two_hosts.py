"""Real servers for hand-overs: BIND as root, signed top level, old host, new host and builder; Unbound plain and
validating; nginx as the builder's servers. Each role has an address of its own on loopback."""

from __future__ import annotations

import subprocess
import threading
import time
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path

import dns.exception
import dns.message
import dns.query
import dns.rdatatype

from homepath.core.dns.ds import ds_to_set
from homepath.core.dns.records import RecordSet
from homepath.practice.scene_file import load_scene
from tests.real import servers

ROOT, TOP, OLD, NEW, BUILDER = (f"127.0.54.{last}" for last in (1, 2, 3, 4, 5))
PLAIN, VALIDATING = "127.0.54.101", "127.0.54.102"
DOMAIN = "tidewick-kiln.example."
BEFORE = "127.0.54.60"
"""A dnsdist that stands before one server and keeps silent."""
TTL = 4
"""Seconds of every record of the domain, of its delegation and of its DS record, in real time."""
_ROOT = f"""
. 86400 SOA a.roots.example. k.roots.example. 1 60 60 60 60
. NS a.roots.example.
a.roots.example. A {ROOT}
example. NS a.registry.example.
a.registry.example. A {TOP}
"""
_TOP = f"""
@ 86400 SOA a.registry k.registry 1 60 60 60 {TTL}
@ NS a.registry
a.registry A {TOP}
a.roots A {ROOT}
tidewick-kiln {TTL} NS ns1.mossgate
mossgate NS ns1.mossgate
ns1.mossgate A {OLD}
thornlea NS ns-k7.thornlea
ns-k7.thornlea A {NEW}
fernhollow NS ns1.fernhollow
ns1.fernhollow A {BUILDER}
"""
_MOSSGATE = f"@ SOA ns1 dns 1 60 60 60 {TTL}\n@ NS ns1\nns1 A {OLD}\nmx1 A 198.51.100.25\nparking A 198.51.100.7\n"
_THORNLEA = f"@ SOA ns-k7 dns 1 60 60 60 {TTL}\n@ NS ns-k7\nns-k7 A {NEW}\n"
_SERVERS = ("ns1", "ns2", "ns3")
_FERNHOLLOW = f"@ SOA ns1 dns 1 60 60 60 {TTL}\n@ NS ns1\n*.pages A 192.0.2.130\n" + "".join(
    f"{name} A {BUILDER}\n" for name in _SERVERS
)


def records_of(scene: str, *names: str) -> str:
    """What a scene's zone holds for the domain, or for some of its names, with this zone's own TTL."""
    rows = [line.split(None, 4) for line in load_scene(scene).zones[DOMAIN].splitlines() if line.strip()]
    return "".join(
        f"{name} {rrtype} {value}\n"
        for name, _, _, rrtype, value in rows
        if rrtype not in ("SOA", "NS") and (not names or name in names)
    )


_SITE = (
    f"@ SOA ns1.mossgate.example. dns 1 60 60 60 {TTL}\n@ NS ns1.mossgate.example.\n"
    + records_of("mail-comes-along")
    + records_of("no-alias-at-the-apex", "kiln-cam", "_dmarc")
)
_AT_NEW = f"@ SOA ns-k7.thornlea.example. dns 1 60 60 60 {TTL}\n@ NS ns-k7.thornlea.example.\n"
_AT_BUILDER = (
    f"@ SOA ns1.fernhollow.example. dns 1 60 60 60 {TTL}\n"
    + "".join(f"@ NS {name}.fernhollow.example.\n" for name in _SERVERS)
    + "@ A 192.0.2.130\nwww A 192.0.2.130\n"
)
ZONES = (
    (ROOT, ".", _ROOT),
    (TOP, "example.", _TOP),
    (OLD, "mossgate.example.", _MOSSGATE),
    (OLD, DOMAIN, _SITE),
    (NEW, "thornlea.example.", _THORNLEA),
    (NEW, DOMAIN, _AT_NEW),
    (BUILDER, "fernhollow.example.", _FERNHOLLOW),
    (BUILDER, DOMAIN, _AT_BUILDER),
)
SIGNED = ((TOP, "example."), (OLD, DOMAIN))


@dataclass
class Mail:
    """Looks mail up through both caches again and again; `gaps` is what it met besides the mail host."""

    stop: threading.Event = field(default_factory=threading.Event)
    gaps: list[str] = field(default_factory=list)
    looks: int = 0

    def run(self) -> None:
        question = dns.message.make_query(DOMAIN, "MX")
        while not self.stop.is_set() and self.looks < 5000:
            for cache in (PLAIN, VALIDATING):
                said = _asked(question, cache)
                if "mx1.mossgate.example." not in said:
                    self.gaps.append(f"{time.strftime('%T')} {cache}: {said}")
            self.looks += 1
            self.stop.wait(0.3)


def _asked(question: dns.message.Message, cache: str) -> str:
    for _ in range(2):  # a datagram may be lost on a busy machine; twice is no accident
        try:
            answer = dns.query.udp(question, cache, timeout=4)
        except (OSError, dns.exception.DNSException) as error:
            said = str(error)
            continue
        return " ".join(rrset.to_text() for rrset in answer.answer) or dns.rcode.to_text(answer.rcode())
    return said


@contextmanager
def mail_watched() -> Iterator[Mail]:
    mail = Mail()
    thread = threading.Thread(target=mail.run)
    thread.start()
    try:
        yield mail
    finally:
        mail.stop.set()
        thread.join(10)


@contextmanager
def silent(folder: Path, server: str, name: str, rrtype: str) -> Iterator[None]:
    """For Home Path, this server answers nothing to this question, and everything else."""
    conf, network = folder / "silent.conf", folder / "network.toml"
    conf.write_text(
        f'setSecurityPollSuffix("")\nsetLocal("{BEFORE}:53")\nnewServer({{address="{server}:53", checkInterval=60}})\n'
        f'addAction(AndRule({{QTypeRule(DNSQType.{rrtype}), QNameRule("{name}")}}), DropAction())\n'
    )
    subprocess.run(["ip", "addr", "replace", f"{BEFORE}/32", "dev", "lo"], check=True)
    usual = network.read_text()
    network.write_text(f'{usual}"{server}:53" = "{BEFORE}:53"\n')
    with (folder / "log.txt").open("ab") as log:
        process = subprocess.Popen(["dnsdist", "--supervised", "-C", str(conf)], stdout=log, stderr=log)
    try:
        servers._await(partial(servers._listens, BEFORE, 53), folder)
        yield
    finally:
        servers._end(process)
        network.write_text(usual)


@contextmanager
def running(folder: Path, now: float) -> Iterator[Path]:
    """Everything up, the domain signed at its old host with a DS record above; gives the network file."""
    for address in (ROOT, TOP, OLD, NEW, BUILDER, PLAIN, VALIDATING, servers.EDGE):
        subprocess.run(["ip", "addr", "replace", f"{address}/32", "dev", "lo"], check=True)
    with ExitStack() as stack:
        log = stack.enter_context((folder / "log.txt").open("ab"))

        def begin(words: list[str]) -> None:
            process = subprocess.Popen(words, stdout=subprocess.DEVNULL, stderr=log)
            stack.callback(servers._end, process)

        begin(_bind(folder))
        for address, origin, _ in ZONES:
            servers._await(partial(servers._holds, origin, address), folder)
        for address, origin in SIGNED:
            servers._await(partial(keys_there, origin, address), folder)
        update(folder, TOP, "example.", [f"update add {DOMAIN} {TTL} DS {value}" for value in ds_of_old()])
        begin(_unbound(folder, PLAIN, "iterator"))
        begin(_unbound(folder, VALIDATING, "validator iterator"))
        begin(servers._nginx(folder, now))
        for address, port in ((PLAIN, 53), (VALIDATING, 53), (servers.EDGE, 80), (servers.EDGE, 443)):
            servers._await(partial(servers._listens, address, port), folder)
        yield _network(folder)


def keys_there(address: str, origin: str) -> bool:
    return bool(keys_at(address, origin))


def keys_at(origin: str, address: str) -> tuple[str, ...]:
    """The DNSKEY values that a server gives."""
    try:
        answer = dns.query.tcp(dns.message.make_query(origin, "DNSKEY"), address, timeout=2)
    except (OSError, dns.exception.DNSException):
        return ()
    return tuple(rdata.to_text() for rrset in answer.answer for rdata in rrset if rrset.rdtype == dns.rdatatype.DNSKEY)


def ds_of_old() -> tuple[str, ...]:
    return ds_to_set(DOMAIN, RecordSet(DOMAIN, "DNSKEY", 0, keys_at(DOMAIN, OLD)))


def update(folder: Path, server: str, zone: str, lines: list[str]) -> None:
    text = "\n".join([f"server {server}", f"zone {zone}", *lines, "send", ""])
    subprocess.run(["nsupdate", "-k", "owner.key"], cwd=folder, input=text, text=True, check=True)


def _bind(folder: Path) -> list[str]:
    words = ["tsig-keygen", "-a", "hmac-sha256", "owner-key"]
    (folder / "owner.key").write_bytes(subprocess.run(words, check=True, capture_output=True).stdout)
    views: dict[str, list[str]] = {}
    for address, origin, text in ZONES:
        name = f"{address.rpartition('.')[2]}-{origin.strip('.') or 'root'}"
        (folder / f"{name}.zone").write_text(f"$TTL {TTL if origin == DOMAIN else 60}\n$ORIGIN {origin}\n{text}")
        more = "allow-update { key owner-key; }; allow-transfer { any; };" if origin in (DOMAIN, "example.") else ""
        if (address, origin) in SIGNED:
            keys = folder / f"keys-{name}"
            keys.mkdir(exist_ok=True)
            more += f' dnssec-policy "quick"; inline-signing no; key-directory "{keys}";'
        zone = f'zone "{origin}" {{ type primary; file "{folder}/{name}.zone"; {more} }};'
        views.setdefault(address, []).append(zone)
    listed = " ".join(f"{address};" for address in views)
    parts = [
        f'view "v{address}" {{ match-destinations {{ {address}; }}; recursion no; {" ".join(zones)} }};'
        for address, zones in views.items()
    ]
    (folder / "named.conf").write_text(
        f"""{(folder / "owner.key").read_text()}
options {{ directory "{folder}"; listen-on {{ {listed} }}; listen-on-v6 {{ none; }}; pid-file none;
  session-keyfile "{folder}/session.key"; dnssec-validation no; notify no; }};
controls {{ }};
dnssec-policy "quick" {{ keys {{ csk lifetime unlimited algorithm ecdsap256sha256; }}; dnskey-ttl {TTL};
  max-zone-ttl 86400; }};
{chr(10).join(parts)}
"""
    )
    return ["named", "-g", "-c", str(folder / "named.conf")]


def _unbound(folder: Path, address: str, modules: str) -> list[str]:
    (folder / "hints").write_text(f". 86400 NS a.roots.example.\na.roots.example. 86400 A {ROOT}\n")
    top = keys_at("example.", TOP)
    anchors = "".join(f'  trust-anchor: "example. {TTL} IN DNSKEY {key}"\n' for key in top if key.startswith("257"))
    conf = folder / f"unbound-{address}.conf"
    conf.write_text(f"""server:
  interface: {address}
  directory: "{folder}"
  chroot: ""
  username: ""
  pidfile: ""
  root-hints: "{folder}/hints"
  module-config: "{modules}"
{anchors if "validator" in modules else ""}  do-not-query-localhost: no
  do-daemonize: no
  access-control: 127.0.0.0/8 allow
  use-syslog: no
  do-ip6: no
  target-fetch-policy: "0 0 0 0 0"
remote-control:
  control-enable: no
""")
    return ["unbound", "-d", "-c", str(conf)]


def _network(folder: Path) -> Path:
    path = folder / "network.toml"
    caches = "".join(f'[[resolvers]]\naddress = "{cache}"\n' for cache in (PLAIN, VALIDATING))
    reach = "".join(f'"192.0.2.130:{port}" = "{servers.EDGE}:{port}"\n' for port in (80, 443))
    head = f'format = "homepath.network/1"\nroots = ["{ROOT}"]\n'
    path.write_text(f'{head}{caches}[trust]\ncertificates = "root.pem"\n[reach]\n{reach}')
    return path
