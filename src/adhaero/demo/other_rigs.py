"""Demo trials on rigs without a cable: blade tips on hung plates, and shafts whose bending other software recorded."""

from dataclasses import replace
from itertools import count

from adhaero.bench.breaking import log_pulls, pulls
from adhaero.bench.breaking import view as breaking_view
from adhaero.bench.breaking.corrections import CorrectionEntry, correct_break
from adhaero.bench.breaking.hand_break import HandBreak, break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.cure import sizes
from adhaero.bench.glue import batches, clamps
from adhaero.bench.over import making
from adhaero.bench.plan import boards, settled, trials
from adhaero.bench.saw import pieces as saw_pieces
from adhaero.bench.shop.plates import PlateEntry, save_plate, view_plates
from adhaero.bench.shop.rig_form import RigEntry
from adhaero.bench.shop.rig_truth import CheckWeightEntry, check_rig
from adhaero.bench.shop.rigs import save_rig
from adhaero.core.pulls import FailedIn, PullOutcome
from adhaero.core.rig.entry.card import GRAVITY, Card
from adhaero.core.rig.entry.plates import Plate, propose_plate
from adhaero.core.rig.kinds import LoadUnit, RigKind
from adhaero.demo.builder import Builder

_TIPS = {
    "question": "Does a wipe with alcohol help a resinous blade tip?",
    "guess": "Wiped holds a tenth more.",
    "glue": "Wren",
    "joint": "edge",
    "material_a": "larch tip strip",
    "material_b": "larch tip strip",
    "grain_a": "edge",
    "grain_b": "edge",
    "width_mm": "20 mm",
    "depth_mm": "7 mm",
    "length_mm": "240 mm",
    "span_mm": "200 mm",
    "clamp_time_s": "2 h",
    "cure_time_s": "72 h",
}
_TIP_MPA = {"as planed": 54.0, "wiped": 61.0}
SHAFT = {
    "prep": "planed the same day, wiped",
    "material_a": "shaft stock",
    "material_b": "shaft stock, same board",
    "width_mm": "22 mm",
    "depth_mm": "22 mm",
    "length_mm": "400 mm",
    "slope": "1:8",
    "span_mm": "360 mm",
    "load_arm_mm": "120 mm",
    "clamp_time_s": "14 h",
    "cure_time_s": "7 d",
}
_BENDS = {
    "question": "Which glue lets a scarfed shaft bend furthest before it stays bent?",
    "guess": "Plover bends on, Heron snaps.",
    **SHAFT,
}
_BEND_N = {"Heron": 2450.0, "Plover": 2050.0}
# from which share of its load a shaft leaves the straight line
_LEAVES = {"Heron": 0.86, "Plover": 0.66}


def build_tips(builder: Builder) -> None:
    """Build a finished trial that was broken under plates, put on one by one."""
    file = builder.file
    builder.at(16)
    for weight, number in (("10 kg", "2"), ("5 kg", "2"), ("2.5 kg", "2"), ("1.25 kg", "2"), ("0.5 kg", "2")):
        save_plate(file, PlateEntry(weight, number))
    rig_id = save_rig(
        file,
        RigEntry(
            "Plate hanger", "", LoadUnit.KILOGRAM, "40 kg", "0.5 kg", kind=RigKind.WEIGHTS, tare="1.1 kg",
            handle="40 kg", guide="two rails, the hanger falls onto sand",
        ),
    )  # fmt: skip
    trial_id = make_trial(builder, _TIPS, "prep", list(_TIP_MPA), 6, "larch", rig_id, days=14)
    builder.at(9)
    with file.reading() as connection:
        plates = {
            view.id: Plate(view.entry.weight, view.weight_n, int(view.entry.number)) for view in view_plates(connection)
        }
    card = Card(RigKind.WEIGHTS, tare_n=1.1 * GRAVITY, capacity_n=40 * GRAVITY)
    for turn in count():
        builder.at(9, turn * 0.08)
        piece = breaking_view.view_break(file, trial_id).piece
        if piece is None:
            break
        measured = {size.name: size.mm for size in piece.sizes}
        section = 2 * measured["width_mm"] * measured["depth_mm"] ** 2 / (3 * 200)
        breaks_n = _TIP_MPA[piece.treatment] * section * (1 + builder.random.gauss(0, 0.09))
        stacks = _hang(card, plates, breaks_n)
        judged = Judgement(
            PullOutcome.BROKE,
            str(25 * builder.random.randrange(4)),
            FailedIn.GLUE_LINE if turn % 3 else FailedIn.BOTH,
        )
        break_by_hand(
            file,
            trial_id,
            HandBreak(piece=piece.id, judgement=judged, stacks=stacks, hold="" if turn % 4 else "40 s"),
        )


def _hang(card: Card, plates: dict[int, Plate], breaks_n: float) -> tuple[tuple[int, ...], ...]:
    """Return what hung after each plate until a piece gives way: plates as the station proposes them."""
    ids = {plate: plate_id for plate_id, plate in plates.items()}
    hung: list[Plate] = []
    stacks: list[tuple[int, ...]] = []
    while True:
        plate = propose_plate(card, list(plates.values()), hung, 0.8 * breaks_n)
        if plate is None:
            return tuple(stacks)
        hung.append(plate)
        stacks.append(tuple(ids[one] for one in hung))
        if card.load(sum(one.weight_n for one in hung)) >= breaks_n:
            return tuple(stacks)


