"""What someone's words send pieces through before the test, and what they only keep as it is."""

import pytest

from adhaero.core.plan.exposures import read_exposure

DAY = 86_400.0


@pytest.mark.parametrize(
    ("words", "kind", "planned_s"),
    [
        ("soaked 24 h in cold water", "soak", DAY),
        ("boiled 2 hours", "soak", 7200.0),
        ("on the roof over the winter, 6 months", "outdoors", 6 * 2_629_800.0),
        ("5 freeze-thaw cycles", "freeze", None),
        ("60 °C in the oven, 90 min", "oven", 5400.0),
        ("stored 2 years", "shelf", 2 * 365.25 * DAY),
        ("hung up for 3 d", "other", 3 * DAY),
        ("A week in the lake", "soak", 7 * DAY),
        ("six weeks on the dock", "outdoors", 42 * DAY),
        ("After one season", "outdoors", None),
    ],
)
def test_words_name_what_pieces_go_through(words: str, kind: str, planned_s: float | None) -> None:
    exposure = read_exposure(words)
    assert exposure is not None
    assert exposure.kind == kind
    assert exposure.planned_s == (planned_s if planned_s is None else pytest.approx(planned_s, rel=0.01))
    assert exposure.is_to_go_in == (kind != "shelf")


@pytest.mark.parametrize("words", ["kept dry in the shop", "at 20 °C in the shop", "", "fresh", "as it comes"])
def test_what_is_only_kept_goes_nowhere(words: str) -> None:
    assert read_exposure(words) is None


def test_a_stay_is_read_from_whole_words_only() -> None:
    for words in ("long grain, kept dry", "one shot of glue", "drained", "waterproof test", "a hotel", "cyclist"):
        exposure = read_exposure(words)
        assert exposure is None or exposure.kind in ("shelf", "other"), words
    assert read_exposure("rained on for 3 d").kind == "outdoors"
