"""Wood: the table of species, movement, and what a board comes to in a shop's air."""

import pytest

from adhaero.core.plan.fields import read_grains
from adhaero.core.wood import (
    Grain,
    compute_movement,
    find_species,
    list_species,
)


def test_thirty_species_each_with_a_source_and_sound_numbers() -> None:
    table = list_species()
    assert len(table) >= 30
    for species in table.values():
        assert species.source
        assert 200 < species.density_kg_m3 < 1300
        assert species.radial_pct <= species.tangential_pct
        assert species.tension_across_mpa < species.shear_mpa < species.bending_mpa < species.stiffness_mpa


def test_the_longest_name_that_stands_in_the_words_is_meant() -> None:
    assert find_species("offcuts of black ash, quarter sawn") is list_species()["black ash"]
    assert find_species("Ash") is list_species()["ash"]
    assert find_species("ashtray") is None


def test_movement_across_the_grain() -> None:
    # 100 mm of white ash, tangential 7.8 % over 28 points, 4 points wetter: 100 · 0.078 / 28 · 4
    assert compute_movement(100, 7.8, 4) == pytest.approx(1.114, abs=5e-4)
    assert compute_movement(100, 7.8, -4) == -compute_movement(100, 7.8, 4)


def test_grain_in_words() -> None:
    held = (Grain.FACE, Grain.EDGE)
    assert read_grains("edge", held) == (Grain.EDGE, Grain.EDGE)
    assert read_grains("rings opposed", held) == held
