"""The command line: re-run an analysis on an exported file, compute one number, run the application."""

import asyncio
import json
import os
import socket
import sys
import tempfile
import threading
from collections.abc import Callable
from dataclasses import asdict
from pathlib import Path
from typing import Annotated, Any

import typer
import uvicorn

from adhaero.api.app import LOCAL_HOSTS, create_app
from adhaero.core.errors import AdhaeroError, EntryError
from adhaero.core.fixture import FORMS, Fixture, compute_gauge_load, compute_strength
from adhaero.core.plan.clamping import compute_clamping
from adhaero.core.quantity import Bounds, Kind, parse_quantity
from adhaero.core.stats.analyse import Analysis, Question, analyse
from adhaero.core.stats.breaks import Estimate
from adhaero.core.stats.curve_words import say_curve, say_tests
from adhaero.core.stats.curves import Curve, Shape, compare_curves, fit_curve
from adhaero.core.stats.power import compute_power
from adhaero.core.stats.verdict import say_pair, smaller_set
from adhaero.demo.build import build_demo
from adhaero.files.tidy_csv import Source, open_tidy, read_points, read_tidy
from adhaero.rig.simulated import DIALECTS, RigServer, RigTraits, SimulatedRig, serve_simulated
from adhaero.store.file import ShopFile, open_shop

app = typer.Typer(
    help=__doc__, no_args_is_help=True, add_completion=False, rich_markup_mode=None, pretty_exceptions_enable=False
)

Json = Annotated[bool, typer.Option("--json", help="Print JSON instead of a table.")]


def main() -> None:
    """Run the command; an error is one line on stderr and exit code 2."""
    try:
        app(standalone_mode=False)
    except AdhaeroError as error:
        _give_up(error.sentence)
    except typer.TyperException as error:
        _give_up(" ".join(error.format_message().split()))
    except typer.Abort:
        raise SystemExit(130) from None


def _give_up(why: str) -> None:
    print(f"adhaero: {why}", file=sys.stderr)
    raise SystemExit(2)


def _print(result: dict[str, Any], as_json: bool, table: Callable[[], str]) -> None:
    print(json.dumps(result, ensure_ascii=False, indent=1) if as_json else table())


@app.command("analyse")
def analyse_command(
    file: Path,
    response: Annotated[str, typer.Option(help="The column of the strengths, e.g. strength_MPa.")],
    by: Annotated[str, typer.Option(help="The column of what is varied.")],
    block: Annotated[str | None, typer.Option(help="The column of the boards.")] = None,
    control: Annotated[str | None, typer.Option(help="Compare every other level with this one.")] = None,
    estimate: Annotated[Estimate, typer.Option(help="The joint as built, or the glue line.")] = Estimate.JOINT,
    wood_failure_from: Annotated[float, typer.Option(help="Torn wood (%) from which the glue line held.")] = 75.0,
    margin: Annotated[float, typer.Option(help="The smallest difference that matters (%).")] = 10.0,
    as_json: Json = False,
) -> None:
    """Compare strengths in a tidy breaks file."""
    if not 0 < margin < 1000:
        raise EntryError(f"--margin is {margin:g}.", "Expected a percentage above 0, e.g. 10.", field="margin")
    with open_tidy(file) as source:
        specimens = read_tidy(source, response, by, block)
    _say_notes(source)
    result = analyse(specimens, Question(response, by, block, control, estimate, wood_failure_from, margin))
    _print(asdict(result), as_json, lambda: _analysis_table(result))


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
        _print(_curve_json(curve, x, y), as_json, lambda: "\n".join(say_curve(curve, x, y)))
        return
    compared = compare_curves(points, shape)
    curves = {level: _curve_json(one, x, y) for level, one in compared.curves.items()}

    def table() -> str:
        lines = [f"{level}: {' '.join(say_curve(one, x, y))}" for level, one in compared.curves.items()]
        return "\n\n".join([*lines, *say_tests(compared)])

    _print({"by": by, "curves": curves, "tests": [asdict(one) for one in compared.tests]}, as_json, table)


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


