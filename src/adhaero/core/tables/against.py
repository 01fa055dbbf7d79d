"""A newer file against an older one: what is new, changed and gone, by set, factors and label, not by place."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from adhaero.core.tables.bring_in import Row
from adhaero.core.tables.names import fold


class ChangeKind(StrEnum):
    """What became of a piece."""

    CHANGED = "changed"
    NEW = "new"
    GONE = "gone"


@dataclass(frozen=True)
class Change:
    """One piece that is not as it was.

    Attributes
    ----------
    row, old_row : of the newer and of the older file; None where it stands in one alone.
    """

    kind: ChangeKind
    row: Row | None
    old_row: Row | None


def compare_files(newer: Sequence[Row], older: Sequence[Row]) -> list[Change]:
    """Return what differs, in the order of the newer file, what is gone last.

    Pieces that share set, factors and label are matched in turn.
    """
    waiting: dict[tuple[object, ...], list[Row]] = {}
    for row in older:
        waiting.setdefault(key_of(row), []).append(row)
    found = []
    for row in newer:
        mine = waiting.get(key_of(row))
        if not mine:
            found.append(Change(ChangeKind.NEW, row, None))
            continue
        before = _take(mine, row)
        if not is_same(row, before):
            found.append(Change(ChangeKind.CHANGED, row, before))
    return [*found, *(Change(ChangeKind.GONE, None, row) for rows in waiting.values() for row in rows)]


def _take(waiting: list[Row], row: Row) -> Row:
    """Return, and take out, the older row that is the same; else the first."""
    same = next((at for at, one in enumerate(waiting) if is_same(row, one)), 0)
    return waiting.pop(same)


def key_of(row: Row) -> tuple[object, ...]:
    """Return what a piece is known by from one file to the next: set, factors and label."""
    factors = frozenset((fold(name), fold(level)) for name, level in row.factors.items())
    return fold(row.set_name), factors, fold(row.label)


def is_same(row: Row, other: Row) -> bool:
    """Return whether two rows say the same of a piece."""
    return (row.value, row.held, row.unit, row.outcome, row.torn_pct, bool(row.excluded)) == (
        other.value,
        other.held,
        other.unit,
        other.outcome,
        other.torn_pct,
        bool(other.excluded),
    )
