"""The simulated rig: a hand-pumped press that breaks pieces, speaking like the board of a real one.

What it does not model: bending or slip of the frame, temperature of the load cell, a piece that creeps for hours, two
people pumping at once, and the electrical noise of mains.
"""

import asyncio
import json
import math
import re
from collections.abc import Callable
from dataclasses import dataclass, field
from itertools import count
from random import Random

STANDARD_GRAVITY = 9.80665
DIALECTS: dict[str, Callable[[float], str]] = {
    "plain": lambda kg: f"{kg:.2f}",
    "label": lambda kg: f"load: {kg:.2f} kg",
    "scale": lambda kg: f"ST,GS,{kg:+08.2f},kg",
}


@dataclass(frozen=True)
class RigTraits:
    """How the simulated rig errs; loads in kg as its display shows them."""

    rate_hz: float = 80.0
    capacity_kg: float = 510.0
    resolution_kg: float = 0.05
    noise_kg: float = 0.06
    offset_kg: float = 1.8
    drift_kg_per_min: float = 0.05


@dataclass
class Specimen:
    """What sits in the simulated rig and how it will break."""

    label: str
    strength_n: float
    mode: str
    rate_n_per_s: float
    cracks_at: list[float] = field(default_factory=list)


class SimulatedRig:
    """The load path in steps of one line: seating slack, pump strokes that sag, cracks, the break.

    The same seed and the same commands at the same lines give the same readings; no clock is read.
    """

    def __init__(self, traits: RigTraits, seed: int) -> None:
        self.traits = traits
        self._random = Random(seed)
        self._noise = Random(f"noise {seed}")
        self._step = 0
        self._load_n = 0.0
        self._slack_s = 0.0
        self._stroke_s = 0.0
        self._pumping = False
        self._weight_n = 0.0
        self._tare_kg = 0.0
        self.specimen: Specimen | None = None
        self.broken = False

    def load(self, label: str, expected_n: float, cv_pct: float, mode: str, rate_n_per_s: float) -> Specimen:
        """Put a piece in; its strength is drawn around what is expected."""
        sigma = math.sqrt(math.log1p((cv_pct / 100) ** 2))
        strength = expected_n * math.exp(self._random.gauss(0.0, sigma))
        cracks = sorted(self._random.uniform(0.55, 0.92) for _ in range({"snap": 0, "steps": 3, "creep": 1}[mode]))
        self.specimen = Specimen(label, strength, mode, rate_n_per_s, cracks)
        self.broken, self._load_n, self._pumping = False, 0.0, False
        self._slack_s = self._random.uniform(0.2, 0.6)
        return self.specimen

    def pump(self, on: bool) -> None:
        """Start or stop pumping."""
        self._pumping = on

    def release(self) -> None:
        """Open the valve and take the piece out."""
        self._pumping, self._load_n, self.specimen, self._weight_n = False, 0.0, None, 0.0

    def zero(self) -> None:
        """Press the rig's own zero button."""
        self._tare_kg = self._cell_kg()

    def hang(self, kg: float) -> None:
        """Hang a check weight."""
        self._weight_n = kg * STANDARD_GRAVITY

    def next_reading(self) -> float:
        """Advance by one line and return what the display shows, kg."""
        step_s = 1 / self.traits.rate_hz
        self._step += 1
        self._advance(step_s)
        shown = self._cell_kg() + self._noise.gauss(0.0, self.traits.noise_kg) - self._tare_kg
        steps = round(min(shown, self.traits.capacity_kg) / self.traits.resolution_kg)
        return steps * self.traits.resolution_kg

    def _cell_kg(self) -> float:
        minutes = self._step / self.traits.rate_hz / 60
        mass = (self._load_n + self._weight_n) / STANDARD_GRAVITY
        return mass + self.traits.offset_kg + self.traits.drift_kg_per_min * minutes

    def _advance(self, step_s: float) -> None:
        piece = self.specimen
        if piece is None or self.broken:
            self._load_n *= math.exp(-step_s / 0.08)
            return
        if not self._pumping:
            self._load_n *= 1 - 0.004 * step_s
            return
        if self._slack_s > 0:
            self._slack_s -= step_s
            return
        self._stroke_s = (self._stroke_s + step_s) % 0.9
        toe = 0.25 + 0.75 * min(1.0, self._load_n / (0.15 * piece.strength_n))
        if self._stroke_s < 0.62:
            self._load_n += piece.rate_n_per_s / 0.62 * 0.9 * toe * step_s
        else:
            self._load_n *= 1 - 0.035 * step_s
        if piece.cracks_at and self._load_n > piece.cracks_at[0] * piece.strength_n:
            piece.cracks_at.pop(0)
            self._load_n *= 0.9
        if self._load_n >= piece.strength_n:
            self._load_n = piece.strength_n * (0.12 if piece.mode == "snap" else 0.3)
            self.broken = True


