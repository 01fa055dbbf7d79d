"""How each number of the table and of the pairs is known."""

from collections.abc import Mapping
from dataclasses import dataclass

from adhaero.core.response import ResponseForm
from adhaero.core.stats.analyse import Analysis
from adhaero.core.stats.breaks import Estimate


@dataclass(frozen=True)
class How:
    """How a number is known: the method, its formula in words, what went in, and where docs/method derives it."""

    method: str
    formula: str
    inputs: str
    section: str


def explain(result: Analysis, response: ResponseForm, formula: str, wood_failure_from: float) -> Mapping[str, How]:
    """Return how the numbers of a comparison are known, by their column.

    Parameters
    ----------
    response : what is compared. formula : of the strength of one piece, in words.
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
            "The ends of the numbers as read.",
            response.says if response.kind else f"each number is {formula}",
            read,
            "from-load-to-strength",
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
        "pairs": _explain_pairs(result, inputs),
    }
    within = result.overall is not None and result.overall.method == "mixed-boards"
    bounds = "; bounds count as bounds, few pieces as few" if censored else ""
    found["typical"] = How(
        f"The {response.noun} that half of such joints exceed: each set by its own scatter{bounds}.",
        "typical = exp(average of the logarithms)"
        + ("; with bounds the likeliest μ and σ of a log-normal" if censored else "")
        + ("; boards count as chance" if within else ""),
        inputs,
        "typical-strength-and-scatter",
    )
    found["likely range"] = How(
        f"Student's t: it holds the true typical {response.noun} in 19 of 20 such trials.",
        "exp(μ ± t · standard error); a set with too few numbers that differ takes the scatter of the others; one that "
        "held (or fell apart) throughout has only an “at least” (“at most”)",
        inputs,
        "typical-strength-and-scatter",
    )
    found["19 in 20 above"] = How(
        "The lower tolerance limit: with 75 % confidence 19 of 20 such joints exceed it.",
        "exp(μ − k · standard error), k from the noncentral t",
        inputs,
        "typical-strength-and-scatter",
    )
    return found


def _explain_pairs(result: Analysis, inputs: str) -> How:
    method = result.overall.method if result.overall else ""
    ratio = "differs by = typical(first) / typical(second) − 1, from averages of logarithms"
    if method == "blocked":
        ratio += ", adjusted for boards"
    if result.control is not None:
        how = "Bonferroni's ranges, Holm's chances"
    elif method == "blocked":
        how = "Tukey's and Kramer's ranges within boards"
    elif method == "mixed-boards":
        how = "Tukey's ranges, boards random, with Kenward's and Roger's degrees of freedom"
    else:
        how = "Games' and Howell's ranges: each set by its own scatter"
    if any(one.at_least is not None or one.at_most is not None for one in result.groups):
        how += "; against a set that held or fell apart throughout the range is open to one side"
    together = (
        "The range holds" if len(result.pairs) == 1 else f"All {len(result.pairs)} together hold"
    ) + " in 19 of 20 such trials."
    return How(f"{how}. {together}", ratio, inputs, "comparing")
