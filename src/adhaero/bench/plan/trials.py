"""Trials as such: begun, removed, put back."""

from dataclasses import dataclass
from secrets import randbelow
from typing import Final

from adhaero.bench.facts.entry import Entry, Note
from adhaero.bench.plan.view import DEFAULTS
from adhaero.bench.shop.units import read_units
from adhaero.bench.shop.view import is_demo
from adhaero.core.errors import EntryError
from adhaero.core.joint import find_joint
from adhaero.core.plan.fields import FACTORS, LONGEST, QUANTITIES, Factor, find_grains
from adhaero.core.quantity import parse_quantity
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.plans import insert_factor
from adhaero.store.trials import amend_trial, insert_trial, put_quantity, put_trial_field


@dataclass(frozen=True)
class TrialEntry(Entry):
    """A question to start a trial with."""

    question: Note
    practice: bool | None = None


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
    trial_id = insert_trial(
        connection,
        question=question,
        seed=randbelow(10_000) if seed is None else seed,
        practice=is_demo(connection) or bool(practice),
        created_utc=file.now(),
        prep="planed the same day, wiped",
        spread="one coat",
        condition="kept dry in the shop",
    )
    for name, typed in DEFAULTS.items():
        put_typed(connection, trial_id, name, typed)
    insert_factor(connection, trial_id=trial_id, rank=1, kind=Factor.GLUE)
    return trial_id


def put_typed(connection: Connection, trial_id: int, name: str, typed: str) -> None:
    """Set a quantity of a plan as typed, in the shop's units; call inside a transaction. Raises `EntryError`."""
    quantity = QUANTITIES[name]
    default = read_units(connection).default_for(quantity.kind, quantity.unit)
    value = parse_quantity(typed, quantity.kind, default, quantity.bounds, field=name)
    put_quantity(connection, trial_id, name, value.si, value.typed)


_HELD: Final = {
    Factor.GLUE: "glue", Factor.PREP: "prep", Factor.SPREAD: "spread", Factor.CONDITION: "condition",
}  # fmt: skip


def hold_constant(connection: Connection, trial_id: int, kind: Factor, value: str) -> None:
    """Hold a kind at one value; what only boards or the question can say is left to them. Call inside a transaction."""
    quantity = FACTORS[kind].quantity
    if quantity is not None:
        put_typed(connection, trial_id, quantity, value)
    elif kind in _HELD:
        put_trial_field(connection, trial_id, _HELD[kind], value)
    elif kind is Factor.JOINT:
        amend_trial(connection, trial_id, joint=find_joint(value), joint_said=True)
    elif kind is Factor.GRAIN:
        found = find_grains(value)[0]
        if found:
            amend_trial(connection, trial_id, grain_a=found[0], grain_b=found[-1])


def check_words(name: str, text: str) -> str:
    """Return words of a plan without spaces around them; raises `EntryError` for no question or too many letters."""
    words = text.strip()
    if name == "question" and not words:
        raise EntryError("There is no question yet.", "A trial starts with one, in your own words.", field=name)
    if len(words) > LONGEST:
        raise EntryError(f"That is {len(words)} letters long.", f"Up to {LONGEST} fit.", "Shorten it.", field=name)
    return words


def remove_trial(file: ShopFile, trial_id: int) -> None:
    """Put a trial away; it can be put back."""
    with file.changing("Removed the trial", trial_id) as connection:
        amend_trial(connection, trial_id, removed_utc=file.now())


def put_trial_back(file: ShopFile, trial_id: int) -> None:
    """Put a removed trial back on Today."""
    with file.changing("Put the trial back", trial_id) as connection:
        amend_trial(connection, trial_id, removed_utc=None)
