"""Slots: what each place of use may set of a scene by itself."""

from __future__ import annotations

from typing import Any, Literal

from ..core.catalog import INK_SOURCE, find_spec, normalise, placed_scene, slot_source
from ..core.catalog.properties import slot_spec
from ..core.model import Layer, Project, Property, Scene, Slot
from ..core.model.values import Id, Name, Value
from ..core.pixels.colour import parse_colour
from ..core.resolve import SceneEvaluator
from ..errors import DocumentError, NotFoundError
from .base import (
    EditContext,
    LayerIds,
    NewId,
    SceneEdit,
    SceneTime,
    find_layer,
    names_of,
    with_layers,
)
from .named import found, refuse_known, without
from .value_edits import usual_value


class AddSlot(SceneEdit):
    """Declares a property of a layer, or an ink, as one that each place of use may set."""

    kind: Literal["add-slot"] = "add-slot"
    id: NewId
    name: Name
    layer: Id | None = None
    property: str | None = None
    ink: Id | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        refuse_known(scene.slots, self.id, "slot", "id")
        slot = Slot(id=self.id, name=self.name, layer=self.layer, property=self.property,
                    ink=self.ink)  # fmt: skip
        if self.ink is not None:
            if all(ink.id != self.ink for ink in project.inks):
                raise NotFoundError(f"there is no ink {self.ink!r}", field="ink")
        else:
            layer = find_layer(scene, self.layer or "")
            spec = find_spec(layer, self.property or "")
            if spec is None:
                raise DocumentError.expected("property", "a property of that layer", self.property)
            same = (self.layer, self.property)
            if any((s.layer, s.property) == same for s in scene.slots):
                raise DocumentError(
                    f"{spec.label} of {layer.name!r} is a slot already", field="slot"
                )
        return scene.model_copy(update={"slots": (*scene.slots, slot)})

    def label(self, project: Project) -> str:
        return f"Slot {self.name}"

    def touches(self) -> list[str]:
        return [f"scenes/{self.scene}/slots/{self.id}"]


class RemoveSlot(SceneEdit):
    """A slot goes; what places of use have set of it does nothing any more."""

    kind: Literal["remove-slot"] = "remove-slot"
    slot: Id

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        find_slot(scene, self.slot)
        slots = without(scene.slots, self.slot)
        return scene.model_copy(update={"slots": slots})

    def label(self, project: Project) -> str:
        return "Remove a slot"

    def touches(self) -> list[str]:
        return [f"scenes/{self.scene}/slots/{self.slot}"]


class FillSlot(SceneEdit):
    """What a scene layer sets of a slot of its inner scene; None: as the scene has it."""

    kind: Literal["fill-slot"] = "fill-slot"
    layers: LayerIds
    slot: Id
    value: Value = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        def filled(layer: Layer) -> Layer:
            inner = next((s for s in project.scenes if s.id == placed_scene(layer)), None)
            if inner is None:
                raise DocumentError(f"{layer.name!r} shows no scene", field="layers")
            slots = {k: v for k, v in layer.slots.items() if k != self.slot}
            if f"slot.{self.slot}" in layer.properties:
                raise DocumentError("this slot is animated: set its keys", field=layer.name)
            if self.value is not None:
                slots[self.slot] = _checked(inner, find_slot(inner, self.slot), self.value)
            return layer.model_copy(update={"slots": slots})

        return with_layers(scene, self.layers, filled)

    def label(self, project: Project) -> str:
        return f"Fill a slot of {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers, f"/slots/{self.slot}")


class AnimateSlot(SceneEdit):
    """What scene layers set of a slot becomes a property of theirs, ``slot.ID``, with keys and
    expressions like any other; with ``on`` False it is one value again, that of a moment."""

    kind: Literal["animate-slot"] = "animate-slot"
    layers: LayerIds
    slot: Id
    on: bool = True
    time_s: SceneTime = 0.0

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        evaluator = SceneEvaluator(project, scene.id)

        def changed(layer: Layer) -> Layer:
            inner = next((s for s in project.scenes if s.id == placed_scene(layer)), None)
            if inner is None:
                raise DocumentError(f"{layer.name!r} shows no scene", field="layers")
            slot, name = find_slot(inner, self.slot), f"slot.{self.slot}"
            sources = {k: v for k, v in layer.slot_specs.items() if k != self.slot}
            slots = {k: v for k, v in layer.slots.items() if k != self.slot}
            properties = {k: v for k, v in layer.properties.items() if k != name}
            known = layer.properties.get(name)
            if self.on and known is None:
                source, own = _source(project, inner, slot)
                if slot_spec(self.slot, source) is None:
                    raise DocumentError(f"{slot.name} cannot have keys", field=layer.name)
                sources[self.slot] = source
                properties[name] = Property(value=layer.slots.get(self.slot, own))
            elif self.on:
                return layer
            elif known is not None and (spec := find_spec(layer, name)) is not None:
                value = evaluator.values(layer, self.time_s)(name)
                slots[self.slot] = spec.kind.to_json(value)
            update = {"slots": slots, "slot_specs": sources, "properties": properties}
            return layer.model_copy(update=update)

        return with_layers(scene, self.layers, changed)

    def label(self, project: Project) -> str:
        what = "Animate" if self.on else "Stop animating"
        return f"{what} a slot of {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return [
            *self.layer_paths(self.layers, f"/slots/{self.slot}"),
            *self.layer_paths(self.layers, f"/properties/slot.{self.slot}"),
        ]


def _source(project: Project, inner: Scene, slot: Slot) -> tuple[str, Any]:
    """What declares a slot, and the value that its scene has: that of the first key where it has
    keys."""
    if slot.ink is not None:
        ink = next((each for each in project.inks if each.id == slot.ink), None)
        return INK_SOURCE, ink.colour if ink else "#ff7a45"
    layer = find_layer(inner, slot.layer or "")
    spec = find_spec(layer, slot.property or "")
    if spec is None:
        raise DocumentError("what this slot stood for is gone", field=slot.name)
    prop = layer.properties.get(spec.id)
    if prop is None:
        return slot_source(layer, spec.id), usual_value(layer, spec, inner)
    return slot_source(layer, spec.id), prop.keys[0].value if prop.keys else prop.value


def find_slot(scene: Scene, slot_id: str) -> Slot:
    """The slot of that id, or NotFoundError."""
    return found(scene.slots, slot_id, "slot", within=scene.name)


def _checked(inner: Scene, slot: Slot, value: Any) -> Any:
    if slot.ink is not None:
        if not (isinstance(value, str) and value.startswith("ink:")):
            parse_colour(value, slot.name)
        return value
    layer = find_layer(inner, slot.layer or "")
    spec = find_spec(layer, slot.property or "")
    if spec is None:
        raise DocumentError("what this slot stood for is gone", field=slot.name)
    return normalise(spec, value, slot.name)
