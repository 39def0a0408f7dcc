"""How planning and reading grow. Part of `make bench`; ratios in one run."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable

import dns.name
import dns.zone

from homepath.core.assess.assess import assess
from homepath.core.dns.records import Zone
from homepath.core.files.exports import read_master_file
from homepath.core.model.brief import Brief, BriefRecord, Site
from homepath.core.model.evidence import Content, Evidence
from homepath.core.model.survey import Seen, Survey
from homepath.core.plan.plan import make_plan
from homepath.core.site.case import Case
from homepath.core.site.wanted import work_out

DOMAIN = "tidewick-kiln.example."
SITE = Site("tidewick-kiln.example", "www", "b")
BRIEF = Brief(
    "Bricklark",
    apex=(BriefRecord("A", ("192.0.2.10", "192.0.2.44")),),
    www=(BriefRecord("CNAME", ("site-20817.edge.bricklark.example.",)),),
)
KINDS = ("A 192.0.2.{}", 'TXT "note {}"', "CNAME h{}.else.example.", "MX 10 mx{}.else.example.", "AAAA 2001:db8::{}")


def text(count: int) -> str:
    """A master file with so many records, of several kinds."""
    lines = [f"{DOMAIN} 3600 IN SOA ns1 dns 1 2 3 4 900", f"{DOMAIN} 3600 IN NS ns1.mossgate.example."]
    lines += [f"n{at}.{DOMAIN} 3600 IN {KINDS[at % 5].format(at % 250)}" for at in range(count - 2)]
    return "\n".join(lines) + "\n"


def seconds(work: Callable[[], object]) -> float:
    begins = time.perf_counter()
    work()
    return time.perf_counter() - begins


def planning_time(zone: Zone) -> float:
    wanted = work_out(SITE, BRIEF)
    return min(seconds(lambda: make_plan(Case(wanted, zone))) for _ in range(3))


def assessment_time(zone: Zone) -> float:
    """A whole assessment over a zone that was seen before, the guard included."""
    wanted = work_out(SITE, BRIEF)
    history = tuple(Content(record, 0, 0, source) for source in ("zone", "survey") for record in zone)
    survey = Survey(DOMAIN, 0.0, (), None, tuple(Seen(record, ("here",)) for record in zone))
    case = Case(wanted, zone, history=history, survey=survey)
    evidence = Evidence(survey=survey, contents=history)
    made = make_plan(case)
    return min(seconds(lambda: assess(case, made, evidence, 10.0)) for _ in range(3))


def main() -> None:
    times = {count: planning_time(read_master_file(text(count), DOMAIN, "z")) for count in (10, 1000, 10_000)}
    extra = times[10_000] - times[10]
    growth = times[10_000] / max(times[1000], 1e-9)
    say = sys.stdout.write
    say(f"planning 10, 1000, 10000 records: {', '.join(f'{t * 1000:.0f} ms' for t in times.values())}; ")
    say(f"{extra:.2f} s more for 10000 than for 10, {'within' if extra < 1 else 'ABOVE'} 1 s; ")
    say(f"ten times the records: {growth:.1f} times the time\n")
    over = assessment_time(read_master_file(text(10_000), DOMAIN, "z"))
    say(f"a assessment over 10000 records: {over * 1000:.0f} ms, {'within' if over <= 0.3 else 'ABOVE'} 300 ms\n")
    big = text(100_000)
    origin = dns.name.from_text(DOMAIN)
    pairs = []
    for _ in range(3):
        ours = seconds(lambda: read_master_file(big, DOMAIN, "z"))
        theirs = seconds(lambda: dns.zone.from_text(big, origin, relativize=False, check_origin=False))
        pairs.append((ours / theirs, ours, theirs))
    ratio, ours, theirs = sorted(pairs)[1]
    say(f"reading 100000 records: {ours:.2f} s; the DNS library's own reader: {theirs:.2f} s; ")
    say(f"ratio {ratio:.2f}, {'within' if ratio <= 1.5 else 'ABOVE'} 1.5\n")


if __name__ == "__main__":
    main()
