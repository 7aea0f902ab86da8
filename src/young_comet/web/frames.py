"""The one thread that draws for the screen.

Rendering never runs on the event loop. Stage frames come first, and for each connection only
the newest request counts; then single tasks (thumbnails, picks), then the frames that fill a
connection's playback cache ahead.
"""

from __future__ import annotations

import asyncio
import threading
import time
from collections import deque
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any, TypeVar

from ..core.render import CacheLimits, LaneCache, MediaLibrary, Renderer, TrackCache
from ..jobs import PreviewPool
from ..store.assets import AssetStore

T = TypeVar("T")


class RenderKit:
    """What drawing needs; used by the frame thread only."""

    def __init__(self, assets: AssetStore, limits: CacheLimits) -> None:
        self.library = MediaLibrary(assets, drawings=assets, limit_bytes=limits.media)
        self.stage = Renderer(self.library, limit_bytes=limits.frames)
        self.small = Renderer(self.library, limit_bytes=limits.small)
        self.tracks = TrackCache()
        self.lanes = LaneCache()


Task = Callable[[RenderKit], Any]
# A connection, or a longer search of one ("match", connection): each has one thing under way.
Filler = int | tuple[str, int]


@dataclass
class _Fill:
    """Frames to come for one connection; a step draws and sends one."""

    steps: Iterator[None]


class FrameService:
    """Runs drawing tasks in order of urgency."""

    def __init__(self, assets: AssetStore, limits: CacheLimits, pool: PreviewPool | None) -> None:
        self._kit = RenderKit(assets, limits)
        self.pool = pool
        self._staged = 0.0
        self._condition = threading.Condition()
        self._stage: dict[int, Task] = {}
        self._tasks: deque[tuple[Task, Callable[[Any, BaseException | None], None]]] = deque()
        self._fills: dict[Filler, _Fill] = {}
        self._turn: deque[Filler] = deque()
        self._stopping = False
        self._thread = threading.Thread(target=self._loop, name="frames", daemon=True)

    def start(self) -> None:
        self._thread.start()
        if self.pool is not None:
            threading.Thread(target=self.pool.start, name="previews", daemon=True).start()

    def stop(self) -> None:
        with self._condition:
            self._stopping = True
            self._condition.notify()
        if self.pool is not None:
            self.pool.stop()
        if self._thread.is_alive():
            self._thread.join(timeout=10)

    async def run(self, task: Callable[[RenderKit], T]) -> T:
        """The result of a task, drawn in its turn."""
        loop = asyncio.get_running_loop()
        future: asyncio.Future[T] = loop.create_future()

        def settle(value: Any, error: BaseException | None) -> None:
            if future.cancelled():
                return
            if error is not None:
                future.set_exception(error)
            else:
                future.set_result(value)

        def done(value: Any, error: BaseException | None) -> None:
            loop.call_soon_threadsafe(settle, value, error)

        with self._condition:
            self._tasks.append((task, done))
            self._condition.notify()
        return await future

    def stage(self, connection: int, task: Task) -> None:
        """Puts a connection's stage frame next; one that waited is dropped."""
        self._staged = time.monotonic()
        with self._condition:
            self._stage[connection] = task
            self._condition.notify()

    def fill(self, connection: Filler, steps: Callable[[RenderKit], Iterator[None]]) -> None:
        """Replaces what a connection's cache is being filled with (or its search)."""
        with self._condition:
            self._fills[connection] = _Fill(steps(self._kit))
            if connection not in self._turn:
                self._turn.append(connection)
            self._condition.notify()

    @property
    def busy_with_stage(self) -> bool:
        """Whether somebody is at work on a stage: frames for later then wait."""
        return time.monotonic() - self._staged < 0.25

    def forget(self, connection: int) -> None:
        """Drops whatever waits for a connection."""
        with self._condition:
            self._stage.pop(connection, None)
            self._stage.pop(-connection, None)  # its second picture
            self._fills.pop(connection, None)
            self._fills.pop(("match", connection), None)

    def drop(self, filler: Filler) -> None:
        """Ends a search."""
        with self._condition:
            self._fills.pop(filler, None)

    def _loop(self) -> None:
        while True:
            with self._condition:
                while not (self._stopping or self._stage or self._tasks or self._fills):
                    self._condition.wait()
                if self._stopping:
                    return
                job = self._next()
            job()

    def _next(self) -> Callable[[], None]:
        if self._stage:
            task = self._stage.pop(next(iter(self._stage)))
            return lambda: task(self._kit)
        if self._tasks:
            single, done = self._tasks.popleft()
            return lambda: self._settle(single, done)
        connection = self._turn[0]
        self._turn.rotate(-1)
        fill = self._fills.get(connection)
        if fill is None:
            self._turn.remove(connection)
            return lambda: None
        return lambda: self._step(connection, fill)

    def _settle(self, task: Task, done: Callable[[Any, BaseException | None], None]) -> None:
        try:
            value = task(self._kit)
        except BaseException as error:
            done(None, error)
        else:
            done(value, None)

    def _step(self, connection: Filler, fill: _Fill) -> None:
        try:
            next(fill.steps)
        except StopIteration:
            with self._condition:
                if self._fills.get(connection) is fill:
                    del self._fills[connection]
