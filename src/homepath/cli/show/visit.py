"""A visit as text: where each typed address ends, why, and what to do or to wait for."""

from __future__ import annotations

from urllib.parse import urlsplit

from homepath.cli.show.findings import show_findings, show_notes, show_site
from homepath.cli.show.paper import Paper
from homepath.core.findings.registry import kind_of
from homepath.core.model.acts import Wait
from homepath.core.model.steps import Assessment
from homepath.core.model.visible import visible
from homepath.core.model.visits import Visit, read_hsts
from homepath.core.wording.act_words import wait_words
from homepath.core.wording.say import say
from homepath.core.wording.times import until
from homepath.core.wording.visit_words import (
    FREE,
    ahead_words,
    certificate_words,
    certificates_of,
    now_words,
    verdict_words,
)


def show_visit(sheet: Paper, visit: Visit, assessment: Assessment, builder: str, verbose: bool = False) -> None:
    """The verdict, the ways, each certificate once, what was found, and what the builder may be waiting for."""
    show_site(sheet, assessment)
    sheet.say(ahead_words(visit) if visit.ahead else verdict_words(visit))
    act, step = assessment.act, assessment.step
    if isinstance(act, Wait) and step is not None and not visit.ahead:
        sheet.say(f"Nothing to do. This wait lasts {until(act.until, visit.at)}.")
        sheet.say(wait_words(act, step, builder), 2)
    sheet.blank()
    if not visit.ahead and visit.verdict != "arrived" and not visit.expected:
        sheet.say(f"Each must end at {visit.primary_url} with a padlock (certificate).")
        sheet.blank()
    rows = [(way.url, now_words(way)) for way in visit.ways]
    sheet.table(rows, header=("typed", "now" if not visit.ahead else "at the builder's edge"))
    _show_certificates(sheet, visit)
    _show_hsts(sheet, visit)
    _show_addresses(sheet, visit)
    found = assessment.levelled(visit.findings)
    waited = [each for each in found if kind_of(each).waited_for and each.level == "note"]
    show_notes(sheet, waited, "Why")
    show_findings(sheet, [each for each in found if each not in waited])
    if visit.free_address:
        sheet.blank()
        sheet.say(f"The builder's free address {FREE[visit.free_address]}.")
    if visit.may_wait_for and (verbose or visit.verdict != "arrived"):
        sheet.heading("What the builder may be waiting for, most likely first")
        for number, each in enumerate(visit.may_wait_for, 1):
            sheet.hang(f"{number}  ", each.what)
            sheet.say(each.do, 5)
    sheet.blank()
    sheet.say("Then type: homepath next" if isinstance(act, Wait) else "Next: homepath next")


def _show_certificates(sheet: Paper, visit: Visit) -> None:
    """What each name shows, once."""
    groups: dict[str, list[str]] = {}
    for host, certificate in certificates_of(visit).items():
        groups.setdefault(certificate_words(certificate), []).append(host)
    if groups:
        sheet.heading("Padlocks (certificates)")
        sheet.table([(" and ".join(hosts), said) for said, hosts in groups.items()])


def _show_hsts(sheet: Paper, visit: Visit) -> None:
    said: dict[str, str] = {}
    for way in visit.ways:
        for hop in way.hops:
            if hop.hsts:
                read = read_hsts(hop.hsts)
                said[urlsplit(hop.url).hostname or ""] = say(read.words) if read else f"({hop.hsts})"
    for host, words in said.items():
        sheet.blank()
        sheet.say(f"{host} tells browsers to come only over https (HSTS) {words}.")


def _show_addresses(sheet: Paper, visit: Visit) -> None:
    for way in visit.ways:
        for address in way.addresses if any(each.opens for each in way.addresses) else ():
            if not address.opens:
                why = address.detail or (address.certificate.detail if address.certificate else "")
                sheet.say(visible(f"{way.url} at {address.address}: {say(why)}"), 2)
