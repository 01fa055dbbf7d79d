"""The load of a break that a person read off: from a scale, from the gauge of a jack, or none where it was pried."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import replace

from adhaero.bench.book import Book
from adhaero.bench.stock import read_units
from adhaero.core.errors import EntryError
from adhaero.core.fixture import compute_gauge_load
from adhaero.core.quantity import Bounds, Kind, Quantity, parse_quantity, show
from adhaero.store.rows import Connection
from adhaero.store.shop import Rig, list_rigs

_MOST_LOAD_N = 5e6


class BeyondRig(EntryError):
    """A load above what any rig in the shop can pull; it can be kept on purpose."""

    code = "beyond-rig"


def read_pried(load: str, values: Mapping[str, object]) -> tuple[float | None, str]:
    """Read a piece that was pried open: there is no load, the broken face decides."""
    if load.strip():
        raise EntryError(
            "A pried piece has no load.", "Its broken face decides.", "Leave the load empty.", field="load"
        )
    if values["outcome"] == "broke" and values["wood_failure_pct"] is None:
        raise EntryError(
            "The torn wood is not judged.",
            "It says whether a pried piece passed.",
            "Choose how much is torn.",
            field="wood_failure",
        )
    return None, ""


def read_load(connection: Connection, book: Book, load: str, outcome: str, beyond_rig: bool) -> tuple[float, str]:
    """Return a load in N and as it was typed.

    Parameters
    ----------
    load : in any unit, or the pressure on the gauge of the trial's jack; empty for a piece that fell apart.
    outcome : of the pull. beyond_rig : take a load above the shop's strongest rig on purpose.

    Raises
    ------
    EntryError : it cannot be read or is far beyond any rig; `BeyondRig` just beyond the strongest.
    """
    fell_apart = outcome == "fell_apart"
    if fell_apart and not load.strip():
        return 0.0, ""
    rigs = list_rigs(connection)
    value = _read_gauge(load, rigs, book) or parse_quantity(
        load,
        Kind.FORCE,
        read_units(connection).force,
        Bounds(highest=_MOST_LOAD_N, zero_allowed=fell_apart),
        field="load",
    )
    capacity = max((rig.capacity_n for rig in rigs), default=None)
    if capacity is not None and value.si > 10 * capacity:
        raise EntryError(
            f"“{value.typed}” is {show(value.si, Kind.FORCE)}.",
            f"That is more than ten times what the strongest rig here can pull ({show(capacity, Kind.FORCE)}).",
            "Check the unit.",
            field="load",
        )
    if capacity is not None and value.si > capacity and not beyond_rig:
        raise BeyondRig(
            f"“{value.typed}” is {show(value.si, Kind.FORCE)}.",
            f"The strongest rig here pulls {show(capacity, Kind.FORCE)}.",
            "Check the unit, or keep it as it is.",
            field="load",
        )
    return value.si, value.typed


def read_held(connection: Connection, held: str, load_n: float, outcome: str) -> tuple[float | None, str]:
    """Return the last load that held, in N and as typed, where weights went up in steps; None where nothing is typed.

    Parameters
    ----------
    held : in any unit; 0 where the piece broke on the first weight. load_n, outcome : of the pull.

    Raises
    ------
    EntryError : it cannot be read, is not below the load, or the piece did not break.
    """
    if not held.strip():
        return None, ""
    value = parse_quantity(held, Kind.FORCE, read_units(connection).force, Bounds(zero_allowed=True), field="held")
    if outcome != "broke":
        raise EntryError(
            "A last load that held goes with a piece that broke on the next.",
            "One that never broke has only the load it held; one that fell apart held none.",
            "Leave it empty, or choose “broke”.",
            field="held",
        )
    if value.si >= load_n:
        raise EntryError(
            f"It held {show(value.si, Kind.FORCE)} and broke at {show(load_n, Kind.FORCE)}.",
            "The last load that held is below the one that broke it.",
            field="held",
        )
    return value.si, value.typed


def _read_gauge(load: str, rigs: Sequence[Rig], book: Book) -> Quantity | None:
    """Read a pressure off the gauge of a jack as the load of its ram; None where no jack is meant.

    What was typed stays, with the bore that made a load of it.
    """
    if not re.search(r"[a-z]", load, re.IGNORECASE):
        return None
    try:
        pressure = parse_quantity(load, Kind.STRESS, bounds=Bounds(highest=1000), field="load")
    except EntryError:
        return None
    rig = next((one for one in rigs if one.id == book.trial.rig_id), rigs[0] if len(rigs) == 1 else None)
    if rig is None or rig.bore_mm is None:
        raise EntryError(
            f"“{load.strip()}” is a pressure, not a load.",
            "The bore of the ram makes a load of it, and this trial has no jack with a bore.",
            "Choose the jack under “The rig” in Plan and write its bore on its card, or type the load.",
            field="load",
        )
    load_n = compute_gauge_load(pressure.si, rig.bore_mm)
    return replace(pressure, si=load_n, typed=f"{pressure.typed} on {rig.bore_typed}")
