"""A conclusion as a row of typed words: names, amounts, relations; what is none of these is not understood."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import product

from adhaero.core.claims import vocabulary as words_of
from adhaero.core.claims.amounts import UNITS, Amount, Kind, Near, Unit
from adhaero.core.claims.names import LEXICON, LONGEST, Found, Names, Ref, Word, read_number, split_words
from adhaero.core.claims.vocabulary import FRACTIONS, MULTIPLES, ORDINALS, phrases

_NEAR = {
    phrase: near
    for near, text in (
        (Near.ABOUT, words_of.ABOUT),
        (Near.ALMOST, words_of.ALMOST),
        (Near.JUST_OVER, words_of.JUST_OVER),
        (Near.EXACTLY, words_of.EXACTLY),
        (Near.AT_LEAST, words_of.AT_LEAST),
        (Near.AT_MOST, words_of.AT_MOST),
    )
    for phrase in phrases(text)
}
_LONGEST_NEAR = max(len(phrase) for phrase in _NEAR)
_MOST_WAYS = 16
# words that compare where no number follows, and only bind a verb to its number where one does
_BEFORE_NUMBER = {"BEATS": "ABOVE_LINE", "KEEPS_MORE": "KEEPS", "KEEPS_LESS": "KEEPS"} | dict.fromkeys(
    ("LOSES_MORE", "LOSES_LESS"), "LOST"
)
# after these a value is a condition: “on planed wood Heron beats Wren”
_LEADING = frozenset({"ON", "IN", "AFTER", "AT"})
DROPPED = frozenset({"FILLER", "GENERIC", "HEDGE"})


@dataclass(frozen=True)
class Typed:
    """One typed word.

    Attributes
    ----------
    kind : a kind of vocabulary.py, or NAME, COND, FACTOR, PCT, TIMES, QTY, NUM, ORD, UNKNOWN.
    text : as written; start, end : where; ref, amount : what a name or an amount stands for.
    """

    kind: str
    text: str
    start: int
    end: int
    ref: Ref | None = None
    amount: Amount | None = None
    mended: str = ""


def lex(text: str, names: Names) -> Iterator[list[Typed]]:
    """Yield the ways to read a text as typed words, the likeliest first: a name may also be another word."""
    words = split_words(text)
    choices = _find_choices(words, names)
    for turn in list(product(*([False, True] for _ in choices)))[:_MOST_WAYS]:
        yield _lex(text, words, names, {at for at, flipped in zip(choices, turn, strict=True) if flipped})


def _find_choices(words: Sequence[Word], names: Names) -> list[int]:
    """Return the places of names that are words too."""
    found = []
    for at in range(len(words)):
        name = names.find(words, at)
        if name is not None and (_is_choice(name, words, at)):
            found.append(at)
    return found[:4]


def _is_choice(name: Found, words: Sequence[Word], at: int) -> bool:
    return name.also_word or _find_phrase(words, at)[1] > 0 or read_amount(words, at) is not None


def _lex(text: str, words: Sequence[Word], names: Names, flipped: set[int]) -> list[Typed]:
    found: list[Typed] = []
    at = 0
    while at < len(words):
        one, length = _read_one(words, at, names, at in flipped)
        start, end = words[at].start, words[at + length - 1].end
        found.append(replace(one, text=text[start:end], start=start, end=end))
        at += length
    return _join_names(_drop_wood(found))


def _read_one(words: Sequence[Word], at: int, names: Names, flipped: bool) -> tuple[Typed, int]:
    name = names.find(words, at)
    kind, phrase = _find_phrase(words, at)
    amount = read_amount(words, at)
    taken = name is not None and not name.mended
    if name is not None and taken:
        longer = phrase > name.length
        by_word = longer or (name.also_word and not name.as_written)
        taken = by_word == flipped
    if name is not None and (taken or (name.mended and not kind and amount is None)):
        return _type_name(name), name.length
    if amount is not None:
        said, length = amount
        ref = names.find_quantity(said.unit.measures, said.value * said.unit.factor) if said.unit is not None else None
        if ref is not None and said.near is Near.PLAIN and said.upper is None:
            return Typed("NAME", "", 0, 0, ref), length
        if kind and phrase > length:
            return Typed(kind, "", 0, 0), phrase
        kinds = {Kind.PERCENT: "PCT", Kind.TIMES: "TIMES", Kind.UNIT: "QTY", Kind.PLAIN: "NUM"}
        return Typed(kinds[said.kind], "", 0, 0, amount=said), length
    if kind == "SOLID":
        return (Typed("UNKNOWN", "", 0, 0) if names.solid is None else Typed("NAME", "", 0, 0, names.solid)), phrase
    if kind in ("STRONGER", "WEAKER") and words[at].lower in ("more", "less") and not _is_strength(words, at + phrase):
        return Typed("UNKNOWN", "", 0, 0), phrase
    if kind:
        after = read_amount(words, at + phrase - 2) if phrase > 2 else None
        if kind in _BEFORE_NUMBER and after is not None:
            # the last two words (“more than”) belong to the number
            return Typed(_BEFORE_NUMBER[kind], "", 0, 0), phrase if kind == "BEATS" else phrase - 2
        return Typed(kind, "", 0, 0), phrase
    if words[at].lower in ORDINALS:
        value = float(ORDINALS[words[at].lower])
        return Typed("ORD", "", 0, 0, amount=Amount(Kind.PLAIN, value)), 1
    return Typed("UNKNOWN", "", 0, 0), 1


def _is_strength(words: Sequence[Word], at: int) -> bool:
    """Return whether “more” and “less” here are of strength: more boards is not stronger."""
    while at < len(words) and LEXICON.get((words[at].lower,)) == "FILLER":
        at += 1
    return at >= len(words) or LEXICON.get((words[at].lower,)) != "GENERIC" or words[at].lower in _STRENGTHS


_STRENGTHS = frozenset({"strength", "strengths", "load", "loads"})


def _type_name(name: Found) -> Typed:
    kind = {"condition": "COND", "factor": "FACTOR"}.get(name.ref.kind, "NAME")
    return Typed(kind, "", 0, 0, name.ref, mended=name.mended)


def _find_phrase(words: Sequence[Word], at: int) -> tuple[str, int]:
    for length in range(min(LONGEST, len(words) - at), 0, -1):
        kind = LEXICON.get(tuple(one.lower for one in words[at : at + length]))
        if kind is not None:
            return kind, length
    return "", 0


def _drop_wood(found: list[Typed]) -> list[Typed]:
    """Return the words without “wood” beside a name: planed wood is planed."""
    kept = []
    for at, one in enumerate(found):
        if one.kind == "UNKNOWN" and one.text.lower() == "wood" and at and found[at - 1].kind in ("NAME", "COND"):
            continue
        kept.append(one)
    return kept


def _join_names(found: list[Typed]) -> list[Typed]:
    """Return the words with values of different factors beside each other as one set: “sized Wren”, “Wren, sized”."""
    joined: list[Typed] = []
    for one in found:
        last = joined[-1] if joined else None
        comma = len(joined) > 1 and last is not None and last.kind == "COMMA"
        before = joined[-2] if comma else last
        place = len(joined) - (2 if comma else 1)
        led = place > 0 and joined[place - 1].kind in _LEADING
        if (
            one.ref is not None
            and before is not None
            and before.ref is not None
            and not led
            and are_values(before.ref, one.ref)
        ):
            if comma:
                joined.pop()
            joined[-1] = replace(before, end=one.end, ref=combine(before.ref, one.ref))
        else:
            joined.append(one)
    return joined


def are_values(a: Ref, b: Ref) -> bool:
    """Return whether two names are values of different factors."""
    if a.kind not in ("value", "values") or b.kind != "value":
        return False
    return b.key[0] not in a.key[::2]


def combine(a: Ref, b: Ref) -> Ref:
    """Return what two values of different factors name together."""
    return Ref("values", (*a.key, *b.key))


def read_amount(words: Sequence[Word], at: int) -> tuple[Amount, int] | None:
    """Return the amount that begins at a word, with the words before it that say how near, and how long it is."""
    near, length = Near.PLAIN, 0
    for size in range(min(_LONGEST_NEAR, len(words) - at), 0, -1):
        known = _NEAR.get(tuple(one.lower for one in words[at : at + size]))
        if known is not None:
            near, length = known, size
            break
    core = _read_range(words, at + length) or _read_single(words, at + length)
    if core is None and length == 0:
        return None
    if core is None:
        return None
    amount, size = core
    length += size
    if [one.lower for one in words[at + length : at + length + 2]] == ["or", "so"] and near is Near.PLAIN:
        near, length = Near.ABOUT, length + 2
    if near is not Near.PLAIN and amount.upper is not None:
        return None
    return replace(amount, near=near), length


def _read_range(words: Sequence[Word], at: int) -> tuple[Amount, int] | None:
    lower = [one.lower for one in words[at : at + 1]]
    begun = 1 if lower in (["between"], ["from"]) else 0
    first = _read_single(words, at + begun)
    if first is None:
        return None
    low, size = first
    place = at + begun + size
    joint = words[place].lower if place < len(words) else ""
    wanted = ("and",) if lower == ["between"] else ("to", "-", "–", "—")
    if joint not in wanted:
        return None
    second = _read_single(words, place + 1)
    if second is None:
        return None
    high, size = second
    if low.kind is not Kind.PLAIN and low.kind is not high.kind:
        return None
    value = low.value
    if low.unit is not None and high.unit is not None:
        value = low.value * low.unit.factor / high.unit.factor
    if not value < high.value:
        return None
    return replace(high, value=value, upper=high.value), place + 1 + size - at


def _read_single(words: Sequence[Word], at: int) -> tuple[Amount, int] | None:
    lower = [one.lower for one in words[at : at + 5]]
    for phrase, value in MULTIPLES.items():
        parts = phrase.split()
        if lower[: len(parts)] == parts:
            return Amount(Kind.TIMES, value), len(parts)
    if lower[:1] == ["half"]:
        return Amount(Kind.PERCENT, 50.0), 1
    if lower[:1] in (["a"], ["an"]) and len(lower) > 1:
        if lower[1] in FRACTIONS:
            return Amount(Kind.PERCENT, 100 * FRACTIONS[lower[1]]), 2
        if lower[1] in UNITS and len(lower[1]) > 1:
            return Amount(Kind.UNIT, 1.0, unit=UNITS[lower[1]]), 2
        return None
    number = read_number(lower[0]) if lower else None
    if number is None:
        return None
    if len(lower) > 1 and lower[1] in FRACTIONS and words[at].kind == "word":
        return Amount(Kind.PERCENT, 100 * number * FRACTIONS[lower[1]]), 2
    used = 1
    if lower[1:4] == ["and", "a", "half"]:
        number, used = number + 0.5, 4
    rest = [one.lower for one in words[at + used : at + used + 2]]
    digits = _last_digit(lower[0])
    decimal = digits < 1
    if rest[:1] in (["%"], ["percent"]):
        return Amount(Kind.PERCENT, number, decimal=decimal, last_digit=digits), used + 1
    if rest == ["per", "cent"]:
        return Amount(Kind.PERCENT, number, decimal=decimal, last_digit=digits), used + 2
    if rest[:1] in (["times"], ["x"], ["×"], ["fold"]):
        return Amount(Kind.TIMES, number, decimal=decimal, last_digit=digits), used + 1
    unit, size = _read_unit(words, at + used)
    if unit is not None:
        return Amount(Kind.UNIT, number, unit=unit, decimal=decimal, last_digit=digits), used + size
    if used > 1:
        return None
    return Amount(Kind.PLAIN, number, decimal=decimal, last_digit=digits), 1


def _read_unit(words: Sequence[Word], at: int) -> tuple[Unit | None, int]:
    lower = [one.lower for one in words[at : at + 3]]
    if lower[:2] == ["n", "/"] and len(lower) > 2 and lower[2] in ("mm", "mm²"):
        size = 4 if len(words) > at + 3 and words[at + 3].lower in ("2", "²") else 3
        return UNITS["mpa"], size
    for size in (2, 1):
        name = " ".join(lower[:size])
        if len(lower) >= size and name in UNITS and words[at].lower != "in":
            return UNITS[name], size
    return None, 0


def _last_digit(text: str) -> float:
    """Return one unit of the last digit written: 78.4 is known to 0.1, 11,380 to 10 (its last digit that is not 0)."""
    plain = text.replace(",", "") if text.count(",") and read_number(text) and len(text.split(",")[-1]) == 3 else text
    plain = plain.replace(",", ".")
    if "." in plain:
        return float(10.0 ** -len(plain.split(".")[1]))
    return 1.0
