"""The pieces of a table: one for each number or known word in a cell of loads, with what goes with it."""

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Final

from adhaero.core.tables.corrections import NONE, Corrections
from adhaero.core.tables.dates import DayOrder, find_date
from adhaero.core.tables.entries import Entry, read_entry
from adhaero.core.tables.grid import Cell, Place, Sheet
from adhaero.core.tables.headings import Role
from adhaero.core.tables.layout import Column, Layout, Table, find_unit_in, says_means
from adhaero.core.tables.numerals import Mark, read_fraction, read_number
from adhaero.core.tables.units import UNITS, Measure, Unit, find_unit, name_unit


@dataclass(frozen=True)
class Piece:
    """A piece as it stands in a table.

    Attributes
    ----------
    table : of the tables of the file, from 0. sheet, place : of its cell. entry : what stands there.
    quantity, unit : load or stress, and in which unit; None where nothing names it.
    factors : by name. sizes_mm : None for one that is not known. fill : of its cell, empty without one.
    twins : cells that say the same in another unit, or as a stress, with their unit.
    """

    table: int
    sheet: Sheet
    place: Place
    entry: Entry
    quantity: str
    unit: Unit | None
    set_name: str
    label: str
    factors: Mapping[str, str]
    board: str = ""
    torn_pct: float | None = None
    sizes_mm: Mapping[str, float | None] = field(default_factory=dict)
    broken_on: date | None = None
    glued_on: date | None = None
    note: str = ""
    fill: str = ""
    is_hidden: bool = False
    outcome_word: str = ""
    twins: tuple[tuple[Place, str, Unit | None], ...] = ()

    @property
    def cell(self) -> str:
        """Return how its cell is called."""
        return self.sheet.name_of(self.place)


@dataclass(frozen=True)
class Writing:
    """How the texts of a file are written: its decimal mark, and the order of its dates."""

    mark: Mark
    order: DayOrder


@dataclass(frozen=True)
class PieceColumn:
    """A column of pieces: the load, its twins, and what is said of them by headings."""

    at: int
    quantity: str
    label: str
    over: str
    column: Column
    twins: tuple[tuple[Column, str], ...] = ()
    torn: Column | None = None


def read_pieces(
    table: Table, number: int, writing: Writing, *, sheet_factor: bool, said: Corrections = NONE
) -> list[Piece]:
    """Return the pieces of a table, row by row.

    Parameters
    ----------
    number : of the table. said : of its cells. sheet_factor : whether several sheets hold pieces, so that the sheet's
        name tells them apart.
    """
    found: list[Piece] = []
    carried: dict[int, str] = {}
    columns = list_piece_columns(table)
    common = _read_common(table, sheet_factor=sheet_factor)
    title_date = next(
        (day for title in reversed(table.titles) if (day := find_date(title.text, writing.order)) is not None), None
    )
    last_row = -1
    for row in table.rows:
        if any(last_row < repeated < row for repeated in table.repeated_headers):
            carried = {}
        last_row = row
        if table.read_summary_of(row) is not None:
            continue
        names = _read_names(table, row, carried)
        for column in columns:
            place = (row, column.at)
            cell = table.sheet.cell(place)
            entry = None if said.ignores(table.sheet.name, place) else read_entry(cell, writing.mark)
            if entry is None:
                continue
            found.append(_make_piece(table, number, place, column, entry, names, common, title_date, writing))
    return found


def holds_pieces(table: Table, writing: Writing, said: Corrections = NONE) -> bool:
    """Return whether a table holds a piece."""
    columns = list_piece_columns(table)
    return any(
        read_entry(table.sheet.cell((row, column.at)), writing.mark) is not None
        for row in table.rows
        if table.read_summary_of(row) is None
        for column in columns
        if not said.ignores(table.sheet.name, (row, column.at))
    )


