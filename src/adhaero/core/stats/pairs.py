"""Pairs of sets: by what share they differ, within what range, and what that means in practice."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import lru_cache
from itertools import combinations
from math import exp, isfinite, log, sqrt

import numpy as np
from numpy.typing import NDArray

from adhaero.core.stats.families import all_pairs
from adhaero.core.stats.laws import beyond_t, find_normal, find_t
from adhaero.core.stats.one_sided import Known, Limits, compare_one_sided, mirror
from adhaero.core.stats.power import MOST_PIECES, POWER, compute_n_needed
from adhaero.core.stats.sets import SetsFit

CONFIDENCE = 0.95


class Verdict(StrEnum):
    """What a pair's interval means against the smallest difference that matters."""

    SAME = "same_for_practice"
    A_STRONGER = "a_stronger"
    B_STRONGER = "b_stronger"
    CANNOT_TELL = "cannot_tell"


Ends = tuple[float | None, float | None]
"""An interval; None is an open end."""


@dataclass(frozen=True)
class Contrast:
    """A difference of two sets on logs; interval and p are None where there is no scatter to judge by.

    `log_ratio` is None where one of them has no estimate, an end of the interval None where it is open: one of the sets
    held, or fell apart, throughout. `apart`: the two stand on one board each.
    """

    a: int
    b: int
    log_ratio: float | None
    log_ci95: Ends | None
    p_adjusted: float | None
    apart: bool = False


@dataclass(frozen=True)
class Pair:
    """Two sets compared; `ratio` is a over b. The fields are those of the `analyse` contract.

    Attributes
    ----------
    why : why there is no range. pieces_to_settle : of each set, with which this many sets usually leave no pair open.
    """

    a: str
    b: str
    difference: float | None
    ratio: float | None
    ratio_ci95: Ends | None
    p_adjusted: float | None
    verdict: Verdict
    measurable: bool
    specimens_needed: int | None
    why: str = ""
    pieces_to_settle: int | None = None


def list_pairs(count: int, control: int | None) -> list[tuple[int, int]]:
    """Return every pair, or with a control every other set against it."""
    if control is None:
        return list(combinations(range(count), 2))
    return [(one, control) for one in range(count) if one != control]


def compare_all(fit: SetsFit, confidence: float = CONFIDENCE) -> list[Contrast]:
    """Compare all pairs of sets, simultaneous: Games and Howell, within boards Tukey and Kramer (analyse.md §3).

    The studentized range is over the sets that have an estimate or are one-sided, the degrees of freedom those of each
    contrast. All ranges hold together with `confidence`.
    """
    pairs = np.array(list_pairs(fit.effects.size, None)).reshape(-1, 2)
    shift, se, df = _contrasts(fit, pairs)
    p, point = np.full(len(pairs), np.nan), np.full(len(pairs), np.nan)
    known = se > 0
    if fit.family < 2:
        return list_contrasts(pairs, shift, se, point, p)
    family = all_pairs(fit.family)
    if known.any():
        p[known] = family.compute_sf(np.abs(shift[known]) / se[known] * sqrt(2), df[known])
        each, place = np.unique(df[known], return_inverse=True)
        point[known] = family.compute_quantile(confidence, each)[place] / sqrt(2)
    found = list_contrasts(pairs, shift, se, point, p)

    def reach(df: float) -> float:
        return float(family.compute_quantile(confidence, np.array([df]))[0]) / sqrt(2)

    def chance(away: float, df: float) -> float:
        return float(family.compute_sf(np.array([away * sqrt(2)]), np.array([df]))[0])

    return _with_special(fit, found, reach, chance)


def compare_with(fit: SetsFit, control: int, confidence: float = CONFIDENCE) -> list[Contrast]:
    """Compare every set with the control: Holm for p, Bonferroni for the intervals, over what has an interval."""
    pairs = np.array(list_pairs(fit.effects.size, control)).reshape(-1, 2)
    shift, se, df = _contrasts(fit, pairs)
    nothing = np.full(len(pairs), np.nan)
    # which comparisons have an interval has to be known before how wide they are
    trial = _with_special(fit, list_contrasts(pairs, shift, se, 1.0, nothing), lambda _: 1.0, lambda _, __: 1.0)
    m = sum(one.log_ci95 is not None and one.log_ci95 != (None, None) for one in trial)
    if m == 0:
        return trial
    level = (1 - confidence) / 2 / m
    known = se > 0
    point, p = np.full(len(pairs), np.nan), np.full(len(pairs), np.nan)
    point[known] = [-find_t(level, float(one)) for one in df[known]]
    p[known] = [2 * beyond_t(away, float(one)) for away, one in zip(np.abs(shift / se)[known], df[known], strict=True)]
    found = _with_special(
        fit,
        list_contrasts(pairs, shift, se, point, p),
        lambda df: -find_t(level, df),
        lambda away, df: float(2 * beyond_t(np.array(away), df)),
    )
    return step_down(found)


