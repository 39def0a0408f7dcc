"""Changes to the owner's CAA records and SPF texts. They are needed whichever host runs the zone."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.dns.names import ancestors
from homepath.core.dns.policies import has_wild, permission
from homepath.core.dns.records import Key
from homepath.core.message import msg
from homepath.core.model.plan import Change, move_of
from homepath.core.site.case import Case
from homepath.core.site.wanted import USUAL_TTL
from homepath.core.site.zone_facts import can_be_amended, mended_policies, refusing_sets


def own_records(case: Case) -> Iterator[Change]:
    """All of them, whether or not it is known what else is at their names."""
    yield from _permissions(case)
    yield from _policies(case)


def _permissions(case: Case) -> Iterator[Change]:
    yield from _own_permission(case)
    added: dict[Key, set[str]] = {}
    for wildcard in (False, True) if case.wanted.https.wildcard else (False,):
        for _, found in refusing_sets(case, wildcard):
            if can_be_amended(case, found) and found.key not in case.wanted.protected:
                tag = "issuewild" if wildcard and has_wild(found) else "issue"
                added.setdefault(found.key, set()).add(permission(case.wanted.https.issuers[0], tag))
    for key, permissions in added.items():
        found = case.zone.sets[key]
        values = tuple(sorted({*found.values, *permissions}))
        reason = msg("difference.permissions.reason", issuers=case.wanted.https.issuers[0])
        move = move_of("CAA", found.values, values)
        yield Change(move, *key, found.ttl, values, found.values, "certificates", reason, found.ttl)


def _own_permission(case: Case) -> Iterator[Change]:
    """Where a set above the domain decides (RFC 8659 section 3), the domain gets one of its own: what was inherited,
    and the builder's issuer. No one can change the one above."""
    above = [found for _, found in refusing_sets(case) if found.name in ancestors(case.domain)[1:]]
    key = (case.domain, "CAA")
    if not above or key in case.wanted.protected or key in case.zone.sets:
        return
    issuer = case.wanted.https.issuers[0]
    values = {*above[0].values, permission(issuer)}
    if case.wanted.https.wildcard and has_wild(above[0]):
        values.add(permission(issuer, "issuewild"))
    reason = msg("difference.own-permission.reason", name=above[0].name, issuer=issuer)
    yield Change("add", *key, USUAL_TTL, tuple(sorted(values)), (), "certificates", reason)


def _policies(case: Case) -> Iterator[Change]:
    """SPF texts that the website's change would make wrong, and two of them at one name."""
    for record in case.zone:
        gone, new = mended_policies(case, record.name) if record.type == "TXT" else (frozenset(), None)
        if new is None or record.key in case.wanted.protected:
            continue
        values = tuple(sorted((set(record.values) - gone) | {new}))
        move, kind = move_of("TXT", record.values, values), case.purpose(record)[0]
        reason = msg("difference.policies.reason" if len(gone) == 1 else "difference.policies.reason-2")
        yield Change(move, *record.key, record.ttl, values, record.values, kind, reason, record.ttl)
