"""Measuring: sizes by caliper, once or several times, what is off the plan, and how well the glued area is known."""

from dataclasses import replace
from functools import lru_cache
from math import sqrt
from statistics import fmean, stdev

from adhaero.bench.facts.book import Book, read_book
from adhaero.bench.facts.requirements import require_unchanged
from adhaero.bench.shop.units import read_units
from adhaero.core.errors import AmbiguousEntry, EntryError
from adhaero.core.joint import FORMS as JOINTS
from adhaero.core.joint import Joint, compute_area_give, compute_glued_area
from adhaero.core.plan.fields import QUANTITIES
from adhaero.core.quantity import Kind, Quantity, parse_quantity
from adhaero.store.file import ShopFile
from adhaero.store.pieces import Piece, delete_measurement, put_measurement

_MOST_READINGS = 20


_CALIPER_MM = 0.05


_SCATTERED = 0.01


def find_area(book: Book, piece: Piece) -> float | None:
    """Return the glued area of a piece, mm², with its measured sizes where there are; None while a size is missing."""
    return _compute_area(book.joint_of(book.treatments[piece.treatment_id]), tuple(book.sizes_of(piece).items()))


@lru_cache(maxsize=16_384)
def _compute_area(joint: Joint, sizes: tuple[tuple[str, float], ...]) -> float | None:
    """Return one area; kept, because most pieces stay as they are when one is measured."""
    try:
        return compute_glued_area(joint, dict(sizes))
    except EntryError:
        return None


def find_area_give(book: Book, piece: Piece) -> float | None:
    """Return the standard uncertainty of a measured glued area, mm²; None where it is not measured.

    A size is known as well as its readings scatter, over √n, and no better than a caliper reads in hand (0.05 mm).
    """
    rows = book.measurements.get(piece.id, {})
    if not rows:
        return None
    joint, sizes = book.joint_of(book.treatments[piece.treatment_id]), book.sizes_of(piece)
    needed = tuple((name, sizes[name]) for name in JOINTS[joint].sizes if name in sizes)
    gives = tuple((name, max(_CALIPER_MM, row.scatter_mm or 0.0) / sqrt(row.readings)) for name, row in rows.items())
    return _compute_give(joint, needed, gives)


@lru_cache(maxsize=16_384)
def _compute_give(
    joint: Joint, sizes: tuple[tuple[str, float], ...], gives: tuple[tuple[str, float], ...]
) -> float | None:
    """Return the uncertainty of one area; kept, because most pieces stay as they are when one is measured."""
    try:
        return compute_area_give(joint, dict(sizes), dict(gives))
    except EntryError:
        return None


def say_off_plan(book: Book, piece: Piece) -> list[str]:
    """Return a sentence for each size more than 3 % off the plan, or whose readings scatter by more than 1 %."""
    found = []
    sizes = book.planned_of(book.treatments[piece.treatment_id])
    for name, row in book.measurements.get(piece.id, {}).items():
        planned = sizes.get(name)
        if planned and abs(row.mm / planned - 1) > 0.03:
            found.append(
                f"{QUANTITIES[name].words} {100 * (row.mm / planned - 1):+.0f} % off the plan".replace("-", "−")
            )
        if row.scatter_mm is not None and row.scatter_mm > _SCATTERED * row.mm:
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
        book = read_book(connection, trial_id)
        piece = book.piece(piece_id)
        if name not in book.measured_names:
            raise EntryError(
                f"“{name}” is not measured here.", f"Measured are: {', '.join(book.measured_names)}.", field=name
            )
        current = book.measurements.get(piece_id, {}).get(name)
        require_unchanged(f"the {QUANTITIES[name].words} of {piece.label}", current.typed if current else "", was, name)
        if not typed.strip():
            delete_measurement(connection, piece_id, name)
            return
        sizes = _read_sizes(book, piece, name, typed, read_units(connection).length)
        value, scatter = replace(sizes[0], si=fmean(one.si for one in sizes)), None
        if len(sizes) > 1:
            value = replace(value, typed="; ".join(one.typed for one in sizes))
            scatter = stdev(one.si for one in sizes)
        planned = book.planned_of(book.treatments[piece.treatment_id]).get(name)
        if planned and not 0.2 < value.si / planned < 5:
            raise AmbiguousEntry(
                f"“{typed.strip()}” is {value.si:.4g} mm, and the plan says {planned:.4g} mm.",
                "So far apart, the unit is probably another.",
                "Write the unit.",
                field=name,
            )
        put_measurement(connection, piece_id, name, value.si, value.typed, len(sizes), scatter)


_SAME = ("=", "same", '"', "〃")


def _read_sizes(book: Book, piece: Piece, name: str, typed: str, unit: str) -> list[Quantity]:
    """Read a size called out once or several times (`22.1; 22.0`), or as on the piece before (`=`)."""
    if typed.strip().lower() in _SAME:
        before = [one for one in book.pieces if name in book.measurements.get(one, {})]
        earlier = before[: before.index(piece.id)] if piece.id in before else before
        order = list(book.pieces)
        earlier = [one for one in earlier if order.index(one) < order.index(piece.id)]
        if not earlier:
            raise EntryError("No piece before this one has it.", "“=” is the size of the piece before.", field=name)
        typed = book.measurements[earlier[-1]][name].typed
    bounds = QUANTITIES[name].bounds
    words = split_readings(typed) or [typed]
    if len(words) > _MOST_READINGS:
        raise EntryError(f"{len(words)} readings.", f"Up to {_MOST_READINGS} of a size are averaged.", field=name)
    return [parse_quantity(one, Kind.LENGTH, unit, bounds, field=name) for one in words]
