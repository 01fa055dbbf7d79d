"""What the tables of a whole trial look like when it leaves its shop."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Column:
    """A column and what may stand in it.

    Attributes
    ----------
    kind : `integer`, `number`, `string`, `array` or `object`; the last two are JSON. least, most : the ends of a
    number, or of the length of a text. to : the table whose `id` it is; None for values. blank : what an empty cell
    stands for.
    """

    name: str
    kind: str
    required: bool = False
    choices: tuple[str | int, ...] | None = None
    least: float | None = None
    most: float | None = None
    to: str | None = None
    blank: str | None = None


@dataclass(frozen=True)
class Shape:
    """A table: its name, what it is in words, its columns, and which of them stand once together."""

    name: str
    words: str
    columns: tuple[Column, ...]
    keys: tuple[tuple[str, ...], ...] = ()
