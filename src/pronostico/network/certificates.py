"""A certificate for this machine from a small authority of its own, that a phone can be told to trust.

The authority is good for private networks and for this machine alone (name constraints, RFC 5280, section
4.2.1.10): whoever trusts it trusts it for nothing else.
"""

import ipaddress
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.exceptions import InvalidSignature
from cryptography.hazmat.primitives import hashes
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.hazmat.primitives.serialization import (
    Encoding,
    NoEncryption,
    PrivateFormat,
    load_pem_private_key,
)
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

from pronostico.network.addresses import LOOPBACK, Addresses

_AUTHORITY_DAYS, _OWN_DAYS, _RENEWED_BEFORE_DAYS = 3650, 390, 30
"""Browsers refuse certificates that are good for more than 398 days."""
_BEFORE = timedelta(days=1)
"""Clocks of phones differ."""
_PRIVATE = tuple(
    map(
        ipaddress.ip_network,
        ("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "100.64.0.0/10", "127.0.0.0/8"),
    )
)


class UnusableCertificate(Exception):
    """A certificate cannot be served with; what is wrong and what to do."""


@dataclass(frozen=True, slots=True)
class ServedWith:
    """The files to serve with. `authority`: what a device can be told to trust; None: somebody else's."""

    certificate: Path
    key: Path
    authority: Path | None

    @property
    def fingerprint(self) -> str | None:
        """SHA-256 of the authority's certificate, to be compared by eye."""
        return None if self.authority is None else fingerprint_of(self.authority)


def fingerprint_of(certificate: Path) -> str:
    """SHA-256 of a certificate, as it is compared by eye.

    Raises:
        UnusableCertificate: it cannot be read.
    """
    return _load(certificate).fingerprint(hashes.SHA256()).hex(":").upper()


def _name(common: str) -> x509.Name:
    return x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, common)])


def _load(path: Path) -> x509.Certificate:
    try:
        return x509.load_pem_x509_certificate(path.read_bytes())
    except (OSError, ValueError) as error:
        raise UnusableCertificate(f"{path} is no certificate that can be read; expected PEM") from error


def _write(path: Path, content: bytes) -> None:
    half = path.with_name(f"{path.name}.part")
    half.touch(mode=0o600)
    half.write_bytes(content)
    half.replace(path)


def _key_bytes(key: ec.EllipticCurvePrivateKey) -> bytes:
    return key.private_bytes(Encoding.PEM, PrivateFormat.PKCS8, NoEncryption())


def _permitted(addresses: Addresses) -> list[x509.GeneralName]:
    """What the authority may vouch for."""
    elsewhere = [ip for ip in addresses.ips if not any(ip in network for network in _PRIVATE)]
    return [
        *map(x509.IPAddress, _PRIVATE),
        *(x509.IPAddress(ipaddress.ip_network(ip)) for ip in elsewhere),
        *(x509.DNSName(name) for name in (*addresses.names, "localhost")),
    ]


def _new_authority(folder: Path, addresses: Addresses, now: datetime) -> None:
    key = ec.generate_private_key(ec.SECP256R1())
    name = _name(f"Pronostico on {addresses.names[0]}"[:64])
    certificate = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - _BEFORE)
        .not_valid_after(now + timedelta(days=_AUTHORITY_DAYS))
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(_usage(signs=True), critical=True)
        .add_extension(x509.NameConstraints(_permitted(addresses), None), critical=True)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .sign(key, hashes.SHA256())
    )
    _write(folder / "authority.key", _key_bytes(key))
    _write(folder / "authority.crt", certificate.public_bytes(Encoding.PEM))


def _usage(*, signs: bool) -> x509.KeyUsage:
    return x509.KeyUsage(
        digital_signature=not signs,
        key_cert_sign=signs,
        crl_sign=signs,
        content_commitment=False,
        key_encipherment=False,
        data_encipherment=False,
        key_agreement=False,
        encipher_only=False,
        decipher_only=False,
    )


