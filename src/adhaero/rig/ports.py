"""Opening the port that a rig's lines come from, and what bytes are there."""

import socket
from dataclasses import dataclass
from typing import Final, Protocol, Self

import serial

from adhaero.core.errors import RigError
from adhaero.core.rig.addresses import NetworkAddress, is_near, parse_address, refuse_far

CONNECT_S: Final = 2.0
POLL_S: Final = 0.1
_MOST_BYTES: Final = 4096
_PARITIES: Final = {"none": serial.PARITY_NONE, "even": serial.PARITY_EVEN, "odd": serial.PARITY_ODD}


@dataclass(frozen=True)
class PortSettings:
    """A rig's address, and how its serial port is set; `far_host` is a host outside this network that is allowed."""

    url: str
    baud: int = 115_200
    parity: str = "none"
    stop_bits: int = 1
    far_host: str = ""


class Port(Protocol):
    """An open port; `read` waits a moment at most and returns what has come, no more than a few kilobytes."""

    def read(self) -> bytes:
        """Return what has come; raises `OSError` when the line is gone."""

    def __enter__(self) -> Self: ...
    def __exit__(self, *_: object) -> None: ...


class _SerialPort:
    def __init__(self, port: serial.SerialBase) -> None:
        self._port = port

    def read(self) -> bytes:
        return bytes(self._port.read(max(1, min(self._port.in_waiting, _MOST_BYTES))))

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        self._port.close()


class _NetworkPort:
    def __init__(self, connection: socket.socket) -> None:
        self._connection = connection
        connection.settimeout(POLL_S)

    def read(self) -> bytes:
        try:
            data = self._connection.recv(_MOST_BYTES)
        except TimeoutError:
            return b""
        if not data:
            raise ConnectionError("it hung up")
        return data

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        self._connection.close()


def open_port(settings: PortSettings) -> Port:
    """Open a port.

    Raises
    ------
    EntryError : no address of a rig. RigError : a host that is not allowed. OSError : it cannot be opened.
    """
    address = parse_address(settings.url)
    if not isinstance(address, NetworkAddress):
        return _SerialPort(_open_serial(address.device, settings))
    host = _find_host(address, settings.far_host)
    if address.scheme == "rfc2217":
        written = f"[{host}]" if ":" in host else host
        return _SerialPort(_open_serial(f"rfc2217://{written}:{address.port}", settings))
    return _NetworkPort(socket.create_connection((host, address.port), timeout=CONNECT_S))


def _open_serial(url: str, settings: PortSettings) -> serial.SerialBase:
    return serial.serial_for_url(
        url,
        baudrate=settings.baud,
        parity=_PARITIES[settings.parity],
        stopbits=settings.stop_bits,
        timeout=POLL_S,
    )


def _find_host(address: NetworkAddress, far_host: str) -> str:
    """Return the numeric address that is opened: looked up once, and that one checked."""
    found = socket.getaddrinfo(address.host, address.port, type=socket.SOCK_STREAM)
    numeric = [str(entry[4][0]) for entry in found]
    if address.host == far_host:
        return numeric[0]
    near = next((one for one in numeric if is_near(one)), None)
    if near is None:
        raise RigError(*refuse_far(address.host))
    return near
