"""The Break station: load a piece by hand or on the rig, judge its broken face, keep it or try again."""

import json
from dataclasses import dataclass
from datetime import datetime

from adhaero.bench.book import Book, read_book
from adhaero.bench.loads import read_held, read_load, refuse_load
from adhaero.core.errors import EntryError, NotThere, StateError
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.pieces import PieceState
from adhaero.core.quantity import Bounds, Kind, parse_quantity, show
from adhaero.store.file import ShopFile
from adhaero.store.pieces import Piece
from adhaero.store.pulls import Pull
from adhaero.store.rows import amend, insert

OUTCOMES = ("broke", "held", "fell_apart")
FAILURES = ("glue_line", "wood", "both", "fixture")
_TRACE_POINTS = 1200
_WAITS = {
    PieceState.PLANNED: "not sawn yet",
    PieceState.SAWN: "not glued yet",
    PieceState.CLAMPED: "still in clamps",
}


@dataclass(frozen=True)
class PullView:
    """One loading of a piece; load N, strength MPa."""

    id: int
    attempt: int
    source: str
    state: str
    outcome: str | None
    load_n: float | None
    load_typed: str
    load_through: str
    held_typed: str
    strength: float | None
    wood_failure_pct: float | None
    failure: str | None
    note: str
    flags: list[str]
    codes: list[str]
    load_point: str
    load_point_s: float | None
    load_point_reason: str
    started_utc: str
    practice: bool


@dataclass(frozen=True)
class BreakPiece:
    """One piece at the rig."""

    id: int
    label: str
    set: str
    board: str
    species: str
    state: PieceState
    words: str
    solid: bool
    break_turn: int
    sizes_mm: dict[str, float]
    unmeasured: list[str]
    odd_reason: str | None
    pulls: list[PullView]


@dataclass(frozen=True)
class SetSoFar:
    """The breaks of one set so far, MPa, those that count."""

    name: str
    strengths: list[float]
    average: float | None


@dataclass(frozen=True)
class BreakView:
    """Everything that the Break station shows: the piece at the rig, which is next, and the breaks so far."""

    piece: BreakPiece | None
    next_id: int | None
    left: int
    so_far: list[SetSoFar]


def view_break(file: ShopFile, trial_id: int, chosen_id: int | None = None) -> BreakView:
    """Return the piece at the rig: the chosen one, else the next that is ready."""
    with file.reading() as connection:
        book = read_book(connection, trial_id)
    now = file.clock()
    ready = [piece for piece in book.pieces.values() if book.state_of(piece, now) is PieceState.READY]
    first = min(ready, key=lambda piece: piece.break_turn, default=None)
    piece = book.pieces.get(chosen_id, first) if chosen_id is not None else first
    return BreakView(
        piece=_view_piece(book, piece, now) if piece else None,
        next_id=first.id if first else None,
        left=len(ready),
        so_far=_sets_so_far(book),
    )


def _view_piece(book: Book, piece: Piece, now: datetime) -> BreakPiece:
    state = book.state_of(piece, now)
    board = book.boards[piece.board_id]
    treatment, sizes = book.treatments[piece.treatment_id], book.sizes_of(piece)
    words = _WAITS.get(state, state.value)
    if state is PieceState.VOID:
        words = f"void: {piece.void_reason}"
    elif state is PieceState.CURING and (ready := book.ready_at(piece)) is not None and ready > now:
        words = f"curing, {show((ready - now).total_seconds(), Kind.TIME)} to go"
    elif state is PieceState.CURING and (stay := book.stay_of(piece)) is not None:
        words = f"not yet {stay.words}"
    return BreakPiece(
        id=piece.id,
        label=piece.label,
        set=treatment.name,
        board=board.name,
        species=board.species,
        state=state,
        words=words,
        solid=bool(treatment.solid),
        break_turn=piece.break_turn,
        sizes_mm={name: sizes[name] for name in book.measured_names if name in sizes},
        unmeasured=list(book.unmeasured(piece)),
        odd_reason=piece.odd_reason,
        pulls=[view_pull(book, piece, pull) for pull in book.pulls.get(piece.id, ())],
    )


