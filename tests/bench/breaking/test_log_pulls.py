"""A log that other software recorded becomes the pulls of a piece, or of several; it is kept whole."""

from pathlib import Path

import pytest

from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.breaking.load_point import export_trace, view_set_traces, view_trace
from adhaero.bench.breaking.log_pulls import LogChoice, LogTake, take_log, view_log
from adhaero.bench.breaking.pulls import keep_pull
from adhaero.bench.breaking.view import view_break
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.view import view_compare
from adhaero.bench.shop.rigs import save_rig
from adhaero.core.errors import AdhaeroError, DataError, EntryError
from tests.shops import Shop, press, ready_shop

KG = 9.80665


def pull_lines(peak: float, begin: float = 0.0, mm_per_unit: float | None = None, mark: str = ".") -> list[str]:
    """A rest, a rise to the peak in 8 s, a break, a rest."""
    loads = [0.0] * 30 + [peak * number / 160 for number in range(161)] + [0.0] * 50
    return [
        f"{begin + at / 20:.2f};{load:.2f}{'' if mm_per_unit is None else f';{load * mm_per_unit:.4f}'}".replace(
            ".", mark
        )
        for at, load in enumerate(loads)
    ]


def log(*lines: list[str], head: str = "t;load kg") -> bytes:
    return "\n".join([head, *(line for part in lines for line in part)]).encode()


@pytest.fixture
def shop(tmp_path: Path) -> Shop:
    shop = ready_shop(tmp_path)
    save_rig(shop.file, press(url="", simulated=False, kind="press", resolution="0.01 kg", capacity="500 kg"))
    return shop


def choice(**more: object) -> LogChoice:
    return LogChoice(**({"rig_id": 1} | more))  # type: ignore[arg-type]


def test_one_pull_waits_to_be_judged_and_has_its_trace(shop: Shop) -> None:
    piece, content = shop.pieces[0].id, log(pull_lines(64.0))
    seen = view_log(shop.file, shop.trial, piece, content, choice())
    assert (seen.unit, [round(one.load_n / KG, 1) for one in seen.pulls]) == ("kg", [64.0])
    assert take_log(shop.file, shop.trial, piece, "monday.csv", content, choice()) == 1
    (pull,) = shop.pulls()
    assert (pull.state, pull.outcome, pull.load_n) == ("stopped", "broke", pytest.approx(64 * KG, rel=1e-3))
    assert "From the log monday.csv." in pull.flags
    keep_pull(shop.file, shop.trial, pull.id, Judgement("broke", "50"))
    view = view_trace(shop.file, pull.id)
    assert (view.samples > 200, view.curve, view.bending) == (True, [], None)
    rows = export_trace(shop.file, pull.id).splitlines()
    assert (rows[0], len(rows)) == ("time_s,load_N", view.samples + 1)
    with shop.file.reading() as connection:
        assert connection.execute("SELECT content FROM log_file").fetchone()["content"] == content


def test_several_pulls_are_tries_of_one_piece_or_of_those_that_come_next(shop: Shop) -> None:
    content = log(pull_lines(30.0), pull_lines(64.0, 20.0))
    first = view_break(shop.file, shop.trial).piece
    assert first is not None
    take_log(shop.file, shop.trial, first.id, "a.csv", content, choice())
    at = next(number for number, one in enumerate(shop.pieces) if one.id == first.id)
    assert [(one.attempt, one.state) for one in shop.pulls(at)] == [(1, "retried"), (2, "stopped")]
    keep_pull(shop.file, shop.trial, shop.pulls(at)[-1].id, Judgement("broke", "0"))
    second = view_break(shop.file, shop.trial).piece
    assert second is not None
    seen = view_log(shop.file, shop.trial, second.id, content, choice(take=LogTake.PIECES))
    assert seen.pulls[0].label == second.label
    assert seen.pulls[1].label not in (first.label, second.label)
    take_log(shop.file, shop.trial, second.id, "a.csv", content, choice(take=LogTake.PIECES))
    waiting = [one for at in range(8) for one in shop.pulls(at) if one.state == "stopped"]
    assert [round(one.load_n / KG) for one in waiting] in ([30, 64], [64, 30])


