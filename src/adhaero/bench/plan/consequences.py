"""From what is written of a trial to the plan that the core computes with, and what follows from it."""

import re

from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.shelf import kept
from adhaero.bench.plan.dealing import find_matching, find_partners, find_woods
from adhaero.bench.shop.past_breaks import ShopBreak
from adhaero.bench.shop.supplies import Supplies
from adhaero.core.plan.consequences import Consequences, compute_consequences
from adhaero.core.plan.cutting import Allowances
from adhaero.core.plan.exposures import read_exposure, say_exposure
from adhaero.core.plan.fields import Factor, find_grains, read_grains
from adhaero.core.plan.forecast import OwnBreaks
from adhaero.core.plan.planned import Plan, PlannedBoard, PlannedTreatment
from adhaero.core.plan.treatments import TreatmentKind
from adhaero.core.quantity import Bounds, Kind, parse_count, parse_quantity
from adhaero.core.stats.words import list_some
from adhaero.core.wood import Grain, Species, find_species
from adhaero.store.plans import Board, Treatment

_OWN_ENOUGH = 3


@kept(most=16)
def make_plan(facts: PlanFacts, supplies: Supplies, breaks: tuple[ShopBreak, ...]) -> Plan:
    """Return a trial's plan with what the shop has for it."""
    spare_share, spares = read_spares(facts.trial.spares)
    planned = facts.planned_sizes
    return Plan(
        treatments=tuple(_make_treatment(facts, one, supplies, breaks) for one in facts.made),
        boards=tuple(_make_board(one, supplies) for one in facts.boards.values()),
        fixture=facts.fixture,
        sizes=planned,
        cv_pct=planned["cv_pct"],
        margin_pct=planned["margin_pct"],
        seed=facts.trial.seed,
        partners=find_partners(facts),
        matching=find_matching(facts),
        woods=find_woods(facts),
        faces=2 if facts.trial.faces == "both" else 1,
        waste_pct=planned.get("waste_pct", 30.0),
        seconds_each_s=planned.get("seconds_each_s"),
        temperature_c=planned.get("shop_temperature_c"),
        angle_deg=planned.get("angle_deg", 0.0),
        allowances=read_allowances(facts),
        together=facts.trial.together == "1",
        spare_share=spare_share,
        spares=spares,
        pilot=facts.trial.pilot,
        answer=facts.trial.answer,
        values=_count_values(facts),
        empty=_find_empty(facts),
        understood=_say_understood(facts),
        rig=supplies.rig(facts.trial.rig_id),
        clamps=supplies.clamps,
    )


def _count_values(facts: PlanFacts) -> dict[str, int]:
    return {row.kind: sum(one.factor_id == row.id for one in facts.levels.values()) for row in facts.factors.values()}


def _find_empty(facts: PlanFacts) -> tuple[str, ...]:
    with_values = {one.factor_id for one in facts.levels.values()}
    return tuple(facts.words_of(row) for row in facts.factors.values() if row.id not in with_values)


def _say_understood(facts: PlanFacts) -> tuple[str, ...]:
    """Return how words were understood that decide what pieces go through, and how their grain meets."""
    found, unread = [], []
    for level in facts.levels.values():
        kind = facts.kinds[level.factor_id]
        if kind is Factor.CONDITION:
            found.append(f"“{level.name}” is understood as: {say_exposure(read_exposure(level.name))}.")
        elif kind is Factor.GRAIN and (not find_grains(level.name)[0] or find_grains(level.name)[1]):
            unread.append(f"“{level.name}”")
    if unread:
        found.append(
            f"{list_some(unread)}: not wholly understood as surfaces (face, edge, end, side, long grain); where none "
            "is named the forecast takes those of the plan."
        )
    held = facts.trial.condition and "condition" not in facts.set_by_sets
    if held and (stay := read_exposure(facts.trial.condition)) is not None:
        found.append(f"“{facts.trial.condition}” is understood as: {say_exposure(stay)}.")
    early = [one.name for one in facts.made if not one.solid and _breaks_in_clamps(facts, one)]
    if early:
        found.append(
            f"{list_some(early)}: the cure counts from closing and would end before the clamps come off; it is broken "
            "when it is out of them."
        )
    return tuple(found)


def _breaks_in_clamps(facts: PlanFacts, one: Treatment) -> bool:
    clamped, cured = facts.quantity_of(one, "clamp_time_s"), facts.quantity_of(one, "cure_time_s")
    return clamped is not None and cured is not None and cured < clamped


@kept(most=16)
def follow_plan(plan: Plan) -> Consequences:
    """Return what a plan leads to; kept, because a plan never changes."""
    return compute_consequences(plan)


def read_allowances(facts: PlanFacts) -> Allowances:
    """Return what sawing and planing take by the plan."""
    planned, plain = facts.planned_sizes, Allowances()
    return Allowances(
        kerf_mm=planned.get("kerf_mm", plain.kerf_mm),
        trim_mm=planned.get("trim_mm", plain.trim_mm),
        planing_mm=planned.get("planing_mm", plain.planing_mm),
    )


def read_spares(typed: str) -> tuple[float, int]:
    """Return spares as a share of the pieces and as a number: `10 %`, `3`, or nothing. Raises `EntryError`."""
    text = typed.strip()
    if not text:
        return 0.0, 0
    if "%" in text:
        bounds = Bounds(highest=200, zero_allowed=True)
        return parse_quantity(text, Kind.PERCENT, bounds=bounds, field="spares").si / 100, 0
    return 0.0, parse_count(text, "spares", 0, 1000, field="spares")


