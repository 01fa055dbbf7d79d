"""What makes a typed load doubtful: asked once in a line with the keys to answer it, and never in the way.

A slip is asked about where the load lies outside nearly every piece that is like its neighbours, and where undoing the
slip brings it back among them. The range is that of one more piece, from the logarithms of the neighbours by Student's
t: mean ± t · s · √(1 + 1/n) (Hahn and Meeker, Statistical Intervals), wider below than above, because strengths have a
long tail of weak pieces.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import exp, log, sqrt
from statistics import fmean, stdev, variance
from typing import Final

from adhaero.core.rig.entry.plates import Plate, nearest_hung
from adhaero.core.stats.laws import find_t

_FEWEST: Final = 3
_OUTSIDE: Final = 0.998
_WIDER_BELOW: Final = 1.25
_INSIDE: Final = 0.9
# pieces scatter by some percent at least, however alike the first ones are
_LEAST_SD: Final = 0.08
# a number within this share of a step is one of its multiples
_STEP_GIVE: Final = 0.02
_AT_LIMIT: Final = 0.995


class DoubtCode(StrEnum):
    """Why a load is asked about."""

    SLIP = "slip"
    ABOVE_RIG = "above-rig"
    AT_LIMIT = "at-limit"
    STEP = "step"
    PLATES = "plates"


@dataclass(frozen=True)
class Slip:
    """A slip that multiplies what is typed: by how much, its question, and the unit that was meant, if it is one."""

    factor: float
    words: str
    meant: str = ""


@dataclass(frozen=True)
class Doubt:
    """Why a load is asked about, in a line; `slips` are what could explain it, the likeliest first."""

    code: DoubtCode
    words: str
    slips: tuple[Slip, ...] = ()


# what happens at benches: a digit too many, pounds for kilograms, newtons for kilograms, inches, an area of ¾ in²
SLIPS: Final = (
    Slip(10, "is it a digit too many"),
    Slip(0.1, "is it a digit too few"),
    Slip(1 / 0.45359237, "is this pounds", "lb"),
    Slip(0.45359237, "is this kilograms", "kg"),
    Slip(9.80665, "is this newtons", "N"),
    Slip(1 / 9.80665, "is this kilograms", "kg"),
    Slip(25.4, "is it millimetres for inches"),
    Slip(1 / 25.4, "is it inches for millimetres"),
    Slip(4 / 3, "is it divided by an area of 0.75 already"),
    Slip(0.75, "is it multiplied with an area of 0.75 already"),
)
# slips whose factors are nearer to each other than this (as logarithms) cannot be told apart by one piece
_ALIKE: Final = 0.05


def find_slip(value: float, neighbours: Sequence[float], others: Sequence[Sequence[float]] = ()) -> Doubt | None:
    """Return which slips would explain a value among its neighbours; None where none is needed or none does.

    Parameters
    ----------
    value : load or strength of the piece. neighbours : of its set, in the same unit. others : of the other sets, which
        tell how much pieces scatter; with fewer than three values to tell that from, nothing is asked.

    Examples
    --------
    >>> find_slip(92.6, [40.0, 44.0, 41.0, 43.0, 42.0]).words
    '2.2 times its neighbours: is this pounds?'
    >>> find_slip(52.0, [40.0, 44.0, 41.0, 43.0, 42.0]) is None
    True
    """
    known = [log(one) for one in neighbours if one > 0]
    sets = [known, *([log(one) for one in other if one > 0] for other in others)]
    free = sum(len(one) - 1 for one in sets if one)
    if value <= 0 or not known or free < _FEWEST - 1:
        return None
    pooled = sqrt(sum(variance(one) * (len(one) - 1) for one in sets if len(one) > 1) / free)
    own = stdev(known) if len(known) >= _FEWEST else 0.0
    spread = max(pooled, own, _LEAST_SD) * sqrt(1 + 1 / len(known))
    away = log(value) - fmean(known)
    far = find_t(0.5 + _OUTSIDE / 2, free) * spread * (1 if away > 0 else _WIDER_BELOW)
    if abs(away) <= far:
        return None
    near = find_t(0.5 + _INSIDE / 2, free) * spread
    found = sorted(SLIPS, key=lambda slip: abs(away - log(slip.factor)))
    best = log(found[0].factor)
    if abs(away - best) > near:
        return None
    slips = tuple(slip for slip in found if abs(log(slip.factor) - best) <= _ALIKE)
    return Doubt(
        DoubtCode.SLIP,
        f"{exp(away):.2g} times its neighbours: {', or '.join(slip.words for slip in slips)}?",
        slips,
    )


def find_limit(load_n: float, capacity_n: float | None, resolution_n: float) -> Doubt | None:
    """Return a doubt for a load above what a rig carries, or at its limit: then the piece may have held."""
    if capacity_n is None:
        return None
    if load_n > capacity_n + resolution_n:
        return Doubt(DoubtCode.ABOVE_RIG, "more than this rig carries")
    if load_n >= _AT_LIMIT * capacity_n:
        return Doubt(DoubtCode.AT_LIMIT, "at the limit of this rig: did it break, or hold?")
    return None


def find_step(shown: float, step: float) -> Doubt | None:
    """Return a doubt for a number that is no multiple of the step of what shows it, in the same unit.

    Examples
    --------
    >>> find_step(41.3, 0.5).words
    'no multiple of the step of 0.5: 41 or 41.5?'
    >>> find_step(41.5, 0.5) is None
    True
    """
    if step <= 0:
        return None
    times = shown / step
    if abs(times - round(times)) <= max(_STEP_GIVE, 1e-9 * abs(times)):
        return None
    below = int(times) * step
    return Doubt(DoubtCode.STEP, f"no multiple of the step of {step:g}: {below:g} or {below + step:g}?")


def find_stack(hung_n: float, plates: Sequence[Plate], newton_per_unit: float, unit: str) -> Doubt | None:
    """Return a doubt for a weight that no plates of the shop make together, with the nearest ones in `unit`."""
    hit, below, above = nearest_hung(plates, hung_n)
    if hit:
        return None
    near = [f"{one / newton_per_unit:.4g}" for one in (below, above) if one is not None]
    return Doubt(DoubtCode.PLATES, f"no plates of the shop weigh this together: {' or '.join(near)} {unit}?")
