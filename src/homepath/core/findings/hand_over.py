"""Findings about nameservers that are to take a domain over, and about going back and leaving."""

from __future__ import annotations

from homepath.core.findings.kind import Kind

KINDS = (
    Kind("left-at-the-old", "blocker", "RFC 1034 section 4.2.2", fixed_by="carry"),
    Kind("new-server-unknown", "blocker", "RFC 1034 section 4.2.2"),
    Kind("new-server-not-ready", "blocker", "RFC 1912 section 2.8", who="dns-host", said_by="new-zone"),
    Kind("new-server-is-present", "note", "RFC 1034 section 4.2.2"),
    Kind("new-servers-disagree", "blocker", "RFC 1034 section 4.3.5", who="dns-host"),
    Kind("glue-needed", "risk", "RFC 1034 section 4.2.1", who="registrar"),
    Kind("ds-does-not-fit", "risk", "RFC 4035 section 5, RFC 6781 section 4.3.5", who="registrar", said_by="remove-ds"),
    Kind("keeping-times-differ", "note", "RFC 2181 section 5.2", who="nobody"),
    Kind("wildcard-at-the-new", "risk", "RFC 4592"),
    Kind("new-form-lacks", "blocker", "RFC 1034 section 3.6", who="dns-host"),
    Kind("old-zone-gone", "risk", "RFC 1034 section 4.2.2", who="dns-host"),
    Kind("old-zone-deletable", "note", "RFC 2308, RFC 1035 section 3.2.1", who="nobody", at_the_end=True),
    Kind("in-the-way-now", "blocker", "RFC 1034 section 3.6.2", offers=("accept-or-drop",)),
    Kind("nothing-to-take-back", "note", "RFC 2136", who="nobody"),
    Kind("points-to-the-builder", "risk", "RFC 1912 section 2.4", fixed_by="let-go", offers=("accept-or-drop",)),
    Kind("mentions-the-builder", "note", "RFC 7208 section 5.2"),
    Kind("builder-runs-the-domain", "blocker", "RFC 1034 section 4.2.2"),
)
