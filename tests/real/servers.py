"""BIND as root, top level and DNS host, two Unbound caches, nginx as edge: real servers on loopback addresses.

They need a network namespace of their own (`make test` makes one), for port 53 and for addresses on `lo`.
"""

from __future__ import annotations

import shutil
import socket
import subprocess
import time
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from functools import partial
from pathlib import Path

import dns.exception
import dns.flags
import dns.message
import dns.query

from homepath.practice.web_server import Authority

ROOT, TOP, HOST, EDGE = "127.0.53.1", "127.0.53.2", "127.0.53.3", "127.0.53.10"
CACHES: tuple[str, ...] = ("127.0.53.101", "127.0.53.102")
PRIVATE = "127.0.53.110"
NEEDED = ("named", "unbound", "dnsdist", "nginx", "apache2", "caddy", "ip")
TTL = 30
"""Seconds; the old answers of these tests live this long, in real time: longer than a busy machine takes to look."""

_ROOT_ZONE = f"""
. 86400 SOA a.roots.example. k.roots.example. 1 60 60 60 60
. NS a.roots.example.
a.roots.example. A {ROOT}
example. NS a.registry.example.
a.registry.example. A {TOP}
"""
_TOP_ZONE = f"""
@ 86400 SOA a.registry k.registry 1 60 60 60 60
@ NS a.registry
a.registry A {TOP}
a.roots A {ROOT}
tidewick-kiln NS ns1.mossgate
mossgate NS ns1.mossgate
bricklark NS ns1.mossgate
ns1.mossgate A {HOST}
"""
_HOST_ZONE = f"""
@ SOA ns1 dns 1 60 60 60 60
@ NS ns1
ns1 A {HOST}
mx1 A 198.51.100.25
parking A 198.51.100.7
"""
_BUILDER_ZONE = """
@ SOA ns1.mossgate.example. dns 1 60 60 60 60
@ NS ns1.mossgate.example.
* A 192.0.2.10
*.edge A 192.0.2.10
*.edge A 192.0.2.44
"""
_SITE_ZONE = f"""
@ SOA ns1.mossgate.example. dns 1 60 60 60 {TTL}
@ NS ns1.mossgate.example.
@ A 198.51.100.7
@ MX 10 mx1.mossgate.example.
@ TXT "v=spf1 mx -all"
www CNAME parking.mossgate.example.
"""
ZONES = {
    "root": (".", ROOT, _ROOT_ZONE),
    "top": ("example.", TOP, _TOP_ZONE),
    "host": ("mossgate.example.", HOST, _HOST_ZONE),
    "builder": ("bricklark.example.", HOST, _BUILDER_ZONE),
    "site": ("tidewick-kiln.example.", HOST, _SITE_ZONE),
}


def missing() -> list[str]:
    """What is not there to run these tests; empty when all is."""
    found = [name for name in NEEDED if shutil.which(name, path="/usr/sbin:/usr/bin:/sbin:/bin") is None]
    if [name for _, name in socket.if_nameindex()] != ["lo"]:
        found.append("a network namespace of its own (run `make test`)")
    return found


def _sign(folder: Path, broken: bool) -> None:
    """Sign the customer's zone and put its DS at the parent; `broken`: the DS of another key."""
    words = ["dnssec-keygen", "-q", "-K", str(folder), "-a", "ECDSAP256SHA256", "-f", "KSK", "tidewick-kiln.example"]
    made = subprocess.run(words, check=True, capture_output=True, text=True).stdout.strip()
    plain = folder / "site.zone"
    command = ["dnssec-signzone", "-S", "-z", "-K", str(folder), "-d", str(folder), "-o", "tidewick-kiln.example"]
    subprocess.run([*command, "-f", str(plain), str(plain)], check=True, capture_output=True)
    if broken:
        made = subprocess.run(words, check=True, capture_output=True, text=True).stdout.strip()
    ds = subprocess.run(["dnssec-dsfromkey", str(folder / made)], check=True, capture_output=True, text=True).stdout
    with (folder / "top.zone").open("a") as top:
        top.write(ds)


@contextmanager
def running(folder: Path, now: float, special: str = "") -> Iterator[Path]:
    """All servers up; gives the network file. `special`: `good` or `broken` signs the customer's zone, else lines for
    the zone above."""
    for address in (ROOT, TOP, HOST, EDGE, *CACHES):
        subprocess.run(["ip", "addr", "replace", f"{address}/32", "dev", "lo"], check=True)
    with ExitStack() as stack:
        log = stack.enter_context((folder / "log.txt").open("ab"))
        bind = _bind(folder)
        if special in ("good", "broken"):
            _sign(folder, special == "broken")
        elif special:
            (folder / "top.zone").write_text(f"{(folder / 'top.zone').read_text()}{special}\n")
        for words in (bind, *(_unbound(folder, at) for at in range(len(CACHES))), _nginx(folder, now)):
            process = subprocess.Popen(words, stdout=subprocess.DEVNULL, stderr=log)
            stack.callback(_end, process)
        for address, port in (*((cache, 53) for cache in CACHES), (EDGE, 80), (EDGE, 443)):
            _await(partial(_listens, address, port), folder)
        for origin, address, _ in ZONES.values():  # BIND listens before it has loaded its zones
            _await(partial(_holds, origin, address), folder)
        yield _network(folder)


