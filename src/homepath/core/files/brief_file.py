"""Brief files, `homepath.brief/1`: what a builder asks for."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from functools import partial
from typing import Any, get_args

from homepath.core.dns.names import absolute
from homepath.core.dns.values import canonical, check_host_target, text_value
from homepath.core.files.strict import (
    Field,
    Reader,
    Report,
    list_of,
    map_of,
    number,
    one_of,
    read_file,
    table,
    text,
    yes_no,
)
from homepath.core.message import msg
from homepath.core.model.brief import (
    LOADS_WITHIN,
    PLAIN_ZONE,
    Brief,
    BriefRecord,
    BriefStep,
    Existing,
    HttpsFacts,
    NewZone,
    Redirector,
    ReservedName,
    ValueAsked,
    When,
)
from homepath.core.model.times import seconds_in

FORMAT = "homepath.brief/1"
PLACE = re.compile(r"\{([A-Za-z_][A-Za-z0-9_]*)\}")
MOST_TTL = 2147483647
"""Seconds; RFC 2181 section 8."""


def host(words: str) -> str:
    """A name, relative or not, that may hold places to fill. Raises ValueError."""
    absolute(PLACE.sub("x", words), "x.")
    return words


def _record(
    type: str,
    values: tuple[str, ...],
    host: str,
    ttl: int | None,
    line: int,
    optional: bool = False,
    purpose: str = "website",
) -> BriefRecord:
    for value in values:
        _check_value(type, value)
    if type == "CNAME" and len(values) > 1:
        raise ValueError(msg("brief-file.record"))
    return BriefRecord(type, values, host, ttl, line, optional, purpose)


def _check_value(rrtype: str, value: str) -> None:
    """Check a value with its places filled by an example. Raises ValueError."""
    example = PLACE.sub("x1", value)
    read = canonical(rrtype, text_value(example) if rrtype == "TXT" else example, ".")
    if rrtype == "CNAME":
        check_host_target(read)


def _apex_record(
    type: str, values: tuple[str, ...], host: str, ttl: int | None, line: int, optional: bool = False
) -> BriefRecord:
    if type == "CNAME":
        raise ValueError(msg("brief-file.apex-record"))
    return _record(type, values, host, ttl, line, optional)


def _deleted(type: str, values: tuple[str, ...], host: str, line: int) -> BriefRecord:
    for value in values:
        canonical(type, text_value(value) if type == "TXT" else value, ".")
    return BriefRecord(type, values, host, None, line)


def _ownership(type: str, host: str, value: str, ttl: int | None, line: int) -> BriefRecord:
    if type == "CNAME" and host == "@":
        raise ValueError(msg("brief-file.ownership"))
    return _record(type, (value,), host, ttl, line)


@dataclass(frozen=True, slots=True)
class _Routes:
    apex: tuple[BriefRecord, ...] = ()
    www: tuple[BriefRecord, ...] = ()
    label: tuple[BriefRecord, ...] = ()
    apex_alias: str | None = None
    www_by_address: tuple[BriefRecord, ...] = ()
    label_by_address: tuple[BriefRecord, ...] = ()
    servers: tuple[str, ...] = ()
    new_zone: NewZone = PLAIN_ZONE


def _routes(records: _Routes, nameservers: _Routes) -> _Routes:
    return replace(records, servers=nameservers.servers, new_zone=nameservers.new_zone)


def _nameservers(servers: tuple[str, ...], **more: Any) -> _Routes:
    return _Routes(servers=servers, new_zone=NewZone(**more))


def _https(issuers: tuple[str, ...], usual_wait: int | None, longest_wait: int | None, **more: Any) -> HttpsFacts:
    names = tuple(issuer.rstrip(".").lower() for issuer in issuers)
    facts = HttpsFacts(names, **more, waits_said=longest_wait is not None)
    usual = facts.usual_wait if usual_wait is None else usual_wait
    return replace(facts, usual_wait=usual, longest_wait=facts.longest_wait if longest_wait is None else longest_wait)


def _target(words: str) -> str:
    _check_value("CNAME", words)
    return words


def _redirects(done_by: Redirector, records: tuple[BriefRecord, ...]) -> tuple[Redirector, tuple[BriefRecord, ...]]:
    if (done_by == "record") != bool(records):
        raise ValueError(msg("brief-file.redirects"))
    return done_by, records


def _brief(
    builder: str,
    free_address: str | None,
    reserved_names: tuple[ReservedName, ...],
    refuses_redirect_from: tuple[ReservedName, ...],
    values: dict[str, ValueAsked],
    ownership: tuple[BriefRecord, ...],
    routes: _Routes,
    redirects: tuple[Redirector, tuple[BriefRecord, ...]],
    https: HttpsFacts,
    further: tuple[BriefRecord, ...],
    limits: tuple[str, ...],
    steps: tuple[BriefStep, ...],
    deletes: tuple[BriefRecord, ...],
) -> Brief:
    asked = tuple(replace(each, name=name) for name, each in values.items())
    if routes == _Routes() and not (ownership or further):
        raise ValueError(msg("brief-file.brief"))
    if reserved_names and refuses_redirect_from:
        raise ValueError(msg("brief-file.brief-2"))
    by_address = (*routes.www_by_address, *routes.label_by_address)
    records = (*routes.apex, *routes.www, *routes.label, *by_address, *ownership, *further, *redirects[1])
    texts = [*(value for record in records for value in (*record.values, record.host)), free_address or ""]
    texts += [routes.apex_alias or "", *routes.servers]
    places = {place for words in texts for place in PLACE.findall(words)} - {"domain"}
    if missing := sorted(places - set(values)):
        raise ValueError(msg("brief-file.brief-3", missing=missing[0]))
    return Brief(
        builder,
        free_address,
        asked,
        ownership,
        routes.apex,
        routes.www,
        routes.label,
        routes.apex_alias,
        routes.www_by_address,
        routes.label_by_address,
        further,
        routes.servers,
        routes.new_zone,
        *redirects,
        reserved_names or refuses_redirect_from,
        https,
        limits,
        steps,
        deletes,
        old_keys=(("refuses_redirect_from", "reserved_names"),) if refuses_redirect_from else (),
    )


def _reserved(value: Any, path: tuple[str | int, ...], report: Report) -> Any:
    """Names that the builder keeps for itself: a list, or a table that gives each one a reason."""
    if isinstance(value, dict):
        reasons = map_of(text())(value, path, report) or {}
        return tuple(ReservedName(*each) for each in reasons.items())
    return tuple(ReservedName(each) for each in list_of(text())(value, path, report) or ())


_TTL = Field(number(0, MOST_TTL), None)
_HOST = Field(text(host), "@")
_RECORD = {
    "type": Field(one_of("A", "AAAA", "CNAME", "TXT", "MX", "CAA", "SRV", "HTTPS")),
    "values": Field(list_of(text(), least=1)),
    "host": _HOST,
    "ttl": _TTL,
    "optional": Field(yes_no, False),
}
_FURTHER = {
    **_RECORD,
    "purpose": Field(one_of("website", "mail", "mail authentication", "proof of ownership", "other")),
}
_OWNERSHIP = {"type": Field(one_of("TXT", "CNAME")), "host": _HOST, "value": Field(text()), "ttl": _TTL}
_DELETED = {"type": Field(text()), "values": Field(list_of(text(), least=1)), "host": _HOST}
_RECORDS = Field(list_of(table(_record, _RECORD, line=True)), ())
_ASKED = table(partial(ValueAsked, ""), {"ask": Field(text()), "example": Field(text(), "")})
_STEP = {
    "when": Field(one_of(*get_args(When))),
    "title": Field(text()),
    "instruction": Field(text(), ""),
    "expect": Field(text(), ""),
    "publishes": Field(yes_no, False),
}
_ROUTES = {
    "apex": Field(list_of(table(_apex_record, _RECORD, line=True)), ()),
    "www": _RECORDS,
    "label": _RECORDS,
    "apex_alias": Field(text(_target), None),
    "www_by_address": _RECORDS,
    "label_by_address": _RECORDS,
}
NEW_ZONE = {
    "existing": Field(list_of(one_of(*get_args(Existing))), ()),
    "loads_within": Field(text(seconds_in), LOADS_WITHIN),
}
_HTTPS = {
    "issuers": Field(list_of(text(host)), ()),
    "usual_wait": Field(text(seconds_in), None),
    "longest_wait": Field(text(seconds_in), None),
    "wildcard": Field(yes_no, False),
    "issuing_days": Field(list_of(one_of("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")), ()),
}
_REDIRECTS = {"done_by": Field(one_of("builder", "record", "nobody"), "unknown"), "records": _RECORDS}
_FORM: Reader = table(
    _brief,
    {
        "builder": Field(text()),
        "free_address": Field(text(host), None),
        "reserved_names": Field(_reserved, ()),
        "refuses_redirect_from": Field(_reserved, ()),
        "limits": Field(list_of(text()), ()),
        "values": Field(map_of(_ASKED), {}),
        "ownership": Field(list_of(table(_ownership, _OWNERSHIP, line=True)), ()),
        "routes": Field(
            table(
                _routes,
                {
                    "records": Field(table(_Routes, _ROUTES), _Routes()),
                    "nameservers": Field(
                        table(_nameservers, {"servers": Field(list_of(text(host), least=1)), **NEW_ZONE}), _Routes()
                    ),
                },
            ),
            _Routes(),
        ),
        "redirects": Field(table(_redirects, _REDIRECTS), ("unknown", ())),
        "https": Field(table(_https, _HTTPS), HttpsFacts()),
        "further": Field(list_of(table(_record, _FURTHER, line=True)), ()),
        "steps": Field(list_of(table(BriefStep, _STEP)), ()),
        "deletes": Field(list_of(table(_deleted, _DELETED, line=True)), ()),
    },
)


def read_brief(words: str, file: str) -> Brief:
    """Read a brief. Raises BadInput with every problem."""
    brief: Brief = read_file(words, file, _FORM, FORMAT)
    return replace(brief, file=file)
