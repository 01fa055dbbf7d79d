"""Who comes in: this computer, devices that know the word, and nobody else; what is said to the rest."""

import json
import re
import subprocess
from collections.abc import Iterator
from pathlib import Path

import pytest
from starlette.testclient import TestClient
from starlette.websockets import WebSocketDisconnect

from adhaero.api.app import create_app
from adhaero.api.demo import DemoProgram
from adhaero.api.door import Door, find_own_address, list_names
from adhaero.api.guard import MOST_PHOTO_BYTES
from adhaero.api.pairing import COOKIE, Pairing
from adhaero.bench.saw.labels import find_piece
from adhaero.core.errors import NotThere
from tests.shops import Shop, ready_shop

ADDRESS = "192.168.7.20"


@pytest.fixture
def shop(tmp_path: Path) -> Shop:
    return ready_shop(tmp_path)


@pytest.fixture
def pairing(tmp_path: Path) -> Pairing:
    return Pairing(tmp_path / "shop.sqlite.pairing")


@pytest.fixture
def local(shop: Shop) -> Iterator[TestClient]:
    with TestClient(create_app(shop.file), "http://127.0.0.1", raise_server_exceptions=False) as client:
        yield client


def device(shop: Shop, pairing: Pairing, client: str = "192.168.7.33") -> TestClient:
    door = Door(("127.0.0.1", "localhost", "bench", ADDRESS), pairing, f"http://{ADDRESS}:8700")
    return TestClient(create_app(shop.file, door), f"http://{ADDRESS}:8700", client=(client, 50_000))


def test_a_device_that_does_not_know_the_word_reads_nothing_and_changes_nothing(shop: Shop, pairing: Pairing) -> None:
    tablet = device(shop, pairing)
    for method, path in (
        ("GET", "/api/today"),
        ("POST", "/api/trials"),
        ("GET", "/api/devices"),
        ("GET", "/api/copies"),
    ):
        answer = tablet.request(method, path, json={"question": "Mine?"} if method == "POST" else None)
        assert (answer.status_code, answer.json()["code"]) == (401, "pairing")
    for path in ("/", "/trials/1/break", "/assets/index.js"):
        page = tablet.get(path)
        assert page.status_code == 401
        assert "pairing word" in page.text.lower()
        assert pairing.word not in page.text
    with pytest.raises(WebSocketDisconnect) as closed, tablet.websocket_connect("/api/rigs/1/live"):
        pass
    assert closed.value.code == 4401


def test_the_word_lets_a_device_in_until_another_word_is_chosen(shop: Shop, pairing: Pairing) -> None:
    tablet = device(shop, pairing)
    wrong = tablet.post("/pair", data={"word": "wrongword"})
    assert (wrong.status_code, COOKIE in wrong.cookies) == (403, False)
    assert pairing.word in tablet.get(f"/pair?word={pairing.word}").text, "the scanned word stands in the form"
    right = tablet.post("/pair", data={"word": f" {pairing.word.upper()} "}, follow_redirects=False)
    assert right.status_code == 303
    assert re.search("httponly.*samesite=strict", right.headers["set-cookie"].lower())
    assert tablet.get("/api/today").status_code == 200
    assert tablet.post("/api/trials", json={"question": "From the tablet?"}).status_code == 201
    for path in ("/api/devices", "/api/devices/renew"):
        answer = tablet.request("POST" if path.endswith("renew") else "GET", path)
        assert (answer.status_code, answer.json()["code"]) == (403, "not-allowed")
    pairing.renew()
    assert tablet.get("/api/today").status_code == 401


def test_guessing_the_word_is_slow(shop: Shop, pairing: Pairing) -> None:
    tablet = device(shop, pairing)
    for _ in range(5):
        assert tablet.post("/pair", data={"word": "guess"}).status_code == 403
    assert tablet.post("/pair", data={"word": pairing.word}).status_code == 403, "even the right word waits now"


