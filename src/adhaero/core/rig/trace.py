"""Reading a load trace: the peak, the break, the rate, and what looks wrong. Never drops a sample."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

Samples = NDArray[np.float64]
_NEAR_LIMIT = 0.95


@dataclass(frozen=True)
class TraceSettings:
    """What counts as a break and as a crack.

    Attributes
    ----------
    break_drop : share of the running peak that a drop must lose to be a break.
    stays_down_s : how long the load must stay down.
    crack_drop : share of the running peak that a first crack loses.
    floor_n : loads below this are no test.
    noise_n : drops below this are the rig, not the piece.
    capacity_n : the rig's limit, None if not known.
    """

    break_drop: float = 0.20
    stays_down_s: float = 0.2
    crack_drop: float = 0.03
    floor_n: float = 0.0
    noise_n: float = 0.0
    capacity_n: float | None = None


@dataclass(frozen=True)
class TraceReading:
    """What a trace says; times in s from its start, loads in N.

    Attributes
    ----------
    peak_n, peak_s : the highest sample and when it came.
    sampling_s : typical time between samples, beside the peak: it may have fallen between two.
    break_s : when the load dropped for good; None if it did not.
    crack_n, crack_s : the load before the first drop of a few percent, and when; None without one.
    rate_n_per_s : slope between 20 and 80 % of the peak on the way up; None with too few samples.
    to_break_s : from the first 5 % of the peak to the peak.
    held : the load reached the rig's limit and stayed: the piece is stronger than that.
    flags : what looks wrong, in sentences; advice, nothing is dropped.
    """

    peak_n: float
    peak_s: float
    sampling_s: float
    break_s: float | None
    crack_n: float | None
    crack_s: float | None
    rate_n_per_s: float | None
    to_break_s: float | None
    held: bool
    flags: tuple[str, ...]


class BreakWatch:
    """Finds the break while the samples arrive: a drop from the running peak that stays down."""

    def __init__(self, settings: TraceSettings) -> None:
        self._settings = settings
        self.peak_n = 0.0
        self._down_since: float | None = None
        self.break_s: float | None = None

    def see(self, time_s: float, load_n: float) -> bool:
        """Take one sample; return True once the break is found."""
        if self.break_s is not None:
            return True
        if load_n > self.peak_n:
            self.peak_n = load_n
        dropped = load_n <= (1 - self._settings.break_drop) * self.peak_n
        if self.peak_n <= self._settings.floor_n or not dropped:
            self._down_since = None
            return False
        if self._down_since is None:
            self._down_since = time_s
        if time_s - self._down_since >= self._settings.stays_down_s:
            self.break_s = self._down_since
        return self.break_s is not None


def read_trace(times_s: Sequence[float], loads_n: Sequence[float], settings: TraceSettings) -> TraceReading | None:
    """Return what a trace says; None without samples.

    Parameters
    ----------
    times_s : (n,) seconds, not falling; loads_n : (n,) newtons, zeroed.
    settings : what counts as a break; the defaults are those of docs/method.

    Examples
    --------
    >>> t = [0.1 * i for i in range(60)]
    >>> f = [20.0 * i if i < 50 else 10.0 for i in range(60)]
    >>> reading = read_trace(t, f, TraceSettings())
    >>> reading.peak_n, round(reading.break_s, 1)
    (980.0, 5.0)
    """
    if len(times_s) == 0:
        return None
    times, loads = np.asarray(times_s, dtype=float), np.asarray(loads_n, dtype=float)
    watch = BreakWatch(settings)
    for time, load in zip(times_s, loads_n, strict=True):
        if watch.see(time, load):
            break
    broke_at = watch.break_s
    until = len(times) if broke_at is None else int(np.searchsorted(times, broke_at, side="left"))
    top = int(np.argmax(loads[: max(until, 1)]))
    peak = float(loads[top])
    steps = np.diff(times)
    sampling = float(np.median(steps)) if steps.size else 0.0
    way_up = _way_up(loads, top, peak)
    crack = _first_crack(loads, until, settings)
    held = _at_limit(times, loads, settings)
    return TraceReading(
        peak_n=peak,
        peak_s=float(times[top]),
        sampling_s=sampling,
        break_s=broke_at,
        crack_n=None if crack is None else float(loads[crack]),
        crack_s=None if crack is None else float(times[crack]),
        rate_n_per_s=_rate(times, loads, way_up, peak),
        to_break_s=float(times[top] - times[way_up[0]]) if way_up.size else None,
        held=held,
        flags=tuple(_flags(times, loads, way_up, top, peak, held, sampling, settings, until)),
    )


def _way_up(loads: Samples, top: int, peak: float) -> NDArray[np.intp]:
    """Return the indices from the first 5 % of the peak up to it."""
    if peak <= 0:
        return np.array([], dtype=int)
    start = int(np.argmax(loads[: top + 1] >= 0.05 * peak))
    return np.arange(start, top + 1)


def _rate(times: Samples, loads: Samples, way_up: NDArray[np.intp], peak: float) -> float | None:
    inside = way_up[(loads[way_up] >= 0.2 * peak) & (loads[way_up] <= 0.8 * peak)]
    if inside.size < 2 or np.ptp(times[inside]) == 0:
        return None
    return float(np.polyfit(times[inside] - times[inside[0]], loads[inside], 1)[0])


def _first_crack(loads: Samples, until: int, settings: TraceSettings) -> int | None:
    """Return the index of the running peak before the first crack; a drop within the noise is none."""
    before = loads[:until]
    running = np.maximum.accumulate(before)
    drops = np.flatnonzero(running - before >= np.maximum(settings.crack_drop * running, settings.noise_n))
    drops = drops[running[drops] > settings.floor_n]
    return int(np.argmax(before[: drops[0] + 1])) if drops.size else None


def _at_limit(times: Samples, loads: Samples, settings: TraceSettings) -> bool:
    """Return whether the load stayed at the rig's limit, or flat as a table just below it.

    A limit is one of the display: offset and zero shift it by a few percent in newtons.
    """
    top = float(loads.max())
    if settings.capacity_n is None or top < _NEAR_LIMIT * settings.capacity_n:
        return False
    flat = np.flatnonzero(loads >= min(top, 0.995 * settings.capacity_n))
    return bool(flat.size >= 5 and times[flat[-1]] - times[flat[0]] >= settings.stays_down_s)


def _flags(
    times: Samples,
    loads: Samples,
    way_up: NDArray[np.intp],
    top: int,
    peak: float,
    held: bool,
    sampling: float,
    settings: TraceSettings,
    until: int,
) -> list[str]:
    flags = []
    if held:
        flags.append("The rig was at its limit: the piece held at least this much.")
    if way_up.size < 20:
        flags.append(f"Only {way_up.size} readings on the way up: the peak may have fallen between two.")
    jumps = np.diff(loads[way_up]) if way_up.size > 1 else np.array([0.0])
    if peak > 0 and float(jumps.max()) > 0.1 * peak:
        flags.append(
            f"The load jumped by {100 * float(jumps.max()) / peak:.0f} % of the peak at once: a shock, or a slip."
        )
    tail = loads[until:][np.abs(loads[until:]) < 0.05 * peak]
    if tail.size >= 3 and abs(float(np.median(tail))) > 0.01 * peak:
        flags.append(f"Zero had moved by {100 * abs(float(np.median(tail))) / peak:.1f} % of the peak after the break.")
    second = _second_peak(loads, top, until, settings.crack_drop)
    if second is not None and second >= 0.98 * peak:
        flags.append("Two peaks within 2 % of each other: it may have opened in steps.")
    longest = max((b - a for a, b in pairwise(times.tolist())), default=0.0)
    if longest > max(0.5, 5 * sampling):
        flags.append(f"The stream was interrupted for {longest:.1f} s: the peak may be missing.")
    return flags


def _second_peak(loads: Samples, top: int, until: int, drop: float) -> float | None:
    """Return the highest load on the far side of a drop before or after the peak."""
    peak = float(loads[top])
    sides = []
    after = loads[top:until]
    down = np.flatnonzero(after <= (1 - drop) * peak)
    if down.size:
        sides.append(float(after[down[0] :].max()))
    before = loads[:top]
    running = np.maximum.accumulate(before) if before.size else before
    trough = np.flatnonzero((before <= (1 - drop) * running) & (running > 0.05 * peak))
    if trough.size:
        sides.append(float(before[: int(trough[-1])].max()))
    return max(sides, default=None)


def thin_trace(times_s: Sequence[float], loads_n: Sequence[float], most: int) -> list[tuple[float, float]]:
    """Return at most about `most` samples for a drawing: lowest and highest of each stretch, so peaks stay."""
    count = len(times_s)
    if count <= most:
        return list(zip(times_s, loads_n, strict=True))
    per = -(-2 * count // most)
    kept: set[int] = {0, count - 1}
    for start in range(0, count, per):
        part = range(start, min(start + per, count))
        kept.add(min(part, key=lambda i: loads_n[i]))
        kept.add(max(part, key=lambda i: loads_n[i]))
    return [(times_s[i], loads_n[i]) for i in sorted(kept)]
