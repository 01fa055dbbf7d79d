"""The load of a break that a person read off: a held peak, a range, a bucket, the pressure of a gauge, plates."""

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Final

from adhaero.bench.breaking.doubts import DoubtView, list_doubts
from adhaero.bench.breaking.rig_used import Reading, RigUsed, Weighed, find_rig
from adhaero.bench.breaking.stacks import as_plate, find_plates, say_stack
from adhaero.bench.facts.entry import Short
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.shop.units import read_units
from adhaero.core.errors import EntryError
from adhaero.core.fixture import compute_gauge_load
from adhaero.core.pulls import PullOutcome
from adhaero.core.quantity import Bounds, Kind, parse_quantity, show, show_as_typed
from adhaero.core.rig.entry.card import weigh_water
from adhaero.core.rig.entry.peak import Peak, read_peak
from adhaero.core.rig.entry.plates import read_steps
from adhaero.core.rig.kinds import RigKind
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.pieces import Piece
from adhaero.store.plates import list_plates
from adhaero.store.rigs import Rig

_MOST_LOAD_N: Final = 5e6
_ABSURD: Final = 10


@dataclass(frozen=True)
class TypedLoad:
    """A load as a person read it off.

    Attributes
    ----------
    load_n, held_n : on the piece, N; `held_n` is the lower end where it broke between two loads, else None.
    at_least : it held this and did not break. typed, held_typed : as typed. through : what it was multiplied with and
    added to. words : all of it in words. resolution_n : the smallest step that it is known to, N.
    """

    load_n: float
    held_n: float | None
    at_least: bool
    typed: str
    held_typed: str
    through: str
    words: str
    resolution_n: float | None
    doubts: tuple[DoubtView, ...] = ()


NOTHING: Final = TypedLoad(0.0, None, False, "", "", "", "", None)


def understand_load(file: ShopFile, trial_id: int, piece_id: int | None, reading: Reading) -> TypedLoad:
    """Return what is understood of a load as it is being typed, and what is doubtful; raises as `read_load` does."""
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        used = find_rig(connection, facts, reading)
        load = read_load(connection, facts, used, reading, PullOutcome.BROKE)
        piece = facts.pieces.get(piece_id) if piece_id is not None else None
        return find_doubts(connection, facts, piece, used, reading, load)


def find_doubts(
    connection: Connection, facts: PieceFacts, piece: Piece | None, used: RigUsed, reading: Reading, load: TypedLoad
) -> TypedLoad:
    """Return a load with what is doubtful about it."""
    plates = [] if reading.stacks else list_plates(connection)
    unit = read_units(connection).force
    shown = None if reading.stacks else _read_alone(reading.load, used, unit)
    doubts = list_doubts(
        facts, piece, used.rig, used.card, load.load_n, typed=reading.load, shown=shown, unit=unit,
        plates=[as_plate(row) for row in plates],
    )  # fmt: skip
    return replace(load, doubts=tuple(doubts))


def read_load(
    connection: Connection, facts: PlanFacts, used: RigUsed, reading: Reading, outcome: PullOutcome
) -> TypedLoad:
    """Return a load on the piece as the rig makes it of what was read off.

    Raises
    ------
    EntryError : it cannot be read, is far beyond the rig, or does not go with the outcome.
    """
    fell_apart = outcome is PullOutcome.FELL_APART
    if fell_apart and not reading.load.strip() and not reading.stacks:
        return NOTHING
    if reading.stacks:
        return _read_plates(connection, used, reading.stacks, broke=outcome is PullOutcome.BROKE)
    bounds = Bounds(highest=_MOST_LOAD_N, zero_allowed=fell_apart)
    peak, make, through = read_text(connection, used, reading.load, reading.weighed, bounds)
    typed = peak.typed
    if through.startswith("on "):
        typed, through = f"{typed} {through}", ""
    load_n = 0.0 if peak.high == 0 else make(peak.high)
    held_n, held_typed = (None, "") if peak.low is None else (make(peak.low) if peak.low else 0.0, "")
    if reading.held.strip():
        held_n, held_typed = _read_held(connection, used, reading, load_n)
    if held_n is not None and outcome is not PullOutcome.BROKE:
        raise EntryError(
            "A last load that held goes with a piece that broke on the next.",
            "One that never broke has only the load it held; one that fell apart held none.",
            "Choose “broke”, or type the one load.",
            field="held" if held_typed else "load",
        )
    _check_absurd(facts, used, load_n, typed)
    resolution = used.card.resolution_n * used.card.ratio * (2 if peak.about else 1) if used.rig else None
    return TypedLoad(
        load_n, held_n, peak.at_least, typed, held_typed, through,
        _say(typed, through, load_n, held_n, peak, resolution, read_units(connection).force), resolution,
    )  # fmt: skip


