"""Commands that compute one number: power, strength, pressure."""

from dataclasses import asdict
from typing import Annotated

import typer

from adhaero.cli.common import Json, app, number, print_result
from adhaero.core.errors import EntryError
from adhaero.core.fixture import FORMS, Fixture, compute_gauge_load, compute_strength
from adhaero.core.plan.clamping import compute_clamping
from adhaero.core.quantity import Bounds, Kind, parse_quantity
from adhaero.core.stats.power import Power, compute_power
from adhaero.core.stats.power_simulated import SimulatedPlan, simulate_power


@app.command("power")
def power_command(
    cv: Annotated[float, typer.Option(help="Scatter of the pieces, percent.")],
    groups: Annotated[int, typer.Option(help="How many sets.")],
    n: Annotated[int, typer.Option(help="Pieces per set.")],
    difference: Annotated[float | None, typer.Option(help="The difference that matters, percent.")] = None,
    boards: Annotated[float | None, typer.Option(help="Simulate: scatter between boards, percent.")] = None,
    held: Annotated[float, typer.Option(help="Simulate: pieces that only hold, percent.")] = 0.0,
    runs: Annotated[int, typer.Option(help="Simulated plans.")] = 1000,
    as_json: Json = False,
) -> None:
    """Say what difference a plan can tell apart; with boards or pieces that only hold, by simulation."""
    result = compute_power(cv, groups, n, difference)
    found, lines = asdict(result), [_power_table(result, cv, groups, n, difference)]
    if boards is not None or held:
        if difference is None:
            raise EntryError("A simulation needs a difference.", "Expected --difference, percent.", field="difference")
        simulated = simulate_power(SimulatedPlan(cv, groups, n, difference, boards, held), runs)
        found["simulated"] = asdict(simulated)
        lines.append(
            f"simulated {simulated.runs} times"
            + (f", boards scattering by {boards:g} %" if boards is not None else "")
            + (f", {held:g} % of the pieces only holding" if held else "")
            + f": power {simulated.power:.2f} ± {1.96 * simulated.error:.2f}"
        )
    print_result(found, as_json, lambda: "\n".join(lines))


def _power_table(result: Power, cv: float, groups: int, n: int, difference: float | None) -> str:
    pairs = groups * (groups - 1) // 2
    lines = [f"{n} pieces in each of {groups} sets, scatter {cv:g} %: tells {number(result.detectable_pct, 3)} % apart"]
    lines.append(f"(80 % power; each of {pairs} pairs at {100 * result.pairwise_level:.3g} %, Bonferroni)")
    if difference is not None:
        lines.append(f"for {difference:g} %: {result.n_needed} pieces of each; power now {number(result.power, 3)}")
    return "\n".join(lines)


@app.command("strength")
def strength_command(
    fixture: Annotated[Fixture, typer.Option(help="How the piece was loaded.")],
    load: Annotated[str | None, typer.Option(help="The load, e.g. 640lbf.")] = None,
    gauge: Annotated[str | None, typer.Option(help="A hydraulic gauge pressure instead, with --bore.")] = None,
    bore: Annotated[str | None, typer.Option(help="The bore of the ram.")] = None,
    width: Annotated[str | None, typer.Option()] = None,
    length: Annotated[str | None, typer.Option(help="The overlap.")] = None,
    depth: Annotated[str | None, typer.Option()] = None,
    span: Annotated[str | None, typer.Option()] = None,
    a: Annotated[str | None, typer.Option(help="From each load to its support.")] = None,
    arm: Annotated[str | None, typer.Option()] = None,
    area: Annotated[str | None, typer.Option(help="The glued area.")] = None,
    as_json: Json = False,
) -> None:
    """Turn a load and sizes into a strength."""
    typed = {
        "width_mm": width,
        "overlap_mm": length,
        "depth_mm": depth,
        "span_mm": span,
        "load_arm_mm": a,
        "arm_mm": arm,
    }
    sizes = {name: parse_quantity(text, Kind.LENGTH, field=name).si for name, text in typed.items() if text is not None}
    if area is not None:
        sizes["area_mm2"] = parse_quantity(area, Kind.AREA, field="area").si
    if fixture is Fixture.BEND_4 and "load_arm_mm" not in sizes and "span_mm" in sizes:
        sizes["load_arm_mm"] = sizes["span_mm"] / 3
    result = compute_strength(fixture, _read_load(load, gauge, bore), sizes)

    def table() -> str:
        strength = f"{result.moment_nm:.4g} N·m" if result.moment_nm is not None else f"{result.strength_mpa:.4g} MPa"
        return f"{result.load_n:.4g} N → {strength} {result.kind} ({FORMS[fixture].formula})"

    print_result({"fixture": fixture, **asdict(result)}, as_json, table)


def _read_load(load: str | None, gauge: str | None, bore: str | None) -> float:
    if load is not None and gauge is None:
        return parse_quantity(load, Kind.FORCE, bounds=Bounds(zero_allowed=True), field="load").si
    if load is None and gauge is not None and bore is not None:
        pressure = parse_quantity(gauge, Kind.STRESS, field="gauge").si
        return compute_gauge_load(pressure, parse_quantity(bore, Kind.LENGTH, field="bore").si)
    raise EntryError("The load is not clear.", "Expected --load, or --gauge with --bore.", field="load")


@app.command("clamp")
def clamp_command(
    area: Annotated[str, typer.Option(help="The glued area, e.g. 9in2.")],
    force: Annotated[str, typer.Option(help="Force of one clamp.")],
    clamps: Annotated[int, typer.Option(help="How many clamps press it.")] = 1,
    target: Annotated[str | None, typer.Option(help="Wanted pressure, one or lowest:highest.")] = None,
    as_json: Json = False,
) -> None:
    """Turn clamps on an area into a pressure."""
    ends = None
    if target is not None:
        low, _, high = target.partition(":")
        ends = (
            parse_quantity(low, Kind.STRESS, field="target").si,
            parse_quantity(high or low, Kind.STRESS, field="target").si,
        )
    area_mm2 = parse_quantity(area, Kind.AREA, field="area").si
    result = compute_clamping(area_mm2, parse_quantity(force, Kind.FORCE, field="force").si, clamps, ends)

    def table() -> str:
        line = f"{result.force_n:.4g} N on {result.area_mm2:.4g} mm² = {result.pressure_mpa:.4g} MPa"
        if result.clamps_needed is None:
            return line
        low, high = result.clamps_needed
        inside = "within" if result.within_target else "outside"
        return f"{line}, {inside} the target; it takes {low} to {high} such clamps"

    print_result(asdict(result), as_json, table)
