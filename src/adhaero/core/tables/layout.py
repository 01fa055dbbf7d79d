"""Where the tables of a sheet stand, and what each of their columns holds."""

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from enum import StrEnum
from functools import cached_property
from itertools import pairwise
from typing import Final

from adhaero.core.tables.corrections import NONE, Corrections
from adhaero.core.tables.grid import Cell, Place, Sheet
from adhaero.core.tables.headings import Heading, Role, Summary, plain, read_heading, read_numbering, read_summary
from adhaero.core.tables.units import Measure, Unit, find_in_sentence, name_unit


class Layout(StrEnum):
    """How a table is laid out."""

    TALL = "tall"
    WIDE = "wide"
    COLUMNS = "columns"
    MATRIX = "matrix"
    NONE = "none"


@dataclass(frozen=True)
class Column:
    """A column of a table: its heading, the title over it, and what it holds.

    `unit` is that of its heading, or of the row under it. `is_said`: a person said what it holds.
    """

    at: int
    heading: Heading
    over: str = ""
    is_said: bool = False

    @property
    def role(self) -> Role:
        """Return what it holds."""
        return self.heading.role

    @property
    def unit(self) -> Unit | None:
        """Return the unit of its heading."""
        return self.heading.unit


@dataclass(frozen=True)
class Title:
    """A text above a table, with its place."""

    place: Place
    text: str


@dataclass(frozen=True)
class Table:
    """One table of a sheet.

    Attributes
    ----------
    header : the row of its headings; rows : those below that hold something, summaries among them.
    columns : from left to right. titles : above it, the nearest last. block : its own title among several tables.
    across : whether titles over its columns part them into blocks.
    column_factor : of a matrix, the word over its columns.
    """

    sheet: Sheet
    layout: Layout
    header: int
    rows: tuple[int, ...]
    columns: tuple[Column, ...]
    titles: tuple[Title, ...] = ()
    block: str = ""
    column_factor: str = ""
    repeated_headers: frozenset[int] = field(default_factory=frozenset)

    def with_role(self, *roles: Role) -> tuple[Column, ...]:
        """Return the columns of some roles."""
        if roles not in self._by_roles:
            self._by_roles[roles] = tuple(one for one in self.columns if one.role in roles)
        return self._by_roles[roles]

    @cached_property
    def _by_roles(self) -> dict[tuple[Role, ...], tuple[Column, ...]]:
        return {}

    def first(self, role: Role) -> Column | None:
        """Return the first column of a role."""
        return next(iter(self.with_role(role)), None)

    @property
    def left(self) -> int:
        """Return its first column."""
        return self.columns[0].at

    @property
    def right(self) -> int:
        """Return its last column."""
        return self.columns[-1].at

    def _numbers_on(self, row: int, column: int) -> bool:
        """Return whether a label goes on from the one above it: an `n` behind an `m` is a piece, no count."""
        number = read_numbering(self.sheet.text((row, column)))
        above = read_numbering(self.sheet.text((row - 1, column)))
        return number is not None and (number == 1 or (above is not None and number == above + 1))

    def read_summary_of(self, row: int) -> tuple[Summary, str] | None:
        """Return which summary a row holds: told by a text of it left of its numbers."""
        return self._summary_rows.get(row)

    @cached_property
    def _summary_rows(self) -> Mapping[int, tuple[Summary, str]]:
        found = ((row, self._read_summary_of(row)) for row in self.rows)
        return {row: summary for row, summary in found if summary is not None}

    def _read_summary_of(self, row: int) -> tuple[Summary, str] | None:
        for column in self.columns:
            cell = self.sheet.cell((row, column.at))
            if cell is None:
                continue
            if not cell.text:
                if column.role in (Role.LABEL, Role.SET):
                    continue
                return None
            if column.role in (Role.NOTE, Role.DATE, Role.GLUED, Role.BOARD):
                continue
            found = read_summary(plain(cell.text))
            if found is not None and not (column.role is Role.LABEL and self._numbers_on(row, column.at)):
                return found
            if column.role not in (Role.LABEL, Role.SET, Role.UNKNOWN, Role.FACTOR):
                return None
        return None


