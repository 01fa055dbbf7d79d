"""What nobody would type, in great number: calls over every operation of a real server, quantities, lines of rigs.

    make fuzz             (or: .venv/bin/python benchmarks/fuzz.py [--calls 10000] [--entries 1000000] [--seed 1])

Prints how many answers were a 500, or a 503 that is not about a rig that is not there, how many entries crashed, and
how many numbers came back as another one; fails at nothing.
"""

import argparse
import math
import random
import sys
import tempfile
import threading
import time
from collections import Counter
from pathlib import Path

import schemathesis
import uvicorn
from hypothesis import HealthCheck, Phase, given, seed, settings

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from adhaero.api.app import create_app
from adhaero.core.errors import EntryError
from adhaero.core.quantity import Bounds, Kind, parse_quantity, show_as_typed
from adhaero.core.rig.lines import DecimalMark, LineNumber, read_line, read_numbers
from tests.shops import add_press, ready_shop

LEFT_OUT = ("/api/events", "/api/demo")
UNITS = {
    Kind.LENGTH: ("mm", "in", "cm"),
    Kind.FORCE: ("N", "kN", "kgf", "lbf"),
    Kind.STRESS: ("MPa", "psi"),
    Kind.TIME: ("s",),
}
ALPHABET = "0123456789.,+-−/eExX '\"\u00a0\u202f\t½¾:#%°²NkglbfinpsMaoL٣\u200b\x00"
SMALL_IDS = 0.85
FORMS = ("{}", "W {} kg", "ST,NT,{},kg\r", "\x02{} N\x03", "t {} N;", "CH1={}N", "({})")


def fuzz_calls(calls: int, number: int) -> None:
    """Send generated calls over every operation and count the answers."""
    with tempfile.TemporaryDirectory(prefix="adhaero-fuzz-") as folder:
        shop = ready_shop(Path(folder))
        add_press(shop, "socket://127.0.0.1:1")
        shop.break_all({"planed": ["700 N"] * 4, "toothed": ["600 N"] * 4})
        server = uvicorn.Server(uvicorn.Config(create_app(shop.file), port=0, log_level="critical"))
        threading.Thread(target=server.run, daemon=True).start()
        while not server.started:
            time.sleep(0.05)
        port = server.servers[0].sockets[0].getsockname()[1]
        schema = schemathesis.openapi.from_url(f"http://127.0.0.1:{port}/api/openapi.json")
        operations = [one.ok() for one in schema.get_all_operations()]
        operations = [one for one in operations if not one.path.startswith(LEFT_OUT)]
        each = math.ceil(calls / len(operations))
        answers: Counter[int] = Counter()
        wrong: list[str] = []
        chance = random.Random(number)
        while answers.total() < calls:
            for operation in operations:
                call_operation(operation, each, chance, answers, wrong)
        server.should_exit = True
    print(f"{answers.total()} calls over {len(operations)} operations: {answers[500]} answers of 500")
    print(f"503 that is not about a rig: {len(wrong)}; {dict(sorted(answers.items()))}")
    for words in wrong[:5]:
        print(f"  {words}")


def call_operation(
    operation: object, each: int, chance: random.Random, answers: Counter[int], wrong: list[str]
) -> None:
    """Send so many generated calls of one operation, most of them about things that are there."""

    @seed(chance.randrange(2**32))
    @settings(
        max_examples=each,
        deadline=None,
        database=None,
        suppress_health_check=list(HealthCheck),
        phases=[Phase.generate],
    )
    @given(case=operation.as_strategy())
    def send(case: schemathesis.Case) -> None:
        for name in case.path_parameters or {}:
            if chance.random() < SMALL_IDS and name.endswith("_id"):
                case.path_parameters[name] = chance.randrange(1, 5)
        for name in ("piece", "rig", "rig_id", "treatment_id", "level_id") if isinstance(case.body, dict) else ():
            if name in case.body and chance.random() < SMALL_IDS:
                case.body[name] = chance.randrange(1, 5)
        answer = case.call()
        answers[answer.status_code] += 1
        if answer.status_code == 500 or (answer.status_code == 503 and '"rig"' not in answer.text):
            wrong.append(f"{operation.method} {operation.path}: {answer.status_code} {answer.text[:160]}")

    send()


def fuzz_quantities(entries: int, chance: random.Random) -> None:
    """Type nonsense and numbers; nonsense may only be refused, and a number must come back."""
    crashed = wrong = 0
    anything = Bounds(-math.inf, math.inf, zero_allowed=True)
    for turn in range(entries):
        kind = chance.choice(tuple(UNITS))
        unit = chance.choice(UNITS[kind])
        value = 10 ** chance.uniform(-3, 5)
        shown = show_as_typed(value, kind, unit)
        text = shown if turn % 2 else "".join(chance.choices(ALPHABET, k=chance.randrange(1, 14)))
        try:
            read = parse_quantity(text, kind, bounds=anything).si
        except EntryError:
            wrong += turn % 2
            continue
        except Exception as error:
            crashed += 1
            print(f"  crashed: {text!r} {error!r}")
            continue
        wrong += bool(turn % 2) and not math.isclose(read, value, rel_tol=6e-4)
    print(f"{entries} quantities: {crashed} crashes, {wrong} numbers that came back as another one or not at all")


def fuzz_lines(entries: int, chance: random.Random) -> None:
    """Print nonsense and numbers; a number must come back as itself, or be told to be unreadable."""
    crashed = wrong = 0
    for turn in range(entries):
        mark = chance.choice(tuple(DecimalMark))
        value = round(10 ** chance.uniform(-2, 5) * chance.choice((-1, 1)), 2)
        comma = mark is DecimalMark.COMMA
        text = f"{value:+.2f}".replace(".", ",") if comma else f"{value:+.2f}"
        line = chance.choice(FORMS).format(text)
        if turn % 2:
            line = "".join(chance.choices(ALPHABET, k=chance.randrange(1, 24)))
        try:
            read = read_line(line, 0, mark)
            read_numbers(line, mark)
        except Exception as error:
            crashed += 1
            print(f"  crashed: {line!r} {error!r}")
            continue
        if turn % 2:
            wrong += isinstance(read, LineNumber) and not math.isfinite(read.value)
        else:
            wrong += not (isinstance(read, LineNumber) and read.value == value)
    print(f"{entries} lines: {crashed} crashes, {wrong} numbers that came back as another one or not at all")


if __name__ == "__main__":
    parser = argparse.ArgumentParser()
    parser.add_argument("--calls", type=int, default=10_000)
    parser.add_argument("--entries", type=int, default=1_000_000)
    parser.add_argument("--seed", type=int, default=1)
    options = parser.parse_args()
    fuzz_quantities(options.entries // 2, random.Random(options.seed))
    fuzz_lines(options.entries // 2, random.Random(options.seed))
    fuzz_calls(options.calls, options.seed)
