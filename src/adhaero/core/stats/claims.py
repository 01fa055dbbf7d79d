"""A typed conclusion held against the numbers: supported, not supported or contradicted."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum

from adhaero.core.stats.pairs import Pair
from adhaero.core.stats.words import and_join, say_percent


class Standing(StrEnum):
    """How a claim stands."""

    SUPPORTED = "supported"
    NOT_SUPPORTED = "not supported"
    CONTRADICTED = "contradicted"
    NOT_CHECKED = "cannot be checked"


@dataclass(frozen=True)
class Claim:
    """One clause of a conclusion: what was understood, how it stands, and the numbers that say so."""

    text: str
    understood: str
    standing: Standing
    words: str


@dataclass(frozen=True)
class Swing:
    """How much a factor changes strength: its strongest value over its weakest, and the likely range."""

    ratio: float
    low: float
    high: float


CHECKABLE = (
    "A is stronger than B",
    "A is 20 % stronger than B",
    "A is at least 20 % stronger than B",
    "A is twice as strong as B",
    "A reaches 80 % of B",
    "A and B are the same",
    "A is the strongest",
    "slope matters more than glue",
)
_NUMBER = r"(\d+(?:[.,]\d+)?)"
_TIMES = {"half": 0.5, "twice": 2.0, "three times": 3.0, "double": 2.0}
_STRONGER = re.compile(r"\b(stronger|better|beats?|tougher|higher|outperforms?)\b")
_WEAKER = re.compile(r"\b(weaker|worse|lower|loses? to|poorer)\b")
_SAME = re.compile(r"\b(same|equal(ly)?|no difference|no stronger|as good as|as strong as|alike)\b")
_MOST = re.compile(r"\b(strongest|best|wins?|first|weakest|worst|last)\b")
_AGAINST = re.compile(r"\b(than|as|of|to|against|beats?|outperforms?)\b")
_LEAST_WORDS = re.compile(r"\b(at least|more than|over|no less than)\b")


@dataclass(frozen=True)
class Evidence:
    """What a conclusion is held against.

    Attributes
    ----------
    levels : the names of the sets; pairs : every pair of them, with simultaneous ranges.
    margin_pct : differences within it are none in practice.
    effects : how much each factor changes strength, by its name.
    baseline : the set that takes no part when the strongest or weakest is named.
    """

    levels: Sequence[str]
    pairs: Sequence[Pair]
    margin_pct: float
    effects: Mapping[str, Swing] = field(default_factory=dict)
    baseline: str | None = None


def check_conclusion(text: str, evidence: Evidence) -> list[Claim]:
    """Return how every clause of a conclusion stands; a list of firsts and lasts is as many clauses."""
    clauses = [one.strip(" ,") for one in re.split(r"[.;\n!?]+(?!\d)|,? (?:but|and that|while|whereas) ", text)]
    found = []
    for clause in clauses:
        parts = [part.strip() for part in re.split(r",| and ", clause)]
        if sum(bool(_MOST.search(part.lower())) for part in parts) < 2:
            parts = [clause]
        found += [_check(one, evidence) for one in parts if one]
    return found


def _check(text: str, evidence: Evidence) -> Claim:
    low = text.lower()
    if more := _matters_more(low, evidence.effects):
        return _check_effects(text, more, evidence.effects)
    named = _find_names(low, evidence.levels)
    rest = low
    for name in named:
        rest = rest.replace(name.lower(), " ")
    if _MOST.search(rest) and len(named) == 1:
        return _check_winner(text, named[0], evidence, weakest=bool(re.search(r"weakest|worst|\blast\b", rest)))
    if len(named) == 1 and not _AGAINST.search(rest) and _read_claimed(rest)[1]:
        joined = [one for one in evidence.levels if one != evidence.baseline]
        if len(joined) == 2 and named[0] in joined:  # there is only one it can be held against
            named += [one for one in joined if one != named[0]]
    if len(named) == 2:
        found = _find_ratio(named, evidence.pairs)
        if found is None or found[1] is None:
            return Claim(text, f"{named[0]} against {named[1]}", Standing.NOT_CHECKED, "The pair has no likely range.")
        return _check_pair(text, rest, named, found[0], found[1], evidence.margin_pct)
    reason = "no set is named" if not named else f"only {named[0]} is named" if len(named) == 1 else "more than two are"
    return Claim(text, "", Standing.NOT_CHECKED, f"Not understood: {reason}.")


def _find_names(low: str, levels: Sequence[str]) -> list[str]:
    """Return the sets named in a text in the order they stand, longer names first where one holds another."""
    spans: list[tuple[int, int, str]] = []
    for name in sorted(levels, key=len, reverse=True):
        for found in re.finditer(rf"(?<!\w){re.escape(name.lower())}(?!\w)", low):
            if all(found.end() <= start or found.start() >= end for start, end, _ in spans):
                spans.append((found.start(), found.end(), name))
    return list(dict.fromkeys(name for _, _, name in sorted(spans)))


def _find_ratio(named: Sequence[str], pairs: Sequence[Pair]) -> tuple[float, tuple[float, float] | None] | None:
    for pair in pairs:
        if pair.ratio is None:
            continue
        if (pair.a, pair.b) == tuple(named):
            return pair.ratio, pair.ratio_ci95
        if (pair.b, pair.a) == tuple(named):
            ends = pair.ratio_ci95
            return 1 / pair.ratio, None if ends is None else (1 / ends[1], 1 / ends[0])
    return None


def _check_pair(
    text: str, rest: str, named: Sequence[str], ratio: float, ends: tuple[float, float], margin_pct: float
) -> Claim:
    first, second = named
    low, high = ends
    shown = (
        f"{first} differs from {second} by {say_percent(ratio)} of {second}'s strength "
        f"({say_percent(low)} to {say_percent(high)})."
    )
    claimed, words = _read_claimed(rest)
    at_least = bool(_LEAST_WORDS.search(rest))
    if words == "same":
        margin = 1 + margin_pct / 100
        standing = Standing.NOT_SUPPORTED
        if low >= 1 / margin and high <= margin:
            standing = Standing.SUPPORTED
        elif low > margin or high < 1 / margin:
            standing = Standing.CONTRADICTED
        return Claim(text, f"{first} and {second} are the same within ±{margin_pct:g} %", standing, shown)
    if words == "":
        return Claim(text, f"{first} and {second}", Standing.NOT_CHECKED, f"Not understood. {shown}")
    up = words == "stronger"
    if claimed is None:
        standing = Standing.SUPPORTED if (low > 1 if up else high < 1) else Standing.NOT_SUPPORTED
        if high < 1 if up else low > 1:
            standing = Standing.CONTRADICTED
        return Claim(text, f"{first} is {words} than {second}", standing, shown)
    if at_least:
        inside, outside = (low >= claimed, high < claimed) if claimed > 1 or up else (high <= claimed, low > claimed)
        understood = f"{first} has at least {100 * claimed:.0f} % of {second}'s strength"
        if claimed < 1 and not up:
            understood = f"{first} has at most {100 * claimed:.0f} % of {second}'s strength"
    else:
        inside = low <= claimed <= high and not low <= 1 <= high
        outside = not low <= claimed <= high
        understood = f"{first} has {100 * claimed:.0f} % of {second}'s strength"
    standing = Standing.SUPPORTED if inside else Standing.CONTRADICTED if outside else Standing.NOT_SUPPORTED
    return Claim(text, understood, standing, shown)


def _read_claimed(rest: str) -> tuple[float | None, str]:
    """Return the ratio that is claimed, if any, and `stronger`, `weaker`, `same` or nothing."""
    weaker, stronger = _WEAKER.search(rest), _STRONGER.search(rest)
    percent = re.search(_NUMBER + r"\s*(?:%|percent|per cent)", rest)
    times = re.search(_NUMBER + r"\s*(?:times|×|x)\s*(?:as|the)", rest)
    word = next((value for name, value in _TIMES.items() if re.search(rf"\b{name}\b", rest)), None)
    if times or word is not None:
        ratio = float(times[1].replace(",", ".")) if times else word or 1.0
        return ratio, "stronger" if ratio >= 1 else "weaker"
    if percent:
        share = float(percent[1].replace(",", ".")) / 100
        if weaker:
            return 1 - share, "weaker"
        if stronger:
            return 1 + share, "stronger"
        if re.search(r"\b(of|reach\w*|keep\w*|has|as strong)\b", rest):
            return share, "stronger" if _LEAST_WORDS.search(rest) or share >= 1 else "weaker"
    if weaker:
        return None, "weaker"
    if _SAME.search(rest):
        return None, "same"
    return None, "stronger" if stronger else ""


def _check_winner(text: str, name: str, evidence: Evidence, *, weakest: bool) -> Claim:
    others = [one for one in evidence.levels if one not in (name, evidence.baseline)]
    beaten: list[str] = []
    beats: list[str] = []
    open_: list[str] = []
    for other in others:
        found = _find_ratio((name, other), evidence.pairs)
        if found is None or found[1] is None:
            open_.append(other)
            continue
        low, high = found[1]
        above, below = (high < 1, low > 1) if weakest else (low > 1, high < 1)
        (beaten if above else beats if below else open_).append(other)
    standing = Standing.CONTRADICTED if beats else Standing.NOT_SUPPORTED if open_ else Standing.SUPPORTED
    kind, verb = ("weakest", "weaker") if weakest else ("strongest", "stronger")
    said = []
    if beaten:
        said.append(f"{name} is shown to be {verb} than {and_join(beaten)}")
    if open_:
        said.append(f"against {and_join(open_)} it cannot be told")
    if beats:
        said.append(f"{and_join(beats)} {'is' if len(beats) == 1 else 'are'} {verb} still")
    words = f"{'; '.join(said)}."
    return Claim(text, f"{name} is the {kind} of all", standing, words[:1].upper() + words[1:])


def _matters_more(low: str, effects: Mapping[str, Swing]) -> tuple[str, str] | None:
    found = re.search(r"matters? more than|more important than|matters? less than", low)
    if not found:
        return None
    before = next((name for name in effects if name.lower() in low[: found.start()]), None)
    after = next((name for name in effects if name.lower() in low[found.end() :]), None)
    if before is None or after is None:
        return None
    return (after, before) if "less" in found[0] else (before, after)


def _check_effects(text: str, more: tuple[str, str], effects: Mapping[str, Swing]) -> Claim:
    """Check which factor changes strength more; clear where even its least change is above the other's greatest."""
    one, other = effects[more[0]], effects[more[1]]
    standing = Standing.NOT_SUPPORTED
    if one.low > other.high:
        standing = Standing.SUPPORTED
    elif other.low > one.high:
        standing = Standing.CONTRADICTED
    shown = [
        f"{name} changes strength by {say_percent(swing.ratio)} ({say_percent(swing.low)} to {say_percent(swing.high)})"
        for name, swing in zip(more, (one, other), strict=True)
    ]
    words = f"From its weakest to its strongest value {shown[0]}, {shown[1]}."
    return Claim(text, f"{more[0]} matters more than {more[1]}", standing, words)


def say_claim(one: Claim) -> str:
    """Return how a claim stands, in one sentence with its numbers."""
    understood = f" (read as: {one.understood})" if one.understood else ""
    standing = one.standing.value
    return f"“{one.text}”{understood}: {standing}. {one.words}"
