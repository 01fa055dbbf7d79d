"""What follows for each piece of a trial: its sizes, its life, its result, its strength, what may be done to it."""

from collections.abc import Callable, Mapping
from collections.abc import Set as AbstractSet
from contextlib import suppress
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from functools import cached_property
from typing import Any, TypeVar

from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.rows import parse_time
from adhaero.bench.facts.shelf import Shelf
from adhaero.core.errors import EntryError
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.fixture import compute_strength
from adhaero.core.joint import compute_glued_area
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
from adhaero.core.plan.exposures import PlannedExposure
from adhaero.core.plan.fields import Factor
from adhaero.store.making import Exposure
from adhaero.store.pieces import (
    Piece,
)
from adhaero.store.plans import Treatment
from adhaero.store.pulls import Pull

END_OF_TIME = datetime.max.replace(tzinfo=UTC)

Made = TypeVar("Made")


@dataclass(frozen=True, eq=False)
class PieceFacts(PlanFacts):
    """A trial with what follows for each of its pieces. What depends on the time of day is asked with a `now`."""

    def each(self, compute: "Callable[[PieceFacts, Piece], Made]") -> Mapping[int, Made]:
        """Return what a function makes of every piece, by its id; worked out again where rows of a piece change.

        Parameters
        ----------
        compute : looks at the rows of its piece and at the plan; never at other pieces or at the time of day.
        """
        return self._each.find_or_make(
            compute, lambda: {piece_id: compute(self, piece) for piece_id, piece in self.pieces.items()}
        )

    @cached_property
    def _each(self) -> "Shelf[Callable[[PieceFacts, Piece], Any], dict[int, Any]]":
        return Shelf()

    def inherit(self, older: "PieceFacts", touched: AbstractSet[int]) -> None:
        """Take over what was worked out for `each` piece of an older reading, but for the touched ones."""
        for compute, made in older._each.list_all():
            newer = {piece_id: compute(self, self.pieces[piece_id]) for piece_id in touched}
            self._each.put(compute, made | newer)

    def name_rig(self, pull: Pull | None) -> str:
        """Return the name of the rig that a pull was recorded on, or that it was typed by hand."""
        rig = self.rigs.get(pull.rig_id or 0) if pull else None
        return rig.name if rig else "by hand"

    @cached_property
    def hides_sets(self) -> bool:
        """Return whether the sets are hidden at the bench: blind, and a piece that is still to be broken."""
        return self.trial.blind == "1" and any(
            piece.void_reason is None and self.result_of(piece) is None for piece in self.pieces.values()
        )

    def sizes_of(self, piece: Piece) -> dict[str, float]:
        """Return the sizes of a piece: as measured, else as planned."""
        return self.each(PieceFacts._read_sizes)[piece.id]

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

    def result_of(self, piece: Piece) -> Pull | None:
        """Return the pull that counts for a piece: the last one kept."""
        return self._results[piece.id]

    @cached_property
    def _results(self) -> Mapping[int, Pull | None]:
        return self.each(PieceFacts._find_result)

    def _find_result(self, piece: Piece) -> Pull | None:
        return next((pull for pull in reversed(self.pulls.get(piece.id, ())) if pull.state == "kept"), None)

    def strength_of(self, piece: Piece, load_n: float) -> float | None:
        """Return the stress of a piece at a load in MPa, or its moment in N·m; None while a size is missing."""
        per_newton = self._strengths_per_n[piece.id]
        return None if per_newton is None else per_newton * load_n

    @cached_property
    def _strengths_per_n(self) -> Mapping[int, float | None]:
        return self.each(PieceFacts._compute_strength_per_n)

    def moment_of(self, piece: Piece, load_n: float) -> float | None:
        """Return the moment, N·m, at the joint of a piece that is bent: its stress · width · depth² / 6."""
        if FIXTURES[self.fixture].kind != "bending":
            return None
        stress, sizes = self.strength_of(piece, load_n), self.sizes_of(piece)
        return None if stress is None else stress * sizes["width_mm"] * sizes["depth_mm"] ** 2 / 6000

    def _compute_strength_per_n(self, piece: Piece) -> float | None:
        try:
            strength = compute_strength(self.fixture, 1.0, self.sizes_of(piece))
        except EntryError:
            return None
        if strength.kind == "load":
            return strength.load_n
        return strength.moment_nm if strength.strength_mpa is None else strength.strength_mpa

    def life_of(self, piece: Piece) -> PieceLife:
        """Return the dated steps of a piece and what its plan asks for."""
        return self.each(PieceFacts._read_life)[piece.id]

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
            # what came in broken went through what its table says: when, nobody wrote down
            to_go_in=planned is not None
            and planned.is_to_go_in
            and not self.exposures.get(piece.id)
            and not piece.source_cell,
            inside=inside is not None,
            inside_until=_find_end(inside) if inside else None,
        )

    def age_of(self, piece: Piece) -> float | None:
        """Return how old the joint of a piece was when it was broken, from closing, s; None where one is not known."""
        closed, result = self.life_of(piece).closed_at, self.result_of(piece)
        broken = parse_time(result.started_utc) if result and not result.undated else None
        return (broken - closed).total_seconds() if closed and broken else None

    def knows_condition_of(self, treatment: Treatment) -> bool:
        """Return whether anybody said what a set went through: of what was made here it is on record."""
        said = self.trial.condition != "" or self.level_of(treatment, Factor.CONDITION) is not None
        return said or not self._came_in

    @cached_property
    def _came_in(self) -> bool:
        return any(piece.source_cell for piece in self.pieces.values())

    def planned_exposure_of(self, piece: Piece) -> PlannedExposure | None:
        """Return what a piece goes through before the test by plan; None where it is only kept as it is."""
        return self._planned_exposures[piece.treatment_id]

    @cached_property
    def clamp_rounds(self) -> Mapping[int, int]:
        """Return the clamping round of each piece that was in clamps, from 1, by its real times."""
        lives = self.each(PieceFacts._read_life)
        clamped = [(piece_id, life) for piece_id, life in lives.items() if life.clamped_at is not None]
        spans = [(life.clamped_at, life.released_at) for _, life in clamped if life.clamped_at is not None]
        return dict(zip((piece_id for piece_id, _ in clamped), find_rounds(spans), strict=True))

    def dealt(self, piece: Piece) -> Dealt:
        """Return what could make a piece strong or weak besides its set; its wood only where that does not vary."""
        return self.each(PieceFacts._read_dealt)[piece.id]

    def _read_dealt(self, piece: Piece) -> Dealt:
        board, batch = self.boards[piece.board_id], self.batches.get(piece.batch_id or 0)
        closed, result = self.life_of(piece).closed_at, self.result_of(piece)
        return Dealt(
            treatment=self.treatments[piece.treatment_id].name,
            board=board.name,
            species="" if Factor.SPECIES in self.kinds.values() else board.species,
            glue_turn=closed.timestamp() if closed else None,
            batch=str(batch.number) if batch else None,
            break_turn=float(result.id) if result else None,
        )

    def state_of(self, piece: Piece, now: datetime) -> PieceState:
        """Return how far a piece has come."""
        return find_state(self.life_of(piece), now)

    def standing_of(self, piece: Piece, now: datetime) -> Standing:
        """Return what decides about what may be done to a piece."""
        return self.each(PieceFacts._read_record)[piece.id]._replace(state=self.state_of(piece, now))

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


def _find_end(exposure: Exposure) -> datetime | None:
    begun = parse_time(exposure.begun_utc)
    return None if begun is None or exposure.planned_s is None else begun + timedelta(seconds=exposure.planned_s)
