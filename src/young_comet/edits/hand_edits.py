"""What a hand draws on the stage, and what it does to what is inside a layer: its masks, its
gradient, the places of its effects, the keys of its way. An operation says what was done in the
scene; what becomes of the values is worked out here."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from ..core.catalog import MASKS, spec_of
from ..core.geometry.affine import Affine, Box, Point
from ..core.geometry.contours import contours_of, write_contours
from ..core.geometry.outline import from_svg_path
from ..core.model import Kind, Layer, Mask, Project, Property, Scene
from ..core.model.values import Id
from ..core.resolve import SceneEvaluator
from ..core.resolve.values import LayerValues
from ..errors import DocumentError
from .base import (
    EditContext,
    NewId,
    Place,
    SceneEdit,
    SceneTime,
    find_layer,
    names_of,
    with_layers,
    with_this,
)
from .drawn import Drawn, DrawnLine, DrawnPath
from .key_edits import KeysEdit
from .layer_edits import AddLayers, next_name
from .mask_edits import MaskEdit, into_layer, mask_space
from .path_edits import BendPath, MovePath, PathEdit, inward, placed_layer
from .transform_edits import Placed, linear_inward
from .value_edits import KeyMove, MoveKeys, find_key, with_values

_DECIMALS = 2
_NAMES = {
    "rectangle": "Rectangle", "ellipse": "Ellipse", "polygon": "Polygon", "star": "Star",
    "line": "Line", "path": "Path", "hand": "Path", "svg": "Path",
}  # fmt: skip


class DrawShape(SceneEdit):
    """What was drawn becomes a shape layer, from a moment on as long as the scene lasts; on top of
    the stack, or at ``index``."""

    kind: Literal["draw-shape"] = "draw-shape"
    id: NewId
    drawn: Drawn
    start_s: SceneTime = 0.0
    index: Annotated[int, Field(ge=0)] | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        values = self.drawn.properties((scene.width, scene.height))
        taken = {layer.name for layer in scene.layers}
        stem = _NAMES[self.drawn.form]
        layer = Layer(
            id=self.id, kind="shape", name=next_name(stem, taken) if stem in taken else stem,
            start_s=self.start_s, end_s=scene.length_s,
            properties={name: Property(value=value) for name, value in values.items()},
        )  # fmt: skip
        added = AddLayers(scene=scene.id, layers=[layer], index=self.index)
        return added.change(project, scene, context)

    def label(self, project: Project) -> str:
        return f"Draw a {_NAMES[self.drawn.form].lower()}"

    def touches(self) -> list[str]:
        return [*self.layer_paths([self.id]), f"scenes/{self.scene}/order"]


class DrawMask(MaskEdit):
    """What was drawn becomes a mask of a layer, closed, where it lies at a time."""

    kind: Literal["draw-mask"] = "draw-mask"
    id: NewId
    drawn: Drawn
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = find_layer(scene, self.layer)
        drawn = self.drawn
        if isinstance(drawn, DrawnPath | DrawnLine):
            drawn = drawn.model_copy(update={"closed": True})
        evaluator = context.evaluator(with_this(project, scene), scene.id)
        outline = into_layer(evaluator, drawn.outline(), layer, self.time_s)
        path = write_contours(contours_of(outline))
        mask = MASKS.read({"id": self.id, "name": _NAMES[drawn.form]})
        return with_layers(
            scene, [layer.id], lambda la: MASKS.added(la, mask, {"path": Property(value=path)})
        )

    def label(self, project: Project) -> str:
        return f"Draw a mask of {self.who(project)}"


class MoveMask(MaskEdit):
    """A mask is moved by so many pixels of the scene."""

    kind: Literal["move-mask"] = "move-mask"
    mask: Id
    by: Place
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        held = _HeldMask(project, scene, self, context)
        x, y = held.values["position"]
        dx, dy = linear_inward(held.space, self.by, held.who)
        return held.set({"position": _rounded((x + dx, y + dy))})

    def label(self, project: Project) -> str:
        return f"Move a mask of {self.who(project)}"


class TurnMask(MaskEdit):
    """A mask is turned clockwise, as it is seen, about its middle; ``steps_deg`` lets it come to
    lie on multiples of it."""

    kind: Literal["turn-mask"] = "turn-mask"
    mask: Id
    by_deg: Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
    steps_deg: Annotated[float, Field(gt=0, le=360)] | None = None
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        held = _HeldMask(project, scene, self, context)
        # In a mirrored space turns go the other way.
        way = -1 if held.space.determinant < 0 else 1
        rotation = held.values["rotation"] + self.by_deg * way
        if self.steps_deg:
            rotation = round(rotation / self.steps_deg) * self.steps_deg
        return held.set({"rotation": round(rotation, _DECIMALS)})

    def label(self, project: Project) -> str:
        return f"Turn a mask of {self.who(project)}"


class ScaleMask(MaskEdit):
    """A mask is scaled about its middle so that what was at one place of the scene comes as near as
    can be to another; ``apart`` each of its own axes by itself."""

    kind: Literal["scale-mask"] = "scale-mask"
    mask: Id
    start: Place
    to: Place
    apart: bool = False
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        held = _HeldMask(project, scene, self, context)
        if "scale" not in held.values:
            raise DocumentError("a half plane has no size", field="mask")
        reach, away = held.own(self.start), held.own(self.to)
        if self.apart:
            factors = [a / r if abs(r) > 1e-6 else 1.0 for a, r in zip(away, reach, strict=True)]
        else:
            length = reach[0] ** 2 + reach[1] ** 2
            factors = [(away[0] * reach[0] + away[1] * reach[1]) / (length or 1.0)] * 2
        sx, sy = held.values["scale"]
        return held.set({"scale": _rounded((sx * factors[0], sy * factors[1]))})

    def label(self, project: Project) -> str:
        return f"Scale a mask of {self.who(project)}"


class _HeldMask:
    """A mask that a hand has taken hold of, at a time."""

    def __init__(
        self,
        project: Project,
        scene: Scene,
        edit: MoveMask | TurnMask | ScaleMask,
        context: EditContext,
    ) -> None:
        self._project, self._scene, self._context, self._time_s = (
            project,
            scene,
            context,
            edit.time_s,
        )
        self._layer: Layer = find_layer(scene, edit.layer)
        self.who = f"{self._layer.name!r}"
        mask: Mask = MASKS.find(self._layer, edit.mask)
        evaluator = context.evaluator(with_this(project, scene), scene.id)
        values = evaluator.values(self._layer, edit.time_s)
        self._prefix = MASKS.prefix(mask.id)
        names = ("position", "rotation", "scale", "path")
        known = MASKS.specs(mask)
        self.values: dict[str, Any] = {
            name: values(self._prefix + name) for name in names if self._prefix + name in known
        }
        # From the space that the mask's position counts in to the scene.
        self.space: Affine = mask_space(evaluator, self._layer, mask, edit.time_s)

    def own(self, point: Point) -> Point:
        """A place of the scene along the mask's own axes, from its middle, as large as it is."""
        box = from_svg_path(self.values["path"]).bounds
        middle = ((box[0] + box[2]) / 2, (box[1] + box[3]) / 2)
        px, py = self.values["position"]
        sx, sy = self.values["scale"]
        turned = Affine.rotation(self.values["rotation"]) @ Affine.scaling(sx / 100, sy / 100)
        try:
            x, y = self.space.inverse()(point)
            return turned.inverse()((x - px - middle[0], y - py - middle[1]))
        except ValueError:
            raise DocumentError("the mask is scaled to nothing now", field="mask") from None

    def set(self, values: dict[str, Any]) -> Scene:
        named = [(self._layer.id, self._prefix + name, value) for name, value in values.items()]
        return with_values(self._project, self._scene, named, self._time_s, self._context)


