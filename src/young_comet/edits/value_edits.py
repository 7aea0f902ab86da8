"""Operations on values and keys of properties."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable, Sequence
from typing import Annotated, Any, Literal, TypeVar

from pydantic import BaseModel, ConfigDict, Field

from ..core.catalog import find_spec, lane_label, normalise, parts_of, spec_of
from ..core.model import Keyframe, Layer, Project, Property, PropertySpec, Scene
from ..core.model.values import Id, Value
from ..core.motion import insert_key
from ..core.resolve import SceneEvaluator
from ..core.resolve.values import default_value
from ..core.timing import format_timecode
from ..errors import DocumentError, NotFoundError
from .base import (
    EditContext,
    SceneEdit,
    SceneTime,
    find_layer,
    find_scene,
    names_of,
    new_id,
    with_layers,
)

T = TypeVar("T", bound="Target")
C = TypeVar("C")


class Target(BaseModel):
    """One property of one layer."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    layer: Id
    property: str


class ValueTarget(Target):
    """A property of a layer with its new value."""

    value: Value


class KeyTarget(Target):
    """A key of a property of a layer."""

    key: Id


class KeyMove(KeyTarget):
    """A key's new moment (s in the scene) and, where given, its new value."""

    time_s: SceneTime
    value: Value = None


Targets = Annotated[list[Target], Field(min_length=1, max_length=20_000)]
ValueTargets = Annotated[list[ValueTarget], Field(min_length=1, max_length=20_000)]
KeyTargets = Annotated[list[KeyTarget], Field(min_length=1, max_length=20_000)]
KeyMoves = Annotated[list[KeyMove], Field(min_length=1, max_length=20_000)]


class PropertyEdit(SceneEdit):
    """An operation on some properties, one after another."""

    def paths(self, targets: list[Any]) -> list[str]:
        """Paths of the properties of targets."""
        return [f"scenes/{self.scene}/layers/{t.layer}/properties/{t.property}" for t in targets]

    def names(self, project: Project, targets: list[Any]) -> str:
        """``Rotation of Name`` or ``3 properties``."""
        properties = {t.property for t in targets}
        layers = list(dict.fromkeys(t.layer for t in targets))
        who = names_of(project, self.scene, layers)
        if len(properties) > 1:
            return f"{len(properties)} properties of {who}"
        try:
            scene = next(s for s in project.scenes if s.id == self.scene)
            layer = find_layer(scene, layers[0])
            spec = find_spec(layer, targets[0].property)
        except (StopIteration, NotFoundError):
            spec = None
        return f"{lane_label(layer, spec) if spec else targets[0].property} of {who}"

    def at(self, project: Project, time_s: float | None) -> str:
        """`` at 00:01:10`` in the scene's timecode, "" without a time."""
        scene = next((s for s in project.scenes if s.id == self.scene), None)
        if scene is None or time_s is None:
            return ""
        return f" at {format_timecode(time_s, scene.rate.rate)}"


Change = Callable[[Any, Layer, PropertySpec, Property], Property | None]


def expanded(scene: Scene, targets: Sequence[T]) -> list[T]:
    """The targets, a point that its layer has taken apart as its two coordinates."""
    result: list[T] = []
    for target in targets:
        parts = parts_of(find_layer(scene, target.layer), target.property)
        if parts is None:
            result.append(target)
            continue
        for index, part in enumerate(parts):
            update: dict[str, Any] = {"property": part}
            if isinstance(target, ValueTarget):
                pair = isinstance(target.value, list | tuple) and len(target.value) == 2
                if not pair:
                    raise DocumentError.expected(target.property, "two numbers", target.value)
                update["value"] = target.value[index]
            result.append(target.model_copy(update=update))
    return result


def of_target(chosen: dict[tuple[str, str], C], layer: Layer, property_id: str) -> C:
    """What was chosen of a layer's property. DocumentError where keys of a point were chosen that
    its layer has taken apart: these are no more."""
    found = chosen.get((layer.id, property_id))
    if found is None:
        raise DocumentError(
            "this point is taken apart into x and y: choose the keys of these",
            field=f"layer {layer.name!r} / {property_id.removesuffix('.x').removesuffix('.y')}",
        )
    return found


def change_properties(scene: Scene, targets: Sequence[Target], change: Change) -> Scene:
    """The scene with some properties changed, one after another.

    ``change`` gets the target, its layer, declaration and present property (the default where
    none is set); None puts the property back to its default.
    """
    layers: dict[str, Layer] = {}
    for target in expanded(scene, targets):
        layer = layers.get(target.layer) or find_layer(scene, target.layer)
        spec = spec_of(layer, target.property, f"layer {layer.name!r}")
        old = layer.properties.get(target.property)
        if old is None:
            old = Property(value=usual_value(layer, spec, scene))
        properties = dict(layer.properties)
        changed = change(target, layer, spec, old)
        if changed is None:
            properties.pop(target.property, None)
        else:
            properties[target.property] = changed
        layers[layer.id] = layer.model_copy(update={"properties": properties})
    return with_layers(scene, layers, lambda layer: layers[layer.id])


