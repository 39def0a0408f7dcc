"""A visit as text."""

from __future__ import annotations

from homepath.cli.show.findings import show_findings
from homepath.cli.show.paper import Paper
from homepath.cli.show.times import until
from homepath.core.model.names import shown
from homepath.core.model.visits import Certificate, Hop, Visit, Way


def show_visit(sheet: Paper, visit: Visit) -> None:
    """The verdict, then each way from the typed address to where it ends, with its certificate."""
    arrived = sum(way.state == "arrived" for way in visit.ways)
    sheet.say(_verdict(visit, arrived))
    sheet.heading("Ways in")
    for way in visit.ways:
        sheet.out.write(f"  {sheet.state(way.state, 18)} {way.url}\n")
        for hop in way.hops:
            sheet.say(_hop(hop), 21)
        if promise := next((hop.promise for hop in way.hops if hop.promise), ""):
            sheet.say(f"browsers are told to use only https here: {promise}", 21)
        if way.certificate:
            sheet.say(_certificate(way.certificate, way), 21)
    show_findings(sheet, visit.findings)
    if visit.may_wait_for:
        sheet.heading("What the builder may be waiting for, most likely first")
        for number, each in enumerate(visit.may_wait_for, 1):
            end = f" ({until(each.until, visit.at)})" if each.until is not None else ""
            sheet.say(f"{number}. {each.what}{end}", 2)
            sheet.say(each.do, 5)


def _verdict(visit: Visit, arrived: int) -> str:
    name, count = shown(visit.domain), len(visit.ways)
    if visit.verdict == "arrived":
        return f"Arrived: all {count} ways into {name} end at {visit.primary_url}"
    if visit.verdict == "waiting":
        return f"Waiting, {until(visit.wait_until, visit.at)}: {arrived} of {count} ways end at {visit.primary_url}"
    return f"Not right yet: {arrived} of {count} ways into {name} end at {visit.primary_url}"


def _hop(hop: Hop) -> str:
    at = f" at {hop.address}" if hop.address else ""
    if hop.status is None:
        return f"no answer{at}: {hop.detail}"
    if hop.location:
        return f"{hop.status}{at}, on to {hop.location}"
    return f"{hop.status}{at}"


def _certificate(seen: Certificate, way: Way) -> str:
    if seen.state == "none":
        return f"no certificate ({seen.detail})"
    ends = ""
    if seen.not_after is not None:
        from homepath.core.model.times import rfc3339

        ends = f", until {rfc3339(seen.not_after)[:10]}"
    detail = f" ({seen.detail})" if seen.detail else ""
    return f"certificate {seen.state}: by {seen.issuer}{ends}{detail}"
