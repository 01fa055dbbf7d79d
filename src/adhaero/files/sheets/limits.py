"""How large a table may be."""

from typing import Final

from adhaero.core.errors import DataError

MOST_BYTES: Final = 60_000_000
MOST_CELLS: Final = 300_000
MOST_ROWS: Final = 100_000
MOST_COLUMNS: Final = 1_000


def check_size(name: str, cells: int, rows: int, columns: int) -> None:
    """Raise `DataError` for a sheet that is too large to be looked at.

    Parameters
    ----------
    name : of the sheet; cells : that hold something; rows, columns : up to the last of them.
    """
    sheet = f"The sheet “{name}”" if name else "The file"
    if cells > MOST_CELLS:
        raise DataError(
            f"{sheet} holds more than {MOST_CELLS:,} cells.",
            f"Up to {MOST_CELLS:,} are read: 50,000 pieces with six columns.",
            "Leave out columns that are not needed, or cut it into several files.",
        )
    if rows > MOST_ROWS or columns > MOST_COLUMNS:
        raise DataError(
            f"{sheet} goes to row {rows:,} and column {columns:,}.",
            f"Up to {MOST_ROWS:,} rows and {MOST_COLUMNS:,} columns are read.",
            "Delete what stands far out, or copy the table into a file of its own.",
        )
