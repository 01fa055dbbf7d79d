"""The dry run of a plan: guesses in, how often the answer would be right out; a thousand trials on paper."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from adhaero.bench.book import read_book
from adhaero.bench.planning import deal_plan
from adhaero.core.errors import EntryError, PlanError
from adhaero.core.plan.dryrun import TIMES, DryRun, Outlook
from adhaero.core.quantity import Bounds, Kind, parse_quantity
from adhaero.store.file import ShopFile

_PAIRS_SHOWN = 40


@dataclass(frozen=True)
class Guess:
    """What someone expects of a set: its strength as a percentage of any common base, as typed."""

    set_id: int
    percent: str


@dataclass(frozen=True)
class Rehearsal:
    """How far a dry run has come, and at its end the outlook, with the pairs that come out least often."""

    done: int
    of: int
    outlook: Outlook | None = None


def rehearse(file: ShopFile, trial_id: int, guesses: Sequence[Guess]) -> Iterator[Rehearsal]:
    """Break a planned trial a thousand times on paper, seeded with the trial's seed; tell how far it has come.

    Parameters
    ----------
    guesses : for each set; a set without one counts as 100 %.

    Raises
    ------
    EntryError : a guess cannot be read. PlanError : the plan cannot be dealt yet, or says nothing about scatter.
    """
    with file.reading() as connection:
        book = read_book(connection, trial_id)
    dealing = deal_plan(book)
    if dealing.problem or not dealing.places:
        raise PlanError(dealing.problem or "No pieces are dealt yet.", "A dry run needs the whole plan.")
    typed = {guess.set_id: guess.percent for guess in guesses}
    unknown = set(typed) - {one.id for one in book.sets}
    if unknown:
        raise EntryError(f"There is no set {min(unknown)} in this plan.", field="guesses")
    bounds = Bounds(lowest=1, highest=10_000)
    shares = tuple(
        parse_quantity(text, Kind.PERCENT, bounds=bounds, field=f"guess-{one.id}").si
        if (text := typed.get(one.id, "").strip())
        else 100.0
        for one in book.sets
    )
    planned = book.planned_sizes
    trial = DryRun(
        tuple(one.name for one in book.sets),
        shares,
        dealing.places,
        planned["cv_pct"],
        planned["margin_pct"],
        book.trial.seed,
    )
    return _tell(trial)


def _tell(trial: DryRun) -> Iterator[Rehearsal]:
    for step in trial.run():
        if isinstance(step, int):
            yield Rehearsal(step, TIMES)
        else:
            hardest = sorted(step.pairs, key=lambda pair: pair.right)[:_PAIRS_SHOWN]
            yield Rehearsal(TIMES, TIMES, replace(step, pairs=tuple(hardest)))
