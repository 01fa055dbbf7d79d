"""The headline answers what the plan asked, and every wood has its own solid pieces."""

from dataclasses import replace
from pathlib import Path

import pytest

from adhaero.bench.breaking.hand_break import break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.compare import findings
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.findings import FindingsView, Wishes, view_findings
from adhaero.bench.compare.findings.checks import view_checks
from adhaero.bench.compare.view import CompareView, view_compare
from adhaero.bench.cure import exposures
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.glue.batches import BatchEntry, start_batch
from adhaero.bench.glue.clamps import put_clamps_on
from adhaero.bench.plan import factors, levels, settled, treatments
from adhaero.bench.plan import view as plan_view
from adhaero.bench.plan.boards import BoardEntry, add_boards
from adhaero.bench.plan.dealing import deal_plan
from adhaero.bench.plan.levels import LevelEntry
from adhaero.bench.shop.glue_figures import edit_figure
from adhaero.bench.shop.view import view_shop
from adhaero.core.errors import EntryError, PlanError
from adhaero.core.plan.treatments import TreatmentKind
from adhaero.core.stats.breaks import Estimate
from adhaero.store.plans import insert_factor
from tests.shops import Shop, new_shop, ready_shop, typed_break

SPREAD = (0.97, 1.02, 1.0, 1.03, 0.98, 1.01, 0.96)
DRY, WET = "kept dry in the shop", "soaked 24 h in cold water"


def compare(shop: Shop, choice: Choice | None = None) -> CompareView:
    return view_compare(shop.file, shop.trial, choice or Choice())


def headline(shop: Shop) -> str:
    summary = compare(shop).summary
    assert summary is not None
    return summary.headline


def broken(shop: Shop, loads: dict[str, float], torn: dict[str, str] | None = None) -> Shop:
    """Break every piece near the load of its set, the face torn as far as told."""
    for turn, piece in enumerate(shop.pieces):
        typical = next(load for name, load in loads.items() if name in piece.treatment)
        load = f"{typical * SPREAD[turn % len(SPREAD)]:.0f} N"
        break_by_hand(
            shop.file,
            shop.trial,
            typed_break(piece.id, load, Judgement("broke", (torn or {}).get(piece.treatment, "25"))),
        )
    return shop


