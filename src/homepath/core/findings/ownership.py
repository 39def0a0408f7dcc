"""Findings about ownership records."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.dns.values import meaning, strings
from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.message import msg
from homepath.core.site.case import Case
from homepath.core.site.slips import quoted_slips, slip_among
from homepath.core.site.wanted import Want

KINDS = (
    Kind("proof-missing", "risk", "the builder's brief", fixed_by="enter", holds_up_builder=True),
    Kind("proof-differs", "risk", "the builder's brief", explains=True, fixed_by="enter", holds_up_builder=True),
    Kind("proof-beside-cname", "blocker", "RFC 1034 section 3.6.2", offers=("ownership",)),
    Kind("proof-removed", "risk", "the builder's brief", fixed_by="enter", explains=True),
)


def _proofs(case: Case) -> Iterator[Want]:
    return (want for want in case.wanted.wants if want.purpose == "proof of ownership")


def _proof_missing(case: Case) -> Iterator[Sighting]:
    for want in _proofs(case):
        if want.met_by(case.zone.get(*want.record.key)):
            continue
        name, rrtype = want.record.key
        yield Sighting(
            name,
            rrtype,
            msg("proof-missing", builder=case.wanted.builder, name=name),
            msg("proof-missing.cure", rrtype=rrtype) if want.joined else msg("proof-missing.cure-2", rrtype=rrtype),
        )


def _proof_differs(case: Case) -> Iterator[Sighting]:
    """A code of the same kind, but another one: from an earlier try, or of another site."""
    for want in _proofs(case):
        record = case.zone.get(*want.record.key)
        if record is None or want.record.type != "TXT" or want.met_by(record):
            continue
        wanted_texts = {meaning("TXT", value) for value in want.record.values}
        for value in record.values:
            content = "".join(strings(value))
            start = content.partition("=")[0]
            alike = "=" in content and any(text.startswith(f"{start}=") for text in wanted_texts)
            if alike and not slip_among(set(want.record.values), value) and value not in quoted_slips(want, record):
                yield Sighting(
                    record.name,
                    "TXT",
                    msg("proof-differs", name=record.name, content=content),
                    msg("proof-differs.cure"),
                )


def _proof_beside_cname(case: Case) -> Iterator[Sighting]:
    for want in _proofs(case):
        alias = case.zone.get(want.record.name, "CNAME")
        if want.record.type != "CNAME" and alias and alias.name != case.domain:
            yield Sighting(
                want.record.name,
                want.record.type,
                msg("proof-beside-cname", name=want.record.name),
                msg("proof-beside-cname.cure"),
            )


def _was_there(case: Case, want: Want) -> bool:
    mine = [each.record for each in case.history if each.record.key == want.record.key]
    return any(record.values and want.met_by(record) for record in mine)


def _proof_removed(case: Case) -> Iterator[Sighting]:
    for want in _proofs(case):
        if _was_there(case, want) and not want.met_by(case.zone.get(*want.record.key)):
            yield Sighting(
                want.record.name,
                want.record.type,
                msg("proof-removed", name=want.record.name),
                msg("proof-removed.cure"),
            )


RULES = (
    Rule("proof-missing", _proof_missing),
    Rule("proof-differs", _proof_differs),
    Rule("proof-beside-cname", _proof_beside_cname),
    Rule("proof-removed", _proof_removed),
)
