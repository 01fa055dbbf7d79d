"""The pulls in a log, and a pull that still runs: from readings to what they say."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from adhaero.core.rig.calibration import Calibration
from adhaero.core.rig.trace.bending import Bending, read_bending
from adhaero.core.rig.trace.cutting import PullEnd, cut_pulls, find_end, with_file_high
from adhaero.core.rig.trace.reading import TraceReading, read_trace
from adhaero.core.rig.trace.samples import TraceSettings


@dataclass(frozen=True)
class LogSamples:
    """The samples of a log.

    Attributes
    ----------
    times_s, loads_n, displacements_mm : (n,) as recorded; no displacements where there are none.
    unreadable_before : for each line without a load, how many samples came before it.
    begins : the samples at which the times begin anew, 0 first.
    """

    times_s: Sequence[float]
    loads_n: Sequence[float]
    displacements_mm: Sequence[float] | None
    unreadable_before: Sequence[int]
    begins: Sequence[int]


@dataclass(frozen=True)
class LogPull:
    """One pull of a log, what its displacement says where there is one, and which samples of the log are its own."""

    reading: TraceReading
    bending: Bending | None
    part: slice
    unreadable: int


def read_pulls(log: LogSamples, settings: TraceSettings, span_mm: float | None = None) -> list[LogPull]:
    """Return the pulls of a log in order, each with its own zero; empty for a rig that pulled nothing.

    Parameters
    ----------
    settings : what is known of rig and piece. span_mm : of the fixture, for where a bend begins to stay.
    """
    times, loads = np.array(log.times_s), np.array(log.loads_n)
    moved = None if log.displacements_mm is None else np.array(log.displacements_mm)
    unreadable = np.array(log.unreadable_before)
    parts = list(pairwise([*log.begins, times.size]))
    highs = [with_file_high(times[a:b], loads[a:b], settings).file_high_n or 0.0 for a, b in parts]
    settings = replace(settings, file_high_n=max(highs, default=0.0))
    found = []
    for first, last in parts:
        for cut in cut_pulls(times[first:last], loads[first:last], settings):
            part = slice(first + cut.start, first + cut.stop)
            missing = int(np.count_nonzero((unreadable >= part.start) & (unreadable < part.stop)))
            reading = read_trace(times[part], loads[part], settings, missing)
            if reading is not None:
                bending = None
                if moved is not None:
                    bending = read_bending(times[part], loads[part], moved[part], settings, span_mm)
                found.append(LogPull(reading, bending, part, missing))
    return found


def look(
    times_s: Sequence[float], readings: Sequence[float], calibration: Calibration, settings: TraceSettings
) -> tuple[TraceReading | None, PullEnd | None]:
    """Return what a pull says that still runs, and why it is over; None while it goes on.

    Parameters
    ----------
    times_s, readings : (n,) from its start, in the rig's own unit.
    """
    times, loads = np.asarray(times_s, dtype=float), calibration.load_n(np.asarray(readings, dtype=float))
    return read_trace(times, loads, settings), find_end(times, loads, settings)
