"""`kill -9` of the real server, over and over: what was acknowledged is there, and how much of a trace is missing.

    make kill             (or: .venv/bin/python benchmarks/kill.py [--kills 500] [--seed 1])

Each turn starts the server, presses a glue-up, saves questions, and in two of three turns records a pull from a rig
whose lines are numbered, half of them with four others saving meanwhile; then it is killed at a random moment. Prints
counts and the longest missing trace; fails at nothing.
"""

import argparse
import contextlib
import http.client
import itertools
import json
import os
import random
import signal
import socket
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from adhaero.bench.breaking.recording import load_trace
from adhaero.store.file import ShopFile, open_shop
from tests.shops import add_press, ready_shop

STEP_KGF, RATE_HZ, WRITERS = 0.05, 80.0, 4
AIM_S, START_S = 0.5, 120.0


class NumberedRig:
    """A rig whose readings count its lines while a pull runs: `sent[n]` is when the n-th line left."""

    def __init__(self) -> None:
        self.server = socket.create_server(("127.0.0.1", 0))
        self.url = f"socket://127.0.0.1:{self.server.getsockname()[1]}"
        self.counting = threading.Event()
        self.sent: list[float] = []
        threading.Thread(target=self._accept, daemon=True).start()

    def _accept(self) -> None:
        while True:
            line, _ = self.server.accept()
            threading.Thread(target=self._serve, args=(line,), daemon=True).start()

    def _serve(self, line: socket.socket) -> None:
        due = time.monotonic()
        with contextlib.suppress(OSError), line:
            while True:
                due += 1 / RATE_HZ
                time.sleep(max(0.0, due - time.monotonic()))
                if self.counting.is_set():
                    self.sent.append(time.monotonic())
                line.sendall(f"{STEP_KGF * len(self.sent):.2f} kg\r\n".encode())


@dataclass
class Server:
    """The program in a process of its own."""

    path: Path
    port: int = 0
    process: subprocess.Popen[bytes] | None = None

    def start(self) -> bool:
        """Start it and wait until it answers; return whether it does."""
        with socket.create_server(("127.0.0.1", 0)) as probe:
            self.port = probe.getsockname()[1]
        command = [sys.executable, "-m", "adhaero", "serve", "--port", str(self.port), "--shop", str(self.path)]
        self.process = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        deadline = time.monotonic() + START_S
        while time.monotonic() < deadline and self.process.poll() is None:
            with contextlib.suppress(OSError):
                self.ask("GET", "/api/copies")  # cheap however many questions there are
                return True
            time.sleep(0.03)
        return False

    def ask(self, method: str, path: str, body: object = None) -> dict:
        """Send one request and return its answer; raises `OSError` when the program is gone."""
        data = None if body is None else json.dumps(body).encode()
        headers = {"Content-Type": "application/json"}
        request = urllib.request.Request(f"http://127.0.0.1:{self.port}{path}", data, headers, method=method)
        with urllib.request.urlopen(request, timeout=30) as answer:
            return json.loads(answer.read() or b"{}")

    def kill(self) -> float:
        """Kill it and return when."""
        assert self.process is not None
        os.kill(self.process.pid, signal.SIGKILL)
        killed = time.monotonic()
        self.process.wait()
        return killed


@dataclass
class Found:
    """What the kills showed."""

    kills: int = 0
    acknowledged: int = 0
    lost: int = 0
    damaged: int = 0
    failed_starts: int = 0
    pulls: int = 0
    holes: int = 0
    missing_s: list[float] = field(default_factory=list)


@contextlib.contextmanager
def saving(server: Server, writers: int, saved: list[str], turn: int) -> Iterator[None]:
    """Let so many others save questions meanwhile; what was answered is in `saved`."""
    stop = threading.Event()

    def save(number: int) -> None:
        count = 0
        while not stop.is_set():
            question = f"Turn {turn}, writer {number}, question {count}?"
            try:
                server.ask("POST", "/api/trials", {"question": question})
            except (OSError, ValueError, http.client.HTTPException):
                return
            saved.append(question)
            count += 1

    threads = [threading.Thread(target=save, args=(number,), daemon=True) for number in range(writers)]
    for thread in threads:
        thread.start()
    try:
        yield
    finally:
        stop.set()
        for thread in threads:
            thread.join(5)


