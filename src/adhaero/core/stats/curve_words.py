"""Curves in plain words, every sentence made from fields of the fit."""

from math import floor, log10

from adhaero.core.stats.curve_comparison import CurveComparison, CurvePair
from adhaero.core.stats.curves import Curve, Reached
from adhaero.core.stats.laws import CLEAR, LIKELY, find_t
from adhaero.core.stats.shape import Shape
from adhaero.core.stats.words import and_join, list_some, say_chance, say_span

_ONE = {"minutes": "minute", "hours": "hour", "days": "day", "years": "year"}
_THING = {"S": "final strength", "half": "way to half of it", "b": "slope"}


def say_number(value: float, spread: float | None = None) -> str:
    """Return a number with two digits of its uncertainty, three of its own where that is not known.

    Examples
    --------
    >>> say_number(3.7836, 0.77), say_number(1234.6, 88.0), say_number(0.012345)
    ('3.78', '1235', '0.0123')
    """
    size = abs(spread) if spread else abs(value)
    if size == 0:
        return f"{value:.3g}"
    digits = (2 if spread else 3) - 1 - floor(log10(size))
    return f"{value:.{min(12, max(0, digits))}f}".replace("-", "−")


def _range(value: float, ends: tuple[float, float] | None, unit: str) -> str:
    after = f" {unit}" if unit else ""
    if ends is None:
        return f"{say_number(value)}{after}"
    spread = (ends[1] - ends[0]) / 2
    low, high = (say_number(end, spread) for end in ends)
    return f"{say_number(value, spread)}{after} ({low} to {high})"


def _around(curve: Curve, name: str) -> tuple[float, float] | None:
    one = curve.parameters[name]
    if one.se is None:
        return None
    far = find_t(LIKELY, curve.df) * one.se
    return one.value - far, one.value + far


def say_curve(curve: Curve, x_unit: str, y_unit: str) -> list[str]:
    """Return what a curve says; where it does not fit, nothing that stands on the curve alone.

    Parameters
    ----------
    curve : the fit; x_unit, y_unit : units in words, or the names of the columns.
    """
    said = _say_shape(curve, x_unit, y_unit)
    if curve.r2 is not None:
        said.append(
            f"{_pieces(curve.n)}; the curve takes up {_say_share(curve.r2)} of how they differ, and they "
            f"scatter about it by {say_number(curve.residual_sd)} {y_unit}."
        )
    if not curve.fits and curve.lack_of_fit is not None:
        said.append(
            "The averages at each value lie off the curve by more than the pieces scatter (chance alone does as much "
            f"{say_chance(curve.lack_of_fit.p)}): this is not the shape, and nothing is read off it."
        )
    if curve.wood_at_end:
        said.append(
            f"At {say_number(curve.most_x)} {x_unit} half of the pieces or more tore in the wood: what is reached "
            "there is the wood's strength, and the glue's may be higher."
        )
    if curve.left_out:
        names = list_some([f"{one.specimen} ({one.reason.replace('_', ' ')})" for one in curve.left_out])
        said.append(f"Not in the curve: {names}.")
    if curve.with_bounds is not None:
        lead = next(iter(curve.with_bounds))
        one = curve.with_bounds[lead]
        what = {"S": "the final strength", "a": "the strength at 0"}[lead]
        said.append(f"With the pieces that are bounds counted as bounds, {what} is {say_number(one.value)} {y_unit}.")
    return said


def say_in_short(curve: Curve, x_unit: str, y_unit: str) -> str:
    """Return what a curve says, to go on after the name of its set; empty where nothing is read off it."""
    if not curve.fits:
        return ""
    match curve.shape:
        case Shape.CURE:
            ninety = next(one for one in curve.reach or () if one.pct == 90)
            if ninety.beyond:
                return f"reaches 90 % of its strength beyond the {say_number(curve.most_x)} {x_unit} that were tested"
            return f"reaches 90 % of its strength after {_range(ninety.x, _above_zero(ninety.ci95), x_unit)}"
        case Shape.GAP:
            if curve.half is None or curve.half.beyond:
                return f"keeps more than half up to {say_number(curve.most_x)} {x_unit}"
            return f"keeps half at {_range(curve.half.x, _above_zero(curve.half.ci95), x_unit)}"
        case Shape.STRAIGHT:
            return _say_change(curve, x_unit, y_unit)


def _say_change(curve: Curve, x_unit: str, y_unit: str) -> str:
    b = curve.parameters["b"]
    each = _ONE.get(x_unit, x_unit)
    value, ends, unit = b.value, b.ci95, f" {y_unit}"
    if curve.change_pct_per_unit is not None and curve.change_ci95 is not None:
        value, ends, unit = curve.change_pct_per_unit, curve.change_ci95, " % of its start"
    if ends is None:
        return ""
    spread = (ends[1] - ends[0]) / 2
    if b.ci95 is None or b.ci95[0] <= 0 <= b.ci95[1]:
        low, high = (say_number(end, spread) for end in ends)
        return f"is not shown to change ({low} to {high}{unit} a {each})"
    low, high = (say_number(end, spread) for end in sorted(abs(end) for end in ends))
    return f"{'loses' if value < 0 else 'gains'} {say_number(abs(value), spread)}{unit} a {each} ({low} to {high})"


