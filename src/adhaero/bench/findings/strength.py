"""Findings about how strong the sets are: rankings, shares, lines, the money."""

from collections.abc import Mapping
from dataclasses import replace

from adhaero.bench.book import Book
from adhaero.bench.findings.asked import Asked, Finding, Row
from adhaero.bench.how import How
from adhaero.bench.planning import make_plan
from adhaero.bench.supplies import ShopBreak, Supplies
from adhaero.core.errors import EntryError
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.plan.consequences import compute_glues
from adhaero.core.quantity import Kind, parse_quantity
from adhaero.core.stats.as_read import compute_as_read
from adhaero.core.stats.breaks import Estimate
from adhaero.core.stats.failures import compare_failures, count_above, say_above, say_failures
from adhaero.core.stats.rankings import rank_sets, say_rankings
from adhaero.core.stats.words import and_join
from adhaero.core.units import Units


def find_rankings(asked: Asked) -> Finding | None:
    """Return who comes first by which average; None with one set."""
    groups = [one for one in asked.analysis.groups if one.level != asked.baseline]
    if len(groups) < 2:
        return None
    glue = asked.ask(estimate=Estimate.GLUELINE, control=None)
    estimates = None
    if glue is not None and any(one.n_held for one in glue.groups):
        estimates = {one.level: one.typical for one in glue.groups if one.level != asked.baseline}
    back = None
    if any(one.excluded for one in asked.breaks.compared):
        numbers: dict[str, list[float]] = {one.level: [] for one in groups}
        for one in asked.breaks.compared:
            if one.level in numbers and one.value is not None:
                numbers[one.level].append(one.value)
        back = {level: compute_as_read(values) for level, values in numbers.items()}
    rankings = rank_sets({one.level: one.as_read for one in groups}, back, estimates)
    named = [replace(one, average="glue-alone estimate") if one.average == "estimate" else one for one in rankings]
    levels = [one.level for one in groups]
    return Finding(
        "rankings",
        "Who comes first, by which average",
        [say_rankings(named)],
        How(
            "Each average of the numbers as read, set by set; the last row, where there is one, is the estimate for "
            "the glue alone.",
            "average = sum / number; middle ones = average without the best and the worst; middle = the median; "
            "glue alone = the censored estimate, torn wood counted as “held at least”",
            f"{sum(one.n for one in groups)} pieces that count",
            "comparing",
        ),
        ["by", "first", *levels],
        [
            [one.average, and_join(list(one.winners) or ["–"]), *(one.values[level] for level in levels)]
            for one in named
        ],
    )


def find_share_of_solid(asked: Asked) -> Finding | None:
    """Return the share of the solid wood that each set reaches; None without solid pieces."""
    if asked.baseline is None or asked.baseline not in {one.level for one in asked.analysis.groups}:
        return None
    result = asked.ask(control=asked.baseline)
    if result is None or not result.pairs:
        return None
    rows: list[Row] = []
    for pair in result.pairs:
        if pair.ratio is None or pair.ratio_ci95 is None:
            rows.append([pair.a, "–", "–"])
            continue
        low, high = (f"{100 * end:.0f} %" for end in pair.ratio_ci95)
        rows.append([pair.a, f"{100 * pair.ratio:.0f} %", f"{low} to {high}"])
    return Finding(
        "share",
        f"Share of {asked.baseline}",
        [],
        How(
            "Each set against the solid wood: Dunnett's ranges; within boards or with bounds Bonferroni's.",
            "share = typical stress of the set / typical stress of the solid pieces, on logarithms",
            "stress, so that sizes are comparable; all ranges together hold in 19 of 20 such trials",
            "comparing",
        ),
        ["set", "of solid", "likely range"],
        rows,
    )


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


def find_line(asked: Asked, typed: str, units: Units) -> float | None:
    """Return the strength that pieces are counted above, as typed, else that of the solid pieces; None without."""
    if typed.strip():
        if FIXTURES[asked.book.fixture].kind == "moment":
            raise EntryError("A moment has no line of the wood.", "Take the solid pieces instead.", field="line")
        return parse_quantity(typed, Kind.STRESS, units.stress, field="line").si
    solid = next((one for one in asked.analysis.groups if one.level == asked.baseline), None)
    return solid.typical if solid else None


def find_above(asked: Asked, line: float | None, *, typed: bool) -> Finding | None:
    """Return how many pieces are stronger than the wood; None without a line."""
    if line is None:
        return None
    levels = [one.level for one in asked.analysis.groups if one.level != asked.baseline]
    counts = count_above(asked.breaks.compared, levels, line)
    rows: list[Row] = []
    for one in counts:
        if one.count is None:
            rows.append([one.level, "–", "–"])
        else:
            rows.append([one.level, f"{one.count.passed} of {one.count.n}", f"{int(100 * one.count.lower)} %"])
    return Finding(
        "above",
        "Stronger than the wood",
        [say_above(one) for one in counts if one.unknown or one.count is None],
        How(
            "Pieces above the line counted; at least that share of all such joints is above it (Clopper and Pearson, "
            "one-sided).",
            "line = what was typed" if typed else f"line = typical strength of {asked.baseline}",
            "as read; a piece that held below the line, or broke between two weights around it, stays open",
            "stronger-than-the-wood",
        ),
        ["set", "above the line", "at least of all such"],
        [["the line", line, ""], *rows],
    )


def find_glue_costs(book: Book, supplies: Supplies, breaks: tuple[ShopBreak, ...]) -> dict[str, float | None]:
    """Return the price of the glue in one joint by the plan, by the glue's name; None where something is missing."""
    plan = make_plan(book, supplies, breaks)
    glued: dict[str, int] = {}
    for one in plan.sets:
        if one.glue is not None and not one.solid:
            glued[one.glue.name] = glued.get(one.glue.name, 0) + one.pieces
    return {
        one.name: None if one.cost is None or not glued.get(one.name) else one.cost / glued[one.name]
        for one in compute_glues(plan)
    }


def find_costs(asked: Asked, each: Mapping[str, float | None]) -> Finding | None:
    """Return which set gives most strength for the money; None where fewer than two have a price."""
    rows: list[Row] = []
    priced = []
    by_name = {one.name: one for one in asked.book.sets}
    for group in asked.analysis.groups:
        cost = each.get(asked.book.glue_of(by_name[group.level])) if group.level in by_name else None
        if group.level == asked.baseline:
            continue
        if cost is None or not group.typical:
            rows.append([group.level, group.typical, "–", "–"])
            continue
        priced.append((group.typical / cost, group.level))
        rows.append([group.level, group.typical, f"{cost:.3g}", ""])
    if len(priced) < 2:
        return None
    best = max(priced)
    for row in rows:
        share = next((value / best[0] for value, level in priced if level == row[0]), None)
        row[3] = "–" if share is None else f"{100 * share:.0f} %"
    return Finding(
        "costs",
        "Strength for the money",
        [f"For the money {best[1]} gives most strength in one joint; the wood and the time are not counted."],
        How(
            "Typical strength over the price of the glue in one joint.",
            "price of one joint = glue spread on it, waste counted, × price per mass of the pack on the glue's card",
            "the packs and prices on the cards of the glues: take packs of one size for a fair comparison",
            "strength-for-the-money",
        ),
        ["set", "typical", "glue in one joint", "strength for the money"],
        rows,
    )
