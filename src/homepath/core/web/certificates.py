"""A certificate as a server sent it, judged for one name at one moment against given anchors (RFC 5280, RFC 9525), and
what a certificate that is not good means for an address."""

from __future__ import annotations

import warnings
from collections.abc import Mapping, Sequence
from contextlib import suppress
from datetime import UTC, datetime, timedelta
from typing import TYPE_CHECKING
from urllib.parse import urlsplit

from homepath.core.dns.names import Name, shown
from homepath.core.message import Text, msg
from homepath.core.model.findings import Finding
from homepath.core.model.visible import visible
from homepath.core.model.visits import Certificate, CertificateState, Way, WayState
from homepath.core.site.wanted import Wanted
from homepath.core.web.known import NameKnown, host_of, web_finding

if TYPE_CHECKING:
    from cryptography import x509
    from cryptography.x509 import Certificate as X509


_CODES = {
    "expired": "certificate-expired",
    "name-missing": "certificate-name-missing",
    "default": "certificate-name-missing",
    "none": "https-missing",
}


def padlock_trouble(
    way: Way, wanted: Wanted, known: Mapping[Name, NameKnown], now: float
) -> tuple[WayState, list[Finding]] | None:
    """The first certificate on the way that is not good, judged by what is known of the name that showed it."""
    mine = known[host_of(way.url)]
    for hop in way.hops:
        seen = hop.certificate
        if seen is None or seen.state in ("good", "ending"):
            continue
        there = known.get(host_of(hop.url), mine)
        if mine.forwarded and hop is way.hops[0]:
            message = msg(
                "padlocks.padlock-trouble.said", hostname=urlsplit(hop.url).hostname, detail=seen.detail or seen.state
            )
            return "unsafe", [web_finding("forwarder-without-https", way.url, message)]
        return _judged(way, seen, urlsplit(hop.url).hostname or "", there, wanted, now)
    return None


def _judged(
    way: Way, seen: Certificate, host: str, there: NameKnown, wanted: Wanted, now: float
) -> tuple[WayState, list[Finding]]:
    """One that covers the name and is not trusted is no builder's default: no waiting makes it good. After a good one
    was seen, one that is missing again does not come by itself."""
    shown_now = seen.detail or seen.state
    message = msg("padlocks.judged.said", host=host, shown_now=shown_now)
    absent = seen.state in ("none", "default", "name-missing") or (seen.state == "untrusted" and not seen.covers)
    if absent and there.obstacle:
        words = msg("padlocks.judged.words", said=message, obstacle=there.obstacle)
        return "unsafe", [web_finding("certificate-blocked", way.url, words)]
    if absent and there.may_come(wanted, now) and not there.certified:
        partly = seen.state == "name-missing" and any(covers(seen.names, shown(name)) for name in wanted.names)
        if partly:
            words = msg("padlocks.judged.words-2", names=tuple(seen.names[:4]), host=host)
            return "waiting", [web_finding("certificate-name-missing", way.url, words), *sticky(way, there, message)]
        day = next_issuing_day(wanted.https.issuing_days, now)
        words = msg("padlocks.judged.words-3", host=host, shown_now=shown_now, day=day)
        return "waiting", [web_finding("certificate-pending", way.url, words), *sticky(way, there, message)]
    code = _CODES.get(seen.state, "certificate-untrusted")
    return "unsafe", [web_finding(code, way.url, message), *sticky(way, there, message)]


def sticky(way: Way, known: NameKnown, message: Text) -> list[Finding]:
    """The former site made browsers insist on https, which does not work (RFC 6797)."""
    if known.hsts is None or not known.hsts.binds:
        return []
    words = msg("padlocks.sticky.words", words=known.hsts.words, said=message)
    return [web_finding("sticky-https-too-early", way.url, words)]


DAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")


def next_issuing_day(days: Sequence[str], now: float) -> Text:
    """`; certificates are issued on Tuesday and Friday, next on Tue 24 Nov`, or nothing without fixed days."""
    known = [
        at for at, day in enumerate(DAYS) if any(day.lower().startswith(each.strip().lower()[:3]) for each in days)
    ]
    if not days or not known:
        return ""
    today = datetime.fromtimestamp(now, UTC)
    ahead = min((at - today.weekday()) % 7 for at in known)
    then = today + timedelta(days=ahead)
    when = "today" if not ahead else msg("certificates.next-issuing-day.when", then=then.timestamp())
    return msg("certificates.next-issuing-day", DAYS=tuple(DAYS[at] for at in known), when=when)


