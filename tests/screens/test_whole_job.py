"""The whole job as a newcomer does it: from a blank question to a verdict, on the real interface."""

import re
import shlex
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from typer.testing import CliRunner

from adhaero.cli import app
from tests.screens.conftest import RunningShop

pytestmark = pytest.mark.screen

QUESTION = "Does a toothed blade edge hold better?"


def fill(page: Page, label: str, text: str) -> None:
    field = page.get_by_label(label, exact=True)
    field.fill(text)
    with page.expect_response(lambda answer: answer.request.method == "PATCH"):  # saved before anything follows
        field.press("Enter")
    expect(field).to_have_attribute("aria-invalid", "false")


def plan(page: Page) -> None:
    page.goto("/")
    page.get_by_label("What do you want to know?").fill(QUESTION)
    page.get_by_role("button", name="Start a trial").click()
    fill(page, "Your guess, before anything is broken", "No difference")
    page.get_by_label("Between the sets").select_option("prep")
    for value in ("planed", "toothed"):
        page.get_by_label("Add a value").fill(value)
        page.get_by_role("button", name="Add", exact=True).click()
        expect(page.get_by_role("list", name="Values").get_by_text(value, exact=True)).to_be_visible()
    page.get_by_label("How many", exact=True).fill("5")
    page.get_by_label("of what wood").fill("larch")
    page.get_by_role("button", name="Add boards").click()
    expect(page.get_by_role("heading", name="Board 5")).to_be_visible()
    page.get_by_label("Joint", exact=True).select_option("edge")
    expect(page.get_by_label("Fixture: how the rig loads it", exact=True)).to_have_value("bend-3")
    for label, text in (("width", "30"), ("depth", "3/8 in"), ("span between the supports", "120 mm")):
        fill(page, label, text)
    fill(page, "Glue", "Wren")
    fill(page, "clamp time", "0 s")
    fill(page, "cure time", "0 s")
    page.get_by_role("button", name="Settle the plan and label the pieces").click()
    expect(page.get_by_role("heading", name="10 pieces to saw and label")).to_be_visible()


def make(page: Page) -> None:
    page.get_by_role("button", name="All are sawn and labelled").click()
    page.get_by_role("link", name=re.compile(r"^Glue \d")).click()
    page.get_by_label("Its family").select_option("cross-linking PVA")
    page.get_by_label("Shop temperature").fill("67 F")
    page.get_by_label("Humidity").fill("48")
    for count in (6, 4):
        page.get_by_role("button", name=f"Make a glue-up of {count} pieces").click()
        page.get_by_role("button", name=re.compile("^Clamps on")).click()
        page.get_by_role("button", name=re.compile("^Take off clamps")).click()
    expect(page.get_by_text("Every piece is in a glue-up.")).to_be_visible()
    page.get_by_role("link", name=re.compile(r"^Cure \d")).click()
    page.get_by_role("textbox", name=re.compile("^width of")).first.focus()
    for number in range(10):
        for size in (f"{29.8 + number / 20:.2f}", "3/8 in"):
            page.keyboard.type(size)
            page.keyboard.press("Enter")
    expect(page.get_by_text("Every piece is measured.")).to_be_visible()


def break_on_rig(page: Page, shop: RunningShop, expected_n: float, quarters: str) -> None:
    label = page.locator("main h2").first.inner_text()
    expect(page.get_by_role("button", name=re.compile("^Zero and arm"))).to_be_enabled()
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name=re.compile("^Recording"))).to_be_visible()
    shop.rig.load(expected_n, seconds=1.5)
    shop.rig.say("PUMP start")
    keep = page.get_by_role("button", name=re.compile("^Keep, next piece"))
    expect(keep).to_be_visible()
    shop.rig.say("RELEASE")
    page.keyboard.press(quarters)
    page.wait_for_timeout(600)
    page.keyboard.press("PageDown")
    expect(page.locator("main h2").first).not_to_have_text(label)


def test_newcomer_goes_from_question_to_verdict(page: Page, shop: RunningShop, tmp_path: Path) -> None:
    plan(page)
    make(page)
    page.get_by_role("link", name=re.compile(r"^Break \d")).click()
    for number in range(6):
        break_on_rig(page, shop, 700 + 20 * number, str(number % 5))
    page.get_by_label("The load comes from").select_option("none")
    for load in ("72 kg", "160 lb", "0,7 kN", "735 N"):
        label = page.locator("main h2").first.inner_text()
        page.get_by_label(re.compile("^Peak load")).fill(load)
        page.get_by_role("button", name=re.compile("^a quarter")).click()
        page.get_by_role("button", name=re.compile("^Keep, next piece")).click()
        expect(page.locator("main h2").first).not_to_have_text(label)
    expect(page.get_by_role("heading", name="Every piece is broken")).to_be_visible()
    page.get_by_role("link", name="Compare", exact=True).click()
    expect(page.get_by_text("“No difference”", exact=True)).to_be_visible()
    expect(page.get_by_role("heading", name="Bending strength, each piece")).to_be_visible()
    check_command_agrees(page, tmp_path)


def check_command_agrees(page: Page, tmp_path: Path) -> None:
    """Download the file and run the command that the screen names: the same averages, the same verdict."""
    with page.expect_download() as download:
        page.get_by_role("link", name="Breaks", exact=True).click()
    file = tmp_path / download.value.suggested_filename
    download.value.save_as(file)
    page.get_by_text("The same numbers without this program").click()
    command = shlex.split(page.locator("details code").inner_text())
    command[command.index(file.name)] = str(file)
    result = CliRunner().invoke(app, command[1:])
    assert result.exit_code == 0, result.output
    words = page.get_by_role("complementary").inner_text()
    pair = next(
        line for line in result.output.splitlines() if line.startswith(("planed", "toothed")) and "." in line[-1:]
    )
    assert pair.casefold() in words.casefold()
    if "cannot tell yet" in pair:
        leads = "Cannot tell yet which is stronger."
    elif "are the same for practice" in pair:
        leads = "No difference that matters."
    else:
        leads = f"{pair.split()[0].capitalize()} is stronger than "
    answer = page.get_by_role("region", name="The answer").get_by_role("heading").inner_text()
    assert answer.startswith(leads), f"{answer} beside the command's {pair}"
    page.get_by_role("button", name="More columns").click()
    for name in ("planed", "toothed"):
        table = page.get_by_role("table", name="The sets in numbers")
        row = table.get_by_role("row", name=re.compile(f"^{name} \\d")).inner_text().split("\t")
        line = next(line for line in result.output.splitlines() if line.startswith(f"{name} "))
        assert float(row[2]) == pytest.approx(float(line.split()[2]), abs=0.06)
