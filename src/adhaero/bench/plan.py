"""The Plan station: from a question to a plan that is dealt to boards."""

from dataclasses import dataclass
from secrets import randbelow

from adhaero.bench.book import Book, read_book
from adhaero.bench.guards import require_unchanged
from adhaero.bench.planning import deal_plan, follow_plan, list_open_questions, make_plan, read_spares
from adhaero.bench.references import Reference, list_references
from adhaero.bench.rig_cards import require_rig
from adhaero.bench.settling import relabel_pieces, write_amendment
from adhaero.bench.shop import is_demo
from adhaero.bench.stock import read_units
from adhaero.bench.supplies import OwnScatter, find_own_scatter, read_shop_breaks, read_supplies
from adhaero.core.errors import EntryError, StateError
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.joint import FORMS as JOINTS
from adhaero.core.joint import Joint
from adhaero.core.plan.consequences import Consequences
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
from adhaero.core.plan.labels import TOKENS, check_scheme
from adhaero.core.quantity import parse_count, parse_quantity
from adhaero.core.units import Units
from adhaero.store.file import ShopFile
from adhaero.store.rows import Connection, amend, insert
from adhaero.store.trials import (
    Amendment,
    Board,
    Step,
    Treatment,
    Trial,
    delete_quantity,
    list_amendments,
    list_treatments,
    put_quantity,
)

PIECES = "pieces_each"
_NUMBERS = {PIECES: ("pieces of each set", 1000), "pilot": ("pilot pieces", 100)}
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
_ALWAYS = ("margin_pct", "cv_pct")
_LAYOUT_WORDS = ("joint", "fixture", "seed", "matched", "pilot", PIECES)


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
class SetView:
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
class PlanView:
    """The plan and what it leads to."""

    trial: Trial
    factor_words: str
    factors: list[FactorView]
    quantities: list[PlanQuantityView]
    needed_sizes: tuple[str, ...]
    treatments: list[SetView]
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
    broken: int


def create_trial(file: ShopFile, question: str, *, practice: bool | None = None, seed: int | None = None) -> int:
    """Start a trial from its question and return its id; trials of the demo shop are practice.

    Raises
    ------
    EntryError : no question, or one that is too long.
    """
    words = check_words("question", question)
    with file.changing("Started the trial", undoable=False) as connection:
        return put_trial(connection, file, words, practice=practice, seed=seed)


def put_trial(
    connection: Connection, file: ShopFile, question: str, *, practice: bool | None = None, seed: int | None = None
) -> int:
    """Insert a trial with its defaults, one thing varied; call inside a transaction."""
    values = {
        "question": question,
        "seed": randbelow(10_000) if seed is None else seed,
        "practice": int(is_demo(connection) or bool(practice)),
        "created_utc": file.now(),
        "prep": "planed the same day, wiped",
        "spread": "one coat",
        "condition": "kept dry in the shop",
    }
    trial_id = insert(connection, "trial", values)
    for name, typed in DEFAULTS.items():
        put_typed(connection, trial_id, name, typed)
    insert(connection, "factor", {"trial_id": trial_id, "rank": 1, "kind": Factor.GLUE})
    return trial_id


def put_typed(connection: Connection, trial_id: int, name: str, typed: str) -> None:
    """Set a quantity of a plan as typed, in the shop's units; call inside a transaction. Raises `EntryError`."""
    quantity = QUANTITIES[name]
    default = read_units(connection).default_for(quantity.kind, quantity.unit)
    value = parse_quantity(typed, quantity.kind, default, quantity.bounds, field=name)
    put_quantity(connection, trial_id, name, value.si, value.typed)


