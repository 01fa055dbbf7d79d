"""Making on the real interface, on a tablet beside the bench: one big key from laid-out parts to released clamps."""

import re

import pytest
from playwright.sync_api import Page, expect

from adhaero.bench.glue import batches, clamps
from adhaero.bench.glue.batches import BatchEntry
from tests.shops import Shop

pytestmark = pytest.mark.screen


def test_a_glue_up_is_run_with_one_big_key_on_a_tablet(page: Page, trial: Shop) -> None:
    trial.edit("clamp_time_s", "0 s")
    trial.saw()
    batches.start_batch(trial.file, 1, BatchEntry([one.id for one in trial.pieces], "Wren"))
    page.set_viewport_size({"width": 820, "height": 1180})
    page.goto("/trials/1/glue")
    for one in sorted(trial.pieces, key=lambda piece: piece.glue_turn):
        for step in ("Glue is spread on", "Closed:", "In the clamp:"):
            button = page.get_by_role("button", name=re.compile(f"^{step} {one.label}"))
            expect(button).to_be_visible()
            box = button.bounding_box()
            assert box is not None
            assert box["height"] >= 64, "a finger with glue on it"
            page.keyboard.press("Space")
    expect(page.get_by_role("list", name="Pieces of the glue-up")).not_to_be_visible()
    expect(page.get_by_role("timer")).to_contain_text("over")
    page.keyboard.press("PageDown")
    expect(page.get_by_role("heading", name="Glue-ups out of the clamps")).to_be_visible()
    assert all(one.released_utc and one.spread_utc and one.closed_utc for one in trial.pieces)


def test_what_went_otherwise_is_noted_with_one_press(page: Page, trial: Shop) -> None:
    trial.saw()
    batches.start_batch(trial.file, 1, BatchEntry([trial.pieces[0].id], "Wren"))
    page.goto("/trials/1/glue")
    page.get_by_role("button", name="went otherwise").click()
    page.get_by_role("dialog").get_by_role("button", name="squeezed dry").click()
    expect(page.get_by_role("button", name="squeezed dry")).to_be_visible()


def test_labels_are_printed_true_to_size(page: Page, trial: Shop) -> None:
    trial.saw()
    page.goto("/trials/1/saw")
    page.get_by_text("Print the labels").click()
    page.get_by_label("Printed on").select_option("strips-12")
    with page.expect_popup() as opened:
        page.get_by_role("link", name="Open to print").click()
    sheet = opened.value.locator("svg")
    expect(sheet).to_have_count(1)
    box = sheet.bounding_box()
    assert box is not None
    # 210 mm at 96 dots an inch
    assert box["width"] == pytest.approx(210 / 25.4 * 96, abs=1)
    expect(opened.value.locator("[data-label]")).to_have_count(16)


def test_prepared_faces_are_timed_at_the_saw(page: Page, trial: Shop) -> None:
    trial.saw()
    page.goto("/trials/1/saw")
    page.get_by_role("button", name="Faces are prepared now").first.click()
    expect(page.get_by_text("freshly planed counts")).to_be_visible()
    assert sum(one.prepped_utc is not None for one in trial.pieces) == 2
    page.get_by_role("button", name="take it back").click()
    expect(page.get_by_role("button", name="Faces are prepared now")).to_have_count(4)


def test_the_big_key_works_on_one_glue_up_only(page: Page, trial: Shop) -> None:
    trial.edit("clamp_time_s", "0 s")
    trial.saw()
    for half in (trial.pieces[:4], trial.pieces[4:]):
        batches.start_batch(trial.file, 1, BatchEntry([one.id for one in half], "Wren"))
    clamps.put_clamps_on(trial.file, 1, [one.id for one in trial.pieces[:4]])
    page.goto("/trials/1/glue")
    expect(page.get_by_role("button", name=re.compile("^Glue is spread on"))).to_be_visible()
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name=re.compile("^Closed:"))).to_be_visible()
    assert sum(one.spread_utc is not None for one in trial.pieces) == 1
    assert all(one.released_utc is None for one in trial.pieces), "clamps that are due stay on"


def test_a_piece_made_as_another_set_is_moved_with_a_reason(page: Page, trial: Shop) -> None:
    trial.saw().glue()
    label, was = trial.pieces[0].label, trial.pieces[0].treatment
    page.goto("/trials/1/glue")
    page.get_by_label(f"What went wrong with {label}").select_option("set")
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="Count it there").click()
    expect(dialog.get_by_role("alert")).to_contain_text("Say why")
    dialog.get_by_label("What happened (it stays beside the result)").fill("mixed up at the bench")
    dialog.get_by_role("button", name="Count it there").click()
    expect(dialog).to_have_count(0)
    expect(page.get_by_role("complementary")).to_contain_text("of what the plan would have told")
    assert next(one for one in trial.pieces if one.label == label).treatment != was
