"""Open time: how long glue lay open on a piece, and whether that was too long."""

from datetime import datetime

from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.rows import parse_time
from adhaero.core.plan.fields import Factor
from adhaero.core.plan.gluing import find_waits
from adhaero.store.pieces import Piece


def say_spread(facts: PlanFacts, piece: Piece) -> str:
    """Return how glue is spread on a piece by plan, in words."""
    level = facts.level_of(facts.treatments[piece.treatment_id], Factor.SPREAD)
    return level.name if level else facts.trial.spread


def find_coat_waits(facts: PlanFacts, piece: Piece) -> list[tuple[float, float]]:
    """Return how long each coat of a piece really soaked in and by plan, s; only where the next one is recorded."""
    coats = [datetime.fromisoformat(one.at_utc) for one in facts.coats.get(piece.id, ())]
    if not coats:
        return []
    spread = parse_time(piece.spread_utc)
    ends = [*coats[1:], *([spread] if spread else [])]
    waits = find_waits(say_spread(facts, piece))
    return [((end - begin).total_seconds(), wait) for begin, end, wait in zip(coats, ends, waits, strict=False)]


def open_seconds(_: PlanFacts, piece: Piece) -> float | None:
    """Return how long glue lay open on a piece, from spreading to closing; None where one is not recorded."""
    spread, closed = parse_time(piece.spread_utc), parse_time(piece.closed_utc)
    return None if spread is None or closed is None else (closed - spread).total_seconds()


def is_late(facts: PieceFacts, piece: Piece, open_time_s: float | None) -> bool:
    """Return whether a piece was closed after its glue's open time."""
    lay = facts.each(open_seconds)[piece.id]
    return lay is not None and open_time_s is not None and lay > open_time_s
