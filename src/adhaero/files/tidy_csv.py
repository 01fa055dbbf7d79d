"""The tidy breaks file: one row a specimen, with a header (docs/data-format.md)."""

import csv
import io
import math
from collections.abc import Iterable, Mapping, Sequence

from adhaero.core.errors import DataError
from adhaero.core.stats.breaks import Outcome, Specimen

CIRCUMSTANCES = ("rig", "calibration", "fixture")


def write_tidy(columns: Sequence[str], rows: Iterable[Mapping[str, object]]) -> str:
    """Return a tidy breaks file; None becomes a blank, numbers keep all their digits."""
    out = io.StringIO()
    writer = csv.DictWriter(out, fieldnames=list(columns), lineterminator="\n")
    writer.writeheader()
    for row in rows:
        writer.writerow({name: "" if row.get(name) is None else row[name] for name in columns})
    return out.getvalue()


def read_tidy(text: str, response: str, by: str, block: str | None = None) -> tuple[Specimen, ...]:
    """Read a tidy breaks file for one analysis.

    Parameters
    ----------
    text : the file's content, UTF-8, comma, header row.
    response, by, block : names of the columns.

    Raises
    ------
    DataError : names row and column and what was expected there.
    """
    reader = csv.DictReader(io.StringIO(text.removeprefix("\ufeff")))
    header = reader.fieldnames or []
    for name in ("specimen", response, by, *([block] if block else [])):
        if name not in header:
            raise DataError(
                f"There is no column “{name}”.", f"The columns are: {', '.join(header) or 'none'}.", field=name
            )
    if len(set(header)) < len(header):
        twice = next(name for name in header if header.count(name) > 1)
        raise DataError(f"The column “{twice}” stands twice.", "Each column has its own name.", field=twice)
    specimens = []
    seen: dict[str, int] = {}
    for number, row in enumerate(reader, start=2):
        if None in row or any(value is None for value in row.values()):
            raise DataError(f"Row {number} has another number of columns than the header.", f"Expected {len(header)}.")
        cells = {name: value.strip() for name, value in row.items()}
        specimen = _read_row(cells, number, response, by, block)
        if specimen.label in seen:
            raise DataError(
                f"Row {number}, column specimen: {specimen.label} stands in row {seen[specimen.label]} already.",
                "Each label stands once.",
                field="specimen",
            )
        seen[specimen.label] = number
        specimens.append(specimen)
    if not specimens:
        raise DataError("The file has no rows below its header.", "Expected one row a specimen.")
    return tuple(specimens)


def _read_row(cells: Mapping[str, str], number: int, response: str, by: str, block: str | None) -> Specimen:
    def wrong(column: str, expected: str) -> DataError:
        found = f"“{cells[column]}”" if cells[column] else "nothing"
        return DataError(f"Row {number}, column {column}: found {found}.", f"Expected {expected}.", field=column)

    def read_number(column: str, lowest: float, highest: float, expected: str) -> float | None:
        if not cells.get(column):
            return None
        try:
            value = float(cells[column])
        except ValueError:
            raise wrong(column, expected) from None
        if not (math.isfinite(value) and lowest <= value <= highest):
            raise wrong(column, expected)
        return value

    if not cells["specimen"]:
        raise wrong("specimen", "a label")
    if not cells[by]:
        raise wrong(by, "a value of what is varied")
    outcome_text = cells.get("outcome") or Outcome.BROKE
    if outcome_text not in list(Outcome):
        raise wrong("outcome", "broke, held, step, fell_apart or nothing")
    outcome = Outcome(outcome_text)
    value = read_number(response, 0, math.inf, "a number, zero or more")
    held_column = f"held_{response}"
    held = read_number(held_column, 0, math.inf, "a number, zero or more")
    excluded = cells.get("excluded") or None
    if excluded is None and outcome is not Outcome.FELL_APART and not value:
        raise wrong(response, "a number above 0 (only a piece that fell apart can do without)")
    if outcome is Outcome.STEP and excluded is None and (held is None or value is None or held >= value):
        raise DataError(
            f"Row {number}, column {held_column}: found {cells.get(held_column) or 'nothing'}.",
            f"A step needs the last value that held, below {response}.",
            field=held_column,
        )
    return Specimen(
        label=cells["specimen"],
        level=cells[by],
        value=value,
        outcome=outcome,
        held_value=held,
        block=cells[block] or None if block else None,
        wood_failure_pct=read_number("wood_failure_pct", 0, 100, "a percentage from 0 to 100"),
        excluded=excluded,
        circumstances={name: cells[name] for name in CIRCUMSTANCES if cells.get(name)},
    )
