"""The plan of a trial as the Plan station shows it."""

from dataclasses import dataclass
from typing import Final

from adhaero.bench.facts.looking import LEAST_BOARDS
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.plan.consequences import follow_plan, list_open_questions, make_plan
from adhaero.bench.plan.dealing import deal_plan
from adhaero.bench.plan.earlier_treatments import Reference, list_references
from adhaero.bench.shop.past_breaks import OwnScatter, find_own_scatter, read_shop_breaks
from adhaero.bench.shop.supplies import read_supplies
from adhaero.bench.shop.units import read_units
from adhaero.core.choice import Worded, offer
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.fixture import UNSAID
from adhaero.core.joint import FORMS as JOINTS
from adhaero.core.plan.consequences import Consequences
from adhaero.core.plan.fields import (
    ANSWER_WORDS,
    FACTORS,
    JUDGED_WORDS,
    MATCHED_MEANING,
    MATCHED_WORDS,
    QUANTITIES,
    TURN_WORDS,
    AnswerKind,
    Factor,
    JudgedFor,
    Matched,
    StepTurn,
    find_missing_sizes,
    needed_sizes,
)
from adhaero.core.plan.labels import TOKENS
from adhaero.core.plan.treatments import CONTROL_WORDS, TreatmentKind
from adhaero.core.units import Units
from adhaero.core.wood import GRAIN_WORDS, Grain
from adhaero.store.file import ShopFile
from adhaero.store.plans import Board, Step, Treatment
from adhaero.store.trials import Amendment, Trial, list_amendments

PIECES = "pieces_each"


DEFAULTS = {
    "angle_deg": "0°",
    "clamp_pressure_mpa": "0.7 MPa",
    "clamp_time_s": "12 h",
    "cure_time_s": "48 h",
    "kerf_mm": "3 mm",
    "trim_mm": "20 mm",
    "planing_mm": "2 mm",
    "waste_pct": "30 %",
    "margin_pct": "10 %",
    "cv_pct": "15 %",
}


@dataclass(frozen=True)
class PlanQuantityView:
    """One quantity of the plan as typed, and in SI."""

    name: str
    words: str
    typed: str
    si: float | None
    default_unit: str


@dataclass(frozen=True)
class FixtureView:
    """A fixture in words."""

    name: str
    words: str
    formula: str
    sits: str
    kind: str
    measured: str


@dataclass(frozen=True)
class JointView:
    """A joint in words; `closes` as the glue shrinks."""

    name: str
    words: str
    formula: str
    closes: bool


@dataclass(frozen=True)
class LevelView:
    """One value of what is varied."""

    id: int
    name: str
    code: str


@dataclass(frozen=True)
class FactorView:
    """One thing that is varied; `only_with` are the values of earlier ones that it goes with, all when empty."""

    id: int
    kind: str
    name: str
    words: str
    unit: str | None
    levels: list[LevelView]
    only_with: list[int]


@dataclass(frozen=True)
class TreatmentView:
    """One set, made or left out."""

    id: int
    name: str
    code: str
    kind: str
    solid: bool
    recipe: str
    left_out: bool
    pieces: int
    own: bool


@dataclass(frozen=True)
class PlanChoices:
    """The closed sets of a plan, each with its words, in the order they are offered."""

    answer: list[Worded[AnswerKind]]
    judged: list[Worded[JudgedFor]]
    grain: list[Worded[Grain]]
    matched: list[Worded[Matched]]
    turn: list[Worded[StepTurn]]
    control: list[Worded[TreatmentKind]]


CHOICES: Final = PlanChoices(
    answer=offer(ANSWER_WORDS),
    judged=offer(JUDGED_WORDS),
    grain=offer(GRAIN_WORDS),
    matched=offer(MATCHED_WORDS),
    turn=offer(TURN_WORDS),
    control=offer(CONTROL_WORDS),
)


@dataclass(frozen=True)
class PlanView:
    """The plan and what it leads to."""

    trial: Trial
    factor_words: str
    factors: list[FactorView]
    quantities: list[PlanQuantityView]
    needed_sizes: tuple[str, ...]
    treatments: list[TreatmentView]
    boards: list[Board]
    consequences: Consequences
    problems: list[str]
    not_controlled: list[str]
    labels: list[str]
    label_parts: dict[str, str]
    own_scatter: OwnScatter | None
    references: list[Reference]
    amendments: list[Amendment]
    steps: list[Step]
    fixture: FixtureView
    fixtures: list[FixtureView]
    joints: list[JointView]
    kinds: dict[str, str]
    choices: PlanChoices
    matched_meaning: str
    looks_meaning: str
    broken: int


