"""What a hand does to layers on the stage: moves, scales and turns them. An operation says what was
done in the scene; what becomes of positions, scales and rotations, keyed or not, riding or not, is
worked out here."""

from __future__ import annotations

import math
from typing import Annotated, Any, Literal

from pydantic import Field

from ..core.catalog import layer_kind
from ..core.geometry.affine import Affine, Box, Point
from ..core.model import Layer, Project, Scene
from ..core.resolve import SceneEvaluator
from ..core.resolve.values import LayerValues
from ..core.views.view import CARRIER_BOX
from ..errors import DocumentError
from .base import EditContext, LayerIds, SceneEdit, SceneTime, find_layer, names_of, with_this
from .value_edits import with_values

Share = Annotated[float, Field(ge=0, le=1)]
# Values are kept to so many decimals.
_DECIMALS = 2
# The determinant of what is scaled to nothing: layers of no size are resolved very small.
_NOTHING = 1e-9


class TransformEdit(SceneEdit):
    """An operation on the places of layers. What rides on another of them is carried along by it
    and left as it is; layers without a place of their own are refused."""

    layers: LayerIds
    time_s: SceneTime

    def moved(self, scene: Scene, evaluator: SceneEvaluator) -> list[Placed]:
        """The layers that are changed themselves."""
        chosen = set(self.layers)
        found = []
        for layer_id in dict.fromkeys(self.layers):
            layer = find_layer(scene, layer_id)
            if not layer_kind(layer.kind).placed:
                message = f"{layer.name!r} has no place of its own"
                raise DocumentError(message, field="layers")
            if not any(below.id in chosen for below in evaluator.places.chain(layer)):
                found.append(Placed(evaluator, layer, self.time_s))
        return found

    def set(
        self,
        project: Project,
        scene: Scene,
        values: list[tuple[str, str, Any]],
        context: EditContext,
    ) -> Scene:
        """The scene with new values of layers' properties at the time of the operation."""
        return with_values(project, scene, values, self.time_s, context)

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers, "/properties")


class Placed:
    """A layer where it is seen at a time."""

    def __init__(self, evaluator: SceneEvaluator, layer: Layer, time_s: float) -> None:
        self.layer, self._evaluator = layer, evaluator
        self.values: LayerValues = evaluator.values(layer, time_s)
        seen = evaluator.moving(layer, time_s)
        self.matrix: Affine = evaluator.matrix(seen)
        lens = evaluator.places.lens(seen)
        self.pivot: Point = self.values("pivot")
        self.landing: Point = (lens or self.matrix)(self.pivot)

    @property
    def rides(self) -> bool:
        """Whether it rides on another layer."""
        return self.layer.rides is not None

    def carrier(self) -> Affine:
        """From the space that it rides in into the scene, near it where that is in perspective."""
        places = self._evaluator.places
        lens = places.carrier_lens(self.values)
        return lens.near(self.values("position")) if lens else places.carrier(self.values)

    def inward(self, by: Point) -> Point:
        """A way in the scene as one of its position; as it is where its carrier has no size."""
        m = self.carrier()
        return by if abs(m.determinant) < _NOTHING else linear_inward(m, by, repr(self.layer.name))

    def position(self, by: Point, decimals: int = _DECIMALS) -> list[float]:
        """Its position once it is moved by so much of the scene."""
        by = self.inward(by)
        x, y = self.values("position")
        return [round(x + by[0], decimals), round(y + by[1], decimals)]

    def scaled(self, factor: Point, about: Point) -> tuple[list[float], list[float]]:
        """Its scale and position once it is larger by factors along its own axes, a point of the
        scene staying where it is."""
        sx, sy = self.values("scale")
        scale = [round(sx * factor[0], _DECIMALS), round(sy * factor[1], _DECIMALS)]
        # What is kept is rounded: the point stays with that.
        fx, fy = scale[0] / sx if sx else 1.0, scale[1] / sy if sy else 1.0
        try:
            x, y = self.matrix.inverse()(about)
        except ValueError:
            raise DocumentError(
                f"{self.layer.name!r} is scaled to nothing: set its scale first", field="layers"
            ) from None
        m = self.matrix
        grown = Affine(m.a * fx, m.b * fx, m.c * fy, m.d * fy)
        ax, ay = grown((x - self.pivot[0], y - self.pivot[1]))
        by = (about[0] - ax - self.landing[0], about[1] - ay - self.landing[1])
        return scale, self.position(by)


class MoveLayers(TransformEdit):
    """Layers are moved by so many pixels of the scene. Positions that count in the scene itself
    are put on whole pixels where ``whole``."""

    kind: Literal["move-layers"] = "move-layers"
    by: tuple[float, float]
    whole: bool = False

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        evaluator = context.evaluator(with_this(project, scene), scene.id)
        values = []
        for each in self.moved(scene, evaluator):
            decimals = 0 if self.whole and not each.rides else _DECIMALS
            values.append((each.layer.id, "position", each.position(self.by, decimals)))
        return self.set(project, scene, values, context)

    def label(self, project: Project) -> str:
        by = f"{round(self.by[0], 2):g}, {round(self.by[1], 2):g}"
        return f"Move {names_of(project, self.scene, self.layers)} by {by}"


