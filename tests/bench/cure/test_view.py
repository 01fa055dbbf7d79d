"""Between clamps and test: exposures with real times, what every piece must have had, readings, the air of the shop."""

from datetime import UTC, datetime
from pathlib import Path

import pytest

from adhaero.bench.breaking.hand_break import break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.view import view_compare
from adhaero.bench.cure import checks, exposures, panels, readings, sizes
from adhaero.bench.cure import view as cure_view
from adhaero.bench.cure.view import CuringPiece, CuringView
from adhaero.bench.glue import batches, clamps, run_sheet, run_steps, wrong_treatment
from adhaero.bench.over.making import view_making
from adhaero.bench.over.today import view_today
from adhaero.bench.plan import levels
from adhaero.bench.plan import view as plan_view
from adhaero.bench.plan.levels import LevelEntry
from adhaero.bench.saw import steps
from adhaero.bench.shop import air as shop_air
from adhaero.bench.shop import glue_figures, hours
from adhaero.bench.shop.glues import edit_glue
from adhaero.bench.shop.view import view_shop
from adhaero.core.errors import DataError, EntryError, NotThere, ReasonNeeded, StaleEdit, StateError
from adhaero.core.plan.panels import PanelPlace, number_panels
from tests.shops import Shop, new_shop, typed_break

BROKE = Judgement("broke", "0")


@pytest.fixture
def shop(tmp_path: Path) -> Shop:
    """Eight cured pieces, half of which are to be soaked."""
    shop = new_shop(tmp_path).plan()
    for level in plan_view.view_plan(shop.file, shop.trial).factors[0].levels:
        levels.remove_level(shop.file, shop.trial, level.id)
    shop.vary("condition", ("kept dry", "soaked 24 h"))
    steps.add_step(shop.file, shop.trial, "drill the pin hole", "after")
    return shop.saw().glue().cure()


def view(shop: Shop) -> CuringView:
    return cure_view.view_curing(shop.file, shop.trial)


def soaked(shop: Shop) -> list[CuringPiece]:
    return [piece for piece in view(shop).pieces if piece.treatment == "soaked 24 h"]


def ids(pieces: list[CuringPiece]) -> list[int]:
    return [piece.id for piece in pieces]


def test_pieces_go_into_water_and_come_out_with_their_real_times(shop: Shop) -> None:
    assert [piece.waits_for_exposure for piece in soaked(shop)] == [True] * 4
    assert not any(piece.waits_for_exposure for piece in view(shop).pieces if piece.treatment == "kept dry")
    assert {piece.treatment: piece.words for piece in shop.pieces}["soaked 24 h"] == "cured, to be put in"
    assert next(line.labels for line in view_today(shop.file).ready) == [
        piece.label for piece in sorted(shop.pieces, key=lambda one: one.break_turn) if piece.treatment == "kept dry"
    ]
    exposures.put_in(shop.file, shop.trial, ids(soaked(shop)), "soak", "86400 s", "tap water, 14 °C")
    shop.clock.forward(hours=20)
    (exposure,) = soaked(shop)[0].exposures
    assert (exposure.words, exposure.due_utc, exposure.note) == (
        "in water",
        "2026-03-04T09:00:00.000Z",
        "tap water, 14 °C",
    )
    assert next(p.words for p in shop.pieces if p.id == soaked(shop)[0].id) == "in water, 4 h left"
    assert any(event.words.endswith("come out") for event in view_today(shop.file).coming)
    with pytest.raises(StateError, match="in something already"):
        exposures.put_in(shop.file, shop.trial, ids(soaked(shop))[:1], "oven")
    shop.clock.forward(hours=10)
    exposures.take_out(shop.file, shop.trial, ids(soaked(shop)))
    assert soaked(shop)[0].exposures[0].ended_utc == "2026-03-04T15:00:00.000Z"
    exposures.set_tested_as(shop.file, shop.trial, ids(soaked(shop)), "wet")
    assert {piece.tested_as for piece in soaked(shop)} == {"wet"}


