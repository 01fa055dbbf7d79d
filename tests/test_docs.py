"""What the documents promise: commands run, columns are described, what is said to be in one place is there."""

import csv
import io
import re
import shlex
from pathlib import Path

import pytest

from adhaero.api.app import ROUTERS
from adhaero.bench.breaking.hand_break import break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.bringing.package_out import export_package
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.breaks_file import export_breaks, name_size_columns
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.fixture import Fixture, compute_strength
from adhaero.core.joint import FORMS as JOINTS
from adhaero.core.joint import Joint, compute_glued_area
from tests.shops import ready_shop, typed_break
from tests.test_cli import run_here

ROOT = Path(__file__).parents[1]
README = (ROOT / "README.md").read_text()
CONTRIBUTING = (ROOT / "CONTRIBUTING.md").read_text()
DATA_FORMAT = (ROOT / "docs" / "data-format.md").read_text()
COMMANDS = re.findall(r"^    \.venv/bin/adhaero ((?:strength|clamp|power|analyse|retention|passes|curve|weibull|trace|"
                      r"rig-lines|bring-in|export|import) .*)$", README, re.M)  # fmt: skip
# one table that every command of the README can read
ROWS = [
    {"specimen": f"{glue[0]}-{board}{wet[0]}{sizing[0]}", "glue": glue, "sizing": sizing, "board": f"B{board}",
     "wet": wet,
     "strength_MPa": round(strength * (0.7 if wet == "soaked" else 1.0) * (1 + 0.03 * ((board * 7) % 5 - 2)), 2),
     "mix": glue, "wood": "ash", "passed": "yes" if board % 4 else "no", "clamp_hours": 0.5 * 2 ** (board % 4)}
    for glue, strength in (("Heron", 90.0), ("Wren", 80.0))
    for wet in ("dry", "soaked") for sizing in ("bare", "sized") for board in range(1, 9)
]  # fmt: skip


@pytest.fixture
def folder(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    with (tmp_path / "breaks.csv").open("w", newline="") as file:
        writer = csv.DictWriter(file, list(ROWS[0]))
        writer.writeheader()
        writer.writerows(ROWS)
    seconds = [number / 20 for number in range(200)]
    load = ["0.0"] * 20 + [f"{3 * number:.1f}" for number in range(140)] + ["2.0"] * 40
    lines = [f"{second:.2f},{value}" for second, value in zip(seconds, load, strict=True)]
    (tmp_path / "log.csv").write_text("\n".join(["t_s,load_kg", *lines]))
    (tmp_path / "lines.txt").write_text("1;12,5 kg;0\n1;12,6 kg;0\n")
    (tmp_path / "docks.csv").write_text("Piece,Glue,Load (N)\nA1,Heron,1200\nA2,Wren,1300\n")
    shop = ready_shop(tmp_path)
    for number, piece in enumerate(shop.pieces):
        break_by_hand(shop.file, shop.trial, typed_break(piece.id, f"{900 + 7 * number} N", Judgement("broke", "25")))
    (tmp_path / "heron.zip").write_bytes(export_package(shop.file, shop.trial))
    monkeypatch.setenv("ADHAERO_HOME", str(tmp_path))
    monkeypatch.chdir(tmp_path)
    return tmp_path


@pytest.mark.parametrize("command", COMMANDS)
@pytest.mark.usefixtures("folder")
def test_every_command_of_the_readme_runs(
    command: str, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    if command.startswith("export"):
        Path("heron.zip").unlink()
    code, out, err = run_here(capsys, monkeypatch, *shlex.split(command))
    assert code == 0, err
    assert out.strip()


def test_the_readme_has_a_command_of_each_kind() -> None:
    assert {command.split()[0] for command in COMMANDS} == {
        "strength", "clamp", "power", "analyse", "retention", "passes", "curve", "weibull", "trace", "rig-lines",
        "bring-in", "export", "import",
    }  # fmt: skip


def test_make_has_every_target_that_is_named() -> None:
    targets = set(re.findall(r"^([a-z]+):", (ROOT / "Makefile").read_text(), re.M))
    named = set(re.findall(r"`?make ([a-z]+)", README + CONTRIBUTING))
    assert named <= targets


def test_every_column_of_the_breaks_file_is_described(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    content = export_breaks(shop.file, shop.trial, Choice()).content
    described = set(re.findall(r"`(\w+)`", DATA_FORMAT)) | {"surface_prep", "prep"}
    assert set(next(csv.reader(io.StringIO(content)))) <= described
    for fixture in Fixture:
        assert set(name_size_columns(fixture, list(Joint))) <= described, fixture


@pytest.mark.parametrize("joint", list(Joint))
def test_a_strength_can_be_computed_again_from_the_sizes_of_the_file(joint: Joint) -> None:
    sizes = {name: 3.0 if name.endswith("count") else 12.0 + turn for turn, name in enumerate(JOINTS[joint].sizes)}
    for fixture, form in FIXTURES.items():
        known = sizes | {name: 20.0 for name in form.sizes if name not in sizes and name != "area_mm2"}
        if "area_mm2" in form.sizes:
            known["area_mm2"] = compute_glued_area(joint, sizes)
        written = {name: known[name] for name in name_size_columns(fixture, [joint])}
        assert compute_strength(fixture, 1000.0, written) == compute_strength(fixture, 1000.0, known)
        if "area_mm2" in form.sizes:
            again = {name: value for name, value in written.items() if name in JOINTS[joint].sizes}
            assert compute_glued_area(joint, again) == written["area_mm2"]


def test_what_contributing_names_is_there() -> None:
    for path in re.findall(
        r"`((?:src|tests|web|docs|benchmarks|core|bench|store|files|api)/[\w/.{},-]+)`", CONTRIBUTING
    ):
        where = [ROOT / path, ROOT / "src" / "adhaero" / path]
        assert any(one.exists() for one in where), path


def test_every_route_has_a_room_and_a_description() -> None:
    rooms = {
        "over",
        "bringing",
        "shop",
        "plan",
        "saw",
        "glue",
        "cure",
        "break",
        "compare",
        "library",
        "timetable",
        "computer",
        "method",
    }
    for router in ROUTERS:
        for route in router.routes:
            tags = getattr(route, "tags", None)
            assert tags is None or set(tags) <= rooms
            if getattr(route, "include_in_schema", False):
                assert getattr(route, "description", ""), route
