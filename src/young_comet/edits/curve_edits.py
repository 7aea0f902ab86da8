"""Operations on the shape of curves: handles, how keys join, x and y apart, the pace."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from ..core.catalog import parts_of, spec_of
from ..core.model import Keyframe, Kind, Layer, Project, Property, PropertySpec, Scene, Track
from ..core.model.values import Id
from ..core.motion import join_tracks, keyframes, split_track
from ..core.motion.paths import settled
from ..core.resolve import SceneEvaluator
from ..core.resolve.values import default_value
from ..core.timing import CubicBezier, parse_easing
from ..errors import DocumentError
from .base import EditContext, find_layer, new_id, with_properties
from .key_edits import KeysEdit, chosen_keys, chosen_targets
from .value_edits import PropertyEdit, Target, Targets, change_properties, find_key, of_target

_STRAIGHT = (1 / 3, 1 / 3, 2 / 3, 2 / 3)


class DragHandle(PropertyEdit):
    """One side of a key's easing by its handle in the lane.

    ``reach`` is the handle's distance in time as a fraction of the segment, ``value`` where it
    points in the unit of the property (``part``: of which coordinate). A matched key turns its
    other handle along, so that the speed stays the same on both sides.
    """

    kind: Literal["drag-handle"] = "drag-handle"
    layer: Id
    property: str
    key: Id
    side: Literal["leave", "arrive"]
    reach: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
    value: Annotated[float, Field(allow_inf_nan=False)]
    part: Literal[0, 1] = 0

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        evaluator = SceneEvaluator(project, scene.id)

        def dragged(target: Target, layer: Layer, spec: PropertySpec, prop: Property) -> Property:
            track = evaluator.track(layer, target.property)
            key = find_key(layer, prop, self.key)
            index = prop.keys.index(key)
            segment = index if self.side == "leave" else index - 1
            if track is None or not 0 <= segment < len(prop.keys) - 1:
                raise DocumentError("there is no key on that side", field="side")
            keys = settled(prop, track, (segment, segment + 1))
            keys[segment] = self._eased(keys[segment], track, segment)
            if keys[index].join == "matched":
                keys = matched(keys, track, index, self.side)
            return prop.with_keys(keys)

        targets = [Target(layer=self.layer, property=self.property)]
        return change_properties(scene, targets, dragged)

    def _eased(self, key: Keyframe, track: Track, segment: int) -> Keyframe:
        x1, y1, x2, y2 = track.easing(segment).handles or _STRAIGHT
        a, b = (_coordinate(track.keys[i].value, self.part) for i in (segment, segment + 1))
        level = (self.value - a) / (b - a) if abs(b - a) > 1e-9 else None
        if self.side == "leave":
            x1, y1 = self.reach, y1 if level is None else level
        else:
            x2, y2 = 1 - self.reach, y2 if level is None else level
        return key.model_copy(update={"easing": CubicBezier.limited(x1, y1, x2, y2).text})

    def label(self, project: Project) -> str:
        target = Target(layer=self.layer, property=self.property)
        return f"Shape the curve of {self.names(project, [target])}"

    def touches(self) -> list[str]:
        return self.paths([Target(layer=self.layer, property=self.property)])


def _coordinate(value: Any, part: int) -> float:
    return float(value[part]) if isinstance(value, tuple) else float(value)


def matched(keys: list[Keyframe], track: Track, index: int, lead: str | None) -> list[Keyframe]:
    """The keys with the handles of one turned to one speed: that of the side that leads, or
    the mean of both. Reaches stay."""
    if not 0 < index < len(keys) - 1:
        return keys
    before = parse_easing(keys[index - 1].easing).handles or _STRAIGHT
    after = parse_easing(keys[index].easing).handles or _STRAIGHT
    spans = [keys[i + 1].time_s - keys[i].time_s for i in (index - 1, index)]
    ways = [_way(track, i) for i in (index - 1, index)]
    arrive_x, arrive_y = 1 - before[2], 1 - before[3]
    leave_x, leave_y = after[0], after[1]
    arriving = arrive_y / max(arrive_x, 1e-3) * ways[0] / spans[0]
    leaving = leave_y / max(leave_x, 1e-3) * ways[1] / spans[1]
    speed = {"leave": leaving, "arrive": arriving, None: (arriving + leaving) / 2}[lead]
    keys = list(keys)
    if lead != "arrive" and abs(ways[0]) > 1e-9:
        y = 1 - speed * spans[0] / ways[0] * arrive_x
        easing = CubicBezier.limited(before[0], before[1], before[2], y)
        keys[index - 1] = keys[index - 1].model_copy(update={"easing": easing.text})
    if lead != "leave" and abs(ways[1]) > 1e-9:
        easing = CubicBezier.limited(
            after[0], speed * spans[1] / ways[1] * leave_x, after[2], after[3]
        )
        keys[index] = keys[index].model_copy(update={"easing": easing.text})
    return keys


def _way(track: Track, index: int) -> float:
    """How far a segment goes: with its sign for numbers, along the path for points."""
    if track.kind is Kind.NUMBER:
        return float(track.keys[index + 1].value - track.keys[index].value)
    return track.length(index)


class JoinKeys(KeysEdit):
    """How the two sides of keys meet: free, smooth by themselves, or matched by handles.

    Curves that were smooth keep their shape when they are set free or matched.
    """

    kind: Literal["join-keys"] = "join-keys"
    join: Literal["free", "smooth", "matched"]

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        evaluator = SceneEvaluator(project, scene.id)
        chosen = chosen_keys(self.keys)

        def joined(target: Target, layer: Layer, spec: PropertySpec, prop: Property) -> Property:
            ids = of_target(chosen, layer, target.property)
            for key_id in ids:
                find_key(layer, prop, key_id)
            track = evaluator.track(layer, target.property)
            assert track is not None
            mine = [i for i, key in enumerate(prop.keys) if key.id in ids]
            keys = list(prop.keys) if self.join == "smooth" else settled(prop, track, mine)
            for index in mine:
                keys[index] = keys[index].model_copy(update={"join": self.join})
                if self.join == "matched" and _both_bezier(track, index):
                    keys = _plain_easings(keys, track, index)
                    keys = matched(keys, track, index, None)
            return prop.with_keys(keys)

        return change_properties(scene, chosen_targets(chosen), joined)

    def label(self, project: Project) -> str:
        return self.said(project, {"free": "Free", "smooth": "Smooth"}.get(self.join, "Match"))


def _both_bezier(track: Track, index: int) -> bool:
    return 0 < index < len(track.keys) - 1 and all(
        track.keys[i].easing.handles is not None for i in (index - 1, index)
    )


def _plain_easings(keys: list[Keyframe], track: Track, index: int) -> list[Keyframe]:
    """References and names on both sides of a key written out, so that they can be turned."""
    keys = list(keys)
    for i in (index - 1, index):
        handles = track.easing(i).handles or _STRAIGHT
        keys[i] = keys[i].model_copy(update={"easing": CubicBezier.limited(*handles).text})
    return keys


class SplitProperty(PropertyEdit):
    """Points taken apart: x and y get lanes and keys of their own, the motion stays."""

    arranged: ClassVar[bool] = False
    kind: Literal["split-property"] = "split-property"
    targets: Targets

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        evaluator = SceneEvaluator(project, scene.id)
        for target in self.targets:
            layer = find_layer(scene, target.layer)
            spec = spec_of(layer, target.property, f"layer {layer.name!r}")
            if not spec.split:
                raise DocumentError(f"{spec.label} cannot be split into x and y", field=layer.name)
            if parts_of(layer, spec.id):
                continue
            scene = _with_parts(scene, layer, spec, evaluator)
        return scene

    def label(self, project: Project) -> str:
        return f"Split {self.names(project, self.targets)} into x and y"

    def touches(self) -> list[str]:
        return [path.rsplit("/", 1)[0] for path in self.paths(self.targets)]


def _with_parts(scene: Scene, layer: Layer, spec: PropertySpec, evaluator: SceneEvaluator) -> Scene:
    prop = layer.properties.get(spec.id) or Property(value=default_value(spec, scene))
    track = evaluator.track(layer, spec.id)
    names = [part.id for part in spec.parts()]
    properties = {name: p for name, p in layer.properties.items() if name != spec.id}
    if track is None:
        for index, name in enumerate(names):
            properties[name] = Property(value=prop.value[index])
    else:
        frame_s = scene.rate.den / scene.rate.num
        for name, fitted in zip(names, split_track(track, frame_s), strict=True):
            keys = tuple(keyframes(fitted, new_id, "free"))
            properties[name] = Property(keys=keys, repeat=prop.repeat)
    return with_properties(scene, layer, properties)


class JoinProperty(PropertyEdit):
    """x and y put together to a point again, the motion staying within half a pixel."""

    arranged: ClassVar[bool] = False
    kind: Literal["join-property"] = "join-property"
    targets: Targets

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        evaluator = SceneEvaluator(project, scene.id)
        for target in self.targets:
            layer = find_layer(scene, target.layer)
            spec = spec_of(layer, target.property, f"layer {layer.name!r}")
            if not spec.split or not (parts := parts_of(layer, spec.id)):
                raise DocumentError(f"{spec.label} is not split", field=layer.name)
            prop = _joined(scene, layer, spec, parts, evaluator)
            properties = {n: p for n, p in layer.properties.items() if n not in parts}
            properties[spec.id] = prop
            scene = with_properties(scene, layer, properties)
        return scene

    def label(self, project: Project) -> str:
        return f"Join x and y of {self.names(project, self.targets)}"

    def touches(self) -> list[str]:
        return [path.rsplit("/", 1)[0] for path in self.paths(self.targets)]


def _joined(
    scene: Scene, layer: Layer, spec: PropertySpec, parts: Sequence[str], evaluator: SceneEvaluator
) -> Property:
    values = evaluator.values(layer, layer.start_s)
    tracks = [values.track(part) for part in parts]
    if not any(tracks):
        return Property(value=(values(parts[0]), values(parts[1])))
    repeats = {layer.properties[p].repeat for p in parts if p in layer.properties}
    known = next(track for track in tracks if track is not None)
    whole = [
        track or _still(values(part), known) for track, part in zip(tracks, parts, strict=True)
    ]
    same = len({(t.start_s, t.end_s) for t in whole}) == 1 and len(repeats) == 1
    if not same and any(repeats):
        raise DocumentError(
            "x and y repeat differently; take the repeat away before joining", field=spec.label
        )
    once = [Track(track.kind, track.keys) for track in whole]
    frame_s = scene.rate.den / scene.rate.num
    keys = tuple(keyframes(join_tracks(once[0], once[1], frame_s), new_id, "free"))
    return Property(keys=keys, repeat=next(iter(repeats)) if same else None)


def _still(value: float, like: Track) -> Track:
    return Track(Kind.NUMBER, [replace(key, value=value) for key in like.keys])


class SetPace(PropertyEdit):
    """Whether a path is travelled by its keys' easings or at one speed from end to end."""

    kind: Literal["set-pace"] = "set-pace"
    targets: Targets
    pace: Literal["keys", "even"]

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        def changed(target: Target, layer: Layer, spec: PropertySpec, prop: Property) -> Property:
            if spec.kind is not Kind.POINT:
                raise DocumentError("only a point can have an even pace", field=spec.label)
            return prop.model_copy(update={"pace": self.pace})

        return change_properties(scene, self.targets, changed)

    def label(self, project: Project) -> str:
        what = "Even pace" if self.pace == "even" else "Pace by keys"
        return f"{what} for {self.names(project, self.targets)}"

    def touches(self) -> list[str]:
        return self.paths(self.targets)
