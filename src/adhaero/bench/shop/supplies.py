"""What the shop has for a plan: glue cards, clamps, rigs and boards with their sizes."""

from collections.abc import Mapping
from dataclasses import dataclass

from adhaero.core.glue import USUAL, GlueFamily
from adhaero.core.plan.clamping import ClampKind, Clamps
from adhaero.core.plan.cutting import BoardSize
from adhaero.core.plan.gluing import GlueCard
from adhaero.core.plan.planned import PlannedRig
from adhaero.store.clamps import list_clamps
from adhaero.store.connecting import Connection
from adhaero.store.glues import Glue, GlueFigure, list_glue_figures, list_glues
from adhaero.store.rigs import list_rigs
from adhaero.store.stock_boards import StockBoard, list_defects, list_stock_boards


@dataclass(frozen=True)
class Supplies:
    """What the shop has for a plan, as it stands now."""

    glues: tuple[GlueCard, ...]
    clamps: tuple[Clamps, ...]
    rigs: tuple[tuple[int, PlannedRig], ...]
    boards: tuple[tuple[StockBoard, BoardSize], ...]

    def glue(self, name: str) -> GlueCard | None:
        """Return the card of a glue by its name, in capitals or not."""
        return next((one for one in self.glues if one.name.lower() == name.strip().lower()), None)

    def board(self, board_id: int | None) -> tuple[StockBoard, BoardSize] | None:
        """Return a board of the shop."""
        return next((one for one in self.boards if one[0].id == board_id), None)

    def rig(self, rig_id: int | None) -> PlannedRig | None:
        """Return the rig that a plan counts on: the one chosen, else the shop's only one."""
        if rig_id is None:
            return self.rigs[0][1] if len(self.rigs) == 1 else None
        return next((rig for key, rig in self.rigs if key == rig_id), None)


def read_supplies(connection: Connection) -> Supplies:
    """Return what the shop has for a plan. Reads only."""
    figures, defects = list_glue_figures(connection), list_defects(connection)
    return Supplies(
        glues=tuple(make_card(glue, figures.get(glue.id, {})) for glue in list_glues(connection)),
        clamps=tuple(
            Clamps(one.name, ClampKind(one.kind), one.number, one.force_n, one.in_line, one.side_by_side)
            for one in list_clamps(connection)
        ),
        rigs=tuple(
            (one.id, PlannedRig(one.name, one.capacity_n, one.resolution_n, frozenset(one.fixtures.split())))
            for one in list_rigs(connection)
        ),
        boards=tuple(
            (
                one,
                BoardSize(
                    one.length_mm,
                    one.width_mm,
                    one.thickness_mm,
                    tuple((defect.from_mm, defect.to_mm) for defect in defects.get(one.id, ())),
                ),
            )
            for one in list_stock_boards(connection)
        ),
    )


def make_card(glue: Glue, figures: Mapping[str, GlueFigure]) -> GlueCard:
    """Return the card of a glue: what was typed, else what is usual with its family."""
    typed = {name: row.si for name, row in figures.items()}
    usual = USUAL[GlueFamily(glue.family)]
    both = {name: value for name, value in {**usual, **typed}.items() if name in GlueCard.__match_args__}
    return GlueCard(name=glue.name, family=glue.family, usual=frozenset(usual.keys() - typed.keys()), **both)
