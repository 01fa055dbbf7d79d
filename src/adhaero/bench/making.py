"""The stations Saw, Glue and Cure: labels, glue-ups with their real times, measured sizes."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from functools import lru_cache
from statistics import fmean

from adhaero.bench.book import END_OF_TIME, Book, parse_time, read_book
from adhaero.bench.climate import AirOf, find_air
from adhaero.bench.guards import require_unchanged
from adhaero.bench.measuring import find_area, say_off_plan, split_readings
from adhaero.bench.mistakes import say_balance_now
from adhaero.bench.moments import check_moment
from adhaero.bench.shop import check_family
from adhaero.bench.standing import find_next_glue_up
from adhaero.bench.stock import read_units
from adhaero.bench.supplies import read_supplies
from adhaero.core.errors import EntryError, NotThere, StateError
from adhaero.core.glue import GlueFamily, caution_for
from adhaero.core.pieces import PieceState
from adhaero.core.plan.clamping import compute_line_force
from adhaero.core.plan.confounds import Dealt, find_confounds
from adhaero.core.plan.fields import QUANTITIES
from adhaero.core.plan.stays import STAYS
from adhaero.core.quantity import Bounds, Kind, parse_quantity, show_duration
from adhaero.store.file import ShopFile, to_text
from adhaero.store.making import list_climate_logs
from adhaero.store.pieces import (
    Batch,
    Piece,
    fetch_piece,
    find_label,
)
from adhaero.store.rows import Connection, amend, insert
from adhaero.store.shop import find_glue, list_glues
from adhaero.store.timetables import list_tasks


@dataclass(frozen=True)
class MakingPiece:
    """One piece in the making; times UTC, sizes mm, force N; when it is due stands there only while it waits."""

    id: int
    label: str
    set: str
    board: str
    state: PieceState
    solid: bool
    glue_turn: int
    break_turn: int
    batch: int | None
    prepped_utc: str | None
    spread_utc: str | None
    closed_utc: str | None
    clamped_utc: str | None
    release_due_utc: str | None
    released_utc: str | None
    ready_utc: str | None
    clamped_s: float | None
    planned_clamp_s: float | None
    glue: str
    glued_area_mm2: float | None
    area_as_measured: bool
    clamp_force_n: float | None
    measured: dict[str, str]
    off_plan: list[str]
    void_reason: str | None
    deviation: str
    words: str


@dataclass(frozen=True)
class SizeColumn:
    """A size that is measured on each piece."""

    name: str
    words: str
    planned_mm: float | None


@dataclass(frozen=True)
class SetChoice:
    """A set that a piece can be moved to."""

    id: int
    name: str
    solid: bool


@dataclass(frozen=True)
class MakingView:
    """Everything that the making stations show."""

    pieces: list[MakingPiece]
    batches: list[Batch]
    sizes: list[SizeColumn]
    cautions: dict[str, str]
    confounds: list[str]
    balance: str | None
    sets: list[SetChoice]
    glues: list[str]
    next_glue_up: list[int]
    air: list[AirOf]


def view_making(file: ShopFile, trial_id: int) -> MakingView:
    """Return the pieces of a trial in the making."""
    with file.reading() as connection:
        book = read_book(connection, trial_id)
        shelf, tasks = list_glues(connection), list_tasks(connection, trial_id)
        logs, supplies = list_climate_logs(connection), read_supplies(connection)
    now = file.clock()
    families = {glue.name: GlueFamily(glue.family) for glue in shelf}
    used = {glue_of(book, piece) for piece in book.pieces.values()}
    return MakingView(
        pieces=_view_pieces(book, now),
        batches=list(book.batches.values()),
        sizes=[SizeColumn(name, QUANTITIES[name].words, book.planned_sizes.get(name)) for name in book.measured_names],
        cautions={name: caution_for(families[name]) for name in sorted(used) if name in families},
        confounds=_find_confounds(book),
        balance=say_balance_now(book) if book.pieces else None,
        sets=[SetChoice(one.id, one.name, one.solid) for one in book.sets],
        glues=[glue.name for glue in shelf],
        next_glue_up=list(find_next_glue_up(book, tasks)),
        air=find_air(book, logs, supplies, now),
    )


_TIMELESS = frozenset({PieceState.PLANNED, PieceState.SAWN, PieceState.BROKEN, PieceState.VOID})


def _view_timeless(book: Book, piece: Piece) -> MakingPiece | None:
    """Return a piece whose looks do not change with the time of day, None where they do."""
    return _view_piece(book, piece, END_OF_TIME) if book.state_of(piece, END_OF_TIME) in _TIMELESS else None


def _view_pieces(book: Book, now: datetime) -> list[MakingPiece]:
    timeless = book.each(_view_timeless)
    return [timeless[piece.id] or _view_piece(book, piece, now) for piece in book.pieces.values()]


@lru_cache(maxsize=8)
def _find_confounds(book: Book) -> list[str]:
    standing = [piece for piece in book.pieces.values() if not piece.void_reason]
    made = book.each(_deal_unbroken)
    return list(
        find_confounds([made[piece.id] for piece in standing], [book.clamp_rounds.get(piece.id) for piece in standing])
    )


def _deal_unbroken(book: Book, piece: Piece) -> Dealt:
    """Return what could make a piece strong or weak before it is broken."""
    return replace(book.dealt(piece), break_turn=None)


def glue_of(book: Book, piece: Piece) -> str:
    """Return the glue that the plan asks for on a piece; empty for a solid one or when none is written down."""
    return book.glue_of(book.treatments[piece.treatment_id])


def _view_piece(book: Book, piece: Piece, now: datetime) -> MakingPiece:
    treatment = book.treatments[piece.treatment_id]
    measured = book.measurements.get(piece.id, {})
    life = book.life_of(piece)
    area = find_area(book, piece)
    pressure = book.quantity_of(treatment, "clamp_pressure_mpa")
    solid = bool(treatment.solid)
    state = book.state_of(piece, now)
    due = book.release_due(piece) if state is PieceState.CLAMPED else None
    ready = book.ready_at(piece) if state is PieceState.CURING else None
    return MakingPiece(
        id=piece.id,
        label=piece.label,
        set=treatment.name,
        board=book.boards[piece.board_id].name,
        state=state,
        solid=solid,
        glue_turn=piece.glue_turn,
        break_turn=piece.break_turn,
        batch=piece.batch_id,
        prepped_utc=piece.prepped_utc,
        spread_utc=piece.spread_utc,
        closed_utc=piece.closed_utc,
        clamped_utc=piece.clamped_utc,
        release_due_utc=to_text(due) if due else None,
        released_utc=piece.released_utc,
        ready_utc=to_text(ready) if ready else None,
        clamped_s=life.clamped_s,
        planned_clamp_s=life.clamp_time_s,
        glue=glue_of(book, piece),
        glued_area_mm2=None if solid else area,
        area_as_measured=bool(measured),
        clamp_force_n=None if solid or area is None or pressure is None else compute_line_force(pressure, area),
        measured={name: row.typed for name, row in measured.items()},
        off_plan=say_off_plan(book, piece),
        void_reason=piece.void_reason,
        deviation=piece.deviation,
        words=_say_stay(book, piece, ready, now) or _say_state(state, solid, life.closed_at, due, ready, now),
    )


def _say_stay(book: Book, piece: Piece, ready: datetime | None, now: datetime) -> str | None:
    """Return in what a piece is now, in words; None where it is in nothing."""
    inside = next((one for one in book.stages.get(piece.id, ()) if one.ended_utc is None), None)
    if inside is None:
        return None
    if ready is None:
        return STAYS[inside.kind]
    left = (ready - now).total_seconds()
    return (
        f"{STAYS[inside.kind]}, {show_duration(left)} left"
        if left > 0
        else f"{STAYS[inside.kind]}, {show_duration(-left)} over"
    )


def _say_state(
    state: PieceState,
    solid: bool,
    closed: datetime | None,
    due: datetime | None,
    ready: datetime | None,
    now: datetime,
) -> str:
    if state is PieceState.VOID:
        return "void"
    if state is PieceState.PLANNED:
        return "to be sawn"
    if state is PieceState.SAWN:
        return "to be glued"
    if state is PieceState.CLAMPED:
        if due is None:
            return "in clamps, no clamp time planned"
        left = (due - now).total_seconds()
        return f"in clamps, {show_duration(left)} left" if left > 0 else f"clamps {show_duration(-left)} over"
    if state is PieceState.CURING and (ready is None or ready <= now):
        return "cured, to be put in"
    if state is PieceState.CURING and ready is not None:
        return f"curing, ready in {show_duration((ready - now).total_seconds())}"
    if state is PieceState.READY:
        age = show_duration((now - closed).total_seconds()) if closed else ""
        return "ready to break" if solid or not age else f"ready to break, {age} old"
    return "broken"


def require_pieces(book: Book, piece_ids: Sequence[int]) -> list[Piece]:
    """Return pieces by their ids, each with its other half where both are one bar until it is sawn apart.

    Raises
    ------
    EntryError : none is chosen. NotThere : one is of another trial.
    """
    if not piece_ids:
        raise EntryError("No piece is chosen.", "Choose at least one.", field="pieces")
    chosen = {piece_id: book.piece(piece_id) for piece_id in piece_ids}
    bars = {piece.pair for piece in chosen.values() if piece.pair is not None} if book.trial.matched == "halves" else ()
    for piece in book.pieces.values():
        if piece.pair in bars and piece.pair is not None and piece.void_reason is None:
            chosen.setdefault(piece.id, piece)
    return list(chosen.values())


def mark_sawn(file: ShopFile, trial_id: int, piece_ids: Sequence[int], *, sawn: bool = True) -> None:
    """Tick pieces as sawn and labelled, or take the tick back while they are not glued."""
    with file.changing("Ticked pieces as sawn" if sawn else "Took back ticks at the saw", trial_id) as connection:
        book = read_book(connection, trial_id)
        for piece in require_pieces(book, piece_ids):
            if not sawn and (piece.closed_utc or book.pulls.get(piece.id)):
                raise StateError(f"{piece.label} is glued or loaded already.", "It must have been sawn.")
            amend(connection, "piece", piece.id, {"sawn_utc": file.now() if sawn else None})


def relabel(file: ShopFile, trial_id: int, piece_id: int, was: str, label: str) -> None:
    """Give a piece another label; raises `EntryError` for one that stands already, `StaleEdit` if it is not `was`."""
    text = label.strip()
    with file.changing(f"Relabelled a piece as {text}", trial_id) as connection:
        piece = read_book(connection, trial_id).piece(piece_id)
        require_unchanged("the label", piece.label, was, "label")
        if not 1 <= len(text) <= 20:
            raise EntryError(
                "The label is empty." if not text else "The label is too long.", "Up to 20 letters fit.", field="label"
            )
        other = find_label(connection, trial_id, text)
        if other is not None and other.id != piece.id:
            raise EntryError(
                f"Another piece is labelled {text}.",
                "Two pieces never share a label.",
                "Choose another.",
                field="label",
            )
        amend(connection, "piece", piece.id, {"label": text})


@dataclass(frozen=True)
class GlueUpEntry:
    """A glue-up as typed."""

    piece_ids: Sequence[int]
    glue: str
    family: str = ""
    opened_on: str | None = None
    lot: str = ""
    kept: str = ""
    shop_temperature: str = ""
    humidity: str = ""
    wood_moisture: str = ""
    started_utc: str | None = None
    note: str = ""


def start_batch(file: ShopFile, trial_id: int, entry: GlueUpEntry) -> int:
    """Make a glue-up from chosen pieces; their clamps go on with `put_clamps_on`.

    Raises
    ------
    EntryError : no piece or no glue, or a number that cannot be read.
    StateError : a piece is solid, void, not sawn, or glued already, or the plan asks for another glue.
    """
    with file.changing("Made a glue-up", trial_id) as connection:
        book = read_book(connection, trial_id)
        name = entry.glue.strip()
        if not name:
            raise EntryError("No glue is named.", "Expected what is in the bottle.", field="glue")
        pieces = require_pieces(book, entry.piece_ids)
        for piece in pieces:
            _check_gluable(book, piece, name, file.clock())
        on_shelf = find_glue(connection, name)
        family = entry.family or (on_shelf.family if on_shelf else "")
        started = check_moment(entry.started_utc, file.clock(), "started_utc") if entry.started_utc else file.clock()
        batch_id = insert(
            connection,
            "batch",
            {
                "trial_id": trial_id,
                "number": max((batch.number for batch in book.batches.values()), default=0) + 1,
                "glue": on_shelf.name if on_shelf else name,
                "glue_family": check_family(family),
                "glue_opened_on": entry.opened_on or (on_shelf.opened_on if on_shelf else None),
                "glue_lot": entry.lot.strip() or (on_shelf.lot if on_shelf else ""),
                "glue_kept": entry.kept.strip() or (on_shelf.kept if on_shelf else ""),
                "started_utc": to_text(started),
                "note": entry.note.strip(),
                **_read_climate(connection, entry),
            },
        )
        for piece in pieces:
            amend(connection, "piece", piece.id, {"batch_id": batch_id})
        return batch_id


def _check_gluable(book: Book, piece: Piece, glue: str, now: datetime) -> None:
    state = book.state_of(piece, now)
    if book.treatments[piece.treatment_id].solid:
        raise StateError(f"{piece.label} is solid wood.", "It has no joint to glue.", "Leave it out.")
    if piece.batch_id is not None:
        raise StateError(f"{piece.label} is in another glue-up already.", "A piece is glued once.", "Leave it out.")
    if state is not PieceState.SAWN:
        reason = "is void" if state is PieceState.VOID else "is not sawn and labelled yet"
        raise StateError(
            f"{piece.label} {reason}.", "Only sawn pieces can be glued.", "Tick it at the saw, or leave it out."
        )
    planned = glue_of(book, piece)
    if planned and planned.lower() != glue.lower():
        raise StateError(
            f"{piece.label} is planned with {planned}, not {glue}.",
            "One glue-up takes one glue.",
            "Leave it out, or change the glue.",
        )


def _read_climate(connection: Connection, entry: GlueUpEntry) -> dict[str, float | str | None]:
    """Read the air and the wood; of several readings, with semicolons between, the mean counts."""
    units = read_units(connection)
    readings = (
        ("shop_temperature", "shop_temperature_c", entry.shop_temperature, Kind.TEMPERATURE, Bounds(-40, 60)),
        ("humidity", "humidity_pct", entry.humidity, Kind.PERCENT, Bounds(0, 100, zero_allowed=True)),
        ("wood_moisture", "wood_moisture_pct", entry.wood_moisture, Kind.PERCENT, Bounds(0, 100, zero_allowed=True)),
    )
    values: dict[str, float | str | None] = {}
    for field, column, typed, kind, bounds in readings:
        read = [
            parse_quantity(one, kind, units.default_for(kind), bounds, field=field) for one in split_readings(typed)
        ]
        if read:
            mean = fmean(one.si for one in read)
            values |= {column: mean, f"{field}_typed": "; ".join(one.typed for one in read)}
    return values


def put_clamps_on(file: ShopFile, trial_id: int, piece_ids: Sequence[int], at_utc: str | None = None) -> None:
    """Record that pieces are in their clamps, now or at a time before; closed then too if that was not recorded.

    Raises
    ------
    StateError : in no glue-up, in clamps already, or glue was recorded on others of its glue-up but not on it.
    """
    with file.changing("Clamps on", trial_id) as connection:
        book = read_book(connection, trial_id)
        moment = check_moment(at_utc, file.clock(), "at_utc") if at_utc else file.clock()
        for piece in require_pieces(book, piece_ids):
            if piece.batch_id is None:
                raise StateError(
                    f"{piece.label} is in no glue-up.", "Glue comes before clamps.", "Make a glue-up with it first."
                )
            if piece.clamped_utc is not None:
                raise StateError(f"{piece.label} is in clamps already.", "Clamps go on once.")
            others = [one for one in book.pieces.values() if one.batch_id == piece.batch_id]
            if piece.spread_utc is None and any(one.spread_utc for one in others):
                raise StateError(
                    f"No glue is recorded on {piece.label} yet.",
                    "Clamps go on after the glue is spread.",
                    "Press Spread for it first.",
                )
            for before in (piece.spread_utc, piece.closed_utc):
                if before is not None and moment < datetime.fromisoformat(before):
                    raise EntryError(
                        f"{piece.label} was spread or closed after that.", "Clamps come last.", field="at_utc"
                    )
            values = {"closed_utc": piece.closed_utc or to_text(moment), "clamped_utc": to_text(moment)}
            amend(connection, "piece", piece.id, values)


def take_clamps_off(file: ShopFile, trial_id: int, piece_ids: Sequence[int], at_utc: str | None = None) -> None:
    """Record that clamps came off, now or at a time before; the real clamp time follows from it."""
    with file.changing("Clamps off", trial_id) as connection:
        book = read_book(connection, trial_id)
        moment = check_moment(at_utc, file.clock(), "at_utc") if at_utc else file.clock()
        for piece in require_pieces(book, piece_ids):
            clamped = parse_time(piece.clamped_utc)
            if clamped is None or piece.released_utc is not None:
                raise StateError(f"{piece.label} is not in clamps.", "Only clamps that are on can come off.")
            if moment < clamped:
                raise EntryError(
                    f"{piece.label} was closed after that.", "Clamps come off after they went on.", field="at_utc"
                )
            amend(connection, "piece", piece.id, {"released_utc": to_text(moment)})


def note_batch(file: ShopFile, trial_id: int, batch_id: int, was: str, note: str) -> None:
    """Write the note of a glue-up."""
    with file.changing("Wrote a note on a glue-up", trial_id) as connection:
        batch = read_book(connection, trial_id).batches.get(batch_id)
        if batch is None:
            raise NotThere(f"There is no glue-up {batch_id} in this trial.")
        require_unchanged("the note", batch.note, was, "note")
        amend(connection, "batch", batch_id, {"note": note.strip()[:1000]})


def void_piece(file: ShopFile, trial_id: int, piece_id: int, reason: str) -> None:
    """Take a piece out before it was ever loaded, with a reason."""
    text = reason.strip()
    with file.changing("Voided a piece", trial_id) as connection:
        book = read_book(connection, trial_id)
        piece = book.piece(piece_id)
        if not text:
            raise EntryError("No reason is given.", "A void piece says why.", "Write what happened.", field="reason")
        if book.pulls.get(piece_id):
            raise StateError(
                f"{piece.label} has been loaded.",
                "Only a piece that was never loaded can be void.",
                "Set it aside in Compare instead.",
            )
        amend(connection, "piece", piece_id, {"void_reason": text[:300]})


def unvoid_piece(file: ShopFile, trial_id: int, piece_id: int) -> None:
    """Put a void piece back."""
    with file.changing("Put a void piece back", trial_id) as connection:
        piece = fetch_piece(connection, piece_id)
        if piece is None or piece.trial_id != trial_id:
            raise NotThere(f"There is no piece {piece_id} in this trial.")
        amend(connection, "piece", piece_id, {"void_reason": None})
