"""The pieces that a person chose, each with its other half where both are one bar."""

from collections.abc import Sequence

from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.core.errors import EntryError
from adhaero.store.pieces import (
    Piece,
)


def require_pieces(facts: PlanFacts, piece_ids: Sequence[int]) -> list[Piece]:
    """Return pieces by their ids, each with its other half where both are one bar until it is sawn apart.

    Raises
    ------
    EntryError : none is chosen. NotThere : one is of another trial.
    """
    if not piece_ids:
        raise EntryError("No piece is chosen.", "Choose at least one.", field="pieces")
    chosen = {piece_id: facts.piece(piece_id) for piece_id in piece_ids}
    bars = (
        {piece.pair for piece in chosen.values() if piece.pair is not None} if facts.trial.matched == "halves" else ()
    )
    for piece in facts.pieces.values():
        if piece.pair in bars and piece.pair is not None and piece.void_reason is None:
            chosen.setdefault(piece.id, piece)
    return list(chosen.values())