Sum = tuple[int, int, NDArray[np.float64]]
"""A comparison of two weighted sums of sets: first, second, and the (k,) weights of their difference."""


def compare_sums(fit: SetsFit, wanted: Sequence[Sum], groups: int) -> list[Contrast]:
    """Return differences of weighted sums of sets, simultaneous over all pairs of `groups` such sums."""
    shift, se, df = _combine(fit, wanted)
    p, point = np.full(len(wanted), np.nan), np.full(len(wanted), np.nan)
    known = se > 0
    if groups > 1 and known.any():
        family = all_pairs(groups)
        p[known] = family.compute_sf(np.abs(shift[known]) / se[known] * sqrt(2), df[known])
        point[known] = family.compute_quantile(CONFIDENCE, df[known]) / sqrt(2)
    return list_contrasts(_places(wanted), shift, se, point, p)


def compare_combined(fit: SetsFit, wanted: Sequence[Sum], family: int) -> list[Contrast]:
    """Return differences of weighted sums of sets with Bonferroni intervals and p over `family` comparisons."""
    shift, se, df = _combine(fit, wanted)
    p, point = np.full(len(wanted), np.nan), np.full(len(wanted), np.nan)
    level = (1 - CONFIDENCE) / 2 / max(1, family)
    for at in np.flatnonzero(se > 0):
        p[at] = min(1.0, 2 * float(beyond_t(np.abs(shift[at]) / se[at], df[at])) * family)
        point[at] = -find_t(level, df[at])
    return list_contrasts(_places(wanted), shift, se, point, p)


def compare_cells(fit: SetsFit, a: int, b: int, reach: Callable[[float], float]) -> Contrast:
    """Return one pair of sets whose interval reaches as many standard errors as its degrees of freedom ask."""
    sides = fit.own.tally.one_sided
    if sides[a] or sides[b]:
        return compare_open(fit, a, b, reach, lambda _, __: 1.0)
    weights = np.zeros(fit.effects.size)
    weights[[a, b]] = 1.0, -1.0
    found = fit.combine(weights)
    if found is None or not found[1] > 0:
        return Contrast(a, b, None, None, None)
    shift, se, df = found
    return Contrast(a, b, shift, (shift - reach(df) * se, shift + reach(df) * se), None)


def _combine(
    fit: SetsFit, wanted: Sequence[Sum]
) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
    found = [fit.combine(weights) or (np.nan, np.nan, np.nan) for _, _, weights in wanted]
    shift, se, df = np.array(found, dtype=np.float64).reshape(-1, 3).T
    return shift, se, df


def _places(wanted: Sequence[Sum]) -> NDArray[np.intp]:
    return np.array([(a, b) for a, b, _ in wanted], dtype=np.intp).reshape(-1, 2)


def step_down(contrasts: Sequence[Contrast]) -> list[Contrast]:
    """Return contrasts with the p of each made Holm's (Scandinavian Journal of Statistics 6, 1979)."""
    known = sorted((one.p_adjusted, at) for at, one in enumerate(contrasts) if one.p_adjusted is not None)
    found, least = list(contrasts), 0.0
    for rank, (p, at) in enumerate(known):
        least = min(1.0, max(least, p * (len(known) - rank)))
        found[at] = replace(contrasts[at], p_adjusted=least)
    return found


def _contrasts(
    fit: SetsFit, pairs: NDArray[np.intp]
) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
    """Return the differences on logs, their standard errors and degrees of freedom; NaN without an estimate."""
    a, b = pairs[:, 0], pairs[:, 1]
    spread = np.diag(fit.covariance)
    variance = spread[a] + spread[b] - 2 * fit.covariance[a, b]
    shift = fit.effects[a] - fit.effects[b]
    se, df = np.sqrt(np.maximum(variance, 0.0)), np.full(len(pairs), np.nan)
    known = np.flatnonzero(se > 0)
    weights = np.zeros((known.size, fit.effects.size))
    weights[np.arange(known.size), a[known]] = 1.0
    weights[np.arange(known.size), b[known]] = -1.0
    if known.size:
        df[known] = fit.find_df(weights)
    return shift, se, df