def read_text(
    connection: Connection, used: RigUsed, text: str, weighed: Weighed, bounds: Bounds
) -> tuple[Peak, Callable[[float], float], str]:
    """Return what was typed, what makes a load on the piece of it, and that in words."""
    card = used.card
    force = read_units(connection).force
    pressure = _read_pressure(text, used)
    if pressure is not None:
        if card.bore_mm is None:
            raise EntryError(
                f"“{text.strip()}” is a pressure, not a load.",
                "The bore of the ram makes a load of it, and this rig has none.",
                "Choose the jack under “The rig” in Plan and write its bore on its card, or type the load.",
                field="load",
            )
        bore_mm = card.bore_mm
        said = f"on {card.bore_typed}{', ' if card.say() else ''}{card.say()}"
        return pressure, lambda mpa: card.calibrate(compute_gauge_load(mpa, bore_mm)), said
    if card.kind is RigKind.BUCKET:
        if weighed is Weighed.INSIDE:
            water = _read_water(text)
            if water is not None:
                return water, lambda ml: card.load(weigh_water(ml)), card.say()
            return read_peak(text, Kind.FORCE, force, bounds), card.load, card.say()
        peak = read_peak(text, Kind.FORCE, force, bounds)
        if card.tare_n and peak.high < card.tare_n:
            raise EntryError(
                f"The full bucket weighs {peak.typed}, the empty one {card.tare_typed}.",
                "Weighed with what is in it, it is heavier.",
                "Choose “what was put in”, or weigh it with what is in it.",
                field="load",
            )
        return peak, lambda full: card.load(full, tare=False), card.say(tare=False)
    return read_peak(text, Kind.FORCE, force, bounds), card.load, card.say()


def _read_pressure(text: str, used: RigUsed) -> Peak | None:
    """Return a pressure off a gauge; None where a load is meant. A number alone is what the rig's gauge shows."""
    gauge = used.card.gauge_unit
    named = re.search(r"[a-z]", text, re.IGNORECASE) is not None
    if not named and not gauge:
        return None
    try:
        return read_peak(text, Kind.STRESS, gauge or "no unit", Bounds(highest=1000))
    except EntryError:
        if named:
            return None
        raise


def _read_water(text: str) -> Peak | None:
    """Return a volume of water, ml; None where a weight is meant."""
    try:
        return read_peak(text, Kind.VOLUME, "no unit", Bounds(highest=1e6))
    except EntryError:
        return None


def _read_held(connection: Connection, used: RigUsed, reading: Reading, load_n: float) -> tuple[float, str]:
    """Return the last load that held as it was typed beside the one that broke; 0 for one that broke on the first."""
    bounds = Bounds(zero_allowed=True, highest=_MOST_LOAD_N)
    peak, make, _ = read_text(connection, used, reading.held, reading.weighed, bounds)
    held_n = make(peak.high) if peak.high else 0.0
    if held_n >= load_n:
        raise EntryError(
            f"It held {show(held_n, Kind.FORCE)} and broke at {show(load_n, Kind.FORCE)}.",
            "The last load that held is below the one that broke it.",
            field="held",
        )
    return held_n, peak.typed


