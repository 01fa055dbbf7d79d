"""The rigs that are connected, the pull that each records, and the live view of them."""

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from itertools import islice
from math import isnan

from adhaero.bench.breaking.recording import PullSetup, Recording, is_same_load
from adhaero.bench.shop.rigs import require_rig
from adhaero.core.errors import RigError, StateError
from adhaero.core.quantity import Kind, factor
from adhaero.core.rig.calibration import Calibration, Zero, is_at_rest, take_zero
from adhaero.core.rig.lines import DecimalMark, Unreadable, read_numbers
from adhaero.core.stats.so_far import say_place
from adhaero.rig.operator import Address, command, find_operator
from adhaero.rig.ports import PortSettings
from adhaero.rig.reader import LineSettings, LinkState, RigReader
from adhaero.store.file import ShopFile
from adhaero.store.rigs import CalibrationRow, Rig, newest_calibration

ZERO_WINDOW_S = 1.0


BEYOND = 3.0


class UnitDiffers(RigError):
    """The lines of a rig name another unit than its card; `choices` are what could be meant."""

    code = "unit-differs"


@dataclass
class LiveRig:
    """A connected rig."""

    rig: Rig
    calibration_row: CalibrationRow
    reader: RigReader
    operator: Address | None = None
    practice: bool = False
    zero: Zero | None = None
    recording: Recording | None = None

    @property
    def calibration(self) -> Calibration:
        """Return the calibration in use."""
        return Calibration(self.calibration_row.offset_reading, self.calibration_row.newton_per_unit)


@dataclass(frozen=True)
class LivePull:
    """The pull that a rig records now."""

    pull_id: int
    trial_id: int
    piece_id: int
    label: str
    peak_n: float
    peak_mpa: float | None
    first_drop_n: float | None
    broke: bool
    waits_for: str
    place: str


@dataclass(frozen=True)
class NumberSeen:
    """One number of a line: its value and unit, or why it is none."""

    value: float | None
    unit: str | None
    why: str


@dataclass(frozen=True)
class LineSeen:
    """A line as it came, the numbers in it, and why nothing of it is read."""

    raw: str
    numbers: list[NumberSeen]
    why: str


@dataclass(frozen=True)
class LiveView:
    """What a rig shows now; `samples` are (seconds on the reader's clock, load N) since the last view."""

    state: LinkState
    words: str
    why: str
    practice: bool
    load_n: float | None
    moved_mm: float | None
    zeroed: bool
    samples: list[tuple[float, float]]
    lines: int
    unreadable: int
    why_unreadable: str
    unit_seen: str | None
    unit_differs: bool
    recent: list[LineSeen]
    pull: LivePull | None
    trouble: str


