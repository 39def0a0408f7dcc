"""The builder of the practice world: it connects domains, checks DNS by itself, orders certificates and serves."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime
from typing import Literal

from homepath.core.dns.names import Name, child, is_within, shown
from homepath.core.dns.policies import allows, relevant_set
from homepath.core.dns.records import Zone
from homepath.core.dns.values import strings
from homepath.practice.scene_file import BuilderTable
from homepath.practice.web_server import Authority, Certificates, Request, Response, forwarded_path, page, redirect
from homepath.practice.zones import Reply, Zones

State = Literal["waiting for DNS", "waiting for certificate", "connected"]
"""Of a name, from first to last; one that was never added is unknown."""
_DAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
Lookup = Callable[[Name, str], Reply]


@dataclass(slots=True)
class Claim:
    """One domain of one site, and the state of each of its names."""

    domain: Name
    names: tuple[Name, ...]
    primary: Name
    code: str
    states: dict[Name, State]
    since: float
    next_check: float
    words: str
    due: dict[Name, float] = field(default_factory=dict)
    """When the certificate of a name is ordered."""
    published: bool = True
    """Whether the site was published since the builder's own nameservers run the domain; else it is not served."""

    @property
    def state(self) -> State:
        """That of the name which is furthest behind."""
        order: tuple[State, ...] = ("waiting for DNS", "waiting for certificate", "connected")
        return min(self.states.values(), key=order.index)


