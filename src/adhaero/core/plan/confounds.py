"""Causes that move together: where a difference between sets could come from something else."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations


@dataclass(frozen=True)
class Dealt:
    """What could make a piece strong or weak besides its set; None where it is not known (yet)."""

    treatment: str
    board: str
    species: str
    glue_turn: float | None = None
    glue_up: str | None = None
    break_turn: float | None = None
    clamp_round: str | None = None


def find_confounds(pieces: Sequence[Dealt]) -> tuple[str, ...]:
    """Return a sentence for each cause that moves with the sets.

    Looks at boards, species and clamping rounds (a set that sits in one of several only), at glue-ups (one for each
    set), and at the order of gluing and of breaking (every piece of one set before any piece of another).
    """
    sets = list(dict.fromkeys(one.treatment for one in pieces))
    if len(sets) < 2:
        return ()
    members = {name: [one for one in pieces if one.treatment == name] for name in sets}
    found = []
    for words, field in (("is on one board", "board"), ("is of one wood", "species")):
        found += _on_one_only(members, words, field)
    if not _one_each(members, "glue_up"):
        found += _on_one_only(members, "was in one round of the clamps", "clamp_round")
    found += _one_glue_up_each(members)
    found += _always_before(members, "glue_turn", "glued")
    found += _always_before(members, "break_turn", "broken")
    return tuple(found)


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


def _on_one_only(members: dict[str, list[Dealt]], words: str, field: str) -> list[str]:
    everywhere = {value for group in members.values() for one in group if (value := getattr(one, field)) is not None}
    if len(everywhere) < 2:
        return []
    thing = words.split(" one ")[-1]
    found = []
    for name, group in members.items():
        used = {value for one in group if (value := getattr(one, field)) is not None}
        if len(used) == 1 and len(group) > 1:
            found.append(f"All of {name} {words} ({used.pop()}): a strong {thing} would look like a strong set.")
    return found


def _one_glue_up_each(members: dict[str, list[Dealt]]) -> list[str]:
    if not _one_each(members, "glue_up"):
        return []
    return ["Each set was glued in one glue-up of its own: one bad mix or slow clamping would look like the set."]


def _one_each(members: dict[str, list[Dealt]], field: str) -> bool:
    """Return whether each set has one of something that no other set has."""
    had = {name: {value for one in group if (value := getattr(one, field))} for name, group in members.items()}
    had = {name: values for name, values in had.items() if values}
    everything = [value for values in had.values() for value in values]
    if len(had) < 2 or len(set(everything)) < len(everything) or any(len(values) > 1 for values in had.values()):
        return False
    return all(len(members[name]) > 1 for name in had)


def _always_before(members: dict[str, list[Dealt]], field: str, verb: str) -> list[str]:
    turns = {
        name: [turn for one in group if (turn := getattr(one, field)) is not None] for name, group in members.items()
    }
    turns = {name: values for name, values in turns.items() if len(values) > 1}
    if len(turns) < 2:
        return []
    first, second = sorted(turns, key=lambda name: min(turns[name]))[:2]
    if max(turns[first]) > min(turns[second]):
        return []
    return [f"All of {first} was {verb} before any other set: a change in the shop meanwhile would look like the set."]
