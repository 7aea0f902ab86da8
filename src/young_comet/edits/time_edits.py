"""Operations on layers in time: spans, slipping, splitting, speed, the time curve."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..core.catalog import TRANSITIONS, find_spec
from ..core.model import Asset, Keyframe, Layer, Project, Property, RateModel, Scene
from ..core.model.values import Id
from ..core.resolve import SceneEvaluator
from ..core.resolve.contents import playback_of, source_second
from ..errors import DocumentError
from .arrangement_finding import with_copied_stands
from .base import (
    EditContext,
    LayerIds,
    SceneEdit,
    SceneTime,
    find_layer,
    names_of,
    new_id,
    snap_span,
    with_layers,
    with_properties,
)
from .layer_edits import next_name, with_references

# Kinds of layers that play something: footage, a sound, or another scene.
PLAYED = ("clip", "sound", "scene")


@dataclass(frozen=True)
class InnerSource:
    """A placed scene as something that is played: it is as long as the scene, and has no frames
    of its own to be met."""

    duration_s: float
    rate: RateModel | None = None
    frame_count: int = 0


class Span(BaseModel):
    """When one layer is on."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    layer: Id
    start_s: SceneTime
    end_s: SceneTime


class SetSpans(SceneEdit):
    """Start and end of layers, snapped to frames.

    ``slide`` takes keys and footage along with the start; ``trim`` leaves them where they are
    in the scene; linked copies lose as much of their start, as they share the keys. ``ripple``
    moves what starts at or after the old end along with the end; a start that is trimmed then
    closes its gap.
    """

    kind: Literal["set-spans"] = "set-spans"
    spans: Annotated[list[Span], Field(min_length=1, max_length=2000)]
    mode: Literal["slide", "trim"] = "slide"
    ripple: bool = False

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        spans = {span.layer: span for span in self.spans}
        before = {layer_id: find_layer(scene, layer_id) for layer_id in spans}

        def spanned(layer: Layer) -> Layer:
            span = spans[layer.id]
            field = f"layer {layer.name!r} / span"
            start_s, end_s = snap_span(scene, span.start_s, span.end_s, field)
            if self.mode == "trim":
                layer = trimmed(layer, start_s, end_s)
                if self.ripple and start_s != before[layer.id].start_s:
                    layer = slid(layer, before[layer.id].start_s - start_s)
                return layer
            return layer.model_copy(update={"start_s": start_s, "end_s": end_s})

        changed = _copies_trimmed(with_layers(scene, spans, spanned), before)
        return _rippled(changed, before) if self.ripple else changed

    def label(self, project: Project) -> str:
        names = names_of(project, self.scene, [span.layer for span in self.spans])
        ripple = " with what follows" if self.ripple else ""
        return f"{'Slide' if self.mode == 'slide' else 'Trim'} {names}{ripple}"

    def touches(self) -> list[str]:
        if self.ripple:
            return [f"scenes/{self.scene}/layers"]
        return self.layer_paths((span.layer for span in self.spans), "/span")


def trimmed(layer: Layer, start_s: float, end_s: float, shift: float | None = None) -> Layer:
    """The layer with another span, its keys and footage staying where they are: so many seconds
    later after its start, which are those of the start unless told otherwise."""
    shift = layer.start_s - start_s if shift is None else shift
    properties = layer.properties
    if shift:
        properties = _with_keys_moved(properties, shift)
        if layer.kind in PLAYED:
            properties = _slipped(properties, -shift)
    update = {"start_s": start_s, "end_s": end_s, "properties": properties}
    return layer.model_copy(update=update)


def _copies_trimmed(scene: Scene, before: dict[str, Layer]) -> Scene:
    """Linked copies of trimmed layers without as much of their start: what they share is then the
    same again, and stays where it is in the scene. One too short for that keeps its start."""
    layers = []
    for layer in scene.layers:
        old = before.get(layer.copy_of or "")
        if old is not None and layer.id not in before:
            new = find_layer(scene, old.id)
            shift = old.start_s - new.start_s
            start_s = layer.start_s - shift
            moved = new.properties != old.properties and new.start_s != old.start_s
            if moved and 0 <= start_s < layer.end_s - 1e-6:
                layer = trimmed(layer, start_s, layer.end_s, shift)
        layers.append(layer)
    return scene.model_copy(update={"layers": tuple(layers)})


