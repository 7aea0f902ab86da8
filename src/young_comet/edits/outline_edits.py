"""Operations that give a path a whole outline: another layer's, or one that was drawn."""

from __future__ import annotations

from typing import Literal

from ..core.catalog import MASKS
from ..core.geometry import Affine
from ..core.geometry.contours import contours_of, write_contours
from ..core.geometry.morph import best_start
from ..core.geometry.outline import Outline
from ..core.model import Layer, Project, Scene
from ..core.model.values import Id
from ..core.resolve import SceneEvaluator
from ..errors import DocumentError
from .base import EditContext, SceneEdit, SceneTime, find_layer, names_of
from .drawn import Drawn
from .mask_edits import as_mask_path, into_layer
from .shape_edits import layer_of_path, with_path


def lying(
    evaluator: SceneEvaluator, outline: Outline, layer: Layer, property_id: str, time_s: float
) -> Outline:
    """An outline in the scene as a path of a layer has to be to lie there at a time."""
    if MASKS.holds(property_id):
        mask = MASKS.find(layer, property_id.split(".")[1])
        return as_mask_path(evaluator, layer, mask, time_s, outline)
    return into_layer(evaluator, outline, layer, time_s)


class TakeShape(SceneEdit):
    """A path takes over the outline of another layer at a time: a key of a shape that is to be
    morphed, or a still path. Its first point is the one that fits the path so far best.

    The outline stands in the layer's space as it does in its own, or ``in_place`` where the other
    layer lies on the stage then."""

    kind: Literal["take-shape"] = "take-shape"
    layer: Id
    property: str
    source: Id
    in_place: bool = False
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = layer_of_path(scene, self.layer, self.property)
        source = find_layer(scene, self.source)
        if layer.id == source.id:
            raise DocumentError("expected another layer", field="source")
        outline = context.outline(project, scene.id, source.id, self.time_s)
        if outline is None or outline.is_empty:
            raise DocumentError(f"{source.name!r} has no outline", field="source")
        evaluator = SceneEvaluator(project, scene.id)
        if self.in_place:
            there = evaluator.place_of(source.id, self.time_s) or Affine()
            outline = lying(evaluator, outline.mapped(there), layer, self.property, self.time_s)
        now = evaluator.values(layer, self.time_s)(self.property)
        path = write_contours(contours_of(outline))
        path = best_start(now, path) if now else path
        return with_path(project, scene, layer, self.property, path, self.time_s)

    def label(self, project: Project) -> str:
        who = names_of(project, self.scene, [self.layer])
        return f"Shape {who} as {names_of(project, self.scene, [self.source])}"

    def touches(self) -> list[str]:
        return self.layer_paths([self.layer], f"/properties/{self.property}")


class DrawPath(SceneEdit):
    """What was drawn on the stage becomes a path where it lies at a time; or a stroke more of it
    (``adds``)."""

    kind: Literal["draw-path"] = "draw-path"
    layer: Id
    property: str
    drawn: Drawn
    adds: bool = False
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = layer_of_path(scene, self.layer, self.property)
        evaluator = SceneEvaluator(project, scene.id)
        outline = lying(evaluator, self.drawn.outline(), layer, self.property, self.time_s)
        path = write_contours(contours_of(outline))
        if self.adds and self.property in layer.properties:
            path = f"{evaluator.values(layer, self.time_s)(self.property)} {path}".strip()
        return with_path(project, scene, layer, self.property, path, self.time_s)

    def label(self, project: Project) -> str:
        return f"Draw a path of {names_of(project, self.scene, [self.layer])}"

    def touches(self) -> list[str]:
        return self.layer_paths([self.layer], f"/properties/{self.property}")
