"""What the routes work with, made once for an application."""

from __future__ import annotations

import asyncio
import threading
from typing import Any

from fastapi import Request

from ..children import end_children
from ..config import Config
from ..core.export import FORMATS, RenderSettings
from ..core.paint import shared_out
from ..core.typography import FontLibrary
from ..jobs import LocalProcesses, PreviewPool, RenderQueue, Worker, guarded
from ..reading import reader, stop_readers
from ..store import Change, DataFolder, RenderRecord
from .frames import FrameService
from .messages import Edited, RenderMoved, Told
from .sounds import SoundService

# Helpers are started at the latest so long after the program.
HELPERS_WAIT_S = 4.0
# How often idle projects are looked for.
KEEP_TIDY_S = 20.0


class Hub:
    """Tells every open page of a project what happened. Callable from any thread."""

    def __init__(self) -> None:
        self._queues: dict[int, tuple[str, asyncio.Queue[Any]]] = {}
        self._loop: asyncio.AbstractEventLoop | None = None
        self._next = 0

    def attach(self, loop: asyncio.AbstractEventLoop) -> None:
        """Takes the loop that connections live in."""
        self._loop = loop

    def join(self, project_id: str) -> tuple[int, asyncio.Queue[Any]]:
        """A connection's number and the queue of messages to send to it ("" hears renders)."""
        self._next += 1
        queue: asyncio.Queue[Any] = asyncio.Queue()
        self._queues[self._next] = (project_id, queue)
        return self._next, queue

    def listens(self, project_id: str) -> bool:
        """Whether any page of a project is open."""
        return any(project == project_id for project, _ in self._queues.values())

    def leave(self, connection: int) -> None:
        """A page listens no more."""
        self._queues.pop(connection, None)

    def send(self, connection: int, message: Told | bytes) -> None:
        """Tells a page something."""
        if self._loop is not None and connection in self._queues:
            queue = self._queues[connection][1]
            self._loop.call_soon_threadsafe(queue.put_nowait, message)

    def publish(self, project_id: str | None, message: Told) -> None:
        """To all pages of a project, or to all pages (None)."""
        for connection, (project, _) in list(self._queues.items()):
            if project_id is None or project == project_id:
                self.send(connection, message)


class Services:
    """The opened data folder with its workers."""

    def __init__(self, config: Config, folder: DataFolder | None = None) -> None:
        self.config = config
        self.folder = folder or DataFolder(config)
        self.workspace = self.folder.workspace
        self.assets = self.folder.assets
        # Of the list of typefaces; what is drawn has a library of its own.
        self.fonts = FontLibrary(self.assets.read_asset)
        limits = shared_out(config.memory_mb, config.processes)
        pool = None
        if config.preview_processes:
            pool = PreviewPool(self.folder.assets_dir, config.preview_processes, limits)
        self.frames = FrameService(self.folder.assets, limits, pool)
        self.queue = RenderQueue(
            self.folder.renders,
            self.folder.renders_dir,
            self.folder.assets_dir,
            LocalProcesses(config.render_processes),
            limits,
        )
        self.sounds = SoundService(self.workspace, self.folder.assets)
        self.hub = Hub()
        self.queue.listen(self._render_moved)
        # Told under the project's own lock, so that pages hear of changes in their order.
        self.workspace.listen(self._changed)
        self._keeper = Worker("keeper", self._keep_tidy, lambda: None)

    def start(self) -> None:
        """Begins all threads and processes."""
        self.hub.attach(asyncio.get_running_loop())
        self.frames.start()
        self.queue.start()
        self._keeper.start()
        threading.Thread(target=self._start_helpers, name="helpers", daemon=True).start()

    def _start_helpers(self) -> None:
        """Processes that will be wanted, started once the first page has had its first picture:
        until then all of the machine is at work on that."""
        self.frames.drawn_once.wait(timeout=HELPERS_WAIT_S)
        if self._keeper.stopping.is_set():
            return
        for purpose in ("drawing", "reading"):
            guarded("starting a reader", reader(purpose).start)
        self.frames.start_helpers()

    def stop(self) -> None:
        """Ends everything within some seconds, whatever it is at."""
        self._keeper.stop(timeout_s=0)
        for what, stop in (("frames", self.frames.stop), ("renders", self.queue.stop)):
            guarded(f"stopping the {what}", stop)
        end_children()
        stop_readers()
        self.folder.close()

    def _keep_tidy(self) -> None:
        """Now and then: checkpoints are written, projects that nobody looks at are closed."""
        if not self._keeper.stopping.wait(KEEP_TIDY_S):
            self.workspace.close_idle()
            self.folder.thumbnails.prune()

    def _changed(self, project_id: str, change: Change) -> None:
        self.hub.publish(project_id, edited(change))

    def _render_moved(self, record: RenderRecord, left_s: float | None) -> None:
        self.hub.publish(None, RenderMoved(render=render_json(record, left_s)))


def edited(change: Change) -> Edited:
    """What pages are told of a change, and who made it is answered."""
    state = change.state
    return Edited.model_construct(
        revision=change.revision,
        patch=change.patch,
        label=change.label,
        undo_label=state.undo_label,
        redo_label=state.redo_label,
    )


def render_json(record: RenderRecord, left_s: float | None = None) -> dict[str, Any]:
    """A render as pages read it."""
    return {
        "id": record.id,
        "project_id": record.project_id,
        "project_name": record.project_name,
        "scene_id": record.scene_id,
        "scene_name": record.scene_name,
        "name": record.name,
        "settings": record.settings,
        "status": record.status,
        "done": record.done,
        "total": record.total,
        "left_s": left_s,
        "message": record.message,
        "width": record.width,
        "height": record.height,
        "size_bytes": record.size_bytes,
        "seconds": record.seconds,
        "created_at": record.created_at.isoformat() + "Z",
        "file_url": f"/api/renders/{record.id}/file" if record.file else None,
        "poster_url": f"/api/renders/{record.id}/poster" if record.file else None,
        "files": _files(record),
    }


def _files(record: RenderRecord) -> list[dict[str, Any]]:
    """The files of a render that has ended well, with what a page needs to show them."""
    if not record.file:
        return []
    settings = RenderSettings.model_validate(record.settings)
    return [
        {**FORMATS[each].facts(), "url": f"/api/renders/{record.id}/file?format={each}"}
        for each in settings.formats
    ]


def get_services(request: Request) -> Services:
    """The services of the running application."""
    services: Services = request.app.state.services
    return services
