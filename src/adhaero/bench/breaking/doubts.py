"""What is doubtful about a load as it is typed: one line, with the answer that a key gives."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.core.quantity import Kind, factor
from adhaero.core.rig.entry.card import Card
from adhaero.core.rig.entry.doubts import Doubt, DoubtCode, find_limit, find_slip, find_stack, find_step
from adhaero.core.rig.entry.plates import Plate
from adhaero.core.rig.kinds import RigKind
from adhaero.store.pieces import Piece
from adhaero.store.rigs import Rig


@dataclass(frozen=True)
class DoubtView:
    """Why a load is asked about; `answers` are what it would be typed as then, `holds` where it may have held."""

    code: DoubtCode
    words: str
    answers: tuple[str, ...]
    holds: bool


def list_doubts(
    facts: PieceFacts,
    piece: Piece | None,
    rig: Rig | None,
    card: Card,
    load_n: float,
    *,
    typed: str,
    shown: tuple[float, float] | None,
    unit: str,
    plates: Sequence[Plate],
) -> list[DoubtView]:
    """Return what is doubtful about a load.

    Parameters
    ----------
    load_n : on the piece. typed : as typed. shown : the number alone and the step of the rig, in the unit of the entry.
    unit : of the shop for loads. plates : of the shop, where the load was typed and not hung in plates.
    """
    found: list[Doubt | None] = []
    if piece is not None and load_n > 0:
        value, neighbours, others = list_neighbours(facts, piece, load_n)
        found.append(find_slip(value, neighbours, others))
    if rig is not None:
        found.append(find_limit(load_n, rig.capacity_n, card.resolution_n * card.ratio))
    if card.kind is RigKind.WEIGHTS and plates and shown is not None:
        hung = (load_n - card.own_n) / card.ratio - card.tare_n
        found.append(find_stack(hung, plates, load_n_per(unit), unit))
    elif shown is not None and card.kind is not RigKind.BUCKET:
        found.append(find_step(*shown))
    return [_view(doubt, typed, load_n, unit, card) for doubt in found if doubt is not None]


def load_n_per(unit: str) -> float:
    """Return the newtons of one unit of load."""
    return factor(Kind.FORCE, unit)


def list_neighbours(facts: PieceFacts, piece: Piece, load_n: float) -> tuple[float, list[float], list[list[float]]]:
    """Return what a load is compared by, the same of the pieces of its set, and of each other set.

    Strengths where the piece has one, so that size does not look like a slip; else loads. A set without a break has
    all others for neighbours.
    """
    strength = facts.strength_of(piece, load_n)
    sets: dict[int, list[float]] = {}
    for other in facts.pieces.values():
        result = facts.result_of(other)
        if other.id == piece.id or result is None or not result.load_n or other.excluded_reason is not None:
            continue
        value = result.load_n if strength is None else facts.strength_of(other, result.load_n)
        if value is not None:
            sets.setdefault(other.treatment_id, []).append(value)
    value = load_n if strength is None else strength
    mine = sets.pop(piece.treatment_id, [])
    if mine:
        return value, mine, list(sets.values())
    return value, [one for values in sets.values() for one in values], []


def _view(doubt: Doubt, typed: str, load_n: float, unit: str, card: Card) -> DoubtView:
    """Return a doubt with what would be typed: the same number in the unit that was meant, or the right number."""
    answers = []
    found = re.fullmatch(r"\s*([0-9]+(?:[.,][0-9]+)?)\s*([a-z#/0-9²]*)\s*", typed, re.IGNORECASE)
    typed_number, written = (found[1], found[2]) if found else ("", "")
    for slip in doubt.slips if typed_number else ():
        number = float(typed_number.replace(",", "."))
        right_n = (load_n / slip.factor - card.own_n) / card.ratio - card.tare_n
        if slip.meant:
            answers.append(f"{typed_number} {slip.meant}")
        elif right_n > 0 and number > 0:
            answers.append(f"{number / slip.factor:.4g} {written or unit}")
    return DoubtView(doubt.code, doubt.words, tuple(answers), doubt.code is DoubtCode.AT_LIMIT)
