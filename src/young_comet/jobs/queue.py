"""The render queue: one render at a time, in a thread that only waits for processes."""

from __future__ import annotations

import json
import threading
import time
from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import Any, Literal

from ..core.catalog import check_project
from ..core.export import (
    Named,
    RenderSettings,
    checked,
    ending_of,
    file_stem,
    fitted,
    moments_of,
    slug,
)
from ..core.model import Project, load_project
from ..core.paint import CacheLimits
from ..core.resolve import SceneEvaluator
from ..errors import DocumentError, RenderCancelled, YoungCometError
from ..store.renders import ENDED, INTERRUPTED, RenderRecord, RenderStore
from .engine import RenderEngine
from .part import POSTER
from .render import RenderResult, render_scene
from .workers import Worker, guarded

Gaps = Literal["stop", "mark"]
Listener = Callable[[RenderRecord, float | None], None]


class RenderQueue:
    """Takes renders from the store, runs them, and tells listeners how far they are.

    A listener gets the record and the seconds left (None while unknown). It is called from
    the queue's thread.
    """

    def __init__(
        self,
        store: RenderStore,
        renders_dir: Path,
        assets_dir: Path,
        engine: RenderEngine,
        limits: CacheLimits | None = None,
    ) -> None:
        self._store = store
        self._renders_dir, self._assets_dir = renders_dir, assets_dir
        self._engine, self._limits = engine, limits
        self._wake = threading.Event()
        self._cancelled: set[str] = set()
        # Ends of renders that could not be written down yet (the disk is full, say).
        self._unsaved: dict[str, dict[str, Any]] = {}
        self._listeners: list[Listener] = []
        self._worker = Worker("renders", self._turn, self._wake.set)

    def start(self) -> None:
        """Begins to render what waits."""
        guarded("looking for interrupted renders", self._store.interrupt_running)
        self._worker.start()

    def stop(self) -> None:
        """Ends the thread; a render under way is marked as interrupted and can be asked for
        again."""
        self._worker.stop(timeout_s=2.5)
        if self._worker.is_alive:  # its processes are still starting, say
            guarded("writing down an interrupted render", self._store.interrupt_running)

    def listen(self, listener: Listener) -> None:
        """Tells a listener of every change from now on."""
        self._listeners.append(listener)

    def add(self, project: Project, scene_id: str, settings: RenderSettings) -> RenderRecord:
        """Queues a render; DocumentError if the settings do not fit the scene."""
        scene = SceneEvaluator(project, scene_id).scene
        still = checked(scene, settings)[0].still is not None
        file_stem(settings, Named(project, scene, (1, 1), date.today()))  # refused before it waits
        total = 1 if still else moments_of(scene, fitted(scene, settings)).count
        render_id = self._store.add(project, scene_id, settings.model_dump(), total)
        self._wake.set()
        return self._store.get(render_id)

    def cancel(self, render_id: str) -> RenderRecord:
        """Stops a waiting or running render; one that has ended stays as it is."""
        record = self._store.get(render_id)
        if record.status == "waiting":
            self._store.change(render_id, status="cancelled", message="Cancelled.")
            self._tell(render_id, None)
        elif record.status == "running":
            self._cancelled.add(render_id)
        return self._store.get(render_id)

    def rename(self, render_id: str, name: str) -> RenderRecord:
        """Calls a render by a name of its own; "" by its scene's again."""
        self._store.get(render_id)
        self._store.change(render_id, name=name)
        self._tell(render_id, None)
        return self._store.get(render_id)

    def again(self, render_id: str, *, gaps: Gaps | None = None) -> RenderRecord:
        """Makes a render that failed, was cancelled or interrupted wait once more, with the same
        document; ``gaps`` other than before where given."""
        settings = None
        if gaps is not None:
            settings = {**self._store.get(render_id).settings, "gaps": gaps}
        if not self._store.put_back(render_id, settings):
            raise DocumentError("this render has not ended without a result", field="render")
        self._tell(render_id, None)
        self._wake.set()
        return self._store.get(render_id)

    def remove(self, render_id: str) -> None:
        """Takes an ended render off the list and deletes its file."""
        record = self._store.get(render_id)
        if record.status not in ENDED:
            raise DocumentError("cancel the render before removing it", field="render")
        for path in self.result_paths(record).values():
            path.unlink(missing_ok=True)
        self.poster_path(render_id).unlink(missing_ok=True)
        self._store.change(render_id, hidden=True)

    def poster_path(self, render_id: str) -> Path:
        """Where the small picture of a render lies, if there is one."""
        return self._renders_dir / f"{render_id}.{POSTER}"

    def file_stem(self, record: RenderRecord) -> str:
        """What the files of a render are called, without their endings: by the name that a person
        has given it, or by the pattern of its settings."""
        project = load_project(json.loads(self._store.document(record.id)))
        scene = SceneEvaluator(project, record.scene_id).scene
        size = (record.width, record.height)
        settings = RenderSettings.model_validate(record.settings)
        if own := slug(record.name):
            settings = settings.model_copy(update={"name": own})
        return file_stem(settings, Named(project, scene, size, record.created_at.date()))

    def result_paths(self, record: RenderRecord) -> dict[str, Path]:
        """Where the files of a render lie, by their formats; those that are there."""
        if not record.file:
            return {}
        settings = RenderSettings.model_validate(record.settings)
        paths = self._targets(record.id, settings)
        return {format: path for format, path in paths.items() if path.is_file()}

    def _targets(self, render_id: str, settings: RenderSettings) -> dict[str, Path]:
        return {
            format: self._renders_dir / f"{render_id}.{ending_of(format)}"
            for format in settings.formats
        }

    def _turn(self) -> None:
        """One render, or a while of waiting for one."""
        self._save_what_is_not()
        render_id = self._store.next_waiting()
        if render_id is None:
            self._wake.wait(timeout=2.0)
            self._wake.clear()
        elif self._store.claim(render_id):
            guarded(
                f"render {render_id}",
                lambda: self._run(render_id),
                lambda error: self._end(
                    render_id, status="failed", message=f"Unexpected error: {_named(error)}"
                ),
            )

    def _save_what_is_not(self) -> None:
        for render_id, values in list(self._unsaved.items()):
            self._store.change(render_id, **values)
            del self._unsaved[render_id]
            self._tell(render_id, 0.0)

    def _end(self, render_id: str, **values: Any) -> None:
        """Writes down how a render has ended; where that fails it is tried again later."""
        self._cancelled.discard(render_id)
        self._unsaved[render_id] = values
        guarded(f"writing down the end of render {render_id}", self._save_what_is_not)

    def _run(self, render_id: str) -> None:
        record = self._store.get(render_id)
        settings = RenderSettings.model_validate(record.settings)
        first: tuple[float, int] | None = None
        last_told = 0.0

        def progress(done: int, total: int) -> None:
            nonlocal first, last_told
            now = time.monotonic()
            first = first or (now, done)
            if now - last_told < 0.2 and done < total:
                return
            last_told = now
            # How far it is may be lost: the render itself goes on.
            guarded(
                "writing down how far a render is",
                lambda: self._store.change(render_id, done=done, total=total),
            )
            # The rate since the first report: the start of the processes does not count.
            since, before = first
            left = (now - since) / (done - before) * (total - done) if done > before else None
            self._tell(render_id, left)

        self._tell(render_id, None)
        try:
            project = check_project(load_project(json.loads(self._store.document(render_id))))
            result = render_scene(
                project,
                record.scene_id,
                settings,
                self._targets(render_id, settings),
                self._assets_dir,
                engine=self._engine,
                limits=self._limits,
                progress=progress,
                cancelled=lambda: self._worker.stopping.is_set() or render_id in self._cancelled,
                poster=self.poster_path(render_id),
            )
        except RenderCancelled:
            if render_id in self._cancelled:
                self._end(render_id, status="cancelled", message="Cancelled.")
            else:  # nobody asked for that: the program is being stopped
                self._end(render_id, status="interrupted", done=0, message=INTERRUPTED)
        except YoungCometError as error:
            self._end(render_id, status="failed", message=_sentence(error))
        else:
            self._finish(render_id, settings, result)

    def _finish(self, render_id: str, settings: RenderSettings, result: RenderResult) -> None:
        sizes = [path.stat().st_size for path in self._targets(render_id, settings).values()]
        self._end(
            render_id, status="done", done=result.frames, total=result.frames,
            file=result.path.name, message=result.notice, width=result.width,
            height=result.height, size_bytes=sum(sizes), seconds=result.seconds,
        )  # fmt: skip

    def _tell(self, render_id: str, left_s: float | None) -> None:
        guarded("telling how far a render is", lambda: self._tell_all(render_id, left_s))

    def _tell_all(self, render_id: str, left_s: float | None) -> None:
        record = self._store.get(render_id)
        for listener in self._listeners:
            listener(record, left_s)


def _named(error: Exception) -> str:
    return f"{type(error).__name__}: {error}"


def _sentence(error: Exception) -> str:
    text = str(error)
    return text[:1].upper() + text[1:]
