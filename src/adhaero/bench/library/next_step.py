"""What next: the comparison that would settle most, with the pieces, wood, glue and clamps that it takes; its plan."""

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median
from typing import Annotated, Literal

from annotated_types import MaxLen

from adhaero.bench.compare.breaks import Choice, collect_breaks
from adhaero.bench.compare.slices import choose_slice, name_sets
from adhaero.bench.facts.entry import Entry, Id, Line
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.shelf import Shelf
from adhaero.bench.library.evidence import find_place, is_solid, read_says
from adhaero.bench.library.names import Alike, find_alike, list_families
from adhaero.bench.library.tables import Solved, Table, make_tables, solve_table
from adhaero.bench.library.takes import Asked, say_takes
from adhaero.bench.plan.levels import LevelEntry, put_level
from adhaero.bench.plan.settled import copy_held
from adhaero.bench.plan.treatments import follow
from adhaero.bench.plan.trials import hold_constant
from adhaero.core.errors import EntryError, NotThere
from adhaero.core.glue import GlueFamily
from adhaero.core.plan.fields import AnswerKind, Factor, Matched
from adhaero.core.stats.next_test import NextTest, rank_tests
from adhaero.core.stats.pairs import Pair, Verdict
from adhaero.core.stats.words import capital
from adhaero.store.file import ShopFile
from adhaero.store.glues import list_glues
from adhaero.store.history import Mark, find_last_mark
from adhaero.store.library import list_calls, list_table_joins
from adhaero.store.plans import Treatment, insert_board, insert_factor
from adhaero.store.trials import amend_trial

_DEFAULT_SIGMA = 0.15
_MARGIN_PCT = 10.0


@dataclass(frozen=True)
class NextView:
    """A trial that could be next.

    Attributes
    ----------
    words : what is not known, and what it would settle. takes : pieces, wood, glue and clamps, in words.
    base : the trial that its plan would be made from; factor : what of it varies; a, b : the two values; pieces : each.
    held : what else that trial varies, at the value that the plan holds.
    """

    words: str
    takes: str
    base: int
    factor: int
    a: str
    b: str
    pieces: int
    held: tuple["HeldValue", ...]


@dataclass(frozen=True)
class HeldValue(Entry):
    """Something that a trial varies, and the value that is held."""

    factor_id: Id
    value: Line


@dataclass(frozen=True)
class BeginEntry(Entry):
    """A plan to begin from a trial: two values of one thing that it varies, the pieces of each, and what it holds."""

    factor_id: Id
    a: Line
    b: Line
    pieces: Id
    held: Annotated[tuple[HeldValue, ...], MaxLen(3)] = ()


def propose(
    file: ShopFile, table: Table, solved: Solved | None, alike: Sequence[Alike], most: int = 2
) -> list[NextView]:
    """Return the trials that would settle most of a table, with what they take; none of two that could be one thing."""
    if solved is None:
        return []
    one_thing = [{one.name, one.called} for one in alike]
    tests = [one for one in rank_table(table, solved) if {one.a, one.b} not in one_thing]
    return [view for one in tests[:most] if (view := _view_test(file, table, one)) is not None]


def rank_table(table: Table, solved: Solved) -> list[NextTest]:
    """Return every test of two things of a table, the one that would settle most first."""
    scatter = [one.sigma for one in table.says if one.sigma is not None]
    solid = [name for name in table.things if is_solid(name)]
    more = [name for name in table.things if name not in solved.network.names]
    return rank_tests(solved.network, median(scatter) if scatter else _DEFAULT_SIGMA, _MARGIN_PCT, solid, more)


_kept: Shelf[tuple[Mark, int], list[NextView]] = Shelf(most=16)


def view_next(file: ShopFile, trial_id: int) -> list[NextView]:
    """Return what this shop would learn most from after a trial: a pair that it left open, and one of the book."""
    with file.reading() as connection:
        mark = find_last_mark(connection)
    return _kept.find_or_make((mark, trial_id), lambda: _find_next(file, trial_id))


def _find_next(file: ShopFile, trial_id: int) -> list[NextView]:
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        says = read_says(connection)
        calls, families = list_calls(connection), list_families(connection)
        tables = make_tables(says, calls, list_table_joins(connection), families)
    found = _propose_open(file, facts)
    mine = [one for one in tables if any(each.trial_id == trial_id for each in one.says)]
    for table in mine[:1]:
        solved = solve_table(table.evidence)
        told = {frozenset((one.a, one.b)) for one in found}
        alike = find_alike(table.says, table.things, families, calls)
        found += [one for one in propose(file, table, solved, alike, 3) if frozenset((one.a, one.b)) not in told]
    return found[:2]


def _propose_open(file: ShopFile, facts: PieceFacts) -> list[NextView]:
    """Return the pair at the lead of a trial that stays open, where one thing alone makes the two differ."""
    cut = choose_slice(facts)
    analysis = collect_breaks(facts, Choice(slice=str(cut or ""))).analysis
    if analysis is None:
        return []
    of_name = {name: facts.treatments[key] for key, name in name_sets(facts, cut).items()}
    of_level = {one.level: one for one in analysis.groups}
    ranked = [one.level for one in analysis.groups if one.typical is not None]
    order = sorted(ranked, key=lambda level: -(of_level[level].typical or 0))
    open_ = [one for one in analysis.pairs if one.verdict is Verdict.CANNOT_TELL and one.pieces_to_settle]
    for pair in sorted(open_, key=lambda one: _rank(order, one)):
        sets = [of_name[name] for name in (pair.a, pair.b) if name in of_name]
        if len(sets) < 2:
            continue
        first, second = (facts.levels_of.get(one.id, ()) for one in sets)
        differ = [(a, b) for a, b in zip(first, second, strict=False) if a.id != b.id]
        if len(differ) != 1 or len(first) != len(second) or pair.pieces_to_settle is None:
            continue
        a, b = differ[0]
        pieces = min(max(2, pair.pieces_to_settle), 60)
        where = f" ({cut.value})" if cut is not None else ""
        words = (
            f"Whether {pair.a} or {pair.b} is stronger{where} is what this trial leaves open at the lead: "
            f"{pieces} pieces of each usually settle it."
        )
        takes = say_takes(file, facts, Asked(a.factor_id, (a.name, b.name), pieces, sets[0]))
        held = _hold(facts, sets[0], a.factor_id)
        return [NextView(words, takes, facts.trial.id, a.factor_id, a.name, b.name, pieces, held)]
    return []