def list_piece_columns(table: Table) -> list[PieceColumn]:
    """Return the columns whose cells are pieces, with those that say the same again."""
    match table.layout:
        case Layout.TALL:
            return _list_tall(table)
        case Layout.WIDE:
            return _list_wide(table)
        case Layout.COLUMNS | Layout.MATRIX:
            return [
                PieceColumn(one.at, "load", "", one.over if table.layout is Layout.COLUMNS else "", one)
                for one in table.with_role(Role.LEVEL)
            ]
        case _:
            return []


def _list_tall(table: Table) -> list[PieceColumn]:
    loads = [one for one in table.with_role(Role.LOAD) if _has_values(table, one)]
    stresses = [one for one in table.with_role(Role.STRESS) if _has_values(table, one)]
    overs = list(dict.fromkeys(one.over for one in (loads or stresses)))
    found = []
    for over in overs if len(overs) > 1 else [None]:
        mine = [one for one in loads if over is None or one.over == over]
        beside = [one for one in stresses if over is None or one.over == over]
        main = _choose_typed(table, mine or beside)
        quantity = "load" if mine else "stress"
        twins = [(one, "load" if one in mine else "stress") for one in (*mine, *beside) if one is not main]
        found.append(PieceColumn(main.at, quantity, "", over or "", main, tuple(twins)))
    return found


def _list_wide(table: Table) -> list[PieceColumn]:
    columns = table.with_role(Role.PIECE)
    united = [one for one in columns if name_unit(one.heading.text) is not None or one.heading.text.strip() == "%"]
    if len(united) < len(columns) or not united:
        overs = {one.over for one in columns if one.over}
        spread = len(overs) > 1 or (overs and any(not one.over for one in columns))
        return [
            PieceColumn(
                one.at,
                "stress" if _is(one.unit, Measure.STRESS) else "load",
                one.heading.text,
                one.over if spread else "",
                one,
            )
            for one in columns
        ]
    found = []
    for group in _pair_up(united):
        loads = [one for one in group if _is(name_unit(one.heading.text), Measure.FORCE)]
        stresses = [one for one in group if _is(name_unit(one.heading.text), Measure.STRESS)]
        torn = next((one for one in group if one.heading.text.strip() == "%"), None)
        if not loads and not stresses:
            continue
        main = _choose_typed(table, loads or stresses)
        twins = [(one, "load" if one in loads else "stress") for one in (*loads, *stresses) if one is not main]
        found.append(PieceColumn(main.at, "load" if loads else "stress", group[0].over, "", main, tuple(twins), torn))
    return found


def _pair_up(columns: Sequence[Column]) -> Iterator[list[Column]]:
    """Return columns in groups of a piece each: by the title over them, else as their units come again."""
    group: list[Column] = []
    for column in columns:
        again = any(one.heading.text.casefold() == column.heading.text.casefold() for one in group)
        if group and (column.over != group[0].over or again):
            yield group
            group = []
        group.append(column)
    if group:
        yield group


def _is(unit: Unit | None, measure: Measure) -> bool:
    return unit is not None and unit.measure is measure


def _choose_typed(table: Table, columns: Sequence[Column]) -> Column:
    """Return the column that was typed; the left one where both or neither are formulas."""
    typed = [one for one in columns if not _is_formula(table, one)]
    return (typed or list(columns))[0]


def _is_formula(table: Table, column: Column) -> bool:
    cells = [cell for row in table.rows if (cell := table.sheet.cell((row, column.at))) is not None]
    return bool(cells) and 2 * sum(_refers(cell) for cell in cells) > len(cells)


def _refers(cell: Cell) -> bool:
    """Return whether a cell is computed from others: `=1.85-0.03` is typed all the same."""
    return bool(re.search(r"[A-Za-z]+\$?\d", cell.formula))


def _has_values(table: Table, column: Column) -> bool:
    return any(table.sheet.cell((row, column.at)) is not None for row in table.rows)


_NAMED: Final = re.compile(r"^\s*([^\W\d][^:]{0,30}?)\s*:\s*(\S.*)$")


