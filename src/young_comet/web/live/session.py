"""One open page: what it has asked for, handled by the frame thread."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from pydantic import ValidationError

from ...errors import YoungCometError
from ...jobs import guarded
from ..frames import RenderKit
from ..messages import ASKED, CancelMatch, Compare, Fill, FindMatch, Forget, Problem, Stage, Told
from ..services import Services
from .matching import search
from .playback import Playback
from .stage import StageDesk


class LiveSession:
    """A page's session. All of its state belongs to the frame thread: ``receive``, which the
    event loop calls, reads a message and hands it on."""

    def __init__(
        self,
        services: Services,
        project_id: str,
        scene_id: str,
        number: int,
        waiting: Callable[[], int],
    ) -> None:
        self._services, self._number = services, number
        self._project_id, self._scene_id = project_id, scene_id
        workspace, frames = services.workspace, services.frames
        self._desk = StageDesk(workspace, project_id, scene_id)
        self._playback = Playback(workspace, frames, project_id, scene_id, self.tell, waiting)

    def receive(self, text: str) -> None:
        """Takes one message; a wrong one is answered with an error. Never raises."""
        if not guarded("a message of a page", lambda: self._take(text)):
            self.tell(Problem(message="the message could not be handled"))

    def tell(self, message: Told | bytes) -> None:
        """Sends a message to the page; from any thread."""
        self._services.hub.send(self._number, message)

    def _take(self, text: str) -> None:
        try:
            asked = ASKED.validate_json(text)
        except ValidationError as error:
            first = error.errors(include_url=False)[0]
            field = ".".join(str(part) for part in first["loc"])
            self.tell(Problem(message=f"{field}: {first['msg']}"))
            return
        HANDLERS[type(asked)](self, asked)

    def _stage(self, asked: Stage) -> None:
        draw = self._answered(asked.id, lambda kit: self._desk.show(kit, asked))
        self._services.frames.stage(self._number, draw)

    def _compare(self, asked: Compare) -> None:
        draw = self._answered(asked.id, lambda kit: self._desk.compare(kit, asked))
        self._services.frames.stage(-self._number, draw)

    def _fill(self, asked: Fill) -> None:
        self._services.frames.fill(self._number, lambda kit: self._playback.fill(kit, asked))

    def _forget(self, asked: Forget) -> None:
        self._services.frames.later(lambda kit: self._playback.forget(asked.signatures))

    def _match(self, asked: FindMatch) -> None:
        workspace = self._services.workspace

        def steps(kit: RenderKit) -> Any:
            project = lambda: workspace.state(self._project_id).project  # noqa: E731
            return search(project, self._scene_id, kit, asked, self.tell)

        self._services.frames.fill(("match", self._number), steps)

    def _cancel_match(self, asked: CancelMatch) -> None:
        self._services.frames.drop(("match", self._number))

    def _answered(self, id: int, draw: Callable[[RenderKit], bytes]) -> Callable[[RenderKit], None]:
        """A task that sends what a drawing function gives, or what went wrong."""

        def task(kit: RenderKit) -> None:
            try:
                self.tell(draw(kit))
            except YoungCometError as error:
                self.tell(Problem(id=id, message=str(error)))
            except Exception as error:
                text = f"the frame could not be drawn ({type(error).__name__}: {error})"
                self.tell(Problem(id=id, message=text))
                raise  # the worker's loop logs it

        return task


HANDLERS: dict[type[Any], Callable[[LiveSession, Any], None]] = {
    Stage: LiveSession._stage,
    Compare: LiveSession._compare,
    Fill: LiveSession._fill,
    Forget: LiveSession._forget,
    FindMatch: LiveSession._match,
    CancelMatch: LiveSession._cancel_match,
}
