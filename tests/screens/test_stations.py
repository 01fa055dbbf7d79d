"""The stations on the real interface: two windows, undo, drafts, timers, keys, wrong entries, access."""

import re
from datetime import datetime
from pathlib import Path

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from adhaero.bench.breaking.hand_break import break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.over import void
from adhaero.bench.plan import edits
from adhaero.store.file import utc_now
from tests.screens.conftest import RunningShop
from tests.shops import Shop, typed_break

pytestmark = pytest.mark.screen

AXE = Path(__file__).parents[2] / "web/node_modules/axe-core/axe.min.js"
LOADS = {"planed": ["700 N", "712 N", "690 N", "721 N"], "toothed": ["600 N", "613 N", "590 N", "620 N"]}
STATIONS = ("plan", "saw", "timetable", "glue", "cure", "break", "compare")


def test_two_windows_stay_in_step(context: BrowserContext, page: Page, trial: Shop) -> None:
    other = context.new_page()
    page.goto("/trials/1/plan")
    other.goto("/trials/1/plan")
    field = page.get_by_label("width", exact=True)
    field.fill("1-1/8 in")
    field.press("Enter")
    expect(other.get_by_label("width", exact=True)).to_have_value("1-1/8 in")
    # 28.575 mm · 9 mm
    expect(other.get_by_role("complementary")).to_contain_text("2.57 cm²")
    other.get_by_role("button", name=re.compile("^Undo: Changed width")).click()
    expect(page.get_by_label("width", exact=True)).to_have_value("30 mm")


def test_a_stale_edit_is_told_in_the_second_window_and_nothing_is_overwritten(
    context: BrowserContext, page: Page, trial: Shop
) -> None:
    page.goto("/trials/1/plan")
    field = page.get_by_label("width", exact=True)
    field.focus()
    field.press_sequentially("5")
    edits.edit_plan(trial.file, 1, "width_mm", "30 mm", "25 mm")
    page.wait_for_timeout(300)
    field.press("Enter")
    alert = page.get_by_role("alert").filter(has_text="was changed to “25 mm” in another window")
    expect(alert).to_be_visible()
    page.get_by_role("button", name="Take “25 mm”").click()
    expect(field).to_have_value("25 mm")
    expect(alert).to_have_count(0)


def test_wrong_entries_offer_what_could_be_meant(page: Page, trial: Shop) -> None:
    page.goto("/trials/1/plan")
    field = page.get_by_label("width", exact=True)
    field.fill("1,500")
    field.press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("can be read in two ways: 1.500 mm or 1500 mm")
    expect(field).to_have_attribute("aria-invalid", "true")
    field.fill("3/4")
    field.press("Enter")
    page.get_by_role("button", name="3/4 in", exact=True).click()
    expect(field).to_have_value("3/4 in")
    expect(field).to_have_attribute("aria-invalid", "false")
    page.get_by_label("Pieces of each set").fill("some")
    page.get_by_label("Pieces of each set").press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("whole number from 0 to 1000")


def test_nothing_typed_is_lost_by_a_reload(page: Page, trial: Shop) -> None:
    page.goto("/trials/1/plan")
    page.get_by_label("width", exact=True).press_sequentially("furlongs ")
    page.reload()
    expect(page.get_by_label("width", exact=True)).to_have_value(re.compile("furlongs"))
    page.goto("/")
    page.get_by_role("button", name="Start a trial").click()
    page.get_by_label("What do you want to know?").fill("Half a quest")
    page.reload()
    expect(page.get_by_label("What do you want to know?")).to_have_value("Half a quest")


def test_undo_and_redo_by_key(page: Page, trial: Shop) -> None:
    page.goto("/trials/1/plan")
    page.get_by_role("button", name="Remove toothed").click()
    expect(page.get_by_text("Only planed is there")).to_be_visible()
    page.locator("h1").click()
    page.keyboard.press("u")
    expect(page.get_by_role("list", name="Values").get_by_text("toothed")).to_be_visible()
    page.get_by_role("button", name="Redo: Removed a value").click()
    expect(page.get_by_text("Only planed is there")).to_be_visible()


def test_the_clamp_timer_survives_a_reload_and_a_restart(page: Page, trial: Shop, shop: RunningShop) -> None:
    trial.saw()
    trial.clock.forward(hours=26)
    trial.glue()  # planned: two hours, closed one hour ago
    page.goto("/trials/1/glue")
    timer = page.get_by_role("timer")
    expect(timer).to_have_text(re.compile(r"^(59|60) min$"))
    page.reload()
    expect(timer).to_have_text(re.compile(r"^(59|60) min$"))
    shop.stop()
    shop.start()
    page.reload()
    expect(timer).to_have_text(re.compile(r"^(59|60) min$"))
    page.goto("/")
    expect(page.get_by_text(re.compile(r"^(59|60) min$"))).to_be_visible()
    page.get_by_role("button", name=re.compile("^Take off clamps")).click()
    expect(page.get_by_text("Nothing is in clamps.")).to_be_visible()
    assert all(3500 < (piece.clamped_s or 0) < 3700 for piece in trial.pieces), "the real time is what is kept"


