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
