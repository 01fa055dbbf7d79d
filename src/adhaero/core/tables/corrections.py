"""What a person said of columns, rows and cells by pointing at them; the reading follows."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Final

from adhaero.core.errors import EntryError
from adhaero.core.tables.grid import Place, name_column, name_place, read_place
from adhaero.core.tables.headings import Heading, Role, Summary

IGNORE: Final = "ignore"
ROLES: Final = (
    "set", "label", "load", "stress", "piece", "torn", "date", "glued", "note", "board", "area", "outcome", "failure",
    "level", "ignore",
)  # fmt: skip


@dataclass(frozen=True)
class Corrections:
    """Roles by what they were said of: `Dock!C` a column, `Dock!7` a row, `Dock!C5` a cell; without sheet in a text.

    Attributes
    ----------
    roles : one of `ROLES`, `size:NAME`, `factor:NAME` or `summary:KIND`; of rows and cells `ignore` alone.
    layouts : by the row of a table's headings, `Dock!3`.
    """

    roles: Mapping[str, str] = field(default_factory=dict)
    layouts: Mapping[str, str] = field(default_factory=dict)

    def of_column(self, sheet: str, column: int, heading: Heading) -> Heading | None:
        """Return a heading with the role that was said of its column; None where nothing was."""
        role = self.roles.get(_name(sheet, name_column(column)))
        return None if role is None else as_said(heading, role)

    def ignores(self, sheet: str, place: Place) -> bool:
        """Return whether a row or a cell was said to be none of the pieces."""
        return IGNORE in (
            self.roles.get(_name(sheet, str(place[0] + 1))),
            self.roles.get(_name(sheet, name_place(place))),
        )

    def layout_of(self, sheet: str, header: int) -> str | None:
        """Return the layout that was said of a table, by the row of its headings."""
        return self.layouts.get(_name(sheet, str(header + 1)))


NONE: Final = Corrections()


def _name(sheet: str, place: str) -> str:
    return f"{sheet}!{place}" if sheet else place


def as_said(heading: Heading, role: str) -> Heading:
    """Return a heading with a role as a person chose it: `load`, `size:width`, `factor:Slope`, `summary:mean`."""
    kind, _, name = role.partition(":")
    if kind == "summary":
        return replace(heading, role=Role.SUMMARY, summary=Summary(name) if name in list(Summary) else Summary.UNSAID)
    if kind == "factor":
        return replace(heading, role=Role.FACTOR, text=name or heading.text)
    if kind == "size":
        return replace(heading, role=Role.SIZE, name=name or heading.name or "width")
    return replace(heading, role=Role(kind))


_KEY: Final = re.compile(r"(?:(?P<sheet>.*)!)?(?P<place>[A-Z]{1,3}|\d{1,7}|[A-Z]{1,3}\d{1,7})")


def read_corrections(roles: Mapping[str, str], layouts: Mapping[str, str]) -> Corrections:
    """Return what was said of columns, rows and cells.

    Raises
    ------
    EntryError : an address or a role that there is not.
    """
    for key, role in roles.items():
        found = _KEY.fullmatch(key)
        kind, _, name = role.partition(":")
        if found is None:
            raise EntryError(
                f"“{key}” is no column, row or cell.", "Expected e.g. Dock!C, Dock!7 or Dock!C5.", field="roles"
            )
        is_column = found["place"].isalpha()
        known = (
            role in ROLES
            or kind == "factor"
            or (kind == "size" and name)
            or (kind == "summary" and name in list(Summary))
        )
        if not known or (not is_column and role != IGNORE):
            raise EntryError(
                f"“{role}” is no role of {'a column' if is_column else 'a row or a cell'}.",
                f"Expected {', '.join(ROLES)}, size:NAME, factor:NAME or summary:KIND; of rows and cells ignore.",
                field="roles",
            )
        if not is_column and not found["place"].isdigit() and read_place(found["place"]) is None:
            raise EntryError(f"“{key}” is no cell.", field="roles")
    for key, layout in layouts.items():
        if layout not in ("tall", "wide", "columns", "matrix", "none"):
            raise EntryError(f"“{layout}” is no layout.", "Expected tall, wide, columns, matrix or none.", field=key)
    return Corrections(dict(roles), dict(layouts))
