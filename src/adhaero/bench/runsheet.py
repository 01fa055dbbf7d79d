"""The run sheet of a glue-up: what to lay out and mix, then piece by piece spread, close, clamp, on the clock."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum

from adhaero.bench.book import Book, parse_time, read_book
from adhaero.bench.guards import require_unchanged
from adhaero.bench.making import put_clamps_on, require_pieces
from adhaero.bench.moments import check_moment
from adhaero.bench.planning import follow_plan, make_plan
from adhaero.bench.rigs import RigHub
from adhaero.bench.stock import read_units
from adhaero.bench.supplies import Supplies, read_supplies
from adhaero.core.errors import EntryError, NotThere, StateError
from adhaero.core.glue import GlueFamily, caution_for
from adhaero.core.plan.clamping import SetUp
from adhaero.core.plan.fields import Factor
from adhaero.core.plan.gluing import Mix, compute_glue_mass, compute_mix, find_waits
from adhaero.core.plan.planned import LineForce, find_area
from adhaero.core.quantity import Bounds, Kind, parse_quantity, show_duration
from adhaero.files.photos import shrink_photo
from adhaero.store.file import ShopFile, to_text
from adhaero.store.pieces import Batch, Piece
from adhaero.store.rows import amend, insert

SCALE_STEP_G = 0.1


class GlueStep(StrEnum):
    """What is done with each piece of a glue-up, in order; a coat that soaks in comes before the last one is spread."""

    COAT = "coat"
    SPREAD = "spread"
    CLOSED = "closed"
    CLAMPED = "clamped"


@dataclass(frozen=True)
class RunPiece:
    """One piece of the run.

    Attributes
    ----------
    spread : how its glue is spread. waits_s : waiting times inside that, in order (a first coat that soaks in).
    coats_utc : coats that soak in so far; coat_due_utc : when the last of them has had its wait.
    done : the steps it has had. open_s : from spreading to closing, once closed. late : that took longer than the glue
        stays open.
    """

    id: int
    label: str
    set: str
    spread: str
    waits_s: list[float]
    coats_utc: list[str]
    coat_due_utc: str | None
    done: list[GlueStep]
    next: GlueStep | None
    spread_utc: str | None
    closed_utc: str | None
    open_s: float | None
    late: bool
    deviation: str
    asked_n: float | None
    clamp_peak_n: float | None
    clamp_settled_n: float | None


@dataclass(frozen=True)
class RunSheet:
    """A glue-up as it is worked through."""

    batch_id: int
    number: int
    glue: str
    family: str
    caution: str
    faces: str
    lay_out: list[str]
    mass_g: float | None
    mix: Mix | None
    mixed_utc: str | None
    pot_life_s: float | None
    open_time_s: float | None
    spread_typed: str
    who: str
    set_up: SetUp | None
    pieces: list[RunPiece]
    minds: list[str]


def view_run_sheet(file: ShopFile, trial_id: int, batch_id: int) -> RunSheet:
    """Return the run sheet of a glue-up."""
    with file.reading() as connection:
        book = read_book(connection, trial_id)
        supplies = read_supplies(connection)
    batch = _require_batch(book, batch_id)
    card = supplies.glue(batch.glue)
    open_time = card.open_time_s if card else None
    pieces = sorted(_pieces_of(book, batch_id), key=lambda piece: piece.glue_turn)
    mass = _mass(book, supplies, batch, pieces)
    mix = compute_mix(mass, card.mix_ratio, SCALE_STEP_G) if mass is not None and card and card.mix_ratio else None
    forces = {line.name: line for line in follow_plan(make_plan(book, supplies, ())).forces}
    lines = [forces[name] for piece in pieces if (name := book.treatments[piece.treatment_id].name) in forces]
    return RunSheet(
        batch_id=batch.id,
        number=batch.number,
        glue=batch.glue,
        family=batch.glue_family,
        caution=caution_for(GlueFamily(batch.glue_family)),
        faces="both faces" if book.trial.faces == "both" else "one face",
        lay_out=_lay_out(book, pieces, lines[0].set_up if lines else None),
        mass_g=mass,
        mix=mix,
        mixed_utc=batch.mixed_utc,
        pot_life_s=card.pot_life_s if card else None,
        open_time_s=open_time,
        spread_typed=batch.spread_typed,
        who=batch.who,
        set_up=lines[0].set_up if lines else None,
        pieces=[_view_piece(book, piece, open_time, _asked(book, piece, forces)) for piece in pieces],
        minds=_mind(batch, open_time, card.lowest_temperature_c if card else None),
    )


def _asked(book: Book, piece: Piece, forces: Mapping[str, LineForce]) -> float | None:
    line = forces.get(book.treatments[piece.treatment_id].name)
    return line.force_n if line else None


def _require_batch(book: Book, batch_id: int) -> Batch:
    if batch_id not in book.batches:
        raise NotThere(f"There is no glue-up {batch_id} in this trial.", do="Reload: it may have been undone.")
    return book.batches[batch_id]


def _pieces_of(book: Book, batch_id: int) -> list[Piece]:
    return [piece for piece in book.pieces.values() if piece.batch_id == batch_id and piece.void_reason is None]


def _mass(book: Book, supplies: Supplies, batch: Batch, pieces: Sequence[Piece]) -> float | None:
    card = supplies.glue(batch.glue)
    if card is None or card.spread_g_m2 is None:
        return None
    plan = make_plan(book, supplies, ())
    areas = {one.name: find_area(one) for one in plan.sets}
    found = [areas.get(book.treatments[piece.treatment_id].name) for piece in pieces]
    if not found or any(area is None for area in found):
        return None
    total = sum(area for area in found if area is not None)
    return compute_glue_mass(total, card.spread_g_m2, plan.faces, plan.waste_pct)


def _lay_out(book: Book, pieces: Sequence[Piece], set_up: SetUp | None) -> list[str]:
    found = [f"{len(pieces)} pieces, both halves: {', '.join(piece.label for piece in pieces)}"]
    if set_up is not None:
        each = set_up.side_by_side * set_up.in_line
        number = -(-len(pieces) // each)
        found.append(f"{number * set_up.clamps} × {set_up.name}, spacers top and bottom")
        if dummies := -len(pieces) % set_up.side_by_side:
            found.append(f"{dummies} dummy piece{'s' if dummies > 1 else ''} of the same height")
    unprepared = [piece.label for piece in pieces if piece.prepped_utc is None]
    if unprepared and book.trial.prep:
        found.append(f"surface prep not ticked on {', '.join(unprepared[:4])}: {book.trial.prep}")
    return found


def _view_piece(book: Book, piece: Piece, open_time_s: float | None, asked_n: float | None) -> RunPiece:
    treatment = book.treatments[piece.treatment_id]
    words = _spread_words(book, piece)
    stamps = {GlueStep.SPREAD: piece.spread_utc, GlueStep.CLOSED: piece.closed_utc, GlueStep.CLAMPED: piece.clamped_utc}
    done = [step for step, at in stamps.items() if at is not None]
    waits, coats = find_waits(words), book.coats.get(piece.id, ())
    if len(coats) == len(waits) or done:
        done.insert(0, GlueStep.COAT)
    waiting = [step for step in GlueStep if step not in done and not (step is GlueStep.SPREAD and piece.closed_utc)]
    due = None
    if coats and piece.spread_utc is None and len(coats) <= len(waits):
        last = datetime.fromisoformat(coats[-1].at_utc)
        due = to_text(last + timedelta(seconds=waits[len(coats) - 1]))
    return RunPiece(
        id=piece.id,
        label=piece.label,
        set=treatment.name,
        spread=words,
        waits_s=list(waits),
        coats_utc=[one.at_utc for one in coats],
        coat_due_utc=due,
        done=[step for step in done if step is not GlueStep.COAT or waits],
        next=waiting[0] if waiting and GlueStep.CLAMPED not in done else None,
        spread_utc=piece.spread_utc,
        closed_utc=piece.closed_utc,
        open_s=book.each(open_seconds)[piece.id],
        late=is_late(book, piece, open_time_s),
        deviation=piece.deviation,
        asked_n=asked_n,
        clamp_peak_n=piece.clamp_peak_n,
        clamp_settled_n=piece.clamp_settled_n,
    )


def _spread_words(book: Book, piece: Piece) -> str:
    level = book.level_of(book.treatments[piece.treatment_id], Factor.SPREAD)
    return level.name if level else book.trial.spread


def find_coat_waits(book: Book, piece: Piece) -> list[tuple[float, float]]:
    """Return how long each coat of a piece really soaked in and by plan, s; only where the next one is recorded."""
    coats = [datetime.fromisoformat(one.at_utc) for one in book.coats.get(piece.id, ())]
    if not coats:
        return []
    spread = parse_time(piece.spread_utc)
    ends = [*coats[1:], *([spread] if spread else [])]
    waits = find_waits(_spread_words(book, piece))
    return [((end - begin).total_seconds(), wait) for begin, end, wait in zip(coats, ends, waits, strict=False)]


def open_seconds(_: Book, piece: Piece) -> float | None:
    """Return how long glue lay open on a piece, from spreading to closing; None where one is not recorded."""
    spread, closed = parse_time(piece.spread_utc), parse_time(piece.closed_utc)
    return None if spread is None or closed is None else (closed - spread).total_seconds()


def is_late(book: Book, piece: Piece, open_time_s: float | None) -> bool:
    """Return whether a piece was closed after its glue's open time."""
    lay = book.each(open_seconds)[piece.id]
    return lay is not None and open_time_s is not None and lay > open_time_s


