"""What a survey asks the domain's own servers for, and whom."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import replace
from functools import lru_cache

from homepath.core.dns.answers import Answer, Question, Server, Unanswered
from homepath.core.dns.names import ROOT, Name, ancestors, child, is_within, shown
from homepath.core.dns.records import LED_TO, Key
from homepath.core.dns.soa import holds_zone, serial_of
from homepath.core.dns.walk import Cut, Found
from homepath.core.dns.zone_answers import Rounds, filled, known_keys, sets_of
from homepath.core.model.evidence import Content
from homepath.core.observe.requests import Exchange, LookUp, asked, asked_by_name
from homepath.core.site.purposes import mentioned
from homepath.core.site.wanted import ALIAS, Wanted

APEX_TYPES = ("NS", "A", "AAAA", "CNAME", "TXT", "MX", "CAA", "HTTPS", "DNAME")
NAME_TYPES = ("A", "AAAA", "CNAME", "TXT", "MX", "CAA", "HTTPS", "SVCB", "NS", "DNAME")
KNOWN_TYPES = (*NAME_TYPES, "SRV", "TLSA", "DS")
"""Types asked for at a name that the owner says there is."""
MAIL_HOSTS = (
    "mail",
    "webmail",
    "autodiscover",
    "autoconfig",
    "smtp",
    "imap",
    "pop",
    "pop3",
    "mx",
    "mx1",
    "mx2",
    "email",
)
HOSTS = (
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
    *("_mta-sts", "_smtp._tls", "_adsp._domainkey", "default._bimi", "_spf", "_acme-challenge"),
    *("_acme-challenge.www", "_dnsauth", "_validation", "_verify", "_verification", "_domain-verification", "_owner"),
    *("_ownership", "_challenge", "_dnslink", "_dns-challenge", "_site-verification", "_psl"),
)
"""Names of policies and verification records: a TXT record, or an alias that points to one."""
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
GUESSES_AT_ONCE = 16
"""Usual names that one check of many asks for; the next checks ask for the others."""
MOST_REMEMBERED = 500
"""Record sets of earlier checks that are asked for again."""
MOST_HANDED_OVER = 20_000
"""The same before a hand-over, when every one of them must come along."""


def keys_to_ask(wanted: Wanted, history: Sequence[Content], names: Sequence[Name] = ()) -> list[Key]:
    """All types at the wanted names and at those that the owner `names`, the wanted types where slips would put them,
    and whatever an earlier survey listed, so that its loss is noticed."""
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


USUAL_KEYS = (
    *((label, "TXT") for label in (*BRANCHES, "_dmarc")),
    *((label, "A") for label in MAIL_HOSTS),
    *((label, "TXT") for label in TEXTS),
    *((label, "A") for label in HOSTS),
    *((f"{label}._domainkey", "TXT") for label in SELECTORS),
    *((label, "SRV") for label in SERVICES),
)
ABOVE_BRANCHES = [label in BRANCHES or label.rpartition(".")[2] not in BRANCHES for label, _ in USUAL_KEYS]


@lru_cache(maxsize=256)
def usual_keys(domain: Name, above_branches: bool = False) -> tuple[Key, ...]:
    """Names that many zones hold. An alias at one of them is the answer to every type (RFC 1034 section 3.6.2).
    `above_branches`: without those below `BRANCHES`, of which most zones have none."""
    if above_branches:
        return tuple(key for key, above in zip(usual_keys(domain), ABOVE_BRANCHES, strict=True) if above)
    return tuple((child(label, domain), rrtype) for label, rrtype in USUAL_KEYS)


def keys_to_guess(wanted: Wanted, history: Sequence[Content], now: float, whole: bool = True) -> Sequence[Key]:
    """Those of the usual names that are worth a question now. All of them before nameservers are switched, when nothing
    may be left behind; otherwise without those that were missing within the last day, unless something else is known at
    the name, which may be replaced by it. Unless `whole`, only some, those of mail first."""
    every = usual_keys(wanted.domain)
    if wanted.hand_over is not None:
        return every
    known = {each.record.name for each in history if each.record.values}
    recent = {each.record.key for each in history if not each.record.values and now - GUESS_AGAIN < each.last_at <= now}
    branches = branches_of(wanted.domain)
    found = [key for key in every if key not in recent or key[0] in branches | known]
    if whole:
        return found
    above = set(usual_keys(wanted.domain, above_branches=True))
    now_asked = set([key for key in found if key in above][:GUESSES_AT_ONCE])
    return [key for key in found if key in now_asked or key not in above]


def for_every_server(wanted: Wanted) -> set[Key]:
    """What the website and mail need. Every server is queried for it, because servers may differ even with the same
    serial."""
    return {
        *(
            (want.record.name, rrtype)
            for want in wanted.wants
            for rrtype in (want.record.type, "A", "AAAA", "CNAME", "HTTPS")
        ),
        *((wanted.domain, rrtype) for rrtype in ("NS", "A", "AAAA", "TXT", "MX", "CAA", "HTTPS")),
    }


def branches_of(domain: Name) -> set[Name]:
    """Names that own no records themselves, with usual names below them. Where one of them does not exist, nothing
    below it does (RFC 8020)."""
    return {child(label, domain) for label in BRANCHES}


def listed_before(history: Sequence[Content], most: int = MOST_REMEMBERED) -> list[Key]:
    """The record sets that earlier surveys listed, those of mail and verification records of the first checks first."""
    found = dict.fromkeys(
        each.record.key
        for each in history
        if each.source == "survey" and each.record.type != "SOA" and not each.record.name.startswith("*.")
    )
    return list(found)[:most]


MOST_ROUNDS = 3
MOST_MENTIONED = 200
"""Record sets that are asked for only because others mention them, in one round."""


def with_mentioned(
    domain: Name, rounds: Rounds, order: Sequence[Server], keys: Sequence[Key]
) -> Exchange[tuple[list[Answer], tuple[Unanswered, ...], list[Key]]]:
    """What the servers answered, and what they answer of the names that these records point to, and those to."""
    asked_for = list(keys)
    answers, unknown = filled(rounds, order, domain)
    for _ in range(MOST_ROUNDS):
        more = [key for key in mentioned(sets_of(answers).values(), domain) if key not in set(asked_for)]
        if not more:
            break
        asked_for += more[:MOST_MENTIONED]
        yield from _ask_more(domain, rounds, more[:MOST_MENTIONED])
        answers, unknown = filled(rounds, order, domain)
    return answers, unknown, asked_for


def _ask_more(
    domain: Name, rounds: Rounds, keys: Sequence[Key], guesses: Sequence[Key] = (), of: Collection[str] = ()
) -> Exchange[None]:
    """The same further questions to every server that holds the zone, each address once; `guesses` only to those at
    the places `of`."""
    places = {server.place: server for server in reversed(list(rounds)) if holds_zone(rounds[server], domain)}
    asks = [
        (Question(*key), server)
        for server in places.values()
        for key in (*keys, *(guesses if server.place in of else ()))
    ]
    answers = yield from asked_by_name(asks, domain)
    for server, mine in rounds.items():
        twin = places.get(server.place)
        if twin is not None:
            theirs = (a for (_, s), a in zip(asks, answers, strict=True) if s == twin)
            mine += [answer if answer.server is server else replace(answer, server=server) for answer in theirs]


def ask_servers(cut: Cut, keys: Sequence[Key], guesses: Sequence[Key], whole: bool) -> Exchange[Rounds]:
    """Every question to every authoritative server, those that only the zone itself names included.

    A server that does not answer for the SOA is not asked the rest. `guesses` go to one server for each serial, since
    servers with the same serial hold the same zone (RFC 1034 section 4.3.5), and nothing is asked for below a name that
    does not exist (RFC 8020) unless `whole`, because some servers deny names that own no records themselves.
    """
    soa, ns = Question(cut.zone, "SOA"), Question(cut.zone, "NS")
    servers = list(cut.servers)
    both = yield from asked([(each, server) for each in (soa, ns) for server in servers])
    first, named = both[: len(servers)], both[len(servers) :]
    extra = yield from _only_in_zone(cut, named)
    servers += extra
    first += yield from asked([(soa, server) for server in extra])
    rounds: Rounds = {server: [answer] for server, answer in zip(servers, first, strict=True)}
    holding = [server for server in servers if holds_zone(rounds[server], cut.zone)]
    of = {server.place for server in {serial_of(rounds[server], cut.zone): server for server in holding}.values()}
    branches = branches_of(cut.zone)
    below = [] if whole else [key for key in guesses if key[0] not in branches and _below(key[0], branches)]
    above = [key for key in guesses if key not in set(below)] if below else guesses
    yield from _ask_more(cut.zone, rounds, keys, above, of)
    there = {record.name for each in rounds.values() for record in sets_of(each).values()}
    gone = {
        answer.question.name
        for each in rounds.values()
        for answer in each
        if answer.rcode == "NXDOMAIN" and answer.question.name in branches and not _above(answer.question.name, there)
    }
    more = [key for key in below if not _below(key[0], gone)]
    yield from _ask_more(cut.zone, rounds, (), more, of)
    known = {key for each in rounds.values() for key in known_keys(each, cut.zone)}
    others = {server.place for server in holding} - of
    yield from _ask_more(cut.zone, rounds, (), [key for key in (*above, *more) if key not in known], others)
    return rounds


def _below(name: Name, others: Collection[Name]) -> bool:
    return any(is_within(name, other) for other in others)


def _above(name: Name, others: Collection[Name]) -> bool:
    return any(is_within(other, name) for other in others)


def _only_in_zone(cut: Cut, named: Sequence[Answer]) -> Exchange[list[Server]]:
    """Nameservers that the zone names and its parent does not. `named`: what each server says of them."""
    answer = next((answer for answer in named if answer.usable and answer.authoritative), None)
    if answer is None:
        return []
    alive, own = answer.server, answer.found(cut.zone, "NS")
    missing = [name for name in (own.values[:13] if own else ()) if name not in cut.names]
    if not missing:
        return []
    replies = yield [LookUp(name, ("A", "AAAA"), to_ask=True) for name in missing]
    return [
        Server(value, alive.port, name)
        for name, reply in zip(missing, replies, strict=True)
        if isinstance(reply, Found)
        for value in [value for record in reply.sets for value in record.values][:2]
    ]


def keys_around(wanted: Wanted) -> list[Key]:
    """CAA above the domain and at the targets of wanted aliases (RFC 8659 section 3), addresses of the builder's own
    names."""
    asks = [(name, "CAA") for name in ancestors(wanted.domain)[1:] if name != ROOT]
    for want in wanted.wants:
        if want.record.type in ("CNAME", ALIAS):
            asks.append((want.record.values[0], "CAA"))
        if want.record.type == ALIAS:
            asks += [(want.record.values[0], rrtype) for rrtype in ("A", "AAAA")]
    if wanted.edge != ROOT and (wanted.going == "away" or any(w.record.type in LED_TO for w in wanted.wants)):
        asks += [(wanted.edge, rrtype) for rrtype in ("A", "AAAA")]
    return list(dict.fromkeys(asks))
