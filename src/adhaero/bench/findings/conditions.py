"""Findings about conditions: what each leaves of the strength, and all of them in one mark."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from adhaero.bench.findings.asked import Asked, Finding, Row
from adhaero.bench.how import How
from adhaero.bench.planning import find_pairing
from adhaero.core.errors import DataError, EntryError
from adhaero.core.stats.composite import Composite, Lead, combine_conditions, compare_marks, say_composite, say_leads
from adhaero.core.stats.factor_words import say_retention
from adhaero.core.stats.retention import compute_retention
from adhaero.core.stats.words import say_percent
from adhaero.store.pieces import Piece


def find_retention(asked: Asked) -> Finding | None:
    """Return what each set keeps in another condition, pair by pair where pieces are matched; None without one."""
    pairing = find_pairing(asked.book)
    name = asked.book.words_of(pairing) if pairing else asked.condition
    if name is None:
        return None
    values = list(dict.fromkeys(one.factors[name] for one in asked.made_of() if one.excluded is None))
    matched = pairing is not None
    specimens = asked.made_of()
    if matched:
        specimens = tuple(replace(one, block=_pair_of(asked.pieces[one.label])) for one in specimens)
    said, rows, method = [], list[Row](), ""
    for after in values[1:]:
        result = None
        for block in ("pair",) if matched else dict.fromkeys((asked.question.block, None)):
            table = asked.table(specimens, block)
            try:
                if table is not None:
                    result = compute_retention(table, name, values[0], after, asked.margin, matched=matched)
                    break
            except DataError:
                continue
        if result is None:
            continue
        method = result.method
        said += say_retention(result)
        for one in result.kept:
            ends = "–" if one.ci95 is None else f"{100 * one.ci95[0]:.0f} to {100 * one.ci95[1]:.0f} %"
            pieces = f"{one.paired} pairs" if result.method == "pairs" else f"{one.n_before} and {one.n_after}"
            rows.append([one.level, after, "–" if one.share is None else f"{100 * one.share:.0f} %", ends, pieces])
    if not said:
        return None
    words = {
        "pairs": "Each piece against its partner: the average of their log ratios, with its t range.",
        "sets": "Differences of the typical strengths on logarithms, one scatter for all sets.",
        "blocked": "Differences of the typical strengths on logarithms, within boards.",
        "censored": "Differences of the typical strengths on logarithms, bounds counted as bounds.",
    }
    return Finding(
        "retention",
        f"What is left of the strength ({name})",
        said,
        How(
            words[method],
            f"share kept = typical strength after / typical strength {values[0]}",
            "each range for its set alone; shares compared with simultaneous ranges",
            "what-a-condition-leaves",
        ),
        ["set", "after", "keeps", "likely range", "pieces"],
        rows,
    )


def _pair_of(piece: Piece) -> str | None:
    return None if piece.pair is None else f"{piece.board_id}/{piece.pair}"


def find_composite(asked: Asked, weights: str) -> Finding | None:
    """Return one mark from all conditions, with the weights as typed (equal without); None without conditions."""
    if asked.condition is None or len(asked.conditions) < 2:
        return None
    strengths: dict[str, dict[str, float]] = {one: {} for one in asked.conditions}
    levels: dict[str, dict[str, str]] = {one: {} for one in asked.conditions}
    typical = {one.level: one.typical for one in asked.analysis.groups}
    for one in asked.made_of():
        rest = ", ".join(value for name, value in one.factors.items() if name != asked.condition) or "all"
        value = typical.get(one.level)
        if value is not None and value > 0:
            strengths[one.factors[asked.condition]][rest] = value
            levels[one.factors[asked.condition]][rest] = one.level
    try:
        result = combine_conditions(strengths, _read_weights(weights, asked.conditions))
    except EntryError:
        if weights.strip():
            raise
        return None
    if len(result.order) < 2:
        return None
    leads = {one.other: one for one in _find_leads(asked, result, levels)}
    rows: list[Row] = []
    for name in result.order:
        lead = leads.get(name)
        ends = "–" if lead is None or lead.ci95 is None else " to ".join(say_percent(end) for end in lead.ci95)
        rows.append([name, f"{100 * result.marks[name]:.0f}", ends])
    return Finding(
        "composite",
        "All conditions in one mark",
        [*say_composite(result), *say_leads(result.order[0], list(leads.values()))],
        How(
            "A weighted geometric mean: 100 is the best set of every condition.",
            "mark = product over conditions of (typical strength / best typical strength of that condition) ^ weight",
            "typical strengths as shown above; the ranges of the first's lead are of geometric means and hold together "
            "in 19 of 20 trials (Bonferroni)",
            "a-composite-of-conditions",
        ),
        ["set", "mark", "the first leads it by"],
        rows,
    )


def _find_leads(asked: Asked, result: Composite, levels: Mapping[str, Mapping[str, str]]) -> tuple[Lead, ...]:
    """Return the winner's leads by one model of all combinations, within boards where they can be."""
    for block in dict.fromkeys((asked.question.block, None)):
        table = asked.table(asked.made_of(), block)
        try:
            fit = None if table is None else table.fit()
        except DataError:
            continue
        if table is None or fit is None:
            return ()
        places = {
            condition: {name: table.levels.index(level) for name, level in mine.items()}
            for condition, mine in levels.items()
        }
        return compare_marks(result, fit, places)
    return ()


def _read_weights(text: str, conditions: Sequence[str]) -> dict[str, float]:
    """Read `dry 2, soaked 1`; nothing gives equal weights."""
    if not text.strip():
        return dict.fromkeys(conditions, 1.0)
    found = {}
    for part in text.replace(";", ",").split(","):
        words, _, number = part.strip().rpartition(" ")
        name = next((one for one in conditions if one.lower() == words.strip(" :=").lower()), None)
        try:
            weight = float(number.rstrip("%"))
        except ValueError:
            weight = -1.0
        if name is None or weight < 0:
            raise EntryError(
                f"“{part.strip()}” was not understood.",
                f"Expected a condition and its weight, e.g. “{conditions[0]} 2, {conditions[-1]} 1”.",
                field="weights",
            )
        found[name] = weight
    return found
