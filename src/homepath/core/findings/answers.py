"""Findings about answers: what no one answered, and answers that contradict themselves."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.dns.answers import Unanswered, of_trouble
from homepath.core.dns.names import Name
from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.message import msg
from homepath.core.site.case import Case
from homepath.core.site.zone_facts import handed_over

KINDS = (
    Kind(
        "unanswered", "blocker", "RFC 2308 section 7", who="dns-host", place="here", offers=("find-out",), unseen=True
    ),
    Kind("name-denied", "risk", "RFC 8020, RFC 4592 section 2.2.2", who="dns-host"),
    Kind("ttl-uneven", "note", "RFC 2181 section 5.2"),
)


def _unanswered(case: Case) -> Iterator[Sighting]:
    """One for each name at which the plan cannot go on without knowing. Before a hand-over that is all that was asked:
    what stays unseen stays behind, and a DS record that is not seen takes the domain down."""
    by_name: dict[Name, list[Unanswered]] = {}
    before = case.wanted.hand_over is not None and not handed_over(case)
    for each in case.unknown.values():
        carried = before and each.key not in case.wanted.left_behind
        if carried or each in _that_matters(case, each.name):
            by_name.setdefault(each.name, []).append(each)
    for name, unseen in by_name.items():
        yield Sighting(
            name,
            unseen[0].type,
            msg("unanswered", name=name, types=tuple(each.type for each in unseen), why=of_trouble(unseen[0].trouble)),
            msg("unanswered.cure"),
        )


def _that_matters(case: Case, name: Name) -> list[Unanswered]:
    """Only names that the website is about can be changed by a plan."""
    about = {*case.wanted.names, *(want.record.name for want in case.wanted.wants)}
    return case.unseen_at(name) if name in about else []


def _name_denied(case: Case) -> Iterator[Sighting]:
    for name in case.survey.denied if case.survey else ():
        yield Sighting(name, "", msg("name-denied", name=name), msg("name-denied.cure"))


def _ttl_uneven(case: Case) -> Iterator[Sighting]:
    for name in case.survey.uneven if case.survey else ():
        yield Sighting(name, "", msg("ttl-uneven", name=name), msg("ttl-uneven.cure", name=name))


RULES = (Rule("unanswered", _unanswered), Rule("name-denied", _name_denied), Rule("ttl-uneven", _ttl_uneven))
