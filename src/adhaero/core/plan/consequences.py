"""So what: what a plan takes and what it will be able to tell, recomputed as the person types."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from math import ceil

from adhaero.core.errors import EntryError, PlanError
from adhaero.core.fixture import Fixture
from adhaero.core.glue import WATER_BORNE, GlueFamily
from adhaero.core.joint import FORMS as JOINTS
from adhaero.core.joint import Joint, Member, compute_glued_area, compute_shares, list_members
from adhaero.core.plan.clamping import Clamps, SetUp, choose_set_up, compute_line_force
from adhaero.core.plan.confounds import Dealt, find_confounds, find_linked
from adhaero.core.plan.cutting import Allowances, BoardSize, count_pieces, explain_no_fit, make_parts, saw_board
from adhaero.core.plan.forecast import ForecastSet, LoadBand, OwnBreaks, RigReach, check_reach, forecast_load
from adhaero.core.plan.gluing import GlueCard, GlueNeed, compute_glue_need, compute_void_share, split_glue_up
from adhaero.core.plan.layout import Balance, Place, deal, measure_balance, say_balance
from adhaero.core.plan.treatments import SetKind
from adhaero.core.quantity import show_duration
from adhaero.core.stats.power import compute_power
from adhaero.core.wood import CROSS_GRAIN_CAUTION_MM, Grain, Species, SurfacePair, compute_movement

FEW = 5
SHORT_MM = 100.0
MOISTURE_SWING_PCT = 4.0
MOISTURE_APART_PCT = 2.0
MOST_PIECES = 5000
CURVE = (3, 4, 5, 6, 7, 8, 10, 12, 15, 20, 25, 30)
_LONG_GRAIN_ANGLE = 10.0


@dataclass(frozen=True)
class PlannedSet:
    """One set of a plan: how many pieces, and what decides what they take and break at.

    `made_of` holds its values by what is varied.
    """

    name: str
    pieces: int
    kind: SetKind = SetKind.MADE
    joint: Joint = Joint.EDGE
    sizes: Mapping[str, float] = field(default_factory=dict)
    pressure_mpa: float | None = None
    clamp_time_s: float | None = None
    cure_time_s: float | None = None
    glue: GlueCard | None = None
    species: Species | None = None
    grains: tuple[Grain, Grain] = (Grain.FACE, Grain.FACE)
    own: OwnBreaks | None = None
    made_of: Mapping[str, str] = field(default_factory=dict)

    @property
    def solid(self) -> bool:
        """Return whether its pieces have no joint."""
        return self.kind is SetKind.SOLID


@dataclass(frozen=True)
class PlannedBoard:
    """A board of a plan; its size and moisture where it stands in the shop with them."""

    name: str
    species: str
    holds: int
    size: BoardSize | None = None
    moisture_pct: float | None = None


@dataclass(frozen=True)
class PlannedRig:
    """The rig that a plan counts on."""

    name: str
    capacity_n: float
    resolution_n: float
    fixtures: frozenset[str] = frozenset()


@dataclass(frozen=True, eq=False)
class Plan:
    """Everything that the consequences of a plan follow from; known by identity, so that what follows can be kept.

    Attributes
    ----------
    sizes : of every piece and the rig (mm, `slope` a number). cv_pct : assumed scatter; margin_pct : the difference
    that matters. partners : sets matched one to one, by their index. faces : spread faces of a joint.
    woods : where the wood varies, that of each set (None for any) and of each board; empty otherwise.
    spare_share : spare pieces to saw, as a share; spares : as a number. open_questions : what is not controlled.
    """

    sets: tuple[PlannedSet, ...]
    boards: tuple[PlannedBoard, ...]
    fixture: Fixture
    sizes: Mapping[str, float]
    cv_pct: float
    margin_pct: float
    seed: int
    partners: tuple[tuple[int, int], ...] = ()
    faces: int = 2
    waste_pct: float = 30.0
    seconds_each_s: float | None = None
    temperature_c: float | None = None
    angle_deg: float = 0.0
    allowances: Allowances = field(default_factory=Allowances)
    together: bool = False
    spare_share: float = 0.0
    spares: int = 0
    pilot: int = 0
    pass_fail: bool = False
    woods: tuple[tuple[str | None, ...], tuple[str, ...]] = ((), ())
    rig: PlannedRig | None = None
    clamps: tuple[Clamps, ...] = ()


@dataclass(frozen=True)
class LineForce:
    """What presses one piece of a set: glued area, pressure and the force that gives it; None where not known."""

    name: str
    area_mm2: float | None
    pressure_mpa: float | None
    force_n: float | None
    shares: dict[str, float]
    closes: bool
    set_up: SetUp | None


@dataclass(frozen=True)
class PowerPoint:
    """The smallest difference that n pieces of each can tell apart."""

    n: int
    detectable_pct: float


@dataclass(frozen=True)
class BoardYield:
    """What a board of the plan gives.

    Attributes
    ----------
    asked : pieces that are dealt to it. fits : pieces that its size yields, of whichever set; None without a size.
    short : pieces dealt to it that find no room when it is sawn. trouble : why a part does not fit at all.
    """

    name: str
    asked: int
    fits: int | None
    short: int
    trouble: str | None


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
    yields = _compute_yields(plan, layout)
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
        notes=_advise(plan, forces, reach),
        cautions=_caution(plan, forces),
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
    if len({one.pressure_mpa for one in joined}) > 1 and any(_area(one) is None for one in joined):
        problems.append(
            "The clamp pressure varies, and the glued area is not known: a force cannot be told without it. "
            "Type the sizes of the joint."
        )
    if plan.rig is not None and plan.rig.fixtures and plan.fixture.value not in plan.rig.fixtures:
        problems.append(f"{plan.rig.name} does not take this fixture: choose another rig or fixture.")
    return problems


def _line_force(one: PlannedSet, plan: Plan) -> LineForce:
    area = _area(one)
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


def list_kinds(plan: Plan) -> tuple[tuple[Member, ...], ...]:
    """Return the parts of each set's pieces, set by set; empty while a size is missing."""
    try:
        return tuple(list_members(one.joint, one.sizes, solid=one.solid) for one in plan.sets)
    except EntryError:
        return ()


