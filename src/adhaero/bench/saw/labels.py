"""Labels of a trial to print: both halves of every piece, in the order in which they come off the boards."""

import re
from collections.abc import Iterator
from dataclasses import dataclass

from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.core.errors import NotThere, StateError
from adhaero.files.labels import Label, draw_pages, find_sheet, make_print_page
from adhaero.store.file import ShopFile
from adhaero.store.pieces import list_pieces
from adhaero.store.trials import list_trials


@dataclass(frozen=True)
class LabelSheet:
    """A sheet of labels that can be printed on."""

    name: str
    words: str
    places: int


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
        question = read_trial(connection, trial_id).trial.question
    parts = make_print_page(f"Labels: {question}", labels, find_sheet(sheet), first)
    head, body = next(parts), next(parts)

    def follow() -> Iterator[str]:
        yield head
        yield body
        yield from parts

    return follow()


def _list_labels(file: ShopFile, trial_id: int, base_url: str) -> list[Label]:
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
    if not facts.pieces:
        raise StateError("The plan is not settled.", "Pieces get their labels when it is.", "Settle the plan first.")
    return [label for piece_id in _order(facts) for label in _label(facts, piece_id, base_url)]


def _order(facts: PlanFacts) -> list[int]:
    boards = {board_id: index for index, board_id in enumerate(facts.boards)}
    alive = [piece for piece in facts.pieces.values() if piece.void_reason is None]
    return [piece.id for piece in sorted(alive, key=lambda one: (boards[one.board_id], one.position))]


def _label(facts: PlanFacts, piece_id: int, base_url: str) -> list[Label]:
    """Return the labels of a piece; without an address that a phone can open, its code holds trial and label."""
    piece = facts.pieces[piece_id]
    treatment = facts.treatments[piece.treatment_id]
    path = f"/trials/{facts.trial.id}/break?piece={piece_id}"
    code = f"{base_url.rstrip('/')}{path}" if base_url else f"{facts.trial.id}/{piece.label}"
    sides = ("",) if treatment.solid else ("right", "left")
    words = treatment.name if piece.panel is None else f"{treatment.name}, panel {piece.panel}"
    return [Label(piece.label, words, side, code) for side in sides]


_OPENED = re.compile(r"(?:https?://[^/]+)?/trials/(\d{1,9})/\w+\?piece=(\d{1,9})")


_PRINTED = re.compile(r"(?:(\d{1,9})/)?(\S{1,20})")


@dataclass(frozen=True)
class FoundPiece:
    """The piece that a label is on."""

    trial_id: int
    piece_id: int
    label: str


def find_piece(file: ShopFile, code: str) -> FoundPiece:
    """Return the piece of a label by what its code holds, or by the label alone: that of the newest trial then.

    Raises
    ------
    NotThere : it is no label of this shop.
    """
    opened, printed = _OPENED.fullmatch(code.strip()), _PRINTED.fullmatch(code.strip())
    with file.reading() as connection:
        trials = [trial.id for trial in reversed(list_trials(connection)) if trial.removed_utc is None]
        for trial_id in trials:
            if opened and int(opened[1]) != trial_id:
                continue
            if not opened and (printed is None or (printed[1] and int(printed[1]) != trial_id)):
                continue
            for piece in list_pieces(connection, trial_id):
                if opened and piece.id == int(opened[2]):
                    return FoundPiece(trial_id, piece.id, piece.label)
                if not opened and printed and piece.label.casefold() == printed[2].casefold():
                    return FoundPiece(trial_id, piece.id, piece.label)
    raise NotThere(
        f"“{code.strip()[:60]}” is no label of this shop.", do="Scan it again, or choose the piece in the rack."
    )
