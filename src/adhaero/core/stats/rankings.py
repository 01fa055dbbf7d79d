"""The averages that people argue about, as rankings, and whether they name the same winner."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType
from typing import Final

from adhaero.core.stats.as_read import AsRead
from adhaero.core.stats.words import and_join, capital, list_some


@dataclass(frozen=True)
class Ranking:
    """The sets by one kind of average.

    Attributes
    ----------
    average : which; values : by set, None where a set has too few pieces for it.
    order : sets from strongest to weakest, those without a value left out; sets with the same value stand together.
    """

    average: str
    values: Mapping[str, float | None]
    order: tuple[tuple[str, ...], ...]

    @property
    def winners(self) -> tuple[str, ...]:
        """Return the strongest set, several if equal."""
        return self.order[0] if self.order else ()


AVERAGES: Final[Mapping[str, Callable[[AsRead], float | None]]] = MappingProxyType(
    {
        "average": lambda read: read.mean,
        "average of the middle ones": lambda read: read.trimmed_mean,
        "middle piece": lambda read: read.median,
        "worst piece": lambda read: read.min,
        "average without the lowest": lambda read: read.mean_without_lowest,
    }
)
PUT_BACK: Final = "average with set-aside pieces put back"
ESTIMATE: Final = "estimate"


def rank_sets(
    counted: Mapping[str, AsRead],
    put_back: Mapping[str, AsRead] | None = None,
    estimates: Mapping[str, float | None] | None = None,
) -> tuple[Ranking, ...]:
    """Rank sets by every average.

    Parameters
    ----------
    counted : the numbers as read of each set's pieces that count.
    put_back : of all its pieces, where some are set aside.
    estimates : typical strengths, where they are no averages (censored breaks).
    """
    found = [_rank(name, {level: pick(read) for level, read in counted.items()}) for name, pick in AVERAGES.items()]
    if put_back is not None:
        found.append(_rank(PUT_BACK, {level: put_back[level].mean for level in counted}))
    if estimates is not None:
        found.append(_rank(ESTIMATE, {level: estimates.get(level) for level in counted}))
    return tuple(found)


def _rank(name: str, values: Mapping[str, float | None]) -> Ranking:
    known = {level: value for level, value in values.items() if value is not None}
    order = [
        tuple(level for level, value in known.items() if value == step)
        for step in sorted(set(known.values()), reverse=True)
    ]
    return Ranking(name, values, tuple(order))


def say_rankings(rankings: Sequence[Ranking], bounded: Sequence[str] = ()) -> str:
    """Return whether the averages name the same winner; those that lack a set are named as no judges.

    Parameters
    ----------
    bounded : sets of which some pieces did not simply break: their numbers as read are no averages of strengths.
    """
    complete = [one for one in rankings if one.order and all(value is not None for value in one.values.values())]
    if not complete or len(complete[0].values) < 2:
        return ""
    if bounded:
        return (
            f"Averages of the numbers as read judge nothing here: some pieces of {list_some(bounded)} only held, fell "
            "apart or broke between two loads."
        )
    first = complete[0].winners
    if all(one.winners == first for one in complete):
        return f"Whatever average is taken, {and_join(list(first))} {'comes' if len(first) == 1 else 'come'} first."
    by_winner: dict[tuple[str, ...], list[str]] = {}
    for one in complete:
        by_winner.setdefault(one.winners, []).append(one.average)
    named = "; ".join(f"{and_join(names)}: {and_join(list(winners))}" for winners, names in by_winner.items())
    return f"The averages disagree about the winner. {capital(named)}."
