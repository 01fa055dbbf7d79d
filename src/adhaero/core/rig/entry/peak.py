"""What a person read off, as a person writes it: one number, a sum, a bound, a range, or about.

41.5 · 41,5 kg · 20 lb + 12.5 lb · 41.6 − 2.4 lb      one number
>60 lb · 60+ · at least 60                            it held this and did not break
30–35 · 35 ± 2 · <20                                  it broke between two numbers
about 35 · ~35 · 35?                                  one number, known half as well
"""

import re
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Final

from adhaero.core.errors import AmbiguousEntry, EntryError
from adhaero.core.quantity import Bounds, Kind, Quantity, parse_quantity, show_as_typed

_NUMBER: Final = r"(?:[0-9]+(?:[.,][0-9]+)*|[.,][0-9]+)"
_UNIT: Final = r"[^\d\s.,+±<>~≈≥≤?−–—-][^\d+±<>~≈≥≤?−–—-]*?"
_TERM: Final = rf"{_NUMBER}\s*(?:{_UNIT})?"

_AT_LEAST: Final = re.compile(
    r"^(?:>=?|≥|at least\b|held\b|over\b)\s*(?P<rest>.+)$"
    r"|^(?P<plus>.*?\d\s*)\+(?P<unit>\D*)$|^(?P<behind>.*\d.*?)\s*\+$",
    re.IGNORECASE,
)
_BELOW: Final = re.compile(r"^(?:<=?|≤|below\b|under\b|less than\b)\s*(?P<rest>.+)$", re.IGNORECASE)
_ABOUT: Final = re.compile(
    r"^(?:~|≈|about\b|around\b|approx\b\.?|approximately\b|ca\b\.?|circa\b)\s*(?P<rest>.+)$|^(?P<asked>.+?)\s*\?$",
    re.IGNORECASE,
)
_GIVE: Final = re.compile(rf"^(?P<middle>{_TERM})\s*(?:±|\+\s*/\s*[-−–]|\+[-−])\s*(?P<give>{_TERM})$", re.IGNORECASE)
_RANGE: Final = re.compile(
    rf"^(?P<low>{_TERM})(?P<dash>\s*(?:[-−–—]|\.\.\.|…|\bto\b)\s*)(?P<high>{_TERM})$", re.IGNORECASE
)
_SIGN: Final = re.compile(r"\s*([+−–-])\s*")


@dataclass(frozen=True)
class Peak:
    """What was read off, in the unit of its kind.

    Attributes
    ----------
    high : the number; the upper one of a range.
    low : the lower one of a range: it held this; None for one number.
    at_least : it held `high` and did not break.
    about : the number is known half as well as the rig tells.
    typed : as it was typed, with the unit that was assumed where none was written.
    """

    high: float
    low: float | None
    at_least: bool
    about: bool
    typed: str


def read_peak(
    text: str, kind: Kind = Kind.FORCE, default_unit: str = "", bounds: Bounds | None = None, *, field: str = "load"
) -> Peak:
    """Read what a person typed of a peak.

    Parameters
    ----------
    text : as typed. kind, default_unit, bounds : as `parse_quantity` takes them.

    Raises
    ------
    AmbiguousEntry : it can be read in two ways (`40-35`). EntryError : it cannot be read.

    Examples
    --------
    >>> read_peak("20 N + 12.5 N").high, read_peak("60+", default_unit="N").at_least
    (32.5, True)
    >>> peak = read_peak("35 ± 2 N")
    >>> (peak.low, peak.high)
    (33.0, 37.0)
    """
    bounds = bounds or Bounds()
    plain = " ".join(text.split())

    def read(part: str) -> Quantity:
        return read_sum(part, kind, default_unit, bounds, field=field)

    if found := _AT_LEAST.match(plain):
        inner = found["rest"] or found["behind"] or f"{found['plus']}{found['unit']}"
        one = read(inner)
        return Peak(one.si, None, True, False, _as_typed(plain, inner, one.typed))
    if found := _BELOW.match(plain):
        one = read(found["rest"])
        return Peak(one.si, 0.0, False, False, _as_typed(plain, found["rest"], one.typed))
    if found := _ABOUT.match(plain):
        inner = found["rest"] or found["asked"]
        peak = read_peak(inner, kind, default_unit, bounds, field=field)
        return replace(peak, about=True, typed=_as_typed(plain, inner, peak.typed))
    if found := _GIVE.match(plain):
        middle, give = _share_unit(found["middle"], found["give"], read)
        if give.si >= middle.si:
            raise EntryError(
                f"“{plain}” begins below zero.",
                "What is given or taken is less than the number before it.",
                field=field,
            )
        return Peak(middle.si + give.si, middle.si - give.si, False, False, _with_unit(plain, default_unit))
    if found := _RANGE.match(plain):
        between = _read_range(plain, found, kind, default_unit, read, field)
        if between is not None:
            return between
    one = read(plain)
    return Peak(one.si, None, False, False, one.typed)


