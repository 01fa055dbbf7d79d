"""Every set as a share: of the best, of a named set, of the solid wood of its own, of a typed line; with its range."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import isfinite
from typing import Final

from adhaero.bench.compare.breaks import Breaks, Choice, collect_breaks, find_controls
from adhaero.bench.compare.findings.asked import Asked
from adhaero.bench.compare.findings.strength import pair_with_solid
from adhaero.bench.compare.headline import find_few
from adhaero.bench.compare.pairs import index, rank, turned_to
from adhaero.bench.compare.result_units import read_result_units
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.core.errors import EntryError
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.quantity import Kind, parse_quantity
from adhaero.core.response import FORMS as RESPONSES
from adhaero.core.stats.analyse import Analysis, Group
from adhaero.core.stats.enough import say_enough
from adhaero.core.stats.few import FewPieces
from adhaero.core.stats.pairs import Ends
from adhaero.core.units import Units, response_unit
from adhaero.store.file import ShopFile

BEST: Final = "the best"
SOLID: Final = "solid wood of its own"
_NO_LINE: Final = ("moment", "stiffness", "work", "length", "time")


@dataclass(frozen=True)
class ShareRow:
    """The share of one set, and its likely range, in words; empty where it is not known."""

    level: str
    share: str
    range: str


@dataclass(frozen=True)
class SharesView:
    """Every set as a share.

    Attributes
    ----------
    of : what they are shares of, in words. bases : what they could be of, beside a typed line.
    how : how the ranges are made. said : which sets are good enough for a line.
    problem : why what was typed is no base; empty where it is one.
    """

    of: str
    bases: list[str]
    rows: list[ShareRow]
    how: str
    said: Sequence[str] = ()
    problem: str = ""


def view_shares(file: ShopFile, trial_id: int, choice: Choice, of: str) -> SharesView:
    """Return every set of a slice as a share of `of`: one of the view's `bases`, or a line with its unit."""
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        units = read_result_units(connection, facts, choice)
    breaks = collect_breaks(facts, choice)
    if breaks.analysis is None:
        return SharesView("", [], [], "")
    try:
        return _view(facts, breaks, breaks.analysis, units, of.strip())
    except EntryError as error:
        return replace(_view(facts, breaks, breaks.analysis, units, ""), problem=error.sentence)


def _view(facts: PieceFacts, breaks: Breaks, analysis: Analysis, units: Units, of: str) -> SharesView:
    asked = Asked(facts, breaks, analysis)
    order = rank(analysis, asked.controls)
    bases = [BEST, *order, *([SOLID] if asked.controls else [])]
    if of and of not in bases:
        return _share_of_line(facts, breaks, analysis, units, of, bases)
    if of == SOLID:
        of_solid = {level: base for base, levels in pair_with_solid(asked).items() for level in levels}
        rows = [_row(analysis, one, of_solid[one]) for one in order if one in of_solid]
        return SharesView(SOLID, bases, rows, _OF_SETS)
    few = find_few(facts, breaks)
    if few is not None:
        levels = [one.level for one in few.spans]
        base = of if of in levels else levels[0]
        return SharesView(base, [BEST, *levels], _share_few(few, base), _OF_SPANS)
    base = order[0] if of in ("", BEST) else of
    return SharesView(base, bases, [_row(analysis, one, base) for one in order], _OF_SETS)


_OF_SETS: Final = "typical over typical, as the pairs are compared; all ranges hold together in 19 of 20 such trials"
_OF_SPANS: Final = "from what these pieces broke at; the range is that of their steps and limits, not of chance"
_OF_LINE: Final = "typical over what was typed; each range holds for its set in 19 of 20 such trials"


def _row(analysis: Analysis, level: str, base: str) -> ShareRow:
    if level == base:
        return ShareRow(level, "100 %", "")
    pair = index(analysis).get(frozenset((level, base)))
    if pair is not None:
        pair = turned_to(pair, level)
        return ShareRow(level, _percent(pair.ratio), _range(pair.ratio_ci95))
    typical = {one.level: one.typical for one in analysis.groups}
    mine, other = typical[level], typical[base]
    return ShareRow(level, _percent(mine / other if mine and other else None), "")


def _share_few(few: FewPieces, base: str) -> list[ShareRow]:
    against = next(one for one in few.spans if one.level == base)
    rows = []
    for one in few.spans:
        low = one.low / against.high if isfinite(against.high) and against.high > 0 else None
        high = one.high / against.low if isfinite(one.high) and against.low > 0 else None
        share = one.middle / against.middle if against.middle > 0 and isfinite(one.high) else None
        span = "" if one.level == base or (low, high) == (share, share) else _range((low, high))
        rows.append(ShareRow(one.level, _percent(share), span))
    return rows


def _share_of_line(
    facts: PieceFacts, breaks: Breaks, analysis: Analysis, units: Units, typed: str, bases: Sequence[str]
) -> SharesView:
    kind = RESPONSES[breaks.response].kind or FIXTURES[facts.fixture].kind
    if kind in _NO_LINE:
        raise EntryError(f"“{typed}” is no set.", f"Expected one of {', '.join(bases[:6])}.", field="of")
    shown = response_unit(kind, units)
    read = parse_quantity(typed, Kind.FORCE if kind == "load" else Kind.STRESS, shown.symbol, field="of")
    of_level = {one.level: one for one in analysis.groups}
    groups = [of_level[level] for level in rank(analysis, find_controls(facts, analysis))]
    rows = [ShareRow(one.level, *_over(one, read.si)) for one in groups]
    return SharesView(read.typed, list(bases), rows, _OF_LINE, say_enough(groups, read.si, read.typed))


def _over(one: Group, line: float) -> tuple[str, str]:
    if one.at_least is not None:
        return "", f"at least {_percent(one.at_least / line)}"
    if one.at_most is not None:
        return "", f"at most {_percent(one.at_most / line)}"
    ends = one.typical_ci95
    span = "" if ends is None else _range((ends[0] / line, ends[1] / line))
    return _percent(None if one.typical is None else one.typical / line), span


def _percent(share: float | None) -> str:
    return "" if share is None else f"{100 * share:.0f} %"


def _range(ends: Ends | None) -> str:
    low, high = ends or (None, None)
    if low is not None and high is not None:
        return f"{100 * low:.0f} to {100 * high:.0f} %"
    if low is not None:
        return f"at least {100 * low:.0f} %"
    return "" if high is None else f"at most {100 * high:.0f} %"
