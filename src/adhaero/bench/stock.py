"""What stands in the shop besides rigs: boards with sizes and defects, clamps and weights, the figures of glues."""

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, fields, is_dataclass

from adhaero.bench.guards import require_unchanged
from adhaero.core.errors import EntryError, InUse, NotThere
from adhaero.core.glue import FIGURES, USUAL, GlueFamily
from adhaero.core.plan.clamping import ClampKind
from adhaero.core.quantity import Bounds, Kind, parse_count, parse_quantity, show_as_typed
from adhaero.core.units import Units
from adhaero.core.wood import Rings
from adhaero.files.photos import shrink_photo
from adhaero.store.file import ShopFile
from adhaero.store.rows import Connection, amend, delete, insert
from adhaero.store.shop import (
    ClampsRow,
    Defect,
    Glue,
    GlueFigure,
    StockBoard,
    delete_glue_figures,
    delete_stock_board,
    fetch_glue,
    fetch_photo,
    fetch_settings,
    fetch_stock_board,
    list_board_users,
    list_clamps,
    list_defects,
    list_glue_figures,
    list_stock_boards,
    put_glue_figure,
)

_LONGEST_BOARD_MM = 20_000.0


@dataclass(frozen=True)
class StockBoardView:
    """A board in the shop with its defects and the trials that saw it."""

    board: StockBoard
    defects: list[Defect]
    users: list[str]


@dataclass(frozen=True)
class StockBoardEntry:
    """A board as typed; `defects` one to a line: `400 to 460 knot`."""

    name: str
    species: str
    length: str
    width: str
    thickness: str
    moisture: str = ""
    rings: str = ""
    source: str = ""
    defects: str = ""
    count: str = "1"
    price: str = ""


def read_units(connection: Connection) -> Units:
    """Return the shop's units. Reads only."""
    settings, plain = fetch_settings(connection), asdict(Units())
    return Units(**{name: settings.get(f"unit_{name}", value) for name, value in plain.items()})


def view_stock_boards(connection: Connection) -> list[StockBoardView]:
    """Return the boards in the shop. Reads only."""
    defects = list_defects(connection)
    return [
        StockBoardView(one, list(defects.get(one.id, ())), list_board_users(connection, one.id))
        for one in list_stock_boards(connection)
    ]


def save_stock_board(
    file: ShopFile, entry: StockBoardEntry, board_id: int | None = None, was: StockBoardEntry | None = None
) -> list[int]:
    """Add boards alike, or change one; return their ids.

    `was` is the board as the person saw it. Raises `EntryError`, or `StaleEdit` when another window changed it since.
    """
    name = entry.name.strip()
    with file.changing(f"{'Added' if board_id is None else 'Changed'} board {name}") as connection:
        values, defects = _read_board(connection, entry)
        others = {one.name.lower() for one in list_stock_boards(connection) if one.id != board_id}
        if board_id is not None:
            board = _require_board(connection, board_id)
            if was is not None:
                shown = _show_board(board, list_defects(connection).get(board_id, ()))
                _require_same(shown, was, board.name)
            _check_name(name, others)
            amend(connection, "stock_board", board_id, {**values, "name": name})
            for old in list_defects(connection).get(board_id, ()):
                delete(connection, "defect", old.id)
            ids = [board_id]
        else:
            count = parse_count(entry.count or "1", "boards", 1, 200, field="count")
            names = [name] if count == 1 else [f"{name} {number}" for number in range(1, count + 1)]
            for one in names:
                _check_name(one, others)
            ids = [insert(connection, "stock_board", {**values, "name": one}) for one in names]
        for one_id in ids:
            for defect in defects:
                insert(connection, "defect", {"stock_board_id": one_id, **defect})
        return ids


def _show_board(board: StockBoard, defects: Sequence[Defect]) -> StockBoardEntry:
    """Return a board as its form shows it."""
    return StockBoardEntry(
        name=board.name,
        species=board.species,
        length=board.length_typed,
        width=board.width_typed,
        thickness=board.thickness_typed,
        moisture=board.moisture_typed,
        rings=board.rings,
        source=board.source,
        defects="\n".join(one.typed for one in defects),
        price=board.price_typed,
    )


def _require_same(shown: object, was: object, name: str) -> None:
    """Raise `StaleEdit` when a form was filled in from something else than what stands there by now."""
    assert is_dataclass(shown)
    assert is_dataclass(was)
    for field in fields(shown):
        words = f"the {field.name.replace('_', ' ')} of {name}"
        require_unchanged(words, getattr(shown, field.name), getattr(was, field.name), field.name)


def _check_name(name: str, others: set[str]) -> None:
    if not 1 <= len(name) <= 60:
        raise EntryError("The board has no name.", "Expected 1 to 60 letters.", field="name")
    if name.lower() in others:
        raise EntryError(f"There is a board called {name} already.", "Each name stands once.", field="name")


