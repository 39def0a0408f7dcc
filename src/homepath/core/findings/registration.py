"""Findings about the registration."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.dns.names import shown
from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.model.times import lasting, rfc3339
from homepath.core.site.case import Case

KINDS = (
    Kind(
        "registration-expired",
        "blocker",
        "RFC 9083 section 4.5",
        "The registration has ended.",
        "The domain may stop answering at any moment, and somebody else may register it.",
        "Renew it.",
        who="registrar",
        about_domain=True,
    ),
    Kind(
        "registration-on-hold",
        "blocker",
        "RFC 9083 section 4.6, RFC 5731 section 2.3",
        "The registry does not publish the domain.",
        "No record is seen by anybody, whatever is entered.",
        "Ask the registrar what is missing.",
        who="registrar",
        about_domain=True,
    ),
    Kind(
        "registration-ending",
        "note",
        "RFC 9083 section 4.5",
        "The registration ends soon.",
        "Site and mail stop when it does.",
        "Renew it, or see that it renews by itself.",
        who="registrar",
        about_domain=True,
    ),
)


ENDING = 45 * 86400
"""Seconds before the end of a registration from which on it is worth a word."""
_HOLDS = ("client hold", "server hold", "inactive", "redemption period", "pending delete")


def _registration_expired(case: Case) -> Iterator[Sighting]:
    survey = case.survey
    if survey and survey.registration and survey.registration.expires and survey.registration.expires <= survey.at:
        ended = rfc3339(survey.registration.expires)[:10]
        yield Sighting(
            case.domain,
            "",
            f"The registration of {shown(case.domain)} ended on {ended}.",
            f"Renew it at {survey.registration.registrar} before anything else.",
        )


def _registration_on_hold(case: Case) -> Iterator[Sighting]:
    registration = case.survey.registration if case.survey else None
    held = [status for status in registration.statuses if status.lower() in _HOLDS] if registration else []
    if registration and held:
        yield Sighting(
            case.domain,
            "",
            f"The registry has taken {shown(case.domain)} out of DNS: {', '.join(held)}.",
            f"Ask {registration.registrar} why; often an address or an e-mail was not confirmed.",
        )


def _registration_ending(case: Case) -> Iterator[Sighting]:
    survey = case.survey
    if survey is None or survey.registration is None or survey.registration.expires is None:
        return
    left = survey.registration.expires - survey.at
    if 0 < left <= ENDING:
        yield Sighting(
            case.domain,
            "",
            f"The registration of {shown(case.domain)} ends in {lasting(left)}.",
            f"See that it is renewed at {survey.registration.registrar}.",
        )


RULES = (
    Rule("registration-expired", _registration_expired),
    Rule("registration-on-hold", _registration_on_hold),
    Rule("registration-ending", _registration_ending),
)
