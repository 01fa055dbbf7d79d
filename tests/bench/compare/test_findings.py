"""What else Compare says: from a whole trial with two things varied, a soak, and what was not meant to vary."""

import re
import shlex
from pathlib import Path

import pytest
from typer.testing import CliRunner

from adhaero.bench.breaking.hand_break import break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.compare import findings
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.breaks_file import export_breaks
from adhaero.bench.compare.curves import view_curves
from adhaero.bench.compare.findings import FindingsView, Wishes, view_findings
from adhaero.bench.compare.findings.checks import ChecksView, view_checks
from adhaero.bench.cure import exposures
from adhaero.bench.glue import batches, clamps
from adhaero.bench.plan import factors, levels
from adhaero.bench.plan.levels import LevelEntry
from adhaero.cli import app
from adhaero.core.errors import StaleEdit
from tests.shops import Shop, new_shop, ready_shop, typed_break

DRY, SOAKED = "kept dry in the shop", "soaked 24 h in cold water"
BASE = {("planed", DRY): 700.0, ("planed", SOAKED): 350.0, ("toothed", DRY): 690.0, ("toothed", SOAKED): 600.0}
SPREAD = (0.97, 1.02, 1.0, 1.03, 0.98)


def broken(shop: Shop, base: dict[tuple[str, ...], float]) -> Shop:
    seen: dict[str, int] = {}
    for piece in shop.pieces:
        turn = seen[piece.treatment] = seen.get(piece.treatment, -1) + 1
        key = next(key for key in base if all(value in piece.treatment for value in key))
        load = f"{base[key] * SPREAD[turn % 5]:.0f} N"
        break_by_hand(shop.file, shop.trial, typed_break(piece.id, load, Judgement("broke", "25")))
    return shop


def find(shop: Shop, choice: Choice | None = None, **wishes: str) -> FindingsView:
    return view_findings(shop.file, shop.trial, choice or Choice(), Wishes(**wishes))


def checks(shop: Shop) -> ChecksView:
    return view_checks(shop.file, shop.trial, Choice())


def said(view: FindingsView, key: str) -> str:
    return "\n".join(next(one for one in view.findings if one.key == key).said)


@pytest.fixture(scope="module")
def soaked(tmp_path_factory: pytest.TempPathFactory) -> Shop:
    shop = new_shop(tmp_path_factory.mktemp("soaked")).plan(pieces=10, count=4)
    factor = factors.add_factor(shop.file, shop.trial, "condition")
    for value in (DRY, SOAKED):
        levels.add_level(shop.file, shop.trial, factor, LevelEntry(value))
    shop.edit("pieces_each", "5")
    shop.saw().glue().cure()
    wet = [one.id for one in shop.pieces if SOAKED in one.treatment]
    exposures.put_in(shop.file, shop.trial, wet, "soak", "24 h")
    shop.clock.forward(hours=24)
    exposures.take_out(shop.file, shop.trial, wet)
    return broken(shop, BASE)


def test_two_things_varied_are_told_by_themselves_and_together(soaked: Shop) -> None:
    words = said(find(soaked), "factors")
    assert "toothed is " in words
    assert f"with {SOAKED} only" in words


def test_the_file_and_its_second_command_give_the_same_effects(soaked: Shop, tmp_path: Path) -> None:
    tidy = export_breaks(soaked.file, soaked.trial, Choice())
    (tmp_path / tidy.name).write_text(tidy.content)
    words = shlex.split(tidy.factors_command)
    words[2] = str(tmp_path / tidy.name)
    output = CliRunner().invoke(app, words[1:], catch_exceptions=False).output
    effect = next(one for one in said(find(soaked), "factors").splitlines() if "averaged over" in one)
    assert effect.split(": ", 1)[1] in output


def test_what_a_soak_leaves_is_told_for_each_set_and_compared(soaked: Shop) -> None:
    words = said(find(soaked), "retention")
    assert f"planed, {SOAKED}: keeps 50 % of its strength {DRY}, lost 50 % (keeps " in words
    assert f"toothed keeps a larger share than planed, {SOAKED}." in words


def test_conditions_in_one_mark_follow_the_weights_that_are_typed(soaked: Shop) -> None:
    assert "toothed has the highest mark" in said(find(soaked), "composite")
    dry = find(soaked, weights=f"{DRY} 1, {SOAKED} 0")
    assert "planed has the highest mark" in said(dry, "composite")
    assert "depends on the weights" in said(dry, "composite")
    wrong = find(soaked, weights="frozen 2")
    assert "Expected a condition and its weight" in wrong.problems["weights"]
    assert said(wrong, "composite") == said(find(soaked), "composite")


def test_a_conclusion_is_checked_kept_and_not_overwritten(soaked: Shop) -> None:
    findings.conclude(soaked.file, soaked.trial, "", "Prep matters more than condition.")
    with pytest.raises(StaleEdit):
        findings.conclude(soaked.file, soaked.trial, "", "Something else.")
    view = checks(soaked)
    assert view.conclusion == "Prep matters more than condition."
    assert len(view.claims) == 1
    findings.conclude(soaked.file, soaked.trial, view.conclusion, "")
    assert checks(soaked).claims == []


