"""Known weights make a calibration with its residuals; a daily check weight says whether it still holds."""

from pathlib import Path

import numpy as np
import pytest

from adhaero.bench.breaking.hand_break import break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.breaking.recompute import find_older, recompute
from adhaero.bench.breaking.view import view_break
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.view import view_compare
from adhaero.bench.shop.rig_truth import (
    CalibrationEntry,
    CheckWeightEntry,
    PointTyped,
    calibrate,
    check_rig,
    fit_points,
    view_truth,
)
from adhaero.bench.shop.rigs import save_rig
from adhaero.core.errors import AdhaeroError, EntryError
from adhaero.core.rig.calibration import CheckPoint, fit_calibration
from tests.shops import Shop, press, ready_shop, typed_break

KG = 9.80665
POINTS = CalibrationEntry(
    (
        PointTyped("0", "0.2 kg"),
        PointTyped("10 kg", "10.4 kg"),
        PointTyped("20 kg", "20.6 kg"),
        PointTyped("10 kg", "10.5 kg", rising=False),
        PointTyped("0", "0.3 kg", rising=False),
    )
)


def scale(folder: Path, **card: str) -> tuple[Shop, int]:
    shop = ready_shop(folder)
    return shop, save_rig(
        shop.file, press(url="", simulated=False, kind="scale", capacity="100 kg", resolution="0.1 kg", **card)
    )


def test_the_line_is_that_of_least_squares_and_its_errors_are_told() -> None:
    loads, readings = [0.0, 98.0665, 196.133, 98.0665, 0.0], [0.2, 10.4, 20.6, 10.5, 0.3]
    fit = fit_calibration(
        [CheckPoint(load, read, turn < 3) for turn, (load, read) in enumerate(zip(loads, readings, strict=True))], 980.0
    )
    slope, offset = np.polyfit(loads, readings, 1)
    assert fit.calibration.offset == pytest.approx(offset)
    assert fit.calibration.newton_per_unit == pytest.approx(1 / slope)
    assert fit.residuals_n[0] == pytest.approx((0.2 - offset) / slope)
    assert fit.hysteresis_n == pytest.approx(0.1 / slope)
    assert fit.worst_of_capacity_pct == pytest.approx(100 * max(abs(one) for one in fit.residuals_n) / 980)


def test_fewer_than_three_different_loads_make_no_calibration() -> None:
    with pytest.raises(EntryError, match="2 different loads"):
        fit_calibration([CheckPoint(0, 0.1), CheckPoint(100, 10), CheckPoint(100, 10.1)], 980)
    with pytest.raises(EntryError, match="do not change"):
        fit_calibration([CheckPoint(0, 5), CheckPoint(100, 5), CheckPoint(200, 5)], 980)


def test_a_calibrated_scale_tells_the_truth_of_what_it_shows_from_then_on(tmp_path: Path) -> None:
    shop, rig = scale(tmp_path)
    break_by_hand(shop.file, shop.trial, typed_break(shop.pieces[0].id, "30.6 kg", Judgement("broke", "0")))
    seen = fit_points(shop.file, rig, POINTS)
    calibrate(shop.file, rig, POINTS)
    break_by_hand(shop.file, shop.trial, typed_break(shop.pieces[1].id, "30.6 kg", Judgement("broke", "0")))
    before, after = shop.pulls(0)[0], shop.pulls(1)[0]
    assert before.load_n == pytest.approx(30.6 * KG)
    assert after.load_n == pytest.approx((30.6 - seen.offset) * seen.factor * KG, rel=1e-6)
    assert "(calibration)" in after.load_through
    truth = view_truth(shop.file, rig)
    assert [one.points != [] for one in truth.calibrations] == [True, False]
    assert truth.calibrations[0].points[1].weight == "10 kg"
    assert "up and down differ by" in truth.calibrations[0].words
    assert any("calibration" in words for words in view_compare(shop.file, shop.trial, Choice()).mind)


def test_recomputing_keeps_both_numbers(tmp_path: Path) -> None:
    shop, rig = scale(tmp_path)
    break_by_hand(shop.file, shop.trial, typed_break(shop.pieces[0].id, "30.6 kg", Judgement("broke", "0")))
    assert find_older(shop.file, shop.trial) == []
    calibrate(shop.file, rig, POINTS)
    (older,) = find_older(shop.file, shop.trial)
    assert (older.rig, older.pieces) == ("Press", [shop.pieces[0].label])
    assert recompute(shop.file, shop.trial, rig) == 1
    seen = fit_points(shop.file, rig, POINTS)
    assert shop.pulls(0)[0].load_n == pytest.approx((30.6 - seen.offset) * seen.factor * KG, rel=1e-6)
    piece = view_break(shop.file, shop.trial, shop.pieces[0].id).piece
    assert piece is not None
    (said,) = piece.corrections
    assert (said.words, said.before[:5]) == ("calibration", "0.300")
    assert find_older(shop.file, shop.trial) == []


@pytest.mark.parametrize(
    ("shown", "holds", "words"),
    [("20.1 kg", True, "+0.5 %"), ("20.9 kg", False, "beyond the 0.2 kg"), ("-20 kg", False, "−200.0 %")],
)
def test_a_check_weight_says_whether_the_rig_still_holds(shown: str, holds: bool, words: str, tmp_path: Path) -> None:
    shop, rig = scale(tmp_path, unit="kgf", check="20 kg", check_give="0.2 kg")
    due = view_break(shop.file, shop.trial).rigs[0].check
    assert due is not None
    assert due.is_due
    check_rig(shop.file, rig, CheckWeightEntry(shown))
    read = view_break(shop.file, shop.trial).rigs[0].check
    assert read is not None
    assert (read.is_due, read.holds) == (False, holds)
    assert words in view_truth(shop.file, rig).checks[0].words
    shop.clock.forward(hours=24)
    again = view_break(shop.file, shop.trial).rigs[0].check
    assert again is not None
    assert again.is_due


def test_what_cannot_be_read_is_told_at_its_point(tmp_path: Path) -> None:
    shop, rig = scale(tmp_path)
    with pytest.raises(AdhaeroError) as caught:
        calibrate(shop.file, rig, CalibrationEntry((PointTyped("0", "0"), PointTyped("10 kg", "ten"))))
    assert caught.value.field == "shown-1"
    with pytest.raises(EntryError, match="has no check weight"):
        check_rig(shop.file, rig, CheckWeightEntry("20 kg"))


def test_a_jack_is_calibrated_in_its_gauge(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    rig = save_rig(
        shop.file,
        press(
            url="", simulated=False, kind="jack", bore="35 mm", gauge_unit="bar", capacity="250 bar", resolution="5 bar"
        ),
    )
    points = tuple(PointTyped(f"{kn} kN", f"{bar}") for kn, bar in (("0", "0"), ("4.8", "52"), ("9.6", "104")))
    fit = fit_points(shop.file, rig, CalibrationEntry(points))
    assert fit.factor == pytest.approx(4.8 / 5.003, abs=0.001)
