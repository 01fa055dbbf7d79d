"""Falls of the load: which are drops, which are strokes of a hand pump, which is the break."""

from dataclasses import dataclass
from statistics import median
from typing import Final

import numpy as np
from scipy.ndimage import minimum_filter1d

from adhaero.core.rig.trace.samples import Flags, Floats, Measures, find_gaps, find_sampling

DROP_SHARE: Final = 0.03
DROP_SPEED: Final = 0.1
WITHIN_S: Final = 0.3
RECOVERED: Final = 0.98
STROKE_S: Final = 2.5
NEXT_STROKE_S: Final = 1.5
TREMOR_S: Final = 0.5
STROKES_IN_A_ROW: Final = 3
STROKES_ANYWHERE: Final = 5
BREAK_SHARE: Final = 0.2
BREAK_WITHIN_S: Final = 2.0


@dataclass(frozen=True)
class Fall:
    """A fall of the load, from sample `start` to sample `end`.

    Attributes
    ----------
    at_s, from_n, to_n : the last sample before it, and where it ended.
    share : how deep, of the running peak.
    back_s : when the load was back at 98 % of where it fell from; None if never.
    """

    start: int
    end: int
    at_s: float
    from_n: float
    to_n: float
    share: float
    back_s: float | None

    @property
    def recovered(self) -> bool:
        """Return whether the load came back to where it fell from."""
        return self.back_s is not None

    @property
    def recovered_as_a_stroke(self) -> bool:
        """Return whether it came back as fast as a pump's strokes do."""
        return self.back_s is not None and self.back_s - self.at_s <= STROKE_S


def find_falls(times: Floats, loads: Floats, measures: Measures, ease: float = 1.0) -> list[Fall]:
    """Return every fall from above the floor of 3 % of the running peak, faster than a tenth of it a second.

    Parameters
    ----------
    times, loads : (n,) without spikes, zeroed. ease : 0.5 takes falls of half the size and half the speed.
    """
    if loads.size < 2:
        return []
    running = np.maximum.accumulate(loads)
    least = np.maximum(ease * DROP_SHARE * running, measures.noise_n)
    ahead = min(loads.size, max(1, round(WITHIN_S / (find_sampling(times) or WITHIN_S))))
    lowest = minimum_filter1d(loads, ahead + 1, origin=-((ahead + 1) // 2), mode="nearest")
    gaps = find_gaps(times)
    likely = np.flatnonzero((loads - lowest >= least) & (loads > measures.floor_n))
    found, position = [], 0
    for i in likely:
        if i < position:
            continue
        fall = _follow(times, loads, gaps, int(i), ahead, float(least[i]), ease * DROP_SPEED * float(running[i]))
        if fall is None:
            continue
        start, end = fall
        depth = float(loads[start] - loads[end])
        back = np.flatnonzero(loads[end:] >= RECOVERED * loads[start])
        found.append(
            Fall(
                start,
                end,
                float(times[start]),
                float(loads[start]),
                float(loads[end]),
                depth / float(running[start]),
                float(times[end + back[0]]) if back.size else None,
            )
        )
        position = end
    return found


def _follow(
    times: Floats, loads: Floats, gaps: Flags, i: int, ahead: int, least_n: float, speed: float
) -> tuple[int, int] | None:
    """Return the last sample before a fall near `i` and the lowest that it reaches at that speed; None if too slow."""
    end = _find_low(times, loads, gaps, i, ahead, speed, least_n)
    if end is None:
        return None
    top = loads[i:end]
    start = i + int(top.size - 1 - np.argmax(top[::-1]))
    while (lower := _find_low(times, loads, gaps, end, ahead, speed, 0.0)) is not None:
        end = lower
    return start, end


def _find_low(
    times: Floats, loads: Floats, gaps: Flags, i: int, ahead: int, speed: float, least_n: float
) -> int | None:
    """Return the first sample after `i` that a fall reaches fast enough; the lowest of them where none is asked."""
    window = slice(i + 1, min(i + ahead, loads.size - 1) + 1)
    fallen = loads[i] - loads[window]
    enough = (fallen >= least_n) & (fallen > 0) & (fallen >= speed * (times[window] - times[i]))
    if i < gaps.size and gaps[i]:
        enough[0] = fallen[0] >= least_n and fallen[0] > 0
    if not enough.any():
        return None
    if least_n > 0:
        return i + 1 + int(np.argmax(enough))
    return i + 1 + int(np.argmax(np.where(enough, fallen, -np.inf)))


@dataclass(frozen=True)
class Strokes:
    """The strokes of a hand pump, or a load that trembles.

    Attributes
    ----------
    count : how many sags were seen. depth : their median, as a share of the running peak.
    tremor_n : their median in newtons where they come back within half a second, as noise under load does; else 0.
    """

    count: int
    depth: float
    tremor_n: float

    def explain(self, fall: Fall) -> bool:
        """Return whether a fall is a stroke, and no drop."""
        if fall.recovered_as_a_stroke:
            if fall.from_n - fall.to_n <= 3 * self.tremor_n:
                return True
            return fall.share <= max(0.05, 2 * self.depth)
        return fall.share <= 1.5 * self.depth


def find_strokes(falls: list[Fall], peak_n: float, peak_s: float) -> Strokes | None:
    """Return the strokes among falls of half the size of a drop; None where nothing was pumped by hand."""
    sags = [fall for fall in falls if fall.recovered_as_a_stroke and fall.at_s < peak_s]
    row: list[Fall] = []
    in_a_row = False
    for sag in sags:
        follows = row and row[-1].back_s is not None and sag.at_s - row[-1].back_s <= NEXT_STROKE_S
        row = [*row, sag] if follows else ([sag] if sag.from_n < peak_n / 2 else [])
        in_a_row = in_a_row or len(row) >= STROKES_IN_A_ROW
    if not in_a_row and len(sags) < STROKES_ANYWHERE:
        return None
    trembles = median(sag.back_s - sag.at_s for sag in sags if sag.back_s is not None) <= TREMOR_S
    tremor = median(sag.from_n - sag.to_n for sag in sags) if trembles else 0.0
    return Strokes(len(sags), median(sag.share for sag in sags), tremor)


def find_break(times: Floats, loads: Floats, drops: list[Fall], peak_n: float, noise_n: float) -> Fall | None:
    """Return the first drop that did not recover, lost 20 % of the peak within 2 s and stayed below 80 % of it."""
    back = (1 - BREAK_SHARE) * peak_n + noise_n / 4
    for drop in drops:
        if drop.recovered:
            continue
        lost = np.flatnonzero(drop.from_n - loads[drop.start + 1 :] >= BREAK_SHARE * peak_n)
        if not lost.size:
            continue
        first = drop.start + 1 + int(lost[0])
        in_time = first == drop.start + 1 or times[first] <= drop.at_s + BREAK_WITHIN_S
        if in_time and not np.any(loads[max(first, drop.end) :] >= back):
            return drop
    return None


def time_fall(times: Floats, loads: Floats, fall: Fall) -> float:
    """Return how long a fall took to do nine tenths of itself, s; gaps in the log do not count."""
    goal = fall.from_n - 0.9 * (fall.from_n - fall.to_n)
    reached = fall.start + int(np.argmax(loads[fall.start : fall.end + 1] <= goal))
    steps = np.diff(times[fall.start : reached + 1])
    return float(steps[~find_gaps(times)[fall.start : reached]].sum())
