"""What each trial says of its glues, joints or preps: read trial by trial, and kept until that trial changes."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import isfinite
from typing import Final

from adhaero.bench.compare.breaks import BLOCK, boards_are_blocks, make_specimen
from adhaero.bench.facts.by_trial import KeptByTrial
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.shop.view import is_demo
from adhaero.core.errors import DataError
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.fixture import UNSAID, Fixture
from adhaero.core.joint import FORMS as JOINTS
from adhaero.core.plan.exposures import say_exposure
from adhaero.core.plan.fields import FACTORS, Factor, read_grains
from adhaero.core.plan.treatments import TreatmentKind
from adhaero.core.stats.analyse import Question, analyse
from adhaero.core.stats.breaks import Estimate, Specimen
from adhaero.core.stats.pairs import Ends
from adhaero.core.stats.sets import SetsFit
from adhaero.core.stats.table import make_table
from adhaero.core.stats.trial_evidence import Evidence, make_evidence
from adhaero.core.stats.verdict import turn
from adhaero.store.connecting import Connection
from adhaero.store.plans import FactorRow, Treatment
from adhaero.store.trials import list_trials

SUBJECTS: Final = (
    Factor.GLUE, Factor.JOINT, Factor.PREP, Factor.SPREAD, Factor.SPECIES, Factor.GRAIN, Factor.OWN,
)  # fmt: skip
_ESTIMATE: Final = Estimate.JOINT
_SOLID: Final = "solid "


@dataclass(frozen=True)
class Place:
    """Where numbers can be set beside each other: the same fixture, response, joint, grain pair and condition.

    `joint` and `grain` are empty where they are what is compared. What nobody said is empty too, and `only` is then the
    trial's id: what is not known is not the same as anywhere else.
    """

    fixture: str
    response: str
    joint: str
    grain: str
    condition: str
    only: int = 0

    @property
    def words(self) -> str:
        """Return the place in words; they are also its key."""
        fixture = Fixture(self.fixture)
        kind = {"load_N": ", as loads", "moment_Nm": ", as moments"}.get(self.response, "")
        loaded = FIXTURES[fixture].name + (kind if fixture not in UNSAID else "")
        said = [self.joint, loaded, self.grain, self.condition, f"trial {self.only} alone" if self.only else ""]
        return ", ".join(one for one in said if one)


@dataclass(frozen=True)
class Sided:
    """A set that held, or fell apart, throughout: no typical strength, but a bound against something beside it.

    Attributes
    ----------
    name, pieces : what it is, and of how many pieces. held : it held; else it fell apart. against : what the bound is
    a share of, empty without one. ratio : at least, or at most, that share; None where its pieces bound nothing.
    """

    name: str
    pieces: int
    held: bool
    against: str
    ratio: float | None


@dataclass(frozen=True)
class Says:
    """What one trial says in one place of one kind of thing.

    Attributes
    ----------
    first_day, last_day : of its breaks, ISO; empty where nobody wrote them down. waiting : pieces that are not broken
    yet. broken : those that count.
    evidence : joined parts of its things, by the names that they have in the trial. sided : sets that are bounds.
    glues : the cards of its glues, by name. typical : logarithms of typical strengths. woods : of its boards.
    sigma : scatter of logarithms within it; None without one. beside : what else the trial varies, and its words.
    """

    trial_id: int
    question: str
    first_day: str
    last_day: str
    subject: str
    kind: Factor
    place: Place
    evidence: tuple[Evidence, ...]
    sided: tuple[Sided, ...]
    glues: tuple[tuple[str, int], ...]
    typical: tuple[tuple[str, float], ...]
    woods: tuple[str, ...]
    broken: int
    waiting: int
    sigma: float | None
    beside: tuple[tuple[Factor, str], ...]


def is_solid(thing: str) -> bool:
    """Return whether a thing of a table is wood without a joint, which is in no order of joints."""
    return thing.startswith(_SOLID)


def read_says(connection: Connection) -> tuple[Says, ...]:
    """Return what every trial of the shop says, practice and removed ones never; only those that changed are read.

    In the demo's shop every trial is practice: there they are the book.
    """
    demo = is_demo(connection)
    trials = [one.id for one in list_trials(connection) if one.frozen_utc is not None and bool(one.practice) == demo]
    return tuple(one for says in _kept.read(connection, sorted(trials)).values() for one in says)


def _read(facts: PieceFacts) -> Iterator[Says]:
    for factor in facts.factors.values():
        kind = facts.kinds[factor.id]
        if kind not in SUBJECTS:
            continue
        by_place: dict[Place, list[Treatment]] = {}
        for one in facts.made:
            by_place.setdefault(find_place(facts, one, kind), []).append(one)
        for place, sets in by_place.items():
            if (says := _say(facts, factor, place, sets)) is not None:
                yield says


def find_place(facts: PieceFacts, one: Treatment, kind: Factor) -> Place:
    """Return where the numbers of a set stand, for what is compared."""
    level, exposure = facts.level_of(one, Factor.GRAIN), facts.planned_exposure_of_set(one)
    grains = (facts.trial.grain_a, facts.trial.grain_b)
    if level is not None:
        grains = read_grains(level.name, grains)
    said = facts.knows_condition_of(one)
    known = said and facts.knows_joint_of(one) and facts.fixture not in UNSAID
    return Place(
        facts.fixture.value,
        facts.response,
        "" if kind is Factor.JOINT or not facts.knows_joint_of(one) else JOINTS[facts.joint_of(one)].name,
        "" if kind is Factor.GRAIN or not known else f"{grains[0].value} to {grains[1].value} grain",
        say_exposure(exposure) if exposure is not None else "kept as they are" if said else "",
        0 if known else facts.trial.id,
    )


def _say(facts: PieceFacts, factor: FactorRow, place: Place, sets: Sequence[Treatment]) -> Says | None:
    """Return what the sets of a place say of one thing that varies; None where nothing is broken or compared."""
    names = {one.name: one for one in sets}
    made = facts.each(make_specimen)
    pieces = [piece for piece in facts.pieces.values() if facts.treatments[piece.treatment_id].name in names]
    specimens = [one for piece in pieces if (one := made[piece.id]) is not None]
    counted = [one for one in specimens if one.excluded is None]
    levels = {one.level for one in counted}
    specimens = [one for one in specimens if one.level in levels]
    if len(levels) < 2:
        return None
    block = BLOCK if boards_are_blocks(specimens) else None
    try:
        table = make_table(specimens, _ESTIMATE, Question.wood_failure_from, block)
        fit = table.fit()
    except DataError:
        return None
    things, cells = _name_things(facts, factor, names, table.levels)
    days = sorted(
        result.started_utc[:10]
        for piece in pieces
        if (result := facts.result_of(piece)) is not None and not result.undated
    )
    of_factor = [one for one in facts.levels.values() if one.factor_id == factor.id]
    return Says(
        trial_id=facts.trial.id,
        question=facts.trial.question,
        first_day=days[0] if days else "",
        last_day=days[-1] if days else "",
        subject=_name_kind(factor),
        kind=Factor(factor.kind),
        place=place,
        evidence=make_evidence(facts.trial.id, fit, things, cells),
        sided=tuple(_find_sided(tuple(specimens), fit, table.levels, things, block)),
        glues=tuple((_tidy(one.name), one.glue_id) for one in of_factor if one.glue_id is not None),
        typical=_find_typical(fit, things),
        woods=tuple(dict.fromkeys(one.wood for one in counted if one.wood)),
        broken=len(counted),
        waiting=sum(
            facts.result_of(piece) is None and piece.void_reason is None and not piece.pilot for piece in pieces
        ),
        sigma=fit.sigma if isfinite(fit.sigma) and fit.sigma > 0 else None,
        beside=tuple((facts.kinds[key], _name_kind(one)) for key, one in facts.factors.items() if key != factor.id),
    )


def _name_kind(factor: FactorRow) -> str:
    """Return what varies as it is called over all trials: by the shop's word, a person's own thing by its name."""
    return factor.name if factor.kind == Factor.OWN and factor.name else FACTORS[Factor(factor.kind)].words


def _name_things(
    facts: PieceFacts, factor: FactorRow, names: dict[str, Treatment], levels: Sequence[str]
) -> tuple[list[str | None], list[tuple[object, ...]]]:
    """Return what each set is of, and under which other values; None for what stands under several of them at once."""
    words = facts.words_of(factor)
    things: list[str | None] = []
    cells: list[tuple[object, ...]] = []
    found = []
    for level in levels:
        # a set on several woods is one set a wood (see `split_by_wood`)
        longest = max((name for name in names if f"{level}, ".startswith(f"{name}, ")), key=len)
        one = names[longest]
        found.append((one, level.removeprefix(one.name).removeprefix(", ")))
    others = {
        tuple(value for name, value in facts.made_of(one).items() if name != words)
        for one, _ in found
        if one.kind is TreatmentKind.MADE
    }
    woods = {board.species for board in facts.boards.values() if board.species}
    for one, wood in found:
        if one.kind is TreatmentKind.MADE:
            made = facts.made_of(one)
            things.append(_tidy(made[words]) if words in made else None)
            cells.append((*(value for name, value in made.items() if name != words), wood))
            continue
        of_wood = wood or (min(woods) if len(woods) == 1 else "wood")
        things.append(_tidy(f"{_SOLID}{of_wood}" if one.solid else one.name) if len(others) == 1 else None)
        cells.append((*next(iter(others), ()), wood))
    return things, cells


def _find_typical(fit: SetsFit, things: Sequence[str | None]) -> tuple[tuple[str, float], ...]:
    """Return the logarithm of the typical strength of each thing, over its sets."""
    logs: dict[str, list[float]] = {}
    for at, thing in enumerate(things):
        if thing is not None and isfinite(fit.own.mu[at]):
            logs.setdefault(thing, []).append(float(fit.own.mu[at]))
    return tuple((thing, sum(mine) / len(mine)) for thing, mine in logs.items())


def _find_sided(
    specimens: tuple[Specimen, ...],
    fit: SetsFit,
    levels: Sequence[str],
    things: Sequence[str | None],
    block: str | None,
) -> Iterator[Sided]:
    """Return the sets that are bounds, each against the set beside it that has the most pieces."""
    sides, count = fit.own.tally.one_sided, fit.own.tally.n
    if not sides.any():
        return
    known = [at for at, thing in enumerate(things) if thing is not None and isfinite(fit.own.mu[at])]
    base = max(known, key=lambda at: count[at], default=None)
    for at, thing in enumerate(things):
        if not sides[at] or thing is None:
            continue
        held, ratio = bool(sides[at] > 0), None
        if base is not None:
            # where boards leave no scatter to judge by, all pieces together may
            ends = (_bound(specimens, levels[at], levels[base], block=one) for one in dict.fromkeys((block, None)))
            ratio = next((end for low, high in ends if (end := low if held else high) is not None), None)
        yield Sided(thing, int(count[at]), held, things[base] or "" if base is not None and ratio else "", ratio)


def _bound(specimens: tuple[Specimen, ...], level: str, base: str, block: str | None) -> Ends:
    """Return between what a set lies as a share of another; None is open."""
    pairs = analyse(specimens, Question("strength", "set", block=block, estimate=_ESTIMATE)).pairs
    pair = next((one for one in pairs if {one.a, one.b} == {level, base}), None)
    if pair is None:
        return None, None
    low, high = (pair if pair.a == level else turn(pair)).ratio_ci95 or (None, None)
    return low, high


def _tidy(name: str) -> str:
    return " ".join(name.split())[:80]


_kept = KeptByTrial(lambda facts: tuple(_read(facts)))