_MOST_HEADINGS_APART: Final = 1
_MEANS: Final = re.compile(r"\b(?:averages?|avgs?|means?)\b|ø", re.IGNORECASE)
_SINGLE: Final = re.compile(
    r"\b(?:one|1|a|single)\s+(?:piece|sample|specimen|test|pull|break|joint)\b|\bsingle (?:pieces|tests|breaks)\b",
    re.IGNORECASE,
)


def find_tables(sheet: Sheet, said: Corrections = NONE) -> list[Table]:
    """Return the tables of a sheet from top to bottom, those that hold no pieces among them.

    Parameters
    ----------
    said : what a person said of its columns and rows.
    """
    headers = [(row, columns) for row in sheet.rows for columns in _list_headers(sheet, row)]
    found: list[Table] = []
    taken: dict[int, list[tuple[int, int, int]]] = {}
    for at, (row, columns) in enumerate(headers):
        left, right = columns[0], columns[-1]
        if any(low <= row <= high for low, high, _ in taken.get(left, [])):
            continue
        later = [other for other, cells in headers[at + 1 :] if other > row and cells[0] <= right and cells[-1] >= left]
        table = _make_table(sheet, row, columns, later, said)
        if table is not None:
            found.append(table)
            bottom = max(table.rows, default=row)
            for column in range(left, right + 1):
                taken.setdefault(column, []).append((row, bottom, at))
    return _name_blocks(found)


def _list_headers(sheet: Sheet, row: int) -> Iterator[list[int]]:
    """Return the parts of a row that are the headings of a table, each as its columns."""
    for part in _cut(sheet, row):
        if _is_header(sheet, row, part):
            yield part


def _cut(sheet: Sheet, row: int) -> Iterator[list[int]]:
    """Return the cells of a row in parts: two empty columns part them, one does before another first heading."""
    part: list[int] = []
    for column in sheet.rows.get(row, []):
        if part and column - part[-1] > 1:
            far = column - part[-1] > _MOST_HEADINGS_APART + 1
            begins = read_heading(_heading_text(sheet, (row, column))).role in (Role.SET, Role.LABEL)
            if far or (begins and len(part) > 1):
                yield part
                part = []
        part.append(column)
    if part:
        yield part


def _heading_text(sheet: Sheet, place: Place) -> str:
    cell = sheet.cell(place)
    if cell is None:
        return ""
    if isinstance(cell.value, date):
        return cell.value.isoformat()
    if cell.number is not None:
        return f"{cell.number:g}"
    return cell.text


def _is_header(sheet: Sheet, row: int, part: Sequence[int]) -> bool:
    if len(part) < 2:
        return False
    cells = [sheet.cells[row, column] for column in part]
    numbers = [number for cell in cells if (number := _as_number(cell)) is not None]
    texts = [cell.text for cell in cells if cell.text and _as_number(cell) is None]
    if numbers and (
        numbers[0] not in (0.0, 1.0) or any(b - a not in (1, -len(numbers)) for a, b in _neighbours(numbers))
    ):
        # numbers that number pieces stand 1, 2, 3, perhaps again 1, 2, 3; anything else are values
        repeats = [one for one in numbers if one == numbers[0]]
        if not (len(repeats) > 1 and numbers[0] == 1.0 and max(numbers) <= 99 and _restarts(numbers)) and not _levels(
            texts, numbers
        ):
            return False
    roles = [read_heading(text).role for text in texts]
    anchored = any(role in (Role.SET, Role.LABEL, Role.LOAD, Role.STRESS) for role in roles)
    if not anchored and len(texts) < 3 and not numbers:
        return False
    numbered = sum(read_numbering(text) is not None for text in texts) + len(numbers)
    if not anchored and not (
        numbered >= 3 and len(texts) + len(numbers) - numbered <= 6 and _has_names_below(sheet, row, part)
    ):
        return False
    if anchored and len(texts) == 1 and not numbers:
        return False
    if read_summary(plain(texts[0] if texts else "")) is not None and roles and roles[0] is not Role.SET and numbers:
        return False
    return any(sheet.cell((below, column)) is not None for below in range(row + 1, row + 4) for column in part)


def _as_number(cell: Cell) -> float | None:
    """Return the number of a cell, also of one that is text: in a text file every cell is."""
    if cell.number is not None:
        return cell.number
    return float(cell.text.replace(",", ".")) if _PLAIN_NUMBER.fullmatch(cell.text) else None


_PLAIN_NUMBER: Final = re.compile(r"\d+(?:[.,]\d+)?")


