"""Why a summary is wrong: the first explanation that gives the number that stands there."""

from collections import Counter
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import combinations
from typing import Final

from adhaero.core.tables.arithmetic import compute, is_cut
from adhaero.core.tables.formulas import pattern_of, read_references
from adhaero.core.tables.grid import Place
from adhaero.core.tables.headings import Role, Summary
from adhaero.core.tables.summaries import Figure, SummaryCell


class Why(StrEnum):
    """What makes a number wrong."""

    TYPED_OVER = "typed_over"
    NEIGHBOUR = "neighbour"
    RANGE_PATTERN = "range_pattern"
    LEFT_OUT = "left_out"
    BLANK_AS_ZERO = "blank_as_zero"
    POPULATION = "population"
    SUM_FOR_MEAN = "sum_for_mean"
    SWAPPED = "swapped"
    ROUGH_FACTOR = "rough_factor"
    CUT_OFF = "cut_off"
    UNKNOWN = "unknown"


WHY_WORDS: Final[Mapping[Why, str]] = {
    Why.TYPED_OVER: "a number was typed over the formula",
    Why.NEIGHBOUR: "it takes a number from the next row or column",
    Why.RANGE_PATTERN: "its formula covers other cells than the ones beside it do",
    Why.LEFT_OUT: "pieces are left out: a spreadsheet skips numbers stored as text, words and bounds",
    Why.BLANK_AS_ZERO: "an empty cell counts as a 0",
    Why.POPULATION: "it divides by the number of pieces, not by one less",
    Why.SUM_FOR_MEAN: "it is off by the number of pieces: a sum for a mean",
    Why.SWAPPED: "kept and lost are swapped, or the base is turned round",
    Why.ROUGH_FACTOR: "a rough factor was used",
    Why.CUT_OFF: "it is cut off, not rounded",
    Why.UNKNOWN: "what makes it is not found",
}

Fits = Callable[[float | None], bool]


@dataclass(frozen=True)
class Line:
    """The summaries that one is compared with: those of its kind down its column, or along its row."""

    cells: Sequence[SummaryCell]

    def has_formulas(self, but: SummaryCell) -> bool:
        """Return whether most of the others are formulas."""
        others = [one for one in self.cells if one.place != but.place]
        return bool(others) and 2 * sum(bool(one.cell.formula) for one in others) > len(others)

    def usual_pattern(self) -> frozenset[Place] | None:
        """Return how most formulas refer to their cells; None where no pattern is usual."""
        patterns = Counter(
            pattern_of(read_references(one.cell.formula, one.table.sheet.name).places, one.place)
            for one in self.cells
            if one.cell.formula
        )
        if not patterns:
            return None
        pattern, times = patterns.most_common(1)[0]
        return pattern if 2 * times > sum(patterns.values()) else None


def explain_by_formula(cell: SummaryCell, line: Line, fits: Fits) -> Why | None:
    """Return what the formula of a summary, or its lack of one, shows; None where it refers to what it should."""
    if not cell.cell.formula:
        return Why.TYPED_OVER if line.has_formulas(cell) else None
    refers = read_references(cell.cell.formula, cell.table.sheet.name)
    if refers.elsewhere or not refers.places:
        return None
    scope = {one.place: one for one in cell.scope}
    missing = [place for place, one in scope.items() if place not in refers.places and one.value is not None]
    extra = [place for place in refers.places if place not in scope]
    if not missing and not any(_number_at(cell, place) is not None for place in extra):
        return None
    if missing and extra and all(_is_beside(place, missing) for place in extra):
        return Why.NEIGHBOUR
    usual = line.usual_pattern()
    if usual is not None and pattern_of(refers.places, cell.place) != usual:
        return Why.RANGE_PATTERN
    if missing and not extra:
        return Why.LEFT_OUT
    if extra and not missing and all(_is_beside(place, list(scope)) for place in extra):
        return Why.NEIGHBOUR if fits(None) is None else None
    return None


def _is_beside(place: Place, others: Sequence[Place]) -> bool:
    return any(abs(place[0] - row) + abs(place[1] - column) == 1 for row, column in others)


def _number_at(cell: SummaryCell, place: Place) -> float | None:
    found = cell.table.sheet.cell(place)
    return found.number if found is not None else None


