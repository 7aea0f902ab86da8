"""The WebSockets: of an open scene, and of pages that only hear of renders."""

from __future__ import annotations

import asyncio
import json
from collections.abc import AsyncIterator
from contextlib import suppress
from typing import Any

from fastapi import APIRouter, WebSocket, WebSocketDisconnect

from ..messages import live_schema
from ..routes.frames import keep_latest
from ..services import Services
from .session import LiveSession

live_router = APIRouter()


@live_router.get("/api/live/schema", tags=["live"])
def schema() -> dict[str, Any]:
    """JSON Schema of what is said over the WebSocket of a scene: ``asked`` by the page, ``told``
    to it."""
    return live_schema()


@live_router.websocket("/live/{project_id}/{scene_id}")
async def live(socket: WebSocket, project_id: str, scene_id: str) -> None:
    """One page's connection."""
    services: Services = socket.app.state.services
    await socket.accept()
    number, queue = services.hub.join(project_id)
    session = LiveSession(services, project_id, scene_id, number, queue.qsize)
    sender = asyncio.create_task(_send_all(socket, queue))
    try:
        async for text in _texts(socket):
            session.receive(text)
    finally:
        services.hub.leave(number)
        services.frames.forget(number)
        services.frames.later(lambda kit: keep_latest(kit, services, project_id, scene_id))
        if not services.hub.listens(project_id):
            services.frames.later(lambda kit: kit.forget())
        sender.cancel()
        with suppress(asyncio.CancelledError, Exception):
            await sender


@live_router.websocket("/live")
async def live_renders(socket: WebSocket) -> None:
    """Progress of renders for pages without a scene."""
    services: Services = socket.app.state.services
    await socket.accept()
    number, queue = services.hub.join("")
    sender = asyncio.create_task(_send_all(socket, queue))
    try:
        async for _ in _texts(socket):
            pass
    finally:
        services.hub.leave(number)
        sender.cancel()
        with suppress(asyncio.CancelledError, Exception):
            await sender


async def _texts(socket: WebSocket) -> AsyncIterator[str]:
    """What the page sends, until it is gone; a message of bytes counts as an empty one."""
    with suppress(WebSocketDisconnect):
        while True:
            message = await socket.receive()
            if message["type"] == "websocket.disconnect":
                return
            yield message.get("text") or ""


async def _send_all(socket: WebSocket, queue: asyncio.Queue[Any]) -> None:
    while True:
        message = await queue.get()
        if isinstance(message, bytes):
            await socket.send_bytes(message)
        else:
            await socket.send_text(json.dumps(message.data(), separators=(",", ":")))
