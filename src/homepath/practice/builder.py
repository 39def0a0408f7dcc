"""The builder of the practice world: told of a domain, checks DNS by itself, orders the certificate, serves."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from homepath.core.model.names import Name, child, is_within, shown
from homepath.core.model.values import strings
from homepath.core.rules.caa import allows, relevant_set
from homepath.practice.authority import Authority
from homepath.practice.scene_file import BuilderTable
from homepath.practice.web_server import Certificates, Request, Response, page, redirect
from homepath.practice.zones import Reply, Zones

State = Literal["waiting for DNS", "waiting for certificate", "live"]
Lookup = Callable[[Name, str], Reply]


@dataclass(slots=True)
class Claim:
    """One domain of one site, and where it stands."""

    domain: Name
    names: tuple[Name, ...]
    primary: Name
    code: str
    state: State
    since: float
    next_check: float
    words: str


class Builder:
    """All claims and the edge that serves them. The time comes with each call."""

    def __init__(self, table: BuilderTable, zones: Zones, lookup: Lookup, authority: Authority, now: float) -> None:
        self._table, self._zones, self._lookup, self._authority = table, zones, lookup, authority
        self.claims: dict[Name, Claim] = {}
        own = shown(table.domain)
        self.certificates = Certificates(authority.issue([own, f"*.{own}"], now, 3650))

    def connect(self, domain: Name, primary: str, code: str, now: float, leads_to: Name | None = None) -> Claim:
        """What the owner does in the site's settings. The first check comes at once, and usually fails.

        `leads_to`: the primary address of the site, where this is a further domain of it.
        """
        www = child("www", domain)
        names = (domain, www) if primary in ("www", "apex") else (child(primary, domain),)
        first = domain if primary == "apex" else child(primary, domain)
        claim = Claim(domain, names, leads_to or first, code, "waiting for DNS", now, now, "told of the domain")
        self.claims[domain] = claim
        self._check(claim, now)
        return claim

    def disconnect(self, domain: Name) -> bool:
        claim = self.claims.pop(domain, None)
        for name in claim.names if claim else ():
            self.certificates.drop(shown(name))
        return claim is not None

    def tick(self, now: float, force: bool = False) -> None:
        """Carry on with every claim whose next check is due."""
        for claim in self.claims.values():
            if force or now >= claim.next_check:
                self._check(claim, now)

    def _check(self, claim: Claim, now: float) -> None:
        claim.next_check = now + self._table.checks_every
        if claim.state == "waiting for DNS":
            trouble = self._dns_trouble(claim)
            claim.words = trouble or "the records are right"
            if not trouble:
                claim.state, claim.since = "waiting for certificate", now
                claim.next_check = now + self._table.certificate_after
        elif claim.state == "waiting for certificate":
            self._order(claim, now)

    def _dns_trouble(self, claim: Claim) -> str | None:
        proof = self._table.proof.replace("{code}", claim.code)
        texts = ["".join(strings(v)) for each in self._lookup(claim.domain, "TXT").answer for v in each.values]
        if proof not in texts:
            return f"the TXT record {proof!r} is not at {shown(claim.domain)}"
        for name in claim.names:
            found = [r for t in ("A", "AAAA") for r in self._lookup(name, t).answer if r.type in ("A", "AAAA")]
            addresses = {value for record in found for value in record.values}
            if not addresses:
                return f"{shown(name)} has no address"
            if stray := sorted(addresses - set(self._table.addresses)):
                return f"{shown(name)} leads to {stray[0]}"
        return None

    def _order(self, claim: Claim, now: float) -> None:
        """The authority looks at CAA (RFC 8659) before it issues; a refusal is tried again later."""
        for name in claim.names:
            alias = next((r.values[0] for r in self._lookup(name, "CNAME").answer if r.type == "CNAME"), None)
            found = relevant_set(name, self._zones.get(claim.domain), self._zones.get(self._table.domain), alias)
            if found and not allows(found, self._table.issuer):
                claim.words = f"{self._table.issuer} may not issue for {shown(name)} (CAA)"
                return
        issued = self._authority.issue([shown(name) for name in claim.names], now)
        for name in claim.names:
            self.certificates.put(shown(name), issued)
        claim.state, claim.since, claim.words = "live", now, "connected"

    def serve(self, request: Request) -> Response:
        """The edge: every name of a connected site leads to its primary address over the best scheme it has."""
        host = f"{request.host}."
        if is_within(host, self._table.domain):
            return page("A site at its free address", f"{request.host} is served by {self._table.name}.")
        claim = next((each for each in self.claims.values() if host in each.names), None)
        if claim is None or claim.state == "waiting for DNS":
            return page("No site here", f"{self._table.name} does not serve {request.host}.", 404)
        live = claim.state == "live"
        if host == claim.primary and (request.secure or not live):
            return page(f"Welcome to {shown(claim.primary)}", "The site is here.")
        scheme = "https" if live or request.secure else "http"
        return redirect(f"{scheme}://{shown(claim.primary)}{request.path}")
