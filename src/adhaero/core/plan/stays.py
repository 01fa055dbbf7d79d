"""What pieces go through before the test, as someone's words name it: water, weather, frost or heat, and how long."""

import re
from dataclasses import dataclass
from types import MappingProxyType
from typing import Final

from adhaero.core.quantity import Kind, factor, show_duration

STAYS: Final = MappingProxyType(
    {
        "soak": "in water",
        "outdoors": "outdoors",
        "freeze": "freezing and thawing",
        "oven": "in the oven",
        "shelf": "on the shelf",
        "other": "elsewhere",
    }
)
_SIGNS = (
    ("soak", "soak soaked soaking water wet wetted boil boiled boiling immersed"),
    (
        "outdoors",
        "outdoor outdoors outside weather weathered weathering roof rain rained winter winters summer summers",
    ),
    ("freeze", "freeze freezes freezing frozen frost thaw thawed thaws thawing cycle cycles cycled"),
    ("oven", "oven heat heated hot"),
    ("shelf", "shelf stored kept aged"),
)


@dataclass(frozen=True)
class Stay:
    """What the plan sends a piece through before the test: in words, of which kind, how long."""

    words: str
    kind: str
    planned_s: float | None

    @property
    def is_to_go_in(self) -> bool:
        """Return whether pieces are put into something, rather than only kept."""
        return self.kind != "shelf"


def read_stay(words: str) -> Stay | None:
    """Return what someone's words send pieces through; None where they are only kept as they are.

    Examples
    --------
    >>> read_stay("soaked 24 h in cold water")
    Stay(words='soaked 24 h in cold water', kind='soak', planned_s=86400.0)
    >>> read_stay("kept dry in the shop")

    Whole words count: long grain is no rain.

    >>> read_stay("long grain, kept dry")
    """
    there = set(re.findall(r"[^\W\d_]+", words.lower()))
    kind = next((kind for kind, signs in _SIGNS if there.intersection(signs.split())), "other")
    planned = find_stay(words)
    if planned is None and kind in ("shelf", "other"):
        return None
    return Stay(words, kind, planned)


def say_stay(stay: Stay | None) -> str:
    """Return what pieces go through in words.

    Examples
    --------
    >>> say_stay(read_stay("soaked 24 h")), say_stay(None)
    ('24 h in water', 'only kept as they are')
    """
    if stay is None:
        return "only kept as they are"
    where = STAYS[stay.kind]
    return where if stay.planned_s is None else f"{show_duration(stay.planned_s)} {where}"


def find_stay(words: str) -> float | None:
    """Return how long pieces stay in what someone's words name, s: the first duration in them; None without one.

    Examples
    --------
    >>> find_stay("soaked 24 h in cold water")
    86400.0
    >>> find_stay("kept dry in the shop")
    """
    found = re.search(r"(\d+(?:[.,]\d+)?)\s*(min|hours?|h|days?|d|weeks?|wk|months?|mo|years?|y)\b", words.lower())
    if found is None:
        return None
    unit = found.group(2).rstrip("s")
    short = {"hour": "h", "day": "d", "week": "wk", "month": "mo", "year": "y"}.get(unit, unit)
    return float(found.group(1).replace(",", ".")) * factor(Kind.TIME, short)
