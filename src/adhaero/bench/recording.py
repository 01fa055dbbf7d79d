"""Recording one pull from a rig: every sample into the shop file within half a second, until the piece breaks."""

import json
import logging
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass

from adhaero.core.errors import AdhaeroError
from adhaero.core.rig.calibration import Calibration
from adhaero.core.rig.trace import BreakWatch, TraceReading, TraceSettings, read_trace
from adhaero.rig.reader import RigReader, Sample
from adhaero.store.file import ShopFile
from adhaero.store.pulls import RawTrace, fetch_pull, fetch_trace, insert_chunk
from adhaero.store.rows import amend
from adhaero.store.shop import fetch_calibration, fetch_rig

log = logging.getLogger(__name__)

CHUNK_S = 0.15
TAIL_S = 0.6
_LAST_TRIES = 32


@dataclass(frozen=True)
class PullSetup:
    """What a pull is read with: its row, the calibration, the zero taken, and what counts as a break."""

    pull_id: int
    trial_id: int
    piece_id: int
    label: str
    calibration: Calibration
    zero_n: float
    settings: TraceSettings
    mpa_per_n: float | None


class Recording:
    """Listens to a rig during one pull.

    Samples wait in memory only until the next chunk is written; a chunk that cannot be written stays in memory, is
    tried again, and `trouble` says so. `finished` is set once the pull has ended and is read.
    """

    def __init__(self, file: ShopFile, reader: RigReader, setup: PullSetup, on_end: Callable[[], None]) -> None:
        self.setup = setup
        self.watch = BreakWatch(setup.settings)
        self.trouble = ""
        self.finished = threading.Event()
        self._file = file
        self._reader = reader
        self._on_end = on_end
        self._lock = threading.Lock()
        self._waiting: list[tuple[float, float]] = []
        self._unreadable = 0
        self._seq = 0
        self._start: float | None = None
        self._end_after: float | None = None
        self._ending = threading.Event()
        reader.add_listener(self._hear)
        self._writer = threading.Thread(target=self._write, name=f"pull {setup.pull_id}", daemon=True)
        self._writer.start()

    def load_n(self, reading: float) -> float:
        """Return the zeroed load of a reading."""
        return self.setup.calibration.load_n(reading, self.setup.zero_n)

    def stop(self) -> None:
        """End the pull by hand and wait until its trace is written and read."""
        self._ending.set()
        self.finished.wait(timeout=10)

    def _hear(self, sample: Sample | None) -> None:
        with self._lock:
            if sample is None:
                self._unreadable += 1
                return
            if self._start is None:
                self._start = sample.time_s
            time_s = sample.time_s - self._start
            self._waiting.append((time_s, sample.reading))
            if self.watch.see(time_s, self.load_n(sample.reading)) and self._end_after is None:
                self._end_after = time_s + TAIL_S
            if self._end_after is not None and time_s >= self._end_after:
                self._ending.set()

    def _write(self) -> None:
        while not self._ending.wait(CHUNK_S):
            self._flush()
        self._reader.remove_listener(self._hear)
        self._flush()
        for _ in range(_LAST_TRIES):
            if not self._waiting:
                break
            time.sleep(CHUNK_S)
            self._flush()
        try:
            finish_pull(self._file, self.setup.pull_id, self.setup.trial_id)
        except AdhaeroError as error:
            log.exception("pull %s could not be finished", self.setup.pull_id)
            self.trouble = error.sentence
        finally:
            self.finished.set()
            self._on_end()

    def _flush(self) -> None:
        with self._lock:
            chunk, unreadable = list(self._waiting), self._unreadable
        if not chunk and not unreadable:
            return
        try:
            with self._file.recording() as connection:
                insert_chunk(connection, self.setup.pull_id, self._seq, chunk, unreadable)
        except AdhaeroError as error:
            self.trouble = f"The trace is not being stored. {error.sentence}"
            return
        with self._lock:
            del self._waiting[: len(chunk)]
            self._unreadable -= unreadable
        self._seq += 1
        self.trouble = ""


def trace_settings(capacity_n: float, resolution_n: float, noise_n: float) -> TraceSettings:
    """Return what counts as a test on a rig: above its noise, its resolution and half a percent of its capacity."""
    noise = max(4 * resolution_n, 6 * noise_n)
    return TraceSettings(
        floor_n=max(10 * resolution_n, noise, 0.005 * capacity_n), noise_n=noise, capacity_n=capacity_n
    )


@dataclass(frozen=True)
class StoredTrace:
    """A pull's trace in newtons, zeroed, with what it says."""

    times_s: list[float]
    loads_n: list[float]
    unreadable: int
    reading: TraceReading | None


def load_trace(file: ShopFile, pull_id: int) -> StoredTrace:
    """Return the stored trace of a pull, by the calibration and the zero that it was made with."""
    with file.reading() as connection:
        pull = fetch_pull(connection, pull_id)
        raw = fetch_trace(connection, pull_id)
        row = fetch_calibration(connection, pull.calibration_id) if pull and pull.calibration_id else None
        rig = fetch_rig(connection, pull.rig_id) if pull and pull.rig_id else None
    if pull is None or row is None or rig is None:
        return StoredTrace([], [], 0, None)
    calibration = Calibration(row.offset_reading, row.newton_per_unit)
    settings = trace_settings(rig.capacity_n, rig.resolution_n, pull.zero_noise_n or 0.0)
    return read_stored(raw, calibration, pull.zero_n or 0.0, settings)


def read_stored(raw: RawTrace, calibration: Calibration, zero_n: float, settings: TraceSettings) -> StoredTrace:
    """Return raw readings in newtons, zeroed, with what they say."""
    loads = [calibration.load_n(reading, zero_n) for reading in raw.readings]
    return StoredTrace(raw.times_s, loads, raw.unreadable, read_trace(raw.times_s, loads, settings))


def finish_pull(file: ShopFile, pull_id: int, trial_id: int, remark: str = "") -> None:
    """End a running pull: read its stored trace and write down the peak, what happened and what looks wrong.

    A pull that has ended already stays as it is.
    """
    with file.reading() as connection:
        pull = fetch_pull(connection, pull_id)
    if pull is None or pull.state != "running":
        return
    trace = load_trace(file, pull_id)
    reading = trace.reading
    flags = [*([remark] if remark else []), *(reading.flags if reading else ["No reading came during this pull."])]
    if trace.unreadable:
        flags.append(f"{trace.unreadable} lines held no number.")
    outcome = None
    if reading and reading.held:
        outcome = "held"
    elif reading and reading.break_s is not None:
        outcome = "broke"
    with file.changing("The rig stopped", trial_id, undoable=False) as connection:
        amend(
            connection,
            "pull",
            pull_id,
            {
                "state": "stopped",
                "ended_utc": file.now(),
                "load_n": max(0.0, reading.peak_n) if reading else 0.0,
                "outcome": outcome,
                "flags": json.dumps(flags, ensure_ascii=False),
            },
        )
