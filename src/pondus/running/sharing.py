"""Pondus shared with the room: a name that stays, the addresses of the moment, a certificate for both.

`Sharing` keeps it so while Pondus runs: it looks again and again whether this computer got another address or its
certificate is near its end. What it found stands in ``share.json`` of the studio's folder, for the server and its pages.
The name is told to the network by multicast DNS (package ``zeroconf``).
"""

import ipaddress
import json
import secrets
import socket
import sys
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from threading import Event, Thread

import ifaddr
from zeroconf import Error, InterfaceChoice, IPVersion, ServiceInfo, Zeroconf

from pondus.running.certificates import Certificates, is_own_address
from pondus.running.places import CannotStart, Home

SERVICE = "_https._tcp.local."
DEFAULT_PORT = 8443


@dataclass(frozen=True)
class ShareOptions:
    """How Pondus is shared: the port; the one address to answer on (None: all); a certificate of one's own with its key and the
    name in it.
    """

    port: int = DEFAULT_PORT
    on: str | None = None
    certificate: Path | None = None
    key: Path | None = None
    name: str | None = None

    def check(self) -> None:
        """Raises CannotStart for what can't be used together, or isn't there."""
        if (self.certificate is None) != (self.key is None):
            raise CannotStart("A certificate of one's own needs both --cert and --key.")
        if self.certificate is not None and self.name is None:
            raise CannotStart("Say with --name under which name that certificate is known, as in --name tuning.example.org.")
        for file in (self.certificate, self.key):
            if file is not None and not file.is_file():
                raise CannotStart(f"{file} isn't there.")
        if self.on is not None:
            try:
                ipaddress.ip_address(self.on)
            except ValueError:
                raise CannotStart(
                    f"“{self.on}” isn't an address; give one of this computer's, as in --on 192.168.1.20."
                ) from None


def present_addresses() -> list[str]:
    """This computer's addresses in networks of its own, IPv4 first; loopback and what is only good on one cable left out."""
    found = []
    for adapter in ifaddr.get_adapters():
        for address in adapter.ips:
            plain = ipaddress.ip_address(address.ip if isinstance(address.ip, str) else address.ip[0])
            if not plain.is_loopback and not plain.is_link_local and is_own_address(str(plain)):
                found.append(plain)
    return [str(address) for address in sorted(found, key=lambda address: (address.version, int(address)))]


@dataclass
class Sharing:
    """One studio's sharing, from `begin` to `end`."""

    home: Home
    options: ShareOptions
    _told: "_ToldName | None" = None
    _known: tuple[str, ...] = ()

    @property
    def folder(self) -> Path:
        """Where authority and certificate lie."""
        return self.home.folder / "share"

    @property
    def share_file(self) -> Path:
        """Where the server reads under which names it is known."""
        return self.home.folder / "share.json"

    @property
    def certificates(self) -> Certificates:
        """The studio's own authority and certificate."""
        return Certificates(self.folder)

    @property
    def certificate(self) -> Path:
        """The certificate that is shown to whoever comes."""
        return self.options.certificate or self.certificates.certificate

    @property
    def key(self) -> Path:
        """Its key."""
        return self.options.key or self.certificates.key

    @property
    def name(self) -> str:
        """The name that stays: one's own, or one made once for this studio."""
        if self.options.name is not None:
            return self.options.name.lower()
        file = self.folder / "name"
        with suppress(OSError):
            kept = file.read_text().strip()
            if kept:
                return kept
        made = f"pondus-{secrets.token_hex(3)}.local"
        try:
            self.folder.mkdir(mode=0o700, parents=True, exist_ok=True)
            file.write_text(made)
        except OSError as error:
            raise CannotStart(f"The studio's name can't be kept in {file}: {error.strerror}.") from None
        return made

    @property
    def urls(self) -> list[str]:
        """The addresses of the moment, the one that stays first."""
        port = "" if self.options.port == 443 else f":{self.options.port}"
        hosts = [self.name, *(f"[{known_name}]" if ":" in known_name else known_name for known_name in self._known)]
        return [f"https://{host}{port}" for host in hosts]

    def begin(self) -> None:
        """Raises CannotStart."""
        self.options.check()
        self.refresh()

    def refresh(self) -> bool:
        """Follow this computer's addresses and the certificate's end; whether anything is new. Raises CannotStart."""
        addresses = (self.options.on,) if self.options.on is not None else tuple(present_addresses())
        renewed = False
        if self.options.certificate is None:
            renewed = self.certificates.ensure(self.name, [address for address in addresses if is_own_address(address)])
        if addresses == self._known and self.share_file.exists():
            return renewed
        self._known = addresses
        own = self.options.certificate is None
        told = {
            "name": self.name,
            "addresses": list(addresses),
            "port": self.options.port,
            "authority": str(self.certificates.authority) if own else None,
        }
        beside = self.share_file.with_suffix(".part")
        try:
            beside.write_text(json.dumps(told))
            beside.replace(self.share_file)
        except OSError as error:
            raise CannotStart(f"{self.share_file} can't be written: {error.strerror}.") from None
        self._tell()
        return True

    def end(self) -> None:
        """Take everything back."""
        self._quiet()
        self.share_file.unlink(missing_ok=True)

    def _tell(self) -> None:
        """Tell the network the name, from a thread of its own: it takes a second or two, and nothing waits for it."""
        self._quiet()
        if not self.name.endswith(".local") or not self._known:
            return
        told = self._told = _ToldName(self.name, self._known, self.options)
        told.start()

    def _quiet(self) -> None:
        if self._told is not None:
            self._told.end()
        self._told = None


class _ToldName(Thread):
    """A name that the network is told until `end`; where that can't be, the addresses still work."""

    def __init__(self, name: str, addresses: tuple[str, ...], options: ShareOptions) -> None:
        super().__init__(name="mdns", daemon=True)
        self._host, self._addresses, self._options = name, addresses, options
        self._over = Event()

    def run(self) -> None:
        """Register, wait, take it back."""
        families = [socket.AF_INET6 if ":" in address else socket.AF_INET for address in self._addresses]
        service = ServiceInfo(
            SERVICE,
            f"{self._host.removesuffix('.local')}.{SERVICE}",
            addresses=[socket.inet_pton(of, address) for of, address in zip(families, self._addresses, strict=True)],
            port=self._options.port,
            server=f"{self._host}.",
        )
        interfaces = InterfaceChoice.All if self._options.on is None else [self._options.on]
        try:
            with Zeroconf(interfaces=interfaces, ip_version=IPVersion.V4Only) as network:
                network.register_service(service, strict=False)
                self._over.wait()
        except (OSError, Error) as error:
            print(
                f"pondus: the name {self._host} can't be told to this network ({error or type(error).__name__}); use the"
                " address.",
                file=sys.stderr,
            )

    def end(self) -> None:
        """Take it back."""
        self._over.set()
        self.join(3.0)
