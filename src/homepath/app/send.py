"""The records of the current step as one signed update, read back from every server."""

from __future__ import annotations

from collections.abc import Sequence

from homepath.app.driving import Driver
from homepath.app.entering import Entering
from homepath.app.project import Project
from homepath.core.contracts.changes import send_json
from homepath.core.dns.answers import Question, Server, of_trouble
from homepath.core.dns.names import shown
from homepath.core.dns.records import Key, RecordSet
from homepath.core.dns.soa import read_soa
from homepath.core.dns.walk import Cut
from homepath.core.files.key_file import TsigKey
from homepath.core.message import msg, reason
from homepath.core.model.acts import Difference, SendState, Sent, Where, became_of
from homepath.core.model.acts import Update as Noted
from homepath.core.model.plan import Change, DesiredSet
from homepath.core.model.problems import BadInput, CouldNotCheck, NotSent, Refused
from homepath.core.observe.requests import found_zone
from homepath.core.plan.plan import Update, changes_of, make_update
from homepath.core.wording.say import say, trouble_words
from homepath.core.wording.times import many
from homepath.net.asker import Asker
from homepath.net.network_file import Network
from homepath.net.session import Session, Walker
from homepath.net.update import send_update
from homepath.net.vantages import read_place


def prepare(project: Project, found: Entering) -> tuple[Update, tuple[Change, ...]]:
    """The update that makes these records, and the changes it means."""
    zone = project.zone_at(found.act.where)
    changes = changes_of(zone, found.act)
    return make_update(zone, changes), changes


async def update_server(project: Project, network: Network, chosen: str | None, where: Where = "DNS host") -> Server:
    """Where to send: the server chosen, or the primary named in the SOA of that side's zone (RFC 2136 section 4.3)."""
    if chosen:
        try:
            return Server(*read_place(chosen, network.dns_port), name=chosen)
        except ValueError as error:
            raise Refused(msg("update.send-update", error=reason(error)), msg("send.update-server")) from error
    soa = read_soa(project.zone_at(where).get(project.domain, "SOA"))
    if soa is None:
        raise Refused(msg("send.update-server-2"), msg("send.update-server-3"))
    primary = soa.primary
    addresses, _, trouble = await Walker(Asker(network)).addresses(primary)
    if not addresses:
        why = of_trouble(trouble) if trouble else msg("send.no-primary")
        raise CouldNotCheck(msg("send.update-server-4", primary=primary, why=why), msg("send.update-server-5"))
    return Server(addresses[0], network.dns_port, primary)


async def send(
    project: Project,
    update: Update,
    changes: Sequence[Change],
    key: TsigKey,
    server: Server,
    network: Network,
    where: Where = "DNS host",
) -> Sent:
    """Send all changes in one transaction and read them back.

    The update is noted in the journal before it goes out, and its outcome after it; so whatever happens in between, it
    is known what may have been sent. Raises Refused when nothing was changed, CouldNotCheck when that is not known,
    BadInput, before anything is sent, when the journal cannot be written.
    """
    at = network.clock.now()
    words = f"{many(len(changes), 'record set', 'record sets')} to {shown(server.name) or server.place}"
    body = {**send_json(project.domain, Sent(server, at, tuple(changes), ())), "where": where}
    with project.journal() as journal:
        number = journal.begin_change(at, project.domain, words, body)
    try:
        await send_update(update, key, server, network)
    except (Refused, CouldNotCheck) as error:
        refused = isinstance(error, Refused | NotSent)
        _complete(project, number, "refused" if refused else "unknown", say(error.message) if refused else "")
        raise
    unrecorded = _complete(project, number, "sent")
    try:
        differences = await read_back(project, changes, network, where=where)
    except BadInput as error:
        differences, unrecorded = (), unrecorded or say(reason(error))
    if differences and not unrecorded:
        unrecorded = _complete(project, number, "partly")
    return Sent(server, at, tuple(changes), differences, unrecorded)


