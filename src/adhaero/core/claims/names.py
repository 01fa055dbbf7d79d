"""The names that a conclusion may use: sets, values of factors, conditions; whole, in part, or with a letter wrong."""

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

from adhaero.core.claims.amounts import UNITS
from adhaero.core.claims.vocabulary import FRACTIONS, MULTIPLES, NUMBERS, ORDINALS, SOLID_WORDS, make_lexicon

_WORD = re.compile(r"(?P<number>\d+(?:[.,]\d+)*)|(?P<word>[^\W\d_]+(?:['’][^\W\d_]+)?)|(?P<mark>\S)")
_LEAST_FOR_TYPO = 4
_ENDINGS = ("ing", "ed", "es", "s", "e", "d")

LEXICON = make_lexicon()
LONGEST = max(len(phrase) for phrase in LEXICON)
KNOWN = (
    {word for phrase in LEXICON for word in phrase}
    | set(NUMBERS)
    | set(FRACTIONS)
    | set(ORDINALS)
    | set(UNITS)
    | {word for phrase in MULTIPLES for word in phrase.split()}
)


@dataclass(frozen=True)
class Word:
    """One word, number or mark of a text: as written, in lower case, and where."""

    text: str
    lower: str
    kind: str
    start: int
    end: int


_SHORT = {"can't": ("cannot",), "cant": ("cannot",), "won't": ("will", "not")}


def split_words(text: str) -> list[Word]:
    """Return the words of a text, contractions written out, the 's of a possessive left out."""
    found = []
    for match in _WORD.finditer(text.replace("’", "'")):
        kind = str(match.lastgroup)
        raw, start, end = match.group(), match.start(), match.end()
        lower = raw.lower()
        if kind == "word" and lower in _SHORT:
            parts = _SHORT[lower]
        elif kind == "word" and lower.endswith("n't"):
            parts = (lower[:-3], "not")
        elif kind == "word" and lower in ("it's", "that's", "there's"):
            parts = (lower[:-2], "is")
        elif kind == "word" and lower.endswith("'s"):
            raw = raw[:-2]
            parts = (lower[:-2],)
        elif kind == "word" and lower.endswith("'"):
            parts = (lower[:-1],)
        else:
            parts = (lower,)
        for part in parts:
            found.append(Word(raw if len(parts) == 1 else part, part, kind, start, end))
    return found


@dataclass(frozen=True)
class Ref:
    """What a name stands for.

    Attributes
    ----------
    kind : `set`, `value` (of a factor), `factor`, or `condition` (a slice).
    key : the set; the factor and its value; the column and its value.
    """

    kind: str
    key: tuple[str, ...]

    @property
    def words(self) -> str:
        """Return it as it is shown."""
        return self.key[-1]


@dataclass(frozen=True)
class Found:
    """A name found in a text: what it stands for, how many words it takes, and how sure that is no other word."""

    ref: Ref
    length: int
    as_written: bool
    also_word: bool
    mended: str = ""


def stem(word: str) -> str:
    """Return a word without its ending: sized and sizing are one."""
    for ending in _ENDINGS:
        if word.endswith(ending) and len(word) - len(ending) >= 3:
            return word[: -len(ending)]
    return word


