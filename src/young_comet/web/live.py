"""The WebSocket of an open scene: stage frames, playback frames, edits of other pages.

Messages from the page (JSON): ``stage`` asks for one frame with everything the editor draws
over it; ``fill`` asks for a stretch of frames for playback; ``forget`` lists pictures that the
page no longer keeps. Messages to the page: binary ones are a 4-byte big-endian length, that
many bytes of JSON, then a JPEG; texts are JSON.
"""

from __future__ import annotations

import asyncio
import json
import struct
import time
from collections.abc import Iterator
from contextlib import suppress
from typing import Annotated, Any, Literal

from fastapi import APIRouter, WebSocket, WebSocketDisconnect
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from ..core.catalog import layer_kind
from ..core.export import encode_preview, raw_preview
from ..core.model import Layer, Project, Scene
from ..core.render import SceneEvaluator, lane_of, motion_path, output_size, scene_view
from ..edits import parse_edits
from ..errors import NotFoundError, YoungCometError
from .frames import RenderKit
from .services import Services

live_router = APIRouter()

# Stage pictures up to this size travel as raw pixels.
MAX_RAW_PIXELS = 1280 * 720
# JPEGs that may wait in a connection's queue before filling pauses.
MAX_WAITING = 12


class Stage(BaseModel):
    """``height`` is the preview's short side in px (0: full size); ``drafts`` are edits that
    are shown but not saved; ``lanes`` and ``selected`` name layers."""

    model_config = ConfigDict(extra="forbid")
    type: Literal["stage"]
    id: int
    time_s: Annotated[float, Field(ge=0, le=3600, allow_inf_nan=False)]
    height: Annotated[int, Field(ge=0, le=8192)] = 540
    drafts: list[dict[str, Any]] = []
    lanes: list[str] = []
    selected: list[str] = []


class Fill(BaseModel):
    """Frames ``first`` to ``first + count - 1``, wrapped at ``end``, at a preview height."""

    model_config = ConfigDict(extra="forbid")
    type: Literal["fill"]
    id: int
    first: Annotated[int, Field(ge=0)]
    count: Annotated[int, Field(ge=0, le=5000)]
    height: Annotated[int, Field(ge=0, le=8192)] = 540


class Forget(BaseModel):
    model_config = ConfigDict(extra="forbid")
    type: Literal["forget"]
    signatures: list[str]


_MESSAGES: TypeAdapter[Stage | Fill | Forget] = TypeAdapter(
    Annotated[Stage | Fill | Forget, Field(discriminator="type")]
)


def preview_size(scene: Scene, height: int) -> tuple[int, int]:
    """Pixels of a preview whose short side has ``height`` px, never above full size."""
    scale = 1.0 if height == 0 else min(1.0, height / min(scene.width, scene.height))
    return output_size(scene.width, scene.height, scale)


def pack(header: dict[str, Any], picture: bytes) -> bytes:
    text = json.dumps(header, separators=(",", ":")).encode()
    return struct.pack(">I", len(text)) + text + picture


@live_router.websocket("/live/{project_id}/{scene_id}")
async def live(socket: WebSocket, project_id: str, scene_id: str) -> None:
    """One page's connection."""
    services: Services = socket.app.state.services
    await socket.accept()
    number, queue = services.hub.join(project_id)
    session = LiveSession(services, project_id, scene_id, number, queue)
    sender = asyncio.create_task(_send_all(socket, queue))
    try:
        while True:
            session.receive(await socket.receive_text())
    except WebSocketDisconnect:
        pass
    finally:
        services.hub.leave(number)
        services.frames.forget(number)
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
        while True:
            await socket.receive_text()
    except WebSocketDisconnect:
        pass
    finally:
        services.hub.leave(number)
        sender.cancel()
        with suppress(asyncio.CancelledError, Exception):
            await sender


async def _send_all(socket: WebSocket, queue: asyncio.Queue[Any]) -> None:
    while True:
        message = await queue.get()
        if isinstance(message, bytes):
            await socket.send_bytes(message)
        else:
            await socket.send_text(json.dumps(message, separators=(",", ":")))


