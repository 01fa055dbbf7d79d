"""Pairs of sets: by what share they differ, within what range, and what that means in practice."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import combinations
from math import exp, log, sqrt

import numpy as np
from numpy.typing import NDArray
from scipy import stats

from adhaero.core.stats.fits import BlockedFit
from adhaero.core.stats.power import compute_n_needed
from adhaero.core.stats.studentized import compute_range_quantile, compute_range_sf

CONFIDENCE = 0.95


class Verdict(StrEnum):
    """What a pair's interval means against the smallest difference that matters."""

    SAME = "same_for_practice"
    A_STRONGER = "a_stronger"
    B_STRONGER = "b_stronger"
    CANNOT_TELL = "cannot_tell"


@dataclass(frozen=True)
class Contrast:
    """A difference of two sets on logs; interval and p are None where the pair has no scatter to judge by."""

    a: int
    b: int
    log_ratio: float
    log_ci95: tuple[float, float] | None
    p_adjusted: float | None


@dataclass(frozen=True)
class Pair:
    """Two sets compared; `ratio` is a over b. The fields are those of the `analyse` contract."""

    a: str
    b: str
    difference: float
    ratio: float
    ratio_ci95: tuple[float, float] | None
    p_adjusted: float | None
    verdict: Verdict
    measurable: bool
    specimens_needed: int | None


def list_pairs(count: int, control: int | None) -> list[tuple[int, int]]:
    """Return every pair, or with a control every other set against it."""
    if control is None:
        return list(combinations(range(count), 2))
    return [(one, control) for one in range(count) if one != control]


def compare_games_howell(logs: Sequence[NDArray[np.float64]]) -> list[Contrast]:
    """Compare all pairs by Games and Howell on logs: each pair by its own scatter, one family.

    Notes
    -----
    Games, P. A. and Howell, J. F. (1976), J. Educ. Stat. 1. The studentized range is over the groups that have a
    variance; a pair with one that has none gets neither interval nor p.
    """
    usable = [group.size > 1 and float(np.ptp(group)) > 0 for group in logs]
    k = sum(usable)
    found = []
    for a, b in list_pairs(len(logs), None):
        shift = float(logs[a].mean() - logs[b].mean())
        if not (usable[a] and usable[b]):
            found.append(Contrast(a, b, shift, None, None))
            continue
        parts = [float(logs[i].var(ddof=1)) / logs[i].size for i in (a, b)]
        se = sqrt(sum(parts))
        df = sum(parts) ** 2 / sum(part**2 / (logs[i].size - 1) for part, i in zip(parts, (a, b), strict=True))
        found.append(_by_range(a, b, shift, se, k, df))
    return found


def compare_tukey(fit: BlockedFit, count: int) -> list[Contrast]:
    """Compare all pairs of adjusted means by Tukey and Kramer with the residual degrees of freedom."""
    found = []
    for a, b in list_pairs(count, None):
        shift, se = fit.contrast(a, b)
        found.append(_by_range(a, b, shift, se, count, fit.df) if se > 0 else Contrast(a, b, shift, None, None))
    return found


def compare_dunnett(logs: Sequence[NDArray[np.float64]], control: int) -> list[Contrast]:
    """Compare every set with the control by Dunnett on logs, the variance pooled (`scipy.stats.dunnett`)."""
    pairs = list_pairs(len(logs), control)
    if sum(group.size for group in logs) <= len(logs) or all(float(np.ptp(group)) == 0 for group in logs):
        return [Contrast(a, b, float(logs[a].mean() - logs[b].mean()), None, None) for a, b in pairs]
    result = stats.dunnett(*(logs[a] for a, _ in pairs), control=logs[control], rng=np.random.default_rng(1))
    interval = result.confidence_interval(CONFIDENCE)
    lows, highs = np.asarray(interval.low), np.asarray(interval.high)
    return [
        Contrast(a, b, float(logs[a].mean() - logs[b].mean()), (float(low), float(high)), float(p))
        for (a, b), low, high, p in zip(pairs, lows, highs, np.asarray(result.pvalue), strict=True)
    ]


