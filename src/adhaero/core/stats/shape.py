"""The shapes that a curve of strength can have."""

from enum import StrEnum


class Shape(StrEnum):
    """How strength goes with x."""

    CURE = "cure"
    GAP = "gap"
    STRAIGHT = "straight"
