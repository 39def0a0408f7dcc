"""Findings about the nameservers: who is asked, whether they agree, whether signatures hold."""

from __future__ import annotations

from collections.abc import Iterator
from fnmatch import fnmatch

from homepath.core.dns.names import Name, shown
from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.message import Text, messages, msg
from homepath.core.site.case import Case
from homepath.core.site.slips import one_slip
from homepath.core.site.zone_facts import handed_over, handed_over_in_part, nameservers_before

KINDS = (
    Kind("edited-elsewhere", "risk", "RFC 1034 section 4.2.1"),
    Kind("delegation-differs", "note", "RFC 1034 section 4.2.2", who="registrar"),
    Kind("server-lame", "risk", "RFC 1912 section 2.8", who="dns-host", about_domain=True),
    Kind("zone-not-served", "blocker", "RFC 1912 section 2.8", who="dns-host", about_domain=True, titled=True),
    Kind(
        "nameservers-changed", "risk", "RFC 1034 section 4.2.1", who="registrar", about_domain=True, harms_by_loss=True
    ),
    Kind("server-slow", "note", "RFC 1034 section 5.3.3", who="dns-host", about_domain=True),
    Kind(
        "servers-disagree", "risk", "RFC 1034 section 4.3.5", who="dns-host", holds_up_builder=True, about_domain=True
    ),
    Kind(
        "signed-delegation",
        "blocker",
        "RFC 4035 section 5, RFC 6781 section 4.3.5",
        who="registrar",
        fixed_by="remove-ds",
        about_domain=True,
    ),
    Kind(
        "signature-broken",
        "blocker",
        "RFC 4035 section 5",
        who="registrar",
        holds_up_builder=True,
        about_domain=True,
        titled=True,
    ),
    Kind("servers-incomplete", "risk", "RFC 1034 section 4.1", who="registrar", about_domain=True),
)


def _edited_elsewhere(case: Case) -> Iterator[Sighting]:
    """The classic mistake: records entered at a form that no one asks."""
    survey, notation = case.survey, case.notation
    if survey is None or survey.delegation is None or case.wanted.hand_over is not None:
        return
    servers = survey.delegation.servers
    if not servers or nameservers_before(case):
        return  # not-delegated and nameservers-changed say it better
    if notation.servers and not any(fnmatch(shown(s), pattern) for s in servers for pattern in notation.servers):
        yield Sighting(
            case.domain,
            "NS",
            msg("edited-elsewhere", host=notation.host, servers=tuple(servers)),
            msg("edited-elsewhere.cure"),
        )
    for seen in survey.contradicted:
        want = case.wanted.get(*seen.record.key)
        if want and want.met_by(seen.record) and not want.met_by(case.zone.get(*seen.record.key)):
            yield Sighting(
                seen.record.name,
                seen.record.type,
                msg("edited-elsewhere-2", name=seen.record.name, type=seen.record.type, sources=tuple(seen.sources)),
                msg("edited-elsewhere.cure-2", servers=tuple(servers)),
            )


def _delegation_differs(case: Case) -> Iterator[Sighting]:
    survey, own = case.survey, case.zone.get(case.domain, "NS")
    if survey is None or survey.delegation is None or own is None or not survey.held:
        return
    above, here = set(survey.delegation.servers), set(own.values)
    found = {server.name for server in survey.servers}
    dead = sorted(above - here - found) if found else []
    if dead:
        message = msg("delegation-differs-2", names=tuple(dead))
        cure = msg("delegation-differs.cure-2", servers=tuple(sorted(above & here)))
        yield Sighting(case.domain, "NS", message, cure, "risk")
    elif above != here:
        only = ", ".join(map(shown, sorted(above - here))) or "none"
        extra = ", ".join(map(shown, sorted(here - above))) or "none"
        yield Sighting(
            case.domain, "NS", msg("delegation-differs", only=only, extra=extra), msg("delegation-differs.cure")
        )


def _server_lame(case: Case) -> Iterator[Sighting]:
    for server in case.survey.servers if case.survey else ():
        if server.state in _CURES:
            yield Sighting(
                case.domain,
                "NS",
                msg(
                    "server-lame",
                    name=server.name,
                    address=server.address,
                    state=msg(f"server.{server.state}"),
                    detail=server.detail if server.state == "broken" else "",
                ),
                _CURES[server.state],
            )


