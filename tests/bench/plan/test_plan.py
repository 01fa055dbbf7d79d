"""Planning as a person does it: starters, several things varied, boards of the shop, amendments, planning again."""

import io
from pathlib import Path

import pytest
from PIL import Image

from adhaero.bench.breaking.hand_break import break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.breaks_file import export_breaks
from adhaero.bench.compare.view import view_compare
from adhaero.bench.glue import batches
from adhaero.bench.glue.batches import BatchEntry
from adhaero.bench.over.rack import view_rack
from adhaero.bench.plan import boards, dry_run, edits, factors, settled, starters, treatments
from adhaero.bench.plan import levels as plan_levels
from adhaero.bench.plan import view as plan_view
from adhaero.bench.plan.boards import BoardEntry
from adhaero.bench.plan.levels import LevelEntry, SpacedEntry
from adhaero.bench.saw import cut_list, steps
from adhaero.bench.shop import boards as shop_boards
from adhaero.bench.shop import clamps as shop_clamps
from adhaero.bench.shop import glue_figures, photos
from adhaero.bench.shop.boards import StockBoardEntry
from adhaero.bench.shop.clamps import ClampsEntry
from adhaero.bench.shop.glues import GlueEntry, add_glue
from adhaero.bench.shop.rigs import save_rig
from adhaero.bench.shop.view import view_shop
from adhaero.core.errors import EntryError, InUse, PlanError, ReasonNeeded, StaleEdit, StateError
from adhaero.core.plan.starters import STARTERS
from adhaero.core.plan.treatments import Spacing, TreatmentKind
from adhaero.store.plans import amend_board
from adhaero.store.trials import amend_trial
from tests.shops import Shop, new_shop, press, ready_shop, typed_break

PLANK = StockBoardEntry("Ash plank", "ash", "1.9 m", "60 mm", "26 mm", "9 %", "quarter", "the old mill", "", "3")


@pytest.fixture
def shop(tmp_path: Path) -> Shop:
    return new_shop(tmp_path).plan()


def view(shop: Shop) -> plan_view.PlanView:
    return plan_view.view_plan(shop.file, shop.trial)


def names(shop: Shop) -> list[str]:
    return [one.name for one in view(shop).treatments if not one.left_out]


def vary_more(shop: Shop, kind: str, *values: str) -> int:
    factor = factors.add_factor(shop.file, shop.trial, kind)
    for value in values:
        plan_levels.add_level(shop.file, shop.trial, factor, LevelEntry(value))
    return factor


@pytest.mark.parametrize("key", STARTERS)
def test_every_starter_leads_to_a_settled_plan_without_help(key: str, tmp_path: Path) -> None:
    file = new_shop(tmp_path).file
    trial = starters.start_from(file, key)
    before = plan_view.view_plan(file, trial)
    assert before.problems == []
    assert before.trial.question == STARTERS[key].question
    assert before.consequences.bands or before.trial.answer == "pass_fail"
    assert settled.freeze_plan(file, trial) == before.consequences.pieces > 0


def test_a_starter_takes_a_question_of_ones_own_and_the_glues_of_the_shelf(tmp_path: Path) -> None:
    shop = new_shop(tmp_path)
    for name in ("Heron", "Wren"):
        add_glue(shop.file, GlueEntry(name, "epoxy"))
    shop.trial = starters.start_from(shop.file, "which-glue", question="Heron or Wren for shafts?")
    assert view(shop).trial.question == "Heron or Wren for shafts?"
    assert names(shop) == ["Heron", "Wren", "Solid"]
    with pytest.raises(EntryError, match="no starter “magic”"):
        starters.start_from(shop.file, "magic")


def test_two_things_make_every_combination_and_some_are_left_out(shop: Shop) -> None:
    vary_more(shop, "clamp_time", "30 min", "2 h", "8 h")
    assert len(names(shop)) == 6
    assert names(shop)[0] == "planed, 30 min"
    row = next(one for one in view(shop).treatments if one.name == "toothed, 8 h")
    treatments.leave_out(shop.file, shop.trial, [row.id], out=True)
    assert "toothed, 8 h" not in names(shop)
    assert view(shop).consequences.pieces == 5 * 4
    treatments.leave_out(shop.file, shop.trial, [row.id], out=False)
    assert len(names(shop)) == 6