def test_a_stay_longer_than_planned_stands_beside_the_result(shop: Shop) -> None:
    one, other = soaked(shop)[:2]
    exposures.put_in(shop.file, shop.trial, [one.id], "soak", "24 h")
    shop.clock.forward(hours=30)
    exposures.take_out(shop.file, shop.trial, [one.id])
    for piece in (one, other):
        break_by_hand(shop.file, shop.trial, typed_break(piece.id, "700 N", BROKE))
    mind = view_compare(shop.file, shop.trial, Choice()).mind
    assert f"{one.label} was in water, weather, frost or heat more than a tenth longer or shorter than planned." in mind
    assert f"{other.label} was broken without what the plan sends them through." in mind


def test_cycles_are_counted_and_the_weather_noted(shop: Shop) -> None:
    one = soaked(shop)[0]
    exposures.put_in(shop.file, shop.trial, [one.id], "freeze")
    for _ in range(3):
        exposures.count_cycle(shop.file, shop.trial, [one.id])
    (exposure,) = soaked(shop)[0].exposures
    assert (exposure.cycles, exposure.due_utc) == (3, None)
    exposures.note_exposure(shop.file, shop.trial, exposure.id, "", "−18 °C and back")
    with pytest.raises(StaleEdit):
        exposures.note_exposure(shop.file, shop.trial, exposure.id, "", "otherwise")


@pytest.mark.parametrize(
    ("act", "kind", "words"),
    [
        (lambda s, p: exposures.put_in(s.file, s.trial, [p], "boil"), EntryError, "is not known here"),
        (lambda s, p: exposures.put_in(s.file, s.trial, [p], "soak", "a day"), EntryError, "a day"),
        (
            lambda s, p: exposures.put_in(s.file, s.trial, [p], "soak", at_utc="2026-03-02T09:00:00Z"),
            StateError,
            "clamps",
        ),
        (lambda s, p: exposures.take_out(s.file, s.trial, [p]), StateError, "is in nothing"),
        (lambda s, p: exposures.count_cycle(s.file, s.trial, [p]), StateError, "is in nothing"),
        (lambda s, _: exposures.note_exposure(s.file, s.trial, 9, "", "x"), NotThere, "no exposure 9"),
        (lambda s, p: exposures.set_tested_as(s.file, s.trial, [p], "damp"), EntryError, "is no state"),
        (lambda s, p: readings.read_off(s.file, s.trial, p, "colour", "", "x"), EntryError, "is not read here"),
        (lambda s, p: readings.read_off(s.file, s.trial, p, "gap_mm", "", "3 kg"), EntryError, "is a force|is a mass"),
        (lambda s, p: sizes.measure(s.file, s.trial, p, "width_mm", "", "="), EntryError, "No piece before"),
    ],
)
def test_what_cannot_be_is_told(shop: Shop, act: object, kind: type[Exception], words: str) -> None:
    with pytest.raises(kind, match=words):
        act(shop, view(shop).pieces[0].id)  # type: ignore[operator]


def test_every_piece_must_have_had_its_work_before_the_test(shop: Shop) -> None:
    first, second, third = view(shop).pieces[:3]
    assert [check.words for check in first.checks][:2] == [
        "drill the pin hole",
        "Squeeze-out knocked off where it would carry load",
    ]
    checks.tick_check(shop.file, shop.trial, [first.id], "drill the pin hole", done=True)
    for piece in (first, second, third):
        break_by_hand(shop.file, shop.trial, typed_break(piece.id, "700 N", BROKE))
    shop.clock.forward(minutes=5)
    checks.tick_check(shop.file, shop.trial, [third.id], "drill the pin hole", done=True)
    mind = view_compare(shop.file, shop.trial, Choice()).mind
    assert f"{second.label} was broken without “drill the pin hole”." in mind
    assert f"{third.label} was ticked for “drill the pin hole” after the break." in mind
    assert not any("Squeeze-out" in words for words in mind), "advice, until someone ticks it"
    with pytest.raises(StateError, match="stays written"):
        checks.tick_check(shop.file, shop.trial, [first.id], "drill the pin hole", done=False)


