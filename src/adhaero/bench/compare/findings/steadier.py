"""Who is steadier: the scatter of the sets compared as a result of its own."""

from adhaero.bench.compare.findings.asked import Asked, Finding, Row
from adhaero.bench.compare.how_known import How
from adhaero.core.errors import DataError
from adhaero.core.stats.breaks import Outcome, as_judged
from adhaero.core.stats.steadiness import compare_steadiness, say_steadiness


def find_steadier(asked: Asked) -> Finding | None:
    """Return who scatters less, with the worst piece of each; None where fewer than two sets can be compared."""
    question = asked.question
    numbers: dict[str, list[float]] = {}
    bounds = 0
    for one in as_judged(asked.breaks.compared, question.estimate, question.wood_failure_from):
        if one.excluded is None and one.outcome is Outcome.BROKE and one.value:
            numbers.setdefault(one.level, []).append(one.value)
        bounds += one.excluded is None and one.outcome is not Outcome.BROKE
    try:
        found = compare_steadiness(numbers)
    except DataError:
        return None
    rows: list[Row] = [[one.level, one.worst, f"{one.cv_pct:.0f} %", str(one.n)] for one in found.sets]
    said = say_steadiness(found)
    if bounds:
        said.append(f"{bounds} pieces are bounds and say nothing here: what held long may scatter more than is seen.")
    return Finding(
        "steadier",
        "Who is steadier",
        said,
        How(
            "Brown and Forsythe: how far each piece is from the median of its set, on logarithms, set against set.",
            "scatter = √(exp(s²) − 1), s the standard deviation of the logarithms; “half as much” compares s",
            "pieces that broke and count; boards are not taken out",
            "who-is-steadier",
        ),
        ["set", "worst piece", "scatter", "pieces"],
        rows,
    )
