"""The Plan station on the real interface: starters, several things varied, the shop's boards, rig, glue and clamps."""

import io
import re

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from adhaero.bench.plan import settled
from adhaero.bench.plan.boards import remove_board
from adhaero.bench.plan.view import view_plan
from adhaero.bench.shop import boards, clamps
from adhaero.bench.shop.boards import StockBoardEntry
from adhaero.bench.shop.clamps import ClampsEntry
from tests.screens.conftest import RunningShop
from tests.shops import Shop

pytestmark = pytest.mark.screen


def fill(page: Page, label: str, text: str) -> None:
    field = page.get_by_label(label, exact=True)
    field.fill(text)
    field.press("Enter")
    expect(field).to_have_attribute("aria-invalid", "false")


def start(page: Page, question: str) -> None:
    page.goto("/")
    page.get_by_text("or begin with a common question").click()
    page.get_by_role("button", name=re.compile(re.escape(question))).click()
    expect(page.get_by_role("button", name="Settle the plan and label the pieces")).to_be_enabled()


def test_a_common_question_leads_to_a_settled_plan_in_three_presses(page: Page, shop: RunningShop) -> None:
    start(page, "How long must the clamps stay on?")
    expect(page.get_by_role("list", name="Values").get_by_text("8 h", exact=True)).to_be_visible()
    page.get_by_role("button", name="Settle the plan and label the pieces").click()
    expect(page.get_by_role("heading", name="36 pieces to saw and label")).to_be_visible()


def test_two_things_varied_an_extra_for_some_and_a_set_left_out(page: Page, trial: Shop) -> None:
    page.goto("/trials/1/plan")
    page.get_by_label("Vary one more thing").select_option("clamp_time")
    page.get_by_role("button", name="several at once, from lowest to highest").click()
    page.get_by_label("lowest").fill("30 min")
    page.get_by_label("highest").fill("8 h")
    page.get_by_label("how many", exact=True).fill("3")
    page.get_by_role("button", name="Add them").click()
    expect(page.get_by_text("6 sets, 24 pieces")).to_be_visible()
    expect(page.get_by_text("The boards hold 8 pieces and the plan has 24.")).to_be_visible()
    page.get_by_role("button", name="only with some of the values above").click()
    page.get_by_role("checkbox", name="toothed").click()
    expect(page.get_by_text("4 sets, 16 pieces")).to_be_visible()
    page.get_by_text("sets one by one").click()
    page.get_by_role("checkbox", name="toothed, 8 h is made").click()
    expect(page.get_by_text("3 sets, 12 pieces")).to_be_visible()
    page.get_by_label("Pieces of toothed, 30 min").fill("6")
    page.get_by_label("Pieces of toothed, 30 min").press("Enter")
    expect(page.get_by_text("3 sets, 14 pieces")).to_be_visible()
    page.get_by_label("Add a step that every piece must have had").fill("drill the pin hole")
    page.get_by_role("button", name="Add the step").click()
    page.get_by_role("checkbox", name="drill the pin hole").click()
    expect(page.get_by_role("checkbox", name="drill the pin hole")).to_be_checked()


def test_boards_from_the_shop_come_with_a_cut_map(page: Page, trial: Shop) -> None:
    plank = StockBoardEntry("Strip", "larch", "620 mm", "82 mm", "12 mm", defects="240 to 275 knot", count="2")
    boards.save_stock_board(trial.file, plank)
    for board in view_plan(trial.file, 1).boards:
        remove_board(trial.file, 1, board.id)
    page.goto("/trials/1/plan")
    fill(page, "length (for the cut list)", "150 mm")
    expect(page.get_by_text("Take boards from the shop (2 there)")).to_be_visible()
    page.get_by_role("button", name="Choose all").click()
    page.get_by_role("button", name="Take 2").click()
    expect(page.get_by_text("yields 7")).to_have_count(2)
    expect(page.get_by_text("Every board carries every set equally often")).to_be_visible()
    page.get_by_text("Saw: kerf, trim, planing").click()
    cut_map = page.get_by_role("img", name=re.compile("^Cut map of Strip 1"))
    expect(cut_map).to_be_visible()
    labels = cut_map.locator("text").all_text_contents()
    assert labels
    assert len(labels) % 2 == 0, "two parts of every piece"
    board = cut_map.locator("rect").nth(0).bounding_box()
    assert board is not None
    for part in cut_map.locator("g g rect").all():
        box = part.bounding_box()
        assert box is not None
        assert board["x"] - 1 <= box["x"]
        assert box["x"] + box["width"] <= board["x"] + board["width"] + 1


def test_a_piece_too_strong_for_the_rig_is_resized_with_one_click(page: Page, trial: Shop) -> None:
    for name, typed in (("joint", "scarf"), ("width_mm", "30 mm"), ("depth_mm", "30 mm"), ("slope", "1:8")):
        trial.edit(name, typed)
    for name, typed in (("span_mm", "270 mm"), ("load_arm_mm", "90 mm"), ("material_a", "ash")):
        trial.edit(name, typed)
    page.goto("/trials/1/plan")
    expect(page.get_by_role("complementary")).to_contain_text("will out-pull your rig")
    page.get_by_role("button", name=re.compile(r"^Use \d")).click()
    expect(page.get_by_role("complementary")).not_to_contain_text("will out-pull your rig")
    sizes = {one.name: one.si for one in view_plan(trial.file, 1).quantities}
    assert sizes["width_mm"] == sizes["depth_mm"] == 20  # 30 mm · (2.5 kN / 8.24 kN)^⅓, to half a millimetre


