"""The shop's book as it is read: its tables, one of them worked out, what is not known, and what to test next."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp

from adhaero.bench.facts.shelf import Shelf
from adhaero.bench.library.conditions import ConditionsView, view_conditions
from adhaero.bench.library.evidence import Says, read_says
from adhaero.bench.library.names import Alike, CallLine, find_alike, list_families, view_calls
from adhaero.bench.library.next_step import NextView, propose
from adhaero.bench.library.said import (
    list_mind,
    list_never,
    rank_parts,
    say_bound,
    say_table_lead,
    say_table_never,
    say_table_order,
    say_table_routes,
)
from adhaero.bench.library.tables import Solved, Table, make_tables, solve_table
from adhaero.bench.library.uses import UseView, list_uses
from adhaero.core.errors import NotThere
from adhaero.core.stats.library_words import find_known, say_between, say_compared, turn
from adhaero.store.file import ShopFile
from adhaero.store.history import Mark, find_last_mark
from adhaero.store.library import Call, TableJoin, list_calls, list_table_joins


@dataclass(frozen=True)
class BookLine:
    """A table of the book in short; `place` is its key, `alone` the question of a trial that can join no other."""

    subject: str
    place: str
    alone: str
    trials: int
    things: int
    pieces: int


@dataclass(frozen=True)
class BookRow:
    """One thing of a table.

    Attributes
    ----------
    rank : 1 is the strongest of its part. part : which things trials join to it, from 0.
    ratio, low, high : against what the table is held against, with its own range; None where nothing joins them.
    met : its ratio to that in each trial that has both. stronger : what it is known to be stronger than.
    """

    name: str
    rank: int
    part: int
    pieces: int
    trials: int
    ratio: float | None
    low: float | None
    high: float | None
    met: list[float]
    stronger: list[str]


@dataclass(frozen=True)
class BookTrial:
    """A trial of a table: when it was broken, how many pieces count, how many wait, its woods."""

    id: int
    question: str
    first_day: str
    last_day: str
    pieces: int
    waiting: int
    woods: list[str]
    place: str


@dataclass(frozen=True)
class JoinLine:
    """A table that a person joined to this one."""

    id: int
    words: str


@dataclass(frozen=True)
class BookTable:
    """One table worked out.

    Attributes
    ----------
    headline : who leads. order : which order is known, and what is not. between : how trials differ among themselves.
    routes : whether two ways of getting there agree. never, never_pairs : what never met. sided : sets that are bounds.
    against : what ratios are held against; could_join : other tables in the same unit. mind : what it does not show.
    """

    subject: str
    place: str
    against: str
    headline: list[str]
    order: list[str]
    between: str
    routes: list[str]
    never: list[str]
    never_pairs: list[str]
    sided: list[str]
    rows: list[BookRow]
    trials: list[BookTrial]
    joined: list[JoinLine]
    could_join: list[str]
    alike: list[Alike]
    calls: list[CallLine]
    conditions: list[ConditionsView]
    next: list[NextView]
    mind: list[str]


@dataclass(frozen=True)
class BookView:
    """The book: its tables, and the one that is open; None in a shop where nothing was compared yet."""

    tables: list[BookLine]
    table: BookTable | None


@dataclass(frozen=True)
class PairInTrial:
    """Two things side by side in one trial: their ratio there."""

    trial_id: int
    question: str
    last_day: str
    ratio: float


@dataclass(frozen=True)
class BookPair:
    """Two things of a table compared, in words, and trial by trial."""

    words: str
    ratio: float | None
    low: float | None
    high: float | None
    trials: list[PairInTrial]


_kept: Shelf[tuple[Mark, str, str, str], BookView] = Shelf(most=16)


def view_book(file: ShopFile, subject: str = "", place: str = "", against: str = "") -> BookView:
    """Return the book with one table worked out: the one that is asked for, else that of most trials.

    Raises
    ------
    NotThere : there is no such table: its trials may have been removed, or joined to another.
    """
    with file.reading() as connection:
        mark = find_last_mark(connection)
    return _kept.find_or_make((mark, subject, place, against), lambda: _view_book(file, subject, place, against))


def _view_book(file: ShopFile, subject: str, place: str, against: str) -> BookView:
    tables, says, calls, joins, families = _read(file)
    if not tables:
        return BookView([], None)
    table = _choose(tables, subject, place)
    mine = [one for one in says if one.subject == table.subject]
    lines = [_view_line(one) for one in tables]
    solved = solve_table(table.evidence)
    alike = find_alike(table.says, table.things, families, calls)
    rows, base = _list_rows(table, solved, against)
    return BookView(
        lines,
        BookTable(
            subject=table.subject,
            place=table.words,
            against=base,
            headline=say_table_lead(table, solved),
            order=say_table_order(solved),
            between="" if solved is None else say_between(solved.network),
            routes=say_table_routes(solved),
            never=say_table_never(table, solved),
            never_pairs=list_never(solved),
            sided=[say_bound(one, bound) for one in table.says for bound in one.sided],
            rows=rows,
            trials=[_view_trial(one) for one in sorted(table.says, key=lambda one: (one.last_day, one.trial_id))],
            joined=_list_joined(table, joins),
            could_join=_list_could_join(table, tables),
            alike=alike,
            calls=view_calls(mine, [one for one in calls if one.subject == table.subject]),
            conditions=view_conditions(table, tables),
            next=propose(file, table, solved, alike),
            mind=list_mind(table, mine),
        ),
    )


def view_pair(file: ShopFile, subject: str, place: str, a: str, b: str) -> BookPair:
    """Return two things of a table compared. Raises `NotThere`."""
    tables, *_ = _read(file)
    table = _choose(tables, subject, place) if tables else None
    solved = None if table is None else solve_table(table.evidence)
    if table is None or solved is None:
        raise NotThere("Nothing is compared in that table.", do="Reload: its trials may have changed.")
    for name in (a, b):
        if name not in table.things:
            raise NotThere(f"{name} does not stand in that table.", do="Choose one of its rows.")
    found = next((one for one in solved.pairs if {one.a, one.b} == {a, b}), None)
    if found is None:
        return BookPair(f"Nothing leads from {a} to {b}: no trial joins them.", None, None, None, [])
    one = turn(found, a)
    by_trial = {each.trial_id: each for each in table.says}
    met = [
        PairInTrial(part.trial, by_trial[part.trial].question, by_trial[part.trial].last_day, exp(told[0]))
        for part in table.evidence
        if (told := part.compare(a, b)) is not None
    ]
    routes = solved.network.split(a, b)
    low, high = one.range95
    return BookPair(say_compared(one, routes, [each.question for each in met]), one.ratio, low, high, met)


def view_uses(file: ShopFile) -> list[UseView]:
    """Return advice by use over all trials."""
    return list_uses(file, _read(file)[0])


def _read(file: ShopFile) -> tuple[list[Table], tuple[Says, ...], list[Call], list[TableJoin], dict[int, str]]:
    with file.reading() as connection:
        says = read_says(connection)
        calls, joins, families = list_calls(connection), list_table_joins(connection), list_families(connection)
    return make_tables(says, calls, joins, families), says, calls, joins, families


def _choose(tables: Sequence[Table], subject: str, place: str) -> Table:
    if not subject:
        return tables[0]
    for one in tables:
        places = [one.words, *(other.words for other in one.joined)]
        if one.subject == subject and (not place or place in places):
            return one
    raise NotThere(
        f"There is no table of {subject} for “{place}”.",
        do="Open the book again: its trials may have been removed, or the table joined to another.",
    )


def _list_rows(table: Table, solved: Solved | None, against: str) -> tuple[list[BookRow], str]:
    if solved is None:
        return [], ""
    parts = rank_parts(solved)
    names = [name for part in parts for name in part]
    base = (
        against if against in names else max(parts[0], key=lambda name: (table.trials_of(name), table.pieces_of(name)))
    )
    beats = find_known(solved.pairs)
    to_base = {(one.b if one.a == base else one.a): one for one in solved.pairs if base in (one.a, one.b)}
    rows = []
    for at, part in enumerate(parts):
        for rank, name in enumerate(part, start=1):
            one = to_base.get(name)
            turned = None if one is None else turn(one, name)
            ratio, (low, high) = (1.0, (1.0, 1.0)) if name == base else (None, (None, None))
            if turned is not None:
                ratio, (low, high) = turned.ratio, turned.range95
            met = [exp(told[0]) for each in table.evidence if (told := each.compare(name, base)) and name != base]
            rows.append(
                BookRow(
                    name, rank, at, table.pieces_of(name), table.trials_of(name), ratio, low, high, met,
                    beats.get(name, []),
                )
            )  # fmt: skip
    return rows, base


def _view_line(one: Table) -> BookLine:
    return BookLine(
        one.subject,
        one.words,
        one.says[0].question if one.place.only else "",
        len({each.trial_id for each in one.says}),
        len(one.things),
        sum(each.broken for each in one.says),
    )


def _view_trial(one: Says) -> BookTrial:
    return BookTrial(
        one.trial_id,
        one.question,
        one.first_day,
        one.last_day,
        one.broken,
        one.waiting,
        list(one.woods),
        one.place.words,
    )


def _list_joined(table: Table, joins: Sequence[TableJoin]) -> list[JoinLine]:
    places = {table.words, *(one.words for one in table.joined)}
    return [
        JoinLine(one.id, f"“{one.place}” and “{one.with_place}” stand in one table: you joined them.")
        for one in joins
        if one.subject == table.subject and {one.place, one.with_place} <= places
    ]


def _list_could_join(table: Table, tables: Sequence[Table]) -> list[str]:
    return [
        one.words
        for one in tables
        if one is not table and one.subject == table.subject and one.place.response == table.place.response
    ]
