"""The boards of a plan, and how many pieces each holds."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from annotated_types import MaxLen

from adhaero.bench.facts.entry import Entry, Id, Line, Short
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.requirements import require_not_in_use, require_open_plan, require_row, require_unchanged
from adhaero.bench.plan.consequences import make_plan
from adhaero.bench.shop.supplies import read_supplies
from adhaero.core.errors import EntryError, NotThere
from adhaero.core.plan.yields import count_yield
from adhaero.core.quantity import parse_count
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.plans import amend_board, delete_board, insert_board, list_boards
from adhaero.store.stock_boards import fetch_stock_board


@dataclass(frozen=True)
class BoardEntry(Entry):
    """Boards as typed: how many alike, of what wood, and how many pieces each holds."""

    species: Line
    holds: Short
    count: Short = "1"


@dataclass(frozen=True)
class ShopBoards(Entry):
    """Boards of the shop to saw for a trial."""

    stock: Annotated[tuple[Id, ...], MaxLen(200)]


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
            species = entry.species.strip()[:60]
            insert_board(connection, trial_id=trial_id, rank=rank, name=name, holds=holds, species=species)


def take_from_shop(file: ShopFile, trial_id: int, stock_ids: Sequence[int]) -> None:
    """Take boards of the shop into an open plan; each holds as many pieces as its size yields.

    A board whose yield is not known yet (sizes of the piece are missing) holds one piece of each set.
    """
    with file.changing(f"Took {len(stock_ids)} board{'s' if len(stock_ids) > 1 else ''} from the shop", trial_id) as c:
        require_open_plan(c, trial_id)
        others = list_boards(c, trial_id)
        names, rank = {one.name for one in others}, max((one.rank for one in others), default=0)
        for stock_id in stock_ids:
            stock = fetch_stock_board(c, stock_id)
            if stock is None:
                raise NotThere(f"There is no board {stock_id} in the shop.", do="It may have been removed.")
            if any(one.stock_board_id == stock_id for one in others):
                raise EntryError(f"{stock.name} is in this plan already.", field="boards")
            rank += 1
            name = next(n for n in (stock.name, *(f"{stock.name} {k}" for k in range(2, 1000))) if n not in names)
            names.add(name)
            board_id = insert_board(
                c, trial_id=trial_id, rank=rank, name=name, species=stock.species, holds=1, stock_board_id=stock_id
            )
            amend_board(c, board_id, holds=_yield_of(c, trial_id, board_id))


def _yield_of(connection: Connection, trial_id: int, board_id: int) -> int:
    facts = read_trial(connection, trial_id)
    plan = make_plan(facts, read_supplies(connection), ())
    size = plan.boards[list(facts.boards).index(board_id)].size
    found = None if size is None else count_yield(plan, size)
    return max(1, len(facts.made) if found is None else found)


def fit_board(file: ShopFile, trial_id: int, board_id: int) -> None:
    """Let a board of the shop hold as many pieces as its size yields now."""
    with file.changing("Fitted a board", trial_id) as connection:
        require_open_plan(connection, trial_id)
        require_row(list_boards(connection, trial_id), board_id)
        amend_board(connection, board_id, holds=_yield_of(connection, trial_id, board_id))


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
        text = typed.strip()[:60]
        if field == "holds":
            require_open_plan(connection, trial_id)
            amend_board(connection, board_id, holds=_read_holds(typed))
        elif field == "species":
            amend_board(connection, board_id, species=text)
        elif not text:
            raise EntryError("The board has no name.", "Expected 1 to 60 letters.", field="name")
        elif any(one.name == text and one.id != board_id for one in boards):
            raise EntryError(f"There is a {text} already.", "Each board has its own name.", field="name")
        else:
            amend_board(connection, board_id, name=text)


def _read_holds(typed: str) -> int:
    return parse_count(typed, "pieces on a board", 1, 1000, field="holds")


def remove_board(file: ShopFile, trial_id: int, board_id: int) -> None:
    """Remove a board from an open plan."""
    with file.changing("Removed a board", trial_id) as connection:
        require_not_in_use(connection, trial_id, "board")
        require_row(list_boards(connection, trial_id), board_id)
        delete_board(connection, board_id)
