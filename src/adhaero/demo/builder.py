"""What every demo trial is built with: the file, a clock that is set by hand, numbers from the seed."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from random import Random

from adhaero.bench.plan import edits, factors, levels
from adhaero.bench.plan import view as plan_view
from adhaero.store.file import ShopFile, utc_now


class DemoClock:
    """A clock that is set by hand while the past is built, and runs on its own after."""

    def __init__(self) -> None:
        self._set: datetime | None = None

    def __call__(self) -> datetime:
        """Return the time."""
        return self._set or utc_now()

    def set(self, moment: datetime | None) -> None:
        """Stand still at a moment; None lets it run."""
        self._set = moment


@dataclass(frozen=True)
class Builder:
    """A demo shop that is being built; `today` is this morning."""

    file: ShopFile
    clock: DemoClock
    today: datetime
    random: Random

    def at(self, days: float, hours: float = 0.0) -> None:
        """Set the clock so many days before this morning, and hours after that."""
        self.clock.set(self.today - timedelta(days=days) + timedelta(hours=hours))

    def fill(self, trial_id: int, fields: dict[str, str]) -> None:
        """Type fields into a plan as a person does: joint first, then sizes."""
        view = plan_view.view_plan(self.file, trial_id)
        for name, typed in fields.items():
            if name == "question":
                continue
            quantities = {one.name: one.typed for one in view.quantities}
            was = quantities[name] if name in quantities else str(getattr(view.trial, name))
            if was != typed:
                edits.edit_plan(self.file, trial_id, name, was, typed)
            if name == "joint":  # another joint has another usual fixture
                view = plan_view.view_plan(self.file, trial_id)

    def count_on(self, trial_id: int, rig_id: int) -> None:
        """Choose the rig of a plan."""
        edits.edit_plan(self.file, trial_id, "rig_id", "", str(rig_id))

    def vary(self, trial_id: int, kind: str, names: Sequence[str], pieces: int) -> None:
        """Vary one thing by its values, so many pieces of each."""
        factor = plan_view.view_plan(self.file, trial_id).factors[0]
        if factor.kind != kind:
            factors.edit_factor(self.file, trial_id, factor.id, "kind", factor.kind, kind)
        for name in names:
            levels.add_level(self.file, trial_id, factor.id, levels.LevelEntry(name))
        edits.edit_plan(self.file, trial_id, "pieces_each", "5", str(pieces))