def name_factor(title: str, usual: str) -> tuple[str, str]:
    """Return the factor and the level that a title says: `Soak: 24 h`; else the usual name, and the title itself.

    Examples
    --------
    >>> name_factor("Soak: 24 h", "block"), name_factor("Fresh", "block")
    (('Soak', '24 h'), ('block', 'Fresh'))
    """
    found = _NAMED.match(title)
    return (found[1].strip(), found[2].strip()) if found else (usual, title)


def _read_common(table: Table, *, sheet_factor: bool) -> dict[str, str]:
    """Return the factors that all pieces of a table share."""
    found: dict[str, str] = {}
    if sheet_factor:
        name, level = name_factor(table.sheet.name, "sheet")
        found[name] = level
    if table.block:
        name, level = name_factor(table.block, "block")
        found[name] = level
    return found


def _read_names(table: Table, row: int, carried: dict[int, str]) -> dict[int, str]:
    """Return the names in a row by column; one that stands once counts for the blanks below it."""
    found: dict[int, str] = {}
    for column in table.with_role(Role.SET, Role.FACTOR):
        text = _as_text(table.sheet.cell((row, column.at)))
        if text:
            if column.role is Role.SET:
                for other in table.with_role(Role.FACTOR):
                    carried.pop(other.at, None)
            carried[column.at] = text
        elif column.role is Role.FACTOR and not _stands_once(table, column):
            carried.pop(column.at, None)
        found[column.at] = carried.get(column.at, "")
    return found


def _stands_once(table: Table, column: Column) -> bool:
    filled = sum(table.sheet.cell((row, column.at)) is not None for row in table.rows)
    return 2 * filled <= len(table.rows) or any(
        one.left <= column.at <= one.right and one.bottom > one.top for one in table.sheet.merged
    )


def _as_text(cell: Cell | None) -> str:
    if cell is None:
        return ""
    if cell.number is not None:
        return f"{cell.number:.10g}"
    if isinstance(cell.value, date):
        return cell.value.isoformat()
    return cell.text


def _make_piece(
    table: Table,
    number: int,
    place: Place,
    column: PieceColumn,
    entry: Entry,
    names: Mapping[int, str],
    common: Mapping[str, str],
    title_date: date | None,
    writing: Writing,
) -> Piece:
    row, sheet = place[0], table.sheet
    factors = dict(common)
    if column.over:
        name, level = name_factor(column.over, "block")
        factors[name] = f"{factors[name]}, {level}" if name in factors and name == "block" else level
    set_column = table.first(Role.SET)
    set_name = names.get(set_column.at, "") if set_column else ""
    for one in table.with_role(Role.FACTOR):
        if names.get(one.at):
            factors[one.heading.text or "column"] = names[one.at]
    if table.layout is Layout.COLUMNS:
        set_name = column.column.heading.text
    elif table.layout is Layout.MATRIX:
        factors[table.column_factor or "column"] = column.column.heading.text
    measure = Measure.FORCE if column.quantity == "load" else Measure.STRESS
    unit = entry.unit or _unit_of(column.column, measure) or find_unit_in(table, measure)
    quantity = column.quantity
    if unit is None and quantity == "load" and table.layout is not Layout.TALL:
        # without a heading that says load, a table of stresses is one
        unit = find_unit_in(table, Measure.STRESS)
        quantity = "stress" if unit is not None else quantity
    if unit is not None and unit.measure is Measure.STRESS:
        quantity = "stress"
    return Piece(
        table=number,
        sheet=sheet,
        place=place,
        entry=entry,
        quantity=quantity,
        unit=unit,
        set_name=set_name,
        label=_label_of(table, row, column),
        factors=factors,
        board=_text_of(table, row, Role.BOARD),
        torn_pct=_read_torn(table, row, column, writing),
        sizes_mm=_read_sizes(table, row, writing),
        broken_on=_read_date(table, row, Role.DATE, writing) or title_date,
        glued_on=_read_date(table, row, Role.GLUED, writing),
        note="; ".join(one for one in (_text_of(table, row, Role.NOTE), entry.note) if one),
        fill=_fill_of(table, place),
        is_hidden=row in sheet.hidden_rows or place[1] in sheet.hidden_columns,
        outcome_word=_text_of(table, row, Role.OUTCOME) if table.layout is Layout.TALL else "",
        twins=tuple(
            ((row, one.at), kind, _unit_of(one, Measure.FORCE if kind == "load" else Measure.STRESS))
            for one, kind in column.twins
            if sheet.cell((row, one.at)) is not None
        ),
    )