def test_a_displacement_says_how_stiff_it_was_and_is_drawn(shop: Shop) -> None:
    content = log(pull_lines(64.0, mm_per_unit=0.05), head="t;load kg;mm")
    take_log(shop.file, shop.trial, shop.pieces[0].id, "b.csv", content, choice(displacement="mm"))
    view = view_trace(shop.file, shop.pulls()[0].id)
    assert view.bending is not None
    assert view.bending.stiffness_n_per_mm == pytest.approx(KG / 0.05, rel=0.01)
    assert max(mm for mm, _ in view.curve) == pytest.approx(3.2, rel=0.01)
    keep_pull(shop.file, shop.trial, shop.pulls()[0].id, Judgement("broke", "0"))
    (one,) = view_set_traces(shop.file, shop.trial, 1) + view_set_traces(shop.file, shop.trial, 2)
    assert (one.label, len(one.trace.curve) > 50) == (shop.pieces[0].label, True)


def test_another_decimal_mark_and_raw_readings_are_read(shop: Shop) -> None:
    content = log(pull_lines(64.0, mark=","), head="t;load")
    seen = view_log(shop.file, shop.trial, shop.pieces[0].id, content, choice(unit="kgf"))
    assert seen.pulls[0].load_n == pytest.approx(64 * KG, rel=1e-3)
    raw = view_log(shop.file, shop.trial, shop.pieces[0].id, content, choice(unit="raw"))
    assert raw.pulls[0].load_n == pytest.approx(64 * KG, rel=1e-3), "the rig reads kgf"


@pytest.mark.parametrize(
    ("content", "more", "kind", "words"),
    [
        (log(pull_lines(64.0)), {"load": "force"}, EntryError, "force"),
        (log(pull_lines(64.0), head="t;load"), {}, EntryError, "unit of the loads is not written"),
        (log(pull_lines(64.0)), {"unit": "lbf"}, EntryError, "The log says kg"),
        (b"time,load\nnothing,here\n", {"unit": "N"}, AdhaeroError, "log"),
        (log(["0;0", "1;0", "2;0"]), {}, DataError, "holds no pull"),
        (log(pull_lines(64.0)), {"rate": "fast"}, EntryError, "no number"),
    ],
)
def test_a_log_that_cannot_be_read_says_why_and_keeps_nothing(
    shop: Shop, content: bytes, more: dict[str, str], kind: type, words: str
) -> None:
    with pytest.raises(kind, match=words):
        take_log(shop.file, shop.trial, shop.pieces[0].id, "x.csv", content, choice(**more))
    assert shop.pulls() == []


def test_more_pulls_than_ready_pieces_are_refused(shop: Shop) -> None:
    content = log(*(pull_lines(60.0, 20.0 * at) for at in range(9)))
    last = max(shop.pieces, key=lambda one: one.label)
    with pytest.raises(DataError, match="holds 9 pulls"):
        take_log(shop.file, shop.trial, last.id, "x.csv", content, choice(take=LogTake.PIECES))


def test_a_set_that_was_loaded_twice_as_fast_is_named(shop: Shop) -> None:
    slow = {piece.id for piece in shop.pieces if piece.treatment == "planed"}
    for at, piece in enumerate(shop.pieces):
        lines = pull_lines(60.0 + at)
        if piece.id not in slow:
            lines = [f"{float(line.partition(';')[0]) / 3:.4f};{line.partition(';')[2]}" for line in lines]
        take_log(shop.file, shop.trial, piece.id, "x.csv", log(lines), choice())
        keep_pull(shop.file, shop.trial, shop.pulls(at)[-1].id, Judgement("broke", "0"))
    (words,) = [one for one in view_compare(shop.file, shop.trial, Choice()).mind if "times as fast" in one]
    assert words.startswith("toothed was loaded 3.0 times as fast as planed")