def say_answer(curve: Curve, x_unit: str, y_unit: str) -> list[str]:
    """Return what a single curve answers, without how well it fits."""
    return _say_shape(curve, x_unit, y_unit)


def _pieces(count: int) -> str:
    return "1 piece" if count == 1 else f"{count} pieces"


def _say_share(r2: float) -> str:
    return "more than 99 %" if r2 > 0.99 else f"{100 * max(0.0, r2):.0f} %"


def _say_shape(curve: Curve, x_unit: str, y_unit: str) -> list[str]:
    match curve.shape:
        case Shape.CURE:
            if not curve.fits:
                return []
            final = _range(curve.parameters["S"].value, _around(curve, "S"), y_unit)
            ninety = next(one for one in curve.reach or () if one.pct == 90)
            return [f"Final strength {final}.", _say_reached(ninety, curve, x_unit)]
        case Shape.GAP:
            if not curve.fits:
                return []
            start = _range(curve.parameters["S"].value, _around(curve, "S"), y_unit)
            half = curve.half
            if half is None:
                return [f"Without a gap {start}."]
            if half.beyond:
                return [f"Without a gap {start}; half of it is left beyond {say_number(curve.most_x)} {x_unit}."]
            return [f"Without a gap {start}; half of it is left at {_range(half.x, _above_zero(half.ci95), x_unit)}."]
        case Shape.STRAIGHT:
            return [_say_line(curve, x_unit, y_unit)]


def _say_line(curve: Curve, x_unit: str, y_unit: str) -> str:
    b = curve.parameters["b"]
    sure = b.ci95 is not None and (b.ci95[0] > 0 or b.ci95[1] < 0)
    change = ""
    if curve.fits and curve.change_pct_per_unit is not None and curve.change_ci95 is not None:
        change = f", {_range(curve.change_pct_per_unit, curve.change_ci95, '%')} of the start"
    start = f"At 0: {_range(curve.parameters['a'].value, _around(curve, 'a'), y_unit)}. " if curve.fits else ""
    verdict = "" if sure else " That can be chance: no change is shown."
    return f"{start}For each {_ONE.get(x_unit, x_unit)}: {_range(b.value, b.ci95, y_unit)}{change}.{verdict}"


def _above_zero(ends: tuple[float, float] | None) -> tuple[float, float] | None:
    """Return a range of what cannot be below 0."""
    return None if ends is None else (max(0.0, ends[0]), ends[1])


def _say_reached(one: Reached, curve: Curve, x_unit: str) -> str:
    if one.beyond:
        return f"{one.pct} % of it lies beyond the {say_number(curve.most_x)} {x_unit} that were tested."
    return f"{one.pct} % of it after {_range(one.x, _above_zero(one.ci95), x_unit)}."


def say_comparison(compared: CurveComparison) -> list[str]:
    """Return whether the curves of several sets differ, and in what; each pair that differs with its range."""
    names = and_join(list(compared.curves))
    said = []
    for test in compared.tests:
        pairs = [one for one in compared.pairs if one.what == test.what]
        clear = [words for one in pairs if (words := _say_pair(one))]
        thing = _THING[test.what]
        if clear:
            said.append(f"They differ in their {thing}: {'; '.join(one.rstrip('.') for one in clear)}.")
        elif test.p < CLEAR:
            said.append(
                f"{names} differ in their {thing} (chance alone does as much {say_chance(test.p)}); which from which "
                "is not shown."
            )
        else:
            said.append(
                f"{names} are not shown to differ in their {thing} (chance alone does as much {say_chance(test.p)})."
            )
    return said


def _say_pair(one: CurvePair) -> str:
    if one.ratio is not None and one.ratio_ci95 is not None:
        low, high = one.ratio_ci95
        if low <= 1 <= high:
            return ""
        turned = one.ratio < 1
        first, second = (one.b, one.a) if turned else (one.a, one.b)
        span = say_span(1 / high, 1 / low) if turned else say_span(low, high)
        what = "has the higher one" if one.what == "S" else "takes longer"
        return f"{first} {what} than {second} ({span})."
    if one.difference is not None and one.difference_ci95 is not None:
        low, high = one.difference_ci95
        if low <= 0 <= high:
            return ""
        first, second = (one.a, one.b) if one.difference > 0 else (one.b, one.a)
        return f"that of {first} is larger than that of {second}."
    return ""
