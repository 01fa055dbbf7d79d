"""The truth of a rig: known weights up and down, the daily check weight, its versions and calibrations over time."""

from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Annotated, Final

from annotated_types import MaxLen

from adhaero.bench.facts.entry import Entry, Short
from adhaero.bench.shop.rig_card import list_differences
from adhaero.bench.shop.rigs import require_rig
from adhaero.bench.shop.units import read_units
from adhaero.core.errors import EntryError
from adhaero.core.fixture import compute_gauge_load
from adhaero.core.form import FormReader
from adhaero.core.quantity import Bounds, Kind, Quantity, factor, parse_quantity, show, show_as_typed
from adhaero.core.rig.calibration import Calibration, CheckPoint, Fit, fit_calibration
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.rigs import (
    CalibrationRow,
    CheckWeight,
    Rig,
    insert_calibration,
    insert_check_weight,
    list_calibrations,
    list_check_weights,
    list_rig_versions,
)

# a check weight is read once on a day of breaking
_DAY: Final = timedelta(hours=20)
_GIVE: Final = 0.01


@dataclass(frozen=True)
class PointTyped(Entry):
    """A known weight and what the rig showed under it, as typed; whether the load was rising."""

    weight: Short
    shown: Short
    rising: bool = True


@dataclass(frozen=True)
class CalibrationEntry(Entry):
    """Known weights read on a rig, in the order in which they were hung."""

    points: Annotated[tuple[PointTyped, ...], MaxLen(100)]


@dataclass(frozen=True)
class CheckWeightEntry(Entry):
    """What the rig shows under its check weight."""

    shown: Short


@dataclass(frozen=True)
class PointView:
    """A known weight of a calibration: the weight and what is left over after it, N, and as typed."""

    load_n: float
    residual_n: float
    rising: bool
    weight: str
    shown: str


@dataclass(frozen=True)
class CalibrationView:
    """A calibration: since when, its line, its points with what is left over, and how good it is in words."""

    id: int
    made_utc: str
    offset: float
    factor: float
    points: list[PointView]
    words: str


@dataclass(frozen=True)
class VersionView:
    """A version of a rig's card: since when, and what it changed."""

    number: int
    from_utc: str
    words: str


@dataclass(frozen=True)
class CheckView:
    """A daily check: when, what was shown, and what that says."""

    at_utc: str
    shown: str
    words: str
    holds: bool


@dataclass(frozen=True)
class TruthView:
    """What is known of a rig's truth, newest first."""

    calibrations: list[CalibrationView]
    versions: list[VersionView]
    checks: list[CheckView]


def view_truth(file: ShopFile, rig_id: int) -> TruthView:
    """Return the calibrations, versions and checks of a rig, newest first; raises `NotThere`."""
    with file.reading() as connection:
        rig = require_rig(connection, rig_id)
        weights = list_check_weights(connection, rig_id)
        calibrations = list_calibrations(connection, rig_id)
        versions = list_rig_versions(connection, rig_id)
    nominal = factor(Kind.FORCE, rig.unit)
    made = []
    for row in calibrations:
        mine = [one for one in weights if one.calibration_id == row.id]
        fit = _fit(mine, rig.capacity_n) if mine else None
        made.append(
            CalibrationView(
                row.id,
                row.made_utc,
                row.offset_reading,
                row.newton_per_unit / nominal,
                _view_points(mine, fit),
                _say_fit(fit) if fit else "typed, without known weights",
            )
        )
    told = [
        VersionView(
            one.number, one.from_utc,
            "first set up" if older is None else ", ".join(list_differences(older.meaning, one.meaning)) + " changed",
        )
        for older, one in zip([None, *versions], versions, strict=False)
    ]  # fmt: skip
    checks = [
        CheckView(one.at_utc, one.reading_typed, *_judge(rig, one, calibrations))
        for one in weights
        if not one.calibration_id
    ]
    return TruthView(made[::-1], told[::-1], checks[::-1])


def fit_points(file: ShopFile, rig_id: int, entry: CalibrationEntry) -> CalibrationView:
    """Return what known weights would make of a rig, without keeping it; raises `EntryError`."""
    with file.reading() as connection:
        rig = require_rig(connection, rig_id)
        points = _read_points(connection, rig, entry)
    fit = fit_calibration([one for one, _, _ in points], rig.capacity_n)
    nominal = factor(Kind.FORCE, rig.unit)
    views = [
        PointView(point.load_n, residual, point.rising, weight, shown)
        for (point, weight, shown), residual in zip(points, fit.residuals_n, strict=True)
    ]
    return CalibrationView(
        0, "", fit.calibration.offset, fit.calibration.newton_per_unit / nominal, views, _say_fit(fit)
    )


def calibrate(file: ShopFile, rig_id: int, entry: CalibrationEntry) -> int:
    """Calibrate a rig by known weights: a new calibration; breaks keep the one that they were made with.

    Raises
    ------
    EntryError : a weight or a reading cannot be read, or fewer than three different loads.
    """
    with file.changing("Calibrated a rig") as connection:
        rig = require_rig(connection, rig_id)
        points = _read_points(connection, rig, entry)
        fit = fit_calibration([one for one, _, _ in points], rig.capacity_n)
        calibration_id = insert_calibration(
            connection,
            rig_id=rig_id,
            offset_reading=fit.calibration.offset,
            newton_per_unit=fit.calibration.newton_per_unit,
            made_utc=file.now(),
        )
        for point, weight, shown in points:
            insert_check_weight(
                connection,
                rig_id=rig_id,
                calibration_id=calibration_id,
                at_utc=file.now(),
                load_n=point.load_n,
                load_typed=weight,
                reading=point.reading,
                reading_typed=shown,
                rising=point.rising,
            )
        return calibration_id