def test_this_computer_needs_no_word_and_is_shown_it(shop: Shop, pairing: Pairing) -> None:
    for client in ("127.0.0.1", "::1", "::ffff:127.0.0.1", ADDRESS):
        shown = device(shop, pairing, client).get("/api/devices").json()
        assert (shown["word"], shown["address"]) == (pairing.word, f"http://{ADDRESS}:8700")
        assert shown["code"].startswith("<svg")
    assert device(shop, pairing, "127.0.0.1").post("/api/devices/renew").status_code == 204


def test_the_word_is_kept_for_this_user_alone(tmp_path: Path) -> None:
    path = tmp_path / "pairing"
    first = Pairing(path)
    assert path.stat().st_mode & 0o077 == 0
    assert Pairing(path).word == first.word
    path.write_text("{")
    assert Pairing(path).word != first.word


def test_only_names_of_this_computer_open_it(shop: Shop, pairing: Pairing) -> None:
    tablet = device(shop, pairing, "127.0.0.1")
    for host, status in (
        ("bench:8700", 200),
        (f"{ADDRESS}:8700", 200),
        ("evil.example", 400),
        ("bench.evil.example", 400),
    ):
        answer = tablet.get("/api/today", headers={"Host": host})
        assert answer.status_code == status
        assert answer.headers["content-type"].startswith("application/problem+json") == (status == 400)
    assert any(name.endswith(".local") for name in list_names())
    assert find_own_address()


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({"Sec-Fetch-Site": "cross-site"}, 403),
        ({"Sec-Fetch-Site": "same-site"}, 403),
        ({"Sec-Fetch-Site": "cross-site", "Sec-Fetch-Mode": "navigate", "Sec-Fetch-Dest": "document"}, 403),
        ({"Sec-Fetch-Site": "same-origin"}, 200),
        ({"Sec-Fetch-Site": "none"}, 200),
    ],
)
def test_another_sites_page_reads_nothing_without_an_origin_either(
    local: TestClient, headers: dict[str, str], status: int
) -> None:
    answer = local.get("/api/today", headers=headers)
    assert answer.status_code == status
    if status == 403:
        assert answer.json()["code"] == "origin"


def test_a_link_elsewhere_may_open_the_page(local: TestClient) -> None:
    link = {"Sec-Fetch-Site": "cross-site", "Sec-Fetch-Mode": "navigate", "Sec-Fetch-Dest": "document"}
    assert local.get("/trials/1/plan", headers=link).status_code in (200, 503)
    assert local.get("/trials/1/plan", headers=link | {"Sec-Fetch-Dest": "iframe"}).status_code == 403


def test_a_photo_that_is_too_large_is_told_as_that(local: TestClient) -> None:
    answer = local.post("/api/shop/boards/1/photo", content=b"x" * (MOST_PHOTO_BYTES + 1))
    assert (answer.status_code, answer.json()["code"]) == (413, "too-large")
    assert "Up to 20 MB fit" in answer.json()["detail"]
    assert answer.headers["content-security-policy"]


@pytest.mark.parametrize(
    ("method", "path", "allowed"),
    [("PUT", "/api/today", "GET"), ("GET", "/api/trials/1/factors", "POST"), ("DELETE", "/api/shop/rigs", "POST")],
)
def test_what_cannot_be_done_says_what_can(local: TestClient, method: str, path: str, allowed: str) -> None:
    answer = local.request(method, path)
    assert (answer.status_code, answer.headers["allow"]) == (405, allowed)
    assert local.request(method, "/api/nowhere").status_code == 404


@pytest.mark.parametrize(
    ("path", "body"),
    [
        ("/api/trials/1/steps", {"words": "sand", "turn": "between"}),
        ("/api/trials/1/factors", {"kind": ""}),
        ("/api/trials/1/factors", {"kind": "", "name": "x"}),
        ("/api/trials/1/controls", {"kind": "gold"}),
        ("/api/trials/1/breaks", {"piece": True, "load": "700 N", "outcome": "broke"}),
        ("/api/trials/1/breaks", {"piece": 1, "load": "700 N", "outcome": "melted"}),
        ("/api/trials/1/breaks", {"piece": 1, "load": "700 N", "outcome": "broke", "beyond_rig": 0}),
        ("/api/shop/glues", {"name": "Teal", "family": "jam"}),
        ("/api/shop/glues", {"name": "Teal", "family": "epoxy", "colour": "blue"}),
        ("/api/shop/clamps", {"name": "C", "kind": "teeth", "number": "2", "force": "1 kN"}),
    ],
)
def test_a_body_is_taken_at_its_word(local: TestClient, path: str, body: object) -> None:
    answer = local.post(path, json=body)
    assert (answer.status_code, answer.json()["code"]) == (422, "request")
    assert local.get("/api/trials/1/plan").status_code == 200


