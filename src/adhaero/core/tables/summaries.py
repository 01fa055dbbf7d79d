"""The summaries of a table: every cell that computes something of its pieces, with what it should be computed from."""

import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final

from adhaero.core.tables.grid import Cell, Place
from adhaero.core.tables.headings import Role, Summary, plain
from adhaero.core.tables.layout import Column, Layout, Table
from adhaero.core.tables.names import fold
from adhaero.core.tables.pieces import Piece, PieceColumn, list_piece_columns
from adhaero.core.tables.units import Measure, Unit


@dataclass(frozen=True)
class Figure:
    """A number that a summary is computed from: where it stands; None for a blank, a word, or one that is not known.

    `is_text` : a spreadsheet's functions skip it. torn_pct : of the piece.
    """

    place: Place
    value: float | None
    is_text: bool = False
    torn_pct: float | None = None


@dataclass(frozen=True)
class SummaryCell:
    """One cell that computes something.

    Attributes
    ----------
    table, place, cell : where it stands, and what. kind, population, middle : what it computes.
    scope : the cells that it is of, blanks among them, in order. line : which summaries it is to be compared with:
    those of the same kind down its column, or along its row.
    """

    number: int
    table: Table
    place: Place
    cell: Cell
    kind: Summary
    scope: tuple[Figure, ...]
    line: tuple[int, str, int]
    population: bool = False
    middle: int | None = None
    of: str = ""
    own: str = ""
    set_name: str = ""
    unit: Unit | None = None
    is_of_summaries: bool = False


_MIDDLE: Final = {"two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "2": 2, "3": 3, "4": 4, "5": 5, "6": 6}


def middle_of(heading: str) -> int | None:
    """Return how many of the middle ones a trimmed mean is of; None for all but both ends."""
    found = re.search(r"middle\s+(\w+)", plain(heading))
    return _MIDDLE.get(found[1]) if found else None


def list_summaries(number: int, table: Table, pieces: Mapping[Place, Piece]) -> Iterator[SummaryCell]:
    """Return the summaries of a table that are told by their headings, beside, below or between.

    Parameters
    ----------
    pieces : of the table, by place.
    """
    columns = list_piece_columns(table)
    if not columns:
        return
    if table.layout is Layout.WIDE:
        yield from _list_beside(number, table, columns, pieces)
    yield from _list_between(number, table, columns, pieces)


def _figure(place: Place, pieces: Mapping[Place, Piece]) -> Figure:
    piece = pieces.get(place)
    if piece is None:
        return Figure(place, None)
    return Figure(place, piece.entry.written_number, piece.entry.is_text, piece.torn_pct)


def _list_beside(
    number: int, table: Table, columns: Sequence[PieceColumn], pieces: Mapping[Place, Piece]
) -> Iterator[SummaryCell]:
    overs = list(dict.fromkeys(one.over for one in columns))
    summaries = table.with_role(Role.SUMMARY)
    for column in summaries:
        alike = [one for one in summaries if one.heading.summary is column.heading.summary]
        mine = _choose_columns(columns, overs, column, alike)
        for row in table.rows:
            cell = table.sheet.cell((row, column.at))
            if cell is None or table.read_summary_of(row) is not None:
                continue
            scope = tuple(_figure((row, one.at), pieces) for one in mine)
            yield SummaryCell(
                number,
                table,
                (row, column.at),
                cell,
                column.heading.summary,
                scope,
                (number, "down", column.at),
                column.heading.population,
                middle_of(column.heading.text),
                of=column.heading.name,
                own=mine[0].over if mine and len(overs) > 1 and len({one.over for one in mine}) == 1 else "",
                set_name=_set_of(table, row, pieces),
                unit=column.unit,
            )


def _choose_columns(
    columns: Sequence[PieceColumn], overs: Sequence[str], summary: Column, alike: Sequence[Column]
) -> list[PieceColumn]:
    """Return the columns of pieces that a summary is of: the block that it names, else by its turn, else all."""
    if len(overs) < 2:
        return list(columns)
    named = [over for over in overs if over and names_alike(summary.heading.name, over)]
    if not named and summary.over:
        named = [over for over in overs if fold(over) == fold(summary.over)]
    if not named and summary.heading.name and len(alike) == len(overs):
        named = [overs[list(alike).index(summary)]]
    return [one for one in columns if one.over in named] if len(named) == 1 else list(columns)


def names_alike(said: str, name: str) -> bool:
    """Return whether a heading's words name a condition: the same, or one begins with the other."""
    first, second = plain(said), plain(name)
    return bool(first and second) and (
        first == second or second.startswith(f"{first} ") or first.startswith(f"{second} ")
    )


def _set_of(table: Table, row: int, pieces: Mapping[Place, Piece]) -> str:
    found = next((piece.set_name for (at, _), piece in pieces.items() if at == row), "")
    column = table.first(Role.SET)
    return found or (table.sheet.text((row, column.at)) if column else "")


def _list_between(
    number: int, table: Table, columns: Sequence[PieceColumn], pieces: Mapping[Place, Piece]
) -> Iterator[SummaryCell]:
    """Return the summaries that stand in rows of their own: of the pieces above, down to the summaries before."""
    beside = table.with_role(Role.SUMMARY) if table.layout is Layout.WIDE else ()
    at = {one.at: one for one in columns}
    twins = {twin.at for one in columns for twin, _ in one.twins}
    group: list[int] = []
    above: list[int] = []
    seen: set[tuple[Summary, str]] = set()
    for row in table.rows:
        found = table.read_summary_of(row)
        if found is None:
            if seen:
                group, seen = [], set()
            group.append(row)
            above.append(row)
            continue
        rows = above if found in seen else group
        seen.add(found)
        for column in (*at, *(one.at for one in beside), *twins):
            cell = table.sheet.cell((row, column))
            if cell is None:
                continue
            piece_column = at.get(column)
            of_summaries = piece_column is None
            scope = tuple(
                _figure((one, column), pieces) if not of_summaries else _shown(table, (one, column)) for one in rows
            )
            text = next((t for c in table.columns if (t := table.sheet.text((row, c.at)))), "")
            yield SummaryCell(
                number,
                table,
                (row, column),
                cell,
                found[0],
                scope,
                (number, "along" if len(columns) > 1 else "down", row if len(columns) > 1 else column),
                "pop" in plain(text),
                middle_of(text),
                of=found[1],
                set_name=piece_column.column.heading.text if piece_column and table.layout is Layout.COLUMNS else "",
                is_of_summaries=of_summaries,
            )


def _shown(table: Table, place: Place) -> Figure:
    cell = table.sheet.cell(place)
    return Figure(place, cell.number if cell is not None else None)


def with_numbers(cell: SummaryCell, change: Callable[[Figure], Figure]) -> SummaryCell:
    """Return a summary with its figures changed."""
    return replace(cell, scope=tuple(change(one) for one in cell.scope))


def is_force(unit: Unit | None) -> bool:
    """Return whether a unit is one of force."""
    return unit is not None and unit.measure is Measure.FORCE
