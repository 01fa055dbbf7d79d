"""What else is read off a piece before it is broken."""

from adhaero.bench.cure.view import READINGS
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.requirements import require_unchanged
from adhaero.bench.shop.units import read_units
from adhaero.core.errors import EntryError
from adhaero.core.quantity import parse_quantity
from adhaero.store.file import ShopFile
from adhaero.store.making import delete_reading, put_reading


def read_off(file: ShopFile, trial_id: int, piece_id: int, name: str, was: str, typed: str) -> None:
    """Write what is read off a piece besides its sizes: mass, moisture, the gap; empty takes it away.

    Raises
    ------
    EntryError : no such reading, or it cannot be read. StaleEdit : another window wrote it meanwhile.
    """
    if name not in READINGS:
        raise EntryError(f"“{name}” is not read here.", f"Read are: {', '.join(READINGS)}.", field=name)
    words, kind, bounds = READINGS[name]
    with file.changing(f"Noted the {words}", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        piece = facts.piece(piece_id)
        current = next((one.typed for one in facts.readings.get(piece_id, ()) if one.name == name), "")
        require_unchanged(f"the {words} of {piece.label}", current, was, name)
        if not typed.strip():
            delete_reading(connection, piece_id, name)
            return
        value = parse_quantity(typed, kind, read_units(connection).default_for(kind), bounds, field=name)
        put_reading(connection, piece_id, name, value.si, value.typed)
