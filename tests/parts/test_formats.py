"""Numbers and times as the screens show them: the same words as the core's."""

import random

import pytest

from adhaero.core.quantity import show_duration
from tests.parts.conftest import Parts

DAY = 86_400


@pytest.mark.screen
def test_durations_are_said_as_the_core_says_them(parts: Parts) -> None:
    rng = random.Random(4)
    seconds = [0, 1, 9.96, 10, 89.4, 90, 7199, 7200, 7229, 7231, 48 * 3600 - 1, 48 * 3600, 48 * 3600 + 3570, 730 * DAY]
    seconds += [round(10 ** rng.uniform(0, 8.2)) for _ in range(300)]
    said = parts.page.evaluate("(all) => all.map(window.parts.format.duration)", seconds)
    assert said == [show_duration(one) for one in seconds]


@pytest.mark.screen
@pytest.mark.parametrize(
    ("value", "figures", "words"),
    [
        (0, 3, "0"),
        (92.74, 3, "92.7"),
        (99.96, 3, "100"),
        (9.996, 3, "10.0"),
        (0.09996, 2, "0.10"),
        (1234.4, 3, "1234"),
        (-0.01234, 2, "−0.012"),
    ],
)
def test_a_number_has_its_figures_and_no_false_digit(parts: Parts, value: float, figures: int, words: str) -> None:
    assert parts.ask("format.digits", value, figures) == words


@pytest.mark.screen
def test_sizes_money_and_labels_are_as_short_as_they_are(parts: Parts) -> None:
    assert [parts.ask("format.plainSize", one) for one in (22, 21.934, 9.5)] == ["22", "21.93", "9.5"]
    assert [parts.ask("format.money", one) for one in (None, 0.034, 12)] == ["–", "0.034", "12.00"]
    assert [parts.ask("format.plainPercent", one) for one in (15, 12.5)] == ["15 %", "12.5 %"]
    labels = [f"W-{number:02}" for number in range(1, 7)]
    assert parts.ask("format.someLabels", labels[:3]) == "W-01 W-02 W-03"
    assert parts.ask("format.someLabels", labels) == "W-01 W-02 +4"


@pytest.mark.screen
def test_marks_of_a_time_axis_do_not_crowd_and_stand_on_the_clock(parts: Parts) -> None:
    minute = 60_000
    for hours in (1, 6, 30, 24 * 9, 24 * 200, 24 * 900):
        px = 800 / (hours * 60 * minute)
        step = parts.ask("ticks.pickStep", px)
        assert step * minute * px >= 58 or step == 365 * 1440
        begin = 1_772_000_000_000
        ticks = parts.ask("ticks.listTicks", begin, begin + hours * 60 * minute, step)
        ats = [one["at"] for one in ticks]
        assert ats == sorted(set(ats))
        assert all(one["words"] for one in ticks)
    midnights = parts.ask("ticks.listTicks", 0, 2 * 1440 * minute, 360)
    assert [one["at"] // minute for one in midnights if one["strong"]] == [0, 1440, 2880]


@pytest.mark.screen
def test_lines_of_an_answer_are_read_wherever_the_network_cuts_them(parts: Parts) -> None:
    whole = '{"done": 100, "words": "größer"}\n{"done": 200}\n'
    for cut in range(1, len(whole)):
        read = parts.page.evaluate("(chunks) => window.parts.read(chunks)", [whole[:cut], whole[cut:]])
        assert read == [{"done": 100, "words": "größer"}, {"done": 200}]


@pytest.mark.screen
def test_names_beside_lines_keep_their_distance(parts: Parts) -> None:
    ends = [{"name": name, "y": y} for name, y in (("Wren", 40), ("Heron", 44), ("Plover", 120))]
    assert dict(parts.ask("placeNames", ends, 14)) == {"Wren": 40, "Heron": 54, "Plover": 120}