def test_an_extra_goes_with_some_values_only(shop: Shop) -> None:
    extra = vary_more(shop, "own", "bare", "wetted")
    toothed = next(one for one in view(shop).factors[0].levels if one.name == "toothed")
    factors.edit_factor(shop.file, shop.trial, extra, "only_with", "", str(toothed.id))
    assert names(shop) == ["planed", "toothed, bare", "toothed, wetted"]


def test_up_to_three_things_are_varied(shop: Shop) -> None:
    vary_more(shop, "clamp_time", "1 h")
    vary_more(shop, "gap", "0.1 mm")
    with pytest.raises(EntryError, match="Up to 3 fit one trial"):
        factors.add_factor(shop.file, shop.trial, "spread")


def test_times_by_ratio_stand_in_their_order_as_a_person_would_write_them(shop: Shop) -> None:
    factor = vary_more(shop, "clamp_time")
    plan_levels.add_spaced(shop.file, shop.trial, factor, SpacedEntry("15 min", "8 h", "6", Spacing.RATIO))
    levels = [one.name for one in view(shop).factors[1].levels]
    assert levels == ["15 min", "30 min", "1 h", "2 h", "4 h", "8 h"]
    with pytest.raises(EntryError, match=r"900 s is there already \(“15 min” is the same\)"):
        plan_levels.add_level(shop.file, shop.trial, factor, LevelEntry("900 s"))


def test_pieces_of_one_set_differ_from_the_rest(shop: Shop) -> None:
    toothed = next(one for one in view(shop).treatments if one.name == "toothed")
    treatments.edit_treatment(shop.file, shop.trial, toothed.id, "pieces", "4", "3")
    shop.edit("pieces_each", "2")
    assert [one.pieces for one in view(shop).treatments] == [2, 3]
    treatments.edit_treatment(shop.file, shop.trial, toothed.id, "pieces", "3", "")
    assert [one.pieces for one in view(shop).treatments] == [2, 2]


