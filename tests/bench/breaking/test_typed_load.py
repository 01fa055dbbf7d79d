"""What a person reads off a lever, a hanger or a bucket is made a load; breaks typed before stay and are named."""

from pathlib import Path

import pytest

from adhaero.bench.breaking.hand_break import HandBreak, break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.breaking.typed_load import understand_load
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.view import view_compare
from adhaero.bench.shop.rigs import save_rig
from adhaero.core.errors import EntryError
from tests.shops import Shop, press, ready_shop


def shop_with(folder: Path, **card: str) -> Shop:
    shop = ready_shop(folder)
    save_rig(shop.file, press(url="", simulated=False, **card))
    return shop


@pytest.mark.parametrize(
    ("card", "typed", "load_n", "words"),
    [
        (
            {"kind": "lever", "lever_ratio": "4", "tare": "1.2 kg"},
            "10 kg",
            439.3,
            "10 kg + hanger 1.2 kg, × 4 = 439.3 N",
        ),
        ({"kind": "lever", "lever_ratio": "2.5"}, "100 N", 250.0, "100 N × 2.5 = 250 N"),
        ({"kind": "weights", "tare": "0.8 kg"}, "20 kg", 203.98, "20 kg + hanger 0.8 kg = 204 N"),
        ({"kind": "bucket", "tare": "600 g"}, "9.4 kg", 98.07, "9.4 kg + bucket 600 g = 98.07 N"),
        ({"kind": "scale"}, "45 kg", 441.3, "45 kg = 441.3 N"),
    ],
)
def test_what_is_typed_goes_through_the_rig_and_says_so(
    card: dict[str, str], typed: str, load_n: float, words: str, tmp_path: Path
) -> None:
    shop = shop_with(tmp_path, **card)
    understood = understand_load(shop.file, shop.trial, typed)
    assert understood.load_n == pytest.approx(load_n, rel=1e-4)
    assert understood.words == words
    break_by_hand(shop.file, shop.trial, HandBreak(shop.pieces[0].id, typed, Judgement("broke", "0")))
    kept = shop.pulls()[0]
    assert kept.load_n == pytest.approx(load_n, rel=1e-4)
    assert (kept.load_typed, f"{typed} {kept.load_through}".strip()) == (typed, words.partition(" = ")[0])


def test_a_last_weight_that_held_goes_through_it_too(tmp_path: Path) -> None:
    shop = shop_with(tmp_path, kind="lever", lever_ratio="4", tare="1 kg")
    piece = shop.pieces[0].id
    with pytest.raises(EntryError, match="is below the one that broke it"):
        break_by_hand(shop.file, shop.trial, HandBreak(piece, "10 kg", Judgement("broke", "0"), held="10 kg"))
    break_by_hand(shop.file, shop.trial, HandBreak(piece, "10 kg", Judgement("broke", "0"), held="9 kg"))
    with shop.file.reading() as connection:
        held = connection.execute("SELECT held_n FROM pull").fetchone()[0]
    assert held == pytest.approx(4 * 10 * 9.80665)


def test_a_load_beyond_the_rig_is_judged_by_what_the_piece_feels(tmp_path: Path) -> None:
    shop = shop_with(tmp_path, kind="lever", lever_ratio="10", capacity="1 kN")
    with pytest.raises(EntryError, match=r"20 kg × 10 = 1961 N"):
        break_by_hand(shop.file, shop.trial, HandBreak(shop.pieces[0].id, "20 kg", Judgement("broke", "0")))


def test_breaks_typed_before_keep_their_number_and_are_named(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    break_by_hand(shop.file, shop.trial, HandBreak(shop.pieces[0].id, "700 N", Judgement("broke", "0")))
    assert not [words for words in view_compare(shop.file, shop.trial, Choice()).mind if "Typed before" in words]
    save_rig(shop.file, press(url="", simulated=False, kind="lever", lever_ratio="4"))
    break_by_hand(shop.file, shop.trial, HandBreak(shop.pieces[1].id, "170 N", Judgement("broke", "0")))
    assert [pull.load_n for pull in (*shop.pulls(0), *shop.pulls(1))] == [700.0, 680.0]
    (words,) = [words for words in view_compare(shop.file, shop.trial, Choice()).mind if "Typed before" in words]
    assert shop.pieces[0].label in words
    assert shop.pieces[1].label not in words
