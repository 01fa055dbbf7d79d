"""The words that compare what is measured: stronger, stiffer, tougher."""

from dataclasses import dataclass
from typing import Final


@dataclass(frozen=True)
class Degree:
    """How two sets compare in words: as strong as, stronger, weaker, the strongest."""

    plain: str
    more: str
    less: str
    most: str


STRENGTH: Final = Degree("strong", "stronger", "weaker", "strongest")
_OTHERS: Final = {
    "stiffness": Degree("stiff", "stiffer", "less stiff", "stiffest"),
    "work": Degree("tough", "tougher", "less tough", "toughest"),
    "reached": Degree("far-going", "further-going", "less far-going", "furthest-going"),
    "hold": Degree("long-lasting", "longer-lasting", "less long-lasting", "longest-lasting"),
    "energy": Degree("tough", "tougher", "less tough", "toughest"),
}


def degree_of(response: str) -> Degree:
    """Return the words for the column of a response: by how its name begins, those of a strength where nothing else.

    Examples
    --------
    >>> degree_of("stiffness_N_per_mm").more, degree_of("strength_MPa").more
    ('stiffer', 'stronger')
    """
    return _OTHERS.get(response.partition("_")[0].lower(), STRENGTH)
