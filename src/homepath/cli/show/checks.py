"""What survey, visit and compare saw, as text."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from urllib.parse import urlsplit

from homepath.cli.show.paper import Paper, domain_causes, show_findings, show_notes, show_site
from homepath.core.dns.names import Name, shown
from homepath.core.findings.registry import kind_of
from homepath.core.message import msg
from homepath.core.model.acts import CheckAgain, Decide, Wait
from homepath.core.model.domain import shown_unicode
from homepath.core.model.findings import Finding
from homepath.core.model.plan import PURPOSES, Purpose
from homepath.core.model.steps import Assessment
from homepath.core.model.survey import Compared, RecordCompared, SideServer, Survey
from homepath.core.model.times import rfc3339
from homepath.core.model.visible import visible
from homepath.core.model.visits import Visit, read_hsts
from homepath.core.site.case import Case
from homepath.core.wording.overview import act_parts, place_words, wait_words
from homepath.core.wording.say import say, trouble_words
from homepath.core.wording.times import anded, lasting, many, nothing_to_do, sentence_start, spelled
from homepath.core.wording.visit_words import (
    FREE,
    ahead_words,
    certificate_words,
    certificates_of,
    verdict_words,
    visitor_gets,
)
from homepath.core.wording.words import HEADINGS


def show_survey(sheet: Paper, case: Case, survey: Survey, findings: Sequence[Finding], assessment: Assessment) -> None:
    """Sentences first, then the records by purpose, then what was found and what could not be seen."""
    agree = sum(server.state in ("agrees", "slow") for server in survey.servers)
    name = shown_unicode(survey.domain)
    spelled = f" (in DNS: {shown(survey.domain)})" if name != shown(survey.domain) else ""
    sheet.say(f"What is there now for {name}{spelled}. {_servers_words(len(survey.servers), agree)}")
    show_site(sheet, assessment)
    if survey.delegation:
        servers = anded(map(shown, survey.delegation.servers))
        sheet.say(f"Change records only at the DNS host that runs {servers}.")
        words = {True: "signed (DNSSEC)", False: "not signed", None: "whether it is signed (DNSSEC) is not known"}
        signed = words[survey.delegation.signed]
        if survey.delegation.signatures == "broken":
            sheet.say(f"Its DNSSEC signatures are not valid: {say(survey.delegation.trouble)}.")
        above = shown(survey.delegation.parent) if survey.delegation.parent != "." else "the root zone"
        sheet.say(f"Details: delegated by {above} for {lasting(survey.delegation.ttl)}, {signed}.")
    if survey.registration:
        ends = f", until {rfc3339(survey.registration.expires)[:10]}" if survey.registration.expires else ""
        states = ", ".join(survey.registration.statuses) or "none given"
        sheet.say(f"It is registered at {survey.registration.registrar}{ends}; status: {states}.")
    for server in survey.servers:
        if server.state != "agrees":
            sheet.say(
                f"{shown(server.name)} ({server.address}), {say(msg(f'server.{server.state}'))}: {say(server.detail)}",
                2,
            )
    listed: dict[Purpose, list[tuple[str, str, str, str]]] = {kind: [] for kind in PURPOSES}
    for seen in survey.records:
        record = seen.record
        for value in record.values if record.type != "SOA" else ():
            row = (shown(record.name), record.type, lasting(record.ttl), value)
            listed[case.purpose(replace(record, values=(value,)))[0]].append(row)
    groups = [(HEADINGS[kind], rows) for kind, rows in listed.items()]
    widths = [max((len(row[at]) for _, rows in groups for row in rows), default=0) for at in range(3)]
    for title, rows in groups:
        if rows:
            sheet.heading(title)
            sheet.table([(*(cell.ljust(w) for cell, w in zip(row[:3], widths, strict=True)), row[3]) for row in rows])
    show_findings(sheet, findings, assessment)
    if survey.blind_spots or survey.unknown:
        sheet.heading("Not seen")
        unseen: dict[str, list[str]] = {}
        for each in survey.unknown:
            unseen.setdefault(trouble_words(each.trouble), []).append(f"{each.type} at {shown(each.name)}")
        for why, keys in unseen.items():
            sheet.say(f"{', '.join(keys)}: {why}. What is there is not known.", 2)
        for spot in survey.blind_spots:
            sheet.say(spot, 2)
    sheet.blank()
    sheet.say("Next: homepath next")


def _servers_words(count: int, agree: int) -> str:
    if count == agree:
        if count == 1:
            return "It has one nameserver."
        return f"{'Both' if count == 2 else f'All {spelled(count)}'} nameservers agree."
    return f"{agree} of its {count} nameservers agree."


def show_visit(sheet: Paper, visit: Visit, assessment: Assessment, builder: str, verbose: bool = False) -> None:
    """The verdict, every entry point, each certificate once, the findings, and what the builder may be waiting for."""
    show_site(sheet, assessment)
    act, step = assessment.act, assessment.step
    at_builder = step is not None and step.place == "builder"
    if visit.ahead or visit.expected or visit.verdict != "waiting" or at_builder:
        sheet.say(ahead_words(visit) if visit.ahead else verdict_words(visit))
    if isinstance(act, Wait) and step is not None and not visit.ahead:
        sheet.say(nothing_to_do(act.until, visit.at, act.bounded))
        sheet.say(wait_words(act, step, builder), 2)
    sheet.blank()
    if not visit.ahead and visit.verdict != "arrived" and not visit.expected:
        sheet.say(f"Each must end at {visit.primary_url} with a certificate.")
        sheet.blank()
    rows = [(entry.url, visitor_gets(entry, assessment.undoing)) for entry in visit.ways]
    sheet.table(rows, header=("typed", "now" if not visit.ahead else "at the builder's servers"))
    _show_certificates(sheet, visit)
    _show_hsts(sheet, visit)
    _show_addresses(sheet, visit)
    found = assessment.levelled(visit.findings)
    waited = [each for each in found if kind_of(each).waited_for and each.level == "note"]
    rest = [each for each in found if each not in waited]
    domain = domain_causes(assessment)  # the addresses work again once this is fixed
    causes = [] if visit.ahead else [each for each in assessment.blockers if each not in found]
    show_findings(sheet, domain or [*causes, *rest], assessment)
    if domain:
        show_notes(sheet, rest)
    show_notes(sheet, waited, "Worth knowing" if causes else "Why")
    if visit.free_address:
        sheet.blank()
        sheet.say(f"The builder's free URL {FREE[visit.free_address]}.")
    asked = step is not None and step.kind in ("claim", "check-again") and not isinstance(act, Wait | CheckAgain)
    if step is not None and asked and not (visit.ahead or visit.expected):
        sheet.heading(f"What helps, {place_words(assessment, step, builder, '')}")
        parts = [part.text for part in act_parts(act, step) if part.text]
        for words in parts[:1] if isinstance(act, Decide) else parts:
            sheet.say(words, 2)
    elif may_wait := [
        each
        for each in visit.may_wait_for
        if verbose or (at_builder and visit.verdict != "arrived" and not (isinstance(act, Wait) and each.until))
    ]:
        sheet.heading("What the builder may be waiting for, most likely first")
        for number, each in enumerate(may_wait, 1):
            sheet.hang(f"{number}  ", each.what)
            sheet.say(each.do, 5)
    sheet.blank()
    sheet.say("Then run: homepath next" if isinstance(act, Wait) else "Next: homepath next")


def _show_certificates(sheet: Paper, visit: Visit) -> None:
    """What each name shows, once."""
    groups: dict[str, list[str]] = {}
    for host, certificate in certificates_of(visit).items():
        groups.setdefault(certificate_words(certificate), []).append(host)
    if groups:
        sheet.heading("Certificates")
        sheet.table([(anded(hosts), line) for line, hosts in groups.items()])


def _show_hsts(sheet: Paper, visit: Visit) -> None:
    promises: dict[str, str] = {}
    for way in visit.ways:
        for hop in way.hops:
            if hop.hsts:
                read = read_hsts(hop.hsts)
                promises[urlsplit(hop.url).hostname or ""] = say(read.words) if read else f"({hop.hsts})"
    for host, words in promises.items():
        sheet.blank()
        sheet.say(f"{host} tells browsers to use only https (HSTS) {words}.")


def _show_addresses(sheet: Paper, visit: Visit) -> None:
    for way in visit.ways:
        for address in way.addresses if any(each.opens for each in way.addresses) else ():
            if not address.opens:
                why = address.detail or (address.certificate.detail if address.certificate else "")
                sheet.say(visible(f"{way.url} at {address.address}: {say(why)}"), 2)


SENTENCES = {
    "ready": "Ready: each new nameserver has every record that must move. Switching loses nothing.",
    "not-ready": "Not ready: do not change the nameservers yet.",
    "unknown": "Not known: not every server could be asked. Do not change the nameservers yet.",
}


def show_compared(sheet: Paper, found: Compared, assessment: Assessment, former: bool, builder: str) -> None:
    """The verdict, what would be lost, what is as it should be, the servers. `former`: the switch is over, and the old
    side is the one of before."""
    name = shown_unicode(found.domain)
    show_site(sheet, assessment)
    if former:
        sheet.say(f"{name} already switched nameservers. Its former nameservers, compared with the current ones:")
    else:
        sheet.say(f"{name}: the current and the new nameservers, queried one by one.")
    sheet.say(SENTENCES[found.verdict] if not former else _former(found))
    serious = [each for each in found.findings if each.level != "note" and each.code != "left-at-the-old"]
    show_notes(sheet, serious, "In the way" if any(f.level == "blocker" for f in serious) else "Worth knowing first")
    left = [each for each in found.records if each.hinders]
    if left and not former:
        sheet.heading(f"To correct at the new nameservers: {many(len(left), 'record', 'records')}")
        for each in left:
            _show_left(sheet, each, builder)
    _show_right(
        sheet,
        found.domain,
        [each for each in found.records if not each.hinders and each.state in ("same", "as-planned")],
    )
    extra = [each for each in found.records if each.state == "extra" and not each.hinders]
    if extra:
        sheet.heading("Only at the new nameservers, and harmless")
        sheet.table([(f"{each.type} at {shown(each.name)}", "; ".join(each.new)) for each in extra])
    _show_servers(sheet, found)
    show_notes(sheet, [each for each in found.findings if each.level == "note"])
    sheet.blank()
    sheet.say("Next: homepath next")


def _former(found: Compared) -> str:
    alive = any(each.state == "holds" for each in found.old)
    return "The old zone is still there." if alive else "The old zone was deleted: there is nothing to go back to."


def _show_left(sheet: Paper, each: RecordCompared, builder: str) -> None:
    word = {"missing": "missing", "differs": "differs", "extra": "must go"}.get(each.state, each.state)
    sheet.blank()
    sheet.say(f"{word}: {each.type} at {shown(each.name)}", 2)
    _values(sheet, "old", each.old, each.old_ttl)
    _values(sheet, "new", each.new, each.new_ttl)
    if each.theirs:
        sheet.say(f"{builder} enters that automatically.", 4)
    elif each.wanted and set(each.wanted) != set(each.old):
        _values(sheet, "wanted", each.wanted, each.wanted_ttl)
    if each.at and each.new:
        sheet.say(f"seen at {', '.join(shown(name) for name in each.at)}", 4)


def _values(sheet: Paper, word: str, values: Sequence[str], ttl: int | None) -> None:
    label = f"{word}, {lasting(ttl)}" if ttl is not None and values else word
    for number, value in enumerate(values or ["(none)"]):
        sheet.value(f"{(label if number == 0 else '').ljust(17)}  {value}", 4)


def _show_right(sheet: Paper, zone: Name, records: Sequence[RecordCompared]) -> None:
    if not records:
        return
    sheet.heading("Correct")
    rows = []
    for purpose in PURPOSES:
        for each in records:
            if each.purpose == purpose:
                word = "the same" if each.state == "same" else "as planned"
                title = "The zone itself" if each.type in ("SOA", "NS") and each.name == zone else HEADINGS[purpose]
                rows.append((title, f"{each.type} at {shown(each.name)}", word))
    shown_rows = rows[:40]
    sheet.table(shown_rows)
    if len(rows) > len(shown_rows):
        sheet.say(f"and {len(rows) - len(shown_rows)} more (--json lists all)", 2)


def _show_servers(sheet: Paper, found: Compared) -> None:
    sheet.heading("Servers")
    rows = [("old side", *_server(each)) for each in found.old]
    rows += [("new side", *_server(each)) for each in found.new]
    sheet.table(rows)


def _server(each: SideServer) -> tuple[str, str, str]:
    serial = f"serial {each.serial}" if each.serial is not None else ""
    state = f"server.{each.state}"
    detail = f": {say(each.detail)}" if each.detail and each.state not in ("holds",) else ""
    more = f", {serial}" if serial else ""
    return (shown(each.name), each.address or "(no address)", sentence_start(f"{say(msg(state))}{more}{detail}"))
