"""Every broken piece as a dot: its response, what happened, and what that is to the question asked."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Final

from adhaero.bench.compare.breaks import MAKERS, count_attempts
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.core.response import Response
from adhaero.core.stats.breaks import OUTCOME_WORDS, Outcome, Specimen
from adhaero.store.pieces import Piece


@dataclass(frozen=True)
class Dot:
    """One piece in the chart.

    Attributes
    ----------
    strength, held_strength : the response: MPa, N·m, N, N/mm or J; where weights went up in steps, it held the second.
    outcome, judged : what happened, and what that is to the question asked (torn wood: the glue held).
    """

    piece_id: int
    label: str
    treatment: str
    board: str
    strength: float | None
    held_strength: float | None
    load_n: float | None
    outcome: Outcome
    outcome_words: str
    judged: Outcome
    wood_failure_pct: float | None
    excluded: str | None
    sizes_from_plan: bool
    odd: str | None
    attempts: int
    photo_id: int | None


def make_dots(facts: PieceFacts, response: Response, pieces: Sequence[Piece], judged: Sequence[Specimen]) -> list[Dot]:
    """Return the pieces of a slice as dots, each as it is judged and under the name of its set there."""
    made = facts.each(_DOTS[response])
    return [_judge(dot, one) for piece, one in zip(pieces, judged, strict=True) if (dot := made[piece.id]) is not None]


def _judge(dot: Dot, judged: Specimen) -> Dot:
    same = dot.judged is judged.outcome and dot.treatment == judged.level
    return dot if same else replace(dot, judged=judged.outcome, treatment=judged.level)


def _dot(response: Response, facts: PieceFacts, piece: Piece) -> Dot | None:
    one, result = facts.each(MAKERS[response])[piece.id], facts.result_of(piece)
    if one is None or result is None:
        return None
    return Dot(
        piece_id=piece.id,
        label=one.label,
        treatment=one.level,
        board=one.block or "",
        strength=one.value,
        held_strength=one.held_value,
        load_n=result.load_n,
        outcome=one.outcome,
        outcome_words=OUTCOME_WORDS[one.outcome],
        judged=one.outcome,
        wood_failure_pct=one.wood_failure_pct,
        excluded=one.excluded,
        sizes_from_plan=bool(facts.unmeasured(piece)),
        odd=piece.odd_reason,
        attempts=count_attempts(facts, piece),
        photo_id=result.photo_id,
    )


_DOTS: Final = {one: partial(_dot, one) for one in Response}
