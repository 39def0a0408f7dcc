"""A certificate as a server sent it, judged for one name at one moment against given anchors (RFC 5280, RFC 9525)."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime, timedelta
from typing import TYPE_CHECKING

from homepath.core.model.visits import Certificate, CertificateState

if TYPE_CHECKING:
    from cryptography.x509 import Certificate as X509

ENDING = timedelta(days=14)
NONE = Certificate("none", False, (), "", None, "no certificate was shown")


def covers(names: Sequence[str], host: str) -> bool:
    """True when a name of the certificate covers `host`; `*` stands for exactly the leftmost label (RFC 9525 6.3)."""
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

    `builders`: a name of the builder's own; a certificate that covers it and not `host` is the builder's default.
    """
    from cryptography import x509
    from cryptography.x509.oid import NameOID

    if not chain:
        return NONE
    try:
        leaf, *between = [x509.load_der_x509_certificate(each) for each in chain[:10]]
        names = _names(leaf)
        issued_by = leaf.issuer.get_attributes_for_oid(NameOID.COMMON_NAME)
        issued_by = issued_by or leaf.issuer.get_attributes_for_oid(NameOID.ORGANIZATION_NAME)
    except ValueError as error:
        return Certificate("untrusted", False, (), "", None, f"the certificate cannot be read: {error}")
    issuer = str(issued_by[0].value) if issued_by else leaf.issuer.rfc4514_string()
    state, detail = _state(leaf, between, names, host, anchors, datetime.fromtimestamp(now, UTC))
    if state == "name-missing" and builders and covers(names, builders):
        state, detail = "default", f"the builder's own, for {', '.join(names[:4])}"
    return Certificate(state, covers(names, host), names, issuer, leaf.not_valid_after_utc.timestamp(), detail)


def _names(leaf: X509) -> tuple[str, ...]:
    from cryptography import x509

    try:
        alternative = leaf.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    except x509.ExtensionNotFound:
        return ()
    return tuple(alternative.get_values_for_type(x509.DNSName)[:200])


def _state(
    leaf: X509,
    between: list[X509],
    names: tuple[str, ...],
    host: str,
    anchors: Sequence[X509],
    now: datetime,
) -> tuple[CertificateState, str]:
    if now > leaf.not_valid_after_utc:
        return "expired", f"it ended on {leaf.not_valid_after_utc:%Y-%m-%d}"
    if now < leaf.not_valid_before_utc:
        return "not-yet-valid", f"it begins on {leaf.not_valid_before_utc:%Y-%m-%d %H:%M}"
    if not covers(names, host):
        return "name-missing", f"it is for {', '.join(names[:4]) or 'no name at all'}"
    trouble = _untrusted(leaf, between, host, anchors, now)
    if trouble and _link_missing(leaf, between, anchors):
        return "incomplete", "the server does not send the certificate of the issuer along"
    if trouble:
        return "untrusted", trouble
    if leaf.not_valid_after_utc - now < ENDING:
        return "ending", f"it ends on {leaf.not_valid_after_utc:%Y-%m-%d}"
    return "good", ""


def _untrusted(leaf: X509, between: list[X509], host: str, anchors: Sequence[X509], now: datetime) -> str | None:
    from cryptography import x509
    from cryptography.x509 import verification

    if not anchors:
        return "there is no list of trusted authorities to check it against"
    try:
        builder = verification.PolicyBuilder().store(verification.Store(list(anchors))).time(now.replace(tzinfo=None))
        builder.build_server_verifier(x509.DNSName(host)).verify(leaf, between)
    except (verification.VerificationError, ValueError) as error:
        self_signed = leaf.issuer == leaf.subject
        return "it is self-signed" if self_signed else f"no trusted authority stands behind it ({error})"[:200]
    return None


def _link_missing(leaf: X509, between: list[X509], anchors: Sequence[X509]) -> bool:
    """Whether the chain breaks off at a certificate that says where its issuer's is to be had (RFC 5280 4.2.2.1).

    Authorities that everybody trusts put that into each certificate; one that somebody made by hand lacks it.
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
