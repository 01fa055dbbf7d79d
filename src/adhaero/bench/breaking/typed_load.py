"""The load of a break that a person read off: from a scale, from the gauge of a jack, or none where it was pried."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace

from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.shop.units import read_units
from adhaero.core.errors import EntryError
from adhaero.core.fixture import compute_gauge_load
from adhaero.core.quantity import Bounds, Kind, Quantity, parse_quantity, show
from adhaero.core.rig.kinds import RigKind
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.rigs import Rig, list_rigs

_MOST_LOAD_N = 5e6


class BeyondRig(EntryError):
    """A load above what any rig in the shop can pull; it can be kept on purpose."""

    code = "beyond-rig"


def refuse_load(load: str, values: Mapping[str, object]) -> None:
    """Raise `EntryError` for a load of a piece that was pried open, or none judged: the broken face decides."""
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


@dataclass(frozen=True)
class TypedLoad:
    """A load as a person read it off: N, as typed, what it was multiplied with and added to, and all of it in words."""

    load_n: float
    typed: str
    through: str
    words: str


def understand_load(file: ShopFile, trial_id: int, typed: str) -> TypedLoad:
    """Return what is understood of a load as it is being typed; raises as `read_load` does, beyond the rig as well."""
    with file.reading() as connection:
        return read_load(connection, read_trial(connection, trial_id), typed, "broke", beyond_rig=True)


def read_load(connection: Connection, facts: PlanFacts, load: str, outcome: str, beyond_rig: bool) -> TypedLoad:
    """Return a load as the trial's rig makes it of what was typed.

    Parameters
    ----------
    load : in any unit, or the pressure on the gauge of the trial's jack; empty for a piece that fell apart. What hangs
        on a rig with a hanger, a bucket or a lever is taken with the hanger, and times the lever's ratio.
    outcome : of the pull. beyond_rig : take a load above the shop's strongest rig on purpose.

    Raises
    ------
    EntryError : it cannot be read or is far beyond any rig; `BeyondRig` just beyond the strongest.
    """
    fell_apart = outcome == "fell_apart"
    if fell_apart and not load.strip():
        return TypedLoad(0.0, "", "", "")
    rigs = list_rigs(connection)
    bounds = Bounds(highest=_MOST_LOAD_N, zero_allowed=fell_apart)
    value = _read_gauge(load, facts) or parse_quantity(
        load, Kind.FORCE, read_units(connection).force, bounds, field="load"
    )
    found = put_through(facts.rig, value)
    capacity = max((rig.capacity_n for rig in rigs), default=None)
    if capacity is not None and found.load_n > 10 * capacity:
        raise EntryError(
            f"{found.words or f'“{value.typed}” is {show(found.load_n, Kind.FORCE)}'}.",
            f"That is more than ten times what the strongest rig here can pull ({show(capacity, Kind.FORCE)}).",
            "Check the unit.",
            field="load",
        )
    if capacity is not None and found.load_n > capacity and not beyond_rig:
        raise BeyondRig(
            f"{found.words or f'“{value.typed}” is {show(found.load_n, Kind.FORCE)}'}.",
            f"The strongest rig here pulls {show(capacity, Kind.FORCE)}.",
            "Check the unit, or keep it as it is.",
            field="load",
        )
    return found


def put_through(rig: Rig | None, value: Quantity) -> TypedLoad:
    """Return the load on the piece of what was typed for a rig: with its hanger or bucket, times its lever's ratio."""
    if value.si == 0:
        return TypedLoad(0.0, value.typed, "", "")
    tare_n, ratio = (rig.tare_n or 0.0, rig.lever_ratio or 1.0) if rig else (0.0, 1.0)
    load_n = (value.si + tare_n) * ratio
    parts = []
    if rig is not None and tare_n:
        parts.append(f"+ {'bucket' if rig.kind == RigKind.BUCKET else 'hanger'} {rig.tare_typed}")
    if ratio != 1:
        parts.append(f"× {ratio:g}")
    through = ", ".join(parts)
    words = f"{value.typed} {through} = {show(load_n, Kind.FORCE)}" if parts else ""
    return TypedLoad(load_n, value.typed, through, words or f"{value.typed} = {show(load_n, Kind.FORCE)}")


def counts_more_than_is_typed(rig: Rig | None) -> bool:
    """Return whether a load typed for a rig is multiplied, or its hanger added."""
    return rig is not None and bool(rig.tare_n or (rig.lever_ratio or 1.0) != 1)


def read_held(
    connection: Connection, facts: PlanFacts, held: str, load_n: float, outcome: str
) -> tuple[float | None, str]:
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
    held_n = put_through(facts.rig, value).load_n
    if held_n >= load_n:
        raise EntryError(
            f"It held {show(held_n, Kind.FORCE)} and broke at {show(load_n, Kind.FORCE)}.",
            "The last load that held is below the one that broke it.",
            field="held",
        )
    return held_n, value.typed


def _read_gauge(load: str, facts: PlanFacts) -> Quantity | None:
    """Read a pressure off the gauge of a jack as the load of its ram; None where no jack is meant.

    What was typed stays, with the bore that made a load of it.
    """
    if not re.search(r"[a-z]", load, re.IGNORECASE):
        return None
    try:
        pressure = parse_quantity(load, Kind.STRESS, bounds=Bounds(highest=1000), field="load")
    except EntryError:
        return None
    rig = facts.rig
    if rig is None or rig.bore_mm is None:
        raise EntryError(
            f"“{load.strip()}” is a pressure, not a load.",
            "The bore of the ram makes a load of it, and this trial has no jack with a bore.",
            "Choose the jack under “The rig” in Plan and write its bore on its card, or type the load.",
            field="load",
        )
    load_n = compute_gauge_load(pressure.si, rig.bore_mm)
    return replace(pressure, si=load_n, typed=f"{pressure.typed} on {rig.bore_typed}")
