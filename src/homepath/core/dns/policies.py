"""Policies that a name publishes in its records: who may issue certificates (CAA, RFC 8659), and texts of which it may
have one only: SPF (RFC 7208 section 3.2), DMARC (RFC 7489 section 6.6.3), and others that begin with a version."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from homepath.core.dns.names import ROOT, Name, ancestors
from homepath.core.dns.records import RecordSet, Zone
from homepath.core.dns.values import meaning, quoted, strings

POLICIES = {"v=spf1": "SPF", "v=dmarc1": "DMARC", "v=stsv1": "MTA-STS", "v=tlsrptv1": "TLSRPT", "v=bimi1": "BIMI"}
"""The names of the policies, by the version that their texts begin with."""


def policy(text: str) -> str | None:
    """Which policy a text is, by its version; None for any other text."""
    first = text.strip().lower().replace(";", " ").split(" ")[0]
    return first if first in POLICIES else None


def is_spf(text: str) -> bool:
    return policy(text) == "v=spf1"


def exclude(rrtype: str, one: str, other: str) -> bool:
    """Whether two different values of a set make each other void: two texts of a policy that a name has once, or an MX
    record for no mail beside another (RFC 7505 section 3)."""
    one, other = meaning(rrtype, one), meaning(rrtype, other)
    if one == other or rrtype not in ("MX", "TXT"):
        return False
    if rrtype == "MX":
        return ROOT in (one.split()[-1], other.split()[-1])
    return policy(one) is not None and policy(one) == policy(other)


def stands_for(there: str, wanted: str) -> bool:
    """Whether a text that is there does what another is wanted for: it allows the same senders, or is a policy of the
    same kind by the owner's own choice, which is never doubled. One that differs by a single keystroke is a slip."""
    kind = policy(wanted)
    if kind is None or policy(there) != kind or one_edit(there, wanted):
        return False
    return kind != "v=spf1" or set(_mechanisms(wanted)) <= set(_mechanisms(there))


def join_spf(texts: Sequence[str]) -> str:
    """One SPF text that allows every sender of several; of different ends (`all`, `redirect`) the mildest counts."""
    mechanisms = dict.fromkeys(word for text in texts for word in _mechanisms(text))
    ends = [word for text in texts for word in text.split()[1:] if _is_end(word)]
    order = ("+all", "all", "?all", "~all", "-all")
    plain = [word for word in ends if word.lower() in order]
    end = min(plain, key=lambda word: order.index(word.lower()), default=ends[0] if ends else "")
    return " ".join(["v=spf1", *mechanisms, *([end] if end else [])])


def _mechanisms(text: str) -> list[str]:
    return [word for word in text.split()[1:] if not _is_end(word)]


def _is_end(word: str) -> bool:
    return word.lower().lstrip("+?~-") == "all" or word.lower().startswith("redirect=")


def one_edit(one: str, two: str) -> bool:
    """Whether two texts differ by one character that is wrong, missing, extra or swapped with its neighbour."""
    if one == two or abs(len(one) - len(two)) > 1:
        return False
    at = next((i for i, (a, b) in enumerate(zip(one, two, strict=False)) if a != b), min(len(one), len(two)))
    if len(one) == len(two):
        swapped = one[at : at + 2] == two[at : at + 2][::-1] and one[at + 2 :] == two[at + 2 :]
        return swapped or one[at + 1 :] == two[at + 1 :]
    longer, shorter = (one, two) if len(one) > len(two) else (two, one)
    return longer[at + 1 :] == shorter[at:]


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
