"""What two sets that are not planned yet would take: pieces, wood, glue, and hours as the timetable counts them."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import ceil

from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.plan.consequences import make_plan
from adhaero.bench.shop.hours import read_shop_time
from adhaero.bench.shop.supplies import Supplies, read_supplies
from adhaero.core.errors import EntryError
from adhaero.core.plan.consequences import Consequences, compute_consequences
from adhaero.core.plan.exposures import read_exposure
from adhaero.core.plan.fields import Factor
from adhaero.core.plan.glue_ups import EACH_S, Pace, ToMake, find_most, plan_glue_up, split_glue_ups
from adhaero.core.plan.making import ShopTime, begin_making, estimate_work
from adhaero.core.plan.planned import Plan, PlannedBoard, PlannedTreatment, list_parts
from adhaero.core.plan.tasks import PlannedBatch
from adhaero.core.quantity import show_duration
from adhaero.store.file import ShopFile
from adhaero.store.plans import Treatment

# as a timetable is asked for when nobody says otherwise
_PACE = Pace(give=0.05, break_min=3)
# work of so long is told in hours, what takes so long in days
_HOURS_MIN, _DAYS_MIN = 120, 2 * 24 * 60


@dataclass(frozen=True)
class Asked:
    """Two sets that could be made: a factor's two values, how many pieces of each, and a set that they are like."""

    factor_id: int
    names: tuple[str, str]
    pieces: int
    like: Treatment | None


def say_takes(file: ShopFile, facts: PieceFacts, asked: Asked) -> str:
    """Return what two sets take that are like those of a trial, in a sentence."""
    with file.reading() as connection:
        supplies, shop = read_supplies(connection), read_shop_time(connection)
    whole = make_plan(facts, supplies, ())
    sets = _plan_sets(facts, whole, supplies, asked)
    number = 2 * asked.pieces
    if not sets:
        return f"{number} pieces."
    wood = sets[0].species.name if sets[0].species else ""
    plan = replace(
        whole, treatments=sets, boards=tuple(PlannedBoard(f"{at}", wood, 2) for at in range(asked.pieces)),
        partners=(), matching=None, woods=((), ()), spares=0, spare_share=0.0, pilot=0, empty=(), understood=(),
    )  # fmt: skip
    follows = compute_consequences(plan)
    said = [f"{number} pieces", *_say_wood(plan)]
    said += [f"{one.mass_g:.0f} g of {one.name}" for one in follows.glues if one.mass_g is not None]
    stays = [_find_stay(facts, asked, name) for name in asked.names]
    ages = facts.kinds[asked.factor_id] is Factor.CURE_TIME
    pace = replace(_PACE, each_s=plan.seconds_each_s or EACH_S, ages=ages)
    batches = _plan_glue_ups(plan, follows, stays, pace)
    said += [f"up to {number} at once of “{name}”" for name, number in _count_clamps(batches).items()]
    return f"It takes {', '.join(said)}{_say_hours(file, plan, batches, shop)}."


def _plan_sets(
    facts: PieceFacts, plan: Plan, supplies: Supplies, asked: Asked
) -> tuple[PlannedTreatment, PlannedTreatment] | None:
    """Return both sets as a plan would have them; None for a trial without a set that has a joint."""
    planned = {one.name: one for one in plan.treatments if not one.solid}
    if not planned:
        return None
    like = planned.get(asked.like.name if asked.like else "") or next(iter(planned.values()))
    kind = facts.kinds[asked.factor_id]

    def plan_set(name: str) -> PlannedTreatment:
        own = _find_set(facts, asked, name)
        mine = planned.get(own.name, like) if own else like
        changed = replace(mine, name=name, pieces=asked.pieces)
        return replace(changed, glue=supplies.glue(name) or mine.glue) if kind is Factor.GLUE else changed

    return plan_set(asked.names[0]), plan_set(asked.names[1])


