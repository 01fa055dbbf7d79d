"""Planning over HTTP: what streams, what is larger than usual, what is told before an answer begins."""

import io
import json
from collections.abc import Iterator
from pathlib import Path

import pytest
from PIL import Image
from starlette.testclient import TestClient

from adhaero.api.app import create_app
from adhaero.api.guard import MOST_BYTES, MOST_PHOTO_BYTES
from tests.shops import new_shop

PLANK = {"name": "Plank", "species": "ash", "length": "1.9 m", "width": "60 mm", "thickness": "26 mm"}


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    with TestClient(create_app(new_shop(tmp_path).plan().file), "http://127.0.0.1") as client:
        yield client


def test_a_dry_run_tells_how_far_it_is_line_by_line(client: TestClient) -> None:
    answer = client.post("/api/trials/1/dry-run", json={"guesses": [{"treatment_id": 1, "percent": "120"}]})
    lines = [json.loads(line) for line in answer.text.splitlines()]
    assert [line["done"] for line in lines] == [*range(100, 1001, 100), 1000]
    assert [line["outlook"] is not None for line in lines] == [False] * 10 + [True]
    assert lines[-1]["outlook"]["pairs"][0]["true_ratio"] == pytest.approx(1.2)


def test_what_is_wrong_with_a_dry_run_is_a_problem_and_no_stream(client: TestClient) -> None:
    answer = client.post("/api/trials/1/dry-run", json={"guesses": [{"treatment_id": 1, "percent": "strong"}]})
    assert answer.status_code == 422
    assert answer.json()["field"] == "guess-1"
    client.delete("/api/trials/1/boards/1")
    assert client.post("/api/trials/1/dry-run", json={"guesses": []}).json()["code"] == "plan"


def test_a_photo_may_be_larger_than_anything_else(client: TestClient) -> None:
    board = client.post("/api/shop/boards", json=PLANK).json()["id"]
    picture = io.BytesIO()
    Image.effect_noise((1400, 1000), 90).save(picture, "PNG")
    content = picture.getvalue()
    assert len(content) > MOST_BYTES
    photo = client.post(f"/api/shop/boards/{board}/photo", content=content).json()["id"]
    stored = client.get(f"/api/shop/photos/{photo}")
    assert stored.headers["content-type"] == "image/jpeg"
    assert stored.content[:2] == b"\xff\xd8"
    assert client.post(f"/api/shop/boards/{board}/photo", content=b"<svg/>").status_code == 422
    assert client.post(f"/api/shop/boards/{board}/photo", content=b"0" * (MOST_PHOTO_BYTES + 1)).status_code == 413
    assert client.post("/api/shop/boards", content=content).status_code == 413


def test_a_reason_is_asked_for_in_words_a_screen_can_use(client: TestClient) -> None:
    client.post("/api/trials/1/settle")
    change = {"field": "margin_pct", "was": "10 %", "now": "12 %"}
    answer = client.patch("/api/trials/1/plan", json=change)
    assert (answer.status_code, answer.json()["code"]) == (409, "reason-needed")
    assert client.patch("/api/trials/1/plan", json={**change, "reason": "agreed"}).status_code == 200
    assert client.get("/api/trials/1/plan").json()["amendments"][0]["reason"] == "agreed"


def test_a_priced_board_is_saved_and_changed_as_its_form_shows_it(client: TestClient) -> None:
    board = client.post("/api/shop/boards", json={**PLANK, "price": "18.50", "defects": "400 to 460 knot"}).json()["id"]
    (shown,) = client.get("/api/shop").json()["boards"]
    assert shown["entry"] | {"price": "", "defects": ""} == {
        **PLANK, "moisture": "", "rings": "", "source": "", "defects": "", "count": "1", "price": "",
    }  # fmt: skip
    edit = {"was": shown["entry"], "now": {**shown["entry"], "price": "21"}}
    assert client.put(f"/api/shop/boards/{board}", json=edit).status_code == 204
    assert client.get("/api/shop").json()["boards"][0]["entry"]["price"] == "21"
    assert client.put(f"/api/shop/boards/{board}", json=edit).json()["code"] == "stale-edit"


def test_all_faults_of_a_form_are_told_at_once_each_at_its_field(client: TestClient) -> None:
    answer = client.post("/api/shop/boards", json={**PLANK, "name": " ", "width": "34 lb", "price": "much"})
    problem = answer.json()
    assert (answer.status_code, problem["code"], problem["field"]) == (422, "form", "name")
    assert [one["field"] for one in problem["faults"]] == ["name", "width", "price"]
    assert "is a force" in problem["faults"][1]["detail"]
    types = client.post("/api/shop/boards", json={**PLANK, "name": 3, "colour": "red"}).json()
    assert (types["code"], {one["field"] for one in types["faults"]}) == ("request", {"name", "colour"})
    known = {one["type"] for one in client.get("/api/problems").json()}
    assert {problem["type"], types["type"]} <= known
