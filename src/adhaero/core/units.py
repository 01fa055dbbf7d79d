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
    """The shop's choice of units; `response` is what results are read in for once, empty for that of their kind."""

    length: str = "mm"
    force: str = "kN"
    stress: str = "MPa"
    temperature: str = "°C"
    response: str = ""

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


_RESPONSES: Final[Mapping[str, Mapping[str, DisplayUnit]]] = MappingProxyType(
    {
        "load": {
            "kN": DisplayUnit("kN", 0.001),
            "N": DisplayUnit("N", 1.0),
            "kg": DisplayUnit("kg", 1 / 9.80665),
            "lb": DisplayUnit("lb", 1 / _LBF_N),
        },
        "stress": {
            "MPa": DisplayUnit("MPa", 1.0),
            "psi": DisplayUnit("psi", _INCH_MM**2 / _LBF_N),
            "kg/cm²": DisplayUnit("kg/cm²", 1 / 0.0980665),
        },
        # one pound-force foot is 4.4482216152605 N times 0.3048 m
        "moment": {
            "N·m": DisplayUnit("N·m", 1.0),
            "lbf·ft": DisplayUnit("lbf·ft", 1 / (_LBF_N * 0.3048)),
            "kg·m": DisplayUnit("kg·m", 1 / 9.80665),
        },
        "stiffness": {"N/mm": DisplayUnit("N/mm", 1.0), "lbf/in": DisplayUnit("lbf/in", _INCH_MM / _LBF_N)},
        "work": {"J": DisplayUnit("J", 1.0), "in·lbf": DisplayUnit("in·lbf", 1000 / (_LBF_N * _INCH_MM))},
        "length": {"mm": DisplayUnit("mm", 1.0), "in": DisplayUnit("in", 1 / _INCH_MM)},
        "time": {"s": DisplayUnit("s", 1.0), "min": DisplayUnit("min", 1 / 60), "h": DisplayUnit("h", 1 / 3600)},
    }
)


# what people read on a scale
_READ_AS: Final = MappingProxyType({"kgf": "kg", "lbf": "lb"})


def offer_units(kind: str) -> tuple[DisplayUnit, ...]:
    """Return the units that what is compared can be read in, by what it is measured in: a stress unless another."""
    return tuple(_RESPONSES.get(kind, _RESPONSES["stress"]).values())


def response_unit(kind: str, units: Units) -> DisplayUnit:
    """Return how to show what is compared of the breaks, by what it is measured in: a stress unless it is another."""
    offered = _RESPONSES.get(kind, _RESPONSES["stress"])
    if units.response in offered:
        return offered[units.response]
    inches = units.length == "in"
    usual = {
        "load": _READ_AS.get(units.force, units.force),
        "moment": "lbf·ft" if inches else "N·m",
        "stiffness": "lbf/in" if inches else "N/mm",
        "work": "in·lbf" if inches else "J",
        "length": units.length,
        "time": "s",
    }
    return offered[usual.get(kind, units.stress)]