def check_file(path: Path, found: Found, saved: list[str]) -> None:
    """Count what is not there, and whether the file is whole."""
    with contextlib.closing(sqlite3.connect(path)) as connection:
        whole = connection.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
        whole = whole and connection.execute("SELECT count(*) FROM open_change").fetchone()[0] == 0
        there = {row[0] for row in connection.execute("SELECT question FROM trial")}
    found.damaged += not whole
    found.lost += len(set(saved) - there)


def check_pull(file: ShopFile, pull: int, rig: NumberedRig, killed: float, found: Found) -> None:
    """Measure how much of a trace was not stored when the program was killed."""
    readings = [round(reading / STEP_KGF) for reading in trace_readings(file, pull)]
    counted = [number for number in readings if number > 0]
    found.pulls += 1
    found.holes += sum(b - a > 1 for a, b in itertools.pairwise(counted))
    last = counted[-1] if counted else 0
    sent = [moment for moment in rig.sent if moment <= killed]
    first_missing = sent[last] if last < len(sent) else killed
    found.missing_s.append(killed - first_missing)


def trace_readings(file: ShopFile, pull: int) -> list[float]:
    """Return the readings of a pull in kgf."""
    return [load / 9.80665 for load in load_trace(file, pull).loads_n]


def main() -> None:
    """Kill and look."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--kills", type=int, default=500)
    parser.add_argument("--seed", type=int, default=1)
    options = parser.parse_args()
    chance, found, rig = random.Random(options.seed), Found(), NumberedRig()
    with tempfile.TemporaryDirectory(prefix="adhaero-kill-") as folder:
        shop = ready_shop(Path(folder))
        rig_id = add_press(shop, rig.url, simulated=False)
        file = open_shop(shop.file.path)
        piece = shop.pieces[0].id
        server = Server(shop.file.path)
        found.failed_starts += not server.start()
        for turn in range(options.kills):
            turn_of(server, file, rig, found, chance, turn, piece, rig_id)
        server.kill()
    aim = max(found.missing_s, default=0.0) / AIM_S
    print(f"{found.kills} kills: {found.acknowledged} acknowledged changes, {found.lost} lost")
    print(f"files damaged: {found.damaged}; failed starts: {found.failed_starts}")
    print(f"{found.pulls} pulls, {found.holes} holes inside; longest missing {max(found.missing_s, default=0.0):.2f} s")
    print(f"longest missing / {AIM_S:g} s = {aim:.2f}; over it: {sum(one > AIM_S for one in found.missing_s)}")


def turn_of(
    server: Server,
    file: ShopFile,
    rig: NumberedRig,
    found: Found,
    chance: random.Random,
    turn: int,
    piece: int,
    rig_id: int,
) -> None:
    """Do what a shop does, be killed, start again and look."""
    saved: list[str] = []
    pull, writers = None, chance.choice((0, 1, WRITERS, WRITERS))
    if chance.random() < 0.67:
        pull = arm(server, piece, rig_id)
    with saving(server, writers, saved, turn):
        if pull is not None:
            rig.counting.set()
        time.sleep(chance.uniform(0.05, 1.6))
        killed = server.kill()
    rig.counting.clear()
    found.kills += 1
    found.acknowledged += len(saved)
    check_file(file.path, found, saved)
    if pull is not None:
        check_pull(file, pull, rig, killed, found)
    rig.sent.clear()
    if not server.start():
        found.failed_starts += 1
        return
    if pull is not None:
        server.ask("POST", f"/api/trials/1/pulls/{pull}/retry")
    if turn % 50 == 49:
        print(
            f"  {found.kills} kills, {found.lost} of {found.acknowledged} lost, {found.damaged} damaged, "
            f"{found.failed_starts} failed starts, longest missing {max(found.missing_s, default=0.0):.2f} s",
            flush=True,
        )


def arm(server: Server, piece: int, rig_id: int) -> int:
    """Connect to the numbered rig and arm a pull."""
    server.ask("POST", f"/api/rigs/{rig_id}/connect")
    for _ in range(200):
        time.sleep(0.05)
        with contextlib.suppress(urllib.error.HTTPError):
            return int(server.ask("POST", "/api/trials/1/pulls", {"piece": piece, "rig": rig_id})["id"])
    raise TimeoutError("the rig is not read")


if __name__ == "__main__":
    main()
