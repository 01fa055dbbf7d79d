"""The shared controls, each by itself and by keyboard."""

import pytest
from playwright.sync_api import expect

from tests.parts.conftest import Parts

STALE = {
    "type": "/api/problems/stale-edit", "title": "", "status": 409, "code": "stale-edit", "choices": ["24 mm"],
    "detail": "The width was changed to “24 mm” in another window.", "faults": [], "field": "width_mm",
}  # fmt: skip
AMBIGUOUS = STALE | {"code": "ambiguous-entry", "choices": ["1.5 m", "1500 m"], "detail": "It can be read in two ways."}


@pytest.fixture(autouse=True)
def no_drafts(parts: Parts) -> None:
    parts.page.evaluate("localStorage.clear()")


@pytest.mark.screen
def test_a_field_saves_on_enter_what_it_was_and_is(parts: Parts) -> None:
    parts.mount("Field", label="width", value="22 mm", draftKey="width")
    field = parts.page.get_by_label("width")
    field.fill("24 mm")
    assert parts.page.evaluate("localStorage.getItem('draft width')") == "24 mm"
    field.press("Enter")
    parts.page.wait_for_function("window.parts.heard().length > 0")
    assert parts.heard()[0] == ["22 mm", "24 mm"]
    parts.page.wait_for_function("localStorage.getItem('draft width') === null")


@pytest.mark.screen
def test_a_draft_is_there_again_and_escape_leaves_it(parts: Parts) -> None:
    parts.page.evaluate("localStorage.setItem('draft width', '25')")
    parts.mount("Field", label="width", value="22 mm", draftKey="width")
    field = parts.page.get_by_label("width")
    expect(field).to_have_value("25")
    field.press("Escape")
    expect(field).to_have_value("22 mm")
    assert parts.heard() == []


@pytest.mark.screen
def test_what_was_changed_elsewhere_is_offered_and_taken(parts: Parts) -> None:
    parts.mount("Field", label="width", value="22 mm", answer=STALE)
    field = parts.page.get_by_label("width")
    field.fill("23 mm")
    field.press("Enter")
    expect(parts.page.get_by_role("alert")).to_contain_text("another window")
    expect(field).to_have_attribute("aria-invalid", "true")
    parts.page.get_by_role("button", name="Take “24 mm”").press("Enter")
    expect(parts.page.get_by_role("alert")).to_have_count(0)
    expect(field).to_have_value("22 mm")


@pytest.mark.screen
def test_two_meanings_are_offered_and_the_chosen_one_is_sent(parts: Parts) -> None:
    parts.mount("Field", label="length", value="", answer=AMBIGUOUS)
    parts.page.get_by_label("length").fill("1,500")
    parts.page.get_by_label("length").press("Enter")
    parts.page.get_by_role("button", name="1.5 m", exact=True).click()
    parts.page.wait_for_function("window.parts.heard().length > 1")
    assert parts.heard()[-1] == ["", "1.5 m"]


@pytest.mark.screen
def test_choices_are_made_by_keyboard(parts: Parts) -> None:
    options = [["joint", "joint as built"], ["glue", "glue alone"]]
    parts.mount("Choice", label="Judged for", value="joint", options=options)
    group = parts.page.get_by_role("radiogroup", name="Judged for")
    expect(group.get_by_role("radio", name="joint as built")).to_be_checked()
    group.get_by_role("radio", name="joint as built").press("ArrowRight")
    group.get_by_role("radio", name="joint as built").press(" ")
    assert parts.heard() == ["glue"], "what is chosen already is not chosen again"
    parts.mount("Pick", label="Rings", value="flat", options=[["flat", "flat"], ["rift", "rift"]])
    parts.page.get_by_label("Rings").press("ArrowDown")
    assert parts.heard() == ["rift"]


@pytest.mark.screen
def test_a_question_is_answered_by_enter_and_left_by_escape(parts: Parts) -> None:
    props = {"title": "Set W-01 aside", "label": "Why", "press": "Set aside", "suggestions": ["fixture slipped"]}
    parts.mount("Ask", **props)
    dialog = parts.page.get_by_role("dialog", name="Set W-01 aside")
    expect(dialog.get_by_label("Why")).to_be_focused()
    expect(dialog.get_by_role("button", name="Set aside")).to_be_disabled()
    dialog.get_by_label("Why").fill("loaded off-centre")
    dialog.get_by_label("Why").press("Enter")
    assert parts.heard() == ["loaded off-centre", "closed"]
    parts.mount("Ask", **props)
    parts.page.get_by_role("button", name="fixture slipped").press("Enter")
    assert parts.heard() == ["fixture slipped", "closed"]
    # what is not taken stays as it was typed, with what is wrong with it
    refused = {"title": "x", "detail": "Another piece is labelled so.", "code": "entry", "faults": [], "choices": []}
    parts.mount("Ask", **props, refused=refused)
    expect(dialog.get_by_role("alert")).to_have_count(0)
    dialog.get_by_label("Why").fill("W-02")
    dialog.get_by_label("Why").press("Enter")
    expect(dialog.get_by_role("alert")).to_have_text("Another piece is labelled so.")
    expect(dialog.get_by_label("Why")).to_have_value("W-02")
    assert parts.heard() == ["W-02"]
    parts.mount("Ask", **props)
    parts.page.keyboard.press("Escape")
    parts.page.wait_for_function("window.parts.heard().length === 1")
    assert parts.heard() == ["closed"]


@pytest.mark.screen
def test_keys_of_a_screen_are_silent_while_something_is_typed_and_a_foot_switch_means_enter(parts: Parts) -> None:
    parts.mount("Keyed")
    parts.page.keyboard.press("r")
    parts.page.keyboard.press("Enter")
    parts.page.keyboard.press("PageDown")
    assert parts.heard() == ["R", "enter", "enter"]
    parts.page.get_by_label("typed").press("r")
    assert parts.heard() == ["R", "enter", "enter"]


@pytest.mark.screen
def test_several_faults_of_a_form_are_told_each(parts: Parts) -> None:
    faults = [{"field": "name", "detail": "The board has no name.", "choices": []},
              {"field": "width", "detail": "“34 lb” is a force.", "choices": []}]  # fmt: skip
    parts.mount("Trouble", problem=STALE | {"code": "form", "faults": faults, "choices": []})
    expect(parts.page.get_by_role("alert").get_by_role("listitem")).to_have_count(2)
