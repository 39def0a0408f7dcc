"""The words of every finding: those of the rules on records, and those of the web."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from homepath.core.model.findings import Level
from homepath.core.rules.catalogue import RULES


@dataclass(frozen=True, slots=True)
class Page:
    """What `explain` prints of a finding. `mend` is also the cure shown with a web finding."""

    code: str
    level: Level
    standard: str
    means: str
    hurts: str
    mend: str


WEB_PAGES = (
    Page(
        "no-answer",
        "risk",
        "RFC 1034 section 3.6",
        "Nothing answers at this address.",
        "Visitors see an error of their browser.",
        "Enter the records of the plan for this name; if they are there, ask the builder why nothing answers.",
    ),
    Page(
        "wrong-destination",
        "risk",
        "RFC 9110 section 15.4",
        "The way ends somewhere else than at the primary address.",
        "Visitors land on the old or a foreign site.",
        "Look at the plan: this name still leads elsewhere.",
    ),
    Page(
        "builder-unaware",
        "risk",
        "RFC 9110 section 7.2",
        "DNS leads to the builder, but the builder does not serve this name.",
        "Visitors see an error page of the builder, and no certificate is ordered.",
        "Connect the domain in the builder's settings, or press its check button.",
    ),
    Page(
        "redirect-loop",
        "blocker",
        "RFC 9110 section 15.4",
        "The redirects lead round in a circle.",
        "Browsers give up, and nobody sees the site.",
        "Two redirects point at each other: take one of them out.",
    ),
    Page(
        "redirect-temporary",
        "note",
        "RFC 9110 section 15.4.3",
        "A redirect on the way is marked as temporary.",
        "Search engines keep the old address.",
        "Make it permanent (301 or 308) once all is well.",
    ),
    Page(
        "redirect-downgrades",
        "risk",
        "RFC 9110 section 4.2.2",
        "A redirect leads from https back to http.",
        "What the visitor reads and types can be seen and changed on the way.",
        "Let the redirect lead to https.",
    ),
    Page(
        "redirect-long",
        "note",
        "RFC 9110 section 15.4",
        "It takes more than two redirects to arrive.",
        "Each one costs time, and one more thing can break.",
        "Redirect straight to the primary address.",
    ),
    Page(
        "no-redirect",
        "risk",
        "RFC 9110 section 15.4",
        "A second address serves the pages by itself instead of leading to the primary one.",
        "The site exists twice; links and search results are split between the two.",
        "Make the builder redirect this address to the primary one.",
    ),
    Page(
        "https-missing",
        "risk",
        "RFC 9110 section 4.2.2",
        "Nothing answers over https at this address.",
        "Browsers try https first; visitors wait or see a warning.",
        "Switch on HTTPS for this name at the builder.",
    ),
    Page(
        "https-not-enforced",
        "note",
        "RFC 9110 section 4.2.2",
        "The way ends on http although https works.",
        "Visitors who type the bare name stay without encryption.",
        'Turn on "HTTPS only" at the builder once the certificate is good.',
    ),
    Page(
        "certificate-pending",
        "note",
        "RFC 8555 section 7.4",
        "The certificate has not come yet, and nothing stands in its way.",
        'Browsers say "not secure" until it is there.',
        "Nothing to do: the builder orders it by itself.",
    ),
    Page(
        "certificate-name-missing",
        "risk",
        "RFC 9525 section 6.3",
        "The certificate shown is for other names.",
        "Browsers warn every visitor of this address.",
        "Let the builder order a certificate that covers this name too.",
    ),
    Page(
        "certificate-expired",
        "risk",
        "RFC 5280 section 4.1.2.5",
        "The certificate has ended.",
        "Browsers warn every visitor.",
        "Ask the builder why it was not renewed; often a record was changed since.",
    ),
    Page(
        "certificate-ending",
        "note",
        "RFC 5280 section 4.1.2.5",
        "The certificate ends within two weeks.",
        "If it is not renewed, browsers warn from that day on.",
        "It should be renewed by itself; look again in some days.",
    ),
    Page(
        "certificate-untrusted",
        "risk",
        "RFC 5280 section 6",
        "No trusted authority stands behind the certificate.",
        "Browsers warn every visitor.",
        "The server must show a certificate of a trusted authority, with its whole chain.",
    ),
    Page(
        "page-broken",
        "risk",
        "RFC 9110 section 15",
        "The way ends on an error page.",
        "Visitors reach the right server and still see no site.",
        "Look at the site in the builder: is it published?",
    ),
)

TIME_PAGES = (
    Page(
        "ttl-clamped",
        "note",
        "RFC 8767 section 4, RFC 2181 section 8",
        "A resolver keeps answers for longer than the domain's own servers allow.",
        "Its users see the old answer for longer than the deadline says.",
        "Nothing can be done from here; count its own countdown, not the TTL.",
    ),
    Page(
        "several-caches",
        "note",
        "RFC 1034 section 4.3.5",
        "Behind one resolver address stand several caches, each with its own copy of a different age.",
        "Its answers go back and forth between old and new, and a first new answer does not mean that it has moved.",
        "Nothing: wait until the last copy that was seen has died. The deadline counts it in.",
    ),
    Page(
        "clock-set-back",
        "note",
        "",
        "The journal holds looks that are dated later than now: this machine's clock was set back in between.",
        "Deadlines counted from those looks would be wrong, so they are left out.",
        "Set the clock right, if it is wrong now, and look again.",
    ),
)
_RULE_PAGES = tuple(Page(r.code, r.level, r.standard, r.means, r.hurts, r.mend) for r in RULES)
PAGES: Mapping[str, Page] = {page.code: page for page in (*_RULE_PAGES, *TIME_PAGES, *WEB_PAGES)}