class Builder:
    """All claims and the server that answers for them. The time comes with each call."""

    def __init__(self, table: BuilderTable, zones: Zones, lookup: Lookup, authority: Authority, now: float) -> None:
        self._table, self._zones, self._lookup, self._authority = table, zones, lookup, authority
        self.claims: dict[Name, Claim] = {}
        self._added: Counter[Name] = Counter()
        self.https_only = table.https_only
        own = shown(table.domain)
        self.certificates = Certificates(authority.issue([own, f"*.{own}"], now, 3650))
        if table.connected:
            self._serve_already(table.connected, now)

    def _serve_already(self, names: tuple[Name, ...], now: float) -> None:
        """One domain that was connected long before the story begins."""
        domain = min(names, key=len)
        states: dict[Name, State] = dict.fromkeys(names, "connected")
        self.claims[domain] = Claim(domain, names, names[0], "", states, now, now, "connected")
        for name in names:
            self.certificates.put(shown(name), self._authority.issue([shown(name)], now))

    def usual_names(self, domain: Name, primary: Name) -> tuple[Name, ...]:
        """What it connects when only the domain is entered: the domain with and without www, or one label alone."""
        both = (domain, child("www", domain))
        return both if primary in both and self._table.serves == "both" else (primary,)

    def connect(self, domain: Name, names: tuple[Name, ...], primary: Name, code: str, now: float) -> Claim:
        """What the owner does in the site's settings: add these names of a domain. The first check follows at once,
        and usually fails.

        `primary`: where all names end, perhaps in another domain of the same site. Names that were added before stay
        as they are.
        """
        before = self.claims.get(domain)
        names = tuple(dict.fromkeys((*(before.names if before else ()), *names)))
        states: dict[Name, State] = {**dict.fromkeys(names, "waiting for DNS"), **(before.states if before else {})}
        claim = Claim(domain, names, primary, code, states, now, now, "added", before.due if before else {})
        claim.published = before.published if before else not self._table.publish
        self.claims[domain] = claim
        self._added[domain] += 1
        self._check(claim, now)
        return claim

    def disconnect(self, domain: Name) -> bool:
        claim = self.claims.pop(domain, None)
        for name in claim.names if claim else ():
            self.certificates.drop(shown(name))
        return claim is not None

    def publish(self, domain: Name, runs_it: bool) -> bool:
        """Publish the site of a domain again; before the builder's own nameservers run it, that has no effect."""
        claim = self.claims.get(domain)
        if claim is None:
            return False
        claim.published = claim.published or runs_it
        return claim.published

    def support(self, now: float) -> None:
        """Its support puts right what is wrong on the builder's side, and orders missing certificates by hand."""
        redirecting = replace(self._table, redirects=True, redirect_status=301, redirect_keeps="all")
        self._table = replace(redirecting, home_twin=False, certificate_for="both", issuing_days=())
        for claim in self.claims.values():
            for name in claim.names:
                if claim.states[name] != "waiting for DNS":
                    self._order(claim, name, now)

    def tick(self, now: float, force: bool = False, only: Name | None = None) -> None:
        """Carry on with every claim whose next check is due; `force`: also before that, of `only` one domain."""
        for claim in self.claims.values():
            if only is not None and claim.domain != only:
                continue
            if force or now >= claim.next_check:
                self._check(claim, now, force)

    def _check(self, claim: Claim, now: float, force: bool = False) -> None:
        """Each name goes its own way: DNS, then the certificate, which comes some time after."""
        claim.next_check = now + self._table.checks_every
        if claim.state == "connected":
            claim.words = "connected"
            return
        if claim.domain in self._table.stuck and self._added[claim.domain] < 2:
            claim.words = "the check failed: this connection is stuck"
            return
        proof = self._proof_trouble(claim)
        claim.words = proof or "connected"
        if proof:
            return
        for name in claim.names:
            if claim.states[name] == "waiting for DNS":
                trouble = self._dns_trouble(name)
                claim.words = trouble or claim.words
                if not trouble:
                    claim.states[name], claim.since = "waiting for certificate", now
                    claim.due[name] = now + self._table.certificate_after
            elif claim.states[name] == "waiting for certificate" and (force or now >= claim.due[name]):
                self._order(claim, name, now)

    def _proof_trouble(self, claim: Claim) -> str | None:
        proof = self._table.proof.replace("{code}", claim.code)
        if proof.startswith("CNAME "):
            _, host, target = proof.split()
            answer = self._lookup(child(host, claim.domain), "CNAME").answer
            return None if any(target in each.values for each in answer) else f"the CNAME record at {host} is missing"
        texts = ["".join(strings(v)) for each in self._lookup(claim.domain, "TXT").answer for v in each.values]
        return None if not proof or proof in texts else f"the TXT record {proof!r} is missing at {shown(claim.domain)}"

    def _dns_trouble(self, name: Name) -> str | None:
        found = [r for t in ("A", "AAAA") for r in self._lookup(name, t).answer if r.type in ("A", "AAAA")]
        addresses = {value for record in found for value in record.values}
        if not addresses:
            return f"{shown(name)} has no address"
        if self._table.checks_addresses and (stray := sorted(addresses - set(self._table.addresses))):
            return f"{shown(name)} points to {stray[0]}"
        return None

    def _order(self, claim: Claim, name: Name, now: float) -> None:
        """The authority checks CAA (RFC 8659) before it issues; a refusal is tried again later."""
        days = {each.lower()[:3] for each in self._table.issuing_days}
        if days and _DAYS[datetime.fromtimestamp(now, UTC).weekday()] not in days:
            claim.words = f"certificates are issued on {', '.join(self._table.issuing_days)}"
            return
        alias = next((r.values[0] for r in self._lookup(name, "CNAME").answer if r.type == "CNAME"), None)
        own = Zone.of(claim.domain, (r for at in claim.names for r in self._lookup(at, "CAA").answer if r.name == at))
        found = relevant_set(name, own, self._zones.get(self._table.domain), alias)
        if found and not allows(found, self._table.issuer):
            claim.words = f"{self._table.issuer} may not issue for {shown(name)} (CAA)"
            return
        if self._table.certificate_for == "both" or name == claim.primary:
            self.certificates.put(shown(name), self._authority.issue([shown(name)], now))
        claim.states[name], claim.since = "connected", now

    def serve(self, request: Request) -> Response:
        """Every name of a connected site redirects to its primary address over the best scheme it has."""
        host = f"{request.host}."
        if is_within(host, self._table.domain):
            return self._site(request, f"{request.host} is served by {self._table.name}.")
        claim = next((each for each in self.claims.values() if host in each.names), None)
        unchecked = claim is not None and (claim.states[host] == "waiting for DNS" or not claim.published)
        if claim is None or (unchecked and self._table.answers == "verified"):
            return page("No site here", f"{self._table.name} does not serve {request.host}.", 404)
        primary = next(
            (c.states[claim.primary] for c in self.claims.values() if claim.primary in c.states), "connected"
        )
        secure = primary == "connected" and self.https_only
        if host == claim.primary and (request.secure or not secure):
            return self._site(request, "The site is here.")
        if host != claim.primary and not self._table.redirects:
            return self._site(request, "The site is here too.")
        scheme = "https" if secure or request.secure else "http"
        path = forwarded_path(request.path, self._table.redirect_keeps if host != claim.primary else "all")
        return redirect(f"{scheme}://{shown(claim.primary)}{path}", self._table.redirect_status)

    def _site(self, request: Request, text: str) -> Response:
        """The pages of the site; nothing else is there."""
        path = request.path.partition("?")[0]
        if path == "/" or (path == "/home" and self._table.home_twin):
            return page("Tidewick Kiln, a community pottery", f'{text} <a href="/shop">Shop</a>')
        if path == "/shop":
            return page("Shop", "Bowls and cups.")
        return page("Not here", "There is no such page.", 404)
