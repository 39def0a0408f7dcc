"""Master files as DNS hosts export them (RFC 1035 section 5), read with the general DNS library's tokenizer."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from homepath.core.dns.names import Name, is_within
from homepath.core.dns.records import RecordSet, Zone
from homepath.core.dns.values import BadValue, canonical
from homepath.core.message import msg, reason
from homepath.core.model.problems import BadInput, Problem

if TYPE_CHECKING:
    import dns.rdata


class NoMasterFile(BadInput):
    """The text is not written as a master file: one of its lines cannot be read as such."""


def read_master_file(text: str, origin: Name, file: str) -> Zone:
    """Read an exported zone. `$INCLUDE` is refused: an export stands alone.

    Raises BadInput with the line, also for a file that holds no record of the domain.
    """
    import dns.exception
    import dns.name
    import dns.rdataclass
    import dns.tokenizer
    import dns.zonefile

    text = text.removeprefix("\ufeff")
    if "\0" in text:
        raise BadInput(Problem(msg("exports.read-export"), file, hint=msg("exports.read-export.hint")))
    found: list[tuple[Name, int, dns.rdata.Rdata]] = []

    class Everything(dns.zonefile.RRsetsReaderTransaction):
        """Takes each record as it comes: what no zone may hold, such as two aliases, is judged later."""

        def add(self, *args: Any) -> None:
            name, ttl, rdata = args
            found.append((name.to_text().lower(), ttl, rdata))

        def check_put_rdataset(self, check: Any) -> None:
            pass

    try:
        manager = dns.zonefile.RRSetsReaderManager(dns.name.from_text(origin), relativize=False)
        tokens = dns.tokenizer.Tokenizer(_plain(text, file), "<string>")
        taking = Everything(manager, True, False)  # type: ignore[no-untyped-call]
        reader = dns.zonefile.Reader(tokens, dns.rdataclass.IN, taking)
        reader.read()
    except dns.exception.SyntaxError as error:
        place, _, words = str(error).partition(": ")
        line = int(place.rpartition(":")[2]) if place.rpartition(":")[2].isdigit() else None
        if line and "newline in quoted string" in words:
            line -= 1  # the tokenizer has already passed the end of the line
        raise NoMasterFile(Problem(msg("master-file.read-master-file", words=words or place), file, line)) from error
    except (dns.exception.DNSException, ValueError) as error:
        raise BadInput(Problem(msg("master-file.read-master-file-2", error=reason(error)), file)) from error
    try:
        read = Zone.of(origin, (_record_set(*each) for each in found))
    except BadValue as error:
        raise BadInput(Problem(reason(error), file)) from error
    if not any(is_within(each.name, origin) for each in read):
        raise BadInput(
            Problem(msg("exports.read-export-3", origin=origin), file, hint=msg("master-file.read-master-file.hint"))
        )
    return read


_DIRECTIVES = {
    "$INCLUDE": msg("master-file.directives"),
    "$GENERATE": msg("master-file.directives-2"),
}


def _plain(text: str, file: str) -> str:
    """The text, if it holds nothing but records, `$ORIGIN` and `$TTL`."""
    for number, line in enumerate(text.splitlines(), 1):
        word = line.lstrip().split(None, 1)[0].upper() if line.lstrip()[:1] == "$" else ""
        if word in _DIRECTIVES:
            raise BadInput(Problem(_DIRECTIVES[word], file, number, word))
    return text


def _record_set(name: Name, ttl: int, rdata: dns.rdata.Rdata) -> RecordSet:
    import dns.rdatatype

    rrtype = dns.rdatatype.to_text(rdata.rdtype)
    return RecordSet(name, rrtype, ttl, (canonical(rrtype, rdata.to_text()),))


def write_master_lines(sets: list[RecordSet]) -> str:
    """Record sets as master-file lines, one value a line, owner names absolute."""
    return "".join(f"{each.name}\t{each.ttl}\tIN\t{each.type}\t{value}\n" for each in sets for value in each.values)
