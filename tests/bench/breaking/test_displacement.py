"""How far a piece moved, in the lines of a rig or on a dial: what it says, and what is compared by it."""

from pathlib import Path

import pytest

from adhaero.bench.breaking.corrections import BreakValues, CorrectionEntry, correct_break
from adhaero.bench.breaking.dial import DialReading
from adhaero.bench.breaking.hand_break import HandBreak, break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.breaking.load_point import view_set_traces, view_trace
from adhaero.bench.breaking.pulls import arm, keep_pull
from adhaero.bench.breaking.view import view_break
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.breaks_file import export_breaks
from adhaero.bench.compare.findings import Wishes, conclude, view_findings
from adhaero.bench.compare.findings.checks import view_checks
from adhaero.bench.compare.view import view_compare
from adhaero.bench.shop.rigs import save_rig
from adhaero.core.errors import EntryError
from adhaero.core.response import Response
from adhaero.core.rig.kinds import TravelUnit
from adhaero.store.pulls import Pull, fetch_pull
from tests.bench.breaking.test_recording import Bench
from tests.practice import PracticeRig
from tests.shops import Shop, add_press, press, ready_shop

KG = 9.80665
BROKE = Judgement("broke", "50")


def dial(stiffness: float, bends_from: float, peak_kg: float) -> tuple[DialReading, ...]:
    """Readings every 2 kg up to the peak: straight at `stiffness` N/mm up to a share of the peak, then half of it."""
    found = []
    for kg in range(0, int(peak_kg) + 1, 2):
        straight = min(kg, bends_from * peak_kg) * KG / stiffness
        beyond = max(0.0, kg - bends_from * peak_kg) * KG / (stiffness / 2)
        found.append(DialReading(f"{kg} kg", f"{straight + beyond:.4f} mm"))
    return tuple(found)


def fetch(shop: Shop, pull_id: int) -> Pull:
    with shop.file.reading() as connection:
        pull = fetch_pull(connection, pull_id)
    assert pull is not None
    return pull


def take(shop: Shop, index: int, load: str, *readings: DialReading) -> Pull:
    entry = HandBreak(piece=shop.pieces[index].id, judgement=BROKE, load=load, dial=readings, no_rig=True)
    return fetch(shop, break_by_hand(shop.file, shop.trial, entry))


@pytest.fixture
def shop(tmp_path: Path) -> Shop:
    return ready_shop(tmp_path)


def test_a_dial_read_at_loads_says_stiffness_and_where_the_bend_stays(shop: Shop) -> None:
    pull = take(shop, 0, "40 kg", *dial(50, 0.75, 40), DialReading("", ""), DialReading("0", "0.3 mm"))
    assert pull.stiffness_n_per_mm == pytest.approx(50, rel=1e-4)
    # 5 % off the line: F = 0.95 k d with d = b/k + 2 (F − b)/k, so that F (1 / 0.95 − 2) = −b
    exact = 30 * KG / (2 - 1 / 0.95)
    assert pull.bend_starts_n == pytest.approx(exact, abs=2 * KG), "between two readings"
    assert pull.stayed_bent_mm == pytest.approx(0.3)
    assert pull.dial_typed.startswith("0 kg: 0.0000 mm; 2 kg: 0.3923 mm")
    curve = view_trace(shop.file, pull.id).curve
    assert curve[1] == pytest.approx((0.3923, 2 * KG))


def test_a_dial_goes_through_the_card_of_the_rig_as_the_load_does(shop: Shop) -> None:
    card = {"kind": "lever", "lever_ratio": "10", "capacity": "5 kN", "resolution": "0.1 kg"}
    rig = save_rig(shop.file, press(url="", simulated=False, name="Lever", **card))
    readings = tuple(DialReading(f"{kg} kg", f"{kg * 10 * KG / 500:.4f} mm") for kg in range(11))
    entry = HandBreak(piece=shop.pieces[0].id, judgement=BROKE, load="10 kg", dial=readings, rig=rig)
    pull = fetch(shop, break_by_hand(shop.file, shop.trial, entry))
    assert pull.stiffness_n_per_mm == pytest.approx(500, rel=1e-3), "on the piece, not on the lever's end"


