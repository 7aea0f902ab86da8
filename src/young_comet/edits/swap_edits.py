"""Texts that become other texts: the lines of one, shown one after another in its place."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..core.model import Keyframe, Kind, Layer, Project, Property, PropertySpec, Scene
from ..core.model.values import Id
from ..errors import DocumentError
from .base import EditContext, SceneEdit, names_of, new_id, with_properties
from .text_edits import text_layer
from .value_edits import PropertyEdit, Target, Targets, change_properties

# Of a line's time, so much at most goes by while it becomes the next.
_MOST = 0.8


class SwapLines(SceneEdit):
    """The lines of a text are shown one after another in one place, each as long as the others; the
    way to the next takes ``change_s`` of a line's time."""

    kind: Literal["swap-lines"] = "swap-lines"
    layer: Id
    change_s: Annotated[float, Field(gt=0, le=60, allow_inf_nan=False)] = 0.6

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = text_layer(scene, self.layer)
        own = layer.properties.get("text") or Property(value="")
        if own.keys:
            raise DocumentError("it says other things already: it has keys", field=layer.name)
        lines = [line.strip() for line in str(own.value).split("\n") if line.strip()]
        if len(lines) < 2:
            raise DocumentError("expected a text of two lines or more", field=layer.name)
        slot = (layer.end_s - layer.start_s) / len(lines)
        takes = min(self.change_s, _MOST * slot)
        keys = [_key(0.0, lines[0], "hold")]
        for number, line in enumerate(lines[1:], start=1):
            at = number * slot
            keys += [_key(at - takes, lines[number - 1], "ease-in-out"), _key(at, line, "hold")]
        said = Property(expression=own.expression, crosses=True).with_keys(keys)
        return with_properties(scene, layer, {**layer.properties, "text": said})

    def label(self, project: Project) -> str:
        return f"Lines of {names_of(project, self.scene, [self.layer])} one after another"

    def touches(self) -> list[str]:
        return self.layer_paths([self.layer], "/properties/text")


def _key(time_s: float, value: str, easing: str) -> Keyframe:
    return Keyframe(id=new_id(), time_s=round(time_s, 6), value=value, easing=easing)


class CrossKeys(PropertyEdit):
    """What is shown under one key crosses over to what is shown under the next, from key to key, or
    (``crosses`` off) holds until then. For values with nothing between them."""

    kind: Literal["cross-keys"] = "cross-keys"
    targets: Targets
    crosses: bool

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        def changed(target: Target, layer: Layer, spec: PropertySpec, prop: Property) -> Property:
            if spec.kind.mixes or spec.kind is Kind.EASING or not prop.keys:
                message = "only keys of values with nothing between them cross over"
                raise DocumentError(message, field=f"layer {layer.name!r} / {spec.label}")
            easing = "ease-in-out" if self.crosses else "hold"
            keys = tuple(key.model_copy(update={"easing": easing}) for key in prop.keys)
            return prop.model_copy(update={"keys": keys, "crosses": self.crosses})

        return change_properties(scene, self.targets, changed)

    def label(self, project: Project) -> str:
        how = "cross over" if self.crosses else "hold"
        return f"Keys of {self.names(project, self.targets)} {how}"

    def touches(self) -> list[str]:
        return self.paths(self.targets)
