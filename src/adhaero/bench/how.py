"""How each number of the table and of the pairs is known."""

from collections.abc import Mapping
from dataclasses import dataclass

from adhaero.core.stats.analyse import Analysis
from adhaero.core.stats.breaks import Estimate


@dataclass(frozen=True)
class How:
    """How a number is known: the method, its formula in words, what went in, and where docs/method derives it."""

    method: str
    formula: str
    inputs: str
    section: str


def explain(result: Analysis, formula: str, wood_failure_from: float) -> Mapping[str, How]:
    """Return how the numbers of a comparison are known, by their column.

    Parameters
    ----------
    formula : of the strength of one piece, in words.
    """
    read = "numbers as read of the pieces that count; one that held counts at what it held"
    censored = any(one.n_broke < one.n for one in result.groups)
    torn = f"; torn wood from {wood_failure_from:g} % on counts as “held at least”"
    inputs = f"{sum(one.n for one in result.groups)} pieces{torn if result.estimate is Estimate.GLUELINE else ''}"
    found = {
        "average": How("The plain average.", "sum / number", read, "comparing"),
        "middle": How("The median.", "half of the pieces are above it", read, "comparing"),
        "middle ones": How(
            "The average without the single best and worst piece; from four pieces on.",
            "(sum − best − worst) / (number − 2)",
            read,
            "comparing",
        ),
        "worst to best": How(
            "The ends of the numbers as read.", f"each number is {formula}", read, "from-load-to-strength"
        ),
        "scatter": How(
            "The coefficient of variation.", "standard deviation (number − 1) / average, in percent", read, "comparing"
        ),
        "torn": How("The average of the judged faces.", "sum of torn shares / judged faces", read, "comparing"),
        "alike": How(
            "Sets that share a letter cannot be told apart by the ranges of their pairs.",
            "one letter for each largest group of sets without a pair whose range leaves out “no difference”",
            inputs,
            "comparing",
        ),
        "pairs": _explain_pairs(result, inputs, censored=censored),
    }
    if censored:
        found["typical"] = How(
            "Maximum likelihood: a log-normal for each set, one scatter for all; bounds count as bounds.",
            "typical = exp(μ) with the μ and σ under which these breaks and bounds are likeliest",
            inputs,
            "bounds-instead-of-numbers",
        )
        found["likely range"] = How(
            "From the curvature of the likelihood, few pieces counted as few.",
            "exp(μ ± t · standard error · √(n / (n − p))), n pieces and p sets and boards",
            inputs,
            "bounds-instead-of-numbers",
        )
        found["19 in 20 above"] = How(
            "The 5 % point of the fitted log-normal; an estimate without a margin of its own.",
            "exp(μ − 1.645 · σ), σ² times n / (n − p)",
            inputs,
            "bounds-instead-of-numbers",
        )
    else:
        found["typical"] = found["average"]
        found["likely range"] = How(
            "Student's t of each set by itself: it holds the true average in 19 of 20 such trials.",
            "average ± t · standard deviation / √number",
            inputs,
            "comparing",
        )
        found["19 in 20 above"] = How(
            "The lower tolerance limit: with 75 % confidence 19 of 20 such joints exceed it.",
            "average − k · standard deviation, k from the noncentral t",
            inputs,
            "comparing",
        )
    return found


def _explain_pairs(result: Analysis, inputs: str, *, censored: bool) -> How:
    ratio = "differs by = typical(first) / typical(second) − 1, from averages of logarithms"
    if result.block:
        ratio += ", adjusted for boards"
    if result.control is not None:
        plain = not censored and result.block is None
        method = "Dunnett's ranges, scatter pooled." if plain else "Bonferroni's ranges, Holm's chances."
    elif censored:
        method = "Tukey's and Kramer's ranges with the standard errors of the likelihood, few pieces counted as few."
    elif result.block:
        method = "Tukey's and Kramer's ranges on averages adjusted for boards."
    else:
        method = "Games' and Howell's ranges: each pair by its own scatter."
    together = f" All {len(result.pairs)} together hold in 19 of 20 such trials."
    return How(method + together, ratio, inputs, "bounds-instead-of-numbers" if censored else "comparing")
