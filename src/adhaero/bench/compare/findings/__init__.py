"""What else the breaks say: every answer beside the verdict, each with how it is known."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Final, Generic, TypeVar

from adhaero.bench.compare.breaks import Choice, collect_breaks
from adhaero.bench.compare.findings.asked import Asked, Finding
from adhaero.bench.compare.findings.bending import find_bending
from adhaero.bench.compare.findings.causes import find_causes, find_factors
from adhaero.bench.compare.findings.conditions import (
    check_weights,
    choose_base,
    find_composite,
    find_retention,
    list_bases,
)
from adhaero.bench.compare.findings.steadier import find_steadier
from adhaero.bench.compare.findings.strength import (
    Lines,
    find_above,
    find_costs,
    find_failures,
    find_glue_costs,
    find_lines,
    find_rankings,
    find_share_of_solid,
)
from adhaero.bench.compare.findings.weak_end import WeakEndChart, find_weak_end
from adhaero.bench.compare.how_known import How
from adhaero.bench.compare.result_units import read_result_units
from adhaero.bench.facts.entry import Entry, Note
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.requirements import require_unchanged
from adhaero.bench.facts.shelf import kept
from adhaero.bench.shop.past_breaks import ShopBreak, read_shop_breaks
from adhaero.bench.shop.supplies import Supplies, read_supplies
from adhaero.core.errors import AdhaeroError, EntryError
from adhaero.core.response import Response
from adhaero.core.units import Units
from adhaero.store.file import ShopFile
from adhaero.store.trials import amend_trial

T = TypeVar("T")


@dataclass(frozen=True)
class FindingsView:
    """All findings of a trial.

    Attributes
    ----------
    weak_end : the sets' distributions where they begin.
    wood_line : the strength that `above` counts from, in the core's unit; None without one, or with one a wood.
    bases, base : what shares of the strength can be of, and are; empty for nothing.
    problems : what of the wishes was not understood, by its field; the rest is answered all the same.
    """

    findings: list[Finding]
    weak_end: WeakEndChart | None
    wood_line: float | None
    problems: Mapping[str, str]
    conditions: list[str]
    bases: list[str]
    base: str


@dataclass(frozen=True)
class Wishes:
    """What the person asks of the findings: a line to count from, and weights of conditions, as typed.

    `base`: what shares of the strength are of, one of the view's `bases`; empty for the usual one.
    """

    line: str = ""
    weights: str = ""
    base: str = ""


def view_findings(file: ShopFile, trial_id: int, choice: Choice, wishes: Wishes) -> FindingsView:
    """Return what else the breaks of a trial say."""
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        units = read_result_units(connection, facts, choice)
        supplies = read_supplies(connection)
        shop_breaks = read_shop_breaks(connection, trial_id, practice=bool(facts.trial.practice))
    return _view(facts, units, supplies, shop_breaks, choice, wishes)


@dataclass(frozen=True)
class _Attempt(Generic[T]):
    """What a finder found, or the finding that says why it could not."""

    result: T | None
    failed: Finding | None


# what is not a strength is compared by these alone: the others speak of strengths
_SAID_OF: Final = {
    Response.LOAD: (
        "rankings",
        "steadier",
        "share",
        "bending",
        "factors",
        "retention",
        "composite",
        "causes",
        "failures",
        "weibull",
    ),
    Response.MOMENT: ("rankings", "steadier", "share", "factors", "retention", "composite", "causes", "failures"),
    Response.REACHED: ("rankings", "steadier", "bending", "causes"),
    Response.TIME: ("rankings", "steadier", "causes"),
    Response.STIFFNESS: ("rankings", "steadier", "share", "bending", "causes"),
    Response.WORK: ("rankings", "steadier", "share", "bending", "causes"),
}


def _attempt(key: str, title: str, finder: Callable[[], T | None]) -> _Attempt[T]:
    """Run one finder; where it fails the screen says which and why, and the others stay."""
    try:
        return _Attempt(finder(), None)
    except Exception as error:
        why = error.sentence if isinstance(error, AdhaeroError) else f"{type(error).__name__}: {error}"
        how = How("This could not be worked out.", "", "", "comparing")
        return _Attempt(
            None, Finding(key, title, [f"This could not be worked out, the rest can ({why})."], how, [], [])
        )


@kept(most=32)
def _view(
    facts: PieceFacts,
    units: Units,
    supplies: Supplies,
    shop_breaks: tuple[ShopBreak, ...],
    choice: Choice,
    wishes: Wishes,
) -> FindingsView:
    breaks = collect_breaks(facts, choice)
    if breaks.analysis is None:
        return FindingsView([], None, None, {}, [], [], "")
    asked = Asked(facts, breaks, breaks.analysis)
    whole = _ask_whole(facts, asked, choice)
    base = choose_base(whole, wishes.base)
    problems: dict[str, str] = {}
    lines: Lines = Lines({}, "")
    weights = wishes.weights
    try:
        lines = find_lines(asked, wishes.line, units)
    except EntryError as error:
        problems["line"] = error.sentence
    try:
        check_weights(whole, weights)
    except EntryError as error:
        problems["weights"], weights = error.sentence, ""
    charts: list[WeakEndChart] = []

    def weak_end() -> Finding | None:
        found, chart = find_weak_end(asked)
        if chart is not None:
            charts.append(chart)
        return found

    factors = _attempt("factors", "What each thing does, and together", whole.factors)
    finders: tuple[tuple[str, str, Callable[[], Finding | None]], ...] = (
        ("rankings", "Who comes first, by which average", lambda: find_rankings(asked)),
        ("steadier", "Who is steadier", lambda: find_steadier(asked)),
        ("share", "Share of the solid wood", lambda: find_share_of_solid(asked)),
        ("bending", "The usable limit beside the peak", lambda: find_bending(asked, units)),
        ("factors", "What each thing does, and together", lambda: find_factors(whole, factors.result)),
        ("retention", "What is left of the strength", lambda: find_retention(whole, base)),
        ("composite", "All conditions in one mark", lambda: find_composite(whole, weights)),
        ("causes", "Could it be something else", lambda: find_causes(asked)),
        ("failures", "Strength and kind of failure", lambda: find_failures(asked)),
        ("above", "Stronger than the wood", lambda: find_above(asked, lines)),
        ("weibull", "The weak end, a second opinion", weak_end),
        ("costs", "Strength for the money", lambda: find_costs(asked, find_glue_costs(facts, supplies, shop_breaks))),
    )
    findings = []
    kept_for = _SAID_OF.get(choice.response)
    for key, title, finder in finders if kept_for is None else [one for one in finders if one[0] in kept_for]:
        one = _attempt(key, title, finder)
        if (found := one.result or one.failed) is not None:
            findings.append(found)
    if factors.failed is not None and kept_for is None:
        findings.append(factors.failed)
    return FindingsView(
        findings=findings,
        weak_end=charts[0] if charts else None,
        wood_line=lines.single,
        problems=problems,
        conditions=whole.conditions,
        bases=[str(one) for one in list_bases(whole)],
        base=str(base or ""),
    )


def _ask_whole(facts: PieceFacts, asked: Asked, choice: Choice) -> Asked:
    """Return what goes across the slices: all pieces together."""
    if not choice.slice:
        return asked
    breaks = collect_breaks(facts, replace(choice, slice=""))
    return asked if breaks.analysis is None else Asked(facts, breaks, breaks.analysis)


@dataclass(frozen=True)
class Conclusion(Entry):
    """A conclusion in words, and what it was when the person began to write."""

    was: Note
    text: Note


def conclude(file: ShopFile, trial_id: int, was: str, text: str) -> None:
    """Write down what the person concludes; empty takes it back. Raises `StaleEdit`."""
    with file.changing("Wrote a conclusion", trial_id) as connection:
        current = read_trial(connection, trial_id).trial.conclusion
        require_unchanged("the conclusion", current, was, "conclusion")
        amend_trial(connection, trial_id, conclusion=text.strip())
