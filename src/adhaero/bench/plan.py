"""The Plan station: from a question to a plan that is dealt to boards."""

from dataclasses import dataclass
from functools import lru_cache
from secrets import randbelow

from adhaero.bench.book import Book, read_book, require_open_plan, require_unchanged
from adhaero.bench.shop import is_demo, read_units
from adhaero.core.errors import EntryError, PlanError, StateError
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.fixture import Fixture
from adhaero.core.joint import FORMS as JOINTS
from adhaero.core.joint import Joint
from adhaero.core.plan.consequences import Consequences, PlannedBoard, PlannedSet, compute_consequences
from adhaero.core.plan.fields import (
    CHOICES,
    FACTORS,
    LONGEST,
    QUANTITIES,
    WORDS,
    Factor,
    check_choice,
    find_missing_sizes,
    needed_sizes,
)
from adhaero.core.plan.labels import make_label
from adhaero.core.quantity import parse_count, parse_quantity
from adhaero.store.file import ShopFile
from adhaero.store.pieces import delete_pieces
from adhaero.store.rows import Connection, amend, insert
from adhaero.store.trials import (
    Board,
    QuantityRow,
    Treatment,
    Trial,
    delete_joined_treatments,
    delete_quantity,
    put_quantity,
)

PIECES = "pieces"
_DEFAULTS = {
    "angle_deg": "0°",
    "clamp_pressure_mpa": "0.7 MPa",
    "clamp_time_s": "12 h",
    "cure_time_s": "48 h",
    "margin_pct": "10 %",
    "cv_pct": "15 %",
}
_LAYOUT_WORDS = ("joint", "fixture")


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


@dataclass(frozen=True)
class PlanView:
    """The plan and what it leads to."""

    trial: Trial
    factor_words: str
    factor_quantity: str | None
    quantities: list[PlanQuantityView]
    needed_sizes: tuple[str, ...]
    treatments: list[Treatment]
    boards: list[Board]
    consequences: Consequences
    problems: list[str]
    fixture: FixtureView
    fixtures: list[FixtureView]
    joints: dict[str, str]
    factors: dict[str, str]
    broken: int


def create_trial(file: ShopFile, question: str, *, practice: bool | None = None, seed: int | None = None) -> int:
    """Start a trial from its question and return its id; trials of the demo shop are practice.

    Raises
    ------
    EntryError : no question, or one that is too long.
    """
    words = _check_words("question", question)
    with file.changing("Started the trial", undoable=False) as connection:
        values = {
            "question": words,
            "seed": randbelow(10_000) if seed is None else seed,
            "practice": int(is_demo(connection) if practice is None else practice),
            "created_utc": file.now(),
            "prep": "planed the same day, wiped",
        }
        trial_id = insert(connection, "trial", values)
        for name, typed in _DEFAULTS.items():
            quantity = QUANTITIES[name]
            put_quantity(
                connection, trial_id, name, parse_quantity(typed, quantity.kind, bounds=quantity.bounds).si, typed
            )
    return trial_id


def _check_words(name: str, text: str) -> str:
    words = text.strip()
    if name == "question" and not words:
        raise EntryError("There is no question yet.", "A trial starts with one, in your own words.", field=name)
    if len(words) > LONGEST:
        raise EntryError(f"That is {len(words)} letters long.", f"Up to {LONGEST} fit.", "Shorten it.", field=name)
    return words


