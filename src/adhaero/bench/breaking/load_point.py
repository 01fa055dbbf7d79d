"""Where on its trace the load of a pull is read."""

from dataclasses import dataclass
from math import isnan
from typing import Annotated

from annotated_types import Ge, Le

from adhaero.bench.breaking.attempts import require_pull
from adhaero.bench.breaking.dial import bend_of
from adhaero.bench.breaking.recording import StoredTrace, find_span, load_trace
from adhaero.bench.facts.entry import Entry, Reason
from adhaero.bench.facts.reading import read_trial
from adhaero.core.errors import EntryError, NotThere, StateError
from adhaero.core.pulls import LoadPoint, PullSource
from adhaero.core.rig.trace.bending import Bending
from adhaero.core.rig.trace.flags import TraceFlag
from adhaero.core.rig.trace.reading import TraceReading
from adhaero.core.rig.trace.thinning import thin_trace
from adhaero.store.file import ShopFile
from adhaero.store.pulls import Pull, amend_pull, fetch_pull

_TRACE_POINTS = 1200


@dataclass(frozen=True)
class TraceView:
    """A pull's trace for drawing, and what it says.

    `points` are seconds and N; `curve` mm and N, and `bending` what that says, where the displacement was recorded.
    """

    points: list[tuple[float, float]]
    samples: int
    reading: TraceReading | None
    curve: list[tuple[float, float]]
    bending: Bending | None


def view_trace(file: ShopFile, pull_id: int) -> TraceView:
    """Return the trace of a pull, thinned for drawing so that peaks stay."""
    with file.reading() as connection:
        pull = fetch_pull(connection, pull_id)
        if pull is None:
            raise NotThere(f"There is no pull {pull_id}.")
        if pull.dial:
            return draw_dial(pull, find_span(connection, pull.piece_id))
    return draw_trace(load_trace(file, pull_id), _TRACE_POINTS)


def draw_dial(pull: Pull, span_mm: float | None) -> TraceView:
    """Return the readings of a dial for drawing: load over displacement, no times."""
    curve = [(mm, load) for load, mm in pull.dial]
    return TraceView([], 0, None, curve, bend_of(pull.dial, pull.load_n, span_mm))


def draw_trace(trace: StoredTrace, most: int) -> TraceView:
    """Return a trace for drawing, with at most about `most` points."""
    loads = _zero(trace)
    moved = trace.displacements_mm
    step = max(1, len(moved) // most)
    until = trace.reading.break_s if trace.reading is not None else None
    curve = [
        (moved[at], loads[at])
        for at in range(0, len(moved), step)
        if not isnan(moved[at]) and (until is None or trace.times_s[at] <= until)
    ]
    return TraceView(thin_trace(trace.times_s, loads, most), len(trace.times_s), trace.reading, curve, trace.bending)


def export_trace(file: ShopFile, pull_id: int) -> str:
    """Return a pull's trace as text: seconds, N with the zero taken off, mm where there are any; raises `NotThere`."""
    with file.reading() as connection:
        if fetch_pull(connection, pull_id) is None:
            raise NotThere(f"There is no pull {pull_id}.")
    trace = load_trace(file, pull_id)
    moved = trace.displacements_mm
    head = "time_s,load_N,displacement_mm" if moved else "time_s,load_N"
    rows = [
        f"{time:.6g},{load:.9g}" + (f",{moved[at]:.6g}" if moved else "")
        for at, (time, load) in enumerate(zip(trace.times_s, _zero(trace), strict=True))
    ]
    return "\n".join([head, *rows]) + "\n"


@dataclass(frozen=True)
class SetTrace:
    """One pull among those of its set."""

    piece_id: int
    label: str
    pull_id: int
    load_n: float | None
    trace: TraceView


_SET_POINTS = 240


def view_set_traces(file: ShopFile, trial_id: int, treatment_id: int) -> list[SetTrace]:
    """Return the kept traces of a set, to be drawn over one another."""
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
    found = []
    for piece in facts.pieces.values():
        pull = facts.result_of(piece)
        if piece.treatment_id != treatment_id or pull is None:
            continue
        if pull.dial:
            view = draw_dial(pull, facts.sizes_of(piece).get("span_mm"))
        elif pull.source is PullSource.RIG:
            view = draw_trace(load_trace(file, pull.id), _SET_POINTS)
        else:
            continue
        found.append(SetTrace(piece.id, piece.label, pull.id, pull.load_n, view))
    return found


def _zero(trace: StoredTrace) -> list[float]:
    """Return the loads of a trace as they were read: the zero taken off, a reversed cell turned."""
    if trace.reading is None:
        return trace.loads_n
    sign = -1.0 if trace.reading.has(TraceFlag.REVERSED) else 1.0
    return [sign * (load - trace.reading.zero_n) for load in trace.loads_n]


@dataclass(frozen=True)
class PointEntry(Entry):
    """Where the load is to be read, and why; `at_s` is the time of a point on the trace."""

    point: LoadPoint
    reason: Reason = ""
    at_s: Annotated[float, Ge(-1e9), Le(1e9)] | None = None


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
        piece, pull = require_pull(read_trial(connection, trial_id), pull_id)
        if pull.state not in ("stopped", "kept") or trace.reading is None:
            raise StateError(
                f"This pull of {piece.label} has no trace that is finished.", "Only a finished trace has points."
            )
        at_s, load_n = _find_point(trace, trace.reading, point, entry.at_s)
        load_n = max(0.0, load_n)
        amend_pull(connection, pull_id, load_n=load_n, load_point=point, load_point_s=at_s, load_point_reason=reason)


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
