"""Every kind of rig at the Break station: entered as it is read, by keys, with a wrong entry each."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from adhaero.bench.breaking.view import PullView
from adhaero.bench.shop.plates import PlateEntry, save_plate
from adhaero.bench.shop.rigs import save_rig
from adhaero.bench.shop.view import view_shop
from tests.bench.breaking.test_log_pulls import log, pull_lines
from tests.screens.conftest import RunningShop
from tests.shops import Shop, press

pytestmark = pytest.mark.screen
KG = 9.80665


def at_rig(page: Page, trial: Shop, shop: RunningShop, **card: str) -> None:
    """Put a rig without a cable in the place of the shop's only one, and open the station."""
    trial.saw().glue().cure()
    there = view_shop(shop.file).rigs[0]
    save_rig(shop.file, press(url="", simulated=False, name="Bench rig", **card), there.id, there.entry)
    page.goto("/trials/1/break")
    expect(page.get_by_label("The load comes from")).to_have_value(str(there.id))


def latest(trial: Shop) -> PullView:
    return max((pull for at in range(8) for pull in trial.pulls(at)), key=lambda pull: pull.id)


def is_left(page: Page, number: int) -> None:
    expect(page.get_by_text(f"Next piece, {number} ready")).to_be_visible()


def test_a_held_peak_takes_its_digits_and_three_keys(page: Page, trial: Shop, shop: RunningShop) -> None:
    at_rig(page, trial, shop, kind="scale", capacity="300 kg", resolution="0.5 kg")
    field = page.get_by_label(re.compile("^Peak load"))
    expect(field).to_be_focused()
    page.keyboard.type("41.3kg")
    expect(page.get_by_text("No multiple of the step of 0.5: 41 or 41.5?")).to_be_visible()
    field.fill("")
    page.keyboard.type("0.41")
    page.keyboard.press("w")
    page.keyboard.press("3")
    page.keyboard.press("Enter")
    is_left(page, 7)
    assert (latest(trial).load_typed, latest(trial).failure, latest(trial).wood_failure_pct) == (
        "0.41 kN",
        "wood",
        75.0,
    )
    page.keyboard.type("60 kg+")
    expect(page.get_by_text("it held at least")).to_be_visible()
    page.keyboard.press("PageDown")
    is_left(page, 6)
    assert latest(trial).outcome == "held"
    page.keyboard.type("40-35 kg")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("two ways")


def test_enter_keeps_after_a_press_on_the_face(page: Page, trial: Shop, shop: RunningShop) -> None:
    at_rig(page, trial, shop, kind="scale", capacity="300 kg", resolution="0.5 kg")
    page.keyboard.type("40 kg")
    page.get_by_role("button", name=re.compile("^the wood")).click()
    page.keyboard.press("Enter")
    is_left(page, 7)
    assert latest(trial).failure == "wood"


def test_plates_go_on_one_press_each_and_one_too_many_is_warned_of(page: Page, trial: Shop, shop: RunningShop) -> None:
    for weight, number in (("10 kg", "2"), ("5 kg", "1"), ("2.5 kg", "2")):
        save_plate(shop.file, PlateEntry(weight, number))
    at_rig(page, trial, shop, kind="weights", capacity="60 kg", resolution="2.5 kg", tare="2 kg", handle="24 kg")
    page.keyboard.press("1")
    page.keyboard.press("2")
    expect(page.get_by_text("10 kg + 5 kg + hanger 2 kg = 0.1667 kN")).to_be_visible()
    expect(page.get_by_text("beyond what its handle carries (24 kg)")).to_be_visible()
    page.get_by_role("button", name=re.compile("^2.5 kg")).click()
    page.keyboard.press("b")
    page.keyboard.press("0")
    page.keyboard.press("e")
    page.keyboard.press("Enter")
    is_left(page, 7)
    kept = latest(trial)
    assert (kept.load_n, kept.held_n) == (pytest.approx(19.5 * KG), pytest.approx(17 * KG))
    assert (kept.load_typed, kept.failure) == ("10 kg + 5 kg + 2.5 kg", "glue_line")
    page.keyboard.press("1")
    page.get_by_role("button", name="Unload, load again").click()
    expect(page.get_by_role("img", name="Nothing hangs on the hanger")).to_be_visible()
    page.keyboard.press("1")
    page.keyboard.press("n")
    page.keyboard.press("Enter")
    is_left(page, 6)
    assert (latest(trial).outcome, latest(trial).attempt) == ("held", 2)


