"""What stands between the network and the application: hosts, origins, pairing, sizes and headers."""

import logging
from typing import Final
from urllib.parse import parse_qs

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import HTMLResponse, RedirectResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from adhaero.api.door import Door
from adhaero.api.pairing import COOKIE
from adhaero.api.problems import make_problem, unexpected

log = logging.getLogger(__name__)

MOST_BYTES: Final = 1_000_000
MOST_PHOTO_BYTES: Final = 20_000_000
MOST_TABLE_BYTES: Final = 60_000_000
MOST_PACKAGE_BYTES: Final = 300_000_000
_MOST_DRAINED: Final = 10
_YEAR_S: Final = 365 * 86_400

_HEADERS: Final = {
    "Content-Security-Policy": (
        "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; "
        "font-src 'self'; connect-src 'self'; manifest-src 'self'; base-uri 'none'; form-action 'self'; "
        "frame-ancestors 'none'"
    ),
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "X-Frame-Options": "DENY",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}

_PAIR_PAGE: Final = """<!doctype html><html lang="en"><meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1"><title>Adhaero: pair this device</title>
<style>body{{font:18px system-ui,sans-serif;max-width:26rem;margin:12vh auto;padding:0 1rem;color:#16201d}}
input,button{{font:inherit;padding:.7rem;width:100%;box-sizing:border-box;margin-top:.6rem;min-height:48px}}
button{{background:#204f92;color:#fff;border:0}}
p[role=alert]{{border-left:4px solid #a3271f;padding-left:.7rem}}</style>
<h1>This device is new here</h1>
<p>Type the pairing word. It stands in the shop drawer of the computer that runs Adhaero, under “Other devices”.</p>
{said}<form method="post" action="/pair"><label>Pairing word<input name="word" value="{word}" autocapitalize="none"
autocomplete="off" autofocus></label><button>Pair this device</button></form></html>"""


