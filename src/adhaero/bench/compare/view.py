"""The Compare station: every break as strength, the sets compared, the verdict."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Final

from adhaero.bench.breaking.typed_load import counts_more_than_is_typed
from adhaero.bench.compare.breaks import MAKERS, Breaks, Choice, collect_breaks, count_attempts, find_controls
from adhaero.bench.compare.headline import answer, find_few
from adhaero.bench.compare.how_broken import list_mixed, list_speeds, list_stood, say_corrected, was_doubted
from adhaero.bench.compare.how_known import How, explain
from adhaero.bench.compare.pairs import PairWords, ask, rank, say_all, say_leading
from adhaero.bench.compare.passing import PassView, view_passes
from adhaero.bench.compare.slices import Value, is_in, name_sets
from adhaero.bench.compare.slips import list_slips
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.shelf import kept
from adhaero.bench.plan.earlier_treatments import Reference, list_references
from adhaero.bench.shop.past_breaks import read_shop_breaks
from adhaero.bench.shop.supplies import read_supplies
from adhaero.bench.shop.units import read_units
from adhaero.core.errors import NotThere
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.fixture import STRENGTH_WORDS, UNSAID
from adhaero.core.glue import USUAL, GlueFamily
from adhaero.core.plan.confounds import find_confounds
from adhaero.core.pulls import PullSource
from adhaero.core.response import FORMS as RESPONSES
from adhaero.core.response import Response
from adhaero.core.stats.analyse import (
    Analysis,
    Exclusion,
    Group,
    Question,
    list_excluded,
)
from adhaero.core.stats.breaks import OUTCOME_WORDS, Estimate, Outcome, Specimen, as_judged
from adhaero.core.stats.few import say_span_of
from adhaero.core.stats.laws import CLEAR
from adhaero.core.stats.passes import count_passes, say_passes
from adhaero.core.stats.verdict import Summary
from adhaero.core.stats.words import list_some, say_were
from adhaero.core.units import DisplayUnit, Units, offer_units, response_unit
from adhaero.store.file import ShopFile
from adhaero.store.pieces import Piece
from adhaero.store.plans import Treatment
from adhaero.store.sources import SourceFile, list_sources
from adhaero.store.trials import Amendment, list_amendments


@dataclass(frozen=True)
class Dot:
    """One piece in the chart.

    Attributes
    ----------
    strength, held_strength : the response: MPa, N·m, N, N/mm or J; where weights went up in steps, it held the second.
    outcome, judged : what happened, and what that is to the question asked (torn wood: the glue held).
    """

    piece_id: int
    label: str
    treatment: str
    board: str
    strength: float | None
    held_strength: float | None
    load_n: float | None
    outcome: Outcome
    outcome_words: str
    judged: Outcome
    wood_failure_pct: float | None
    excluded: str | None
    sizes_from_plan: bool
    odd: str | None
    attempts: int


@dataclass(frozen=True)
class ResponseOption:
    """What of the breaks can be compared."""

    name: Response
    words: str


@dataclass(frozen=True)
class TreatmentUse:
    """How many pieces of a set were planned, void, broken and counted; `traced` where their pulls can be drawn."""

    id: int
    name: str
    traced: bool
    planned: int
    void: int
    broken: int
    counted: int


@dataclass(frozen=True)
class CompareView:
    """Everything that Compare shows.

    Attributes
    ----------
    response, responses : what of each break is compared, and what else could be. kind : what that is measured in.
    groups : from the strongest down, baselines last. use : in the order of the plan.
    slice : whose pieces these are, in words; empty for all. unit, unit_options : what it is shown in, and could be.
    passing, passed_ids : where pieces pass or fail, and which were torn enough for it.
    spans : of sets of one or two pieces, between what they broke.
    pairs : all, or of a screen those that matter, of `pairs_in_all`.
    source : the newest file that it was brought in from; empty where it was made here.
    """

    estimate: Estimate
    block: str | None
    control: str | None
    controls: Sequence[str]
    dots: list[Dot]
    groups: list[Group]
    use: list[TreatmentUse]
    summary: Summary | None
    pairs: list[PairWords]
    pairs_in_all: int
    waits: str | None
    passing: PassView | None
    passed_ids: list[int]
    spans: dict[str, str]
    passes: dict[str, str]
    excluded: list[Exclusion]
    excluded_ids: list[int]
    voided: list[Exclusion]
    mind: list[str]
    method: list[str]
    how: Mapping[str, How]
    judged_words: str
    amended: list[str]
    reference: Reference | None
    guess: str
    guess_utc: str | None
    response: Response
    responses: list[ResponseOption]
    kind: str
    kind_words: str
    formula: str
    slice: str
    unit: DisplayUnit
    unit_options: Sequence[DisplayUnit]
    source: str = ""


def _usual_lowest(facts: PlanFacts) -> dict[str, float | None]:
    """Return the lowest temperature that is usual with the family of each glue that was used, by its name."""
    families = {one.glue.lower(): one.glue_family for one in facts.batches.values()}
    known = {glue: USUAL[GlueFamily(family)] for glue, family in families.items() if family in list(GlueFamily)}
    return {glue: usual.get("lowest_temperature_c") for glue, usual in known.items()}


def view_compare(file: ShopFile, trial_id: int, choice: Choice) -> CompareView:
    """Return the comparison of a trial's breaks so far, with every pair."""
    facts, view = _read(file, trial_id, choice)
    analysis = collect_breaks(facts, choice).analysis
    return replace(view, pairs=say_all(analysis)) if analysis else view


