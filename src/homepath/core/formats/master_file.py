"""Master files as DNS hosts export them (RFC 1035 section 5), read with the general DNS library's tokenizer."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.model.names import Name, is_within
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.records import RecordSet, Zone
from homepath.core.model.values import BadValue, canonical


def read_master_file(text: str, origin: Name, file: str) -> Zone:
    """Read an exported zone. `$INCLUDE` is refused: an export stands alone.

    Raises BadInput with the line, also for a file that holds no record of the domain.
    """
    import dns.exception
    import dns.name
    import dns.rdataclass
    import dns.zone

    text = text.removeprefix("\ufeff")
    if "\0" in text:
        raise BadInput(Problem("this is not a text file: it holds NUL characters", file, hint="export it again"))
    zone: dns.zone.Zone
    try:
        zone = dns.zone.from_text(
            _without_includes(text, file),
            dns.name.from_text(origin),
            dns.rdataclass.IN,
            relativize=False,
            check_origin=False,
            allow_include=False,
        )
    except dns.exception.SyntaxError as error:
        place, _, words = str(error).partition(": ")
        line = int(place.rpartition(":")[2]) if place.rpartition(":")[2].isdigit() else None
        if line and "newline in quoted string" in words:
            line -= 1  # the tokenizer has already passed the end of the line
        raise BadInput(Problem(f"this line cannot be read: {words or place}", file, line)) from error
    except (dns.exception.DNSException, ValueError) as error:
        raise BadInput(Problem(f"this is not a master file: {error}", file)) from error
    try:
        read = Zone.of(origin, _record_sets(zone))
    except BadValue as error:
        raise BadInput(Problem(str(error), file)) from error
    if not any(is_within(each.name, origin) for each in read):
        raise BadInput(
            Problem(f"the file holds no record of {origin}", file, hint="is it the export of another domain?")
        )
    return read


def _without_includes(text: str, file: str) -> str:
    for number, line in enumerate(text.splitlines(), 1):
        if line.upper().startswith("$INCLUDE"):
            raise BadInput(
                Problem("$INCLUDE is not followed: another file could be anything", file, number, "$INCLUDE")
            )
    return text


def _record_sets(zone: object) -> Iterator[RecordSet]:
    import dns.rdatatype
    import dns.zone

    assert isinstance(zone, dns.zone.Zone)
    for name, rdataset in zone.iterate_rdatasets():
        rrtype = dns.rdatatype.to_text(rdataset.rdtype)
        values = tuple(canonical(rrtype, rdata.to_text()) for rdata in rdataset)
        yield RecordSet(name.to_text().lower(), rrtype, rdataset.ttl, values)


def write_master_lines(sets: list[RecordSet]) -> str:
    """Record sets as master-file lines, one value a line, owner names absolute."""
    return "".join(f"{each.name}\t{each.ttl}\tIN\t{each.type}\t{value}\n" for each in sets for value in each.values)
