"""Steps of a hand-over from the switch on: the DS record, the nameservers, the wait, the old zone, signing again."""

from __future__ import annotations

import math
from collections.abc import Iterator

from homepath.core.assess.draft import Done, Draft, LeftOut, Open, Status
from homepath.core.assess.inventory import host_of_new
from homepath.core.assess.view import View
from homepath.core.dns.ds import ds_to_set
from homepath.core.dns.names import shown
from homepath.core.dns.records import RecordSet
from homepath.core.message import Text, msg
from homepath.core.model.acts import AddDs, BuilderStep, NameServers, RemoveDs, Wait
from homepath.core.model.evidence import earlier_copies, right_since_seen
from homepath.core.model.plan import DesiredSet
from homepath.core.plan.going_back import former_servers
from homepath.core.site.zone_facts import handed_over_in_part, nameservers_before

UNKNOWN_DS_TTL = 86400
"""Seconds; how long caches may keep a DS set whose TTL was not seen."""
PARENTS_FOLLOW = (600, 86400)
"""Seconds in which the servers of the parent zone usually follow each other, and at most."""


def remove_ds(view: View) -> Iterator[Draft]:
    """The signature key at the parent goes first: with it, checking resolvers refuse the new servers' answers."""
    signed = _signed(view)
    gone = DesiredSet(view.case.domain, "DS")
    copies = earlier_copies(view.evidence.contents, gone)
    if (not signed and not copies) or (signed and view.handed_over and not _broken(view)):
        return
    longest = max((copy.ttl for copy in copies), default=_ds_ttl(view))
    until = max((copy.dies for copy in copies), default=None)
    fits = signed and view.compared is not None and view.compared.held and not view.compared.signed
    status: Status = Open(RemoveDs(), because=view.findings("signed-delegation", "signature-broken"))
    if fits and not view.handed_over:
        status = LeftOut(msg("remove-ds.left-out"))
    elif not signed:
        status = Done(None)
    yield Draft(
        kind="remove-ds",
        place="registrar",
        title=msg("remove-ds.title"),
        instruction=msg("remove-ds.instruction", domain=view.case.domain),
        expect=msg("remove-ds.expect"),
        status=status,
        way_back=msg("remove-ds.way-back"),
    )
    waits: Status = Done(until)
    if isinstance(status, LeftOut):
        waits = LeftOut(status.why)
    elif signed:
        waits = Open(Wait(math.ceil(view.now + longest), "parent"))
    elif until is not None and until > view.now:
        waits = Open(Wait(math.ceil(until), "parent"))
    yield Draft(
        kind="wait-ds",
        place="here",
        title=msg("remove-ds.title-2"),
        instruction=msg("remove-ds.instruction-2"),
        expect=msg("remove-ds.expect-2"),
        status=waits,
        longest_wait=longest,
    )


def _signed(view: View) -> bool:
    """Whether the parent zone holds a DS record, also one of a kind that no one can check yet."""
    survey, compared = view.evidence.survey, view.compared
    if survey is not None and survey.delegation is not None and survey.delegation.signed:
        return True
    return compared is not None and compared.signed and not view.handed_over


def _broken(view: View) -> bool:
    """Whether the DS record and the zone do not fit: the switch was made too early."""
    survey = view.evidence.survey
    return bool(survey and survey.delegation and survey.delegation.signatures == "broken")


def _ds_ttl(view: View) -> int:
    seen = [
        c.record.ttl for c in view.evidence.contents if c.record.key == (view.case.domain, "DS") and c.record.values
    ]
    return max(seen, default=UNKNOWN_DS_TTL)


def switched_too_early(view: View) -> Iterator[Draft]:
    """The new nameservers are entered and do not hold the domain: until they do, the former ones must be asked."""
    survey, over = view.evidence.survey, view.over
    there = survey.delegation.servers if survey and survey.delegation else ()
    dark = view.gone and over is not None and (not there or handed_over_in_part(view.case))
    was = view.was("mend:name-servers") is not None and not nameservers_before(view.case)
    if over is None or not (dark or was):
        return
    former = former_servers(view.evidence.contents, view.case.domain, (*over.servers, *there))
    host, name = host_of_new(view), shown(view.case.domain)
    act = NameServers(former) if former else BuilderStep(msg("switched-too-early.title", host=host, name=name), "")
    because = view.findings("zone-not-served", "server-lame")
    yield Draft(
        kind="mend",
        about="name-servers",
        place="registrar" if former else "builder",
        title=msg("switched-too-early.title-2") if former else msg("switched-too-early.title-3", host=host),
        instruction=msg("switched-too-early.instruction", name=name),
        expect=msg("switched-too-early.expect"),
        status=Open(act, msg("switched-too-early.why", name=name), because, urgent=True) if dark else Done(None),
    )


def nameservers_changed(view: View) -> Iterator[Draft]:
    """The registrar names other nameservers than before, and something is lost by it: back to the former ones first,
    or everything else would be typed where no one asks. Not where new ones are ready to take over."""
    before, key = nameservers_before(view.case), "mend:name-servers"
    harms = any(each.level == "blocker" for each in view.findings("nameservers-changed"))
    if view.over is not None and (not harms or view.ready):
        return
    if not harms and view.was(key) is None:
        return
    domain = view.case.domain
    yield Draft(
        kind="mend",
        about="name-servers",
        place="registrar",
        title=msg("switched-too-early.title-2"),
        instruction=msg("changed-unasked.instruction", domain=domain, servers=before) if harms else "",
        expect=msg("changed-unasked.expect", domain=domain),
        status=Open(NameServers(before), "", view.findings("nameservers-changed"), urgent=True)
        if harms
        else Done(None),
    )


