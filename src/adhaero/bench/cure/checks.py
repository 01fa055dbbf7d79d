"""Checks: what every piece must have had before it is loaded."""

from collections.abc import Sequence
from dataclasses import dataclass

from adhaero.bench.facts.entry import Entry, Ids, Line
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.pieces import Act
from adhaero.store.file import ShopFile
from adhaero.store.making import delete_tick, insert_tick
from adhaero.store.pieces import Piece


@dataclass(frozen=True)
class CheckView:
    """Something that every piece must have had before the test, and when this one had it."""

    words: str
    done_utc: str | None


@dataclass(frozen=True)
class CheckEntry(Entry):
    """What pieces have had, or not after all."""

    pieces: Ids
    words: Line
    done: bool = True


def list_checks(facts: PlanFacts, piece: Piece) -> list[CheckView]:
    """Return what a piece must have had before the test: work after glue-up by the plan, then the fixture's list."""
    done = {one.words: one.done_utc for one in facts.ticks.get(piece.id, ())}
    solid = facts.treatments[piece.treatment_id].solid
    words = [step.words for step in facts.steps if step.turn == "after" and not solid]
    words += FIXTURES[facts.fixture].checks(solid=solid)
    return [CheckView(one, done.get(one)) for one in words]


def tick_check(file: ShopFile, trial_id: int, piece_ids: Sequence[int], words: str, *, done: bool) -> None:
    """Tick what pieces have had before the test, or take the tick back while they are not broken."""
    text = words.strip()[:200]
    with file.changing("Ticked what pieces have had" if done else "Took ticks back", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        for piece_id in piece_ids:
            piece = facts.piece(piece_id)
            tick = next((one for one in facts.ticks.get(piece_id, ()) if one.words == text), None)
            if done and tick is None:
                insert_tick(connection, piece_id=piece_id, words=text, done_utc=file.now())
            elif not done and tick is not None:
                facts.require(Act.UNTICK, piece, file.clock())
                delete_tick(connection, tick.id)
