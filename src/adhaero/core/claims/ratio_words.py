"""Ratios in words: the base of each percent named, what is kept and what is lost both said."""

from adhaero.core.claims.evidence import Range
from adhaero.core.stats.words import MOST_PERCENT, say_times


def _percent(value: float) -> str:
    text = f"{100 * value:.1f}"
    return text.removesuffix(".0")


def say_claimed(low: float, high: float, side: int, base: str) -> str:
    """Return a claimed ratio as a share of its base, with what is more or less.

    Examples
    --------
    >>> say_claimed(0.725, 0.775, 0, "the strength of Solid")
    'has 72.5 to 77.5 % of the strength of Solid (22.5 to 27.5 % less)'
    >>> say_claimed(1.2, 1.2, 1, "the strength of Wren")
    'has at least 120 % of the strength of Wren (at least 20 % more)'
    """
    if side > 0:
        change = f"at least {_percent(low - 1)} % more" if low >= 1 else f"at most {_percent(1 - low)} % less"
        return f"has at least {_percent(low)} % of {base} ({change})"
    if side < 0:
        change = f"at most {_percent(high - 1)} % more" if high >= 1 else f"at least {_percent(1 - high)} % less"
        return f"has at most {_percent(high)} % of {base} ({change})"
    if low >= 1:
        change = f"{_percent(low - 1)} to {_percent(high - 1)} % more"
    elif high <= 1:
        change = f"{_percent(1 - high)} to {_percent(1 - low)} % less"
    else:
        change = f"from {_percent(1 - low)} % less to {_percent(high - 1)} % more"
    return f"has {_percent(low)} to {_percent(high)} % of {base} ({change})"


def say_range(one: str, other: str, found: Range) -> str:
    """Return a found ratio and its range, the base named.

    Examples
    --------
    >>> say_range("Wren", "Solid", Range(0.75, 0.71, 0.79))
    'Wren has 75 % of the strength of Solid, 25 % less (71 to 79 % of it)'
    """
    if found.ratio is None:
        if found.low is not None:
            return f"{one} has at least {_share(found.low)} the strength of {other}"
        if found.high is not None:
            return f"{one} has at most {_share(found.high)} the strength of {other}"
        return f"how {one} compares with {other} is not known"
    if found.ratio >= MOST_PERCENT:
        said = f"{one} is {say_times(found.ratio)} times as strong as {other}"
        if found.low is None or found.high is None:
            return said
        return f"{said} ({say_times(found.low)} to {say_times(found.high)} times)"
    percent = round(100 * found.ratio)
    change = f"{percent - 100} % more" if percent >= 100 else f"{100 - percent} % less"
    said = f"{one} has {percent} % of the strength of {other}, {change}"
    if found.low is None or found.high is None:
        return f"{said} (how sure cannot be told)"
    return f"{said} ({_end(found.low)} to {_end(found.high)} % of it)"


def _end(value: float) -> str:
    """Return an end in percent, with a digit where it lies so near 100 % that the side would be lost."""
    return f"{100 * value:.1f}" if 0.98 < value < 1.02 else f"{100 * value:.0f}"


def _share(value: float) -> str:
    return f"{say_times(value)} times" if value >= MOST_PERCENT else f"{100 * value:.0f} % of"
