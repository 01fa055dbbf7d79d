"""Weights put on in steps: the last load that held, the first that did not, and which plate comes next."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from adhaero.core.errors import EntryError
from adhaero.core.quantity import Kind, show
from adhaero.core.rig.entry.card import Card

# until this share of the lowest expected load the steps are as large as the plates allow
_FAR: Final = 0.7
# nearer than that a step is at least this share of it: finer ones only make the test longer
_FINE: Final = 0.02
_WITHOUT_FORECAST: Final = 0.1


@dataclass(frozen=True)
class Plate:
    """A kind of plate in the shop: its name, its weight in N, and how many there are."""

    name: str
    weight_n: float
    number: int


@dataclass(frozen=True)
class Steps:
    """What weights in steps say, N: the load that held, and the first that did not (None where none broke it)."""

    held_n: float
    broke_n: float | None


def read_steps(card: Card, stacks: Sequence[Sequence[Plate]], *, broke: bool) -> Steps:
    """Return between which loads a piece broke.

    Parameters
    ----------
    card : of the rig. stacks : what hung after each plate that was put on, first to last; all but the last one held.
    broke : whether the piece broke under the last one, else there were no more weights.

    Raises
    ------
    EntryError : more plates hang than there are, nothing was put on, or it broke at less than it held before.
    """
    loads = [card.load(sum(plate.weight_n for plate in stack)) for stack in stacks]
    for stack in stacks:
        _check_number(stack)
    if not loads:
        raise EntryError("No weight was put on.", "Each step is a plate on the hanger.", field="steps")
    if not broke:
        return Steps(max(loads), None)
    before = loads[:-1] or ([card.empty_n] if stacks[0] else [0.0])
    if max(before) >= loads[-1]:
        raise EntryError(
            f"It held {show(max(before), Kind.FORCE)} and broke at {show(loads[-1], Kind.FORCE)}.",
            "The load that broke it is above every one that held.",
            "If it was unloaded and loaded again, keep the first loading as a try of its own.",
            field="steps",
        )
    return Steps(max(before), loads[-1])


def _check_number(stack: Sequence[Plate]) -> None:
    for plate, number in Counter(stack).items():
        if number > plate.number:
            raise EntryError(
                f"{number} plates of {plate.name} hang there, the shop has {plate.number}.",
                do="Take one off, or write down in the shop how many there are.",
                field="steps",
            )


def propose_plate(
    card: Card, plates: Sequence[Plate], stack: Sequence[Plate], expected_low_n: float | None
) -> Plate | None:
    """Return the plate to put on next: large far below the forecast, finer near it; None where none is left.

    A plate that goes beyond the rig is never proposed.

    Parameters
    ----------
    card : of the rig. plates : of the shop. stack : what hangs now. expected_low_n : the lower end of the forecast.
    """
    hung = Counter(stack)
    now_n = card.load(sum(plate.weight_n for plate in stack))
    free = sorted((plate for plate in plates if hung[plate] < plate.number), key=lambda plate: plate.weight_n)
    fits = [
        plate for plate in free if card.capacity_n is None or now_n + plate.weight_n * card.ratio <= card.capacity_n
    ]
    if not fits:
        return None
    far_n = None if expected_low_n is None else _FAR * expected_low_n - now_n
    if far_n is not None:
        below = [plate for plate in fits if plate.weight_n * card.ratio <= far_n]
        if below:
            return below[-1]
        fine = [plate for plate in fits if plate.weight_n * card.ratio >= _FINE * (expected_low_n or 0.0)]
        return fine[0] if fine else fits[-1]
    small = [plate for plate in fits if plate.weight_n * card.ratio <= max(_WITHOUT_FORECAST * now_n, 0.0)]
    return small[-1] if small else fits[0]


def can_hang(plates: Sequence[Plate], hung_n: float) -> bool:
    """Return whether some of the plates weigh this together, within a hundredth of the lightest.

    Examples
    --------
    >>> rack = [Plate("10 kg", 10.0, 4), Plate("2.5 kg", 2.5, 2)]
    >>> can_hang(rack, 45.0), can_hang(rack, 47.0)
    (True, False)
    """
    return nearest_hung(plates, hung_n)[0]


def nearest_hung(plates: Sequence[Plate], hung_n: float) -> tuple[bool, float | None, float | None]:
    """Return whether some plates weigh this together, and the nearest sums below and above it, N."""
    if not plates:
        return True, None, None
    give = 0.01 * min(plate.weight_n for plate in plates)
    sums = {0}
    for plate in plates:
        unit = round(plate.weight_n / give)
        sums = {one + unit * number for one in sums for number in range(plate.number + 1)}
    wanted = hung_n / give
    below = max((one for one in sums if one <= wanted + 1), default=None)
    above = min((one for one in sums if one >= wanted - 1), default=None)
    hit = any(one is not None and abs(one - wanted) <= 1 for one in (below, above))
    return hit, None if below is None else below * give, None if above is None else above * give
