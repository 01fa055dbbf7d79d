"""The glues of the shop: a card for each bottle."""

from dataclasses import dataclass
from typing import Literal

from adhaero.bench.facts.entry import Entry, Line, Moment
from adhaero.bench.facts.requirements import require_unchanged
from adhaero.bench.shop.glue_figures import FigureView
from adhaero.core.errors import EntryError, InUse, NotThere
from adhaero.core.glue import GlueFamily
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.glues import (
    Glue,
    amend_glue,
    delete_glue,
    delete_glue_figures,
    fetch_glue,
    find_glue,
    insert_glue,
    list_glue_users,
)


@dataclass(frozen=True)
class GlueView:
    """A glue in the shop with what to mind."""

    id: int
    name: str
    family: str
    opened_on: str | None
    lot: str
    kept: str
    caution: str
    figures: list[FigureView]
    tested: list[str]


@dataclass(frozen=True)
class GlueEntry(Entry):
    """A glue as typed."""

    name: Line
    family: GlueFamily | Literal[""]
    opened_on: Moment | None = None
    lot: Line = ""


def check_family(family: str) -> GlueFamily:
    """Return a family by its name; raises `EntryError`."""
    if not family:
        raise EntryError(
            "The glue's family is not said.", "Its cautions hang on it.", "Choose the family.", field="family"
        )
    if family not in list(GlueFamily):
        raise EntryError(
            f"“{family}” is not a family of glue.", f"Choose one of: {', '.join(GlueFamily)}.", field="family"
        )
    return GlueFamily(family)


def add_glue(file: ShopFile, entry: GlueEntry) -> int:
    """Put a glue on the shelf; its name is new."""
    with file.changing(f"Added glue {entry.name.strip()}") as connection:
        return put_glue(connection, entry)


def put_glue(connection: Connection, entry: GlueEntry) -> int:
    """Insert a glue; call inside a transaction. Raises `EntryError`."""
    name = entry.name.strip()
    family = check_family(entry.family)
    if not 1 <= len(name) <= 80:
        raise EntryError(
            "The glue has no name." if not name else "The name is too long.", "Expected 1 to 80 letters.", field="name"
        )
    if find_glue(connection, name):
        raise EntryError(
            f"There is a glue called {name} already.",
            "Each name stands once.",
            "Use it, or choose another name.",
            field="name",
        )
    return insert_glue(connection, name=name, family=family, opened_on=entry.opened_on, lot=entry.lot.strip())


def edit_glue(file: ShopFile, glue_id: int, field: str, was: str, typed: str) -> None:
    """Set the `family`, `opened_on`, `lot` or `kept` of a glue; what was glued with it keeps what was written then.

    Raises
    ------
    StaleEdit : another window changed it; EntryError : no such family or field.
    """
    with file.changing("Changed a glue") as connection:
        glue = _require_glue(connection, glue_id)
        if field not in ("family", "opened_on", "lot", "kept"):
            raise EntryError(f"The {field} of a glue stays.", field=field)
        require_unchanged(f"the {field.replace('_', ' ')} of {glue.name}", str(getattr(glue, field) or ""), was, field)
        text = typed.strip()[:80]
        match field:
            case "family":
                amend_glue(connection, glue_id, family=check_family(text))
            case "opened_on":
                amend_glue(connection, glue_id, opened_on=text or None)
            case "lot":
                amend_glue(connection, glue_id, lot=text)
            case _:
                amend_glue(connection, glue_id, kept=text)


def remove_glue(file: ShopFile, glue_id: int) -> None:
    """Take a glue off the shelf; raises `InUse` while a trial uses it."""
    with file.changing("Removed a glue") as connection:
        glue = _require_glue(connection, glue_id)
        users = list_glue_users(connection, glue)
        if users:
            raise InUse(
                f"{glue.name} is used by the trial “{users[0]}”.",
                "A glue in use stays.",
                "Remove it from the trial first.",
            )
        delete_glue_figures(connection, glue_id)
        delete_glue(connection, glue_id)


def _require_glue(connection: Connection, glue_id: int) -> Glue:
    glue = fetch_glue(connection, glue_id)
    if glue is None:
        raise NotThere(f"There is no glue {glue_id}.", do="It may have been removed.")
    return glue
