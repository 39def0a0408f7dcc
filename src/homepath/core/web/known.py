"""What is known of a name of the site before its pages are judged."""

from __future__ import annotations

from dataclasses import dataclass
from urllib.parse import urlsplit

from homepath.core.dns.names import Name, absolute
from homepath.core.message import Text
from homepath.core.model.hsts import Hsts
from homepath.core.site.wanted import Wanted


@dataclass(frozen=True, slots=True)
class NameKnown:
    """What is known of a name before its page is judged.

    `right`: DNS leads it where the builder wants it. `since`: first moment that was seen so. `obstacle`: what stops
    the builder's authority from issuing, in words. `https_works`: the primary already has a good certificate, so that
    a builder which sends people to http does not do so for want of one. `edge_healthy`: the builder, asked directly,
    serves the name; None where it was not asked. `forwarded`: something other than the builder redirects the name.
    `hsts`: what the name told browsers before. `proxied`: DNS leads elsewhere, and what answers there is the builder's
    page all the same. `mixed`: beside the builder's addresses it leads to others, so that visitors meet now one, now
    the other. `stale_until`: a resolver still holds the old answer for it, so long. `certified`: a good certificate was
    seen for it since DNS is right.
    """

    right: bool
    since: float | None = None
    obstacle: Text = ""
    detail: Text = ""
    https_works: bool = True
    edge_healthy: bool | None = None
    forwarded: bool = False
    hsts: Hsts | None = None
    proxied: bool = False
    mixed: bool = False
    stale_until: float | None = None
    certified: bool = False

    @property
    def leads(self) -> bool:
        """Whether what answers at the name is the builder, or something that was meant to redirect it."""
        return self.right or self.proxied or self.forwarded

    def may_come(self, wanted: Wanted, now: float) -> bool:
        """Whether what is still missing here, the builder's page or its certificate, may come by waiting."""
        if self.obstacle or not (self.right or self.proxied):
            return False
        return self.since is None or now - self.since < wanted.https.longest_wait


def host_of(url: str) -> Name:
    return absolute(urlsplit(url).hostname or ".")
