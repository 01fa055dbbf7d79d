"""The answer of a trial as a picture without numbers."""

from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.dots import Dot
from adhaero.bench.compare.view import view_compare
from adhaero.bench.facts.reading import read_trial
from adhaero.files.report.picture import PictureSet, draw_picture
from adhaero.store.file import ShopFile


def export_picture(file: ShopFile, trial_id: int, choice: Choice) -> str:
    """Return the answer as SVG: sets from the strongest, each with its joint, its spread, and what broke."""
    view = view_compare(file, trial_id, choice)
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
    by_set: dict[str, list[Dot]] = {}
    for dot in view.dots:
        if dot.excluded is None:
            by_set.setdefault(dot.treatment, []).append(dot)
    sets = {one.name: one for one in facts.made}
    drawn = [
        PictureSet(
            name,
            None
            if (made := sets.get(name)) is not None and made.solid
            else facts.joint_of(made or facts.made[0]).value,
            [dot.strength for dot in dots if dot.strength is not None],
            1.0 if made is not None and made.solid else _find_torn(dots),
        )
        for name, dots in by_set.items()
    ]
    drawn.sort(key=lambda one: -(sum(one.values) / len(one.values) if one.values else 0.0))
    verdict = (
        (view.summary.verdict or view.summary.headline) if view.summary else (view.waits or "Nothing is broken yet.")
    )
    note = f"{sum(len(one.values) for one in drawn)} pieces"
    return draw_picture(facts.trial.question, verdict, drawn, note + (", for practice" if facts.trial.practice else ""))


def _find_torn(dots: list[Dot]) -> float | None:
    """Return how much of a set's faces is torn wood, 0 to 1; None where none was judged."""
    judged = [dot.wood_failure_pct for dot in dots if dot.wood_failure_pct is not None]
    return sum(judged) / len(judged) / 100 if judged else None
