"""Cut maps: which part comes out of which board where, what is left, what is to buy."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.plan.consequences import make_plan, read_allowances
from adhaero.bench.plan.dealing import deal_plan
from adhaero.bench.shop.supplies import read_supplies
from adhaero.core.errors import EntryError
from adhaero.core.joint import Member
from adhaero.core.plan.cutting import (
    Allowances,
    BoardSize,
    CutMap,
    Offcut,
    Part,
    compute_wood_bill,
    make_parts,
    saw_board,
)
from adhaero.core.plan.planned import Plan, list_parts
from adhaero.store.file import ShopFile
from adhaero.store.plans import Treatment


@dataclass(frozen=True)
class CutView:
    """One part on its board, mm from one end and one edge."""

    label: str
    words: str
    treatment: str
    x_mm: float
    y_mm: float
    length_mm: float
    width_mm: float
    layer: int


@dataclass(frozen=True)
class BoardMap:
    """One board as it is sawn; without a size there is no map, and `why` says so."""

    id: int
    name: str
    species: str
    size: BoardSize | None
    strips: int
    layers: int
    cuts: list[CutView]
    offcuts: list[Offcut]
    left_over: list[str]
    steps: list[str]


@dataclass(frozen=True)
class PartLine:
    """Parts alike in the cut list: how many, their rough size as sawn and their finished size, mm."""

    words: str
    grain: str
    number: int
    rough_length_mm: float
    rough_width_mm: float
    rough_thickness_mm: float
    length_mm: float
    width_mm: float
    thickness_mm: float


@dataclass(frozen=True)
class CutList:
    """The cut list of a trial and its maps."""

    parts: list[PartLine]
    spares: int
    boards: list[BoardMap]
    needed_mm: float
    there_mm: float
    boards_to_buy: int
    missing: list[str]
    trouble: list[str]


def view_cut_list(file: ShopFile, trial_id: int) -> CutList:
    """Return the cut list and the cut maps of a trial, planned or settled."""
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        supplies = read_supplies(connection)
    plan = make_plan(facts, supplies, ())
    spares = plan.spares + round(plan.spare_share * sum(one.pieces for one in plan.treatments) + 0.499999)
    allowances = read_allowances(facts)
    members, trouble = _members_by_treatment(facts, plan)
    if trouble:
        return CutList([], spares, [], 0, 0, 0, [], trouble)
    seats = _list_seats(facts, plan)
    maps, views = [], []
    all_parts: list[Part] = []
    for board in facts.boards.values():
        mine = [seat for seat in seats if seat.board_id == board.id]
        parts = [
            part
            for number, seat in enumerate(mine)
            for part in make_parts(number, members[seat.treatment_id], allowances)
        ]
        all_parts += parts
        stock = supplies.board(board.stock_board_id)
        if stock is None:
            views.append(BoardMap(board.id, board.name, board.species, None, 0, 0, [], [], [], []))
            continue
        cut_map = saw_board(stock[1], parts, allowances, together=plan.together)
        maps.append(cut_map)
        views.append(_view_map(facts, board.id, cut_map, mine, allowances))
    bill = compute_wood_bill(all_parts, maps, allowances)
    missing = [label for view in views for label in view.left_over]
    unknown = [view.name for view in views if view.size is None]
    if unknown:
        trouble.append(
            f"No size is known of {', '.join(unknown[:4])}: take boards from the shop, and the map is drawn."
        )
    counts = {one.id: sum(seat.treatment_id == one.id for seat in seats) for one in facts.made}
    return CutList(
        parts=_list_parts(facts, members, counts, allowances),
        spares=spares,
        boards=views,
        needed_mm=bill.needed_mm,
        there_mm=bill.there_mm,
        boards_to_buy=bill.boards_to_buy,
        missing=missing,
        trouble=trouble,
    )


@dataclass(frozen=True)
class _Seat:
    """A piece on its board, planned or settled; or a bar that is sawn into two pieces once it is glued."""

    board_id: int
    position: int
    treatment_id: int
    label: str


def _list_seats(facts: PlanFacts, plan: Plan) -> list[_Seat]:
    if facts.pieces:
        pieces = facts.pieces.values()
        seats = [(p.pair, _Seat(p.board_id, p.position, p.treatment_id, p.label)) for p in pieces]
    else:
        dealing, boards = deal_plan(facts), list(facts.boards.values())
        seats = [
            (place.pair, _Seat(boards[place.board].id, place.position, facts.made[place.treatment].id, label))
            for place, label in zip(dealing.places, dealing.labels, strict=True)
        ]
    seats.sort(key=lambda one: (one[1].board_id, one[1].position))
    found: dict[tuple[str, int], _Seat] = {}
    for number, (pair, seat) in enumerate(seats):
        key = ("bar", pair) if plan.bars and pair is not None else ("piece", number)
        other = found.get(key)
        found[key] = replace(other, label=f"{other.label} + {seat.label}") if other else seat
    return list(found.values())


def _members_by_treatment(facts: PlanFacts, plan: Plan) -> tuple[dict[int, tuple[Member, ...]], list[str]]:
    halved = {*plan.bars, *plan.bars.values()}
    try:
        return {
            row.id: list_parts(one, plan.allowances, bar=index in halved)
            for index, (row, one) in enumerate(zip(facts.made, plan.treatments, strict=True))
        }, []
    except EntryError as error:
        return {}, [f"No cut list yet: {error.what[:1].lower()}{error.what[1:]} {error.do}"]


def _list_parts(
    facts: PlanFacts, members: dict[int, tuple[Member, ...]], counts: dict[int, int], allowances: Allowances
) -> list[PartLine]:
    lines: dict[tuple[str, str, tuple[float, float, float]], int] = {}
    for one in facts.made:
        for number, member in enumerate(members[one.id]):
            size = (member.length_mm, member.width_mm, member.thickness_mm)
            key = (member.words, _grain_words(facts, one, number), size)
            lines[key] = lines.get(key, 0) + counts.get(one.id, 0)
    found = []
    for (words, grain, size), number in lines.items():
        planing = allowances.planing_mm
        rough = (size[0] + allowances.length_mm, size[1] + planing, size[2] + planing)
        found.append(PartLine(words, grain, number, *rough, *size))
    return found


def _grain_words(facts: PlanFacts, one: Treatment, number: int) -> str:
    if one.solid:
        return "grain along it"
    grain = facts.trial.grain_a if number == 0 else facts.trial.grain_b
    return f"grain along it, meets with its {grain}"


def _view_map(
    facts: PlanFacts, board_id: int, cut_map: CutMap, seats: Sequence[_Seat], allowances: Allowances
) -> BoardMap:
    board = facts.boards[board_id]
    cuts = [
        CutView(
            label=seats[cut.part.piece].label,
            words=cut.part.words,
            treatment=facts.treatments[seats[cut.part.piece].treatment_id].name,
            x_mm=cut.x_mm,
            y_mm=cut.y_mm,
            length_mm=cut.part.length_mm,
            width_mm=cut.part.width_mm,
            layer=cut.layer,
        )
        for cut in cut_map.cuts
    ]
    return BoardMap(
        id=board.id,
        name=board.name,
        species=board.species,
        size=cut_map.board,
        strips=cut_map.strips,
        layers=cut_map.layers,
        cuts=cuts,
        offcuts=list(cut_map.offcuts),
        left_over=[seats[number].label for number in cut_map.left_over],
        steps=_say_steps(cut_map, cuts, allowances),
    )


def _say_steps(cut_map: CutMap, cuts: Sequence[CutView], allowances: Allowances) -> list[str]:
    if not cuts:
        return []
    widths = sorted({round(cut.width_mm, 1) for cut in cuts}, reverse=True)
    lengths = sorted({round(cut.length_mm, 1) for cut in cuts}, reverse=True)
    found = [f"Trim {allowances.trim_mm:g} mm off each end."] if allowances.trim_mm else []
    found += [f"Skip {low:g} to {high:g} mm." for low, high in cut_map.board.defects]
    found.append(f"Rip {cut_map.strips} strip{'s' if cut_map.strips > 1 else ''} {_sizes(widths)} wide.")
    if cut_map.layers > 1:
        found.append(f"Resaw each into {cut_map.layers} layers.")
    found.append(f"Plane to size ({allowances.planing_mm:g} mm is allowed for it).")
    found.append(f"Crosscut to {_sizes(lengths)} against a stop, and label each part as it comes off.")
    return found


def _sizes(values: Sequence[float]) -> str:
    return f"{' and '.join(f'{value:g}' for value in values[:3])} mm"
