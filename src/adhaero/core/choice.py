"""Closed sets of words: a text that must be one of them."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Generic, TypeVar

from adhaero.core.errors import EntryError

Word = TypeVar("Word", bound=StrEnum)


@dataclass(frozen=True)
class Worded(Generic[Word]):
    """A member of a closed set and its words."""

    key: Word
    words: str


def offer(words: Mapping[Word, str]) -> list[Worded[Word]]:
    """Return a closed set as it is offered: each member with its words, in order."""
    return [Worded(key, said) for key, said in words.items()]


def read_choice(words: type[Word], text: str, field: str, found: str = "is not known here") -> Word:
    """Return the member of a closed set that a text names; raises `EntryError`.

    Examples
    --------
    >>> from adhaero.core.wood import Grain
    >>> read_choice(Grain, "end", "grain_a")
    <Grain.END: 'end'>
    """
    try:
        return words(text)
    except ValueError:
        offered = ", ".join(filter(None, words))
        raise EntryError(f"“{text}” {found}.", f"Choose one of {offered}.", field=field) from None
