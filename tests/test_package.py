"""A trial of the demo leaves as a data package and comes back the same; whatever is changed in it is told."""

import csv
import io
import json
import zipfile
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from adhaero.bench.bringing.package_in import look_at_package, take_package
from adhaero.bench.bringing.package_out import Licence, export_package
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.breaks_file import export_breaks
from adhaero.bench.compare.view import view_compare
from adhaero.bench.over.history import view_history
from adhaero.bench.over.today import view_today
from adhaero.core.errors import DataError
from adhaero.store.file import ShopFile
from adhaero.store.parts import PARTS, list_columns
from adhaero.store.whole import Cells, read_part
from tests.shops import empty_shop

FINISHED, PLATES, DIAL = 1, 4, 5
Files = dict[str, bytes]


@pytest.fixture(scope="module")
def whole(demo: ShopFile) -> bytes:
    return export_package(demo, FINISHED, Licence.CC_BY)


@pytest.fixture(scope="module")
def elsewhere(tmp_path_factory: pytest.TempPathFactory) -> ShopFile:
    """Return an empty shop that nothing wrong may come into."""
    return empty_shop(tmp_path_factory.mktemp("elsewhere") / "shop.sqlite")


def unpack(content: bytes) -> Files:
    with zipfile.ZipFile(io.BytesIO(content)) as packed:
        return {name: packed.read(name) for name in packed.namelist()}


def pack(files: Files) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for name, content in files.items():
            packed.writestr(name, content)
    return out.getvalue()


def read_all(file: ShopFile, trial_id: int) -> dict[str, list[Cells]]:
    """Return every row of a trial with ids by their order: what does not depend on the shop it stands in."""
    with file.reading() as connection:
        rows = {part.name: list(read_part(connection, part, trial_id)) for part in PARTS}
        columns = {part.name: list_columns(connection, part) for part in PARTS}
    own = {row["id"] for row in rows["changes"] if row["what"].startswith("Brought in the package")}
    rows["changes"] = [row for row in rows["changes"] if row["id"] not in own]
    rows["changed_rows"] = [row for row in rows["changed_rows"] if row["change_id"] not in own]
    order = {name: {one["id"]: at for at, one in enumerate(own)} for name, own in rows.items()}
    for name, own in rows.items():
        for one in columns[name]:
            for row in own:
                if one.to is not None:
                    row[one.name] = order[one.to].get(row[one.name])
        for row in own:
            row["id"] = order[name][row["id"]]
    return rows


def without_ids(breaks: bytes) -> list[dict[str, str]]:
    """Return the rows of a breaks file without the number of the calibration, which is the shop's."""
    return [{**row, "calibration": ""} for row in csv.DictReader(io.StringIO(breaks.decode(), newline=""))]


@pytest.mark.parametrize("trial", [FINISHED, 2, 3, PLATES, DIAL])
def test_a_trial_comes_back_equal_in_every_table(demo: ShopFile, tmp_path: Path, trial: int) -> None:
    content = export_package(demo, trial)
    other = empty_shop(tmp_path / "other.sqlite")
    taken = take_package(other, "trial.zip", content)
    assert taken.touched == []
    left, came = read_all(demo, trial), read_all(other, taken.id)
    assert [len(own) for own in left.values()] == [len(own) for own in came.values()]
    for name, own in left.items():
        # which rows the history is about, and what can be undone, is of the shop
        without = {"changes": ("undoable",), "changed_rows": ("row_id", "before", "after"), "tasks": ("pieces",)}
        for one, two in zip(own, came[name], strict=True):
            for column in one:
                if column not in without.get(name, ()):
                    assert one[column] == two[column], (name, column)
    again = unpack(export_package(other, taken.id))
    for name, file in unpack(content).items():
        if name.startswith(("traces/", "photos/", "sources/")) or name == "METHOD.md":
            assert again[name] == file, name
    assert without_ids(again["breaks.csv"]) == without_ids(unpack(content)["breaks.csv"])


def test_it_can_be_worked_with_in_its_new_shop(demo: ShopFile, whole: bytes, tmp_path: Path) -> None:
    other = empty_shop(tmp_path / "other.sqlite")
    taken = take_package(other, "shafts.zip", whole)
    view, before = view_compare(other, taken.id, Choice()), view_compare(demo, FINISHED, Choice())
    assert view.summary == before.summary
    assert view.pairs == before.pairs
    assert [line.question for line in view_today(other).trials] == [
        next(line.question for line in view_today(demo).trials if line.id == FINISHED)
    ]
    lines = view_history(other, taken.id, most=1000).lines
    assert lines[0].what == "Brought in the package shafts.zip"
    assert any(detail.words == "torn wood" for line in lines[1:] for detail in line.details)


