"""Kinds of findings about caches, resolvers and clocks."""

from __future__ import annotations

from homepath.core.findings.kind import Kind

KINDS = (
    Kind(
        "resolver-answers-for-itself",
        "note",
        "RFC 1034 section 4.3.1, RFC 6761 section 6.4",
        "A resolver gives an answer for a name that cannot exist: a captive portal, a filter, or advertising.",
        "What it says of the domain is its own invention, so it is left out of every verdict and deadline.",
        "Nothing has to be done. To look through an honest resolver, name another one in the network file.",
        who="resolver",
    ),
    Kind(
        "ttl-clamped",
        "note",
        "RFC 8767 section 4, RFC 2181 section 8",
        "A resolver keeps answers for longer than the domain's own servers allow.",
        "Its users see the old answer for longer than the deadline says.",
        "Nothing can be done from here; count its own countdown, not the TTL.",
        who="resolver",
    ),
    Kind(
        "several-caches",
        "note",
        "RFC 1034 section 4.3.5",
        "Behind one resolver address stand several caches, each with its own copy of a different age.",
        "Its answers go back and forth between old and new, and a first new answer does not mean that it has moved.",
        "Nothing: wait until the last copy that was seen has died. The deadline counts it in.",
        who="resolver",
    ),
    Kind(
        "clock-set-back",
        "note",
        "RFC 1035 section 3.2.1",
        "The journal holds looks that are dated later than now: this machine's clock was set back in between.",
        "Deadlines counted from those looks would be wrong, so they are left out.",
        "Set the clock right, if it is wrong now, and look again.",
    ),
)
