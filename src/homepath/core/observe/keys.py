"""Which record sets a look asks the domain's own servers for."""

from __future__ import annotations

from collections.abc import Sequence

from homepath.core.dns.names import Name, child, shown
from homepath.core.dns.records import Key
from homepath.core.model.evidence import Content
from homepath.core.site.wanted import ALIAS, Wanted

APEX_TYPES = ("NS", "A", "AAAA", "CNAME", "TXT", "MX", "CAA", "HTTPS", "DNAME")
NAME_TYPES = ("A", "AAAA", "CNAME", "TXT", "MX", "CAA", "HTTPS", "SVCB", "NS", "DNAME")
KNOWN_TYPES = (*NAME_TYPES, "SRV", "TLSA", "DS")
"""Types asked for at a name that the owner says there is."""
HOSTS = (
    *("mail", "webmail", "autodiscover", "autoconfig", "smtp", "imap", "pop", "pop3", "mx", "mx1", "mx2", "email"),
    *("shop", "blog", "news", "forum", "help", "docs", "status", "portal", "intranet", "members", "app", "api"),
    *("ftp", "sftp", "files", "cloud", "vpn", "remote", "dev", "test", "staging", "beta", "demo", "old", "new", "m"),
    *("cdn", "static", "assets", "media", "img", "images", "download", "ns1", "ns2", "mta-sts", "calendar", "crm"),
)
"""Names that many zones hold, asked so that the inventory is less blind."""
SELECTORS = (
    *("default", "dkim", "dkim1", "dkim2", "mail", "mail1", "mx", "smtp", "email", "main", "selector", "key", "dk"),
    *(f"{word}{number}" for word in ("selector", "s", "k", "key") for number in (1, 2, 3)),
    *("sig1", "sig2", "s1024", "s2048", "dkim-1", "dkim-2"),
)
"""Selectors under which mail signatures usually have their keys (RFC 6376 section 3.6.2)."""
TEXTS = (
    *("_dmarc", "_mta-sts", "_smtp._tls", "_adsp._domainkey", "default._bimi", "_spf", "_acme-challenge"),
    *("_acme-challenge.www", "_dnsauth", "_validation", "_verify", "_verification", "_domain-verification", "_owner"),
    *("_ownership", "_challenge", "_dnslink", "_dns-challenge", "_site-verification", "_psl"),
)
"""Names of policies and proofs; a text may stand there, or an alias that leads to one."""
SERVICES = (
    *("_autodiscover._tcp", "_submission._tcp", "_submissions._tcp", "_imap._tcp", "_imaps._tcp", "_pop3s._tcp"),
    *("_caldav._tcp", "_caldavs._tcp", "_carddav._tcp", "_carddavs._tcp", "_sip._tcp", "_sip._udp", "_sips._tcp"),
    *("_sip._tls", "_xmpp-client._tcp", "_xmpp-server._tcp", "_jabber._tcp", "_ldap._tcp", "_stun._udp", "_turn._udp"),
)
"""Services whose hosts are found by SRV (RFC 6186, RFC 6764, RFC 3263, RFC 6120)."""
BRANCHES = ("_domainkey", "_tcp", "_udp", "_tls")
"""Above the keys of mail signatures, and above services."""
GUESS_AGAIN = 86400.0
"""Seconds until a usual name that was missing is worth another question."""
MOST_REMEMBERED = 500
"""Record sets of earlier looks that are asked for again."""
MOST_HANDED_OVER = 20_000
"""The same before a hand-over, when every one of them must come along."""


def keys_to_ask(wanted: Wanted, history: Sequence[Content], names: Sequence[Name] = ()) -> list[Key]:
    """All types at the wanted names and at those that the owner `names`, the wanted types where slips would put them,
    and whatever an earlier survey listed, so that its loss is seen."""
    wants = [want.record for want in wanted.wants if want.record.type != ALIAS]
    about = dict.fromkeys([wanted.domain, child("www", wanted.domain), wanted.primary, *wanted.names])
    about |= dict.fromkeys(record.name for record in wants)
    keys: list[Key] = []
    for name in about:
        keys += [(name, rrtype) for rrtype in (APEX_TYPES if name == wanted.domain else NAME_TYPES)]
    keys += [(name, rrtype) for name in names for rrtype in KNOWN_TYPES]
    for record in wants:
        keys += [(child(shown(record.name), wanted.domain), rrtype) for rrtype in {record.type: 0, "A": 0}]
    most = MOST_REMEMBERED if wanted.hand_over is None else MOST_HANDED_OVER
    return list(dict.fromkeys([*keys, *listed_before(history, most)]))


def usual_keys(domain: Name) -> list[Key]:
    """Names that many zones hold. An alias at one of them is the answer to every type (RFC 1034 section 3.6.2)."""
    return [
        *((child(label, domain), "A") for label in HOSTS),
        *((child(label, domain), "TXT") for label in (*TEXTS, *BRANCHES)),
        *((child(f"{label}._domainkey", domain), "TXT") for label in SELECTORS),
        *((child(label, domain), "SRV") for label in SERVICES),
    ]


def keys_to_guess(wanted: Wanted, history: Sequence[Content], now: float) -> list[Key]:
    """Those of the usual names that are worth a question now. All of them before nameservers are switched, when nothing
    may be left behind; otherwise without those that were missing within the last day."""
    every = usual_keys(wanted.domain)
    if wanted.hand_over is not None:
        return every
    recent = {each.record.key for each in history if not each.record.values and now - GUESS_AGAIN < each.last_at <= now}
    branches = branches_of(wanted.domain)
    return [key for key in every if key not in recent or key[0] in branches]


def branches_of(domain: Name) -> set[Name]:
    """Names that own no records themselves, with usual names below them. Where one of them does not exist, nothing
    below it does (RFC 8020)."""
    return {child(label, domain) for label in BRANCHES}


def listed_before(history: Sequence[Content], most: int = MOST_REMEMBERED) -> list[Key]:
    """The record sets that earlier surveys listed, those of mail and proofs of the first looks first."""
    found = dict.fromkeys(
        each.record.key
        for each in history
        if each.source == "survey" and each.record.type != "SOA" and not each.record.name.startswith("*.")
    )
    return list(found)[:most]
