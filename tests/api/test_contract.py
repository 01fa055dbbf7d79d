"""The OpenAPI document holds: whatever is sent, the answer is one that it names, and never a 500."""

import json
import re
import tempfile
from collections.abc import Iterator
from pathlib import Path

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from pydantic import TypeAdapter
from schemathesis.checks import content_type_conformance, response_schema_conformance, status_code_conformance

from adhaero.api.app import create_app
from adhaero.api.door import Door
from adhaero.api.examples import EXAMPLES
from adhaero.bench.facts.entry import Entry
from adhaero.store.file import ShopFile
from tests.shops import add_press, ready_shop

CHECKS = [content_type_conformance, response_schema_conformance, status_code_conformance]
LOADS = {"planed": ["700 N"] * 4, "toothed": ["600 N"] * 4}
# the event stream never ends, the live socket is no request, and the demo would start a program
LEFT_OUT = re.compile(r"/api/(events|demo)$")


FOLDER = tempfile.TemporaryDirectory(prefix="adhaero-contract-", ignore_cleanup_errors=True)


def make_schema() -> schemathesis.schemas.BaseSchema:
    shop = ready_shop(Path(FOLDER.name))
    add_press(shop, "socket://127.0.0.1:1")
    shop.break_all(LOADS)
    return schemathesis.openapi.from_asgi("/api/openapi.json", create_app(shop.file, Door(("*",))))


SCHEMA = make_schema()
DOCUMENT = create_app(ShopFile(Path("unused"))).openapi()
OPERATIONS = {
    f"{one.method.upper()} {one.path}": one
    for one in (result.ok() for result in SCHEMA.get_all_operations())
    if not LEFT_OUT.search(one.path)
}


def test_the_whole_interface_is_tried() -> None:
    assert len(OPERATIONS) > 40


@pytest.mark.parametrize("name", OPERATIONS)
def test_whatever_is_sent_is_answered_as_the_document_says(name: str) -> None:
    @settings(
        max_examples=6, deadline=None, database=None, suppress_health_check=list(HealthCheck), phases=[Phase.generate]
    )
    @given(case=OPERATIONS[name].as_strategy())
    def send(case: schemathesis.Case) -> None:
        response = case.call(headers={"Host": "testserver"})
        said = response.content.decode(errors="replace")  # a package or a photo is no text
        assert response.status_code < 500 or response.status_code in (501, 503), said
        assert not re.search(r"Traceback \(most recent|\.py\b", said)
        case.validate_response(response, checks=CHECKS)

    send()


def test_each_body_has_an_example_that_its_form_takes() -> None:
    """The page for programs shows what is sent; an example that the form refuses would teach a fault."""
    forms = {one.__name__: one for one in all_forms(Entry)}
    bodies = {
        media["schema"]["$ref"].rpartition("/")[2]
        for operations in DOCUMENT["paths"].values()
        for operation in operations.values()
        for media in operation.get("requestBody", {"content": {}})["content"].values()
        if "$ref" in media["schema"]
    }
    assert bodies == set(EXAMPLES)
    for name, example in EXAMPLES.items():
        assert DOCUMENT["components"]["schemas"][name]["examples"] == [example]
        TypeAdapter(forms[name]).validate_json(json.dumps(example))


def all_forms(kind: type[Entry]) -> Iterator[type[Entry]]:
    for below in kind.__subclasses__():
        yield below
        yield from all_forms(below)
