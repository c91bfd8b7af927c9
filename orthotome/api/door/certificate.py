"""The certificate that this machine shows on the shop's network, and the authority that devices are told to trust.

The authority signs this one certificate and its key is thrown away at once: it can sign for nobody else, and says itself
that it stands for this machine's names alone. Whoever steals the key that is kept can pass for this machine, as long as
the certificate lasts, and for no other.
"""

import ipaddress
import os
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

_LASTS = timedelta(days=800)  # as long as tablets accept of a certificate of one's own
_RENEWED_BEFORE = timedelta(days=30)


def certificate(folder: Path, names: frozenset[str]) -> tuple[Path, Path, Path]:
    """The files of the certificate for these names (with the authority after it), of its key, and of the authority; made
    where there is none that holds."""
    certified, key = folder / "network-certificate.pem", folder / "network-key.pem"
    authority = folder / "network-authority.pem"
    there = certified.exists() and key.exists() and authority.exists()
    if not (there and _holds(certified.read_bytes(), names)):
        _make(certified, key, authority, names)
    return certified, key, authority


def fingerprint(certified: Path) -> str:
    """Its SHA-256 fingerprint, as browsers show it."""
    found = x509.load_pem_x509_certificate(certified.read_bytes()).fingerprint(hashes.SHA256())
    return found.hex(":").upper()


def _holds(content: bytes, names: frozenset[str]) -> bool:
    try:
        found = x509.load_pem_x509_certificate(content)
        said = found.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    except (ValueError, x509.ExtensionNotFound):
        return False
    of = {str(n) for n in said.get_values_for_type(x509.IPAddress)}
    of |= set(said.get_values_for_type(x509.DNSName))
    return names == of and found.not_valid_after_utc - datetime.now(UTC) > _RENEWED_BEFORE


def _make(certified: Path, key: Path, authority: Path, names: frozenset[str]) -> None:
    signing, private = ec.generate_private_key(ec.SECP256R1()), ec.generate_private_key(ec.SECP256R1())
    signed_by = _named("Orthotome of this shop: who it trusts")
    alone = x509.NameConstraints([_constraint(n) for n in sorted(names)], None)
    root = (
        _lasting(signed_by, signed_by, signing.public_key())
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(_usage(signs=True), critical=True)
        .add_extension(alone, critical=True)
        .sign(signing, hashes.SHA256())
    )
    made = (
        _lasting(_named("Orthotome of this shop"), signed_by, private.public_key())
        .add_extension(x509.SubjectAlternativeName([_name(n) for n in sorted(names)]), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(_usage(signs=False), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .sign(signing, hashes.SHA256())
    )  # and the key that signed is not kept
    secret = private.private_bytes(
        serialization.Encoding.PEM,
        serialization.PrivateFormat.PKCS8,
        serialization.NoEncryption(),
    )
    key.unlink(missing_ok=True)
    with os.fdopen(os.open(key, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600), "wb") as file:
        file.write(secret)
    trusted = root.public_bytes(serialization.Encoding.PEM)
    authority.write_bytes(trusted)
    certified.write_bytes(made.public_bytes(serialization.Encoding.PEM) + trusted)


def _named(name: str) -> x509.Name:
    return x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, name)])


def _lasting(of: x509.Name, by: x509.Name, public: ec.EllipticCurvePublicKey) -> x509.CertificateBuilder:
    now = datetime.now(UTC)
    return (
        x509.CertificateBuilder()
        .subject_name(of)
        .issuer_name(by)
        .public_key(public)
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + _LASTS)
    )


def _usage(*, signs: bool) -> x509.KeyUsage:
    return x509.KeyUsage(
        digital_signature=not signs,
        key_cert_sign=signs,
        crl_sign=False,
        content_commitment=False,
        key_encipherment=False,
        data_encipherment=False,
        key_agreement=False,
        encipher_only=False,
        decipher_only=False,
    )


def _constraint(name: str) -> x509.GeneralName:
    """A name as the only one of its kind: an address as a network of one."""
    try:
        return x509.IPAddress(ipaddress.ip_network(name))
    except ValueError:
        return x509.DNSName(name)


def _name(name: str) -> x509.GeneralName:
    try:
        return x509.IPAddress(ipaddress.ip_address(name))
    except ValueError:
        return x509.DNSName(name)
