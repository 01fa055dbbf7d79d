"""The closed sets of a pull: where its load came from, how far it is, what became of the piece."""

from collections.abc import Sequence
from enum import StrEnum
from types import MappingProxyType
from typing import Final


class PullSource(StrEnum):
    """Where the load of a pull came from."""

    HAND = "hand"
    RIG = "rig"


class PullState(StrEnum):
    """How far a pull is: recorded now, stopped and not judged yet, kept as the result, or laid aside."""

    RUNNING = "running"
    STOPPED = "stopped"
    KEPT = "kept"
    RETRIED = "retried"


class PullOutcome(StrEnum):
    """What became of the piece at its load."""

    BROKE = "broke"
    HELD = "held"
    FELL_APART = "fell_apart"


class FailedIn(StrEnum):
    """What let go."""

    GLUE_LINE = "glue_line"
    WOOD = "wood"
    BOTH = "both"
    FIXTURE = "fixture"


class PriedWith(StrEnum):
    """What opened a piece that has no load."""

    UNSAID = ""
    HAND = "hand"
    HAMMER = "hammer"
    LEVER = "lever"
    JUMP = "jump"


class LoadPoint(StrEnum):
    """Where on its trace the load of a pull is read."""

    HIGHEST = "highest"
    FIRST_DROP = "first_drop"
    POINT = "point"


OUTCOME_WORDS: Final = MappingProxyType(
    {PullOutcome.BROKE: "broke at", PullOutcome.HELD: "held at least", PullOutcome.FELL_APART: "fell apart"}
)
FAILED_IN_WORDS: Final = MappingProxyType(
    {
        FailedIn.GLUE_LINE: "the glue line",
        FailedIn.WOOD: "the wood",
        FailedIn.BOTH: "both",
        FailedIn.FIXTURE: "the fixture",
    }
)

PRIED_WORDS: Final = MappingProxyType(
    {
        PriedWith.UNSAID: "not said",
        PriedWith.HAND: "by hand",
        PriedWith.HAMMER: "a hammer",
        PriedWith.LEVER: "a lever",
        PriedWith.JUMP: "a jump on it",
    }
)

JUDGED_WORDS: Final = MappingProxyType(
    {
        PullOutcome.BROKE: "broke",
        PullOutcome.HELD: "held: it did not break",
        PullOutcome.FELL_APART: "fell apart by itself",
    }
)
SOFT_WORDS: Final = MappingProxyType(
    {
        PullOutcome.BROKE: "it gave way",
        PullOutcome.HELD: "it was let off: it held",
        PullOutcome.FELL_APART: "fell apart by itself",
    }
)

# a pull below this share of the highest one of its piece only took up the slack
SLACK: Final = 0.02


def count_loadings(loads_n: Sequence[float]) -> int:
    """Return how often a piece was really loaded: pulls that reached a fiftieth of its highest load, at least one.

    Examples
    --------
    >>> count_loadings([12.0, 900.0, 1400.0]), count_loadings([0.0])
    (2, 1)
    """
    return sum(load > SLACK * max(loads_n) for load in loads_n) or 1