def test_a_bucket_is_weighed_full_or_by_its_water(page: Page, trial: Shop, shop: RunningShop) -> None:
    at_rig(page, trial, shop, kind="bucket", capacity="25 kg", resolution="10 g", tare="1 kg")
    field = page.get_by_label(re.compile("^Weighs"))
    field.fill("0.6 kg")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("the empty one 1 kg")
    field.fill("12 kg")
    expect(page.get_by_role("img", name=re.compile("^Bucket on the piece: 0.118 kN"))).to_be_visible()
    page.get_by_label(re.compile("^The last load hung")).fill("90 s")
    field.press("Enter")
    is_left(page, 7)
    assert (latest(trial).load_n, latest(trial).hold_typed) == (pytest.approx(12 * KG), "90 s")
    page.get_by_text("litres of water").click()
    page.get_by_label(re.compile("^Weighs")).fill("9 l")
    page.keyboard.press("Enter")
    is_left(page, 6)
    assert latest(trial).load_n == pytest.approx((1 + 9 * 0.9982) * KG)


def test_a_gauge_shows_pressure_and_the_ram_makes_a_load_of_it(page: Page, trial: Shop, shop: RunningShop) -> None:
    at_rig(page, trial, shop, kind="jack", bore="35 mm", gauge_unit="bar", capacity="250 bar", resolution="5 bar")
    expect(page.get_by_text("Pressure is not load")).to_be_visible()
    page.keyboard.type("120")
    expect(page.get_by_role("img", name="Gauge at 120 bar of 250 bar")).to_be_visible()
    page.keyboard.press("Enter")
    is_left(page, 7)
    assert latest(trial).load_n == pytest.approx(11545, rel=1e-3)
    page.keyboard.type("4000")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("ten times")


def test_a_lever_is_drawn_with_both_arms_and_its_weight_counts(page: Page, trial: Shop, shop: RunningShop) -> None:
    at_rig(
        page, trial, shop, kind="lever", arm_piece="100 mm", arm_hung="1 m", lever="2 kg", balance="450 mm",
        capacity="5 kN", resolution="0.1 kg",
    )  # fmt: skip
    expect(page.get_by_role("img", name=re.compile("the piece 100 mm and the weight 1000 mm"))).to_be_visible()
    page.keyboard.type("10 kg")
    expect(page.get_by_text("10 kg × 10, + lever 88.26 N = 1.069 kN")).to_be_visible()
    page.keyboard.press("Enter")
    is_left(page, 7)
    assert latest(trial).load_n == pytest.approx(1068.9, rel=1e-3)


def test_a_log_is_dropped_onto_the_piece_and_judged(page: Page, trial: Shop, shop: RunningShop, tmp_path: Path) -> None:
    at_rig(page, trial, shop, kind="press", capacity="500 kg", resolution="0.01 kg")
    recorded = tmp_path / "monday.csv"
    recorded.write_bytes(log(pull_lines(64.0, mm_per_unit=0.05), head="t;load;mm"))
    page.get_by_label("A log of the rig").set_input_files(recorded)
    expect(page.get_by_role("alert")).to_contain_text("The unit of the loads is not written in the log")
    page.get_by_label("Its loads are").select_option("kgf")
    page.get_by_label("Displacement is column").fill("mm")
    expect(page.get_by_text("with displacement")).to_be_visible()
    page.get_by_role("button", name="Take the pull, then judge").click()
    expect(page.get_by_role("img", name="Load over displacement")).to_be_visible()
    page.keyboard.press("2")
    page.keyboard.press("Enter")
    is_left(page, 7)
    assert (latest(trial).load_n, latest(trial).wood_failure_pct) == (pytest.approx(64 * KG, rel=1e-3), 50.0)


