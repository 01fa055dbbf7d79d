"""Pieces that were made after the first break of their trial: they share neither its days nor its mixes."""

from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.rows import parse_time
from adhaero.bench.facts.shelf import kept


@kept(most=16)
def find_made_late(facts: PieceFacts) -> frozenset[int]:
    """Return the pieces that were closed after the first piece of their trial was broken; pilot pieces break none."""
    broken = [
        at
        for piece in facts.pieces.values()
        if not piece.pilot
        and (result := facts.result_of(piece)) is not None
        and not result.undated
        and (at := parse_time(result.started_utc)) is not None
    ]
    if not broken:
        return frozenset()
    first = min(broken)
    return frozenset(
        piece.id
        for piece in facts.pieces.values()
        if (closed := facts.life_of(piece).closed_at) is not None and closed > first
    )
