"""The certificate authority of the practice world: a root of its own, and leaves for the builder's names."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import AuthorityInformationAccessOID, ExtendedKeyUsageOID, NameOID

_DAY = timedelta(days=1)


@dataclass(frozen=True)
class Issued:
    """A certificate with its chain and private key, as PEM text."""

    chain: bytes
    key: bytes


class Authority:
    """Issues certificates valid from a moment of the story on."""

    def __init__(self, name: str, now: float) -> None:
        self._key = ec.generate_private_key(ec.SECP256R1())
        self._name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, name)])
        begins = datetime.fromtimestamp(now, UTC) - _DAY
        usage = x509.KeyUsage(False, False, False, False, False, True, True, False, False)
        self._certificate = (
            _builder(self._name, self._name, self._key.public_key(), begins, begins + 3650 * _DAY)
            .add_extension(x509.BasicConstraints(ca=True, path_length=1), critical=True)
            .add_extension(usage, critical=True)
            .add_extension(x509.SubjectKeyIdentifier.from_public_key(self._key.public_key()), critical=False)
            .sign(self._key, hashes.SHA256())
        )

    @property
    def bundle(self) -> str:
        """The root as PEM text, to be trusted in this world."""
        return self._certificate.public_bytes(serialization.Encoding.PEM).decode()

    def issue_below(self, names: Sequence[str], now: float, sent: bool = True) -> Issued:
        """A certificate by an intermediate authority, whose own is sent along, or forgotten as careless servers do."""
        below = Authority(f"{self._name.rfc4514_string().removeprefix('CN=')} issuing", now)
        begins = datetime.fromtimestamp(now, UTC) - _DAY
        usage = x509.KeyUsage(False, False, False, False, False, True, True, False, False)
        link = (
            _builder(below._name, self._name, below._key.public_key(), begins, begins + 1000 * _DAY)
            .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
            .add_extension(usage, critical=True)
            .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(self._key.public_key()), critical=False)
            .sign(self._key, hashes.SHA256())
        )
        issued = below.issue(names, now, where="http://tallowseal.example/issuing.der")
        more = link.public_bytes(serialization.Encoding.PEM) if sent else b""
        return Issued(issued.chain + more, issued.key)

    def issue(self, names: Sequence[str], now: float, days: int = 90, where: str = "") -> Issued:
        """A certificate for these host names; `where` the issuer's own is to be had, if it says so."""
        key = ec.generate_private_key(ec.SECP256R1())
        begins = datetime.fromtimestamp(now, UTC) - timedelta(minutes=5)
        subject = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, names[0][:64])])
        unsigned = (
            _builder(subject, self._name, key.public_key(), begins, begins + days * _DAY)
            .add_extension(x509.SubjectAlternativeName([x509.DNSName(name) for name in names]), critical=False)
            .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
            .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
            .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(self._key.public_key()), critical=False)
        )
        if where:
            issuers = x509.AccessDescription(
                AuthorityInformationAccessOID.CA_ISSUERS, x509.UniformResourceIdentifier(where)
            )
            unsigned = unsigned.add_extension(x509.AuthorityInformationAccess([issuers]), critical=False)
        leaf = unsigned.sign(self._key, hashes.SHA256())
        pem = serialization.Encoding.PEM
        secret = key.private_bytes(pem, serialization.PrivateFormat.PKCS8, serialization.NoEncryption())
        return Issued(leaf.public_bytes(pem), secret)


def _builder(
    subject: x509.Name, issuer: x509.Name, key: ec.EllipticCurvePublicKey, begins: datetime, ends: datetime
) -> x509.CertificateBuilder:
    return (
        x509.CertificateBuilder()
        .subject_name(subject)
        .issuer_name(issuer)
        .public_key(key)
        .serial_number(x509.random_serial_number())
        .not_valid_before(begins)
        .not_valid_after(ends)
    )