def test_a_kept_break_is_corrected_and_its_history_told(page: Page, trial: Shop, shop: RunningShop) -> None:
    at_rig(page, trial, shop, kind="scale", capacity="300 kg", resolution="0.5 kg")
    label = page.locator("main h2").first.inner_text()
    page.keyboard.type("41.5 kg")
    page.keyboard.press("Enter")
    is_left(page, 7)
    page.get_by_role("region", name="The last breaks").get_by_role("button", name=label).click()
    page.get_by_role("button", name="Correct …").click()
    page.get_by_label("Load, as typed").fill("45.5 kg")
    page.get_by_role("button", name="Correct it").click()
    expect(page.get_by_role("alert")).to_contain_text("says why")
    page.get_by_label("Why it is corrected").fill("digits swapped")
    page.get_by_role("button", name="Correct it").click()
    expect(page.get_by_text(re.compile("Corrected: load 41.5 kg"))).to_be_visible()
    page.get_by_role("link", name="Its history").click()
    expect(page.get_by_text("Corrected a break: digits swapped")).to_be_visible()
    expect(page.get_by_label("Of")).to_have_value(re.compile(r"\d+"))


def test_faces_are_judged_blind(page: Page, trial: Shop, shop: RunningShop) -> None:
    trial.edit("blind", "1")
    trial.edit("label_scheme", "{no}")
    at_rig(page, trial, shop, kind="scale", capacity="300 kg", resolution="0.5 kg")
    expect(page.get_by_text("its set is hidden")).to_be_visible()
    for left in (7, 6):
        page.keyboard.type("41.5 kg")
        page.keyboard.press("Enter")
        is_left(page, left)
    page.goto("/trials/1/compare")
    expect(page.get_by_role("heading", name="The sets are hidden")).to_be_visible()
    page.goto("/trials/1/break")
    page.get_by_role("button", name="Judge 2 faces, shuffled").click()
    main = page.get_by_role("region", name="Judge faces")
    # nothing on the whole page says a load, a set or a board
    expect(page.get_by_role("region", name="The rack")).to_have_count(0)
    for told in (re.compile(r"kN|MPa|lbf"), "Heron", "Wren", "Board 1"):
        expect(page.locator("body")).not_to_contain_text(told)
    for key in ("3", "1"):
        label = main.locator("h2").inner_text()
        page.keyboard.press(key)
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name=label)).to_have_count(0)
    expect(page.get_by_role("heading", name="Every broken face is judged")).to_be_visible()
    page.get_by_role("button", name="Back to breaking").click()
    expect(page.get_by_role("region", name="The rack")).to_be_visible()
    torn = [pull.wood_failure_pct for at in range(8) for pull in trial.pulls(at)]
    assert sorted(torn) == [25.0, 75.0]


def test_a_rig_is_calibrated_by_known_weights_and_checked_before_a_day(
    page: Page, trial: Shop, shop: RunningShop
) -> None:
    at_rig(page, trial, shop, kind="scale", capacity="300 kg", resolution="0.5 kg", check="20 kg", check_give="0.2 kg")
    page.get_by_label("Under the check weight it shows").fill("20.9 kg")
    page.keyboard.press("Enter")
    expect(page.get_by_text(re.compile("beyond the 0.2 kg"))).to_be_visible()
    page.get_by_role("button", name="Shop", exact=True).click()
    drawer = page.get_by_role("dialog")
    drawer.get_by_role("tab", name=re.compile("^Rigs")).click()
    drawer.get_by_role("button", name="its truth").click()
    drawer.get_by_role("button", name="Calibrate by known weights").click()
    for at, (weight, shown) in enumerate((("0", "0"), ("10 kg", "10.4"), ("20 kg", "20.8")), start=1):
        drawer.get_by_label(f"Weight {at}").fill(weight)
        drawer.get_by_label(f"It shows {at}").fill(shown)
    expect(drawer.get_by_role("img", name=re.compile("^Left over at 3 known loads"))).to_be_visible()
    drawer.get_by_role("button", name="Calibrate: from now on").click()
    expect(drawer.get_by_text(re.compile(r"\(shown − 0\) × 0.96154"))).to_be_visible()
