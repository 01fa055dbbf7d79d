"""Several things varied at once: what each does averaged over the others, and whether they act together."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations, permutations
from math import inf, isfinite

import numpy as np

from adhaero.core.errors import DataError
from adhaero.core.stats.design import Design, constant, join, one_hot
from adhaero.core.stats.laws import beyond_f, find_t
from adhaero.core.stats.linear import LinearFit, OverallTest, code, compare_nested, fit_linear
from adhaero.core.stats.pairs import CONFIDENCE, Contrast, Pair, compare_cells, compare_combined, judge_pair
from adhaero.core.stats.scatter import Floats
from adhaero.core.stats.table import Table

MOST_FACTORS = 3


@dataclass(frozen=True)
class FactorLevel:
    """One value of what is varied: its typical strength averaged over the others, on logarithms.

    Attributes
    ----------
    held, lost : combinations with it whose pieces all held, or all fell apart: then it has no typical strength.
    """

    level: str
    n: int
    typical: float | None
    held: tuple[str, ...] = ()
    lost: tuple[str, ...] = ()


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
    if not table.counted:
        raise DataError("No piece that counts has a value of everything that is varied.", "Expected at least one.")
    names = tuple(table.counted[0].factors)
    values = {name: tuple(dict.fromkeys(one.factors[name] for one in table.counted)) for name in names}
    if len(names) > MOST_FACTORS:
        raise DataError(f"{len(names)} things are varied.", f"At most {MOST_FACTORS} can be analysed together.")
    for name, levels in values.items():
        if len(levels) < 2:
            raise DataError(
                f"{name} is {levels[0]} in every piece that counts.", "Expected at least two values.", field=name
            )
    crossed = _Crossed(table, values, margin_pct)
    return Factors(
        tuple(crossed.find_effect(name) for name in names),
        tuple(crossed.find_together(*pair) for pair in permutations(names, 2)),
    )


Cell = tuple[str, ...]


class _Crossed:
    """The combinations of a table with their fit: what each factor does is a contrast of them."""

    def __init__(self, table: Table, values: Mapping[str, tuple[str, ...]], margin_pct: float) -> None:
        self._table, self._values, self._margin_pct = table, values, margin_pct
        self._cells = {tuple(one.factors.values()): int(at) for one, at in zip(table.counted, table.sets, strict=True)}
        self._fit = table.fit()
        self._terms = _Terms(table, values)

    def find_effect(self, name: str) -> FactorEffect:
        """Return what one factor does, averaged over the others."""
        levels = self._values[name]
        rest, shared = self._find_shared(name, self._cells)
        weights = self._average(name, shared)
        typical = self._find_typical(weights) or [None] * len(levels)
        counts = [sum(one.factors[name] == level for one in self._table.counted) for level in levels]
        found = []
        for level, n, value in zip(levels, counts, typical, strict=True):
            cells = [self._with(name, one, level) for one in shared]
            held, lost = (tuple(", ".join(one) for one in cells if self._side(one) == side) for side in (1, -1))
            found.append(FactorLevel(level, n, value, held, lost))
        return FactorEffect(
            factor=name,
            levels=tuple(found),
            averaged_over=len(shared),
            of=len(rest),
            test=self._terms.test((name,)),
            pairs=self._compare(name, shared, len(levels) * (len(levels) - 1) // 2),
        )

    def find_together(self, name: str, other: str) -> Together:
        """Return whether what a factor does depends on another, and what it does at each of its values."""
        at = list(self._values).index(other)
        pairs = len(self._values[name]) * (len(self._values[name]) - 1) // 2
        inside = []
        for level in self._values[other]:
            here = [cell for cell in self._cells if cell[at] == level]
            shared = self._find_shared(name, here)[1]
            inside.append(Inside(level, self._compare(name, shared, pairs * len(self._values[other]))))
        return Together(name, other, self._terms.test((name, other)), tuple(inside))

    def _find_shared(self, name: str, cells: Iterable[Cell]) -> tuple[list[Cell], list[Cell]]:
        """Return the combinations of the others, and those made with every value."""
        place = list(self._values).index(name)
        rest = list(dict.fromkeys(cell[:place] + cell[place + 1 :] for cell in cells))
        shared = [one for one in rest if all(self._is_known(self._with(name, one, v)) for v in self._values[name])]
        return rest, shared

    def _is_known(self, cell: Cell) -> bool:
        return cell in self._cells and (self._side(cell) != 0 or bool(np.isfinite(self._fit.own.mu[self._cells[cell]])))

    def _side(self, cell: Cell) -> int:
        """Return 1 for a combination whose pieces all held, −1 where all fell apart, else 0."""
        return int(self._fit.own.tally.one_sided[self._cells[cell]])

    def _with(self, name: str, rest: Cell, value: str) -> Cell:
        place = list(self._values).index(name)
        return (*rest[:place], value, *rest[place:])

    def _average(self, name: str, shared: Sequence[Cell]) -> list[Floats]:
        """Return for each value what makes its average out of the fitted sets; nothing where there is none."""
        if not self._fit.judged or not shared:
            return []
        rows = []
        for value in self._values[name]:
            row = np.zeros(self._fit.effects.size)
            row[[self._cells[self._with(name, one, value)] for one in shared]] = 1 / len(shared)
            rows.append(row)
        return rows

    def _find_typical(self, weights: Sequence[Floats]) -> list[float | None]:
        found = [self._fit.combine(row) for row in weights]
        return [None if one is None else float(np.exp(one[0])) for one in found]

    def _compare(self, name: str, shared: Sequence[Cell], family: int) -> tuple[Pair, ...]:
        weights = self._average(name, shared)
        if not weights:
            return ()
        levels = self._values[name]
        typical = self._find_typical(weights)
        wanted = [(a, b, weights[a] - weights[b]) for a, b in combinations(range(len(weights)), 2)]
        made = compare_combined(self._fit, wanted, family)
        if not any(self._side(self._with(name, one, level)) for one in shared for level in levels):
            return tuple(judge_pair(one, levels, typical, self._margin_pct, None) for one in made)
        open_ = [one if one.log_ratio is not None else self._compare_bounded(name, shared, one, family) for one in made]
        return tuple(judge_pair(one, levels, typical, self._margin_pct, None) for one in open_)

    def _compare_bounded(self, name: str, shared: Sequence[Cell], pair: Contrast, family: int) -> Contrast:
        """Compare two values of which a combination held, or fell apart, throughout: the ends of each, averaged.

        Each combination has its range at its share of the whole chance of error (Bonferroni), so that their average
        holds together.
        """
        level = (1 - CONFIDENCE) / 2 / (family * len(shared))

        def reach(df: float) -> float:
            return -find_t(level, df)

        lows, highs = list[float](), list[float]()
        for rest in shared:
            a, b = (self._cells[self._with(name, rest, self._values[name][at])] for at in (pair.a, pair.b))
            one = compare_cells(self._fit, a, b, reach)
            low, high = one.log_ci95 or (None, None)
            lows.append(-inf if low is None else low)
            highs.append(inf if high is None else high)
        low, high = sum(lows) / len(lows), sum(highs) / len(highs)
        ends = (low if isfinite(low) else None, high if isfinite(high) else None)
        return Contrast(pair.a, pair.b, None, ends, None)


class _Terms:
    """Nested models of boards, factors and pairs of factors, fitted once each."""

    def __init__(self, table: Table, values: Mapping[str, tuple[str, ...]]) -> None:
        self._table = table
        self._columns: dict[tuple[str, ...], Design] = {}
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
        if full.likelihood:
            return compare_nested(full, plain, more, "likelihood-ratio")
        if more < 1 or scale.misfit <= 0:
            return None
        statistic = max(0.0, (plain.misfit - full.misfit) / more / (scale.misfit / scale.df))
        return OverallTest("anova", statistic, (float(more), scale.df), beyond_f(statistic, more, scale.df))

    def _model(self, terms: frozenset[tuple[str, ...]]) -> tuple[LinearFit | None, int]:
        if terms not in self._fits:
            parts = [self._columns[one] for one in sorted(terms)] or [constant(self._table.sets.size)]
            self._fits[terms] = self._fit(join(parts))
        return self._fits[terms]

    def _fit(self, columns: Design) -> tuple[LinearFit | None, int]:
        table = self._table
        parts = [constant(table.sets.size), columns]
        if table.boards is not None:
            parts.insert(0, one_hot(table.boards, len(table.board_names)))
        design = join(parts).keep_independent()
        return fit_linear(design, table.bounds), design.rows.shape[1]
