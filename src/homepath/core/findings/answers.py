"""Findings about answers: what nobody answered, and answers that contradict themselves."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.dns.answers import Unanswered
from homepath.core.dns.names import Name, shown
from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.site.case import CLASHING, DECIDING, Case
from homepath.core.wording.words import trouble_words

KINDS = (
    Kind(
        "unanswered",
        "blocker",
        "RFC 2308 section 7",
        "No name server of the domain answers whether something stands at a name that the plan is about.",
        "What may stand there unseen would lead visitors astray, or be lost; so nothing is planned at that name.",
        "Look again. If it stays so, add an export of the zone, or say what the DNS host's form shows.",
        who="dns-host",
        place="here",
        offers=("find-out",),
    ),
    Kind(
        "name-denied",
        "risk",
        "RFC 8020, RFC 4592 section 2.2.2",
        "A name server says of a name that it does not exist, though there are records at it or below it.",
        "Resolvers that believe it give no answer at all for the name.",
        "Tell the DNS host: its server must answer that there is no record of this type (NODATA).",
        who="dns-host",
    ),
    Kind(
        "ttl-uneven",
        "note",
        "RFC 2181 section 5.2",
        "The records of one set come with different keeping times (TTL).",
        "Caches take the shortest for all of them, or each record by itself: visitors may meet half of the set.",
        "Give all entries of the same name and type the same TTL.",
    ),
)


def _unanswered(case: Case) -> Iterator[Sighting]:
    """One for each name at which the plan cannot go on without knowing; a hand-over is about every name."""
    by_name: dict[Name, list[Unanswered]] = {}
    for each in case.unknown.values():
        carried = case.wanted.hand_over is not None and each.type in (*DECIDING, *CLASHING, "CAA")
        if carried or each in _that_matters(case, each.name):
            by_name.setdefault(each.name, []).append(each)
    for name, unseen in by_name.items():
        types = " and ".join(each.type for each in unseen)
        yield Sighting(
            name,
            unseen[0].type,
            f"Whether {shown(name)} has {types} entries is not known: {trouble_words(unseen[0].trouble)}.",
            "Look again in some minutes. If it stays so, add an export of the zone (`homepath survey --zone FILE`), or "
            "look into the DNS host's form and say that nothing of the kind is there.",
        )


def _that_matters(case: Case, name: Name) -> list[Unanswered]:
    """Only names that the website is about can be changed by a plan."""
    about = {*case.wanted.names, *(want.record.name for want in case.wanted.wants)}
    return case.unseen_at(name) if name in about else []


def _name_denied(case: Case) -> Iterator[Sighting]:
    for name in case.survey.denied if case.survey else ():
        yield Sighting(
            name,
            "",
            f"A name server says that {shown(name)} does not exist (NXDOMAIN), and gives records at it or below it.",
            "Tell the DNS host: for a type that is not there its server must answer with an empty answer.",
        )


def _ttl_uneven(case: Case) -> Iterator[Sighting]:
    for name in case.survey.uneven if case.survey else ():
        yield Sighting(
            name,
            "",
            f"Entries of one kind at {shown(name)} have different keeping times (TTL); the shortest counts.",
            f"In the DNS host's form, give the entries of {shown(name)} one TTL.",
        )


RULES = (
    Rule("unanswered", _unanswered),
    Rule("name-denied", _name_denied),
    Rule("ttl-uneven", _ttl_uneven),
)
