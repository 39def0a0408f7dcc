"""Findings about the registration."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.message import msg
from homepath.core.model.times import rfc3339
from homepath.core.site.case import Case

KINDS = (
    Kind("registration-expired", "blocker", "RFC 9083 section 4.5", who="registrar", about_domain=True, titled=True),
    Kind(
        "registration-on-hold",
        "blocker",
        "RFC 9083 section 4.6, RFC 5731 section 2.3",
        who="registrar",
        about_domain=True,
        titled=True,
    ),
    Kind("registration-deleting", "blocker", "RFC 3915 section 3.1", who="registrar", about_domain=True, titled=True),
    Kind("not-delegated", "blocker", "RFC 1034 section 4.2.1", who="registrar", about_domain=True, titled=True),
    Kind("registration-ending", "risk", "RFC 9083 section 4.5", who="registrar", about_domain=True),
)


ENDING = 45 * 86400
"""Seconds before the end of a registration from which on it is worth a word."""
_HOLDS = ("client hold", "server hold", "inactive")
_DELETES = ("redemption period", "pending delete", "pending restore")


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


def _statuses(case: Case, words: tuple[str, ...]) -> tuple[str, ...]:
    registration = case.survey.registration if case.survey else None
    return tuple(each for each in registration.statuses if each.lower() in words) if registration else ()


def _registrar(case: Case) -> str:
    return case.survey.registration.registrar if case.survey and case.survey.registration else ""


def _registration_on_hold(case: Case) -> Iterator[Sighting]:
    if held := _statuses(case, _HOLDS):
        message = msg("registration-on-hold", domain=case.domain, held=held)
        yield Sighting(case.domain, "", message, msg("registration-on-hold.cure", registrar=_registrar(case)))


def _registration_deleting(case: Case) -> Iterator[Sighting]:
    if found := _statuses(case, _DELETES):
        message = msg("registration-deleting", domain=case.domain, statuses=found)
        yield Sighting(case.domain, "", message, msg("registration-deleting.cure", registrar=_registrar(case)))


def _not_delegated(case: Case) -> Iterator[Sighting]:
    """The zone above names no nameservers, and nothing that the registry says of the registration explains it."""
    survey = case.survey
    if survey is None or survey.delegation is None or survey.delegation.servers or _statuses(case, _HOLDS + _DELETES):
        return
    if survey.registration and survey.registration.missing:
        message = msg("not-delegated-2", domain=case.domain)
    elif next(_registration_expired(case), None) is None:
        message = msg("not-delegated", domain=case.domain, above=survey.delegation.parent)
    else:
        return
    yield Sighting(case.domain, "NS", message, msg("not-delegated.cure", registrar=_registrar(case)))


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
    Rule("registration-deleting", _registration_deleting),
    Rule("not-delegated", _not_delegated),
    Rule("registration-ending", _registration_ending),
)
