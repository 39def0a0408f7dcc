"""What the zone of a case shows, without judging: rules speak of it, and plans act on it. SPF texts."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from homepath.core.dns.names import BadName, Name, absolute, is_within
from homepath.core.dns.policies import allows, is_spf, join_spf, relevant_set
from homepath.core.dns.records import ADDRESS_TYPES, WEB_TYPES, RecordSet
from homepath.core.dns.values import meaning, strings, text_value
from homepath.core.site.case import Case
from homepath.core.site.purposes import is_of_server
from homepath.core.site.wanted import ALIAS, Want

_TERM = re.compile(r"([+?~-]?)(a|mx)(?::([^/\s]+))?(/[0-9]{1,2})?(//[0-9]{1,3})?", re.I)
AddressesOf = Callable[[Name], Sequence[str]]


@dataclass(frozen=True, slots=True)
class Term:
    """A mechanism that means the addresses of a host (sections 5.3, 5.4). `text`: as it is there."""

    text: str
    qualifier: str
    mechanism: str
    host: Name
    ip4_length: str
    ip6_length: str


def host_terms(content: str, name: Name) -> Iterator[Term]:
    """The `a` and `mx` mechanisms of the SPF text `content` at `name`; those with macros are left to anyone who wrote
    them (section 7)."""
    for word in content.split():
        found = _TERM.fullmatch(word)
        if found is None:
            continue
        try:
            host = absolute(found[3]) if found[3] else name
        except BadName:
            continue
        yield Term(word, found[1], found[2].lower(), host, found[4] or "", (found[5] or "")[1:])


def without_website(value: str, name: Name, changed: AddressesOf) -> str | None:
    """The SPF text with the addresses of today in place of each host whose addresses change; None where none is named.

    `changed`: the addresses that a host has today, if the website takes them away, else none. `value`: as in a record.
    """
    content = "".join(strings(value))
    if not is_spf(content):
        return None
    instead: dict[str, str] = {}
    for term in host_terms(content, name):
        addresses = changed(term.host) if term.mechanism == "a" else ()
        if addresses:
            instead[term.text] = " ".join(_plain(term, address) for address in addresses)
    if not instead:
        return None
    words: list[str] = []
    for word in content.split():
        words += [each for each in instead.get(word, word).split() if each not in words[1:]]
    return " ".join(words)


def _plain(term: Term, address: str) -> str:
    if ":" in address:
        return f"{term.qualifier}ip6:{address}{term.ip6_length}"
    return f"{term.qualifier}ip4:{address}{term.ip4_length}"


def handed_over(case: Case) -> bool:
    """Whether the parent names the servers that are to take the domain over, and no others."""
    over, survey = case.wanted.hand_over, case.survey
    if over is None or not over.servers or survey is None or survey.delegation is None:
        return False
    return set(survey.delegation.servers) == set(over.servers)


def alias_wants(case: Case) -> Iterator[Want]:
    return (want for want in case.wanted.wants if want.record.type == "CNAME")


def text_contents(want: Want) -> set[str]:
    return {"".join(strings(value)) for value in want.record.values}


def refusing_sets(case: Case, wildcard: bool = False) -> Iterator[tuple[Name, RecordSet]]:
    """Each name that needs a certificate and the CAA set that lets none of the builder's issuers issue."""
    issuers = case.wanted.https.issuers
    if not issuers:
        return
    for name in case.wanted.names:
        alias = case.wanted.get(name, "CNAME")
        found = relevant_set(name, case.zone, case.surroundings, alias.record.values[0] if alias else None)
        if found and not any(allows(found, issuer, wildcard) for issuer in issuers):
            yield name, found


def can_be_amended(case: Case, found: RecordSet) -> bool:
    """True when the CAA set is the owner's to change, not the builder's or the registry's."""
    return is_within(found.name, case.domain)


def flattened(case: Case, name: Name) -> bool:
    """Whether the addresses at `name` are those of the alias wanted there, which is all that is seen of one."""
    want = case.wanted.get(name, ALIAS)
    if want is None:
        return False
    there = [case.surroundings.values(want.record.values[0], rrtype) for rrtype in ADDRESS_TYPES]
    return any(there) and there == [case.zone.values(name, rrtype) for rrtype in ADDRESS_TYPES]


def foreign_at_alias(case: Case, name: Name) -> list[RecordSet]:
    """Sets at `name` that a plan may not remove although an alias is wanted there, unless the owner says so."""
    return [
        each
        for each in case.zone.at(name)
        if not (each.type in WEB_TYPES or is_of_server(each.type) or case.wanted.purposes.get(each.key) == "website")
    ]


