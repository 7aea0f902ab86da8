"""What of a scene is seen while it is worked on: all of it, some of its layers alone, or some of
them with the others faint. Nothing of this is in the document, and renders do not know of it."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

import numpy as np

from ..frame import ResolvedFrame
from ..model import Layer, Project
from ..paint import Renderer
from ..pixels.blend import blend_towards
from ..resolve import SceneEvaluator

# How much of the others is left where they are faint, of 255.
FAINT = 64


@dataclass(frozen=True)
class Seen:
    """Which layers are seen (none named: all), and whether the others are faint instead of away."""

    only: tuple[str, ...] = ()
    dims: bool = False


def with_only(project: Project, scene_id: str, only: tuple[str, ...]) -> Project:
    """The project with all other layers of a scene hidden. They still carry, and are mattes, fills
    and what others are tied to; those named are shown though they may be hidden."""
    wanted = frozenset(only)

    def shown(layers: Iterable[Layer]) -> tuple[Layer, ...]:
        return tuple(
            layer
            if layer.hidden == (layer.id not in wanted)
            else layer.model_copy(update={"hidden": layer.id not in wanted})
            for layer in layers
        )

    scenes = tuple(
        scene.model_copy(update={"layers": shown(scene.layers)}) if scene.id == scene_id else scene
        for scene in project.scenes
    )
    return project.model_copy(update={"scenes": scenes})


class SeenFrame:
    """One frame as it is seen: alone, or over the whole frame that is faint."""

    def __init__(self, frame: ResolvedFrame, behind: ResolvedFrame | None = None) -> None:
        self.frame, self._behind = frame, behind
        self.signature = frame.signature
        if behind is not None:
            self.signature = f"{frame.signature}~{behind.signature}"

    def draw(self, renderer: Renderer, width: int, height: int) -> np.ndarray:
        """Premultiplied pixels (height, width, 4) of 8 bits. Faults are those of the last draw."""
        pixels = renderer.render(self.frame, width, height)
        if self._behind is None:
            return pixels
        alone = pixels.copy()
        whole = renderer.render(self._behind, width, height)
        blend_towards(alone, whole, np.full(alone.shape[:2], FAINT, np.uint8))
        return alone


class SeenScene:
    """A scene's frames as they are seen. ``make`` gives the evaluator of a changed project."""

    def __init__(
        self, seen: Seen, evaluator: SceneEvaluator, make: Callable[[Project], SceneEvaluator]
    ) -> None:
        self._whole = evaluator
        # Layers that are no more are seen by nobody: where none is left, all are.
        there = {layer.id for layer in evaluator.scene.layers}
        only = tuple(each for each in seen.only if each in there)
        self._alone: SceneEvaluator | None = None
        self._dims = seen.dims
        if only:
            self._alone = make(with_only(evaluator.project, evaluator.scene.id, only))

    def frame(self, number: int, *, bare: dict[str, str] | None = None) -> SeenFrame:
        """A frame; ``bare`` as ``SceneEvaluator.frame`` has it."""
        whole = self._whole
        if self._alone is None:
            return SeenFrame(whole.frame(number, bare=bare or {}))
        behind = whole.frame(number, bare=bare or {}) if self._dims else None
        return SeenFrame(self._alone.frame(number, bare=bare or {}), behind)
