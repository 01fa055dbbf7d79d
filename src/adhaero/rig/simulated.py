"""The simulated rig: a hand-pumped press that breaks pieces, speaking like the board of a real one.

What it does not model: bending or slip of the frame (the dial stands beside the piece), temperature of the load cell,
a piece that creeps for hours, two people pumping at once, and the electrical noise of mains.
"""

import asyncio
import json
import math
import re
from collections.abc import Callable
from dataclasses import dataclass, field
from enum import StrEnum
from itertools import count
from random import Random

STANDARD_GRAVITY = 9.80665
DIALECTS: dict[str, Callable[[float, float], str]] = {
    "plain": lambda kg, _: f"{kg:.2f}",
    "label": lambda kg, _: f"load: {kg:.2f} kg",
    "scale": lambda kg, _: f"ST,GS,{kg:+08.2f},kg",
    "travel": lambda kg, mm: f"load: {kg:.2f} kg; travel: {mm:.3f} mm",
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
    dial_noise_mm: float = 0.002


class Mode(StrEnum):
    """How a piece of the simulated rig goes: at once, crack by crack, creeping, slipping, or under weights in steps."""

    SNAP = "snap"
    STEPS = "steps"
    CREEP = "creep"
    SLIP = "slip"
    WEIGHTS = "weights"


_CRACKS = {Mode.STEPS: 3, Mode.CREEP: 1}
_BEND_MM = 12.0
_SLIP_MM = 0.8


@dataclass(frozen=True)
class Wanted:
    """How a piece is to break.

    Attributes
    ----------
    expected_n, cv_pct : its strength is drawn around this. rate_n_per_s : how fast the pump loads it.
    stiffness_n_per_mm : None for one that bends by 12 mm at what is expected.
    bends_from : the share of its strength from which some of its bend stays. stroke_s : of the pump, 0 for a motor.
    step_n, hang_s : under weights, what each adds (None for a tenth of what is expected) and how long it hangs.
    """

    expected_n: float = 2400.0
    cv_pct: float = 14.0
    mode: Mode = Mode.SNAP
    rate_n_per_s: float = 250.0
    stiffness_n_per_mm: float | None = None
    bends_from: float = 0.75
    stroke_s: float = 0.9
    step_n: float | None = None
    hang_s: float = 3.0


@dataclass
class Specimen:
    """What sits in the simulated rig and how it will break."""

    label: str
    strength_n: float
    wanted: Wanted
    stiffness_n_per_mm: float
    cracks_at: list[float] = field(default_factory=list)
    slips_at: float | None = None
    stayed_mm: float = 0.0
    highest_n: float = 0.0
    hung_s: float = 0.0


class SimulatedRig:
    """The load path in steps of one line: seating slack, pump strokes that sag, cracks, the break.

    The same seed and the same commands at the same lines give the same readings; no clock is read.
    """

    def __init__(self, traits: RigTraits, seed: int) -> None:
        self.traits = traits
        self._random = Random(seed)
        self._noise = Random(f"noise {seed}")
        self._dial_noise = Random(f"dial {seed}")
        self._step = 0
        self._load_n = 0.0
        self._slack_s = 0.0
        self._stroke_s = 0.0
        self._pumping = False
        self._unloading = False
        self._moved_mm = 0.0
        self._weight_n = 0.0
        self._tare_kg = 0.0
        self.specimen: Specimen | None = None
        self.broken = False

    def load(self, label: str, wanted: Wanted) -> Specimen:
        """Put a piece in; its strength is drawn around what is expected."""
        sigma = math.sqrt(math.log1p((wanted.cv_pct / 100) ** 2))
        strength = wanted.expected_n * math.exp(self._random.gauss(0.0, sigma))
        cracks = sorted(self._random.uniform(0.55, 0.92) for _ in range(_CRACKS.get(wanted.mode, 0)))
        stiffness = wanted.stiffness_n_per_mm or wanted.expected_n / _BEND_MM
        self.specimen = Specimen(label, strength, wanted, stiffness, cracks)
        self.broken, self._load_n, self._pumping, self._unloading = False, 0.0, False, False
        self._slack_s = self._random.uniform(0.2, 0.6)
        if wanted.mode is Mode.SLIP:
            self.specimen.slips_at = self._random.uniform(0.4, 0.7) * strength
        return self.specimen

    def pump(self, on: bool) -> None:
        """Start or stop pumping."""
        self._pumping, self._unloading = on, False

    def unload(self) -> None:
        """Open the valve and leave the piece in, to be loaded again."""
        self._pumping, self._unloading = False, True

    def release(self) -> None:
        """Open the valve and take the piece out."""
        self._pumping, self._load_n, self.specimen, self._weight_n = False, 0.0, None, 0.0

    def zero(self) -> None:
        """Press the rig's own zero button."""
        self._tare_kg = self._cell_kg()

    def hang(self, kg: float) -> None:
        """Hang a check weight."""
        self._weight_n = kg * STANDARD_GRAVITY

    def next_line(self) -> tuple[float, float]:
        """Advance by one line and return what the display shows, kg, and the dial beside the piece, mm."""
        reading = self.next_reading()
        shown = self._moved_mm + self._dial_noise.gauss(0.0, self.traits.dial_noise_mm)
        return reading, round(shown, 3)

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
        if self._unloading:
            self._load_n *= math.exp(-step_s / 0.5)
        elif not self._pumping:
            self._load_n *= 1 - (0.02 if piece.wanted.mode is Mode.CREEP else 0.004) * step_s
        elif self._slack_s > 0:
            self._slack_s -= step_s
            return
        elif piece.wanted.mode is Mode.WEIGHTS:
            self._hang_next(piece, step_s)
        else:
            self._pump(piece, step_s)
        self._bend(piece, step_s)
        if self._load_n >= piece.strength_n:
            self._load_n = piece.strength_n * (0.12 if piece.wanted.mode is Mode.SNAP else 0.3)
            self._moved_mm *= 1.1
            self.broken = True

    def _pump(self, piece: Specimen, step_s: float) -> None:
        stroke_s = piece.wanted.stroke_s
        toe = 0.25 + 0.75 * min(1.0, self._load_n / (0.15 * piece.strength_n))
        if stroke_s == 0:
            self._load_n += piece.wanted.rate_n_per_s * toe * step_s
        else:
            self._stroke_s = (self._stroke_s + step_s) % stroke_s
            pushing_s = _PUSHING * stroke_s
            if self._stroke_s < pushing_s:
                self._load_n += piece.wanted.rate_n_per_s / pushing_s * stroke_s * toe * step_s
            else:
                self._load_n *= 1 - 0.035 * step_s
        if piece.cracks_at and self._load_n > piece.cracks_at[0] * piece.strength_n:
            piece.cracks_at.pop(0)
            self._load_n *= 0.9
        if piece.slips_at is not None and self._load_n > piece.slips_at:
            piece.slips_at = None
            piece.stayed_mm += _SLIP_MM
            self._load_n *= 0.65

    def _hang_next(self, piece: Specimen, step_s: float) -> None:
        step_n = piece.wanted.step_n or piece.wanted.expected_n / 10
        piece.hung_s += step_s
        on = 1 + int(piece.hung_s / piece.wanted.hang_s)
        self._load_n = min(on * step_n, self._load_n + 4 * step_n * step_s)

    def _bend(self, piece: Specimen, step_s: float) -> None:
        """Move the dial: the piece springs, and above a share of its strength some of each new bend stays."""
        onset = piece.wanted.bends_from * piece.strength_n
        if self._load_n > piece.highest_n:
            if self._load_n > onset:
                beyond = (self._load_n - onset) / max(piece.strength_n - onset, 1e-9)
                piece.stayed_mm += 3 * beyond * (self._load_n - max(piece.highest_n, onset)) / piece.stiffness_n_per_mm
            piece.highest_n = self._load_n
        if piece.wanted.mode is Mode.CREEP and self._load_n > piece.strength_n / 2:
            piece.stayed_mm += 0.01 * self._load_n / piece.stiffness_n_per_mm * step_s
        self._moved_mm = piece.stayed_mm + self._load_n / piece.stiffness_n_per_mm


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
            line = self._format(*self.rig.next_line())
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
        elif verb == "UNLOAD":
            rig.unload()
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
            raise ValueError("commands: LOAD, PUMP start|stop, UNLOAD, RELEASE, ZERO, WEIGHT, UNPLUG, GARBLE, STATUS")
        return self._status()

    def _load(self, wanted: object) -> dict[str, object]:
        if not isinstance(wanted, dict):
            raise ValueError("LOAD takes a JSON object")
        numbers = {name.lower(): float(str(wanted[name])) for name in _ABOVE_ZERO if name in wanted}
        if not all(0 < value < 1e6 for value in numbers.values()):
            raise ValueError(f"{', '.join(_ABOVE_ZERO)} are above 0")
        stroke_s, bends_from = float(str(wanted.get("stroke_s", 0.9))), float(str(wanted.get("bends_from", 0.75)))
        if not 0 <= stroke_s < 60 or not 0 < bends_from <= 1:
            raise ValueError("stroke_s is 0 (a motor) to 60, bends_from above 0 to 1")
        mode = Mode(str(wanted.get("mode", "snap")))
        how = Wanted(mode=mode, stroke_s=stroke_s, bends_from=bends_from, **numbers)
        self.rig.load(str(wanted.get("specimen", "")), how)
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


_PUSHING = 0.62 / 0.9
_ABOVE_ZERO = ("expected_N", "cv_pct", "rate_N_per_s", "stiffness_N_per_mm", "step_N", "hang_s")


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
