"""`kill -9` of the server during a pull and during a save: what was acknowledged is there after a restart."""

import itertools
import json
import os
import re
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import pytest

from adhaero.bench.breaking.recording import load_trace
from adhaero.bench.shop.view import DEMO
from adhaero.store.file import open_shop, utc_now
from adhaero.store.settings import put_setting
from tests.practice import PracticeRig
from tests.rig.test_reader import wait_for
from tests.shops import add_press, ready_shop


class Server:
    """The real program in a process of its own."""

    def __init__(self, path: Path) -> None:
        self.path = path
        with socket.create_server(("127.0.0.1", 0)) as probe:
            self.port = probe.getsockname()[1]
        self.process = self.start()

    def start(self) -> subprocess.Popen[bytes]:
        command = [sys.executable, "-m", "adhaero", "serve", "--port", str(self.port), "--shop", str(self.path)]
        self.process = subprocess.Popen(command, stdout=subprocess.DEVNULL)
        wait_for(self.answers, 180)
        return self.process

    def answers(self) -> bool:
        try:
            self.ask("GET", "/api/today")
        except OSError:
            return False
        return True

    def ask(self, method: str, path: str, body: object = None) -> dict:
        data = None if body is None else json.dumps(body).encode()
        headers = {"Content-Type": "application/json"}
        request = urllib.request.Request(f"http://127.0.0.1:{self.port}{path}", data, headers, method=method)
        with urllib.request.urlopen(request, timeout=60) as answer:
            return json.loads(answer.read() or b"{}")

    def kill(self) -> float:
        """Kill the program and return when: what it had not stored by then is lost."""
        killed = time.monotonic()
        if self.process.poll() is None:
            os.kill(self.process.pid, signal.SIGKILL)
            self.process.wait(60)
        return killed


@pytest.fixture
def server(tmp_path: Path) -> Iterator[Server]:
    shop = ready_shop(tmp_path)
    with shop.file.changing("a practice shop", undoable=False) as connection:
        put_setting(connection, DEMO, "1")
        connection.execute("UPDATE trial SET practice = 1 WHERE (SELECT 1)")
    running = Server(shop.file.path)
    yield running
    running.kill()


def test_what_was_acknowledged_before_a_kill_is_there(server: Server) -> None:
    saved = 0
    for _ in range(3):
        for _ in range(5):
            server.ask("POST", "/api/trials", {"question": f"Question {saved + 1}?"})
            saved += 1
        server.kill()
        server.start()
        kept = {line["question"] for line in server.ask("GET", "/api/today")["trials"]}
        assert {f"Question {number}?" for number in range(1, saved + 1)} <= kept


def test_a_kill_in_the_middle_of_a_save_leaves_all_of_it_or_nothing(server: Server) -> None:
    """Settling writes many rows: after a kill at any moment there are all pieces of a plan, or none."""
    body = {"field": "pieces_each", "was": "5", "now": "60"}
    for attempt in range(4):
        trial = server.ask("POST", "/api/trials", {"question": f"Attempt {attempt}"})["id"]
        factor = server.ask("GET", f"/api/trials/{trial}/plan")["factors"][0]["id"]
        kind = {"field": "kind", "was": "glue", "now": "prep"}
        server.ask("PATCH", f"/api/trials/{trial}/factors/{factor}", kind)
        for field, was, now in (("joint", "scarf", "edge"), ("glue", "", "Wren")):
            server.ask("PATCH", f"/api/trials/{trial}/plan", {"field": field, "was": was, "now": now})
        for field, now in (("width_mm", "30"), ("depth_mm", "9"), ("span_mm", "120")):
            server.ask("PATCH", f"/api/trials/{trial}/plan", {"field": field, "was": "", "now": now})
        for value in ("planed", "toothed"):
            server.ask("POST", f"/api/trials/{trial}/factors/{factor}/levels", {"value": value})
        server.ask("PATCH", f"/api/trials/{trial}/plan", body)
        server.ask("POST", f"/api/trials/{trial}/boards", {"species": "larch", "holds": "120", "count": "1"})
        with socket.create_connection(("127.0.0.1", server.port)) as line:
            request = f"POST /api/trials/{trial}/settle HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 0\r\n\r\n"
            line.sendall(request.encode())
            time.sleep(0.004 + 0.012 * attempt)
            server.kill()
        server.start()
        rack = server.ask("GET", f"/api/trials/{trial}/rack")
        pieces = [piece for piece in rack["pieces"] if piece["id"] is not None]
        assert len(pieces) == (120 if rack["frozen"] else 0)


def recorded(server: Server, trial: int) -> list[dict[str, object]]:
    """What is recorded of the pieces: without the words, in which the clock of the clamps runs."""
    pieces = server.ask("GET", f"/api/trials/{trial}/making")["pieces"]
    return [{name: value for name, value in one.items() if name != "words"} for one in pieces]


def test_a_kill_in_the_middle_of_a_glue_up_loses_no_press(server: Server) -> None:
    """Spread, closed, in the clamp: what was pressed before a kill is there after it, with its time, and goes on."""
    trial = server.ask("POST", "/api/trials/1/copy", {})["id"]
    server.ask("POST", f"/api/trials/{trial}/settle")
    pieces = [one["id"] for one in server.ask("GET", f"/api/trials/{trial}/making")["pieces"]][:4]
    server.ask("POST", f"/api/trials/{trial}/pieces/saw", {"pieces": pieces})
    batch = server.ask("POST", f"/api/trials/{trial}/batches", {"pieces": pieces, "glue": "Wren"})["id"]
    presses = [(piece, step) for piece in pieces for step in ("spread", "closed", "clamped")]
    for count, (piece, step) in enumerate(presses):
        server.ask("POST", f"/api/trials/{trial}/pieces/step", {"pieces": [piece], "step": step})
        if count % 4 == 2:
            before = recorded(server, trial)
            server.kill()
            server.start()
            assert recorded(server, trial) == before
    made = {one["id"]: one for one in server.ask("GET", f"/api/trials/{trial}/making")["pieces"]}
    assert all(made[one]["batch"] == batch and made[one]["clamped_utc"] for one in pieces)


def test_a_kill_during_a_pull_loses_less_than_half_a_second_of_the_trace(tmp_path: Path, server: Server) -> None:
    shop_file = open_shop(server.path, utc_now)
    with PracticeRig(rate_hz=80) as rig:
        with shop_file.changing("practice", undoable=False) as connection:
            connection.execute("UPDATE trial SET practice = 1")
        from tests.shops import Clock, Shop

        rig_id = add_press(Shop(shop_file, Clock()), rig.url, offset="1.8")
        server.ask("POST", f"/api/rigs/{rig_id}/connect")
        wait_for(lambda: server.ask("GET", f"/api/rigs/{rig_id}/live")["lines"] > 90)
        piece = server.ask("GET", "/api/trials/1/break")["piece"]
        pull = server.ask("POST", "/api/trials/1/pulls", {"piece": piece["id"], "rig": rig_id})["id"]
        armed = time.monotonic()
        rig.load(3000, seconds=8)
        rig.say("PUMP start")
        time.sleep(2.5)
        killed = server.kill()
    times = load_trace(shop_file, pull).times_s
    assert killed - armed - times[-1] <= 0.5
    assert max(b - a for a, b in itertools.pairwise(times)) < 0.2
    server.start()
    view = server.ask("GET", f"/api/trials/1/break?piece={piece['id']}")["piece"]["pulls"][0]
    assert view["state"] == "stopped"
    assert re.match("The program stopped during this pull", view["flags"][0])
    assert view["load_n"] > 100