class LiveSession:
    """What one connection has asked for and has been sent."""

    def __init__(
        self,
        services: Services,
        project_id: str,
        scene_id: str,
        number: int,
        queue: asyncio.Queue[Any],
    ) -> None:
        self._services = services
        self._project_id, self._scene_id = project_id, scene_id
        self._number, self._queue = number, queue
        self._sent: set[tuple[str, int]] = set()
        self._lanes_key: Any = None

    def receive(self, text: str) -> None:
        """Handles one message; a wrong one is answered with an error."""
        try:
            message = _MESSAGES.validate_json(text)
        except ValidationError as error:
            first = error.errors(include_url=False)[0]
            field = ".".join(str(part) for part in first["loc"])
            self._tell({"type": "error", "message": f"{field}: {first['msg']}"})
            return
        if isinstance(message, Stage):
            self._services.frames.stage(self._number, lambda kit: self._stage(kit, message))
        elif isinstance(message, Fill):
            self._services.frames.fill(self._number, lambda kit: self._fill(kit, message))
        else:
            gone = set(message.signatures)
            self._sent = {entry for entry in self._sent if entry[0] not in gone}

    def _tell(self, message: Any) -> None:
        self._services.hub.send(self._number, message)

    def _stage(self, kit: RenderKit, request: Stage) -> None:
        try:
            self._tell(self._stage_message(kit, request))
        except YoungCometError as error:
            self._tell({"type": "error", "id": request.id, "message": str(error)})
        except Exception as error:  # a bug of ours must not end the frame thread
            text = f"the frame could not be drawn ({type(error).__name__}: {error})"
            self._tell({"type": "error", "id": request.id, "message": text})

    def _stage_message(self, kit: RenderKit, request: Stage) -> bytes:
        state = self._services.workspace.state(self._project_id)
        project = state.project
        if request.drafts:
            project = self._services.workspace.drafted(
                self._project_id, parse_edits(request.drafts)
            )
        evaluator = SceneEvaluator(project, self._scene_id, kit.tracks)
        scene = evaluator.scene
        number = min(evaluator.rate.frame_at(request.time_s), scene.frame_count - 1)
        time_s = evaluator.rate.time_of(number)
        frame = evaluator.frame(number)
        size = preview_size(scene, request.height)
        header: dict[str, Any] = {
            "type": "stage",
            "id": request.id,
            "revision": state.revision,
            "frame": number,
            "time_s": time_s,
            "signature": frame.signature,
            "layers": scene_view(evaluator, kit.library, time_s),
        }
        # What depends on more than the moment is sent when it has changed.
        key = (state.revision, json.dumps([request.drafts, request.lanes, request.selected]))
        if key != self._lanes_key:
            self._lanes_key = key
            header["lanes"] = _lanes(evaluator, scene, request.lanes)
            header["paths"] = _paths(evaluator, scene, request.selected)
        pixels = kit.stage.render(frame, *size)
        # On one machine moving bytes is cheaper than packing and unpacking them.
        if size[0] * size[1] <= MAX_RAW_PIXELS:
            header["raw"] = size
            return pack(header, raw_preview(pixels))
        return pack(header, encode_preview(pixels))

    def _fill(self, kit: RenderKit, request: Fill) -> Iterator[None]:
        """Draws and sends one frame a step, with the project as it is at that moment."""
        project: Project | None = None
        evaluator: SceneEvaluator | None = None
        for offset in range(request.count):
            while self._queue.qsize() > MAX_WAITING:  # a slow page is not flooded
                yield
                _rest()
            try:
                current = self._services.workspace.state(self._project_id).project
                if evaluator is None or current is not project:
                    project = current
                    evaluator = SceneEvaluator(current, self._scene_id, kit.tracks)
            except NotFoundError:
                return
            scene = evaluator.scene
            number = (request.first + offset) % scene.frame_count
            frame = evaluator.frame(number)
            header = {
                "type": "frame",
                "id": request.id,
                "frame": number,
                "signature": frame.signature,
            }
            entry = (frame.signature, request.height)
            if entry in self._sent:
                self._tell(header)
            else:
                pixels = kit.stage.render(frame, *preview_size(scene, request.height))
                self._tell(pack(header, encode_preview(pixels)))
                self._sent.add(entry)
            yield
        self._tell({"type": "filled", "id": request.id})


def _rest() -> None:
    """Leaves the thread to others for a moment."""
    time.sleep(0.005)


def _lanes(evaluator: SceneEvaluator, scene: Scene, layer_ids: list[str]) -> list[dict[str, Any]]:
    """The lanes of some layers, each layer's in the order of its fields."""
    wanted = set(layer_ids)
    found = []
    for layer in scene.layers:
        if layer.id in wanted:
            for spec in layer_kind(layer.kind).specs:
                if lane := lane_of(evaluator, layer, spec.id):
                    found.append(lane)
    return found


def _paths(evaluator: SceneEvaluator, scene: Scene, layer_ids: list[str]) -> dict[str, Any]:
    wanted = set(layer_ids)
    found: dict[str, Any] = {}
    layer: Layer
    for layer in scene.layers:
        if layer.id in wanted and (path := motion_path(evaluator, layer)):
            found[layer.id] = path
    return found
