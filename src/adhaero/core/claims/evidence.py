"""The numbers that conclusions are held against: sets in one slice, what they keep, their curves."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from math import log
from statistics import median

import numpy as np
from scipy import special

from adhaero.core.claims.amounts import Unit, unit_of_column
from adhaero.core.claims.names import Ref
from adhaero.core.errors import DataError
from adhaero.core.stats.analyse import Analysis, Group, Question, analyse
from adhaero.core.stats.breaks import Specimen
from adhaero.core.stats.curves import Curve
from adhaero.core.stats.factors import FactorEffect, analyse_factors
from adhaero.core.stats.own_scatter import Origin
from adhaero.core.stats.pairs import Ends, Pair
from adhaero.core.stats.retention import Asked, Retention
from adhaero.core.stats.table import make_table

_TWENTIETH = 0.05


@dataclass(frozen=True)
class Range:
    """A ratio and its range; an end None is open, the ratio None where one side has no estimate."""

    ratio: float | None
    low: float | None
    high: float | None

    @property
    def known(self) -> bool:
        """Return whether the range says anything on either side."""
        return self.low is not None or self.high is not None

    def turn(self) -> "Range":
        """Return the range the other way round."""

        def over(value: float | None) -> float | None:
            return None if value is None else 1 / value if value > 0 else None

        return Range(over(self.ratio), over(self.high), over(self.low))


def range_of(ratio: float | None, ends: Ends | None) -> Range:
    """Return a ratio and its ends as a range."""
    low, high = ends or (None, None)
    return Range(ratio, low, high)


@dataclass(frozen=True)
class SetSlice:
    """The sets of one slice: every pair of them, and the numbers as read.

    Attributes
    ----------
    by : names of what is varied; control : the set that takes no part in all, none, places and the most.
    extra : further sets that take no part either (baselines, one a wood).
    """

    analysis: Analysis
    specimens: tuple[Specimen, ...]
    by: tuple[str, ...]
    effects: tuple[FactorEffect, ...] = ()
    controls: tuple[str, ...] = ()
    wood_failure_from: float = 75.0

    @cached_property
    def levels(self) -> tuple[str, ...]:
        """Return the sets in order."""
        return tuple(one.level for one in self.analysis.groups)

    @cached_property
    def _pairs(self) -> dict[tuple[str, str], Pair]:
        return {(one.a, one.b): one for one in self.analysis.pairs}

    @cached_property
    def groups(self) -> dict[str, Group]:
        """Return the sets by their name."""
        return {one.level: one for one in self.analysis.groups}

    @property
    def margin(self) -> float:
        """Return the smallest difference that matters, as a share."""
        return self.analysis.margin_pct / 100

    def everyone(self, like: Ref | None) -> tuple[Ref, ...]:
        """Return all sets but the controls, or where a value of a factor is meant all its values."""
        if like is not None and like.kind == "value":
            effect = self.find_effect(like.key[0])
            return () if effect is None else tuple(Ref("value", (effect.factor, one.level)) for one in effect.levels)
        return tuple(Ref("set", (level,)) for level in self.levels if level not in self.controls)

    @property
    def control(self) -> Ref | None:
        """Return the one control, if there is just one."""
        return Ref("set", (self.controls[0],)) if len(self.controls) == 1 else None

    def find_effect(self, factor: str) -> FactorEffect | None:
        """Return what a factor does."""
        return next((one for one in self.effects if one.factor == factor), None)

    def find_set(self, ref: Ref) -> str | None:
        """Return the set that a name stands for; None where it is a value averaged over others."""
        if ref.kind == "set":
            return ref.key[0]
        if ref.kind == "values":
            named = dict(zip(ref.key[::2], ref.key[1::2], strict=True))
            if set(named) == set(self.by):
                level = ", ".join(named[name] for name in self.by)
                return level if level in self.groups else None
        return None

    def compare(self, a: Ref, b: Ref) -> Range | None:
        """Return a over b with the simultaneous range; None where the two cannot be compared."""
        if a.kind == "value" and b.kind == "value":
            effect = self.find_effect(a.key[0])
            if effect is None or a.key[0] != b.key[0]:
                return None
            return _find_pair({(one.a, one.b): one for one in effect.pairs}, a.key[1], b.key[1])
        first, second = self.find_set(a), self.find_set(b)
        if first is None or second is None or first == second:
            return None
        return _find_pair(self._pairs, first, second)

    def find_typical(self, ref: Ref) -> float | None:
        """Return a typical strength, in the unit of the response."""
        level = self.find_set(ref)
        if level is not None:
            return self.groups[level].typical if level in self.groups else None
        effect = self.find_effect(ref.key[0]) if ref.kind == "value" else None
        return next((one.typical for one in effect.levels if one.level == ref.key[1]), None) if effect else None

    def pieces(self, ref: Ref) -> list[Specimen]:
        """Return the pieces that count of a set, or of a value of a factor."""
        level = self.find_set(ref)
        if level is not None:
            return [one for one in self.specimens if one.excluded is None and one.level == level]
        named = dict(zip(ref.key[::2], ref.key[1::2], strict=True))
        return [
            one
            for one in self.specimens
            if one.excluded is None and all(one.factors.get(name) == value for name, value in named.items())
        ]

    def read_numbers(self, ref: Ref, what: str) -> list[float]:
        """Return the numbers that an average, median, least or greatest may be: as read, and for averages typical."""
        values = [one.value for one in self.pieces(ref) if one.value is not None]
        if not values:
            return []
        if what == "average":
            typical = self.find_typical(ref)
            return [sum(values) / len(values), *([] if typical is None else [typical])]
        return [median(values) if what == "median" else min(values) if what == "least" else max(values)]

    def compare_scatter(self, a: Ref, b: Ref) -> Range | None:
        """Return the ratio of the variances of logarithms, with its range by F over all pairs; None without."""
        known = self._scatters
        first, second = self.find_set(a), self.find_set(b)
        if first not in known or second not in known or first == second:
            return None
        (v_a, n_a), (v_b, n_b) = known[first], known[second]
        pairs = len(known) * (len(known) - 1) // 2
        ratio, tail = v_a / v_b, _TWENTIETH / 2 / pairs
        high = float(special.fdtri(n_a - 1, n_b - 1, 1 - tail))
        low = float(special.fdtri(n_a - 1, n_b - 1, tail))
        return Range(ratio, ratio / high, ratio / low)

    @cached_property
    def _scatters(self) -> dict[str | None, tuple[float, int]]:
        found: dict[str | None, tuple[float, int]] = {}
        for group in self.analysis.groups:
            logs = [
                log(one.value)
                for one in self.specimens
                if one.level == group.level and one.excluded is None and one.value
            ]
            own = len(logs) >= 3 and len(set(logs)) > 1
            if group.n_broke == group.n and own and (group.scatter in (Origin.OWN, Origin.COMMON)):
                found[group.level] = (float(np.var(logs, ddof=1)), len(logs))
        return found


def _find_pair(pairs: Mapping[tuple[str, str], Pair], a: str, b: str) -> Range | None:
    if (a, b) in pairs:
        one = pairs[a, b]
        return range_of(one.ratio, one.ratio_ci95)
    if (b, a) in pairs:
        one = pairs[b, a]
        return range_of(one.ratio, one.ratio_ci95).turn()
    return None


@dataclass(frozen=True)
class Shares:
    """What sets keep in one condition: their shares, and each pair of these."""

    after: str
    before: str
    kept: Mapping[str, Range]
    pairs: Mapping[tuple[str, str], Pair]

    def compare(self, a: str, b: str) -> Range | None:
        """Return a's share over b's."""
        return _find_pair(self.pairs, a, b)


@dataclass(frozen=True)
class CurveSlice:
    """A curve and in what its x is measured."""

    curve: Curve
    x_unit: Unit | None
    x_name: str


@dataclass(frozen=True)
class Evidence:
    """What conclusions are held against.

    Attributes
    ----------
    slices : sets by slice (“” where there is one); shares : what they keep, by condition; curves : by set.
    column : of the slices; said : values of columns to which all is kept (`--where`), which may be said.
    unit : of the response.
    """

    slices: Mapping[str, SetSlice]
    column: str = ""
    said: tuple[tuple[str, str], ...] = ()
    unit: Unit | None = None
    shares: Mapping[str, Shares] = field(default_factory=dict)
    before: str = ""
    curves: Mapping[str, CurveSlice] = field(default_factory=dict)
    refs: tuple[Ref, ...] = ()

    @property
    def one_slice(self) -> SetSlice | None:
        """Return any of the slices."""
        return next(iter(self.slices.values()), None)


def make_slice(
    specimens: tuple[Specimen, ...],
    question: Question,
    controls: tuple[str, ...] | None = None,
    by: tuple[str, ...] | None = None,
) -> SetSlice:
    """Return the sets of some specimens, every pair of them compared.

    Parameters
    ----------
    controls : sets that take no part in all, none, places and the most; the question's control without.
    by : names of what is varied; those of the specimens without. Specimens without one of them (baselines) have no part
        in the values.
    """
    given = (question.control,) if question.control is not None else ()
    result = analyse(specimens, replace(question, control=None))
    if by is None:
        by = tuple(next((one.factors for one in specimens if one.factors), {}))
    effects: tuple[FactorEffect, ...] = ()
    if len(by) > 1:
        made = [one for one in specimens if set(one.factors) == set(by)]
        try:
            table = make_table(made, question.estimate, question.wood_failure_from, question.block)
            effects = analyse_factors(table, question.margin_pct).effects
        except DataError:
            effects = ()
    return SetSlice(result, specimens, by, effects, given if controls is None else controls, question.wood_failure_from)


def evidence_of_sets(
    parts: Mapping[str, tuple[Specimen, ...]],
    question: Question,
    said: Sequence[tuple[str, str]] = (),
    column: str = "each",
    controls: tuple[str, ...] | None = None,
) -> Evidence:
    """Return the evidence of an analysis, or of one in several slices.

    Parameters
    ----------
    parts : specimens by slice; said : columns and values to which the rows are kept; column : that of the slices.
    """
    slices = {value: make_slice(some, question, controls) for value, some in parts.items()}
    return refs_of(slices, question, said, column)


def refs_of(
    slices: Mapping[str, SetSlice], question: Question, said: Sequence[tuple[str, str]] = (), column: str = ""
) -> Evidence:
    """Return slices with the names by which a conclusion may call them."""
    refs: list[Ref] = []
    for one in slices.values():
        refs += [Ref("set", (level,)) for level in one.levels]
    by = next((one.by for one in slices.values()), ())
    if len(by) > 1:
        for effect in next(iter(slices.values())).effects:
            refs += [Ref("value", (effect.factor, level.level)) for level in effect.levels]
    refs += [Ref("factor", (name,)) for name in (by if len(by) > 1 else (question.by,))]
    refs += [Ref("condition", (column, value)) for value in slices if value]
    refs += [Ref("condition", pair) for pair in said]
    return Evidence(slices, column, tuple(said), unit_of_column(question.response), refs=tuple(dict.fromkeys(refs)))


def evidence_of_retention(
    specimens: Sequence[Specimen], result: Retention, asked: Asked, said: Sequence[tuple[str, str]], response: str = ""
) -> Evidence:
    """Return the evidence of what sets keep, and of their strength in each condition."""
    shares = {}
    values = list(dict.fromkeys(one.after for one in result.kept))
    for after in values:
        here = [one for one in result.kept if one.after == after]
        pairs = {(one.a, one.b): one for one in result.pairs if one.after == after}
        shares[after] = Shares(
            after, result.before, {one.level: range_of(one.share, one.ci95) for one in here}, dict(pairs)
        )
    parts: dict[str, tuple[Specimen, ...]] = {}
    for value in (result.before, *values):
        mine = [_without(one, asked.condition) for one in specimens if one.factors[asked.condition] == value]
        usable = {one.level for one in mine if one.excluded is None}
        parts[value] = tuple(one for one in mine if one.level in usable)
    question = Question(response, "set", asked.block, None, asked.estimate, asked.wood_failure_from, asked.margin_pct)
    found = evidence_of_sets(parts, question, said, asked.condition)
    return replace(found, shares=shares, before=result.before)


def _without(one: Specimen, condition: str) -> Specimen:
    """Return a specimen as it stands within its condition."""
    rest = {name: value for name, value in one.factors.items() if name != condition}
    return replace(one, level=", ".join(rest.values()) or "all", factors=rest)


def evidence_of_curves(
    curves: Mapping[str, Curve], x: str, x_unit: Unit | None, y_unit: Unit | None, said: Sequence[tuple[str, str]] = ()
) -> Evidence:
    """Return the evidence of curves, one for each set or one for all; x is what they go along, by name."""
    found = {level: CurveSlice(curve, x_unit, x) for level, curve in curves.items()}
    refs = [Ref("condition", ("by", level)) for level in curves if level]
    refs += [Ref("condition", pair) for pair in said]
    return Evidence({}, "by", tuple(said), y_unit, curves=found, refs=tuple(refs))