class RigHub:
    """Every rig that this program is connected to."""

    def __init__(self, file: ShopFile) -> None:
        self._file = file
        self._lock = threading.RLock()
        self._live: dict[int, LiveRig] = {}

    @contextmanager
    def arming(self, rig_id: int) -> Iterator[LiveRig]:
        """Give a connected rig that nobody else arms, replaces or lets go of meanwhile."""
        with self._lock:
            yield self.connect(rig_id)

    def connect(self, rig_id: int) -> LiveRig:
        """Connect to a rig, or return it where it is connected with the same settings already."""
        with self._file.reading() as connection:
            rig = require_rig(connection, rig_id)
            calibration = newest_calibration(connection, rig_id)
        if calibration is None:
            raise RigError(f"{rig.name} has no calibration.", do="Save it once in the shop.")
        with self._lock:
            live = self._live.get(rig_id)
            if live is not None and (live.rig, live.calibration_row) != (rig, calibration):
                if live.recording is not None:
                    return live
                live.reader.close()
                live = None
            if live is None:
                live = LiveRig(rig, calibration, RigReader(_port_of(rig), _lines_of(rig, calibration)))
                self._live[rig_id] = live
        self.find_out(live)
        return live

    def refresh(self, rig_id: int) -> None:
        """Read a connected rig by its card as it stands now; one that records keeps the card that it began with."""
        if rig_id in self._live:
            self.connect(rig_id)

    def find_out(self, live: LiveRig) -> bool:
        """Return whether a rig is a simulated one, asked again until it says so."""
        if live.rig.simulated and not live.practice:
            live.operator = find_operator(live.rig.url)
            live.practice = live.operator is not None
        return live.practice

    def adopt(self, rig_id: int, reader: RigReader) -> LiveRig:
        """Use a simulated rig's reader that is open already (the demo's runs on a clock of its own)."""
        with self._file.reading() as connection:
            rig = require_rig(connection, rig_id)
            calibration = newest_calibration(connection, rig_id)
        if calibration is None:
            raise RigError(f"{rig.name} has no calibration.")
        with self._lock:
            self._live[rig_id] = LiveRig(rig, calibration, reader, practice=True)
        return self._live[rig_id]

    def disconnect(self, rig_id: int) -> None:
        """Let go of a rig; raises `StateError` while it records a pull."""
        with self._lock:
            live = self._live.get(rig_id)
            if live is not None and live.recording is not None:
                raise StateError(
                    f"{live.rig.name} is recording {live.recording.setup.label}.",
                    "A rig in use stays connected.",
                    "Stop that pull first.",
                )
            self._live.pop(rig_id, None)
        if live is not None:
            live.reader.close()

    def close(self) -> None:
        """Let go of every rig; a running pull ends first."""
        with self._lock:
            every, self._live = list(self._live.values()), {}
        for live in every:
            if live.recording:
                live.recording.stop()
            live.reader.close()

    def find(self, rig_id: int) -> LiveRig | None:
        """Return a connected rig, or None."""
        return self._live.get(rig_id)

    def recording_of(self, pull_id: int) -> Recording | None:
        """Return the recording of a pull that runs now."""
        live = (one.recording for one in self._live.values() if one.recording)
        return next((one for one in live if one.setup.pull_id == pull_id), None)

    def take_zero(self, live: LiveRig) -> Zero:
        """Zero a rig from its last second of readings; raises `RigError` when it is not reading."""
        if live.reader.state is not LinkState.READING:
            raise RigError(
                f"{live.rig.name} gives no load: {say_state(live.reader.state).rstrip('.')}.",
                "Zeroing needs readings.",
                "Check cable, power and address.",
            )
        if live.recording is not None:
            raise RigError(f"{live.rig.name} is recording {live.recording.setup.label}.", do="Stop that pull first.")
        recent = list(live.reader.recent)
        newest = recent[-1].time_s if recent else 0.0
        window = [sample for sample in recent if newest - sample.time_s <= ZERO_WINDOW_S]
        zero = take_zero([live.calibration.load_n(sample.reading) for sample in window])
        if not is_at_rest(zero, live.rig.capacity_n, live.rig.resolution_n):
            raise RigError(
                f"The load of {live.rig.name} is not at rest (it moves by {zero.noise_n:.3g} N).",
                "Zero is taken with nothing pulling.",
                "Release the pump, wait a second and zero again.",
            )
        live.zero = zero
        return zero

    def require_unit(self, live: LiveRig) -> None:
        """Raise `UnitDiffers` while the lines of a rig name another unit than its card, until a person chose one."""
        seen = live.reader.seen_unit
        if differs(live.rig, seen):
            raise UnitDiffers(
                f"{live.rig.name} prints {seen}, its card says {live.rig.unit}.",
                "One of them is wrong, and every load with it.",
                "Choose which one is right.",
                choices=(str(seen), live.rig.unit),
            )

    def read_clamp(self, rig_id: int) -> tuple[float, float]:
        """Return the highest force among the newest readings of a rig, and their mean over the last second, N.

        Raises
        ------
        RigError : it is not connected, or gives no readings.
        """
        live = self._live.get(rig_id)
        recent = list(live.reader.recent) if live else []
        if live is None or live.reader.state is not LinkState.READING or not recent:
            raise RigError("The load cell gives no readings.", do="Connect the rig, and read the force first.")
        zero = live.zero.load_n if live.zero else 0.0
        loads = [live.calibration.load_n(one.reading) - zero for one in recent]
        since = recent[-1].time_s - ZERO_WINDOW_S
        last = [load for load, one in zip(loads, recent, strict=True) if one.time_s >= since]
        return max(loads), sum(last) / len(last)

    def record(self, live: LiveRig, setup: PullSetup) -> None:
        """Start recording a pull."""

        def ended() -> None:
            live.recording = None

        live.recording = Recording(self._file, live.reader, setup, ended)
        live.recording.start()

    def view(self, rig_id: int, after_s: float, most: int = 400) -> LiveView:
        """Return what a rig shows now, with the samples after a moment of the reader's clock."""
        live = self._live.get(rig_id)
        if live is None:
            return LiveView(
                LinkState.CLOSED,
                say_state(LinkState.CLOSED),
                "",
                False,
                None,
                None,
                False,
                [],
                0,
                0,
                "",
                None,
                False,
                [],
                None,
                "",
            )
        reader, recording = live.reader, live.recording
        zero_n = live.zero.load_n if live.zero else 0.0
        newer = [
            sample for sample in reversed(list(islice(reversed(reader.recent.copy()), most))) if sample.time_s > after_s
        ]
        samples = [(sample.time_s, live.calibration.load_n(sample.reading) - zero_n) for sample in newer]
        last = reader.recent[-1] if reader.recent else None
        return LiveView(
            state=reader.state,
            words=say_state(reader.state),
            why=reader.why,
            practice=live.practice,
            load_n=live.calibration.load_n(last.reading) - zero_n if last else None,
            moved_mm=None if last is None or last.moved_mm is None or isnan(last.moved_mm) else last.moved_mm,
            zeroed=live.zero is not None,
            samples=samples,
            lines=reader.lines,
            unreadable=reader.unreadable,
            why_unreadable=reader.why_unreadable,
            unit_seen=reader.seen_unit,
            unit_differs=differs(live.rig, reader.seen_unit),
            recent=[_see_line(line, live.rig) for line in list(reader.raw_lines)[-6:]],
            pull=_view_pull(recording) if recording else None,
            trouble=(recording.trouble if recording else "") or (str(reader.failed) if reader.failed else ""),
        )

    def command_practice(self, rig_id: int, line: str) -> dict[str, object]:
        """Send one line to a simulated rig's operator side and return its answer; raises `RigError`."""
        live = self.connect(rig_id)
        if live.operator is None:
            raise RigError(f"{live.rig.name} is a real rig.", "Only a simulated rig takes commands.")
        return command(live.operator, line)