class RigServer:
    """Serves one simulated rig on 127.0.0.1: lines on `port`, the operator's commands on `port` + 1."""

    def __init__(self, rig: SimulatedRig, dialect: str = "label") -> None:
        self.rig = rig
        self.dialect = dialect
        self._format = DIALECTS[dialect]
        self._garbage = 0
        self._unplugged_s = 0.0
        self._clients: set[asyncio.StreamWriter] = set()
        self._servers: list[asyncio.Server] = []
        self._ticker: asyncio.Task[None] | None = None

    async def start(self, port: int) -> int:
        """Listen; port 0 takes any two neighbours that are free. Return the port of the lines."""
        for attempt in count():
            lines = await asyncio.start_server(self._serve_lines, "127.0.0.1", port)
            actual = int(lines.sockets[0].getsockname()[1])
            try:
                control = await asyncio.start_server(self._serve_control, "127.0.0.1", actual + 1)
            except OSError:
                lines.close()
                if port or attempt > 20:
                    raise
                continue
            self._servers = [lines, control]
            self._ticker = asyncio.create_task(self._tick())
            return actual
        raise AssertionError("count() never ends")

    async def stop(self) -> None:
        """Stop listening and hang up."""
        if self._ticker:
            self._ticker.cancel()
        for server in self._servers:
            server.close()
        self._hang_up()

    def _hang_up(self) -> None:
        for writer in list(self._clients):
            writer.close()
        self._clients.clear()

    async def _tick(self) -> None:
        period = 1 / self.rig.traits.rate_hz
        loop = asyncio.get_running_loop()
        due = loop.time()
        while True:
            due += period
            await asyncio.sleep(max(0.0, due - loop.time()))
            self._unplugged_s = max(0.0, self._unplugged_s - period)
            reading = self.rig.next_reading()
            line = self._format(reading)
            if self._garbage:
                self._garbage -= 1
                line = "\x15#?~" + line[::-1].translate(str.maketrans("0123456789", "?;x!k_~zqj"))
            for writer in list(self._clients):
                writer.write(f"{line}\r\n".encode())

    async def _serve_lines(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        if self._unplugged_s > 0:
            writer.close()
            return
        self._clients.add(writer)
        while await reader.read(1024):
            pass
        self._clients.discard(writer)
        writer.close()

    async def _serve_control(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        while line := await reader.readline():
            answer = self.command(line.decode("utf-8", "replace").strip())
            writer.write(json.dumps(answer).encode() + b"\n")
            await writer.drain()
        writer.close()

    def command(self, text: str) -> dict[str, object]:
        """Carry out one line of the operator and return the answer, a JSON object with `ok`."""
        verb, _, rest = text.partition(" ")
        try:
            return {"ok": True, **self._carry_out(verb.upper(), rest.strip())}
        except (ValueError, KeyError, TypeError) as error:
            return {"ok": False, "error": f"“{text[:80]}” was not understood ({error})."}

    def _carry_out(self, verb: str, rest: str) -> dict[str, object]:
        rig = self.rig
        if verb == "LOAD":
            return self._load(json.loads(rest))
        if verb == "PUMP" and rest in ("start", "stop"):
            rig.pump(rest == "start")
        elif verb == "RELEASE":
            rig.release()
        elif verb == "ZERO":
            rig.zero()
        elif verb == "WEIGHT":
            rig.hang(_number(rest, "kg"))
        elif verb == "UNPLUG":
            self._unplugged_s = _number(rest, "s")
            self._hang_up()
        elif verb == "GARBLE":
            self._garbage = int(_number(rest, ""))
        elif verb != "STATUS":
            raise ValueError("commands: LOAD, PUMP start|stop, RELEASE, ZERO, WEIGHT, UNPLUG, GARBLE, STATUS")
        return self._status()

    def _load(self, wanted: object) -> dict[str, object]:
        if not isinstance(wanted, dict):
            raise ValueError("LOAD takes a JSON object")
        numbers = {
            name: float(str(wanted.get(name, default)))
            for name, default in (("expected_N", 2400), ("cv_pct", 14), ("rate_N_per_s", 250))
        }
        if not all(0 < value < 1e6 for value in numbers.values()):
            raise ValueError("expected_N, cv_pct and rate_N_per_s are above 0")
        mode = str(wanted.get("mode", "snap"))
        label = str(wanted.get("specimen", ""))
        self.rig.load(label, numbers["expected_N"], numbers["cv_pct"], mode, numbers["rate_N_per_s"])
        return self._status()

    def _status(self) -> dict[str, object]:
        specimen = self.rig.specimen
        return {
            "simulated": True,
            "dialect": self.dialect,
            "specimen": specimen.label if specimen else None,
            "broken": self.rig.broken,
            "rate": self.rig.traits.rate_hz,
        }


def _number(text: str, unit: str) -> float:
    match = re.fullmatch(rf"(\d+(?:\.\d+)?)\s*{unit}", text)
    if match is None:
        raise ValueError(f"expected a number{' in ' + unit if unit else ''}")
    return float(match[1])


async def serve_simulated(port: int, rate_hz: float, seed: int, dialect: str) -> None:
    """Serve the simulated rig until cancelled."""
    server = RigServer(SimulatedRig(RigTraits(rate_hz=rate_hz), seed), dialect)
    actual = await server.start(port)
    print(f"simulated rig: lines on socket://127.0.0.1:{actual}, commands on 127.0.0.1:{actual + 1}", flush=True)
    try:
        await asyncio.Event().wait()
    finally:
        await server.stop()
