"""Layers or their keys set off one after another."""

from __future__ import annotations

import math
import random
from typing import Annotated, Literal

from pydantic import Field

from ..core.geometry.affine import Box
from ..core.model import Layer, Project, Scene
from ..errors import DocumentError
from .base import EditContext, LayerIds, SceneEdit, SceneTime, find_layer, names_of, with_layers

Order = Literal[
    "stack-up", "stack-down", "from-middle", "left-to-right", "right-to-left", "top-to-bottom",
    "bottom-to-top", "outwards", "inwards", "shuffled", "chosen", "by-start",
]  # fmt: skip


class Stagger(SceneEdit):
    """Each layer starts ``frames`` frames after the one before it in an order.

    ``what`` "layers" slides their spans, "keys" only their keys. ``together`` lets all start at
    the first one's start before they are set off. Layers at the same place of the order (as
    far from the middle, say) stay together. Positions on the stage are read at ``time_s``, where
    the layers are seen; "chosen" goes by the order in which they are given.
    """

    kind: Literal["stagger"] = "stagger"
    layers: LayerIds
    order: Order = "stack-up"
    frames: Annotated[float, Field(ge=-10_000, le=10_000, allow_inf_nan=False)]
    what: Literal["layers", "keys"] = "layers"
    together: bool = False
    seed: Annotated[int, Field(ge=0, le=2**31)] = 0
    time_s: SceneTime = 0.0

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        chosen = [layer for layer in scene.layers if layer.id in set(self.layers)]
        for layer_id in self.layers:
            find_layer(scene, layer_id)
        ranks = self._ranks(project, scene, chosen, context)
        lowest = min(ranks.values())
        step = self.frames * scene.rate.den / scene.rate.num
        first = min((_begin(layer, self.what) for layer in chosen), default=0.0)

        def moved(layer: Layer) -> Layer:
            shift = (ranks[layer.id] - lowest) * step
            if self.together:
                shift += first - _begin(layer, self.what)
            return _slid(scene, layer, shift) if self.what == "layers" else _rekeyed(layer, shift)

        return with_layers(scene, ranks, moved)

    def _ranks(
        self, project: Project, scene: Scene, chosen: list[Layer], context: EditContext
    ) -> dict[str, int]:
        ids = [layer.id for layer in chosen]
        if self.order == "shuffled":
            mixed = list(ids)
            random.Random(self.seed).shuffle(mixed)
            return {layer_id: i for i, layer_id in enumerate(mixed)}
        if self.order == "chosen":
            return {layer_id: i for i, layer_id in enumerate(dict.fromkeys(self.layers))}
        if self.order == "by-start":
            starts = sorted(chosen, key=lambda layer: _begin(layer, self.what))
            return {layer.id: i for i, layer in enumerate(starts)}
        if self.order in ("stack-up", "stack-down"):
            measure = {layer_id: float(i) for i, layer_id in enumerate(ids)}
        elif self.order == "from-middle":
            middle = (len(ids) - 1) / 2
            measure = {layer_id: abs(i - middle) for i, layer_id in enumerate(ids)}
        else:
            measure = self._by_place(project, scene, ids, context)
        backwards = self.order in ("stack-down", "right-to-left", "bottom-to-top", "inwards")
        levels = sorted({round(v * 2) for v in measure.values()}, reverse=backwards)
        return {layer_id: levels.index(round(v * 2)) for layer_id, v in measure.items()}

    def _by_place(
        self, project: Project, scene: Scene, ids: list[str], context: EditContext
    ) -> dict[str, float]:
        places: dict[str, tuple[float, float]] = {}
        for layer_id in ids:
            box: Box | None = context.seen(project, scene.id, layer_id, self.time_s)
            if box is None:
                raise DocumentError(
                    f"{find_layer(scene, layer_id).name!r} shows nothing", field="layers"
                )
            places[layer_id] = ((box[0] + box[2]) / 2, (box[1] + box[3]) / 2)
        if self.order in ("outwards", "inwards"):
            cx = sum(x for x, _ in places.values()) / len(places)
            cy = sum(y for _, y in places.values()) / len(places)
            return {i: math.hypot(x - cx, y - cy) for i, (x, y) in places.items()}
        axis = 0 if self.order in ("left-to-right", "right-to-left") else 1
        return {i: place[axis] for i, place in places.items()}

    def label(self, project: Project) -> str:
        return f"Stagger {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers)


def _begin(layer: Layer, what: str) -> float:
    """The start of a layer, or the scene time of its first key."""
    times = [key.time_s for prop in layer.properties.values() for key in prop.keys]
    return layer.start_s + (min(times) if times and what == "keys" else 0.0)


def _slid(scene: Scene, layer: Layer, shift_s: float) -> Layer:
    rate = scene.rate.rate
    frames = rate.nearest_frame(layer.start_s + shift_s) - rate.nearest_frame(layer.start_s)
    first, last = rate.nearest_frame(layer.start_s), rate.nearest_frame(layer.end_s)
    update = {"start_s": rate.time_of(first + frames), "end_s": rate.time_of(last + frames)}
    return layer.model_copy(update=update)


def _rekeyed(layer: Layer, shift_s: float) -> Layer:
    properties = {
        name: prop.with_keys(
            key.model_copy(update={"time_s": key.time_s + shift_s}) for key in prop.keys
        )
        if prop.keys
        else prop
        for name, prop in layer.properties.items()
    }
    return layer.model_copy(update={"properties": properties})