def show_compare(file: ShopFile, trial_id: int, choice: Choice) -> CompareView:
    """Return the comparison as a screen shows it: with the pairs that matter; any other is asked for."""
    return _read(file, trial_id, choice)[1]


def ask_pair(file: ShopFile, trial_id: int, choice: Choice, a: str, b: str) -> PairWords:
    """Return how a set stands to another. Raises `NotThere` for two that are not compared."""
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
    analysis = collect_breaks(facts, choice).analysis
    if analysis is None:
        raise NotThere("No two sets are compared yet.", "Expected pieces that broke in both.", field="a")
    return ask(analysis, a, b)


def _read(file: ShopFile, trial_id: int, choice: Choice) -> tuple[PieceFacts, CompareView]:
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        amendments = list_amendments(connection, trial_id)
        breaks = read_shop_breaks(connection, trial_id, practice=bool(facts.trial.practice))
        glues = read_supplies(connection).glues
        units = replace(read_units(connection), response=choice.unit)
        sources = list_sources(connection, trial_id)
    view = _compare(facts, choice, units)
    slips = list_slips(
        facts,
        {one.name.lower(): one.open_time_s for one in glues},
        _usual_lowest(facts) | {one.name.lower(): one.lowest_temperature_c for one in glues},
    )
    earlier = list_references(breaks, facts.fixture.value) if facts.trial.reference_id else []
    return facts, replace(
        view,
        amended=[_say_amendment(one) for one in amendments],
        mind=[*view.mind, *slips, *(words for one in sources for words in _say_source(one))],
        source=sources[-1].name if sources else "",
        reference=next((one for one in earlier if one.id == facts.trial.reference_id), None),
    )


def _say_source(one: SourceFile) -> list[str]:
    """Return what is to be known of a file that pieces were brought in from."""
    said = [
        f"Brought in from {one.name} on {one.added_utc[:10]}: how the pieces were made is known only as far as it says."
    ]
    if one.slips:
        said.append(
            f"{one.name} shows {len(one.slips)} numbers of its own that its pieces do not give; these are computed "
            f"from the pieces: {list_some(one.slips, ' ')}"
        )
    return said


def _say_amendment(one: Amendment) -> str:
    """Return a change of the settled plan as it stands beside the result."""
    return (
        f"{one.at_utc[:10]}: {one.words} changed from {one.before or 'nothing'} to {one.after or 'nothing'} "
        f"after the plan was settled ({one.reason})."
    )


