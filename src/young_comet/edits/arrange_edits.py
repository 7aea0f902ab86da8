"""Operations that work out places: align, distribute, move the pivot."""

from __future__ import annotations

import math
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from ..core.catalog import check_links, layer_kind, parts_of
from ..core.geometry.affine import Affine, Box, Point
from ..core.model import Layer, Project, Property, Scene
from ..core.model.values import Id
from ..core.resolve import SceneEvaluator
from ..errors import DocumentError
from .base import (
    EditContext,
    LayerIds,
    Place,
    SceneEdit,
    SceneTime,
    find_layer,
    names_of,
    with_properties,
    with_scene,
    with_this,
)
from .transform_edits import on_box
from .value_edits import SetValues, ValueTarget

Edge = Literal["left", "centre", "right", "top", "middle", "bottom"]


class AlignLayers(SceneEdit):
    """Moves layers: an edge or middle of their boxes meets the frame's, the selection's, or that of
    the first of them, which stays. They move ``as_one`` where their places beside each other are
    to stay. ``by`` "seen" goes by what is seen of them (masks and effects included, letters by
    their ink) instead of the boxes of their contents."""

    kind: Literal["align-layers"] = "align-layers"
    layers: LayerIds
    edge: Edge
    to: Literal["frame", "selection", "first"] = "frame"
    as_one: bool = False
    by: Literal["box", "seen"] = "box"
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        boxes = _boxes(project, scene, self.layers, self.time_s, context, self.by)
        target: Box = (0.0, 0.0, float(scene.width), float(scene.height))
        if self.to == "selection":
            target = _around(list(boxes.values()))
        if self.to == "first":
            target = boxes.pop(next(iter(boxes)))
            if not boxes:
                raise DocumentError("choose more than one layer", field="layers")
        whole = _around(list(boxes.values()))
        axis, goal = _edge(target, self.edge)
        shifts = {}
        for layer_id, box in boxes.items():
            by = goal - _edge(whole if self.as_one else box, self.edge)[1]
            shifts[layer_id] = (by, 0.0) if axis == 0 else (0.0, by)
        return _shift(project, scene, shifts, self.time_s, context)

    def label(self, project: Project) -> str:
        return f"Align {names_of(project, self.scene, self.layers)}: {self.edge}"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers, "/properties")


class DistributeLayers(SceneEdit):
    """Equal gaps between three or more layers; the outermost two stay. With ``as_one`` what lies in
    one group, or rides on another of them, counts as one and moves as one. ``by`` "seen" goes by
    what is seen, as for aligning."""

    kind: Literal["distribute-layers"] = "distribute-layers"
    layers: Annotated[list[Id], Field(min_length=3, max_length=2000)]
    axis: Literal["x", "y"]
    as_one: bool = False
    by: Literal["box", "seen"] = "box"
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        if len(set(self.layers)) < 3:
            raise DocumentError.expected("layers", "three or more different layers", self.layers)
        i = 0 if self.axis == "x" else 1
        boxes = _boxes(project, scene, self.layers, self.time_s, context, self.by)
        units = _units(scene, list(boxes)) if self.as_one else [[layer] for layer in boxes]
        around = [_around([boxes[layer] for layer in unit]) for unit in units]
        if len(units) < 3:
            raise DocumentError.expected("layers", "three or more that count as one", len(units))
        order = sorted(range(len(units)), key=lambda n: around[n][i] + around[n][i + 2])
        sizes = [around[n][i + 2] - around[n][i] for n in order]
        begin, end = around[order[0]][i], around[order[-1]][i + 2]
        gap = (end - begin - sum(sizes)) / (len(order) - 1)
        shifts, at = {}, begin
        for n, size in zip(order, sizes, strict=True):
            by = at - around[n][i]
            shifts.update(dict.fromkeys(units[n], (by, 0.0) if i == 0 else (0.0, by)))
            at += size + gap
        return _shift(project, scene, shifts, self.time_s, context)

    def label(self, project: Project) -> str:
        return f"Distribute {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers, "/properties")


