"""Advice by use over all trials: which glue of this shop where it gets wet, on what evidence, and what is unknown."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Final

from adhaero.bench.compare.advice import advise
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.view import view_compare
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.library.evidence import Place, is_solid
from adhaero.bench.library.tables import Table, solve_table
from adhaero.bench.shop.supplies import Supplies, read_supplies
from adhaero.core.plan.exposures import EXPOSURES, ExposureKind
from adhaero.core.plan.fields import Factor
from adhaero.core.stats.library_words import say_leaders
from adhaero.core.stats.pairs import Verdict, judge
from adhaero.core.stats.words import and_join, capital
from adhaero.store.file import ShopFile

_MOST_TRIALS: Final = 4


@dataclass(frozen=True)
class UseView:
    """One use: what is said of it, on what evidence; `known` where a trial of this shop speaks of it at all."""

    use: str
    words: str
    evidence: str
    known: bool


def _is_in(kind: ExposureKind) -> Callable[[Place], bool]:
    return lambda place: EXPOSURES[kind] in place.condition


_PLACES: Final[Sequence[tuple[str, Callable[[Place], bool]]]] = (
    ("Kept dry", lambda place: place.condition == "kept as they are"),
    ("Where it gets wet", _is_in(ExposureKind.SOAK)),
    ("Outdoors", _is_in(ExposureKind.OUTDOORS)),
    ("On end grain", lambda place: "end" in place.grain.split()),
)
# what varies within a trial, and how the advice of its own page begins
_WITHIN: Final = (
    ("Across a gap", frozenset({Factor.GAP}), "Across a gap"),
    ("In a hurry", frozenset({Factor.CLAMP_TIME, Factor.CURE_TIME}), "In a hurry"),
)


def list_uses(file: ShopFile, tables: Sequence[Table]) -> list[UseView]:
    """Return which glues lead for each use that this shop asked about, and the uses that nothing speaks of."""
    glues = [one for one in tables if one.kind is Factor.GLUE]
    if not glues:
        return []
    with file.reading() as connection:
        supplies = read_supplies(connection)
    found = [_say_place(use, [one for one in glues if fits(one.place)]) for use, fits in _PLACES]
    found += [_say_within(file, glues, use, kinds, start) for use, kinds, start in _WITHIN]
    cheap = _say_cheap(glues[0], supplies)
    return [*found, *([cheap] if cheap else [])]


def _say_place(use: str, tables: Sequence[Table]) -> UseView:
    """Return who leads in the table of a use that has most trials."""
    for table in sorted(tables, key=lambda one: -len(one.says)):
        solved = solve_table(table.evidence)
        if solved is None:
            continue
        effects = dict(zip(solved.network.names, solved.network.effects, strict=True))
        parts = [[name for name in part if not is_solid(name)] for part in solved.network.parts]
        longest = max(parts, key=lambda part: len(part))
        part = sorted(longest, key=lambda name: -effects[name])
        if len(part) < 2:
            continue
        trials = len({one.trial_id for one in table.says})
        pieces = sum(table.pieces_of(name) for name in part)
        evidence = f"{pieces} pieces in {trials} trial{'s' if trials > 1 else ''}: {table.words}"
        return UseView(use, say_leaders(solved.pairs, part, "glues"), evidence, True)
    return UseView(use, "Nothing that was broken here speaks of it.", "", False)


def _say_within(file: ShopFile, tables: Sequence[Table], use: str, kinds: frozenset[Factor], start: str) -> UseView:
    """Return what the latest trial of glues that varies it advises, as its own page says it."""
    found = {
        one.trial_id: one.last_day for table in tables for one in table.says if kinds & {kind for kind, _ in one.beside}
    }
    latest = sorted(found, key=lambda key: (found[key], key), reverse=True)[:_MOST_TRIALS]
    for trial_id in latest:
        with file.reading() as connection:
            facts = read_trial(connection, trial_id)
        view = view_compare(file, trial_id, Choice())
        said = [one for one in advise(facts, view, {}) if one.startswith(start)]
        if said:
            return UseView(use, " ".join(said), f"“{facts.trial.question}”", True)
    return UseView(use, "Nothing that was broken here speaks of it.", "", False)


def _say_cheap(table: Table, supplies: Supplies) -> UseView | None:
    """Return the cheapest of the glues that no other is known to be stronger than; None without two prices."""
    solved = solve_table(table.evidence)
    if solved is None:
        return None
    prices = {
        name: card.price / card.pack_mass_g
        for name in solved.network.names
        if (card := supplies.glue(name)) is not None and card.price is not None and card.pack_mass_g
    }
    if len(prices) < 2:
        return None
    effects = dict(zip(solved.network.names, solved.network.effects, strict=True))
    best = max(prices, key=lambda name: effects[name])
    cheaper = [
        name
        for name in prices
        if prices[name] < prices[best]
        and any({one.a, one.b} == {name, best} and judge(one.range95, 1.1) is Verdict.SAME for one in solved.pairs)
    ]
    without = [name for name in solved.network.names if name not in prices and not is_solid(name)]
    missing = f"; without a price: {and_join(without)}" if without else ""
    if not cheaper:
        return UseView("For little money", f"No glue with a price is as strong as {best} within 10 % and cheaper.",
                       f"prices of {and_join(list(prices))}{missing}", True)  # fmt: skip
    cheap = min(cheaper, key=lambda name: prices[name])
    share = 100 * prices[cheap] / prices[best]
    words = f"{capital(cheap)} is as strong as {best} within 10 %, at {share:.0f} % of its price by weight."
    return UseView("For little money", words, f"prices of {and_join(list(prices))}{missing}", True)
