"""A simulated rig inside this program, in a thread of its own."""

import asyncio
import threading

from adhaero.rig.simulated import RigServer, RigTraits, SimulatedRig


def start_practice_rig(port: int, rate_hz: float, seed: int) -> int:
    """Run a simulated rig in a thread of its own and return the port of its lines; another one if it is taken."""
    started = threading.Event()
    found: list[int] = []

    async def run() -> None:
        server = RigServer(SimulatedRig(RigTraits(rate_hz=rate_hz), seed), "travel")
        try:
            found.append(await server.start(port))
        except OSError:
            found.append(await server.start(0))
        started.set()
        await asyncio.Event().wait()

    threading.Thread(target=lambda: asyncio.run(run()), name="practice rig", daemon=True).start()
    started.wait(timeout=5)
    return found[0]
