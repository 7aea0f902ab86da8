"""Frames for playback, drawn by processes of their own while the server draws the stage.

A process keeps the projects that it was last sent; where it lacks one it says so and is asked
again with the project. A crash costs the frames under way, which are then drawn by the server.
"""

from __future__ import annotations

import contextlib
import multiprocessing as mp
import os
import pickle
import threading
from collections import OrderedDict
from concurrent.futures import Future, InvalidStateError, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from pathlib import Path
from typing import Any

import cv2

from ..children import end_with
from ..core.export import encode_preview
from ..core.kernels import load_kernels
from ..core.model import Project
from ..core.paint import CacheLimits, MediaLibrary, Renderer
from ..core.resolve import SceneEvaluator, TrackCache
from ..core.views import Seen, SeenFrame, SeenScene
from ..store.assets import AssetStore

KEPT_PROJECTS = 3
ALL = Seen()
# Frames that go to one process before the next one gets some.
RUN = 4
# A frame's signature and its JPEG.
Drawn = tuple[str, bytes]
# The stage is more urgent than frames for later: the kernel is told so.
NICENESS = 5


# A stop that does not wait for the processes still waits so long for them to be told.
ENDING_S = 0.3

# Ends the signature of a picture in which something is missing: it names no picture that can be
# used again, as the gap may be mended meanwhile.
WITH_GAPS = "!"


def shown_signature(frame: SeenFrame, renderer: Renderer) -> str:
    """The name of the picture that was rendered last."""
    return frame.signature + (WITH_GAPS if renderer.faults else "")


class PreviewPool:
    """Processes that draw playback frames. Each has a queue of its own and gets runs of frames
    that follow one another, as what it keeps and the reading of footage are best at."""

    def __init__(self, assets_dir: Path, processes: int, limits: CacheLimits) -> None:
        self._assets_dir, self._processes, self._limits = assets_dir, processes, limits
        self._pools: list[ProcessPoolExecutor] = []
        self._lock = threading.Lock()
        self._pickled: tuple[Project | None, bytes] = (None, b"")

    @property
    def wide(self) -> int:
        """How many frames may be under way at once."""
        return RUN * self._processes

    def frame(
        self,
        project: Project,
        key: str,
        scene_id: str,
        number: int,
        size: tuple[int, int],
        place: int,
        seen: Seen = ALL,
    ) -> Future[Drawn]:
        """A frame's signature and JPEG, as it is ``seen``. ``key`` names the state of the
        project, ``place`` counts the frames of a fill: runs of them go to the same process."""
        result: Future[Drawn] = Future()
        lane = place // RUN % self._processes
        self._ask(result, project, lane, (key, scene_id, number, size, seen), False)
        return result

    def start(self) -> None:
        """Starts the processes, so that the first frame does not wait for them."""
        for pool in self._started():
            pool.submit(load_kernels)

    def stop(self, *, wait: bool = True) -> None:
        """Ends the processes; frames that were asked for are given up. Without ``wait`` it is back
        soon even while processes are being started (a pool cannot be asked anything then)."""
        with self._lock:
            pools, self._pools = self._pools, []

        def end() -> None:
            for pool in pools:
                pool.shutdown(wait=wait, cancel_futures=True)

        ending = threading.Thread(target=end, name="previews-end", daemon=True)
        ending.start()
        ending.join(None if wait else ENDING_S)

    def _ask(
        self,
        result: Future[Drawn],
        project: Project,
        lane: int,
        asked: tuple[Any, ...],
        sent: bool,
    ) -> None:
        try:
            data = self._bytes(project) if sent else None
            future = self._started()[lane].submit(_draw, *asked, data)  # type: ignore[call-arg]
        except (RuntimeError, BrokenProcessPool) as error:
            self.stop(wait=False)
            _settle(result, error)
            return

        def given_up(asked_for: Future[Drawn]) -> None:
            if asked_for.cancelled():
                future.cancel()

        def heard(done: Future[Drawn | None]) -> None:
            if done.cancelled() or result.cancelled():
                result.cancel()
                return
            try:
                picture = done.result()
            except BaseException as error:  # noqa: BLE001
                if isinstance(error, BrokenProcessPool):
                    self.stop(wait=False)
                _settle(result, error)
                return
            if picture is None and not sent:
                self._ask(result, project, lane, asked, True)
            else:
                _settle(result, picture or RuntimeError("a preview process lost its project"))

        result.add_done_callback(given_up)
        future.add_done_callback(heard)

    def _bytes(self, project: Project) -> bytes:
        known, data = self._pickled
        if known is not project:
            data = pickle.dumps(project, pickle.HIGHEST_PROTOCOL)
            self._pickled = (project, data)
        return data

    def _started(self) -> list[ProcessPoolExecutor]:
        with self._lock:
            if not self._pools:
                context = mp.get_context("forkserver")
                context.set_forkserver_preload(["__main__", __name__])
                self._pools = [
                    ProcessPoolExecutor(
                        1,
                        mp_context=context,
                        initializer=_begin,
                        initargs=(str(self._assets_dir), self._limits, os.getpid()),
                    )
                    for _ in range(self._processes)
                ]
            return self._pools


def _settle(result: Future[Drawn], value: Drawn | BaseException) -> None:
    """Gives a future its value or error, unless it was given up in the meantime."""
    with contextlib.suppress(InvalidStateError):
        if isinstance(value, BaseException):
            result.set_exception(value)
        else:
            result.set_result(value)


class _Drawer:
    """What one process keeps."""

    def __init__(self, assets_dir: str, limits: CacheLimits) -> None:
        assets = AssetStore(Path(assets_dir))
        library = MediaLibrary(assets, drawings=assets, limit_bytes=limits.media)
        self.renderer = Renderer(library, limit_bytes=limits.frames)
        self.tracks = TrackCache()
        self.projects: OrderedDict[str, Project] = OrderedDict()
        self.scenes: OrderedDict[tuple[str, str, Seen], SeenScene] = OrderedDict()

    def scene(self, key: str, scene_id: str, seen: Seen) -> SeenScene:
        name = (key, scene_id, seen)
        if name not in self.scenes:

            def evaluator(project: Project) -> SceneEvaluator:
                return SceneEvaluator(project, scene_id, self.tracks, self.renderer.library)

            self.scenes[name] = SeenScene(seen, evaluator(self.projects[key]), evaluator)
            while len(self.scenes) > KEPT_PROJECTS:
                self.scenes.popitem(last=False)
        return self.scenes[name]


_drawer: _Drawer | None = None


def _begin(assets_dir: str, limits: CacheLimits, program: int) -> None:
    global _drawer
    end_with(program)
    cv2.setNumThreads(1)
    with contextlib.suppress(OSError):
        os.nice(NICENESS)
    _drawer = _Drawer(assets_dir, limits)


def _draw(
    key: str, scene_id: str, number: int, size: tuple[int, int], seen: Seen, data: bytes | None
) -> Drawn | None:
    """The body of a preview process; None where it needs the project first."""
    assert _drawer is not None
    if data is not None:
        _drawer.projects[key] = pickle.loads(data)
        while len(_drawer.projects) > KEPT_PROJECTS:
            _drawer.projects.popitem(last=False)
    if key not in _drawer.projects:
        return None
    frame = _drawer.scene(key, scene_id, seen).frame(number)
    pixels = frame.draw(_drawer.renderer, *size)
    return shown_signature(frame, _drawer.renderer), encode_preview(pixels)
