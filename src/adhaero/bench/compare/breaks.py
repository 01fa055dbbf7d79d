"""The breaks of a trial as the core sees them: which pieces, asked what, and the answer."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Final

from adhaero.bench.compare.slices import Value, find_slice, list_in, name_sets
from adhaero.bench.facts.looking import find_standing
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.shelf import kept
from adhaero.core.errors import DataError
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.plan.fields import Factor
from adhaero.core.pulls import count_loadings
from adhaero.core.response import FORMS as RESPONSES
from adhaero.core.response import Response
from adhaero.core.stats.analyse import Analysis, Question, analyse
from adhaero.core.stats.breaks import Estimate, Outcome, Specimen
from adhaero.store.pieces import Piece
from adhaero.store.plans import FactorRow
from adhaero.store.pulls import Pull

BLOCK = "board"


_TAKEN = frozenset({"specimen", "board", "species", "outcome", "excluded", "rig", "calibration", "fixture", "glue_up"})


@dataclass(frozen=True)
class Choice:
    """What is asked of a trial's breaks; `estimate`, `within_boards` None for what the plan asks and what suits it.

    `response` is what of each break is compared; `slice` the words of the slice whose pieces are compared among
    themselves, empty for all together; `unit` what numbers are shown in, empty for the shop's.
    """

    estimate: Estimate | None = None
    within_boards: bool | None = None
    against_control: bool = False
    response: Response = Response.STRENGTH
    slice: str = ""
    unit: str = ""


@dataclass(frozen=True)
class Breaks:
    """The breaks of a trial, how they are asked about, and the answer.

    Attributes
    ----------
    pieces, specimens : every broken piece of the slice `cut`, set by set, and what it is to the analysis.
    compared : the specimens of the sets that have a piece that counts.
    analysis, waits : the analysis, or why there is none.
    passes : where pieces are to pass or fail, each that counts (beside strengths, each with a judged face): its set,
        nothing, whether it passed.
    unread : labels of the broken pieces whose response is not known, so that they are not compared.
    """

    pieces: Sequence[Piece]
    specimens: tuple[Specimen, ...]
    compared: tuple[Specimen, ...]
    question: Question
    analysis: Analysis | None
    waits: str | None
    passes: tuple[tuple[str, None, bool], ...] | None = None
    unread: tuple[str, ...] = ()
    response: Response = Response.STRENGTH
    cut: Value | None = None


def collect_breaks(facts: PieceFacts, choice: Choice) -> Breaks:
    """Return the breaks of a trial, asked as chosen."""
    return _collect_breaks(facts, replace(choice, unit=""))


@kept(most=64)
def _collect_breaks(facts: PieceFacts, choice: Choice) -> Breaks:
    """Return the breaks as chosen; kept, because rows that were read never change."""
    cut = find_slice(facts, choice.slice)
    specimens, pieces, unread = _collect(facts, choice.response, cut)
    compared = _only_compared(specimens)
    question = _ask(facts, specimens, choice)
    if FIXTURES[facts.fixture].kind == "none" and compared:
        passes = tuple(
            (one.level, None, (one.wood_failure_pct or 0) >= Question.wood_failure_from)
            for one in compared
            if one.excluded is None
        )
        why = f"Prying gives no strength: {PASS_RULE}."
        return Breaks(pieces, specimens, compared, question, None, why, passes, cut=cut)
    analysis, waits, question = _try_analyse(compared, question, choice)
    asked = facts.trial.answer == "pass_fail"
    judged = tuple(
        (one.level, None, one.wood_failure_pct >= Question.wood_failure_from)
        for one in compared
        if one.excluded is None and one.wood_failure_pct is not None
    )
    if unread and not specimens:
        waits = f"No piece has a {RESPONSES[choice.response].noun}: no displacement was recorded."
    return Breaks(
        pieces,
        specimens,
        compared,
        question,
        analysis,
        waits,
        judged or None if asked else None,
        unread,
        choice.response,
        cut,
    )


PASS_RULE = f"torn wood on {Question.wood_failure_from:g} % of the face or more is a pass"


def _collect(
    facts: PieceFacts, response: Response, cut: Value | None
) -> tuple[tuple[Specimen, ...], list[Piece], tuple[str, ...]]:
    """Return the pieces of a slice with a kept result as specimens, set by set as planned, and those without one."""
    order = {treatment_id: rank for rank, treatment_id in enumerate(facts.treatments)}
    names = name_sets(facts, cut)
    made = facts.each(MAKERS[response])
    broken = facts.each(make_specimen)
    found = []
    unread = []
    for piece in sorted(list_in(facts, cut), key=lambda one: (order[one.treatment_id], one.label)):
        specimen = made[piece.id]
        if specimen is not None:
            name = names[piece.treatment_id]
            found.append((piece, specimen if specimen.level == name else replace(specimen, level=name)))
        elif broken[piece.id] is not None:
            unread.append(piece.label)
    return tuple(specimen for _, specimen in found), [piece for piece, _ in found], tuple(unread)


def _make(response: Response, facts: PieceFacts, piece: Piece) -> Specimen | None:
    """Return a piece with another response than its strength; None where that is not known of it.

    A piece that broke, or held, before its bend began to stay has a usable limit of at least that. Stiffness is read
    below half of the load, whatever became of the piece; the work of one that held goes on.
    """
    one, pull = make_specimen(facts, piece), facts.result_of(piece)
    if one is None or pull is None:
        return None
    broke = one.outcome
    if broke is Outcome.FELL_APART and response is not Response.LOAD:
        # what carried nothing has no limit to use; how stiff or tough it was nobody knows
        return one if response in (Response.USABLE, Response.USABLE_LOAD) else None
    match response:
        case Response.LOAD:
            return replace(one, value=pull.load_n, held_value=pull.held_n)
        case Response.USABLE | Response.USABLE_LOAD:
            if pull.stiffness_n_per_mm is None:
                return None
            outcome = Outcome.HELD if pull.bend_starts_n is None else Outcome.BROKE
            held_n = pull.load_n if pull.held_n is None else pull.held_n
            load_n = held_n if pull.bend_starts_n is None else pull.bend_starts_n
            value = load_n if load_n is None or response is Response.USABLE_LOAD else facts.strength_of(piece, load_n)
            return replace(one, value=value, held_value=None, outcome=outcome)
        case Response.MOMENT:
            value, held = (
                None if load is None else facts.moment_of(piece, load) for load in (pull.load_n, pull.held_n)
            )
            return None if value is None and held is None else replace(one, value=value, held_value=held)
        case Response.REACHED:
            value, outcome = pull.reached_mm, Outcome.HELD if broke is Outcome.HELD else Outcome.BROKE
        case Response.TIME:
            value, outcome = pull.hold_s, Outcome.HELD if broke is Outcome.HELD else Outcome.BROKE
        case Response.STIFFNESS:
            value, outcome = pull.stiffness_n_per_mm, Outcome.BROKE
        case _:
            value, outcome = pull.energy_j, Outcome.HELD if broke is Outcome.HELD else Outcome.BROKE
    return None if value is None or value <= 0 else replace(one, value=value, held_value=None, outcome=outcome)


def make_specimen(facts: PieceFacts, piece: Piece) -> Specimen | None:
    """Return a piece as the analysis sees it; None where it has no result, is void or a pilot."""
    result = facts.result_of(piece)
    if result is None or piece.void_reason is not None or piece.pilot:
        return None
    circumstances = {"rig": facts.name_rig(result)}
    if (version := facts.versions.get(result.version_id or 0)) is not None:
        circumstances["rig version"] = f"{facts.name_rig(result)} {version.number}"
    if result.calibration_id is not None:
        circumstances["calibration"] = str(result.calibration_id)
    return Specimen(
        label=piece.label,
        level=facts.treatments[piece.treatment_id].name,
        value=None if result.load_n is None else facts.strength_of(piece, result.load_n),
        outcome=_outcome(result),
        held_value=None if result.held_n is None else facts.strength_of(piece, result.held_n),
        block=facts.boards[piece.board_id].name,
        wood_failure_pct=result.wood_failure_pct,
        excluded=piece.excluded_reason,
        circumstances=circumstances,
        factors=facts.made_of(facts.treatments[piece.treatment_id]),
        wood=facts.boards[piece.board_id].species or None,
    )


# one function a response, for good: what `each` keeps is found by it
MAKERS: Final = {one: make_specimen if one is Response.STRENGTH else partial(_make, one) for one in Response}


def _outcome(result: Pull) -> Outcome:
    """Return what happened: weights put on in steps leave a break between two of them."""
    if result.outcome == "broke" and result.held_n is not None:
        return Outcome.STEP
    return Outcome(result.outcome or "broke")


def _only_compared(specimens: Sequence[Specimen]) -> tuple[Specimen, ...]:
    """Return the specimens of the sets that have a piece that counts: the others cannot be compared (yet)."""
    counted = {one.level for one in specimens if one.excluded is None}
    return tuple(one for one in specimens if one.level in counted)


def _ask(facts: PieceFacts, specimens: Sequence[Specimen], choice: Choice) -> Question:
    controls = [one.name for one in facts.made if one.solid]
    present = {one.level for one in specimens if one.excluded is None}
    control = next((one for one in controls if one in present), None)
    standing = find_standing(facts)
    within = choice.within_boards if choice.within_boards is not None else boards_are_blocks(specimens)
    return Question(
        response=name_response(facts, choice.response),
        by=column_name(facts),
        block=BLOCK if within else None,
        control=control if choice.against_control and len(controls) == 1 else None,
        estimate=_choose_estimate(facts, choice),
        margin_pct=facts.planned_sizes["margin_pct"],
        confidence=Question.confidence if standing is None else standing.confidence,
    )


def name_response(facts: PlanFacts, response: Response) -> str:
    """Return the column of a response, with its unit."""
    form = RESPONSES[response]
    if form.column and form.kind:
        return form.column
    return f"{form.column}_{facts.response.rpartition('_')[2]}" if form.column else facts.response


def _choose_estimate(facts: PlanFacts, choice: Choice) -> Estimate:
    """Return which question is asked; how a piece bends is no matter of the glue alone."""
    if RESPONSES[choice.response].moved:
        return Estimate.JOINT
    return choice.estimate or (Estimate.GLUELINE if facts.trial.judged == "glue" else Estimate.JOINT)


def boards_are_blocks(specimens: Sequence[Specimen]) -> bool:
    """Return whether boards can make a difference: several of them, and some that hold more than one piece.

    Pieces of one board are alike. A set from one board and another from another differ by their boards too, which only
    an analysis within boards says.
    """
    boards = [one.block for one in specimens if one.excluded is None and one.block]
    return 1 < len(set(boards)) < len(boards)


def _try_analyse(
    specimens: tuple[Specimen, ...], question: Question, choice: Choice
) -> tuple[Analysis | None, str | None, Question]:
    """Analyse as asked; where boards were not asked for by the person and do not connect the sets, without them."""
    if not specimens:
        return None, "No piece that counts is broken yet.", question
    try:
        return analyse(specimens, question), None, question
    except DataError as error:
        if question.block is not None and choice.within_boards is None and error.field == "block":
            return _try_analyse(specimens, replace(question, block=None), choice)
        return None, error.sentence, question


def find_controls(facts: PlanFacts, result: Analysis | None) -> tuple[str, ...]:
    """Return the sets of solid wood as an analysis names them: one of several woods is one set a wood."""
    solid = [one.name for one in facts.made if one.solid]
    if result is None:
        return tuple(solid)
    return tuple(
        group.level
        for group in result.groups
        if group.level in solid or any(name in solid and group.level.startswith(f"{name}, ") for name in result.divided)
    )


def column_name(facts: PlanFacts) -> str:
    """Return the name of the column that holds the set: that of what is varied, `set` for several things."""
    if len(facts.factors) != 1:
        return "set"
    return slug_of(facts, next(iter(facts.factors.values())))


def slug_of(facts: PlanFacts, factor: FactorRow) -> str:
    """Return the name of the column that holds a thing that is varied."""
    kind = facts.kinds[factor.id]
    words = factor.name if kind is Factor.OWN and factor.name else kind.value
    slug = "_".join("".join(c if c.isalnum() else " " for c in words.lower()).split()) or "set"
    return f"{slug}_varied" if slug in _TAKEN or slug.endswith(("_mm", "_n", "_mpa", "_s", "_pct")) else slug


def count_attempts(facts: PlanFacts, piece: Piece) -> int:
    """Return how often a piece was really loaded."""
    return count_loadings([pull.load_n or 0.0 for pull in facts.pulls[piece.id]])
