"""The worked cases of tests/reference, computed with independent software, through the command line."""

import json
import shlex
from pathlib import Path

import pytest
from typer.testing import CliRunner

from adhaero.cli import app
from adhaero.core.errors import NotYet
from tests.reference.check import NotThere, difference, resolve

FOLDER = Path(__file__).parents[2] / "reference"
CASES = sorted(FOLDER.glob("*.expected.json"))
LATER = ("censored", "curve")
NOW = [case for case in CASES if not case.name.startswith(LATER)]


def test_the_cases_are_there() -> None:
    assert len(CASES) == 17
    assert len(NOW) == 11


@pytest.mark.parametrize("file", NOW, ids=lambda file: file.name.split(".")[0])
def test_every_number_of_a_case_agrees(file: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    case = json.loads(file.read_text())
    monkeypatch.chdir(FOLDER)
    result = CliRunner().invoke(app, [*case["command"], "--json"], catch_exceptions=False)
    document = json.loads(result.stdout)
    wrong = []
    for path, expected in case["expect"].items():
        try:
            found = difference(resolve(document, path), expected, path, case["tolerance"])
        except NotThere as error:
            found = str(error)
        if found:
            wrong.append(f"{path}: {found}")
    assert wrong == []


@pytest.mark.parametrize("name", ["censored-mixed", "censored-glueline", "censored-blocked"])
def test_censored_breaks_wait_and_give_no_number(name: str, monkeypatch: pytest.MonkeyPatch) -> None:
    case = json.loads((FOLDER / f"{name}.expected.json").read_text())
    monkeypatch.chdir(FOLDER)
    result = CliRunner().invoke(app, [*case["command"], "--json"])
    assert isinstance(result.exception, NotYet), shlex.join(case["command"])
    assert "did not simply break" in result.exception.sentence
    assert result.stdout == ""
