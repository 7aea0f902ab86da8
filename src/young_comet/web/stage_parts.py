"""What a stage message holds beside the picture, and what a search for a match compares."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator
from typing import Any

from ..core.model import Layer, Project, Scene
from ..core.render import (
    Comparer,
    SceneEvaluator,
    best_matches,
    judge_loop,
    motion_path,
    paths_view,
)
from ..errors import DocumentError, NotFoundError
from .messages import FindMatch

log = logging.getLogger(__name__)

# With more layers selected their paths are not shown for editing.
MAX_SHAPED = 6


def comparison(
    project: Project,
    evaluator: SceneEvaluator,
    comparer: Comparer,
    request: FindMatch,
    frames: range,
) -> tuple[Iterator[float | None], int]:
    """The steps of a comparison and how many there will be."""
    scene = evaluator.scene
    if request.how == "layers":
        known = {layer.id for layer in scene.layers}
        for layer_id in (request.one, request.other):
            if layer_id not in known:
                raise NotFoundError(f"there is no layer {layer_id!r}", field="layer")
        if request.one == request.other:
            raise DocumentError("choose two different layers", field="other")
        return comparer.layers(evaluator, request.one, request.other, frames), len(frames)
    if request.how == "moment":
        still = SceneEvaluator(project, request.scene or scene.id, library=evaluator.library)
        number = min(request.number, still.scene.frame_count - 1)
        return comparer.moment(still, number, evaluator, frames), len(frames)
    return comparer.loop(evaluator, frames), 1 + 2 * max(1, min(6, (len(frames) - 1) // 2))


def match_result(
    request: FindMatch, frames: range, values: list[float | None], scene: Scene
) -> dict[str, Any]:
    result: dict[str, Any] = {"type": "match", "id": request.id, "how": request.how}
    if request.how == "loop":
        verdict = judge_loop([value or 0.0 for value in values])
        loop = {"seam": verdict.seam, "usual": verdict.usual, "seamless": verdict.seamless}
        return {**result, "loop": loop}
    near, offered = None, values
    if request.how == "layers":
        near, possible = hand_overs(scene, request.one, request.other)
        offered = [
            value if frames.start + index in possible else None
            for index, value in enumerate(values)
        ]
    best = best_matches(frames.start, offered, near=near)
    return {
        **result,
        "first": frames.start,
        "values": [None if value is None else round(value, 3) for value in values],
        "best": [{"frame": m.frame, "difference": round(m.difference, 3)} for m in best],
    }


def hand_overs(scene: Scene, one: str, other: str) -> tuple[int, range]:
    """The frame at which one layer hands over to another now, and those at which it may: neither
    would be left without a frame."""
    rate = scene.rate.rate
    spans = {layer.id: (layer.start_s, layer.end_s) for layer in scene.layers}
    first, last = rate.nearest_frame(spans[one][0]), rate.nearest_frame(spans[other][1])
    return rate.nearest_frame(spans[other][0]), range(first + 1, last)


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