def usual_value(layer: Layer, spec: PropertySpec, scene: Scene) -> Any:
    """The value of a property that is not set, in the document's form: its default, or what that
    which it follows has, at first where it changes."""
    if spec.follows:
        followed = layer.properties.get(spec.follows)
        if followed is not None:
            return followed.keys[0].value if followed.keys else followed.value
        spec = spec_of(layer, spec.follows)
    return default_value(spec, scene)


def key_at(scene: Scene, layer: Layer, prop: Property, time_s: float) -> Keyframe | None:
    """The key within half a frame of a scene time."""
    local, half = time_s - layer.start_s, 0.5 * scene.rate.den / scene.rate.num
    near = [key for key in prop.keys if abs(key.time_s - local) < half]
    return min(near, key=lambda key: abs(key.time_s - local), default=None)


def put_key(prop: Property, key: Keyframe) -> Property:
    """The property with a key added, or replaced where it has the same id or moment."""
    return put_keys(prop, [key])


def put_keys(prop: Property, keys: Sequence[Keyframe]) -> Property:
    """The property with keys added, replacing those with the same ids or moments."""
    ids = {key.id for key in keys}
    times = sorted(key.time_s for key in keys)

    def taken(time_s: float) -> bool:
        at = bisect_left(times, time_s)
        return any(abs(times[i] - time_s) <= 1e-6 for i in (at - 1, at) if 0 <= i < len(times))

    rest = [key for key in prop.keys if key.id not in ids and not taken(key.time_s)]
    kept: dict[int, Keyframe] = {round(key.time_s * 1e6): key for key in keys}
    return prop.with_keys([*rest, *kept.values()])


class SetValues(PropertyEdit):
    """New values. A property with keys gets one at ``time_s``, or its value changed there."""

    kind: Literal["set-values"] = "set-values"
    targets: ValueTargets
    time_s: SceneTime | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        def changed(
            target: ValueTarget, layer: Layer, spec: PropertySpec, prop: Property
        ) -> Property:
            field = f"layer {layer.name!r} / {spec.label}"
            value = normalise(spec, target.value, field)
            if not prop.keys:
                return prop.model_copy(update={"value": value})
            if self.time_s is None:
                raise DocumentError("a value of keys needs the time of the key", field=field)
            old = key_at(scene, layer, prop, self.time_s)
            if old is not None:
                return put_key(prop, old.model_copy(update={"value": value}))
            return put_key(prop, new_key(project, spec, self.time_s - layer.start_s, value))

        return change_properties(scene, self.targets, changed)

    def label(self, project: Project) -> str:
        return f"Set {self.names(project, self.targets)}{self._to(project)}"

    def _to(self, project: Project) -> str:
        """What one property is set to, and when where it has keys."""
        target, *rest = self.targets
        try:
            scene = find_scene(project, self.scene)
            layer = find_layer(scene, target.layer)
            spec = spec_of(layer, target.property)
            value = normalise(spec, target.value, spec.label)
        except (DocumentError, NotFoundError):
            return ""
        if any(each.property != target.property for each in rest):
            return ""
        same = all(each.value == target.value for each in rest)
        said = spec.kind.said(value, spec) if same else ""
        prop = layer.properties.get(target.property)
        when = self.at(project, self.time_s) if prop and prop.keys else ""
        return (f" to {said}" if said else "") + when

    def touches(self) -> list[str]:
        return self.paths(self.targets)


def with_values(
    project: Project,
    scene: Scene,
    values: list[tuple[str, str, Any]],
    time_s: float,
    context: EditContext,
) -> Scene:
    """The scene with new values (layer, property, value) at a time, as ``SetValues`` sets them."""
    targets = [ValueTarget(layer=la, property=name, value=value) for la, name, value in values]
    edit = SetValues(scene=scene.id, targets=targets, time_s=time_s)
    return edit.change(project, scene, context)


def without_keys(prop: Property, value: Any) -> Property:
    """The property with a value in place of its keys; its expression stays."""
    return Property(value=value, expression=prop.expression)


def new_key(project: Project, spec: PropertySpec, local_s: float, value: Any) -> Keyframe:
    """A key as people get it: eased as the project says; on a path it is passed smoothly."""
    easing = "hold" if spec.kind.holds else project.settings.new_key_easing
    key = Keyframe(id=new_id(), time_s=local_s, value=value, easing=easing)
    return key.model_copy(update={"join": "smooth"}) if spec.id == "position" else key


