"""Every piece in the making, as the stations Saw, Glue and Cure show it."""

from dataclasses import dataclass, replace
from datetime import datetime

from adhaero.bench.cure.sizes import find_area, say_off_plan
from adhaero.bench.facts.piece_facts import END_OF_TIME, PieceFacts
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.shelf import kept
from adhaero.bench.glue.wrong_treatment import say_balance_now
from adhaero.bench.shop.air import AirOf, find_air
from adhaero.bench.shop.supplies import read_supplies
from adhaero.bench.timetable.view import find_next_batch
from adhaero.core.glue import GlueFamily, caution_for
from adhaero.core.pieces import Act, PieceState
from adhaero.core.plan.clamping import compute_line_force
from adhaero.core.plan.confounds import Dealt, find_confounds
from adhaero.core.plan.exposures import EXPOSURES
from adhaero.core.plan.fields import QUANTITIES
from adhaero.core.quantity import show_duration
from adhaero.store.air import list_climate_logs
from adhaero.store.file import ShopFile, to_text
from adhaero.store.glues import list_glues
from adhaero.store.pieces import (
    Batch,
    Piece,
)
from adhaero.store.timetables import list_tasks


@dataclass(frozen=True)
class MakingPiece:
    """One piece in the making; times UTC, sizes mm, force N; when it is due stands there only while it waits."""

    id: int
    label: str
    treatment: str
    board: str
    state: PieceState
    solid: bool
    glue_turn: int
    break_turn: int
    batch: int | None
    prepped_utc: str | None
    spread_utc: str | None
    closed_utc: str | None
    clamped_utc: str | None
    release_due_utc: str | None
    released_utc: str | None
    ready_utc: str | None
    clamped_s: float | None
    planned_clamp_s: float | None
    glue: str
    glued_area_mm2: float | None
    area_as_measured: bool
    clamp_force_n: float | None
    measured: dict[str, str]
    off_plan: list[str]
    void_reason: str | None
    deviation: str
    words: str
    can: tuple[Act, ...]


@dataclass(frozen=True)
class SizeColumn:
    """A size that is measured on each piece."""

    name: str
    words: str
    planned_mm: float | None


@dataclass(frozen=True)
class MakingView:
    """Everything that the making stations show."""

    pieces: list[MakingPiece]
    batches: list[Batch]
    sizes: list[SizeColumn]
    cautions: dict[str, str]
    confounds: list[str]
    balance: str | None
    glues: list[str]
    next_batch: list[int]
    air: list[AirOf]


def view_making(file: ShopFile, trial_id: int) -> MakingView:
    """Return the pieces of a trial in the making."""
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        shelf, tasks = list_glues(connection), list_tasks(connection, trial_id)
        logs, supplies = list_climate_logs(connection), read_supplies(connection)
    now = file.clock()
    families = {glue.name: GlueFamily(glue.family) for glue in shelf}
    used = {facts.glue_of(facts.treatments[piece.treatment_id]) for piece in facts.pieces.values()}
    return MakingView(
        pieces=_view_pieces(facts, now),
        batches=list(facts.batches.values()),
        sizes=[
            SizeColumn(name, QUANTITIES[name].words, facts.planned_sizes.get(name)) for name in facts.measured_names
        ],
        cautions={name: caution_for(families[name]) for name in sorted(used) if name in families},
        confounds=_find_confounds(facts),
        balance=say_balance_now(facts) if facts.pieces else None,
        glues=[glue.name for glue in shelf],
        next_batch=list(find_next_batch(facts, tasks)),
        air=find_air(facts, logs, supplies, now),
    )


_TIMELESS = frozenset({PieceState.PLANNED, PieceState.SAWN, PieceState.BROKEN, PieceState.VOID})


def _view_timeless(facts: PieceFacts, piece: Piece) -> MakingPiece | None:
    """Return a piece whose looks do not change with the time of day, None where they do."""
    return _view_piece(facts, piece, END_OF_TIME) if facts.state_of(piece, END_OF_TIME) in _TIMELESS else None


def _view_pieces(facts: PieceFacts, now: datetime) -> list[MakingPiece]:
    timeless = facts.each(_view_timeless)
    return [timeless[piece.id] or _view_piece(facts, piece, now) for piece in facts.pieces.values()]


