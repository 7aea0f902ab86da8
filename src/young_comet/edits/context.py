"""The picture as operations may ask for it."""

from __future__ import annotations

from ..core.geometry.affine import Box
from ..core.geometry.outline import Outline
from ..core.model import Project
from ..core.paint import MediaLibrary
from ..core.resolve import SceneEvaluator
from ..core.views import layer_bounds
from ..core.views.pick import seen_box
from .base import find_layer


class PictureContext:
    """EditContext on top of the renderer's own measures."""

    def __init__(self, library: MediaLibrary) -> None:
        self._library = library

    def evaluator(self, project: Project, scene_id: str) -> SceneEvaluator:
        """What evaluates a scene, with the library's typefaces."""
        return SceneEvaluator(project, scene_id, library=self._library)

    def bounds(self, project: Project, scene_id: str, layer_id: str, time_s: float) -> Box | None:
        """The upright box of a layer's content in the scene."""
        evaluator = SceneEvaluator(project, scene_id, library=self._library)
        layer = find_layer(evaluator.scene, layer_id)
        return layer_bounds(evaluator, self._library, layer, time_s)

    def seen(self, project: Project, scene_id: str, layer_id: str, time_s: float) -> Box | None:
        """The upright box of what is seen of a layer."""
        evaluator = SceneEvaluator(project, scene_id, library=self._library)
        return seen_box(evaluator, self._library, find_layer(evaluator.scene, layer_id), time_s)

    def box(self, project: Project, scene_id: str, layer_id: str, time_s: float) -> Box | None:
        """The box of a layer's content in its own space."""
        evaluator = SceneEvaluator(project, scene_id, library=self._library)
        resolved = evaluator.layer(find_layer(evaluator.scene, layer_id), time_s, shutter=False)
        return resolved.content.box(self._library) if resolved else None

    def outline(
        self, project: Project, scene_id: str, layer_id: str, time_s: float
    ) -> Outline | None:
        """The outline of a layer's content in its own space."""
        evaluator = SceneEvaluator(project, scene_id, library=self._library)
        resolved = evaluator.layer(find_layer(evaluator.scene, layer_id), time_s, shutter=False)
        return resolved.content.outline(self._library) if resolved else None
