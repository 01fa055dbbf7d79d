"""The breaks that this shop made so far: what a forecast and a plan lean on."""

from dataclasses import dataclass, replace

from adhaero.bench.facts.by_trial import KeptByTrial
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.shelf import kept
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.fixture import Fixture
from adhaero.core.joint import FORMS as JOINTS
from adhaero.core.joint import Joint
from adhaero.core.stats.pooled import pool_scatter
from adhaero.core.wood import find_species
from adhaero.store.connecting import Connection
from adhaero.store.glues import list_glues
from adhaero.store.pieces import Piece
from adhaero.store.trials import list_trials


@dataclass(frozen=True)
class ShopBreak:
    """One break that the shop made: what it was of, and its strength in the unit of its fixture."""

    trial_id: int
    treatment_id: int
    fixture: str
    joint: str
    solid: bool
    glue: str
    family: str
    species: str
    strength: float
    treatment_name: str
    question: str
    broken_utc: str
    pilot: bool = False


@dataclass(frozen=True, eq=False)
class _TrialBreaks:
    """The plain breaks of one trial, glues without their family yet; known by identity."""

    trial_id: int
    breaks: tuple[ShopBreak, ...]


def read_shop_breaks(connection: Connection, but_trial: int | None, *, practice: bool) -> tuple[ShopBreak, ...]:
    """Return the plain breaks of all trials, of one only its pilot pieces; practice trials for a practice trial alone.

    Pilot pieces say what pieces break at and how they scatter; they are never a result. Reads only.
    """
    families = {one.name.lower(): one.family for one in list_glues(connection)}
    trials = [
        trial.id
        for trial in list_trials(connection)
        if bool(trial.practice) == practice and trial.frozen_utc is not None
    ]
    made = _kept_breaks.read(connection, trials)
    return _join_breaks(tuple(made.values()), tuple(sorted(families.items())), but_trial)


@kept(most=16)
def _join_breaks(
    trials: tuple[_TrialBreaks, ...], families: tuple[tuple[str, str], ...], but_trial: int | None
) -> tuple[ShopBreak, ...]:
    by_name = dict(families)
    return tuple(
        replace(one, family=family) if (family := by_name.get(one.glue.lower(), "")) else one
        for trial in trials
        for one in trial.breaks
        if one.pilot or trial.trial_id != but_trial
    )


def _collect_breaks(facts: PieceFacts) -> _TrialBreaks:
    made = facts.each(_make_break).values()
    return _TrialBreaks(facts.trial.id, tuple(one for one in made if one is not None))


def _make_break(facts: PieceFacts, piece: Piece) -> ShopBreak | None:
    """Return a piece as the break that it is; None where it is set aside, void, not broken, or without a strength."""
    result = facts.result_of(piece)
    if piece.excluded_reason or piece.void_reason or result is None or result.outcome != "broke" or not result.load_n:
        return None
    strength = facts.strength_of(piece, result.load_n)
    if strength is None:
        return None
    treatment = facts.treatments[piece.treatment_id]
    return ShopBreak(
        trial_id=facts.trial.id,
        treatment_id=treatment.id,
        fixture=facts.fixture.value,
        joint=facts.joint_of(treatment).value if facts.knows_joint_of(treatment) else "",
        solid=treatment.solid,
        glue=facts.glue_of(treatment),
        family="",
        species=name_wood(facts.boards[piece.board_id].species or facts.trial.material_a),
        strength=strength,
        treatment_name=treatment.name,
        question=facts.trial.question,
        broken_utc=result.started_utc,
        pilot=bool(piece.pilot),
    )


_kept_breaks = KeptByTrial(_collect_breaks)


def name_wood(words: str) -> str:
    """Return the name by which woods are told apart: that of the species meant, else the words themselves."""
    species = find_species(words)
    return species.name if species else words.strip().lower()


@dataclass(frozen=True)
class OwnScatter:
    """The scatter of the shop's own pieces in a fixture: CV percent, and of how many pieces in how many trials."""

    cv_pct: float
    pieces: int
    trials: int


def find_own_scatter(breaks: tuple[ShopBreak, ...], fixture: str) -> OwnScatter | None:
    """Return the scatter of the shop's breaks in a fixture, within each set and wood; None for too few."""
    groups: dict[tuple[int, int, str], list[float]] = {}
    for one in breaks:
        if one.fixture == fixture and one.strength > 0:
            groups.setdefault((one.trial_id, one.treatment_id, one.species), []).append(one.strength)
    pooled = pool_scatter(list(groups.values()))
    trials = len({key[0] for key, group in groups.items() if len(group) > 1})
    return None if pooled is None else OwnScatter(pooled.cv_pct, pooled.pieces, trials)


@kept(most=4)
def say_tested(breaks: tuple[ShopBreak, ...]) -> dict[str, list[str]]:
    """Return for each glue (its name in small letters) what the shop broke with it, joint by joint, in words."""
    groups: dict[tuple[str, str, str], list[ShopBreak]] = {}
    for one in breaks:
        if not one.solid and one.glue and not one.pilot:
            groups.setdefault((one.glue.lower(), one.joint, one.fixture), []).append(one)
    found: dict[str, list[str]] = {}
    for (glue, joint, fixture), mine in groups.items():
        form = FIXTURES[Fixture(fixture)]
        trials = len({one.trial_id for one in mine})
        average = sum(one.strength for one in mine) / len(mine)
        unit = {"moment": "N·m", "load": "N"}.get(form.kind, "MPa")
        named = JOINTS[Joint(joint)].name if joint else "joint not said"
        found.setdefault(glue, []).append(
            f"{named}, {form.name}: {len(mine)} pieces in {trials} trial"
            f"{'s' if trials > 1 else ''}, average {average:.3g} {unit}"
        )
    return found
