"""Operations on motion paths: handles, points, flying by hand, taking a drawn path."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from ..core.catalog import layer_kind, parts_of
from ..core.geometry.fit import fit_polyline
from ..core.model import Keyframe, Kind, Layer, Project, Property, PropertySpec, Scene
from ..core.model.values import Id
from ..core.motion import begun, fit_flight, keyframes, path_keys, rounded_handles, take_key
from ..core.motion.paths import Cubic
from ..core.resolve import SceneEvaluator
from ..errors import DocumentError
from .base import (
    Coordinate,
    EditContext,
    Place,
    SceneEdit,
    SceneTime,
    find_layer,
    names_of,
    new_id,
    with_properties,
    with_this,
)
from .key_edits import Finite, KeysEdit, chosen_keys, chosen_targets
from .value_edits import KeyTarget, Target, change_properties, find_key, of_target, put_keys

Tolerance = Annotated[float, Field(ge=0.1, le=500, allow_inf_nan=False)]
Offset = tuple[Finite, Finite]
Sample = tuple[SceneTime, Coordinate, Coordinate]


class PathEdit(SceneEdit):
    """An operation on the position of one layer."""

    layer: Id

    def touches(self) -> list[str]:
        return self.layer_paths([self.layer], "/properties")

    def who(self, project: Project) -> str:
        """The layer's name, for the history."""
        return names_of(project, self.scene, [self.layer])


class BendPath(PathEdit):
    """Handles of a key of the position, as offsets from it; ``mirrored`` turns the other one
    along, so that the path stays smooth there (its length stays)."""

    kind: Literal["bend-path"] = "bend-path"
    key: Id
    handle_in: Offset | None = None
    handle_out: Offset | None = None
    mirrored: bool = True

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        def bent(target: Target, layer: Layer, spec: PropertySpec, prop: Property) -> Property:
            key = find_key(layer, prop, self.key)
            into, out = key.handle_in, key.handle_out
            if self.handle_in is not None:
                into = self.handle_in
                out = _turned(out, into) if self.mirrored else out
            if self.handle_out is not None:
                out = self.handle_out
                into = _turned(into, out) if self.mirrored and self.handle_in is None else into
            new = key.model_copy(update={"handle_in": into, "handle_out": out})
            return prop.with_keys(new if each is key else each for each in prop.keys)

        return change_properties(scene, [Target(layer=self.layer, property="position")], bent)

    def label(self, project: Project) -> str:
        return f"Bend the path of {self.who(project)}"


def _turned(handle: Offset | None, other: Offset) -> Offset | None:
    """A handle turned to lie opposite of the other one; one without length stays so."""
    length = float(np.hypot(*handle)) if handle else 0.0
    size = float(np.hypot(*other))
    if length < 1e-6 or size < 1e-6:
        return handle
    return (-other[0] * length / size, -other[1] * length / size)


class RoundPath(KeysEdit):
    """Keys of a path rounded off, led by their neighbours, or made corners (no handles)."""

    kind: Literal["round-path"] = "round-path"
    round: bool = True

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        chosen = chosen_keys(self.keys)

        def rounded(target: Target, layer: Layer, spec: PropertySpec, prop: Property) -> Property:
            if spec.kind is not Kind.POINT:
                raise DocumentError("only a point travels along a path", field=spec.label)
            ids = of_target(chosen, layer, target.property)
            return prop.with_keys(
                self._rounded(prop.keys, i) if key.id in ids else key
                for i, key in enumerate(prop.keys)
            )

        return change_properties(scene, chosen_targets(chosen), rounded)

    def _rounded(self, keys: tuple[Keyframe, ...], index: int) -> Keyframe:
        if not self.round:
            return keys[index].model_copy(update={"handle_in": None, "handle_out": None})
        before = keys[index - 1].value if index else None
        after = keys[index + 1].value if index + 1 < len(keys) else None
        into, out = rounded_handles(before, keys[index].value, after)
        return keys[index].model_copy(update={"handle_in": into, "handle_out": out})

    def label(self, project: Project) -> str:
        return self.said(project, "Round" if self.round else "Make corners of")