def check_words(name: str, text: str) -> str:
    """Return words of a plan without spaces around them; raises `EntryError` for no question or too many letters."""
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
        supplies = read_supplies(connection)
        breaks = read_shop_breaks(connection, trial_id, practice=bool(book.trial.practice))
        amendments = list_amendments(connection, trial_id)
    consequences = follow_plan(make_plan(book, supplies, breaks))
    dealing = deal_plan(book)
    problems = list(consequences.problems)
    if dealing.problem and dealing.problem not in problems:
        problems.append(dealing.problem)
    problems += find_missing_sizes(book.joints, book.fixture, book.planned_sizes)
    return PlanView(
        trial=book.trial,
        factor_words=book.factor_words,
        factors=_view_factors(book, units),
        quantities=[
            PlanQuantityView(
                name,
                quantity.words,
                book.quantities[name].typed if name in book.quantities else "",
                book.quantities[name].si if name in book.quantities else None,
                units.default_for(quantity.kind, quantity.unit),
            )
            for name, quantity in QUANTITIES.items()
        ],
        needed_sizes=needed_sizes(book.joints, book.fixture),
        treatments=[_view_set(one) for one in book.treatments.values()],
        boards=list(book.boards.values()),
        consequences=consequences,
        problems=problems,
        not_controlled=list_open_questions(book),
        labels=list(dealing.labels[:4]),
        label_parts=dict(TOKENS),
        own_scatter=find_own_scatter(breaks, book.fixture.value),
        references=list_references(breaks, book.fixture.value),
        amendments=amendments,
        steps=list(book.steps),
        fixture=_view_fixture(book.fixture.value, book),
        fixtures=[_view_fixture(name, book) for name in FIXTURES],
        joints=[JointView(key.value, form.name, form.formula, form.closes) for key, form in JOINTS.items()],
        kinds={factor.value: form.words for factor, form in FACTORS.items()},
        broken=sum(book.result_of(piece) is not None for piece in book.pieces.values()),
    )


def _view_factors(book: Book, units: Units) -> list[FactorView]:
    found = []
    for row in book.factors.values():
        name = FACTORS[Factor(row.kind)].quantity
        found.append(
            FactorView(
                id=row.id,
                kind=row.kind,
                name=row.name,
                words=book.words_of(row),
                unit=units.default_for(QUANTITIES[name].kind) if name else None,
                levels=[
                    LevelView(one.id, one.name, one.code) for one in book.levels.values() if one.factor_id == row.id
                ],
                only_with=sorted(book.scopes.get(row.id, ())),
            )
        )
    return found


