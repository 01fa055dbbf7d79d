"""What a table of the book says of itself: who leads, what is known, what never met, and what it does not show."""

from collections.abc import Sequence
from typing import Final

from adhaero.bench.library.evidence import Says, Sided, is_solid
from adhaero.bench.library.tables import Solved, Table
from adhaero.core.plan.fields import Factor
from adhaero.core.stats.library import Compared
from adhaero.core.stats.library_words import say_leaders, say_never_met, say_order, say_routes
from adhaero.core.stats.words import capital, list_some

_MANY: Final = {"glue": "glues", "joint": "joints", "surface prep": "preps", "species": "species"}


def _many(table: Table) -> str:
    return _MANY.get(table.subject, f"kinds of {table.subject}")


def rank_parts(solved: Solved) -> list[list[str]]:
    """Return the things of each part, strongest first; the largest part first."""
    effects = dict(zip(solved.network.names, solved.network.effects, strict=True))
    parts = [sorted(part, key=lambda name: -effects[name]) for part in solved.network.parts]
    return sorted(parts, key=len, reverse=True)


def say_table_lead(table: Table, solved: Solved | None) -> list[str]:
    """Return who leads a table, and what no trial joins to them."""
    if solved is None:
        return ["Nothing is compared here yet: no trial has two of them with a scatter to judge by."]
    parts = rank_parts(solved)
    said = [say_leaders(solved.pairs, [one for one in parts[0] if not is_solid(one)], _many(table))]
    if len(parts) > 1:
        apart = [list_some(part) for part in parts[1:]]
        said.append(f"Nothing leads from them to {'; nor to '.join(apart)}: no trial joins them.")
    return said


def say_table_order(solved: Solved | None) -> list[str]:
    """Return the order of the joints; how they stand to solid wood is in the rows."""
    if solved is None:
        return []
    joints = [[one for one in part if not is_solid(one)] for part in rank_parts(solved)]
    return [said for part in joints for said in say_order(solved.pairs, part)]


def say_table_routes(solved: Solved | None) -> list[str]:
    """Return whether two ways of getting to the same comparison agree."""
    if solved is None:
        return []
    said = say_routes(dict(solved.split))
    if solved.more_to_split:
        said.append(f"{solved.more_to_split} more comparisons were not held against a second way: ask for one of them.")
    return said


def say_table_never(table: Table, solved: Solved | None) -> list[str]:
    """Return how many never met, part by part."""
    if solved is None:
        return []
    found = []
    for part in rank_parts(solved):
        names = [one for one in part if not is_solid(one)]
        mine: list[Compared] = [one for one in solved.pairs if one.a in names and one.b in names]
        if len(names) > 2:
            found.append(say_never_met(names, mine, _many(table)))
    return found


def list_never(solved: Solved | None) -> list[str]:
    """Return the pairs of joints that never met, and are compared through others."""
    pairs = () if solved is None else solved.pairs
    return [f"{one.a} and {one.b}" for one in pairs if not one.direct and not is_solid(one.a) and not is_solid(one.b)]


def say_bound(one: Says, bound: Sided) -> str:
    """Return what a set says that held, or fell apart, throughout."""
    did = "held throughout" if bound.held else "fell apart throughout"
    told = f"{capital(bound.name)} {did} in “{one.question}” ({bound.pieces} pieces)"
    if bound.ratio is None:
        return f"{told}: a bound, in no rank."
    side = "at least" if bound.held else "at most"
    return f"{told}: {side} {100 * bound.ratio:.0f} % of {bound.against}, a bound in no rank."


def list_mind(table: Table, says: Sequence[Says]) -> list[str]:
    """Return what the numbers of a table stand on, and what they do not show."""
    said = [
        "Joints as built, whatever gave way; pieces set aside, void and pilot pieces are left out.",
        "Each range holds for its own comparison in 19 of 20 such books; an order counts as known where it still holds "
        "with all pairs of the table looked at together.",
    ]
    said += _list_averaged(table)
    if table.joined:
        said.append(f"Joined by you: {list_some([one.words for one in (table.place, *table.joined)], '; ')}.")
    waiting = sum(one.waiting for one in table.says)
    if waiting:
        said.append(f"{waiting} pieces of these trials are not broken yet; their table moves as they are.")
    silent = [one for one in says if not one.evidence and one.place == table.place]
    if silent:
        said.append(
            f"{list_some([f'“{one.question}”' for one in silent])}: broken, and too little to compare by itself."
        )
    return said


# what a table is cut by, or says by itself
_OWN_PLACE: Final = frozenset({Factor.CONDITION, Factor.JOINT, Factor.GRAIN, Factor.SPECIES})


def _list_averaged(table: Table) -> list[str]:
    """Return over what the trials of a table differ within themselves and from each other, and where that goes."""
    said = []
    woods = list(dict.fromkeys(wood for one in table.says for wood in one.woods))
    beside = dict.fromkeys(words for one in table.says for kind, words in one.beside if kind not in _OWN_PLACE)
    if beside:
        said.append(
            f"Averaged over the values of what trials varied besides: {list_some(list(beside))}. What one of them does "
            "for some and not for others stands on that trial's own page."
        )
    if len(woods) > 1:
        said.append(
            f"Over {list_some(woods)}: what one wood does better than another counts as scatter between trials."
        )
    if len(table.says) > 1:
        said.append(
            "Age at the test, clamp time and pressure are each trial's own: what they do to one more than to another "
            "counts as scatter between trials too."
        )
    return said
