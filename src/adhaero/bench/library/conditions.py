"""Conditions from two trials: what was broken dry last year and soaked now, told for what it is."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import exp, sqrt

from adhaero.bench.library.evidence import Place, is_solid
from adhaero.bench.library.tables import Solved, Table, solve_table
from adhaero.core.stats.laws import LIKELY, find_t
from adhaero.core.stats.words import and_join, capital, say_difference, say_span


@dataclass(frozen=True)
class KeptLine:
    """What one thing keeps, held against what another keeps; `words` say how far that is known."""

    name: str
    against: str
    ratio: float
    low: float
    high: float
    words: str


@dataclass(frozen=True)
class ConditionsView:
    """Two tables that differ in the condition alone.

    Attributes
    ----------
    before, after : the conditions. lines : things in both, against what `against` keeps. plain : what each keeps by the
    numbers as they stand, in words. why : what that does not show.
    """

    before: str
    after: str
    against: str
    lines: list[KeptLine]
    plain: str
    why: str


def view_conditions(table: Table, tables: Sequence[Table]) -> list[ConditionsView]:
    """Return what things keep from a table to each other one that differs in the condition alone."""
    found = []
    for other in tables:
        if (
            other is table
            or other.subject != table.subject
            or _but_condition(other.place) != _but_condition(table.place)
        ):
            continue
        first, second = solve_table(table.evidence), solve_table(other.evidence)
        if first is None or second is None:
            continue
        shared = [name for name in first.network.names if name in second.network.names]
        if len(shared) > 1:
            found.append(_view(table, other, first, second, shared))
    return found


def _but_condition(place: Place) -> Place:
    return replace(place, condition="")


def _view(table: Table, other: Table, first: Solved, second: Solved, shared: Sequence[str]) -> ConditionsView:
    base = max(shared, key=lambda name: table.pieces_of(name) + other.pieces_of(name))
    lines = []
    for name in shared:
        if name == base or not first.network.are_joined(name, base) or not second.network.are_joined(name, base):
            continue
        before, after = first.network.find(name, base), second.network.find(name, base)
        shift, se = after[0] - before[0], sqrt(before[1] ** 2 + after[1] ** 2)
        # Satterthwaite over the two tables, which share no piece
        below = sum(one[1] ** 4 / one[2] for one in (before, after))
        reach = find_t(LIKELY, se**4 / below if below > 0 else float("inf")) * se
        low, high = exp(shift - reach), exp(shift + reach)
        more = "more" if shift > 0 else "less"
        told = (
            f"{capital(name)} keeps {more} of its strength than {base} does: {say_difference(exp(shift))} "
            f"({say_span(low, high)})."
            if low > 1 or high < 1
            else f"Whether {name} keeps more of its strength than {base} is not known ({say_span(low, high)})."
        )
        lines.append(KeptLine(name, base, exp(shift), low, high, told))
    said = _typical(table), _typical(other)
    kept = [
        f"{name} {'kept ' if at == 0 else ''}{100 * exp(said[1][name] - said[0][name]):.0f} %"
        f"{' of what it was' if at == 0 else ''}"
        for at, name in enumerate(one for one in shared if one in said[0] and one in said[1] and not is_solid(one))
    ]
    plain = f"As the numbers stand, {and_join(kept)}." if kept else ""
    same = {one.trial_id for one in table.says} & {one.trial_id for one in other.says}
    why = (
        "The shares stand on trials that broke both conditions; their own pages have the ranges."
        if same == {one.trial_id for one in table.says} | {one.trial_id for one in other.says}
        else "The shares as they stand compare other boards on other days, so they have no range; what one keeps "
        f"against what {base} keeps does not depend on that."
    )
    return ConditionsView(table.place.condition, other.place.condition, base, lines, plain, why)


def _typical(table: Table) -> Mapping[str, float]:
    """Return the logarithm of the typical strength of each thing, the average of its trials."""
    logs: dict[str, list[float]] = {}
    for one in table.says:
        for name, log in one.typical:
            logs.setdefault(name, []).append(log)
    return {name: sum(mine) / len(mine) for name, mine in logs.items()}