def _number(value: float | None, digits: int = 4) -> str:
    return "–" if value is None else f"{value:.{digits}g}"


def _range(ends: tuple[float, float] | None) -> str:
    return "–" if ends is None else f"{ends[0]:.4g} to {ends[1]:.4g}"


def _analysis_table(result: Analysis) -> str:
    lines = [f"{result.response} by {result.by}" + (f", within {result.block}" if result.block else ""), ""]
    lines.append(f"{'':20} {'n':>3} {'average':>9} {'middle':>9} {'worst':>9} {'scatter':>8}  typical (95 %)")
    for group in result.groups:
        read = group.as_read
        averages = " ".join(f"{_number(value):>9}" for value in (read.mean, read.median, read.min))
        typical = f"{_number(group.typical)} ({_range(group.typical_ci95)})  {group.letters or ''}"
        lines.append(f"{group.level[:20]:20} {group.n:>3} {averages} {_number(read.cv_pct, 3):>6} %  {typical}")
    if result.overall:
        test = result.overall
        lines += ["", f"{test.method}: F({test.df[0]:.4g}, {test.df[1]:.4g}) = {test.statistic:.4g}, p = {test.p:.3g}"]
    lines += ["", *(say_pair(pair, result.margin_pct, smaller_set(result, pair)) for pair in result.pairs)]
    lines += [f"Set aside: {one.specimen} ({one.reason})" for one in result.excluded]
    lines += [f"Mind: {warning}" for warning in result.warnings]
    return "\n".join(lines)


@app.command("power")
def power_command(
    cv: Annotated[float, typer.Option(help="Scatter of the pieces, percent.")],
    groups: Annotated[int, typer.Option(help="How many sets.")],
    n: Annotated[int, typer.Option(help="Pieces per set.")],
    difference: Annotated[float | None, typer.Option(help="The difference that matters, percent.")] = None,
    as_json: Json = False,
) -> None:
    """Say what difference a plan can tell apart."""
    result = compute_power(cv, groups, n, difference)

    def table() -> str:
        pairs = groups * (groups - 1) // 2
        lines = [
            f"{n} pieces in each of {groups} sets, scatter {cv:g} %: tells {_number(result.detectable_pct, 3)} % apart"
        ]
        lines.append(f"(80 % power; each of {pairs} pairs at {100 * result.pairwise_level:.3g} %, Bonferroni)")
        if difference is not None:
            lines.append(
                f"for {difference:g} %: {result.n_needed} pieces of each; power now {_number(result.power, 3)}"
            )
        return "\n".join(lines)

    _print(asdict(result), as_json, table)


