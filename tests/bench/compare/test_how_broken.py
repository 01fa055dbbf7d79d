"""Sets and pairs that were not broken alike are named: at the piece before its break, and beside the result."""

from pathlib import Path

from adhaero.bench.breaking.hand_break import HandBreak, break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.breaking.view import view_break
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.view import view_compare
from adhaero.bench.shop.rigs import save_rig
from tests.shops import Shop, press, ready_shop

BROKE = Judgement("broke", "0")


def mixed(folder: Path) -> tuple[Shop, int, int]:
    """Return a shop with two rigs, and a pair of pieces of two sets."""
    shop = ready_shop(folder)
    card = {"url": "", "simulated": False, "kind": "scale", "capacity": "300 kg", "resolution": "0.5 kg"}
    rigs = [save_rig(shop.file, press(name=name, **card)) for name in ("Old scale", "New scale")]
    one = shop.pieces[0]
    other = next(piece for piece in shop.pieces if piece.treatment != one.treatment)
    with shop.file.changing("pairs", shop.trial, undoable=False) as connection:
        connection.execute(f"UPDATE piece SET pair = 1 WHERE id IN ({one.id}, {other.id})")
    for piece, rig in ((one, rigs[0]), (other, rigs[1])):
        view = view_break(shop.file, shop.trial, piece.id)
        assert view.piece is not None
        assert (view.piece.pair is not None) == (piece is other)
        break_by_hand(shop.file, shop.trial, HandBreak(piece=piece.id, judgement=BROKE, load="40 kg", rig=rig))
    return shop, one.id, other.id


def test_a_pair_whose_rig_changed_between_its_pieces_is_named(tmp_path: Path) -> None:
    shop, one, other = mixed(tmp_path)
    labels = {piece.id: piece.label for piece in shop.pieces}
    mind = view_compare(shop.file, shop.trial, Choice()).mind
    (words,) = [line for line in mind if line.startswith("Pairs whose rig changed")]
    assert labels[one] in words
    assert labels[other] in words
    pair = view_break(shop.file, shop.trial, other).piece.pair  # type: ignore[union-attr]
    assert pair is not None
    assert (pair.label, pair.rig, pair.version) == (labels[one], "Old scale", 1)


def test_a_set_that_mixes_rigs_is_named(tmp_path: Path) -> None:
    shop, one, _ = mixed(tmp_path)
    mine = next(piece.treatment for piece in shop.pieces if piece.id == one)
    same = next(piece for piece in shop.pieces if piece.treatment == mine and piece.id != one)
    break_by_hand(shop.file, shop.trial, HandBreak(piece=same.id, judgement=BROKE, load="41 kg", rig=2))
    mind = view_compare(shop.file, shop.trial, Choice()).mind
    (words,) = [line for line in mind if line.startswith("Broken on more than one rig")]
    assert f"{mine}: New scale, version 1" in words
