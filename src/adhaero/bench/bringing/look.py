"""A dropped table, looked at: its cells painted, what is understood of it, what must be asked, and what comes of it."""

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import Annotated, Final

from annotated_types import MaxLen

from adhaero.bench.bringing.sentences import say_table
from adhaero.bench.bringing.staged import StagedFile, Staging
from adhaero.bench.bringing.varied import VariedView, choose_answer, list_varied, name_sets, view_varied
from adhaero.bench.facts.entry import Entry, Line, Short
from adhaero.core.choice import Worded, offer
from adhaero.core.fixture import Fixture
from adhaero.core.plan.fields import ANSWER_WORDS, AnswerKind
from adhaero.core.tables.answers import Answers, Question
from adhaero.core.tables.bring_in import BroughtIn, bring_in
from adhaero.core.tables.checks import Check, Standing, check_arithmetic
from adhaero.core.tables.corrections import Corrections, read_corrections
from adhaero.core.tables.documents import name_kind, read_reading, role_words
from adhaero.core.tables.grid import Cell, Place, Sheet, name_column, read_place
from adhaero.core.tables.headings import Role
from adhaero.core.tables.layout import Layout, Table
from adhaero.store.file import ShopFile
from adhaero.store.sources import list_sources

_MOST_ROWS: Final = 300
_MOST_COLUMNS: Final = 60


@dataclass(frozen=True)
class Given(Entry):
    """An answer to a question."""

    about: Short
    subject: Line
    choice: Line

    def check_texts(self) -> None:
        """Let it pass: the subject is a text of the file, whatever is in it."""


@dataclass(frozen=True)
class RoleSaid(Entry):
    """What a column, a row or a cell holds, or how a table is laid out: `Dock!C` is `load`."""

    key: Line
    role: Line

    def check_texts(self) -> None:
        """Let it pass: the name of a sheet is a text of the file."""


@dataclass(frozen=True)
class TableSaid(Entry):
    """What a person said of a table: roles of columns, rows and cells, layouts, answers, the one sheet that is read."""

    roles: Annotated[tuple[RoleSaid, ...], MaxLen(500)] = ()
    layouts: Annotated[tuple[RoleSaid, ...], MaxLen(100)] = ()
    answers: Annotated[tuple[Given, ...], MaxLen(200)] = ()
    sheet: Line = ""

    def as_corrections(self) -> Corrections:
        """Return what was said of columns, rows and cells; raises `EntryError`."""
        return read_corrections({one.key: one.role for one in self.roles}, {one.key: one.role for one in self.layouts})

    def as_answers(self) -> Answers:
        """Return the answers."""
        return Answers(tuple((one.about, one.subject, one.choice) for one in self.answers))


@dataclass(frozen=True)
class CellView:
    """One cell as it is drawn: what stands there, and what became of it.

    Attributes
    ----------
    became : `piece`, `set`, `label`, `computed`, `heading`, `title`, `more` (goes with a piece) or empty.
    wrong : what its arithmetic gets wrong; empty where it is right, or computes nothing.
    """

    row: int
    column: int
    text: str
    became: str
    wrong: str
    asked: bool
    fill: str


@dataclass(frozen=True)
class SheetView:
    """A sheet as it stands; `hidden_rows` more are not drawn."""

    name: str
    rows: int
    columns: int
    more_rows: int
    cells: list[CellView]


@dataclass(frozen=True)
class ColumnView:
    """A column of a table, by its letter: its heading and its role."""

    letter: str
    key: str
    heading: str
    role: str


@dataclass(frozen=True)
class TableView:
    """One table that was found: where, how it is laid out, and what is understood of it."""

    sheet: str
    header: str
    layout: Layout
    sentences: list[str]
    columns: list[ColumnView]


@dataclass(frozen=True)
class SetCount:
    """A set with the number of its pieces."""

    name: str
    pieces: int


@dataclass(frozen=True)
class KeptReading:
    """How an earlier file of the kind was read: its name, and what was said of it."""

    name: str
    said: TableSaid


