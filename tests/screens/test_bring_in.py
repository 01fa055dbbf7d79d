"""From an empty shop to a verdict with a spreadsheet: dropped, asked about, pointed at, brought in."""

import re
from pathlib import Path

import pytest
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
    page.get_by_role("button", name="Column C").click()
    page.get_by_label("Column C (“Slope”) is").select_option("note")
    expect(page.get_by_text("24 pieces in 3 sets")).to_be_visible()
    page.get_by_role("button", name="Row 2", exact=True).click()
    page.get_by_role("button", name="is none of the pieces").click()
    expect(page.get_by_text("23 pieces in 3 sets")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(page.get_by_text("24 pieces in 3 sets")).to_be_visible()
