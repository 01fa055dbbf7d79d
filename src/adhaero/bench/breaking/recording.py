"""Recording one pull from a rig: every sample into the shop file within half a second, until the load rests."""

import logging
import threading
import time
from array import array
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from math import isnan

from adhaero.bench.breaking.bent import Bent, keep_bending
from adhaero.bench.facts.reading import read_trial
from adhaero.core.errors import AdhaeroError
from adhaero.core.pulls import PullOutcome, PullState
from adhaero.core.quantity import Kind, factor, show
from adhaero.core.rig.calibration import Calibration
from adhaero.core.rig.trace.bending import Bending, read_bending
from adhaero.core.rig.trace.cutting import STAYS_LOW_S, PullEnd
from adhaero.core.rig.trace.flags import TraceFlag
from adhaero.core.rig.trace.logs import look
from adhaero.core.rig.trace.reading import TraceOutcome, TraceReading, read_trace
from adhaero.core.rig.trace.samples import TraceSettings
from adhaero.rig.reader import RigReader, Sample
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.pieces import fetch_piece
from adhaero.store.pulls import RawTrace, amend_pull, fetch_pull, fetch_trace, insert_chunk
from adhaero.store.rigs import Rig, fetch_calibration, fetch_rig

log = logging.getLogger(__name__)


CHUNK_S = 0.15


_LOOK_S = 0.2


_LOOK_SHARE = 10


_LAST_TRIES = 32


def is_same_load(unit: str, other: str) -> bool:
    """Return whether two units of load are the same, as kg and kgf."""
    return unit == other or factor(Kind.FORCE, unit) == factor(Kind.FORCE, other)


@dataclass(frozen=True)
class PullSetup:
    """What a pull is read with: its row, the calibration, the unit of its lines, what is known of rig and piece.

    `set_so_far` are the strengths of its set that count so far.
    """

    pull_id: int
    trial_id: int
    piece_id: int
    label: str
    calibration: Calibration
    unit: str
    settings: TraceSettings
    mpa_per_n: float | None
    treatment_name: str
    set_so_far: tuple[float, ...]


