"""Reading a load trace: the peak, the break, cracks, rate, and what looks wrong."""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from adhaero.core.errors import RigError
from adhaero.core.rig.calibration import Calibration, take_zero
from adhaero.core.rig.trace import BreakWatch, TraceReading, TraceSettings, read_trace, thin_trace

PLAIN = TraceSettings(floor_n=5)


def ramp(
    rate: float = 100.0, peak: float = 1000.0, hz: int = 80, after: float = 0.02
) -> tuple[list[float], list[float]]:
    """Return a steady pull to a peak, then half a second broken."""
    times = [n / hz for n in range(int(peak / rate * hz) + 1)]
    loads = [rate * t for t in times]
    times += [times[-1] + n / hz for n in range(1, hz // 2)]
    return times, loads + [after * peak] * (hz // 2 - 1)


def read(times: list[float], loads: list[float], settings: TraceSettings = PLAIN) -> TraceReading:
    reading = read_trace(times, loads, settings)
    assert reading is not None
    return reading


def test_a_steady_pull_that_snaps() -> None:
    reading = read(*ramp(after=0.0))
    assert reading.peak_n == pytest.approx(1000)
    assert reading.peak_s == pytest.approx(10)
    assert reading.break_s == pytest.approx(10 + 1 / 80)
    assert reading.rate_n_per_s == pytest.approx(100)
    assert reading.to_break_s == pytest.approx(9.5, abs=0.02)
    assert reading.sampling_s == pytest.approx(1 / 80)
    assert (reading.crack_n, reading.held, reading.flags) == (None, False, ())


def test_a_drop_of_a_fifth_is_a_break_only_when_it_stays_down() -> None:
    watch = BreakWatch(PLAIN)
    assert not watch.see(0.0, 1000)
    assert not watch.see(0.1, 799)
    assert not watch.see(0.2, 950)  # back up: a slip, no break
    assert not watch.see(0.3, 800)
    assert not watch.see(0.45, 700)
    assert watch.see(0.5, 700)
    assert watch.break_s == pytest.approx(0.3)
    assert watch.see(0.6, 5000), "a found break stays found"


def test_a_drop_of_less_than_a_fifth_is_no_break() -> None:
    times, loads = ramp(after=0.81)
    assert read(times, loads).break_s is None


def test_noise_below_the_floor_is_no_test() -> None:
    watch = BreakWatch(TraceSettings(floor_n=25))
    assert not any(watch.see(t / 80, 10 if t % 3 else 0) for t in range(400))


def test_the_first_crack_is_the_load_before_the_first_small_drop() -> None:
    times, loads = ramp(after=0.0)
    at = loads.index(600.0)
    cracked = [load - 30 if at < i < at + 5 else load for i, load in enumerate(loads)]
    reading = read(times, cracked)
    assert reading.crack_n == pytest.approx(600)
    assert reading.crack_s == pytest.approx(6)
    assert read(times, cracked, TraceSettings(floor_n=5, noise_n=40)).crack_n is None, "within the noise"


def test_a_flat_top_at_the_limit_says_that_it_held() -> None:
    times, loads = ramp(peak=1000)
    capped = [min(load, 800.0) for load in loads[:-39]]
    reading = read(times[: len(capped)], capped, TraceSettings(floor_n=5, capacity_n=800))
    assert reading.held
    assert reading.break_s is None
    assert "limit" in reading.flags[0]


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda t, f: (t[::100] + t[-3:], f[::100] + f[-3:]), "readings on the way up"),
        (lambda t, f: (t, [load + 150 if 400 < i < 801 else load for i, load in enumerate(f)]), "jumped by 13 %"),
        (lambda t, f: (t, [load + 0.0 if load != 20.0 else 25.0 for load in f]), "Zero had moved by 2.5 %"),
        (lambda t, f: ([x + 1.5 if x > 5 else x for x in t], f), "interrupted for 1.5 s"),
    ],
)
def test_what_looks_wrong_is_flagged_and_nothing_dropped(change: object, words: str) -> None:
    times, loads = change(*ramp())  # type: ignore[operator]
    reading = read(times, loads)
    assert [flag for flag in reading.flags if words in flag], reading.flags
    assert reading.peak_n == pytest.approx(max(loads))


def test_two_peaks_alike_are_flagged() -> None:
    times, loads = ramp(after=0.0)
    at = loads.index(990.0)
    dipped = [load - 60 if at < i < at + 4 else load for i, load in enumerate(loads)]
    assert [flag for flag in read(times, dipped).flags if "Two peaks within 2 %" in flag]


def test_no_samples_say_nothing() -> None:
    assert read_trace([], [], PLAIN) is None


@settings(max_examples=60)
@given(st.lists(st.floats(-50, 5000), min_size=1, max_size=400))
def test_the_peak_is_the_highest_sample_before_the_break(loads: list[float]) -> None:
    times = [n / 80 for n in range(len(loads))]
    reading = read(times, loads)
    until = len(loads) if reading.break_s is None else next(i for i, t in enumerate(times) if t >= reading.break_s)
    assert reading.peak_n == max(loads[: max(until, 1)])


@given(st.integers(10, 3000), st.integers(20, 400))
def test_a_thinned_trace_keeps_its_peak_and_its_ends(count: int, most: int) -> None:
    times = [n / 80 for n in range(count)]
    loads = [math.sin(n * 12.9898) * 43 % 1 for n in range(count)]
    thin = thin_trace(times, loads, most)
    assert max(load for _, load in thin) == max(loads)
    assert min(load for _, load in thin) == min(loads)
    assert (thin[0][0], thin[-1][0]) == (times[0], times[-1])
    assert [t for t, _ in thin] == sorted(t for t, _ in thin)
    assert len(thin) <= most + 3


def test_calibration_is_offset_then_factor_then_zero() -> None:
    calibration = Calibration(offset=1.8, newton_per_unit=9.80665)
    assert calibration.load_n(101.8) == pytest.approx(980.665)
    assert calibration.load_n(101.8, zero_n=10) == pytest.approx(970.665)


def test_zero_takes_readings() -> None:
    zero = take_zero([1.0, 2.0, 3.0])
    assert (zero.load_n, zero.noise_n) == (2.0, 1.0)
    with pytest.raises(RigError, match="sent 2 readings"):
        take_zero([1.0, 2.0])
