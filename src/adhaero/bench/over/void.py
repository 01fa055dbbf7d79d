"""Voiding: a piece taken out before it was ever loaded, and put back."""

from adhaero.bench.facts.reading import read_trial
from adhaero.core.errors import EntryError
from adhaero.core.pieces import Act
from adhaero.store.file import ShopFile
from adhaero.store.pieces import amend_piece


def void_piece(file: ShopFile, trial_id: int, piece_id: int, reason: str) -> None:
    """Take a piece out before it was ever loaded, with a reason."""
    text = reason.strip()
    with file.changing("Voided a piece", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        piece = facts.piece(piece_id)
        if not text:
            raise EntryError("No reason is given.", "A void piece says why.", "Write what happened.", field="reason")
        facts.require(Act.VOID, piece, file.clock())
        amend_piece(connection, piece_id, void_reason=text[:300])


def restore_piece(file: ShopFile, trial_id: int, piece_id: int) -> None:
    """Put a void piece back."""
    with file.changing("Put a void piece back", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        facts.require(Act.RESTORE, facts.piece(piece_id), file.clock())
        amend_piece(connection, piece_id, void_reason=None)
