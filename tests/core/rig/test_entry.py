"""A load entered as it was read: what is typed, what the card makes of it, plates in steps, and what is asked about."""

import numpy as np
import pytest

from adhaero.core.errors import AmbiguousEntry, EntryError
from adhaero.core.quantity import Kind
from adhaero.core.rig.entry.card import Card, find_own_load, find_ratio, half_division, weigh_water
from adhaero.core.rig.entry.doubts import SLIPS, Slip, find_limit, find_slip, find_stack, find_step
from adhaero.core.rig.entry.peak import read_peak
from adhaero.core.rig.entry.plates import Plate, propose_plate, read_steps
from adhaero.core.rig.kinds import RigKind

LB, KG = 4.4482216152605, 9.80665
TENS, FIVES, HALVES = Plate("10 kg", 10 * KG, 4), Plate("5 kg", 5 * KG, 2), Plate("2.5 kg", 2.5 * KG, 2)
PLATES = [TENS, FIVES, HALVES]


@pytest.mark.parametrize(
    ("typed", "low", "high", "held", "about"),
    [
        ("41.5", None, 41.5 * LB, False, False),
        ("41,5 kg", None, 41.5 * KG, False, False),
        (">60 lb", None, 60 * LB, True, False),
        ("60+", None, 60 * LB, True, False),
        ("60 kg+", None, 60 * KG, True, False),
        ("at least 60", None, 60 * LB, True, False),
        ("held 60 kg", None, 60 * KG, True, False),
        ("30–35", 30 * LB, 35 * LB, False, False),
        ("30 kg-35 kg", 30 * KG, 35 * KG, False, False),
        ("30 - 35 kg", 30 * KG, 35 * KG, False, False),
        ("30 to 35 kg", 30 * KG, 35 * KG, False, False),
        ("35 ± 2", 33 * LB, 37 * LB, False, False),
        ("35 +/- 2 kg", 33 * KG, 37 * KG, False, False),
        ("<20", 0.0, 20 * LB, False, False),
        ("about 35", None, 35 * LB, False, True),
        ("~35 kg", None, 35 * KG, False, True),
        ("35?", None, 35 * LB, False, True),
        ("about 30-35", 30 * LB, 35 * LB, False, True),
        ("20 lb + 12.5 lb", None, 32.5 * LB, False, False),
        ("20 + 12.5 kg", None, 32.5 * KG, False, False),
        ("20 lb + 1 kg", None, 20 * LB + KG, False, False),
        ("41.6 − 2.4 lb", None, 39.2 * LB, False, False),
        ("41.6 - 2.4", None, 39.2 * LB, False, False),
        ("12 lb 4 oz", None, 12.25 * LB, False, False),
    ],
)
def test_what_is_read_off_is_typed_as_people_write_it(
    typed: str, low: float | None, high: float, held: bool, about: bool
) -> None:
    peak = read_peak(typed, Kind.FORCE, "lb")
    assert (peak.high, peak.at_least, peak.about) == (pytest.approx(high), held, about)
    assert peak.low == (None if low is None else pytest.approx(low))
    assert peak.typed.startswith(typed)


@pytest.mark.parametrize(
    ("typed", "words"),
    [
        ("40-35", "two ways"),
        ("41.6-2.4 lb", "two ways"),
        ("35-35", "begins where it ends"),
        ("5 − 8", "between"),
        ("35 ± 40", "begins below zero"),
        ("20 lb + x", "no number"),
        ("thick", "no number"),
        ("", "Nothing was typed"),
        ("60 mm", "is a length"),
        ("1,500", "two ways"),
    ],
)
def test_what_cannot_be_read_is_refused_with_what_was_understood(typed: str, words: str) -> None:
    if typed == "5 − 8":
        assert read_peak(typed, Kind.FORCE, "lb").low == pytest.approx(5 * LB)
        return
    with pytest.raises(EntryError, match=words):
        read_peak(typed, Kind.FORCE, "lb")


def test_two_readings_of_a_dash_are_both_offered_and_each_can_be_typed() -> None:
    with pytest.raises(AmbiguousEntry) as caught:
        read_peak("40-35 kg", Kind.FORCE, "lb")
    between, taken = (read_peak(choice, Kind.FORCE, "lb") for choice in caught.value.choices)
    assert (between.low, between.high) == (pytest.approx(35 * KG), pytest.approx(40 * KG))
    assert taken.high == pytest.approx(5 * KG)


def test_a_lever_multiplies_what_hangs_and_adds_its_own_weight() -> None:
    """Pivot to piece 100 mm, to hanger 1,000 mm; 2 kg of lever that balance at 450 mm; 10 kg on a hanger of 0.5 kg."""
    own = find_own_load(2 * KG, 450, 100)
    card = Card(RigKind.LEVER, tare_n=0.5 * KG, tare_typed="0.5 kg", ratio=find_ratio(1000, 100), own_n=own)
    assert own == pytest.approx(88.26, abs=0.01)
    assert card.load(10 * KG) == pytest.approx(10.5 * KG * 10 + 88.26, abs=0.01)
    assert card.empty_n == pytest.approx(0.5 * KG * 10 + 88.26, abs=0.01)
    assert card.say() == "+ hanger 0.5 kg, × 10, + lever 88.26 N"


