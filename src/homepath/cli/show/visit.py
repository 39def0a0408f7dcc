"""A visit as text: each way one line from the typed address to where it ends, its certificate beside it."""

from __future__ import annotations

from urllib.parse import urlsplit

from homepath.cli.show.findings import show_findings
from homepath.cli.show.paper import Paper
from homepath.cli.show.times import until
from homepath.core.model.hsts import read_hsts
from homepath.core.model.names import shown
from homepath.core.model.times import rfc3339
from homepath.core.model.visible import visible
from homepath.core.model.visits import Certificate, Hop, Visit, Way
from homepath.core.web.hops import same_url

STATE = 18
_FREE = {
    "serving": "still serves the site beside the domain",
    "redirecting": "leads elsewhere",
    "gone": "serves nothing any more",
    "unknown": "answers in a way that says nothing",
}


def show_visit(sheet: Paper, visit: Visit) -> None:
    """The verdict, the ways, what was found, and what the builder may be waiting for."""
    arrived = sum(way.state == "arrived" for way in visit.ways)
    sheet.say(_ahead(visit) if visit.ahead else _verdict(visit, arrived))
    sheet.heading("Ways in" if not visit.ahead else "Ways in, at the builder's edge")
    for way in visit.ways:
        _show_way(sheet, way)
    if visit.free_address:
        sheet.blank()
        sheet.say(f"The builder's free address {_FREE[visit.free_address]}.")
    show_findings(sheet, visit.findings)
    if visit.may_wait_for:
        sheet.heading("What the builder may be waiting for, most likely first")
        for number, each in enumerate(visit.may_wait_for, 1):
            end = f" This wait lasts {until(each.until, visit.at)}." if each.until is not None else ""
            sheet.say(f"{number}. {each.what}{end}", 2)
            sheet.say(each.do, 5)


def _verdict(visit: Visit, arrived: int) -> str:
    name, count = shown(visit.domain), len(visit.ways)
    if visit.verdict == "arrived":
        return f"Arrived: all {count} ways into {name} end at {visit.primary_url}"
    if visit.verdict == "waiting":
        return f"Waiting, {until(visit.wait_until, visit.at)}: {arrived} of {count} ways end at {visit.primary_url}"
    return f"Not right yet: {arrived} of {count} ways into {name} end at {visit.primary_url}"


def _ahead(visit: Visit) -> str:
    """What the edge says to visitors who are not sent there yet."""
    name = shown(visit.domain)
    if any(way.hops[-1].status in (404, 410, 421) for way in visit.ways):
        return f"The builder does not know every name of {name} yet: connect the domain in its settings first."
    if visit.verdict == "arrived":
        return f"Ready: the builder serves {name} with a good certificate, before DNS leads there."
    if any(way.hops[0].status is not None for way in visit.ways):
        return f"The builder knows {name}, but not everything is ready there."
    return f"The builder's edge does not answer for {name}."


def _show_way(sheet: Paper, way: Way) -> None:
    line = visible(_line(way))
    state = f"  {sheet.state(way.state, STATE)} "
    left = 2 + STATE + 1
    beside = _certificate(way.certificate) if way.certificate else ""
    if left + len(line) <= sheet.width:
        together = left + len(line) + 2 + len(beside) <= sheet.width
        sheet.out.write(state + line + (f"  {visible(beside)}" if beside and together else "") + "\n")
        beside = "" if together else beside
    else:  # a narrow terminal, or a long way: one hop a line
        first, *more = _parts(way)
        sheet.out.write(state + visible(first) + "\n")
        for part in more:
            sheet.out.write(" " * (left + 2) + visible(part) + "\n")
    if beside:
        sheet.say(beside, left)
    if said := next((hop.hsts for hop in way.hops if hop.hsts), ""):
        read = read_hsts(said)
        sheet.say(f"browsers are told to use only https here {read.words if read else f'({said})'}", left)
    for address in way.addresses if any(address.opens for address in way.addresses) else ():
        if not address.opens:
            sheet.say(
                f"at {address.address}: {address.detail or (address.certificate and address.certificate.detail)}", left
            )


def _parts(way: Way) -> list[str]:
    """The typed address, then each step: its status and where it leads."""
    parts = [way.url]
    for hop, after in zip(way.hops, [*way.hops[1:], None], strict=True):
        if after is not None:
            parts.append(f"─{'page' if hop.by_page else hop.status}→ {_short(after.url, hop.url)}")
        else:
            again = any(same_url(hop.url, before.url) for before in way.hops[:-1])
            parts[-1] += f"  {hop.status}, round again" if again and hop.location else f"  {_end(hop)}"
    return parts


def _line(way: Way) -> str:
    return " ".join(_parts(way))


def _short(url: str, before: str) -> str:
    """`itself` where nothing changed, `https` where only that did, else the whole address."""
    if same_url(url, before):
        return "itself"
    one, two = urlsplit(before), urlsplit(url)
    only_scheme = one.scheme != two.scheme and (one.netloc, one.path or "/", one.query) == (
        two.netloc,
        two.path or "/",
        two.query,
    )
    return f"{two.scheme}" if only_scheme else url


def _end(hop: Hop) -> str:
    if hop.status is None:
        return f"no answer: {hop.detail.removeprefix(f'{hop.address}: ')}"
    return str(hop.status) + (f" to {hop.location}" if hop.location else "")


def _certificate(seen: Certificate) -> str:
    if seen.state == "none":
        return f"no certificate ({seen.detail})"
    ends = f", until {rfc3339(seen.not_after)[:10]}" if seen.not_after is not None else ""
    detail = f" ({seen.detail})" if seen.detail else ""
    return f"certificate {seen.state}: by {seen.issuer}{ends}{detail}"
