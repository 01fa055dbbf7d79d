"""The tidy breaks file: what is written reads back to the last digit, and bad rows are named."""

from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from adhaero.core.errors import DataError
from adhaero.core.stats.analyse import Question, analyse
from adhaero.core.stats.breaks import Outcome, Specimen
from adhaero.files.text_table import Source, open_table
from adhaero.files.tidy_csv import Columns, read_passes, read_points, read_tidy, write_tidy

GLUE, GLUE_ON_BOARDS = Columns("strength_MPa", ("glue",)), Columns("strength_MPa", ("glue",), "board")
HEADER = "specimen,glue,board,strength_MPa,held_strength_MPa,outcome,wood_failure_pct,excluded,rig\n"


def read(*rows: str) -> tuple:
    return read_tidy(HEADER + "".join(f"{row}\n" for row in rows), GLUE_ON_BOARDS)


def test_a_file_as_the_contract_shows_it() -> None:
    one, two, three = read(
        "H-01,Heron,B1,72.5,,broke,25,,press", "H-02,Heron,B1,60,55,step,,,", "W-01,Wren,B2,,,fell_apart,,dropped,"
    )
    assert (one.label, one.level, one.block, one.value, one.wood_failure_pct) == ("H-01", "Heron", "B1", 72.5, 25.0)
    assert one.circumstances == {"rig": "press"}
    assert (two.outcome, two.held_value) == (Outcome.STEP, 55.0)
    assert (three.outcome, three.value, three.excluded) == (Outcome.FELL_APART, None, "dropped")


def test_a_byte_order_mark_and_blanks_around_cells_do_no_harm() -> None:
    found = read_tidy("\ufeffspecimen,glue,strength_MPa\n H-01 , Heron , 5.5 \n", GLUE)
    assert (found[0].label, found[0].level, found[0].value, found[0].outcome) == ("H-01", "Heron", 5.5, "broke")


@pytest.mark.parametrize(
    ("row", "words"),
    [
        ("H-01,Heron,B1,strong,,broke,,,", "Row 2, column strength_MPa: found “strong”"),
        ("H-01,Heron,B1,,,broke,,,", "Row 2, column strength_MPa: found nothing"),
        ("H-01,Heron,B1,-2,,broke,,,", "zero or more"),
        ("H-01,Heron,B1,nan,,broke,,,", "column strength_MPa"),
        ("H-01,Heron,B1,inf,,broke,,,", "column strength_MPa"),
        ("H-01,Heron,B1,5,,exploded,,,", "broke, held, step, fell_apart or nothing"),
        ("H-01,Heron,B1,5,,broke,130,,", "a percentage from 0 to 100"),
        ("H-01,Heron,B1,5,,step,,,", "A step needs the last value that held"),
        ("H-01,Heron,B1,5,6,step,,,", "A step needs the last value that held"),
        (",Heron,B1,5,,broke,,,", "column specimen: found nothing"),
        ("H-01,,B1,5,,broke,,,", "a value of what is varied"),
        ("H-01,Heron,B1", "another number of columns"),
        ("H-01,Heron,B1,5,,broke,,,,,", "another number of columns"),
    ],
)
def test_a_bad_cell_is_named_by_row_and_column(row: str, words: str) -> None:
    with pytest.raises(DataError, match=words.replace("(", r"\(")):
        read(row)


def test_two_rows_of_one_specimen_are_named() -> None:
    with pytest.raises(DataError, match="Row 3, column specimen: H-01 stands in row 2 already"):
        read("H-01,Heron,B1,5,,broke,,,", "H-01,Wren,B1,6,,broke,,,")


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "There is no column “specimen”. The columns are: none"),
        ("specimen,strength_MPa\nH-01,5\n", "no column “glue”"),
        ("specimen,glue,glue,strength_MPa\n", "stands twice"),
        ("specimen,glue,strength_MPa\n", "no rows below its header"),
    ],
)
def test_a_file_without_what_is_asked_says_what_it_has(text: str, words: str) -> None:
    with pytest.raises(DataError, match=words):
        read_tidy(text, GLUE)


@given(st.floats(1e-12, 1e12), st.text(st.characters(codec="utf-8", exclude_categories=("Cc", "Cs")), min_size=1))
def test_what_is_written_reads_back_to_the_last_digit(value: float, note: str) -> None:
    label = note.strip() or "x"
    text = write_tidy(["specimen", "glue", "strength_MPa"], [{"specimen": label, "glue": "g", "strength_MPa": value}])
    found = read_tidy(text, GLUE)[0]
    assert (found.label, found.value) == (label, value)


def opened(tmp_path: Path, content: bytes) -> tuple[tuple[Specimen, ...], list[str]]:
    file = tmp_path / "breaks.csv"
    file.write_bytes(content)
    with open_table(file) as source:
        return read_tidy(source, GLUE), source.notes


PLAIN = "specimen,glue,strength_MPa\nH-01,Blütenleim,5.5\nH-02,Wren,6.25\n"


