"""One pull, read: where it rested, its peak, its drops, the break, how it was loaded, and what looks wrong."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Final

import numpy as np

from adhaero.core.rig.trace.falls import (
    Fall,
    Strokes,
    find_break,
    find_falls,
    find_strokes,
    time_fall,
)
from adhaero.core.rig.trace.flags import Flag, TraceFlag, word_flag
from adhaero.core.rig.trace.outliers import Outlier
from adhaero.core.rig.trace.prepared import PreparedPull, find_usual_step, prepare_pull
from adhaero.core.rig.trace.samples import (
    Flags,
    Floats,
    Indices,
    Measures,
    TraceSettings,
    find_gaps,
    find_rest_after,
    find_sampling,
    list_runs,
)

RINGING_S: Final = 0.5
SOFT_S: Final = 0.5
FEW: Final = 20


class TraceOutcome(StrEnum):
    """How a pull ended."""

    BROKE = "broke"
    HELD = "held"
    UNBROKEN = "unbroken"


@dataclass(frozen=True)
class Hold:
    """The longest time at one load: from when, how long, s; how much it sagged, N."""

    at_s: float
    lasted_s: float
    sag_n: float


@dataclass(frozen=True)
class TraceReading:
    """What a trace says; times in s as the trace has them, loads in N.

    Attributes
    ----------
    peak_n, peak_s : the highest sample that is no spike, zeroed, and when it came.
    sampling_s : the usual time between samples, beside the peak: it may have fallen between two.
    outcome : broke, held (the rig was at its limit) or unbroken.
    break_s : the last sample before the load fell for good; None if it did not.
    drops : every fall that is no stroke, with whether the load came back.
    rest_before_n, rest_after_n : as recorded; None where there is no rest. The first is taken off.
    rate_n_per_s : slope from first reaching 20 to first reaching 80 % of the peak; None with too few samples.
    to_break_s : from the first 5 % of the peak to the break, else to the peak.
    hold : the longest time at one load; None below 5 s.
    noise_n : what no drop is smaller than. zero_n : what was taken off.
    flags : what looks wrong, advice; nothing is dropped.
    outliers : samples that were not taken as peak or as drop.
    """

    peak_n: float
    peak_s: float
    sampling_s: float
    outcome: TraceOutcome
    break_s: float | None
    drops: tuple[Fall, ...]
    rest_before_n: float | None
    rest_after_n: float | None
    rate_n_per_s: float | None
    to_break_s: float | None
    hold: Hold | None
    noise_n: float
    zero_n: float
    flags: tuple[Flag, ...]
    outliers: tuple[Outlier, ...]

    @property
    def first_drop(self) -> Fall | None:
        """Return the first crack."""
        return self.drops[0] if self.drops else None

    def has(self, flag: TraceFlag) -> bool:
        """Return whether a flag was raised."""
        return any(one.code is flag for one in self.flags)


def read_trace(
    times_s: Sequence[float] | Floats,
    loads_n: Sequence[float] | Floats,
    settings: TraceSettings,
    unreadable: int = 0,
) -> TraceReading | None:
    """Return what the trace of one pull says; None without samples.

    Parameters
    ----------
    times_s : (n,) seconds, not falling. loads_n : (n,) newtons as the rig's calibration gives them, not zeroed.
    settings : what is known of rig and piece. unreadable : lines of this pull that held no number.

    Examples
    --------
    >>> t = [0.1 * i for i in range(90)]
    >>> f = [max(0.0, 20.0 * (i - 10)) if i < 60 else 0.0 for i in range(90)]
    >>> reading = read_trace(t, f, TraceSettings(resolution_n=1))
    >>> reading.peak_n, round(reading.break_s, 1), reading.outcome.value
    (980.0, 5.9, 'broke')
    """
    if len(times_s) == 0:
        return None
    times, raw = np.asarray(times_s, dtype=float), np.asarray(loads_n, dtype=float)
    pull = prepare_pull(times, raw, settings)
    kept = pull.kept
    time, load = times[kept], pull.loads[kept]
    top = int(np.argmax(load))
    peak, peak_s = float(load[top]), float(time[top])
    sampling = find_sampling(times)
    strokes = find_strokes(find_falls(time, load, pull.measures, ease=0.5), peak, peak_s)
    falls = find_falls(time, load, pull.measures)
    drops = [fall for fall in falls if strokes is None or not strokes.explain(fall)]
    held = _is_at_limit(time, raw[kept] * pull.sign, settings, pull.measures.step_n)
    broken = (
        None if held or peak <= pull.measures.floor_n else find_break(time, load, drops, peak, pull.measures.noise_n)
    )
    if broken is not None:
        drops = [one for one in drops if one is broken or not 0 < one.at_s - broken.at_s <= RINGING_S]
    rest_after = _find_rest_after(pull, broken, kept, top, peak)
    way_up = _find_way_up(load, top, peak)
    rings = _find_ringing(times, broken)
    outliers = tuple(one for one in pull.outliers if not rings[one.start])
    hold = _find_hold(time, load, peak, pull.measures)
    reading = TraceReading(
        peak_n=peak,
        peak_s=peak_s,
        sampling_s=sampling,
        outcome=TraceOutcome.HELD if held else TraceOutcome.UNBROKEN if broken is None else TraceOutcome.BROKE,
        break_s=None if broken is None else broken.at_s,
        drops=tuple(drops),
        rest_before_n=pull.rest_before_n,
        rest_after_n=rest_after,
        rate_n_per_s=_compute_rate(time, load, peak),
        to_break_s=_time_to_break(time, way_up, broken),
        hold=hold,
        noise_n=pull.measures.noise_n,
        zero_n=pull.zero_n,
        flags=(),
        outliers=outliers,
    )
    found = _find_flags(reading, pull, time, load, way_up, strokes, broken, unreadable)
    rested = reading.rest_before_n is not None
    return replace(reading, flags=tuple(word_flag(code, numbers, rested=rested) for code, numbers in found))


def _find_rest_after(pull: PreparedPull, broken: Fall | None, kept: Indices, top: int, peak: float) -> float | None:
    """Return the rest after the load is gone, as recorded."""
    time, load = pull.times[kept], pull.loads[kept]
    over = np.flatnonzero(load[top:] >= 0.1 * peak)
    gone = top + int(over[-1]) + 1 if over.size and broken is None else (broken.end if broken else top)
    rest = find_rest_after(time, load, gone, pull.measures.noise_n, peak)
    return None if rest is None else pull.sign * rest + pull.zero_n


def _find_ringing(times: Floats, broken: Fall | None) -> Flags:
    if broken is None:
        return np.zeros(times.size, dtype=bool)
    return (times > broken.at_s) & (times <= broken.at_s + RINGING_S)


def _find_way_up(load: Floats, top: int, peak: float) -> slice:
    """Return the samples from the first 5 % of the peak up to it."""
    if peak <= 0:
        return slice(top, top)
    return slice(int(np.argmax(load[: top + 1] >= 0.05 * peak)), top + 1)


def _compute_rate(time: Floats, load: Floats, peak: float) -> float | None:
    if peak <= 0:
        return None
    first, last = int(np.argmax(load >= 0.2 * peak)), int(np.argmax(load >= 0.8 * peak))
    part = slice(first, last + 1)
    if last - first < 1 or time[last] == time[first]:
        return None
    return float(np.polyfit(time[part] - time[first], load[part], 1)[0])


def _time_to_break(time: Floats, way_up: slice, broken: Fall | None) -> float | None:
    if way_up.start == way_up.stop:
        return None
    until = float(time[way_up.stop - 1]) if broken is None else broken.at_s
    return until - float(time[way_up.start])


def _is_at_limit(times: Floats, shown: Floats, settings: TraceSettings, step: float) -> bool:
    """Return whether the top stays within one display step for 0.2 s and five samples at the rig's limit."""
    if settings.capacity_n is None:
        return False
    at_limit = shown >= 0.995 * settings.capacity_n
    if not at_limit.any():
        return False
    top = float(np.sort(shown[at_limit])[at_limit.sum() // 2])
    flat = at_limit & (np.abs(shown - top) <= step * (1 + 1e-9) + 1e-9)
    return any(stop - start >= 5 and times[stop - 1] - times[start] >= 0.2 - 1e-9 for start, stop in list_runs(flat))


def _longest_equal(load: Floats) -> int:
    """Return how many neighbours stand equal at most."""
    if load.size == 0:
        return 0
    changed = np.flatnonzero(np.abs(np.diff(load)) > 1e-9 * max(1.0, float(np.abs(load).max())))
    edges = np.concatenate(([-1], changed, [load.size - 1]))
    return int(np.diff(edges).max())


def _is_clipped(load: Floats, top: int, way_up: slice, measures: Measures) -> bool:
    """Return whether the top is flat below the limit.

    It has five or more equal samples, three times as many as stand equal anywhere on the way up, and as many as there
    are within half of the noise below it: a load that turns slowly leaves a display step as it came.
    """
    flat = load >= load[top] - 1e-9 * max(1.0, load[top])
    near = np.count_nonzero(~flat & (load > load[top] - measures.noise_n / 2))
    longest = max(stop - start for start, stop in list_runs(flat))
    below = load[way_up]
    below = below[below < load[top] - 1e-9 * max(1.0, load[top])]
    return bool(longest >= 5 and longest >= near and longest >= 3 * max(1, _longest_equal(below)))


def _find_hold(time: Floats, load: Floats, peak: float, measures: Measures) -> Hold | None:
    """Return the longest time above half of the peak, within 2 % and without a rise, by medians of a second."""
    if peak <= measures.floor_n:
        return None
    second = np.floor(time - time[0]).astype(int)
    starts = np.flatnonzero(np.concatenate(([True], np.diff(second) > 0)))
    stops = np.append(starts[1:], time.size)
    middles = [float(np.median(load[a:b])) for a, b in zip(starts, stops, strict=True)]
    rise = max(measures.step_n, measures.noise_n / 8)
    best: Hold | None = None
    begin = 0
    for at in range(len(middles)):
        if middles[at] <= peak / 2:
            begin = at + 1
            continue
        if at > begin and middles[at] > middles[at - 1] + rise:
            begin = at
        while middles[begin] - middles[at] > 0.02 * peak or middles[at] - middles[begin] > rise:
            begin += 1
        lasted = float(time[stops[at] - 1] - time[starts[begin]])
        if lasted >= 5 and (best is None or lasted > best.lasted_s):
            best = Hold(float(time[starts[begin]]), lasted, middles[begin] - middles[at])
    return best


def _find_flags(
    reading: TraceReading,
    pull: PreparedPull,
    time: Floats,
    load: Floats,
    way_up: slice,
    strokes: Strokes | None,
    broken: Fall | None,
    unreadable: int,
) -> list[tuple[TraceFlag, dict[str, float]]]:
    """Return each flag with the numbers of its words."""
    peak, measures = reading.peak_n, pull.measures
    found: dict[TraceFlag, dict[str, float]] = {}
    for code, is_spike in ((TraceFlag.SPIKE, True), (TraceFlag.DROPOUT, False)):
        runs = [one for one in reading.outliers if one.is_spike is is_spike]
        if runs:
            first = runs[0]
            found[code] = {"count": len(runs), "load_n": first.load_n, "at_s": float(pull.times[first.start])}
    allowed = max(measures.noise_n / 3, 0.01 * peak)
    before, after = reading.rest_before_n, reading.rest_after_n
    zero = before if before is not None else after
    if zero is not None and abs(zero) > allowed:
        found[TraceFlag.OFFSET] = {"load_n": zero}
    if before is not None and after is not None and abs(after - before) > allowed:
        found[TraceFlag.DRIFT] = {"load_n": after - before}
    if pull.sign < 0:
        found[TraceFlag.REVERSED] = {}
    if measures.noise_n > 0.04 * peak:
        found[TraceFlag.NOISY] = {"load_n": measures.noise_n}
    if strokes is not None and strokes.depth > 0.1:
        found[TraceFlag.STROKES] = {"count": strokes.count, "share": strokes.depth}
    if broken is not None and (took := time_fall(time, load, broken)) > SOFT_S:
        found[TraceFlag.SOFT] = {"took_s": took}
    again = [
        drop
        for drop in reading.drops
        if drop is not broken
        and drop.from_n - drop.to_n >= 0.2 * drop.from_n
        and (drop.recovered or (broken is not None and drop.start < broken.start))
    ]
    if again:
        found[TraceFlag.RELOADED] = {"from_n": again[0].from_n, "to_n": again[0].to_n, "at_s": again[0].at_s}
    top = way_up.stop - 1
    if (
        reading.outcome is not TraceOutcome.HELD
        and peak > measures.floor_n
        and _is_clipped(load, top, way_up, measures)
    ):
        found[TraceFlag.CLIPPED] = {"load_n": peak}
    jump, usual = _find_jump(time, load, way_up, measures.floor_n)
    if jump > 0.1 * peak and jump > 3 * usual:
        found[TraceFlag.SHOCK] = {"share": jump / peak}
    if way_up.stop - way_up.start < FEW:
        found[TraceFlag.FEW] = {"count": way_up.stop - way_up.start}
    if any(drop.from_n >= 0.98 * peak and load[drop.end :].max() >= 0.98 * peak for drop in reading.drops):
        found[TraceFlag.TWIN] = {}
    gaps = find_gaps(pull.times)
    if gaps.any():
        found[TraceFlag.GAP] = {"lasted_s": float(np.diff(pull.times)[gaps].max())}
    if unreadable:
        found[TraceFlag.UNREADABLE] = {"count": unreadable}
    hold = reading.hold
    if hold is not None and hold.sag_n > 0.002 * peak and hold.sag_n > 2 * measures.step_n:
        found[TraceFlag.CREEP] = {"lasted_s": hold.lasted_s, "sag_n": hold.sag_n}
    return [(code, found[code]) for code in TraceFlag if code in found]


def _find_jump(time: Floats, load: Floats, way_up: slice, floor_n: float) -> tuple[float, float]:
    """Return the largest rise between two neighbours on the way up, and the usual step under load, N."""
    steps = np.diff(load[way_up])
    close = np.diff(time[way_up]) <= 2.5 * find_sampling(time)
    return float(steps[close].max(initial=0.0)), find_usual_step(load, floor_n)
