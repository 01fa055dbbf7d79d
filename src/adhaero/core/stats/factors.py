"""Several things varied at once: what each does averaged over the others, and whether they act together."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations
from math import inf

import numpy as np
from scipy import stats

from adhaero.core.errors import DataError
from adhaero.core.stats.censored import Floats
from adhaero.core.stats.linear import LinearFit, OverallTest, code, compare_nested, fit_linear, independent, one_hot
from adhaero.core.stats.pairs import CONFIDENCE, Contrast, Pair, judge_pair, list_contrasts
from adhaero.core.stats.sets import SetsFit
from adhaero.core.stats.table import Table

MOST_FACTORS = 3


@dataclass(frozen=True)
class FactorLevel:
    """One value of what is varied: its typical strength averaged over the others, on logarithms."""

    level: str
    n: int
    typical: float | None


@dataclass(frozen=True)
class FactorEffect:
    """One thing that is varied, averaged over the others.

    Attributes
    ----------
    averaged_over, of : how many combinations of the others hold every value of this one, and how many there are; each
        counts once. No `pairs` where there are none, or no scatter to judge by.
    test : does it matter at all, beside the others? None where nothing is left to judge by.
    """

    factor: str
    levels: tuple[FactorLevel, ...]
    averaged_over: int
    of: int
    test: OverallTest | None
    pairs: tuple[Pair, ...]


@dataclass(frozen=True)
class Inside:
    """A factor's comparisons at one value of another, averaged over a third."""

    at: str
    pairs: tuple[Pair, ...]


@dataclass(frozen=True)
class Together:
    """Whether what `factor` does depends on `other`: the test, and what it does at each of the other's values."""

    factor: str
    other: str
    test: OverallTest | None
    inside: tuple[Inside, ...]


@dataclass(frozen=True)
class Factors:
    """What the factors of a trial do, each by itself and two by two."""

    effects: tuple[FactorEffect, ...]
    together: tuple[Together, ...]


def analyse_factors(table: Table, margin_pct: float) -> Factors:
    """Return what each factor does.

    Effects are contrasts of the fitted sets, every combination of the others counted once (so that an unbalanced table
    favours none); the comparisons of one factor, and all that stand inside another, are simultaneous (Bonferroni).
    Tests compare nested models, each term beside all that do not contain it (type II).

    Parameters
    ----------
    table : its specimens carry `factors`, at least one, the same names in all that count.
    margin_pct : the smallest difference that matters, percent.

    Raises
    ------
    DataError : more than three factors, or one that never varies.
    """
    names = tuple(table.counted[0].factors)
    values = {name: tuple(dict.fromkeys(one.factors[name] for one in table.counted)) for name in names}
    if len(names) > MOST_FACTORS:
        raise DataError(f"{len(names)} things are varied.", f"At most {MOST_FACTORS} can be analysed together.")
    for name, levels in values.items():
        if len(levels) < 2:
            raise DataError(
                f"{name} is {levels[0]} in every piece that counts.", "Expected at least two values.", field=name
            )
    cells = {tuple(one.factors.values()): int(index) for one, index in zip(table.counted, table.sets, strict=True)}
    fit = table.fit()
    tests = _Terms(table, values)
    effects = tuple(_find_effect(table, fit, cells, values, name, margin_pct, tests) for name in names)
    together = tuple(
        _find_together(fit, cells, values, pair, margin_pct, tests)
        for one, other in combinations(names, 2)
        for pair in ((one, other), (other, one))
    )
    return Factors(effects, together)


Cells = Mapping[tuple[str, ...], int]
Values = Mapping[str, tuple[str, ...]]


