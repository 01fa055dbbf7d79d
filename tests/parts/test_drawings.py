"""Every drawing by itself: named, whole, and with words that do not lie on one another."""

from itertools import combinations
from typing import Any

import pytest

from adhaero.core.fixture import Fixture
from adhaero.core.joint import FORMS, Joint
from tests.parts.conftest import Parts

UNIT = {"symbol": "N", "per_si": 1, "offset": 0}


def check(parts: Parts) -> None:
    """The drawing has a role and a name, nothing of it is cut off, and no two words of it overlap."""
    svg = parts.page.locator("#part svg").first
    named = parts.page.locator("#part [role=img]")
    if named.count():
        assert (named.first.get_attribute("aria-label") or "").strip() or svg.locator("title").count()
    else:
        assert svg.get_attribute("aria-hidden") == "true"
    found: dict[str, Any] = svg.evaluate(
        """(svg) => {
          const frame = svg.getBoundingClientRect();
          const box = (one) => { const r = one.getBoundingClientRect(); return [r.left, r.top, r.right, r.bottom]; };
          return {
            frame: [frame.left, frame.top, frame.right, frame.bottom],
            shapes: [...svg.querySelectorAll('path, rect, circle, line')]
              .filter((one) => !one.closest('defs')).map(box),
            words: [...svg.querySelectorAll('text')].map((one) => [one.textContent, ...box(one)]),
          };
        }"""
    )
    left, top, right, bottom = found["frame"]
    for shape in [*found["shapes"], *(one[1:] for one in found["words"])]:
        assert shape[0] >= left - 2
        assert shape[2] <= right + 2
        assert shape[1] >= top - 2
        assert shape[3] <= bottom + 2
    for (one, *a), (other, *b) in combinations(found["words"], 2):
        apart = a[2] <= b[0] + 1 or b[2] <= a[0] + 1 or a[3] <= b[1] + 3 or b[3] <= a[1] + 3
        assert apart, f"{one} lies on {other}"


@pytest.mark.screen
@pytest.mark.parametrize("joint", list(Joint))
def test_every_joint_is_drawn_whole(parts: Parts, joint: Joint) -> None:
    parts.mount("JointDrawing", joint=joint)
    check(parts)


@pytest.mark.screen
@pytest.mark.parametrize("fixture", list(Fixture))
def test_every_fixture_is_drawn_whole_with_every_joint(parts: Parts, fixture: Fixture) -> None:
    for joint in FORMS:
        parts.mount("FixtureDrawing", fixture=fixture, joint=joint)
        check(parts)
    parts.mount("FixtureDrawing", fixture=fixture, joint=Joint.SCARF, solid=True)
    check(parts)


@pytest.mark.screen
def test_expected_loads_stand_beside_a_near_and_a_far_limit(parts: Parts) -> None:
    bands = [
        {"name": name, "low_n": low, "expected_n": low * 1.4, "high_n": low * 2, "pieces": 0, "words": "a guess"}
        for name, low in (("Heron on long boards", 900.0), ("Wren", 1200.0), ("Plover", 400.0))
    ]
    for capacity in (None, 2600.0, 90_000.0):
        safe = None if capacity is None else 0.9 * capacity
        parts.mount("LoadBands", bands=bands, reaches=[], capacity_n=capacity, safe_n=safe, unit=UNIT)
        check(parts)


@pytest.mark.screen
@pytest.mark.parametrize("state", ["planned", "sawn", "clamped", "curing", "ready", "broken", "void"])
def test_every_state_of_a_piece_looks_its_own(parts: Parts, state: str) -> None:
    for solid in (False, True):
        piece = {"state": state, "solid": solid, "excluded": solid, "outcome": None, "wood_failure_pct": 40}
        parts.mount("PieceGlyph", piece=piece)
        check(parts)


@pytest.mark.screen
@pytest.mark.parametrize(
    ("side_by_side", "in_line", "kind"), [(1, 1, "screw clamp"), (4, 3, "press"), (2, 1, "weight")]
)
def test_a_set_up_is_drawn_whole(parts: Parts, side_by_side: int, in_line: int, kind: str) -> None:
    set_up = {"name": "bar clamp", "kind": kind, "clamps": 2, "side_by_side": side_by_side, "in_line": in_line}
    parts.mount("SetUpDrawing", setUp=set_up, dummies=1)
    check(parts)