@pytest.mark.parametrize("unseen", ["\x00", "\x1b", "\x7f", "\ufeff", "\u200b", "\u202e", "\uffff", "\u2028"])
def test_what_cannot_be_seen_is_refused_with_words(local: TestClient, unseen: str) -> None:
    answer = local.post("/api/shop/glues", json={"name": f"Wren{unseen}2", "family": "epoxy"})
    assert answer.status_code == 422
    assert f"U+{ord(unseen):04X}" in answer.json()["detail"]


@pytest.mark.parametrize("name", ["\u3164", "\u2800\u2800", "\u200d", "\u0301"])
def test_a_name_of_nothing_that_can_be_seen_is_no_name(local: TestClient, name: str) -> None:
    answer = local.post("/api/shop/glues", json={"name": name, "family": "epoxy"})
    assert (answer.status_code, "nothing that can be seen" in answer.json()["detail"]) == (422, True)


def test_labels_carry_an_address_only_where_a_phone_can_open_it(shop: Shop, pairing: Pairing) -> None:
    piece = shop.pieces[0]
    assert find_piece(shop.file, f"{shop.trial}/{piece.label}").piece_id == piece.id
    assert find_piece(shop.file, piece.label.lower()).piece_id == piece.id
    opened = f"http://{ADDRESS}:8700/trials/{shop.trial}/break?piece={piece.id}"
    assert find_piece(shop.file, opened).label == piece.label
    for code in ("9/P-01", "nothing here", "https://evil.example/", f"/trials/{shop.trial}/break?piece=999"):
        with pytest.raises(NotThere, match="is no label of this shop"):
            find_piece(shop.file, code)
    answer = device(shop, pairing, "127.0.0.1").get("/api/labels", params={"code": piece.label})
    assert answer.json() == {"trial_id": shop.trial, "piece_id": piece.id, "label": piece.label}


def test_the_demo_is_one_program_and_ends_with_this_one(shop: Shop, monkeypatch: pytest.MonkeyPatch) -> None:
    started: list[subprocess.Popen[bytes]] = []
    real = subprocess.Popen

    def start(_: object, **more: object) -> subprocess.Popen[bytes]:
        started.append(real(["sleep", "60"], **more))  # type: ignore[call-overload]
        return started[-1]

    monkeypatch.setattr("adhaero.api.demo.subprocess.Popen", start)
    with TestClient(create_app(shop.file), "http://127.0.0.1") as client:
        for _ in range(3):
            assert client.post("/api/demo").status_code == 200
        assert len(started) == 1
        assert started[0].poll() is None
    assert started[0].poll() is not None
    DemoProgram().close()


def test_the_document_says_what_is_sent(local: TestClient) -> None:
    document = local.get("/api/openapi.json").json()
    for path, operations in document["paths"].items():
        for operation in operations.values():
            errors = {status: one for status, one in operation["responses"].items() if status in ("default", "422")}
            assert all(list(one["content"]) == ["application/problem+json"] for one in errors.values()), path
            good = [one for status, one in operation["responses"].items() if status in ("200", "201")]
            assert all(one.get("content") for one in good), path
    photo = document["paths"]["/api/shop/photos/{photo_id}"]["get"]["responses"]["200"]
    assert list(photo["content"]) == ["image/jpeg"]


def test_copies_are_made_and_listed(local: TestClient, shop: Shop) -> None:
    made = local.post("/api/copies").json()
    assert Path(made["path"]).is_file()
    assert json.dumps(local.get("/api/copies").json()["path"]) == json.dumps(str(shop.file.path))
    notice = local.get("/api/notice").json()["text"]
    assert "OFL-1.1" in notice, "the fonts"
    assert "uplot" in notice, "the scripts"
