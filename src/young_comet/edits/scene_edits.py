"""Operations on scenes: adding, naming, framing."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from itertools import pairwise
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from ..core.catalog import layer_kind, parts_of
from ..core.model import (
    Arrangement,
    Layer,
    Project,
    Property,
    RateModel,
    Scene,
    Shutter,
    Stand,
)
from ..core.model.arrangements import holds_of
from ..core.model.values import MAX_LENGTH_S, MAX_NAME, Colour, Id, Name
from ..core.resolve.nested import used_in
from ..core.timing import Rate
from ..errors import DocumentError, InUseError
from .base import Edit, EditContext, NewId, SceneEdit, find_scene
from .named import refuse_known, without

Arrange = Literal["keep-centred", "scale-to-fit", "scale-to-fill", "keep-top-left"]


def whole_frames(rate: Rate, length_s: float) -> float:
    """A length in whole frames; the longest one has no frame that ends after the hour."""
    count = rate.frame_count(length_s)
    return rate.time_of(count if rate.time_of(count) <= MAX_LENGTH_S else count - 1)


def copy_name(name: str) -> str:
    """What a copy is called: within the letters that a name may have."""
    return f"{name[: MAX_NAME - 5]} copy"


class AddScene(Edit):
    """A new scene, after those that there are. Its shutter is open unless it says otherwise: what
    moves is smeared as a camera would."""

    kind: Literal["add-scene"] = "add-scene"
    scene: Scene

    def apply(self, project: Project, context: EditContext) -> Project:
        refuse_known(project.scenes, self.scene.id, "scene", "scene")
        rate = self.scene.rate.rate
        length = whole_frames(rate, self.scene.length_s)
        update: dict[str, Any] = {"length_s": length}
        if "shutter" not in self.scene.model_fields_set:
            update["shutter"] = Shutter(on=True)
        scene = self.scene.model_copy(update=update)
        return project.model_copy(update={"scenes": (*project.scenes, scene)})

    def label(self, project: Project) -> str:
        return f"New scene {self.scene.name}"

    def touches(self) -> list[str]:
        return [f"scenes/{self.scene.id}"]


class DuplicateScene(Edit):
    """A copy of a scene, right after it."""

    kind: Literal["duplicate-scene"] = "duplicate-scene"
    scene: Id
    id: NewId
    name: Name | None = None

    def apply(self, project: Project, context: EditContext) -> Project:
        source = find_scene(project, self.scene)
        refuse_known(project.scenes, self.id, "scene", "scene")
        copy = source.model_copy(
            update={"id": self.id, "name": self.name or copy_name(source.name)}
        )
        index = project.scenes.index(source) + 1
        scenes = (*project.scenes[:index], copy, *project.scenes[index:])
        return project.model_copy(update={"scenes": scenes})

    def label(self, project: Project) -> str:
        return f"Duplicate scene {find_scene(project, self.scene).name}"

    def touches(self) -> list[str]:
        return [f"scenes/{self.scene}", f"scenes/{self.id}"]


class OrderScene(Edit):
    """A scene goes to another place among the project's scenes, counted without it."""

    kind: Literal["order-scene"] = "order-scene"
    scene: Id
    index: Annotated[int, Field(ge=0)]

    def apply(self, project: Project, context: EditContext) -> Project:
        scene = find_scene(project, self.scene)
        rest = without(project.scenes, self.scene)
        scenes = (*rest[: self.index], scene, *rest[self.index :])
        return project.model_copy(update={"scenes": scenes})

    def label(self, project: Project) -> str:
        return f"Order scene {find_scene(project, self.scene).name}"

    def touches(self) -> list[str]:
        return ["scenes"]


class RemoveScene(Edit):
    """A scene goes; one that is placed cannot."""

    kind: Literal["remove-scene"] = "remove-scene"
    scene: Id

    def apply(self, project: Project, context: EditContext) -> Project:
        scene = find_scene(project, self.scene)
        if places := used_in(project, self.scene):
            names = ", ".join(sorted({repr(outer.name) for outer, _ in places}))
            raise InUseError(f"{scene.name!r} is placed in {names}", field="scene")
        scenes = without(project.scenes, self.scene)
        return project.model_copy(update={"scenes": scenes})

    def label(self, project: Project) -> str:
        return f"Delete scene {find_scene(project, self.scene).name}"

    def touches(self) -> list[str]:
        return [f"scenes/{self.scene}"]