ENDING = timedelta(days=14)
NONE = Certificate("none", False, (), "", None, msg("certificates"))


def covers(names: Sequence[str], host: str) -> bool:
    """True when a name of the certificate covers `host`; `*` means exactly the leftmost label (RFC 9525 6.3)."""
    host = host.lower().removesuffix(".")
    rest = host.partition(".")[2]
    return any(
        name == host or (name.startswith("*.") and bool(rest) and name[2:] == rest)
        for name in (each.lower().removesuffix(".") for each in names)
    )


def judge(
    chain: Sequence[bytes], host: str, anchors: Sequence[X509], now: float, builders: str | None = None
) -> Certificate:
    """The state of a chain of DER certificates, leaf first, for `host` at `now` (Unix seconds).

    `builders`: a name of the builder's own; a certificate for it, or for a domain that it is in, and not for `host` is
    the builder's default.
    """
    if not chain:
        return NONE
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # the library remarks on oddities of certificates that browsers take
        try:
            leaf, *between = read_chain(chain)
            names = _names(leaf)
            issuer = _issuer(leaf)
            ends = leaf.not_valid_after_utc.timestamp()
            state, detail = _state(leaf, between, names, host, anchors, datetime.fromtimestamp(now, UTC))
        except Exception:  # a certificate is whatever bytes a server sends, and the library fails in many ways
            return Certificate("untrusted", False, (), "", None, msg("certificates.judge"))
    if state == "name-missing" and builders and any(_within(builders, name) for name in names):
        state, detail = "default", msg("certificates.judge-2", names=tuple(names[:4]))
    return Certificate(state, covers(names, host), names, issuer, ends, detail)


def _within(builders: str, name: str) -> bool:
    """Whether a name of the builder is this one, or deeper in the same domain; a wildcard means its domain."""
    domain = name.removeprefix("*.").lower()
    return "." in domain and f".{builders.rstrip('.').lower()}".endswith(f".{domain}")


def read_chain(chain: Sequence[bytes]) -> list[X509]:
    """The leaf, and those of the others that can be read. Raises ValueError or others of the library for the leaf."""
    from cryptography import x509

    found = [x509.load_der_x509_certificate(chain[0])]
    for each in chain[1:10]:
        with suppress(Exception):  # one that is sent along and cannot be read is of no use, and does no harm
            found.append(x509.load_der_x509_certificate(each))
    return found


def _issuer(leaf: X509) -> str:
    from cryptography.x509.oid import NameOID

    issued_by = leaf.issuer.get_attributes_for_oid(NameOID.COMMON_NAME)
    issued_by = issued_by or leaf.issuer.get_attributes_for_oid(NameOID.ORGANIZATION_NAME)
    return visible(str(issued_by[0].value) if issued_by else leaf.issuer.rfc4514_string())


def _names(leaf: X509) -> tuple[str, ...]:
    from cryptography import x509

    try:
        alternative = leaf.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    except x509.ExtensionNotFound:
        return ()
    return tuple(visible(name) for name in alternative.get_values_for_type(x509.DNSName)[:200])


def _state(
    leaf: X509, between: list[X509], names: tuple[str, ...], host: str, anchors: Sequence[X509], now: datetime
) -> tuple[CertificateState, Text]:
    if now > leaf.not_valid_after_utc:
        return "expired", msg("certificates.state", at=leaf.not_valid_after_utc.timestamp())
    if now < leaf.not_valid_before_utc:
        return "not-yet-valid", msg("certificates.state-2", at=leaf.not_valid_before_utc.timestamp())
    if not covers(names, host):
        return "name-missing", msg("certificates.state-4", names=names[:4])
    trouble = _untrusted(leaf, between, host, anchors, now)
    if trouble and _link_missing(leaf, between, anchors):
        return "incomplete", msg("certificates.state-5")
    if trouble:
        return "untrusted", trouble
    if leaf.not_valid_after_utc - now < ENDING:
        return "ending", msg("certificates.state-6", at=leaf.not_valid_after_utc.timestamp())
    return "good", ""


