"""Station five, by machine: the plan as one signed update, read back from every server."""

from __future__ import annotations

from collections.abc import Awaitable, Callable
from dataclasses import dataclass

from homepath.core.asking.walk import LostWay
from homepath.core.formats.contracts.plan import plan_json
from homepath.core.formats.key_file import TsigKey
from homepath.core.model.names import Name, shown
from homepath.core.model.plan import Change
from homepath.core.model.problems import CouldNotLook, Refused
from homepath.core.model.questions import Question, Server
from homepath.core.model.records import RecordSet
from homepath.core.planning.update import Update, make_update
from homepath.core.wanted.wanted import ALIAS
from homepath.journal.journal import open_journal
from homepath.net.asker import Asker
from homepath.net.network_file import Network
from homepath.net.update import send_update
from homepath.net.vantages import read_place
from homepath.net.walker import Walker
from homepath.stations.plan import Planned
from homepath.stations.project import Project
from homepath.stations.survey import find_zone


@dataclass(frozen=True, slots=True)
class Difference:
    """A record set that a server does not give as it was sent."""

    server: Name
    change: Change
    given: tuple[str, ...]
    detail: str = ""


@dataclass(frozen=True, slots=True)
class Sent:
    """`differences` is empty when every authoritative server gives what was sent."""

    server: Server
    update: Update
    at: float
    differences: tuple[Difference, ...]


def prepare(project: Project, planned: Planned) -> Update:
    """The update of this plan. Raises Refused when a blocker stands in the way."""
    if planned.plan.route == "nameservers":
        raise Refused(
            "nothing was sent: the name servers of a domain are entered at its registrar, not in its zone",
            "Follow the steps of `homepath plan`.",
        )
    if any(change.type == ALIAS for change in planned.plan.work):
        raise Refused(
            "nothing was sent: an alias at the apex is the DNS host's own kind of record, and no update can carry it",
            "Enter it in the DNS host's form: `homepath sheet`.",
        )
    blockers = planned.plan.blockers
    if blockers:
        raise Refused(f"nothing was sent: {blockers[0].message}", blockers[0].cure)
    return make_update(planned.survey.zone, planned.plan.changes)


async def update_server(project: Project, planned: Planned, network: Network, chosen: str | None) -> Server:
    """Where to send: the server chosen, or the primary named in the SOA (RFC 2136 section 4.3)."""
    if chosen:
        try:
            return Server(*read_place(chosen, network.dns_port), name=chosen)
        except ValueError as error:
            raise Refused(
                f"nothing was sent: {error}", "Give --server an address, with a port if it is not 53."
            ) from error
    soa = planned.survey.zone.get(project.domain, "SOA")
    if soa is None:
        raise Refused("nothing was sent: the survey has no SOA, so the primary server is not known", "Use --server.")
    primary = soa.values[0].split()[0]
    addresses, _, why = await Walker(Asker(network)).addresses(primary)
    if not addresses:
        raise CouldNotLook(
            f"the primary server {shown(primary)} has no address: {why}", "Give it with --server ADDRESS."
        )
    return Server(addresses[0], network.dns_port, primary)


async def send(project: Project, planned: Planned, key: TsigKey, server: Server, network: Network) -> Sent:
    """Send all changes in one transaction, keep it in the journal, and read it back.

    Raises Refused when nothing was changed, CouldNotLook when that is not known.
    """
    update = prepare(project, planned)
    await send_update(update, key, server, network)
    at = network.clock.now()
    words = f"{len(planned.plan.work)} changes sent to {shown(server.name) or server.place}"
    with open_journal(project.folder) as journal:
        journal.record_change(at, project.domain, words, plan_json(planned.plan))
    return Sent(server, update, at, await read_back(project, planned, network))


async def read_back(project: Project, planned: Planned, network: Network, looks: int = 4) -> tuple[Difference, ...]:
    """What the authoritative servers give differently. Secondary servers get a few moments to follow."""
    walker = Walker(Asker(network))
    try:
        cut = await find_zone(walker, project.domain)
    except (CouldNotLook, LostWay) as error:
        raise CouldNotLook(
            f"it was sent, but could not be read back: {error}", "Run `homepath watch --once`."
        ) from error
    found: tuple[Difference, ...] = ()
    for look in range(looks):
        found = await _compare(walker.asker, cut.servers, planned.plan.work)
        if not found or look == looks - 1:
            break
        await _pause(network.clock.sleep, look)
    with open_journal(project.folder) as journal:
        given = {(d.change.name, d.change.type) for d in found}
        done = [c for c in planned.plan.work if (c.name, c.type) not in given]
        journal.record_contents(network.clock.now(), [RecordSet(c.name, c.type, c.ttl, c.values) for c in done])
    return found


async def _pause(sleep: Callable[[float], Awaitable[None]], look: int) -> None:
    await sleep(2.0 * (look + 1))


async def _compare(asker: Asker, servers: tuple[Server, ...], work: tuple[Change, ...]) -> tuple[Difference, ...]:
    asks = [(Question(change.name, change.type), server) for change in work for server in servers]
    changes = [change for change in work for _ in servers]
    found = []
    for change, (_, server), answer in zip(changes, asks, await asker.ask_all(asks), strict=True):
        if not answer.usable:
            found.append(Difference(server.name, change, (), answer.detail or answer.rcode or answer.outcome))
            continue
        given = answer.found(change.name, change.type)
        meant = RecordSet(change.name, change.type, 0, change.values)
        if (given.meanings if given else frozenset()) != meant.meanings:
            found.append(Difference(server.name, change, given.values if given else ()))
    return tuple(found)
