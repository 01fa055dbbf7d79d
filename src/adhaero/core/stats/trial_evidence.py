"""What one trial says of the things that it compares: their log strengths up to one number, with their covariance."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from math import isfinite

import numpy as np

from adhaero.core.stats.scatter import Floats
from adhaero.core.stats.sets import SetsFit


@dataclass(frozen=True)
class Evidence:
    """What one trial says of the things that it compares.

    Attributes
    ----------
    trial : whose it is. names : of the m things compared. effects : (m,) logarithms, known up to one number for all.
    covariance : (m, m) of them; only differences count. df : degrees of freedom of its scatter. pieces : (m,) of each.
    """

    trial: int
    names: tuple[str, ...]
    effects: tuple[float, ...]
    covariance: tuple[tuple[float, ...], ...]
    df: float
    pieces: tuple[int, ...] = ()

    @cached_property
    def differences(self) -> tuple[Floats, Floats]:
        """Return how the others differ from the first, (m − 1,) logarithms, and their covariance."""
        effects, covariance = np.array(self.effects), np.array(self.covariance)
        turn = _from_first(len(self.names))
        return turn @ effects, turn @ covariance @ turn.T

    def compare(self, a: str, b: str) -> tuple[float, float] | None:
        """Return how a differs from b in this trial, a logarithm, and its variance; None where it has not both."""
        if a not in self.names or b not in self.names:
            return None
        one, other = self.names.index(a), self.names.index(b)
        covariance = np.array(self.covariance)
        variance = covariance[one, one] + covariance[other, other] - 2 * covariance[one, other]
        return self.effects[one] - self.effects[other], float(variance)


def _from_first(m: int) -> Floats:
    return np.hstack([-np.ones((m - 1, 1)), np.eye(m - 1)])


def find_joined(groups: Sequence[Sequence[str]]) -> tuple[tuple[str, ...], ...]:
    """Return the names that groups join, each part in the order in which its names were first met."""
    part_of: dict[str, list[str]] = {}
    order = list(dict.fromkeys(name for group in groups for name in group))
    for group in groups:
        joined = list(dict.fromkeys(name for each in group for name in part_of.get(each, [each])))
        for name in joined:
            part_of[name] = joined
    return tuple(
        tuple(sorted(part, key=order.index)) for part in {id(part_of[name]): part_of[name] for name in order}.values()
    )


def join_cells(
    effects: Floats, covariance: Floats, things: Sequence[str], cells: Sequence[object]
) -> list[tuple[tuple[str, ...], Floats, Floats]]:
    """Return what a trial says of things that stand in several cells (other things that vary beside them).

    Each cell has a number of its own, taken out by weighted least squares, so that things are compared under the same
    other values alone.

    Parameters
    ----------
    effects, covariance : (k,), (k, k) of the sets; things, cells : (k,) what each set is of.

    Returns
    -------
    For each part that cells join: its things, their (m,) logarithms against the first, and their (m, m) covariance.
    """
    found = []
    for part in find_joined([(thing, f"\0{cell}") for thing, cell in zip(things, cells, strict=True)]):
        names = tuple(name for name in part if not name.startswith("\0"))
        if len(names) < 2:
            continue
        mine = [at for at, thing in enumerate(things) if thing in names]
        own = list(dict.fromkeys(cells[at] for at in mine))
        design = np.zeros((len(mine), len(own) + len(names) - 1))
        for row, at in enumerate(mine):
            design[row, own.index(cells[at])] = 1.0
            if (place := names.index(things[at])) > 0:
                design[row, len(own) + place - 1] = 1.0
        weights = np.linalg.pinv(covariance[np.ix_(mine, mine)], hermitian=True)
        inside = np.linalg.pinv(design.T @ weights @ design, hermitian=True)
        solution = inside @ (design.T @ weights @ effects[mine])
        m = len(names)
        logs, spread = np.zeros(m), np.zeros((m, m))
        logs[1:] = solution[len(own) :]
        spread[1:, 1:] = inside[len(own) :, len(own) :]
        found.append((names, logs, spread))
    return found


def make_evidence(
    trial: int, fit: SetsFit, things: Sequence[str | None], cells: Sequence[object]
) -> tuple[Evidence, ...]:
    """Return what the sets of a trial say of the things that they are of.

    Parameters
    ----------
    things, cells : (k,) what each set is of, None for one that takes no part, and under which other values.

    Returns
    -------
    One for each part that cells join; none where there is no scatter to judge differences by.
    """
    known = [
        at
        for at, thing in enumerate(things)
        if thing is not None and isfinite(fit.effects[at]) and fit.covariance[at, at] > 0
    ]
    if not fit.judged or len(known) < 2:
        return ()
    turns = np.zeros((len(known) - 1, fit.effects.size))
    turns[:, known[0]] = -1.0
    turns[np.arange(len(known) - 1), known[1:]] = 1.0
    df = float(np.min(fit.find_df(turns)))
    joined = join_cells(
        fit.effects[known],
        fit.covariance[np.ix_(known, known)],
        [things[at] or "" for at in known],
        [cells[at] for at in known],
    )
    made = [
        Evidence(
            trial,
            names,
            tuple(map(float, effects)),
            tuple(tuple(map(float, row)) for row in covariance),
            df,
            tuple(int(sum(fit.own.tally.n[at] for at in known if things[at] == name)) for name in names),
        )
        for names, effects, covariance in joined
    ]
    return tuple(one for one in made if df > 0 and is_usable(one))


def is_usable(evidence: Evidence) -> bool:
    """Return whether every difference of a trial is known with a range."""
    shifts, covariance = evidence.differences
    finite = np.isfinite(shifts).all() and np.isfinite(covariance).all()
    return bool(finite and (np.linalg.eigvalsh(covariance) > 0).all())
