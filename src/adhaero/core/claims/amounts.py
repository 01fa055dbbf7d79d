"""Amounts in a conclusion: percents, multiples, quantities with units, and the band that each word draws about them."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType
from typing import Final


class Kind(StrEnum):
    """What an amount is a number of."""

    PERCENT = "percent"
    TIMES = "times"
    UNIT = "unit"
    PLAIN = "plain"


class Near(StrEnum):
    """How the number was said."""

    PLAIN = "plain"
    EXACTLY = "exactly"
    ABOUT = "about"
    ALMOST = "almost"
    JUST_OVER = "just over"
    AT_LEAST = "at least"
    AT_MOST = "at most"


@dataclass(frozen=True)
class Unit:
    """A unit: what it measures, and how many of the base unit one is (N, MPa, N·m, s, mm)."""

    measures: str
    factor: float
    symbol: str


_LBF, _KGF, _PSI, _IN = 4.4482216152605, 9.80665, 0.006894757293168, 25.4

UNITS: Final[Mapping[str, Unit]] = MappingProxyType(
    {
        name: Unit(measures, factor, symbol)
        for measures, factor, symbol, names in (
            ("stress", 1.0, "MPa", "mpa, megapascal, megapascals, n/mm2, n/mm²"),
            ("stress", _PSI, "psi", "psi"),
            ("stress", 1000 * _PSI, "ksi", "ksi"),
            ("load", 1.0, "N", "n, newton, newtons"),
            ("load", 1000.0, "kN", "kn, kilonewton, kilonewtons"),
            ("load", _LBF, "lbf", "lb, lbs, lbf, pound, pounds"),
            ("load", _KGF, "kgf", "kg, kgs, kgf, kilo, kilos, kilogram, kilograms"),
            ("moment", 1.0, "N m", "nm, n m, n·m"),
            ("moment", _LBF * _IN / 1000, "in lb", "in lb, lbf in, lb in"),
            ("moment", _LBF * 12 * _IN / 1000, "ft lb", "ft lb, lbf ft, lb ft"),
            ("time", 1.0, "s", "s, sec, second, seconds"),
            ("time", 60.0, "min", "min, mins, minute, minutes"),
            ("time", 3600.0, "h", "h, hr, hrs, hour, hours"),
            ("time", 86400.0, "d", "d, day, days"),
            ("time", 604800.0, "wk", "wk, wks, week, weeks"),
            ("time", 2629800.0, "months", "mo, month, months"),
            ("time", 31557600.0, "years", "y, yr, yrs, year, years"),
            ("length", 1.0, "mm", "mm, millimetre, millimetres, millimeter, millimeters"),
            ("length", 10.0, "cm", "cm"),
            ("length", _IN, "in", "inch, inches"),
            ("temperature", 1.0, "°C", "°c, celsius, degc"),
        )
        for name in names.split(", ")
    }
)

COLUMN_UNITS: Final[Mapping[str, Unit]] = MappingProxyType(
    {
        "MPa": UNITS["mpa"],
        "psi": UNITS["psi"],
        "N": UNITS["n"],
        "kN": UNITS["kn"],
        "lbf": UNITS["lbf"],
        "kgf": UNITS["kgf"],
        "Nm": UNITS["nm"],
    }
)


def unit_of_column(name: str) -> Unit | None:
    """Return the unit that a column says by its end, `strength_MPa`, `clamp_hours`; None where it says none."""
    last = name.rpartition("_")[2]
    return COLUMN_UNITS.get(last) or (UNITS.get(last.lower()) if last.lower() != "n" else None)


_BANDS: Final[Mapping[Near, tuple[float, float]]] = MappingProxyType(
    {
        Near.PLAIN: (-2.5, 2.5),
        Near.EXACTLY: (-0.5, 0.5),
        Near.ABOUT: (-5.0, 5.0),
        Near.ALMOST: (-7.5, 0.5),
        Near.JUST_OVER: (-0.5, 7.5),
    }
)
_UNIT_BANDS: Final[Mapping[Near, tuple[float, float]]] = MappingProxyType(
    {
        Near.PLAIN: (-10.0, 10.0),
        Near.EXACTLY: (-2.0, 2.0),
        Near.ABOUT: (-20.0, 20.0),
        Near.ALMOST: (-20.0, 2.0),
        Near.JUST_OVER: (-2.0, 20.0),
    }
)


@dataclass(frozen=True)
class Amount:
    """An amount as said.

    Attributes
    ----------
    value, upper : as numbers (a percent as 30, a multiple as 2); `upper` of a range, else None.
    last_digit : one unit of the last digit that was written.
    text : as written.
    """

    kind: Kind
    value: float
    near: Near = Near.PLAIN
    upper: float | None = None
    unit: Unit | None = None
    decimal: bool = False
    last_digit: float = 1.0
    text: str = ""

    @property
    def bound(self) -> bool:
        """Return whether it says only a side."""
        return self.near in (Near.AT_LEAST, Near.AT_MOST)

    def say(self, number: str = "g", unit: str = "") -> str:
        """Return the amount as it is held against a number of the table: `about 20 %`, `15 to 20 %`."""
        near = "" if self.near in (Near.PLAIN, Near.EXACTLY) else f"{self.near} "
        upper = "" if self.upper is None else f" to {self.upper:{number}}"
        return f"{near}{self.value:{number}}{upper}{unit}"

    def find_band(self) -> tuple[float, float]:
        """Return the band about the amount, in its own numbers: points of a percent, else a share of the amount."""
        low, high = self._widths()
        if self.upper is not None:
            if self.kind is Kind.PERCENT:
                return self.value - 0.5, self.upper + 0.5
            edge = 0.01 if self.kind is Kind.TIMES else 0.02
            return self.value * (1 - edge), self.upper * (1 + edge)
        if self.kind is Kind.PERCENT:
            return self.value + low, self.value + high
        return self.value * (1 + low / 100), self.value * (1 + high / 100)

    def _widths(self) -> tuple[float, float]:
        exact = self.near is Near.PLAIN and self.decimal and self.kind is Kind.PERCENT
        low, high = _BANDS.get(Near.EXACTLY if exact else self.near, (0.0, 0.0))
        if self.kind is Kind.PERCENT:
            return low, high
        if self.kind is Kind.TIMES:
            return 2 * low, 2 * high
        low, high = _UNIT_BANDS.get(self.near, (0.0, 0.0))
        return low, high

    def is_right(self, found: float, *, least: float = 0.0) -> bool:
        """Return whether a number read off the table is the one said.

        Right is within half a unit of the last digit or 1 %, whichever is more (`least` : or this much); about, 5 %;
        almost, 7.5 % below to 0.5 % above.
        """
        if self.near is Near.AT_LEAST:
            return found >= self.value
        if self.near is Near.AT_MOST:
            return found <= self.value
        if self.upper is not None:
            return self.value - self.last_digit / 2 <= found <= self.upper + self.last_digit / 2
        if self.near is Near.ABOUT:
            return abs(found - self.value) <= max(0.05 * abs(self.value), least)
        if self.near is Near.ALMOST:
            return 0.925 * self.value <= found <= 1.005 * self.value
        if self.near is Near.JUST_OVER:
            return 0.995 * self.value <= found <= 1.075 * self.value
        return abs(found - self.value) <= max(self.last_digit / 2, 0.01 * abs(self.value), least) + 1e-12
