"""From an empty shop to a verdict with a spreadsheet: dropped, asked about, pointed at, brought in."""

import base64
import re
from pathlib import Path

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.reference import sheets
from tests.screens.conftest import RunningShop

pytestmark = pytest.mark.screen
FOLDER = Path(sheets.__file__).parent


def drop(page: Page, name: str) -> None:
    page.goto("/bring-in")
    page.get_by_label("A file to bring in").set_input_files(FOLDER / name)
    expect(page.get_by_role("heading", name=name)).to_be_visible()


def test_an_empty_shop_brings_in_a_spreadsheet_and_has_a_verdict(page: Page, shop: RunningShop) -> None:
    page.goto("/")
    page.get_by_role("link", name=re.compile("bring in a table")).click()
    page.get_by_label("A file to bring in").set_input_files(FOLDER / "cut-short.xlsx")
    expect(page.get_by_role("alert")).to_contain_text("The file is broken")
    page.get_by_label("A file to bring in").set_input_files(FOLDER / "wide-summaries.xlsx")
    expect(page.get_by_text("36 pieces in 6 sets")).to_be_visible()
    expect(page.get_by_text("Scarfs!H5 shows 461")).to_be_visible()
    expect(page.get_by_text("B to G are their pieces (36)")).to_be_visible()
    expect(page.get_by_role("cell", name="461")).to_have_attribute("title", re.compile("typed over the formula"))
    page.get_by_role("button", name=re.compile("^Bring it in")).click()
    expect(page.get_by_role("alert")).to_contain_text("There is no question yet")
    page.get_by_label("What was asked with these pieces?").fill("Which glue holds a shaft scarf best?")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Load at break, each piece")).to_be_visible()
    expect(page.get_by_text("do not give; these are computed")).to_be_visible()
    page.goto("/")
    expect(page.get_by_role("link", name=re.compile("Which glue holds a shaft scarf best"))).to_be_visible()


def test_questions_come_one_at_a_time_and_answers_can_be_undone(page: Page, shop: RunningShop) -> None:
    drop(page, "blocks-by-date.xlsx")
    expect(page.get_by_text("The first of 2 questions")).to_be_visible()
    page.get_by_role("button", name="Kestrel").click()
    expect(page.get_by_text("One question")).to_be_visible()
    page.get_by_role("button", name="its own").click()
    expect(page.get_by_label("A question")).to_have_count(0)
    page.keyboard.press("u")
    expect(page.get_by_text("Is “Herron” the same as “Heron”?")).to_be_visible()