def test_clamps_on_one_by_one_and_at_a_time_before(page: Page, trial: Shop) -> None:
    trial.saw()
    page.goto("/trials/1/glue")
    page.get_by_role("button", name=re.compile("^Make a glue-up of 6 pieces")).click()
    page.get_by_text("Piece by piece: clamp on or off, what went wrong").click()
    page.get_by_role("button", name="clamp on").first.click()
    expect(page.get_by_role("button", name="clamp off")).to_have_count(1)
    page.get_by_role("region", name="Glue-up 1").get_by_role("button", name="at another time …").click()
    earlier = page.evaluate(
        "() => { const d = new Date(Date.now() - 50 * 60000 - new Date().getTimezoneOffset() * 60000);"
        " return d.toISOString().slice(0, 16) }"
    )
    page.get_by_label("Clamps on or off").fill(earlier)
    page.get_by_role("button", name=re.compile("^Clamps on ")).click()
    expect(page.get_by_role("button", name="clamp off")).to_have_count(6)
    closed = sorted(piece.closed_utc for piece in trial.pieces if piece.closed_utc)
    assert len(set(closed)) == 2
    ages = [(utc_now() - datetime.fromisoformat(moment)).total_seconds() / 60 for moment in set(closed)]
    assert sorted(round(age / 10) for age in ages) == [0, 5]


def test_a_piece_is_voided_with_a_reason_and_put_back(page: Page, trial: Shop) -> None:
    trial.saw().glue()
    page.goto("/trials/1/glue")
    page.get_by_label("What went wrong with").first.select_option("void")
    page.get_by_role("button", name="slid in the clamp").click()
    expect(page.get_by_role("heading", name="Void, never loaded")).to_be_visible()
    assert [piece.void_reason for piece in trial.pieces if piece.void_reason] == ["slid in the clamp"]
    page.get_by_role("button", name="Put back").click()
    expect(page.get_by_role("heading", name="Void, never loaded")).to_have_count(0)


def test_a_break_by_keys_alone(page: Page, trial: Shop) -> None:
    trial.saw().glue().cure()
    page.goto("/trials/1/break")
    page.get_by_label("The load comes from").select_option("none")
    label = page.locator("main h2").first
    first = label.inner_text()
    page.locator("h1").click()
    page.keyboard.press("/")
    page.keyboard.type(trial.pieces[3].label)
    page.keyboard.press("Enter")
    expect(label).to_have_text(trial.pieces[3].label)
    page.locator("h1").click()
    page.keyboard.press("Escape")
    expect(label).to_have_text(first)
    page.get_by_label(re.compile("^Peak load")).focus()
    page.keyboard.type("2 t")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("2000 kgf or 4000 lbf")
    page.get_by_label(re.compile("^Peak load")).fill("72 kg")
    page.keyboard.press("Enter")
    expect(label).not_to_have_text(first)
    page.locator("h1").click()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("keep the break, go to the next piece")
    page.keyboard.press("Escape")
    page.keyboard.press("u")
    expect(label).to_have_text(first)


def test_a_load_beyond_the_rig_is_asked(page: Page, trial: Shop) -> None:
    trial.saw().glue().cure()
    page.goto("/trials/1/break")
    page.get_by_label("The load comes from").select_option(label="Practice press, typed by hand")
    page.get_by_label(re.compile("^Peak load")).fill("7 kN")
    expect(page.get_by_text("More than this rig carries")).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.get_by_text("Next piece, 7 ready")).to_be_visible()


def test_a_rig_that_is_gone_is_named_and_comes_back(page: Page, trial: Shop, shop: RunningShop) -> None:
    with shop.file.changing("practice", 1, undoable=False) as connection:
        connection.execute("UPDATE trial SET practice = 1")
    trial.saw().glue().cure()
    page.goto("/trials/1/break")
    status = page.get_by_role("status")
    expect(status).to_contain_text("reading")
    shop.rig.say("UNPLUG 3s")
    expect(status).to_contain_text("not reachable; trying again by itself")
    expect(page.get_by_role("button", name=re.compile("^Zero and arm"))).to_be_disabled()
    expect(status).to_contain_text("reading")
    shop.rig.say("GARBLE 400")
    expect(status).to_contain_text("its lines hold no number")


