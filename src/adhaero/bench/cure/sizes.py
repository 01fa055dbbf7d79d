"""Measuring: sizes by caliper, once or several times, what is off the plan, and how well the glued area is known."""

from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.requirements import require_unchanged
from adhaero.bench.facts.shelf import kept
from adhaero.bench.shop.units import read_units
from adhaero.core.errors import AmbiguousEntry, EntryError, ReasonNeeded
from adhaero.core.joint import FORMS as JOINTS
from adhaero.core.joint import Joint, compute_area_give, compute_glued_area
from adhaero.core.measuring import average, find_off_plan, find_size_give, is_in_another_unit, is_scattered
from adhaero.core.plan.fields import QUANTITIES
from adhaero.core.quantity import Kind, Quantity, parse_quantity
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.pieces import Piece, delete_measurement, put_measurement

_MOST_READINGS = 20


def find_area(facts: PieceFacts, piece: Piece) -> float | None:
    """Return the glued area of a piece, mm², with its measured sizes where there are; None while a size is missing."""
    return _compute_area(facts.joint_of(facts.treatments[piece.treatment_id]), tuple(facts.sizes_of(piece).items()))


@kept(most=16_384)
def _compute_area(joint: Joint, sizes: tuple[tuple[str, float], ...]) -> float | None:
    """Return one area; kept, because most pieces stay as they are when one is measured."""
    try:
        return compute_glued_area(joint, dict(sizes))
    except EntryError:
        return None


def find_area_give(facts: PieceFacts, piece: Piece) -> float | None:
    """Return the standard uncertainty of a measured glued area, mm²; None where it is not measured.

    A size is known as well as its readings scatter, over √n, and no better than a caliper reads in hand (0.05 mm).
    """
    rows = facts.measurements.get(piece.id, {})
    if not rows:
        return None
    joint, sizes = facts.joint_of(facts.treatments[piece.treatment_id]), facts.sizes_of(piece)
    needed = tuple((name, sizes[name]) for name in JOINTS[joint].sizes if name in sizes)
    gives = tuple((name, find_size_give(row.scatter_mm, row.readings)) for name, row in rows.items())
    return _compute_give(joint, needed, gives)


@kept(most=16_384)
def _compute_give(
    joint: Joint, sizes: tuple[tuple[str, float], ...], gives: tuple[tuple[str, float], ...]
) -> float | None:
    """Return the uncertainty of one area; kept, because most pieces stay as they are when one is measured."""
    try:
        return compute_area_give(joint, dict(sizes), dict(gives))
    except EntryError:
        return None


def say_off_plan(facts: PlanFacts, piece: Piece) -> list[str]:
    """Return a sentence for each size more than 3 % off the plan, or whose readings scatter by more than 1 %."""
    found = []
    sizes = facts.planned_of(facts.treatments[piece.treatment_id])
    for name, row in facts.measurements.get(piece.id, {}).items():
        off = find_off_plan(row.mm, sizes.get(name))
        if off is not None:
            found.append(f"{QUANTITIES[name].words} {100 * off:+.0f} % off the plan".replace("-", "−"))
        if is_scattered(row.mm, row.scatter_mm):
            found.append(f"{row.readings} readings of the {QUANTITIES[name].words} scatter by {row.scatter_mm:.2g} mm")
    return found


def split_readings(typed: str) -> list[str]:
    """Return what was typed reading by reading: semicolons stand between them."""
    return [one for one in typed.split(";") if one.strip()]


def measure(file: ShopFile, trial_id: int, piece_id: int, name: str, was: str, typed: str) -> None:
    """Write one measured size of a piece; empty takes it away.

    `=` stands for the size of the piece before; of several readings, with semicolons between, the mean counts, and
    their scatter is kept.

    Raises
    ------
    EntryError : it cannot be read, or is so far off the plan that the unit must be wrong.
    StaleEdit : another window measured it meanwhile.
    """
    with file.changing("Measured a piece", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        piece = facts.piece(piece_id)
        if name not in facts.measured_names:
            raise EntryError(
                f"“{name}” is not measured here.", f"Measured are: {', '.join(facts.measured_names)}.", field=name
            )
        current = facts.measurements.get(piece_id, {}).get(name)
        require_unchanged(f"the {QUANTITIES[name].words} of {piece.label}", current.typed if current else "", was, name)
        if current is not None and typed.strip() != current.typed and facts.result_of(piece) is not None:
            raise ReasonNeeded(
                f"{piece.label} is broken, and was measured: {current.typed}.",
                "Its strength follows from it; a correction says why.",
                "Open the piece at Break and choose “Correct”.",
                field=name,
            )
        put_size(connection, facts, piece, name, typed)


def put_size(connection: Connection, facts: PlanFacts, piece: Piece, name: str, typed: str) -> None:
    """Write one measured size as typed, or take it away where nothing is; call inside a change. Raises `EntryError`."""
    if not typed.strip():
        delete_measurement(connection, piece.id, name)
        return
    sizes = _read_sizes(facts, piece, name, typed, read_units(connection).length)
    mean, words = average(sizes), "; ".join(one.typed for one in sizes)
    planned = facts.planned_of(facts.treatments[piece.treatment_id]).get(name)
    if is_in_another_unit(mean.si, planned):
        raise AmbiguousEntry(
            f"“{typed.strip()}” is {mean.si:.4g} mm, and the plan says {planned:.4g} mm.",
            "So far apart, the unit is probably another.",
            "Write the unit.",
            field=name,
        )
    put_measurement(connection, piece.id, name, mean.si, words, len(sizes), mean.scatter)


_SAME = ("=", "same", '"', "〃")


def _read_sizes(facts: PlanFacts, piece: Piece, name: str, typed: str, unit: str) -> list[Quantity]:
    """Read a size called out once or several times (`22.1; 22.0`), or as on the piece before (`=`)."""
    if typed.strip().lower() in _SAME:
        before = [one for one in facts.pieces if name in facts.measurements.get(one, {})]
        earlier = before[: before.index(piece.id)] if piece.id in before else before
        order = list(facts.pieces)
        earlier = [one for one in earlier if order.index(one) < order.index(piece.id)]
        if not earlier:
            raise EntryError("No piece before this one has it.", "“=” is the size of the piece before.", field=name)
        typed = facts.measurements[earlier[-1]][name].typed
    bounds = QUANTITIES[name].bounds
    words = split_readings(typed) or [typed]
    if len(words) > _MOST_READINGS:
        raise EntryError(f"{len(words)} readings.", f"Up to {_MOST_READINGS} of a size are averaged.", field=name)
    return [parse_quantity(one, Kind.LENGTH, unit, bounds, field=name) for one in words]