class LayerHandEdit(SceneEdit):
    """Something inside of a layer was moved."""

    layer: Id
    time_s: SceneTime

    def held(
        self, project: Project, scene: Scene, context: EditContext
    ) -> tuple[Layer, SceneEvaluator, Affine, Box]:
        """The layer, what evaluates it, where it lies, and the box of what it shows."""
        layer = find_layer(scene, self.layer)
        evaluator = context.evaluator(with_this(project, scene), scene.id)
        matrix = evaluator.place_of(layer.id, self.time_s) or Affine()
        box = context.box(with_this(project, scene), scene.id, layer.id, self.time_s)
        if box is None:
            raise DocumentError(f"{layer.name!r} shows nothing now", field="layer")
        return layer, evaluator, matrix, box

    def who(self, project: Project) -> str:
        """The layer's name, for the history."""
        return names_of(project, self.scene, [self.layer])

    def touches(self) -> list[str]:
        return self.layer_paths([self.layer], "/properties")


class MoveGradient(LayerHandEdit):
    """An end of a layer's gradient is moved by so many pixels of the scene."""

    kind: Literal["move-gradient"] = "move-gradient"
    end: Literal["start", "end"]
    by: Place

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer, evaluator, matrix, box = self.held(project, scene, context)
        name = f"fill.{self.end}"
        spec_of(layer, name, f"layer {layer.name!r}")
        x, y = evaluator.values(layer, self.time_s)(name)
        dx, dy = _shares(box, linear_inward(matrix, self.by, repr(layer.name)))
        values = [(layer.id, name, _rounded((x + dx, y + dy)))]
        return with_values(project, scene, values, self.time_s, context)

    def label(self, project: Project) -> str:
        return f"Move the gradient of {self.who(project)}"


