"""Dealing pieces to boards so that every board carries every set where it can, and shuffling the orders."""

from collections.abc import Sequence
from dataclasses import dataclass
from random import Random
from typing import TypeVar

from adhaero.core.errors import PlanError

T = TypeVar("T")


@dataclass(frozen=True)
class Place:
    """One planned piece: its set, its board and place on it (from 0), its turn to be glued and to be broken."""

    treatment: int
    board: int
    position: int
    glue_turn: int
    break_turn: int


def shuffled(items: Sequence[T], rng: Random) -> list[T]:
    """Return the items in random order (Fisher and Yates, on `Random.random`).

    `Random.shuffle` may change between Python versions; the numbers behind `random()` for a seed may not, and the
    same seed must give the same plan forever.
    """
    order = list(items)
    for last in range(len(order) - 1, 0, -1):
        other = int(rng.random() * (last + 1))
        order[last], order[other] = order[other], order[last]
    return order


def deal(counts: Sequence[int], holds: Sequence[int], seed: int) -> tuple[Place, ...]:
    """Deal pieces to boards.

    Round by round every board gets one of each set that still needs pieces, as far as it has places; where it has
    fewer places than sets are left, the sets that need most go first, then those that met the board's others least.

    Parameters
    ----------
    counts : pieces of each set; holds : places on each board; seed : of the shuffling.

    Returns
    -------
    Places in board order, then place order.

    Raises
    ------
    PlanError : the boards hold too few pieces.
    """
    if sum(holds) < sum(counts):
        raise PlanError(
            f"The boards hold {sum(holds)} pieces and the plan has {sum(counts)}.",
            "Every piece needs a place.",
            f"Add a board, let the boards hold more, or plan {sum(counts) - sum(holds)} pieces less.",
            field="boards",
        )
    rng = Random(seed)
    need = list(counts)
    rows: list[list[int]] = [[] for _ in holds]
    met = [[0] * len(counts) for _ in counts]
    while sum(need):
        for board, places in enumerate(holds):
            chosen = _choose(need, places - len(rows[board]), rows[board], met, rng)
            for treatment in chosen:
                for other in rows[board]:
                    met[treatment][other] += 1
                    met[other][treatment] += 1
                rows[board].append(treatment)
                need[treatment] -= 1
    seats = [
        (board, position, one) for board, row in enumerate(rows) for position, one in enumerate(shuffled(row, rng))
    ]
    glue_turns = shuffled(range(len(seats)), rng)
    break_turns = shuffled(range(len(seats)), rng)
    return tuple(
        Place(one, board, position, glue_turn, break_turn)
        for (board, position, one), glue_turn, break_turn in zip(seats, glue_turns, break_turns, strict=True)
    )


def _choose(
    need: Sequence[int], room: int, here: Sequence[int], met: Sequence[Sequence[int]], rng: Random
) -> list[int]:
    wanted = shuffled([one for one, left in enumerate(need) if left > 0], rng)
    if room >= len(wanted):
        return wanted
    chosen: list[int] = []
    while len(chosen) < room:
        others = [*here, *chosen]
        best = min(
            (one for one in wanted if one not in chosen),
            key=lambda one: (-need[one], others.count(one), sum(met[one][other] for other in others)),
        )
        chosen.append(best)
    return chosen