class MovePivot(SceneEdit):
    """A new pivot while the picture stays put: positions, keyed or not, are moved to match.

    It is given in the layer's own space (``pivot``) or as a place of the scene (``to``), which
    takes one of the nine points of the layer's box that lies no farther off than ``near_px``.
    """

    kind: Literal["move-pivot"] = "move-pivot"
    layer: Id
    pivot: Place | None = None
    to: Place | None = None
    near_px: Annotated[float, Field(ge=0, le=1000)] = 0.0
    time_s: SceneTime

    @model_validator(mode="after")
    def _one_place(self) -> MovePivot:
        if (self.pivot is None) == (self.to is None):
            raise ValueError("expected either 'pivot' or 'to'")
        return self

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = find_layer(scene, self.layer)
        if not layer_kind(layer.kind).placed:
            raise DocumentError(f"{layer.name!r} has no pivot", field="layer")
        wanted = self._wanted(project, scene, layer, context)
        if layer.properties.get("pivot", Property()).keys:
            pivot = ValueTarget(layer=layer.id, property="pivot", value=wanted)
            edit = SetValues(scene=scene.id, targets=[pivot], time_s=self.time_s)
            return edit.change(project, scene, context)
        evaluator = SceneEvaluator(project, scene.id)

        def landing(at_s: float) -> tuple[float, float]:
            # Where the new pivot lies now, less what alignment adds to the position.
            values = evaluator.values(layer, at_s)
            own = evaluator.places.own(values)
            (x, y), (ax, ay) = own(wanted), own(values("pivot"))
            px, py = values.keyed("position")
            return (px + x - ax, py + y - ay)

        properties = {**layer.properties, "pivot": Property(value=wanted)}
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

    def _wanted(self, project: Project, scene: Scene, layer: Layer, context: EditContext) -> Point:
        """The new pivot in the layer's own space."""
        if self.to is None:
            assert self.pivot is not None
            return self.pivot
        evaluator = context.evaluator(with_this(project, scene), scene.id)
        matrix = evaluator.place_of(layer.id, self.time_s) or Affine()
        box = context.box(with_this(project, scene), scene.id, layer.id, self.time_s)
        if box is not None and self.near_px:
            points = [on_box(box, u / 2, v / 2) for u in range(3) for v in range(3)]
            nearest = min(points, key=lambda point: math.dist(matrix(point), self.to or point))
            if math.dist(matrix(nearest), self.to) <= self.near_px:
                return nearest
        try:
            x, y = matrix.inverse()(self.to)
        except ValueError:
            message = f"{layer.name!r} is scaled to nothing now"
            raise DocumentError(message, field="layer") from None
        return (round(x, 2), round(y, 2))

    def label(self, project: Project) -> str:
        return f"Move the pivot of {names_of(project, self.scene, [self.layer])}"

    def touches(self) -> list[str]:
        return self.layer_paths([self.layer], "/properties")


def _boxes(
    project: Project, scene: Scene, layers: list[str], time_s: float, context: EditContext,
    by: str = "box",
) -> dict[str, Box]:  # fmt: skip
    """The boxes of layers that have a place, in the order in which they are given."""
    measure = context.seen if by == "seen" else context.bounds
    boxes = {}
    for layer_id in layers:
        layer = find_layer(scene, layer_id)
        if not layer_kind(layer.kind).placed:
            continue
        box = measure(project, scene.id, layer_id, time_s)
        if box is not None:
            boxes[layer_id] = box
    if not boxes:
        raise DocumentError("none of these layers has a place", field="layers")
    return boxes


def _units(scene: Scene, layers: list[str]) -> list[list[str]]:
    """The layers that count as one: those of one group, and what rides on another of them."""
    known = {layer.id: layer for layer in scene.layers}
    units: dict[str, list[str]] = {}
    for layer_id in layers:
        root, seen = known[layer_id], {layer_id}
        while root.rides in known and root.rides in layers and root.rides not in seen:
            seen.add(root.rides)
            root = known[root.rides]
        name = f"group {root.group}" if root.group is not None else root.id
        units.setdefault(name, []).append(layer_id)
    return list(units.values())


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
    """Layers moved by so many pixels of the frame at a time, by way of the operation that sets
    values and keys. What rides on another of them is moved after that one, by what is left."""
    evaluator = SceneEvaluator(project, scene.id)
    goals = {}
    for layer_id, (dx, dy) in shifts.items():
        x, y = _place(evaluator, find_layer(scene, layer_id), time_s)
        goals[layer_id] = (x + dx, y + dy)
    waiting = list(shifts)
    while waiting:
        later = [la for la in waiting if _follows(evaluator, find_layer(scene, la), waiting)]
        if len(later) == len(waiting):  # none is first: all at once
            later = []
        targets = []
        for layer_id in waiting:
            layer = find_layer(scene, layer_id)
            if layer_id in later:
                continue
            by = _way(evaluator, layer, goals[layer_id], time_s)
            if by is not None and abs(by[0]) + abs(by[1]) > 1e-9:
                x, y = evaluator.values(layer, time_s).keyed("position")
                to = (x + by[0], y + by[1])
                targets.append(ValueTarget(layer=layer_id, property="position", value=to))
        if targets:
            edit = SetValues(scene=scene.id, targets=targets, time_s=time_s)
            scene = edit.change(project, scene, context)
            evaluator = SceneEvaluator(_with(project, scene), scene.id)
        waiting = later
    return scene


