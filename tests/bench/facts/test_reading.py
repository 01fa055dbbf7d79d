"""The kept book of a trial is always the one that a whole reading would give."""

from dataclasses import fields
from datetime import timedelta
from pathlib import Path
from random import Random

import pytest

from adhaero.bench.breaking.hand_break import break_by_hand, mark_odd
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.breaking.pulls import retry_pull
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.exclusions import exclude_piece
from adhaero.bench.compare.findings import Wishes, view_findings
from adhaero.bench.compare.view import view_compare
from adhaero.bench.cure import sizes
from adhaero.bench.cure.view import view_curing
from adhaero.bench.facts import reading
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.over import void
from adhaero.bench.over.making import view_making
from adhaero.bench.over.undo import redo, undo
from adhaero.bench.plan import edits, trials
from adhaero.bench.plan import view as plan_view
from adhaero.bench.saw import pieces
from adhaero.core.errors import AdhaeroError
from tests.shops import Shop, ready_shop, typed_break


def compare_with_whole_reading(shop: Shop) -> PieceFacts:
    with shop.file.reading() as connection:
        kept = read_trial(connection, shop.trial)
        whole = reading._read_rows(connection, shop.trial)
    for field in fields(PieceFacts):
        assert getattr(kept, field.name) == getattr(whole, field.name), field.name
    for compute, made in list(kept._each.list_all()):
        assert made == whole.each(compute), compute
    return kept


def look(shop: Shop) -> None:
    """Ask every station, so that all that is worked out for each piece is."""
    view_compare(shop.file, shop.trial, Choice())
    view_findings(shop.file, shop.trial, Choice(), Wishes())
    view_making(shop.file, shop.trial)
    view_curing(shop.file, shop.trial)


def do_something(shop: Shop, random: Random) -> None:
    piece = random.choice(shop.pieces)
    index = shop.pieces.index(piece)
    size = random.choice(("width_mm", "depth_mm"))
    was = piece.measured.get(size, "")
    pulls = shop.pulls(index)
    random.choice(
        [
            lambda: sizes.measure(shop.file, shop.trial, piece.id, size, was, f"{random.uniform(9, 30):.2f}"),
            lambda: sizes.measure(shop.file, shop.trial, piece.id, size, was, ""),
            lambda: break_by_hand(shop.file, shop.trial, typed_break(piece.id, "600 N", Judgement("broke", "25"))),
            lambda: retry_pull(shop.file, shop.trial, pulls[-1].id if pulls else 0),
            lambda: exclude_piece(shop.file, shop.trial, piece.id, "split"),
            lambda: mark_odd(shop.file, shop.trial, piece.id, "gap"),
            lambda: void.void_piece(shop.file, shop.trial, piece.id, "slid"),
            lambda: void.restore_piece(shop.file, shop.trial, piece.id),
            lambda: pieces.relabel(shop.file, shop.trial, piece.id, piece.label, f"Q-{random.randrange(999)}"),
            lambda: shop.edit("depth_mm", f"{random.uniform(8, 10):.1f} mm"),
            lambda: shop.edit("cure_time_s", f"{random.randrange(1, 90)} h"),
            lambda: undo(shop.file, shop.trial),
            lambda: undo(shop.file, shop.trial),
            lambda: redo(shop.file, shop.trial),
        ]
    )()


@pytest.mark.parametrize("seed", range(6))
def test_whatever_is_done_the_kept_book_is_the_whole_one(seed: int, tmp_path: Path) -> None:
    shop, random, refused = ready_shop(tmp_path), Random(seed), 0
    for _ in range(60):
        try:
            do_something(shop, random)
        except AdhaeroError:
            refused += 1
        kept = compare_with_whole_reading(shop)
        look(shop)
    assert refused < 45, "most of it was done"
    assert len(kept._each.list_all()) > 10, "each was worked out"


def test_pieces_that_come_and_go_are_read_whole(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    compare_with_whole_reading(shop)
    while plan_view.view_plan(shop.file, shop.trial).trial.frozen_utc is not None:
        undo(shop.file, shop.trial)
        compare_with_whole_reading(shop)
    assert not compare_with_whole_reading(shop).pieces
    redo(shop.file, shop.trial)
    assert len(compare_with_whole_reading(shop).pieces) == 8


def test_a_change_elsewhere_leaves_the_book_and_a_change_inside_is_seen_at_once(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    before = compare_with_whole_reading(shop)
    other = trials.create_trial(shop.file, "Another question?")
    edits.edit_plan(shop.file, other, "guess", "", "none")
    assert compare_with_whole_reading(shop).pieces == before.pieces
    with shop.file.changing("test", shop.trial, undoable=False) as connection:
        connection.execute("UPDATE piece SET odd_reason = 'seen' WHERE id = 1")
        assert read_trial(connection, shop.trial).pieces[1].odd_reason == "seen"
    assert compare_with_whole_reading(shop).pieces[1].odd_reason == "seen"
    shop.clock.now += timedelta(days=1)
    assert compare_with_whole_reading(shop) is compare_with_whole_reading(shop)
