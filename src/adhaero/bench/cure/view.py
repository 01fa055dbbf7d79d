"""The Cure station: what pieces go through, what every piece must have had, and what else is read off it."""

from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from adhaero.bench.cure.checks import CheckView, list_checks
from adhaero.bench.cure.panels import PullDates, list_pull_dates
from adhaero.bench.cure.sizes import find_area_give
from adhaero.bench.facts.piece_facts import END_OF_TIME, PieceFacts
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.rows import parse_time
from adhaero.core.pieces import Act, PieceState, find_cured_at
from adhaero.core.plan.exposures import EXPOSURES, ExposureKind, PlannedExposure, TestedAs
from adhaero.core.quantity import Bounds, Kind
from adhaero.store.file import ShopFile, to_text
from adhaero.store.making import Exposure
from adhaero.store.pieces import Piece

TESTED_AS = {
    TestedAs.UNSAID: "not noted",
    TestedAs.DRY: "dry",
    TestedAs.WET: "wet",
    TestedAs.REDRIED: "dried again",
}


READINGS = {
    "mass_before_g": ("mass before", Kind.MASS, Bounds(highest=1e6)),
    "mass_after_g": ("mass after", Kind.MASS, Bounds(highest=1e6)),
    "moisture_before_pct": ("moisture before", Kind.PERCENT, Bounds(highest=300, zero_allowed=True)),
    "moisture_after_pct": ("moisture after", Kind.PERCENT, Bounds(highest=300, zero_allowed=True)),
    "gap_mm": ("gap as measured", Kind.LENGTH, Bounds(highest=50, zero_allowed=True)),
}


@dataclass(frozen=True)
class ExposureView:
    """An exposure of a piece; `due_utc` when it ends by plan, `lasted_s` once it has ended."""

    id: int
    kind: str
    words: str
    planned_s: float | None
    begun_utc: str
    due_utc: str | None
    ended_utc: str | None
    lasted_s: float | None
    cycles: int
    note: str


@dataclass(frozen=True)
class CuringPiece:
    """One piece between clamps and test.

    Attributes
    ----------
    planned : what the plan sends it through, None for nothing. waits_for_exposure : it could be put in now.
    area_give_mm2 : standard uncertainty of its glued area, None where it is not measured.
    """

    id: int
    label: str
    treatment: str
    state: str
    planned: PlannedExposure | None
    waits_for_exposure: bool
    exposures: list[ExposureView]
    checks: list[CheckView]
    readings: dict[str, str]
    area_give_mm2: float | None
    tested_as: TestedAs
    can: tuple[Act, ...]


@dataclass(frozen=True)
class CuringView:
    """Everything that stands between clamps and test, over a trial."""

    pieces: list[CuringPiece]
    kinds: dict[ExposureKind, str]
    states: dict[TestedAs, str]
    reading_names: dict[str, str]
    pulls: PullDates


def view_curing(file: ShopFile, trial_id: int) -> CuringView:
    """Return what the pieces of a trial go through before the test."""
    now = file.clock()
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
    standing = [piece for piece in facts.pieces.values() if piece.void_reason is None]
    return CuringView(
        pieces=[_view_piece(facts, piece, now) for piece in standing],
        kinds=dict(EXPOSURES),
        states=TESTED_AS,
        reading_names={name: words for name, (words, _, _) in READINGS.items()},
        pulls=list_pull_dates(facts),
    )


def _view_piece(facts: PieceFacts, piece: Piece, now: datetime) -> CuringPiece:
    state, view = facts.state_of(piece, now), facts.each(_view_lasting)[piece.id]
    if state is not PieceState.CURING:
        return view if view.state == state else replace(view, state=state, can=facts.can(piece, now))
    life, cured = facts.life_of(piece), find_cured_at(facts.life_of(piece))
    waits = life.to_go_in and (cured is None or cured <= now)
    return replace(view, state=state, waits_for_exposure=waits, can=facts.can(piece, now))


def _view_lasting(facts: PieceFacts, piece: Piece) -> CuringPiece:
    """Return a piece as it will look when all its times have passed."""
    return CuringPiece(
        id=piece.id,
        label=piece.label,
        treatment=facts.treatments[piece.treatment_id].name,
        state=facts.state_of(piece, END_OF_TIME),
        planned=facts.planned_exposure_of(piece),
        waits_for_exposure=False,
        exposures=view_exposures(facts, piece),
        checks=list_checks(facts, piece),
        readings={one.name: one.typed for one in facts.readings.get(piece.id, ())},
        area_give_mm2=find_area_give(facts, piece),
        tested_as=piece.tested_as,
        can=facts.can(piece, END_OF_TIME),
    )


def view_exposures(facts: PlanFacts, piece: Piece) -> list[ExposureView]:
    """Return the exposures of a piece, oldest first."""
    return [_view_exposure(one) for one in facts.exposures.get(piece.id, ())]


def _view_exposure(one: Exposure) -> ExposureView:
    begun = parse_time(one.begun_utc)
    ended = parse_time(one.ended_utc)
    lasted = (ended - begun).total_seconds() if begun and ended else None
    due = None if begun is None or one.planned_s is None else to_text(begun + timedelta(seconds=one.planned_s))
    return ExposureView(
        one.id,
        one.kind,
        EXPOSURES[one.kind],
        one.planned_s,
        one.begun_utc,
        due,
        one.ended_utc,
        lasted,
        one.cycles,
        one.note,
    )
