"""The certificate that this machine shows on the shop's network: made here, signed by itself, kept here."""

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


def certificate(folder: Path, names: frozenset[str]) -> tuple[Path, Path]:
    """The files of the certificate for these names and of its key, made where there is none that holds."""
    certified, key = folder / "network-certificate.pem", folder / "network-key.pem"
    if not (certified.exists() and key.exists() and _holds(certified.read_bytes(), names)):
        _make(certified, key, names)
    return certified, key


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
    return names <= of and found.not_valid_after_utc - datetime.now(UTC) > _RENEWED_BEFORE


def _make(certified: Path, key: Path, names: frozenset[str]) -> None:
    private = ec.generate_private_key(ec.SECP256R1())
    own = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Orthotome of this shop")])
    now = datetime.now(UTC)
    made = (
        x509.CertificateBuilder()
        .subject_name(own)
        .issuer_name(own)
        .public_key(private.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + _LASTS)
        .add_extension(x509.SubjectAlternativeName([_name(n) for n in sorted(names)]), critical=False)
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .sign(private, hashes.SHA256())
    )
    secret = private.private_bytes(
        serialization.Encoding.PEM,
        serialization.PrivateFormat.PKCS8,
        serialization.NoEncryption(),
    )
    key.unlink(missing_ok=True)
    with os.fdopen(os.open(key, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600), "wb") as file:
        file.write(secret)
    certified.write_bytes(made.public_bytes(serialization.Encoding.PEM))


def _name(name: str) -> x509.GeneralName:
    try:
        return x509.IPAddress(ipaddress.ip_address(name))
    except ValueError:
        return x509.DNSName(name)
