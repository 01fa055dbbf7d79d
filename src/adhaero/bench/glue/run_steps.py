"""The steps of a run sheet as they are done, and what is noted on the way."""

from collections.abc import Sequence
from dataclasses import dataclass

from adhaero.bench.breaking.live_rigs import RigHub
from adhaero.bench.facts.chosen import require_pieces
from adhaero.bench.facts.entry import Chosen, Entry, Id, Ids
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.requirements import require_unchanged
from adhaero.bench.facts.rows import parse_time
from adhaero.bench.facts.times import check_moment
from adhaero.bench.glue.clamps import put_clamps_on
from adhaero.bench.glue.open_time import say_spread
from adhaero.bench.glue.run_sheet import GlueStep, require_batch
from adhaero.bench.shop.units import read_units
from adhaero.core.errors import EntryError, StateError
from adhaero.core.pieces import Act
from adhaero.core.plan.gluing import find_waits
from adhaero.core.quantity import Bounds, Kind, parse_quantity
from adhaero.files.photos import shrink_photo
from adhaero.store.file import ShopFile, to_text
from adhaero.store.making import insert_coat
from adhaero.store.photos import insert_photo
from adhaero.store.pieces import Piece, amend_batch, amend_piece


@dataclass(frozen=True, kw_only=True)
class StepEntry(Chosen):
    """Pieces, and the step of the run sheet that is done to them."""

    step: GlueStep


@dataclass(frozen=True)
class PrepareEntry(Entry):
    """Pieces whose faces are prepared now, or not after all."""

    pieces: Ids
    done: bool = True


@dataclass(frozen=True)
class ForceEntry(Entry):
    """Pieces in the clamp that a load cell reads, and which rig reads it."""

    pieces: Ids
    rig_id: Id


_ACTS = {GlueStep.COAT: Act.COAT, GlueStep.SPREAD: Act.SPREAD, GlueStep.CLOSED: Act.CLOSE}


def mark_step(file: ShopFile, trial_id: int, piece_ids: Sequence[int], step: str, at_utc: str | None = None) -> None:
    """Record that glue was spread on pieces, that they were closed, or that they are in the clamp.

    Raises
    ------
    EntryError : no such step, or a time before the step that comes first. StateError : out of order, or done already.
    """
    if step not in list(GlueStep):
        raise EntryError(f"“{step}” is no step.", f"Choose one of {', '.join(GlueStep)}.", field="step")
    if step == GlueStep.CLAMPED:
        put_clamps_on(file, trial_id, piece_ids, at_utc)
        return
    said = {GlueStep.COAT: "Put on a first coat", GlueStep.SPREAD: "Spread glue"}.get(GlueStep(step), "Closed pieces")
    with file.changing(said, trial_id) as connection:
        facts = read_trial(connection, trial_id)
        moment = check_moment(at_utc, file.clock(), "at_utc") if at_utc else file.clock()
        for piece in require_pieces(facts, piece_ids):
            facts.require(_ACTS[GlueStep(step)], piece, file.clock())
            if step == GlueStep.COAT:
                _check_coat(facts, piece)
                number = len(facts.coats.get(piece.id, ())) + 1
                insert_coat(connection, piece_id=piece.id, number=number, at_utc=to_text(moment))
                continue
            spread = parse_time(piece.spread_utc)
            if spread is not None and moment < spread:
                raise EntryError(f"{piece.label} was spread after that.", "Closing comes later.", field="at_utc")
            if step == GlueStep.SPREAD:
                amend_piece(connection, piece.id, spread_utc=to_text(moment))
            else:
                amend_piece(connection, piece.id, closed_utc=to_text(moment))


def _check_coat(facts: PlanFacts, piece: Piece) -> None:
    waits = find_waits(say_spread(facts, piece))
    if len(facts.coats.get(piece.id, ())) >= len(waits):
        raise StateError(
            f"{piece.label} has every coat that soaks in.",
            f"Its plan says “{say_spread(facts, piece)}”.",
            "Spread it.",
        )


