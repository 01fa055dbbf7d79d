"""The operator's side of the simulated rig, one port above its lines: found by asking, never configured."""

import ipaddress
import json
import socket

from adhaero.core.errors import EntryError, RigError
from adhaero.core.rig.addresses import NetworkAddress, is_numeric, parse_address

_PATIENCE_S = 2.0
_PROBE_S = 0.3

Address = tuple[str, int]


def find_operator(url: str) -> Address | None:
    """Return where a simulated rig takes commands; None for a real rig, or one that is not running.

    Asked is only this computer itself: call it for a rig whose card says that it may be simulated.
    """
    try:
        lines = parse_address(url)
    except EntryError:
        return None
    if not isinstance(lines, NetworkAddress) or lines.scheme != "socket" or not _is_this_computer(lines.host):
        return None
    if lines.port == 65_535:
        return None
    address = (lines.host, lines.port + 1)
    try:
        answer = _ask(address, "STATUS", _PROBE_S)
    except (OSError, ValueError):
        return None
    return address if answer.get("simulated") is True else None


def _is_this_computer(host: str) -> bool:
    return host == "localhost" or (is_numeric(host) and ipaddress.ip_address(host).is_loopback)


def command(address: Address, line: str) -> dict[str, object]:
    """Send one line to the operator's side and return its answer; raises `RigError`."""
    try:
        answer = _ask(address, line, _PATIENCE_S)
    except (OSError, ValueError) as error:
        raise RigError(f"The simulated rig does not answer ({error}).", do="Start it with: adhaero rig-sim.") from error
    if not answer.get("ok"):
        raise RigError(str(answer.get("error", answer)))
    return answer


def _ask(address: Address, line: str, patience_s: float) -> dict[str, object]:
    with socket.create_connection(address, timeout=patience_s) as control:
        control.sendall(line.replace("\n", " ").encode() + b"\n")
        answer = json.loads(control.makefile("rb").readline(10_000))
    if not isinstance(answer, dict):
        raise ValueError("no JSON object")
    return answer