class Recording:
    """Listens to a rig during one pull.

    Samples wait in memory only until the next chunk is written; a chunk that cannot be written stays in memory, is
    tried again, and `trouble` says so. What has come so far is read over and over: `reading` is the newest, and when
    the load rests the pull ends by itself. `finished` is set once the pull has ended and is read.
    """

    def __init__(self, file: ShopFile, reader: RigReader, setup: PullSetup, on_end: Callable[[], None]) -> None:
        self.setup = setup
        self.reading: TraceReading | None = None
        self.trouble = ""
        self.finished = threading.Event()
        self.recorder = file.open_recorder()
        self._file = file
        self._reader = reader
        self._on_end = on_end
        self._lock = threading.Lock()
        self._times, self._readings, self._moved = array("d"), array("d"), array("d")
        self._stored = 0
        self._unreadable = 0
        self._seq = 0
        self._start: float | None = None
        self._remark = ""
        self._look_again = 0.0
        self._ending = threading.Event()

    def start(self) -> None:
        """Begin to listen and to write."""
        self._reader.add_listener(self._hear)
        threading.Thread(target=self._write, name=f"pull {self.setup.pull_id}", daemon=True).start()

    def stop(self) -> None:
        """End the pull by hand and wait until its trace is written and read."""
        self._ending.set()
        self.finished.wait(timeout=10)

    @property
    def waits_for(self) -> str:
        """Return what ends the pull by itself."""
        if self.reading is None or not self.reading.drops:
            return "your pull, and ends by itself when the load rests"
        return f"the load to rest, or {STAYS_LOW_S:g} s below half of its peak. Load on if it only slipped"

    def _hear(self, sample: Sample | None) -> None:
        with self._lock:
            if self._ending.is_set():
                return
            if sample is None:
                self._unreadable += 1
                return
            if sample.unit is not None and not is_same_load(sample.unit, self.setup.unit):
                self._remark = (
                    f"The rig changed from {self.setup.unit} to {sample.unit}: "
                    "the pull ended there, what came before is kept."
                )
                self._ending.set()
                return
            if self._start is None:
                self._start = sample.time_s
            self._times.append(sample.time_s - self._start)
            self._readings.append(sample.reading)
            if sample.moved_mm is not None:
                self._moved.append(sample.moved_mm)

    def _write(self) -> None:
        while not self._ending.wait(CHUNK_S):
            self._flush()
            self._look()
        self._reader.remove_listener(self._hear)
        self._flush()
        for _ in range(_LAST_TRIES):
            if self._stored == len(self._times):
                break
            time.sleep(CHUNK_S)
            self._flush()
        try:
            finish_pull(self._file, self.setup.pull_id, self.setup.trial_id, self._remark)
        except AdhaeroError as error:
            log.exception("pull %s could not be finished", self.setup.pull_id)
            self.trouble = error.sentence
        finally:
            self.recorder.close()
            self.finished.set()
            self._on_end()

    def _look(self) -> None:
        """Read what has come so far, and end the pull when the load rests; a long one is looked at less often."""
        begun = time.monotonic()
        if begun < self._look_again:
            return
        with self._lock:
            times, readings = self._times[:], self._readings[:]
        try:
            self.reading, end = look(times, readings, self.setup.calibration, self.setup.settings)
        except Exception:  # recording goes on, and ends by hand
            log.exception("pull %s cannot be looked at", self.setup.pull_id)
            self._look_again = begun + 1
            return
        now = time.monotonic()
        self._look_again = begun + max(_LOOK_S, _LOOK_SHARE * (now - begun))
        if end is PullEnd.STAYS_LOW:
            self._remark = f"Ended because {end}."
        if end is not None:
            self._ending.set()

    def _flush(self) -> None:
        with self._lock:
            chunk = list(zip(self._times[self._stored :], self._readings[self._stored :], strict=True))
            moved = self._moved[self._stored :]
            unreadable = self._unreadable
        if not chunk and not unreadable:
            return
        try:
            with self.recorder.writing() as connection:
                insert_chunk(connection, self.setup.pull_id, self._seq, chunk, unreadable, moved)
        except AdhaeroError as error:
            self.trouble = f"The trace is not being stored. {error.sentence}"
            return
        except Exception as error:  # whatever it is, the readings wait and are tried again
            log.exception("the readings of pull %s", self.setup.pull_id)
            self.trouble = f"The trace is not being stored ({type(error).__name__})."
            return
        with self._lock:
            self._stored += len(chunk)
            self._unreadable -= unreadable
        self._seq += 1
        self.trouble = ""


def trace_settings(rig: Rig, zero_n: float, zero_sd_n: float, expected_low_n: float | None) -> TraceSettings:
    """Return what is known of rig and piece before a trace is read."""
    return TraceSettings(
        resolution_n=rig.resolution_n,
        capacity_n=rig.capacity_n,
        expected_low_n=expected_low_n,
        zero_n=zero_n,
        zero_noise_n=zero_sd_n,
    )


@dataclass(frozen=True)
class StoredTrace:
    """A pull's trace in newtons, as recorded, with what it says; `bending` where a displacement was recorded too."""

    times_s: list[float]
    loads_n: list[float]
    unreadable: int
    reading: TraceReading | None
    displacements_mm: list[float] = field(default_factory=list)
    bending: Bending | None = None


def load_trace(file: ShopFile, pull_id: int) -> StoredTrace:
    """Return the stored trace of a pull, by the calibration that it was made with."""
    with file.reading() as connection:
        pull = fetch_pull(connection, pull_id)
        raw = fetch_trace(connection, pull_id)
        row = fetch_calibration(connection, pull.calibration_id) if pull and pull.calibration_id else None
        rig = fetch_rig(connection, pull.rig_id) if pull and pull.rig_id else None
        span_mm = find_span(connection, pull.piece_id) if pull and raw.displacements_mm else None
    if pull is None or row is None or rig is None:
        return StoredTrace([], [], 0, None)
    calibration = Calibration(row.offset_reading, row.newton_per_unit)
    settings = trace_settings(rig, pull.zero_n or 0.0, pull.zero_noise_n or 0.0, pull.expected_low_n)
    return read_stored(raw, calibration, settings, span_mm)


