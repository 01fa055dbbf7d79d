"""Numbers with units as people at a bench write them: decimals, fractions, any usual unit.

What was typed is kept exactly; beside it stands the value in the unit that the core computes with.
"""

import math
import re
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum
from fractions import Fraction
from functools import cache
from math import floor
from types import MappingProxyType
from typing import TYPE_CHECKING, Final

from adhaero.core.errors import AmbiguousEntry, EntryError

if TYPE_CHECKING:
    from pint import UnitRegistry


class Kind(StrEnum):
    """What a field measures; the value names the unit that the core computes with."""

    LENGTH = "mm"
    AREA = "mm²"
    FORCE = "N"
    STRESS = "MPa"
    TIME = "s"
    MASS = "g"
    VOLUME = "ml"
    TEMPERATURE = "°C"
    PERCENT = "%"
    ANGLE = "°"
    SLOPE = "1:s"
    NUMBER = ""


@dataclass(frozen=True)
class Quantity:
    """A value as typed and as computed with.

    Attributes
    ----------
    si : the value in the unit of its kind (`Kind.value`).
    typed : exactly what was typed, with the unit that was assumed where none was written.
    """

    si: float
    typed: str


@dataclass(frozen=True)
class Bounds:
    """The values that make sense in a field, in the unit of its kind."""

    lowest: float = 0.0
    highest: float = math.inf
    zero_allowed: bool = False


_NAMES: Final = MappingProxyType(
    {
        Kind.LENGTH: "a length",
        Kind.AREA: "an area",
        Kind.FORCE: "a force",
        Kind.STRESS: "a pressure or stress",
        Kind.TIME: "a time",
        Kind.MASS: "a mass",
        Kind.VOLUME: "a volume",
        Kind.TEMPERATURE: "a temperature",
        Kind.PERCENT: "a percentage",
        Kind.ANGLE: "an angle",
        Kind.SLOPE: "a slope",
        Kind.NUMBER: "a number",
    }
)

_EXAMPLES: Final = MappingProxyType(
    {
        Kind.LENGTH: '24 mm, 3/4 in or 1-1/4"',
        Kind.AREA: "520 mm2 or 0.8 in2",
        Kind.FORCE: "2.4 kN, 240 kg or 530 lb",
        Kind.STRESS: "0.6 MPa or 87 psi",
        Kind.TIME: "45 min, 12 h or 7 d",
        Kind.MASS: "38 g or 1.3 oz",
        Kind.VOLUME: "20 ml",
        Kind.TEMPERATURE: "19.5 °C or 67 °F",
        Kind.PERCENT: "52 %",
        Kind.ANGLE: "90°",
        Kind.SLOPE: "1:8",
        Kind.NUMBER: "7",
    }
)

