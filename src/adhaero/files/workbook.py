"""A workbook of plain tables: units in the headings, frozen headings, numbers as numbers, texts never formulas."""

import io
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, Final

from openpyxl import Workbook
from openpyxl.styles import Alignment, Font
from openpyxl.utils import get_column_letter

Value = str | float | int | datetime | None
_WIDEST: Final = 60
_LONGEST: Final = 32_000


@dataclass(frozen=True)
class WorkbookTable:
    """One sheet: its name, its headings and its rows; `wraps` where texts are long."""

    name: str
    columns: Sequence[str]
    rows: Sequence[Sequence[Value]]
    wraps: bool = False
    widths: Sequence[int] = field(default_factory=tuple)


def write_workbook(tables: Sequence[WorkbookTable]) -> bytes:
    """Return an `.xlsx` of plain tables. What a person typed stays a text, whatever it begins with."""
    book = Workbook()
    book.remove(book.active)
    for table in tables:
        sheet = book.create_sheet(table.name[:31])
        _put_row(sheet, 1, table.columns)
        for cell in sheet[1]:
            cell.font = Font(bold=True)
            cell.alignment = Alignment(wrap_text=True, vertical="top")
        for number, row in enumerate(table.rows, 2):
            _put_row(sheet, number, row)
        sheet.freeze_panes = "B2" if len(table.columns) > 2 else "A2"
        if table.rows:
            sheet.auto_filter.ref = f"A1:{get_column_letter(len(table.columns))}{len(table.rows) + 1}"
        for at, heading in enumerate(table.columns):
            longest = max((len(str(row[at])) for row in table.rows if at < len(row) and row[at] is not None), default=0)
            width = (
                table.widths[at] if at < len(table.widths) else min(_WIDEST, max(9, len(heading) * 0.7, longest + 1))
            )
            sheet.column_dimensions[get_column_letter(at + 1)].width = width
        if table.wraps:
            for row in sheet.iter_rows(min_row=2):
                for cell in row:
                    cell.alignment = Alignment(wrap_text=True, vertical="top")
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _put_row(sheet: Any, number: int, values: Sequence[Value]) -> None:  # noqa: ANN401 (openpyxl is untyped)
    for at, value in enumerate(values, 1):
        if value is None or value == "":
            continue
        cell = sheet.cell(number, at)
        if isinstance(value, str):
            cell.value = _clean(value)
            cell.data_type = "s"  # whatever it begins with; quoted, it stays a text when the cell is edited
            cell.quotePrefix = value[0] in "=+-@"
        else:
            cell.value = value


def _clean(text: str) -> str:
    """Return a text without characters that a workbook cannot hold, and no longer than a cell."""
    return "".join(one if one >= " " or one in "\n\t" else "\ufffd" for one in text)[:_LONGEST]
