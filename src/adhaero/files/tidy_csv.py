"""The tidy breaks file: one row a specimen, with a header (docs/data-format.md)."""

import csv
import io
import math
import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, TypeVar

from adhaero.core.errors import DataError
from adhaero.core.stats.breaks import Outcome, Specimen
from adhaero.core.stats.curves import Point
from adhaero.files.text_table import Source, chain, find_delimiter

T = TypeVar("T")


CIRCUMSTANCES = ("rig", "rig_version", "calibration", "fixture")


SPECIES = "species"


SEVERAL = ", "


_COMPUTED = ("=", "+", "-", "@", "\t", "\r")


_MOST_VALUES_SAID = 12


_MOST_ROWS = 2_000_000


_NUMBER = "a number, zero or more"


def write_tidy(columns: Sequence[str], rows: Iterable[Mapping[str, object]]) -> str:
    """Return a tidy breaks file; None becomes a blank, numbers keep all their digits.

    A text that a spreadsheet would compute (`=1+1`) stands behind an apostrophe, which is taken off when it is read.
    """
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([protect(name) for name in columns])
    for row in rows:
        writer.writerow(["" if row.get(name) is None else protect(row[name]) for name in columns])
    return out.getvalue()


def protect(cell: object) -> object:
    """Return a cell; a text that a spreadsheet would compute stands behind an apostrophe."""
    return f"'{cell}" if isinstance(cell, str) and cell.lstrip("'").startswith(_COMPUTED) else cell


def _read_cell(cell: str) -> str:
    """Return a cell without the apostrophe that keeps a spreadsheet from computing it."""
    return unprotect(cell.strip())


def unprotect(cell: str) -> str:
    """Return a cell without the apostrophe that `protect` put before it."""
    return cell[1:] if cell.startswith("'") and cell.lstrip("'").startswith(_COMPUTED) else cell


@dataclass(frozen=True, slots=True)
class _Row:
    """One row: its number in the file and its cells by column."""

    number: int
    cells: Mapping[str, str]

    def wrong(self, column: str, expected: str) -> DataError:
        """Return the error of a cell."""
        found = f"“{self.cells[column]}”" if self.cells[column] else "nothing"
        return DataError(f"Row {self.number}, column {column}: found {found}.", f"Expected {expected}.", field=column)


class _Table:
    """The rows of a file below its header; commas, or semicolons or tabs with decimal commas, recognised and said."""

    def __init__(self, source: Source, needed: Sequence[str]) -> None:
        lines = iter(source.lines)
        first = next(lines, "").removeprefix("\ufeff")
        self._delimiter = find_delimiter(first)
        self._source = source
        self._decimal: tuple[str, int] | None = None
        if self._delimiter != ",":
            source.notes.append(f"The columns are parted by {'semicolons' if self._delimiter == ';' else 'tabs'}.")
        self._rows = csv.reader(chain(first, lines), delimiter=self._delimiter)
        self.header = [_read_cell(name) for name in next(self._rows, [])]
        for name in needed:
            if name not in self.header:
                raise DataError(
                    f"There is no column “{name}”.", f"The columns are: {', '.join(self.header) or 'none'}.", field=name
                )
        if len(set(self.header)) < len(self.header):
            twice = next(name for name in self.header if self.header.count(name) > 1)
            raise DataError(f"The column “{twice}” stands twice.", "Each column has its own name.", field=twice)

    def __iter__(self) -> Iterator[_Row]:
        seen: dict[str, int] = {}
        width = len(self.header)
        try:
            for cells in self._rows:
                number = self._rows.line_num
                if not cells:
                    continue
                if len(cells) != width:
                    raise DataError(
                        f"Row {number} has another number of columns than the header.", f"Expected {width}."
                    )
                row = _Row(number, dict(zip(self.header, map(_read_cell, cells), strict=True)))
                label = row.cells["specimen"]
                if not label:
                    raise row.wrong("specimen", "a label")
                if label in seen:
                    raise DataError(
                        f"Row {number}, column specimen: {label} stands in row {seen[label]} already.",
                        "Each label stands once.",
                        field="specimen",
                    )
                seen[label] = number
                if len(seen) > _MOST_ROWS:
                    raise DataError(
                        f"The file has more than {_MOST_ROWS:,} rows.",
                        "Expected one row a specimen, no more than that: they must fit in memory.",
                        "Split the file by what is not compared.",
                    )
                yield row
        except csv.Error as error:
            raise DataError(f"Row {self._rows.line_num} cannot be read: {error}.", "Expected a CSV file.") from None
        if not seen:
            raise DataError("The file has no rows below its header.", "Expected one row a specimen.")

    def number(
        self, row: _Row, column: str, expected: str = _NUMBER, lowest: float = 0, highest: float = math.inf
    ) -> float | None:
        """Return a cell as a number; None where it is blank or there is no such column."""
        text = row.cells.get(column)
        if not text:
            return None
        pointed = self._with_point(row, column, text)
        try:
            value = float(pointed)
        except ValueError:
            if re.fullmatch(r"[-+\d.,]+\s*[^\d\s]+", text):
                expected += ": the unit stands in the name of the column, the same for all rows"
            raise row.wrong(column, expected) from None
        if not (math.isfinite(value) and lowest <= value <= highest):
            raise row.wrong(column, expected)
        return value

    def _with_point(self, row: _Row, column: str, text: str) -> str:
        """Return a number with a decimal point; where columns are not parted by commas, commas may be decimal ones."""
        if self._delimiter == "," or not ("," in text or "." in text):
            return text
        mark = "," if "," in text else "."
        if self._decimal is None:
            self._decimal = (mark, row.number)
            if mark == ",":
                self._source.notes.append("Numbers are read with decimal commas.")
        if ("," in text and "." in text) or mark != self._decimal[0]:
            words = "comma" if self._decimal[0] == "," else "point"
            raise row.wrong(column, f"a number with a decimal {words}, as in row {self._decimal[1]}")
        return text.replace(",", ".")


