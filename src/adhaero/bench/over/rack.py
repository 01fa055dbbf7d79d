"""The rack and the flow: every piece with its state, and how many stand at each station."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.plan.dealing import deal_plan
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.pieces import PieceState
from adhaero.store.file import ShopFile
from adhaero.store.history import find_steps
from adhaero.store.pieces import Piece


@dataclass(frozen=True)
class RackPiece:
    """One piece as the rack draws it; `id` None while it is only planned; `strength` in MPa."""

    id: int | None
    label: str
    treatment: int
    board: int
    position: int
    state: PieceState
    solid: bool
    strength: float | None
    wood_failure_pct: float | None
    outcome: str | None
    excluded: bool
    batch: int | None
    pilot: bool


@dataclass(frozen=True)
class RackBoard:
    """A board of the rack."""

    id: int
    name: str
    species: str
    holds: int


@dataclass(frozen=True)
class RackTreatment:
    """A set of the rack."""

    id: int
    name: str
    code: str
    solid: bool


@dataclass(frozen=True)
class Station:
    """One station of the flow: how many pieces have passed it, of how many."""

    name: str
    done: int
    of: int


@dataclass(frozen=True)
class RackView:
    """What stands left and on top of every station of a trial; no sets while they are hidden (`hides_sets`)."""

    trial_id: int
    question: str
    practice: bool
    frozen: bool
    seed: int
    joint: str
    fixture: str
    strength_kind: str
    boards: list[RackBoard]
    treatments: list[RackTreatment]
    pieces: list[RackPiece]
    flow: list[Station]
    undo: str | None
    redo: str | None
    hides_sets: bool


def view_rack(file: ShopFile, trial_id: int) -> RackView:
    """Return the rack and the flow of a trial."""
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        steps = find_steps(connection, trial_id)
    now = file.clock()
    pieces = [_draw(facts, piece, now) for piece in facts.pieces.values()] if facts.pieces else draw_plan(facts)
    return RackView(
        trial_id=facts.trial.id,
        question=facts.trial.question,
        practice=bool(facts.trial.practice),
        frozen=facts.trial.frozen_utc is not None,
        seed=facts.trial.seed,
        joint=facts.trial.joint,
        fixture=facts.trial.fixture,
        strength_kind=FIXTURES[facts.fixture].kind,
        boards=[RackBoard(one.id, one.name, one.species, one.holds) for one in facts.boards.values()],
        treatments=[]
        if facts.hides_sets
        else [RackTreatment(one.id, one.name, one.code, bool(one.solid)) for one in facts.made],
        pieces=pieces,
        flow=count_flow(facts, [piece.state for piece in pieces]),
        undo=steps.undo.what if steps.undo else None,
        redo=steps.redo.what if steps.redo else None,
        hides_sets=facts.hides_sets,
    )


def draw_plan(facts: PlanFacts) -> list[RackPiece]:
    """Return the pieces of an open plan where they would sit."""
    treatments, boards = facts.made, list(facts.boards.values())
    dealing = deal_plan(facts)
    return [
        RackPiece(
            id=None,
            label=label,
            treatment=treatments[place.treatment].id,
            board=boards[place.board].id,
            position=place.position,
            state=PieceState.PLANNED,
            solid=bool(treatments[place.treatment].solid),
            strength=None,
            wood_failure_pct=None,
            outcome=None,
            excluded=False,
            batch=None,
            pilot=False,
        )
        for place, label in zip(dealing.places, dealing.labels, strict=True)
    ]


def _draw(facts: PieceFacts, piece: Piece, now: datetime) -> RackPiece:
    result = facts.result_of(piece)
    return RackPiece(
        id=piece.id,
        label=piece.label,
        treatment=piece.treatment_id,
        board=piece.board_id,
        position=piece.position,
        state=facts.state_of(piece, now),
        solid=bool(facts.treatments[piece.treatment_id].solid),
        strength=facts.strength_of(piece, result.load_n) if result and result.load_n is not None else None,
        wood_failure_pct=result.wood_failure_pct if result else None,
        outcome=result.outcome if result else None,
        excluded=piece.excluded_reason is not None,
        batch=piece.batch_id,
        pilot=bool(piece.pilot),
    )


_PASSED = {
    "Saw": {PieceState.SAWN, PieceState.CLAMPED, PieceState.CURING, PieceState.READY, PieceState.BROKEN},
    "Glue": {PieceState.CLAMPED, PieceState.CURING, PieceState.READY, PieceState.BROKEN},
    "Cure": {PieceState.READY, PieceState.BROKEN},
    "Break": {PieceState.BROKEN},
}


def count_flow(facts: PieceFacts, states: Sequence[PieceState]) -> list[Station]:
    """Return how many pieces have passed each station; void pieces count for none.

    Parameters
    ----------
    states : of every piece of the trial, or of every piece that its open plan would have.
    """
    count = Counter(states)
    pilots = sum(bool(piece.pilot) for piece in facts.pieces.values())
    standing = len(states) - count[PieceState.VOID]
    settled = facts.trial.frozen_utc is not None
    aside = sum(
        piece.excluded_reason is not None and piece.void_reason is None and facts.result_of(piece) is not None
        for piece in facts.pieces.values()
    )
    broken_pilots = sum(
        bool(piece.pilot) and facts.result_of(piece) is not None and piece.void_reason is None
        for piece in facts.pieces.values()
    )
    return [
        Station("Plan", standing if settled else 0, standing),
        *(Station(name, sum(count[state] for state in passed), standing) for name, passed in _PASSED.items()),
        Station("Compare", count[PieceState.BROKEN] - aside - broken_pilots, standing - pilots),
    ]
