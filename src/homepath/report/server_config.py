"""Ready configuration for a small web server that only redirects: nginx, Apache httpd, Caddy, or words for a proxy.

Each answers http and https, keeps path and query, and redirects permanently (RFC 9110 section 15.4.9 would allow 308;
301 is what every browser and search engine knows, and only GET and HEAD come here).
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from ipaddress import ip_address

from homepath.core.model.problems import BadInput, Problem

ACME_PATH = "/.well-known/acme-challenge/"


@dataclass(frozen=True, slots=True)
class Forwarder:
    """`names` point to `to`, a host name. `hsts`: seconds of HSTS, 0 for none. `certificate` and `key`:
    files; without them, a server that has ACME gets them itself. `listen`: addresses, empty for all."""

    names: tuple[str, ...]
    to: str
    hsts: int = 0
    certificate: str | None = None
    key: str | None = None
    listen: tuple[str, ...] = ()


Writer = Callable[[Forwarder], str]


def _head(mark: str, forwarder: Forwarder, more: str = "") -> str:
    lines = [
        "Written by homepath forwarder.",
        f"Redirects {' and '.join(forwarder.names)} to https://{forwarder.to}, keeping path and query.",
    ]
    return "".join(f"{mark} {line}\n" for line in [*lines, *more.splitlines()])


def _places(forwarder: Forwarder, port: int) -> list[str]:
    """`address:port`, with brackets around IPv6; the port alone where the server listens everywhere."""
    if not forwarder.listen:
        return [str(port), f"[::]:{port}"]
    return [f"[{each}]:{port}" if ":" in each else f"{each}:{port}" for each in forwarder.listen]


def nginx(forwarder: Forwarder) -> str:
    certificate = forwarder.certificate or f"/etc/ssl/{forwarder.names[0]}/chain.pem"
    key = forwarder.key or f"/etc/ssl/{forwarder.names[0]}/key.pem"
    own = "" if forwarder.certificate else (
        f"Put the certificate and its key where this file says. An ACME client can use {ACME_PATH}\n"
        "below /var/www/acme for its challenge (RFC 8555 section 8.3)."
    )  # fmt: skip
    hsts = f'    add_header Strict-Transport-Security "max-age={forwarder.hsts}" always;\n' if forwarder.hsts else ""
    names = " ".join(forwarder.names)
    plain = "".join(f"    listen {place};\n" for place in _places(forwarder, 80))
    secure = "".join(f"    listen {place} ssl http2;\n" for place in _places(forwarder, 443))
    return f"""{_head("#", forwarder, own)}
server {{
{plain}    server_name {names};
    location ^~ {ACME_PATH} {{
        root /var/www/acme;
        default_type text/plain;
    }}
    location / {{
        return 301 https://{forwarder.to}$request_uri;
    }}
}}

server {{
{secure}    server_name {names};
    ssl_certificate {certificate};
    ssl_certificate_key {key};
    ssl_protocols TLSv1.2 TLSv1.3;
{hsts}    return 301 https://{forwarder.to}$request_uri;
}}
"""


def apache(forwarder: Forwarder) -> str:
    first, *more = forwarder.names
    alias = f"    ServerAlias {' '.join(more)}\n" if more else ""
    own = (
        "Needs the modules ssl, alias and headers."
        if forwarder.certificate
        else "Needs the modules ssl, alias, headers and md; md gets the certificate by ACME by itself."
    )
    domains = " ".join(forwarder.names)
    managed = "" if forwarder.certificate else f"MDomain {domains}\nMDCertificateAgreement accepted\n\n"
    certificate = (
        f"    SSLCertificateFile {forwarder.certificate}\n    SSLCertificateKeyFile {forwarder.key}\n"
        if forwarder.certificate
        else ""
    )
    hsts = f'    Header always set Strict-Transport-Security "max-age={forwarder.hsts}"\n' if forwarder.hsts else ""
    where = forwarder.listen or ("*",)

    def place(port: int) -> str:
        return " ".join(f"[{each}]:{port}" if ":" in each else f"{each}:{port}" for each in where)

    return f"""{_head("#", forwarder, own)}
{managed}<VirtualHost {place(80)}>
    ServerName {first}
{alias}    Redirect permanent / https://{forwarder.to}/
</VirtualHost>

