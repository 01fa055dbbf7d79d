"""Work besides the joint: holes, grooves, anything that is to be done before or after the glue."""

from dataclasses import dataclass

from adhaero.bench.facts.entry import Entry, Line
from adhaero.core.choice import read_choice
from adhaero.core.errors import EntryError, NotThere
from adhaero.core.plan.fields import StepTurn
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.plans import Step, amend_step, delete_step, insert_step, list_steps

_TURNS = ("before", "after")


@dataclass(frozen=True)
class WorkEntry(Entry):
    """Work on the parts besides the joint, before or after glue-up."""

    words: Line
    turn: StepTurn = StepTurn.BEFORE


def add_step(file: ShopFile, trial_id: int, words: str, turn: str) -> int:
    """Add work on the parts besides the joint: `before` glue-up (a hole, a groove) or `after` it (sawing apart)."""
    text = " ".join(words.split())
    if not 1 <= len(text) <= 120:
        raise EntryError(
            "The step says nothing." if not text else "The step is too long.", "Expected 1 to 120 letters."
        )
    when = read_choice(StepTurn, turn, "turn", "is no turn")
    with file.changing("Added a step", trial_id) as connection:
        rank = len(list_steps(connection, trial_id)) + 1
        return insert_step(connection, trial_id=trial_id, rank=rank, words=text, turn=when)


def tick_step(file: ShopFile, trial_id: int, step_id: int, *, done: bool) -> None:
    """Tick a step off, or take the tick back."""
    with file.changing("Ticked a step" if done else "Took a tick back", trial_id) as connection:
        _require_step(connection, trial_id, step_id)
        amend_step(connection, step_id, done_utc=file.now() if done else None)


def remove_step(file: ShopFile, trial_id: int, step_id: int) -> None:
    """Remove a step."""
    with file.changing("Removed a step", trial_id) as connection:
        _require_step(connection, trial_id, step_id)
        delete_step(connection, step_id)


def _require_step(connection: Connection, trial_id: int, step_id: int) -> Step:
    for one in list_steps(connection, trial_id):
        if one.id == step_id:
            return one
    raise NotThere(f"There is no step {step_id} in this trial.", do="Reload: it may have been removed.")
