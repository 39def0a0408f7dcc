"""Findings about answers: what nobody answered, and answers that contradict themselves."""

from __future__ import annotations

from homepath.core.findings.kind import Kind

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