def _with_special(
    fit: SetsFit, contrasts: list[Contrast], reach: Callable[[float], float], chance: Callable[[float, float], float]
) -> list[Contrast]:
    """Return contrasts with those of one-sided sets, and without a range those of sets on one board each."""
    sides = fit.own.tally.one_sided
    found = list(contrasts)
    for at, one in enumerate(contrasts):
        if not fit.judged:
            found[at] = Contrast(one.a, one.b, None, None, None)
        elif sides[one.a] or sides[one.b]:
            found[at] = compare_open(fit, one.a, one.b, reach, chance)
        elif fit.are_apart(one.a, one.b):
            found[at] = replace(one, log_ci95=None, p_adjusted=None, apart=True)
    return found


def compare_open(
    fit: SetsFit, a: int, b: int, reach: Callable[[float], float], chance: Callable[[float, float], float]
) -> Contrast:
    """Return a pair with a one-sided set: an interval open to one side (analyse.md §3)."""
    sides = fit.own.tally.one_sided
    open_ = Contrast(a, b, None, (None, None), None)
    if sides[a] == sides[b]:
        return open_
    if not sides[a] or (sides[a] < 0 and sides[b] > 0):
        turned = compare_open(fit, b, a, reach, chance)
        low, high = turned.log_ci95 or (None, None)
        ends = (None if high is None else -high, None if low is None else -low)
        return Contrast(a, b, None, ends if turned.log_ci95 else None, turned.p_adjusted)
    mine = fit.describe_limits(a, b)
    other: Known | Limits | None
    if sides[b]:
        other, df = fit.describe_limits(b, a), fit.least_df
    else:
        known = fit.expect(a, b)
        other, df = (None, 0.0) if known is None else known
    if mine is None or other is None:
        # without any scatter there is no interval; with it, pieces on boards that tell nothing leave both ends open
        return open_ if isfinite(fit.own.lent) else Contrast(a, b, None, None, None)
    if sides[a] > 0:
        least, away = compare_one_sided(mine, mirror(other) if isinstance(other, Limits) else other, reach(df))
        return Contrast(a, b, None, (least, None), chance(away, df))
    assert isinstance(other, Known)
    least, away = compare_one_sided(mine, Known(-other.mu, other.se), reach(df))
    return Contrast(a, b, None, (None, -least), chance(away, df))


def list_contrasts(
    pairs: NDArray[np.intp],
    shift: NDArray[np.float64],
    se: NDArray[np.float64],
    point: NDArray[np.float64] | float,
    p: NDArray[np.float64],
) -> list[Contrast]:
    """Return (m,) differences on logs as contrasts: NaN is what is not known, `point` times `se` how far it reaches."""
    reach = np.broadcast_to(point, shift.shape) * se
    return [
        Contrast(
            int(a),
            int(b),
            float(move) if isfinite(move) else None,
            (float(move - far), float(move + far)) if isfinite(far) and far > 0 else None,
            float(chance) if isfinite(chance) else None,
        )
        for (a, b), move, far, chance in zip(pairs, shift, reach, p, strict=True)
    ]


def judge_pair(
    contrast: Contrast,
    levels: Sequence[str],
    typical: Sequence[float | None],
    margin_pct: float,
    sigma: float | None,
    groups: int = 2,
) -> Pair:
    """Return a pair with its verdict against the smallest difference that matters.

    Parameters
    ----------
    contrast : the pair on logs; levels, typical : names and typical strengths of the sets.
    margin_pct : the smallest difference that matters, percent.
    sigma : scatter of logs that the number of pieces needed is computed from; None without one.
    groups : how many sets are compared at once.
    """
    margin = 1 + margin_pct / 100
    low, high = contrast.log_ci95 or (None, None)
    ratio_ci = None if contrast.log_ci95 is None else (exp_end(low), exp_end(high))
    verdict = judge(ratio_ci, margin)
    needed, to_settle = None, None
    if verdict is Verdict.CANNOT_TELL and sigma:
        needed = compute_n_needed(log(margin), sigma)
        to_settle = find_n_to_settle(log(margin), sigma, groups)
    first, second = typical[contrast.a], typical[contrast.b]
    return Pair(
        a=levels[contrast.a],
        b=levels[contrast.b],
        difference=None if first is None or second is None else first - second,
        ratio=exp_end(contrast.log_ratio),
        ratio_ci95=ratio_ci,
        p_adjusted=contrast.p_adjusted,
        verdict=verdict,
        measurable=leaves_out_one(ratio_ci),
        specimens_needed=needed,
        why=_APART if contrast.apart else "",
        pieces_to_settle=to_settle,
    )


