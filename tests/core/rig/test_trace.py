"""Reading a load trace: the worked cases, whole and as they come live; and what holds for any trace."""

import json
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from adhaero.cli.rig import _to_newtons, give_pull
from adhaero.core.errors import RigError
from adhaero.core.quantity import Kind, convert, parse_quantity
from adhaero.core.rig.calibration import Calibration, take_zero
from adhaero.core.rig.trace.cutting import find_end
from adhaero.core.rig.trace.flags import TraceFlag
from adhaero.core.rig.trace.logs import read_pulls
from adhaero.core.rig.trace.reading import TraceOutcome, TraceReading, read_trace
from adhaero.core.rig.trace.samples import TraceSettings
from adhaero.core.rig.trace.thinning import thin_trace
from adhaero.files.rig_log import LogColumns, RigLog, read_rig_log
from tests.reference.traces.check_traces import NotThere, difference, resolve

FOLDER = Path(__file__).parents[2] / "reference" / "traces"
CASES = [json.loads(row) for row in (FOLDER / "traces.jsonl").read_text(encoding="utf-8").splitlines()]
BY_FILE = {case["file"]: case for case in CASES}


def open_case(case: dict) -> tuple[RigLog, float, TraceSettings]:
    """Return the log of a case, newtons for one of its units, and what is known of rig and piece."""
    given = dict(zip(case["arguments"][::2], case["arguments"][1::2], strict=True))

    def force(name: str) -> float | None:
        return parse_quantity(given[name], Kind.FORCE).si if name in given else None

    rate = float(given["--rate"]) if "--rate" in given else None
    columns = LogColumns(given.get("--time"), given.get("--load"), given.get("--displacement"), rate)
    log = read_rig_log((FOLDER / case["file"]).read_bytes(), columns)
    known = TraceSettings(force("--resolution") or 0.0, force("--capacity"), force("--expected"))
    return log, convert(1.0, Kind.FORCE, given["--unit"]), known


def mismatches(case: dict, result: dict, skip: tuple[str, ...] = ()) -> list[str]:
    """Return where a result is not what the case expects."""
    found = []
    for path, want in case["expect"].items():
        if any(part in path for part in skip):
            continue
        try:
            wrong = difference(resolve(result, path), want, path, case["tolerance"])
        except NotThere as error:
            wrong = str(error)
        if wrong:
            found.append(f"{path}: {wrong}")
    return found


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["file"])
def test_every_log_of_the_reference_is_read_right(case: dict) -> None:
    log, per_unit, known = open_case(case)
    pulls = read_pulls(_to_newtons(log, per_unit), known)
    assert mismatches(case, {"pulls": [give_pull(one.reading, one.bending) for one in pulls]}) == []


@pytest.mark.parametrize("case", [one for one in CASES if one["expect"]["pulls.#"] == 1], ids=lambda case: case["file"])
def test_a_live_pull_ends_by_itself_and_reads_the_same(case: dict) -> None:
    """Looked at every quarter of a second, it ends only when nothing can follow that would change its reading."""
    log, per_unit, known = open_case(case)
    times, loads = np.array(log.times_s), per_unit * np.array(log.loads)
    moments = np.searchsorted(times, np.arange(times[0], times[-1] + 0.25, 0.25), side="right")
    end = next((int(one) for one in moments if one and find_end(times[:one], loads[:one], known)), times.size)
    missing = sum(before < end for before in log.unreadable_before)
    reading = read_trace(times[:end], loads[:end], known, missing)
    assert reading is not None
    # 2 % of the highest load of a whole file is no floor of a live pull; the bend is read from the file
    skip = ("stiffness", "bend", "energy")
    assert mismatches(case, {"pulls": [give_pull(reading, None)]}, skip) == []


def ramp(
    rate: float = 100.0, peak: float = 1000.0, hz: int = 80, rest_s: float = 2.0
) -> tuple[list[float], list[float]]:
    """Return a rest, a steady pull to a peak, and a rest after it broke."""
    count = int(rest_s * hz), int(peak / rate * hz) + 1, int(rest_s * hz)
    loads = [0.0] * count[0] + [rate * n / hz for n in range(count[1])] + [0.0] * count[2]
    return [n / hz for n in range(len(loads))], loads


def read(times: list[float], loads: list[float], known: TraceSettings | None = None) -> TraceReading:
    reading = read_trace(times, loads, known or TraceSettings(resolution_n=1, capacity_n=5000))
    assert reading is not None
    return reading


def test_a_steady_pull_that_snaps() -> None:
    reading = read(*ramp())
    assert reading.outcome is TraceOutcome.BROKE
    assert (reading.peak_n, reading.peak_s, reading.break_s) == pytest.approx((1000, 12, 12))
    assert reading.rate_n_per_s == pytest.approx(100)
    assert reading.to_break_s == pytest.approx(9.5)
    assert (reading.drops[0].from_n, reading.drops[0].to_n, reading.drops[0].recovered) == (1000, 0, False)
    assert reading.flags == ()


