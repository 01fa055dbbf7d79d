"""Questions about a table, and what a person answered."""

from collections.abc import Sequence
from dataclasses import dataclass

from adhaero.core.errors import EntryError


@dataclass(frozen=True)
class Question:
    """What a file does not say and a person must.

    Attributes
    ----------
    about, subject : what it is about, and of what; the subject is empty for the whole file.
    cells : where it matters. choices : what it may be, the likeliest first; empty for a number.
    """

    about: str
    subject: str
    cells: str
    choices: tuple[str, ...]
    words: str


@dataclass(frozen=True)
class Answers:
    """Answers by what they are about and their subject."""

    given: tuple[tuple[str, str, str], ...] = ()

    def find(self, about: str, subject: str = "") -> str | None:
        """Return an answer; None where there is none yet. A colour's sharp does not count."""
        for one, of, choice in self.given:
            if one == about and _fold(of) == _fold(subject):
                return choice
        return None


def _fold(text: str) -> str:
    return " ".join(text.split()).casefold().lstrip("#")


_ABOUT = (
    "unit", "decimal mark", "day and month", "colour", "zero", "word", "held at", "name", "label", "piece or mean",
    "hidden", "fraction",
)  # fmt: skip


def read_answers(texts: Sequence[str]) -> Answers:
    """Return answers written `ABOUT SUBJECT=CHOICE`, without a subject `ABOUT=CHOICE`.

    Raises
    ------
    EntryError : one of them says nothing of the kind.

    Examples
    --------
    >>> read_answers(["decimal mark=point", "name Kestral=Kestrel"]).find("name", "kestral")
    'Kestrel'
    """
    found = []
    for text in texts:
        said, equals, choice = text.rpartition("=")
        about = next((one for one in _ABOUT if said.strip() == one or said.strip().startswith(f"{one} ")), None)
        if not equals or about is None or not choice.strip():
            raise EntryError(
                f"“{text}” is no answer.",
                f"Expected ABOUT SUBJECT=CHOICE, about {', '.join(_ABOUT)}.",
                field="answer",
            )
        found.append((about, said.strip()[len(about) :].strip(), choice.strip()))
    return Answers(tuple(found))
