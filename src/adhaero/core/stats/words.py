"""Numbers and names as plain words, with no false digits."""

from collections.abc import Sequence


def say_percent(ratio: float) -> str:
    """Return a ratio as a signed whole percentage: `+21 %`, `−4 %`, `0 %`; one digit below 2 %."""
    percent = 100 * (ratio - 1)
    digits = 1 if abs(percent) < 2 else 0
    number = f"{abs(percent):.{digits}f}"
    if float(number) == 0:
        return "0 %"
    return f"{'+' if percent > 0 else '−'}{number} %"


MOST_PERCENT = 3.0
"""From this ratio on a difference is said in times: nobody reads +29130 %."""
_MOST_TIMES = 1000.0


def say_difference(ratio: float) -> str:
    """Return how far a ratio is from 1: in percent, in times where it is large.

    Examples
    --------
    >>> say_difference(1.21), say_difference(0.96), say_difference(4.1), say_difference(1.0)
    ('+21 %', '−4 %', '4.1 times', '0 %')
    """
    return say_percent(ratio) if ratio < MOST_PERCENT else f"{say_times(ratio)} times"


def say_times(ratio: float) -> str:
    """Return a ratio in times, with no false digits.

    Examples
    --------
    >>> say_times(3.14), say_times(0.0734), say_times(41.2), say_times(2e6)
    ('3.1', '0.07', '41', 'more than 1,000')
    """
    if ratio >= _MOST_TIMES:
        return f"more than {_MOST_TIMES:,.0f}"
    if ratio >= 9.95:
        return f"{ratio:.0f}"
    if ratio >= 0.095:
        return f"{ratio:.1f}"
    return f"{ratio:.2f}" if ratio >= 0.005 else "less than 0.01"


def say_span(low: float | None, high: float | None) -> str:
    """Return the range of a ratio: in percent, in times where an end is large; an end None is open.

    Examples
    --------
    >>> say_span(0.96, 1.21), say_span(2.2, 4.1), say_span(1.34, None), say_span(None, 0.7)
    ('−4 % to +21 %', '2.2 to 4.1 times', '+34 % or more', '−30 % or less')
    """
    if low is None and high is None:
        return "anything at all"
    if low is None:
        return (
            f"{say_percent(high)} or less" if high and high < MOST_PERCENT else f"{say_times(high or 0)} times or less"
        )
    if high is None:
        return f"{say_percent(low)} or more" if low < MOST_PERCENT else f"{say_times(low)} times or more"
    if high >= MOST_PERCENT:
        return f"{say_times(low)} to {say_times(high)} times"
    return f"{say_percent(low)} to {say_percent(high)}"


def say_chance(p: float) -> str:
    """Return how often chance alone does as much.

    Examples
    --------
    >>> say_chance(0.0004), say_chance(0.031), say_chance(0.4)
    ('less than once in 1,000', 'about 3 times in 100', 'about 40 times in 100')
    """
    if p < 0.001:
        return "less than once in 1,000"
    if p < 0.0095:
        times = round(1000 * p)
        return "about once in 1,000" if times == 1 else f"about {times} times in 1,000"
    times = round(100 * p)
    if times >= 100:
        return "nearly always"
    return "about once in 100" if times == 1 else f"about {times} times in 100"


def say_name(name: str) -> str:
    """Return a name as it stands in a sentence: in quotation marks where it holds a comma itself."""
    return f"“{name}”" if "," in name else name


def and_join(names: Sequence[str]) -> str:
    """Return names as a list in words; in quotation marks where one holds a comma itself.

    Examples
    --------
    >>> and_join(["Heron", "Wren"]), and_join(["Heron, dry", "Wren, dry"])
    ('Heron and Wren', '“Heron, dry” and “Wren, dry”')
    """
    if len(names) > 1 and any("," in name for name in names):
        names = [f"“{name}”" for name in names]
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def capital(text: str) -> str:
    """Return a text with its first letter large."""
    return text[:1].upper() + text[1:]


def say_were(names: Sequence[str]) -> str:
    """Return names with “was” or “were”.

    Examples
    --------
    >>> say_were(["W-01"]), say_were(["W-01", "W-02"])
    ('W-01 was', 'W-01 and W-02 were')
    """
    return f"{list_some(names)} {'was' if len(names) == 1 else 'were'}"


MOST_NAMED = 10


def list_some(names: Sequence[str], between: str = ", ") -> str:
    """Return names in one sentence, at most ten of them and the rest counted.

    Examples
    --------
    >>> list_some(["Heron", "Wren"]), list_some([f"K{n}" for n in range(1, 14)])
    ('Heron and Wren', 'K1, K2, K3, K4, K5, K6, K7, K8, K9, K10 and 3 more')
    """
    if len(names) > MOST_NAMED:
        return f"{between.join(names[:MOST_NAMED])} and {len(names) - MOST_NAMED} more"
    return and_join(names) if between == ", " else between.join(names)
