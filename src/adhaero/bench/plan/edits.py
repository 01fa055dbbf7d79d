"""Editing what a plan says: one field at a time, before and after it is settled."""

from dataclasses import dataclass

from adhaero.bench.facts.entry import Edit, Reason
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.requirements import require_open_plan, require_unchanged
from adhaero.bench.plan.amendments import write_amendment
from adhaero.bench.plan.consequences import read_spares
from adhaero.bench.plan.earlier_treatments import list_references
from adhaero.bench.plan.settled import relabel_pieces
from adhaero.bench.plan.trials import check_words, put_typed
from adhaero.bench.plan.view import PIECES
from adhaero.bench.shop.past_breaks import read_shop_breaks
from adhaero.bench.shop.rigs import require_rig
from adhaero.core.errors import EntryError, StateError
from adhaero.core.fixture import Fixture
from adhaero.core.joint import FORMS as JOINTS
from adhaero.core.joint import Joint
from adhaero.core.plan.fields import (
    CHOICES,
    QUANTITIES,
    WORDS,
    check_choice,
)
from adhaero.core.plan.labels import check_scheme
from adhaero.core.plan.layout import find_next_seed
from adhaero.core.quantity import parse_count
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.plans import amend_treatment, list_treatments
from adhaero.store.trials import amend_trial, delete_quantity, put_trial_field

_NUMBERS = {PIECES: ("pieces of each set", 1000), "pilot": ("pilot pieces", 100)}


_ALWAYS = ("margin_pct", "cv_pct")


_LAYOUT_WORDS = ("joint", "fixture", "seed", "matched", "pilot", "looks", PIECES)


@dataclass(frozen=True)
class PlanEdit(Edit):
    """A field of the plan; once it is settled, with the reason."""

    reason: Reason = ""


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
        facts = read_trial(connection, trial_id)
        current = _current(facts, name)
        require_unchanged(_words_for(name), current, was, name)
        _check_settled(facts, name)
        if name in QUANTITIES:
            _edit_quantity(connection, facts, name, typed)
        elif name == "seed":
            _change_seed(connection, facts, typed)
        elif name in _NUMBERS:
            _change_number(connection, facts, name, typed)
        elif name == "rig_id":
            _choose_rig(connection, facts, typed)
        elif name == "reference_id":
            _choose_reference(connection, facts, typed)
        else:
            _edit_words(connection, file, facts, name, typed)
        if name == "label_scheme" and facts.pieces:
            relabel_pieces(connection, read_trial(connection, trial_id))
        elif facts.trial.frozen_utc is not None and name not in _AT_THE_SAW:
            now = _current(read_trial(connection, trial_id), name)
            write_amendment(connection, facts, file.now(), name, _words_for(name), current, now, reason)


def _words_for(name: str) -> str:
    if name in QUANTITIES:
        return QUANTITIES[name].words
    return _NUMBERS[name][0] if name in _NUMBERS else name.removesuffix("_id").replace("_", " ")


def _current(facts: PlanFacts, name: str) -> str:
    if name in QUANTITIES:
        row = facts.quantities.get(name)
        return row.typed if row else ""
    if name not in (*WORDS, *CHOICES, *_NUMBERS, "seed", "label_scheme", "spares", "rig_id", "reference_id"):
        raise EntryError(f"A plan has no “{name}”.", field=name)
    value = getattr(facts.trial, name)
    return "" if value is None else str(value)


# how the machines are set is written down at the saw, and is no change of the plan
_AT_THE_SAW = ("fence", "stop_block", "blade", "planer")


def _check_settled(facts: PieceFacts, name: str) -> None:
    if facts.pieces and name in _LAYOUT_WORDS:
        raise StateError(
            "The plan is settled: its pieces have labels.",
            f"The {_words_for(name)} can no longer change.",
            "Reopen the plan first, if nothing is glued yet.",
            field=name,
        )
    if name == "guess" and any(facts.result_of(piece) for piece in facts.pieces.values()):
        raise StateError(
            "The first piece is broken.", "A guess made now would be no guess.", "It stays as it was.", field=name
        )


def _edit_quantity(connection: Connection, facts: PlanFacts, name: str, typed: str) -> None:
    if not typed.strip() and name not in _ALWAYS:
        delete_quantity(connection, facts.trial.id, name)
        return
    put_typed(connection, facts.trial.id, name, typed)


def _edit_words(connection: Connection, file: ShopFile, facts: PlanFacts, name: str, typed: str) -> None:
    if name in CHOICES:
        check_choice(name, typed)
    text = check_scheme(typed) if name == "label_scheme" else check_words(name, typed)
    if name == "spares":
        read_spares(text)
    put_trial_field(connection, facts.trial.id, name, text)
    if name == "joint":
        amend_trial(connection, facts.trial.id, fixture=Fixture(JOINTS[Joint(typed)].usual_fixture))
    if name == "guess":
        amend_trial(connection, facts.trial.id, guess_utc=file.now() if text else None)


def _change_seed(connection: Connection, facts: PlanFacts, typed: str) -> None:
    if not typed.strip().isdigit() or len(typed.strip()) > 9:
        raise EntryError(f"“{typed}” is not a seed.", "Expected a whole number, e.g. 4117.", field="seed")
    amend_trial(connection, facts.trial.id, seed=int(typed))


def shuffle_again(file: ShopFile, trial_id: int) -> int:
    """Deal an open plan by another seed, and return it; raises `StateError` once it is settled."""
    with file.changing("Shuffled again", trial_id) as connection:
        trial = require_open_plan(connection, trial_id)
        seed = find_next_seed(trial.seed)
        amend_trial(connection, trial_id, seed=seed)
        return seed


def _change_number(connection: Connection, facts: PlanFacts, name: str, typed: str) -> None:
    words, most = _NUMBERS[name]
    number = parse_count(typed, words, 0, most, field=name)
    put_trial_field(connection, facts.trial.id, name, number)
    if name == PIECES:
        for one in list_treatments(connection, facts.trial.id):
            if not one.pieces_own:
                amend_treatment(connection, one.id, pieces=number)


def _choose_rig(connection: Connection, facts: PlanFacts, typed: str) -> None:
    text = typed.strip()
    if text and not text.isdigit():
        raise EntryError(f"“{typed}” is not a rig.", "Choose one of the shop.", field="rig_id")
    rig_id = require_rig(connection, int(text)).id if text else None
    amend_trial(connection, facts.trial.id, rig_id=rig_id)


def _choose_reference(connection: Connection, facts: PlanFacts, typed: str) -> None:
    breaks = read_shop_breaks(connection, facts.trial.id, practice=bool(facts.trial.practice))
    known = {str(one.id): one.id for one in list_references(breaks, facts.fixture.value)}
    text = typed.strip()
    if text and text not in known:
        raise EntryError(
            f"“{typed}” is no set that was broken in this fixture.", "Choose one of those listed.", field="reference_id"
        )
    amend_trial(connection, facts.trial.id, reference_id=known.get(text))
