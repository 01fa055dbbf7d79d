"""The boards of a plan, and how many pieces each holds."""

from dataclasses import dataclass

from adhaero.bench.book import require_not_in_use, require_open_plan, require_row, require_unchanged
from adhaero.core.errors import EntryError
from adhaero.core.quantity import parse_count
from adhaero.store.file import ShopFile
from adhaero.store.rows import amend, delete, insert
from adhaero.store.trials import list_boards


@dataclass(frozen=True)
class BoardEntry:
    """Boards as typed: how many alike, of what wood, and how many pieces each holds."""

    species: str
    holds: str
    count: str = "1"


def add_boards(file: ShopFile, trial_id: int, entry: BoardEntry) -> None:
    """Add boards to an open plan."""
    count = parse_count(entry.count, "boards", 1, 200, field="count")
    holds = _read_holds(entry.holds)
    with file.changing(f"Added {count} board{'s' if count > 1 else ''}", trial_id) as connection:
        require_open_plan(connection, trial_id)
        others = list_boards(connection, trial_id)
        last = max((one.rank for one in others), default=0)
        names = {one.name for one in others}
        for rank in range(last + 1, last + 1 + count):
            name = next(name for number in range(rank, rank + 1000) if (name := f"Board {number}") not in names)
            names.add(name)
            values = {"trial_id": trial_id, "rank": rank, "name": name, "holds": holds}
            insert(connection, "board", {**values, "species": entry.species.strip()[:60]})


def edit_board(file: ShopFile, trial_id: int, board_id: int, field: str, was: str, typed: str) -> None:
    """Set a board's `name`, `species` or, while the plan is open, how many pieces it `holds`.

    Raises
    ------
    StaleEdit : another window changed it; EntryError : it cannot be read, or the name stands already.
    """
    with file.changing("Changed a board", trial_id) as connection:
        boards = list_boards(connection, trial_id)
        require_row(boards, board_id)
        current = next(one for one in boards if one.id == board_id)
        if field not in ("name", "species", "holds"):
            raise EntryError(f"A board has no “{field}”.", field=field)
        require_unchanged(f"the {field} of {current.name}", str(getattr(current, field)), was, field)
        value: str | int = typed.strip()[:60]
        if field == "name" and not value:
            raise EntryError("The board has no name.", "Expected 1 to 60 letters.", field="name")
        if field == "name" and any(one.name == value and one.id != board_id for one in boards):
            raise EntryError(f"There is a {value} already.", "Each board has its own name.", field="name")
        if field == "holds":
            require_open_plan(connection, trial_id)
            value = _read_holds(typed)
        amend(connection, "board", board_id, {field: value})


def _read_holds(typed: str) -> int:
    return parse_count(typed, "pieces on a board", 1, 1000, field="holds")


def remove_board(file: ShopFile, trial_id: int, board_id: int) -> None:
    """Remove a board from an open plan."""
    with file.changing("Removed a board", trial_id) as connection:
        require_not_in_use(connection, trial_id, "board")
        require_row(list_boards(connection, trial_id), board_id)
        delete(connection, "board", board_id)