class TakeKeys(KeysEdit):
    """Keys taken out while path and curve stay as they are, as nearly as they can."""

    kind: Literal["take-keys"] = "take-keys"

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        for target in self.keys:
            scene = self._without(project, scene, target)
        return scene

    def _without(self, project: Project, scene: Scene, target: KeyTarget) -> Scene:
        evaluator = SceneEvaluator(with_this(project, scene), scene.id)

        def without(at: Target, layer: Layer, spec: PropertySpec, prop: Property) -> Property:
            key = find_key(layer, prop, target.key)
            track = evaluator.track(layer, at.property)
            if len(prop.keys) == 1 or track is None:
                return Property(value=key.value)
            return take_key(prop, track, prop.keys.index(key))

        return change_properties(scene, [target], without)

    def label(self, project: Project) -> str:
        return self.said(project, "Take out")


class FlyPath(PathEdit):
    """A layer flown by hand: samples (s in the scene, x, y) of where its pivot was.

    The keys of that stretch of time are replaced by few that follow the flight within the
    tolerance (px). The flight is kept, so that ``refit-path`` can fit it anew. A hand that is still
    at first makes no keys until it moves, unless keys are there to be replaced.
    """

    kind: Literal["fly-path"] = "fly-path"
    samples: Annotated[list[Sample], Field(min_length=2, max_length=20_000)]
    tolerance: Tolerance = 8.0

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = placed_layer(scene, self.layer)
        evaluator = SceneEvaluator(project, scene.id)
        flown = [(t, *inward(evaluator, layer, t, (x, y))) for t, x, y in self.samples]
        samples = sorted({round(t, 6): (t, x, y) for t, x, y in flown}.values())
        moving = begun(samples)
        if moving[-1][0] - moving[0][0] > 0.1 and not _moves_after(layer, self.samples[0][0]):
            samples = list(moving)
        if len(samples) < 2 or samples[-1][0] - samples[0][0] < 0.02:
            raise DocumentError("the flight is too short", field="samples")
        kept = tuple((round(t, 4), round(x, 2), round(y, 2)) for t, x, y in samples)
        return _with_position(scene, layer, _flown(layer, kept, self.tolerance))

    def label(self, project: Project) -> str:
        return f"Fly {self.who(project)}"


class RefitPath(PathEdit):
    """The last flight fitted with another tolerance (px)."""

    kind: Literal["refit-path"] = "refit-path"
    tolerance: Tolerance

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = placed_layer(scene, self.layer)
        flown = layer.properties.get("position", Property()).flown
        if flown is None:
            raise DocumentError(f"{layer.name!r} has no flight to fit anew", field="layer")
        return _with_position(scene, layer, _flown(layer, flown, self.tolerance))

    def label(self, project: Project) -> str:
        return f"Fit the flight of {self.who(project)} within {self.tolerance:g} px"


def _moves_after(layer: Layer, time_s: float) -> bool:
    """Whether keys of its place lie at a moment of the scene (s) or later."""
    keys = layer.properties.get("position", Property()).keys
    return any(key.time_s > time_s - layer.start_s - 1e-6 for key in keys)


def _flown(
    layer: Layer, samples: tuple[tuple[float, float, float], ...], tolerance: float
) -> Property:
    local = [(t - layer.start_s, x, y) for t, x, y in samples]
    fitted = fit_flight(local, tolerance)
    old = layer.properties.get("position", Property())
    first, last = fitted[0].time_s, fitted[-1].time_s
    rest = [key for key in old.keys if not first - 1e-6 <= key.time_s <= last + 1e-6]
    prop = old.with_keys([*rest, *keyframes(fitted, new_id, "matched")])
    return prop.model_copy(update={"flown": samples, "pace": "keys"})


