"""Builds the demo shop: a finished trial, one in clamps, one planned; everything through `bench/`, from a seed."""

from dataclasses import replace
from datetime import timedelta
from itertools import count
from math import exp
from pathlib import Path
from random import Random

from adhaero.bench.breaking import pulls
from adhaero.bench.breaking import view as breaking_view
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.breaking.live_rigs import RigHub
from adhaero.bench.compare import exclusions
from adhaero.bench.compare import view as compare_view
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.cure import checks, sizes
from adhaero.bench.cure import view as cure_view
from adhaero.bench.glue import batches, clamps
from adhaero.bench.over import making, void
from adhaero.bench.plan import boards, factors, levels, settled, treatments, trials
from adhaero.bench.saw import pieces as saw_pieces
from adhaero.bench.saw import steps
from adhaero.bench.shop import boards as shop_boards
from adhaero.bench.shop import clamps as shop_clamps
from adhaero.bench.shop import glue_figures
from adhaero.bench.shop.glues import GlueEntry, add_glue
from adhaero.bench.shop.rig_form import RigEntry
from adhaero.bench.shop.rigs import save_rig
from adhaero.bench.shop.view import DEMO, view_shop
from adhaero.core.glue import GlueFamily
from adhaero.core.plan.clamping import ClampKind, ForceKnown
from adhaero.core.plan.treatments import TreatmentKind
from adhaero.core.pulls import FailedIn, PullOutcome
from adhaero.core.rig.kinds import LoadUnit
from adhaero.core.wood import Rings
from adhaero.demo.builder import Builder, DemoClock
from adhaero.demo.other_rigs import build_bends, build_tips
from adhaero.demo.rig import HurriedRig
from adhaero.demo.years import build_years
from adhaero.rig.simulated import Mode, Wanted
from adhaero.store.file import ShopFile, open_shop, utc_now
from adhaero.store.settings import put_setting

_SHAFTS = {
    "question": "Which glue holds a scarfed paddle shaft best?",
    "guess": "Heron first, Plover second, Wren last.",
    "prep": "planed the same day, wiped, both faces spread",
    "material_a": "shaft stock",
    "material_b": "shaft stock, same board",
    "width_mm": "26 mm",
    "depth_mm": "26 mm",
    "length_mm": "400 mm",
    "slope": "1:8",
    "span_mm": "360 mm",
    "load_arm_mm": "120 mm",
    "clamp_pressure_mpa": "0.6 MPa",
    "clamp_time_s": "14 h",
    "cure_time_s": "7 d",
}
_BLADES = {
    "question": "Does scraping the blade edges spoil the joint?",
    "guess": "Scraped is as good as planed; toothed is no stronger than planed.",
    "glue": "Wren",
    "material_a": "larch blade strip",
    "material_b": "larch blade strip",
    "grain_a": "edge",
    "grain_b": "edge",
    "width_mm": "34 mm",
    "depth_mm": "11 mm",
    "length_mm": "180 mm",
    "span_mm": "150 mm",
    "clamp_pressure_mpa": "0.8 MPa",
    "clamp_time_s": "2 h 30 min",
    "cure_time_s": "72 h",
}
_RINGS = _BLADES | {
    "question": "How should the rings meet in a blade edge joint, and does the glue care?",
    "guess": "Rings opposed is as good as rings parallel; Heron is ahead of Wren.",
    "prep": "planed the same day, wiped",
    "glue": "Wren",
    "gap_mm": "0 mm",
    "wood_moisture_pct": "9 %",
    "shop_temperature_c": "19 °C",
    "seconds_each_s": "50 s",
    "spares": "10 %",
    "pilot": "2",
}
_CARDS = {
    "Heron": {"open_time_s": "45 min", "clamp_time_s": "14 h", "mix_ratio": "2", "pot_life_s": "25 min",
              "spread_g_m2": "240", "pack_g": "750 g", "price": "38", "left_g": "310 g"},
    "Wren": {"open_time_s": "6 min", "clamp_time_s": "1 h", "pressure_low_mpa": "0.7 MPa",
             "pressure_high_mpa": "1.2 MPa", "spread_g_m2": "180", "pack_g": "500 g", "price": "11.50",
             "left_g": "140 g"},
    "Plover": {"open_time_s": "25 min", "clamp_time_s": "3 h", "spread_g_m2": "150", "pack_ml": "250 ml"},
}  # fmt: skip
# bending strength of solid stock, MPa, and what each invented glue keeps of it
_SOLID_MPA = {"ash": 88.0, "larch": 80.0}
_SHARE = {"Solid": 1.0, "Heron": 0.84, "Plover": 0.735, "Wren": 0.765}
_TORN = {"Heron": ("25", "50", "25", "75", "0", "100"), "Wren": ("0", "0", "25", "0"), "Plover": ("0", "0", "0")}