def standing_part(scene: Scene) -> tuple[float, float]:
    """The longest stretch of a scene in which no layer starts, ends, arrives, leaves or has a key;
    seconds, on frames."""
    rate = scene.rate.rate
    moments = {0.0, scene.length_s}
    for hold in holds_of(scene):
        moments |= {rate.snap(t) for t in hold if 0 < t < scene.length_s}
    for layer in scene.layers:
        times = [layer.start_s, layer.start_s + layer.arrive_s, layer.end_s]
        times.append(layer.end_s - layer.leave_s)
        for prop in layer.properties.values():
            times += [layer.start_s + key.time_s for key in prop.keys]
        moments |= {rate.snap(t) for t in times if 0 < t < scene.length_s}
    ordered = sorted(moments)
    start, end = max(pairwise(ordered), key=lambda pair: pair[1] - pair[0])
    return (start, end)


class ChangeScene(SceneEdit):
    """Name, ground, shutter and viewing distance; ``transparent`` takes the ground colour away.
    With ``gives_way`` the scene has a standing part, by itself the longest stretch in which nothing
    starts, ends or has a key; ``standing_s`` says which."""

    arranged: ClassVar[bool] = False
    kind: Literal["change-scene"] = "change-scene"
    name: Name | None = None
    ground: Colour | None = None
    transparent: bool = False
    shutter: Shutter | None = None
    viewing_distance_px: Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)] | None = None
    ends_with_last: bool | None = None
    gives_way: bool | None = None
    standing_s: tuple[float, float] | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        update: dict[str, Any] = {}
        if self.name is not None:
            update["name"] = self.name
        if self.transparent:
            update["ground"] = None
        elif self.ground is not None:
            update["ground"] = self.ground
        for name in ("shutter", "viewing_distance_px", "ends_with_last"):
            if (value := getattr(self, name)) is not None:
                update[name] = value
        if self.gives_way is not None:
            update["standing_s"] = standing_part(scene) if self.gives_way else None
        if self.standing_s is not None:
            rate = scene.rate.rate
            start, end = (min(scene.length_s, max(0.0, rate.snap(s))) for s in self.standing_s)
            if end - start < rate.time_of(1) / 2:
                message = "the standing part must be at least a frame long, within the scene"
                raise DocumentError(message, field="standing_s")
            update["standing_s"] = (start, end)
        return scene.model_copy(update=update)

    def label(self, project: Project) -> str:
        if self.name is not None:
            return f"Rename scene to {self.name}"
        if self.shutter is not None:
            return f"Motion blur {'on' if self.shutter.on else 'off'}, {self.shutter.angle_deg:g}°"
        if self.ends_with_last is not None:
            how = "with its last layer" if self.ends_with_last else "where it is set"
            return f"The scene ends {how}"
        if self.gives_way is not None or self.standing_s is not None:
            return f"The standing part {'stays' if self.gives_way is False else 'gives way'}"
        if self.viewing_distance_px is not None:
            return f"Viewing distance {self.viewing_distance_px:g} px"
        return "Transparent ground" if self.transparent else f"Ground {self.ground}"

    def touches(self) -> list[str]:
        fields = ("name", "ground", "shutter", "viewing_distance_px", "ends_with_last")
        what = [name for name in fields if getattr(self, name) is not None]
        if self.gives_way is not None or self.standing_s is not None:
            what.append("standing_s")
        what = what or ["ground"]
        return [f"scenes/{self.scene}/{name}" for name in what]


