"""A text table as a grid: its encoding and what parts its columns recognised; every cell stays the text it is."""

import csv
import io
import re
from collections import Counter
from typing import Final

from adhaero.core.errors import DataError
from adhaero.core.tables.grid import Book, Cell, Place, Sheet
from adhaero.files.sheets.limits import MOST_CELLS, check_size
from adhaero.files.text_table import recognise

_LONGEST_LINE: Final = 100_000
_LOOKED_AT: Final = 200
_BLANKS: Final = re.compile(r" {2,}|\t")


def read_text(content: bytes, encoding: str = "") -> Book:
    """Return a text table: UTF-8, or UTF-16 by its mark, otherwise Windows-1252 until another is said.

    Raises
    ------
    DataError : it is no text, or too large; with the line.
    """
    text = _decode(content, encoding)
    lines = text.splitlines()
    for number, line in enumerate(lines, 1):
        if len(line) > _LONGEST_LINE:
            raise DataError(
                f"Line {number} has {len(line):,} characters.",
                f"A row of a table has {_LONGEST_LINE:,} at most.",
                "The file may be no table, or its line ends are missing.",
            )
    cells: dict[Place, Cell] = {}
    last = (0, 0)
    for row, values in enumerate(_part(text, lines)):
        for column, value in enumerate(values):
            if value.strip():
                cells[row, column] = Cell(value.strip("\ufeff"))
                last = max(last[0], row), max(last[1], column)
        if len(cells) > MOST_CELLS:
            break
    check_size("", len(cells), last[0] + 1, last[1] + 1)
    return Book((Sheet("", cells),), is_text=True)


def _decode(content: bytes, encoding: str) -> str:
    if encoding:
        try:
            return content.decode(encoding)
        except (LookupError, ValueError):
            raise DataError(f"The file is not {encoding}.", "Another encoding fits it.", "Choose another.") from None
    if content[:2] not in (b"\xff\xfe", b"\xfe\xff") and b"\0" in content:
        line = content[: content.index(b"\0")].count(b"\n") + 1
        raise DataError(
            f"The file is no text: line {line} holds characters that no text has (NUL).",
            "Expected a workbook or a text table.",
            "Save it as CSV or as a workbook.",
        )
    found, _ = recognise(io.BytesIO(content))
    return content.decode(found, errors="replace")


def _part(text: str, lines: list[str]) -> list[list[str]]:
    """Return the cells of each row, as many a row as it has."""
    looked_at = [line for line in lines if line.strip()][:_LOOKED_AT]
    mark = _find_mark(looked_at)
    if mark is None:
        return [_BLANKS.split(line.strip()) if line.strip() else [] for line in lines]
    try:
        return list(csv.reader(io.StringIO(text, newline=""), delimiter=mark))
    except csv.Error as error:
        raise DataError(f"The file cannot be parted into columns: {error}.", do="Save it as CSV again.") from None


def _find_mark(lines: list[str]) -> str | None:
    """Return what parts the columns: what stands equally often in most lines; None for blanks in a row."""
    best, most = None, 0.0
    for mark in ("\t", ";", "|", ","):
        counts = [len(next(csv.reader([line], delimiter=mark), [])) - 1 for line in lines]
        usual, times = Counter(one for one in counts if one).most_common(1)[0] if any(counts) else (0, 0)
        # a mark that parts most lines alike; a comma may also be a decimal mark, and comes last
        score = times * (1 + min(usual, 9) / 100)
        if score > most * (1.5 if mark == "," and best is not None else 1.0):
            best, most = mark, score
    if best is None or most < 0.4 * len(lines):
        return None if any(_BLANKS.search(line.strip()) for line in lines) else best or ","
    return best