def _mind(batch: Batch, open_time_s: float | None, coldest_c: float | None) -> list[str]:
    found = []
    if open_time_s is not None:
        found.append(f"{batch.glue} stays open {show_duration(open_time_s)}: spread, close, into the clamp.")
    if coldest_c is not None and batch.shop_temperature_c is not None and batch.shop_temperature_c < coldest_c:
        found.append(f"The shop is colder ({batch.shop_temperature_typed}) than {batch.glue} is made for.")
    return found


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
        book = read_book(connection, trial_id)
        moment = check_moment(at_utc, file.clock(), "at_utc") if at_utc else file.clock()
        for piece in require_pieces(book, piece_ids):
            if step == GlueStep.COAT:
                _check_coat(book, piece)
                number = len(book.coats.get(piece.id, ())) + 1
                insert(connection, "coat", {"piece_id": piece.id, "number": number, "at_utc": to_text(moment)})
                continue
            _check_step(piece, GlueStep(step), moment)
            amend(connection, "piece", piece.id, {f"{step}_utc": to_text(moment)})


def _check_coat(book: Book, piece: Piece) -> None:
    if piece.batch_id is None:
        raise StateError(f"{piece.label} is in no glue-up.", "Make a glue-up with it first.")
    if piece.spread_utc is not None:
        raise StateError(f"{piece.label} has its last coat already.", "The coats that soak in come before it.")
    waits = find_waits(_spread_words(book, piece))
    if len(book.coats.get(piece.id, ())) >= len(waits):
        raise StateError(
            f"{piece.label} has every coat that soaks in.",
            f"Its plan says “{_spread_words(book, piece)}”.",
            "Spread it.",
        )


