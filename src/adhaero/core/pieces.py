"""How far a piece has come, and when it is ready to break."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum


class PieceState(StrEnum):
    """What a piece is waiting for; `void` pieces wait for nothing."""

    PLANNED = "planned"
    SAWN = "sawn"
    CLAMPED = "clamped"
    CURING = "curing"
    READY = "ready"
    BROKEN = "broken"
    VOID = "void"


@dataclass(frozen=True)
class PieceLife:
    """The dated steps of a piece so far, and what its plan asks for (s).

    `closed_at` is when its two parts came together, and cure runs from there; `clamped_at` when the clamp was on.
    `to_go_in` by plan it goes into something before the test, and has not yet; `inside` it is in water, outdoors, in a
    freezer or an oven now, by plan until `inside_until`.
    """

    solid: bool
    sawn: bool
    closed_at: datetime | None
    clamped_at: datetime | None
    released_at: datetime | None
    broken: bool
    void: bool
    clamp_time_s: float | None
    cure_time_s: float | None
    to_go_in: bool = False
    inside: bool = False
    inside_until: datetime | None = None

    @property
    def clamped_s(self) -> float | None:
        """Return the real time in clamps, s; None until they are off."""
        if self.clamped_at is None or self.released_at is None:
            return None
        return (self.released_at - self.clamped_at).total_seconds()


def find_state(life: PieceLife, now: datetime) -> PieceState:
    """Return how far a piece has come.

    Cure runs from closing; a piece is ready when its clamps are off and its cure time is over, and what it is to
    go through is over too. A solid piece is ready once sawn.
    """
    if life.void:
        return PieceState.VOID
    if life.broken:
        return PieceState.BROKEN
    if life.inside:
        return PieceState.CURING
    if life.solid:
        if not life.sawn:
            return PieceState.PLANNED
        return PieceState.CURING if life.to_go_in else PieceState.READY
    if life.clamped_at is None:
        return PieceState.SAWN if life.sawn else PieceState.PLANNED
    if life.released_at is None:
        return PieceState.CLAMPED
    cured = find_cured_at(life)
    waits = life.to_go_in or (cured is not None and now < cured)
    return PieceState.CURING if waits else PieceState.READY


def find_release_due(life: PieceLife) -> datetime | None:
    """Return when the clamps come off by plan; None before they are on or without a planned clamp time."""
    if life.clamped_at is None or life.clamp_time_s is None:
        return None
    return life.clamped_at + timedelta(seconds=life.clamp_time_s)


def find_ready_at(life: PieceLife) -> datetime | None:
    """Return when a piece is cured by plan, or comes out of what it is in; None where the plan says nothing of that."""
    return life.inside_until if life.inside else find_cured_at(life)


def find_cured_at(life: PieceLife) -> datetime | None:
    """Return when a glued piece is cured by plan; None before closing or without a planned cure time."""
    if life.closed_at is None or life.cure_time_s is None:
        return None
    cured = life.closed_at + timedelta(seconds=life.cure_time_s)
    return cured if life.released_at is None else max(cured, life.released_at)
