"""Operations that work out places: align, distribute, move the pivot."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from ..core.catalog import layer_kind, parts_of
from ..core.geometry.affine import Box
from ..core.model import Layer, Project, Property, Scene
from ..core.model.document import Id
from ..core.render import SceneEvaluator
from ..errors import DocumentError
from .base import EditContext, LayerIds, SceneEdit, SceneTime, find_layer, names_of, with_properties
from .value_edits import SetValues, ValueTarget

Edge = Literal["left", "centre", "right", "top", "middle", "bottom"]


class AlignLayers(SceneEdit):
    """Moves layers: an edge or middle of their boxes meets the frame's or the selection's."""

    kind: Literal["align-layers"] = "align-layers"
    layers: LayerIds
    edge: Edge
    to: Literal["frame", "selection"] = "frame"
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        boxes = _boxes(project, scene, self.layers, self.time_s, context)
        target: Box = (0.0, 0.0, float(scene.width), float(scene.height))
        if self.to == "selection":
            target = _around(list(boxes.values()))
        axis, goal = _edge(target, self.edge)
        shifts = {}
        for layer_id, box in boxes.items():
            by = goal - _edge(box, self.edge)[1]
            shifts[layer_id] = (by, 0.0) if axis == 0 else (0.0, by)
        return _shift(project, scene, shifts, self.time_s, context)

    def label(self, project: Project) -> str:
        return f"Align {names_of(project, self.scene, self.layers)}: {self.edge}"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers, "/properties")


class DistributeLayers(SceneEdit):
    """Equal gaps between three or more layers; the outermost two stay."""

    kind: Literal["distribute-layers"] = "distribute-layers"
    layers: Annotated[list[Id], Field(min_length=3, max_length=2000)]
    axis: Literal["x", "y"]
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        i = 0 if self.axis == "x" else 1
        boxes = _boxes(project, scene, self.layers, self.time_s, context)
        order = sorted(boxes, key=lambda layer: boxes[layer][i] + boxes[layer][i + 2])
        sizes = [boxes[layer][i + 2] - boxes[layer][i] for layer in order]
        begin, end = boxes[order[0]][i], boxes[order[-1]][i + 2]
        gap = (end - begin - sum(sizes)) / (len(order) - 1)
        shifts, at = {}, begin
        for layer, size in zip(order, sizes, strict=True):
            by = at - boxes[layer][i]
            shifts[layer] = (by, 0.0) if i == 0 else (0.0, by)
            at += size + gap
        return _shift(project, scene, shifts, self.time_s, context)

    def label(self, project: Project) -> str:
        return f"Distribute {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers, "/properties")


class MovePivot(SceneEdit):
    """A new pivot while the picture stays put: positions, keyed or not, are moved to match."""

    kind: Literal["move-pivot"] = "move-pivot"
    layer: Id
    pivot: tuple[float, float]
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = find_layer(scene, self.layer)
        if not layer_kind(layer.kind).placed:
            raise DocumentError(f"{layer.name!r} has no pivot", field="layer")
        if layer.properties.get("pivot", Property()).keys:
            pivot = ValueTarget(layer=layer.id, property="pivot", value=self.pivot)
            edit = SetValues(scene=scene.id, targets=[pivot], time_s=self.time_s)
            return edit.change(project, scene, context)
        evaluator = SceneEvaluator(project, scene.id)

        def landing(at_s: float) -> tuple[float, float]:
            return evaluator.matrix(evaluator.values(layer, at_s))(self.pivot)

        properties = {**layer.properties, "pivot": Property(value=self.pivot)}
        for index, name in enumerate(parts_of(layer, "position") or ("position",)):
            old = layer.properties.get(name, Property())

            def part(at_s: float, index: int = index, whole: bool = name == "position") -> Any:
                place = landing(at_s)
                return place if whole else place[index]

            if old.keys:
                properties[name] = old.with_keys(
                    key.model_copy(update={"value": part(layer.start_s + key.time_s)})
                    for key in old.keys
                )
            else:
                properties[name] = Property(value=part(self.time_s))
        return with_properties(scene, layer, properties)

    def label(self, project: Project) -> str:
        return f"Move the pivot of {names_of(project, self.scene, [self.layer])}"

    def touches(self) -> list[str]:
        return self.layer_paths([self.layer], "/properties")


def _boxes(
    project: Project, scene: Scene, layers: list[str], time_s: float, context: EditContext
) -> dict[str, Box]:
    boxes = {}
    for layer_id in layers:
        layer = find_layer(scene, layer_id)
        if not layer_kind(layer.kind).placed:
            continue
        box = context.bounds(project, scene.id, layer_id, time_s)
        if box is not None:
            boxes[layer_id] = box
    if not boxes:
        raise DocumentError("none of these layers has a place", field="layers")
    return boxes


def _around(boxes: list[Box]) -> Box:
    return (
        min(b[0] for b in boxes), min(b[1] for b in boxes),
        max(b[2] for b in boxes), max(b[3] for b in boxes),
    )  # fmt: skip


def _edge(box: Box, edge: Edge) -> tuple[int, float]:
    """Axis (0: x, 1: y) and coordinate of an edge or middle."""
    left, top, right, bottom = box
    return {
        "left": (0, left), "centre": (0, (left + right) / 2), "right": (0, right),
        "top": (1, top), "middle": (1, (top + bottom) / 2), "bottom": (1, bottom),
    }[edge]  # fmt: skip


def _shift(
    project: Project,
    scene: Scene,
    shifts: dict[str, tuple[float, float]],
    time_s: float,
    context: EditContext,
) -> Scene:
    """Positions moved at a time, by way of the operation that sets values and keys."""
    evaluator = SceneEvaluator(project, scene.id)
    targets = []
    for layer_id, (dx, dy) in shifts.items():
        layer: Layer = find_layer(scene, layer_id)
        x, y = evaluator.values(layer, time_s)("position")
        if abs(dx) + abs(dy) > 1e-9:
            targets.append(ValueTarget(layer=layer_id, property="position", value=(x + dx, y + dy)))
    if not targets:
        return scene
    edit = SetValues(scene=scene.id, targets=targets, time_s=time_s)
    return edit.change(project, scene, context)
