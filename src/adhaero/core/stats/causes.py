"""Could it be something else: rounds, boards, rigs, days and ages held against the sets as explanations."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from adhaero.core.stats.censored import Bounds
from adhaero.core.stats.design import Design, amounts, constant, join, one_hot
from adhaero.core.stats.laws import CLEAR
from adhaero.core.stats.linear import LinearFit, OverallTest, code, compare_nested, fit_linear
from adhaero.core.stats.table import Table

_LEAST_KNOWN = 0.8


@dataclass(frozen=True)
class Cause:
    """Something that pieces differ in besides their set.

    Attributes
    ----------
    name : in words; values : of the pieces that count, in their order: text for kinds, a number for an amount, None
        where it is not known.
    """

    name: str
    values: tuple[str | float | None, ...]


@dataclass(frozen=True)
class CauseTest:
    """What a cause explains, beside the sets and instead of them.

    Attributes
    ----------
    alone : share of the variance of logarithms that it explains by itself, counted for its number of values (adjusted
        R²); sets : that the sets explain, over the same pieces. None by likelihood, which has no such share.
    beside : does it explain more once the sets are known? sets_beside : do the sets, once it is known? None where the
        two cannot be told apart, or nothing is left to judge by.
    aliased : each value of the cause goes with some sets only. Where nothing is left within the sets (`beside` None),
        which of the two made a difference cannot be told.
    """

    name: str
    n: int
    alone: float | None
    sets: float | None
    beside: OverallTest | None
    sets_beside: OverallTest | None
    aliased: bool


def judge_causes(table: Table, causes: Sequence[Cause]) -> tuple[CauseTest, ...]:
    """Test every cause that varies and is known of four fifths of the pieces or more, by nested models.

    Within boards where they are blocks; a kind that differs for every piece is no cause.
    """
    found = []
    without: dict[bytes, _Without] = {}
    for cause in causes:
        known = np.array([value is not None for value in cause.values])
        varied = {value for value in cause.values if value is not None}
        most = known.sum() - 1 if _is_kind(varied) else known.sum()
        if known.mean() >= _LEAST_KNOWN and 1 < len(varied) <= most:
            key = known.tobytes()
            if key not in without:  # most causes are known of the same pieces
                without[key] = _fit_without(table, known)
            found.append(_test(table, cause, known, without[key]))
    return tuple(found)


@dataclass(frozen=True, eq=False)
class _Without:
    """What is fitted without a cause: its design, and the boards alone and with the sets."""

    base: Design
    sets: Design
    none: tuple[LinearFit | None, int]
    by_sets: tuple[LinearFit | None, int]


def _fit_without(table: Table, known: NDArray[np.bool_]) -> _Without:
    bounds = table.bounds.take(known)
    sets = one_hot(table.sets[known], len(table.levels))
    base = constant(bounds.lower.size)
    if table.boards is not None:
        base = join([base, one_hot(table.boards[known], len(table.board_names))])
    return _Without(base, sets, _fit((base,), bounds), _fit((base, sets), bounds))


def _is_kind(values: set[str | float]) -> bool:
    return any(isinstance(value, str) for value in values)


def _test(table: Table, cause: Cause, known: NDArray[np.bool_], without: _Without) -> CauseTest:
    bounds = table.bounds.take(known)
    values = [value for value in cause.values if value is not None]
    mine = _columns(values)
    none, by_sets = without.none, without.by_sets
    by_cause, by_both = (_fit(parts, bounds) for parts in ((without.base, mine), (without.base, without.sets, mine)))
    more, more_sets = by_both[1] - by_sets[1], by_both[1] - by_cause[1]
    plain = table.plain
    return CauseTest(
        name=cause.name,
        n=len(values),
        alone=_share(none[0], by_cause[0]) if plain else None,
        sets=_share(none[0], by_sets[0]) if plain else None,
        beside=compare_nested(by_both[0], by_sets[0], more, "nested"),
        sets_beside=compare_nested(by_both[0], by_cause[0], more_sets, "nested"),
        aliased=more_sets < by_sets[1] - none[1],
    )


def _columns(values: Sequence[str | float]) -> Design:
    if isinstance(values[0], str):
        names = [str(value) for value in values]
        levels = list(dict.fromkeys(names))
        return one_hot(code(names, levels), len(levels))
    numbers = np.array([float(value) for value in values])
    return amounts((numbers - numbers.mean()) / (numbers.std() or 1.0))


def _fit(parts: Sequence[Design], bounds: Bounds) -> tuple[LinearFit | None, int]:
    design = join(parts).keep_independent()
    return fit_linear(design, bounds), design.rows.shape[1]


def _share(none: LinearFit | None, fit: LinearFit | None) -> float | None:
    if none is None or fit is None or none.misfit <= 0 or fit.likelihood:
        return None
    return max(0.0, 1 - fit.misfit / fit.df / (none.misfit / none.df))


def say_causes(tests: Sequence[CauseTest]) -> list[str]:
    """Return what the causes mean for the verdict; one that is no rival of the sets is not named.

    A cause that explains as much as the sets do is named, and so is one that adds clearly to them (each tested at 5 %
    over the number of causes).
    """
    return [words for one in tests if (words := _say_cause(one, CLEAR / len(tests)))]


def _say_cause(one: CauseTest, level: float) -> str | None:
    shares, rival = "", False
    if one.alone is not None and one.sets is not None:
        shares = f" ({100 * one.alone:.0f} % of the scatter, the sets {100 * one.sets:.0f} %)"
        rival = one.alone >= one.sets and one.alone > 0
    if one.aliased and one.beside is None:
        return f"{one.name} changes with the sets: which of the two made a difference cannot be told{shares}."
    if one.beside is None or one.beside.p >= level:
        return None
    if one.aliased:
        return (
            f"{one.name} matters within the sets, more than chance: pieces of one are alike, and the ranges too narrow."
        )
    if rival:
        return (
            f"{one.name} explains as much as the sets do{shares}, and more than chance beside them: look there first."
        )
    return f"{one.name} matters beside the sets{shares}: part of the scatter comes from there."