@kept(most=32)
def _compare(facts: PieceFacts, choice: Choice, units: Units) -> CompareView:
    """Return the comparison of what is written; kept, because rows that were read never change."""
    breaks = collect_breaks(facts, choice)
    specimens, used, compared = breaks.specimens, breaks.pieces, breaks.compared
    analysis, waits, question = breaks.analysis, breaks.waits, breaks.question
    controls = find_controls(facts, analysis)
    groups = []
    if analysis is not None:
        order = {level: at for at, level in enumerate(rank(analysis, controls))}
        groups = sorted(analysis.groups, key=lambda one: order[one.level])
        if all(one.ratio_ci95 is None for one in analysis.pairs):
            # nothing is told apart: letters would say that they are alike
            groups = [replace(one, letters=None) for one in groups]
    judged = as_judged(specimens, question.estimate, question.wood_failure_from)
    made = facts.each(_DOTS[choice.response])
    form, fixture = RESPONSES[choice.response], FIXTURES[facts.fixture]
    kind = form.kind or fixture.kind
    dots = [_judge(dot, one) for piece, one in zip(used, judged, strict=True) if (dot := made[piece.id]) is not None]
    return CompareView(
        estimate=question.estimate,
        block=question.block,
        control=question.control,
        controls=controls,
        dots=dots,
        groups=groups,
        use=_count_use(facts, breaks.cut),
        summary=answer(facts, breaks, choice, units),
        pairs=say_leading(analysis, controls) if analysis else [],
        pairs_in_all=len(analysis.pairs) if analysis else 0,
        waits=waits,
        passing=view_passes(facts, breaks, choice),
        passed_ids=[
            piece.id
            for piece, one in zip(used, specimens, strict=True)
            if (one.wood_failure_pct or 0) >= question.wood_failure_from
        ],
        spans=_say_spans(facts, breaks, units),
        passes=_say_passes(compared) if FIXTURES[facts.fixture].kind == "none" else {},
        excluded=list(list_excluded(specimens)),
        excluded_ids=[piece.id for piece in used if piece.excluded_reason is not None],
        voided=[Exclusion(p.label, p.void_reason) for p in facts.pieces.values() if p.void_reason is not None],
        mind=_mind(facts, breaks, dots),
        method=_method(facts, choice, question, dots, analysis),
        how=explain(analysis, form, fixture.formula, question.wood_failure_from) if analysis else {},
        judged_words=form.says if form.moved else _say_judged(question),
        amended=[],
        reference=None,
        guess=facts.trial.guess,
        guess_utc=facts.trial.guess_utc,
        response=choice.response,
        responses=_list_responses(facts),
        kind=kind,
        kind_words=form.words or STRENGTH_WORDS[fixture.kind],
        formula=fixture.formula,
        slice=str(breaks.cut or ""),
        unit=response_unit(kind, units),
        unit_options=list(offer_units(kind)),
    )


def _say_spans(facts: PieceFacts, breaks: Breaks, units: Units) -> dict[str, str]:
    few = find_few(facts, breaks)
    if few is None:
        return {}
    shown = response_unit(RESPONSES[breaks.response].kind or FIXTURES[facts.fixture].kind, units)
    return {one.level: say_span_of(one, shown.symbol, shown.per_si) for one in few.spans}


def _list_responses(facts: PieceFacts) -> list[ResponseOption]:
    """Return what of the breaks can be compared: what needs a displacement or a time only where one is known."""
    results = [result for piece in facts.pieces.values() if (result := facts.result_of(piece)) is not None]
    moved = any(one.stiffness_n_per_mm is not None for one in results)
    kind = FIXTURES[facts.fixture].kind
    there = {
        Response.LOAD: kind not in ("load", "stress"),
        Response.MOMENT: kind == "bending",
        Response.TIME: any(one.hold_s is not None for one in results),
    }
    return [
        ResponseOption(one, form.words or STRENGTH_WORDS[kind])
        for one, form in RESPONSES.items()
        if (moved or not form.moved) and there.get(one, True)
    ]


def _say_passes(specimens: Sequence[Specimen]) -> dict[str, str]:
    """Return set by set how many pried pieces passed, torn on three quarters of the face or more, and what it shows."""
    found: dict[str, list[bool]] = {}
    for one in specimens:
        if one.excluded is None:
            found.setdefault(one.level, []).append((one.wood_failure_pct or 0) >= Question.wood_failure_from)
    return {name: say_passes(name, count_passes(sum(mine), len(mine))) for name, mine in found.items()}


