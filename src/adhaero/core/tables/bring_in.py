"""A file of breaks, read: its tables, its pieces, what must be asked, and what its own arithmetic gets wrong."""

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from enum import StrEnum
from typing import Final

from adhaero.core.errors import EntryError
from adhaero.core.stats.breaks import Outcome
from adhaero.core.tables.answers import Answers, Question
from adhaero.core.tables.colours import NO_FILL, Meaning, find_legend, list_single_fills, read_meaning
from adhaero.core.tables.corrections import NONE, Corrections
from adhaero.core.tables.dates import DayOrder, find_date, has_slashes, settle_order
from adhaero.core.tables.entries import Doubt
from adhaero.core.tables.grid import Book, Sheet
from adhaero.core.tables.headings import Role
from adhaero.core.tables.layout import Layout, Table, find_tables
from adhaero.core.tables.names import Likeness, find_alike, fold
from adhaero.core.tables.numerals import Mark, settle_mark
from adhaero.core.tables.pieces import Piece, Writing, holds_pieces, is_matrix_of_means, read_pieces, read_size
from adhaero.core.tables.units import UNITS, name_unit


@dataclass(frozen=True)
class Row:
    """A piece as it comes in.

    Attributes
    ----------
    piece : as it stands in its table, its names as they are taken. value, held, unit : None where they are not known.
    outcome : None where a question hangs on it. torn_pct, excluded : by heading, fill or answer.
    """

    piece: Piece
    set_name: str
    factors: Mapping[str, str]
    quantity: str
    value: float | None
    unit: str | None
    held: float | None
    outcome: Outcome | None
    torn_pct: float | None
    sizes_mm: Mapping[str, float | None]
    broken_on: date | None
    excluded: str
    is_hidden: bool
    note: str
    label: str

    @property
    def cell(self) -> str:
        """Return how its cell is called."""
        return self.piece.cell


@dataclass(frozen=True)
class Refused:
    """Cells that are no pieces although they look like some, and why."""

    cells: str
    why: str


@dataclass(frozen=True)
class BroughtIn:
    """What a file of breaks says.

    Attributes
    ----------
    tables : found in it. rows : its pieces. questions : what a person must say; what hangs on them is None.
    refused : what looks like pieces and is none. writing : how its texts are written.
    """

    tables: tuple[Table, ...]
    rows: tuple[Row, ...]
    questions: tuple[Question, ...]
    refused: tuple[Refused, ...]
    writing: Writing
    legend: Mapping[str, Meaning] = field(default_factory=dict)


class About(StrEnum):
    """What a question is about."""

    UNIT = "unit"
    MARK = "decimal mark"
    ORDER = "day and month"
    COLOUR = "colour"
    ZERO = "zero"
    WORD = "word"
    HELD_AT = "held at"
    NAME = "name"
    LABEL = "label"
    MATRIX = "piece or mean"
    HIDDEN = "hidden"
    FRACTION = "fraction"


_FORCES: Final = ("lbf", "kgf", "N", "kN")
_STRESSES: Final = ("psi", "MPa")


def bring_in(book: Book, answers: Answers, only_sheet: str = "", said: Corrections = NONE) -> BroughtIn:
    """Return what a file says, and what must be asked of it.

    Parameters
    ----------
    answers : to questions asked before. only_sheet : the one sheet that is read; empty for all. said : what a person
        said of columns, rows and cells.

    Raises
    ------
    EntryError : there is no such sheet, or an answer is none of the choices.
    """
    sheets = [one for one in book.sheets if not only_sheet or fold(one.name) == fold(only_sheet)]
    if only_sheet and not sheets:
        raise EntryError(
            f"There is no sheet “{only_sheet}”.",
            f"There are: {', '.join(one.name for one in book.sheets)}.",
            field="sheet",
        )
    writing = _settle_writing(sheets, answers)
    tables = [table for sheet in sheets for table in find_tables(sheet, said)]
    return _Reader(sheets, tables, writing, answers, said).read()