def build_demo(path: Path, seed: int, rig_port: int) -> ShopFile:
    """Build the demo shop in a new file and return it; times are relative to now, numbers come from the seed."""
    clock = DemoClock()
    file = open_shop(path, clock)
    morning = utc_now().replace(minute=10, second=0, microsecond=0)
    builder = Builder(file, clock, morning, Random(seed))
    builder.at(40)
    with file.changing("Opened the demo", undoable=False) as connection:
        put_setting(connection, DEMO, "1")
    opened = (morning - timedelta(days=45)).date().isoformat()
    add_glue(file, GlueEntry("Heron", GlueFamily.EPOXY, opened, "H-31"))
    add_glue(file, GlueEntry("Wren", GlueFamily.XPVA, opened, "2207"))
    add_glue(file, GlueEntry("Plover", GlueFamily.POLYURETHANE, opened, "P8"))
    rig_id = save_rig(
        file,
        RigEntry(
            name="Bench press (practice)",
            url=f"socket://127.0.0.1:{rig_port}",
            unit=LoadUnit.KILOGRAM,
            capacity="5 kN",
            resolution="0.5 N",
            offset="1.8",
            simulated=True,
        ),
    )
    _stock_shop(file)
    _build_shafts(builder, rig_id, seed)
    _build_rings(builder, rig_id)
    _build_blades(builder, rig_id)
    build_tips(builder)
    build_bends(builder)
    build_years(builder)
    clock.set(None)
    return file


def _stock_shop(file: ShopFile) -> None:
    """Put boards, clamps and the glues' figures into the shop, as typed from their sheets."""
    for glue in view_shop(file).glues:
        for name, typed in _CARDS[glue.name].items():
            glue_figures.edit_figure(file, glue.id, name, "", typed)
    strips = shop_boards.StockBoardEntry(
        "Larch strip",
        "larch",
        "720 mm",
        "106 mm",
        "14 mm",
        "9 %",
        Rings.QUARTER,
        "edge trimmings of blades",
        "",
        "8",
        "2.40",
    )
    ids = shop_boards.save_stock_board(file, strips)
    knotty = replace(strips, name="Larch strip 3", count="1", defects="290 to 325 knot")
    shop_boards.save_stock_board(file, knotty, ids[2])
    plank = shop_boards.StockBoardEntry(
        "Ash plank", "ash", "2300 mm", "104 mm", "31 mm", "10 %", Rings.FLAT, "the old mill"
    )
    shop_boards.save_stock_board(file, replace(plank, price="31"))
    shop_clamps.save_clamps(
        file, shop_clamps.ClampsEntry("bar clamp", ClampKind.SCREW, "6", "3 kN", ForceKnown.MEASURED, "3", "2")
    )
    weights = shop_clamps.ClampsEntry("cast weight", ClampKind.WEIGHT, "4", "20 kg", ForceKnown.MEASURED, "1", "2")
    shop_clamps.save_clamps(file, weights)


