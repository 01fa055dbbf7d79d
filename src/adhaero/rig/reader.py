"""Reads the lines of a rig in a thread of its own, names what is wrong, and reconnects by itself."""

import logging
import math
import threading
import time
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

from adhaero.core.errors import AdhaeroError
from adhaero.core.rig.lines import LONGEST_LINE, DecimalMark, LineNumber, Unreadable, read_line
from adhaero.rig.ports import Port, PortSettings, open_port

log = logging.getLogger(__name__)

SILENCE_S = 2.0
_RETRY_S = 0.5
_SPREAD_S = 0.5
_MOST_PENDING = 4 * LONGEST_LINE


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
    """One reading: when it came (s, on the reader's clock), the number, and the unit printed behind it.

    `moved_mm` is the displacement in the same line; not a number where a rig that sends one sent none.
    """

    time_s: float
    reading: float
    unit: str | None = None
    moved_mm: float | None = None


@dataclass(frozen=True)
class LineSettings:
    """Which number of a line is the load (from 0), its decimal mark, and between what readings it can be true.

    `displacement_index` is the number that says how far the piece moved, `mm_per_unit` what one of it is.
    """

    number_index: int = 0
    mark: DecimalMark = DecimalMark.AUTO
    lowest: float = -math.inf
    highest: float = math.inf
    displacement_index: int | None = None
    mm_per_unit: float = 1.0

    def read(self, line: str) -> LineNumber | Unreadable:
        """Return the reading of a line, or why it is none."""
        found = read_line(line, self.number_index, self.mark)
        if isinstance(found, LineNumber) and not self.lowest <= found.value <= self.highest:
            return Unreadable(f"{found.value:g} is more than three times what the rig can pull")
        return found

    def read_displacement(self, line: str) -> float | None:
        """Return how far the piece moved by a line, mm; None for a rig that does not say, nan where this line fails."""
        if self.displacement_index is None:
            return None
        found = read_line(line, self.displacement_index, self.mark)
        return found.value * self.mm_per_unit if isinstance(found, LineNumber) else math.nan


Listener = Callable[[Sample | None], None]
Stamps = Callable[[int], list[float]]


class ArrivalClock:
    """Times of lines as they arrive; lines that came in one gulp are spread evenly since the last."""

    def __init__(self) -> None:
        self._last = time.monotonic()

    def __call__(self, count: int) -> list[float]:
        """Return the times of `count` lines that are there now, s."""
        now = time.monotonic()
        begin = max(self._last, now - _SPREAD_S)
        self._last = now
        return [begin + (now - begin) * (at + 1) / count for at in range(count)]


class LineSplitter:
    """Cuts a stream of bytes into lines that end with LF, CR LF or CR; what has no end is never kept."""

    def __init__(self) -> None:
        self._pending = b""
        self._after_cr = False
        self._overlong = False

    def feed(self, data: bytes) -> list[str]:
        """Return the lines that ended, without empty ones; one that is far too long comes in pieces."""
        if self._after_cr and data[:1] == b"\n":
            data = data[1:]
        self._after_cr = data.endswith(b"\r")
        *ended, rest = (self._pending + data).replace(b"\r\n", b"\n").replace(b"\r", b"\n").split(b"\n")
        lines = []
        for at, line in enumerate(ended):
            if not (at == 0 and self._overlong) and line:
                lines.append(line)
            if at == 0:
                self._overlong = False
        if len(rest) > _MOST_PENDING:
            lines.append(rest[:_MOST_PENDING])
            self._overlong, rest = True, b""
        self._pending = rest
        return [line[:_MOST_PENDING].decode("utf-8", "replace") for line in lines]


class RigReader:
    """Reads a rig's port until closed.

    Parameters
    ----------
    port : its address and how it is set. lines : how its lines are read.
    stamps : gives the times of so many lines that have just come.

    Listeners are called in the reader's thread with each sample, and with None for a line without a number. A
    listener that raises is taken off and its error kept in `failed`: a recorder never fails in silence. The first line
    after connecting may have lost its beginning: it is shown, and not read.
    """

    def __init__(self, port: PortSettings, lines: LineSettings | None = None, stamps: Stamps | None = None) -> None:
        self.port = port
        self.settings = lines or LineSettings()
        self._stamps = stamps or ArrivalClock()
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
        self.why_unreadable = ""
        self._unreadable_in_a_row = 0
        self.seen_unit: str | None = None
        self._thread = threading.Thread(target=self._run, name=f"rig {port.url[:40]}", daemon=True)
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
            self._thread.join(timeout=5)
        self._state = LinkState.CLOSED

    def _run(self) -> None:
        while not self._closing.is_set():
            try:
                with open_port(self.port) as port:
                    self._last_line = time.monotonic()
                    self._state, self.why = LinkState.READING, ""
                    self._read_port(port)
            except AdhaeroError as error:
                self._lose(error.sentence)
            except Exception as error:  # whatever a driver raises ends in a state with words, never in a dead thread
                if not isinstance(error, OSError):
                    log.exception("rig %s", self.port.url[:40])
                self._lose(str(error) or type(error).__name__)

    def _lose(self, why: str) -> None:
        self._state, self.why = LinkState.LOST, why
        self._closing.wait(_RETRY_S)

    def _read_port(self, port: Port) -> None:
        splitter = LineSplitter()
        first = True
        while not self._closing.is_set():
            lines = splitter.feed(port.read())
            if lines and first:
                self.raw_lines.append(lines.pop(0)[:LONGEST_LINE])
                self._last_line = time.monotonic()
                first = False
            if lines:
                self._last_line = time.monotonic()
                for line, time_s in zip(lines, self._stamps(len(lines)), strict=True):
                    self._take_line(line, time_s)

    def _take_line(self, line: str, time_s: float) -> None:
        self.lines += 1
        self.raw_lines.append(line[:LONGEST_LINE])
        number = self.settings.read(line)
        sample = None
        if isinstance(number, Unreadable):
            self.unreadable += 1
            self.why_unreadable = number.why
            self._unreadable_in_a_row += 1
        else:
            self._unreadable_in_a_row = 0
            self.seen_unit = number.unit or self.seen_unit
            sample = Sample(time_s, number.value, number.unit, self.settings.read_displacement(line))
            self.recent.append(sample)
        for listener in self._listeners:
            try:
                listener(sample)
            except Exception as error:
                log.exception("a listener of rig %s failed", self.port.url[:40])
                self.failed = error
                self.remove_listener(listener)
