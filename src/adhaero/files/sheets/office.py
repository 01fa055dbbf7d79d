"""Workbooks as grids: values by calamine, formulas, fills, merged and hidden cells from the file itself."""

import io
import re
import zipfile
from collections.abc import Callable, Iterator, Mapping
from datetime import date, datetime, time, timedelta
from typing import Any, Final

import python_calamine
from openpyxl import load_workbook
from openpyxl.cell import Cell as XlsxCell
from openpyxl.styles.colors import COLOR_INDEX

from adhaero.core.errors import DataError
from adhaero.core.tables.grid import Book, Cell, Place, Sheet, Span, read_place
from adhaero.files.sheets.limits import check_size
from adhaero.files.sheets.ods import OdsLook, look_at_ods

_CELL: Final = re.compile(rb'<c[^>]*?\sr="([A-Z]{1,3}\d{1,7})"')
_WINDOW: Final = 1 << 20


def read_xlsx(content: bytes) -> Book:
    """Return a workbook of .xlsx or .xlsm; macros are never run, links never followed. Raises `DataError`."""
    _survey(content)
    values = _read_values(content)
    if not _has_more_than_values(content):
        return Book(tuple(Sheet(name, _make_cells(shown)) for name, shown in values.items()))
    try:
        # external links are neither kept nor followed
        book = load_workbook(io.BytesIO(content), keep_links=False)
    except Exception as error:
        raise _broken(error) from error
    sheets = []
    for sheet in book.worksheets:
        cells: dict[Place, Cell] = {}
        shown = values.get(sheet.title, {})
        for row in sheet.iter_rows():
            for one in row:
                if one.value is None and not one.has_style:
                    continue
                place = (one.row - 1, one.column - 1)
                cell = _make_cell(shown.get(place), one)
                if not cell.is_blank or cell.fill:
                    cells[place] = cell
        merged = tuple(
            Span(one.min_row - 1, one.min_col - 1, one.max_row - 1, one.max_col - 1)
            for one in sheet.merged_cells.ranges
        )
        rows = frozenset(row - 1 for row, look in sheet.row_dimensions.items() if look.hidden)
        columns = frozenset(
            column - 1
            for look in sheet.column_dimensions.values()
            if look.hidden
            for column in range(look.min or 0, (look.max or -1) + 1)
        )
        sheets.append(Sheet(sheet.title, cells, merged, rows, columns))
    return Book(tuple(sheets))


_MORE: Final = re.compile(rb'<f[ >]|<mergeCell |hidden="1"|t="e"')
_LOOKS: Final = re.compile(rb'patternType="solid"|formatCode="[^"]*%|numFmtId="(?:9|10)"')


def _has_more_than_values(content: bytes) -> bool:
    """Return whether a workbook has formulas, merged or hidden cells, errors, fills or percents: else its values do."""
    with zipfile.ZipFile(io.BytesIO(content)) as packed:
        for name in packed.namelist():
            sign = (
                _MORE
                if re.fullmatch(r"xl/worksheets/[^/]+\.xml", name)
                else _LOOKS
                if name == "xl/styles.xml"
                else None
            )
            if sign is not None:
                with packed.open(name) as stream:
                    rest = b""
                    while window := stream.read(_WINDOW):
                        if sign.search(rest + window):
                            return True
                        rest = window[-40:]
    return False


def _make_cells(values: Mapping[Place, Any]) -> dict[Place, Cell]:
    return {place: cell for place, shown in values.items() if not (cell := Cell(_plain(shown))).is_blank}


