"""Labels of a trial: two for every glued piece, one for a solid one, none for a void one, in board order."""

import re
from pathlib import Path

import pytest

from adhaero.bench.facts.reading import read_trial
from adhaero.bench.over.void import void_piece
from adhaero.bench.plan.treatments import add_control
from adhaero.bench.saw.labels import _label, draw_label_page, find_piece, print_labels
from adhaero.core.errors import NotThere, StateError
from adhaero.core.plan.treatments import TreatmentKind
from tests.shops import Shop, new_shop

BASE = "http://127.0.0.1:8700/"


def labels(shop: Shop, **how: int) -> list[str]:
    page = draw_label_page(shop.file, shop.trial, BASE, "a4-4x12", how.get("first", 1), how.get("page", 1))
    return re.findall(r'data-label="([^"]+)"', page)


def test_both_halves_of_every_piece_in_the_order_of_the_boards(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan(count=3)
    add_control(shop.file, shop.trial, TreatmentKind.SOLID)
    for name in ("pieces_each", "pieces_each"):
        shop.edit(name, "3")
    shop.saw()
    void = next(one for one in shop.pieces if not one.solid)
    void_piece(shop.file, shop.trial, void.id, "split while sawing")
    wanted = [one.label for one in shop.pieces if one.id != void.id for _ in range(1 if one.solid else 2)]
    assert sorted(labels(shop)) == sorted(wanted)
    assert len(wanted) == 3 + 5 * 2


def test_pages_that_are_not_there_are_told(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan()
    with pytest.raises(StateError, match="The plan is not settled"):
        print_labels(shop.file, shop.trial, BASE, "a4-3x8", 1)
    shop.saw()
    assert len(labels(shop, first=48)) == 1
    assert len(labels(shop, first=48, page=2)) == 15
    with pytest.raises(NotThere, match="no page 3"):
        labels(shop, first=48, page=3)
    assert "".join(print_labels(shop.file, shop.trial, BASE, "a4-3x8", 1)).count("data-label") == 16


def test_1280_labels_come_page_by_page_each_once_and_none_lost(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan(names=tuple(f"prep {n}" for n in range(32)), pieces=20, count=20)
    shop.saw()
    parts = print_labels(shop.file, shop.trial, BASE, "a4-4x12", 1)
    pages = [re.findall(r'data-label="([^"]+)"', part) for part in parts]
    pages = [page for page in pages if page]
    assert [len(page) for page in pages] == [48] * 26 + [32]
    assert sorted(label for page in pages for label in page) == sorted(one.label for one in shop.pieces for _ in "lr")


def test_a_code_opens_a_page_only_where_a_phone_can_open_it(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan().saw()
    with shop.file.reading() as connection:
        facts = read_trial(connection, shop.trial)
    piece = next(iter(facts.pieces.values()))
    near, far = _label(facts, piece.id, "")[0], _label(facts, piece.id, "http://192.168.7.20:8700")[0]
    assert near.code == f"{shop.trial}/{piece.label}"
    assert far.code == f"http://192.168.7.20:8700/trials/{shop.trial}/break?piece={piece.id}"
    assert find_piece(shop.file, near.code) == find_piece(shop.file, far.code)
