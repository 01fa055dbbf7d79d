"""So what: what a plan takes and what it will be able to tell, recomputed as the person types."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import ceil

from adhaero.core.errors import PlanError
from adhaero.core.glue import GlueFamily
from adhaero.core.joint import FORMS as JOINTS
from adhaero.core.joint import Joint, compute_shares
from adhaero.core.plan.advice import Caution, advise, caution
from adhaero.core.plan.clamping import ToClamp, bound_clamping, choose_set_up, compute_line_force, deal_rounds
from adhaero.core.plan.confounds import Dealt, find_confounds, find_linked
from adhaero.core.plan.forecast import ForecastTreatment, LoadBand, RigReach, check_reach, forecast_load, say_unknown
from adhaero.core.plan.gluing import GlueCard, GlueNeed, compute_glue_need
from adhaero.core.plan.layout import Balance, Place, deal, measure_balance, say_balance
from adhaero.core.plan.planned import LineForce, Plan, PlannedTreatment, find_area
from adhaero.core.plan.yields import BoardYield, compute_yields
from adhaero.core.quantity import show_duration
from adhaero.core.stats.power import compute_power
from adhaero.core.stats.words import list_some

MOST_PIECES = 5000
CURVE = (3, 4, 5, 6, 7, 8, 10, 12, 15, 20, 25, 30)


@dataclass(frozen=True)
class PowerPoint:
    """The smallest difference that n pieces of each can tell apart."""

    n: int
    detectable_pct: float


@dataclass(frozen=True)
class Days:
    """How long a plan takes at least, s: everything in clamps in turn, the longest cure after it."""

    clamping_s: float
    curing_s: float
    rounds: int
    words: str


@dataclass(frozen=True)
class BoardsMissing:
    """How many boards alike would take the pieces that have no place yet, each holding as many as the last one."""

    count: int
    holds: int


@dataclass(frozen=True)
class Consequences:
    """What a plan leads to.

    Attributes
    ----------
    pieces, places : pieces planned and places on the boards; spares, pilot : pieces beside them.
    forces : area, clamp force and set-up, of each set with a joint.
    detectable_pct : smallest difference between two sets seen with 80 % power at the assumed scatter; None if too few.
    n_for_margin : pieces of each set for the difference that matters.
    curve : the detectable difference over pieces per set.
    balance, balance_words : how evenly sets share boards. yields : what each board gives.
    bands, reach : the load forecast, and the rig held against it.
    glues : what each glue takes; glue_cost : of all of them, wood_cost : of the boards, cost_each : of both for one
        piece; None while one is unknown. pairs : of sets that are compared.
    problems : what stands in the way of freezing the plan; confounds : causes that move together; notes : advice;
    cautions : what can hurt or go wrong, and where that is chosen. boards_missing : for the pieces without a place.
    layout : where each piece sits; empty while the plan cannot be dealt.
    """

    pieces: int
    places: int
    spares: int
    pilot: int
    forces: tuple[LineForce, ...]
    detectable_pct: float | None
    n_for_margin: int | None
    pairwise_level_pct: float | None
    curve: tuple[PowerPoint, ...]
    balance: Balance | None
    balance_words: str
    yields: tuple[BoardYield, ...]
    bands: tuple[LoadBand, ...]
    reach: RigReach | None
    glues: tuple[GlueNeed, ...]
    glue_cost: float | None
    wood_cost: float | None
    cost_each: float | None
    pairs: int
    days: Days | None
    problems: tuple[str, ...]
    confounds: tuple[str, ...]
    notes: tuple[str, ...]
    cautions: tuple[Caution, ...]
    layout: tuple[Place, ...]
    boards_missing: BoardsMissing


def compute_consequences(plan: Plan) -> Consequences:
    """Return what a plan leads to."""
    sets, boards = plan.treatments, plan.boards
    pieces = sum(one.pieces for one in sets)
    problems = _find_problems(plan, pieces)
    layout: tuple[Place, ...] = ()
    try:
        if boards and pieces <= MOST_PIECES:
            holds = [board.holds for board in boards]
            layout = deal([one.pieces for one in sets], holds, plan.seed, plan.partners, plan.woods)
    except PlanError as error:
        problems.append(error.sentence)
    forces = _list_forces(plan)
    bands = tuple(band for one in sets if (band := forecast_load(_as_forecast(one), plan.fixture)) is not None)
    reach = None
    if bands and plan.rig is not None:
        reach = check_reach(bands, plan.rig.capacity_n, plan.rig.resolution_n, plan.fixture, plan.sizes)
    yields = compute_yields(plan, layout)
    problems += [
        f"{one.name} has no room for {one.short} of its {one.asked} pieces: "
        f"{one.trouble or 'let it hold fewer, or saw less away'}."
        for one in yields
        if one.short
    ]
    balance = measure_balance(layout, len(sets))
    glues = compute_glues(plan)
    smallest = min((one.pieces for one in sets), default=0)
    power = None
    if len(sets) > 1 and smallest > 1:
        power = compute_power(plan.cv_pct, len(sets), smallest, plan.margin_pct)
    queue = _queue(plan, forces, layout)
    rounds = dict(zip(queue, deal_rounds(list(queue.values()), plan.clamps), strict=True))
    places = sum(board.holds for board in boards)
    glue_cost, wood_cost = _add_up([one.cost for one in glues]), _add_up([one.price for one in boards])
    return Consequences(
        pieces=pieces,
        places=places,
        boards_missing=_find_boards_missing(pieces - places, boards[-1].holds if boards else max(1, len(sets))),
        spares=plan.spares + ceil(plan.spare_share * pieces - 1e-9),
        pilot=plan.pilot,
        forces=forces,
        detectable_pct=power.detectable_pct if power else None,
        n_for_margin=power.n_needed if power else None,
        pairwise_level_pct=100 * power.pairwise_level if power else None,
        curve=_curve(plan.cv_pct, len(sets)) if len(sets) > 1 else (),
        balance=balance,
        balance_words=_say_balance(plan, balance),
        yields=yields,
        bands=bands,
        reach=reach,
        glues=glues,
        glue_cost=glue_cost,
        wood_cost=wood_cost,
        cost_each=None if glue_cost is None or wood_cost is None or not pieces else (glue_cost + wood_cost) / pieces,
        pairs=len(sets) * (len(sets) - 1) // 2,
        days=_compute_days(plan, queue, rounds),
        problems=tuple(problems),
        confounds=_find_confounds(plan, layout, rounds),
        notes=(*advise(plan, forces, reach), *_say_unknown(plan), *plan.understood),
        cautions=caution(plan, forces),
        layout=layout,
    )


def _say_balance(plan: Plan, balance: Balance | None) -> str:
    if balance is None:
        return ""
    if any(plan.woods[0]):
        return "Each wood comes off boards of its own: take several of each, so that no board speaks for its wood."
    return say_balance(balance, len(plan.treatments), max(board.holds for board in plan.boards))


def _find_problems(plan: Plan, pieces: int) -> list[str]:
    joined = [one for one in plan.treatments if not one.solid]
    problems = []
    problems += [
        f"{name[:1].upper()}{name[1:]} varies without a value: add values, or hold it constant." for name in plan.empty
    ]
    if not joined:
        problems.append("Nothing is varied yet: a comparison needs at least two values. Add a value.")
    elif len(joined) < 2 and not plan.pass_fail:
        problems.append(f"Only {joined[0].name} is there: a comparison needs at least two values. Add a value.")
    empty = [one.name for one in plan.treatments if one.pieces < 1]
    problems += [f"{name} has no pieces: give it some or leave it out." for name in empty[:3]]
    if len(empty) > 3:
        problems.append(f"{len(empty) - 3} more sets have no pieces.")
    if pieces > MOST_PIECES:
        problems.append(
            f"{pieces} pieces are planned, and a trial holds up to {MOST_PIECES}: plan fewer of each, or vary less."
        )
    if not plan.boards:
        problems.append("No boards yet: say which boards the pieces come off.")
    if len({one.pressure_mpa for one in joined}) > 1 and any(find_area(one) is None for one in joined):
        problems.append(
            "The clamp pressure varies, and the glued area is not known: a force cannot be told without it. "
            "Type the sizes of the joint."
        )
    problems += _check_matching(plan)
    if plan.rig is not None and plan.rig.fixtures and plan.fixture.value not in plan.rig.fixtures:
        problems.append(f"{plan.rig.name} does not take this fixture: choose another rig or fixture.")
    return problems


def _check_matching(plan: Plan) -> list[str]:
    matching = plan.matching
    if matching is None:
        return []
    if not matching.varies:
        return ["Matched pairs need one thing that has exactly two values, and nothing has: plan without pairs."]
    if not matching.halves:
        return []
    if not matching.after_gluing:
        return [
            f"Two halves of one bar are glued together, so they cannot differ in {matching.varies}: "
            "take neighbours on a board instead."
        ]
    whole = [one for index, one in enumerate(plan.treatments) if index in plan.bars]
    if bad := next((one for one in whole if "width_mm" not in JOINTS[one.joint].sizes), None):
        return [
            f"A bar is ripped through its joint along the width, and {JOINTS[bad.joint].name} does not run through: "
            "take neighbours on a board instead."
        ]
    return []


def _list_forces(plan: Plan) -> tuple[LineForce, ...]:
    """Return what presses each set with a joint; halves of one bar lie in the same set-ups, pressed as one."""
    bars = plan.bars
    lines = {
        index: _line_force(one, plan, bar=index in bars) for index, one in enumerate(plan.treatments) if not one.solid
    }
    for first, second in bars.items():
        if first in lines and second in lines:
            one = lines[first]
            lines[second] = replace(lines[second], set_up=one.set_up, bar=True, glued_with=one.name)
    return tuple(lines.values())


def _line_force(one: PlannedTreatment, plan: Plan, *, bar: bool) -> LineForce:
    area = find_area(one)
    if area is None:
        return LineForce(one.name, None, one.pressure_mpa, None, {}, JOINTS[one.joint].closes, None, bar)
    shares = {pair.value: share for pair, share in compute_shares(one.joint, one.sizes, *one.grains).items()}
    force = None if one.pressure_mpa is None else compute_line_force(one.pressure_mpa, area)
    pressed = force * (2 if bar else 1) if force else None
    set_up = choose_set_up(pressed, one.pieces, plan.clamps) if pressed and plan.clamps else None
    return LineForce(one.name, area, one.pressure_mpa, force, shares, JOINTS[one.joint].closes, set_up, bar)


def _as_forecast(one: PlannedTreatment) -> ForecastTreatment:
    family = GlueFamily(one.glue.family) if one.glue is not None else None
    return ForecastTreatment(
        one.name,
        one.joint,
        one.sizes,
        one.solid,
        family,
        one.species,
        one.grains,
        one.own,
        second=None if one.solid else one.second,
        unknown=one.unknown,
    )


def _say_unknown(plan: Plan) -> tuple[str, ...]:
    """Return why sets have no forecast, one sentence for all that have the same reason."""
    reasons: dict[str, list[str]] = {}
    for one in plan.treatments:
        said = say_unknown(_as_forecast(one), plan.fixture)
        if said is not None:
            reasons.setdefault(said.removeprefix(f"{one.name}: "), []).append(one.name)
    return tuple(f"{list_some(names)}: {reason}" for reason, names in reasons.items())


def compute_glues(plan: Plan) -> tuple[GlueNeed, ...]:
    """Return how much of each glue a plan takes and what it costs."""
    cards: dict[str, GlueCard] = {}
    areas: dict[str, list[tuple[int, float | None]]] = {}
    for one in plan.treatments:
        if one.solid or one.glue is None:
            continue
        cards[one.glue.name] = one.glue
        areas.setdefault(one.glue.name, []).append((one.pieces, find_area(one)))
    return tuple(compute_glue_need(cards[name], areas[name], plan.faces, plan.waste_pct) for name in cards)


def _add_up(costs: Sequence[float | None]) -> float | None:
    known = [one for one in costs if one is not None]
    return sum(known) if costs and len(known) == len(costs) else None


def _queue(plan: Plan, forces: Sequence[LineForce], layout: Sequence[Place]) -> dict[int, ToClamp]:
    """Return what goes into clamps of the shop in the order of gluing, by its number in the layout; bars once."""
    lines = {line.name: line for line in forces if line.set_up is not None and not line.glued_with}
    found = {}
    for number, place in sorted(enumerate(layout), key=lambda one: one[1].glue_turn):
        one = plan.treatments[place.treatment]
        set_up = lines[one.name].set_up if one.name in lines else None
        if set_up is not None:
            found[number] = ToClamp(set_up, one.clamp_time_s)
    return found


def _compute_days(plan: Plan, queue: Mapping[int, ToClamp], rounds: Mapping[int, int]) -> Days | None:
    joined = [one for one in plan.treatments if not one.solid]
    if not joined or any(one.clamp_time_s is None or one.cure_time_s is None for one in joined):
        return None
    clamps = [one.clamp_time_s or 0.0 for one in joined]
    last = max(max((one.cure_time_s or 0.0) for one in joined) - min(clamps), 0.0)
    clamping = max([*clamps, bound_clamping(list(queue.values()), plan.clamps)])
    number = max(rounds.values(), default=0) + 1
    total = show_duration(clamping + last)
    words = (
        f"{number} round{'s' if number > 1 else ''} of clamps in the shuffled order, at least "
        f"{show_duration(clamping)} in clamps, and the last cure: at least {total} without nights and breaks."
        if queue
        else f"All clamped at once: at least {total}. Say which clamps the shop has, and the rounds are counted."
    )
    return Days(clamping, last, number, words)


def _find_confounds(plan: Plan, layout: Sequence[Place], rounds: Mapping[int, int]) -> tuple[str, ...]:
    sets, boards = plan.treatments, plan.boards
    dealt = [
        Dealt(
            sets[place.treatment].name,
            boards[place.board].name,
            "" if any(plan.woods[0]) else boards[place.board].species,
            None if sets[place.treatment].solid else place.glue_turn,
            None,
            place.break_turn,
        )
        for place in layout
    ]
    turns = [rounds[number] + 1 if number in rounds else None for number in range(len(layout))]
    return (*find_linked([one.made_of for one in sets]), *find_confounds(dealt, turns), *_two_causes(plan))


def _two_causes(plan: Plan) -> list[str]:
    """Name what changes with the sets besides what is varied: sizes with the species, ages with the glue."""
    joined = [one for one in plan.treatments if not one.solid]
    found = []
    per_glue: dict[str, set[float]] = {}
    for one in joined:
        if one.glue is not None and one.cure_time_s is not None:
            per_glue.setdefault(one.glue.name, set()).add(one.cure_time_s)
    ages = list(per_glue.values())
    if len(ages) > 1 and all(len(mine) == 1 for mine in ages) and len(set().union(*ages)) > 1:
        found.append("Each glue has an age at test of its own: age and glue move together.")
    per_joint: dict[Joint, set[float | None]] = {}
    for one in joined:
        area = find_area(one)
        per_joint.setdefault(one.joint, set()).add(None if area is None else round(area, 3))
    if len(per_joint) > 1 and len(set().union(*per_joint.values())) > 1:
        found.append("The joints have different glued areas: size and joint move together; stress or moment compares.")
    return found


def _curve(cv_pct: float, sets: int) -> tuple[PowerPoint, ...]:
    points = ((n, compute_power(cv_pct, sets, n).detectable_pct) for n in CURVE)
    return tuple(PowerPoint(n, detectable) for n, detectable in points if detectable is not None)


def _find_boards_missing(without_place: int, holds: int) -> BoardsMissing:
    return BoardsMissing(max(1, ceil(max(0, without_place) / holds)), holds)