def compare_holm(fit: BlockedFit, count: int, control: int) -> list[Contrast]:
    """Compare every set with the control within boards: Holm for p, Bonferroni for the intervals."""
    pairs = list_pairs(count, control)
    estimates = [fit.contrast(a, b) for a, b in pairs]
    if any(se <= 0 for _, se in estimates):
        return [Contrast(a, b, shift, None, None) for (a, b), (shift, _) in zip(pairs, estimates, strict=True)]
    raw = np.array([2 * stats.t.sf(abs(shift) / se, fit.df) for shift, se in estimates])
    order = np.argsort(raw)
    stepped = np.minimum(1.0, np.maximum.accumulate(raw[order] * np.arange(len(raw), 0, -1)))
    adjusted = np.empty_like(raw)
    adjusted[order] = stepped
    reach = float(stats.t.isf((1 - CONFIDENCE) / 2 / len(pairs), fit.df))
    return [
        Contrast(a, b, shift, (shift - reach * se, shift + reach * se), float(p))
        for (a, b), (shift, se), p in zip(pairs, estimates, adjusted, strict=True)
    ]


def _by_range(a: int, b: int, shift: float, se: float, groups: int, df: float) -> Contrast:
    reach = compute_range_quantile(CONFIDENCE, groups, df) / sqrt(2) * se
    p = compute_range_sf(abs(shift) / se * sqrt(2), groups, df)
    return Contrast(a, b, shift, (shift - reach, shift + reach), p)


def judge_pair(
    contrast: Contrast, levels: Sequence[str], typical: Sequence[float], margin_pct: float, sigma: float | None
) -> Pair:
    """Return a pair with its verdict against the smallest difference that matters.

    Parameters
    ----------
    contrast : the pair on logs; levels, typical : names and typical strengths of the sets.
    margin_pct : the smallest difference that matters, percent.
    sigma : scatter of logs that the number of pieces needed is computed from; None without one.
    """
    margin = 1 + margin_pct / 100
    ratio_ci = None if contrast.log_ci95 is None else (exp(contrast.log_ci95[0]), exp(contrast.log_ci95[1]))
    verdict = judge(ratio_ci, margin)
    needed = None
    if verdict is Verdict.CANNOT_TELL and sigma:
        needed = compute_n_needed(log(margin), sigma)
    return Pair(
        a=levels[contrast.a],
        b=levels[contrast.b],
        difference=typical[contrast.a] - typical[contrast.b],
        ratio=exp(contrast.log_ratio),
        ratio_ci95=ratio_ci,
        p_adjusted=contrast.p_adjusted,
        verdict=verdict,
        measurable=ratio_ci is not None and not ratio_ci[0] <= 1 <= ratio_ci[1],
        specimens_needed=needed,
    )


def judge(ratio_ci: tuple[float, float] | None, margin: float) -> Verdict:
    """Return the verdict of an interval of the ratio; `margin` is 1 + the difference that matters."""
    if ratio_ci is None:
        return Verdict.CANNOT_TELL
    low, high = ratio_ci
    if low >= 1 / margin and high <= margin:
        return Verdict.SAME
    if low > 1:
        return Verdict.A_STRONGER
    if high < 1:
        return Verdict.B_STRONGER
    return Verdict.CANNOT_TELL


def assign_letters(levels: Sequence[str], typical: Sequence[float | None], pairs: Sequence[Pair]) -> dict[str, str]:
    """Return the compact letter display: sets that share a letter cannot be told apart.

    One letter for each largest set of levels without a measurable pair; ranked by typical strength, strongest first,
    the sets are lettered in the order of their ranks compared one by one.
    """
    ranked = sorted(levels, key=lambda one: _rank_key(typical[levels.index(one)]))
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


def _rank_key(value: float | None) -> tuple[bool, float]:
    return (value is None, -(value or 0.0))


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
