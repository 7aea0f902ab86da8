"""Operations on scenes in scenes: placing, wrapping, unwrapping."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any, ClassVar, Literal

from ..core.catalog import (
    MOST_MATTES,
    find_spec,
    layer_kind,
    layers_named,
    matte_name,
    placed_scene,
    without_lost_stands,
)
from ..core.expressions import compile_expression
from ..core.model import Group, Layer, Mark, Project, Property, Scene
from ..core.model.ties import without_lost_ties
from ..core.model.values import Id, Name
from ..core.resolve import SceneEvaluator
from ..core.resolve.bindings import bindings_of
from ..core.resolve.places import SAFE_SHARE
from ..errors import DocumentError
from .arrange_edits import shifted_position
from .base import (
    Edit,
    EditContext,
    LayerIds,
    NewId,
    SceneEdit,
    find_layer,
    find_scene,
    names_of,
    new_id,
    with_this,
)
from .expression_edits import with_renamed_reads
from .layer_edits import next_name, with_references
from .named import refuse_known
from .standing_edits import ArrangementsToKeys
from .time_edits import trimmed

_NOT_PLAIN = (
    "blend", "composite", "matte.layer", "matte.2.layer", "matte.3.layer", "matte.4.layer",
    "matte.below", "slices.kind", "copies.count", "opacity",
    "time.curve", "time.frozen", "time.reversed", "time.speed", "time.after", "align.x", "align.y",
    "turn.on",
)  # fmt: skip
_PLACE = ("position", "rotation", "scale", "skew", "pivot", "tilt", "turn")


class WrapLayers(Edit):
    """Layers move into a new scene, which takes their place in the stack: nothing changes on the
    stage. What lies between them in the stack comes along. Whatever they need of layers that stay
    (and those of them) is left as a hidden copy; ties across are cut, the times stay.

    The new scene is seen through where that makes a difference: where layers blend, treat or cut
    out what lies below, or lie in perspective.
    """

    kind: Literal["wrap-layers"] = "wrap-layers"
    scene: Id
    layers: LayerIds
    id: NewId
    new_scene: NewId
    name: Name

    def apply(self, project: Project, context: EditContext) -> Project:
        scene = find_scene(project, self.scene)
        refuse_known(project.scenes, self.new_scene, "scene", "new_scene")
        refuse_known(scene.layers, self.id, "layer", "id")
        for layer_id in self.layers:
            find_layer(scene, layer_id)
        chosen = set(self.layers)
        at = [i for i, layer in enumerate(scene.layers) if layer.id in chosen]
        first, last = at[0], at[-1]
        scene = _without_below(scene, range(first, last + 1))
        inside, outside = scene.layers[first : last + 1], (
            *scene.layers[:first], *scene.layers[last + 1 :],
        )  # fmt: skip
        names = {layer.name for layer in inside}
        inner_layers = (*_left_behind(scene, inside, outside), *inside)
        outer_copies = _left_behind(scene, outside, inside)
        groups = _groups(scene, inside)
        inner = scene.model_copy(
            update={
                "id": self.new_scene, "name": self.name, "ground": None, "range_s": None,
                "ends_with_last": False, "slots": (), "standing_s": None,
                "layers": tuple(_in_groups(la, groups) for la in inner_layers),
                "groups": groups,
                "marks": tuple(mark.model_copy(update={"tie": None}) for mark in scene.marks),
            }
        )  # fmt: skip
        inner = without_lost_stands(without_lost_ties(inner))
        if not any(each.stands for each in inner.arrangements):
            inner = without_lost_ties(inner.model_copy(update={"arrangements": ()}))
        start_s = min(layer.start_s for layer in inside)
        end_s = max(layer.end_s for layer in inside)
        start_s, end_s = max(0.0, start_s), min(scene.length_s, end_s)
        if end_s <= start_s:
            start_s, end_s = 0.0, scene.length_s
        properties: dict[str, Property] = {
            "scene.id": Property(value=self.new_scene),
            "time.offset": Property(value=start_s),
        }
        if any(_reaches_outside(layer) for layer in inside):
            properties["scene.through"] = Property(value=True)
        taken = {layer.name for layer in outside} | names
        name = self.name if self.name not in taken else next_name(self.name, taken)
        placed = Layer(
            id=self.id, name=name, kind="scene", start_s=start_s, end_s=end_s,
            properties=properties, group=_common_group(scene, inside, outside),
        )  # fmt: skip
        layers = (*scene.layers[:first], *outer_copies, placed, *scene.layers[last + 1 :])
        outer = without_lost_ties(scene.model_copy(update={"layers": layers}))
        used = {layer.group for layer in layers}
        outer = outer.model_copy(
            update={"groups": tuple(group for group in outer.groups if group.id in used)}
        )
        project = with_this(project, outer)
        index = next(i for i, each in enumerate(project.scenes) if each.id == scene.id) + 1
        scenes = (*project.scenes[:index], inner, *project.scenes[index:])
        return project.model_copy(update={"scenes": scenes})

    def label(self, project: Project) -> str:
        return f"Wrap {names_of(project, self.scene, self.layers)} as {self.name}"

    def touches(self) -> list[str]:
        return [f"scenes/{self.scene}/layers", f"scenes/{self.new_scene}"]


def _reaches_outside(layer: Layer) -> bool:
    """Whether a layer looks different on what lies below than by itself."""
    if layer.kind == "treatment":
        return True
    if layer.kind == "scene" and _value(layer, "scene.through", False):
        return True
    blended = _value(layer, "blend", "normal") != "normal"
    result: bool = blended or _value(layer, "composite", "over") != "over"
    return result


def _value(layer: Layer, name: str, default: Any) -> Any:
    prop = layer.properties.get(name)
    return default if prop is None or prop.value is None else prop.value


def _without_below(scene: Scene, inside: range) -> Scene:
    """The scene where what is shown within the layer below names that layer, if a wrap would
    part the two."""
    layers = list(scene.layers)
    for index, layer in enumerate(scene.layers):
        if not _value(layer, "matte.below", False):
            continue
        below = _layer_below(scene, index)
        if below is None or (below in inside) == (index in inside):
            continue
        properties = {k: v for k, v in layer.properties.items() if k != "matte.below"}
        name = _free_matte(layer)
        properties[name] = Property(value=scene.layers[below].id)
        if name != "matte.layer":  # it counts besides the others
            properties[name.replace("layer", "mode")] = Property(value="intersect")
        layers[index] = layer.model_copy(update={"properties": properties})
    return scene.model_copy(update={"layers": tuple(layers)})


def _free_matte(layer: Layer) -> str:
    """The property of a matte that is not taken, after all that are."""
    names = [matte_name(number, "layer") for number in range(1, MOST_MATTES + 1)]
    taken = [index for index, name in enumerate(names) if _value(layer, name, "")]
    free = max(taken, default=-1) + 1
    if free == len(names):
        message = f"{layer.name!r} lies within the layer below and has {len(names)} mattes besides"
        raise DocumentError(message, field="layers")
    return names[free]


def _layer_below(scene: Scene, index: int) -> int | None:
    for at in range(index - 1, -1, -1):
        below = scene.layers[at]
        if below.hidden or below.kind == "treatment":
            continue
        if not _value(below, "matte.below", False):
            return at
    return None


def _needed(layer: Layer, named: Mapping[str, Layer]) -> set[str]:
    """The ids of the layers that a layer needs: it rides on them, is matted by them, reads them."""
    found = {layer.rides} if layer.rides else set()
    if layer.copy_of:
        found.add(layer.copy_of)
    found |= layers_named(layer)
    for name, prop in layer.properties.items():
        spec = find_spec(layer, name)
        if spec is not None and spec.kind.names == "layer" and prop.value:
            found.add(prop.value)
        if prop.expression:
            for read in compile_expression(prop.expression).reads:
                if read.layer in named:
                    found.add(named[read.layer].id)
    return found


def _left_behind(
    scene: Scene, staying: Iterable[Layer], going: Iterable[Layer]
) -> tuple[Layer, ...]:
    """Hidden copies, for those that stay, of what they need of those that go: with the ids and
    names that they are known by. In the order of the stack."""
    others = {layer.id: layer for layer in going}
    named = {layer.name: layer for layer in reversed(scene.layers)}
    waiting = list(staying)
    found: set[str] = set()
    while waiting:
        for layer_id in _needed(waiting.pop(), named):
            if layer_id in others and layer_id not in found:
                found.add(layer_id)
                waiting.append(others[layer_id])
    update = {"hidden": True, "group": None}
    return tuple(la.model_copy(update=update) for la in scene.layers if la.id in found)


def _groups(scene: Scene, inside: Iterable[Layer]) -> tuple[Group, ...]:
    used = {layer.group for layer in inside}
    return tuple(group for group in scene.groups if group.id in used)


def _in_groups(layer: Layer, groups: Iterable[Group]) -> Layer:
    known = {group.id for group in groups}
    return layer if layer.group in known else layer.model_copy(update={"group": None})


def _common_group(scene: Scene, inside: Iterable[Layer], outside: Iterable[Layer]) -> str | None:
    """The group that all of them lie in, where others of it stay."""
    groups = {layer.group for layer in inside}
    staying = {layer.group for layer in outside}
    common = groups.pop() if len(groups) == 1 else None
    return common if common in staying else None


class UnwrapScene(SceneEdit):
    """A scene layer gives way to the layers of its inner scene. Where it has a place of its own
    they ride on a carrier that has it. The inner scene stays in the project.

    Layers that are treated as one picture cannot be taken apart without a change: with masks,
    effects, a matte, blending, opacity or another speed the operation is refused.
    """

    arranged: ClassVar[bool] = False
    kind: Literal["unwrap-scene"] = "unwrap-scene"
    layer: Id

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        placed = find_layer(scene, self.layer)
        inner_scene = next((s for s in project.scenes if s.id == placed_scene(placed)), None)
        if placed.kind != "scene" or inner_scene is None:
            raise DocumentError(f"{placed.name!r} shows no scene", field="layer")
        _check_plain(project, scene, placed)
        start = _number(placed, "time.from") + _number(placed, "time.offset")
        played = (_number(placed, "time.to") or inner_scene.length_s) - start
        if inner_scene.standing_s and abs(placed.end_s - placed.start_s - played) > 1e-6:
            message = (
                "its standing part gives way here: make it as long as its scene, or let the "
                "standing part stay, first"
            )
            raise DocumentError(message, field=f"layer {placed.name!r}")
        if any(f"slot.{slot_id}" in placed.properties for slot_id in placed.slot_specs):
            message = "slots of it are animated: make them one value again first"
            raise DocumentError(message, field=f"layer {placed.name!r}")
        inner = bindings_of(project, inner_scene, placed.slots).scene(inner_scene)
        if inner.arrangements:
            turned = ArrangementsToKeys(scene=inner.id)
            inner = turned.change(with_this(project, inner), inner, context)
        filled = with_this(project, inner)
        start = _number(placed, "time.from") + _number(placed, "time.offset")
        shift = placed.start_s - start
        others = tuple(layer for layer in scene.layers if layer.id != placed.id)
        inner = _riders_baked(filled, inner)
        layers = _renamed(inner, others, placed)
        layers = [_in_time(_at_its_place(layer, inner), shift, placed) for layer in layers]
        carrier = _carrier(scene, inner, placed, {la.name for la in (*others, *layers)})
        if carrier is not None:
            layers = [
                layer.model_copy(update={"rides": carrier.id})
                if layer_kind(layer.kind).placed and layer.rides is None
                else layer
                for layer in layers
            ]
            layers = _framed(layers, inner, placed, carrier)
            layers.insert(0, carrier)
        if inner.ground and _value(placed, "scene.ground", True):
            layers.insert(1 if carrier is not None else 0, _ground(inner, placed, carrier))
        at = next(i for i, layer in enumerate(scene.layers) if layer.id == placed.id)
        group = placed.group
        fresh = tuple(layer.model_copy(update={"group": group}) for layer in layers)
        result = (*scene.layers[:at], *fresh, *scene.layers[at + 1 :])
        if any(layer.rides == placed.id for layer in others):
            name = placed.name
            raise DocumentError(
                f"other layers ride on {name!r}: set them free first", field="layer"
            )
        marks = {mark.name for mark in scene.marks}
        more = tuple(
            Mark(id=new_id(), name=mark.name, note=mark.note, time_s=mark.time_s + shift)
            for mark in inner.marks
            if mark.name not in marks and 0 <= mark.time_s + shift <= scene.length_s
            and _is_read(mark.name, inner)
        )  # fmt: skip
        return scene.model_copy(update={"layers": result, "marks": (*scene.marks, *more)})

    def label(self, project: Project) -> str:
        return f"Unwrap {names_of(project, self.scene, [self.layer])}"

    def touches(self) -> list[str]:
        return [f"scenes/{self.scene}/layers"]


def _is_read(mark: str, scene: Scene) -> bool:
    return any(
        "mark(" in prop.expression and mark in prop.expression
        for layer in scene.layers
        for prop in layer.properties.values()
    )


def _number(layer: Layer, name: str) -> float:
    return float(_value(layer, name, 0.0))


def _check_plain(project: Project, scene: Scene, placed: Layer) -> None:
    """Whether a scene layer is no more than its layers at a place."""
    field = f"layer {placed.name!r}"
    through = _value(placed, "scene.through", False)
    if (placed.masks or placed.effects) and not through:
        message = "its masks and effects work on the scene as one picture: take them off first"
        raise DocumentError(message, field=field)
    values = SceneEvaluator(project, scene.id).values(placed, placed.start_s)
    for name in _NOT_PLAIN:
        spec = find_spec(placed, name)
        prop = placed.properties.get(name)
        if spec is None or prop is None:
            continue
        same = not prop.keys and not prop.expression and values(name) == spec.default
        ignored = through and (name in ("blend", "composite") or name.startswith("matte."))
        if not same and not ignored:
            message = f"{spec.label} works on the scene as one picture: set it back first"
            raise DocumentError(message, field=field)


def _renamed(inner: Scene, others: tuple[Layer, ...], placed: Layer) -> list[Layer]:
    """The inner layers with ids and names that are free outside. A hidden copy of a layer that is
    there is not brought along: that layer serves again."""
    outside = {layer.id: layer for layer in others}
    ids: dict[str, str] = {}
    kept: list[Layer] = []
    for layer in inner.layers:
        twin = outside.get(layer.id)
        if twin is not None and layer.hidden and _same_but_hidden(layer, twin):
            continue
        if layer.id in outside or layer.id == placed.id:
            ids[layer.id] = new_id()
        kept.append(layer)
    taken = {layer.name for layer in others}
    names: dict[str, str] = {}
    for layer in kept:
        if layer.name in taken:
            names[layer.name] = next_name(layer.name, taken | set(names.values()))
        taken.add(names.get(layer.name, layer.name))
    result = []
    for layer in kept:
        update = {"id": ids.get(layer.id, layer.id), "name": names.get(layer.name, layer.name)}
        moved = with_references(layer.model_copy(update=update), ids)
        result.append(with_renamed_reads(moved, names) if names else moved)
    return result


def _same_but_hidden(a: Layer, b: Layer) -> bool:
    plain = {"hidden": True, "group": None, "locked": False, "start_tie": None, "end_tie": None}
    return a.model_copy(update=plain) == b.model_copy(update=plain)


def _at_its_place(layer: Layer, inner: Scene) -> Layer:
    """A layer that says where it is, where that was the middle of its frame by itself."""
    if not layer_kind(layer.kind).placed or {"position", "position.x"} & layer.properties.keys():
        return layer
    middle = Property(value=(inner.width / 2, inner.height / 2))
    return layer.model_copy(update={"properties": {**layer.properties, "position": middle}})


def _in_time(layer: Layer, shift: float, placed: Layer) -> Layer:
    """An inner layer at its time outside, shown only while the scene layer was."""
    start_s, end_s = layer.start_s + shift, layer.end_s + shift
    layer = layer.model_copy(update={"start_s": start_s, "end_s": end_s})
    inside = (max(start_s, placed.start_s), min(end_s, placed.end_s))
    if inside == (start_s, end_s):
        return layer
    if inside[1] - inside[0] < 1e-6:
        return layer.model_copy(update={"hidden": True})
    return trimmed(layer, *inside)


def _carrier(scene: Scene, inner: Scene, placed: Layer, taken: set[str]) -> Layer | None:
    """A carrier with the place of a scene layer, (0, 0) where the inner frame's corner lies; None
    where the inner frame is the outer one."""
    same_size = (inner.width, inner.height) == (scene.width, scene.height)
    own = {k: v for k, v in placed.properties.items() if k.split(".")[0] in _PLACE}
    middle = (scene.width / 2, scene.height / 2)
    position = own.get("position")
    centred = position is None or (
        not position.keys and not position.expression and tuple(position.value) == middle
    )
    if same_size and placed.rides is None and centred and not set(own) - {"position"}:
        return None
    half = (inner.width / 2, inner.height / 2)
    pivot = own.get("pivot", Property(value=(0.0, 0.0)))
    if pivot.expression:
        raise DocumentError("its pivot has an expression: bake it first", field="layer")

    def moved(value: Any) -> tuple[float, float]:
        return (value[0] + half[0], value[1] + half[1])

    if pivot.keys:
        keys = (key.model_copy(update={"value": moved(key.value)}) for key in pivot.keys)
        own["pivot"] = pivot.with_keys(keys)
    else:
        own["pivot"] = Property(value=moved(pivot.value))
    name = placed.name if placed.name not in taken else next_name(placed.name, taken)
    return Layer(
        id=placed.id, name=name, kind="carrier", start_s=placed.start_s, end_s=placed.end_s,
        rides=placed.rides, properties=own,
    )  # fmt: skip


def _ground(inner: Scene, placed: Layer, carrier: Layer | None) -> Layer:
    """The inner scene's ground as a shape."""
    return Layer(
        id=new_id(), name=f"{inner.name} ground", kind="shape", start_s=placed.start_s,
        end_s=placed.end_s, rides=carrier.id if carrier else None,
        properties={
            "position": Property(value=(inner.width / 2, inner.height / 2)),
            "shape.size": Property(value=(float(inner.width), float(inner.height))),
            "fill.colour": Property(value=inner.ground),
        },
    )  # fmt: skip