@pytest.mark.parametrize(
    ("readings", "words"),
    [
        ([("5 kg", "")], "Reading 1 of the dial has a load and no displacement."),
        ([("5 kg", "1 mm"), ("", "2 mm")], "Reading 2 of the dial has no load."),
        ([("60 kg", "1 mm")], "The dial was read at more than the piece broke at."),
        ([("5 kg", "much")], "much"),
    ],
)
def test_a_reading_that_cannot_be_is_refused_with_its_place(
    shop: Shop, readings: list[tuple[str, str]], words: str
) -> None:
    with pytest.raises(EntryError) as refused:
        take(shop, 0, "40 kg", *(DialReading(*one) for one in readings))
    assert words in str(refused.value)


def test_a_corrected_load_is_read_against_its_dial_again(shop: Shop) -> None:
    pull = take(shop, 0, "400 kg", *dial(50, 0.75, 40))
    assert pull.stiffness_n_per_mm is None, "no reading between a fifth and a half of what was typed"
    piece = view_break(shop.file, shop.trial, shop.pieces[0].id).piece
    assert piece is not None
    assert piece.values is not None
    now = BreakValues(**{**vars(piece.values), "load": "40 kg"})
    correct_break(shop.file, shop.trial, pull.id, CorrectionEntry(piece.values, now, "a zero too many"))
    assert fetch(shop, pull.id).stiffness_n_per_mm == pytest.approx(50, rel=1e-4)