def test_the_shops_standard_joint_is_made_the_same_in_every_trial(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan()
    treatments.add_control(shop.file, shop.trial, TreatmentKind.STANDARD, "Wren, planed, 0.8 MPa for 2 h")
    shop.trial = starters.start_from(shop.file, "prep")
    treatments.add_control(shop.file, shop.trial, TreatmentKind.STANDARD)
    assert view(shop).treatments[-1].recipe == "Wren, planed, 0.8 MPa for 2 h"


def test_boards_of_the_shop_hold_what_their_size_yields(shop: Shop) -> None:
    for board in view(shop).boards:
        boards.remove_board(shop.file, shop.trial, board.id)
    for name, typed in (("joint", "scarf"), ("depth_mm", "22 mm"), ("width_mm", "22 mm"), ("slope", "1:8")):
        shop.edit(name, typed)
    shop.edit("length_mm", "300 mm")
    shop.edit("span_mm", "270 mm")
    shop.edit("load_arm_mm", "90 mm")
    ids = shop_boards.save_stock_board(shop.file, PLANK)
    boards.take_from_shop(shop.file, shop.trial, ids)
    found = view(shop)
    # two strips of seven parts of (300 + 8 · 22) / 2 = 238 mm
    assert [one.holds for one in found.boards] == [7, 7, 7]
    assert [one.fits for one in found.consequences.yields] == [7, 7, 7]
    cuts = cut_list.view_cut_list(shop.file, shop.trial)
    assert sum(len(one.cuts) for one in cuts.boards) == 2 * 8
    assert [(one.number, one.length_mm, one.rough_width_mm) for one in cuts.parts] == [(8, 238, 24), (8, 238, 24)]
    assert "Rip 2 strips 24 mm wide." in cuts.boards[0].steps
    with pytest.raises(InUse, match="Ash plank 1 is sawn for the trial"):
        shop_boards.remove_stock_board(shop.file, ids[0])
    shorter = StockBoardEntry("Ash plank 1", "ash", "250 mm", "60 mm", "26 mm")
    shop_boards.save_stock_board(shop.file, shorter, ids[0])
    problem = view(shop).problems[0]
    assert problem.startswith("Ash plank 1 has no room for")
    assert "longest clear stretch is 210 mm, and a part takes 238 mm: use a longer board or shorter pieces" in problem
    with pytest.raises(PlanError, match="Ash plank 1 has no room"):
        settled.freeze_plan(shop.file, shop.trial)


@pytest.mark.parametrize(
    ("entry", "words"),
    [
        ({"defects": "400"}, "“400” is not a stretch of the board"),
        ({"defects": "460 to 400 knot"}, "runs backwards"),
        ({"defects": "2 m to 2.1 m knot"}, "lies beyond the board"),
        ({"length": "0 mm"}, "must be above"),
        ({"rings": "wavy"}, "not how rings lie"),
        ({"name": " "}, "no name"),
        ({"count": "many"}, "whole number from 1 to 200"),
    ],
)
def test_a_board_that_cannot_be_is_told(shop: Shop, entry: dict[str, str], words: str) -> None:
    plain = {"name": "P", "species": "ash", "length": "1.9 m", "width": "60 mm", "thickness": "26 mm"}
    with pytest.raises(EntryError, match=words):
        shop_boards.save_stock_board(shop.file, StockBoardEntry(**(plain | entry)))


def test_a_form_filled_in_from_old_values_is_told(shop: Shop) -> None:
    (board,) = shop_boards.save_stock_board(shop.file, StockBoardEntry("P", "ash", "1.9 m", "60 mm", "26 mm"))
    seen = StockBoardEntry("P", "ash", "1.9 m", "60 mm", "26 mm")
    shop_boards.save_stock_board(shop.file, StockBoardEntry("P", "ash", "1.9 m", "80 mm", "26 mm"), board, seen)
    with pytest.raises(StaleEdit, match="width of P was changed to “80 mm”"):
        shop_boards.save_stock_board(shop.file, StockBoardEntry("P", "larch", "1.9 m", "60 mm", "26 mm"), board, seen)
    clamps = ClampsEntry("bar", "screw clamp", "6", "3 kN")
    number = shop_clamps.save_clamps(shop.file, clamps)
    shop_clamps.save_clamps(shop.file, ClampsEntry("bar", "screw clamp", "8", "3 kN"), number, clamps)
    with pytest.raises(StaleEdit, match="number of bar was changed to “8”"):
        shop_clamps.save_clamps(shop.file, ClampsEntry("bar", "screw clamp", "7", "3 kN"), number, clamps)


def test_a_photo_is_kept_small_and_without_what_the_camera_wrote(shop: Shop) -> None:
    (board,) = shop_boards.save_stock_board(shop.file, StockBoardEntry("P", "ash", "1.9 m", "60 mm", "26 mm"))
    picture, out = Image.new("RGB", (3000, 2000), "tan"), io.BytesIO()
    exif = picture.getexif()
    exif[271] = "a camera"
    picture.save(out, "JPEG", exif=exif)
    stored = photos.read_photo(shop.file, photos.add_photo(shop.file, board, out.getvalue()))
    kept = Image.open(io.BytesIO(stored))
    assert kept.size == (1600, 1067)
    assert dict(kept.getexif()) == {}
    with pytest.raises(EntryError, match="no picture"):
        photos.add_photo(shop.file, board, b"%PDF-1.7 no picture")


def test_what_a_glue_takes_waits_for_its_card_and_uses_what_is_usual(shop: Shop) -> None:
    need = view(shop).consequences.glues[0]
    # 8 pieces of 270 mm², 200 g/m² usual with cross-linking PVA, both faces, 30 % wasted
    assert need.mass_g == pytest.approx(8 * 270e-6 * 200 * 2 * 1.3)
    assert need.missing == ("its price", "its pack size")
    glue_figures.edit_figure(shop.file, 1, "price", "", "12")
    glue_figures.edit_figure(shop.file, 1, "pack_g", "", "0.5 kg")
    assert view(shop).consequences.glue_cost == pytest.approx((need.mass_g or 0) * 12 / 500)
    with pytest.raises(StaleEdit, match="price of the pack of Wren"):
        glue_figures.edit_figure(shop.file, 1, "price", "11", "13")
    card = next(one for one in view_shop(shop.file).glues[0].figures if one.name == "open_time_s")
    assert (card.typed, card.usual) == ("", "5 min")


def test_clamps_of_the_shop_make_rounds(shop: Shop) -> None:
    assert view(shop).consequences.forces[0].set_up is None
    shop_clamps.save_clamps(shop.file, ClampsEntry("bar clamp", "screw clamp", "2", "3 kN"))
    set_up = view(shop).consequences.forces[0].set_up
    assert set_up is not None
    assert (set_up.force_n, set_up.rounds) == (pytest.approx(0.7 * 270), (2, 2))


def test_the_only_rig_is_counted_on_and_another_can_be_chosen(shop: Shop) -> None:
    assert view(shop).consequences.reach is None
    save_rig(shop.file, press())
    assert view(shop).consequences.reach is not None
    weak = save_rig(shop.file, press(name="Luggage scale", kind="scale", url="", capacity="50 kg", resolution="50 g"))
    assert view(shop).consequences.reach is None, "two rigs: it must be said which"
    shop.edit("rig_id", str(weak))
    assert view(shop).consequences.reach.capacity_n == pytest.approx(50 * 9.80665)  # type: ignore[union-attr]


def test_the_forecast_and_the_scatter_come_from_own_breaks(tmp_path: Path) -> None:
    loads = {"planed": ["70 N", "71 N", "69 N", "72 N", "70 N", "74 N"], "toothed": ["60 N"] * 3 + ["66 N"] * 3}
    shop = new_shop(tmp_path).plan(pieces=6).saw().glue().cure().break_all(loads)
    shop.trial = settled.copy_plan(shop.file, shop.trial)
    found = view(shop)
    assert found.consequences.bands[0].pieces == 12
    assert "12 of your own breaks in 1 trial" in found.consequences.bands[0].words
    assert view_shop(shop.file).glues[0].tested == [
        "edge joint, bending, one load in the middle: 12 pieces in 1 trial, average 4.96 MPa"
    ]
    assert found.own_scatter is not None
    assert (found.own_scatter.pieces, found.own_scatter.trials) == (12, 1)
    # what nobody wrote down is the same as nothing: no glue and no wood, and a joint that nobody said
    for name in ("glue", "material_a", "material_b"):
        shop.edit(name, "")
    with shop.file.changing("as brought in", 1, undoable=False) as connection:
        amend_trial(connection, 1, joint_said=False)
        for board in view(shop).boards:
            amend_board(connection, board.id, species="")
    assert view(shop).consequences.bands == ()
    assert "joint not said" in view_shop(shop.file).glues[0].tested[0]
    # within sets, √(mean of 0.02502² and 0.05220²) = 0.04094 on logarithms; the sets themselves differ by 12 %
    assert found.own_scatter.cv_pct == pytest.approx(4.095, abs=0.002)


def test_a_settled_plan_changes_with_a_reason_that_stays(shop: Shop) -> None:
    shop.saw()
    with pytest.raises(ReasonNeeded, match="would change from “2 h” to “3 h”"):
        edits.edit_plan(shop.file, shop.trial, "clamp_time_s", "2 h", "3 h")
    assert next(one.typed for one in view(shop).quantities if one.name == "clamp_time_s") == "2 h", "nothing was saved"
    edits.edit_plan(shop.file, shop.trial, "clamp_time_s", "2 h", "3 h", "the shop is cold")
    (amendment,) = view(shop).amendments
    assert (amendment.words, amendment.before, amendment.after) == ("clamp time", "2 h", "3 h")
    compare = view_compare(shop.file, shop.trial, Choice())
    assert compare.amended == [
        "2026-03-02: clamp time changed from 2 h to 3 h after the plan was settled (the shop is cold)."
    ]


def test_another_scheme_relabels_until_something_is_glued(shop: Shop) -> None:
    shop.saw()
    shop.edit("label_scheme", "{trial}.{no}")
    assert {one.label for one in shop.pieces} == {f"1.0{n}" for n in range(1, 9)}
    assert view(shop).amendments == []
    batches.start_batch(shop.file, shop.trial, BatchEntry([shop.pieces[0].id], "Wren"))
    with pytest.raises(StateError, match="What is written on them stays"):
        shop.edit("label_scheme", "{set}-{no}")


def test_pilot_pieces_are_broken_and_never_in_the_results(shop: Shop) -> None:
    shop.edit("pilot", "2")
    shop.saw()
    pilots = [one for one in shop.pieces if one.label.startswith("TRY-")]
    assert len(pilots) == 2
    shop.glue().cure()
    for piece in pilots:
        break_by_hand(shop.file, shop.trial, typed_break(piece.id, "900 N", Judgement("broke", "0")))
    assert view_compare(shop.file, shop.trial, Choice()).dots == []
    assert "TRY-1" not in export_breaks(shop.file, shop.trial, Choice()).content
    assert view_rack(shop.file, shop.trial).flow[-1].of == 8


def test_matched_pairs_are_planned_as_pairs(shop: Shop) -> None:
    shop.edit("matched", "neighbours")
    settled.freeze_plan(shop.file, shop.trial)
    with shop.file.reading() as connection:
        rows = connection.execute("SELECT pair, board_id FROM piece ORDER BY board_id, position").fetchall()
    assert [row["pair"] for row in rows] == [0, 0, 1, 1, 2, 2, 3, 3]


def test_planning_again_what_is_missing(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    for piece in [one for one in shop.pieces if one.treatment == "planed"]:
        break_by_hand(shop.file, shop.trial, typed_break(piece.id, "70 N", Judgement("broke", "0")))
    lost = next(one for one in shop.pieces if one.treatment == "toothed")
    break_by_hand(shop.file, shop.trial, typed_break(lost.id, "60 N", Judgement("broke", "0")))
    shop.trial = settled.copy_plan(shop.file, shop.trial, only_missing=True)
    assert [(one.name, one.pieces, one.left_out) for one in view(shop).treatments] == [
        ("planed", 0, True),
        ("toothed", 3, False),
    ]
    assert view(shop).trial.copied_from == 1


def test_steps_besides_the_joint_are_ticked(shop: Shop) -> None:
    step = steps.add_step(shop.file, shop.trial, "  drill the  pin hole ", "before")
    steps.tick_step(shop.file, shop.trial, step, done=True)
    (row,) = view(shop).steps
    assert (row.words, row.done_utc is not None) == ("drill the pin hole", True)
    with pytest.raises(EntryError, match="is no turn"):
        steps.add_step(shop.file, shop.trial, "saw apart", "whenever")


def test_what_is_not_written_down_is_not_controlled(shop: Shop) -> None:
    assert "wood moisture" in view(shop).not_controlled
    assert "surface prep" not in view(shop).not_controlled, "it is what varies"
    shop.edit("wood_moisture_pct", "9 %")
    assert "wood moisture" not in view(shop).not_controlled


def test_a_cure_that_ends_in_clamps_is_told(shop: Shop) -> None:
    shop.edit("clamp_time_s", "2 h")
    shop.edit("cure_time_s", "30 min")
    told = [one for one in view(shop).consequences.notes if "before the clamps come off" in one]
    assert len(told) == 1
    shop.edit("cure_time_s", "1 d")
    assert not [one for one in view(shop).consequences.notes if "before the clamps come off" in one]


def test_a_dry_run_needs_guesses_that_can_be_read(shop: Shop) -> None:
    first = view(shop).treatments[0].id
    *_, last = dry_run.rehearse(shop.file, shop.trial, [dry_run.Guess("120 %", first)])
    assert last.outlook is not None
    assert last.outlook.pairs[0].true_ratio == pytest.approx(1.2)
    for percent in ("strong", "0 %"):
        with pytest.raises(EntryError):
            next(dry_run.rehearse(shop.file, shop.trial, [dry_run.Guess(percent, first)]))
    with pytest.raises(EntryError) as refused:
        next(dry_run.rehearse(shop.file, shop.trial, [], held="95 %"))
    assert refused.value.field == "held"
    *_, last = dry_run.rehearse(shop.file, shop.trial, [], held="20 %")
    assert (last.of, last.outlook is not None) == (300, True)


def test_values_are_guessed_where_sets_are_many(shop: Shop) -> None:
    second = factors.add_factor(shop.file, shop.trial, "clamp_time")
    for typed in ("1 h", "4 h"):
        plan_levels.add_level(shop.file, shop.trial, second, LevelEntry(typed))
    levels = {one.name: one.id for factor in view(shop).factors for one in factor.levels}
    boards.add_boards(shop.file, shop.trial, BoardEntry("larch", "4", "4"))
    guesses = [dry_run.Guess("80 %", level_id=levels["toothed"]), dry_run.Guess("50 %", level_id=levels["1 h"])]
    *_, last = dry_run.rehearse(shop.file, shop.trial, guesses)
    assert last.outlook is not None
    ratios = {(one.a, one.b): one.true_ratio for one in last.outlook.pairs}
    assert ratios["planed, 4 h", "toothed, 1 h"] in (pytest.approx(0.4), pytest.approx(2.5))
    with pytest.raises(EntryError, match="no value 99"):
        next(dry_run.rehearse(shop.file, shop.trial, [dry_run.Guess("80 %", level_id=99)]))


@pytest.mark.parametrize(
    ("answer", "words"),
    [("curve", "none is varied"), ("trend", "at least 3 ages"), ("retention", "what they go through")],
)
def test_a_plan_says_what_its_answer_still_needs(shop: Shop, answer: str, words: str) -> None:
    assert not any(words in note for note in view(shop).consequences.notes)
    shop.edit("answer", answer)
    assert any(words in note for note in view(shop).consequences.notes)


def test_wood_has_its_price(shop: Shop) -> None:
    assert view(shop).consequences.wood_cost is None
    for board in view(shop).boards:
        boards.remove_board(shop.file, shop.trial, board.id)
    entry = StockBoardEntry("Larch", "larch", "1.9 m", "60 mm", "26 mm", count="2", price="18.50")
    boards.take_from_shop(shop.file, shop.trial, shop_boards.save_stock_board(shop.file, entry))
    assert view(shop).consequences.wood_cost == 37.0


def test_woods_that_vary_come_off_boards_of_their_own(shop: Shop) -> None:
    shop.vary("species", ("larch", "ash"))
    assert any("No board is of ash" in words for words in view(shop).problems)
    boards.add_boards(shop.file, shop.trial, BoardEntry("ash", "2", "2"))
    assert view(shop).problems == []
    assert not [words for words in view(shop).consequences.confounds if "one wood" in words]


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda s: s.edit("pieces_each", "0"), "planed has no pieces"),
        (lambda s: s.edit("pieces_each", "1000") or vary_more(s, "gap", "0 mm", "1 mm", "2 mm"), "up to 5000"),
        (lambda s: s.vary("clamp_pressure", ("0.2 MPa", "1 MPa")) and s.edit("width_mm", ""), "force cannot be told"),
        (lambda s: save_rig(s.file, press(fixtures="block-shear")), "Press does not take this fixture"),
    ],
)
def test_what_stands_in_the_way_is_said_and_the_rest_keeps_working(shop: Shop, change: object, words: str) -> None:
    change(shop)  # type: ignore[operator]
    found = view(shop)
    assert any(words in problem for problem in found.problems), found.problems
    assert found.consequences.detectable_pct is not None or found.treatments[0].pieces == 0


