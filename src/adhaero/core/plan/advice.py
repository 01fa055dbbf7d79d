"""What to mind in a plan: advice where something costs or fails, cautions where something hurts."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from adhaero.core.glue import WATER_BORNE, GlueFamily
from adhaero.core.joint import FORMS as JOINTS
from adhaero.core.joint import Joint
from adhaero.core.plan.fields import FACTORS, Factor
from adhaero.core.plan.forecast import RigReach
from adhaero.core.plan.gluing import GlueCard, compute_void_share, split_batch
from adhaero.core.plan.planned import LineForce, Plan, list_kinds
from adhaero.core.quantity import show_duration
from adhaero.core.wood import CROSS_GRAIN_CAUTION_MM, SurfacePair, compute_movement

FEW = 5
SHORT_MM = 100.0
MOISTURE_SWING_PCT = 4.0
MOISTURE_APART_PCT = 2.0
_LONG_GRAIN_ANGLE = 10.0


Where = Literal["pressure", "piece", "temperature", "cutting"]


@dataclass(frozen=True)
class Caution:
    """What can hurt a person or a joint: where in the plan it is chosen, in two words, and in sentences."""

    where: Where
    title: str
    words: str


def advise(plan: Plan, forces: Sequence[LineForce], reach: RigReach | None) -> tuple[str, ...]:
    """Return what costs evidence, time or pieces, in sentences."""
    notes = []
    few = [one for one in plan.treatments if 0 < one.pieces < FEW]
    if few and not plan.pass_fail:
        n = few[0].pieces
        notes.append(
            f"{n} piece{'s' if n > 1 else ''} of {few[0].name}{' and others' if len(few) > 1 else ''}: "
            f"below {FEW} the scatter is hardly known, and one odd piece decides."
        )
    for one in forces:
        glue = next((s.glue for s in plan.treatments if s.name == one.name), None)
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
    notes += _check_answer(plan)
    notes += _check_moisture(plan)
    notes += _check_open_time(plan)
    notes += _check_gaps(plan)
    if reach is not None and plan.rig is not None and any(one != "fits" for one in reach.reaches) and not reach.change:
        notes.append(f"Some sets are out of reach of {plan.rig.name}: use another rig or fixture.")
    return tuple(notes)


_CURVE_VALUES = 4
_TREND_VALUES = 3


def _check_answer(plan: Plan) -> list[str]:
    """Return what the plan lacks for the kind of answer that is wanted."""
    quantities = {kind: plan.values.get(kind, 0) for kind in Factor if FACTORS[kind].quantity}
    most = max(quantities.values(), default=0)
    if plan.answer == "curve" and most < _CURVE_VALUES:
        return [
            f"A curve is read from a quantity with at least {_CURVE_VALUES} values (a time, a gap, a pressure): "
            + (f"{most} are planned." if most else "none is varied.")
        ]
    if plan.answer == "trend" and plan.values.get(Factor.CURE_TIME, 0) < _TREND_VALUES:
        return [f"A trend over time is read from at least {_TREND_VALUES} ages at the test: vary the cure time."]
    if plan.answer == "retention" and plan.values.get(Factor.CONDITION, 0) < 2:
        return [
            "A share kept compares pieces that suffered with pieces that did not: vary what they go through before "
            "the test, with two values."
        ]
    return []


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
        fit, ups = split_batch(pieces, plan.seconds_each_s, card.open_time_s)
        if ups > 1:
            found.append(
                f"{name} stays open {show_duration(card.open_time_s)}: {fit} pieces fit one glue-up, {ups} glue-ups."
            )
    return found


def _pieces_by_glue(plan: Plan) -> dict[str, tuple[GlueCard, int]]:
    found: dict[str, tuple[GlueCard, int]] = {}
    for one in plan.treatments:
        if one.glue is not None and not one.solid:
            before = found.get(one.glue.name, (one.glue, 0))[1]
            found[one.glue.name] = (one.glue, before + one.pieces)
    return found


def _check_gaps(plan: Plan) -> list[str]:
    found = []
    for one in plan.treatments:
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


def caution(plan: Plan, forces: Sequence[LineForce]) -> tuple[Caution, ...]:
    """Return what can hurt a person or a joint."""
    found = []
    for one in plan.treatments:
        pressure = one.pressure_mpa
        if not one.solid and one.species is not None and pressure and pressure > one.species.compression_across_mpa:
            words = (
                f"{one.name}: {pressure:.2g} MPa crushes {one.species.name} across its grain "
                f"(about {one.species.compression_across_mpa:.2g} MPa)."
            )
            found.append(Caution("pressure", f"The pressure crushes {one.species.name}", words))
            break
    width = max((plan.sizes.get("width_mm", 0.0), plan.sizes.get("overlap_mm", 0.0)))
    crosses = plan.angle_deg > _LONG_GRAIN_ANGLE or any(SurfacePair.END_TO_LONG.value in one.shares for one in forces)
    crosses = crosses or any(one.joint is Joint.CROSSED and not one.solid for one in plan.treatments)
    if crosses and width > CROSS_GRAIN_CAUTION_MM:
        wood = next((one.species for one in plan.treatments if one.species is not None), None)
        moves = compute_movement(width, wood.tangential_pct, MOISTURE_SWING_PCT) if wood else None
        words = (
            f"The grain crosses over {width:.0f} mm: above {CROSS_GRAIN_CAUTION_MM:.0f} mm the parts move against each "
            "other as the moisture changes, and can break the joint by themselves"
            + (f" ({wood.name}: about {moves:.1f} mm for {MOISTURE_SWING_PCT:.0f} points)." if wood and moves else ".")
        )
        found.append(Caution("piece", f"The grain crosses over {width:.0f} mm", words))
    cold = [
        card.name
        for card, _ in _pieces_by_glue(plan).values()
        if plan.temperature_c is not None
        and card.lowest_temperature_c is not None
        and plan.temperature_c < card.lowest_temperature_c
    ]
    if cold:
        words = f"{plan.temperature_c:.0f} °C is colder than {', '.join(cold)} is made for."
        found.append(Caution("temperature", f"Too cold for {cold[0]}", words))
    if any(member.length_mm < SHORT_MM for members in list_kinds(plan) for member in members):
        words = "Short parts: cut them from a long strip, stop block clear, and let the blade stop before lifting."
        found.append(Caution("cutting", "Sawing small parts", words))
    return tuple(found)
