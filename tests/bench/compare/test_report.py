"""The report and the workbook: the answer, what it stands on, every break, whatever was typed."""

import io
import re
from pathlib import Path

import openpyxl
import pytest

from adhaero.bench.breaking.hand_break import break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.bringing.look import TableSaid
from adhaero.bench.bringing.staged import Staging
from adhaero.bench.bringing.take import TakeEntry, take_table
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.exclusions import exclude_piece
from adhaero.bench.compare.method_sheet import export_method_sheet
from adhaero.bench.compare.picture import export_picture
from adhaero.bench.compare.report import export_report, list_constant
from adhaero.bench.compare.view import view_compare
from adhaero.bench.compare.workbook import export_workbook
from adhaero.bench.facts.reading import read_trial
from adhaero.core.plan.fields import Factor
from adhaero.files.report.figure import FigureDot, FigureSet, draw_sets, find_ticks
from adhaero.files.report.markdown import write_markdown
from adhaero.store.plans import amend_factor, list_factors
from tests.made_up import Broken, MadeUp, plan_trial
from tests.shops import Shop, empty_shop, new_shop, ready_shop, typed_break

LOADS = {"planed": ["700 N", "720 N", "650 N", "690 N"], "toothed": ["900 N", "940 N", "1010 N", "=1000 N"]}


@pytest.fixture
def shop(tmp_path: Path) -> Shop:
    shop = ready_shop(tmp_path)
    loads = {name: list(values) for name, values in LOADS.items()}
    for piece in shop.pieces:
        load = loads[piece.treatment].pop(0).lstrip("=")
        break_by_hand(shop.file, shop.trial, typed_break(piece.id, load, Judgement("broke", "25", note="=1+1 <b>")))
    exclude_piece(shop.file, shop.trial, shop.pieces[0].id, "a knot, seen after")
    return shop


@pytest.mark.parametrize(
    ("kind", "values", "held"),
    [
        ("prep", ("bare", "sized"), "surfaces: planed"), ("spread", ("thin", "thick"), "spread: one coat"),
        ("condition", ("dry", "soaked 24 h"), "before the test: kept"),
        ("joint", ("edge joint", "butt joint"), "joint: "),
        ("clamp_time", ("1 h", "4 h"), "clamp time: "), ("clamp_pressure", ("0.2 MPa", "1 MPa"), "clamp pressure: "),
        ("cure_time", ("1 d", "7 d"), "cure time: "), ("glue", ("Tern", "Gull"), "glue: Heron"),
    ],
)  # fmt: skip
def test_what_the_sets_set_is_not_also_held_the_same(
    tmp_path: Path, kind: str, values: tuple[str, ...], held: str
) -> None:
    file = empty_shop(tmp_path / "shop.sqlite")

    def constants(of: str, its: tuple[str, ...]) -> list[str]:
        trial = plan_trial(file, MadeUp("Which?", [(of, its)], lambda *_: Broken(700)), to_break=False)
        with file.reading() as connection:
            return list_constant(read_trial(connection, trial))

    other = ("gap", ("0.1 mm", "0.5 mm"))
    assert [one for one in constants(*other) if one.startswith(held)]
    assert not [one for one in constants(kind, values) if one.startswith(held.partition(": ")[0])]


def test_the_report_begins_with_the_answer_and_ends_with_every_break(shop: Shop) -> None:
    html = export_report(shop.file, shop.trial, Choice())
    view = view_compare(shop.file, shop.trial, Choice())
    assert view.summary is not None
    order = [view.summary.headline, "Contents", "What the pieces show", "every piece", "Pair by pair", "What was asked",
             "How the pieces were made", "How they were broken", "Set aside", "How the numbers are made", "Every break",
             "they approve nothing"]  # fmt: skip
    places = [html.index(words) for words in order]
    assert places == sorted(places)
    assert all(f">{dot.label}</td>" in html for dot in view.dots)
    assert "a knot, seen after" in html


def test_nothing_in_a_report_is_run_or_fetched(shop: Shop) -> None:
    html = export_report(shop.file, shop.trial, Choice())
    assert "<script" not in html
    assert "http://" not in html.replace("http://www.w3.org/2000/svg", "")
    assert "https://" not in html
    assert "=1+1 &lt;b&gt;" in html