def _find_effect(
    table: Table, fit: SetsFit | None, cells: Cells, values: Values, name: str, margin_pct: float, tests: "_Terms"
) -> FactorEffect:
    place = list(values).index(name)
    rest = list(dict.fromkeys(_without(cell, place) for cell in cells))
    weights = _average(fit, cells, place, values[name], rest)
    shared = _shared(fit, cells, place, values[name], rest)
    typical = [_typical(fit, row) for row in weights] or [None] * len(values[name])
    counts = [sum(one.factors[name] == level for one in table.counted) for level in values[name]]
    return FactorEffect(
        factor=name,
        levels=tuple(FactorLevel(*row) for row in zip(values[name], counts, typical, strict=True)),
        averaged_over=len(shared),
        of=len(rest),
        test=tests.test((name,)),
        pairs=_compare(fit, weights, values[name], typical, margin_pct, len(weights) * (len(weights) - 1) // 2),
    )


def _find_together(
    fit: SetsFit | None, cells: Cells, values: Values, pair: tuple[str, str], margin_pct: float, tests: "_Terms"
) -> Together:
    name, other = pair
    place, at = list(values).index(name), list(values).index(other)
    family = len(values[other]) * len(values[name]) * (len(values[name]) - 1) // 2
    inside = []
    for level in values[other]:
        here = {cell: index for cell, index in cells.items() if cell[at] == level}
        weights = _average(fit, here, place, values[name], list(dict.fromkeys(_without(c, place) for c in here)))
        typical = [_typical(fit, row) for row in weights]
        inside.append(Inside(level, _compare(fit, weights, values[name], typical, margin_pct, family)))
    return Together(name, other, tests.test(pair), tuple(inside))


def _without(cell: tuple[str, ...], place: int) -> tuple[str, ...]:
    return cell[:place] + cell[place + 1 :]


def _with(rest: tuple[str, ...], place: int, level: str) -> tuple[str, ...]:
    return (*rest[:place], level, *rest[place:])


def _shared(
    fit: SetsFit | None, cells: Cells, place: int, levels: Sequence[str], rest: Sequence[tuple[str, ...]]
) -> list[tuple[str, ...]]:
    """Return the combinations of the others that hold every level, with an estimate where there is a fit."""

    def known(cell: tuple[str, ...]) -> bool:
        return cell in cells and (fit is None or bool(np.isfinite(fit.effects[cells[cell]])))

    return [one for one in rest if all(known(_with(one, place, level)) for level in levels)]


def _average(
    fit: SetsFit | None, cells: Cells, place: int, levels: Sequence[str], rest: Sequence[tuple[str, ...]]
) -> list[Floats]:
    """Return for each level what makes its average out of the fitted sets; none where no combination holds them all."""
    if fit is None or not (shared := _shared(fit, cells, place, levels, rest)):
        return []
    rows = []
    for level in levels:
        row = np.zeros(fit.effects.size)
        row[[cells[_with(one, place, level)] for one in shared]] = 1 / len(shared)
        rows.append(row)
    return rows


def _typical(fit: SetsFit | None, weights: Floats) -> float | None:
    found = None if fit is None else fit.combine(weights)
    return None if found is None else float(np.exp(found[0]))


def _compare(
    fit: SetsFit | None,
    weights: Sequence[Floats],
    levels: Sequence[str],
    typical: Sequence[float | None],
    margin_pct: float,
    family: int,
) -> tuple[Pair, ...]:
    if fit is None or not weights:
        return ()
    made = compare_combined(
        fit, [(a, b, weights[a] - weights[b]) for a, b in combinations(range(len(levels)), 2)], family
    )
    return tuple(judge_pair(one, levels, typical, margin_pct, None) for one in made)


def compare_combined(fit: SetsFit, wanted: Sequence[tuple[int, int, Floats]], family: int) -> list[Contrast]:
    """Return differences of combined sets with Bonferroni intervals and p over `family` comparisons.

    Parameters
    ----------
    wanted : first, second, and the (k,) weights of their difference.
    """
    found = [fit.combine(weights) or (np.nan, np.nan) for _, _, weights in wanted]
    shift, se = np.array([one for one, _ in found]), np.array([one for _, one in found])
    law = stats.norm if fit.df == inf else stats.t(fit.df)
    with np.errstate(divide="ignore", invalid="ignore"):
        p = np.where(se > 0, np.minimum(1.0, 2 * law.sf(np.abs(shift) / se) * family), np.nan)
    point = float(law.isf((1 - CONFIDENCE) / 2 / max(1, family)))
    return list_contrasts(np.array([(a, b) for a, b, _ in wanted]), shift, se, point, p)


class _Terms:
    """Nested models of boards, factors and pairs of factors, fitted once each."""

    def __init__(self, table: Table, values: Values) -> None:
        self._table = table
        self._names = tuple(values)
        self._columns: dict[tuple[str, ...], Floats] = {}
        for size in (1, 2):
            for term in combinations(values, size):
                combos = [tuple(one.factors[name] for name in term) for one in table.counted]
                known = list(dict.fromkeys(combos))
                self._columns[term] = one_hot(
                    code(["\0".join(c) for c in combos], ["\0".join(c) for c in known]), len(known)
                )
        self._fits: dict[frozenset[tuple[str, ...]], tuple[LinearFit | None, int]] = {}
        self._scale = self._fit(one_hot(table.sets, len(table.levels)))

    def test(self, term: tuple[str, ...]) -> OverallTest | None:
        """Test a factor, or two together, beside everything that does not contain it."""
        own = frozenset(term)
        beside = [one for one in self._columns if not own <= set(one)]
        plain, plain_rank = self._model(frozenset(beside))
        mine = next(one for one in self._columns if set(one) == own)
        full, full_rank = self._model(frozenset([*beside, mine]))
        scale = self._scale[0]
        more = full_rank - plain_rank
        if full is None or plain is None or scale is None:
            return None
        if full.df == inf:
            return compare_nested(full, plain, more, "likelihood-ratio")
        if more < 1 or scale.misfit <= 0:
            return None
        statistic = max(0.0, (plain.misfit - full.misfit) / more / (scale.misfit / scale.df))
        return OverallTest("anova", statistic, (float(more), scale.df), float(stats.f.sf(statistic, more, scale.df)))

    def _model(self, terms: frozenset[tuple[str, ...]]) -> tuple[LinearFit | None, int]:
        if terms not in self._fits:
            parts = [self._columns[one] for one in sorted(terms)] or [np.ones((self._table.sets.size, 1))]
            self._fits[terms] = self._fit(np.hstack(parts))
        return self._fits[terms]

    def _fit(self, columns: Floats) -> tuple[LinearFit | None, int]:
        table = self._table
        parts = [np.ones((table.sets.size, 1)), columns]
        if table.boards is not None:
            parts.insert(0, one_hot(table.boards, len(table.board_names)))
        design = independent(np.hstack(parts))
        return fit_linear(design, table.bounds), design.shape[1]