def find_span(connection: Connection, piece_id: int) -> float | None:
    """Return the span of the fixture that a piece was bent over, mm; None for other fixtures."""
    piece = fetch_piece(connection, piece_id)
    if piece is None:
        return None
    facts = read_trial(connection, piece.trial_id)
    return facts.sizes_of(facts.piece(piece.id)).get("span_mm")


def read_stored(
    raw: RawTrace, calibration: Calibration, settings: TraceSettings, span_mm: float | None = None
) -> StoredTrace:
    """Return raw readings in newtons, with what they say; `span_mm` of the fixture, for where a bend begins to stay."""
    loads = [calibration.load_n(reading) for reading in raw.readings]
    reading = read_trace(raw.times_s, loads, settings, raw.unreadable)
    moved = raw.displacements_mm
    bending = None
    if len(moved) == len(loads):
        there = [at for at, one in enumerate(moved) if not isnan(one)]
        if 2 * len(there) > len(moved):
            times, seen = [raw.times_s[at] for at in there], [loads[at] for at in there]
            bending = read_bending(times, seen, [moved[at] for at in there], settings, span_mm)
            if reading is not None and reading.outcome is TraceOutcome.BROKE:
                # where the halves of a broken piece come to lie says nothing
                bending = replace(bending, stayed_bent_mm=None)
    return StoredTrace(raw.times_s, loads, raw.unreadable, reading, moved, bending)


class TraceSummary(Bent):
    """What the trace of a pull comes to, as the pull keeps it."""

    load_n: float
    outcome: PullOutcome | None
    flags: tuple[str, ...]
    flag_codes: tuple[str, ...]
    rate_n_per_s: float | None
    stood_s: float | None
    sagged_n: float | None


def finish_pull(file: ShopFile, pull_id: int, trial_id: int, remark: str = "") -> None:
    """End a running pull: read its stored trace and write down the peak, what happened and what looks wrong.

    A pull that has ended already stays as it is. One that cannot be read ends without a load, and says so: its raw
    readings stay.
    """
    with file.reading() as connection:
        pull = fetch_pull(connection, pull_id)
    if pull is None or pull.state != "running":
        return
    try:
        result = summarise(load_trace(file, pull_id), remark)
    except Exception as error:  # a pull that runs for ever would keep the piece and the program from going on
        log.exception("the trace of pull %s cannot be read", pull_id)
        why = error.sentence if isinstance(error, AdhaeroError) else type(error).__name__
        unread = f"The trace could not be read ({why}); its raw readings are kept."
        words = tuple(one for one in (remark, unread) if one)
        result = _summarise_nothing(words)
    with file.changing("The rig stopped", trial_id, undoable=False) as connection:
        amend_pull(connection, pull_id, state=PullState.STOPPED, ended_utc=file.now(), **result)


def summarise(trace: StoredTrace, remark: str) -> TraceSummary:
    """Return what the trace of a pull comes to: its load, what happened, and what looks wrong with it."""
    reading = trace.reading
    if reading is None:
        words = tuple(one for one in (remark, "No reading came during this pull.") if one)
        return _summarise_nothing(words)
    outcome = None
    if reading.outcome is TraceOutcome.HELD or reading.has(TraceFlag.CLIPPED):
        outcome = PullOutcome.HELD
    elif reading.outcome is TraceOutcome.BROKE and not reading.has(TraceFlag.SOFT):
        outcome = PullOutcome.BROKE
    limit = f"The rig was at its limit: the piece held at least {show(reading.peak_n, Kind.FORCE)}."
    at_limit = limit if reading.outcome is TraceOutcome.HELD else ""
    words = tuple(one for one in (remark, at_limit, *(flag.words for flag in reading.flags)) if one)
    codes = tuple(flag.code for flag in reading.flags)
    return TraceSummary(
        load_n=max(0.0, reading.peak_n),
        outcome=outcome,
        flags=words,
        flag_codes=codes,
        rate_n_per_s=reading.rate_n_per_s,
        stood_s=reading.hold.lasted_s if reading.hold else None,
        sagged_n=reading.hold.sag_n if reading.hold else None,
        **keep_bending(trace.bending),
    )


def _summarise_nothing(words: tuple[str, ...]) -> TraceSummary:
    return TraceSummary(
        load_n=0.0, outcome=None, flags=words, flag_codes=(), rate_n_per_s=None, stood_s=None, sagged_n=None
    )