@pytest.mark.screen
def test_a_timetable_of_hours_and_of_years_is_drawn_whole(parts: Parts) -> None:
    for days in (0.2, 30, 900):
        begin, minutes = 1_772_000_000_000, days * 1440
        times = [(begin, begin + 0.3 * minutes * 60_000), (begin + 0.5 * minutes * 60_000, begin + minutes * 60_000)]
        tasks = [
            {"id": turn, "kind": kind, "words": f"Task {turn}", "lanes": [lane], "odd": False, "pinned": False,
             "begin_utc": parts.page.evaluate("(at) => new Date(at).toISOString()", low),
             "end_utc": parts.page.evaluate("(at) => new Date(at).toISOString()", high),
             "state": "to come", "piece_ids": [turn], "labels": [f"W-0{turn}"]}
            for turn, (kind, lane, (low, high)) in enumerate(
                [("glue", "hands", times[0]), ("clamp", "bar clamp", times[1])], start=1
            )
        ]  # fmt: skip
        parts.mount(
            "Lanes", lanes=["hands", "bar clamp"], tasks=tasks, windows=[], now=begin, chosen=None, selected=None
        )
        assert parts.page.locator("#part svg").first.get_attribute("role") or parts.page.locator("#part [role]").count()


@pytest.mark.screen
def test_every_kind_of_break_is_drawn_whole_and_chosen_by_a_press(parts: Parts) -> None:
    names = ["Heron, planed, in a warm shop over night", "Wren", "Solid"]
    kinds = [("broke", None), ("held", None), ("fell_apart", None), ("broke", "loaded off-centre")]
    dots = [
        {"piece_id": turn, "label": f"W-0{turn}", "treatment": names[turn % 3], "board": "Board 1", "odd": None,
         "strength": 40.0 + turn * 7, "held_strength": 38.0 + turn * 7, "load_n": 900.0, "attempts": 1,
         "outcome": kind, "outcome_words": "broke at", "judged": kind, "wood_failure_pct": 25.0 * (turn % 5),
         "excluded": why, "sizes_from_plan": False}
        for turn, (kind, why) in enumerate(kinds * 3)
    ]  # fmt: skip
    groups = [
        {"level": name, "typical": 60.0 + at, "typical_ci95": [50.0 + at, 71.0 + at], "at_least": None,
         "at_most": None, "letters": "ab"}
        for at, name in enumerate(names)
    ]  # fmt: skip
    groups[1] |= {"typical": None, "typical_ci95": None, "at_least": 80.0}
    unit = {"symbol": "MPa", "per_si": 1, "offset": 0}
    parts.mount("Strip", dots=dots, groups=groups, controls=["Solid"], unit=unit, selected=3)
    check(parts)
    parts.page.locator("#part circle").first.click()
    assert parts.heard()


