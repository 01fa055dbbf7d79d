"""Advice by use: what the breaks recommend where it is wet, gappy, quick, cheap, strong or end grain, and why."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from adhaero.bench.compare.view import CompareView
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.core.plan.exposures import ExposureKind, read_exposure
from adhaero.core.plan.fields import Factor
from adhaero.core.stats.analyse import Group
from adhaero.core.stats.pairs import Verdict
from adhaero.core.stats.words import and_join
from adhaero.store.plans import LevelRow, Treatment

_WET: Final = frozenset({ExposureKind.SOAK, ExposureKind.OUTDOORS})


@dataclass(frozen=True)
class _Use:
    """A use: its words, what varies in a trial that speaks of it, and which of its values do."""

    words: str
    kinds: frozenset[Factor]
    choose: Callable[[Sequence[LevelRow]], list[LevelRow]]


def _choose_wet(levels: Sequence[LevelRow]) -> list[LevelRow]:
    return [one for one in levels if (told := read_exposure(one.name)) is not None and told.kind in _WET]


def _choose_widest(levels: Sequence[LevelRow]) -> list[LevelRow]:
    known = [one for one in levels if one.value_si is not None]
    return [max(known, key=lambda one: one.value_si or 0.0)] if len(known) > 1 else []


def _choose_shortest(levels: Sequence[LevelRow]) -> list[LevelRow]:
    known = [one for one in levels if one.value_si is not None]
    return [min(known, key=lambda one: one.value_si or 0.0)] if len(known) > 1 else []


def _choose_end(levels: Sequence[LevelRow]) -> list[LevelRow]:
    return [one for one in levels if one.name.strip().lower().startswith("end")]


_USES: Final = (
    _Use("where it gets wet", frozenset({Factor.CONDITION}), _choose_wet),
    _Use("across a gap", frozenset({Factor.GAP}), _choose_widest),
    _Use("in a hurry", frozenset({Factor.CLAMP_TIME, Factor.CURE_TIME}), _choose_shortest),
    _Use("on end grain", frozenset({Factor.GRAIN}), _choose_end),
)


def advise(facts: PieceFacts, view: CompareView, price_of: Mapping[int, float]) -> list[str]:
    """Return what the numbers carry, a sentence a use, each with the pieces behind it.

    Parameters
    ----------
    price_of : what a gram of glue costs, by the id of its set; for the sets where it is known.
    """
    groups = {one.level: one for one in view.groups}
    made = [one for one in facts.made if not one.solid and one.name in groups]
    beats = _list_beaten(view)
    said = []
    for use in _USES:
        for factor in facts.factors.values():
            levels = [one for one in facts.levels.values() if one.factor_id == factor.id]
            if facts.kinds[factor.id] not in use.kinds or len(levels) < 2:
                continue
            for level in use.choose(levels):
                mine = [one for one in made if level in facts.levels_of.get(one.id, ())]
                said += _say(f"{use.words} ({level.name})", mine, groups, beats)
    plain = [one for one in made if (told := facts.planned_exposure_of_set(one)) is None or told.kind not in _WET]
    said += _say("for strength", plain, groups, beats)
    return [*said, *_say_cheap(plain, groups, view, price_of)]


def _list_beaten(view: CompareView) -> dict[str, set[str]]:
    """Return the sets that each set is stronger than."""
    beats: dict[str, set[str]] = {}
    for one in view.pairs:
        if one.verdict is Verdict.A_STRONGER:
            beats.setdefault(one.a, set()).add(one.b)
        if one.verdict is Verdict.B_STRONGER:
            beats.setdefault(one.b, set()).add(one.a)
    return beats


def _say(
    words: str, sets: Sequence[Treatment], groups: Mapping[str, Group], beats: Mapping[str, set[str]]
) -> list[str]:
    """Return who leads among sets that are alike but for one thing; nothing where nobody is known to."""
    names = [one.name for one in sets]
    if len(names) < 2:
        return []
    beaten = {name: beats.get(name, set()) & set(names) for name in names}
    lost = set().union(*beaten.values())
    leaders = [name for name in names if name not in lost and beaten[name]]
    open_ = [name for name in names if name not in lost and not beaten[name]]
    if not leaders:
        return []
    told = and_join([f"{name} ({groups[name].n} pieces)" for name in leaders])
    weaker = set().union(*(beaten[name] for name in leaders))
    behind = and_join([f"{name} ({groups[name].n})" for name in names if name in weaker])
    tie = ", which cannot be told apart," if len(leaders) > 1 else ""
    rest = f" {and_join(open_)} cannot be told from the lead." if open_ else ""
    verb = "are" if len(leaders) > 1 else "is"
    return [f"{words[:1].upper()}{words[1:]}: {told}{tie} {verb} stronger than {behind}.{rest}"]


def _say_cheap(
    sets: Sequence[Treatment], groups: Mapping[str, Group], view: CompareView, price_of: Mapping[int, float]
) -> list[str]:
    """Return the cheapest glue of those that hold as well as the best: known to be the same within what matters."""
    letters = {name: group.letters or "" for name, group in groups.items()}
    priced = [one for one in sets if one.id in price_of and groups[one.name].typical is not None]
    if len(priced) < 2:
        return []
    best = max(priced, key=lambda one: groups[one.name].typical or 0.0)
    same = [
        one for one in priced
        if one.id != best.id
        and price_of[one.id] < price_of[best.id]
        and any({pair.a, pair.b} == {one.name, best.name} and pair.verdict is Verdict.SAME for pair in view.pairs)
        and letters[one.name]
    ]  # fmt: skip
    if not same:
        return []
    cheap = min(same, key=lambda one: price_of[one.id])
    share = 100 * price_of[cheap.id] / price_of[best.id]
    return [
        f"For little money: {cheap.name} ({groups[cheap.name].n} pieces) is as strong as {best.name} "
        f"({groups[best.name].n}) within what matters, at {share:.0f} % of its price by weight."
    ]
