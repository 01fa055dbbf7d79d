"""The units that a shop reads and shows numbers in."""

from dataclasses import asdict, dataclass

from adhaero.bench.facts.requirements import require_unchanged
from adhaero.core.errors import EntryError
from adhaero.core.units import CHOICES, DisplayUnit, Units, check_units
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.settings import fetch_settings, put_setting


@dataclass(frozen=True)
class UnitsView:
    """The shop's units: how to show each kind, and what is offered."""

    length: DisplayUnit
    force: DisplayUnit
    stress: DisplayUnit
    temperature: DisplayUnit
    area: DisplayUnit
    moment: DisplayUnit
    stiffness: DisplayUnit
    work: DisplayUnit
    offered: dict[str, tuple[str, ...]]


def set_unit(file: ShopFile, name: str, was: str, now: str) -> None:
    """Choose one unit of the screens (`length`, `force` …); nothing recorded changes. Raises `StaleEdit`."""
    with file.changing(f"Chose {now} for {name}") as connection:
        units = asdict(read_units(connection))
        known = [kind.name.lower() for kind in CHOICES]
        if name not in known:
            raise EntryError(f"There is no unit of “{name}”.", f"Choose one of {', '.join(known)}.", field=name)
        require_unchanged(f"the unit of {name}", units[name], was, name)
        check_units(Units(**{**units, name: now}))
        put_setting(connection, f"unit_{name}", now)


def read_units(connection: Connection) -> Units:
    """Return the shop's units. Reads only."""
    settings, plain = fetch_settings(connection), asdict(Units())
    return Units(**{name: settings.get(f"unit_{name}", value) for name, value in plain.items()})
