"""The pulls of a piece: the next one, and the one that is meant."""

from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.core.errors import NotThere
from adhaero.store.pieces import Piece
from adhaero.store.pulls import Pull


def next_attempt(facts: PlanFacts, piece: Piece) -> int:
    """Return the number of the next loading of a piece."""
    return max((pull.attempt for pull in facts.pulls.get(piece.id, ())), default=0) + 1


def require_pull(facts: PlanFacts, pull_id: int) -> tuple[Piece, Pull]:
    """Return a pull of a trial with its piece; raises `NotThere`."""
    for piece_id, pulls in facts.pulls.items():
        for pull in pulls:
            if pull.id == pull_id:
                return facts.pieces[piece_id], pull
    raise NotThere(f"There is no pull {pull_id} in this trial.", do="It may have been undone.")
