"""Strength along what is measured: a curve for each set of the other things, with its band and what it says."""

from contextlib import suppress
from dataclasses import dataclass, replace
from typing import Final

from adhaero.bench.compare.breaks import Breaks, Choice, collect_breaks
from adhaero.bench.compare.result_units import read_result_units
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.shelf import kept
from adhaero.core.claims.amounts import UNITS
from adhaero.core.claims.evidence import Evidence, evidence_of_curves
from adhaero.core.errors import DataError
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.plan.fields import FACTORS, Factor
from adhaero.core.quantity import Kind
from adhaero.core.response import FORMS as RESPONSES
from adhaero.core.response import Response
from adhaero.core.stats.breaks import Outcome
from adhaero.core.stats.curve_comparison import CurveComparison, compare_curves
from adhaero.core.stats.curve_words import say_answer, say_comparison, say_curve, say_in_short
from adhaero.core.stats.curves import FORMS, Point, fit_curve, trace_curve
from adhaero.core.stats.shape import Shape
from adhaero.core.units import Units, display_unit, response_unit
from adhaero.store.file import ShopFile
from adhaero.store.pieces import Piece
from adhaero.store.plans import FactorRow

_SHAPES: Final = {Factor.CLAMP_TIME: Shape.CURE, Factor.CURE_TIME: Shape.CURE, Factor.GAP: Shape.GAP}


_DAY_S: Final = 86_400.0
_YEAR_S: Final = 31_557_600.0


_TIMES: Final = (("minutes", 60.0, 3 * 3600.0), ("hours", 3600.0, 4 * 86_400.0), ("days", 86_400.0, 2 * _YEAR_S))


_LEAST = 3


@dataclass(frozen=True)
class CurveDot:
    """One piece of a curve, in the units of the chart."""

    piece: str
    x: float
    y: float
    outcome: Outcome
    excluded: bool


@dataclass(frozen=True)
class CurveLine:
    """One curve: points of x, strength, and the ends of its 95 % band.

    `said` is what it says, `answer` that without how well it fits, `in_short` what goes on after its name. Empty points
    where the pieces show no such curve.
    """

    name: str
    points: list[tuple[float, float, float, float]]
    dots: list[CurveDot]
    said: list[str]
    answer: list[str]
    in_short: str


@dataclass(frozen=True)
class CurveChart:
    """Strength along one thing, with a curve for each set of the other things."""

    factor: str
    shape: Shape
    formula: str
    x_unit: str
    y_unit: str
    lines: list[CurveLine]
    tests: list[str]


@dataclass(frozen=True)
class _Along:
    """The pieces along one measured thing, in the units of its chart."""

    name: str
    shape: Shape
    x_unit: str
    y_unit: str
    points: list[Point]


def view_curves(file: ShopFile, trial_id: int, choice: Choice) -> list[CurveChart]:
    """Return strength along what is measured, of all pieces of a trial together."""
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        units = read_result_units(connection, facts, choice)
    return _view_curves(facts, replace(choice, slice=""), units)


@kept(most=16)
def _view_curves(facts: PieceFacts, choice: Choice, units: Units) -> list[CurveChart]:
    return draw_curves(facts, collect_breaks(facts, choice), units)


def draw_curves(facts: PieceFacts, breaks: Breaks, units: Units) -> list[CurveChart]:
    """Return a chart for each factor with at least three measured values; of stiffness and work there are none."""
    charts = [_draw(along) for along in _list_along(facts, breaks, units)]
    return [one for one in charts if one.lines]


def find_curve_evidence(facts: PieceFacts, breaks: Breaks, units: Units) -> Evidence | None:
    """Return what conclusions about the first curves of a trial are held against; None without a curve."""
    for along in _list_along(facts, breaks, units):
        found = {}
        for level in dict.fromkeys(one.level for one in along.points):
            with suppress(DataError):
                found[level] = fit_curve([one for one in along.points if one.level == level], along.shape)
        if found:
            curves = {"": next(iter(found.values()))} if len(found) == 1 else found
            x_unit = UNITS.get(along.x_unit.lower())
            return evidence_of_curves(
                curves, along.x_unit if x_unit else along.name, x_unit, UNITS.get(along.y_unit.lower())
            )
    return None


