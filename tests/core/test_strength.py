"""From sizes and loads to areas, strengths and clamp pressures: the worked numbers of the method."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from adhaero.core.errors import EntryError
from adhaero.core.fixture import FORMS, Fixture, compute_gauge_load, compute_strength
from adhaero.core.glue import GlueFamily, caution_for
from adhaero.core.joint import Joint, compute_glued_area
from adhaero.core.plan.clamping import compute_clamping, compute_line_force

LBF, KGF, PSI = 4.4482216152605, 9.80665, 0.006894757293168


def test_a_lapped_block_of_a_square_inch_at_640_lbf_is_640_psi() -> None:
    strength = compute_strength(Fixture.BLOCK_SHEAR, 640 * LBF, {"width_mm": 0.8 * 25.4, "overlap_mm": 1.25 * 25.4})
    assert strength.strength_mpa == pytest.approx(4.413, abs=5e-4)
    assert strength.strength_mpa == pytest.approx(640 * PSI)
    assert strength.area_mm2 == pytest.approx(645.16)
    assert strength.kind == "shear"


def test_two_loads_at_the_thirds_of_240_mm() -> None:
    # 3·833.565·80 / (18·324)
    strength = compute_strength(Fixture.BEND_4, 85 * KGF, {"load_arm_mm": 80, "width_mm": 18, "depth_mm": 18})
    assert strength.strength_mpa == pytest.approx(34.30, abs=0.005)


def test_one_load_in_the_middle_of_120_mm() -> None:
    # 3·600·120 / (2·30·9²) = 216000 / 4860
    strength = compute_strength(Fixture.BEND_3, 600, {"span_mm": 120, "width_mm": 30, "depth_mm": 9})
    assert strength.strength_mpa == pytest.approx(44.444, abs=1e-3)


def test_breaking_load_of_a_square_bending_piece_goes_with_the_cube_of_its_size() -> None:
    def per_newton(side: float) -> float:
        sizes = {"load_arm_mm": 90.0, "width_mm": side, "depth_mm": side}
        return compute_strength(Fixture.BEND_4, 1.0, sizes).strength_mpa or 0.0

    assert per_newton(24) / per_newton(21) == pytest.approx((21 / 24) ** 3)
    assert per_newton(24) / per_newton(21) == pytest.approx(0.6699, abs=5e-5)


def test_a_corner_has_a_moment_and_no_stress() -> None:
    strength = compute_strength(Fixture.RACKING, 200, {"arm_mm": 150})
    assert (strength.moment_nm, strength.strength_mpa) == (pytest.approx(30.0), None)


def test_a_cantilever_is_stressed_at_the_joint() -> None:
    strength = compute_strength(Fixture.CANTILEVER, 100, {"arm_mm": 200, "width_mm": 20, "depth_mm": 20})
    assert strength.strength_mpa == pytest.approx(6 * 100 * 200 / (20 * 400))


@pytest.mark.parametrize("fixture", list(Fixture))
def test_every_fixture_names_the_size_that_is_missing(fixture: Fixture) -> None:
    sizes = dict.fromkeys(FORMS[fixture].sizes, 10.0)
    assert compute_strength(fixture, 0.0, sizes).load_n == 0
    for name in sizes:
        for broken in ({**sizes, name: 0.0}, {**sizes, name: -1.0}, {k: v for k, v in sizes.items() if k != name}):
            with pytest.raises(EntryError) as caught:
                compute_strength(fixture, 100.0, broken)
            assert caught.value.field == name


def test_a_negative_load_is_refused() -> None:
    with pytest.raises(EntryError, match="zero or more"):
        compute_strength(Fixture.WITHDRAWAL, -1.0, {"area_mm2": 100})


@given(st.sampled_from(list(Fixture)), st.floats(1, 1e5), st.floats(1.01, 5))
def test_strength_is_proportional_to_load(fixture: Fixture, load: float, times: float) -> None:
    sizes = dict.fromkeys(FORMS[fixture].sizes, 12.5)
    one, more = compute_strength(fixture, load, sizes), compute_strength(fixture, load * times, sizes)
    if one.strength_mpa is not None and more.strength_mpa is not None:
        assert more.strength_mpa / one.strength_mpa == pytest.approx(times)


def test_glued_areas() -> None:
    assert compute_glued_area(Joint.LAPPED_BLOCK, {"width_mm": 21, "overlap_mm": 13}) == pytest.approx(273)
    assert compute_glued_area(Joint.EDGE, {"width_mm": 30, "depth_mm": 9}) == pytest.approx(270)
    scarf = compute_glued_area(Joint.SCARF, {"width_mm": 26, "depth_mm": 26, "slope": 8})
    assert scarf == pytest.approx(676 * math.sqrt(65))


def test_hydraulic_gauge() -> None:
    # 10 MPa on a 20 mm bore: 10·π·400/4
    assert compute_gauge_load(10, 20) == pytest.approx(3141.592653589793)


def test_three_clamps_of_450_lbf_on_nine_square_inches_press_at_150_psi() -> None:
    clamping = compute_clamping(9 * 645.16, 450 * LBF, 3, (120 * PSI, 180 * PSI))
    assert clamping.pressure_mpa == pytest.approx(150 * PSI)
    assert clamping.pressure_mpa == pytest.approx(1.034, abs=5e-4)
    assert clamping.within_target is True
    # 120 psi on 9 in² are 1,080 lbf, 180 psi 1,620: 2.4 and 3.6 clamps
    assert clamping.clamps_needed == (3, 4)
    assert compute_line_force(clamping.pressure_mpa, clamping.area_mm2) == pytest.approx(clamping.force_n)


def test_a_weight_over_two_pieces_presses_each_with_half() -> None:
    assert compute_clamping(2 * 1.1 * 645.16, 22 * LBF).pressure_mpa == pytest.approx(10 * PSI)


@pytest.mark.parametrize(
    ("area", "force", "clamps", "target", "field"),
    [(0, 1, 1, None, "area"), (1, -1, 1, None, "force"), (1, 1, 0, None, "clamps"), (1, 1, 1, (2, 1), "target")],
)
def test_clamps_that_cannot_be(area: float, force: float, clamps: int, target: tuple | None, field: str) -> None:
    with pytest.raises(EntryError) as caught:
        compute_clamping(area, force, clamps, target)
    assert caught.value.field == field


def test_every_glue_family_has_its_caution() -> None:
    assert all(len(caution_for(family)) > 20 for family in GlueFamily)