def _untrusted(leaf: X509, between: list[X509], host: str, anchors: Sequence[X509], now: datetime) -> Text | None:
    """Why browsers would not trust it, None where they would: signatures, validity, authorities and constraints count
    (RFC 5280 section 6); which extension is marked critical, and whether one is there that no one reads, does not."""
    from cryptography import x509
    from cryptography.x509 import verification

    if not anchors:
        return msg("certificates.untrusted")
    try:
        either = verification.Criticality.AGNOSTIC
        leaves = verification.ExtensionPolicy.permit_all().may_be_present(x509.ExtendedKeyUsage, either, _for_servers)
        leaves = leaves.require_present(x509.SubjectAlternativeName, either, None)
        links = verification.ExtensionPolicy.permit_all().require_present(x509.BasicConstraints, either, _an_authority)
        builder = verification.PolicyBuilder().store(verification.Store(list(anchors))).time(now.replace(tzinfo=None))
        builder = builder.extension_policies(ca_policy=links, ee_policy=leaves)
        builder.build_server_verifier(x509.DNSName(host)).verify(leaf, between)
    except (verification.VerificationError, ValueError) as error:
        if leaf.issuer == leaf.subject:
            return msg("certificates.untrusted-2")
        if not _stands_behind(leaf, between, anchors):
            return msg("certificates.untrusted-3")
        error_text = str(error).partition("(encountered processing")[0].removeprefix("validation failed: ")
        error_text = error_text.rpartition("ValueError: ")[2].strip()
        rule = msg(f"certificate-rule.{error_text}") if error_text in _RULES else error_text[:160]
        return msg("certificates.untrusted-4", rule=rule)
    return None


_RULES = ("for-servers", "an-authority")
"""Rules of ours that the library is given; it passes on what they raise."""


def _for_servers(policy: object, leaf: X509, usage: x509.ExtendedKeyUsage | None) -> None:
    from cryptography.x509.oid import ExtendedKeyUsageOID

    allowed = (ExtendedKeyUsageOID.SERVER_AUTH, ExtendedKeyUsageOID.ANY_EXTENDED_KEY_USAGE)
    if usage is not None and not any(each in allowed for each in usage):
        raise ValueError("for-servers")  # `_RULES` has the words


def _an_authority(policy: object, link: X509, basic: x509.BasicConstraints) -> None:
    if not basic.ca:
        raise ValueError("an-authority")


def _stands_behind(leaf: X509, between: Sequence[X509], anchors: Sequence[X509]) -> bool:
    """Whether signatures lead from the leaf to a trusted authority, whatever else may be wrong."""
    at, left = leaf, list(between)
    for _ in range(len(between) + 1):
        if any(_signed_by(at, anchor) for anchor in anchors):
            return True
        link = next((each for each in left if _signed_by(at, each)), None)
        if link is None:
            return False
        left.remove(link)
        at = link
    return False


def _signed_by(one: X509, other: X509) -> bool:
    if one.issuer != other.subject:
        return False
    try:
        one.verify_directly_issued_by(other)
    except Exception:  # a wrong signature, an unknown kind of key: either way not signed by it
        return False
    return True


def _link_missing(leaf: X509, between: list[X509], anchors: Sequence[X509]) -> bool:
    """Whether the chain breaks off at a certificate that says where its issuer's is to be had (RFC 5280 4.2.2.1).

    Authorities that everybody trusts put that into each certificate; one that someone made by hand lacks it.
    """
    from cryptography import x509
    from cryptography.x509.oid import AuthorityInformationAccessOID

    known = {each.subject: each for each in (*between, *anchors)}
    last = leaf
    for _ in range(len(between) + 1):
        if last.issuer == last.subject or last.issuer not in known:
            break
        last = known[last.issuer]
    if last.issuer in known or last.issuer == last.subject:
        return False
    try:
        access = last.extensions.get_extension_for_class(x509.AuthorityInformationAccess).value
    except (x509.ExtensionNotFound, ValueError):
        return False
    return any(each.access_method == AuthorityInformationAccessOID.CA_ISSUERS for each in access)
