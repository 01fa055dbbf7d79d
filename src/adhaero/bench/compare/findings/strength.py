"""Findings about how strong the sets are: rankings, shares, lines, the money."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace

from adhaero.bench.compare.findings.asked import Asked, Finding, Row
from adhaero.bench.compare.how_known import How
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.plan.consequences import make_plan
from adhaero.bench.shop.past_breaks import ShopBreak
from adhaero.bench.shop.supplies import Supplies
from adhaero.core.errors import EntryError
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.fixture import compute_strength
from adhaero.core.plan.consequences import compute_glues
from adhaero.core.quantity import Kind, parse_quantity
from adhaero.core.response import FORMS as RESPONSES
from adhaero.core.response import Response
from adhaero.core.stats.as_read import compute_as_read
from adhaero.core.stats.breaks import Estimate
from adhaero.core.stats.failures import compare_failures, count_above, say_above, say_failures
from adhaero.core.stats.pairs import Pair
from adhaero.core.stats.rankings import AVERAGES, ESTIMATE, Ranking, rank_sets
from adhaero.core.stats.words import and_join
from adhaero.core.units import Units, display_unit

_GLUE_ALONE = "glue-alone estimate"


def find_rankings(asked: Asked) -> Finding | None:
    """Return who comes first by which average; None with one set."""
    groups = [one for one in asked.analysis.groups if one.level not in asked.controls]
    if len(groups) < 2:
        return None
    glue = asked.ask(estimate=Estimate.GLUELINE, control=None)
    estimates = None
    if glue is not None and any(one.n_held for one in glue.groups):
        estimates = {one.level: one.typical for one in glue.groups if one.level not in asked.controls}
    back = None
    if any(one.excluded for one in asked.breaks.compared):
        numbers: dict[str, list[float]] = {one.level: [] for one in groups}
        for one in asked.breaks.compared:
            if one.level in numbers and one.value is not None:
                numbers[one.level].append(one.value)
        back = {level: compute_as_read(values) for level, values in numbers.items()}
    rankings = rank_sets({one.level: one.as_read for one in groups}, back, estimates)
    named = [replace(one, average=_GLUE_ALONE) if one.average == ESTIMATE else one for one in rankings]
    levels = sorted((one.level for one in groups), key=lambda level: -(named[0].values[level] or 0.0))
    bounded = any(one.n_broke < one.n for one in groups)

    def name_first(one: Ranking) -> tuple[str, ...]:
        """Return who comes first; nobody where bounds stand in as numbers, or where a set has no estimate."""
        judges = one.average == _GLUE_ALONE or not bounded
        return one.winners if judges and all(value is not None for value in one.values.values()) else ()

    return Finding(
        "rankings",
        "Who comes first, by which average",
        [
            f"By the {one.average}, {and_join(list(first))} would come first"
            f"{_say_why(asked, one, named[0].winners[0], first[0])}."
            for one in named[1:]
            if (first := name_first(one)) and first != named[0].winners
        ],
        How(
            "Each average of the numbers as read, set by set; the last row, where there is one, is the estimate for "
            "the glue alone.",
            "average = sum / number; average of the middle ones = without the best and the worst; middle piece = the "
            "median; glue alone = the censored estimate, torn wood counted as “held at least”",
            f"{sum(one.n for one in groups)} pieces that count",
            "comparing",
        ),
        ["set", *(one.average for one in named)],
        [
            ["comes first", *(and_join(list(name_first(one)) or ["–"]) for one in named)],
            *([level, *(one.values[level] for one in named)] for level in levels),
        ],
    )


def _say_why(asked: Asked, by: Ranking, usual: str, first: str) -> str:
    """Return which piece makes another average name another set; empty where no single one does.

    Parameters
    ----------
    usual, first : the set that the average of all names, and the one that `by` names.
    """
    numbers = {level: _list_values(asked, level) for level in (usual, first)}
    reads = {one.level: one.as_read for one in asked.analysis.groups}
    (low_label, lowest), (high_label, _) = numbers[usual][0], numbers[usual][-1]
    if by.average == "worst piece":
        return f": {low_label} of {usual} broke below every piece of {first}" if lowest < numbers[first][0][1] else ""
    values, mean, other = by.values, reads[usual].mean, reads[first].mean
    if by.average not in AVERAGES or not (mean and other and values[usual] and values[first]):
        return ""
    lifted = mean / (values[usual] or mean)
    dragged = (values[first] or other) / other
    if dragged >= lifted:
        return f": {numbers[first][0][0]}, its weakest, pulls its average down"
    return f": {high_label}, the strongest of {usual}, lifts the average of {usual}"


def _list_values(asked: Asked, level: str) -> list[tuple[str, float]]:
    """Return the pieces of a set that count, with their numbers as read, the weakest first."""
    found = [
        (one.label, one.value)
        for one in asked.breaks.compared
        if one.level == level and one.excluded is None and one.value is not None
    ]
    return sorted(found, key=lambda one: one[1])


def find_share_of_solid(asked: Asked) -> Finding | None:
    """Return the share of the solid wood of its own species that each set reaches; None without solid pieces."""
    rows: list[Row] = []
    for base, levels in pair_with_solid(asked).items():
        result = asked.ask(control=base)
        for pair in result.pairs if result else ():
            if pair.a in levels:
                rows.append([pair.a, base, *_say_share(pair)])
    if not rows:
        return None
    response = asked.breaks.response
    noun = "stress" if response in (Response.STRENGTH, Response.USABLE) else RESPONSES[response].noun
    return Finding(
        "share",
        f"Share of {and_join(list(asked.controls))}",
        [],
        How(
            "Each set against the solid pieces of its own wood: Bonferroni's ranges, within boards where they are.",
            f"share = typical {noun} of the set / typical {noun} of the solid pieces, on logarithms",
            ("stress, so that sizes are comparable" if noun == "stress" else f"{noun} as it is, whatever the sizes")
            + "; all ranges against one wood hold together in 19 of 20 such trials",
            "comparing",
        ),
        ["set", "against", "of solid", "likely range"],
        rows,
    )


def pair_with_solid(asked: Asked) -> dict[str, list[str]]:
    """Return for each set of solid wood the sets that are made of the same wood; all, where there is one solid set."""
    woods: dict[str, set[str]] = {}
    for one in asked.breaks.compared:
        level = one.level
        if level in asked.solid and level not in asked.controls:
            level = f"{level}, {one.wood}"
        woods.setdefault(level, set()).add((one.wood or "").lower())
    sets = [one.level for one in asked.analysis.groups if one.level not in asked.controls]
    if len(asked.controls) == 1:
        return {asked.controls[0]: sets}
    return {
        base: [level for level in sets if woods.get(level, set()) <= woods.get(base, set())] for base in asked.controls
    }


def _say_share(pair: Pair) -> tuple[str, str]:
    low, high = pair.ratio_ci95 or (None, None)
    share = "–" if pair.ratio is None else f"{100 * pair.ratio:.0f} %"
    if low is None and high is None:
        return share, "–"
    if low is None:
        return share, f"at most {100 * (high or 0):.0f} %"
    if high is None:
        return share, f"at least {100 * low:.0f} %"
    return share, f"{100 * low:.0f} % to {100 * high:.0f} %"


def find_failures(asked: Asked) -> Finding | None:
    """Return whether strength goes with the kind of failure; None where all failed alike."""
    table = asked.table(asked.joined(), None)
    result = None if table is None else compare_failures(table, asked.margin)
    if result is None:
        return None
    return Finding(
        "failures",
        "Strength and kind of failure",
        [say_failures(result)],
        How(
            "The kinds compared within sets, so that a strong set favours none.",
            "mostly glue line: below 25 % torn wood; mostly wood: 75 % or more",
            "pieces whose broken face was judged; averages as read, over all sets",
            "kinds-of-failure",
        ),
        ["failed", "pieces", "average"],
        [[one.kind, str(one.n), one.average] for one in result.kinds],
    )


@dataclass(frozen=True)
class Lines:
    """The strength that pieces of each set are counted above, in the core's unit, and where it comes from.

    Attributes
    ----------
    understood : how a load that was typed was turned into a stress; empty otherwise.
    """

    by_set: Mapping[str, float]
    words: str
    understood: str = ""

    @property
    def single(self) -> float | None:
        """Return the one line of all sets; None where there is none, or one a wood."""
        different = set(self.by_set.values())
        return next(iter(different)) if len(different) == 1 else None


def find_lines(asked: Asked, typed: str, units: Units) -> Lines:
    """Return the strength that pieces are counted above: as typed, else that of the solid pieces of the same wood.

    A load is turned into a stress by the planned size of the pieces.
    """
    sets = [one.level for one in asked.analysis.groups if one.level not in asked.controls]
    if typed.strip():
        line, understood = _read_line(asked, typed, units)
        return Lines(dict.fromkeys(sets, line), f"line = {typed.strip()}", understood)
    groups = {one.level: one for one in asked.analysis.groups}
    found = {
        level: typical
        for base, levels in pair_with_solid(asked).items()
        if (typical := groups[base].typical) is not None
        for level in levels
    }
    return Lines(found, f"line = typical strength of {and_join(list(asked.controls))}" if found else "")


def _read_line(asked: Asked, typed: str, units: Units) -> tuple[float, str]:
    """Read a strength with its unit, or a load that is turned into one."""
    if FIXTURES[asked.facts.fixture].kind == "moment":
        raise EntryError("A moment has no line of the wood.", "Take the solid pieces instead.", field="line")
    if re.fullmatch(r"[\d.,\s/]+", typed.strip()):
        raise EntryError(
            f"“{typed.strip()}” has no unit.",
            f"Expected a strength, e.g. “{typed.strip()} {units.stress}”.",
            field="line",
        )
    try:
        return parse_quantity(typed, Kind.STRESS, units.stress, field="line").si, ""
    except EntryError:
        try:
            load = parse_quantity(typed, Kind.FORCE, units.force, field="line")
        except EntryError:
            load = None
        if load is None:
            raise
    made = {
        compute_strength(asked.facts.fixture, load.si, asked.facts.planned_of(one)).strength_mpa
        for one in asked.facts.made
        if not one.solid
    }
    if len(made) != 1 or (stress := next(iter(made))) is None:
        raise EntryError(
            f"“{typed.strip()}” is a load.",
            "The sets have different sizes: as a stress it is another for each.",
            f"Type a strength in {units.stress}.",
            field="line",
        )
    shown = display_unit(Kind.STRESS, units.stress)
    return stress, f"{typed.strip()} on the planned size is {stress * shown.per_si:.3g} {shown.symbol}."


def find_above(asked: Asked, lines: Lines) -> Finding | None:
    """Return how many pieces are stronger than the line of their set; None without one."""
    if not lines.by_set:
        return None
    rows: list[Row] = []
    counts = []
    for level, line in lines.by_set.items():
        one = count_above(asked.breaks.compared, [level], line)[0]
        counts.append(one)
        if one.count is None:
            rows.append([level, line, "–", "–"])
        else:
            rows.append([level, line, f"{one.count.passed} of {one.count.n}", f"{int(100 * one.count.lower)} %"])
    open_ = [say_above(one) for one in counts if one.unknown or one.count is None]
    return Finding(
        "above",
        "Stronger than the wood" if "typical" in lines.words else "Stronger than a line",
        [*([lines.understood] if lines.understood else []), *open_],
        How(
            "Pieces above the line counted; at least that share of all such joints is above it (Clopper and Pearson, "
            "one-sided).",
            lines.words,
            "as read; a piece that held below the line, fell apart above it, or broke between two weights around it, "
            "stays open",
            "stronger-than-the-wood",
        ),
        ["set", "line", "above the line", "at least of all such"],
        rows,
    )


def find_glue_costs(facts: PlanFacts, supplies: Supplies, breaks: tuple[ShopBreak, ...]) -> dict[str, float | None]:
    """Return the price of the glue in one joint by the plan, by the glue's name; None where something is missing."""
    plan = make_plan(facts, supplies, breaks)
    glued: dict[str, int] = {}
    for one in plan.treatments:
        if one.glue is not None and not one.solid:
            glued[one.glue.name] = glued.get(one.glue.name, 0) + one.pieces
    return {
        one.name: None if one.cost is None or not glued.get(one.name) else one.cost / glued[one.name]
        for one in compute_glues(plan)
    }