def count_yield(plan: Plan, size: BoardSize) -> int | None:
    """Return how many pieces a board yields, whichever set they are of; None while a size of the piece is missing."""
    kinds = set(list_kinds(plan))
    if not kinds:
        return None
    return min(count_pieces(size, members, plan.allowances, together=plan.together) for members in kinds)


def _compute_yields(plan: Plan, layout: Sequence[Place]) -> tuple[BoardYield, ...]:
    kinds = list_kinds(plan)
    dealt: dict[int, list[int]] = {}
    for place in layout:
        dealt.setdefault(place.board, []).append(place.treatment)
    found = []
    known: dict[BoardSize, tuple[int | None, str | None]] = {}
    for index, board in enumerate(plan.boards):
        asked = len(dealt.get(index, ())) if layout else board.holds
        if board.size is None or not kinds:
            found.append(BoardYield(board.name, asked, None, 0, None))
            continue
        size = board.size
        if size not in known:
            troubles = (explain_no_fit(size, one, plan.allowances) for members in set(kinds) for one in members)
            known[size] = count_yield(plan, size), next((why for why in troubles if why), None)
        pieces = sorted((kinds[one] for one in dealt.get(index, ())), key=_size_order)
        short = _count_short(size, tuple(pieces), plan.allowances, plan.together)
        found.append(BoardYield(board.name, asked, known[size][0], short, known[size][1]))
    return tuple(found)


def _size_order(members: Sequence[Member]) -> tuple[tuple[float, float, float], ...]:
    return tuple((one.length_mm, one.width_mm, one.thickness_mm) for one in members)


@lru_cache(maxsize=1024)
def _count_short(
    size: BoardSize, pieces: tuple[tuple[Member, ...], ...], allowances: Allowances, together: bool
) -> int:
    """Return how many of a board's pieces find no room when it is sawn; boards alike are sawn once."""
    parts = [part for number, members in enumerate(pieces) for part in make_parts(number, members, allowances)]
    return len(saw_board(size, parts, allowances, together=together).left_over)


def _compute_glues(plan: Plan) -> tuple[GlueNeed, ...]:
    cards: dict[str, GlueCard] = {}
    areas: dict[str, list[tuple[int, float | None]]] = {}
    for one in plan.sets:
        if one.solid or one.glue is None:
            continue
        cards[one.glue.name] = one.glue
        areas.setdefault(one.glue.name, []).append((one.pieces, _area(one)))
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
        area = _area(one)
        per_joint.setdefault(one.joint, set()).add(None if area is None else round(area, 3))
    if len(per_joint) > 1 and len(set().union(*per_joint.values())) > 1:
        found.append("The joints have different glued areas: size and joint move together; stress or moment compares.")
    return found


def _area(one: PlannedSet) -> float | None:
    try:
        return compute_glued_area(one.joint, one.sizes)
    except EntryError:
        return None


def _advise(plan: Plan, forces: Sequence[LineForce], reach: RigReach | None) -> tuple[str, ...]:
    notes = []
    few = [one for one in plan.sets if 0 < one.pieces < FEW]
    if few and not plan.pass_fail:
        n = few[0].pieces
        notes.append(
            f"{n} piece{'s' if n > 1 else ''} of {few[0].name}{' and others' if len(few) > 1 else ''}: "
            f"below {FEW} the scatter is hardly known, and one odd piece decides."
        )
    for one in forces:
        glue = next((s.glue for s in plan.sets if s.name == one.name), None)
        if glue is None or one.pressure_mpa is None:
            continue
        low, high = glue.pressure_low_mpa, glue.pressure_high_mpa
        outside = (low is not None and one.pressure_mpa < low) or (high is not None and one.pressure_mpa > high)
        if outside and low is not None and high is not None and "pressure_low_mpa" not in glue.usual:
            notes.append(
                f"{one.name}: {one.pressure_mpa:.2g} MPa lies outside the maker's {low:.2g} to {high:.2g} MPa."
            )
    unmet = [one.name for one in forces if one.force_n and plan.clamps and one.set_up is None]
    if unmet:
        notes.append(f"No clamps in the shop give the force for {', '.join(unmet[:3])}: borrow some, or change it.")
    notes += _check_moisture(plan)
    notes += _check_open_time(plan)
    notes += _check_gaps(plan)
    if reach is not None and plan.rig is not None and any(one != "fits" for one in reach.reaches) and not reach.change:
        notes.append(f"Some sets are out of reach of {plan.rig.name}: use another rig or fixture.")
    return tuple(notes)


