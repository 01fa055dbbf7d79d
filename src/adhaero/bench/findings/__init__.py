"""What else the breaks say: every answer beside the verdict, each with how it is known."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from adhaero.bench.book import Book, read_book
from adhaero.bench.breaks import Choice, collect_breaks
from adhaero.bench.curves import CurveChart, draw_curves
from adhaero.bench.findings.asked import Asked, Finding
from adhaero.bench.findings.causes import find_causes, find_factors
from adhaero.bench.findings.changes import check, find_changes
from adhaero.bench.findings.conditions import find_composite, find_retention
from adhaero.bench.findings.strength import (
    find_above,
    find_costs,
    find_failures,
    find_glue_costs,
    find_line,
    find_rankings,
    find_share_of_solid,
)
from adhaero.bench.findings.weak_end import WeakEndChart, find_weak_end
from adhaero.bench.guards import require_unchanged
from adhaero.bench.stock import read_units
from adhaero.bench.supplies import ShopBreak, Supplies, read_shop_breaks, read_supplies
from adhaero.core.errors import EntryError
from adhaero.core.stats.claims import CHECKABLE, Claim
from adhaero.core.units import Units
from adhaero.store.file import ShopFile
from adhaero.store.rows import amend


@dataclass(frozen=True)
class FindingsView:
    """All findings of a trial.

    Attributes
    ----------
    conclusion, claims, guess_claims : what the person concludes, and guessed, clause by clause.
    checkable : what a conclusion may say to be checked.
    changes : what would change the verdict, in sentences.
    charts : strength along what is measured; weak_end : the sets' distributions where they begin.
    wood_line : the strength that `above` counts from, in the core's unit; None without one.
    problems : what of the wishes was not understood, by its field; the rest is answered all the same.
    """

    conclusion: str
    claims: list[Claim]
    guess_claims: list[Claim]
    checkable: Sequence[str]
    changes: list[str]
    findings: list[Finding]
    charts: list[CurveChart]
    weak_end: WeakEndChart | None
    wood_line: float | None
    problems: Mapping[str, str]
    conditions: list[str]


@dataclass(frozen=True)
class Wishes:
    """What the person asks of the findings: a line to count from, and weights of conditions, as typed."""

    line: str = ""
    weights: str = ""


def view_findings(file: ShopFile, trial_id: int, choice: Choice, wishes: Wishes) -> FindingsView:
    """Return what else the breaks of a trial say."""
    with file.reading() as connection:
        book = read_book(connection, trial_id)
        units = read_units(connection)
        supplies = read_supplies(connection)
        shop_breaks = read_shop_breaks(connection, trial_id, practice=bool(book.trial.practice))
    return _view(book, units, supplies, shop_breaks, choice, wishes)


@lru_cache(maxsize=8)
def _view(
    book: Book,
    units: Units,
    supplies: Supplies,
    shop_breaks: tuple[ShopBreak, ...],
    choice: Choice,
    wishes: Wishes,
) -> FindingsView:
    breaks = collect_breaks(book, choice)
    if breaks.analysis is None:
        return FindingsView(book.trial.conclusion, [], [], CHECKABLE, [], [], [], None, None, {}, [])
    asked = Asked(book, breaks, breaks.analysis)
    factors = asked.factors()
    problems: dict[str, str] = {}
    line, composite = None, None
    try:
        line = find_line(asked, wishes.line, units)
    except EntryError as error:
        problems["line"] = error.sentence
    try:
        composite = find_composite(asked, wishes.weights)
    except EntryError as error:
        problems["weights"] = error.sentence
        composite = find_composite(asked, "")
    weak_end, weak_end_chart = find_weak_end(asked)
    findings = [
        one
        for one in (
            find_rankings(asked),
            find_share_of_solid(asked),
            find_factors(asked, factors),
            find_retention(asked),
            composite,
            find_causes(asked),
            find_failures(asked),
            find_above(asked, line, typed=bool(wishes.line.strip())),
            weak_end,
            find_costs(asked, find_glue_costs(book, supplies, shop_breaks)),
        )
        if one is not None
    ]
    return FindingsView(
        conclusion=book.trial.conclusion,
        claims=check(asked, book.trial.conclusion, factors),
        guess_claims=check(asked, book.trial.guess, factors),
        checkable=CHECKABLE,
        changes=list(find_changes(asked)),
        findings=findings,
        charts=draw_curves(book, breaks.compared, units),
        weak_end=weak_end_chart,
        wood_line=line,
        problems=problems,
        conditions=asked.conditions,
    )


def conclude(file: ShopFile, trial_id: int, was: str, text: str) -> None:
    """Write down what the person concludes; empty takes it back. Raises `StaleEdit`."""
    with file.changing("Wrote a conclusion", trial_id) as connection:
        current = read_book(connection, trial_id).trial.conclusion
        require_unchanged("the conclusion", current, was, "conclusion")
        amend(connection, "trial", trial_id, {"conclusion": text.strip()})
