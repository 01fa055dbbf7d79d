"""Glue-ups: pieces in the order of gluing, cut into what one mix, its open time and the clamps of the shop allow."""

from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import dataclass, field
from math import ceil
from typing import Final, TypeVar

from adhaero.core.plan.clamping import SetUp
from adhaero.core.plan.gluing import GlueCard, split_batch
from adhaero.core.plan.tasks import Line, PlannedBatch

T = TypeVar("T")

EACH_S: Final = 60.0
AGE_GIVE: Final = 0.05
_LAY_OUT_MIN = 10
_NO_OPEN_TIME = 8


@dataclass(frozen=True)
class Pace:
    """How exactly and how fast a trial is made.

    Attributes
    ----------
    give : the share by which clamp times may be off. break_min : to break a piece. each_s : to spread and close one.
    ages : cure times are compared, and each piece breaks at its own.
    """

    give: float
    break_min: float
    each_s: float = EACH_S
    ages: bool = False


@dataclass(frozen=True)
class ToMake:
    """A piece that is to be made, as glue-ups see it; pieces of one glue-up that are handled alike are a line of it.

    Attributes
    ----------
    piece : known by. clamp_s : in clamps; cure_s : from closing to the test, or to what comes before it; stay_s : in
    what it goes through after that. inside_until : when it comes out of what it is in, min; None where in nothing.
    bar : which bar it is half of until that is ripped, None for a piece by itself.
    """

    piece: int
    set_up: SetUp | None = field(compare=False)
    clamp_s: float
    cure_s: float
    stay_s: float = 0.0
    inside_until: int | None = None
    bar: int | None = None

    @property
    def handled(self) -> Hashable:
        """Return what pieces of one line have in common; both halves of a bar are in one line."""
        pressed = (self.set_up.name, self.set_up.force_n) if self.set_up is not None else None
        return pressed, self.clamp_s, self.cure_s, self.stay_s, self.inside_until


def group_by(things: Sequence[T], key: Callable[[T], Hashable]) -> list[list[T]]:
    """Return things that are alike together, in the order in which each kind was first met."""
    found: dict[Hashable, list[T]] = {}
    for one in things:
        found.setdefault(key(one), []).append(one)
    return list(found.values())


def find_most(pieces: int, each_s: float, card: GlueCard | None) -> tuple[int, bool]:
    """Return how many pieces a glue-up takes within the open time, or pot life, of a glue; whether either is known."""
    limits = [one for one in (card.open_time_s, card.pot_life_s) if one is not None] if card else []
    return (split_batch(pieces, each_s, min(limits))[0], True) if limits else (_NO_OPEN_TIME, False)


def split_glue_ups(pieces: Sequence[ToMake], most: int, stock: Mapping[str, int]) -> list[list[ToMake]]:
    """Cut pieces of one glue, in order, into glue-ups of at most so many that the clamps allow; bars stay whole."""
    found: list[list[ToMake]] = [[]]
    for bar in group_by(pieces, lambda one: ("bar", one.bar) if one.bar is not None else one.piece):
        longer = [*found[-1], *bar]
        if found[-1] and (len(longer) > most or not _fits(longer, stock)):
            found.append(list(bar))
        else:
            found[-1] = longer
    return found


def _fits(pieces: Sequence[ToMake], stock: Mapping[str, int]) -> bool:
    used: dict[str, int] = {}
    for line in group_by(pieces, lambda one: one.handled):
        for name, number in _count_clamps(line):
            used[name] = used.get(name, 0) + number
    return all(number <= stock.get(name, number) for name, number in used.items())


def _count_clamps(pieces: Sequence[ToMake]) -> tuple[tuple[str, int], ...]:
    set_up = pieces[0].set_up
    if set_up is None:
        return ()
    bars = len({one.bar if one.bar is not None else -one.piece for one in pieces})
    return ((set_up.name, ceil(bars / (set_up.side_by_side * set_up.in_line)) * set_up.clamps),)


def plan_glue_up(pieces: Sequence[ToMake], pace: Pace) -> PlannedBatch:
    """Return a glue-up of pieces that is to be done, line by line."""
    lines, closed = [], 0
    for mine in group_by(pieces, lambda one: one.handled):
        closed += len(mine)
        lines.append(plan_line(mine, pace, closes_min=_minutes(closed, pace)))
    return PlannedBatch(f"g{min(one.piece for one in pieces)}", _minutes(len(pieces), pace), tuple(lines))


def _minutes(pieces: int, pace: Pace) -> int:
    """Return how long it takes to lay out, mix, spread and close so many pieces, line by line."""
    return _LAY_OUT_MIN + ceil(pieces * pace.each_s / 60)


def plan_line(pieces: Sequence[ToMake], pace: Pace, closes_min: int | None = None) -> Line:
    """Return pieces that are handled alike as one line, nothing of it done yet."""
    first, number = pieces[0], len(pieces)
    clamp_min = max(1, round(first.clamp_s / 60)) if first.clamp_s else 0
    return Line(
        key=f"l{min(one.piece for one in pieces)}",
        clamps=_count_clamps(pieces),
        clamp_min=clamp_min,
        give_min=max(1, round(clamp_min * pace.give)),
        cure_min=round(first.cure_s / 60),
        age_give_min=max(1, round(first.cure_s / 60 * AGE_GIVE)) if pace.ages else None,
        expose_min=round(first.stay_s / 60),
        release_min=1 + ceil(number / 2),
        measure_min=number,
        break_min=ceil(number * pace.break_min),
        closes_min=closes_min,
    )


def plan_solid(pieces: Sequence[ToMake], pace: Pace) -> PlannedBatch:
    """Return pieces without a joint as a glue-up in which nothing is glued: they are only measured and broken."""
    line = plan_line(pieces, pace)
    bare = Line(line.key, (), 0, 0, 0, None, line.expose_min, 0, line.measure_min, line.break_min, 0, 0, 0)
    return PlannedBatch(f"g{min(one.piece for one in pieces)}", 0, (bare,))