def _end(process: subprocess.Popen[bytes]) -> None:
    process.terminate()
    process.wait(10)


def _await(ready: Callable[[], bool], folder: Path) -> None:
    for _ in range(2000):
        if ready():
            return
        time.sleep(0.05)  # a real server needs real time to come up
    raise AssertionError(f"a server did not come up\n{(folder / 'log.txt').read_text()[-3000:]}")


def _listens(address: str, port: int) -> bool:
    with socket.socket() as probe:
        return probe.connect_ex((address, port)) == 0


def _holds(origin: str, address: str) -> bool:
    try:
        answer = dns.query.udp(dns.message.make_query(origin, "SOA"), address, timeout=1)
    except (OSError, dns.exception.DNSException):
        return False
    return bool(answer.flags & dns.flags.AA and answer.answer)


def _bind(folder: Path) -> list[str]:
    words = ["tsig-keygen", "-a", "hmac-sha256", "owner-key"]
    (folder / "owner.key").write_bytes(subprocess.run(words, check=True, capture_output=True).stdout)
    views = []
    for place in (ROOT, TOP, HOST):
        zones = []
        for name, (origin, at, text) in ZONES.items():
            if at == place:
                (folder / f"{name}.zone").write_text(f"$TTL {TTL if name == 'site' else 60}\n$ORIGIN {origin}\n{text}")
                update = "allow-update { key owner-key; }; allow-transfer { key owner-key; };" if name == "site" else ""
                zones.append(f'zone "{origin}" {{ type primary; file "{folder}/{name}.zone"; {update} }};')
        views.append(f'view "v{place}" {{ match-destinations {{ {place}; }}; recursion no; {" ".join(zones)} }};')
    options = f"""options {{ directory "{folder}"; listen-on {{ {ROOT}; {TOP}; {HOST}; }}; listen-on-v6 {{ none; }};
      pid-file none; session-keyfile "{folder}/session.key"; dnssec-validation no; notify no; }};
    controls {{ }};
    """
    (folder / "named.conf").write_text(f"{(folder / 'owner.key').read_text()}\n{options}\n" + "\n".join(views) + "\n")
    return ["named", "-g", "-c", str(folder / "named.conf")]


@contextmanager
def private_resolver(folder: Path, now: float) -> Iterator[str]:
    """BIND as a resolver over TLS and HTTPS, with a certificate of a trusted authority; gives its address."""
    subprocess.run(["ip", "addr", "replace", f"{PRIVATE}/32", "dev", "lo"], check=True)
    authority = Authority("resolvers' root", now)
    issued = authority.issue(["dns.mossgate.example"], now)
    (folder / "root.pem").write_text((folder / "root.pem").read_text() + authority.bundle)
    (folder / "dns.pem").write_bytes(issued.chain)
    (folder / "dns.key").write_bytes(issued.key)
    (folder / "dns.hints").write_text(f". 86400 NS a.roots.example.\na.roots.example. 86400 A {ROOT}\n")
    (folder / "private.conf").write_text(
        f"""tls own {{ cert-file "{folder}/dns.pem"; key-file "{folder}/dns.key"; }};
        http plainly {{ endpoints {{ "/dns-query"; }}; }};
        options {{ directory "{folder}"; listen-on port 53 {{ {PRIVATE}; }};
        listen-on port 853 tls own {{ {PRIVATE}; }};
        listen-on port 443 tls own http plainly {{ {PRIVATE}; }}; listen-on-v6 {{ none; }}; pid-file none;
        session-keyfile "{folder}/private.session"; recursion yes; allow-recursion {{ any; }}; dnssec-validation no; }};
        controls {{ }};
        zone "." {{ type hint; file "{folder}/dns.hints"; }};"""
    )
    with (folder / "private.log").open("w") as log:
        words = ["named", "-g", "-c", str(folder / "private.conf")]
        process = subprocess.Popen(words, stdout=subprocess.DEVNULL, stderr=log)
    try:
        for port in (853, 443):
            _await(partial(_listens, PRIVATE, port), folder)
        yield PRIVATE
    finally:
        _end(process)


def _unbound(folder: Path, at: int) -> list[str]:
    (folder / "hints").write_text(f". 86400 NS a.roots.example.\na.roots.example. 86400 A {ROOT}\n")
    conf = folder / f"unbound{at}.conf"
    conf.write_text(f"""server:
  interface: {CACHES[at]}
  directory: "{folder}"
  chroot: ""
  username: ""
  pidfile: ""
  root-hints: "{folder}/hints"
  module-config: "iterator"
  do-not-query-localhost: no
  do-daemonize: no
  access-control: 127.0.0.0/8 allow
  use-syslog: no
  do-ip6: no
remote-control:
  control-enable: no
""")
    return ["unbound", "-d", "-c", str(conf)]