def _as_source(given: str | Source) -> Source:
    return Source(given.splitlines(keepends=True)) if isinstance(given, str) else given


@dataclass(frozen=True)
class Columns:
    """Which columns of a file an analysis reads.

    Attributes
    ----------
    response, by, block : names of the columns; several `by` make sets of their values together.
    wood : of the species; None for the column `species`, if there is one and it is not a `by`.
    where : rows kept, a column and its value each; each : the column whose values are slices.
    """

    response: str
    by: tuple[str, ...]
    block: str | None = None
    wood: str | None = None
    where: tuple[tuple[str, str], ...] = ()
    each: str | None = None


def read_tidy(given: str | Source, columns: Columns) -> tuple[Specimen, ...]:
    """Read a tidy breaks file for one analysis, row by row.

    Rows that have none of several `by` (a baseline) are left out, which the notes say; rows that `where` leaves out are
    not read further.

    Parameters
    ----------
    given : the file's text, or its lines (`open_table`); columns parted by commas, semicolons or tabs, with a header.

    Raises
    ------
    DataError : names row and column and what was expected there.
    """
    source, factors = _as_source(given), columns.by
    named = (columns.block, columns.wood, columns.each)
    table = _Table(source, ("specimen", columns.response, *factors, *(one for one in named if one)))
    if columns.wood is None and SPECIES in table.header and SPECIES not in factors:
        columns = replace(columns, wood=SPECIES)
    same: dict[object, Any] = {}
    found, bare = [], 0
    for row in _keep(table, columns.where):
        if len(factors) > 1 and not any(row.cells[name] for name in factors):
            bare += 1
        else:
            found.append(_read_row(table, row, columns, same))
    if bare:
        rows = "row" if bare == 1 else "rows"
        source.notes.append(f"{bare} {rows} without any {' or '.join(factors)} left out.")
    return tuple(found)


def _keep(table: _Table, where: Sequence[tuple[str, str]]) -> Iterator[_Row]:
    """Return the rows that have the wanted values."""
    for column, _ in where:
        if column not in table.header:
            raise DataError(
                f"There is no column “{column}”.", f"The columns are: {', '.join(table.header)}.", field="where"
            )
    seen: dict[str, dict[str, None]] = {column: {} for column, _ in where}
    wanted: dict[str, set[str]] = {}
    for column, value in where:
        wanted.setdefault(column, set()).add(value)
    kept = 0
    for row in table:
        for column in seen:
            if len(seen[column]) < _MOST_VALUES_SAID:
                seen[column][row.cells[column]] = None
        if all(row.cells[column] in values for column, values in wanted.items()):
            kept += 1
            yield row
    if where and not kept:
        said = "; ".join(f"{column} has {', '.join(values) or 'nothing'}" for column, values in seen.items())
        asked = " and ".join(f"{column}={value}" for column, value in where)
        raise DataError(f"No row has {asked}.", f"{said}.", field="where")


