"""A piece among those of its set that are broken so far: a place, never a verdict."""

from collections.abc import Sequence
from statistics import fmean


def say_place(strength: float, others: Sequence[float], name: str, *, running: bool) -> str:
    """Return which place a strength takes among others of its set, and how far from their average it is.

    Examples
    --------
    >>> say_place(81.0, [80.0, 90.0], "Wren", running=False)
    'It is number 2 of 3 in Wren, 5 % below the average so far.'
    >>> say_place(81.0, [], "Wren", running=True)
    'The first piece of Wren.'
    """
    if not others:
        return f"The first piece of {name}."
    place = sum(other > strength for other in others) + 1
    percent = round(100 * (strength / fmean(others) - 1))
    compared = "at" if percent == 0 else f"{abs(percent)} % {'above' if percent > 0 else 'below'}"
    begin = "If it breaks now it is" if running else "It is"
    return f"{begin} number {place} of {len(others) + 1} in {name}, {compared} the average so far."
