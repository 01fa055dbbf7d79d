"""Six demo trials of the three years before: scarfed shafts on a luggage scale, so that the book has pages."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import count
from math import exp
from typing import Final

from adhaero.bench.breaking import view as breaking_view
from adhaero.bench.breaking.hand_break import HandBreak, break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.compare.looks import StopEntry, stop_by_rule, view_look
from adhaero.bench.cure.exposures import put_in, take_out
from adhaero.bench.glue import batches, clamps
from adhaero.bench.over import making
from adhaero.bench.plan.late import LateEntry, LateValue, add_late
from adhaero.bench.plan.view import view_plan
from adhaero.bench.saw import pieces as saw_pieces
from adhaero.bench.shop.glues import GlueEntry, add_glue
from adhaero.bench.shop.rig_form import RigEntry
from adhaero.bench.shop.rigs import save_rig
from adhaero.core.glue import GlueFamily
from adhaero.core.plan.exposures import ExposureKind
from adhaero.core.pulls import FailedIn, PullOutcome
from adhaero.core.rig.kinds import LoadUnit, RigKind
from adhaero.demo.builder import Builder
from adhaero.demo.other_rigs import SHAFT, make_trial

_OLDER: Final = {
    "Merlin": GlueFamily.HOT_HIDE,
    "Dunlin": GlueFamily.PVA,
    "Curlew": GlueFamily.CASEIN,
    "Siskin": GlueFamily.UREA,
    "Teal": GlueFamily.RESORCINOL,
    "Lapwing": GlueFamily.FISH,
}
# bending strength that each invented glue leaves a scarfed shaft of, MPa: dry, and after a day in water
_DRY: Final = {
    "Heron": 72.0, "Wren": 65.0, "Plover": 63.0, "Teal": 87.0, "Merlin": 58.0, "Dunlin": 49.0, "Curlew": 52.0,
    "Siskin": 69.0, "Lapwing": 44.0,
}  # fmt: skip
_WET: Final = {"Heron": 0.86, "Wren": 0.62, "Plover": 0.8}
# how much the same comparison differs from trial to trial, and pieces of one board differ, on logarithms
_BETWEEN, _BOARD, _PIECE = 0.03, 0.06, 0.085


@dataclass(frozen=True)
class _Past:
    """A trial of the past: how many days ago it was glued, its question, guess and glues, pieces of each, its wood."""

    days: float
    question: str
    guess: str
    glues: Sequence[str]
    pieces: int = 6
    wood: str = "ash"
    condition: str = ""
    looks: bool = False
    late: str = ""


_TRIALS: Final = (
    _Past(1075, "Which old glue still holds a scarfed shaft?", "Curlew is stronger than Lapwing.",
          ("Curlew", "Lapwing", "Heron")),
    _Past(905, "Does hot hide hold a scarfed shaft?", "Heron is stronger than Merlin.", ("Merlin", "Heron")),
    _Past(720, "Is the plain PVA enough for a shaft?", "Wren is stronger than Dunlin.", ("Dunlin", "Wren", "Merlin"),
          wood="larch"),
    _Past(540, "Is Plover as good as Heron on a shaft?", "Plover is as strong as Heron.", ("Plover", "Heron"), 8,
          late="Siskin"),
    _Past(365, "Is the red glue worth its stain on a shaft?", "Teal is stronger than Heron.",
          ("Teal", "Plover", "Heron", "Wren"), 10, looks=True),
    _Past(200, "What does a day in water leave of a shaft?", "Heron is stronger than Wren.",
          ("Heron", "Wren", "Plover"), condition="soaked 24 h in cold water"),
)  # fmt: skip


def build_years(builder: Builder) -> None:
    """Build six trials over three years: nine glues, of which four ever stood side by side."""
    builder.at(1100)
    for name, family in _OLDER.items():
        add_glue(builder.file, GlueEntry(name, family))
    rig_id = save_rig(
        builder.file,
        RigEntry("Luggage scale on a lever", "", LoadUnit.KILOGRAM, "400 kg", "0.5 kg", kind=RigKind.SCALE),
    )
    for past in _TRIALS:
        _build(builder, past, rig_id)


def _build(builder: Builder, past: _Past, rig_id: int) -> None:
    file, sets = builder.file, len(past.glues)
    plan = {"question": past.question, "guess": past.guess, **SHAFT}
    if past.condition:
        plan["condition"] = past.condition
    if past.looks:
        plan["looks"] = "1"
    trial_id = make_trial(
        builder, plan, "glue", list(past.glues), past.pieces, past.wood, rig_id, past.days,
        (str(sets), str(past.pieces)), measured=False,
    )  # fmt: skip
    if past.condition:
        builder.at(past.days - 7.5)
        ids = [piece.id for piece in making.view_making(file, trial_id).pieces]
        put_in(file, trial_id, ids, ExposureKind.SOAK, "24 h")
        builder.at(past.days - 8.5)
        take_out(file, trial_id, ids)
    deviates = {name: exp(builder.random.gauss(0, _BETWEEN)) for name in _DRY}
    _break(builder, past, trial_id, deviates, past.days - 9, half=bool(past.late))
    if past.late:
        _add_late_glue(builder, past, trial_id)
        _break(builder, past, trial_id, deviates, past.days - 25)


def _break(
    builder: Builder, past: _Past, trial_id: int, deviates: dict[str, float], days: float, *, half: bool = False
) -> None:
    """Break what is ready, in the order of the plan; half of it alone, or until the answer is settled by the rule."""
    file, planned = builder.file, past.pieces * len(past.glues)
    boards: dict[str, float] = {}
    for turn in count():
        builder.at(days, turn * 0.05)
        piece = breaking_view.view_break(file, trial_id).piece
        if piece is None or (half and turn == planned // 2):
            return
        board = boards.setdefault(piece.board, exp(builder.random.gauss(0, _BOARD)))
        left = _WET[piece.treatment] if past.condition else 1.0
        strength = _DRY[piece.treatment] * left * deviates[piece.treatment] * board
        load = strength * exp(builder.random.gauss(0, _PIECE)) * 22**3 / (3 * 120)
        torn = ("0", "25", "25", "50")[builder.random.randrange(4)]
        judged = Judgement(PullOutcome.BROKE, torn, FailedIn.GLUE_LINE if torn == "0" else FailedIn.BOTH)
        entry = HandBreak(piece=piece.id, load=f"{load / 9.80665:.1f} kg", judgement=judged)
        break_by_hand(file, trial_id, entry)
        if past.looks and (turn + 1) % len(past.glues) == 0:
            look = view_look(file, trial_id)
            if look.settled and look.left:
                stop_by_rule(file, trial_id, StopEntry(look.complete))
                return


def _add_late_glue(builder: Builder, past: _Past, trial_id: int) -> None:
    """Let a glue join that came after half of the breaks, on the boards that are there."""
    file = builder.file
    builder.at(past.days - 14)
    plan = view_plan(file, trial_id)
    boards = ", ".join(one.name for one in plan.boards)
    values = (LateValue(plan.factors[0].id, past.late),)
    labels = add_late(
        file, trial_id, LateEntry(past.pieces, boards, values=values, reason="the powder came three weeks late")
    )
    pieces = [piece.id for piece in making.view_making(file, trial_id).pieces if piece.label in labels]
    saw_pieces.mark_sawn(file, trial_id, pieces)
    batches.start_batch(file, trial_id, batches.BatchEntry(tuple(pieces), past.late, shop_temperature="20 °C"))
    clamps.put_clamps_on(file, trial_id, pieces)
    builder.at(past.days - 14, 15)
    clamps.take_clamps_off(file, trial_id, pieces)
