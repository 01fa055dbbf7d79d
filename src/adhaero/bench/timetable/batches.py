"""The glue-ups that are still to do and those that run, as the timetable computes with them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from math import floor

from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.rows import parse_time
from adhaero.bench.shop.supplies import Supplies
from adhaero.core.plan.fields import Factor
from adhaero.core.plan.glue_ups import (
    Pace,
    ToMake,
    find_most,
    group_by,
    plan_glue_up,
    plan_solid,
    split_glue_ups,
)
from adhaero.core.plan.planned import LineForce
from adhaero.core.plan.tasks import Line, PlannedBatch
from adhaero.store.pieces import Piece


@dataclass(frozen=True)
class Gathered:
    """The glue-ups of a trial, and the pieces of each glue-up and line by its key."""

    batches: tuple[PlannedBatch, ...]
    pieces: Mapping[str, tuple[Piece, ...]]
    assumed: tuple[str, ...]


def gather_batches(
    facts: PieceFacts, supplies: Supplies, forces: Sequence[LineForce], origin: datetime, pace: Pace
) -> Gathered:
    """Return what is still to be glued in glue-ups that fit the open time and the clamps, and what is under way.

    Pieces are taken in the order of gluing; those of one glue, of one set or several, share a glue-up. Pieces that are
    glued already stand with the times that were.
    """
    maker = _Maker(facts, supplies, {line.name: line for line in forces}, origin, pace)
    alive = [piece for piece in facts.pieces.values() if piece.void_reason is None and facts.result_of(piece) is None]
    alive.sort(key=lambda piece: piece.glue_turn)
    joined = [piece for piece in alive if not facts.treatments[piece.treatment_id].solid]
    running = [piece for piece in joined if piece.clamped_utc is not None]
    begun = [piece for piece in joined if piece.clamped_utc is None and piece.batch_id is not None]
    waiting = [piece for piece in joined if piece.clamped_utc is None and piece.batch_id is None]
    for batch in group_by(running, lambda piece: (piece.batch_id, piece.clamped_utc)):
        maker.add(batch)
    for batch in group_by(begun, lambda piece: piece.batch_id):
        maker.add(batch)
    for glue in group_by(waiting, lambda piece: facts.glue_of(facts.treatments[piece.treatment_id]).lower()):
        for batch in maker.split(glue):
            maker.add(batch)
    solid = [piece for piece in alive if facts.treatments[piece.treatment_id].solid]
    if solid:
        maker.add_solid(solid)
    maker.batches.sort(key=lambda one: min(piece.glue_turn for piece in maker.pieces[one.key]))
    return Gathered(tuple(maker.batches), maker.pieces, tuple(dict.fromkeys(maker.assumed)))


class _Maker:
    """Makes glue-ups of pieces."""

    def __init__(
        self, facts: PieceFacts, supplies: Supplies, forces: Mapping[str, LineForce], origin: datetime, pace: Pace
    ) -> None:
        self.facts, self.supplies, self.forces, self.origin = facts, supplies, forces, origin
        self.batches: list[PlannedBatch] = []
        self.pieces: dict[str, tuple[Piece, ...]] = {}
        self.assumed: list[str] = []
        each = facts.planned_sizes.get("seconds_each_s")
        if each is None:
            self.assumed.append(
                "Spreading and closing a piece is taken as 1 min: type your own under “Glue and clamps”."
            )
        self._pace = replace(pace, each_s=each or pace.each_s, ages=Factor.CURE_TIME in facts.kinds.values())

    def split(self, pieces: Sequence[Piece]) -> list[list[Piece]]:
        """Cut pieces of one glue, in order, into glue-ups that its open time and the clamps allow; bars stay whole."""
        glue = self.facts.glue_of(self.facts.treatments[pieces[0].treatment_id])
        most, known = find_most(len(pieces), self._pace.each_s, self.supplies.glue(glue))
        if not known:
            self.assumed.append(f"No open time is known of {glue or 'the glue'}: {most} pieces to a glue-up.")
        stock = {one.name: one.number for one in self.supplies.clamps}
        split = split_glue_ups([self._to_make(piece) for piece in pieces], most, stock)
        return [[self.facts.pieces[one.piece] for one in batch] for batch in split]

    def _to_make(self, piece: Piece) -> ToMake:
        one = self.facts.treatments[piece.treatment_id]
        line = self.forces.get(one.name)
        clamp_s, cure_s = (self.facts.quantity_of(one, name) or 0.0 for name in ("clamp_time_s", "cure_time_s"))
        return ToMake(
            piece=piece.id,
            set_up=line.set_up if line else None,
            clamp_s=clamp_s,
            cure_s=cure_s,
            stay_s=self._stay(piece),
            inside_until=self._minute_of(self.facts.life_of(piece).inside_until),
            bar=piece.pair if self.facts.trial.matched == "halves" else None,
        )

    def _stay(self, piece: Piece) -> float:
        if self.facts.exposures.get(piece.id):
            return 0.0
        stay = self.facts.planned_exposure_of(piece)
        return (stay.planned_s or 0.0) if stay and stay.is_to_go_in else 0.0

    def add(self, pieces: Sequence[Piece]) -> None:
        """Add a glue-up of pieces, to do or under way."""
        mine = [self._to_make(piece) for piece in pieces]
        glue_up = plan_glue_up(mine, self._pace)
        of_line = group_by(mine, lambda one: one.handled)
        for line, made in zip(glue_up.lines, of_line, strict=True):
            self.pieces[line.key] = tuple(self.facts.pieces[one.piece] for one in made)
        self.pieces[glue_up.key] = tuple(pieces)
        lines = tuple(self._as_it_stands(line, made[0]) for line, made in zip(glue_up.lines, of_line, strict=True))
        self.batches.append(replace(glue_up, lines=lines))

    def add_solid(self, pieces: Sequence[Piece]) -> None:
        """Add the pieces without a joint: only measured and broken."""
        solid = plan_solid([self._to_make(piece) for piece in pieces], self._pace)
        self.pieces[solid.lines[0].key] = self.pieces[solid.key] = tuple(pieces)
        self.batches.append(solid)

    def _as_it_stands(self, line: Line, like: ToMake) -> Line:
        """Return a line with what has happened to its pieces already."""
        first, released = self.facts.pieces[like.piece], [piece.released_utc for piece in self.pieces[line.key]]
        closed = self._minute(first.closed_utc)
        if closed is not None and like.inside_until is not None:
            line = replace(line, age_give_min=None, cure_min=max(line.cure_min, like.inside_until - closed))
        return replace(
            line,
            closed_at=closed,
            clamped_at=self._minute(first.clamped_utc),
            released_at=None if None in released else max(self._minute(one) or 0 for one in released),
        )

    def _minute(self, utc: str | None) -> int | None:
        return self._minute_of(parse_time(utc))

    def _minute_of(self, moment: datetime | None) -> int | None:
        return None if moment is None else floor((moment - self.origin).total_seconds() / 60)
