"""May I stop? What may be said after each complete board of a trial that planned to look, and stopping by that rule."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import log
from typing import Final

from adhaero.bench.compare.breaks import Choice, collect_breaks, find_controls
from adhaero.bench.facts.entry import Entry
from adhaero.bench.facts.looking import STOPPED, Standing, find_standing
from adhaero.bench.facts.made_late import find_made_late
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.plan.amendments import write_amendment
from adhaero.core.errors import DataError, StateError
from adhaero.core.pieces import Act
from adhaero.core.stats.analyse import Analysis, analyse
from adhaero.core.stats.pairs import Pair, Verdict
from adhaero.core.stats.stopping import count_more, find_margin
from adhaero.core.stats.verdict import turn
from adhaero.core.stats.words import and_join, capital, say_span
from adhaero.store.file import ShopFile
from adhaero.store.pieces import amend_piece

# a range whose ends are so many times apart says nothing
_ANYTHING: Final = 100.0
_NEVER: Final = "The looks were planned before the first break: together they err once in twenty such trials at most."


@dataclass(frozen=True)
class LookView:
    """What a trial that planned to look may say now.

    Attributes
    ----------
    planned : whether looks were planned at all; the rest is empty without. boards, complete : of the trial, and those
    that are. settled : the answer at the lead is known. headline : that, or how much more it would take. why : the
    ranges behind it. left : labels that may stay whole. stopped : it was stopped by the rule, in words.
    """

    planned: bool
    boards: int = 0
    complete: int = 0
    settled: bool = False
    headline: str = ""
    why: str = ""
    left: tuple[str, ...] = ()
    stopped: str = ""


@dataclass(frozen=True)
class StopEntry(Entry):
    """Stopping by the rule: how many boards were complete when it was shown."""

    complete: int


def view_look(file: ShopFile, trial_id: int) -> LookView:
    """Return what a trial may say after its latest complete board."""
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
    return _blind(facts, _view(facts))


def _blind(facts: PieceFacts, view: LookView) -> LookView:
    """Return a look without the names of sets, while they are hidden at the bench."""
    if not facts.hides_sets or not view.planned or view.stopped:
        return view
    after = f"after board {view.complete} of {view.boards}"
    said = f"The answer is settled {after}; {len(view.left)} pieces may stay whole." if view.settled else "Go on."
    return replace(view, headline=said, why=f"The sets stay hidden until every piece is broken. {_NEVER}")


def _view(facts: PieceFacts) -> LookView:
    standing = find_standing(facts)
    if standing is None:
        return LookView(False)
    view = LookView(True, standing.boards, standing.complete, left=_list_left(facts))
    stopped = sum((piece.void_reason or "").startswith(STOPPED) for piece in facts.pieces.values())
    if stopped:
        words = (
            f"Stopped by the rule after board {standing.complete} of {standing.boards}; {stopped} pieces stay whole."
        )
        return replace(view, stopped=words, headline=words, why=_NEVER, left=())
    if standing.reach is None:
        return replace(view, headline="Too few boards are complete to say anything: go on.", why=_NEVER)
    analysis = _analyse_complete(facts, standing)
    if analysis is None:
        return replace(view, headline="Nothing can be compared yet: go on.", why=_NEVER)
    return _judge(facts, view, standing, analysis)


def _analyse_complete(facts: PieceFacts, standing: Standing) -> Analysis | None:
    """Return the analysis of the complete boards alone: what an unfinished one shows is no look."""
    breaks = collect_breaks(facts, Choice())
    names = {facts.boards[key].name for key in standing.done}
    some = tuple(one for one in breaks.compared if one.block in names)
    there = {one.level for one in some if one.excluded is None}
    try:
        return analyse(tuple(one for one in some if one.level in there), breaks.question) if len(there) > 1 else None
    except DataError:
        return None


def _judge(facts: PieceFacts, view: LookView, standing: Standing, analysis: Analysis) -> LookView:
    """Return what the repeated ranges say of the set at the lead against every other joint."""
    solid = set(find_controls(facts, analysis))
    joints = [one for one in analysis.groups if one.level not in solid and one.typical is not None]
    if len(joints) < 2:
        return replace(view, headline="Nothing can be compared yet: go on.", why=_NEVER)
    lead = max(joints, key=lambda one: one.typical or 0.0).level
    names = {one.level for one in joints}
    against = [_turned(one, lead) for one in analysis.pairs if lead in (one.a, one.b) and {one.a, one.b} <= names]
    open_ = [one for one in against if one.verdict is Verdict.CANNOT_TELL]
    waiting = sum(
        piece.void_reason is None and facts.result_of(piece) is None and not piece.pilot
        for piece in facts.pieces.values()
        if piece.board_id in standing.begun
    )
    waits = "1 piece of a begun board is" if waiting == 1 else f"{waiting} pieces of a begun board are"
    begun = f" {waits} to break; it counts once it is complete." if waiting else ""
    why = f"{_say_ranges(lead, against)}{begun} {_NEVER}{_say_grown(facts)}"
    if not open_:
        same = [one.b for one in against if one.verdict is Verdict.SAME]
        said = f"{lead} is the strongest" if not same else f"{lead} and {and_join(same)} are the same for practice"
        if same and len(same) < len(against):
            said += ", and stronger than the others"
        left = len(view.left)
        after = f"after board {standing.complete} of {standing.boards}"
        may = f"; {left} pieces may stay whole" if left else ""
        return replace(view, settled=True, headline=f"The answer is settled {after}: {said}{may}.", why=why)
    more = _count_more(standing, analysis, open_)
    names_open = and_join([one.b for one in open_][:3])
    if more is None:
        told = "as the numbers stand not even all boards would settle it"
    else:
        pieces = waiting + (more - (1 if waiting else 0)) * len(names)
        told = f"as the numbers stand it would take about {pieces} more pieces"
    return replace(view, headline=f"Go on: whether {lead} beats {names_open} is open; {told}.", why=why)


def _say_grown(facts: PieceFacts) -> str:
    if not find_made_late(facts):
        return ""
    return (
        " Pieces joined after the first break: the bounds are for the boards that there are now, and hold if they did "
        "not join because of what was seen."
    )


def _count_more(standing: Standing, analysis: Analysis, open_: Sequence[Pair]) -> int | None:
    """Return how many more boards would settle every open pair; None where not all would."""
    margin, found = find_margin(analysis.margin_pct), 0
    for one in open_:
        if one.ratio is None or standing.sigma is None:
            return None
        more = count_more(standing.looks, standing.complete, log(one.ratio), standing.sigma, margin, standing.each)
        if more is None:
            return None
        found = max(found, more)
    return found


def _turned(pair: Pair, first: str) -> Pair:
    return pair if pair.a == first else turn(pair)


def _say_range(low: float | None, high: float | None) -> str:
    far = low is not None and high is not None and high > _ANYTHING * low
    return "nothing known yet" if far else say_span(low, high)


def _say_ranges(lead: str, against: Sequence[Pair]) -> str:
    said = [f"{one.b} {_say_range(*one.ratio_ci95)}" for one in against if one.ratio_ci95 is not None]
    return f"{capital(lead)} against {'; '.join(said)}." if said else ""


def _list_left(facts: PieceFacts) -> tuple[str, ...]:
    return tuple(
        piece.label
        for piece in facts.pieces.values()
        if not piece.pilot and piece.void_reason is None and facts.result_of(piece) is None
    )


def stop_by_rule(file: ShopFile, trial_id: int, entry: StopEntry) -> int:
    """Leave the pieces that are not broken whole, because the answer is settled; return how many.

    Raises
    ------
    StateError : looks were not planned, the answer is not settled, or a board was completed since it was shown.
    """
    with file.changing("Stopped by the rule", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        view = _view(facts)
        if not view.planned:
            raise StateError(
                "No look was planned for this trial.",
                "Stopping because of what was seen makes ranges too narrow, so it has to be planned before.",
                "Break all pieces, or plan the next trial with looks.",
            )
        if not view.settled or view.complete != entry.complete:
            raise StateError(
                f"{view.headline or 'The answer is not settled.'}",
                f"It was asked after board {entry.complete}; {view.complete} are complete now.",
                "Look again.",
            )
        if not view.left:
            raise StateError("Every piece is broken.", "There is nothing left to stay whole.")
        mine = [piece for piece in facts.pieces.values() if piece.label in view.left]
        for piece in mine:
            facts.require(Act.VOID, piece, file.clock())
        reason = f"{STOPPED} after board {view.complete} of {view.boards}"
        write_amendment(
            connection, facts, file.now(), "pieces", "pieces to break", str(len(facts.pieces)),
            str(len(facts.pieces) - len(mine)), reason,
        )  # fmt: skip
        for piece in mine:
            amend_piece(connection, piece.id, void_reason=reason)
        return len(mine)
