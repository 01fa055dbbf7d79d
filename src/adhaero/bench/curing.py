"""Between clamps and test: what pieces go through, what every piece must have had, and what else is read off it."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from adhaero.bench.book import END_OF_TIME, Book, parse_time, read_book
from adhaero.bench.guards import require_unchanged
from adhaero.bench.making import require_pieces
from adhaero.bench.measuring import find_area_give
from adhaero.bench.moments import check_moment
from adhaero.bench.panels import PullDates, list_pull_dates
from adhaero.bench.stock import read_units
from adhaero.core.errors import EntryError, NotThere, StateError
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.pieces import PieceState, find_cured_at
from adhaero.core.plan.stays import STAYS, Stay
from adhaero.core.quantity import Bounds, Kind, parse_quantity
from adhaero.store.file import ShopFile, to_text
from adhaero.store.making import Stage, delete_reading, put_reading
from adhaero.store.pieces import Piece
from adhaero.store.rows import amend, delete, insert

TESTED_AS = {"": "not noted", "dry": "dry", "wet": "wet", "redried": "dried again"}
READINGS = {
    "mass_before_g": ("mass before", Kind.MASS, Bounds(highest=1e6)),
    "mass_after_g": ("mass after", Kind.MASS, Bounds(highest=1e6)),
    "moisture_before_pct": ("moisture before", Kind.PERCENT, Bounds(highest=300, zero_allowed=True)),
    "moisture_after_pct": ("moisture after", Kind.PERCENT, Bounds(highest=300, zero_allowed=True)),
    "gap_mm": ("gap as measured", Kind.LENGTH, Bounds(highest=50, zero_allowed=True)),
}


@dataclass(frozen=True)
class StageView:
    """A stage of a piece; `due_utc` when it ends by plan."""

    id: int
    kind: str
    words: str
    planned_s: float | None
    begun_utc: str
    due_utc: str | None
    ended_utc: str | None
    cycles: int
    note: str


@dataclass(frozen=True)
class CheckView:
    """Something that every piece must have had before the test, and when this one had it."""

    words: str
    done_utc: str | None


@dataclass(frozen=True)
class CuringPiece:
    """One piece between clamps and test.

    Attributes
    ----------
    stay : what the plan sends it through, None for nothing. waits_for_stay : it could be put in now.
    area_give_mm2 : standard uncertainty of its glued area, None where it is not measured.
    """

    id: int
    label: str
    set: str
    state: str
    stay: Stay | None
    waits_for_stay: bool
    stages: list[StageView]
    checks: list[CheckView]
    readings: dict[str, str]
    area_give_mm2: float | None
    tested_as: str


@dataclass(frozen=True)
class CuringView:
    """Everything that stands between clamps and test, over a trial."""

    pieces: list[CuringPiece]
    stays: dict[str, str]
    states: dict[str, str]
    reading_names: dict[str, str]
    pulls: PullDates


def view_curing(file: ShopFile, trial_id: int) -> CuringView:
    """Return what the pieces of a trial go through before the test."""
    now = file.clock()
    with file.reading() as connection:
        book = read_book(connection, trial_id)
    standing = [piece for piece in book.pieces.values() if piece.void_reason is None]
    return CuringView(
        pieces=[_view_piece(book, piece, now) for piece in standing],
        stays=dict(STAYS),
        states=TESTED_AS,
        reading_names={name: words for name, (words, _, _) in READINGS.items()},
        pulls=list_pull_dates(book),
    )


def _view_piece(book: Book, piece: Piece, now: datetime) -> CuringPiece:
    state, view = book.state_of(piece, now), book.each(_view_lasting)[piece.id]
    if state is not PieceState.CURING:
        return view if view.state == state else replace(view, state=state)
    life, cured = book.life_of(piece), find_cured_at(book.life_of(piece))
    return replace(view, state=state, waits_for_stay=life.to_go_in and (cured is None or cured <= now))


def _view_lasting(book: Book, piece: Piece) -> CuringPiece:
    """Return a piece as it will look when all its times have passed."""
    return CuringPiece(
        id=piece.id,
        label=piece.label,
        set=book.treatments[piece.treatment_id].name,
        state=book.state_of(piece, END_OF_TIME),
        stay=book.stay_of(piece),
        waits_for_stay=False,
        stages=view_stages(book, piece),
        checks=list_checks(book, piece),
        readings={one.name: one.typed for one in book.readings.get(piece.id, ())},
        area_give_mm2=find_area_give(book, piece),
        tested_as=piece.tested_as,
    )


def view_stages(book: Book, piece: Piece) -> list[StageView]:
    """Return the stages of a piece, oldest first."""
    return [_view_stage(one) for one in book.stages.get(piece.id, ())]


def _view_stage(one: Stage) -> StageView:
    begun = parse_time(one.begun_utc)
    due = None if begun is None or one.planned_s is None else to_text(begun + timedelta(seconds=one.planned_s))
    return StageView(
        one.id, one.kind, STAYS[one.kind], one.planned_s, one.begun_utc, due, one.ended_utc, one.cycles, one.note
    )


def list_checks(book: Book, piece: Piece) -> list[CheckView]:
    """Return what a piece must have had before the test: work after glue-up by the plan, then the fixture's list."""
    done = {one.words: one.done_utc for one in book.ticks.get(piece.id, ())}
    solid = book.treatments[piece.treatment_id].solid
    words = [step.words for step in book.steps if step.turn == "after" and not solid]
    words += FIXTURES[book.fixture].checks(solid=solid)
    return [CheckView(one, done.get(one)) for one in words]


