"""The worked cases of tests/reference, computed with independent software, through the command line."""

import json
from pathlib import Path

import pytest
from typer.testing import CliRunner

from adhaero.cli import app
from tests.reference.check import NotThere, difference, resolve

FOLDER = Path(__file__).parents[2] / "reference"
CASES = sorted(FOLDER.glob("*.expected.json"))


def test_the_cases_are_there() -> None:
    assert len(CASES) == 39


@pytest.mark.parametrize("file", CASES, ids=lambda file: file.name.split(".")[0])
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
