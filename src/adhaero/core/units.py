"""The units a shop reads and types in; everything is kept in SI whatever they are."""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Final

from adhaero.core.errors import EntryError
from adhaero.core.quantity import Kind, factor

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
    return DisplayUnit("lbf·ft", 1 / (4.4482216152605 * 0.3048)) if length == "in" else DisplayUnit("N·m", 1.0)
