"""Glue-ups: pieces glued in one go from one mix, with the air of the shop."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from typing import Literal, TypedDict

from adhaero.bench.cure.sizes import split_readings
from adhaero.bench.facts.chosen import require_pieces
from adhaero.bench.facts.entry import Entry, Ids, Line, Moment, Note, Short
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.requirements import require_unchanged
from adhaero.bench.facts.times import check_moment
from adhaero.bench.shop.glues import check_family
from adhaero.bench.shop.units import read_units
from adhaero.core.errors import EntryError, NotThere, StateError
from adhaero.core.form import FormReader
from adhaero.core.glue import GlueFamily
from adhaero.core.measuring import average
from adhaero.core.pieces import Act
from adhaero.core.quantity import Bounds, Kind, parse_quantity
from adhaero.core.units import Units
from adhaero.store.file import ShopFile, to_text
from adhaero.store.glues import find_glue
from adhaero.store.pieces import (
    Piece,
    amend_batch,
    amend_piece,
    insert_batch,
)


@dataclass(frozen=True)
class BatchEntry(Entry):
    """A glue-up as typed."""

    pieces: Ids
    glue: Line
    family: GlueFamily | Literal[""] = ""
    opened_on: Moment | None = None
    lot: Line = ""
    kept: Line = ""
    shop_temperature: Short = ""
    humidity: Short = ""
    wood_moisture: Short = ""
    started_utc: Moment | None = None
    note: Note = ""


def start_batch(file: ShopFile, trial_id: int, entry: BatchEntry) -> int:
    """Make a glue-up from chosen pieces; their clamps go on with `put_clamps_on`.

    Raises
    ------
    EntryError : no piece or no glue, or a number that cannot be read.
    StateError : a piece is solid, void, not sawn, or glued already, or the plan asks for another glue.
    """
    with file.changing("Made a glue-up", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        name = entry.glue.strip()
        if not name:
            raise EntryError("No glue is named.", "Expected what is in the bottle.", field="glue")
        pieces = require_pieces(facts, entry.pieces)
        for piece in pieces:
            _check_gluable(facts, piece, name, file.clock())
        on_shelf = find_glue(connection, name)
        family = entry.family or (on_shelf.family if on_shelf else "")
        form, units = FormReader(), read_units(connection)
        known = form.read(check_family, family)
        started = form.read(_read_start, entry, file.clock())
        air = _read_climate(form, units, entry)
        form.finish()
        batch_id = insert_batch(
            connection,
            trial_id=trial_id,
            number=max((batch.number for batch in facts.batches.values()), default=0) + 1,
            glue=on_shelf.name if on_shelf else name,
            glue_family=known.value,
            glue_opened_on=entry.opened_on or (on_shelf.opened_on if on_shelf else None),
            glue_lot=entry.lot.strip() or (on_shelf.lot if on_shelf else ""),
            glue_kept=entry.kept.strip() or (on_shelf.kept if on_shelf else ""),
            started_utc=to_text(started.value),
            note=entry.note.strip(),
            **air(),
        )
        for piece in pieces:
            amend_piece(connection, piece.id, batch_id=batch_id)
        return batch_id


def _check_gluable(facts: PieceFacts, piece: Piece, glue: str, now: datetime) -> None:
    facts.require(Act.GLUE, piece, now)
    planned = facts.glue_of(facts.treatments[piece.treatment_id])
    if planned and planned.lower() != glue.lower():
        raise StateError(
            f"{piece.label} is planned with {planned}, not {glue}.",
            "One glue-up takes one glue.",
            "Leave it out, or change the glue.",
        )


class _Air(TypedDict):
    """The air of the shop and the moisture of the wood, as a glue-up keeps them."""

    shop_temperature_c: float | None
    shop_temperature_typed: str
    humidity_pct: float | None
    humidity_typed: str
    wood_moisture_pct: float | None
    wood_moisture_typed: str


def _read_start(entry: BatchEntry, now: datetime) -> datetime:
    return check_moment(entry.started_utc, now, "started_utc") if entry.started_utc else now


def _read_climate(form: FormReader, units: Units, entry: BatchEntry) -> Callable[[], _Air]:
    """Read the air and the wood; of several readings, with semicolons between, the mean counts.

    Returns
    -------
    What gives them, once `form` has been finished.
    """

    def read(field: str, typed: str, kind: Kind, bounds: Bounds) -> tuple[float | None, str]:
        found = [
            parse_quantity(one, kind, units.default_for(kind), bounds, field=field) for one in split_readings(typed)
        ]
        return average(found).si if found else None, "; ".join(one.typed for one in found)

    share = Bounds(0, 100, zero_allowed=True)
    air = form.read(read, "shop_temperature", entry.shop_temperature, Kind.TEMPERATURE, Bounds(-40, 60))
    humidity = form.read(read, "humidity", entry.humidity, Kind.PERCENT, share)
    moisture = form.read(read, "wood_moisture", entry.wood_moisture, Kind.PERCENT, share)
    return lambda: _Air(
        shop_temperature_c=air.value[0],
        shop_temperature_typed=air.value[1],
        humidity_pct=humidity.value[0],
        humidity_typed=humidity.value[1],
        wood_moisture_pct=moisture.value[0],
        wood_moisture_typed=moisture.value[1],
    )


def note_batch(file: ShopFile, trial_id: int, batch_id: int, was: str, note: str) -> None:
    """Write the note of a glue-up."""
    with file.changing("Wrote a note on a glue-up", trial_id) as connection:
        batch = read_trial(connection, trial_id).batches.get(batch_id)
        if batch is None:
            raise NotThere(f"There is no glue-up {batch_id} in this trial.")
        require_unchanged("the note", batch.note, was, "note")
        amend_batch(connection, batch_id, note=note.strip()[:1000])