def view_pull(book: Book, piece: Piece, pull: Pull) -> PullView:
    """Return one loading as the screens show it."""
    return PullView(
        id=pull.id,
        attempt=pull.attempt,
        source=pull.source,
        state=pull.state,
        outcome=pull.outcome,
        load_n=pull.load_n,
        load_typed=pull.load_typed,
        load_through=pull.load_through,
        held_typed=pull.held_typed,
        strength=None if pull.load_n is None else book.strength_of(piece, pull.load_n),
        wood_failure_pct=pull.wood_failure_pct,
        failure=pull.failure,
        note=pull.note,
        flags=json.loads(pull.flags) if pull.flags != "[]" else [],
        codes=json.loads(pull.flag_codes) if pull.flag_codes != "[]" else [],
        load_point=pull.load_point,
        load_point_s=pull.load_point_s,
        load_point_reason=pull.load_point_reason,
        started_utc=pull.started_utc,
        practice=bool(pull.practice),
    )


def _sets_so_far(book: Book) -> list[SetSoFar]:
    found: dict[int, list[float]] = {treatment_id: [] for treatment_id in (one.id for one in book.sets)}
    for piece in book.pieces.values():
        result = book.result_of(piece)
        if result is None or result.load_n is None or piece.excluded_reason is not None or piece.pilot:
            continue
        strength = book.strength_of(piece, result.load_n)
        if strength is not None:
            found[piece.treatment_id].append(strength)
    return [
        SetSoFar(book.treatments[key].name, values, sum(values) / len(values) if values else None)
        for key, values in found.items()
    ]


def require_loadable(book: Book, piece_id: int, now: datetime) -> Piece:
    """Return a piece that can be loaded now; raises `StateError`."""
    piece = book.piece(piece_id)
    state = book.state_of(piece, now)
    if state is PieceState.VOID:
        raise StateError(
            f"{piece.label} is void ({piece.void_reason}).", "Void pieces are never loaded.", "Choose another."
        )
    if state in (PieceState.PLANNED, PieceState.SAWN, PieceState.CLAMPED):
        raise StateError(
            f"{piece.label} is {_WAITS[state]}.",
            "Only finished pieces are loaded.",
            "Finish it first, or choose another.",
        )
    if any(pull.state in ("running", "stopped") for pull in book.pulls.get(piece_id, ())):
        raise StateError(
            f"{piece.label} has a pull that is neither kept nor tried again.",
            "One pull at a time.",
            "Keep it or try again.",
        )
    return piece


def next_attempt(book: Book, piece: Piece) -> int:
    """Return the number of the next loading of a piece."""
    return max((pull.attempt for pull in book.pulls.get(piece.id, ())), default=0) + 1


@dataclass(frozen=True)
class Judgement:
    """What the person saw: what happened, torn wood in percent as typed, where it failed, a note."""

    outcome: str
    wood_failure: str = ""
    failure: str | None = None
    note: str = ""


def read_judgement(judgement: Judgement) -> dict[str, object]:
    """Return what a person saw as columns of a pull; raises `EntryError`."""
    if not judgement.outcome:
        raise EntryError(
            "It is not said what happened.", "It broke, it held, or it fell apart.", "Choose one.", field="outcome"
        )
    if judgement.outcome not in OUTCOMES:
        raise EntryError(
            f"“{judgement.outcome}” is no outcome.", f"Choose one of {', '.join(OUTCOMES)}.", field="outcome"
        )
    if judgement.failure is not None and judgement.failure not in FAILURES:
        raise EntryError(
            f"“{judgement.failure}” is no failure.", f"Choose one of {', '.join(FAILURES)}.", field="failure"
        )
    torn = None
    if judgement.wood_failure.strip():
        bounds = Bounds(0, 100, zero_allowed=True)
        torn = parse_quantity(judgement.wood_failure, Kind.PERCENT, bounds=bounds, field="wood_failure").si
    return {
        "outcome": judgement.outcome,
        "wood_failure_pct": torn,
        "failure": judgement.failure,
        "note": judgement.note.strip()[:1000],
    }


