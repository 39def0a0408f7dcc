"""A survey as text."""

from __future__ import annotations

from collections.abc import Sequence

from homepath.cli.show.findings import show_findings
from homepath.cli.show.paper import Paper
from homepath.core.model.findings import Finding
from homepath.core.model.names import shown
from homepath.core.model.plan import PURPOSES
from homepath.core.model.survey import Survey
from homepath.core.model.times import lasting, rfc3339
from homepath.core.wanted.case import Case

_TITLES = {
    "website": "Website",
    "mail": "Mail",
    "mail authentication": "Mail authentication",
    "proof of ownership": "Proof of ownership",
    "certificates": "Certificates",
    "delegation": "Name servers",
    "other": "The rest",
}


def show_survey(sheet: Paper, case: Case, survey: Survey, findings: Sequence[Finding]) -> None:
    """Sentences first, then the records by purpose, then what was found and what could not be seen."""
    agree = sum(server.state == "agrees" for server in survey.servers)
    sheet.say(f"{shown(survey.domain)} is served by {len(survey.servers)} name servers; {agree} of them agree.")
    if survey.delegation:
        signed = "signed with DNSSEC" if survey.delegation.signed else "not signed"
        if survey.delegation.signatures == "broken":
            signed += f", but its signatures do not hold ({survey.delegation.trouble})"
        above = shown(survey.delegation.parent) if survey.delegation.parent != "." else "the root zone"
        sheet.say(f"It is delegated by {above} for {lasting(survey.delegation.ttl)} at a time, and {signed}.")
        servers = ", ".join(map(shown, survey.delegation.servers))
        sheet.say(f"Its records are edited where these name servers are run, and nowhere else: {servers}.")
    if survey.registration:
        ends = f", until {rfc3339(survey.registration.expires)[:10]}" if survey.registration.expires else ""
        states = ", ".join(survey.registration.statuses) or "none given"
        sheet.say(f"It is registered at {survey.registration.registrar}{ends}; status: {states}.")
    for server in survey.servers:
        if server.state != "agrees":
            sheet.say(f"{shown(server.name)} ({server.address}) {server.state}: {server.detail}", 2)
    for kind in PURPOSES:
        rows = [
            (shown(seen.record.name), seen.record.type, lasting(seen.record.ttl), value)
            for seen in survey.records
            if case.purpose(seen.record)[0] == kind and seen.record.type != "SOA"
            for value in seen.record.values
        ]
        if rows:
            sheet.heading(_TITLES[kind])
            sheet.table(rows)
    show_findings(sheet, findings)
    if survey.blind_spots:
        sheet.heading("Not seen")
        for spot in survey.blind_spots:
            sheet.say(spot, 2)