def _new_own(folder: Path, addresses: Addresses, now: datetime) -> None:
    authority = _load(folder / "authority.crt")
    signing = load_pem_private_key((folder / "authority.key").read_bytes(), None)
    assert isinstance(signing, ec.EllipticCurvePrivateKey)
    key = ec.generate_private_key(ec.SECP256R1())
    certificate = (
        x509.CertificateBuilder()
        .subject_name(_name(addresses.names[0][:64]))
        .issuer_name(authority.subject)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - _BEFORE)
        .not_valid_after(min(now + timedelta(days=_OWN_DAYS), authority.not_valid_after_utc))
        .add_extension(x509.SubjectAlternativeName(_alternatives(addresses)), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(_usage(signs=False), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(
            x509.AuthorityKeyIdentifier.from_issuer_public_key(signing.public_key()), critical=False
        )
        .sign(signing, hashes.SHA256())
    )
    _write(folder / "server.key", _key_bytes(key))
    # With the authority behind it: some devices want the whole chain.
    _write(
        folder / "server.crt", certificate.public_bytes(Encoding.PEM) + authority.public_bytes(Encoding.PEM)
    )


def _alternatives(addresses: Addresses) -> list[x509.GeneralName]:
    names = [x509.DNSName(name) for name in (*addresses.names, "localhost")]
    return [*names, *map(x509.IPAddress, (*addresses.ips, LOOPBACK))]


def _check_clock(certificate: x509.Certificate, path: Path, now: datetime) -> None:
    if now < certificate.not_valid_before_utc:
        raise UnusableCertificate(
            f"this machine's clock says {now:%Y-%m-%d}, and {path} is valid from "
            f"{certificate.not_valid_before_utc:%Y-%m-%d}: set the clock right"
        )


def _still_right(path: Path, authority: x509.Certificate, addresses: Addresses, now: datetime) -> bool:
    if not path.is_file():
        return False
    certificate = _load(path)
    _check_clock(certificate, path, now)
    named = certificate.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    try:
        certificate.verify_directly_issued_by(authority)
    except (ValueError, TypeError, InvalidSignature):
        return False
    return now < certificate.not_valid_after_utc - timedelta(days=_RENEWED_BEFORE_DAYS) and set(
        _alternatives(addresses)
    ) <= set(named)


def own_certificate(folder: Path, addresses: Addresses, *, now: datetime | None = None) -> ServedWith:
    """The certificate of this machine, made where there is none that is still right.

    The authority stays the same for ten years, or as long as the machine keeps its name and whatever address
    it has outside of private networks, so that devices that trust it need not be told again.

    Args:
        folder: where both are kept; nobody else may read it.

    Raises:
        UnusableCertificate: what is in the folder cannot be used.
    """
    now = datetime.now(UTC) if now is None else now
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    kept, key = folder / "authority.crt", folder / "authority.key"
    if not (kept.is_file() and key.is_file()):
        _new_authority(folder, addresses, now)
    authority = _load(kept)
    _check_clock(authority, kept, now)
    allowed = authority.extensions.get_extension_for_class(x509.NameConstraints).value.permitted_subtrees
    elsewhere = not set(_permitted(addresses)) <= set(allowed or [])
    if elsewhere or now > authority.not_valid_after_utc - timedelta(days=_RENEWED_BEFORE_DAYS):
        _new_authority(folder, addresses, now)
        authority = _load(kept)
    if not _still_right(folder / "server.crt", authority, addresses, now):
        _new_own(folder, addresses, now)
    return ServedWith(folder / "server.crt", folder / "server.key", kept)


def given_certificate(certificate: Path, key: Path, *, now: datetime | None = None) -> ServedWith:
    """A certificate that somebody else has made.

    Raises:
        UnusableCertificate: it cannot be read, is not valid now, or does not belong to the key.
    """
    now = datetime.now(UTC) if now is None else now
    known = _load(certificate)
    _check_clock(known, certificate, now)
    if now > known.not_valid_after_utc:
        raise UnusableCertificate(
            f"{certificate} ran out on {known.not_valid_after_utc:%Y-%m-%d}: get a new one, or leave "
            "--certificate out and have one made here"
        )
    try:
        private = load_pem_private_key(key.read_bytes(), None)
    except (OSError, ValueError, TypeError) as error:
        raise UnusableCertificate(
            f"{key} is no key that can be read; expected PEM without a password"
        ) from error
    if private.public_key() != known.public_key():
        raise UnusableCertificate(f"{key} is not the key of {certificate}")
    return ServedWith(certificate, key, None)