def spf_without_website(case: Case, name: Name, value: str) -> str | None:
    """The SPF text at `name` that keeps today's senders when the website's addresses change; None where it needs no
    other. What was there before the change counts as today's."""

    return without_website(value, name, lambda host: former_addresses(case, host))


def former_addresses(case: Case, host: Name) -> tuple[str, ...]:
    """The addresses that a host has, or had before the change, and that the website takes away: by its records, by the
    builder's nameservers, or by forwarding. Nothing for a host that keeps its own."""
    over = case.wanted.hand_over
    names = case.wanted.names if over is not None and over.by_builder else case.wanted.web_names
    if host not in (*names, *case.wanted.forwarded) or case.wanted.going != "there":
        return ()
    new = {v for want in case.wanted.wants for v in want.record.values if want.record.type in ADDRESS_TYPES}
    new |= set(case.notation.forwarding_addresses)
    seen = [v for zone in (case.past, case.zone) for rrtype in ADDRESS_TYPES for v in zone.values(host, rrtype)]
    return tuple(dict.fromkeys(each for each in seen if each not in new))


def builders_addresses(case: Case) -> set[str]:
    """The addresses of the builder's servers that are known: all of the brief's, and its own host name's."""
    edge = (value for rrtype in ADDRESS_TYPES for value in case.surroundings.values(case.wanted.edge, rrtype))
    return {*edge, *case.wanted.traces.addresses}


def leads_by_another_name(case: Case, name: Name) -> bool:
    """Whether an alias at `name` points to another name of the website that has the builder's own addresses: `www` by
    way of the apex differs from the brief, but visitors arrive."""
    alias = case.zone.get(name, "CNAME")
    if alias is None or alias.values[0] not in case.wanted.names:
        return False
    there = [want for want in case.wanted.at(alias.values[0]) if want.record.type in ADDRESS_TYPES]
    return bool(there) and all(want.met_by(case.zone.get(*want.record.key)) for want in there)


def forwarded_late(case: Case) -> frozenset[Name]:
    """The names to be forwarded that show a page of their own until then: it stays, wherever the zone is, until the
    primary address has its certificate, so that no one is sent to a warning."""
    parked = set(case.notation.parking_addresses)
    return frozenset(name for name in case.wanted.forwarded if set(former_addresses(case, name)) - parked)


def mended_policies(case: Case, name: Name) -> tuple[frozenset[str], str | None]:
    """The SPF texts at `name` that go, and the one that comes for them: without the website's former host, with the
    senders of the brief's own text, and one where there were two (RFC 7208 section 3.2). Nothing where all is well."""
    there = [value for value in case.zone.values(name, "TXT") if is_spf(meaning("TXT", value))]
    if not there:
        return frozenset(), None
    want = case.wanted.get(name, "TXT")
    brief = [text for text in (want.desired.meanings if want else ()) if is_spf(text)]
    own = [value for value in there if meaning("TXT", value) not in brief] or there[:1]
    texts = [spf_without_website(case, name, value) or meaning("TXT", value) for value in own]
    new = join_spf([*texts, *brief]) if len(texts) + len(brief) > 1 else texts[0]
    if len(there) == 1 and (
        new == meaning("TXT", there[0]) or set(new.split()) == set(meaning("TXT", there[0]).split())
    ):
        return frozenset(), None
    return frozenset(there), text_value(new)


def handed_over_in_part(case: Case) -> bool:
    """Whether the parent names at least one of the nameservers that are to take over."""
    over, delegation = case.wanted.hand_over, case.survey.delegation if case.survey else None
    return over is not None and delegation is not None and not {*over.servers}.isdisjoint(delegation.servers)


def nameservers_before(case: Case) -> tuple[Name, ...]:
    """The nameservers that the parent named at first, or that the owner accepted, where none of them is named now, nor
    any that is wanted; nothing where all is as it was, or only some of them changed."""
    delegation = case.survey.delegation if case.survey else None
    if delegation is None or not delegation.servers or handed_over_in_part(case):
        return ()
    since, key = case.job_since or 0.0, (case.domain, "NS")
    seen = (c.record for c in case.history if c.source == "parent" and c.record.key == key and c.last_at >= since)
    first = next((record.values for record in seen if record.values), ())
    known = case.wanted.accepted.get(key, first)
    return known if not set(known) & set(delegation.servers) else ()


def appeared_later(case: Case, record: RecordSet) -> bool:
    """Whether a content was seen only after its set had been asked for the first time: those at wanted names with the
    first check, others sometimes later."""
    past = [each for each in case.history if each.source == "zone"]
    mine = [each for each in past if each.record.key == record.key]
    first = min((each.first_at for each in (past if case.wanted.at(record.name) else mine)), default=0.0)
    since = min((each.first_at for each in mine if each.record.meanings == record.meanings), default=first)
    return since > first
