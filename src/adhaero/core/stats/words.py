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