def _neighbours(numbers: Sequence[float]) -> Iterator[tuple[float, float]]:
    return pairwise(numbers)


def _restarts(numbers: Sequence[float]) -> bool:
    return all(b == a + 1 or b == 1 for a, b in _neighbours(numbers))


def _levels(texts: Sequence[str], numbers: Sequence[float]) -> bool:
    """Return whether numbers are the levels of a matrix: rising, behind one name of a set."""
    return (
        len(texts) == 1
        and read_heading(texts[0]).role is Role.SET
        and len(numbers) > 1
        and all(b > a for a, b in _neighbours(numbers))
        and max(numbers) < 200
    )


def _has_names_below(sheet: Sheet, row: int, part: Sequence[int]) -> bool:
    left = part[0] - 1 if sheet.cell((row + 1, part[0] - 1)) is not None else part[0]
    return bool(sheet.text((row + 1, left))) and sheet.cell((row + 1, part[-1])) is not None


def _make_table(
    sheet: Sheet, header: int, part: Sequence[int], later: Sequence[int], said: Corrections
) -> Table | None:
    columns = [Column(column, read_heading(_heading_text(sheet, (header, column)))) for column in part]
    if (
        not sheet.cell((header, part[0] - 1))
        and sheet.cell((header + 1, part[0] - 1))
        and read_numbering(columns[0].heading.text)
    ):
        columns.insert(0, Column(part[0] - 1, Heading("", Role.SET)))
    first = header + 1
    units = _read_units_row(sheet, first, columns)
    if units is not None:
        columns, first = units, first + 1
    columns = _read_over(sheet, header, columns)
    columns = [
        one if (heading := said.of_column(sheet.name, one.at, one.heading)) is None
        else replace(one, heading=heading, is_said=True)
        for one in columns
    ]  # fmt: skip
    left, right = columns[0].at, columns[-1].at
    rows, repeated = _find_rows(sheet, first, columns, later)
    rows = [row for row in rows if not said.ignores(sheet.name, (row, -1))]
    titles = _find_titles(sheet, header, left, right, over=any(one.over for one in columns))
    table = Table(sheet, Layout.NONE, header, tuple(rows), tuple(columns), titles, repeated_headers=frozenset(repeated))
    layout = said.layout_of(sheet.name, header)
    if layout == Layout.NONE:
        return replace(table, layout=Layout.NONE)
    return _lay_out(table, layout)


def _read_units_row(sheet: Sheet, row: int, columns: Sequence[Column]) -> list[Column] | None:
    """Return the columns with the units that stand in a row of their own under the headings; None without one."""
    texts = [(one, sheet.text((row, one.at))) for one in columns]
    named = [text for _, text in texts if text]
    if not named or any(sheet.cell((row, one.at)) is not None and not text for one, text in texts):
        return None
    if not all(name_unit(text) is not None or text.strip("()[] ") in ("%", "") for text in named):
        return None
    if all(one.heading.unit is not None for one, text in texts if text):
        return None
    return [replace(one, heading=_with_unit(one.heading, text)) for one, text in texts]


def _with_unit(heading: Heading, text: str) -> Heading:
    unit = name_unit(text)
    if unit is not None:
        return replace(heading, unit=unit)
    if text.strip("()[] ") == "%" and heading.role is Role.UNKNOWN:
        return replace(read_heading(f"{heading.text} %"), text=heading.text)
    return heading


def _read_over(sheet: Sheet, header: int, columns: Sequence[Column]) -> list[Column]:
    """Return the columns with the titles over them: merged ones over what they span, others up to the next."""
    row = header - 1
    inside = [one for one in sheet.rows.get(row, []) if columns[0].at <= one <= columns[-1].at]
    spans: list[tuple[int, int, str]] = []
    for at, column in enumerate(inside):
        text = _heading_text(sheet, (row, column))
        merged = next((one for one in sheet.merged if one.top <= row <= one.bottom and one.left == column), None)
        end = inside[at + 1] - 1 if at + 1 < len(inside) else columns[-1].at
        spans.append((column, merged.right if merged else end, text))
    if not spans or any(sheet.cells[row, column].number is not None for column in inside):
        return list(columns)
    if len(spans) == 1 and spans[0][0] == columns[0].at:
        return list(columns)
    if _is_data_row(sheet, row, columns):
        return list(columns)
    spans = [one for one in spans if one[0] > columns[0].at or len(spans) > 1]
    return [
        replace(one, over=next((text for low, high, text in spans if low <= one.at <= high), "")) for one in columns
    ]


