"""What is bound from outside while a scene is resolved: values of its layers, colours of inks. A
place of use fills slots so; the document stays as it is, and what is known of the rest stays."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from types import MappingProxyType
from typing import Any

from ...errors import DocumentError
from ..catalog import find_spec, normalise
from ..model import Layer, Project, Property, Scene

_NONE: Mapping[Any, Any] = MappingProxyType({})


@dataclass(frozen=True)
class Bindings:
    """``values`` by (layer, property), as documents have them; ``inks`` by id, colours."""

    values: Mapping[tuple[str, str], Any] = field(default_factory=lambda: _NONE)
    inks: Mapping[str, str] = field(default_factory=lambda: _NONE)

    @cached_property
    def key(self) -> str:
        """The same for bindings that say the same."""
        return repr((sorted(self.values.items(), key=str), sorted(self.inks.items())))

    def layers(self) -> set[str]:
        """The layers that have something bound."""
        return {layer_id for layer_id, _ in self.values}

    def of(self, layer: Layer) -> Layer:
        """A layer with what is bound in it."""
        own = {
            name: value for (layer_id, name), value in self.values.items() if layer_id == layer.id
        }
        if not own:
            return layer
        bound = {name: Property(value=value) for name, value in own.items()}
        return layer.model_copy(update={"properties": {**layer.properties, **bound}})

    def scene(self, scene: Scene) -> Scene:
        """A scene with what is bound in it; the same object where nothing is."""
        if not self.values:
            return scene
        return scene.model_copy(update={"layers": tuple(self.of(la) for la in scene.layers)})


NOTHING_BOUND = Bindings()


def bindings_of(
    project: Project, scene: Scene, slots: Mapping[str, Any], outer: Bindings = NOTHING_BOUND
) -> Bindings:
    """What values of a scene's slots mean within it; inks are bound by what is around it too. What
    a slot stood for and is gone, or does not fit, is left out."""
    filled = [(slot, slots[slot.id]) for slot in scene.slots if slot.id in slots]
    if not filled:
        return Bindings(inks=outer.inks)
    layers = {layer.id: layer for layer in scene.layers}
    own = {ink.id: ink.colour for ink in project.inks}
    values: dict[tuple[str, str], Any] = {}
    inks = dict(outer.inks)
    for slot, value in filled:
        if slot.ink is not None and slot.ink in own:
            inks[slot.ink] = _colour(value, {**own, **inks}, slot.ink)
        layer = layers.get(slot.layer or "")
        spec = find_spec(layer, slot.property) if layer is not None and slot.property else None
        if layer is None or spec is None:
            continue
        try:
            values[layer.id, spec.id] = normalise(spec, value, slot.name)
        except DocumentError:
            continue
    return Bindings(values, inks)


def _colour(value: Any, inks: Mapping[str, str], ink_id: str) -> Any:
    """What fills the slot of an ink: a colour, or another ink's."""
    if isinstance(value, str) and value.startswith("ink:"):
        return inks.get(value[4:], inks[ink_id])
    return value