def _check_moisture(plan: Plan) -> list[str]:
    known = [board.moisture_pct for board in plan.boards if board.moisture_pct is not None]
    if not known or max(known) - min(known) <= MOISTURE_APART_PCT:
        return []
    return [
        f"The boards differ in moisture, {min(known):.0f} to {max(known):.0f} %: "
        "let them lie in the shop together first."
    ]


def _check_open_time(plan: Plan) -> list[str]:
    if plan.seconds_each_s is None:
        return []
    found = []
    for name, (card, pieces) in _pieces_by_glue(plan).items():
        if card.open_time_s is None:
            continue
        fit, ups = split_glue_up(pieces, plan.seconds_each_s, card.open_time_s)
        if ups > 1:
            found.append(
                f"{name} stays open {show_duration(card.open_time_s)}: {fit} pieces fit one glue-up, {ups} glue-ups."
            )
    return found


def _pieces_by_glue(plan: Plan) -> dict[str, tuple[GlueCard, int]]:
    found: dict[str, tuple[GlueCard, int]] = {}
    for one in plan.sets:
        if one.glue is not None and not one.solid:
            before = found.get(one.glue.name, (one.glue, 0))[1]
            found[one.glue.name] = (one.glue, before + one.pieces)
    return found


def _check_gaps(plan: Plan) -> list[str]:
    found = []
    for one in plan.sets:
        glue, gap = one.glue, one.sizes.get("gap_mm")
        if one.solid or glue is None or not gap or JOINTS[one.joint].closes:
            continue
        if GlueFamily(glue.family) in WATER_BORNE and glue.solids_pct is not None:
            found.append(
                f"{one.name}: {glue.name} is {glue.solids_pct:.0f} % solids, and this joint cannot close: "
                f"about {100 * compute_void_share(glue.solids_pct / 100):.0f} % of a gap stays empty."
            )
            break
    return found


def _caution(plan: Plan, forces: Sequence[LineForce]) -> tuple[str, ...]:
    found = []
    for one in plan.sets:
        pressure = one.pressure_mpa
        if not one.solid and one.species is not None and pressure and pressure > one.species.compression_across_mpa:
            found.append(
                f"{one.name}: {pressure:.2g} MPa crushes {one.species.name} across its grain "
                f"(about {one.species.compression_across_mpa:.2g} MPa)."
            )
            break
    width = max((plan.sizes.get("width_mm", 0.0), plan.sizes.get("overlap_mm", 0.0)))
    crosses = plan.angle_deg > _LONG_GRAIN_ANGLE or any(SurfacePair.END_TO_LONG.value in one.shares for one in forces)
    crosses = crosses or any(one.joint is Joint.CROSSED and not one.solid for one in plan.sets)
    if crosses and width > CROSS_GRAIN_CAUTION_MM:
        wood = next((one.species for one in plan.sets if one.species is not None), None)
        moves = compute_movement(width, wood.tangential_pct, MOISTURE_SWING_PCT) if wood else None
        found.append(
            f"The grain crosses over {width:.0f} mm: above {CROSS_GRAIN_CAUTION_MM:.0f} mm the parts move against each "
            "other as the moisture changes, and can break the joint by themselves"
            + (f" ({wood.name}: about {moves:.1f} mm for {MOISTURE_SWING_PCT:.0f} points)." if wood and moves else ".")
        )
    cold = [
        card.name
        for card, _ in _pieces_by_glue(plan).values()
        if plan.temperature_c is not None
        and card.lowest_temperature_c is not None
        and plan.temperature_c < card.lowest_temperature_c
    ]
    if cold:
        found.append(f"{plan.temperature_c:.0f} °C is colder than {', '.join(cold)} is made for.")
    if any(member.length_mm < SHORT_MM for members in list_kinds(plan) for member in members):
        found.append(
            "Short parts: cut them from a long strip, stop block clear, and let the blade stop before lifting."
        )
    return tuple(found)


def _curve(cv_pct: float, sets: int) -> tuple[PowerPoint, ...]:
    points = ((n, compute_power(cv_pct, sets, n).detectable_pct) for n in CURVE)
    return tuple(PowerPoint(n, detectable) for n, detectable in points if detectable is not None)
