"""Three sentences to be read out: the answer, what stands behind it, what it does not show."""

from dataclasses import dataclass

from adhaero.bench.compare.across import view_slices
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.shares import view_shares
from adhaero.bench.compare.view import CompareView, show_compare
from adhaero.core.stats.pairs import Verdict
from adhaero.core.stats.words import and_join
from adhaero.store.file import ShopFile

_MOST_SETS = 3
_MOST_SAID = 2


@dataclass(frozen=True)
class Spoken:
    """Three sentences to be read into a camera."""

    sentences: list[str]


def view_spoken(file: ShopFile, trial_id: int, choice: Choice) -> Spoken:
    """Return a trial's answer as three sentences; none where nothing is broken."""
    view = show_compare(file, trial_id, choice)
    if not view.dots:
        return Spoken([])
    across = view_slices(file, trial_id, choice).headline
    answer = (
        " ".join(across[:_MOST_SAID])
        if across
        else view.summary.headline
        if view.summary
        else "There is no answer yet."
    )
    shares = view_shares(file, trial_id, choice, "").rows
    return Spoken([answer, _say_behind(view, [(one.level, one.share) for one in shares]), _say_not(view)])


def _say_behind(view: CompareView, shares: list[tuple[str, str]]) -> str:
    counted = [one for one in view.dots if one.excluded is None]
    boards = list(dict.fromkeys(one.board for one in counted if one.board))
    sets = list(dict.fromkeys(one.treatment for one in counted))
    where = f", {view.slice.partition(': ')[2]}" if view.slice else ""
    from_boards = f" from {len(boards)} boards" if len(boards) > 1 else ""
    said = f"We broke {len(counted)} pieces of {len(sets)} sets{from_boards}{where}"
    joints = [one for one in shares if one[0] not in view.controls and one[1]]
    if view.passing is not None:
        counts = [f"{one.level} {one.passed} of {one.n}" for one in view.passing.rows[:_MOST_SETS]]
        return f"{said}; passed: {and_join(counts)}."
    if len(joints) > 1:
        (best, _), (last, share) = joints[0], joints[-1]
        return f"{said}; the last of them, {last}, has {share} of what {best} has."
    return f"{said}."


def _say_not(view: CompareView) -> str:
    open_ = [one for one in view.pairs if one.verdict is Verdict.CANNOT_TELL]
    aside = f" {len(view.excluded)} {'piece is' if len(view.excluded) == 1 else 'pieces are'} set aside." if (
        view.excluded
    ) else ""  # fmt: skip
    if open_:
        first = open_[0]
        return f"What it does not show: which of {first.a} and {first.b} is stronger, or anything of other wood.{aside}"
    return f"What it does not show: anything of other wood, other weather, or a joint that is loaded for years.{aside}"
