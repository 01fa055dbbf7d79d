"""The one hierarchy of errors: what was understood, what was expected, what to do."""

from typing import ClassVar


class AdhaeroError(Exception):
    """Something a person, a file or a device caused, told so that it can be put right.

    Parameters
    ----------
    what : what was understood or found, a sentence.
    rule : what was expected instead, a sentence.
    do : what to do about it, a sentence.
    field : the name of the offending field, where there is one.
    choices : texts, any of which could have been meant.
    """

    code: ClassVar[str] = "error"

    def __init__(
        self,
        what: str,
        rule: str = "",
        do: str = "",
        *,
        field: str | None = None,
        choices: tuple[str, ...] = (),
    ) -> None:
        self.what = what
        self.rule = rule
        self.do = do
        self.field = field
        self.choices = choices
        super().__init__(self.sentence)

    @property
    def sentence(self) -> str:
        """Return the message for people: its parts in one line."""
        return " ".join(part for part in (self.what, self.rule, self.do) if part)


class EntryError(AdhaeroError, ValueError):
    """An entry that cannot be read or makes no sense for its field."""

    code = "entry"


class AmbiguousEntry(EntryError):
    """An entry that can be read in two ways; `choices` are the two, written out."""

    code = "ambiguous-entry"


class FormError(EntryError):
    """Several fields of one form that cannot be read; `faults` are what is wrong with each, in its order."""

    code = "form"

    def __init__(self, faults: tuple[EntryError, ...]) -> None:
        self.faults = faults
        first = faults[0]
        super().__init__(" ".join(one.sentence for one in faults), field=first.field, choices=first.choices)


class PlanError(AdhaeroError, ValueError):
    """A plan that cannot be carried out as it stands."""

    code = "plan"


class StateError(AdhaeroError, ValueError):
    """A step that does not fit the state of the thing it is done to."""

    code = "state"


class ReasonNeeded(StateError):
    """A change of something settled that says no reason."""

    code = "reason-needed"


class NotThere(AdhaeroError, LookupError):
    """A trial, piece, glue-up, glue or rig that does not exist (any more)."""

    code = "not-there"


class InUse(AdhaeroError, ValueError):
    """A thing that cannot be deleted because others refer to it."""

    code = "in-use"


class NotAllowed(AdhaeroError, PermissionError):
    """Something that only the computer itself may ask."""

    code = "not-allowed"


class StaleEdit(AdhaeroError, RuntimeError):
    """An edit of something that was changed elsewhere since it was shown."""

    code = "stale-edit"


class DataError(AdhaeroError, ValueError):
    """A file or table of breaks that cannot be analysed as it stands."""

    code = "data"


class RigError(AdhaeroError, ConnectionError):
    """The rig cannot be reached, or does not say what is needed."""

    code = "rig"


class StorageError(AdhaeroError, OSError):
    """The shop file cannot be read or written."""

    code = "storage"
