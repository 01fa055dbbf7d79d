"""Pieces that were made after the first break of their trial: they share neither its days nor its mixes."""

from datetime import datetime

from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.rows import parse_time
from adhaero.bench.facts.shelf import kept
from adhaero.store.pieces import Piece


@kept(most=16)
def find_made_late(facts: PieceFacts) -> frozenset[int]:
    """Return the pieces that were closed after the first piece of their trial was broken; pilot pieces break none."""
    broken = [at for at in facts.each(_broken_at).values() if at is not None]
    if not broken:
        return frozenset()
    first = min(broken)
    closed = facts.each(_closed_at).items()
    return frozenset(piece_id for piece_id, at in closed if at is not None and at > first)


def _broken_at(facts: PieceFacts, piece: Piece) -> datetime | None:
    result = facts.result_of(piece)
    return None if piece.pilot or result is None or result.undated else parse_time(result.started_utc)


def _closed_at(facts: PieceFacts, piece: Piece) -> datetime | None:
    return facts.life_of(piece).closed_at
