"""The units a shop reads and types in; everything is kept in SI whatever they are."""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Final

from adhaero.core.errors import EntryError
from adhaero.core.quantity import Kind, factor

_LBF_N: Final = 4.4482216152605
_INCH_MM: Final = 25.4

CHOICES: Final[Mapping[Kind, tuple[str, ...]]] = MappingProxyType(
    {
        Kind.LENGTH: ("mm", "in"),
        Kind.FORCE: ("kN", "N", "kgf", "lbf"),
        Kind.STRESS: ("MPa", "psi"),
        Kind.TEMPERATURE: ("°C", "°F"),
    }
)


@dataclass(frozen=True)
class DisplayUnit:
    """A unit of the screens: `per_si` of it make one of the core's unit, plus `offset`."""

    symbol: str
    per_si: float
    offset: float = 0.0


@dataclass(frozen=True)
class Units:
    """The shop's choice of units."""

    length: str = "mm"
    force: str = "kN"
    stress: str = "MPa"
    temperature: str = "°C"

    def default_for(self, kind: Kind, usual: str = "") -> str:
        """Return the unit of a number that was typed without one; `usual` where a quantity has one of its own."""
        if usual:
            return usual
        chosen = {
            Kind.LENGTH: self.length,
            Kind.FORCE: self.force,
            Kind.STRESS: self.stress,
            Kind.TEMPERATURE: self.temperature,
            Kind.TIME: "h",
        }
        return chosen.get(kind, kind.value)


def check_units(units: Units) -> None:
    """Raise `EntryError` for a unit that is not offered."""
    for kind, offered in CHOICES.items():
        name = kind.name.lower()
        if getattr(units, name) not in offered:
            raise EntryError(
                f"“{getattr(units, name)}” is not offered for {name}.",
                f"Choose one of {', '.join(offered)}.",
                field=name,
            )


def display_unit(kind: Kind, symbol: str) -> DisplayUnit:
    """Return how to show values of a kind in a unit."""
    if kind is Kind.TEMPERATURE:
        return DisplayUnit(symbol, 1.8, 32.0) if symbol == "°F" else DisplayUnit(symbol, 1.0)
    return DisplayUnit(symbol, 1 / factor(kind, symbol))


def area_unit(length: str) -> DisplayUnit:
    """Return how to show areas beside lengths in a unit: square inches or square centimetres of mm²."""
    return DisplayUnit("in²", 1 / 25.4**2) if length == "in" else DisplayUnit("cm²", 0.01)


def moment_unit(length: str) -> DisplayUnit:
    """Return how to show moments beside lengths in a unit: pound-feet or newton-metres of N·m.

    One pound-force foot is 4.4482216152605 N times 0.3048 m.
    """
    return DisplayUnit("lbf·ft", 1 / (_LBF_N * 0.3048)) if length == "in" else DisplayUnit("N·m", 1.0)


def stiffness_unit(length: str) -> DisplayUnit:
    """Return how to show stiffness beside lengths in a unit: pounds an inch or newtons a millimetre of N/mm."""
    return DisplayUnit("lbf/in", _INCH_MM / _LBF_N) if length == "in" else DisplayUnit("N/mm", 1.0)


def work_unit(length: str) -> DisplayUnit:
    """Return how to show work beside lengths in a unit: inch-pounds or joules of J."""
    return DisplayUnit("in·lbf", 1000 / (_LBF_N * _INCH_MM)) if length == "in" else DisplayUnit("J", 1.0)


def response_unit(kind: str, units: Units) -> DisplayUnit:
    """Return how to show what is compared of the breaks, by what it is measured in: a stress unless it is another."""
    match kind:
        case "load":
            return display_unit(Kind.FORCE, units.force)
        case "moment":
            return moment_unit(units.length)
        case "stiffness":
            return stiffness_unit(units.length)
        case "work":
            return work_unit(units.length)
        case _:
            return display_unit(Kind.STRESS, units.stress)
