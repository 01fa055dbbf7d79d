"""Dealing pieces to boards so that every board carries every set where it can, and shuffling places and orders."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from random import Random
from typing import TypeVar

import numpy as np

from adhaero.core.errors import PlanError

T = TypeVar("T")
_TRIES_MOST = 40_000
_STEPS_MOST = 250_000
_PATIENCE = 4_000
# need comes before lying on the board already, and that before having met the others: more than any of them can count
_TWICE_WEIGHS = 10**6
_NEED_WEIGHS = 10**10
_EFFICIENCY_MOST_SETS = 400


@dataclass(frozen=True)
class Place:
    """One planned piece: its set, its board and place on it (from 0), its turn to be glued and to be broken."""

    treatment: int
    board: int
    position: int
    glue_turn: int
    break_turn: int
    pair: int | None = None


@dataclass(frozen=True)
class Balance:
    """How evenly the sets share the boards.

    Attributes
    ----------
    complete : every board carries every set equally often.
    fewest_shared, most_shared : how often a piece of one set lies beside one of another on a board, over all pairs of
        sets.
    efficiency : of comparing two sets within boards against boards that carried everything, 0 to 1 (the harmonic mean
        of the canonical efficiency factors); None for a single set or sets that no chain of boards connects.
    bound : the most that this number of sets, pieces and places allows, v(k−1)/((v−1)k).
    """

    complete: bool
    fewest_shared: int
    most_shared: int
    efficiency: float | None
    bound: float | None


def break_by_board(places: Sequence[Place], seed: int) -> tuple[Place, ...]:
    """Return places broken board after board, boards and the pieces of each in an order by chance.

    After every board that is complete each set has as many pieces as it is to have: then a trial can be looked at.
    """
    boards = shuffled(sorted({one.board for one in places}), Random(seed))
    order = sorted(range(len(places)), key=lambda at: (boards.index(places[at].board), places[at].break_turn))
    turn_of = {at: turn for turn, at in enumerate(order)}
    return tuple(replace(one, break_turn=turn_of[at]) for at, one in enumerate(places))


def shuffled(items: Sequence[T], rng: Random) -> list[T]:
    """Return the items in random order (Fisher and Yates, on `Random.random`).

    `Random.shuffle` may change between Python versions; the numbers behind `random()` for a seed may not, and the
    same seed must give the same plan forever.
    """
    order = list(items)
    for last in range(len(order) - 1, 0, -1):
        other = int(rng.random() * (last + 1))
        order[last], order[other] = order[other], order[last]
    return order


def deal(
    counts: Sequence[int],
    holds: Sequence[int],
    seed: int,
    partners: Sequence[tuple[int, int]] = (),
    woods: tuple[Sequence[str | None], Sequence[str]] = ((), ()),
) -> tuple[Place, ...]:
    """Deal pieces to boards.

    Round by round every board gets one of each set that still needs pieces, as far as it has places; where it has
    fewer places than sets are left, the sets that need most go first, then those that met the board's others least,
    and swaps between boards then even out how often any two sets meet. Along the boards every set visits the places
    as evenly as can be.

    Parameters
    ----------
    counts : pieces of each set; holds : places on each board; seed : of the shuffling.
    partners : sets whose pieces are matched one to one and lie beside each other on a board; sets without a partner
        (baselines) take the places that are left.
    woods : the wood that each set is made of (None for any), and of each board; a set sits on boards of its wood only.

    Returns
    -------
    Places in board order, then place order.

    Raises
    ------
    PlanError : the boards hold too few pieces (of a wood), or matched sets differ in their number of pieces.
    """
    set_woods, board_woods = woods
    wanted = tuple(set_woods) or (None,) * len(counts)
    there = tuple(board_woods) or ("",) * len(holds)
    return _deal(tuple(counts), tuple(holds), seed, tuple(partners), wanted, there)


@lru_cache(maxsize=32)
def _deal(
    counts: tuple[int, ...],
    holds: tuple[int, ...],
    seed: int,
    partners: tuple[tuple[int, int], ...],
    set_woods: tuple[str | None, ...],
    board_woods: tuple[str, ...],
) -> tuple[Place, ...]:
    if sum(holds) < sum(counts):
        raise PlanError(
            f"The boards hold {sum(holds)} pieces and the plan has {sum(counts)}.",
            "Every piece needs a place.",
            f"Add a board, let the boards hold more, or plan {sum(counts) - sum(holds)} pieces less.",
            field="boards",
        )
    rng = Random(seed)
    units = _make_units(counts, partners)
    sizes = [len(unit) for unit in units]
    rows: list[list[int]] = [[] for _ in holds]
    # sets of a wood first: the others take the places that are left
    for wood in sorted(set(set_woods), key=lambda one: (one is None, one or "")):
        boards = [board for board, one in enumerate(board_woods) if wood in (None, one)]
        need = [counts[unit[0]] if set_woods[unit[0]] == wood else 0 for unit in units]
        room = [holds[board] - sum(sizes[unit] for unit in rows[board]) for board in boards]
        part = _fill(room, need, sizes, rng) or _fill_pairs_first(room, need, sizes, rng)
        if part is None:
            raise _no_room(room, need, sizes, wood)
        _even_out(part, sizes, rng)
        for board, row in zip(boards, part, strict=True):
            rows[board] += row
    seats = []
    pairs = 0
    for board, row in enumerate(_order_along(rows, len(units), rng)):
        position = 0
        for unit in row:
            matched = len(units[unit]) > 1
            pair = pairs if matched else None
            pairs += matched
            for treatment in shuffled(units[unit], rng):
                seats.append((board, position, treatment, pair))
                position += 1
    glue_turns = shuffled(range(len(seats)), rng)
    break_turns = shuffled(range(len(seats)), rng)
    return tuple(
        Place(treatment, board, position, glue_turn, break_turn, pair)
        for (board, position, treatment, pair), glue_turn, break_turn in zip(
            seats, glue_turns, break_turns, strict=True
        )
    )


def _no_room(room: Sequence[int], need: Sequence[int], sizes: Sequence[int], wood: str | None) -> PlanError:
    pairs = sum(number for number, size in zip(need, sizes, strict=True) if size > 1)
    size = 2 if pairs > sum(places // 2 for places in room) else 1
    things = "matched pairs" if size > 1 else "pieces"
    places = sum(each // size for each in room)
    pieces = pairs if size > 1 else sum(number * each for number, each in zip(need, sizes, strict=True))
    if wood is None:
        return PlanError(
            f"The boards hold {places} {things} and the plan has {pieces}.",
            "Both pieces of a pair come off one board." if size > 1 else "Every piece needs a place.",
            "Add a board, or let the boards hold more.",
            field="boards",
        )
    found = f"The boards of {wood} hold {places} {things}" if places else f"No board is of {wood}"
    return PlanError(
        f"{found}, and the plan has {pieces} of it.",
        "Each wood comes off boards of its own.",
        f"Add boards of {wood}, or let them hold more.",
        field="boards",
    )


def _make_units(counts: Sequence[int], partners: Sequence[tuple[int, int]]) -> list[tuple[int, ...]]:
    if not partners:
        return [(one,) for one in range(len(counts))]
    if any(counts[a] != counts[b] for a, b in partners):
        raise PlanError(
            "Matched sets have different numbers of pieces.",
            "Each piece has its partner.",
            "Give both the same number.",
            field="matched",
        )
    paired = {one for pair in partners for one in pair}
    return [tuple(pair) for pair in partners] + [(one,) for one in range(len(counts)) if one not in paired]


def _fill(holds: Sequence[int], counts: Sequence[int], sizes: Sequence[int], rng: Random) -> list[list[int]] | None:
    """Return the units (sets, or pairs of sets) on each board; None where not all find room this way."""
    need, room = list(counts), list(holds)
    rows: list[list[int]] = [[] for _ in holds]
    met = np.zeros((len(counts), len(counts)), dtype=np.int64)
    while sum(need):
        placed = 0
        for board, row in enumerate(rows):
            for unit in _choose(need, sizes, room[board], row, met, rng):
                for other in row:
                    met[unit, other] += 1
                    met[other, unit] += 1
                row.append(unit)
                need[unit] -= 1
                room[board] -= sizes[unit]
                placed += 1
        if not placed:
            return None
    return rows


def _fill_pairs_first(
    holds: Sequence[int], counts: Sequence[int], sizes: Sequence[int], rng: Random
) -> list[list[int]] | None:
    """Return the units on each board, single pieces in the places that pairs leave; None where there are too few."""
    pairs = _fill(holds, [number if size > 1 else 0 for number, size in zip(counts, sizes, strict=True)], sizes, rng)
    if pairs is None:
        return None
    left = [places - sum(sizes[unit] for unit in row) for places, row in zip(holds, pairs, strict=True)]
    singles = _fill(left, [0 if size > 1 else number for number, size in zip(counts, sizes, strict=True)], sizes, rng)
    return None if singles is None else [one + other for one, other in zip(pairs, singles, strict=True)]


def _choose(
    need: Sequence[int], sizes: Sequence[int], room: int, here: Sequence[int], met: np.ndarray, rng: Random
) -> list[int]:
    order = shuffled([one for one, left in enumerate(need) if left > 0 and sizes[one] <= room], rng)
    if room >= sum(sizes[one] for one in order):
        return order
    wanted = np.array(order)
    on_board = np.array([list(here).count(one) for one in order])
    first = -np.array([need[one] for one in order]) * _NEED_WEIGHS + on_board * _TWICE_WEIGHS
    ever = met[:, list(here)].sum(axis=1) if here else np.zeros(len(need), dtype=np.int64)
    chosen: list[int] = []
    never = np.iinfo(np.int64).max // 2
    while True:
        first[[sizes[one] > room for one in order]] = never
        at = int(np.argmin(first + ever[wanted]))
        if first[at] >= never:
            return chosen
        first[at] = never
        chosen.append(order[at])
        room -= sizes[order[at]]
        ever = ever + met[:, order[at]]


def _even_out(rows: list[list[int]], sizes: Sequence[int], rng: Random) -> None:
    """Swap sets between boards while that evens out how often any two sets meet.

    The sum of squared meetings is lowest when they are all alike; a swap of i on one board with j on another changes
    only the meetings of i and j with the others of the two boards.
    """
    sets = len(sizes)
    if len(rows) < 2 or sets < 2 or all(len(set(row)) in (0, sets) for row in rows):
        return
    pieces = sum(len(row) for row in rows)
    met = _count_meetings(rows, sets).tolist()
    since_better = 0
    for _ in range(min(_TRIES_MOST, _STEPS_MOST * len(rows) // pieces)):
        since_better += 1
        if since_better > _PATIENCE:
            return
        a, b = int(rng.random() * len(rows)), int(rng.random() * len(rows))
        if a == b or not rows[a] or not rows[b]:
            continue
        at, to = int(rng.random() * len(rows[a])), int(rng.random() * len(rows[b]))
        i, j = rows[a][at], rows[b][to]
        if i == j or sizes[i] != sizes[j]:
            continue
        rest_a, rest_b = rows[a][:at] + rows[a][at + 1 :], rows[b][:to] + rows[b][to + 1 :]
        if rest_a.count(j) > rest_a.count(i) or rest_b.count(i) > rest_b.count(j):
            continue
        of_i, of_j = met[i], met[j]
        change = sum(of_j[x] - of_i[x] + 1 for x in rest_a) + sum(of_i[y] - of_j[y] + 1 for y in rest_b)
        if change > 0:
            continue
        if change < 0:
            since_better = 0
        for x in rest_a:
            _meet(met, i, x, -1)
            _meet(met, j, x, 1)
        for y in rest_b:
            _meet(met, j, y, -1)
            _meet(met, i, y, 1)
        rows[a][at], rows[b][to] = j, i


def _meet(met: list[list[int]], one: int, other: int, by: int) -> None:
    met[one][other] += by
    if one != other:
        met[other][one] += by


def _count_meetings(rows: Sequence[Sequence[int]], sets: int) -> np.ndarray:
    """Return how many boards two sets share, counted with repeats; the diagonal is left at zero."""
    held = np.zeros((sets, len(rows)), dtype=np.int64)
    for board, row in enumerate(rows):
        for one in row:
            held[one, board] += 1
    shared = held @ held.T
    np.fill_diagonal(shared, 0)
    return shared


def _order_along(rows: Sequence[Sequence[int]], sets: int, rng: Random) -> list[list[int]]:
    """Return each board's sets in an order by which every set visits every place about equally often."""
    from scipy.optimize import linear_sum_assignment  # loaded where it is needed: the program starts at once

    longest = max((len(row) for row in rows), default=0)
    visits = np.zeros((sets, longest))
    ordered: list[list[int]] = []
    for row in rows:
        if not row:
            ordered.append([])
            continue
        chance = np.array([[rng.random() for _ in row] for _ in row])
        cost = visits[list(row), : len(row)] + 0.4 * chance
        which, places = linear_sum_assignment(cost)
        order = [0] * len(row)
        for one, place in zip(which.tolist(), places.tolist(), strict=True):
            order[place] = row[one]
            visits[row[one], place] += 1
        ordered.append(order)
    return ordered


