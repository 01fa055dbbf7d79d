"""Setting a broken piece aside with a reason, and counting it again."""

from adhaero.bench.facts.reading import read_trial
from adhaero.core.errors import EntryError
from adhaero.core.pieces import Act
from adhaero.store.file import ShopFile
from adhaero.store.pieces import amend_piece


def exclude_piece(file: ShopFile, trial_id: int, piece_id: int, reason: str) -> None:
    """Set a broken piece aside with a reason; it stays listed and can be put back."""
    with file.changing("Set a piece aside", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        piece = facts.piece(piece_id)
        if not reason.strip():
            raise EntryError(
                "No reason is given.", "A piece set aside says why.", "Write what was wrong with it.", field="reason"
            )
        facts.require(Act.EXCLUDE, piece, file.clock())
        amend_piece(connection, piece_id, excluded_reason=reason.strip()[:300])


def include_piece(file: ShopFile, trial_id: int, piece_id: int) -> None:
    """Let a piece that was set aside count again."""
    with file.changing("Put a piece back", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        facts.require(Act.INCLUDE, facts.piece(piece_id), file.clock())
        amend_piece(connection, piece_id, excluded_reason=None)
