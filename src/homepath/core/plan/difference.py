"""The exact changes: what each record set is now, what it becomes, and why."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace

from homepath.core.dns.names import Name, ancestors, is_within
from homepath.core.dns.policies import is_spf
from homepath.core.dns.records import ADDRESS_TYPES, WEB_TYPES, Key, RecordSet
from homepath.core.dns.values import meaning
from homepath.core.files.sheet import form_ttl
from homepath.core.findings.timing import LONG_TTL
from homepath.core.message import Text, msg
from homepath.core.model.brief import Notation
from homepath.core.model.plan import PURPOSES, Change, Move, Stays, move_of
from homepath.core.plan.own_records import own_records
from homepath.core.site.case import Case, once
from homepath.core.site.purposes import is_of_server, is_parking, written_by_server
from homepath.core.site.slips import doubled_entries, quoted_slips, slip_among
from homepath.core.site.wanted import ALIAS, HandOver, Want
from homepath.core.site.zone_facts import flattened, foreign_at_alias, handed_over, mended_policies

LOWERED = 300
"""Seconds; the TTL to set before a change of a site in use, and for the new records until it has arrived."""


def low_ttl(notation: Notation) -> int:
    """The TTL that the DNS host's form offers nearest to `LOWERED`."""
    return form_ttl(LOWERED, notation)


@once
def in_use(case: Case) -> dict[Key, int]:
    """The sets that bring visitors to a site in use, now or at any earlier check, and that the website replaces.

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


"""Begins the reason of a set that a plan leaves alone only until more is known."""


def changes(case: Case) -> tuple[Change, ...]:
    """Every record set of the domain with its move, the website first, what is kept last.

    Names that the website does not need are kept; mail, verification records and protected records are never removed.
    """
    over = case.wanted.hand_over
    if over is not None and not handed_over(case):
        return _before_the_switch(case, over)
    if over is not None and (over.by_builder or case.wanted.going != "there"):
        own = tuple(_where_seen(case, own_records(case))) if case.wanted.going == "there" else ()
        done = {(case.domain, "NS"), *((change.name, change.type) for change in own)}
        stays = (record for record in case.zone if not is_of_server(record.type) and record.key not in done)
        return (_delegation_change(case, over), *own, *(_kept(case, record) for record in stays))
    found = {(change.name, change.type): change for change in moves(case)}
    for record in case.zone:
        if record.key not in found and not is_of_server(record.type):
            found[record.key] = _kept(case, record)
    order: list[Move] = ["remove", "replace", "add", "keep"]
    return tuple(
        sorted(
            found.values(),
            key=lambda change: (
                change.move == "keep",
                PURPOSES.index(change.purpose),
                change.name != case.wanted.domain,
                change.name,
                order.index(change.move),
                change.type,
            ),
        )
    )


def with_kept_sets(case: Case, work: Sequence[Change]) -> tuple[Change, ...]:
    """Changes, and everything else as it stays."""
    mine = {(change.name, change.type) for change in work}
    others = (r for r in case.zone if r.key not in mine and not is_of_server(r.type))
    return (*work, *(_kept(case, record) for record in others))


@once
def moves(case: Case) -> tuple[Change, ...]:
    """What the website needs at each record set, what is in its way, and nothing of what is simply kept."""
    found: dict[Key, Change] = {}
    for change in _where_seen(case, (*_wanted(case), *_in_the_way(case), *_doubled(case), *own_records(case))):
        found.setdefault((change.name, change.type), change)
    return tuple(found.values())


def _where_seen(case: Case, found: Iterable[Change]) -> Iterator[Change]:
    """Without the changes at names where it is not known what is there."""
    dark = {name for name, _ in case.unknown if case.unseen_at(name)}
    for change in found:
        if change.move == "keep" or not (change.name in dark or is_hidden(case, change.name)):
            yield change


def is_hidden(case: Case, name: Name) -> bool:
    """Whether a name is below a DNAME or a delegation: what the zone holds there shows only once that is deleted
    (RFC 6672 section 2.4, RFC 1034 section 4.2.1)."""
    above = [at for at in ancestors(name)[1:] if is_within(at, case.domain)]
    cuts = [(at, "NS") for at in above if at != case.domain] + [(at, "DNAME") for at in above]
    return any(case.zone.get(*key) is not None for key in cuts)


def _before_the_switch(case: Case, over: HandOver) -> tuple[Change, ...]:
    """The delegation, and what the website gets at another DNS host; nothing in the old zone is changed."""
    planned = (
        []
        if over.by_builder or case.wanted.going != "there"
        else [change for change in moves(case) if change.move != "keep"]
    )
    new = {(change.name, change.type) for change in planned}
    return (
        _delegation_change(case, over),
        *(
            replace(change, reason=msg("difference.before-the-switch.reason", reason=change.reason, host=over.host))
            for change in planned
        ),
        *(_stays_behind(case, r) for r in case.zone if not is_of_server(r.type) and r.key not in new),
    )


def _delegation_change(case: Case, over: HandOver) -> Change:
    delegation = case.survey.delegation if case.survey else None
    before = delegation.servers if delegation else case.zone.values(case.domain, "NS")
    ttl = delegation.ttl if delegation else 86400
    values = tuple(sorted(over.servers))
    move: Move = "keep" if set(values) == set(before) else "replace"
    reason = msg("difference.delegation-change.reason", host=over.host)
    return Change(move, case.domain, "NS", ttl, values, tuple(before), "delegation", reason)


def _stays_behind(case: Case, record: RecordSet) -> Change:
    """In the old zone everything stays until the last cache has dropped its nameservers."""
    kind = case.purpose(record)[0]
    stays: Stays | None = None
    replaced = record.name in case.wanted.names and record.type in WEB_TYPES
    if written_by_server(*record.key, case.domain) or replaced or record.key in case.wanted.left_behind:
        reason = msg("difference.stays-behind.reason")
    else:
        reason = msg("difference.stays-behind.reason-2")
        stays = "comes-along"
    values = record.values
    return Change("keep", *record.key, record.ttl, values, values, kind, reason, record.ttl, stays)


def _wanted(case: Case) -> Iterator[Change]:
    used = in_use(case)
    for want in case.wanted.wants:
        absent = want.optional and case.zone.get(*want.record.key) is None
        if want.record.key not in case.wanted.protected and not absent:
            yield _towards(case, want, new_ttl(case, want.record.key, want.record.ttl, used))


def _towards(case: Case, want: Want, ttl: int) -> Change:
    if want.record.type == ALIAS:
        flat = flattened(case, want.record.name)
        values = want.record.values
        before = values if flat else ()
        return Change(
            "keep" if flat else "add", want.record.name, ALIAS, ttl, values, before, want.purpose, want.reason
        )
    record, present = want.record, case.zone.get(*want.record.key)
    before = present.values if present else ()
    gone, policy = mended_policies(case, record.name) if record.type == "TXT" else (frozenset(), None)
    if want.met_by(present) and policy is None:
        assert present is not None
        met = msg("difference.towards.met")
        return Change("keep", *record.key, present.ttl, before, before, want.purpose, met, present.ttl, "right")
    if want.joined:
        missing = set(want.desired.lacking(present))
        slips = {value for value in before if slip_among(missing, value)}
        slips |= quoted_slips(want, present) if present else set()
        if policy is not None:
            slips |= gone
            missing = {value for value in missing if not is_spf(meaning("TXT", value))} | {policy}
        values = tuple(sorted((set(before) - slips) | missing))
        reason = msg("difference.towards.others-stay", reason=want.reason) if set(before) - slips else want.reason
    else:
        values, reason = record.values, want.reason
        if present and (why := is_parking(present, case.notation)):
            reason = msg("difference.towards", reason=reason, why=why)
    if present is not None and set(before) & set(values):
        ttl = present.ttl  # the values that stay keep theirs, and a set has one (RFC 2181 section 5.2)
    old = present.ttl if present else None
    move = move_of(record.type, before, values)
    return Change(move, record.name, record.type, ttl, values, before, want.purpose, reason, old)


def _in_the_way(case: Case) -> Iterator[Change]:
    """Web records at the website's names that no one wants: each would lead some visitors astray."""
    for name in case.wanted.web_names:
        alias = case.wanted.get(name, "CNAME")
        if flattened(case, name):
            continue  # the addresses seen are the alias's own
        if alias and foreign_at_alias(case, name):
            continue  # a blocker is found; until a person decides, nothing at this name is deleted
        for record in case.zone.at(name):
            if (
                (record.type in WEB_TYPES or case.wanted.purposes.get(record.key) == "website")
                and case.wanted.get(name, record.type) is None
                and record.key not in case.wanted.protected
            ):
                yield _removal(case, record, _why_in_the_way(case, record, alias is not None))


