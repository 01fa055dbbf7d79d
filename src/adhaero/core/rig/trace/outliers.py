"""Samples that the piece did not make: spikes of the radio, moments in which the cable lost touch."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from adhaero.core.rig.trace.samples import Flags, Floats

SPIKE_S: Final = 0.025
SPIKE_SAMPLES: Final = 2
DROPOUT_S: Final = 0.5


@dataclass(frozen=True)
class Outlier:
    """A run of samples from `start` to before `end` that leaves both neighbours; `load_n` is the farthest of it."""

    start: int
    end: int
    load_n: float
    is_spike: bool


def find_outliers(times: Floats, loads: Floats, known: Flags, least_n: float) -> list[Outlier]:
    """Return the runs that leave both neighbours by more than `least_n`, while these nearly agree.

    Parameters
    ----------
    times, loads : (n,). known : (n,) samples that were found before and are passed over.
    """
    kept = np.flatnonzero(~known)
    time, load = times[kept], loads[kept]
    found, position = [], 0
    for edge in np.flatnonzero(np.abs(np.diff(load)) > least_n):
        first = int(edge) + 1
        if first < position:
            continue
        if last := _find_return(time, load, first, least_n):
            run = load[first:last]
            farthest = float(run[np.argmax(np.abs(run - load[first - 1]))])
            short = last - first <= SPIKE_SAMPLES or time[last - 1] - time[first] <= SPIKE_S
            found.append(Outlier(int(kept[first]), int(kept[last - 1]) + 1, farthest, bool(short)))
            position = last
    return found


def _find_return(time: Floats, load: Floats, first: int, least_n: float) -> int | None:
    """Return the first sample after a run beginning at `first` that is back where the one before it was."""
    before = load[first - 1]
    longest = max(first + SPIKE_SAMPLES, int(np.searchsorted(time, time[first] + DROPOUT_S, side="right")))
    smallest = np.inf
    for at in range(first + 1, min(longest, load.size - 1) + 1):
        smallest = min(smallest, abs(load[at - 1] - before))
        if smallest <= least_n:
            return None
        run = load[first:at]
        leaves = min(smallest, float(np.abs(run - load[at]).min()))
        if leaves > least_n and abs(load[at] - before) < leaves / 2:
            return at
    return None
