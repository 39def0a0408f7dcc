"""Steps of a hand-over: the inventory, carrying it over, the DS record, the name servers."""

from __future__ import annotations

import math
from collections.abc import Iterator

from homepath.core.journey.draft import Done, Draft, Open, Standing
from homepath.core.journey.view import View
from homepath.core.model.acts import Choice, Decide, Enter, Entry, NameServers, RemoveDs, Wait
from homepath.core.model.history import earlier_copies, right_since_seen
from homepath.core.model.meant import Meant
from homepath.core.model.names import shown
from homepath.core.model.records import RecordSet
from homepath.core.planning.difference import must_come_along

UNKNOWN_DS_TTL = 86400
"""Seconds; how long caches may keep a DS set whose TTL was not seen."""


def to_carry(view: View) -> list[RecordSet]:
    """Everything that the new name servers must give too."""
    return [record for record in view.case.zone if must_come_along(view.case, record)]


def inventory(view: View) -> Draft:
    """Before everything changes hands, all that is there must be known; DNS cannot be listed from outside."""
    told = view.told("inventory")
    sources = [
        source for seen in (view.evidence.survey.records if view.evidence.survey else ()) for source in seen.sources
    ]
    whole = any(source.startswith(("transfer ", "file ")) for source in sources)
    names = sorted({shown(record.name) for record in to_carry(view)})
    transfer = Choice("Ask the name servers for the whole zone", ("survey", "--transfer"))
    choices = (
        *([] if view.evidence.transfer_tried else [transfer]),
        Choice("These are all the names", ("next", "--done", "inventory")),
        Choice("Add an export of the zone from the DNS host", ("survey", "--zone", "FILE")),
    )
    question = Decide(
        f"Everything at the name servers changes hands at once. Seen so far, beside the website: "
        f"{', '.join(names) or 'nothing'}. Are these all the names?",
        choices,
    )
    stands: Standing = Open(question, because=view.findings("mail-left-behind"))
    if whole or view.handed_over:
        stands = Done(view.evidence.survey.at if view.evidence.survey else None)
    elif told is not None:
        stands = Done(told, "told")
    return Draft(
        kind="inventory",
        place="here",
        title="See everything that must come along",
        instruction="Only usual names can be asked for from outside. Export the zone at the DNS host and add it with "
        "`homepath survey --zone FILE`, or try `homepath survey --transfer`.",
        expect="`homepath survey` lists every entry that you know of.",
        stands=stands,
    )


def carry(view: View) -> Iterator[Draft]:
    carried = to_carry(view)
    if not carried:
        return
    left = [record for record in carried if not view.evidence.carried.get(record.key)]
    entries = [Entry(r.name, r.type, value, r.ttl) for r in left for value in r.values]
    told = view.told("carry")
    seen_at_all = any(record.key in view.evidence.carried for record in carried)
    stands: Standing = Open(Enter((), tuple(entries), "new DNS host"), because=view.findings("mail-left-behind"))
    if view.handed_over or not left:
        stands = Done(None)
    elif told is not None and not seen_at_all:
        stands = Done(told, "told")
    yield Draft(
        kind="carry",
        place="builder",
        title="Enter everything that must come along at the new name servers",
        instruction=f"Before the switch, enter at {view.builder}'s DNS page what `homepath sheet` lists: mail, proofs "
        "and every other name.",
        expect="Each of these answers the same at the new servers as at the old ones.",
        stands=stands,
    )


def remove_ds(view: View) -> Iterator[Draft]:
    """The signature key at the parent goes first: with it, checking resolvers refuse the new servers' answers."""
    survey = view.evidence.survey
    signed = bool(survey and survey.delegation and survey.delegation.signed)
    gone = Meant(view.case.domain, "DS")
    copies = earlier_copies(view.evidence.contents, gone)
    if not signed and not copies:
        return
    longest = max((copy.ttl for copy in copies), default=UNKNOWN_DS_TTL)
    until = max((copy.dies for copy in copies), default=None)
    yield Draft(
        kind="remove-ds",
        place="registrar",
        title="Take the DS record away",
        instruction=f"Switch DNSSEC off for {shown(view.case.domain)} at the registrar.",
        expect="The parent no longer gives a DS record.",
        stands=Open(RemoveDs(), because=view.findings("signed-delegation")) if signed else Done(None),
        way_back="Switch DNSSEC on again.",
    )
    waits: Standing = Done(until)
    if signed:
        waits = Open(Wait(math.ceil(view.now + longest), "parent"))
    elif until is not None and until > view.now:
        waits = Open(Wait(math.ceil(until), "parent"))
    yield Draft(
        kind="wait-ds",
        place="here",
        title="Wait until the DS record is forgotten",
        instruction="Nothing to do. Caches keep it for its TTL, and check signatures as long as they do.",
        expect="From then on the name servers can change.",
        stands=waits,
        longest_wait=longest,
    )


def name_servers(view: View) -> Draft:
    servers = view.case.wanted.nameservers
    names = ", ".join(map(shown, servers))
    since = None
    if view.handed_over:
        since = right_since_seen(view.said_at_source, Meant(view.case.domain, "NS", servers))
    return Draft(
        kind="name-servers",
        place="registrar",
        title=f"Enter the {len(servers)} new name servers",
        instruction=f"Replace all present name servers of {shown(view.case.domain)} by exactly these: {names}. Do not "
        "delete the old zone for now: caches still ask it.",
        expect="`homepath next` sees these servers at the parent, and no others.",
        stands=Done(since)
        if view.handed_over
        else Open(NameServers(servers), because=view.findings("servers-incomplete")),
        way_back="Enter the old name servers again.",
    )


def spread(view: View) -> Draft:
    survey = view.evidence.survey
    ttl = survey.delegation.ttl if survey and survey.delegation else 172800
    own = view.case.zone.get(view.case.domain, "NS")
    longest = max(ttl, own.ttl if own else 0)
    stands: Standing = Done(None)
    if not view.handed_over:
        stands = Open(Wait(math.ceil(view.now + longest), "parent"))
    elif view.caches is not None:
        stands = Open(view.caches)
    return Draft(
        kind="spread",
        place="here",
        title="Wait until the old name servers are forgotten (caches)",
        instruction="Nothing to do; keep the old zone alive until then.",
        expect="`homepath watch` says: settled.",
        stands=stands,
        longest_wait=longest,
    )
