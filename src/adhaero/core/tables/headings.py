"""What a heading says: which role its column has, in which unit, of which kind a summary is."""

import re
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import lru_cache
from typing import Final

from adhaero.core.tables.units import Measure, Unit, find_unit


class Role(StrEnum):
    """What a column, or a row, holds."""

    SET = "set"
    LABEL = "label"
    LOAD = "load"
    STRESS = "stress"
    PIECE = "piece"
    TORN = "torn"
    DATE = "date"
    GLUED = "glued"
    NOTE = "note"
    BOARD = "board"
    SIZE = "size"
    AREA = "area"
    OUTCOME = "outcome"
    FAILURE = "failure"
    FACTOR = "factor"
    LEVEL = "level"
    SUMMARY = "summary"
    IGNORE = "ignore"
    UNKNOWN = ""


class Summary(StrEnum):
    """What a summary computes."""

    MEAN = "mean"
    SD = "sd"
    MIN = "min"
    MAX = "max"
    MEDIAN = "median"
    COUNT = "count"
    SUM = "sum"
    RANGE = "range"
    CV = "cv"
    TRIMMED = "trimmed mean"
    WITHOUT_LOWEST = "mean without lowest"
    KEPT = "percent kept"
    LOST = "percent lost"
    ADJUSTED = "adjusted"
    CREDIT = "sum of torn"
    UNSAID = ""


@dataclass(frozen=True)
class Heading:
    """A heading as it is understood.

    Attributes
    ----------
    text : as written, a line break a blank. role, summary : what it says. unit : that it names, None without one.
    name : of a size (`width`); what a summary is of beside its kind (`dry` of “mean dry”). population : of an sd.
    """

    text: str
    role: Role
    summary: Summary = Summary.UNSAID
    unit: Unit | None = None
    name: str = ""
    population: bool = False


_SET: Final = frozenset(
    [
        "glue",
        "glues",
        "adhesive",
        "adhesives",
        "set",
        "sets",
        "group",
        "groups",
        "treatment",
        "treatments",
        "wood",
        "woods",
        "species",
        "joint",
        "joints",
        "variant",
        "variants",
        "sort",
        "kind",
        "type",
    ]
) | {"glue name", "glue used", "name of glue", "test group", "wood species"}
_FIRST_SET: Final = ("glue", "adhesive", "set", "group", "treatment", "glue used", "glue name")
_LABEL: Final = frozenset(
    [
        "piece",
        "pieces",
        "pc",
        "pcs",
        "no",
        "nr",
        "num",
        "number",
        "#",
        "label",
        "labels",
        "sample",
        "samples",
        "specimen",
        "specimens",
        "id",
        "test",
        "stick",
        "joint#",
        "piece#",
    ]
) | {
    "piece no",
    "piece number",
    "sample no",
    "sample number",
    "specimen no",
    "no of piece",
    "test no",
    "pc no",
    "piece id",
}
_LOAD: Final = frozenset(["load", "loads", "peak", "force", "pull", "break", "broke", "breaking", "failed"]) | {
    "broke at", "load at break", "load at failure", "breaking load", "break load", "failure load", "peak load",
    "peak force", "max force", "maximum force", "max load", "maximum load", "force at break", "broken at", "failed at",
    "weight at break", "pull force", "load peak", "ultimate load", "fmax", "f max", "breaking force",
}  # fmt: skip
_STRESS: Final = frozenset(["stress", "strength"]) | {
    "shear stress", "shear strength", "bond strength", "breaking stress", "bending strength", "bending stress",
    "stress at break", "tensile strength", "tensile stress", "glue strength", "joint strength",
}  # fmt: skip
_TORN: Final = frozenset({
    "torn", "torn wood", "wood torn", "wood", "wood failure", "wf", "torn fibres", "torn fibers", "torn area",
    "wood on face", "fibre", "wood left",
})  # fmt: skip
_DATE: Final = frozenset({
    "date", "tested", "tested on", "date tested", "test date", "broken on", "date broken", "broke on", "day", "when",
    "date of test", "pulled", "pulled on", "pull date", "break date",
})  # fmt: skip
_GLUED: Final = frozenset({
    "glued", "glued on", "glued up", "glue-up", "glue up", "glueup", "date glued", "glue date", "glue-up date",
    "glued up on", "clamped on", "bonded on",
})  # fmt: skip
_NOTE: Final = frozenset(["note", "notes", "remark", "remarks", "comment", "comments"]) | {
    "what happened",
    "observation",
}
_BOARD: Final = frozenset(["board", "boards", "plank", "blank", "billet", "stock"]) | {
    "board no",
    "from board",
    "board id",
}
_OUTCOME: Final = frozenset({"outcome", "result", "broke or held"})
_FAILURE: Final = frozenset({"failure", "failed in", "where it failed", "failure mode", "mode of failure", "mode"})
_AREA: Final = frozenset({"area", "glue area", "glued area", "bond area", "joint area"})
_SIZES: Final = {
    "width": "width", "w": "width", "wide": "width", "overlap": "overlap", "lap": "overlap",
    "overlap length": "overlap",
    "depth": "depth", "thickness": "depth", "thick": "depth", "height": "depth", "length": "length", "span": "span",
    "glue width": "width", "bond width": "width", "bond length": "overlap", "lap length": "overlap",
}  # fmt: skip
_IGNORE: Final = frozenset(["rank", "ranking", "place", "price", "cost", "bottle", "shop", "supplier", "maker"])
_IGNORED_WORDS: Final = re.compile(r"^(?:rank|price|cost|bottle|€|\$|eur|usd)\b|\b(?:price|cost|per litre|per liter)\b")