def _unit_of(column: Column, measure: Measure) -> Unit | None:
    """Return the unit of a column's heading, or of the title over it."""
    for unit in (column.unit, name_unit(column.heading.text), find_unit(column.over)[0] if column.over else None):
        if unit is not None and unit.measure in (measure, Measure.STRESS if measure is Measure.FORCE else measure):
            return unit
    return None


def _label_of(table: Table, row: int, column: PieceColumn) -> str:
    if column.label and table.layout is Layout.WIDE:
        return column.label
    return "" if table.layout is Layout.MATRIX else _text_of(table, row, Role.LABEL)


def _text_of(table: Table, row: int, role: Role) -> str:
    texts = [_as_text(table.sheet.cell((row, one.at))) for one in table.with_role(role)]
    return "; ".join(text for text in texts if text)


_TORN_WORDS: Final = {
    "none": 0.0,
    "no wood": 0.0,
    "quarter": 25.0,
    "a quarter": 25.0,
    "half": 50.0,
    "three quarters": 75.0,
    "all": 100.0,
}


def _read_torn(table: Table, row: int, column: PieceColumn, writing: Writing) -> float | None:
    if table.layout is not Layout.TALL and column.torn is None:
        return None
    source = column.torn or table.first(Role.TORN)
    cell = table.sheet.cell((row, source.at)) if source else None
    if cell is None:
        return None
    if cell.number is not None:
        return 100 * cell.number if cell.percent else cell.number
    text = cell.text.casefold()
    if text in _TORN_WORDS:
        return _TORN_WORDS[text]
    return read_number(text.replace("%", "").strip(), writing.mark)


def _read_sizes(table: Table, row: int, writing: Writing) -> dict[str, float | None]:
    found: dict[str, float | None] = {}
    for column in table.with_role(Role.SIZE):
        cell = table.sheet.cell((row, column.at))
        if cell is not None:
            found[column.heading.name] = read_size(cell, column.unit, writing.mark)
    return found


def read_size(cell: Cell, unit: Unit | None, mark: Mark) -> float | None:
    """Return a size, mm: a number in the unit of its heading, or with its own, or a shop fraction; None for others."""
    if cell.number is not None:
        return None if unit is None else cell.number * unit.si
    if not cell.text:
        return None
    if (fraction := read_fraction(cell.text)) is not None:
        own = name_unit(fraction[1]) or (UNITS["in"] if fraction[1] == "''" else None) or unit
        return None if own is None else fraction[0] * own.si
    matched = re.fullmatch(r"\s*([\d.,]+)\s*(\"|″|''|[A-Za-z]+\.?)\s*", cell.text)
    own = (name_unit(matched[2]) or (UNITS["in"] if matched[2] == "''" else None)) if matched else unit
    value = read_number(matched[1] if matched else cell.text, mark)
    return None if value is None or own is None or own.measure is not Measure.LENGTH else value * own.si


def _read_date(table: Table, row: int, role: Role, writing: Writing) -> date | None:
    for column in table.with_role(role):
        cell = table.sheet.cell((row, column.at))
        if cell is None:
            continue
        if isinstance(cell.value, date):
            return cell.value
        if cell.text and (day := find_date(cell.text, writing.order)) is not None:
            return day
    return None


def _fill_of(table: Table, place: Place) -> str:
    cell = table.sheet.cells.get(place)
    return cell.fill if cell is not None else ""


def is_matrix_of_means(table: Table) -> bool | None:
    """Return whether a matrix holds means; None where that is not said. False for other tables."""
    return says_means(table) if table.layout is Layout.MATRIX else False
