"""The breaks that this shop made so far: what a forecast and a plan lean on."""

from dataclasses import dataclass
from functools import lru_cache
from math import exp, log, sqrt

from adhaero.bench.facts.book import Book, read_book
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.fixture import Fixture
from adhaero.core.joint import FORMS as JOINTS
from adhaero.core.joint import Joint
from adhaero.core.wood import find_species
from adhaero.store.connecting import Connection
from adhaero.store.glues import list_glues
from adhaero.store.trials import list_trials


@dataclass(frozen=True)
class ShopBreak:
    """One break that the shop made: what it was of, and its strength in the unit of its fixture."""

    trial_id: int
    set_id: int
    fixture: str
    joint: str
    solid: bool
    glue: str
    family: str
    species: str
    strength: float
    set_name: str
    question: str
    broken_utc: str


def read_shop_breaks(connection: Connection, but_trial: int | None, *, practice: bool) -> tuple[ShopBreak, ...]:
    """Return the plain breaks of all trials but one; practice trials only for a practice trial. Reads only."""
    families = {one.name.lower(): one.family for one in list_glues(connection)}
    books = tuple(
        read_book(connection, trial.id)
        for trial in list_trials(connection)
        if trial.id != but_trial and bool(trial.practice) == practice and trial.frozen_utc is not None
    )
    return _collect_breaks(books, tuple(sorted(families.items())))


@lru_cache(maxsize=16)
def _collect_breaks(books: tuple[Book, ...], families: tuple[tuple[str, str], ...]) -> tuple[ShopBreak, ...]:
    by_name = dict(families)
    return tuple(
        ShopBreak(
            trial_id=book.trial.id,
            set_id=treatment.id,
            fixture=book.fixture.value,
            joint=book.joint_of(treatment).value,
            solid=treatment.solid,
            glue=book.glue_of(treatment),
            family=by_name.get(book.glue_of(treatment).lower(), ""),
            species=name_wood(book.boards[piece.board_id].species or book.trial.material_a),
            strength=strength,
            set_name=treatment.name,
            question=book.trial.question,
            broken_utc=result.started_utc,
        )
        for book in books
        for piece in book.pieces.values()
        if not piece.excluded_reason and not piece.void_reason and not piece.pilot
        if (result := book.result_of(piece)) is not None and result.outcome == "broke" and result.load_n
        if (strength := book.strength_of(piece, result.load_n)) is not None
        for treatment in (book.treatments[piece.treatment_id],)
    )


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
    """Return the scatter within sets of the shop's breaks in a fixture; None below ten pieces.

    The pooled standard deviation of logarithms within each set and wood, as a coefficient of variation √(exp(σ²) − 1).
    """
    groups: dict[tuple[int, int, str], list[float]] = {}
    for one in breaks:
        if one.fixture == fixture and one.strength > 0:
            groups.setdefault((one.trial_id, one.set_id, one.species), []).append(log(one.strength))
    used = [group for group in groups.values() if len(group) > 1]
    df = sum(len(group) - 1 for group in used)
    pieces = sum(len(group) for group in used)
    if pieces < 10 or df < 5:
        return None
    squares = sum(sum((value - sum(group) / len(group)) ** 2 for value in group) for group in used)
    sigma = sqrt(squares / df)
    trials = len({key[0] for key, group in groups.items() if len(group) > 1})
    return OwnScatter(100 * sqrt(exp(sigma**2) - 1), pieces, trials)


@lru_cache(maxsize=4)
def say_tested(breaks: tuple[ShopBreak, ...]) -> dict[str, list[str]]:
    """Return for each glue (its name in small letters) what the shop broke with it, joint by joint, in words."""
    groups: dict[tuple[str, str, str], list[ShopBreak]] = {}
    for one in breaks:
        if not one.solid and one.glue:
            groups.setdefault((one.glue.lower(), one.joint, one.fixture), []).append(one)
    found: dict[str, list[str]] = {}
    for (glue, joint, fixture), mine in groups.items():
        form = FIXTURES[Fixture(fixture)]
        trials = len({one.trial_id for one in mine})
        average = sum(one.strength for one in mine) / len(mine)
        unit = "N·m" if form.kind == "moment" else "MPa"
        found.setdefault(glue, []).append(
            f"{JOINTS[Joint(joint)].name}, {form.name}: {len(mine)} pieces in {trials} trial"
            f"{'s' if trials > 1 else ''}, average {average:.3g} {unit}"
        )
    return found