def _settle_writing(sheets: Sequence[Sheet], answers: Answers) -> Writing:
    texts = [text for sheet in sheets for _, text in sheet.list_texts()]
    mark = settle_mark(text for text in texts if not has_slashes(text) and not _looks_like_date(text))
    order = settle_order(texts)
    if (answer := answers.find(About.MARK)) is not None:
        mark = Mark(answer) if answer in (Mark.POINT, Mark.COMMA) else mark
    if (answer := answers.find(About.ORDER)) is not None:
        order = DayOrder(answer) if answer in (DayOrder.DAY_FIRST, DayOrder.MONTH_FIRST) else order
    return Writing(mark, order)


def _looks_like_date(text: str) -> bool:
    return any(sign in text for sign in ".-") and find_date(text, DayOrder.UNSETTLED) is not None


class _Reader:
    """Reads one file once, gathering what must be asked."""

    def __init__(
        self,
        sheets: Sequence[Sheet],
        tables: Sequence[Table],
        writing: Writing,
        answers: Answers,
        said: Corrections,
    ) -> None:
        self._sheets, self._tables = sheets, tables
        self._writing, self._answers, self._said = writing, answers, said
        self._questions: list[Question] = []
        self._refused: list[Refused] = []

    def read(self) -> BroughtIn:
        with_pieces = self._keep_pieces()
        several = len({table.sheet.name for _, table in with_pieces}) > 1
        pieces = [
            piece
            for number, table in with_pieces
            for piece in read_pieces(table, number, self._writing, sheet_factor=several, said=self._said)
        ]
        pieces = self._take_names(pieces)
        legend = self._read_fills(pieces)
        pieces = self._leave_out_hidden(pieces)
        self._ask_writing(pieces)
        self._ask_labels(pieces)
        rows = [row for piece in pieces if (row := self._make_row(piece, legend)) is not None]
        self._ask_entries(pieces)
        self._ask_units(pieces)
        self._ask_fractions(pieces)
        return BroughtIn(
            tuple(self._tables), tuple(rows), tuple(self._questions), tuple(self._refused), self._writing, legend
        )

    def _ask(self, about: About, subject: str, cells: Sequence[str], choices: Sequence[str], words: str) -> str | None:
        """Return the answer to a question; where there is none, ask it once."""
        answer = self._answers.find(about, subject)
        if answer is not None:
            return answer
        if all((one.about, fold(one.subject)) != (about, fold(subject)) for one in self._questions):
            self._questions.append(Question(about, subject, _say_cells(cells), tuple(choices), words))
        return None

    def _keep_pieces(self) -> list[tuple[int, Table]]:
        """Return the tables that hold pieces: a matrix of means holds none, one that does not say is asked about."""
        found = []
        for number, table in enumerate(self._tables):
            if table.layout is Layout.NONE:
                continue
            levels = table.with_role(Role.LEVEL)
            cells = "" if not levels or not table.rows else table.sheet.name_range(
                (table.rows[0], levels[0].at), (table.rows[-1], levels[-1].at)
            )  # fmt: skip
            means = is_matrix_of_means(table)
            if means is None:
                answer = self._ask(
                    About.MATRIX, table.sheet.name, [cells], ("piece", "mean"),
                    "Is each of these cells one piece, or the average of several?",
                )  # fmt: skip
                means = None if answer is None else answer == "mean"
            if means:
                self._refused.append(Refused(cells, "means"))
            if means is False:
                found.append((number, table))
        return [(number, table) for number, table in found if holds_pieces(table, self._writing, self._said)]

    def _take_names(self, pieces: Sequence[Piece]) -> list[Piece]:
        """Return the pieces with names that are one written alike, as answered; others are asked about."""
        by_sets = self._unify([piece.set_name for piece in pieces], lambda piece: [piece.set_name], pieces)
        found = [
            piece if (name := by_sets.get(fold(piece.set_name), piece.set_name)) == piece.set_name
            else replace(piece, set_name=name)
            for piece in pieces
        ]  # fmt: skip
        factors = list(dict.fromkeys(fold(name) for piece in pieces for name in piece.factors))
        for factor in factors:
            levels = [level for piece in pieces for name, level in piece.factors.items() if fold(name) == factor]
            taken = self._unify(
                levels,
                lambda piece, f=factor: [v for n, v in piece.factors.items() if fold(n) == f],
                pieces,
            )
            found = [
                replace(
                    piece,
                    factors={
                        name: taken.get(fold(level), level) if fold(name) == factor else level
                        for name, level in piece.factors.items()
                    },
                )
                for piece in found
            ]
        return found

    def _unify(self, names: Sequence[str], of: object, pieces: Sequence[Piece]) -> dict[str, str]:
        """Return by its folded form how each name is taken."""
        first: dict[str, str] = {}
        counts: Counter[str] = Counter()
        for name in names:
            if name:
                first.setdefault(fold(name), name)
                counts[first[fold(name)]] += 1
        together: dict[tuple[int, str], list[str]] = {}
        for piece in pieces:
            if self._tables[piece.table].layout in (Layout.WIDE, Layout.COLUMNS):
                block = piece.factors.get("block", "")
                together.setdefault((piece.table, block), []).extend(of(piece))  # type: ignore[operator]
        alike: list[Likeness] = find_alike(dict(counts), [list(dict.fromkeys(one)) for one in together.values()])
        for one in alike:
            cells = [piece.cell for piece in pieces if one.name in of(piece)]  # type: ignore[operator]
            cells = cells or [piece.cell for piece in pieces if fold(one.name) in map(fold, of(piece))]  # type: ignore[operator]
            answer = self._ask(
                About.NAME, one.name, cells, (one.likelier, "its own"),
                f"Is “{one.name}” the same as “{one.likelier}”?",
            )  # fmt: skip
            if answer is not None and fold(answer) != "its own":
                first[fold(one.name)] = answer
        return first

    def _read_fills(self, pieces: Sequence[Piece]) -> dict[str, Meaning]:
        """Return what each fill means, by a legend or by an answer; others on single pieces are asked about."""
        legend = find_legend(self._sheets, self._tables)
        for fill, mine in list_single_fills(pieces, self._tables).items():
            if fill in legend:
                continue
            answer = self._ask(
                About.COLOUR, fill, [piece.cell for piece in mine], ("torn 100", "set aside", "nothing"),
                "What does this colour say of the pieces that it stands on?",
            )  # fmt: skip
            if answer is not None:
                legend[fill] = read_meaning(answer) or Meaning()
        return legend

    def _leave_out_hidden(self, pieces: Sequence[Piece]) -> list[Piece]:
        hidden = [piece for piece in pieces if piece.is_hidden]
        if not hidden:
            return list(pieces)
        answer = self._ask(
            About.HIDDEN, "", [piece.cell for piece in hidden], ("read", "leave out"),
            "Hidden rows or columns hold pieces: do they count?",
        )  # fmt: skip
        return [piece for piece in pieces if not piece.is_hidden] if answer == "leave out" else list(pieces)

    def _ask_writing(self, pieces: Sequence[Piece]) -> None:
        if self._writing.mark is Mark.UNSETTLED:
            cells = [piece.cell for piece in pieces if piece.entry.doubt is Doubt.MARK]
            if cells:
                self._ask(
                    About.MARK, "", cells, (Mark.POINT, Mark.COMMA),
                    "Which mark stands before the decimals? 1,500 may be fifteen hundred, or one and a half.",
                )  # fmt: skip
        if self._writing.order is DayOrder.UNSETTLED:
            cells = [
                table.sheet.name_of(place)
                for table in self._tables
                for place in _list_date_places(table)
                if has_slashes(table.sheet.text(place))
            ]
            if cells:
                self._ask(
                    About.ORDER, "", cells, (DayOrder.DAY_FIRST, DayOrder.MONTH_FIRST),
                    "Is the first number of these dates the day or the month?",
                )  # fmt: skip

    def _ask_labels(self, pieces: Sequence[Piece]) -> None:
        """Ask about labels that stand twice in one set: another try, or two pieces?"""
        seen: dict[tuple[str, str, str], list[Piece]] = {}
        for piece in pieces:
            if piece.label and self._tables[piece.table].layout is Layout.TALL:
                made = "|".join(f"{name}={fold(level)}" for name, level in sorted(piece.factors.items()))
                seen.setdefault((fold(piece.set_name), made, fold(piece.label)), []).append(piece)
        for twice in seen.values():
            if len(twice) > 1:
                self._ask(
                    About.LABEL, twice[0].label, [piece.cell for piece in twice], ("another try", "two pieces"),
                    f"“{twice[0].label}” stands {len(twice)} times in {twice[0].set_name or 'one set'}: the same piece "
                    "loaded again, or two pieces?",
                )  # fmt: skip

    def _make_row(self, piece: Piece, legend: Mapping[str, Meaning]) -> Row | None:
        entry = piece.entry
        value, outcome, excluded, note = entry.value, entry.outcome, "", piece.note
        if entry.doubt is Doubt.ZERO:
            answer = self._answers.find(About.ZERO)
            if answer == "not tested":
                return None
            outcome = Outcome.FELL_APART if answer == "fell apart" else None
        elif entry.doubt is Doubt.WORD:
            answer = self._answers.find(About.WORD, entry.word)
            if answer == "not tested":
                return None
            outcome = {"fell apart": Outcome.FELL_APART, "held": Outcome.HELD}.get(answer or "")
            excluded = entry.word if answer == "set aside" else ""
        elif entry.doubt is Doubt.HELD_AT and (answer := self._answers.find(About.HELD_AT, entry.word)):
            value = _as_number(answer)
        if piece.outcome_word and outcome is Outcome.BROKE:
            outcome = _read_outcome(piece.outcome_word) or outcome
        unit = piece.unit.symbol if piece.unit else self._answered_unit(piece.quantity)
        torn = piece.torn_pct
        if (meaning := legend.get(piece.fill)) is not None and (piece.fill or _tells_torn(legend)):
            torn = meaning.torn_pct if torn is None else torn
            excluded = meaning.excluded or excluded
        return Row(
            piece=piece,
            set_name=piece.set_name,
            factors=piece.factors,
            quantity=piece.quantity,
            value=value,
            unit=unit if value is not None else None,
            held=entry.held,
            outcome=outcome,
            torn_pct=torn,
            sizes_mm=self._sizes_of(piece),
            broken_on=piece.broken_on,
            excluded=excluded,
            is_hidden=piece.is_hidden,
            note=note,
            label=piece.label,
        )

    def _answered_unit(self, quantity: str) -> str | None:
        answer = self._answers.find(About.UNIT, quantity)
        found = name_unit(answer) if answer else None
        return found.symbol if found else None

    def _sizes_of(self, piece: Piece) -> dict[str, float | None]:
        """Return the sizes of a piece; a fraction that became a date is read again where it was answered."""
        found = dict(piece.sizes_mm)
        table, row = self._tables[piece.table], piece.place[0]
        for column in table.with_role(Role.SIZE):
            cell = table.sheet.cell((row, column.at))
            name = column.heading.name
            if cell is None or found.get(name) is not None:
                continue
            if isinstance(cell.value, date):
                if self._answers.find(About.FRACTION) is not None:
                    unit = column.unit or UNITS["in"]
                    over, under = as_fraction(cell.value)
                    found[name] = over / under * unit.si
            elif (answer := self._answers.find(About.UNIT, name)) and (said := name_unit(answer)):
                found[name] = read_size(cell, said, self._writing.mark)
        return found

    def _ask_entries(self, pieces: Sequence[Piece]) -> None:
        zeros = [piece.cell for piece in pieces if piece.entry.doubt is Doubt.ZERO]
        if zeros:
            self._ask(
                About.ZERO,
                "",
                zeros,
                ("fell apart", "not tested"),
                "A load of 0: did the piece fall apart, or was it not tested?",
            )
        for doubt, about, choices, words in (
            (
                Doubt.WORD,
                About.WORD,
                ("not tested", "fell apart", "held", "set aside"),
                "What does “{}” among the loads mean?",
            ),
            (Doubt.HELD_AT, About.HELD_AT, (), "“{}”: what load was on when it was given up?"),
        ):
            by_word: dict[str, list[Piece]] = {}
            for piece in pieces:
                if piece.entry.doubt is doubt:
                    by_word.setdefault(fold(piece.entry.word), []).append(piece)
            for mine in by_word.values():
                word = mine[0].entry.word
                self._ask(about, word, [piece.cell for piece in mine], choices, words.format(word))

    def _ask_units(self, pieces: Sequence[Piece]) -> None:
        for quantity, choices in (("load", _FORCES), ("stress", _STRESSES)):
            cells = [
                piece.cell
                for piece in pieces
                if piece.unit is None and piece.quantity == quantity and piece.entry.value is not None
            ]
            if cells:
                self._ask(
                    About.UNIT, quantity, cells, choices, f"In which unit are these {quantity}s? None is written."
                )
        unsaid: dict[str, list[str]] = {}
        for piece in pieces:
            table = self._tables[piece.table]
            for column in table.with_role(Role.SIZE):
                cell = table.sheet.cell((piece.place[0], column.at))
                if (
                    cell is not None
                    and not isinstance(cell.value, date)
                    and piece.sizes_mm.get(column.heading.name) is None
                ) and read_size(cell, UNITS["mm"], self._writing.mark) is not None:
                    unsaid.setdefault(column.heading.name, []).append(table.sheet.name_of((piece.place[0], column.at)))
        for name, cells in unsaid.items():
            self._ask(About.UNIT, name, cells, ("mm", "in", "cm"), f"In which unit is the {name}? None is written.")

    def _ask_fractions(self, pieces: Sequence[Piece]) -> None:
        found: dict[str, str] = {}
        for piece in pieces:
            table = self._tables[piece.table]
            for column in table.with_role(Role.SIZE):
                place = (piece.place[0], column.at)
                cell = table.sheet.cell(place)
                if cell is not None and isinstance(cell.value, date):
                    found[table.sheet.name_of(place)] = "/".join(map(str, as_fraction(cell.value)))
        if found:
            fractions = tuple(dict.fromkeys(found.values()))
            self._ask(
                About.FRACTION, "", list(found), fractions,
                "Dates among sizes: a spreadsheet makes a date of a fraction. Were these typed as "
                f"{', '.join(fractions)}?",
            )  # fmt: skip


