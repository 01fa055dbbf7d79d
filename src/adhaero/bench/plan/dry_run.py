"""The dry run of a plan: guesses in, how often the answer would be right out; many trials on paper."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from math import prod
from typing import Annotated

from annotated_types import MaxLen

from adhaero.bench.facts.entry import Entry, Id, Short
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.plan.dealing import deal_plan
from adhaero.core.errors import EntryError, PlanError
from adhaero.core.plan.dryrun import DryRun, Outlook
from adhaero.core.quantity import Bounds, Kind, parse_quantity
from adhaero.store.file import ShopFile

_PAIRS_SHOWN = 40


@dataclass(frozen=True)
class Guess(Entry):
    """What someone expects of a set, or of all sets with one value of what is varied (`level_id`).

    Its strength as a percentage of any common base, as typed; a set's guesses multiply.
    """

    percent: Short
    treatment_id: Id | None = None
    level_id: Id | None = None


@dataclass(frozen=True)
class Rehearsal:
    """How far a dry run has come, and at its end the outlook, with the pairs that come out least often."""

    done: int
    of: int
    outlook: Outlook | None = None


@dataclass(frozen=True)
class Guesses(Entry):
    """What is expected of each set, and what share of the pieces will only hold."""

    guesses: Annotated[tuple[Guess, ...], MaxLen(500)]
    held: Short = ""


def rehearse(file: ShopFile, trial_id: int, guesses: Sequence[Guess], held: str = "") -> Iterator[Rehearsal]:
    """Break a planned trial many times on paper, seeded with the trial's seed; tell how far it has come.

    Parameters
    ----------
    guesses : for sets or values; a set without one counts as 100 %.
    held : share of the pieces that will only hold, as typed; empty for none.

    Raises
    ------
    EntryError : a guess cannot be read. PlanError : the plan cannot be dealt yet, or says nothing about scatter.
    """
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
    dealing = deal_plan(facts)
    if dealing.problem or not dealing.places:
        raise PlanError(dealing.problem or "No pieces are dealt yet.", "A dry run needs the whole plan.")
    shares = _read_shares(facts, guesses)
    planned = facts.planned_sizes
    trial = DryRun(
        tuple(one.name for one in facts.made),
        shares,
        dealing.places,
        planned["cv_pct"],
        planned["margin_pct"],
        facts.trial.seed,
        _read_held(held),
    )
    return _tell(trial)


def _read_held(typed: str) -> float:
    if not typed.strip():
        return 0.0
    return parse_quantity(typed, Kind.PERCENT, bounds=Bounds(highest=90, zero_allowed=True), field="held").si


def _read_shares(facts: PlanFacts, guesses: Sequence[Guess]) -> tuple[float, ...]:
    """Return what each set is guessed at, percent."""
    of_sets: dict[int, float] = {}
    of_levels: dict[int, float] = {}
    bounds = Bounds(lowest=1, highest=10_000)
    for guess in guesses:
        if guess.treatment_id not in (None, *(one.id for one in facts.made)):
            raise EntryError(f"There is no set {guess.treatment_id} in this plan.", field="guesses")
        if guess.level_id not in (None, *facts.levels):
            raise EntryError(f"There is no value {guess.level_id} in this plan.", field="guesses")
        if not guess.percent.strip():
            continue
        field = f"guess-{guess.treatment_id}" if guess.treatment_id is not None else f"guess-value-{guess.level_id}"
        value = parse_quantity(guess.percent, Kind.PERCENT, bounds=bounds, field=field).si
        if guess.treatment_id is not None:
            of_sets[guess.treatment_id] = value
        elif guess.level_id is not None:
            of_levels[guess.level_id] = value
    return tuple(
        of_sets.get(one.id, 100.0)
        * prod(of_levels.get(level, 100.0) / 100 for level in facts.treatment_levels.get(one.id, ()))
        for one in facts.made
    )


def _tell(trial: DryRun) -> Iterator[Rehearsal]:
    for step in trial.run():
        if isinstance(step, int):
            yield Rehearsal(step, trial.times)
        else:
            hardest = sorted(step.pairs, key=lambda pair: pair.right)[:_PAIRS_SHOWN]
            yield Rehearsal(trial.times, trial.times, replace(step, pairs=tuple(hardest)))
