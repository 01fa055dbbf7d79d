"""Commands that analyse a tidy breaks file. What computes is imported where it runs: a command starts at once."""

import sys
from collections.abc import Callable, Sequence
from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from adhaero.cli.common import Json, app, number, open_breaks, print_result, span
from adhaero.core.errors import EntryError
from adhaero.core.stats.breaks import Estimate, Specimen

if TYPE_CHECKING:
    from adhaero.core.stats.analyse import Analysis, Group, Question
    from adhaero.files.text_table import Source
    from adhaero.files.tidy_csv import Columns

RESPONSES = ("strength_MPa", "moment_Nm", "load_N")
Response = Annotated[str, typer.Option(help="The column of the strengths, e.g. strength_MPa.")]
By = Annotated[list[str], typer.Option(help="The column of what is varied; again for each further one.")]
Block = Annotated[str | None, typer.Option(help="The column of the boards.")]
Wood = Annotated[str | None, typer.Option(help="The column of the wood; the column species, if there is one.")]
Where = Annotated[list[str] | None, typer.Option(help="Keep rows with this value, COLUMN=VALUE; again for more.")]
Which = Annotated[Estimate, typer.Option(help="The joint as built, or the glue line.")]
Torn = Annotated[float, typer.Option(help="Torn wood (%) from which the glue line held.")]
Margin = Annotated[float, typer.Option(help="The smallest difference that matters (%).")]
Claims = Annotated[
    list[str] | None, typer.Option("--claim", help="A conclusion to check, e.g. “A is 20 % stronger than B”; again.")
]


@app.command("analyse")
def analyse_command(
    file: Path,
    by: By,
    response: Annotated[
        str, typer.Option(help="The column of the strengths, e.g. strength_MPa; a data package knows its own.")
    ] = "",
    block: Block = None,
    wood: Wood = None,
    control: Annotated[str | None, typer.Option(help="Compare every other level with this one.")] = None,
    estimate: Which = Estimate.JOINT,
    wood_failure_from: Torn = 75.0,
    margin: Margin = 10.0,
    where: Where = None,
    each: Annotated[str | None, typer.Option(help="Analyse each value of this column by itself.")] = None,
    plain_likelihood: Annotated[
        bool,
        typer.Option("--plain-likelihood", help="Where pieces are bounds, the likelihood alone, as other programs do."),
    ] = False,
    confidence: Annotated[
        float, typer.Option(help="With which all ranges of pairs hold together (%); more where looks were planned.")
    ] = 95.0,
    claim: Claims = None,
    above: Annotated[str | None, typer.Option(help="Count the pieces above this, in the unit of the response.")] = None,
    as_json: Json = False,
) -> None:
    """Compare strengths in a tidy breaks file."""
    from adhaero.core.stats.analyse import Question
    from adhaero.files.tidy_csv import SEVERAL, Columns

    check_margin(margin)
    if not 50 <= confidence < 100:
        raise EntryError(
            f"--confidence is {confidence:g}.", "Expected a percentage from 50 to below 100.", field="confidence"
        )
    response = response or _find_response(file)
    columns = Columns(response, tuple(by), block, wood, read_where(where), each)
    specimens = read_specimens(file, columns)
    question = Question(
        response,
        SEVERAL.join(by),
        block,
        control,
        estimate,
        wood_failure_from,
        margin,
        plain_likelihood,
        confidence / 100,
    )
    parts = {"": specimens} if each is None else slice_by(specimens)
    found, lines = [], list[str]()
    for value, some in parts.items():
        if each is not None:
            lines += [f"{each}: {value}", ""]
        one, said = _analyse_part(some, question, len(by) > 1, above)
        found.append(one if each is None else {"value": value, **one})
        lines += [*said, ""]
    result = found[0] if each is None else {"each": each, "slices": found}
    if claim:
        from adhaero.core.claims.evidence import evidence_of_sets

        answers = _check(claim, evidence_of_sets(parts, question, columns.where, each or ""))
        result["claims"] = answers[0]
        lines += answers[1]
    print_result(result, as_json, lambda: "\n".join(lines).rstrip())


def _check(claims: Sequence[str], evidence: Any) -> tuple[list[dict[str, Any]], list[str]]:  # noqa: ANN401
    from adhaero.core.claims.check import check_conclusions, say_claim

    answers = check_conclusions(claims, evidence)
    return [asdict(one) for one in answers], [say_claim(one) for one in answers]


def slice_by(specimens: Sequence[Specimen]) -> dict[str, tuple[Specimen, ...]]:
    """Return the specimens of each slice; a set without a piece that counts in it is left out of it."""
    parts: dict[str, list[Specimen]] = {}
    for one in specimens:
        parts.setdefault(one.slice or "", []).append(one)
    found = {}
    for value, some in parts.items():
        usable = {one.level for one in some if one.excluded is None}
        kept = tuple(one for one in some if one.level in usable)
        if kept:
            found[value] = kept
    return found


def _analyse_part(
    specimens: tuple[Specimen, ...], question: "Question", crossed: bool, above: str | None
) -> tuple[dict[str, Any], list[str]]:
    from adhaero.core.stats.analyse import analyse

    result = analyse(specimens, question)
    found, lines = asdict(result), [_analysis_table(result)]
    if crossed:
        from adhaero.core.stats.factor_words import say_factors
        from adhaero.core.stats.factors import analyse_factors
        from adhaero.core.stats.table import make_table

        table = make_table(specimens, question.estimate, question.wood_failure_from, question.block)
        factors = analyse_factors(table, question.margin_pct)
        found["factors"] = asdict(factors)
        lines += ["", *say_factors(factors, question.margin_pct)]
    if above is not None:
        from adhaero.core.stats.failures import count_above, say_above

        line = _read_line(above)
        counts = count_above(specimens, [group.level for group in result.groups], line)
        found["above"] = {"line": line, "sets": [asdict(one) for one in counts]}
        lines += ["", f"Above {line:g}:", *map(say_above, counts)]
    return found, lines


