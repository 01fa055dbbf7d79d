"""The OpenAPI document holds: whatever is sent, the answer is one that it names, and never a 500."""

import re
import tempfile
from pathlib import Path

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from schemathesis.checks import content_type_conformance, response_schema_conformance, status_code_conformance

from adhaero.api.app import create_app
from adhaero.api.door import Door
from tests.shops import add_press, ready_shop

CHECKS = [content_type_conformance, response_schema_conformance, status_code_conformance]
LOADS = {"planed": ["700 N"] * 4, "toothed": ["600 N"] * 4}
# the event stream never ends, the live socket is no request, and the demo would start a program
LEFT_OUT = re.compile(r"/api/(events|demo)$")


def make_schema() -> schemathesis.schemas.BaseSchema:
    shop = ready_shop(Path(tempfile.mkdtemp(prefix="adhaero-contract-")))
    add_press(shop, "socket://127.0.0.1:1")
    shop.break_all(LOADS)
    return schemathesis.openapi.from_asgi("/api/openapi.json", create_app(shop.file, Door(("*",))))


SCHEMA = make_schema()
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
        max_examples=8, deadline=None, database=None, suppress_health_check=list(HealthCheck), phases=[Phase.generate]
    )
    @given(case=OPERATIONS[name].as_strategy())
    def send(case: schemathesis.Case) -> None:
        response = case.call(headers={"Host": "testserver"})
        assert response.status_code < 500 or response.status_code in (501, 503), response.text
        assert not re.search(r"Traceback|\.py\b", response.text)
        case.validate_response(response, checks=CHECKS)

    send()
