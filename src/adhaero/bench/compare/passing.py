"""Pass or fail: each set with its bounds, pooled over what does not matter, and what a claim would take."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from adhaero.bench.compare.breaks import Breaks, Choice, collect_breaks
from adhaero.bench.compare.slices import choose_slice, list_slices
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.core.stats.laws import CLEAR
from adhaero.core.stats.pass_groups import PassComparison, compare_passes
from adhaero.core.stats.pass_words import say_pass_pair, say_share
from adhaero.core.stats.passes import count_passes, say_passes
from adhaero.core.stats.words import and_join

_MOST_SAID = 6


@dataclass(frozen=True)
class PassRow:
    """One set: passed of n, the share, percent, its one-sided 95 % bounds, what a claim of 95 % takes; and in words."""

    level: str
    passed: int
    n: int
    share_pct: float
    at_least_pct: float
    at_most_pct: float
    more_for_claim: int
    words: str


@dataclass(frozen=True)
class PassView:
    """Sets of pieces that pass or fail: a row each, and their pairs in sentences, with what pools over slices."""

    rows: list[PassRow]
    said: list[str]


def view_passes(facts: PieceFacts, breaks: Breaks, choice: Choice) -> PassView | None:
    """Return what passes; None where nothing is to pass or fail."""
    if not breaks.passes:
        return None
    found = _compare(breaks.passes)
    rows = [
        PassRow(
            one.level, one.passed, one.n, 100 * one.share, 100 * one.at_least, 100 * one.at_most,
            (count := count_passes(one.passed, one.n)).more_for_claim, say_passes(one.level, count),
        )
        for one in sorted(found.groups, key=lambda one: -one.share)
    ]  # fmt: skip
    clear = [say_pass_pair(one) for one in found.pairs if one.p_adjusted < CLEAR]
    open_ = [say_pass_pair(one) for one in found.pairs if one.p_adjusted >= CLEAR]
    said = [*clear, *open_][:_MOST_SAID]
    if len(found.pairs) > _MOST_SAID:
        said.append(f"{len(clear)} of {len(found.pairs)} pairs are clear.")
    return PassView(rows, said + _pool(facts, choice))


def _compare(passes: Sequence[tuple[str, None, bool]]) -> PassComparison:
    return compare_passes(passes, list(dict.fromkeys(level for level, _, _ in passes)))


def _pool(facts: PieceFacts, choice: Choice) -> list[str]:
    """Return each set over all slices together, where the slices are not shown to differ."""
    first = choose_slice(facts)
    if first is None:
        return []
    names = [one for one in list_slices(facts) if one.name == first.name]
    slices = {one.value: collect_breaks(facts, replace(choice, slice=str(one))).passes or () for one in names}
    of_slice = [(value, None, passed) for value, passes in slices.items() for _, _, passed in passes]
    if len({value for value, _, _ in of_slice}) < 2:
        return []
    if clear := [one for one in _compare(of_slice).pairs if one.p_adjusted < CLEAR]:
        differ = and_join(list(dict.fromkeys(name for one in clear for name in (one.a, one.b))))
        return [f"Not pooled: {differ} differ in how often pieces pass."]
    pooled = _compare([one for passes in slices.values() for one in passes])
    return [
        f"Over all of {first.name} together, which is not shown to matter, {one.level}: {say_share(one)}."
        for one in pooled.groups
    ]
