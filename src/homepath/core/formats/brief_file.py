"""Brief files, `homepath.brief/1`: what a builder asks for."""

from __future__ import annotations

import re
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from homepath.core.formats.strict import Table, read_table
from homepath.core.formats.toml_lines import key_lines, line_of
from homepath.core.model.brief import Brief, BriefRecord, HttpsFacts, ValueAsked
from homepath.core.model.names import BadName, absolute
from homepath.core.model.times import seconds_in
from homepath.core.model.values import BadValue, canonical, check_host_target

FORMAT = "homepath.brief/1"
PLACE = re.compile(r"\{([A-Za-z_][A-Za-z0-9_]*)\}")


def _duration(text: str) -> str:
    seconds_in(text)
    return text


def _host(text: str) -> str:
    try:
        absolute(PLACE.sub("x", text), "x.")
    except BadName as error:
        raise ValueError(str(error)) from error
    return text


Duration = Annotated[str, AfterValidator(_duration)]
Host = Annotated[str, AfterValidator(_host)]
BriefType = Literal["A", "AAAA", "CNAME", "TXT", "MX", "CAA", "SRV"]


class RecordTable(Table):
    type: BriefType
    values: Annotated[tuple[str, ...], Field(strict=False)] = ()
    host: Host = "@"
    ttl: Annotated[int, Field(ge=0, le=2147483647)] | None = None

    @model_validator(mode="after")
    def _check(self) -> RecordTable:
        if not self.values:
            raise ValueError('has no values; write for example: values = ["192.0.2.10"]')
        for value in self.values:
            _check_value(self.type, value)
        if self.type == "CNAME" and len(self.values) > 1:
            raise ValueError("a CNAME has exactly one value (RFC 1034 section 3.6.2)")
        return self


def _check_value(rrtype: str, value: str) -> None:
    """Check a value with its places filled by an example. Raises ValueError."""
    example = PLACE.sub("x1", value)
    text = example if rrtype != "TXT" else f'"{example}"'
    try:
        read = canonical(rrtype, text, ".")
        if rrtype == "CNAME":
            check_host_target(read)
    except BadValue as error:
        raise ValueError(str(error)) from error


class OwnershipTable(Table):
    type: Literal["TXT", "CNAME"]
    host: Host = "@"
    value: str
    ttl: Annotated[int, Field(ge=0, le=2147483647)] | None = None

    @model_validator(mode="after")
    def _check(self) -> OwnershipTable:
        if self.type == "CNAME" and self.host == "@":
            raise ValueError("a CNAME cannot stand at the apex (RFC 1034 section 3.6.2); the host must be a label")
        _check_value(self.type, self.value)
        return self


class ApexTable(RecordTable):
    @model_validator(mode="after")
    def _no_cname(self) -> ApexTable:
        if self.type == "CNAME":
            raise ValueError(
                "cname-at-apex: a CNAME cannot stand at the apex beside SOA and NS (RFC 1034 section 3.6.2); "
                "give the builder's addresses as type A"
            )
        return self


class AskedTable(Table):
    ask: str
    example: str = ""


class RecordsRoute(Table):
    apex: Annotated[tuple[ApexTable, ...], Field(strict=False)] = ()
    www: Annotated[tuple[RecordTable, ...], Field(strict=False)] = ()
    label: Annotated[tuple[RecordTable, ...], Field(strict=False)] = ()


class ServersRoute(Table):
    servers: Annotated[tuple[Host, ...], Field(strict=False)]


class RoutesTable(Table):
    records: RecordsRoute = RecordsRoute()
    nameservers: ServersRoute | None = None


class RedirectsTable(Table):
    done_by: Literal["builder", "record", "nobody"] = "builder"


class HttpsTable(Table):
    issuers: Annotated[tuple[Host, ...], Field(strict=False)] = ()
    usual_wait: Duration = "30 min"
    longest_wait: Duration = "48 h"


class BriefTable(Table):
    format: str
    builder: str
    free_address: Host | None = None
    refuses_redirect_from: Annotated[tuple[str, ...], Field(strict=False)] = ()
    values: dict[str, AskedTable] = Field(default_factory=dict)
    ownership: Annotated[tuple[OwnershipTable, ...], Field(strict=False)] = ()
    routes: RoutesTable
    redirects: RedirectsTable = RedirectsTable()
    https: HttpsTable = HttpsTable()

    @model_validator(mode="after")
    def _places_are_asked(self) -> BriefTable:
        records = (*self.routes.records.apex, *self.routes.records.www, *self.routes.records.label)
        texts = [value for record in records for value in record.values]
        texts += [proof.value for proof in self.ownership] + [self.free_address or ""]
        places = {place for text in texts for place in PLACE.findall(text)} - {"domain"}
        if missing := sorted(places - set(self.values)):
            raise ValueError(
                f"{{{missing[0]}}} is used, but there is no [values.{missing[0]}] that says how to ask for it"
            )
        if not records and self.routes.nameservers is None:
            raise ValueError("there is neither a record nor a name server in [routes]")
        return self


def read_brief(text: str, file: str) -> Brief:
    """Read a brief. Raises BadInput with every problem."""
    table = read_table(text, file, BriefTable, FORMAT)
    lines = key_lines(text)

    def record_sets(part: str, records: tuple[RecordTable, ...]) -> tuple[BriefRecord, ...]:
        return tuple(
            BriefRecord(
                each.type, each.values, each.host, each.ttl, line_of(("routes", "records", part, at), lines) or 0
            )
            for at, each in enumerate(records)
        )

    routes = table.routes
    return Brief(
        builder=table.builder,
        free_address=table.free_address,
        asked=tuple(ValueAsked(name, each.ask, each.example) for name, each in table.values.items()),
        ownership=tuple(
            BriefRecord(each.type, (each.value,), each.host, each.ttl, line_of(("ownership", at), lines) or 0)
            for at, each in enumerate(table.ownership)
        ),
        apex=record_sets("apex", routes.records.apex),
        www=record_sets("www", routes.records.www),
        label=record_sets("label", routes.records.label),
        nameservers=routes.nameservers.servers if routes.nameservers else (),
        redirects_by=table.redirects.done_by,
        refuses_redirect_from=table.refuses_redirect_from,
        https=HttpsFacts(
            tuple(issuer.rstrip(".").lower() for issuer in table.https.issuers),
            seconds_in(table.https.usual_wait),
            seconds_in(table.https.longest_wait),
        ),
        file=file,
    )
