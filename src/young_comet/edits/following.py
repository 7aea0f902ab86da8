"""Phases whose length follows from the moves that a layer wears in them."""

from __future__ import annotations

from typing import Any

from ..core.model import Layer, Project, Scene
from ..core.resolve import SceneEvaluator
from ..core.resolve.phases import phase_length
from .base import EditContext

PHASE_LENGTHS = {"arrive": "arrive_s", "leave": "leave_s"}
FOLLOWS = {"arrive": "arrive_follows", "leave": "leave_follows"}
_NEAR_S = 1e-6


def followed(old: Project, new: Project, context: EditContext) -> Project:
    """The document with the phases of changed layers as long as their moves take. A length that an
    operation gave a phase stays, and follows no longer."""
    before = {scene.id: scene for scene in old.scenes}
    scenes = []
    for scene in new.scenes:
        known = before.get(scene.id)
        scenes.append(scene if scene is known else _followed(known, new, scene, context))
    if all(a is b for a, b in zip(scenes, new.scenes, strict=True)):
        return new
    return new.model_copy(update={"scenes": tuple(scenes)})


def _followed(known: Scene | None, project: Project, scene: Scene, context: EditContext) -> Scene:
    before = {layer.id: layer for layer in known.layers} if known is not None else {}
    evaluator: SceneEvaluator | None = None
    layers = []
    for layer in scene.layers:
        old = before.get(layer.id)
        same = old is layer and not _by_group(layer)
        if same or not (layer.arrive_follows or layer.leave_follows):
            layers.append(layer)
            continue
        evaluator = evaluator or context.evaluator(project, scene.id)
        layers.append(_fitted(evaluator, old, layer))
    if all(a is b for a, b in zip(layers, scene.layers, strict=True)):
        return scene
    return scene.model_copy(update={"layers": tuple(layers)})


def _by_group(layer: Layer) -> bool:
    """Whether a move goes over the layers of its group: then the number of others counts, too."""
    return layer.group is not None and any(
        prop.value == "group" and name.endswith(".spread.over")
        for name, prop in layer.properties.items()
    )


def _fitted(evaluator: SceneEvaluator, old: Layer | None, layer: Layer) -> Layer:
    update: dict[str, Any] = {}
    lasts = layer.end_s - layer.start_s
    wanted: dict[str, float] = {}
    for phase, name in PHASE_LENGTHS.items():
        now = getattr(layer, name)
        if not getattr(layer, FOLLOWS[phase]):
            continue
        try:
            length = phase_length(evaluator, layer, phase) or 0.0
        except Exception:  # noqa: BLE001 - what cannot be evaluated is told where it is drawn
            continue
        by_hand = (
            old is not None
            and getattr(old, FOLLOWS[phase])
            and old.moves == layer.moves
            and abs(getattr(old, name) - now) > _NEAR_S
            and abs(min(length, lasts) - now) > _NEAR_S
        )
        if by_hand:
            update[FOLLOWS[phase]] = False
        else:
            wanted[phase] = length
    for phase, length in wanted.items():
        # Both have room: each has half of the time, or what the other leaves of it.
        other = "leave" if phase == "arrive" else "arrive"
        beside = wanted.get(other, getattr(layer, PHASE_LENGTHS[other]))
        length = round(min(length, max(lasts / 2, lasts - beside)), 6)
        if abs(length - getattr(layer, PHASE_LENGTHS[phase])) > _NEAR_S:
            update[PHASE_LENGTHS[phase]] = length
    return layer.model_copy(update=update) if update else layer
