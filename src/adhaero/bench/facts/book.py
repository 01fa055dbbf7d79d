"""Everything that is written of one trial, read at once, with what follows for each piece."""

from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping
from collections.abc import Set as AbstractSet
from contextlib import suppress
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from functools import cached_property
from types import MappingProxyType
from typing import Any, TypeVar

from adhaero.bench.facts.shelf import Shelf
from adhaero.core.errors import EntryError, NotThere
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.fixture import Fixture, compute_strength
from adhaero.core.joint import Joint, compute_glued_area, find_joint
from adhaero.core.pieces import (
    Act,
    PieceLife,
    PieceState,
    Standing,
    find_ready_at,
    find_release_due,
    find_state,
    list_allowed,
    require,
)
from adhaero.core.plan.clamping import find_rounds
from adhaero.core.plan.confounds import Dealt
from adhaero.core.plan.exposures import PlannedExposure, read_exposure
from adhaero.core.plan.fields import FACTORS, Factor, measured_sizes
from adhaero.core.plan.treatments import SetKind
from adhaero.store.connecting import Connection
from adhaero.store.history import Mark, find_mark, list_changed_rows
from adhaero.store.making import Coat, Exposure, Reading, Tick, list_coats, list_exposures, list_readings, list_ticks
from adhaero.store.pieces import (
    Batch,
    Measurement,
    Piece,
    fetch_measurement,
    fetch_piece,
    list_batches,
    list_measurements,
    list_pieces,
)
from adhaero.store.plans import (
    Board,
    FactorRow,
    LevelRow,
    Step,
    Treatment,
    list_boards,
    list_factors,
    list_levels,
    list_scopes,
    list_steps,
    list_treatment_levels,
    list_treatments,
)
from adhaero.store.pulls import Pull, fetch_pull, list_pulls
from adhaero.store.rigs import Rig, list_rigs
from adhaero.store.trials import QuantityRow, Trial, fetch_trial, list_quantities


def parse_time(text: str | None) -> datetime | None:
    """Return a moment of the file; None for none."""
    return None if text is None else datetime.fromisoformat(text)


_LONG_S = 14 * 86_400


END_OF_TIME = datetime.max.replace(tzinfo=UTC)


Made = TypeVar("Made")


