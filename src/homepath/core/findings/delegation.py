"""Findings about the name servers: who is asked, whether they agree, whether signatures hold."""

from __future__ import annotations

from homepath.core.findings.kind import Kind

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
    ),
    Kind(
        "server-lame",
        "risk",
        "RFC 1912 section 2.8",
        "A name server of the domain does not answer for it: it is silent, fails, refuses, or lacks the zone.",
        "Some visitors wait, some get no answer.",
        "Let the DNS host repair it, or take it out.",
    ),
    Kind(
        "server-slow",
        "note",
        "RFC 1034 section 5.3.3",
        "A name server of the domain answers rightly, but only after seconds.",
        "Resolvers turn to another server; where there is none, visitors wait.",
        "Nothing has to be done for the website; the DNS host may want to know.",
    ),
    Kind(
        "servers-disagree",
        "risk",
        "RFC 1034 section 4.3.5",
        "The domain's name servers give different answers.",
        "Visitors and the builder see now one, now the other.",
        "Wait for the zone to be copied; if it stays so, tell the DNS host.",
    ),
    Kind(
        "signed-delegation",
        "blocker",
        "RFC 4035 section 5, RFC 6781 section 4.3.5",
        "The zone is signed, and it is to move to other name servers.",
        "With the old DS record at the parent, every checking resolver refuses the new servers' answers.",
        "Remove the DS record first, wait its TTL out, then change the name servers.",
    ),
    Kind(
        "signature-broken",
        "blocker",
        "RFC 4035 section 5",
        "The zone's DNSSEC signatures do not fit what its parent says.",
        "Resolvers that check signatures give no answer at all; certificate authorities are among them.",
        "Have it signed anew, or remove the DS record.",
    ),
    Kind(
        "servers-incomplete",
        "risk",
        "RFC 1034 section 4.1",
        "Only some of the builder's name servers are entered, or old ones are left among them.",
        "Part of the visitors is still sent by the old servers.",
        "Enter all of the builder's name servers and no others.",
    ),
)
