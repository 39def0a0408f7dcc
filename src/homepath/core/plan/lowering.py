"""Whether a site is in use at the names that change, and with which TTLs its records and the new ones are kept."""

from __future__ import annotations

from homepath.core.dns.records import ADDRESS_TYPES, WEB_TYPES, Key, RecordSet
from homepath.core.files.sheet import form_ttl
from homepath.core.findings.timing import LONG_TTL
from homepath.core.model.brief import Notation
from homepath.core.site.case import Case
from homepath.core.site.purposes import is_parking

LOWERED = 300
"""Seconds; the TTL to set before a change of a site in use, and for the new records until it has arrived."""


def low_ttl(notation: Notation) -> int:
    """The TTL that the DNS host's form offers nearest to `LOWERED`."""
    return form_ttl(LOWERED, notation)


def in_use(case: Case) -> dict[Key, int]:
    """The sets that bring visitors to a site in use, now or at any earlier look, and that the website replaces.

    Each with the longest TTL it was ever given with (seconds); only those above `LONG_TTL`, as far as the form can
    lower them. A parking page and a forwarder have no visitors to lose, nor has what was typed for the new site.
    """
    if case.wanted.hand_over is not None or case.wanted.going != "there":
        return {}
    low = low_ttl(case.notation)
    found: dict[Key, int] = {}
    names, least = set(case.wanted.web_names), max(LONG_TTL, low)
    history = (each.record for each in case.history if each.source == "zone")
    for record in (*history, *case.zone):
        if record.name in names and record.ttl > least and record.values and _is_old_site(case, record):
            found[record.key] = max(found.get(record.key, 0), record.ttl)
    return found


def has_old_site(case: Case) -> bool:
    """Whether a site that is to be replaced answers at one of the website's names today."""
    return any(_is_old_site(case, record) for record in case.zone)


def _is_old_site(case: Case, record: RecordSet) -> bool:
    if record.name not in case.wanted.web_names or record.type not in WEB_TYPES:
        return False
    if record.key in case.wanted.protected or is_parking(record, case.notation):
        return False
    if set(record.values) & set(case.notation.forwarding_addresses):
        return False
    wanted = [want.record.meanings for want in case.wanted.wants if want.record.type in (record.type, *ADDRESS_TYPES)]
    return not any(record.meanings & each for each in wanted)


def new_ttl(case: Case, key: Key, usual: int, used: dict[Key, int]) -> int:
    """With which TTL a wanted set is entered: low while a site in use changes, as the form offers it."""
    if used and key[0] in case.wanted.web_names and key[1] in (*WEB_TYPES, "ALIAS"):
        return min(low_ttl(case.notation), form_ttl(usual, case.notation))
    return form_ttl(usual, case.notation)