def slid(layer: Layer, by_s: float) -> Layer:
    """A layer moved in time."""
    return layer.model_copy(update={"start_s": layer.start_s + by_s, "end_s": layer.end_s + by_s})


def _with_keys_moved(properties: dict[str, Property], by_s: float) -> dict[str, Property]:
    def moved(prop: Property) -> Property:
        if not prop.keys:
            return prop
        keys = tuple(key.model_copy(update={"time_s": key.time_s + by_s}) for key in prop.keys)
        return prop.model_copy(update={"keys": keys})

    return {name: moved(prop) for name, prop in properties.items()}


def _slipped(properties: dict[str, Property], by_s: float) -> dict[str, Property]:
    """Footage moved on by some seconds of the layer."""

    def number(name: str, default: float) -> float:
        prop = properties.get(name)
        return default if prop is None else float(prop.value)

    offset = number("time.offset", 0.0) + by_s * number("time.speed", 100.0) / 100
    return {**properties, "time.offset": Property(value=round(offset, 6))}


def _rippled(scene: Scene, before: dict[str, Layer]) -> Scene:
    """What starts at or after the end of a changed layer moved as far as that end did."""
    ends = {layer_id: find_layer(scene, layer_id).end_s for layer_id in before}
    shifts = [(old.end_s, ends[i] - old.end_s) for i, old in before.items()]
    layers = []
    for layer in scene.layers:
        if layer.id not in before:
            hits = [by for end, by in shifts if layer.start_s >= end - 1e-6 and abs(by) > 1e-9]
            if hits:
                layer = slid(layer, max(hits, key=abs))
        layers.append(layer)
    return scene.model_copy(update={"layers": tuple(layers)})


class HandOver(SceneEdit):
    """One layer ends where another starts, at a moment; what they show stays where it is."""

    kind: Literal["hand-over"] = "hand-over"
    one: Id
    other: Id
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        one, other = find_layer(scene, self.one), find_layer(scene, self.other)
        if one.id == other.id:
            raise DocumentError("a layer cannot hand over to itself", field="other")
        rate = scene.rate.rate
        at = rate.time_of(rate.nearest_frame(self.time_s))
        half = rate.time_of(1) / 2
        if at < one.start_s + half:
            raise DocumentError(
                f"{one.name!r} would have nothing left: it starts then", field="time_s"
            )
        if at > other.end_s - half:
            raise DocumentError(
                f"{other.name!r} would have nothing left: it ends then", field="time_s"
            )
        spans = {one.id: (one.start_s, at), other.id: (at, other.end_s)}
        before = {one.id: one, other.id: other}
        changed = with_layers(scene, spans, lambda layer: trimmed(layer, *spans[layer.id]))
        return _copies_trimmed(changed, before)

    def label(self, project: Project) -> str:
        one, other = (names_of(project, self.scene, [each]) for each in (self.one, self.other))
        return f"Cut from {one} to {other}"

    def touches(self) -> list[str]:
        return self.layer_paths((self.one, self.other), "/span")


class ExtendLayers(SceneEdit):
    """Layers go on to the end of the scene."""

    kind: Literal["extend-layers"] = "extend-layers"
    layers: LayerIds

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        def extended(layer: Layer) -> Layer:
            if layer.start_s >= scene.length_s - 1e-6:
                raise DocumentError("it starts after the scene's end", field=layer.name)
            return layer.model_copy(update={"end_s": scene.length_s})

        return with_layers(scene, self.layers, extended)

    def label(self, project: Project) -> str:
        return f"Extend {names_of(project, self.scene, self.layers)} to the end"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers, "/span")


class SlipLayers(SceneEdit):
    """What a layer shows moves in time under its span: keys and footage, later by ``by_s``."""

    kind: Literal["slip-layers"] = "slip-layers"
    layers: LayerIds
    by_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        def slipped(layer: Layer) -> Layer:
            properties = _with_keys_moved(layer.properties, self.by_s)
            if layer.kind in PLAYED:
                properties = _slipped(properties, -self.by_s)
            return layer.model_copy(update={"properties": properties})

        return with_layers(scene, self.layers, slipped)

    def label(self, project: Project) -> str:
        return f"Slip {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers, "/properties")


