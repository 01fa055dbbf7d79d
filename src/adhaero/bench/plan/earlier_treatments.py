"""A set of an earlier trial as a reference: which there are, and what it broke at."""

from collections.abc import Sequence
from dataclasses import dataclass

from adhaero.bench.shop.past_breaks import ShopBreak
from adhaero.core.stats.as_read import AsRead, compute_as_read


@dataclass(frozen=True)
class Reference:
    """A set of an earlier trial, broken in the same fixture.

    Attributes
    ----------
    id : of the set. words : its name and the question of its trial. pieces : that count.
    broken_on : the day of its first break, ISO. as_read : their strengths, in the unit of the fixture.
    """

    id: int
    words: str
    pieces: int
    broken_on: str
    as_read: AsRead


def list_references(breaks: Sequence[ShopBreak], fixture: str) -> list[Reference]:
    """Return the sets of earlier trials that were broken in a fixture, latest trial first."""
    sets: dict[int, list[ShopBreak]] = {}
    for one in breaks:
        if one.fixture == fixture and not one.pilot:
            sets.setdefault(one.treatment_id, []).append(one)
    found = [
        Reference(
            id=treatment_id,
            words=f"{mine[0].treatment_name}, in “{mine[0].question}”",
            pieces=len(mine),
            broken_on=min(one.broken_utc for one in mine)[:10],
            as_read=compute_as_read([one.strength for one in mine]),
        )
        for treatment_id, mine in sets.items()
    ]
    return sorted(found, key=lambda one: (one.broken_on, one.id), reverse=True)
