"""What the screens do when a rig contradicts its card, a piece slips, a load goes through a lever; copies; labels."""

import io
import re
from pathlib import Path

import pytest
import segno
from playwright.sync_api import Page, expect

from adhaero.bench.shop.rig_form import RigEntry
from adhaero.bench.shop.rigs import save_rig
from adhaero.bench.shop.view import view_shop
from tests.screens.conftest import RunningShop
from tests.shops import Shop

pytestmark = pytest.mark.screen


def practise(shop: RunningShop, trial: Shop) -> None:
    with shop.file.changing("practice", 1, undoable=False) as connection:
        connection.execute("UPDATE trial SET practice = 1")
    trial.saw().glue().cure()


def test_a_rig_that_prints_another_unit_is_armed_when_one_is_chosen(page: Page, trial: Shop, shop: RunningShop) -> None:
    practise(shop, trial)
    card = view_shop(shop.file).rigs[0]
    entry = RigEntry(card.entry.name, card.entry.url, "lbf", "5 kN", "0.5 N", offset="1.8", simulated=True)
    save_rig(shop.file, entry, card.id)
    page.goto("/trials/1/break")
    asked = page.get_by_role("alert").filter(has_text="prints kg, its card says lbf")
    expect(asked).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Zero and arm"))).to_be_disabled()
    asked.get_by_role("button", name=re.compile("^It pulls in kg")).click()
    expect(asked).to_have_count(0)
    expect(page.get_by_role("button", name=re.compile("^Zero and arm"))).to_be_enabled()
    assert view_shop(shop.file).rigs[0].entry.unit == "kgf"


def test_a_piece_that_cracked_goes_on_and_its_load_is_read_where_the_person_says(
    page: Page, trial: Shop, shop: RunningShop
) -> None:
    practise(shop, trial)
    page.goto("/trials/1/break")
    arm = page.get_by_role("button", name=re.compile("^Zero and arm"))
    expect(arm).to_be_enabled()
    page.wait_for_timeout(1200)
    arm.click()
    expect(page.get_by_role("button", name=re.compile("^Recording"))).to_be_visible()
    shop.rig.load(2000, seconds=6, mode="steps")
    shop.rig.say("PUMP start")
    expect(page.get_by_role("status").filter(has_text="first drop")).to_be_visible()
    highest = page.get_by_role("button", name=re.compile("^the highest"))
    expect(highest).to_have_attribute("aria-pressed", "true")
    page.get_by_role("button", name=re.compile("^the first drop")).click()
    page.get_by_role("button", name="it only slipped after the first drop").click()
    expect(page.get_by_role("button", name=re.compile("^the first drop"))).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_text("Load of this pull")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Keep, next piece")).click()
    expect(page.get_by_text("Next piece, 7 ready")).to_be_visible()


def test_what_was_understood_of_a_typed_load_stands_beside_it(page: Page, trial: Shop, shop: RunningShop) -> None:
    trial.saw().glue().cure()
    card = view_shop(shop.file).rigs[0]
    entry = RigEntry(card.entry.name, "", "N", "5 kN", "1 N", kind="lever", lever_ratio="4", tare="1.2 kg")
    save_rig(shop.file, entry, card.id)
    page.goto("/trials/1/break")
    page.get_by_label(re.compile("^At the lever's end")).fill("10 kg")
    expect(page.get_by_text("10 kg + hanger 1.2 kg, × 4 = 0.4393 kN")).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.get_by_text("Next piece, 7 ready")).to_be_visible()


def test_the_shop_is_copied_and_says_whose_work_it_is(page: Page, trial: Shop, shop: RunningShop) -> None:
    page.goto("/")
    page.get_by_role("button", name=re.compile("^Shop")).click()
    drawer = page.get_by_role("dialog")
    drawer.get_by_role("tab", name="Computer").click()
    drawer.get_by_role("button", name="Copy the shop now").click()
    expect(drawer.get_by_role("status")).to_contain_text("-copy-")
    assert list(shop.file.path.parent.glob("shop-copy-*.sqlite"))
    expect(drawer).to_contain_text("Only this computer is listened to.")
    drawer.get_by_role("button", name=re.compile("^Licences")).click()
    expect(drawer.locator("pre")).to_contain_text("OFL-1.1")


def test_a_label_is_read_from_a_photo_or_typed(page: Page, trial: Shop, tmp_path: Path) -> None:
    piece = trial.saw().pieces[2]
    picture = io.BytesIO()
    segno.make_qr(f"{trial.trial}/{piece.label}").save(picture, kind="png", scale=8, border=6)
    page.goto("/scan")
    chosen = {"name": "label.png", "mimeType": "image/png", "buffer": picture.getvalue()}
    page.locator("input[type=file]").set_input_files(chosen)
    expect(page).to_have_url(re.compile(rf"/trials/1/break\?piece={piece.id}$"))
    page.goto("/scan")
    page.get_by_label("Or type it").fill("X-99")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("is no label of this shop")
    page.get_by_label("Or type it").fill(piece.label.lower())
    page.keyboard.press("Enter")
    expect(page.locator("main h2").first).to_have_text(piece.label)