def _riders_baked(project: Project, inner: Scene) -> Scene:
    """The scene where what rides and is aligned to the frame, going along with what it rides on,
    has its place in that space: outside there is no such frame at rest."""
    evaluator = SceneEvaluator(project, inner.id)
    layers = []
    for layer in inner.layers:
        aligned = any(_value(layer, f"align.{axis}", "none") != "none" for axis in "xy")
        to_frame = _value(layer, "align.to", "frame") in ("frame", "safe")
        if layer.rides and aligned and to_frame and not _value(layer, "align.pinned", False):
            middle_s = (layer.start_s + layer.end_s) / 2
            shift = evaluator.places.alignment(evaluator.values(layer, middle_s))
            properties = {
                name: prop
                for name, prop in shifted_position(inner, layer, shift).items()
                if not name.startswith("align.")
            }
            layer = layer.model_copy(update={"properties": properties})
        layers.append(layer)
    return inner.model_copy(update={"layers": tuple(layers)})


def _framed(layers: list[Layer], inner: Scene, placed: Layer, carrier: Layer) -> list[Layer]:
    """Layers that are kept aligned to the inner frame, or to its safe area, are aligned to a shape
    that stands for it outside and is not seen."""
    taken = {layer.name for layer in layers}
    frames: dict[str, Layer] = {}
    result = []
    for layer in layers:
        aligned = any(_value(layer, f"align.{axis}", "none") != "none" for axis in "xy")
        to = _value(layer, "align.to", "frame")
        if aligned and to in ("frame", "safe") and layer_kind(layer.kind).placed:
            if to not in frames:
                name = f"{inner.name} {'frame' if to == 'frame' else 'safe area'}"
                name = next_name(name, taken) if name in taken else name
                share = 1.0 if to == "frame" else 1 - 2 * SAFE_SHARE
                size = (inner.width * share, inner.height * share)
                frames[to] = Layer(
                    id=new_id(), name=name, kind="shape", start_s=placed.start_s,
                    end_s=placed.end_s, rides=carrier.id,
                    properties={
                        "position": Property(value=(inner.width / 2, inner.height / 2)),
                        "shape.size": Property(value=size), "fill.on": Property(value=False),
                    },
                )  # fmt: skip
            properties = {
                **layer.properties,
                "align.to": Property(value="layer"),
                "align.layer": Property(value=frames[to].id),
            }
            layer = layer.model_copy(update={"properties": properties})
        result.append(layer)
    return [*frames.values(), *result]
