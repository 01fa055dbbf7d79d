"""Texts that people type: what in them cannot be seen."""

import unicodedata
from typing import Final

_JOINERS: Final = "\u200c\u200d"
_LINE_ENDS: Final = "\t\n\r"
_UNSEEN: Final = frozenset({"Cc", "Cf", "Cs", "Cn", "Co", "Zl", "Zp"})
_LOOK_EMPTY: Final = "\u115f\u1160\u2800\u3164\uffa0" + _JOINERS


def find_unseen(text: str) -> str | None:
    """Return the first character that cannot be seen: a control, a mark of direction or order, none at all.

    Examples
    --------
    >>> find_unseen("Wren" + chr(0x200B)) == chr(0x200B), find_unseen("Wren 2")
    (True, None)
    """
    for character in text:
        if character.isprintable() or character in _JOINERS + _LINE_ENDS:
            continue
        if unicodedata.category(character) in _UNSEEN:
            return character
    return None


def looks_empty(text: str) -> bool:
    """Return whether nothing of a text can be seen."""
    return not any(
        one not in _LOOK_EMPTY and not one.isspace() and unicodedata.category(one) not in _UNSEEN | {"Mn"}
        for one in text
    )


def drop_unseen(text: str) -> str:
    """Return a text without what cannot be seen: for a file whose format does not allow it."""
    return "".join(one for one in text if find_unseen(one) is None)
