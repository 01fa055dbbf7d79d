"""Files that are no tables, or that mean harm: refused with words, nothing of them run, memory bounded."""

import io
import zipfile

import openpyxl
import pytest

from adhaero.core.errors import DataError
from adhaero.core.tables.answers import Answers
from adhaero.core.tables.bring_in import bring_in
from adhaero.files.sheets.open_book import open_book

TABLE = "Piece,Glue,Load (N)\nA1,Heron,1200\nA2,Wren,1300\n"


def zipped(**files: bytes) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for name, content in files.items():
            packed.writestr(name.replace("__", "/"), content)
    return out.getvalue()


def workbook(*rows: list[object]) -> bytes:
    book = openpyxl.Workbook()
    for row in rows:
        book.active.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"", "empty"),
        (b"\x89PNG\r\n\x1a\n rest", "a picture (PNG)"),
        (b"%PDF-1.7 rest", "a picture (PDF)"),
        (b"PK\x03\x04 and no more", "broken"),
        (zipped(**{"a.txt": b"hello"}), "zip of other things"),
        (zipped(**{"xl/workbook.xml": b"0" * 250_000_000}), "unpacks to"),
        (b"\xd0\xcf\x11\xe0" + b"\0" * 600 + "EncryptedPackage".encode("utf-16-le"), "password"),
        (b"\xd0\xcf\x11\xe0" + b"\0" * 600, "broken"),
        (b"Piece,Glue\nA1,\0Heron\n", "line 2"),
        (b"Piece,Load\nA1," + b"9" * 1_000_000 + b"\n", "Line 2 has"),
        (b"Piece,Glue,Load\n" + b"a,b,1\n" * 101_000, "more than 300,000 cells"),
        (b"Piece," * 1_500 + b"\n", "column 1,5"),
        (zipped(**{"content.xml": b"<!DOCTYPE x [<!ENTITY a 'b'>]><x/>"}), "entities"),
        (zipped(**{"xl/workbook.xml": b"<broken", "xl/worksheets/sheet1.xml": b"<x/>"}), "broken"),
    ],
)
def test_what_is_no_table_is_refused_with_words(content: bytes, words: str) -> None:
    with pytest.raises(DataError) as refused:
        open_book(content)
    assert words in refused.value.sentence


def test_a_cell_far_out_is_refused_before_anything_builds_the_sheet() -> None:
    book = openpyxl.Workbook()
    book.active["A1"] = "Glue"
    book.active["XFD1048576"] = 1
    out = io.BytesIO()
    book.save(out)
    with pytest.raises(DataError) as refused:
        open_book(out.getvalue())
    assert "goes to row 1,048,576 and column 16,384" in refused.value.sentence


def test_formulas_that_point_outside_are_only_text() -> None:
    content = workbook(
        ["Piece", "Glue", "Load (N)"], ["A1", "Heron", 1200], ["A2", "Wren", "='[other.xlsx]Sheet1'!A1"],
        ["A3", "Wren", '=WEBSERVICE("http://127.0.0.1/x")'], ["A4", "Heron", 1300],
    )  # fmt: skip
    rows = bring_in(open_book(content), Answers()).rows
    assert [(row.label, row.value) for row in rows] == [("A1", 1200.0), ("A4", 1300.0)]


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
def test_a_text_is_read_in_the_encoding_it_is_in(encoding: str) -> None:
    content = TABLE.replace("Heron", "Möwe").encode(encoding)
    assert [row.set_name for row in bring_in(open_book(content), Answers()).rows] == ["Möwe", "Wren"]


def test_the_encoding_can_be_said() -> None:
    assert (
        bring_in(open_book(TABLE.replace("Heron", "Łyska").encode("cp1250"), "cp1250"), Answers()).rows[0].set_name
        == "Łyska"
    )
    with pytest.raises(DataError):
        open_book(TABLE.encode(), "no-such")


def test_two_tables_side_by_side_are_two() -> None:
    head = "Glue,A,B,C,,,Glue,D,E,F\nHeron,1200,1300,1250,,,Wren,900,950,980\n"
    found = bring_in(open_book(("Loads in N\n\n" + head).encode()), Answers())
    assert len(found.tables) == 2
    assert {row.set_name: row.value for row in found.rows} == {"Heron": 1250.0, "Wren": 980.0}


def test_names_of_blanks_alone_are_no_names() -> None:
    found = bring_in(open_book(b"Piece,Glue,Load (N)\nA1,   ,1200\nA2,Heron,1300\n"), Answers())
    assert [row.set_name for row in found.rows] == ["", "Heron"]


@pytest.mark.parametrize("encoding", ["klingon", "hex", "a\0b", "utf-16-le" * 2, "ascii"])
def test_an_encoding_that_is_none_or_does_not_fit_is_told(encoding: str) -> None:
    with pytest.raises(DataError, match="The file is not") as told:
        open_book("Größe;1\n".encode(), encoding)
    assert "Choose another" in told.value.sentence
