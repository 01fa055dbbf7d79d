"""A table as it stands in a file: sheets of cells, with what each holds and how it looks."""

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from datetime import date
from functools import cached_property

Place = tuple[int, int]
"""Row and column, both from 0."""


@dataclass(frozen=True, slots=True)
class Cell:
    """One cell that is not empty.

    Attributes
    ----------
    value : a number, a text or a date; None for a cell that is only filled.
    formula : without its equals sign, in A1 notation; empty where the value was typed.
    percent : whether a number is shown as percent. fill : colour as RRGGBB, empty without one.
    is_error : it shows an error of the spreadsheet (#DIV/0!). text : with single blanks; empty for anything else.
    """

    value: float | str | date | None
    formula: str = ""
    percent: bool = False
    fill: str = ""
    is_error: bool = False
    text: str = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        written = self.value if isinstance(self.value, str) else ""
        squeezed = " ".join(written.split())
        # the text itself where it is the same: a second copy of each would cost as much as the sheet
        object.__setattr__(self, "text", written if squeezed == written else squeezed)

    @property
    def number(self) -> float | None:
        """Return the number of a number cell."""
        return self.value if isinstance(self.value, float) else None

    @property
    def is_blank(self) -> bool:
        """Return whether nothing is written in it."""
        return self.value is None or (not self.text and isinstance(self.value, str))


@dataclass(frozen=True)
class Span:
    """A rectangle of cells: first and last row and column."""

    top: int
    left: int
    bottom: int
    right: int


@dataclass(frozen=True)
class Sheet:
    """One sheet; a text file is one sheet without a name."""

    name: str
    cells: Mapping[Place, Cell]
    merged: tuple[Span, ...] = ()
    hidden_rows: frozenset[int] = field(default_factory=frozenset)
    hidden_columns: frozenset[int] = field(default_factory=frozenset)

    @cached_property
    def rows(self) -> Mapping[int, list[int]]:
        """Return the columns that hold something, row by row, both in order."""
        found: dict[int, list[int]] = {}
        for row, column in sorted(place for place, cell in self.cells.items() if not cell.is_blank):
            found.setdefault(row, []).append(column)
        return found

    def cell(self, place: Place) -> Cell | None:
        """Return a cell that holds something; None for an empty one."""
        found = self.cells.get(place)
        return None if found is None or found.is_blank else found

    def text(self, place: Place) -> str:
        """Return the text of a cell; empty for one without."""
        found = self.cells.get(place)
        return found.text if found is not None else ""

    def name_of(self, place: Place) -> str:
        """Return how a cell is called: `Dock!C5`, in a text file `C5`."""
        return f"{self.name}!{name_place(place)}" if self.name else name_place(place)

    def name_range(self, first: Place, last: Place) -> str:
        """Return how a range is called: `Dock!C5:H9`."""
        return self.name_of(first) if first == last else f"{self.name_of(first)}:{name_place(last)}"

    def list_texts(self) -> Iterator[tuple[Place, str]]:
        """Return every text of the sheet with its place."""
        for place, cell in self.cells.items():
            if cell.text:
                yield place, cell.text


@dataclass(frozen=True)
class Book:
    """A file that was read: its sheets in order, and whether it is text."""

    sheets: tuple[Sheet, ...]
    is_text: bool = False


def name_column(column: int) -> str:
    """Return the letters of a column.

    Examples
    --------
    >>> name_column(0), name_column(27)
    ('A', 'AB')
    """
    letters = ""
    column += 1
    while column:
        column, rest = divmod(column - 1, 26)
        letters = chr(65 + rest) + letters
    return letters


def name_place(place: Place) -> str:
    """Return how a cell is called within its sheet."""
    return f"{name_column(place[1])}{place[0] + 1}"


_PLACE = re.compile(r"\$?([A-Z]{1,3})\$?(\d{1,7})")


def read_place(text: str) -> Place | None:
    """Return the row and column of `C14`; None for anything else.

    Examples
    --------
    >>> read_place("AB3")
    (2, 27)
    """
    found = _PLACE.fullmatch(text.strip().upper())
    if found is None:
        return None
    column = 0
    for letter in found[1]:
        column = 26 * column + ord(letter) - 64
    return int(found[2]) - 1, column - 1