def test_a_plan_of_1280_pieces_on_boards_of_seven(tmp_path: Path) -> None:
    shop = new_shop(tmp_path)
    glues = [f"Bird {number}" for number in range(32)]
    for name in glues:
        add_glue(shop.file, GlueEntry(name, "epoxy"))
    shop.trial = starters.start_from(shop.file, "still-good", question="Which of 32 glues stands weather?")
    shop.vary("glue", tuple(glues))
    vary_more(shop, "condition", "dry", "soaked 24 h", "frozen", "a winter outside")
    shop.edit("pieces_each", "10")
    boards.add_boards(shop.file, shop.trial, BoardEntry("ash", "7", "183"))
    for board in view(shop).boards[:10]:
        boards.remove_board(shop.file, shop.trial, board.id)
    found = view(shop)
    assert (found.consequences.pieces, found.consequences.places, found.problems) == (1280, 1281, [])
    balance = found.consequences.balance
    assert balance is not None
    assert (balance.efficiency or 0) > 0.98 * (balance.bound or 1)
    assert settled.freeze_plan(shop.file, shop.trial) == 1280


def test_a_pried_piece_passes_or_fails_by_its_face(shop: Shop) -> None:
    shop.edit("fixture", "pry")
    shop.saw().glue().cure()
    first = shop.pieces[0].id
    with pytest.raises(EntryError, match="A pried piece has no load"):
        break_by_hand(shop.file, shop.trial, typed_break(first, "40 kg", Judgement("broke", "100")))
    with pytest.raises(EntryError, match="torn wood is not judged"):
        break_by_hand(shop.file, shop.trial, typed_break(first, "", Judgement("broke", "")))
    for number, piece in enumerate(shop.pieces):
        break_by_hand(shop.file, shop.trial, typed_break(piece.id, "", Judgement("broke", "100" if number else "50")))
    view = view_compare(shop.file, shop.trial, Choice())
    assert view.groups == []
    assert view.passing is not None
    assert view.waits == "Prying gives no strength: torn wood on 75 % of the face or more is a pass."
    assert sorted(one.words.partition(". ")[0] for one in view.passing.rows) == [
        "planed: 3 of 4 passed",
        "toothed: 4 of 4 passed",
    ]


