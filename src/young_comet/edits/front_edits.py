"""Fronts put on texts ready to be seen."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator

from ..core.catalog import FRONTS, READY_FRONTS
from ..core.mix.beats import beats_heard
from ..core.model import Front, Keyframe, Layer, Project, Property, Scene
from ..core.resolve import SceneEvaluator
from ..core.resolve.letter_units import ranges_of
from ..core.resolve.texts import text_of
from ..errors import DocumentError
from .base import EditContext, LayerIds, NewId, SceneEdit, names_of, new_id, with_layers
from .text_edits import text_layer

# A front takes so long, and so much longer for each of what it goes over, seconds; no longer than
# the text is there.
_LEAST_S, _EACH_S, _MOST_S = 0.5, 0.05, 3.0
# What lands on a moment is on its way for so long before it; keys are no nearer than this, seconds.
_LAND_S, _CLOSE = 0.24, 0.001


def _ready(value: str) -> str:
    if value not in READY_FRONTS:
        raise ValueError("expected one of " + ", ".join(READY_FRONTS))
    return value


ReadyId = Annotated[str, AfterValidator(_ready)]


class WearFront(SceneEdit):
    """Texts wear a ready front, whose progress has keys from the layer's start on; or one of its
    units comes to rest on each of the scene's ``marks`` or on each of the ``beats`` of what is
    heard while the text is there. The ids of those on further layers than the first are new."""

    kind: Literal["wear-front"] = "wear-front"
    layers: LayerIds
    id: NewId
    ready: ReadyId
    on: Literal["time", "marks", "beats"] = "time"

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        for layer_id in self.layers:
            text_layer(scene, layer_id)
        evaluator = context.evaluator(project, scene.id)

        def worn(layer: Layer) -> Layer:
            values = evaluator.values(layer, layer.start_s)
            front_id = self.id if layer.id == self.layers[0] else new_id()
            content = text_of(evaluator, values)
            count = len(ranges_of(evaluator, content, READY_FRONTS[self.ready].by))
            layer = with_ready(layer, front_id, self.ready, count, values("text.size"))
            if self.on == "time":
                return layer
            moments = _moments(evaluator, scene, layer, self.on)
            return _landing(layer, front_id, max(1, count), moments)

        return with_layers(scene, self.layers, worn)

    def label(self, project: Project) -> str:
        return f"{READY_FRONTS[self.ready].label} on {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return [
            path
            for what in ("/fronts", "/properties")
            for path in self.layer_paths(self.layers, what)
        ]


def _moments(evaluator: SceneEvaluator, scene: Scene, layer: Layer, on: str) -> list[float]:
    """Moments (s, of the layer) on which units come to rest; DocumentError where there are none."""
    if on == "marks":
        times = [mark.time_s for mark in scene.marks]
    else:
        found = (beats_heard(evaluator, each) for each in scene.layers)
        times = sorted({round(time_s, 4) for heard in found for time_s, _ in heard})
    within = [t - layer.start_s for t in times if layer.start_s < t <= layer.end_s]
    if not within:
        raise DocumentError(f"there are no {on} while {layer.name!r} is there", field="on")
    return within


def _landing(layer: Layer, front_id: str, count: int, moments: list[float]) -> Layer:
    """The text whose front lets one of so many units land on each moment. Those that no moment is
    left for follow as quickly as the last ones did."""
    prefix = FRONTS.prefix(front_id)
    gap = (moments[-1] - moments[0]) / (len(moments) - 1) if len(moments) > 1 else _LAND_S
    ends = [*moments, *(moments[-1] + gap * n for n in range(1, count))][:count]
    keys: list[tuple[float, float]] = []
    for nth, end in enumerate(ends):
        begin = max(end - _LAND_S, keys[-1][0] if keys else 0.0)
        if not keys or begin > keys[-1][0] + _CLOSE:
            keys.append((begin, nth / count))
        keys.append((max(end, keys[-1][0] + _CLOSE), (nth + 1) / count))
    made = tuple(
        Keyframe(id=new_id(), time_s=round(at, 4), value=round(100 * share, 4), easing="linear")
        for at, share in keys
    )
    own = {prefix + "progress": Property(keys=made), prefix + "width": Property(value=1.0)}
    return layer.model_copy(update={"properties": {**layer.properties, **own}})


def with_ready(layer: Layer, front_id: str, ready: str, count: int, size_px: float) -> Layer:
    """The text with a ready front that goes over its units, so many, from its start on."""
    kind = READY_FRONTS[ready]
    length = min(_MOST_S, _LEAST_S + _EACH_S * count * (1 if kind.by == "letters" else 4))
    length = min(length, layer.end_s - layer.start_s)
    keys = (
        Keyframe(id=new_id(), time_s=0.0, value=0.0, easing="linear"),
        Keyframe(id=new_id(), time_s=round(length, 4), value=100.0, easing="linear"),
    )
    properties: dict[str, Property] = {"progress": Property(keys=keys)}
    given = kind.values_at(size_px)
    properties |= {name: Property(value=value) for name, value in given.items()}
    own = {name: Property(value=value) for name, value in kind.text.items()}
    layer = layer.model_copy(update={"properties": {**own, **layer.properties}})
    return FRONTS.added(layer, Front(id=front_id, name=kind.label), properties)