def build_bends(builder: Builder) -> None:
    """Build a finished trial whose pulls another program recorded, with the displacement beside the load."""
    file = builder.file
    builder.at(15)
    rig_id = save_rig(
        file,
        RigEntry(
            "Borrowed frame", "", LoadUnit.NEWTON, "5 kN", "1 N", check="20 kg", check_give="0.1 kg",
            guide="rollers, a dial gauge under the middle",
        ),
    )  # fmt: skip
    trial_id = make_trial(builder, _BENDS, "glue", list(_BEND_N), 5, "ash", rig_id, days=13)
    builder.at(4)
    check_rig(file, rig_id, CheckWeightEntry("196.4 N"))
    for number in count():
        builder.at(4, number * 0.1)
        piece = breaking_view.view_break(file, trial_id).piece
        if piece is None:
            break
        peak_n = _BEND_N[piece.treatment] * (1 + builder.random.gauss(0, 0.08))
        content = _record(builder, peak_n, _LEAVES[piece.treatment])
        choice = log_pulls.LogChoice(rig_id, load="load N", displacement="mm")
        log_pulls.take_log(file, trial_id, piece.id, f"shaft {piece.label}.csv", content, choice)
        pull = _at(builder, trial_id, piece.id).pulls[-1]
        torn = str(25 * builder.random.randrange(4))
        pulls.keep_pull(file, trial_id, pull.id, Judgement(PullOutcome.BROKE, torn, FailedIn.GLUE_LINE))
    _correct_one(builder, trial_id)


def _record(builder: Builder, peak_n: float, leaves: float) -> bytes:
    """Return a log as another program writes it: a rest, a rise that leaves its line, the break, a rest."""
    noise = builder.random.gauss
    rows = ["t s,load N,mm"]
    stiff = 150.0 * (1 + noise(0, 0.06))
    for step in range(220):
        share = min(max((step - 20) / 150, 0.0), 1.0) if step <= 170 else 0.0
        load = share * peak_n
        beyond = max(0.0, share - leaves)
        moved = load / stiff + 14 * beyond**2 * peak_n / stiff / 2 if share else 0.0
        rows.append(f"{step / 10:.1f},{load + noise(0, 1.5):.1f},{moved + noise(0, 0.004):.3f}")
    return "\n".join(rows).encode()


def _correct_one(builder: Builder, trial_id: int) -> None:
    """Correct the torn wood of the first broken piece, as someone does who looked again."""
    builder.at(3)
    latest = breaking_view.view_break(builder.file, trial_id).latest[-1]
    piece = _at(builder, trial_id, latest.piece_id)
    assert piece.values is not None
    now = replace(piece.values, wood_failure="60")
    correct_break(
        builder.file, trial_id, piece.pulls[-1].id, CorrectionEntry(piece.values, now, "looked again by daylight")
    )


def _at(builder: Builder, trial_id: int, piece_id: int) -> breaking_view.BreakPiece:
    piece = breaking_view.view_break(builder.file, trial_id, piece_id).piece
    assert piece is not None
    return piece


def make_trial(
    builder: Builder,
    plan: dict[str, str],
    kind: str,
    names: list[str],
    pieces: int,
    wood: str,
    rig_id: int,
    days: float,
    on_boards: tuple[str, str] = ("4", "3"),
    *,
    measured: bool = True,
) -> int:
    """Plan, saw, glue, measure: everything up to the rig; return the trial.

    Parameters
    ----------
    days : before today, of the glue-up. on_boards : how many pieces a board holds, and how many boards.
    measured : whether sizes were measured; else those of the plan count.
    """
    file = builder.file
    builder.at(days + 1)
    trial_id = trials.create_trial(file, plan["question"], seed=71)
    builder.fill(trial_id, plan)
    builder.count_on(trial_id, rig_id)
    builder.vary(trial_id, kind, names, pieces)
    boards.add_boards(file, trial_id, boards.BoardEntry(wood, *on_boards))
    settled.freeze_plan(file, trial_id)
    builder.at(days)
    made = making.view_making(file, trial_id).pieces
    saw_pieces.mark_sawn(file, trial_id, [piece.id for piece in made])
    by_glue: dict[str, list[int]] = {}
    for piece in sorted(made, key=lambda one: one.glue_turn):
        by_glue.setdefault(piece.treatment if kind == "glue" else plan["glue"], []).append(piece.id)
    for glue, ids in by_glue.items():
        entry = batches.BatchEntry(tuple(ids), glue, shop_temperature="19 °C", humidity="50 %", wood_moisture="9 %")
        batches.start_batch(file, trial_id, entry)
        clamps.put_clamps_on(file, trial_id, ids)
    builder.at(days, 15 if kind == "glue" else 2.1)
    clamps.take_clamps_off(file, trial_id, [piece.id for piece in made])
    builder.at(days - 4)
    for piece in made if measured else ():
        for name in ("width_mm", "depth_mm"):
            planned = float(plan[name].removesuffix(" mm"))
            sizes.measure(file, trial_id, piece.id, name, "", f"{planned + builder.random.gauss(0, 0.08):.2f} mm")
    return trial_id
