"""Conclusions about passes, held against the counts."""

import pytest

from adhaero.core.claims.pass_claims import PASS_CHECKABLE, check_passes
from adhaero.core.stats.pass_groups import compare_passes

COUNTS = {"Heron": (12, 12), "Wren": (11, 12), "Plover": (3, 12)}
PIECES = [(name, None, at < passed) for name, (passed, n) in COUNTS.items() for at in range(n)]
RESULT = compare_passes(PIECES, list(COUNTS))


@pytest.mark.parametrize(
    ("said", "standing"),
    [
        ("Heron passes more often than Plover", "supported"),
        ("plover passes more often than wren.", "contradicted"),
        ("Plover fails more often than Wren", "supported"),
        ("Heron passed more often than Wren", "not supported"),
        ("Plover passes the least often", "supported"),
        ("Heron passes the most often", "not supported"),
        ("Plover passes most often", "contradicted"),
        ("All of Heron passed", "supported"),
        ("none of Wren failed", "contradicted"),
        ("1 of 12 pieces of Wren failed", "supported"),
        ("9 of 12 of Plover pass", "contradicted"),
        ("at least 70 % of Heron passes", "supported"),
        ("at least 90 % of all pieces of Heron hold", "not supported"),
        ("At least 60 % of Plover pass", "contradicted"),
        ("at most 60 % of Plover passes", "supported"),
        ("about a quarter of Plover passes", "supported"),
        ("about three quarters of Plover fails", "supported"),
        ("about 90 % of Plover passes", "contradicted"),
        ("Heron is nicer", "cannot be checked"),
        ("Heron passes more often than Heron", "cannot be checked"),
    ],
)
def test_a_claim_stands_as_the_counts_say(said: str, standing: str) -> None:
    (one,) = check_passes(said, RESULT)
    assert one.standing == standing, one
    assert (one.understood != "") == (standing != "cannot be checked")


def test_clauses_are_checked_one_by_one_and_the_examples_are_read() -> None:
    found = check_passes("All of Heron passed; 9 of 12 of Plover failed. ", RESULT)
    assert [one.standing for one in found] == ["supported", "supported"]
    assert "12 of 12 passed, 100 %" in found[0].words
    assert check_passes("  ", RESULT) == []
    for said in PASS_CHECKABLE:
        assert all(one.standing != "cannot be checked" for one in check_passes(said, RESULT)), said