def as_fraction(day: date) -> tuple[int, int]:
    """Return the shop fraction that a spreadsheet made a date of: the one whose lower number is a power of two.

    Examples
    --------
    >>> as_fraction(date(2026, 3, 4)), as_fraction(date(2026, 4, 3))
    ((3, 4), (3, 4))
    """
    ways = ((day.month, day.day), (day.day, day.month))
    return next((way for way in ways if way[1] in (2, 4, 8, 16) and way[0] < way[1]), ways[0])


def _tells_torn(legend: Mapping[str, Meaning]) -> bool:
    """Return whether fills tell torn wood, so that a piece without one has what the legend says of none."""
    return NO_FILL in legend and any(one.torn_pct is not None for fill, one in legend.items() if fill)


def _read_outcome(word: str) -> Outcome | None:
    words = fold(word)
    if words in ("held", "dnb", "did not break", "unbroken"):
        return Outcome.HELD
    if words in ("fell apart", "fell off", "fell_apart"):
        return Outcome.FELL_APART
    return Outcome.BROKE if words in ("broke", "broken") else None


def _as_number(text: str) -> float | None:
    try:
        return float(text.replace(",", "."))
    except ValueError:
        return None


def _list_date_places(table: Table) -> Iterator[tuple[int, int]]:
    for row in table.rows:
        for column in (*table.with_role(Role.DATE), *table.with_role(Role.GLUED)):
            yield row, column.at


_MOST_CELLS_SAID: Final = 12


def _say_cells(cells: Sequence[str]) -> str:
    """Return cells in a line, runs of a row or a column as ranges."""
    if len(cells) <= _MOST_CELLS_SAID:
        return ", ".join(cells)
    return f"{', '.join(cells[:_MOST_CELLS_SAID])} and {len(cells) - _MOST_CELLS_SAID} more"