@lru_cache(maxsize=1024)
def find_n_to_settle(margin: float, sigma: float, groups: int) -> int | None:
    """Return the pieces of each of several sets with which a pair is usually settled, whichever way it truly is.

    With 80 % chance the simultaneous range of a pair that truly is alike lies within the margin: half its width and the
    90 % point of the difference together reach it. A true difference of the margin is then seen as often or more.

    Parameters
    ----------
    margin : the smallest difference that matters, on logarithms; sigma : scatter of logarithms.

    Returns
    -------
    None above 100,000 pieces.
    """
    family, sure = all_pairs(groups), find_normal(1 - (1 - POWER) / 2)

    def settles(n: int) -> bool:
        reach = float(family.compute_quantile(CONFIDENCE, np.array([2.0 * (n - 1)]))[0]) / sqrt(2)
        return (reach + sure) * sigma * sqrt(2 / n) <= margin

    low, high = 1, 2
    while not settles(high):
        low, high = high, 2 * high
        if high > MOST_PIECES:
            return None
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if settles(middle) else (middle, high)
    return high


_APART = "one board of each is a comparison of two boards"


def exp_end(value: float | None) -> float | None:
    """Return e to the power of an end of an interval of logarithms; None stays open."""
    return None if value is None else exp(max(-700.0, min(value, 700.0)))


def leaves_out_one(ratio_ci: Ends | None) -> bool:
    """Return whether an interval of a ratio says that the two differ."""
    low, high = ratio_ci or (None, None)
    return (low is not None and low > 1) or (high is not None and high < 1)


def judge(ratio_ci: Ends | None, margin: float) -> Verdict:
    """Return the verdict of an interval of the ratio; `margin` is 1 + the difference that matters."""
    low, high = ratio_ci or (None, None)
    if low is not None and high is not None and low >= 1 / margin and high <= margin:
        return Verdict.SAME
    if low is not None and low > 1:
        return Verdict.A_STRONGER
    if high is not None and high < 1:
        return Verdict.B_STRONGER
    return Verdict.CANNOT_TELL


def assign_letters(levels: Sequence[str], strengths: Sequence[float | None], pairs: Sequence[Pair]) -> dict[str, str]:
    """Return the compact letter display: sets that share a letter cannot be told apart.

    One letter for each largest set of levels without a measurable pair; the sets are lettered in the order of their
    ranks compared one by one.

    Parameters
    ----------
    strengths : what sets are ranked by: typical strength, for a one-sided one its `at_least` or `at_most`.
    """
    ranked = rank_levels(levels, strengths)
    apart = {frozenset((pair.a, pair.b)) for pair in pairs if pair.measurable}
    neighbours = {
        i: {j for j in range(len(ranked)) if j != i and frozenset((ranked[i], ranked[j])) not in apart}
        for i in range(len(ranked))
    }
    cliques = sorted(sorted(clique) for clique in _largest_cliques(set(), set(neighbours), set(), neighbours))
    letters = dict.fromkeys(levels, "")
    for position, clique in enumerate(cliques):
        for member in clique:
            letters[ranked[member]] += _letter(position)
    return letters


def rank_levels(levels: Sequence[str], strengths: Sequence[float | None]) -> list[str]:
    """Return levels from strongest to weakest; those without a strength last, ties in their order."""
    by_level = dict(zip(levels, strengths, strict=True))

    def key(level: str) -> tuple[bool, float]:
        value = by_level[level]
        return value is None, -(value or 0.0)

    return sorted(levels, key=key)


def _letter(position: int) -> str:
    turn, place = divmod(position, 26)
    return chr(ord("a") + place) + (str(turn) if turn else "")


def _largest_cliques(
    chosen: set[int], open_: set[int], seen: set[int], neighbours: dict[int, set[int]]
) -> list[set[int]]:
    """Return the maximal cliques by Bron and Kerbosch (1973) with a pivot."""
    if not open_ and not seen:
        return [chosen]
    pivot = max(open_ | seen, key=lambda one: len(neighbours[one] & open_))
    found = []
    for one in sorted(open_ - neighbours[pivot]):
        found += _largest_cliques(chosen | {one}, open_ & neighbours[one], seen & neighbours[one], neighbours)
        open_ = open_ - {one}
        seen = seen | {one}
    return found
