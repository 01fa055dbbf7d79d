"""A day in the shop on the real interface, its clocks moved on by hand: timetable, glue-up, clamps, water, test."""

import re
from collections.abc import Iterator
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from adhaero.bench.cure import view as cure_view
from adhaero.bench.plan import levels
from adhaero.bench.plan import view as plan_view
from adhaero.bench.shop import clamps, hours
from adhaero.bench.shop.clamps import ClampsEntry
from tests.practice import PracticeRig
from tests.screens.conftest import RunningShop
from tests.shops import Clock, Shop, empty_shop

pytestmark = pytest.mark.screen
MONDAY = datetime(2026, 3, 2, 8, 0, tzinfo=UTC)


class Day:
    """The shop's clock and the browser's, moved on together."""

    def __init__(self, shop: Shop, page: Page) -> None:
        self.shop, self.page = shop, page
        page.clock.install(time=shop.clock.now)

    def forward(self, **by: float) -> None:
        self.shop.clock.forward(**by)
        self.page.clock.set_system_time(self.shop.clock.now)
        self.page.clock.run_for(1500)


@pytest.fixture
def day(tmp_path: Path, browser: Browser) -> Iterator[Day]:
    """Eight sawn pieces on a Monday morning at eight, half of them to be soaked; clamps for all."""
    clock = Clock(MONDAY)
    file = replace(empty_shop(tmp_path / "shop.sqlite"), clock=clock)
    made = Shop(file, clock)
    made.plan()
    for level in plan_view.view_plan(file, made.trial).factors[0].levels:
        levels.remove_level(file, made.trial, level.id)
    made.vary("condition", ("kept dry", "soaked 3 h"))
    hours.edit_hours(file, "time_zone", "", "UTC")
    clamps.save_clamps(file, ClampsEntry("bar clamp", "screw clamp", "8", "3 kN"))
    made.saw()
    with PracticeRig() as rig:
        running = RunningShop(file, rig)
        running.start()
        context = browser.new_context(
            viewport={"width": 820, "height": 1180}, base_url=running.url, timezone_id="UTC", has_touch=True
        )
        context.set_default_timeout(45_000)
        yield Day(made, context.new_page())
        context.close()
        running.stop()


def test_a_day_in_the_shop(day: Day) -> None:
    shop, page = day.shop, day.page
    page.goto("/trials/1/timetable")
    page.get_by_role("button", name="Make the timetable").click()
    expect(page.get_by_role("heading", name="Done 3 Mar")).to_be_visible()
    page.get_by_role("button", name=re.compile("Glue with Wren")).first.click()
    expect(page.get_by_label("The chosen task").get_by_role("button", name="Pin it where it is")).to_be_visible()
    page.goto("/")
    expect(page.get_by_text("Glue with Wren: 2 sets").first).to_be_visible()

    page.goto("/trials/1/glue")
    page.get_by_role("button", name="Make a glue-up of").tap()
    expect(page.get_by_role("button", name=re.compile("^Glue is spread on"))).to_be_visible()
    number = len([one for one in shop.pieces if one.batch])
    assert number >= 4
    for one in sorted((one for one in shop.pieces if one.batch), key=lambda piece: piece.glue_turn):
        for step in ("Glue is spread on", "Closed:", "In the clamp:"):
            expect(page.get_by_role("button", name=re.compile(f"^{step} {one.label}"))).to_be_visible()
            page.keyboard.press("Space")
            day.forward(seconds=20)
    expect(page.get_by_role("list", name="Pieces of the glue-up")).to_have_count(0)
    expect(page.get_by_role("timer")).to_contain_text("min")

    # the tablet sleeps for two hours, and wakes up to clamps that are due
    day.forward(hours=2, minutes=5)
    expect(page.get_by_role("timer").first).to_contain_text("over")
    page.keyboard.press("Space")
    expect(page.get_by_role("heading", name="Glue-ups out of the clamps")).to_be_visible()
    assert all(one.released_utc for one in shop.pieces if one.batch)

    day.forward(hours=24)
    page.goto("/trials/1/cure")
    page.get_by_role("button", name=re.compile("^Put in")).tap()
    expect(page.get_by_role("button", name=re.compile("^Take out"))).to_be_visible()
    expect(page.get_by_role("timer")).to_contain_text("3 h")
    day.forward(hours=3, minutes=1)
    expect(page.get_by_role("timer")).to_contain_text("over")
    page.get_by_role("button", name=re.compile("^Take out")).tap()
    expect(page.get_by_text(re.compile("out after"))).to_be_visible()
    page.get_by_role("button", name=re.compile("^All .* have it")).first.tap()
    expect(page.get_by_text("✓").first).to_be_visible()
    exposures = [one for piece in cure_view.view_curing(shop.file, 1).pieces for one in piece.exposures]
    assert exposures
    assert all(one.ended_utc for one in exposures)


def test_a_clock_that_was_put_back_loses_nothing(day: Day) -> None:
    shop, page = day.shop, day.page
    shop.glue()
    page.goto("/trials/1/glue")
    expect(page.get_by_role("timer").first).to_contain_text(re.compile("2 h|119 min"))
    day.forward(minutes=-30)
    expect(page.get_by_role("timer").first).to_contain_text(re.compile("2 h (29|30) min"))
    page.get_by_role("button", name=re.compile("^Take off clamps")).click()
    expect(page.get_by_role("alert")).to_contain_text("was closed after that")
    assert all(one.clamped_utc == "2026-03-02T08:00:00.000Z" for one in shop.pieces)
    day.forward(minutes=150)
    expect(page.get_by_role("timer").first).to_contain_text(re.compile(r"\d+ s"))
