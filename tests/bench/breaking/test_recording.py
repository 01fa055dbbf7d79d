"""A pull from a real socket into the file: zeroed, stored as it comes, read at its end; faults on the way."""

from collections.abc import Iterator
from contextlib import suppress
from dataclasses import replace
from itertools import pairwise
from pathlib import Path

import pytest

from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.breaking.live_rigs import RigHub
from adhaero.bench.breaking.load_point import view_trace
from adhaero.bench.breaking.practice_rig import PracticePiece, load_practice_piece
from adhaero.bench.breaking.pulls import arm, keep_pull, recover_pulls, retry_pull, stop_pull
from adhaero.bench.breaking.recording import load_trace
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.view import view_compare
from adhaero.bench.glue import batches, clamps, run_sheet, run_steps
from adhaero.bench.glue.batches import BatchEntry
from adhaero.bench.over.undo import undo
from adhaero.core.errors import RigError, StateError
from adhaero.rig.reader import LinkState
from adhaero.store.file import utc_now
from adhaero.store.pulls import fetch_pull
from tests.practice import PracticeRig
from tests.rig.test_reader import wait_for
from tests.shops import Shop, add_press, new_shop, ready_shop


class Bench:
    """A ready shop, its rig connected."""

    def __init__(self, shop: Shop, rig: PracticeRig, rig_id: int) -> None:
        self.shop, self.rig, self.rig_id = shop, rig, rig_id
        self.hub = RigHub(shop.file)
        self.live = self.hub.connect(rig_id)
        wait_for(lambda: self.live.reader.lines > 90)

    def arm(self, index: int = 0) -> int:
        return arm(self.shop.file, self.hub, self.shop.trial, self.shop.pieces[index].id, self.rig_id)

    def pull(self, expected_n: float, index: int = 0) -> int:
        pull_id = self.arm(index)
        self.rig.load(expected_n, seconds=1.0)
        self.rig.say("PUMP start")
        self.wait_until_stopped(pull_id)
        self.rig.say("RELEASE")
        return pull_id

    def wait_for_rest(self) -> None:
        def rests() -> bool:
            with suppress(RigError):
                return bool(self.hub.take_zero(self.live))
            return False

        wait_for(rests)

    def wait_for_kg(self, load: float) -> None:
        wait_for(lambda: self.live.reader.recent[-1].reading > load)

    def state(self, pull_id: int) -> str:
        with self.shop.file.reading() as connection:
            pull = fetch_pull(connection, pull_id)
        return pull.state if pull else "gone"

    def wait_until_stopped(self, pull_id: int) -> None:
        wait_for(lambda: self.state(pull_id) != "running")


@pytest.fixture
def bench(tmp_path: Path) -> Iterator[Bench]:
    shop = ready_shop(tmp_path)
    with shop.file.changing("a practice trial", shop.trial, undoable=False) as connection:
        connection.execute("UPDATE trial SET practice = 1")
    shop.clock.now = utc_now()
    with PracticeRig(rate_hz=100) as rig:
        rig_id = add_press(shop, rig.url, offset="1.8")
        made = Bench(shop, rig, rig_id)
        yield made
        made.hub.close()


def test_a_pull_is_found_read_kept_and_compared(bench: Bench) -> None:
    shop = bench.shop
    pull_id = bench.pull(800)
    pull = shop.pulls()[0]
    assert pull.load_n == pytest.approx(800, rel=0.05)
    assert pull.outcome == "broke"
    trace = load_trace(shop.file, pull_id)
    assert trace.reading is not None
    assert trace.reading.peak_n == pull.load_n
    assert pull.load_n == pytest.approx(max(trace.loads_n) - trace.reading.zero_n)
    drawn = view_trace(shop.file, pull_id)
    assert drawn.samples == len(trace.times_s)
    assert max(load for _, load in drawn.points) == pytest.approx(pull.load_n)
    keep_pull(shop.file, shop.trial, pull_id, Judgement("broke", "50", "both", "clean"))
    dot = view_compare(shop.file, shop.trial, Choice()).dots[0]
    # 3·F·120 / (2·30·81)
    assert dot.strength == pytest.approx(pull.load_n * 3 * 120 / (2 * 30 * 81))


