"""Labels to print: for both halves of every piece, on sheets of paper or on strips of tape, exact in millimetres."""

import html
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from types import MappingProxyType
from typing import Final

import segno

from adhaero.core.errors import EntryError
from adhaero.core.text import drop_unseen

_PAD_MM = 1.2
_QUIET_MODULES = 2
_CODE_SHARE = 0.42
# width of a letter of the monospaced face, and what a proportional one takes at most, in its size
_MONO_EM, _TEXT_EM = 0.62, 0.56


@dataclass(frozen=True)
class Sheet:
    """A sheet of labels: paper and grid, mm; with one column and one row it is a strip that is cut by hand."""

    words: str
    paper_width_mm: float
    paper_height_mm: float
    columns: int
    rows: int
    label_width_mm: float
    label_height_mm: float
    left_mm: float
    top_mm: float
    gap_x_mm: float = 0.0
    gap_y_mm: float = 0.0

    @property
    def places(self) -> int:
        """Return how many labels a page holds."""
        return self.columns * self.rows


SHEETS: Final[Mapping[str, Sheet]] = MappingProxyType(
    {
        "a4-3x8": Sheet("A4, 3 × 8 labels of 70 × 37 mm", 210, 297, 3, 8, 70, 37, 0, 0.5),
        "a4-4x12": Sheet("A4, 4 × 12 labels of 48.5 × 24 mm", 210, 297, 4, 12, 48.5, 24, 8, 4.5),
        "letter-3x10": Sheet(
            "Letter, 3 × 10 labels of 66.7 × 25.4 mm", 215.9, 279.4, 3, 10, 66.7, 25.4, 4.8, 12.7, 3.1
        ),
        "strips-12": Sheet("A4, strips of 62 × 12 mm to cut, for tape", 210, 297, 3, 22, 62, 12, 10, 10, 2, 0.5),
    }
)


@dataclass(frozen=True)
class Label:
    """What stands on one half of a piece.

    Attributes
    ----------
    text : written large; set : how the piece is made; side : `right` or `left`, where the glue line is on this half,
        empty on a solid piece. code : what the code holds.
    """

    text: str
    treatment: str
    side: str
    code: str


def find_sheet(name: str) -> Sheet:
    """Return a sheet by its name; raises `EntryError` that lists them."""
    if name not in SHEETS:
        raise EntryError(f"“{name}” is not a sheet of labels.", f"Choose one of {', '.join(SHEETS)}.", field="sheet")
    return SHEETS[name]


def draw_pages(labels: Sequence[Label], sheet: Sheet, first: int = 1) -> Iterator[str]:
    """Yield one SVG for each page, its user unit a millimetre.

    Parameters
    ----------
    first : the place of the first label on the first page, from 1: sheets are often begun.

    Raises
    ------
    EntryError : the first page has no such place.
    """
    if not 1 <= first <= sheet.places:
        raise EntryError(
            f"The first label would stand on place {first}.", f"A sheet has {sheet.places} places.", field="first"
        )
    at = 0
    place = first - 1
    while at < len(labels):
        here = labels[at : at + sheet.places - place]
        yield _draw_page(here, sheet, place)
        at, place = at + len(here), 0


def _draw_page(labels: Sequence[Label], sheet: Sheet, place: int) -> str:
    parts = []
    for number, label in enumerate(labels, start=place):
        row, column = divmod(number, sheet.columns)
        x = sheet.left_mm + column * (sheet.label_width_mm + sheet.gap_x_mm)
        y = sheet.top_mm + row * (sheet.label_height_mm + sheet.gap_y_mm)
        parts.append(_draw_label(label, sheet, x, y))
    wide, high = sheet.paper_width_mm, sheet.paper_height_mm
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:g}mm" height="{high:g}mm" '
        f'viewBox="0 0 {wide:g} {high:g}" font-family="monospace" fill="#000">{"".join(parts)}</svg>'
    )


