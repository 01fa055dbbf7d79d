"""A trace made ready: its rest taken off, a reversed cell turned, its outliers found."""

from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from adhaero.core.rig.trace.outliers import Outlier, find_outliers
from adhaero.core.rig.trace.samples import (
    Flags,
    Floats,
    Indices,
    Measures,
    TraceSettings,
    estimate_sd,
    find_display_step,
    find_rest_before,
)

_ROUNDS: Final = 12
_NEAR_S: Final = 1.0
_NEAR_SAMPLES: Final = 8


@dataclass(frozen=True)
class PreparedPull:
    """A trace zeroed and turned, what of it is an outlier, and its measures.

    Attributes
    ----------
    times, loads : (n,) s and N. sign : −1 where the cell was turned. zero_n : taken off, as recorded.
    rest_before_n : None where there is no rest. outlying : (n,) whether a sample is part of an outlier.
    """

    times: Floats
    loads: Floats
    sign: float
    zero_n: float
    rest_before_n: float | None
    outlying: Flags
    outliers: tuple[Outlier, ...]
    measures: Measures

    @property
    def kept(self) -> Indices:
        """Return which samples are no outliers."""
        return np.flatnonzero(~self.outlying)


def prepare_pull(times: Floats, raw: Floats, settings: TraceSettings) -> PreparedPull:
    """Take off the rest, turn a reversed cell, find the outliers; anew without them until the peak stays."""
    step = settings.resolution_n or find_display_step(raw)
    outlying = np.zeros(raw.size, dtype=bool)
    outliers: dict[int, Outlier] = {}
    pull, last_peak = None, None
    for _ in range(_ROUNDS):
        pull = _zero(times, raw, outlying, step, settings)
        pull = replace(pull, outliers=tuple(outliers[at] for at in sorted(outliers)))
        kept = pull.kept
        load = pull.loads[kept]
        peak = float(load.max())
        usual = find_usual_step(load, pull.measures.floor_n)
        least = max(pull.measures.noise_n, 0.05 * peak, 3 * usual)
        found = find_outliers(times, pull.loads, outlying, least)
        if not found and peak == last_peak:
            break
        for one in found:
            outlying[one.start : one.end] = True
            outliers[one.start] = one
        last_peak = peak
    assert pull is not None
    return pull


def _zero(times: Floats, raw: Floats, outlying: Flags, step: float, settings: TraceSettings) -> PreparedPull:
    kept = np.flatnonzero(~outlying)
    time, load = times[kept], raw[kept]
    near = load[: max(_NEAR_SAMPLES, int(np.searchsorted(time, time[0] + _NEAR_S)))]
    extent = float(np.abs(load - np.median(near)).max())
    noise = max(8 * settings.zero_noise_n, 8 * estimate_sd(near), 4 * step)
    rest = None
    for _ in range(3):
        rest = find_rest_before(time, load, noise, extent)
        if rest is None:
            break
        noise, before = max(8 * estimate_sd(load[rest]), 4 * step), noise
        if noise == before:
            break
    if rest is None:
        sd, level = settings.zero_noise_n, None
    else:
        sd = estimate_sd(load[rest])
        level = float(np.median(load[rest.start : rest.start + max(1, (rest.stop - rest.start) // 2)]))
    measures = Measures.of(sd, step, settings)
    zero = settings.zero_n if level is None else level
    zeroed = load - zero
    turned = np.count_nonzero(zeroed < -measures.floor_n) > np.count_nonzero(zeroed > measures.floor_n)
    sign = -1.0 if turned else 1.0
    return PreparedPull(times, sign * (raw - zero), sign, zero, level, outlying, (), measures)


def find_usual_step(load: Floats, floor_n: float) -> float:
    """Return what nine in ten changes between neighbours under load stay within, N."""
    under = (load[1:] > floor_n) & (load[:-1] > floor_n)
    steps = np.abs(np.diff(load))[under]
    return float(np.quantile(steps, 0.9)) if steps.size else 0.0
