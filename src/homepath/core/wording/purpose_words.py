"""What an entry is for, in words."""

from __future__ import annotations

from homepath.core.dns.names import Name, shown
from homepath.core.model.plan import Purpose

_WHAT: dict[Purpose, str] = {
    "website": "where {name} leads",
    "proof of ownership": "the proof{builder} that {name} is yours",
    "mail": "your mail at {name}",
    "mail authentication": "your mail at {name}",
    "certificates": "who may give certificates (padlocks) for {name}",
    "delegation": "who runs {name}",
    "other": "{name}",
}


HEADINGS: dict[Purpose, str] = {
    "website": "Website",
    "mail": "Your mail",
    "mail authentication": "Your mail (who may send)",
    "proof of ownership": "Verification records",
    "certificates": "Certificates",
    "delegation": "Nameservers",
    "other": "The rest",
}
"""Over the records of one purpose, in every list."""


def what_it_is_for(purpose: Purpose, name: Name, builder: str = "") -> str:
    """For the headline of a record set at `name`; `builder`: to whom a proof is given."""
    return _WHAT[purpose].format(name=shown(name), builder=f" to {builder}" if builder else "")
