"""What a support desk needs: each entry exactly, who was asked and what they said."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from homepath.core.dns.names import shown
from homepath.core.model.survey import ServerSeen
from homepath.core.model.times import rfc3339
from homepath.core.wording.say import say
from homepath.report.records import Facts, Row, record_rows


@dataclass(frozen=True, slots=True)
class ForSupport:
    """What the template for support speaks of beside the owner's page."""

    facts: tuple[tuple[str, str], ...]
    exact: tuple[Row, ...]
    servers: tuple[ServerSeen, ...]
    resolvers: tuple[str, ...]
    resolvers_at: float | None
    hops: tuple[str, ...]


def for_support(facts: Facts) -> ForSupport:
    survey, spread, visit = facts.evidence.survey, facts.evidence.spread, facts.evidence.visit
    return ForSupport(
        tuple(_facts(facts)),
        tuple(record_rows(facts, exactly=True)),
        survey.servers if survey else (),
        tuple(_resolvers(facts)),
        spread.at if spread else None,
        tuple(
            f"{hop.url}: {hop.status or say(hop.detail) or 'no answer'}"
            + (f" to {hop.location}" if hop.location else "")
            + (f" ({hop.address})" if hop.address else "")
            for hop in {hop.url: hop for way in (visit.ways if visit else ()) for hop in way.hops}.values()
        ),
    )


def _facts(facts: Facts) -> Iterator[tuple[str, str]]:
    wanted, survey = facts.case.wanted, facts.evidence.survey
    yield "domain", shown(facts.case.domain)
    yield "addresses that are to lead to the site", " and ".join(shown(name) for name in wanted.names)
    yield "primary address", wanted.primary_url
    yield "builder", facts.builder
    if wanted.free_address:
        yield "the site's own name at the builder", shown(wanted.free_address)
    if survey is None:
        return
    if survey.delegation is not None:
        signed = {"none": "not signed", "good": "signed, and the signatures hold", "broken": "signed, and broken"}
        delegation = survey.delegation
        yield (
            "delegation",
            f"{' and '.join(shown(each) for each in delegation.servers)}; TTL {delegation.ttl} s; "
            + signed.get(delegation.signatures, "whether it is signed is not known"),
        )
    if survey.registration is not None:
        registration = survey.registration
        ends = f", ends {rfc3339(registration.expires)}" if registration.expires is not None else ""
        yield "registration", f"{registration.registrar}{ends}; {', '.join(registration.statuses)}"
    edge = facts.evidence.edge
    if edge is not None and not facts.assessment.arrived:
        knows = {True: "serves the primary address", False: "does not know the primary address", None: "did not tell"}
        yield "the builder's edge", f"{knows[edge.knows]} ({rfc3339(edge.at)})"


def _resolvers(facts: Facts) -> Iterator[str]:
    """The verdict of each record set, and how many resolvers say what."""
    spread = facts.evidence.spread
    for record in spread.records if spread else ():
        states: dict[str, list[str]] = {}
        for reading in record.readings:
            if reading.role == "resolver":
                states.setdefault(reading.state, []).append(reading.vantage)
        said = "; ".join(f"{state}: {', '.join(who)}" for state, who in states.items())
        yield f"{record.type} at {shown(record.name)}: {record.verdict}{f' ({say(said)})' if said else ''}"
