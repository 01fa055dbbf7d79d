"""Sawing: which part comes out of which board where, what is left over, and what is still to buy."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from math import ceil, floor

from adhaero.core.joint import Member


@dataclass(frozen=True)
class Allowances:
    """What sawing and planing take, mm.

    Attributes
    ----------
    kerf_mm : of the blade. trim_mm : off each end of a board. planing_mm : added to width and thickness of each part.
    length_mm : added to the length of each part.
    """

    kerf_mm: float = 3.0
    trim_mm: float = 20.0
    planing_mm: float = 2.0
    length_mm: float = 0.0


@dataclass(frozen=True)
class BoardSize:
    """A board to saw, mm; `defects` are stretches along it that are skipped."""

    length_mm: float
    width_mm: float
    thickness_mm: float
    defects: tuple[tuple[float, float], ...] = ()


@dataclass(frozen=True)
class Part:
    """A part to cut: the piece it belongs to, which part of it, and its rough size (allowances included), mm."""

    piece: int
    words: str
    length_mm: float
    width_mm: float
    thickness_mm: float


@dataclass(frozen=True)
class Cut:
    """Where a part lies on its board: from one end, from one edge, and in which layer of a resawn board."""

    part: Part
    x_mm: float
    y_mm: float
    layer: int


@dataclass(frozen=True)
class Offcut:
    """A clear stretch that is left of a strip, mm."""

    x_mm: float
    y_mm: float
    length_mm: float
    width_mm: float


@dataclass(frozen=True)
class CutMap:
    """One board as it is sawn: its cuts, what is left of its strips, and the pieces that found no room."""

    board: BoardSize
    strips: int
    layers: int
    cuts: tuple[Cut, ...]
    offcuts: tuple[Offcut, ...]
    left_over: tuple[int, ...]


@dataclass
class _Run:
    """A clear stretch of a strip while it is being filled."""

    x_mm: float
    end_mm: float
    y_mm: float
    width_mm: float
    layer: int
    cuts: list[Cut] = field(default_factory=list)

    def room(self, length_mm: float) -> bool:
        return self.x_mm + length_mm <= self.end_mm + 1e-9


def make_parts(piece: int, members: Iterable[Member], allowances: Allowances) -> list[Part]:
    """Return the rough parts of one piece: its members with what planing and squaring takes."""
    return [
        Part(
            piece,
            one.words,
            one.length_mm + allowances.length_mm,
            one.width_mm + allowances.planing_mm,
            one.thickness_mm + allowances.planing_mm,
        )
        for one in members
    ]


def list_clear_runs(board: BoardSize, trim_mm: float) -> list[tuple[float, float]]:
    """Return the stretches along a board between its trimmed ends and its defects.

    Examples
    --------
    >>> list_clear_runs(BoardSize(1000, 100, 25, ((400, 450),)), 20)
    [(20, 400), (450, 980)]
    """
    runs, start, end = [], trim_mm, board.length_mm - trim_mm
    for low, high in sorted(board.defects):
        if min(low, end) > start:
            runs.append((start, min(low, end)))
        start = max(start, high)
    if end > start:
        runs.append((start, end))
    return runs


def saw_board(board: BoardSize, parts: Sequence[Part], allowances: Allowances, *, together: bool = False) -> CutMap:
    """Return where parts lie on a board: ripped into strips of their width, then crosscut.

    A board at least twice as thick as a part is resawn into layers. The longest parts go first, each into the first
    strip with room (first fit decreasing); parts of one length keep their order along the board. With `together`
    every piece's parts lie next to each other in one strip.

    Parameters
    ----------
    parts : in the order of their pieces along the board.

    Returns
    -------
    A piece any part of which finds no room is left over whole.
    """
    layers = _count_layers(board, parts, allowances)
    runs: list[_Run] = []
    state = _Ripping(board, allowances, layers)
    groups = _group(parts, together)
    left: dict[int, None] = {}
    for group in groups:
        if group[0].piece in left:
            continue
        if not _place(group, runs, state, allowances.kerf_mm):
            left[group[0].piece] = None
    for run in runs:
        run.cuts = [cut for cut in run.cuts if cut.part.piece not in left]
    cuts = [cut for run in runs for cut in run.cuts]
    offcuts = tuple(
        Offcut(run.x_mm, run.y_mm, run.end_mm - run.x_mm, run.width_mm)
        for run in runs
        if run.layer == 0 and run.end_mm - run.x_mm > 1
    )
    return CutMap(board, state.strips, layers, tuple(cuts), offcuts, tuple(left))


def _count_layers(board: BoardSize, parts: Sequence[Part], allowances: Allowances) -> int:
    thickest = max((part.thickness_mm for part in parts), default=0.0)
    if not parts or thickest > board.thickness_mm + 1e-9 + allowances.planing_mm:
        return 0
    return max(1, floor((board.thickness_mm + allowances.kerf_mm) / (thickest + allowances.kerf_mm)))


def _group(parts: Sequence[Part], together: bool) -> list[list[Part]]:
    if together:
        pieces: dict[int, list[Part]] = {}
        for part in parts:
            pieces.setdefault(part.piece, []).append(part)
        groups = list(pieces.values())
    else:
        groups = [[part] for part in parts]
    return sorted(groups, key=lambda group: (-group[0].width_mm, -sum(part.length_mm for part in group)))


@dataclass
class _Ripping:
    """How far a board is ripped into strips."""

    board: BoardSize
    allowances: Allowances
    layers: int
    y_mm: float = 0.0
    strips: int = 0

    def rip(self, width_mm: float) -> list[_Run]:
        """Take one more strip off the board; empty where it is too narrow."""
        if not self.layers or self.y_mm + width_mm > self.board.width_mm + 1e-9:
            return []
        y, self.y_mm = self.y_mm, self.y_mm + width_mm + self.allowances.kerf_mm
        self.strips += 1
        return [
            _Run(low, high, y, width_mm, layer)
            for layer in range(self.layers)
            for low, high in list_clear_runs(self.board, self.allowances.trim_mm)
        ]


def _place(group: Sequence[Part], runs: list[_Run], state: _Ripping, kerf_mm: float) -> bool:
    length = sum(part.length_mm for part in group) + kerf_mm * (len(group) - 1)
    width = group[0].width_mm
    while True:
        for run in runs:
            if abs(run.width_mm - width) < 0.5 and run.room(length):
                for part in group:
                    run.cuts.append(Cut(part, run.x_mm, run.y_mm, run.layer))
                    run.x_mm += part.length_mm + kerf_mm
                return True
        more = state.rip(width)
        if not more:
            return False
        runs += more


def count_pieces(board: BoardSize, members: Sequence[Member], allowances: Allowances, *, together: bool = False) -> int:
    """Return how many pieces of these members a board yields.

    Examples
    --------
    >>> shaft = [Member("first part", 238, 22, 22), Member("second part", 238, 22, 22)]
    >>> count_pieces(BoardSize(1900, 60, 26), shaft, Allowances())
    7
    """
    if not members:
        return 0
    clear = sum(high - low for low, high in list_clear_runs(board, allowances.trim_mm))
    one = make_parts(0, members, allowances)
    strips = floor((board.width_mm + allowances.kerf_mm) / (min(part.width_mm for part in one) + allowances.kerf_mm))
    layers = max(1, _count_layers(board, one, allowances))
    most = floor(clear * strips * layers / max(1.0, sum(part.length_mm for part in one))) + 1
    parts = [part for piece in range(min(most, 1000)) for part in make_parts(piece, members, allowances)]
    low, high = 0, min(most, 1000)
    while low < high:
        middle = (low + high + 1) // 2
        chosen = parts[: middle * len(members)]
        if saw_board(board, chosen, allowances, together=together).left_over:
            high = middle - 1
        else:
            low = middle
    return low


def explain_no_fit(board: BoardSize, member: Member, allowances: Allowances) -> str | None:
    """Return why not even one part fits a board, in words; None where it does."""
    part = make_parts(0, [member], allowances)[0]
    longest = max((high - low for low, high in list_clear_runs(board, allowances.trim_mm)), default=0.0)
    if part.length_mm > longest:
        return (
            f"its longest clear stretch is {longest:.0f} mm, and a part takes {part.length_mm:.0f} mm: "
            "use a longer board or shorter pieces"
        )
    if part.width_mm > board.width_mm:
        return f"it is {board.width_mm:.0f} mm wide, and a part takes {part.width_mm:.0f} mm"
    if not _count_layers(board, [part], allowances):
        return f"it is {board.thickness_mm:.0f} mm thick, and a part takes {part.thickness_mm:.0f} mm"
    return None


@dataclass(frozen=True)
class WoodBill:
    """Wood needed against wood there: lengths of strip, mm, and how many more boards of a size to buy."""

    needed_mm: float
    there_mm: float
    boards_to_buy: int


def compute_wood_bill(parts: Sequence[Part], maps: Sequence[CutMap], allowances: Allowances) -> WoodBill:
    """Return the strip length that parts take against what the boards give, and boards like the last one to buy."""
    needed = sum(part.length_mm + allowances.kerf_mm for part in parts)
    there = sum(_strip_length(one, parts, allowances) for one in maps)
    short = sum(len(one.left_over) for one in maps)
    if not short or not maps:
        return WoodBill(needed, there, 0)
    per_piece = max(1, len(parts) // max(1, len({part.piece for part in parts})))
    last = maps[-1]
    holds = max(1, len(last.cuts) // per_piece)
    return WoodBill(needed, there, ceil(short / holds))


def _strip_length(one: CutMap, parts: Sequence[Part], allowances: Allowances) -> float:
    width = max((part.width_mm for part in parts), default=0.0)
    strips = floor((one.board.width_mm + allowances.kerf_mm) / (width + allowances.kerf_mm)) if width else 0
    clear = sum(high - low for low, high in list_clear_runs(one.board, allowances.trim_mm))
    return strips * max(1, one.layers) * clear