def _is_data_row(sheet: Sheet, row: int, columns: Sequence[Column]) -> bool:
    return any(sheet.cells[row, one.at].number is not None for one in columns if sheet.cell((row, one.at)))


def _find_rows(
    sheet: Sheet, first: int, columns: Sequence[Column], later: Sequence[int]
) -> tuple[list[int], list[int]]:
    """Return the rows of a table, and those where its headings stand again: up to two empty rows or another table."""
    names = [plain(one.heading.text) for one in columns]
    rows: list[int] = []
    repeated: list[int] = []
    last = first - 1
    bottom = max(sheet.rows, default=first)
    for row in range(first, bottom + 1):
        filled = [one for one in columns if sheet.cell((row, one.at)) is not None]
        if not filled:
            if row - last > 2:
                break
            continue
        if row in later:
            if [plain(_heading_text(sheet, (row, one.at))) for one in columns] == names and not _has_title(
                sheet, last, row, columns
            ):
                repeated.append(row)
                last = row
                continue
            break
        if row - last > 2:
            break
        if _is_title_row(sheet, row, columns, later):
            break
        rows.append(row)
        last = row
    return rows, repeated


def _has_title(sheet: Sheet, last: int, row: int, columns: Sequence[Column]) -> bool:
    return any(
        sheet.cell((between, column)) is not None
        for between in range(last + 1, row)
        for column in range(columns[0].at, columns[-1].at + 1)
    )


def _is_title_row(sheet: Sheet, row: int, columns: Sequence[Column], later: Sequence[int]) -> bool:
    """Return whether a row is the title of the next table: a text alone, and headings within the next two rows."""
    inside = [one for one in sheet.rows.get(row, []) if columns[0].at <= one <= columns[-1].at]
    follows = any(row < other <= row + 2 for other in later)
    return (
        follows
        and all(sheet.cells[row, column].text for column in inside)
        and not any(sheet.cells[row, column].number is not None for column in inside)
    )


def _find_titles(sheet: Sheet, header: int, left: int, right: int, *, over: bool) -> tuple[Title, ...]:
    """Return the texts above a table, up to the next row of numbers."""
    found: list[Title] = []
    row = header - (2 if over else 1)
    while row >= 0:
        cells = [column for column in sheet.rows.get(row, []) if left - 1 <= column <= right]
        if any(sheet.cells[row, column].number is not None for column in cells):
            break
        if len(cells) > 2:
            break
        found += [Title((row, column), _heading_text(sheet, (row, column))) for column in reversed(cells)]
        row -= 1
    return tuple(reversed(found))


def _lay_out(table: Table, layout: str | None) -> Table | None:
    """Return a table with its layout and the roles of its columns settled; None for one that says nothing.

    Parameters
    ----------
    layout : that a person said; None for the one that suits it.
    """
    columns = table.columns
    roles = [one.role for one in columns]
    loads = [one for one in columns if one.role in (Role.LOAD, Role.STRESS) and _holds_numbers(table, one)]
    pieces = _find_piece_columns(table)
    has_set = Role.SET in roles
    if layout == Layout.WIDE:
        return _as_wide(table, pieces)
    if layout == Layout.TALL:
        return _as_tall(table)
    if layout is None and len(pieces) >= 2 and not (loads and _is_tall(loads, pieces)):
        return _as_wide(table, pieces)
    if layout is None and loads:
        return _as_tall(table)
    unknown = [
        one
        for one in columns[1:]
        if one.role in (Role.UNKNOWN, Role.SUMMARY, Role.LEVEL) and _holds_numbers(table, one)
    ]
    named = [one for one in unknown if one.role is Role.UNKNOWN or not _is_beside_summaries(one)]
    if (layout == Layout.COLUMNS or (roles[0] is Role.LABEL and layout is None)) and named and not has_set:
        return _with_roles(table, Layout.COLUMNS, {one.at: Role.LEVEL for one in named})
    if roles[0] is Role.SET and named:
        over = {one.over for one in named if one.over}
        factor = over.pop() if len(over) == 1 else ""
        return replace(_with_roles(table, Layout.MATRIX, {one.at: Role.LEVEL for one in named}), column_factor=factor)
    return replace(table, layout=Layout.NONE)


