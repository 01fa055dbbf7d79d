"""Commands that analyse a tidy breaks file."""

import sys
from collections.abc import Sequence
from dataclasses import asdict, replace
from math import exp, inf
from pathlib import Path
from typing import Annotated, Any

import typer

from adhaero.cli.common import Json, app, number, print_result, span
from adhaero.core.errors import EntryError
from adhaero.core.stats.analyse import Analysis, Question, analyse
from adhaero.core.stats.breaks import Estimate, Specimen
from adhaero.core.stats.censored import Bounds
from adhaero.core.stats.claims import Evidence, check_conclusion, say_claim
from adhaero.core.stats.curve_comparison import compare_curves
from adhaero.core.stats.curve_words import say_curve, say_tests
from adhaero.core.stats.curves import Curve, Shape, fit_curve
from adhaero.core.stats.factor_words import say_factors, say_retention
from adhaero.core.stats.factors import analyse_factors
from adhaero.core.stats.failures import count_above, say_above
from adhaero.core.stats.retention import compute_retention
from adhaero.core.stats.table import make_table
from adhaero.core.stats.verdict import say_pair, smaller_set
from adhaero.core.stats.weibull import estimate_steps, fit_weibull, say_weibull
from adhaero.files.tidy_csv import SEVERAL, Source, open_tidy, read_points, read_tidy

Response = Annotated[str, typer.Option(help="The column of the strengths, e.g. strength_MPa.")]
Block = Annotated[str | None, typer.Option(help="The column of the boards.")]
Which = Annotated[Estimate, typer.Option(help="The joint as built, or the glue line.")]
Torn = Annotated[float, typer.Option(help="Torn wood (%) from which the glue line held.")]
Margin = Annotated[float, typer.Option(help="The smallest difference that matters (%).")]


@app.command("analyse")
def analyse_command(
    file: Path,
    response: Response,
    by: Annotated[list[str], typer.Option(help="The column of what is varied; again for each further one.")],
    block: Block = None,
    control: Annotated[str | None, typer.Option(help="Compare every other level with this one.")] = None,
    estimate: Which = Estimate.JOINT,
    wood_failure_from: Torn = 75.0,
    margin: Margin = 10.0,
    few_pieces: Annotated[
        bool, typer.Option("--few-pieces", help="Where pieces are bounds, ranges as wide as few pieces ask.")
    ] = False,
    claim: Annotated[str | None, typer.Option(help="A conclusion to check, e.g. “A is 20 % stronger than B”.")] = None,
    above: Annotated[str | None, typer.Option(help="Count the pieces above this, in the unit of the response.")] = None,
    as_json: Json = False,
) -> None:
    """Compare strengths in a tidy breaks file."""
    _check_margin(margin)
    specimens = _read(file, response, by, block)
    question = Question(response, SEVERAL.join(by), block, control, estimate, wood_failure_from, margin, few_pieces)
    result = analyse(specimens, question)
    found, lines = asdict(result), [_analysis_table(result)]
    if len(by) > 1:
        factors = analyse_factors(make_table(specimens, estimate, wood_failure_from, block), margin)
        found["factors"] = asdict(factors)
        lines += ["", *say_factors(factors, margin)]
    if claim is not None:
        every = result if control is None else analyse(specimens, replace(question, control=None))
        claims = check_conclusion(claim, Evidence([group.level for group in result.groups], every.pairs, margin))
        found["claims"] = [asdict(one) for one in claims]
        lines += ["", *map(say_claim, claims)]
    if above is not None:
        line = _read_line(above)
        counts = count_above(specimens, [group.level for group in result.groups], line)
        found["above"] = {"line": line, "sets": [asdict(one) for one in counts]}
        lines += ["", f"Above {line:g}:", *map(say_above, counts)]
    print_result(found, as_json, lambda: "\n".join(lines))


def _check_margin(margin: float) -> None:
    if not 0 < margin < 1000:
        raise EntryError(f"--margin is {margin:g}.", "Expected a percentage above 0, e.g. 10.", field="margin")


def _read(file: Path, response: str, by: Sequence[str], block: str | None) -> tuple[Specimen, ...]:
    with open_tidy(file) as source:
        specimens = read_tidy(source, response, by, block)
    _say_notes(source)
    return specimens


def _read_line(text: str) -> float:
    try:
        line = float(text)
    except ValueError:
        line = -1.0
    if not 0 < line < inf:
        raise EntryError(
            f"--above is “{text}”.", "Expected a number above 0 in the unit of the response.", field="above"
        )
    return line


@app.command("retention")
def retention_command(
    file: Path,
    response: Response,
    by: Annotated[list[str], typer.Option(help="The column of the sets; again for each further one.")],
    condition: Annotated[str, typer.Option(help="The column of the condition, e.g. wet.")],
    before: Annotated[str, typer.Option(help="Its value that the share is of, e.g. dry.")],
    after: Annotated[str, typer.Option(help="Its value that is compared, e.g. soaked.")],
    block: Block = None,
    pair: Annotated[str | None, typer.Option(help="The column that names matched pairs, instead of boards.")] = None,
    estimate: Which = Estimate.JOINT,
    wood_failure_from: Torn = 75.0,
    margin: Margin = 10.0,
    as_json: Json = False,
) -> None:
    """Say what each set keeps of its strength in another condition."""
    _check_margin(margin)
    if block and pair:
        raise EntryError("Both --block and --pair are given.", "Matched pairs are blocks already.", "Leave one out.")
    specimens = _read(file, response, [*by, condition], pair or block)
    table = make_table(specimens, estimate, wood_failure_from, pair or block)
    result = compute_retention(table, condition, before, after, margin, matched=pair is not None)
    print_result(asdict(result), as_json, lambda: "\n".join(say_retention(result)))