@dataclass(frozen=True, eq=False)
class Book:
    """One trial with all its rows. What depends on the time of day is asked with a `now`."""

    trial: Trial
    quantities: Mapping[str, QuantityRow]
    factors: Mapping[int, FactorRow]
    levels: Mapping[int, LevelRow]
    scopes: Mapping[int, frozenset[int]]
    treatments: Mapping[int, Treatment]
    treatment_levels: Mapping[int, tuple[int, ...]]
    boards: Mapping[int, Board]
    pieces: Mapping[int, Piece]
    batches: Mapping[int, Batch]
    measurements: Mapping[int, Mapping[str, Measurement]]
    pulls: Mapping[int, tuple[Pull, ...]]
    coats: Mapping[int, tuple[Coat, ...]]
    exposures: Mapping[int, tuple[Exposure, ...]]
    readings: Mapping[int, tuple[Reading, ...]]
    ticks: Mapping[int, tuple[Tick, ...]]
    steps: tuple[Step, ...]
    rigs: Mapping[int, Rig]

    def each(self, compute: "Callable[[Book, Piece], Made]") -> Mapping[int, Made]:
        """Return what a function makes of every piece, by its id; worked out again where rows of a piece change.

        Parameters
        ----------
        compute : looks at the rows of its piece and at the plan; never at other pieces or at the time of day.
        """
        return self._each.find_or_make(
            compute, lambda: {piece_id: compute(self, piece) for piece_id, piece in self.pieces.items()}
        )

    @cached_property
    def _each(self) -> "Shelf[Callable[[Book, Piece], Any], dict[int, Any]]":
        return Shelf()

    def inherit(self, older: "Book", touched: AbstractSet[int]) -> None:
        """Take over what was worked out for `each` piece of an older book, but for the touched ones."""
        for compute, made in older._each.list_all():
            newer = {piece_id: compute(self, self.pieces[piece_id]) for piece_id in touched}
            self._each.put(compute, made | newer)

    @cached_property
    def joint(self) -> Joint:
        """Return the joint of the trial."""
        return Joint(self.trial.joint)

    @cached_property
    def fixture(self) -> Fixture:
        """Return the fixture of the trial."""
        return Fixture(self.trial.fixture)

    @cached_property
    def sets(self) -> tuple[Treatment, ...]:
        """Return the sets that are made, in order: all but those left out."""
        return tuple(one for one in self.treatments.values() if not one.left_out)

    @cached_property
    def kinds(self) -> Mapping[int, Factor]:
        """Return what each factor is, by its id."""
        return {row.id: Factor(row.kind) for row in self.factors.values()}

    def words_of(self, factor: FactorRow) -> str:
        """Return a factor in words."""
        return factor.name or FACTORS[Factor(factor.kind)].words

    @property
    def factor_words(self) -> str:
        """Return what the trial varies, in words."""
        return " and ".join(self.words_of(one) for one in self.factors.values()) or "nothing yet"

    @cached_property
    def levels_of(self) -> Mapping[int, tuple[LevelRow, ...]]:
        """Return the values that each set is made of, by its id."""
        return {key: tuple(self.levels[one] for one in ids) for key, ids in self.treatment_levels.items()}

    def level_of(self, treatment: Treatment, factor: Factor) -> LevelRow | None:
        """Return a set's value of what is varied, None where that does not vary or the set has none."""
        return next((one for one in self.levels_of.get(treatment.id, ()) if self.kinds[one.factor_id] is factor), None)

    @cached_property
    def ages(self) -> tuple[LevelRow, ...]:
        """Return the ages at the test where they vary, in the order of the plan."""
        return tuple(one for one in self.levels.values() if self.kinds[one.factor_id] is Factor.CURE_TIME)

    @property
    def rig(self) -> Rig | None:
        """Return the rig that the plan counts on: the one chosen, else the shop's only one."""
        if self.trial.rig_id is None:
            return next(iter(self.rigs.values())) if len(self.rigs) == 1 else None
        return self.rigs.get(self.trial.rig_id)

    def name_rig(self, pull: Pull | None) -> str:
        """Return the name of the rig that a pull was recorded on, or that it was typed by hand."""
        rig = self.rigs.get(pull.rig_id or 0) if pull else None
        return rig.name if rig else "by hand"

    @property
    def runs_over_years(self) -> bool:
        """Return whether the age at the test varies, and reaches weeks: then complete sets are pulled as panels."""
        return max((one.value_si or 0.0 for one in self.ages), default=0.0) >= _LONG_S

    @cached_property
    def planned_sizes(self) -> dict[str, float]:
        """Return the planned sizes of every piece and of the rig, mm."""
        return {name: row.si for name, row in self.quantities.items()}

    @cached_property
    def joints(self) -> tuple[Joint, ...]:
        """Return the joints of the trial: one, or those that are compared."""
        joined = [self.joint_of(one) for one in self.sets if not one.solid]
        return tuple(dict.fromkeys(joined)) or (self.joint,)

    def joint_of(self, treatment: Treatment) -> Joint:
        """Return the joint of a set."""
        return self._joint_of[treatment.id]

    @cached_property
    def _joint_of(self) -> Mapping[int, Joint]:
        levels = {one.id: self.level_of(one, Factor.JOINT) for one in self.treatments.values()}
        return {key: find_joint(level.name) if level else self.joint for key, level in levels.items()}

    @cached_property
    def measured_names(self) -> tuple[str, ...]:
        """Return the sizes that are measured on each piece: those that its strength is computed from."""
        return tuple(dict.fromkeys(name for joint in self.joints for name in measured_sizes(joint, self.fixture)))

    def quantity_of(self, treatment: Treatment, name: str) -> float | None:
        """Return a planned quantity of a set: its own value where it is what varies, else the trial's."""
        for level in self.levels_of.get(treatment.id, ()):
            if FACTORS[self.kinds[level.factor_id]].quantity == name:
                return level.value_si
        row = self.quantities.get(name)
        return row.si if row else None

    @cached_property
    def _planned_of(self) -> Mapping[int, dict[str, float]]:
        return {key: self._read_planned(one) for key, one in self.treatments.items()}

    def _read_planned(self, treatment: Treatment) -> dict[str, float]:
        own = {
            name: level.value_si
            for level in self.levels_of.get(treatment.id, ())
            if (name := FACTORS[self.kinds[level.factor_id]].quantity) and level.value_si is not None
        }
        return self.planned_sizes | own

    def planned_of(self, treatment: Treatment) -> dict[str, float]:
        """Return the planned sizes of a set's pieces and of the rig, mm."""
        return self._planned_of[treatment.id]

    def glue_of(self, treatment: Treatment) -> str:
        """Return the glue that the plan asks for in a set; empty for a solid one or when none is written down."""
        return self._glue_of[treatment.id]

    @cached_property
    def _glue_of(self) -> Mapping[int, str]:
        levels = {one.id: self.level_of(one, Factor.GLUE) for one in self.treatments.values() if not one.solid}
        glued = {key: level.name if level else self.trial.glue for key, level in levels.items()}
        return {key: glued.get(key, "") for key in self.treatments}

    def made_of(self, treatment: Treatment) -> Mapping[str, str]:
        """Return a set's value of each thing that is varied, by its words; empty for a baseline."""
        return self._made_of[treatment.id]

    @cached_property
    def _made_of(self) -> Mapping[int, Mapping[str, str]]:
        return {
            key: {self.words_of(self.factors[one.factor_id]): one.name for one in self.levels_of.get(key, ())}
            if treatment.kind == SetKind.MADE
            else {}
            for key, treatment in self.treatments.items()
        }

    def sizes_of(self, piece: Piece) -> dict[str, float]:
        """Return the sizes of a piece: as measured, else as planned."""
        return self.each(Book._read_sizes)[piece.id]

    def _read_sizes(self, piece: Piece) -> dict[str, float]:
        planned = self.planned_of(self.treatments[piece.treatment_id])
        sizes = planned | {name: row.mm for name, row in self.measurements.get(piece.id, {}).items()}
        if "area_mm2" in FIXTURES[self.fixture].sizes:
            joint = self.joint_of(self.treatments[piece.treatment_id])
            with suppress(EntryError):
                sizes["area_mm2"] = compute_glued_area(joint, sizes)
        return sizes

    def unmeasured(self, piece: Piece) -> tuple[str, ...]:
        """Return the sizes that a strength of this piece takes from the plan."""
        measured = self.measurements.get(piece.id, {})
        return tuple(name for name in self._needed_of[piece.treatment_id] if name not in measured)

    @cached_property
    def _needed_of(self) -> Mapping[int, tuple[str, ...]]:
        return {key: measured_sizes(joint, self.fixture) for key, joint in self._joint_of.items()}

    def result_of(self, piece: Piece) -> Pull | None:
        """Return the pull that counts for a piece: the last one kept."""
        return self.each(Book._find_result)[piece.id]

    def _find_result(self, piece: Piece) -> Pull | None:
        return next((pull for pull in reversed(self.pulls.get(piece.id, ())) if pull.state == "kept"), None)

    @cached_property
    def response(self) -> str:
        """Return what a break comes to, with its unit: a stress, or a moment for corners."""
        return "moment_Nm" if FIXTURES[self.fixture].kind == "moment" else "strength_MPa"

    def strength_of(self, piece: Piece, load_n: float) -> float | None:
        """Return the stress of a piece at a load in MPa, or its moment in N·m; None while a size is missing."""
        per_newton = self.each(Book._compute_strength_per_n)[piece.id]
        return None if per_newton is None else per_newton * load_n

    def _compute_strength_per_n(self, piece: Piece) -> float | None:
        try:
            strength = compute_strength(self.fixture, 1.0, self.sizes_of(piece))
        except EntryError:
            return None
        return strength.moment_nm if strength.strength_mpa is None else strength.strength_mpa

    def life_of(self, piece: Piece) -> PieceLife:
        """Return the dated steps of a piece and what its plan asks for."""
        return self.each(Book._read_life)[piece.id]

    def _read_life(self, piece: Piece) -> PieceLife:
        treatment = self.treatments[piece.treatment_id]
        planned = self._planned_exposures[treatment.id]
        inside = next((one for one in self.exposures.get(piece.id, ()) if one.ended_utc is None), None)
        return PieceLife(
            solid=bool(treatment.solid),
            sawn=piece.sawn_utc is not None,
            closed_at=parse_time(piece.closed_utc),
            clamped_at=parse_time(piece.clamped_utc),
            released_at=parse_time(piece.released_utc),
            broken=self.result_of(piece) is not None,
            void=piece.void_reason is not None,
            clamp_time_s=self.quantity_of(treatment, "clamp_time_s"),
            cure_time_s=self.quantity_of(treatment, "cure_time_s"),
            to_go_in=planned is not None and planned.is_to_go_in and not self.exposures.get(piece.id),
            inside=inside is not None,
            inside_until=_find_end(inside) if inside else None,
        )

    def age_of(self, piece: Piece) -> float | None:
        """Return how old the joint of a piece was when it was broken, from closing, s; None where one is not known."""
        closed, result = self.life_of(piece).closed_at, self.result_of(piece)
        broken = parse_time(result.started_utc) if result else None
        return (broken - closed).total_seconds() if closed and broken else None

    def planned_exposure_of(self, piece: Piece) -> PlannedExposure | None:
        """Return what a piece goes through before the test by plan; None where it is only kept as it is."""
        return self._planned_exposures[piece.treatment_id]

    @cached_property
    def _planned_exposures(self) -> dict[int, PlannedExposure | None]:
        found = {}
        for one in self.treatments.values():
            level = self.level_of(one, Factor.CONDITION)
            found[one.id] = read_exposure(level.name if level else self.trial.condition)
        return found

    @cached_property
    def clamp_rounds(self) -> Mapping[int, int]:
        """Return the clamping round of each piece that was in clamps, from 1, by its real times."""
        lives = self.each(Book._read_life)
        clamped = [(piece_id, life) for piece_id, life in lives.items() if life.clamped_at is not None]
        spans = [(life.clamped_at, life.released_at) for _, life in clamped if life.clamped_at is not None]
        return dict(zip((piece_id for piece_id, _ in clamped), find_rounds(spans), strict=True))

    def dealt(self, piece: Piece) -> Dealt:
        """Return what could make a piece strong or weak besides its set; its wood only where that does not vary."""
        return self.each(Book._read_dealt)[piece.id]

    def _read_dealt(self, piece: Piece) -> Dealt:
        board, batch = self.boards[piece.board_id], self.batches.get(piece.batch_id or 0)
        closed, result = self.life_of(piece).closed_at, self.result_of(piece)
        return Dealt(
            treatment=self.treatments[piece.treatment_id].name,
            board=board.name,
            species="" if Factor.SPECIES in self.kinds.values() else board.species,
            glue_turn=closed.timestamp() if closed else None,
            glue_up=str(batch.number) if batch else None,
            break_turn=float(result.id) if result else None,
        )

    def state_of(self, piece: Piece, now: datetime) -> PieceState:
        """Return how far a piece has come."""
        return find_state(self.life_of(piece), now)

    def standing_of(self, piece: Piece, now: datetime) -> Standing:
        """Return what decides about what may be done to a piece."""
        return self.each(Book._read_record)[piece.id]._replace(state=self.state_of(piece, now))

    def _read_record(self, piece: Piece) -> Standing:
        pulls, life = {one.state for one in self.pulls.get(piece.id, ())}, self.life_of(piece)
        return Standing(
            state=PieceState.PLANNED,
            solid=life.solid,
            in_glue_up=piece.batch_id is not None,
            spread=piece.spread_utc is not None,
            closed=piece.closed_utc is not None,
            clamped=piece.clamped_utc is not None,
            released=piece.released_utc is not None,
            inside=life.inside,
            loaded=bool(pulls),
            pulling=bool(pulls & {"running", "stopped"}),
            known=bool(pulls & {"stopped", "kept"}),
            set_aside=piece.excluded_reason is not None,
        )

    def require(self, act: Act, piece: Piece, now: datetime) -> None:
        """Raise `StateError` where an act may not be done to a piece now."""
        require(act, piece.label, self.standing_of(piece, now))

    def can(self, piece: Piece, now: datetime) -> tuple[Act, ...]:
        """Return what may be done to a piece now."""
        return list_allowed(self.standing_of(piece, now))

    def release_due(self, piece: Piece) -> datetime | None:
        """Return when the clamps of a piece come off by plan."""
        return find_release_due(self.life_of(piece))

    def ready_at(self, piece: Piece) -> datetime | None:
        """Return when a piece is cured by plan."""
        return find_ready_at(self.life_of(piece))

    def piece(self, piece_id: int) -> Piece:
        """Return one piece; raises `NotThere`."""
        if piece_id not in self.pieces:
            raise NotThere(f"There is no piece {piece_id} in this trial.", do="Reload: it may have been removed.")
        return self.pieces[piece_id]


