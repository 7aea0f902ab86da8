"""The frames that a page keeps for playing."""

from __future__ import annotations

import time
from collections import deque
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass

from ...core.export import encode_preview
from ...core.resolve import SceneEvaluator
from ...core.views import SeenFrame, SeenScene
from ...errors import NotFoundError
from ...jobs.previews import WITH_GAPS, Drawn, shown_signature
from ...store import Workspace
from ..frames import FrameService, RenderKit
from ..messages import Fill, Filled, FrameShown, Told, pack
from .stage import preview_size, seen_of, seen_scene

# JPEGs that may wait in a connection's queue before filling pauses.
MAX_WAITING = 12

# Packs pictures while the next one is drawn. There is one such thread, so that messages go out in
# their order; it is given finished messages and keeps nothing.
_PACKING = ThreadPoolExecutor(1, thread_name_prefix="packing")


@dataclass
class _Coming:
    """A frame that a page waits for; ``known`` ones are only named."""

    shown: FrameShown
    size: tuple[int, int]
    height: int
    seen: SeenScene
    known: bool = False
    frame: SeenFrame | None = None
    picture: Future[Drawn] | None = None

    @property
    def is_there(self) -> bool:
        return self.picture is None or self.picture.done()


class Playback:
    """Which pictures one page has, and the next ones for it. Used by the frame thread only."""

    def __init__(
        self,
        workspace: Workspace,
        frames: FrameService,
        project_id: str,
        scene_id: str,
        tell: Callable[[Told | bytes], None],
        waiting: Callable[[], int],
    ) -> None:
        self._workspace, self._frames = workspace, frames
        self._project_id, self._scene_id = project_id, scene_id
        self._tell, self._waiting = tell, waiting
        # What the page has, by signature and height, and which frames it has been sent.
        self._sent: set[tuple[str, int]] = set()
        self._numbers: set[tuple[int, int]] = set()
        self._packed: Future[None] = _PACKING.submit(lambda: None)

    def forget(self, signatures: list[str]) -> None:
        """The page keeps these no more."""
        gone = set(signatures)
        self._sent = {entry for entry in self._sent if entry[0] not in gone}

    def fill(self, kit: RenderKit, request: Fill) -> Iterator[None]:
        """Sends one frame after another; if that fails, the page is told."""
        try:
            yield from self._filling(kit, request)
        except Exception as error:
            why = f"playback could not be prepared ({type(error).__name__}: {error})"
            self._tell(Filled(id=request.id, error=why))
            raise

    def _filling(self, kit: RenderKit, request: Fill) -> Iterator[None]:
        """Sends one frame after another, with the project as it is at that moment. They are
        drawn by processes side by side where there are some, else one a step."""
        pool = self._frames.pool
        wide = pool.wide if pool is not None else 1
        waiting: deque[_Coming] = deque()
        offset = 0
        evaluator: SceneEvaluator | None = None
        seen: SeenScene | None = None
        try:
            while offset < request.count or waiting:
                while waiting and waiting[0].is_there:
                    self._deliver(waiting.popleft(), kit)
                # A slow page is not flooded, and a stage that is worked on comes first.
                held = self._waiting() > MAX_WAITING or (
                    pool is not None and self._frames.busy_with_stage
                )
                if offset >= request.count or len(waiting) >= wide or held:
                    yield
                    _rest()
                    continue
                try:
                    state = self._workspace.state(self._project_id)
                    if evaluator is None or state.project is not evaluator.project:
                        evaluator = SceneEvaluator(
                            state.project, self._scene_id, kit.tracks, kit.library
                        )
                        seen = seen_scene(kit, evaluator, request)
                except NotFoundError:
                    return
                assert seen is not None
                waiting.append(self._coming(evaluator, seen, state.revision, request, offset))
                offset += 1
                yield
        finally:
            for each in waiting:
                if each.picture is not None:
                    each.picture.cancel()
        _PACKING.submit(self._tell, Filled(id=request.id))

    def _coming(
        self,
        evaluator: SceneEvaluator,
        seen: SeenScene,
        revision: int,
        request: Fill,
        offset: int,
    ) -> _Coming:
        """A frame of a fill, asked for where the page lacks it."""
        scene = evaluator.scene
        start_s, end_s = scene.working_range
        first, end = evaluator.rate.nearest_frame(start_s), evaluator.rate.nearest_frame(end_s)
        number = first + (request.first - first + offset) % max(1, end - first)
        number = min(number, scene.frame_count - 1)
        size = preview_size(scene, request.height)
        pool = self._frames.pool
        shown = FrameShown(id=request.id, frame=number)
        coming = _Coming(shown, size, request.height, seen)
        # A frame that was sent before may look as it did: only then is it looked at here.
        if pool is None or (number, request.height) in self._numbers:
            coming.frame = seen.frame(number)
            shown.signature = coming.frame.signature
            coming.known = (coming.frame.signature, request.height) in self._sent
        if pool is not None and not coming.known:
            key = f"{self._project_id}:{revision}:{id(evaluator.project)}"
            coming.picture = pool.frame(
                evaluator.project, key, scene.id, number, size, offset, seen_of(request)
            )
        return coming

    def _deliver(self, coming: _Coming, kit: RenderKit) -> None:
        """Sends a frame in its turn; one that its process lost is drawn here."""
        shown = coming.shown
        if coming.known:
            _PACKING.submit(self._tell, shown)
            return
        drawn = coming.picture is not None and not coming.picture.cancelled()
        if drawn and coming.picture is not None and coming.picture.exception() is None:
            shown.signature, data = coming.picture.result()
            entry = (shown.signature, coming.height)
            # A hold: the page has the same picture already under another number.
            _PACKING.submit(self._tell, shown if entry in self._sent else pack(shown, data))
        else:
            frame = coming.frame or coming.seen.frame(shown.frame)
            pixels = frame.draw(kit.stage, *coming.size)
            shown.signature = shown_signature(frame, kit.stage)
            entry = (shown.signature, coming.height)
            self._packed.result()  # not more than one picture ahead
            self._packed = _PACKING.submit(lambda: self._tell(pack(shown, encode_preview(pixels))))
        if not entry[0].endswith(WITH_GAPS):  # that is drawn again: the gap may be mended
            self._sent.add(entry)
        self._numbers.add((shown.frame, coming.height))


def _rest() -> None:
    """Leaves the thread to others for a moment."""
    time.sleep(0.003)