def _make_treatment(
    facts: PlanFacts, one: Treatment, supplies: Supplies, breaks: tuple[ShopBreak, ...]
) -> PlannedTreatment:
    card = supplies.glue(facts.glue_of(one)) if facts.glue_of(one) else None
    species = _species_of(facts, one)
    second, unknown = _find_materials(facts, one)
    return PlannedTreatment(
        name=one.name,
        pieces=one.pieces,
        kind=TreatmentKind(one.kind),
        joint=facts.joint_of(one),
        sizes=facts.planned_of(one),
        pressure_mpa=facts.quantity_of(one, "clamp_pressure_mpa"),
        clamp_time_s=facts.quantity_of(one, "clamp_time_s"),
        cure_time_s=facts.quantity_of(one, "cure_time_s"),
        glue=card,
        species=species,
        grains=_grains_of(facts, one),
        own=_find_own(facts, one, species, breaks),
        made_of=facts.made_of(one),
        second=second,
        unknown=unknown,
    )


def _find_materials(facts: PlanFacts, one: Treatment) -> tuple[Species | None, tuple[str, ...]]:
    """Return the wood of the second part, and the materials that are no wood of the table, as typed."""
    level = facts.level_of(one, Factor.SPECIES)
    typed = [level.name] if level else [facts.trial.material_a]
    second = facts.trial.material_b.strip()
    own = bool(second) and not re.search(r"\bsame\b", second.lower())
    if own and not one.solid:
        typed.append(second)
    boards = {board.species for board in facts.boards.values()}
    # “shaft stock” names no material: then the boards say which wood it is
    on_boards = any(find_species(species) for species in boards)
    unknown = tuple(text for text in typed if text.strip() and find_species(text) is None and not on_boards)
    foreign = tuple(text for text in typed if _is_foreign(text))
    return (find_species(second) if own else None), tuple(dict.fromkeys((*unknown, *foreign)))


_FOREIGN = re.compile(
    r"\b(steel|metal|iron|alumini?um|brass|copper|plywood|mdf|particle|chipboard|resin|plastic|acrylic|glass|carbon|"
    r"fibre|fiber|cork|leather|stone|ceramic)\b"
)


def _is_foreign(text: str) -> bool:
    """Return whether someone's words name a material that is no solid wood."""
    return _FOREIGN.search(text.lower()) is not None


def _make_board(board: Board, supplies: Supplies) -> PlannedBoard:
    found = supplies.board(board.stock_board_id)
    if found is None:
        return PlannedBoard(board.name, board.species, board.holds)
    return PlannedBoard(board.name, board.species, board.holds, found[1], found[0].moisture_pct, found[0].price)


def _species_of(facts: PlanFacts, one: Treatment) -> Species | None:
    level = facts.level_of(one, Factor.SPECIES)
    words = [level.name] if level else [facts.trial.material_a, facts.trial.material_b]
    words += [board.species for board in facts.boards.values()]
    found = [species for text in words if (species := find_species(text)) is not None]
    if level is None and len(found) > 1 and find_species(words[0]) and find_species(words[1]):
        return min(found[:2], key=lambda species: species.bending_mpa)
    return found[0] if found else None


def _grains_of(facts: PlanFacts, one: Treatment) -> tuple[Grain, Grain]:
    held = (Grain(facts.trial.grain_a), Grain(facts.trial.grain_b))
    level = facts.level_of(one, Factor.GRAIN)
    return read_grains(level.name, held) if level else held


def _find_own(
    facts: PlanFacts, one: Treatment, species: Species | None, breaks: tuple[ShopBreak, ...]
) -> OwnBreaks | None:
    """Return the shop's own breaks nearest to a set: of its glue and wood, else of its wood, else of its joint."""
    joint, glue, wood = facts.joint_of(one).value, facts.glue_of(one).lower(), species.name if species else ""
    same = [b for b in breaks if b.fixture == facts.fixture.value and b.solid == one.solid]
    if not one.solid:
        same = [b for b in same if b.joint == joint]
    nearest = (
        # what nobody wrote down is the same as nothing
        (
            [b for b in same if glue and wood and b.glue.lower() == glue and b.species == wood],
            f"same glue and wood ({wood})",
        ),
        ([b for b in same if glue and b.glue.lower() == glue], "same glue, other wood"),
        ([b for b in same if wood and b.species == wood], f"same wood ({wood}), other glues"),
    )
    for found, words in nearest if not one.solid else nearest[2:]:
        if len(found) >= _OWN_ENOUGH:
            trials = len({b.trial_id for b in found})
            what = words if not one.solid else f"solid {wood}"
            said = f"{len(found)} of your own breaks in {trials} trial{'s' if trials > 1 else ''}, {what}"
            return OwnBreaks(tuple(b.strength for b in found), said)
    return None


_HELD_WORDS = (
    ("material_a", "wood of the first part"),
    ("material_b", "wood of the second part"),
    ("glue", "glue"),
    ("prep", "surface prep"),
    ("spread", "how the glue is spread"),
    ("condition", "what it goes through before the test"),
)


_HELD_QUANTITIES = (
    ("clamp_pressure_mpa", "clamp pressure"),
    ("clamp_time_s", "clamp time"),
    ("cure_time_s", "cure time"),
    ("gap_mm", "gap"),
    ("wood_moisture_pct", "wood moisture"),
    ("shop_temperature_c", "shop temperature"),
)


def list_open_questions(facts: PlanFacts) -> list[str]:
    """Return what is neither varied nor written down: not controlled."""
    varied = facts.set_by_sets
    found = [words for name, words in _HELD_WORDS if name not in varied and not getattr(facts.trial, name).strip()]
    found += [words for name, words in _HELD_QUANTITIES if name not in varied and name not in facts.quantities]
    return found
