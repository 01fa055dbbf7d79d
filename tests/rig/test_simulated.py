"""The simulated rig: the same test for the same seed, and a hand pump's load path."""

import asyncio
import json
import socket
from concurrent.futures import ThreadPoolExecutor
from itertools import pairwise

import pytest

from adhaero.rig.simulated import Mode, RigServer, RigTraits, SimulatedRig, Wanted
from tests.practice import PracticeRig


def pull(seed: int, mode: str = "snap", strength_n: float = 1200, traits: RigTraits | None = None) -> list[float]:
    rig = SimulatedRig(traits or RigTraits(noise_kg=0.0, drift_kg_per_min=0.0), seed)
    rig.load("H-01", Wanted(strength_n, 10, Mode(mode), 300))
    rig.pump(True)
    return [rig.next_reading() for _ in range(1200)]


def test_the_same_seed_gives_the_same_test() -> None:
    noisy = RigTraits()
    assert pull(7, traits=noisy) == pull(7, traits=noisy)
    assert pull(7, traits=noisy) != pull(8, traits=noisy)


def test_a_pump_makes_strokes_that_sag_and_a_break() -> None:
    loads = pull(3)
    top = loads.index(max(loads))
    assert 0 < top < len(loads) - 1
    assert loads[top + 1] < 0.3 * loads[top], "it snaps"
    rises = [b > a for a, b in pairwise(loads[: top + 1])]
    assert any(rises)
    assert not all(rises), "between strokes the load sags"
    assert loads[:10] == [1.8] * 10, "seating slack at the toe"


def test_cracks_before_the_break_in_steps() -> None:
    loads = pull(5, mode="steps")
    until = loads[: loads.index(max(loads)) + 1]
    drops = [a - b for a, b in pairwise(until) if a - b > 0.04 * max(loads)]
    assert len(drops) == 3


def test_the_display_goes_flat_at_its_capacity() -> None:
    loads = pull(3, strength_n=9000, traits=RigTraits(capacity_kg=100, noise_kg=0))
    assert max(loads) == pytest.approx(100)
    assert loads.count(max(loads)) > 50


@pytest.mark.parametrize(
    ("command", "ok"),
    [
        ('LOAD {"specimen": "H-01", "expected_N": 3200, "cv_pct": 14, "mode": "snap", "rate_N_per_s": 150}', True),
        ("LOAD {}", True),
        ("PUMP start", True),
        ("PUMP sideways", False),
        ("RELEASE", True),
        ("ZERO", True),
        ("WEIGHT 20kg", True),
        ("WEIGHT heavy", False),
        ("UNPLUG 0.1s", True),
        ("GARBLE 3", True),
        ("STATUS", True),
        ("LOAD [1]", False),
        ('LOAD {"expected_N": -3}', False),
        ('LOAD {"mode": "explode"}', False),
        ("DANCE", False),
        ("", False),
    ],
)
def test_each_command_is_answered_with_one_json_line(command: str, ok: bool) -> None:
    with PracticeRig(rate_hz=20) as rig, socket.create_connection(("127.0.0.1", rig.port + 1)) as control:
        control.sendall(command.encode() + b"\n")
        answer = json.loads(control.makefile("rb").readline())
        assert answer["ok"] is ok
        assert "error" in answer or answer["simulated"] is True


def test_a_hung_weight_reads_its_mass_and_zero_takes_it_off() -> None:
    async def check() -> None:
        server = RigServer(SimulatedRig(RigTraits(noise_kg=0, drift_kg_per_min=0), 1), "plain")
        server.command("WEIGHT 20kg")
        assert server.rig.next_reading() == pytest.approx(21.8)
        server.command("ZERO")
        assert server.rig.next_reading() == pytest.approx(0.0)

    # on a thread of its own: a browser of an earlier test may keep a loop in this one
    with ThreadPoolExecutor(1) as own:
        own.submit(lambda: asyncio.run(check())).result(10)
