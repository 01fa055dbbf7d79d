"""Lines as rigs print them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from adhaero.core.rig.lines import LONGEST_LINE, find_numbers, read_line


@pytest.mark.parametrize(
    ("line", "value", "unit"),
    [
        ("12.34", 12.34, None),
        ("load: 12.34 kg", 12.34, "kg"),
        ("ST,GS,+0012.3,kg", 12.3, "kg"),
        ("-0.5 N", -0.5, "N"),
        ("−3 lbf", -3.0, "lbf"),
        ("1e3", 1000.0, None),
        ("  7.\r", 7.0, None),
    ],
)
def test_the_number_is_found_among_words_and_signs(line: str, value: float, unit: str | None) -> None:
    found = read_line(line)
    assert found is not None
    assert (found.value, found.unit) == (value, unit)


@pytest.mark.parametrize("line", ["", "ready", "v2a", "--", "\x02\x0312.3\x07", "1" * (LONGEST_LINE + 1), "�12.3"])
def test_what_holds_no_number_is_never_guessed(line: str) -> None:
    assert read_line(line) is None


def test_a_rig_may_print_several_numbers() -> None:
    line = "t=8.10 s load=12.34 kg"
    assert [one.value for one in find_numbers(line)] == [8.1, 12.34]
    assert read_line(line, 1) == find_numbers(line)[1]
    assert read_line(line, 2) is None


@given(st.floats(-1e5, 1e5), st.sampled_from(["{}", "W {} kg", "ST,NT,{},kg\r"]))
def test_a_printed_number_comes_back(value: float, form: str) -> None:
    found = read_line(form.format(f"{value:+.3f}"))
    assert found is not None
    assert found.value == pytest.approx(value, abs=6e-4)


@given(st.text(max_size=300))
def test_any_line_is_a_number_or_none(line: str) -> None:
    found = read_line(line)
    assert found is None or found.value == found.value
