"""What a condition leaves of a strength: the same sets dry and soaked, fresh and aged."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations
from math import exp, sqrt

import numpy as np

from adhaero.core.errors import DataError
from adhaero.core.stats.breaks import Specimen
from adhaero.core.stats.factors import compare_combined
from adhaero.core.stats.laws import LIKELY, find_t
from adhaero.core.stats.pairs import Contrast, Pair, compare_games_howell, judge_pair
from adhaero.core.stats.scatter import Floats
from adhaero.core.stats.sets import fit_sets
from adhaero.core.stats.table import Table


@dataclass(frozen=True)
class Kept:
    """The share of its strength that one set keeps; None where it cannot be told.

    Attributes
    ----------
    n_before, n_after : pieces that count in either condition; paired : matched pairs that were used.
    share, ci95 : strength after over strength before, and its 95 % interval (of this set alone).
    """

    level: str
    n_before: int
    n_after: int
    paired: int
    share: float | None
    ci95: tuple[float, float] | None


@dataclass(frozen=True)
class Retention:
    """Two conditions compared in every set, and the sets in what they keep.

    Attributes
    ----------
    method : `pairs` (each piece with its partner), `sets` (all pieces, one scatter), `blocked` (within boards) or
        `censored` (by likelihood).
    pairs : of the shares: `ratio` is a's share over b's, `difference` the plain difference of the shares.
    """

    condition: str
    before: str
    after: str
    method: str
    kept: tuple[Kept, ...]
    pairs: tuple[Pair, ...]


def compute_retention(
    table: Table, condition: str, before: str, after: str, margin_pct: float, *, matched: bool = False
) -> Retention:
    """Return what each set keeps of its strength, and whether sets differ in it.

    Matched: each block holds a piece of a set before and its partner after; their log ratios are averaged (Student's t;
    the sets' shares compared by Games and Howell). Otherwise differences of the fitted sets, t with the residual
    degrees of freedom (normal by likelihood), the comparisons of shares by Bonferroni.

    Parameters
    ----------
    table : its specimens carry `factors` that name the condition; blocks are boards, or pairs where matched.
    condition, before, after : the factor, and its values.
    margin_pct : the smallest difference of shares that matters, percent.

    Raises
    ------
    DataError : no such values, or no set has pieces in both.
    """
    values = list(dict.fromkeys(one.factors[condition] for one in table.counted))
    for value in (before, after):
        if value not in values:
            raise DataError(f"No piece that counts is {value}.", f"{condition} is one of: {', '.join(values)}.")
    sides = [
        {_set_of(one, condition) for one in table.counted if one.factors[condition] == value}
        for value in (before, after)
    ]
    levels = [
        name
        for name in dict.fromkeys(_set_of(one, condition) for one in table.counted)
        if all(name in side for side in sides)
    ]
    if not levels:
        raise DataError(f"No set has pieces both {before} and {after}.", "Expected the same sets in both conditions.")
    if matched and table.plain:
        return _by_pairs(table, levels, (condition, before, after), margin_pct)
    return _by_sets(table, levels, (condition, before, after), margin_pct)


def _set_of(one: Specimen, condition: str) -> str:
    return ", ".join(value for name, value in one.factors.items() if name != condition) or "all"


def _by_sets(table: Table, levels: Sequence[str], asked: tuple[str, str, str], margin_pct: float) -> Retention:
    condition, before, after = asked
    cells = [(level, value) for level in levels for value in (before, after)]
    places = {cell: index for index, cell in enumerate(cells)}
    mine = [places.get((_set_of(one, condition), one.factors[condition]), -1) for one in table.counted]
    chosen = np.array([place >= 0 for place in mine])
    boards = None
    if table.boards is not None:
        boards = np.unique(table.boards[chosen], return_inverse=True)[1].astype(np.intp)
    sets = np.array([place for place in mine if place >= 0], dtype=np.intp)
    bounds = table.bounds.take(chosen)
    fit = fit_sets(bounds, sets, len(cells), boards)
    weights = []
    for index in range(len(levels)):
        row = np.zeros(len(cells))
        row[[2 * index, 2 * index + 1]] = -1.0, 1.0
        weights.append(row)
    kept = []
    contrasts: list[Contrast] = []
    for index, level in enumerate(levels):
        counts = [int((sets == 2 * index + turn).sum()) for turn in (0, 1)]
        found = None if fit is None else fit.combine(weights[index])
        far = 0.0 if fit is None else find_t(LIKELY, fit.df)
        kept.append(_kept(level, counts, 0, found, far))
    if fit is not None:
        wanted = [(a, b, weights[a] - weights[b]) for a, b in combinations(range(len(levels)), 2)]
        contrasts = compare_combined(fit, wanted, len(wanted)) if wanted else []
    method = "censored" if not bounds.exact.all() else "sets" if boards is None else "blocked"
    return _retention(asked, method, kept, contrasts, margin_pct)


def _by_pairs(table: Table, levels: Sequence[str], asked: tuple[str, str, str], margin_pct: float) -> Retention:
    condition, before, after = asked
    logs: dict[str, dict[str, dict[str, list[float]]]] = {level: {before: {}, after: {}} for level in levels}
    counts = {level: {before: 0, after: 0} for level in levels}
    for one, value in zip(table.counted, table.bounds.lower, strict=True):
        level, side = _set_of(one, condition), one.factors[condition]
        if level in logs and side in (before, after):
            counts[level][side] += 1
            logs[level][side].setdefault(one.block or "", []).append(float(value))
    shifts: list[Floats] = [_pair_shifts(sides[before], sides[after]) for sides in logs.values()]
    kept = []
    for level, shift in zip(levels, shifts, strict=True):
        found = None
        if shift.size:
            spread = float(shift.std(ddof=1)) / sqrt(shift.size) if shift.size > 1 else 0.0
            found = (float(shift.mean()), spread)
        far = find_t(LIKELY, shift.size - 1) if shift.size > 1 else 0.0
        kept.append(_kept(level, list(counts[level].values()), shift.size, found, far))
    usable = [index for index, shift in enumerate(shifts) if shift.size]
    contrasts = []
    if len(usable) > 1:
        contrasts = [
            Contrast(usable[one.a], usable[one.b], one.log_ratio, one.log_ci95, one.p_adjusted)
            for one in compare_games_howell([shifts[index] for index in usable])
        ]
    return _retention(asked, "pairs", kept, contrasts, margin_pct)


def _pair_shifts(before: Mapping[str, list[float]], after: Mapping[str, list[float]]) -> Floats:
    """Return the log ratio of every block that holds the set in both conditions, its pieces averaged."""
    return np.array([np.mean(after[name]) - np.mean(before[name]) for name in before if name in after])


def _kept(level: str, counts: Sequence[int], paired: int, found: tuple[float, float] | None, far: float) -> Kept:
    if found is None:
        return Kept(level, counts[0], counts[1], paired, None, None)
    shift, se = found
    interval = (exp(shift - far * se), exp(shift + far * se)) if far > 0 and se > 0 else None
    return Kept(level, counts[0], counts[1], paired, exp(shift), interval)


def _retention(
    asked: tuple[str, str, str], method: str, kept: Sequence[Kept], contrasts: Sequence[Contrast], margin_pct: float
) -> Retention:
    levels, shares = [one.level for one in kept], [one.share for one in kept]
    pairs = tuple(judge_pair(one, levels, shares, margin_pct, None) for one in contrasts)
    return Retention(*asked, method, tuple(kept), pairs)
