"""The reader: states that name what is wrong, and reconnecting by itself; on real sockets."""

import time
from collections.abc import Callable

import pytest

from adhaero.rig import reader as module
from adhaero.rig.ports import PortSettings
from adhaero.rig.reader import LinkState, RigReader
from tests.practice import PracticeRig


def wait_for(condition: Callable[[], bool], seconds: float = 60.0) -> None:
    deadline = time.monotonic() + seconds
    while not condition():
        assert time.monotonic() < deadline, "it did not come"
        time.sleep(0.01)


def test_lines_of_every_dialect_are_read() -> None:
    for dialect in ("plain", "label", "scale"):
        with PracticeRig(rate_hz=100, dialect=dialect) as rig:
            reader = RigReader(PortSettings(rig.url))
            wait_for(lambda reader=reader: len(reader.recent) >= 20)
            reader.close()
            assert reader.unreadable == 0
            # nothing on it: the offset of 1.8 kg, some noise and drift
            assert all(abs(sample.reading - 1.8) < 0.6 for sample in reader.recent)
            assert reader.seen_unit == (None if dialect == "plain" else "kg")


def test_no_line_is_lost_at_80_lines_a_second() -> None:
    with PracticeRig(rate_hz=80) as rig:
        reader = RigReader(PortSettings(rig.url))
        heard: list[float] = []
        wait_for(lambda: reader.lines > 0)
        before = reader.lines
        reader.add_listener(lambda sample: heard.append(sample.time_s) if sample else None)
        after = reader.lines
        wait_for(lambda: len(heard) >= 160)
        reader.close()
        # a line that is counted and not yet told when the listener comes is heard as well
        assert reader.lines - after <= len(heard) <= reader.lines - before + 1
        assert heard == sorted(heard)


def test_garbage_is_counted_named_and_survived() -> None:
    with PracticeRig(rate_hz=50) as rig:
        reader = RigReader(PortSettings(rig.url))
        wait_for(lambda: reader.lines > 5)
        states: list[LinkState] = []
        reader.add_listener(lambda _: states.append(reader.state))
        rig.say("GARBLE 8")
        wait_for(lambda: reader.unreadable == 8 and states[-1] is LinkState.READING)
        reader.close()
        assert states.count(LinkState.GARBAGE) == 6, "from the third line without a number on"
        assert reader.unreadable == 8


def test_an_unplugged_rig_is_lost_and_comes_back_by_itself() -> None:
    with PracticeRig(rate_hz=50) as rig:
        reader = RigReader(PortSettings(rig.url))
        wait_for(lambda: reader.state is LinkState.READING and reader.lines > 5)
        rig.say("UNPLUG 2s")
        wait_for(lambda: reader.state is not LinkState.READING)
        before = reader.lines
        wait_for(lambda: reader.state is LinkState.READING and reader.lines > before + 10)
        reader.close()
        assert reader.state is LinkState.CLOSED


def test_silence_is_named(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(module, "SILENCE_S", 0.3)
    with PracticeRig(rate_hz=1.5) as rig:
        reader = RigReader(PortSettings(rig.url))
        wait_for(lambda: reader.state is LinkState.SILENT)
        wait_for(lambda: reader.state is LinkState.READING)
        reader.close()


def test_nobody_at_the_address_says_why_and_keeps_trying() -> None:
    reader = RigReader(PortSettings("socket://127.0.0.1:1"))
    wait_for(lambda: reader.state is LinkState.LOST)
    assert reader.why
    reader.close()


@pytest.mark.parametrize("url", ["nonsense://x", "/dev/ttyNOTHERE", "socket://nowhere"])
def test_an_address_that_cannot_be_opened_is_a_state_not_a_crash(url: str) -> None:
    reader = RigReader(PortSettings(url))
    wait_for(lambda: reader.state is LinkState.LOST)
    reader.close()


def test_a_listener_that_fails_is_taken_off_and_told() -> None:
    with PracticeRig(rate_hz=50) as rig:
        reader = RigReader(PortSettings(rig.url))

        def broken(_: object) -> None:
            raise RuntimeError("disk gone")

        reader.add_listener(broken)
        wait_for(lambda: reader.failed is not None)
        before = reader.lines
        wait_for(lambda: reader.lines > before + 5)
        assert str(reader.failed) == "disk gone"
        reader.close()
