"""What factors and conditions do, in plain words made from fields of the result."""

from collections.abc import Sequence

from adhaero.core.stats.factors import FactorEffect, Factors, Together
from adhaero.core.stats.laws import CLEAR
from adhaero.core.stats.pairs import Pair, Verdict
from adhaero.core.stats.retention import Kept, Retention
from adhaero.core.stats.verdict import say_pair
from adhaero.core.stats.words import and_join, say_chance, say_percent

_MOST_SAID = 6
_MOST_WINNERS = 3
_MOST_LISTED = 15


def say_effect(effect: FactorEffect, margin_pct: float, others: str) -> list[str]:
    """Return what one factor does by itself; `others` names what it is averaged over."""
    if not effect.pairs and effect.averaged_over:
        return [f"{effect.factor}: there is not one piece more than combinations; no scatter is left to judge it by."]
    if not effect.pairs:
        return [f"{effect.factor}: no combination of {others} was made with every value of it; no effect can be told."]
    over = f", averaged over {others}" if effect.of > 1 else ""
    part = f" ({effect.averaged_over} of {effect.of} combinations)" if effect.averaged_over < effect.of else ""
    said = [say_pair(pair, margin_pct, _smaller(effect, pair)) for pair in effect.pairs[:_MOST_SAID]]
    more = [f"And {len(effect.pairs) - _MOST_SAID} more pairs."] if len(effect.pairs) > _MOST_SAID else []
    return [f"{effect.factor}{over}{part}: {' '.join([*said, *more])}"]


def _smaller(effect: FactorEffect, pair: Pair) -> int:
    return min(one.n for one in effect.levels if one.level in (pair.a, pair.b))


def say_together(one: Together) -> str:
    """Return whether what one factor does depends on another, and where it helps.

    That a difference shows at one value and not at another does not make the two differ: "only" is said where the test
    of acting together is clear.
    """
    if one.test is None:
        return (
            f"Whether the effect of {one.factor} depends on {one.other} cannot be told: nothing is left to judge it by."
        )
    chance = f"chance alone does as much {say_chance(one.test.p)}"
    if one.test.p >= CLEAR:
        return f"That {one.other} changes the effect of {one.factor} is not shown ({chance})."
    places = {name: _winners(inside.pairs) for inside in one.inside if (name := inside.at)}
    clear = {at: winners for at, winners in places.items() if winners}
    said = f"The effect of {one.factor} depends on {one.other} ({chance})"
    if len(clear) == 1 and len(places) > 1:
        at, winners = next(iter(clear.items()))
        return f"{said}: {winners[0]} with {at} only."
    if len(one.inside[0].pairs) > _MOST_LISTED:
        return f"{said}: each has a ranking of its own."
    listed = [f"with {at} {_say_some(winners)}" for at, winners in clear.items()]
    return f"{said}: {'; '.join(listed)}." if listed else f"{said}; at no value of it by itself is a difference clear."


def _say_some(winners: Sequence[str]) -> str:
    more = len(winners) - _MOST_WINNERS
    return and_join([*winners[:_MOST_WINNERS], f"{more} more such pairs"] if more > 1 else list(winners))


def _winners(pairs: tuple[Pair, ...]) -> list[str]:
    found = []
    for pair in pairs:
        if pair.ratio is None or pair.verdict not in (Verdict.A_STRONGER, Verdict.B_STRONGER):
            continue
        first, second, ratio = (
            (pair.a, pair.b, pair.ratio) if pair.verdict is Verdict.A_STRONGER else (pair.b, pair.a, 1 / pair.ratio)
        )
        found.append(f"{first} is stronger than {second} ({say_percent(ratio)})")
    return found


def say_factors(result: Factors, margin_pct: float) -> list[str]:
    """Return what the factors do, each by itself, then two by two."""
    names = [one.factor for one in result.effects]
    said = []
    for effect in result.effects:
        said += say_effect(effect, margin_pct, and_join([name for name in names if name != effect.factor]))
    return said + [say_together(one) for one in result.together]


def say_kept(one: Kept, before: str) -> str:
    """Return what one set keeps of its strength, and what it lost, the base named.

    Examples
    --------
    >>> say_kept(Kept("Heron", "soaked", 5, 5, 0, 0.622, (0.541, 0.715)), "dry")
    'Heron, soaked: keeps 62 % of its strength dry, lost 38 % (keeps 54 % to 72 %).'
    >>> say_kept(Kept("Heron", "soaked", 5, 5, 0, None, (0.8, None)), "dry")
    'Heron, soaked: keeps at least 80 % of its strength dry.'
    """
    low, high = one.ci95 or (None, None)
    name = f"{one.level}, {one.after}"
    before = f"at {before}" if before[:1].isdigit() else before
    if one.share is None:
        if low is not None:
            return f"{name}: keeps at least {100 * low:.0f} % of its strength {before}."
        if high is not None:
            lost = f", lost at least {_lost(high)} %" if high < 1 else ""
            return f"{name}: keeps at most {100 * high:.0f} % of its strength {before}{lost}."
        return f"{name}: what it keeps of its strength {before} cannot be told; its pieces are bounds and no estimate."
    change = f"lost {_lost(one.share)} %" if one.share < 1 else f"gained {100 * (one.share - 1):.0f} %"
    if low is None or high is None:
        return f"{name}: keeps {100 * one.share:.0f} % of its strength {before}, {change} (how sure cannot be told)."
    return (
        f"{name}: keeps {100 * one.share:.0f} % of its strength {before}, {change} "
        f"(keeps {100 * low:.0f} % to {100 * high:.0f} %)."
    )


def _lost(share: float) -> int:
    """Return what is lost, so that kept and lost as said make 100."""
    return 100 - round(100 * share)


def say_retention(result: Retention) -> list[str]:
    """Return what every set keeps, and which keep more than others."""
    said = [say_kept(one, result.before) for one in result.kept]
    for after in dict.fromkeys(one.after for one in result.kept):
        here = [pair for pair in result.pairs if pair.after == after]
        clear = []
        for pair in here:
            if pair.measurable and pair.ratio is not None:
                first, second = (pair.a, pair.b) if pair.ratio > 1 else (pair.b, pair.a)
                clear.append(f"{first} keeps a larger share than {second}, {after}.")
        if here and not clear:
            clear = [f"That one set keeps a larger share than another, {after}, is not shown."]
        said += clear
    return said
