"""How far a piece has come, when it is ready to break, and what may be done to it in which state: one table."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum
from functools import lru_cache
from typing import Final, NamedTuple

from adhaero.core.errors import StateError


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


class Act(StrEnum):
    """What is done to a piece, from the saw to Compare, where its state matters."""

    SAW = "saw"
    UNSAW = "unsaw"
    GLUE = "glue"
    PREPARE = "prepare"
    COAT = "coat"
    SPREAD = "spread"
    CLOSE = "close"
    CLAMP = "clamp"
    KEEP_FORCE = "keep_force"
    RELEASE = "release"
    CHANGE_TREATMENT = "change_treatment"
    SWAP_PARTS = "swap_parts"
    CHANGE_AGE = "change_age"
    PUT_IN = "put_in"
    TAKE_OUT = "take_out"
    UNTICK = "untick"
    MARK_ODD = "mark_odd"
    LOAD = "load"
    EXCLUDE = "exclude"
    INCLUDE = "include"
    VOID = "void"
    RESTORE = "restore"


class Standing(NamedTuple):
    """What decides about what may be done to a piece: its state, and what has been recorded of it.

    `loaded` it was pulled at least once; `pulling` a pull of it runs, or is neither kept nor tried again; `known` a
    load of it has been seen.
    """

    state: PieceState
    solid: bool
    in_glue_up: bool
    spread: bool
    closed: bool
    clamped: bool
    released: bool
    inside: bool
    loaded: bool
    pulling: bool
    known: bool
    set_aside: bool


@dataclass(frozen=True)
class Bar:
    """Something recorded of a piece that keeps it from an act, and what is said then of `{label}`."""

    holds: Callable[[Standing], bool]
    found: str
    rule: str = ""
    do: str = ""


@dataclass(frozen=True)
class Allowed:
    """In which states an act may be done, what bars it there, and what is said of `{label}` in another state."""

    states: frozenset[PieceState]
    bars: tuple[Bar, ...] = ()
    rule: str = ""
    do: str = ""
    found: str = ""


_P = PieceState
_ANY: Final = frozenset(PieceState)
_STANDING: Final = _ANY - {_P.BROKEN, _P.VOID}
_NO_GLUE_UP: Final = Bar(lambda one: not one.in_glue_up, "{label} is in no glue-up", do="Make a glue-up with it first.")

ALLOWED: Final[Mapping[Act, Allowed]] = {
    Act.SAW: Allowed(frozenset({_P.PLANNED}), rule="A piece is sawn once."),
    Act.UNSAW: Allowed(
        frozenset({_P.SAWN, _P.CURING, _P.READY}),
        (Bar(lambda one: one.closed or one.loaded, "{label} is glued or loaded already", "It must have been sawn."),),
    ),
    Act.GLUE: Allowed(
        frozenset({_P.SAWN}),
        (
            Bar(lambda one: one.solid, "{label} is solid wood", "It has no joint to glue.", "Leave it out."),
            Bar(
                lambda one: one.in_glue_up,
                "{label} is in another glue-up already",
                "A piece is glued once.",
                "Leave it out.",
            ),
        ),
        "Only sawn pieces can be glued.",
        "Tick it at the saw, or leave it out.",
    ),
    Act.PREPARE: Allowed(
        frozenset({_P.SAWN}),
        (
            Bar(lambda one: one.solid, "{label} is solid wood", "It has no faces to glue.", "Leave it out."),
            Bar(lambda one: one.spread or one.closed, "{label} is glued already", "Its faces were prepared before."),
        ),
        "Faces are prepared between saw and glue.",
    ),
    Act.COAT: Allowed(
        frozenset({_P.SAWN}),
        (
            _NO_GLUE_UP,
            Bar(lambda one: one.spread, "{label} has its last coat already", "The coats that soak in come before it."),
        ),
        "Glue comes on sawn pieces.",
    ),
    Act.SPREAD: Allowed(
        frozenset({_P.SAWN}),
        (
            _NO_GLUE_UP,
            Bar(
                lambda one: one.spread or one.closed,
                "{label} has its glue already",
                "Glue is spread once; undo it if it was a slip.",
            ),
        ),
        "Glue comes on sawn pieces.",
    ),
    Act.CLOSE: Allowed(
        frozenset({_P.SAWN}),
        (
            _NO_GLUE_UP,
            Bar(lambda one: one.closed, "{label} is closed already", "Parts are closed once."),
            Bar(
                lambda one: not one.spread,
                "No glue is recorded on {label} yet",
                "Parts are closed after the glue is spread.",
            ),
        ),
        "Sawn pieces are closed.",
    ),
    Act.CLAMP: Allowed(
        frozenset({_P.SAWN}),
        (
            _NO_GLUE_UP,
            Bar(lambda one: one.clamped, "{label} is in clamps already", "Clamps go on once."),
        ),
        "Sawn pieces are clamped.",
    ),
    Act.KEEP_FORCE: Allowed(
        frozenset({_P.SAWN, _P.CLAMPED}),
        (
            Bar(
                lambda one: not one.closed or one.released,
                "{label} is not in a clamp",
                "The force is that on a closed piece.",
            ),
        ),
        "The force is that on a closed piece.",
    ),
    # a void piece in clamps still has to come out of them
    Act.RELEASE: Allowed(
        frozenset({_P.CLAMPED, _P.VOID}),
        (
            Bar(
                lambda one: not one.clamped or one.released,
                "{label} is not in clamps",
                "Only clamps that are on can come off.",
            ),
        ),
        "Only clamps that are on can come off.",
    ),
    Act.CHANGE_TREATMENT: Allowed(
        _ANY,
        (
            Bar(
                lambda one: one.loaded,
                "{label} has been loaded",
                "Its set was known before its number was.",
                "Set it aside in Compare with the reason instead.",
            ),
        ),
    ),
    Act.SWAP_PARTS: Allowed(
        _ANY,
        (
            Bar(
                lambda one: one.solid or not one.closed,
                "{label} is not glued",
                "Only glued pieces can have the wrong partner.",
            ),
            Bar(lambda one: one.loaded, "{label} has been loaded", "Say so as a reason in Compare instead."),
        ),
    ),
    Act.CHANGE_AGE: Allowed(
        _STANDING, (Bar(lambda one: one.loaded, "{label} has been loaded", "A panel moves as a whole."),)
    ),
    Act.PUT_IN: Allowed(
        frozenset({_P.CURING, _P.READY}),
        (Bar(lambda one: one.inside, "{label} is in something already", "Take it out first."),),
        "Only standing pieces out of their clamps go through something.",
    ),
    Act.TAKE_OUT: Allowed(
        _ANY,
        (
            Bar(
                lambda one: not one.inside,
                "{label} is in nothing",
                "Only what went in can come out.",
                "Put it in first.",
            ),
        ),
    ),
    Act.UNTICK: Allowed(_ANY - {_P.BROKEN}, rule="What it had before stays written."),
    Act.MARK_ODD: Allowed(
        _ANY,
        (
            Bar(
                lambda one: one.known,
                "The number of {label} is known",
                "Odd looks count only when said before.",
                "Set it aside with a reason instead.",
            ),
        ),
    ),
    # a piece that is not cured yet can be loaded on purpose: Mind tells it
    Act.LOAD: Allowed(
        frozenset({_P.CURING, _P.READY}),
        (
            Bar(
                lambda one: one.pulling,
                "{label} has a pull that is neither kept nor tried again",
                "One pull at a time.",
                "Keep it or try again.",
            ),
        ),
        "Only finished pieces without a result are loaded.",
        "Finish it first, undo its break, or choose another.",
    ),
    Act.EXCLUDE: Allowed(
        frozenset({_P.BROKEN}),
        rule="Only a broken piece can be set aside.",
        do="Void it instead.",
        found="{label} has no result yet",
    ),
    Act.INCLUDE: Allowed(_ANY, (Bar(lambda one: not one.set_aside, "{label} is not set aside", "It counts already."),)),
    Act.VOID: Allowed(
        _STANDING,
        (
            Bar(
                lambda one: one.loaded,
                "{label} has been loaded",
                "Only a piece that was never loaded can be void.",
                "Set it aside in Compare instead.",
            ),
        ),
        "Only a piece that was never loaded can be void.",
    ),
    Act.RESTORE: Allowed(frozenset({_P.VOID}), rule="Only a void piece comes back."),
}

STATE_WORDS: Final[Mapping[PieceState, str]] = {
    _P.PLANNED: "not sawn yet",
    _P.SAWN: "not glued yet",
    _P.CLAMPED: "still in clamps",
    _P.CURING: "curing",
    _P.READY: "ready to break",
    _P.BROKEN: "broken already",
    _P.VOID: "void",
}


def require(act: Act, label: str, standing: Standing) -> None:
    """Raise `StateError` where an act may not be done to a piece, with what is in its way."""
    allowed = ALLOWED[act]
    for bar in allowed.bars:
        if bar.holds(standing):
            raise StateError(f"{bar.found.format(label=label)}.", bar.rule, bar.do)
    if standing.state not in allowed.states:
        found = allowed.found or f"{{label}} is {STATE_WORDS[standing.state]}"
        raise StateError(f"{found.format(label=label)}.", allowed.rule, allowed.do)


@lru_cache(maxsize=4096)
def list_allowed(standing: Standing) -> tuple[Act, ...]:
    """Return what may be done to a piece that stands like this."""
    return tuple(
        act
        for act, allowed in ALLOWED.items()
        if standing.state in allowed.states and not any(bar.holds(standing) for bar in allowed.bars)
    )
