"""The Compare station in a real browser: bounds, matrix, how we know, conclusions, steps of weights."""

import re

import pytest
from playwright.sync_api import Page, expect

from adhaero.bench.breaking.hand_break import break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from tests.made_up import KINDS, many, put
from tests.screens.conftest import RunningShop
from tests.shops import Shop, typed_break

BASE = {"planed": (700, 712, 690, 721), "toothed": (600, 613, 590, 620)}


@pytest.fixture
def torn(trial: Shop) -> Shop:
    """Eight broken pieces; the two best planed ones tore in the wood."""
    trial.saw().glue().cure()
    seen: dict[str, int] = {}
    for piece in trial.pieces:
        turn = seen[piece.treatment] = seen.get(piece.treatment, -1) + 1
        face = "100" if piece.treatment == "planed" and turn in (1, 3) else "0"
        break_by_hand(
            trial.file, 1, typed_break(piece.id, f"{BASE[piece.treatment][turn]} N", Judgement("broke", face))
        )
    return trial


def open_the_rest(page: Page) -> None:
    page.get_by_text("Everything else the breaks say").click()


def test_the_glue_alone_explains_itself_and_raises_the_estimate(page: Page, torn: Shop) -> None:
    page.goto("/trials/1/compare")
    expect(page.get_by_text("As built: every break counts at its value")).to_be_visible()
    page.get_by_role("radio", name="Glue alone").click()
    expect(page.get_by_text("a face torn 75 % or more says only that the glue held")).to_be_visible()
    expect(page.get_by_role("button", name="typical")).to_be_visible()
    page.get_by_role("button", name="More columns").click()
    row = page.get_by_role("table", name="The sets in numbers").get_by_role("row", name=re.compile("^planed"))
    average, typical = (float(row.get_by_role("cell").nth(place).inner_text()) for place in (2, 3))
    assert typical > average
    page.get_by_role("button", name="typical").click()
    expect(page.get_by_role("status").filter(has_text="bounds count as bounds")).to_contain_text("few pieces as few")
    open_the_rest(page)
    section = page.get_by_role("region", name="The weak end, a second opinion", exact=True)
    expect(section.get_by_role("img", name="The weak end of each set")).to_be_visible()


def test_every_number_can_be_asked_how_it_is_known(page: Page, torn: Shop) -> None:
    page.goto("/trials/1/compare")
    page.get_by_role("button", name="19 in 20 above").click()
    answer = page.get_by_role("status").filter(has_text="tolerance limit")
    expect(answer).to_contain_text("k from the noncentral t")
    with page.context.expect_page() as opened:
        answer.get_by_role("link", name="How it is derived").click()
    expect(opened.value.get_by_role("heading", name="Typical strength and scatter")).to_be_visible()
    page.get_by_role("button", name="19 in 20 above").click()
    expect(answer).to_have_count(0)
    open_the_rest(page)
    section = page.get_by_role("region", name="Who comes first, by which average", exact=True)
    section.get_by_text("How do we know").click()
    expect(section).to_contain_text("average = sum / number")


def test_a_conclusion_is_typed_and_checked_clause_by_clause(page: Page, torn: Shop) -> None:
    page.goto("/trials/1/compare")
    aside = page.get_by_role("complementary")
    aside.get_by_label("What you conclude").fill(
        "Planed is stronger than toothed. Toothed is twice as strong as planed."
    )
    aside.get_by_role("button", name="Check it against the numbers").click()
    expect(aside).to_contain_text("Supported, understood as: planed is stronger than toothed: ratio above 1.")
    expect(aside).to_contain_text("Contradicted, understood as: toothed has 190 to 210 % of the strength of planed")
    page.reload()
    expect(aside.get_by_label("What you conclude")).to_have_value(re.compile("^Planed is stronger"))


def test_a_line_of_the_wood_is_typed_and_a_wrong_one_says_what_is_expected(page: Page, torn: Shop) -> None:
    page.goto("/trials/1/compare")
    open_the_rest(page)
    expect(page.get_by_role("region", name="Who comes first, by which average", exact=True)).to_be_visible()
    # no solid pieces: no line, and none is asked for until there is one
    expect(page.get_by_role("region", name="Stronger than the wood", exact=True)).to_have_count(0)
    page.get_by_label("Count the pieces above a strength").fill("50 parrots")
    page.get_by_label("Count the pieces above a strength").press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("is not a unit known here")
    page.get_by_label("Count the pieces above a strength").fill("50 MPa")
    page.get_by_label("Count the pieces above a strength").press("Enter")
    counted = page.get_by_role("region", name="Stronger than a line", exact=True)
    expect(counted.get_by_role("row", name=re.compile("^planed"))).to_contain_text("4 of 4")


