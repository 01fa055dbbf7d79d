"""The words that a conclusion may be made of. What stands in no table here, and is no name, is not understood.

Phrases are lower case, contractions written out; the longest that fits is taken.
"""

from collections.abc import Mapping
from types import MappingProxyType
from typing import Final

RELATIONS: Final[Mapping[str, str]] = MappingProxyType(
    {
        "STRONGER": "stronger, better, superior, more",
        "BEATS": "beats, beat, beating, outperforms, outperform, outperformed, outdoes, outdo, outdid, exceeds, "
        "exceed, "
        "exceeded, ahead of, holds more than, hold more than, held more than, takes more than, take more than, "
        "took more than, superior to",
        "WEAKER": "weaker, worse, less strong, less, inferior",
        "LOSES": "behind, trails, trail, trailed, loses to, lose to, lost to, losing to, inferior to",
        "AS_STRONG": "as strong as, as good as",
        "AS_WEAK": "as weak as",
        "AT_LEAST_AS_STRONG": "at least as strong as, at least as good as, no less strong than, no worse than",
        "NEARLY_AS_STRONG": "nearly as strong as, nearly as good as, almost as strong as, almost as good as, "
        "close to as strong as, close to as good as",
        "REACHES": "reaches, reach, reached",
        "SAME": "same, equal, equals, alike, on a par, on par, equally strong, equally good, as strong as each other",
        "MATCHES": "matches, match, matched",
        "NO_DIFFERENCE": "no difference, does not differ, do not differ, did not differ, makes no difference, "
        "make no difference, made no difference",
        "DIFFERENT": "different, differs, differ, differed",
        "APART": "cannot be told apart, can not be told apart, not distinguishable, no significant difference",
        "MATTERS_MORE": "matters more, matter more, mattered more",
        "MAKES_STRONGER": "makes it stronger, makes them stronger, makes joint stronger, made it stronger",
        "MAKES_WEAKER": "makes it weaker, makes them weaker, makes joint weaker, made it weaker",
    }
)

SHARES: Final[Mapping[str, str]] = MappingProxyType(
    {
        "KEEPS": "keeps, keep, kept, retains, retain, retained, down to, fell to, falls to, dropped to, drops to",
        "AT": "at",
        "LOST": "lost, loses, lose, losing, down, fell by, falls by, dropped by, drops by, dropped, drops, gives up, "
        "gave up, costs, cost",
        "GAINED": "up, gained, gains, gain",
        "LOST_STRENGTH": "lost strength, loses strength, lose strength",
        "LOST_NOTHING": "lost nothing, loses nothing, lose nothing",
        "LOST_MOST_OF": "lost most of, loses most of, lose most of",
        "LOST_MOST": "lost most, loses most, lose most, lost the most, loses the most",
        "KEEPS_MOST": "keeps most, kept most, keep most, keeps the most, kept the most",
        "KEEPS_LEAST": "keeps least, kept least, keep least, keeps the least, kept the least",
        "LOST_LEAST": "lost least, loses least, lose least, lost the least, loses the least",
        "KEEPS_MORE": "keeps more than, kept more than, keep more than, retains more than",
        "KEEPS_LESS": "keeps less than, kept less than, keep less than",
        "LOSES_MORE": "loses more than, lost more than, lose more than",
        "LOSES_LESS": "loses less than, lost less than, lose less than",
        "AS_MUCH_AS": "as much as",
        "OWN": "its own strength, its strength, their strength, their own strength, its, their",
        "HALVED": "halved",
    }
)

PLACES: Final[Mapping[str, str]] = MappingProxyType(
    {
        "STRONGEST": "strongest of all, strongest, best, top, wins, win, won, winner, leads, lead, led, first",
        "WEAKEST": "weakest of all, weakest, worst, poorest, last",
        "DOWNWARDS": "from strongest to weakest, from best to worst, in order from strongest to weakest",
        "UPWARDS": "from weakest to strongest, from worst to best",
        "THEN": "then",
        "ABOVE": ">",
        "BELOW": "<",
    }
)

