"""Reads the lines of a rig in a thread of its own, names what is wrong, and reconnects by itself."""

import logging
import threading
import time
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

import serial

from adhaero.core.rig.lines import LONGEST_LINE, read_line

log = logging.getLogger(__name__)

SILENCE_S = 2.0
_POLL_S = 0.1
_RETRY_S = 0.5


class LinkState(StrEnum):
    """How it stands with the rig's line."""

    CONNECTING = "connecting"
    READING = "reading"
    SILENT = "silent"
    GARBAGE = "garbage"
    LOST = "lost"
    CLOSED = "closed"


@dataclass(frozen=True)
class Sample:
    """One reading: when it came (s, on the reader's clock) and the number, in the rig's unit."""

    time_s: float
    reading: float


Listener = Callable[[Sample | None], None]


class RigReader:
    """Reads a rig from any URL that pyserial opens, until closed.

    Parameters
    ----------
    url : `/dev/ttyUSB0`, `COM3`, `socket://host:port`, `rfc2217://…`, `loop://`.
    number_index : which number of a line is the load.
    clock : what the time of a line is; called once for each line.

    Listeners are called in the reader's thread with each sample, and with None for a line without a number. A
    listener that raises is taken off and its error kept in `failed`: a recorder never fails in silence.
    """

    def __init__(
        self, url: str, number_index: int = 0, clock: Callable[[], float] = time.monotonic, baudrate: int = 115_200
    ) -> None:
        self.url = url
        self._number_index = number_index
        self._clock = clock
        self._baudrate = baudrate
        self._listeners: list[Listener] = []
        self._closing = threading.Event()
        self._state = LinkState.CONNECTING
        self._last_line = time.monotonic()
        self.why = ""
        self.failed: Exception | None = None
        self.recent: deque[Sample] = deque(maxlen=4096)
        self.raw_lines: deque[str] = deque(maxlen=12)
        self.lines = 0
        self.unreadable = 0
        self._unreadable_in_a_row = 0
        self.seen_unit: str | None = None
        self._thread = threading.Thread(target=self._run, name=f"rig {url}", daemon=True)
        self._thread.start()

    @property
    def state(self) -> LinkState:
        """Return how it stands with the line; silence is told by the time since the last one."""
        if self._state is LinkState.READING:
            if time.monotonic() - self._last_line > SILENCE_S:
                return LinkState.SILENT
            if self._unreadable_in_a_row >= 3:
                return LinkState.GARBAGE
        return self._state

    def add_listener(self, listener: Listener) -> None:
        """Call `listener` for every line from now on."""
        self._listeners = [*self._listeners, listener]

    def remove_listener(self, listener: Listener) -> None:
        """Stop calling `listener`."""
        self._listeners = [one for one in self._listeners if one != listener]

    def close(self) -> None:
        """Stop reading and wait until the thread has ended."""
        self._closing.set()
        if threading.current_thread() is not self._thread:
            self._thread.join(timeout=3)
        self._state = LinkState.CLOSED

    def _run(self) -> None:
        while not self._closing.is_set():
            try:
                with serial.serial_for_url(self.url, baudrate=self._baudrate, timeout=_POLL_S) as port:
                    self._state, self.why = LinkState.READING, ""
                    self._last_line = time.monotonic()
                    self._read_port(port)
            except (OSError, ValueError) as error:
                self._state, self.why = LinkState.LOST, str(error)
                self._closing.wait(_RETRY_S)

    def _read_port(self, port: serial.SerialBase) -> None:
        pending = b""
        while not self._closing.is_set():
            pending += port.readline()
            if pending.endswith(b"\n") or len(pending) > LONGEST_LINE:
                self._take_line(pending.decode("utf-8", "replace").rstrip("\r\n"))
                pending = b""

    def _take_line(self, line: str) -> None:
        self._last_line = time.monotonic()
        self.lines += 1
        self.raw_lines.append(line[:LONGEST_LINE])
        number = read_line(line, self._number_index)
        sample = None
        if number is None:
            self.unreadable += 1
            self._unreadable_in_a_row += 1
        else:
            self._unreadable_in_a_row = 0
            self.seen_unit = number.unit or self.seen_unit
            sample = Sample(self._clock(), number.value)
            self.recent.append(sample)
        for listener in self._listeners:
            try:
                listener(sample)
            except Exception as error:
                log.exception("a listener of rig %s failed", self.url)
                self.failed = error
                self.remove_listener(listener)
