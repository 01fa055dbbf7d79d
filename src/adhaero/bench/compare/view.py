"""The Compare station: every break as strength, the sets compared, the verdict."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from adhaero.bench.compare.breaks import Breaks, Choice, collect_breaks, find_controls
from adhaero.bench.compare.dots import Dot, make_dots
from adhaero.bench.compare.headline import answer, find_few
from adhaero.bench.compare.how_known import How, explain
from adhaero.bench.compare.notes import say_judged, say_method, say_mind
from adhaero.bench.compare.pairs import PairWords, ask, rank, say_all, say_leading
from adhaero.bench.compare.passing import PassView, view_passes
from adhaero.bench.compare.result_units import read_result_units
from adhaero.bench.compare.slices import Value, name_sets
from adhaero.bench.compare.slips import list_slips
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.shelf import kept
from adhaero.bench.plan.earlier_treatments import Reference, list_references
from adhaero.bench.shop.past_breaks import read_shop_breaks
from adhaero.bench.shop.supplies import read_supplies
from adhaero.core.errors import NotThere
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.fixture import STRENGTH_WORDS
from adhaero.core.glue import USUAL, GlueFamily
from adhaero.core.pulls import PullSource
from adhaero.core.response import FORMS as RESPONSES
from adhaero.core.response import Response
from adhaero.core.stats.analyse import (
    Exclusion,
    Group,
    list_excluded,
)
from adhaero.core.stats.breaks import Estimate, as_judged
from adhaero.core.stats.few import say_span_of
from adhaero.core.stats.verdict import Summary
from adhaero.core.stats.words import list_some
from adhaero.core.units import DisplayUnit, Units, offer_units, response_unit
from adhaero.store.file import ShopFile
from adhaero.store.pieces import Piece
from adhaero.store.plans import Treatment
from adhaero.store.sources import SourceFile, list_sources
from adhaero.store.trials import Amendment, list_amendments


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
        units = read_result_units(connection, facts, choice)
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
    specimens, used = breaks.specimens, breaks.pieces
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
    form, fixture = RESPONSES[choice.response], FIXTURES[facts.fixture]
    kind = form.kind or fixture.kind
    dots = make_dots(facts, choice.response, used, judged)
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
        excluded=list(list_excluded(specimens)),
        excluded_ids=[piece.id for piece in used if piece.excluded_reason is not None],
        voided=[Exclusion(p.label, p.void_reason) for p in facts.pieces.values() if p.void_reason is not None],
        mind=say_mind(facts, breaks, dots),
        method=say_method(facts, choice, breaks, dots),
        how=explain(analysis, form, fixture.formula, question.wood_failure_from) if analysis else {},
        judged_words=form.says if form.moved else say_judged(question),
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