def test_glue_and_clamps_of_the_shop_are_counted(page: Page, trial: Shop) -> None:
    clamps.save_clamps(trial.file, ClampsEntry("cast weight", "weight", "2", "40 kg", side_by_side="2"))
    page.goto("/trials/1/plan")
    glue = page.get_by_role("region", name="Glue and clamps")
    expect(glue).to_contain_text("1 × cast weight over 2 pieces, 2 side by side")
    expect(glue).to_contain_text("Wren cannot be priced without its price and its pack size")
    glue.get_by_role("button", name="Fill in its card").click()
    drawer = page.get_by_role("dialog")
    drawer.get_by_text("Its card").click()
    for label, typed in (("price of the pack", "12"), ("pack, by weight", "500 g")):
        drawer.get_by_label(label, exact=True).fill(typed)
        drawer.get_by_label(label, exact=True).press("Enter")
    drawer.get_by_role("button", name="Close").click()
    expect(page.get_by_role("complementary")).to_contain_text("wood needs its price")
    expect(glue).to_contain_text("Glue for the trial:")


def test_a_dry_run_tells_how_often_the_answer_would_be_right(page: Page, trial: Shop) -> None:
    page.goto("/trials/1/plan")
    page.get_by_text("A dry run: break it many times").click()
    page.get_by_label("Guess: toothed").fill("much")
    page.get_by_role("button", name="Run it dry").click()
    expect(page.get_by_role("alert")).to_contain_text("“much” was not understood")
    page.get_by_label("Guess: toothed").fill("200 %")
    page.get_by_role("button", name="Run it dry").click()
    expect(page.get_by_text("Of 1000 such trials")).to_contain_text(re.compile(r"right in (100|9\d) %"))


def test_a_settled_plan_asks_for_a_reason_and_keeps_it(page: Page, trial: Shop) -> None:
    settled.freeze_plan(trial.file, 1)
    page.goto("/trials/1/plan")
    field = page.get_by_label("clamp time", exact=True)
    field.fill("3 h")
    field.press("Enter")
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("would change from “2 h” to “3 h”")
    dialog.get_by_role("textbox").fill("the shop is cold")
    dialog.get_by_role("button", name="Change it").click()
    expect(page.get_by_text("clamp time: 2 h → 3 h")).to_be_visible()
    field.fill("4 h")
    field.press("Enter")
    dialog.get_by_role("button", name="Leave it").click()
    expect(page.get_by_role("alert")).to_contain_text("with a reason that stays beside it")
    assert next(one.typed for one in view_plan(trial.file, 1).quantities if one.name == "clamp_time_s") == "3 h"


def test_the_shop_takes_boards_with_photos_clamps_and_rigs_of_every_kind(page: Page, trial: Shop) -> None:
    page.goto("/trials/1/plan")
    page.get_by_role("button", name="Shop", exact=True).click()
    drawer = page.get_by_role("dialog")
    drawer.get_by_role("tab", name=re.compile("^Boards")).click()
    drawer.get_by_label("Name (numbered when several)").fill("Plank")
    for label, typed in (("Length", "6 ft"), ("Width", "4 in"), ("Thickness", "1 in")):
        drawer.get_by_label(label, exact=True).fill(typed)
    drawer.get_by_label("To skip, one stretch a line, from one end").fill("10 in to 9 in knot")
    drawer.get_by_role("button", name="Put into the shop").click()
    expect(drawer.get_by_role("alert")).to_contain_text("runs backwards")
    drawer.get_by_label("To skip, one stretch a line, from one end").fill("9 in to 10 in knot")
    drawer.get_by_role("button", name="Put into the shop").click()
    expect(drawer.get_by_text("6 ft × 4 in × 1 in; skip 9 in to 10 in knot")).to_be_visible()
    picture = io.BytesIO()
    Image.effect_noise((1200, 900), 90).convert("RGB").save(picture, "PNG")
    assert len(picture.getvalue()) > 1_000_000, "larger than any other request may be"
    photo = {"name": "plank.png", "mimeType": "image/png", "buffer": picture.getvalue()}
    drawer.locator("input[type=file]").set_input_files(photo)  # type: ignore[arg-type]
    expect(drawer.get_by_role("img", name="Plank")).to_be_visible()
    drawer.get_by_role("tab", name=re.compile("^Rigs")).click()
    drawer.get_by_role("button", name="Add a rig").click()
    drawer.get_by_label("What it is").select_option("jack")
    for label, typed in (("Name", "Jack"), ("It pulls up to", "20 kN"), ("A division of the gauge", "100 N")):
        drawer.get_by_label(label, exact=True).fill(typed)
    drawer.get_by_role("button", name="Save the rig").click()
    expect(drawer.get_by_role("alert")).to_contain_text("Nothing was typed")
    drawer.get_by_label("Bore of the ram").fill("2 in")
    drawer.get_by_role("button", name="Save the rig").click()
    expect(drawer.get_by_role("button", name="Save the rig")).to_have_count(0)
    expect(drawer.get_by_text("jack with a gauge")).to_be_visible()


def test_a_plan_is_copied(page: Page, trial: Shop) -> None:
    page.goto("/trials/1/plan")
    page.get_by_role("button", name="Copy this plan").click()
    expect(page).to_have_url(re.compile("/trials/2/plan"))
    expect(page.get_by_text("2 sets, 8 pieces")).to_be_visible()
