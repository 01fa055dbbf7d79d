"""What the displacement beside a load says: stiffness, where the bend begins to stay, the work to the peak."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from adhaero.core.rig.trace.prepared import prepare_pull
from adhaero.core.rig.trace.samples import AFTER_S, Floats, TraceSettings, find_rest_before

OFF_LINE = 0.05
OF_SPAN = 0.002
_NEAR_PEAK = 0.95


@dataclass(frozen=True)
class Bending:
    """What a load over a displacement says.

    Attributes
    ----------
    stiffness_n_per_mm : slope from first reaching 20 to first reaching 50 % of the peak; None where it does not rise.
    bend_starts_n : the load from which the secant stays 5 % below that slope; None if it does not.
    bend_starts_by_span_n : the load from which the curve stays 0.2 % of the span off the line; None without a span.
    energy_j : the work to the peak; None where the displacement was read off and not up to it.
    stayed_bent_mm : how far the displacement has not come back when the load is gone; None where it does not rest.
    reached_mm : how far it had moved at the peak, from where its straight part meets no load; None as for the energy.
    """

    stiffness_n_per_mm: float | None
    bend_starts_n: float | None
    bend_starts_by_span_n: float | None
    energy_j: float | None
    stayed_bent_mm: float | None
    reached_mm: float | None = None


def read_bending(
    times_s: Sequence[float] | Floats,
    loads_n: Sequence[float] | Floats,
    displacements_mm: Sequence[float] | Floats,
    settings: TraceSettings,
    span_mm: float | None = None,
) -> Bending:
    """Return what the displacement of one pull says.

    Parameters
    ----------
    times_s, loads_n, displacements_mm : (n,) as recorded, n ≥ 1. settings : as for the reading of the pull.
    span_mm : of the fixture.
    """
    pull = prepare_pull(np.asarray(times_s, dtype=float), np.asarray(loads_n, dtype=float), settings)
    kept = pull.kept
    load, moved = pull.loads[kept], np.asarray(displacements_mm, dtype=float)[kept]
    peak = float(load.max())
    stayed = _find_stayed(pull.times[kept], load, moved, pull.measures.noise_n, peak)
    return _read(load, moved, peak, stayed, span_mm)


def read_dial(
    loads_n: Sequence[float], displacements_mm: Sequence[float], peak_n: float, span_mm: float | None = None
) -> Bending:
    """Return what a dial says that a person read at loads, one after the other.

    Parameters
    ----------
    loads_n, displacements_mm : (n,) as read, n ≥ 1. peak_n : what the piece broke at, at least each of the loads.

    Examples
    --------
    >>> bending = read_dial([0, 100, 200, 250, 300, 400, 0], [0, 1, 2, 2.5, 3, 5, 0.5], 500)
    >>> round(bending.stiffness_n_per_mm), bending.bend_starts_n, bending.stayed_bent_mm
    (100, 350.0, 0.5)
    """
    load, moved = np.asarray(loads_n, dtype=float), np.asarray(displacements_mm, dtype=float)
    unloaded = load.size > 1 and load[-1] == 0 and load.max() > 0
    stayed = float(moved[-1] - (moved[0] if load[0] == 0 else 0.0)) if unloaded else None
    return _read(load, moved, peak_n, stayed, span_mm)


def _read(load: Floats, moved: Floats, peak: float, stayed: float | None, span_mm: float | None) -> Bending:
    top = int(np.argmax(load))
    energy = None
    if load[top] >= _NEAR_PEAK * peak:
        energy = float(np.trapezoid(load[: top + 1], moved[: top + 1])) / 1000
    line = _fit_line(load, moved, peak)
    if line is None:
        return Bending(None, None, None, energy, stayed)
    slope, at_zero = line
    way_up, travel = load[: top + 1], moved[: top + 1] - at_zero
    high = way_up > peak / 2
    below = way_up < (1 - OFF_LINE) * slope * travel
    starts = _find_stays(way_up, high & below, high)
    by_span = None
    if span_mm is not None:
        by_span = _find_stays(way_up, travel - way_up / slope >= OF_SPAN * span_mm, np.ones(way_up.size, dtype=bool))
    reached = None if energy is None else float(travel[-1])
    return Bending(slope, starts, by_span, energy, stayed, reached)


def _fit_line(load: Floats, moved: Floats, peak: float) -> tuple[float, float] | None:
    """Return the slope of the straight part, N/mm, and the displacement where it meets zero load."""
    if peak <= 0:
        return None
    part = slice(int(np.argmax(load >= 0.2 * peak)), int(np.argmax(load >= 0.5 * peak)) + 1)
    if part.stop - part.start < 3 or np.ptp(moved[part]) <= 0:
        return None
    slope, intercept = np.polyfit(moved[part], load[part], 1)
    return (float(slope), float(-intercept / slope)) if slope > 0 else None


def _find_stays(load: Floats, off: np.ndarray, looked: np.ndarray) -> float | None:
    """Return the load between the last sample on the line and the first of those that stay off it."""
    on_line = np.flatnonzero(looked & ~off)
    first = int(on_line[-1]) + 1 if on_line.size else int(np.argmax(looked))
    if first >= load.size:
        return None
    return float(load[max(first - 1, 0) : first + 1].mean())


def _find_stayed(time: Floats, load: Floats, moved: Floats, noise: float, peak: float) -> float | None:
    rest = find_rest_before(time, load, noise, peak)
    gone = time >= time[-1] - AFTER_S
    if rest is None or np.any(load[gone] > max(noise, 0.02 * peak)):
        return None
    return float(np.median(moved[gone]) - np.median(moved[rest]))