def test_a_gauge_tells_half_a_division_of_its_ram() -> None:
    """A ram of 1.375 in (35 mm) and divisions of 5 bar: 0.25 MPa on 962 mm² are 240.5 N."""
    assert half_division(0.5, 35) == pytest.approx(240.5, abs=0.1)


def test_a_litre_of_water_weighs_a_little_less_than_a_kilogram() -> None:
    assert weigh_water(1000) / KG == pytest.approx(0.9982)


def test_plates_say_what_held_and_what_did_not_with_hanger_and_lever() -> None:
    card = Card(RigKind.WEIGHTS, tare_n=2 * KG)
    steps = read_steps(card, [[TENS], [TENS, TENS], [TENS, TENS, HALVES]], broke=True)
    assert (steps.held_n, steps.broke_n) == (pytest.approx(22 * KG), pytest.approx(24.5 * KG))
    assert read_steps(card, [[TENS], [TENS, FIVES]], broke=False) == read_steps(card, [[TENS, FIVES]], broke=False)
    first = read_steps(card, [[TENS]], broke=True)
    assert (first.held_n, first.broke_n) == (pytest.approx(2 * KG), pytest.approx(12 * KG))
    empty = read_steps(card, [[]], broke=True)
    assert (empty.held_n, empty.broke_n) == (0.0, pytest.approx(2 * KG))


@pytest.mark.parametrize(
    ("stacks", "broke", "words"),
    [
        ([], True, "No weight was put on"),
        ([[TENS] * 5], True, "5 plates of 10 kg hang there, the shop has 4"),
        ([[TENS, TENS], [TENS]], True, "It held 215.7 N and broke at 117.7 N"),
    ],
)
def test_plates_that_cannot_be_are_refused(stacks: list[list[Plate]], broke: bool, words: str) -> None:
    with pytest.raises(EntryError, match=words):
        read_steps(Card(RigKind.WEIGHTS, tare_n=2 * KG), stacks, broke=broke)


def test_steps_are_large_far_below_the_forecast_and_fine_near_it_and_never_beyond_the_rig() -> None:
    card = Card(RigKind.WEIGHTS, capacity_n=52 * KG)
    put: list[Plate] = []
    while (plate := propose_plate(card, PLATES, put, 40 * KG)) is not None:
        put.append(plate)
    assert [one.name for one in put] == ["10 kg", "10 kg", "5 kg", "2.5 kg", "2.5 kg", "5 kg", "10 kg"]
    assert sum(one.weight_n for one in put) <= 52 * KG
    assert propose_plate(card, PLATES, [], None) == HALVES
    assert propose_plate(card, PLATES, [TENS] * 4 + [FIVES] * 2 + [HALVES] * 2, 40 * KG) is None


def test_a_weight_that_no_plates_make_is_asked_about() -> None:
    assert find_stack(45 * KG, PLATES, KG, "kg") is None
    doubt = find_stack(47 * KG, PLATES, KG, "kg")
    assert doubt is not None
    assert doubt.words == "no plates of the shop weigh this together: 45 or 47.5 kg?"
    assert find_stack(47 * KG, [], KG, "kg") is None


@pytest.mark.parametrize("slip", [one for one in SLIPS if not 0.7 < one.factor < 1.4])
def test_every_slip_is_seen_among_pieces_that_scatter_by_a_tenth(slip: Slip) -> None:
    rng, seen = np.random.default_rng(4), 0
    for _ in range(200):
        near = rng.lognormal(4, 0.1, 9)
        doubt = find_slip(float(near[-1]) * slip.factor, near[:-1].tolist())
        seen += doubt is not None and slip in doubt.slips
    assert seen > 140


@pytest.mark.parametrize("law", ["lognormal", "normal", "weibull"])
def test_hardly_one_in_a_hundred_honest_entries_is_asked_about(law: str) -> None:
    rng, asked, entries = np.random.default_rng(11), 0, 0
    for cv in (0.06, 0.15, 0.3):
        for number in (3, 8, 25):
            for _ in range(250):
                if law == "lognormal":
                    near = 900 * rng.lognormal(0, cv, number + 1)
                elif law == "normal":
                    near = 900 * np.maximum(rng.normal(1, cv, number + 1), 0.01)
                else:
                    near = 900 * rng.weibull(1.2 / cv, number + 1)
                read = np.round(near / 5) * 5 + 5
                doubts = [
                    find_slip(float(read[-1]), read[:-1].tolist()),
                    find_step(float(read[-1]), 5.0),
                    find_limit(float(read[-1]), 5000.0, 5.0),
                ]
                asked += any(doubts)
                entries += 1
    assert entries > 1000
    assert asked <= entries / 100


def test_other_sets_tell_how_much_pieces_scatter() -> None:
    others = [[40.0, 44.0, 42.0, 46.0], [80.0, 85.0, 90.0]]
    assert find_slip(400.0, [40.0]) is None, "one neighbour says nothing of scatter"
    doubt = find_slip(400.0, [40.0], others)
    assert doubt is not None
    assert doubt.slips[0].factor == 10
    assert find_slip(50.0, [40.0], others) is None


def test_limits_and_steps_are_asked_about() -> None:
    assert find_step(41.3, 0.5) is not None
    assert find_step(1204.0, 0.1) is None
    above, at, below = find_limit(5100, 5000, 5), find_limit(5000, 5000, 5), find_limit(4900, 5000, 5)
    assert above is not None
    assert "more than this rig carries" in above.words
    assert at is not None
    assert "did it break, or hold?" in at.words
    assert below is None
