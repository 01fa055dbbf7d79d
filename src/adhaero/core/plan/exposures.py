"""What pieces go through before the test, as someone's words name it: water, weather, frost or heat, and how long."""

import re
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType
from typing import Final

from adhaero.core.quantity import Kind, factor, show_duration


class ExposureKind(StrEnum):
    """What a piece is put into before the test."""

    SOAK = "soak"
    OUTDOORS = "outdoors"
    FREEZE = "freeze"
    OVEN = "oven"
    SHELF = "shelf"
    OTHER = "other"


class TestedAs(StrEnum):
    """In what state a piece is loaded after what it went through."""

    UNSAID = ""
    DRY = "dry"
    WET = "wet"
    REDRIED = "redried"


EXPOSURES: Final = MappingProxyType(
    {
        ExposureKind.SOAK: "in water",
        ExposureKind.OUTDOORS: "outdoors",
        ExposureKind.FREEZE: "freezing and thawing",
        ExposureKind.OVEN: "in the oven",
        ExposureKind.SHELF: "on the shelf",
        ExposureKind.OTHER: "elsewhere",
    }
)
_SIGNS = (
    (
        ExposureKind.SOAK,
        "soak soaked soaking water wet wetted boil boiled boiling immersed submerged lake river sea pond",
    ),
    (
        ExposureKind.OUTDOORS,
        "outdoor outdoors outside weather weathered weathering roof rain rained snow winter winters summer summers "
        "season seasons dock",
    ),
    (ExposureKind.FREEZE, "freeze freezes freezing frozen frost thaw thawed thaws thawing cycle cycles cycled"),
    (ExposureKind.OVEN, "oven heat heated hot"),
    (ExposureKind.SHELF, "shelf stored kept aged"),
)


_COUNTS: Final = {
    "a": 1.0, "an": 1.0, "one": 1.0, "two": 2.0, "three": 3.0, "four": 4.0, "five": 5.0, "six": 6.0, "seven": 7.0,
    "eight": 8.0, "nine": 9.0, "ten": 10.0, "eleven": 11.0, "twelve": 12.0,
}  # fmt: skip


@dataclass(frozen=True)
class PlannedExposure:
    """What the plan sends a piece through before the test: in words, of which kind, how long."""

    words: str
    kind: ExposureKind
    planned_s: float | None

    @property
    def is_to_go_in(self) -> bool:
        """Return whether pieces are put into something, rather than only kept."""
        return self.kind is not ExposureKind.SHELF


def read_exposure(words: str) -> PlannedExposure | None:
    """Return what someone's words send pieces through; None where they are only kept as they are.

    Examples
    --------
    >>> exposure = read_exposure("soaked 24 h in cold water")
    >>> exposure.kind, exposure.planned_s
    (<ExposureKind.SOAK: 'soak'>, 86400.0)
    >>> read_exposure("kept dry in the shop")

    Whole words count: long grain is no rain.

    >>> read_exposure("long grain, kept dry")
    """
    there = set(re.findall(r"[^\W\d_]+", words.lower()))
    kind = next((kind for kind, signs in _SIGNS if there.intersection(signs.split())), ExposureKind.OTHER)
    planned = find_exposure_time(words)
    if planned is None and kind in (ExposureKind.SHELF, ExposureKind.OTHER):
        return None
    return PlannedExposure(words, kind, planned)


def say_exposure(exposure: PlannedExposure | None) -> str:
    """Return what pieces go through in words.

    Examples
    --------
    >>> say_exposure(read_exposure("soaked 24 h")), say_exposure(None)
    ('24 h in water', 'only kept as they are')
    """
    if exposure is None:
        return "only kept as they are"
    where = EXPOSURES[exposure.kind]
    return where if exposure.planned_s is None else f"{show_duration(exposure.planned_s)} {where}"


def find_exposure_time(words: str) -> float | None:
    """Return how long pieces stay in what someone's words name, s: the first duration in them; None without one.

    Examples
    --------
    >>> find_exposure_time("soaked 24 h in cold water")
    86400.0
    >>> find_exposure_time("a week in the lake")
    604800.0
    >>> find_exposure_time("kept dry in the shop")
    """
    found = re.search(
        rf"(?:(\d+(?:[.,]\d+)?)\s*|\b({'|'.join(_COUNTS)})\s+)(min|hours?|h|days?|d|weeks?|wk|months?|mo|years?|y)\b",
        words.lower(),
    )
    if found is None:
        return None
    count = _COUNTS[found.group(2)] if found.group(2) else float(found.group(1).replace(",", "."))
    unit = found.group(3).rstrip("s")
    short = {"hour": "h", "day": "d", "week": "wk", "month": "mo", "year": "y"}.get(unit, unit)
    return count * factor(Kind.TIME, short)