def find_costs(asked: Asked, each: Mapping[str, float | None]) -> Finding | None:
    """Return which set gives most strength for the money; None where fewer than two have a price."""
    rows: list[Row] = []
    priced, unpriced = [], []
    by_name = {one.name: one for one in asked.facts.made}
    for group in asked.analysis.groups:
        cost = each.get(asked.facts.glue_of(by_name[group.level])) if group.level in by_name else None
        if group.level in asked.controls:
            continue
        if cost is None:
            unpriced.append(group.level)
        if cost is None or not group.typical:
            rows.append([group.level, group.typical, "–" if cost is None else f"{cost:.3g}", "–"])
            continue
        priced.append((group.typical / cost, group.level))
        rows.append([group.level, group.typical, f"{cost:.3g}", ""])
    if len(priced) < 2:
        return None
    best = max(priced)
    held = [one.level for one in asked.analysis.groups if one.at_least is not None and one.level not in asked.controls]
    of_those = "of the sets that broke " if held else ""
    for row in rows:
        share = next((value / best[0] for value, level in priced if level == row[0]), None)
        row[3] = "–" if share is None else f"{100 * share:.0f} %"
    return Finding(
        "costs",
        "Strength for the money",
        [
            f"For the money {of_those}{best[1]} has the highest typical strength in one joint; the wood and the time "
            "are not counted, and no range is given.",
            *([f"{and_join(held)}: none of the pieces broke, so that it could be more."] if held else []),
            *([f"{and_join(unpriced)}: without a price, left out."] if unpriced else []),
        ],
        How(
            "Typical strength over the price of the glue in one joint.",
            "price of one joint = glue spread on it, waste counted, × price per mass of the pack on the glue's card",
            "the packs and prices on the cards of the glues: take packs of one size for a fair comparison",
            "strength-for-the-money",
        ),
        ["set", "typical", "glue in one joint", "strength for the money"],
        rows,
    )
