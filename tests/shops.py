"""A shop file for tests, its clock set by hand, and a small trial carried as far as a test needs it."""

import atexit
import shutil
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from functools import cache
from pathlib import Path
from tempfile import mkdtemp

from adhaero.bench.breaking.hand_break import HandBreak, break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.breaking.view import PullView, view_break
from adhaero.bench.glue import batches, clamps
from adhaero.bench.glue.batches import BatchEntry
from adhaero.bench.over.making import MakingPiece, view_making
from adhaero.bench.plan import edits, settled, trials
from adhaero.bench.plan import view as plan_view
from adhaero.bench.plan.boards import BoardEntry, add_boards
from adhaero.bench.plan.factors import edit_factor
from adhaero.bench.plan.levels import LevelEntry, add_level
from adhaero.bench.saw import pieces as saw_pieces
from adhaero.bench.shop.glues import GlueEntry, add_glue
from adhaero.bench.shop.rig_form import RigEntry
from adhaero.bench.shop.rigs import save_rig
from adhaero.store.file import ShopFile, open_shop, utc_now

FIELDS = {
    "glue": "Wren",
    "joint": "edge",
    "width_mm": "30 mm",
    "depth_mm": "9 mm",
    "span_mm": "120 mm",
    "clamp_time_s": "2 h",
    "cure_time_s": "24 h",
}


def typed_break(piece_id: int, load: str, judgement: Judgement, held: str = "") -> HandBreak:
    """Return a break as a person types it on the trial's rig."""
    return HandBreak(piece=piece_id, load=load, judgement=judgement, held=held)


@dataclass
class Clock:
    """What the time is in a test."""

    now: datetime = datetime(2026, 3, 2, 8, 0, tzinfo=UTC)

    def __call__(self) -> datetime:
        return self.now

    def forward(self, **by: float) -> None:
        self.now += timedelta(**by)


@dataclass
class Shop:
    """A shop with one trial, as far as it has come."""

    file: ShopFile
    clock: Clock
    trial: int = 0

    @property
    def pieces(self) -> list[MakingPiece]:
        return view_making(self.file, self.trial).pieces

    def piece(self, label: str) -> MakingPiece:
        return next(one for one in self.pieces if one.label == label)

    def piece_set(self, piece_id: int) -> int:
        name = next(one.treatment for one in self.pieces if one.id == piece_id)
        return next(one.id for one in plan_view.view_plan(self.file, self.trial).treatments if one.name == name)

    def pulls(self, index: int = 0) -> list[PullView]:
        piece = view_break(self.file, self.trial, self.pieces[index].id).piece
        return piece.pulls if piece else []

    def add(self, value: str, family: str = "") -> int:
        factor = plan_view.view_plan(self.file, self.trial).factors[0]
        return add_level(self.file, self.trial, factor.id, LevelEntry(value, family))

    def edit(self, name: str, typed: str) -> None:
        view = plan_view.view_plan(self.file, self.trial)
        shown = {one.name: one.typed for one in view.quantities}
        shown |= {name: str(getattr(view.trial, name) or "") for name in ("rig_id", "reference_id")}
        was = shown[name] if name in shown else str(getattr(view.trial, name))
        edits.edit_plan(self.file, self.trial, name, was, typed, "as tried" if view.trial.frozen_utc else "")

    def vary(self, kind: str, names: tuple[str, ...] = (), family: str = "") -> int:
        """Vary a kind of thing in the first factor by these values; return its id."""
        factor = plan_view.view_plan(self.file, self.trial).factors[0]
        if factor.kind != kind:
            edit_factor(self.file, self.trial, factor.id, "kind", factor.kind, kind)
        for name in names:
            add_level(self.file, self.trial, factor.id, LevelEntry(name, family))
        return factor.id

    def plan(
        self, names: tuple[str, ...] = ("planed", "toothed"), pieces: int = 4, count: int = 4, holds: int = 0
    ) -> "Shop":
        add_glue(self.file, GlueEntry("Wren", "cross-linking PVA", "2026-01-10", "2207"))
        self.trial = trials.create_trial(self.file, "Does a toothed edge hold better?", seed=7)
        for name, typed in FIELDS.items():
            self.edit(name, typed)
        self.vary("prep", names)
        self.edit("pieces_each", str(pieces))
        add_boards(
            self.file, self.trial, BoardEntry("larch", str(holds or -(-len(names) * pieces // count)), str(count))
        )
        return self

    def saw(self) -> "Shop":
        settled.freeze_plan(self.file, self.trial)
        saw_pieces.mark_sawn(self.file, self.trial, [one.id for one in self.pieces])
        return self

    def glue(self) -> "Shop":
        ids = [one.id for one in self.pieces if not one.solid]
        batches.start_batch(self.file, self.trial, BatchEntry(ids, "Wren", shop_temperature="19.5 °C"))
        clamps.put_clamps_on(self.file, self.trial, ids)
        return self

    def cure(self) -> "Shop":
        self.clock.forward(hours=2)
        clamps.take_clamps_off(self.file, self.trial, [one.id for one in self.pieces if not one.solid])
        self.clock.forward(hours=23)
        return self

    def break_all(self, loads: dict[str, list[str]]) -> "Shop":
        waiting = {name: list(values) for name, values in loads.items()}
        for piece in self.pieces:
            break_by_hand(
                self.file, self.trial, typed_break(piece.id, waiting[piece.treatment].pop(0), Judgement("broke", "25"))
            )
        return self


@cache
def _make_empty() -> Path:
    """Make an empty shop file once a worker: its tables take longer to make than most tests."""
    folder = Path(mkdtemp(prefix="adhaero-empty-"))
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    return open_shop(folder / "shop.sqlite").path


def empty_shop(path: Path, clock: Callable[[], datetime] = utc_now) -> ShopFile:
    """Return an empty shop file at a path."""
    path.parent.mkdir(parents=True, exist_ok=True)
    shutil.copyfile(_make_empty(), path)
    return open_shop(path, clock)


def new_shop(folder: Path) -> Shop:
    clock = Clock()
    return Shop(empty_shop(folder / "shop.sqlite", clock), clock)


def press(url: str = "socket://127.0.0.1:1", **changes: object) -> RigEntry:
    values = {"name": "Press", "url": url, "unit": "kgf", "capacity": "5 kN", "resolution": "0.5 N", "simulated": True}
    values |= changes
    return RigEntry(**values)  # type: ignore[arg-type]


def ready_shop(folder: Path) -> Shop:
    """Return a shop whose eight pieces are ready to break."""
    return new_shop(folder).plan().saw().glue().cure()


def add_press(shop: Shop, url: str, **changes: object) -> int:
    return save_rig(shop.file, press(url, **changes))