def _judge(dot: Dot, judged: Specimen) -> Dot:
    same = dot.judged is judged.outcome and dot.treatment == judged.level
    return dot if same else replace(dot, judged=judged.outcome, treatment=judged.level)


def _dot(response: Response, facts: PieceFacts, piece: Piece) -> Dot | None:
    one, result = facts.each(MAKERS[response])[piece.id], facts.result_of(piece)
    if one is None or result is None:
        return None
    return Dot(
        piece_id=piece.id,
        label=one.label,
        treatment=one.level,
        board=one.block or "",
        strength=one.value,
        held_strength=one.held_value,
        load_n=result.load_n,
        outcome=one.outcome,
        outcome_words=OUTCOME_WORDS[one.outcome],
        judged=one.outcome,
        wood_failure_pct=one.wood_failure_pct,
        excluded=one.excluded,
        sizes_from_plan=bool(facts.unmeasured(piece)),
        odd=piece.odd_reason,
        attempts=count_attempts(facts, piece),
    )


_DOTS: Final = {one: partial(_dot, one) for one in Response}


def _count_use(facts: PieceFacts, cut: Value | None) -> list[TreatmentUse]:
    names = name_sets(facts, cut)
    of_set: dict[int, list[Piece]] = {one.id: [] for one in facts.treatments.values()}
    for piece in facts.pieces.values():
        of_set[piece.treatment_id].append(piece)
    return [_use(facts, one, names[one.id], of_set[one.id]) for one in facts.made if one.id in names]


def _use(facts: PieceFacts, one: Treatment, name: str, mine: Sequence[Piece]) -> TreatmentUse:
    broken = [piece for piece in mine if facts.result_of(piece) is not None]
    return TreatmentUse(
        id=one.id,
        name=name,
        traced=any(
            pull.source is PullSource.RIG or bool(pull.dial)
            for piece in broken
            if (pull := facts.result_of(piece)) is not None
        ),
        planned=len(mine) or one.pieces,
        void=sum(piece.void_reason is not None for piece in mine),
        broken=len(broken),
        counted=sum(piece.excluded_reason is None for piece in broken),
    )


def _mind(facts: PieceFacts, breaks: Breaks, dots: Sequence[Dot]) -> list[str]:
    used, compared, analysis = breaks.pieces, breaks.compared, breaks.analysis
    found = list(analysis.warnings) if analysis else []
    if breaks.unread:
        found.append(f"Broken without a displacement that says it, and not compared here: {list_some(breaks.unread)}.")
    left_out = [
        name for name in dict.fromkeys(dot.treatment for dot in dots) if all(one.level != name for one in compared)
    ]
    found += [f"{name} has no piece that counts and is not compared." for name in left_out]
    planned = [dot.label for dot in dots if dot.sizes_from_plan]
    if planned:
        found.append(f"{say_were(planned)} not measured: the planned sizes were used.")
    if twice := [f"{dot.label} ({dot.attempts} times)" for dot in dots if dot.attempts > 1]:
        found.append(f"Loaded more than once, the last try counts: {list_some(twice)}.")
    if as_typed := [one.label for one in used if _stands_as_typed(facts, one)]:
        found.append(f"Typed without the hanger and lever of the rig, and not changed: {list_some(as_typed)}.")
    if elsewhere := [f"{one.label} ({words})" for one in used if (words := _read_elsewhere(facts, one))]:
        found.append(f"Read elsewhere than at the highest load: {list_some(elsewhere)}.")
    if corrected := [f"{one.label} ({words})" for one in used if (words := say_corrected(facts, one))]:
        found.append(f"Corrected after the break: {list_some(corrected)}.")
    if doubted := [one.label for one in used if was_doubted(facts, one)]:
        found.append(f"{say_were(doubted)} asked about when typed, and kept as typed.")
    found += list_mixed(facts, used) + list_speeds(facts, used) + list_stood(facts, used)
    odd = [f"{one.label} ({one.odd_reason})" for one in used if one.odd_reason and one.excluded_reason is None]
    if odd:
        found.append(f"Looked odd before the break, and counts: {list_some(odd)}.")
    counted = [piece for piece in used if piece.excluded_reason is None]
    found += find_confounds(
        [facts.dealt(piece) for piece in counted], [facts.clamp_rounds.get(piece.id) for piece in counted]
    )
    there = [piece for piece in facts.pieces.values() if piece.void_reason is None and is_in(facts, piece, breaks.cut)]
    waiting = len(there) - len(used) - len(breaks.unread)
    if waiting:
        found.append(f"{waiting} {'piece is' if waiting == 1 else 'pieces are'} not broken yet.")
    return found


