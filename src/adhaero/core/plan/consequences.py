"""So what: what a plan takes and what it will be able to tell, recomputed as the person types."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil

from adhaero.core.errors import PlanError
from adhaero.core.fixture import Fixture
from adhaero.core.glue import GlueFamily
from adhaero.core.joint import FORMS as JOINTS
from adhaero.core.joint import Joint, compute_shares
from adhaero.core.plan.advice import advise, caution
from adhaero.core.plan.clamping import choose_set_up, compute_line_force
from adhaero.core.plan.confounds import Dealt, find_confounds, find_linked
from adhaero.core.plan.forecast import ForecastSet, LoadBand, RigReach, check_reach, forecast_load
from adhaero.core.plan.gluing import GlueCard, GlueNeed, compute_glue_need
from adhaero.core.plan.layout import Balance, Place, deal, measure_balance, say_balance
from adhaero.core.plan.planned import LineForce, Plan, PlannedSet, find_area
from adhaero.core.plan.yields import BoardYield, compute_yields
from adhaero.core.quantity import show_duration
from adhaero.core.stats.power import compute_power

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
    glues : what each glue takes; cost : of all of them, None while one is unknown.
    problems : what stands in the way of freezing the plan; confounds : causes that move together; notes : advice;
    cautions : what can hurt or go wrong here.
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
    cost: float | None
    days: Days | None
    problems: tuple[str, ...]
    confounds: tuple[str, ...]
    notes: tuple[str, ...]
    cautions: tuple[str, ...]
    layout: tuple[Place, ...]


def compute_consequences(plan: Plan) -> Consequences:
    """Return what a plan leads to."""
    sets, boards = plan.sets, plan.boards
    pieces = sum(one.pieces for one in sets)
    problems = _find_problems(plan, pieces)
    layout: tuple[Place, ...] = ()
    try:
        if boards and pieces <= MOST_PIECES:
            holds = [board.holds for board in boards]
            layout = deal([one.pieces for one in sets], holds, plan.seed, plan.partners, plan.woods)
    except PlanError as error:
        problems.append(error.sentence)
    forces = tuple(_line_force(one, plan) for one in sets if not one.solid)
    bands = tuple(band for one in sets if (band := _forecast(one, plan.fixture)) is not None)
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
    glues = _compute_glues(plan)
    smallest = min((one.pieces for one in sets), default=0)
    power = None
    if len(sets) > 1 and smallest > 1:
        power = compute_power(plan.cv_pct, len(sets), smallest, plan.margin_pct)
    costs = [one.cost for one in glues]
    return Consequences(
        pieces=pieces,
        places=sum(board.holds for board in boards),
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
        cost=sum(one for one in costs if one is not None) if costs and None not in costs else None,
        days=_compute_days(plan, forces),
        problems=tuple(problems),
        confounds=_find_confounds(plan, layout),
        notes=advise(plan, forces, reach),
        cautions=caution(plan, forces),
        layout=layout,
    )


def _say_balance(plan: Plan, balance: Balance | None) -> str:
    if balance is None:
        return ""
    if any(plan.woods[0]):
        return "Each wood comes off boards of its own: take several of each, so that no board speaks for its wood."
    return say_balance(balance, len(plan.sets), max(board.holds for board in plan.boards))


def _find_problems(plan: Plan, pieces: int) -> list[str]:
    joined = [one for one in plan.sets if not one.solid]
    problems = []
    if not joined:
        problems.append("Nothing is varied yet: a comparison needs at least two values. Add a value.")
    elif len(joined) < 2 and not plan.pass_fail:
        problems.append(f"Only {joined[0].name} is there: a comparison needs at least two values. Add a value.")
    empty = [one.name for one in plan.sets if one.pieces < 1]
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
    if plan.rig is not None and plan.rig.fixtures and plan.fixture.value not in plan.rig.fixtures:
        problems.append(f"{plan.rig.name} does not take this fixture: choose another rig or fixture.")
    return problems


def _line_force(one: PlannedSet, plan: Plan) -> LineForce:
    area = find_area(one)
    if area is None:
        return LineForce(one.name, None, one.pressure_mpa, None, {}, JOINTS[one.joint].closes, None)
    shares = {pair.value: share for pair, share in compute_shares(one.joint, one.sizes, *one.grains).items()}
    force = None if one.pressure_mpa is None else compute_line_force(one.pressure_mpa, area)
    set_up = choose_set_up(force, one.pieces, plan.clamps) if force and plan.clamps else None
    return LineForce(one.name, area, one.pressure_mpa, force, shares, JOINTS[one.joint].closes, set_up)


def _forecast(one: PlannedSet, fixture: Fixture) -> LoadBand | None:
    family = GlueFamily(one.glue.family) if one.glue is not None else None
    return forecast_load(
        ForecastSet(one.name, one.joint, one.sizes, one.solid, family, one.species, one.grains, one.own), fixture
    )


def _compute_glues(plan: Plan) -> tuple[GlueNeed, ...]:
    cards: dict[str, GlueCard] = {}
    areas: dict[str, list[tuple[int, float | None]]] = {}
    for one in plan.sets:
        if one.solid or one.glue is None:
            continue
        cards[one.glue.name] = one.glue
        areas.setdefault(one.glue.name, []).append((one.pieces, find_area(one)))
    return tuple(compute_glue_need(cards[name], areas[name], plan.faces, plan.waste_pct) for name in cards)


def _compute_days(plan: Plan, forces: Sequence[LineForce]) -> Days | None:
    joined = [one for one in plan.sets if not one.solid]
    if not joined or any(one.clamp_time_s is None or one.cure_time_s is None for one in joined):
        return None
    by_name = {one.name: one for one in forces}
    clamping, rounds = 0.0, 0
    for one in joined:
        set_up = by_name[one.name].set_up
        mine = len(set_up.rounds) if set_up else 1
        rounds += mine
        clamping += mine * (one.clamp_time_s or 0.0)
    longest = max((one.cure_time_s or 0.0) for one in joined)
    last = max(longest - min((one.clamp_time_s or 0.0) for one in joined), 0.0)
    stocked = any(one.set_up for one in forces)
    words = (
        f"{rounds} rounds of clamps one after the other, {show_duration(clamping)}, and the last cure: "
        f"at least {show_duration(clamping + last)} without nights and breaks."
        if stocked
        else f"All clamped at once: at least {show_duration(max((o.clamp_time_s or 0.0) for o in joined) + last)}. "
        "Say which clamps the shop has, and the rounds are counted."
    )
    return Days(clamping, last, rounds, words)


def _find_confounds(plan: Plan, layout: Sequence[Place]) -> tuple[str, ...]:
    sets, boards = plan.sets, plan.boards
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
    return (*find_linked([one.made_of for one in sets]), *find_confounds(dealt), *_two_causes(plan))


def _two_causes(plan: Plan) -> list[str]:
    """Name what changes with the sets besides what is varied: sizes with the species, ages with the glue."""
    joined = [one for one in plan.sets if not one.solid]
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
