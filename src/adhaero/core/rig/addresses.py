"""Where a rig's lines come from: a serial port of this computer, or a host and port; nothing else is opened."""

import ipaddress
import re
from dataclasses import dataclass
from typing import Final

from adhaero.core.errors import EntryError

_DEVICE: Final = re.compile(
    r"""/dev/(?:tty(?:S|USB|ACM|AMA|O|THS|GS|XRUSB|mxc|SC|SAC|PS|UL)[0-9]{1,3} | rfcomm[0-9]{1,3} | serial[0-9]{1,2}
        | (?:tty|cu)\.\w[\w.-]{0,80} | cuaU?[0-9]{1,3} | serial/by-(?:id|path)/\w[\w.:+,@-]{0,150})
    | COM[1-9][0-9]{0,2}""",
    re.VERBOSE | re.ASCII,
)
_NETWORK: Final = re.compile(
    r"(?P<scheme>socket|rfc2217)://(?:(?P<name>[a-z0-9](?:[a-z0-9.-]{0,251}[a-z0-9])?)|\[(?P<six>[0-9a-f:.]{2,45})\])"
    r":(?P<port>[0-9]{1,5})/?",
    re.IGNORECASE | re.ASCII,
)
EXPECTED: Final = "Expected /dev/ttyUSB0, COM3, socket://host:port or rfc2217://host:port."


@dataclass(frozen=True)
class SerialAddress:
    """A serial port of this computer, by the path of its device."""

    device: str


@dataclass(frozen=True)
class NetworkAddress:
    """A host and port; `scheme` is `socket` for plain lines or `rfc2217` for a serial port served by another host."""

    scheme: str
    host: str
    port: int


def parse_address(text: str) -> SerialAddress | NetworkAddress:
    """Return where lines come from.

    Raises
    ------
    EntryError : it is no serial port and no host with a port.

    Examples
    --------
    >>> parse_address("socket://192.168.1.7:4001")
    NetworkAddress(scheme='socket', host='192.168.1.7', port=4001)
    """
    cleaned = text.strip()
    if _DEVICE.fullmatch(cleaned):
        return SerialAddress(cleaned)
    if match := _NETWORK.fullmatch(cleaned):
        port = int(match["port"])
        if not 1 <= port <= 65_535:
            raise EntryError(f"There is no port {port}.", "Ports go from 1 to 65535.", field="url")
        return NetworkAddress(match["scheme"].lower(), (match["name"] or match["six"]).lower(), port)
    raise EntryError(f"“{cleaned[:60]}” is no address of a rig.", EXPECTED, "Check it on the rig's card.", field="url")


def is_near(address: str) -> bool:
    """Return whether a numeric address is this computer or on a private network.

    Examples
    --------
    >>> is_near("192.168.1.7"), is_near("::1"), is_near("8.8.8.8")
    (True, True, False)
    """
    try:
        found = ipaddress.ip_address(address.partition("%")[0])
    except ValueError:
        return False
    mapped = getattr(found, "ipv4_mapped", None) or found
    return bool((mapped.is_private or mapped.is_loopback or mapped.is_link_local) and not mapped.is_unspecified)


def is_numeric(host: str) -> bool:
    """Return whether a host is written as numbers."""
    try:
        ipaddress.ip_address(host)
    except ValueError:
        return False
    return True


def check_address(text: str, far_host: str) -> None:
    """Raise `EntryError` for what cannot be opened, or lies outside this network without a word of consent.

    Parameters
    ----------
    far_host : the host that the rig's card allows although it is not near. Names are looked up when they are opened.
    """
    address = parse_address(text)
    if not isinstance(address, NetworkAddress) or not is_numeric(address.host):
        return
    if not is_near(address.host) and address.host != far_host:
        raise EntryError(*refuse_far(address.host), field="far_host")


def refuse_far(host: str) -> tuple[str, str, str]:
    """Return the words for a host outside this network."""
    return (
        f"{host} lies outside this computer's own network.",
        "Lines from there are read only where the rig's card allows it.",
        "Allow it on the card, or use an address of this network.",
    )
