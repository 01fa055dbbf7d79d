"""The simulated rig in a thread, on real sockets, driven by tests as its operator."""

import asyncio
import json
import threading
from types import TracebackType
from typing import Self

from adhaero.rig.simulated import RigServer, RigTraits, SimulatedRig


class PracticeRig:
    """A simulated rig for the length of a `with`."""

    def __init__(self, rate_hz: float = 80.0, seed: int = 7, dialect: str = "label", **traits: float) -> None:
        self._rate_hz, self._seed, self._dialect, self._traits = rate_hz, seed, dialect, traits
        self._loop = asyncio.new_event_loop()
        self._ready = threading.Event()
        self.port = 0

    def __enter__(self) -> Self:
        self._thread = threading.Thread(target=self._run, daemon=True)
        self._thread.start()
        assert self._ready.wait(60)
        return self

    def __exit__(self, *_: type[BaseException] | BaseException | TracebackType | None) -> None:
        asyncio.run_coroutine_threadsafe(self.server.stop(), self._loop).result(60)
        self._loop.call_soon_threadsafe(self._loop.stop)
        self._thread.join(60)
        self._loop.close()

    def _run(self) -> None:
        asyncio.set_event_loop(self._loop)
        traits = RigTraits(rate_hz=self._rate_hz, **self._traits)
        self.server = RigServer(SimulatedRig(traits, self._seed), self._dialect)
        self.port = self._loop.run_until_complete(self.server.start(0))
        self._ready.set()
        self._loop.run_forever()

    @property
    def url(self) -> str:
        return f"socket://127.0.0.1:{self.port}"

    def say(self, command: str) -> dict[str, object]:
        async def carry_out() -> dict[str, object]:
            return self.server.command(command)

        answer = asyncio.run_coroutine_threadsafe(carry_out(), self._loop).result(60)
        assert answer["ok"], answer
        return answer

    def load(self, expected_n: float, seconds: float = 2.0, cv_pct: float = 1.0, mode: str = "snap") -> None:
        """Put a piece in that breaks after about so many seconds of pumping."""
        wanted = {"expected_N": expected_n, "cv_pct": cv_pct, "mode": mode, "rate_N_per_s": expected_n / seconds}
        self.say(f"LOAD {json.dumps(wanted)}")
