"""A table of earlier breaks becomes a trial that stands at Compare like any other; all of it or nothing."""

from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from adhaero.api.app import create_app
from adhaero.api.door import Door
from adhaero.bench.bringing.look import Given, RoleSaid, TableSaid, look_at
from adhaero.bench.bringing.staged import Staging
from adhaero.bench.bringing.take import CommonSize, TakeEntry, take_table
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.breaks_file import export_breaks
from adhaero.bench.compare.report import list_constant
from adhaero.bench.compare.view import CompareView, view_compare
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.library.book import view_book
from adhaero.bench.library.names import JoinEntry, join_tables
from adhaero.core.errors import AdhaeroError, DataError, EntryError, NotThere
from adhaero.core.fixture import Fixture
from adhaero.core.joint import Joint
from adhaero.core.wood import Grain
from adhaero.store.sources import fetch_source_content, list_sources
from adhaero.store.trials import list_trials
from tests.reference import sheets
from tests.shops import Shop, new_shop

FOLDER = Path(sheets.__file__).parent
LBF = 4.4482216152605
TALL = b"""Piece,Glue,Board,Load (N),Torn %,Tested,Note
A1,Heron,B1,1200,25,2024-05-03,split at the tip
A2,Wren,B1,1300,0,2024-05-03,
A3,Heron,B2,fell off,,2024-05-04,
A4,Wren,B2,>1500,100,2024-05-04,
A5,Solid,B2,2100,,,
"""


@pytest.fixture
def shop(tmp_path: Path) -> Shop:
    return new_shop(tmp_path)


def bring(shop: Shop, content: bytes, said: TableSaid | None = None, name: str = "breaks.csv", **more: object) -> int:
    staging = Staging()
    staged = staging.put(name, content)
    entry = TakeEntry(said=said or TableSaid(), question="Which glue?", **more)  # type: ignore[arg-type]
    return take_table(shop.file, staging, staged.sha256, entry)


def compare(shop: Shop, trial: int) -> CompareView:
    return view_compare(shop.file, trial, Choice())


def dots(view: CompareView) -> dict[str, tuple[str, float | None, float | None]]:
    return {dot.label: (dot.outcome.value, dot.strength, dot.wood_failure_pct) for dot in view.dots}


def test_how_far_the_reading_has_come_can_be_seen(shop: Shop, monkeypatch: pytest.MonkeyPatch) -> None:
    staging, seen = Staging(), []
    assert staging.doing.step == 0
    monkeypatch.setattr(staging, "begin", lambda step: (seen.append(step), Staging.begin(staging, step)))
    look_at(shop.file, staging, staging.put("breaks.csv", TALL).sha256, TableSaid())
    assert seen == [1, 2, 3, 4]
    assert (staging.doing.step, staging.doing.of, staging.doing.words) == (4, 4, "laying it out")
    with TestClient(create_app(shop.file, Door(("testserver",)))) as client:
        client.post("/api/tables", content=TALL, headers={"content-type": "application/octet-stream"})
        assert client.get("/api/tables/doing").json() == {"step": 0, "of": 4, "words": ""}


def test_pieces_come_with_their_outcome_load_torn_wood_board_and_date(shop: Shop) -> None:
    trial = bring(shop, TALL)
    view = compare(shop, trial)
    assert dots(view) == {
        "A1": ("broke", 1200.0, 25.0),
        "A2": ("broke", 1300.0, 0.0),
        "A3": ("fell_apart", None, None),
        "A4": ("held", 1500.0, 100.0),
        "A5": ("broke", 2100.0, None),
    }
    assert (view.kind, view.controls) == ("load", ("Solid",))
    head, *rows = export_breaks(shop.file, trial, Choice()).content.splitlines()
    table = [dict(zip(head.split(","), row.split(","), strict=False)) for row in rows]
    by_label = {row["specimen"]: row for row in table}
    assert by_label["A1"]["broken_at"].startswith("2024-05-03T12:00")
    assert by_label["A5"]["broken_at"] == "", "nobody wrote down when it broke"
    assert (by_label["A4"]["board"], by_label["A1"]["load_typed"]) == ("B2", "1200 N")


def test_what_stands_in_the_file_is_kept_with_it(shop: Shop) -> None:
    trial = bring(shop, TALL)
    with shop.file.reading() as connection:
        (source,) = list_sources(connection, trial)
        assert fetch_source_content(connection, source.id) == TALL
        assert source.reading["regions"][0]["columns"]["D"] == "load"
    assert any("Brought in from breaks.csv" in words for words in compare(shop, trial).mind)