class MoveStop(LayerHandEdit):
    """A stop of a layer's gradient goes along its line to where a place of the scene is nearest."""

    kind: Literal["move-stop"] = "move-stop"
    index: Annotated[int, Field(ge=0)]
    to: Place

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer, evaluator, matrix, box = self.held(project, scene, context)
        values = evaluator.values(layer, self.time_s)
        stops = _listed(layer, "fill.stops", values)
        if self.index >= len(stops):
            raise DocumentError.expected("index", f"a stop below {len(stops)}", self.index)
        a, b = (matrix(_at(box, values(f"fill.{end}"))) for end in ("start", "end"))
        along, away = (b[0] - a[0], b[1] - a[1]), (self.to[0] - a[0], self.to[1] - a[1])
        length = along[0] ** 2 + along[1] ** 2
        share = (away[0] * along[0] + away[1] * along[1]) / (length or 1.0)
        stops[self.index][0] = round(min(1.0, max(0.0, share)), 4)
        now = [(layer.id, "fill.stops", stops)]
        return with_values(project, scene, now, self.time_s, context)

    def label(self, project: Project) -> str:
        return f"Move a colour of the gradient of {self.who(project)}"


class MovePlace(LayerHandEdit):
    """A place of an effect, or one of its colour points (``index``), is moved by so many pixels of
    the scene."""

    kind: Literal["move-place"] = "move-place"
    property: str
    index: Annotated[int, Field(ge=0)] | None = None
    by: Place

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer, evaluator, matrix, box = self.held(project, scene, context)
        spec = spec_of(layer, self.property, f"layer {layer.name!r}")
        values = evaluator.values(layer, self.time_s)
        by = linear_inward(matrix, self.by, repr(layer.name))
        if spec.kind is Kind.POINT:
            x, y = values(self.property)
            value: Any = list(_rounded((x + by[0], y + by[1])))
        elif spec.kind is Kind.SPOTS:
            spots = _listed(layer, self.property, values)
            if self.index is None or self.index >= len(spots):
                raise DocumentError.expected("index", f"a point below {len(spots)}", self.index)
            spot, (dx, dy) = spots[self.index], _shares(box, by)
            spot[:2] = _rounded((spot[0] + dx, spot[1] + dy))
            value = spots
        else:
            raise DocumentError(f"{spec.label} is no place", field="property")
        moved = [(layer.id, self.property, value)]
        return with_values(project, scene, moved, self.time_s, context)

    def label(self, project: Project) -> str:
        return f"Move a place on {self.who(project)}"


