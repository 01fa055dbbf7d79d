"""Units as people write them beside numbers, in headings and in titles."""

import re
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType
from typing import Final


class Measure(StrEnum):
    """What a unit measures."""

    FORCE = "force"
    STRESS = "stress"
    LENGTH = "length"
    AREA = "area"


@dataclass(frozen=True)
class Unit:
    """A unit: what it measures, how it is written, and how much of N, MPa, mm or mm² it is."""

    measure: Measure
    symbol: str
    si: float


_LBF, _KGF, _IN = 4.4482216152605, 9.80665, 25.4
_PSI: Final = _LBF / _IN**2
LBF_IN_KG: Final = _LBF / _KGF

UNITS: Final = MappingProxyType(
    {
        "lbf": Unit(Measure.FORCE, "lbf", _LBF),
        "kgf": Unit(Measure.FORCE, "kgf", _KGF),
        "N": Unit(Measure.FORCE, "N", 1.0),
        "kN": Unit(Measure.FORCE, "kN", 1000.0),
        "psi": Unit(Measure.STRESS, "psi", _PSI),
        "MPa": Unit(Measure.STRESS, "MPa", 1.0),
        "mm": Unit(Measure.LENGTH, "mm", 1.0),
        "cm": Unit(Measure.LENGTH, "cm", 10.0),
        "in": Unit(Measure.LENGTH, "in", _IN),
        "mm2": Unit(Measure.AREA, "mm2", 1.0),
        "cm2": Unit(Measure.AREA, "cm2", 100.0),
        "in2": Unit(Measure.AREA, "in2", _IN**2),
    }
)
_SPELLINGS: Final = MappingProxyType(
    {
        "lb": "lbf", "lbs": "lbf", "lbf": "lbf", "pound": "lbf", "pounds": "lbf", "#": "lbf", "lb.": "lbf",
        "lbs.": "lbf",
        "kg": "kgf", "kgs": "kgf", "kgf": "kgf", "kilo": "kgf", "kilos": "kgf", "kp": "kgf", "kilograms": "kgf",
        "newton": "N", "newtons": "N", "kilonewton": "kN", "kilonewtons": "kN", "kn": "kN",
        "psi": "psi", "mpa": "MPa", "n/mm2": "MPa", "n/mm²": "MPa", "lb/in2": "psi", "lb/in²": "psi",
        "mm": "mm", "cm": "cm", "in": "in", "inch": "in", "inches": "in", '"': "in", "in.": "in", "″": "in",
        "mm2": "mm2", "mm²": "mm2", "cm2": "cm2", "cm²": "cm2", "in2": "in2", "in²": "in2", "sq in": "in2",
        "sqin": "in2", "sq. in.": "in2", "square inches": "in2",
    }
)  # fmt: skip
_ALL: Final = "|".join(
    sorted((re.escape(one) for one in _SPELLINGS if one not in ("#", '"', "″")), key=len, reverse=True)
)
# N alone is a capital: an n is a count, and no letter stands beside it
_TOKEN: Final = re.compile(
    rf"(?<![A-Za-z0-9²/.])(?:(?P<named>{_ALL})(?![A-Za-z0-9²/])|(?P<newton>N)(?![A-Za-z0-9²/.]))", re.IGNORECASE
)


def name_unit(text: str) -> Unit | None:
    """Return the unit that a text is, and nothing else; None where it is none.

    Examples
    --------
    >>> name_unit("lbs").symbol, name_unit("(kN)").symbol, name_unit("n")
    ('lbf', 'kN', None)
    """
    bare = text.strip().strip("[]()").strip()
    if bare == "N":
        return UNITS["N"]
    found = _SPELLINGS.get(bare.casefold())
    return UNITS[found] if found else None


def find_unit(text: str) -> tuple[Unit | None, str]:
    """Return the unit of a heading and the heading without it.

    Written behind, in brackets or after a comma: `Load (lbf)`, `Max. force kN`, `Width, mm`.
    """
    for found in re.finditer(r"[\[(]([^\])]*)[\])]", text):
        unit = name_unit(found[1]) or name_unit(found[1].rpartition(" ")[2])
        if unit is not None:
            return unit, (text[: found.start()] + text[found.end() :]).strip()
    head, _, last = text.strip().rpartition(" ")
    unit = name_unit(last)
    if unit is not None and head:
        return unit, head.rstrip(" ,;:/").removesuffix(" in").strip()
    if not head and unit is not None and last != "#":
        return unit, ""
    return None, text


def list_units(text: str) -> list[tuple[Unit, int]]:
    """Return every unit that a sentence names, with its place: `Loads in lb, 1.25 in2 of glue each`.

    `in` counts only behind a number: it is also a word.
    """
    found = []
    for one in _TOKEN.finditer(text):
        written = one.group()
        if one["newton"]:
            if written != "N":
                continue
            found.append((UNITS["N"], one.start()))
            continue
        unit = UNITS[_SPELLINGS[written.casefold()]]
        if unit.measure is Measure.LENGTH and not re.search(r"\d\s*$", text[: one.start()]):
            if re.search(r"[\[(,]\s*$", text[: one.start()]) and unit.symbol != "in":
                found.append((unit, one.start()))
            continue
        found.append((unit, one.start()))
    return found


def find_in_sentence(text: str, measure: Measure) -> Unit | None:
    """Return the first unit of a kind that a title or a note names."""
    return next((unit for unit, _ in list_units(text) if unit.measure is measure), None)


_AREA: Final = re.compile(
    r"(\d+(?:[.,]\d+)?)\s*(in2|in²|sq\.?\s?in\.?|square inch(?:es)?|mm2|mm²|cm2|cm²)(?![A-Za-z])", re.IGNORECASE
)


def find_area_mm2(text: str) -> float | None:
    """Return a glued area that a title names, mm²: `1.25 in2 of glue each`."""
    found = _AREA.search(text)
    if found is None:
        return None
    name = found[2].casefold().replace("²", "2")
    unit = UNITS["mm2" if name.startswith("mm") else "cm2" if name.startswith("cm") else "in2"]
    return float(found[1].replace(",", ".")) * unit.si
