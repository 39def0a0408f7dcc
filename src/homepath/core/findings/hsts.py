"""Findings about what the old site promised to browsers."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.dns.names import shown
from homepath.core.dns.records import WEB_TYPES
from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.site.case import Case
from homepath.core.site.zone_facts import handed_over

KINDS = (
    Kind(
        "sticky-https-too-early",
        "risk",
        "RFC 6797 section 8.4",
        "The old site told browsers to accept nothing but https with a good certificate, and the new place has no "
        "certificate yet.",
        "Returning visitors see an error without a way around it, until the certificate comes.",
        "Have the certificate first, or take the promise back (max-age=0) some time before the change.",
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
        listed = " It also asks to be listed in browsers, which cannot be undone within months." * hsts.preload
        yield Sighting(
            name,
            "",
            f"The old site at {shown(name)} promises browsers https {hsts.words}.{listed} Until the builder's "
            "certificate is there, returning visitors meet an error that they cannot click away.",
            "Look with `homepath visit --ahead` whether the builder already has a certificate. If not: let the old "
            'site answer "Strict-Transport-Security: max-age=0" for as long as most visitors take to come back, and '
            "change only then; or change in the quietest hour and expect the error until the certificate comes.",
        )


RULES = (Rule("sticky-https-too-early", _sticky),)
