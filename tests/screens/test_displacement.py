"""A dial read at loads and what it says, from the Break station to Compare; plates on a lever."""

import re

import pytest
from playwright.sync_api import Page, expect

from adhaero.bench.shop.plates import PlateEntry, save_plate
from tests.screens.conftest import RunningShop
from tests.screens.test_rigs import at_rig, is_left, latest
from tests.shops import Shop

pytestmark = pytest.mark.screen
KG = 9.80665


def read_dial(page: Page, peak: int, stiffness: float) -> None:
    page.get_by_label(re.compile("^Peak load")).fill(f"{peak} kg")
    page.get_by_role("button", name="A dial was read at loads").click()
    for at, kg in enumerate((0, 10, 14, 18, 30), 1):
        page.get_by_label(f"load on, reading {at}").fill(f"{kg} kg")
        page.get_by_label(f"the dial stood at, reading {at}").fill(f"{kg * KG / stiffness:.3f}")


def test_a_dial_goes_with_its_piece_and_is_compared(page: Page, trial: Shop, shop: RunningShop) -> None:
    at_rig(page, trial, shop, kind="scale", capacity="300 kg", resolution="0.5 kg")
    read_dial(page, 40, 50)
    page.get_by_label("the dial stood at, reading 5").fill("")
    page.get_by_role("button", name=re.compile("^Keep, next")).click()
    expect(page.get_by_role("alert")).to_contain_text("Reading 5 of the dial has a load and no displacement")
    page.get_by_label("the dial stood at, reading 5").fill("8")
    page.reload()
    expect(page.get_by_label("the dial stood at, reading 5")).to_have_value("8")
    page.get_by_role("button", name=re.compile("^Keep, next")).click()
    is_left(page, 7)
    for turn in range(3):
        expect(page.get_by_label(re.compile("^Peak load"))).to_have_value("")
        read_dial(page, 41 + turn, 50 if turn else 90)
        page.get_by_role("button", name=re.compile("^Keep, next")).click()
        is_left(page, 6 - turn)
    first = min((pull for at in range(8) for pull in trial.pulls(at)), key=lambda pull: pull.id)
    assert first.dial.endswith("30 kg: 8 mm")
    page.goto("/trials/1/compare")
    page.get_by_label("Compare by").select_option("stiffness")
    expect(page.get_by_role("heading", name="Stiffness, each piece")).to_be_visible()
    expect(page.get_by_role("heading", name=re.compile("^By stiffness:"))).to_be_visible()
    expect(page.get_by_role("columnheader", name="N/mm").first).to_be_visible()
    expect(page.get_by_role("button", name="Glue alone")).to_have_count(0)
    page.get_by_role("button", name="planed").click()
    page.get_by_role("button", name="All its pulls over one another").click()
    expect(page.get_by_role("img", name=re.compile("^Load over displacement of"))).to_be_visible()


def test_a_lever_takes_plates_one_by_one(page: Page, trial: Shop, shop: RunningShop) -> None:
    save_plate(shop.file, PlateEntry("2 kg", "4"))
    at_rig(
        page, trial, shop, kind="lever", lever_ratio="10", tare="0.5 kg", capacity="5 kN", resolution="0.1 kg",
        factor="1.1",
    )  # fmt: skip
    page.get_by_text("plates, one by one").click()
    page.keyboard.press("1")
    page.keyboard.press("1")
    expect(page.get_by_text("2 × 2 kg + hanger 0.5 kg, × 10 = 0.4413 kN")).to_be_visible()
    page.keyboard.press("b")
    page.keyboard.press("Enter")
    is_left(page, 7)
    assert (latest(trial).load_n, latest(trial).held_n) == (pytest.approx(45 * KG), pytest.approx(25 * KG))
