"""What is opened and what is not; how bytes become lines; faults of a line that is read live."""

import socket
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from adhaero.core.errors import EntryError
from adhaero.core.rig.addresses import check_address, is_near, parse_address
from adhaero.core.rig.lines import LONGEST_LINE
from adhaero.rig import ports
from adhaero.rig.ports import PortSettings
from adhaero.rig.reader import LineSettings, LineSplitter, LinkState, RigReader
from tests.rig.test_reader import wait_for


@pytest.mark.parametrize(
    "url",
    [
        "/dev/ttyUSB0", "/dev/ttyACM3", "/dev/serial/by-id/usb-Maker_Board_A1-if00", "/dev/cu.usbserial-110", "COM3",
        "socket://192.168.1.7:4001", "socket://[fe80::1]:4001", "rfc2217://press.local:2217/", " socket://127.0.0.1:7801",
    ],
)  # fmt: skip
def test_serial_ports_and_hosts_of_this_network_are_addresses(url: str) -> None:
    check_address(url, "")


@pytest.mark.parametrize(
    "url",
    [
        "", "spy:///dev/ttyUSB0?file=/tmp/shop.sqlite", "loop://?logging=debug", "alt:///dev/ttyUSB0?class=PosixSerial",
        "hwgrep://((", "socket://127.0.0.1:7801?logging=debug", "socket://user@127.0.0.1:1", "socket://127.0.0.1:0",
        "socket://127.0.0.1:99999", "/dev/sda", "/dev/tty", "/dev/ttyUSB0/../sda", "/dev/serial/by-id/../../sda",
        "/etc/passwd", "file:///etc/passwd", "COM0", "socket://a b:1", "rfc2217://h:1?logging=x", "socket://8.8.8.8:4001",
        "socket://0.0.0.0:4001",
    ],
)  # fmt: skip
def test_nothing_else_is_an_address(url: str) -> None:
    with pytest.raises(EntryError):
        check_address(url, "")


def test_a_host_elsewhere_needs_a_word_of_consent() -> None:
    check_address("socket://8.8.8.8:4001", "8.8.8.8")
    with pytest.raises(EntryError, match="outside this computer's own network"):
        check_address("socket://8.8.4.4:4001", "8.8.8.8")
    assert not is_near("::ffff:8.8.8.8")
    assert is_near("::ffff:192.168.0.9")


def test_a_name_is_looked_up_and_its_address_checked(monkeypatch: pytest.MonkeyPatch) -> None:
    """A name that leads elsewhere is refused when it is opened, whatever it led to when it was saved."""
    found = [(socket.AF_INET, socket.SOCK_STREAM, 0, "", ("93.184.216.34", 4001))]
    monkeypatch.setattr(ports.socket, "getaddrinfo", lambda *_, **__: found)
    reader = RigReader(PortSettings("socket://press.example:4001"))
    wait_for(lambda: reader.state is LinkState.LOST)
    assert "outside this computer's own network" in reader.why
    reader.close()


@pytest.mark.parametrize(
    "url", ["hwgrep://((", "spy:///dev/ttyUSB0?file=/tmp/x", "socket://127.0.0.1:99999", "alt://x"]
)
def test_an_address_from_elsewhere_is_checked_again_when_it_is_opened(url: str) -> None:
    reader = RigReader(PortSettings(url))
    wait_for(lambda: reader.state is LinkState.LOST)
    assert reader.why
    reader.close()
    assert not reader._thread.is_alive()


def test_whatever_a_driver_raises_ends_in_a_state_with_words(monkeypatch: pytest.MonkeyPatch) -> None:
    def fail(_: PortSettings) -> None:
        raise RuntimeError("driver gone")

    monkeypatch.setattr("adhaero.rig.reader.open_port", fail)
    reader = RigReader(PortSettings("COM3"))
    wait_for(lambda: reader.state is LinkState.LOST)
    assert reader.why == "driver gone"
    reader.close()


@given(
    st.lists(st.text("0123456789 kgN", min_size=1, max_size=12), max_size=12),
    st.sampled_from([b"\n", b"\r\n", b"\r"]),
    st.data(),
)
def test_lines_come_out_whole_however_the_bytes_are_cut(lines: list[str], ending: bytes, data: st.DataObject) -> None:
    stream = b"".join(line.encode() + ending for line in lines)
    splitter, found, at = LineSplitter(), [], 0
    while at < len(stream):
        step = data.draw(st.integers(1, 9))
        found += splitter.feed(stream[at : at + step])
        at += step
    assert found == lines


def test_a_stream_without_line_ends_is_never_kept() -> None:
    splitter = LineSplitter()
    pieces = [piece for _ in range(1000) for piece in splitter.feed(b"7" * 997)]
    assert all(len(piece) > LONGEST_LINE for piece in pieces)
    assert len(splitter._pending) <= 4 * LONGEST_LINE + 997
    assert splitter.feed(b"77\n12.3 kg\n") == ["12.3 kg"], "what belongs to the endless line goes with it"


@contextmanager
def sending(chunks: Iterator[bytes], lines: LineSettings | None = None) -> Iterator[RigReader]:
    """Give a reader of a rig that sends these chunks to whoever connects."""
    with socket.create_server(("127.0.0.1", 0)) as server:

        def serve() -> None:
            with suppress(OSError):
                line, _ = server.accept()
                with line:
                    for chunk in chunks:
                        line.sendall(chunk)
                    time.sleep(5)

        threading.Thread(target=serve, daemon=True).start()
        reader = RigReader(PortSettings(f"socket://127.0.0.1:{server.getsockname()[1]}"), lines)
        try:
            yield reader
        finally:
            reader.close()
            assert not reader._thread.is_alive()


def test_the_first_line_may_be_cut_and_is_not_read() -> None:
    with sending(iter([b"34 kg\r\n12.34 kg\r\n"])) as reader:
        wait_for(lambda: reader.lines == 1)
        assert [sample.reading for sample in reader.recent] == [12.34]
        assert list(reader.raw_lines) == ["34 kg", "12.34 kg"]


def test_a_stream_without_line_ends_is_garbage_and_closes_at_once() -> None:
    with sending(b"7" * 4096 for _ in range(100_000)) as reader:
        wait_for(lambda: reader.unreadable > 30)
        assert reader.state is LinkState.GARBAGE
        begun = time.monotonic()
    assert time.monotonic() - begun < 3


def test_what_no_rig_can_pull_is_no_reading() -> None:
    lines = LineSettings(lowest=-1500, highest=1500)
    with sending(iter([b"x\n12.5 N\n12950001300000 N\n1e999\n9000 N\n-1400 N\n"]), lines) as reader:
        wait_for(lambda: reader.lines == 5)
        assert [sample.reading for sample in reader.recent] == [12.5, -1400.0]
        assert reader.unreadable == 3
        assert "three times" in reader.why_unreadable


def test_a_thousand_lines_a_second_each_have_their_time() -> None:
    def rush() -> Iterator[bytes]:
        yield b"x\n"
        for number in range(0, 1000, 20):
            time.sleep(0.02)
            yield b"".join(f"{one}\n".encode() for one in range(number, number + 20))

    with sending(rush()) as reader:
        wait_for(lambda: reader.lines == 1000, 30)
        times = [sample.time_s for sample in reader.recent]
        assert [sample.reading for sample in reader.recent] == list(range(1000))
        assert times == sorted(times)
        assert len(set(times)) == 1000, "lines that come in one gulp are spread"


def test_parse_tells_serial_ports_from_hosts() -> None:
    assert parse_address("rfc2217://[::1]:2217") == ports.NetworkAddress("rfc2217", "::1", 2217)
