"""Clamps: force and pressure on a glue line, how many a target takes, and the rounds that a stock of them makes."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from math import ceil
from typing import Final

from adhaero.core.errors import EntryError


@dataclass(frozen=True)
class Clamping:
    """Clamps on one glue line; `clamps_needed` are for the lower and the upper end of the target."""

    area_mm2: float
    force_n: float
    pressure_mpa: float
    target_mpa: tuple[float, float] | None
    within_target: bool | None
    clamps_needed: tuple[int, int] | None


def compute_line_force(pressure_mpa: float, area_mm2: float) -> float:
    """Return the force in N that presses `area_mm2` at `pressure_mpa`: F = p·A."""
    return pressure_mpa * area_mm2


def compute_clamping(
    area_mm2: float, clamp_force_n: float, clamps: int = 1, target_mpa: tuple[float, float] | None = None
) -> Clamping:
    """Return the pressure of clamps on a glue line, p = ΣF/A, held against a target range.

    Parameters
    ----------
    area_mm2 : glued area that the clamps press; clamp_force_n : force of one clamp; clamps : how many press it.
    target_mpa : lowest and highest wanted pressure, or None.

    Raises
    ------
    EntryError : area, force or clamps not above 0, or a target that runs backwards.
    """
    for name, value in (("area", area_mm2), ("force", clamp_force_n), ("clamps", clamps)):
        if not value > 0:
            raise EntryError(f"{name} is {value:g}.", "It must be above 0.", field=name)
    if target_mpa is not None and not 0 < target_mpa[0] <= target_mpa[1]:
        raise EntryError("The target runs backwards.", "Expected lowest:highest, e.g. 120psi:180psi.", field="target")
    force = clamps * clamp_force_n
    pressure = force / area_mm2
    if target_mpa is None:
        return Clamping(area_mm2, force, pressure, None, None, None)
    low, high = (max(1, ceil(one * area_mm2 / clamp_force_n - 1e-9)) for one in target_mpa)
    return Clamping(area_mm2, force, pressure, target_mpa, target_mpa[0] <= pressure <= target_mpa[1], (low, high))


# a force in a clamp within this share of the one asked for is there
NEAR: Final = 0.1


def find_near(asked_n: float) -> tuple[float, float]:
    """Return from where to where a force in a clamp counts as the one asked for, N."""
    return (1 - NEAR) * asked_n, (1 + NEAR) * asked_n


class ForceKnown(StrEnum):
    """How the force of a clamp is known."""

    GUESSED = "guessed"
    MEASURED = "measured"


class ClampKind(StrEnum):
    """What presses. Screws give up to their force; springs and weights give what they give."""

    SCREW = "screw clamp"
    SPRING = "spring clamp"
    WEIGHT = "weight"
    PRESS = "press"
    BAND = "band or tape"


ADJUSTABLE: Final = frozenset({ClampKind.SCREW, ClampKind.PRESS})
_FIXED_TOLERANCE: Final = 0.25


@dataclass(frozen=True)
class Clamps:
    """Clamps of one kind in the shop.

    Attributes
    ----------
    force_n : of one of them; the most it gives where it is screwed.
    in_line : pieces that can lie one behind the other in one clamp, each under its full force.
    side_by_side : pieces that can lie beside each other and share it.
    """

    name: str
    kind: ClampKind
    number: int
    force_n: float
    in_line: int = 1
    side_by_side: int = 1


@dataclass(frozen=True)
class SetUp:
    """One clamp set-up for a set, and the rounds that the shop's stock makes of its pieces.

    Attributes
    ----------
    clamps : clamps in one set-up; side_by_side, in_line : how the pieces lie in it.
    force_n : on each piece; asked_n : what the plan asks for.
    at_once : set-ups that the stock makes at a time; rounds : set-ups used in each round, in order.
    dummies : blank pieces beside the odd ones of the last set-up.
    """

    name: str
    kind: ClampKind
    clamps: int
    side_by_side: int
    in_line: int
    force_n: float
    asked_n: float
    at_once: int
    rounds: tuple[int, ...]
    dummies: int


def choose_set_up(asked_n: float, pieces: int, stock: Sequence[Clamps]) -> SetUp | None:
    """Return the set-up that presses a set's pieces as asked in the fewest rounds, then with the fewest clamps.

    Screwed clamps must reach the force; springs and weights must come within a quarter of it.

    Parameters
    ----------
    asked_n : force on each piece, above 0. pieces : of the set.

    Returns
    -------
    None where nothing in the shop gives that force.

    Examples
    --------
    >>> weights = Clamps("block of steel", ClampKind.WEIGHT, 2, 200.0, side_by_side=2)
    >>> choose_set_up(100.0, 14, [weights]).rounds
    (2, 2, 2, 1)
    """
    found = [one for clamps in stock for one in _list_set_ups(asked_n, pieces, clamps)]
    if not found or pieces < 1:
        return None
    return min(found, key=lambda one: (len(one.rounds), one.clamps, abs(one.force_n - asked_n)))


def _list_set_ups(asked_n: float, pieces: int, stock: Clamps) -> list[SetUp]:
    found = []
    for beside in range(1, stock.side_by_side + 1):
        for clamps in range(1, min(stock.number, 8) + 1):
            most = stock.force_n * clamps / beside
            if stock.kind in ADJUSTABLE:
                fits, force = most >= asked_n * (1 - 1e-9), min(most, asked_n)
            else:
                fits, force = abs(most / asked_n - 1) <= _FIXED_TOLERANCE, most
            if fits:
                found.append(_plan_rounds(asked_n, force, pieces, stock, beside, clamps))
                break
    return found


def _plan_rounds(asked_n: float, force_n: float, pieces: int, stock: Clamps, beside: int, clamps: int) -> SetUp:
    in_one = beside * stock.in_line
    needed, at_once = ceil(pieces / in_one), stock.number // clamps
    full, rest = divmod(needed, at_once)
    last = pieces - (needed - 1) * in_one
    return SetUp(
        name=stock.name,
        kind=stock.kind,
        clamps=clamps,
        side_by_side=beside,
        in_line=stock.in_line,
        force_n=force_n,
        asked_n=asked_n,
        at_once=at_once,
        rounds=(at_once,) * full + ((rest,) if rest else ()),
        dummies=-last % beside,
    )


@dataclass(frozen=True)
class ToClamp:
    """A piece, or a bar of two, that goes into clamps: how it lies there, and how long it stays, s."""

    set_up: SetUp
    clamp_time_s: float | None


def deal_rounds(queue: Sequence[ToClamp], stock: Sequence[Clamps]) -> tuple[int, ...]:
    """Return the round, from 0, in which each piece is clamped when they come in this order.

    The clamps of a name have rounds of their own: pieces pressed alike for the same time fill a set-up, a new set-up
    takes clamps that are left, and once none are left the next round begins.

    Examples
    --------
    >>> weights = Clamps("block of steel", ClampKind.WEIGHT, 2, 200.0, side_by_side=2)
    >>> pair = choose_set_up(100.0, 14, [weights])
    >>> deal_rounds([ToClamp(pair, 86400.0)] * 14, [weights])
    (0, 0, 0, 0, 1, 1, 1, 1, 2, 2, 2, 2, 3, 3)
    """
    number = {one.name: one.number for one in stock}
    rounds: list[int] = []
    now: dict[str, int] = {}
    used: dict[str, int] = {}
    room: dict[str, dict[tuple[float, float | None, int], int]] = {}
    for one in queue:
        name, key = one.set_up.name, (one.set_up.force_n, one.clamp_time_s, one.set_up.side_by_side)
        places = room.setdefault(name, {})
        if not places.get(key):
            if used.get(name, 0) + one.set_up.clamps > number[name]:
                now[name] = now.get(name, 0) + 1
                used[name] = 0
                places.clear()
            used[name] = used.get(name, 0) + one.set_up.clamps
            places[key] = one.set_up.side_by_side * one.set_up.in_line
        places[key] -= 1
        rounds.append(now.get(name, 0))
    return tuple(rounds)


def find_rounds(spans: Sequence[tuple[datetime, datetime | None]]) -> tuple[int, ...]:
    """Return the round, from 1, in which each piece really was in clamps.

    A round is what hangs in clamps together: it ends when a clamp goes on after one of its clamps has come off.

    Parameters
    ----------
    spans : when the clamp went on and came off, None while it is on.
    """
    found = [0] * len(spans)
    number, until = 0, None
    for at in sorted(range(len(spans)), key=lambda one: spans[one][0]):
        on, off = spans[at]
        if number == 0 or (until is not None and on >= until):
            number, until = number + 1, off
        elif off is not None and (until is None or off < until):
            until = off
        found[at] = number
    return tuple(found)


def bound_clamping(queue: Sequence[ToClamp], stock: Sequence[Clamps]) -> float:
    """Return the time, s, that the stock needs at least for all of a queue: no clamp is in two places at once."""
    number = {one.name: one.number for one in stock}
    busy: dict[str, float] = {}
    for one in queue:
        share = one.set_up.clamps / (one.set_up.side_by_side * one.set_up.in_line)
        busy[one.set_up.name] = busy.get(one.set_up.name, 0.0) + share * (one.clamp_time_s or 0.0)
    longest = max((one.clamp_time_s or 0.0 for one in queue), default=0.0)
    return max([longest, *(seconds / number[name] for name, seconds in busy.items())])
