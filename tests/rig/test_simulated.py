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


def moved(mode: str, seconds: float = 12, **more: float) -> list[tuple[float, float]]:
    rig = SimulatedRig(RigTraits(noise_kg=0.0, drift_kg_per_min=0.0, offset_kg=0.0, dial_noise_mm=0.0), 4)
    rig.load("H-01", Wanted(1200, 1, Mode(mode), 300, stiffness_n_per_mm=100, **more))
    rig.pump(True)
    return [rig.next_line() for _ in range(round(80 * seconds))]


def test_the_dial_follows_the_load_and_some_of_the_bend_stays() -> None:
    rig = SimulatedRig(RigTraits(noise_kg=0.0, drift_kg_per_min=0.0, offset_kg=0.0, dial_noise_mm=0.0), 4)
    rig.load("H-01", Wanted(1200, 1, Mode.SNAP, 300, stiffness_n_per_mm=100, stroke_s=0, bends_from=0.5))
    rig.pump(True)
    way = [rig.next_line() for _ in range(round(80 * 3.6))]
    straight = [(kg, mm) for kg, mm in way if 20 < kg < 55]
    assert all(mm == pytest.approx(kg * 9.80665 / 100, abs=0.01) for kg, mm in straight)
    assert not rig.broken
    rig.unload()
    let_go = [rig.next_line() for _ in range(80 * 5)]
    assert let_go[-1][0] == pytest.approx(0, abs=0.05)
    assert let_go[-1][1] > 0.2, "it stays bent"
    rig.pump(True)
    assert max(kg for kg, _ in (rig.next_line() for _ in range(800))) > way[-1][0], "and is loaded again"


def test_a_piece_slips_once_and_carries_on() -> None:
    way = moved("slip", stroke_s=0)
    drops = [at for at, ((a, _), (b, _)) in enumerate(pairwise(way)) if a - b > 0.2 * a > 1]
    assert len(drops) == 2, "the slip and the break"
    slip = drops[0]
    assert way[slip + 1][1] - way[slip][1] > -1.5, "the dial gives what the load lets go, and the slip stays"
    assert max(kg for kg, _ in way[slip:]) > way[slip][0]


def test_weights_go_on_in_steps_and_hang() -> None:
    way = moved("weights", seconds=40, hang_s=2, step_n=200)
    stood = [round(kg * 9.80665 / 200, 1) for (kg, _), (next_kg, _) in pairwise(way) if kg == next_kg and kg > 1]
    assert {1.0, 2.0, 3.0, 4.0, 5.0} <= set(stood)


def test_a_creeping_piece_sags_and_gives_while_it_is_held() -> None:
    rig = SimulatedRig(RigTraits(noise_kg=0.0, drift_kg_per_min=0.0, offset_kg=0.0, dial_noise_mm=0.0), 4)
    rig.load("H-01", Wanted(1200, 1, Mode.CREEP, 300, stiffness_n_per_mm=100, stroke_s=0))
    rig.pump(True)
    while rig.next_line()[0] < 85:
        pass
    rig.pump(False)
    held = [rig.next_line() for _ in range(80 * 6)]
    assert held[-1][0] < 0.95 * held[0][0]
    assert held[-1][1] > held[0][1] - (held[0][0] - held[-1][0]) * 9.80665 / 100, "it gives more than it springs back"
