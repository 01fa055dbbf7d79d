"""What calamine does not tell of an .ods: formulas, fills, percents, merged and hidden cells, and how large it is."""

import io
import re
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any, Final
from xml.etree.ElementTree import Element, XMLPullParser

from adhaero.core.errors import DataError
from adhaero.core.tables.grid import Place, Span
from adhaero.files.sheets.limits import MOST_CELLS, check_size

_TABLE: Final = "{urn:oasis:names:tc:opendocument:xmlns:table:1.0}"
_OFFICE: Final = "{urn:oasis:names:tc:opendocument:xmlns:office:1.0}"
_STYLE: Final = "{urn:oasis:names:tc:opendocument:xmlns:style:1.0}"
_FO: Final = "{urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0}"
_REFERENCE: Final = re.compile(
    r"\[(?:\$?'?([^\].']*)'?)?\.(\$?[A-Z]+\$?\d+)(?::(?:\$?'?[^\].']*'?)?\.(\$?[A-Z]+\$?\d+))?\]"
)
_MOST_XML: Final = 200_000_000
_MOST_FILLED: Final = 64


@dataclass
class OdsLook:
    """How the cells of one sheet look, by their place."""

    formulas: dict[Place, str] = field(default_factory=dict)
    fills: dict[Place, str] = field(default_factory=dict)
    percents: set[Place] = field(default_factory=set)
    merged: list[Span] = field(default_factory=list)
    hidden_rows: set[int] = field(default_factory=set)
    hidden_columns: set[int] = field(default_factory=set)


def look_at_ods(content: bytes) -> dict[str, OdsLook]:
    """Return how the sheets of an .ods look, by name.

    Raises
    ------
    DataError : a sheet is too large, or the file declares entities of its own.
    """
    fills: dict[str, str] = {}
    found: dict[str, OdsLook] = {}
    walker = _Walker()
    for event, element in _stream(content):
        if event == "start":
            if element.tag == f"{_TABLE}table":
                name = element.get(f"{_TABLE}name", "")
                found[name] = OdsLook()
                walker = _Walker(name, found[name], fills)
            continue
        if element.tag == f"{_STYLE}style":
            for part in element.iter(f"{_STYLE}table-cell-properties"):
                color = part.get(f"{_FO}background-color", "")
                if re.fullmatch(r"#[0-9a-fA-F]{6}", color):
                    fills[element.get(f"{_STYLE}name", "")] = color[1:].upper()
        elif element.tag == f"{_TABLE}table-column":
            walker.take_column(element)
        elif element.tag == f"{_TABLE}table-row":
            walker.take_row(element)
            element.clear()
    return found


def _stream(content: bytes) -> Iterator[tuple[str, Element]]:
    parser: Any = XMLPullParser(["start", "end"])
    read = 0
    with zipfile.ZipFile(io.BytesIO(content)) as packed, packed.open("content.xml") as stream:
        while window := stream.read(1 << 20):
            read += len(window)
            if read > _MOST_XML:
                raise DataError("The workbook unpacks to far more than a table needs.", "It was not opened.")
            if b"<!ENTITY" in window or b"<!DOCTYPE" in window:
                raise DataError("The workbook declares entities of its own.", "A spreadsheet has none.")
            parser.feed(window)
            yield from parser.read_events()
    parser.close()
    yield from parser.read_events()


class _Walker:
    """Walks the rows of one sheet, repeated ones at once."""

    def __init__(self, name: str = "", look: OdsLook | None = None, fills: dict[str, str] | None = None) -> None:
        self._name, self._look, self._fills = name, look or OdsLook(), fills or {}
        self._row = self._column = self._cells = 0

    def take_column(self, element: Element) -> None:
        repeated = int(element.get(f"{_TABLE}number-columns-repeated", "1"))
        if element.get(f"{_TABLE}visibility") in ("collapse", "filter"):
            self._look.hidden_columns |= set(range(self._column, self._column + min(repeated, 1000)))
        self._column += repeated

    def take_row(self, element: Element) -> None:
        repeated = int(element.get(f"{_TABLE}number-rows-repeated", "1"))
        holds = self._take_cells(element, repeated)
        if element.get(f"{_TABLE}visibility") in ("collapse", "filter"):
            self._look.hidden_rows |= set(range(self._row, self._row + min(repeated, 1000)))
        self._row += repeated
        if holds:
            check_size(self._name, self._cells, self._row, 1)

    def _take_cells(self, row: Element, repeated: int) -> bool:
        at, holds = 0, False
        for cell in row:
            times = int(cell.get(f"{_TABLE}number-columns-repeated", "1"))
            if cell.get(f"{_OFFICE}value-type") is not None:
                holds = True
                self._cells += times * repeated
                if self._cells > MOST_CELLS:
                    check_size(self._name, self._cells, 1, 1)
                check_size(self._name, 0, 1, at + times)
                for place in ((self._row + down, at + right) for down in range(repeated) for right in range(times)):
                    self._note(cell, place)
            elif times * repeated <= _MOST_FILLED and cell.get(f"{_TABLE}style-name") in self._fills:
                for place in ((self._row + down, at + right) for down in range(repeated) for right in range(times)):
                    self._note(cell, place)
            at += times
        return holds

    def _note(self, cell: Element, place: Place) -> None:
        look = self._look
        if formula := cell.get(f"{_TABLE}formula"):
            look.formulas[place] = _plain_formula(formula)
        if cell.get(f"{_OFFICE}value-type") == "percentage":
            look.percents.add(place)
        if fill := self._fills.get(cell.get(f"{_TABLE}style-name", "")):
            look.fills[place] = fill
        down = int(cell.get(f"{_TABLE}number-rows-spanned", "1"))
        right = int(cell.get(f"{_TABLE}number-columns-spanned", "1"))
        if down > 1 or right > 1:
            look.merged.append(Span(place[0], place[1], place[0] + down - 1, place[1] + right - 1))


def _plain_formula(formula: str) -> str:
    """Return a formula in A1 notation: `of:=AVERAGE([.B4:.F4])` is `AVERAGE(B4:F4)`."""
    body = formula.partition("=")[2] if ":=" in formula[:6] else formula.lstrip("=")

    def put(found: re.Match[str]) -> str:
        sheet = f"'{found[1]}'!" if found[1] else ""
        return sheet + found[2] + (f":{found[3]}" if found[3] else "")

    return _REFERENCE.sub(put, body).replace(";", ",")
