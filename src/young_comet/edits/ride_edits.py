"""Operations on riding: layers that take over the place of others."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, ClassVar, Literal

from ..core.catalog import layer_kind, parts_of
from ..core.geometry.affine import Affine
from ..core.geometry.projective import Projective
from ..core.model import Keyframe, Layer, Project, Property, Scene
from ..core.model.values import Id, Name
from ..core.motion import PlaceValues, taken_over
from ..core.resolve import SceneEvaluator
from ..core.resolve.values import LayerValues
from ..errors import DocumentError
from .base import (
    EditContext,
    LayerIds,
    NewId,
    SceneEdit,
    SceneTime,
    find_layer,
    names_of,
    with_layers,
    with_scene,
)
from .named import refuse_known

MAX_SKEW = 85.0
_PLACE = ("position", "rotation", "scale", "skew")


class Ride(SceneEdit):
    """Layers ride on another (``on`` None: on nothing any more).

    What is seen at ``time_s`` does not jump: the values of their places are taken over into the
    new space, keys as a whole with them. With ``every_key`` each key is taken over at its own
    time, so that the layers are where they were at every key, also where what they ride on
    moves.
    """

    in_each: ClassVar[bool] = True
    kind: Literal["ride"] = "ride"
    layers: LayerIds
    on: Id | None = None
    time_s: SceneTime
    every_key: bool = False

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        on = None if self.on is None else find_layer(scene, self.on)
        if on is not None and not layer_kind(on.kind).placed:
            raise DocumentError(f"{on.name!r} has no place of its own to ride on", field="on")
        for layer_id in self.layers:
            layer = find_layer(scene, layer_id)
            if not layer_kind(layer.kind).placed:
                message = f"{layer.name!r} has no place of its own and cannot ride"
                raise DocumentError(message, field="layers")
            if on is not None and _is_under(scene, on, layer_id):
                message = f"{on.name!r} rides on {layer.name!r} itself"
                if on.id == layer.id:
                    message = f"{on.name!r} cannot ride on itself"
                raise DocumentError(message, field="on")
        return ridden(project, scene, self.layers, self.on, self.time_s, self.every_key)

    def label(self, project: Project) -> str:
        names = names_of(project, self.scene, self.layers)
        if self.on is None:
            return f"{names} rides on nothing"
        return f"{names} rides on {names_of(project, self.scene, [self.on])}"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers)


class CarryTogether(SceneEdit):
    """A carrier at the common middle of some layers, on which they ride from now on. Those that
    ride on one of the others already go on doing so."""

    in_each: ClassVar[bool] = True
    kind: Literal["carry-together"] = "carry-together"
    layers: LayerIds
    id: NewId
    name: Name = "Carrier"
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        chosen = [find_layer(scene, layer_id) for layer_id in self.layers]
        placed = [layer for layer in chosen if layer_kind(layer.kind).placed]
        if not placed:
            raise DocumentError("none of these layers has a place", field="layers")
        refuse_known(scene.layers, self.id, "layer", "id")
        inside = {layer.id for layer in placed}
        lowest = [layer for layer in placed if layer.rides not in inside]
        now = with_scene(project, scene.id, lambda _: scene)
        boxes = [context.bounds(now, scene.id, layer.id, self.time_s) for layer in placed]
        known = [box for box in boxes if box is not None]
        middle = (scene.width / 2, scene.height / 2)
        if known:
            middle = (
                (min(b[0] for b in known) + max(b[2] for b in known)) / 2,
                (min(b[1] for b in known) + max(b[3] for b in known)) / 2,
            )
        below = {layer.rides for layer in lowest}
        common = below.pop() if len(below) == 1 else None
        carrier = Layer(
            id=self.id, name=self.name, kind="carrier",
            start_s=min(layer.start_s for layer in placed),
            end_s=max(layer.end_s for layer in placed),
            properties={"position": Property(value=tuple(round(v, 3) for v in middle))},
        )  # fmt: skip
        highest = max(i for i, layer in enumerate(scene.layers) if layer.id in inside)
        layers = (*scene.layers[: highest + 1], carrier, *scene.layers[highest + 1 :])
        scene = scene.model_copy(update={"layers": layers})
        if common is not None:  # the carrier takes their place on what they rode on together
            scene = ridden(project, scene, [self.id], common, self.time_s, False)
        return ridden(project, scene, [la.id for la in lowest], self.id, self.time_s, False)

    def label(self, project: Project) -> str:
        return f"Carry {names_of(project, self.scene, self.layers)} together"

    def touches(self) -> list[str]:
        return self.layer_paths([*self.layers, self.id])


def _is_under(scene: Scene, layer: Layer, layer_id: str) -> bool:
    """Whether a layer is, or rides at last on, the one of that id."""
    layers = {each.id: each for each in scene.layers}
    seen = set()
    at: Layer | None = layer
    while at is not None and at.id not in seen:
        if at.id == layer_id:
            return True
        seen.add(at.id)
        at = layers.get(at.rides or "")
    return False


def ridden(
    project: Project, scene: Scene, layer_ids: list[str], on: str | None, time_s: float,
    every_key: bool,
) -> Scene:  # fmt: skip
    """The scene with some layers riding on another one and seen where they were."""
    before = SceneEvaluator(with_scene(project, scene.id, lambda _: scene), scene.id)
    changed = with_layers(scene, layer_ids, lambda la: la.model_copy(update={"rides": on}))
    after = SceneEvaluator(with_scene(project, scene.id, lambda _: changed), scene.id)
    result = changed
    for layer_id in layer_ids:
        layer, new = find_layer(scene, layer_id), find_layer(changed, layer_id)
        if layer.rides == on:
            continue
        change = _Change(before, after, layer, new, time_s, every_key)
        moved = new.model_copy(update={"properties": _converted(before, layer, change, time_s)})
        result = with_layers(result, [layer_id], lambda _, moved=moved: moved)  # type: ignore[misc]
    return result


class _Change:
    """The map from the space that a layer rode in to the one it rides in, at a time."""

    def __init__(
        self, before: SceneEvaluator, after: SceneEvaluator, old: Layer, new: Layer,
        time_s: float, every_key: bool,
    ) -> None:  # fmt: skip
        self._before, self._after, self._old, self._new = before, after, old, new
        self._time_s, self._every_key = time_s, every_key

    def at(self, time_s: float) -> Projective:
        moment = time_s if self._every_key else self._time_s
        there = _carrying(self._before, self._old, moment)
        back = _carrying(self._after, self._new, moment)
        try:
            return back.inverse() @ there
        except ValueError:
            name = names_of(self._after.project, self._after.scene.id, [self._new.rides or ""])
            message = f"{name} has no width or height at this moment: nothing can ride on it here"
            raise DocumentError(message, field="on") from None


def _carrying(evaluator: SceneEvaluator, layer: Layer, time_s: float) -> Projective:
    values = evaluator.values(layer, time_s)
    lens = evaluator.places.carrier_lens(values)
    return lens or Projective.of(evaluator.places.carrier(values))


def _converted(
    evaluator: SceneEvaluator, layer: Layer, change: _Change, time_s: float
) -> dict[str, Property]:
    properties = dict(layer.properties)

    def aligned(axis: int) -> bool:
        prop = layer.properties.get("align.x" if axis == 0 else "align.y")
        return prop is not None and prop.value != "none"

    for name in _PLACE:
        if name == "rotation" and evaluator.values(layer, time_s)("turn.on"):
            continue  # its way is turned, and so is it
        pick = _PICKS[name]
        for axis, part in enumerate(parts_of(layer, name) or (name,)):
            split = part != name
            if name == "position" and (aligned(axis) if split else aligned(0) or aligned(1)):
                continue

            def value(
                at_s: float, split: bool = split, axis: int = axis,
                pick: Callable[[PlaceValues], Any] = pick,
            ) -> tuple[Any, Affine]:  # fmt: skip
                there, local = taken_over(
                    _place_values(evaluator.values(layer, at_s)), change.at(at_s)
                )
                found = pick(there)
                return (found[axis] if split else found), local

            old = layer.properties.get(part)
            if old is not None and old.keys:
                keys = [_key(layer, key, value(layer.start_s + key.time_s)) for key in old.keys]
                properties[part] = old.model_copy(update={"keys": tuple(keys), "flown": None})
                continue
            new, _ = value(time_s)
            present = evaluator.values(layer, time_s).keyed(part)
            if _far(new, present):
                base = old or Property()
                properties[part] = base.model_copy(update={"value": _rounded(new), "flown": None})
    return properties


_PICKS: dict[str, Callable[[PlaceValues], Any]] = {
    "position": lambda p: p.position,
    "rotation": lambda p: p.rotation_deg,
    "scale": lambda p: (p.scale[0] * 100, p.scale[1] * 100),
    "skew": lambda p: tuple(min(MAX_SKEW, max(-MAX_SKEW, s)) for s in p.skew),
}


def _place_values(v: LayerValues) -> PlaceValues:
    sx, sy = v.keyed("scale")
    return PlaceValues(
        v.keyed("position"), v.keyed("rotation"), (sx / 100, sy / 100), v.keyed("skew")
    )


def _key(layer: Layer, key: Keyframe, found: tuple[Any, Affine]) -> Keyframe:
    new, local = found
    update: dict[str, Any] = {"value": _rounded(new)}
    for side in ("handle_in", "handle_out"):
        handle = getattr(key, side)
        if handle is not None:
            update[side] = tuple(round(v, 4) for v in local(handle))
    return key.model_copy(update=update)


def _rounded(value: Any) -> Any:
    if isinstance(value, tuple):
        return tuple(round(v, 6) for v in value)
    return round(value, 6)


def _far(a: Any, b: Any) -> bool:
    if isinstance(a, tuple):
        return any(abs(p - q) > 1e-6 for p, q in zip(a, b, strict=True))
    result: bool = abs(a - b) > 1e-6
    return result


def released(project: Project, scene: Scene, gone: set[str]) -> Scene:
    """The scene with whatever rides on layers that go riding on what those ride on, seen where
    it was at every key."""
    layers = {layer.id: layer for layer in scene.layers}
    for layer in scene.layers:
        if layer.id in gone or layer.rides not in gone:
            continue
        below = layers.get(layer.rides or "")
        while below is not None and below.id in gone:
            below = layers.get(below.rides or "")
        on = below.id if below is not None else None
        scene = ridden(project, scene, [layer.id], on, layer.start_s, True)
    return scene