@app.command("weibull")
def weibull_command(
    file: Path,
    response: Response,
    by: Annotated[list[str], typer.Option(help="The column of what is varied; again for each further one.")],
    estimate: Which = Estimate.JOINT,
    wood_failure_from: Torn = 75.0,
    as_json: Json = False,
) -> None:
    """Judge the low end of each set by a Weibull distribution, a second opinion."""
    table = make_table(_read(file, response, by, None), estimate, wood_failure_from)
    bounds = {level: table.bounds.take(table.sets == index) for index, level in enumerate(table.levels)}
    fits = {level: fit_weibull(one) for level, one in bounds.items()}

    def words() -> str:
        return "\n".join(say_weibull(level, fit, response) for level, fit in fits.items())

    found = {
        level: None if fit is None else {**asdict(fit), "points": _plot_points(bounds[level])}
        for level, fit in fits.items()
    }
    print_result(found, as_json, words)


def _plot_points(bounds: Bounds) -> list[dict[str, float]]:
    return [{"strength": exp(at), "below": below} for at, below in estimate_steps(bounds)]


@app.command("curve")
def curve_command(
    file: Path,
    x: Annotated[str, typer.Option(help="The column along which strength changes, e.g. clamp_hours.")],
    y: Annotated[str, typer.Option(help="The column of the strengths, e.g. strength_MPa.")],
    shape: Annotated[Shape, typer.Option(help="Rising to a final value, falling from the first, or straight.")],
    by: Annotated[str | None, typer.Option(help="A curve for each value of this column, compared.")] = None,
    as_json: Json = False,
) -> None:
    """Fit a curve to strengths along something that is measured."""
    with open_tidy(file) as source:
        points = read_points(source, x, y, by)
    _say_notes(source)
    if by is None:
        curve = fit_curve(points, shape)
        print_result(_curve_json(curve, x, y), as_json, lambda: "\n".join(say_curve(curve, x, y)))
        return
    compared = compare_curves(points, shape)
    curves = {level: _curve_json(one, x, y) for level, one in compared.curves.items()}

    def table() -> str:
        lines = [f"{level}: {' '.join(say_curve(one, x, y))}" for level, one in compared.curves.items()]
        return "\n\n".join([*lines, *say_tests(compared)])

    print_result({"by": by, "curves": curves, "tests": [asdict(one) for one in compared.tests]}, as_json, table)


_CURVE_PARTS = {Shape.CURE: ("reach",), Shape.GAP: ("half",), Shape.STRAIGHT: ("change_pct_per_unit", "change_ci95")}


def _curve_json(curve: Curve, x: str, y: str) -> dict[str, Any]:
    """Return a curve with the fields that its shape has."""
    full = asdict(curve)
    for part in (
        "covariance",
        "df",
        *(part for shape, parts in _CURVE_PARTS.items() if shape != curve.shape for part in parts),
    ):
        del full[part]
    for name, one in full["parameters"].items():
        if (curve.shape, name) != (Shape.STRAIGHT, "b"):
            del one["ci95"]
    if curve.half is not None:
        del full["half"]["pct"]
    return {"shape": curve.shape, "x": x, "y": y, **full}


def _say_notes(source: Source) -> None:
    for note in source.notes:
        print(note, file=sys.stderr)


def _analysis_table(result: Analysis) -> str:
    lines = [f"{result.response} by {result.by}" + (f", within {result.block}" if result.block else ""), ""]
    lines.append(f"{'':20} {'n':>3} {'average':>9} {'middle':>9} {'worst':>9} {'scatter':>8}  typical (95 %)")
    for group in result.groups:
        read = group.as_read
        averages = " ".join(f"{number(value):>9}" for value in (read.mean, read.median, read.min))
        typical = f"{number(group.typical)} ({span(group.typical_ci95)})  {group.letters or ''}"
        lines.append(f"{group.level[:20]:20} {group.n:>3} {averages} {number(read.cv_pct, 3):>6} %  {typical}")
    if result.overall:
        test = result.overall
        kind = "F" if len(test.df) > 1 else "chi-square"
        df = ", ".join(f"{one:.4g}" for one in test.df)
        lines += ["", f"{test.method}: {kind}({df}) = {test.statistic:.4g}, p = {test.p:.3g}"]
    lines += ["", *(say_pair(pair, result.margin_pct, smaller_set(result, pair)) for pair in result.pairs)]
    lines += [f"Set aside: {one.specimen} ({one.reason})" for one in result.excluded]
    lines += [f"Mind: {warning}" for warning in result.warnings]
    return "\n".join(lines)