def _check_step(piece: Piece, step: GlueStep, moment: datetime) -> None:
    if piece.batch_id is None:
        raise StateError(f"{piece.label} is in no glue-up.", "Make a glue-up with it first.")
    if step is GlueStep.SPREAD and (piece.spread_utc or piece.closed_utc):
        raise StateError(f"{piece.label} has its glue already.", "Glue is spread once; undo it if it was a slip.")
    if step is GlueStep.CLOSED:
        if piece.closed_utc is not None:
            raise StateError(f"{piece.label} is closed already.", "Parts are closed once.")
        spread = parse_time(piece.spread_utc)
        if spread is None:
            raise StateError(f"No glue is recorded on {piece.label} yet.", "Parts are closed after the glue is spread.")
        if moment < spread:
            raise EntryError(f"{piece.label} was spread after that.", "Closing comes later.", field="at_utc")


def mark_prepared(file: ShopFile, trial_id: int, piece_ids: Sequence[int], *, done: bool = True) -> None:
    """Record that faces are prepared now (freshly planed counts), or take it back until they are glued."""
    with file.changing("Prepared faces" if done else "Took back prepared faces", trial_id) as connection:
        book = read_book(connection, trial_id)
        for piece in require_pieces(book, piece_ids):
            if piece.spread_utc or piece.closed_utc:
                raise StateError(f"{piece.label} is glued already.", "Its faces were prepared before.")
            amend(connection, "piece", piece.id, {"prepped_utc": file.now() if done else None})