def test_slips_of_the_sheet_stand_beside_the_result(shop: Shop) -> None:
    trial = bring(shop, (FOLDER / "wide-summaries.xlsx").read_bytes(), name="scarfs.xlsx")
    (words,) = [one for one in compare(shop, trial).mind if "do not give" in one]
    assert "Scarfs!H5 shows 461" in words
    assert "437: a number was typed over the formula" in words


def test_columns_and_pieces_of_a_wide_sheet_have_labels_of_their_own(shop: Shop) -> None:
    trial = bring(shop, (FOLDER / "wide-summaries.xlsx").read_bytes())
    view = compare(shop, trial)
    assert len({dot.label for dot in view.dots}) == 36
    first = next(dot for dot in view.dots if dot.treatment == "Heron")
    assert (first.label, first.strength) == ("H-A", pytest.approx(401 * LBF))


def test_what_varies_twice_is_two_things(shop: Shop) -> None:
    trial = bring(shop, (FOLDER / "tall-plain.csv").read_bytes())
    assert {dot.treatment for dot in compare(shop, trial).dots} >= {"Heron, 1:8", "Heron, 1:12", "Kestrel, 1:12"}


def test_a_label_that_stands_twice_can_be_another_try(shop: Shop) -> None:
    content = (FOLDER / "tried-twice.csv").read_bytes()
    two = compare(shop, bring(shop, content))
    assert len(two.dots) == 9
    said = TableSaid(answers=(Given("label", "A3", "another try"),))
    one = compare(shop, bring(shop, content, said))
    again = next(dot for dot in one.dots if dot.label == "A3")
    assert (len(one.dots), again.attempts) == (8, 2)
    assert again.strength == pytest.approx(175 * 9.80665), "the last try counts"


def test_sizes_make_stresses_of_loads(shop: Shop) -> None:
    lap = {"fixture": Fixture.LAP_TENSION}
    with pytest.raises(EntryError) as missing:
        bring(shop, TALL, **lap)
    assert missing.value.field == "width_mm"
    sizes = (CommonSize("width_mm", "20 mm"), CommonSize("overlap_mm", "30 mm"))
    view = compare(shop, bring(shop, TALL, sizes=sizes, **lap))
    assert dots(view)["A1"][1] == pytest.approx(1200 / 600)
    columns = compare(shop, bring(shop, (FOLDER / "units-row.xlsx").read_bytes(), **lap))
    assert dots(columns)["U1"][1] == pytest.approx(3072 / (19.1 * 25.4))


def test_stresses_alone_are_compared_as_they_are(shop: Shop) -> None:
    view = compare(shop, bring(shop, (FOLDER / "stress-only.csv").read_bytes()))
    assert (view.kind, dots(view)["R1"][1]) == ("stress", pytest.approx(9.25))


@pytest.mark.parametrize(
    ("content", "more", "words"),
    [
        (b"Piece,Glue,Load\nA1,Heron,1200\n", {}, "In which unit"),
        (b"Glue,Colour\nHeron,red\n", {}, "No piece was found"),
        (TALL, {"broken_on": "soon"}, "is no date"),
        (TALL, {"broken_on": "2999-01-01"}, "still to come"),
        ((FOLDER / "thousands-unsaid.csv").read_bytes(), {}, "Which mark"),
    ],
)
def test_what_cannot_come_in_leaves_the_shop_as_it_is(
    shop: Shop, content: bytes, more: dict[str, str], words: str
) -> None:
    with pytest.raises(AdhaeroError) as refused:
        bring(shop, content, **more)
    assert words in refused.value.sentence
    with shop.file.reading() as connection:
        assert list_trials(connection) == []


def test_a_file_that_is_forgotten_is_said_so(shop: Shop) -> None:
    staging = Staging()
    first = staging.put("a.csv", TALL).sha256
    for number in range(4):
        staging.put(f"{number}.csv", TALL + b"A9,Heron,B1,%d,,,\n" % (900 + number))
    with pytest.raises(NotThere):
        look_at(shop.file, staging, first, TableSaid())
    with pytest.raises(DataError):
        staging.put("picture.png", b"\x89PNG\r\n")


