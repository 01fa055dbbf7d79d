"""The weak end of each set by a Weibull distribution: in numbers, and drawn so that the distribution is a line."""

from collections.abc import Mapping
from dataclasses import dataclass
from math import exp

from adhaero.bench.compare.findings.asked import Asked, Finding, Row
from adhaero.bench.compare.how_known import How
from adhaero.core.stats.weibull import LOW, Weibull, estimate_steps, fit_weibull, stretch, trace_weibull
from adhaero.core.stats.words import list_some

_SHARES = (0.01, 0.02, 0.05, 0.1, 0.2, 0.4, 0.6, 0.8, 0.95, 0.99)
_DRAWN = 6


@dataclass(frozen=True)
class WeakLine:
    """One set: its broken pieces and its distribution, each as strength and height.

    Attributes
    ----------
    points : where a piece stands as the share of its set that is weaker, bounds counted as bounds.
    ends : of the straight line. low, low_ci95 : the strength that 5 in 100 stay below.
    """

    name: str
    points: list[tuple[float, float]]
    ends: list[tuple[float, float]]
    low: float
    low_ci95: tuple[float | None, float | None]


@dataclass(frozen=True)
class WeakEndChart:
    """The sets with the strongest weak end; heights are those of shares on a Weibull scale.

    Attributes
    ----------
    marks : pieces in 100 that are weaker, and their height; low_height : that of 5 in 100.
    left_out : how many sets are not drawn.
    """

    lines: list[WeakLine]
    marks: list[tuple[int, float]]
    low_height: float
    left_out: int


def find_weak_end(asked: Asked) -> tuple[Finding | None, WeakEndChart | None]:
    """Return the weak end of each set; None where no set has one."""
    table = asked.table(asked.breaks.compared, None)
    if table is None:
        return None, None
    bounds = {level: table.bounds.take(table.sets == index) for index, level in enumerate(table.levels)}
    fits = {level: fit_weibull(one) for level, one in bounds.items()}
    known = {level: fit for level, fit in fits.items() if fit is not None}
    if not known:
        return None, None
    lines = []
    ranked = sorted(known, key=lambda level: known[level].low, reverse=True)
    for level in (one for one in known if one in ranked[:_DRAWN]):
        fit = known[level]
        lines.append(
            WeakLine(
                level,
                [(exp(at), stretch(below)) for at, below in estimate_steps(bounds[level])],
                [(trace_weibull(fit, share), stretch(share)) for share in (_SHARES[0], _SHARES[-1])],
                fit.low,
                fit.low_ci95,
            )
        )
    marks = [(round(100 * share), stretch(share)) for share in _SHARES]
    best = next((one for one in ranked if one not in asked.controls and one not in asked.solid), ranked[0])
    return _say(fits, best), WeakEndChart(lines, marks, stretch(LOW), len(known) - len(lines))


def _say_best(fits: Mapping[str, Weibull | None], best: str) -> str:
    """Return which joint's weak end is estimated highest, and whether another's could be higher."""
    mine = fits[best]
    low = None if mine is None else mine.low_ci95[0]
    near = [
        level
        for level, fit in fits.items()
        if level != best and (fit is None or low is None or fit.low_ci95[1] is None or fit.low_ci95[1] > low)
    ]
    said = f"the estimate of {best} is the highest"
    return f"{said}, and others could be higher ({list_some(near)})" if near else said


def _say(fits: Mapping[str, Weibull | None], best: str) -> Finding:
    rows: list[Row] = []
    for level, fit in fits.items():
        if fit is None:
            rows.append([level, None, None, None, "–"])
        else:
            rows.append([level, fit.low, *fit.low_ci95, f"{fit.shape:.2g}"])
    return Finding(
        "weibull",
        "The weak end, a second opinion",
        [
            f"By a Weibull distribution, 5 in 100 pieces of a set break below the first column; of the joints "
            f"{_say_best(fits, best)}. With few pieces the range is wide: the weak end is known from few."
        ],
        How(
            "A Weibull distribution by maximum likelihood, bounds counted as bounds; the range by profile likelihood. "
            "Drawn, it is a straight line: where the pieces bend away from it, the distribution does not fit.",
            "weak end = scale · (−ln 0.95) ^ (1 / shape)",
            "each set by itself, boards not taken out; “19 in 20 above” in the table is the log-normal's or t's answer",
            "weibull",
        ),
        ["set", "5 in 100 below", "at the least", "at the most", "shape"],
        rows,
    )
