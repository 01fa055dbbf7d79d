"""The making of a trial in the hours of a shop: what the timetable computes with, and how long it takes in turn."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta, tzinfo
from math import floor

from adhaero.core.plan.greedy import find_finish, place_in_turn
from adhaero.core.plan.hours import Hours, list_windows
from adhaero.core.plan.tasks import Making, PlannedBatch, count_hand_minutes, estimate_horizon


@dataclass(frozen=True)
class ShopTime:
    """When work is done in a shop and by how many; `zone` None is that of this computer."""

    hours: Hours
    hands: int
    zone: tzinfo | None


def begin_making(
    batches: Sequence[PlannedBatch], shop: ShopTime, clamps: Sequence[tuple[str, int]], origin: datetime
) -> Making:
    """Return glue-ups in the working hours from a moment until surely everything is done, min from that moment."""
    week = shop.hours.week
    weekly = sum(((at[1].hour - at[0].hour) * 60 + at[1].minute - at[0].minute for at in week if at), 0)
    horizon = estimate_horizon(batches, weekly * shop.hands)
    windows = list_windows(shop.hours, origin, origin + timedelta(minutes=horizon), shop.zone)
    return Making(
        batches=tuple(batches),
        windows=tuple((find_minute(low, origin), find_minute(high, origin)) for low, high in windows),
        horizon=horizon,
        hands=shop.hands,
        clamps=tuple(clamps),
    )


def find_minute(moment: datetime, origin: datetime) -> int:
    """Return how many whole minutes a moment is after another."""
    return floor((moment - origin).total_seconds() / 60)


@dataclass(frozen=True)
class Work:
    """What a making takes, min.

    Attributes
    ----------
    hands : of work by hand. finish : until the last piece is broken, each glue-up begun as early as it goes.
    in_hours : working hours suffice for that; otherwise it is what it takes with hands around the clock.
    """

    hands: int
    finish: int
    in_hours: bool


def estimate_work(making: Making) -> Work | None:
    """Return what a making takes when each glue-up begins as early as it goes; None where it never fits.

    It is what the search for a timetable begins with: a better one may be found.
    """
    around = replace(making, windows=((making.now, making.horizon),))
    for one in (making, around):
        begins = place_in_turn(one)
        if begins is not None:
            return Work(count_hand_minutes(making.batches), find_finish(one, begins), one is making)
    return None