def test_a_column_is_told_to_be_something_else_by_pointing(page: Page, shop: RunningShop) -> None:
    drop(page, "tall-plain.csv")
    expect(page.get_by_text("24 pieces in 6 sets")).to_be_visible()
    slope = page.get_by_label("“Slope”, 2 values")
    expect(slope).to_have_value("slope")
    slope.select_option("own")
    expect(slope).to_have_value("own")
    page.get_by_label("“Glue”, 3 values").select_option("own")
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(page.get_by_label("“Glue”, 3 values")).to_have_value("glue")
    page.get_by_role("button", name="Column C").click()
    page.get_by_label("Column C (“Slope”) is").select_option("note")
    expect(page.get_by_text("24 pieces in 3 sets")).to_be_visible()
    page.get_by_role("button", name="Row 2", exact=True).click()
    page.get_by_role("button", name="is none of the pieces").click()
    expect(page.get_by_text("23 pieces in 3 sets")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(page.get_by_text("24 pieces in 3 sets")).to_be_visible()


TALL = "Piece,Glue,Board,Load (N)\nA1,Heron,B1,1200\nA2,Wren,B1,1300\nA3,Heron,B2,1100\nA4,Wren,B2,1500\n"


def bring_in(page: Page, file: Path, content: str) -> None:
    file.write_text(content, encoding="utf-8")
    page.goto("/bring-in")
    page.get_by_label("A file to bring in").set_input_files(file)
    page.get_by_label("What was asked with these pieces?").fill("Which glue holds a tip?")
    page.get_by_role("button", name=re.compile("^Bring it in")).click()
    expect(page.get_by_role("heading", name="Load at break, each piece")).to_be_visible()


def test_a_newer_file_is_taken_over_piece_by_piece(page: Page, shop: RunningShop, tmp_path: Path) -> None:
    bring_in(page, tmp_path / "tips.csv", TALL)
    page.get_by_role("link", name="Bring in a newer file").click()
    newer = tmp_path / "tips-2.csv"
    newer.write_text(
        TALL.replace("A1,Heron,B1,1200", "A1,Heron,B1,1260").replace("A4,Wren,B2,1500\n", "A5,Wren,B2,1490\n")
    )
    page.get_by_label("A file to bring in").set_input_files(newer)
    aside = page.get_by_role("complementary", name="What is newer")
    expect(aside.get_by_role("heading", name="Against tips.csv")).to_be_visible()
    expect(aside.get_by_text("broke 1200 N → broke 1260 N")).to_be_visible()
    aside.get_by_role("checkbox", name=re.compile("Wren, A4")).uncheck()
    aside.get_by_role("button", name="Take over 2 changes").click()
    expect(page.get_by_text("Brought in from tips-2.csv on")).to_be_visible()
    page.get_by_role("link", name="History").click()
    # the line for undo says it too
    expect(page.get_by_text("Took over a newer file", exact=True)).to_be_visible()
    expect(page.get_by_text("tips-2.csv, D2")).to_be_visible()


def test_a_trial_leaves_whole_and_is_dropped_anywhere_in_a_shop(page: Page, shop: RunningShop, tmp_path: Path) -> None:
    bring_in(page, tmp_path / "tips.csv", TALL)
    page.get_by_text("The trial whole, for another shop").click()
    page.get_by_label("Its data may be used for").select_option("CC-BY-4.0")
    with page.expect_download() as download:
        page.get_by_role("link", name="Data package").click()
    package = tmp_path / "tips.zip"
    download.value.save_as(package)
    page.goto("/")
    drop_on(page, package)
    found = page.get_by_role("region", name="What the file is")
    expect(found.get_by_text("2 sets, 4 pieces, 4 loadings")).to_be_visible()
    expect(found.get_by_text("may be used if the source is named")).to_be_visible()
    found.get_by_role("button", name="Bring it in").click()
    expect(page.get_by_role("heading", name="Load at break, each piece")).to_be_visible()
    page.goto("/")
    expect(page.get_by_role("link", name=re.compile("Which glue holds a tip"))).to_have_count(2)
    package.write_bytes(package.read_bytes()[:-400])
    drop_on(page, package)
    expect(page.get_by_role("alert")).to_contain_text("broken")


def test_a_late_glue_joins_what_was_brought_in(page: Page, shop: RunningShop, tmp_path: Path) -> None:
    bring_in(page, tmp_path / "tips.csv", TALL)
    page.get_by_role("link", name=re.compile("^Plan")).click()
    page.get_by_text("Let pieces join").click()
    page.get_by_role("combobox", name="glue", exact=True).fill("Plover")
    page.get_by_label("How many").fill("2")
    page.get_by_label(re.compile("^From the boards")).fill("B1, B7")
    page.get_by_role("button", name="Let them join, and saw them").click()
    expect(page.get_by_role("alert")).to_contain_text("Plover is not on the shelf yet")
    page.get_by_label("Its family, for its cautions").select_option("polyurethane")
    page.get_by_role("button", name="Let them join, and saw them").click()
    expect(page.get_by_role("alert")).to_contain_text("Say why")
    page.get_by_label(re.compile("^Why")).fill("it came later")
    page.get_by_role("button", name="Let them join, and saw them").click()
    expect(page.get_by_text("P-01").first).to_be_visible()
    expect(page.get_by_role("heading", name="B7").first).to_be_visible()


def drop_on(page: Page, file: Path) -> None:
    """Drop a file onto the middle of whatever is shown."""
    page.evaluate(
        """([name, code]) => {
            const bytes = Uint8Array.from(atob(code), (one) => one.charCodeAt(0));
            const transfer = new DataTransfer();
            transfer.items.add(new File([bytes], name));
            const event = { dataTransfer: transfer, bubbles: true, cancelable: true };
            document.body.dispatchEvent(new DragEvent("drop", event));
        }""",
        [file.name, base64.b64encode(file.read_bytes()).decode()],
    )


def test_what_leaves_opens_without_this_program(page: Page, shop: RunningShop, tmp_path: Path) -> None:
    bring_in(page, tmp_path / "tips.csv", TALL)
    aside = page.get_by_role("region", name="Take it away")
    for name, ending in (("Report", ".html"), ("Picture", ".svg"), ("Workbook", ".xlsx"), ("Method sheet", ".html")):
        with page.expect_download() as download:
            aside.get_by_role("link", name=name, exact=True).click()
        assert download.value.suggested_filename.endswith(ending)
        download.value.save_as(tmp_path / f"{name}{ending}")
    with page.expect_download() as download:
        aside.get_by_role("button", name="as PNG").click()
    download.value.save_as(tmp_path / "picture.png")
    with Image.open(tmp_path / "picture.png") as picture:
        assert picture.size == (3200, 2000)
        assert len(picture.convert("RGB").getcolors(10_000_000) or ()) > 5
    page.goto((tmp_path / "Report.html").as_uri())
    expect(page.get_by_role("heading", name="Every break")).to_be_visible()