def test_a_trial_of_many_sets_is_read_slice_by_slice(page: Page, shop: RunningShop) -> None:
    trial = put(shop.file, many(8, each=3))
    page.goto(f"/trials/{trial}/compare")
    answer = page.get_by_role("region", name="The answer")
    expect(answer).to_contain_text("Dry: Siskin 1")
    expect(answer).to_contain_text("Soaked: ")
    table = page.get_by_role("table", name="The sets in numbers")
    expect(table.get_by_role("row").nth(1)).to_contain_text("Siskin 1")
    expect(page.get_by_role("complementary")).to_contain_text("Soaked costs")
    page.get_by_role("radio", name="soaked").click()
    expect(table.get_by_role("row").nth(1)).not_to_contain_text("Siskin 1")
    page.get_by_label("Ask about").select_option("Heron 1")
    page.get_by_label("against").select_option("Siskin 1")
    expect(
        page.get_by_role("status").filter(has_text=re.compile("Heron 1.*Siskin 1|Siskin 1.*Heron 1"))
    ).to_be_visible()
    page.get_by_label("One at a time by").select_option("glue")
    expect(page.get_by_label("Glue", exact=True)).to_have_value("glue: Heron 1")
    expect(table.get_by_role("row")).to_have_count(5)


def test_numbers_are_shares_and_units_of_ones_own_and_lead_to_pieces(page: Page, shop: RunningShop) -> None:
    trial = put(shop.file, KINDS["joints"])
    page.goto(f"/trials/{trial}/compare")
    table = page.get_by_role("table", name="The sets in numbers")
    expect(table.get_by_role("columnheader", name="of face joint")).to_be_visible()
    page.get_by_label("Compare by").select_option("load")
    page.get_by_label("in", exact=True).select_option("kg")
    expect(table.get_by_role("columnheader").first).to_have_text("kg")
    page.get_by_label("beside it in").select_option("lb")
    expect(table.get_by_role("columnheader", name="lb", exact=True)).to_be_visible()
    page.get_by_label("Share of").select_option("typed")
    page.get_by_label("It has to carry, with its unit").fill("40 parrots")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("is not a unit known here")
    page.get_by_label("It has to carry, with its unit").fill("40 kg")
    page.keyboard.press("Enter")
    expect(table.get_by_role("columnheader", name="of 40 kg")).to_be_visible()
    table.get_by_role("button", name="face joint").click()
    pieces = page.get_by_role("region", name="The pieces of face joint")
    expect(pieces.get_by_role("listitem")).to_have_count(6)
    page.get_by_text("To be read out").click()
    expect(page.get_by_text("We broke 18 pieces of 3 sets from 6 boards")).to_be_visible()
    pieces.get_by_role("link", name="history").first.click()
    expect(page).to_have_url(re.compile(r"/history\?piece=\d+$"))


def test_pass_or_fail_stands_with_its_bounds_and_a_conclusion_is_checked(page: Page, shop: RunningShop) -> None:
    trial = put(shop.file, KINDS["passes"])
    page.goto(f"/trials/{trial}/compare")
    expect(page.get_by_role("region", name="The answer")).to_contain_text("Heron and Wren pass more often than Plover")
    row = page.get_by_role("table", name="Sets by how many").get_by_role("row", name=re.compile("^Wren"))
    expect(row).to_contain_text("12 of 12")
    expect(row).to_contain_text("77 %")
    aside = page.get_by_role("complementary")
    aside.get_by_label("What you conclude").fill("All of Wren passed.")
    aside.get_by_role("button", name="Check it against the numbers").click()
    expect(aside).to_contain_text("Supported, understood as: every piece of Wren passed")


def test_weights_in_steps_are_typed_at_the_bench_and_stand_as_a_range(page: Page, trial: Shop) -> None:
    trial.saw().glue().cure()
    first = trial.pieces[0]
    page.goto(f"/trials/1/break?piece={first.id}")
    page.get_by_label("The load comes from").select_option("none")
    page.get_by_label(re.compile("Peak load")).fill("600-550 N")
    page.get_by_role("button", name="none 0").click()
    page.get_by_role("button", name=re.compile("^Keep, next piece")).click()
    expect(page.get_by_role("alert")).to_contain_text("can be read in two ways")
    page.get_by_role("button", name="550–600 N").click()
    expect(page.get_by_role("alert")).to_have_count(0)
    page.goto(f"/trials/1/break?piece={first.id}")
    expect(page.get_by_text("held 0.550 kN before")).to_be_visible()
    page.goto(f"/trials/1/compare?piece={first.id}")
    expect(page.get_by_text("broke on the weight of")).to_contain_text("before")
