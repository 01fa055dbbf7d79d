"""The simulated rig in a hurry: real lines over a real socket into the real reader, on a clock that counts lines."""

import socket
import threading
from collections.abc import Callable
from itertools import count

from adhaero.rig.ports import PortSettings
from adhaero.rig.reader import LinkState, RigReader
from adhaero.rig.simulated import DIALECTS, RigTraits, SimulatedRig

RATE_HZ = 20.0
_PATIENCE_TURNS = 60_000


class HurriedRig:
    """Serves a simulated rig whose lines come when asked for, not when they are due; use as a context."""

    def __init__(self, seed: int) -> None:
        self.rig = SimulatedRig(RigTraits(rate_hz=RATE_HZ), seed)
        self._server = socket.create_server(("127.0.0.1", 0))
        self._sent = 0
        ticks = count(1)
        self.reader = RigReader(
            PortSettings(f"socket://127.0.0.1:{self._server.getsockname()[1]}"),
            stamps=lambda lines: [next(ticks) / RATE_HZ for _ in range(lines)],
        )
        self._line, _ = self._server.accept()
        self._line.sendall(b"the first line is never read\r\n")
        self._wait_for(lambda: self.reader.state is LinkState.READING)

    def close(self) -> None:
        """Hang up."""
        self.reader.close()
        self._line.close()
        self._server.close()

    def send(self, seconds: float) -> None:
        """Send so many seconds of lines and wait until the reader has taken them."""
        lines = [DIALECTS["label"](*self.rig.next_line()) for _ in range(round(seconds * RATE_HZ))]
        self._line.sendall("".join(f"{line}\r\n" for line in lines).encode())
        self._sent += len(lines)
        self._wait_for(lambda: self.reader.lines >= self._sent)

    def _wait_for(self, done: Callable[[], bool]) -> None:
        """Wait in turns, not seconds: a machine that stands still for a while is no reader that hangs."""
        pause = threading.Event()
        for _ in range(_PATIENCE_TURNS):
            if done():
                return
            pause.wait(0.001)
        raise TimeoutError(f"took {self.reader.lines} of {self._sent} lines: {self.reader.state} {self.reader.why}")

    def pull(self) -> None:
        """Pump until the piece is broken, then a little longer."""
        self.rig.pump(True)
        for _ in range(600):
            if self.rig.broken:
                break
            self.send(0.5)
        self.send(3.0)