def _rank(order: Sequence[str], pair: Pair) -> tuple[int, int]:
    places = sorted(order.index(name) if name in order else len(order) for name in (pair.a, pair.b))
    return places[0], places[1]


def _view_test(file: ShopFile, table: Table, test: NextTest) -> NextView | None:
    """Return a test in words; None where no trial of the table can be planned from."""
    base = max(table.says, key=lambda one: (one.last_day, one.trial_id))
    with file.reading() as connection:
        facts = read_trial(connection, base.trial_id)
        # the name by which the shop has a glue, where the book calls it otherwise
        glues = {one.id: one.name for one in list_glues(connection)}
    factor = next((one for one in facts.factors.values() if facts.kinds[one.id] is table.kind), None)
    if factor is None:
        return None
    cards = {key: name for one in table.says for name, key in one.glues}
    own = {name: glues[key] for key, name in cards.items() if key in glues}
    a, b = own.get(test.a, test.a), own.get(test.b, test.b)
    if test.joins:
        words = (
            f"{capital(test.a)} and {test.b}: nothing leads from one to the other. {test.pieces} pieces of each, "
            f"side by side, would make {test.joins} comparison{'s' if test.joins > 1 else ''} possible."
        )
    elif test.settles:
        words = (
            f"{capital(test.a)} against {test.b}, {test.pieces} pieces of each side by side, would usually bring "
            f"{test.settles} more comparison{'s' if test.settles > 1 else ''} to a known order."
        )
    else:
        words = (
            f"{capital(test.a)} against {test.b}, {test.pieces} pieces of each side by side, would narrow their range "
            f"by about {test.narrows or 0:.0f} %; no order would become known by one trial alone."
        )
    # what else the trial varies is held as in one of its sets in this place, of these two where it has one
    here = [
        one for one in facts.made if not one.solid and find_place(facts, one, table.kind) in (base.place, table.place)
    ]
    like = next((one for one in here if {a, b} & set(facts.made_of(one).values())), here[0] if here else None)
    held = () if like is None else _hold(facts, like, factor.id)
    takes = say_takes(file, facts, Asked(factor.id, (a, b), test.pieces, like))
    return NextView(words, takes, facts.trial.id, factor.id, a, b, test.pieces, held)


def _hold(facts: PieceFacts, one: Treatment, but: int) -> tuple[HeldValue, ...]:
    """Return the values of a set of everything that varies but one thing."""
    return tuple(
        HeldValue(level.factor_id, level.name) for level in facts.levels_of.get(one.id, ()) if level.factor_id != but
    )


def begin_test(file: ShopFile, trial_id: int, entry: BeginEntry) -> int:
    """Begin a plan of two values from a trial: everything else as there, new boards that carry both; return its id.

    Raises
    ------
    NotThere : the trial does not vary that. EntryError : a value cannot be read, or both are the same.
    """
    a, b = (" ".join(one.split()) for one in (entry.a, entry.b))
    if not a or not b or a.casefold() == b.casefold():
        raise EntryError("Two different values are needed.", "Choose two.", field="b")
    with file.changing("Began the next trial", undoable=False) as connection:
        facts = read_trial(connection, trial_id)
        factor = facts.factors.get(entry.factor_id)
        if factor is None:
            raise NotThere("That trial does not vary that.", do="Reload: it may have changed.")
        new_id = copy_held(connection, file, facts, f"{capital(a)} or {b}: which is stronger?")
        pieces = min(entry.pieces, 200)
        amend_trial(
            connection, new_id, pieces_each=pieces, spares="", pilot=0, matched=Matched.NOT, answer=AnswerKind.COMPARE
        )
        for one in entry.held:
            if one.factor_id not in facts.factors or one.factor_id == factor.id:
                raise NotThere("That trial does not vary that.", do="Reload: it may have changed.")
            hold_constant(connection, new_id, facts.kinds[one.factor_id], one.value)
        insert_factor(connection, trial_id=new_id, rank=1, kind=factor.kind, name=factor.name)
        row = next(iter(read_trial(connection, new_id).factors.values()))
        known = {one.name.casefold(): one for one in facts.levels.values() if one.factor_id == factor.id}
        families = list_families(connection)
        for name in (a, b):
            glue_id = known[name.casefold()].glue_id if name.casefold() in known else None
            family: GlueFamily | Literal[""] = GlueFamily(families[glue_id]) if glue_id in families else ""
            put_level(connection, row, LevelEntry(name, family), by_name=True)
        species = [one.value for one in entry.held if facts.kinds[one.factor_id] is Factor.SPECIES]
        woods = species or [board.species for board in facts.boards.values()]
        for rank in range(1, pieces + 1):
            insert_board(
                connection, trial_id=new_id, rank=rank, name=f"Board {rank}", holds=2,
                species=max(set(woods), key=woods.count) if woods else "",
            )  # fmt: skip
        follow(connection, new_id)
        return new_id