def _find_end(exposure: Exposure) -> datetime | None:
    begun = parse_time(exposure.begun_utc)
    return None if begun is None or exposure.planned_s is None else begun + timedelta(seconds=exposure.planned_s)


_books: Shelf[tuple[str, int], tuple[Mark, Book]] = Shelf(most=16)


def read_book(connection: Connection, trial_id: int) -> Book:
    """Read a trial with all its rows; raises `NotThere`.

    Every change of a row stands in the change log, so a book stays true until the log grows. The latest ones are kept,
    and of an older one only the rows that changed since are read again.
    """
    mark = find_mark(connection)
    if mark is None:
        return _read_rows(connection, trial_id)
    kept, book = _books.find((mark.path, trial_id)) or (None, None)
    if kept is None or book is None:
        book = _read_rows(connection, trial_id)
    elif kept != mark:
        changed = list_changed_rows(connection, kept)
        newer = None if changed is None else _catch_up(connection, book, changed)
        book = newer or _read_rows(connection, trial_id)
    _books.put((mark.path, trial_id), (mark, book))
    return book


_LARGE = frozenset({"piece", "measurement", "pull"})


def _catch_up(connection: Connection, book: Book, changed: Mapping[str, AbstractSet[int]]) -> Book | None:
    """Return a book with the rows that changed read again; None where rows went, which only a whole reading shows."""
    pieces, measurements, pulls = dict(book.pieces), dict(book.measurements), dict(book.pulls)
    touched: set[int] = set()
    for row_id in changed.get("piece", ()):
        piece = fetch_piece(connection, row_id)
        if piece is None or (piece.trial_id == book.trial.id and row_id not in pieces):
            return None
        if row_id in pieces:
            pieces[row_id] = piece
            touched.add(row_id)
    for row_id in changed.get("measurement", ()):
        size = fetch_measurement(connection, row_id)
        if size is None:
            return None
        if size.piece_id in pieces:
            sizes = {**measurements.get(size.piece_id, {}), size.name: size}
            measurements[size.piece_id] = dict(sorted(sizes.items()))
            touched.add(size.piece_id)
    for row_id in changed.get("pull", ()):
        pull = fetch_pull(connection, row_id)
        if pull is None:
            return None
        if pull.piece_id in pieces:
            made = {one.id: one for one in pulls.get(pull.piece_id, ())} | {row_id: pull}
            pulls[pull.piece_id] = tuple(made[key] for key in sorted(made))
            touched.add(pull.piece_id)
    newer = _read_rows(connection, book.trial.id, {"pieces": pieces, "measurements": measurements, "pulls": pulls})
    if changed.keys() <= _LARGE:
        newer.inherit(book, touched)
    return newer