_SUMMARIES: Final[tuple[tuple[Summary, frozenset[str]], ...]] = (
    (Summary.ADJUSTED, frozenset({
        "adjusted average", "adjusted mean", "adjusted", "adj average", "adj avg", "adj mean",
    })),
    (Summary.WITHOUT_LOWEST, frozenset({
        "without the worst", "without worst", "mean without lowest", "without lowest", "without the lowest",
        "average without lowest", "average without the lowest", "average without worst", "average without the worst",
        "mean without the worst", "mean without worst", "drop lowest", "without the low one", "mean without the lowest",
    })),
    (Summary.TRIMMED, frozenset({
        "middle three", "middle 3", "middle ones", "trimmed mean", "average of the middle", "middle mean", "middle",
        "average of middle three", "mean of middle three", "average of the middle three", "mean of the middle three",
        "without best and worst", "middle four", "middle five", "middle two",
    })),
    (Summary.KEPT, frozenset({
        "% kept", "kept", "%", "percent kept", "kept %", "% left", "left",
    })),
    (Summary.LOST, frozenset({"% lost", "lost", "percent lost", "lost %", "loss", "% loss", "loss %"})),
    (Summary.CREDIT, frozenset({
        "torn sum of %", "sum of %", "credit", "credits", "torn sum", "sum of torn", "torn", "wood credit",
        "torn credit",
        "sum of torn %", "sum torn",
    })),
    (Summary.MEAN, frozenset({
        "average", "avg", "ave", "aver", "mean", "ø", "averages", "x̄", "arithmetic mean", "av",
    })),
    (Summary.SD, frozenset({
        "sd", "std", "s", "std dev", "st dev", "stdev", "standard deviation", "σ", "dev", "s d", "stddev", "stand dev",
        "stdevp", "sigma", "std deviation",
    })),
    (Summary.MIN, frozenset({"min", "lo", "low", "lowest", "worst", "minimum", "least", "smallest"})),
    (Summary.MAX, frozenset({"max", "hi", "high", "highest", "maximum", "best", "most", "largest"})),
    (Summary.MEDIAN, frozenset({"median", "med", "middle value"})),
    (Summary.COUNT, frozenset({
        "n", "count", "pieces", "number", "no of pieces", "number of pieces", "pcs", "how many",
    })),
    (Summary.SUM, frozenset({"total", "sum", "totals"})),
    (Summary.RANGE, frozenset({"range", "spread", "max-min", "hi-lo", "max min"})),
    (Summary.CV, frozenset({"cv", "cov", "c v", "coefficient of variation", "variation", "cv %", "rsd"})),
)  # fmt: skip
_KINDS: Final = {name: kind for kind, names in reversed(_SUMMARIES) for name in names}
_LONGEST: Final = max(len(name.split()) for name in _KINDS)
# a single letter or a bare number word is a summary beside pieces only, never a name of its own
_WEAK: Final = frozenset(
    {"s", "n", "number", "pieces", "torn", "middle", "left", "lost", "kept", "%", "low", "high", "best", "most", "pcs"}
)
_POPULATION: Final = re.compile(r"\bpop(?:ulation|\.)?|\bstdevp\b|σ")

_PAREN: Final = re.compile(r"[\[(]\s*([^\])]*?)\s*[\])]")


def plain(text: str) -> str:
    """Return a heading in small letters, without full stops, colons and double blanks.

    Examples
    --------
    >>> plain("  Std. Dev.: ")
    'std dev'
    """
    small = " ".join(text.casefold().replace(".", " ").replace(":", " ").replace(",", " ").split())
    return small.strip(" -–/")


@lru_cache(maxsize=4096)
def read_heading(text: str) -> Heading:
    """Return what a heading says by itself: the first role that fits; `UNKNOWN` for a name.

    Examples
    --------
    >>> one = read_heading("Load (lbf)")
    >>> one.role.value, one.unit.symbol
    ('load', 'lbf')
    >>> read_heading("Mean dry").summary.value, read_heading("Mean dry").name
    ('mean', 'dry')
    """
    written = " ".join(text.split())
    unit, rest = find_unit(written)
    percent = "%" in written or "percent" in written.casefold()
    words = plain(_PAREN.sub(lambda found: f" {found[1]} " if not find_unit(found[0])[0] else " ", rest))
    bare = plain(_PAREN.sub(" ", rest)).replace("%", " ").strip()
    bare = " ".join(bare.split())
    heading = _match(written, words, bare, percent=percent)
    if heading.role is Role.SUMMARY and heading.summary is Summary.SD and _POPULATION.search(written.casefold()):
        heading = replace(heading, population=True)
    return replace(heading, unit=unit)


