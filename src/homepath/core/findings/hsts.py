"""Findings about what the old site promised to browsers."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.dns.records import WEB_TYPES
from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.message import msg
from homepath.core.site.case import Case
from homepath.core.site.zone_facts import handed_over

KINDS = (
    Kind(
        "sticky-https-too-early",
        "risk",
        "RFC 6797 section 8.4",
        fixed_by="take-back-hsts",
        matters_before=True,
    ),
)


def _sticky(case: Case) -> Iterator[Sighting]:
    """A name that will move while browsers insist on a good certificate there."""
    moves = case.wanted.hand_over is not None and not handed_over(case)
    for name in case.wanted.names:
        hsts = case.hsts.get(name)
        wants = [want for want in case.wanted.at(name) if want.record.type in (*WEB_TYPES, "ALIAS")]
        moving = moves or any(not want.met_by(case.zone.get(*want.record.key)) for want in wants)
        if hsts is None or not hsts.binds or not moving:
            continue
        listed = msg("sticky.listed") if hsts.preload else ""
        yield Sighting(
            name,
            "",
            msg("sticky", name=name, words=hsts.words, listed=listed),
            msg("sticky.cure"),
        )


RULES = (Rule("sticky-https-too-early", _sticky),)
