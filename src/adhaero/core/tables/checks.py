"""The arithmetic of a file, recomputed from its pieces: what agrees, what differs and why, and what stays open."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Final

from adhaero.core.tables.arithmetic import compute, decimals_of, is_close, is_cut, is_rounded
from adhaero.core.tables.bring_in import BroughtIn, Row
from adhaero.core.tables.formulas import read_references
from adhaero.core.tables.grid import Cell, Place
from adhaero.core.tables.headings import Role, Summary
from adhaero.core.tables.layout import Layout, Table
from adhaero.core.tables.names import fold
from adhaero.core.tables.numerals import count_decimals, read_number
from adhaero.core.tables.pieces import Piece
from adhaero.core.tables.slips import WHY_WORDS, Fits, Line, Why, choose_for_line, explain_by_formula, explain_by_values
from adhaero.core.tables.summaries import Figure, SummaryCell, list_summaries, names_alike
from adhaero.core.tables.units import UNITS, Unit, find_area_mm2


class Standing(StrEnum):
    """How a number of a file stands to its pieces."""

    AGREES = "agrees"
    DIFFERS = "differs"
    OPEN = "open"


@dataclass(frozen=True)
class Check:
    """One cell that computes something, held against its pieces.

    Attributes
    ----------
    cell, kind, of : where it stands, what it computes, and of which cells. shown, computed : both numbers.
    why, words : what makes it differ; empty where it does not.
    """

    cell: str
    kind: str
    of: str
    shown: float | None
    computed: float | None
    standing: Standing
    why: str = ""
    words: str = ""


def check_arithmetic(found: BroughtIn) -> list[Check]:
    """Return every summary of a file, and every load or stress said twice, as it stands to the pieces."""
    return _Checker(found).check()


@dataclass(frozen=True)
class _Range:
    """What an input of a summary of summaries may be: exact, or anything that rounds to what is shown."""

    low: float
    high: float


@dataclass(frozen=True)
class _Slip:
    """A summary that differs: both numbers, and the explanations that give the one shown, the first ones first."""

    cell: SummaryCell
    shown: float
    exact: float
    ways: list[Why]


class _Checker:
    def __init__(self, found: BroughtIn) -> None:
        self._found = found
        self._mark = found.writing.mark
        self._rows = {(row.piece.table, row.piece.place): row for row in found.rows}
        self._by_table: dict[int, dict[Place, Piece]] = {}
        for row in found.rows:
            self._by_table.setdefault(row.piece.table, {})[row.piece.place] = row.piece
        self._checks: list[Check] = []
        self._known: dict[tuple[str, Place], _Range] = {}

    def check(self) -> list[Check]:
        cells = [
            self._with_known(one)
            for number, table in enumerate(self._found.tables)
            for one in list_summaries(number, table, self._by_table.get(number, {}))
        ]
        lines: dict[tuple[object, ...], list[SummaryCell]] = {}
        for one in cells:
            lines.setdefault((one.line, one.kind), []).append(one)
        for mine in lines.values():
            self._check_line(Line(mine))
        self._check_means()
        for number, table in enumerate(self._found.tables):
            self._check_twins(number, table)
        return self._checks

    def _with_known(self, one: SummaryCell) -> SummaryCell:
        """Return a summary with the torn wood and the numbers that answers gave."""
        scope = []
        for figure in one.scope:
            row = self._rows.get((one.number, figure.place))
            if row is None or one.is_of_summaries:
                scope.append(figure)
            else:
                scope.append(
                    replace(figure, torn_pct=row.torn_pct, value=row.value if row.value is not None else figure.value)
                )
        return replace(one, scope=tuple(scope))

    # -- reading what is shown

    def _shown(self, cell: Cell) -> float | None:
        if cell.is_error:
            return None
        if cell.number is not None:
            return cell.number
        return read_number(cell.text.replace("%", "").strip(), self._mark) if cell.text else None

    def _decimals(self, line: Sequence[SummaryCell]) -> int:
        return max((self._decimals_of(one.cell) for one in line if not one.cell.formula), default=0)

    def _decimals_of(self, cell: Cell) -> int:
        if cell.number is not None:
            return decimals_of(cell.number)
        return count_decimals(cell.text.replace("%", ""), self._mark) if cell.text else 0

    def _fits(self, cell: Cell, decimals: int, scale: float = 1.0) -> Fits:
        shown = self._shown(cell)
        if shown is None:
            return lambda _: False
        value = shown * scale

        def fits(exact: float | None) -> bool:
            if exact is None:
                return False
            return is_close(value, exact) if cell.formula else is_rounded(value, exact, decimals)

        return fits

    # -- summaries of pieces

    def _check_line(self, line: Line) -> None:
        """Check summaries of a kind together: what is wrong with several of them is likely one thing."""
        wrong = [slip for one in line.cells if (slip := self._check_summary(one, line)) is not None]
        for slip, why in zip(wrong, choose_for_line([slip.ways for slip in wrong]), strict=True):
            self._note(slip.cell, slip.shown, slip.exact, Standing.DIFFERS, why)

    def _check_summary(self, one: SummaryCell, line: Line) -> "_Slip | None":
        """Note a summary that agrees or stays open; return one that differs, with what could explain it."""
        shown = self._shown(one.cell)
        if shown is None or one.kind is Summary.UNSAID:
            self._note(one, shown, None, Standing.OPEN)
            return None
        if one.kind in (Summary.KEPT, Summary.LOST):
            self._check_share(one, line)
            return None
        if one.kind is Summary.ADJUSTED:
            self._check_adjusted(one, line)
            return None
        if one.kind is Summary.CREDIT:
            return self._check_credit(one, line)
        one = self._in_its_unit(one)
        scale = 100.0 if one.cell.percent and one.kind is Summary.CV else 1.0
        decimals = self._decimals(line.cells)
        fits = self._fits(one.cell, decimals, scale)
        numbers = [figure.value for figure in one.scope if figure.value is not None]
        exact = compute(one.kind, numbers, population=one.population, middle=one.middle)
        if exact is None:
            self._note(one, shown, None, Standing.OPEN)
            return None
        if fits(exact) or any(fits(other) for other in self._others(one)):
            self._note(one, shown, exact, Standing.AGREES)
            return None
        why = explain_by_formula(one, line, fits)
        if why is not None:
            return _Slip(one, shown, exact, [why])
        by_formula = self._covers_its_pieces(one)
        return _Slip(one, shown, exact, list(explain_by_values(one, shown, fits, decimals, by_formula=by_formula)))

    def _covers_its_pieces(self, one: SummaryCell) -> bool:
        return bool(one.cell.formula) and bool(read_references(one.cell.formula, one.table.sheet.name).places)

    def _others(self, one: SummaryCell) -> Iterator[float]:
        """Return what else a summary may rightly be: of what is shown instead of recomputed, of all pieces."""
        if one.kind is Summary.COUNT:
            # how many stand there, numbers or words
            there = sum(self._cell_at(one, figure.place) is not None for figure in one.scope)
            yield float(there)
            yield float(sum(figure.value is not None and not figure.is_text for figure in one.scope))
        if one.is_of_summaries and one.kind is Summary.MEAN:
            rows = {figure.place[0] for figure in one.scope}
            pieces = [
                row.value for row in self._rows.values()
                if row.piece.table == one.number and row.piece.place[0] in rows and row.value is not None
            ]  # fmt: skip
            if pieces:
                yield sum(pieces) / len(pieces)
        shown = self._shown_twins(one)
        if shown:
            exact = compute(one.kind, shown, population=one.population, middle=one.middle)
            if exact is not None:
                yield exact
        # what hangs on a question agrees when some answer makes it agree: a 0 that was not tested
        zeros = [figure for figure in one.scope if figure.value == 0]
        if zeros:
            rest = [figure.value for figure in one.scope if figure.value]
            exact = compute(one.kind, rest, population=one.population, middle=one.middle)
            if exact is not None:
                yield exact

    def _cell_at(self, one: SummaryCell, place: Place) -> Cell | None:
        return one.table.sheet.cell(place)

    def _in_its_unit(self, one: SummaryCell) -> SummaryCell:
        """Return a summary of loads in the unit of its heading: converted, or of the stresses beside them."""
        if one.unit is None or one.is_of_summaries:
            return one
        scope = []
        for figure in one.scope:
            row = self._rows.get((one.number, figure.place))
            if row is None or figure.value is None:
                scope.append(figure)
                continue
            value = figure.value
            own = row.piece.unit
            if own is not None and own.symbol != one.unit.symbol:
                if own.measure is one.unit.measure:
                    value = figure.value * own.si / one.unit.si
                else:
                    stress = self._stress_of(row)
                    twin = next((place for place, kind, _ in row.piece.twins if kind == "stress"), None)
                    if stress is None or twin is None:
                        scope.append(replace(figure, value=None))
                        continue
                    scope.append(replace(figure, place=twin, value=stress / one.unit.si))
                    continue
            scope.append(replace(figure, value=value))
        return replace(one, scope=tuple(scope))

    def _shown_twins(self, one: SummaryCell) -> list[float]:
        """Return the numbers that stand in the scope of a summary, as shown."""
        cells = [one.table.sheet.cell(figure.place) for figure in one.scope]
        if any(cell is not None and cell.number is None and cell.text for cell in cells):
            return []
        return [cell.number for cell in cells if cell is not None and cell.number is not None]

    def _check_credit(self, one: SummaryCell, line: Line) -> "_Slip | None":
        shown = self._shown(one.cell)
        known = [figure.torn_pct for figure in one.scope if figure.torn_pct is not None]
        if not known or shown is None:
            self._note(one, shown, None, Standing.OPEN)
            return None
        exact, decimals = sum(known), self._decimals(line.cells)
        fits = self._fits(one.cell, decimals)
        if fits(exact):
            self._note(one, shown, exact, Standing.AGREES)
            return None
        of_torn = replace(one, scope=tuple(Figure(figure.place, figure.torn_pct) for figure in one.scope))
        return _Slip(one, shown, exact, list(explain_by_values(of_torn, shown, fits, decimals, by_formula=False)))

    def _check_adjusted(self, one: SummaryCell, line: Line) -> None:
        """Check mean + sum of the credits ÷ pieces, of the two as recomputed or as they stand beside it."""
        shown = self._shown(one.cell)
        numbers = [figure.value for figure in one.scope if figure.value is not None]
        torn = [figure.torn_pct for figure in one.scope if figure.torn_pct is not None]
        n = len(numbers)
        means = [*([sum(numbers) / n] if n else []), *self._beside(one, Summary.MEAN)]
        credits = [*([sum(torn)] if torn else []), *self._beside(one, Summary.CREDIT)]
        if not means or not credits or shown is None or not n:
            self._note(one, shown, None, Standing.OPEN)
            return
        fits = self._fits(one.cell, self._decimals(line.cells))
        exact = means[0] + credits[0] / n
        if any(fits(mean + credit / n) for mean in means for credit in credits):
            self._note(one, shown, exact, Standing.AGREES)
            return
        why = explain_by_formula(one, line, fits) if not one.cell.formula else None
        if why is None and any(fits(mean + credit) for mean in means for credit in credits):
            why = Why.SUM_FOR_MEAN
        if why is None and any(fits(mean) for mean in means):
            why = Why.LEFT_OUT
        self._note(one, shown, exact, Standing.DIFFERS, why or Why.UNKNOWN)

    def _beside(self, one: SummaryCell, kind: Summary) -> list[float]:
        """Return what stands in the summaries of another kind in the row of one."""
        found = []
        for column in one.table.with_role(Role.SUMMARY):
            if column.heading.summary is kind and (cell := one.table.sheet.cell((one.place[0], column.at))) is not None:
                shown = self._shown(cell)
                if shown is not None:
                    found.append(shown)
        return found

    # -- what is kept and lost

    def _check_share(self, one: SummaryCell, line: Line) -> None:
        base, now = self._find_sides(one)
        self._judge_share(one, line, base, now)

    def _judge_share(self, one: SummaryCell, line: Line, base: list[_Range], now: list[_Range]) -> None:
        shown = self._shown(one.cell)
        if not base or not now or shown is None or base[0].low == 0:
            self._note(one, shown, None, Standing.OPEN)
            return
        decimals = self._decimals(line.cells)
        value = 100 * shown if one.cell.percent else shown
        kept = one.kind is Summary.KEPT
        give = 1e-5 * max(abs(value), 1e-9) if one.cell.formula else 0.5 * 10.0**-decimals * (1 + 1e-9)

        def reaches(low: float, high: float) -> bool:
            return low - give <= value <= high + give

        def share(first: _Range, second: _Range) -> tuple[float, float]:
            return 100 * first.low / second.high, 100 * first.high / second.low

        exact = 100 * now[0].low / base[0].low
        exact = exact if kept else 100 - exact
        pairs = [(b, n) for b in base for n in now if b.low > 0 and n.low > 0]
        for b, n in pairs:
            low, high = share(n, b)
            if reaches(low, high) if kept else reaches(100 - high, 100 - low):
                self._note(one, shown, exact, Standing.AGREES)
                return
        why = Why.UNKNOWN
        if not one.cell.formula and line.has_formulas(one):
            why = Why.TYPED_OVER
        else:
            for b, n in pairs:
                low, high = share(n, b)
                turned_low, turned_high = share(b, n)
                ways = (
                    [(100 - high, 100 - low), (turned_low, turned_high), (turned_low - 100, turned_high - 100)]
                    if kept
                    else [
                        (low, high),
                        (100 - turned_high, 100 - turned_low),
                        (turned_low, turned_high),
                        (turned_low - 100, turned_high - 100),
                    ]
                )
                if any(reaches(*way) for way in ways):
                    why = Why.SWAPPED
                    break
            else:
                if is_cut(value, exact, decimals):
                    why = Why.CUT_OFF
        self._note(one, shown, exact, Standing.DIFFERS, why)

    def _find_sides(self, one: SummaryCell) -> tuple[list[_Range], list[_Range]]:
        """Return what the base and the rest of a share may be: the means of two conditions, recomputed or as shown."""
        conditions = self._conditions_of(one)
        if len(conditions) < 2:
            return [], []
        names = list(conditions)
        base = next((name for name in names if one.of and names_alike(one.of, name)), names[0])
        others = [name for name in names if name != base]
        if fold(one.set_name) in map(fold, names):
            # a set against another: “% of solid”
            now = next((name for name in others if fold(name) == fold(one.set_name)), others[-1])
            return self._means_of(one, conditions, base), self._means_of(one, conditions, now)
        alike = [c for c in one.table.with_role(Role.SUMMARY) if c.heading.summary is one.kind]
        turn = next((at for at, c in enumerate(alike) if c.at == one.place[1]), 0)
        now = one.own if one.own and one.own != base else (others[turn] if turn < len(others) else others[-1])
        if not one.own and one.table.block and one.table.block in names and one.table.block != base:
            now = one.table.block
        return self._means_of(one, conditions, base), self._means_of(one, conditions, now)

    def _conditions_of(self, one: SummaryCell) -> dict[str, list[float]]:
        """Return the numbers of a summary's set by condition, in the order of the file."""
        found: dict[str, list[float]] = {}
        if one.of and any(names_alike(one.of, row.set_name) for row in self._found.rows):
            return self._sets_beside(one)
        for row in self._found.rows:
            if fold(row.set_name) != fold(one.set_name) or row.value is None:
                continue
            name = row.factors.get("block") or row.factors.get("sheet") or next(iter(row.factors.values()), "")
            found.setdefault(name, []).append(row.value)
        return found

    def _sets_beside(self, one: SummaryCell) -> dict[str, list[float]]:
        """Return the numbers of a summary's set and of the one that its heading names, “% of solid”, in its block."""
        found: dict[str, list[float]] = {}
        for row in self._found.rows:
            mine = fold(row.set_name) == fold(one.set_name) or names_alike(one.of, row.set_name)
            if mine and row.value is not None and row.piece.table == one.number:
                found.setdefault(row.set_name, []).append(row.value)
        if len(found) == 1:
            # the base against itself
            found |= {f"{name} ": numbers for name, numbers in found.items()}
        return found

    def _means_of(self, one: SummaryCell, conditions: Mapping[str, list[float]], name: str) -> list[_Range]:
        numbers = conditions[name]
        mean = sum(numbers) / len(numbers)
        found = [_Range(mean, mean)]
        for column in one.table.with_role(Role.SUMMARY, Role.LEVEL):
            heading = column.heading
            if column.role is Role.SUMMARY and heading.summary is not Summary.MEAN:
                continue
            alike = [
                other for other in one.table.with_role(Role.SUMMARY)
                if other.heading.summary is Summary.MEAN and other.heading.name
            ]  # fmt: skip
            named = names_alike(heading.name or heading.text, name) or (
                column in alike and len(alike) == len(conditions) and list(conditions)[alike.index(column)] == name
            )
            cell = one.table.sheet.cell((one.place[0], column.at))
            if named and cell is not None and (shown := self._shown(cell)) is not None:
                give = 0.0 if cell.formula else 0.5 * 10.0 ** -self._column_decimals(one.table, column.at)
                found.append(_Range(shown - give, shown + give))
        return found

    def _column_decimals(self, table: Table, at: int) -> int:
        cells = [cell for row in table.rows if (cell := table.sheet.cell((row, at))) is not None]
        return max((self._decimals_of(cell) for cell in cells if not cell.formula), default=0)

    # -- a table of means

    def _check_means(self) -> None:
        """Check tables of averages: each mean against its pieces, what is kept and lost against the means."""
        for number, table in enumerate(self._found.tables):
            if table.layout is not Layout.MATRIX or number in self._by_table:
                continue
            set_column = table.first(Role.SET)
            levels, summaries = table.with_role(Role.LEVEL), table.with_role(Role.SUMMARY)
            if set_column is None:
                continue
            cells: list[SummaryCell] = []
            for column in (*levels, *summaries):
                for row in table.rows:
                    cell = table.sheet.cell((row, column.at))
                    if cell is None or table.read_summary_of(row) is not None:
                        continue
                    name = table.sheet.text((row, set_column.at))
                    kind = Summary.MEAN if column in levels else column.heading.summary
                    scope = self._pieces_named(name, column.heading.text) if column in levels else ()
                    cells.append(
                        SummaryCell(
                            number, table, (row, column.at), cell, kind, scope, (number, "down", column.at),
                            of=column.heading.name, set_name=name,
                        )
                    )  # fmt: skip
            lines: dict[tuple[object, ...], list[SummaryCell]] = {}
            for one in cells:
                lines.setdefault(one.line, []).append(one)
            for one in cells:
                line = Line(lines[one.line])
                if one.kind in (Summary.KEPT, Summary.LOST):
                    self._check_share(one, line)
                elif one.scope:
                    self._check_mean_elsewhere(one, line)
                else:
                    self._note(one, self._shown(one.cell), None, Standing.OPEN)

    def _pieces_named(self, set_name: str, condition: str) -> tuple[Figure, ...]:
        return tuple(
            Figure(row.piece.place, row.value)
            for row in self._found.rows
            if fold(row.set_name) == fold(set_name)
            and row.value is not None
            and any(names_alike(condition, level) for level in row.factors.values())
        )

    def _check_mean_elsewhere(self, one: SummaryCell, line: Line) -> None:
        numbers = [figure.value for figure in one.scope if figure.value is not None]
        exact, shown = sum(numbers) / len(numbers), self._shown(one.cell)
        fits = self._fits(one.cell, self._decimals(line.cells))
        if fits(exact):
            self._note(one, shown, exact, Standing.AGREES)
        elif one.cell.formula:
            # it shows what stands elsewhere: a slip there is told there
            self._note(one, shown, exact, Standing.OPEN)
        else:
            ways = list(explain_by_values(one, shown, fits, self._decimals(line.cells), by_formula=True))
            self._note(one, shown, exact, Standing.DIFFERS, choose_for_line([ways])[0])

    # -- loads and stresses said twice

    def _check_twins(self, number: int, table: Table) -> None:
        rows = [row for row in self._found.rows if row.piece.table == number and row.piece.twins]
        columns: dict[int, list[tuple[Row, Place, str, Unit | None]]] = {}
        for row in rows:
            for place, kind, unit in row.piece.twins:
                columns.setdefault(place[1], []).append((row, place, kind, unit))
        for mine in columns.values():
            self._check_twin_column(table, mine)

    def _check_twin_column(self, table: Table, mine: Sequence[tuple[Row, Place, str, Unit | None]]) -> None:
        cells = {place: table.sheet.cells[place] for _, place, _, _ in mine}
        decimals = max((self._decimals_of(cell) for cell in cells.values() if not cell.formula), default=0)
        summary_line = [
            SummaryCell(
                0, table, place, cells[place], Summary.UNSAID, (Figure(row.piece.place, row.value),), (0, "", 0)
            )
            for row, place, _, _ in mine
        ]
        line = Line(summary_line)
        ratio = None
        if mine[0][2] == "stress" and all(self._stress_of(row) is None for row, *_ in mine):
            ratio = self._find_ratio(mine, cells, decimals)
        for (row, place, kind, unit), as_summary in zip(mine, summary_line, strict=True):
            cell = cells[place]
            shown = self._shown(cell)
            exact = self._twin_of(row, kind, unit, ratio)
            name = "stress" if kind == "stress" else "unit pair"
            if shown is None or exact is None:
                self._add(table, place, name, row, shown, None, Standing.OPEN)
                continue
            fits = self._fits(cell, decimals)
            if fits(exact):
                self._add(table, place, name, row, shown, exact, Standing.AGREES)
                continue
            why = self._explain_twin(as_summary, line, fits, row, kind, unit, ratio, decimals, exact)
            self._add(table, place, name, row, shown, exact, Standing.DIFFERS, why)

    def _twin_of(
        self, row: Row, kind: str, unit: Unit | None, ratio: float | None, value: float | None = None
    ) -> float | None:
        """Return what a load comes to as a stress, or in another unit."""
        load = row.value if value is None else value
        if load is None:
            return None
        if ratio is not None and kind == "stress":
            return load / ratio
        own = UNITS.get(row.unit or "")
        if own is None:
            return None
        if kind == "stress":
            area = self._area_of(row)
            unit = unit or UNITS["psi" if own.symbol == "lbf" else "MPa"]
            return None if area is None else load * own.si / area / unit.si
        return None if unit is None else load * own.si / unit.si

    def _stress_of(self, row: Row) -> float | None:
        """Return the stress of a piece, MPa; None where its area is not known."""
        own, area = UNITS.get(row.unit or ""), self._area_of(row)
        return None if own is None or area is None or row.value is None else row.value * own.si / area

    def _area_of(self, row: Row) -> float | None:
        """Return the glued area of a piece, mm²: of its sizes, its column, or the one that its block names."""
        table = self._found.tables[row.piece.table]
        if (column := table.first(Role.AREA)) is not None:
            cell = table.sheet.cell((row.piece.place[0], column.at))
            shown = self._shown(cell) if cell is not None else None
            if shown is not None and column.unit is not None:
                return shown * column.unit.si
        sizes = row.sizes_mm
        width, other = sizes.get("width"), sizes.get("overlap") or sizes.get("length") or sizes.get("depth")
        if width and other:
            return width * other
        texts = [
            *(title.text for title in reversed(table.titles)),
            *(one.heading.text for one in table.columns),
            *(one.over for one in table.columns),
        ]
        return next((area for text in texts if (area := find_area_mm2(text)) is not None), None)

    def _find_ratio(
        self, mine: Sequence[tuple[Row, Place, str, Unit | None]], cells: Mapping[Place, Cell], decimals: int
    ) -> float | None:
        """Return the one ratio of load to stress that most pairs have; None without one."""
        ratios = sorted(
            row.value / shown for row, place, _, _ in mine if row.value and (shown := self._shown(cells[place]))
        )
        if not ratios:
            return None
        middle = ratios[len(ratios) // 2]
        fitting = sum(
            bool(row.value) and self._fits(cells[place], decimals)((row.value or 0.0) / middle)
            for row, place, _, _ in mine
        )
        close = sum(abs(one / middle - 1) < 0.01 for one in ratios)
        return middle if 2 * max(fitting, close if decimals < 2 else 0) > len(ratios) else None

    def _explain_twin(
        self, one: SummaryCell, line: Line, fits: Fits, row: Row, kind: str, unit: Unit | None, ratio: float | None,
        decimals: int, exact: float,
    ) -> Why:  # fmt: skip
        if not one.cell.formula and line.has_formulas(one):
            return Why.TYPED_OVER
        for other in self._rows_beside(row):
            if fits(self._twin_of(row, kind, unit, ratio, other)):
                return Why.NEIGHBOUR
        rough = _ROUGH.get((row.unit or "", unit.symbol), ()) if kind == "load" and unit is not None else ()
        if any(fits((row.value or 0.0) * factor) for factor in rough):
            return Why.ROUGH_FACTOR
        shown = self._shown(one.cell)
        if shown is not None and not one.cell.formula and is_cut(shown, exact, decimals):
            return Why.CUT_OFF
        return Why.UNKNOWN

    def _rows_beside(self, row: Row) -> Iterator[float]:
        """Return the loads of the rows and columns next to a piece."""
        number, (at, column) = row.piece.table, row.piece.place
        table = self._found.tables[number]
        at_row = list(table.rows).index(at)
        rows = [table.rows[index] for index in (at_row + 1, at_row - 1) if 0 <= index < len(table.rows)]
        pieces = self._by_table[number]
        columns = sorted({place[1] for place in pieces})
        turn = columns.index(column)
        places = [(other, column) for other in rows]
        places += [(at, columns[index]) for index in (turn + 1, turn - 1) if 0 <= index < len(columns)]
        for place in places:
            other = self._rows.get((number, place))
            if other is not None and other.value is not None:
                yield other.value

    # -- telling

    def _note(
        self, one: SummaryCell, shown: float | None, exact: float | None, standing: Standing, why: Why | None = None
    ) -> None:
        places = [figure.place for figure in one.scope]
        of = one.table.sheet.name_range(min(places), max(places)) if places else ""
        self._tell(one.table.sheet.name_of(one.place), one.kind.value, of, shown, exact, standing, why)

    def _add(
        self, table: Table, place: Place, kind: str, row: Row, shown: float | None, exact: float | None,
        standing: Standing, why: Why | None = None,
    ) -> None:  # fmt: skip
        self._tell(table.sheet.name_of(place), kind, row.cell, shown, exact, standing, why)

    def _tell(
        self,
        cell: str,
        kind: str,
        of: str,
        shown: float | None,
        exact: float | None,
        standing: Standing,
        why: Why | None,
    ) -> None:
        words = ""
        if standing is Standing.DIFFERS and why is not None and shown is not None and exact is not None:
            words = f"{cell} shows {shown:.6g} as {kind} of {of}; of the pieces it is {exact:.6g}: {WHY_WORDS[why]}."
        self._checks.append(Check(cell, kind, of, shown, exact, standing, why.value if why else "", words))


_ROUGH: Final[Mapping[tuple[str, str], tuple[float, ...]]] = {
    ("kgf", "lbf"): (2.2, 2.205, 2.21, 2.0),
    ("lbf", "kgf"): (1 / 2.2, 0.45, 0.454, 0.5, 0.4536, 1 / 2.205),
    ("kgf", "N"): (10.0, 9.8, 9.81),
    ("N", "kgf"): (0.1, 1 / 9.8, 1 / 9.81, 0.102),
    ("kgf", "kN"): (0.01, 0.0098, 0.00981),
    ("kN", "kgf"): (100.0, 102.0, 1 / 0.0098, 1 / 0.00981),
    ("lbf", "N"): (4.4, 4.45, 4.5, 4.448),
    ("N", "lbf"): (0.225, 0.22, 0.2248),
    ("lbf", "kN"): (0.0044, 0.00445, 0.0045, 0.004448),
    ("kN", "lbf"): (225.0, 224.8, 220.0),
}
