"""The Break station: the piece that is next, what it should carry, and how its set has done so far."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from heapq import nlargest
from statistics import fmean

from adhaero.bench.breaking.break_rigs import BreakRig, find_rig_id, list_rigs_for
from adhaero.bench.breaking.corrections import BreakValues, CorrectionView, show_values, view_corrections
from adhaero.bench.breaking.faces import list_unjudged
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.core.choice import Worded, offer
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.pieces import STATE_WORDS, Act, PieceState
from adhaero.core.plan.fields import QUANTITIES
from adhaero.core.pulls import (
    FAILED_IN_WORDS,
    JUDGED_WORDS,
    OUTCOME_WORDS,
    PRIED_WORDS,
    SOFT_WORDS,
    FailedIn,
    LoadPoint,
    PriedWith,
    PullOutcome,
    PullSource,
    PullState,
)
from adhaero.core.quantity import Kind, show
from adhaero.core.rig.trace.flags import TraceFlag
from adhaero.core.stats.so_far import say_place
from adhaero.store.file import ShopFile
from adhaero.store.pieces import Piece
from adhaero.store.pulls import Pull

_TRACE_POINTS = 1200


@dataclass(frozen=True)
class PullView:
    """One loading of a piece; load N, strength MPa."""

    id: int
    attempt: int
    source: PullSource
    state: PullState
    outcome: PullOutcome | None
    outcome_words: str
    load_n: float | None
    load_typed: str
    load_through: str
    held_n: float | None
    held_typed: str
    strength: float | None
    rig: str
    version: int | None
    resolution_n: float | None
    hold_typed: str
    pried: str
    wood_failure_pct: float | None
    failure: FailedIn | None
    failure_words: str
    note: str
    flags: tuple[str, ...]
    codes: tuple[str, ...]
    load_point: LoadPoint
    load_point_s: float | None
    load_point_reason: str
    started_utc: str
    practice: bool
    dial: str
    photo_id: int | None


@dataclass(frozen=True)
class PieceSize:
    """A size of the joint as it counts: measured, or from the plan."""

    name: str
    words: str
    mm: float


@dataclass(frozen=True)
class PairBroken:
    """The other piece of a matched pair, broken already, and on which rig and version of its card."""

    label: str
    rig_id: int | None
    rig: str
    version: int | None


@dataclass(frozen=True)
class BreakPiece:
    """One piece at the rig."""

    id: int
    label: str
    treatment_id: int
    treatment: str
    board: str
    species: str
    state: PieceState
    words: str
    solid: bool
    break_turn: int
    sizes: list[PieceSize]
    unmeasured: list[str]
    odd_reason: str | None
    pulls: list[PullView]
    place: str
    outcomes: list[Worded[PullOutcome]]
    failures: list[Worded[FailedIn]]
    can: tuple[Act, ...]
    values: BreakValues | None
    corrections: list[CorrectionView]
    pair: PairBroken | None


@dataclass(frozen=True)
class TreatmentSoFar:
    """The breaks of one set so far, MPa, those that count."""

    name: str
    strengths: list[float]
    average: float | None


@dataclass(frozen=True)
class LatestBreak:
    """One of the last breaks: the piece, what came of it in words, N, and when."""

    piece_id: int
    label: str
    outcome_words: str
    load_n: float | None
    wood_failure_pct: float | None
    at_utc: str


@dataclass(frozen=True)
class BreakView:
    """Everything that the Break station shows.

    The piece at the rig, which is next, how many are left, the breaks so far, the rigs with the one that the plan
    counts on (`rig_id`), what opens a pried piece, the last breaks of the trial, newest first, and how many broken
    faces are not judged.
    """

    piece: BreakPiece | None
    next_id: int | None
    left: int
    so_far: list[TreatmentSoFar]
    rigs: list[BreakRig]
    rig_id: int | None
    pried: bool
    pried_with: list[Worded[PriedWith]]
    latest: list[LatestBreak]
    to_judge: int


def view_break(file: ShopFile, trial_id: int, chosen_id: int | None = None) -> BreakView:
    """Return the piece at the rig: the chosen one, else the next that is ready."""
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        now = file.clock()
        pried = FIXTURES[facts.fixture].kind == "none"
        rigs = list_rigs_for(connection, facts, now, pried=pried)
    ready = [piece for piece in facts.pieces.values() if facts.state_of(piece, now) is PieceState.READY]
    first = min(ready, key=lambda piece: piece.break_turn, default=None)
    piece = facts.pieces.get(chosen_id, first) if chosen_id is not None else first
    return BreakView(
        piece=_view_piece(facts, piece, now) if piece else None,
        next_id=first.id if first else None,
        left=len(ready),
        so_far=[] if facts.hides_sets else _sets_so_far(facts),
        to_judge=sum(1 for _ in list_unjudged(facts)),
        rigs=rigs,
        rig_id=find_rig_id(facts, pried=pried),
        pried=pried,
        pried_with=offer(PRIED_WORDS) if pried else [],
        latest=_list_latest(facts),
    )


_LATEST = 5


def _list_latest(facts: PieceFacts) -> list[LatestBreak]:
    kept = [(pull, facts.pieces[piece_id]) for piece_id, mine in facts.pulls.items() for pull in mine[-1:]]
    kept = [(pull, piece) for pull, piece in kept if pull.state is PullState.KEPT]
    return [
        LatestBreak(
            piece.id,
            piece.label,
            OUTCOME_WORDS[pull.outcome] if pull.outcome else "",
            pull.load_n,
            pull.wood_failure_pct,
            pull.ended_utc or pull.started_utc,
        )
        for pull, piece in nlargest(_LATEST, kept, key=lambda one: one[0].id)
    ]


def _view_piece(facts: PieceFacts, piece: Piece, now: datetime) -> BreakPiece:
    state = facts.state_of(piece, now)
    board = facts.boards[piece.board_id]
    treatment, sizes = facts.treatments[piece.treatment_id], facts.sizes_of(piece)
    words = "" if state in (PieceState.READY, PieceState.BROKEN) else STATE_WORDS[state]
    if state is PieceState.VOID:
        words = f"void: {piece.void_reason}"
    elif state is PieceState.CURING and (ready := facts.ready_at(piece)) is not None and ready > now:
        words = f"curing, {show((ready - now).total_seconds(), Kind.TIME)} to go"
    elif state is PieceState.CURING and (stay := facts.planned_exposure_of(piece)) is not None:
        words = f"not yet {stay.words}"
    pulls = [view_pull(facts, piece, pull) for pull in facts.pulls.get(piece.id, ())]
    return BreakPiece(
        id=piece.id,
        label=piece.label,
        treatment_id=treatment.id,
        treatment="" if facts.hides_sets else treatment.name,
        board=board.name,
        species=board.species,
        state=state,
        words=words,
        solid=bool(treatment.solid),
        break_turn=piece.break_turn,
        sizes=[PieceSize(name, QUANTITIES[name].words, sizes[name]) for name in facts.measured_names if name in sizes],
        unmeasured=list(facts.unmeasured(piece)),
        odd_reason=piece.odd_reason,
        pulls=pulls,
        place="" if facts.hides_sets else _say_place(facts, piece, pulls),
        outcomes=offer(SOFT_WORDS if _gave_way(pulls) else JUDGED_WORDS),
        failures=offer(FAILED_IN_WORDS),
        can=facts.can(piece, now),
        values=show_values(facts, piece, result) if (result := facts.result_of(piece)) else None,
        corrections=view_corrections(facts, piece),
        pair=_find_pair(facts, piece),
    )


def _find_pair(facts: PieceFacts, piece: Piece) -> PairBroken | None:
    """Return the other piece of a matched pair where it is broken."""
    if piece.pair is None:
        return None
    for other in facts.pieces.values():
        result = facts.result_of(other)
        if other.pair == piece.pair and other.id != piece.id and result is not None:
            version = facts.versions.get(result.version_id or 0)
            return PairBroken(other.label, result.rig_id, facts.name_rig(result), version.number if version else None)
    return None


def _gave_way(pulls: Sequence[PullView]) -> bool:
    """Whether the load of the pull that waits to be judged went away slowly: broken or let off, only eyes can tell."""
    return bool(pulls) and pulls[-1].state is PullState.STOPPED and TraceFlag.SOFT in pulls[-1].codes


def view_pull(facts: PieceFacts, piece: Piece, pull: Pull) -> PullView:
    """Return one loading as the screens show it."""
    return PullView(
        id=pull.id,
        attempt=pull.attempt,
        source=pull.source,
        state=pull.state,
        outcome=pull.outcome,
        outcome_words=OUTCOME_WORDS[pull.outcome] if pull.outcome else "",
        load_n=pull.load_n,
        load_typed=pull.load_typed,
        load_through=pull.load_through,
        dial=pull.dial_typed,
        photo_id=pull.photo_id,
        held_n=pull.held_n,
        held_typed=pull.held_typed,
        rig=rig.name if (rig := facts.rigs.get(pull.rig_id or 0)) else "",
        version=version.number if (version := facts.versions.get(pull.version_id or 0)) else None,
        resolution_n=pull.resolution_n,
        hold_typed=pull.hold_typed,
        pried=PRIED_WORDS[pull.pried_with] if pull.pried_with else "",
        strength=None if pull.load_n is None else facts.strength_of(piece, pull.load_n),
        wood_failure_pct=pull.wood_failure_pct,
        failure=pull.failure,
        failure_words=f"in {FAILED_IN_WORDS[pull.failure]}" if pull.failure else "",
        note=pull.note,
        flags=pull.flags,
        codes=pull.flag_codes,
        load_point=pull.load_point,
        load_point_s=pull.load_point_s,
        load_point_reason=pull.load_point_reason,
        started_utc=pull.started_utc,
        practice=pull.practice,
    )


def list_so_far(facts: PieceFacts) -> dict[int, list[float]]:
    """Return the strengths that count so far, by set."""
    found: dict[int, list[float]] = {treatment_id: [] for treatment_id in (one.id for one in facts.made)}
    for piece in facts.pieces.values():
        result = facts.result_of(piece)
        if result is None or result.load_n is None or piece.excluded_reason is not None or piece.pilot:
            continue
        strength = facts.strength_of(piece, result.load_n)
        if strength is not None:
            found[piece.treatment_id].append(strength)
    return found


def _sets_so_far(facts: PieceFacts) -> list[TreatmentSoFar]:
    return [
        TreatmentSoFar(facts.treatments[key].name, values, fmean(values) if values else None)
        for key, values in list_so_far(facts).items()
    ]


def _say_place(facts: PieceFacts, piece: Piece, pulls: Sequence[PullView]) -> str:
    """Return which place the last pull of a piece takes in its set, while it is not kept."""
    name, so_far = facts.treatments[piece.treatment_id].name, list_so_far(facts)[piece.treatment_id]
    last = pulls[-1] if pulls else None
    if last is None or last.state is not PullState.STOPPED or last.strength is None:
        return "" if so_far else f"The first piece of {name}."
    return say_place(last.strength, so_far, name, running=False)