def mix_now(file: ShopFile, trial_id: int, batch_id: int) -> None:
    """Start the pot-life clock of a glue-up."""
    with file.changing("Mixed the glue", trial_id) as connection:
        batch = _require_batch(read_book(connection, trial_id), batch_id)
        if batch.mixed_utc is not None:
            raise StateError("This glue is mixed already.", "A fresh mix is a new glue-up.")
        amend(connection, "batch", batch_id, {"mixed_utc": file.now()})


def edit_batch(file: ShopFile, trial_id: int, batch_id: int, field: str, was: str, typed: str) -> None:
    """Set `who` glued, or how much glue was `spread` (weighed). Raises `StaleEdit`, `EntryError`."""
    with file.changing("Wrote on a glue-up", trial_id) as connection:
        batch = _require_batch(read_book(connection, trial_id), batch_id)
        if field not in ("who", "spread"):
            raise EntryError(f"A glue-up has no “{field}”.", field=field)
        require_unchanged(
            "who glued" if field == "who" else "the glue weighed", batch.who if field == "who" else batch.spread_typed,
            was, field,
        )  # fmt: skip
        if field == "who":
            amend(connection, "batch", batch_id, {"who": typed.strip()[:80]})
        elif not typed.strip():
            amend(connection, "batch", batch_id, {"spread_g": None, "spread_typed": ""})
        else:
            unit = read_units(connection).default_for(Kind.MASS)
            value = parse_quantity(typed, Kind.MASS, unit, Bounds(highest=1e5), field="spread")
            amend(connection, "batch", batch_id, {"spread_g": value.si, "spread_typed": value.typed})


def keep_clamp_force(file: ShopFile, hub: RigHub, trial_id: int, piece_ids: Sequence[int], rig_id: int) -> None:
    """Keep the force that a load cell in the clamp shows now as settled, with its peak of the last minutes.

    Raises
    ------
    RigError : the rig is not connected or gives no readings. StateError : a piece is in no clamp.
    """
    peak, settled = hub.read_clamp(rig_id)
    with file.changing("Kept a clamp force", trial_id) as connection:
        book = read_book(connection, trial_id)
        for piece in require_pieces(book, piece_ids):
            if piece.closed_utc is None or piece.released_utc is not None:
                raise StateError(f"{piece.label} is not in a clamp.", "The force is that on a closed piece.")
            amend(connection, "piece", piece.id, {"clamp_peak_n": peak, "clamp_settled_n": settled})


def add_batch_photo(file: ShopFile, trial_id: int, batch_id: int, content: bytes) -> int:
    """Put a photo beside a glue-up; return its id. Raises `EntryError` for no picture."""
    jpeg = shrink_photo(content)
    with file.changing("Added a photo of a glue-up", trial_id) as connection:
        batch = _require_batch(read_book(connection, trial_id), batch_id)
        photo_id = insert(connection, "photo", {"jpeg": jpeg, "added_utc": file.now()})
        amend(connection, "batch", batch.id, {"photo_id": photo_id})
        return photo_id


def note_deviation(file: ShopFile, trial_id: int, piece_id: int, was: str, words: str) -> None:
    """Write what went otherwise with a piece: slid, clamped again, squeezed dry, dropped, wrong face."""
    with file.changing("Noted what went otherwise", trial_id) as connection:
        piece = read_book(connection, trial_id).piece(piece_id)
        require_unchanged(f"what is noted of {piece.label}", piece.deviation, was, "deviation")
        amend(connection, "piece", piece_id, {"deviation": words.strip()[:300]})