class ResetProperties(PropertyEdit):
    """Back to the default; keys go."""

    kind: Literal["reset-properties"] = "reset-properties"
    targets: Targets

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        return change_properties(scene, self.targets, lambda *_: None)

    def label(self, project: Project) -> str:
        return f"Reset {self.names(project, self.targets)}"

    def touches(self) -> list[str]:
        return self.paths(self.targets)


class SetKeys(PropertyEdit):
    """A key at a time with the value the property has there; where one is, it stays.

    Between two keys it is put in so that path and motion stay as they are.
    """

    kind: Literal["set-keys"] = "set-keys"
    targets: Targets
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        evaluator = SceneEvaluator(project, scene.id)

        def changed(target: Target, layer: Layer, spec: PropertySpec, prop: Property) -> Property:
            if not spec.animatable:
                raise DocumentError(f"{spec.label} cannot have keys", field=layer.name)
            if key_at(scene, layer, prop, self.time_s) is not None:
                return prop
            local = self.time_s - layer.start_s
            value, track = prop.value, evaluator.track(layer, target.property)
            if track is not None:  # what the keys give: an expression is put on top of it
                value = spec.kind.to_json(track.at(local))
            key = new_key(project, spec, local, normalise(spec, value, spec.label))
            return put_key(prop, key) if track is None else insert_key(prop, track, local, key)

        return change_properties(scene, self.targets, changed)

    def label(self, project: Project) -> str:
        return f"Key {self.names(project, self.targets)}{self.at(project, self.time_s)}"

    def touches(self) -> list[str]:
        return self.paths(self.targets)


class RemoveKeys(PropertyEdit):
    """Keys go; after the last one the property keeps that key's value."""

    kind: Literal["remove-keys"] = "remove-keys"
    keys: KeyTargets

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        def changed(
            target: KeyTarget, layer: Layer, spec: PropertySpec, prop: Property
        ) -> Property:
            key = find_key(layer, prop, target.key)
            rest = tuple(other for other in prop.keys if other is not key)
            return prop.with_keys(rest) if rest else without_keys(prop, key.value)

        return change_properties(scene, self.keys, changed)

    def label(self, project: Project) -> str:
        return f"Delete {count_keys(self.keys)} of {self.names(project, self.keys)}"

    def touches(self) -> list[str]:
        return self.paths(self.keys)


class ClearKeys(PropertyEdit):
    """All keys of some properties go; each keeps the value it has at a time."""

    kind: Literal["clear-keys"] = "clear-keys"
    targets: Targets
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        evaluator = SceneEvaluator(project, scene.id)

        def changed(target: Target, layer: Layer, spec: PropertySpec, prop: Property) -> Property:
            if not prop.keys:
                return prop
            track = evaluator.track(layer, target.property)
            value = prop.value if track is None else track.at(self.time_s - layer.start_s)
            return without_keys(prop, normalise(spec, spec.kind.to_json(value), spec.label))

        return change_properties(scene, self.targets, changed)

    def label(self, project: Project) -> str:
        return f"Stop animating {self.names(project, self.targets)}"

    def touches(self) -> list[str]:
        return self.paths(self.targets)


class MoveKeys(PropertyEdit):
    """Keys get new moments and values; a key they land on is replaced.

    Moments are snapped to frames unless ``free``.
    """

    kind: Literal["move-keys"] = "move-keys"
    moves: KeyMoves
    free: bool = False

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        moved: dict[tuple[str, str], list[KeyMove]] = {}
        for move in self.moves:
            moved.setdefault((move.layer, move.property), []).append(move)
        rate = scene.rate.rate

        def changed(target: Target, layer: Layer, spec: PropertySpec, prop: Property) -> Property:
            field = f"layer {layer.name!r} / {spec.label}"
            new = []
            for move in of_target(moved, layer, target.property):
                key = find_key(layer, prop, move.key)
                time_s = move.time_s if self.free else rate.snap(move.time_s)
                update: dict[str, Any] = {"time_s": time_s - layer.start_s}
                if move.value is not None:
                    update["value"] = normalise(spec, move.value, field)
                new.append(key.model_copy(update=update))
            return put_keys(prop, new)

        targets = [Target(layer=layer, property=name) for layer, name in moved]
        return change_properties(scene, targets, changed)

    def label(self, project: Project) -> str:
        return f"Move {count_keys(self.moves)} of {self.names(project, self.moves)}"

    def touches(self) -> list[str]:
        return self.paths(self.moves)


def find_key(layer: Layer, prop: Property, key_id: str) -> Keyframe:
    """A key of a property by its id; NotFoundError where there is none."""
    for key in prop.keys:
        if key.id == key_id:
            return key
    raise NotFoundError(f"layer {layer.name!r} has no key {key_id!r} there", field="key")


def count_keys(keys: list[Any]) -> str:
    """How many keys, in words."""
    return "a key" if len(keys) == 1 else f"{len(keys)} keys"
