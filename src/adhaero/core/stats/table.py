"""A checked table of breaks, as the question sees it: codes for sets and boards, bounds of the logarithms."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from adhaero.core.errors import DataError
from adhaero.core.stats.breaks import (
    Estimate,
    Outcome,
    Specimen,
    as_judged,
    check_breaks,
    levels_of,
    split_by_wood,
)
from adhaero.core.stats.censored import Bounds
from adhaero.core.stats.linear import code
from adhaero.core.stats.sets import SetsFit, fit_sets


@dataclass(frozen=True)
class Table:
    """The breaks that count, ready for a model.

    Attributes
    ----------
    read : all specimens as read; judged : as the estimate sees them, both with those set aside.
    counted : the judged ones that count; levels : the sets in the order of the file.
    bounds, sets, boards : of the n that count; boards None where they are no blocks.
    board_names : by their code; divided : sets that are one set a wood (see `split_by_wood`).
    """

    read: tuple[Specimen, ...]
    judged: tuple[Specimen, ...]
    counted: tuple[Specimen, ...]
    levels: tuple[str, ...]
    bounds: Bounds
    sets: NDArray[np.intp]
    boards: NDArray[np.intp] | None
    board_names: tuple[str, ...]
    divided: tuple[str, ...] = ()

    @property
    def plain(self) -> bool:
        """Return whether every piece that counts is a number and none a bound."""
        return bool(self.bounds.exact.all())

    def fit(self, *, few_pieces: bool = True) -> SetsFit:
        """Fit the sets, within boards where they are blocks (see `fit_sets`)."""
        return fit_sets(self.bounds, self.sets, len(self.levels), self.boards, few_pieces=few_pieces)


def make_table(
    specimens: Sequence[Specimen], estimate: Estimate, wood_failure_from: float, block: str | None = None
) -> Table:
    """Check and code a table of breaks.

    Parameters
    ----------
    specimens : all of them, excluded ones included, in the order of the file.
    estimate, wood_failure_from : which question (see `as_judged`); block : name of the blocking column, or None.

    Raises
    ------
    DataError : the table cannot be analysed (see `check_breaks`), or a piece that counts has no block.
    """
    check_breaks(specimens)
    divided: tuple[str, ...] = ()
    if block and boards_say_something(specimens):
        specimens, divided = split_by_wood(specimens)
    levels = levels_of(specimens)
    judged = as_judged(specimens, estimate, wood_failure_from)
    counted = tuple(one for one in judged if one.excluded is None)
    names = tuple(dict.fromkeys(one.block or "" for one in counted)) if block else ()
    if block and (without := [one.label for one in counted if not one.block]):
        raise DataError(f"{without[0]} has no {block}.", f"Every piece that counts needs its {block}.", field="block")
    return Table(
        read=tuple(specimens),
        judged=judged,
        counted=counted,
        levels=levels,
        bounds=find_bounds(counted, specimens),
        sets=code([one.level for one in counted], levels),
        boards=code([one.block or "" for one in counted], names) if block else None,
        board_names=names,
        divided=divided,
    )


def boards_say_something(specimens: Sequence[Specimen]) -> bool:
    """Return whether some board holds two pieces that count."""
    counted = [one.block for one in specimens if one.excluded is None]
    return len(set(counted)) < len(counted)


def find_bounds(counted: Sequence[Specimen], specimens: Sequence[Specimen]) -> Bounds:
    """Return between what the logarithms of the pieces that count lie.

    A piece that fell apart without a value lies at or below the smallest positive value read among them.

    Parameters
    ----------
    counted : as judged by the estimate; specimens : as read, excluded ones included.
    """
    smallest = min((one.value for one in specimens if one.excluded is None and one.value), default=1.0)
    values = np.array([one.value or 0.0 for one in counted])
    kinds = np.array([one.outcome.value for one in counted])
    held_last = np.array([one.held_value or 0.0 for one in counted])
    apart, step = kinds == Outcome.FELL_APART.value, kinds == Outcome.STEP.value
    values[apart & (values == 0)] = smallest
    logs = np.log(values)
    held = np.log(np.where(step, held_last, 1.0))
    lower = np.where(apart, -np.inf, np.where(step, held, logs))
    return Bounds(lower, np.where(kinds == Outcome.HELD.value, np.inf, logs))
