"""May I stop? Looks while breaking, after every complete board, that together err once in twenty at most.

The whole 5 % is spent over the looks as Lan and DeMets' function that is like O'Brien and Fleming's does (Biometrika
70, 1983), half of it to each side: hardly anything early, nearly all at the end. How far two sets must then be apart
follows from many trials on paper in which no set differs: sets on boards, scatter estimated from what is broken so far
(docs/method).
"""

from dataclasses import dataclass
from functools import lru_cache
from math import inf, isfinite, log, sqrt
from typing import Final

import numpy as np
from scipy import special

from adhaero.core.stats.families import all_pairs
from adhaero.core.stats.laws import find_normal

ALPHA: Final = 0.05
_RUNS: Final = 100_000
_FEWEST_RUNS: Final = 20_000
_MOST_NUMBERS: Final = 60_000_000
_CHUNK: Final = 2_000_000
_SEED: Final = 1983
# a look that less than this is left for passes it on to the next: it cannot be told from so many trials on paper
_LEAST_SPENT: Final = 1e-4
_LEAST_LEVEL: Final = 1e-6


@dataclass(frozen=True)
class Looks:
    """The looks of a trial, one after each complete board.

    Attributes
    ----------
    ranges : (K,) how far apart the studentized range must be for a difference to be told; infinite for no look.
    levels : (K,) the chance of as much at that look alone: all ranges of the look are made for 1 − level.
    """

    ranges: tuple[float, ...]
    levels: tuple[float, ...]


def spend(share: float, alpha: float = ALPHA) -> float:
    """Return how much of the error may be spent when this share of the boards is complete, half of it to each side.

    Examples
    --------
    >>> round(spend(0.5), 4), round(spend(1.0), 4)
    (0.0031, 0.05)
    """
    return 4 * float(special.ndtr(-find_normal(1 - alpha / 4) / sqrt(share))) if share > 0 else 0.0


@lru_cache(maxsize=64)
def plan_looks(boards: int, sets: int, each: int = 1, *, known_scatter: bool = False, seed: int = _SEED) -> Looks:
    """Return the looks of a trial in which every board carries every set.

    Parameters
    ----------
    boards : K. sets : that are compared, all pairs of them. each : pieces of a set on a board.
    known_scatter : as if the scatter were known, for comparison with tables that were printed.
    """
    runs = max(_FEWEST_RUNS, min(_RUNS, _MOST_NUMBERS // (boards * sets)))
    seen = _simulate(boards, sets, each, runs, seed, known_scatter=known_scatter)
    alive = np.ones(runs, dtype=bool)
    ranges, crossed = [], 0
    for look in range(boards):
        wanted = round(runs * spend((look + 1) / boards)) - crossed
        here = seen[look]
        left = np.sort(here[alive])
        if wanted < _LEAST_SPENT * runs or not isfinite(left[-1]) or wanted >= left.size:
            ranges.append(inf)
            continue
        at = float((left[-wanted - 1] + left[-wanted]) / 2)
        ranges.append(at)
        over = alive & (here > at)
        crossed += int(over.sum())
        alive &= ~over
    levels = [_find_level(at, look + 1, sets, each, known_scatter=known_scatter) for look, at in enumerate(ranges)]
    return Looks(tuple(ranges), tuple(levels))


def _find_level(at: float, boards: int, sets: int, each: int, *, known_scatter: bool) -> float:
    df = _count_free(boards, sets, each)
    if not isfinite(at) or df < 1:
        return _LEAST_LEVEL
    chance = all_pairs(sets).compute_sf(np.array([at]), np.array([inf if known_scatter else float(df)]))[0]
    return max(_LEAST_LEVEL, float(chance))


def _count_free(boards: int, sets: int, each: int) -> int:
    return boards * sets * each - sets - boards + 1


def _simulate(
    boards: int, sets: int, each: int, runs: int, seed: int, *, known_scatter: bool
) -> "np.ndarray[tuple[int, ...], np.dtype[np.float64]]":
    """Return the studentized range at every look of every run, (boards, runs); infinite without a scatter."""
    chance = np.random.default_rng(seed)
    found = np.zeros((boards, runs))
    step = max(1, _CHUNK // sets)
    for start in range(0, runs, step):
        n = min(step, runs - start)
        sums, squares, board_squares, total = np.zeros((n, sets)), np.zeros(n), np.zeros(n), np.zeros(n)
        for look in range(1, boards + 1):
            # a set's mean on this board, in units of the scatter of one piece
            cells = chance.standard_normal((n, sets)) / sqrt(each)
            sums += cells
            squares += each * (cells**2).sum(axis=1)
            if each > 1:
                squares += chance.chisquare(sets * (each - 1), n)
            of_board = cells.sum(axis=1)
            board_squares += each * of_board**2 / sets
            total += of_board
            spread = np.ptp(sums, axis=1) / look
            df = _count_free(look, sets, each)
            if known_scatter:
                found[look - 1, start : start + n] = spread * sqrt(look * each)
                continue
            if df < 1:
                continue
            left = squares - board_squares - each * (sums**2).sum(axis=1) / look + each * total**2 / (look * sets)
            scatter = np.sqrt(np.maximum(left, 1e-300) / df)
            found[look - 1, start : start + n] = spread * sqrt(look * each) / scatter
    return found


def count_more(looks: Looks, done: int, shift: float, sigma: float, margin: float, each: int = 1) -> int | None:
    """Return how many more boards would settle a pair if the numbers stay as they are; None where not even all would.

    Parameters
    ----------
    done : boards that are complete. shift : the difference on logarithms. sigma : scatter of logarithms.
    margin : the smallest difference that matters, on logarithms.
    """
    for look in range(done + 1, len(looks.ranges) + 1):
        reach = looks.ranges[look - 1] * sigma / sqrt(look * each)
        if abs(shift) > reach or abs(shift) + reach <= margin:
            return look - done
    return None


def find_margin(margin_pct: float) -> float:
    """Return the smallest difference that matters on logarithms."""
    return log(1 + margin_pct / 100)