def test_a_piece_set_aside_in_compare_is_put_back_with_one_click(page: Page, trial: Shop) -> None:
    trial.saw().glue().cure().break_all(LOADS)
    odd = trial.pieces[0]
    page.goto(f"/trials/1/break?piece={odd.id}")
    page.get_by_role("button", name=re.compile("^Set aside")).click()
    page.get_by_role("button", name="fixture slipped").click()
    page.get_by_role("link", name=re.compile(r"^Compare \d")).click()
    aside = page.get_by_role("complementary")
    expect(aside).to_contain_text(f"{odd.label}: fixture slipped")
    row = page.get_by_role("table", name="The sets in numbers").get_by_role(
        "row", name=re.compile(f"^{odd.treatment} \\d")
    )
    expect(row).to_contain_text("3 of 4")
    aside.get_by_role("button", name="Put back").click()
    expect(aside).not_to_contain_text("fixture slipped")
    expect(row).not_to_contain_text("3 of 4")


def test_pieces_that_are_all_bounds_lead_to_no_number(page: Page, trial: Shop) -> None:
    trial.saw().glue().cure()
    for piece in trial.pieces:
        break_by_hand(trial.file, 1, typed_break(piece.id, "700 N", Judgement("held")))
    page.goto("/trials/1/compare")
    expect(page.get_by_role("region", name="The answer")).to_contain_text(
        "Nothing can be told: all these pieces are bounds."
    )
    aside = page.get_by_role("complementary")
    expect(aside).not_to_contain_text(re.compile(r"(planed|toothed) is \d+ %"))


def test_every_station_waits_for_the_plan(page: Page, trial: Shop) -> None:
    for station in STATIONS[1:]:
        page.goto(f"/trials/1/{station}")
        expect(page.get_by_role("heading", name="The plan comes first")).to_be_visible()


def test_the_shop_is_kept_and_undone(page: Page, trial: Shop) -> None:
    page.goto("/")
    page.get_by_role("button", name=re.compile("^Shop")).click()
    drawer = page.get_by_role("dialog")
    lot = drawer.get_by_label("lot", exact=True)
    expect(lot).to_have_value("2207")
    lot.fill("2208")
    lot.press("Enter")
    drawer.get_by_role("button", name="Undo in the shop: Changed a glue").click()
    expect(lot).to_have_value("2207")
    drawer.get_by_role("button", name="remove").first.click()
    expect(drawer.get_by_role("alert")).to_contain_text("Wren is used by the trial")
    drawer.get_by_role("tab", name=re.compile("^Rigs")).click()
    drawer.get_by_role("button", name="set up").click()
    drawer.get_by_label("With nothing on it, it shows").fill("nothing")
    drawer.get_by_role("button", name="Save the rig").click()
    expect(drawer.get_by_role("alert").last).to_contain_text("“nothing” was not understood")
    drawer.get_by_label("With nothing on it, it shows").fill("2,1")
    drawer.get_by_role("button", name="Save the rig").click()
    expect(drawer.get_by_role("button", name="Undo in the shop: Changed rig Practice press")).to_be_visible()


def test_inches_and_pounds_everywhere(page: Page, trial: Shop) -> None:
    page.goto("/")
    page.get_by_role("button", name=re.compile("^Shop")).click()
    drawer = page.get_by_role("dialog")
    drawer.get_by_role("tab", name="Units").click()
    drawer.get_by_label("length", exact=True).select_option("in")
    expect(drawer.get_by_label("length", exact=True)).to_have_value("in")
    drawer.get_by_label("force", exact=True).select_option("lbf")
    expect(drawer.get_by_label("force", exact=True)).to_have_value("lbf")
    page.goto("/trials/1/plan")
    aside = page.get_by_role("complementary")
    # 30 · 9 mm² and 0.7 MPa on it
    expect(aside).to_contain_text("0.419 in²")
    expect(aside).to_contain_text("42.5 lbf")


def test_every_screen_can_be_used_by_everyone(page: Page, trial: Shop) -> None:
    """axe-core finds nothing against WCAG 2.2 AA, wide and narrow."""
    trial.saw().glue().cure()
    half = {name: loads[:2] for name, loads in LOADS.items()}
    for piece in trial.pieces:
        if half[piece.treatment]:
            break_by_hand(trial.file, 1, typed_break(piece.id, half[piece.treatment].pop(), Judgement("broke", "50")))
    void.void_piece(trial.file, 1, next(p.id for p in trial.pieces if p.state == "ready"), "slid")
    for size in ({"width": 1280, "height": 800}, {"width": 820, "height": 1180}):
        page.set_viewport_size(size)  # type: ignore[arg-type]
        for path in ("/", *(f"/trials/1/{station}" for station in STATIONS)):
            page.goto(path)
            expect(page.get_by_role("complementary")).to_be_visible()
            page.wait_for_timeout(400)
            page.evaluate(AXE.read_text())
            found = page.evaluate(
                "axe.run({runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']})"
                ".then(r => r.violations.map(v => v.id + ': ' + v.nodes.slice(0, 3).map(n => n.html).join(' | ')))"
            )
            assert found == [], f"{path} at {size['width']}"
            assert page.evaluate("document.documentElement.scrollWidth") <= size["width"], f"{path} scrolls sideways"