def _zone_not_served(case: Case) -> Iterator[Sighting]:
    """None of the nameservers that were always there holds the domain any more, and not all of them are silent."""
    survey = case.survey
    if survey is None or not survey.gone or not survey.servers or nameservers_before(case):
        return  # nameservers-changed says it better
    names = tuple(dict.fromkeys(each.name for each in survey.servers))
    message, cure = msg("zone-not-served", domain=case.domain, names=names), msg("zone-not-served.cure")
    if handed_over_in_part(case):  # you switched too early
        message, cure = msg("zone-not-served-2", domain=case.domain, names=names), msg("zone-not-served.cure-2")
    yield Sighting(case.domain, "NS", message, cure)


def _nameservers_changed(case: Case) -> Iterator[Sighting]:
    before, survey = nameservers_before(case), case.survey
    if not before or survey is None or survey.delegation is None:
        return
    registrar = survey.registration.registrar if survey.registration else ""
    message = msg("nameservers-changed", domain=case.domain, now=survey.delegation.servers, before=before)
    cure = msg("nameservers-changed.cure", registrar=registrar, before=before)
    if case.wanted.destination:
        word = case.word_for(case.domain, "NS")
        cure = msg("nameservers-changed.cure-2", registrar=registrar, before=before, word=word)
    yield Sighting(case.domain, "NS", message, cure)


_TELL = msg("delegation.tell")
_CURES = {"lame": _TELL, "refusing": _TELL, "broken": _TELL, "silent": msg("delegation.cures")}


def _server_slow(case: Case) -> Iterator[Sighting]:
    for server in case.survey.servers if case.survey else ():
        if server.state == "slow":
            yield Sighting(
                case.domain, "NS", msg("server-slow", name=server.name, address=server.address), msg("server-slow.cure")
            )


def _servers_disagree(case: Case) -> Iterator[Sighting]:
    for server in case.survey.servers if case.survey else ():
        if server.state == "differs":
            yield Sighting(
                case.domain,
                "NS",
                msg(
                    "servers-disagree",
                    name=server.name,
                    address=server.address,
                    serial=server.serial,
                    detail=server.detail,
                ),
                msg("servers-disagree.cure"),
            )


def _signed_delegation(case: Case) -> Iterator[Sighting]:
    survey = case.survey
    over = case.wanted.hand_over is not None and not handed_over(case)
    if survey and survey.delegation and survey.delegation.signed and over:
        yield Sighting(case.domain, "DS", msg("signed-delegation", domain=case.domain), msg("signed-delegation.cure"))


def _signature_broken(case: Case) -> Iterator[Sighting]:
    survey = case.survey
    if survey and survey.delegation and survey.delegation.signatures == "broken":
        yield Sighting(
            case.domain,
            "DNSKEY",
            msg("signature-broken", domain=case.domain, trouble=survey.delegation.trouble),
            msg("signature-broken.cure"),
        )


def _servers_incomplete(case: Case) -> Iterator[Sighting]:
    survey, over = case.survey, case.wanted.hand_over
    ordered, host = set(case.wanted.nameservers), over.host if over else case.wanted.builder
    if survey is None or survey.delegation is None or not ordered:
        return
    there = set(survey.delegation.servers)
    mistyped = _mistyped(sorted(ordered - there), sorted(there - ordered))
    if (there & ordered or mistyped) and there != ordered:
        missing = ", ".join(map(shown, sorted(ordered - there))) or "none"
        left = ", ".join(map(shown, sorted(there - ordered))) or "none"
        yield Sighting(
            case.domain,
            "NS",
            msg("servers-incomplete", host=host, missing=missing, left=left, mistyped=mistyped),
            msg("servers-incomplete.cure", host=host),
        )


def _mistyped(missing: list[Name], others: list[Name]) -> Text:
    """Which of the others is one of the missing, with a slip of the keyboard."""
    pairs = ((other, one_slip(shown(name), shown(other))) for other in others for name in missing)
    found = [(other, words) for other, words in pairs if words]
    return messages(msg("mistyped", other=other, words=words) for other, words in found[:3])


RULES = (
    Rule("edited-elsewhere", _edited_elsewhere),
    Rule("delegation-differs", _delegation_differs),
    Rule("server-lame", _server_lame),
    Rule("zone-not-served", _zone_not_served),
    Rule("nameservers-changed", _nameservers_changed),
    Rule("server-slow", _server_slow),
    Rule("servers-disagree", _servers_disagree),
    Rule("signed-delegation", _signed_delegation),
    Rule("signature-broken", _signature_broken),
    Rule("servers-incomplete", _servers_incomplete),
)
