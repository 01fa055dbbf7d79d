"""The air of the shop: a logger's file laid over the trials, and what it was while a glue-up was in clamps."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from itertools import pairwise

from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.rows import parse_time
from adhaero.bench.facts.shelf import kept
from adhaero.bench.shop.hours import read_zone
from adhaero.bench.shop.supplies import Supplies
from adhaero.core.errors import NotThere
from adhaero.core.quantity import show_duration
from adhaero.files.logger_csv import read_logger
from adhaero.store.air import ClimateLog, delete_climate_log, fetch_climate_log, insert_climate_log, list_climate_logs
from adhaero.store.file import ShopFile, to_text
from adhaero.store.pieces import Batch

_SWING_C = 5.0


_SILENT_S = 3600


@dataclass(frozen=True)
class LogView:
    """One logger file: its name, and from when to when it reads."""

    id: int
    name: str
    from_utc: str
    to_utc: str


@dataclass(frozen=True)
class AirOf:
    """The air while pieces of a glue-up were open or in clamps; `minds` says what the glue's limits say to it."""

    batch_id: int
    words: str
    readings: int
    lowest_c: float | None
    highest_c: float | None
    lowest_pct: float | None
    highest_pct: float | None
    minds: list[str]


def lay_over(file: ShopFile, name: str, content: bytes) -> int:
    """Keep a logger's file; return its id. Raises `DataError` with the row and the column that cannot be read."""
    with file.reading() as connection:
        zone = read_zone(connection)
    air = read_logger(content, zone)
    readings = [[round(one.at.timestamp()), one.temperature_c, one.humidity_pct] for one in air]
    with file.changing("Laid a logger's file over the trials") as connection:
        values = {"name": name.strip()[:120] or "logger", "added_utc": file.now()}
        values |= {"from_utc": to_text(air[0].at), "to_utc": to_text(air[-1].at)}
        return insert_climate_log(connection, **values, readings=json.dumps(readings))


def list_logs(file: ShopFile) -> list[LogView]:
    """Return the logger files that are laid over the trials."""
    with file.reading() as connection:
        return [LogView(one.id, one.name, one.from_utc, one.to_utc) for one in list_climate_logs(connection)]


def take_away(file: ShopFile, log_id: int) -> None:
    """Take a logger's file away. Raises `NotThere`."""
    with file.changing("Took a logger's file away") as connection:
        if fetch_climate_log(connection, log_id) is None:
            raise NotThere(f"There is no logger file {log_id}.", do="It may have been taken away.")
        delete_climate_log(connection, log_id)


@kept(most=8)
def _load(log: ClimateLog) -> tuple[tuple[int, float | None, float | None], ...]:
    return tuple((at, temperature, humidity) for at, temperature, humidity in json.loads(log.readings))


def find_air(facts: PlanFacts, logs: Sequence[ClimateLog], supplies: Supplies, now: datetime) -> list[AirOf]:
    """Return the air during each glue-up that a logger saw, from its begin until its last clamp came off."""
    return [
        found for batch in facts.batches.values() if (found := _air_of(facts, batch, logs, supplies, now)) is not None
    ]


def _air_of(
    facts: PlanFacts, batch: Batch, logs: Sequence[ClimateLog], supplies: Supplies, now: datetime
) -> AirOf | None:
    mine = [piece for piece in facts.pieces.values() if piece.batch_id == batch.id]
    ends = [parse_time(piece.released_utc) or now for piece in mine if piece.clamped_utc]
    begin, end = datetime.fromisoformat(batch.started_utc), max(ends, default=now)
    seen = sorted(
        one
        for log in logs
        if log.from_utc <= to_text(end) and log.to_utc >= to_text(begin)
        for one in _load(log)
        if begin.timestamp() <= one[0] <= end.timestamp()
    )
    if not seen:
        return None
    degrees = [one[1] for one in seen if one[1] is not None]
    percents = [one[2] for one in seen if one[2] is not None]
    minds = []
    card = supplies.glue(batch.glue)
    if card and card.lowest_temperature_c is not None and degrees and min(degrees) < card.lowest_temperature_c:
        at = datetime.fromtimestamp(min(one[0] for one in seen if one[1] == min(degrees)), UTC)
        minds.append(
            f"{min(degrees):.1f} °C is colder than {batch.glue} is made for ({card.lowest_temperature_c:.0f} °C), "
            f"first at {at:%H:%M} UTC."
        )
    if degrees and max(degrees) - min(degrees) > _SWING_C:
        minds.append(f"The shop swung by {max(degrees) - min(degrees):.1f} °C meanwhile.")
    silent = max((later[0] - one[0] for one, later in pairwise(seen)), default=0)
    if silent > _SILENT_S:
        minds.append(f"The logger was silent for {show_duration(silent)} meanwhile.")
    words = [f"{min(degrees):.1f} to {max(degrees):.1f} °C"] if degrees else []
    words += [f"humidity {min(percents):.0f} to {max(percents):.0f} %"] if percents else []
    return AirOf(
        batch.id,
        ", ".join(words),
        len(seen),
        min(degrees, default=None),
        max(degrees, default=None),
        min(percents, default=None),
        max(percents, default=None),
        minds,
    )
