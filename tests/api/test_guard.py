"""What stands before the application: hosts, origins, sizes, headers, problems without the program's inside."""

from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import pytest
from starlette.testclient import TestClient
from starlette.websockets import WebSocketDisconnect

from adhaero.api import app as module
from adhaero.api.app import create_app
from adhaero.api.guard import MOST_BYTES
from tests.shops import Shop, ready_shop


@pytest.fixture
def shop(tmp_path: Path) -> Shop:
    return ready_shop(tmp_path)


@pytest.fixture
def client(shop: Shop) -> Iterator[TestClient]:
    with TestClient(create_app(shop.file), "http://127.0.0.1", raise_server_exceptions=False) as client:
        yield client


def test_only_names_of_this_machine_are_answered(shop: Shop) -> None:
    for host in ("evil.example", "127.0.0.1.evil.example", "192.168.0.7"):
        answer = TestClient(create_app(shop.file), f"http://{host}").get("/api/today")
        assert answer.status_code == 400
        assert "glue" not in answer.text
    assert TestClient(create_app(shop.file), "http://localhost:8700").get("/api/today").status_code == 200


def test_another_sites_page_can_neither_read_nor_write(client: TestClient) -> None:
    for origin in ("https://evil.example", "null", "http://127.0.0.1:9999"):
        assert client.post("/api/trials", json={"question": "?"}, headers={"Origin": origin}).status_code == 403
        assert client.get("/api/today", headers={"Origin": origin}).status_code == 403
    with (
        pytest.raises(WebSocketDisconnect) as closed,
        client.websocket_connect("/api/rigs/1/live", headers={"Host": "127.0.0.1", "Origin": "https://evil.example"}),
    ):
        pass
    assert closed.value.code == 4403
    own = {"Origin": "http://127.0.0.1"}
    assert client.post("/api/trials", json={"question": "Which?"}, headers=own).status_code == 201


def test_every_answer_carries_a_strict_policy(client: TestClient) -> None:
    for path in ("/", "/api/today", "/api/nothing", "/trials/1/plan"):
        headers = client.get(path).headers
        policy = dict(part.strip().split(" ", 1) for part in headers["content-security-policy"].split(";"))
        assert policy["default-src"] == "'none'"
        assert policy["script-src"] == "'self'", "no script inside the page"
        assert policy["connect-src"] == "'self'"
        assert headers["x-content-type-options"] == "nosniff"
        assert headers["referrer-policy"] == "same-origin"
    assert client.get("/api/today").headers["cache-control"] == "no-store"


def test_the_page_holds_no_script_of_its_own() -> None:
    page = (module.WEB / "index.html").read_text()
    assert "<script" in page
    assert all("src=" in part.split(">")[0] for part in page.split("<script")[1:])
    assert "http://" not in page.replace("http://www.w3.org", "")
    assert "https://" not in page