@pytest.mark.screen
def test_a_cut_map_is_drawn_whole_and_its_labels_stay_apart(parts: Parts) -> None:
    for label, wide in (("W-01", 60.0), ("WREN-TOOTHED-117", 22.0)):
        cuts = [
            {"label": f"{label}{turn}", "words": "half a", "treatment": "Wren", "layer": layer,
             "x_mm": 305.0 * (turn // 2), "y_mm": (wide + 3) * (turn % 2), "length_mm": 300.0, "width_mm": wide}
            for layer in (0, 1) for turn in range(6)
        ]  # fmt: skip
        offcut = {"x_mm": 920.0, "y_mm": 0.0, "length_mm": 80.0, "width_mm": 2 * wide}
        board = {"name": "Board 1", "cuts": cuts, "offcuts": [offcut], "layers": 2}
        parts.mount(
            "CutMap", board=board, size={"length_mm": 1200.0, "width_mm": 2 * wide + 3, "defects": [[1000, 1100]]}
        )
        check(parts)


@pytest.mark.screen
@pytest.mark.parametrize(("n", "margin"), [(2, 5.0), (12, 15.0), (5000, 95.0), (None, 10.0)])
def test_how_many_are_needed_is_drawn_whole(parts: Parts, n: int | None, margin: float) -> None:
    curve = [{"n": one, "detectable_pct": 90 / one**0.5} for one in range(2, 41)]
    found = None if n is None else 90 / n**0.5
    parts.mount("PowerCurve", curve=curve, n=n, detectable=found, margin=margin)
    check(parts)


@pytest.mark.screen
def test_curves_are_drawn_whole_and_name_themselves_apart(parts: Parts) -> None:
    lines = [
        {"name": name,
         "points": [[x, 40 + rise * x, 30 + rise * x, 50 + rise * x] for x in range(0, 25, 2)],
         "dots": [{"piece": f"W-{turn}", "x": 4.0 * turn, "y": 42 + rise * 4 * turn, "outcome": "broke",
                   "excluded": turn == 2} for turn in range(6)]}
        for name, rise in (("Heron", 1.0), ("Wren on long boards", 1.02), ("Plover", 0.2))
    ]  # fmt: skip
    parts.mount("CurveFigure", chart={"factor": "Cure", "x_unit": "h", "y_unit": "MPa", "lines": lines})
    check(parts)


@pytest.mark.screen
@pytest.mark.parametrize("span", [1.3, 40.0])
def test_weak_ends_are_drawn_whole_over_a_short_and_a_long_axis(parts: Parts, span: float) -> None:
    lines = [
        {"name": name, "low": 20.0 + turn, "low_ci95": ends, "points": [[20.0 * span ** (at / 5), at / 5 - 1]
         for at in range(6)], "ends": [[20.0, -1.0], [20.0 * span, 0.0]]}
        for turn, (name, ends) in enumerate((("Heron", [None, 22.0]), ("Wren", [19.0, None]), ("Plover", [18.0, 25.0])))
    ]  # fmt: skip
    marks = [[5, -1.0], [50, -0.4], [90, 0.0]]
    chart = {"lines": lines, "marks": marks, "low_height": -1.0, "left_out": 2}
    parts.mount("WeakEndFigure", chart=chart, unit={"symbol": "MPa", "per_si": 1, "offset": 0})
    check(parts)


@pytest.mark.screen
def test_a_trace_is_drawn_named_by_its_peak_and_pointed_at(parts: Parts) -> None:
    times = [at / 10 for at in range(100)]
    feed = {"times": times, "loads": [12.0 * at for at in range(100)]}
    parts.mount("LiveTrace", feed=feed, version=1, unit=UNIT, peak=1188.0, height=240, mark_s=5.0)
    drawn = parts.page.locator("#part [role=img]")
    assert (drawn.get_attribute("aria-label") or "").endswith("peak 1188 N")
    canvas = parts.page.locator("#part canvas")
    inked = canvas.evaluate(
        """(one) => one.getContext('2d').getImageData(0, 0, one.width, one.height).data
          .filter((v, at) => at % 4 === 3 && v > 0).length"""
    )
    assert inked > 500
    drawn.click(position={"x": 300, "y": 100})
    assert 0 < parts.heard()[0] < 9.9


@pytest.mark.screen
@pytest.mark.parametrize("number", [8, 400])
def test_a_rack_is_drawn_whole_and_every_piece_can_be_reached(parts: Parts, number: int) -> None:
    states = ["planned", "sawn", "clamped", "curing", "ready", "broken", "void"]
    pieces = [
        {"id": turn + 1, "label": f"W-{turn:03}", "state": states[turn % 7], "board": 1 + turn % 2, "treatment": 1,
         "batch": None, "strength": 40.0 + turn if states[turn % 7] == "broken" else None, "excluded": turn % 9 == 5,
         "wood_failure_pct": 50.0, "solid": False, "outcome": "broke"}
        for turn in range(number)
    ]  # fmt: skip
    boards = [{"id": at, "name": f"Ash plank {at}", "species": "ash", "holds": number} for at in (1, 2)]
    rack = {"seed": 7, "pieces": pieces, "boards": boards, "treatments": [{"id": 1, "name": "Heron"}]}
    parts.mount("Rack", rack=rack, selected=None)
    for svg in parts.page.locator("#part svg").all():
        assert svg.bounding_box()["width"] > 20  # type: ignore[index]
    parts.page.keyboard.press("ArrowRight")
    parts.page.get_by_label("Find a label").fill("w003")
    assert parts.heard() == [1, 4]
