"""Bodies of requests: a form of the bench, read as JSON is meant."""

from collections.abc import Callable
from typing import Annotated, Any, TypeVar

from pydantic import GetCoreSchemaHandler, TypeAdapter
from pydantic_core import CoreSchema, PydanticCustomError, PydanticSerializationError, core_schema, to_json

from adhaero.bench.facts.entry import Entry

Form = TypeVar("Form", bound=Entry)


class _AsJson:
    """Reads a form by the strict rules of JSON: a list is its tuple and a word its enum, but `0` is no “false”."""

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:  # noqa: ANN401
        adapter: list[TypeAdapter[Any]] = []

        def read(given: Any, _: Callable[[Any], Any]) -> Any:  # noqa: ANN401 (whatever came)
            if not adapter:
                adapter.append(TypeAdapter(source))
            try:
                text = to_json(given)
            except PydanticSerializationError:
                raise PydanticCustomError("unseen", "It holds characters that are none. Type it again.") from None
            form: Entry = adapter[0].validate_json(text)
            form.check_texts()
            return form

        return core_schema.no_info_wrap_validator_function(read, handler(source))


Sent = Annotated[Form, _AsJson()]