def test_pointing_changes_what_is_understood(shop: Shop) -> None:
    staging = Staging()
    sha = staging.put("breaks.csv", TALL).sha256
    assert look_at(shop.file, staging, sha, TableSaid()).pieces == 5
    by_board = look_at(shop.file, staging, sha, TableSaid(roles=(RoleSaid("B", "note"), RoleSaid("C", "set"))))
    assert {one.name: one.pieces for one in by_board.sets} == {"B1": 2, "B2": 3}
    assert look_at(shop.file, staging, sha, TableSaid(roles=(RoleSaid("3", "ignore"),))).pieces == 4
    assert look_at(shop.file, staging, sha, TableSaid(roles=(RoleSaid("D4", "ignore"),))).pieces == 4
    assert look_at(shop.file, staging, sha, TableSaid(layouts=(RoleSaid("1", "none"),))).pieces == 0
    for key, role in (("D", "nonsense"), ("3", "load"), ("!", "load")):
        with pytest.raises(EntryError):
            look_at(shop.file, staging, sha, TableSaid(roles=(RoleSaid(key, role),)))


def test_the_age_at_the_break_follows_from_when_it_was_glued(shop: Shop) -> None:
    content = TALL.replace(b"Tested,Note", b"Tested,Note,Glued").replace(b"split at the tip", b"split,2024-04-26")
    trial = bring(shop, content, glued_on="2024-05-01")
    with shop.file.reading() as connection:
        facts = read_trial(connection, trial)
    ages = {piece.label: facts.age_of(piece) for piece in facts.pieces.values()}
    assert {label: None if age is None else age / 86_400 for label, age in ages.items()} == {
        "A1": 7, "A2": 2, "A3": 3, "A4": 3, "A5": None,
    }  # fmt: skip
    assert ",604800.0," in export_breaks(shop.file, trial, Choice()).content
    with pytest.raises(DataError) as refused:
        bring(shop, content, glued_on="2024-06-01")
    assert "D3 was glued on 2024-06-01 and broke on 2024-05-03." in refused.value.sentence


def test_what_nobody_said_is_not_said_in_the_book(shop: Shop) -> None:
    """Tables of loads of which nobody says the joint stand apart, and on no day; what is said is believed."""

    def table(glue: str) -> bytes:
        rows = (f"{n},{name},B{n // 2},{1000 + 37 * n}\n" for n, name in enumerate(["Heron", glue] * 4))
        return f"Piece,Glue,Board,Load (N)\n{''.join(rows)}".encode()

    bring(shop, table("Wren"))
    bring(shop, table("Plover"))
    book = view_book(shop.file)
    assert {one.place for one in book.tables} == {f"not said: loads alone, trial {n} alone" for n in (1, 2)}
    assert [one.alone for one in book.tables] == ["Which glue?"] * 2
    assert book.table is not None
    assert [(one.first_day, one.last_day) for one in book.table.trials] == [("", "")]
    # a person may say that they are alike
    join_tables(shop.file, JoinEntry("glue", *(one.place for one in book.tables)))
    assert [one.trials for one in view_book(shop.file).tables] == [2]
    sizes = tuple(CommonSize(name, typed) for name, typed in (("width_mm", "20 mm"), ("overlap_mm", "25 mm")))
    said = {"fixture": Fixture.BLOCK_SHEAR, "sizes": sizes, "joint": Joint.EDGE, "grain_a": Grain.EDGE}
    bring(shop, table("Siskin"), grain_b=Grain.EDGE, broken_on="2024-05-03", condition="kept dry", **said)
    bring(shop, table("Teal"), fixture=Fixture.BLOCK_SHEAR, sizes=sizes)
    known = view_book(shop.file).tables[1:]
    assert [one.alone for one in known] == ["", "Which glue?"]
    assert known[0].place.startswith("edge joint, ")
    assert "edge to edge grain" in known[0].place
    assert known[1].place.endswith("trial 4 alone")
    # what they went through is said like the rest, or is nobody's
    bring(shop, table("Curlew"), grain_b=Grain.EDGE, **said)
    unsaid = next(one for one in view_book(shop.file).tables if one.place.endswith("trial 5 alone"))
    assert "kept as they are" not in unsaid.place
    assert "kept as they are" in known[0].place
    with shop.file.reading() as connection:
        facts = [read_trial(connection, one) for one in (3, 4)]
    assert [any("joint" in one for one in list_constant(each)) for each in facts] == [True, False]