def _list_along(facts: PieceFacts, breaks: Breaks, units: Units) -> list[_Along]:
    found: list[_Along] = []
    if breaks.response in (Response.STIFFNESS, Response.WORK, Response.REACHED, Response.TIME):
        return found
    for row in facts.factors.values():
        kind = facts.kinds[row.id]
        if kind is not Factor.OWN and FACTORS[kind].quantity is not None:
            values = {one.name: one.value_si for one in facts.levels.values() if one.factor_id == row.id}
            known = {name: value for name, value in values.items() if value is not None}
            if len(set(known.values())) >= _LEAST:
                found.append(_place(facts, row, kind, known, breaks, units))
    return found


def _place(
    facts: PieceFacts,
    row: FactorRow,
    kind: Factor,
    values: dict[str, float],
    breaks: Breaks,
    units: Units,
) -> _Along:
    name = facts.words_of(row)
    x_unit, per_x = _x_unit(kind, max(values.values()), units)
    shown = response_unit(RESPONSES[breaks.response].kind or FIXTURES[facts.fixture].kind, units)
    y_unit, per_y = shown.symbol, shown.per_si
    pieces = {piece.label: piece for piece in breaks.pieces}
    points = [
        Point(
            one.label,
            _find_x(facts, kind, pieces[one.label], values[one.factors[name]]) / per_x,
            None if one.value is None else one.value * per_y,
            one.outcome,
            None if one.held_value is None else one.held_value * per_y,
            one.excluded,
            ", ".join(value for other, value in one.factors.items() if other != name) or "all",
            one.wood_failure_pct,
        )
        for one in breaks.compared
        if one.factors.get(name) in values
    ]
    return _Along(name, _choose_shape(kind, max(values.values())), x_unit, y_unit, points)


def _find_x(facts: PieceFacts, kind: Factor, piece: Piece, planned: float) -> float:
    """Return where a piece stands along what is measured: over years at the age that it really had, to the day."""
    age = facts.age_of(piece) if kind is Factor.CURE_TIME and facts.runs_over_years else None
    return planned if age is None else round(age / _DAY_S) * _DAY_S


def _draw(along: _Along) -> CurveChart:
    lines = []
    for level in dict.fromkeys(one.level for one in along.points):
        mine = [one for one in along.points if one.level == level]
        dots = [
            CurveDot(one.label, one.x, one.value, one.outcome, one.excluded is not None)
            for one in mine
            if one.value is not None
        ]
        try:
            curve = fit_curve(mine, along.shape)
            traced = trace_curve(curve, max(one.x for one in mine))
            units = along.x_unit, along.y_unit
            said = say_curve(curve, *units), say_answer(curve, *units), say_in_short(curve, *units)
            lines.append(CurveLine(level, traced, dots, *said))
        except DataError as error:
            lines.append(CurveLine(level, [], dots, [error.sentence], [error.sentence], ""))
    tests: list[str] = []
    drawn = {line.name for line in lines if line.points}
    if len(drawn) > 1:
        compared: CurveComparison = compare_curves([one for one in along.points if one.level in drawn], along.shape)
        tests = say_comparison(compared)
    return CurveChart(along.name, along.shape, FORMS[along.shape].words, along.x_unit, along.y_unit, lines, tests)


def _choose_shape(kind: Factor, largest: float) -> Shape:
    """Return how strength goes with what is measured: ages of a year or more are a trend, not a cure."""
    if kind is Factor.CURE_TIME and largest >= _YEAR_S:
        return Shape.STRAIGHT
    return _SHAPES.get(kind, Shape.STRAIGHT)


def _x_unit(kind: Factor, largest: float, units: Units) -> tuple[str, float]:
    """Return the unit of x, and how much of the core's unit it is."""
    quantity = FACTORS[kind].quantity or ""
    if quantity.endswith("_s"):
        return next(((name, size) for name, size, most in _TIMES if largest < most), ("years", _YEAR_S))
    if quantity.endswith("_mm"):
        shown = display_unit(Kind.LENGTH, units.length)
        return shown.symbol, 1 / shown.per_si
    if quantity.endswith("_mpa"):
        shown = display_unit(Kind.STRESS, units.stress)
        return shown.symbol, 1 / shown.per_si
    return "in one", 1.0