def _is_beside_summaries(column: Column) -> bool:
    return column.role is Role.SUMMARY


def _holds_numbers(table: Table, column: Column) -> bool:
    return any(_is_value(table.sheet.cell((row, column.at))) for row in table.rows)


def _is_value(cell: Cell | None) -> bool:
    return cell is not None and (cell.number is not None or bool(re.search(r"\d", cell.text)))


def _find_piece_columns(table: Table) -> list[Column]:
    """Return the columns whose headings number pieces, or name a unit alone: a set's pieces across."""
    found: list[Column] = []
    seen_set = not any(one.role is Role.SET for one in table.columns)
    for at, column in enumerate(table.columns):
        if column.role is Role.SET:
            seen_set = True
            continue
        if column.is_said:
            found += [column] if column.role is Role.PIECE else []
            continue
        if not seen_set:
            continue
        text = column.heading.text
        following = table.columns[at + 1].heading.text if at + 1 < len(table.columns) else ""
        if (
            _is_in_turn(read_numbering(text), found, following)
            or (text and name_unit(text) is not None and _holds_numbers(table, column))
            or (column.role is Role.UNKNOWN and text.strip() == "%" and column.over)
        ):
            found.append(column)
    numbered = [one for one in found if name_unit(one.heading.text) is None]
    united = [one for one in found if one not in numbered]
    if len(numbered) > 1 and united and not any(one.over for one in united):
        # behind numbered pieces a unit alone names no piece: `N` is how many
        found = numbered
    if numbered and len(numbered) == 1 and not any(name_unit(one.heading.text) for one in found):
        return []
    return found


def _is_in_turn(number: int | None, before: Sequence[Column], following: str) -> bool:
    """Return whether a numbering goes on from the ones before, or begins: `s` behind A to F is no piece."""
    if number is None:
        return False
    numbers = [read_numbering(one.heading.text) for one in before if read_numbering(one.heading.text) is not None]
    if not numbers:
        return number in (0, 1) or read_numbering(following) == number + 1
    return number in (1, (numbers[-1] or 0) + 1)


def _is_tall(loads: Sequence[Column], pieces: Sequence[Column]) -> bool:
    """Return whether columns of loads are the pieces although one beside them is numbered."""
    return bool(loads) and len(pieces) < 2


def _as_wide(table: Table, pieces: Sequence[Column]) -> Table:
    roles = {one.at: Role.PIECE for one in pieces}
    first = pieces[0].at
    named = any(one.role is Role.SET for one in table.columns)
    for column in table.columns:
        if column.at in roles:
            continue
        if column.role is Role.UNKNOWN and column.at < first:
            texts = [table.sheet.text((row, column.at)) for row in table.rows]
            if not named and any(texts):
                roles[column.at], named = Role.SET, True
            elif any(texts):
                roles[column.at] = Role.FACTOR
        elif column.heading.text == "N" and column.at > first:
            roles[column.at] = Role.SUMMARY
        elif column.role is Role.UNKNOWN:
            roles[column.at] = (
                Role.NOTE if any(table.sheet.text((row, column.at)) for row in table.rows) else Role.IGNORE
            )
        elif column.role in (Role.LOAD, Role.STRESS, Role.TORN, Role.LABEL) and column.at > first:
            # behind the pieces these are said of the set: sums and averages
            roles[column.at] = Role.SUMMARY
    return _with_roles(table, Layout.WIDE, roles)


def _with_roles(table: Table, layout: Layout, roles: dict[int, Role]) -> Table:
    columns = tuple(
        one if one.at not in roles or one.is_said else replace(one, heading=_as_role(one.heading, roles[one.at]))
        for one in table.columns
    )
    return replace(table, layout=layout, columns=columns)


def _as_role(heading: Heading, role: Role) -> Heading:
    if role is Role.SUMMARY and heading.summary is Summary.UNSAID:
        found = read_summary(plain(heading.text)) or ((Summary.COUNT, "") if heading.text == "N" else None)
        if found is None and heading.role is Role.TORN:
            found = (Summary.CREDIT, "")
        return replace(
            heading, role=role, summary=found[0] if found else Summary.UNSAID, name=found[1] if found else ""
        )
    return replace(heading, role=role)


