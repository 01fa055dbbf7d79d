"""Samples of a trace, and what of them is noise: the measure for everything else that is read."""

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]
Indices = NDArray[np.intp]

REST_S: Final = 0.3
REST_SAMPLES: Final = 3
AFTER_S: Final = 1.5
A_TENTH: Final = 0.1


@dataclass(frozen=True)
class TraceSettings:
    """What is known of the rig and of the piece before a trace is read.

    Attributes
    ----------
    resolution_n : one step of the display; 0 takes it from the samples.
    capacity_n : the rig's limit, None if not known.
    expected_low_n : the lower band of the piece's forecast, None without one.
    file_high_n : the highest load of the file that the pull was cut from, None for a live pull.
    zero_n : what is taken off where the trace has no rest before the load.
    zero_noise_n : sd of the zero as taken before the pull, where the trace has no rest of its own.
    """

    resolution_n: float = 0.0
    capacity_n: float | None = None
    expected_low_n: float | None = None
    file_high_n: float | None = None
    zero_n: float = 0.0
    zero_noise_n: float = 0.0


def find_display_step(loads: Floats) -> float:
    """Return the smallest step between the values of a trace; 0 where they are all the same."""
    steps = np.diff(np.unique(loads))
    steps = steps[steps > 1e-6 * max(1.0, float(np.abs(loads).max(initial=0.0)))]
    return float(steps.min()) if steps.size else 0.0


def find_sampling(times: Floats) -> float:
    """Return the usual time between two samples that differ in it, s; 0 without."""
    steps = np.diff(times)
    steps = steps[steps > 0]
    return float(np.median(steps)) if steps.size else 0.0


def find_gaps(times: Floats) -> Flags:
    """Return for each interval whether it is a gap: more than 0.5 s and five usual intervals; (n − 1,)."""
    steps = np.diff(times)
    return steps > max(0.5, 5 * find_sampling(times))


def estimate_sd(loads: Floats) -> float:
    """Return the sd of a load that rests or rises evenly, from differences of neighbours; spikes do not count."""
    if loads.size < 3:
        return 0.0
    steps = np.diff(loads)
    steps = np.abs(steps - np.median(steps))
    usual = 1.4826 * float(np.median(steps))
    if usual == 0.0:
        moving = steps[steps > 0]
        usual = float(np.median(moving)) if moving.size else 0.0
    steady = steps[steps <= 6 * usual]
    return float(np.sqrt(np.mean(steady**2) / 2)) if steady.size else 0.0


def list_runs(flags: Flags) -> list[tuple[int, int]]:
    """Return where flags are up, as pairs of first and behind the last."""
    edges = np.flatnonzero(np.diff(np.concatenate(([0], flags.astype(int), [0]))))
    return list(zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True))


@dataclass(frozen=True)
class Measures:
    """What counts as noise and as a load in one pull, N."""

    noise_n: float
    floor_n: float
    step_n: float

    @classmethod
    def of(cls, sd_n: float, step_n: float, settings: TraceSettings) -> "Measures":
        """Return the measures for a zero that scatters by `sd_n` on a display with steps of `step_n`."""
        noise = max(8 * sd_n, 4 * step_n)
        floor = max(
            noise,
            10 * step_n,
            0.005 * (settings.capacity_n or 0.0),
            0.02 * (settings.file_high_n or 0.0),
            0.05 * (settings.expected_low_n or 0.0),
        )
        return cls(noise, floor, step_n)


def stands_still(loads: Floats, noise_n: float, peak_n: float) -> bool:
    """Return whether the medians of the two halves agree: the load rests."""
    half = loads.size // 2
    apart = abs(float(np.median(loads[:half])) - float(np.median(loads[-half:])))
    return bool(apart <= max(noise_n / 3, 0.005 * peak_n))


def find_rest_before(times: Floats, loads: Floats, noise_n: float, peak_n: float) -> slice | None:
    """Return the samples of the first rest before the load comes; None where the trace begins under load.

    It lasts until the load leaves it by more than the larger of the noise and 1 % of the peak; a slow rise within that
    is cut off until the rest stands still.
    """
    allowed = max(noise_n, 0.01 * peak_n)
    lowest = np.minimum.accumulate(loads) if loads.size else loads
    came = np.flatnonzero(loads - lowest > A_TENTH * peak_n)
    last_start = int(came[0]) if came.size else loads.size
    start = 0
    while start < last_start:
        least = max(start + REST_SAMPLES, int(np.searchsorted(times, times[start] + REST_S - 1e-9)))
        window = loads[start:least]
        if window.size < REST_SAMPLES or least > loads.size:
            return None
        level = float(np.median(window))
        if np.abs(window - level).max() <= allowed and stands_still(window, noise_n, peak_n):
            left = np.flatnonzero(np.abs(loads[start:] - level) > allowed)
            end = start + int(left[0]) if left.size else loads.size
            while end > least and not stands_still(loads[start:end], noise_n, peak_n):
                end = max(least, start + (end - start) * 9 // 10)
            return slice(start, end)
        start += max(1, (least - start) // 2)
    return None


def find_rest_after(times: Floats, loads: Floats, gone: int, noise_n: float, peak_n: float) -> float | None:
    """Return the median of the first 1.5 s that rest below a tenth of the peak from sample `gone` on; None without."""
    below = loads < A_TENTH * peak_n
    start = gone
    while start < loads.size:
        end = int(np.searchsorted(times, times[start] + AFTER_S - 1e-9))
        if end >= loads.size:
            return None
        over = np.flatnonzero(~below[start : end + 1])
        if over.size:
            start += int(over[-1]) + 1
            continue
        if stands_still(loads[start : end + 1], noise_n, peak_n):
            return float(np.median(loads[start : end + 1]))
        start += max(1, (end - start) // 4)
    return None
