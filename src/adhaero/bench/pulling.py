"""Pulls on a rig: armed, recorded, kept or tried again; where on its trace the load of one is read."""

import logging
from dataclasses import dataclass
from enum import StrEnum

from adhaero.bench.book import read_book
from adhaero.bench.breaking import (
    Judgement,
    next_attempt,
    read_judgement,
    require_loadable,
    require_pull,
    require_untested,
)
from adhaero.bench.planning import follow_plan, make_plan
from adhaero.bench.recording import PullSetup, StoredTrace, finish_pull, load_trace, trace_settings
from adhaero.bench.rigs import LiveRig, RigHub
from adhaero.bench.supplies import read_shop_breaks, read_supplies
from adhaero.core.errors import AdhaeroError, EntryError, NotThere, RigError, StateError
from adhaero.core.rig.trace.flags import TraceFlag
from adhaero.core.rig.trace.reading import TraceReading
from adhaero.core.rig.trace.thinning import thin_trace
from adhaero.store.file import ShopFile
from adhaero.store.pieces import fetch_piece
from adhaero.store.pulls import fetch_pull, list_running
from adhaero.store.rows import amend, insert

log = logging.getLogger(__name__)

_TRACE_POINTS = 1200


def arm(file: ShopFile, hub: RigHub, trial_id: int, piece_id: int, rig_id: int) -> int:
    """Zero the rig and start recording a pull of a piece; the break is found by itself.

    Raises
    ------
    RigError : it is not reading, not at rest, or records already; the practice rig in a real trial.
    StateError : the piece cannot be loaded.
    """
    low = _find_expected_low(file, trial_id, piece_id)
    with hub.arming(rig_id) as live:
        setup = _insert_pull(file, hub, live, trial_id, piece_id, low)
        hub.record(live, setup)
    return setup.pull_id


def _insert_pull(
    file: ShopFile, hub: RigHub, live: LiveRig, trial_id: int, piece_id: int, low: float | None
) -> PullSetup:
    with file.changing("Started a pull", trial_id, undoable=False) as connection:
        book = read_book(connection, trial_id)
        piece = require_loadable(book, piece_id, file.clock())
        require_untested(book, piece)
        practice = hub.find_out(live)
        if practice and not book.trial.practice:
            raise RigError(
                f"{live.rig.name} is a simulated rig.",
                "Its numbers stay out of real trials.",
                "Use it in a practice trial.",
            )
        zero = hub.take_zero(live)
        hub.require_unit(live)
        pull_id = insert(
            connection,
            "pull",
            {
                "piece_id": piece_id,
                "attempt": next_attempt(book, piece),
                "source": "rig",
                "state": "running",
                "rig_id": live.rig.id,
                "calibration_id": live.calibration_row.id,
                "zero_n": zero.load_n,
                "zero_noise_n": zero.noise_n,
                "expected_low_n": low,
                "started_utc": file.now(),
                "practice": int(practice),
            },
        )
        return PullSetup(
            pull_id,
            trial_id,
            piece_id,
            piece.label,
            live.calibration,
            live.reader.seen_unit or live.rig.unit,
            trace_settings(live.rig, zero.load_n, zero.noise_n, low),
            book.strength_of(piece, 1.0),
        )


def _find_expected_low(file: ShopFile, trial_id: int, piece_id: int) -> float | None:
    """Return the lower band of the forecast of a piece, N; None without one."""
    with file.reading() as connection:
        book = read_book(connection, trial_id)
        supplies = read_supplies(connection)
        breaks = read_shop_breaks(connection, trial_id, practice=bool(book.trial.practice))
    name = book.treatments[book.piece(piece_id).treatment_id].name
    bands = follow_plan(make_plan(book, supplies, breaks)).bands
    return next((band.low_n for band in bands if band.name == name), None)


def stop_pull(file: ShopFile, hub: RigHub, trial_id: int, pull_id: int) -> None:
    """End a running pull by hand."""
    with file.reading() as connection:
        require_pull(read_book(connection, trial_id), pull_id)
    recording = hub.recording_of(pull_id)
    if recording is not None:
        recording.stop()
    finish_pull(file, pull_id, trial_id)


def keep_pull(file: ShopFile, trial_id: int, pull_id: int, judgement: Judgement) -> None:
    """Keep a pull that the rig recorded, with what the person saw."""
    with file.changing("Kept a break", trial_id) as connection:
        piece, pull = require_pull(read_book(connection, trial_id), pull_id)
        if pull.state != "stopped":
            raise StateError(
                f"This pull of {piece.label} is {pull.state}.", "Only a pull that has stopped can be kept."
            )
        if judgement.outcome != "fell_apart" and not pull.load_n:
            raise StateError(f"This pull of {piece.label} reached no load.", "There is nothing to keep.", "Try again.")
        amend(connection, "pull", pull_id, {"state": "kept", **read_judgement(judgement)})