def _with(project: Project, scene: Scene) -> Project:
    """The project with a changed scene."""
    return with_scene(project, scene.id, lambda _: scene)


def _follows(evaluator: SceneEvaluator, layer: Layer, others: list[str]) -> bool:
    """Whether a layer goes along when one of the others is moved: it rides on it, or is aligned
    to it."""
    if any(on.id in others for on in evaluator.places.chain(layer)):
        return True
    values = evaluator.values(layer, layer.start_s)
    other = values("align.layer") if values("align.to") == "layer" else ""
    return other != layer.id and other in others


def _place(evaluator: SceneEvaluator, layer: Layer, time_s: float) -> Point:
    """Where a layer's pivot lies in the frame."""
    values = evaluator.values(layer, time_s)
    return (evaluator.places.lens(values) or evaluator.matrix(values))(values("pivot"))


def _way(evaluator: SceneEvaluator, layer: Layer, goal: Point, time_s: float) -> Point | None:
    """What to add to a layer's position for its pivot to come to a place in the frame; None where
    what it rides on has no size."""
    at = _place(evaluator, layer, time_s)
    if layer.rides is not None:
        values = evaluator.values(layer, time_s)
        try:
            at, goal = (evaluator.places.inward(values, point) for point in (at, goal))
        except ValueError:
            return None
    return (goal[0] - at[0], goal[1] - at[1])


class KeepAligned(SceneEdit):
    """Layers stay aligned to the frame, its safe area or a layer from now on (or no longer). They
    keep the distance that they have (what is seen at ``time_s`` does not jump), or go there first.
    None leaves a setting as it is."""

    kind: Literal["keep-aligned"] = "keep-aligned"
    layers: LayerIds
    x: Literal["none", "left", "centre", "right", "before", "after"] | None = None
    y: Literal["none", "top", "centre", "bottom", "before", "after"] | None = None
    to: Literal["frame", "safe", "layer"] | None = None
    layer: str | None = None
    keep_distance: bool = True
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        settings: dict[str, str | None] = {
            "align.x": self.x, "align.y": self.y, "align.to": self.to, "align.layer": self.layer,
        }  # fmt: skip
        changed = scene
        for layer_id in self.layers:
            layer = find_layer(scene, layer_id)
            if not layer_kind(layer.kind).placed:
                raise DocumentError(f"{layer.name!r} has no place of its own", field="layers")
            properties = dict(layer.properties)
            for name, value in settings.items():
                if value is not None:
                    properties[name] = Property(value=value)
            changed = with_properties(changed, layer, properties)
        check_links(changed)  # circles would have no place
        before = context.evaluator(_with(project, scene), scene.id)
        after = context.evaluator(_with(project, changed), scene.id)
        for layer_id in self.layers:
            old, new = find_layer(scene, layer_id), find_layer(changed, layer_id)
            a = before.places.own(before.values(old, self.time_s))
            b = after.places.own(after.values(new, self.time_s))
            shift = [a.e - b.e, a.f - b.f]
            if not self.keep_distance:
                # Where it is aligned its position counts from there on: it begins at 0.
                position = after.values(new, self.time_s).keyed("position")
                moved = self.to is not None or self.layer is not None
                for axis, own in enumerate((self.x, self.y)):
                    how = after.values(new, self.time_s)(f"align.{'xy'[axis]}")
                    if how != "none" and (own is not None or moved):
                        shift[axis] = -position[axis]
            if max(map(abs, shift)) > 1e-6:
                changed = with_properties(
                    changed, new, shifted_position(scene, new, (shift[0], shift[1]))
                )
        return changed

    def label(self, project: Project) -> str:
        return f"Keep {names_of(project, self.scene, self.layers)} aligned"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers, "/properties")


def shifted_position(scene: Scene, layer: Layer, shift: tuple[float, float]) -> dict[str, Property]:
    """The properties with a position that is moved as a whole, its keys too."""
    properties = dict(layer.properties)
    parts = parts_of(layer, "position")
    middle = (scene.width / 2, scene.height / 2)
    for axis, name in enumerate(parts or ("position",)):

        def moved(value: Any, axis: int = axis, whole: bool = parts is None) -> Any:
            if whole:
                return tuple(round(v + s, 6) for v, s in zip(value, shift, strict=True))
            return round(value + shift[axis], 6)

        old = properties.get(name) or Property(value=middle if parts is None else middle[axis])
        if old.keys:
            keys = (key.model_copy(update={"value": moved(key.value)}) for key in old.keys)
            properties[name] = old.with_keys(keys)
        else:
            properties[name] = old.model_copy(update={"value": moved(old.value)})
    return properties
