"""A certificate for the studio's own network: an authority of its own, and what it vouches for."""

from __future__ import annotations

import ipaddress
import os
import sys
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path
from typing import TYPE_CHECKING

from niddy.settings import Settings

if TYPE_CHECKING:
    from cryptography.hazmat.primitives.asymmetric.ec import EllipticCurvePrivateKey
    from cryptography.x509 import Certificate, KeyUsage, Name, SubjectAlternativeName

AUTHORITY_LASTS = timedelta(days=3_650)
LASTS = timedelta(days=397)
"""Browsers trust no certificate for longer."""

SLACK = timedelta(days=1)


@dataclass(frozen=True, slots=True)
class Files:
    """Where the certificate of an instance and its key are, and the authority that phones are to trust."""

    certificate: Path
    key: Path
    authority: Path


def files(settings: Settings) -> Files:
    """The files an instance serves https with: those named in the environment, or its own."""
    folder = settings.home / "certificate"
    return Files(
        settings.certificate or folder / "niddy.crt",
        settings.certificate_key or folder / "niddy.key",
        folder / "authority.crt",
    )


def missing(settings: Settings) -> str:
    """What is missing for https, in words; empty where nothing is, or http is served."""
    if settings.scheme != "https":
        return ""
    there = files(settings)
    for file in (there.certificate, there.key):
        if not os.access(file, os.R_OK):
            return f"{file} cannot be read; ./niddy certificate makes one, or name yours with NIDDY_CERTIFICATE"
    return ""


def good_until(settings: Settings) -> datetime:
    """When the certificate an instance serves with ends."""
    from cryptography import x509

    return x509.load_pem_x509_certificate(files(settings).certificate.read_bytes()).not_valid_after_utc


def certificate(settings: Settings) -> int:
    """Make an authority where there is none yet, and a certificate for the address; the exit code."""
    if settings.address is None or settings.scheme != "https":
        print("niddy: say where first, such as NIDDY_ADDRESS=https://192.168.1.20:8740", file=sys.stderr)
        return 1
    if settings.certificate is not None or settings.certificate_key is not None:
        print("niddy: a certificate of yours is named in NIDDY_CERTIFICATE; nothing was made", file=sys.stderr)
        return 1
    there = files(settings)
    host = settings.address.host or ""
    there.certificate.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    made_now = make(there, host, settings.now())
    print(f"Made for {host}, good until {settings.now() + LASTS:%Y-%m-%d}: {there.certificate}")
    if made_now:
        print(
            f"So that a phone trusts it: copy {there.authority} to the phone (cable or a message to yourself), open it "
            "there, install it as a certificate authority in the phone's settings for security, and on some phones "
            "switch full trust on as well. Remove it there when the phone leaves the studio."
        )
    print("Start Niddy again to use it.")
    return 0


def make(there: Files, host: str, now: datetime) -> bool:
    """Write a new certificate for a host; whether its authority was made as well, and is to be trusted anew."""
    from cryptography import x509
    from cryptography.hazmat.primitives import hashes, serialization
    from cryptography.hazmat.primitives.asymmetric import ec
    from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

    authority_key_file = there.authority.with_suffix(".key")
    anew = not (there.authority.is_file() and authority_key_file.is_file())

    def named(name: str) -> Name:
        return x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, name)])

    def begun(subject: Name, issuer: Name, key: EllipticCurvePrivateKey, lasts: timedelta) -> x509.CertificateBuilder:
        return (
            x509.CertificateBuilder()
            .subject_name(subject)
            .issuer_name(issuer)
            .public_key(key.public_key())
            .serial_number(x509.random_serial_number())
            .not_valid_before(now - SLACK)
            .not_valid_after(now + lasts)
        )

    if anew:
        authority_key = ec.generate_private_key(ec.SECP256R1())
        name = named("Niddy, this studio's own authority")
        authority = (
            begun(name, name, authority_key, AUTHORITY_LASTS)
            .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
            .add_extension(_usage(signs=True), critical=True)
            .add_extension(x509.SubjectKeyIdentifier.from_public_key(authority_key.public_key()), critical=False)
            .sign(authority_key, hashes.SHA256())
        )
        _write_key(authority_key_file, authority_key)
        _write(there.authority, authority)
    else:
        loaded = serialization.load_pem_private_key(authority_key_file.read_bytes(), None)
        assert isinstance(loaded, ec.EllipticCurvePrivateKey)
        authority_key, authority = loaded, x509.load_pem_x509_certificate(there.authority.read_bytes())
    key = ec.generate_private_key(ec.SECP256R1())
    made = (
        begun(named(host), authority.subject, key, LASTS)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(_usage(signs=False), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(_hosts(host), critical=False)
        .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(authority_key.public_key()), critical=False)
        .sign(authority_key, hashes.SHA256())
    )
    _write_key(there.key, key)
    _write(there.certificate, made, authority)
    return anew


def _usage(*, signs: bool) -> KeyUsage:
    from cryptography import x509

    return x509.KeyUsage(
        digital_signature=True,
        key_cert_sign=signs,
        crl_sign=signs,
        content_commitment=False,
        key_encipherment=False,
        data_encipherment=False,
        key_agreement=False,
        encipher_only=False,
        decipher_only=False,
    )


def _hosts(host: str) -> SubjectAlternativeName:
    """The address itself, and this machine by its own names."""
    from cryptography import x509

    names: list[x509.GeneralName] = [x509.DNSName("localhost"), x509.IPAddress(ipaddress.IPv4Address("127.0.0.1"))]
    try:
        names.append(x509.IPAddress(ipaddress.IPv4Address(host)))
    except ipaddress.AddressValueError:
        names.append(x509.DNSName(host))
    return x509.SubjectAlternativeName(names)


def _write(file: Path, *certificates: Certificate) -> None:
    from cryptography.hazmat.primitives.serialization import Encoding

    file.write_bytes(b"".join(one.public_bytes(Encoding.PEM) for one in certificates))


def _write_key(file: Path, key: EllipticCurvePrivateKey) -> None:
    from cryptography.hazmat.primitives.serialization import Encoding, NoEncryption, PrivateFormat

    said = key.private_bytes(Encoding.PEM, PrivateFormat.PKCS8, NoEncryption())
    file.unlink(missing_ok=True)
    with os.fdopen(os.open(file, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as to:
        to.write(said)
