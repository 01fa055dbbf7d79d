"""Who may come in: the names that this computer is known by, this computer itself, and devices that know the word."""

import ipaddress
import socket
from dataclasses import dataclass
from typing import Final

from starlette.datastructures import Headers
from starlette.requests import cookie_parser
from starlette.types import Scope

from adhaero.api.pairing import COOKIE, Pairing

LOCAL_HOSTS: Final = ("127.0.0.1", "localhost", "[::1]")


@dataclass(frozen=True)
class Door:
    """How the application is reached.

    Attributes
    ----------
    names : what a browser may call this computer; `*` for anything. pairing : for devices of the network; None where
        only this computer is listened to. address : what another device opens, empty where none can.
    """

    names: tuple[str, ...] = LOCAL_HOSTS
    pairing: Pairing | None = None
    address: str = ""

    def is_host(self, scope: Scope, headers: Headers) -> bool:
        """Return whether a request is for this computer: by a name of it, or by the address that it came to."""
        host = _without_port(headers.get("host", ""))
        if "*" in self.names or host in self.names:
            return True
        server = scope.get("server")
        return self.pairing is not None and server is not None and host.strip("[]") == str(server[0]).lower()

    def is_this_computer(self, scope: Scope) -> bool:
        """Return whether a request comes from this computer itself."""
        if self.pairing is None:
            return True
        client, server = scope.get("client"), scope.get("server")
        if client is None:
            return False
        if server is not None and client[0] == server[0]:
            return True
        try:
            address = ipaddress.ip_address(client[0])
        except ValueError:
            return False
        return (getattr(address, "ipv4_mapped", None) or address).is_loopback

    def is_paired(self, headers: Headers) -> bool:
        """Return whether a request comes from a device that knows the word."""
        token = cookie_parser(headers.get("cookie", "")).get(COOKIE, "")
        return self.pairing is not None and self.pairing.knows(token)


def _without_port(host: str) -> str:
    name, colon, port = host.rpartition(":")
    return (name if colon and port.isdigit() else host).lower().rstrip(".")


def list_names() -> tuple[str, ...]:
    """Return the names that this computer has on its network."""
    name = socket.gethostname().lower()
    short = name.partition(".")[0]
    return tuple(dict.fromkeys((name, short, f"{short}.local", socket.getfqdn().lower())))


def find_own_address() -> str:
    """Return the address of this computer on its network; nothing is sent to find it."""
    for target in ("10.255.255.255", "192.168.255.255", "172.31.255.255"):
        with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
            try:
                probe.connect((target, 9))
            except OSError:
                continue
            address = str(probe.getsockname()[0])
        if not address.startswith(("0.", "127.")):
            return address
    return socket.gethostname()
