"""Pulls from a rig that lies, changes its mind or is used by ten at once; and where on a trace a load is read."""

import json
import socket
import threading
import time
from collections import deque
from collections.abc import Callable, Iterator
from contextlib import closing, suppress
from pathlib import Path

import numpy as np
import pytest

from adhaero.bench.breaking import pulls, recording
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.breaking.live_rigs import RigHub, UnitDiffers
from adhaero.bench.breaking.load_point import PointEntry, choose_point, view_trace
from adhaero.bench.breaking.pulls import arm, keep_pull, recover_pulls, stop_pull
from adhaero.bench.breaking.recording import load_trace
from adhaero.bench.breaking.view import view_break
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.view import view_compare
from adhaero.bench.shop.rigs import choose_unit, remove_rig
from adhaero.bench.shop.view import view_shop
from adhaero.cli.rig import give_pull
from adhaero.core.errors import EntryError, InUse, RigError, StateError
from adhaero.core.rig.trace.flags import TraceFlag
from adhaero.store.file import utc_now
from adhaero.store.pulls import insert_chunk, list_running
from tests.core.rig.test_trace import BY_FILE, mismatches, open_case
from tests.rig.test_reader import wait_for
from tests.shops import Shop, add_press, ready_shop


class ScriptedRig:
    """A rig that prints what a test tells it to, a hundred lines a second; `text` is printed until it is changed."""

    def __init__(self) -> None:
        self.text = "0.0 kg"
        self.printed: deque[str] = deque(maxlen=3)
        self.server = socket.create_server(("127.0.0.1", 0))
        self.line: socket.socket | None = None
        threading.Thread(target=self._serve, daemon=True).start()

    @property
    def url(self) -> str:
        return f"socket://127.0.0.1:{self.server.getsockname()[1]}"

    def _serve(self) -> None:
        with suppress(OSError):
            while True:
                self.line, _ = self.server.accept()
                threading.Thread(target=self._print, args=(self.line,), daemon=True).start()

    def _print(self, line: socket.socket) -> None:
        with suppress(OSError), line:
            while True:
                if text := self.text:
                    line.sendall(f"{text}\r\n".encode())
                    self.printed.append(text)
                time.sleep(0.01)

    def send(self, text: str) -> None:
        assert self.line is not None
        self.line.sendall(text.encode())

    def pull(self, kg: float) -> None:
        """Pull up to so many kilograms in about a second, and let it break."""
        for step in range(50):
            self.show(f"{kg * (step + 1) / 50:.1f} kg")
        self.text = "0.0 kg"

    def show(self, text: str, times: int = 2) -> None:
        """Print a line so many times, 3 at most, and go on printing it."""
        self.text = text
        wait_for(lambda: list(self.printed).count(text) >= times)


class Bench:
    def __init__(self, shop: Shop, rig: ScriptedRig, **card: object) -> None:
        self.shop, self.rig = shop, rig
        self.rig_id = add_press(shop, rig.url, simulated=False, **card)
        self.hub = RigHub(shop.file)
        self.live = self.hub.connect(self.rig_id)
        wait_for(lambda: self.live.reader.lines > 60)

    def arm(self, index: int = 0) -> int:
        return arm(self.shop.file, self.hub, self.shop.trial, self.shop.pieces[index].id, self.rig_id)

    def finish(self, pull_id: int) -> None:
        going = self.hub.recording_of(pull_id)
        if going is not None:
            assert going.finished.wait(30)


@pytest.fixture
def rig() -> Iterator[ScriptedRig]:
    made = ScriptedRig()
    yield made
    made.server.close()


@pytest.fixture
def bench(tmp_path: Path, rig: ScriptedRig) -> Iterator[Bench]:
    shop = ready_shop(tmp_path)
    shop.clock.now = utc_now()
    made = Bench(shop, rig, unit="kgf")
    yield made
    made.hub.close()


