"""The WebSocket of an open scene: stage frames, playback frames, edits of other pages.

Messages from the page (JSON, see ``messages``): ``stage`` asks for one frame with everything
the editor draws over it; ``compare`` for a second picture to lay beside it; ``fill`` for a
stretch of frames for playback; ``forget`` lists pictures that the page no longer keeps;
``match`` starts a comparison of pictures. Messages to the page: binary ones are a 4-byte
big-endian length, that many bytes of JSON, then a JPEG, or RGBA bytes where the JSON says
``raw``; texts are JSON.
"""

from __future__ import annotations

import asyncio
import json
import logging
import struct
import threading
import time
from collections import deque
from collections.abc import AsyncIterator, Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import suppress
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np
from fastapi import APIRouter, WebSocket, WebSocketDisconnect
from pydantic import ValidationError

from ..core.export import encode_preview, raw_preview
from ..core.model import Scene
from ..core.render import (
    Comparer,
    ResolvedFrame,
    SceneEvaluator,
    lanes_of,
    output_size,
    scene_view,
    with_onion,
)
from ..edits import parse_edits
from ..errors import NotFoundError, YoungCometError
from ..jobs import guarded
from ..jobs.previews import WITH_GAPS, Drawn, shown_signature
from .frames import RenderKit
from .messages import MESSAGES, CancelMatch, Compare, Fill, FindMatch, Stage
from .routes.frames import keep_latest
from .services import Services
from .stage_parts import comparison, match_result, of_one, paths_of_layers, shapes_of_layers

log = logging.getLogger(__name__)
live_router = APIRouter()

# Stage pictures up to this size travel as raw pixels.
MAX_RAW_PIXELS = 1280 * 720
# JPEGs that may wait in a connection's queue before filling pauses.
MAX_WAITING = 12