def name_servers(view: View) -> Draft:
    over = view.over
    assert over is not None
    servers = over.servers
    names = ", ".join(map(shown, servers))
    told_by_compare = view.compared.findings if view.compared else ()
    glue = tuple(each for each in told_by_compare if each.code == "glue-needed")
    down = view.findings("zone-not-served", "nameservers-changed") if view.gone else ()
    because = (*down, *view.findings("servers-incomplete", "proxy-serves"), *glue)
    status: Status = Open(NameServers(servers), _instead(view), because=because)
    compared = view.compared
    if compared is not None and compared.held and compared.verdict != "ready" and view.confirmed("compare") is None:
        # the steps before see to that; whatever they missed, no one is sent to servers that are not ready
        status = Open(BuilderStep(msg("not-ready.title"), msg("name-servers.instruction")))
    if view.handed_over:
        since = right_since_seen(view.source_contents, DesiredSet(view.case.domain, "NS", servers))
        status = Done(since)
        wait = _parents_wait(view, since)
        if wait is not None:
            status = Open(wait, msg("name-servers.why", parents_behind=tuple(view.parents_behind)))
    return Draft(
        kind="name-servers",
        place="registrar",
        title=msg("name-servers.title", count_servers=len(servers)),
        instruction=msg("name-servers.instruction-2", domain=view.case.domain, names=names),
        expect=msg("name-servers.expect"),
        status=status,
        way_back=msg("name-servers.way-back"),
    )


def _parents_wait(view: View, since: float | None) -> Wait | None:
    """The servers of the parent zone copy from each other; all of them must say the new nameservers."""
    if not view.parents_behind:
        return None
    began = since if since is not None else view.now
    for seconds in PARENTS_FOLLOW:
        if view.now < began + seconds:
            return Wait(math.ceil(began + seconds), "parent")
    return None


def _instead(view: View) -> Text:
    """What is entered now where only some of the new servers are there, or one was mistyped."""
    survey, over = view.evidence.survey, view.over
    if survey is None or survey.delegation is None or over is None:
        return ""
    there, ordered = set(survey.delegation.servers), set(over.servers)
    if not there & ordered or there == ordered:
        return ""
    missing, odd = ", ".join(map(shown, sorted(ordered - there))), ", ".join(map(shown, sorted(there - ordered)))
    parts = [msg("instead.parts", missing=missing) if missing else "", msg("instead.parts-2", odd=odd) if odd else ""]
    return msg("instead", part=tuple(part for part in parts if part))


def spread(view: View) -> Draft:
    survey = view.evidence.survey
    ttl = survey.delegation.ttl if survey and survey.delegation else 172800
    own = view.case.zone.get(view.case.domain, "NS")
    web = [record.ttl for record in view.case.zone if record.name in view.case.wanted.names]
    longest = max(ttl, own.ttl if own else 0) + max(web, default=0)
    status: Status = Done(None)
    if not view.handed_over:
        status = Open(Wait(math.ceil(view.now + longest), "parent"))
    elif view.caches is not None:
        status = Open(view.caches)
    return Draft(
        kind="spread",
        place="here",
        title=msg("spread.title-2"),
        instruction=msg("spread.instruction-2"),
        expect=msg("spread.expect"),
        status=status,
        longest_wait=longest,
    )


def old_zone(view: View) -> Draft:
    """The former zone is kept until no cache asks it any more; then it may go. Nothing depends on its going."""
    host = view.former_host
    status: Status
    if view.handed_over and view.caches is None:
        status = Done(None)
    else:
        until = view.caches.until if view.handed_over and view.caches else view.now
        status = Open(Wait(math.ceil(until), "parent"), msg("old-zone.why"))
    return Draft(
        kind="old-zone",
        place="here",
        title=msg("old-zone.title", host=host),
        instruction=msg("old-zone.instruction", domain=view.case.domain, host=host),
        expect=msg("old-zone.expect"),
        status=status,
    )


def add_ds(view: View) -> Iterator[Draft]:
    """If the owner wants it, the domain is signed again once no cache queries the old zone (RFC 6781 section 4.3.5)."""
    if not view.case.wanted.sign:
        return
    survey = view.evidence.survey
    signed = bool(survey and survey.delegation and survey.delegation.signed and survey.delegation.signatures == "good")
    keys = RecordSet(view.case.domain, "DNSKEY", 0, survey.keys if survey else ())
    values = ds_to_set(view.case.domain, keys)
    host = host_of_new(view)
    status: Status = (
        Open(AddDs(values))
        if values
        else Open(BuilderStep(msg("add-ds.title", host=host), msg("add-ds.instruction", host=host)))
    )
    if signed and view.handed_over:
        status = Done(None)
    yield Draft(
        kind="add-ds",
        place="registrar" if values else "builder",
        title=msg("add-ds.title-2"),
        instruction=msg("add-ds.instruction-2", host=host),
        expect=msg("add-ds.expect"),
        status=status,
        way_back=msg("add-ds.way-back"),
    )