def mark_prepared(file: ShopFile, trial_id: int, piece_ids: Sequence[int], *, done: bool = True) -> None:
    """Record that faces are prepared now (freshly planed counts), or take it back until they are glued."""
    with file.changing("Prepared faces" if done else "Took back prepared faces", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        for piece in require_pieces(facts, piece_ids):
            facts.require(Act.PREPARE, piece, file.clock())
            amend_piece(connection, piece.id, prepped_utc=file.now() if done else None)


def mix_now(file: ShopFile, trial_id: int, batch_id: int) -> None:
    """Start the pot-life clock of a glue-up."""
    with file.changing("Mixed the glue", trial_id) as connection:
        batch = require_batch(read_trial(connection, trial_id), batch_id)
        if batch.mixed_utc is not None:
            raise StateError("This glue is mixed already.", "A fresh mix is a new glue-up.")
        amend_batch(connection, batch_id, mixed_utc=file.now())


def edit_batch(file: ShopFile, trial_id: int, batch_id: int, field: str, was: str, typed: str) -> None:
    """Set `who` glued, or how much glue was `spread` (weighed). Raises `StaleEdit`, `EntryError`."""
    with file.changing("Wrote on a glue-up", trial_id) as connection:
        batch = require_batch(read_trial(connection, trial_id), batch_id)
        if field not in ("who", "spread"):
            raise EntryError(f"A glue-up has no “{field}”.", field=field)
        require_unchanged(
            "who glued" if field == "who" else "the glue weighed", batch.who if field == "who" else batch.spread_typed,
            was, field,
        )  # fmt: skip
        if field == "who":
            amend_batch(connection, batch_id, who=typed.strip()[:80])
        elif not typed.strip():
            amend_batch(connection, batch_id, spread_g=None, spread_typed="")
        else:
            unit = read_units(connection).default_for(Kind.MASS)
            value = parse_quantity(typed, Kind.MASS, unit, Bounds(highest=1e5), field="spread")
            amend_batch(connection, batch_id, spread_g=value.si, spread_typed=value.typed)


def keep_clamp_force(file: ShopFile, hub: RigHub, trial_id: int, piece_ids: Sequence[int], rig_id: int) -> None:
    """Keep the force that a load cell in the clamp shows now as settled, with its peak of the last minutes.

    Raises
    ------
    RigError : the rig is not connected or gives no readings. StateError : a piece is in no clamp.
    """
    peak, settled = hub.read_clamp(rig_id)
    with file.changing("Kept a clamp force", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        for piece in require_pieces(facts, piece_ids):
            facts.require(Act.KEEP_FORCE, piece, file.clock())
            amend_piece(connection, piece.id, clamp_peak_n=peak, clamp_settled_n=settled)


def add_batch_photo(file: ShopFile, trial_id: int, batch_id: int, content: bytes) -> int:
    """Put a photo beside a glue-up; return its id. Raises `EntryError` for no picture."""
    jpeg = shrink_photo(content)
    with file.changing("Added a photo of a glue-up", trial_id) as connection:
        batch = require_batch(read_trial(connection, trial_id), batch_id)
        photo_id = insert_photo(connection, jpeg=jpeg, added_utc=file.now())
        amend_batch(connection, batch.id, photo_id=photo_id)
        return photo_id


def note_deviation(file: ShopFile, trial_id: int, piece_id: int, was: str, words: str) -> None:
    """Write what went otherwise with a piece: slid, clamped again, squeezed dry, dropped, wrong face."""
    with file.changing("Noted what went otherwise", trial_id) as connection:
        piece = read_trial(connection, trial_id).piece(piece_id)
        require_unchanged(f"what is noted of {piece.label}", piece.deviation, was, "deviation")
        amend_piece(connection, piece_id, deviation=words.strip()[:300])