@lru_cache(maxsize=32)
def measure_balance(layout: tuple[Place, ...], sets: int) -> Balance | None:
    """Return how evenly the sets share the boards; None without pieces or with one set.

    The efficiency is that of an additive model of sets and boards: the eigenvalues of R − N K⁻¹ Nᵀ, scaled by the
    replication (John and Williams, Cyclic and Computer Generated Designs, 1995, chapter 2).
    """
    if not layout or sets < 2:
        return None
    boards = max(place.board for place in layout) + 1
    held = np.zeros((sets, boards))
    for place in layout:
        held[place.treatment, place.board] += 1
    used = held.sum(axis=1) > 0
    held = held[used][:, held.sum(axis=0) > 0]
    v = held.shape[0]
    if v < 2:
        return None
    shared = held @ held.T
    apart = shared[~np.eye(v, dtype=bool)]
    complete = bool(np.all(held == held[0, 0])) or bool(np.all(held == held[0]))
    k = held.sum(axis=0)
    bound = 1.0 if complete else min(1.0, float(v * (k.mean() - 1) / ((v - 1) * k.mean()))) if k.mean() < v else 1.0
    return Balance(complete, int(apart.min()), int(apart.max()), _efficiency(held), bound)


def _efficiency(held: np.ndarray) -> float | None:
    if held.shape[0] > _EFFICIENCY_MOST_SETS:
        return None
    replication, k = held.sum(axis=1), held.sum(axis=0)
    information = np.diag(replication) - (held / k) @ held.T
    scale = 1 / np.sqrt(replication)
    values = np.sort(np.linalg.eigvalsh(information * np.outer(scale, scale)))[1:]
    if values[0] < 1e-9:
        return None
    return float(min(1.0, len(values) / np.sum(1 / values)))


def say_balance(balance: Balance, sets: int, places: int) -> str:
    """Return in words how evenly the sets share boards of so many places."""
    if balance.complete:
        return "Every board carries every set equally often: boards cannot favour a set."
    shares = (
        f"any two sets meet {balance.fewest_shared} time{'' if balance.fewest_shared == 1 else 's'} on a board"
        if balance.fewest_shared == balance.most_shared
        else f"two sets meet {balance.fewest_shared} to {balance.most_shared} times on a board"
    )
    words = f"A board has {places} places for {sets} sets; {shares}."
    if balance.efficiency is None:
        return f"{words} Some sets are connected to no others by any board: use more boards, or longer ones."
    share = balance.efficiency / balance.bound if balance.bound else 0.0
    return (
        f"{words} Comparing within boards keeps {100 * balance.efficiency:.0f} % of what complete boards would tell, "
        f"{min(100.0, 100 * share):.0f} % of the best possible for such boards."
    )


def find_next_seed(seed: int) -> int:
    """Return the seed after this one, 0 to 9999: the same one after the same, so that a shuffle can be told.

    Examples
    --------
    >>> find_next_seed(4117)
    7644
    """
    return (seed * 31 + 17) % 10_000