def differs(rig: Rig, seen: str | None) -> bool:
    """Return whether a unit in the lines is not that of the card, and nobody said that it means it."""
    return seen is not None and seen != rig.prints and not is_same_load(seen, rig.unit)


def _port_of(rig: Rig) -> PortSettings:
    return PortSettings(rig.url, rig.baud, rig.parity, rig.stop_bits, rig.far_host)


def _lines_of(rig: Rig, row: CalibrationRow) -> LineSettings:
    lowest, highest = Calibration(row.offset_reading, row.newton_per_unit).range_of(BEYOND * rig.capacity_n)
    mm_per_unit = factor(Kind.LENGTH, rig.displacement_unit)
    return LineSettings(
        rig.number_index, DecimalMark(rig.decimal_mark), lowest, highest, rig.displacement_index, mm_per_unit
    )


def _see_line(line: str, rig: Rig) -> LineSeen:
    found = read_numbers(line, DecimalMark(rig.decimal_mark))
    if isinstance(found, Unreadable):
        return LineSeen(line, [], found.why)
    numbers = [
        NumberSeen(None, None, one.why) if isinstance(one, Unreadable) else NumberSeen(one.value, one.unit, "")
        for one in found
    ]
    return LineSeen(line, numbers, "" if numbers else "no number in it")


def _view_pull(recording: Recording) -> LivePull:
    setup, reading = recording.setup, recording.reading
    peak = max(0.0, reading.peak_n) if reading else 0.0
    first = reading.first_drop if reading else None
    return LivePull(
        pull_id=setup.pull_id,
        trial_id=setup.trial_id,
        piece_id=setup.piece_id,
        label=setup.label,
        peak_n=peak,
        peak_mpa=None if setup.mpa_per_n is None else peak * setup.mpa_per_n,
        first_drop_n=first.from_n if first else None,
        broke=reading is not None and reading.break_s is not None,
        waits_for=recording.waits_for,
        place=_say_place(setup, peak),
    )


def _say_place(setup: PullSetup, peak_n: float) -> str:
    if setup.mpa_per_n is None or peak_n <= 0:
        return ""
    return say_place(peak_n * setup.mpa_per_n, setup.set_so_far, setup.treatment_name, running=True)


def say_state(state: LinkState) -> str:
    """Return the state of a rig's line in words."""
    return {
        LinkState.CONNECTING: "connecting",
        LinkState.READING: "reading",
        LinkState.SILENT: "silent: no line for 2 s. Is it switched on?",
        LinkState.GARBAGE: "its lines hold no number. Check speed and set-up in the shop.",
        LinkState.LOST: "not reachable; trying again by itself",
        LinkState.CLOSED: "not connected",
    }[state]