def _as_tall(table: Table) -> Table:
    """Return a table with a row a piece: the set is the column so headed, else the leftmost text that repeats."""
    roles: dict[int, Role] = {}
    sets = [one for one in table.columns if one.role is Role.SET]
    chosen = min(sets, key=_rank_set) if sets else None
    repeating = [one for one in table.columns if one.role in (Role.UNKNOWN, Role.SET) and _repeats(table, one)]
    if chosen is None:
        texts = [one for one in repeating if any(table.sheet.text((row, one.at)) for row in table.rows)]
        chosen = texts[0] if texts else None
        if chosen is None:
            chosen = next(
                (one for one in table.columns if one.role is Role.UNKNOWN and _is_text_column(table, one)), None
            )
    if chosen is not None:
        roles[chosen.at] = Role.SET
    for column in table.columns:
        if column.at in roles:
            continue
        if column.role is Role.SET or (column.role is Role.UNKNOWN and column in repeating):
            roles[column.at] = Role.FACTOR
        elif column.role is Role.SUMMARY:
            # a load beside it: “max. force” is what it broke at
            roles[column.at] = Role.TORN if column.heading.summary is Summary.CREDIT else Role.SUMMARY
        elif column.role is Role.UNKNOWN:
            roles[column.at] = Role.NOTE if _is_text_column(table, column) else Role.IGNORE
    return _with_roles(table, Layout.TALL, roles)


_SET_WORDS: Final = ("glue", "adhesive", "glue used", "glue name", "set", "group", "treatment", "variant")


def _rank_set(column: Column) -> tuple[int, int]:
    words = plain(column.heading.text)
    return (_SET_WORDS.index(words) if words in _SET_WORDS else len(_SET_WORDS), column.at)


def _is_text_column(table: Table, column: Column) -> bool:
    cells = [cell for row in table.rows if (cell := table.sheet.cell((row, column.at))) is not None]
    texts = [cell for cell in cells if cell.text and not re.fullmatch(r"[\d.,\s+-]+", cell.text)]
    return bool(cells) and 2 * len(texts) >= len(cells)


def _repeats(table: Table, column: Column) -> bool:
    """Return whether most values of a column stand more than once: texts, or numbers that are no measurements."""
    values = [
        _heading_text(table.sheet, (row, column.at)).casefold()
        for row in table.rows
        if table.sheet.cell((row, column.at)) is not None and table.read_summary_of(row) is None
    ]
    distinct = set(values)
    return len(values) > 1 and len(distinct) < len(values) and 2 * len(distinct) <= max(len(values), 3)


def _name_blocks(tables: Sequence[Table]) -> list[Table]:
    """Return the tables with their own titles, where several of a sheet hold pieces."""
    with_pieces = [one for one in tables if one.layout in (Layout.TALL, Layout.WIDE, Layout.COLUMNS, Layout.MATRIX)]
    if len(with_pieces) < 2:
        return list(tables)
    return [
        replace(one, block=one.titles[-1].text if one.titles else "") if one in with_pieces else one for one in tables
    ]


def says_means(table: Table) -> bool | None:
    """Return whether the cells of a matrix are means; None where neither its titles nor its sheet say."""
    texts = [
        *(title.text for title in table.titles),
        table.sheet.name,
        table.columns[0].heading.text,
        table.column_factor,
    ]
    if any(_MEANS.search(text) for text in texts):
        return True
    formulas = [
        cell.formula.upper()
        for row in table.rows
        for column in table.with_role(Role.LEVEL)
        if (cell := table.sheet.cell((row, column.at))) is not None and cell.formula
    ]
    if formulas and all("AVERAGE" in one or "!" in one or "MEDIAN" in one for one in formulas):
        return True
    if any(_SINGLE.search(text) for text in texts):
        return False
    return None


def find_unit_in(table: Table, measure: Measure) -> Unit | None:
    """Return the unit that a table is in, where no cell or heading names one: titles, the sheet's name, a note."""
    over = [one.over for one in table.columns if one.over]
    titles = [title.text for title in reversed(table.titles)]
    for text in (*over, *titles, table.column_factor, table.sheet.name):
        if (unit := find_in_sentence(text, measure)) is not None:
            return unit
    inside = {(row, column.at) for row in (table.header, *table.rows) for column in table.columns}
    for place, text in table.sheet.list_texts():
        if place not in inside and (unit := find_in_sentence(text, measure)) is not None:
            return unit
    return None
