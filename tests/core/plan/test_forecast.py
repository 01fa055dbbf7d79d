"""The load forecast: from own breaks or wood and glue, held against a rig, and the size that would fit it."""

from dataclasses import replace
from math import exp, log

import pytest

from adhaero.core.fixture import Fixture
from adhaero.core.glue import GlueFamily
from adhaero.core.joint import Joint
from adhaero.core.plan.forecast import (
    ForecastTreatment,
    LoadBand,
    OwnBreaks,
    Reach,
    check_reach,
    forecast_load,
    propose_size,
    say_unknown,
)
from adhaero.core.wood import Grain, Species, list_species

SHAFT = {"width_mm": 22.0, "depth_mm": 22.0, "slope": 8.0, "load_arm_mm": 90.0}
BLOCK = {"width_mm": 20.0, "overlap_mm": 10.0}


def band(low: float, expected: float, high: float) -> LoadBand:
    return LoadBand("a", low, expected, high, 0, "")


def test_own_breaks_give_their_geometric_mean_and_two_deviations() -> None:
    strengths = (40.0, 50.0, 62.5)  # logarithms 1.25 apart: mean 50 MPa, deviation log 1.25
    own = ForecastTreatment("Heron", Joint.SCARF, SHAFT, own=OwnBreaks(strengths, "3 of your own"))
    found = forecast_load(own, Fixture.BEND_4)
    assert found is not None
    per_newton = 3 * 90 / 22**3
    assert found.expected_n == pytest.approx(50 / per_newton)
    assert found.high_n / found.expected_n == pytest.approx(1.25**2)
    assert found.low_n / found.expected_n == pytest.approx(1 / 1.25**2)
    assert (found.pieces, found.words) == (3, "3 of your own")


def test_without_own_breaks_the_weaker_of_wood_and_glue_decides() -> None:
    balsa_like, strong = list_species()["basswood"], list_species()["ash"]
    weak = ForecastTreatment("a", Joint.LAPPED_BLOCK, BLOCK, family=GlueFamily.EPOXY, species=balsa_like)
    found = forecast_load(weak, Fixture.BLOCK_SHEAR)
    assert found is not None
    assert found.expected_n == pytest.approx(balsa_like.shear_mpa * 200)
    held = ForecastTreatment("b", Joint.LAPPED_BLOCK, BLOCK, family=GlueFamily.HOT_MELT, species=strong)
    found = forecast_load(held, Fixture.BLOCK_SHEAR)
    assert found is not None
    assert found.expected_n == pytest.approx(2.5 * 200)
    assert found.high_n / found.expected_n == pytest.approx(exp(0.4))


def test_end_grain_is_expected_to_hold_less() -> None:
    def expected(*grains: Grain) -> float:
        one = ForecastTreatment("a", Joint.LAPPED_BLOCK, BLOCK, family=GlueFamily.PVA, grains=(grains[0], grains[1]))
        found = forecast_load(one, Fixture.BLOCK_SHEAR)
        assert found is not None
        return found.expected_n

    long, mixed, end = expected(Grain.FACE, Grain.EDGE), expected(Grain.END, Grain.FACE), expected(Grain.END, Grain.END)
    assert long > mixed > end > 0


def test_nothing_is_guessed_without_wood_glue_or_sizes() -> None:
    assert forecast_load(ForecastTreatment("a", Joint.LAPPED_BLOCK, BLOCK), Fixture.BLOCK_SHEAR) is None
    unknown = ForecastTreatment("a", Joint.LAPPED_BLOCK, {}, family=GlueFamily.PVA)
    assert forecast_load(unknown, Fixture.BLOCK_SHEAR) is None
    assert forecast_load(ForecastTreatment("a", Joint.BUTT, SHAFT, family=GlueFamily.PVA), Fixture.PRY) is None