@app.command("strength")
def strength_command(
    fixture: Annotated[Fixture, typer.Option(help="How the piece was loaded.")],
    load: Annotated[str | None, typer.Option(help="The load, e.g. 796lbf.")] = None,
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

    _print({"fixture": fixture, **asdict(result)}, as_json, table)


def _read_load(load: str | None, gauge: str | None, bore: str | None) -> float:
    if load is not None and gauge is None:
        return parse_quantity(load, Kind.FORCE, bounds=Bounds(zero_allowed=True), field="load").si
    if load is None and gauge is not None and bore is not None:
        pressure = parse_quantity(gauge, Kind.STRESS, field="gauge").si
        return compute_gauge_load(pressure, parse_quantity(bore, Kind.LENGTH, field="bore").si)
    raise EntryError("The load is not clear.", "Expected --load, or --gauge with --bore.", field="load")


@app.command("clamp")
def clamp_command(
    area: Annotated[str, typer.Option(help="The glued area, e.g. 7in2.")],
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

    _print(asdict(result), as_json, table)


Port = Annotated[int, typer.Option(min=0, max=65534, help="The port of the page; 0 takes a free one.")]
Host = Annotated[str, typer.Option(help="The address to listen on; others than this machine must be named on purpose.")]


def shop_path() -> Path:
    """Return where the shop file lies: in `ADHAERO_HOME`, or the user's data folder."""
    home = os.environ.get("ADHAERO_HOME")
    return (Path(home) if home else Path.home() / ".local/share/adhaero") / "shop.sqlite"


@app.command("serve")
def serve_command(
    port: Port = 8700,
    host: Host = "127.0.0.1",
    shop: Annotated[Path | None, typer.Option(help="The shop file.")] = None,
) -> None:
    """Run the application on the shop file."""
    _serve(open_shop(shop or shop_path()), host, port)


@app.command("demo")
def demo_command(
    port: Port = 8700,
    host: Host = "127.0.0.1",
    if_free: Annotated[bool, typer.Option("--if-free", help="Do nothing when the port is taken.")] = False,
    seed: Annotated[int, typer.Option(help="The same seed gives the same demo.")] = 4117,
) -> None:
    """Run the application with the demo data, in a throw-away copy, with the practice rig beside it."""
    if if_free and _is_taken(host, port):
        return
    with tempfile.TemporaryDirectory(prefix="adhaero-demo-", ignore_cleanup_errors=True) as folder:
        rig_port = start_practice_rig(7801, 80.0, seed)
        print("building the demo: breaking 46 pieces on the simulated rig …", flush=True)
        file = build_demo(Path(folder) / "shop.sqlite", seed, rig_port)
        _serve(file, host, port)


@app.command("rig-sim")
def rig_sim_command(
    port: Annotated[int, typer.Option(min=0, max=65534, help="Lines on this port, commands on the next.")] = 7801,
    rate: Annotated[float, typer.Option(min=1, max=100, help="Lines a second.")] = 80.0,
    seed: Annotated[int, typer.Option(help="The same seed gives the same test.")] = 7,
    dialect: Annotated[str, typer.Option(help=f"How it speaks: {', '.join(DIALECTS)}.")] = "label",
) -> None:
    """Run the simulated rig."""
    if dialect not in DIALECTS:
        raise EntryError(f"“{dialect}” is not a dialect.", f"Choose one of {', '.join(DIALECTS)}.", field="dialect")
    try:
        asyncio.run(serve_simulated(port, rate, seed, dialect))
    except KeyboardInterrupt:
        pass
    except OSError as error:
        raise EntryError(
            f"Port {port} or {port + 1} cannot be used ({error.strerror}).", do="Name another --port."
        ) from None


def start_practice_rig(port: int, rate_hz: float, seed: int) -> int:
    """Run a simulated rig in a thread of its own and return the port of its lines; another one if it is taken."""
    started = threading.Event()
    found: list[int] = []

    async def run() -> None:
        server = RigServer(SimulatedRig(RigTraits(rate_hz=rate_hz), seed))
        try:
            found.append(await server.start(port))
        except OSError:
            found.append(await server.start(0))
        started.set()
        await asyncio.Event().wait()

    threading.Thread(target=lambda: asyncio.run(run()), name="practice rig", daemon=True).start()
    started.wait(timeout=5)
    return found[0]


def _is_taken(host: str, port: int) -> bool:
    with socket.socket() as probe:
        return probe.connect_ex((host, port)) == 0


def _serve(file: ShopFile, host: str, port: int) -> None:
    if _is_taken(host, port):
        raise EntryError(f"Port {port} is in use.", do="Stop the other program, or name another --port.")
    local = host in LOCAL_HOSTS
    if not local:
        print(f"listening on {host}: anyone on this network can read and change the shop", file=sys.stderr)
    print(f"Adhaero: http://{host}:{port}/   (shop file: {file.path})", flush=True)
    hosts = LOCAL_HOSTS if local else (*LOCAL_HOSTS, host, *([socket.gethostname()] if host == "0.0.0.0" else []))
    uvicorn.run(create_app(file, hosts), host=host, port=port, log_level="warning", timeout_graceful_shutdown=2)