def _survey(content: bytes) -> None:
    """Raise `DataError` for a sheet that is too large, before anything builds it."""
    with zipfile.ZipFile(io.BytesIO(content)) as packed:
        names = [name for name in packed.namelist() if re.fullmatch(r"xl/worksheets/[^/]+\.xml", name)]
        for name in names:
            count, last = 0, (0, 0)
            try:
                for found in _scan(packed, name):
                    place = read_place(found.decode())
                    count += 1
                    if place is not None:
                        last = max(last[0], place[0]), max(last[1], place[1])
            except (zipfile.BadZipFile, OSError, EOFError, ValueError) as error:
                raise _broken(error) from error
            # a cell that is only filled is no content: what stands is counted again when it is read
            check_size(name.rpartition("/")[2], count // 4, last[0] + 1, last[1] + 1)


def _scan(packed: zipfile.ZipFile, name: str) -> Iterator[bytes]:
    with packed.open(name) as stream:
        rest = b""
        while window := stream.read(_WINDOW):
            window = rest + window
            cut = window.rfind(b"<c")
            cut = cut if cut > 0 else len(window)
            yield from _CELL.findall(window[:cut])
            rest = window[cut:]
        yield from _CELL.findall(rest)


def _read_values(content: bytes) -> dict[str, dict[Place, Any]]:
    """Return what the cells of each sheet show, by calamine."""
    try:
        book = python_calamine.CalamineWorkbook.from_filelike(io.BytesIO(content))
        found: dict[str, dict[Place, Any]] = {}
        for name in book.sheet_names:
            rows = book.get_sheet_by_name(name).to_python(skip_empty_area=False)
            found[name] = {
                (row, column): value
                for row, values in enumerate(rows)
                for column, value in enumerate(values)
                if value != ""
            }
            check_size(name, len(found[name]), len(rows), max(map(len, rows), default=0))
    except python_calamine.PasswordError:
        raise DataError(
            "The workbook is locked with a password.", do="Save a copy without the password, and bring that in."
        ) from None
    except DataError:
        raise
    except Exception as error:
        raise _broken(error) from error
    return found


def _broken(error: Exception) -> DataError:
    return DataError(
        f"The workbook is broken ({str(error)[:120] or type(error).__name__}).",
        "Expected a workbook that a spreadsheet opens.",
        "Open it in your spreadsheet, save it anew, and bring that in.",
    )


def _make_cell(shown: object, one: XlsxCell) -> Cell:
    typed = one.value
    formula = typed[1:] if isinstance(typed, str) and typed.startswith("=") and one.data_type == "f" else ""
    if not isinstance(typed, str | int | float | bool | datetime | date | time | timedelta | None):
        # an array formula: what it shows stands, what it computes is its text
        formula = str(getattr(typed, "text", "") or "").lstrip("=")
    is_error = (isinstance(shown, str) and shown.startswith("#")) or (one.data_type == "e")
    value = _plain(shown)
    if not one.has_style:
        return Cell(value, formula, is_error=is_error)
    return Cell(value, formula, "%" in (one.number_format or ""), _find_fill(one), is_error)


def _plain(shown: object) -> float | str | date | None:
    """Return a value of a spreadsheet as a number, a text or a date."""
    if shown is None or shown == "":
        return None
    if isinstance(shown, bool):
        return "TRUE" if shown else "FALSE"
    if isinstance(shown, int | float):
        return float(shown)
    if isinstance(shown, datetime):
        return shown.date()
    if isinstance(shown, date | str):
        return shown
    return str(shown)


def _find_fill(one: XlsxCell) -> str:
    if not one.has_style or one.fill is None or one.fill.fill_type != "solid":
        return ""
    color = one.fill.fgColor
    if color.type == "rgb" and isinstance(color.rgb, str):
        return color.rgb[-6:].upper()
    if color.type == "indexed" and isinstance(color.indexed, int) and color.indexed < len(COLOR_INDEX):
        return str(COLOR_INDEX[color.indexed])[-6:].upper()
    if color.type == "theme":
        # a theme's colour has no number of its own here: the same theme and tint are the same colour
        return f"T{color.theme:X}{round(100 * (color.tint or 0)) & 0xFFF:03X}".ljust(6, "0")
    return ""


def read_ods(content: bytes) -> Book:
    """Return a workbook of .ods. Raises `DataError`."""
    try:
        looks = look_at_ods(content)
    except DataError:
        raise
    except Exception as error:
        raise _broken(error) from error
    return _join(content, lambda name: looks.get(name, OdsLook()))


def read_xls(content: bytes) -> Book:
    """Return an old workbook, .xls: its values; what its formulas are is not read. Raises `DataError`."""
    return _join(content, lambda _: OdsLook())


def _join(content: bytes, look_of: Callable[[str], OdsLook]) -> Book:
    sheets = []
    for name, values in _read_values(content).items():
        look = look_of(name)
        cells: dict[Place, Cell] = {}
        for place in {*values, *look.fills}:
            shown = values.get(place)
            is_error = isinstance(shown, str) and shown.startswith("#")
            cell = Cell(
                _plain(shown), look.formulas.get(place, ""), place in look.percents, look.fills.get(place, ""), is_error
            )
            if not cell.is_blank or cell.fill:
                cells[place] = cell
        sheets.append(
            Sheet(name, cells, tuple(look.merged), frozenset(look.hidden_rows), frozenset(look.hidden_columns))
        )
    return Book(tuple(sheets))