class ScaleLayers(TransformEdit):
    """Layers are scaled by factors along their own axes (several of them by one factor), about a
    point of the scene; without one each about its own pivot."""

    kind: Literal["scale-layers"] = "scale-layers"
    factor: tuple[float, float]
    about: tuple[float, float] | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        if len(self.layers) > 1 and self.factor[0] != self.factor[1] and self.about is not None:
            raise DocumentError.expected("factor", "one factor for several layers", self.factor)
        evaluator = context.evaluator(with_this(project, scene), scene.id)
        values: list[tuple[str, str, Any]] = []
        for each in self.moved(scene, evaluator):
            scale, position = each.scaled(self.factor, self.about or each.landing)
            values.append((each.layer.id, "scale", scale))
            if self.about is not None:
                values.append((each.layer.id, "position", position))
        return self.set(project, scene, values, context)

    def label(self, project: Project) -> str:
        by = ", ".join(f"{round(each, 3):g}" for each in dict.fromkeys(self.factor))
        return f"Scale {names_of(project, self.scene, self.layers)} × {by}"


class TurnLayers(TransformEdit):
    """Layers are turned clockwise about a point of the scene; without one a single layer about its
    pivot, several about the middle of the box around them. ``steps_deg`` lets one layer come to
    lie on multiples of it, several turn by such."""

    kind: Literal["turn-layers"] = "turn-layers"
    by_deg: float
    about: tuple[float, float] | None = None
    steps_deg: Annotated[float, Field(gt=0, le=360)] | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        evaluator = context.evaluator(with_this(project, scene), scene.id)
        moved = self.moved(scene, evaluator)
        single = len(self.layers) == 1
        by = self.by_deg
        if self.steps_deg and single:
            rotation = moved[0].values("rotation")
            by = round((rotation + by) / self.steps_deg) * self.steps_deg - rotation
        elif self.steps_deg:
            by = round(by / self.steps_deg) * self.steps_deg
        about = self.about
        if about is None and not single:
            about = _middle(_around(project, scene, self.layers, self.time_s, context))
        values: list[tuple[str, str, Any]] = []
        for each in moved:
            # In a mirrored space turns go the other way.
            way = -1 if each.carrier().determinant < 0 else 1
            rotation = each.values("rotation") + by * way
            values.append((each.layer.id, "rotation", round(rotation, _DECIMALS)))
            if about is not None:
                x, y = each.landing[0] - about[0], each.landing[1] - about[1]
                tx, ty = Affine.rotation(by)((x, y))
                values.append((each.layer.id, "position", each.position((tx - x, ty - y))))
        return self.set(project, scene, values, context)

    def label(self, project: Project) -> str:
        # In steps it comes to lie on multiples: how far that is depends on where it was.
        by = "" if self.steps_deg else f" by {round(self.by_deg, 2):g}°"
        return f"Turn {names_of(project, self.scene, self.layers)}{by}"