def test_a_rig_of_5_kn_read_to_5_n() -> None:
    bands = [band(900, 1000, 1100), band(3000, 4000, 4600), band(200, 240, 290), band(4000, 4200, 4499)]
    found = check_reach(bands, 5000, 5, Fixture.BLOCK_SHEAR, BLOCK)
    # 90 % of 5 kN is 4.5 kN; 50 steps are 250 N
    assert found.reaches == (Reach.FITS, Reach.OUT_PULLS, Reach.TOO_WEAK, Reach.FITS)
    # the strongest is expected at 4.2 kN, and half of the capacity is 2.5 kN: 10 mm · 2.5 / 4.2, to a tenth below 10
    assert found.change is not None
    assert (found.change.names, found.change.value) == (("overlap_mm",), 6.0)


def test_what_is_not_known_is_said_and_no_number_is_made_up() -> None:
    ash = list_species()["ash"]
    metal = ForecastTreatment(
        "Heron", Joint.LAPPED_BLOCK, BLOCK, family=GlueFamily.EPOXY, species=ash, unknown=("steel",)
    )
    assert forecast_load(metal, Fixture.BLOCK_SHEAR) is None
    assert say_unknown(metal, Fixture.BLOCK_SHEAR) == (
        "Heron: not known, “steel” is no wood of the table. Break a pilot piece first."
    )
    own = replace(metal, own=OwnBreaks((10.0, 11.0, 12.0), "3 of your own"))
    assert forecast_load(own, Fixture.BLOCK_SHEAR) is not None
    assert say_unknown(own, Fixture.BLOCK_SHEAR) is None


def test_the_weaker_of_both_woods_decides_and_how_their_grain_meets() -> None:
    ash, soft = list_species()["ash"], list_species()["basswood"]

    def expected(fixture: Fixture, grains: tuple[Grain, Grain], second: Species | None = None) -> float:
        one = ForecastTreatment("a", Joint.EDGE, {**SHAFT, "span_mm": 100.0}, family=GlueFamily.EPOXY, species=ash,
                          grains=grains, second=second)  # fmt: skip
        found = forecast_load(one, fixture)
        assert found is not None
        return found.expected_n

    edges, ends = (Grain.EDGE, Grain.EDGE), (Grain.END, Grain.END)
    assert expected(Fixture.BEND_3, edges, soft) < expected(Fixture.BEND_3, edges)
    # end grain on end grain: nothing like the wood's bending strength, and less than side on side in tension by glue
    per_newton = 3 * 100 / (2 * 22**3)
    assert expected(Fixture.BEND_3, ends) * per_newton < 0.15 * ash.bending_mpa


def test_no_size_is_proposed_that_would_make_another_joint() -> None:
    assert propose_size(Fixture.RACKING, {"arm_mm": 180}, 0.04) is None
    assert propose_size(Fixture.BLOCK_SHEAR, BLOCK, 5.0) is None


def test_a_square_piece_stays_square() -> None:
    change = propose_size(Fixture.BEND_4, SHAFT, (20 / 22) ** 3)
    assert change is not None
    assert (set(change.names), change.value) == ({"width_mm", "depth_mm"}, 20.0)
    flat = propose_size(Fixture.BEND_3, {"width_mm": 30, "depth_mm": 9, "span_mm": 120}, 4)
    assert flat is not None
    assert (flat.names, flat.value) == (("depth_mm",), 18.0)


def test_a_corner_takes_less_load_at_a_longer_arm() -> None:
    change = propose_size(Fixture.RACKING, {"arm_mm": 150}, 0.5)
    assert change is not None
    assert change.value == 300
    assert propose_size(Fixture.PRY, {}, 0.5) is None


def test_bands_are_as_wide_in_ratio_on_either_side() -> None:
    found = forecast_load(
        ForecastTreatment("s", Joint.SCARF, SHAFT, solid=True, species=list_species()["ash"]), Fixture.BEND_4
    )
    assert found is not None
    assert log(found.high_n / found.expected_n) == pytest.approx(log(found.expected_n / found.low_n))
    assert found.expected_n == pytest.approx(103 * 22**3 / 270)
