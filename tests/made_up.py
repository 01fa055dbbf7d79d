"""Trials made up for tests and benchmarks, of the kinds that people ask: planned as people do, broken all at once."""

import random
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import timedelta
from math import exp
from pathlib import Path
from typing import Final

from adhaero.bench.facts.reading import read_trial
from adhaero.bench.plan import edits, settled, trials
from adhaero.bench.plan import view as plan_view
from adhaero.bench.plan.boards import BoardEntry, add_boards
from adhaero.bench.plan.factors import add_factor, edit_factor
from adhaero.bench.plan.levels import LevelEntry, add_level
from adhaero.bench.plan.treatments import add_control
from adhaero.core.plan.treatments import TreatmentKind
from adhaero.store.file import ShopFile, to_text
from adhaero.store.pieces import amend_piece, insert_batch
from adhaero.store.pulls import insert_pull
from tests.shops import empty_shop

Made = Mapping[str, str]
_YEAR = 365.25


@dataclass(frozen=True)
class Broken:
    """What became of a piece: load, N; with `held_n` it broke between the two; torn wood, percent; seconds held."""

    load_n: float | None
    outcome: str = "broke"
    held_n: float | None = None
    torn_pct: float = 0.0
    hold_s: float | None = None


@dataclass(frozen=True)
class MadeUp:
    """A trial that is made up.

    Attributes
    ----------
    varied : kind of each thing with its values. breaks : from a piece's values (none for solid wood), its board,
        from 0, and chance, what became of it.
    boards : species and how many. each : pieces of a set.
    """

    question: str
    varied: Sequence[tuple[str, Sequence[str]]]
    breaks: Callable[[Made, int, random.Random], Broken]
    boards: Sequence[tuple[str, int]] = (("larch", 6),)
    each: int = 6
    solid: bool = False
    fields: Mapping[str, str] = field(default_factory=dict)


_SIZES: Final = {"width_mm": "30 mm", "depth_mm": "9 mm", "span_mm": "120 mm", "joint": "edge"}
GLUES: Final = ("Heron", "Wren", "Plover", "Merlin", "Dunlin", "Teal", "Curlew", "Siskin")


def put(file: ShopFile, made: MadeUp) -> int:
    """Plan a trial and break every piece of it; return its id."""
    trial = plan_trial(file, made, to_break=False)
    break_all(file, trial, made)
    return trial


