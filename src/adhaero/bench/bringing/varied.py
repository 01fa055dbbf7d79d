"""What varies in a table that comes in, each under one of the shop's kinds: meant by a heading, or said."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from adhaero.core.errors import EntryError
from adhaero.core.plan.fields import FACTORS, AnswerKind, Factor
from adhaero.core.plan.varied import ReadValue, guess_kind, list_kinds
from adhaero.core.tables.answers import Answers
from adhaero.core.tables.bring_in import BroughtIn, Row
from adhaero.core.tables.headings import Role
from adhaero.core.tables.names import fold
from adhaero.store.connecting import Connection
from adhaero.store.glues import find_glue

ABOUT: Final = "what varies"
_SHOWN: Final = 6
_TWO: Final = 2


@dataclass(frozen=True)
class Varied:
    """One thing that a table says of its pieces.

    Attributes
    ----------
    name : of its column, folded; empty for that of the sets. heading : as written. key : of the kind that it is.
    kinds : all that its values can be, by key, with how each value is read then, in the order of `values`.
    values : as written, each once; one alone is the same for all.
    """

    name: str
    heading: str
    key: str
    kinds: Mapping[str, tuple[ReadValue, ...]]
    values: tuple[str, ...]

    @property
    def kind(self) -> Factor:
        """Return which of the shop's kinds it is."""
        return kind_of(self.key)

    def read(self, value: str) -> ReadValue:
        """Return how a value is read."""
        return self.kinds[self.key][[fold(one) for one in self.values].index(fold(value))]


@dataclass(frozen=True)
class KindView:
    """A kind that values can be of: its words, and how the values are read then, the first few."""

    key: str
    words: str
    values: str


@dataclass(frozen=True)
class VariedView:
    """What a table varies, or holds throughout, and what it may be."""

    heading: str
    count: int
    key: str
    kind: Factor
    kinds: list[KindView]


def list_varied(connection: Connection, found: BroughtIn, answers: Answers) -> list[Varied]:
    """Return what a table says of its pieces, the sets first.

    Raises
    ------
    EntryError : a person says a kind that the values cannot be, or one kind of two columns.
    """
    if not found.rows:
        return []
    titles = {"": _name_sets(found)}
    for row in found.rows:
        for name in row.factors:
            titles.setdefault(fold(name), name)
    listed: list[Varied] = []
    taken: set[Factor] = set()
    for name, heading in titles.items():
        values = _list_values(found.rows, name)
        if not any(values) and (name or len(titles) > 1):
            continue
        kinds = list_kinds(heading, values)
        said = answers.find(ABOUT, heading)
        if said is None:
            kind = _guess(connection, heading, values)
            key = (Factor.OWN if kind in taken else kind).value
        else:
            key = _require(said, heading, values, kinds, taken)
        taken |= {kind_of(key)} - {Factor.OWN}
        listed.append(Varied(name, heading, key, kinds, values))
    return listed


def note_varied(listed: Sequence[Varied]) -> dict[str, str]:
    """Return as which kind each column was taken, to be kept with the file."""
    return {one.heading: one.key for one in listed}


def as_noted(reading: Mapping[str, object]) -> Answers:
    """Return as which kind each column of a kept file was taken."""
    noted = reading.get("varied", {})
    return Answers(tuple((ABOUT, str(name), str(kind)) for name, kind in dict(noted).items()))  # type: ignore[call-overload]


def value_of(row: Row, name: str) -> str:
    """Return what a row says of one thing that varies, by its folded name."""
    if name == "":
        return row.set_name
    return next((level for one, level in row.factors.items() if fold(one) == name), "")


def name_sets(rows: Sequence[Row], listed: Sequence[Varied]) -> list[str]:
    """Return the set of each row in words: what it has of everything that varies."""
    names = {(one.name, fold(value)): one.read(value).name for one in listed for value in one.values}
    varied = [one.name for one in listed if len(one.values) > 1] or [one.name for one in listed[:1]]

    def name(row: Row) -> str:
        parts = [names.get((one, fold(value)), value) for one in varied if (value := value_of(row, one))]
        return ", ".join(parts) or "all"

    return [name(row) for row in rows]


def view_varied(one: Varied) -> VariedView:
    """Return what varies as it is shown, what is likeliest first."""
    listed = sorted(one.kinds, key=lambda key: key != one.key)
    kinds = [KindView(key, name_kind(key, one.heading), _say(one.kinds[key])) for key in listed]
    return VariedView(one.heading, len(one.values), one.key, one.kind, kinds)


def kind_of(key: str) -> Factor:
    """Return the kind of a key, which may name the unit of numbers without one behind it."""
    return Factor(key.partition(" ")[0])


def name_kind(key: str, heading: str) -> str:
    """Return a kind in words; what is none of the shop's is called as in its table."""
    kind, unit = kind_of(key), key.partition(" ")[2]
    words = FACTORS[kind].words
    return f"{words}: {heading}" if kind is Factor.OWN else f"{words}, in {unit}" if unit else words


def choose_answer(listed: Sequence[Varied]) -> AnswerKind:
    """Return what a table most likely asks: how it goes with an amount where that alone varies, else which is best."""
    varied = [one for one in listed if len(one.values) > 1]
    along = len(varied) == 1 and FACTORS[varied[0].kind].quantity is not None and len(varied[0].values) > _TWO
    return AnswerKind.CURVE if along else AnswerKind.COMPARE


def is_solid(row: Row) -> bool:
    """Return whether a row is solid wood, which has none of what varies."""
    return fold(row.set_name).startswith("solid")


def _name_sets(found: BroughtIn) -> str:
    """Return what the column of the sets is called."""
    column = next((column for table in found.tables if (column := table.first(Role.SET))), None)
    return column.heading.text if column and column.heading.text else "set"


def _list_values(rows: Sequence[Row], name: str) -> tuple[str, ...]:
    values: dict[str, str] = {}
    for row in rows:
        if not (is_solid(row) and (name == "" or not value_of(row, name))):
            values.setdefault(fold(value_of(row, name)), value_of(row, name))
    return tuple(values.values())


def _guess(connection: Connection, heading: str, values: Sequence[str]) -> Factor:
    """Return the kind that a column is without a word of anybody: all on the glue shelf are glues."""
    if all(find_glue(connection, value) is not None for value in values):
        return Factor.GLUE
    return guess_kind(heading, values)


def _require(
    said: str,
    heading: str,
    values: Sequence[str],
    kinds: Mapping[str, tuple[ReadValue, ...]],
    taken: set[Factor],
) -> str:
    if said not in kinds:
        # one of the shop's that the values are not, or what is no kind at all
        words = next((FACTORS[one].words for one in Factor if one == said.partition(" ")[0]), said)
        raise EntryError(
            f"“{heading}” holds {_say([ReadValue(one or 'none') for one in values])}: that is no {words}.",
            f"It can be {'; '.join(name_kind(one, heading) for one in kinds)}.",
            "Choose another, or point at the column in the table and say what it holds.",
            field="varies",
        )
    if kind_of(said) in taken:
        raise EntryError(
            f"“{heading}” and another column are both {FACTORS[kind_of(said)].words}.",
            "A trial varies each once.",
            "Call one of them something else.",
            field="varies",
        )
    return said


def _say(values: Sequence[ReadValue]) -> str:
    shown = [one.name for one in values[:_SHOWN]]
    more = len(values) - len(shown)
    return ", ".join(shown) + (f" and {more} more" if more else "")
