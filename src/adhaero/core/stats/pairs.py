"""Pairs of sets: by what share they differ, within what range, and what that means in practice."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import combinations
from math import exp, isfinite, log, sqrt

import numpy as np
from numpy.typing import NDArray

from adhaero.core.stats.families import all_against_one, all_pairs
from adhaero.core.stats.laws import beyond_t, find_t
from adhaero.core.stats.power import compute_n_needed
from adhaero.core.stats.sets import SetsFit

CONFIDENCE = 0.95


class Verdict(StrEnum):
    """What a pair's interval means against the smallest difference that matters."""

    SAME = "same_for_practice"
    A_STRONGER = "a_stronger"
    B_STRONGER = "b_stronger"
    CANNOT_TELL = "cannot_tell"


@dataclass(frozen=True)
class Contrast:
    """A difference of two sets on logs; interval and p are None where the pair has no scatter to judge by.

    `log_ratio` is None where one of them has no estimate.
    """

    a: int
    b: int
    log_ratio: float | None
    log_ci95: tuple[float, float] | None
    p_adjusted: float | None


@dataclass(frozen=True)
class Pair:
    """Two sets compared; `ratio` is a over b. The fields are those of the `analyse` contract."""

    a: str
    b: str
    difference: float | None
    ratio: float | None
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
    n = np.array([group.size for group in logs], dtype=float)
    means = np.array([group.mean() for group in logs])
    usable = np.array([group.size > 1 and float(np.ptp(group)) > 0 for group in logs])
    part = np.array([float(group.var(ddof=1)) / group.size if group.size > 1 else np.nan for group in logs])
    pairs = np.array(list_pairs(len(logs), None))
    a, b = pairs[:, 0], pairs[:, 1]
    total = part[a] + part[b]
    with np.errstate(invalid="ignore", divide="ignore"):
        df = total**2 / (part[a] ** 2 / (n[a] - 1) + part[b] ** 2 / (n[b] - 1))
    known = usable[a] & usable[b]
    return _by_range(pairs, means[a] - means[b], np.where(known, np.sqrt(total), np.nan), int(usable.sum()), df)


def compare_tukey(fit: SetsFit, count: int) -> list[Contrast]:
    """Compare all pairs by Tukey and Kramer: with the residual degrees of freedom, infinite ones by likelihood."""
    pairs = np.array(list_pairs(count, None))
    shift, se = _contrasts(fit, pairs)
    groups = int(np.isfinite(fit.effects).sum())
    return _by_range(pairs, shift, se, groups, np.full(len(pairs), fit.df))


def compare_dunnett(logs: Sequence[NDArray[np.float64]], control: int) -> list[Contrast]:
    """Compare every set with the control by Dunnett on logs, the variance pooled."""
    pairs = list_pairs(len(logs), control)
    shift = np.array([logs[a].mean() - logs[b].mean() for a, b in pairs])
    df = sum(group.size for group in logs) - len(logs)
    spread = sum(float(((group - group.mean()) ** 2).sum()) for group in logs)
    if df < 1 or all(float(np.ptp(group)) == 0 for group in logs):
        return list_contrasts(np.array(pairs), shift, np.full(len(pairs), np.nan), np.nan, np.full(len(pairs), np.nan))
    se = np.array([sqrt(spread / df * (1 / logs[a].size + 1 / logs[b].size)) for a, b in pairs])
    family = all_against_one([logs[a].size for a, _ in pairs], logs[control].size)
    p = family.compute_sf(np.abs(shift) / se, np.full(len(pairs), float(df)))
    point = family.compute_quantile(CONFIDENCE, np.array([float(df)]))[0]
    return list_contrasts(np.array(pairs), shift, se, point, p)


def compare_holm(fit: SetsFit, count: int, control: int) -> list[Contrast]:
    """Compare every set with the control: Holm for p, Bonferroni for the intervals, over what has an estimate."""
    pairs = np.array(list_pairs(count, control))
    shift, se = _contrasts(fit, pairs)
    known = se > 0
    p = np.full(len(pairs), np.nan)
    if not known.any():
        return list_contrasts(pairs, shift, se, np.nan, p)
    away = np.abs(shift[known]) / se[known]
    raw = 2 * beyond_t(away, fit.df)
    order = np.argsort(raw)
    stepped = np.empty_like(raw)
    stepped[order] = np.minimum(1.0, np.maximum.accumulate(raw[order] * np.arange(raw.size, 0, -1)))
    p[known] = stepped
    level = (1 - CONFIDENCE) / 2 / int(known.sum())
    return list_contrasts(pairs, shift, se, -find_t(level, fit.df), p)


def _contrasts(fit: SetsFit, pairs: NDArray[np.intp]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return the differences on logs and their standard errors; NaN where a set has no estimate."""
    a, b = pairs[:, 0], pairs[:, 1]
    spread = np.diag(fit.covariance)
    variance = spread[a] + spread[b] - 2 * fit.covariance[a, b]
    return fit.effects[a] - fit.effects[b], np.sqrt(np.maximum(variance, 0.0))


def _by_range(
    pairs: NDArray[np.intp], shift: NDArray[np.float64], se: NDArray[np.float64], groups: int, df: NDArray[np.float64]
) -> list[Contrast]:
    """Return pairs judged by the studentized range over `groups` sets."""
    p, point = np.full(len(pairs), np.nan), np.full(len(pairs), np.nan)
    known = se > 0
    if groups > 1 and known.any():
        family = all_pairs(groups)
        p[known] = family.compute_sf(np.abs(shift[known]) / se[known] * sqrt(2), df[known])
        each, place = np.unique(df[known], return_inverse=True)
        point[known] = family.compute_quantile(CONFIDENCE, each)[place] / sqrt(2)
    return list_contrasts(pairs, shift, se, point, p)


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
    contrast: Contrast, levels: Sequence[str], typical: Sequence[float | None], margin_pct: float, sigma: float | None
) -> Pair:
    """Return a pair with its verdict against the smallest difference that matters.

    Parameters
    ----------
    contrast : the pair on logs; levels, typical : names and typical strengths of the sets.
    margin_pct : the smallest difference that matters, percent.
    sigma : scatter of logs that the number of pieces needed is computed from; None without one.
    """
    margin = 1 + margin_pct / 100
    ratio_ci = None if contrast.log_ci95 is None else (_exp(contrast.log_ci95[0]), _exp(contrast.log_ci95[1]))
    verdict = judge(ratio_ci, margin)
    needed = None
    if verdict is Verdict.CANNOT_TELL and sigma:
        needed = compute_n_needed(log(margin), sigma)
    first, second = typical[contrast.a], typical[contrast.b]
    return Pair(
        a=levels[contrast.a],
        b=levels[contrast.b],
        difference=None if first is None or second is None else first - second,
        ratio=None if contrast.log_ratio is None else _exp(contrast.log_ratio),
        ratio_ci95=ratio_ci,
        p_adjusted=contrast.p_adjusted,
        verdict=verdict,
        measurable=ratio_ci is not None and not ratio_ci[0] <= 1 <= ratio_ci[1],
        specimens_needed=needed,
    )


def _exp(value: float) -> float:
    return exp(min(value, 700.0))


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
