"""Every joint: its glued area by hand, what kinds of wood meet in it, and the parts that it is cut from."""

import math

import pytest

from adhaero.core.errors import EntryError
from adhaero.core.joint import FORMS, Joint, compute_glued_area, compute_shares, find_joint, list_members
from adhaero.core.wood import Grain, SurfacePair

SIZES = {
    "length_mm": 200.0,
    "width_mm": 40.0,
    "depth_mm": 20.0,
    "overlap_mm": 25.0,
    "slope": 8.0,
    "half_angle_deg": 30.0,
    "finger_count": 5.0,
    "finger_length_mm": 20.0,
    "rabbet_width_mm": 12.0,
    "rabbet_depth_mm": 8.0,
    "tenon_length_mm": 30.0,
    "tenon_width_mm": 25.0,
    "tenon_thickness_mm": 7.0,
    "dowel_count": 2.0,
    "dowel_diameter_mm": 8.0,
    "dowel_depth_mm": 20.0,
    "spline_depth_mm": 10.0,
}
BY_HAND = {
    Joint.LAPPED_BLOCK: 40 * 25,
    Joint.EDGE: 40 * 20,
    Joint.FACE: 40 * 20,
    Joint.BUTT: 40 * 20,
    Joint.HALF_LAP: 40 * 25,
    Joint.CROSSED: 40 * 25,
    Joint.SCARF: 40 * 20 * math.sqrt(65),
    Joint.V_JOINT: 2 * 40 * 20,  # two flanks of 10 mm / sin 30° each
    Joint.FINGER: 9 * 20 * 20,
    Joint.MITER: 40 * 20 * math.sqrt(2),
    Joint.RABBET: 40 * (12 + 8),
    Joint.MORTISE_TENON: 2 * 30 * 25,
    Joint.MORTISE_TENON_EDGES: 2 * 30 * (25 + 7),
    Joint.LOOSE_TENON: 2 * 30 * 25,
    Joint.DOWELS: 2 * math.pi * 8 * 20,
    Joint.SPLINE: 2 * 10 * 40,
}
CANNOT_CLOSE = {
    Joint.FINGER,
    Joint.MORTISE_TENON,
    Joint.MORTISE_TENON_EDGES,
    Joint.LOOSE_TENON,
    Joint.DOWELS,
    Joint.SPLINE,
}


@pytest.mark.parametrize("joint", list(Joint))
def test_glued_area_is_that_by_hand(joint: Joint) -> None:
    assert compute_glued_area(joint, SIZES) == pytest.approx(BY_HAND[joint])


@pytest.mark.parametrize("joint", list(Joint))
def test_kinds_of_wood_add_up_to_the_whole_area(joint: Joint) -> None:
    for a in Grain:
        for b in Grain:
            assert sum(compute_shares(joint, SIZES, a, b).values()) == pytest.approx(1)


@pytest.mark.parametrize("joint", list(Joint))
def test_every_size_that_is_missing_is_named(joint: Joint) -> None:
    for name in FORMS[joint].sizes:
        without = {key: value for key, value in SIZES.items() if key != name}
        with pytest.raises(EntryError, match="is missing") as caught:
            compute_glued_area(joint, without)
        assert caught.value.field == name


def test_a_scarf_has_a_sixty_fifth_of_end_grain_at_one_in_eight() -> None:
    shares = compute_shares(Joint.SCARF, SIZES)
    assert shares[SurfacePair.END_TO_END] == pytest.approx(1 / 65)


def test_a_flat_joint_has_the_grain_of_its_two_parts() -> None:
    assert compute_shares(Joint.LAPPED_BLOCK, SIZES, Grain.END, Grain.FACE) == {SurfacePair.END_TO_LONG: 1.0}
    assert compute_shares(Joint.LAPPED_BLOCK, SIZES, Grain.EDGE, Grain.FACE) == {SurfacePair.LONG: 1.0}


def test_what_is_enclosed_cannot_close_as_the_glue_shrinks() -> None:
    assert {joint for joint, form in FORMS.items() if not form.closes} == CANNOT_CLOSE


def test_parts_of_a_scarf_overlap_by_its_length() -> None:
    # 200 mm of piece and 160 mm of scarf, shared by two
    assert [part.length_mm for part in list_members(Joint.SCARF, SIZES)] == [180, 180]
    assert [part.length_mm for part in list_members(Joint.SCARF, SIZES, solid=True)] == [200]


def test_grain_of_an_edge_joint_runs_across_the_line_of_the_piece() -> None:
    first, _ = list_members(Joint.EDGE, SIZES)
    assert (first.length_mm, first.width_mm, first.thickness_mm) == (40, 100, 20)


def test_a_tenon_is_cut_from_the_longer_part() -> None:
    assert [part.length_mm for part in list_members(Joint.MORTISE_TENON, SIZES)] == [230, 200]


def test_a_joint_is_found_by_its_name_on_the_screen() -> None:
    assert find_joint("Half lap") is Joint.HALF_LAP
    with pytest.raises(EntryError, match=r"“zipper” is not a joint known here\. Choose one of lapped block"):
        find_joint("zipper")