class TakePath(PathEdit):
    """A drawn path becomes the way of a layer, travelled at one speed.

    The path is the longest of a layer's outline (``source``) or points drawn by hand (``points``,
    px of the scene, followed within the tolerance).
    """

    kind: Literal["take-path"] = "take-path"
    source: Id | None = None
    points: Annotated[tuple[Place, ...], Field(max_length=20_000)] = ()
    start_s: SceneTime
    duration_s: Annotated[float, Field(gt=0.01, le=3600, allow_inf_nan=False)]
    tolerance: Tolerance = 6.0

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = placed_layer(scene, self.layer)
        if self.source is not None:
            cubics = _longest(project, scene, self.source, self.start_s, context)
        else:
            if len(self.points) < 2:
                raise DocumentError.expected("points", "at least two points", self.points)
            curves = fit_polyline(np.array(self.points, dtype=np.float64), self.tolerance)
            cubics = [_cubic(curve) for curve in curves]
        if not cubics:
            raise DocumentError("the path has no length", field="points")
        evaluator = SceneEvaluator(project, scene.id)
        cubics = [
            tuple(inward(evaluator, layer, self.start_s, point) for point in cubic)  # type: ignore[misc]
            for cubic in cubics
        ]
        fitted = path_keys(cubics, self.start_s - layer.start_s, self.duration_s)
        keys = tuple(keyframes(fitted, new_id, "smooth"))
        return _with_position(scene, layer, Property(keys=keys, pace="even"))

    def label(self, project: Project) -> str:
        return f"Send {self.who(project)} along a path"


def _cubic(curve: np.ndarray) -> Cubic:
    a, b, c, d = ((float(x), float(y)) for x, y in curve)
    return (a, b, c, d)


def _longest(
    project: Project, scene: Scene, layer_id: str, time_s: float, context: EditContext
) -> list[Cubic]:
    """The longest contour of a layer that has an outline, in pixels of the scene."""
    source = find_layer(scene, layer_id)
    whole = with_this(project, scene)
    outline = context.outline(whole, scene.id, source.id, time_s)
    place = context.evaluator(whole, scene.id).place_of(source.id, time_s)
    if outline is None or place is None:
        raise DocumentError(f"{source.name!r} has no outline", field="source")
    return max(outline.mapped(place).cubics(), key=len, default=[])


def placed_layer(scene: Scene, layer_id: str) -> Layer:
    """A layer that has a position; DocumentError for others."""
    layer = find_layer(scene, layer_id)
    if not layer_kind(layer.kind).placed:
        raise DocumentError(f"{layer.name!r} has no position", field="layer")
    return layer


def inward(
    evaluator: SceneEvaluator, layer: Layer, time_s: float, point: tuple[float, float]
) -> tuple[float, float]:
    """A point of the scene where the layer's position counts: in what it rides on."""
    if layer.rides is None:
        return point
    try:
        return evaluator.places.inward(evaluator.values(layer, time_s), point)
    except ValueError:
        message = f"what {layer.name!r} rides on has no size at this moment"
        raise DocumentError(message, field="layer") from None


def _with_position(scene: Scene, layer: Layer, prop: Property) -> Scene:
    parts = parts_of(layer, "position") or ()
    properties = {name: p for name, p in layer.properties.items() if name not in parts}
    properties["position"] = prop
    return with_properties(scene, layer, properties)


class MovePath(PathEdit):
    """The whole path moved: every key of the position by the same way."""

    kind: Literal["move-path"] = "move-path"
    by: Offset

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = placed_layer(scene, self.layer)

        def moved(target: Target, layer: Layer, spec: PropertySpec, prop: Property) -> Property:
            axis = {"x": 0, "y": 1}.get(spec.id.rpartition(".")[2])

            def shifted(value: Any) -> Any:
                if axis is not None:
                    return value + self.by[axis]
                return (value[0] + self.by[0], value[1] + self.by[1])

            if not prop.keys:
                return prop.model_copy(update={"value": shifted(prop.value)})
            return put_keys(
                prop, [k.model_copy(update={"value": shifted(k.value)}) for k in prop.keys]
            )

        return change_properties(scene, [Target(layer=layer.id, property="position")], moved)

    def label(self, project: Project) -> str:
        return f"Move the path of {self.who(project)}"