# spelling (lower case) -> unit name of the unit library. A mass unit in a force field is its weight.
_SPELLINGS: Final = MappingProxyType(
    {
        Kind.LENGTH: {
            "mm": "mm", "cm": "cm", "m": "m", "in": "inch", "inch": "inch", "inches": "inch",
            '"': "inch", "”": "inch", "''": "inch", "″": "inch", "ft": "foot", "'": "foot", "′": "foot",
            "’": "foot", "foot": "foot", "feet": "foot", "thou": "thou", "mil": "thou", "um": "um", "µm": "um",
        },
        Kind.AREA: {
            "mm2": "mm^2", "mm²": "mm^2", "cm2": "cm^2", "cm²": "cm^2", "in2": "inch^2", "in²": "inch^2",
            "sq in": "inch^2", "sqin": "inch^2", "m2": "m^2", "m²": "m^2",
        },
        Kind.FORCE: {
            "n": "N", "kn": "kN", "lbf": "lbf", "lb": "lbf", "lbs": "lbf", "#": "lbf", "pounds": "lbf",
            "pound": "lbf", "kgf": "kgf", "kg": "kgf", "kilo": "kgf", "kilos": "kgf", "g": "gram * g_0",
            "gf": "gram * g_0", "oz": "force_ounce", "ozf": "force_ounce", "dan": "daN",
        },
        Kind.STRESS: {
            "psi": "psi", "mpa": "MPa", "n/mm2": "N/mm^2", "n/mm²": "N/mm^2", "bar": "bar", "kpa": "kPa",
            "pa": "Pa", "gpa": "GPa", "ksi": "ksi", "kg/cm2": "kgf/cm^2", "kgf/cm2": "kgf/cm^2",
        },
        Kind.TIME: {
            "s": "s", "sec": "s", "secs": "s", "second": "s", "seconds": "s", "min": "min", "mins": "min",
            "minute": "min", "minutes": "min", "h": "hour", "hr": "hour", "hrs": "hour", "hour": "hour",
            "hours": "hour", "d": "day", "day": "day", "days": "day", "wk": "week", "wks": "week", "w": "week",
            "week": "week", "weeks": "week", "mo": "month", "month": "month", "months": "month",
            "y": "year", "yr": "year", "year": "year", "years": "year",
        },
        Kind.MASS: {
            "g": "g", "gram": "g", "grams": "g", "kg": "kg", "mg": "mg", "oz": "oz", "lb": "lb", "lbs": "lb", "#": "lb",
        },
        Kind.VOLUME: {"ml": "ml", "l": "l", "cl": "cl", "fl oz": "fluid_ounce", "floz": "fluid_ounce"},
        Kind.TEMPERATURE: {
            "°c": "degC", "c": "degC", "ºc": "degC", "degc": "degC", "°f": "degF", "f": "degF", "ºf": "degF",
            "degf": "degF", "k": "kelvin",
        },
        Kind.PERCENT: {"%": "percent", "percent": "percent", "pct": "percent"},
        Kind.ANGLE: {"°": "degree", "deg": "degree", "degrees": "degree", "º": "degree"},
        Kind.SLOPE: {},
        Kind.NUMBER: {},
    }
)  # fmt: skip

# spellings that are not clear in a field: what could be meant, as how many of a clear unit
_AMBIGUOUS: Final = MappingProxyType(
    {
        (Kind.TIME, "m"): ((1, "min"), (1, "mo")),
        (Kind.FORCE, "t"): ((1000, "kgf"), (2000, "lbf")),
        (Kind.FORCE, "ton"): ((1000, "kgf"), (2000, "lbf")),
        (Kind.FORCE, "tons"): ((1000, "kgf"), (2000, "lbf")),
        (Kind.STRESS, "lb"): ((1, "psi"),),
        (Kind.STRESS, "lbs"): ((1, "psi"),),
        (Kind.STRESS, "#"): ((1, "psi"),),
        (Kind.VOLUME, "oz"): ((1, "fl oz"),),
    }
)

_BASE: Final = MappingProxyType(
    {
        Kind.LENGTH: "mm",
        Kind.AREA: "mm^2",
        Kind.FORCE: "N",
        Kind.STRESS: "MPa",
        Kind.TIME: "s",
        Kind.MASS: "g",
        Kind.VOLUME: "ml",
        Kind.TEMPERATURE: "degC",
        Kind.PERCENT: "percent",
        Kind.ANGLE: "degree",
    }
)