def _view_set(one: Treatment) -> SetView:
    return SetView(
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


def _view_fixture(name: str, book: Book) -> FixtureView:
    form = next(form for key, form in FIXTURES.items() if key == name)
    sizes = form.sizes if "area_mm2" not in form.sizes else JOINTS[book.joint].sizes
    measured = ", ".join(QUANTITIES[size].words for size in sizes)
    return FixtureView(name, form.name, form.formula, form.sits, form.kind, measured or "nothing")


def edit_plan(file: ShopFile, trial_id: int, name: str, was: str, typed: str, reason: str = "") -> None:
    """Set one word or quantity of a plan.

    Parameters
    ----------
    name : the field; was : what it held when it was shown; typed : what it shall hold, empty to clear a quantity.
    reason : why a settled plan changes; it stays beside the change.

    Raises
    ------
    StaleEdit : it holds something else by now; EntryError : it cannot be read; StateError : it is settled for good;
    ReasonNeeded : it is settled, and no reason is given.
    """
    with file.changing(f"Changed {_words_for(name)}", trial_id) as connection:
        book = read_book(connection, trial_id)
        current = _current(book, name)
        require_unchanged(_words_for(name), current, was, name)
        _check_settled(book, name)
        if name in QUANTITIES:
            _edit_quantity(connection, book, name, typed)
        elif name == "seed":
            _change_seed(connection, book, typed)
        elif name in _NUMBERS:
            _change_number(connection, book, name, typed)
        elif name == "rig_id":
            _choose_rig(connection, book, typed)
        elif name == "reference_id":
            _choose_reference(connection, book, typed)
        else:
            _edit_words(connection, file, book, name, typed)
        if name == "label_scheme" and book.pieces:
            relabel_pieces(connection, read_book(connection, trial_id))
        elif book.trial.frozen_utc is not None and name not in _AT_THE_SAW:
            now = _current(read_book(connection, trial_id), name)
            write_amendment(connection, book, file.now(), name, _words_for(name), current, now, reason)


def _words_for(name: str) -> str:
    if name in QUANTITIES:
        return QUANTITIES[name].words
    return _NUMBERS[name][0] if name in _NUMBERS else name.removesuffix("_id").replace("_", " ")


def _current(book: Book, name: str) -> str:
    if name in QUANTITIES:
        row = book.quantities.get(name)
        return row.typed if row else ""
    if name not in (*WORDS, *CHOICES, *_NUMBERS, "seed", "label_scheme", "spares", "rig_id", "reference_id"):
        raise EntryError(f"A plan has no “{name}”.", field=name)
    value = getattr(book.trial, name)
    return "" if value is None else str(value)


# how the machines are set is written down at the saw, and is no change of the plan
_AT_THE_SAW = ("fence", "stop_block", "blade", "planer")


def _check_settled(book: Book, name: str) -> None:
    if book.pieces and name in _LAYOUT_WORDS:
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
    if not typed.strip() and name not in _ALWAYS:
        delete_quantity(connection, book.trial.id, name)
        return
    put_typed(connection, book.trial.id, name, typed)


def _edit_words(connection: Connection, file: ShopFile, book: Book, name: str, typed: str) -> None:
    if name in CHOICES:
        check_choice(name, typed)
    text = check_scheme(typed) if name == "label_scheme" else check_words(name, typed)
    if name == "spares":
        read_spares(text)
    values: dict[str, object] = {name: text}
    if name == "joint":
        values["fixture"] = JOINTS[Joint(typed)].usual_fixture
    if name == "guess":
        values["guess_utc"] = file.now() if text else None
    amend(connection, "trial", book.trial.id, values)


def _change_seed(connection: Connection, book: Book, typed: str) -> None:
    if not typed.strip().isdigit() or len(typed.strip()) > 9:
        raise EntryError(f"“{typed}” is not a seed.", "Expected a whole number, e.g. 4117.", field="seed")
    amend(connection, "trial", book.trial.id, {"seed": int(typed)})


def _change_number(connection: Connection, book: Book, name: str, typed: str) -> None:
    words, most = _NUMBERS[name]
    number = parse_count(typed, words, 0, most, field=name)
    amend(connection, "trial", book.trial.id, {name: number})
    if name == PIECES:
        for one in list_treatments(connection, book.trial.id):
            if not one.pieces_own:
                amend(connection, "treatment", one.id, {"pieces": number})


def _choose_rig(connection: Connection, book: Book, typed: str) -> None:
    text = typed.strip()
    if text and not text.isdigit():
        raise EntryError(f"“{typed}” is not a rig.", "Choose one of the shop.", field="rig_id")
    rig_id = require_rig(connection, int(text)).id if text else None
    amend(connection, "trial", book.trial.id, {"rig_id": rig_id})


def _choose_reference(connection: Connection, book: Book, typed: str) -> None:
    breaks = read_shop_breaks(connection, book.trial.id, practice=bool(book.trial.practice))
    known = {str(one.id): one.id for one in list_references(breaks, book.fixture.value)}
    text = typed.strip()
    if text and text not in known:
        raise EntryError(
            f"“{typed}” is no set that was broken in this fixture.", "Choose one of those listed.", field="reference_id"
        )
    amend(connection, "trial", book.trial.id, {"reference_id": known.get(text)})


def remove_trial(file: ShopFile, trial_id: int) -> None:
    """Put a trial away; it can be put back."""
    with file.changing("Removed the trial", trial_id) as connection:
        amend(connection, "trial", trial_id, {"removed_utc": file.now()})


def put_trial_back(file: ShopFile, trial_id: int) -> None:
    """Put a removed trial back on Today."""
    with file.changing("Put the trial back", trial_id) as connection:
        amend(connection, "trial", trial_id, {"removed_utc": None})