def test_what_would_change_the_verdict_names_the_piece_it_hangs_on(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    loads = {"planed": ["700 N", "710 N", "690 N", "705 N"], "toothed": ["640 N", "645 N", "635 N", "760 N"]}
    view = view_checks(shop.break_all(loads).file, shop.trial, Choice(within_boards=False))
    strong = [words for words in view.changes if words.startswith("Without ") and "Planed is stronger" in words]
    assert len(strong) == 1
    assert view.changes[-1].startswith("Tried: ")


def test_a_line_is_typed_in_any_unit_and_pieces_above_it_are_counted(tmp_path: Path) -> None:
    # 3·700·120 / (2·30·81) = 51.9 MPa
    shop = ready_shop(tmp_path).break_all({"planed": ["700 N"] * 3 + ["710 N"], "toothed": ["600 N"] * 3 + ["610 N"]})
    assert all(one.key != "above" for one in find(shop).findings), "no solid wood, no line"
    rows = next(one for one in find(shop, line="50 MPa").findings if one.key == "above").rows
    assert [row[2] for row in rows] == ["4 of 4", "0 of 4"]
    assert find(shop, line="7252 psi").wood_line == pytest.approx(50, rel=1e-3)
    assert "not understood" in find(shop, line="strong").problems["line"]
    assert "“50” has no unit" in find(shop, line="50").problems["line"]
    # a load is turned into a stress by the planned size: 3·700·120 / (2·30·81)
    load = find(shop, line="700 N")
    assert load.wood_line == pytest.approx(51.85, rel=1e-3)
    assert "700 N on the planned size is 51.9 MPa." in said(load, "above")


def test_a_cause_that_was_not_meant_to_vary_is_named(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan(pieces=6, count=4).saw()
    order = sorted(shop.pieces, key=lambda one: one.label)
    first = [one.id for turn, one in enumerate(order) if turn % 2]
    for ids in (first, [one.id for one in order if one.id not in first]):
        batches.start_batch(shop.file, shop.trial, batches.BatchEntry(ids, "Wren", shop_temperature="19.5 °C"))
        clamps.put_clamps_on(shop.file, shop.trial, ids)
        shop.clock.forward(hours=2)
        clamps.take_clamps_off(shop.file, shop.trial, ids)
    shop.clock.forward(hours=24)
    for turn, piece in enumerate(shop.pieces):
        load = (700 if piece.id in first else 450) * SPREAD[turn % 5]
        break_by_hand(shop.file, shop.trial, typed_break(piece.id, f"{load:.0f} N", Judgement("broke", "25")))
    words = said(find(shop, Choice(within_boards=False)), "causes")
    assert "The clamping round explains as much as the sets do" in words


def test_times_in_clamps_are_a_curve(tmp_path: Path) -> None:
    times = {"15 min": 200.0, "30 min": 380.0, "1 h": 560.0, "2 h": 690.0, "4 h": 710.0}
    shop = new_shop(tmp_path).plan(names=(), pieces=4, holds=5)
    shop.vary("clamp_time", tuple(times))
    shop.saw().glue()
    shop.clock.forward(hours=4)
    clamps.take_clamps_off(shop.file, shop.trial, [one.id for one in shop.pieces])
    shop.clock.forward(hours=24)
    seen: dict[str, int] = {}
    for piece in shop.pieces:
        turn = seen[piece.treatment] = seen.get(piece.treatment, -1) + 1
        load = f"{times[piece.treatment] * SPREAD[turn]:.0f} N"
        break_by_hand(shop.file, shop.trial, typed_break(piece.id, load, Judgement("broke", "25")))
    (chart,) = view_curves(shop.file, shop.trial, Choice())
    assert (chart.shape, chart.x_unit, len(chart.lines[0].dots)) == ("cure", "hours", 20)
    assert "90 % of it after 1." in " ".join(chart.lines[0].said)
    xs = [point[0] for point in chart.lines[0].points]
    assert xs[0] == 0
    assert xs[-1] == pytest.approx(4.0)


def test_the_weak_end_is_drawn_for_the_six_strongest_sets(tmp_path: Path) -> None:
    names = tuple(f"{letter}-prep" for letter in "abcdefg")
    base = {(name,): 500.0 + 40 * turn for turn, name in enumerate(names)}
    view = find(broken(new_shop(tmp_path).plan(names=names, pieces=5, count=7).saw().glue().cure(), base))
    assert view.weak_end is not None
    assert [line.name for line in view.weak_end.lines] == list(names[1:])
    assert view.weak_end.left_out == 1
    line = view.weak_end.lines[0]
    assert [point[0] for point in line.points] == sorted(point[0] for point in line.points)
    assert line.low_ci95[0] < line.low < line.low_ci95[1]  # type: ignore[operator]
    assert dict(view.weak_end.marks)[5] == view.weak_end.low_height
    assert len(next(one for one in view.findings if one.key == "weibull").rows) == 7


def test_a_trial_without_breaks_has_nothing_more_to_say(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    found = find(shop).findings, view_curves(shop.file, shop.trial, Choice()), checks(shop).changes
    assert found == ([], [], [])


def test_where_the_averages_disagree_the_piece_is_named_that_makes_them(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    loads = {"planed": ["400 N", "720 N", "730 N", "740 N"], "toothed": ["680 N", "690 N", "700 N", "650 N"]}
    view = find(shop.break_all(loads), Choice(within_boards=False))
    weakest = next(one for one in shop.pieces if one.treatment == "planed")
    told = said(view, "rankings")
    assert (
        f"By the middle piece, planed would come first: {weakest.label}, its weakest, pulls its average down." in told
    )
    assert "By the worst piece" not in told, "it names the same set as the average of all"
    other = tmp_path / "other"
    other.mkdir()
    lucky = {"planed": ["500 N", "520 N", "700 N", "1000 N"], "toothed": ["640 N", "650 N", "660 N", "630 N"]}
    told = said(find(ready_shop(other).break_all(lucky), Choice(within_boards=False)), "rankings")
    assert re.search(r"By the worst piece, toothed would come first: \S+ of planed broke below every piece of", told)
    assert re.search(r"By the average of the middle ones, toothed .*: \S+, the strongest of planed, lifts", told)