class SplitLayers(SceneEdit):
    """Layers cut in two at a moment; ``ids`` gives the second halves' ids. Nothing on the
    stage changes: both halves keep all keys, and footage goes on where it was. Second halves ride
    on, and are shown through, the second halves of what is cut with them."""

    arranged: ClassVar[bool] = False
    kind: Literal["split-layers"] = "split-layers"
    time_s: SceneTime
    ids: Annotated[dict[Id, Id], Field(min_length=1, max_length=2000)]

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        cut = scene.rate.rate.snap(self.time_s)
        taken = {layer.id for layer in scene.layers}
        names = {layer.name for layer in scene.layers}
        for layer_id, half_id in self.ids.items():
            layer = find_layer(scene, layer_id)
            if half_id in taken:
                raise DocumentError(f"there is a layer {half_id!r} already", field="ids")
            taken.add(half_id)
            if not layer.start_s + 1e-6 < cut < layer.end_s - 1e-6:
                raise DocumentError("it is not on at that moment", field=layer.name)
        layers: list[Layer] = []
        for layer in scene.layers:
            if layer.id not in self.ids:
                layers.append(layer)
                continue
            # What arrives has done so before the cut, what leaves does so after it.
            first = {"end_s": cut, "leave_s": 0.0, "end_tie": None, "leave_follows": False}
            first["arrive_s"] = min(layer.arrive_s, cut - layer.start_s)
            layers.append(_without_fade(layer.model_copy(update=first), "out"))
            name = next_name(layer.name, names)
            names.add(name)
            second = _without_fade(trimmed(layer, cut, layer.end_s), "in")
            rest = {
                "id": self.ids[layer.id], "name": name, "arrive_s": 0.0, "start_tie": None,
                "arrive_follows": False,
                "leave_s": min(layer.leave_s, layer.end_s - cut), "copy_of": None, "own": (),
            }  # fmt: skip
            # The second half hangs on the second halves of what it hung on.
            second = TRANSITIONS.without(second, [each.id for each in second.transitions])
            layers.append(with_references(second.model_copy(update=rest), self.ids))
        # What takes over from a layer that is cut does so from its second half.
        layers = [_after_halves(layer, self.ids) for layer in layers]
        return with_copied_stands(scene.model_copy(update={"layers": tuple(layers)}), self.ids)

    def label(self, project: Project) -> str:
        return f"Split {names_of(project, self.scene, self.ids)}"

    def touches(self) -> list[str]:
        return self.layer_paths([*self.ids, *self.ids.values()])


def _after_halves(layer: Layer, halves: Mapping[str, str]) -> Layer:
    transitions = tuple(
        each.model_copy(update={"before": halves.get(each.before or "", each.before)})
        for each in layer.transitions
    )
    same = transitions == layer.transitions
    return layer if same else layer.model_copy(update={"transitions": transitions})


def _without_fade(layer: Layer, end: str) -> Layer:
    """A half that goes on in the other one, where it is heard."""
    name = f"sound.fade-{end}"
    if name not in layer.properties:
        return layer
    kept = {key: prop for key, prop in layer.properties.items() if key != name}
    return layer.model_copy(update={"properties": kept})


class FitSpeed(SceneEdit):
    """The speed of clips by how long they shall take (s); their ends follow. Without a length
    they are made to fill their spans."""

    kind: Literal["fit-speed"] = "fit-speed"
    layers: LayerIds
    length_s: Annotated[float, Field(gt=0, le=3600, allow_inf_nan=False)] | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        evaluator = SceneEvaluator(project, scene.id)

        def fitted(layer: Layer) -> Layer:
            values, asset = clip_values(evaluator, layer)
            length = self.length_s or layer.end_s - layer.start_s
            speed = playback_of(values, asset).length_s / length * 100
            if not 1 <= speed <= 10_000:
                raise DocumentError.expected(layer.name, "a speed from 1 to 10,000 %", speed)
            properties = {**layer.properties, "time.speed": Property(value=round(speed, 4))}
            end_s = scene.rate.rate.snap(layer.start_s + length)
            return layer.model_copy(update={"properties": properties, "end_s": end_s})

        return with_layers(scene, self.layers, fitted)

    def label(self, project: Project) -> str:
        return f"Speed of {names_of(project, self.scene, self.layers)} by its length"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers)