def _complete(project: Project, number: int, state: SendState, words: str = "") -> str:
    """Tell the journal what became of an update; why that could not be done, empty where it could."""
    try:
        with project.journal() as journal:
            journal.complete_change(number, state, words)
    except BadInput as error:
        return say(reason(error))
    return ""


def settle(project: Project, now: float) -> list[str]:
    """Find out, by what was last seen, what became of updates whose answer was lost; a sentence for each.

    Only a check from after the update tells.
    """
    notes = []
    with project.journal() as journal:
        for update in journal.changes(project.domain, "about", "unknown"):
            if not _seen_since(project, update):
                continue
            state = became_of(update, project.zone_at(update.where))
            journal.complete_change(update.id, state)
            notes.append(say(msg(f"lost-update.{state}", at=update.at)))
    return notes


def _seen_since(project: Project, update: Noted) -> bool:
    """Whether a check from after the update tells what became of it."""
    if update.where != project.side_now:
        compared = project.evidence.compared
        return compared is not None and compared.held and compared.at >= update.at
    survey = project.evidence.survey
    unknown = any(each.key in project.case.unknown for each in update.sets)
    return survey is not None and survey.at >= update.at and not unknown


async def read_back(
    project: Project, changes: Sequence[Change], network: Network, attempts: int = 4, where: Where = "DNS host"
) -> tuple[Difference, ...]:
    """What the authoritative servers give differently. Secondary servers get a few moments to follow."""
    driver = Driver(network, Session(Asker(network)))  # each check queries again
    counts = where == project.side_now
    servers = await servers_of(driver, project, where)
    found: tuple[Difference, ...] = ()
    seen: list[RecordSet] = []
    for attempt in range(attempts):
        found, seen = await _compare(driver.walker.asker, servers, changes)
        if not found or attempt == attempts - 1:
            break
        await network.clock.sleep(2.0 * (attempt + 1))
    with project.journal() as journal:
        journal.record_contents(network.clock.now(), seen, "zone" if counts else "new")
    return found


async def servers_of(driver: Driver, project: Project, where: Where) -> Sequence[Server]:
    """The nameservers of the zone that is edited there. Raises CouldNotCheck."""
    return await (_delegated(driver, project) if where == project.side_now else _of_new_side(driver, project))


async def _delegated(driver: Driver, project: Project) -> Sequence[Server]:
    cut = await driver.drive(found_zone(project.domain))
    if not isinstance(cut, Cut):
        raise CouldNotCheck(msg("send.delegated", why=of_trouble(cut)), msg("send.delegated-2"))
    return cut.servers


async def _of_new_side(driver: Driver, project: Project) -> Sequence[Server]:
    """The servers that are to take the domain over, by their names."""
    over = project.wanted.hand_over
    names = over.servers if over else ()
    port = driver.network.dns_port
    found = {name: (await driver.walker.addresses(name))[0] for name in names}
    return [Server(each, port, name) for name in names for each in driver.network.usable(found[name])]


async def _compare(
    asker: Asker, servers: Sequence[Server], changes: Sequence[Change]
) -> tuple[tuple[Difference, ...], list[RecordSet]]:
    """What differs from what was sent, and the sets that every server returns as they were sent."""
    asks = [(Question(change.name, change.type), server) for change in changes for server in servers]
    each_change = [change for change in changes for _ in servers]
    found = []
    same: dict[Key, RecordSet] = {}
    for change, (_, server), answer in zip(each_change, asks, await asker.ask_all(asks), strict=True):
        if not answer.usable:
            why = trouble_words(answer.trouble) if answer.trouble else answer.rcode or answer.outcome
            found.append(Difference(server.name, change, (), why))
            continue
        given = answer.found(change.name, change.type)
        if not DesiredSet(change.name, change.type, change.values, change.deleted).met_by(given):
            found.append(Difference(server.name, change, given.values if given else ()))
        else:
            same[change.name, change.type] = given or RecordSet(change.name, change.type, change.ttl, ())
    differing = {(each.change.name, each.change.type) for each in found}
    return tuple(found), [record for key, record in same.items() if key not in differing]
