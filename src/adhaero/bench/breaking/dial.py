"""A dial beside the piece that a person reads at loads: what its readings say beside the load at break."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from annotated_types import MaxLen

from adhaero.bench.breaking.rig_used import RigUsed, Weighed
from adhaero.bench.breaking.typed_load import read_text
from adhaero.bench.facts.entry import Entry, Short
from adhaero.bench.shop.units import read_units
from adhaero.core.errors import EntryError
from adhaero.core.quantity import Bounds, Kind, parse_quantity
from adhaero.core.rig.trace.bending import Bending, read_dial
from adhaero.store.connecting import Connection

_MOST_LOAD_N = 5e6
_MOST_MM = 1e4


@dataclass(frozen=True)
class DialReading(Entry):
    """One reading of a dial, as typed: the load that was on, and where the dial stood then."""

    load: Short
    moved: Short


DialReadings = Annotated[tuple[DialReading, ...], MaxLen(200)]
Pairs = tuple[tuple[float, float], ...]


def read_dial_readings(
    connection: Connection, used: RigUsed, weighed: Weighed, readings: Sequence[DialReading]
) -> tuple[Pairs, str]:
    """Return the loads on the piece, N, with the displacement at each, mm, and all of it as typed.

    Lines that are empty are left out. A load is what hangs or what the rig shows, made a load as the one at break is.

    Raises
    ------
    EntryError : one of the two is missing or cannot be read.
    """
    length = read_units(connection).length
    found: list[tuple[float, float]] = []
    typed = []
    for at, one in enumerate(readings, 1):
        if not one.load.strip() and not one.moved.strip():
            continue
        if not one.load.strip() or not one.moved.strip():
            raise EntryError(
                f"Reading {at} of the dial has {'no load' if one.moved.strip() else 'a load and no displacement'}.",
                "Each reading has both.",
                "Type what is missing, or leave both empty.",
                field="dial",
            )
        peak, make, _ = read_text(connection, used, one.load, weighed, Bounds(zero_allowed=True, highest=_MOST_LOAD_N))
        bounds = Bounds(-_MOST_MM, _MOST_MM, zero_allowed=True)
        moved = parse_quantity(one.moved, Kind.LENGTH, length, bounds, field="dial")
        found.append((make(peak.high) if peak.high else 0.0, moved.si))
        typed.append(f"{peak.typed}: {moved.typed}")
    return tuple(found), "; ".join(typed)


def bend_of(pairs: Pairs, peak_n: float | None, span_mm: float | None) -> Bending | None:
    """Return what the readings of a dial say; None without any.

    Raises
    ------
    EntryError : a reading has more load on than the piece broke at.
    """
    if not pairs or not peak_n:
        return None
    loads, moved = [load for load, _ in pairs], [mm for _, mm in pairs]
    if max(loads) > peak_n * (1 + 1e-9):
        raise EntryError(
            "The dial was read at more than the piece broke at.",
            "It broke at the highest load that was on.",
            "Correct the load of that reading, or the load at break.",
            field="dial",
        )
    return read_dial(loads, moved, peak_n, span_mm)
