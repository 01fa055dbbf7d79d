"""The shop as a whole: its units, glues, boards, clamps, rigs and hours in one view."""

from dataclasses import asdict, dataclass

from adhaero.bench.shop.boards import StockBoardView, view_stock_boards
from adhaero.bench.shop.clamps import ClampsView, view_clamps
from adhaero.bench.shop.glue_figures import view_figures
from adhaero.bench.shop.glues import GlueView
from adhaero.bench.shop.hours import HoursView, view_hours
from adhaero.bench.shop.past_breaks import read_shop_breaks, say_tested
from adhaero.bench.shop.plates import PlateView, view_plates
from adhaero.bench.shop.rigs import RigKindView, RigView, view_rig
from adhaero.bench.shop.units import UnitsView, read_units
from adhaero.core.choice import Worded, offer
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.fixture import UNSAID, Fixture
from adhaero.core.glue import GlueFamily, caution_for
from adhaero.core.joint import FORMS as JOINTS
from adhaero.core.joint import Joint
from adhaero.core.plan.clamping import ClampKind
from adhaero.core.quantity import Kind
from adhaero.core.rig.kinds import FORMS as RIG_FORMS
from adhaero.core.rig.kinds import GaugeUnit, LoadUnit, Parity, TravelUnit
from adhaero.core.rig.lines import MARK_WORDS, DecimalMark
from adhaero.core.units import CHOICES, area_unit, display_unit, response_unit
from adhaero.core.wood import Rings, list_species
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.glues import list_glue_figures, list_glues
from adhaero.store.history import find_steps
from adhaero.store.rigs import list_rigs
from adhaero.store.settings import fetch_settings

DEMO = "demo"


@dataclass(frozen=True)
class ShopView:
    """Everything in the shop."""

    demo: bool
    units: UnitsView
    hours: HoursView
    glues: list[GlueView]
    rigs: list[RigView]
    boards: list[StockBoardView]
    clamps: list[ClampsView]
    plates: list[PlateView]
    families: list[GlueFamily]
    rig_kinds: list[RigKindView]
    clamp_kinds: list[ClampKind]
    fixtures: list[Worded[Fixture]]
    joints: list[Worded[Joint]]
    decimal_marks: list[Worded[DecimalMark]]
    load_units: list[LoadUnit]
    gauge_units: list[GaugeUnit]
    travel_units: list[TravelUnit]
    parities: list[Parity]
    rings: list[Rings]
    species: list[str]
    undo: str | None


def is_demo(connection: Connection) -> bool:
    """Return whether this shop is the demo. Reads only."""
    return fetch_settings(connection).get(DEMO) == "1"


def view_shop(file: ShopFile) -> ShopView:
    """Return everything in the shop."""
    with file.reading() as connection:
        units = read_units(connection)
        figures = list_glue_figures(connection)
        tested = say_tested(read_shop_breaks(connection, None, practice=is_demo(connection)))
        return ShopView(
            demo=is_demo(connection),
            units=UnitsView(
                length=display_unit(Kind.LENGTH, units.length),
                force=display_unit(Kind.FORCE, units.force),
                stress=display_unit(Kind.STRESS, units.stress),
                temperature=display_unit(Kind.TEMPERATURE, units.temperature),
                area=area_unit(units.length),
                moment=response_unit("moment", units),
                stiffness=response_unit("stiffness", units),
                work=response_unit("work", units),
                offered={kind.name.lower(): choices for kind, choices in CHOICES.items()},
            ),
            hours=view_hours(connection),
            glues=[
                GlueView(
                    **asdict(glue),
                    caution=caution_for(GlueFamily(glue.family)),
                    figures=view_figures(glue, figures.get(glue.id, {}), units),
                    tested=tested.get(glue.name.lower(), []),
                )
                for glue in list_glues(connection)
            ],
            rigs=[view_rig(connection, rig) for rig in list_rigs(connection)],
            boards=view_stock_boards(connection),
            clamps=view_clamps(connection),
            plates=view_plates(connection),
            families=list(GlueFamily),
            rig_kinds=[
                RigKindView(kind, form.words, form.reading, form.entry, form.needs, form.caution)
                for kind, form in RIG_FORMS.items()
            ],
            clamp_kinds=list(ClampKind),
            fixtures=offer({fixture: form.name for fixture, form in FIXTURES.items() if fixture not in UNSAID}),
            joints=offer({joint: form.name for joint, form in JOINTS.items()}),
            decimal_marks=offer(MARK_WORDS),
            load_units=list(LoadUnit),
            gauge_units=[unit for unit in GaugeUnit if unit],
            travel_units=list(TravelUnit),
            parities=list(Parity),
            rings=list(Rings),
            species=sorted(list_species()),
            undo=step.what if (step := find_steps(connection, None).undo) else None,
        )
