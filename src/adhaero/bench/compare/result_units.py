"""In which units results are read: as chosen, else as their loads were written down, else as the shop's."""

import re
from collections import Counter
from dataclasses import replace
from typing import Final

from adhaero.bench.compare.breaks import Choice
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.shelf import kept
from adhaero.bench.shop.units import read_units
from adhaero.core.units import Units
from adhaero.store.connecting import Connection
from adhaero.store.pieces import Piece

# as loads and stresses are typed, and as results are read in them
_TYPED: Final = {
    "n": "N", "kn": "kN", "kg": "kg", "kgf": "kg", "lb": "lb", "lbs": "lb", "lbf": "lb", "mpa": "MPa", "psi": "psi",
}  # fmt: skip
_LAST_WORD: Final = re.compile(r"([^\W\d_]+)\W*$")


def read_result_units(connection: Connection, facts: PieceFacts, choice: Choice) -> Units:
    """Return the units of a trial's results. Reads only."""
    return replace(read_units(connection), response=choice.unit or _find_typed(facts))


@kept(most=16)
def _find_typed(facts: PieceFacts) -> str:
    """Return the unit in which every load of a trial was written down; empty without one, or where they differ."""
    counts = Counter(unit for unit in facts.each(_unit_typed).values() if unit is not None)
    return next(iter(counts)) if len(counts) == 1 else ""


def _unit_typed(facts: PieceFacts, piece: Piece) -> str | None:
    """Return the unit behind the load of a piece as it was typed; None where no load was, empty for one without."""
    result = facts.result_of(piece)
    if result is None or result.load_n is None:
        return None
    last = _LAST_WORD.search(result.load_typed)
    return _TYPED.get(last[1].lower(), "") if last else ""
