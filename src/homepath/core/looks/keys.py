"""Which record sets a look asks the domain's own servers for."""

from __future__ import annotations

from collections.abc import Sequence

from homepath.core.model.history import Content
from homepath.core.model.names import child, shown
from homepath.core.model.records import Key
from homepath.core.wanted.wanted import ALIAS, Wanted

APEX_TYPES = ("NS", "A", "AAAA", "CNAME", "TXT", "MX", "CAA", "HTTPS", "DNAME")
NAME_TYPES = ("A", "AAAA", "CNAME", "TXT", "MX", "CAA", "HTTPS", "SVCB", "NS", "DNAME")
_USUAL = {
    **dict.fromkeys(("mail", "autodiscover", "webmail", "shop", "blog", "ftp"), ("A",)),
    **dict.fromkeys(("_dmarc", "_mta-sts"), ("TXT",)),
}
"""Names that many zones hold, asked so that the inventory is less blind."""
MOST_REMEMBERED = 500
"""Record sets of earlier looks that are asked for again."""


def keys_to_ask(wanted: Wanted, history: Sequence[Content]) -> list[Key]:
    """All types at the wanted names, the wanted types where slips would put them, usual names, and whatever an earlier
    survey listed, so that its loss is seen."""
    wants = [want.record for want in wanted.wants if want.record.type != ALIAS]
    names = dict.fromkeys([wanted.domain, child("www", wanted.domain), wanted.primary, *wanted.names])
    names |= dict.fromkeys(record.name for record in wants)
    keys: list[Key] = []
    for name in names:
        keys += [(name, rrtype) for rrtype in (APEX_TYPES if name == wanted.domain else NAME_TYPES)]
    for record in wants:
        keys += [(child(shown(record.name), wanted.domain), rrtype) for rrtype in {record.type: 0, "A": 0}]
    keys += [(child(label, wanted.domain), rrtype) for label, types in _USUAL.items() for rrtype in types]
    return list(dict.fromkeys([*keys, *listed_before(history)]))


def listed_before(history: Sequence[Content]) -> list[Key]:
    """The record sets that earlier surveys listed, those of mail and proofs of the first looks first."""
    found = dict.fromkeys(
        each.record.key
        for each in history
        if each.source == "survey" and each.record.type != "SOA" and not each.record.name.startswith("*.")
    )
    return list(found)[:MOST_REMEMBERED]
