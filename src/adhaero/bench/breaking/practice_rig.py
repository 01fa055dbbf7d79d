"""The practice rig's panel: putting a piece in, pumping, letting go. Its strengths follow the forecast."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from annotated_types import MaxLen

from adhaero.bench.breaking.live_rigs import RigHub
from adhaero.bench.facts.entry import Entry, Id
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.plan.consequences import follow_plan, make_plan
from adhaero.bench.shop.past_breaks import read_shop_breaks
from adhaero.bench.shop.rig_form import RigEntry
from adhaero.bench.shop.rigs import require_rig, save_rig
from adhaero.bench.shop.supplies import read_supplies
from adhaero.core.errors import RigError
from adhaero.core.plan.forecast import LoadBand
from adhaero.core.rig.kinds import LoadUnit
from adhaero.rig.beside import start_practice_rig
from adhaero.rig.operator import find_operator
from adhaero.rig.simulated import Mode
from adhaero.store.file import ShopFile
from adhaero.store.pieces import Piece

_CV_PCT = 9.0


_SECONDS_TO_BREAK = 9.0


_MOST_OF_CAPACITY = 0.8


@dataclass(frozen=True)
class Command(Entry):
    """One line for the practice rig's operator side."""

    command: Annotated[str, MaxLen(400)]


@dataclass(frozen=True)
class PracticePiece(Entry):
    """Which piece goes into which practice rig, and how it is to break there."""

    piece: Id
    rig: Id
    mode: Mode = Mode.SNAP


def load_practice_piece(file: ShopFile, hub: RigHub, trial_id: int, entry: PracticePiece) -> dict[str, object]:
    """Put a piece into the practice rig; it breaks near what its set broke at so far, else near the forecast.

    Raises
    ------
    RigError : a real rig, or the practice rig does not answer.
    """
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        rig = require_rig(connection, entry.rig)
        breaks = read_shop_breaks(connection, trial_id, practice=bool(facts.trial.practice))
        supplies = read_supplies(connection)
    piece = facts.piece(entry.piece)
    bands = follow_plan(make_plan(facts, supplies, breaks)).bands
    expected = min(_expected_load_n(facts, piece, bands), _MOST_OF_CAPACITY * rig.capacity_n)
    command = {
        "specimen": piece.label,
        "expected_N": round(expected),
        "cv_pct": _CV_PCT,
        "mode": entry.mode,
        "rate_N_per_s": max(5, round(expected / _SECONDS_TO_BREAK)),
    }
    return hub.command_practice(entry.rig, f"LOAD {json.dumps(command)}")


def _expected_load_n(facts: PieceFacts, piece: Piece, forecasts: Sequence[LoadBand]) -> float:
    loads = [
        result.load_n
        for other in facts.pieces.values()
        if other.treatment_id == piece.treatment_id
        and (result := facts.result_of(other)) is not None
        and result.load_n
        and other.excluded_reason is None
    ]
    if loads:
        return sum(loads) / len(loads)
    name = facts.treatments[piece.treatment_id].name
    for band in forecasts:
        if band.name == name:
            return band.expected_n
    raise RigError(
        f"Nothing says what {piece.label} could break at.", do="Type its sizes, wood and glue in the plan first."
    )


_PORT = 7801
_RATE_HZ = 80.0
_NAME = "Practice press"


def start_rig(file: ShopFile, hub: RigHub, trial_id: int) -> int:
    """Start a practice rig inside this program for a practice trial, put its card into the shop, and return its id.

    One that runs already is left running.

    Raises
    ------
    RigError : the trial is a real one: simulated loads stay out of it.
    """
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
    if not facts.trial.practice:
        raise RigError(
            "This is a real trial.", "Simulated loads stay out of it.", "Start a practice trial to practise in."
        )
    there = next((rig for rig in facts.rigs.values() if rig.name == _NAME), None)
    if there is not None and there.simulated and find_operator(there.url) is not None:
        hub.connect(there.id)
        return there.id
    port = start_practice_rig(_PORT, _RATE_HZ, facts.trial.seed)
    entry = RigEntry(
        name=_NAME,
        url=f"socket://127.0.0.1:{port}",
        unit=LoadUnit.KILOGRAM,
        capacity="5 kN",
        resolution="0.5 N",
        offset="1.8",
        displacement_index=1,
        simulated=True,
    )
    rig_id = save_rig(file, entry, there.id if there else None)
    hub.connect(rig_id)
    return rig_id
