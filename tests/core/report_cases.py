"""Pages about domains that want to do harm: record texts, headers, certificates and names that are code."""

from __future__ import annotations

from dataclasses import replace

from homepath.core.files.sheet import Job
from homepath.core.model.evidence import Evidence
from homepath.core.model.findings import Finding
from homepath.core.model.survey import Delegation, Registration, ServerSeen
from homepath.core.model.visits import Certificate, Hop, Visit, Way
from homepath.core.plan.plan import make_plan
from homepath.core.propagation.readings import CheckShares
from homepath.core.site.case import Case
from homepath.report.content import for_owner, for_support
from homepath.report.page import render
from homepath.report.records import Facts
from tests.core.cases import DOMAIN, PARKING, RIGHT, START, case, contents_of_zone, sheet_jobs, stands, survey

CODE = '"><script>document.title="broken"</script><img src=x onerror=document.title="broken">\u202e\x1b[2J'
PATH = "/home/somebody/secret/zone.txt"


def hostile(text: str = RIGHT) -> Facts:
    """Everything that can come from outside holds code; a survey read a file of this machine."""
    quoted = CODE.replace('"', "'").replace("\x1b", "").replace("\u202e", "")
    made = case(text + f'\n@ TXT "{quoted}"\nmail CNAME evil.example.\n')
    seen = survey(made, START)
    records = tuple(replace(each, sources=(f"file {PATH}",)) for each in seen.records)
    seen = replace(
        seen,
        records=records,
        servers=(ServerSeen("ns1.mossgate.example.", "203.0.113.53", "differs", 7, CODE),),
        delegation=Delegation("example.", ("ns1.mossgate.example.",), 3600),
        registration=Registration(CODE, (CODE,), START + 86400 * 40, (), PATH),
        blind_spots=(f"{PATH} was read",),
    )
    made = replace(made, survey=seen, history=tuple(contents_of_zone(made, START)))
    bad = Certificate("untrusted", False, (CODE,), CODE, START + 86400, CODE)
    url = "https://www.tidewick-kiln.example/"
    ways = (
        Way(url, url, "wrong-destination", (Hop(url, 302, f"javascript:{CODE}", "192.0.2.10", CODE, bad, CODE),), bad),
        Way(url.replace("s:", ":"), None, "no-answer", (Hop(url.replace("s:", ":"), None, None, None, CODE),), None),
    )
    finding = Finding("wrong-destination", "blocker", DOMAIN, "", f"it says {CODE}", f"do {CODE}", "x")
    visit = Visit(DOMAIN, START, url, "broken", ways, (finding,))
    return facts_of(made, visit=visit)


def facts_of(made: Case, now: float = START, visit: Visit | None = None, looks: tuple[CheckShares, ...] = ()) -> Facts:
    plan = make_plan(made)
    assessment = stands(made, now, visit=visit)
    if visit is not None and visit.findings:
        assessment = replace(assessment, because=(*assessment.because, *visit.findings), notes=visit.findings)
    evidence = Evidence(survey=made.survey, contents=made.history, visit=visit)
    jobs: tuple[Job, ...] = sheet_jobs(made, PARKING) if plan.work else ()
    return Facts(
        assessment=assessment, plan=plan, case=made, evidence=evidence, builder="Bricklark", host=f"Moss{CODE}",
        now=now, jobs=jobs, looks=looks,
    )  # fmt: skip


def pages(facts: Facts) -> dict[str, str]:
    """Both pages of one domain."""
    page = for_owner(facts)
    support = {"page": page, "support": for_support(facts)}
    return {"owner": render("owner", {"page": page}), "support": render("support", support)}
