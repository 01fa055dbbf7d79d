"""When a piece may be loaded, and which pull may still be judged."""

from datetime import datetime

from adhaero.bench.breaking.view import WAITS
from adhaero.bench.facts.book import Book
from adhaero.core.errors import NotThere, StateError
from adhaero.core.pieces import PieceState
from adhaero.store.pieces import Piece
from adhaero.store.pulls import Pull


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
            f"{piece.label} is {WAITS[state]}.",
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
