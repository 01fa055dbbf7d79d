"""A plan as the core computes with it: its sets, boards and rig, and everything that is the same for all pieces."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from adhaero.core.errors import EntryError
from adhaero.core.fixture import Fixture
from adhaero.core.joint import Joint, Member, compute_glued_area, list_members, require_size
from adhaero.core.plan.clamping import Clamps, SetUp
from adhaero.core.plan.cutting import Allowances, BoardSize
from adhaero.core.plan.forecast import OwnBreaks
from adhaero.core.plan.gluing import GlueCard
from adhaero.core.plan.treatments import TreatmentKind
from adhaero.core.wood import Grain, Species


@dataclass(frozen=True)
class PlannedTreatment:
    """One set of a plan: how many pieces, and what decides what they take and break at.

    `made_of` holds its values by what is varied; `species`, `second` the woods of its parts, `unknown` materials that
    are none.
    """

    name: str
    pieces: int
    kind: TreatmentKind = TreatmentKind.MADE
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
    second: Species | None = None
    unknown: tuple[str, ...] = ()

    @property
    def solid(self) -> bool:
        """Return whether its pieces have no joint."""
        return self.kind is TreatmentKind.SOLID


@dataclass(frozen=True)
class PlannedBoard:
    """A board of a plan; its size, moisture and price where it stands in the shop with them."""

    name: str
    species: str
    holds: int
    size: BoardSize | None = None
    moisture_pct: float | None = None
    price: float | None = None


@dataclass(frozen=True)
class PlannedRig:
    """The rig that a plan counts on."""

    name: str
    capacity_n: float
    resolution_n: float
    fixtures: frozenset[str] = frozenset()


@dataclass(frozen=True)
class Matching:
    """How pieces are matched one to one.

    Attributes
    ----------
    halves : both are one bar until it is sawn apart after gluing; otherwise they are neighbours on a board.
    varies : what differs between the two, in words; empty where nothing has exactly two values.
    after_gluing : that can differ between two halves of one glued bar.
    """

    halves: bool
    varies: str
    after_gluing: bool


@dataclass(frozen=True, eq=False)
class Plan:
    """Everything that the consequences of a plan follow from; known by identity, so that what follows can be kept.

    Attributes
    ----------
    sizes : of every piece and the rig (mm, `slope` a number). cv_pct : assumed scatter; margin_pct : the difference
    that matters. partners : sets matched one to one, by their index; matching : how and for what.
    faces : spread faces of a joint.
    woods : where the wood varies, that of each set (None for any) and of each board; empty otherwise.
    spare_share : spare pieces to saw, as a share; spares : as a number.
    answer : the kind of answer that is wanted; values : how many values each kind of thing varied has; empty : things
    that vary without a value.
    understood : how the person's words were understood, where much follows from it; sentences.
    """

    treatments: tuple[PlannedTreatment, ...]
    boards: tuple[PlannedBoard, ...]
    fixture: Fixture
    sizes: Mapping[str, float]
    cv_pct: float
    margin_pct: float
    seed: int
    partners: tuple[tuple[int, int], ...] = ()
    matching: Matching | None = None
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
    answer: str = "compare"
    values: Mapping[str, int] = field(default_factory=dict)
    empty: tuple[str, ...] = ()
    understood: tuple[str, ...] = ()
    woods: tuple[tuple[str | None, ...], tuple[str, ...]] = ((), ())
    rig: PlannedRig | None = None
    clamps: tuple[Clamps, ...] = ()

    @property
    def pass_fail(self) -> bool:
        """Return whether passes are counted instead of loads compared."""
        return self.answer == "pass_fail"

    @property
    def bars(self) -> Mapping[int, int]:
        """Return the sets that are halves of one bar, the second by the first; empty where none are."""
        return dict(self.partners) if self.matching is not None and self.matching.halves else {}


@dataclass(frozen=True)
class LineForce:
    """What presses one piece of a set: glued area, pressure and the force that gives it; None where not known.

    Of halves of one bar the set-up presses whole bars; `glued_with` names the first set in the second one's line.
    """

    name: str
    area_mm2: float | None
    pressure_mpa: float | None
    force_n: float | None
    shares: dict[str, float]
    closes: bool
    set_up: SetUp | None
    bar: bool = False
    glued_with: str | None = None


def find_area(one: PlannedTreatment) -> float | None:
    """Return the glued area of one piece of a set, mm²; None while a size is missing."""
    try:
        return compute_glued_area(one.joint, one.sizes)
    except EntryError:
        return None


def list_kinds(plan: Plan) -> tuple[tuple[Member, ...], ...]:
    """Return the parts of each set's pieces, set by set; empty while a size is missing.

    Of two sets that are halves of one bar the first has the parts of the bar, the second none.
    """
    bars = plan.bars
    try:
        return tuple(
            () if index in bars.values() else list_parts(one, plan.allowances, bar=index in bars)
            for index, one in enumerate(plan.treatments)
        )
    except EntryError:
        return ()


def list_parts(one: PlannedTreatment, allowances: Allowances, *, bar: bool = False) -> tuple[Member, ...]:
    """Return the parts of one piece of a set, or of a bar that is ripped into two of them along its length.

    Raises
    ------
    EntryError : a size is missing.
    """
    sizes = one.sizes
    if bar:
        width = require_size(sizes, "width_mm")
        sizes = {**sizes, "width_mm": 2 * width + allowances.kerf_mm + allowances.planing_mm}
    return list_members(one.joint, sizes, solid=one.solid)
