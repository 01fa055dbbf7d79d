"""The rigs that are connected, the pull that each records, and the live view of them."""

import threading
from dataclasses import dataclass
from itertools import islice

from adhaero.bench.recording import PullSetup, Recording
from adhaero.bench.shop import require_rig
from adhaero.core.errors import RigError
from adhaero.core.rig.calibration import Calibration, Zero, take_zero
from adhaero.core.rig.lines import find_numbers
from adhaero.rig.operator import Address, command, find_operator
from adhaero.rig.reader import LinkState, RigReader
from adhaero.store.file import ShopFile
from adhaero.store.shop import CalibrationRow, Rig, newest_calibration

ZERO_WINDOW_S = 1.0


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
    broke: bool


@dataclass(frozen=True)
class LiveView:
    """What a rig shows now; `samples` are (seconds on the reader's clock, load N) since the last view."""

    state: LinkState
    why: str
    practice: bool
    load_n: float | None
    zeroed: bool
    samples: list[tuple[float, float]]
    lines: int
    unreadable: int
    unit_seen: str | None
    raw: list[str]
    numbers: list[list[float]]
    pull: LivePull | None
    trouble: str


class RigHub:
    """Every rig that this program is connected to."""

    def __init__(self, file: ShopFile) -> None:
        self._file = file
        self._lock = threading.Lock()
        self._live: dict[int, LiveRig] = {}

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
                live = LiveRig(rig, calibration, RigReader(rig.url, rig.number_index))
                self._live[rig_id] = live
        self.find_out(live)
        return live

    def find_out(self, live: LiveRig) -> bool:
        """Return whether a rig is a simulated one, asked again until it says so."""
        if not live.practice:
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
        """Let go of a rig; a running pull ends first."""
        with self._lock:
            live = self._live.pop(rig_id, None)
        if live is None:
            return
        if live.recording:
            live.recording.stop()
        live.reader.close()

    def close(self) -> None:
        """Let go of every rig."""
        for rig_id in list(self._live):
            self.disconnect(rig_id)

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
                f"{live.rig.name} is {say_state(live.reader.state)}.",
                "Zeroing needs readings.",
                "Check cable, power and address.",
            )
        if live.recording is not None:
            raise RigError(f"{live.rig.name} is recording {live.recording.setup.label}.", do="Stop that pull first.")
        recent = list(live.reader.recent)
        newest = recent[-1].time_s if recent else 0.0
        window = [sample for sample in recent if newest - sample.time_s <= ZERO_WINDOW_S]
        zero = take_zero([live.calibration.load_n(sample.reading) for sample in window])
        if zero.noise_n > max(0.02 * live.rig.capacity_n, 20 * live.rig.resolution_n):
            raise RigError(
                f"The load of {live.rig.name} is not at rest (it moves by {zero.noise_n:.3g} N).",
                "Zero is taken with nothing pulling.",
                "Release the pump, wait a second and zero again.",
            )
        live.zero = zero
        return zero

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

    def view(self, rig_id: int, after_s: float, most: int = 400) -> LiveView:
        """Return what a rig shows now, with the samples after a moment of the reader's clock."""
        live = self._live.get(rig_id)
        if live is None:
            return LiveView(LinkState.CLOSED, "", False, None, False, [], 0, 0, None, [], [], None, "")
        reader, recording = live.reader, live.recording
        zero_n = live.zero.load_n if live.zero else 0.0
        newer = [
            sample for sample in reversed(list(islice(reversed(reader.recent.copy()), most))) if sample.time_s > after_s
        ]
        samples = [(sample.time_s, live.calibration.load_n(sample.reading, zero_n)) for sample in newer]
        last = reader.recent[-1] if reader.recent else None
        raw = list(reader.raw_lines)[-6:]
        return LiveView(
            state=reader.state,
            why=reader.why,
            practice=live.practice,
            load_n=live.calibration.load_n(last.reading, zero_n) if last else None,
            zeroed=live.zero is not None,
            samples=samples,
            lines=reader.lines,
            unreadable=reader.unreadable,
            unit_seen=reader.seen_unit,
            raw=raw,
            numbers=[[number.value for number in find_numbers(line)] for line in raw],
            pull=_view_pull(recording) if recording else None,
            trouble=(recording.trouble if recording else "") or (str(reader.failed) if reader.failed else ""),
        )

    def command_practice(self, rig_id: int, line: str) -> dict[str, object]:
        """Send one line to a simulated rig's operator side and return its answer; raises `RigError`."""
        live = self.connect(rig_id)
        if live.operator is None:
            raise RigError(f"{live.rig.name} is a real rig.", "Only a simulated rig takes commands.")
        return command(live.operator, line)


def _view_pull(recording: Recording) -> LivePull:
    setup, watch = recording.setup, recording.watch
    strength = None if setup.mpa_per_n is None else watch.peak_n * setup.mpa_per_n
    return LivePull(
        setup.pull_id, setup.trial_id, setup.piece_id, setup.label, watch.peak_n, strength, watch.break_s is not None
    )


def say_state(state: LinkState) -> str:
    """Return the state of a rig's line in words."""
    return {
        LinkState.CONNECTING: "connecting",
        LinkState.READING: "reading",
        LinkState.SILENT: "silent: no line for 2 s",
        LinkState.GARBAGE: "sending lines without a number",
        LinkState.LOST: "not reachable, trying again",
        LinkState.CLOSED: "not connected",
    }[state]