def read_sum(
    text: str, kind: Kind = Kind.FORCE, default_unit: str = "", bounds: Bounds | None = None, *, field: str = "load"
) -> Quantity:
    """Read a number or a sum of numbers: what hangs piece by piece, less what a platform shows.

    A number without a unit has that of the next one that has one, else of the one before.

    Raises
    ------
    EntryError : a number cannot be read, or the sum makes no sense.
    """
    parts = _SIGN.split(text.strip())
    bounds = bounds or Bounds()
    if len(parts) == 1 or not parts[0] or any(not part for part in parts[2::2]):
        return parse_quantity(text, kind, default_unit, bounds, field=field)
    terms, signs = parts[0::2], ["+", *parts[1::2]]
    free = Bounds(zero_allowed=True, highest=bounds.highest)
    units = [_unit_of(term) for term in terms]
    known = [next((unit for unit in units[at:] if unit), "") for at in range(len(terms))]
    total = 0.0
    for term, unit, sign in zip(terms, known, signs, strict=True):
        fallback = unit or next((one for one in reversed(units) if one), default_unit)
        size = parse_quantity(term, kind, fallback, free, field=field).si
        total += size if sign == "+" else -size
    typed = _with_unit(text.strip(), default_unit)
    shown = next((one for one in reversed(units) if one), default_unit) or kind.value
    if total < 0 or (total == 0 and not bounds.zero_allowed):
        raise EntryError(
            f"“{text.strip()}” comes to {show_as_typed(total, kind, shown)}.",
            "A load is above zero.",
            "Check the numbers and their signs.",
            field=field,
        )
    if total > bounds.highest:
        parse_quantity(f"{total} {kind.value}", kind, "", bounds, field=field)
    return Quantity(total, typed)


def _read_range(
    plain: str,
    found: re.Match[str],
    kind: Kind,
    default_unit: str,
    read: Callable[[str], Quantity],
    field: str,
) -> Peak | None:
    """Return the two ends of a range; None where it is a difference."""
    low, high = _share_unit(found["low"], found["high"], read)
    dash = found["dash"]
    if high.si > low.si:
        return Peak(high.si, low.si, False, False, _with_unit(plain, default_unit))
    if dash.strip() in "-−–—" and dash != dash.strip() and high.si < low.si:
        return None
    if high.si == low.si:
        raise EntryError(f"“{plain}” begins where it ends.", "A range has two ends.", field=field)
    first, second, unit = found["low"].strip(), found["high"].strip(), _unit_of(found["high"])
    swapped = f"{_number_of(second)}–{_number_of(first)} {unit or _unit_of(found['low']) or default_unit}".strip()
    taken, shown = f"{first} − {second}", unit or _unit_of(found["low"]) or default_unit or kind.value
    raise AmbiguousEntry(
        f"“{plain}” can be read in two ways:",
        f"between {swapped}, or {taken} (= {show_as_typed(low.si - high.si, kind, shown)}).",
        "Choose one.",
        field=field,
        choices=(swapped, taken),
    )


def _share_unit(first: str, second: str, read: Callable[[str], Quantity]) -> tuple[Quantity, Quantity]:
    """Return two numbers of which one may borrow the unit of the other."""
    mine, other = _unit_of(first), _unit_of(second)
    unit = mine or other
    return (
        read(first if mine or not unit else f"{first.strip()} {unit}"),
        read(second if other or not unit else f"{second.strip()} {unit}"),
    )


def _unit_of(term: str) -> str:
    found = re.fullmatch(rf"\s*{_NUMBER}\s*(?P<unit>\D*?)\s*", term)
    return found["unit"].strip() if found else ""


def _number_of(term: str) -> str:
    found = re.match(_NUMBER, term.strip())
    return found[0] if found else term


def _with_unit(text: str, default_unit: str) -> str:
    """Return what was typed with the unit that was assumed where none was written."""
    return text if re.search(r"[a-z#]", text, re.IGNORECASE) or not default_unit else f"{text} {default_unit}"


def _as_typed(plain: str, inner: str, typed: str) -> str:
    """Return the whole of what was typed, with the unit that its number was read in."""
    added = typed.removeprefix(inner.strip()).strip()
    return f"{plain} {added}".strip() if typed.startswith(inner.strip()) else plain
