"""Slices of a trial: the pieces of one condition, wood, age or joint, compared among themselves."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.shelf import kept
from adhaero.core.plan.fields import AnswerKind, Factor
from adhaero.store.pieces import Piece
from adhaero.store.plans import FactorRow, Treatment

WOOD: Final = "wood"
_FIRST: Final = (Factor.CONDITION, Factor.SPECIES, Factor.JOINT, Factor.CURE_TIME, Factor.GRAIN)
ALONG: Final = (AnswerKind.CURVE, AnswerKind.TREND)


@dataclass(frozen=True)
class Value:
    """A value of something that varies, in words."""

    name: str
    value: str

    def __str__(self) -> str:
        return f"{self.name}: {self.value}"


@kept(most=8)
def list_slices(facts: PlanFacts) -> tuple[Value, ...]:
    """Return every slice of a trial, those that it is cut into by itself first; none where one thing varies.

    A trial is cut by what pieces went through, their species, joint, age or grain, else by what stands last in its
    plan; where strength goes along an amount, by that. The woods of its boards come last.
    """
    of_factor = {row.id: [one.name for one in facts.levels.values() if one.factor_id == row.id] for row in _rank(facts)}
    several = {key: names for key, names in of_factor.items() if len(names) > 1}
    found = []
    if len(several) > 1:
        found = [Value(facts.words_of(facts.factors[key]), name) for key, names in several.items() for name in names]
    woods = dict.fromkeys(board.species for board in facts.boards.values() if board.species)
    if len(woods) > 1 and Factor.SPECIES not in facts.kinds.values():
        found += [Value(WOOD, name) for name in woods]
    return tuple(found)


def _rank(facts: PlanFacts) -> list[FactorRow]:
    """Return what varies, what the trial is cut by first."""
    amounts = {one.factor_id for one in facts.levels.values() if one.value_si is not None}
    rows = list(facts.factors.values())

    def rank(row: FactorRow) -> tuple[int, int]:
        kind, last = facts.kinds[row.id], -rows.index(row)
        if facts.trial.answer in ALONG and row.id in amounts:
            return 0, last
        return 1 + (_FIRST.index(kind) if kind in _FIRST else len(_FIRST)), last

    return sorted(rows, key=rank)


def find_slice(facts: PlanFacts, words: str) -> Value | None:
    """Return the slice of these words, of a name alone (`wood:`) its first; None for all pieces together."""
    return next((one for one in list_slices(facts) if words in (str(one), f"{one.name}:")), None)


def choose_slice(facts: PlanFacts) -> Value | None:
    """Return the slice that is shown first; None for all together: also where only the boards' wood differs."""
    found = list_slices(facts)
    return found[0] if found and found[0].name != WOOD else None


@kept(most=32)
def name_sets(facts: PlanFacts, cut: Value | None) -> Mapping[int, str]:
    """Return what the sets of a slice are called in it, by their id: by what still varies; solid ones are in each."""
    if cut is None or cut.name == WOOD:
        return {one.id: one.name for one in facts.treatments.values()}
    there: dict[int, str] = {}
    for one in facts.treatments.values():
        made = facts.made_of(one)
        if cut.name not in made or made[cut.name] == cut.value:
            there[one.id] = _name(one, {name: value for name, value in made.items() if name != cut.name})
    names = list(there.values())
    return {key: name if names.count(name) == 1 else facts.treatments[key].name for key, name in there.items()}


def list_in(facts: PieceFacts, cut: Value | None) -> list[Piece]:
    """Return the pieces of a slice; solid wood belongs to each."""
    if cut is not None and cut.name == WOOD:
        return [piece for piece in facts.pieces.values() if facts.boards[piece.board_id].species == cut.value]
    names = name_sets(facts, cut)
    return [piece for piece in facts.pieces.values() if piece.treatment_id in names]


def _name(one: Treatment, made: Mapping[str, str]) -> str:
    return ", ".join(made.values()) or one.name