@dataclass(frozen=True)
class FoundView:
    """A dropped table, looked at.

    Attributes
    ----------
    pieces, sets, undated (unglued: without a day of gluing) : what comes of it. fixture : what suits it;
    sizes : that its columns give, by name.
    varies : what its columns say of the pieces beside their breaks, and which of the shop's kinds that can be.
    answer : the kind of answer that it most likely wants, of those in `answers`.
    slips : what its own arithmetic gets wrong; agrees : how many of its numbers are right. kept : how an earlier file
    of the kind was read, where something was said of that and nothing yet of this.
    """

    sha256: str
    name: str
    sheets: list[SheetView]
    sheet_names: list[str]
    tables: list[TableView]
    questions: list[Question]
    pieces: int
    sets: list[SetCount]
    undated: int
    unglued: int
    first_date: str
    last_date: str
    quantity: str
    units: list[str]
    fixture: Fixture
    varies: list[VariedView]
    answer: AnswerKind
    answers: list[Worded[AnswerKind]]
    sizes: list[str]
    refused: list[str]
    slips: list[str]
    agrees: int
    decimal_mark: str
    kept: KeptReading | None


def look_at(file: ShopFile, staging: Staging, sha256: str, said: TableSaid) -> FoundView:
    """Return what is understood of a file.

    Raises
    ------
    NotThere : the file is not held any more. EntryError : a role, a layout or a sheet that there is not.
    """
    staged = staging.find(sha256)
    staging.begin(2)
    found = bring_in(staged.book, said.as_answers(), said.sheet, said.as_corrections())
    staging.begin(3)
    checks = check_arithmetic(found)
    staging.begin(4)
    counts = Counter(row.piece.table for row in found.rows)
    with file.reading() as connection:
        varies = list_varied(connection, found, said.as_answers())
    dates = sorted(row.broken_on for row in found.rows if row.broken_on is not None)
    return FoundView(
        sha256=sha256,
        name=staged.name,
        sheets=[_view_sheet(sheet, found, checks) for sheet in _shown_sheets(staged.book.sheets, said.sheet)],
        sheet_names=[one.name for one in staged.book.sheets],
        tables=[_view_table(table, counts[number]) for number, table in enumerate(found.tables)],
        questions=list(found.questions),
        pieces=len(found.rows),
        sets=[SetCount(name, count) for name, count in Counter(name_sets(found.rows, varies)).items()],
        undated=sum(row.broken_on is None for row in found.rows),
        unglued=sum(row.piece.glued_on is None for row in found.rows),
        first_date=dates[0].isoformat() if dates else "",
        last_date=dates[-1].isoformat() if dates else "",
        quantity=" and ".join(dict.fromkeys(row.quantity for row in found.rows)),
        units=list(dict.fromkeys(row.unit for row in found.rows if row.unit)),
        fixture=choose_fixture(found),
        varies=[view_varied(one) for one in varies],
        answer=choose_answer(varies),
        answers=offer(ANSWER_WORDS),
        sizes=sorted({name for row in found.rows for name, mm in row.sizes_mm.items() if mm is not None}),
        refused=[f"{one.cells} ({one.why})" for one in found.refused],
        slips=[one.words for one in checks if one.standing is Standing.DIFFERS],
        agrees=sum(one.standing is Standing.AGREES for one in checks),
        decimal_mark=found.writing.mark.value,
        kept=_find_kept(file, staged) if said == TableSaid() else None,
    )


def _find_kept(file: ShopFile, staged: StagedFile) -> KeptReading | None:
    """Return the newest reading of a file with the same sheets and headings that a person said something of."""
    kind = name_kind(staged.book)
    with file.reading() as connection:
        sources = list_sources(connection)
    for one in reversed(sources):
        corrections, answers = read_reading(one.reading)
        sheet = str(one.reading.get("sheet", ""))
        if one.reading.get("kind") != kind or not (corrections.roles or corrections.layouts or answers.given or sheet):
            continue
        return KeptReading(
            one.name,
            TableSaid(
                tuple(RoleSaid(key, role) for key, role in dict(corrections.roles).items()),
                tuple(RoleSaid(key, role) for key, role in dict(corrections.layouts).items()),
                tuple(Given(*answer) for answer in answers.given),
                sheet,
            ),
        )
    return None


