"""The rows of one trial, read at once."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from adhaero.core.errors import NotThere
from adhaero.store.corrections import Correction
from adhaero.store.making import Coat, Exposure, Reading, Tick
from adhaero.store.pieces import (
    Batch,
    Measurement,
    Piece,
)
from adhaero.store.plans import (
    Board,
    FactorRow,
    LevelRow,
    Step,
    Treatment,
)
from adhaero.store.pulls import Pull
from adhaero.store.rigs import Rig, RigVersion
from adhaero.store.trials import QuantityRow, Trial


def parse_time(text: str | None) -> datetime | None:
    """Return a moment of the file; None for none."""
    return None if text is None else datetime.fromisoformat(text)


@dataclass(frozen=True, eq=False)
class Rows:
    """Everything that is written of one trial; tables by the ids of their rows, or of what they belong to."""

    trial: Trial
    quantities: Mapping[str, QuantityRow]
    factors: Mapping[int, FactorRow]
    levels: Mapping[int, LevelRow]
    scopes: Mapping[int, frozenset[int]]
    treatments: Mapping[int, Treatment]
    treatment_levels: Mapping[int, tuple[int, ...]]
    boards: Mapping[int, Board]
    pieces: Mapping[int, Piece]
    batches: Mapping[int, Batch]
    measurements: Mapping[int, Mapping[str, Measurement]]
    pulls: Mapping[int, tuple[Pull, ...]]
    coats: Mapping[int, tuple[Coat, ...]]
    exposures: Mapping[int, tuple[Exposure, ...]]
    readings: Mapping[int, tuple[Reading, ...]]
    ticks: Mapping[int, tuple[Tick, ...]]
    steps: tuple[Step, ...]
    rigs: Mapping[int, Rig]
    versions: Mapping[int, RigVersion]
    corrections: Mapping[int, tuple[Correction, ...]]

    def piece(self, piece_id: int) -> Piece:
        """Return one piece; raises `NotThere`."""
        if piece_id not in self.pieces:
            raise NotThere(f"There is no piece {piece_id} in this trial.", do="Reload: it may have been removed.")
        return self.pieces[piece_id]
