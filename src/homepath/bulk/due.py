"""When a site is worth another look: the assessment's own next look, and what time alone can change."""

from __future__ import annotations

from homepath.core.findings.registration import ENDING as REGISTRATION_ENDS
from homepath.core.model.acts import Wait
from homepath.core.model.evidence import Evidence
from homepath.core.model.steps import Assessment
from homepath.core.web.certificates import ENDING as CERTIFICATE_ENDS

DAY = 86400.0
SOONEST = 600.0
"""Seconds between two looks at a domain where a person is at work, at least: a look is not free for others."""
WHOLE_LOOK = 30 * DAY
"""Seconds after which everything is judged anew, although nothing was seen to change."""


def next_look(assessment: Assessment, now: float, since: float) -> float:
    """The next moment at which something can have changed. `since`: when the domain began to stand as it does now.

    A wait: its end. Somebody's work: soon at first, later as long again as it already took. Else a day.
    """
    if isinstance(assessment.act, Wait):
        return max(now + 1, min(assessment.act.until, now + DAY))
    if assessment.arrived:
        return now + DAY
    return now + min(DAY, max(SOONEST, (now - since) / 4))


def judged_by(evidence: Evidence, now: float) -> float:
    """Until when a verdict of now holds if nobody changes anything: time alone ends certificates and registrations."""
    moments = [now + WHOLE_LOOK]
    registration = evidence.survey.registration if evidence.survey else None
    if registration and registration.expires is not None:
        moments += [registration.expires - REGISTRATION_ENDS, registration.expires]
    for way in evidence.visit.ways if evidence.visit else ():
        for hop in way.hops:
            if hop.certificate and hop.certificate.not_after is not None:
                moments += [hop.certificate.not_after - CERTIFICATE_ENDS.total_seconds(), hop.certificate.not_after]
    return min(moment for moment in moments if moment > now)
