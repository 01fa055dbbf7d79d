"""Where the pieces of a plan sit: dealt to boards, matched and paired, labelled."""

from dataclasses import dataclass
from functools import lru_cache

from adhaero.bench.facts.book import Book
from adhaero.bench.shop.past_breaks import name_wood
from adhaero.core.errors import EntryError, PlanError
from adhaero.core.plan.fields import Factor
from adhaero.core.plan.labels import make_label
from adhaero.core.plan.layout import Place, deal
from adhaero.core.plan.panels import PanelPlace, number_panels
from adhaero.core.plan.planned import Matching
from adhaero.store.plans import FactorRow

# what can still differ between two halves of a bar that was glued in one
_AFTER_GLUING = frozenset({Factor.CONDITION, Factor.CURE_TIME, Factor.OWN})


def find_pairing(book: Book) -> FactorRow | None:
    """Return what the two pieces of a matched pair differ in; None without pairs, or where nothing has two values.

    That is what the pieces go through before the test, where that is varied, else the last thing varied.
    """
    counted = {row.id: sum(one.factor_id == row.id for one in book.levels.values()) for row in book.factors.values()}
    two = [row for row in book.factors.values() if counted[row.id] == 2]
    if not book.trial.matched or not two:
        return None
    return next((row for row in two if row.kind == Factor.CONDITION), two[-1])


def find_matching(book: Book) -> Matching | None:
    """Return how a trial's pieces are matched; None where they are not."""
    if not book.trial.matched:
        return None
    pairing = find_pairing(book)
    varies = book.words_of(pairing) if pairing else ""
    return Matching(book.trial.matched == "halves", varies, pairing is not None and pairing.kind in _AFTER_GLUING)


def find_partners(book: Book) -> tuple[tuple[int, int], ...]:
    """Return the sets that are matched one to one, by their index: alike but for the one thing with two values."""
    pairing = find_pairing(book)
    if pairing is None:
        return ()
    groups: dict[frozenset[int], list[int]] = {}
    for index, one in enumerate(book.sets):
        ids = book.treatment_levels.get(one.id, ())
        rest = frozenset(key for key in ids if book.levels[key].factor_id != pairing.id)
        if len(rest) < len(ids):
            groups.setdefault(rest, []).append(index)
    return tuple((pair[0], pair[1]) for pair in groups.values() if len(pair) == 2)


def find_woods(book: Book) -> tuple[tuple[str | None, ...], tuple[str, ...]]:
    """Return the wood of each set (None for any) and of each board where the wood varies; nothing otherwise."""
    levels = [book.level_of(one, Factor.SPECIES) for one in book.sets]
    if not any(levels):
        return (), ()
    return (
        tuple(None if level is None else name_wood(level.name) for level in levels),
        tuple(name_wood(one.species) for one in book.boards.values()),
    )


@dataclass(frozen=True)
class Dealing:
    """Where the pieces of an open plan would sit, with their labels; why they cannot be dealt, where they cannot."""

    places: tuple[Place, ...]
    labels: tuple[str, ...]
    panels: tuple[int | None, ...]
    problem: str | None


def deal_places(book: Book) -> tuple[Place, ...]:
    """Deal a plan's pieces to its boards; none without boards or sets. Raises `PlanError` where they cannot be."""
    if not book.boards or not book.sets:
        return ()
    holds = [one.holds for one in book.boards.values()]
    counts = [one.pieces for one in book.sets]
    return deal(counts, holds, book.trial.seed, find_partners(book), find_woods(book))


@lru_cache(maxsize=16)
def deal_plan(book: Book) -> Dealing:
    """Deal an open plan's pieces to its boards, and label them."""
    try:
        places = deal_places(book)
        return Dealing(places, label_places(book, places), _number_panels(book, places), None)
    except (PlanError, EntryError) as error:
        return Dealing((), (), (), error.sentence)


def _number_panels(book: Book, places: tuple[Place, ...]) -> tuple[int | None, ...]:
    """Return the panel of each place of a trial over years; None elsewhere, and of what has no age."""
    if not book.runs_over_years:
        return (None,) * len(places)
    ages = {one.id for one in book.ages}
    levels = [frozenset(book.treatment_levels.get(one.id, ())) for one in book.sets]
    seen = [
        PanelPlace(next(iter(levels[place.treatment] & ages), None), levels[place.treatment] - ages) for place in places
    ]
    return number_panels(seen, book.trial.seed)


def label_places(book: Book, places: tuple[Place, ...]) -> tuple[str, ...]:
    """Return the label of each place by the trial's scheme. Raises `EntryError` when one is too long or not unique."""
    sets, boards = book.sets, list(book.boards.values())
    seen: dict[int, int] = {}
    found = []
    for number, place in enumerate(places, start=1):
        seen[place.treatment] = seen.get(place.treatment, 0) + 1
        values: dict[str, str | int] = {
            "set": sets[place.treatment].code,
            "no": number,
            "n": seen[place.treatment],
            "trial": book.trial.id,
            "wood": "".join(word[0] for word in boards[place.board].species.upper().split())[:3],
            "board": place.board + 1,
            "place": place.position + 1,
        }
        found.append(make_label(book.trial.label_scheme, values, len(places)))
    if len(set(found)) < len(found):
        twice = next(label for label in found if found.count(label) > 1)
        raise EntryError(
            f"Two pieces would be labelled {twice}.",
            "Each label stands once.",
            "Put the running number {no} into the labels.",
            field="label_scheme",
        )
    return tuple(found)