class ChangeFrame(SceneEdit):
    """Size, rate and length. Keys keep their seconds; spans snap to the new frames.

    ``arrange`` says where the layers go when the size changes. Layers that ended with the
    scene go on ending with it when its length changes.
    """

    arranged: ClassVar[bool] = False
    kind: Literal["change-frame"] = "change-frame"
    width: Annotated[int, Field(ge=16, le=8192)]
    height: Annotated[int, Field(ge=16, le=8192)]
    rate: RateModel
    length_s: Annotated[float, Field(gt=0, le=MAX_LENGTH_S, allow_inf_nan=False)]
    arrange: Arrange = "keep-centred"

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        rate = self.rate.rate
        length = whole_frames(rate, self.length_s)
        layers = []
        for layer in scene.layers:
            moved = _arranged(layer, scene, self.width, self.height, self.arrange)
            end_s = length if abs(layer.end_s - scene.length_s) < 1e-6 else layer.end_s
            first = rate.nearest_frame(layer.start_s)
            last = max(first + 1, rate.nearest_frame(end_s))
            span = {"start_s": rate.time_of(first), "end_s": rate.time_of(last)}
            layers.append(moved.model_copy(update=span))
        return scene.model_copy(
            update={
                "width": self.width,
                "height": self.height,
                "rate": self.rate,
                "length_s": length,
                "layers": tuple(layers),
                "arrangements": self._rows(scene),
                "marks": tuple(mark for mark in scene.marks if mark.time_s <= length + 1e-6),
                "range_s": _kept_range(scene.range_s, length, rate.snap),
            }
        )

    def _rows(self, scene: Scene) -> tuple[Arrangement, ...]:
        """The arrangements, what they say of places as in the new size."""
        known = {layer.id: layer for layer in scene.layers}

        def stood(stand: Stand) -> Stand:
            layer = known[stand.layer]
            said = {name: Property(value=value) for name, value in stand.values.items()}
            layer = layer.model_copy(update={"properties": {**layer.properties, **said}})
            moved = _arranged(layer, scene, self.width, self.height, self.arrange)
            values = {name: moved.properties[name].value for name in stand.values}
            return stand.model_copy(update={"values": values})

        return tuple(
            each.model_copy(update={"stands": tuple(stood(stand) for stand in each.stands)})
            for each in scene.arrangements
        )

    def label(self, project: Project) -> str:
        fps = self.rate.rate.label
        return f"Frame {self.width} x {self.height}, {fps} fps, {self.length_s:g} s"

    def touches(self) -> list[str]:
        return [f"scenes/{self.scene}"]


def _kept_range(
    range_s: tuple[float, float] | None, length_s: float, snap: Callable[[float], float]
) -> tuple[float, float] | None:
    """The working range within a new length; none where nothing of it is left."""
    if range_s is None:
        return None
    start, end = snap(range_s[0]), min(length_s, snap(range_s[1]))
    return (start, end) if end - start > 1e-6 else None


def _arranged(layer: Layer, scene: Scene, width: int, height: int, how: Arrange) -> Layer:
    """Places moved and scaled for a new frame size; a position left at its default stays
    in the middle by itself. What rides on another layer goes along with that."""
    if (width, height) == (scene.width, scene.height) or not layer_kind(layer.kind).placed:
        return layer
    if layer.rides is not None:
        return layer
    ratios = (width / scene.width, height / scene.height)
    factor = {"scale-to-fit": min(ratios), "scale-to-fill": max(ratios)}.get(how, 1.0)
    centre = (0.0, 0.0) if how == "keep-top-left" else (scene.width / 2, scene.height / 2)
    target = (0.0, 0.0) if how == "keep-top-left" else (width / 2, height / 2)

    aligned = [
        name in layer.properties and layer.properties[name].value != "none"
        for name in ("align.x", "align.y")
    ]

    def place(p: tuple[float, float]) -> tuple[float, float]:
        # Where a layer is kept aligned its position is a distance.
        x, y = (
            p[i] * factor if aligned[i] else target[i] + (p[i] - centre[i]) * factor for i in (0, 1)
        )
        return (x, y)

    def placed_part(axis: int, value: float) -> float:
        return place((value, value))[axis]

    properties = dict(layer.properties)
    if "position" in properties:
        properties["position"] = _mapped(properties["position"], place, factor)
    for index, part in enumerate(parts_of(layer, "position") or ()):
        if part in properties:
            properties[part] = _mapped_number(properties[part], partial(placed_part, index))
    if factor != 1.0 and (parts := parts_of(layer, "scale")):
        for part in parts:
            old = properties.get(part, Property(value=100.0))
            properties[part] = _mapped_number(old, lambda v: v * factor)
    elif factor != 1.0:
        scale = properties.get("scale", Property(value=(100.0, 100.0)))
        properties["scale"] = _mapped(scale, lambda p: (p[0] * factor, p[1] * factor), 1.0)
    return layer.model_copy(update={"properties": properties})


def _mapped(
    prop: Property, change: Callable[[tuple[float, float]], tuple[float, float]], factor: float
) -> Property:
    def longer(handle: tuple[float, float] | None) -> tuple[float, float] | None:
        return None if handle is None else (handle[0] * factor, handle[1] * factor)

    if not prop.keys:
        return prop.model_copy(update={"value": change(prop.value)})
    return prop.with_keys(
        key.model_copy(
            update={
                "value": change(key.value),
                "handle_in": longer(key.handle_in),
                "handle_out": longer(key.handle_out),
            }
        )
        for key in prop.keys
    )


def _mapped_number(prop: Property, change: Callable[[float], float]) -> Property:
    if not prop.keys:
        return prop.model_copy(update={"value": change(prop.value)})
    return prop.with_keys(key.model_copy(update={"value": change(key.value)}) for key in prop.keys)