def _stands_as_typed(facts: PieceFacts, piece: Piece) -> bool:
    """Return whether the load of a piece was typed and stands so, although its rig has a hanger or a lever."""
    result = facts.result_of(piece)
    return (
        counts_more_than_is_typed(facts.rig)
        and result is not None
        and result.source == "hand"
        and result.rig_id is None
        and bool(result.load_n)
        and not result.load_through
    )


def _read_elsewhere(facts: PieceFacts, piece: Piece) -> str:
    """Return why the load of a piece was not read at the highest of its trace; empty where it was."""
    result = facts.result_of(piece)
    return result.load_point_reason if result is not None and result.load_point != "highest" else ""


def _say_sizes(dots: Sequence[Dot]) -> str:
    planned = sum(dot.sizes_from_plan for dot in dots)
    if planned == 0:
        return "the measured sizes of each piece"
    return "the planned sizes: none was measured" if planned == len(dots) else "measured sizes where there are any"


def _method(
    facts: PlanFacts, choice: Choice, question: Question, dots: Sequence[Dot], analysis: Analysis | None
) -> list[str]:
    """Return how the numbers were made, in sentences."""
    form, response = FIXTURES[facts.fixture], RESPONSES[choice.response]
    if form.kind == "none":
        return [f"A pried piece passes with torn wood on {Question.wood_failure_from:g} % of its face or more."]
    said = [response.says] if response.says else []
    if not response.kind and facts.fixture in UNSAID:
        said.append(f"Compared is what was brought in, as it is: {form.formula}. How the pieces sat is not known.")
    elif not response.kind:
        said.append(
            f"Strength is {'the moment' if form.kind == 'moment' else f'{form.kind} stress'}: {form.formula}, "
            f"with {_say_sizes(dots)}."
        )
    said.append(
        f"Typical {response.noun} is the one that half of such joints exceed (the average of the logarithms); its "
        "likely range holds the true one in 19 of 20 such trials (t)."
    )
    if analysis is not None and any(one.n_broke < one.n for one in analysis.groups):
        said.append("What held, fell apart or broke between weights counts as a bound, and few pieces as few.")
    if analysis is None or not analysis.pairs:
        return said
    method = None if analysis.overall is None else analysis.overall.method
    if method == "blocked":
        said.append("Sets are compared within boards, on logarithms, so that a strong board favours none.")
    elif method == "mixed-boards":
        said.append("Sets are compared on logarithms; the boards do not connect them all, and count as chance.")
    else:
        said.append("Sets are compared on logarithms, each by its own scatter (Games and Howell).")
    together = "The range is" if len(analysis.pairs) == 1 else f"All {len(analysis.pairs)} ranges together are"
    said.append(
        f"{together} right in 19 of 20 such trials; differences below {question.margin_pct:g} % do not matter to you."
    )
    if analysis.overall is not None and analysis.overall.p < CLEAR:
        said.append("Taken together, the sets differ by more than chance.")
    elif analysis.overall is not None:
        said.append("Taken together, the differences between the sets that have an estimate could be chance.")
    return said


def _say_judged(question: Question) -> str:
    """Return what the chosen question makes of torn wood."""
    if question.estimate is Estimate.JOINT:
        return "As built: every break counts at its value, torn wood included. Whatever gives way, that is the joint."
    return (
        f"Glue alone: a face torn {question.wood_failure_from:g} % or more says only that the glue held at least that. "
        "Such a piece counts as a bound, not as a number, and the typical strength is estimated from both."
    )
