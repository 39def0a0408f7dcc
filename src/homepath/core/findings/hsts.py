"""Findings about what the old site promised to browsers."""

from __future__ import annotations

from homepath.core.findings.kind import Kind

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