def check_rig(file: ShopFile, rig_id: int, entry: CheckWeightEntry) -> None:
    """Write down what a rig shows under its check weight; raises `EntryError` for one without, or for no number."""
    with file.changing("Read a check weight") as connection:
        rig = require_rig(connection, rig_id)
        if rig.check_n is None:
            raise EntryError(f"{rig.name} has no check weight.", do="Write one on its card in the shop.", field="shown")
        shown = _read_shown(rig, entry.shown, "shown")
        insert_check_weight(
            connection,
            rig_id=rig_id,
            at_utc=file.now(),
            load_n=rig.check_n,
            load_typed=rig.check_typed,
            reading=shown.si / factor(Kind.FORCE, rig.unit),
            reading_typed=shown.typed,
            rising=True,
        )


@dataclass(frozen=True)
class CheckDue:
    """The check weight of a rig on a day of breaking: its weight as typed, whether it is due, and the last one said."""

    weight: str
    is_due: bool
    last: str
    holds: bool


def find_check_due(connection: Connection, rig: Rig, now: datetime) -> CheckDue | None:
    """Return whether a rig's check weight is to be read now; None for a rig without one. Reads only."""
    if rig.check_n is None:
        return None
    checks = [one for one in list_check_weights(connection, rig.id) if one.calibration_id is None]
    if not checks:
        return CheckDue(rig.check_typed, True, "never read yet", True)
    words, holds = _judge(rig, checks[-1], list_calibrations(connection, rig.id))
    is_due = now - datetime.fromisoformat(checks[-1].at_utc) > _DAY
    return CheckDue(rig.check_typed, is_due, words, holds)


def _judge(rig: Rig, check: CheckWeight, calibrations: list[CalibrationRow]) -> tuple[str, bool]:
    """Return what a daily check says, and whether it is within what it may be off."""
    then = [one for one in calibrations if one.made_utc <= check.at_utc] or calibrations
    line = then[-1] if then else None
    load = check.load_n
    read = (
        Calibration(line.offset_reading, line.newton_per_unit).load_n(check.reading)
        if line
        else check.reading * factor(Kind.FORCE, rig.unit)
    )
    give = rig.check_give_n or _GIVE * load
    off = read - load
    holds = abs(off) <= give
    unit = rig.unit
    words = (
        f"{check.load_typed} reads {show_as_typed(read, Kind.FORCE, unit)}, {100 * off / load:+.1f} %"
        f"{'' if holds else f': beyond the {show_as_typed(give, Kind.FORCE, unit)} that it may be off'}"
    ).replace("-", "−")
    return words, holds


def _read_points(connection: Connection, rig: Rig, entry: CalibrationEntry) -> list[tuple[CheckPoint, str, str]]:
    """Return known weights with what was read, in the rig's own unit, and both as typed."""
    form, found = FormReader(), []
    bounds, unit = Bounds(zero_allowed=True, highest=1e8), read_units(connection).force
    for number, point in enumerate(entry.points):
        weight = form.read(parse_quantity, point.weight, Kind.FORCE, unit, bounds, field=f"weight-{number}")
        shown = form.read(_read_shown, rig, point.shown, f"shown-{number}")
        if weight.there and shown.there:
            reading = shown.value.si / factor(Kind.FORCE, rig.unit)
            found.append((CheckPoint(weight.value.si, reading, point.rising), weight.value.typed, shown.value.typed))
    form.finish()
    return found


def _read_shown(rig: Rig, typed: str, field: str) -> Quantity:
    """Return what a rig shows, as N of its unit; of a jack as the load that its gauge makes."""
    if rig.gauge_unit and rig.bore_mm is not None:
        pressure = parse_quantity(
            typed, Kind.STRESS, rig.gauge_unit, Bounds(zero_allowed=True, highest=1000), field=field
        )
        return replace(pressure, si=compute_gauge_load(pressure.si, rig.bore_mm))
    bounds = Bounds(lowest=-1e8, zero_allowed=True, highest=1e8)
    return parse_quantity(typed, Kind.FORCE, rig.unit, bounds, field=field)


def _fit(weights: list[CheckWeight], capacity_n: float) -> Fit | None:
    try:
        return fit_calibration([CheckPoint(one.load_n, one.reading, one.rising) for one in weights], capacity_n)
    except EntryError:
        return None


def _view_points(weights: list[CheckWeight], fit: Fit | None) -> list[PointView]:
    residuals = fit.residuals_n if fit else (0.0,) * len(weights)
    return [
        PointView(one.load_n, residual, one.rising, one.load_typed, one.reading_typed)
        for one, residual in zip(weights, residuals, strict=True)
    ]


def _say_fit(fit: Fit) -> str:
    """Return how good a calibration is: its largest error and its hysteresis."""
    words = (
        f"off by {fit.worst_of_reading_pct:.2g} % of a reading at most, "
        f"{fit.worst_of_capacity_pct:.2g} % of what it pulls"
    )
    if fit.hysteresis_n is None:
        return f"{words}; not read on the way down, so its hysteresis is not known"
    return f"{words}; up and down differ by {show(fit.hysteresis_n, Kind.FORCE)} at most"
