"""Operations on drawn paths: their points, joining shapes, outlines, cutting into layers."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Annotated, Any, Literal

from pydantic import Field

from ..core.catalog import (
    AXES,
    FAMILIES,
    FRONTS,
    MASKS,
    PARTS,
    RUNS,
    MemberFamily,
    find_spec,
    layer_kind,
    spec_of,
    specs_of,
)
from ..core.frame.pieces import cut_pieces
from ..core.geometry import Affine
from ..core.geometry.contours import Contour, PathPoint, contours_of, parse_contours, write_contours
from ..core.geometry.outline import Outline
from ..core.model import Kind, Layer, Mask, Project, Property, Scene
from ..core.model.values import Finite, Id
from ..core.resolve import SceneEvaluator
from ..core.resolve.looks import cut_of
from ..core.views.view import path_place
from ..errors import DocumentError
from .base import (
    EditContext,
    LayerIds,
    SceneEdit,
    SceneTime,
    find_layer,
    names_of,
    new_id,
    with_layers,
    with_this,
)
from .layer_edits import next_name
from .letter_outlines import is_mixed, with_letters
from .transform_edits import linear_inward
from .value_edits import key_at, new_key, put_key

Spot = tuple[Annotated[int, Field(ge=0)], Annotated[int, Field(ge=0)]]
Vector = tuple[Finite, Finite]
Spots = Annotated[list[Spot], Field(max_length=5000)]


class EditPath(SceneEdit):
    """A change of the points of a path: a shape's, a part's or a mask's.

    ``points`` are (contour, point) pairs. What is done:

    - ``move``: the points go by ``by``; ``handle``: the handle ``side`` of one point goes by
      ``by``, the other one turned along where the point is smooth, unless ``alone``
    - ``add``: a point in the segment of the first of ``points``, at its parameter ``at``
    - ``remove``: points go; a contour of less than two goes
    - ``corner``, ``smooth``: handles taken away, or led along the neighbours
    - ``bend``: the segment of the first of ``points`` is pulled at ``at`` by ``by``
    - ``close``, ``open``, ``reverse``: the contours of the points
    - ``first``: the point becomes its contour's first, which is matched when shapes morph
    - ``map``: all points (or those named) are mapped by ``matrix`` (SVG's letters a to f)

    ``by`` counts in the path's own space, or ``in_scene`` in the scene's.
    With keys the one at ``time_s`` is changed, or a key is made there.
    """

    kind: Literal["edit-path"] = "edit-path"
    layer: Id
    property: str
    deed: Literal[
        "move", "handle", "add", "remove", "corner", "smooth", "bend", "close", "open", "reverse",
        "first", "map",
    ]  # fmt: skip
    points: Spots = Field(default_factory=list)
    by: Vector = (0.0, 0.0)
    in_scene: bool = False
    side: Literal["into", "out"] = "out"
    alone: bool = False
    at: Annotated[float, Field(ge=0, le=1)] = 0.5
    matrix: Annotated[tuple[Finite, ...], Field(min_length=6, max_length=6)] | None = None
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = layer_of_path(scene, self.layer, self.property)
        values = SceneEvaluator(project, scene.id).values(layer, self.time_s)
        contours = list(parse_contours(values(self.property)))
        for index, point in self.points:
            if index >= len(contours) or point >= len(contours[index].points):
                raise DocumentError("there is no such point in the path now", field="points")
        by = self._way(project, scene, layer, context) if self.in_scene else self.by
        path = write_contours([c for c in self._done(contours, by) if c.segment_count])
        if not path:
            raise DocumentError("a path needs two points at least", field="points")
        return with_path(project, scene, layer, self.property, path, self.time_s)

    def _way(self, project: Project, scene: Scene, layer: Layer, context: EditContext) -> Vector:
        """The way of the hand in the scene as one in the path's own space."""
        whole = with_this(project, scene)
        evaluator = context.evaluator(whole, scene.id)
        place = path_place(evaluator, layer, self.property, self.time_s)
        x, y = linear_inward(place, self.by, f"the path of {layer.name!r}")
        return (round(x, 3), round(y, 3))

    def _done(self, contours: list[Contour], by: Vector) -> list[Contour]:
        chosen: dict[int, set[int]] = {}
        for number, spot in self.points:
            chosen.setdefault(number, set()).add(spot)
        if self.deed == "map":
            m = self.matrix or (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)
            matrix = Affine(*m)
            return [
                _each(c, chosen.get(i) if self.points else None, lambda p: p.mapped(matrix))
                for i, c in enumerate(contours)
            ]
        if self.deed in ("add", "bend", "first", "handle"):
            if not self.points:
                raise DocumentError("expected the point that is meant", field="points")
            index, point = self.points[0]
            contours[index] = self._single(contours[index], point, by)
            return contours
        whole = not self.points
        result = []
        for i, contour in enumerate(contours):
            points = set(range(len(contour.points))) if whole else chosen.get(i)
            result.append(self._many(contour, points, by) if points else contour)
        return result

    def _single(self, contour: Contour, point: int, by: Vector) -> Contour:
        if self.deed == "first":
            return contour.starting_at(point)
        if self.deed == "handle":
            return _with_handle(contour, point, self.side, by, self.alone)
        if point >= contour.segment_count:
            raise DocumentError("the path ends at that point", field="points")
        if self.deed == "add":
            return contour.split(point, self.at)
        return _bent(contour, point, self.at, by)

    def _many(self, contour: Contour, points: set[int], by: Vector) -> Contour:
        if self.deed == "move":
            return _each(contour, points, lambda p: p.moved(by))
        if self.deed == "remove":
            rest = tuple(p for i, p in enumerate(contour.points) if i not in points)
            return Contour(rest, contour.closed and len(rest) > 2)
        if self.deed == "corner":
            return _each(contour, points, lambda p: PathPoint(p.at))
        if self.deed == "smooth":
            return _smoothed(contour, points)
        if self.deed in ("close", "open"):
            return replace(contour, closed=self.deed == "close")
        return contour.reversed()

    def label(self, project: Project) -> str:
        deeds = {
            "add": "Add a point to", "remove": "Take points out of", "corner": "Corners in",
            "smooth": "Smooth", "close": "Close", "open": "Open", "reverse": "Turn round",
            "first": "Choose the first point of",
        }  # fmt: skip
        who = names_of(project, self.scene, [self.layer])
        return f"{deeds.get(self.deed, 'Reshape')} a path of {who}"

    def touches(self) -> list[str]:
        return self.layer_paths([self.layer], f"/properties/{self.property}")


def _each(
    contour: Contour, points: set[int] | None, change: Callable[[PathPoint], PathPoint]
) -> Contour:
    changed = tuple(
        change(p) if points is None or i in points else p for i, p in enumerate(contour.points)
    )
    return replace(contour, points=changed)


def _with_handle(contour: Contour, index: int, side: str, by: Vector, alone: bool) -> Contour:
    point = contour.points[index]
    smooth = point.smooth and not alone
    old = point.out if side == "out" else point.into
    new = (old[0] + by[0], old[1] + by[1])
    other = point.into if side == "out" else point.out
    if smooth:
        size, length = math.hypot(*other), math.hypot(*new)
        if length > 1e-6:
            other = (-new[0] / length * size, -new[1] / length * size)
    into, out = (other, new) if side == "out" else (new, other)
    return _each(contour, {index}, lambda p: PathPoint(p.at, into, out))


def _bent(contour: Contour, index: int, at: float, by: Vector) -> Contour:
    """A segment pulled so that its point at a parameter moves by a vector: both handles share
    the way by how much they count there."""
    s = min(0.9, max(0.1, at))
    r = 1 - s
    b1, b2 = 3 * r * r * s, 3 * r * s * s
    total = b1 * b1 + b2 * b2
    points = list(contour.points)
    after = (index + 1) % len(points)
    a, b = points[index], points[after]
    p0, p1, p2, p3 = contour.segment(index)
    out = (p1 - p0) if a.out != (0.0, 0.0) else (p3 - p0) / 3
    into = (p2 - p3) if b.into != (0.0, 0.0) else (p0 - p3) / 3
    k1, k2 = b1 / total, b2 / total
    points[index] = replace(a, out=(float(out[0]) + by[0] * k1, float(out[1]) + by[1] * k1))
    points[after] = replace(
        b if after != index else points[index],
        into=(float(into[0]) + by[0] * k2, float(into[1]) + by[1] * k2),
    )
    return replace(contour, points=tuple(points))


def _smoothed(contour: Contour, points: set[int]) -> Contour:
    """Handles along the line between a point's neighbours, a third of the way to each
    (Catmull-Rom); the ends of an open path have none on their outer side."""
    n = len(contour.points)

    def smooth(index: int, point: PathPoint) -> PathPoint:
        if index not in points:
            return point
        before = contour.points[index - 1] if index or contour.closed else None
        after = contour.points[(index + 1) % n] if index < n - 1 or contour.closed else None
        if before is None or after is None:
            return PathPoint(point.at)
        dx, dy = after.at[0] - before.at[0], after.at[1] - before.at[1]
        size = math.hypot(dx, dy)
        if size < 1e-9:
            return PathPoint(point.at)
        back, on = math.dist(point.at, before.at) / 3, math.dist(point.at, after.at) / 3
        return PathPoint(
            point.at, (-dx / size * back, -dy / size * back), (dx / size * on, dy / size * on)
        )

    return replace(contour, points=tuple(smooth(i, p) for i, p in enumerate(contour.points)))


def layer_of_path(scene: Scene, layer_id: str, property_id: str) -> Layer:
    """A layer of which a property is a path; DocumentError where it is something else."""
    layer = find_layer(scene, layer_id)
    spec = spec_of(layer, property_id, f"layer {layer.name!r}")
    if spec.kind is not Kind.PATH:
        raise DocumentError(f"{spec.label} is no path", field="property")
    return layer


def with_path(
    project: Project, scene: Scene, layer: Layer, property_id: str, path: str, time_s: float
) -> Scene:
    """The scene with a path set: as a value, or as the key at a time."""
    old = layer.properties.get(property_id)
    if old is None or not old.keys:
        changed = Property(value=path) if old is None else old.model_copy(update={"value": path})
    else:
        key = key_at(scene, layer, old, time_s)
        if key is None:
            spec = spec_of(layer, property_id)
            key = new_key(project, spec, time_s - layer.start_s, path)
        changed = put_key(old, key.model_copy(update={"value": path}))
    properties = {**layer.properties, property_id: changed}
    return with_layers(
        scene, [layer.id], lambda la: la.model_copy(update={"properties": properties})
    )


class JoinShapes(SceneEdit):
    """Shapes and texts become one shape with the look of the lowest: united, or the others
    taken from it, intersected with it, or excluded. The others go."""

    kind: Literal["join-shapes"] = "join-shapes"
    layers: Annotated[list[Id], Field(min_length=2, max_length=200)]
    how: Literal["union", "minus", "intersect", "exclude"]
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        evaluator = SceneEvaluator(project, scene.id)
        members = [layer for layer in scene.layers if layer.id in self.layers]
        for layer_id in self.layers:
            find_layer(scene, layer_id)
        joined: Outline | None = None
        for layer in members:
            outline = context.outline(project, scene.id, layer.id, self.time_s)
            if outline is None:
                raise DocumentError(f"{layer.name!r} has no outline", field="layers")
            placed = outline.mapped(evaluator.place_of(layer.id, self.time_s) or Affine())
            joined = placed if joined is None else joined.joined(placed, self.how)
        assert joined is not None
        if joined.is_empty:
            raise DocumentError("nothing would be left of these shapes", field="layers")
        lowest = members[0]
        place = evaluator.place_of(lowest.id, self.time_s) or Affine()
        try:
            local = joined.mapped(place.inverse())
        except ValueError:
            raise DocumentError(
                "the lowest shape is scaled to nothing now", field="layers"
            ) from None
        shape = as_path(lowest, write_contours(contours_of(local)))
        gone = set(self.layers) - {lowest.id}
        layers = tuple(
            shape if layer is lowest else layer for layer in scene.layers if layer.id not in gone
        )
        return scene.model_copy(update={"layers": layers})

    def label(self, project: Project) -> str:
        hows = {
            "union": "Unite",
            "minus": "Subtract",
            "intersect": "Intersect",
            "exclude": "Exclude",
        }
        return f"{hows[self.how]} {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return [*self.layer_paths(self.layers), f"scenes/{self.scene}/order"]


# What only texts or drawings have.
_OWN: tuple[MemberFamily[Any], ...] = (PARTS, AXES, RUNS, FRONTS)


def as_path(layer: Layer, path: str) -> Layer:
    """A shape or text layer as a shape with a path of its own, its looks kept."""
    known = {spec.id for spec in layer_kind("shape").specs}
    properties = {
        name: prop
        for name, prop in layer.properties.items()
        if (
            any(family.holds(name) for family in FAMILIES.values() if family not in _OWN)
            or name.removesuffix(".x").removesuffix(".y") in known
        )
        and not name.startswith("shape.")
    }
    if layer.kind == "text":
        for spec in layer_kind("text").specs:
            other = layer_kind("shape").spec(spec.id)
            unlike = other is not None and spec.default not in (None, other.default)
            if unlike and spec.id not in properties:
                properties[spec.id] = Property(value=spec.default)
    properties["shape.kind"] = Property(value="path")
    properties["shape.path"] = Property(value=path)
    gone: dict[str, Any] = {family.field: () for family in _OWN}
    gone["type_style"] = None
    return layer.model_copy(update={"kind": "shape", "properties": properties, **gone})


class OutlineLayers(SceneEdit):
    """Shapes and texts become shapes with editable paths, looking as they do at a time. A text with
    runs, or with a fill across its letters, becomes a drawing with a part for each letter."""

    kind: Literal["outline-layers"] = "outline-layers"
    layers: LayerIds
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        for layer_id in self.layers:
            layer = find_layer(scene, layer_id)
            outline = context.outline(project, scene.id, layer_id, self.time_s)
            if outline is None or outline.is_empty:
                raise DocumentError(f"{layer.name!r} has no outline", field="layers")
            shape = as_path(layer, write_contours(contours_of(outline)))
            evaluator = context.evaluator(project, scene.id)
            if is_mixed(layer, evaluator, self.time_s):
                shape = with_letters(layer, shape, evaluator, self.time_s)
            scene = with_layers(scene, [layer_id], lambda _, s=shape: s)  # type: ignore[misc]
        return scene

    def label(self, project: Project) -> str:
        return f"Make paths of {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers)


class SliceLayer(SceneEdit):
    """A layer that is cut becomes one layer for each piece, each with a mask, at rest.

    The masks overlap, so that no seam shows at any size.
    """

    kind: Literal["slice-layer"] = "slice-layer"
    layer: Id
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = find_layer(scene, self.layer)
        evaluator = SceneEvaluator(project, scene.id)
        box = context.box(project, scene.id, layer.id, self.time_s)
        values = evaluator.values(layer, self.time_s)
        if (
            find_spec(layer, "slices.kind") is None
            or values("slices.kind") == "none"
            or box is None
        ):
            raise DocumentError("first choose how the layer is cut", field="slices.kind")
        pieces = cut_pieces(cut_of(values), box)
        plain = {k: v for k, v in layer.properties.items() if not k.startswith("slices.")}
        base = layer.model_copy(update={"properties": plain})
        names = {each.name for each in scene.layers}
        made = []
        for index, piece in enumerate(pieces):
            name = next_name(layer.name, names) if index else layer.name
            names.add(name)
            mask = Mask(
                id=f"piece{index + 1}", name="Piece", joins=True,
                mode="intersect" if base.masks else "union",
            )  # fmt: skip
            path = write_contours(contours_of(piece.outline))
            values_of = {"path": Property(value=path)}
            copy = base.model_copy(
                update={"id": layer.id if index == 0 else new_id(), "name": name}
            )
            made.append(MASKS.added(copy, mask, values_of))
        at = scene.layers.index(layer)
        layers = (*scene.layers[:at], *made, *scene.layers[at + 1 :])
        return scene.model_copy(update={"layers": layers})

    def label(self, project: Project) -> str:
        return f"Cut {names_of(project, self.scene, [self.layer])} into layers"

    def touches(self) -> list[str]:
        return [*self.layer_paths([self.layer]), f"scenes/{self.scene}/order"]


class Recolour(SceneEdit):
    """One colour of some layers becomes another, or an ink, wherever it stands: fills, strokes,
    gradients, parts, effects, keys. Its own transparency stays with a plain colour."""

    kind: Literal["recolour"] = "recolour"
    layers: LayerIds
    old: str
    new: str

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        def swap(value: Any) -> Any:
            if isinstance(value, str):
                return self.new if value.lower() == self.old.lower() else value
            return tuple(swap(v) for v in value) if isinstance(value, tuple) else value

        def changed(layer: Layer) -> Layer:
            properties = dict(layer.properties)
            for spec in _colour_specs(layer):
                prop = properties.get(spec.id) or Property(value=spec.default)
                new = prop.model_copy(
                    update={
                        "value": swap(prop.value),
                        "keys": tuple(
                            k.model_copy(update={"value": swap(k.value)}) for k in prop.keys
                        ),
                    }
                )
                if new != prop:
                    properties[spec.id] = new
            return layer.model_copy(update={"properties": properties})

        return with_layers(scene, self.layers, changed)

    def label(self, project: Project) -> str:
        return f"Recolour {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers, "/properties")


def _colour_specs(layer: Layer) -> list[Any]:
    return [s for s in specs_of(layer) if s.kind.course == "colours"]
