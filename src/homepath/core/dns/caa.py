"""Who may issue certificates for a name: CAA by RFC 8659."""

from __future__ import annotations

from dataclasses import dataclass

from homepath.core.dns.names import ROOT, Name, ancestors
from homepath.core.dns.records import RecordSet, Zone
from homepath.core.dns.values import quoted, strings

KNOWN_TAGS = frozenset({"issue", "issuewild", "iodef", "contactemail", "contactphone", "issuemail"})


@dataclass(frozen=True, slots=True)
class Property:
    """One CAA record (RFC 8659 section 4.1)."""

    critical: bool
    tag: str
    value: str

    @property
    def issuer(self) -> str:
        """The issuer's domain name without its parameters; empty for `;` (section 4.2)."""
        return self.value.split(";", 1)[0].strip().rstrip(".").lower()


def properties(record: RecordSet) -> list[Property]:
    found = []
    for value in record.values:
        flags, tag, text = value.split(" ", 2)
        found.append(Property(bool(int(flags) & 128), tag.lower(), "".join(strings(text))))
    return found


def relevant_set(name: Name, zone: Zone, surroundings: Zone, alias: Name | None = None) -> RecordSet | None:
    """The CAA set that decides for `name`: its own, else its parent's, up to the root (section 3).

    Looking up CAA at a name that is an alias returns the set at the alias's target; `alias` is the target that the
    name has or will have. The target's own parents are not climbed.
    """
    for step, at in enumerate(ancestors(name)):
        if at == ROOT:
            return None
        if step == 0 and alias:
            found = zone.get(alias, "CAA") or surroundings.get(alias, "CAA")
        else:
            found = zone.get(at, "CAA") or surroundings.get(at, "CAA")
        if found:
            return found
    return None


def has_wild(record: RecordSet) -> bool:
    """True when the set speaks of wildcard certificates by themselves; then `issue` does not count for them."""
    return any(each.tag == "issuewild" for each in properties(record))


def allows(record: RecordSet, issuer: str, wildcard: bool = False) -> bool:
    """True when the set lets `issuer` issue (sections 4.2, 4.3): an unknown critical tag forbids everything."""
    found = properties(record)
    if any(each.critical and each.tag not in KNOWN_TAGS for each in found):
        return False
    deciding = [each for each in found if each.tag == "issuewild"] if wildcard else []
    deciding = deciding or [each for each in found if each.tag == "issue"]
    return not deciding or any(each.issuer == issuer.lower() for each in deciding)


def permission(issuer: str, tag: str = "issue") -> str:
    """The CAA value that lets `issuer` issue (`issuewild`: wildcard certificates)."""
    return f"0 {tag} {quoted(issuer)}"
