"""Where one pull ends and the next begins: in a log, and live."""

from collections.abc import Callable
from dataclasses import replace
from enum import StrEnum
from typing import Final

import numpy as np

from adhaero.core.rig.trace.prepared import PreparedPull, prepare_pull
from adhaero.core.rig.trace.samples import A_TENTH, AFTER_S, Flags, Floats, TraceSettings, list_runs, stands_still

STAYS_LOW_S: Final = 8.0
_LOW: Final = 0.5
_STRIDE_S: Final = 0.1


class PullEnd(StrEnum):
    """Why a live pull is over."""

    RESTS = "the load rests"
    STAYS_LOW = "the load stayed below half of its peak"


def cut_pulls(times: Floats, loads: Floats, settings: TraceSettings) -> list[slice]:
    """Return the samples of each pull of a log: with the rest before its load, and 1.5 s of the rest after.

    Parameters
    ----------
    times, loads : (n,) s and N, as recorded. settings : with `file_high_n`, see `with_file_high`.
    """
    cuts: list[slice] = []
    begin = 0
    while begin < times.size:
        pull = prepare_pull(times[begin:], loads[begin:], settings)
        came = _find_coming(pull)
        if came is None:
            break
        rest = _find_rest(pull, came)
        stop = times.size if rest is None else begin + rest
        cuts.append(slice(begin, stop))
        last = loads[begin:stop][times[begin:stop] >= times[stop - 1] - AFTER_S]
        settings = replace(settings, zero_n=float(np.median(last)))
        begin = stop
    return cuts


def with_file_high(times: Floats, loads: Floats, settings: TraceSettings) -> TraceSettings:
    """Return the settings for a log, in which 2 % of its highest load is no test."""
    if times.size == 0:
        return settings
    pull = prepare_pull(times, loads, settings)
    return replace(settings, file_high_n=float(pull.loads[pull.kept].max()))


def find_end(times: Floats, loads: Floats, settings: TraceSettings) -> PullEnd | None:
    """Return why a live pull is over with its newest sample; None while it goes on.

    Parameters
    ----------
    times, loads : (n,) s and N from its start, as recorded.
    """
    if times.size == 0:
        return None
    pull = prepare_pull(times, loads, settings)
    came = _find_coming(pull)
    if came is None:
        return None
    if _find_rest(pull, came) is not None:
        return PullEnd.RESTS
    kept = pull.kept
    time, load = pull.times[kept], pull.loads[kept]
    high = np.flatnonzero(load >= _LOW * load.max())
    return PullEnd.STAYS_LOW if time[-1] - time[high[-1]] >= STAYS_LOW_S else None


def _find_coming(pull: PreparedPull) -> int | None:
    """Return the first of the kept samples under load."""
    over = np.flatnonzero(pull.loads[pull.kept] > pull.measures.floor_n)
    return int(over[0]) if over.size else None


def _find_rest(pull: PreparedPull, came: int) -> int | None:
    """Return the sample at which the load has rested for 1.5 s after it came; None while it has not."""
    kept = pull.kept
    time, load = pull.times[kept], pull.loads[kept]
    running = np.maximum.accumulate(load)
    gone = load < np.maximum(pull.measures.floor_n, 0.02 * running)
    at = _find_first(time, gone, came, lambda _start, _end: True)
    low = load < A_TENTH * running
    still = _find_first(
        time, low, came, lambda start, end: stands_still(load[start:end], pull.measures.noise_n, float(running[start]))
    )
    found = min((one for one in (at, still) if one is not None), default=None)
    return None if found is None else int(kept[found]) + 1


def _find_first(time: Floats, low: Flags, came: int, rests: Callable[[int, int], bool]) -> int | None:
    """Return the last sample of the first 1.5 s from `came` on that are low and rest."""
    for start, stop in list_runs(low):
        begin = max(start, came)
        while begin < stop and time[stop - 1] - time[begin] >= AFTER_S - 1e-9:
            end = int(np.searchsorted(time, time[begin] + AFTER_S - 1e-9))
            if rests(begin, end + 1):
                return end
            begin = max(begin + 1, int(np.searchsorted(time, time[begin] + _STRIDE_S)))
    return None
