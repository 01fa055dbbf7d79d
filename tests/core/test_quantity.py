"""Entering quantities: every spelling of a bench, and the sentences for what cannot be read."""

import math
from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from adhaero.core.errors import AmbiguousEntry, EntryError
from adhaero.core.quantity import Bounds, Kind, convert, factor, parse_quantity, show_duration


@pytest.mark.parametrize(
    ("text", "kind", "unit", "expected"),
    [
        ("1,5", Kind.LENGTH, "mm", 1.5),
        (".5 in", Kind.LENGTH, "mm", 12.7),
        ("3/4 in", Kind.LENGTH, "mm", 19.05),
        ("3/4", Kind.LENGTH, "in", 19.05),
        ("1 1/2", Kind.LENGTH, "in", 38.1),
        ("1-1/2 in", Kind.LENGTH, "mm", 38.1),
        ('23/32"', Kind.LENGTH, "mm", 18.25625),
        ("2' 3\"", Kind.LENGTH, "mm", 685.8),
        ("½ in", Kind.LENGTH, "mm", 12.7),
        ("1½ in", Kind.LENGTH, "mm", 38.1),
        ("2 ft 3 1/4 in", Kind.LENGTH, "mm", 692.15),
        ("1 lb", Kind.FORCE, "N", 4.4482216152605),
        ("1#", Kind.FORCE, "N", 4.4482216152605),
        ("1 kg", Kind.FORCE, "N", 9.80665),
        ("240 kgf", Kind.FORCE, "N", 2353.596),
        ("2.4 kN", Kind.FORCE, "lbf", 2400.0),
        ("1 psi", Kind.STRESS, "MPa", 0.006894757293168),
        ("5 N/mm2", Kind.STRESS, "psi", 5.0),
        ("1 bar", Kind.STRESS, "MPa", 0.1),
        ("1 in2", Kind.AREA, "mm²", 645.16),
        ("2 h 30 min", Kind.TIME, "h", 9000.0),
        ("7 d", Kind.TIME, "h", 604800.0),
        ("3 mo", Kind.TIME, "h", 3 * 365.25 / 12 * 86400),
        ("-5 °C", Kind.TEMPERATURE, "°C", -5.0),
        ("67 F", Kind.TEMPERATURE, "°C", 19.4444444444),
        ("8 fl oz", Kind.VOLUME, "ml", 236.5882365),
        ("1.3 oz", Kind.MASS, "g", 36.8543800625),
        ("52 %", Kind.PERCENT, "%", 52.0),
        ("1:8", Kind.SLOPE, "", 8.0),
        ("1 in 12", Kind.SLOPE, "", 12.0),
    ],
)
def test_spellings_of_the_bench_are_read(text: str, kind: Kind, unit: str, expected: float) -> None:
    assert parse_quantity(text, kind, unit, Bounds(lowest=-300)).si == pytest.approx(expected, rel=1e-9)


def test_what_was_typed_is_kept_with_the_unit_that_was_assumed() -> None:
    assert parse_quantity("1,5", Kind.LENGTH, "in").typed == "1,5 in"
    assert parse_quantity(" 240 kg ", Kind.FORCE, "N").typed == "240 kg"


@pytest.mark.parametrize(
    ("text", "kind", "unit", "choices"),
    [
        ("1,500", Kind.LENGTH, "mm", ("1.500 mm", "1500 mm")),
        ("1.500,5", Kind.LENGTH, "mm", ("1500.5 mm",)),
        ("3/4", Kind.LENGTH, "mm", ("3/4 in", "0.75 mm")),
        ("45 m", Kind.TIME, "h", ("45 min", "45 mo")),
        ("2 t", Kind.FORCE, "N", ("2000 kgf", "4000 lbf")),
        ("87 lb", Kind.STRESS, "MPa", ("87 psi",)),
        ("4 oz", Kind.VOLUME, "ml", ("4 fl oz",)),
    ],
)
def test_what_can_be_read_in_two_ways_is_asked(text: str, kind: Kind, unit: str, choices: tuple[str, ...]) -> None:
    with pytest.raises(AmbiguousEntry) as caught:
        parse_quantity(text, kind, unit)
    assert caught.value.choices == choices
    for choice in choices:
        assert parse_quantity(choice, kind, unit).si > 0, "every choice can be typed"


@pytest.mark.parametrize(
    ("text", "kind", "words"),
    [
        ("", Kind.LENGTH, "Nothing was typed"),
        ("wide", Kind.LENGTH, "was not understood"),
        ("22 N", Kind.LENGTH, "“22 N” is a force."),
        ("22 furlongs", Kind.LENGTH, "not a unit known here"),
        ("-3 mm", Kind.LENGTH, "It must be above 0 mm."),
        ("0 mm", Kind.LENGTH, "It must be above 0 mm."),
        ("3/0 in", Kind.LENGTH, "divides by zero"),
        ("1/2 kN", Kind.FORCE, "Fractions are for lengths"),
        ("3 in 2 ft", Kind.LENGTH, "was not understood"),
        ("1.2.3 mm", Kind.LENGTH, "is not one number"),
        ("8:1", Kind.SLOPE, "is not a slope"),
        ("9999999999999999999999 kN 1", Kind.FORCE, "was not understood"),
    ],
)
def test_what_cannot_be_read_is_told(text: str, kind: Kind, words: str) -> None:
    with pytest.raises(EntryError, match=words.replace(".", r"\.")):
        parse_quantity(text, kind)


def test_absurd_sizes_say_what_was_understood() -> None:
    with pytest.raises(EntryError) as caught:
        parse_quantity("3 m", Kind.LENGTH, "mm", Bounds(highest=500), field="width_mm")
    assert caught.value.field == "width_mm"
    assert "“3 m” is 3000 mm" in caught.value.sentence
    assert "More than 500 mm" in caught.value.sentence


@given(st.floats(0.001, 1e6), st.sampled_from(["mm", "in", "ft", "cm"]))
def test_a_value_survives_its_unit(value: float, unit: str) -> None:
    typed = f"{value:.6f} {unit}"
    assert parse_quantity(typed, Kind.LENGTH).si == pytest.approx(
        float(f"{value:.6f}") * factor(Kind.LENGTH, unit), rel=1e-12
    )


@given(st.text(max_size=24), st.sampled_from(list(Kind)))
def test_any_text_is_a_value_or_an_entry_error(text: str, kind: Kind) -> None:
    with suppress(EntryError):
        quantity = parse_quantity(text, kind, bounds=Bounds(lowest=-1e9))
        assert math.isfinite(quantity.si)


def test_units_of_another_kind_are_refused_by_name() -> None:
    with pytest.raises(EntryError, match="not a unit of a time"):
        convert(1.0, Kind.TIME, "mm")


@pytest.mark.parametrize(
    ("seconds", "words"),
    [
        (0.415, "0.4 s"),
        (7.26, "7.3 s"),
        (45.2, "45 s"),
        (2520, "42 min"),
        (33600, "9 h 20 min"),
        (604800, "7 d"),
        (-120, "−2 min"),
        (180000, "2 d 2 h"),
    ],
)
def test_durations_are_told_as_at_a_bench(seconds: float, words: str) -> None:
    assert show_duration(seconds) == words