def _read_row(table: _Table, row: _Row, columns: Columns, same: dict[object, Any]) -> Specimen:
    cells, factors, block = row.cells, columns.by, columns.block
    for name in factors:
        if not cells[name]:
            raise row.wrong(name, "a value of what is varied")
    if columns.each and not cells[columns.each]:
        raise row.wrong(columns.each, "the slice that it belongs to")
    value = table.number(row, columns.response)
    excluded, outcome, held = _read_outcome(table, row, columns.response, value)
    values = tuple(cells[name] for name in factors)
    around = tuple((name.replace("_", " "), cells[name]) for name in CIRCUMSTANCES if cells.get(name))

    return Specimen(
        label=cells["specimen"],
        level=_share(same, values, SEVERAL.join(values)),
        value=value,
        outcome=outcome,
        held_value=held,
        block=_share(same, cells[block], cells[block]) if block and cells[block] else None,
        wood_failure_pct=table.number(row, "wood_failure_pct", "a percentage from 0 to 100", 0, 100),
        excluded=excluded,
        circumstances=_share(same, around, dict(around)),
        factors=_share(same, ("factors", values), dict(zip(factors, values, strict=True))),
        wood=cells[columns.wood] or None if columns.wood else None,
        slice=cells[columns.each] if columns.each else None,
    )


def _share(same: dict[object, Any], key: object, made: T) -> T:
    """Return one object for all rows that say the same: a file may have a million."""
    shared: T = same.setdefault(key, made)
    return shared


def _read_outcome(
    table: _Table, row: _Row, response: str, value: float | None
) -> tuple[str | None, Outcome, float | None]:
    """Return why a row does not count, its outcome and the last value that held, checked against each other."""
    text = row.cells.get("outcome") or Outcome.BROKE
    if text not in list(Outcome):
        raise row.wrong("outcome", "broke, held, step, fell_apart or nothing")
    outcome, excluded = Outcome(text), row.cells.get("excluded") or None
    held_column = f"held_{response}"
    held = table.number(row, held_column)
    if excluded is None and outcome is not Outcome.FELL_APART and value is None:
        raise row.wrong(response, "a number (only a piece that fell apart can do without)")
    if outcome is Outcome.STEP and excluded is None and (held is None or value is None or held >= value):
        raise DataError(
            f"Row {row.number}, column {held_column}: found {row.cells.get(held_column) or 'nothing'}.",
            f"A step needs the last value that held, below {response}.",
            field=held_column,
        )
    return excluded, outcome, held


def read_points(
    given: str | Source, x: str, y: str, by: str | None = None, where: Sequence[tuple[str, str]] = ()
) -> tuple[Point, ...]:
    """Read a tidy breaks file for a curve: `x` is a column of numbers, `y` the response, `by` names a curve each.

    Raises
    ------
    DataError : names row and column and what was expected there.
    """
    table = _Table(_as_source(given), ("specimen", x, y, *([by] if by else [])))
    found = []
    for row in _keep(table, where):
        at = table.number(row, x, "a number", -math.inf)
        if at is None:
            raise row.wrong(x, "a number")
        value = table.number(row, y)
        excluded, outcome, held = _read_outcome(table, row, y, value)
        if by and not row.cells[by]:
            raise row.wrong(by, "a value of what is varied")
        torn = table.number(row, "wood_failure_pct", "a percentage from 0 to 100", 0, 100)
        level = row.cells[by] if by else ""
        found.append(Point(row.cells["specimen"], at, value, outcome, held, excluded, level, torn))
    return tuple(found)


@dataclass(frozen=True)
class Passed:
    """One pried piece: its set, the value it is counted by under it, whether it passed (None: not judged)."""

    label: str
    level: str
    over: str | None
    passed: bool | None
    excluded: str | None


_YES_NO = {"yes": True, "1": True, "true": True, "no": False, "0": False, "false": False}


def read_passes(given: str | Source, by: str, over: str | None = None) -> tuple[Passed, ...]:
    """Read a file of pieces that passed or failed: the column `passed`, yes or no, 1 or 0, true or false.

    Raises
    ------
    DataError : names row and column and what was expected there.
    """
    table = _Table(_as_source(given), ("specimen", by, "passed", *([over] if over else [])))
    found = []
    for row in table:
        for name in (by, over):
            if name and not row.cells[name]:
                raise row.wrong(name, "a value of what is varied")
        text = row.cells["passed"].lower()
        if text and text not in _YES_NO:
            raise row.wrong("passed", "yes or no, 1 or 0, true or false, or nothing")
        found.append(
            Passed(
                row.cells["specimen"],
                row.cells[by],
                row.cells[over] if over else None,
                _YES_NO.get(text),
                row.cells.get("excluded") or None,
            )
        )
    return tuple(found)