def test_ten_that_arm_at_once_get_one_recording(bench: Bench) -> None:
    done: list[object] = []

    def try_it(index: int) -> None:
        try:
            done.append(bench.arm(index % 4))
        except (RigError, StateError) as error:
            done.append(error)

    threads = [threading.Thread(target=try_it, args=(index,)) for index in range(10)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    armed = [one for one in done if isinstance(one, int)]
    assert len(armed) == 1
    with bench.shop.file.reading() as connection:
        assert [pull.id for pull in list_running(connection)] == armed
    stop_pull(bench.shop.file, bench.hub, bench.shop.trial, armed[0])


def test_a_rig_in_use_is_neither_let_go_nor_deleted_and_its_pull_goes_on(bench: Bench) -> None:
    pull = bench.arm()
    with pytest.raises(StateError, match="is recording"):
        bench.hub.disconnect(bench.rig_id)
    with pytest.raises(InUse, match="has recorded 1 pulls"):
        remove_rig(bench.shop.file, bench.rig_id)
    assert bench.hub.recording_of(pull) is not None
    with bench.shop.file.reading() as connection:
        assert list_running(connection)
    stop_pull(bench.shop.file, bench.hub, bench.shop.trial, pull)
    bench.hub.disconnect(bench.rig_id)


def test_a_rig_that_a_plan_counts_on_stays(bench: Bench) -> None:
    bench.shop.edit("rig_id", str(bench.rig_id))
    with pytest.raises(InUse, match="is the rig of the trial"):
        remove_rig(bench.shop.file, bench.rig_id)


def test_a_printed_unit_that_is_not_the_cards_is_chosen_before_anything_is_armed(bench: Bench) -> None:
    bench.rig.text = "0.0 lb"
    wait_for(lambda: bench.hub.view(bench.rig_id, 0).unit_differs)
    with pytest.raises(UnitDiffers, match="prints lb, its card says kgf") as caught:
        bench.arm()
    assert caught.value.choices == ("lb", "kgf")
    with pytest.raises(EntryError, match="neither in the lines nor on the card"):
        choose_unit(bench.shop.file, bench.rig_id, "lb", "kN")
    choose_unit(bench.shop.file, bench.rig_id, "lb", "lb")
    card = view_shop(bench.shop.file).rigs[0]
    assert (card.entry.unit, card.entry.factor) == ("lbf", "1")
    bench.live = bench.hub.connect(bench.rig_id)
    wait_for(lambda: bench.live.reader.lines > 120)
    assert bench.live.calibration.newton_per_unit == pytest.approx(4.4482216)
    stop_pull(bench.shop.file, bench.hub, bench.shop.trial, bench.arm())


def test_a_printed_unit_may_mean_that_of_the_card(bench: Bench) -> None:
    bench.rig.text = "0.0 lb"
    wait_for(lambda: bench.live.reader.seen_unit == "lb")
    choose_unit(bench.shop.file, bench.rig_id, "lb", "kgf")
    bench.live = bench.hub.connect(bench.rig_id)
    wait_for(lambda: bench.live.reader.lines > 120)
    stop_pull(bench.shop.file, bench.hub, bench.shop.trial, bench.arm())
    assert view_shop(bench.shop.file).rigs[0].entry.unit == "kgf"


def test_a_unit_that_changes_midway_ends_the_pull_with_words(bench: Bench) -> None:
    pull = bench.arm()
    bench.rig.show("40.0 kg", 3)
    bench.rig.text = "88.2 lb"
    bench.finish(pull)
    kept = bench.shop.pulls()[0]
    assert kept.flags[0].startswith("The rig changed from kg to lb: the pull ended there")
    assert max(load_trace(bench.shop.file, pull).loads_n) == pytest.approx(392.3, abs=1)


def test_two_lines_glued_by_a_lost_newline_spoil_nothing(bench: Bench) -> None:
    pull = bench.arm()
    bench.rig.pull(60)
    bench.rig.send("12950001300000\r\n1e999\r\n-" + "\u00a0" + "0.0 kg\r\n\x00\x02")
    bench.finish(pull)
    kept = bench.shop.pulls()[0]
    assert (kept.state, kept.outcome) == ("stopped", "broke")
    assert kept.load_n == pytest.approx(60 * 9.80665, rel=0.01)
    assert [words for words in kept.flags if "could not be read" in words]
    assert json.dumps(bench.hub.view(bench.rig_id, 0).samples, allow_nan=False)


def test_a_rig_that_falls_silent_leaves_the_pull_to_the_person(bench: Bench) -> None:
    pull = bench.arm()
    for text in ("20.0 kg", "21.4 kg", "22.9 kg", "24.1 kg"):
        lines = bench.live.reader.lines
        bench.rig.text = text
        wait_for(lambda before=lines: bench.live.reader.lines > before + 5)
    bench.rig.text = ""
    wait_for(lambda: bench.live.reader.state == "silent")
    assert bench.hub.recording_of(pull) is not None
    stop_pull(bench.shop.file, bench.hub, bench.shop.trial, pull)
    assert bench.shop.pulls()[0].outcome is None


def test_a_pull_that_cannot_be_read_ends_and_keeps_its_readings(bench: Bench, monkeypatch: pytest.MonkeyPatch) -> None:
    def fail(*_: object) -> None:
        raise ValueError("no such trace")

    pull = bench.arm()
    read = bench.live.reader.lines
    wait_for(lambda: bench.live.reader.lines > read + 20)
    monkeypatch.setattr(recording, "summarise", fail)
    stop_pull(bench.shop.file, bench.hub, bench.shop.trial, pull)
    kept = bench.shop.pulls()[0]
    assert kept.state == "stopped"
    assert "could not be read" in kept.flags[0]
    assert len(load_trace(bench.shop.file, pull).times_s) > 10
    pulls.retry_pull(bench.shop.file, bench.shop.trial, pull)


def test_a_pull_that_cannot_be_ended_never_stops_a_start(bench: Bench, monkeypatch: pytest.MonkeyPatch) -> None:
    pull = bench.arm()
    bench.hub.recording_of(pull)._ending.set()  # type: ignore[union-attr]
    bench.finish(pull)
    with bench.shop.file.changing("as if it ran", bench.shop.trial, undoable=False) as connection:
        connection.execute("UPDATE pull SET state = 'running'")

    def full(*_: object) -> None:
        raise StateError("The disk is full.")

    monkeypatch.setattr(pulls, "finish_pull", full)
    assert recover_pulls(bench.shop.file) == 1


def stored(shop: Shop, file: str) -> int:
    """Put a trace of the reference into the shop as a pull that was recorded; return its id."""
    log, per_unit, known = open_case(BY_FILE[file])
    capacity = f"{known.capacity_n or 5000:g} N"
    rig_id = add_press(
        shop, "COM3", name=file, unit="N", capacity=capacity, resolution=f"{known.resolution_n or 1:g} N"
    )
    end = len(log.times_s)
    with shop.file.changing("a pull", shop.trial, undoable=False) as connection:
        calibration = connection.execute("SELECT max(id) FROM calibration").fetchone()[0]
        pull = connection.execute(
            "INSERT INTO pull (piece_id, attempt, source, state, rig_id, calibration_id, zero_n, zero_noise_n,"
            " started_utc) VALUES (:piece, 1, 'rig', 'running', :rig, :calibration, 0, 0, :now)",
            {"piece": shop.pieces[0].id, "rig": rig_id, "calibration": calibration, "now": shop.file.now()},
        ).lastrowid
    assert pull is not None
    samples = list(zip(log.times_s[:end], [per_unit * load for load in log.loads[:end]], strict=True))
    with shop.file.recording() as connection:
        insert_chunk(connection, pull, 0, samples, len(log.unreadable_before))
    recording.finish_pull(shop.file, pull, shop.trial)
    return pull


def test_what_looks_soft_asks_and_what_is_clipped_is_offered_as_held(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    stored(shop, "soft-600n-per-s.csv")
    view = view_break(shop.file, shop.trial, shop.pieces[0].id).piece
    assert view is not None
    assert (view.pulls[0].outcome, TraceFlag.SOFT in view.pulls[0].codes) == (None, True)
    with pytest.raises(EntryError, match="not said what happened"):
        keep_pull(shop.file, shop.trial, view.pulls[0].id, Judgement(""))
    other = ready_shop(tmp_path / "other")
    stored(other, "clipped-at-3800.csv")
    assert other.pulls()[0].outcome == "held"


def test_the_load_is_read_elsewhere_with_a_reason_that_stays(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    pull = stored(shop, "slip-half-at-800.csv")
    assert shop.pulls()[0].load_n == pytest.approx(2386, rel=0.01)
    for entry, words in (
        (PointEntry("first_drop"), "The reason is missing"),
        (PointEntry("top", "why"), "is no point"),
        (PointEntry("point", "a knock", 999.0), "not on the trace"),
    ):
        with pytest.raises(EntryError, match=words):
            choose_point(shop.file, shop.trial, pull, entry)
    choose_point(shop.file, shop.trial, pull, PointEntry("first_drop", "open after the first drop"))
    assert shop.pulls()[0].load_n == pytest.approx(800, rel=0.03)
    keep_pull(shop.file, shop.trial, pull, Judgement("broke", "0"))
    mind = view_compare(shop.file, shop.trial, Choice()).mind
    assert [words for words in mind if "(open after the first drop)" in words]
    reading = view_trace(shop.file, pull).reading
    assert reading is not None
    choose_point(shop.file, shop.trial, pull, PointEntry("point", "the fixture touched", reading.peak_s - 2))
    at_point = shop.pulls()[0].load_n
    assert at_point == pytest.approx(dict(view_trace(shop.file, pull).points)[shop.pulls()[0].load_point_s], rel=0.05)
    choose_point(shop.file, shop.trial, pull, PointEntry("highest"))
    assert shop.pulls()[0].load_n == reading.peak_n


LIVE = (
    "slip-half-at-800.csv", "pump-25pct-10hz.csv", "spike-up-4000.csv", "cable-zero-300ms.csv", "offset-plus-150n.csv",
    "clipped-at-3800.csv", "reversed-polarity.csv", "steps-three-openings.csv", "let-off-by-hand-30s-kn.csv",
)  # fmt: skip


@pytest.mark.parametrize("file", LIVE)
def test_a_trace_played_through_the_socket_reads_the_same(
    file: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Real lines into the real reader and recorder, on the trace's own clock; then read from the file."""
    log, per_unit, known = open_case(BY_FILE[file])
    times = iter([*np.arange(-1.0, 0.0, 0.05), *log.times_s])
    monkeypatch.setattr("adhaero.rig.reader.ArrivalClock", lambda: lambda count: [next(times) for _ in range(count)])
    shop = ready_shop(tmp_path)
    shop.clock.now = utc_now()
    with socket.create_server(("127.0.0.1", 0)) as server:
        url = f"socket://127.0.0.1:{server.getsockname()[1]}"
        capacity, step = f"{known.capacity_n or 5000:g} N", f"{known.resolution_n or 1:g} N"
        rig_id = add_press(shop, url, unit="N", capacity=capacity, resolution=step, simulated=False)
        hub = RigHub(shop.file)
        live = hub.connect(rig_id)
        line, _ = server.accept()
        with closing(line):
            rest = per_unit * log.loads[0]
            line.sendall(b"first\n" + f"{rest:.3f} N\n".encode() * 20)
            wait_for(lambda: live.reader.lines == 20)
            pull = arm(shop.file, hub, shop.trial, shop.pieces[0].id, rig_id)
            play(line, [per_unit * load for load in log.loads], log.times_s, lambda: hub.recording_of(pull) is None)
            wait_for(lambda: live.reader.lines == 20 + len(log.loads) or hub.recording_of(pull) is None)
            if (going := hub.recording_of(pull)) is not None:
                going.stop()
        hub.close()
    trace = load_trace(shop.file, pull)
    assert trace.reading is not None
    result = give_pull(trace.reading, None)
    # a pull's own clock begins with its first sample
    for name in ("peak_s", "break_s"):
        result[name] = None if result[name] is None else result[name] + log.times_s[0]
    for drop in result["drops"]:
        drop["at_s"] += log.times_s[0]
    assert mismatches(BY_FILE[file], {"pulls": [result]}) == []


def play(line: socket.socket, loads: list[float], times: list[float], ended: Callable[[], bool]) -> None:
    """Send a trace a quarter of a second of it at a time, until the pull ends."""
    sent = 0
    while sent < len(loads) and not ended():
        until = int(np.searchsorted(times, times[sent] + 0.5))
        until = max(until, sent + 1)
        with suppress(OSError):
            line.sendall("".join(f"{load:.4f} N\n" for load in loads[sent:until]).encode())
        sent = until
        time.sleep(0.03)