def _why_in_the_way(case: Case, record: RecordSet, alias_wanted: bool) -> Text:
    if record.type in ("NS", "DNAME"):
        return msg("difference.why-in-the-way", name=record.name)
    if record.type == "CNAME":
        return msg("difference.why-in-the-way-2", name=record.name)
    if alias_wanted:
        return msg("difference.why-in-the-way-3", name=record.name)
    if why := is_parking(record, case.notation):
        return why
    return msg("difference.why-in-the-way-4", builder=case.wanted.builder, type=record.type, name=record.name)


def _removal(case: Case, record: RecordSet, reason: Text) -> Change:
    kind = case.purpose(record)[0]
    return Change("remove", record.name, record.type, record.ttl, (), record.values, kind, reason, record.ttl)


def _doubled(case: Case) -> Iterator[Change]:
    """Records typed with the domain twice, meant for a name of the website."""
    for record, meant in doubled_entries(case):
        if record.key not in case.wanted.protected:
            yield _removal(case, record, msg("difference.doubled", meant=meant))


def _kept(case: Case, record: RecordSet) -> Change:
    kind, why = case.purpose(record)
    if case.unseen_at(record.name) and (record.type in WEB_TYPES or case.wanted.get(*record.key)):
        why = msg("difference.kept.why", name=record.name)
        return Change("keep", *record.key, record.ttl, record.values, record.values, kind, why, record.ttl, "undecided")
    protected = record.key in case.wanted.protected
    reason = msg("difference.kept.reason") if protected else msg("difference.kept.reason-2", why=why)
    stays: Stays | None = "protected" if protected else None
    return Change("keep", *record.key, record.ttl, record.values, record.values, kind, reason, record.ttl, stays)