def put_in(
    file: ShopFile,
    trial_id: int,
    piece_ids: Sequence[int],
    kind: str,
    planned: str = "",
    note: str = "",
    at_utc: str | None = None,
) -> None:
    """Record that pieces went into water, outdoors, a freezer, an oven, now or at a time before.

    Raises
    ------
    EntryError : no such kind, or a time that cannot be read. StateError : in clamps, broken, or in something already.
    """
    if kind not in STAYS:
        raise EntryError(f"“{kind}” is not known here.", f"Choose one of {', '.join(STAYS)}.", field="kind")
    with file.changing(f"Put {len(piece_ids)} pieces {STAYS[kind]}", trial_id) as connection:
        book = read_book(connection, trial_id)
        moment = check_moment(at_utc, file.clock(), "at_utc") if at_utc else file.clock()
        seconds = None
        if planned.strip():
            seconds = parse_quantity(planned, Kind.TIME, bounds=Bounds(highest=1e10), field="planned").si
        for piece in require_pieces(book, piece_ids):
            life = book.life_of(piece)
            if book.result_of(piece) is not None or piece.void_reason is not None:
                raise StateError(f"{piece.label} is broken or void.", "Only standing pieces go through something.")
            if not life.solid and (life.released_at is None or moment < life.released_at):
                raise StateError(f"{piece.label} is not out of its clamps by then.", "Cure comes first.")
            if any(one.ended_utc is None for one in book.stages.get(piece.id, ())):
                raise StateError(f"{piece.label} is in something already.", "Take it out first.")
            values = {"piece_id": piece.id, "kind": kind, "planned_s": seconds, "begun_utc": to_text(moment)}
            insert(connection, "stage", {**values, "note": note.strip()[:300]})


def take_out(file: ShopFile, trial_id: int, piece_ids: Sequence[int], at_utc: str | None = None) -> None:
    """Record that pieces came out of what they were in. Raises `StateError` for one that is in nothing."""
    with file.changing(f"Took {len(piece_ids)} pieces out", trial_id) as connection:
        book = read_book(connection, trial_id)
        moment = check_moment(at_utc, file.clock(), "at_utc") if at_utc else file.clock()
        for piece in require_pieces(book, piece_ids):
            stage = _require_open(book, piece)
            begun = parse_time(stage.begun_utc)
            if begun is not None and moment < begun:
                raise EntryError(f"{piece.label} went in after that.", "It comes out later.", field="at_utc")
            amend(connection, "stage", stage.id, {"ended_utc": to_text(moment)})