def test_sizes_are_called_out_several_times_or_as_before(shop: Shop) -> None:
    first, second = shop.pieces[:2]
    sizes.measure(shop.file, shop.trial, first.id, "width_mm", "", "30.1; 30.3; 29.9")
    sizes.measure(shop.file, shop.trial, second.id, "width_mm", "", "=")
    first, second = shop.pieces[:2]
    assert first.measured["width_mm"] == "30.1 mm; 30.3 mm; 29.9 mm"
    assert second.measured["width_mm"] == first.measured["width_mm"]
    # mean 30.1, standard deviation 0.2, of 9 mm depth as planned: ± 0.2 / √3 · 9
    assert view(shop).pieces[0].area_give_mm2 == pytest.approx(0.2 / 3**0.5 * 9, rel=1e-6)
    sizes.measure(shop.file, shop.trial, first.id, "width_mm", first.measured["width_mm"], "30; 31")
    assert any("2 readings of the width scatter by 0.71 mm" in words for words in shop.pieces[0].off_plan)


def test_mass_moisture_and_gap_are_read_off(shop: Shop) -> None:
    piece = view(shop).pieces[0]
    for name, typed in (("mass_before_g", "41.2 g"), ("moisture_before_pct", "9 %"), ("gap_mm", "0.15 mm")):
        readings.read_off(shop.file, shop.trial, piece.id, name, "", typed)
    assert view(shop).pieces[0].readings == {
        "gap_mm": "0.15 mm",
        "mass_before_g": "41.2 g",
        "moisture_before_pct": "9 %",
    }
    readings.read_off(shop.file, shop.trial, piece.id, "gap_mm", "0.15 mm", "")
    assert "gap_mm" not in view(shop).pieces[0].readings


def test_a_loggers_file_is_laid_over_the_glue_ups(shop: Shop) -> None:
    hours.edit_hours(shop.file, "time_zone", "", "UTC")
    glue_figures.edit_figure(shop.file, 1, "lowest_temperature_c", "", "12 °C")
    rows = ["Datum;Zeit;Temperatur °C;Feuchte %"]
    rows += [f"02.03.2026;{8 + n // 2:02}:{30 * (n % 2):02};{19 - 2 * n},5;{50 + n}" for n in range(8)]
    log = shop_air.lay_over(shop.file, "bench.csv", "\n".join(rows).encode("latin-1"))
    (air,) = view_making(shop.file, shop.trial).air
    # glued at eight, in clamps for two hours: five readings, 19.5 to 11.5
    assert (air.words, air.readings) == ("11.5 to 19.5 °C, humidity 50 to 54 %", 5)
    assert "11.5 °C is colder than Wren is made for (12 °C), first at 10:00 UTC." in air.minds
    assert "The shop swung by 8.0 °C meanwhile." in air.minds
    shop_air.take_away(shop.file, log)
    assert view_making(shop.file, shop.trial).air == []
    with pytest.raises(NotThere):
        shop_air.take_away(shop.file, log)


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"a,b\n1,2\n", "No heading names a time"),
        (b"time,temp\n", "no readings"),
        (b"time,temp\nyesterday,20\n", "Row 2, time: “yesterday”"),
        (b"time,temp\n2026-03-02 08:00,warm\n", "Row 2, temperature: “warm”"),
        (b"time,temp\n2026-03-02 08:00,20\n2026-03-02 09:00,200\n", "Row 3, temperature: 200 °C"),
        (b"time,rh\n2026-03-02 08:00,140\n", "Row 2, humidity: 140 %"),
        (b"", "No heading"),
    ],
)
def test_a_loggers_file_that_cannot_be_read_names_row_and_column(shop: Shop, content: bytes, words: str) -> None:
    with pytest.raises(DataError, match=words):
        shop_air.lay_over(shop.file, "bench.csv", content)


def test_fahrenheit_is_taken_by_its_heading(shop: Shop) -> None:
    shop_air.lay_over(shop.file, "f.csv", b"Date,Temp (F),RH\n2026-03-02T08:30:00Z,68,--\n")
    assert view_making(shop.file, shop.trial).air[0].words == "20.0 to 20.0 °C"