@kept(most=8)
def _find_confounds(facts: PieceFacts) -> list[str]:
    standing = [piece for piece in facts.pieces.values() if not piece.void_reason]
    made = facts.each(_deal_unbroken)
    return list(
        find_confounds([made[piece.id] for piece in standing], [facts.clamp_rounds.get(piece.id) for piece in standing])
    )


def _deal_unbroken(facts: PieceFacts, piece: Piece) -> Dealt:
    """Return what could make a piece strong or weak before it is broken."""
    return replace(facts.dealt(piece), break_turn=None)


def _view_piece(facts: PieceFacts, piece: Piece, now: datetime) -> MakingPiece:
    treatment = facts.treatments[piece.treatment_id]
    measured = facts.measurements.get(piece.id, {})
    life = facts.life_of(piece)
    area = find_area(facts, piece)
    pressure = facts.quantity_of(treatment, "clamp_pressure_mpa")
    solid = bool(treatment.solid)
    state = facts.state_of(piece, now)
    due = facts.release_due(piece) if state is PieceState.CLAMPED else None
    ready = facts.ready_at(piece) if state is PieceState.CURING else None
    return MakingPiece(
        id=piece.id,
        label=piece.label,
        treatment=treatment.name,
        board=facts.boards[piece.board_id].name,
        state=state,
        solid=solid,
        glue_turn=piece.glue_turn,
        break_turn=piece.break_turn,
        batch=piece.batch_id,
        prepped_utc=piece.prepped_utc,
        spread_utc=piece.spread_utc,
        closed_utc=piece.closed_utc,
        clamped_utc=piece.clamped_utc,
        release_due_utc=to_text(due) if due else None,
        released_utc=piece.released_utc,
        ready_utc=to_text(ready) if ready else None,
        clamped_s=life.clamped_s,
        planned_clamp_s=life.clamp_time_s,
        glue=facts.glue_of(facts.treatments[piece.treatment_id]),
        glued_area_mm2=None if solid else area,
        area_as_measured=bool(measured),
        clamp_force_n=None if solid or area is None or pressure is None else compute_line_force(pressure, area),
        measured={name: row.typed for name, row in measured.items()},
        off_plan=say_off_plan(facts, piece),
        void_reason=piece.void_reason,
        deviation=piece.deviation,
        can=facts.can(piece, now),
        words=_say_exposure(facts, piece, ready, now) or _say_state(state, solid, life.closed_at, due, ready, now),
    )


def _say_exposure(facts: PlanFacts, piece: Piece, ready: datetime | None, now: datetime) -> str | None:
    """Return in what a piece is now, in words; None where it is in nothing."""
    inside = next((one for one in facts.exposures.get(piece.id, ()) if one.ended_utc is None), None)
    if inside is None:
        return None
    if ready is None:
        return EXPOSURES[inside.kind]
    left = (ready - now).total_seconds()
    return (
        f"{EXPOSURES[inside.kind]}, {show_duration(left)} left"
        if left > 0
        else f"{EXPOSURES[inside.kind]}, {show_duration(-left)} over"
    )


def _say_state(
    state: PieceState,
    solid: bool,
    closed: datetime | None,
    due: datetime | None,
    ready: datetime | None,
    now: datetime,
) -> str:
    if state is PieceState.VOID:
        return "void"
    if state is PieceState.PLANNED:
        return "to be sawn"
    if state is PieceState.SAWN:
        return "to be glued"
    if state is PieceState.CLAMPED:
        if due is None:
            return "in clamps, no clamp time planned"
        left = (due - now).total_seconds()
        return f"in clamps, {show_duration(left)} left" if left > 0 else f"clamps {show_duration(-left)} over"
    if state is PieceState.CURING and (ready is None or ready <= now):
        return "cured, to be put in"
    if state is PieceState.CURING and ready is not None:
        return f"curing, ready in {show_duration((ready - now).total_seconds())}"
    if state is PieceState.READY:
        age = show_duration((now - closed).total_seconds()) if closed else ""
        return "ready to break" if solid or not age else f"ready to break, {age} old"
    return "broken"
