"""Plates on the hanger of a rig: what hangs, what it puts on the piece, and which one comes next."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from adhaero.bench.breaking.rig_used import Reading, RigUsed, find_rig
from adhaero.bench.facts.entry import Entry, Id, Ids
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.shop.units import read_units
from adhaero.core.errors import EntryError
from adhaero.core.quantity import Kind, show_as_typed
from adhaero.core.rig.entry.plates import Plate, propose_plate
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.plates import PlateRow, list_plates


def as_plate(row: PlateRow) -> Plate:
    """Return plates of the shop as the core knows them."""
    return Plate(row.weight_typed, row.weight_n, row.number)


def find_plates(connection: Connection, stack: Sequence[int]) -> list[Plate]:
    """Return plates by their ids; raises `EntryError` for one that is not in the shop."""
    rows: Mapping[int, PlateRow] = {row.id: row for row in list_plates(connection)}
    if missing := [one for one in stack if one not in rows]:
        raise EntryError(
            f"There are no plates {missing[0]} in the shop.",
            "They may have been removed meanwhile.",
            "Put them back into the shop, or hang others.",
            field="steps",
        )
    return [as_plate(rows[one]) for one in stack]


def say_stack(stack: Sequence[Plate]) -> str:
    """Return what hangs in words: `2 × 10 kg + 2.5 kg`."""
    counts: dict[str, int] = {}
    for plate in sorted(stack, key=lambda one: -one.weight_n):
        counts[plate.name] = counts.get(plate.name, 0) + 1
    parts = [f"{number} × {name}" if number > 1 else name for name, number in counts.items()]
    return " + ".join(parts) or "nothing on the hanger"


@dataclass(frozen=True)
class StackView:
    """What hangs now: the load on the piece, N and in words, the plate to put on next, and what each would lead to."""

    load_n: float
    words: str
    next_plate: int | None
    beyond: dict[int, str]


@dataclass(frozen=True)
class StackEntry(Entry):
    """Plates on the hanger of a rig, by their ids."""

    piece: Id
    plates: Ids
    rig: Id | None = None


def weigh_stack(file: ShopFile, trial_id: int, entry: StackEntry, expected_low_n: float | None) -> StackView:
    """Return what hangs now, and what comes next.

    Parameters
    ----------
    expected_low_n : the lower end of the piece's forecast.
    """
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        used = find_rig(connection, facts, Reading(rig=entry.rig))
        rows, unit = list_plates(connection), read_units(connection).force
        stack = find_plates(connection, entry.plates)
    card, plates = used.card.of_known_weights(), [as_plate(row) for row in rows]
    proposed = propose_plate(card, plates, stack, expected_low_n)
    load_n = card.load(sum(plate.weight_n for plate in stack))
    hung_n = sum(plate.weight_n for plate in stack) + card.tare_n
    through = card.say()
    return StackView(
        load_n,
        f"{say_stack(stack)} {through} = {show_as_typed(load_n, Kind.FORCE, unit)}".replace("  ", " "),
        next((row.id for row in rows if proposed is not None and row.weight_typed == proposed.name), None),
        {row.id: words for row in rows if (words := _say_beyond(used, load_n, hung_n, row.weight_n))},
    )


def _say_beyond(used: RigUsed, load_n: float, hung_n: float, plate_n: float) -> str:
    """Return why a plate should not go on; empty where it may."""
    rig = used.rig
    if rig is None:
        return ""
    if rig.handle_n is not None and hung_n + plate_n > rig.handle_n:
        return f"beyond what its handle carries ({rig.handle_typed})"
    if load_n + plate_n * used.card.ratio > rig.capacity_n:
        return f"beyond what {rig.name} carries ({rig.capacity_typed})"
    return ""