@pytest.mark.parametrize(
    ("file", "code", "words"),
    [
        ("slip-half-at-800.csv", TraceFlag.RELOADED, "was loaded again: it slipped, or opened in steps"),
        ("spike-up-4000.csv", TraceFlag.SPIKE, "1 spike, the first of 4"),
        ("cable-zero-300ms.csv", TraceFlag.DROPOUT, "1 drop-out, the first to 0 N"),
        ("offset-plus-150n.csv", TraceFlag.OFFSET, "showed 150 N with nothing pulling: taken off"),
        ("drift-120n.csv", TraceFlag.DRIFT, "the peak is known to within that"),
        ("clipped-at-3800.csv", TraceFlag.CLIPPED, "the piece held at least this much"),
        ("soft-600n-per-s.csv", TraceFlag.SOFT, "did it give way, or was it let off?"),
        ("reversed-polarity.csv", TraceFlag.REVERSED, "sign turned"),
        ("pump-25pct-10hz.csv", TraceFlag.STROKES, "sags like these are no drops"),
        ("hold-60s-creep-then-broke.csv", TraceFlag.CREEP, "it sagged by"),
    ],
)
def test_a_flag_says_in_words_what_was_made_of_it(file: str, code: TraceFlag, words: str) -> None:
    log, per_unit, known = open_case(BY_FILE[file])
    reading = read(log.times_s, [per_unit * load for load in log.loads], known)
    assert [flag.words for flag in reading.flags if flag.code is code and words in flag.words], reading.flags


def test_a_pull_that_slipped_goes_on_until_the_load_rests() -> None:
    times, loads = ramp()
    at = loads.index(400.0)
    slipped = loads[:at] + [load - 200 for load in loads[at:]]
    slipped = [max(0.0, load) for load in slipped]
    known = TraceSettings(resolution_n=1, capacity_n=5000)
    assert find_end(np.array(times[: at + 80]), np.array(slipped[: at + 80]), known) is None
    assert read(times, slipped).peak_n == pytest.approx(800)


def test_a_load_that_stays_low_after_the_break_ends_the_pull() -> None:
    times, loads = ramp(rest_s=10.0)
    rubbing = [
        load if load > 0 or time < 13 else 300.0 + 3 * (n % 7)
        for n, (time, load) in enumerate(zip(times, loads, strict=True))
    ]
    known = TraceSettings(resolution_n=1, capacity_n=5000)
    broke = loads.index(1000.0)
    ends = [find_end(np.array(times[:n]), np.array(rubbing[:n]), known) for n in (broke + 7 * 80, broke + 9 * 80)]
    assert ends == [None, "the load stayed below half of its peak"]


def test_no_samples_say_nothing() -> None:
    assert read_trace([], [], TraceSettings()) is None
    assert find_end(np.array([]), np.array([]), TraceSettings()) is None


LOADS = st.lists(st.floats(-500, 5000), min_size=1, max_size=300)


@settings(max_examples=80, deadline=None)
@given(LOADS, st.sampled_from([1.0, 10.0, 80.0, 1000.0]), st.booleans())
def test_any_trace_is_read(loads: list[float], hz: float, together: bool) -> None:
    """Whatever comes: the peak is a sample, drops go down, and nothing raises; lines may come at one moment."""
    times = [0.0 if together else n / hz for n in range(len(loads))]
    reading = read(times, loads)
    turned = -1.0 if reading.has(TraceFlag.REVERSED) else 1.0
    assert any(abs(turned * (load - reading.zero_n) - reading.peak_n) < 1e-6 for load in loads)
    assert all(drop.to_n < drop.from_n for drop in reading.drops)
    assert (reading.outcome is TraceOutcome.BROKE) == (reading.break_s is not None)
    find_end(np.array(times), np.array(loads), TraceSettings(resolution_n=1))


@settings(max_examples=40, deadline=None)
@given(st.sampled_from(CASES), st.floats(-400, 400), st.floats(0, 1e5))
def test_an_offset_and_another_clock_change_nothing_but_the_rest(case: dict, offset_n: float, later_s: float) -> None:
    log, per_unit, known = open_case(case)
    loads = [per_unit * load for load in log.loads]
    known = replace(known, capacity_n=None)  # the limit is one of the display
    plain = read(log.times_s, loads, known)
    moved = read([time + later_s for time in log.times_s], [load + offset_n for load in loads], known)
    if plain.rest_before_n is None:
        return
    assert moved.peak_n == pytest.approx(plain.peak_n, abs=1e-6)
    assert moved.outcome is plain.outcome
    assert moved.rest_before_n == pytest.approx(plain.rest_before_n + offset_n)


@given(st.integers(10, 3000), st.integers(20, 400))
def test_a_thinned_trace_keeps_its_peak_and_its_ends(count: int, most: int) -> None:
    times = [n / 80 for n in range(count)]
    loads = [np.sin(n * 12.9898) * 43 % 1 for n in range(count)]
    thin = thin_trace(times, loads, most)
    assert max(load for _, load in thin) == max(loads)
    assert min(load for _, load in thin) == min(loads)
    assert (thin[0][0], thin[-1][0]) == (times[0], times[-1])
    assert [t for t, _ in thin] == sorted(t for t, _ in thin)
    assert len(thin) <= most + 3


def test_calibration_is_offset_then_factor() -> None:
    calibration = Calibration(offset=1.8, newton_per_unit=9.80665)
    assert calibration.load_n(101.8) == pytest.approx(980.665)
    assert calibration.range_of(98.0665) == pytest.approx((-8.2, 11.8))


def test_zero_takes_readings() -> None:
    zero = take_zero([1.0, 2.0, 3.0])
    assert (zero.load_n, zero.noise_n) == (2.0, 1.0)
    with pytest.raises(RigError, match="sent 2 readings"):
        take_zero([1.0, 2.0])
