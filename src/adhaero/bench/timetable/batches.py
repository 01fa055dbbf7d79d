"""The glue-ups that are still to do and those that run, as the timetable computes with them."""

from collections.abc import Callable, Hashable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from math import ceil, floor

from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.rows import parse_time
from adhaero.bench.shop.supplies import Supplies
from adhaero.core.plan.clamping import SetUp
from adhaero.core.plan.fields import Factor
from adhaero.core.plan.gluing import split_batch
from adhaero.core.plan.planned import LineForce
from adhaero.core.plan.tasks import Line, PlannedBatch
from adhaero.store.pieces import Piece

_EACH_S = 60.0


_LAY_OUT_MIN = 10


_NO_OPEN_TIME = 8


AGE_GIVE = 0.05


@dataclass(frozen=True)
class Pace:
    """How exactly and how fast: the share by which clamp times may be off, and minutes to break a piece."""

    give: float
    break_min: float


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
    for batch in _group(running, lambda piece: (piece.batch_id, piece.clamped_utc)):
        maker.add(batch)
    for batch in _group(begun, lambda piece: piece.batch_id):
        maker.add(batch)
    for glue in _group(waiting, lambda piece: facts.glue_of(facts.treatments[piece.treatment_id]).lower()):
        for batch in maker.split(glue):
            maker.add(batch)
    solid = [piece for piece in alive if facts.treatments[piece.treatment_id].solid]
    if solid:
        maker.add_solid(solid)
    maker.batches.sort(key=lambda one: min(piece.glue_turn for piece in maker.pieces[one.key]))
    return Gathered(tuple(maker.batches), maker.pieces, tuple(dict.fromkeys(maker.assumed)))


def _group(pieces: Iterable[Piece], key: Callable[[Piece], Hashable]) -> list[list[Piece]]:
    found: dict[Hashable, list[Piece]] = {}
    for piece in pieces:
        found.setdefault(key(piece), []).append(piece)
    return list(found.values())