def test_a_workbook_has_plain_tables_and_no_formula(shop: Shop) -> None:
    book = openpyxl.load_workbook(io.BytesIO(export_workbook(shop.file, shop.trial, Choice())))
    assert book.sheetnames == ["Pieces", "Sets", "Pairs", "About"]
    pieces = book["Pieces"]
    head = [cell.value for cell in pieces[1]]
    assert pieces.freeze_panes == "B2"
    rows = [dict(zip(head, (cell.value for cell in row), strict=True)) for row in pieces.iter_rows(min_row=2)]
    assert len(rows) == 8
    assert all(isinstance(row["load, kN"], float | int) for row in rows)
    assert sorted(row["load, kN"] for row in rows)[0] == pytest.approx(0.65)
    assert all(cell.data_type != "f" for sheet in book for row in sheet.iter_rows() for cell in row)
    assert {row["note"] for row in rows} == {"=1+1 <b>"}
    assert sum(row["set aside because"] == "a knot, seen after" for row in rows) == 1
    sets = {row[0].value: row[1].value for row in book["Sets"].iter_rows(min_row=2)}
    assert sum(sets.values()) == 7


def test_an_empty_trial_has_a_report_that_says_so(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    html = export_report(shop.file, shop.trial, Choice())
    assert "No piece that counts is broken yet" in html
    assert "<svg" not in html


def test_units_of_the_shop_are_used(shop: Shop) -> None:
    from adhaero.bench.shop.units import set_unit

    set_unit(shop.file, "stress", "MPa", "psi")
    assert "Bending strength, every piece" in export_report(shop.file, shop.trial, Choice())
    assert ", psi</th>" in export_report(shop.file, shop.trial, Choice())


def test_figures_share_one_scale_and_hold_at_most_twenty_sets() -> None:
    sets = [
        FigureSet(f"Set {n}", [FigureDot(300 + n, None, "broke", False, False)], 300.0, 280.0, 330.0) for n in range(45)
    ]
    figures = draw_sets(sets, "N")
    assert [one.count("<circle") for one in figures] == [20, 20, 5]
    axes = [[part.split("<")[0] for part in one.split('font-size="12">')[1:-1]] for one in figures]
    assert axes[0] == axes[1] == axes[2]
    assert find_ticks(sets)[0] <= 280
    assert (
        find_ticks(
            [
                FigureSet(
                    "A",
                    [FigureDot(10, None, "broke", False, False), FigureDot(90, None, "held", False, False)],
                    None,
                    None,
                    None,
                )
            ]
        )[0]
        == 0
    )
    assert find_ticks([]) != []


def test_the_picture_has_no_number_and_its_order_is_the_strength(shop: Shop) -> None:
    svg = export_picture(shop.file, shop.trial, Choice())
    texts = re.findall(r"<text[^>]*>(.*?)</text>", svg)
    assert svg.index("toothed") < svg.index("planed")
    assert [text for text in texts if re.search(r"\d", text)] == ["7 pieces"]
    assert svg.count("<circle") == 7
    assert "<script" not in svg


def test_the_method_sheet_advises_only_what_the_numbers_carry(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    before = write_markdown(export_method_sheet(shop.file, shop.trial))
    assert "What is varied" in before
    assert "advise" not in before
    loads = {"planed": [700, 720, 705, 715], "toothed": [1400, 1380, 1410, 1390]}
    for piece in shop.pieces:
        load = loads[piece.treatment].pop()
        break_by_hand(shop.file, shop.trial, typed_break(piece.id, f"{load} N", Judgement("broke", "25")))
    after = write_markdown(export_method_sheet(shop.file, shop.trial))
    assert "For strength: toothed (4 pieces) is stronger than planed (4)." in after
    assert "<b>" not in after


def test_advice_is_by_use_among_sets_alike_but_for_one_thing(tmp_path: Path) -> None:
    rows = [
        f"{glue}{soak}{n},{glue},{soak},{base * (0.5 if soak == 'soaked 24 h' and glue == 'Wren' else 1) + 9 * n}"
        for glue, base in (("Heron", 900), ("Wren", 1000))
        for soak in ("dry", "soaked 24 h")
        for n in range(6)
    ]
    shop, staging = new_shop(tmp_path), Staging()
    content = "\n".join(["Piece,Glue,Condition,Load (N)", *rows]).encode()
    sha = staging.put("soak.csv", content).sha256
    trial = take_table(shop.file, staging, sha, TakeEntry(said=TableSaid(), question="Which glue in water?"))
    with shop.file.changing("test", trial) as connection:
        for factor in list_factors(connection, trial):
            if factor.name == "Condition":
                amend_factor(connection, factor.id, kind=Factor.CONDITION, name="")
    said = write_markdown(export_method_sheet(shop.file, trial))
    assert (
        "Where it gets wet (soaked 24 h): Heron, soaked 24 h (6 pieces) is stronger than Wren, soaked 24 h (6)." in said
    )
    assert "For strength: Wren, dry (6 pieces)" in said
