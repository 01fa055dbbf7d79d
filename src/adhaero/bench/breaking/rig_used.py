"""What a person read off, and the rig on which it was read, with its card as it stands now."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated

from annotated_types import MaxLen

from adhaero.bench.facts.entry import Entry, Id, Ids, Line
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.shop.rig_card import WEIGHED, make_card, read_meaning
from adhaero.core.errors import EntryError, StaleEdit
from adhaero.core.rig.entry.card import Card
from adhaero.core.rig.kinds import FORMS, RigKind
from adhaero.store.connecting import Connection
from adhaero.store.rigs import CalibrationRow, Rig, RigVersion, newest_calibration, newest_rig_versions

Stacks = Annotated[tuple[Ids, ...], MaxLen(500)]


class Weighed(StrEnum):
    """How what is in a bucket is known: the bucket weighed with it, or water poured in on top of its own weight."""

    FULL = "full"
    INSIDE = "inside"


@dataclass(frozen=True, kw_only=True)
class Reading(Entry):
    """What a person read off a rig, as typed.

    Attributes
    ----------
    load : the peak, a range, a bound or a sum, in any unit; what was weighed; empty where it hangs in plates.
    held : the last load that held, where weights went up in steps and the load was typed.
    rig, no_rig : the rig that it was read on; the plan's where none is named; `no_rig` for a load as it stands.
    version : of the rig's card, as the person saw it. weighed : of a bucket.
    stacks : the plates that hung after each one that was put on, by their ids; all but the last one held.
    """

    load: Line = ""
    held: Line = ""
    rig: Id | None = None
    no_rig: bool = False
    version: int | None = None
    weighed: Weighed = Weighed.FULL
    stacks: Stacks = ()


# a load as it stands
NO_CARD = Card(RigKind.PRESS)


@dataclass(frozen=True)
class RigUsed:
    """The rig that a load was read on: its card, version and calibration; None where a load stands as typed."""

    rig: Rig | None
    version: RigVersion | None
    card: Card
    calibration: CalibrationRow | None = None


def find_rig(connection: Connection, facts: PlanFacts, reading: Reading) -> RigUsed:
    """Return the rig that a load was read on.

    Raises
    ------
    EntryError : there is no such rig. StaleEdit : its card means something else by now.
    """
    rig = None if reading.no_rig else facts.rig
    if reading.rig is not None:
        rig = facts.rigs.get(reading.rig)
        if rig is None:
            raise EntryError(f"There is no rig {reading.rig}.", "It may have been removed.", field="rig")
    if rig is None:
        return RigUsed(None, None, NO_CARD)
    version = newest_rig_versions(connection).get(rig.id)
    if version is not None and reading.version is not None and reading.version != version.number:
        raise StaleEdit(
            f"The card of {rig.name} was changed while this load was typed (version {version.number} now).",
            "It makes another load of the same number.",
            "Look at what is understood of it now, and keep it again.",
        )
    # that of a rig that sends lines is of what its lines say, with a zero taken at each pull, not of what is typed
    is_known = rig.url or FORMS[rig.kind].entry in WEIGHED
    calibration = None if is_known else newest_calibration(connection, rig.id)
    return RigUsed(rig, version, make_card(read_meaning(rig), calibration), calibration)