def _find_response(file: Path) -> str:
    """Return the column of the strengths where nobody named one: that of a file as the application writes it."""
    with open_breaks(file) as source:
        header = next(iter(source.lines), "").rstrip("\r\n").split(",")
    found = next((name for name in RESPONSES if name in header), None)
    if found is None:
        raise EntryError(
            "--response is not said.", f"Expected the column of the strengths; none is called {', '.join(RESPONSES)}.",
            field="response",
        )  # fmt: skip
    return found


def check_margin(margin: float) -> None:
    """Raise `EntryError` for a margin that is no percentage."""
    if not 0 < margin < 1000:
        raise EntryError(f"--margin is {margin:g}.", "Expected a percentage above 0, e.g. 10.", field="margin")


def read_where(given: Sequence[str] | None) -> tuple[tuple[str, str], ...]:
    """Read `COLUMN=VALUE`, as often as given."""
    found = []
    for text in given or ():
        column, mark, value = text.partition("=")
        if not mark or not column.strip():
            raise EntryError(f"--where is “{text}”.", "Expected a column and its value, e.g. wet=dry.", field="where")
        found.append((column.strip(), value.strip()))
    return tuple(found)


def read_specimens(file: Path, columns: "Columns") -> tuple[Specimen, ...]:
    """Read a file, and say on stderr what was recognised about it."""
    from adhaero.files.tidy_csv import read_tidy

    with open_breaks(file) as source:
        specimens = read_tidy(source, columns)
    say_notes(source)
    return specimens


def say_notes(source: "Source") -> None:
    """Print what was recognised about a file beside the result."""
    for note in source.notes:
        print(note, file=sys.stderr)


def _read_line(text: str) -> float:
    try:
        line = float(text)
    except ValueError:
        line = -1.0
    if not 0 < line < float("inf"):
        raise EntryError(
            f"--above is “{text}”.", "Expected a number above 0 in the unit of the response.", field="above"
        )
    return line


@app.command("weibull")
def weibull_command(
    file: Path,
    response: Response,
    by: By,
    estimate: Which = Estimate.JOINT,
    wood_failure_from: Torn = 75.0,
    as_json: Json = False,
) -> None:
    """Judge the low end of each set by a Weibull distribution, a second opinion."""
    from math import exp

    from adhaero.core.stats.table import make_table
    from adhaero.core.stats.weibull import estimate_steps, fit_weibull, say_weibull
    from adhaero.files.tidy_csv import Columns

    specimens = read_specimens(file, Columns(response, tuple(by)))
    table = make_table(specimens, estimate, wood_failure_from)
    bounds = {level: table.bounds.take(table.sets == index) for index, level in enumerate(table.levels)}
    fits = {level: fit_weibull(one) for level, one in bounds.items()}

    def words() -> str:
        return "\n".join(say_weibull(level, fit, response) for level, fit in fits.items())

    found = {
        level: None
        if fit is None
        else {
            **asdict(fit),
            "points": [{"strength": exp(at), "below": below} for at, below in estimate_steps(bounds[level])],
        }
        for level, fit in fits.items()
    }
    print_result(found, as_json, words)


def _analysis_table(result: "Analysis") -> str:
    from adhaero.core.stats.degree import degree_of
    from adhaero.core.stats.verdict import say_pair, smaller_set

    lines = [f"{result.response} by {result.by}" + (f", within {result.block}" if result.block else ""), ""]
    lines.append(f"{'':20} {'n':>3} {'average':>9} {'middle':>9} {'worst':>9} {'scatter':>8}  typical (95 %)")
    for group in result.groups:
        read = group.as_read
        averages = " ".join(f"{number(value):>9}" for value in (read.mean, read.median, read.min))
        scatter = f"{number(read.cv_pct, 3):>6} %" if read.cv_pct is not None else f"{'–':>8}"
        lines.append(f"{group.level[:20]:20} {group.n:>3} {averages} {scatter}  {_typical(group)}")
    if result.overall:
        test = result.overall
        df = ", ".join(f"{one:.4g}" for one in test.df)
        lines += ["", f"{test.method}: F({df}) = {test.statistic:.4g}, p = {test.p:.3g}"]
    degree = degree_of(result.response)
    lines += ["", *(say_pair(pair, result.margin_pct, smaller_set(result, pair), degree) for pair in result.pairs)]
    lines += [f"Set aside: {one.specimen} ({one.reason})" for one in result.excluded]
    lines += [f"Mind: {warning}" for warning in result.warnings]
    return "\n".join(lines)


def _typical(group: "Group") -> str:
    if group.at_least is not None:
        said = f"at least {number(group.at_least)}"
    elif group.at_most is not None:
        said = f"at most {number(group.at_most)}"
    else:
        said = f"{number(group.typical)} ({span(group.typical_ci95)})"
    return f"{said}  {group.letters or ''}".rstrip()


Checker = Callable[[Sequence[str], Any], tuple[list[dict[str, Any]], list[str]]]
check_claims: Checker = _check