_PACKING = ThreadPoolExecutor(1, thread_name_prefix="packing")


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
        # What the page has; the event loop takes away what the frame thread adds.
        self._sent: set[tuple[str, int]] = set()
        self._sent_lock = threading.Lock()
        self._numbers: set[tuple[int, int]] = set()
        self._packed: Future[None] = _PACKING.submit(lambda: None)
        self._lanes_key: Any = None
        self._paths_key: Any = None
        self._sent_lanes: dict[tuple[str, str], dict[str, Any]] = {}

    def receive(self, text: str) -> None:
        """Handles one message; a wrong one is answered with an error."""
        if not guarded("a message of a page", lambda: self._take(text)):
            self._tell({"type": "error", "message": "the message could not be handled"})

    def _take(self, text: str) -> None:
        try:
            message = MESSAGES.validate_json(text)
        except ValidationError as error:
            first = error.errors(include_url=False)[0]
            field = ".".join(str(part) for part in first["loc"])
            self._tell({"type": "error", "message": f"{field}: {first['msg']}"})
            return
        if isinstance(message, Stage):
            self._services.frames.stage(
                self._number,
                lambda kit: self._guarded(message.id, self._stage_message, kit, message),
            )
        elif isinstance(message, Compare):
            frames = self._services.frames
            frames.stage(
                -self._number, lambda kit: self._guarded(message.id, self._compare, kit, message)
            )
        elif isinstance(message, Fill):
            self._services.frames.fill(self._number, lambda kit: self._fill(kit, message))
        elif isinstance(message, FindMatch):
            name = ("match", self._number)
            self._services.frames.fill(name, lambda kit: self._match(kit, message))
        elif isinstance(message, CancelMatch):
            self._services.frames.drop(("match", self._number))
        else:
            gone = set(message.signatures)
            with self._sent_lock:
                self._sent = {entry for entry in self._sent if entry[0] not in gone}

    def _tell(self, message: Any) -> None:
        self._services.hub.send(self._number, message)

    def _guarded(
        self, id: int, draw: Callable[[RenderKit, Any], bytes], kit: RenderKit, request: Any
    ) -> None:
        """Sends what a drawing function gives, or what went wrong."""
        try:
            self._tell(draw(kit, request))
        except YoungCometError as error:
            self._tell({"type": "error", "id": id, "message": str(error)})
        except Exception as error:
            text = f"the frame could not be drawn ({type(error).__name__}: {error})"
            self._tell({"type": "error", "id": id, "message": text})
            raise  # the worker's loop logs it

    def _stage_message(self, kit: RenderKit, request: Stage) -> bytes:
        state = self._services.workspace.state(self._project_id)
        project = state.project
        if request.drafts:
            project = self._services.workspace.drafted(
                self._project_id, parse_edits(request.drafts)
            )
        evaluator = SceneEvaluator(project, self._scene_id, kit.tracks, kit.library)
        scene = evaluator.scene
        number = min(evaluator.rate.frame_at(request.time_s), scene.frame_count - 1)
        time_s = evaluator.rate.time_of(number)
        bare = dict.fromkeys(request.selected, "") if request.bare else {}
        if request.before:
            layer_id, _, effect_id = request.before.partition("|")
            bare = {layer_id: effect_id}
        frame = evaluator.frame(number, bare=bare)
        size = preview_size(scene, request.height)
        header: dict[str, Any] = {
            "type": "stage",
            "id": request.id,
            "revision": state.revision,
            "frame": number,
            "time_s": time_s,
            "signature": frame.signature,
            "layers": scene_view(evaluator, kit.library, time_s),
            "shapes": shapes_of_layers(evaluator, request.selected, time_s),
        }
        # What depends on more than the moment is sent when it has changed.
        key = (state.revision, json.dumps([request.drafts, request.lanes, request.tall]))
        if key != self._lanes_key:
            self._lanes_key = key
            header["lanes"] = self._lanes(kit, evaluator, request)
        key = (state.revision, json.dumps([request.drafts, request.selected]))
        if key != self._paths_key:
            self._paths_key = key
            header["paths"] = paths_of_layers(evaluator, scene, request.selected)
        pixels = kit.stage.render(frame, *size)
        header["faults"] = [asdict(fault) for fault in kit.stage.faults]
        if request.onion is not None and request.selected:
            onion = request.onion
            pixels = with_onion(
                pixels, evaluator, kit.library, request.selected, number,
                before=onion.before, after=onion.after, step=onion.step,
            )  # fmt: skip
        return _picture(header, pixels)

    def _lanes(
        self, kit: RenderKit, evaluator: SceneEvaluator, request: Stage
    ) -> list[dict[str, Any]]:
        """The lanes of the opened layers; of those that the page has already, only the names."""
        wanted, tall = set(request.lanes), frozenset(request.tall)
        lanes: list[dict[str, Any]] = [
            lane
            for layer in evaluator.scene.layers
            if layer.id in wanted
            for lane in of_one(layer, lambda la: lanes_of(evaluator, la, kit.lanes, tall), [])
        ]
        known = self._sent_lanes
        self._sent_lanes = {(lane["layer"], lane["property"]): lane for lane in lanes}
        return [
            {"layer": lane["layer"], "property": lane["property"], "same": True}
            if known.get((lane["layer"], lane["property"])) is lane
            else lane
            for lane in lanes
        ]

    def _compare(self, kit: RenderKit, request: Compare) -> bytes:
        workspace = self._services.workspace
        project = workspace.state(self._project_id).project
        if request.with_ == "before-edit":
            project = workspace.before_last(self._project_id)
        evaluator = SceneEvaluator(project, self._scene_id, kit.tracks, kit.library)
        scene = evaluator.scene
        number = min(evaluator.rate.frame_at(request.time_s), scene.frame_count - 1)
        pixels = kit.stage.render(evaluator.frame(number), *preview_size(scene, request.height))
        return _picture({"type": "compare", "id": request.id, "frame": number}, pixels)

    def _match(self, kit: RenderKit, request: FindMatch) -> Iterator[None]:
        """Compares one frame a step, telling how far it is; the last message has the result."""
        try:
            yield from self._matching(kit, request)
        except Exception as error:
            why = f"the search failed ({type(error).__name__}: {error})"
            self._tell({"type": "match", "id": request.id, "error": why})
            raise

    def _matching(self, kit: RenderKit, request: FindMatch) -> Iterator[None]:
        try:
            project = self._services.workspace.state(self._project_id).project
            evaluator = SceneEvaluator(project, self._scene_id, kit.tracks, kit.library)
            last = min(request.last, evaluator.scene.frame_count - 1)
            frames = range(min(request.first, last), last + 1)
            steps, total = comparison(project, evaluator, Comparer(kit.small), request, frames)
        except YoungCometError as error:
            self._tell({"type": "match", "id": request.id, "error": str(error)})
            return
        values: list[float | None] = []
        started = told = time.monotonic()
        for value in steps:
            values.append(value)
            now = time.monotonic()
            if now - told > 0.2:
                told = now
                left = (now - started) / len(values) * (total - len(values))
                self._tell(
                    {"type": "match", "id": request.id, "done": len(values), "total": total,
                     "left_s": round(left, 1)}
                )  # fmt: skip
            yield
        self._tell(match_result(request, frames, values, evaluator.scene))

    def _fill(self, kit: RenderKit, request: Fill) -> Iterator[None]:
        """Sends one frame after another; if that fails, the page is told."""
        try:
            yield from self._filling(kit, request)
        except Exception as error:
            why = f"playback could not be prepared ({type(error).__name__}: {error})"
            self._tell({"type": "filled", "id": request.id, "error": why})
            raise

    def _filling(self, kit: RenderKit, request: Fill) -> Iterator[None]:
        """Sends one frame after another, with the project as it is at that moment. They are
        drawn by processes side by side where there are some, else one a step."""
        pool = self._services.frames.pool
        wide = pool.wide if pool is not None else 1
        waiting: deque[_Coming] = deque()
        offset = 0
        evaluator: SceneEvaluator | None = None
        try:
            while offset < request.count or waiting:
                while waiting and waiting[0].is_there:
                    self._deliver(waiting.popleft(), kit)
                # A slow page is not flooded, and a stage that is worked on comes first.
                held = self._queue.qsize() > MAX_WAITING or (
                    pool is not None and self._services.frames.busy_with_stage
                )
                if offset >= request.count or len(waiting) >= wide or held:
                    yield
                    _rest()
                    continue
                try:
                    state = self._services.workspace.state(self._project_id)
                    if evaluator is None or state.project is not evaluator.project:
                        evaluator = SceneEvaluator(
                            state.project, self._scene_id, kit.tracks, kit.library
                        )
                except NotFoundError:
                    return
                waiting.append(self._coming(evaluator, state.revision, request, offset))
                offset += 1
                yield
        finally:
            for each in waiting:
                if each.picture is not None:
                    each.picture.cancel()
        _PACKING.submit(self._tell, {"type": "filled", "id": request.id})

    def _coming(
        self, evaluator: SceneEvaluator, revision: int, request: Fill, offset: int
    ) -> _Coming:
        """A frame of a fill, asked for where the page lacks it."""
        scene = evaluator.scene
        start_s, end_s = scene.working_range
        first, end = evaluator.rate.nearest_frame(start_s), evaluator.rate.nearest_frame(end_s)
        number = first + (request.first - first + offset) % max(1, end - first)
        number = min(number, scene.frame_count - 1)
        size = preview_size(scene, request.height)
        pool = self._services.frames.pool
        coming = _Coming({"type": "frame", "id": request.id, "frame": number}, size)
        # A frame that was sent before may look as it did: only then is it looked at here.
        if pool is None or (number, request.height) in self._numbers:
            coming.frame = evaluator.frame(number)
            coming.header["signature"] = coming.frame.signature
            coming.known = self._has((coming.frame.signature, request.height))
        if pool is not None and not coming.known:
            key = f"{self._project_id}:{revision}:{id(evaluator.project)}"
            coming.picture = pool.frame(evaluator.project, key, scene.id, number, size, offset)
        coming.evaluator, coming.height = evaluator, request.height
        return coming

    def _deliver(self, coming: _Coming, kit: RenderKit) -> None:
        """Sends a frame in its turn; one that its process lost is drawn here."""
        header = coming.header
        number = header["frame"]
        if coming.known:
            _PACKING.submit(self._tell, header)
            return
        drawn = coming.picture is not None and not coming.picture.cancelled()
        if drawn and coming.picture is not None and coming.picture.exception() is None:
            header["signature"], data = coming.picture.result()
            entry = (header["signature"], coming.height)
            # A hold: the page has the same picture already under another number.
            message = header if self._has(entry) else pack(header, data)
            _PACKING.submit(self._tell, message)
        else:
            assert coming.evaluator is not None
            frame = coming.frame or coming.evaluator.frame(number)
            pixels = kit.stage.render(frame, *coming.size)
            header["signature"] = shown_signature(frame, kit.stage)
            entry = (header["signature"], coming.height)
            self._packed.result()  # not more than one picture ahead
            # Packed in a thread of its own while the next one is drawn. There is one such
            # thread, so messages go out in their order.
            self._packed = _PACKING.submit(lambda: self._tell(pack(header, encode_preview(pixels))))
        if not entry[0].endswith(WITH_GAPS):  # that is drawn again: the gap may be mended
            with self._sent_lock:
                self._sent.add(entry)
        self._numbers.add((number, coming.height))

    def _has(self, entry: tuple[str, int]) -> bool:
        with self._sent_lock:
            return entry in self._sent


@dataclass
class _Coming:
    """A frame that a page waits for; ``known`` ones are only named."""

    header: dict[str, Any]
    size: tuple[int, int]
    known: bool = False
    frame: ResolvedFrame | None = None
    picture: Future[Drawn] | None = None
    evaluator: SceneEvaluator | None = None
    height: int = 0

    @property
    def is_there(self) -> bool:
        return self.picture is None or self.picture.done()


def _rest() -> None:
    """Leaves the thread to others for a moment."""
    time.sleep(0.003)


def _picture(header: dict[str, Any], pixels: np.ndarray) -> bytes:
    """A message with a picture; on one machine moving bytes is cheaper than packing them."""
    height, width = pixels.shape[:2]
    if width * height <= MAX_RAW_PIXELS:
        return pack({**header, "raw": (width, height)}, raw_preview(pixels))
    return pack(header, encode_preview(pixels))
