"""What the boards of a plan yield: pieces by their size, and pieces dealt to them that find no room."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from adhaero.core.joint import Member
from adhaero.core.plan.cutting import Allowances, BoardSize, count_pieces, explain_no_fit, make_parts, saw_board
from adhaero.core.plan.layout import Place
from adhaero.core.plan.planned import Plan, list_kinds


@dataclass(frozen=True)
class BoardYield:
    """What a board of the plan gives.

    Attributes
    ----------
    asked : pieces that are dealt to it. fits : pieces that its size yields, of whichever set; None without a size.
    short : pieces dealt to it that find no room when it is sawn. trouble : why a part does not fit at all.
    """

    name: str
    asked: int
    fits: int | None
    short: int
    trouble: str | None


def count_yield(plan: Plan, size: BoardSize) -> int | None:
    """Return how many pieces a board yields, whichever set they are of; None while a size of the piece is missing."""
    kinds = {(members, 2 if index in plan.bars else 1) for index, members in enumerate(list_kinds(plan)) if members}
    if not kinds:
        return None
    return min(each * count_pieces(size, members, plan.allowances, together=plan.together) for members, each in kinds)


def compute_yields(plan: Plan, layout: Sequence[Place]) -> tuple[BoardYield, ...]:
    """Return what each board of a plan gives; `layout` says which pieces are dealt to it."""
    kinds = list_kinds(plan)
    dealt: dict[int, list[int]] = {}
    for place in layout:
        dealt.setdefault(place.board, []).append(place.treatment)
    found = []
    known: dict[BoardSize, tuple[int | None, str | None]] = {}
    for index, board in enumerate(plan.boards):
        asked = len(dealt.get(index, ())) if layout else board.holds
        if board.size is None or not kinds:
            found.append(BoardYield(board.name, asked, None, 0, None))
            continue
        size = board.size
        if size not in known:
            troubles = (explain_no_fit(size, one, plan.allowances) for members in set(kinds) for one in members)
            known[size] = count_yield(plan, size), next((why for why in troubles if why), None)
        bars = sorted((kinds[one] for one in dealt.get(index, ()) if kinds[one]), key=_size_order)
        short = _count_short(size, tuple(bars), plan.allowances, plan.together) * (2 if plan.bars else 1)
        found.append(BoardYield(board.name, asked, known[size][0], short, known[size][1]))
    return tuple(found)


def _size_order(members: Sequence[Member]) -> tuple[tuple[float, float, float], ...]:
    return tuple((one.length_mm, one.width_mm, one.thickness_mm) for one in members)


@lru_cache(maxsize=1024)
def _count_short(
    size: BoardSize, pieces: tuple[tuple[Member, ...], ...], allowances: Allowances, together: bool
) -> int:
    """Return how many of a board's pieces find no room when it is sawn; boards alike are sawn once."""
    parts = [part for number, members in enumerate(pieces) for part in make_parts(number, members, allowances)]
    return len(saw_board(size, parts, allowances, together=together).left_over)