def test_lines_with_a_second_number_record_how_far_the_piece_moved(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    with shop.file.changing("a practice trial", shop.trial, undoable=False) as connection:
        connection.execute("UPDATE trial SET practice = 1")
    with PracticeRig(rate_hz=100, dialect="travel") as rig:
        rig_id = add_press(shop, rig.url, offset="1.8", displacement_index=1, displacement_unit=TravelUnit.MILLIMETRE)
        bench = Bench(shop, rig, rig_id)
        assert bench.hub.view(rig_id, 0).moved_mm == pytest.approx(0, abs=0.05)
        pull_id = arm(shop.file, bench.hub, shop.trial, shop.pieces[0].id, rig_id)
        rig.say('LOAD {"expected_N": 1200, "cv_pct": 1, "stiffness_N_per_mm": 100, "rate_N_per_s": 600, "stroke_s": 0}')
        rig.say("PUMP start")
        bench.wait_until_stopped(pull_id)
        bench.hub.close()
    keep_pull(shop.file, shop.trial, pull_id, BROKE)
    pull = fetch(shop, pull_id)
    assert pull.stiffness_n_per_mm == pytest.approx(100, rel=0.02)
    assert pull.load_n is not None
    assert pull.bend_starts_n is not None
    assert 0.75 < pull.bend_starts_n / pull.load_n < 1, "from three quarters of its strength on some of it stays"
    assert pull.stayed_bent_mm is None, "it broke: where its halves lie says nothing"
    set_id = shop.piece_set(shop.pieces[0].id)
    assert [len(one.trace.curve) > 50 for one in view_set_traces(shop.file, shop.trial, set_id)] == [True]


@pytest.fixture
def bent(shop: Shop) -> Shop:
    """Two sets alike in strength: planed pieces half as stiff; one of them breaks while still straight."""
    for index, piece in enumerate(shop.pieces):
        planed = piece.treatment == "planed"
        peak = 40 + index
        stiffness = (60 if planed else 120) * (1 + index / 100)
        bends_from = 1.0 if index == 0 else 0.6
        take(shop, index, f"{peak} kg", *(dial(stiffness, bends_from, peak) if index != 7 else ()))
    return shop


def test_what_is_compared_is_chosen_and_its_words_follow(bent: Shop) -> None:
    view = view_compare(bent.file, bent.trial, Choice(response=Response.STIFFNESS))
    assert view.summary is not None
    assert view.summary.headline == "By stiffness: Toothed is stiffer than planed, by at least 95 %."
    assert [one.is_ for one in view.pairs] == ["less stiff"]
    assert view.kind == "stiffness"
    assert {one.treatment: round(one.strength or 0) // 10 for one in view.dots} == {"planed": 6, "toothed": 12}
    last = bent.pieces[7].label
    assert f"Broken without a displacement that says it, and not compared here: {last}." in view.mind
    assert "No difference" in (view_compare(bent.file, bent.trial, Choice()).summary or view.summary).headline


def test_a_piece_that_broke_while_straight_is_a_bound_of_the_usable_limit(bent: Shop) -> None:
    view = view_compare(bent.file, bent.trial, Choice(response=Response.USABLE_LOAD))
    first = next(dot for dot in view.dots if dot.piece_id == bent.pieces[0].id)
    assert (first.outcome, first.strength) == ("held", pytest.approx(40 * KG))
    second = next(dot for dot in view.dots if dot.piece_id == bent.pieces[1].id)
    # of 41 kg, straight up to 0.6 of it, then half as stiff: 5 % off at 0.6 · 41 / (2 − 1 / 0.95)
    assert (second.outcome, second.strength) == ("broke", pytest.approx(0.6 * 41 / (2 - 1 / 0.95) * KG, abs=2 * KG))
    found = view_findings(bent.file, bent.trial, Choice(), Wishes()).findings
    (bending,) = [one for one in found if one.key == "bending"]
    assert bending.said == [f"{bent.pieces[0].treatment}: 1 of 3 broke before its bend began to stay."]


def test_the_file_carries_what_is_compared_and_its_command_says_so(bent: Shop) -> None:
    tidy = export_breaks(bent.file, bent.trial, Choice(response=Response.USABLE))
    head, *rows = tidy.content.splitlines()
    columns = head.split(",")
    assert "--response usable_MPa" in tidy.command
    assert {"strength_MPa", "usable_MPa", "stiffness_N_per_mm", "bend_starts_N", "dial_typed"} <= set(columns)
    assert len(columns) == len(set(columns))
    assert len(rows) == 7
    load = export_breaks(bent.file, bent.trial, Choice(response=Response.LOAD))
    assert load.content.splitlines()[0].split(",").count("load_N") == 1


def test_how_far_it_went_is_compared(bent: Shop) -> None:
    view = view_compare(bent.file, bent.trial, Choice(response=Response.REACHED))
    assert (view.kind, view.unit.symbol, view.kind_words) == ("length", "mm", "How far it moved to the peak")
    for index, piece in enumerate(bent.pieces[:7]):
        (pull,) = bent.pulls(index)
        dot = next(one for one in view.dots if one.label == piece.label)
        # at least as far as a piece would go that stays straight
        straight = (pull.load_n or 0.0) / (60 if piece.treatment == "planed" else 120) / (1 + index / 100)
        assert dot.strength is not None
        assert dot.strength >= 0.94 * straight
    assert bent.pieces[7].label not in {one.label for one in view.dots}, "no displacement was read"
    assert view.summary is not None
    assert "further-going" in view.summary.headline
    assert "reached_mm" in export_breaks(bent.file, bent.trial, Choice()).content.splitlines()[0]


def test_work_is_told_by_few_findings(bent: Shop) -> None:
    view = view_findings(bent.file, bent.trial, Choice(response=Response.WORK), Wishes())
    assert [one.key for one in view.findings] == ["rankings", "steadier", "bending", "causes"]


def test_a_conclusion_is_checked_by_strength_while_stiffness_is_shown(bent: Shop) -> None:
    conclude(bent.file, bent.trial, "", "Toothed is 40 % stronger than planed.")
    by = {one: view_checks(bent.file, bent.trial, Choice(response=one)).claims for one in Response}
    assert by[Response.STIFFNESS] == by[Response.STRENGTH]
    assert by[Response.STRENGTH][0].standing == "contradicted"
