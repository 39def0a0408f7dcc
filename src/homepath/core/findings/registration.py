"""Findings about the registration."""

from __future__ import annotations

from homepath.core.findings.kind import Kind

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