class _Maker:
    """Makes glue-ups of pieces."""

    def __init__(
        self, facts: PieceFacts, supplies: Supplies, forces: Mapping[str, LineForce], origin: datetime, pace: Pace
    ) -> None:
        self.facts, self.supplies, self.forces, self.origin, self.pace = facts, supplies, forces, origin, pace
        self.batches: list[PlannedBatch] = []
        self.pieces: dict[str, tuple[Piece, ...]] = {}
        self.assumed: list[str] = []
        self._stock = {one.name: one.number for one in supplies.clamps}
        each = facts.planned_sizes.get("seconds_each_s")
        if each is None:
            self.assumed.append(
                "Spreading and closing a piece is taken as 1 min: type your own under “Glue and clamps”."
            )
        self._each_s = each or _EACH_S

    def split(self, pieces: Sequence[Piece]) -> list[list[Piece]]:
        """Cut pieces of one glue, in order, into glue-ups that its open time and the clamps allow; bars stay whole."""
        glue = self.facts.glue_of(self.facts.treatments[pieces[0].treatment_id])
        card = self.supplies.glue(glue)
        limits = [one for one in (card.open_time_s, card.pot_life_s) if one is not None] if card else []
        if limits:
            most, _ = split_batch(len(pieces), self._each_s, min(limits))
        else:
            most = _NO_OPEN_TIME
            self.assumed.append(f"No open time is known of {glue or 'the glue'}: {most} pieces to a glue-up.")
        bars = _group(pieces, lambda piece: ("bar", piece.pair) if self._is_bar(piece) else piece.id)
        found: list[list[Piece]] = [[]]
        for bar in bars:
            longer = [*found[-1], *bar]
            if found[-1] and (len(longer) > most or not self._fits(longer)):
                found.append(list(bar))
            else:
                found[-1] = longer
        return found

    def _is_bar(self, piece: Piece) -> bool:
        return self.facts.trial.matched == "halves" and piece.pair is not None

    def _fits(self, pieces: Sequence[Piece]) -> bool:
        used: dict[str, int] = {}
        for line in self._lines(pieces):
            for name, number in self._count_clamps(line):
                used[name] = used.get(name, 0) + number
        return all(number <= self._stock.get(name, number) for name, number in used.items())

    def _lines(self, pieces: Sequence[Piece]) -> list[list[Piece]]:
        """Return the pieces that are clamped, cured and broken alike; both halves of a bar are one line until then."""
        return _group(pieces, self._treated_as)

    def _treated_as(self, piece: Piece) -> Hashable:
        one = self.facts.treatments[piece.treatment_id]
        set_up = self._set_up(piece)
        return (
            set_up.name if set_up else "",
            set_up.force_n if set_up else None,
            self.facts.quantity_of(one, "clamp_time_s"),
            self.facts.quantity_of(one, "cure_time_s"),
            self._stay(piece),
            self._inside_until(piece),
        )

    def _set_up(self, piece: Piece) -> SetUp | None:
        line = self.forces.get(self.facts.treatments[piece.treatment_id].name)
        return line.set_up if line else None

    def _inside_until(self, piece: Piece) -> int | None:
        """Return when a piece comes out of what it is in now; None where it is in nothing."""
        return self._minute_of(self.facts.life_of(piece).inside_until)

    def _stay(self, piece: Piece) -> float:
        if self.facts.exposures.get(piece.id):
            return 0.0
        stay = self.facts.planned_exposure_of(piece)
        return (stay.planned_s or 0.0) if stay and stay.is_to_go_in else 0.0

    def _count_clamps(self, pieces: Sequence[Piece]) -> tuple[tuple[str, int], ...]:
        set_up = self._set_up(pieces[0])
        if set_up is None:
            return ()
        bars = len({piece.pair if self._is_bar(piece) else -piece.id for piece in pieces})
        return ((set_up.name, ceil(bars / (set_up.side_by_side * set_up.in_line)) * set_up.clamps),)

    def add(self, pieces: Sequence[Piece]) -> None:
        """Add a glue-up of pieces, to do or under way."""
        key = f"g{min(piece.id for piece in pieces)}"
        lines, closed = [], 0
        for mine in self._lines(pieces):
            closed += len(mine)
            line = self._make_line(f"l{min(piece.id for piece in mine)}", mine)
            lines.append(replace(line, closes_min=self._minutes(closed)))
            self.pieces[line.key] = tuple(mine)
        self.pieces[key] = tuple(pieces)
        self.batches.append(PlannedBatch(key, self._minutes(len(pieces)), tuple(lines)))

    def _minutes(self, pieces: int) -> int:
        """Return how long it takes to lay out, mix, spread and close so many pieces, line by line."""
        return _LAY_OUT_MIN + ceil(pieces * self._each_s / 60)

    def add_solid(self, pieces: Sequence[Piece]) -> None:
        """Add the pieces without a joint: only measured and broken."""
        key = f"g{min(piece.id for piece in pieces)}"
        line = self._make_line(f"l{min(piece.id for piece in pieces)}", pieces)
        done = Line(
            line.key, (), 0, 0, 0, None, line.expose_min, 0, line.measure_min, line.break_min, 0, 0, 0
        )  # fmt: skip
        self.pieces[line.key] = self.pieces[key] = tuple(pieces)
        self.batches.append(PlannedBatch(key, 0, (done,)))

    def _make_line(self, key: str, pieces: Sequence[Piece]) -> Line:
        first, number = pieces[0], len(pieces)
        one = self.facts.treatments[first.treatment_id]
        clamp_s, cure_s = (self.facts.quantity_of(one, name) or 0.0 for name in ("clamp_time_s", "cure_time_s"))
        ages = Factor.CURE_TIME in self.facts.kinds.values()
        released = [piece.released_utc for piece in pieces]
        closed, out = self._minute(first.closed_utc), self._inside_until(first)
        cure_min = round(cure_s / 60)
        if closed is not None and out is not None:
            ages, cure_min = False, max(cure_min, out - closed)
        clamp_min = max(1, round(clamp_s / 60)) if clamp_s else 0
        return Line(
            key=key,
            clamps=self._count_clamps(pieces),
            clamp_min=clamp_min,
            give_min=max(1, round(clamp_min * self.pace.give)),
            cure_min=cure_min,
            age_give_min=max(1, round(cure_s / 60 * AGE_GIVE)) if ages else None,
            expose_min=round(self._stay(first) / 60),
            release_min=1 + ceil(number / 2),
            measure_min=number,
            break_min=ceil(number * self.pace.break_min),
            closed_at=closed,
            clamped_at=self._minute(first.clamped_utc),
            released_at=None if None in released else max(self._minute(one) or 0 for one in released),
        )

    def _minute(self, utc: str | None) -> int | None:
        return self._minute_of(parse_time(utc))

    def _minute_of(self, moment: datetime | None) -> int | None:
        return None if moment is None else floor((moment - self.origin).total_seconds() / 60)