def _read_rows(connection: Connection, trial_id: int, known: Mapping[str, Any] = MappingProxyType({})) -> Book:
    trial = fetch_trial(connection, trial_id)
    if trial is None:
        raise NotThere(f"There is no trial {trial_id}.", do="Go to Today: the trials there are, are listed.")
    return Book(
        trial=trial,
        quantities=list_quantities(connection, trial_id),
        factors={row.id: row for row in list_factors(connection, trial_id)},
        levels={row.id: row for row in list_levels(connection, trial_id)},
        scopes=list_scopes(connection, trial_id),
        treatments={row.id: row for row in list_treatments(connection, trial_id)},
        treatment_levels=list_treatment_levels(connection, trial_id),
        boards={row.id: row for row in list_boards(connection, trial_id)},
        pieces=known.get("pieces") or {row.id: row for row in list_pieces(connection, trial_id)},
        batches={row.id: row for row in list_batches(connection, trial_id)},
        measurements=known.get("measurements") or list_measurements(connection, trial_id),
        pulls=known.get("pulls") or _group_pulls(list_pulls(connection, trial_id)),
        coats=list_coats(connection, trial_id),
        exposures=list_exposures(connection, trial_id),
        readings=list_readings(connection, trial_id),
        ticks=list_ticks(connection, trial_id),
        steps=tuple(list_steps(connection, trial_id)),
        rigs={rig.id: rig for rig in list_rigs(connection)},
    )


def _group_pulls(pulls: Iterable[Pull]) -> dict[int, tuple[Pull, ...]]:
    made: dict[int, list[Pull]] = defaultdict(list)
    for pull in pulls:
        made[pull.piece_id].append(pull)
    return {piece_id: tuple(mine) for piece_id, mine in made.items()}
