"""Closed sets of words: a text that must be one of them."""

from enum import StrEnum
from typing import TypeVar

from adhaero.core.errors import EntryError

Word = TypeVar("Word", bound=StrEnum)


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
