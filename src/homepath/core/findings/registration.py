"""Findings about the registration."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.message import msg
from homepath.core.model.times import rfc3339
from homepath.core.site.case import Case

KINDS = (
    Kind("registration-expired", "blocker", "RFC 9083 section 4.5", who="registrar", about_domain=True),
    Kind(
        "registration-on-hold",
        "blocker",
        "RFC 9083 section 4.6, RFC 5731 section 2.3",
        who="registrar",
        about_domain=True,
    ),
    Kind("registration-ending", "note", "RFC 9083 section 4.5", who="registrar", about_domain=True),
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
            msg("registration-expired", domain=case.domain, ended=ended),
            msg("registration-expired.cure", registrar=survey.registration.registrar),
        )


def _registration_on_hold(case: Case) -> Iterator[Sighting]:
    registration = case.survey.registration if case.survey else None
    held = [status for status in registration.statuses if status.lower() in _HOLDS] if registration else []
    if registration and held:
        yield Sighting(
            case.domain,
            "",
            msg("registration-on-hold", domain=case.domain, held=tuple(held)),
            msg("registration-on-hold.cure", registrar=registration.registrar),
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
            msg("registration-ending", domain=case.domain, left=left),
            msg("registration-ending.cure", registrar=survey.registration.registrar),
        )


RULES = (
    Rule("registration-expired", _registration_expired),
    Rule("registration-on-hold", _registration_on_hold),
    Rule("registration-ending", _registration_ending),
)
