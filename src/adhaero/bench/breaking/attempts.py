"""The pulls of a piece: the next one, and the one that is meant."""

from adhaero.bench.facts.book import Book
from adhaero.core.errors import NotThere
from adhaero.store.pieces import Piece
from adhaero.store.pulls import Pull


def next_attempt(book: Book, piece: Piece) -> int:
    """Return the number of the next loading of a piece."""
    return max((pull.attempt for pull in book.pulls.get(piece.id, ())), default=0) + 1


def require_pull(book: Book, pull_id: int) -> tuple[Piece, Pull]:
    """Return a pull of a trial with its piece; raises `NotThere`."""
    for piece_id, pulls in book.pulls.items():
        for pull in pulls:
            if pull.id == pull_id:
                return book.pieces[piece_id], pull
    raise NotThere(f"There is no pull {pull_id} in this trial.", do="It may have been undone.")
