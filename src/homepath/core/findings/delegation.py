"""Findings about the name servers: who is asked, whether they agree, whether signatures hold."""

from __future__ import annotations

from collections.abc import Iterator
from fnmatch import fnmatch

from homepath.core.dns.names import Name, shown
from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.site.case import Case
from homepath.core.site.slips import one_slip
from homepath.core.site.zone_facts import handed_over
from homepath.core.wording.words import SERVER_STATES

KINDS = (
    Kind(
        "edited-elsewhere",
        "risk",
        "RFC 1034 section 4.2.1",
        "Records are entered at a place that the name servers do not take them from.",
        "Nobody ever sees them, however long one waits.",
        "Enter them where the domain's name servers are run.",
    ),
    Kind(
        "delegation-differs",
        "note",
        "RFC 1034 section 4.2.2",
        "The parent and the zone itself name different name servers.",
        "Some caches ask one set, some the other; a change seems to come and go.",
        "Make both the same.",
        who="registrar",
    ),
    Kind(
        "server-lame",
        "risk",
        "RFC 1912 section 2.8",
        "A name server of the domain does not answer for it: it is silent, fails, refuses, or lacks the zone.",
        "Some visitors wait, some get no answer.",
        "Let the DNS host repair it, or take it out.",
        who="dns-host",
        about_domain=True,
    ),
    Kind(
        "server-slow",
        "note",
        "RFC 1034 section 5.3.3",
        "A name server of the domain answers rightly, but only after seconds.",
        "Resolvers turn to another server; where there is none, visitors wait.",
        "Nothing has to be done for the website; the DNS host may want to know.",
        who="dns-host",
        about_domain=True,
    ),
    Kind(
        "servers-disagree",
        "risk",
        "RFC 1034 section 4.3.5",
        "The domain's name servers give different answers.",
        "Visitors and the builder see now one, now the other.",
        "Wait for the zone to be copied; if it stays so, tell the DNS host.",
        who="dns-host",
        holds_up_builder=True,
        about_domain=True,
    ),
    Kind(
        "signed-delegation",
        "blocker",
        "RFC 4035 section 5, RFC 6781 section 4.3.5",
        "The zone is signed, and it is to move to other name servers.",
        "With the old DS record at the parent, every checking resolver refuses the new servers' answers.",
        "Remove the DS record first, wait its TTL out, then change the name servers.",
        who="registrar",
        fixed_by="remove-ds",
        about_domain=True,
    ),
    Kind(
        "signature-broken",
        "blocker",
        "RFC 4035 section 5",
        "The zone's DNSSEC signatures do not fit what its parent says.",
        "Resolvers that check signatures give no answer at all; certificate authorities are among them.",
        "Have it signed anew, or remove the DS record.",
        who="registrar",
        holds_up_builder=True,
        about_domain=True,
    ),
    Kind(
        "servers-incomplete",
        "risk",
        "RFC 1034 section 4.1",
        "Only some of the builder's name servers are entered, or old ones are left among them.",
        "Part of the visitors is still sent by the old servers.",
        "Enter all of the builder's name servers and no others.",
        who="registrar",
        about_domain=True,
    ),
)


def _edited_elsewhere(case: Case) -> Iterator[Sighting]:
    """The classic mistake: records entered at a form that nobody asks."""
    survey, notation = case.survey, case.notation
    if survey is None or survey.delegation is None or case.wanted.hand_over is not None:
        return
    servers = survey.delegation.servers
    if notation.servers and not any(fnmatch(shown(s), pattern) for s in servers for pattern in notation.servers):
        yield Sighting(
            case.domain,
            "NS",
            f"{notation.host}'s form is not where this domain is edited: "
            f"it is served by {', '.join(map(shown, servers))}.",
            "Enter the records at whoever runs these name servers, and use a notation for their form.",
        )
    for seen in survey.contradicted:
        want = case.wanted.get(*seen.record.key)
        if want and want.met_by(seen.record) and not want.met_by(case.zone.get(*seen.record.key)):
            yield Sighting(
                seen.record.name,
                seen.record.type,
                f"{shown(seen.record.name)} {seen.record.type} is entered as wanted in {', '.join(seen.sources)}, "
                "but the name servers that are asked do not have it.",
                f"It was entered at another place than the one that counts: {', '.join(map(shown, servers))}.",
            )