def _build_shafts(builder: Builder, rig_id: int, seed: int) -> None:
    file = builder.file
    builder.at(22)
    trial_id = trials.create_trial(file, _SHAFTS["question"], seed=seed)
    builder.fill(trial_id, _SHAFTS)
    builder.count_on(trial_id, rig_id)
    builder.vary(trial_id, "glue", ["Heron", "Wren", "Plover"], 12)
    treatments.add_control(file, trial_id, TreatmentKind.SOLID)
    boards.add_boards(file, trial_id, boards.BoardEntry("ash", "8", "3"))
    boards.add_boards(file, trial_id, boards.BoardEntry("larch", "8", "3"))
    settled.freeze_plan(file, trial_id)
    builder.at(20)
    pieces = making.view_making(file, trial_id).pieces
    saw_pieces.mark_sawn(file, trial_id, [piece.id for piece in pieces])
    _glue_shafts(builder, trial_id)
    _measure_all(builder, trial_id, {"width_mm": 22.0, "depth_mm": 22.0}, skip=2)
    _break_shafts(builder, trial_id, rig_id, seed)


def _glue_shafts(builder: Builder, trial_id: int) -> None:
    """Glue in two rounds a glue, so that no glue is one single glue-up; one piece slides."""
    file, hour = builder.file, 0.0
    slid = None
    for turn in (0, 1):
        for glue in ("Plover", "Heron", "Wren") if turn else ("Heron", "Wren", "Plover"):
            mine = [
                piece
                for piece in making.view_making(file, trial_id).pieces
                if piece.treatment == glue and piece.batch is None
            ]
            chosen = sorted(mine, key=lambda piece: piece.glue_turn)[: 6 if turn == 0 else 12]
            builder.at(19 - turn, hour % 24)
            entry = batches.BatchEntry(
                tuple(piece.id for piece in chosen),
                glue,
                shop_temperature=f"{18.5 + builder.random.random() * 2:.1f} °C",
                humidity=f"{48 + turn} %",
                wood_moisture="9.4 %",
            )
            batches.start_batch(file, trial_id, entry)
            clamps.put_clamps_on(file, trial_id, [p.id for p in chosen])
            if glue == "Plover" and turn == 1:
                slid = chosen[2].id
                void.void_piece(file, trial_id, slid, "slid out of line when the clamp went on")
            builder.at(19 - turn, hour % 24 + 14 + builder.random.random() * 0.4)
            clamps.take_clamps_off(file, trial_id, [p.id for p in chosen if p.id != slid])
            hour += 0.8


def _measure_all(builder: Builder, trial_id: int, planned: dict[str, float], skip: int) -> None:
    builder.at(8)
    view = making.view_making(builder.file, trial_id)
    for piece in [one for one in view.pieces if one.void_reason is None][:-skip]:
        for name, size in planned.items():
            typed = f"{size + builder.random.gauss(0, 0.09):.2f} mm"
            sizes.measure(builder.file, trial_id, piece.id, name, "", typed)
    ticked: dict[str, list[int]] = {}
    for one in cure_view.view_curing(builder.file, trial_id).pieces:
        for check in one.checks:
            ticked.setdefault(check.words, []).append(one.id)
    for words, ids in ticked.items():
        checks.tick_check(builder.file, trial_id, ids, words, done=True)


def _break_shafts(builder: Builder, trial_id: int, rig_id: int, seed: int) -> None:
    file = builder.file
    builder.at(6)
    board_effect = {f"Board {number}": exp(builder.random.gauss(0, 0.05)) for number in range(1, 7)}
    hub, hurried = RigHub(file), HurriedRig(seed)
    try:
        hub.adopt(rig_id, hurried.reader)
        hurried.send(2)
        for number in count():
            builder.at(6, number * 0.07)
            piece = breaking_view.view_break(file, trial_id).piece
            if piece is None:
                break
            sizes = {size.name: size.mm for size in piece.sizes}
            section = sizes["width_mm"] * sizes["depth_mm"] ** 2 / (3 * 90)
            strength = _SOLID_MPA[piece.species] * board_effect[piece.board] * _SHARE[piece.treatment]
            crooked = piece.treatment == "Wren" and number > 20 and not _any_excluded(file, trial_id)
            factor = 0.55 if crooked else 1.0
            if number == 9:
                _pull(builder, hub, hurried, trial_id, rig_id, piece.id, 0.35 * strength * section, 1)
                pulls.retry_pull(file, trial_id, _at_the_rig(file, trial_id, piece.id).pulls[-1].id)
            _pull(builder, hub, hurried, trial_id, rig_id, piece.id, factor * strength * section, 7)
            _judge(builder, trial_id, piece.id, piece.treatment, crooked)
    finally:
        hub.close()
        hurried.close()