def clip_values(evaluator: SceneEvaluator, layer: Layer) -> tuple[Any, Any]:
    """The values at its start of a layer that plays something, and what it plays (its asset, or
    the inner scene's length); DocumentError for other layers."""
    values = evaluator.values(layer, layer.start_s)
    source: Asset | InnerSource | None = None
    if layer.kind in ("clip", "sound"):
        source = evaluator.asset(values(f"{layer.kind}.asset"))
    elif layer.kind == "scene":
        inner = evaluator.inside(values)
        source = InnerSource(inner.scene.length_s) if inner else None
    if source is None:
        raise DocumentError("only a clip, a sound or a placed scene has a speed", field=layer.name)
    return values, source


def _seen(found: tuple[Any, Any]) -> tuple[Any, Any]:
    """What ``clip_values`` gives of a layer that is seen; DocumentError for a sound."""
    layer = found[0].layer
    if find_spec(layer, "time.frozen") is None:
        raise DocumentError("a sound neither stands still nor follows a curve", field=layer.name)
    return found


class FreezeLayers(SceneEdit):
    """Clips frozen at the frame they show at a moment, or thawed (no moment)."""

    kind: Literal["freeze-layers"] = "freeze-layers"
    layers: LayerIds
    time_s: SceneTime | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        evaluator = SceneEvaluator(project, scene.id)

        def frozen(layer: Layer) -> Layer:
            values, asset = _seen(clip_values(evaluator, layer))
            properties = dict(layer.properties)
            if self.time_s is None:
                properties.pop("time.frozen", None)
                return layer.model_copy(update={"properties": properties})
            second = source_second(values.at(self.time_s - layer.start_s), asset)
            if second is None:
                raise DocumentError("it shows nothing at that moment", field=layer.name)
            properties["time.frozen"] = Property(value=True)
            properties["time.frozen-at"] = Property(value=round(second, 6))
            return layer.model_copy(update={"properties": properties})

        return with_layers(scene, self.layers, frozen)

    def label(self, project: Project) -> str:
        names = names_of(project, self.scene, self.layers)
        return f"{'Thaw' if self.time_s is None else 'Freeze'} {names}"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers, "/properties")


class TimeCurve(SceneEdit):
    """The time curve of a clip on or off. When it comes on for the first time it gets two keys
    that play what was played before."""

    kind: Literal["time-curve"] = "time-curve"
    layer: Id
    on: bool

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        evaluator = SceneEvaluator(project, scene.id)
        layer = find_layer(scene, self.layer)
        values, asset = _seen(clip_values(evaluator, layer))
        properties = {**layer.properties, "time.curve": Property(value=self.on)}
        if self.on and not properties.get("time.source", Property()).keys:
            properties["time.source"] = Property(keys=_two_keys(scene, layer, values, asset))
        return with_properties(scene, layer, properties)

    def label(self, project: Project) -> str:
        names = names_of(project, self.scene, [self.layer])
        return f"{'Time curve for' if self.on else 'No time curve for'} {names}"

    def touches(self) -> list[str]:
        return self.layer_paths([self.layer], "/properties")


def _two_keys(scene: Scene, layer: Layer, values: Any, asset: Any) -> tuple[Keyframe, ...]:
    """Keys at the start and where the clip would be over (or the span ends)."""
    playback = playback_of(values, asset)
    frame = scene.rate.den / scene.rate.num
    span = layer.end_s - layer.start_s
    rest = (playback.length_s - playback.offset_s) / playback.speed
    length = max(frame, min(span, rest) if rest > 0 else span)
    begin = min(max(0.0, playback.offset_s), playback.length_s)
    end = min(playback.length_s, begin + length * playback.speed)
    if playback.backwards:
        begin, end = playback.length_s - begin, playback.length_s - end
    seconds = (playback.from_s + begin, playback.from_s + end)
    return tuple(
        Keyframe(id=new_id(), time_s=time_s, value=round(second, 6), easing="linear")
        for time_s, second in zip((0.0, length), seconds, strict=True)
    )
