"""What stands between the network and the application: sizes, origins and headers."""

import logging
from typing import Final

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import PlainTextResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from adhaero.api.problems import unexpected

log = logging.getLogger(__name__)

MOST_BYTES: Final = 1_000_000
MOST_PHOTO_BYTES: Final = 20_000_000

_HEADERS: Final = {
    "Content-Security-Policy": (
        "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; "
        "font-src 'self'; connect-src 'self'; manifest-src 'self'; base-uri 'none'; form-action 'self'; "
        "frame-ancestors 'none'"
    ),
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "no-referrer",
    "X-Frame-Options": "DENY",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}


class Guard:
    """Refuses large bodies and requests that another site's page makes; adds the security headers; hides errors."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Handle one connection."""
        if scope["type"] not in ("http", "websocket"):
            await self._app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        if not _same_origin(headers):
            await _refuse(scope, receive, send, 403, "This page belongs to another site.")
            return
        if scope["type"] == "websocket":
            await self._app(scope, receive, send)
            return
        length = headers.get("content-length", "0")
        most = MOST_PHOTO_BYTES if scope["path"].endswith(("/photo", "/climate")) else MOST_BYTES
        if not length.isdigit() or int(length) > most:
            await _refuse(scope, receive, send, 413, "That is too large.")
            return
        received, started = 0, False

        async def receive_limited() -> Message:
            nonlocal received
            message = await receive()
            received += len(message.get("body", b""))
            if received > most:
                raise ValueError("body too large")
            return message

        async def send_with_headers(message: Message) -> None:
            nonlocal started
            if message["type"] == "http.response.start":
                started = True
                answer = MutableHeaders(scope=message)
                for name, value in _HEADERS.items():
                    answer[name] = value
                if scope["path"].startswith("/api/"):
                    answer.setdefault("Cache-Control", "no-store")
            await send(message)

        try:
            await self._app(scope, receive_limited, send_with_headers)
        except Exception:
            log.exception("unexpected error in %s %s", scope["method"], scope["path"])
            if not started:
                await unexpected()(scope, receive, send_with_headers)


def _same_origin(headers: Headers) -> bool:
    origin = headers.get("origin")
    return origin is None or origin.partition("://")[2] == headers.get("host")


async def _refuse(scope: Scope, receive: Receive, send: Send, status: int, why: str) -> None:
    if scope["type"] == "websocket":
        await receive()
        await send({"type": "websocket.close", "code": 4403, "reason": why})
        return
    await PlainTextResponse(why, status)(scope, receive, send)