SCATTER: Final[Mapping[str, str]] = MappingProxyType(
    {
        "STEADIER": "steadier, more consistent, more uniform, varies less, vary less, varied less, scatters less, "
        "scatter less, scattered less",
        "LESS_STEADY": "scatters more, scatter more, scattered more, varies more, vary more, varied more, "
        "less consistent, less uniform, less steady",
        "STEADIEST": "steadiest, most consistent, most uniform, varies least, scatters least, varies the least, "
        "scatters the least",
        "LEAST_STEADY": "least consistent, least uniform, scatters most, varies most, scatters the most, "
        "varies the most",
        "SCATTERS": "scatters by, scatter by, scattered by, varies by, coefficient of variation, cv, scatter",
    }
)

READINGS: Final[Mapping[str, str]] = MappingProxyType(
    {
        "AVERAGE": "on average, average of, average, averages, averaged, mean of, mean, in the mean",
        "TORN_AVERAGE": "wood failure of, torn wood of, wood failure, torn wood",
        "MEDIAN": "median of, median, middle piece of, middle piece",
        "LEAST": "weakest piece of, worst piece of, weakest piece, worst piece, weakest of, worst of, at worst, "
        "lowest piece of, lowest piece, lowest, least",
        "GREATEST": "strongest piece of, best piece of, strongest piece, best piece, best of, strongest of, "
        "at best, highest piece of, highest piece, highest",
        "BROKE": "broke at, breaks at, break at, failed at, fails at, held, holds, hold, carried, carries, took, "
        "broke, "
        "breaks, failed",
        "BELOW_LINE": "broke below, breaks below, failed below, broke under, failed under, held less than, "
        "breaks under, break below, break under",
        "ABOVE_LINE": "held more than, holds more than, hold more than, held over, holds over, broke above, "
        "breaks above, broke over, held at least, carried more than, carries more than, stayed above",
        "IN_WOOD": "tore in the wood, tore in wood, broke in the wood, broke in wood, failed in the wood, "
        "failed in wood, tears in the wood, breaks in the wood, fails in the wood, tear in the wood, "
        "break in the wood, fail in the wood, tore wood",
        "IN_GLUE": "failed in the glue line, failed in the glue, failed in the glueline, broke in the glue line, "
        "broke in the glue, failed in glue, broke in glue, fails in the glue, breaks in the glue, fail in the glue, "
        "break in the glue, broke in the glueline, let go in the glue, fails in the glue line, breaks in the glue line",
        "PIECES_OF": "of the pieces of, pieces of, of the pieces, piece of, pieces, piece, samples of, specimens of, "
        "samples, specimens, sample, specimen",
        "MOSTLY": "mostly, most of, most",
        "ALWAYS": "always",
    }
)

WHO: Final[Mapping[str, str]] = MappingProxyType(
    {
        "IT": "it",
        "THEY": "they, them",
        "BOTH": "both of them, both, the two",
        "OTHERS": "the others, all others, all the others, the rest, every other set, every other glue, "
        "every other, all the rest, the other sets, the other glues",
        "ALL": "all of them, all, every, each of them, each, everything, they all",
        "NONE": "none of them, none of, none, nothing",
        "NO": "no",
        "NEITHER": "neither",
        "NOR": "nor",
        "EXCEPT": "except for, except, apart from, other than",
        "ALLBUT": "all but, all except, everything but, everything except, every glue but, every set but, "
        "all glues but, all sets but, all glues except, all sets except",
        "ONLY": "only",
        "AND": "and, &",
        "COMMA": ",",
        "COLON": ":",
    }
)

LINKS: Final[Mapping[str, str]] = MappingProxyType(
    {
        "NOT": "not, never, hardly, fails to, fail to, failed to",
        "UNTRUE": "it is not true that, it is untrue that, it is false that, it is wrong that, it was not true that, "
        "it is not so that",
        "THAN": "than",
        "OF": "of the strength of, of strength of, of the typical strength of, of",
        "TO": "compared to, compared with, compared against, against, relative to, to",
        "AS": "as",
        "ON": "on",
        "BY": "by",
        "BETWEEN": "between",
        "FROM": "from",
        "AFTER": "after",
        "IN": "in, with, when, under, if, on",
        "BUT": "but, while, whereas, although, though, because, since, so, which, however",
    }
)

DEGREES: Final[Mapping[str, str]] = MappingProxyType(
    {
        "SLIGHTLY": "slightly, a little, a bit, marginally",
        "MUCH": "much, far, a lot, considerably",
    }
)