def plan_trial(file: ShopFile, made: MadeUp, *, to_break: bool = True) -> int:
    """Plan a trial and settle it; return its id.

    Parameters
    ----------
    to_break : every piece is glued and ready.
    """
    trial = trials.create_trial(file, made.question, seed=3)
    fields = {**_SIZES, **made.fields}
    if all(kind != "glue" for kind, _ in made.varied):
        fields.setdefault("glue", "Heron")
    for name, typed in fields.items():
        view = plan_view.view_plan(file, trial)
        shown = {one.name: one.typed for one in view.quantities}
        edits.edit_plan(file, trial, name, shown.get(name, str(getattr(view.trial, name, ""))), typed)
    for at, (kind, values) in enumerate(made.varied):
        factor = plan_view.view_plan(file, trial).factors[0]
        if at == 0 and factor.kind != kind:
            edit_factor(file, trial, factor.id, "kind", factor.kind, kind)
        key = factor.id if at == 0 else add_factor(file, trial, kind)
        for value in values:
            add_level(file, trial, key, LevelEntry(value, "epoxy" if kind == "glue" else ""))
    if made.solid:
        add_control(file, trial, TreatmentKind.SOLID)
    view = plan_view.view_plan(file, trial)
    edits.edit_plan(file, trial, "pieces_each", str(view.trial.pieces_each), str(made.each))
    sets = sum(not one.left_out for one in view.treatments)
    count = sum(number for _, number in made.boards)
    for species, number in made.boards:
        add_boards(file, trial, BoardEntry(species, str(-(-sets * made.each // count)), str(number)))
    settled.freeze_plan(file, trial)
    if to_break:
        made_utc = to_text(file.clock() - timedelta(days=30))
        with file.changing("Made up", trial, undoable=False) as connection:
            for key in read_trial(connection, trial).pieces:
                amend_piece(
                    connection, key, sawn_utc=made_utc, closed_utc=made_utc, clamped_utc=made_utc,
                    released_utc=made_utc,
                )  # fmt: skip
    return trial


def break_all(file: ShopFile, trial: int, made: MadeUp) -> None:
    """Break every piece, in one transaction."""
    chance, now = random.Random(5), file.now()
    with file.changing("Made up", trial, undoable=False) as connection:
        facts = read_trial(connection, trial)
        boards = {key: at for at, key in enumerate(facts.boards)}
        batch = insert_batch(
            connection, trial_id=trial, number=1, glue="Heron", glue_family="epoxy", started_utc=now
        )  # fmt: skip
        for piece in facts.pieces.values():
            broken = made.breaks(facts.made_of(facts.treatments[piece.treatment_id]), boards[piece.board_id], chance)
            age = facts.quantity_of(facts.treatments[piece.treatment_id], "cure_time_s") or 0.0
            made_utc = to_text(file.clock() - timedelta(seconds=age))
            closed = {"closed_utc": made_utc, "clamped_utc": made_utc, "released_utc": made_utc, "batch_id": batch}
            amend_piece(connection, piece.id, sawn_utc=now, **closed)  # type: ignore[arg-type]
            insert_pull(
                connection, piece_id=piece.id, attempt=1, source="hand", state="kept", started_utc=now, ended_utc=now,
                load_n=broken.load_n, held_n=broken.held_n, outcome=broken.outcome, wood_failure_pct=broken.torn_pct,
                hold_s=broken.hold_s,
            )  # type: ignore[arg-type] # fmt: skip


def _plain(level: float, chance: random.Random, scatter: float = 0.1, board: int = 0) -> Broken:
    return Broken(level * exp(chance.gauss(0, scatter) + 0.05 * ((board * 7) % 5 - 2)), torn_pct=10.0)


def many(glues: int = 32, each: int = 10) -> MadeUp:
    """Return glues in four conditions, a piece of each on every board; the last glue is the best by far but soaked."""
    names = [f"{GLUES[at % 8]} {at // 8 + 1}" for at in range(glues)]
    conditions = {"dry": 1.0, "soaked": 0.6, "boiled": 0.4, "frozen": 0.95}

    def breaks(made: Made, board: int, chance: random.Random) -> Broken:
        glue, condition = made.values()
        level = 600 * (1 + 0.02 * names.index(glue))
        if glue == names[-1]:
            level *= 0.5 if condition == "soaked" else 1.6
        return _plain(level * conditions[condition], chance, 0.08, board)

    return MadeUp(
        "Which glue holds a shaft best?", [("glue", names), ("condition", list(conditions))], breaks,
        boards=(("larch", each),), each=each,
    )  # fmt: skip


def _clamp_time(made: Made, board: int, chance: random.Random) -> Broken:
    if not made:
        return _plain(900, chance, 0.06, board)
    minutes = float(next(iter(made.values())).split()[0])
    return _plain(800 * minutes / (minutes + 12), chance, 0.06, board)


def _gap(made: Made, board: int, chance: random.Random) -> Broken:
    gap = float(next(iter(made.values())).split()[0])
    return _plain(700 / (1 + (gap / 0.6) ** 2), chance, 0.07, board)


def _steps(made: Made, board: int, chance: random.Random) -> Broken:
    load = 300 * (1 + 0.35 * GLUES.index(next(iter(made.values())))) * exp(chance.gauss(0, 0.05))
    held = 50 * (load // 50)
    return Broken(held + 50, held_n=held)


def _thawed(made: Made, board: int, chance: random.Random) -> Broken:
    return _plain(400 * (1 + 0.2 * GLUES.index(made["glue"])) * (0.8 if "thawed" in made.values() else 1), chance, 0.04)


def _pried(made: Made, board: int, chance: random.Random) -> Broken:
    share = {"Heron": 0.97, "Wren": 0.9, "Plover": 0.2}[next(iter(made.values()))]
    return Broken(None, "broke", torn_pct=90.0 if chance.random() < share else 20.0)


def _years(made: Made, board: int, chance: random.Random) -> Broken:
    glue, age = made.values()
    number, unit = age.split()
    years = float(number) * {"d": 1 / _YEAR, "mo": 1 / 12, "y": 1.0}[unit]
    start = {"Heron": 700, "Wren": 760, "Plover": 640}.get(glue, 600)
    return _plain(start * (1 - (0.06 if glue == "Wren" else 0.0) * years), chance, 0.07)


def _end_grain(made: Made, board: int, chance: random.Random) -> Broken:
    grain = next(iter(made.values()))
    return _plain((260 if "end" in grain else 800) * (1 + 0.06 * (board % 6)), chance, 0.08)


def _joints(made: Made, board: int, chance: random.Random) -> Broken:
    """Return pieces that were all held for a while, the stronger for longer."""
    level = {"edge joint": 550, "face joint": 800, "butt joint": 260}[next(iter(made.values()))]
    broken = _plain(level, chance, 0.08, board)
    return replace(broken, hold_s=(broken.load_n or 0) / 10)


WOODS: Final = ("larch", "ash", "spruce", "cherry", "beech", "walnut")
KINDS: Final[Mapping[str, MadeUp]] = {
    "clamp time": MadeUp(
        "How long must a shaft scarf stay in clamps?",
        [("clamp_time", ["5 min", "10 min", "20 min", "40 min", "80 min", "160 min"])], _clamp_time,
        solid=True, fields={"answer": "curve"},
    ),
    "gap": MadeUp(
        "How wide may a gap be?", [("gap", ["0.1 mm", "0.3 mm", "0.6 mm", "1 mm", "1.5 mm"])], _gap,
        fields={"answer": "curve"},
    ),
    "one each": MadeUp("Which of six holds most?", [("glue", GLUES[:6])], _steps, boards=(("larch", 1),), each=1),
    "pairs": MadeUp(
        "Does what is left of the pot still hold?",
        [("glue", GLUES), ("own", ["fresh", "thawed"])],
        _thawed, boards=(("larch", 1),), each=1,
    ),
    "passes": MadeUp(
        "Does it stay on when it is pried?", [("glue", GLUES[:3])], _pried, each=12,
        fields={"fixture": "pry", "answer": "pass_fail"},
    ),
    "years": MadeUp(
        "What do the years leave?",
        [("glue", GLUES[:3]), ("cure_time", ["7 d", "6 mo", "1 y", "2 y", "3 y", "5 y", "7 y"])],
        _years, fields={"answer": "trend"},
    ),
    "end grain": MadeUp(
        "Can end grain be glued?", [("grain", ["long grain", "end grain"])], _end_grain,
        boards=[(wood, 1) for wood in WOODS],
    ),
    "joints": MadeUp(
        "Which joint for a grip?", [("joint", ["edge joint", "face joint", "butt joint"])], _joints,
    ),
}  # fmt: skip


def make_shop(folder: Path, made: MadeUp) -> tuple[ShopFile, int]:
    """Return a new shop with one made-up trial, and the trial's id."""
    file = empty_shop(folder / "shop.sqlite")
    return file, put(file, made)