_VULGAR: Final = MappingProxyType(
    {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8", "⅓": "1/3", "⅔": "2/3"}
)

_PART: Final = re.compile(
    r"""\s*(?P<number>
          \d+[\s-]+\d+\s*/\s*\d+        # 1 1/2, 1-1/2
        | \d+\s*/\s*\d+                 # 3/4
        | [\d.,]*\d[\d.,]*              # 12.5, 1,5, .5
        )(?P<unit>[^\d.,]*(?:(?:(?<=m)|(?<=in))[2²](?![\d.,]))?)(?:\.(?=\s|$))?\s*""",
    re.VERBOSE | re.IGNORECASE,
)


_LONGEST: Final = 100
_EXPONENT: Final = re.compile(r"(?<![\d.,])([0-9]+(?:[.,][0-9]+)?)e([-+][0-9]{1,2})(?![\d.,])", re.IGNORECASE)


def _write_out(number: re.Match[str]) -> str:
    """Return a number with a power of ten without it: what the program shows can be typed."""
    return format(Decimal(f"{number[1].replace(',', '.')}e{number[2]}"), "f")


@cache
def _registry() -> "UnitRegistry[float]":
    import pint  # loaded where it is needed: a command starts at once

    return pint.UnitRegistry()


@cache
def convert(value: float, kind: Kind, unit: str) -> float:
    """Return `value`, given in `unit` (a spelling of the field), in the unit of its kind.

    Raises
    ------
    EntryError : `unit` is not a unit of this kind.
    """
    name = _unit_name(unit, kind)
    if name == _BASE.get(kind):
        return value
    if kind is Kind.TIME and name == "month":
        return value * 365.25 / 12 * 86400.0
    return float(_registry().Quantity(value, name).to(_BASE[kind]).magnitude)


def factor(kind: Kind, unit: str) -> float:
    """Return how much one `unit` is in the unit of `kind` (not for temperatures, which have an offset)."""
    return convert(1.0, kind, unit)


def parse_quantity(
    text: str, kind: Kind, default_unit: str = "", bounds: Bounds | None = None, *, field: str | None = None
) -> Quantity:
    """Read one entry.

    Parameters
    ----------
    text : what was typed, e.g. `1-1/2 in`, `2' 3"`, `240 kg`, `1,5`.
    kind : what the field measures.
    default_unit : the unit of a number without one; the unit of `kind` if empty.
    bounds : the values that make sense, in the unit of `kind`; above zero if not given.
    field : the field's name, for the error.

    Returns
    -------
    Quantity in the unit of `kind`.

    Raises
    ------
    AmbiguousEntry : it can be read in two ways (`1,500`; `m` in a time; a bare fraction in a millimetre field).
    EntryError : no number, an unknown unit, a unit of another kind, or a value that makes no sense.
    """
    default = default_unit or kind.value
    text = " ".join(text.split())
    if len(text) > _LONGEST:
        raise EntryError(f"“{text[:20]} …” has {len(text)} characters.", _expected(kind), field=field)
    cleaned = _EXPONENT.sub(_write_out, text)
    for vulgar, plain in _VULGAR.items():
        cleaned = re.sub(rf"(\d)\s*{vulgar}", rf"\1 {plain}", cleaned).replace(vulgar, plain)
    if not cleaned:
        raise EntryError("Nothing was typed.", _expected(kind), field=field)
    if not re.search(r"[0-9]", cleaned):
        raise EntryError(f"“{text}” was not understood: it holds no number.", _expected(kind), field=field)
    negative = cleaned[0] in "-−"
    body = cleaned[1:].lstrip() if cleaned[0] in "-−+" else cleaned
    if kind is Kind.SLOPE:
        magnitude = _parse_slope(body, field)
    else:
        magnitude = _parse_parts(body, text.strip(), kind, default, negative, field)
    if kind is not Kind.TEMPERATURE and negative:
        magnitude = -magnitude
    _check_bounds(magnitude, kind, bounds or Bounds(), text.strip(), field)
    has_unit = re.search(r"[^\d\s.,/+\-−]", cleaned) is not None
    if kind is Kind.SLOPE:
        return Quantity(magnitude, f"1:{magnitude:g}")
    typed = text.strip() if has_unit or not default else f"{text.strip()} {default}"
    return Quantity(magnitude, typed)


def parse_optional(
    text: str, kind: Kind, default_unit: str = "", bounds: Bounds | None = None, *, field: str | None = None
) -> Quantity | None:
    """Read an entry that may be left empty, as `parse_quantity` does; None for an empty one."""
    return parse_quantity(text, kind, default_unit, bounds, field=field) if text.strip() else None


def parse_count(text: str, things: str, lowest: int, highest: int, *, field: str) -> int:
    """Return a whole number as typed; raises `EntryError` naming the `things` and the range."""
    cleaned = text.strip()
    if not re.fullmatch(r"\d{1,9}", cleaned) or not lowest <= int(cleaned) <= highest:
        raise EntryError(
            f"“{cleaned}” {things}." if cleaned else "Nothing was typed.",
            f"Expected a whole number from {lowest} to {highest}.",
            field=field,
        )
    return int(cleaned)


def _parse_parts(body: str, text: str, kind: Kind, default: str, negative: bool, field: str | None) -> float:
    total, at, previous = 0.0, 0, math.inf
    while at < len(body):
        match = _PART.match(body, at)
        if match is None:
            raise EntryError(f"“{text}” was not understood.", _expected(kind), field=field)
        unit = (match["unit"] or "").strip()
        number = _parse_number(match["number"], kind, unit, default, field)
        if unit:
            _check_unit(unit, kind, match["number"].strip(), number, field)
        if kind is Kind.NUMBER:
            part = number
        elif kind is Kind.TEMPERATURE:
            part = convert(-number if negative else number, kind, unit or default)
        else:
            part = convert(number, kind, unit or default)
        size = _unit_size(unit or default, kind)
        if at and (not unit or kind is Kind.TEMPERATURE or size >= previous):
            raise EntryError(f"“{text}” was not understood.", _expected(kind), field=field)
        total, previous, at = total + part, size, match.end()
    return total


def _unit_size(unit: str, kind: Kind) -> float:
    return 1.0 if kind in (Kind.TEMPERATURE, Kind.NUMBER) else factor(kind, unit)


def _parse_number(number: str, kind: Kind, unit: str, default: str, field: str | None) -> float:
    number = number.strip()
    if "/" in number:
        return _parse_fraction(number, kind, unit, default, field)
    points, commas = number.count("."), number.count(",")
    spaced = f" {unit}" if unit else f" {default}".rstrip()
    if points and commas:
        last = max(number.rfind("."), number.rfind(","))
        plain = re.sub(r"[.,]", "", number[:last]) + "." + number[last + 1 :]
        raise AmbiguousEntry(
            f"“{number}” has both a point and a comma.",
            "A number here has one decimal point or comma and no separators of thousands.",
            f"Did you mean {plain}{spaced}?",
            field=field,
            choices=(plain + spaced,),
        )
    if points > 1 or commas > 1:
        raise EntryError(f"“{number}” is not one number.", _expected(kind), field=field)
    if re.fullmatch(r"[1-9]\d{0,2},\d{3}", number):
        choices = (number.replace(",", ".") + spaced, number.replace(",", "") + spaced)
        raise AmbiguousEntry(
            f"“{number}” can be read in two ways:",
            f"{choices[0]} or {choices[1]}.",
            "Write it without the comma.",
            field=field,
            choices=choices,
        )
    return float(number.replace(",", "."))


def _parse_fraction(number: str, kind: Kind, unit: str, default: str, field: str | None) -> float:
    if kind is not Kind.LENGTH:
        raise EntryError(
            f"“{number}” is a fraction.", f"Fractions are for lengths; here {_expected(kind, lower=True)}", field=field
        )
    whole, _, fraction = re.sub(r"\s*/\s*", "/", number).replace("-", " ").strip().rpartition(" ")
    over, under = (int(part) for part in fraction.split("/"))
    if under == 0:
        raise EntryError(f"“{number}” divides by zero.", _expected(kind), field=field)
    value = float(Fraction(over, under) + (int(whole) if whole.strip() else 0))
    if not unit and default in ("mm", "cm", "m"):
        choices = (f"{number} in", f"{value:g} {default}")
        raise AmbiguousEntry(
            f"“{number}” has no unit, and this field is in {default}.",
            f"It could be {choices[0]} or {choices[1]}.",
            "Write the unit.",
            field=field,
            choices=choices,
        )
    return value


def _parse_slope(body: str, field: str | None) -> float:
    match = re.fullmatch(r"(?:1\s*(?::|/|in)\s*)?(\d+(?:[.,]\d+)?)", body, re.IGNORECASE)
    if match is None:
        raise EntryError(
            f"“{body}” is not a slope.", "A scarf slope is one part up to so many along, e.g. 1:8.", field=field
        )
    return float(match[1].replace(",", "."))


def _unit_name(unit: str, kind: Kind) -> str:
    name = _SPELLINGS[kind].get(unit.strip().rstrip(".").lower())
    if name is None:
        raise EntryError(f"“{unit}” is not a unit of {_NAMES[kind]}.", _expected(kind))
    return name


def _check_unit(unit: str, kind: Kind, number: str, value: float, field: str | None) -> None:
    """Raise when `unit` cannot stand in a field of this kind, saying what it is instead."""
    spelled = unit.rstrip(".").lower()
    if meant := _AMBIGUOUS.get((kind, spelled)):
        choices = tuple(f"{number if times == 1 else format(times * value, 'g')} {clear}" for times, clear in meant)
        raise AmbiguousEntry(
            f"“{number} {unit}” is not clear in a field for {_NAMES[kind]}.",
            f"It could be {' or '.join(choices)}." if len(meant) > 1 else f"Did you mean {choices[0]}?",
            "Write the unit out.",
            field=field,
            choices=choices,
        )
    if spelled in _SPELLINGS[kind]:
        return
    others = [other for other in Kind if spelled in _SPELLINGS[other]]
    if others:
        raise EntryError(f"“{number} {unit}” is {_NAMES[others[0]]}.", _expected(kind), field=field)
    raise EntryError(f"“{unit}” is not a unit known here (understood: {number}).", _expected(kind), field=field)


def _check_bounds(value: float, kind: Kind, bounds: Bounds, text: str, field: str | None) -> None:
    shown = f"“{text}” is {show(value, kind)}"
    if not math.isfinite(value):
        raise EntryError(f"“{text}” is not a usable number.", _expected(kind), field=field)
    if value < bounds.lowest or (value == 0 == bounds.lowest and not bounds.zero_allowed):
        least = "zero or more" if bounds.zero_allowed and bounds.lowest == 0 else f"above {show(bounds.lowest, kind)}"
        raise EntryError(f"{shown}.", f"It must be {least}.", "Check the number and its sign.", field=field)
    if value > bounds.highest:
        raise EntryError(
            f"{shown}.", f"More than {show(bounds.highest, kind)} makes no sense here.", "Check the unit.", field=field
        )


def show(value: float, kind: Kind) -> str:
    """Return a value in the unit of its kind, in at most four significant figures, for a message."""
    number = f"{value:.4g}" if abs(value) < 1e4 else f"{value:.0f}"
    if kind is Kind.SLOPE:
        return f"1:{number}"
    if kind is Kind.TIME:
        return show_duration(value)
    return f"{number}{'' if kind in (Kind.ANGLE, Kind.NUMBER) else ' '}{kind.value}"


def _nearest(value: float) -> int:
    """Return the nearest whole number, halves up as on the screens."""
    return floor(value + 0.5)


def show_duration(seconds: float) -> str:
    """Return a time in the words of a bench: `45 s`, `42 min`, `9 h 20 min`, `7 d`."""
    if seconds < 0:
        return f"−{show_duration(-seconds)}"
    if seconds < 90:
        return f"{_nearest(seconds) if seconds >= 10 else _nearest(10 * seconds) / 10:g} s"
    minutes = _nearest(seconds / 60)
    if minutes < 120:
        return f"{minutes} min"
    hours, rest = divmod(minutes, 60)
    if hours < 48:
        return f"{hours} h {rest} min" if rest else f"{hours} h"
    days, rest = divmod(_nearest(minutes / 60), 24)
    if days >= 730:
        return f"{days / 365.25:.3g} y"
    return f"{days} d {rest} h" if rest else f"{days} d"


def _expected(kind: Kind, *, lower: bool = False) -> str:
    return f"{'expected' if lower else 'Expected'} {_NAMES[kind]}, e.g. {_EXAMPLES[kind]}."


def show_as_typed(value: float, kind: Kind, unit: str) -> str:
    """Return a value as a person would type it in `unit`; times in the largest unit that suits them.

    Examples
    --------
    >>> show_as_typed(5400, Kind.TIME, "h")
    '1.5 h'
    >>> show_as_typed(25.4, Kind.LENGTH, "in")
    '1 in'
    """
    if kind is Kind.TIME:
        for size, symbol in ((86_400.0, "d"), (3600.0, "h"), (60.0, "min")):
            if value >= (2 if symbol == "d" else 1) * size:
                return f"{value / size:.4g} {symbol}"
        return f"{value:.4g} s"
    if kind is Kind.SLOPE:
        return f"1:{value:g}"
    if kind is Kind.NUMBER:
        return f"{value:g}"
    size = factor(kind, unit) if kind is not Kind.TEMPERATURE else 1.0
    if kind is Kind.TEMPERATURE and unit == "°F":
        return f"{value * 1.8 + 32:.4g} °F"
    return f"{value / size:.4g} {unit}"
