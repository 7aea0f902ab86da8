"""Fronts put on texts ready to be seen."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import AfterValidator

from ..core.catalog import FRONTS, READY_FRONTS
from ..core.model import Front, Keyframe, Layer, Project, Property, Scene
from ..core.typography.units import units_of
from .base import EditContext, LayerIds, NewId, SceneEdit, names_of, new_id, with_layers
from .text_edits import text_layer

# A front takes so long, and so much longer for each of what it goes over, seconds; no longer than
# the text is there.
_LEAST_S, _EACH_S, _MOST_S = 0.5, 0.05, 3.0


def _ready(value: str) -> str:
    if value not in READY_FRONTS:
        raise ValueError("expected one of " + ", ".join(READY_FRONTS))
    return value


ReadyId = Annotated[str, AfterValidator(_ready)]


class WearFront(SceneEdit):
    """Texts wear a ready front, whose progress has keys from the layer's start on. The ids of those
    on further layers than the first are new."""

    kind: Literal["wear-front"] = "wear-front"
    layers: LayerIds
    id: NewId
    ready: ReadyId

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        for layer_id in self.layers:
            text_layer(scene, layer_id)
        evaluator = context.evaluator(project, scene.id)

        def worn(layer: Layer) -> Layer:
            values = evaluator.values(layer, layer.start_s)
            front_id = self.id if layer.id == self.layers[0] else new_id()
            return with_ready(layer, front_id, self.ready, values("text"), values("text.size"))

        return with_layers(scene, self.layers, worn)

    def label(self, project: Project) -> str:
        return f"{READY_FRONTS[self.ready].label} on {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return [
            path
            for what in ("/fronts", "/properties")
            for path in self.layer_paths(self.layers, what)
        ]


def with_ready(layer: Layer, front_id: str, ready: str, text: str, size_px: float) -> Layer:
    """The text with a ready front that goes over it from its start on."""
    kind = READY_FRONTS[ready]
    by = str(kind.values.get("by", "letters"))
    count = len(units_of(text, by))
    length = min(_MOST_S, _LEAST_S + _EACH_S * count * (1 if by == "letters" else 4))
    length = min(length, layer.end_s - layer.start_s)
    keys = (
        Keyframe(id=new_id(), time_s=0.0, value=0.0, easing="linear"),
        Keyframe(id=new_id(), time_s=round(length, 4), value=100.0, easing="linear"),
    )
    properties: dict[str, Property] = {"progress": Property(keys=keys)}
    given: dict[str, Any] = dict(kind.values)
    if any(kind.offset):
        given["offset"] = tuple(round(each * size_px, 1) for each in kind.offset)
    properties |= {name: Property(value=value) for name, value in given.items()}
    return FRONTS.added(layer, Front(id=front_id, name=kind.label), properties)
