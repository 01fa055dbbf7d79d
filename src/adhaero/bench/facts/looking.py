"""How far a trial that planned to look has come: its boards, those that are complete, and what its looks allow."""

from dataclasses import dataclass
from typing import Final

from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.shelf import kept
from adhaero.core.stats.stopping import Looks, plan_looks

STOPPED: Final = "not needed: the answer was settled by the planned rule"
LEAST_BOARDS: Final = 3


@dataclass(frozen=True)
class Standing:
    """A trial with planned looks as it stands.

    Attributes
    ----------
    boards : how many it has. done : those of which every piece is broken or lost. begun : boards that are being broken
    and are not complete. each : pieces of a set on a board.
    looks : of all its boards. confidence : that ranges are made for now, so that those of all looks hold together.
    reach : the studentized range that tells a difference now; None before any look could.
    sigma : scatter of logarithms that is planned with.
    """

    boards: int
    done: frozenset[int]
    begun: frozenset[int]
    each: int
    looks: Looks
    confidence: float
    reach: float | None
    sigma: float | None

    @property
    def complete(self) -> int:
        """Return how many boards are complete."""
        return len(self.done)


@kept(most=16)
def find_standing(facts: PieceFacts) -> Standing | None:
    """Return how far a trial has come; None where it planned no looks, or has too few boards or sets for any."""
    if facts.trial.looks != "1" or facts.trial.frozen_utc is None:
        return None
    by_board: dict[int, list[bool | None]] = {}
    for piece in facts.pieces.values():
        if piece.pilot:
            continue
        broken = facts.result_of(piece) is not None
        # what stayed whole by the rule itself completes no board
        lost = piece.void_reason is not None and not piece.void_reason.startswith(STOPPED)
        by_board.setdefault(piece.board_id, []).append(True if broken else None if lost else False)
    sets = len({piece.treatment_id for piece in facts.pieces.values() if not piece.pilot})
    if len(by_board) < LEAST_BOARDS or sets < 2:
        return None
    complete = {key for key, each in by_board.items() if True in each and False not in each}
    begun = {key for key, each in by_board.items() if True in each and False in each}
    pieces = sum(map(len, by_board.values()))
    each = max(1, round(pieces / len(by_board) / sets))
    looks = plan_looks(len(by_board), sets, each)
    done = len(complete)
    reach = looks.ranges[done - 1] if done else float("inf")
    level = looks.levels[done - 1] if done else min(looks.levels)
    planned = facts.planned_sizes.get("cv_pct")
    return Standing(
        boards=len(by_board),
        done=frozenset(complete),
        begun=frozenset(begun),
        each=each,
        looks=looks,
        confidence=1 - level,
        reach=None if reach == float("inf") else reach,
        sigma=None if planned is None else planned / 100,
    )