def _match(written: str, words: str, bare: str, *, percent: bool) -> Heading:
    if percent and bare in _TORN:
        return Heading(written, Role.TORN)
    if bare in _SET:
        return Heading(written, Role.SET)
    if _IGNORED_WORDS.search(words) or bare in _IGNORE:
        return Heading(written, Role.IGNORE)
    if bare in _LABEL or words in _LABEL:
        return Heading(written, Role.LABEL)
    if bare in _TORN:
        return Heading(written, Role.TORN)
    for roles, role in (
        (_LOAD, Role.LOAD), (_STRESS, Role.STRESS), (_DATE, Role.DATE), (_GLUED, Role.GLUED), (_NOTE, Role.NOTE),
        (_BOARD, Role.BOARD),
        (_OUTCOME, Role.OUTCOME), (_FAILURE, Role.FAILURE), (_AREA, Role.AREA),
    ):  # fmt: skip
        if bare in roles:
            return Heading(written, role)
    if bare in _SIZES:
        return Heading(written, Role.SIZE, name=_SIZES[bare])
    summary = read_summary(words) or read_summary(bare)
    if summary is not None and not _is_duration(words):
        return Heading(written, Role.SUMMARY, summary[0], name=summary[1])
    tokens = set(bare.split())
    if tokens & {"load", "force", "peak"} and len(tokens) <= 4:
        return Heading(written, Role.LOAD)
    if tokens & {"stress", "strength"} and len(tokens) <= 4:
        return Heading(written, Role.STRESS)
    return Heading(written, Role.UNKNOWN)


def _is_duration(words: str) -> bool:
    """Return whether a heading names how long something took: its “min” are minutes, its “s” seconds.

    Examples
    --------
    >>> _is_duration("clamp time min"), _is_duration("load min")
    (True, False)
    """
    *of, last = words.split() or [""]
    return last in ("min", "mins", "s", "sec") and not _DURATIONS.isdisjoint(of)


@lru_cache(maxsize=4096)
def read_summary(words: str) -> tuple[Summary, str] | None:
    """Return which summary words name, and what they name beside it; None for none.

    Parameters
    ----------
    words : as `plain` gives them.
    """
    words = " ".join(words.replace("(", " ").replace(")", " ").split())
    bare = " ".join(words.replace("%", " ").split())
    if (kind := _KINDS.get(words) or _KINDS.get(bare)) is not None:
        return kind, ""
    cleaned = " ".join(re.sub(_POPULATION, " ", words).split())
    if cleaned != words and (found := read_summary(cleaned)) is not None:
        return found
    if base := re.match(r"(?:%|percent|share) of (?:the )?(.+)", words):
        return Summary.KEPT, base[1]
    # “mean dry”, “kept, %”, “dry average”: the kind and what it is of
    tokens = words.split()
    for size in range(min(len(tokens) - 1, _LONGEST), 0, -1):
        first, last = " ".join(tokens[:size]), " ".join(tokens[-size:])
        if first not in _WEAK and (kind := _KINDS.get(first)) is not None:
            return kind, " ".join(tokens[size:]).removeprefix("of ").strip()
        if last not in _WEAK and (kind := _KINDS.get(last)) is not None:
            return kind, " ".join(tokens[:-size])
    return None


_DURATIONS: Final = frozenset([
    "time", "times", "clamp", "clamps", "clamped", "clamping", "cure", "cured", "curing", "age", "aged", "soak",
    "soaked",
    "open", "wait", "pressed", "assembly",
])  # fmt: skip
_NUMBERED: Final = re.compile(
    r"(?:(?:#|no\.?|nr\.?|piece|pc\.?|sample|specimen|test|pull)(?=[\s#\d]))?\s*#?(\d{1,3}|[a-z])", re.IGNORECASE
)


def read_numbering(text: str) -> int | None:
    """Return the place that a heading like `A`, `3` or `Piece 2` numbers, from 1; None for anything else.

    Examples
    --------
    >>> read_numbering("C"), read_numbering("Piece 2"), read_numbering("1:6")
    (3, 2, None)
    """
    found = _NUMBERED.fullmatch(" ".join(text.split()))
    if found is None:
        return None
    sign = found[1].casefold()
    return int(sign) if sign.isdigit() else ord(sign) - 96


def is_measure(unit: Unit | None, measure: Measure) -> bool:
    """Return whether a unit is of a kind."""
    return unit is not None and unit.measure is measure
