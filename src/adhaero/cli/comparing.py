"""Commands about conditions, curves and passes of a tidy breaks file."""

from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from adhaero.cli.analysing import (
    Block,
    By,
    Claims,
    Margin,
    Response,
    Torn,
    Where,
    Which,
    Wood,
    check_claims,
    check_margin,
    read_specimens,
    read_where,
    say_notes,
)
from adhaero.cli.common import Json, app, open_breaks, print_result
from adhaero.core.errors import DataError, EntryError
from adhaero.core.stats.breaks import Estimate
from adhaero.core.stats.shape import Shape

if TYPE_CHECKING:
    from adhaero.core.stats.curves import Curve


@app.command("retention")
def retention_command(
    file: Path,
    response: Response,
    by: By,
    condition: Annotated[str, typer.Option(help="The column of the condition, e.g. wet.")],
    before: Annotated[str, typer.Option(help="Its value that the share is of, e.g. dry.")],
    after: Annotated[
        list[str] | None, typer.Option(help="Its value that is compared, again for more; every other without.")
    ] = None,
    block: Block = None,
    wood: Wood = None,
    pair: Annotated[str | None, typer.Option(help="The column that names matched pairs, instead of boards.")] = None,
    estimate: Which = Estimate.JOINT,
    wood_failure_from: Torn = 75.0,
    margin: Margin = 10.0,
    where: Where = None,
    claim: Claims = None,
    as_json: Json = False,
) -> None:
    """Say what each set keeps of its strength in other conditions."""
    from adhaero.core.stats.factor_words import say_retention
    from adhaero.core.stats.retention import Asked, compute_retention
    from adhaero.files.tidy_csv import SEVERAL, Columns

    check_margin(margin)
    if block and pair:
        raise EntryError("Both --block and --pair are given.", "Matched pairs are blocks already.", "Leave one out.")
    if condition in by:
        raise EntryError(f"--condition and --by are both {condition}.", "A set is compared with itself in a condition.")
    columns = Columns(response, (*by, condition), pair or block, wood, read_where(where))
    specimens = read_specimens(file, columns)
    asked = Asked(condition, before, tuple(after or ()), pair, block, estimate, wood_failure_from, margin)
    result = compute_retention(specimens, asked)
    found = {"response": response, "by": SEVERAL.join(by), "pair": pair, "block": block, **asdict(result)}
    lines = [*say_retention(result), *(f"Mind: {one}" for one in result.warnings)]
    if claim:
        from adhaero.core.claims.evidence import evidence_of_retention

        found["claims"], said = check_claims(
            claim, evidence_of_retention(specimens, result, asked, columns.where, response)
        )
        lines += ["", *said]
    print_result(found, as_json, lambda: "\n".join(lines))


@app.command("curve")
def curve_command(
    file: Path,
    x: Annotated[str, typer.Option(help="The column along which strength changes, e.g. clamp_hours.")],
    y: Annotated[str, typer.Option(help="The column of the strengths, e.g. strength_MPa.")],
    shape: Annotated[Shape, typer.Option(help="Rising to a final value, falling from the first, or straight.")],
    by: Annotated[str | None, typer.Option(help="A curve for each value of this column, compared.")] = None,
    where: Where = None,
    claim: Claims = None,
    as_json: Json = False,
) -> None:
    """Fit a curve to strengths along something that is measured."""
    from adhaero.core.stats.curve_comparison import compare_curves
    from adhaero.core.stats.curve_words import say_comparison, say_curve
    from adhaero.core.stats.curves import fit_curve
    from adhaero.files.tidy_csv import read_points

    with open_breaks(file) as source:
        points = read_points(source, x, y, by, read_where(where))
    say_notes(source)
    found: dict[str, Any]
    if by is None:
        curves = {"": fit_curve(points, shape)}
        found, lines = _curve_json(curves[""], x, y), say_curve(curves[""], x, y)
    else:
        compared = compare_curves(points, shape)
        curves = dict(compared.curves)
        found = {
            "by": by,
            "curves": {level: _curve_json(one, x, y) for level, one in curves.items()},
            "tests": [asdict(one) for one in compared.tests],
            "pairs": [asdict(one) for one in compared.pairs],
        }
        lines = [f"{level}: {' '.join(say_curve(one, x, y))}\n" for level, one in curves.items()]
        lines += say_comparison(compared)
    if claim:
        from adhaero.core.claims.amounts import unit_of_column
        from adhaero.core.claims.evidence import evidence_of_curves

        evidence = evidence_of_curves(curves, x, unit_of_column(x), unit_of_column(y), read_where(where))
        found["claims"], said = check_claims(claim, evidence)
        lines += ["", *said]
    print_result(found, as_json, lambda: "\n".join(lines))


_CURVE_PARTS = {Shape.CURE: ("reach",), Shape.GAP: ("half",), Shape.STRAIGHT: ("change_pct_per_unit", "change_ci95")}


def _curve_json(curve: "Curve", x: str, y: str) -> dict[str, Any]:
    """Return a curve with the fields that its shape has."""
    full = asdict(curve)
    others = (part for shape, parts in _CURVE_PARTS.items() if shape != curve.shape for part in parts)
    for part in ("covariance", "df", "most_x", *others):
        del full[part]
    for name, one in full["parameters"].items():
        if (curve.shape, name) != (Shape.STRAIGHT, "b"):
            del one["ci95"]
    if curve.half is not None:
        del full["half"]["pct"]
    return {"shape": curve.shape, "x": x, "y": y, **full}


@app.command("passes")
def passes_command(
    file: Path,
    by: Annotated[str, typer.Option(help="The column of the sets.")],
    over: Annotated[str | None, typer.Option(help="A column by which each set is counted again, e.g. wood.")] = None,
    share: Annotated[float | None, typer.Option(help="The share (%) that is to be claimed.")] = None,
    as_json: Json = False,
) -> None:
    """Compare sets of pieces that passed or failed."""
    from adhaero.core.stats.pass_groups import compare_passes
    from adhaero.core.stats.pass_words import say_pass_comparison
    from adhaero.files.tidy_csv import read_passes

    if share is not None and not 0 < share < 100:
        raise EntryError(f"--share is {share:g}.", "Expected a percentage above 0 and below 100.", field="share")
    with open_breaks(file) as source:
        rows = read_passes(source, by, over)
    say_notes(source)
    counted = [(one.level, one.over, one.passed) for one in rows if one.excluded is None and one.passed is not None]
    if not counted:
        raise DataError("No piece that counts is judged.", "Expected yes or no in the column passed.", field="passed")
    result = compare_passes(counted, list(dict.fromkeys(one.level for one in rows)), share)
    groups = [asdict(one) for one in result.groups]
    for one in groups:
        one["over"] = [{"value": value, **counts} for value, counts in one["over"].items()]
        if over is None:
            del one["over"]
    found = {
        "by": by,
        "over": over,
        "excluded": [{"specimen": one.label, "reason": one.excluded} for one in rows if one.excluded is not None],
        "groups": groups,
        "pairs": [asdict(one) for one in result.pairs],
        "share_pct": share,
        "pieces_needed": result.pieces_needed,
        "warnings": result.warnings,
    }
    print_result(found, as_json, lambda: "\n".join(say_pass_comparison(result, share)))