def retry_pull(file: ShopFile, trial_id: int, pull_id: int) -> None:
    """Lay a stopped pull aside as a try, so that the piece can be loaded again; both stay on record."""
    with file.changing("Laid a pull aside to try again", trial_id) as connection:
        piece, pull = require_pull(read_book(connection, trial_id), pull_id)
        if pull.state not in ("stopped", "kept"):
            raise StateError(
                f"This pull of {piece.label} is {pull.state}.", "Only a pull that has stopped can be laid aside."
            )
        amend(connection, "pull", pull_id, {"state": "retried"})


@dataclass(frozen=True)
class TraceView:
    """A pull's trace for drawing, and what it says."""

    points: list[tuple[float, float]]
    samples: int
    reading: TraceReading | None


def view_trace(file: ShopFile, pull_id: int) -> TraceView:
    """Return the trace of a pull, thinned for drawing so that peaks stay."""
    with file.reading() as connection:
        if fetch_pull(connection, pull_id) is None:
            raise NotThere(f"There is no pull {pull_id}.")
    trace = load_trace(file, pull_id)
    points = thin_trace(trace.times_s, _zero(trace), _TRACE_POINTS)
    return TraceView(points, len(trace.times_s), trace.reading)


def _zero(trace: StoredTrace) -> list[float]:
    """Return the loads of a trace as they were read: the zero taken off, a reversed cell turned."""
    if trace.reading is None:
        return trace.loads_n
    sign = -1.0 if trace.reading.has(TraceFlag.REVERSED) else 1.0
    return [sign * (load - trace.reading.zero_n) for load in trace.loads_n]


class LoadPoint(StrEnum):
    """Where on its trace the load of a pull is read."""

    HIGHEST = "highest"
    FIRST_DROP = "first_drop"
    POINT = "point"


@dataclass(frozen=True)
class PointEntry:
    """Where the load is to be read, and why; `at_s` is the time of a point on the trace."""

    point: str
    reason: str = ""
    at_s: float | None = None


def choose_point(file: ShopFile, trial_id: int, pull_id: int, entry: PointEntry) -> None:
    """Read the load of a pull elsewhere on its trace; the trace and what it says stay.

    Raises
    ------
    EntryError : no such point, or no reason for another than the highest. StateError : the pull has no trace.
    """
    if entry.point not in list(LoadPoint):
        raise EntryError(f"“{entry.point}” is no point.", f"Choose one of {', '.join(LoadPoint)}.", field="point")
    point, reason = LoadPoint(entry.point), entry.reason.strip()[:300]
    if point is not LoadPoint.HIGHEST and not reason:
        raise EntryError(
            "The reason is missing.",
            "The highest load counts unless something speaks against it.",
            "Say what the trace shows, e.g. “it only slipped after the first drop”.",
            field="reason",
        )
    trace = load_trace(file, pull_id)
    with file.changing("Chose another point of a trace", trial_id) as connection:
        piece, pull = require_pull(read_book(connection, trial_id), pull_id)
        if pull.state not in ("stopped", "kept") or trace.reading is None:
            raise StateError(
                f"This pull of {piece.label} has no trace that is finished.", "Only a finished trace has points."
            )
        at_s, load_n = _find_point(trace, trace.reading, point, entry.at_s)
        chosen = {"load_point": point, "load_point_s": at_s, "load_point_reason": reason}
        amend(connection, "pull", pull_id, {"load_n": max(0.0, load_n), **chosen})


def _find_point(trace: StoredTrace, reading: TraceReading, point: LoadPoint, at_s: float | None) -> tuple[float, float]:
    """Return the time and the load of a point, s and N."""
    if point is LoadPoint.HIGHEST:
        return reading.peak_s, reading.peak_n
    if point is LoadPoint.FIRST_DROP:
        if reading.first_drop is None:
            raise EntryError("This trace has no drop.", "The load rose to its peak without one.", field="point")
        return reading.first_drop.at_s, reading.first_drop.from_n
    if at_s is None or not trace.times_s[0] <= at_s <= trace.times_s[-1]:
        raise EntryError(
            "The point is not on the trace.",
            f"It goes from {trace.times_s[0]:.1f} to {trace.times_s[-1]:.1f} s.",
            field="at_s",
        )
    nearest = min(range(len(trace.times_s)), key=lambda at: abs(trace.times_s[at] - at_s))
    return trace.times_s[nearest], _zero(trace)[nearest]


def recover_pulls(file: ShopFile) -> int:
    """End the pulls that ran when the program last stopped, from what was stored of them; return how many.

    Nothing here stops a start: a pull that cannot be ended stays as it is, and the log says so.
    """
    with file.reading() as connection:
        running = list_running(connection)
        pieces = {pull.id: fetch_piece(connection, pull.piece_id) for pull in running}
    remark = "The program stopped during this pull; the trace up to then is kept."
    for pull_id, piece in pieces.items():
        if piece is None:
            continue
        try:
            finish_pull(file, pull_id, piece.trial_id, remark)
        except AdhaeroError:
            log.exception("pull %s of %s could not be ended", pull_id, piece.label)
    return len(running)