def view_plan(file: ShopFile, trial_id: int) -> PlanView:
    """Return the plan of a trial and what it leads to."""
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        units = read_units(connection)
        supplies = read_supplies(connection)
        breaks = read_shop_breaks(connection, trial_id, practice=bool(facts.trial.practice))
        amendments = list_amendments(connection, trial_id)
    consequences = follow_plan(make_plan(facts, supplies, breaks))
    dealing = deal_plan(facts)
    problems = list(consequences.problems)
    if dealing.problem and dealing.problem not in problems:
        problems.append(dealing.problem)
    problems += find_missing_sizes(facts.joints, facts.fixture, facts.planned_sizes)
    return PlanView(
        trial=facts.trial,
        factor_words=facts.factor_words,
        factors=_view_factors(facts, units),
        quantities=[
            PlanQuantityView(
                name,
                quantity.words,
                facts.quantities[name].typed if name in facts.quantities else "",
                facts.quantities[name].si if name in facts.quantities else None,
                units.default_for(quantity.kind, quantity.unit),
            )
            for name, quantity in QUANTITIES.items()
        ],
        needed_sizes=needed_sizes(facts.joints, facts.fixture),
        treatments=[_view_treatment(one) for one in facts.treatments.values()],
        boards=list(facts.boards.values()),
        consequences=consequences,
        problems=problems,
        not_controlled=list_open_questions(facts),
        labels=list(dealing.labels[:4]),
        label_parts=dict(TOKENS),
        own_scatter=find_own_scatter(breaks, facts.fixture.value),
        references=list_references(breaks, facts.fixture.value),
        amendments=amendments,
        steps=list(facts.steps),
        fixture=_view_fixture(facts.fixture.value, facts),
        fixtures=[_view_fixture(name, facts) for name in FIXTURES if name not in UNSAID or name is facts.fixture],
        joints=[JointView(key.value, form.name, form.formula, form.closes) for key, form in JOINTS.items()],
        kinds={factor.value: form.words for factor, form in FACTORS.items()},
        choices=CHOICES,
        matched_meaning=MATCHED_MEANING.get(Matched(facts.trial.matched), ""),
        looks_meaning=_say_looks(facts),
        broken=sum(facts.result_of(piece) is not None for piece in facts.pieces.values()),
    )


def _say_looks(facts: PlanFacts) -> str:
    """Return what looking after every complete board means for a plan; what it lacks, where it is chosen."""
    boards, sets = len(facts.boards), len(facts.made)
    if facts.trial.looks == "1" and boards < LEAST_BOARDS:
        return f"Looks need {LEAST_BOARDS} boards or more, and there are {boards}: until then nothing is looked at."
    if facts.trial.looks == "1" and any(one.holds < sets for one in facts.boards.values()):
        return "The bounds are made for boards that carry every set; where some do not, they are close to right."
    return "Board is broken after board. Ranges become a little wider, so that looking often is still honest."


def _view_factors(facts: PlanFacts, units: Units) -> list[FactorView]:
    found = []
    for row in facts.factors.values():
        name = FACTORS[Factor(row.kind)].quantity
        found.append(
            FactorView(
                id=row.id,
                kind=row.kind,
                name=row.name,
                words=facts.words_of(row),
                unit=units.default_for(QUANTITIES[name].kind) if name else None,
                levels=[
                    LevelView(one.id, one.name, one.code) for one in facts.levels.values() if one.factor_id == row.id
                ],
                only_with=sorted(facts.scopes.get(row.id, ())),
            )
        )
    return found


def _view_treatment(one: Treatment) -> TreatmentView:
    return TreatmentView(
        one.id,
        one.name,
        one.code,
        one.kind,
        one.solid,
        one.recipe,
        bool(one.left_out),
        one.pieces,
        bool(one.pieces_own),
    )


def _view_fixture(name: str, facts: PlanFacts) -> FixtureView:
    form = next(form for key, form in FIXTURES.items() if key == name)
    sizes = form.sizes if "area_mm2" not in form.sizes else JOINTS[facts.joint].sizes
    measured = ", ".join(QUANTITIES[size].words for size in sizes)
    return FixtureView(name, form.name, form.formula, form.sits, form.kind, measured or "nothing")
