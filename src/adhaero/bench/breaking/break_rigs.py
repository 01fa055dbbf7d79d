"""The rigs that a piece can be loaded on, and how a load is entered on each."""

from dataclasses import dataclass
from datetime import datetime

from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.shop.rig_card import make_card, read_meaning
from adhaero.bench.shop.rig_truth import CheckDue, find_check_due
from adhaero.bench.shop.units import read_units
from adhaero.core.fixture import compute_gauge_load
from adhaero.core.quantity import Kind, factor, show
from adhaero.core.rig.kinds import FORMS as RIGS
from adhaero.core.rig.kinds import GaugeUnit, LoadEntry, RigKind
from adhaero.store.connecting import Connection
from adhaero.store.rigs import Rig, RigVersion, newest_rig_versions


@dataclass(frozen=True)
class Gauge:
    """The gauge of a jack: its unit, where its scale ends, its divisions, and the load of one unit, N."""

    unit: GaugeUnit
    most: float
    division: float
    newton_per_unit: float


@dataclass(frozen=True)
class BreakRig:
    """A rig that the piece can be loaded on, and how its load is entered.

    Attributes
    ----------
    entry : how its load is entered where it sends no lines. sends : whether it sends lines.
    unit : of a number without one. version : of its card. tare, handle, bore, capacity, resolution : as typed.
    empty_n : the load with nothing put on. ratio, arm_piece_mm, arm_hung_mm, balance_mm : of a lever.
    gauge : of a jack. caution : of its kind. minds : what a person should know of it before a load is read.
    check : its check weight, or None.
    """

    id: int
    name: str
    kind: RigKind
    entry: LoadEntry
    sends: bool
    unit: str
    version: int | None
    capacity: str
    capacity_n: float
    resolution: str
    tare: str
    handle: str
    bore: str
    empty_n: float
    ratio: float
    arm_piece_mm: float | None
    arm_hung_mm: float | None
    balance_mm: float | None
    gauge: Gauge | None
    caution: str
    minds: tuple[str, ...]
    check: CheckDue | None


def list_rigs_for(connection: Connection, facts: PieceFacts, now: datetime, *, pried: bool) -> list[BreakRig]:
    """Return the rigs that the pieces of a trial can be loaded on, the plan's first. Reads only."""
    versions, unit = newest_rig_versions(connection), read_units(connection).force
    return [
        _view_rig(rig, versions.get(rig.id), unit, find_check_due(connection, rig, now))
        for rig in sorted(facts.rigs.values(), key=lambda rig: (rig != facts.rig, rig.name.lower()))
        if (RIGS[rig.kind].entry is LoadEntry.FACE) == pried
    ]


def find_rig_id(facts: PieceFacts, *, pried: bool) -> int | None:
    """Return the rig that the plan counts on, else the one of the last break; None where it has to be chosen."""
    last = max((pull for mine in facts.pulls.values() for pull in mine), key=lambda pull: pull.id, default=None)
    chosen = facts.rig or (facts.rigs.get(last.rig_id or 0) if last else None)
    fits = chosen is not None and (RIGS[chosen.kind].entry is LoadEntry.FACE) == pried
    return chosen.id if chosen is not None and fits else None


def _view_rig(rig: Rig, version: RigVersion | None, unit: str, check: CheckDue | None = None) -> BreakRig:
    """Return a rig as a load is entered on it; `unit` is the shop's for loads."""
    form, card = RIGS[rig.kind], make_card(read_meaning(rig))
    minds = []
    if "tare" in form.needs and rig.tare_n is None:
        thing = "bucket" if rig.kind is RigKind.BUCKET else "hanger"
        minds.append(
            f"The {thing} alone is not weighed: its weight is missing from every load. Write it on the rig's card."
        )
    if form.entry is LoadEntry.GAUGE:
        minds.append(
            f"Pressure is not load: {show(1, Kind.STRESS)} on the ram is {show(card.ram_mm2 or 0, Kind.FORCE)}."
        )
    return BreakRig(
        id=rig.id,
        name=rig.name,
        kind=rig.kind,
        entry=form.entry,
        sends=bool(rig.url),
        unit=rig.gauge_unit or unit,
        version=version.number if version else None,
        capacity=rig.capacity_typed,
        capacity_n=rig.capacity_n,
        resolution=rig.resolution_typed,
        tare=rig.tare_typed,
        handle=rig.handle_typed,
        bore=rig.bore_typed,
        empty_n=card.empty_n,
        ratio=card.ratio,
        arm_piece_mm=rig.arm_piece_mm,
        arm_hung_mm=rig.arm_hung_mm,
        balance_mm=rig.balance_mm,
        gauge=_view_gauge(rig),
        caution=form.caution,
        minds=tuple(minds),
        check=check,
    )


def _view_gauge(rig: Rig) -> Gauge | None:
    if rig.bore_mm is None or not rig.gauge_unit:
        return None
    per_unit = compute_gauge_load(factor(Kind.STRESS, rig.gauge_unit), rig.bore_mm)
    # the scale as it is printed: four figures hide what the round trip through newtons left
    most, division = (float(f"{load / per_unit:.4g}") for load in (rig.capacity_n, 2 * rig.resolution_n))
    return Gauge(rig.gauge_unit, most, division, per_unit)
