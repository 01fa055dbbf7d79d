"""A simulated rig is found by asking it, whatever a person called it; a real one is left alone."""

import socket
import threading

import pytest

from adhaero.core.errors import RigError
from adhaero.rig.operator import command, find_operator
from tests.practice import PracticeRig


def test_a_simulated_rig_says_what_it_is() -> None:
    with PracticeRig(rate_hz=20) as rig:
        address = find_operator(rig.url)
        assert address == ("127.0.0.1", rig.port + 1)
        assert command(address, "WEIGHT 20kg")["ok"] is True
        with pytest.raises(RigError, match="was not understood"):
            command(address, "DANCE")
    with pytest.raises(RigError, match="does not answer"):
        command(address, "STATUS")


@pytest.mark.parametrize("url", ["/dev/ttyUSB0", "COM3", "loop://", "socket://127.0.0.1:1", "socket://host:99999", ""])
def test_a_real_rig_has_no_operator(url: str) -> None:
    assert find_operator(url) is None


@pytest.mark.parametrize("answer", [b"load: 12.3 kg\r\n", b"[1]\n", b'{"ok": true}\n', b"", b"x" * 20_000])
def test_another_program_on_the_next_port_is_no_simulated_rig(answer: bytes) -> None:
    with socket.create_server(("127.0.0.1", 0)) as server:

        def serve() -> None:
            line, _ = server.accept()
            with line:
                line.sendall(answer)

        threading.Thread(target=serve, daemon=True).start()
        assert find_operator(f"socket://127.0.0.1:{server.getsockname()[1] - 1}") is None
