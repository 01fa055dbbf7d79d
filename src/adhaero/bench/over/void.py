"""Voiding: a piece taken out before it was ever loaded, and put back."""

from adhaero.bench.facts.book import read_book
from adhaero.core.errors import EntryError, NotThere, StateError
from adhaero.store.file import ShopFile
from adhaero.store.pieces import (
    fetch_piece,
)
from adhaero.store.rows import amend


def void_piece(file: ShopFile, trial_id: int, piece_id: int, reason: str) -> None:
    """Take a piece out before it was ever loaded, with a reason."""
    text = reason.strip()
    with file.changing("Voided a piece", trial_id) as connection:
        book = read_book(connection, trial_id)
        piece = book.piece(piece_id)
        if not text:
            raise EntryError("No reason is given.", "A void piece says why.", "Write what happened.", field="reason")
        if book.pulls.get(piece_id):
            raise StateError(
                f"{piece.label} has been loaded.",
                "Only a piece that was never loaded can be void.",
                "Set it aside in Compare instead.",
            )
        amend(connection, "piece", piece_id, {"void_reason": text[:300]})


def unvoid_piece(file: ShopFile, trial_id: int, piece_id: int) -> None:
    """Put a void piece back."""
    with file.changing("Put a void piece back", trial_id) as connection:
        piece = fetch_piece(connection, piece_id)
        if piece is None or piece.trial_id != trial_id:
            raise NotThere(f"There is no piece {piece_id} in this trial.")
        amend(connection, "piece", piece_id, {"void_reason": None})
