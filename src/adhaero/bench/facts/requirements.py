"""What must hold before a row is changed; each raises with words where it does not."""

from collections.abc import Sequence
from dataclasses import fields, is_dataclass

from adhaero.core.errors import InUse, NotThere, StaleEdit, StateError
from adhaero.store.connecting import Connection
from adhaero.store.plans import Board
from adhaero.store.trials import Trial, fetch_trial


def require_unchanged(words: str, current: str, was: str, field: str) -> None:
    """Raise `StaleEdit` when a field holds something else than it did when the person saw it."""
    if current == was:
        return
    raise StaleEdit(
        f"{words[:1].upper()}{words[1:]} was changed to {f'“{current}”' if current else 'nothing'} in another window.",
        "Nothing was saved.",
        "Look at the new value, then change it if you still want to.",
        field=field,
        choices=(current,),
    )


def require_same_form(shown: object, was: object, name: str) -> None:
    """Raise `StaleEdit` when a form was filled in from something else than what stands there by now."""
    assert is_dataclass(shown)
    assert is_dataclass(was)
    for field in fields(shown):
        words = f"the {field.name.replace('_', ' ')} of {name}"
        require_unchanged(words, getattr(shown, field.name), getattr(was, field.name), field.name)


def require_open_plan(connection: Connection, trial_id: int) -> Trial:
    """Return a trial whose plan can change; raises `NotThere`, or `StateError` once it is settled."""
    trial = fetch_trial(connection, trial_id)
    if trial is None:
        raise NotThere(f"There is no trial {trial_id}.")
    if trial.frozen_utc is not None:
        raise StateError(
            "The plan is settled: its pieces have labels.",
            "Sets and boards can no longer change.",
            "Reopen the plan first, if nothing is glued yet.",
        )
    return trial


def require_not_in_use(connection: Connection, trial_id: int, what: str) -> None:
    """Raise `InUse` when the pieces of a set or a board have labels."""
    trial = fetch_trial(connection, trial_id)
    if trial is not None and trial.frozen_utc is not None:
        raise InUse(
            f"Pieces of this {what} have labels.",
            f"A {what} in use stays.",
            "Reopen the plan first, if nothing is glued yet.",
        )


def require_row(rows: Sequence[Board], row_id: int) -> None:
    """Raise `NotThere` when no row has the id."""
    if all(row.id != row_id for row in rows):
        raise NotThere(f"It is not part of this trial (number {row_id}).", do="Reload: it may have been removed.")