def _at_the_rig(file: ShopFile, trial_id: int, piece_id: int) -> breaking_view.BreakPiece:
    piece = breaking_view.view_break(file, trial_id, piece_id).piece
    assert piece is not None
    return piece


def _any_excluded(file: ShopFile, trial_id: int) -> bool:
    return bool(compare_view.view_compare(file, trial_id, Choice()).excluded)


def _pull(
    builder: Builder,
    hub: RigHub,
    hurried: HurriedRig,
    trial_id: int,
    rig_id: int,
    piece_id: int,
    load_n: float,
    cv: float,
) -> None:
    mode = Mode.SNAP if builder.random.random() < 0.8 else Mode.CREEP
    hurried.rig.load(str(piece_id), Wanted(load_n, cv, mode, load_n / 9))
    hurried.send(2)
    pull_id = pulls.arm(builder.file, hub, trial_id, piece_id, rig_id)
    recording = hub.recording_of(pull_id)
    hurried.pull()
    if recording is None or not recording.finished.wait(120):
        raise TimeoutError("the pull does not end")
    hurried.rig.release()


def _judge(builder: Builder, trial_id: int, piece_id: int, name: str, crooked: bool) -> None:
    file = builder.file
    piece = _at_the_rig(file, trial_id, piece_id)
    torn = "" if piece.solid else _TORN[name][builder.random.randrange(len(_TORN[name]))]
    failure = FailedIn.GLUE_LINE
    if piece.solid or torn == "100":
        failure = FailedIn.WOOD
    elif torn not in ("", "0"):
        failure = FailedIn.BOTH
    pulls.keep_pull(file, trial_id, piece.pulls[-1].id, Judgement(PullOutcome.BROKE, torn, failure))
    if crooked:
        exclusions.exclude_piece(file, trial_id, piece_id, "fixture was not square: it twisted before it broke")


def _build_blades(builder: Builder, rig_id: int) -> None:
    file = builder.file
    builder.at(2)
    trial_id = trials.create_trial(file, _BLADES["question"], seed=903)
    builder.fill(trial_id, {"joint": "edge", **_BLADES})
    builder.count_on(trial_id, rig_id)
    builder.vary(trial_id, "prep", ["planed", "scraped", "toothed"], 8)
    boards.add_boards(file, trial_id, boards.BoardEntry("larch", "6", "4"))
    settled.freeze_plan(file, trial_id)
    pieces = sorted(making.view_making(file, trial_id).pieces, key=lambda piece: piece.glue_turn)
    saw_pieces.mark_sawn(file, trial_id, [piece.id for piece in pieces])
    now = utc_now()
    for first, minutes in ((0, 165), (6, 108), (12, 41)):
        builder.clock.set(now - timedelta(minutes=minutes))
        chosen = tuple(piece.id for piece in pieces[first : first + 6])
        entry = batches.BatchEntry(chosen, "Wren", shop_temperature="19.5 °C", humidity="52 %", wood_moisture="9.1 %")
        batches.start_batch(file, trial_id, entry)
        clamps.put_clamps_on(file, trial_id, chosen)


def _build_rings(builder: Builder, rig_id: int) -> None:
    file = builder.file
    builder.at(1)
    trial_id = trials.create_trial(file, _RINGS["question"], seed=58)
    builder.fill(trial_id, {"joint": "edge", **_RINGS})
    builder.count_on(trial_id, rig_id)
    builder.vary(trial_id, "grain", ["rings parallel", "rings opposed"], 8)
    second = factors.add_factor(file, trial_id, "glue")
    for glue in ("Heron", "Wren"):
        levels.add_level(file, trial_id, second, levels.LevelEntry(glue))
    standard = "Wren on fresh planed edges, rings parallel, 0.8 MPa for 2 h 30 min"
    treatments.add_control(file, trial_id, TreatmentKind.STANDARD, standard)
    planks = [one.id for one in view_shop(file).boards if one.entry.species == "larch"]
    boards.take_from_shop(file, trial_id, planks)
    steps.add_step(file, trial_id, "arrow across both strips, so that they go together again", "before")
