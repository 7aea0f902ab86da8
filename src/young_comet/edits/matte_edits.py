"""Operations on mattes: the layers through which others are shown."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..core.catalog import MOST_MATTES, find_spec, matte_name
from ..core.model import Layer, Project, Property, Scene
from ..core.model.values import Id
from ..errors import DocumentError
from .base import EditContext, LayerIds, SceneEdit, find_layer, names_of, with_layers

_PARTS = ("layer", "mode", "by", "inverted")


class SetMatte(SceneEdit):
    """Layers are shown through another one: as their first matte, or joined to those before it.
    With ``hide`` the matte itself is no longer seen; taken away ("") it is seen again where nothing
    else is shown through it, and those after it move up."""

    kind: Literal["set-matte"] = "set-matte"
    layers: LayerIds
    number: Annotated[int, Field(ge=1, le=MOST_MATTES)] = 1
    matte: Id | Literal[""]
    hide: bool = True

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        before = {
            name for layer_id in self.layers for name in mattes_of(find_layer(scene, layer_id))
        }
        if self.matte in self.layers:
            name = find_layer(scene, self.matte).name
            raise DocumentError(f"{name!r} cannot be shown through itself", field="matte")
        if self.matte:
            matte = find_layer(scene, self.matte)
            if find_spec(matte, "opacity") is None or matte.kind == "treatment":
                raise DocumentError(f"{matte.name!r} has no picture of its own", field="matte")
        scene = with_layers(scene, self.layers, self._matted)
        if not self.hide:
            return scene
        if self.matte:
            return _seen(scene, self.matte, hidden=True)
        used = {name for layer in scene.layers for name in mattes_of(layer)}
        for name in before - used:
            scene = _seen(scene, name, hidden=False)
        return scene

    def _matted(self, layer: Layer) -> Layer:
        if find_spec(layer, "matte.layer") is None:
            raise DocumentError(f"a {layer.kind} has no mattes", field=f"layer {layer.name!r}")
        properties = dict(layer.properties)
        if self.matte:
            if self.number > len(mattes_of(layer)) + 1:
                message = f"it has {len(mattes_of(layer))} mattes so far"
                raise DocumentError(message, field=f"layer {layer.name!r}")
            properties[matte_name(self.number, "layer")] = Property(value=self.matte)
            return layer.model_copy(update={"properties": properties})
        for number in range(self.number, MOST_MATTES + 1):
            for part in _PARTS:
                properties.pop(matte_name(number, part), None)
                later = matte_name(number + 1, part)
                known = number < MOST_MATTES and later in layer.properties
                if known and not (number == 1 and part == "mode"):
                    properties[matte_name(number, part)] = layer.properties[later]
        return layer.model_copy(update={"properties": properties})

    def label(self, project: Project) -> str:
        who = names_of(project, self.scene, self.layers)
        if not self.matte:
            return f"Take a matte off {who}"
        return f"Show {who} through {names_of(project, self.scene, [self.matte])}"

    def touches(self) -> list[str]:
        hidden = self.layer_paths([self.matte] if self.matte else [], "/hidden")
        return [*self.layer_paths(self.layers, "/properties"), *hidden]


def mattes_of(layer: Layer) -> list[str]:
    """The ids of a layer's mattes, the first first."""
    found = []
    for number in range(1, MOST_MATTES + 1):
        prop = layer.properties.get(matte_name(number, "layer"))
        if prop is not None and prop.value:
            found.append(str(prop.value))
    return found


def _seen(scene: Scene, layer_id: str, *, hidden: bool) -> Scene:
    if all(layer.id != layer_id for layer in scene.layers):
        return scene
    return with_layers(scene, [layer_id], lambda la: la.model_copy(update={"hidden": hidden}))