def _shown_sheets(sheets: tuple[Sheet, ...], only: str) -> list[Sheet]:
    return [one for one in sheets if not only or one.name.casefold() == only.casefold()]


def choose_fixture(found: BroughtIn) -> Fixture:
    """Return what suits the pieces: stresses as they are, else loads alone until a person says how they were loaded."""
    return Fixture.STRESS if found.rows and all(row.quantity == "stress" for row in found.rows) else Fixture.LOAD


def _view_table(table: Table, pieces: int) -> TableView:
    prefix = f"{table.sheet.name}!" if table.sheet.name else ""
    return TableView(
        sheet=table.sheet.name,
        header=f"{prefix}{table.header + 1}",
        layout=table.layout,
        sentences=say_table(table, pieces),
        columns=[
            ColumnView(name_column(one.at), f"{prefix}{name_column(one.at)}", one.heading.text, role_words(one))
            for one in table.columns
        ],
    )


def _view_sheet(sheet: Sheet, found: BroughtIn, checks: list[Check]) -> SheetView:
    became = _paint(sheet, found)
    wrong = {one.cell: one.words for one in checks if one.standing is Standing.DIFFERS}
    asked = _list_asked(sheet, found)
    last = max(sheet.rows, default=0)
    cells = [
        CellView(
            row,
            column,
            _show(cell),
            became.get((row, column), ""),
            wrong.get(sheet.name_of((row, column)), ""),
            (row, column) in asked,
            cell.fill if cell.fill and not cell.fill.startswith("T") else "",
        )
        for (row, column), cell in sorted(sheet.cells.items())
        if row < _MOST_ROWS and column < _MOST_COLUMNS
    ]
    width = max((columns[-1] for columns in sheet.rows.values()), default=0)
    return SheetView(
        sheet.name, min(last + 1, _MOST_ROWS), min(width + 1, _MOST_COLUMNS), max(0, last + 1 - _MOST_ROWS), cells
    )


def _show(cell: Cell) -> str:
    if cell.number is not None:
        return f"{100 * cell.number:.4g} %" if cell.percent else f"{cell.number:.6g}"
    if isinstance(cell.value, date):
        return cell.value.isoformat()
    return cell.text


_MORE: Final = (
    Role.TORN,
    Role.DATE,
    Role.GLUED,
    Role.NOTE,
    Role.BOARD,
    Role.SIZE,
    Role.AREA,
    Role.OUTCOME,
    Role.FAILURE,
    Role.FACTOR,
)


def _paint(sheet: Sheet, found: BroughtIn) -> Mapping[Place, str]:
    painted: dict[Place, str] = {}
    for table in found.tables:
        if table.sheet.name != sheet.name or table.layout is Layout.NONE:
            continue
        for title in table.titles:
            painted[title.place] = "title"
        for row in (table.header, *table.repeated_headers):
            for column in table.columns:
                painted[row, column.at] = "heading"
        for row in table.rows:
            computed = table.read_summary_of(row) is not None
            for column in table.columns:
                if computed or column.role is Role.SUMMARY:
                    painted[row, column.at] = "computed"
                elif column.role in (Role.SET, Role.LABEL):
                    painted[row, column.at] = column.role.value
                elif column.role in _MORE:
                    painted[row, column.at] = "more"
    for one in found.rows:
        if one.piece.sheet.name == sheet.name:
            painted[one.piece.place] = "piece"
            for place, _, _ in one.piece.twins:
                painted[place] = "computed"
    return painted


def _list_asked(sheet: Sheet, found: BroughtIn) -> set[Place]:
    """Return the cells of a sheet that the first question is about."""
    if not found.questions:
        return set()
    cells: set[Place] = set()
    for text in found.questions[0].cells.replace(" and ", ", ").split(", "):
        name, _, place = text.rpartition("!")
        first, _, last = place.partition(":")
        start, end = read_place(first), read_place(last or first)
        if name == sheet.name and start is not None and end is not None:
            cells |= {(row, column) for row in range(start[0], end[0] + 1) for column in range(start[1], end[1] + 1)}
    return cells
