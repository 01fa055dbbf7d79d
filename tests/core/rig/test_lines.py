"""Lines as rigs print them: what could mean two things is never guessed."""

import json
import math
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from adhaero.core.rig.lines import (
    LONGEST_LINE,
    DecimalMark,
    LineNumber,
    Unreadable,
    read_line,
    read_numbers,
    split_lines,
)

CASES = Path(__file__).parents[2] / "reference" / "traces" / "lines.jsonl"
LINES = [json.loads(row) for row in CASES.read_text(encoding="utf-8").split("\n") if row]


@pytest.mark.parametrize("case", LINES, ids=lambda case: f"{case['line'][:30]!r} {case['index']} {case['decimal']}")
def test_every_line_of_the_reference_is_read_right(case: dict) -> None:
    found = read_line(case["line"], case["index"] - 1, DecimalMark(case["decimal"]))
    expected = case["expect"]
    if expected.get("unreadable"):
        assert isinstance(found, Unreadable), found
        return
    assert isinstance(found, LineNumber), found
    assert found.value == pytest.approx(expected["value"], rel=1e-9, abs=1e-12)
    assert found.unit == ("lb" if expected["unit"] == "lbs" else expected["unit"])


@pytest.mark.parametrize(
    ("line", "mark"),
    [
        ("1.234,5 lb", DecimalMark.AUTO),
        ("2,200 N", DecimalMark.AUTO),
        ("12.5 kg", DecimalMark.COMMA),
        ("1 100 kg", DecimalMark.POINT),
        ("3e5", DecimalMark.AUTO),
        ("9 – 5", DecimalMark.AUTO),
        ("Err 12", DecimalMark.POINT),
        ("OVLD 5000 N", DecimalMark.POINT),
        ("12·3 kg", DecimalMark.AUTO),
        ("12٫3 kg", DecimalMark.COMMA),
        ("12~3 kg", DecimalMark.POINT),
        ("12.3" + chr(0x200B) + "4 kg", DecimalMark.AUTO),
        ("1" * (LONGEST_LINE + 1), DecimalMark.AUTO),
    ],
)
def test_what_could_mean_two_things_has_a_reason(line: str, mark: DecimalMark) -> None:
    found = read_line(line, 0, mark)
    assert isinstance(found, Unreadable)
    assert found.why


def test_one_bad_number_leaves_the_others_of_its_line() -> None:
    assert read_numbers("nan 12.3 kg") == (Unreadable("not a number"), LineNumber(12.3, "kg"))
    assert read_line("12.3 kg", 1) == Unreadable("no number 2 in it")


@pytest.mark.parametrize("line", ["12.3 kg/cm2", "12.3 N/mm", "8.1 N=460", "5 G", "5 n"])
def test_what_is_no_unit_of_load_is_none(line: str) -> None:
    found = read_line(line)
    assert isinstance(found, LineNumber)
    assert found.unit is None


@pytest.mark.parametrize("ending", ["\n", "\r\n", "\r"])
def test_lines_end_in_three_ways(ending: str) -> None:
    assert split_lines(f"1{ending}2{ending}") == ["1", "2"]
    assert split_lines(f"1{ending}2") == ["1", "2"]


NUMBERS = st.decimals(-99_999, 99_999, places=3, allow_nan=False)
FORMS = st.sampled_from(["{}", "W {} kg", "ST,NT,{},kg", "\x02{} lb\x03", "t {} N;", "({})", "CH1={}N", "{}\xa0kg"])


@given(NUMBERS, FORMS)
def test_a_number_printed_with_a_point_comes_back(value: object, form: str) -> None:
    for mark in (DecimalMark.AUTO, DecimalMark.POINT):
        found = read_line(form.format(f"{value:+.3f}"), 0, mark)
        assert isinstance(found, LineNumber)
        assert found.value == float(str(value))


@given(NUMBERS, FORMS)
def test_a_number_printed_with_a_comma_comes_back_where_the_card_says_so(value: object, form: str) -> None:
    line = form.format(f"{value:+.3f}".replace(".", ","))
    found = read_line(line, 0, DecimalMark.COMMA)
    assert isinstance(found, LineNumber)
    assert found.value == float(str(value))
    assert isinstance(read_line(line), Unreadable)


@given(st.integers(1, 999), st.integers(0, 999), st.sampled_from(["", ".5"]))
def test_grouped_thousands_are_one_number_or_none(high: int, low: int, decimals: str) -> None:
    value = float(f"{high}{low:03d}{decimals}")
    assert isinstance(read_line(f"{high},{low:03d}{decimals} N"), Unreadable)
    assert isinstance(read_line(f"{high} {low:03d}{decimals} N"), Unreadable)
    assert read_line(f"{high},{low:03d}{decimals} N", 0, DecimalMark.POINT) == LineNumber(value, "N")
    assert read_line(f"{high}\u202f{low:03d}{decimals} N") == LineNumber(value, "N")


@given(st.text(max_size=300) | st.text("0123456789.,+-−eExE kgNlbf'\t\xa0:/#naifOL", max_size=40))
def test_any_line_is_finite_numbers_or_a_reason(line: str) -> None:
    for mark in DecimalMark:
        found = read_numbers(line, mark)
        numbers = () if isinstance(found, Unreadable) else found
        assert all(math.isfinite(one.value) if isinstance(one, LineNumber) else one.why for one in numbers)