@pytest.mark.parametrize("size", [MOST_BYTES + 1, 20 * MOST_BYTES])
def test_a_large_body_is_refused_with_and_without_its_length(client: TestClient, size: int) -> None:
    assert client.post("/api/trials", content=b"x" * size).status_code == 413

    def chunks() -> Iterator[bytes]:
        for _ in range(size // 1000 + 1):
            yield b"x" * 1000

    assert client.post("/api/trials", content=chunks()).status_code == 413
    assert client.get("/api/today").json()["trials"][0]["question"] == "Does a toothed edge hold better?"
    assert len(client.get("/api/today").json()["trials"]) == 1


@pytest.mark.parametrize(
    "path",
    [
        "/../pyproject.toml",
        "/assets/../../cli.py",
        "/assets/%2e%2e/%2e%2e/cli.py",
        "/assets/..%2f..%2fcli.py",
        "/shop.sqlite",
        "/etc/passwd.txt",
        "//etc/passwd.txt",
        "/api/openapi.yaml",
    ],
)
def test_no_file_outside_the_front_end_is_served(client: TestClient, path: str) -> None:
    answer = client.get(path)
    assert answer.status_code in (400, 404)
    assert "import" not in answer.text
    assert "root:" not in answer.text


TWO_TONS = {"piece": 1, "load": "2 t", "judgement": {"outcome": "broke"}}


@pytest.mark.parametrize(
    ("method", "path", "body", "status", "code"),
    [
        ("PATCH", "/api/trials/1/plan", {"field": "width_mm", "was": "30 mm", "now": "1,500"}, 422, "ambiguous-entry"),
        ("PATCH", "/api/trials/1/plan", {"field": "width_mm", "was": "25 mm", "now": "31"}, 409, "stale-edit"),
        ("PATCH", "/api/trials/1/plan", {"field": "width_mm"}, 422, "request"),
        ("PATCH", "/api/trials/one/plan", {}, 422, "request"),
        ("GET", "/api/trials/99/plan", None, 404, "not-there"),
        ("GET", "/api/trials/99999999999999999999999/plan", None, 422, "request"),
        ("DELETE", "/api/trials/1/treatments/1", None, 409, "in-use"),
        ("POST", "/api/trials/1/settle", None, 409, "state"),
        ("POST", "/api/trials/1/pulls", {"piece": 1, "rig": 9}, 404, "not-there"),
        (
            "POST",
            "/api/trials/1/breaks",
            {"piece": 1, "load": "2 t", "judgement": {"outcome": "broke"}},
            422,
            "ambiguous-entry",
        ),
        ("GET", "/api/nowhere", None, 404, "http"),
        ("DELETE", "/api/today", None, 405, "http"),
    ],
)
def test_every_problem_has_the_same_form(
    client: TestClient, method: str, path: str, body: object, status: int, code: str
) -> None:
    answer = client.request(method, path, json=body)
    assert answer.status_code == status, answer.text
    assert answer.headers["content-type"] == "application/problem+json"
    problem = answer.json()
    assert problem["status"] == status
    assert problem["code"] == code
    assert problem["type"] == f"/api/problems/{code}"
    assert problem["detail"]


def test_an_unexpected_error_shows_nothing_of_the_inside(client: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    def fail(_: object) -> None:
        raise RuntimeError("secret path /home/someone")

    monkeypatch.setattr("adhaero.bench.over.today.view_today", fail)
    answer = client.get("/api/today")
    assert answer.status_code == 500
    assert answer.json()["code"] == "unexpected"
    assert "secret" not in answer.text
    assert "Traceback" not in answer.text
    assert answer.headers["content-security-policy"], "the headers stand on this one too"


def test_a_full_disk_is_a_problem_of_its_own(shop: Shop) -> None:
    with TestClient(create_app(replace(shop.file, page_limit=1)), "http://127.0.0.1") as client:
        answers = (client.post("/api/trials", json={"question": "x" * 300}) for _ in range(500))
        answer = next(one for one in answers if one.status_code != 201)
    assert (answer.status_code, answer.json()["code"]) == (507, "storage")
    assert "disk is full" in answer.json()["detail"]


def test_a_socket_of_an_unknown_rig_says_why(client: TestClient) -> None:
    with client.websocket_connect("/api/rigs/77/live", headers={"Host": "127.0.0.1"}) as live:
        message = live.receive()
    assert (message["code"], message["reason"]) == (4404, "There is no rig 77. It may have been removed.")


def test_the_csv_is_a_download(client: TestClient) -> None:
    answer = client.get("/api/trials/1/breaks.csv")
    assert answer.headers["content-type"].startswith("text/csv")
    assert 'filename="adhaero-trial-1-breaks.csv"' in answer.headers["content-disposition"]


def test_every_file_that_is_sent_whole_may_be_large(client: TestClient, shop: Shop) -> None:
    """A photo, a logger's file, a log of a rig: other bodies stay small."""
    large = b"x" * (2 * MOST_BYTES)
    routes = [
        (path, operation)
        for path, operations in client.get("/api/openapi.json").json()["paths"].items()
        for operation in operations.values()
        if "binary" in str(operation.get("requestBody", ""))
    ]
    assert len(routes) > 4
    for path, operation in routes:
        address = path.format(
            **{one["name"]: shop.trial for one in operation.get("parameters", ()) if one["in"] == "path"}
        )
        query = {
            one["name"]: 1 for one in operation.get("parameters", ()) if one["in"] == "query" and one.get("required")
        }
        assert client.post(address, content=large, params=query).status_code != 413, path
