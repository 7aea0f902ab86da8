"""Who may talk to the server: pages it served itself, under names it answers to."""

from __future__ import annotations

from typing import Any
from urllib.parse import urlsplit

from starlette.types import ASGIApp, Message, Receive, Scope, Send

LOCAL_HOSTS = frozenset({"127.0.0.1", "localhost", "::1"})
CONTENT_POLICY = (
    "default-src 'self'; img-src 'self' data: blob:; media-src 'self' blob:; "
    "object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)
HEADERS = (
    (b"content-security-policy", CONTENT_POLICY.encode()),
    (b"x-content-type-options", b"nosniff"),
    (b"referrer-policy", b"same-origin"),
    (b"cross-origin-opener-policy", b"same-origin"),
    (b"cross-origin-resource-policy", b"same-origin"),
)


class Guard:
    """Refuses foreign Host headers (DNS rebinding) and foreign Origins (cross-site requests
    and WebSockets), and sets the security headers of every response."""

    def __init__(self, app: ASGIApp, hosts: frozenset[str]) -> None:
        self._app = app
        self._hosts = hosts

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] not in ("http", "websocket"):
            await self._app(scope, receive, send)
            return
        headers = {
            name.decode("latin-1"): value.decode("latin-1") for name, value in scope["headers"]
        }
        problem = self.problem(headers)
        if problem:
            await _refuse(scope, receive, send, problem)
            return

        async def send_with_headers(message: Message) -> None:
            if message["type"] == "http.response.start":
                message["headers"] = [*message.get("headers", []), *HEADERS]
            await send(message)

        await self._app(scope, receive, send_with_headers)

    def problem(self, headers: dict[str, str]) -> str:
        """Why a request is refused, "" if it is not."""
        host = headers.get("host", "")
        if host_name(host) not in self._hosts:
            return f"this server does not answer to the name {host[:80]!r}"
        origin = headers.get("origin")
        if origin is not None and _netloc(origin) != host:
            return f"requests from {origin[:80]!r} are refused"
        return ""


def _netloc(origin: str) -> str | None:
    """Name and port of an origin, None where it is none."""
    try:
        return urlsplit(origin).netloc
    except ValueError:
        return None


def host_name(host: str) -> str:
    """The name in a Host header without its port."""
    try:
        return urlsplit(f"//{host}").hostname or ""
    except ValueError:
        return ""


async def _refuse(scope: Scope, receive: Receive, send: Send, problem: str) -> None:
    if scope["type"] == "websocket":
        await receive()
        await send({"type": "websocket.close", "code": 1008, "reason": problem[:120]})
        return
    body = problem.encode()
    headers: list[Any] = [(b"content-type", b"text/plain; charset=utf-8")]
    await send({"type": "http.response.start", "status": 403, "headers": headers})
    await send({"type": "http.response.body", "body": body})