def test_glues_rigs_and_boards_that_stand_there_already_are_not_written_twice(demo: ShopFile, whole: bytes) -> None:
    def count() -> dict[str, int]:
        with demo.reading() as connection:
            return {
                name: connection.execute(f"SELECT count(*) AS n FROM {name}").fetchone()["n"]
                for name in ("rig", "rig_version", "calibration", "check_weight", "glue", "glue_figure", "stock_board")
            }

    before = count()
    assert take_package(demo, "shafts.zip", whole).id not in (1, 2, 3, 4, 5)
    assert count() == before


def test_another_card_of_the_same_name_is_kept_apart(whole: bytes, tmp_path: Path) -> None:
    files = unpack(whole)
    other = empty_shop(tmp_path / "other.sqlite")
    first = take_package(other, "first.zip", whole)
    files["calibrations.csv"] = change_cell(files["calibrations.csv"], 2, "newton_per_unit", "9.7")
    second = take_package(other, "second.zip", pack(files))
    assert second.touched == ["calibrations.csv"]
    with other.reading() as connection:
        rigs = [row["name"] for row in connection.execute("SELECT name FROM rig ORDER BY id")]
    assert len(rigs) == 2
    assert rigs[1] == f"{rigs[0]} (2)"
    assert export_breaks(other, first.id, Choice()).content != ""


def change_cell(content: bytes, row: int, column: str, value: str) -> bytes:
    table = list(csv.reader(io.StringIO(content.decode(), newline="")))
    table[row - 1][table[0].index(column)] = value
    out = io.StringIO()
    csv.writer(out, lineterminator="\n").writerows(table)
    return out.getvalue().encode()


def cell(file: str, row: int, column: str, value: str) -> Callable[[Files], None]:
    def change(files: Files) -> None:
        files[file] = change_cell(files[file], row, column, value)

    return change


def line(file: str, row: int, value: bytes | None) -> Callable[[Files], None]:
    def change(files: Files) -> None:
        lines = files[file].split(b"\n")
        lines[row - 1 : row] = [] if value is None else [value]
        files[file] = b"\n".join(lines)

    return change


def replace(file: str, old: bytes, new: bytes) -> Callable[[Files], None]:
    def change(files: Files) -> None:
        assert old in files[file]
        files[file] = files[file].replace(old, new, 1)

    return change


def drop(file: str) -> Callable[[Files], None]:
    return lambda files: files.pop(file) and None


def first_trace(files: Files) -> str:
    return next(name for name in sorted(files) if name.startswith("traces/"))


def repeat_label(files: Files) -> None:
    rows = list(csv.DictReader(io.StringIO(files["pieces.csv"].decode())))
    files["pieces.csv"] = change_cell(files["pieces.csv"], 4, "label", rows[1]["label"])


CHANGES: dict[str, tuple[Callable[[Files], None], tuple[str, ...]]] = {
    "a table is gone": (drop("pieces.csv"), ("pieces.csv", "is not in the package")),
    "a heading is another": (replace("sets.csv", b"name", b"title"), ("sets.csv", "row 1", "title")),
    "a heading stands twice": (replace("boards.csv", b"species", b"name"), ("boards.csv", "name")),
    "a text where a number is": (cell("measurements.csv", 5, "mm", "wide"),
        ("measurements.csv, row 5, column mm", "wide")),
    "a decimal comma": (cell("measurements.csv", 6, "mm", "26,1"), ("measurements.csv, row 6, column mm", "26,1")),
    "endless": (cell("measurements.csv", 6, "mm", "INF"), ("measurements.csv, row 6, column mm",)),
    "blank where something must be": (cell("pieces.csv", 3, "label", ""), ("pieces.csv, row 3, column label",)),
    "a word that is none of those": (cell("pulls.csv", 4, "outcome", "snapped"),
        ("pulls.csv, row 4, column outcome", "snapped")),
    "more than can be": (cell("pulls.csv", 4, "wood_failure_pct", "250"),
        ("pulls.csv, row 4, column wood_failure_pct",)),
    "a date in words": (cell("pulls.csv", 7, "started_utc", "last May"),
        ("pulls.csv, row 7, column started_utc", "last May")),
    "an id twice": (cell("pieces.csv", 4, "id", "1"), ("pieces.csv", "row", "id")),
    "a label twice": (repeat_label, ("pieces.csv, row 4, column trial_id, label", "stands in row 3 too")),
    "a piece that is not there": (cell("pulls.csv", 9, "piece_id", "9999"), ("pulls.csv, row 9", "piece_id")),
    "a cell too many": (line("boards.csv", 3, b"2,1,2,B,ash,8,2,9,9"), ("boards.csv, row 3",)),
    "a row cut short": (line("boards.csv", 3, b"2,1"), ("boards.csv, row 3",)),
    "a load changed": (cell("pulls.csv", 2, "load_n", "9999"), ("breaks.csv, row", "column load_N", "9999")),
    "a break changed": (cell("breaks.csv", 5, "load_N", "1"), ("breaks.csv, row 5, column load_N", "“1”")),
    "a piece taken out": (line("breaks.csv", 5, None), ("breaks.csv has",)),
    "a reading no number": (
        lambda files: line(first_trace(files), 12, b"0.1,high,3")(files),
        ("traces/", "row 12, column reading", "high"),
    ),
    "a trace gone": (lambda files: files.pop(first_trace(files)) and None, ("traces/", "is not in the package")),
    "not UTF-8": (replace("boards.csv", b"ash", b"\xff\xfe"), ("boards.csv, row",)),
    "no JSON": (replace("datapackage.json", b"{", b"{,"), ("datapackage.json, row 1, column",)),
    "of a later version": (replace("datapackage.json", b'"format": 1', b'"format": 99'), ("format 99",)),
    "the question gone": (replace("trial.json", b'"question"', b'"demand"'), ("trial.json", "question")),
    "the question empty": (replace("trial.json", b'"question": "Which glue holds a scarfed paddle shaft best?"',
                                    b'"question": ""'), ("trial.json", "question")),
    "a text that is no list": (cell("pulls.csv", 3, "flags", "{"), ("pulls.csv, row 3, column flags",)),
}  # fmt: skip


