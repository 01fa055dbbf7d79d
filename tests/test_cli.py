"""The command line: one number, one table, one line for an error."""

import json
import os
import socket
import subprocess
import sys
from pathlib import Path

import pytest

from adhaero import cli

FOLDER = Path(__file__).parent / "reference"


_TWO = ("analyse", str(FOLDER / "blocked-complete.csv"), "--response", "strength_MPa")
_KEPT = ("retention", *_TWO[1:], "--by", "board", "--condition", "glue")


def run(*words: str) -> tuple[int, str, str]:
    done = subprocess.run([sys.executable, "-m", "adhaero", *words], capture_output=True, text=True, timeout=60)
    return done.returncode, done.stdout, done.stderr


def run_here(capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch, *words: str) -> tuple[int, str, str]:
    """As `run`, in this process: much faster."""
    monkeypatch.setattr(sys, "argv", ["adhaero", *words])
    code = 0
    try:
        cli.main()
    except SystemExit as end:
        code = int(end.code or 0)
    out, err = capsys.readouterr()
    return code, out, err


def test_an_error_is_one_line_and_exit_code_2() -> None:
    code, out, err = run("strength", "--fixture", "bend-4", "--load", "two tons", "--depth", "22mm")
    assert (code, out) == (2, "")
    assert err.startswith("adhaero: “two tons” was not understood")
    assert err.count("\n") == 1


@pytest.mark.parametrize(
    ("words", "expected"),
    [
        (
            ("strength", "--fixture", "block-shear", "--load", "640lbf", "--width", "0.8in", "--length", "1.25in"),
            "4.413 MPa",
        ),
        (
            ("strength", "--fixture", "bend-4", "--load", "85kgf", "--span", "240mm", "--width", "18", "--depth", "18"),
            "34.3 MPa",
        ),
        (("strength", "--fixture", "racking", "--load", "200N", "--arm", "150mm"), "30 N·m moment"),
        (
            ("strength", "--fixture", "withdrawal", "--gauge", "10MPa", "--bore", "20mm", "--area", "100mm2"),
            "31.42 MPa",
        ),
        (("clamp", "--area", "9in2", "--force", "450lbf", "--clamps", "3", "--target", "120psi:180psi"), "1.034 MPa"),
        (("power", "--cv", "15", "--groups", "4", "--n", "6"), "tells 44 % apart"),
        (("analyse", str(FOLDER / "blocked-complete.csv"), "--response", "strength_MPa", "--by", "glue"), "95 %"),
        (
            ("analyse", str(FOLDER / "censored-mixed.csv"), "--response", "strength_MPa", "--by", "glue"),
            "welch: F(",
        ),
        (
            (*_TWO, "--by", "glue", "--by", "board", "--above", "40", "--claim", "Wren is best"),
            "cannot be checked",
        ),
        ((*_KEPT, "--before", "Wren", "--after", "Heron"), "keeps"),
        (("passes", str(FOLDER / "passes-mixes.csv"), "--by", "mix", "--share", "90"), "29 pieces must all pass"),
        (
            ("analyse", str(FOLDER / "slices-each.csv"), "--response", "strength_MPa", "--by", "glue", "--each", "wet"),
            "wet: soaked",
        ),
        (("weibull", str(FOLDER / "blocked-complete.csv"), "--response", "strength_MPa", "--by", "glue"), "5 in 100"),
        (
            ("power", "--cv", "15", "--groups", "2", "--n", "5", "--difference", "30", "--held", "20", "--runs", "20"),
            "simulated 20 times, 20 % of the pieces only holding",
        ),
        (
            ("curve", str(FOLDER / "curve-cure.csv"), "--x", "clamp_hours", "--y", "strength_MPa", "--shape", "cure"),
            "% of it after",
        ),
    ],
)
def test_each_command_prints_its_number(
    words: tuple[str, ...], expected: str, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    code, out, err = run_here(capsys, monkeypatch, *words)
    assert (code, err) == (0, "")
    assert expected in out
    code, out, _ = run_here(capsys, monkeypatch, *words, "--json")
    assert code == 0
    assert isinstance(json.loads(out), dict)


@pytest.mark.parametrize(
    ("words", "expected"),
    [
        (("analyse", "nowhere.csv", "--response", "x", "--by", "y"), "nowhere.csv cannot be read"),
        (("analyse", str(FOLDER / "one-group.csv"), "--response", "x", "--by", "y"), "There is no column “x”"),
        (
            ("analyse", str(FOLDER / "one-group.csv"), "--response", "x", "--by", "y", "--margin", "-1"),
            "--margin is -1",
        ),
        (("strength", "--fixture", "bend-3"), "The load is not clear"),
        (("strength", "--fixture", "bend-3", "--load", "1N", "--width", "0"), "must be above 0"),
        (("strength", "--fixture", "guess", "--load", "1N"), "guess"),
        (("clamp", "--area", "9in2", "--force", "450lbf", "--target", "180psi:120psi"), "The target runs backwards"),
        (("power", "--cv", "0", "--groups", "4", "--n", "6"), "cv is 0"),
        (("rig-sim", "--dialect", "klingon"), "is not a dialect"),
        (("dance",), "dance"),
        (("strength",), "--fixture"),
    ],
)
def test_what_cannot_be_is_told_in_one_line(
    words: tuple[str, ...], expected: str, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    code, out, err = run_here(capsys, monkeypatch, *words)
    assert (code, out) == (2, "")
    assert expected in err
    assert err.count("\n") == 1


def test_a_port_in_use_is_told(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    with socket.create_server(("127.0.0.1", 0)) as taken:
        port = str(taken.getsockname()[1])
        code, _, err = run_here(capsys, monkeypatch, "serve", "--port", port, "--shop", str(tmp_path / "s.sqlite"))
    assert code == 2
    assert f"Port {port} is in use" in err


def test_the_shop_file_lies_where_the_person_says(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    monkeypatch.setenv("ADHAERO_HOME", str(tmp_path))
    assert cli.running.shop_path() == tmp_path / "shop.sqlite"
    monkeypatch.delenv("ADHAERO_HOME")
    monkeypatch.setenv("HOME", os.fspath(tmp_path))
    assert cli.running.shop_path() == tmp_path / ".local/share/adhaero/shop.sqlite"