def view_plan(file: ShopFile, trial_id: int) -> PlanView:
    """Return the plan of a trial and what it leads to."""
    with file.reading() as connection:
        book = read_book(connection, trial_id)
        units = read_units(connection)
    consequences = plan_consequences(book)
    fixtures = [_view_fixture(Fixture(name)) for name in CHOICES["fixture"]]
    missing = find_missing_sizes(book.joint, book.fixture, book.planned_sizes)
    return PlanView(
        trial=book.trial,
        factor_words=book.factor_words,
        factor_quantity=FACTORS[book.factor].quantity,
        quantities=[
            PlanQuantityView(
                name,
                quantity.words,
                book.quantities[name].typed if name in book.quantities else "",
                book.quantities[name].si if name in book.quantities else None,
                units.default_for(quantity.kind),
            )
            for name, quantity in QUANTITIES.items()
        ],
        needed_sizes=needed_sizes(book.joint, book.fixture),
        treatments=list(book.treatments.values()),
        boards=list(book.boards.values()),
        consequences=consequences,
        problems=[*consequences.problems, *missing],
        fixture=_view_fixture(book.fixture),
        fixtures=fixtures,
        joints={joint.value: form.name for joint, form in JOINTS.items()},
        factors={factor.value: form.words for factor, form in FACTORS.items()},
        broken=sum(book.result_of(piece) is not None for piece in book.pieces.values()),
    )


def _view_fixture(fixture: Fixture) -> FixtureView:
    return FixtureView(fixture.value, FIXTURES[fixture].name, FIXTURES[fixture].formula)


@lru_cache(maxsize=8)
def plan_consequences(book: Book) -> Consequences:
    """Return what the plan of a trial leads to."""
    sets = [
        PlannedSet(
            name=one.name,
            pieces=one.pieces,
            solid=bool(one.solid),
            pressure_mpa=book.quantity_of(one, "clamp_pressure_mpa"),
        )
        for one in book.treatments.values()
    ]
    boards = [PlannedBoard(one.name, one.species, one.holds) for one in book.boards.values()]
    return compute_consequences(
        sets,
        boards,
        book.joint,
        book.planned_sizes,
        cv_pct=book.planned_sizes["cv_pct"],
        margin_pct=book.planned_sizes["margin_pct"],
        seed=book.trial.seed,
    )


def edit_plan(file: ShopFile, trial_id: int, name: str, was: str, typed: str) -> None:
    """Set one word or quantity of a plan.

    Parameters
    ----------
    name : the field; was : what it held when it was shown; typed : what it shall hold, empty to clear a quantity.

    Raises
    ------
    StaleEdit : it holds something else by now; EntryError : it cannot be read; StateError : it is settled.
    """
    with file.changing(f"Changed {_words_for(name)}", trial_id) as connection:
        book = read_book(connection, trial_id)
        current = _current(book, name)
        require_unchanged(_words_for(name), current, was, name)
        _check_settled(book, name)
        if name in QUANTITIES:
            _edit_quantity(connection, book, name, typed)
        elif name == "factor":
            _change_factor(connection, book, typed)
        elif name == "seed":
            _change_seed(connection, book, typed)
        elif name == PIECES:
            _change_pieces(connection, book, typed)
        else:
            _edit_words(connection, book, name, typed)


def _words_for(name: str) -> str:
    return QUANTITIES[name].words if name in QUANTITIES else name.replace("_", " ")


def _current(book: Book, name: str) -> str:
    if name in QUANTITIES:
        row: QuantityRow | None = book.quantities.get(name)
        return row.typed if row else ""
    if name == PIECES:
        return str(next((one.pieces for one in book.treatments.values()), 5))
    if name not in (*WORDS, *CHOICES, "factor", "seed"):
        raise EntryError(f"A plan has no “{name}”.", field=name)
    return str(getattr(book.trial, name))


def _check_settled(book: Book, name: str) -> None:
    if book.pieces and name in (*_LAYOUT_WORDS, "factor", "seed", PIECES):
        raise StateError(
            "The plan is settled: its pieces have labels.",
            f"The {_words_for(name)} can no longer change.",
            "Reopen the plan first, if nothing is glued yet.",
            field=name,
        )
    if name == "guess" and any(book.result_of(piece) for piece in book.pieces.values()):
        raise StateError(
            "The first piece is broken.", "A guess made now would be no guess.", "It stays as it was.", field=name
        )


