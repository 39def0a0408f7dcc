"""All that a page about one domain is made of, as values: gathered by a station, told by the page."""

from __future__ import annotations

from dataclasses import dataclass

from homepath.core.files.sheet import Job
from homepath.core.model.evidence import Evidence
from homepath.core.model.forecast import Forecast
from homepath.core.model.plan import Plan
from homepath.core.model.steps import Assessment
from homepath.core.propagation.shares import LookShares
from homepath.core.site.case import Case


@dataclass(frozen=True, slots=True, kw_only=True)
class Facts:
    """`host`: who runs the form of the step that is now. `jobs`: what is to be typed now. `looks`: what the resolvers
    said, look by look. `forecast`: None where nothing changes for visitors any more. `now`: Unix seconds."""

    assessment: Assessment
    plan: Plan
    case: Case
    evidence: Evidence
    builder: str
    host: str
    now: float
    jobs: tuple[Job, ...] = ()
    looks: tuple[LookShares, ...] = ()
    forecast: Forecast | None = None
