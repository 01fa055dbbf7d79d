"""Pieces at the saw: sawn and labelled, or given another label."""

from collections.abc import Sequence
from dataclasses import dataclass

from adhaero.bench.facts.chosen import require_pieces
from adhaero.bench.facts.entry import Entry, Ids
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.requirements import require_unchanged
from adhaero.core.errors import EntryError
from adhaero.core.pieces import Act
from adhaero.store.file import ShopFile
from adhaero.store.pieces import (
    amend_piece,
    find_label,
)


@dataclass(frozen=True)
class SawnEntry(Entry):
    """Pieces to tick as sawn, or to take the tick back from."""

    pieces: Ids
    sawn: bool = True


def mark_sawn(file: ShopFile, trial_id: int, piece_ids: Sequence[int], *, sawn: bool = True) -> None:
    """Tick pieces as sawn and labelled, or take the tick back while they are not glued."""
    with file.changing("Ticked pieces as sawn" if sawn else "Took back ticks at the saw", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        for piece in require_pieces(facts, piece_ids):
            if sawn == (piece.sawn_utc is not None):
                continue
            facts.require(Act.SAW if sawn else Act.UNSAW, piece, file.clock())
            amend_piece(connection, piece.id, sawn_utc=file.now() if sawn else None)


def relabel(file: ShopFile, trial_id: int, piece_id: int, was: str, label: str) -> None:
    """Give a piece another label; raises `EntryError` for one that stands already, `StaleEdit` if it is not `was`."""
    text = label.strip()
    with file.changing(f"Relabelled a piece as {text}", trial_id) as connection:
        piece = read_trial(connection, trial_id).piece(piece_id)
        require_unchanged("the label", piece.label, was, "label")
        if not 1 <= len(text) <= 20:
            raise EntryError(
                "The label is empty." if not text else "The label is too long.", "Up to 20 letters fit.", field="label"
            )
        other = find_label(connection, trial_id, text)
        if other is not None and other.id != piece.id:
            raise EntryError(
                f"Another piece is labelled {text}.",
                "Two pieces never share a label.",
                "Choose another.",
                field="label",
            )
        amend_piece(connection, piece.id, label=text)