def _delegation_differs(case: Case) -> Iterator[Sighting]:
    survey, own = case.survey, case.zone.get(case.domain, "NS")
    if survey is None or survey.delegation is None or own is None:
        return
    above, here = set(survey.delegation.servers), set(own.values)
    if above != here:
        only = ", ".join(map(shown, sorted(above - here))) or "none"
        extra = ", ".join(map(shown, sorted(here - above))) or "none"
        yield Sighting(
            case.domain,
            "NS",
            f"The parent and the zone name different servers; only the parent: {only}; only the zone: {extra}.",
            "Enter the same name servers at the registrar and in the zone.",
        )


def _server_lame(case: Case) -> Iterator[Sighting]:
    for server in case.survey.servers if case.survey else ():
        if server.state in _CURES:
            yield Sighting(
                case.domain,
                "NS",
                f"{shown(server.name)} ({server.address}) is named for this domain and "
                f"{SERVER_STATES[server.state]}: "
                f"{server.detail or server.state}.",
                _CURES[server.state],
            )


_TELL = "Tell the DNS host; if it stays so, take the server out at the registrar."
_CURES = {
    "lame": _TELL,
    "refusing": _TELL,
    "broken": _TELL,
    "silent": "Look again later; if it stays silent for hours, tell the DNS host.",
}


def _server_slow(case: Case) -> Iterator[Sighting]:
    for server in case.survey.servers if case.survey else ():
        if server.state == "slow":
            yield Sighting(
                case.domain,
                "NS",
                f"{shown(server.name)} ({server.address}) answers rightly, and slowly: some resolvers ask another one.",
                "Nothing to do now; if visitors wait for the site, tell the DNS host.",
            )


def _servers_disagree(case: Case) -> Iterator[Sighting]:
    for server in case.survey.servers if case.survey else ():
        if server.state == "differs":
            yield Sighting(
                case.domain,
                "NS",
                f"{shown(server.name)} ({server.address}, serial {server.serial}) gives other answers: "
                f"{server.detail}.",
                "Wait some minutes for it to follow; if it stays so, tell the DNS host.",
            )


def _signed_delegation(case: Case) -> Iterator[Sighting]:
    survey = case.survey
    over = case.wanted.hand_over is not None and not handed_over(case)
    if survey and survey.delegation and survey.delegation.signed and over:
        yield Sighting(
            case.domain,
            "DS",
            f"{shown(case.domain)} is signed: its parent holds a DS record for the present name servers.",
            "Take the DS record away at the registrar first and wait its TTL out, then change the name servers.",
        )


def _signature_broken(case: Case) -> Iterator[Sighting]:
    survey = case.survey
    if survey and survey.delegation and survey.delegation.signatures == "broken":
        yield Sighting(
            case.domain,
            "DNSKEY",
            f"The signatures of {shown(case.domain)} do not hold: {survey.delegation.trouble}.",
            "Let the DNS host sign the zone again, or take the DS record away at the registrar.",
        )


def _servers_incomplete(case: Case) -> Iterator[Sighting]:
    survey, over = case.survey, case.wanted.hand_over
    meant, host = set(case.wanted.nameservers), over.host if over else case.wanted.builder
    if survey is None or survey.delegation is None or not meant:
        return
    there = set(survey.delegation.servers)
    if there & meant and there != meant:
        missing = ", ".join(map(shown, sorted(meant - there))) or "none"
        left = ", ".join(map(shown, sorted(there - meant))) or "none"
        yield Sighting(
            case.domain,
            "NS",
            f"Of the name servers of {host} {missing} are missing at the registrar; there and not among them: {left}."
            f"{_mistyped(sorted(meant - there), sorted(there - meant))}",
            f"Enter all of them and no others, each exactly as {host} shows it.",
        )


def _mistyped(missing: list[Name], others: list[Name]) -> str:
    """Which of the others is one of the missing, with a slip of the keyboard."""
    pairs = ((other, one_slip(shown(name), shown(other))) for other in others for name in missing)
    found = [(other, words) for other, words in pairs if words]
    return "".join(f" {shown(other)} was mistyped: {words}." for other, words in found[:3])


RULES = (
    Rule("edited-elsewhere", _edited_elsewhere),
    Rule("delegation-differs", _delegation_differs),
    Rule("server-lame", _server_lame),
    Rule("server-slow", _server_slow),
    Rule("servers-disagree", _servers_disagree),
    Rule("signed-delegation", _signed_delegation),
    Rule("signature-broken", _signature_broken),
    Rule("servers-incomplete", _servers_incomplete),
)
