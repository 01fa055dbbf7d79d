"""The answer as a picture for a wall or a film: joints, how their pieces spread, what broke, and one sentence."""

from collections.abc import Sequence
from dataclasses import dataclass
from html import escape
from math import exp
from typing import Final

from adhaero.files.report.figure import shorten

WIDTH: Final = 1600
HEIGHT: Final = 1000
_INK, _PENCIL, _RULE = "#16201d", "#54615e", "#c5cdca"
_WOOD, _EDGE, _TEAL, _TORN = "#e9d3ae", "#8a6a3a", "#0f766e", "#8a5a2b"
_LEFT: Final = 590
_RIGHT: Final = 1530
_TOP: Final = 250
_BOTTOM: Final = 900
_MOST_SETS: Final = 10

# the glue line of each joint in a bar of 200 × 60, and for joints that are no bar the bar's own outline
_BAR: Final = "M0 0h200v60h-200z"
_LINES: Final = {
    "scarf": "M60 60L140 0", "edge": "M0 30h200", "face": "M0 30h200", "butt": "M100 0v60",
    "lapped-block": "M60 30h80", "half-lap": "M60 0v30h80v30", "v-joint": "M80 0l40 30l-40 30",
    "finger": "M84 0l32 10l-32 10l32 10l-32 10l32 10l-32 10", "miter": "M70 60L130 0", "rabbet": "M80 0v30h40v30",
    "mortise-tenon": "M80 0v16h50v28h-50v16", "mortise-tenon-edges": "M80 0v16h50v28h-50v16",
    "loose-tenon": "M100 0v16M100 44v16M70 16h60v28h-60z", "dowels": "M100 0v60M74 16h52M74 44h52",
    "spline": "M100 0v24M100 36v24M76 24h48v12h-48z", "crossed": "M70 0v60M130 0v60",
}  # fmt: skip
_OUTLINES: Final = {
    "lapped-block": "M0 0h140v30h-140zM60 30h140v30h-140z",
    "crossed": "M0 15h200v30h-200zM70 0h60v60h-60z",
}


@dataclass(frozen=True)
class PictureSet:
    """One set: its name, its joint (None without one), its values, and how many of its faces are torn wood, 0 to 1."""

    name: str
    joint: str | None
    values: Sequence[float]
    torn: float | None


def draw_picture(title: str, verdict: str, sets: Sequence[PictureSet], note: str) -> str:
    """Return the picture as SVG, without a number: sets in the given order on one scale."""
    shown = [one for one in sets if one.values][:_MOST_SETS]
    most = max((value for one in shown for value in one.values), default=1.0) or 1.0
    step = min(150.0, (_BOTTOM - _TOP) / max(1, len(shown)))
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH} {HEIGHT}" width="{WIDTH}" height="{HEIGHT}" '
        f'font-family="Atkinson Hyperlegible, Arial, sans-serif" fill="{_INK}" role="img">',
        f"<title>{escape(title)}</title>",
        f'<rect width="{WIDTH}" height="{HEIGHT}" fill="#fdfdfb"/>',
        f'<text x="70" y="84" font-size="30" fill="{_PENCIL}">{escape(title)}</text>',
        *_write_lines(verdict, 70, 146, 46, 58, 2),
    ]
    for at, one in enumerate(shown):
        parts += _draw_set(one, _TOP + (at + 0.5) * step, step, most)
    end = _TOP + len(shown) * step
    parts += [
        f'<path d="M{_LEFT} {_TOP - 12}V{end}" stroke="{_RULE}" stroke-width="2"/>',
        f'<text x="{_LEFT}" y="{end + 34}" font-size="24" fill="{_PENCIL}">nothing</text>',
        f'<text x="{_RIGHT}" y="{end + 34}" font-size="24" fill="{_PENCIL}" text-anchor="end">stronger →</text>',
        f'<rect x="70" y="938" width="26" height="26" fill="{_TORN}"/>'
        '<text x="106" y="960" font-size="24">wood tore</text>',
        f'<rect x="260" y="938" width="26" height="26" fill="{_TEAL}"/>'
        '<text x="296" y="960" font-size="24">the glue line let go</text>',
        f'<rect x="570" y="938" width="26" height="26" fill="{_PENCIL}"/>'
        '<text x="606" y="960" font-size="24">not judged</text>'
        if any(one.torn is None for one in shown)
        else "",
        f'<text x="{_RIGHT}" y="960" font-size="22" fill="{_PENCIL}" text-anchor="end">{escape(note)}</text>',
        "</svg>",
    ]
    return "".join(parts)


