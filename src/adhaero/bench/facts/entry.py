"""What every form has in common: its types are taken at their word, it has no unknown field, and its texts can be seen.

A form is declared once, as a frozen dataclass beside the function that takes it; the API reads its bodies into it.
"""

from dataclasses import dataclass, fields
from typing import Annotated, ClassVar

from annotated_types import Ge, Le, MaxLen

from adhaero.core.errors import EntryError
from adhaero.core.text import find_unseen, looks_empty

Id = Annotated[int, Ge(1), Le(2**62)]
Ids = Annotated[tuple[Id, ...], MaxLen(20_000)]
Moment = Annotated[str, MaxLen(40)]
Short = Annotated[str, MaxLen(60)]
Line = Annotated[str, MaxLen(200)]
Reason = Annotated[str, MaxLen(300)]
Note = Annotated[str, MaxLen(1000)]
Text = Annotated[str, MaxLen(2000)]


@dataclass(frozen=True)
class Entry:
    """A form as a person filled it in."""

    __pydantic_config__: ClassVar[dict[str, object]] = {"strict": True, "extra": "forbid"}

    def check_texts(self) -> None:
        """Raise `EntryError` for a text that holds what cannot be seen: a control, a blank without a width."""
        for one in fields(self):
            value = getattr(self, one.name)
            for part in value if isinstance(value, tuple) else (value,):
                if isinstance(part, Entry):
                    part.check_texts()
                elif isinstance(part, str):
                    _check_text(part, one.name)


def _check_text(text: str, field: str) -> None:
    unseen = find_unseen(text)
    if unseen is not None:
        shown = text.replace(unseen, "·")[:40]
        found = f"“{shown}” holds a character that cannot be seen (U+{ord(unseen):04X})."
        raise EntryError(found, do="Type it again.", field=field)
    if text.strip() and looks_empty(text):
        raise EntryError("It holds nothing that can be seen.", do="Type it again.", field=field)


@dataclass(frozen=True)
class Edit(Entry):
    """One field: what it held when it was shown, and what it shall hold."""

    field: Short
    was: Text
    now: Text


@dataclass(frozen=True)
class Rewrite(Entry):
    """A text: what it was when it was shown, and what it shall be."""

    was: Text
    now: Text


@dataclass(frozen=True)
class Why(Entry):
    """A reason."""

    reason: Note


@dataclass(frozen=True)
class Chosen(Entry):
    """Chosen pieces, and when something was done to them if not now."""

    pieces: Ids
    at_utc: Moment | None = None


@dataclass(frozen=True)
class Done(Entry):
    """Whether something is done."""

    done: bool
