"""So what: what a plan takes and what it will be able to tell, recomputed as the person types."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from adhaero.core.errors import EntryError, PlanError
from adhaero.core.joint import Joint, compute_glued_area
from adhaero.core.plan.clamping import compute_line_force
from adhaero.core.plan.confounds import Dealt, find_confounds
from adhaero.core.plan.layout import Place, deal
from adhaero.core.stats.power import compute_power


@dataclass(frozen=True)
class PlannedSet:
    """One set of a plan: what it is called, how many pieces, and the clamp pressure that it is glued at, if any."""

    name: str
    pieces: int
    solid: bool = False
    pressure_mpa: float | None = None
    sizes: Mapping[str, float] | None = None


@dataclass(frozen=True)
class PlannedBoard:
    """A board of a plan."""

    name: str
    species: str
    holds: int


@dataclass(frozen=True)
class LineForce:
    """What presses one piece of a set: glued area, pressure and the force that gives it; None where not known."""

    name: str
    area_mm2: float | None
    pressure_mpa: float | None
    force_n: float | None


@dataclass(frozen=True)
class PowerPoint:
    """The smallest difference that n pieces of each can tell apart."""

    n: int
    detectable_pct: float


@dataclass(frozen=True)
class Consequences:
    """What a plan leads to.

    Attributes
    ----------
    pieces, places : pieces planned and places on the boards.
    forces : area and clamp force per piece, of each set with a joint.
    detectable_pct : smallest difference between two sets seen with 80 % power at the assumed scatter; None if too few.
    n_for_margin : pieces of each set for the difference that matters.
    curve : the detectable difference over pieces per set.
    problems : what stands in the way of freezing the plan; confounds : causes that move together; notes : advice.
    layout : where each piece sits; empty while the plan cannot be dealt.
    """

    pieces: int
    places: int
    forces: tuple[LineForce, ...]
    detectable_pct: float | None
    n_for_margin: int | None
    curve: tuple[PowerPoint, ...]
    problems: tuple[str, ...]
    confounds: tuple[str, ...]
    notes: tuple[str, ...]
    layout: tuple[Place, ...]


FEW = 5
CURVE = (3, 4, 5, 6, 7, 8, 10, 12, 15, 20, 25, 30)


def compute_consequences(
    sets: Sequence[PlannedSet],
    boards: Sequence[PlannedBoard],
    joint: Joint,
    sizes: Mapping[str, float],
    *,
    cv_pct: float,
    margin_pct: float,
    seed: int,
) -> Consequences:
    """Return what a plan leads to.

    Parameters
    ----------
    sets, boards : what is planned; joint, sizes : of every piece (mm, `slope` a number), a set's own sizes first.
    cv_pct : assumed scatter; margin_pct : the difference that matters; seed : of the dealing.
    """
    problems = _find_problems(sets)
    layout: tuple[Place, ...] = ()
    try:
        if boards:
            layout = deal([one.pieces for one in sets], [board.holds for board in boards], seed)
        else:
            problems.append("No boards yet: say which boards the pieces come off.")
    except PlanError as error:
        problems.append(error.sentence)
    joined = [one for one in sets if not one.solid]
    smallest = min((one.pieces for one in sets), default=0)
    power = compute_power(cv_pct, len(sets), smallest, margin_pct) if len(sets) > 1 and smallest > 1 else None
    return Consequences(
        pieces=sum(one.pieces for one in sets),
        places=sum(board.holds for board in boards),
        forces=tuple(_line_force(one, joint, {**sizes, **(one.sizes or {})}) for one in joined),
        detectable_pct=power.detectable_pct if power else None,
        n_for_margin=power.n_needed if power else None,
        curve=_curve(cv_pct, len(sets)) if len(sets) > 1 else (),
        problems=tuple(problems),
        confounds=find_confounds(
            [
                Dealt(
                    sets[place.treatment].name,
                    boards[place.board].name,
                    boards[place.board].species,
                    None if sets[place.treatment].solid else place.glue_turn,
                    None,
                    place.break_turn,
                )
                for place in layout
            ]
        ),
        notes=_advise(sets),
        layout=layout,
    )


def _find_problems(sets: Sequence[PlannedSet]) -> list[str]:
    joined = [one for one in sets if not one.solid]
    problems = []
    if len(joined) < 2:
        found = "Nothing is varied yet" if not joined else f"Only {joined[0].name} is there"
        problems.append(f"{found}: a comparison needs at least two values. Add a value.")
    problems += [f"{one.name} has no pieces: give it some or remove it." for one in sets if one.pieces < 1]
    return problems


def _advise(sets: Sequence[PlannedSet]) -> tuple[str, ...]:
    few = [one for one in sets if 0 < one.pieces < FEW]
    if not few:
        return ()
    return (
        f"{few[0].pieces} pieces of {few[0].name}{' and others' if len(few) > 1 else ''}: "
        f"below {FEW} the scatter is hardly known, and one odd piece decides.",
    )


def _line_force(one: PlannedSet, joint: Joint, sizes: Mapping[str, float]) -> LineForce:
    try:
        area = compute_glued_area(joint, sizes)
    except EntryError:
        return LineForce(one.name, None, one.pressure_mpa, None)
    force = None if one.pressure_mpa is None else compute_line_force(one.pressure_mpa, area)
    return LineForce(one.name, area, one.pressure_mpa, force)


def _curve(cv_pct: float, sets: int) -> tuple[PowerPoint, ...]:
    points = ((n, compute_power(cv_pct, sets, n).detectable_pct) for n in CURVE)
    return tuple(PowerPoint(n, detectable) for n, detectable in points if detectable is not None)
