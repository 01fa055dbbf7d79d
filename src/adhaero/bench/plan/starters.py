"""Starting a trial from a common question: everything that a first plan needs is there, and can be changed."""

from dataclasses import dataclass
from secrets import randbelow

from adhaero.bench.facts.entry import Entry, Note, Short
from adhaero.bench.plan.levels import LevelEntry, put_level
from adhaero.bench.plan.treatments import follow, put_control
from adhaero.bench.plan.trials import check_words, put_trial, put_typed
from adhaero.bench.shop.glues import GlueEntry, put_glue
from adhaero.core.errors import EntryError
from adhaero.core.glue import GlueFamily
from adhaero.core.plan.fields import QUANTITIES, Factor
from adhaero.core.plan.starters import GLUES, STARTERS, Starter
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.glues import list_glues
from adhaero.store.plans import amend_factor, insert_board, insert_factor, list_factors, list_treatments
from adhaero.store.trials import amend_trial, fetch_trial, put_trial_field

_MOST_SHELF_GLUES = 4


_PER_WOOD = 2


@dataclass(frozen=True)
class StarterEntry(Entry):
    """A starter, and a question of one's own if there is one."""

    starter: Short
    question: Note = ""
    practice: bool | None = None


def start_from(file: ShopFile, key: str, *, practice: bool | None = None, question: str = "") -> int:
    """Start a trial from a starter and return its id; without a question of one's own, the starter's stands.

    Raises
    ------
    EntryError : there is no such starter.
    """
    if key not in STARTERS:
        raise EntryError(f"There is no starter “{key}”.", f"Choose one of {', '.join(STARTERS)}.", field="starter")
    starter = STARTERS[key]
    words = check_words("question", question or starter.question)
    with file.changing("Started the trial", undoable=False) as connection:
        trial_id = put_trial(connection, file, words, practice=practice, seed=randbelow(10_000))
        _write_fields(connection, trial_id, starter)
        _write_factors(connection, trial_id, starter)
        _add_boards(connection, trial_id, starter)
        return trial_id


def _write_fields(connection: Connection, trial_id: int, starter: Starter) -> None:
    fields = {**starter.fields, **starter.extra}
    if any(factor.kind is Factor.GLUE for factor in starter.factors):
        fields.pop("glue", None)
    else:
        fields["glue"] = _take_glue(connection, fields.get("glue"))
    amend_trial(connection, trial_id, answer=starter.answer, pieces_each=starter.pieces, pilot=starter.pilot)
    for name, typed in fields.items():
        if name in QUANTITIES:
            put_typed(connection, trial_id, name, typed)
        else:
            put_trial_field(connection, trial_id, name, typed)


def _take_glue(connection: Connection, wanted: str | None) -> str:
    """Return the name of a glue on the shelf: the first there, else one of the family named, put there."""
    shelf = list_glues(connection)
    family = next((one for one in GlueFamily if wanted and one.value == wanted.lower()), None)
    for glue in shelf:
        if family is None or glue.family == family:
            return glue.name
    return _put_plain_glue(connection, family or GLUES[0])


def _put_plain_glue(connection: Connection, family: GlueFamily) -> str:
    name = family.value[:1].upper() + family.value[1:]
    if all(glue.name.lower() != name.lower() for glue in list_glues(connection)):
        put_glue(connection, GlueEntry(name, family))
    return name


def _write_factors(connection: Connection, trial_id: int, starter: Starter) -> None:
    row = list_factors(connection, trial_id)[0]
    for number, factor in enumerate(starter.factors):
        if number == 0:
            amend_factor(connection, row.id, kind=factor.kind, name=factor.name)
        else:
            insert_factor(connection, trial_id=trial_id, rank=number + 1, kind=factor.kind, name=factor.name)
        current = list_factors(connection, trial_id)[number]
        for value in factor.values or _shelf(connection):
            put_level(connection, current, LevelEntry(value))
    trial = fetch_trial(connection, trial_id)
    if trial is not None:
        for kind in starter.controls:
            put_control(connection, trial, kind)
    follow(connection, trial_id)


def _shelf(connection: Connection) -> list[str]:
    names = [glue.name for glue in list_glues(connection)][:_MOST_SHELF_GLUES]
    return names if len(names) > 1 else [*names, *(_put_plain_glue(connection, family) for family in GLUES)]


def _add_boards(connection: Connection, trial_id: int, starter: Starter) -> None:
    """Add boards that each carry one of every set, as many as there are pieces of each; or some of each wood."""
    woods = next((one.values for one in starter.factors if one.kind is Factor.SPECIES), ())
    sets = len(list_treatments(connection, trial_id))
    kinds = woods or (starter.species,)
    for rank in range(1, starter.pieces * len(kinds) // (_PER_WOOD if woods else 1) + 1):
        species = kinds[(rank - 1) % len(kinds)]
        holds = _PER_WOOD if woods else max(1, min(sets, 1000))
        insert_board(connection, trial_id=trial_id, rank=rank, name=f"Board {rank}", species=species, holds=holds)