def _read_board(connection: Connection, entry: StockBoardEntry) -> tuple[dict[str, object], list[dict[str, object]]]:
    unit = read_units(connection).length
    most = {"length": _LONGEST_BOARD_MM, "width": 2000.0, "thickness": 500.0}
    values: dict[str, object] = {"species": entry.species.strip()[:60], "source": entry.source.strip()[:200]}
    for field, highest in most.items():
        size = parse_quantity(getattr(entry, field), Kind.LENGTH, unit, Bounds(highest=highest), field=field)
        values |= {f"{field}_mm": size.si, f"{field}_typed": size.typed}
    values |= {"moisture_pct": None, "moisture_typed": "", "price": None, "price_typed": ""}
    if entry.price.strip():
        bounds = Bounds(highest=1e6, zero_allowed=True)
        price = parse_quantity(entry.price, Kind.NUMBER, bounds=bounds, field="price")
        values |= {"price": price.si, "price_typed": price.typed}
    if entry.moisture.strip():
        moisture = parse_quantity(entry.moisture, Kind.PERCENT, bounds=Bounds(highest=60), field="moisture")
        values |= {"moisture_pct": moisture.si, "moisture_typed": moisture.typed}
    if entry.rings and entry.rings not in list(Rings):
        raise EntryError(f"“{entry.rings}” is not how rings lie.", f"Choose one of {', '.join(Rings)}.", field="rings")
    values["rings"] = entry.rings
    length = values["length_mm"]
    assert isinstance(length, float)
    return values, _read_defects(entry.defects, unit, length)


def _read_defects(text: str, unit: str, length_mm: float) -> list[dict[str, object]]:
    found: list[dict[str, object]] = []
    for line in (line.strip() for line in text.replace(";", "\n").splitlines()):
        if not line:
            continue
        low_text, _, rest = line.partition(" to ")
        high_text, _, words = rest.strip().partition(" ")
        if words.split(" ")[0] in ("mm", "cm", "m", "in"):
            after, _, words = words.partition(" ")
            high_text = f"{high_text} {after}"
        if not rest:
            raise EntryError(
                f"“{line}” is not a stretch of the board.",
                "Expected from, to and what it is, e.g. 400 to 460 knot.",
                field="defects",
            )
        bounds = Bounds(highest=_LONGEST_BOARD_MM, zero_allowed=True)
        low = parse_quantity(low_text, Kind.LENGTH, unit, bounds, field="defects").si
        high = parse_quantity(high_text, Kind.LENGTH, unit, bounds, field="defects").si
        if not low < high:
            raise EntryError(f"“{line}” runs backwards.", "Expected the nearer end first.", field="defects")
        if low >= length_mm:
            raise EntryError(f"“{line}” lies beyond the board ({length_mm:g} mm).", field="defects")
        found.append({"from_mm": low, "to_mm": high, "typed": line, "words": words.strip()})
    return found


def _require_board(connection: Connection, board_id: int) -> StockBoard:
    board = fetch_stock_board(connection, board_id)
    if board is None:
        raise NotThere(f"There is no board {board_id} in the shop.", do="It may have been removed.")
    return board


def remove_stock_board(file: ShopFile, board_id: int) -> None:
    """Take a board out of the shop; raises `InUse` while a trial saws it."""
    with file.changing("Removed a board") as connection:
        board = _require_board(connection, board_id)
        if users := list_board_users(connection, board_id):
            raise InUse(f"{board.name} is sawn for the trial “{users[0]}”.", "A board in use stays.")
        delete_stock_board(connection, board_id)


def add_photo(file: ShopFile, board_id: int, content: bytes) -> int:
    """Put a photo beside a board, scaled to a size that shows grain and defects; return its id.

    Raises
    ------
    EntryError : it is no picture that can be read, or too large.
    """
    jpeg = shrink_photo(content)
    with file.changing("Added a photo of a board") as connection:
        _require_board(connection, board_id)
        photo_id = insert(connection, "photo", {"jpeg": jpeg, "added_utc": file.now()})
        amend(connection, "stock_board", board_id, {"photo_id": photo_id})
        return photo_id


def read_photo(file: ShopFile, photo_id: int) -> bytes:
    """Return a photo as JPEG; raises `NotThere`."""
    with file.reading() as connection:
        jpeg = fetch_photo(connection, photo_id)
    if jpeg is None:
        raise NotThere(f"There is no photo {photo_id}.")
    return jpeg


@dataclass(frozen=True)
class ClampsEntry:
    """Clamps or weights of one kind as typed."""

    name: str
    kind: str
    number: str
    force: str
    force_known: str = "guessed"
    in_line: str = "1"
    side_by_side: str = "1"