def explain_by_values(
    cell: SummaryCell, shown: float | None, fits: Fits, decimals: int, *, by_formula: bool
) -> Iterator[Why]:
    """Return the explanations by values that give the number shown, the first ones first.

    Parameters
    ----------
    shown : what stands there. by_formula : it refers to exactly its pieces, so that it takes nothing from elsewhere.
    """
    numbers = [one.value for one in cell.scope if one.value is not None]

    def made(values: Sequence[float], *, population: bool = cell.population) -> float | None:
        return compute(cell.kind, values, population=population, middle=cell.middle)

    if not by_formula and any(fits(made(values)) for values in _list_neighbours(cell)):
        yield Why.NEIGHBOUR
    if any(fits(made(values)) for values in _list_left_out(cell, by_formula=by_formula)):
        yield Why.LEFT_OUT
    blanks = sum(one.value is None for one in cell.scope)
    if blanks and fits(made([*numbers, *([0.0] * blanks)])):
        yield Why.BLANK_AS_ZERO
    if cell.kind in (Summary.SD, Summary.CV) and fits(made(numbers, population=not cell.population)):
        yield Why.POPULATION
    exact = made(numbers)
    n = len(numbers)
    if exact is not None and n > 1 and (fits(exact * n) or fits(exact / n)):
        yield Why.SUM_FOR_MEAN
    if exact is not None and shown is not None and is_cut(shown, exact, decimals):
        yield Why.CUT_OFF


def choose_for_line(found: Sequence[Sequence[Why]]) -> list[Why]:
    """Return one explanation for each wrong number of a line: of several the one that explains most of the line.

    Examples
    --------
    >>> choose_for_line([[Why.NEIGHBOUR, Why.POPULATION], [Why.POPULATION], []])
    [<Why.POPULATION: 'population'>, <Why.POPULATION: 'population'>, <Why.UNKNOWN: 'unknown'>]
    """
    counts = Counter(why for one in found for why in one)
    return [max(one, key=lambda why: (counts[why], -list(Why).index(why)), default=Why.UNKNOWN) for one in found]


def _list_neighbours(cell: SummaryCell) -> Iterator[list[float]]:
    """Return the numbers of a summary with one or all of them from the next row or column; an empty one is nothing."""
    for down, right in ((1, 0), (-1, 0), (0, 1), (0, -1)):
        moved = [_neighbour(cell, one, down, right) for one in cell.scope]
        whole = [value for value in moved if isinstance(value, float)]
        if whole and _FOREIGN not in moved:
            yield whole
        own = [one.value for one in cell.scope]
        for at in range(len(own)):
            if (right and at not in (0, len(own) - 1)) or own[at] is None or moved[at] == _FOREIGN:
                continue
            mixed = [moved[at] if index == at else value for index, value in enumerate(own)]
            yield [value for value in mixed if isinstance(value, float)]


_FOREIGN: Final = "foreign"


def _neighbour(cell: SummaryCell, one: Figure, down: int, right: int) -> float | str | None:
    """Return the number beside a figure; None for an empty cell, `_FOREIGN` for a word or another summary."""
    place = (one.place[0] + down, one.place[1] + right)
    found = cell.table.sheet.cell(place)
    if found is None and cell.kind is not Summary.CREDIT:
        return None
    is_summary = any(column.at == place[1] and column.role is Role.SUMMARY for column in cell.table.columns)
    if found is None or found.number is None or is_summary or cell.table.read_summary_of(place[0]) is not None:
        return _FOREIGN
    return found.number


_MOST_LEFT_OUT: Final = 60


def _list_left_out(cell: SummaryCell, *, by_formula: bool) -> Iterator[list[float]]:
    """Return the numbers of a summary without all texts, then without one or two pieces."""
    known = [one for one in cell.scope if one.value is not None]
    if any(one.is_text for one in known):
        yield [one.value for one in known if not one.is_text and one.value is not None]
    if by_formula or len(known) > _MOST_LEFT_OUT:
        return
    values = [one.value for one in known if one.value is not None]
    for some in (1, 2):
        if len(values) > some:
            for left in combinations(range(len(values)), some):
                yield [value for at, value in enumerate(values) if at not in left]
