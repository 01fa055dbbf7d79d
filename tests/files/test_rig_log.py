"""Logs of rigs as other software writes them: columns, headings, decimal commas, lines that hold nothing."""

import pytest

from adhaero.core.errors import DataError, EntryError
from adhaero.files.rig_log import LogColumns, RigLog, read_rig_log


def read(text: str, **columns: object) -> RigLog:
    return read_rig_log(text.encode(), LogColumns(**columns))  # type: ignore[arg-type]


@pytest.mark.parametrize(
    "text",
    [
        "t,F\n0.0,1.5\n0.1,2.5\n",
        "t;F\n0,0;1,5\n0,1;2,5\n",
        "t\tF\r\n0.0\t1.5\r\n0.1\t2.5\r\n",
        "0.0 1.5\n0.1 2.5",
        "0,0   1,5\n0,1   2,5\n",
        "# a remark\n\n0.0, 1.5\n0.1, 2.5\n",
        "\ufefft;F\r0,0;1,5\r0,1;2,5\r",
        '"t";"F"\n"0,0";"1,5"\n"0,1";"2,5"\n',
    ],
)
def test_columns_are_found_whatever_parts_them(text: str) -> None:
    log = read(text)
    assert (log.times_s, log.loads) == ([0.0, 0.1], [1.5, 2.5])


def test_columns_are_named_by_heading_or_number() -> None:
    text = "no,seconds,mm,force (kgf)\n1,0.0,0.2,10\n2,0.1,0.3,12\n"
    log = read(text, time="Seconds", load="4", displacement="mm")
    assert (log.times_s, log.loads, log.displacements, log.unit_seen) == ([0.0, 0.1], [10.0, 12.0], [0.2, 0.3], "kgf")
    with pytest.raises(EntryError, match="no column “newton”") as caught:
        read(text, load="newton")
    assert "“force (kgf)”" in caught.value.sentence


def test_loads_alone_keep_their_place_at_a_known_rate() -> None:
    log = read("1.0\nnan\n#9\n?\n3.0\n", rate_hz=10)
    assert (log.times_s, log.loads, log.unreadable_before) == ([0.0, 0.3], [1.0, 3.0], [1, 1])


@pytest.mark.parametrize("time", ["08:41:12.5", "2026-11-27T08:41:12.500", "2026-11-27 08:41:12.5"])
def test_clocks_are_times(time: str) -> None:
    later = time.replace("41:12", "41:13")
    log = read(f"{time};5\n{later};6\n")
    assert log.times_s[1] - log.times_s[0] == pytest.approx(1.0)


def test_a_clock_that_begins_anew_parts_the_log() -> None:
    assert read("0.0,1\n0.1,2\n0.0,3\n0.1,4\n").begins == [0, 2]


@pytest.mark.parametrize("text", ["", "# nothing\n", "t,F\n", "a,b\nc,d\n", "0.0\n0.1\n"])
def test_what_holds_no_samples_is_told(text: str) -> None:
    if text == "0.0\n0.1\n":
        assert read(text).loads == [0.0, 0.1], "one column is the load, and stands for its own time"
        return
    with pytest.raises(DataError):
        read(text)


def test_two_units_in_one_log_are_refused() -> None:
    with pytest.raises(DataError, match="kg and lb"):
        read("0.0,1 kg\n0.1,2 lb\n")