def _write_lines(text: str, x: int, y: int, size: int, step: int, most: int) -> list[str]:
    """Return a text broken into lines that fit the page."""
    lines, line = [], ""
    for word in text.split():
        longer = f"{line} {word}".strip()
        if len(longer) * size * 0.52 > WIDTH - 2 * x and line:
            lines.append(line)
            longer = word
        line = longer
    lines.append(line)
    if len(lines) > most:
        lines = [*lines[: most - 1], shorten(" ".join(lines[most - 1 :]), 58)]
    return [
        f'<text x="{x}" y="{y + at * step}" font-size="{size}" font-weight="bold">{escape(one)}</text>'
        for at, one in enumerate(lines)
    ]


def _draw_set(one: PictureSet, y: float, step: float, most: float) -> list[str]:
    size = min(1.0, step / 96)
    return [
        f'<text x="70" y="{y + 12:.1f}" font-size="{34 * size:.0f}" font-weight="bold">'
        f"{escape(shorten(one.name, 16))}</text>",
        f'<g transform="translate(362 {y - 30 * size:.1f}) scale({size:.2f})">{_draw_joint(one.joint)}</g>',
        *_draw_spread(one, y, step * 0.4, most),
    ]


def _draw_joint(joint: str | None) -> str:
    outline = _OUTLINES.get(joint or "", _BAR)
    wood = f'<path d="{outline}" fill="{_WOOD}" stroke="{_EDGE}" stroke-width="2.5"/>'
    if joint is None:
        return wood
    return wood + f'<path d="{_LINES.get(joint, "")}" fill="none" stroke="{_TEAL}" stroke-width="5"/>'


def _draw_spread(one: PictureSet, y: float, half: float, most: float) -> list[str]:
    """Return how the pieces of a set spread: as wide as pieces are many, its lower part by what share tore in wood."""
    low, high = min(one.values), max(one.values)
    width = max((high - low) * 0.22, most * 0.02)
    ends = (max(0.0, low - 1.6 * width), high + 1.6 * width)
    steps = [ends[0] + (ends[1] - ends[0]) * at / 60 for at in range(61)]
    thick = [sum(exp(-0.5 * ((x - value) / width) ** 2) for value in one.values) for x in steps]
    top = max(thick) or 1.0

    def at(value: float) -> float:
        return _LEFT + (_RIGHT - _LEFT) * value / (most * 1.06)

    def shape(up: float, down: float) -> str:
        upper = [f"{at(x):.1f} {y - half * up * t / top:.1f}" for x, t in zip(steps, thick, strict=True)]
        lower = [f"{at(x):.1f} {y + half * down * t / top:.1f}" for x, t in zip(steps, thick, strict=True)]
        return f"M{' L'.join([*upper, *reversed(lower)])}Z"

    torn = one.torn or 0.0
    whole = f'<path d="{shape(1, 1)}" fill="{_PENCIL if one.torn is None else _TEAL}"/>'
    wood = f'<path d="{shape(2 * torn - 1, 1)}" fill="{_TORN}"/>' if torn > 0 else ""
    dots = "".join(
        f'<circle cx="{at(value):.1f}" cy="{y:.1f}" r="5" fill="#fff" opacity="0.85"/>' for value in one.values
    )
    return [whole, wood, dots]
