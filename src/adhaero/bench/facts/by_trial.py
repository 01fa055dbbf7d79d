"""What is made of every trial of a shop: made anew only for the trials that changed since, however many there are."""

from collections.abc import Callable, Iterable
from typing import Final, Generic, TypeVar

from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.shelf import Shelf
from adhaero.store.connecting import Connection
from adhaero.store.history import Mark, find_last_mark, is_changing, knows_mark, list_changed_trials, list_shop_changed

Thing = TypeVar("Thing")

# what the shop has and calls things says nothing of what broke
_BESIDE: Final = frozenset(
    {"setting", "glue", "glue_figure", "plate", "clamps", "stock_board", "defect", "climate_log", "check_weight"}
    | {"rig", "rig_version", "calibration", "library_call", "library_join"}
)
# rows of a plan, which a change of the shop writes where it begins a trial; each such row, or the row that it hangs on,
# names its trial
_PLAN: Final = frozenset(
    {"trial", "quantity", "factor", "level", "factor_scope", "treatment", "treatment_level", "board", "step"}
)


class KeptByTrial(Generic[Thing]):
    """What a function makes of each trial, kept until that trial changes."""

    def __init__(self, make: Callable[[PieceFacts], Thing]) -> None:
        self._make = make
        self._shelf: Shelf[str, tuple[Mark, dict[int, Thing]]] = Shelf(most=4)

    def read(self, connection: Connection, trial_ids: Iterable[int]) -> dict[int, Thing]:
        """Return what is made of these trials. Reads only; inside a change nothing of it is kept."""
        mark = find_last_mark(connection)
        before, kept = self._shelf.find(mark.path) or (None, {})
        if before is None or not knows_mark(connection, before):
            kept = {}
        elif before != mark or is_changing(connection):
            changed = _list_changed(connection, before)
            kept = {} if changed is None else {key: one for key, one in kept.items() if key not in changed}
        found = {
            key: kept[key] if key in kept else self._make(read_trial(connection, key))
            for key in trial_ids
        }  # fmt: skip
        if not is_changing(connection):
            # of trials that were not asked for this time what is known stays
            self._shelf.put(mark.path, (mark, kept | found))
        return found


def _list_changed(connection: Connection, since: Mark) -> set[int] | None:
    """Return the trials that changed since a mark; None where that cannot be told, and any may have."""
    changed = list_changed_trials(connection, since.newest)
    found = {one for one in changed if one is not None}
    if None in changed:
        touched, trials = list_shop_changed(connection, since.newest)
        if not touched <= _BESIDE | _PLAN:
            return None
        found |= trials
    return found
