"""A survey as text."""

from __future__ import annotations

from collections.abc import Sequence

from homepath.cli.show.findings import show_findings, show_site
from homepath.cli.show.paper import Paper
from homepath.core.dns.names import shown
from homepath.core.message import msg
from homepath.core.model.domain import shown_unicode
from homepath.core.model.findings import Finding
from homepath.core.model.plan import PURPOSES
from homepath.core.model.steps import Assessment
from homepath.core.model.survey import Survey
from homepath.core.model.times import rfc3339
from homepath.core.site.case import Case
from homepath.core.wording.say import say, trouble_words
from homepath.core.wording.times import lasting, spelled
from homepath.core.wording.words import HEADINGS


def show_survey(sheet: Paper, case: Case, survey: Survey, findings: Sequence[Finding], assessment: Assessment) -> None:
    """Sentences first, then the records by purpose, then what was found and what could not be seen."""
    agree = sum(server.state in ("agrees", "slow") for server in survey.servers)
    name = shown_unicode(survey.domain)
    spelled = f" (in DNS: {shown(survey.domain)})" if name != shown(survey.domain) else ""
    sheet.say(f"What is there now for {name}{spelled}. {_servers_words(len(survey.servers), agree)}")
    show_site(sheet, assessment)
    if survey.delegation:
        servers = " and ".join(map(shown, survey.delegation.servers))
        sheet.say(f"Change entries only at whoever runs {servers}.")
        signed = "signed (DNSSEC)" if survey.delegation.signed else "not signed"
        if survey.delegation.signatures == "broken":
            sheet.say(f"Its signatures (DNSSEC) do not hold: {survey.delegation.trouble}.")
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
    groups: list[tuple[str, list[tuple[str, str, str, str]]]] = []
    for kind in PURPOSES:
        rows = [
            (shown(seen.record.name), seen.record.type, lasting(seen.record.ttl), value)
            for seen in survey.records
            if case.purpose(seen.record)[0] == kind and seen.record.type != "SOA"
            for value in seen.record.values
        ]
        groups.append((HEADINGS[kind], rows))
    widths = [max((len(row[at]) for _, rows in groups for row in rows), default=0) for at in range(3)]
    for title, rows in groups:
        if rows:
            sheet.heading(title)
            sheet.table([(*(cell.ljust(w) for cell, w in zip(row[:3], widths, strict=True)), row[3]) for row in rows])
    show_findings(sheet, findings)
    if survey.blind_spots or survey.unknown:
        sheet.heading("Not seen")
        unseen: dict[str, list[str]] = {}
        for each in survey.unknown:
            unseen.setdefault(trouble_words(each.trouble), []).append(f"{each.type} at {shown(each.name)}")
        for why, keys in unseen.items():
            sheet.say(f"{', '.join(keys)}: {why}. Whether anything stands there is not known.", 2)
        for spot in survey.blind_spots:
            sheet.say(spot, 2)
    sheet.blank()
    sheet.say("Next: homepath next")


def _servers_words(count: int, agree: int) -> str:
    if count == agree:
        if count == 1:
            return "It has one name server."
        return f"{'Both' if count == 2 else f'All {spelled(count)}'} name servers say the same."
    return f"{agree} of its {count} name servers say the same."