CURVES: Final[Mapping[str, str]] = MappingProxyType(
    {
        "FINAL": "of its final strength, of the final strength, its final strength, the final strength, "
        "final strength, "
        "of its full strength, its full strength, of what it reaches, of its strength without a gap, "
        "of the strength without a gap, of its strength at 0",
        "TAKES": "takes, took, needs, need, needed",
        "EVERY": "every, each, per",
        "ADDS": "adds, add, added, gains",
    }
)

FILLERS: Final = (
    "the, a, an, there, is, are, was, were, be, been, has, have, had, comes, come, came, also, even, too, any, just, "
    "does, do, did, itself"
)
GENERIC: Final = (
    "glue, glues, set, sets, mix, mixes, joint, joints, bar, bars, board, boards, test, tests, trial, trials, "
    "strength, strengths, load, loads, value, values"
)
HEDGES: Final = (
    "i think that, i think, i believe that, i believe, in my opinion, it seems that, it seems, probably, apparently, "
    "clearly, definitely, obviously, certainly, significantly, overall, here, in this test, in this trial, really, "
    "it is true that, "
)
POSSIBLE: Final = "may, might, could, should, would, will, used to, can"
REFUSED: Final = "anything but, but one, but two, but three, far from, nowhere near, or, not only, all the more"
SOLID: Final = "the wood itself, wood itself, the solid wood, solid wood, unglued wood, the unglued wood, the wood"
SOLID_WORDS: Final = ("solid", "wood", "unjointed")

NUMBERS: Final[Mapping[str, float]] = MappingProxyType(
    {
        word: float(value)
        for value, word in enumerate(
            ("zero", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")
        )
    }
    | {"fifteen": 15.0, "twenty": 20.0, "thirty": 30.0, "forty": 40.0, "fifty": 50.0, "sixty": 60.0, "seventy": 70.0}
    | {"eighty": 80.0, "ninety": 90.0, "hundred": 100.0}
)
FRACTIONS: Final[Mapping[str, float]] = MappingProxyType(
    {
        "half": 1 / 2,
        "third": 1 / 3,
        "thirds": 1 / 3,
        "quarter": 1 / 4,
        "quarters": 1 / 4,
        "fifth": 1 / 5,
        "fifths": 1 / 5,
        "sixth": 1 / 6,
        "sixths": 1 / 6,
        "eighth": 1 / 8,
        "eighths": 1 / 8,
        "tenth": 1 / 10,
        "tenths": 1 / 10,
    }
)
MULTIPLES: Final[Mapping[str, float]] = MappingProxyType(
    {"twice": 2.0, "double": 2.0, "doubled": 2.0, "triple": 3.0, "tripled": 3.0, "half again": 1.5}
)
ORDINALS: Final[Mapping[str, int]] = MappingProxyType(
    {"second": 2, "third": 3, "fourth": 4, "fifth": 5, "sixth": 6, "seventh": 7, "eighth": 8}
)
ABOUT: Final = "about, around, roughly, approximately, some, circa, ~"
ALMOST: Final = "almost, nearly, close to, just under, not quite"
JUST_OVER: Final = "just over, a little over"
EXACTLY: Final = "exactly"
AT_LEAST: Final = "over, more than, above, at least, no less than, not less than, upwards of"
AT_MOST: Final = "under, less than, below, at most, no more than, not more than, up to"


def phrases(text: str) -> list[tuple[str, ...]]:
    """Return the phrases of a table as words."""
    return [tuple(one.split()) for one in text.replace(" , ", " ").split(", ") if one.strip()]


def make_lexicon() -> dict[tuple[str, ...], str]:
    """Return every phrase and the kind of word that it is."""
    found: dict[tuple[str, ...], str] = {}
    for table in (RELATIONS, SHARES, PLACES, SCATTER, READINGS, WHO, LINKS, DEGREES, CURVES):
        for kind, text in table.items():
            for phrase in phrases(text) if text != "," else [(",",)]:
                found.setdefault(phrase, kind)
    for kind, text in (
        ("FILLER", FILLERS),
        ("GENERIC", GENERIC),
        ("HEDGE", HEDGES),
        ("POSSIBLE", POSSIBLE),
        ("UNKNOWN", REFUSED),
    ):
        for phrase in phrases(text):
            found.setdefault(phrase, kind)
    for phrase in phrases(SOLID):
        found[phrase] = "SOLID"
    return found