def _find_set(facts: PieceFacts, asked: Asked, name: str) -> Treatment | None:
    """Return the set of a trial that has that value, and everything else as the one that both are like."""
    if asked.like is None:
        return None
    others = {one.id for one in facts.levels_of.get(asked.like.id, ()) if one.factor_id != asked.factor_id}
    for one in facts.made:
        levels = facts.levels_of.get(one.id, ())
        has = any(level.factor_id == asked.factor_id and level.name == name for level in levels)
        if has and others <= {level.id for level in levels}:
            return one
    return None


def _find_stay(facts: PieceFacts, asked: Asked, name: str) -> float:
    """Return how long pieces of a value are in water, outdoors or an oven before they break, s."""
    if facts.kinds[asked.factor_id] is Factor.CONDITION:
        stay = read_exposure(name)
    else:
        stay = facts.planned_exposure_of_set(asked.like) if asked.like else read_exposure(facts.trial.condition)
    return (stay.planned_s or 0.0) if stay and stay.is_to_go_in else 0.0


def _say_hours(file: ShopFile, plan: Plan, batches: Sequence[PlannedBatch], shop: ShopTime) -> str:
    """Return the work by hand and when the last piece would be broken, as the timetable lays glue-ups out."""
    if any(one.clamp_time_s is None or one.cure_time_s is None for one in plan.treatments):
        return "; how many hours is not known without a clamp time and a cure time"
    clamps = [(one.name, one.number) for one in plan.clamps]
    work = estimate_work(begin_making(batches, shop, clamps, file.clock()))
    if work is None:
        return "; no order of its glue-ups fits the shop's hours and clamps"
    hands = show_duration(3600 * round(work.hands / 60) if work.hands >= _HOURS_MIN else 60 * work.hands)
    step_min = 24 * 60 if work.finish >= _DAYS_MIN else 60
    finish = show_duration(60 * step_min * ceil(work.finish / step_min))
    where = "in the shop's hours" if work.in_hours else "with tasks outside the shop's hours"
    return f", and about {hands} by hand; begun now, its last piece breaks within {finish}, {where}"


def _plan_glue_ups(plan: Plan, follows: Consequences, stays: Sequence[float], pace: Pace) -> list[PlannedBatch]:
    """Return the glue-ups of two sets, piece by piece in turn."""
    set_ups = {one.name: one.set_up for one in follows.forces}
    stock = {one.name: one.number for one in plan.clamps}
    of_glue: dict[str, list[ToMake]] = {}
    for place in sorted(follows.layout, key=lambda one: one.glue_turn):
        one = plan.treatments[place.treatment]
        clamp_s, cure_s = one.clamp_time_s or 0.0, one.cure_time_s or 0.0
        piece = ToMake(place.glue_turn, set_ups.get(one.name), clamp_s, cure_s, stays[place.treatment])
        of_glue.setdefault(one.glue.name.lower() if one.glue else "", []).append(piece)
    cards = {one.glue.name.lower(): one.glue for one in plan.treatments if one.glue}
    found = []
    for glue, pieces in of_glue.items():
        most, _ = find_most(len(pieces), pace.each_s, cards.get(glue))
        found += [plan_glue_up(mine, pace) for mine in split_glue_ups(pieces, most, stock)]
    return sorted(found, key=lambda one: int(one.key[1:]))


def _count_clamps(batches: Sequence[PlannedBatch]) -> dict[str, int]:
    """Return how many clamps of each name the largest glue-up takes."""
    most: dict[str, int] = {}
    for batch in batches:
        mine: Counter[str] = Counter()
        for line in batch.lines:
            mine.update(dict(line.clamps))
        most |= {name: max(number, most.get(name, 0)) for name, number in mine.items()}
    return most


def _say_wood(plan: Plan) -> list[str]:
    """Return the length of stick that the sets take, by its section."""
    found: dict[tuple[float, float], float] = {}
    for one in plan.treatments:
        try:
            parts = list_parts(one, plan.allowances)
        except EntryError:
            return []
        for part in parts:
            section = (part.width_mm, part.thickness_mm)
            found[section] = found.get(section, 0.0) + one.pieces * (part.length_mm + plan.allowances.kerf_mm)
    return [f"{length / 1000:.1f} m of {wide:.0f} × {thick:.0f} mm" for (wide, thick), length in found.items()]