class DragBox(TransformEdit):
    """A handle of the box about a layer, or about several, was dragged to a point of the scene:
    ``handle`` is its place on the box, (0, 0) the top left and (1, 1) the bottom right corner, one
    half on an edge's middle. The opposite side stays, or ``from_middle`` a single layer's pivot or
    the middle of several. ``even`` keeps the ratio of a single layer; several always keep theirs.
    The edges of a text in a box make the box larger or smaller, and its lines break anew.
    """

    kind: Literal["drag-box"] = "drag-box"
    handle: tuple[Share, Share]
    to: tuple[float, float]
    even: bool = False
    from_middle: bool = False

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        if len(self.layers) > 1:
            factor, about = self._of_many(project, scene, context)
        else:
            evaluator = context.evaluator(with_this(project, scene), scene.id)
            (only,) = self.moved(scene, evaluator)
            box = context.box(project, scene.id, only.layer.id, self.time_s)
            if box is None and only.layer.kind == "carrier":
                box = CARRIER_BOX
            if box is None:
                raise DocumentError(f"{only.layer.name!r} shows nothing", field="layers")
            factor, about = self._of_one(only, box)
            if self._sizes_box(only):
                return self._box_sized(project, scene, only, factor, context)
        edit = ScaleLayers(
            scene=self.scene, layers=self.layers, time_s=self.time_s, factor=factor, about=about
        )
        return edit.change(project, scene, context)

    def _sizes_box(self, only: Placed) -> bool:
        is_text = only.layer.kind == "text"
        return 0.5 in self.handle and is_text and bool(only.values("text.box") == "box")

    def _box_sized(
        self, project: Project, scene: Scene, only: Placed, factor: Point, context: EditContext
    ) -> Scene:
        """The scene with another box for a text: the side opposite the handle stays where it is."""
        name, (u, v) = only.layer.id, self.handle
        size = only.values("text.box-size")
        sized = [
            round(max(1.0, each * by), _DECIMALS) for each, by in zip(size, factor, strict=True)
        ]
        before = context.box(with_this(project, scene), scene.id, name, self.time_s)
        scene = self.set(project, scene, [(name, "text.box-size", sized)], context)
        changed = with_this(project, scene)
        after = context.box(changed, scene.id, name, self.time_s)
        if self.from_middle or before is None or after is None:
            return scene
        (now,) = self.moved(scene, context.evaluator(changed, scene.id))
        stays, went = (now.matrix(on_box(box, 1 - u, 1 - v)) for box in (before, after))
        position = now.position((stays[0] - went[0], stays[1] - went[1]))
        return self.set(changed, scene, [(name, "position", position)], context)

    def _of_one(self, only: Placed, box: Box) -> tuple[Point, Point | None]:
        """By how much a layer grows along its own axes, and what stays in the scene."""
        u, v = self.handle
        hold = on_box(box, u, v)
        anchor = only.pivot if self.from_middle else on_box(box, 1 - u, 1 - v)
        fixed = only.landing if self.from_middle else only.matrix(anchor)
        m = only.matrix
        try:
            away = Affine(m.a, m.b, m.c, m.d).inverse()(
                (self.to[0] - fixed[0], self.to[1] - fixed[1])
            )
        except ValueError:
            raise DocumentError(
                f"{only.layer.name!r} is scaled to nothing: set its scale first", field="layers"
            ) from None
        reach = (hold[0] - anchor[0], hold[1] - anchor[1])
        factor = [1.0, 1.0]
        for axis, share in enumerate((u, v)):
            if share != 0.5 and abs(reach[axis]) > 1e-6:
                factor[axis] = away[axis] / reach[axis]
        if self.even and u != 0.5 and v != 0.5:
            # Along the diagonal as it is seen: both axes in px of the space around.
            sx, sy = only.values("scale")
            before = (reach[0] * sx, reach[1] * sy)
            now = (away[0] * sx, away[1] * sy)
            length = before[0] ** 2 + before[1] ** 2
            factor = [(now[0] * before[0] + now[1] * before[1]) / (length or 1.0)] * 2
        return (factor[0], factor[1]), None if self.from_middle else fixed

    def _of_many(
        self, project: Project, scene: Scene, context: EditContext
    ) -> tuple[Point, Point | None]:
        box = _around(project, scene, self.layers, self.time_s, context)
        u, v = self.handle
        hold = on_box(box, u, v)
        about = _middle(box) if self.from_middle else on_box(box, 1 - u, 1 - v)
        reach = (hold[0] - about[0], hold[1] - about[1])
        now = (self.to[0] - about[0], self.to[1] - about[1])
        length = reach[0] ** 2 + reach[1] ** 2
        factor = (now[0] * reach[0] + now[1] * reach[1]) / (length or 1.0)
        return (factor, factor), about

    def label(self, project: Project) -> str:
        who = names_of(project, self.scene, self.layers)
        scene = next((each for each in project.scenes if each.id == self.scene), None)
        only = scene and next((la for la in scene.layers if [la.id] == self.layers), None)
        boxed = only and only.kind == "text" and only.properties.get("text.box")
        if boxed and boxed.value == "box" and 0.5 in self.handle:
            return f"Size the box of {who}"
        return f"Scale {who}"


def linear_inward(space: Affine, by: Point, who: str) -> Point:
    """A way in the scene as one within a space; DocumentError where that is scaled to nothing."""
    if abs(space.determinant) < _NOTHING:
        raise DocumentError(f"{who} is scaled to nothing now", field="layer")
    return Affine(space.a, space.b, space.c, space.d).inverse()(by)


def on_box(box: Box, u: float, v: float) -> Point:
    """A place on a box by shares of its sides."""
    return (box[0] + (box[2] - box[0]) * u, box[1] + (box[3] - box[1]) * v)


def _middle(box: Box) -> Point:
    return on_box(box, 0.5, 0.5)


def _around(
    project: Project, scene: Scene, layers: list[str], time_s: float, context: EditContext
) -> Box:
    """The upright box around layers in the scene, carriers by their crosses; DocumentError where
    none shows anything."""
    found = [context.bounds(project, scene.id, layer_id, time_s) for layer_id in layers]
    evaluator = context.evaluator(with_this(project, scene), scene.id)
    for layer_id in layers:
        layer = find_layer(scene, layer_id)
        if layer.kind == "carrier":
            found.append(evaluator.matrix(evaluator.moving(layer, time_s)).box(CARRIER_BOX))
    boxes = [box for box in found if box is not None and all(map(math.isfinite, box))]
    if not boxes:
        raise DocumentError("they show nothing", field="layers")
    lefts, tops, rights, bottoms = zip(*boxes, strict=True)
    return (min(lefts), min(tops), max(rights), max(bottoms))
