"""Reading a trial: all its rows at first, later only those that changed since."""

from collections import defaultdict
from collections.abc import Iterable, Mapping
from collections.abc import Set as AbstractSet
from dataclasses import replace
from types import MappingProxyType
from typing import Any

from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.shelf import Shelf
from adhaero.core.errors import NotThere
from adhaero.store.connecting import Connection
from adhaero.store.corrections import list_corrections
from adhaero.store.history import Mark, find_mark, list_changed_rows
from adhaero.store.making import list_coats, list_exposures, list_readings, list_ticks
from adhaero.store.pieces import (
    fetch_measurement,
    fetch_piece,
    list_batches,
    list_measurements,
    list_pieces,
)
from adhaero.store.plans import (
    list_boards,
    list_factors,
    list_levels,
    list_scopes,
    list_steps,
    list_treatment_levels,
    list_treatments,
)
from adhaero.store.pulls import Pull, fetch_pull, list_pulls
from adhaero.store.rigs import list_rigs, list_trial_versions
from adhaero.store.trials import fetch_trial, list_quantities

_kept_trials: Shelf[tuple[str, int], tuple[Mark, PieceFacts]] = Shelf(most=16)


def read_trial(connection: Connection, trial_id: int) -> PieceFacts:
    """Read a trial with all its rows; raises `NotThere`.

    Every change of a row stands in the change log: what was read stays true until the log grows. The latest are kept,
    and of an older one only the rows that changed since are read again.
    """
    mark = find_mark(connection)
    if mark is None:
        return _read_rows(connection, trial_id)
    kept, facts = _kept_trials.find((mark.path, trial_id)) or (None, None)
    if kept is None or facts is None:
        facts = _read_rows(connection, trial_id)
    elif kept != mark:
        changed = list_changed_rows(connection, kept)
        newer = None if changed is None else _catch_up(connection, facts, changed)
        facts = newer or _read_rows(connection, trial_id)
    _kept_trials.put((mark.path, trial_id), (mark, facts))
    return facts


_LARGE = frozenset({"piece", "measurement", "pull"})
_GROWS = frozenset({"treatment", "treatment_level", "level", "board", "amendment", "glue"})


def _catch_up(connection: Connection, facts: PieceFacts, changed: Mapping[str, AbstractSet[int]]) -> PieceFacts | None:
    """Return a trial with the rows that changed read again; None where rows went, which only a whole reading shows."""
    pieces, measurements, pulls = dict(facts.pieces), dict(facts.measurements), dict(facts.pulls)
    touched: set[int] = set()
    came = False
    for row_id in changed.get("piece", ()):
        piece = fetch_piece(connection, row_id)
        if piece is None:
            return None
        if piece.trial_id == facts.trial.id:
            came = came or row_id not in pieces
            pieces[row_id] = piece
            touched.add(row_id)
    if came:
        # in the order in which a whole reading finds them
        pieces = dict(sorted(pieces.items(), key=lambda one: (one[1].board_id, one[1].position, one[0])))
    for row_id in changed.get("measurement", ()):
        size = fetch_measurement(connection, row_id)
        if size is None:
            return None
        if size.piece_id in pieces:
            sizes = {**measurements.get(size.piece_id, {}), size.name: size}
            measurements[size.piece_id] = dict(sorted(sizes.items()))
            touched.add(size.piece_id)
    for row_id in changed.get("pull", ()):
        pull = fetch_pull(connection, row_id)
        if pull is None:
            return None
        if pull.piece_id in pieces:
            made = {one.id: one for one in pulls.get(pull.piece_id, ())} | {row_id: pull}
            pulls[pull.piece_id] = tuple(made[key] for key in sorted(made))
            touched.add(pull.piece_id)
    newer = _read_rows(connection, facts.trial.id, {"pieces": pieces, "measurements": measurements, "pulls": pulls})
    if changed.keys() <= _LARGE or (changed.keys() <= _LARGE | _GROWS and _only_grew(facts, newer)):
        newer.inherit(facts, touched)
    return newer


def _only_grew(older: PieceFacts, newer: PieceFacts) -> bool:
    """Return whether sets, values and boards only came to what stood there: then no earlier piece is another."""
    return (
        all(newer.levels.get(key) == one for key, one in older.levels.items())
        and all(newer.treatment_levels.get(key) == one for key, one in older.treatment_levels.items())
        and all(
            key in newer.treatments
            and replace(newer.treatments[key], pieces=one.pieces, pieces_own=one.pieces_own) == one
            for key, one in older.treatments.items()
        )
        and all(
            key in newer.boards and replace(newer.boards[key], holds=one.holds) == one
            for key, one in older.boards.items()
        )
    )


def _read_rows(connection: Connection, trial_id: int, known: Mapping[str, Any] = MappingProxyType({})) -> PieceFacts:
    trial = fetch_trial(connection, trial_id)
    if trial is None:
        raise NotThere(f"There is no trial {trial_id}.", do="Go to Today: the trials there are, are listed.")
    return PieceFacts(
        trial=trial,
        quantities=list_quantities(connection, trial_id),
        factors={row.id: row for row in list_factors(connection, trial_id)},
        levels={row.id: row for row in list_levels(connection, trial_id)},
        scopes=list_scopes(connection, trial_id),
        treatments={row.id: row for row in list_treatments(connection, trial_id)},
        treatment_levels=list_treatment_levels(connection, trial_id),
        boards={row.id: row for row in list_boards(connection, trial_id)},
        pieces=known.get("pieces") or {row.id: row for row in list_pieces(connection, trial_id)},
        batches={row.id: row for row in list_batches(connection, trial_id)},
        measurements=known.get("measurements") or list_measurements(connection, trial_id),
        pulls=known.get("pulls") or _group_pulls(list_pulls(connection, trial_id)),
        coats=list_coats(connection, trial_id),
        exposures=list_exposures(connection, trial_id),
        readings=list_readings(connection, trial_id),
        ticks=list_ticks(connection, trial_id),
        steps=tuple(list_steps(connection, trial_id)),
        rigs={rig.id: rig for rig in list_rigs(connection)},
        versions=list_trial_versions(connection, trial_id),
        corrections=list_corrections(connection, trial_id),
    )


def _group_pulls(pulls: Iterable[Pull]) -> dict[int, tuple[Pull, ...]]:
    made: dict[int, list[Pull]] = defaultdict(list)
    for pull in pulls:
        made[pull.piece_id].append(pull)
    return {piece_id: tuple(mine) for piece_id, mine in made.items()}
