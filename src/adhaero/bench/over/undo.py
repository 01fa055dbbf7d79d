"""Undo and redo of every change."""

from adhaero.core.errors import StateError
from adhaero.store.file import ShopFile
from adhaero.store.history import find_steps, revert_change


def undo(file: ShopFile, trial_id: int | None) -> str:
    """Take back the latest change of a trial (of the shop for None) and return what it was."""
    with file.reading() as connection:
        step = find_steps(connection, trial_id).undo
    if step is None:
        raise StateError("There is nothing to undo.")
    with file.changing(f"Undid: {step.what}", trial_id) as connection:
        revert_change(connection, step.id)
    return step.what


def redo(file: ShopFile, trial_id: int | None) -> str:
    """Bring back the change that was undone last and return what it was."""
    with file.reading() as connection:
        step = find_steps(connection, trial_id).redo
    if step is None or step.undone_by is None:
        raise StateError("There is nothing to redo.")
    with file.changing(f"Redid: {step.what}", trial_id) as connection:
        revert_change(connection, step.undone_by)
    return step.what