def test_how_it_goes_with_a_quantity_is_answered_by_the_curve(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan(pieces=5, count=5, holds=6)
    shop.edit("answer", "curve")
    factor = factors.add_factor(shop.file, shop.trial, "cure_time")
    for value in ("24 h", "48 h", "96 h"):
        levels.add_level(shop.file, shop.trial, factor, LevelEntry(value))
    shop.saw().glue().cure()
    shop.clock.forward(hours=100)
    broken(shop, {"24 h": 400.0, "48 h": 550.0, "96 h": 640.0})
    said = compare(shop).summary
    assert said is not None
    assert said.headline.startswith("Planed reaches 90 % of its strength after 2."), said.headline
    assert said.also, "the sets compared stand below it"
    curve = "Planed reaches 90 % after 2 h; after 1 d planed has 20 % of its final strength; toothed beats planed"
    findings.conclude(shop.file, shop.trial, "", curve)
    claims = view_checks(shop.file, shop.trial, Choice()).claims
    assert [one.standing for one in claims] == ["contradicted", "contradicted", "not supported"], claims
    assert "(days)" in claims[0].understood
    shop.edit("answer", "compare")
    assert headline(shop) == said.also


def test_what_wet_leaves_is_answered_by_what_is_kept(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan(pieces=5, count=5, holds=4)
    shop.edit("answer", "retention")
    factor = factors.add_factor(shop.file, shop.trial, "condition")
    for value in (DRY, WET):
        levels.add_level(shop.file, shop.trial, factor, LevelEntry(value))
    shop.saw().glue().cure()
    wet = [one.id for one in shop.pieces if WET in one.treatment]
    exposures.put_in(shop.file, shop.trial, wet, "soak", "24 h")
    shop.clock.forward(hours=24)
    exposures.take_out(shop.file, shop.trial, wet)
    broken(shop, {f"planed, {DRY}": 700, f"planed, {WET}": 350, f"toothed, {DRY}": 690, f"toothed, {WET}": 600})
    told = headline(shop)
    assert f"planed, {WET}: keeps 50 % of its strength {DRY}, lost 50 %" in told
    assert "toothed keeps a larger share than planed" in told


def test_shares_can_be_of_any_value_of_anything_that_varies(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan(pieces=5, count=5, holds=4)
    factor = factors.add_factor(shop.file, shop.trial, "cure_time")
    for value in ("1 d", "30 d"):
        levels.add_level(shop.file, shop.trial, factor, LevelEntry(value))
    shop.saw().glue().cure()
    shop.clock.forward(hours=24 * 31)
    broken(shop, {"planed, 1 d": 600, "planed, 30 d": 480, "toothed, 1 d": 600, "toothed, 30 d": 600})

    def ask(base: str = "") -> FindingsView:
        return view_findings(shop.file, shop.trial, Choice(), Wishes(base=base))

    assert ask().base == "", "nothing is asked of what is left"
    assert all(one.key != "retention" for one in ask().findings)
    first, last = (one for one in ask().bases if one.startswith("cure"))
    (found,) = (one for one in ask(last).findings if one.key == "retention")
    assert "planed, 1 d: keeps 126 % of its strength at 30 d, gained 26 %" in " ".join(found.said)
    shop.edit("answer", "retention")
    assert ask().base == first, "the smallest is what shares are of"
    assert "planed, 30 d: keeps 80 % of its strength at 1 d, lost 20 %" in headline(shop)


def test_pass_or_fail_is_answered_by_the_torn_faces(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    shop.edit("answer", "pass_fail")
    broken(shop, {"planed": 700, "toothed": 600}, {"planed": "90", "toothed": "10"})
    said = compare(shop).summary
    assert said is not None
    assert said.headline == "Planed passes more often than toothed (28 to 100 points)." or "passes" in said.headline
    assert "Planed: 4 of 4 passed." in said.averages.capitalize()
    assert "75 %" in said.averages
    assert "stronger" in said.also or "strongest" in said.also


def test_glue_alone_and_both_are_judged_as_planned(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    shop.edit("judged", "glue")
    broken(shop, {"planed": 600, "toothed": 700}, {"planed": "100", "toothed": "20"})
    assert compare(shop).estimate is Estimate.GLUELINE
    assert "toothed" not in headline(shop).lower(), "planed never failed in the glue: it could be stronger"
    assert "planed" in "".join(one.level for one in compare(shop).groups)
    shop.edit("judged", "both")
    said = compare(shop).summary
    assert said is not None
    assert said.headline.startswith("Toothed is stronger than planed, by at least ")
    assert said.also.startswith("For the glue alone: ")
    assert "toothed" not in said.also.lower()


def test_every_wood_gets_its_own_solid_set_on_its_own_boards(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan(pieces=3, count=3, holds=6)
    treatments.add_control(shop.file, shop.trial, TreatmentKind.SOLID)
    assert solids(shop) == ["Solid"]
    factor = factors.add_factor(shop.file, shop.trial, "species")
    for value in ("larch", "ash"):
        levels.add_level(shop.file, shop.trial, factor, LevelEntry(value))
    assert solids(shop) == ["Solid, larch", "Solid, ash"]
    add_boards(shop.file, shop.trial, BoardEntry("larch", "6", "2"))
    add_boards(shop.file, shop.trial, BoardEntry("ash", "6", "2"))
    with shop.file.reading() as connection:
        facts = read_trial(connection, shop.trial)
    dealt = deal_plan(facts)
    boards = list(facts.boards.values())
    assert not dealt.problem
    found = {(facts.made[one.treatment].name, boards[one.board].species) for one in dealt.places}
    assert {pair for pair in found if pair[0].startswith("Solid")} == {("Solid, larch", "larch"), ("Solid, ash", "ash")}
    factors.remove_factor(shop.file, shop.trial, factor)
    assert solids(shop) == ["Solid"]


def solids(shop: Shop) -> list[str]:
    return [one.name for one in plan_view.view_plan(shop.file, shop.trial).treatments if one.solid]


def test_what_went_otherwise_at_a_glue_up_stands_in_mind_with_its_sets(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan()
    edit_figure(shop.file, view_shop(shop.file).glues[0].id, "lowest_temperature_c", "", "10 °C")
    shop.saw()
    for name, entry in (
        ("planed", BatchEntry([], "Wren", shop_temperature="6 °C", note="the door stood open")),
        ("toothed", BatchEntry([], "Wren", shop_temperature="19 °C")),
    ):
        ids = [one.id for one in shop.pieces if one.treatment == name]
        start_batch(shop.file, shop.trial, replace(entry, pieces=ids))
        put_clamps_on(shop.file, shop.trial, ids)
    broken(shop.cure(), {"planed": 500, "toothed": 700})
    mind = compare(shop).mind
    (cold,) = [one for one in mind if "colder" in one]
    (noted,) = [one for one in mind if "door" in one]
    assert "planed; 6 °C, Wren asks for 10 °C" in cold
    assert "planed: the door stood open" in noted
    assert not any("toothed" in one for one in (cold, noted))


def test_a_cold_glue_up_is_named_by_the_family_where_the_glue_has_no_card(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan()
    shop.edit("glue", "Teal")
    shop.saw()
    ids = [one.id for one in shop.pieces]
    start_batch(shop.file, shop.trial, BatchEntry(ids, "Teal", "casein", shop_temperature="1 °C"))
    put_clamps_on(shop.file, shop.trial, ids)
    broken(shop.cure(), {"planed": 500, "toothed": 700})
    (cold,) = [one for one in compare(shop).mind if "colder" in one]
    assert "planed" in cold
    assert "toothed" in cold
    assert "1 °C, Teal asks for" in cold


def test_a_thing_varied_without_values_cannot_be_settled_and_an_old_such_trial_still_opens(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan()
    factor = factors.add_factor(shop.file, shop.trial, "clamp_pressure")
    with pytest.raises((PlanError, EntryError), match="without a value"):
        settled.freeze_plan(shop.file, shop.trial)
    factors.remove_factor(shop.file, shop.trial, factor)
    broken(shop.saw().glue().cure(), {"planed": 500, "toothed": 700})
    with shop.file.changing("as an earlier version left it", shop.trial) as connection:
        insert_factor(connection, trial_id=shop.trial, rank=2, kind="clamp_pressure", name="")
    assert headline(shop).startswith("Toothed is stronger than planed, by at least ")
    view = view_findings(shop.file, shop.trial, Choice(), Wishes())
    assert {"rankings", "weibull"} <= {one.key for one in view.findings}
    assert plan_view.view_plan(shop.file, shop.trial).treatments
