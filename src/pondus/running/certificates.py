"""The studio's own certificate authority, and the certificate it gives this computer.

The authority is made once, and its key is readable by its user alone. It is constrained (RFC 5280, 4.2.1.10) to the one
name of the studio and to addresses that only exist in networks of one's own (RFC 1918, 3927, 4193, 4291), so that a
device that trusts it trusts it with nothing else. The computer's certificate is short-lived and made anew before it
ends, or when a name or an address changes.
"""

import ipaddress
import os
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.hazmat.primitives.serialization import Encoding, NoEncryption, PrivateFormat, load_pem_private_key
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

from pondus.running.places import CannotStart

AUTHORITY_LASTS, CERTIFICATE_LASTS = timedelta(days=3650), timedelta(days=90)
RENEWED_BEFORE = timedelta(days=30)
CLOCKS_DIFFER = timedelta(days=2)
"""A certificate holds from so long ago: not every device's clock is right."""
OWN_NETWORKS = (
    "127.0.0.0/8",
    "10.0.0.0/8",
    "172.16.0.0/12",
    "192.168.0.0/16",
    "169.254.0.0/16",
    "::1/128",
    "fc00::/7",
    "fe80::/10",
)


def is_own_address(address: str) -> bool:
    """Whether the authority may vouch for an address: one of a network of one's own.

    >>> is_own_address("192.168.1.20"), is_own_address("203.0.113.5")
    (True, False)
    """
    plain = ipaddress.ip_address(address)
    return any(plain in ipaddress.ip_network(network) for network in OWN_NETWORKS if (":" in network) == (plain.version == 6))


@dataclass(frozen=True)
class Certificates:
    """Where the authority and the computer's certificate are kept."""

    folder: Path

    @property
    def authority(self) -> Path:
        """The authority's certificate: what devices trust."""
        return self.folder / "authority.crt"

    @property
    def authority_key(self) -> Path:
        """The authority's key, readable by its user alone."""
        return self.folder / "authority.key"

    @property
    def certificate(self) -> Path:
        """This computer's certificate, with the authority's behind it."""
        return self.folder / "server.crt"

    @property
    def key(self) -> Path:
        """This computer's key, readable by its user alone."""
        return self.folder / "server.key"

    def ensure(self, name: str, addresses: Sequence[str], *, now: datetime | None = None) -> bool:
        """Make what is missing, out of date or for other names; whether the computer's certificate is a new one.

        Raises CannotStart where it can't be written or the authority isn't whole.
        """
        moment = now or datetime.now(UTC)
        try:
            self.folder.mkdir(mode=0o700, parents=True, exist_ok=True)
            authority, key = self._authority(name, moment)
            if self._holds(name, addresses, authority, moment):
                return False
            self._issue(name, addresses, authority, key, moment)
        except OSError as error:
            raise CannotStart(f"The certificates can't be kept in {self.folder}: {error.strerror}.") from None
        return True

    def _authority(self, name: str, moment: datetime) -> tuple[x509.Certificate, ec.EllipticCurvePrivateKey]:
        if self.authority.exists() != self.authority_key.exists():
            missing = self.authority_key if self.authority.exists() else self.authority
            raise CannotStart(
                f"{missing} is gone. Bring it back, or remove {self.folder}: a new authority is made then, and every device"
                " has to be told to trust it."
            )
        if not self.authority.exists():
            self._make_authority(name, moment)
        try:
            certificate = x509.load_pem_x509_certificate(self.authority.read_bytes())
            key = load_pem_private_key(self.authority_key.read_bytes(), password=None)
        except ValueError:
            raise CannotStart(
                f"{self.authority} or its key is damaged. Bring both back, or remove {self.folder}: a new authority is made"
                " then, and every device has to be told to trust it."
            ) from None
        assert isinstance(key, ec.EllipticCurvePrivateKey)
        return certificate, key

    def _make_authority(self, name: str, moment: datetime) -> None:
        key = ec.generate_private_key(ec.SECP256R1())
        subject = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, f"Pondus studio {name.removesuffix('.local')}")])
        allowed = [x509.DNSName(name), x509.DNSName("localhost")]
        networks = [x509.IPAddress(ipaddress.ip_network(network)) for network in OWN_NETWORKS]
        made = (
            x509.CertificateBuilder()
            .subject_name(subject)
            .issuer_name(subject)
            .public_key(key.public_key())
            .serial_number(x509.random_serial_number())
            .not_valid_before(moment - CLOCKS_DIFFER)
            .not_valid_after(moment + AUTHORITY_LASTS)
            .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
            .add_extension(_usage(signs=True), critical=True)
            .add_extension(x509.NameConstraints([*allowed, *networks], None), critical=True)
            .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
            .sign(key, hashes.SHA256())
        )
        _write_secret(self.authority_key, _pem_of(key))
        _write(self.authority, made.public_bytes(Encoding.PEM))

    def _holds(self, name: str, addresses: Sequence[str], authority: x509.Certificate, moment: datetime) -> bool:
        try:
            kept = x509.load_pem_x509_certificate(self.certificate.read_bytes())
            load_pem_private_key(self.key.read_bytes(), password=None)
            kept.verify_directly_issued_by(authority)
        except Exception:  # whatever is wrong with it, another is made
            return False
        names = kept.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
        told = set(names.get_values_for_type(x509.DNSName)) | {
            str(address) for address in names.get_values_for_type(x509.IPAddress)
        }
        wanted = {name, "localhost", *addresses, "127.0.0.1"}
        return told == wanted and kept.not_valid_after_utc - moment > RENEWED_BEFORE

    def _issue(
        self,
        name: str,
        addresses: Sequence[str],
        authority: x509.Certificate,
        authority_key: ec.EllipticCurvePrivateKey,
        moment: datetime,
    ) -> None:
        key = ec.generate_private_key(ec.SECP256R1())
        hosts = dict.fromkeys([*addresses, "127.0.0.1"])
        names: list[x509.GeneralName] = [x509.DNSName(name), x509.DNSName("localhost")]
        names += [x509.IPAddress(ipaddress.ip_address(host)) for host in hosts]
        made = (
            x509.CertificateBuilder()
            .subject_name(x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, name)]))
            .issuer_name(authority.subject)
            .public_key(key.public_key())
            .serial_number(x509.random_serial_number())
            .not_valid_before(moment - CLOCKS_DIFFER)
            .not_valid_after(moment + CERTIFICATE_LASTS)
            .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
            .add_extension(_usage(signs=False), critical=True)
            .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
            .add_extension(x509.SubjectAlternativeName(names), critical=False)
            .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(authority_key.public_key()), critical=False)
            .sign(authority_key, hashes.SHA256())
        )
        _write_secret(self.key, _pem_of(key))
        _write(self.certificate, made.public_bytes(Encoding.PEM) + authority.public_bytes(Encoding.PEM))


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


def _pem_of(key: ec.EllipticCurvePrivateKey) -> bytes:
    return key.private_bytes(Encoding.PEM, PrivateFormat.PKCS8, NoEncryption())


def _write_secret(file: Path, content: bytes) -> None:
    beside = file.with_suffix(".part")
    handle = os.open(beside, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
    with os.fdopen(handle, "wb") as out:
        out.write(content)
    beside.replace(file)


def _write(file: Path, content: bytes) -> None:
    beside = file.with_suffix(".part")
    beside.write_bytes(content)
    beside.replace(file)
