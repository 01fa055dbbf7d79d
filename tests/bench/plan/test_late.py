"""Pieces that join a settled trial, also one that was brought in: labelled, glued and broken like all others."""

from datetime import timedelta
from pathlib import Path

import pytest

from adhaero.bench.breaking.hand_break import break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.bringing.look import TableSaid
from adhaero.bench.bringing.staged import Staging
from adhaero.bench.bringing.take import TakeEntry, take_table
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.view import view_compare
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.glue.batches import BatchEntry, start_batch
from adhaero.bench.glue.clamps import take_clamps_off
from adhaero.bench.glue.run_steps import mark_step
from adhaero.bench.plan.late import LateEntry, LateValue, add_late
from adhaero.bench.plan.trials import create_trial
from adhaero.bench.plan.view import view_plan
from adhaero.bench.saw.pieces import mark_sawn
from adhaero.core.errors import EntryError, ReasonNeeded, StateError
from adhaero.core.glue import GlueFamily
from tests.shops import Shop, new_shop, typed_break

TABLE = b"Piece,Glue,Board,Load (N)\n" + b"".join(
    f"{glue[0]}{n},{glue},B{n},{load + 11 * n}\n".encode()
    for glue, load in (("Heron", 1200), ("Wren", 900))
    for n in range(1, 5)
)


@pytest.fixture
def brought(tmp_path: Path) -> Shop:
    shop, staging = new_shop(tmp_path), Staging()
    sha = staging.put("tips.csv", TABLE).sha256
    trial = take_table(shop.file, staging, sha, TakeEntry(said=TableSaid(), question="Which glue?"))
    return Shop(shop.file, shop.clock, trial)


def late(shop: Shop, **changes: object) -> list[str]:
    with shop.file.reading() as connection:
        factor = next(iter(read_trial(connection, shop.trial).factors))
    values = (LateValue(factor, "Plover", GlueFamily.POLYURETHANE),)
    asked = {"pieces": 3, "boards": "B1, B9", "values": values, "reason": "it came later", **changes}
    return add_late(shop.file, shop.trial, LateEntry(**asked))  # type: ignore[arg-type]


def test_a_late_glue_joins_pieces_of_earlier_years_and_is_compared_with_them(brought: Shop) -> None:
    labels = late(brought)
    assert labels == ["P-01", "P-02", "P-03"]
    with brought.file.reading() as connection:
        facts = read_trial(connection, brought.trial)
    mine = [piece for piece in facts.pieces.values() if piece.label in labels]
    assert sorted(facts.boards[piece.board_id].name for piece in mine) == ["B1", "B1", "B9"]
    ids = [piece.id for piece in mine]
    mark_sawn(brought.file, brought.trial, ids)
    start_batch(
        brought.file, brought.trial, BatchEntry(glue="Plover", family=GlueFamily.POLYURETHANE, pieces=tuple(ids))
    )
    for step in ("spread", "closed", "clamped"):
        mark_step(brought.file, brought.trial, ids, step)
    brought.clock.now += timedelta(days=8)
    take_clamps_off(brought.file, brought.trial, ids)
    brought.clock.now += timedelta(days=8)
    for number, piece_id in enumerate(ids):
        break_by_hand(
            brought.file, brought.trial, typed_break(piece_id, f"{1500 + 9 * number} N", Judgement("broke", "0"))
        )
    view = view_compare(brought.file, brought.trial, Choice())
    assert {group.level: group.n for group in view.groups} == {"Heron": 4, "Wren": 4, "Plover": 3}
    assert any("pieces of Plover changed from 0 to 3" in words and "it came later" in words for words in view.amended)
    assert view_plan(brought.file, brought.trial).trial.frozen_utc is not None


def test_more_pieces_of_a_set_take_free_labels(brought: Shop) -> None:
    with brought.file.reading() as connection:
        facts = read_trial(connection, brought.trial)
    heron = next(one for one in facts.treatments.values() if one.name == "Heron")
    labels = late(brought, treatment_id=heron.id, values=())
    assert len(labels) == len(set(labels)) == 3
    assert not set(labels) & {piece.label for piece in facts.pieces.values()}
    again = late(brought, values=(LateValue(next(iter(facts.factors)), "  heron "),), pieces=1)
    with brought.file.reading() as connection:
        after = read_trial(connection, brought.trial)
    assert len(after.treatments) == len(facts.treatments)
    assert sum(piece.treatment_id == heron.id for piece in after.pieces.values()) == 8
    assert again[0] not in labels


@pytest.mark.parametrize(
    ("changes", "error", "words"),
    [
        ({"reason": " "}, ReasonNeeded, "The plan is settled"),
        ({"boards": " , "}, EntryError, "No board is named"),
        ({"boards": "B" * 70}, EntryError, "too long"),
        ({"values": ()}, EntryError, "is not said"),
        ({"values": (), "treatment_id": 999}, EntryError, "no such set"),
    ],
)
def test_what_is_not_said_is_asked_and_nothing_is_written(
    brought: Shop, changes: dict[str, object], error: type[Exception], words: str
) -> None:
    with pytest.raises(error, match=words):
        late(brought, **changes)
    with brought.file.reading() as connection:
        facts = read_trial(connection, brought.trial)
    assert len(facts.pieces) == 8
    assert len(facts.boards) == 4
    assert len(facts.levels) == 2


def test_an_open_plan_is_changed_as_a_plan(tmp_path: Path) -> None:
    shop = new_shop(tmp_path)
    with pytest.raises(StateError, match="The plan is open"):
        late(Shop(shop.file, shop.clock, create_trial(shop.file, "Which?")))