@pytest.mark.parametrize("name", CHANGES)
def test_each_change_is_told_with_file_row_and_column(name: str, whole: bytes, elsewhere: ShopFile) -> None:
    change, expected = CHANGES[name]
    files = unpack(whole)
    change(files)
    with pytest.raises(DataError) as told:
        take_package(elsewhere, "changed.zip", pack(files))
    missing = [words for words in expected if words not in told.value.sentence]
    assert not missing, told.value.sentence
    with elsewhere.reading() as connection:
        assert connection.execute("SELECT count(*) AS n FROM trial").fetchone()["n"] == 0
        assert connection.execute("SELECT count(*) AS n FROM rig").fetchone()["n"] == 0


def list_broken(whole: bytes) -> Iterator[tuple[str, bytes, str]]:
    bomb = io.BytesIO()
    with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("datapackage.json", "{}")
        for number in range(3):
            packed.writestr(f"traces/{number}.csv", b"\0" * 400_000_000)
    yield "cut off", whole[: len(whole) // 2], "no whole zip"
    yield "no zip", b"PK\x03\x04 not really", "no whole zip"
    yield "text", b"specimen,load_N\nA,3\n", "no whole zip"
    yield (
        "foreign",
        pack({"datapackage.json": b'{"name": "other", "resources": []}'}),
        "does not say that it is a trial",
    )
    yield "no descriptor", pack({"breaks.csv": b"specimen\n"}), "no datapackage.json"
    yield "bomb", bomb.getvalue(), "1,200 MB"


def test_what_is_no_package_is_told(whole: bytes, elsewhere: ShopFile) -> None:
    for name, content, words in list_broken(whole):
        with pytest.raises(DataError) as told:
            look_at_package(elsewhere, content)
        assert words in told.value.sentence, name


def test_a_table_that_was_changed_but_fits_is_told(whole: bytes, tmp_path: Path) -> None:
    files = unpack(whole)
    files["glue_ups.csv"] = change_cell(files["glue_ups.csv"], 2, "note", "=1+1")
    other = empty_shop(tmp_path / "other.sqlite")
    taken = take_package(other, "shafts.zip", pack(files))
    assert taken.touched == ["glue_ups.csv"]
    assert "glue_ups.csv changed since it left" in view_history(other, taken.id, most=1).lines[0].what
    assert b"'=1+1" in unpack(export_package(other, taken.id))["glue_ups.csv"]


def test_a_package_says_what_it_is(whole: bytes, elsewhere: ShopFile) -> None:
    view = look_at_package(elsewhere, whole)
    assert (view.pieces, view.sets, view.practice, view.licence) == (48, 4, True, "CC-BY-4.0")
    files = unpack(whole)
    said = json.loads(files["datapackage.json"])
    names = {one["path"] for one in said["resources"]}
    assert names == {name for name in files if name.endswith(".csv") and "/" not in name} - {"breaks.csv"}
    assert "**Practice**" in files["README.md"].decode()
    assert "may be used for anything if their source is named" in files["README.md"].decode()
    assert "tcp://" not in files["rigs.csv"].decode()
    assert "Heron" in files["METHOD.md"].decode()
