"""Mistakes in the making: a piece counts for what it is, and slips cost the balance what they cost."""

from collections.abc import Callable
from pathlib import Path

import pytest

from adhaero.bench.breaking.hand_break import break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.view import view_compare
from adhaero.bench.glue import batches
from adhaero.bench.glue.wrong_treatment import list_choices, reassign_piece
from adhaero.bench.over.making import view_making
from adhaero.bench.over.void import void_piece
from adhaero.bench.plan import settled
from adhaero.bench.plan.treatments import add_control
from adhaero.bench.plan.view import view_plan
from adhaero.core.errors import AdhaeroError, ReasonNeeded
from adhaero.core.plan.treatments import TreatmentKind
from tests.shops import Shop, new_shop, typed_break


@pytest.fixture
def shop(tmp_path: Path) -> Shop:
    return new_shop(tmp_path).plan().saw().glue()


def move(shop: Shop, index: int, name: str, reason: str = "scraped by mistake") -> None:
    sets = {one.name: one.id for one in view_plan(shop.file, shop.trial).treatments}
    reassign_piece(shop.file, shop.trial, shop.pieces[index].id, sets[name], reason)


def choices(shop: Shop, index: int) -> list[str]:
    return [one.name for one in list_choices(shop.file, shop.trial, shop.pieces[index].id)]


def other(shop: Shop, index: int = 0) -> str:
    return "toothed" if shop.pieces[index].treatment == "planed" else "planed"


def test_a_piece_made_as_another_set_counts_for_it_and_says_why(shop: Shop) -> None:
    first, name = shop.pieces[0], other(shop)
    move(shop, 0, name)
    assert shop.pieces[0].treatment == name
    assert shop.pieces[0].label == first.label, "what is written on the wood stays"
    (amended,) = view_compare(shop.file, shop.trial, Choice()).amended
    assert f"the set of {first.label} changed from {first.treatment} to {name}" in amended
    assert "(scraped by mistake)" in amended


def test_what_slips_cost_the_balance_is_said(shop: Shop) -> None:
    assert view_making(shop.file, shop.trial).balance is None
    void_piece(shop.file, shop.trial, shop.pieces[0].id, "slid")
    said = view_making(shop.file, shop.trial).balance
    assert said is not None
    share = int(said.split(" leave ")[1].split(" %")[0])
    assert 70 < share < 95
    move(shop, 2, other(shop, 2))
    worse = view_making(shop.file, shop.trial).balance
    assert worse is not None
    assert worse != said


def broken(shop: Shop) -> None:
    shop.cure()
    break_by_hand(shop.file, shop.trial, typed_break(shop.pieces[0].id, "70 N", Judgement("broke", "0")))
    move(shop, 0, other(shop))


@pytest.mark.parametrize(
    ("act", "words"),
    [
        (lambda s: move(s, 0, s.pieces[0].treatment), "already"),
        (lambda s: move(s, 0, other(s), "  "), "Say why"),
        (lambda s: reassign_piece(s.file, s.trial, s.pieces[0].id, 99, "?"), "no set 99"),
        (broken, "has been loaded"),
    ],
)
def test_a_move_that_makes_no_sense_is_told(shop: Shop, act: Callable[[Shop], object], words: str) -> None:
    with pytest.raises(AdhaeroError, match=words):
        act(shop)


def test_solid_and_joined_pieces_are_not_mixed_up_nor_glues(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan(count=3)
    shop.edit("pieces_each", "3")
    add_control(shop.file, shop.trial, TreatmentKind.SOLID)
    shop.saw()
    joined = next(index for index, one in enumerate(shop.pieces) if not one.solid)
    with pytest.raises(AdhaeroError, match="A solid piece has no joint"):
        move(shop, joined, "Solid")
    assert "Solid" not in choices(shop, joined)
    assert shop.pieces[joined].treatment not in choices(shop, joined)
    settled.reopen_plan(shop.file, shop.trial)
    shop.vary("glue", ("Wren",))
    shop.add("Heron", "epoxy")
    shop.saw()
    wren = next(one for one in shop.pieces if one.treatment == "Wren")
    batches.start_batch(shop.file, shop.trial, batches.BatchEntry([wren.id], "Wren"))
    index = [one.id for one in shop.pieces].index(wren.id)
    with pytest.raises(AdhaeroError, match="was glued with Wren, and Heron is made with Heron"):
        move(shop, index, "Heron")
    assert choices(shop, index) == []
    bare = next(index for index, one in enumerate(shop.pieces) if one.treatment == "Wren" and one.id != wren.id)
    assert choices(shop, bare) == ["Heron"], "no glue is on it yet"


def test_a_reason_is_needed(shop: Shop) -> None:
    with pytest.raises(ReasonNeeded):
        move(shop, 0, other(shop), "")
