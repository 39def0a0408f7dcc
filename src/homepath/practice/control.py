"""What a person does in a browser, as requests to the practice world on 127.0.0.1."""

from __future__ import annotations

import json
import secrets
from typing import Any, Protocol

from homepath.core.dns.names import BadName, Name, absolute, child, is_within, relative, shown
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.times import rfc3339
from homepath.core.wording.say import say
from homepath.net.clock import FastClock
from homepath.practice import form, hosts
from homepath.practice.builder import Builder, Claim
from homepath.practice.hosts import Hosts
from homepath.practice.scene_file import HostTable, OtherHostTable, SceneTable
from homepath.practice.web_server import Request, Response
from homepath.practice.zones import Reply, ZoneId, Zones

Json = dict[str, Any]


class Controlled(Protocol):
    """What a person can reach of the world."""

    @property
    def scene(self) -> SceneTable: ...
    @property
    def zones(self) -> Zones: ...
    @property
    def builder(self) -> Builder: ...
    @property
    def hosts(self) -> Hosts: ...
    @property
    def clock(self) -> FastClock: ...
    def lookup(self, name: Name, rrtype: str) -> Reply: ...
    def skip(self, seconds: float) -> None: ...
    def close(self) -> None: ...


class Control:
    """The deeds, each a method that takes and returns JSON values."""

    def __init__(self, world: Controlled) -> None:
        self._world = world
        self.token = secrets.token_urlsafe(24)

    def handle(self, request: Request) -> Response:
        try:
            asked = json.loads(request.body)
            if not secrets.compare_digest(str(asked.pop("token", "")), self.token):
                return Response(403, "{}")
            deed = {
                "connect": self.connect,
                "disconnect": self.disconnect,
                "check": self.check,
                "support": self.support,
                "claims": self.claims,
                "https-only": self.https_only,
                "enter": self.enter,
                "edit": self.edit,
                "delete": self.delete,
                "entries": self.entries,
                "forward": self.forward,
                "publish": self.publish,
                "open-zone": self.open_zone,
                "close-zone": self.close_zone,
                "import": self.import_file,
                "sign": self.sign,
                "servers": self.servers,
                "ds": self.ds,
                "registrar": self.registrar,
                "clock": self.clock,
                "skip": self.skip,
                "close": self.close,
            }[asked.pop("deed")]
            return Response(200, json.dumps(deed(asked)))
        except BadInput as error:
            problem = error.problems[0]
            body = {
                "message": say(problem.message),
                "key": problem.key,
                "seen": problem.seen,
                "hint": problem.hint and say(problem.hint),
            }
            return Response(422, json.dumps(body))
        except (ValueError, RecursionError, KeyError, TypeError, AttributeError, BadName) as error:
            return Response(400, json.dumps({"message": f"not understood: {error}"}))

    def connect(self, asked: Json) -> Json:
        """Add names at the builder: those in `names`, each whole, or of a `domain` what the builder connects by itself.

        `primary`: `www`, `apex`, a label, or a whole name. Answers with the claims of the domains concerned.
        """
        found: dict[Name, list[Name]] = {}
        for typed in asked.get("names") or [asked["domain"]]:
            found.setdefault(self._domain_of(typed), []).append(absolute(typed))
        primary = self._primary(str(asked["primary"]), next(iter(found)))
        main = absolute(asked["leads_to"]) if asked.get("leads_to") else primary
        now, builder = self._world.clock.now(), self._world.builder
        for domain, names in found.items():
            alone = names == [domain]
            first = primary if is_within(primary, domain) else child("www", domain)
            whole = builder.usual_names(domain, first) if alone else tuple(names)
            builder.connect(domain, whole, main, asked["code"], now)
            if (own := self._world.hosts.of_builder) is not None:
                self._world.hosts.open(own.name, domain, now)
        return {"claims": [self._claim(builder.claims[domain]) for domain in found]}

    def _domain_of(self, typed: str) -> Name:
        """The domain of this world that a typed name belongs to. Raises BadInput."""
        name = absolute(typed)
        found = next((zone for zone in self._world.scene.host.zones if is_within(name, zone)), None)
        if found is None:
            known = ", ".join(shown(zone) for zone in self._world.scene.host.zones)
            raise BadInput(
                Problem(f"{typed} is not in this practice world", key="NAME", seen=typed, hint=f"it has: {known}")
            )
        return found

    def _primary(self, typed: str, domain: Name) -> Name:
        if typed == "apex":
            return domain
        return absolute(typed) if "." in typed else child(typed, domain)

    def publish(self, asked: Json) -> Json:
        """Publish the site again."""
        domain, own = absolute(asked["domain"]), self._world.hosts.of_builder
        runs_it = own is not None and self._world.hosts.runs(own.name, domain)
        return {"published": self._world.builder.publish(domain, runs_it)}

    def open_zone(self, asked: Json) -> Json:
        """Add a domain at another DNS host; it says which nameservers it assigned."""
        origin = absolute(asked["domain"])
        hosts.above(self._world.zones, origin)
        table = self._world.hosts.open(asked["at"], origin, self._world.clock.now())
        if table is self._world.hosts.of_builder:
            raise BadInput(Problem("connect the domain at the builder instead", key="--at", seen=asked["at"]))
        return {"at": table.name, "servers": [shown(server) for server in table.servers], **self.entries(asked)}

    def close_zone(self, asked: Json) -> Json:
        """Delete a whole domain at a host."""
        origin = absolute(asked["domain"])
        if self._elsewhere(asked):
            self._world.hosts.close(asked["at"], origin)
        else:
            self._world.zones.drop(form.zone_of(self._world.zones, self._world.scene.host.zones, asked["domain"]))
        return {"deleted": shown(origin)}

    def import_file(self, asked: Json) -> Json:
        """The form's import of a master file."""
        return {
            "taken": form.read_file(self._world.zones, self._zone(asked), str(asked["text"])),
            **self.entries(asked),
        }

    def sign(self, asked: Json) -> Json:
        """Switch DNSSEC on at another host; the DS record that the registrar wants."""
        return {"ds": list(self._world.hosts.sign(asked["at"], absolute(asked["domain"])).values)}

    def servers(self, asked: Json) -> Json:
        """The registrar's form: all nameservers."""
        hosts.set_servers(self._world.zones, absolute(asked["domain"]), list(asked["servers"]))
        return self.registrar(asked)

    def ds(self, asked: Json) -> Json:
        """The registrar's form: all DS records."""
        hosts.set_ds(self._world.zones, absolute(asked["domain"]), list(asked["values"]))
        return self.registrar(asked)

    def registrar(self, asked: Json) -> Json:
        return hosts.shown_form(self._world.zones, absolute(asked["domain"]))

    def _elsewhere(self, asked: Json) -> bool:
        return bool(asked.get("at")) and str(asked["at"]).lower() != self._world.scene.host.name.lower()

    def _zone(self, asked: Json) -> ZoneId:
        """The copy of the zone that a person edits: at the DNS host, or at the one that is named."""
        if self._elsewhere(asked):
            table = self._world.hosts.find(asked["at"])
            if not table.form:
                hint = "ask its support desk"
                raise BadInput(
                    Problem(f"{table.name} has no form for entries", key="--at", seen=asked["at"], hint=hint)
                )
            return self._world.hosts.zone(asked["at"], absolute(asked["domain"]))
        return form.zone_of(self._world.zones, self._world.scene.host.zones, asked["domain"])

    def _table(self, asked: Json) -> HostTable | OtherHostTable:
        return self._world.hosts.find(asked["at"]) if self._elsewhere(asked) else self._world.scene.host

    def disconnect(self, asked: Json) -> Json:
        return {"removed": self._world.builder.disconnect(absolute(asked["domain"]))}

    def check(self, asked: Json) -> Json:
        """Press the builder's check button, for one domain or for all."""
        domain = absolute(asked["domain"]) if asked.get("domain") else None
        if domain is not None and domain not in self._world.builder.claims:
            hint = "connect it first"
            raise BadInput(
                Problem("the builder was not told of this domain", key="DOMAIN", seen=asked["domain"], hint=hint)
            )
        self._world.builder.tick(self._world.clock.now(), force=True, only=domain)
        claims = self.claims(asked)["claims"]
        return {"claims": [each for each in claims if domain is None or each["domain"] == shown(domain)]}

    def support(self, asked: Json) -> Json:
        """Ask the builder's support."""
        self._world.builder.support(self._world.clock.now())
        return self.claims(asked)

    def https_only(self, asked: Json) -> Json:
        """Turn the builder's switch."""
        self._world.builder.https_only = bool(asked["on"])
        return {"on": self._world.builder.https_only}

    def claims(self, asked: Json) -> Json:
        return {"claims": [self._claim(claim) for claim in self._world.builder.claims.values()]}

    def _claim(self, claim: Claim) -> Json:
        return {
            "domain": shown(claim.domain),
            "primary": shown(claim.primary),
            "state": claim.state,
            "names": {shown(name): state for name, state in claim.states.items()},
            "words": claim.words,
            "since": rfc3339(claim.since),
            "next_check": rfc3339(claim.next_check),
        }

    def enter(self, asked: Json) -> Json:
        """Type one record into a DNS host's form."""
        host, origin = self._table(asked), self._zone(asked)
        ttl = int(asked.get("ttl") or host.ttl)
        if asked["type"].upper() == "ALIAS":
            return self._enter_alias(origin, asked, ttl)
        record = form.enter(
            self._world.zones, origin, asked["name"], asked["type"].upper(), asked["value"], ttl, host.dot_needed
        )
        return {"name": shown(record.name), "type": record.type, "values": list(record.values)}

    def edit(self, asked: Json) -> Json:
        """Change the value of one record in place; a value that the form refuses changes nothing."""
        zone = self._zone(asked)
        before = self._world.zones.get(zone)
        self.delete({**asked, "value": asked["old"]})
        try:
            return self.enter(asked)
        except BadInput:
            self._world.zones.replace(zone, dict(before.sets))
            raise

    def _enter_alias(self, origin: ZoneId, asked: Json, ttl: int) -> Json:
        """The host's own kind of alias: it shows as the addresses of its target."""
        host = self._table(asked)
        if not host.alias:
            raise BadInput(Problem("the form has no such type", key="TYPE", seen=asked["type"]))
        target = absolute(asked["value"])
        given = [each for rrtype in ("A", "AAAA") for each in self._world.lookup(target, rrtype).answer]
        sets = [each for each in given if each.type in ("A", "AAAA")]
        for each in sets:
            for value in each.values:
                form.enter(self._world.zones, origin, asked["name"], each.type, value, ttl, host.dot_needed)
        return {"name": asked["name"], "type": "ALIAS", "values": [asked["value"]]}

    def forward(self, asked: Json) -> Json:
        """The host's forwarding page: its own address replaces those at the name."""
        host = self._table(asked)
        page = next((each for each in self._world.scene.pages if each.kind == "forwarder"), None)
        address = host.forwarder if isinstance(host, OtherHostTable) else page.addresses[0] if page else ""
        if not address:
            raise BadInput(Problem("this DNS host has no forwarding page", key="NAME", seen=asked["name"]))
        form.put_address(self._world.zones, self._zone(asked), asked["name"], address, host.ttl)
        return self.entries(asked)

    def delete(self, asked: Json) -> Json:
        host, origin = self._table(asked), self._zone(asked)
        form.delete(
            self._world.zones, origin, asked["name"], asked["type"].upper(), asked.get("value"), host.dot_needed
        )
        return self.entries(asked)

    def entries(self, asked: Json) -> Json:
        """What the form shows."""
        zone = self._zone(asked)
        origin = self._world.zones.get(zone).origin
        return {
            "entries": [
                {"name": relative(each.name, origin), "type": each.type, "ttl": each.ttl, "values": list(each.values)}
                for each in form.listed(self._world.zones, zone)
            ]
        }

    def clock(self, asked: Json) -> Json:
        return {"now": rfc3339(self._world.clock.now()), "speed": self._world.clock.speed}

    def skip(self, asked: Json) -> Json:
        self._world.skip(float(asked["seconds"]))
        return self.clock(asked)

    def close(self, asked: Json) -> Json:
        self._world.close()
        return {"closed": True}