def save_clamps(
    file: ShopFile, entry: ClampsEntry, clamps_id: int | None = None, was: ClampsEntry | None = None
) -> int:
    """Add clamps or weights, or change them.

    `was` are they as the person saw them. Raises `EntryError`, or `StaleEdit` when another window changed them since.
    """
    name = entry.name.strip()
    with file.changing(f"{'Added' if clamps_id is None else 'Changed'} {name}") as connection:
        rows = list_clamps(connection)
        if not 1 <= len(name) <= 60:
            raise EntryError("They have no name.", "Expected 1 to 60 letters.", field="name")
        if any(one.name.lower() == name.lower() and one.id != clamps_id for one in rows):
            raise EntryError(f"{name} are there already.", "Each name stands once.", field="name")
        if entry.kind not in list(ClampKind):
            raise EntryError(
                f"“{entry.kind}” is no kind of clamp.", f"Choose one of {', '.join(ClampKind)}.", field="kind"
            )
        if entry.force_known not in ("guessed", "measured"):
            raise EntryError("The force is either guessed or measured.", field="force_known")
        unit = read_units(connection).force
        force = parse_quantity(entry.force, Kind.FORCE, unit, Bounds(highest=1e6), field="force")
        values = {
            "name": name,
            "kind": entry.kind,
            "number": parse_count(entry.number, "of them", 1, 1000, field="number"),
            "force_n": force.si,
            "force_typed": force.typed,
            "force_known": entry.force_known,
            "in_line": parse_count(entry.in_line, "pieces in line", 1, 100, field="in_line"),
            "side_by_side": parse_count(entry.side_by_side, "pieces side by side", 1, 100, field="side_by_side"),
        }
        if clamps_id is None:
            return insert(connection, "clamps", values)
        row = _require_clamps(rows, clamps_id)
        if was is not None:
            _require_same(_show_clamps(row), was, row.name)
        amend(connection, "clamps", clamps_id, values)
        return clamps_id


def _show_clamps(row: ClampsRow) -> ClampsEntry:
    """Return clamps as their form shows them."""
    return ClampsEntry(
        name=row.name,
        kind=row.kind,
        number=str(row.number),
        force=row.force_typed,
        force_known=row.force_known,
        in_line=str(row.in_line),
        side_by_side=str(row.side_by_side),
    )


def _require_clamps(rows: list[ClampsRow], clamps_id: int) -> ClampsRow:
    for row in rows:
        if row.id == clamps_id:
            return row
    raise NotThere(f"There are no clamps {clamps_id}.", do="They may have been removed.")


def remove_clamps(file: ShopFile, clamps_id: int) -> None:
    """Take clamps out of the shop."""
    with file.changing("Removed clamps") as connection:
        _require_clamps(list_clamps(connection), clamps_id)
        delete(connection, "clamps", clamps_id)


@dataclass(frozen=True)
class FigureView:
    """One figure of a glue's card: as typed, and what is usual with its family where nothing is typed."""

    name: str
    words: str
    typed: str
    usual: str


def view_figures(glue: Glue, figures: Mapping[str, GlueFigure], units: Units) -> list[FigureView]:
    """Return the figures of a glue as typed, with what is usual beside them."""
    usual = USUAL[GlueFamily(glue.family)]
    return [
        FigureView(
            name,
            figure.words,
            figures[name].typed if name in figures else "",
            show_as_typed(usual[name], figure.kind, units.default_for(figure.kind)) if name in usual else "",
        )
        for name, figure in FIGURES.items()
    ]


def edit_figure(file: ShopFile, glue_id: int, name: str, was: str, typed: str) -> None:
    """Set one figure of a glue's card, or clear it so that what is usual stands.

    Raises
    ------
    StaleEdit : another window changed it; EntryError : it cannot be read.
    """
    with file.changing("Changed a glue") as connection:
        glue = fetch_glue(connection, glue_id)
        if glue is None:
            raise NotThere(f"There is no glue {glue_id}.", do="It may have been removed.")
        if name not in FIGURES:
            raise EntryError(f"A glue has no “{name}”.", f"Known are {', '.join(FIGURES)}.", field=name)
        figure = FIGURES[name]
        current = list_glue_figures(connection).get(glue_id, {}).get(name)
        require_unchanged(f"the {figure.words} of {glue.name}", current.typed if current else "", was, name)
        if not typed.strip():
            delete_glue_figures(connection, glue_id, name)
            return
        unit = read_units(connection).default_for(figure.kind, figure.unit)
        value = parse_quantity(typed, figure.kind, unit, figure.bounds, field=name)
        put_glue_figure(connection, glue_id, name, value.si, value.typed)
