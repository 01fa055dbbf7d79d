"""Findings about conditions: what each leaves of the strength, and all of them in one mark."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from adhaero.bench.compare.findings.asked import Asked, Finding, Row
from adhaero.bench.compare.how_known import How
from adhaero.bench.compare.slices import Value
from adhaero.bench.plan.dealing import find_pairing
from adhaero.core.errors import DataError, EntryError
from adhaero.core.plan.fields import Factor
from adhaero.core.stats.composite import (
    Bounded,
    Composite,
    Lead,
    combine_conditions,
    compare_marks,
    say_composite,
    say_leads,
)
from adhaero.core.stats.factor_words import say_retention
from adhaero.core.stats.retention import Asked as KeptAsked
from adhaero.core.stats.retention import Kept, Retention, compute_retention, name_set
from adhaero.core.stats.words import and_join, say_span
from adhaero.store.pieces import Piece
from adhaero.store.plans import FactorRow


def list_bases(asked: Asked) -> list[Value]:
    """Return every value that shares can be of: of what pairs differ in or pieces go through first, then of amounts."""
    pairing = find_pairing(asked.facts)
    amounts = {level.factor_id for level in asked.facts.levels.values() if level.value_si is not None}

    def rank(row: FactorRow) -> int:
        first = row == pairing or (pairing is None and asked.facts.kinds[row.id] is Factor.CONDITION)
        return 0 if first else 1 if row.id in amounts else 2

    found = []
    specimens = [one for one in asked.made_of() if one.excluded is None]
    rows = sorted(asked.facts.factors.values(), key=rank)
    # where one thing varies that is neither, its values are the sets, and no condition of them
    for row in rows if len(rows) > 1 else [row for row in rows if rank(row) < 2]:
        name = asked.facts.words_of(row)
        values = dict.fromkeys(one.factors[name] for one in specimens if name in one.factors)
        found += [Value(name, value) for value in values] if len(values) > 1 else []
    return found


def choose_base(asked: Asked, wanted: str = "") -> Value | None:
    """Return the base that is wanted; else the first, where pieces go through something or the plan asks for it."""
    bases = list_bases(asked)
    usual = find_pairing(asked.facts) or asked.condition or asked.facts.trial.answer == "retention"
    first = bases[0] if bases and usual else None
    return next((one for one in bases if str(one) == wanted), first)


def find_retention(asked: Asked, base: Value | None) -> Finding | None:
    """Return what each set keeps of its strength at a base, pair by pair where pieces are matched; None without one."""
    result = None if base is None else ask_retention(asked, base)
    if base is None or result is None:
        return None
    rows = list[Row]()
    for one in result.kept:
        pieces = f"{one.paired} pairs" if result.method == "pairs" else f"{one.n_before} and {one.n_after}"
        rows.append([one.level, one.after, *_say_share(one), pieces])
    words = {
        "pairs": "Each piece against its partner: the average of their log ratios, with its t range.",
        "sets": "Differences of the typical strengths on logarithms, each set by its own scatter.",
        "blocked": "Differences of the typical strengths on logarithms, within boards.",
    }
    return Finding(
        "retention",
        f"What is left of the strength ({base.name})",
        say_retention(result),
        How(
            words[result.method],
            f"share kept = typical strength after / typical strength {result.before}; lost = 100 % − kept",
            "each range for its set alone; shares compared with simultaneous ranges; bounds leave a range open",
            "what-a-condition-leaves",
        ),
        ["set", "after", f"keeps of {result.before}", "lost", "likely range kept", "pieces"],
        rows,
    )


def ask_retention(asked: Asked, base: Value, *, paired: bool = True) -> Retention | None:
    """Return what sets keep of their strength at a base; within boards where they can be compared there.

    Parameters
    ----------
    paired : whether matched pieces are held against their partners.
    """
    specimens = asked.made_of()
    pairing = find_pairing(asked.facts)
    matched = paired and pairing is not None and asked.facts.words_of(pairing) == base.name
    if matched:
        specimens = tuple(replace(one, block=_pair_of(asked.pieces[one.label])) for one in specimens)
    question = asked.question
    for block in (None,) if matched else dict.fromkeys((question.block, None)):
        wanted = KeptAsked(
            base.name, base.value, (), "pair" if matched else None, block,
            question.estimate, question.wood_failure_from, question.margin_pct,
        )  # fmt: skip
        try:
            return compute_retention(specimens, wanted)
        except DataError:
            continue
    return None


def _say_share(one: Kept) -> tuple[str, str, str]:
    """Return what is kept, what is lost and the range of the first, as they stand in the table."""
    low, high = one.ci95 or (None, None)
    share = "–" if one.share is None else f"{100 * one.share:.0f} %"
    lost = "–" if one.share is None else f"{100 - round(100 * one.share)} %".replace("-", "−")
    if low is None and high is None:
        return share, lost, "–"
    if low is None:
        return share, lost, f"at most {100 * (high or 0):.0f} %"
    if high is None:
        return share, lost, f"at least {100 * low:.0f} %"
    return share, lost, f"{100 * low:.0f} to {100 * high:.0f} %"


def _pair_of(piece: Piece) -> str | None:
    return None if piece.pair is None else f"{piece.board_id}/{piece.pair}"


def find_composite(asked: Asked, weights: str) -> Finding | None:
    """Return one mark from all conditions, with the weights as typed (equal without); None without conditions."""
    if asked.condition is None or len(asked.conditions) < 2:
        return None
    strengths: dict[str, dict[str, float]] = {one: {} for one in asked.conditions}
    levels: dict[str, dict[str, str]] = {one: {} for one in asked.conditions}
    sides: dict[str, dict[str, bool]] = {}
    groups = {one.level: one for one in asked.analysis.groups}
    for one in asked.made_of():
        rest, condition, group = name_set(one, asked.condition), one.factors[asked.condition], groups.get(one.level)
        if group is None:
            continue
        if group.n in (group.n_held, group.n_fell_apart):
            sides.setdefault(rest, {})[condition] = group.n == group.n_held
        elif group.typical is not None and group.typical > 0:
            strengths[condition][rest] = group.typical
            levels[condition][rest] = one.level
    for condition in strengths:
        strengths[condition] = {name: value for name, value in strengths[condition].items() if name not in sides}
    bounded = [
        Bounded(name, tuple(where), held=not lost)
        for name, mine in sides.items()
        for lost in [[one for one, held in mine.items() if not held]]
        for where in [lost or list(mine)]
    ]
    try:
        result = combine_conditions(strengths, _read_weights(weights, asked.conditions))
    except EntryError:
        return None
    if len(result.order) < 2:
        return None
    leads = {one.other: one for one in _find_leads(asked, result, levels)}
    rows: list[Row] = []
    for name in result.order:
        lead = leads.get(name)
        ends = "–" if lead is None or lead.ci95 is None else say_span(*lead.ci95)
        rows.append([name, f"{100 * result.marks[name]:.0f}", ends])
    for other in sorted(bounded, key=lambda one: not one.held):
        where = and_join(list(other.conditions))
        rows.append([other.name, "–" if other.held else "0", f"{'held' if other.held else 'lost'} in {where}"])
    return Finding(
        "composite",
        "All conditions in one mark",
        [*say_composite(result, bounded), *say_leads(result.order[0], list(leads.values()))],
        How(
            "A weighted geometric mean: 100 is the best set of every condition.",
            "mark = product over conditions of (typical strength / best typical strength of that condition) ^ weight",
            "typical strengths as shown above; the ranges of the first's lead are of geometric means and hold together "
            "in 19 of 20 trials over all pairs of sets (Bonferroni)",
            "a-composite-of-conditions",
        ),
        ["set", "mark", "the first leads it by"],
        rows,
    )


def check_weights(asked: Asked, weights: str) -> None:
    """Raise `EntryError` for weights of conditions that are not understood."""
    if asked.conditions:
        _read_weights(weights, asked.conditions)


def _find_leads(asked: Asked, result: Composite, levels: Mapping[str, Mapping[str, str]]) -> tuple[Lead, ...]:
    """Return the winner's leads by one model of all combinations, within boards where they can be."""
    for block in dict.fromkeys((asked.question.block, None)):
        table = asked.table(asked.made_of(), block)
        if table is None:
            continue
        fit = table.fit()
        if not fit.judged or any(level not in table.levels for mine in levels.values() for level in mine.values()):
            continue
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