def _draw_label(label: Label, sheet: Sheet, x: float, y: float) -> str:
    wide, high = sheet.label_width_mm, sheet.label_height_mm
    code = min(high - 2 * _PAD_MM, _CODE_SHARE * wide)
    left = _PAD_MM + code + _PAD_MM
    room = wide - left - _PAD_MM
    big = min(high * 0.34, room / (_MONO_EM * len(label.text)))
    small = min(high * 0.17, max(1.8, room / (_TEXT_EM * max(1, len(label.treatment)))))
    shown = _shorten(label.treatment, int(room / (_TEXT_EM * small)))
    base = _PAD_MM + big * 0.85
    strip = high - _PAD_MM - high * 0.2
    return (
        f'<g transform="translate({x:.3f} {y:.3f})" data-label="{_escape(label.text)}">'
        f'<rect width="{wide:g}" height="{high:g}" fill="none" stroke="#bbb" stroke-width="0.1"/>'
        f'<path d="{_draw_code(label.code)}" transform="translate({_PAD_MM} {(high - code) / 2:.3f}) '
        f'scale({code / _code_size(label.code):.5f})"/>'
        f'<text x="{left:.3f}" y="{base:.3f}" font-size="{big:.3f}" font-weight="bold">{_escape(label.text)}</text>'
        f'<text x="{left:.3f}" y="{base + small * 1.35:.3f}" font-size="{small:.3f}" font-family="sans-serif">'
        f"{_escape(shown)}</text>"
        f"{_draw_half(label.side, left, strip, room, high * 0.2)}</g>"
    )


def _escape(text: str) -> str:
    return html.escape(drop_unseen(text))


def _draw_half(side: str, x: float, y: float, wide: float, high: float) -> str:
    """Draw this half of the piece, its grain, and a thick line where the glue line is."""
    lines = f'<rect x="{x:.3f}" y="{y:.3f}" width="{wide:.3f}" height="{high:.3f}" fill="none" stroke="#000" '
    lines += 'stroke-width="0.2"/>'
    lines += f'<path d="M{x + 0.8:.3f} {y + high / 2:.3f}h{wide - 1.6:.3f}" stroke="#000" stroke-width="0.1"/>'
    if side:
        edge = x + wide if side == "right" else x
        lines += f'<path d="M{edge:.3f} {y:.3f}v{high:.3f}" stroke="#000" stroke-width="0.9"/>'
    return lines


def _shorten(text: str, letters: int) -> str:
    return text if len(text) <= letters else f"{text[: max(1, letters - 1)]}…"


@lru_cache(maxsize=8192)
def _encode(content: str) -> tuple[tuple[bool, ...], ...]:
    code = segno.make_qr(content, error="m")
    return tuple(tuple(bool(module) for module in row) for row in code.matrix)


def _code_size(content: str) -> int:
    return len(_encode(content)) + 2 * _QUIET_MODULES


def _draw_code(content: str) -> str:
    """Return the dark modules as one path, a run of them at a time, with a quiet margin."""
    path = []
    for y, row in enumerate(_encode(content)):
        start = None
        for x, dark in enumerate((*row, False)):
            if dark and start is None:
                start = x
            elif not dark and start is not None:
                path.append(f"M{start + _QUIET_MODULES} {y + _QUIET_MODULES}h{x - start}v1h-{x - start}z")
                start = None
    return "".join(path)


def make_print_page(title: str, labels: Sequence[Label], sheet: Sheet, first: int = 1) -> Iterator[str]:
    """Yield a page for the browser's print, piece by piece: every sheet at its true size, without margins."""
    wide, high = sheet.paper_width_mm, sheet.paper_height_mm
    yield (
        f'<!doctype html><html lang="en"><head><meta charset="utf-8"><link rel="icon" href="data:,">'
        f"<title>{_escape(title)}</title><style>"
        f"@page{{size:{wide:g}mm {high:g}mm;margin:0}}body{{margin:0}}"
        f"svg{{display:block;break-after:page;width:{wide:g}mm;height:{high:g}mm}}</style></head><body>"
    )
    yield from draw_pages(labels, sheet, first)
    yield "</body></html>"
