"""Labels, causes that move together, and what a plan leads to."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from adhaero.core.fixture import Fixture
from adhaero.core.joint import Joint
from adhaero.core.plan.confounds import Dealt, find_confounds
from adhaero.core.plan.consequences import Consequences, compute_consequences
from adhaero.core.plan.labels import choose_codes, make_label
from adhaero.core.plan.planned import Plan, PlannedBoard, PlannedTreatment

SCARF = {"width_mm": 22.0, "depth_mm": 22.0, "slope": 8.0}


def lead_to(sets: list[PlannedTreatment], boards: list[PlannedBoard], **sizes: float) -> Consequences:
    mine = sizes or SCARF
    made = tuple(replace(one, joint=Joint.SCARF, sizes=mine) for one in sets)
    plan = Plan(made, tuple(boards), Fixture.BEND_4, mine, cv_pct=15, margin_pct=10, seed=1)
    return compute_consequences(plan)


@given(st.lists(st.text(min_size=1, max_size=12), min_size=1, max_size=12, unique=True))
def test_codes_are_unique_and_not_empty(names: list[str]) -> None:
    codes = choose_codes(names)
    assert len(set(codes)) == len(codes)
    assert all(codes)


def test_labels_sort_as_they_count() -> None:
    labels = [make_label("{set}-{no}", {"set": "H", "no": number}, 120) for number in (2, 11, 100)]
    assert labels == sorted(labels) == ["H-002", "H-011", "H-100"]


def test_a_set_on_one_board_is_named() -> None:
    pieces = [Dealt("Heron", "Board 1", "ash")] * 3 + [
        Dealt("Wren", "Board 1", "ash"),
        Dealt("Wren", "Board 2", "larch"),
    ]
    found = find_confounds(pieces)
    assert [words for words in found if words.startswith("All of Heron is on one board (Board 1)")]
    assert [words for words in found if words.startswith("All of Heron is of one wood (ash)")]
    assert not [words for words in found if "Wren is on one" in words]


def test_one_glue_up_for_each_set_is_named() -> None:
    pieces = [Dealt(name, "B", "ash", batch=up) for name, up in (("Heron", "1"), ("Wren", "2")) for _ in range(3)]
    assert find_confounds(pieces) == (
        "Each set was glued in one glue-up of its own: one bad mix or slow clamping would look like the set.",
    )
    shared = [*pieces, Dealt("Heron", "B", "ash", batch="3")]
    assert find_confounds(shared) == ()


def test_one_glue_always_first_is_named() -> None:
    pieces = [Dealt("Heron", "B", "ash", glue_turn=turn) for turn in (0, 1)]
    pieces += [Dealt("Wren", "B", "ash", glue_turn=turn) for turn in (2, 3)]
    assert [words for words in find_confounds(pieces) if "All of Heron was glued before any other set" in words]
    mixed = [Dealt("Heron", "B", "ash", break_turn=t) for t in (0, 3)]
    mixed += [Dealt("Wren", "B", "ash", break_turn=t) for t in (1, 2)]
    assert find_confounds(mixed) == ()
    at_once = [Dealt(name, "B", "ash", glue_turn=7, break_turn=7) for name in ("Heron", "Wren") for _ in range(2)]
    assert find_confounds(at_once) == (), "what is clamped at one instant comes before nothing"


def test_the_plan_says_what_it_takes() -> None:
    consequences = lead_to(
        [PlannedTreatment("Heron", 6, pressure_mpa=0.6), PlannedTreatment("Wren", 6, pressure_mpa=0.6)],
        [PlannedBoard(f"Board {n}", "ash", 4) for n in range(3)],
    )
    assert (consequences.pieces, consequences.places) == (12, 12)
    # 484·√65 mm² at 0.6 MPa
    assert consequences.forces[0].force_n == pytest.approx(0.6 * 3902.13, abs=0.1)
    assert consequences.problems == consequences.confounds == ()
    assert len(consequences.layout) == 12
    assert consequences.curve[0].n == 3
    seen = [point.detectable_pct for point in consequences.curve]
    assert seen == sorted(seen, reverse=True), "more pieces tell smaller differences apart"


def test_four_sets_of_six_at_15_percent_scatter_tell_44_percent_apart() -> None:
    # reference case power-four-groups
    sets = [PlannedTreatment(name, 6) for name in "ABCD"]
    assert lead_to(sets, [PlannedBoard("B", "ash", 24)]).detectable_pct == pytest.approx(43.97, abs=0.01)


@pytest.mark.parametrize(
    ("sets", "boards", "words"),
    [
        ([], [], "Nothing is varied yet"),
        ([PlannedTreatment("Heron", 5)], [PlannedBoard("B", "ash", 9)], "Only Heron is there"),
        (
            [PlannedTreatment("Heron", 5), PlannedTreatment("Wren", 0)],
            [PlannedBoard("B", "ash", 9)],
            "Wren has no pieces",
        ),
        ([PlannedTreatment("Heron", 5), PlannedTreatment("Wren", 5)], [], "No boards yet"),
        ([PlannedTreatment("Heron", 5), PlannedTreatment("Wren", 5)], [PlannedBoard("B", "ash", 9)], "hold 9 pieces"),
    ],
)
def test_what_is_missing_is_said(sets: list[PlannedTreatment], boards: list[PlannedBoard], words: str) -> None:
    assert [problem for problem in lead_to(sets, boards).problems if words in problem]


def test_few_pieces_and_missing_sizes_do_not_stop_the_rest() -> None:
    consequences = lead_to(
        [PlannedTreatment("Heron", 3), PlannedTreatment("Wren", 3)], [PlannedBoard("B", "ash", 6)], width_mm=22
    )
    assert "below 5 the scatter is hardly known" in consequences.notes[0]
    assert consequences.forces[0].area_mm2 is None
    assert consequences.detectable_pct is not None