@pytest.mark.parametrize(
    ("text", "encoding", "note"),
    [
        (PLAIN, "utf-8", ""),
        (PLAIN, "utf-16", "UTF-16"),
        (PLAIN, "cp1252", "Windows-1252"),
        (PLAIN.replace(",", ";").replace(".", ","), "utf-8", "decimal commas"),
        (PLAIN.replace(",", ";"), "utf-8", "semicolons"),
        (PLAIN.replace(",", "\t"), "utf-8", "tabs"),
    ],
)
def test_other_encodings_and_separators_are_recognised_and_said(
    tmp_path: Path, text: str, encoding: str, note: str
) -> None:
    found, notes = opened(tmp_path, text.encode(encoding))
    assert [(one.level, one.value) for one in found] == [("Blütenleim", 5.5), ("Wren", 6.25)]
    assert (note in " ".join(notes)) if note else notes == []


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"\x89PNG\0\0", "is not text"),
        (b"specimen;glue;strength_MPa\nA;Wren;5,5\nB;Wren;6.5\n", "a decimal comma, as in row 2"),
        (b"specimen,glue,strength_MPa\nA,Wren,5\nB,Wren,870 psi\n", "the unit stands in the name of the column"),
        (b"specimen,glue,strength_MPa\nA,Wren,1e400\n", "Row 2, column strength_MPa"),
        (b"specimen,glue,strength_MPa\nA,Wren," + b"9" * 200_000, "A row has"),
    ],
)
def test_what_cannot_be_read_is_refused_with_its_row(tmp_path: Path, content: bytes, words: str) -> None:
    with pytest.raises(DataError, match=words):
        opened(tmp_path, content)


def test_rows_of_a_baseline_are_left_out_where_several_things_are_varied_and_it_is_said() -> None:
    text = "specimen,glue,sizing,strength_MPa\nA,Wren,bare,5\nB,,,9\n"
    source = Source(text.splitlines(keepends=True))
    assert [one.level for one in read_tidy(source, Columns("strength_MPa", ("glue", "sizing")))] == ["Wren, bare"]
    assert source.notes == ["1 row without any glue or sizing left out."]
    with pytest.raises(DataError, match="a value of what is varied"):
        read_tidy(text.replace("B,,", "B,Wren,"), Columns("strength_MPa", ("glue", "sizing")))


def test_five_hundred_levels_are_no_factor() -> None:
    rows = read_tidy("specimen,glue,strength_MPa\n" + "".join(f"P{n},G{n},5\n" for n in range(500)), GLUE)
    with pytest.raises(DataError, match="There are 500 sets to compare"):
        analyse(rows, Question("strength_MPa", "glue"))


def test_more_rows_than_fit_in_memory_are_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("adhaero.files.tidy_csv._MOST_ROWS", 3)
    rows = [f"P{turn},Wren,{10 + turn}" for turn in range(4)]
    header = "specimen,glue,strength_MPa\n"
    assert len(read_tidy(header + "\n".join(rows[:3]), GLUE)) == 3
    with pytest.raises(DataError, match="more than 3 rows"):
        read_tidy(header + "\n".join(rows), GLUE)


def test_a_load_of_nothing_is_a_piece_that_fell_apart_and_never_an_error() -> None:
    rows = "specimen,glue,strength_MPa\nA,Heron,0\nB,Heron,8\nC,Heron,9\nD,Heron,7\nE,Wren,6\nF,Wren,7\nG,Wren,6.5\n"
    heron = analyse(read_tidy(rows, GLUE), Question("strength_MPa", "glue")).groups[0]
    assert (heron.n_broke, heron.n_fell_apart, heron.as_read.mean) == (3, 1, 6.0)


def test_rows_are_kept_by_their_values_and_those_left_out_are_not_read_further() -> None:
    rows = "specimen,glue,wet,strength_MPa\nA,Heron,dry,5\nB,Heron,soaked,none\nC,Wren,dry,6\n"
    kept = read_tidy(rows, Columns("strength_MPa", ("glue",), where=(("wet", "dry"),)))
    assert [one.label for one in kept] == ["A", "C"]
    with pytest.raises(DataError, match=r"No row has wet=frozen\. wet has dry, soaked"):
        read_tidy(rows, Columns("strength_MPa", ("glue",), where=(("wet", "frozen"),)))
    with pytest.raises(DataError, match="There is no column “damp”"):
        read_tidy(rows, Columns("strength_MPa", ("glue",), where=(("damp", "dry"),)))


def test_passes_are_read_in_any_usual_words_and_nothing_else() -> None:
    found = read_passes("specimen,mix,passed\nA,1:1,yes\nB,1:1,0\nC,1:1,\nD,2:1,TRUE\n", "mix")
    assert [one.passed for one in found] == [True, False, None, True]
    with pytest.raises(DataError, match="Row 2, column passed: found “perhaps”"):
        read_passes("specimen,mix,passed\nA,1:1,perhaps\n", "mix")


def test_points_of_a_curve_may_lie_below_zero_and_need_their_x() -> None:
    found = read_points("specimen,years,strength_MPa\nA,-1,5\nB,2,6\n", "years", "strength_MPa")
    assert [(one.x, one.value) for one in found] == [(-1.0, 5.0), (2.0, 6.0)]
    with pytest.raises(DataError, match="Row 3, column years: found nothing"):
        read_points("specimen,years,strength_MPa\nA,1,5\nB,,6\n", "years", "strength_MPa")
