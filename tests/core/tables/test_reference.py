"""Sheets as they are kept at benches, and what a careful reader makes of them: each as its own checker holds it."""

import json
from collections import Counter
from pathlib import Path

import pytest

from adhaero.core.errors import DataError
from adhaero.core.tables.against import compare_files
from adhaero.core.tables.answers import read_answers
from adhaero.core.tables.bring_in import BroughtIn, bring_in
from adhaero.core.tables.checks import check_arithmetic
from adhaero.core.tables.corrections import NONE
from adhaero.core.tables.documents import give_document
from adhaero.files.sheets.open_book import open_book
from tests.reference.sheets import check_sheets

FOLDER = Path(__file__).parents[2] / "reference" / "sheets"
CASES = [json.loads(line) for line in (FOLDER / "sheets.jsonl").read_text(encoding="utf-8").splitlines()]


def option(case: dict, name: str) -> list[str]:
    given = case["arguments"]
    return [given[at + 1] for at in range(0, len(given), 2) if given[at] == f"--{name}"]


def read(case: dict, file: str) -> BroughtIn:
    sheet = (option(case, "sheet") or [""])[0]
    return bring_in(open_book((FOLDER / file).read_bytes()), read_answers(option(case, "answer")), sheet)


@pytest.mark.parametrize("case", CASES, ids=[" ".join([one["file"], *one["arguments"]]) for one in CASES])
def test_a_sheet_is_read_as_a_careful_reader_reads_it(case: dict) -> None:
    if case["expect"].get("exit"):
        with pytest.raises(DataError):
            read(case, case["file"])
        return
    found = read(case, case["file"])
    older = option(case, "against")
    changes = compare_files(found.rows, read(case, older[0]).rows) if older else None
    document = give_document(found, check_arithmetic(found), read_answers(option(case, "answer")), NONE, changes)
    assert check_sheets.compare(json.loads(json.dumps(document)), case, Counter()) == []
