"""What things are called in the book, and which tables are one: decided by a person, and undone like all else."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from difflib import SequenceMatcher
from itertools import combinations

from adhaero.bench.facts.entry import Entry, Id, Line, Short
from adhaero.bench.library.evidence import Says, is_solid, read_says
from adhaero.bench.library.tables import name_things, names_of
from adhaero.core.errors import EntryError, NotThere
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.glues import list_glues
from adhaero.store.library import (
    Call,
    amend_call,
    delete_call,
    delete_table_join,
    insert_call,
    insert_table_join,
    list_calls,
    list_table_joins,
)

_ALIKE = 0.8
_LONGEST = 80


@dataclass(frozen=True)
class CallEntry(Entry):
    """What a thing of this name is called in the book: in one trial, or in all of them without one.

    Called by its own name it is a thing of its own: whether it is another one is asked no more.
    """

    subject: Short
    name: Line
    called: Line
    trial_id: Id | None = None


@dataclass(frozen=True)
class JoinEntry(Entry):
    """Two tables that are to be one; places in the words of the book."""

    subject: Short
    place: Line
    with_place: Line


@dataclass(frozen=True)
class Alike:
    """Two names that could be one thing, and why that is asked; `name` would be called `called`."""

    name: str
    called: str
    words: str


@dataclass(frozen=True)
class CallLine:
    """What a person said of a name: what it is called, or that it is a thing of its own; in one trial, or in all.

    Attributes
    ----------
    name : as its trials write it. question : of the one trial; empty for all.
    """

    id: int
    name: str
    called: str
    own: bool
    question: str


def view_calls(says: Sequence[Says], calls: Sequence[Call]) -> list[CallLine]:
    """Return what was said of the names of one kind of thing."""
    spelt = {name.casefold(): name for one in reversed(says) for name in names_of(one)}
    asked = {one.trial_id: one.question for one in says}
    return [
        CallLine(
            one.id, spelt.get(one.name, one.name), one.called, one.name == one.called.casefold(),
            "" if one.trial_id is None else asked.get(one.trial_id, "a trial that is not here"),
        )
        for one in calls
    ]  # fmt: skip


def call_thing(file: ShopFile, entry: CallEntry) -> None:
    """Call a thing otherwise in the book: two names of one thing, or one name of two things in two trials.

    Raises
    ------
    EntryError : no such name stands in the book, it would be called nothing, or the two stand side by side in a trial:
    then they are two things.
    """
    called = " ".join(entry.called.split())
    if not called or len(called) > _LONGEST:
        raise EntryError("It needs a name.", f"1 to {_LONGEST} letters.", field="called")
    with file.reading() as connection:
        says = [one for one in read_says(connection) if one.subject == entry.subject]
        calls, families = list_calls(connection), list_families(connection)
    shown = name_things(says, calls, families)
    places = [
        (raw.trial_id, name)
        for raw, one in zip(says, shown, strict=True)
        if entry.trial_id in (None, raw.trial_id)
        for name, new in zip(names_of(raw), names_of(one), strict=True)
        if new.casefold() == entry.name.casefold()
    ]
    if not places:
        raise EntryError(f"“{entry.name}” stands in no such trial.", "Choose a name of the table.", field="name")
    trials = {trial_id for trial_id, _ in places}
    for one in shown:
        there = {name.casefold() for part in one.evidence for name in part.names}
        if called != entry.name and one.trial_id in trials and {called.casefold(), entry.name.casefold()} <= there:
            raise EntryError(
                f"In “{one.question}” {entry.name} and {called} stand side by side: they are two things.",
                "Only names that never met in a trial can be one.", field="called",
            )  # fmt: skip
    own = f"“{entry.name}” is a thing of its own in the book"
    what = own if called == entry.name else f"“{entry.name}” is called “{called}” in the book"
    with file.changing(what) as connection:
        for name in dict.fromkeys(name.casefold() for _, name in places):
            mine = {trial_id for trial_id, other in places if other.casefold() == name}
            all_with = {one.trial_id for one in says if name in {other.casefold() for other in names_of(one)}}
            for trial_id in [None] if mine == all_with and entry.trial_id is None else sorted(mine):
                _put_call(connection, entry.subject, trial_id, name, called)


def _put_call(connection: Connection, subject: str, trial_id: int | None, name: str, called: str) -> None:
    for one in list_calls(connection):
        if (one.subject, one.trial_id, one.name) == (subject, trial_id, name):
            amend_call(connection, one.id, called)
            return
    insert_call(connection, subject=subject, trial_id=trial_id, name=name, called=called)


def forget_call(file: ShopFile, call_id: int) -> None:
    """Let a thing have its own name again."""
    with file.changing("A thing has its own name again in the book") as connection:
        if all(one.id != call_id for one in list_calls(connection)):
            raise NotThere("It has its own name already.")
        delete_call(connection, call_id)


def join_tables(file: ShopFile, entry: JoinEntry) -> None:
    """Make two tables one.

    Raises
    ------
    EntryError : a table is not there, or they are in different units: loads are never mixed with stresses.
    """
    with file.reading() as connection:
        places = {one.place.words: one.place for one in read_says(connection) if one.subject == entry.subject}
        joins = list_table_joins(connection)
    for words, field in ((entry.place, "place"), (entry.with_place, "with_place")):
        if words not in places:
            raise EntryError(f"There is no table “{words}”.", "Choose one of the book.", field=field)
    first, second = places[entry.place], places[entry.with_place]
    if first == second:
        raise EntryError("That is the same table.", field="with_place")
    if first.response != second.response:
        raise EntryError(
            f"One is in {first.response.rpartition('_')[2]}, the other in {second.response.rpartition('_')[2]}.",
            "Loads, moments and stresses never stand in one table.", field="with_place",
        )  # fmt: skip
    pair = {entry.place, entry.with_place}
    if any(one.subject == entry.subject and {one.place, one.with_place} == pair for one in joins):
        raise EntryError("They are joined already.", field="with_place")
    with file.changing("Joined two tables of the book") as connection:
        insert_table_join(connection, subject=entry.subject, place=entry.place, with_place=entry.with_place)


def part_tables(file: ShopFile, join_id: int) -> None:
    """Part two tables that were joined."""
    with file.changing("Parted two tables of the book") as connection:
        if all(one.id != join_id for one in list_table_joins(connection)):
            raise NotThere("They are parted already.")
        delete_table_join(connection, join_id)


def find_alike(
    says: Sequence[Says], names: Sequence[str], families: Mapping[int, str], calls: Sequence[Call]
) -> list[Alike]:
    """Return the names of a table that could be one thing: nearly the same letters, never side by side in a trial.

    Nothing is asked of what a person said is a thing of its own.
    """
    own = {one.name for one in calls if one.called.casefold() == one.name}
    names = [name for name in names if name.casefold() not in own]
    met = {frozenset(pair) for one in says for part in one.evidence for pair in combinations(part.names, 2)}
    of = {name: families.get(glue, "") for one in says for name, glue in one.glues}
    found = []
    for a, b in combinations(names, 2):
        if frozenset((a, b)) in met or is_solid(a) or is_solid(b):
            continue
        first, second = a.casefold(), b.casefold()
        within = first in second or second in first
        if not within and SequenceMatcher(None, first, second).ratio() < _ALIKE:
            continue
        long, short = (a, b) if len(a) > len(b) else (b, a)
        kinds = {of.get(a, ""), of.get(b, "")} - {""}
        differ = f"; their cards say {' and '.join(sorted(kinds))}" if len(kinds) > 1 else ""
        found.append(Alike(long, short, f"“{a}” and “{b}” never met in a trial{differ}: one thing, or two?"))
    return found


def list_families(connection: Connection) -> dict[int, str]:
    """Return the family of every glue of the shop. Reads only."""
    return {one.id: one.family.value for one in list_glues(connection)}