def _check_absurd(facts: PlanFacts, used: RigUsed, load_n: float, typed: str) -> None:
    """Raise `EntryError` for a load that no rig here comes near to."""
    most = used.card.capacity_n if used.rig else max((rig.capacity_n for rig in facts.rigs.values()), default=None)
    if most is not None and load_n > _ABSURD * most:
        rig = used.rig.name if used.rig else "The strongest rig here"
        raise EntryError(
            f"“{typed}” is {show(load_n, Kind.FORCE)}.",
            f"That is more than ten times what {rig} can pull ({show(most, Kind.FORCE)}).",
            "Check the unit.",
            field="load",
        )


def _say(
    typed: str, through: str, load_n: float, held_n: float | None, peak: Peak, resolution_n: float | None, unit: str
) -> str:
    """Return what was typed and what it comes to in the shop's unit of loads."""

    def show(value_n: float) -> str:
        return show_as_typed(value_n, Kind.FORCE, unit)

    first = f"{typed} {through}".strip()
    if peak.at_least:
        words = f"{first}: it held at least {show(load_n)}"
    elif held_n is not None:
        words = f"{first}: between {show(held_n)} and {show(load_n)}"
    else:
        words = f"{first} = {show(load_n)}"
    if peak.about and resolution_n:
        words += f", known to {show(resolution_n)} only"
    return words


def _read_alone(text: str, used: RigUsed, unit: str) -> tuple[float, float] | None:
    """Return a number typed alone and the step of the rig in the unit in which it was typed; None for anything else."""
    found = re.fullmatch(r"\s*([0-9]+(?:[.,][0-9]+)?)\s*([a-z#]*)\s*", text, re.IGNORECASE)
    if found is None or used.rig is None or used.card.kind is RigKind.JACK:
        return None
    number = float(found[1].replace(",", "."))
    if not number:
        return None
    try:
        newton = parse_quantity(text, Kind.FORCE, unit).si / number
    except EntryError:
        return None
    step = used.card.resolution_n / newton
    # a step that is no short number in this unit is that of another one
    return (number, step) if abs(step - float(f"{step:.3g}")) <= 1e-6 * step else None


def _read_plates(connection: Connection, used: RigUsed, stacks: Sequence[Sequence[int]], *, broke: bool) -> TypedLoad:
    """Return between which loads a piece broke under plates."""
    hung = [find_plates(connection, stack) for stack in stacks]
    card = used.card.of_known_weights()
    steps = read_steps(card, hung, broke=broke)
    load_n = steps.held_n if steps.broke_n is None else steps.broke_n
    held_n = None if steps.broke_n is None else steps.held_n
    through = card.say()
    typed = say_stack(hung[-1])
    step_n = min((plate.weight_n for stack in hung for plate in stack), default=0.0) * card.ratio
    peak = Peak(load_n, held_n, not broke, False, typed)
    held_typed = "" if held_n is None else say_stack(hung[-2] if len(hung) > 1 else [])
    return TypedLoad(
        load_n, held_n, not broke, typed, held_typed, through,
        _say(typed, through, load_n, held_n, peak, None, read_units(connection).force), step_n,
    )  # fmt: skip


def counts_more_than_is_typed(rig: Rig | None) -> bool:
    """Return whether a load typed for a rig is multiplied, or its hanger added."""
    return rig is not None and bool(rig.tare_n or rig.lever_n or (rig.lever_ratio or 1.0) != 1)


def read_hold(hold: Short) -> tuple[float | None, str]:
    """Return how long the last load was on until the piece broke, s and as typed; raises `EntryError`."""
    if not hold.strip():
        return None, ""
    found = parse_quantity(hold, Kind.TIME, "s", Bounds(zero_allowed=True, highest=3.2e9), field="hold")
    return found.si, found.typed