class BendWay(PathEdit):
    """The handle of a key of a layer's way is moved by so many pixels of the scene; ``mirrored``
    turns the other one along."""

    kind: Literal["bend-way"] = "bend-way"
    key: Id
    side: Literal["in", "out"]
    by: Place
    mirrored: bool = True
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = find_layer(scene, self.layer)
        key = find_key(layer, layer.properties.get("position", Property()), self.key)
        dx, dy = _own_shift(project, scene, layer, self.by, self.time_s, context)
        x, y = getattr(key, f"handle_{self.side}") or (0.0, 0.0)
        handle = _rounded((x + dx, y + dy))
        into, out = (handle, None) if self.side == "in" else (None, handle)
        edit = BendPath(
            scene=scene.id, layer=layer.id, key=self.key, mirrored=self.mirrored,
            handle_in=into, handle_out=out,
        )  # fmt: skip
        return edit.change(project, scene, context)

    def label(self, project: Project) -> str:
        return f"Bend the path of {self.who(project)}"


class MoveWay(PathEdit):
    """The whole way of a layer is moved by so many pixels of the scene."""

    kind: Literal["move-way"] = "move-way"
    by: Place
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = find_layer(scene, self.layer)
        by = _own_shift(project, scene, layer, self.by, self.time_s, context)
        return MovePath(scene=scene.id, layer=layer.id, by=_rounded(by)).change(
            project, scene, context
        )

    def label(self, project: Project) -> str:
        return f"Move the path of {self.who(project)}"


class HoldLayer(PathEdit):
    """A hand holds a layer by its pivot at a place of the scene."""

    kind: Literal["hold-layer"] = "hold-layer"
    at: Place
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = placed_layer(scene, self.layer)
        evaluator = context.evaluator(with_this(project, scene), scene.id)
        values = [(layer.id, "position", _rounded(inward(evaluator, layer, self.time_s, self.at)))]
        return with_values(project, scene, values, self.time_s, context)

    def label(self, project: Project) -> str:
        return f"Hold {self.who(project)}"


class MoveWayKeys(KeysEdit):
    """Keys of positions are moved by so many pixels of the scene, as it is seen at a time."""

    kind: Literal["move-way-keys"] = "move-way-keys"
    by: Place
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        moves = []
        for target in self.keys:
            layer = find_layer(scene, target.layer)
            if target.property != "position":
                raise DocumentError.expected("keys", "keys of positions", target.property)
            key = find_key(layer, layer.properties.get("position", Property()), target.key)
            dx, dy = _own_shift(project, scene, layer, self.by, self.time_s, context)
            value = list(_rounded((key.value[0] + dx, key.value[1] + dy)))
            moves.append(
                KeyMove(
                    layer=layer.id, property="position", key=key.id,
                    time_s=layer.start_s + key.time_s, value=value,
                )
            )  # fmt: skip
        return MoveKeys(scene=scene.id, moves=moves, free=True).change(project, scene, context)

    def label(self, project: Project) -> str:
        return self.said(project, "Move")


def _rounded(point: Point) -> Point:
    return (round(point[0], _DECIMALS), round(point[1], _DECIMALS))


def _shares(box: Box, by: Point) -> Point:
    """A way as percent of a box's sides, none along a side without length."""
    sides = (box[2] - box[0], box[3] - box[1])
    x, y = (b / s * 100 if abs(s) > 1e-9 else 0.0 for b, s in zip(by, sides, strict=True))
    return (x, y)


def _at(box: Box, share: Point) -> Point:
    """A place on a box by percent of its sides."""
    return (
        box[0] + (box[2] - box[0]) * share[0] / 100,
        box[1] + (box[3] - box[1]) * share[1] / 100,
    )


def _listed(layer: Layer, property_id: str, values: LayerValues) -> list[list[Any]]:
    """Stops or colour points of a layer as the document has them, colours and inks by name; what
    is animated as it is now."""
    spec = spec_of(layer, property_id, f"layer {layer.name!r}")
    prop = layer.properties.get(property_id)
    if prop is None:
        now = spec.default
    elif prop.keys or prop.expression:
        now = spec.kind.to_json(values(property_id))
    else:
        now = prop.value
    return [list(each) for each in now]


def _own_shift(
    project: Project, scene: Scene, layer: Layer, by: Point, time_s: float, context: EditContext
) -> Point:
    """A way in the scene as one of a layer's position; DocumentError where it has none."""
    placed_layer(scene, layer.id)
    evaluator = context.evaluator(with_this(project, scene), scene.id)
    return Placed(evaluator, layer, time_s).inward(by)
