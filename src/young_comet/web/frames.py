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
from contextlib import suppress
from dataclasses import dataclass
from functools import partial
from typing import Any, TypeVar

from ..core.kernels import kernel_loads
from ..core.paint import CacheLimits, MediaLibrary, Renderer
from ..core.resolve import TrackCache
from ..core.views import LaneCache
from ..errors import RenderError
from ..jobs import PreviewPool, Worker, guarded
from ..store.assets import AssetStore

T = TypeVar("T")


class RenderKit:
    """What drawing needs; used by the frame thread only."""

    def __init__(self, assets: AssetStore, limits: CacheLimits) -> None:
        self.library = MediaLibrary(assets, drawings=assets, limit_bytes=limits.media)
        self.stage = Renderer(self.library, limit_bytes=limits.frames)
        self.small = Renderer(self.library, limit_bytes=limits.small)
        self.forget()

    def forget(self) -> None:
        """Gives back what was made of documents; pictures are bounded anyway."""
        self.tracks = TrackCache()
        self.lanes = LaneCache()


Task = Callable[[RenderKit], Any]
# A connection, or a longer search of one ("match", connection): each has one thing under way.
Filler = int | tuple[str, int]


def _without_kit(call: Callable[[], None], kit: RenderKit) -> None:
    call()


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
        # Set when the first picture of a stage has been drawn.
        self.drawn_once = threading.Event()
        self._condition = threading.Condition()
        self._stage: dict[int, Task] = {}
        self._tasks: deque[tuple[Task, Callable[[Any, BaseException | None], None]]] = deque()
        self._fills: dict[Filler, _Fill] = {}
        self._turn: deque[Filler] = deque()
        self._worker = Worker("frames", self._turn_once, self._wake)

    def start(self) -> None:
        """Begins to draw."""
        # Loaded while the first page is, in pieces: its picture must not wait for all of them.
        for load in kernel_loads():
            self.later(partial(_without_kit, load))
        self._worker.start()

    def start_helpers(self) -> None:
        """Starts the processes for playback, so that the first fill need not wait for them."""
        if self.pool is not None and not self._worker.stopping.is_set():
            guarded("starting the preview processes", self.pool.start)

    def stop(self) -> None:
        """Ends the thread, and the processes that help it."""
        self._worker.stopping.set()  # from here on no helpers are started
        if self.pool is not None:
            self.pool.stop(wait=False)
        self._worker.stop(timeout_s=1.5)
        with self._condition:
            waiting, self._tasks = self._tasks, deque()
        for _, done in waiting:  # who waits for a task must not wait for ever
            done(None, RenderError("the program is being stopped"))

    def _wake(self) -> None:
        with self._condition:
            self._condition.notify()

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
            with suppress(RuntimeError):  # the loop is closed: nobody waits any more
                loop.call_soon_threadsafe(settle, value, error)

        with self._condition:
            self._tasks.append((task, done))
            self._condition.notify()
        return await future

    def later(self, task: Task) -> None:
        """Does a task in its turn; nobody waits for it."""
        with self._condition:
            self._tasks.append((task, lambda value, error: None))
            self._condition.notify()

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

    def _turn_once(self) -> None:
        with self._condition:
            stopping = self._worker.stopping
            while not (stopping.is_set() or self._stage or self._tasks or self._fills):
                self._condition.wait()
            if stopping.is_set():
                return
            job = self._next()
        job()

    def _next(self) -> Callable[[], None]:
        if self._stage:
            task = self._stage.pop(next(iter(self._stage)))
            return lambda: self._staged_first(task)
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

    def _staged_first(self, task: Task) -> None:
        try:
            task(self._kit)
        finally:
            self.drawn_once.set()

    def _settle(self, task: Task, done: Callable[[Any, BaseException | None], None]) -> None:
        try:
            value = task(self._kit)
        except Exception as error:  # noqa: BLE001
            done(None, error)
        else:
            done(value, None)

    def _step(self, connection: Filler, fill: _Fill) -> None:
        """One step of a fill; one that ends, well or not, is dropped."""
        try:
            next(fill.steps)
        except BaseException as ended:
            with self._condition:
                if self._fills.get(connection) is fill:
                    del self._fills[connection]
            if not isinstance(ended, StopIteration):
                raise
