"""Small zones and briefs written as text, for tables of cases."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from homepath.core.assess.assess import assess
from homepath.core.assess.draft import enter_act
from homepath.core.dns.names import Name
from homepath.core.dns.records import RecordSet, Zone
from homepath.core.dns.values import canonical
from homepath.core.files.brief_file import read_brief
from homepath.core.files.sheet import Job, jobs
from homepath.core.model.brief import Brief, Notation, Site
from homepath.core.model.evidence import Content, Evidence, Source
from homepath.core.model.steps import Assessment
from homepath.core.model.survey import Seen, Survey
from homepath.core.model.visits import Hsts
from homepath.core.plan.plan import make_plan
from homepath.core.site.case import Case
from homepath.core.site.choices import Present
from homepath.core.site.wanted import work_out
from homepath.practice.scene_file import load_scene

DOMAIN = "tidewick-kiln.example."
TARGET = "site-20817.edge.bricklark.example."
ADDRESSES = ("192.0.2.10", "192.0.2.44")
PARKING = Notation("Mossgate", parking_addresses=("198.51.100.7",), parking_targets=("parking.mossgate.example.",))
SITE = Site("tidewick-kiln.example", "www", "b", values={"site": "20817", "code": "tk-4471"})
BRIEF: Brief = read_brief(load_scene("first-site").files["bricklark.brief.toml"], "b")

BASE = """
@ SOA ns1.mossgate.example. dns.mossgate.example. 1 7200 900 1209600 900
@ NS ns1.mossgate.example.
@ MX 10 mx1.mossgate.example.
@ TXT "v=spf1 mx -all"
"""
RIGHT = BASE + "\n".join(f"@ A {a}" for a in ADDRESSES) + f'\nwww CNAME {TARGET}\n@ TXT "bricklark-owner=tk-4471"\n'


def zone(text: str, origin: str = DOMAIN, ttl: int = 3600) -> Zone:
    """One record a line: `name type value`, or `name ttl type value`."""
    sets = []
    for line in filter(None, (line.strip() for line in text.splitlines())):
        name, rest = line.split(None, 1)
        own = ttl
        if rest.split()[0].isdigit():
            number, rest = rest.split(None, 1)
            own = int(number)
        rrtype, value = rest.split(None, 1)
        owner = origin if name == "@" else name if name.endswith(".") else f"{name}.{origin}"
        sets.append(RecordSet(owner, rrtype, own, (canonical(rrtype, value, origin),)))
    return Zone.of(origin, sets)


def case(
    text: str,
    site: Site = SITE,
    brief: Brief = BRIEF,
    outside: str = "",
    notation: Notation = PARKING,
    survey: Survey | None = None,
    history: Sequence[Content] = (),
    hsts: Mapping[Name, Hsts] | None = None,
) -> Case:
    here = zone(text)
    signed = bool(survey and survey.delegation and survey.delegation.signed)
    wanted = work_out(site, brief, notation, Present(here, signed))
    return Case(wanted, here, zone(outside, "."), notation, survey, tuple(history), hsts or {})


def sheet_jobs(made: Case, notation: Notation) -> tuple[Job, ...]:
    """The sheet of everything that is left to type."""
    plan = make_plan(made)
    purposes = {(change.name, change.type): change.purpose for change in plan.changes}
    return jobs(enter_act(plan.work), made.domain, notation, made.zone, purposes.__getitem__)


START = 1772442000.0
"""The moment of the first look."""


def stands(made: Case, now: float = START, **more: Any) -> Assessment:
    """Where a domain stands. `more`: further evidence; without a history the zone was seen at the start."""
    history = made.history or tuple(contents_of_zone(made, START))
    made = replace(made, history=history, survey=made.survey or survey(made, START))
    evidence = Evidence(survey=made.survey, contents=history, **more)
    return assess(made, make_plan(made), evidence, now)


def survey(made: Case, at: float) -> Survey:
    return Survey(made.domain, at, (), None, tuple(Seen(record, ("here",)) for record in made.zone))


def contents_of_zone(made: Case, at: float) -> list[Content]:
    """The zone as it was seen at one moment, by its servers and by a survey."""
    sources: tuple[Source, ...] = ("zone", "survey")
    return [Content(record, at, at, source) for source in sources for record in made.zone]


def kinds(made: Case, **more: Any) -> list[str]:
    """The kinds of all steps that are not left out."""
    return [step.kind for step in stands(made, **more).steps if step.number is not None]


def contents(text: str, first_at: float, last_at: float | None = None, source: Source = "zone") -> list[Content]:
    """Every set of a zone as it was seen from one moment to another."""
    return [Content(record, first_at, first_at if last_at is None else last_at, source) for record in zone(text)]


def for_primary(primary: str) -> Site:
    return replace(SITE, primary=primary)
