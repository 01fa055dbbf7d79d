"""Reading a form whole: what is wrong with any of its fields is told at once, each at its field."""

from collections.abc import Callable
from typing import Generic, ParamSpec, TypeVar

from adhaero.core.errors import EntryError, FormError

Value = TypeVar("Value")
P = ParamSpec("P")


class Read(Generic[Value]):
    """A field as read; `there` is whether it could be, and then it has a value."""

    def __init__(self, value: Value | None, *, there: bool) -> None:
        self._value = value
        self.there = there

    @property
    def value(self) -> Value:
        """Return what was read; raises `LookupError` where it could not be."""
        if not self.there:
            raise LookupError("this field could not be read: finish the form before its values are used")
        return self._value  # type: ignore[return-value]

    def value_or(self, other: Value) -> Value:
        """Return what was read, or something to read the rest of the form with."""
        return self.value if self.there else other


class FormReader:
    """Reads the fields of a form one by one and keeps what is wrong until `finish`."""

    def __init__(self) -> None:
        self._faults: list[EntryError] = []

    def read(self, function: Callable[P, Value], *args: P.args, **kwargs: P.kwargs) -> Read[Value]:
        """Read a field with a function that raises `EntryError`."""
        try:
            return Read(function(*args, **kwargs), there=True)
        except EntryError as error:
            self._faults.append(error)
            return Read(None, there=False)

    def refuse(self, error: EntryError | None) -> None:
        """Keep something that is wrong; None where nothing is."""
        if error is not None:
            self._faults.append(error)

    def finish(self) -> None:
        """Raise what is wrong: an `EntryError` alone as it is, several as one `FormError`."""
        if len(self._faults) == 1:
            raise self._faults[0]
        if self._faults:
            raise FormError(tuple(self._faults))
