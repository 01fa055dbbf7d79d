"""The run sheet of a glue-up: what to lay out and mix, then piece by piece spread, close, clamp, on the clock."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from enum import StrEnum
from typing import Final

from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.glue.open_time import is_late, open_seconds, say_spread
from adhaero.bench.plan.consequences import follow_plan, make_plan
from adhaero.bench.shop.supplies import Supplies, read_supplies
from adhaero.core.errors import NotThere
from adhaero.core.glue import GlueFamily, caution_for
from adhaero.core.plan.clamping import SetUp, find_near
from adhaero.core.plan.fields import Factor
from adhaero.core.plan.gluing import Mix, Urgency, compute_glue_mass, compute_mix, find_urgency, find_waits
from adhaero.core.plan.planned import LineForce, find_area
from adhaero.core.quantity import show_duration
from adhaero.store.file import ShopFile, to_text
from adhaero.store.pieces import Batch, Piece

SCALE_STEP_G = 0.1

_MOST_LABELS: Final = 4


class GlueStep(StrEnum):
    """What is done with each piece of a glue-up, in order; a coat that soaks in comes before the last one is spread."""

    COAT = "coat"
    SPREAD = "spread"
    CLOSED = "closed"
    CLAMPED = "clamped"


@dataclass(frozen=True)
class RunPiece:
    """One piece of the run.

    Attributes
    ----------
    spread : how its glue is spread. waits_s : waiting times inside that, in order (a first coat that soaks in).
    coats_utc : coats that soak in so far; coat_due_utc : when the last of them has had its wait.
    asked_n : the clamp force of the plan, there from asked_from_n to asked_to_n. turn : its place in the order of work.
    open_until_utc : when its glue has lain open as long as it may; None before it is spread, or where it is not known.
    done : the steps it has had. open_s : from spreading to closing, once closed. late : that took longer than the glue
        stays open.
    """

    id: int
    label: str
    treatment: str
    spread: str
    waits_s: list[float]
    coats_utc: list[str]
    coat_due_utc: str | None
    done: list[GlueStep]
    next: GlueStep | None
    spread_utc: str | None
    closed_utc: str | None
    open_s: float | None
    late: bool
    deviation: str
    asked_n: float | None
    asked_from_n: float | None
    asked_to_n: float | None
    open_until_utc: str | None
    turn: int
    clamp_peak_n: float | None
    clamp_settled_n: float | None


@dataclass(frozen=True)
class RunSheet:
    """A glue-up as it is worked through."""

    batch_id: int
    number: int
    glue: str
    family: str
    caution: str
    faces: str
    lay_out: list[str]
    mass_g: float | None
    mix: Mix | None
    mixed_utc: str | None
    pot_life_s: float | None
    open_time_s: float | None
    spread_typed: str
    who: str
    set_up: SetUp | None
    pieces: list[RunPiece]
    minds: list[str]


def view_run_sheet(file: ShopFile, trial_id: int, batch_id: int) -> RunSheet:
    """Return the run sheet of a glue-up."""
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        supplies = read_supplies(connection)
    batch = require_batch(facts, batch_id)
    card = supplies.glue(batch.glue)
    open_time = card.open_time_s if card else None
    pieces = sorted(_pieces_of(facts, batch_id), key=lambda piece: piece.glue_turn)
    mass = _mass(facts, supplies, batch, pieces)
    mix = compute_mix(mass, card.mix_ratio, SCALE_STEP_G) if mass is not None and card and card.mix_ratio else None
    forces = {line.name: line for line in follow_plan(make_plan(facts, supplies, ())).forces}
    lines = [forces[name] for piece in pieces if (name := facts.treatments[piece.treatment_id].name) in forces]
    return RunSheet(
        batch_id=batch.id,
        number=batch.number,
        glue=batch.glue,
        family=batch.glue_family,
        caution=caution_for(GlueFamily(batch.glue_family)),
        faces="both faces" if facts.trial.faces == "both" else "one face",
        lay_out=_lay_out(facts, pieces, lines[0].set_up if lines else None),
        mass_g=mass,
        mix=mix,
        mixed_utc=batch.mixed_utc,
        pot_life_s=card.pot_life_s if card else None,
        open_time_s=open_time,
        spread_typed=batch.spread_typed,
        who=batch.who,
        set_up=lines[0].set_up if lines else None,
        pieces=_put_in_order(
            [_view_piece(facts, piece, open_time, _asked(facts, piece, forces)) for piece in pieces], file.clock()
        ),
        minds=_mind(batch, open_time, card.lowest_temperature_c if card else None),
    )


def _put_in_order(pieces: Sequence[RunPiece], now: datetime) -> list[RunPiece]:
    """Number the pieces by which is worked on next; those with nothing left to do come last."""
    order = sorted(range(len(pieces)), key=lambda at: (_find_urgency(pieces[at], now), at))
    return [replace(one, turn=order.index(at) + 1) for at, one in enumerate(pieces)]


def _find_urgency(one: RunPiece, now: datetime) -> Urgency:
    soaked = one.coat_due_utc is None or datetime.fromisoformat(one.coat_due_utc) <= now
    return find_urgency(
        to_clamp=one.next is GlueStep.CLAMPED and one.closed_utc is not None,
        to_close=one.next is GlueStep.CLOSED,
        to_spread=one.next is GlueStep.SPREAD,
        to_coat=one.next is GlueStep.COAT,
        coated=bool(one.coats_utc),
        soaked=soaked,
    )


def _asked(facts: PlanFacts, piece: Piece, forces: Mapping[str, LineForce]) -> float | None:
    line = forces.get(facts.treatments[piece.treatment_id].name)
    return line.force_n if line else None


def require_batch(facts: PlanFacts, batch_id: int) -> Batch:
    """Return a glue-up of the trial; raises `NotThere`."""
    if batch_id not in facts.batches:
        raise NotThere(f"There is no glue-up {batch_id} in this trial.", do="Reload: it may have been undone.")
    return facts.batches[batch_id]


def _pieces_of(facts: PlanFacts, batch_id: int) -> list[Piece]:
    return [piece for piece in facts.pieces.values() if piece.batch_id == batch_id and piece.void_reason is None]


def _mass(facts: PlanFacts, supplies: Supplies, batch: Batch, pieces: Sequence[Piece]) -> float | None:
    card = supplies.glue(batch.glue)
    if card is None or card.spread_g_m2 is None:
        return None
    plan = make_plan(facts, supplies, ())
    areas = {one.name: find_area(one) for one in plan.treatments}
    found = [areas.get(facts.treatments[piece.treatment_id].name) for piece in pieces]
    if not found or any(area is None for area in found):
        return None
    total = sum(area for area in found if area is not None)
    return compute_glue_mass(total, card.spread_g_m2, plan.faces, plan.waste_pct)


def _lay_out(facts: PlanFacts, pieces: Sequence[Piece], set_up: SetUp | None) -> list[str]:
    found = [f"{len(pieces)} pieces, both halves: {', '.join(piece.label for piece in pieces)}"]
    if set_up is not None:
        each = set_up.side_by_side * set_up.in_line
        number = -(-len(pieces) // each)
        found.append(f"{number * set_up.clamps} × {set_up.name}, spacers top and bottom")
        if dummies := -len(pieces) % set_up.side_by_side:
            found.append(f"{dummies} dummy piece{'s' if dummies > 1 else ''} of the same height")
    unprepared: dict[str, list[str]] = {}
    for piece in pieces:
        if piece.prepped_utc is None:
            unprepared.setdefault(_prep_of(facts, piece), []).append(piece.label)
    found += [
        f"surface prep not ticked on {', '.join(labels[:_MOST_LABELS])}: {prep}"
        for prep, labels in unprepared.items()
        if prep
    ]
    return found


def _prep_of(facts: PlanFacts, piece: Piece) -> str:
    """Return how the faces of a piece are prepared by plan; empty where nothing is written down."""
    level = facts.level_of(facts.treatments[piece.treatment_id], Factor.PREP)
    return level.name if level else facts.trial.prep


def _view_piece(facts: PieceFacts, piece: Piece, open_time_s: float | None, asked_n: float | None) -> RunPiece:
    treatment = facts.treatments[piece.treatment_id]
    words = say_spread(facts, piece)
    stamps = {GlueStep.SPREAD: piece.spread_utc, GlueStep.CLOSED: piece.closed_utc, GlueStep.CLAMPED: piece.clamped_utc}
    done = [step for step, at in stamps.items() if at is not None]
    waits, coats = find_waits(words), facts.coats.get(piece.id, ())
    if len(coats) == len(waits) or done:
        done.insert(0, GlueStep.COAT)
    waiting = [step for step in GlueStep if step not in done and not (step is GlueStep.SPREAD and piece.closed_utc)]
    due = None
    if coats and piece.spread_utc is None and len(coats) <= len(waits):
        last = datetime.fromisoformat(coats[-1].at_utc)
        due = to_text(last + timedelta(seconds=waits[len(coats) - 1]))
    near = find_near(asked_n) if asked_n is not None else None
    until = None
    if piece.spread_utc is not None and piece.closed_utc is None and open_time_s is not None:
        until = datetime.fromisoformat(piece.spread_utc) + timedelta(seconds=open_time_s)
    return RunPiece(
        id=piece.id,
        label=piece.label,
        treatment=treatment.name,
        spread=words,
        waits_s=list(waits),
        coats_utc=[one.at_utc for one in coats],
        coat_due_utc=due,
        done=[step for step in done if step is not GlueStep.COAT or waits],
        next=waiting[0] if waiting and GlueStep.CLAMPED not in done else None,
        spread_utc=piece.spread_utc,
        closed_utc=piece.closed_utc,
        open_s=facts.each(open_seconds)[piece.id],
        late=is_late(facts, piece, open_time_s),
        deviation=piece.deviation,
        asked_n=asked_n,
        asked_from_n=near[0] if near else None,
        asked_to_n=near[1] if near else None,
        open_until_utc=to_text(until) if until else None,
        turn=0,
        clamp_peak_n=piece.clamp_peak_n,
        clamp_settled_n=piece.clamp_settled_n,
    )


def _mind(batch: Batch, open_time_s: float | None, coldest_c: float | None) -> list[str]:
    found = []
    if open_time_s is not None:
        found.append(f"{batch.glue} stays open {show_duration(open_time_s)}: spread, close, into the clamp.")
    if coldest_c is not None and batch.shop_temperature_c is not None and batch.shop_temperature_c < coldest_c:
        found.append(f"The shop is colder ({batch.shop_temperature_typed}) than {batch.glue} is made for.")
    return found
