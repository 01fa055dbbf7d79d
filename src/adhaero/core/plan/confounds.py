"""Causes that move together: where a difference between sets could come from something else."""

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import TypeVar

from adhaero.core.stats.words import list_some

Value = TypeVar("Value")


@dataclass(frozen=True)
class Dealt:
    """What could make a piece strong or weak besides its set; None where it is not known (yet)."""

    treatment: str
    board: str
    species: str
    glue_turn: float | None = None
    batch: str | None = None
    break_turn: float | None = None


def find_confounds(pieces: Sequence[Dealt], rounds: Sequence[int | None] = ()) -> tuple[str, ...]:
    """Return a sentence for each cause that moves with the sets.

    Looks at boards, species and clamping rounds (a set that sits in one of several only), at glue-ups (one for each
    set), and at the order of gluing and of breaking (every piece of one set before any piece of another).

    Parameters
    ----------
    rounds : the clamping round of each piece, None where it was in no clamps; nothing where none is known.
    """
    sizes = Counter(one.treatment for one in pieces)
    if len(sizes) < 2:
        return ()

    def of_sets(values: Iterable[Value | None]) -> dict[str, list[Value]]:
        found: dict[str, list[Value]] = {name: [] for name in sizes}
        for one, value in zip(pieces, values, strict=True):
            if value is not None:
                found[one.treatment].append(value)
        return found

    batches = of_sets(one.batch for one in pieces)
    apart = _one_each(batches, sizes)
    return (
        *_on_one_only(of_sets(one.board for one in pieces), sizes, "is on one board"),
        *_on_one_only(of_sets(one.species for one in pieces), sizes, "is of one wood"),
        *(
            _on_one_only(
                of_sets(None if turn is None else f"round {turn}" for turn in rounds),
                sizes,
                "was in one round of the clamps",
            )
            if rounds and not apart
            else []
        ),
        *(
            ["Each set was glued in one glue-up of its own: one bad mix or slow clamping would look like the set."]
            if apart
            else []
        ),
        *_always_before(of_sets(one.glue_turn for one in pieces), "glued"),
        *_always_before(of_sets(one.break_turn for one in pieces), "broken"),
    )


def find_linked(made_of: Sequence[Mapping[str, str]]) -> tuple[str, ...]:
    """Return a sentence for each two things that are varied together only: each value of one with one of the other.

    Parameters
    ----------
    made_of : for each set, its values by what is varied.

    Examples
    --------
    >>> find_linked([{"overlap": "20 mm", "species": "ash"}, {"overlap": "25 mm", "species": "larch"}])[0][:35]
    'Overlap and species change together'
    """
    found = []
    for one, other in combinations(dict.fromkeys(name for made in made_of for name in made), 2):
        seen = {(made[one], made[other]) for made in made_of if one in made and other in made}
        ones, others = {a for a, _ in seen}, {b for _, b in seen}
        if len(seen) == len(ones) == len(others) > 1:
            found.append(
                f"{one[:1].upper()}{one[1:]} and {other} change together in every set: which of them made a difference "
                "could not be told. Take another combination in."
            )
    return tuple(found)


def _on_one_only(used: Mapping[str, Sequence[str]], sizes: Mapping[str, int], words: str) -> list[str]:
    if len({value for values in used.values() for value in values}) < 2:
        return []
    thing = words.split(" one ")[-1]
    found = [(name, values[0]) for name, values in used.items() if sizes[name] > 1 and len(set(values)) == 1]
    if not found:
        return []
    if len(found) == 1:
        return [f"All of {found[0][0]} {words} ({found[0][1]}): a strong {thing} would look like a strong set."]
    listed = list_some([f"{name} ({value})" for name, value in found])
    each = words.replace("is ", "are each ", 1).replace("was ", "were each ", 1)
    return [f"All pieces of {listed} {each}: a strong {thing} would look like a strong set."]


def _one_each(used: Mapping[str, Sequence[str]], sizes: Mapping[str, int]) -> bool:
    """Return whether each set has one of something that no other set has."""
    had = {name: set(values) for name, values in used.items() if values}
    everything = [value for values in had.values() for value in values]
    if len(had) < 2 or len(set(everything)) < len(everything) or any(len(values) > 1 for values in had.values()):
        return False
    return all(sizes[name] > 1 for name in had)


def _always_before(turns: Mapping[str, Sequence[float]], verb: str) -> list[str]:
    turns = {name: values for name, values in turns.items() if len(values) > 1}
    if len(turns) < 2:
        return []
    first, second = sorted(turns, key=lambda name: min(turns[name]))[:2]
    if max(turns[first]) >= min(turns[second]):
        return []
    return [f"All of {first} was {verb} before any other set: a change in the shop meanwhile would look like the set."]
