"""A trial over years: which panels are pulled on which date, what is left, and taking one from the reserve."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from math import log

from adhaero.bench.facts.entry import Entry, Id, Reason
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.plan.amendments import write_amendment
from adhaero.core.errors import EntryError, StateError
from adhaero.core.pieces import Act
from adhaero.core.plan.fields import Factor
from adhaero.core.plan.panels import find_last_date
from adhaero.core.stats.pooled import pool_scatter
from adhaero.core.stats.power import find_n_beside, sigma_log_from_cv
from adhaero.store.file import ShopFile, to_text
from adhaero.store.pieces import Piece, amend_piece
from adhaero.store.plans import LevelRow, Treatment


@dataclass(frozen=True)
class PanelLine:
    """One panel: its pieces, how many are broken, how many kinds it lacks."""

    number: int
    labels: list[str]
    broken: int
    lacks: list[str]


@dataclass(frozen=True)
class PullDate:
    """A date of a trial over years: what is pulled, what is left; without an age it is the reserve.

    `broken_on` are the days on which pieces of it were really broken, ISO.
    """

    level_id: int
    words: str
    due_utc: str | None
    panels: list[PanelLine]
    broken_on: list[str]


@dataclass(frozen=True)
class PullDates:
    """All dates, in order, the reserve last; until when it lasts, and what the next one can see, in words."""

    dates: list[PullDate]
    words: str
    next: str = ""


@dataclass(frozen=True)
class PanelEntry(Entry):
    """The age at which a panel is pulled instead, and why."""

    level: Id
    reason: Reason


def list_pull_dates(facts: PieceFacts) -> PullDates:
    """Return the dates of a trial whose ages vary over weeks or more, and what is kept in reserve."""
    if not facts.runs_over_years:
        return PullDates([], "")
    ages = sorted(facts.ages, key=lambda one: (one.value_si is None, one.value_si or 0.0))
    dates = [_make_date(facts, age) for age in ages]
    return PullDates(dates, _say_how_long(dates), _say_next(facts, dates))


def say_panels(date: PullDate) -> str:
    """Return the panels of a date that are not pulled yet, in words; nothing where there are none."""
    waiting = [str(panel.number) for panel in date.panels if panel.labels and not panel.broken]
    if not waiting:
        return ""
    return f"panel {waiting[0]}" if len(waiting) == 1 else f"panels {', '.join(waiting)}"


def _make_date(facts: PieceFacts, age: LevelRow) -> PullDate:
    mine = [piece for piece in facts.pieces.values() if piece.panel is not None and _age_of(facts, piece) == age.id]
    standing = [piece for piece in mine if piece.void_reason is None]
    closed = [at for piece in standing if (at := facts.life_of(piece).closed_at) is not None]
    due = to_text(min(closed) + timedelta(seconds=age.value_si)) if closed and age.value_si is not None else None
    numbers = sorted({piece.panel for piece in mine if piece.panel is not None})
    kinds = {piece.treatment_id for piece in mine}
    results = [result for piece in standing if (result := facts.result_of(piece)) is not None and not result.undated]
    days = sorted({result.started_utc[:10] for result in results})
    panels = [_make_panel(facts, number, standing, kinds) for number in numbers]
    return PullDate(age.id, age.name, due, panels, days)


def _make_panel(facts: PieceFacts, number: int, standing: Sequence[Piece], kinds: set[int]) -> PanelLine:
    pieces = [piece for piece in standing if piece.panel == number]
    lacking = kinds - {piece.treatment_id for piece in pieces}
    return PanelLine(
        number,
        [piece.label for piece in pieces],
        sum(facts.result_of(piece) is not None for piece in pieces),
        [one.name for one in facts.made if one.id in lacking],
    )


def _age_of(facts: PlanFacts, piece: Piece) -> int | None:
    level = facts.level_of(facts.treatments[piece.treatment_id], Factor.CURE_TIME)
    return None if level is None else level.id


def _say_how_long(dates: Sequence[PullDate]) -> str:
    dated = [one for one in dates if one.due_utc is not None]
    reserve = sum(len(one.panels) for one in dates if one.due_utc is None)
    if len(dated) < len(dates) - 1 or not dated:
        return "The dates stand once everything is glued."
    moments = [datetime.fromisoformat(one.due_utc) for one in dated if one.due_utc is not None]
    last = find_last_date(moments, len(dated[-1].panels), reserve)
    if last is None or not reserve:
        return f"The last panels are pulled in {moments[-1]:%B %Y}; nothing is kept in reserve."
    return (
        f"The last date is {moments[-1]:%B %Y}; with {reserve} {'panel' if reserve == 1 else 'panels'} in reserve, "
        f"at the pace of the last two dates, it lasts until {last:%B %Y}."
    )


def _say_next(facts: PieceFacts, dates: Sequence[PullDate]) -> str:
    """Return when the next date is, and how many pieces of each set it needs to see a loss that matters."""
    waiting = [one for one in dates if one.due_utc is not None and any(p.labels and not p.broken for p in one.panels)]
    broken = [one for one in dates if any(panel.broken for panel in one.panels)]
    if not waiting or not broken:
        return ""
    date = min(waiting, key=lambda one: one.due_utc or "")
    each = sum(bool(panel.labels) and not panel.broken for panel in date.panels)
    groups: dict[int, list[float]] = {}
    for piece in facts.pieces.values():
        result = facts.result_of(piece)
        if result is not None and result.load_n and piece.excluded_reason is None and piece.void_reason is None:
            strength = facts.strength_of(piece, result.load_n)
            groups.setdefault(piece.treatment_id, []).append(strength or result.load_n)
    first = [len(mine) for key, mine in groups.items() if _is_of(facts, key, broken[0].level_id)]
    pooled, margin = pool_scatter(list(groups.values())), facts.planned_sizes["margin_pct"]
    cv_pct = facts.planned_sizes["cv_pct"] if pooled is None else pooled.cv_pct
    if not first or not cv_pct > 0:
        return ""
    needed = find_n_beside(-log(1 - min(margin, 90.0) / 100), sigma_log_from_cv(cv_pct), min(first))
    told = (
        f"it needs {needed} pieces of each set"
        if needed is not None
        else f"no number of pieces is enough beside the {min(first)} of each that were broken at {broken[0].words}"
    )
    moment = datetime.fromisoformat(date.due_utc or "")
    return (
        f"Next: {date.words}, {moment:%d %B %Y}, {each} of each set. To see a loss of {margin:g} % against "
        f"{broken[0].words} at a scatter of {cv_pct:.0f} %, {told}."
    )


def _is_of(facts: PlanFacts, treatment_id: int, level_id: int) -> bool:
    return level_id in facts.treatment_levels.get(treatment_id, ())


def take_panel(file: ShopFile, trial_id: int, panel: int, level_id: int, reason: str) -> None:
    """Let a panel be pulled at another age than planned, a reserve panel at an age: every piece of it moves.

    Raises
    ------
    EntryError : no such panel or age, or it is pulled then already. StateError : a piece of it is loaded, or a kind is
    not made for that age. ReasonNeeded : no reason is given.
    """
    with file.changing("Moved a panel to another date", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        ages = {one.id: one.name for one in facts.ages}
        pieces = [one for one in facts.pieces.values() if one.panel == panel and one.void_reason is None]
        if not pieces or level_id not in ages:
            raise EntryError(f"There is no panel {panel}, or no such age.", "Choose one that is listed.", field="panel")
        for piece in pieces:
            facts.require(Act.CHANGE_AGE, piece, file.clock())
        before = _age_of(facts, pieces[0])
        targets = [(piece, _find_target(facts, piece, level_id)) for piece in pieces]
        write_amendment(
            connection, facts, file.now(), "panel", f"the age of panel {panel}",
            ages.get(before or 0, "none"), ages[level_id], reason,
        )  # fmt: skip
        for piece, target in targets:
            amend_piece(connection, piece.id, treatment_id=target.id)


def _find_target(facts: PlanFacts, piece: Piece, level_id: int) -> Treatment:
    """Return the set that is made like a piece's, at another age."""
    kept = _rest_of(facts, piece.treatment_id)
    for one in facts.made:
        levels = facts.treatment_levels.get(one.id, ())
        if level_id in levels and _rest_of(facts, one.id) == kept and not one.solid:
            return one
    name = facts.treatments[piece.treatment_id].name
    raise StateError(f"There is no set like {name} at that age.", "A panel moves to an age that all its sets have.")


def _rest_of(facts: PlanFacts, treatment_id: int) -> frozenset[int]:
    """Return what a set is made of besides its age."""
    ages = {one.id for one in facts.ages}
    return frozenset(facts.treatment_levels.get(treatment_id, ())) - ages