def break_by_hand(
    file: ShopFile,
    trial_id: int,
    piece_id: int,
    load: str,
    judgement: Judgement,
    *,
    held: str = "",
    beyond_rig: bool = False,
) -> int:
    """Keep a break that was read off by a person.

    Parameters
    ----------
    load : the peak in any unit; empty for a pried piece, or one that fell apart before it was loaded.
    held : the last load that held, where weights went up in steps; empty where the load rose evenly.
    beyond_rig : keep a load above the shop's strongest rig on purpose.

    Raises
    ------
    EntryError : the load cannot be read, is zero though it broke, or is beyond any rig. StateError : not loadable.
    """
    with file.changing("Kept a break", trial_id) as connection:
        book = read_book(connection, trial_id)
        piece = require_loadable(book, piece_id, file.clock())
        require_untested(book, piece)
        values = read_judgement(judgement)
        if FIXTURES[book.fixture].kind == "none":
            refuse_load(load, values)
            read = None
        else:
            read = read_load(connection, book, load, judgement.outcome, beyond_rig)
        held_n, held_typed = read_held(connection, book, held, read.load_n if read else 0.0, judgement.outcome)
        return insert(
            connection,
            "pull",
            {
                "piece_id": piece_id,
                "attempt": next_attempt(book, piece),
                "source": "hand",
                "state": "kept",
                "started_utc": file.now(),
                "ended_utc": file.now(),
                "load_n": read.load_n if read else None,
                "load_typed": read.typed if read else "",
                "load_through": read.through if read else "",
                "held_n": held_n,
                "held_typed": held_typed,
                **values,
            },
        )


def require_untested(book: Book, piece: Piece) -> None:
    """Raise `StateError` for a piece that has a result."""
    if book.result_of(piece) is not None:
        raise StateError(f"{piece.label} is broken already.", "Its result is kept.", "Undo, or choose another piece.")


def require_pull(book: Book, pull_id: int) -> tuple[Piece, Pull]:
    """Return a pull of a trial with its piece; raises `NotThere`."""
    for piece_id, pulls in book.pulls.items():
        for pull in pulls:
            if pull.id == pull_id:
                return book.pieces[piece_id], pull
    raise NotThere(f"There is no pull {pull_id} in this trial.", do="It may have been undone.")


def amend_judgement(file: ShopFile, trial_id: int, pull_id: int, judgement: Judgement) -> None:
    """Change what was seen of a kept break; the load stays."""
    with file.changing("Changed what was seen of a break", trial_id) as connection:
        piece, pull = require_pull(read_book(connection, trial_id), pull_id)
        if pull.state != "kept":
            raise StateError(f"This pull of {piece.label} is {pull.state}.", "Only a kept one has been judged.")
        amend(connection, "pull", pull_id, read_judgement(judgement))


def mark_odd(file: ShopFile, trial_id: int, piece_id: int, reason: str) -> None:
    """Say that a piece looks odd, before its number is known; empty takes it back. Raises `StateError` after."""
    with file.changing("Marked a piece as odd", trial_id) as connection:
        book = read_book(connection, trial_id)
        piece = book.piece(piece_id)
        if any(pull.state in ("stopped", "kept") for pull in book.pulls.get(piece_id, ())):
            raise StateError(
                f"The number of {piece.label} is known.",
                "Odd looks count only when said before.",
                "Set it aside with a reason instead.",
            )
        text = reason.strip()[:300]
        amend(connection, "piece", piece_id, {"odd_reason": text or None, "odd_utc": file.now() if text else None})