<VirtualHost {place(443)}>
    ServerName {first}
{alias}    SSLEngine on
    SSLProtocol -all +TLSv1.2 +TLSv1.3
{certificate}{hsts}    Redirect permanent / https://{forwarder.to}/
</VirtualHost>
"""


def caddy(forwarder: Forwarder) -> str:
    own = "" if forwarder.certificate else "Certificates are got by ACME by the server itself."
    bind = f"\tbind {' '.join(forwarder.listen)}\n" if forwarder.listen else ""
    tls = f"\ttls {forwarder.certificate} {forwarder.key}\n" if forwarder.certificate else ""
    hsts = f'\theader Strict-Transport-Security "max-age={forwarder.hsts}"\n' if forwarder.hsts else ""
    plain = ", ".join(f"http://{name}" for name in forwarder.names)
    secure = ", ".join(f"https://{name}" for name in forwarder.names)
    return f"""{_head("#", forwarder, own)}
{plain} {{
{bind}\tredir https://{forwarder.to}{{uri}} 301
}}

{secure} {{
{bind}{tls}{hsts}\tredir https://{forwarder.to}{{uri}} 301
}}
"""


def proxy(forwarder: Forwarder) -> str:
    """A rule in words, for the form of whatever proxy there is."""
    hosts = " or ".join(forwarder.names)
    comment = f"\nSwitch HSTS on with max-age {forwarder.hsts}, without the names below it."
    hsts = comment if forwarder.hsts else ""
    return f"""A redirect rule for the proxy's form

When the host name is   {hosts}
  (for http and for https)
redirect to             https://{forwarder.to} followed by the same path
Keep the query:         yes
Status:                 301 (permanent)

Also in its settings:
  the names above must go through the proxy, and have a certificate there;
  requests below {ACME_PATH} are not redirected, if the builder gets certificates for these names itself;
  where the proxy fetches from the builder, it connects over https and checks the certificate:
  fetching plain http from a builder that redirects to https goes round for ever.{hsts}
"""


WRITERS: dict[str, Writer] = {"nginx": nginx, "apache": apache, "caddy": caddy, "proxy": proxy}


def checked(forwarder: Forwarder) -> Forwarder:
    """The same, if every part can be written into a configuration file without changing its meaning. Raises
    BadInput."""
    problems = [
        Problem("this is not a host name", key="--from", seen=name)
        for name in (*forwarder.names, forwarder.to)
        if not re.fullmatch(r"[a-z0-9]([a-z0-9-]*[a-z0-9])?(\.[a-z0-9]([a-z0-9-]*[a-z0-9])?)+", name)
    ]
    for path, key in ((forwarder.certificate, "--certificate"), (forwarder.key, "--key")):
        if path is not None and not re.fullmatch(r"/[\w./@+-]+", path):
            hint = "give an absolute path of letters, digits, dots, hyphens and underscores"
            problems.append(Problem("this path cannot be used in a configuration file", key=key, seen=path, hint=hint))
    if (forwarder.certificate is None) != (forwarder.key is None):
        problems.append(Problem("a certificate and its key belong together", key="--certificate"))
    for address in forwarder.listen:
        try:
            ip_address(address)
        except ValueError:
            problems.append(Problem("this is not an address", key="--listen", seen=address))
    if forwarder.to in forwarder.names:
        problems.append(Problem("a name cannot redirect to itself", key="--from", seen=forwarder.to))
    if problems:
        raise BadInput(*problems)
    return forwarder
