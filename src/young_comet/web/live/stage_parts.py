"""What a stage answer holds beside the picture."""

from __future__ import annotations

import logging
from collections.abc import Callable
from typing import Any

from ...core.model import Layer, Scene
from ...core.resolve import SceneEvaluator
from ...core.views import motion_path, paths_view

log = logging.getLogger(__name__)

# With more layers selected their paths are not shown for editing.
MAX_SHAPED = 6


def shapes_of_layers(
    evaluator: SceneEvaluator, layer_ids: list[str], time_s: float
) -> dict[str, list[dict[str, Any]]]:
    """The editable paths of a few selected layers."""
    if len(layer_ids) > MAX_SHAPED:
        return {}
    wanted = set(layer_ids)
    return {
        layer.id: found
        for layer in evaluator.scene.layers
        if layer.id in wanted
        and (found := of_one(layer, lambda la: paths_view(evaluator, la, time_s), []))
    }


def paths_of_layers(
    evaluator: SceneEvaluator, scene: Scene, layer_ids: list[str]
) -> dict[str, Any]:
    """Motion paths of layers for the stage."""
    wanted = set(layer_ids)
    found: dict[str, Any] = {}
    layer: Layer
    for layer in scene.layers:
        if layer.id in wanted and (path := of_one(layer, lambda la: motion_path(evaluator, la))):
            found[layer.id] = path
    return found


def of_one(layer: Layer, work_out: Callable[[Layer], Any], otherwise: Any = None) -> Any:
    """What is worked out of one layer; a layer that fails does not hide the others."""
    try:
        return work_out(layer)
    except Exception:
        log.exception("what is shown of layer %s could not be worked out", layer.id)
        return otherwise
