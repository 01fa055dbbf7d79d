"""The demo beside a shop: one program of its own, started when asked for and ended with this one."""

import socket
import subprocess
import sys
import threading
from typing import Final

DEMO_PORT: Final = 8701


class DemoProgram:
    """The demo as another program on a throw-away file."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        """Start the demo; one that runs already is left running."""
        with self._lock:
            if self._process is not None and self._process.poll() is None:
                return
            self._process = subprocess.Popen(
                [sys.executable, "-m", "adhaero", "demo", "--port", str(DEMO_PORT), "--if-free"],
                stdin=subprocess.DEVNULL,
                stdout=subprocess.DEVNULL,
                stderr=subprocess.DEVNULL,
            )

    def is_ready(self) -> bool:
        """Return whether the demo answers."""
        with socket.socket() as probe:
            return probe.connect_ex(("127.0.0.1", DEMO_PORT)) == 0

    def close(self) -> None:
        """End the demo that this program started."""
        with self._lock:
            if self._process is None or self._process.poll() is not None:
                return
            self._process.terminate()
            try:
                self._process.wait(timeout=5)
            except subprocess.TimeoutExpired:
                self._process.kill()
