"""Labels of a trial to print: both halves of every piece, in the order in which they come off the boards."""

from collections.abc import Iterator

from adhaero.bench.book import Book, read_book
from adhaero.core.errors import NotThere, StateError
from adhaero.files.labels import Label, draw_pages, find_sheet, make_print_page
from adhaero.store.file import ShopFile


def draw_label_page(file: ShopFile, trial_id: int, base_url: str, sheet: str, first: int, page: int) -> str:
    """Return one page of labels as SVG.

    Raises
    ------
    StateError : the plan is not settled. EntryError : no such sheet or place. NotThere : no such page.
    """
    labels = _list_labels(file, trial_id, base_url)
    for number, drawn in enumerate(draw_pages(labels, find_sheet(sheet), first), start=1):
        if number == page:
            return drawn
    raise NotThere(f"There is no page {page} of labels.", do="Choose an earlier page.")


def print_labels(file: ShopFile, trial_id: int, base_url: str, sheet: str, first: int) -> Iterator[str]:
    """Return the labels as a page for the browser's print; what is wrong is raised before it begins."""
    labels = _list_labels(file, trial_id, base_url)
    with file.reading() as connection:
        question = read_book(connection, trial_id).trial.question
    parts = make_print_page(f"Labels: {question}", labels, find_sheet(sheet), first)
    head, body = next(parts), next(parts)

    def follow() -> Iterator[str]:
        yield head
        yield body
        yield from parts

    return follow()


def _list_labels(file: ShopFile, trial_id: int, base_url: str) -> list[Label]:
    with file.reading() as connection:
        book = read_book(connection, trial_id)
    if not book.pieces:
        raise StateError("The plan is not settled.", "Pieces get their labels when it is.", "Settle the plan first.")
    return [label for piece_id in _order(book) for label in _label(book, piece_id, base_url)]


def _order(book: Book) -> list[int]:
    boards = {board_id: index for index, board_id in enumerate(book.boards)}
    alive = [piece for piece in book.pieces.values() if piece.void_reason is None]
    return [piece.id for piece in sorted(alive, key=lambda one: (boards[one.board_id], one.position))]


def _label(book: Book, piece_id: int, base_url: str) -> list[Label]:
    piece = book.pieces[piece_id]
    treatment = book.treatments[piece.treatment_id]
    url = f"{base_url.rstrip('/')}/trials/{book.trial.id}/break?piece={piece_id}"
    sides = ("",) if treatment.solid else ("right", "left")
    words = treatment.name if piece.panel is None else f"{treatment.name}, panel {piece.panel}"
    return [Label(piece.label, words, side, url) for side in sides]
