"""Breaks made with an older calibration, computed again with the newest one; the old number stays beside the new."""

from dataclasses import dataclass

from adhaero.bench.breaking.corrections import find_rig_then
from adhaero.bench.breaking.rig_used import Reading, RigUsed
from adhaero.bench.breaking.typed_load import read_load
from adhaero.bench.facts.entry import Entry, Id
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.shop.rig_card import make_card
from adhaero.bench.shop.units import read_units
from adhaero.core.pulls import PullSource
from adhaero.core.quantity import Kind, factor
from adhaero.store.connecting import Connection
from adhaero.store.corrections import insert_correction
from adhaero.store.file import ShopFile
from adhaero.store.pieces import Piece
from adhaero.store.pulls import Pull, PullChange, amend_pull
from adhaero.store.rigs import CalibrationRow, fetch_calibration, newest_calibration


@dataclass(frozen=True)
class RigChosen(Entry):
    """A rig."""

    rig: Id


@dataclass(frozen=True)
class OlderBreaks:
    """The pieces of a trial whose kept break was made with an older calibration of a rig than its newest."""

    rig_id: int
    rig: str
    made_utc: str
    pieces: list[str]


def find_older(file: ShopFile, trial_id: int) -> list[OlderBreaks]:
    """Return what could be computed again, rig by rig."""
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        found = []
        for rig in facts.rigs.values():
            newest = newest_calibration(connection, rig.id)
            if newest is None:
                continue
            pieces = [piece.label for piece, _ in _list_older(facts, rig.id, newest)]
            if pieces:
                found.append(OlderBreaks(rig.id, rig.name, newest.made_utc, pieces))
    return found


def _list_older(facts: PieceFacts, rig_id: int, newest: CalibrationRow) -> list[tuple[Piece, Pull]]:
    kept = ((piece, facts.result_of(piece)) for piece in facts.pieces.values())
    return [
        (piece, pull)
        for piece, pull in kept
        if pull is not None
        and pull.rig_id == rig_id
        and pull.calibration_id not in (None, newest.id)
        and pull.load_n is not None
    ]


def recompute(file: ShopFile, trial_id: int, rig_id: int) -> int:
    """Compute the kept breaks of a trial on a rig again with its newest calibration, and return how many.

    A load that was typed goes through the calibration anew; one that was recorded keeps its raw readings and its zero,
    and changes as the newtons of one unit do. Each old number is kept as a correction.
    """
    with file.changing("Computed breaks again with the new calibration", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        newest = newest_calibration(connection, rig_id)
        unit = read_units(connection).force
        older = [] if newest is None else _list_older(facts, rig_id, newest)
        for piece, pull in older:
            assert newest is not None
            change = _compute_again(connection, facts, pull, newest)
            amend_pull(connection, pull.id, **change)
            insert_correction(
                connection,
                piece_id=piece.id,
                pull_id=pull.id,
                field="calibration",
                before=f"{_say(pull.load_n, unit)} (calibration {pull.calibration_id})",
                after=f"{_say(change.get('load_n'), unit)} (calibration {newest.id})",
                reason=f"computed again with the calibration of {newest.made_utc[:10]}",
                at_utc=file.now(),
            )
    return len(older)


def _say(load_n: float | None, unit: str) -> str:
    return f"{(load_n or 0.0) / factor(Kind.FORCE, unit):.4g} {unit}"


def _compute_again(connection: Connection, facts: PieceFacts, pull: Pull, newest: CalibrationRow) -> PullChange:
    if pull.source is PullSource.HAND:
        then = find_rig_then(connection, facts, pull)
        if then.version is not None and pull.outcome is not None:
            used = RigUsed(then.rig, then.version, make_card(then.version.meaning, newest), newest)
            load = read_load(connection, facts, used, Reading(load=_bare(pull)), pull.outcome)
            return PullChange(
                calibration_id=newest.id, load_n=load.load_n, held_n=load.held_n, load_through=load.through
            )
        return PullChange(calibration_id=newest.id)
    before = fetch_calibration(connection, pull.calibration_id or 0)
    times = newest.newton_per_unit / before.newton_per_unit if before else 1.0

    def again(value: float | None) -> float | None:
        return None if value is None else value * times

    return PullChange(
        calibration_id=newest.id,
        load_n=None if pull.load_n is None else max(0.0, pull.load_n * times),
        rate_n_per_s=again(pull.rate_n_per_s),
        sagged_n=again(pull.sagged_n),
        stiffness_n_per_mm=again(pull.stiffness_n_per_mm),
        bend_starts_n=again(pull.bend_starts_n),
        bend_by_span_n=again(pull.bend_by_span_n),
        energy_j=again(pull.energy_j),
    )


def _bare(pull: Pull) -> str:
    """Return a load as it was typed, without the bore that a pressure went through."""
    return pull.load_typed.partition(" on ")[0]
