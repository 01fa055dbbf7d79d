"""Trials over years: complete sets of pieces, panels, that are pulled together on a date dealt at random."""

from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from random import Random

from adhaero.core.plan.layout import shuffled


@dataclass(frozen=True)
class PanelPlace:
    """A piece as the panels see it: its date (None where it has none), and what else its set is made of."""

    date: Hashable | None
    rest: Hashable


def number_panels(places: Sequence[PanelPlace], seed: int) -> tuple[int | None, ...]:
    """Return the panel of each piece: one of each kind that shares a date, in the order given.

    The places were dealt to boards at random, so which panel is pulled when is chance; the numbers are shuffled over
    all dates, so that a number does not tell its date.

    Examples
    --------
    >>> two = [PanelPlace("1 y", "Heron"), PanelPlace("1 y", "Wren"), PanelPlace("2 y", "Heron"), PanelPlace(None, "")]
    >>> number_panels(two, seed=3)
    (2, 2, 1, None)
    """
    turns: dict[PanelPlace, int] = {}
    keys: list[tuple[Hashable, int] | None] = []
    for place in places:
        if place.date is None:
            keys.append(None)
            continue
        keys.append((place.date, turns.get(place, 0)))
        turns[place] = turns.get(place, 0) + 1
    order = shuffled([key for key in dict.fromkeys(keys) if key is not None], Random(seed))
    numbers = {key: number for number, key in enumerate(order, start=1)}
    return tuple(None if key is None else numbers[key] for key in keys)


def find_last_date(dates: Sequence[datetime], panels_each: int, reserve: int) -> datetime | None:
    """Return until when the panels last: the last date, and the reserve at the pace of the last two dates.

    Parameters
    ----------
    dates : when panels are pulled, in order; panels_each : how many on the last of them; reserve : panels without one.

    Examples
    --------
    >>> find_last_date([datetime(2027, 1, 1), datetime(2028, 1, 1)], 1, 2).year
    2029
    """
    if len(dates) < 2 or panels_each < 1:
        return dates[-1] if dates else None
    pause = dates[-1] - dates[-2]
    return dates[-1] + max(timedelta(0), pause) * (reserve // panels_each)