def _edit_quantity(connection: Connection, book: Book, name: str, typed: str) -> None:
    if not typed.strip() and name not in ("margin_pct", "cv_pct"):
        delete_quantity(connection, book.trial.id, name)
        return
    quantity = QUANTITIES[name]
    default = read_units(connection).default_for(quantity.kind)
    value = parse_quantity(typed, quantity.kind, default, quantity.bounds, field=name)
    put_quantity(connection, book.trial.id, name, value.si, value.typed)


def _edit_words(connection: Connection, book: Book, name: str, typed: str) -> None:
    if name in CHOICES:
        check_choice(name, typed)
    values: dict[str, object] = {name: _check_words(name, typed)}
    if name == "joint":
        values["fixture"] = JOINTS[Joint(typed)].usual_fixture
    amend(connection, "trial", book.trial.id, values)


def _change_factor(connection: Connection, book: Book, typed: str) -> None:
    if typed not in list(Factor):
        raise EntryError(f"“{typed}” cannot be varied.", f"Choose one of {', '.join(Factor)}.", field="factor")
    delete_joined_treatments(connection, book.trial.id)
    amend(connection, "trial", book.trial.id, {"factor": typed})


def _change_seed(connection: Connection, book: Book, typed: str) -> None:
    if not typed.strip().isdigit() or len(typed.strip()) > 9:
        raise EntryError(f"“{typed}” is not a seed.", "Expected a whole number, e.g. 4117.", field="seed")
    amend(connection, "trial", book.trial.id, {"seed": int(typed)})


def _change_pieces(connection: Connection, book: Book, typed: str) -> None:
    pieces = parse_count(typed, "pieces of each set", 0, 1000, field=PIECES)
    for one in book.treatments.values():
        amend(connection, "treatment", one.id, {"pieces": pieces})


def freeze_plan(file: ShopFile, trial_id: int) -> int:
    """Settle a plan: every piece gets its label, board and place. Return the number of pieces.

    Raises
    ------
    PlanError : something stands in the way; all of it is listed.
    """
    with file.changing("Settled the plan", trial_id) as connection:
        require_open_plan(connection, trial_id)
        book = read_book(connection, trial_id)
        consequences = plan_consequences(book)
        missing = find_missing_sizes(book.joint, book.fixture, book.planned_sizes)
        if problems := [*consequences.problems, *missing]:
            raise PlanError(problems[0], " ".join(problems[1:]), "Nothing was saved.", field="plan")
        treatments, boards = list(book.treatments.values()), list(book.boards.values())
        for number, place in enumerate(consequences.layout, start=1):
            treatment = treatments[place.treatment]
            insert(
                connection,
                "piece",
                {
                    "trial_id": trial_id,
                    "treatment_id": treatment.id,
                    "board_id": boards[place.board].id,
                    "position": place.position,
                    "glue_turn": place.glue_turn,
                    "break_turn": place.break_turn,
                    "label": make_label(treatment.code, number, consequences.pieces),
                },
            )
        amend(connection, "trial", trial_id, {"frozen_utc": file.now()})
        return consequences.pieces


def reopen_plan(file: ShopFile, trial_id: int) -> None:
    """Take the labels back to change the plan; only while nothing is glued or loaded."""
    with file.changing("Reopened the plan", trial_id) as connection:
        book = read_book(connection, trial_id)
        if any(piece.closed_utc or piece.batch_id for piece in book.pieces.values()) or book.pulls:
            raise StateError(
                "Some pieces are glued or loaded already.",
                "The plan that they were made by stays.",
                "Start another trial for another plan.",
            )
        delete_pieces(connection, trial_id)
        amend(connection, "trial", trial_id, {"frozen_utc": None})


def remove_trial(file: ShopFile, trial_id: int) -> None:
    """Put a trial away; it can be put back."""
    with file.changing("Removed the trial", trial_id) as connection:
        amend(connection, "trial", trial_id, {"removed_utc": file.now()})


def put_trial_back(file: ShopFile, trial_id: int) -> None:
    """Put a removed trial back on Today."""
    with file.changing("Put the trial back", trial_id) as connection:
        amend(connection, "trial", trial_id, {"removed_utc": None})