def test_a_rig_that_reads_in_steps_above_its_capacity_is_told(shop: Shop) -> None:
    with pytest.raises(EntryError, match=r"reads in steps of 6 kN and pulls up to 5 kN\. A step is much smaller"):
        save_rig(shop.file, press(resolution="6 kN"))


def test_cautions_stand_where_the_choice_is_made(shop: Shop) -> None:
    shop.edit("angle_deg", "90°")
    shop.edit("width_mm", "120 mm")
    shop.edit("clamp_pressure_mpa", "8 MPa")
    cautions = {one.where: one for one in view(shop).consequences.cautions}
    assert cautions["piece"].title == "The grain crosses over 120 mm"
    said = " ".join(one.words for one in cautions.values())
    # larch, tangential 9.1 %: 120 · 0.091 / 28 · 4
    assert "The grain crosses over 120 mm" in said
    assert "(larch: about 1.6 mm for 4 points)" in said
    assert "8 MPa crushes larch across its grain (about 6.4 MPa)" in said
    assert "Short parts" not in said


def test_boards_of_different_moisture_are_said(shop: Shop) -> None:
    for name, moisture in (("dry", "8 %"), ("wet", "14 %")):
        ids = shop_boards.save_stock_board(shop.file, StockBoardEntry(name, "larch", "1 m", "90 mm", "25 mm", moisture))
        boards.take_from_shop(shop.file, shop.trial, ids)
    assert any("differ in moisture, 8 to 14 %" in note for note in view(shop).consequences.notes)