@dataclass
class Names:
    """All names of an analysis, ready to be looked up.

    Parameters
    ----------
    refs : sets first, then values of factors, then conditions.
    control : the set that “the wood” is; without, the one with solid, wood or unjointed in its name.
    """

    refs: Sequence[Ref]
    control: Ref | None = None
    _whole: dict[tuple[str, ...], list[Ref]] = field(default_factory=dict)
    _parts: dict[tuple[str, ...], set[Ref]] = field(default_factory=dict)
    _stems: dict[tuple[str, ...], set[Ref]] = field(default_factory=dict)
    _quantities: dict[tuple[str, float], Ref] = field(default_factory=dict)
    longest: int = 1

    def __post_init__(self) -> None:
        for ref in self.refs:
            words = tuple(one.lower for one in split_words(ref.words))
            if not words:
                continue
            self._whole.setdefault(words, []).append(ref)
            self.longest = max(self.longest, len(words))
            for part in _parts_of(words):
                self._parts.setdefault(part, set()).add(ref)
            if ref.kind != "set":
                self._stems.setdefault(tuple(map(stem, words)), set()).add(ref)
            if (quantity := read_quantity(words)) is not None:
                self._quantities.setdefault(quantity, ref)

    @property
    def solid(self) -> Ref | None:
        """Return the set that “the wood itself” is."""
        if self.control is not None:
            return self.control
        found = [
            one
            for one in self.refs
            if one.kind == "set" and any(word.lower in SOLID_WORDS for word in split_words(one.words))
        ]
        return found[0] if len(found) == 1 else None

    def find(self, words: Sequence[Word], at: int) -> Found | None:
        """Return the longest name that begins at a word; whole names before parts, and these before mended ones."""
        lower = tuple(one.lower for one in words[at : at + self.longest])
        for length in range(len(lower), 0, -1):
            part = lower[:length]
            if (refs := self._whole.get(part)) is not None:
                written = self._is_written(refs[0], words[at : at + length])
                if length == 1 and len(part[0]) == 1 and not written:
                    continue
                return Found(refs[0], length, written, self._is_word(part))
            if len(some := self._parts.get(part, set())) == 1:
                return Found(next(iter(some)), length, False, False)
            stems = tuple(map(stem, part))
            if not self._is_word(part) and len(some := self._stems.get(stems, set())) == 1:
                return Found(next(iter(some)), length, False, False)
        return self._mend(words[at]) if at < len(words) else None

    def find_quantity(self, measures: str, value: float) -> Ref | None:
        """Return the set whose name is an amount equal to this one: 240 min is 4 h."""
        for (other, number), ref in self._quantities.items():
            if other == measures and abs(number - value) <= 1e-9 * max(abs(number), abs(value)):
                return ref
        return None

    def _is_word(self, words: tuple[str, ...]) -> bool:
        return all(word in KNOWN for word in words)

    def _is_written(self, ref: Ref, words: Sequence[Word]) -> bool:
        return [one.text for one in words] == [one.text for one in split_words(ref.words)]

    def _mend(self, word: Word) -> Found | None:
        """Return the one name that a word of four letters or more misses by one letter."""
        if word.kind != "word" or len(word.lower) < _LEAST_FOR_TYPO - 1 or word.lower in KNOWN:
            return None
        near = {
            ref
            for words, refs in (*self._whole.items(), *self._parts.items())
            if len(words) == 1 and len(words[0]) >= _LEAST_FOR_TYPO and words[0].isalpha()
            for ref in refs
            if _differs_by_one(word.lower, words[0])
        }
        if len(near) != 1:
            return None
        ref = next(iter(near))
        return Found(ref, 1, False, False, mended=word.text)


def _parts_of(words: tuple[str, ...]) -> Iterable[tuple[str, ...]]:
    """Return the parts of a name that may stand for it: runs of whole words, not all of them usual words."""
    plain = [(at, word) for at, word in enumerate(words) if word[0].isalnum()]
    for first in range(len(plain)):
        for last in range(first, len(plain)):
            run = words[plain[first][0] : plain[last][0] + 1]
            if run == words or not any(word.isalpha() and word not in KNOWN and len(word) > 1 for word in run):
                continue
            if "(" in run or ")" in run:
                continue
            yield run


def _differs_by_one(a: str, b: str) -> bool:
    """Return whether two words differ by one letter wrong, missing or too many, or two changed places."""
    if a == b or abs(len(a) - len(b)) > 1:
        return False
    if len(a) == len(b):
        wrong = [at for at in range(len(a)) if a[at] != b[at]]
        if len(wrong) == 1:
            return True
        return (
            len(wrong) == 2 and wrong[1] == wrong[0] + 1 and a[wrong[0]] == b[wrong[1]] and a[wrong[1]] == b[wrong[0]]
        )
    short, long_ = sorted((a, b), key=len)
    return any(long_[:at] + long_[at + 1 :] == short for at in range(len(long_)))


def read_number(word: str) -> float | None:
    """Return a number as written: thousands in groups of three after commas, else one comma or point for decimals."""
    if word in NUMBERS:
        return NUMBERS[word]
    if re.fullmatch(r"\d{1,3}(,\d{3})+(\.\d+)?", word):
        return float(word.replace(",", ""))
    if re.fullmatch(r"\d+([.,]\d+)?", word):
        return float(word.replace(",", "."))
    return None


def read_quantity(words: Sequence[str]) -> tuple[str, float] | None:
    """Return what a name measures and how much in the base unit, where it is a number and a unit."""
    if len(words) != 2 or words[1] not in UNITS:
        return None
    number = 1.0 if words[0] in ("a", "an") else read_number(words[0])
    unit = UNITS[words[1]]
    return None if number is None else (unit.measures, number * unit.factor)
