"""Every piece as a dot, set by set on one scale, as SVG that prints."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from html import escape
from math import ceil, floor, log10
from typing import Final

Scale = Callable[[float], float]
_WIDTH: Final = 680
_LEFT: Final = 190
_RIGHT: Final = 24
_ROW: Final = 34
_TOP: Final = 8
_BOTTOM: Final = 40
MOST_ROWS: Final = 20
_FONT: Final = 'font-family="Atkinson Hyperlegible, Arial, sans-serif"'
_INK: Final = "#16201d"
_TEAL: Final = "#1f6f78"
_TORN: Final = "#8a5a2b"


@dataclass(frozen=True)
class FigureDot:
    """One piece: value, what happened (`broke`, `held`, `step`, `fell_apart`), whether its wood tore, and it counts."""

    value: float
    held: float | None
    outcome: str
    is_torn: bool
    is_aside: bool


@dataclass(frozen=True)
class FigureSet:
    """One set: its name, its dots, the typical value and its range where they are known."""

    name: str
    dots: Sequence[FigureDot]
    typical: float | None
    low: float | None
    high: float | None


def draw_sets(sets: Sequence[FigureSet], unit: str) -> list[str]:
    """Return figures of at most twenty sets each, on one scale, so that none is cut by a page.

    Parameters
    ----------
    sets : values in the unit that is shown. unit : its symbol.
    """
    ticks = find_ticks(sets)
    return [_draw(sets[at : at + MOST_ROWS], ticks, unit) for at in range(0, len(sets), MOST_ROWS)]


def find_ticks(sets: Sequence[FigureSet]) -> list[float]:
    """Return even marks that hold every dot and range; from 0 where that costs less than half of the width."""
    values = [dot.value for one in sets for dot in one.dots]
    values += [end for one in sets for end in (one.low, one.high, one.typical) if end is not None]
    low, high = min(values, default=0.0), max(values, default=1.0)
    low = 0.0 if low < 0.5 * high else low
    step = _nice((high - low) / 6 or abs(high) / 6 or 1.0)
    first, last = floor(low / step + 1e-9), ceil(high / step - 1e-9)
    return [step * number for number in range(first, max(last, first + 1) + 1)]


def _nice(step: float) -> float:
    size = 10.0 ** floor(log10(step))
    return next(size * one for one in (1, 2, 5, 10) if size * one >= step * (1 - 1e-9))


def _draw(sets: Sequence[FigureSet], ticks: Sequence[float], unit: str) -> str:
    height = _TOP + _ROW * len(sets) + _BOTTOM
    span = ticks[-1] - ticks[0]

    def x(value: float) -> float:
        return round(_LEFT + (_WIDTH - _LEFT - _RIGHT) * (value - ticks[0]) / span, 1)

    foot = _TOP + _ROW * len(sets)
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {_WIDTH} {height}" width="100%" role="img" '
        f'aria-label="Every piece as a dot, {unit}" {_FONT} font-size="14" fill="{_INK}">'
    ]
    for tick in ticks:
        parts.append(f'<path d="M{x(tick)} {_TOP}V{foot}" stroke="#c5cdca"/>')
        parts.append(f'<text x="{x(tick)}" y="{foot + 16}" text-anchor="middle" font-size="12">{tick:.6g}</text>')
    parts.append(f'<text x="{_WIDTH - _RIGHT}" y="{foot + 34}" text-anchor="end" font-size="12">{escape(unit)}</text>')
    for row, one in enumerate(sets):
        parts += _draw_set(one, _TOP + _ROW * row + 12, x)
    return "".join([*parts, "</svg>"])


def _draw_set(one: FigureSet, y: float, x: Scale) -> list[str]:
    parts = [f'<text x="0" y="{y + 5}" font-weight="bold">{escape(shorten(one.name))}</text>']
    if one.low is not None and one.high is not None:
        width = max(1.0, x(one.high) - x(one.low))
        parts.append(f'<rect x="{x(one.low)}" y="{y + 9}" width="{width:.1f}" height="6" fill="{_TEAL}"/>')
    if one.typical is not None:
        parts.append(f'<path d="M{x(one.typical)} {y + 5}v14" stroke="{_INK}" stroke-width="2.4"/>')
    return [*parts, *(_draw_dot(dot, y, x) for dot in one.dots)]


def _draw_dot(dot: FigureDot, y: float, x: Scale) -> str:
    at = x(dot.value)
    ink = _TORN if dot.is_torn else _INK
    if dot.is_aside:
        return f'<path d="M{at - 4} {y - 4}l8 8m0 -8l-8 8" stroke="{_INK}" stroke-width="1.4" opacity="0.6"/>'
    match dot.outcome:
        case "held":
            return f'<path d="M{at} {y}h12m-4 -4l4 4l-4 4" stroke="{ink}" fill="none" stroke-width="1.6"/>'
        case "fell_apart":
            return f'<path d="M{at} {y}h-12m4 -4l-4 4l4 4" stroke="{ink}" fill="none" stroke-width="1.6"/>'
        case "step" if dot.held is not None:
            return f'<path d="M{x(dot.held)} {y}H{at}M{at} {y - 4}v8" stroke="{ink}" stroke-width="2" opacity="0.7"/>'
    if dot.is_torn:
        return f'<rect x="{at - 4}" y="{y - 4}" width="8" height="8" fill="{ink}" opacity="0.8"/>'
    return f'<circle cx="{at}" cy="{y}" r="4.2" fill="{ink}" opacity="0.75"/>'


_LONGEST: Final = 24


def shorten(name: str, longest: int = _LONGEST) -> str:
    """Return a name that stands beside a figure."""
    return name if len(name) <= longest else name[: longest - 1] + "…"