def count_cycle(file: ShopFile, trial_id: int, piece_ids: Sequence[int]) -> None:
    """Count one more cycle of freezing and thawing, or of whatever the pieces are in."""
    with file.changing("Counted a cycle", trial_id) as connection:
        book = read_book(connection, trial_id)
        for piece in require_pieces(book, piece_ids):
            stage = _require_open(book, piece)
            amend(connection, "stage", stage.id, {"cycles": stage.cycles + 1})


def _require_open(book: Book, piece: Piece) -> Stage:
    for one in book.stages.get(piece.id, ()):
        if one.ended_utc is None:
            return one
    raise StateError(f"{piece.label} is in nothing.", "Only what went in can come out.", "Put it in first.")


def note_stage(file: ShopFile, trial_id: int, stage_id: int, was: str, note: str) -> None:
    """Write the weather, the temperature of the water or what else belongs to a stage."""
    with file.changing("Wrote a note on a stage", trial_id) as connection:
        book = read_book(connection, trial_id)
        stage = next((one for mine in book.stages.values() for one in mine if one.id == stage_id), None)
        if stage is None:
            raise NotThere(f"There is no stage {stage_id} in this trial.")
        require_unchanged("the note", stage.note, was, "note")
        amend(connection, "stage", stage_id, {"note": note.strip()[:300]})


def set_tested_as(file: ShopFile, trial_id: int, piece_ids: Sequence[int], state: str) -> None:
    """Note in which state pieces are tested: dry, wet, or dried again."""
    if state not in TESTED_AS:
        raise EntryError(
            f"“{state}” is no state.", f"Choose one of {', '.join(filter(None, TESTED_AS))}.", field="state"
        )
    with file.changing("Noted the state at the test", trial_id) as connection:
        book = read_book(connection, trial_id)
        for piece_id in piece_ids:
            amend(connection, "piece", book.piece(piece_id).id, {"tested_as": state})


def tick_check(file: ShopFile, trial_id: int, piece_ids: Sequence[int], words: str, *, done: bool) -> None:
    """Tick what pieces have had before the test, or take the tick back while they are not broken."""
    text = words.strip()[:200]
    with file.changing("Ticked what pieces have had" if done else "Took ticks back", trial_id) as connection:
        book = read_book(connection, trial_id)
        for piece_id in piece_ids:
            piece = book.piece(piece_id)
            tick = next((one for one in book.ticks.get(piece_id, ()) if one.words == text), None)
            if done and tick is None:
                insert(connection, "tick", {"piece_id": piece_id, "words": text, "done_utc": file.now()})
            elif not done and tick is not None:
                if book.result_of(piece) is not None:
                    raise StateError(f"{piece.label} is broken.", "What it had before stays written.")
                delete(connection, "tick", tick.id)


def read_off(file: ShopFile, trial_id: int, piece_id: int, name: str, was: str, typed: str) -> None:
    """Write what is read off a piece besides its sizes: mass, moisture, the gap; empty takes it away.

    Raises
    ------
    EntryError : no such reading, or it cannot be read. StaleEdit : another window wrote it meanwhile.
    """
    if name not in READINGS:
        raise EntryError(f"“{name}” is not read here.", f"Read are: {', '.join(READINGS)}.", field=name)
    words, kind, bounds = READINGS[name]
    with file.changing(f"Noted the {words}", trial_id) as connection:
        book = read_book(connection, trial_id)
        piece = book.piece(piece_id)
        current = next((one.typed for one in book.readings.get(piece_id, ()) if one.name == name), "")
        require_unchanged(f"the {words} of {piece.label}", current, was, name)
        if not typed.strip():
            delete_reading(connection, piece_id, name)
            return
        value = parse_quantity(typed, kind, read_units(connection).default_for(kind), bounds, field=name)
        put_reading(connection, piece_id, name, value.si, value.typed)