FORWARDER = "127.0.53.20"


@contextmanager
def forwarding(folder: Path, kind: str, config: str) -> Iterator[None]:
    """A real server with a configuration written by the tool; it must listen on `FORWARDER`."""
    subprocess.run(["ip", "addr", "replace", f"{FORWARDER}/32", "dev", "lo"], check=True)
    (folder / "state").mkdir(exist_ok=True)
    words = {"nginx": _own_nginx, "apache": _own_apache, "caddy": _own_caddy}[kind](folder, config)
    env = {"PATH": "/usr/sbin:/usr/bin:/sbin:/bin", "HOME": str(folder), "XDG_DATA_HOME": str(folder / "state")}
    with (folder / f"{kind}.log").open("wb") as log:
        process = subprocess.Popen(words, stdout=log, stderr=log, env=env)
    try:
        for port in (80, 443):
            _await(partial(_listens, FORWARDER, port), folder)
        yield
    finally:
        _end(process)


def _own_nginx(folder: Path, config: str) -> list[str]:
    temporary = "".join(f"{at}_temp_path {folder}/state/{at};" for at in ("client_body", "proxy", "fastcgi"))
    temporary += f"uwsgi_temp_path {folder}/state/u; scgi_temp_path {folder}/state/s;"
    (folder / "own.conf").write_text(
        f"user root; daemon off; pid {folder}/own.pid; error_log stderr; events {{ }}\n"
        f"http {{ access_log off; {temporary}\n{config}\n}}\n"
    )
    return ["nginx", "-c", str(folder / "own.conf"), "-e", "stderr"]


def _own_apache(folder: Path, config: str) -> list[str]:
    names = ("mpm_event", "authz_core", "alias", "headers", "socache_shmcb", "ssl", "watchdog", "md")
    modules = "".join(
        f"LoadModule {name}_module {path}\n"
        for name in names
        if (path := Path(f"/usr/lib/apache2/modules/mod_{name}.so")).exists()
    )
    (folder / "own.conf").write_text(
        f"""ServerRoot {folder}
ServerName forwarder.example
PidFile {folder}/own.pid
ErrorLog /dev/stderr
DefaultRuntimeDir {folder}/state
Mutex file:{folder}/state default
Listen {FORWARDER}:80
Listen {FORWARDER}:443
{modules}{config}"""
    )
    return ["apache2", "-D", "FOREGROUND", "-f", str(folder / "own.conf")]


def _own_caddy(folder: Path, config: str) -> list[str]:
    (folder / "Caddyfile").write_text(f"{{\n\tadmin off\n\tauto_https disable_redirects\n}}\n{config}")
    return ["caddy", "run", "--config", str(folder / "Caddyfile"), "--adapter", "caddyfile"]


def _nginx(folder: Path, now: float) -> list[str]:
    authority = Authority("test root", now)
    (folder / "root.pem").write_text(authority.bundle)
    issued = authority.issue(["tidewick-kiln.example", "www.tidewick-kiln.example"], now)
    (folder / "site.pem").write_bytes(issued.chain)
    (folder / "site.key").write_bytes(issued.key)
    secure = f"listen {EDGE}:443 ssl; ssl_certificate {folder}/site.pem; ssl_certificate_key {folder}/site.key;"
    (folder / "nginx.conf").write_text(
        f"""user root; daemon off; pid {folder}/nginx.pid; error_log stderr; events {{ }}
http {{ access_log off; client_body_temp_path {folder}/b; proxy_temp_path {folder}/p; fastcgi_temp_path {folder}/f;
  uwsgi_temp_path {folder}/u; scgi_temp_path {folder}/s;
  server {{ listen {EDGE}:80; return 301 https://www.tidewick-kiln.example$request_uri; }}
  server {{ {secure} server_name tidewick-kiln.example; return 301 https://www.tidewick-kiln.example$request_uri; }}
  server {{ {secure} server_name www.tidewick-kiln.example; default_type text/html; return 200 "the site"; }}
}}
"""
    )
    return ["nginx", "-c", str(folder / "nginx.conf"), "-e", "stderr"]


def _network(folder: Path) -> Path:
    path = folder / "network.toml"
    caches = "".join(f'[[resolvers]]\naddress = "{cache}"\n' for cache in CACHES)
    reach = "".join(f'"192.0.2.{last}:{port}" = "{EDGE}:{port}"\n' for last in (10, 44) for port in (80, 443))
    reach += "".join(f'"198.51.100.9:{port}" = "{FORWARDER}:{port}"\n' for port in (80, 443))
    head = f'format = "homepath.network/1"\nroots = ["{ROOT}"]\n'
    path.write_text(f'{head}{caches}[trust]\ncertificates = "root.pem"\n[reach]\n{reach}')
    return path
