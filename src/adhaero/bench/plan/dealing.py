"""Where the pieces of a plan sit: dealt to boards, matched and paired, labelled."""

from dataclasses import dataclass

from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.shelf import kept
from adhaero.bench.shop.past_breaks import name_wood
from adhaero.core.errors import EntryError, PlanError
from adhaero.core.plan.fields import Factor
from adhaero.core.plan.labels import make_label
from adhaero.core.plan.layout import Place, break_by_board, deal
from adhaero.core.plan.panels import PanelPlace, number_panels
from adhaero.core.plan.planned import Matching
from adhaero.store.plans import FactorRow

# what can still differ between two halves of a bar that was glued in one
_AFTER_GLUING = frozenset({Factor.CONDITION, Factor.CURE_TIME, Factor.OWN})


def find_pairing(facts: PlanFacts) -> FactorRow | None:
    """Return what the two pieces of a matched pair differ in; None without pairs, or where nothing has two values.

    That is what the pieces go through before the test, where that is varied, else the last thing varied.
    """
    counted = {row.id: sum(one.factor_id == row.id for one in facts.levels.values()) for row in facts.factors.values()}
    two = [row for row in facts.factors.values() if counted[row.id] == 2]
    if not facts.trial.matched or not two:
        return None
    return next((row for row in two if row.kind == Factor.CONDITION), two[-1])


def find_matching(facts: PlanFacts) -> Matching | None:
    """Return how a trial's pieces are matched; None where they are not."""
    if not facts.trial.matched:
        return None
    pairing = find_pairing(facts)
    varies = facts.words_of(pairing) if pairing else ""
    return Matching(facts.trial.matched == "halves", varies, pairing is not None and pairing.kind in _AFTER_GLUING)


def find_partners(facts: PlanFacts) -> tuple[tuple[int, int], ...]:
    """Return the sets that are matched one to one, by their index: alike but for the one thing with two values."""
    pairing = find_pairing(facts)
    if pairing is None:
        return ()
    groups: dict[frozenset[int], list[int]] = {}
    for index, one in enumerate(facts.made):
        ids = facts.treatment_levels.get(one.id, ())
        rest = frozenset(key for key in ids if facts.levels[key].factor_id != pairing.id)
        if len(rest) < len(ids):
            groups.setdefault(rest, []).append(index)
    return tuple((pair[0], pair[1]) for pair in groups.values() if len(pair) == 2)


def find_woods(facts: PlanFacts) -> tuple[tuple[str | None, ...], tuple[str, ...]]:
    """Return the wood of each set (None for any) and of each board where the wood varies; nothing otherwise."""
    levels = [facts.level_of(one, Factor.SPECIES) for one in facts.made]
    if not any(levels):
        return (), ()
    return (
        tuple(None if level is None else name_wood(level.name) for level in levels),
        tuple(name_wood(one.species) for one in facts.boards.values()),
    )


@dataclass(frozen=True)
class Dealing:
    """Where the pieces of an open plan would sit, with their labels; why they cannot be dealt, where they cannot."""

    places: tuple[Place, ...]
    labels: tuple[str, ...]
    panels: tuple[int | None, ...]
    problem: str | None


def deal_places(facts: PlanFacts) -> tuple[Place, ...]:
    """Deal a plan's pieces to its boards; none without boards or sets. Raises `PlanError` where they cannot be."""
    if not facts.boards or not facts.made:
        return ()
    holds = [one.holds for one in facts.boards.values()]
    counts = [one.pieces for one in facts.made]
    places = deal(counts, holds, facts.trial.seed, find_partners(facts), find_woods(facts))
    return break_by_board(places, facts.trial.seed) if facts.trial.looks == "1" else places


@kept(most=16)
def deal_plan(facts: PlanFacts) -> Dealing:
    """Deal an open plan's pieces to its boards, and label them."""
    try:
        places = deal_places(facts)
        return Dealing(places, label_places(facts, places), _number_panels(facts, places), None)
    except (PlanError, EntryError) as error:
        return Dealing((), (), (), error.sentence)


def _number_panels(facts: PlanFacts, places: tuple[Place, ...]) -> tuple[int | None, ...]:
    """Return the panel of each place of a trial over years; None elsewhere, and of what has no age."""
    if not facts.runs_over_years:
        return (None,) * len(places)
    ages = {one.id for one in facts.ages}
    levels = [frozenset(facts.treatment_levels.get(one.id, ())) for one in facts.made]
    seen = [
        PanelPlace(next(iter(levels[place.treatment] & ages), None), levels[place.treatment] - ages) for place in places
    ]
    return number_panels(seen, facts.trial.seed)


def label_places(facts: PlanFacts, places: tuple[Place, ...]) -> tuple[str, ...]:
    """Return the label of each place by the trial's scheme. Raises `EntryError` when one is too long or not unique."""
    sets, boards = facts.made, list(facts.boards.values())
    seen: dict[int, int] = {}
    found = []
    for number, place in enumerate(places, start=1):
        seen[place.treatment] = seen.get(place.treatment, 0) + 1
        values: dict[str, str | int] = {
            "set": sets[place.treatment].code,
            "no": number,
            "n": seen[place.treatment],
            "trial": facts.trial.id,
            "wood": "".join(word[0] for word in boards[place.board].species.upper().split())[:3],
            "board": place.board + 1,
            "place": place.position + 1,
        }
        found.append(make_label(facts.trial.label_scheme, values, len(places)))
    if len(set(found)) < len(found):
        twice = next(label for label in found if found.count(label) > 1)
        raise EntryError(
            f"Two pieces would be labelled {twice}.",
            "Each label stands once.",
            "Put the running number {no} into the labels.",
            field="label_scheme",
        )
    return tuple(found)