def test_two_coats_have_their_wait_before_the_last(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan()
    shop.edit("spread", "coat, wait 10 min, coat again")
    shop.saw()
    one, other = (piece.id for piece in shop.pieces[:2])
    batches.start_batch(shop.file, shop.trial, batches.BatchEntry([one, other], "Wren"))
    run_steps.mark_step(shop.file, shop.trial, [one], "coat")
    first = next(p for p in run_sheet.view_run_sheet(shop.file, shop.trial, 1).pieces if p.id == one)
    assert (first.next, first.coat_due_utc) == ("spread", "2026-03-02T08:10:00.000Z")
    with pytest.raises(StateError, match="every coat that soaks in"):
        run_steps.mark_step(shop.file, shop.trial, [one], "coat")
    run_steps.mark_step(shop.file, shop.trial, [other], "coat")
    shop.clock.forward(minutes=4)
    run_steps.mark_step(shop.file, shop.trial, [one], "spread")
    shop.clock.forward(minutes=6)
    run_steps.mark_step(shop.file, shop.trial, [other], "spread")
    run_steps.mark_step(shop.file, shop.trial, [one, other], "closed")
    clamps.put_clamps_on(shop.file, shop.trial, [one, other])
    shop.clock.forward(hours=2)
    clamps.take_clamps_off(shop.file, shop.trial, [one, other])
    shop.clock.forward(hours=24)
    for piece in (one, other):
        break_by_hand(shop.file, shop.trial, typed_break(piece, "700 N", BROKE))
    label = next(p.label for p in shop.pieces if p.id == one)
    mind = view_compare(shop.file, shop.trial, Choice()).mind
    assert f"{label} was spread again after another wait than its first coat was to have." in mind


def test_the_wrong_partner_is_noted_on_both(shop: Shop) -> None:
    one, other = shop.pieces[:2]
    wrong_treatment.swap_partners(shop.file, shop.trial, one.id, other.id)
    assert [p.deviation for p in shop.pieces[:2]] == [
        f"glued with the second part of {other.label}",
        f"glued with the second part of {one.label}",
    ]
    with pytest.raises(EntryError, match="with itself"):
        wrong_treatment.swap_partners(shop.file, shop.trial, one.id, one.id)


def test_a_trial_over_years_keeps_a_reserve(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan()
    for level in plan_view.view_plan(shop.file, shop.trial).factors[0].levels:
        levels.remove_level(shop.file, shop.trial, level.id)
    shop.vary("cure_time", ("7 d", "1 y"))
    factor = plan_view.view_plan(shop.file, shop.trial).factors[0].id
    levels.add_level(shop.file, shop.trial, factor, LevelEntry("reserve"))
    shop.edit("pieces_each", "2")
    shop.saw().glue()
    pulls = view(shop).pulls
    week, year, reserve = pulls.dates
    assert (week.due_utc or "")[:9] == "2026-03-0"
    assert (year.due_utc or "")[:9] == "2027-03-0"
    assert (reserve.due_utc, len(reserve.panels)) == (None, 2)
    assert sorted(panel.number for date in pulls.dates for panel in date.panels) == [1, 2, 3, 4, 5, 6]
    assert (
        pulls.words == "The last date is March 2027; with 2 panels in reserve, at the pace of the last two dates, "
        "it lasts until February 2028."
    )
    assert [one.name for one in plan_view.view_plan(shop.file, shop.trial).treatments] == ["7 d", "1 y", "reserve"]
    with pytest.raises(ReasonNeeded):
        panels.take_panel(shop.file, shop.trial, reserve.panels[0].number, year.level_id, " ")
    panels.take_panel(shop.file, shop.trial, reserve.panels[0].number, year.level_id, "one blew off the roof")
    after = view(shop).pulls.dates
    assert [len(date.panels) for date in after] == [2, 3, 1]
    assert reserve.panels[0] in after[1].panels
    shop.cure()
    words = [event.words for event in view_today(shop.file).coming]
    numbers = ", ".join(str(panel.number) for panel in after[1].panels)
    assert f"panels {numbers} due (1 y)" in words


def test_panels_are_complete_sets_and_their_numbers_tell_no_date() -> None:
    places = [PanelPlace(age, glue) for _ in range(3) for age in ("1 y", "2 y", None) for glue in ("Heron", "Wren")]
    numbers = number_panels(places, seed=11)
    found: dict[int | None, list[PanelPlace]] = {}
    for place, number in zip(places, numbers, strict=True):
        found.setdefault(number, []).append(place)
    assert all(place.date is None for place in found.pop(None))
    assert sorted(key for key in found if key) == [1, 2, 3, 4, 5, 6]
    assert all({one.rest for one in mine} == {"Heron", "Wren"} and len(mine) == 2 for mine in found.values())
    assert all(len({one.date for one in mine}) == 1 for mine in found.values())
    assert [found[n][0].date for n in sorted(key for key in found if key)] != ["1 y"] * 3 + ["2 y"] * 3


def test_another_time_zone_and_a_gap_of_the_logger(shop: Shop) -> None:
    rows = ["timestamp,temperature", "2026-03-02T10:00:00+02:00,18", "2026-03-02T12:00:00+02:00,18.5"]
    shop_air.lay_over(shop.file, "zone.csv", "\n".join([*rows, "2026-03-02T10:00:00Z,19"]).encode())
    (air,) = view_making(shop.file, shop.trial).air
    # glued at 8:00 UTC, in clamps until 10:00: all three count
    assert (air.words, air.readings) == ("18.0 to 19.0 °C", 3)
    assert air.minds == ["The logger was silent for 2 h meanwhile."]
    shop_air.lay_over(shop.file, "gap.csv", b"timestamp,temperature\n2026-03-02T09:10:00Z,18\n")
    assert view_making(shop.file, shop.trial).air[0].minds == ["The logger was silent for 70 min meanwhile."]


def test_moisture_read_several_times_counts_with_its_mean(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan().saw()
    glue = view_shop(shop.file).glues[0]
    edit_glue(shop.file, glue.id, "kept", "", "by the stove")
    entry = batches.BatchEntry([shop.pieces[0].id], "Wren", wood_moisture="9 %; 9.6; 8.4 %")
    batches.start_batch(shop.file, shop.trial, entry)
    (batch,) = view_making(shop.file, shop.trial).batches
    assert batch.glue_kept == "by the stove"
    assert (batch.wood_moisture_pct, batch.wood_moisture_typed) == (pytest.approx(9.0), "9 %; 9.6 %; 8.4 %")


def test_a_glue_up_stays_within_its_trial_and_two_tablets_do_not_press_twice(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan().saw()
    with pytest.raises(NotThere, match="no piece 999"):
        batches.start_batch(shop.file, shop.trial, batches.BatchEntry([shop.pieces[0].id, 999], "Wren"))
    one = shop.pieces[0].id
    batches.start_batch(shop.file, shop.trial, batches.BatchEntry([one], "Wren"))
    run_steps.mark_step(shop.file, shop.trial, [one], "spread")
    with pytest.raises(StateError, match="has its glue already"):
        run_steps.mark_step(shop.file, shop.trial, [one], "spread")


def test_a_day_in_clamps_is_a_day_over_the_change_to_summer_time(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan()
    shop.edit("clamp_time_s", "24 h")
    hours.edit_hours(shop.file, "time_zone", "", "Europe/Vienna")
    # Saturday noon in Vienna; summer time begins in the night
    shop.clock.now = datetime(2026, 3, 28, 11, 0, tzinfo=UTC)
    shop.saw().glue()
    assert {piece.release_due_utc for piece in shop.pieces} == {"2026-03-29T11:00:00.000Z"}
    shop.clock.forward(hours=24)
    clamps.take_clamps_off(shop.file, shop.trial, [piece.id for piece in shop.pieces])
    assert {piece.clamped_s for piece in shop.pieces} == {86_400.0}