class Guard:
    """Refuses what comes from elsewhere, is too large or is not paired; adds the security headers; hides errors."""

    def __init__(self, app: ASGIApp, door: Door) -> None:
        self._app = app
        self._door = door

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Handle one connection."""
        if scope["type"] not in ("http", "websocket"):
            await self._app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        most = _most_bytes(scope)
        refusal = self._refuse(scope, headers, most)
        if refusal is None and not (self._door.is_this_computer(scope) or self._door.is_paired(headers)):
            refusal = await self._pair(scope, receive)
        if refusal is not None:
            if scope["type"] == "http" and refusal.status_code == 413:
                await _drain(receive, most)
            await _answer(refusal, scope, receive, _with_headers(scope, send))
            return
        if scope["type"] == "websocket":
            await self._app(scope, receive, send)
            return
        await self._pass_on(scope, receive, send, most)

    def _refuse(self, scope: Scope, headers: Headers, most: int) -> Response | None:
        if not self._door.is_host(scope, headers):
            return make_problem(
                400, "host", "This is not a name of this computer.", "Open the address that was shown at the start."
            )
        if not _same_origin(scope, headers):
            return make_problem(
                403, "origin", "This page belongs to another site.", "Nothing was read and nothing was changed."
            )
        length = headers.get("content-length", "0")
        if not length.isdigit():
            return make_problem(400, "length", "The length of the request is no number.", "Nothing was saved.")
        if int(length) > most:
            return _too_large(most)
        return None

    async def _pair(self, scope: Scope, receive: Receive) -> Response:
        """Return what a device that is not paired is told: a page to type the word, or that it is not paired."""
        pairing = self._door.pairing
        if scope["type"] == "websocket" or pairing is None or scope["path"].startswith("/api/"):
            return make_problem(
                401, "pairing", "This device is not paired.", "Open the page again and type the pairing word."
            )
        if scope["path"] == "/pair" and scope["method"] == "POST":
            form = parse_qs((await _read(receive)).decode("utf-8", "replace"))
            token = pairing.pair(form.get("word", [""])[0])
            if token is None:
                said = '<p role="alert">That is not the word, or it was tried too often: wait a minute.</p>'
                return HTMLResponse(_PAIR_PAGE.format(said=said, word=""), 403)
            answer = RedirectResponse("/", 303)
            answer.set_cookie(COOKIE, token, max_age=_YEAR_S, httponly=True, samesite="strict")
            return answer
        given = (
            parse_qs(scope["query_string"].decode("latin-1")).get("word", [""])[0] if scope["path"] == "/pair" else ""
        )
        word = given if given.isalnum() and len(given) < 40 else ""
        return HTMLResponse(_PAIR_PAGE.format(said="", word=word), 200 if scope["path"] == "/pair" else 401)

    async def _pass_on(self, scope: Scope, receive: Receive, send: Send, most: int) -> None:
        received, started, refused = 0, False, False
        out = _with_headers(scope, send)

        async def receive_limited() -> Message:
            nonlocal received, refused, started
            message = await receive()
            received += len(message.get("body", b""))
            if received > most:
                if not started:
                    refused = started = True
                    if message.get("more_body"):
                        await _drain(receive, most)
                    await _too_large(most)(scope, receive, out)
                raise ValueError("body too large")
            return message

        async def send_on(message: Message) -> None:
            nonlocal started
            if refused:
                return
            started = started or message["type"] == "http.response.start"
            await out(message)

        try:
            await self._app(scope, receive_limited, send_on)
        except Exception:
            if refused:
                return
            log.exception("unexpected error in %s %s", scope["method"], scope["path"])
            if not started:
                await unexpected()(scope, receive, out)


def _with_headers(scope: Scope, send: Send) -> Send:
    async def send_with_headers(message: Message) -> None:
        if message["type"] == "http.response.start":
            answer = MutableHeaders(scope=message)
            for name, value in _HEADERS.items():
                answer[name] = value
            if scope["path"].startswith("/api/"):
                answer.setdefault("Cache-Control", "no-store")
        await send(message)

    return send_with_headers


def _most_bytes(scope: Scope) -> int:
    if scope["path"] == "/api/tables":
        return MOST_TABLE_BYTES
    if scope["path"] in ("/api/packages", "/api/files/look"):
        return MOST_PACKAGE_BYTES
    return MOST_PHOTO_BYTES if scope["path"].endswith(("/photo", "/air", "-log")) else MOST_BYTES


def _too_large(most: int) -> Response:
    return make_problem(
        413, "too-large", "That is too large.", f"Up to {most // 1_000_000} MB fit. Nothing was saved. Make it smaller."
    )


def _same_origin(scope: Scope, headers: Headers) -> bool:
    """Return whether a request was made by a page of this application, or by no page at all.

    Another site's link may open the page itself; nothing else of theirs comes in.
    """
    origin = headers.get("origin")
    if origin is not None:
        return origin.partition("://")[2] == headers.get("host")
    if headers.get("sec-fetch-site", "none") in ("none", "same-origin"):
        return True
    is_link = headers.get("sec-fetch-mode") == "navigate" and headers.get("sec-fetch-dest") == "document"
    return is_link and scope.get("method") == "GET" and not scope["path"].startswith("/api/")


async def _read(receive: Receive) -> bytes:
    body = b""
    while True:
        message = await receive()
        body += bytes(message.get("body", b""))
        if not message.get("more_body") or len(body) > 10_000:
            return body[:10_000]


async def _drain(receive: Receive, most: int) -> None:
    """Take what is still being sent, so that the sender hears the answer instead of a line that breaks."""
    taken = 0
    while taken < _MOST_DRAINED * most:
        message = await receive()
        taken += len(message.get("body", b""))
        if message["type"] != "http.request" or not message.get("more_body"):
            return


async def _answer(answer: Response, scope: Scope, receive: Receive, send: Send) -> None:
    if scope["type"] == "websocket":
        await receive()
        await send({"type": "websocket.close", "code": 4000 + answer.status_code, "reason": "refused"})
        return
    await answer(scope, receive, send)