def test_trying_again_keeps_both_pulls_and_compare_says_so(bench: Bench) -> None:
    shop = bench.shop
    first = bench.pull(500)
    retry_pull(shop.file, shop.trial, first)
    bench.wait_for_rest()
    second = bench.pull(800)
    keep_pull(shop.file, shop.trial, second, Judgement("broke", "0"))
    pulls = shop.pulls()
    assert [(pull.attempt, pull.state) for pull in pulls] == [(1, "retried"), (2, "kept")]
    assert load_trace(shop.file, first).times_s, "the first trace stays"
    assert [words for words in view_compare(shop.file, shop.trial, Choice()).mind if "(2 times)" in words]
    undo(shop.file, shop.trial)
    assert bench.state(second) == "stopped", "the recording itself is never undone"


def test_readings_are_stored_as_they_come_in_chunks_of_less_than_half_a_second(bench: Bench) -> None:
    pull_id = bench.arm()
    bench.rig.load(4000, seconds=20)
    bench.rig.say("PUMP start")
    wait_for(lambda: len(load_trace(bench.shop.file, pull_id).times_s) > 150)
    assert bench.state(pull_id) == "running", "they are there while it is pulled"
    stop_pull(bench.shop.file, bench.hub, bench.shop.trial, pull_id)
    with bench.shop.file.reading() as connection:
        counts = [row[0] for row in connection.execute("SELECT length(samples) / 16 FROM pull_chunk WHERE pull_id = 1")]
    assert sum(counts) == len(load_trace(bench.shop.file, pull_id).times_s)
    assert sorted(counts)[len(counts) // 2] <= 50, "of 100 lines a second"


def test_the_stream_cut_in_the_middle_of_a_pull_goes_on_and_is_flagged(bench: Bench) -> None:
    pull_id = bench.arm()
    bench.rig.load(2400, seconds=4)
    bench.rig.say("PUMP start")
    bench.wait_for_kg(40)
    bench.rig.say("UNPLUG 1s")
    wait_for(lambda: bench.live.reader.state is LinkState.LOST)
    bench.wait_until_stopped(pull_id)
    pull = bench.shop.pulls()[0]
    assert pull.outcome == "broke"
    assert [flag for flag in pull.flags if "interrupted" in flag], pull.flags


def test_garbage_in_a_pull_is_counted_and_dropped_from_nothing(bench: Bench) -> None:
    pull_id = bench.arm()
    bench.rig.load(900, seconds=2)
    bench.rig.say("PUMP start")
    bench.wait_for_kg(10)
    bench.rig.say("GARBLE 6")
    bench.wait_until_stopped(pull_id)
    pull = bench.shop.pulls()[0]
    assert "6 lines could not be read." in pull.flags
    assert load_trace(bench.shop.file, pull_id).unreadable == 6


def test_a_rig_at_its_limit_says_that_the_piece_held(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    with shop.file.changing("practice", shop.trial, undoable=False) as connection:
        connection.execute("UPDATE trial SET practice = 1")
    with PracticeRig(rate_hz=100, capacity_kg=60.0) as rig:
        bench = Bench(shop, rig, add_press(shop, rig.url, offset="0", capacity="588 N"))
        pull_id = bench.arm()
        rig.load(2000, seconds=2)
        rig.say("PUMP start")
        wait_for(lambda: rig.server.rig.broken)
        stop_pull(shop.file, bench.hub, shop.trial, pull_id)
        bench.hub.close()
    pull = shop.pulls()[0]
    assert pull.outcome == "held"
    assert "limit" in pull.flags[0]


def test_a_rig_that_moves_or_is_gone_or_busy_is_not_armed(bench: Bench) -> None:
    bench.rig.load(3000, seconds=4)
    bench.rig.say("PUMP start")
    bench.wait_for_kg(40)
    with pytest.raises(RigError, match="is not at rest"):
        bench.arm()
    bench.rig.say("RELEASE")
    bench.wait_for_rest()
    pull_id = bench.arm()
    with pytest.raises(RigError, match="is recording"):
        bench.arm(1)
    stop_pull(bench.shop.file, bench.hub, bench.shop.trial, pull_id)
    with pytest.raises(StateError, match="neither kept nor tried again"):
        bench.arm()
    bench.rig.say("UNPLUG 30s")
    wait_for(lambda: bench.live.reader.state is LinkState.LOST)
    with pytest.raises(RigError, match="not reachable"):
        bench.arm(1)


def test_practice_data_stays_out_of_real_trials(bench: Bench) -> None:
    shop = bench.shop
    with shop.file.changing("real", shop.trial, undoable=False) as connection:
        connection.execute("UPDATE trial SET practice = 0")
    with pytest.raises(RigError, match=r"simulated rig\. Its numbers stay out of real trials"):
        bench.arm()


def test_the_practice_panel_loads_the_chosen_piece(bench: Bench) -> None:
    shop = bench.shop
    piece = shop.pieces[0]
    answer = load_practice_piece(shop.file, bench.hub, shop.trial, PracticePiece(piece.id, bench.rig_id))
    assert answer["specimen"] == piece.label
    # an edge joint bends across the grain: 1.6 · 3.0 MPa of larch, over 3·120/(2·30·81) MPa per N
    assert bench.rig.server.rig.specimen is not None
    assert bench.rig.server.rig.specimen.strength_n == pytest.approx(4.8 / (360 / 4860), rel=0.4)


def test_a_full_disk_during_a_pull_is_told_and_nothing_is_lost_when_there_is_room_again(bench: Bench) -> None:
    pull_id = bench.arm()
    recording = bench.live.recording
    assert recording is not None
    whole = recording.recorder.file
    recording.recorder.file = replace(whole, page_limit=1)
    wait_for(lambda: "disk is full" in recording.trouble)
    assert "not being stored" in bench.hub.view(bench.rig_id, 0).trouble
    recording.recorder.file = whole
    wait_for(lambda: recording.trouble == "")
    stop_pull(bench.shop.file, bench.hub, bench.shop.trial, pull_id)
    times = load_trace(bench.shop.file, pull_id).times_s
    assert max(b - a for a, b in pairwise(times)) < 0.2, "no gap in the trace"


def test_a_pull_that_ran_when_the_program_died_is_ended_from_what_was_stored(bench: Bench) -> None:
    pull_id = bench.arm()
    bench.rig.load(3000, seconds=20)
    bench.rig.say("PUMP start")
    wait_for(lambda: len(load_trace(bench.shop.file, pull_id).times_s) > 150)
    recording = bench.live.recording
    assert recording is not None
    bench.live.reader.remove_listener(recording._hear)  # as if the program had died here
    assert recover_pulls(bench.shop.file) == 1
    pull = bench.shop.pulls()[0]
    assert bench.state(pull_id) == "stopped"
    assert "The program stopped during this pull" in pull.flags[0]
    assert pull.load_n == pytest.approx(max(load_trace(bench.shop.file, pull_id).loads_n))
    assert recover_pulls(bench.shop.file) == 0


def test_the_force_in_a_clamp_is_kept_from_a_load_cell(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan().saw()
    ids = [one.id for one in shop.pieces[:2]]
    with PracticeRig(rate_hz=100, capacity_kg=60.0) as rig:
        rig_id = add_press(shop, rig.url)
        hub = RigHub(shop.file)
        try:
            with pytest.raises(RigError, match="no readings"):
                run_steps.keep_clamp_force(shop.file, hub, shop.trial, ids, rig_id)
            live = hub.connect(rig_id)
            wait_for(lambda: len(live.reader.recent) > 150)
            with pytest.raises(StateError, match="is not in a clamp"):
                run_steps.keep_clamp_force(shop.file, hub, shop.trial, ids, rig_id)
            batches.start_batch(shop.file, shop.trial, BatchEntry(ids, "Wren"))
            clamps.put_clamps_on(shop.file, shop.trial, ids)
            run_steps.keep_clamp_force(shop.file, hub, shop.trial, ids[:1], rig_id)
        finally:
            hub.close()
    first, second = run_sheet.view_run_sheet(shop.file, shop.trial, 1).pieces
    kept, other = (first, second) if first.id == ids[0] else (second, first)
    assert kept.clamp_settled_n is not None
    assert kept.clamp_peak_n is not None
    # nothing pulls: a settled mean below the peak of the noise, both within a few newtons of the offset
    assert kept.clamp_settled_n <= kept.clamp_peak_n < kept.clamp_settled_n + 10
    assert other.clamp_settled_n is None
