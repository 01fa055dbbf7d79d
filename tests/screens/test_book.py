"""The shop's book, looks while breaking and trials that grow, in a real browser."""

import re
from pathlib import Path

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from adhaero.bench.breaking.hand_break import break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.breaking.view import view_break
from adhaero.bench.plan.view import view_plan
from tests.bench.compare.test_looks import break_some, kind
from tests.bench.library.test_book import breaks_of
from tests.made_up import MadeUp, plan_trial, put
from tests.screens.conftest import RunningShop
from tests.shops import typed_break


@pytest.fixture
def years(shop: RunningShop) -> RunningShop:
    """Return a shop whose trials share a glue, and one glue that has two names."""
    for question, names in (
        ("The first three?", ["Heron", "Wren", "Plover"]),
        ("Does hide do?", ["Heron", "Merlin"]),
        ("The old tin?", ["heron epoxy", "Teal"]),
    ):
        put(shop.file, MadeUp(question, [("glue", names)], breaks_of(names)))
    return shop


def test_the_book_answers_asks_and_begins_the_next_plan(page: Page, years: RunningShop) -> None:
    page.goto("/")
    page.get_by_role("link", name="The book").click()
    expect(page.get_by_role("heading", name=re.compile("Nothing leads from them to"))).to_be_visible()
    table = page.get_by_role("table", name=re.compile("strongest first"))
    table.get_by_role("button", name="Plover", exact=True).click()
    table.get_by_role("button", name="Merlin", exact=True).click()
    expect(page.get_by_role("status")).to_contain_text("They never met")
    page.get_by_role("button", name="One: call it Heron").click()
    expect(page.get_by_role("heading", name=re.compile("Nothing leads from them to"))).to_have_count(0)
    expect(table.get_by_role("button", name="heron epoxy")).to_have_count(0)
    page.get_by_role("button", name="Its own name again").click()
    expect(table.get_by_role("button", name="heron epoxy")).to_be_visible()
    page.get_by_label("Hold all against").select_option("Plover")
    expect(page).to_have_url(re.compile("against=Plover"))
    page.get_by_role("region", name="What next").get_by_role("button", name="Begin this plan").first.click()
    expect(page).to_have_url(re.compile("/trials/4/plan"))
    expect(page.get_by_label("The question")).to_have_value(re.compile("which is stronger"))


def test_a_planned_look_settles_and_the_rest_stays_whole(page: Page, shop: RunningShop) -> None:
    trial = plan_trial(shop.file, kind())
    break_some(shop.file, trial, 18)
    page.goto(f"/trials/{trial}/break")
    look = page.get_by_role("region", name="May I stop?")
    expect(look.get_by_role("status")).to_contain_text("The answer is settled after board 6 of 8")
    look.get_by_role("button", name="Stop here").click()
    look.get_by_role("button", name="Leave 6 pieces whole").click()
    expect(look.get_by_role("status")).to_contain_text("Stopped by the rule after board 6 of 8")
    # not every piece is broken: six stay whole
    expect(page.get_by_role("heading", name="Nothing is left to break")).to_be_visible()
    page.get_by_role("link", name="Compare", exact=True).click()
    expect(page.get_by_role("region", name="The answer")).to_contain_text("Teal is the strongest")
    expect(page.get_by_text("settled by the planned rule").first).to_be_visible()


def test_a_set_is_dropped_and_a_leader_only_on_purpose(page: Page, shop: RunningShop) -> None:
    trial = plan_trial(shop.file, kind(looks=False))
    break_some(shop.file, trial, 12)
    teal = next(one.id for one in view_plan(shop.file, trial).treatments if one.name == "Teal")
    page.goto(f"/trials/{trial}/plan")
    page.get_by_text("Drop a set that no longer matters").click()
    page.get_by_label("The set", exact=True).select_option(str(teal))
    page.get_by_label("What makes it not matter").fill("it stains")
    page.get_by_role("button", name="Leave its pieces whole").click()
    expect(page.get_by_role("alert").first).to_contain_text("at the lead so far")
    page.get_by_role("button", name="Drop it although it leads").click()
    expect(page.get_by_text("it stains").first).to_be_visible()


def test_a_photo_of_a_broken_face_stands_beside_its_break(page: Page, shop: RunningShop, tmp_path: Path) -> None:
    trial = plan_trial(shop.file, kind(looks=False))
    piece = view_break(shop.file, trial).piece
    assert piece is not None
    break_by_hand(shop.file, trial, typed_break(piece.id, "600 N", Judgement("broke", "10")))
    picture = tmp_path / "face.png"
    Image.new("RGB", (60, 40), "tan").save(picture)
    page.goto(f"/trials/{trial}/break?piece={piece.id}")
    page.get_by_label("add a photo").set_input_files(picture)
    expect(page.get_by_role("img", name=f"Broken face of {piece.label}")).to_be_visible()
